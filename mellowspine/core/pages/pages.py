"""Pagination: a report in, its pages out; after an edit, from the first page that it touches.

Filling a page depends on nothing but where it starts and on the boxes from there on. So pages before an edit stay as
they are, and as soon as a page behind the edit starts where it started before, all pages from there on are the old ones.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..report.blocks import Block, PlacedTable
from ..report.report import Report
from ..report.stretch import Stretch, stretch
from .boxes import Box, measure
from .fill import Placed, Start, fill, fill_page
from .typefaces import Typefaces


@dataclass(frozen=True, slots=True)
class Edge:
    """The start of a page: a block, and how far into it, in characters of a paragraph or else in parts (rows, lines)."""

    block: Block
    offset: int


@dataclass(frozen=True)
class Pages:
    report: Report
    boxes: Sequence[Box]
    starts: Sequence[Start]

    def __len__(self) -> int:
        return len(self.starts)

    def page_of(self, block: int, part: int = 0) -> int:
        """The sheet, counted from 1, on which a part of the block with this index stands."""
        return max(1, bisect_right(self.starts, (block, part, True)))

    def pages_of(self, parts: Iterable[tuple[int, int]]) -> list[int]:
        """As ``page_of``, for many parts (block, part) in reading order at once."""
        starts, page, result = self.starts, 1, []
        for block, part in parts:
            reached = (block, part, True)
            while page < len(starts) and starts[page] <= reached:
                page += 1
            result.append(page)
        return result

    def label(self, page: int) -> str:
        """What is printed on the sheet as its page number."""
        return str(page)

    def content(self, page: int) -> list[Placed]:
        """What stands on a sheet (counted from 1)."""
        return fill_page(self.boxes, self.report.page.text_height, self.starts[page - 1])[1]

    def edges(self) -> list[Edge]:
        """Where every page after the first begins."""
        found = []
        for box, part, _ in self.starts[1:]:
            offsets = self.boxes[box].starts
            found.append(Edge(self.report.blocks[box], offsets[part] if offsets else part))
        return found


def paginate(report: Report, typefaces: Typefaces, before: Pages | None = None) -> Pages:
    """The pages of a report. ``before``, the pages of an earlier state of it, changes nothing but the time it takes."""
    if before is None or before.report.styles is not report.styles or before.report.page != report.page:
        boxes = [measure(block, report, typefaces) for block in report.blocks]
        return Pages(report, boxes, list(fill(boxes, report.page.text_height)))
    change = stretch(before.report.blocks, report.blocks)
    # Where many write at once the stretch is long, and most blocks in it are the same as before.
    there = slice(change.first, change.old_end)
    known = {id(block): box for block, box in zip(before.report.blocks[there], before.boxes[there], strict=True)}
    changed = [
        known.get(id(block)) or measure(block, report, typefaces)
        for block in report.blocks[change.first : change.new_end]
    ]
    boxes = [*before.boxes[: change.first], *changed, *before.boxes[change.old_end :]]
    if before.report.tables != report.tables:
        for index, block in enumerate(report.blocks):
            if type(block) is PlacedTable:
                boxes[index] = measure(block, report, typefaces)
                change = change.widened(index)
    if not change:
        return Pages(report, before.boxes, before.starts)
    return Pages(report, boxes, _refill(boxes, before.starts, change, report))


def _refill(boxes: Sequence[Box], old: Sequence[Start], change: Stretch, report: Report) -> Sequence[Start]:
    """Page starts when the boxes of the stretch are new."""
    shift = change.shift
    anchor = change.first
    while anchor > 0 and (anchor >= len(boxes) or boxes[anchor - 1].keep_with_next):
        anchor -= 1
    kept = max(1, bisect_left(old, (anchor, 0)))
    starts = list(old[:kept])
    for start in fill(boxes, report.page.text_height, starts.pop()):
        if start.box >= change.new_end:
            moved = Start(start.box - shift, start.part, start.forced)
            same = bisect_left(old, moved)
            if same < len(old) and old[same] == moved:
                rest = old[same:]
                starts.extend(Start(s.box + shift, s.part, s.forced) for s in rest) if shift else starts.extend(rest)
                return starts
        starts.append(start)
    return starts
