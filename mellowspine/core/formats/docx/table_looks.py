"""How the cells of a table of Office Open XML look: by its style, by the table, by exceptions of a row, by the cell itself
(ISO/IEC 29500-1, 17.4.66–17.4.72, 17.7.6).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from lxml import etree
from lxml.etree import _Element

from ...report.blocks import Vertical
from ...report.borders import SIDES, Border, Side, borders_as_text
from ...report.grids import MOST_HEIGHT, MOST_INDENT, MOST_PADDING
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
_OUTER: Mapping[Side, bool] = dict.fromkeys(SIDES, False)


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


class _Look(NamedTuple):
    """How a cell looks, as far as it has been said."""

    borders: Mapping[Side, Border | None]
    padding: Mapping[Side, float]
    fill: str | None
    vertical: str | None
    words: CellWords

    def with_(self, properties: _Element | None, borders: str, margins: str, inner: Mapping[Side, bool]) -> _Look:
        """With what some properties say over it. ``inner``: at which sides the cell is not at the edge of what they are said of."""
        if properties is None:
            return self
        sides, own = child(properties, f"w:{borders}"), child(properties, f"w:{margins}")
        return _Look(
            self.borders if sides is None else {**self.borders, **_sides(sides, inner)},
            self.padding if own is None else {**self.padding, **_margins(own)},
            shade(child(properties, "w:shd")) or self.fill,
            value(child(properties, "w:vAlign")) or self.vertical,
            self.words,
        )

    def saying(self, words: _Element | None) -> _Look:
        """With what some properties say of its words."""
        if words is None:
            return self
        bold, italic = switched(words, "b"), switched(words, "i")
        return self._replace(
            words=CellWords(
                self.words.bold if bold is None else bold,
                self.words.italic if italic is None else italic,
                colour(words) or self.words.colour,
            )
        )


class TableLook:
    """How the cells of one table look."""

    def __init__(self, properties: _Element | None, styles: Styles) -> None:
        self._table = properties
        self._chain = styles.chain_of_table(value(child(self._table, "w:tblStyle")))[::-1]
        """Its style, and those that this is based on, furthest first."""
        self._counts = _parts_that_count(child(self._table, "w:tblLook"))
        self._made: dict[tuple[object, ...], _Look] = {}
        self._band = {
            name: max(next((found for one in reversed(self._chain) if (found := number(child(child(one, "w:tblPr"), f"w:tblStyle{name}BandSize")))), 1), 1)
            for name in ("Row", "Col")
        }  # fmt: skip

    def of_cell(self, place: Place, row: _Element, cell: _Element, heads: bool) -> tuple[dict[str, Any], CellWords]:
        """The look of a cell, by the names of ``Cell``, and what is said of its words. ``heads``: in a header row."""
        made = self._inherited(place)
        own, exceptions = child(cell, "w:tcPr"), child(row, "w:tblPrEx")
        if exceptions is not None:
            at = place.is_at
            made = made.with_(exceptions, "tblBorders", "tblCellMar", {side: not at[side] for side in SIDES})
        if own is not None and len(own):
            made = made.with_(own, "tcBorders", "tcMar", _OUTER)
        look: dict[str, Any] = {"borders": borders_as_text(one for one in made.borders.values() if one)}
        look["padding"] = tuple(made.padding[side] for side in SIDES)
        if made.fill not in (None, "none") or heads:
            look["background"] = made.fill or "none"
        if (vertical := _VERTICAL.get(made.vertical or "top", "top")) != "top":
            look["vertical"] = vertical
        height = number(child(child(row, "w:trPr"), "w:trHeight")) or 0
        if height > 0:
            look["height"] = min(height / 20, MOST_HEIGHT)
        words = made.words
        if words.colour is None and is_dark(look.get("background", "none")):
            # Letters of no colour of their own are light on what is dark (17.3.2.6, "auto").
            words = words._replace(colour="#ffffff")
        return look, words

    def _inherited(self, place: Place) -> _Look:
        """What the style and the table say of a cell; the same for all that are in the same parts of the table."""
        kinds, at = [*self._kinds(place)], place.is_at
        key = (*((kind, *edges) for kind, edges in kinds), *at.values())
        if key not in self._made:
            inner = {side: not at[side] for side in SIDES}
            made = _Look({}, _USUAL_MARGINS, None, None, PLAIN)
            for style in self._chain:
                made = made.with_(child(style, "w:tblPr"), "tblBorders", "tblCellMar", inner)
            for style in self._chain:
                made = made.with_(child(style, "w:tcPr"), "tcBorders", "tcMar", inner).saying(child(style, "w:rPr"))
            for kind, edges in kinds:
                within = {side: not (at[side] or side in edges) for side in SIDES}
                for style in self._chain:
                    for part in style.iterfind(qn("w:tblStylePr")):
                        if part.get(qn("w:type")) == kind:
                            made = made.with_(child(part, "w:tcPr"), "tcBorders", "tcMar", within)
                            made = made.saying(child(part, "w:rPr"))
            self._made[key] = made.with_(self._table, "tblBorders", "tblCellMar", inner)
        return self._made[key]

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
        return {"indent": min(max(indent / 20, -MOST_INDENT), MOST_INDENT)} if indent else {}

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


class TableLooks:
    """How the tables of a document look: those that say the same have one look."""

    def __init__(self, styles: Styles) -> None:
        self._styles = styles
        self._known: dict[bytes, TableLook] = {}

    def of(self, table: _Element) -> TableLook:
        properties = child(table, "w:tblPr")
        key = b"" if properties is None else etree.tostring(properties)
        if key not in self._known:
            self._known[key] = TableLook(properties, self._styles)
        return self._known[key]


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


def _margins(margins: _Element) -> dict[Side, float]:
    """The margins in points that some properties say (17.4.43, 17.4.69)."""
    found: dict[Side, float] = {}
    for side, names in _MARGIN_SIDES.items():
        for name in names:
            if (width := number(child(margins, f"w:{name}"), "w")) is not None:
                found.setdefault(side, min(max(width / 20, 0.0), MOST_PADDING))
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


def says_more(style: _Element) -> bool:
    """Whether a table style says of paragraphs or letters what is not kept: all but bold and italic letters and their colour."""
    kept = {"b", "bCs", "i", "iCs", "color", "lang", "szCs"}
    for words in style.iter(qn("w:rPr")):
        if any(local(one) not in kept and is_on(one) for one in words):
            return True
    return any(len(paragraphs) > 0 for paragraphs in style.iter(qn("w:pPr")))
