"""Occurrences: the places where authorities are cited, and those that the index leads to, in reading order.

They are told by where their paragraph stands among the notes of a report, and not by its block: so all of them stay as they are
when something is put in front of them.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Hashable, Iterable, Iterator
from functools import cached_property
from typing import Any, NamedTuple, TypeVar

from ..report.blocks import Entry
from .noted import Noted, Notes

T = TypeVar("T")


class Occurrence(NamedTuple):
    """``at`` and ``until`` are where in the notes the paragraphs are in which it begins and ends; ``start`` and ``end`` are its
    first and last character there."""

    id: str
    paragraph: str
    words: str
    at: int
    start: int
    until: int
    end: int


class Citing(NamedTuple):
    """An occurrence of an authority."""

    of: str
    at: Occurrence


class Indexing(NamedTuple):
    """An occurrence of terms."""

    entries: tuple[Entry, ...]
    at: Occurrence


class Occurrences:
    """What is marked in a report with these notes."""

    def __init__(self, noted: Notes) -> None:
        self._noted = noted
        self._cache: dict[Hashable, tuple[tuple[Any, ...], Any]] = {}

    def of(self, noted: Notes) -> Occurrences:
        """Those of later notes: the same, as long as nothing noted has changed but for the blocks that it is in.

        Where what is marked is the same, and only stands at other characters of its paragraphs, all that is kept stays.
        """
        old = self._noted
        if noted is old:
            return self
        if len(noted) != len(old):
            return Occurrences(noted)
        changed = [at for at, (now, then) in enumerate(zip(noted, old, strict=True)) if now[1] is not then[1]]
        if not changed:
            return self
        if any(_marks(noted[at][1]) != _marks(old[at][1]) for at in changed):
            return Occurrences(noted)
        after = Occurrences(noted)
        after._cache = self._cache
        for name, marked in (("citings", _cites), ("indexings", _terms)):  # as far as they are known already
            if (known := vars(self).get(name)) is not None:
                vars(after)[name] = _placed_anew(known, marked, noted, changed[0], changed[-1])
        return after

    def cached(self, name: Hashable, given: tuple[Any, ...], make: Callable[[], T]) -> T:
        """What ``make`` gives, made anew only if it is given other things than the last time; if that is the same, what it gave
        before."""
        known = self._cache.get(name)
        if known is None or not all(one is other for one, other in zip(given, known[0], strict=True)):
            made = make()
            known = self._cache[name] = given, known[1] if known and known[1] == made else made
        kept: T = known[1]
        return kept

    @cached_property
    def citings(self) -> tuple[Citing, ...]:
        """All citations. One that goes over several paragraphs counts once."""
        return tuple(Citing(of, at) for (of, _), at in _joined(_cites(self._noted, 0, len(self._noted))))

    @cached_property
    def indexings(self) -> tuple[Indexing, ...]:
        """All that is marked for the index. A stretch over several paragraphs is one."""
        entries: dict[str, tuple[Entry, ...]] = {}
        for _, there in self._noted:
            for one in there.terms:
                entries.setdefault(one.id, one.entries)
        return tuple(Indexing(entries[at.id], at) for _, at in _joined(_terms(self._noted, 0, len(self._noted))))


_Marked = tuple[tuple[str, str], Occurrence]
"""An occurrence in one paragraph, and the key of what is one where it goes on in the next."""


def _cites(noted: Notes, first: int, end: int) -> Iterator[_Marked]:
    for at in range(first, end):
        there = noted[at][1]
        for one in there.cites:
            yield (one.of, one.id), Occurrence(one.id, there.id, one.words, at, one.start, at, one.start)


def _terms(noted: Notes, first: int, end: int) -> Iterator[_Marked]:
    for at in range(first, end):
        there = noted[at][1]
        for one in there.terms:
            last = max(one.end - 1, one.start)
            yield ("", one.id), Occurrence(one.id, there.id, one.words, at, one.start, at, last)


def _marks(one: Noted) -> tuple[Any, ...]:
    """What is marked in a paragraph, and whether it may go on from the one before; but not where in it."""
    cites = [(*mark[:3], mark.start == 0) for mark in one.cites]
    return one.id, one.row, cites, [(*mark[:3], mark.start == 0) for mark in one.terms]


def _placed_anew(
    known: tuple[Any, ...], marked: Callable[[Notes, int, int], Iterator[_Marked]], noted: Notes, first: int, last: int
) -> tuple[Any, ...]:
    """What is marked, with its places in the notes ``first`` to ``last`` found again. All of it where any goes over several."""
    start = bisect_left(known, first, key=lambda one: one.at.at)
    end = bisect_right(known, last, lo=start, key=lambda one: one.at.at)
    if any(one.at.at != one.at.until for one in known[max(start - 1, 0) : end]):
        start, end, first, last = 0, len(known), 0, len(noted) - 1
    again = (at for _, at in _joined(marked(noted, first, last + 1)))
    places = [one._replace(at=at) for one, at in zip(known[start:end], again, strict=True)]
    return (*known[:start], *places, *known[end:])


def _joined(found: Iterable[tuple[tuple[str, str], Occurrence]]) -> Iterable[tuple[tuple[str, str], Occurrence]]:
    """What has one key is one occurrence: words that stand behind each other in several paragraphs.

    What is copied keeps its id: the same elsewhere, in a paragraph that is not the next, counts as a place of its own.
    """
    joined: dict[tuple[str, str], Occurrence] = {}
    copies: list[tuple[tuple[str, str], Occurrence]] = []
    for key, one in found:
        known = joined.get(key)
        if known is None:
            joined[key] = one
        elif one.start == 0 and one.at == known.until + 1:
            joined[key] = known._replace(words=f"{known.words} {one.words}", until=one.at, end=one.end)
        else:
            copies.append((key, one))
    if not copies:
        return joined.items()
    return sorted([*joined.items(), *copies], key=lambda pair: (pair[1].at, pair[1].start))
