"""Parts: stretches of a report with page numbers, and a page set-up, of their own (front matter, body, appendices).

A part begins where a ``PartStart`` stands in the text, and its settings are kept by the id of that. What stands in front of all
of them is a part as well, called ``FIRST``.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Annotated, Any, Literal

from .numbering import Figures
from .page import PAGE_CHOICES, PAGE_PROPERTIES, PageSetup
from .properties import Property, SettingError, choices_of, properties_of, shown, usable, validate

FIRST = "first"

OF_REPORT = frozenset(
    {
        "picture",
        "picture_ratio",
        "version",
        "front",
        "back_level",
        "back_says",
        "language",
        "footnotes_counted",
        "footnote_signs",
    }
    | {"endnotes_at", "endnotes_counted", "endnote_signs"}
)
"""What of a page set-up is that of the whole report."""

OF_PART = tuple(one.name for one in fields(PageSetup) if one.name not in OF_REPORT)
"""What of it a part may have otherwise."""

_ONE_LINE = r"[^\x00-\x1f\x7f]"


@dataclass(frozen=True, slots=True)
class Part:
    """Settings of a part; its start says where it stands. Raises SettingError for what cannot be used."""

    name: Annotated[str, Property(form=re.compile(_ONE_LINE + "{0,80}"), how="write at most 80 characters")] = ""
    figures: Literal[Figures, "none"] | None = None
    """How its pages are numbered; None if as in the part in front of it."""
    words: Annotated[str, Property(form=re.compile(_ONE_LINE + "{0,20}"), how="write at most 20 characters")] = ""
    """What stands before the number of each page, as in "A-3"; only where it says its own figures."""
    start: Annotated[int | None, Property(1, 9999)] = None
    """The number of its first page; None if it goes on from the part in front of it."""
    begins: Literal["any", "right", "left"] = "any"
    """On which page it begins: one is left empty in front of it where that is needed. The first sheet is a right-hand page."""
    page: Mapping[str, Any] = field(default_factory=dict)
    """In what its page set-up differs from the report's."""

    def __post_init__(self) -> None:
        for name in (*PART_PROPERTIES, *PART_CHOICES):
            if fault := validate(name, value := getattr(self, name), PART_PROPERTIES, PART_CHOICES):
                raise SettingError(f"A part cannot have “{shown(value)}” as its {name}; {fault}.")
        for name, value in self.page.items():
            if name not in OF_PART:
                raise SettingError(f"“{name[:80]}” is set for the whole report; change it there.")
            if fault := validate(name, value, PAGE_PROPERTIES, PAGE_CHOICES):
                raise SettingError(f"A page cannot have “{shown(value)}” as its {name.replace('_', ' ')}; {fault}.")


PART_PROPERTIES, PART_CHOICES = properties_of(Part), choices_of(Part)

PLAIN = Part()
"""A part that goes on as the one in front of it, on a new page."""

Parts = Mapping[str, Part]
"""By the id of the block with which each begins, or ``FIRST``."""


def page_of_part(part: Part, page: PageSetup) -> PageSetup:
    """The page set-up of a part of a report with this one. Where both together leave no room for words, it is the report's."""
    if not part.page:
        return page
    try:
        return replace(page, **part.page)
    except SettingError:
        return page


def part_to_json(part: Part) -> dict[str, Any]:
    """What it says, but for what is as in any part."""
    found = {one.name: getattr(part, one.name) for one in fields(Part)}
    return {name: value for name, value in found.items() if value != getattr(PLAIN, name)}


def part_from_json(stored: Any) -> Part:
    """A part as it was kept; what is unknown or cannot be used is left out."""
    given = stored if isinstance(stored, Mapping) else {}
    own = usable(given.get("page"), PAGE_PROPERTIES, PAGE_CHOICES)
    return Part(
        **usable(given, PART_PROPERTIES, PART_CHOICES),
        page={name: value for name, value in own.items() if name in OF_PART},
    )


def parts_to_json(parts: Parts) -> dict[str, Any]:
    return {id: part_to_json(part) for id, part in parts.items()}


def parts_from_json(stored: Any) -> Parts:
    return {id: part_from_json(one) for id, one in stored.items()} if isinstance(stored, Mapping) else {}
