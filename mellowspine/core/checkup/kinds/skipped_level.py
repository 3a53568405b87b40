"""Levels that are skipped: a heading more than one level below the one before it.

WCAG 2.2, technique G141 (organising a page using headings): headings nest by their levels.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...report.plan import Set
from ...structure.outline import Heading
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, quoted


def _headings(state: State) -> Iterator[Heading]:
    return (heading for heading in state.headings if heading.by_hand != "put in")


def _found(state: State) -> FoundHere:
    above = 0
    for heading in _headings(state):
        if heading.level > above + 1:
            what = f"comes right after level {above}" if above else "has none of level 1 before it"
            yield heading.id, f"{quoted(heading.text)} is of level {heading.level} and {what}."
        above = heading.level


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    """Each such heading goes up to where no level is skipped; those beside it and all that is under them as far."""
    wanted, styles = {*places}, state.report.styles
    steps = []
    above, moved = 0, False
    lifted: list[tuple[int, int]] = []
    """Levels from which on headings go up, and by how many levels."""
    for heading in _headings(state):
        while lifted and heading.level < lifted[-1][0]:
            lifted.pop()
        level = heading.level - (lifted[-1][1] if lifted else 0)
        # What comes behind one that has gone up may skip a level only now.
        if level > above + 1 and (heading.id in wanted or moved):
            lifted.append((heading.level, heading.level - above - 1))
            level = above + 1
        moved = level != heading.level
        if moved:
            steps.append(Set(heading.id, {"style": styles.heading(level).id}))
        above = level
    return Remedy(tuple(steps))


add_check(
    Check(
        "skipped-level",
        "Skipped levels",
        "Who hears the report read aloud, or reads its contents, looks for a section in between that is not there.",
        in_report=_found,
        looks_at=lambda state: (state.headings,),
        remedy=_remedy,
        label="Move them up, with what is under them",
        hinders="7.4.2",
    )
)
