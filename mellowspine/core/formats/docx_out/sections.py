"""Parts of a report as sections (ISO/IEC 29500-1, 17.6): paper, margins, columns, page numbers, heads and feet (17.10)."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal, NamedTuple

from lxml.etree import _Element

from ...pages.parts import Stretch, count_at
from ...pages.running import Edge, Running, running, running_style, said_day
from ...report.blocks import Image
from ...report.numbering import Figures
from ...report.page import FIELD, PageSetup
from ...tables.setting import COLUMN_GAP
from .document import Document
from .drawings import picture
from .fields import field, run
from .notes import counting
from .package import word_type
from .xml import made, properties, serialised, twips

_FIGURES: Mapping[Figures, str] = {
    "decimal": "decimal", "upper-roman": "upperRoman", "lower-roman": "lowerRoman", "upper-letter": "upperLetter",
    "lower-letter": "lowerLetter",
}  # fmt: skip
_BEGINS = {"any": "nextPage", "right": "oddPage", "left": "evenPage"}
_FIELDS = {"page": "PAGE", "pages": "NUMPAGES", "last": "SECTIONPAGES", "title": "TITLE"}
_LEAST_DISTANCE = 14.0
"""Points that a head or foot stands from the edge of the paper at least."""

Which = Literal["default", "even", "first"]


class Section(NamedTuple):
    """A stretch of pages with its settings: from the block ``first`` on."""

    first: int
    stretch: Stretch
    figures: Figures | None
    words: str
    """What stands before its page numbers."""
    start: int | None
    """The number of its first page, where that does not go on from the section before."""
    own: bool = True
    """Whether it is a part of the report, and not the body behind what has small roman numerals."""


class Sections:
    def __init__(self, document: Document) -> None:
        self._document = document
        self._count = 0
        self._at, self._goes_on = 0, False
        """The section that is being written, and whether some columns within it have ended."""
        self._parts: dict[tuple[str, str, Edge, PageSetup, str, str, bool], str] = {}
        """Heads and feet that are written, by what stands in them."""
        self.all = [*_sections(document)] if document.is_whole else [*_chosen(document)]
        self.odd_and_even = any(one.stretch.page.left_pages != "same" for one in self.all)

    def begin(self, at: int) -> None:
        """Takes what is written from here on as a section."""
        self._at, self._goes_on = at, False

    def columns(self) -> tuple[_Element, _Element]:
        """The properties that end what stands in front of some columns within the section at hand, and those of the columns themselves:
        they go on on the page (17.18.77), with the heads and feet that are there (17.10.5). The section goes on behind them."""
        before = self.end()
        columns = self._going_on(self.all[self._at].stretch.page, 2, COLUMN_GAP)
        self._goes_on = True
        return before, columns

    def end(self) -> _Element:
        """The properties of the section at hand, which stand at its end (17.6.17)."""
        page = self.all[self._at].stretch.page
        return self._going_on(page, page.columns, page.column_gap) if self._goes_on else self._properties(self._at)

    def _going_on(self, page: PageSetup, columns: int, gap: float) -> _Element:
        found = properties("w:sectPr", [made("w:type", val="continuous"), *self._page(page, columns, gap)])
        assert found is not None
        return found

    def _page(self, page: PageSetup, columns: int, gap: float) -> Iterator[_Element]:
        """Paper, margins and columns."""
        wide, high = twips(page.width), twips(page.height)
        head, foot = (self._distance(margin) for margin in (page.top, page.bottom))
        margins = {side: twips(getattr(page, side)) for side in ("top", "right", "bottom", "left")}
        yield made("w:pgSz", w=wide, h=high, orient="landscape" if wide > high else None)
        yield made("w:pgMar", **margins, header=twips(head), footer=twips(foot), gutter=0)
        yield made("w:cols", num=columns if columns > 1 else None, space=twips(gap))

    def _properties(self, at: int) -> _Element:
        document, one = self._document, self.all[at]
        page = one.stretch.page
        own = one.first == 0 or "first_page" in one.stretch.part.page
        first = own and page.first_page != "same"
        references: list[_Element] = []
        for which in ("default", *(["even"] if self.odd_and_even else []), *(["first"] if first else [])):
            running_there = running(page, which == "first", which == "even")
            references += self._references(which, running_there, one, at)  # type: ignore[arg-type]
        # Pages are numbered in figures where nothing else is said of any.
        said = any(other.figures not in ("decimal", None) for other in self.all)
        numbers = made("w:pgNumType", fmt=_FIGURES[one.figures] if one.figures and said else None, start=one.start)
        of_notes = [counting(document.report.page, kind) for kind in ("foot", "end")]
        kind = _BEGINS[one.stretch.part.begins] if one.own else None
        found = properties(
            "w:sectPr",
            [
                *references,
                *of_notes,
                made("w:type", val=kind) if kind and kind != "nextPage" else None,
                *self._page(page, page.columns, page.column_gap),
                numbers if len(numbers.attrib) else None,
                made("w:titlePg") if first else None,
            ],
        )
        assert found is not None
        return found

    def _distance(self, margin: float) -> float:
        """How far a head or foot stands from the edge of the paper, so that it is in the middle of its margin."""
        style = running_style(self._document.report.styles)
        return max((margin - style.size * style.line_spacing) / 2, min(_LEAST_DISTANCE, margin))

    # --- Heads and feet ---

    def _references(self, which: Which, there: Running, one: Section, at: int) -> Iterator[_Element]:
        for edge, words in (("head", there.head), ("foot", there.foot)):
            tag = "header" if edge == "head" else "footer"
            page = one.stretch.page
            ruled = page.head_rule if edge == "head" else page.foot_rule
            name = self._part(tag, words, one, ruled and any(words), at)
            relation = self._document.main.relate(tag, name)
            yield made(f"w:{tag}Reference", **{"type": which, "r:id": relation})

    def _part(self, tag: str, words: Edge, one: Section, ruled: bool, at: int) -> str:
        key = (tag, str(ruled), words, one.stretch.page, one.words, one.stretch.part.name, one.figures is None)
        if key not in self._parts:
            document = self._document
            self._count += 1
            name = f"word/{tag}{self._count}.xml"
            document.part = document.package.add(name, type=word_type(tag))
            content = self._content(tag, words, one, ruled, at)
            document.part.data = serialised(made(f"w:{'hdr' if tag == 'header' else 'ftr'}", content))
            document.part = document.main
            self._parts[key] = name
        return self._parts[key]

    def _content(self, tag: str, words: Edge, one: Section, ruled: bool, at: int) -> _Element:
        document = self._document
        page = one.stretch.page
        style = running_style(document.report.styles)
        side = "bottom" if tag == "header" else "top"
        rule = made("w:pBdr", made(f"w:{side}", val="single", sz=4, space=3, color=style.colour[1:])) if ruled else None
        stops = made(
            "w:tabs",
            made("w:tab", val="center", pos=twips(page.text_width / 2)),
            made("w:tab", val="right", pos=twips(page.text_width)),
        )
        key = document.styles[style.id][0] if style.id in document.report.styles else None
        left = made("w:jc", val="left") if style.align != "left" else None
        place = properties("w:pPr", [made("w:pStyle", val=key) if key else None, rule, stops, left])
        found = made("w:p", place)
        for number, said in enumerate(words):
            if number and any(words[1:]):
                found.append(run("\t"))
            found.extend(self._said(said, one, at))
        return found

    def _said(self, words: str, one: Section, at: int) -> Iterator[_Element]:
        """Words with fields among them (17.16.5)."""
        begins = 0
        for found in FIELD.finditer(words):
            if words[begins : found.start()]:
                yield run(words[begins : found.start()])
            yield from self._field(found[1], one, at)
            begins = found.end()
        if words[begins:]:
            yield run(words[begins:])

    def _field(self, name: str, one: Section, at: int) -> Iterator[_Element]:
        document, pages = self._document, self._document.pages
        sheet = pages.page_of(min(one.first, len(document.report.blocks) - 1)) if document.report.blocks else 1
        if name in _FIELDS:
            if name == "page" and one.words:
                yield run(one.words)
            if name == "page" and one.figures is None:
                return
            shown = {
                "page": pages.label(sheet).removeprefix(one.words),
                "pages": str(len(pages)),
                "last": pages.last_of(sheet).removeprefix(one.words),
                "title": document.report.title,
            }
            yield from field(_FIELDS[name], [run(shown[name])])
        elif name == "part":
            yield run(one.stretch.part.name)
        elif name == "version":
            yield run(document.report.page.version)
        elif name == "date":
            day = document.about.at
            said = said_day(day.date(), document.report.page.language) if day else ""
            yield from field('DATE \\@ "d MMMM yyyy"', [run(said)])
        elif name == "picture":
            yield from self._picture(one.stretch.page)
        elif found := re.fullmatch(r"(section|number) (\d)", name):
            level = int(found[2])
            first = next((h for h in pages.worded if h.level == level and h.block >= one.first), None)
            words = "" if first is None else first.text if found[1] == "section" else first.number
            number = " \\n" if found[1] == "number" else ""
            yield from field(f"STYLEREF {level}{number}", [run(words)])

    def _picture(self, page: PageSetup) -> Iterator[_Element]:
        own = self._document.report.page
        if own.picture:
            size = page.picture_height * own.picture_ratio, page.picture_height
            yield picture(Image("", own.picture, *size), self._document, size)


def _sections(document: Document) -> Iterator[Section]:
    """The parts of a report, with how their pages are numbered. Of a report in one part what stands in front of the body is one by
    itself, if it has page numbers of its own."""
    pages = document.pages
    body = _body(document)
    counts = {count.sheet: count for count in pages.counts}
    stretches: Sequence[Stretch] = pages.stretches
    figures, words = pages.counts[0].figures, pages.counts[0].words
    for number, one in enumerate(stretches):
        part = one.part
        if part.figures is not None or not number:
            figures, words = (None, "") if part.figures == "none" else (part.figures or "decimal", part.words)
        yield Section(one.first, one, "lower-roman" if body else figures, words, part.start)
    if body:
        count = counts[pages.page_of(body)]
        yield Section(body, stretches[0], count.figures, count.words, count.start, own=False)


def _chosen(document: Document) -> Iterator[Section]:
    """The sections in which what is written stands. The first goes on with the page number that it has in the report."""
    every = [*_sections(document)]
    places = [at for at, _ in document.blocks] or [0]
    ends = [*(one.first for one in every[1:]), len(document.report.blocks)]
    there = [one for one, end in zip(every, ends, strict=True) if any(one.first <= at < end for at in places)] or every[
        :1
    ]
    sheet = document.pages.page_of(places[0])
    count = document.pages.counts[count_at(document.pages.counts, sheet)]
    yield there[0]._replace(start=count.start + sheet - count.sheet)
    yield from there[1:]


def _body(document: Document) -> int | None:
    """The block with which the body begins, where pages in front of it have small roman numerals without being a part; if it begins
    a page."""
    pages = document.pages
    if len(pages.counts) < 2 or len(pages.stretches) > 1:
        return None
    start = pages.starts[pages.counts[1].sheet - 1]
    return start.box if start.part == 0 else None
