"""Columns of data tables: how wide each is set, and where it begins; and how cells look that do not say so."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate

from ..report.blocks import Cell, DataTable, Image, Paragraph
from ..report.grids import Slot, width_of, widths_said
from ..report.report import Report
from .breaks import units
from .typefaces import Typefaces

PADDING = 4.0
LEAST_WIDTH = 2 * PADDING + 12.0
"""Points of a column that is said to be narrower, so that there is room for a word's letters."""
LINE, LINE_WIDTH, HEADER = "#b9b3bf", 0.5, "#f1f0ec"
"""The line around a cell that says no other, its width in points, and the colour behind one in a header row."""
_TOLERANCE = 0.01
"""Points that a column is wider than its longest word."""
_CHARACTER = 5.0
"""Points that a character of a cell is wide, about."""


def padding_of(cell: Cell) -> tuple[float, ...]:
    """Points between a cell's edges and what stands in it: above, at the right, below, at the left."""
    return cell.padding or (PADDING,) * 4


def column_widths(grid: Sequence[Sequence[Slot]], width: float, report: Report, typefaces: Typefaces) -> list[float]:
    """Widths of a grid's columns in points, ``width`` together at most: as they are said, or else as ``_guessed``."""
    said = widths_said(grid)
    guessed = said if said and all(said) else _guessed(grid, width, report, typefaces)
    if not any(said):
        return guessed
    least = min(LEAST_WIDTH, width / len(guessed))
    wanted = [max(one or other, least) for one, other in zip(said, guessed, strict=True)]
    return [one * min(1.0, width / sum(wanted)) for one in wanted]


def _guessed(grid: Sequence[Sequence[Slot]], width: float, report: Report, typefaces: Typefaces) -> list[float]:
    """Columns in proportion to their longest texts or widest pictures, each at least a tenth, and as wide as its longest word where
    all of them can be."""
    longest = [1.0] * max(width_of(grid), 1)
    least = [0.0] * len(longest)
    for slots in grid:
        for slot in slots:
            if slot.columns == 1:
                length = max(map(_length, slot.cell.blocks), default=0.0)
                longest[slot.column] = max(longest[slot.column], min(length, 40))
                words = max((_word(block, report, typefaces) for block in slot.cell.paragraphs), default=0.0)
                _, right, _, left = padding_of(slot.cell)
                least[slot.column] = max(least[slot.column], words + left + right)
    floor = max(sum(longest) * 0.1, 6.0)
    shares = [max(value, floor) for value in longest]
    found = [width * share / sum(shares) for share in shares]
    if sum(least) > width:
        return found
    narrow: set[int] = set()
    while more := {at for at, one in enumerate(found) if at not in narrow and one < least[at]}:
        # Those that are too narrow take what they need; the others share what is left.
        narrow |= more
        left = width - sum(least[at] for at in narrow)
        whole = sum(share for at, share in enumerate(shares) if at not in narrow)
        found = [least[at] if at in narrow else left * share / whole for at, share in enumerate(shares)]
    return found


def _word(block: Paragraph, report: Report, typefaces: Typefaces) -> float:
    """How wide a cell must be within its padding for none of a paragraph's words to be cut, in points."""
    style = report.styles[block.style]
    marks = [run.marks for run in block.runs]
    bold, italic = (getattr(style, name) or any(getattr(one, name) for one in marks) for name in ("bold", "italic"))
    size = max([style.size, *(one.size for one in marks if one.size)])
    face = typefaces.face(style.font, bold, italic)
    wide = max((face.unit(piece).bare for piece in units(block.text)), default=0.0)
    return wide * size + style.indent + style.right_indent + _TOLERANCE


def _length(block: Paragraph | Image) -> float:
    """How much room a column needs for what stands in a cell, in characters."""
    return len(block.text) if isinstance(block, Paragraph) else block.width / _CHARACTER


def column_edges(block: DataTable, grid: Sequence[Sequence[Slot]], report: Report, typefaces: Typefaces) -> list[float]:
    """Where each column of a grid begins, in points, and where the last ends."""
    widths = column_widths(grid, report.page.column_width, report, typefaces)
    free = report.page.column_width - sum(widths)
    left = {"center": free / 2, "right": free}.get(block.align or "", block.indent or 0.0)
    return [*accumulate(widths, initial=left)]
