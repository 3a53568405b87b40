"""The table of authorities: what the report cites, by category and in the order of the alphabet, with the pages where it does.

After Rule 28(a)(3) of the US Federal Rules of Appellate Procedure: cases in alphabetical order, statutes and other
authorities, with references to the pages where they are cited.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..report.authorities import OTHER, Authority, known_category, written
from ..report.blocks import Paragraph
from ..report.recipes import LevelLook, Recipe
from ..report.tables import Emphasis, Line
from ..structure.occurrences import Occurrence
from ..structure.outline import paragraphs_of
from .collation import orders, without_article
from .contents import emphasis_in, stretch_of
from .kinds import Sources, TableKind, add_table_kind
from .page_lists import OnPages, page_list

CATEGORY, AUTHORITY = 1, 2
"""Levels of lines."""


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    pages, report = sources.pages, sources.pages.report
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    if section is None:
        return
    first, end = section
    cited: dict[str, list[tuple[Occurrence, int]]] = {}
    for (of, at), page in pages.citings:
        if first <= at.start[0] < end:
            cited.setdefault(of, []).append((at, page))
    listed: dict[str, list[Authority]] = {}
    for of, places in cited.items():
        # What is not known any more, or was pasted from another report, is called by the words that cite it.
        one = report.authorities.get(of) or Authority(of, OTHER, written(places[0][0].words) or of)
        listed.setdefault(known_category(report.categories, one.category).id, []).append(one)
    order = orders(recipe.language, recipe.by_letter)
    for category in report.categories.values():
        if category.id not in listed or (recipe.categories and category.id not in recipe.categories):
            continue
        if CATEGORY in recipe.levels:
            yield Line(f"category-{category.id}", CATEGORY, "", category.name, ())
        if AUTHORITY not in recipe.levels:
            continue
        for one in sorted(
            listed[category.id], key=lambda one: (order(without_article(one.long, recipe.language)), one.id)
        ):
            places = cited[one.id]
            found = page_list(
                [OnPages(page, page, at.id) for at, page in places], pages.label, recipe.ranges, recipe.passim
            )
            emphasis = _emphasis(one, [at for at, _ in places], sources) if recipe.formatting else ()
            yield Line(one.id, AUTHORITY, "", one.long, found.pages, emphasis, found.leads)


def _emphasis(one: Authority, places: list[Occurrence], sources: Sources) -> tuple[Emphasis, ...]:
    """What is emphasised in an authority, as it is where the text cites it in full."""
    report = sources.pages.report
    for at in places:
        if written(at.words) == one.long:
            paragraph = next((p for p, _ in paragraphs_of(report, at.start[0]) if p.id == at.paragraph), Paragraph(""))
            runs = tuple(run for run in paragraph.runs if (cites := run.marks.citation) and cites.id == at.id)
            return emphasis_in(Paragraph("", paragraph.style, runs), report)
    return ()


def _why(recipe: Recipe, sources: Sources) -> str:
    if sources.pages.citings:
        return "Nothing of these categories is cited where this table looks; choose others, or the whole report."
    return "Nothing is marked as a citation yet; select one in the text and press Alt+S m."


def _looks() -> tuple[LevelLook, ...]:
    category = LevelLook(size=11.0, bold=True, space_before=9.0, space_after=3.0, page_number=False)
    return (category, LevelLook(hang=24.0), *Recipe().looks[2:])


_RECIPE = Recipe(kind="authorities", title="Authorities", levels=(CATEGORY, AUTHORITY), looks=_looks())

add_table_kind(TableKind("authorities", _RECIPE, _lines, "Nothing cited yet.", _why))
