"""The table of authorities: what the report cites, by category and in the order of the alphabet, with the pages where it does.

After Rule 28(a)(3) of the US Federal Rules of Appellate Procedure: cases in alphabetical order, statutes and other
authorities, with references to the pages where they are cited.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from ..pages.pages import Pages
from ..report.authorities import OTHER, Authority, known_category, written
from ..report.blocks import Paragraph
from ..report.recipes import LevelLook, Recipe
from ..report.report import Report
from ..report.tables import Emphasis, Lead, Line
from ..structure.occurrences import Occurrences
from ..structure.outline import paragraphs_of
from .collation import in_its_language, orders, without_article
from .contents import emphasis_in, stretch_of
from .kinds import Sources, TableKind, add_table_kind
from .page_lists import PageList, Places, page_list

CATEGORY, AUTHORITY = 1, 2
"""Levels of lines."""


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    pages, report = sources.pages, sources.pages.report
    recipe = in_its_language(recipe, sources.pages.report)
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    if section is None:
        return
    first, end = section
    noted, marked, on = pages.noted, pages.occurrences, pages.citing_pages
    cited = marked.cached("cited", (), lambda: _by_authority(marked))
    if recipe.section:
        inside = {
            of: _those(all, lambda n: first <= noted[marked.citings[n].at.at][0] < end) for of, all in cited.items()
        }
        cited = {of: some for of, some in inside.items() if some.numbers}

    def in_order() -> dict[str, list[Authority]]:
        return _in_order(recipe, cited, marked, report)

    order = "authorities in order", recipe.language, recipe.by_letter
    listed = (
        in_order() if recipe.section else marked.cached(order, (cited, report.authorities, report.categories), in_order)
    )

    def lists() -> dict[str, PageList]:
        return {
            of: page_list(places, on, on, pages.labels, recipe.ranges, recipe.passim, pages.counted_anew)
            for of, places in cited.items()
        }

    how = ("pages of authorities", recipe.ranges, recipe.passim, pages.counts)
    found = lists() if recipe.section else marked.cached(how, (on,), lists)
    for category in report.categories.values():
        if category.id not in listed or (recipe.categories and category.id not in recipe.categories):
            continue
        if CATEGORY in recipe.levels:
            yield Line(f"category-{category.id}", CATEGORY, "", category.name, ())
        if AUTHORITY not in recipe.levels:
            continue
        for one in listed[category.id]:
            emphasis = _emphasis(one, cited[one.id], sources) if recipe.formatting else ()
            yield Line(one.id, AUTHORITY, "", one.long, found[one.id].pages, emphasis, found[one.id].leads)


def _in_order(
    recipe: Recipe, cited: Mapping[str, Places], marked: Occurrences, report: Report
) -> dict[str, list[Authority]]:
    """What is cited by category, each in the order of the alphabet."""
    listed: dict[str, list[Authority]] = {}
    for of, places in cited.items():
        # What is not known any more, or was pasted from another report, is called by the words that cite it.
        one = report.authorities.get(of) or Authority(
            of, OTHER, written(marked.citings[places.numbers[0]].at.words) or of
        )
        listed.setdefault(known_category(report.categories, one.category).id, []).append(one)
    order = orders(recipe.language, recipe.by_letter)
    for some in listed.values():
        some.sort(key=lambda one: (order(without_article(one.long, recipe.language)), one.id))
    return listed


def _by_authority(marked: Occurrences) -> dict[str, Places]:
    """Which citations are of each authority."""
    found: dict[str, list[int]] = {}
    for n, one in enumerate(marked.citings):
        found.setdefault(one.of, []).append(n)
    return {of: Places(all, tuple(Lead(marked.citings[n].at.id) for n in all)) for of, all in found.items()}


def _those(places: Places, wanted: Callable[[int], bool]) -> Places:
    kept = [(n, lead) for n, lead in zip(places.numbers, places.leads, strict=True) if wanted(n)]
    return Places([n for n, _ in kept], tuple(lead for _, lead in kept))


def _emphasis(one: Authority, places: Places, sources: Sources) -> tuple[Emphasis, ...]:
    """What is emphasised in an authority, as it is where the text cites it in full."""
    pages = sources.pages
    marked = pages.occurrences
    for n in places.numbers:
        at = marked.citings[n].at
        if at.words == one.long or written(at.words) == one.long:
            block = pages.report.blocks[pages.noted[at.at][0]]
            return marked.cached(("emphasis", n), (block, pages.report.styles), lambda n=n: _emphasis_at(n, pages))  # type: ignore[misc]
    return ()


def _emphasis_at(n: int, pages: Pages) -> tuple[Emphasis, ...]:
    at = pages.occurrences.citings[n].at
    block = pages.noted[at.at][0]
    paragraph = next((p for p, _ in paragraphs_of(pages.report, block) if p.id == at.paragraph), Paragraph(""))
    runs = tuple(run for run in paragraph.runs if (cites := run.marks.citation) and cites.id == at.id)
    return emphasis_in(Paragraph("", paragraph.style, runs), pages.report)


def _why(recipe: Recipe, sources: Sources) -> str:
    if sources.pages.occurrences.citings:
        return "Nothing of these categories is cited where this table looks; choose others, or the whole report."
    return "Nothing is marked as a citation yet; select one in the text and press Alt+S m."


def _looks() -> tuple[LevelLook, ...]:
    category = LevelLook(size=11.0, bold=True, space_before=9.0, space_after=3.0, page_number=False)
    return (category, LevelLook(hang=24.0), *Recipe().looks[2:])


_RECIPE = Recipe(kind="authorities", title="Authorities", levels=(CATEGORY, AUTHORITY), looks=_looks())

add_table_kind(TableKind("authorities", _RECIPE, _lines, "Nothing cited yet.", _why, from_structure=True))
