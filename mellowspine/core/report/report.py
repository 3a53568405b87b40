"""A report: its text, its styles, its page set-up and the tables issued from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from .authorities import DEFAULT_CATEGORIES, Authorities, Categories
from .blocks import Block
from .index import See
from .labels import DEFAULT_LABELS, Labels
from .numbering import UNNUMBERED, Numbering
from .page import DEFAULT_PAGE, PageSetup
from .parts import Parts
from .styles import StyleSheet, default_styles
from .tables import Issued


class Beside(NamedTuple):
    """What stands beside the first lines of a block: a picture, at which side, how much of the column it takes with the gap, and how far
    down it reaches from the top of these lines. In points."""

    side: Literal["left", "right"]
    width: float
    height: float


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
    parts: Parts = field(default_factory=dict)
    """Page set-up and page numbers of its parts, by the id of the block with which each begins (``PartStart``)."""
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
    beside: Beside | None = None
    """What stands beside the block that is being set (``pages/beside.py``); as ``page`` is then that of its part."""
    house: str = ""
    """``checked_as`` of the house sheet that it was given, if any (``house.py``)."""
    tables: Mapping[str, Issued] = field(default_factory=dict)
    """Recipe and issued lines of every table, by table id; printed where a PlacedTable names it."""
