"""Tables of HTML: of data, or to lay a page out."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from lxml.etree import _Element

from ...report.blocks import Block, Cell, DataTable, PageBreak, Paragraph
from ...report.grids import without_covered_rows
from ..imported import Notes

MOST_COLUMNS, MOST_ROWS = 63, 65534


def is_data_table(element: _Element) -> bool:
    """Whether a table holds data: not where it says that it does not, has a single cell, or holds tables or headings."""
    if element.get("role") in ("presentation", "none"):
        return False
    cells = sum(1 for _ in element.iter("td", "th"))
    return cells > 1 and next(element.iterdescendants("table", "h1", "h2", "h3", "h4"), None) is None


@dataclass(slots=True)
class Table:
    """A table while it is read. ``around``: what is read of the text in front of it."""

    element: _Element
    around: list[Block]
    rows: list[list[Cell]] = field(default_factory=list)
    header_rows: int = 0
    _spans: tuple[int, int] = (1, 1)
    _is_header: bool = True

    def row(self, element: _Element) -> None:
        self.rows.append([])
        cells = list(element.iterchildren("td", "th"))
        parent = element.getparent()
        is_header = (parent is not None and parent.tag == "thead") or all(cell.tag == "th" for cell in cells)
        self._is_header = self._is_header and is_header and bool(cells)
        self.header_rows += self._is_header

    def begin_cell(self, element: _Element) -> None:
        if not self.rows:
            self.rows.append([])
        self._spans = _span(element.get("colspan"), MOST_COLUMNS), _span(element.get("rowspan"), MOST_ROWS)

    def end_cell(self, blocks: list[Block], empty: Paragraph, notes: Notes) -> None:
        paragraphs = []
        for block in blocks:
            if isinstance(block, Paragraph):
                paragraphs.append(block)
            elif not isinstance(block, PageBreak):
                notes.add("Picture or table in a data table: left out")
        self.rows[-1].append(Cell(tuple(paragraphs) or (empty,), *self._spans))

    def blocks(self, id: str) -> Iterator[Block]:
        """The data table, if it holds anything."""
        rows = without_covered_rows(self.rows)
        header_rows = sum(bool(row) for row in self.rows[: self.header_rows])
        if any(paragraph.text for row in rows for cell in row for paragraph in cell.paragraphs):
            yield DataTable(id, rows, header_rows if header_rows < len(rows) else 0)


def _span(said: str | None, most: int) -> int:
    """Over how many columns or rows a cell reaches; 0 of rows is as many as there are (the HTML standard, 4.9.11)."""
    if not said or not re.fullmatch(r"\s*\d{1,9}\s*", said):
        return 1
    return min(int(said), most) if int(said) else most if most == MOST_ROWS else 1
