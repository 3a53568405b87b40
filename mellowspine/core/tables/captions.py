"""Lists of figures, of data tables, and of whatever else has captions: those of one label, in reading order."""

from __future__ import annotations

import re
from collections.abc import Iterator

from ..pages.as_set import words_as_set
from ..report.recipes import LevelLook, Recipe
from ..report.tables import Line
from ..structure.outline import paragraphs_of
from .contents import emphasis_of, stretch_of
from .kinds import Sources, TableKind, add_table_kind

_SENTENCE = re.compile(r".*?(?=\.(?:\s|$))", re.DOTALL)


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    pages = sources.pages
    report = pages.report
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    if section is None:
        return
    first, end = section
    counted = pages.captions
    for block, one in pages.noted:
        if one.caption != recipe.label or not first <= block < end:
            continue
        label, number, _ = counted[one.id]
        paragraph = next(found for found, row in paragraphs_of(report, block) if found.id == one.id and row == one.row)
        text = " ".join(words_as_set(paragraph, report).text.split())
        emphasis = emphasis_of(report, block, one.row, one.id) if recipe.formatting else ()
        if recipe.first_sentence and (found := _SENTENCE.match(text)):
            text = found[0]
            emphasis = tuple(
                stretch._replace(end=min(stretch.end, found.end()))
                for stretch in emphasis
                if stretch.start < found.end()
            )
        yield Line(one.id, 1, f"{label.name} {number}", text, (pages.label(pages.page_of(block, one.row)),), emphasis)


def _why(recipe: Recipe, sources: Sources) -> str:
    label = sources.pages.report.labels.get(recipe.label)
    name = label.name if label else recipe.label
    return f"There are no captions labelled “{name}” yet; give some to what it is to list, or choose another label."


_LOOKS = (LevelLook(hang=24.0), *Recipe().looks[1:])
"""No line is a main section's."""

for name, title, label in (("figures", "Figures", "figure"), ("tables", "Tables", "table")):
    add_table_kind(
        TableKind(
            name,
            Recipe(kind=name, title=title, label=label, levels=(1,), looks=_LOOKS),
            _lines,
            "No captions yet.",
            _why,
            from_structure=True,
        )
    )
