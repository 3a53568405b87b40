"""Tables of Office Open XML (ISO/IEC 29500-1, 17.4), as data tables."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

from lxml.etree import _Element

from ...pages.columns import HEADER, LINE, LINE_WIDTH, PADDING
from ...report.blocks import Block, Cell, DataTable, Image, Paragraph
from ...report.borders import SIDES, Border, Side, borders_as_text, borders_of
from ...report.grids import grid_of, width_of, with_widths, without_covered_rows
from .document import Document
from .table_looks import Place, says_more
from .xml import child, flattened, is_on, number, outermost, own, qn, value

_USUAL = borders_as_text(Border(side, LINE_WIDTH, LINE) for side in SIDES)
DEEPEST = 20
"""How deep tables may stand in each other that lay out the page; what is deeper stays in its cell."""


def table_of(element: _Element, document: Document) -> list[Block]:
    """What a ``w:tbl`` becomes: a data table; or what stands in its cells, one below the other, where it only lays out the page."""
    if document.depth < DEEPEST and _lays_out(element, document):
        document.depth += 1
        blocks = [*_laid_out(element, document)]
        document.depth -= 1
        return blocks
    return [*_data_table(element, document)]


def _lays_out(table: _Element, document: Document) -> bool:
    """Whether a table has tables in its cells and nothing of a grid itself: no line, or a single column."""
    if next(table.iterdescendants(qn("w:tbl")), None) is None:
        return False
    rows = [[*own(row, "w:tc", table)] for row in own(table, "w:tr", table)]
    if all(len(cells) <= 1 for cells in rows):
        return True
    key = value(child(child(table, "w:tblPr"), "w:tblStyle"))
    said = [
        *(one for name in ("tblBorders", "tcBorders") for one in own(table, f"w:{name}", table)),
        *(one for style in document.styles.chain_of_table(key) for name in ("tblBorders", "tcBorders") for one in style.iter(qn(f"w:{name}"))),
    ]  # fmt: skip
    return not any(value(side) not in (None, "nil", "none") for borders in said for side in borders)


def _laid_out(table: _Element, document: Document) -> Iterator[Block]:
    document.notes.add("layout-table")
    for row in own(table, "w:tr", table):
        if child(child(row, "w:trPr"), "w:del") is not None:
            document.notes.add("tracked-deletion")
            continue
        for cell in own(row, "w:tc", table):
            for element in flattened(cell):
                for block in document.block(element):
                    if not (
                        isinstance(block, Paragraph) and not block.runs
                    ):  # a cell ends with a paragraph, if an empty one
                        yield block


def _data_table(element: _Element, document: Document) -> list[DataTable]:
    rows: list[list[Cell]] = []
    said: list[tuple[_Element, Sequence[_Element]]] = []
    measured: list[_Measured] = []
    header_rows = 0
    above: dict[int, tuple[int, int]] = {}
    """By column the cell that goes on downwards in it: its row and its place in that."""
    look = document.table_looks.of(element)
    there = [*own(element, "w:tr", element)]
    kept_rows = [row for row in there if child(child(row, "w:trPr"), "w:del") is None]
    for _ in range(len(there) - len(kept_rows)):
        document.notes.add("tracked-deletion")
    parted = [[*own(row, "w:tc", element)] for row in kept_rows]
    columns = max(
        (_skipped(row) + sum(map(_span, cells)) for row, cells in zip(kept_rows, parted, strict=True)), default=0
    )
    for at_row, (row, elements) in enumerate(zip(kept_rows, parted, strict=True)):
        of_row = child(row, "w:trPr")
        cells: list[Cell] = []
        column, going_on = _skipped(row), dict[int, tuple[int, int]]()
        if column:
            cells.append(Cell((document.empty_cell(),), column, borders="none"))
        said.append((row, elements))
        heads = at_row == header_rows and is_on(child(of_row, "w:tblHeader")) is True
        for cell in elements:
            properties = child(cell, "w:tcPr")
            span = _span(cell)
            merged = child(properties, "w:vMerge")
            beside = child(properties, "w:hMerge")
            looks, words = look.of_cell(Place(at_row, column, span, len(kept_rows), columns), row, cell, heads)
            looks = _not_as_usual(looks, heads)
            document.in_cell, outside = words, document.in_cell
            inside = Cell(tuple(_inside(cell, document)), span, **looks)
            document.in_cell = outside
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
            header_rows += heads
            rows.append(cells)
    document.rest.of_table(element, said, _style_of(element, document))
    widths = _column_widths(element, measured)
    kept = without_covered_rows(with_widths(rows, [*widths, *[0.0] * width_of(grid_of(rows))]))
    header_rows = sum(bool(row) for row in rows[:header_rows])
    return [DataTable(next(document.ids), kept, header_rows, **look.place())] if kept else []


def _not_as_usual(look: dict[str, Any], heads: bool) -> dict[str, Any]:
    """The look of a cell, without what cells have that do not say it."""
    usual = {"borders": _USUAL, "padding": (PADDING,) * 4, "background": HEADER if heads else None}
    return {name: said for name, said in look.items() if said != usual.get(name)}


def _skipped(row: _Element) -> int:
    """How many columns a row leaves out in front of its first cell (17.4.15)."""
    return min(max(number(child(child(row, "w:trPr"), "w:gridBefore")) or 0, 0), 62)


def _span(cell: _Element) -> int:
    """Over how many columns a cell reaches (17.4.17)."""
    return min(max(number(child(child(cell, "w:tcPr"), "w:gridSpan")) or 1, 1), 63)


def _inside(element: _Element, document: Document) -> Iterator[Paragraph | Image]:
    """What stands in a cell, the words of tables within it one behind the other."""
    found = False
    for inner in outermost(element, qn("w:p")):
        sheet = document.styles.sheet()
        for block in document.paragraph(inner):
            if isinstance(block, Paragraph):
                found = True
                plain = sheet[block.style].role == "body" and not document.own
                yield replace(block, style=sheet.role("cell").id) if plain else block
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
    """The name of a table's style, if that says more than is kept of it."""
    key = value(child(child(table, "w:tblPr"), "w:tblStyle")) or ""
    if not any(map(says_more, document.styles.chain_of_table(key))):
        return ""
    return document.styles.name_of(key)[:60] or "of tables"


def _longer(cell: Cell, going_on: Cell) -> Cell:
    """A cell that reaches over a row more. What stands in its part there, as some programs leave it, comes along."""
    more = [block for block in going_on.blocks if isinstance(block, Image) or block.text.strip()]
    return replace(_with_line(cell, going_on, "bottom"), blocks=(*cell.blocks, *more), rows=cell.rows + 1)


def _with_line(cell: Cell, other: Cell, side: Side) -> Cell:
    """A cell with the line that another has at a side."""
    borders = [one for one in borders_of(cell.borders or _USUAL) if one.side != side]
    lines = borders_as_text([*borders, *(one for one in borders_of(other.borders or _USUAL) if one.side == side)])
    return replace(cell, borders=None if lines == _USUAL else lines)


def _wider(cell: Cell, going_on: Cell) -> Cell:
    """A cell that reaches over further columns (17.4.22)."""
    longer = _longer(cell, going_on)
    return replace(
        _with_line(replace(longer, borders=cell.borders), going_on, "right"),
        columns=min(cell.columns + going_on.columns, 63),
        rows=cell.rows,
    )


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
