"""Notes at the foot: to which part of which block each belongs, and how much of the page it takes.

What a line takes of a page is its height and that of the notes that it refers to. So all that is said of lines, how many stay
together and what fits, holds with their notes (CSS Generated Content for Paged Media 3, 2: "footnote-policy: line").
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import replace
from operator import eq, itemgetter
from typing import NamedTuple

from ..report.blocks import Block, Paragraph
from ..report.diff import diff
from ..report.report import Report
from ..structure.footnotes import Footnote, Footnotes
from .as_set import offset_as_set
from .boxes import Box

_SLACK = 1e-6

_at = itemgetter(3)

ABOVE = 14.0
"""Points between the text of a column and its notes, in the middle of which a line stands."""

NoteParts = Sequence[tuple[int, int]]
"""Notes by the index of their boxes, each with the part of the block that refers to it first."""


class Feet:
    """The notes that stand at the foot of pages. ``boxes`` may change while it is in use."""

    def __init__(
        self, notes: Footnotes = (), report: Report | None = None, boxes: Sequence[Box] = (), before: Feet | None = None
    ) -> None:
        """``before``: those of an earlier state, which has the very same notes if they are its own."""
        self.boxes = boxes
        self.notes = notes
        self._report = report
        self._by_block: dict[int, list[Footnote]] = {}
        change = diff(before.notes, notes, eq) if before else None
        if before and change and not change.shift and change.new_end - change.first < len(notes) // 4:
            # Grouped anew are those alone that refer to what has changed.
            self._by_block = before._by_block.copy()
            blocks = {
                note.at
                for note in (*before.notes[change.first : change.old_end], *notes[change.first : change.new_end])
            }
            for block in blocks:
                self._by_block.pop(block, None)
            first, end = (bisect_left(notes, at, key=_at) for at in (min(blocks), max(blocks) + 1))
            self._group(one for one in notes[first:end] if one.at in blocks)
        elif before and not change:
            self._by_block = before._by_block
        else:
            self._group(notes)
        self._found: dict[int, NoteParts] = {}

    def _group(self, notes: Iterable[Footnote]) -> None:
        for note in notes:
            if note.kind == "foot":
                self._by_block.setdefault(note.at, []).append(note)

    def __bool__(self) -> bool:
        return bool(self._by_block)

    def of(self, index: int) -> NoteParts:
        """The notes that a block refers to first, in order."""
        if index not in self._by_block:
            return ()
        if index not in self._found:
            block = self._report.blocks[index]  # type: ignore[union-attr]
            parts = [
                (part_of(block, self.boxes[index], self._report, note.row, note.offset), note.block)  # type: ignore[arg-type]
                for note in self._by_block[index]
            ]
            self._found[index] = sorted(parts, key=lambda one: one[0])
        return self._found[index]

    def box(self, index: int, part: int = 0, begun: bool = False) -> Box:
        """A box whose parts, from one on, are as high as they are with their notes. ``begun``: there are notes on the page already."""
        box = self.boxes[index]
        notes = self.of(index)
        if not notes:
            return box
        heights = list(box.heights)
        for at, note in notes:
            if at >= part:
                heights[at] += self.above(note, begun) + sum(self.foot(note).heights)
                begun = True
        return replace(box, heights=tuple(heights), total=box.total + sum(heights) - sum(box.heights))

    def within(self, index: int, first: int, end: int) -> list[tuple[int, int]]:
        """The notes of some parts of a block, each to be begun with its first part."""
        return [(note, 0) for part, note in self.of(index) if first <= part < end]

    def foot(self, note: int) -> Box:
        """What a note takes at the foot."""
        return self.boxes[note].foot or _NOTHING

    def above(self, note: int, begun: bool) -> float:
        """Points between a note and the one in front of it, or the text."""
        return self.foot(note).after if begun else ABOVE


_NOTHING = Box(())
NO_FEET = Feet()


def part_of(block: Block, box: Box, report: Report, row: int, offset: int) -> int:
    """The part of a block in which a character of a paragraph stands, or a row."""
    starts = box.starts
    if type(block) is not Paragraph:
        return min(bisect_left(starts, row) if row and starts else row, max(len(box.heights) - 1, 0))
    if not offset or len(starts) < 2:
        return 0
    return max(bisect_right(starts, offset_as_set(block, report, offset)) - 1, 0)


Owed = tuple[tuple[int, int], ...]
"""Notes that go on, or begin, on the next page though they are referred to before: each by its box, with the part to go on with."""


class AtFoot(NamedTuple):
    """Some parts of a note, from ``first`` to before ``end``, and how far their top is above the end of the column."""

    note: int
    first: int
    end: int
    up: float


def at_foot(feet: Feet, notes: Sequence[tuple[int, int, int]]) -> list[AtFoot]:
    """Notes, each with its first part and the end of its parts, as they end with the column."""
    found: list[AtFoot] = []
    up = 0.0
    for at in reversed(range(len(notes))):
        note, first, end = notes[at]
        up += sum(feet.foot(note).heights[first:end])
        found.append(AtFoot(note, first, end, up))
        up += feet.above(note, at > 0)
    return found[::-1]


def placed_feet(
    feet: Feet, notes: Sequence[tuple[int, int]], room: float, begun: bool = False, alone: bool = False
) -> tuple[list[tuple[int, int, int]], Owed]:
    """As many of some notes as fit into ``room`` points, each with its first part and the end of its parts there; and what is left.

    ``begun``: there are others in front of them; ``alone``: one part at least, since nothing else stands there."""
    found: list[tuple[int, int, int]] = []
    for at, (note, part) in enumerate(notes):
        foot = feet.foot(note)
        room -= feet.above(note, begun or at > 0)
        end = part + foot.fitting(part, room + _SLACK)
        if alone and not found:
            end = min(max(end, part + 1), len(foot.heights))
        if end > part:
            found.append((note, part, end))
        if end < len(foot.heights):
            return found, ((note, end), *notes[at + 1 :])
        room -= sum(foot.heights[part:])
    return found, ()
