"""Where the cells of a data table stand, some of them over several columns and rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import accumulate
from typing import NamedTuple

from .blocks import Cell

WIDEST = 5000.0
"""Points of a column."""
MOST_PADDING, MOST_HEIGHT, MOST_INDENT = 200.0, 2000.0, 1000.0
"""Points between the edge of a cell and what stands in it; of a row that is to be so high at least; by which a data table stands
further to the right or to the left."""


class Slot(NamedTuple):
    """A cell in its grid: the row and column where it begins, from 0, and how many of each it reaches over."""

    cell: Cell
    row: int
    column: int
    columns: int
    rows: int

    @property
    def end(self) -> int:
        """The row behind its last."""
        return self.row + self.rows


def grid_of(rows: Sequence[Sequence[Cell]]) -> list[list[Slot]]:
    """The cells of each row with their places, after the HTML standard ("forming a table", from memory).

    A row holds those cells alone that begin in it, and leaves out the columns that cells above reach into. Nothing stands
    twice: no cell goes on below the last row, and one that would run into another from above is as narrow as there is room.
    """
    until: list[int] = []
    """By column the row behind the last that a cell from above reaches into."""
    found = []
    for number, row in enumerate(rows):
        slots, column = [], 0
        for cell in row:
            while column < len(until) and until[column] > number:
                column += 1
            until.extend([0] * (column + cell.columns - len(until)))
            room = next((n for n in range(cell.columns) if until[column + n] > number), cell.columns)
            height = min(cell.rows, len(rows) - number)
            until[column : column + room] = [number + height] * room
            slots.append(Slot(cell, number, column, room, height))
            column += room
        found.append(slots)
    return found


def width_of(grid: Sequence[Sequence[Slot]]) -> int:
    """How many columns a grid has."""
    return max((slot.column + slot.columns for row in grid for slot in row), default=0)


def widths_said(grid: Sequence[Sequence[Slot]]) -> list[float]:
    """The width of each column in points, as the first of its cells says that does; 0 where none does."""
    found = [0.0] * width_of(grid)
    for row in grid:
        for slot in row:
            for column, said in zip(range(slot.column, slot.column + slot.columns), slot.cell.widths, strict=False):
                found[column] = found[column] or said
    return found


def with_widths(rows: Sequence[Sequence[Cell]], widths: Sequence[float]) -> tuple[tuple[Cell, ...], ...]:
    """The rows with columns of these widths in points, as far as a column may have them; 0 where not known."""
    usable = [min(max(width, 0.0), WIDEST) for width in widths]

    def of(slot: Slot) -> tuple[float, ...]:
        own = tuple(usable[slot.column : slot.column + slot.cell.columns])
        return own if any(own) else ()

    return tuple(tuple(replace(slot.cell, widths=of(slot)) for slot in slots) for slots in grid_of(rows))


def all_columns(rows: Sequence[Sequence[Cell]]) -> list[list[Cell | None]]:
    """Every row with as many places as there are columns: a cell where it begins, None where it only reaches or nothing is."""
    grid = grid_of(rows)
    found: list[list[Cell | None]] = [[None] * width_of(grid) for _ in rows]
    for slots in grid:
        for slot in slots:
            found[slot.row][slot.column] = slot.cell
    return found


def without_covered_rows(rows: Sequence[Sequence[Cell]]) -> tuple[tuple[Cell, ...], ...]:
    """The rows in which any cell begins. Cells that reach into others reach over one less for each."""
    kept = [number for number, row in enumerate(rows) if row]
    if len(kept) == len(rows):
        return tuple(map(tuple, rows))
    before = [*accumulate((bool(row) for row in rows), initial=0)]
    """How many rows are kept in front of each."""
    return tuple(
        tuple(replace(cell, rows=before[min(number + cell.rows, len(rows))] - before[number]) for cell in rows[number])
        for number in kept
    )
