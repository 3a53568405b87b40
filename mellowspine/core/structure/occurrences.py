"""Occurrences: the places where authorities are cited, and those that the index leads to, in reading order.

They are told by where their paragraph stands among the notes of a report, and not by its block: so all of them stay as they are
when something is put in front of them.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator
from functools import cached_property
from typing import Any, NamedTuple, TypeVar

from ..report.blocks import Entry
from .places import Notes

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
        self._kept: dict[Hashable, tuple[tuple[Any, ...], Any]] = {}

    def of(self, noted: Notes) -> Occurrences:
        """Those of later notes: the same, as long as nothing noted has changed but for the blocks that it is in."""
        old = self._noted
        if noted is not old and (
            len(noted) != len(old) or any(a[1] is not b[1] for a, b in zip(noted, old, strict=True))
        ):
            return Occurrences(noted)
        return self

    def keep(self, name: Hashable, given: tuple[Any, ...], make: Callable[[], T]) -> T:
        """What ``make`` gives, made anew only if it is given other things than the last time."""
        known = self._kept.get(name)
        if known is None or not all(one is other for one, other in zip(given, known[0], strict=True)):
            known = self._kept[name] = given, make()
        made: T = known[1]
        return made

    @cached_property
    def citings(self) -> tuple[Citing, ...]:
        """All citations. One that goes over several paragraphs counts once."""
        found = (
            ((one.of, one.id), Occurrence(one.id, there.id, one.words, at, one.start, at, one.start))
            for at, (_, there) in enumerate(self._noted)
            for one in there.cites
        )
        return tuple(Citing(of, at) for (of, _), at in _joined(found))

    @cached_property
    def indexings(self) -> tuple[Indexing, ...]:
        """All that is marked for the index. A stretch over several paragraphs is one."""
        entries: dict[str, tuple[Entry, ...]] = {}

        def found() -> Iterator[tuple[tuple[str, str], Occurrence]]:
            for at, (_, there) in enumerate(self._noted):
                for one in there.terms:
                    entries.setdefault(one.id, one.entries)
                    end = max(one.end - 1, one.start)
                    yield ("", one.id), Occurrence(one.id, there.id, one.words, at, one.start, at, end)

        return tuple(Indexing(entries[at.id], at) for _, at in _joined(found()))


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
