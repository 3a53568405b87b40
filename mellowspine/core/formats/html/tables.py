"""Tables of HTML: of data, or to lay a page out."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from lxml.etree import _Element

from ...report.blocks import Block, Cell, DataTable, Image, PageBreak, Paragraph, Vertical
from ...report.borders import SIDES, THINNEST, WIDEST, Border, LineKind, Side, borders_as_text
from ...report.grids import MOST_PADDING, grid_of, width_of, with_widths, without_covered_rows
from ..imported import Notes
from .css import Declared, colour, points

MOST_COLUMNS, MOST_ROWS = 63, 65534
TEXT_WIDTH = 450.0
"""Points that a table counts as wide which does not say it, or is as wide as the window: about those of a page's text."""


def is_data_table(element: _Element) -> bool:
    """Whether a table holds data: not where it says that it does not, has a single cell, or holds tables or headings."""
    if element.get("role") in ("presentation", "none"):
        return False
    cells = sum(1 for _ in element.iter("td", "th"))
    return cells > 1 and next(element.iterdescendants("table", "h1", "h2", "h3", "h4"), None) is None


@dataclass(slots=True)
class Table:
    """A table while it is read. ``declared``: its looks; ``around``: what is read of the text in front of it."""

    element: _Element
    declared: Declared
    around: list[Block]
    rows: list[list[Cell]] = field(default_factory=list)
    header_rows: int = 0
    cell: _Element | None = None
    """The cell that is being read; others within it are none."""
    _columns: list[float] = field(default_factory=list)
    """Widths in points as the columns themselves say them; 0 where they do not."""
    _said: list[list[float]] = field(default_factory=list)
    """What cells say of their widths, as ``rows``."""
    _spans: tuple[int, int] = (1, 1)
    _width: float = 0.0
    _look: dict[str, Any] = field(default_factory=dict)
    _is_header: bool = True

    def row(self, element: _Element) -> None:
        self.rows.append([])
        self._said.append([])
        cells = list(element.iterchildren("td", "th"))
        parent = element.getparent()
        is_header = (parent is not None and parent.tag == "thead") or all(cell.tag == "th" for cell in cells)
        self._is_header = self._is_header and is_header and bool(cells)
        self.header_rows += self._is_header

    def column(self, element: _Element, declared: Declared) -> None:
        """A column, or several that are alike, before there are rows."""
        if len(self._columns) < MOST_COLUMNS:
            self._columns += [self._width_of(element, declared)] * _span(element.get("span"), MOST_COLUMNS)

    def _width_of(self, element: _Element, declared: Declared) -> float:
        """The width that an element of the table says, in points; 0 if it says none."""
        return _width(element, declared, _width(self.element, self.declared, TEXT_WIDTH) or TEXT_WIDTH)

    def begin_cell(self, element: _Element, declared: Declared, looks: bool) -> None:
        """``looks``: whether it is to look as it is declared to."""
        self.cell = element
        if not self.rows:
            self.rows.append([])
            self._said.append([])
        self._width = self._width_of(element, declared)
        self._look = look_of_cell(element, declared) if looks else {}
        self._spans = _span(element.get("colspan"), MOST_COLUMNS), _span(element.get("rowspan"), MOST_ROWS)

    def end_cell(self, blocks: list[Block], empty: Paragraph, notes: Notes) -> None:
        self.cell = None
        inside: list[Paragraph | Image] = []
        for block in blocks:
            if isinstance(block, Paragraph | Image):
                inside.append(block)
            elif not isinstance(block, PageBreak):
                notes.add("nested-table-html")
        self.rows[-1].append(Cell(tuple(inside) or (empty,), *self._spans, **self._look))
        self._said[-1].append(self._width)

    def _widths(self) -> list[float]:
        """By column what it says itself, or else the first of its cells that does."""
        grid = grid_of(self.rows)
        widths = [*self._columns, *[0.0] * width_of(grid)]
        for slots, said in zip(grid, self._said, strict=True):
            for slot, width in zip(slots, said, strict=True):
                if slot.columns == 1:
                    widths[slot.column] = widths[slot.column] or width
        return widths

    def blocks(self, id: str) -> Iterator[Block]:
        """The data table, if it holds anything."""
        rows = without_covered_rows(with_widths(self.rows, self._widths()))
        header_rows = sum(bool(row) for row in self.rows[: self.header_rows])
        if any(isinstance(one, Image) or one.text for row in rows for cell in row for one in cell.blocks):
            yield DataTable(id, rows, header_rows if header_rows < len(rows) else 0)


_VERTICAL: Mapping[str, Vertical] = {"middle": "middle", "bottom": "bottom", "baseline": "top", "top": "top"}
_LINE_KINDS: Mapping[str, LineKind] = {"double": "double", "dashed": "dashed", "dotted": "dotted"}
_WIDTHS = {"thin": 0.75, "medium": 2.25, "thick": 3.75}
"""Points of lines that are called so (CSS Backgrounds and Borders 3, 3.3, from memory)."""
_WORDS = re.compile(r"[^\s(]+\([^)]*\)|\S+")
"""Words of a declaration, each function as one."""


def look_of_cell(element: _Element, declared: Declared) -> dict[str, Any]:
    """How a cell is declared to look, by the names of ``Cell``. Only what it says itself."""
    look: dict[str, Any] = {}
    if found := colour(declared.get("background-color") or declared.get("background") or element.get("bgcolor") or ""):
        look["background"] = found
    vertical = _VERTICAL.get(declared.get("vertical-align") or (element.get("valign") or "").lower(), "top")
    if vertical != "top":
        look["vertical"] = vertical
    said = [border(side, declared) for side in SIDES]
    if any(one is not None for one in said):
        look["borders"] = borders_as_text(one for one in said if isinstance(one, Border))
    padding = _padding(declared)
    if padding:
        look["padding"] = padding
    return look


def border(side: Side, declared: Declared) -> Border | Literal["none"] | None:
    """The line at a side (CSS Backgrounds and Borders 3, 3): None where nothing is said of it."""
    words = _WORDS.findall(declared.get(f"border-{side}") or declared.get("border") or "")
    words += [
        declared[name]
        for name in (f"border-{side}-style", f"border-{side}-width", f"border-{side}-color")
        if name in declared
    ]
    if not words:
        return None
    width, kind, ink = _WIDTHS["medium"], "none", "#000000"
    for word in words:
        length = _WIDTHS.get(word, 0.0 if word == "0" else points(word))
        if length is not None:
            width = length
        elif word in ("none", "hidden", "solid", "groove", "ridge", "inset", "outset", *_LINE_KINDS):
            kind = word
        else:
            ink = colour(word) or ink
    if kind in ("none", "hidden") or not width:
        return "none"
    return Border(side, min(max(width, THINNEST), WIDEST), ink, _LINE_KINDS.get(kind, "solid"))


def _padding(declared: Declared) -> tuple[float, ...] | None:
    """Points above, at the right, below and at the left; None where nothing is said of them, or not of all."""
    said = [0.0 if word == "0" else points(word) for word in declared.get("padding", "").split()[:4]]
    shared = {1: said * 4, 2: said * 2, 3: [*said, *said[1:2]], 4: said}.get(len(said), [None] * 4)
    found = [points(declared.get(f"padding-{side}", "")) for side in SIDES]
    both = [shared[at] if own is None else own for at, own in enumerate(found)]
    return tuple(min(max(one or 0.0, 0.0), MOST_PADDING) for one in both) if None not in both else None


def _width(element: _Element, declared: Declared, whole: float) -> float:
    """The width that an element says, in points; 0 if it says none. ``whole``: what 100 % is."""
    said = declared.get("width") or element.get("width") or ""
    return points(f"{said}px" if said.isdecimal() else said, whole=whole) or 0.0


def _span(said: str | None, most: int) -> int:
    """Over how many columns or rows a cell reaches; 0 of rows is as many as there are (the HTML standard, 4.9.11)."""
    if not said or not re.fullmatch(r"\s*\d{1,9}\s*", said):
        return 1
    return min(int(said), most) if int(said) else most if most == MOST_ROWS else 1
