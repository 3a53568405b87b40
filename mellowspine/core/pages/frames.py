"""What is behind and around a paragraph: its colour and its lines, and the room that these take.

Lines stand outside the paragraph's indents; above and below they take room of the page. Neighbours with the same colour, lines and
indents stand in one frame (ISO/IEC 29500-1, 17.3.1.24).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import NamedTuple

from ..report.blocks import Paragraph
from ..report.borders import Border, Side, borders_of
from ..report.styles import Style
from .draw import Belongs, Mark, Rule
from .tags import NOTHING

ROOM = 3.0
"""Points between the words of a paragraph and a line around it (common practice, no source)."""


class Frame(NamedTuple):
    """The colour ("none" for none) and the lines; ``left`` and ``right``: how far from the column's edges."""

    background: str
    borders: tuple[Border, ...]
    left: float
    right: float

    def room(self, side: Side) -> float:
        """Points that a line takes at a side, with what is free beside it."""
        return next((one.width + ROOM for one in self.borders if one.side == side), 0.0)


@lru_cache(maxsize=1 << 10)
def _made(background: str, borders: str, left: float, right: float) -> Frame:
    return Frame(background, borders_of(borders), left, right)


def frame_of(paragraph: Paragraph, style: Style) -> Frame | None:
    """The frame of a paragraph that is set in a style (``lines.set_style``); None if there is nothing behind or around it."""
    background = paragraph.background or style.background
    borders = paragraph.borders or style.borders
    if background == borders == "none":
        return None
    return _made(background, borders, style.indent + min(style.first_line, 0.0), style.right_indent)


def is_close(paragraph: Paragraph, style: Style) -> bool:
    """Whether there is no space between a paragraph and a neighbour of the same style."""
    return style.contextual_spacing if paragraph.contextual_spacing is None else paragraph.contextual_spacing


def draw_frame(
    frame: Frame, x: float, y: float, width: float, height: float, first: bool, last: bool
) -> Iterator[Mark]:
    """What stands behind and around lines that are ``height`` points high, in a column of ``width`` points at ``x``.

    ``first`` and ``last``: whether it begins and ends there, or goes on on another page or with a neighbour.
    """
    without = [*([] if first else ["top"]), *([] if last else ["bottom"])]
    borders = [one for one in frame.borders if one.side not in without]
    above, below = frame.room("top") if first else 0.0, frame.room("bottom") if last else 0.0
    left, right = x + frame.left - frame.room("left"), x + width - frame.right + frame.room("right")
    yield Belongs(NOTHING)
    yield from draw_box(left, y - above, right - left, above + height + below, frame.background, borders)


def draw_box(
    x: float, y: float, width: float, height: float, background: str, borders: Iterable[Border]
) -> Iterator[Mark]:
    """A rectangle with its colour, and lines along the inside of its edges."""
    if background != "none" and width > 0 and height > 0:
        yield Rule(x, y, width, height, 0.0, background, background)
    for border in borders:
        yield from draw_line(border, x, y, width, height)


def draw_line(border: Border, x: float, y: float, width: float, height: float, centred: bool = False) -> Iterator[Mark]:
    """A line along one edge of a rectangle, on its inside, or else ``centred`` on it. One that is double is two, each a third as wide
    (ISO/IEC 29500-1, 17.18.2)."""
    thick = border.width / 3 if border.kind == "double" else border.width
    outside = border.width / 2 if centred else 0.0
    places = (thick / 2, border.width - thick / 2) if border.kind == "double" else (border.width / 2,)
    for at in (place - outside for place in places):
        dash = {"dashed": 3 * thick, "dotted": thick}.get(border.kind, 0.0)
        match border.side:
            case "top":
                yield Rule(x, y + at, width, 0.0, thick, border.colour, dash=dash)
            case "bottom":
                yield Rule(x, y + height - at, width, 0.0, thick, border.colour, dash=dash)
            case "left":
                yield Rule(x + at, y, 0.0, height, thick, border.colour, dash=dash)
            case "right":
                yield Rule(x + width - at, y, 0.0, height, thick, border.colour, dash=dash)
