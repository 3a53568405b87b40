"""Heading numbers: counting through a report, by the patterns of its numbering."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import NamedTuple

from ..report.numbering import Figures, LevelNumber, Numbering
from ..report.styles import LEVELS

_NOT_YET = -1


class Count(NamedTuple):
    """How far the headings are counted. ``figures``: the last figure of each level, below 0 for none yet."""

    figures: tuple[int, ...] = (_NOT_YET,) * len(LEVELS)
    appendix: bool = False
    unnumbered: int = 0
    """Level of the heading without a number under which the next ones stand; 0 if there is none."""


class Counter:
    """Counts headings, from the start of a report or from any heading on.

    A level that was skipped counts as 0: a level-3 heading right under the first level-1 heading is 1.0.1. A heading
    that is kept without a number does not count, and neither do those under it.
    """

    def __init__(self, numbering: Numbering, after: Count | None = None) -> None:
        self._numbering = numbering
        self._write = [[_writer(numbering.of(part), level) for level in LEVELS] for part in (False, True)]
        self.count = after or Count()

    def next(self, level: int, without: bool = False, start: int | None = None, appendix: bool = False) -> str:
        """The number of the next heading, empty if it has none.

        ``without``: it is kept without a number; ``start``: counted from here on; ``appendix``: the appendices begin.
        """
        figures, in_appendix, unnumbered = self.count
        if unnumbered >= level:
            unnumbered = 0
        if appendix:
            figures, in_appendix, unnumbered = Count(appendix=True)
        settings = self._numbering.of(in_appendix)
        counted = list(figures)
        for deeper in range(level, len(counted)):
            if settings[deeper].restarts:
                counted[deeper] = _NOT_YET
        here = settings[level - 1]
        silent = without or unnumbered > 0 or not here.on
        if not silent:
            last = counted[level - 1]
            counted[level - 1] = start if start is not None else here.start if last == _NOT_YET else last + 1
        elif without and not unnumbered:
            unnumbered = level
        self.count = Count(tuple(counted), in_appendix, unnumbered)
        return "" if silent else self._write[in_appendix][level - 1](counted)


def _writer(levels: tuple[LevelNumber, ...], level: int) -> Callable[[list[int]], str]:
    """What writes the number of a heading of a level, from the figures of all levels.

    Levels without numbers are left out of it, with what stands between them and the next.
    """
    parts: list[tuple[str, int]] = []  # words, and the level whose figure comes behind them; 0 at the end
    words = ""
    rest = levels[level - 1].pattern
    while found := re.search(r"%(\d)", rest):
        other = int(found[1])
        if other == level or levels[other - 1].on:
            parts.append((words + rest[: found.start()], other))
            words, rest = "", rest[found.end() :]
        else:
            words += rest[: found.start()]
            rest = re.sub(r"^[^%\w]+", "", rest[found.end() :])
    tail = words + rest

    def write(counted: list[int]) -> str:
        shown = (before + figure(max(counted[at - 1], 0), levels[at - 1].figures) for before, at in parts)
        return "".join(shown) + tail

    return write


_ROMAN = ((1000, "m"), (900, "cm"), (500, "d"), (400, "cd"), (100, "c"), (90, "xc"), (50, "l"), (40, "xl"), (10, "x"),
          (9, "ix"), (5, "v"), (4, "iv"), (1, "i"))  # fmt: skip


def figure(value: int, kind: Figures) -> str:
    """A figure in letters: a to z, then aa, bb (ISO/IEC 29500-1, 17.18.59); in roman numerals up to 3999; or decimal."""
    if kind == "decimal" or value < 1 or ("roman" in kind and value > 3999):
        return str(value)
    if "roman" in kind:
        written = ""
        for worth, sign in _ROMAN:
            while value >= worth:
                written, value = written + sign, value - worth
    else:
        again, letter = divmod(value - 1, 26)
        written = chr(ord("a") + letter) * (again + 1)
    return written.upper() if kind.startswith("upper") else written
