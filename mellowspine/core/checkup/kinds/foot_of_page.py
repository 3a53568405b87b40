"""Headings at the foot of a page, with their text on the next."""

from __future__ import annotations

from ..findings import Check, FoundHere, State, add_check, quoted


def _found(state: State) -> FoundHere:
    pages, count = state.pages, len(state.report.blocks)
    begins = {start.box: start.forced for start in pages.starts if not start.part}
    """The blocks that begin a page, and whether they or what is before them ask for that."""
    for heading in state.headings:
        if begins.get(heading.block + 1) is False and not heading.row and heading.block + 1 < count:
            label = pages.label(pages.page_of(heading.block))
            yield heading.id, f"{quoted(heading.text)} stands at the foot of page {label}."


add_check(
    Check(
        "foot-of-page",
        "Headings at the foot of a page",
        "They part from their text; their style can be told to stay with what follows.",
        in_report=_found,
        looks_at=lambda state: (state.headings, state.pages.starts, state.pages.counts),
    )
)
