"""Authorities: what a report cites, by category. Kept as data by id; citations in the text name the authority that they are of."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from .elements import identifier
from .properties import SettingError, free_id

LONGEST = 500
"""Characters of a long or short form."""
MOST_CATEGORIES = 100
MOST = 4000
"""Authorities that a report has room for."""


class Category(NamedTuple):
    id: str
    name: str


class Authority(NamedTuple):
    """``long`` is how it is printed in tables; ``short`` how the text goes on to call it, nothing if it has no such name."""

    id: str
    category: str
    long: str
    short: str = ""


Authorities = Mapping[str, Authority]
"""By id."""

Categories = Mapping[str, Category]
"""By id, in the order in which tables list them."""

OTHER = "other"
"""The category of what has none, or one that is gone."""

DEFAULT_CATEGORIES: Categories = {
    one.id: one
    for one in (
        Category("cases", "Cases"),
        Category("statutes", "Statutes"),
        Category("regulations", "Regulations"),
        Category("standards", "Standards"),
        Category(OTHER, "Other authorities"),
    )
}


def written(words: Any) -> str:
    """A form as it is kept: without needless space, and not longer than there is room for."""
    return " ".join(words.split())[:LONGEST].strip() if isinstance(words, str) else ""


def authority_of(id: Any, category: Any, long: Any, short: Any = "") -> Authority:
    """An authority as somebody wants it. Raises SettingError for what cannot be one."""
    said = written(long)
    if identifier(id) is None or not said:
        raise SettingError("An authority needs the words by which it is cited in full; write some.")
    if len(" ".join(str(long).split())) > LONGEST or len(" ".join(str(short).split())) > LONGEST:
        raise SettingError(f"The words of a citation are at most {LONGEST} characters; write fewer.")
    return Authority(id, category if identifier(category) else OTHER, said, written(short))


def authorities_from_json(stored: Any) -> Authorities:
    """Authorities as they were kept; what cannot be used is left out."""
    found: dict[str, Authority] = {}
    for one in stored if isinstance(stored, list) else ():
        try:
            made = authority_of(*one)
        except (TypeError, SettingError):
            continue
        found[made.id] = made
    return found


def category_named(name: str, categories: Categories) -> Categories:
    """The categories with one more, last but for those of what has no category. Raises SettingError."""
    name = " ".join(name.split())
    if not 1 <= len(name) <= 60:
        raise SettingError("A category needs a name of 1 to 60 characters; choose another one.")
    if len(categories) >= MOST_CATEGORIES:
        raise SettingError(f"A report has room for {MOST_CATEGORIES} categories; take one out first.")
    if any(one.name.casefold() == name.casefold() for one in categories.values()):
        raise SettingError(f"There is a category “{name}” already; choose another name.")
    id = free_id(name, categories, "category", 24)
    rest = [one for one in categories.values() if one.id != OTHER]
    return _by_id([*rest, Category(id, name), *(one for one in categories.values() if one.id == OTHER)])


def categories_from_json(stored: Any) -> Categories:
    """Categories as they were kept; without any they are the usual ones."""
    found = []
    for one in stored if isinstance(stored, list) else ():
        if isinstance(one, list) and len(one) == 2 and identifier(one[0]) and isinstance(one[1], str) and one[1]:
            found.append(Category(one[0], one[1][:60]))
    return _by_id(found) or DEFAULT_CATEGORIES


def known_category(categories: Categories, id: str) -> Category:
    """The category with this id, or where there is none, that of what has none."""
    return categories.get(id) or categories.get(OTHER) or DEFAULT_CATEGORIES[OTHER]


def _by_id(categories: Iterable[Category]) -> Categories:
    return {one.id: one for one in categories}
