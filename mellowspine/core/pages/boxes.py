"""Boxes: what a block asks of the page. Each block becomes one box of parts that are never split.

The parts of a paragraph are its lines, those of a data table its rows, those of a placed table its title and lines.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

from ..report.blocks import Block, Cell, DataTable, Image, PageBreak, Paragraph, PlacedTable
from ..report.report import Report
from .lines import Lines, break_lines
from .table_setting import TABLE_GAP, lay_out
from .typefaces import Typefaces

CELL_PADDING = 4.0
IMAGE_SPACE = 6.0
TABLE_SPACE = 10.0


@dataclass(frozen=True, slots=True)
class Box:
    """Heights and spaces in points. ``starts`` gives the character offset of each part of a paragraph."""

    heights: tuple[float, ...]
    starts: tuple[int, ...] = ()
    total: float = 0.0
    before: float = 0.0
    after: float = 0.0
    together: int = 1
    """How many parts stay together at the head and at the foot of a page: 2 for lines of text, 1 for all else."""
    keep_with_next: bool = False
    new_page: bool = False
    ends_page: bool = False
    repeated: int = 0
    """How many of the first parts are printed again on each further page."""


def measure(block: Block, report: Report, typefaces: Typefaces) -> Box:
    """The box of a block in its report. Depends on the block, and on the report's styles, page set-up and tables."""
    return _MEASURES[type(block)](block, report, typefaces)


def _paragraph(block: Paragraph, report: Report, typefaces: Typefaces) -> Box:
    style = report.styles[block.style]
    lines = break_lines(block, style, report.page.text_width, typefaces)
    before, after = block.space_before, block.space_after
    return Box(
        lines.heights,
        lines.starts,
        sum(lines.heights),
        style.space_before if before is None else before,
        style.space_after if after is None else after,
        2,
        style.keep_with_next,
        style.new_page,
    )


def fitted(image: Image, report: Report) -> tuple[float, float]:
    """Width and height at which a picture is printed: its own, or smaller where it exceeds the text area."""
    scale = min(1.0, report.page.text_width / image.width, report.page.text_height / image.height)
    return image.width * scale, image.height * scale


def _image(block: Image, report: Report, typefaces: Typefaces) -> Box:
    height = fitted(block, report)[1]
    return Box((height,), (), height, IMAGE_SPACE, IMAGE_SPACE, 1, True)


def _page_break(block: PageBreak, report: Report, typefaces: Typefaces) -> Box:
    return Box((), ends_page=True)


def column_widths(table: DataTable, width: float) -> list[float]:
    """Widths of a data table's columns in points: in proportion to their longest texts, each at least a tenth."""
    count = max((sum(cell.columns for cell in row) for row in table.rows), default=0) or 1
    longest = [1.0] * count
    for row in table.rows:
        column = 0
        for cell in row:
            if cell.columns == 1:
                length = max((len(paragraph.text) for paragraph in cell.paragraphs), default=0)
                longest[column] = max(longest[column], min(length, 40))
            column += cell.columns
    floor = max(sum(longest) * 0.1, 6.0)
    shares = [max(value, floor) for value in longest]
    return [width * share / sum(shares) for share in shares]


def cell_lines(cell: Cell, width: float, report: Report, typefaces: Typefaces) -> list[tuple[Paragraph, Lines]]:
    """The lines of a cell whose padded width is ``width`` points."""
    inner = width - 2 * CELL_PADDING
    return [(p, break_lines(p, report.styles[p.style], inner, typefaces)) for p in cell.paragraphs]


def _row_height(cells: tuple[Cell, ...], widths: list[float], report: Report, typefaces: Typefaces) -> float:
    height = 0.0
    column = 0
    for cell in cells:
        width = sum(widths[column : column + cell.columns])
        column += cell.columns
        inside = sum(
            sum(lines.heights) + report.styles[p.style].space_after
            for p, lines in cell_lines(cell, width, report, typefaces)
        )
        height = max(height, inside + 2 * CELL_PADDING)
    return height


def _data_table(block: DataTable, report: Report, typefaces: Typefaces) -> Box:
    widths = column_widths(block, report.page.text_width)
    limit = report.page.text_height
    heights = tuple(min(_row_height(row, widths, report, typefaces), limit) for row in block.rows)
    repeated = block.header_rows if sum(heights[: block.header_rows]) < limit / 2 else 0
    return Box(heights, (), sum(heights), TABLE_SPACE, TABLE_SPACE, 1, repeated=repeated)


def _placed_table(block: PlacedTable, report: Report, typefaces: Typefaces) -> Box:
    issued = report.tables.get(block.table)
    if issued is None:
        return Box((), new_page=block.own_page, ends_page=block.own_page)
    tops = lay_out(issued, report, typefaces)
    heights = tuple(after.top - before.top for before, after in pairwise(tops))
    heights = (*heights, tops[-1].height)
    return Box(heights, (), sum(heights), TABLE_GAP, TABLE_GAP, 1, new_page=block.own_page, ends_page=block.own_page)


_MEASURES: dict[type, Callable[..., Box]] = {
    Paragraph: _paragraph,
    Image: _image,
    DataTable: _data_table,
    PageBreak: _page_break,
    PlacedTable: _placed_table,
}
