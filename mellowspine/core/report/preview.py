"""Previews: what a plan would change in a report, block by block."""

from __future__ import annotations

from typing import NamedTuple

from .blocks import Block, DataTable, Image, PageBreak, Paragraph, PartStart, PlacedTable, ThematicBreak
from .diff import diff
from .plan import Plan, carry_out
from .report import Report
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
    change = diff(report.blocks, after.blocks)
    old = {block.id: block for block in report.blocks[change.first : change.old_end]}
    new = {block.id: block for block in after.blocks[change.first : change.new_end]}
    places = {id: (at, 0) for at, id in enumerate(old)}
    found = [
        (places[id], Change(id, _shown(block, report.styles), _shown(new[id], report.styles) if id in new else None))
        for id, block in old.items()
        if new.get(id) is not block
    ]
    # What is new stands behind the last block before it that was there already.
    at, further = -1, 0
    for id, block in new.items():
        at, further = places.get(id, (at, further + 1))
        if id not in old:
            found.append(((at, further), Change(id, None, _shown(block, report.styles))))
    return [one for _, one in sorted(found, key=lambda pair: pair[0])]


_MADE_FROM = {
    "contents": "made from the headings",
    "figures": "made from the captions of figures",
    "tables": "made from the captions of data tables",
    "authorities": "made from what is cited",
    "index": "made from the words marked for it",
}


def _shown(block: Block, styles: StyleSheet) -> Shown:
    match block:
        case Paragraph():
            return styles[block.style].name, " ".join(block.text.split()) or "no words"
        case PlacedTable():
            return "Table", _MADE_FROM.get(block.kind, "made from the text")
        case PageBreak():
            return "Page break", ""
        case ThematicBreak():
            return "Line across the page", ""
        case PartStart():
            return "Start of a part", ""
        case Image():
            return "Picture", block.alt
        case DataTable():
            return "Data table", " ".join(p.text for row in block.rows for cell in row for p in cell.paragraphs)[:200]
        case _:
            return type(block).__name__, ""
