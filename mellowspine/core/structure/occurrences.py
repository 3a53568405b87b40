"""Occurrences: the places where authorities are cited, and those that the index leads to, in reading order."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from ..report.blocks import Entry
from .places import Notes

Spot = tuple[int, int, int]
"""A block, a row of it if it is a data table, and a character of the paragraph there."""


class Occurrence(NamedTuple):
    """``start`` and ``end`` are where its first and its last character stand; ``paragraph`` is the one where it begins."""

    id: str
    paragraph: str
    words: str
    start: Spot
    end: Spot


class Citing(NamedTuple):
    """An occurrence of an authority."""

    of: str
    at: Occurrence


class Indexing(NamedTuple):
    """An occurrence of terms."""

    entries: tuple[Entry, ...]
    at: Occurrence


def citings(noted: Notes) -> tuple[Citing, ...]:
    """All citations. One that goes over several paragraphs counts once."""
    found = (
        ((one.of, one.id), Occurrence(one.id, there.id, one.words, start, start))
        for block, there in noted
        for one in there.cites
        for start in [(block, there.row, one.start)]
    )
    return tuple(Citing(of, at) for (of, _), at in _joined(found))


def indexings(noted: Notes) -> tuple[Indexing, ...]:
    """All that is marked for the index. A stretch over several paragraphs is one."""
    entries: dict[str, tuple[Entry, ...]] = {}

    def found() -> Iterator[tuple[tuple[str, str], Occurrence]]:
        for block, there in noted:
            for one in there.terms:
                entries.setdefault(one.id, one.entries)
                start, end = (block, there.row, one.start), (block, there.row, max(one.end - 1, one.start))
                yield ("", one.id), Occurrence(one.id, there.id, one.words, start, end)

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
        elif one.start[2] == 0 and _next_to(known.end, one.start):
            joined[key] = known._replace(words=f"{known.words} {one.words}", end=one.end)
        else:
            copies.append((key, one))
    if not copies:
        return joined.items()
    return sorted([*joined.items(), *copies], key=lambda pair: pair[1].start)


def _next_to(end: Spot, start: Spot) -> bool:
    return start[0] - end[0] in (0, 1)
