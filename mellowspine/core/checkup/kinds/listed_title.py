"""Titles of tables that would list themselves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ...report.blocks import Paragraph, PlacedTable
from ...report.plan import Set
from ...report.tables import Issued
from ...structure.typed_contents import is_contents_title
from ..findings import Check, FoundHere, InWords, NewIds, Remedy, State, add_check, as_heading, beside, quoted


def _title(state: State, index: int) -> tuple[Paragraph, str] | None:
    """A heading that stands over a table, and the key of that table."""
    title = as_heading(state.report.blocks[index], state.report.styles)
    if title is None or title.listed == 0 or not title.text.strip():
        return None
    after = beside(state, index)[-1:]
    return next(((title, one.table) for one in after if type(one) is PlacedTable), None)


def _found(tables: Mapping[str, Issued], over: tuple[Paragraph, str]) -> FoundHere:
    title, key = over
    named = key in tables and title.text.strip().casefold() == tables[key].recipe.title.strip().casefold()
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
        in_words=InWords(_title, _found, lambda state: (state.report.tables,), lambda state: state.report.tables),
        remedy=_remedy,
        label="Make it a table title",
    )
)
