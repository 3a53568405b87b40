"""Paths (SVG 2, 9.3) as path construction operators (ISO 32000-1, 8.5.2)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

_STEP = re.compile(r"([MLHVhvQCZ])([^MLHVhvQCZ]*)")
_NUMBER = re.compile(r"-?\d*\.?\d+(?:e[-+]?\d+)?")


@lru_cache(maxsize=1 << 10)
def operators(path: str) -> bytes:
    """A path of the steps M, L, H, V, h, v, Q, C and Z; curves of the second degree as such of the third."""
    return " ".join(_operators(path)).encode()


def _operators(path: str) -> Iterator[str]:
    x = y = 0.0
    for step, rest in _STEP.findall(path):
        given = [float(one) for one in _NUMBER.findall(rest)]
        match step:
            case "M" | "L":
                for at in range(0, len(given) - 1, 2):
                    x, y = given[at : at + 2]
                    yield f"{x:.5g} {y:.5g} {'m' if step == 'M' and at == 0 else 'l'}"
            case "H" | "V" | "h" | "v":
                x, y = {"H": (given[0], y), "V": (x, given[0]), "h": (x + given[0], y), "v": (x, y + given[0])}[step]
                yield f"{x:.5g} {y:.5g} l"
            case "Q":
                for at in range(0, len(given) - 3, 4):
                    over_x, over_y, end_x, end_y = given[at : at + 4]
                    near = x + (over_x - x) * 2 / 3, y + (over_y - y) * 2 / 3
                    far = end_x + (over_x - end_x) * 2 / 3, end_y + (over_y - end_y) * 2 / 3
                    yield " ".join(f"{one:.5g}" for one in (*near, *far, end_x, end_y)) + " c"
                    x, y = end_x, end_y
            case "C":
                for at in range(0, len(given) - 5, 6):
                    yield " ".join(f"{one:.5g}" for one in given[at : at + 6]) + " c"
                    x, y = given[at + 4 : at + 6]
            case "Z":
                yield "h"
