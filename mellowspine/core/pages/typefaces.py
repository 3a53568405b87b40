"""The shipped typefaces: which file a font name means, and how wide words are in it.

The same files are used here, in the browser and in the PDF, so that all three agree on every line. Carlito, Caladea
and the Liberation faces have the widths of the faces that imported files most often name.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property, lru_cache
from itertools import pairwise
from pathlib import Path
from typing import Any, NamedTuple
from unicodedata import category, combining

import uharfbuzz as hb

from ..report.blocks import FONT_NAME, FONTS, Font
from ..report.report import Report
from ..structure.outline import paragraphs

FONT_FOLDER = Path(__file__).parent / "fonts"

METRIC_EQUIVALENTS: Mapping[str, Font] = {
    "cambria": "Caladea",
    "calibri": "Carlito",
    **dict.fromkeys(("times new roman", "times", "tinos", "thorndale", "thorndale amt", "nimbus roman", "nimbus roman no9 l",
                     "freeserif", "tex gyre termes"), "Liberation Serif"),
    **dict.fromkeys(("arial", "helvetica", "arimo", "albany", "albany amt", "nimbus sans", "nimbus sans l", "freesans",
                     "tex gyre heros"), "Liberation Sans"),
    **dict.fromkeys(("courier new", "courier", "cousine", "cumberland", "cumberland amt", "nimbus mono", "nimbus mono l",
                     "freemono", "tex gyre cursor"), "Liberation Mono"),
}  # fmt: skip
"""Families whose letters are as wide as those of a shipped one (of the first eight, their published metrics; others from memory)."""
FAMILIES_AS_WIDE: Mapping[str, str] = {
    "Caladea": "Cambria", "Carlito": "Calibri", "Liberation Serif": "Times New Roman", "Liberation Sans": "Arial",
    "Liberation Mono": "Courier New",
}  # fmt: skip
"""The other way round: the best known of these for each shipped one, for programs that have not got it."""
SERIF = ("serif", "roman", "georgia", "garamond", "book", "palatino", "minion", "century")
MONO = ("mono", "consol", "typewriter", "code")
"""What the names of families tell of their kind."""
WEIGHT = r" (?:thin|light|semilight|medium|semibold|demi|black|heavy)$"
"""How families that are one weight of another are called after that one."""

SYMBOLS = "DejaVu Sans"
"""The family of one face that has what the others lack: boxes, ticks, arrows, mathematical signs. Nobody chooses it."""

LONGEST_PIECE = 256
"""Characters that are measured in one piece."""
_FIGURES = "0123456789"
MOST_KNOWN = 200_000
"""Pieces of one face whose widths are remembered."""

FEATURES = {"kern": True, "liga": False, "clig": False, "dlig": False}
"""OpenType features in force everywhere. Ligatures are off: a letter stays a letter for search in the PDF."""
TABULAR = {**FEATURES, "kern": False, "tnum": True}
"""Those for what the core writes into lines, numbers above all: every figure is as wide as every other, so that a line stays as
it is when a number in it changes. Browsers are told the same (``text-leaf/text.css``)."""


@lru_cache(maxsize=1 << 12)
def family(name: str) -> Font:
    """The shipped family for a font name from a file: itself, one of the same widths, or the nearest in kind."""
    wanted = name.strip().lower()
    for one in (wanted, re.sub(WEIGHT, "", wanted)):
        for shipped in FONTS:
            if one == shipped.lower():
                return shipped
        if one in METRIC_EQUIVALENTS:
            return METRIC_EQUIVALENTS[one]
    if any(hint in wanted for hint in MONO):
        return "Liberation Mono"
    if "sans" not in wanted and any(hint in wanted for hint in SERIF):
        return "Liberation Serif"
    return "Liberation Sans"


def named(name: str) -> str:
    """A family as reports know it: a shipped one in its own spelling, another by its name; the one that stands in for it where
    reports cannot have such a name."""
    stands_in = family(name)
    if name.strip().lower() in (stands_in.lower(), SYMBOLS.lower()):
        return stands_in
    return name.strip() if FONT_NAME.fullmatch(name.strip()) else stands_in


def is_as_wide(name: str) -> bool:
    """Whether a family from a file has the widths of the shipped one that stands in for it."""
    return name.strip().lower() in METRIC_EQUIVALENTS


class Unit(NamedTuple):
    """Widths in em of a word with the spaces behind it."""

    bare: float
    """Without the spaces."""
    full: float
    lead: float
    """What comes to it behind a space."""
    spaced: bool
    """Whether there are spaces behind it."""


class FaceFile(NamedTuple):
    """The file of a face that a report has of its own (TrueType)."""

    family: str
    bold: bool
    italic: bool
    data: bytes
    whole: bool = False
    """Whether its licence has it embedded as a whole or not at all."""


def nearest(files: Iterable[FaceFile], bold: bool, italic: bool) -> FaceFile:
    """Of the faces of a family the one for a weight and a slant; the slant counts for more (CSS Fonts 4, 5.2)."""
    return min(files, key=lambda one: (one.italic != italic, one.bold != bold))


class Face:
    """One font file. Widths are in em: multiply by the size in points."""

    def __init__(self, font: str, bold: bool, italic: bool, tabular: bool = False, own: FaceFile | None = None) -> None:
        self.font, self.bold, self.italic, self.tabular = font, bold, italic, tabular
        self.features = TABULAR if tabular else FEATURES
        weight = ("Bold" if bold else "") + ("Italic" if italic else "") or "Regular"
        self.name = name = f"{re.sub('[^A-Za-z0-9]', '', font) or 'Own'}-{weight}"
        self.whole = own is not None and own.whole
        self.blob = hb.Blob(own.data) if own else hb.Blob.from_file_path(str(FONT_FOLDER / f"{name}.ttf"))
        self._face = hb.Face(self.blob)
        self._font = hb.Font(self._face)
        extents = self._font.get_font_extents("ltr")
        self.ascent: float = extents.ascender / self._face.upem
        self.descent: float = -extents.descender / self._face.upem
        self._widths: dict[str, float] = {}
        self._units: dict[str, Unit] = {}
        self._kerns: dict[str, float] = {}
        self.has_sure = own is None or all(map(self.covers, _SURE_ONES))
        """Whether it has what all shipped faces have."""

    def width(self, text: str) -> float:
        """Width in em of text set in one piece, kerned; remembered, so call it with words rather than sentences."""
        if not text:
            return 0.0
        width = self._widths.get(text)
        if width is None and len(text) > LONGEST_PIECE:
            # The library gives up on very long pieces; nor are they to be remembered.
            parts = [text[start : start + LONGEST_PIECE] for start in range(0, len(text), LONGEST_PIECE)]
            kerns = (self.kern(one[-1] + other[0]) for one, other in pairwise(parts))
            return sum(map(self.width, parts)) + sum(kerns)
        if width is None:
            if len(self._widths) > MOST_KNOWN:
                self._widths.clear()
            width = self._shaped(text)
            if self.tabular:
                width += sum(self._narrower[character] for character in text if character in _FIGURES)
            self._widths[text] = width
        return width

    def _shaped(self, text: str) -> float:
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, self.features)
        return float(sum(position.x_advance for position in buffer.glyph_positions)) / float(self._face.upem)

    @cached_property
    def _narrower(self) -> Mapping[str, float]:
        """How much narrower figures are than the widest, although they are to be of one width: Caladea's 9, in em."""
        widths = {figure: self._shaped(figure) for figure in _FIGURES}
        return {figure: max(widths.values()) - width for figure, width in widths.items()}

    def spare(self, character: str) -> float:
        """How much room a character has beyond its own width, in em: see ``_narrower``."""
        return self._narrower.get(character, 0.0) if self.tabular else 0.0

    @cached_property
    def space(self) -> float:
        return self.width(" ")

    def unit(self, text: str) -> Unit:
        """The widths of a word with the spaces behind it; spaces are kerned like letters."""
        found = self._units.get(text)
        if found is None:
            full = self.width(text) if text else 0.0
            spaces = len(text) - len(text.rstrip(" "))
            lead = self.kern(" " + text[0]) if text else 0.0
            found = Unit(full - spaces * self.space, full, lead, spaces > 0)
            if len(text) <= LONGEST_PIECE:
                if len(self._units) > MOST_KNOWN:
                    self._units.clear()
                self._units[text] = found
        return found

    def kern(self, pair: str) -> float:
        """What two characters come closer to each other (below 0) or further apart than their widths say, in em."""
        found = self._kerns.get(pair)
        if found is None:
            if len(self._kerns) > MOST_KNOWN:
                self._kerns.clear()
            found = self._kerns[pair] = self.width(pair) - self.width(pair[0]) - self.width(pair[1])
        return found

    def baseline(self, y: float, height: float, size: float) -> float:
        """Where letters stand in a line with its top at ``y``: in the middle of its height. Points, downwards."""
        return y + (height - (self.ascent + self.descent) * size) / 2 + self.ascent * size

    def covers(self, character: str) -> bool:
        return self._font.get_nominal_glyph(ord(character)) is not None


STAND_INS: Mapping[Font, tuple[str, ...]] = {
    "Caladea": ("Liberation Serif", "Liberation Sans", "Liberation Mono", SYMBOLS),
    "Carlito": ("Liberation Sans", "Liberation Serif", "Liberation Mono", SYMBOLS),
    "Liberation Serif": ("Liberation Sans", "Carlito", "Liberation Mono", SYMBOLS),
    "Liberation Sans": ("Liberation Serif", "Carlito", "Liberation Mono", SYMBOLS),
    "Liberation Mono": ("Liberation Sans", "Liberation Serif", "Carlito", SYMBOLS),
}
"""Which families have the characters that one lacks, the nearest in kind first. Browsers are told the same, and choose so for
each character (CSS Fonts 3, 5.3)."""

_SURE = re.compile(r"[\n\t -~À-ÖØ-öø-ÿ‘’“”–—…]*")
"""What all shipped faces have."""
_SURE_ONES = [one for one in map(chr, (*range(32, 256), *range(0x2013, 0x2027))) if _SURE.fullmatch(one)]


class Typefaces:
    """All shipped faces and those that a report has of its own, opened when first asked for, with the widths of the words
    measured so far."""

    def __init__(self, own: Iterable[FaceFile] = ()) -> None:
        self._own: dict[str, list[FaceFile]] = {}
        for one in own:
            self._own.setdefault(one.family.lower(), []).append(one)
        self._faces: dict[tuple[str, bool, bool, bool], Face] = {}
        self._having: dict[tuple[Face, str], Face | None] = {}
        self.advances: dict[tuple[object, ...], Any] = {}
        self.measured = 0
        """What ``advances.py`` remembers, and of how many characters."""

    def face(self, font: str, bold: bool = False, italic: bool = False, tabular: bool = False) -> Face:
        """``tabular``: with figures that are all of one width."""
        key = (font, bold, italic, tabular)
        found = self._faces.get(key)
        if found is None:
            files = self._own.get(font.lower())
            own = nearest(files, bold, italic) if files else None
            if own:
                wanted = own.family, own.bold, own.italic, tabular
            else:
                wanted = (SYMBOLS, False, False, tabular) if font == SYMBOLS else (family(font), bold, italic, tabular)
            same = (one for one in self._faces.values() if (one.font, one.bold, one.italic, one.tabular) == wanted)
            found = self._faces[key] = next(same, None) or Face(*wanted, own)
        return found

    def having(self, character: str, face: Face) -> Face | None:
        """A face, or one that stands in for it, that has a character; None if none has it."""
        key = face, character
        if key not in self._having:
            if len(self._having) > MOST_KNOWN:
                self._having.clear()
            shipped = family(face.font)
            families = dict.fromkeys((face.font, shipped, *STAND_INS[shipped]))
            faces = (self.face(font, face.bold, face.italic, face.tabular) for font in families)
            self._having[key] = next((one for one in faces if one.covers(character)), None)
        return self._having[key]

    def parted(self, text: str, face: Face) -> Iterator[tuple[int, Face]]:
        """The spans of a text and the face that each is set in: this one, wherever it has the characters."""
        if face.has_sure and _SURE.fullmatch(text):
            yield len(text), face
            return
        length, current = 0, face
        for character in text:
            # A mark stays with its letter, and what is in no face with what stands around it.
            stays = combining(character) and current.covers(character)
            found = current if stays or character in "\n\t" else self.having(character, face) or current
            if found is not current:
                if length:
                    yield length, current
                length, current = 0, found
            length += 1
        if length:
            yield length, current


def families_named(report: Report) -> frozenset[str]:
    """The families that styles in use, words and lines of tables of a report name."""
    names = set[str]()
    for paragraph in paragraphs(report):
        names.add(report.styles[paragraph.style].font)
        names.update(run.marks.font for run in paragraph.runs if run.marks.font)
    names |= {look.font for issued in report.tables.values() for look in issued.recipe.looks}
    return frozenset(names)


def lacking(texts: Iterable[str]) -> Counter[str]:
    """The characters that no shipped face has, each with how often it occurs; but for those that are never drawn."""
    typefaces, found = Typefaces(), Counter[str]()
    for text in texts:
        if not _SURE.fullmatch(text):
            found.update(
                character
                for character in text
                if category(character) not in ("Cc", "Cf", "Zl", "Zp")
                and typefaces.having(character, typefaces.face("Carlito")) is None
            )
    return found
