"""Previews: what a plan would change in a report, block by block."""

from __future__ import annotations

from typing import NamedTuple

from .blocks import Block, DataTable, Image, PageBreak, Paragraph, PlacedTable
from .plan import Plan, carry_out
from .report import Report
from .stretch import stretch
from .styles import StyleSheet

Shown = tuple[str, str]
"""What a block is, in a word or two, and its words."""


class Change(NamedTuple):
    """A block before and after a plan; None where it was not there, or is not any more."""

    id: str
    before: Shown | None
    after: Shown | None


def preview(plan: Plan, report: Report) -> list[Change]:
    """What a plan changes, in reading order; blocks that only move are left out."""
    after = carry_out(plan, report)
    change = stretch(report.blocks, after.blocks)
    old = {block.id: block for block in report.blocks[change.first : change.old_end]}
    new = {block.id: block for block in after.blocks[change.first : change.new_end]}
    found = []
    for id, block in old.items():
        other = new.get(id)
        if other is not block:
            found.append(Change(id, _shown(block, report.styles), _shown(other, report.styles) if other else None))
    # What is new stands where it comes: behind the block before it that stays.
    place = {one.id: at for at, one in enumerate(found)}
    last = -1
    added: list[tuple[int, Change]] = []
    for id, block in new.items():
        if id in old:
            last = place.get(id, last)
        else:
            added.append((last, Change(id, None, _shown(block, report.styles))))
    for at, one in reversed(added):
        found.insert(at + 1, one)
    return found


def _shown(block: Block, styles: StyleSheet) -> Shown:
    match block:
        case Paragraph():
            return styles[block.style].name, " ".join(block.text.split())
        case PlacedTable():
            return "Table", "made from the headings"
        case PageBreak():
            return "Page break", ""
        case Image():
            return "Picture", block.alt
        case DataTable():
            return "Data table", " ".join(p.text for row in block.rows for cell in row for p in cell.paragraphs)[:200]
        case _:
            return type(block).__name__, ""
