"""What browsers are shown of a follower's value, and what brings an older one up to a newer one.

This is the one description of it: the types and readers of browsers are made from it (``described.py``). A tuple with
names is sent as a list of what it holds, a dataclass as an object.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field, is_dataclass
from operator import eq
from typing import Any, Protocol

from mellowspine.core.report.diff import diff


class Part(Protocol):
    """Describes a value that browsers hold a copy of. ``empty``: what they start from."""

    @property
    def empty(self) -> Any: ...

    def changes(self, old: Any, new: Any) -> Any:
        """What is sent to bring ``old`` up to ``new``; None if nothing differs."""


@dataclass(frozen=True, slots=True)
class Single:
    """One value of a type, sent whole: ``[value]``."""

    type: Any
    empty: Any

    def changes(self, old: Any, new: Any) -> Any:
        return None if old is new or old == new else [as_sent(new)]


@dataclass(frozen=True, slots=True)
class ListOf:
    """A list of rows of a type, sent as the stretch in which it differs (``splice``)."""

    row: Any
    empty: Sequence[Any] = ()

    def changes(self, old: Any, new: Any) -> Any:
        return splice(old, new)


@dataclass(frozen=True, slots=True)
class PagesOf(ListOf):
    """The page of every row of another list, by the name of its follower; counted from 1."""

    row: Any = int
    of: str = ""


@dataclass(frozen=True, slots=True)
class MapOf:
    """Values of a type, or what is described in parts, by key; sent as the keys that differ, null for those that are gone."""

    value: Any
    empty: Mapping[str, Any] = field(default_factory=dict)

    def changes(self, old: Any, new: Any) -> Any:
        if not isinstance(self.value, Parts):
            return changed_keys(old, new)
        inner = self.value
        new_ones = {key: inner.changes(inner.empty, value) or {} for key, value in new.items() if key not in old}
        found = {key: inner.changes(old[key], value) for key, value in new.items() if key in old}
        gone = {key: None for key in old if key not in new}
        return {key: change for key, change in found.items() if change} | new_ones | gone or None


@dataclass(frozen=True, slots=True)
class Parts:
    """Attributes of a class, each described by itself; sent as those that differ, by name."""

    type: Any
    parts: Mapping[str, Part]

    @property
    def empty(self) -> Any:
        return self.type(**{name: part.empty for name, part in self.parts.items()})

    def changes(self, old: Any, new: Any) -> Any:
        found = {name: part.changes(getattr(old, name), getattr(new, name)) for name, part in self.parts.items()}
        return {name: change for name, change in found.items() if change is not None} or None


def as_sent(value: Any) -> Any:
    """A value as JSON has it."""
    return asdict(value) if is_dataclass(value) and not isinstance(value, type) else value


def splice(old: Sequence[Any], new: Sequence[Any]) -> dict[str, Any] | None:
    """The one stretch in which two lists differ: ``{"at", "remove", "insert"}``, None if they are equal."""
    change = diff(old, new, eq) if old is not new else None
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
