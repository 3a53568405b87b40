"""Two headings with the same words under one parent."""

from __future__ import annotations

from ..findings import Check, FoundHere, State, add_check, quoted


def _found(state: State) -> FoundHere:
    levels: list[int] = []
    inside: list[set[str]] = [set()]
    """Words of the headings in the report, and in each of the sections around the heading at hand."""
    for heading in state.headings:
        while levels and heading.level <= levels[-1]:
            levels.pop()
            inside.pop()
        words = heading.text.casefold()
        if words in inside[-1]:
            yield heading.id, f"{quoted(heading.text)} stands twice in the same section."
        inside[-1].add(words)
        levels.append(heading.level)
        inside.append(set())


add_check(
    Check(
        "two-alike",
        "Headings alike in one section",
        "In the contents nobody can tell which of them leads where.",
        in_report=_found,
        looks_at=lambda state: (state.headings,),
    )
)
