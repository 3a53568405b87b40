"""Bringing tables up to date: their lines, and the pages that these take up themselves."""

from __future__ import annotations

from collections.abc import Collection, Set
from dataclasses import replace
from typing import Literal

from ..pages.pages import Pages, paginate
from ..pages.typefaces import Typefaces
from ..report.blocks import Block, Paragraph, PlacedTable
from ..report.report import Report
from ..report.tables import Issued, Line
from ..structure.outline import Outline, outline
from .behind import behind, reads_alike
from .kinds import build, placed_tables, sources_of
from .own import put_in, worded

Scope = Literal["everything", "pages"] | Set[str]
"""What is brought up to date: all of it, its page numbers alone, or the lines with these sources."""

MOST_ROUNDS = 8
"""Rounds after which tables whose own length goes on moving what they list are left as they are."""


def catch_up(issued: Issued, fresh: tuple[Line, ...], scope: Scope, among: Collection[str] | None = None) -> Issued:
    """The issued table with lines brought up to date; own words stay. ``fresh`` are the lines that the text gives.

    ``among``: the lines whose page numbers are, where that is not all.
    """
    fresh = worded(fresh, issued.own)
    if scope == "everything":
        return replace(issued, lines=fresh)
    if scope == "pages":
        now = {line.source: line for line in fresh if among is None or line.source in among}
        lines = tuple(
            line._replace(pages=there.pages, leads=there.leads)
            if (there := now.get(line.source)) and (there.pages, there.leads) != (line.pages, line.leads)
            else line
            for line in issued.lines
        )
        return issued if lines == issued.lines else replace(issued, lines=lines)
    return replace(issued, lines=_chosen(issued.lines, fresh, scope))


def _chosen(issued: tuple[Line, ...], fresh: tuple[Line, ...], chosen: Set[str]) -> tuple[Line, ...]:
    """The lines with some of them brought up to date; each new or moved one goes behind the nearest before it in the text."""
    differing = {one.line.source: one for one in behind(issued, fresh) if one.line.source in chosen}
    placed = {source for source, one in differing.items() if {"new", "moved"} & {*one.kinds}}
    lines = tuple(
        now if one and (now := one.fresh) else line
        for line in issued
        for one in [differing.get(line.source)]
        if line.source not in placed and not (one and one.fresh is None)
    )
    # What reads as it should leads where it should as well, chosen or not.
    there = {line.source: line for line in fresh}
    lines = tuple(now if (now := there.get(line.source)) and reads_alike(now, line) else line for line in lines)
    return put_in(lines, [line for line in fresh if line.source in placed], fresh)


def reselected(issued: Issued, before: tuple[Line, ...], now: tuple[Line, ...]) -> Issued:
    """The table after its recipe came to list something else: what that alone changes is brought up to date, and all else
    is as far behind as it was.

    ``before`` and ``now`` are the lines that the text gives by the recipe of before and by that of now.
    """
    old, new = {line.source: line for line in before}, {line.source: line for line in worded(now, issued.own)}
    lines = []
    for line in issued.lines:
        was, is_now = old.get(line.source), new.get(line.source)
        if was and is_now:
            text = is_now.text if line.text == was.text else line.text  # a recipe may list less of the words
            emphasis = is_now.emphasis if text == is_now.text else line.emphasis
            level = is_now.level if line.level == was.level else line.level
            paged = is_now if line.pages == was.pages else line  # or otherwise of its pages
            lines.append(line._replace(level=level, text=text, emphasis=emphasis, pages=paged.pages, leads=paged.leads))
        elif not was or is_now:
            lines.append(line)
    listed = {line.source for line in lines}
    added = [line for line in new.values() if line.source not in old and line.source not in listed]
    return replace(issued, lines=put_in(lines, added, now))


def settle(
    report: Report,
    tables: Collection[str],
    scope: Scope,
    typefaces: Typefaces,
    headings: Outline,
    pages: Pages,
    among: Collection[str] | None = None,
) -> tuple[Report, Pages]:
    """Brings tables of a report up to date, the pages that they take up themselves included; ``among`` as in ``catch_up``.

    ``headings`` are the report's own, ``pages`` those of any earlier state of it. Each round numbers the lines by the
    pages of the round before, until a round changes nothing. Two are enough where no line grows with a page number: the
    first gives the words, and with them all heights; the second the numbers. Where a number makes a line longer, more
    may be needed, and it may be that no round is the last: a longer line moves what it lists back to where its number
    was shorter. Then, after ``MOST_ROUNDS``, the lines stay as they are, and those that are not true are behind.
    """
    places = {key: at for key, (at, _) in placed_tables(report.blocks).items()}
    pages = paginate(report, typefaces, pages)
    for _ in range(MOST_ROUNDS):
        sources = sources_of(headings, pages)
        caught = {
            key: catch_up(issued, build(issued.recipe, sources._replace(at=places.get(key))), scope, among)
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
