"""The outline: every heading of a report in reading order, with its computed number."""

from __future__ import annotations

from typing import NamedTuple

from ..report.blocks import DataTable, Paragraph
from ..report.report import Report
from .numbering import Decimal


class Heading(NamedTuple):
    """``block`` is the index of its block in the report; ``row`` the row if it stands in a data table, else 0."""

    id: str
    level: int
    number: str
    text: str
    block: int
    row: int = 0


Outline = tuple[Heading, ...]


def outline(report: Report) -> Outline:
    """All headings, those with no text left out."""
    levels = report.styles.levels
    numbered = {key for key, style in report.styles.items() if style.marker == "number"}
    counter = Decimal()
    found: list[Heading] = []

    def add(paragraph: Paragraph, block: int, row: int) -> None:
        text = " ".join(paragraph.text.split())
        if text:
            level = levels[paragraph.style]
            found.append(
                Heading(
                    paragraph.id, level, counter.next(level) if paragraph.style in numbered else "", text, block, row
                )
            )

    for index, block in enumerate(report.blocks):
        if type(block) is Paragraph:
            if block.style in levels:
                add(block, index, 0)
        elif type(block) is DataTable:
            for row, cells in enumerate(block.rows):
                for cell in cells:
                    for paragraph in cell.paragraphs:
                        if paragraph.style in levels:
                            add(paragraph, index, row)
    return tuple(found)
