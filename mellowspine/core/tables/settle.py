"""Bringing tables up to date: their lines, and the pages that these take up themselves."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from typing import Literal

from ..pages.pages import Pages, paginate
from ..pages.typefaces import Typefaces
from ..report.blocks import Block, Paragraph, PlacedTable
from ..report.report import Report
from ..report.tables import Issued, Line
from ..structure.outline import Outline, outline
from .kinds import build

Scope = Literal["everything", "pages"]

MOST_ROUNDS = 8
"""Rounds after which tables whose own length goes on moving what they list are left as they are."""


def catch_up(issued: Issued, fresh: tuple[Line, ...], scope: Scope) -> Issued:
    """The issued table with all lines as in ``fresh``, or with the page numbers alone brought up to date."""
    if scope == "everything":
        return Issued(issued.recipe, fresh)
    pages = {line.source: line.pages for line in fresh}
    return Issued(
        issued.recipe, tuple(line._replace(pages=pages.get(line.source, line.pages)) for line in issued.lines)
    )


def settle(
    report: Report, tables: Collection[str], scope: Scope, typefaces: Typefaces, headings: Outline, pages: Pages
) -> tuple[Report, Pages]:
    """Brings tables of a report up to date, the pages that they take up themselves included.

    ``headings`` are the report's own, ``pages`` those of any earlier state of it. Each round numbers the lines by the
    pages of the round before, until a round changes nothing. Two are enough where no line grows with a page number: the
    first gives the words, and with them all heights; the second the numbers. Where a number makes a line longer, more
    may be needed, and it may be that no round is the last: a longer line moves what it lists back to where its number
    was shorter. Then, after ``MOST_ROUNDS``, the lines stay as they are, and those that are not true are behind.
    """
    pages = paginate(report, typefaces, pages)
    for _ in range(MOST_ROUNDS):
        caught = {
            key: catch_up(issued, build(issued.recipe, headings, pages), scope)
            for key in tables
            for issued in [report.tables[key]]
        }
        if all(report.tables[key] == issued for key, issued in caught.items()):
            break
        report = replace(report, tables={**report.tables, **caught})
        pages = paginate(report, typefaces, pages)
    return report, pages


def settle_all(report: Report, typefaces: Typefaces) -> tuple[Report, Pages]:
    """Brings every table of a report up to date."""
    return settle(report, report.tables.keys(), "everything", typefaces, outline(report), paginate(report, typefaces))


def _is_title(block: Block, report: Report) -> bool:
    return isinstance(block, Paragraph) and report.styles[block.style].role in ("title", "subtitle")


def with_contents(report: Report, typefaces: Typefaces) -> tuple[Report, Pages]:
    """The report with its tables up to date, or if it holds none, with a contents table of its own pages behind its
    title."""
    if any(type(block) is PlacedTable for block in report.blocks):
        return settle_all(report, typefaces)
    front = 0
    while front < len(report.blocks) and _is_title(report.blocks[front], report):
        front += 1
    placed: Block = PlacedTable("contents", "contents", own_page=True)
    blocks = (*report.blocks[:front], placed, *report.blocks[front:])
    report = replace(report, blocks=blocks, tables={**report.tables, "contents": Issued()})
    return settle_all(report, typefaces)
