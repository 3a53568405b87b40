"""Places that links can reach beside headings, and what leads to them: captions, bookmarks, references, links."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from mellowspine.core.pages.pages import Pages
from mellowspine.core.structure.noted import Notes
from mellowspine.core.structure.notes import notes

from .round import Follower, Of, Round
from .shown import ListOf, MapOf, PagesOf


class PlaceShown(NamedTuple):
    """What a link or reference can lead to, beside headings. ``label`` and ``number`` as they are printed."""

    id: str
    kind: str
    """See the core's ``place_kinds``."""
    label: str
    number: str
    text: str


class CrossReferenceShown(NamedTuple):
    """A reference, or a link within the report, which shows nothing of its own but ``words``."""

    paragraph: str
    """Where it stands."""
    to: str
    shows: str
    words: str


def _noted(now: Round, before: Of | None) -> Notes:
    return notes(now.given.report, before and before[:2])


def _captions(now: Round, before: Of | None) -> Mapping[str, str]:
    """What stands in front of the words of a caption, by its id."""
    pages: Pages = now["pages"]
    return pages.report.captions


def _shown(now: Round, before: Of | None) -> Mapping[str, str]:
    """What references show, by the core's ``shown_as``."""
    pages: Pages = now["pages"]
    return pages.report.shown


def _places(now: Round, before: Of | None) -> list[PlaceShown]:
    """Captions, bookmarks and other such places, in reading order."""
    pages: Pages = now["pages"]
    shown = [place for place in pages.places.values() if place.kind != "heading"]
    then = [place for place in before.seen[0].values() if place.kind != "heading"] if before and before.seen else []
    if before is None or len(then) != len(shown):
        return [PlaceShown(*place[:5]) for place in shown]
    olds = zip(shown, then, before.value, strict=True)
    return [old if place is was else PlaceShown(*place[:5]) for place, was, old in olds]


def _places_from(now: Round) -> tuple[Any, ...]:
    return (now["pages"].places,)


def _places_on(now: Round, before: Of | None) -> list[int]:
    pages: Pages = now["pages"]
    notes = pages.note_sheets
    return [
        notes[place.block] if place.kind == "note" and place.block in notes else pages.page_of_place(place)
        for place in pages.places.values()
        if place.kind != "heading"
    ]


def _leads(now: Round, before: Of | None) -> list[CrossReferenceShown]:
    """References and links within the report, in reading order; without the signs of notes, which are a list of their own."""
    noted: Notes = now["noted"]
    return [
        CrossReferenceShown(one.id, lead.to, lead.shows, "" if lead.shows else lead.words)
        for _, one in noted
        for lead in one.leads
        if lead.shows != "note"
    ]


def _leads_on(now: Round, before: Of | None) -> list[int]:
    """Where the paragraph of each of these begins."""
    pages: Pages = now["pages"]
    noted: Notes = now["noted"]
    return pages.pages_of((block, one.row) for block, one in noted for lead in one.leads if lead.shows != "note")


FOLLOWERS = (
    Follower("noted", _noted),
    Follower("captions", _captions, MapOf(str)),
    Follower("shown", _shown, MapOf(str)),
    Follower("places", _places, ListOf(PlaceShown), looks_at=_places_from),
    Follower("places_on", _places_on, PagesOf(of="places")),
    Follower("leads", _leads, ListOf(CrossReferenceShown)),
    Follower("leads_on", _leads_on, PagesOf(of="leads")),
)
