"""Pagination: a report in, its pages out; after an edit, from the first page that it touches.

Filling a page depends on nothing but where it starts and on the boxes from there on. So pages before an edit stay as
they are, and as soon as a page behind the edit starts where it started before, all pages from there on are the old ones.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache

from ..report.blocks import Block, DataTable, Paragraph, PlacedTable
from ..report.report import PageSetup, Report
from ..report.stretch import Stretch, stretch
from ..structure.outline import Outline, outline, paragraphs_of
from .backs import backs, with_back
from .boxes import Box, measure
from .fill import Placed, Start, fill, fill_page
from .rooms import rooms
from .typefaces import Typefaces


@dataclass(frozen=True, slots=True)
class Edge:
    """The start of a page: a block, and how far into it, in characters of a paragraph, or else in rows or lines."""

    block: Block
    offset: int


@dataclass(frozen=True)
class Pages:
    """The pages of a report. ``report`` is the report as it was set on them, with room for its heading numbers."""

    report: Report
    headings: Outline
    boxes: Sequence[Box]
    starts: Sequence[Start]

    def __len__(self) -> int:
        return len(self.starts)

    def page_of(self, block: int, row: int = 0) -> int:
        """The sheet, counted from 1, on which the block with this index begins, or a row of it."""
        return max(1, bisect_right(self.starts, (block, self._part(block, row), True)))

    def _part(self, block: int, row: int) -> int:
        """The part with which a row begins: there are more parts than rows where some are taller than a page."""
        return bisect_left(self.boxes[block].starts, row) if row and self.boxes[block].starts else row

    def pages_of(self, rows: Iterable[tuple[int, int]]) -> list[int]:
        """As ``page_of``, for many (block, row) in reading order at once."""
        starts, page, result = self.starts, 1, []
        for block, row in rows:
            reached = (block, self._part(block, row) if row else 0, True)
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


def paginate(
    report: Report, typefaces: Typefaces, before: Pages | None = None, headings: Outline | None = None
) -> Pages:
    """The pages of a report. ``before``, the pages of an earlier state of it, changes nothing but the time it takes.

    ``headings`` is its outline, if that is known already.
    """
    if headings is None:
        headings = outline(report, (before.report, before.headings) if before else None)
    report = replace(report, rooms=_rooms(report, typefaces, before, headings), backs=backs(report, headings))
    if before is None or _area(before.report.page) != _area(report.page):
        boxes = [_box(block, report, typefaces) for block in report.blocks]
        return Pages(report, headings, boxes, list(fill(boxes, report.page.text_height)))
    change = stretch(before.report.blocks, report.blocks)
    # Where many write at once the stretch is long, and most blocks in it are the same as before.
    there = slice(change.first, change.old_end)
    known = {id(block): box for block, box in zip(before.report.blocks[there], before.boxes[there], strict=True)}
    changed = [
        known.get(id(block)) or _box(block, report, typefaces) for block in report.blocks[change.first : change.new_end]
    ]
    boxes = [*before.boxes[: change.first], *changed, *before.boxes[change.old_end :]]
    otherwise: list[int] = []
    for index in _set_otherwise(report, before.report):
        box = _box(report.blocks[index], report, typefaces)
        if box != boxes[index]:
            boxes[index] = box
            otherwise.append(index)
    if otherwise:
        change = change.widened(otherwise[0]).widened(otherwise[-1])
    if not change:
        return Pages(report, headings, before.boxes, before.starts)
    return Pages(report, headings, boxes, _refill(boxes, before.starts, change, report))


def _box(block: Block, report: Report, typefaces: Typefaces) -> Box:
    return with_back(measure(block, report, typefaces), block, report)


def _area(page: PageSetup) -> tuple[float, float]:
    return page.text_width, page.text_height


def _rooms(report: Report, typefaces: Typefaces, before: Pages | None, headings: Outline) -> Mapping[str, float]:
    if before and before.headings is headings and before.report.styles is report.styles:
        return before.report.rooms
    found = rooms(report, headings, typefaces)
    return before.report.rooms if before and before.report.rooms == found else found


def _set_otherwise(report: Report, before: Report) -> Iterator[int]:
    """The blocks that are set otherwise than before though they are the same: their styles or tables have changed, or they
    end a section now, or no longer."""
    styles = report.styles is not before.styles or report.rooms is not before.rooms
    tables = before.tables != report.tables
    backs = report.backs ^ before.backs
    if not styles and not tables and not backs:
        return

    @cache
    def changed(id: str) -> bool:
        style, earlier = report.styles[id], before.styles[id]
        return style != earlier or report.rooms.get(style.id) != before.rooms.get(earlier.id)

    for index, block in enumerate(report.blocks):
        if block.id in backs:
            yield index
        elif type(block) is Paragraph:
            if styles and changed(block.style):
                yield index
        elif type(block) is DataTable:
            if styles and any(changed(paragraph.style) for paragraph, _ in paragraphs_of(report, index)):
                yield index
        elif styles or type(block) is PlacedTable:
            yield index


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
