"""How the cells of a table of Office Open XML look: by its style, by the table, by exceptions of a row, by the cell itself
(ISO/IEC 29500-1, 17.4.66–17.4.72, 17.7.6).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from lxml.etree import _Element

from ...report.blocks import Vertical
from ...report.borders import SIDES, Border, Side, borders_as_text
from .looks import border_of, is_dark, shade
from .styles import Styles
from .xml import child, colour, is_on, local, number, qn, switched, value

_VERTICAL: Mapping[str, Vertical] = {"top": "top", "center": "middle", "both": "middle", "bottom": "bottom"}
_LOOK = {
    "firstRow": 0x20, "lastRow": 0x40, "firstColumn": 0x80, "lastColumn": 0x100, "noHBand": 0x200, "noVBand": 0x400
}  # fmt: skip
"""Which parts of a style count, by the bits of ``w:tblLook`` (17.4.56)."""
_MARGIN_SIDES: Mapping[Side, tuple[str, ...]] = {
    "top": ("top",), "right": ("right", "end"), "bottom": ("bottom",), "left": ("left", "start")
}  # fmt: skip
_USUAL_MARGINS: Mapping[Side, float] = {"top": 0.0, "right": 5.75, "bottom": 0.0, "left": 5.75}
"""Points where nothing else is said: 115 twentieths at the sides (17.4.43 and beside it)."""
_MOST_PADDING = 200.0


class CellWords(NamedTuple):
    """What a table's style says of the words in a cell."""

    bold: bool = False
    italic: bool = False
    colour: str | None = None


PLAIN = CellWords()


class Place(NamedTuple):
    """Where a cell stands: its first row and column, counted from 0, over how many it reaches, and how many there are."""

    row: int
    column: int
    columns: int
    of_rows: int
    of_columns: int

    @property
    def is_at(self) -> dict[Side, bool]:
        """Whether each side is one of the table."""
        return {
            "top": self.row == 0,
            "bottom": self.row + 1 == self.of_rows,
            "left": self.column == 0,
            "right": self.column + self.columns >= self.of_columns,
        }


class _Layer(NamedTuple):
    """What says how some cells look; ``inner``: at which sides a cell is not at the edge of what it is said of."""

    properties: _Element | None
    words: _Element | None
    inner: Mapping[Side, bool]


class TableLook:
    """How the cells of one table look."""

    def __init__(self, table: _Element, styles: Styles) -> None:
        self._table = child(table, "w:tblPr")
        self._chain = styles.chain_of_table(value(child(self._table, "w:tblStyle")))[::-1]
        """Its style, and those that this is based on, furthest first."""
        self._counts = _parts_that_count(child(self._table, "w:tblLook"))
        self._band = {
            name: max(next((found for one in reversed(self._chain) if (found := number(child(child(one, "w:tblPr"), f"w:tblStyle{name}BandSize")))), 1), 1)
            for name in ("Row", "Col")
        }  # fmt: skip

    def of_cell(self, place: Place, row: _Element, cell: _Element, heads: bool) -> tuple[dict[str, Any], CellWords]:
        """The look of a cell, by the names of ``Cell``, and what is said of its words. ``heads``: in a header row."""
        own = child(cell, "w:tcPr")
        layers = [*self._layers(place)]
        exceptions = child(row, "w:tblPrEx")
        look: dict[str, Any] = {"borders": self._borders(place, layers, exceptions, own)}
        fill = shade(child(own, "w:shd"))
        if fill is None:
            said = [*(one.properties for one in layers), self._table, exceptions]
            fill = next((found for one in reversed(said) if (found := shade(child(one, "w:shd")))), None)
        if fill not in (None, "none") or heads:
            look["background"] = fill or "none"
        vertical = [own, *(one.properties for one in reversed(layers))]
        place_of = next((named for one in vertical if (named := value(child(one, "w:vAlign")))), None)
        if place_of and _VERTICAL.get(place_of, "top") != "top":
            look["vertical"] = _VERTICAL[place_of]
        look["padding"] = self._padding(exceptions, layers, own)
        height = number(child(child(row, "w:trPr"), "w:trHeight")) or 0
        if height > 0:
            look["height"] = min(height / 20, 2000.0)
        words = _words(one.words for one in layers)
        if words.colour is None and is_dark(look.get("background", "none")):
            # Letters of no colour of their own are light on what is dark (17.3.2.6, "auto").
            words = words._replace(colour="#ffffff")
        return look, words

    def place(self) -> dict[str, Any]:
        """Where the table stands (17.4.28, 17.4.51), by the names of ``DataTable``."""
        said = [self._table, *(child(one, "w:tblPr") for one in reversed(self._chain))]
        align = next((found for one in said if (found := value(child(one, "w:jc")))), None)
        if align in ("center", "right", "end"):
            return {"align": "center" if align == "center" else "right"}
        indents = (child(one, "w:tblInd") for one in said)
        indent = next(
            (number(one, "w") or 0 for one in indents if one is not None and one.get(qn("w:type"), "dxa") == "dxa"), 0
        )
        return {"indent": min(max(indent / 20, -1000.0), 1000.0)} if indent else {}

    def _layers(self, place: Place) -> Iterator[_Layer]:
        """What the style says of a cell, the whole of the table first and single corners last (17.7.6)."""
        at = place.is_at
        for style in self._chain:
            yield _Layer(child(style, "w:tcPr"), child(style, "w:rPr"), {side: not at[side] for side in SIDES})
        for kind, edges in self._kinds(place):
            for style in self._chain:
                for part in style.iterfind(qn("w:tblStylePr")):
                    if part.get(qn("w:type")) == kind:
                        inner = {side: not (at[side] or side in edges) for side in SIDES}
                        yield _Layer(child(part, "w:tcPr"), child(part, "w:rPr"), inner)

    def _kinds(self, place: Place) -> Iterator[tuple[str, Sequence[Side]]]:
        """The kinds of part of a style that a cell is in, in the order in which they count, and at which of its sides each ends."""
        counts, at = self._counts, place.is_at
        first_row, last_row = counts["firstRow"] and at["top"], counts["lastRow"] and at["bottom"]
        first_column, last_column = counts["firstColumn"] and at["left"], counts["lastColumn"] and at["right"]
        if not counts["noVBand"] and not (first_column or last_column):
            number, edge, end = self._in_band(place.column - counts["firstColumn"], "Col")
            yield f"band{number}Vert", [*(["left"] if edge else []), *(["right"] if end else [])]  # type: ignore[list-item]
        if not counts["noHBand"] and not (first_row or last_row):
            number, edge, end = self._in_band(place.row - counts["firstRow"], "Row")
            yield f"band{number}Horz", [*(["top"] if edge else []), *(["bottom"] if end else [])]  # type: ignore[list-item]
        if first_column:
            yield "firstCol", ("right",)
        if last_column:
            yield "lastCol", ("left",)
        if first_row:
            yield "firstRow", ("bottom",)
        if last_row:
            yield "lastRow", ("top",)
        for row, is_row in (("n", first_row), ("s", last_row)):
            for column, is_column in (("w", first_column), ("e", last_column)):
                if is_row and is_column:
                    yield f"{row}{column}Cell", SIDES

    def _in_band(self, at: int, name: str) -> tuple[int, bool, bool]:
        """Which band a row or column is in, 1 or 2, and whether it is the first and the last of that."""
        size = self._band[name]
        band, within = divmod(at, size)
        return band % 2 + 1, within == 0, within + 1 == size

    def _borders(
        self, place: Place, layers: Sequence[_Layer], exceptions: _Element | None, own: _Element | None
    ) -> str:
        """The lines around a cell: what is nearest to it counts, side by side (17.4.66)."""
        at = place.is_at
        found: dict[Side, Border | None] = {}
        whole = {side: not at[side] for side in SIDES}
        for style in self._chain:
            found |= _sides(child(child(style, "w:tblPr"), "w:tblBorders"), whole)
        for layer in layers:
            found |= _sides(child(layer.properties, "w:tcBorders"), layer.inner)
        for properties in (self._table, exceptions):
            found |= _sides(child(properties, "w:tblBorders"), whole)
        found |= _sides(child(own, "w:tcBorders"), dict.fromkeys(SIDES, False))
        return borders_as_text(one for one in found.values() if one)

    def _padding(
        self, exceptions: _Element | None, layers: Sequence[_Layer], own: _Element | None
    ) -> tuple[float, ...]:
        said = [
            child(own, "w:tcMar"),
            *(child(one.properties, "w:tcMar") for one in reversed(layers)),
            *(child(one, "w:tblCellMar") for one in (exceptions, self._table)),
            *(child(child(one, "w:tblPr"), "w:tblCellMar") for one in reversed(self._chain)),
        ]

        def of(side: Side) -> float:
            for margins in said:
                for name in _MARGIN_SIDES[side]:
                    if (found := number(child(margins, f"w:{name}"), "w")) is not None:
                        return min(max(found / 20, 0.0), _MOST_PADDING)
            return _USUAL_MARGINS[side]

        return tuple(map(of, SIDES))


def _parts_that_count(element: _Element | None) -> dict[str, bool]:
    """Which parts of a style count, by ``w:tblLook``: its attributes, or its bits."""
    bits = (element.get(qn("w:val")) if element is not None else None) or "04A0"
    try:
        given = int(bits, 16)
    except ValueError:
        given = 0
    found = {}
    for name, bit in _LOOK.items():
        said = element.get(qn(f"w:{name}")) if element is not None else None
        found[name] = said in ("1", "true", "on") if said is not None else bool(given & bit)
    return found


def _sides(borders: _Element | None, inner: Mapping[Side, bool]) -> dict[Side, Border | None]:
    """The lines that some borders give a cell: at its inner sides those that are said of the inside."""
    found: dict[Side, Border | None] = {}
    named = {local(one): one for one in borders if isinstance(one.tag, str)} if borders is not None else {}
    for side, is_inner in inner.items():
        names = (("insideH",) if side in ("top", "bottom") else ("insideV",)) if is_inner else _MARGIN_SIDES[side]
        for name in names:
            if name in named and value(named[name]) is not None:
                found[side] = border_of(named[name], side)
    return found


def _words(layers: Iterator[_Element | None]) -> CellWords:
    bold = italic = False
    ink: str | None = None
    for words in layers:
        bold = bold if (said := switched(words, "b")) is None else said
        italic = italic if (said := switched(words, "i")) is None else said
        ink = colour(words) or ink
    return CellWords(bold, italic, ink)


def says_more(style: _Element) -> bool:
    """Whether a table style says of paragraphs or letters what is not kept: all but bold and italic letters and their colour."""
    kept = {"b", "bCs", "i", "iCs", "color", "lang", "szCs"}
    for words in style.iter(qn("w:rPr")):
        if any(local(one) not in kept and is_on(one) for one in words):
            return True
    return any(len(paragraphs) > 0 for paragraphs in style.iter(qn("w:pPr")))
