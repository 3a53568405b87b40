"""Subsections that are the only one of their section."""

from __future__ import annotations

from ...structure.outline import Heading
from ..findings import Check, FoundHere, State, add_check, quoted


def _found(state: State) -> FoundHere:
    open_sections: list[tuple[Heading, list[Heading]]] = []

    def close(down_to: int) -> FoundHere:
        while open_sections and open_sections[-1][0].level >= down_to:
            section, inside = open_sections.pop()
            if len(inside) == 1:
                yield inside[0].id, f"{quoted(inside[0].text)} is the only subsection of {quoted(section.text)}."

    for heading in state.headings:
        if heading.by_hand == "put in":
            continue
        yield from close(heading.level)
        if open_sections:
            open_sections[-1][1].append(heading)
        open_sections.append((heading, []))
    yield from close(0)


add_check(
    Check(
        "lone-subsection",
        "Lone subsections",
        "A section parted into one part is not parted: either its heading is not needed, or another one is missing.",
        in_report=_found,
        looks_at=lambda state: (state.headings,),
    )
)
