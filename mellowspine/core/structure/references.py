"""References: what they show of the places to which they lead."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from typing import NamedTuple

from ..report.blocks import INLINE_OBJECT, Reference
from ..report.report import Report
from .noted import Leading, Noted, Notes, Place
from .notes import shown_as
from .places import Places

Shown = Mapping[str, str]
"""What references show, by ``shown_as``; nothing for those that lead to what is gone."""


class Showing(NamedTuple):
    """What the references of a report show, as far as that does not depend on pages; and what does, by key."""

    fixed: Shown
    pages: Mapping[str, Place]
    nested: Mapping[str, tuple[str, int, Noted]]
    """Words in which references stand, with the paragraph that they are from."""
    places: Places
    notes: Mapping[str, str] = {}
    """Those that say the sign of a note as a number, each with the one that shows it raised."""
    signs: Shown = {}
    """Signs of notes that are not counted by pages."""

    def on(self, page: Callable[[Place], str], signs: Shown) -> Shown:
        """All that is shown. ``page``: the printed number of the page on which a place is; ``signs``: those of notes."""
        found = {**self.fixed, **{key: page(place) for key, place in self.pages.items()}, **signs}
        for key, of in self.notes.items():
            if sign := found.get(of):
                found[key] = f"note {sign}" if key.startswith("label") else sign
        for key, (words, block, one) in self.nested.items():
            found[key] = _inside(words, block, one, self.places, page)
        return found


def showing(noted: Notes, known: Places, signs: Shown) -> Showing:
    """What the references of a report show; of those that lead to what is gone nothing is said.

    ``signs``: those of notes that are not counted by pages. Where a place has no number, its words are shown. A title in a title is left out: so no two can hold each other.
    """
    fixed: dict[str, str] = {}
    pages: dict[str, Place] = {}
    notes: dict[str, str] = {}
    for block, one in noted:
        for to, shows, _, _, key in one.leads:
            if not key or key in fixed or key in pages or key in signs or (place := known.get(to)) is None:
                continue
            if place.kind == "note" and shows in ("note", "number", "label"):
                if shows != "note":
                    notes[key] = shown_as(to, "note", "")
            elif shows == "page":
                pages[key] = place
            else:
                fixed[key] = _text_of(shows, place, block, one.row)
    held = {key: key.split(" ")[1] for key, words in fixed.items() if INLINE_OBJECT in words}
    by_id = {one.id: (at, one) for at, one in noted if one.id in {*held.values()}} if held else {}
    # Somebody may have typed the character: then there is nothing to be shown for it.
    nested = {key: (fixed[key], *by_id[id]) for key, id in held.items() if id in by_id}
    return Showing({**fixed, **signs}, pages, nested, known, notes, signs)


def _text_of(shows: str, place: Place, block: int, row: int) -> str:
    match shows:
        case "way":
            return "above" if (place.block, place.row) <= (block, row) else "below"
        case "number" if place.number:
            return place.number
        case "label" if place.number:
            return f"{place.label} {place.number}".strip()
    # ISO/IEC 29500-1, 17.16.5.51: a reference to a bookmark says the words that it marks.
    return place.words.replace(INLINE_OBJECT, "…") or place.text


def _inside(words: str, block: int, one: Noted, known: Places, page: Callable[[Place], str]) -> str:
    """The words of a place, with what the references in it show."""
    leads = iter(lead for lead in one.leads if lead.shows)

    def of_next(_: re.Match[str]) -> str:
        lead = next(leads, None)
        place = known.get(lead.to) if lead else None
        if lead and lead.shows == "note":
            return ""  # its sign stands where the words are, and not where they are said again
        if lead is None or place is None:
            return "…"
        says = page(place) if lead.shows == "page" else _text_of(lead.shows, place, block, one.row)
        return "…" if INLINE_OBJECT in says or lead.shows == "title" else says

    return re.sub(INLINE_OBJECT, of_next, words)


def lead_words(lead: Leading, report: Report) -> str:
    """What a link or reference reads; for a reference whose place is gone, in brackets what it was."""
    return _text_by(lead.key, lead.words, report) if lead.shows else lead.words


def reference_text(reference: Reference, paragraph: str, report: Report) -> str:
    """What a reference in a paragraph reads; if its place is gone, in brackets what it was."""
    return _text_by(shown_as(reference.to, reference.shows, paragraph), reference.said, report)


def _text_by(key: str, said: str, report: Report) -> str:
    words = report.shown.get(key)
    return broken(said) if words is None else words or "?"


def broken(said: str) -> str:
    return f"[{said}?]" if said else "[?]"


def worded(text: str, leads: Iterable[Leading], report: Report) -> str:
    """The words of a heading or caption with what the references among ``leads`` show; without the signs of notes."""
    references = iter(lead for lead in leads if lead.shows)

    def of_next(found: re.Match[str]) -> str:
        lead = next(references, None)
        if lead and lead.shows == "note":
            return ""
        return lead_words(lead, report) if lead else found[0]

    return re.sub(INLINE_OBJECT, of_next, text)
