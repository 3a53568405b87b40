"""The place in the text where a table is printed. How its lines are set: see ``tables/setting.py``."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from ..pages.boxes import Box, measure
from ..pages.draw import Drawing, Link, Mark, Rule, Words, draw, draw_lines
from ..pages.fill import Placed
from ..pages.lines import InFaces, break_lines, pieces
from ..pages.typefaces import Typefaces
from ..report.blocks import Paragraph, PlacedTable, Run
from ..report.elements import Field, Kind, add_kind, flag, identifier, short
from ..report.recipes import Recipe
from ..report.report import Report
from ..tables.setting import COLUMN_GAP, Part, SetTable, leader_places, set_table

SPACE = 10.0
"""Points above and below a table."""
MOST = 50
"""Tables that may be placed in a report: each is as long as the report has headings, and kept level with all of them."""
_RULE = "#8a8390"
_RULE_WEIGHT = 0.5

add_kind(
    Kind(
        PlacedTable,
        "placedTable",
        (
            Field("table", "table", identifier, "", unique=True),
            Field("own_page", "ownPage", flag, False),
            Field("kind", "kind", short(32), "contents"),
        ),
        most=MOST,
    )
)


@measure.register
def _(block: PlacedTable, report: Report, typefaces: Typefaces) -> Box:
    issued = report.tables.get(block.table)
    if issued is None:
        return Box((), new_page=block.own_page, ends_page=block.own_page)
    made, recipe = set_table(issued, report, typefaces), issued.recipe
    # A title that would leave no room for lines is not repeated.
    again = recipe.continued and made.titled and made.heights[0] < report.page.text_height / 2
    box = Box(made.heights, (), 0.0, SPACE, SPACE, 1, new_page=block.own_page, ends_page=block.own_page,
              repeated=int(again), columns=recipe.columns, spanning=int(made.titled))  # fmt: skip
    return replace(box, total=box.extent(0, len(box.heights)))


@draw.register
def _(block: PlacedTable, placed: Placed, on: Drawing) -> Iterator[Mark]:
    issued = on.report.tables.get(block.table)
    if issued is None:
        return
    made = on.once(block.id, lambda: set_table(issued, on.report, on.typefaces))
    box = on.pages.boxes[placed.box]
    if placed.first and box.repeated:
        yield from _again(made.parts[0], placed.y - box.heights[0], on)
    over = max(placed.first, min(box.spanning, placed.end))
    turn = box.turn(placed.first, placed.end) if box.columns > 1 else placed.end
    top = placed.y + sum(box.heights[placed.first : over])
    right = made.measures.column + COLUMN_GAP
    for first, end, x, y in (
        (placed.first, over, 0.0, placed.y),
        (over, turn, 0.0, top),
        (turn, placed.end, right, top),
    ):
        for index in range(first, end):
            yield from _draw_part(made.parts[index], made, issued.recipe, x, y, on)
            y += box.heights[index]


def _again(title: Part, y: float, on: Drawing) -> Iterator[Mark]:
    """The title over a further page."""
    paragraph = Paragraph("", runs=(Run(f"{title.paragraph.text} (continued)"),))
    lines = break_lines(paragraph, title.style, title.width, on.typefaces)
    among = range(min(len(lines.starts), len(title.lines.starts)))
    yield from draw_lines(paragraph, title.style, lines, among, 0.0, y, title.width, on)


def _draw_part(part: Part, made: SetTable, recipe: Recipe, x: float, y: float, on: Drawing) -> Iterator[Mark]:
    """The title or a line, with its top left corner at ``x`` and ``y``."""
    yield from draw_lines(part.paragraph, part.style, part.lines, range(len(part.lines.starts)), x, y, part.width, on)
    line, style = part.line, part.style
    if line is None:
        return
    face, column = on.typefaces.face(style.font, style.bold, style.italic), made.measures.column
    if part.number:
        number = part.number.upper() if recipe.look(line.level).capitals else part.number
        baseline = face.baseline(y, part.lines.heights[0], style.size)
        yield Words(x + part.number_at, baseline, number, face, style.size, style.colour)
    if recipe.page_numbers == "edge" and recipe.look(line.level).page_number:
        yield from _page_number(part, ", ".join(line.pages), recipe, x, x + column, y, on)
    left = x + made.measures.indents[line.level - 1]
    if recipe.ruled == "lines" or (recipe.ruled == "sections" and line.level == recipe.levels[0]):
        below = y + part.height + style.space_after / 2
        yield Rule(x, below, column, 0.0, _RULE_WEIGHT, _RULE)
    if recipe.links and on.reaches(line.source):
        yield Link(left, y, x + column - left, part.height, line.source, line.text)


def _page_number(
    part: Part, pages: str, recipe: Recipe, left: float, right: float, y: float, on: Drawing
) -> Iterator[Mark]:
    """Page number at the right edge of a line's last row, and the leader up to it."""
    style = part.style
    face = on.typefaces.face(style.font, style.bold, style.italic)
    baseline = face.baseline(y + sum(part.lines.heights[:-1]), part.lines.heights[-1], style.size)
    width = face.width(pages) * style.size
    yield Words(right - width, baseline, pages, face, style.size, style.colour)
    if not recipe.leader:
        return
    last = len(part.lines.starts) - 1
    words = InFaces(part.paragraph, style, on.typefaces)
    placed = next(pieces(part.paragraph, style, part.width, words, part.lines, [last]))
    reach = left + (placed[-1].x + placed[-1].width if placed else 0.0)
    places = leader_places(recipe, right, reach, width)
    if len(places) < 2:
        return
    if recipe.leader == "_":
        yield Rule(places[0], baseline, places[-1] - places[0], 0.0, _RULE_WEIGHT, style.colour)
        return
    own = face.width(recipe.leader) * style.size
    yield Words(
        places[0] - own / 2,
        baseline,
        recipe.leader * len(places),
        face,
        style.size,
        style.colour,
        recipe.leader_step,
    )
