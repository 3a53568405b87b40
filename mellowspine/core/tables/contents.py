"""The contents table: which lines the text would give now, and bringing the issued ones up to date."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from ..pages.pages import Pages, paginate
from ..pages.typefaces import Typefaces
from ..report.blocks import Block, PlacedTable
from ..report.report import Report
from ..report.tables import Issued, Line, Recipe
from ..structure.outline import Outline, outline

Scope = Literal["everything", "pages"]


def pages_of(headings: Outline, pages: Pages) -> list[int]:
    """The sheet on which each heading stands."""
    return pages.pages_of((heading.block, heading.row) for heading in headings)


def build(recipe: Recipe, headings: Outline, pages: Pages, on: Sequence[int] | None = None) -> tuple[Line, ...]:
    """The lines that the text gives now: every heading of the recipe's levels, with the page it stands on.

    ``on`` is what ``pages_of`` gives, if it is known already.
    """
    label, levels = pages.label, recipe.levels
    return tuple(
        Line(id, level, number, text, label(page))
        for (id, level, number, text, _, _), page in zip(headings, on or pages_of(headings, pages), strict=True)
        if level in levels
    )


def catch_up(issued: Issued, fresh: tuple[Line, ...], scope: Scope) -> Issued:
    """The issued table with all lines as in ``fresh``, or with the page numbers alone brought up to date."""
    if scope == "everything":
        return Issued(issued.recipe, fresh)
    now = {line.heading: line.page for line in fresh}
    return Issued(issued.recipe, tuple(line._replace(page=now.get(line.heading, line.page)) for line in issued.lines))


def settle(
    report: Report, table: str, scope: Scope, typefaces: Typefaces, headings: Outline, pages: Pages
) -> tuple[Report, Pages]:
    """Brings one table of a report up to date, the pages that the table itself takes up included.

    ``headings`` are the report's own, ``pages`` those of any earlier state of it. Two rounds are enough. The first
    gives the table its words; with them its height is final, since page numbers stand in a column of fixed width, and
    so are all pages. The second fills in the numbers and moves nothing.
    """
    pages = paginate(report, typefaces, pages)
    for _ in range(2):
        issued = report.tables[table]
        issued = catch_up(issued, build(issued.recipe, headings, pages), scope)
        report = replace(report, tables={**report.tables, table: issued})
        pages = paginate(report, typefaces, pages)
    return report, pages


def settle_all(report: Report, typefaces: Typefaces) -> tuple[Report, Pages]:
    """Brings every table of a report up to date. No height depends on a page number, so once around twice is enough:
    the first time round gives all tables their words, the second their numbers."""
    headings, pages = outline(report), paginate(report, typefaces)
    for _ in range(2):
        for key in report.tables:
            report, pages = settle(report, key, "everything", typefaces, headings, pages)
    return report, pages


def with_contents(report: Report, typefaces: Typefaces) -> tuple[Report, Pages]:
    """The report with its tables up to date, or if it holds none, with a contents table of its own pages behind its
    title."""
    if any(type(block) is PlacedTable for block in report.blocks):
        return settle_all(report, typefaces)
    front = 0
    while front < len(report.blocks) and getattr(report.blocks[front], "style", "") in ("title", "subtitle"):
        front += 1
    placed: Block = PlacedTable("contents", "contents", own_page=True)
    blocks = (*report.blocks[:front], placed, *report.blocks[front:])
    report = replace(report, blocks=blocks, tables={**report.tables, "contents": Issued()})
    return settle_all(report, typefaces)
