"""What an edit changed: the one stretch in which two sequences differ. All work after an edit is confined to it."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Sequence
from itertools import compress, count, islice, pairwise
from operator import is_, not_
from typing import Any, NamedTuple


class Diff(NamedTuple):
    """``old[first:old_end]`` was replaced by ``new[first:new_end]``; all before and behind is the same."""

    first: int
    old_end: int
    new_end: int

    @property
    def shift(self) -> int:
        """By how many places everything behind the stretch has moved on."""
        return self.new_end - self.old_end

    def __bool__(self) -> bool:
        return self.first < max(self.old_end, self.new_end)

    def widened(self, index: int) -> Diff:
        """The stretch with ``new[index]`` in it."""
        if not self:
            return Diff(index, index + 1 - self.shift, index + 1)
        end = max(self.new_end, index + 1)
        return Diff(min(self.first, index), end - self.shift, end)


def diff(old: Sequence[Any], new: Sequence[Any], same: Callable[[Any, Any], bool] = is_) -> Diff:
    """The shortest stretch in which two sequences differ. Blocks are frozen: the very same is an unchanged one."""
    if old is new:
        return Diff(len(new), len(new), len(new))
    shorter = min(len(old), len(new))
    done = _alike(shorter, lambda at: old[at : at + _MANY] == new[at : at + _MANY])
    first = done + _common(map(same, islice(old, done, None), islice(new, done, None)), shorter - done)
    left = shorter - first
    ends = len(old), len(new)
    done = _alike(left, lambda at: old[ends[0] - at - _MANY : ends[0] - at] == new[ends[1] - at - _MANY : ends[1] - at])
    rest = islice(map(same, islice(reversed(old), done, None), islice(reversed(new), done, None)), left - done)
    tail = done + _common(rest, left - done)
    return Diff(first, len(old) - tail, len(new) - tail)


_MANY = 256


def where(
    blocks: Sequence[Any], test: Callable[[Any], bool], before: tuple[Sequence[int], Diff] | None = None
) -> list[int]:
    """The places of the members that pass a test. ``before``: where they were, and in which stretch all has changed since."""
    if before is None:
        return [index for index, block in enumerate(blocks) if test(block)]
    old, change = before
    kept = [at for at in old if at < change.first]
    within = [at for at in range(change.first, change.new_end) if test(blocks[at])]
    return [*kept, *within, *(at + change.shift for at in old if at >= change.old_end)]


def _alike(most: int, alike: Callable[[int], bool]) -> int:
    """How many members, of ``most``, are alike at once: many of them are compared without going through them here, which for what
    is the very same takes no time."""
    at = 0
    while at + _MANY <= most and alike(at):
        at += _MANY
    return at


def _common(same: Iterable[bool], most: int) -> int:
    """How many come before the first that is not true, of ``most``."""
    return next(compress(count(), map(not_, same)), most)


def out_of_order(order: Sequence[int]) -> set[int]:
    """The fewest members to take out of ``order`` (distinct numbers) so that the rest ascends.

    The complement of a longest increasing subsequence, found by patience sorting in O(n log n).
    """
    if all(a < b for a, b in pairwise(order)):
        return set()
    tops: list[int] = []
    before: dict[int, int | None] = {}
    for value in order:
        pile = bisect_left(tops, value)
        before[value] = tops[pile - 1] if pile else None
        tops[pile : pile + 1] = [value]
    kept: set[int] = set()
    last: int | None = tops[-1]
    while last is not None:
        kept.add(last)
        last = before[last]
    return set(order) - kept
