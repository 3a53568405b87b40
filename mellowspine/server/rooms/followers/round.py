"""Followers, and the rounds in which they are computed after an edit.

A follower has a name. It computes its value from the report and from what others give, asked for by name, and is handed
its own value of before, with the report that this was of, so that work after an edit can be confined to the edit. One that
fails keeps the value it had, and so do those that ask for it; all others go on.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.report import Report
from mellowspine.core.structure.rules import LookRule

from ..causes import Causes
from ..kept import Kept
from .shown import Part

log = logging.getLogger(__name__)


class Of(NamedTuple):
    """A value, the state of the report that it was computed from, and what its follower looked at."""

    report: Report
    value: Any
    seen: tuple[Any, ...] | None = None


Known = Mapping[str, Of]
"""By name of the follower."""


class Issuance(NamedTuple):
    """Who brought a table up to date last, and when (ISO 8601); and whether that is done by itself."""

    at: str | None = None
    by: str | None = None
    keeps_level: bool = False


class SetAside(NamedTuple):
    """Why a finding is to stay, and who said so, when (ISO 8601)."""

    reason: str
    who: str
    at: str


@dataclass(frozen=True, slots=True)
class Given:
    """What the followers start from. ``issuances``: by key of the table."""

    report: Report
    typefaces: Typefaces
    causes: Causes
    issuances: Mapping[str, Issuance]
    rules: tuple[LookRule, ...] = ()
    """Rules of the authors' own for what is to be marked."""
    set_aside: Mapping[str, SetAside] = field(default_factory=dict)
    """Findings that are to stay, by id."""
    kept: tuple[Kept, ...] = ()
    """Words that were written in what another had taken out."""


class Failed(Exception):
    """A follower could not compute its value."""


@dataclass(frozen=True, slots=True)
class Follower:
    name: str
    compute: Callable[[Round, Of | None], Any]
    shown: Part | None = None
    """How its value is shown to browsers. Without it, none of them is."""
    looks_at: Callable[[Round], tuple[Any, ...]] | None = None
    """What the value follows from, if it is worth a look: where all of that is as before, the value is not computed again."""


class Round:
    """One computing of what follows from one state of a report."""

    def __init__(self, followers: Mapping[str, Follower], given: Given, before: Known) -> None:
        self.given, self._followers, self._before = given, followers, before
        self.known: dict[str, Of] = {}
        self._failed: set[str] = set()
        self.broken: list[str] = []
        """What could not be computed through its own fault, by name."""

    def __getitem__(self, name: str) -> Any:
        """What the follower with this name gives. Raises Failed if it cannot, which is logged where it began."""
        if name in self._failed:
            raise Failed(name)
        if name not in self.known:
            self._failed.add(name)  # until it is there: one that asks for itself fails rather than hangs
            follower, before = self._followers[name], self._before.get(name)
            try:
                seen = follower.looks_at(self) if follower.looks_at else None
                as_before = (
                    before is not None and seen is not None and before.seen is not None and same(seen, before.seen)
                )
                value = before.value if before and as_before else follower.compute(self, before)
            except Failed:
                raise
            except Exception as error:
                log.exception("“%s” of report “%s” could not be computed", name, self.given.report.title)
                self.broken.append(name)
                raise Failed(name) from error
            self._failed.discard(name)
            self.known[name] = Of(self.given.report, value, seen)
        return self.known[name].value

    def finish(self) -> None:
        """Computes all that has not been asked for; what failed is as it was before."""
        for name in self._followers:
            try:
                self[name]
            except Failed:
                if name in self._before:
                    self.known[name] = self._before[name]


def same(seen: tuple[Any, ...], then: tuple[Any, ...]) -> bool:
    """Whether a follower would look at the very same; numbers are the same if they are equal."""
    return len(seen) == len(then) and all(
        one is other or (type(one) is int and one == other) for one, other in zip(seen, then, strict=True)
    )
