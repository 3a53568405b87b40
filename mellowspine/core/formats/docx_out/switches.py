"""What the recipe of a table is as a field (ISO/IEC 29500-1, 17.16.5): TOC, TOA or INDEX, with the switches that say it.

``docx/fields.py`` reads them; what no switch says is only in the lines that the file has of the table now (``told.py``).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...report.authorities import known_category
from ...report.recipes import HERE, Recipe
from ...report.styles import LEVELS
from .document import Document
from .fields import quoted
from .words import category_number, sequence


def fields_of(recipe: Recipe, document: Document, section: str | None) -> list[str]:
    """The instructions of a table: one, or for authorities one for each category. ``section``: the id of the heading beneath which
    it lists, if not everything."""
    if recipe.kind == "authorities":
        return [*_authorities(recipe, document)]
    if recipe.kind == "index":
        return [_index(recipe)]
    said = ["TOC", *(_captions(recipe, document) if recipe.label else _levels(recipe, document))]
    said += _pages(recipe)
    if recipe.links:
        said.append("\\h")
    said.append("\\z")
    if section and document.is_whole:
        said.append(f"\\b {section_name(section, document)}")
    return [" ".join(said)]


def section_name(heading: str, document: Document) -> str:
    """The bookmark over a section, by the id of its heading."""
    return document.names.place(heading, "__section")


def section_of(recipe: Recipe, at: int, document: Document) -> str | None:
    """The id of the heading beneath which a table lists that is placed in the block ``at``; None if it lists all."""
    if recipe.section != HERE:
        return recipe.section or None
    return next(
        (one.id for one in reversed(document.pages.headings) if one.block < at and one.by_hand != "put in"), None
    )


def _captions(recipe: Recipe, document: Document) -> Iterator[str]:
    label = document.report.labels.get(recipe.label)
    yield f"\\c {quoted(sequence(recipe.label, label.name if label else recipe.label))}"


def _levels(recipe: Recipe, document: Document) -> Iterator[str]:
    """Levels and styles that feed the table."""
    styles = document.report.styles
    levels = [*recipe.levels]
    together = levels == [*range(levels[0], levels[-1] + 1)]
    kept_out = {id for id, level in recipe.feeds.items() if level == 0 and id in styles.levels}
    moved = {id: level for id, level in recipe.feeds.items() if level in levels and id in styles}
    if recipe.kind == "styles":
        fed = moved
    elif together and not kept_out and not moved.keys() & styles.levels.keys():
        yield f"\\o {quoted(_range(levels))}"
        fed = {
            id: level for id, level in styles.levels.items() if level in levels and not _is_first(id, level, document)
        }
        fed |= moved
    else:
        # What a range cannot say is said style by style.
        fed = {id: level for id, level in styles.levels.items() if level in levels and id not in recipe.feeds} | moved
    if fed:
        pairs = ",".join(f"{document.styles[id][1]},{level}" for id, level in fed.items())
        yield f"\\t {quoted(pairs)}"
    if recipe.kind == "contents" and any(one.by_hand == "put in" for one in document.pages.headings):
        yield f"\\f \\l {quoted(_range(levels))}"


def _is_first(id: str, level: int, document: Document) -> bool:
    """Whether a style is the one that programs know as that of a level of headings."""
    return document.report.styles.heading(level).id == id


def _range(levels: Sequence[int]) -> str:
    return f"{levels[0]}-{levels[-1]}"


def _pages(recipe: Recipe) -> Iterator[str]:
    if recipe.page_numbers == "none":
        yield "\\n"
        return
    without = [level for level in LEVELS if level in recipe.levels and not recipe.look(level).page_number]
    if without:
        yield f"\\n {_range(without)}"
    if recipe.page_numbers == "words":
        yield f"\\p {_parting(recipe)}"


def _parting(recipe: Recipe) -> str:
    """What stands between words and page number, spaces as well."""
    said = recipe.separator.replace("\\", "\\\\").replace('"', '\\"')
    return f'"{said}"'


def _authorities(recipe: Recipe, document: Document) -> Iterator[str]:
    categories = document.report.categories
    authorities = document.report.authorities
    cited = {known_category(categories, authorities[id].category).id for id in document.cited_authorities}
    wanted = [id for id in (recipe.categories or categories) if recipe.categories or id in cited] or ["other"]
    for id in wanted:
        said = [f"TOA \\c {quoted(str(category_number(id, document)))}"]
        said += ["\\h"] if 1 in recipe.levels else []
        said += ["\\p"] if recipe.passim else []
        said += [f"\\e {_parting(recipe)}"] if recipe.page_numbers == "words" else []
        yield " ".join(said)


def _index(recipe: Recipe) -> str:
    said = [f"INDEX \\c {quoted(str(recipe.columns))}"]
    said += ['\\h "A"'] if 1 in recipe.levels else []
    said += [f"\\e {_parting(recipe)}"] if recipe.page_numbers == "words" else ['\\e "\t"']
    said += ["\\r"] if recipe.run_in else []
    return " ".join(said)
