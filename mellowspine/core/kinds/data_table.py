"""A data table: a grid of cells with paragraphs in them. Its rows are not split; header rows repeat on every page."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from ..pages.boxes import Box, measure
from ..pages.draw import Drawing, Mark, Rule, draw, draw_lines
from ..pages.fill import Placed
from ..pages.lines import Lines, break_lines, set_style
from ..pages.typefaces import Typefaces
from ..report.blocks import Cell, DataTable, Paragraph
from ..report.elements import (
    Content,
    Element,
    Field,
    Kind,
    Shape,
    Words,
    add_kind,
    add_shape,
    element_of,
    one_of,
    read_block,
    whole,
)
from ..report.report import Report

PADDING = 4.0
SPACE = 10.0
"""Points above and below a data table."""
_LINE, _HEADER = "#b9b3bf", "#f1f0ec"

MOST_CELLS = 63
"""Cells of a row: as many as a table of ISO/IEC 29500-1 may have columns (17.4.17, 17.18.13, from memory)."""

_ROW, _CELL, _PARAGRAPH = "dataRow", "dataCell", "paragraph"
_span = whole(1, 63)


def _inside(element: Element | Words, tag: str) -> Iterator[tuple[int, Element]]:
    """The children with a tag, and where each stands among all children."""
    for index, child in enumerate(element.children if isinstance(element, Element) else ()):
        if isinstance(child, Element) and child.tag == tag:
            yield index, child


def _read_rows(children: Sequence[Element | Words], id: str) -> tuple[tuple[Cell, ...], ...] | None:
    return tuple(_read_row(row, f"{id}-{index}") for index, row in _inside(Element("", {}, children), _ROW)) or None


def _read_row(row: Element, name: str) -> tuple[Cell, ...]:
    cells = []
    for column, cell in _inside(row, _CELL):
        inside = [read_block(one, f"{name}-{column}-{index}") for index, one in _inside(cell, _PARAGRAPH)]
        paragraphs = tuple(one for one in inside if isinstance(one, Paragraph))
        columns = _span(cell.attributes.get("colspan")) or 1
        cells.append(Cell(paragraphs or (Paragraph(f"{name}-{column}"),), columns))
    # Of two people each may have taken out some of its cells.
    return tuple(cells) or (Cell((Paragraph(f"{name}-0"),)),)


def _write_rows(rows: Iterable[tuple[Cell, ...]]) -> Iterator[Element]:
    for row in map(_with_room, rows):
        yield Element(_ROW, {}, tuple(_write_cell(cell) for cell in row))


def _with_room(row: tuple[Cell, ...]) -> tuple[Cell, ...]:
    """A row as it can be kept: what stands in cells for which there is no room stands in the last one as well."""
    if len(row) <= MOST_CELLS:
        return row
    last = tuple(paragraph for cell in row[MOST_CELLS - 1 :] for paragraph in cell.paragraphs)
    return (*row[: MOST_CELLS - 1], Cell(last))


def _write_cell(cell: Cell) -> Element:
    attributes: Mapping[str, Any] = {"colspan": cell.columns} if cell.columns != 1 else {}
    return Element(_CELL, attributes, tuple(element_of(paragraph) for paragraph in cell.paragraphs))


def _paragraphs(rows: Iterable[tuple[Cell, ...]]) -> Iterator[Paragraph]:
    return (paragraph for row in rows for cell in row for paragraph in cell.paragraphs)


add_kind(
    Kind(
        DataTable,
        "dataTable",
        (Field("header_rows", "headerRows", whole(0, 100), 0),),
        Content("rows", _read_rows, _write_rows, (_ROW,), blocks=_paragraphs),
    )
)
add_shape(_ROW, Shape(holds=frozenset({_CELL}), most=MOST_CELLS))
add_shape(_CELL, Shape({"colspan": _span, "rowspan": whole(1, 1), "colwidth": one_of()}, frozenset({_PARAGRAPH})))


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


def _across(row: Sequence[Cell], widths: Sequence[float]) -> Iterator[tuple[Cell, float, float]]:
    """The cells of a row, each with its left edge and its width in points."""
    column, left = 0, 0.0
    for cell in row:
        width = sum(widths[column : column + cell.columns])
        yield cell, left, width
        column += cell.columns
        left += width


def _cell_lines(cell: Cell, width: float, report: Report, typefaces: Typefaces) -> list[tuple[Paragraph, Lines]]:
    """The lines of a cell whose padded width is ``width`` points."""
    inner = width - 2 * PADDING
    return [(p, break_lines(p, set_style(p, report).style, inner, typefaces)) for p in cell.paragraphs]


def _row_height(row: Sequence[Cell], widths: Sequence[float], report: Report, typefaces: Typefaces) -> float:
    inside = (
        sum(
            sum(lines.heights) + report.styles[paragraph.style].space_after
            for paragraph, lines in _cell_lines(cell, width, report, typefaces)
        )
        for cell, _, width in _across(row, widths)
    )
    return max((height + 2 * PADDING for height in inside), default=0.0)


@measure.register
def _(block: DataTable, report: Report, typefaces: Typefaces) -> Box:
    widths = column_widths(block, report.page.text_width)
    limit = report.page.text_height
    heights = tuple(min(_row_height(row, widths, report, typefaces), limit) for row in block.rows)
    headers = min(block.header_rows, len(heights))
    repeated = headers if sum(heights[:headers]) < limit / 2 else 0
    return Box(heights, (), sum(heights), SPACE, SPACE, 1, repeated=repeated)


@draw.register
def _(block: DataTable, placed: Placed, on: Drawing) -> Iterator[Mark]:
    box = on.pages.boxes[placed.box]
    rows, y = [*range(placed.first, placed.end)], placed.y
    if placed.first:
        rows = [*range(box.repeated), *rows]
        y -= sum(box.heights[: box.repeated])
    widths = column_widths(block, on.report.page.text_width)
    for row in rows:
        height = box.heights[row]
        for cell, left, width in _across(block.rows[row], widths):
            yield Rule(left, y, width, height, 0.5, _LINE, _HEADER if row < block.header_rows else None)
            inner = y + PADDING
            for paragraph, lines in _cell_lines(cell, width, on.report, on.typefaces):
                style, hang = set_style(paragraph, on.report)
                among = range(len(lines.starts))
                yield from draw_lines(
                    paragraph, style, lines, among, left + PADDING, inner, width - 2 * PADDING, on, hang
                )
                inner += sum(lines.heights) + style.space_after
        y += height
