"""Styles of an Office Open XML document (ISO/IEC 29500-1, 17.7), as styles of a report."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from functools import cache, cached_property
from typing import Any

from docx.document import Document
from lxml.etree import Element, _Element

from ...pages.typefaces import family, named
from ...report.blocks import Capitals
from ...report.properties import free_id
from ...report.styles import Marker, Style, StyleSheet, based_on, default_styles
from ...report.tab_stops import Leader, TabAlign, TabStop, tab_stops_as_text, tab_stops_of
from ...structure.markers import BULLETS
from ...structure.numbering import figure
from .looks import borders_with, shade
from .numbering import BULLETED, Lists, Numbered, indents
from .own import Own, style_as_said
from .rest import Rest
from .xml import child, colour, letter_size, number, qn, related, switched, value

_NATURAL_SPACING = {"Carlito": 1.22, "Caladea": 1.17}


def natural_spacing(font: str) -> float:
    """Height of a "single" line in em: ascent, descent and line gap of the face."""
    return _NATURAL_SPACING.get(family(font), 1.15)  # the Liberation faces


_DEFAULTS = default_styles()

_KNOWN = {
    "normal": _DEFAULTS.role("body"),
    "title": _DEFAULTS.role("title"),
    "subtitle": _DEFAULTS.role("subtitle"),
    "caption": _DEFAULTS.role("caption"),
    "quote": _DEFAULTS.role("quotation"),
    "footnote text": _DEFAULTS.role("note"),
    "toc heading": _DEFAULTS.role("table-title"),
    "header": _DEFAULTS.role("running"),
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
_FIGURE = re.compile("%([1-9])")
_NEAR = 0.06
"""Points by which lengths may differ that are the same: twentieths of a point are as fine as they come."""
_LINK_STYLES = ("hyperlink", "followedhyperlink")
"""Character styles for links, which have a look of their own here."""


class Styles:
    """The document's styles, each read once, and the report's style that each becomes."""

    def __init__(self, document: Document, rest: Rest, own: Own) -> None:
        self._rest, self._own = rest, own
        self._elements: dict[str, _Element] = {}
        self._default = self._default_table = ""
        root = related(document, "styles")
        if root is None:
            root = Element(qn("w:styles"))
        for element in root.findall(qn("w:style")):
            key = element.get(qn("w:styleId"))
            if key:
                self._elements[key] = element
                if element.get(qn("w:type")) == "paragraph" and element.get(qn("w:default")) in ("1", "true"):
                    self._default = key
                if element.get(qn("w:type")) == "table" and element.get(qn("w:default")) in ("1", "true"):
                    self._default_table = key
        self._defaults = root.find(qn("w:docDefaults"))
        said = root.find(f"{qn('w:docDefaults')}/{qn('w:rPrDefault')}/{qn('w:rPr')}/{qn('w:lang')}")
        self.language = "" if said is None else said.get(qn("w:val")) or ""
        """That of words which say no other; nothing if the document does not say."""
        self._fonts = _theme_fonts(document)
        self._lists = Lists(document)
        self._of_words: dict[str | None, list[_Element]] = {}
        self._made: dict[str, Style] = {}
        self._used: dict[str, str] = {}
        self._items: dict[tuple[str, Marker, str, float | None, float | None], str] = {}
        """Styles of list items by the style they are like, their marker, how it is written, and where it stands."""
        self._placed: set[str] = set()
        """List styles of which it is settled where their items stand."""
        self._indented: set[str] = set()
        """Styles that say themselves how far they are set in."""
        self.replaced: dict[str, str] = {}
        """Families that the document names and that are not shipped, and what stands in for each."""
        self._chain = cache(self._find_chain)
        self._sheet: StyleSheet | None = None
        """Of the styles made so far; none once there is another."""
        for key in own.styles:
            if key in self._elements:
                self.use(key)

    def sheet(self) -> StyleSheet:
        """The default style sheet with the document's own looks in it, and its further styles behind."""
        if self._sheet is None:
            self._sheet = self._make_sheet()
        return self._sheet

    def _make_sheet(self) -> StyleSheet:
        if any(style.role == "body" for style in self._own.styles.values() if style.id in self._made):
            # All that the report has is there.
            order = [style.id for style in self._own.styles.values() if style.id in self._made]
            return StyleSheet({**{id: self._made[id] for id in order}, **self._made}.values())
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

    @property
    def lists(self) -> Lists:
        return self._lists

    def numbers_of_levels(self) -> dict[int, Numbered]:
        """How the styles say that headings are numbered, by level."""
        found: dict[int, Numbered] = {}
        for key in self._used:
            level = self.level(key)
            listed = self.listed(None, key) if level else None
            if level and listed and listed.level == level:
                found.setdefault(level, listed)
        return found

    def count(self, listed: Numbered) -> int:
        """What the next item of a list is counted as."""
        return self._lists.next(listed.instance, listed.level - 1)

    def item(self, listed: Numbered, style: Style) -> Style:
        """The report's style for list items of this style that are marked so; makes it when first asked for."""
        bulleted = listed.how.marker == "bullet"
        if style.marker and (style.marker == "bullet") == bulleted:
            plain, level = style, style.list_level or 1
        else:
            plain = self.sheet().item("bullet" if bulleted else "decimal", listed.level)
            level = max(listed.level, plain.list_level or 1)
        marker, text = listed.how.marker, listed.how.text
        if marker != "bullet":
            # A style of level 2 may be counted as level 1 of a list of its own.
            text = _FIGURE.sub(lambda found: f"%{min(int(found[1]) + level - listed.level, 9)}", text)
            text = "" if text == f"%{level}." else text
        elif text == _signs(level):
            text = ""
        if text == "" and plain.marker_text.strip() in (f"%{level}.", _signs(level)):
            text = plain.marker_text
        # Numbering of the paragraph itself says where it stands over its style (17.7.2); that of the style does not.
        indent = listed.how.indent if listed.own or style.id not in self._indented else style.indent
        first = listed.how.first_line if listed.own or style.id not in self._indented else style.first_line
        if listed.how.hidden:
            text, marker = plain.marker_text, plain.marker or marker
        same = (marker, text) == (plain.marker, plain.marker_text)
        moved = any(
            said is not None and abs(said - usual) > _NEAR
            for said, usual in ((indent, plain.indent), (first, plain.first_line))
        )
        if same and not moved:
            return plain
        key = plain.id, marker, text, indent, first
        if key not in self._items:
            own: dict[str, Any] = {
                "indent": plain.indent + 20 * (level - (plain.list_level or 1)) if indent is None else indent,
                "first_line": plain.first_line if first is None else first,
            }
            # Where the file leaves no room for it, words go on behind the marker, as they do in a line.
            signs = max(len(_FIGURE.sub("00", text or f"%{level}.")), 1) if marker != "bullet" else max(len(text), 1)
            needed = round((0.55 * signs + 0.5) * plain.size, 1)
            if -own["first_line"] < needed:
                own = {"indent": max(own["indent"] + own["first_line"], 0.0) + needed, "first_line": -needed}
            if same and plain.id not in self._placed:
                # The first list of a kind says where all of its kind stand.
                self._items[key] = plain.id
                self._made[plain.id] = replace(self.sheet()[plain.id], **own)
            else:
                self._items[key] = self._make_item(plain, level, marker, text, own)
            self._placed.add(plain.id)
            self._sheet = None
        return self._made[self._items[key]]

    def _make_item(self, plain: Style, level: int, marker: Marker, text: str, own: Mapping[str, Any]) -> str:
        """Makes a style of list items like one that there is. Returns its id."""
        if marker == "bullet":
            id, name = self._free(f"bullet-{level}"), f"Bulleted list {level}, {text or _signs(level)}"
        else:
            sample = _FIGURE.sub(
                lambda found: figure(1, marker if int(found[1]) == level else "decimal"), text or f"%{level}."
            )
            id, name = self._free(f"item-{level}"), f"Numbered list {level}, {sample}"
        names = {style.name for style in self.sheet().values()}
        if name in names:
            name += f", {own['indent']:g} pt"
        made = replace(
            plain, id=id, name=name[:80], next=id, marker=marker, list_level=level, marker_text=text, role=None, **own
        )
        self._made[id] = based_on(made, plain)
        return id

    def at_level(self, style: Style, level: int) -> Style:
        """A heading style with the look of another; made when first asked for."""
        id = f"{style.id[:40]}-level-{level}"
        if id not in self._made:
            made = replace(
                style, id=id, name=f"{style.name[:60]}, level {level}", role=None, outline_level=level, marker=None
            )
            self._made[id] = based_on(made, style)
            self._sheet = None
        return self._made[id]

    def name_of(self, key: str) -> str:
        """What a style is called in the document; empty if there is none."""
        return _name(self._elements[key]) if key in self._elements else ""

    def by_name(self, name: str) -> Style | None:
        """The report's style for the paragraph style of this name."""
        key = self._keys.get(name.strip().casefold())
        return None if key is None else self.use(key)

    @cached_property
    def _keys(self) -> Mapping[str, str]:
        """Those of paragraph styles, by name in small letters; of two the first."""
        of_paragraphs = [
            (_name(element).casefold(), key)
            for key, element in self._elements.items()
            if element.get(qn("w:type")) == "paragraph"
        ]
        return dict(reversed(of_paragraphs))

    def _free(self, id: str) -> str:
        """An id like this one that no style has."""
        return free_id(id, self._made.keys() | _DEFAULTS.keys(), "style", 50)

    def use(self, key: str | None) -> Style:
        """The report's style for a paragraph style of the document; makes it when first asked for."""
        key = key if key in self._elements else self._default
        if key not in self._used:
            style = self._make(key)
            if any(indents(child(element, "w:pPr")) != (None, None) for element in self._chain(key)):
                self._indented.add(style.id)
            if base := self._base(key):
                style = replace(style, based_on=self.use(base).id)
            if (own := self._own.styles.get(key)) and own.id not in self._made:
                style = self._as_said(key, style, own)
            self._used[key] = style.id
            self._made[style.id] = style
            self._sheet = None
        return self._made[self._used[key]]

    def _as_said(self, key: str, read: Style, own: Style) -> Style:
        """A style as it was written, as far as the file still says so."""
        found = style_as_said(replace(read, hyphenate=own.hyphenate), own)  # of which nothing is read
        listed = self.listed(None, key)
        base = read.based_on if self._base(key) else None
        unsaid: dict[str, Any] = {"based_on": base}
        if own.marker is None or listed is None:
            unsaid |= {"marker": own.marker if listed else None}
        else:
            level, text = own.list_level or 1, own.marker_text.strip()
            usual = _signs(level) if own.marker == "bullet" else f"%{level}."
            said = listed.how.marker, listed.how.text.strip(), listed.level
            if said == (own.marker, text or usual, level):
                unsaid |= {name: getattr(own, name) for name in ("marker", "marker_text", "list_level")}
            else:
                unsaid |= {"marker": said[0], "marker_text": said[1], "list_level": said[2]}
        if base is None:
            unsaid["declared"] = frozenset()
        return replace(found, **unsaid)

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
                how = self._lists.levels.get((instance, level or 0), BULLETED)
                return Numbered(how, min(max(level or 0, 0), 8) + 1, instance, place is properties)
        return None

    def run_toggle(self, properties: _Element, tag: str, inherited: bool) -> bool | None:
        """Whether a run is bold or italic, where that differs from what its paragraph's style says (``inherited``).

        Its own properties say so outright; a character style turns the paragraph style's around (17.7.3).
        """
        own = switched(properties, tag)
        if own is not None:
            return own if own != inherited else None
        for style in self.character_style(properties):
            found = switched(style, tag)
            if found is not None:
                return not inherited if found else None
        return None

    def run_capitals(self, properties: _Element, inherited: Capitals) -> Capitals | None:
        """Whether a run's letters are shown as capitals (17.3.2.5, 17.3.2.33), where that differs from its paragraph's style."""
        all = self.run_toggle(properties, "caps", inherited == "all")
        small = self.run_toggle(properties, "smallCaps", inherited == "small")
        if all is None and small is None:
            return None
        found: Capitals = "all" if all or (all is None and inherited == "all") else (
            "small" if small or (small is None and inherited == "small") else "none"
        )  # fmt: skip
        return found if found != inherited else None

    def of_words(self, key: str | None) -> list[_Element]:
        """What a paragraph style, and those it is based on, say of the place and colour of words, nearest first."""
        if key not in self._of_words:
            chain = self._chain(key if key in self._elements else self._default)
            said = (child(element, "w:rPr") for element in chain)
            self._of_words[key] = [
                one
                for one in said
                if one is not None
                and any(one.find(qn(f"w:{tag}")) is not None for tag in ("vertAlign", "highlight", "shd"))
            ]
        return self._of_words[key]

    def character_style(self, properties: _Element) -> list[_Element]:
        """What the character style of run properties says (17.3.2.29), and those it is based on, nearest first. Nothing of one
        for links."""
        key = value(child(properties, "w:rStyle"))
        found = self._chain(key) if key else []
        if found and _name(found[0]).lower().replace(" ", "") in _LINK_STYLES:
            return []
        self._rest.of_style(found)
        return [said for element in found if (said := child(element, "w:rPr")) is not None]

    def font(self, properties: _Element | None) -> str | None:
        """The family that run properties ask for, theme fonts resolved."""
        element = child(properties, "w:rFonts")
        if element is None:
            return None
        theme = element.get(qn("w:asciiTheme"))
        name = self._fonts.get(theme[:5]) if theme else element.get(qn("w:ascii")) or element.get(qn("w:hAnsi"))
        return " ".join(name.split())[:60] or None if name else None

    def chain_of_table(self, key: str | None) -> list[_Element]:
        """A table style, or the one that tables have which name none, and those it is based on, nearest first."""
        return self._chain(key if key in self._elements else self._default_table)

    def family(self, name: str) -> str:
        """The name of a family as reports know it. If it does not ship, it is remembered which one stands in for it."""
        stands_in = family(name)
        if stands_in.lower() != name.lower():
            self.replaced[name] = stands_in
        return named(name)

    def _find_chain(self, key: str | None) -> list[_Element]:
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
        self._rest.of_style(chain)
        return self._looked(replace(style, outline_level=level), [*chain[::-1]])

    def _looked(self, style: Style, furthest_first: list[_Element]) -> Style:
        runs = [element.find(qn("w:rPr")) for element in furthest_first]
        paragraphs = [element.find(qn("w:pPr")) for element in furthest_first]
        if self._defaults is not None:
            runs.insert(0, self._defaults.find(f"{qn('w:rPrDefault')}/{qn('w:rPr')}"))
            paragraphs.insert(0, self._defaults.find(f"{qn('w:pPrDefault')}/{qn('w:pPr')}"))
        look: dict[str, Any] = {"font": "Times New Roman", "size": 10.0, "bold": False, "italic": False, "underline": False,
                                "colour": "#000000", "strike": False, "capitals": "none", "background": "none",
                                "borders": "none"}  # fmt: skip
        for properties in runs:
            if properties is None:
                continue
            look |= {"font": self.font(properties) or look["font"], "colour": colour(properties) or look["colour"]}
            look["size"] = letter_size(properties) or look["size"]
            for name, tag in (("bold", "b"), ("italic", "i")):
                on = switched(properties, tag)
                look[name] = look[name] if on is None else on
            for tag in ("strike", "dstrike"):
                on = switched(properties, tag)
                look["strike"] = look["strike"] if on is None else on
            for capitals, tag in (("all", "caps"), ("small", "smallCaps")):
                on = switched(properties, tag)
                if on or (on is False and look["capitals"] == capitals):
                    look["capitals"] = capitals if on else "none"
            line = properties.find(qn("w:u"))
            if line is not None:
                look["underline"] = line.get(qn("w:val"), "single") != "none"
        look["font"] = self.family(look["font"])
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
            look["background"] = shade(child(properties, "w:shd")) or look["background"]
            look["borders"] = borders_with(look["borders"], child(properties, "w:pBdr"))
            look["tab_stops"] = stops_with(look.get("tab_stops", ""), properties)
        look |= {"space_before": spacing["before"], "space_after": spacing["after"]}
        look["line_spacing"] = lines * natural if lines == 1.0 else lines
        # What is not said is nothing (17.3.1.12, 17.3.1.13), whatever a style of this name looks like here.
        stands = (style.indent, style.first_line) if style.marker else (0.0, 0.0)
        unsaid: dict[str, Any] = {"indent": stands[0], "first_line": stands[1], "align": "left"}
        look = unsaid | look
        return replace(style, **look)


def _signs(level: int) -> str:
    """The sign of a bulleted list that says no other."""
    return BULLETS[(level - 1) % len(BULLETS)]


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
    if align := _ALIGN.get(value(child(properties, "w:jc")) or ""):
        look["align"] = align
    for name, found in zip(("indent", "first_line"), indents(properties), strict=True):
        if found is not None:
            look[name] = found
    indent = child(properties, "w:ind")
    right = number(indent, "right") if number(indent, "right") is not None else number(indent, "end")
    if right is not None:
        look["right_indent"] = min(max(right / 20, 0.0), 500.0)
    for name, tag in (
        ("keep_with_next", "keepNext"),
        ("keep_together", "keepLines"),
        ("new_page", "pageBreakBefore"),
        ("contextual_spacing", "contextualSpacing"),
    ):
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
