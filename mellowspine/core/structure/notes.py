"""Notes: what a report has of captions, bookmarks, references, links and marks, paragraph by paragraph.

They are made anew only where blocks differ.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from operator import itemgetter
from typing import NamedTuple

from ..report.blocks import PLAIN, Entry, Paragraph, Run
from ..report.diff import diff
from ..report.links import inner
from ..report.report import Report
from .outline import paragraphs_of


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


def notes(report: Report, before: tuple[Report, Notes] | None = None) -> Notes:
    """All paragraphs of a report that are noted. ``before``, an earlier state of it with its notes, changes nothing but
    the time it takes."""
    if before is None:
        return tuple(_noted(report, 0, len(report.blocks)))
    earlier, old = before
    change = diff(earlier.blocks, report.blocks)
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


def shown_as(to: str, shows: str, paragraph: str) -> str:
    """The key of what a reference shows: above or below depends on where it stands, all else on its place alone."""
    return f"way {to} {paragraph}" if shows == "way" else f"{shows} {to}"
