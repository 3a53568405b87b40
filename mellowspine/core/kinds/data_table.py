"""A data table: a grid of cells with paragraphs in them. Header rows repeat on every page.

A row is split only where no page holds it: between lines, in all its cells.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from ..pages.as_set import as_set
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


_LEAST_PARAGRAPH = Element(_PARAGRAPH, {"style": "cell"})
_LEAST_CELL = Element(_CELL, {}, (_LEAST_PARAGRAPH,))
_LEAST_ROW = Element(_ROW, {}, (_LEAST_CELL,))

add_kind(
    Kind(
        DataTable,
        "dataTable",
        (Field("header_rows", "headerRows", whole(0, 100), 0),),
        Content("rows", _read_rows, _write_rows, (_ROW,), blocks=_paragraphs, least=_LEAST_ROW),
    )
)
add_shape(_ROW, Shape(holds=frozenset({_CELL}), most=MOST_CELLS, least=_LEAST_CELL))
_SPANS = {"colspan": _span, "rowspan": whole(1, 1), "colwidth": one_of()}
add_shape(_CELL, Shape(_SPANS, frozenset({_PARAGRAPH}), least=_LEAST_PARAGRAPH))


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
    return [
        (as_set(p, report), break_lines(as_set(p, report), set_style(p, report).style, inner, typefaces))
        for p in cell.paragraphs
    ]


class Slice(NamedTuple):
    """A row, or as much of one as a page holds that is taller. ``cells``: for each the lines that stand in it."""

    row: int
    height: float
    cells: tuple[tuple[tuple[Paragraph, Lines, range], ...], ...]


def _height(inside: Iterable[tuple[Paragraph, Lines, range]], report: Report) -> float:
    """Of some lines in a cell, with the space behind those that end their paragraphs."""
    return sum(
        sum(lines.heights[among.start : among.stop])
        + (report.styles[paragraph.style].space_after if among.stop == len(lines.starts) else 0.0)
        for paragraph, lines, among in inside
    )


def _slices(
    number: int, row: Sequence[Cell], widths: Sequence[float], limit: float, report: Report, typefaces: Typefaces
) -> Iterator[Slice]:
    """A row as one slice; or as several where it is taller than ``limit``, each but the last as high as that."""
    found = [_cell_lines(cell, width, report, typefaces) for cell, _, width in _across(row, widths)]
    whole = tuple(tuple((p, lines, range(len(lines.starts))) for p, lines in cell) for cell in found)
    height = max((_height(cell, report) + 2 * PADDING for cell in whole), default=0.0)
    if height <= limit:
        yield Slice(number, height, whole)
        return
    parted = [list(_parted(cell, limit - 2 * PADDING, report)) for cell in found]
    count = max(map(len, parted))
    for place in range(count):
        cells = tuple(tuple(parts[place]) if place < len(parts) else () for parts in parted)
        last = max(_height(cell, report) + 2 * PADDING for cell in cells)
        yield Slice(number, min(last, limit) if place + 1 == count else limit, cells)


def _parted(
    cell: Sequence[tuple[Paragraph, Lines]], room: float, report: Report
) -> Iterator[list[tuple[Paragraph, Lines, range]]]:
    """The lines of a cell, as many at a time as ``room`` points hold."""
    part: list[tuple[Paragraph, Lines, range]] = []
    y = 0.0
    for paragraph, lines in cell:
        first = 0
        for number, height in enumerate(lines.heights):
            if y + height > room and y > 0:
                if number > first:
                    part.append((paragraph, lines, range(first, number)))
                yield part
                part, y, first = [], 0.0, number
            y += height
        part.append((paragraph, lines, range(first, len(lines.heights))))
        y += report.styles[paragraph.style].space_after
    yield part


def _parts(block: DataTable, report: Report, typefaces: Typefaces) -> tuple[list[Slice], int]:
    """What a data table is printed as, and how many of the first rows are printed again on each further page."""
    widths = column_widths(block, report.page.text_width)
    limit = report.page.text_height
    found: list[Slice] = []
    repeated, above = 0, 0.0
    for number, row in enumerate(block.rows):
        if (
            number == block.header_rows
            and number == len(found)
            and (height := sum(one.height for one in found)) < limit / 2
        ):
            repeated, above = number, height
        found.extend(_slices(number, row, widths, limit - above, report, typefaces))
    if block.header_rows >= len(block.rows) == len(found) and sum(one.height for one in found) < limit / 2:
        repeated = len(found)
    return found, repeated


@measure.register
def _(block: DataTable, report: Report, typefaces: Typefaces) -> Box:
    slices, repeated = _parts(block, report, typefaces)
    heights = tuple(one.height for one in slices)
    starts = tuple(one.row for one in slices) if len(slices) > len(block.rows) else ()
    return Box(heights, starts, sum(heights), SPACE, SPACE, 1, repeated=repeated)


@draw.register
def _(block: DataTable, placed: Placed, on: Drawing) -> Iterator[Mark]:
    slices, repeated = on.once(f"slices {block.id}", lambda: _parts(block, on.report, on.typefaces))
    shown, y = slices[placed.first : placed.end], placed.y
    if placed.first:
        shown = [*slices[:repeated], *shown]
        y -= sum(one.height for one in slices[:repeated])
    widths = column_widths(block, on.report.page.text_width)
    for one in shown:
        fill = _HEADER if one.row < block.header_rows else None
        for (_, left, width), inside in zip(_across(block.rows[one.row], widths), one.cells, strict=True):
            yield Rule(left, y, width, one.height, 0.5, _LINE, fill)
            inner = y + PADDING
            for paragraph, lines, among in inside:
                style, hang = set_style(paragraph, on.report)
                yield from draw_lines(
                    paragraph, style, lines, among, left + PADDING, inner, width - 2 * PADDING, on, hang
                )
                inner += sum(lines.heights[among.start : among.stop]) + style.space_after
        y += one.height
