"""Ways back: a line at the end of every section of a level that leads to the contents.

Such a line is no part of the text: it follows when sections come and go. It is set as the last part of the block that it
stands beneath.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from ..report.blocks import Block, PageBreak, Paragraph, PartStart, PlacedTable
from ..report.report import Report
from ..report.styles import Style
from ..structure.footnotes import is_note
from ..structure.outline import Outline
from .as_set import as_set
from .boxes import Box

ABOVE = 6.0
"""Points between the text and such a line."""
SIZE = 9.5
"""Of its words, in points."""


def contents_of(report: Report) -> PlacedTable | None:
    """The table that ways back lead to: the first in the text."""
    return next((block for block in report.blocks if type(block) is PlacedTable), None)


def backs(report: Report, headings: Outline) -> frozenset[str]:
    """The ids of the blocks that end a section of the level whose sections have a way back; none without contents."""
    level = report.page.back_level
    if level is None or contents_of(report) is None:
        return frozenset()
    return frozenset(_ends(report, headings, level))


def _ends(report: Report, headings: Outline, level: int) -> Iterator[str]:
    sections = [heading for heading in headings if heading.by_hand != "put in" and heading.level <= level]
    ends = [*(heading.block for heading in sections[1:]), len(report.blocks)]
    for heading, end in zip(sections, ends, strict=False):
        if heading.level == level and end > heading.block:
            last = end - 1
            while last > heading.block and _has_no_place(report.blocks[last], report):
                last -= 1
            yield report.blocks[last].id


def _has_no_place(block: Block, report: Report) -> bool:
    """Whether a way back cannot stand beneath a block: nothing is seen of it there, or it has pages of its own."""
    return isinstance(block, PageBreak | PartStart | PlacedTable) or is_note(block, report)


def back_style(report: Report) -> Style:
    body = report.styles.role("body")
    return replace(body, size=SIZE, align="left", indent=0.0, first_line=0.0)


def back_height(report: Report) -> float:
    """Of such a line, with the space above it."""
    return ABOVE + SIZE * back_style(report).line_spacing


def with_back(box: Box, block: Block, report: Report) -> Box:
    """The box of a block, with a way back as its last part if there is one beneath the block."""
    if block.id not in report.backs:
        return box
    height = back_height(report)
    after = len(as_set(block, report).text) if isinstance(block, Paragraph) else box.starts[-1] + 1 if box.starts else 0
    starts = (*box.starts, after) if box.starts else ()
    return replace(box, heights=(*box.heights, height), starts=starts, total=box.total + height)
