"""A line across the page."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..formats import markdown
from ..pages import draw as marks
from ..pages.boxes import Box, measure
from ..pages.draw import Drawing, Mark, draw
from ..pages.fill import Placed
from ..pages.typefaces import Typefaces
from ..report.elements import Kind, add_kind
from ..report.report import Report

_HEIGHT, _SPACE = 12.0, 6.0


@dataclass(frozen=True, slots=True)
class Rule:
    id: str


add_kind(Kind(Rule, "rule"))
markdown.BLOCKS["hr"] = Rule


@measure.register
def _(block: Rule, report: Report, typefaces: Typefaces) -> Box:
    return Box((_HEIGHT,), (), _HEIGHT, _SPACE, _SPACE)


@draw.register
def _(block: Rule, placed: Placed, on: Drawing) -> Iterator[Mark]:
    yield marks.Rule(0.0, placed.y + _HEIGHT / 2, on.report.page.text_width, 0.0, 0.75, "#5a5260")
