"""Endnotes: they stand beneath the block that ends the report, or the main section in which they are referred to.

There they are further parts of that block's box, as ways back are (``backs.py``).
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import replace

from ..report.blocks import DataTable, Image, Paragraph
from ..report.report import Report
from ..structure.footnotes import Footnotes, is_note, section_starts
from ..structure.outline import Outline
from .as_set import as_set
from .boxes import Box
from .fill import Placed

ABOVE = 12.0
"""Points between the text and the first note beneath it."""

Hosts = Mapping[int, Sequence[int]]
"""By the block beneath which they stand, the blocks that are endnotes, in order."""


def hosts(report: Report, notes: Footnotes, headings: Outline) -> Hosts:
    """Beneath which blocks endnotes stand. Those of a report without a block that could have them stand nowhere: it is all notes."""
    ends = [note for note in notes if note.kind == "end"]
    if not ends:
        return {}
    shown = {note.id for note in notes}
    starts = section_starts(headings) if report.page.endnotes_at == "section" else []
    found: dict[int, list[int]] = {}
    for note in ends:
        behind = bisect_right(starts, note.at)
        last = (starts[behind] if behind < len(starts) else len(report.blocks)) - 1
        while last > note.at and not _hosts(report, last, shown):
            last -= 1
        found.setdefault(last, []).append(note.block)
    return found


def _hosts(report: Report, index: int, notes: set[str]) -> bool:
    block = report.blocks[index]
    if not isinstance(block, Paragraph | DataTable | Image):
        return False
    return not (is_note(block, report) and block.id in notes)


def with_endnotes(box: Box, index: int, report: Report, notes: Sequence[int], boxes: Sequence[Box]) -> Box:
    """The box of a block with the endnotes that stand beneath it as its last parts."""
    heights = list(box.heights)
    for at, note in enumerate(notes):
        foot = boxes[note].foot or Box(())
        own = list(foot.heights)
        own[0] += 0.0 if at else ABOVE
        own[-1] += foot.after
        heights += own
    count = len(heights) - len(box.heights)
    if not count:
        return box
    block = report.blocks[index]
    after = len(as_set(block, report).text) if isinstance(block, Paragraph) else box.starts[-1] + 1 if box.starts else 0
    starts = (*box.starts, *(after,) * count) if box.starts else ()
    return replace(box, heights=tuple(heights), starts=starts, total=sum(heights))


def parted(placed: Placed, box: Box, notes: Sequence[int], boxes: Sequence[Box], back: bool) -> list[Placed]:
    """What stands on a page of a block with endnotes beneath it: its own parts, notes, and its way back if it has one."""
    counts = [len((boxes[note].foot or Box(())).heights) for note in notes]
    own = len(box.heights) - sum(counts) - back
    found: list[Placed] = []
    if placed.first < own:
        found.append(placed._replace(end=min(placed.end, own)))
    y = placed.y
    at = placed.first
    begins = own
    for index, (note, count) in enumerate(zip(notes, counts, strict=True)):
        first, end = max(at, begins), min(placed.end, begins + count)
        if first < end:
            y += sum(box.heights[at:first])
            above = ABOVE if index == 0 and first == begins else 0.0
            found.append(placed._replace(box=note, first=first - begins, end=end - begins, y=y + above))
            at = first
        begins += count
    if back and placed.end > begins:
        found.append(placed._replace(first=begins, y=placed.y + sum(box.heights[placed.first : begins])))
    return found
