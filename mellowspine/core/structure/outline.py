"""The outline: every heading of a report in reading order, with its computed number, and what stands in tables like one."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator, Sequence
from typing import Literal, NamedTuple

from ..report.blocks import Block, DataTable, Paragraph
from ..report.diff import diff
from ..report.report import Report
from .numbering import Count, Counter

ByHand = Literal["", "put in", "kept out"]


class Heading(NamedTuple):
    """``block`` is the index of its block in the report; ``row`` the row if it stands in a data table, else 0.

    ``by_hand`` says where somebody made an exception of it: put into tables though its style is none of a heading, or
    kept out of them. ``counted`` is how far headings are counted with this one.
    """

    id: str
    level: int
    number: str
    text: str
    block: int
    row: int
    by_hand: ByHand
    counted: Count
    own_page: bool | None = None
    """Whether it begins a new page or goes on on the page, where that is said of it alone."""


Outline = tuple[Heading, ...]


def outline(report: Report, before: tuple[Report, Outline] | None = None) -> Outline:
    """All headings and all paragraphs put into tables singly, those with no text left out.

    ``before``, an earlier state of the report with its outline, changes nothing but the time it takes: only blocks
    that differ are read, and headings behind them are counted again only as far as their numbers change.
    """
    if before is None or not _as_before(report, before[0]):
        return tuple(_headings(report, 0, len(report.blocks), Counter(report.numbering)))
    earlier, old = before
    change = diff(earlier.blocks, report.blocks)
    if not change:
        return old
    first = bisect_left(old, change.first, key=_block)
    rest = bisect_left(old, change.old_end, first, key=_block)
    counter = Counter(report.numbering, old[first - 1].counted if first else None)
    new = tuple(_headings(report, change.first, change.new_end, counter))
    if not change.shift and new == old[first:rest]:
        return old
    return (*old[:first], *new, *_moved_on(report, old[rest:], change.shift, counter))


def _as_before(report: Report, earlier: Report) -> bool:
    same_levels = report.styles is earlier.styles or report.styles.levels == earlier.styles.levels
    return same_levels and report.numbering == earlier.numbering


def _block(heading: Heading) -> int:
    return heading.block


def paragraphs_of(report: Report, index: int) -> Iterable[tuple[Paragraph, int]]:
    """The paragraphs in a block of a report, each with its row."""
    return paragraphs_in(report.blocks[index])


def paragraphs_in(block: Block) -> Iterable[tuple[Paragraph, int]]:
    """The paragraphs in a block, each with its row."""
    if type(block) is Paragraph:
        return ((block, 0),)  # most blocks are: no generator for each
    return _in_cells(block) if type(block) is DataTable else ()


def _in_cells(table: DataTable) -> Iterator[tuple[Paragraph, int]]:
    for row, cells in enumerate(table.rows):
        for cell in cells:
            for paragraph in cell.paragraphs:
                yield paragraph, row


def paragraphs(report: Report) -> Iterator[Paragraph]:
    """All paragraphs of a report, those in data tables included, in reading order."""
    for index in range(len(report.blocks)):
        for paragraph, _ in paragraphs_of(report, index):
            yield paragraph


def _headings(report: Report, first: int, end: int, counter: Counter) -> Iterator[Heading]:
    """The headings in blocks ``first`` to ``end`` (exclusive)."""
    levels = report.styles.levels
    for index in range(first, end):
        block = report.blocks[index]
        if type(block) is Paragraph:
            if block.style in levels or block.listed:
                yield from _heading(block, levels.get(block.style), index, 0, counter)
        elif type(block) is DataTable:
            for paragraph, row in paragraphs_of(report, index):
                if paragraph.style in levels or paragraph.listed:
                    yield from _heading(paragraph, levels.get(paragraph.style), index, row, counter)


def _heading(paragraph: Paragraph, level: int | None, block: int, row: int, counter: Counter) -> Iterator[Heading]:
    text = " ".join(paragraph.words.split())
    if not text:
        return
    if level:
        number = counter.next(level, paragraph.number == "none", paragraph.number_from, paragraph.number == "appendix")
        by_hand: ByHand = "kept out" if paragraph.listed == 0 else ""
        yield Heading(paragraph.id, level, number, text, block, row, by_hand, counter.count, paragraph.new_page)
    elif paragraph.listed:
        yield Heading(paragraph.id, paragraph.listed, "", text, block, row, "put in", counter.count)


def _moved_on(report: Report, headings: Sequence[Heading], shift: int, counter: Counter) -> Iterator[Heading]:
    """Headings behind an edit: ``shift`` blocks further on, and counted on from ``counter``.

    From the first heading with which all levels are counted as far as before, all stay as they are.
    """
    recount = True
    for index, heading in enumerate(headings):
        block = heading.block + shift
        if recount:
            read = next((p for p, row in paragraphs_of(report, block) if p.id == heading.id and row == heading.row))
            again = next(
                _heading(read, None if heading.by_hand == "put in" else heading.level, block, heading.row, counter)
            )
            recount = again.counted != heading.counted or again.number != heading.number
            yield again
            if not recount and not shift:
                yield from headings[index + 1 :]
                return
        else:
            id, level, number, text, _, row, by_hand, counted, own_page = heading
            yield Heading(
                id, level, number, text, block, row, by_hand, counted, own_page
            )  # a third of the time of _replace
