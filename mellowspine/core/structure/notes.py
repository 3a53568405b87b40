"""Notes: what a report has of captions, bookmarks, references, links and marks, paragraph by paragraph.

They are made anew only where blocks differ.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator
from operator import itemgetter

from ..report.blocks import PLAIN, Paragraph
from ..report.diff import diff
from ..report.links import inner
from ..report.report import Report
from .noted import Cited, Leading, Marked, Noted, Notes, Termed
from .outline import paragraphs_of
from .place_kinds import MARKS, PARAGRAPHS


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
_MARKS = tuple(MARKS.items())
_PARAGRAPHS = tuple(PARAGRAPHS.items())


def _noted(report: Report, first: int, end: int) -> Iterator[tuple[int, Noted]]:
    for index in range(first, end):
        for paragraph, row in paragraphs_of(report, index):
            kind = _kind(paragraph)
            if kind or _has_noted(paragraph):
                yield (
                    index,
                    Noted(
                        row,
                        paragraph.id,
                        paragraph.caption,
                        paragraph.words,
                        *_of_runs(paragraph),
                        kind,
                        paragraph.note,
                    ),
                )


# Nearly all paragraphs go through these two, and nearly all for nothing: plain loops.


def _kind(paragraph: Paragraph) -> str:
    """The kind of place that a paragraph as a whole is; empty if it is none."""
    for kind, is_one in _PARAGRAPHS:
        if is_one(paragraph):
            return kind
    return ""


def _has_noted(paragraph: Paragraph) -> bool:
    """Whether something of a paragraph's words is noted."""
    for run in paragraph.runs:
        marks = run.marks
        if marks is PLAIN:
            continue
        if marks.reference or marks.citation or marks.indexed or (marks.link and marks.link.startswith("#")):
            return True
        for _, mark in _MARKS:
            if mark(marks):
                return True
    return False


def _of_runs(
    paragraph: Paragraph,
) -> tuple[tuple[Leading, ...], tuple[Marked, ...], tuple[Cited, ...], tuple[Termed, ...]]:
    leads: list[Leading] = []
    places: dict[str, Marked] = {}
    cites: dict[str, Cited] = {}
    terms: dict[str, Termed] = {}
    start = 0
    for run in paragraph.runs:
        reference, linked = run.marks.reference, inner(run.marks.link)
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
        for kind, mark in _MARKS if run.marks is not PLAIN else ():
            if found := mark(run.marks):
                known = places.get(found[0])
                words = known.words + run.words if known else run.words
                places[found[0]] = Marked(kind, *found, words, known.start if known else start)
        if citation := run.marks.citation:
            cited = cites.get(citation.id) or Cited(*citation, "", start)
            cites[citation.id] = cited._replace(words=cited.words + run.text)
        if indexed := run.marks.indexed:
            termed = terms.get(indexed.id) or Termed(*indexed, "", start, start)
            terms[indexed.id] = termed._replace(words=termed.words + run.text, end=start + len(run.text))
        start += len(run.text)
    return tuple(leads), tuple(places.values()), tuple(cites.values()), tuple(terms.values())


def shown_as(to: str, shows: str, paragraph: str) -> str:
    """The key of what a reference shows: above or below depends on where it stands, all else on its place alone."""
    return f"way {to} {paragraph}" if shows == "way" else f"{shows} {to}"
