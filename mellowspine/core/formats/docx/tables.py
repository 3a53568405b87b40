"""Tables of Office Open XML (ISO/IEC 29500-1, 17.4), as data tables."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple

from lxml.etree import _Element

from ...report.blocks import Cell, DataTable, Image, Paragraph
from ...report.grids import grid_of, width_of, with_widths, without_covered_rows
from .document import Document
from .xml import child, is_on, number, outermost, own, qn, value

_PLAIN_STYLES = ("normal table", "table normal", "")


def table_of(element: _Element, document: Document) -> list[DataTable]:
    """The data table of a ``w:tbl``; none if it has no cells."""
    rows: list[list[Cell]] = []
    said: list[tuple[_Element, Sequence[_Element]]] = []
    measured: list[_Measured] = []
    header_rows = 0
    above: dict[int, tuple[int, int]] = {}
    """By column the cell that goes on downwards in it: its row and its place in that."""
    for row in own(element, "w:tr", element):
        of_row = child(row, "w:trPr")
        if child(of_row, "w:del") is not None:
            document.notes.add("tracked-deletion")
            continue
        cells: list[Cell] = []
        skipped = number(child(of_row, "w:gridBefore")) or 0
        column, going_on = min(max(skipped, 0), 62), dict[int, tuple[int, int]]()
        if column:
            cells.append(Cell((document.empty_cell(),), column))
        elements = [*own(row, "w:tc", element)]
        said.append((row, elements))
        for cell in elements:
            properties = child(cell, "w:tcPr")
            span = min(max(number(child(properties, "w:gridSpan")) or 1, 1), 63)
            merged = child(properties, "w:vMerge")
            beside = child(properties, "w:hMerge")
            inside = Cell(tuple(_inside(cell, document)), span)
            measured.append(_Measured(column, span, _width(child(properties, "w:tcW"))))
            if beside is not None and value(beside) != "restart" and cells:
                cells[-1] = _wider(cells[-1], inside)
            elif merged is not None and value(merged) != "restart" and column in above:
                at, place = going_on[column] = above[column]
                rows[at][place] = _longer(rows[at][place], inside)
            else:
                if merged is not None:
                    going_on[column] = len(rows), len(cells)
                cells.append(inside)
            column += span
        above = going_on
        if column:
            if len(rows) == header_rows and is_on(child(of_row, "w:tblHeader")):
                header_rows += 1
            rows.append(cells)
    document.rest.of_table(element, said, _style_of(element, document))
    widths = _column_widths(element, measured)
    kept = without_covered_rows(with_widths(rows, [*widths, *[0.0] * width_of(grid_of(rows))]))
    header_rows = sum(bool(row) for row in rows[:header_rows])
    return [DataTable(next(document.ids), kept, header_rows)] if kept else []


def _inside(element: _Element, document: Document) -> Iterator[Paragraph | Image]:
    """What stands in a cell, the words of tables within it one behind the other."""
    found = False
    for inner in outermost(element, qn("w:p")):
        sheet = document.styles.sheet()
        for block in document.paragraph(inner):
            if isinstance(block, Paragraph):
                found = True
                yield replace(block, style=sheet.role("cell").id) if sheet[block.style].role == "body" else block
            elif isinstance(block, Image):
                found = True
                yield block
            elif isinstance(block, DataTable):  # a chart, or what else comes as one
                document.notes.add("nested-table")
                yield from (one for row in block.rows for cell in row for one in cell.blocks)
    for table in element.iter(qn("w:tbl")):
        if next(table.iterancestors(qn("w:tc"), qn("w:txbxContent"))).tag == qn("w:tc"):
            document.notes.add("nested-table")
    if not found:
        yield document.empty_cell()


def _style_of(table: _Element, document: Document) -> str:
    """The name of a table's style, if that has a look."""
    properties = child(table, "w:tblPr")
    name = document.styles.name_of(value(child(properties, "w:tblStyle")) or "")
    return "" if name.lower() in _PLAIN_STYLES else name[:60]


def _longer(cell: Cell, going_on: Cell) -> Cell:
    """A cell that reaches over a row more. What stands in its part there, as some programs leave it, comes along."""
    more = [block for block in going_on.blocks if isinstance(block, Image) or block.text.strip()]
    return replace(cell, blocks=(*cell.blocks, *more), rows=cell.rows + 1)


def _wider(cell: Cell, going_on: Cell) -> Cell:
    """A cell that reaches over further columns (17.4.22)."""
    longer = _longer(cell, going_on)
    return replace(longer, columns=min(cell.columns + going_on.columns, 63), rows=cell.rows)


class _Measured(NamedTuple):
    """The columns that a cell reaches over, and the width in points that it asks for (17.4.71); 0 where it does not."""

    column: int
    columns: int
    width: float


def _width(element: _Element | None) -> float:
    return (
        (number(element, "w") or 0) / 20 if element is not None and element.get(qn("w:type"), "dxa") == "dxa" else 0.0
    )


def _column_widths(table: _Element, measured: Sequence[_Measured]) -> list[float]:
    """The widths of a table's columns in points; 0 where not said. Cells say them over the grid (17.4.48, 17.4.71)."""
    grid = child(table, "w:tblGrid")
    said = [] if grid is None else [(number(one, "w") or 0) / 20 for one in grid.iterchildren(qn("w:gridCol"))]
    own: dict[int, float] = {}
    for column, columns, width in measured:
        if columns == 1 and width > 0:
            own.setdefault(column, width)
    columns = max([len(said), *(column + 1 for column in own)])
    return [own.get(column) or (said[column] if column < len(said) else 0.0) for column in range(columns)]
