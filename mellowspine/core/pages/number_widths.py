"""Widths of heading numbers: by level, that of the widest number in use, so that a new heading leaves others as they are."""

from __future__ import annotations

from collections.abc import Mapping
from math import ceil

from ..report.report import Report
from ..structure.outline import Outline
from .typefaces import Typefaces

GAP = 0.6
"""Between a number and the words behind it, in em."""


def number_widths(report: Report, headings: Outline, typefaces: Typefaces) -> Mapping[str, float]:
    """The room in whole points that is kept for the heading numbers of each style that has any, by its id."""
    numbers: dict[int, set[str]] = {}
    for heading in headings:
        if heading.number:
            numbers.setdefault(heading.level, set()).add(heading.number)
    found = {}
    for id, level in report.styles.levels.items():
        if level in numbers:
            style = report.styles[id]
            face = typefaces.face(style.font, style.bold, style.italic)
            widest = max(map(face.width, numbers[level]))
            found[id] = float(ceil((widest + GAP) * style.size))
    return found
