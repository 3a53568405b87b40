"""Sections with nothing in them."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from itertools import zip_longest

from ..findings import Check, FoundHere, State, add_check, quoted


def _found(state: State) -> FoundHere:
    empties, count = state.found.empties, len(state.report.blocks)
    headings = [heading for heading in state.headings if heading.by_hand != "put in" and not heading.row]
    for heading, following in zip_longest(headings, headings[1:]):
        if following and following.level > heading.level:
            continue
        end = following.block if following else count
        if bisect_left(empties, end) - bisect_right(empties, heading.block) == end - heading.block - 1:
            yield heading.id, f"{quoted(heading.text)} has no text under it."


add_check(
    Check(
        "without-text",
        "Sections without text",
        "A line in the contents leads to a heading with nothing under it.",
        in_report=_found,
        looks_at=lambda state: (state.headings, state.found.empties),
    )
)
