"""Numbers that were typed in front of headings."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.blocks import Paragraph
from ...report.plan import Cut
from ...structure.marking import numbers_typed, scheme_for
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, paragraphs_at, quoted


def _wanted(state: State) -> dict[str, str]:
    """The headings of the text itself, with their styles."""
    blocks = state.report.blocks
    return {
        block.id: block.style
        for heading in state.headings
        if heading.by_hand != "put in" and type(block := blocks[heading.block]) is Paragraph
    }


def _found(state: State) -> FoundHere:
    numbers = {heading.id: heading for heading in state.headings}
    for id, typed in numbers_typed(state.report, _wanted(state)).items():
        made = numbers[id].number
        twice = f", and its number is {made} already" if made else ""
        yield id, f"“{typed.label}” is typed in front of {quoted(numbers[id].text[len(typed.label) :])}{twice}."


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    typed = numbers_typed(state.report, _wanted(state))
    steps = [Cut(one.id, 0, one.text[: typed[one.id].end]) for one in paragraphs_at(state, places) if one.id in typed]
    on = any(level.on for level in state.report.numbering.levels)
    return Remedy(tuple(steps), None if on else scheme_for(typed[id] for id in places if id in typed))


add_check(
    Check(
        "typed-number",
        "Numbers typed by hand",
        "They stay as they are when sections come, go and move; computed ones follow.",
        in_report=_found,
        looks_at=lambda state: (state.headings,),
        remedy=_remedy,
        label="Number them anew",
    )
)
