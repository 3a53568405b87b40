"""Headings without words."""

from __future__ import annotations

from collections.abc import Sequence

from ..findings import Check, FoundHere, InWords, NewIds, Remedy, State, add_check, as_heading, without_words


def _empty(state: State, index: int) -> tuple[str, int] | None:
    """A heading without words: its id and level."""
    heading = as_heading(state.report.blocks[index], state.report.styles)
    if heading is None or state.found.seen[index] is not False:
        return None
    return heading.id, state.report.styles.levels[heading.style]


def _found(begun: bool, heading: tuple[str, int]) -> FoundHere:
    if begun:
        yield heading[0], f"A heading of level {heading[1]} has no words."


def _begun(state: State) -> bool:
    """Whether anything is written yet."""
    return any(its is not False for its in state.found.seen)


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    return Remedy(without_words(state, places))


add_check(
    Check(
        "empty-heading",
        "Headings without words",
        "They take up room and numbers, and lead nowhere from a table.",
        in_words=InWords(_empty, _found, lambda state: (_begun(state),), _begun),
        remedy=_remedy,
        label="Take them out",
    )
)
