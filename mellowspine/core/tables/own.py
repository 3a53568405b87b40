"""Own words: what somebody wrote in a line of a table, or that they left it out, is kept whatever the text gives."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

from ..report.elements import identifier
from ..report.tables import Issued, Line, OwnWords


def worded(lines: Iterable[Line], own: Mapping[str, OwnWords]) -> tuple[Line, ...]:
    """The lines as they are to be printed: with own words where there are any, without those left out."""
    return tuple(_worded(lines, own)) if own else tuple(lines)


def _worded(lines: Iterable[Line], own: Mapping[str, OwnWords]) -> Iterator[Line]:
    for line in lines:
        by_hand = own.get(line.source)
        if by_hand is None:
            yield line
        elif by_hand.words is not None:
            yield line._replace(text=by_hand.words, emphasis=())


class Standing(NamedTuple):
    """How own words stand to the text. ``now``: the heading's words by now; None if it is not in the text any more."""

    source: str
    words: str | None
    then: str
    now: str | None

    @property
    def asks(self) -> bool:
        """Whether the heading beneath has changed since, so that somebody should choose."""
        return self.now is not None and self.then not in ("", self.now)


def standings(own: Mapping[str, OwnWords], plain: Sequence[Line]) -> tuple[Standing, ...]:
    """All own words of a table held against the lines that the text gives (without own words), in their order; those of
    headings that are gone last."""
    if not own:
        return ()
    there = {line.source: line.text for line in plain if line.source in own}
    gone = [source for source in own if source not in there]
    return tuple(
        Standing(source, own[source].words, own[source].heading, there.get(source)) for source in (*there, *gone)
    )


def with_words(issued: Issued, source: str, words: str | None, plain: Sequence[Line]) -> Issued:
    """The table with a line's words as somebody wants them, or without the line (None).

    ``plain`` are the lines that the text gives, without own words. Words for a line that is neither in the table nor in the
    text are kept until it is back; words that are the heading's are no own words.
    """
    beneath = next((line for line in plain if line.source == source), None)
    printed = next((line for line in issued.lines if line.source == source), None)
    known = issued.own.get(source)
    if beneath:
        heading = beneath.text
    elif known:
        heading = known.heading
    elif printed:
        heading = printed.text
    elif words is not None and identifier(source):
        heading = ""  # it went while somebody wrote; the words wait for it
    else:
        return issued
    words = " ".join(words.split()) if words is not None else None
    if beneath and words == beneath.text:
        return with_heading_words(issued, source, plain)
    own = {**issued.own, source: OwnWords(words, heading)}
    lines = worded(issued.lines, {source: own[source]})
    if printed is None and words is not None and beneath is not None:  # it was left out
        lines = put_in(lines, [beneath._replace(text=words, emphasis=())], plain)
    return replace(issued, lines=lines, own=own)


def with_heading_words(issued: Issued, source: str, plain: Sequence[Line]) -> Issued:
    """The table with a line as the heading has it, and without own words for it."""
    own = {key: kept for key, kept in issued.own.items() if key != source}
    beneath = next((line for line in plain if line.source == source), None)
    if beneath is None:
        return replace(issued, own=own)
    if any(line.source == source for line in issued.lines):
        lines = tuple(
            line._replace(text=beneath.text, emphasis=beneath.emphasis) if line.source == source else line
            for line in issued.lines
        )
    else:
        lines = put_in(issued.lines, [beneath], plain)
    return replace(issued, lines=lines, own=own)


def put_in(lines: Sequence[Line], new: Collection[Line], order: Sequence[Line]) -> tuple[Line, ...]:
    """The lines with some more, each behind the nearest line that comes before it in ``order``."""
    coming = {line.source: line for line in new}
    there = {line.source for line in lines}
    after: dict[str | None, list[Line]] = {}
    nearest: str | None = None
    for one in order:
        if one.source in coming:
            after.setdefault(nearest, []).append(coming[one.source])
        elif one.source in there:
            nearest = one.source
    return (*after.get(None, ()), *(one for line in lines for one in (line, *after.get(line.source, ()))))
