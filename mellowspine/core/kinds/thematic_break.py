"""A thematic break: a line across the column."""

from __future__ import annotations

from collections.abc import Iterator

from ..pages.boxes import Box, measure
from ..pages.draw import Belongs, Drawing, Mark, Rule, draw
from ..pages.fill import Placed
from ..pages.tags import NOTHING
from ..pages.typefaces import Typefaces
from ..report.blocks import ThematicBreak
from ..report.elements import Kind, add_kind
from ..report.report import Report

HEIGHT, SPACE = 12.0, 6.0
"""Points of the line with what is free around it, and between that and its neighbours."""
_WEIGHT, _COLOUR = 0.75, "#847d8a"

add_kind(Kind(ThematicBreak, "thematicBreak"))


@measure.register
def _(block: ThematicBreak, report: Report, typefaces: Typefaces) -> Box:
    return Box((HEIGHT,), (), HEIGHT, SPACE, SPACE)


@draw.register
def _(block: ThematicBreak, placed: Placed, on: Drawing) -> Iterator[Mark]:
    yield Belongs(NOTHING)
    yield Rule(0.0, placed.y + HEIGHT / 2, on.report.page.column_width, 0.0, _WEIGHT, _COLOUR)
