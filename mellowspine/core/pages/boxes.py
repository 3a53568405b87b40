"""Boxes: what a block asks of the page. Each block becomes one box of parts that are never split.

The parts of a paragraph are its lines, those of a data table its rows (several, where no page holds a row), those of a placed
table its title and lines.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field
from functools import singledispatch
from itertools import accumulate

from ..report.blocks import Block
from ..report.report import Report
from .typefaces import Typefaces


@dataclass(frozen=True, slots=True)
class Box:
    """Heights and spaces in points.

    ``starts`` gives the character offset of each part of a paragraph, and the row of each part of a data table in which
    they are not the same.
    """

    heights: tuple[float, ...]
    starts: tuple[int, ...] = ()
    total: float = 0.0
    before: float = 0.0
    after: float = 0.0
    orphans: int = 1
    """How many parts begin it at the foot of a page at least."""
    widows: int = 1
    """How many parts go on with it at the head of a page at least."""
    keep_with_next: bool = False
    keep_with_previous: bool = False
    new_page: bool = False
    new_part: bool = False
    """Whether it begins a new page in any case, also where there is nothing on the page but what has no height."""
    ends_page: bool = False
    repeated: int = 0
    """How many of the first parts are printed again on each further page."""
    columns: int = 1
    """1, or 2: on each page its parts then fill the left column and go on in the right one, both as nearly level as can be."""
    spanning: int = 0
    """How many of the first parts stand over all columns; they do not stay behind alone at the foot of a page."""
    foot: Box | None = None
    """Of a note what it asks at the foot of a page, or at an end: where it is written it has no room, and nothing is seen of it."""
    holding: frozenset[int] = frozenset()
    """The parts that stand in no page or column as the last, unless they are its first."""
    close: str = ""
    """Between it and a neighbour that says the same there is no space."""
    frame: Hashable = None
    """What is around it. ``above`` and ``below``: the room for that, unless a neighbour stands in the same frame."""
    above: float = 0.0
    below: float = 0.0
    needs: float = 0.0
    """Room below its top without which it does not stand there, though it may be less high: for what is to stay with it."""
    _sums: tuple[float, ...] = field(default=(), compare=False, repr=False)

    def __post_init__(self) -> None:
        if self.columns > 1:
            object.__setattr__(self, "_sums", (*accumulate(self.heights, initial=0.0),))

    def turn(self, first: int, end: int) -> int:
        """The part of ``first`` to ``end`` (exclusive) with which the right column begins, so that both end most evenly."""
        first = max(first, min(self.spanning, end))
        sums = self._sums

        def lowest(turn: int) -> float:
            return max(sums[turn] - sums[first], sums[end] - sums[turn])

        longer_left = bisect_left(sums, (sums[first] + sums[end]) / 2 - 1e-9, first, end)
        turn = longer_left if lowest(longer_left) <= lowest(max(longer_left - 1, first)) else longer_left - 1
        turn = self.let_go(first, turn)
        while turn - 1 in self.holding and first < turn < end:
            turn += 1
        return turn

    def let_go(self, first: int, end: int) -> int:
        """The end of parts from ``first`` on that may stand together, at most ``end``: what holds on to the next goes with it."""
        while end - 1 in self.holding and end - 1 > first:
            end -= 1
        return end

    def extent(self, first: int, end: int) -> float:
        """The height in points that parts ``first`` to ``end`` (exclusive) take up on one page."""
        if self.columns == 1:
            return sum(self.heights[first:end])
        over = max(first, min(self.spanning, end))
        turn, sums = self.turn(first, end), self._sums
        return sums[over] - sums[first] + max(sums[turn] - sums[over], sums[end] - sums[turn])

    def fitting(self, first: int, room: float) -> int:
        """How many parts from ``first`` on fit into ``room`` points of one page."""
        if self.columns == 1:
            end = first  # by number: a copy of all that is left would be made for each page
            while end < len(self.heights) and self.heights[end] <= room:
                room -= self.heights[end]
                end += 1
            return end - first
        left = len(self.heights) - first
        return bisect_left(range(1, left + 1), True, key=lambda count: self.extent(first, first + count) > room)


def behind(boxes: Sequence[Box], index: int) -> int:
    """The next box that has its place there, or the end: between two of these stand notes, of which nothing is seen there."""
    index += 1
    while index < len(boxes) and boxes[index].foot:
        index += 1
    return index


def gap(box: Box, following: Box) -> float:
    """The space between two boxes in points, with the room for what is around them."""
    space = max(box.after, following.before)
    if following.close and following.close == box.close:
        space = 0.0
    if box.frame == following.frame:
        return space
    return box.below + space + following.above


def stays(boxes: Sequence[Box], index: int) -> bool:
    """Whether a box stays with the next one, by its own account or by that of the next."""
    while index and boxes[index].foot:
        index -= 1
    if boxes[index].keep_with_next:
        return True
    after = behind(boxes, index)
    return after < len(boxes) and boxes[after].keep_with_previous


@singledispatch
def measure(block: Block, report: Report, typefaces: Typefaces) -> Box:
    """The box of a block in its report. Depends on the block, and on the report's styles, page set-up and tables.

    Every kind of block registers its own (``kinds/``). Raises TypeError for a type that is no kind of block.
    """
    raise TypeError(f"{type(block).__name__} is no kind of block: nothing says what it asks of the page")
