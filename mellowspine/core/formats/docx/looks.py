"""Colours and lines of Office Open XML, and the place of letters, as a report has them.

Shading (ISO/IEC 29500-1, 17.3.5), highlighting (17.3.2.15), vertical alignment of letters (17.3.2.42), borders (17.3.4).
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from lxml.etree import _Element

from ...report.blocks import Script
from ...report.borders import NONE, Border, LineKind, Side, borders_as_text, borders_of
from .xml import child, local, number, qn, value

_HEX = re.compile(r"[0-9a-fA-F]{6}")
_TINT = re.compile(r"pct(\d{1,2})")
HIGHLIGHTS: Mapping[str, str] = {
    "black": "#000000", "blue": "#0000ff", "cyan": "#00ffff", "darkBlue": "#000080", "darkCyan": "#008080", "darkGray": "#808080",
    "darkGreen": "#008000", "darkMagenta": "#800080", "darkRed": "#800000", "darkYellow": "#808000", "green": "#00ff00",
    "lightGray": "#c0c0c0", "magenta": "#ff00ff", "red": "#ff0000", "white": "#ffffff", "yellow": "#ffff00",
}  # fmt: skip
"""17.18.40."""
_SCRIPTS: Mapping[str, Script] = {"superscript": "super", "subscript": "sub"}
_OF_LINES = 0.5
"""How much of its colour a pattern of lines shows, about."""
_SIDES: Mapping[str, Side] = {
    "top": "top",
    "left": "left",
    "start": "left",
    "bottom": "bottom",
    "right": "right",
    "end": "right",
}
_KINDS: Mapping[str, LineKind] = {
    **dict.fromkeys(("dotted", "dashDotStroked"), "dotted"),
    **dict.fromkeys(("dashed", "dashSmallGap", "dotDash", "dotDotDash"), "dashed"),
    **dict.fromkeys(("double", "triple", "thinThickSmallGap", "thickThinSmallGap", "thinThickThinSmallGap", "thinThickMediumGap",
                     "thickThinMediumGap", "thinThickThinMediumGap", "thinThickLargeGap", "thickThinLargeGap", "thinThickThinLargeGap",
                     "doubleWave"), "double"),
}  # fmt: skip
"""Kinds of line that are not drawn as one without gaps (17.18.2)."""
PLAIN_LINES = frozenset({"nil", "none", "single", "thick", "double", "dotted", "dashed"})
"""Those that a report draws as they are (17.18.2)."""


def is_tint(pattern: str) -> bool:
    """Whether a pattern is made of so many points of its colour that it looks like one (17.18.78)."""
    return bool(_TINT.fullmatch(pattern))


def shade(element: _Element | None) -> str | None:
    """The colour that a ``w:shd`` makes (17.3.5), "none" for none; None where it is not given. A pattern is as one colour."""
    if element is None:
        return None
    pattern = value(element) or "clear"
    fill, ink = _rgb(element.get(qn("w:fill"))), _rgb(element.get(qn("w:color")))
    share = 1.0 if pattern == "solid" else 0.0 if pattern in ("clear", "nil") else _OF_LINES
    if tint := _TINT.fullmatch(pattern):
        share = int(tint[1]) / 100
    if not share:
        return _hex(fill) if fill else "none"
    under, over = fill or (255, 255, 255), ink or (0, 0, 0)
    return _hex(tuple(round(below * (1 - share) + above * share) for below, above in zip(under, over, strict=True)))


def _rgb(given: str | None) -> tuple[int, ...] | None:
    return tuple(bytes.fromhex(given)) if given and _HEX.fullmatch(given) else None


def _hex(colour: Iterable[int]) -> str:
    return "#" + bytes(colour).hex()


def is_dark(colour: str) -> bool:
    """Whether black letters could hardly be read on a colour; less than 3 to 1 (WCAG 2.2, 1.4.3 and its "relative luminance")."""
    if colour == "none":
        return False
    parts = [part / 255 for part in bytes.fromhex(colour[1:])]
    red, green, blue = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
    return (0.2126 * red + 0.7152 * green + 0.0722 * blue + 0.05) / 0.05 < 3


def highlight(said: Iterable[_Element]) -> str | None:
    """The colour behind words, as the nearest of some run properties says; highlighting goes over shading (17.3.2.15, 17.3.2.32)."""
    lit = shaded = None
    for properties in said:
        lit = lit or value(child(properties, "w:highlight"))
        shaded = shaded or shade(child(properties, "w:shd"))
    if lit and lit in HIGHLIGHTS:
        return HIGHLIGHTS[lit]
    return None if shaded in (None, "none", "#ffffff") else shaded


def script_of(said: Iterable[_Element]) -> Script | None:
    """Whether letters are raised or lowered, as the nearest of some run properties says."""
    for properties in said:
        if found := value(child(properties, "w:vertAlign")):
            return _SCRIPTS.get(found)
    return None


def border_of(element: _Element, side: Side) -> Border | None:
    """A line as a side of some borders says it (17.3.4): in eighths of a point; None for none."""
    kind = value(element) or "nil"
    if kind in ("nil", "none"):
        return None
    ink = _rgb(element.get(qn("w:color")))
    width = (number(element, "sz") or 4) / 8
    # Two lines, and the gap between them, are each as wide (17.18.2).
    return Border(
        side, width * 3 if kind == "double" else width, _hex(ink) if ink else "#000000", _KINDS.get(kind, "solid")
    )


def sides(borders: _Element | None) -> dict[Side, Border | None]:
    """The sides that some borders say, with their lines."""
    found: dict[Side, Border | None] = {}
    for one in borders if borders is not None else ():
        if (side := _SIDES.get(local(one))) and value(one) is not None:
            found[side] = border_of(one, side)
    return found


def borders_with(inherited: str, borders: _Element | None) -> str:
    """Lines around a paragraph (17.3.1.24): those of its style, but for sides that it says itself."""
    if borders is None:
        return inherited
    found = {one.side: one for one in borders_of(inherited)} | sides(borders)
    return borders_as_text(one for one in found.values() if one) or NONE
