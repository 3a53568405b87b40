"""Places: what links and references can lead to, and what they show of it.

One index for choosing, checking, the spine, tables and files: headings, captions and bookmarks, in reading order. What a
report has of captions, bookmarks, references and links is *noted* paragraph by paragraph, anew only where blocks differ.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from operator import itemgetter
from typing import Literal, NamedTuple

from ..report.blocks import ATOM, PLAIN, Entry, Paragraph, Reference, Run
from ..report.labels import Label, known_label
from ..report.links import inner
from ..report.report import Report
from ..report.stretch import stretch
from .outline import Heading, Outline, paragraphs_of

PlaceKind = Literal["heading", "caption", "bookmark", "occurrence"]
"""An occurrence is that of an authority, or of a term of the index: see ``occurrences.py``. Tables alone lead there."""


class Place(NamedTuple):
    """``label`` and ``number`` are as printed: "Figure" and "2-3"; a bookmark has those of the section that it stands in.

    ``offset`` is where in its paragraph a bookmark begins.
    """

    id: str
    kind: PlaceKind
    label: str
    number: str
    text: str
    block: int
    row: int
    offset: int = 0
    words: str = ""
    """The words that a bookmark marks, in all paragraphs over which it goes; ``text`` is its name, which is for lists."""


class Leading(NamedTuple):
    """A reference, or words that are a link to a place in the report. ``shows`` is empty for a link, ``words`` are its own.

    ``key`` says what a reference shows, by ``shown_as``; it is empty for a link.
    """

    to: str
    shows: str
    words: str
    start: int
    key: str = ""


class Marked(NamedTuple):
    """A bookmark in one paragraph: ``start`` is where its words begin."""

    id: str
    name: str
    words: str
    start: int


class Cited(NamedTuple):
    """A citation in one paragraph: ``start`` is where its words begin."""

    id: str
    of: str
    words: str
    start: int


class Termed(NamedTuple):
    """Words in one paragraph that are marked for the index, from ``start`` to before ``end``."""

    id: str
    entries: tuple[Entry, ...]
    words: str
    start: int
    end: int


class Noted(NamedTuple):
    """A paragraph that is a caption, leads somewhere, or has something marked in it. ``caption`` is the id of its label, or
    None."""

    row: int
    id: str
    caption: str | None
    text: str
    leads: tuple[Leading, ...]
    bookmarks: tuple[Marked, ...] = ()
    cites: tuple[Cited, ...] = ()
    terms: tuple[Termed, ...] = ()


Notes = tuple[tuple[int, Noted], ...]
"""In reading order, each with the index of its block."""

Places = Mapping[str, Place]
"""By id, in reading order."""

Shown = Mapping[str, str]
"""What references show, by ``shown_as``; nothing for those that lead to what is gone."""


def notes(report: Report, before: tuple[Report, Notes] | None = None) -> Notes:
    """All paragraphs of a report that are noted. ``before``, an earlier state of it with its notes, changes nothing but
    the time it takes."""
    if before is None:
        return tuple(_noted(report, 0, len(report.blocks)))
    earlier, old = before
    change = stretch(earlier.blocks, report.blocks)
    if not change:
        return old
    first = bisect_left(old, change.first, key=_block)
    rest = bisect_left(old, change.old_end, first, key=_block)
    new = tuple(_noted(report, change.first, change.new_end))
    if not change.shift and new == old[first:rest]:
        return old
    moved = [(at + change.shift, one) for at, one in old[rest:]] if change.shift else old[rest:]
    return (*old[:first], *new, *moved)


_block = itemgetter(0)


def _noted(report: Report, first: int, end: int) -> Iterator[tuple[int, Noted]]:
    for index in range(first, end):
        for paragraph, row in paragraphs_of(report, index):
            if paragraph.caption is None and not any(map(_is_noted, paragraph.runs)):
                continue
            yield index, Noted(row, paragraph.id, paragraph.caption, paragraph.text, *_of_runs(paragraph))


def _is_noted(run: Run) -> bool:
    marks = run.marks
    return marks is not PLAIN and bool(
        marks.reference
        or marks.bookmark
        or marks.citation
        or marks.indexed
        or (marks.link and marks.link.startswith("#"))
    )


def _of_runs(
    paragraph: Paragraph,
) -> tuple[tuple[Leading, ...], tuple[Marked, ...], tuple[Cited, ...], tuple[Termed, ...]]:
    leads: list[Leading] = []
    bookmarks: dict[str, Marked] = {}
    cites: dict[str, Cited] = {}
    terms: dict[str, Termed] = {}
    start = 0
    for run in paragraph.runs:
        reference, bookmark, linked = run.marks.reference, run.marks.bookmark, inner(run.marks.link)
        if reference:
            for offset in range(len(run.text)):
                to, shows, said = reference
                leads.append(Leading(to, shows, said, start + offset, shown_as(to, shows, paragraph.id)))
        elif linked:
            last = leads[-1] if leads else None
            if last and not last.shows and last.to == linked and last.start + len(last.words) == start:
                leads[-1] = last._replace(words=last.words + run.text)  # one link, formatted in parts
            else:
                leads.append(Leading(linked, "", run.text, start))
        if bookmark:
            known = bookmarks.get(bookmark.id)
            words = known.words + run.text if known else run.text
            bookmarks[bookmark.id] = Marked(bookmark.id, bookmark.name, words, known.start if known else start)
        if citation := run.marks.citation:
            cited = cites.get(citation.id) or Cited(*citation, "", start)
            cites[citation.id] = cited._replace(words=cited.words + run.text)
        if indexed := run.marks.indexed:
            termed = terms.get(indexed.id) or Termed(*indexed, "", start, start)
            terms[indexed.id] = termed._replace(words=termed.words + run.text, end=start + len(run.text))
        start += len(run.text)
    return tuple(leads), tuple(bookmarks.values()), tuple(cites.values()), tuple(terms.values())


# --- Captions ---


Captions = Mapping[str, tuple[Label, str, str]]
"""Label, number and words of every caption, by its id."""


def captions_of(report: Report, headings: Outline, noted: Notes) -> Captions:
    """All captions, counted.

    Those of a label that is counted by a level begin anew under each numbered heading of that level, or a higher one; its
    number stands in front, without words: "Chapter 2" and a third figure give 2-3 (common practice, no source). In front of
    the first such heading they are counted by themselves.
    """
    counts: dict[str, int] = {}
    chapters: dict[int, tuple[Sequence[Heading], list[tuple[int, int]]]] = {}
    at: dict[str, int] = {}
    found: dict[str, tuple[Label, str, str]] = {}
    for block, one in noted:
        if one.caption is None:
            continue
        label = known_label(report.labels, one.caption)
        front = ""
        if label.by_level:
            if label.by_level not in chapters:
                of_level = [h for h in headings if h.level <= label.by_level and h.number and h.by_hand != "put in"]
                chapters[label.by_level] = of_level, [(h.block, h.row) for h in of_level]
            headed, there = chapters[label.by_level]
            place = bisect_left(there, (block, one.row))
            if at.get(label.id) != place:
                at[label.id], counts[label.id] = place, 0
            front = f"{bare_number(headed[place - 1].number)}-" if place else ""
        counts[label.id] = counts.get(label.id, 0) + 1
        found[one.id] = label, f"{front}{counts[label.id]}", one.text
    return found


def bare_number(number: str) -> str:
    """A heading's number without the words and signs around it: "2" of "Chapter 2", "II" of "Part II."."""
    return re.sub(r"^.*\s", "", number.strip()).strip(".()[]§:–-") or number


def front_of(label: Label, number: str, text: str) -> str:
    """What is printed in front of a caption's words."""
    return f"{label.name} {number}{label.behind if text.strip() else ''}"


# --- Places ---


def places(
    headings: Outline, noted: Notes, captions: Captions, wanted: Collection[str] | None = None
) -> dict[str, Place]:
    """Everything that links can lead to, by id, in reading order; or what of it is ``wanted``, in any. Of two with one id the
    first counts."""
    found = {
        one.id: Place(one.id, "heading", "", one.number, one.text, one.block, one.row)
        for one in headings
        if (wanted is None or one.id in wanted) and one.id not in captions
    }
    sections: tuple[list[tuple[int, int]], list[str]] | None = None
    until: dict[str, int] = {}
    """By bookmark the last of the notes to which it goes on."""
    for at, (block, one) in enumerate(noted):
        if one.caption is not None and (wanted is None or one.id in wanted):
            label, number, text = captions[one.id]
            found[one.id] = Place(one.id, "caption", label.name, number, " ".join(text.split()), block, one.row)
        for mark in one.bookmarks:
            words = " ".join(mark.words.split())
            if mark.start == 0 and until.get(mark.id) == at - 1:
                known = found[mark.id]
                found[mark.id], until[mark.id] = known._replace(words=f"{known.words} {words}".strip()), at
            elif (wanted is None or mark.id in wanted) and mark.id not in found:
                until[mark.id] = at
                if sections is None:
                    real = [heading for heading in headings if heading.by_hand != "put in"]
                    sections = [(heading.block, heading.row) for heading in real], ["", *(h.number for h in real)]
                number = sections[1][bisect_right(sections[0], (block, one.row))]
                found[mark.id] = Place(mark.id, "bookmark", "", number, mark.name, block, one.row, mark.start, words)
    if wanted is not None:
        return found
    # Of what begins at one place, the paragraph comes before a bookmark in it.
    ordered = sorted(found.values(), key=lambda place: (place.block, place.row, place.offset, place.kind == "bookmark"))
    return {place.id: place for place in ordered}


# --- What references show ---


def shown_as(to: str, shows: str, paragraph: str) -> str:
    """The key of what a reference shows: above or below depends on where it stands, all else on its place alone."""
    return f"way {to} {paragraph}" if shows == "way" else f"{shows} {to}"


class Showing(NamedTuple):
    """What the references of a report show, as far as that does not depend on pages; and what does, by key."""

    fixed: Shown
    pages: Mapping[str, Place]
    nested: Mapping[str, tuple[str, int, Noted]]
    """Words in which references stand, with the paragraph that they are from."""
    places: Places

    def on(self, page: Callable[[Place], str]) -> Shown:
        """All that is shown. ``page``: the printed number of the page on which a place is."""
        found = {**self.fixed, **{key: page(place) for key, place in self.pages.items()}}
        for key, (words, block, one) in self.nested.items():
            found[key] = _inside(words, block, one, self.places, page)
        return found


def showing(noted: Notes, known: Places) -> Showing:
    """What the references of a report show; of those that lead to what is gone nothing is said.

    Where a place has no number, its words are shown. A title in a title is left out: so no two can hold each other.
    """
    fixed: dict[str, str] = {}
    pages: dict[str, Place] = {}
    for block, one in noted:
        for to, shows, _, _, key in one.leads:
            if not key or key in fixed or key in pages or (place := known.get(to)) is None:
                continue
            if shows == "page":
                pages[key] = place
            else:
                fixed[key] = _says(shows, place, block, one.row)
    held = {key: key.split(" ")[1] for key, words in fixed.items() if ATOM in words}
    by_id = {one.id: (at, one) for at, one in noted if one.id in {*held.values()}} if held else {}
    # Somebody may have typed the character: then there is nothing to be shown for it.
    nested = {key: (fixed[key], *by_id[id]) for key, id in held.items() if id in by_id}
    return Showing(fixed, pages, nested, known)


def _says(shows: str, place: Place, block: int, row: int) -> str:
    match shows:
        case "way":
            return "above" if (place.block, place.row) <= (block, row) else "below"
        case "number" if place.number:
            return place.number
        case "label" if place.number:
            return f"{place.label} {place.number}".strip()
    # ISO/IEC 29500-1, 17.16.5.51: a reference to a bookmark says the words that it marks.
    return place.words.replace(ATOM, "…") or place.text


def _inside(words: str, block: int, one: Noted, known: Places, page: Callable[[Place], str]) -> str:
    """The words of a place, with what the references in it show."""
    leads = iter(lead for lead in one.leads if lead.shows)

    def of_next(_: re.Match[str]) -> str:
        lead = next(leads, None)
        place = known.get(lead.to) if lead else None
        if lead is None or place is None:
            return "…"
        says = page(place) if lead.shows == "page" else _says(lead.shows, place, block, one.row)
        return "…" if ATOM in says or lead.shows == "title" else says

    return re.sub(ATOM, of_next, words)


def lead_words(lead: Leading, report: Report) -> str:
    """What a link or reference reads; for a reference whose place is gone, in brackets what it was."""
    return _printed(lead.key, lead.words, report) if lead.shows else lead.words


def said_by(reference: Reference, paragraph: str, report: Report) -> str:
    """The same for a reference in a paragraph."""
    return _printed(shown_as(reference.to, reference.shows, paragraph), reference.said, report)


def _printed(key: str, said: str, report: Report) -> str:
    words = report.shown.get(key)
    return broken(said) if words is None else words or "?"


def broken(said: str) -> str:
    return f"[{said}?]" if said else "[?]"


def worded(text: str, leads: Iterable[Leading], report: Report) -> str:
    """The words of a heading or caption with what the references among ``leads`` show."""
    references = iter(lead for lead in leads if lead.shows)

    def of_next(found: re.Match[str]) -> str:
        lead = next(references, None)
        return lead_words(lead, report) if lead else found[0]

    return re.sub(ATOM, of_next, text)
