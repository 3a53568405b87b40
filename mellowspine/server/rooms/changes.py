"""What changed between two states of a room, small enough to send after every edit."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any


def splice(old: Sequence[Any], new: Sequence[Any]) -> dict[str, Any] | None:
    """The one stretch in which two lists differ: ``{"at", "remove", "insert"}``, None if they are equal."""
    if old == new:
        return None
    shorter = min(len(old), len(new))
    head = 0
    while head < shorter and old[head] == new[head]:
        head += 1
    tail = 0
    while tail < shorter - head and old[-1 - tail] == new[-1 - tail]:
        tail += 1
    return {"at": head, "remove": len(old) - head - tail, "insert": list(new[head : len(new) - tail])}


def changed_keys(old: dict[str, Any], new: dict[str, Any]) -> dict[str, Any] | None:
    """The keys whose values differ, None standing for those that are gone; None if nothing differs."""
    if old == new:
        return None
    result = {key: value for key, value in new.items() if key not in old or old[key] != value}
    return result | {key: None for key in old if key not in new}
