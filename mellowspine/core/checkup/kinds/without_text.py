"""Sections with nothing in them."""

from __future__ import annotations

from itertools import zip_longest

from ..findings import Check, FoundHere, State, add_check, quoted


def _found(state: State) -> FoundHere:
    seen = state.found.seen
    headings = [heading for heading in state.headings if heading.by_hand != "put in" and not heading.row]
    for heading, following in zip_longest(headings, headings[1:]):
        if following and following.level > heading.level:
            continue
        end = following.block if following else len(seen)
        if all(seen[index] is False for index in range(heading.block + 1, end)):
            yield heading.id, f"{quoted(heading.text)} has no text under it."


add_check(
    Check(
        "without-text",
        "Sections without text",
        "A line in the contents leads to a heading with nothing under it.",
        in_report=_found,
    )
)
