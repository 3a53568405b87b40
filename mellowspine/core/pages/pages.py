"""Pagination: a report in, its pages out; after an edit, from the first page that it touches.

Filling a page depends on nothing but where it starts and on the boxes from there on. So pages before an edit stay as
they are, and as soon as a page behind the edit starts where it started before, all pages from there on are the old ones. A part of the report begins a page;
the sheets that are left empty in front of one so that it begins on the right or the left are put in afterwards.
"""

from __future__ import annotations

import logging
from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache, cached_property
from itertools import pairwise
from operator import eq

from ..report.blocks import Block, DataTable, Paragraph, PlacedTable
from ..report.diff import Diff, diff, where
from ..report.page import PageSetup
from ..report.report import Beside, Report
from ..structure import places as places_module
from ..structure.captions import Captions, captions_of, front_of
from ..structure.footnotes import Before, Footnote, Footnotes, footnotes, signs, signs_by_page
from ..structure.noted import Notes, Place
from ..structure.notes import notes, shown_as
from ..structure.occurrences import Occurrences
from ..structure.outline import Outline, outline, paragraphs_of
from ..structure.places import Places, places
from ..structure.references import Showing, showing, worded
from .as_set import offset_as_set, offset_in_text
from .backs import back_height, backs, with_back
from .beside import Group, grouped, is_beside
from .boxes import Box, behind, measure, stays
from .endnotes import Hosts, hosts, parted, with_endnotes
from .feet import NO_FEET, Feet, part_of
from .fill import Frame, Placed, Start, fill, fill_page, frame_at
from .lines import set_style
from .number_widths import number_widths
from .parts import Count, Stretch, count_at, counts, is_start, stretch_at, stretches, with_blanks
from .typefaces import Typefaces

log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class Edge:
    """The start of a page: a block, and how far into it, in characters of a paragraph, or else in rows or lines."""

    block: Block
    offset: int


@dataclass(frozen=True)
class Pages:
    """The pages of a report. ``report`` is the report as it was set on them, with room for its heading numbers."""

    report: Report
    headings: Outline
    boxes: Sequence[Box]
    starts: Sequence[Start]
    """Where each page begins; one that is left empty in front of a part begins before the first part of its box."""
    stretches: tuple[Stretch, ...]
    part_starts: Sequence[int] = ()
    """The blocks with which parts begin."""
    fills: Sequence[Start] = ()
    """As ``starts``, without pages that are left empty."""
    footnotes: Footnotes = ()
    ends: Hosts = field(default_factory=dict)
    """Where its endnotes stand."""
    groups: Mapping[int, Group] = field(default_factory=dict)
    """What stands beside which picture, by the picture's place."""
    noted: Notes = field(default=(), repr=False)
    places_before: places_module.Before | None = field(default=None, repr=False, compare=False)
    """Of an earlier state, if they were found there."""
    showing: Showing | None = field(default=None, repr=False)
    """What references show, if there are any."""
    occurrences: Occurrences = field(default_factory=lambda: Occurrences(()), repr=False)
    """Citations and index marks."""

    def __len__(self) -> int:
        return len(self.starts)

    def page_of(self, block: int, row: int = 0) -> int:
        """The sheet, counted from 1, on which the block with this index begins, or a row of it."""
        if block in self._notes:
            return self.page_of_note(block)
        return max(1, self._sheet(block, self._part(block, row)))

    def _sheet(self, block: int, part: int) -> int:
        """The last sheet that begins with a part of a block, or in front of it."""
        return bisect_left(self.starts, (block, part + 1))

    def page_of_note(self, block: int) -> int:
        """The sheet on which a note begins: that of the line that refers to it, or of the end at which it stands."""
        return self.note_sheets.get(block) or self._sheet_of_note(block)

    @cached_property
    def note_sheets(self) -> Mapping[int, int]:
        """The sheets of those footnotes whose block is on one sheet alone, from which no note goes on: most are, as one going through
        them tells."""
        starts, found, page = self.starts, dict[int, int](), 0
        last = len(starts)
        for note in self.footnotes:
            while page < last and starts[page].box <= note.at:
                page += 1
            # The sheet begins in front of the block, and the next one behind it.
            if (
                note.kind == "foot"
                and page
                and starts[page - 1].box < note.at
                and (page == last or not starts[page].owed)
            ):
                found[note.block] = page
        return found

    def _sheet_of_note(self, block: int) -> int:
        note = self._notes[block]
        if note.kind == "end":
            host, before = self._hosted[block]
            beneath = sum(len(self._foot(one).heights) for one in self.ends[host])
            own = len(self.boxes[host].heights) - beneath - (self.report.blocks[host].id in self.report.backs)
            return max(1, self._sheet(host, own + sum(len(self._foot(one).heights) for one in before)))
        part = part_of(self.report.blocks[note.at], self.boxes[note.at], self.report, note.row, note.offset)
        sheet = max(1, self._sheet(note.at, part))
        while sheet < len(self.starts) and (block, 0) in self.starts[sheet].owed:
            sheet += 1
        return sheet

    @cached_property
    def beside(self) -> Mapping[int, Beside]:
        """What stands beside the first lines of which blocks."""
        return {at + more: beside for at, group in self.groups.items() for more, beside in group.beside}

    def _foot(self, note: int) -> Box:
        return self.boxes[note].foot or Box(())

    @cached_property
    def _notes(self) -> Mapping[int, Footnote]:
        return {note.block: note for note in self.footnotes}

    @cached_property
    def _hosted(self) -> Mapping[int, tuple[int, Sequence[int]]]:
        """Of each endnote the block beneath which it stands, and the notes there in front of it."""
        return {note: (host, notes[:at]) for host, notes in self.ends.items() for at, note in enumerate(notes)}

    @cached_property
    def printed_at(self) -> Mapping[int, int]:
        """Of each note the block with which it is printed."""
        return printed_at(self.footnotes, self.ends)

    @cached_property
    def feet(self) -> Feet:
        return Feet(self.footnotes, self.report, self.boxes)

    def _part(self, block: int, row: int) -> int:
        """The part with which a row begins: there are more parts than rows where some are taller than a page."""
        return bisect_left(self.boxes[block].starts, row) if row and self.boxes[block].starts else row

    def page_of_place(self, place: Place) -> int:
        """The sheet on which a place begins; that of a bookmark is where its words are."""
        if place.kind == "note" and place.block in self._notes:
            return self.page_of_note(place.block)
        return self.page_at(place.block, place.row, place.offset)

    def page_at(self, block: int, row: int, offset: int) -> int:
        """The sheet on which a character of a paragraph stands; of one in a data table, that of its row."""
        paragraph, starts = self.report.blocks[block], self.boxes[block].starts
        if block in self._notes:
            return self.page_of_note(block)
        if not offset or len(starts) < 2 or type(paragraph) is not Paragraph:
            return self.page_of(block, row)
        part = bisect_right(starts, offset_as_set(paragraph, self.report, offset)) - 1
        return max(1, self._sheet(block, part))

    @cached_property
    def captions(self) -> Captions:
        return captions_of(self.report, self.headings, self.noted)

    @cached_property
    def places(self) -> Places:
        """Everything in the report that links can lead to."""
        return places(self.headings, self.noted, self.captions, before=self.places_before)

    @cached_property
    def citing_pages(self) -> Sequence[int]:
        """The sheet on which each citation begins."""

        def found() -> list[int]:
            whole = self._whole_pages
            return [whole[at.at] or self._page_of_note(at.at, at.start) for _, at in self.occurrences.citings]

        return self.occurrences.cached("citing pages", (self.noted, self.starts), found)

    @cached_property
    def indexing_pages(self) -> tuple[Sequence[int], Sequence[int]]:
        """The sheets on which the stretches that are marked for the index begin, and those on which they end."""

        def found() -> tuple[list[int], list[int]]:
            whole, marked = self._whole_pages, self.occurrences.indexings
            firsts = [whole[at.at] or self._page_of_note(at.at, at.start) for _, at in marked]
            lasts = [
                first if at.until == at.at and whole[at.at] else whole[at.until] or self._page_of_note(at.until, at.end)
                for first, (_, at) in zip(firsts, marked, strict=True)
            ]
            return firsts, lasts

        return self.occurrences.cached("indexing pages", (self.noted, self.starts), found)

    def _page_of_note(self, at: int, offset: int) -> int:
        """The sheet on which a character of a noted paragraph stands."""
        block, one = self.noted[at]
        if one.leads or one.caption is not None or not offset or type(self.report.blocks[block]) is not Paragraph:
            return self.page_at(block, one.row, offset)
        if block in self._notes:
            return self.page_of_note(block)
        # Printed as it is, as most are: nothing has to be looked up for it.
        part = max(0, bisect_right(self.boxes[block].starts, offset) - 1)
        return max(1, self._sheet(block, part))

    @cached_property
    def _whole_pages(self) -> list[int]:
        """The sheet of each noted paragraph's block, or 0 for one that is not on one alone: most are, as one going through them
        tells."""
        boxes, found, before = [*(start.box for start in self.starts), len(self.boxes)], [0] * len(self.noted), 0
        for at, (block, _) in enumerate(self.noted):
            while boxes[before] < block:
                before += 1
            if boxes[before] != block and block not in self._notes:
                found[at] = before or 1
        return found

    @cached_property
    def occurrences_led_to(self) -> Sequence[Place]:
        """Those citations and terms to which lines of tables lead, as places. Of two with one id the first counts."""
        led = {lead.to for issued in self.report.tables.values() for line in issued.lines for lead in line.leads}
        if not led:
            return ()
        found: dict[str, Place] = {}
        for at in (*(one.at for one in self.occurrences.citings), *(one.at for one in self.occurrences.indexings)):
            if at.id in led and at.id not in found and at.id not in self.places:
                block, one = self.noted[at.at]
                found[at.id] = Place(at.id, "occurrence", "", "", at.words, block, one.row, at.start)
        return [*found.values()]

    @cached_property
    def worded(self) -> Outline:
        """The headings with what references in them show."""
        ids = {heading.id for heading in self.headings}
        leads = {
            one.id: one.leads
            for _, one in self.noted
            if one.leads and one.id in ids and any(lead.shows for lead in one.leads)
        }
        if not leads:
            return self.headings
        return tuple(
            one._replace(text=worded(one.text, leads[one.id], self.report)) if one.id in leads else one
            for one in self.headings
        )

    def pages_of(self, rows: Iterable[tuple[int, int]]) -> list[int]:
        """As ``page_of``, for many (block, row) in reading order at once."""
        starts, page, result = self.starts, 1, []
        for block, row in rows:
            reached = (block, (self._part(block, row) if row else 0) + 1)
            while page < len(starts) and starts[page] < reached:
                page += 1
            result.append(self.page_of_note(block) if block in self._notes else page)
        return result

    @cached_property
    def _body(self) -> int | None:
        """The sheet with which the body begins, if what stands in front of it has page numbers of its own without being a part.

        The body begins with the first main section that has a number, or with the first of all where none has.
        """
        if self.report.page.front == "counted" or len(self.stretches) > 1:
            return None
        main = [one for one in self.headings if one.level == 1 and one.by_hand != "put in"]
        first = next((one for one in main if one.number), main[0] if main else None)
        return self.page_of(first.block, first.row) if first else None

    @cached_property
    def counts(self) -> tuple[Count, ...]:
        """How sheets are numbered, from which on each."""
        return counts(self.stretches, self.starts, self._body)

    @cached_property
    def counted_anew(self) -> frozenset[int]:
        """The sheets with which another way of numbering begins."""
        return frozenset(one.sheet for one in self.counts[1:])

    @cached_property
    def labels(self) -> list[str]:
        """What is printed on each sheet as its page number; the first stands for no sheet, since they are counted from 1."""
        ends = [*(one.sheet for one in self.counts[1:]), len(self) + 1]
        return [
            "",
            *(c.label(sheet) for c, end in zip(self.counts, ends, strict=True) for sheet in range(c.sheet, end)),
        ]

    def label(self, page: int) -> str:
        """What is printed on the sheet as its page number."""
        return self.counts[count_at(self.counts, page)].label(page)

    def last_of(self, page: int) -> str:
        """What is printed on the last sheet that is counted with this one."""
        at = count_at(self.counts, page)
        return self.counts[at].label(self.counts[at + 1].sheet - 1 if at + 1 < len(self.counts) else len(self))

    def on_paper(self, block: int) -> Report:
        """The report as it is set where a block stands."""
        return report_on(self.report, stretch_at(self.stretches, block))

    def stretch(self, page: int) -> Stretch:
        """The part of the report that a sheet belongs to; one that is left empty belongs to the part in front of it."""
        box, part = self.starts[page - 1][:2]
        return stretch_at(self.stretches, max(box - (part < 0), 0))

    @cached_property
    def frames(self) -> tuple[Frame, ...]:
        return frames_of(self.stretches)

    def content(self, page: int) -> list[Placed]:
        """What stands on a sheet (counted from 1)."""
        start = self.starts[page - 1]
        if start.part < 0:
            return []
        placed = fill_page(self.boxes, frame_at(self.frames, start.box), start, self.feet)[1]
        if not self.ends:
            return placed
        backs = self.report.backs
        return [
            here
            for one in placed
            for here in (
                parted(
                    one, self.boxes[one.box], self.ends[one.box], self.boxes, self.report.blocks[one.box].id in backs
                )
                if one.box in self.ends
                else (one,)
            )
        ]

    def edges(self, first: int = 1, end: int | None = None) -> list[Edge]:
        """Where every page after the first begins; or those alone from ``first`` to before ``end``, counted from 0."""
        found = []
        for box, part, *_ in self.starts[first:end] if self.boxes else ():
            offsets, part = self.boxes[box].starts, max(part, 0)
            if part >= max(len(self.boxes[box].heights), 1):  # nothing but notes
                found.append(self._edge_behind(box))
                continue
            block, offset = self.report.blocks[box], offsets[part] if offsets else part
            if offsets and type(block) is Paragraph:
                offset = offset_in_text(block, self.report, offset)
            found.append(Edge(block, offset))
        return found

    def _edge_behind(self, box: int) -> Edge:
        """In front of what comes behind a block, or else at its end."""
        after = behind(self.boxes, box)
        if after < len(self.boxes):
            return Edge(self.report.blocks[after], 0)
        block = self.report.blocks[box]
        return Edge(block, len(block.text) if isinstance(block, Paragraph) else 0)


def paginate(
    report: Report,
    typefaces: Typefaces,
    before: Pages | None = None,
    headings: Outline | None = None,
    noted: Notes | None = None,
) -> Pages:
    """The pages of a report. ``before``, the pages of an earlier state of it, changes nothing but the time it takes.

    ``headings`` is its outline, and ``noted`` what is noted in it, if that is known already.
    """
    if headings is None:
        headings = outline(report, (before.report, before.headings) if before else None)
    if noted is None:
        noted = notes(report, (before.report, before.noted) if before else None)
    counted = captions_of(report, headings, noted)
    captions = {one: front_of(*caption) for one, caption in counted.items()}
    then = None
    if before:
        change = diff(before.report.blocks, report.blocks)
        then = Before(before.report, before.noted, before.footnotes, change)
    found = footnotes(report, noted, then)
    report = replace(
        report,
        number_widths=_number_widths(report, typefaces, before, headings),
        backs=backs(report, headings),
        captions=before.report.captions if before and before.report.captions == captions else captions,
        shown=before.report.shown if before else {},
    )
    if any(lead.key for _, one in noted for lead in one.leads):
        pages = _settled(report, typefaces, before, headings, noted, found, counted)
    else:
        nothing = report if not report.shown else replace(report, shown={})
        pages = _set_on_pages(nothing, typefaces, before, headings, noted, found)
    earlier = (
        before
        and "places" in vars(before)
        and places_module.Before(before.headings, before.noted, before.captions, before.places)
    )
    occurrences = before.occurrences.of(noted) if before else Occurrences(noted)
    pages = _with_feet_of(pages, replace(pages, places_before=earlier or None, occurrences=occurrences))
    if before and before.noted is noted and before.headings is headings and before.report.labels == report.labels:
        # What follows from these alone is not found anew.
        vars(pages).update((name, vars(before)[name]) for name in ("captions", "places") if name in vars(before))
    if before and pages.counts == before.counts:
        vars(pages)["counts"] = before.counts  # the very same, so that nothing is numbered anew for it
    return pages


MOST_ROUNDS = 8
"""Rounds after which references that go on moving what they lead to are left as they are."""


def _settled(
    report: Report,
    typefaces: Typefaces,
    before: Pages | None,
    headings: Outline,
    noted: Notes,
    found: Footnotes,
    captions: Captions,
) -> Pages:
    """The pages of a report that has references: each round shows in them the pages of the round before.

    Two are enough where no line grows with what it shows. It may be that no round is the last, since a longer line moves
    what it leads to back to where the line was shorter: then they stay as in the last of them.
    """
    same = (
        before
        and before.noted is noted
        and before.headings is headings
        and before.report.captions is report.captions
        and (not found or _counting(before.report.page) == _counting(report.page))
    )
    if before and same and before.showing:
        says, words = before.showing, report.shown
    else:
        notes = {note.id for note in found}
        wanted = {
            lead.to
            for _, one in noted
            for lead in one.leads
            if lead.key and not (lead.shows == "note" and lead.to in notes)
        }
        known_places = places(headings, noted, captions, wanted) if wanted else {}
        says = showing(noted, known_places, _signs(found, report, headings, before))
        by_page = signs_by_page(found, report, {})
        known = {key: report.shown[key] for key in (*says.pages, *by_page) if key in report.shown}
        words = {**says.on(lambda _: "1", by_page), **known}
    for _ in range(MOST_ROUNDS):
        report = replace(report, shown=report.shown if report.shown == words else words)
        before = pages = _set_on_pages(report, typefaces, before, headings, noted, found)
        by_page = signs_by_page(found, report, _SheetOfNote(pages))
        words = says.on(lambda place, on=pages: on.label(on.page_of_place(place)), by_page)  # type: ignore[misc]
        if words == report.shown:
            break
    return _with_feet_of(pages, replace(pages, showing=says))


def _with_feet_of(earlier: Pages, pages: Pages) -> Pages:
    """Pages with what is found already of their notes at the foot."""
    if "feet" in vars(earlier):
        vars(pages)["feet"] = earlier.feet
    return pages


def _signs(found: Footnotes, report: Report, headings: Outline, before: Pages | None) -> Mapping[str, str]:
    """The signs of notes that are not counted by pages: the very same as before, if they are counted as they were."""
    if before and before.showing and _counting(before.report.page) == _counting(report.page):
        old = before.footnotes
        change = diff(old, found, eq)
        olds, news = old[change.first : change.old_end], found[change.first : change.new_end]
        sections = "section" in (report.page.footnotes_counted, report.page.endnotes_counted)
        if [note[:4] for note in olds] == [note[:4] for note in news] and (not sections or before.headings is headings):
            return before.showing.signs
    return signs(found, report, headings)


def _counting(page: PageSetup) -> tuple[str, ...]:
    """What of a page set-up makes a difference to the signs of notes."""
    return page.footnotes_counted, page.footnote_signs, page.endnotes_counted, page.endnote_signs


def _set_on_pages(
    report: Report, typefaces: Typefaces, before: Pages | None, headings: Outline, noted: Notes, found: Footnotes
) -> Pages:
    """The pages of a report as it is set, with all that is printed in it."""
    on = _Paper(report, before, typefaces, found, headings)
    if before is None:
        boxes = [on.box(index) for index in range(len(report.blocks))]
        for picture in on.pictures:
            on.groups[picture], beside = on.group(picture, boxes[picture])
            for index, box in beside.items():
                boxes[index] = box
        for host in on.ends:
            boxes[host] = on.box(host, boxes)
        on.feet = Feet(found, report, boxes)
        fills = list(fill(boxes, frames_of(on.stretches), feet=on.feet))
        return _paged(on, headings, boxes, fills, noted, None)
    change = on.change
    # Where many write at once the stretch is long, and most blocks in it are the same as before.
    there = range(change.first, change.old_end)
    known = {
        id(before.report.blocks[at]): at
        for at in there
        if at not in before.ends and not before.boxes[at].foot and at not in before.beside and at not in before.groups
    }
    papers = {_area(one.page) for one in (*before.stretches, *on.stretches)}

    def again(index: int) -> Box | None:
        """The box that the very same block had before, on paper of the same kind."""
        at = known.get(id(report.blocks[index]))
        if at is None or index in on.written:
            return None
        both = () if len(papers) == 1 else (stretch_at(before.stretches, at), stretch_at(on.stretches, index))
        return before.boxes[at] if len({_area(one.page) for one in both}) < 2 else None

    elsewhere = on.elsewhere(before)
    boxes = [
        *before.boxes[: change.first],
        *(again(at) or on.box(at) for at in range(change.first, change.new_end)),
        *before.boxes[change.old_end :],
    ]
    for index in elsewhere:
        boxes[index] = on.box(index)
    otherwise: list[int] = [*elsewhere]
    for index in (*_set_otherwise(report, before.report), *_reading_otherwise(report, before.report, noted)):
        box = on.box(index)
        if box != boxes[index]:
            boxes[index] = box
            otherwise.append(index)
    if found or before.footnotes:
        otherwise += _anew_by_notes(on, before, boxes, otherwise)
    if on.pictures or before.groups:
        otherwise += _anew_beside(on, before, boxes, otherwise)
    if otherwise:
        change = change.widened(min(otherwise)).widened(max(otherwise))
    if not change:
        return _paged(on, headings, before.boxes, before.fills, noted, before)
    on.feet = Feet(found, report, boxes, before.feet)
    filled = _refill(boxes, before.fills, on.change, change, frames_of(on.stretches), on.feet)
    # The very same, so that what hangs on them alone is not found anew; unless the rows of a data table are parted otherwise.
    parted = any(boxes[at].starts for at in range(change.first, change.new_end) if type(report.blocks[at]) is DataTable)
    return _paged(on, headings, boxes, filled, noted, None if parted else before)


def _paged(
    on: _Paper, headings: Outline, boxes: Sequence[Box], fills: Sequence[Start], noted: Notes, before: Pages | None
) -> Pages:
    """Pages with a sheet left empty where a part wants it; their starts are those of ``before`` if they are the same."""
    if before and fills == before.fills:
        fills = before.fills
    starts = with_blanks(fills, on.stretches)
    if before and starts == before.starts:
        starts = before.starts
    pages = Pages(
        on.report, headings, boxes, starts, on.stretches, on.starts, fills, on.notes, on.ends, on.groups, noted
    )
    if on.feet:
        vars(pages)["feet"] = on.feet
    elif before and before.boxes is boxes and before.footnotes is on.notes:
        return _with_feet_of(before, pages)
    return pages


class _Paper:
    """A report as it is set on the paper of its parts. ``change``: where its text differs from that of ``before``."""

    def __init__(
        self, report: Report, before: Pages | None, typefaces: Typefaces, notes: Footnotes, headings: Outline
    ) -> None:
        self.report, self._typefaces = report, typefaces
        self.notes, self.ends = notes, hosts(report, notes, headings)
        self.feet = NO_FEET
        self.change = diff(before.report.blocks if before else (), report.blocks)
        self.starts = where(report.blocks, is_start, (before.part_starts, self.change) if before else None)
        self.pictures = where(report.blocks, is_beside, ([*before.groups], self.change) if before else None)
        self.groups: dict[int, Group] = {}
        self.written = {note.block for note in notes}
        self.stretches = stretches(report, self.starts, before.stretches if before else (), self.written)
        self._reports = {one.first: report_on(report, one) for one in self.stretches}
        self._several = len(self.stretches) > 1 or (before is not None and len(before.stretches) > 1)

    @cached_property
    def printed_at(self) -> Mapping[int, int]:
        """Where there is more than one paper, a note is set for the one on which it stands."""
        return printed_at(self.notes, self.ends) if self._several else {}

    def group(self, picture: int, plain: Box) -> tuple[Group, dict[int, Box]]:
        """What stands beside a picture, and the boxes of both; ``plain`` is the picture's if nothing does, and none is given then."""
        blocks, styles = self.report.blocks, self.report.styles
        at_right = getattr(blocks[picture], "align", None) == "right"

        def may(index: int) -> bool | None:
            block = blocks[index]
            if index in self.written:
                return None
            # What is printed beneath a block would stand in the picture's way.
            beneath = index in self.ends or block.id in self.report.backs
            if type(block) is not Paragraph or styles[block.style].outline_level is not None or beneath:
                return False
            return at_right or set_style(block, self.report).hang <= 0

        report = self._reports[stretch_at(self.stretches, picture).first]
        try:
            return grouped(picture, report, plain, may, lambda index, beside: self.box(index, beside=beside))
        except Exception:  # as in `box`
            log.exception("What stands beside the picture “%s” could not be set", blocks[picture].id)
            return Group(0), {}

    def box(self, index: int, boxes: Sequence[Box] | None = None, beside: Beside | None = None) -> Box:
        """The box of a block; with the endnotes beneath it, if ``boxes`` has theirs. ``beside``: what stands beside its first lines."""
        block = self.report.blocks[index]
        at = self.printed_at.get(index, index) if index in self.written else index
        report = self._reports[stretch_at(self.stretches, at).first]
        if beside:
            report = replace(report, beside=beside)
        try:
            box = measure(block, report, self._typefaces)
        except Exception:  # whatever it is about one block, the pages are everybody's
            kind = type(block).__name__
            log.exception("A block of kind %s, “%s”, could not be measured; no room is left for it", kind, block.id)
            box = Box((0.0,))
        if index in self.written:  # by its place: of two with one id only the first is a note
            return Box((), foot=Box(box.heights, box.starts, box.total, after=box.after))
        if boxes is not None and index in self.ends:
            box = with_endnotes(box, index, report, self.ends[index], boxes)
        return with_back(box, block, report)

    def elsewhere(self, before: Pages) -> list[int]:
        """The blocks that are there as before, and stand on other paper."""
        change, old, new = self.change, before.stretches, self.stretches
        if len(old) == len(new) == 1 and _area(old[0].page) == _area(new[0].page):
            return []
        bounds = {0, change.first, change.new_end, len(self.report.blocks), *(one.first for one in new)}
        bounds |= {one.first for one in old if one.first < change.first}
        bounds |= {one.first + change.shift for one in old if one.first >= change.old_end}
        found: list[int] = []
        for first, end in pairwise(sorted(bounds)):
            if change.first <= first < change.new_end:
                continue
            then = first if first < change.first else first - change.shift
            if _area(stretch_at(old, then).page) != _area(stretch_at(new, first).page):
                found.extend(range(first, end))
        found += self._notes_elsewhere(before)
        return found

    def _notes_elsewhere(self, before: Pages) -> Iterator[int]:
        """The notes that stand on other paper than before, wherever they are written."""
        old, new, change = before.stretches, self.stretches, self.change
        areas, areas_then = ({one.first: _area(one.page) for one in on} for on in (new, old))
        same = [*areas.values()] == [*areas_then.values()] and [one.id for one in new] == [one.id for one in old]
        at_starts = any(change.first <= at < change.old_end for at in before.part_starts)
        if same and not (at_starts or self.ends or before.ends):
            for was, note in changed_notes(before.footnotes, self.notes, change):
                if was and note and areas_then[stretch_at(old, was.at).first] != areas[stretch_at(new, note.at).first]:
                    yield note.block
            return
        then_at = {before.report.blocks[note].id: at for note, at in before.printed_at.items()}
        for block, at in self.printed_at.items():
            there = then_at.get(self.report.blocks[block].id)
            if there is not None and areas_then[stretch_at(old, there).first] != areas[stretch_at(new, at).first]:
                yield block


def printed_at(notes: Footnotes, ends: Hosts) -> dict[int, int]:
    """Of each note, which is a block, the block with which it is printed."""
    return {
        **{note.block: note.at for note in notes if note.kind == "foot"},
        **{note: host for host, beneath in ends.items() for note in beneath},
    }


def report_on(report: Report, stretch: Stretch) -> Report:
    """The report as a part of it is set."""
    return report if stretch.page is report.page else replace(report, page=stretch.page)


def _area(page: PageSetup) -> tuple[float, float, int, str]:
    """What of a page set-up makes a difference to how blocks are set; words are parted by their language."""
    return page.column_width, page.text_height, page.columns, page.language


def frames_of(stretches: Sequence[Stretch]) -> tuple[Frame, ...]:
    """What the pages of parts are filled with."""
    return tuple(Frame(one.first, one.page.text_height, one.page.columns) for one in stretches)


def _number_widths(
    report: Report, typefaces: Typefaces, before: Pages | None, headings: Outline
) -> Mapping[str, float]:
    if before and before.headings is headings and before.report.styles is report.styles:
        return before.report.number_widths
    found = number_widths(report, headings, typefaces)
    return before.report.number_widths if before and before.report.number_widths == found else found


def _set_otherwise(report: Report, before: Report) -> Iterator[int]:
    """The blocks that are set otherwise than before though they are the same: their styles or tables have changed, or they
    end a section now, or no longer."""
    styles = report.styles is not before.styles or report.number_widths is not before.number_widths
    tables = before.tables != report.tables
    backs = report.backs ^ before.backs
    if styles and back_height(report) != back_height(before):
        backs |= report.backs
    labels = report.labels != before.labels
    if not styles and not tables and not backs and not labels:
        return

    @cache
    def changed(id: str) -> bool:
        style, earlier = report.styles[id], before.styles[id]
        return style != earlier or report.number_widths.get(style.id) != before.number_widths.get(earlier.id)

    for index, block in enumerate(report.blocks):
        if block.id in backs:
            yield index
        elif type(block) is Paragraph:
            if (styles and changed(block.style)) or (labels and block.caption):
                yield index
        elif type(block) is DataTable:
            if styles and any(changed(paragraph.style) for paragraph, _ in paragraphs_of(report, index)):
                yield index
        elif styles or type(block) is PlacedTable:
            yield index


def _reading_otherwise(report: Report, before: Report, noted: Notes) -> set[int]:
    """The blocks in which what references and captions show has another width than before."""
    blocks: set[int] = set()
    if shown := set(_wider(report.shown, before.shown)):
        blocks.update([block for block, one in noted for lead in one.leads if lead.key in shown])
        blocks.update([block for block, one in noted if one.note and shown_as(one.id, "note", "") in shown])
    if captions := set(_wider(report.captions, before.captions)):
        blocks.update([block for block, one in noted if one.id in captions])
    return blocks


def _wider(now: Mapping[str, str], then: Mapping[str, str]) -> Iterator[str]:
    """What does not say the same with other figures of the same width, as they are there (``Face``, ``even``)."""
    if now is then:
        return
    for key, words in now.items():
        earlier = then.get(key)
        if earlier != words and (earlier is None or earlier.translate(_FIGURES) != words.translate(_FIGURES)):
            yield key
    yield from then.keys() - now.keys()


_FIGURES = str.maketrans("123456789", "000000000")


def changed_notes(old: Footnotes, new: Footnotes, change: Diff) -> Iterator[tuple[Footnote | None, Footnote | None]]:
    """The notes that stand elsewhere than before, or are referred to elsewhere, beside where the text itself has changed: as they
    were, and as they are."""
    olds, news = old, new
    if not change.shift:  # where all else has its place as before
        found = diff(old, new, eq)
        olds, news = old[found.first : found.old_end], new[found.first : found.new_end]
    then = {note.id: note for note in olds}
    for note in news:
        was = then.pop(note.id, None)
        there = was and (_moved(was.block, change), was.kind, _moved(was.at, change), *was[4:])
        # Another block may be the note now, in the place of one that was taken out.
        taken_out = (
            was and change.first <= was.block < change.old_end and not change.first <= note.block < change.new_end
        )
        if there != note[1:] or taken_out:
            yield was, note
    yield from ((note, None) for note in then.values())


def _moved(block: int, change: Diff) -> int:
    """Where a block of before stands; what was in the stretch that has changed, at its beginning."""
    return block if block < change.first else block + change.shift if block >= change.old_end else change.first


def _anew_by_notes(on: _Paper, before: Pages, boxes: list[Box], otherwise: Sequence[int]) -> Iterator[int]:
    """The blocks whose pages are filled anew since notes have changed that they refer to, or that stand beneath them; of the latter
    the boxes are put right."""
    change, report, old = on.change, on.report, before.report
    if not boxes:
        return
    anew = {*range(change.first, change.new_end), *otherwise}

    last = len(boxes) - 1
    for was, now in changed_notes(before.footnotes, on.notes, change):
        yield from (now.at,) if now else ()
        yield from (min(_moved(was.at, change), last),) if was else ()
        # What was no note may be one now, and the other way round.
        for index in {*((now.block,) if now else ()), *((min(_moved(was.block, change), last),) if was else ())}:
            if (box := on.box(index)) != boxes[index]:
                boxes[index] = box
                anew.add(index)
                yield index
    if not anew.isdisjoint(on.written):
        yield from (note.at for note in on.notes if note.block in anew)
    hosted = {
        _moved(host, change): [old.blocks[note].id for note in beneath]
        for host, beneath in before.ends.items()
        if not change.first <= host < change.old_end
    }
    for host, beneath in on.ends.items():
        ids = [report.blocks[note].id for note in beneath]
        if hosted.pop(host, None) != ids or host in anew or not anew.isdisjoint(beneath):
            boxes[host] = on.box(host, boxes)
            yield host
    for host in hosted:
        boxes[host] = on.box(host)
        yield host


def _anew_beside(on: _Paper, before: Pages, boxes: list[Box], otherwise: Sequence[int]) -> Iterator[int]:
    """The blocks of which the boxes are others since something else, or nothing, stands beside them; their boxes are put right."""
    change, anew = on.change, {*otherwise}
    then: dict[int, Group] = {}
    gone: set[int] = set()
    for picture, group in before.groups.items():
        places = {picture + more for more in (0, *(more for more, _ in group.beside))}
        gone |= {_moved(at, change) for at in places if not change.first <= at < change.old_end}
        if not change.first <= picture < change.old_end:
            then[_moved(picture, change)] = group
    found: dict[int, Box] = {}
    # What may stand there hangs on styles as well.
    same_styles = on.report.styles is before.report.styles
    for picture in on.pictures:
        known = then.get(picture)
        if known and same_styles:
            reach = range(picture, picture + known.reach + 1)
            apart = reach.stop <= change.first or reach.start >= change.new_end
            if apart and anew.isdisjoint(reach):
                on.groups[picture] = known
                gone.difference_update(picture + more for more in (0, *(more for more, _ in known.beside)))
                continue
        on.groups[picture], made = on.group(picture, on.box(picture))
        found |= made
    for index in {*found, *gone}:
        box = found[index] if index in found else on.box(index, boxes)
        if box != boxes[index]:
            boxes[index] = box
            yield index


class _SheetOfNote(Mapping[str, int]):
    """The sheets on which the notes of a report begin, by id; each found only when it is asked for."""

    def __init__(self, pages: Pages) -> None:
        self._pages = pages
        self._blocks = {note.id: note.block for note in pages.footnotes}

    def __getitem__(self, id: str) -> int:
        return self._pages.page_of_note(self._blocks[id])

    def __iter__(self) -> Iterator[str]:
        return iter(self._blocks)

    def __len__(self) -> int:
        return len(self._blocks)


def _refill(
    boxes: Sequence[Box],
    old: Sequence[Start],
    blocks: Diff,
    change: Diff,
    frames: Sequence[Frame],
    feet: Feet,
) -> Sequence[Start]:
    """Page starts when the boxes of the stretch are new. ``blocks``: in which stretch the text itself differs."""
    shift = change.shift

    def moved(start: Start) -> Start:
        box = start.box + shift if start.box >= change.old_end else start.box
        owed = tuple((note + shift if note >= blocks.old_end else note, part) for note, part in start.owed)
        return Start(box, start.part, start.forced, owed)

    anchor = change.first
    while anchor > 0 and (anchor >= len(boxes) or stays(boxes, anchor - 1)):
        anchor -= 1
    kept = max(1, bisect_left(old, (anchor, 0)))
    # Where a page of nothing but notes begins hangs on what comes behind it.
    while kept > 1 and old[kept - 1].owed:
        kept -= 1
    starts = [moved(one) if one.owed else one for one in old[:kept]] if shift and feet else list(old[:kept])
    for start in fill(boxes, frames, starts.pop(), feet):
        if start.box >= change.new_end and not start.owed:
            then = Start(start.box - shift, start.part, start.forced)
            same = bisect_left(old, then)
            if same < len(old) and old[same] == then:
                rest = old[same:]
                starts.extend(moved(s) for s in rest) if shift else starts.extend(rest)
                return starts
        starts.append(start)
    return starts
