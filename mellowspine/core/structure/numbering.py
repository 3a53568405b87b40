"""Heading numbers."""

from __future__ import annotations


class Decimal:
    """Counts headings as in ISO 2145: 1, 1.1, 1.1.1, no full stop after the last figure.

    A level that was skipped counts as 0: a level-3 heading right under the first level-1 heading is 1.0.1.
    ``behind`` is the number of the heading after which the count goes on, empty at the start.
    """

    def __init__(self, behind: str = "") -> None:
        self._counts = [int(figure) for figure in behind.split(".")] if behind else []

    def next(self, level: int) -> str:
        counts = self._counts
        del counts[level:]
        counts.extend([0] * (level - len(counts)))
        counts[-1] += 1
        return ".".join(map(str, counts))
