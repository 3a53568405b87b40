"""Tab stops: where a tab leads to in a line, how what follows stands there, and what fills the gap.

The kinds are those of ISO/IEC 29500-1, 17.3.1.37 and 17.18.84, and of ODF 1.2, 17.8.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from typing import Literal, NamedTuple, get_args

TabAlign = Literal["left", "center", "right", "decimal"]
"""Where what follows the tab stands: its beginning, middle, end or decimal sign at the stop."""

Leader = Literal["dots", "dashes", "line"]

MOST_STOPS = 20
FURTHEST = 2000.0
"""Points from the left edge of the column."""

_FIGURE = r"(?:[1-9]\d{0,3}|0)(?:\.\d{1,2})?"
_ONE = rf"{_FIGURE} (?:{'|'.join(get_args(TabAlign))})(?: (?:{'|'.join(get_args(Leader))}))?"
FORM = re.compile(rf"(?:{_ONE}(?:, {_ONE}){{0,{MOST_STOPS - 1}}})?")
"""Stops as they are kept: ``72 left, 450 right dots``. Empty for none."""


class TabStop(NamedTuple):
    """``at``: points from the left edge of the column, whatever the paragraph's indent."""

    at: float
    align: TabAlign = "left"
    leader: Leader | None = None


@lru_cache(maxsize=1 << 10)
def tab_stops_of(text: str) -> tuple[TabStop, ...]:
    """The stops that a text of ``FORM`` says, from left to right; of two at one place the later."""
    found = {}
    for words in (one.split() for one in text.split(", ") if one):
        at, align, *leader = words
        found[float(at)] = TabStop(float(at), align, leader[0] if leader else None)  # type: ignore[arg-type]
    return tuple(found[at] for at in sorted(found))


def tab_stops_as_text(stops: Iterable[TabStop]) -> str:
    """Stops as they are kept; those that cannot be are left out, and of very many the last."""
    usable = {round(one.at, 2): one for one in stops if 0 <= one.at <= FURTHEST}
    return ", ".join(
        " ".join(filter(None, (f"{at:g}", usable[at].align, usable[at].leader))) for at in sorted(usable)[:MOST_STOPS]
    )
