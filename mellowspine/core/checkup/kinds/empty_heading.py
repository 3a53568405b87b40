"""Headings without words."""

from __future__ import annotations

from collections.abc import Sequence

from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, as_heading, without_words


def _found(state: State) -> FoundHere:
    report, seen = state.report, state.found.seen
    empty = [block for block, its in zip(report.blocks, seen, strict=True) if its is False]
    if len(empty) == len(seen):
        return  # nothing is written yet
    for block in empty:
        if heading := as_heading(block, report.styles):
            yield heading.id, f"A heading of level {report.styles.levels[heading.style]} has no words."


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    return Remedy(without_words(state, places))


add_check(
    Check(
        "empty-heading",
        "Headings without words",
        "They take up room and numbers, and lead nowhere from a table.",
        in_report=_found,
        remedy=_remedy,
        saying="Take them out",
    )
)
