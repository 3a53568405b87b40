"""Styles and numbering of an Office Open XML document (ISO/IEC 29500-1, 17.7 and 17.9), as styles of a report."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from docx.document import Document
from docx.opc.rel import _Relationship
from docx.oxml.ns import qn
from lxml.etree import Element, _Element

from ...pages.typefaces import family
from ...report.properties import free_id
from ...report.styles import Marker, Style, StyleSheet, based_on, default_styles
from ...report.tab_stops import Leader, TabAlign, TabStop, tab_stops_as_text, tab_stops_of
from ...structure.numbering import figure
from ..package import parse

_NATURAL_SPACING = {"Carlito": 1.22, "Caladea": 1.17}


def natural_spacing(font: str) -> float:
    """Height of a "single" line in em: ascent, descent and line gap of the face."""
    return _NATURAL_SPACING.get(font, 1.15)  # the Liberation faces


_DEFAULTS = default_styles()

_KNOWN = {
    "normal": _DEFAULTS.role("body"),
    "title": _DEFAULTS.role("title"),
    "subtitle": _DEFAULTS.role("subtitle"),
    "caption": _DEFAULTS.role("caption"),
    "quote": _DEFAULTS.role("quotation"),
    "footnote text": _DEFAULTS.role("note"),
    "toc heading": _DEFAULTS.role("table-title"),
    **{f"list bullet{suffix}": _DEFAULTS.item("bullet", n) for n, suffix in enumerate(("", " 2", " 3"), 1)},
    **{f"list number{suffix}": _DEFAULTS.item("decimal", n) for n, suffix in enumerate(("", " 2", " 3"), 1)},
}
"""What each built-in style is here, by its name."""
_ALIGN = {"left": "left", "start": "left", "center": "center", "right": "right", "end": "right", "both": "justify",
          "distribute": "justify"}  # fmt: skip
_STOPS: Mapping[str, TabAlign] = {"left": "left", "start": "left", "center": "center", "right": "right", "end": "right",
                                  "decimal": "decimal"}  # fmt: skip
"""Kinds of tab stops (17.18.84)."""
_LEADERS: Mapping[str, Leader] = {
    "dot": "dots",
    "middleDot": "dots",
    "hyphen": "dashes",
    "underscore": "line",
    "heavy": "line",
}
"""What fills the gap (17.18.72)."""
_MEASURE = re.compile(r"(-?[0-9]+(?:\.[0-9]+)?)(mm|cm|in|pt|pc|pi)")
_UNITS = {"mm": 72 / 25.4, "cm": 72 / 2.54, "in": 72.0, "pt": 1.0, "pc": 12.0, "pi": 12.0}
_FIGURE = re.compile("%([1-9])")
_HEX = re.compile(r"[0-9A-Fa-f]{6}")


@dataclass(frozen=True, slots=True)
class Numbered:
    """A paragraph's place in a list: how its items are marked, and its level from 1."""

    marker: Marker
    level: int
    instance: int
    """The numbering instance that counts it (17.9.15)."""
    text: str = ""
    """How a number is written (17.9.11), as in ``Style.marker_text``."""
    known: bool = True
    """Whether its kind of figures is one of ours; if not, it is counted in figures."""


def number(element: _Element | None, name: str = "val") -> int | None:
    """A whole number that is an attribute of an element, None if either is missing or the value is none.

    Lengths with a unit (22.9.2.15) come in twentieths of a point; for the size of letters see ``letter_size``.
    """
    given = None if element is None else element.get(qn(f"w:{name}"))
    if given is None:
        return None
    try:
        if length := _MEASURE.fullmatch(given.strip()):
            return int(float(length[1]) * _UNITS[length[2]] * 20)
        found = float(given)
    except (ValueError, OverflowError):
        return None
    # What is larger is a fault of the file, and no length of a page.
    return int(found) if abs(found) < 2**31 else None


def letter_size(properties: _Element | None) -> float | None:
    """The size of letters in points (17.3.2.38: in half points, or with a unit), as far as a style may have it."""
    element = None if properties is None else properties.find(qn("w:sz"))
    found = number(element)
    if element is None or not found:
        return None
    unit = _MEASURE.fullmatch((element.get(qn("w:val")) or "").strip())
    return min(max(found / (20 if unit else 2), 1.0), 400.0)


def is_relation(relation: _Relationship, kind: str) -> bool:
    """Whether a relationship leads to a part of the package of a kind, such as ``theme``."""
    return not relation.is_external and (relation.reltype or "").rsplit("/", 1)[-1] == kind


def related(document: Document, kind: str) -> _Element | None:
    """The root of the first part of a kind that the document has; None if there is none that can be read."""
    for relation in document.part.rels.values():
        if is_relation(relation, kind):
            return parse(relation.target_part.blob)
    return None


def switched(properties: _Element | None, tag: str) -> bool | None:
    """A toggle property: on, off, or None if not given (17.3.2 and 17.17.4)."""
    element = None if properties is None else properties.find(qn(f"w:{tag}"))
    if element is None:
        return None
    return element.get(qn("w:val"), "true") not in ("0", "false", "off", "none")


def colour(properties: _Element | None) -> str | None:
    element = None if properties is None else properties.find(qn("w:color"))
    value = "" if element is None else element.get(qn("w:val")) or ""
    return f"#{value.lower()}" if _HEX.fullmatch(value) else None


class Styles:
    """The document's styles, each read once, and the report's style that each becomes."""

    def __init__(self, document: Document) -> None:
        self._elements: dict[str, _Element] = {}
        self._default = ""
        root = related(document, "styles")
        if root is None:
            root = Element(qn("w:styles"))
        for element in root.findall(qn("w:style")):
            key = element.get(qn("w:styleId"))
            if key:
                self._elements[key] = element
                if element.get(qn("w:type")) == "paragraph" and element.get(qn("w:default")) in ("1", "true"):
                    self._default = key
        self._defaults = root.find(qn("w:docDefaults"))
        said = root.find(f"{qn('w:docDefaults')}/{qn('w:rPrDefault')}/{qn('w:rPr')}/{qn('w:lang')}")
        self.language = "" if said is None else said.get(qn("w:val")) or ""
        """That of words which say no other; nothing if the document does not say."""
        self._fonts = _theme_fonts(document)
        self._lists = _Lists(document)
        self._made: dict[str, Style] = {}
        self._used: dict[str, str] = {}
        self._items: dict[tuple[str, Marker, str], str] = {}
        """Styles of list items by the style they are like, their marker and how it is written."""
        self._sheet: StyleSheet | None = None
        """Of the styles made so far; none once there is another."""

    def sheet(self) -> StyleSheet:
        """The default style sheet with the document's own looks in it, and its further styles behind."""
        if self._sheet is None:
            self._sheet = self._make_sheet()
        return self._sheet

    def _make_sheet(self) -> StyleSheet:
        sheet = StyleSheet({**_DEFAULTS, **self._made}.values())
        body, cell = sheet.role("body"), _DEFAULTS.role("cell")
        cell = replace(body, id=cell.id, name=cell.name, role=cell.role, space_before=0, space_after=2, next=cell.next)
        lists = {
            style.id: replace(
                body, id=style.id, name=style.name, role=None, marker=style.marker, list_level=style.list_level,
                indent=style.indent, first_line=style.first_line, space_after=style.space_after, next=style.next,
            )
            for style in _DEFAULTS.values()
            if style.marker and style.id not in self._made
        }  # fmt: skip
        return StyleSheet({**sheet, **lists, cell.id: cell}.values())

    def count(self, listed: Numbered) -> int:
        """What the next item of a list is counted as."""
        return self._lists.next(listed.instance, listed.level - 1)

    def item(self, listed: Numbered, style: Style) -> Style:
        """The report's style for list items of this style that are marked so; makes it when first asked for."""
        bulleted = listed.marker == "bullet"
        if style.marker and (style.marker == "bullet") == bulleted:
            plain, level = style, style.list_level or 1
        else:
            plain = self.sheet().item("bullet" if bulleted else "decimal", listed.level)
            level = max(listed.level, plain.list_level or 1)
        marker = listed.marker
        if marker == "bullet":
            return plain
        # A style of level 2 may be counted as level 1 of a list of its own.
        text = _FIGURE.sub(lambda found: f"%{min(int(found[1]) + level - listed.level, 9)}", listed.text)
        if (marker, text) == (plain.marker, plain.marker_text or f"%{plain.list_level}.") or not text:
            return plain
        key = (plain.id, marker, text)
        if key not in self._items:
            sample = _FIGURE.sub(lambda found: figure(1, marker if int(found[1]) == level else "decimal"), text)
            self._items[key] = id = self._free(f"item-{level}")
            made = replace(
                plain, id=id, name=f"Numbered list {level}, {sample}", next=id, marker=marker, list_level=level,
                marker_text="" if text == f"%{level}." else text, indent=plain.indent + 20 * (level - (plain.list_level or 1)),
            )  # fmt: skip
            self._made[id] = based_on(made, plain)
            self._sheet = None
        return self._made[self._items[key]]

    def _free(self, id: str) -> str:
        """An id like this one that no style has."""
        return free_id(id, self._made.keys() | _DEFAULTS.keys(), "style", 50)

    def use(self, key: str | None) -> Style:
        """The report's style for a paragraph style of the document; makes it when first asked for."""
        key = key if key in self._elements else self._default
        if key not in self._used:
            style = self._make(key)
            if base := self._base(key):
                style = replace(style, based_on=self.use(base).id)
            self._used[key] = style.id
            self._made[style.id] = style
            self._sheet = None
        return self._made[self._used[key]]

    def _base(self, key: str) -> str | None:
        """The style that one is based on (17.7.4.3), unless that leads in a circle or to nothing."""
        seen = [key]
        while True:
            based = self._elements[seen[-1]].find(qn("w:basedOn")) if seen[-1] in self._elements else None
            name = None if based is None else based.get(qn("w:val"))
            if name in seen:
                return None
            if name not in self._elements or len(seen) == 30:
                return seen[1] if len(seen) > 1 else None
            seen.append(name)

    def level(self, key: str | None) -> int | None:
        """Outline level 1–9 that a paragraph style gives, None for body text (17.3.1.20: values 0–8)."""
        for element in self._chain(key):
            found = number(element.find(f"{qn('w:pPr')}/{qn('w:outlineLvl')}"))
            if found is not None:
                return found + 1 if 0 <= found <= 8 else None
            name = re.fullmatch(r"heading ([1-9])", _name(element).lower())
            if name:
                return int(name[1])
        return None

    def listed(self, properties: _Element | None, key: str | None) -> Numbered | None:
        """The list that a paragraph is in, by its own properties or its style's."""
        places = [properties, *(element.find(qn("w:pPr")) for element in self._chain(key or self._default))]
        level: int | None = None
        for place in places:
            found = None if place is None else place.find(qn("w:numPr"))
            if found is None:
                continue
            if level is None:
                level = number(found.find(qn("w:ilvl")))
            instance = number(found.find(qn("w:numId")))
            if instance is not None:
                if instance == 0:
                    return None
                marker, text, known = self._lists.levels.get((instance, level or 0), _BULLETED)
                return Numbered(marker, (level or 0) + 1, instance, text, known)
        return None

    def run_toggle(self, properties: _Element, tag: str, inherited: bool) -> bool | None:
        """Whether a run is bold or italic, where that differs from what its paragraph's style says (``inherited``).

        Its own properties say so outright; a character style turns the paragraph style's around (17.7.3).
        """
        own = switched(properties, tag)
        if own is not None:
            return own if own != inherited else None
        style = properties.find(qn("w:rStyle"))
        for element in self._chain(style.get(qn("w:val"))) if style is not None else ():
            found = switched(element.find(qn("w:rPr")), tag)
            if found is not None:
                return not inherited if found else None
        return None

    def font(self, properties: _Element | None) -> str | None:
        """The shipped family that run properties ask for, theme fonts resolved."""
        element = None if properties is None else properties.find(qn("w:rFonts"))
        if element is None:
            return None
        theme = element.get(qn("w:asciiTheme"))
        name = self._fonts.get(theme[:5]) if theme else element.get(qn("w:ascii")) or element.get(qn("w:hAnsi"))
        return family(name) if name else None

    def _chain(self, key: str | None) -> list[_Element]:
        """The style and those that it is based on, nearest first."""
        found: list[_Element] = []
        while key and key in self._elements and len(found) < 30:
            found.append(self._elements[key])
            based = found[-1].find(qn("w:basedOn"))
            key = None if based is None else based.get(qn("w:val"))
        return found

    def _make(self, key: str) -> Style:
        chain = self._chain(key)
        name = _name(chain[0]) if chain else "Normal"
        level = self.level(key)
        style = _DEFAULTS.heading(level) if level else _KNOWN.get(name.lower())
        if style is None or style.id in self._made:
            id = self._free(name)
            style = replace(_DEFAULTS.role("body"), id=id, name=name[:80] or id, role=None)
        return self._looked(replace(style, outline_level=level), [*chain[::-1]])

    def _looked(self, style: Style, furthest_first: list[_Element]) -> Style:
        runs = [element.find(qn("w:rPr")) for element in furthest_first]
        paragraphs = [element.find(qn("w:pPr")) for element in furthest_first]
        if self._defaults is not None:
            runs.insert(0, self._defaults.find(f"{qn('w:rPrDefault')}/{qn('w:rPr')}"))
            paragraphs.insert(0, self._defaults.find(f"{qn('w:pPrDefault')}/{qn('w:pPr')}"))
        look: dict[str, Any] = {"font": "Liberation Serif", "size": 10.0, "bold": False, "italic": False, "underline": False,
                                "colour": "#000000"}  # fmt: skip
        for properties in runs:
            if properties is None:
                continue
            look |= {"font": self.font(properties) or look["font"], "colour": colour(properties) or look["colour"]}
            look["size"] = letter_size(properties) or look["size"]
            for name, tag in (("bold", "b"), ("italic", "i")):
                on = switched(properties, tag)
                look[name] = look[name] if on is None else on
            line = properties.find(qn("w:u"))
            if line is not None:
                look["underline"] = line.get(qn("w:val"), "single") != "none"
        spacing = {"before": 0.0, "after": 0.0}
        lines = 1.0
        natural = natural_spacing(look["font"])
        for properties in paragraphs:
            if properties is None:
                continue
            place = properties.find(qn("w:spacing"))
            for side in spacing:
                value = number(place, side)
                spacing[side] = value / 20 if value is not None else spacing[side]
            lines = line_spacing(place, look["size"], natural) or lines
            look |= paragraph_look(properties)
            look["tab_stops"] = stops_with(look.get("tab_stops", ""), properties)
        look |= {"space_before": spacing["before"], "space_after": spacing["after"]}
        look["line_spacing"] = lines * natural if lines == 1.0 else lines
        if style.marker:
            look |= {"indent": style.indent, "first_line": style.first_line}
        return replace(style, **look)


def line_spacing(place: _Element | None, size: float, natural: float) -> float | None:
    """Line spacing of a ``w:spacing`` element as a multiple of the size (17.3.1.33), None if it gives none. ``natural``: that of a face
    by itself, which lines have that are to be so high at least."""
    value = number(place, "line")
    if place is None or not value:
        return None
    rule = place.get(qn("w:lineRule"), "auto")
    multiple = value / 240 * natural if rule == "auto" else value / 20 / size
    return min(max(multiple, natural if rule == "atLeast" else 0.5), 10.0)


def paragraph_look(properties: _Element) -> dict[str, Any]:
    """Alignment, indents and keeping of ``w:pPr``, as far as given, under the names of Style."""
    look: dict[str, Any] = {}
    align = properties.find(qn("w:jc"))
    if align is not None and align.get(qn("w:val")) in _ALIGN:
        look["align"] = _ALIGN[align.get(qn("w:val")) or ""]
    indent = properties.find(qn("w:ind"))
    left = number(indent, "left") if number(indent, "left") is not None else number(indent, "start")
    if left is not None:
        look["indent"] = min(max(left / 20, 0.0), 300.0)
    hanging, first = number(indent, "hanging"), number(indent, "firstLine")
    if hanging is not None or first is not None:
        look["first_line"] = min(max(-hanging / 20 if hanging is not None else (first or 0) / 20, -100.0), 200.0)
    for name, tag in (("keep_with_next", "keepNext"), ("keep_together", "keepLines"), ("new_page", "pageBreakBefore")):
        on = switched(properties, tag)
        if on is not None:
            look[name] = on
    controlled = switched(
        properties, "widowControl"
    )  # ISO/IEC 29500-1, 17.3.1.44: no single line at the foot or head of a page
    if controlled is not None:
        look["orphans"] = look["widows"] = 2 if controlled else 1
    return look


def stops_with(inherited: str, properties: _Element | None) -> str:
    """Tab stops by ``w:tabs`` (17.3.1.38), with those of the style: added to them, or taken out where they are cleared."""
    found = {one.at: one for one in tab_stops_of(inherited)}
    for tab in () if properties is None else properties.iterfind(f"{qn('w:tabs')}/{qn('w:tab')}"):
        kind, place = tab.get(qn("w:val")), number(tab, "pos")
        at = round((place or 0.0) / 20, 2)
        if kind == "clear":
            found.pop(at, None)
        elif (align := _STOPS.get(kind or "")) and place is not None:
            found[at] = TabStop(at, align, _LEADERS.get(tab.get(qn("w:leader")) or ""))
    return tab_stops_as_text(found.values())


def _name(element: _Element) -> str:
    name = element.find(qn("w:name"))
    return "" if name is None else name.get(qn("w:val")) or ""


def _theme_fonts(document: Document) -> dict[str, str]:
    drawing = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
    root = related(document, "theme")
    return {} if root is None else {
        kind: latin.get("typeface") or ""
        for kind in ("major", "minor")
        for latin in root.iterfind(f".//{drawing}{kind}Font/{drawing}latin")
    }  # fmt: skip


_FIGURES: Mapping[str, Marker] = {
    "bullet": "bullet", "decimal": "decimal", "upperRoman": "upper-roman", "lowerRoman": "lower-roman",
    "upperLetter": "upper-letter", "lowerLetter": "lower-letter",
}  # fmt: skip
"""Kinds of figures (17.18.59) that are ours."""

_Level = tuple[Marker, str, bool]
"""How a level of a list is marked, how its numbers are written, and whether its kind of figures is one of ours."""

_BULLETED: _Level = ("bullet", "", True)


def _level(element: _Element) -> _Level:
    kind = element.find(qn("w:numFmt"))
    format = "decimal" if kind is None else kind.get(qn("w:val")) or "decimal"
    marker, own = _FIGURES.get(format, "decimal"), f"%{(number(element, 'ilvl') or 0) + 1}"
    if marker == "bullet":
        return _BULLETED
    place = element.find(qn("w:lvlText"))
    text = f"{own}." if place is None else re.sub(r"[\x00-\x1f\x7f]", "", place.get(qn("w:val")) or "")[:60]
    if format == "none":
        text = text.replace(own, "")
    return marker, text, format in _FIGURES or format == "none"


class _Lists:
    """The lists of a document: how each level of each instance is written, and how far it is counted (17.9).

    Instances of one abstract numbering are one list, unless one says where it starts anew.
    """

    def __init__(self, document: Document) -> None:
        self.levels: dict[tuple[int, int], _Level] = {}
        """By instance and level from 0."""
        self._abstract: dict[int, str | None] = {}
        self._starts: dict[tuple[str | None, int], int] = {}
        self._anew: dict[int, dict[int, int]] = {}
        self._counts: dict[str | None, dict[int, int]] = {}
        root = related(document, "numbering")
        if root is None:
            return
        levels: dict[str | None, dict[int, _Level]] = {}
        for element in root.findall(qn("w:abstractNum")):
            key = element.get(qn("w:abstractNumId"))
            own = levels.setdefault(key, {})
            for level in element.findall(qn("w:lvl")):
                depth = number(level, "ilvl") or 0
                own[depth] = _level(level)
                start = number(level.find(qn("w:start")))
                self._starts[key, depth] = 1 if start is None else start
        for element in root.findall(qn("w:num")):
            instance, link = number(element, "numId") or 0, element.find(qn("w:abstractNumId"))
            self._abstract[instance] = key = None if link is None else link.get(qn("w:val"))
            self.levels |= {(instance, depth): one for depth, one in levels.get(key, {}).items()}
            for override in element.findall(qn("w:lvlOverride")):
                start = number(override.find(qn("w:startOverride")))
                depth = number(override, "ilvl") or 0
                if start is not None:
                    self._anew.setdefault(instance, {})[depth] = start
                if (instead := override.find(qn("w:lvl"))) is not None:
                    self.levels[instance, depth] = _level(instead)

    def next(self, instance: int, depth: int) -> int:
        key = self._abstract.get(instance)
        counts = self._counts.setdefault(key, {})
        for level, start in self._anew.pop(instance, {}).items():  # where the instance is met first
            counts[level] = start - 1
        for deeper in [level for level in counts if level > depth]:
            del counts[deeper]
        counts[depth] = counts[depth] + 1 if depth in counts else self._starts.get((key, depth), 1)
        return counts[depth]
