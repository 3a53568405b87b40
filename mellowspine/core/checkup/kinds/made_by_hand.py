"""Headings made by hand: paragraphs that look like headings and are not marked as such."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.numbering import SCHEMES
from ...structure.marking import mark, numbers_taken
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, quoted


def _found(state: State) -> FoundHere:
    texts = {block.id: getattr(block, "text", "") for block in state.report.blocks}
    for one in state.found.proposals:
        for id in one.members if one.level else ():
            yield id, f"{quoted(texts[id])} looks like a heading of level {one.level}: {one.name}."


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    wanted = {*places}
    styles = {id: one.style for one in state.found.proposals for id in one.members if id in wanted}
    return Remedy(mark(state.report, styles), numbers_taken(state.report, styles, SCHEMES).scheme)


add_check(
    Check(
        "by-hand",
        "Headings made by hand",
        "No table lists them, and no reader can jump to them, until they are marked as headings.",
        in_report=_found,
        looks_at=lambda state: (state.found.proposals,),
        remedy=_remedy,
        label="Mark",
    )
)
