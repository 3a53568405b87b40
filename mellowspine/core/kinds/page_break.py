"""A page break: what follows it begins on a new page."""

from __future__ import annotations

from ..pages.boxes import Box, measure
from ..pages.typefaces import Typefaces
from ..report.blocks import PageBreak
from ..report.elements import Kind, add_kind
from ..report.report import Report

add_kind(Kind(PageBreak, "pageBreak"))


@measure.register
def _(block: PageBreak, report: Report, typefaces: Typefaces) -> Box:
    return Box((), ends_page=True)
