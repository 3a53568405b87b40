"""Lines around paragraphs and cells, as they are kept: side by side, each with its width, colour and kind.

The sides are those of ISO/IEC 29500-1, 17.3.1.24 and 17.4.66, and of CSS Backgrounds and Borders 3, 3.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from typing import Literal, NamedTuple, get_args

Side = Literal["top", "right", "bottom", "left"]
SIDES: tuple[Side, ...] = get_args(Side)

LineKind = Literal["solid", "double", "dashed", "dotted"]
LINE_KINDS: tuple[LineKind, ...] = get_args(LineKind)

NONE = "none"
"""No line at all."""

THINNEST, WIDEST = 0.1, 20.0
"""Points that a line is wide."""

_ONE = rf"(?:{'|'.join(SIDES)}) (?:0\.[1-9]\d?|[1-9]\d?(?:\.\d{{1,2}})?) #[0-9a-f]{{6}}(?: (?:{'|'.join(LINE_KINDS[1:])}))?"
FORM = re.compile(rf"{NONE}|{_ONE}(?:, {_ONE}){{0,3}}")
"""Lines as they are kept: ``top 1 #000000, bottom 0.5 #b9b3bf dashed``; ``none`` for none."""


class Border(NamedTuple):
    """A line at one side; ``width`` in points."""

    side: Side
    width: float
    colour: str
    kind: LineKind = "solid"


@lru_cache(maxsize=1 << 10)
def borders_of(text: str) -> tuple[Border, ...]:
    """The lines that a text of ``FORM`` says, one a side at most: of several the last."""
    found: dict[Side, Border] = {}
    for words in (one.split() for one in text.split(", ") if one != NONE):
        side, width, colour, *kind = words
        made = Border(side, min(float(width), WIDEST), colour, *kind)  # type: ignore[arg-type]
        found[made.side] = made
    return tuple(found[side] for side in SIDES if side in found)


def borders_as_text(borders: Iterable[Border]) -> str:
    """Lines as they are kept; of several at one side the last."""
    found = {one.side: one for one in borders}
    parts = []
    for side in SIDES:
        if side in found:
            _, width, colour, kind = found[side]
            said = f"{min(max(round(width, 2), THINNEST), WIDEST):g}"
            parts.append(" ".join((side, said, colour, *([kind] if kind != "solid" else []))))
    return ", ".join(parts) or NONE
