"""The body of a document (ISO/IEC 29500-1, 17.2): the blocks of a report in their order, in sections."""

from __future__ import annotations

from collections.abc import Iterator
from functools import singledispatchmethod

from lxml.etree import _Element

from ...pages.beside import fitted, is_beside
from ...report.blocks import Block, DataTable, Image, PageBreak, Paragraph, PartStart, PlacedTable, ThematicBreak
from ..docx.own import LINE_ACROSS
from ..imported import Progress
from ..walk import plain_words
from .contents import Tables
from .document import Document
from .drawings import on_a_line, picture
from .fields import quoted, run, silent
from .sections import Sections
from .switches import section_name, section_of
from .tables import data_table
from .words import between, paragraph, terms
from .xml import made, properties, qn, switch, with_property


def body(document: Document, sections: Sections, tables: Tables, progress: Progress) -> _Element:
    """All of it. ``progress`` is told of blocks."""
    writer = _Body(document, sections, tables)
    ends = {one.first: at for at, one in enumerate(sections.all) if at}
    begins, closes = _listed_sections(document) if document.is_whole else ({}, {})
    for done, (at, block) in enumerate(document.blocks):
        if done % 500 == 0:
            progress(done, len(document.blocks))
        if at in ends:
            writer.end_section(sections.end())
            sections.begin(ends[at])
        writer.put(*begins.get(at, ()))
        writer.at = at
        writer.write(block)
        writer.put(*closes.get(at, ()))
    writer.finish()
    return made("w:body", *writer.elements, sections.end())


def _listed_sections(document: Document) -> tuple[dict[int, list[_Element]], dict[int, list[_Element]]]:
    """Bookmarks over the sections of which a table lists what is in them alone: where each begins, and behind which block it ends."""
    begins: dict[int, list[_Element]] = {}
    ends: dict[int, list[_Element]] = {}
    headings = [one for one in document.pages.headings if one.by_hand != "put in"]
    places = {one.id: number for number, one in enumerate(headings)}
    known: set[str] = set()
    for at, block in enumerate(document.report.blocks):
        issued = document.report.tables.get(block.table) if isinstance(block, PlacedTable) else None
        id = section_of(issued.recipe, at, document) if issued else None
        place = places.get(id or "")
        if id is None or place is None or id in known:
            continue
        known.add(id)
        level, first = headings[place].level, headings[place].block
        end = next((one.block for one in headings[place + 1 :] if one.level <= level), len(document.report.blocks))
        start, stop = document.names.around(section_name(id, document))
        begins.setdefault(first, []).append(start)
        ends.setdefault(max(end - 1, first), []).append(stop)
    return begins, ends


class _Body:
    def __init__(self, document: Document, sections: Sections, tables: Tables) -> None:
        self._document, self._sections, self._tables = document, sections, tables
        self.elements: list[_Element] = []
        self.at = 0
        """The index of the block that is being written."""
        self._floating: list[Image] = []
        """Pictures that stand beside the next paragraph."""

    def put(self, *elements: _Element) -> None:
        for one in elements:
            if one.tag == qn("w:tbl") and self._last_tag() == qn("w:tbl"):
                self.elements.append(between())
            self.elements.append(one)

    def _last_tag(self) -> str:
        """That of what was put last, bookmarks left aside."""
        there = (str(one.tag) for one in reversed(self.elements) if "bookmark" not in str(one.tag))
        return next(there, "")

    def end_section(self, properties_of: _Element) -> None:
        """Puts the properties of a section into the paragraph that ends it."""
        last = self.elements[-1] if self.elements else None
        if last is None or last.tag != qn("w:p"):
            self.elements.append(last := between())
        with_property(last, properties_of)

    def finish(self) -> None:
        """Ends the body; behind a data table there is a paragraph always (17.4.65)."""
        self._end_floating()
        if not self.elements or self.elements[-1].tag != qn("w:p"):
            self.elements.append(between())
        # What is marked from what is written into what is not ends here.
        self.elements[-1].extend([end for end in self._document.waiting.values() if end is not None])
        for see in self._document.report.sees if self._document.is_whole else ():
            words = f"See {'also ' if see.also else ''}{', '.join(see.to)}"
            self.elements[-1].extend(silent(f"XE {terms(see.terms)} \\t {quoted(words)}"))

    def _end_floating(self) -> None:
        """Pictures beside which nothing stands come on lines of their own."""
        waiting, self._floating = self._floating, []
        for one in waiting:
            size = fitted(one, self._document.pages.on_paper(self.at))
            self.put(on_a_line(one, self._document, size))

    # --- Kinds of blocks ---

    @singledispatchmethod
    def write(self, block: Block) -> None:
        """Writes a block. One of a kind that is not known here is its words."""
        self._end_floating()
        self.put(made("w:p", run(plain_words(block))))

    @write.register
    def _(self, block: Paragraph) -> None:
        document = self._document
        if block.note and block.id in document.notes_of:
            return  # it stands in a part of its own
        floating = [*self._beside(block)]
        element = paragraph(block, document, floating)
        label = document.report.labels.get(block.caption or "")
        if label and label.place == "above" and block.keep_with_next is None:
            with_property(element, switch("w:keepNext", True))
        self.put(element)

    def _beside(self, block: Paragraph) -> Iterator[_Element]:
        """The pictures that stand beside a paragraph; no heading has any."""
        document = self._document
        if block.style in document.report.styles.levels:
            return self._end_floating()
        waiting, self._floating = self._floating, []
        for one in waiting:
            yield picture(one, document, fitted(one, document.pages.on_paper(self.at)))

    @write.register
    def _(self, block: Image) -> None:
        if is_beside(block):
            self._floating.append(block)
            return
        self._end_floating()
        size = fitted(block, self._document.pages.on_paper(self.at))
        self.put(on_a_line(block, self._document, size))

    @write.register
    def _(self, block: DataTable) -> None:
        self._end_floating()
        self.put(data_table(block, self._document, self._document.pages.on_paper(self.at)))

    @write.register
    def _(self, block: PageBreak) -> None:
        self._end_floating()
        self.put(made("w:p", made("w:r", made("w:br", type="page"))))

    @write.register
    def _(self, block: PartStart) -> None:
        self._end_floating()

    @write.register
    def _(self, block: ThematicBreak) -> None:
        self._end_floating()
        self.put(made("w:p", properties("w:pPr", [made("w:pStyle", val=LINE_ACROSS)])))

    @write.register
    def _(self, block: PlacedTable) -> None:
        self._end_floating()
        paper = self._document.pages.on_paper(self.at)
        self.put(*self._tables.table(block, self.at, paper, self._sections))
