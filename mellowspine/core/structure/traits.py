"""Traits: what can be seen of a paragraph by which headings made by hand are told from other text.

A trait is of the whole paragraph: a bold word in it does not make it bold.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from ..report.blocks import Align, Paragraph
from ..report.styles import Style, StyleSheet
from .leftovers import is_contents_line
from .looks import MOST_OF
from .numbering import figure

SHORT = 120
"""Most characters of what counts as short: a line and a half of body text. Common practice, no source."""

NumberForm = Literal["decimal", "roman", "letter"]


class Face(NamedTuple):
    """How a paragraph is set, whether its style or somebody's hand makes it so."""

    font: str
    size: float
    bold: bool
    italic: bool
    underline: bool
    capitals: bool
    colour: str
    align: Align


class TypedNumber(NamedTuple):
    """A number typed in front of words. ``label`` is it as it stands there, ``end`` where the words behind it begin.

    ``depth`` is how many figures a decimal number has: 2 for "2.1"; 1 for all others. ``prefix`` is a word in front of it,
    such as "chapter".
    """

    label: str
    end: int
    form: NumberForm
    depth: int
    value: int
    prefix: str


class Traits(NamedTuple):
    face: Face
    style: str
    length: int
    """Characters of its words, without a typed number and white space around them."""
    typed: TypedNumber | None
    tab: bool
    """Whether a tab stands in front, or behind the typed number."""
    full_stop: bool
    """Whether it ends in one."""
    contents_line: bool
    """Whether it reads like a line of a contents table: words, dots or a tab, a page number."""

    @property
    def short(self) -> bool:
        return self.length <= SHORT


_PREFIX = r"(?:(?P<prefix>part|chapter|section|article|appendix|annex|volume|book)\s+|§\s*)"
_FIGURES = r"(?:(?P<decimal>\d{1,3}(?:\.\d{1,3})*|[A-Z](?:\.\d{1,3})+)|(?P<roman>[IVXLC]{1,7}|[ivxlc]{1,7})|(?P<letter>[A-Za-z]))"
_TYPED = re.compile(
    # Behind a prefix a number may end the line, or be followed by a dash; a letter or a roman numeral needs a point.
    rf"\s*(?:{_PREFIX}(?P<figure>one|two|three|four|five|six|seven|eight|nine|ten|{_FIGURES})(?P<after>[.:)]?(?:\s+[–—-])?(?:\s+|$))"
    rf"|{_FIGURES.replace('<', '<own_')}(?P<own_after>[.)]{{1,2}}\s+|[.)]?\t\s*|\s+))",
    re.IGNORECASE,
)
_IN_BRACKETS = re.compile(r"\s*\((?P<figure>\d{1,2}|[a-z]|[ivx]{1,5})\)\s+")
_WORDS = ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
_ROMAN = {"i": 1, "v": 5, "x": 10, "l": 50, "c": 100}


def roman(text: str) -> int:
    """The value of a roman numeral; 0 for what is none."""
    values = [_ROMAN.get(sign, 0) for sign in text.lower()]
    total = sum(-a if a < b else a for a, b in zip(values, [*values[1:], 0], strict=True))
    return total if figure(total, "lower-roman") == text.lower() else 0


def typed_number(text: str) -> TypedNumber | None:
    """The number that a text begins with; None if it begins with none.

    A single letter may be a roman numeral as well: "I" and "i" are taken for one, other letters are not.
    """
    if found := _IN_BRACKETS.match(text):
        return _read(found["figure"], text[: found.end()].strip(), found.end(), "")
    found = _TYPED.match(text)
    if not found:
        return None
    prefix = (found["prefix"] or ("§" if "§" in found[0] else "")).lower()
    sign = found["figure"] or found["own_decimal"] or found["own_roman"] or found["own_letter"]
    after = found["after"] if found["after"] is not None else found["own_after"]
    plain = not sign[0].isdigit() and not prefix and "." not in sign
    if plain and not after.strip(" \t").startswith((".", ")")) and "\t" not in after:
        return None  # "A house", "I think", "Mix of both"
    if sign.lower() in _WORDS:
        return TypedNumber(found[0].strip(), found.end(), "decimal", 1, _WORDS.index(sign.lower()) + 1, prefix)
    return _read(sign, found[0].strip(), found.end(), prefix)


def _read(sign: str, label: str, end: int, prefix: str) -> TypedNumber | None:
    if "." in sign or sign.isdigit():
        parts = sign.split(".")
        return TypedNumber(label, end, "decimal", len(parts), int(parts[-1]), prefix)
    if len(sign) > 1 or sign in "Ii":
        value = roman(sign)
        return TypedNumber(label, end, "roman", 1, value, prefix) if value else None
    return TypedNumber(label, end, "letter", 1, ord(sign.lower()) - ord("a") + 1, prefix)


def traits_of(paragraph: Paragraph, styles: StyleSheet) -> Traits:
    """The traits of a paragraph with words."""
    text = paragraph.text
    style = styles[paragraph.style]
    typed = typed_number(text)
    words = text[typed.end if typed else 0 :].strip()
    start = text[: typed.end if typed else len(text) - len(text.lstrip())]
    return Traits(
        _face(paragraph, text, style),
        style.id,
        len(words) or len(text.strip()),
        typed,
        "\t" in start,
        words.endswith(".") and not words.endswith(".."),
        is_contents_line(text),
    )


def _face(paragraph: Paragraph, text: str, style: Style) -> Face:
    capitals = text.isupper() and sum(map(str.isalpha, text)) > 1
    align = paragraph.align or style.align
    runs = paragraph.runs
    if len(runs) == 1:
        marks = runs[0].marks
        return Face(
            marks.font or style.font,
            marks.size or style.size,
            style.bold if marks.bold is None else marks.bold,
            style.italic if marks.italic is None else marks.italic,
            style.underline or marks.underline,
            capitals,
            marks.colour or style.colour,
            align,
        )
    lengths = [len("".join(run.text.split())) for run in runs]
    total = sum(lengths) or 1

    def mostly(name: str) -> bool:
        own = getattr(style, name)
        said = (own if getattr(run.marks, name) is None else getattr(run.marks, name) or (name == "underline" and own)
                for run in runs)  # fmt: skip
        return sum(length for length, value in zip(lengths, said, strict=True) if value) >= MOST_OF * total

    def most(name: str) -> Any:
        shares: dict[Any, int] = {}
        for run, length in zip(runs, lengths, strict=True):
            value = getattr(run.marks, name) or getattr(style, name)
            shares[value] = shares.get(value, 0) + length
        return max(shares, key=shares.__getitem__) if shares else getattr(style, name)

    return Face(
        most("font"),
        most("size"),
        mostly("bold"),
        mostly("italic"),
        mostly("underline"),
        capitals,
        most("colour"),
        align,
    )


def in_words(wants: Mapping[str, Any], styles: StyleSheet) -> str:
    """Traits in words, as in "bold, 14 pt, a number and a tab in front"."""
    said: list[str] = []
    for name in ("bold", "italic", "underline", "capitals"):
        if name in wants:
            yes, no = _SAID[name]
            said.append(yes if wants[name] else no)
    if "size" in wants:
        said.append(f"{wants['size']:g} pt")
    said += [str(wants[name]) for name in ("font", "colour") if name in wants]
    if "align" in wants:
        said.append(
            {"center": "centred", "right": "to the right", "left": "to the left", "justify": "justified"}[
                wants["align"]
            ]
        )
    number, tab = wants.get("number"), wants.get("tab")
    if number:
        figures = f"a number of {number} figures" if number is not True and number > 1 else "a number"
        said.append(f"{figures}{' and a tab' if tab else ''} in front")
    elif tab:
        said.append("a tab in front")
    said += [words for name, value, words in _FURTHER if wants.get(name) is value]
    if "style" in wants:
        said.append(f"in {styles[wants['style']].name}")
    return ", ".join(said)


_SAID = {
    "bold": ("bold", "not bold"),
    "italic": ("italic", "upright"),
    "underline": ("underlined", "not underlined"),
    "capitals": ("capitals", "not in capitals"),
}
_FURTHER = (
    ("number", False, "no number in front"),
    ("tab", False, "no tab in front"),
    ("short", True, "short"),
    ("short", False, "long"),
    ("full_stop", False, "no full stop"),
    ("full_stop", True, "a full stop at the end"),
)
