"""Paragraphs, and what stands among their words (ISO/IEC 29500-1, 17.3): links, bookmarks, fields, signs of notes, formulas."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from lxml.etree import _Element

from ...pages.as_set import words_as_set
from ...report.authorities import OTHER, Authority, written
from ...report.blocks import Citation, Indexed, Marks, Paragraph, Reference, Run
from ...report.links import inner, safe_link
from ...structure.references import reference_text
from ..docx.marks import CITED, INDEXED
from ..docx.places import PARTS
from .document import Document, marked
from .fields import field, quoted, run, silent
from .formulas import formula_of
from .looks import indents, place_of_paragraph
from .xml import made, properties, switch

_CATEGORIES = {"cases": 1, "statutes": 2, "other": 3, "regulations": 6}
"""The first categories of TA fields (from memory); 4, 5 and 7 have names of their own, further ones none."""
_NAMED = {"rules": 4, "treatises": 5, "constitutional provisions": 7}
_FURTHER = range(8, 17)


def paragraph(
    block: Paragraph,
    document: Document,
    front: Iterable[_Element] = (),
    section: _Element | None = None,
) -> _Element:
    """A paragraph. ``front`` stands before its words; ``section`` are the properties of the section that it ends."""
    content = _Content(block, document)
    return made("w:p", place(block, document, section), *front, *content.written())


def place(block: Paragraph, document: Document, section: _Element | None = None) -> _Element | None:
    """The properties of a paragraph (17.3.1.26)."""
    style = document.report.styles[block.style]
    own = [*place_of_paragraph(block, style)]
    if style.role != "body" or style.id != document.report.styles.role("body").id:
        own.append(made("w:pStyle", val=document.key(block.style)))
    own.append(document.numbering.of(block))
    if style.marker and document.numbering.is_silent(block):
        own = [one for one in own if one is None or not one.tag.endswith("}ind")]
        own.append(indents(style.indent if block.indent is None else block.indent, 0.0, block.right_indent))
    if block.listed == 0 and style.outline_level:
        own.append(made("w:outlineLvl", val=9))
    return properties("w:pPr", [*own, section])


def between() -> _Element:
    """A paragraph of which nothing is seen, where the standard wants one: its mark is hidden (17.3.1.29, 17.3.2.41)."""
    hidden = properties("w:rPr", [switch("w:vanish", True), made("w:sz", val=2)])
    place = properties("w:pPr", [made("w:spacing", before=0, after=0, line=20, lineRule="exact"), hidden])
    return made("w:p", place)


class _Content:
    """Writes what stands in one paragraph."""

    def __init__(self, block: Paragraph, document: Document) -> None:
        self._block, self._document = block, document
        self._out: list[_Element] = []
        self._into: list[_Element] | _Element = self._out
        self._link: str | None = None
        self._open: dict[str, tuple[str, _Element | None, Marks]] = {}
        """Marks that have begun, by kind: id, what ends their bookmark, and what they say."""

    def written(self, runs: Iterable[Run] | None = None) -> list[_Element]:
        block, document = self._block, self._document
        ends: list[_Element] = []
        if self._is_place():
            self._begin(document.names.place(block.id), ends)
        if block.caption:
            self._caption()
        words: list[_Element] = []
        if block.caption and (block.id, "title") in document.shown:
            self._begin(document.names.place(block.id, PARTS["title"]), words)
        for one in block.runs if runs is None else runs:
            self._run(one)
        self._follow({}, None)
        self._to(None)
        self._out += [*words, *ends]
        if block.listed and not document.report.styles[block.style].outline_level:
            self._out += silent(f"TC {quoted(words_as_set(block, document.report).text)} \\l {block.listed}")
        return self._out

    def _is_place(self) -> bool:
        """Whether something may lead to the paragraph as a whole."""
        block, document = self._block, self._document
        if block.note and block.id in document.notes_of:
            return False
        style = document.report.styles[block.style]
        return bool(style.outline_level or block.caption or block.listed or block.id in document.wanted)

    def _begin(self, name: str, ends: list[_Element]) -> None:
        if name not in self._document.begun:
            self._document.begun.add(name)
            start, end = self._document.names.around(name)
            self._add(start)
            ends.insert(0, end)

    def _add(self, *elements: _Element) -> None:
        self._into.extend(elements)

    # --- Captions (17.16.5.56) ---

    def _caption(self) -> None:
        """Label and number in front of a caption's words, as fields."""
        block, document = self._block, self._document
        counted = document.pages.captions.get(block.id)
        if counted is None:
            return
        label, number, _ = counted
        chapter, _, figure = number.rpartition("-") if label.by_level else ("", "", number)
        both: list[_Element] = []
        if (block.id, "label") in document.shown:
            self._begin(document.names.place(block.id, PARTS["label"]), both)
        self._add(run(f"{label.name} "))
        alone: list[_Element] = []
        if (block.id, "number") in document.shown:
            self._begin(document.names.place(block.id, PARTS["number"]), alone)
        if chapter:
            self._add(*field(f"STYLEREF {label.by_level} \\s", [run(chapter)]), run("-"))
        level = f" \\s {label.by_level}" if label.by_level else ""
        if not document.is_whole and label.id not in document.counted:
            level += f" \\r {figure}"  # others of its label stand in front of what is written
        document.counted.add(label.id)
        self._add(*field(f"SEQ {sequence(label.id, label.name)} \\* ARABIC{level}", [run(figure)]))
        self._add(*alone, *both)
        front = document.report.captions.get(block.id, "")
        if behind := front[len(f"{label.name} {number}") :]:
            self._add(run(behind))

    # --- Words ---

    def _run(self, one: Run) -> None:
        marks = one.marks
        self._follow(marked(marks), marks)
        if marks.reference:
            self._to(None)
            for _ in one.text:
                self._add(*self._reference(marks.reference, marks))
            return
        if marks.formula:
            self._to(None)
            style = self._document.report.styles[self._block.style]
            for _ in one.text:
                self._add(formula_of(marks.formula, self._block.align or style.align))
            return
        self._to(marks.link)
        self._add(run(one.text, self._document.look(marks)))

    def _to(self, link: str | None) -> None:
        """Begins or ends a link (17.16.22)."""
        if link == self._link:
            return
        self._link, self._into = link, self._out
        place = inner(link)
        if place and not self._document.is_whole and place not in self._document.inside:
            return
        if place:
            element = made("w:hyperlink", anchor=self.named(place), history="1")
        elif link and safe_link(link):
            relation = self._document.part.relate("hyperlink", link, outside=True)
            element = made("w:hyperlink", **{"r:id": relation, "history": "1"})
        else:
            return
        self._out.append(element)
        self._into = element

    def named(self, place: str) -> str:
        """The bookmark of a place, be it there or not."""
        return name_of(place, self._document)

    def _follow(self, there: dict[str, str], marks: Marks | None) -> None:
        """Ends what is marked no more, and begins what is from here on."""
        document = self._document
        for kind, (id, _, _) in [*self._open.items()]:
            over = marks is None and (self._block.id, id) in document.goes_on
            if there.get(kind) != id and not over:
                self._end(kind)
        for kind, id in there.items():
            if kind not in self._open and marks is not None:
                name = self._name(kind, id, marks)
                end = document.waiting.pop(name, None)
                if end is None:
                    ends: list[_Element] = []
                    self._begin(name, ends)
                    end = ends[0] if ends else None
                self._open[kind] = id, end, marks
        if marks is None:
            for kind, (id, end, said) in self._open.items():
                document.waiting[self._name(kind, id, said)] = end

    def _name(self, kind: str, id: str, marks: Marks) -> str:
        if kind == "bookmark" and marks.bookmark:
            return self._document.names.bookmark(marks.bookmark)
        return self._document.names.marked(CITED if kind == "citation" else INDEXED, id)

    def _end(self, kind: str) -> None:
        id, end, marks = self._open.pop(kind)
        if end is not None:
            self._add(end)
        if kind == "citation" and marks.citation:
            self._add(*self._citation(marks.citation))
        if kind == "indexed" and marks.indexed:
            self._add(*self._terms(marks.indexed, self._name(kind, id, marks)))

    def _citation(self, mark: Citation) -> Iterator[_Element]:
        """TA (17.16.5.64): in full where an authority is cited first, by its short form elsewhere."""
        document = self._document
        authority = document.report.authorities.get(mark.of)
        if authority is None:  # one that is not known any more is called by the words that cite it
            words = "".join(
                run.text for run in self._block.runs if run.marks.citation and run.marks.citation.id == mark.id
            )
            authority = Authority(mark.of, OTHER, written(words) or mark.of)
        short = authority.short or authority.long
        first = mark.of not in document.cited
        document.cited.add(mark.of)
        category = category_number(authority.category, document)
        said = f"\\l {quoted(authority.long)} \\s {quoted(short)} \\c {category}" if first else f"\\s {quoted(short)}"
        yield from silent(f"TA {said}")

    def _terms(self, mark: Indexed, name: str) -> Iterator[_Element]:
        """XE (17.16.5.72): behind the words, or over all of their pages where they stand in several paragraphs."""
        over = f" \\r {name}" if mark.id in self._document.over_paragraphs else ""
        for entry in mark.entries:
            main = " \\b" if entry.main else ""
            yield from silent(f"XE {terms(entry.terms)}{main}{over}")

    # --- References (17.16.5.51, 17.16.5.45, 17.16.5.41) ---

    def _reference(self, reference: Reference, marks: Marks) -> Iterator[_Element]:
        document = self._document
        words = reference_text(reference, self._block.id, document.report)
        look = document.look(marks)
        if reference.shows == "note" and reference.to in document.notes_of:
            yield from self._call(reference.to, words)
            return
        place = document.place(reference.to)
        if place is None or reference.shows == "note":
            yield run(words, look)
            return
        to = reference.to
        if reference.shows == "page":
            yield from field(f"PAGEREF {self.named(to)} \\h", [run(words, look)])
        elif reference.shows == "way":
            yield from field(f"REF {self.named(to)} \\p \\h", [run(words, look)])
        elif to in document.notes_of and reference.shows in ("number", "label"):
            sign = words.removeprefix("note ")
            yield from [run(words[: len(words) - len(sign)], look)] if sign != words else []
            yield from field(f"NOTEREF {self.named(to)} \\h", [run(sign, look)])
        elif place.kind == "caption" and place.number:
            part = PARTS[reference.shows]
            yield from field(f"REF {document.names.place(to, part)} \\h", [run(words, look)])
        elif reference.shows in ("number", "label") and place.number:
            numbered = to if place.kind == "heading" else document.heading_before(place.block) or to
            yield from field(f"REF {self.named(numbered)} \\n \\h", [run(words, look)])
        else:
            yield from field(f"REF {self.named(to)} \\h", [run(words, look)])

    def _call(self, note: str, sign: str) -> Iterator[_Element]:
        """The sign of a note (17.11.14, 17.11.7); where it is called again, a field that refers to the first."""
        document = self._document
        raised = properties("w:rPr", [made("w:vertAlign", val="superscript")])
        name = document.names.place(note)
        if self._block.note and self._block.id in document.notes_of:
            # A note within a note is none to other programs: its words stand at the end of this one (notes.py).
            yield run(sign, raised)
        elif note in document.called:
            yield from field(f"NOTEREF {name} \\f \\h", [run(sign, raised)])
        else:
            document.called[note] = len(document.called) + 1
            kind = document.notes_of[note]
            start, end = document.names.around(name)
            document.begun.add(name)
            yield start
            yield made("w:r", raised, made(f"w:{kind}noteReference", id=document.called[note]))
            yield end


def note_words(block: Paragraph, document: Document, runs: Iterable[Run]) -> list[_Element]:
    """What stands in a note, beside its sign."""
    return _Content(block, document).written(runs)


def name_of(place: str, document: Document) -> str:
    """The bookmark of a place, by its id, be it there or not."""
    return document.bookmarks.get(place) or document.names.place(place)


def sequence(id: str, name: str) -> str:
    """By what captions of a label are counted (17.16.5.56): its name, if that can be such, or else its id."""
    plain = name if name.isidentifier() and len(name) <= 40 else id.replace("-", "_")
    return plain if plain[:1].isalpha() else f"label_{plain}"[:40]


def terms(said: Iterable[str]) -> str:
    """A term and those beneath it, as XE has them: colons part them."""
    inside = (quoted(one)[1:-1].replace(":", "\\:") for one in said)
    return f'"{":".join(inside)}"'


def category_number(id: str, document: Document) -> int:
    """The number of a category of authorities in TA and TOA fields."""
    categories = document.report.categories
    if id in _CATEGORIES and (id == "other" or id in categories):
        return _CATEGORIES[id]
    known = categories.get(id)
    if known is None:
        return _CATEGORIES["other"]
    if (named := _NAMED.get(known.name.casefold())) is not None:
        return named
    further = [one.id for one in categories.values() if one.id not in _CATEGORIES and one.name.casefold() not in _NAMED]
    return _FURTHER[min(further.index(id), len(_FURTHER) - 1)]
