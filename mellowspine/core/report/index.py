"""What an alphabetical subject index is made from, beside the terms marked in the text: where to look instead, or as well."""

from __future__ import annotations

from typing import Any, NamedTuple

from .properties import SettingError

DEEPEST = 3
"""A term, a term beneath it, and one beneath that."""
LONGEST = 500
"""Characters of a term."""
MOST_ENTRIES = 16
"""Terms under which one stretch of words can be marked."""

Terms = tuple[str, ...]
"""A term and those beneath it, the widest first."""


class See(NamedTuple):
    """Under ``terms`` the index says to see ``to``; ``also`` where it has places of its own as well."""

    terms: Terms
    to: Terms
    also: bool = False


def terms_of(given: Any) -> Terms | None:
    """Terms as somebody wrote them, without needless space; None for what are none."""
    if not isinstance(given, list | tuple) or not 1 <= len(given) <= DEEPEST:
        return None
    if not all(isinstance(one, str) and len(one) <= LONGEST for one in given):
        return None
    found = tuple(" ".join(one.split()) for one in given)
    return found if all(found) else None


def see_of(terms: Any, to: Any, also: Any = False) -> See:
    """A hint as somebody wants it. Raises SettingError for what cannot be one."""
    at, there = terms_of(terms), terms_of(to)
    if at is None or there is None:
        raise SettingError(f"A term is written in 1 to {LONGEST} characters, and stands at most three deep.")
    if at == there:
        raise SettingError("A term cannot lead to itself; choose another one.")
    return See(at, there, also is True)


def sees_from_json(stored: Any) -> tuple[See, ...]:
    """Hints as they were kept; what cannot be used is left out."""
    found = []
    for one in stored if isinstance(stored, list) else ():
        try:
            found.append(see_of(*one))
        except (TypeError, SettingError):
            continue
    return tuple(dict.fromkeys(found))
