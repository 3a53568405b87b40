"""The contents table: every heading of the recipe's levels."""

from __future__ import annotations

from collections.abc import Iterator

from ..report.tables import Line, Recipe
from .kinds import Sources, TableKind, add_table_kind


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    label, levels = sources.pages.label, recipe.levels
    for (id, level, number, text, _, _, by_hand, _), page in zip(sources.headings, sources.on, strict=True):
        if level in levels and by_hand != "kept out":
            yield Line(id, level, number, text, (label(page),))


add_table_kind(TableKind("contents", Recipe(), _lines, "No headings yet."))
