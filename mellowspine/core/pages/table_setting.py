"""How a table is set on the page. The numbers stand in a column of fixed width at the right edge.

Because that column never changes its width, the height of a table follows from the words of its lines alone. So the
pages of a report are known as soon as the words are, and the numbers are filled in afterwards: see ``settle``.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..report.blocks import Paragraph, Run
from ..report.report import Report
from ..report.styles import Style
from ..report.tables import Issued, Line
from .lines import break_lines
from .typefaces import Typefaces

TABLE_GAP = 10.0
_NUMBER_GAP = 6.0
_LINE_SPACING = 1.35


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


def lay_out(issued: Issued, report: Report, typefaces: Typefaces) -> list[Setting]:
    """The title and all lines of a table, top to bottom. A table with no lines says so in one."""
    recipe = issued.recipe
    body = report.styles["body"]
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
        add(Paragraph("", runs=(Run(recipe.title),)), report.styles["table-title"], full, None)
    narrow = full - number_column(issued, typefaces)
    for line in issued.lines:
        look = recipe.look(line.level)
        style = replace(body, font=recipe.font, size=look.size, bold=look.bold, italic=False, align="left",
                        space_before=look.space_before, space_after=2.0, line_spacing=_LINE_SPACING,
                        indent=look.indent, first_line=0.0)  # fmt: skip
        words = f"{line.number}  {line.text}" if line.number else line.text
        add(Paragraph("", runs=(Run(words),)), style, narrow, line)
    if not issued.lines:
        empty = Paragraph("", runs=(Run("No headings yet."),))
        add(empty, replace(body, font=recipe.font, italic=True), full, None)
    return result
