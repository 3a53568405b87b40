"""Lists of all paragraphs of some styles, whatever these are for."""

from __future__ import annotations

from collections.abc import Iterator

from ..pages.as_set import words_as_set
from ..report.recipes import LevelLook, Recipe
from ..report.tables import Line
from ..structure.outline import paragraphs_of
from .contents import emphasis_of, stretch_of
from .kinds import Sources, TableKind, add_table_kind


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    pages = sources.pages
    report = pages.report
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    feeds = {style: level for style, level in recipe.feeds.items() if level in recipe.levels and style in report.styles}
    if section is None or not feeds:
        return
    numbers = {heading.id: heading.number for heading in sources.headings if heading.number}
    for block in range(*section):
        for paragraph, row in paragraphs_of(report, block):
            if paragraph.style not in feeds or paragraph.listed == 0:
                continue
            if text := " ".join(words_as_set(paragraph, report).text.split()):
                number = numbers.get(paragraph.id) or report.captions.get(paragraph.id, "").rstrip(" :.–")
                emphasis = emphasis_of(report, block, row, paragraph.id) if recipe.formatting else ()
                page = pages.label(pages.page_of(block, row))
                yield Line(paragraph.id, feeds[paragraph.style], number, text, (page,), emphasis)


def _why(recipe: Recipe, sources: Sources) -> str:
    if not any(recipe.feeds.values()):
        return "No styles feed this table yet; press its lines and choose some."
    return "No paragraphs have the styles that feed this table yet; give some to the text, or choose other styles."


add_table_kind(
    TableKind(
        "styles",
        Recipe(kind="styles", title="List", levels=(1,), looks=(LevelLook(), *Recipe().looks[1:])),
        _lines,
        "Nothing to list yet.",
        _why,
        from_structure=True,
    )
)
