"""Parts on pages: which blocks are set on which paper, on which sheets each part lies, and how its pages are numbered.

A part begins a page, so how its pages are filled depends on nothing outside it. Left-hand and right-hand pages are told by the
sheet, counted from 1, which lies on the right: so they are bound, whatever numbers are printed on them.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Collection, Sequence
from typing import NamedTuple

from ..report.blocks import Block, PartStart
from ..report.numbering import Figures
from ..report.page import PageSetup
from ..report.parts import FIRST, PLAIN, Part, page_of_part
from ..report.report import Report
from ..structure.numbering import figure
from .fill import Start


class Stretch(NamedTuple):
    """The blocks from ``first`` to the next stretch: a part of the report, on its paper."""

    first: int
    id: str
    part: Part
    page: PageSetup


class Count(NamedTuple):
    """How the pages from a sheet on are numbered, the first of them with ``start``; not at all without figures."""

    sheet: int
    figures: Figures | None = "decimal"
    words: str = ""
    start: int = 1

    def label(self, sheet: int) -> str:
        """What is printed on a sheet as its number."""
        return self.words + figure(self.start + sheet - self.sheet, self.figures) if self.figures else ""


def is_start(block: Block) -> bool:
    """Whether a part of the report starts with a block."""
    return type(block) is PartStart


def stretches(
    report: Report, starts: Sequence[int], before: Sequence[Stretch] = (), notes: Collection[int] = ()
) -> tuple[Stretch, ...]:
    """The parts of a report in their order, the first of them from its first block on. Of parts of which one starts right
    behind another, the last is meant: the others have no page. A page set-up that is as ``before`` is the very same.
    ``notes``: blocks that are notes, of which nothing is seen where they are written."""
    known = {one.id: one.page for one in before}
    found: list[Stretch] = []
    behind = 0
    """The block behind the last start."""
    for index, id in ((0, FIRST), *((at, report.blocks[at].id) for at in starts)):
        part = report.parts.get(id, PLAIN)
        first = found.pop().first if found and index == behind else index
        page = page_of_part(part, report.page)
        same = known.get(id)
        found.append(Stretch(first, id, part, same if part.page and same is not None and same == page else page))
        behind = index + (id != FIRST)
        while behind in notes:
            behind += 1
    return tuple(found)


def stretch_at(stretches: Sequence[Stretch], block: int) -> Stretch:
    """The one in which a block stands."""
    if len(stretches) == 1:
        return stretches[0]
    return stretches[bisect_right(stretches, block, key=_first) - 1]


def _first(stretch: Stretch) -> int:
    return stretch.first


def with_blanks(starts: Sequence[Start], stretches: Sequence[Stretch]) -> Sequence[Start]:
    """Starts of pages with a sheet that is left empty wherever a part would begin on the wrong hand otherwise: one at the block
    with which the part begins, in front of it (``part`` is -1)."""
    sided = [one for one in stretches if one.part.begins != "any"]
    if not sided:
        return starts
    found: list[Start] = []
    done = 0
    for one in sided:
        at = bisect_left(starts, (one.first, 0))
        found.extend(starts[done:at])
        done = at
        right = len(found) % 2 == 0
        if right != (one.part.begins == "right"):
            found.append(Start(one.first, -1, True))
    found.extend(starts[done:])
    return found


def counts(stretches: Sequence[Stretch], starts: Sequence[Start], body: int | None) -> tuple[Count, ...]:
    """How pages are numbered, from which sheet on each. ``body``: the sheet with which the body begins, if what stands in front of
    it has small roman numerals without being a part."""
    found: list[Count] = []
    for one in stretches:
        sheet = bisect_left(starts, (one.first, 1)) if found else 1
        part, last = one.part, found[-1] if found else None
        goes_on = last is not None and part.figures is None
        figures = last.figures if last and goes_on else None if part.figures == "none" else part.figures or "decimal"
        words = last.words if last and goes_on else part.words
        start = part.start if part.start is not None else last.start + sheet - last.sheet if last else 1
        found.append(Count(sheet, figures, words, start))
    if len(stretches) == 1 and body is not None and body > 1:
        return Count(1, "lower-roman"), found[0]._replace(sheet=body, start=1)
    # Those that go on as the one in front of them are no count of their own.
    return tuple(one for at, one in enumerate(found) if not at or one != _on(found[at - 1], one.sheet))


def _on(count: Count, sheet: int) -> Count:
    return count._replace(sheet=sheet, start=count.start + sheet - count.sheet)


def count_at(counts: Sequence[Count], sheet: int) -> int:
    """The index of the one that a sheet is counted with."""
    return max(bisect_right(counts, sheet, key=_sheet) - 1, 0)


def _sheet(count: Count) -> int:
    return count.sheet
