"""What changed between two states of a room, small enough to send after every edit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from operator import eq
from typing import Any

from mellowspine.core.report.stretch import stretch


def splice(old: Sequence[Any], new: Sequence[Any]) -> dict[str, Any] | None:
    """The one stretch in which two lists differ: ``{"at", "remove", "insert"}``, None if they are equal."""
    change = stretch(old, new, eq) if old is not new else None
    if not change:
        return None
    first, old_end, new_end = change
    return {"at": first, "remove": old_end - first, "insert": list(new[first:new_end])}


def changed_keys(old: Mapping[str, Any], new: Mapping[str, Any]) -> dict[str, Any] | None:
    """The keys whose values differ, None standing for those that are gone; None if nothing differs."""
    if old is new or old == new:
        return None
    result = {key: value for key, value in new.items() if key not in old or old[key] != value}
    return result | {key: None for key in old if key not in new}
