"""A picture, on a line of its own or with text beside it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..pages.beside import fitted
from ..pages.boxes import Box, measure
from ..pages.draw import Belongs, Drawing, Mark, Picture, draw
from ..pages.fill import Placed
from ..pages.tags import NOTHING, Tag
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
    free = on.report.page.column_width - width
    figure = Tag("Figure", block.id, (("Alt", block.alt),) if block.alt else ())
    yield Belongs(NOTHING if block.decorative else (figure,))
    # What stands beside it keeps it on the page, unless notes take more of that than is foreseen.
    group = on.pages.groups.get(placed.box)
    y = min(placed.y, on.report.page.text_height - height) if group and group.beside else placed.y
    yield Picture({"left": 0.0, "right": free}.get(block.align, free / 2), y, width, height, block.source)
