"""Where a part of the report begins: what follows it stands on pages of that part."""

from __future__ import annotations

from ..pages.boxes import Box, measure
from ..pages.typefaces import Typefaces
from ..report.blocks import PartStart
from ..report.elements import Kind, add_kind
from ..report.report import Report

add_kind(Kind(PartStart, "part"))


@measure.register
def _(block: PartStart, report: Report, typefaces: Typefaces) -> Box:
    return Box((), new_page=True, new_part=True)
