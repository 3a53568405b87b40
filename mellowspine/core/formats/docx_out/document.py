"""A document that is being written: what the modules for its parts share."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Mapping
from functools import cached_property
from operator import itemgetter

from lxml.etree import _Element

from ...pages.pages import Pages
from ...pages.typefaces import Typefaces
from ...report.blocks import Block, Image, Marks, Paragraph
from ...report.links import inner
from ...report.report import Report
from ...structure.noted import Place
from ...structure.outline import paragraphs
from ..chosen import places_in
from ..docx.marks import CITED, INDEXED
from ..walk import About, Written
from .looks import words_of_marks
from .names import Names
from .numbering import Numbering
from .package import Package, Part
from .styles import names_of

MAIN = "word/document.xml"


class Document:
    """``part`` is the one that is being written: what is named in it is named by its own relationships."""

    def __init__(self, given: Written) -> None:
        self.pages: Pages = given.pages
        self.blocks = [*given.blocks]
        """What is written, with the place of each block in the report."""
        self.is_whole = given.only is None
        there = {at for at, _ in self.blocks}
        elsewhere = {note.id for note in given.pages.footnotes if note.at not in there}
        self.inside = places_in(block for _, block in self.blocks if block.id not in elsewhere)
        """The ids of all that is written; of notes those alone that something refers to which is."""
        self.report: Report = given.pages.report
        self.typefaces: Typefaces = given.typefaces
        self.pictures: Mapping[str, bytes] = given.pictures
        self.about: About = given.about
        self.package = Package()
        self.part: Part = self.package.add(MAIN)
        self.main = self.part
        self.names = Names()
        self.styles = names_of(self.report.styles)
        """The key and name of each style in the file, by id."""
        begins = None if self.is_whole else frozenset(at for at, _ in self.blocks)
        self.numbering = Numbering(self.pages, {id: key for id, (key, _) in self.styles.items()}, begins)
        self.notes_of = {note.id: note.kind for note in self.pages.footnotes}
        """Kinds of the notes that something refers to, by id."""
        self.called: dict[str, int] = {}
        """The number in the file of each note that is referred to in what is written so far, by id."""
        self.begun: set[str] = set()
        """Names of the bookmarks that have begun in what is written so far."""
        self.waiting: dict[str, _Element | None] = {}
        """What ends bookmarks that go on in the next paragraph, by name."""
        self.cited: set[str] = set()
        """Authorities that are named in full in what is written so far."""
        self.counted: set[str] = set()
        """Labels that have a caption in what is written so far."""
        self.drawings = 0
        self._looks: dict[Marks, _Element | None] = {}

    def key(self, style: str) -> str:
        """What a style is called in the file."""
        return self.styles[self.report.styles[style].id][0]

    def look(self, marks: Marks) -> _Element | None:
        """What words with these marks say of their look; not to be changed."""
        if marks not in self._looks:
            self._looks[marks] = words_of_marks(marks)
        return self._looks[marks]

    def place(self, id: str) -> Place | None:
        """A place that is in what is written."""
        return self.pages.places.get(id) if id in self.inside else None

    @cached_property
    def cited_authorities(self) -> tuple[str, ...]:
        """The ids of the authorities that are cited."""
        found = (run.marks.citation.of for one in paragraphs(self.report) for run in one.runs if run.marks.citation)
        return tuple(dict.fromkeys(id for id in found if id in self.report.authorities))

    @cached_property
    def shown(self) -> frozenset[tuple[str, str]]:
        """What references show, and of which places."""
        return frozenset(
            (run.marks.reference.to, run.marks.reference.shows)
            for paragraph in paragraphs(self.report)
            for run in paragraph.runs
            if run.marks.reference
        )

    @cached_property
    def wanted(self) -> frozenset[str]:
        """The ids that links, references and lines of tables lead to."""
        led = {place for one in paragraphs(self.report) for run in one.runs if (place := inner(run.marks.link))}
        lines = [line for issued in self.report.tables.values() for line in issued.lines]
        led |= {line.source for line in lines} | {lead.to for line in lines for lead in line.leads}
        return frozenset(led | {to for to, _ in self.shown})

    @cached_property
    def bookmarks(self) -> Mapping[str, str]:
        """The names in the file of stretches of words, by id: bookmarks, and what is cited or indexed."""
        found: dict[str, str] = {}
        for paragraph in paragraphs(self.report):
            for run in paragraph.runs:
                if run.marks.bookmark:
                    found.setdefault(run.marks.bookmark.id, self.names.bookmark(run.marks.bookmark))
                if run.marks.citation:
                    found.setdefault(run.marks.citation.id, self.names.marked(CITED, run.marks.citation.id))
                if run.marks.indexed:
                    found.setdefault(run.marks.indexed.id, self.names.marked(INDEXED, run.marks.indexed.id))
        return found

    def heading_before(self, block: int) -> str | None:
        """The id of the numbered heading under which a block stands."""
        at = bisect_right(self._numbered, block, key=itemgetter(0))
        return self._numbered[at - 1][1] if at else None

    @cached_property
    def _numbered(self) -> list[tuple[int, str]]:
        return [(one.block, one.id) for one in self.pages.headings if one.number]

    @cached_property
    def goes_on(self) -> frozenset[tuple[str, str]]:
        """Ids of paragraphs at whose end something is marked that goes on in the next one, with the id of the mark."""
        return frozenset(_over_edges(self.report.blocks))

    @cached_property
    def over_paragraphs(self) -> frozenset[str]:
        """Ids of what is marked over several paragraphs."""
        return frozenset(id for _, id in self.goes_on)


def _over_edges(blocks: tuple[Block, ...]) -> Iterator[tuple[str, str]]:
    before: Paragraph | None = None
    for block in blocks:
        if not isinstance(block, Paragraph):
            if not isinstance(block, Image):
                before = None
            continue
        if block.note:
            continue
        if before and before.runs and block.runs:
            there = marked(block.runs[0].marks)
            for kind, id in marked(before.runs[-1].marks).items():
                if there.get(kind) == id:
                    yield before.id, id
        before = block


def marked(marks: Marks) -> dict[str, str]:
    """The ids of what marks words, by its kind."""
    found = {"bookmark": marks.bookmark, "citation": marks.citation, "indexed": marks.indexed}
    return {kind: one.id for kind, one in found.items() if one}
