"""Numbering of an Office Open XML document (ISO/IEC 29500-1, 17.9): how the items of its lists are marked and counted."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from docx.document import Document
from lxml.etree import _Element

from ...report.styles import Marker
from .xml import child, number, qn, related, value

FIGURES: Mapping[str, Marker] = {
    "bullet": "bullet", "decimal": "decimal", "upperRoman": "upper-roman", "lowerRoman": "lower-roman",
    "upperLetter": "upper-letter", "lowerLetter": "lower-letter",
}  # fmt: skip
"""Kinds of figures (17.18.59) that are ours."""

SYMBOLS: Mapping[str, Mapping[int, str]] = {
    "symbol": {0xB7: "•", 0xB0: "°", 0xA8: "♦", 0xAE: "→", 0xDE: "⇒", 0xA7: "♣", 0x2D: "−", 0xB4: "×", 0xB3: "≥", 0xA3: "≤",
               0xB9: "≠", 0xB1: "±", 0xA5: "∞", 0x6D: "μ", 0x61: "α", 0x62: "β", 0x67: "γ", 0x64: "δ", 0x70: "π", 0x57: "Ω",
               0x44: "Δ", 0x53: "Σ", 0xD6: "√"},
    "wingdings": {0x6C: "●", 0x6E: "■", 0x6F: "□", 0x70: "□", 0x71: "❑", 0x72: "❒", 0x75: "◆", 0x76: "❖", 0x77: "◆", 0x9E: "·",
                  0x9F: "•", 0xA1: "○", 0xA7: "▪", 0xA8: "☐", 0xB2: "☆", 0xAB: "★", 0xD8: "➢", 0xE0: "→", 0xDF: "←", 0xE8: "➔",
                  0xF0: "⇨", 0xFB: "✗", 0xFC: "✓", 0xFD: "☒", 0xFE: "☑", 0x4A: "☺", 0x28: "☎", 0x2A: "✉"},
    "wingdings 2": {0x4F: "✗", 0x50: "✓", 0x52: "☑", 0x53: "☒", 0x54: "☒", 0x97: "●", 0xA3: "☐", 0x2A: "☐"},
    "wingdings 3": {0x7D: "▶", 0x84: "◀", 0x22: "↑", 0x23: "↓", 0x21: "→", 0x20: " "},
    "webdings": {0x61: "✓", 0x63: "☐", 0x3C: "▪", 0x3D: "▪", 0x34: "▶", 0x33: "◀"},
}  # fmt: skip
"""What the letters of common fonts of symbols look like, by the name of the font and the code of the letter (from memory)."""


def symbol(font: str, code: int) -> str | None:
    """The character that a letter of a font of symbols looks like; None if it is not known. Codes may be moved to F000 and
    beyond (17.3.3.30)."""
    return SYMBOLS.get(font.strip().lower(), {}).get(code - 0xF000 if 0xF000 <= code <= 0xF0FF else code)


def is_font_of_symbols(font: str) -> bool:
    return font.strip().lower() in SYMBOLS


@dataclass(frozen=True, slots=True)
class Level:
    """A level of a list."""

    marker: Marker = "bullet"
    text: str = ""
    """How its numbers are written (17.9.11), or the sign in front of its items, as in ``Style.marker_text``."""
    known: bool = True
    """Whether its kind of figures, or its sign, is one of ours."""
    hidden: bool = False
    """Whether nothing stands in front of its items."""
    indent: float | None = None
    first_line: float | None = None
    """In points, where it says that."""
    restarts: bool = True
    """Whether it is counted anew under each item of a level above (17.9.10)."""


@dataclass(frozen=True, slots=True)
class Numbered:
    """A paragraph's place in a list: how its items are marked, and its level from 1."""

    how: Level
    level: int
    instance: int
    """The numbering instance that counts it (17.9.15)."""
    own: bool = True
    """Whether the paragraph says so itself, and not its style."""


BULLETED = Level()


def indents(properties: _Element | None) -> tuple[float | None, float | None]:
    """How far ``w:ind`` sets words in from the left, and the first line from there (17.3.1.12), in points; None where not said."""
    place = child(properties, "w:ind")
    left = next((found for name in ("left", "start") if (found := number(place, name)) is not None), None)
    hanging, first = number(place, "hanging"), number(place, "firstLine")
    line = None if hanging is None and first is None else -hanging / 20 if hanging is not None else (first or 0) / 20
    return (
        None if left is None else min(max(left / 20, 0.0), 300.0),
        None if line is None else min(max(line, -100.0), 200.0),
    )


def _level(element: _Element) -> Level:
    format = value(child(element, "w:numFmt")) or "decimal"
    marker, of_level = FIGURES.get(format, "decimal"), f"%{(number(element, 'ilvl') or 0) + 1}"
    indent, first_line = indents(child(element, "w:pPr"))
    place = child(element, "w:lvlText")
    written = re.sub(r"[\x00-\x1f\x7f]", "", value(place) or "")[:60]
    if marker == "bullet":
        sign, known = _sign(written, child(element, "w:rPr"))
        is_picture = child(element, "w:lvlPicBulletId") is not None
        return Level(marker, sign, known and not is_picture, not written and not is_picture, indent, first_line)
    restarts = number(child(element, "w:lvlRestart")) != 0
    text = f"{of_level}." if place is None else written
    if format == "none":
        text = text.replace(of_level, "")
    return Level(marker, text, format in FIGURES or format == "none", not text.strip(), indent, first_line, restarts)


def _sign(written: str, properties: _Element | None) -> tuple[str, bool]:
    """The sign that stands in front of items, and whether it is the file's."""
    fonts = child(properties, "w:rFonts")
    font = "" if fonts is None else fonts.get(qn("w:ascii")) or fonts.get(qn("w:hAnsi")) or ""
    if not written:
        return "", True
    if len(written) == 1 and (0xF000 <= ord(written) <= 0xF0FF or is_font_of_symbols(font)):
        found = symbol(font or "symbol", ord(written))
        return found or "", found is not None
    if written == "o" and font.lower().startswith("courier"):  # a ring, as programs draw it
        return "○", True
    return written, True


@dataclass
class _Abstract:
    levels: dict[int, Level] = field(default_factory=dict)
    starts: dict[int, int] = field(default_factory=dict)
    link: str = ""
    """The style of numbering that has its levels (17.9.21)."""


class Lists:
    """The lists of a document: how each level of each instance is written, and how far it is counted.

    Instances of one abstract numbering are one list, unless one says where it starts anew.
    """

    def __init__(self, document: Document) -> None:
        self.levels: dict[tuple[int, int], Level] = {}
        """By instance and level from 0."""
        self._abstract: dict[int, str | None] = {}
        self._starts: dict[tuple[str | None, int], int] = {}
        self._anew: dict[int, dict[int, int]] = {}
        self._counts: dict[str | None, dict[int, int]] = {}
        root = related(document, "numbering")
        if root is None:
            return
        found: dict[str | None, _Abstract] = {}
        named: dict[str, str | None] = {}
        for element in root.findall(qn("w:abstractNum")):
            key = element.get(qn("w:abstractNumId"))
            one = found.setdefault(key, _Abstract())
            one.link = value(child(element, "w:numStyleLink")) or one.link
            if name := value(child(element, "w:styleLink")):
                named[name] = key
            for level in element.findall(qn("w:lvl")):
                depth = number(level, "ilvl") or 0
                one.levels[depth] = _level(level)
                start = number(child(level, "w:start"))
                one.starts[depth] = 1 if start is None else start
        for element in root.findall(qn("w:num")):
            instance = number(element, "numId") or 0
            self._abstract[instance] = key = value(child(element, "w:abstractNumId"))
            one = found.get(key, _Abstract())
            if not one.levels and one.link in named:
                self._abstract[instance] = key = named[one.link]
                one = found[key]
            self.levels |= {(instance, depth): level for depth, level in one.levels.items()}
            self._starts |= {(key, depth): start for depth, start in one.starts.items()}
            for override in element.findall(qn("w:lvlOverride")):
                start = number(child(override, "w:startOverride"))
                depth = number(override, "ilvl") or 0
                if start is not None:
                    self._anew.setdefault(instance, {})[depth] = start
                if (instead := child(override, "w:lvl")) is not None:
                    self.levels[instance, depth] = _level(instead)

    def definition(self, instance: int) -> str | None:
        """The definition of which something is an instance, by its id."""
        return self._abstract.get(instance)

    def start(self, instance: int, depth: int) -> int:
        """What a level is counted from, if nothing says otherwise."""
        return self._starts.get((self._abstract.get(instance), depth), 1)

    def begins_anew(self, instance: int, depth: int) -> bool:
        """Whether the next item of a level is the first of an instance that says what it is counted from."""
        return depth in self._anew.get(instance, {})

    def next(self, instance: int, depth: int) -> int:
        """What the next item of a level is counted as."""
        key = self._abstract.get(instance)
        counts = self._counts.setdefault(key, {})
        for level, start in self._anew.pop(instance, {}).items():  # where the instance is met first
            counts[level] = start - 1
        for deeper in [level for level in counts if level > depth]:
            if self.levels.get((instance, deeper), BULLETED).restarts:
                del counts[deeper]
        counts[depth] = counts[depth] + 1 if depth in counts else self._starts.get((key, depth), 1)
        return counts[depth]
