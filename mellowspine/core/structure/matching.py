"""Which heading of one version of a report is which of another, where ids alone do not say it."""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from difflib import SequenceMatcher

from .outline import Heading

ALIKE = 0.6
"""How alike the words of two headings at the same place must be, from 0 to 1, to be one that was renamed."""


def matched(old: Sequence[Heading], new: Sequence[Heading], named: Collection[str] = ()) -> dict[str, str]:
    """The id in ``new`` of every heading of ``old`` that is still there, by its id in ``old``.

    Headings are the same if they have the same id, among those ``named`` by the files themselves; or else the same words,
    those in the same order first; or else words that are alike, at the same level and behind or beneath the same heading.
    """
    known = {heading.id for heading in new}
    found = {heading.id: heading.id for heading in old if heading.id in named and heading.id in known}
    for one, other in _same_words(
        [heading for heading in old if heading.id not in found],
        [heading for heading in new if heading.id not in found],
    ):
        found[one.id] = other.id
    for place in (_neighbour, _parent):
        for one, other in _renamed(old, new, found, place):
            found[one.id] = other.id
    return found


def _same_words(old: Sequence[Heading], new: Sequence[Heading]) -> Iterator[tuple[Heading, Heading]]:
    """First a longest run in the same order; of what is left, equal words wherever they stand."""
    matcher = SequenceMatcher(None, [one.text for one in old], [one.text for one in new], autojunk=False)
    left_old, left_new = dict(enumerate(old)), dict(enumerate(new))
    for first, second, count in matcher.get_matching_blocks():
        for step in range(count):
            yield left_old.pop(first + step), left_new.pop(second + step)
    by_text: dict[str, deque[Heading]] = defaultdict(deque)
    for heading in left_new.values():
        by_text[heading.text].append(heading)
    for heading in left_old.values():
        if by_text[heading.text]:
            yield heading, by_text[heading.text].popleft()


Place = Callable[[Sequence[Heading], int, Collection[str]], str | None]
"""Where a heading stands: the id of one that says it, among those that are found."""


def _neighbour(headings: Sequence[Heading], index: int, found: Collection[str]) -> str | None:
    """The nearest that is found before it."""
    return next((one.id for one in reversed(headings[:index]) if one.id in found), None)


def _parent(headings: Sequence[Heading], index: int, found: Collection[str]) -> str | None:
    """The nearest before it that is of a higher level."""
    level = headings[index].level
    return next((one.id for one in reversed(headings[:index]) if one.level < level), None)


def _renamed(
    old: Sequence[Heading], new: Sequence[Heading], found: Mapping[str, str], place: Place
) -> Iterator[tuple[Heading, Heading]]:
    """At the same place, what is alike and of one level; each with the most alike that is left."""
    left: dict[str | None, list[Heading]] = defaultdict(list)
    taken = {*found.values()}
    for index, heading in enumerate(new):
        if heading.id not in taken:
            left[place(new, index, taken)].append(heading)
    for index, heading in enumerate(old):
        if heading.id in found or not left:
            continue
        there = place(old, index, found)
        near = left.get(there and found.get(there, ""), [])
        likeness = [
            SequenceMatcher(None, heading.text, one.text).ratio() * (one.level == heading.level) for one in near
        ]
        if likeness and max(likeness) >= ALIKE:
            other = near.pop(likeness.index(max(likeness)))
            yield heading, other
