"""The place in the text where a table is printed. How its lines are set: see ``tables/setting.py``."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from ..pages.boxes import Box, measure
from ..pages.draw import Belongs, Drawing, Link, Mark, Rule, Words, draw, draw_lines
from ..pages.fill import Placed
from ..pages.lines import break_lines
from ..pages.tags import NOTHING, Path, Tag
from ..pages.typefaces import Typefaces
from ..report.blocks import Paragraph, PlacedTable, Run
from ..report.elements import Field, Kind, add_kind, flag, identifier, short
from ..report.recipes import Recipe
from ..report.report import Report
from ..report.tables import Line
from ..tables.setting import COLUMN_GAP, PAGE_SEPARATOR, Part, SetTable, leader_places, reach_of, set_table

SPACE = 10.0
"""Points above and below a table."""
MOST = 50
"""Tables that may be placed in a report: each is as long as the report has headings, and kept level with all of them."""
_INDEXES = ("authorities", "index")
"""Kinds of table whose lines have several pages, and stand in an order of their own."""
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
    box = Box(made.heights, (), 0.0, SPACE, SPACE, new_page=block.own_page, ends_page=block.own_page,
              repeated=int(again), columns=recipe.columns, spanning=int(made.titled), holding=_holding(made))  # fmt: skip
    return replace(box, total=box.extent(0, len(box.heights)))


def _holding(made: SetTable) -> frozenset[int]:
    """The parts that stand over those behind them, and have no pages of their own: categories, letters, terms with others beneath."""
    return frozenset(
        number
        for number, (one, following) in enumerate(pairwise(made.parts))
        if one.line and not one.line.pages and following.line and following.line.level > one.line.level
    )


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
            part = made.parts[index]
            yield from _draw_part(part, made, issued.recipe, x, y, on, _path(block, issued.recipe, part, index))
            y += box.heights[index]


def _again(title: Part, y: float, on: Drawing) -> Iterator[Mark]:
    """The title over a further page."""
    paragraph = Paragraph("", runs=(Run(f"{title.paragraph.text} (continued)"),))
    lines = break_lines(paragraph, title.style, title.width, on.typefaces)
    among = range(min(len(lines.starts), len(title.lines.starts)))
    yield from draw_lines(paragraph, title.style, lines, among, 0.0, y, title.width, on)


def _path(block: PlacedTable, recipe: Recipe, part: Part, index: int) -> Path:
    """Where the title or a line stands (ISO 32000-1, 14.8.4.2): an item of contents with what it refers to, or an entry of an index."""
    if recipe.kind in _INDEXES:
        return Tag("Index", block.id), Tag("P", index)
    table = Tag("TOC", block.id)
    return (table, Tag("Caption")) if part.line is None else (table, Tag("TOCI", index), Tag("Reference"))


def _leads(line: Line, recipe: Recipe, on: Drawing) -> bool:
    """Whether a line is a link as a whole."""
    return recipe.links and on.reaches(line.to) and not (line.leads and recipe.page_numbers == "words")


def _draw_part(
    part: Part, made: SetTable, recipe: Recipe, x: float, y: float, on: Drawing, path: Path
) -> Iterator[Mark]:
    """The title or a line, with its top left corner at ``x`` and ``y``."""
    line, style = part.line, part.style
    face, column = on.typefaces.face(style.font, style.bold, style.italic), made.measures.column
    link = line is not None and _leads(line, recipe, on)
    inside = (*path, Tag("Link")) if link else path
    if line is not None and part.number:
        number = part.number.upper() if recipe.look(line.level).capitals else part.number
        baseline = face.baseline(y, part.lines.heights[0], style.size)
        yield Belongs(inside)
        yield Words(x + part.number_at, baseline, number, face, style.size, style.colour)
    numbers = range(len(part.lines.starts))
    yield from draw_lines(part.paragraph, style, part.lines, numbers, x, y, part.width, on, path=inside)
    if line is None:
        return
    if link:
        left, wide = x + made.measures.indents[line.level - 1], part.width if line.leads else column
        yield Link(left, y, x + wide - left, sum(part.lines.heights), line.to, line.text)
    if recipe.page_numbers == "edge" and recipe.look(line.level).page_number and line.pages:
        yield from _page_numbers(part, line, recipe, x, x + column, y, on, path, inside)
    if recipe.ruled == "lines" or (recipe.ruled == "sections" and line.level == recipe.levels[0]):
        below = y + part.height + style.space_after / 2
        yield Belongs(NOTHING)
        yield Rule(x, below, column, 0.0, _RULE_WEIGHT, _RULE)


def _page_numbers(
    part: Part, line: Line, recipe: Recipe, left: float, right: float, y: float, on: Drawing, path: Path, inside: Path
) -> Iterator[Mark]:
    """Page numbers at the right edge of a line, and the leader up to them. They stand in ``inside``, and those that are links of
    their own in ``path``."""
    style = part.style
    face = on.typefaces.face(style.font, style.bold, style.italic)
    rows = part.page_rows or ((0, len(line.pages)),)
    top = y + sum(part.lines.heights[:-1]) + (part.row_height if part.beneath else 0.0)
    reach = left + (part.style.indent if part.beneath else reach_of(part, on.typefaces))
    for row, (first, end) in enumerate(rows):
        baseline = face.baseline(top, part.row_height, style.size)
        comma = face.width(PAGE_SEPARATOR) * style.size
        set_pages = []
        for at in range(first, end):
            lead = line.leads[at] if at < len(line.leads) else None
            own = on.typefaces.face(style.font, True, style.italic) if lead and lead.main else face
            set_pages.append((line.pages[at], lead, own, own.width(line.pages[at]) * style.size))
        width = sum(wide for *_, wide in set_pages) + comma * (len(set_pages) - (end == len(line.pages)))
        x = right - width
        for at, (page, lead, own, wide) in enumerate(set_pages, first):
            leads = lead is not None and recipe.links and on.reaches(lead.to)
            yield Belongs((*path, Tag("Link", at)) if leads else path if line.leads else inside)
            if page:  # none on pages without numbers
                yield Words(x, baseline, page, own, style.size, style.colour)
            if lead and leads:
                yield Link(x, top, wide, part.row_height, lead.to, f"{line.text}, {page}")
            x += wide
            if at + 1 < len(line.pages):
                if leads:
                    yield Belongs(path)
                yield Words(x, baseline, PAGE_SEPARATOR.rstrip(), face, style.size, style.colour)
                x += comma
        if row == 0:  # behind the numbers, so that readers of the file find words and number together
            yield from _leader(part, recipe, reach, right, width, baseline, on)
        top += part.row_height


def _leader(
    part: Part, recipe: Recipe, reach: float, right: float, width: float, baseline: float, on: Drawing
) -> Iterator[Mark]:
    """What leads from the words, which end at ``reach``, to page numbers of ``width`` points."""
    if not recipe.leader:
        return
    style = part.style
    face = on.typefaces.face(style.font, style.bold, style.italic)
    places = leader_places(recipe, right, reach, width)
    if len(places) < 2:
        return
    yield Belongs(NOTHING)
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
