"""What of a report is written: all of it, a section, a part, or its tables alone. Numbers and pages stay those of the whole."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection, Iterable
from typing import Literal

from ..pages.pages import Pages
from ..pages.parts import Count, count_at
from ..report.blocks import Block, PlacedTable
from ..report.elements import ids_of
from ..report.parts import FIRST
from ..structure.outline import paragraphs_in
from ..structure.sections import sections

What = Literal["all", "tables", "section", "part"]


def chosen(pages: Pages, what: What, id: str = "") -> frozenset[int] | None:
    """The blocks that are meant, by index; None for all. ``id``: that of a section's heading, or of the block with which a part
    begins (``FIRST`` for what stands in front of all of these). Raises KeyError where there is no such section or part."""
    blocks = pages.report.blocks
    if what == "tables":
        return frozenset(at for at, block in enumerate(blocks) if isinstance(block, PlacedTable))
    if what == "section":
        found = next((one for one in sections(pages.report, pages.headings) if one.id == id), None)
        if found is None:
            raise KeyError(id)
        return frozenset(range(found.first, found.end))
    if what == "part":
        starts = [*(one.first for one in pages.stretches), len(blocks)]
        at = next((at for at, one in enumerate(pages.stretches) if one.id == id), None)
        if at is None:
            raise KeyError(id)
        return frozenset(range(starts[at] if id != FIRST else 0, starts[at + 1]))
    return None


def places_in(blocks: Iterable[Block]) -> frozenset[str]:
    """The ids of all that stands in blocks: where something that is written may lead."""
    found: set[str] = set()
    for block in blocks:
        found.update(ids_of(block))
        for paragraph, _ in paragraphs_in(block):
            for run in paragraph.runs:
                marks = (run.marks.bookmark, run.marks.citation, run.marks.indexed)
                found.update(mark.id for mark in marks if mark)
    return frozenset(found)


def sheets_of(pages: Pages, blocks: Collection[int]) -> list[int]:
    """The sheets on which blocks stand, from 1, in their order."""
    starts = [(start.box, start.part) for start in pages.starts]
    found: set[int] = set()
    for at in blocks:
        first = pages.page_of(at)
        found.update(range(first, max(bisect_right(starts, (at, 1 << 40)), first) + 1))
    return sorted(found & {*range(1, len(pages) + 1)})


def counts_on(pages: Pages, sheets: Collection[int]) -> list[Count]:
    """How some sheets are numbered where they lie behind each other alone, as in the whole."""
    found: list[Count] = []
    before: tuple[int, int] | None = None
    for place, sheet in enumerate(sheets, 1):
        at = count_at(pages.counts, sheet)
        if before != (at, sheet - 1):
            count = pages.counts[at]
            found.append(count._replace(sheet=place, start=count.start + sheet - count.sheet))
        before = at, sheet
    return found
