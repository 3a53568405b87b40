"""The outline: every heading of a report in reading order, with its computed number."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ..report.blocks import DataTable, Paragraph
from ..report.report import Report
from ..report.stretch import stretch
from .numbering import Decimal


class Heading(NamedTuple):
    """``block`` is the index of its block in the report; ``row`` the row if it stands in a data table, else 0."""

    id: str
    level: int
    number: str
    text: str
    block: int
    row: int = 0


Outline = tuple[Heading, ...]


def outline(report: Report, before: tuple[Report, Outline] | None = None) -> Outline:
    """All headings, those with no text left out.

    ``before``, an earlier state of the report with its outline, changes nothing but the time it takes: only blocks
    that differ are read, and headings behind them are counted again only as far as their numbers change.
    """
    if before is None or before[0].styles is not report.styles:
        return tuple(_headings(report, 0, len(report.blocks), Decimal()))
    earlier, old = before
    change = stretch(earlier.blocks, report.blocks)
    first = bisect_left(old, change.first, key=_block)
    rest = bisect_left(old, change.old_end, first, key=_block)
    count = Decimal(_last_number(old, first))
    new = tuple(_headings(report, change.first, change.new_end, count))
    if not change.shift and new == old[first:rest]:
        return old
    return (*old[:first], *new, *_moved_on(old[rest:], change.shift, count))


def _block(heading: Heading) -> int:
    return heading.block


def _last_number(headings: Sequence[Heading], end: int) -> str:
    return next((headings[i].number for i in range(end - 1, -1, -1) if headings[i].number), "")


def _headings(report: Report, first: int, end: int, count: Decimal) -> Iterator[Heading]:
    """The headings in blocks ``first`` to ``end`` (exclusive)."""
    levels = report.styles.levels
    for index in range(first, end):
        block = report.blocks[index]
        if type(block) is Paragraph:
            if block.style in levels:
                yield from _heading(report, block, index, 0, count)
        elif type(block) is DataTable:
            for row, cells in enumerate(block.rows):
                for cell in cells:
                    for paragraph in cell.paragraphs:
                        if paragraph.style in levels:
                            yield from _heading(report, paragraph, index, row, count)


def _heading(report: Report, paragraph: Paragraph, block: int, row: int, count: Decimal) -> Iterator[Heading]:
    text = " ".join(paragraph.text.split())
    if text:
        style = report.styles[paragraph.style]
        level = report.styles.levels[paragraph.style]
        number = count.next(level) if style.marker == "number" else ""
        yield Heading(paragraph.id, level, number, text, block, row)


def _moved_on(headings: Sequence[Heading], shift: int, count: Decimal) -> Iterator[Heading]:
    """Headings behind an edit: ``shift`` blocks further on, and counted on from ``count``.

    A number says how far each level has been counted, so from the first number that stays, all stay.
    """
    recount = True
    for index, (id, level, number, text, block, row) in enumerate(headings):
        if recount and number:
            counted = count.next(level)
            recount, number = counted != number, counted
        if not recount and not shift:
            yield from headings[index:]
            return
        yield Heading(id, level, number, text, block + shift, row)
