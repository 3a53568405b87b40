"""The contents table: every heading of the recipe's levels, and what its author has put in besides."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator
from heapq import merge
from itertools import groupby

from ..pages.as_set import words_as_set
from ..report.blocks import PLAIN, Block, Paragraph
from ..report.recipes import HERE, Recipe
from ..report.report import Report
from ..report.tables import Emphasis, Line
from ..structure.numbering import Count
from ..structure.outline import Heading, Outline, paragraphs_of
from .kinds import Sources, TableKind, add_table_kind

_NOT_COUNTED = Count()

_Entry = tuple[Heading, int, int]
"""A heading, or a paragraph of a style that feeds the table; the level at which it is listed; the sheet on which it stands."""


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    label, levels, report = sources.pages.label, recipe.levels, sources.pages.report
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    if section is None:
        return
    first, end = section
    entries: Iterable[_Entry] = _headings(recipe, sources)
    if any(style in report.styles and style not in report.styles.levels for style in recipe.feeds):
        entries = merge(entries, _fed(recipe, sources), key=lambda entry: (entry[0].block, entry[0].row))
    labels = {page: (label(page),) for page in range(1, len(sources.pages) + 1)}
    blocks, formatting = report.blocks, recipe.formatting
    for (id, _, number, text, block, row, *_), level, page in entries:
        if level in levels and first <= block < end:
            plain = not formatting or _is_plain(blocks[block])
            yield Line(id, level, number, text, labels[page], () if plain else emphasis_of(report, block, row, id))


def _headings(recipe: Recipe, sources: Sources) -> Iterator[_Entry]:
    feeds, report = recipe.feeds, sources.pages.report
    for heading, page in zip(sources.headings, sources.on, strict=True):
        level, by_hand = heading.level, heading.by_hand
        if by_hand == "kept out":
            continue
        if feeds and by_hand != "put in":
            level = feeds.get(_paragraph(report, heading.block, heading.row, heading.id).style, level)
        yield heading, level, page


def _fed(recipe: Recipe, sources: Sources) -> Iterator[_Entry]:
    """Paragraphs of styles that have no outline level and feed the table all the same."""
    pages, report = sources.pages, sources.pages.report
    feeds = {style: level for style, level in recipe.feeds.items() if level and style not in report.styles.levels}
    for index in range(len(report.blocks)):
        for paragraph, row in paragraphs_of(report, index):
            if (
                paragraph.style in feeds
                and paragraph.listed is None
                and (text := " ".join(words_as_set(paragraph, report).text.split()))
            ):
                level = feeds[paragraph.style]
                heading = Heading(paragraph.id, level, "", text, index, row, "put in", _NOT_COUNTED)
                yield heading, level, pages.page_of(index, row)


def stretch_of(recipe: Recipe, headings: Outline, at: int | None, blocks: int) -> tuple[int, int] | None:
    """The blocks (first, end) that a table at block ``at`` lists: all, or those beneath the heading of its section.

    None if that section is no longer in the text. A table in front of all headings that lists its own section lists all.
    """
    if not recipe.section:
        return 0, blocks
    if recipe.section == HERE:
        place = bisect_left(headings, at or 0, key=lambda heading: heading.block) - 1
        while place >= 0 and headings[place].by_hand == "put in":
            place -= 1
        if place < 0:
            return 0, blocks
    else:
        found = (place for place, heading in enumerate(headings) if heading.id == recipe.section)
        place = next(found, -1)
        if place < 0:
            return None
    head = headings[place]
    return head.block + 1, next((one.block for one in headings[place + 1 :] if _ends(one, head)), blocks)


def _ends(heading: Heading, section: Heading) -> bool:
    return heading.by_hand != "put in" and heading.level <= section.level


def _paragraph(report: Report, block: int, row: int, id: str) -> Paragraph:
    found = report.blocks[block]
    if type(found) is Paragraph:
        return found
    return next(one for one, of in paragraphs_of(report, block) if one.id == id and of == row)


def _is_plain(block: Block) -> bool:
    """Whether nothing in a block is emphasised, for the many of which that is plain to see."""
    return type(block) is Paragraph and len(block.runs) == 1 and block.runs[0].marks is PLAIN


def emphasis_of(report: Report, block: int, row: int, id: str) -> tuple[Emphasis, ...]:
    """Where the words of a heading are set otherwise than its style has them, counted without needless space.

    All of it being bold or underlined is how the heading looks, and not what its words say; all of it in italics may be
    a title.
    """
    return emphasis_in(_paragraph(report, block, row, id), report)


def emphasis_in(paragraph: Paragraph, report: Report) -> tuple[Emphasis, ...]:
    """What is emphasised in a paragraph, as its line in a table has it."""
    paragraph = words_as_set(paragraph, report)
    style = report.styles[paragraph.style]
    characters: list[tuple[str, str]] = []
    for run in paragraph.runs:
        marks = run.marks
        how = "".join(
            letter
            for letter, differs in (
                ("b", marks.bold is not None and marks.bold != style.bold),
                ("i", marks.italic is not None and marks.italic != style.italic),
                ("u", marks.underline and not style.underline),
            )
            if differs
        )
        for character in run.text:
            if not character.isspace():
                characters.append((character, how))
            elif characters and characters[-1][0] != " ":
                characters.append((" ", how))
    if characters and characters[-1][0] == " ":
        characters.pop()
    found = []
    at = 0
    for how, group in groupby(characters, lambda one: one[1]):
        length = len([*group])
        shown = ("i" if "i" in how else "") if length == len(characters) else how
        if shown:
            found.append(Emphasis(at, at + length, shown))
        at += length
    return tuple(found)


def _why(recipe: Recipe, sources: Sources) -> str:
    if stretch_of(recipe, sources.headings, sources.at, len(sources.pages.report.blocks)) is None:
        return "The section that it lists is no longer in the text; choose another one, or the whole report."
    levels = ", ".join(map(str, recipe.levels))
    where = "Beneath the heading of its section there are" if recipe.section else "The text has"
    return f"{where} no headings of level {levels} yet; mark some, or list other levels."


add_table_kind(TableKind("contents", Recipe(), _lines, "No headings yet.", _why, from_structure=True))
