"""Headings: their numbers, words and pages; and the markers of lists."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from mellowspine.core.pages.pages import Pages
from mellowspine.core.report.blocks import INLINE_OBJECT
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import ByHand, Outline, outline
from mellowspine.core.tables.kinds import pages_of

from .round import Failed, Follower, Of, Round
from .shown import ListOf, MapOf, PagesOf


class HeadingShown(NamedTuple):
    id: str
    level: int
    number: str
    text: str
    by_hand: ByHand
    """Where somebody made an exception of it: it is no heading by its style, or is kept out of tables."""
    own_page: bool | None
    """Whether it begins a new page or goes on on the page, where that is said of it alone."""


def _outline(now: Round, before: Of | None) -> Outline:
    return outline(now.given.report, before and before[:2])


def _headings(now: Round, before: Of | None) -> list[HeadingShown]:
    headings: Outline = now["outline"]
    if any(INLINE_OBJECT in heading.text for heading in headings):
        try:
            pages: Pages = now["pages"]
            headings = pages.worded
        except Failed:
            pass  # they can be read without the words of references in them
    return [HeadingShown(*heading[:4], heading.by_hand, heading.own_page) for heading in headings]


def _headings_from(now: Round) -> tuple[Any, ...]:
    try:
        shown = now["pages"].report.shown
    except Failed:
        shown = None
    return now["outline"], shown


def _headings_on(now: Round, before: Of | None) -> list[int]:
    return pages_of(now["outline"], now["pages"])


def _headings_on_from(now: Round) -> tuple[Any, ...]:
    return now["outline"], now["pages"].starts


def _markers(now: Round, before: Of | None) -> Mapping[str, str]:
    """What stands in front of items of lists, by their ids."""
    return list_markers(now.given.report, before and before[:2])


FOLLOWERS = (
    Follower("outline", _outline),
    Follower("headings", _headings, ListOf(HeadingShown), looks_at=_headings_from),
    Follower("headings_on", _headings_on, PagesOf(of="headings"), looks_at=_headings_on_from),
    Follower("markers", _markers, MapOf(str)),
)
