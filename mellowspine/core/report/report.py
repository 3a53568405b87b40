"""A report: its text, its styles, its page set-up and the tables issued from it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from .authorities import DEFAULT_CATEGORIES, Authorities, Categories
from .blocks import Block
from .index import See
from .labels import DEFAULT_LABELS, Labels
from .numbering import UNNUMBERED, Numbering
from .properties import Property, SettingError, choices_of, properties_of, usable, validate
from .styles import StyleSheet, default_styles
from .tables import Issued

_SIDE = Property(72, 5669, "points")
_MARGIN = Property(0, 2000, "points")
LANGUAGE = re.compile(r"[a-z]{2,3}(-[A-Z]{2})?")
LEAST_AREA = 72.0
"""Width and height in points that the margins must leave for the text."""


@dataclass(frozen=True, slots=True)
class PageSetup:
    """Paper, margins and page numbers. Lengths in points; the default is A4 (ISO 216: 210 × 297 mm) with margins of one
    inch. Raises SettingError for what cannot be used."""

    width: Annotated[float, _SIDE] = 595.28
    height: Annotated[float, _SIDE] = 841.89
    top: Annotated[float, _MARGIN] = 72.0
    bottom: Annotated[float, _MARGIN] = 72.0
    left: Annotated[float, _MARGIN] = 72.0
    right: Annotated[float, _MARGIN] = 72.0
    number_at: Literal["none", "head", "foot"] = "foot"
    number_align: Literal["left", "center", "right"] = "center"
    number_says: Literal["figure", "page", "of"] = "figure"
    """What is printed on page 2 of 38: "2", "Page 2", or "Page 2 of 38"."""
    number_first: bool = True
    """Whether the first page has its number printed."""
    front: Literal["counted", "roman"] = "counted"
    """Whether what stands in front of the body is counted with it, or has small roman numerals of its own, so that the body
    begins with page 1 (common practice, no source)."""
    back_level: Annotated[int | None, Property(1, 9)] = None
    """The level whose sections end in a line that leads back to the contents, if any do."""
    back_says: Annotated[str, Property(form=re.compile(r"[^\n\r\t]{1,80}"), how="write 1 to 80 characters")] = (
        "Back to contents"
    )

    language: Annotated[str, Property(form=LANGUAGE, how="choose a language")] = "en-GB"
    """That of the text (BCP 47, with its region): for who checks spelling or reads aloud, and for the order of an alphabet."""

    def __post_init__(self) -> None:
        for name in (*PAGE_PROPERTIES, *PAGE_CHOICES):
            value = getattr(self, name)
            if fault := validate(name, value, PAGE_PROPERTIES, PAGE_CHOICES):
                raise SettingError(f"A page cannot have “{str(value)[:80]}” as its {name.replace('_', ' ')}; {fault}.")
        if min(self.text_width, self.text_height) < LEAST_AREA:
            raise SettingError("The margins leave no room for the text; make them smaller or the paper larger.")

    @property
    def text_width(self) -> float:
        return self.width - self.left - self.right

    @property
    def text_height(self) -> float:
        return self.height - self.top - self.bottom


PAGE_PROPERTIES, PAGE_CHOICES = properties_of(PageSetup), choices_of(PageSetup)
DEFAULT_PAGE = PageSetup()


def page_from_json(stored: Any) -> PageSetup:
    """A page set-up as it was kept. What is unknown or cannot be used is as on a page of its own accord."""
    try:
        return PageSetup(**usable(stored, PAGE_PROPERTIES, PAGE_CHOICES))
    except SettingError:
        return DEFAULT_PAGE


@dataclass(frozen=True, slots=True)
class Report:
    title: str
    blocks: tuple[Block, ...] = ()
    styles: StyleSheet = field(default_factory=default_styles)
    numbering: Numbering = UNNUMBERED
    page: PageSetup = DEFAULT_PAGE
    number_widths: Mapping[str, float] = field(default_factory=dict)
    """Room in points for the heading numbers of a style, by its id; found anew whenever pages are (``pages/number_widths.py``)."""
    backs: frozenset[str] = frozenset()
    """The blocks beneath which a line leads back to the contents; found anew whenever pages are (``pages/backs.py``)."""
    labels: Labels = field(default_factory=lambda: DEFAULT_LABELS)
    """What captions are called, and how they are counted."""
    authorities: Authorities = field(default_factory=dict)
    """What is cited in it."""
    categories: Categories = field(default_factory=lambda: DEFAULT_CATEGORIES)
    sees: tuple[See, ...] = ()
    """Where its index says to look instead, or as well."""
    captions: Mapping[str, str] = field(default_factory=dict)
    """What stands in front of the words of a caption, by its id; found anew whenever pages are (``structure/places.py``)."""
    shown: Mapping[str, str] = field(default_factory=dict)
    """What references show, by ``places.shown_as``; found anew whenever pages are."""
    house: str = ""
    """``checked_as`` of the house sheet that it was given, if any (``house.py``)."""
    tables: Mapping[str, Issued] = field(default_factory=dict)
    """Recipe and issued lines of every table, by table id; printed where a PlacedTable names it."""
