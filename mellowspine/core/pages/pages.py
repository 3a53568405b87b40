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

from ..report.blocks import Block, DataTable, Paragraph, PlacedTable
from ..report.diff import Diff, diff
from ..report.page import PageSetup
from ..report.report import Report
from ..structure.captions import Captions, captions_of, front_of
from ..structure.noted import Notes, Place
from ..structure.notes import notes
from ..structure.occurrences import Occurrences
from ..structure.outline import Outline, outline, paragraphs_of
from ..structure.places import Places, places
from ..structure.references import Showing, showing, worded
from .as_set import offset_as_set, offset_in_text
from .backs import back_height, backs, with_back
from .boxes import Box, measure, stays
from .fill import Frame, Placed, Start, fill, fill_page, frame_at
from .number_widths import number_widths
from .parts import Count, Stretch, count_at, counts, starts_of_parts, stretch_at, stretches, with_blanks
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
    noted: Notes = field(default=(), repr=False)
    showing: Showing | None = field(default=None, repr=False)
    """What references show, if there are any."""
    occurrences: Occurrences = field(default_factory=lambda: Occurrences(()), repr=False)
    """Citations and index marks."""

    def __len__(self) -> int:
        return len(self.starts)

    def page_of(self, block: int, row: int = 0) -> int:
        """The sheet, counted from 1, on which the block with this index begins, or a row of it."""
        return max(1, bisect_right(self.starts, (block, self._part(block, row), True)))

    def _part(self, block: int, row: int) -> int:
        """The part with which a row begins: there are more parts than rows where some are taller than a page."""
        return bisect_left(self.boxes[block].starts, row) if row and self.boxes[block].starts else row

    def page_of_place(self, place: Place) -> int:
        """The sheet on which a place begins; that of a bookmark is where its words are."""
        return self.page_at(place.block, place.row, place.offset)

    def page_at(self, block: int, row: int, offset: int) -> int:
        """The sheet on which a character of a paragraph stands; of one in a data table, that of its row."""
        paragraph, starts = self.report.blocks[block], self.boxes[block].starts
        if not offset or len(starts) < 2 or type(paragraph) is not Paragraph:
            return self.page_of(block, row)
        part = bisect_right(starts, offset_as_set(paragraph, self.report, offset)) - 1
        return max(1, bisect_right(self.starts, (block, part, True)))

    @cached_property
    def captions(self) -> Captions:
        return captions_of(self.report, self.headings, self.noted)

    @cached_property
    def places(self) -> Places:
        """Everything in the report that links can lead to."""
        return places(self.headings, self.noted, self.captions)

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
        # Printed as it is, as most are: nothing has to be looked up for it.
        part = max(0, bisect_right(self.boxes[block].starts, offset) - 1)
        return max(1, bisect_right(self.starts, (block, part, True)))

    @cached_property
    def _whole_pages(self) -> list[int]:
        """The sheet of each noted paragraph's block, or 0 for one that is not on one alone: most are, as one going through them
        tells."""
        boxes, found, before = [*(start.box for start in self.starts), len(self.boxes)], [], 0
        for block, _ in self.noted:
            while boxes[before] < block:
                before += 1
            found.append(0 if boxes[before] == block else before or 1)
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
        leads = {one.id: one.leads for _, one in self.noted if any(lead.shows for lead in one.leads)}
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
            reached = (block, self._part(block, row) if row else 0, True)
            while page < len(starts) and starts[page] <= reached:
                page += 1
            result.append(page)
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
        box, part, _ = self.starts[page - 1]
        return stretch_at(self.stretches, max(box - (part < 0), 0))

    @cached_property
    def frames(self) -> tuple[Frame, ...]:
        return frames_of(self.stretches)

    def content(self, page: int) -> list[Placed]:
        """What stands on a sheet (counted from 1)."""
        start = self.starts[page - 1]
        return fill_page(self.boxes, frame_at(self.frames, start.box), start)[1] if start.part >= 0 else []

    def edges(self, first: int = 1, end: int | None = None) -> list[Edge]:
        """Where every page after the first begins; or those alone from ``first`` to before ``end``, counted from 0."""
        found = []
        for box, part, _ in self.starts[first:end]:
            offsets, part = self.boxes[box].starts, max(part, 0)
            block, offset = self.report.blocks[box], offsets[part] if offsets else part
            if offsets and type(block) is Paragraph:
                offset = offset_in_text(block, self.report, offset)
            found.append(Edge(block, offset))
        return found


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
    report = replace(
        report,
        number_widths=_number_widths(report, typefaces, before, headings),
        backs=backs(report, headings),
        captions=before.report.captions if before and before.report.captions == captions else captions,
        shown=before.report.shown if before else {},
    )
    if any(lead.key for _, one in noted for lead in one.leads):
        pages = _settled(report, typefaces, before, headings, noted, counted)
    else:
        nothing = report if not report.shown else replace(report, shown={})
        pages = _set_on_pages(nothing, typefaces, before, headings, noted)
    pages = replace(pages, occurrences=before.occurrences.of(noted) if before else Occurrences(noted))
    if before and before.noted is noted and before.headings is headings and before.report.labels == report.labels:
        # What follows from these alone is not found anew.
        vars(pages).update((name, vars(before)[name]) for name in ("captions", "places") if name in vars(before))
    if before and pages.counts == before.counts:
        vars(pages)["counts"] = before.counts  # the very same, so that nothing is numbered anew for it
    return pages


MOST_ROUNDS = 8
"""Rounds after which references that go on moving what they lead to are left as they are."""


def _settled(
    report: Report, typefaces: Typefaces, before: Pages | None, headings: Outline, noted: Notes, captions: Captions
) -> Pages:
    """The pages of a report that has references: each round shows in them the pages of the round before.

    Two are enough where no line grows with what it shows. It may be that no round is the last, since a longer line moves
    what it leads to back to where the line was shorter: then they stay as in the last of them.
    """
    same = (
        before and before.noted is noted and before.headings is headings and before.report.captions is report.captions
    )
    if before and same and before.showing:
        says, words = before.showing, report.shown
    else:
        wanted = {lead.to for _, one in noted for lead in one.leads if lead.key}
        says = showing(noted, places(headings, noted, captions, wanted))
        words = {**says.on(lambda _: "1"), **{key: report.shown[key] for key in says.pages if key in report.shown}}
    for _ in range(MOST_ROUNDS):
        report = replace(report, shown=report.shown if report.shown == words else words)
        before = pages = _set_on_pages(report, typefaces, before, headings, noted)
        words = says.on(lambda place, on=pages: on.label(on.page_of_place(place)))  # type: ignore[misc]
        if words == report.shown:
            break
    return replace(pages, showing=says)


def _set_on_pages(report: Report, typefaces: Typefaces, before: Pages | None, headings: Outline, noted: Notes) -> Pages:
    """The pages of a report as it is set, with all that is printed in it."""
    on = _Paper(report, before, typefaces)
    if before is None:
        boxes = [on.box(index) for index in range(len(report.blocks))]
        return _paged(on, headings, boxes, list(fill(boxes, frames_of(on.stretches))), noted, None)
    change = on.change
    # Where many write at once the stretch is long, and most blocks in it are the same as before.
    there = slice(change.first, change.old_end)
    known = {id(block): box for block, box in zip(before.report.blocks[there], before.boxes[there], strict=True)}
    elsewhere = on.elsewhere(before)
    if elsewhere:
        known = {}
    boxes = [
        *before.boxes[: change.first],
        *(known.get(id(report.blocks[at])) or on.box(at) for at in range(change.first, change.new_end)),
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
    if otherwise:
        change = change.widened(min(otherwise)).widened(max(otherwise))
    if not change:
        return _paged(on, headings, before.boxes, before.fills, noted, before)
    fills = _refill(boxes, before.fills, change, frames_of(on.stretches))
    # The very same, so that what hangs on them alone is not found anew; unless the rows of a data table are parted otherwise.
    parted = any(boxes[at].starts for at in range(change.first, change.new_end) if type(report.blocks[at]) is DataTable)
    return _paged(on, headings, boxes, fills, noted, None if parted else before)


def _paged(
    on: _Paper, headings: Outline, boxes: Sequence[Box], fills: Sequence[Start], noted: Notes, before: Pages | None
) -> Pages:
    """Pages with a sheet left empty where a part wants it; their starts are those of ``before`` if they are the same."""
    if before and fills == before.fills:
        fills = before.fills
    starts = with_blanks(fills, on.stretches)
    if before and starts == before.starts:
        starts = before.starts
    return Pages(on.report, headings, boxes, starts, on.stretches, on.starts, fills, noted)


class _Paper:
    """A report as it is set on the paper of its parts. ``change``: where its text differs from that of ``before``."""

    def __init__(self, report: Report, before: Pages | None, typefaces: Typefaces) -> None:
        self.report, self._typefaces = report, typefaces
        self.change = diff(before.report.blocks if before else (), report.blocks)
        self.starts = starts_of_parts(report.blocks, (before.part_starts, self.change) if before else None)
        self.stretches = stretches(report, self.starts, before.stretches if before else ())
        self._reports = {one.first: report_on(report, one) for one in self.stretches}

    def box(self, index: int) -> Box:
        block, report = self.report.blocks[index], self._reports[stretch_at(self.stretches, index).first]
        try:
            box = measure(block, report, self._typefaces)
        except Exception:  # whatever it is about one block, the pages are everybody's
            kind = type(block).__name__
            log.exception("A block of kind %s, “%s”, could not be measured; no room is left for it", kind, block.id)
            box = Box((0.0,))
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
        return found


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


def _refill(boxes: Sequence[Box], old: Sequence[Start], change: Diff, frames: Sequence[Frame]) -> Sequence[Start]:
    """Page starts when the boxes of the stretch are new."""
    shift = change.shift
    anchor = change.first
    while anchor > 0 and (anchor >= len(boxes) or stays(boxes, anchor - 1)):
        anchor -= 1
    kept = max(1, bisect_left(old, (anchor, 0)))
    starts = list(old[:kept])
    for start in fill(boxes, frames, starts.pop()):
        if start.box >= change.new_end:
            moved = Start(start.box - shift, start.part, start.forced)
            same = bisect_left(old, moved)
            if same < len(old) and old[same] == moved:
                rest = old[same:]
                starts.extend(Start(s.box + shift, s.part, s.forced) for s in rest) if shift else starts.extend(rest)
                return starts
        starts.append(start)
    return starts
