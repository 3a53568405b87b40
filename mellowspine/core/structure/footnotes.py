"""Footnotes and endnotes: which a report has, where each is referred to first, and what sign it has.

A note is a paragraph of the text that says so (``Paragraph.note``); it is written behind the block that refers to it, and may stand
anywhere. References to it are those that show a note. One that nothing refers to is none: it is a paragraph like any other.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from operator import itemgetter
from typing import NamedTuple

from ..report.blocks import NoteKind, Paragraph
from ..report.diff import Diff
from ..report.page import NoteSigns
from ..report.report import Report
from .noted import Notes
from .notes import shown_as
from .numbering import figure
from .outline import Outline


class Footnote(NamedTuple):
    """A note, which stands in ``block``, and where it is referred to first: block, row of a data table, offset in a paragraph."""

    id: str
    block: int
    kind: NoteKind
    at: int
    row: int
    offset: int


Footnotes = tuple[Footnote, ...]
"""In the order in which they are referred to."""

_SIGNS = "*†‡§¶"
"""Asterisk, dagger, double dagger, section, paragraph; then each doubled (common practice, no source)."""


class Before(NamedTuple):
    """An earlier state of a report with its notes, and the stretch of its blocks in which it differs."""

    report: Report
    noted: Notes
    footnotes: Footnotes
    change: Diff


def footnotes(report: Report, noted: Notes, before: Before | None = None) -> Footnotes:
    """The notes of a report. One that is referred to within another stands behind that one, as if it were referred to there.

    ``before`` changes nothing but the time it takes; notes that are as they were are the very same."""
    if before is not None and (carried := _carried(report, noted, before)) is not None:
        return carried
    found = _found(report, noted)
    return before.footnotes if before is not None and found == before.footnotes else found


def _carried(report: Report, noted: Notes, before: Before) -> Footnotes | None:
    """The notes as they were, where they stand now; None where other ones are referred to, or in another order."""
    earlier, then, old, change = before
    if report.styles.levels != earlier.styles.levels:
        return None
    olds = then[bisect_left(then, change.first, key=_block) : bisect_left(then, change.old_end, key=_block)]
    news = noted[bisect_left(noted, change.first, key=_block) : bisect_left(noted, change.new_end, key=_block)]
    starts: dict[tuple[int, int], tuple[int, int]] = {}
    blocks: dict[int, int] = {}
    if len(olds) != len(news):
        # Paragraphs that have nothing to do with notes make no difference.
        olds, news = _concerned(olds), _concerned(news)
    if len(olds) != len(news):
        return None
    for (block, one), (now, other) in zip(olds, news, strict=True):
        calls, others = ([lead for lead in each.leads if lead.shows == "note"] for each in (one, other))
        same = one.id == other.id and one.note == other.note and [c.to for c in calls] == [c.to for c in others]
        if not same or (calls and (one.row or other.row or type(report.blocks[now]) is not Paragraph)):
            return None
        if one.note and is_note(earlier.blocks[block], earlier) != is_note(report.blocks[now], report):
            return None
        if one.note:
            blocks[block] = now
        starts.update(((block, call.start), (now, on.start)) for call, on in zip(calls, others, strict=True))
    elsewhere = any(a != b for a, b in blocks.items())
    if not old or not (change.shift or elsewhere or any(a != b for a, b in starts.items())):
        return old

    def moved(note: Footnote) -> Footnote:
        at, offset = starts.get((note.at, note.offset), (_moved(note.at, change), note.offset))
        block = blocks[note.block] if note.block in blocks else _moved(note.block, change)
        return Footnote(note.id, block, note.kind, at, note.row, offset)

    if change.shift or elsewhere:
        return tuple(map(moved, old))
    first, end = (bisect_left(old, at, key=_at) for at in (change.first, change.old_end))
    return (*old[:first], *map(moved, old[first:end]), *old[end:])


def _concerned(noted: Notes) -> Notes:
    return tuple(pair for pair in noted if pair[1].note or any(lead.shows == "note" for lead in pair[1].leads))


def _moved(block: int, change: Diff) -> int:
    return block if block < change.first else block + change.shift


_block = itemgetter(0)
_at = itemgetter(3)


def _found(report: Report, noted: Notes) -> Footnotes:
    there: dict[str, tuple[int, int]] = {}
    """Of each note its block, and where it stands in ``noted``."""
    for at, (block, one) in enumerate(noted):
        if one.kind == "note" and one.id not in there and is_note(report.blocks[block], report):
            there[one.id] = block, at
    if not there:
        return ()
    found: dict[str, Footnote] = {}

    def refer(at: int, place: tuple[int, int, int] | None = None) -> None:
        block, one = noted[at]
        for lead in one.leads:
            if lead.shows == "note" and lead.to in there and lead.to not in found:
                note, own = there[lead.to]
                kind = noted[own][1].note or "foot"
                found[lead.to] = Footnote(lead.to, note, kind, *(place or (block, one.row, lead.start)))
                waiting.append((own, found[lead.to][3:]))

    own = {block for block, _ in there.values()}
    for at, (block, one) in enumerate(noted):
        if not one.leads or block in own:
            continue
        waiting: list[tuple[int, tuple[int, int, int]]] = []
        refer(at)
        for behind, place in waiting:  # grows while notes refer to notes; each is found once
            refer(behind, place)
    return tuple(found.values())


def is_note(block: object, report: Report) -> bool:
    """Whether a block of the text may be a note: a heading is none."""
    return type(block) is Paragraph and block.note is not None and block.style not in report.styles.levels


def signs(notes: Footnotes, report: Report, headings: Outline) -> dict[str, str]:
    """What stands for each note that is not counted by pages, by ``shown_as``."""
    page = report.page
    sections = section_starts(headings)
    found: dict[str, str] = {}
    for kind, counted, how in (
        ("foot", page.footnotes_counted, page.footnote_signs),
        ("end", page.endnotes_counted, page.endnote_signs),
    ):
        if counted == "page":
            continue
        of_kind = [note for note in notes if note.kind == kind]
        groups = [bisect_right(sections, note.at) if counted == "section" else 0 for note in of_kind]
        found |= _counted(of_kind, groups, how)
    return found


def signs_by_page(notes: Footnotes, report: Report, sheets: Mapping[str, int]) -> dict[str, str]:
    """What stands for each footnote of a report that counts them by page. ``sheets``: where each stands, by its id; while that is
    not known yet, each is the first of its page."""
    if report.page.footnotes_counted != "page":
        return {}
    of_kind = [note for note in notes if note.kind == "foot"]
    groups = [sheets.get(note.id, -at) for at, note in enumerate(of_kind, 1)]
    return dict(_counted(of_kind, groups, report.page.footnote_signs))


def _counted(notes: Sequence[Footnote], groups: Sequence[int], how: NoteSigns) -> Iterator[tuple[str, str]]:
    last, count = None, 0
    for note, group in zip(notes, groups, strict=True):
        last, count = group, count + 1 if group == last else 1
        yield shown_as(note.id, "note", ""), _sign(count, how)


def _sign(count: int, how: NoteSigns) -> str:
    if how != "signs":
        return figure(count, how)
    rounds, at = divmod(count - 1, len(_SIGNS))
    return _SIGNS[at] * (rounds + 1)


def section_starts(headings: Outline) -> list[int]:
    """The blocks with which main sections begin."""
    return [one.block for one in headings if one.level == 1 and one.by_hand != "put in"]
