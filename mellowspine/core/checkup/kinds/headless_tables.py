"""Data tables in which no row is the head."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.blocks import Block, DataTable
from ...report.plan import Set
from ...report.styles import StyleSheet
from ..findings import Check, NewIds, Remedy, State, add_check, quoted


def _headless(block: Block, styles: StyleSheet) -> str | None:
    if type(block) is not DataTable or block.header_rows or len(block.rows) < 2:
        return None
    first = " ".join(paragraph.text for cell in block.rows[0] for paragraph in cell.paragraphs).strip()
    return f"The data table that begins with {quoted(first)} has no head." if first else "A data table has no head."


def _first_row(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    return Remedy(tuple(Set(id, {"headerRows": 1}) for id in places))


add_check(
    Check(
        "no-head",
        "Data tables without a head",
        "Who hears a cell read is not told what its column is about (WCAG 2.2, 1.3.1).",
        in_block=_headless,
        remedy=_first_row,
        label="Make the first row the head",
        hinders="7.5",
    )
)
