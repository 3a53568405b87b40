"""Boxes: what a block asks of the page. Each block becomes one box of parts that are never split.

The parts of a paragraph are its lines, those of a data table its rows, those of a placed table its title and lines.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import singledispatch

from ..report.blocks import Block
from ..report.report import Report
from .typefaces import Typefaces


@dataclass(frozen=True, slots=True)
class Box:
    """Heights and spaces in points. ``starts`` gives the character offset of each part of a paragraph."""

    heights: tuple[float, ...]
    starts: tuple[int, ...] = ()
    total: float = 0.0
    before: float = 0.0
    after: float = 0.0
    together: int = 1
    """How many parts stay together at the head and at the foot of a page: 2 for lines of text, 1 for all else."""
    keep_with_next: bool = False
    new_page: bool = False
    ends_page: bool = False
    repeated: int = 0
    """How many of the first parts are printed again on each further page."""


@singledispatch
def measure(block: Block, report: Report, typefaces: Typefaces) -> Box:
    """The box of a block in its report. Depends on the block, and on the report's styles, page set-up and tables.

    Every kind of block registers its own (``kinds/``). Raises TypeError for a type that is no kind of block.
    """
    raise TypeError(f"{type(block).__name__} is no kind of block: nothing says what it asks of the page")
