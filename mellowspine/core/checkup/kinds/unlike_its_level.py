"""Headings that look unlike the others of their level."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.blocks import Block
from ...report.styles import StyleSheet
from ...structure.formatting import back_to_style, departures
from ..findings import Check, NewIds, Remedy, State, add_check, as_heading, quoted

_NAMES = {
    "font": "typeface",
    "bold": "weight",
    "italic": "slant",
    "align": "alignment",
    "space_before": "space above",
    "space_after": "space below",
    "line_spacing": "line spacing",
    "first_line": "first line",
}


def _found(block: Block, styles: StyleSheet) -> str | None:
    heading = as_heading(block, styles)
    own = departures(heading, styles[heading.style]) if heading and heading.text.strip() else {}
    *most, last = (_NAMES.get(name, name) for name in own) if own else ("",)
    said = f"{', '.join(most)} and {last}" if most else last
    return f"{quoted(heading.text)} has its own {said}." if heading and own else None


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    return Remedy(back_to_style(state.report, places))


add_check(
    Check(
        "unlike-level",
        "Headings unlike their level",
        "Readers take a heading that looks otherwise for one of another level.",
        in_block=_found,
        remedy=_remedy,
        label="Give them their style’s look",
    )
)
