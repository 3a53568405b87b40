"""What no other module reads of a document: each thing that somebody would see there is counted, by kind (``noted.py``).

Properties of runs (ISO/IEC 29500-1, 17.3.2), paragraphs (17.3.1), tables (17.4) and sections (17.6).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping

from lxml.etree import _Element

from ..imported import Notes
from .looks import PLAIN_LINES, is_tint
from .xml import child, is_on, local, number, qn, switched, value

Says = Callable[[_Element], bool]
"""Whether a property says something that is seen."""


def _on(element: _Element) -> bool:
    return is_on(element) is True


def _patterned(element: _Element) -> bool:
    """Whether there is a pattern behind that is not made of one colour's points (17.18.78)."""
    return (value(element) or "clear") not in ("clear", "nil", "solid") and not is_tint(value(element) or "")


def _drawn(element: _Element) -> bool:
    """Whether a line is drawn (17.18.2)."""
    return value(element) not in (None, "nil", "none")


def _any_drawn(element: _Element) -> bool:
    return any(_drawn(side) for side in element)


def _odd_lines(element: _Element) -> bool:
    """Whether a line is drawn of another kind than a report has, or at another place than at a side."""
    return any(
        _drawn(side) and ((value(side) or "") not in PLAIN_LINES or local(side) in ("between", "bar"))
        for side in element
    )


def _not(*usual: str) -> Says:
    return lambda element: (value(element) or usual[0]) not in usual


_RUN: Mapping[str, tuple[str, Says]] = {
    "dstrike": ("struck-twice", _on),
    "shd": ("pattern", _patterned),
    "position": ("raised", _not("0")),
    "u": ("line-kind", _not("single", "none", "words")),
    "bdr": ("around-words", _drawn),
    "outline": ("letter-effect", _on),
    "shadow": ("letter-effect", _on),
    "emboss": ("letter-effect", _on),
    "imprint": ("letter-effect", _on),
    "effect": ("letter-effect", _not("none")),
    "spacing": ("letter-spacing", _not("0")),
    "w": ("letter-spacing", _not("100", "100%")),
    "fitText": ("letter-spacing", _on),
    "em": ("emphasis-mark", _not("none")),
    "rtl": ("right-to-left", _on),
    "eastAsianLayout": ("turned-text", lambda element: bool(element.attrib)),
}
_PARAGRAPH: Mapping[str, tuple[str, Says]] = {
    "pBdr": ("line-look", _odd_lines),
    "shd": ("pattern", _patterned),
    "ind": ("right-indent", lambda element: (number(element, "right") or number(element, "end") or 0) < 0),
    "framePr": ("frame", lambda element: bool(element.attrib)),
    "textDirection": ("turned-text", _not("lrTb", "lr")),
    "bidi": ("right-to-left", _on),
}
_SECTION: Mapping[str, tuple[str, Says]] = {
    "lnNumType": ("line-numbers", lambda element: number(element, "countBy") not in (None, 0)),
    "pgBorders": ("page-frame", _any_drawn),
    "bidi": ("right-to-left", _on),
    "textDirection": ("turned-text", _not("lrTb", "lr")),
    "vAlign": ("page-place", _not("top")),
}


class Rest:
    """Counts it."""

    def __init__(self, notes: Notes) -> None:
        self._notes = notes
        self._styles: set[int] = set()
        """Style elements that were counted, by identity: they live as long as the document."""

    def of_run(self, properties: _Element | None) -> None:
        for kind in {*_said(properties, _RUN)}:
            self._notes.add(kind)

    def of_paragraph(self, properties: _Element | None) -> None:
        for kind in _said(properties, _PARAGRAPH):
            self._notes.add(kind)

    def of_section(self, properties: _Element | None) -> None:
        for kind in _said(properties, _SECTION):
            self._notes.add(kind)

    def of_style(self, chain: Iterable[_Element]) -> None:
        """A style that is used, with those that it is based on: each is counted once."""
        for style in chain:
            if id(style) not in self._styles:
                self._styles.add(id(style))
                self.of_run(child(style, "w:rPr"))
                self.of_paragraph(child(style, "w:pPr"))

    def of_table(self, table: _Element, rows: Iterable[tuple[_Element, Iterable[_Element]]], style: str) -> None:
        """A table, with its rows and the cells of each; ``style`` is the name of its style, if that says more than is kept."""
        properties = child(table, "w:tblPr")
        found: set[str] = set()
        if style:
            self._notes.add("table-style", style)
        found |= _of_cells(properties, "tblBorders")
        if child(properties, "w:tblpPr") is not None:
            found.add("table-place")
        if switched(properties, "bidiVisual"):
            found.add("right-to-left")
        if number(child(properties, "w:tblCellSpacing"), "w"):
            found.add("cell-spacing")
        for row, cells in rows:
            of_row = child(row, "w:trPr")
            height = child(of_row, "w:trHeight")
            if number(height) and height is not None and height.get(qn("w:hRule")) == "exact":
                found.add("row-height")
            if value(child(of_row, "w:jc")) not in (None, "left", "start"):
                found.add("table-place")
            if number(child(of_row, "w:tblCellSpacing"), "w"):
                found.add("cell-spacing")
            found |= _of_cells(child(row, "w:tblPrEx"), "tblBorders")
            for cell in cells:
                of_cell = child(cell, "w:tcPr")
                found |= _of_cells(of_cell, "tcBorders")
                if value(child(of_cell, "w:textDirection")) not in (None, "lrTb", "lr"):
                    found.add("turned-text")
        for kind in sorted(found):
            self._notes.add(kind)


def _of_cells(properties: _Element | None, borders: str) -> set[str]:
    """What properties of a table, a row or a cell say of lines and colours that is not drawn as it is said."""
    found: set[str] = set()
    lines, shade = child(properties, f"w:{borders}"), child(properties, "w:shd")
    if lines is not None and any(
        _drawn(side) and ((value(side) or "") not in PLAIN_LINES or local(side) in ("tl2br", "tr2bl")) for side in lines
    ):
        found.add("line-look")
    if shade is not None and _patterned(shade):
        found.add("pattern")
    return found


def _said(properties: _Element | None, known: Mapping[str, tuple[str, Says]]) -> Iterator[str]:
    for element in properties if properties is not None else ():
        kind, says = known.get(local(element), (None, None))
        if kind and says and element.tag == qn(f"w:{local(element)}") and says(element):
            yield kind
