"""Traits: what can be seen of a paragraph by which headings made by hand are told from other text.

A trait is of the whole paragraph: a bold word in it does not make it bold.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from ..report.blocks import Align, Paragraph
from ..report.styles import Style, StyleSheet
from .formatting import MOST_OF
from .typed_contents import is_contents_line
from .typed_numbers import TypedNumber, typed_number

SHORT = 120
"""Most characters of what counts as short: a line and a half of body text. Common practice, no source."""

Opening = Literal["caption", "quotation", "capital", "other"]
_CAPTION = re.compile(
    r"(?:figure|fig\.|table|plate|photo|photograph|chart|map|diagram|exhibit|illustration)\s+[\dIVXA-Z]", re.I
)
_QUOTED = ("“", "‘", '"', "'", "«", "„")


SWITCHES: Mapping[str, tuple[str, str]] = {
    "bold": ("bold", "not bold"),
    "italic": ("italic", "upright"),
    "underline": ("underlined", "not underlined"),
    "capitals": ("capitals", "not in capitals"),
}
"""Traits that a paragraph has or has not, in words."""


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


class Traits(NamedTuple):
    face: Face
    style: str
    length: int
    """Characters of its words, without a typed number and white space around them."""
    typed: TypedNumber | None
    tab: bool
    """Whether a tab stands in front, or behind the typed number."""
    opens: Opening
    """How its words begin, behind a typed number."""
    last: str
    """The last character."""
    contents_line: bool
    """Whether it reads like a line of a contents table: words, dots or a tab, a page number."""

    @property
    def short(self) -> bool:
        return self.length <= SHORT

    @property
    def full_stop(self) -> bool:
        return self.last == "."


def traits_of(paragraph: Paragraph, styles: StyleSheet) -> Traits:
    """The traits of a paragraph with words."""
    text = paragraph.text
    style = styles[paragraph.style]
    typed = typed_number(text)
    words = text[typed.end if typed else 0 :].strip() or text.strip()
    start = text[: typed.end if typed else len(text) - len(text.lstrip())]
    return Traits(
        _face(paragraph, text, style),
        style.id,
        len(words),
        typed,
        "\t" in start,
        "caption" if paragraph.caption is not None or paragraph.note else _opening(words),
        words[-1],
        is_contents_line(text),
    )


def _opening(words: str) -> Opening:
    if _CAPTION.match(words):
        return "caption"
    if words.startswith(_QUOTED):
        return "quotation"
    return "capital" if words[0].isupper() else "other"


def _set_in_capitals(paragraph: Paragraph, style: Style) -> bool:
    """Whether all words of a paragraph are set in capitals, however they were typed."""
    if style.capitals != "all" and not any(run.marks.capitals for run in paragraph.runs):
        return False
    return all((run.marks.capitals or style.capitals) == "all" for run in paragraph.runs if run.text.strip())


def _face(paragraph: Paragraph, text: str, style: Style) -> Face:
    capitals = (text.isupper() or _set_in_capitals(paragraph, style)) and sum(map(str.isalpha, text)) > 1
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
    for name in SWITCHES:
        if name in wants:
            said.append(SWITCHES[name][0 if wants[name] else 1])
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


_FURTHER = (
    ("number", False, "no number in front"),
    ("tab", False, "no tab in front"),
    ("short", True, "short"),
    ("short", False, "long"),
    ("full_stop", False, "no full stop"),
    ("full_stop", True, "a full stop at the end"),
)
