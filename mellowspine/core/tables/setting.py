"""How a table is set: every line broken into rows, and where numbers, leaders and page numbers stand.

Page numbers at the right edge stand in a column of fixed width. So the height of a table follows from the words of its
lines alone, and the numbers are filled in afterwards: see ``settle.py``. All lengths are in points.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise
from math import ceil
from typing import Any, NamedTuple, TypeVar

from ..pages.lines import InFaces, Lines, break_lines, in_one_line, pieces, reach_of_words
from ..pages.number_widths import GAP as NUMBER_GAP
from ..pages.typefaces import Face, Typefaces
from ..report.blocks import PLAIN, Marks, Paragraph, Reference, Run
from ..report.recipes import LevelLook, Recipe
from ..report.report import Report
from ..report.styles import Style
from ..report.tables import Issued, Line
from .kinds import table_kind

COLUMN_GAP = 18.0
"""Between two columns."""
LEAST_WORDS = 60.0
"""Width that every indent leaves for words."""
MOST_INDENT = 500.0
"""As much as a style can be indented."""
PAGE_SEPARATOR = ", "
"""Between page numbers."""
PAGE_GAP = 6.0
"""Between the words of a line and the column of page numbers, and between a leader and what it stands between."""
_FIGURES = 4
"""How many of a page number there is room for."""
LINK_COLOUR = "#3f3190"


@dataclass(frozen=True, slots=True)
class Measures:
    """What all lines of a table have in common. By level, from 1, where there are several."""

    column: float = 0.0
    """Width of a column of lines."""
    pages: float = 0.0
    """Width kept free for page numbers at its right edge."""
    number_widths: tuple[float, ...] = ()
    """Room for heading numbers that hang; 0 where none does."""
    indents: tuple[float, ...] = ()
    """As far as there is room for them."""
    hangs: tuple[float, ...] = ()
    """How much further all rows but the first are indented, as far as there is room for it."""
    figures: tuple[float, ...] = ()
    """Width of one figure of a page number."""
    leaders: tuple[float, ...] = ()
    """Width of the leader's character."""

    def words_at(self, level: int) -> float:
        """Where the words of a level begin."""
        return self.indents[level - 1] + self.number_widths[level - 1]


@dataclass(frozen=True, slots=True)
class Part:
    """The title of a table or one of its lines, as set in a column."""

    paragraph: Paragraph
    style: Style
    width: float
    lines: Lines
    line: Line | None = None
    number: str = ""
    """The heading number that hangs in front of it, at ``number_at`` from the left."""
    number_at: float = 0.0
    page_rows: tuple[tuple[int, int], ...] = ()
    """Of page numbers at the edge that are more than one, those (first, end) that stand in each row."""
    beneath: bool = False
    """Whether these rows stand beneath the words, since there is no room beside the last of them."""

    @property
    def row_height(self) -> float:
        return self.lines.heights[-1]

    @property
    def height(self) -> float:
        return sum(self.lines.heights) + self.row_height * (max(len(self.page_rows) - (not self.beneath), 0))


@dataclass(frozen=True, slots=True)
class SetTable:
    measures: Measures
    parts: tuple[Part, ...]
    heights: tuple[float, ...]
    """Of each part, with the space between it and the next."""
    titled: bool


def measures_of(issued: Issued, report: Report, typefaces: Typefaces) -> Measures:
    """The common measures of a table with these lines in this report."""
    recipe = issued.recipe
    full = report.page.column_width
    figures, leaders = (
        tuple(face_of(look, typefaces).width(text) * look.size for look in recipe.looks)
        for text in ("0", recipe.leader)
    )
    column = full if recipe.columns == 1 else (full - COLUMN_GAP) / 2
    pages = 0.0
    if recipe.page_numbers == "edge":
        pages = PAGE_GAP + max(
            _FIGURES * max(figures[level - 1] for level in recipe.levels),
            _widest_alone(recipe, issued.lines, typefaces),
        )
    most = min(max(column - pages - LEAST_WORDS, 0.0), MOST_INDENT)
    numbers = tuple(min(room, most) for room in _number_widths(recipe, issued.lines, typefaces))
    indents = tuple(
        min(look.indent, max(most - room, 0.0)) for look, room in zip(recipe.looks, numbers, strict=True)
    )  # fmt: skip
    hangs = tuple(
        min(look.hang, max(most - indent - room, 0.0))
        for look, indent, room in zip(recipe.looks, indents, numbers, strict=True)
    )
    return Measures(column, pages, numbers, indents, hangs, figures, leaders)


def _widest_alone(recipe: Recipe, lines: Sequence[Line], typefaces: Typefaces) -> float:
    """The width of the widest that stands in the column of page numbers alone and is no figure: a roman numeral, a range."""
    alone = {(line.level, line.pages[0]) for line in lines if len(line.pages) == 1 and not line.pages[0].isdecimal()}
    looks = [(recipe.look(level), label) for level, label in alone]
    return max((face_of(look, typefaces).width(label) * look.size for look, label in looks), default=0.0)


def face_of(look: LevelLook, typefaces: Typefaces) -> Face:
    return typefaces.face(look.font, look.bold, look.italic)


def _number_widths(recipe: Recipe, lines: Sequence[Line], typefaces: Typefaces) -> tuple[float, ...]:
    """Room for the heading numbers that hang, by level: as wide as the widest of the level, or of all in the margin."""
    if recipe.numbers not in ("hung", "margin"):
        return (0.0,) * len(recipe.looks)
    numbers: list[set[str]] = [set() for _ in recipe.looks]
    for line in lines:
        if line.number:
            numbers[line.level - 1].add(line.number)
    widths = [
        float(ceil((max(map(face_of(look, typefaces).width, found)) + NUMBER_GAP) * look.size)) if found else 0.0
        for look, found in zip(recipe.looks, numbers, strict=True)
    ]
    return (max(widths),) * len(widths) if recipe.numbers == "margin" else tuple(widths)


def set_table(issued: Issued, report: Report, typefaces: Typefaces) -> SetTable:
    """The title and all lines of a table, top to bottom. A table with no lines says so in one."""
    recipe, body = issued.recipe, report.styles.role("body")
    measures = measures_of(issued, report, typefaces)
    styles = [
        _line_style(body, look, measures.words_at(level), measures.hangs[level - 1])
        for level, look in enumerate(recipe.looks, 1)
    ]
    width = measures.column - measures.pages
    parts: list[Part] = []
    if recipe.title:
        style = report.styles.find(recipe.title_style) or report.styles.role("table-title")
        title = Paragraph("", runs=(Run(recipe.title),))
        parts.append(_part(title, style, report.page.column_width, typefaces))
    hung = recipe.numbers in ("hung", "margin")
    how = _How(
        recipe.numbers == "run in",
        recipe.separator if recipe.page_numbers == "words" else None,
        recipe.look_like_links,
        recipe.links,
    )
    known = [
        (
            _worded(look.font, look.bold, look.italic, look.capitals, look.page_number, how),
            _broken(style, width, look.capitals, look.page_number, how),
        )
        for style, look in zip(styles, recipe.looks, strict=True)
    ]
    for together in run_together(issued.lines, recipe):
        line = together[0]
        place = line.level - 1
        style, (as_words, broken) = styles[place], known[place]
        key = tuple(
            (one.number, one.text, one.emphasis, (one.pages, one.leads) if how.separator is not None else ())
            for one in together
        )
        words = as_words.get(key)
        if words is None:
            paragraph = Paragraph("", runs=_runs_of(together, recipe.looks[place], how))
            words = _cached(as_words, key, (paragraph, reach_of_words(paragraph, style, typefaces)))
        paragraph, reach = words
        lines = in_one_line(reach, style, width) or broken.get(key)
        if lines is None:
            lines = _cached(broken, key, break_lines(paragraph, style, width, typefaces))
        at = measures.indents[place] if recipe.numbers == "hung" else 0.0
        part = Part(paragraph, style, width, lines, line, line.number if hung else "", at)
        if len(line.pages) > 1 and recipe.page_numbers == "edge" and recipe.looks[place].page_number:
            part = _with_page_rows(part, line, measures, typefaces)
        parts.append(part)
    if not issued.lines:
        nothing = Paragraph("", runs=(Run(table_kind(recipe.kind).nothing),))
        look = replace(recipe.looks[0], italic=True, bold=False)
        parts.append(_part(nothing, _line_style(body, look, 0.0, 0.0), width, typefaces))
    heights = [
        part.height + part.style.space_after + following.style.space_before for part, following in pairwise(parts)
    ]
    return SetTable(measures, tuple(parts), (*heights, parts[-1].height), bool(recipe.title))


def _with_page_rows(part: Part, line: Line, measures: Measures, typefaces: Typefaces) -> Part:
    """A line with its page numbers put in rows: beside the last of its words, or where they do not fit there, beneath."""
    style = part.style
    face = typefaces.face(style.font, style.bold, style.italic)
    bold = typefaces.face(style.font, True, style.italic)
    comma = face.width(PAGE_SEPARATOR) * style.size
    widths = [
        (bold if at < len(line.leads) and line.leads[at].main else face).width(page) * style.size + comma
        for at, page in enumerate(line.pages)
    ]
    if sum(widths) <= measures.column - reach_of(part, typefaces) - PAGE_GAP:
        return replace(part, page_rows=((0, len(widths)),))
    room = max(measures.column - style.indent - style.first_line, LEAST_WORDS)
    rows, first, used = [], 0, 0.0
    for at, width in enumerate(widths):
        if at > first and used + width > room:
            rows.append((first, at))
            first, used = at, 0.0
        used += width
    return replace(part, page_rows=(*rows, (first, len(widths))), beneath=True)


def reach_of(part: Part, typefaces: Typefaces) -> float:
    """How far from the left of its column the words in the last row of a line reach."""
    last = len(part.lines.starts) - 1
    words = InFaces(part.paragraph, part.style, part.width, typefaces)
    placed = next(pieces(words, part.lines, [last]))
    return placed[-1].x + placed[-1].width if placed else 0.0


def _part(paragraph: Paragraph, style: Style, width: float, typefaces: Typefaces) -> Part:
    return Part(paragraph, style, width, break_lines(paragraph, style, width, typefaces))


@lru_cache(maxsize=1 << 9)
def _line_style(body: Style, look: LevelLook, words_at: float, hang: float) -> Style:
    """The style of a level's lines; with hanging rows, all but the first begin further in."""
    return replace(
        body, font=look.font, size=look.size, bold=look.bold, italic=look.italic, underline=False, colour=look.colour,
        align="left", space_before=look.space_before, space_after=look.space_after, line_spacing=look.line_spacing,
        indent=words_at + hang, first_line=-hang, tab_stops=""
    )  # fmt: skip


class _How(NamedTuple):
    """What stands in a line beside its words."""

    number: bool
    """Its heading number in front of them, unless that hangs."""
    separator: str | None
    """This and its page numbers behind them, unless these stand at the edge or nowhere."""
    like_links: bool
    links: bool
    """Whether words and page numbers that lead to different places are links by themselves."""


_MOST_KNOWN = 20_000


V = TypeVar("V")

# What is known of lines by what stands in them: most stay as they are from one catching up to the next.


@lru_cache(maxsize=1 << 6)
def _worded(
    font: str, bold: bool, italic: bool, capitals: bool, page_number: bool, how: _How
) -> dict[Any, tuple[Paragraph, float]]:
    """The words of lines set in this way so far, and how far they reach."""
    return {}


@lru_cache(maxsize=1 << 8)
def _broken(style: Style, width: float, capitals: bool, page_number: bool, how: _How) -> dict[Any, Lines]:
    """The rows of those that needed more than one."""
    return {}


def _cached(known: dict[Any, V], key: object, value: V) -> V:
    if len(known) >= _MOST_KNOWN:
        known.clear()
    known[key] = value
    return value


RUN_IN_FROM = 3
"""The level from which on lines stand behind the one above them, in a table where they do."""


def run_together(lines: Sequence[Line], recipe: Recipe) -> Iterator[list[Line]]:
    """The lines that stand in one paragraph, each with those that are run in behind it."""
    together: list[Line] = []
    for line in lines:
        if together and not (recipe.run_in and recipe.page_numbers != "edge" and line.level >= RUN_IN_FROM):
            yield together
            together = []
        together.append(line)
    if together:
        yield together


def _runs_of(together: Sequence[Line], look: LevelLook, how: _How) -> tuple[Run, ...]:
    """The words of lines that stand in one paragraph."""
    first, *others = together
    runs = [*_runs(first, look, how)]
    for number, one in enumerate(others):
        runs.append(Run(": " if number == 0 and not first.pages else "; "))
        runs += _runs(one, look, how)
    return tuple(runs)


def _runs(line: Line, look: LevelLook, how: _How) -> tuple[Run, ...]:
    """The words of a line as they are printed, with what is emphasised."""
    plain = Marks(colour=LINK_COLOUR, underline=True) if how.like_links else PLAIN
    if line.leads and how.links and how.separator is not None:
        plain = replace(plain, reference=Reference(line.to))
    parts: list[tuple[str, Marks]] = []
    if line.number and how.number:
        parts.append((f"{line.number}  ", plain))
    at = 0
    for start, end, letters in line.emphasis:
        parts.append((line.text[at:start], plain))
        parts.append((line.text[start:end], _emphasised(plain, look, letters)))
        at = end
    parts.append((line.text[at:], plain))
    if line.pages and how.separator is not None and look.page_number:
        parts.append((how.separator, PLAIN))
        for at, page in enumerate(line.pages):
            lead = line.leads[at] if at < len(line.leads) else None
            marks = Marks(
                bold=True if lead and lead.main else None, reference=Reference(lead.to) if lead and how.links else None
            )
            parts += [(PAGE_SEPARATOR, PLAIN)] * (at > 0) + [(page, marks)]
    runs: list[Run] = []
    for words, marks in parts:
        words = words.upper() if look.capitals else words
        if words and runs and runs[-1].marks == marks:
            runs[-1] = Run(runs[-1].text + words, marks)
        elif words:
            runs.append(Run(words, marks))
    return tuple(runs) or (Run("\u00a0"),)


def _emphasised(plain: Marks, look: LevelLook, how: str) -> Marks:
    """Emphasised words are set the other way round than the level's, so that they stand out in it as in the heading."""
    return replace(
        plain,
        italic=not look.italic if "i" in how else None,
        bold=not look.bold if "b" in how else None,
        underline=plain.underline or "u" in how,
    )


def leader_places(recipe: Recipe, right: float, reach: float, free: float) -> Sequence[float]:
    """Where the characters of a leader have their middle, left to right: on the same columns in every line.

    The columns are counted from ``right``, the right edge of all lines; the leader keeps clear of ``free`` points for the
    page number there, and of the words, which end at ``reach``.
    """
    step = recipe.leader_step
    first = ceil((free + PAGE_GAP) / step)
    last = int((right - reach - PAGE_GAP) / step)
    return [right - step * count for count in range(last, first - 1, -1)]
