"""Titles of tables that would list themselves."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.blocks import Paragraph, PlacedTable
from ...report.plan import Set
from ...structure.leftovers import is_contents_title
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, as_heading, quoted


def _found(state: State) -> FoundHere:
    blocks, seen = state.report.blocks, state.found.seen
    for index, block in enumerate(blocks):
        if type(block) is not PlacedTable:
            continue
        above = next((at for at in range(index - 1, -1, -1) if seen[at] is not False), None)
        title = blocks[above] if above is not None else None
        if type(title) is Paragraph and title.listed != 0 and as_heading(title, state.report.styles):
            recipe = state.report.tables[block.table].recipe if block.table in state.report.tables else None
            named = recipe is not None and title.text.strip().casefold() == recipe.title.strip().casefold()
            if named or is_contents_title(title.text):
                yield title.id, f"{quoted(title.text)} stands over the table and in it."


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    style = state.report.styles.role("table-title").id
    return Remedy(tuple(Set(id, {"style": style}) for id in places))


add_check(
    Check(
        "listed-title",
        "A table’s title that lists itself",
        "It is marked as a heading, so the table has a line that leads to the table.",
        in_report=_found,
        looks_at=lambda state: (state.report.blocks, state.report.tables, state.report.styles),
        remedy=_remedy,
        saying="Make it a table title",
    )
)
