"""The place in the text where a table is printed, and how its lines are set there.

Page numbers stand in a column of fixed width at the right edge. So the height of a table follows from the words of its
lines alone, and the numbers are filled in afterwards: see ``tables/settle.py``.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

from ..pages.boxes import Box, measure
from ..pages.draw import Drawing, Link, Mark, Words, draw, draw_lines
from ..pages.fill import Placed
from ..pages.lines import break_lines, pieces
from ..pages.typefaces import Typefaces
from ..report.blocks import Paragraph, PlacedTable, Run
from ..report.elements import Field, Kind, add_kind, flag, identifier, short
from ..report.report import Report
from ..report.styles import Style
from ..report.tables import Issued, Line
from ..tables.kinds import table_kind

SPACE = 10.0
"""Points above and below a table."""
_NUMBER_GAP = 6.0
_LEADER_GAP = 8.0
"""Points free before and behind a leader."""

add_kind(
    Kind(
        PlacedTable,
        "placedTable",
        (
            Field("table", "table", identifier, "", unique=True),
            Field("own_page", "ownPage", flag, False),
            Field("kind", "kind", short(32), "contents"),
        ),
    )
)


@dataclass(frozen=True, slots=True)
class Setting:
    """One part of a table as set: its title or a line. ``top`` and ``height`` in points from the table's top."""

    top: float
    height: float
    paragraph: Paragraph
    style: Style
    width: float
    line: Line | None


def number_column(issued: Issued, typefaces: Typefaces) -> float:
    """Width in points kept free for page numbers: four figures and a gap before them."""
    recipe = issued.recipe
    face = typefaces.face(recipe.font, True)
    return 4 * face.width("0") * max(look.size for look in recipe.looks) + _NUMBER_GAP


def set_table(issued: Issued, report: Report, typefaces: Typefaces) -> list[Setting]:
    """The title and all lines of a table, top to bottom. A table with no lines says so in one."""
    recipe = issued.recipe
    body = report.styles.role("body")
    styles = [
        replace(body, font=recipe.font, size=look.size, bold=look.bold, italic=False, align="left",
                space_before=look.space_before, space_after=look.space_after, line_spacing=recipe.line_spacing,
                indent=look.indent, first_line=0.0)
        for look in recipe.looks
    ]  # fmt: skip
    result: list[Setting] = []
    y = 0.0

    def add(paragraph: Paragraph, style: Style, width: float, line: Line | None) -> None:
        nonlocal y
        y += style.space_before if result else 0.0
        height = sum(break_lines(paragraph, style, width, typefaces).heights)
        result.append(Setting(y, height, paragraph, style, width, line))
        y += height + style.space_after

    full = report.page.text_width
    if recipe.title:
        add(Paragraph("", runs=(Run(recipe.title),)), report.styles.role("table-title"), full, None)
    narrow = full - number_column(issued, typefaces)
    for line in issued.lines:
        words = f"{line.number}  {line.text}" if line.number else line.text
        add(Paragraph("", runs=(Run(words),)), styles[line.level - 1], narrow, line)
    if not issued.lines:
        empty = Paragraph("", runs=(Run(table_kind(recipe.kind).nothing),))
        add(empty, replace(body, font=recipe.font, italic=True), full, None)
    return result


@measure.register
def _(block: PlacedTable, report: Report, typefaces: Typefaces) -> Box:
    issued = report.tables.get(block.table)
    if issued is None:
        return Box((), new_page=block.own_page, ends_page=block.own_page)
    parts = set_table(issued, report, typefaces)
    heights = (*(after.top - before.top for before, after in pairwise(parts)), parts[-1].height)
    return Box(heights, (), sum(heights), SPACE, SPACE, 1, new_page=block.own_page, ends_page=block.own_page)


@draw.register
def _(block: PlacedTable, placed: Placed, on: Drawing) -> Iterator[Mark]:
    issued = on.report.tables.get(block.table)
    if issued is None:
        return
    parts = on.once(block.id, lambda: set_table(issued, on.report, on.typefaces))
    for part in parts[placed.first : placed.end]:
        y = placed.y + part.top - parts[placed.first].top
        lines = break_lines(part.paragraph, part.style, part.width, on.typefaces)
        yield from draw_lines(part.paragraph, part.style, lines, range(len(lines.starts)), 0.0, y, part.width, on)
        if part.line is not None:
            yield from _page_number(part, part.line, y, issued.recipe.leader, on)


def _page_number(part: Setting, line: Line, y: float, leader: str, on: Drawing) -> Iterator[Mark]:
    """Page number at the right edge of a table line's last row, leader up to it, and the link over all of it."""
    style, width = part.style, on.report.page.text_width
    face = on.typefaces.face(style.font, style.bold)
    lines = break_lines(part.paragraph, style, part.width, on.typefaces)
    baseline = face.baseline(y + sum(lines.heights[:-1]), lines.heights[-1], style.size)
    numbers = ", ".join(line.pages)
    end = width - face.width(numbers) * style.size
    yield Words(end, baseline, numbers, face, style.size, style.colour)
    placed = pieces(part.paragraph, style, part.width, on.typefaces, lines, len(lines.starts) - 1)
    reach = (placed[-1].x + placed[-1].width if placed else 0.0) + _LEADER_GAP
    if leader:
        step = max(face.width(leader), 0.1) * style.size * 1.6
        x = end - _LEADER_GAP - step
        dots = int((x - reach) / step) + 1
        if dots > 1:
            apart = step - face.width(leader) * style.size
            yield Words(x - (dots - 1) * step, baseline, leader * dots, face, style.size, style.colour, apart)
    if on.reaches(line.source):
        yield Link(style.indent, y, width - style.indent, part.height, line.source, line.text)
