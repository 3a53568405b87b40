"""Properties: what values the settings of a style, a page or a number may have, as data beside each setting."""

from __future__ import annotations

import re
from collections.abc import Container, Mapping
from dataclasses import dataclass, replace
from itertools import chain, count
from math import isfinite
from types import NoneType
from typing import Any, Literal, get_args, get_origin, get_type_hints


class SettingError(ValueError):
    """A setting of a style, a numbering or a page cannot be used; the message is a sentence for the person."""


@dataclass(frozen=True, slots=True)
class Property:
    """What values one setting may have: numbers of a range, in a unit; or words of a form, said by ``how``."""

    least: float = 0.0
    most: float = 0.0
    unit: str = ""
    form: re.Pattern[str] | None = None
    how: str = ""
    whole: bool = False
    optional: bool = False
    """Whether it may be None. This and ``whole`` follow from the type that the setting has: see ``properties_of``."""

    def validate(self, value: Any) -> str | None:
        """How to choose another value, if this cannot be used."""
        if self.form:
            return None if isinstance(value, str) and self.form.fullmatch(value) else self.how
        if value is None and self.optional:
            return None
        is_number = isinstance(value, int if self.whole else int | float) and not isinstance(value, bool)
        if is_number and isfinite(value) and self.least <= value <= self.most:
            return None
        kind = "a whole number from " if self.whole else ""
        return f"choose {kind}{self.least:g} to {self.most:g} {self.unit}".rstrip()


def free_id(name: str, taken: Container[str], otherwise: str, longest: int) -> str:
    """An id after a name, in small letters, digits and hyphens, that is not taken; ``otherwise`` if nothing is left of it."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:longest] or otherwise
    numbered = (f"{stem}-{number}" for number in count(2))
    return next(id for id in chain([stem], numbered) if id not in taken)


def properties_of(type: type[Any]) -> Mapping[str, Property]:
    """What the values of the fields of a dataclass may be, beyond their types; by name."""
    found = {}
    for name, hint in get_type_hints(type, include_extras=True).items():
        for more in get_args(hint):
            if isinstance(more, Property):
                types = get_args(get_args(hint)[0]) or (get_args(hint)[0],)
                found[name] = replace(more, whole=float not in types, optional=NoneType in types)
    return found


def choices_of(type: type[Any]) -> Mapping[str, tuple[Any, ...]]:
    """What the fields of a dataclass may be, where that is one of a few; by name. Yes and no are two of them."""
    hints = get_type_hints(type)
    return {name: found for name, hint in hints.items() if (found := _choices(hint))}


def _choices(hint: Any) -> tuple[Any, ...]:
    """The values of a type that has few of them, or of one that may also be None; else nothing."""
    if hint is bool:
        return (False, True)
    if get_origin(hint) is Literal:
        return get_args(hint)
    inner = [choice for one in get_args(hint) for choice in _choices(one)]
    return (None, *inner) if inner and NoneType in get_args(hint) else ()


def _in_words(choice: Any) -> str:
    if isinstance(choice, bool):
        return "yes" if choice else "no"
    return "none" if choice is None else str(choice)


def usable(stored: Any, properties: Mapping[str, Property], choices: Mapping[str, tuple[Any, ...]]) -> dict[str, Any]:
    """What of some kept settings is known and can be used; for what was kept by another version, or put there by hand."""
    given = stored if isinstance(stored, Mapping) else {}
    return {
        name: value
        for name, value in given.items()
        if (name in properties or name in choices) and validate(name, value, properties, choices) is None
    }


def shown(value: Any) -> str:
    """A value that was refused, as a sentence quotes it: on one line, and not all of a long one."""
    return " ".join(str(value).split())[:80]


def validate(
    name: str, value: Any, properties: Mapping[str, Property], choices: Mapping[str, tuple[Any, ...]]
) -> str | None:
    """How to choose another value for a setting, if this cannot be used."""
    if name in choices:
        if any(value is one or (isinstance(one, str) and value == one) for one in choices[name]):
            return None
        return "choose one of " + ", ".join(map(_in_words, choices[name]))
    return properties[name].validate(value) if name in properties else None
