"""Rows of empty paragraphs, and contents that were typed by hand."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.plan import Plan
from ..exchange import exchange_contents, exchange_rows
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check


def _rows(state: State) -> FoundHere:
    for row in state.found.rows:
        yield row.ids[0], f"{len(row.ids)} empty paragraphs stand one behind the other."


def _without_rows(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    wanted = {*places}
    return Remedy(exchange_rows([row for row in state.found.rows if row.ids[0] in wanted], state.pages, ids))


def _contents(state: State) -> FoundHere:
    for one in state.found.contents:
        yield one.title or one.lines[0], f"A list of contents with {len(one.lines)} lines was typed by hand."


def _with_table(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    wanted = {*places}
    plan: Plan = ()
    for one in state.found.contents:
        if (one.title or one.lines[0]) in wanted:
            plan += exchange_contents(state.report, one, next(ids), next(ids))
    return Remedy(plan)


add_check(
    Check(
        "typed-contents",
        "Contents typed by hand",
        "Nobody keeps its page numbers true, and its lines lead nowhere.",
        in_report=_contents,
        looks_at=lambda state: (state.found.contents,),
        remedy=_with_table,
        label="Put a real table there",
    )
)
add_check(
    Check(
        "empty-rows",
        "Rows of empty paragraphs",
        "Where they make a page or a gap, it moves with every line that is added above.",
        in_report=_rows,
        looks_at=lambda state: (state.found.rows,),
        remedy=_without_rows,
        label="Exchange them for page breaks",
    )
)
