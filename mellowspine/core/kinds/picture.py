"""A picture, on a line of its own or with text beside it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..pages.beside import fitted
from ..pages.boxes import Box, measure
from ..pages.draw import Belongs, Drawing, Mark, Picture, draw
from ..pages.fill import Placed
from ..pages.tags import NOTHING, Path, Tag
from ..pages.typefaces import Typefaces
from ..report.blocks import ALIGNMENTS, LEAST_SIDE, MOST_SIDE, Image, is_source
from ..report.elements import Field, Kind, add_kind, flag, number, one_of, short
from ..report.report import Report

SPACE = 6.0
"""Points above and below a picture."""


def _source(value: Any) -> str | None:
    return value if isinstance(value, str) and is_source(value) else None


add_kind(
    Kind(
        Image,
        "image",
        (
            Field("source", "source", _source, ""),
            Field("width", "width", number(LEAST_SIDE, MOST_SIDE), 100.0),
            Field("height", "height", number(LEAST_SIDE, MOST_SIDE), 100.0),
            Field("alt", "alt", short(500), ""),
            Field("decorative", "decorative", flag),
            Field("align", "align", one_of(*ALIGNMENTS), "center"),
            Field("beside", "beside", flag, False),
        ),
    )
)


@measure.register
def _(block: Image, report: Report, typefaces: Typefaces) -> Box:
    height = fitted(block, report)[1]
    return Box((height,), (), height, SPACE, SPACE, keep_with_next=True)


@draw.register
def _(block: Image, placed: Placed, on: Drawing) -> Iterator[Mark]:
    width, height = fitted(block, on.report)
    yield Belongs(path_of(block))
    # What stands beside it keeps it on the page, unless notes take more of that than is foreseen.
    group = on.pages.groups.get(placed.box)
    y = min(placed.y, on.report.page.text_height - height) if group and group.beside else placed.y
    yield picture_at(block, 0.0, y, on.report.page.column_width, width, height)


def path_of(image: Image, around: Path = ()) -> Path:
    """Where a picture stands in the structure of a PDF (ISO 32000-1, 14.8.4.5), within ``around``."""
    if image.decorative:
        return NOTHING
    return (*around, Tag("Figure", image.id, (("Alt", image.alt),) if image.alt else ()))


def picture_at(image: Image, x: float, y: float, room: float, width: float, height: float) -> Picture:
    """A picture as it is drawn within ``room`` points from ``x``, its top at ``y``."""
    free = room - width
    return Picture(x + {"left": 0.0, "right": free}.get(image.align, free / 2), y, width, height, image.source)
