"""Data tables (ISO/IEC 29500-1, 17.4): their grid, merged cells, header rows, and how each cell looks."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from lxml.etree import _Element

from ...pages.beside import fitted_in
from ...pages.columns import HEADER, LINE, LINE_WIDTH, PADDING, column_edges, padding_of
from ...report.blocks import Cell, DataTable, Image
from ...report.borders import SIDES, Border, borders_of
from ...report.grids import Slot, grid_of
from ...report.report import Report
from .document import Document
from .drawings import on_a_line
from .looks import border, shade
from .words import paragraph
from .xml import made, properties, twips

_SIDES = ("top", "left", "bottom", "right")
"""In the order of the schema."""
_USUAL = tuple(Border(side, LINE_WIDTH, LINE) for side in SIDES)
_VERTICAL = {"top": "top", "middle": "center", "bottom": "bottom"}


def data_table(block: DataTable, document: Document, paper: Report) -> _Element:
    """A table. ``paper``: the report as it is set where the table stands."""
    grid = grid_of(block.rows)
    edges = column_edges(block, grid, paper, document.typefaces)
    columns = [twips(right) - twips(left) for left, right in pairwise(edges)]
    look = properties(
        "w:tblPr",
        [
            made("w:tblW", w=sum(columns), type="dxa"),
            made("w:jc", val=block.align) if block.align in ("center", "right") else None,
            made("w:tblInd", w=twips(block.indent), type="dxa") if block.indent else None,
            made("w:tblLayout", type="fixed"),
            made("w:tblCellMar", *_margins((PADDING,) * 4)),
            made("w:tblLook", val="0000"),
        ],
    )
    made_rows = [_row(at, grid, columns, block, document, paper) for at in range(len(grid))]
    return made("w:tbl", look, made("w:tblGrid", *(made("w:gridCol", w=width) for width in columns)), *made_rows)


def _row(
    at: int, grid: Sequence[Sequence[Slot]], columns: Sequence[int], block: DataTable, document: Document, paper: Report
) -> _Element:
    heads = at < block.header_rows
    there = [(slot, True) for slot in grid[at]]
    there += [(slot, False) for row in grid[:at] for slot in row if slot.end > at]
    there.sort(key=lambda one: one[0].column)
    end = max((slot.column + slot.columns for slot, _ in there), default=0)
    height = max((slot.cell.height or 0.0 for slot in grid[at]), default=0.0)
    of_row = properties(
        "w:trPr",
        [
            made("w:gridAfter", val=len(columns) - end) if end < len(columns) else None,
            made("w:cantSplit"),
            made("w:trHeight", val=twips(height), hRule="atLeast") if height else None,
            made("w:tblHeader") if heads else None,
        ],
    )
    return made("w:tr", of_row, *(_cell(slot, begins, heads, columns, document, paper) for slot, begins in there))


def _cell(slot: Slot, begins: bool, heads: bool, columns: Sequence[int], document: Document, paper: Report) -> _Element:
    """A cell, or what stands for one that begins above (17.4.84)."""
    cell = slot.cell
    width = sum(columns[slot.column : slot.column + slot.columns])
    merged = None if slot.rows == 1 else made("w:vMerge", val="restart") if begins else made("w:vMerge")
    fill = cell.background or (HEADER if heads else None)
    look = properties(
        "w:tcPr",
        [
            made("w:tcW", w=width, type="dxa"),
            made("w:gridSpan", val=slot.columns) if slot.columns > 1 else None,
            merged,
            _lines(cell),
            shade(fill) if fill and fill != "none" else None,
            made("w:tcMar", *_margins(cell.padding)) if cell.padding else None,
            made("w:vAlign", val=_VERTICAL[cell.vertical]) if cell.vertical else None,
        ],
    )
    return made("w:tc", look, *(_inside(cell, width / 20, document, paper) if begins else [made("w:p")]))


def _inside(cell: Cell, width: float, document: Document, paper: Report) -> list[_Element]:
    _, right, _, left = padding_of(cell)
    found = []
    for block in cell.blocks:
        if isinstance(block, Image):
            size = fitted_in(block, max(width - left - right, 1.0), paper.page.text_height / 2)
            found.append(on_a_line(block, document, size))
        else:
            found.append(paragraph(block, document))
    return found


def _lines(cell: Cell) -> _Element:
    """The lines around a cell (17.4.66): those that it says, or else the usual ones."""
    found = {one.side: one for one in (_USUAL if cell.borders is None else borders_of(cell.borders))}
    return made("w:tcBorders", *(border(f"w:{side}", found.get(side)) for side in _SIDES))  # type: ignore[call-overload]


def _margins(padding: Sequence[float]) -> list[_Element]:
    by_side = dict(zip(SIDES, padding, strict=True))
    return [made(f"w:{side}", w=twips(by_side[side]), type="dxa") for side in _SIDES]  # type: ignore[index]
