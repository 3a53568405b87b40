"""The body of Office Open XML text documents (ISO/IEC 29500-1, 17.2 and 17.3, .docx), through python-docx.

Reads paragraphs and runs; what else a document holds has a module beside this one, each for a part of the standard. What none of
them reads is kept as words where it has any, and noted.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from io import BytesIO
from typing import Any, TypeVar

import docx
from docx.document import Document as File
from docx.opc.exceptions import PackageNotFoundError
from docx.opc.part import Part
from lxml.etree import LxmlError, _Element

from ...pages.typefaces import is_as_wide
from ...report.blocks import Block, Image, Marks, PageBreak, Paragraph, PlacedTable, Run, ThematicBreak, with_paragraphs
from ...report.elements import identifier
from ...report.links import safe_link
from ...report.page import DEFAULT_PAGE, LANGUAGE
from ...report.report import Report
from ...report.styles import Style
from ...structure.markers import counted_as
from ..footnotes import with_notes
from ..imported import FileRefused, Imported, Notes, Progress, new_ids
from ..leads import resolved
from ..package import check_package, mended, parse
from ..runs import join_runs
from .controls import box_of, filled_in, is_filled_in
from .drawings import drawing_of
from .fields import ContentsFields
from .formulas import is_alone, is_formula, justification, lost_of, runs_of_formula
from .heading_numbers import HeadingNumbers
from .looks import borders_with, highlight, script_of, shade
from .marks import CITED, INDEXED
from .notes import SIGNS, DocumentNotes, of_note
from .numbering import Numbered, symbol
from .own import LINE_ACROSS, Own, numbering_as_said
from .places import DocumentPlaces, Piece, Sign
from .rest import Rest
from .sections import Sections, of_table
from .styles import Styles, line_spacing, natural_spacing, paragraph_look, stops_with
from .table_looks import PLAIN as NO_CELL
from .table_looks import TableLooks
from .tables import table_of
from .xml import (
    COMPATIBILITY,
    FALLBACK,
    MATH,
    SKIPPED,
    child,
    colour,
    flattened,
    is_relation,
    letter_size,
    local,
    number,
    qn,
    switched,
    value,
)

log = logging.getLogger(__name__)

_KIND = "Office Open XML document (.docx)"


def read(data: bytes, name: str, progress: Progress, _beside: Mapping[str, bytes]) -> Imported:
    check_package(data, _KIND)
    try:
        file = docx.Document(BytesIO(mended(data)))
        body = file.element.find(qn("w:body"))
    except (PackageNotFoundError, KeyError, ValueError, LxmlError, AttributeError, TypeError) as error:
        # All that python-docx raises for parts that are missing, or are other than their relationships say.
        log.info("A document could not be opened: %r", error)
        body = None
    if body is None:
        raise FileRefused(f"The file is not an {_KIND}: its content list is missing or names other things.")
    return _Reader(file, body).read(name, progress)


class _Reader:
    """Reads a document (``document.py``)."""

    def __init__(self, file: File, body: _Element) -> None:
        self.file, self.element, self.body = file, file.element, body
        self.part: Part = file.part
        self.ids = new_ids()
        self.named: set[str] = set()
        self._bookmarks: dict[str, _Element] | None = None
        """Where bookmarks begin, by name; once somebody asks."""
        self.ids_of: dict[_Element, str] = {}
        """Ids of paragraphs that have their names from the file."""
        self.notes = Notes()
        self.rest = Rest(self.notes)
        self.own = Own.of(file)
        self.styles = Styles(file, self.rest, self.own)
        self.pictures: dict[str, bytes] = {}
        self.in_line: set[str] = set()
        self._around: Sequence[_Element] = ()
        """What the style of the paragraph that is being read says of its words, nearest first."""
        self.in_cell = NO_CELL
        self.table_looks = TableLooks(self.styles)
        self.depth = 0
        self.headings = HeadingNumbers(self.styles.lists, self.own)
        self.numbers: dict[str, int] = {}
        """What items of numbered lists are counted as, by id of the paragraph."""
        self.contents = ContentsFields(self.notes, self.own)
        self.places = DocumentPlaces(self.notes, self.own)
        self.column_width = DEFAULT_PAGE.column_width
        self.sections = Sections(self)
        self.column_width = self.sections.page.column_width
        self._noted = DocumentNotes(self)

    def read(self, name: str, progress: Progress) -> Imported:
        blocks: list[Block] = []
        elements = list(flattened(self.body))
        for done, element in enumerate(elements):
            if done % 100 == 0:
                progress(done, len(elements))
            if element.tag == qn("w:p") and self.contents.takes(element):
                if self.contents.began:
                    blocks.append(PlacedTable(next(self.ids), *self.contents.add()))
            else:
                found = self.block(element)
                # A paragraph that is empty, and whose mark is hidden, is not seen.
                unseen = element.tag == qn("w:p") and is_hidden(element)
                blocks.extend(one for one in found if not (unseen and isinstance(one, Paragraph) and not one.text))
            section = child(child(element, "w:pPr"), "w:sectPr")
            if section is not None and not of_table(section):
                blocks.extend(self.sections.end(next(self.ids)))
        while blocks and isinstance(blocks[-1], PageBreak):
            blocks.pop()
        blocks = [*with_notes(blocks, self._noted.read())]
        self._note_controls()
        self.notes.at = ""
        self.contents.find_styles(self.styles.by_name)
        sheet = self.styles.sheet()
        for font, instead in self.styles.replaced.items():
            self.notes.add("typeface-as-wide" if is_as_wide(font) else "typeface", font, instead)
        paragraphs = [block for block in blocks if isinstance(block, Paragraph) and block.text.strip()]
        title = self._title() or next((block.words for block in paragraphs if sheet[block.style].role == "title"), name)
        marks = self.places.marks
        counting = self._noted.counting([*self.element.iter(qn("w:sectPr"))])
        numbering = self.headings.numbering(self.styles.numbers_of_levels())
        if self.own:
            numbering = numbering_as_said(numbering, self.own.numbering)
        blocks = [*self.headings.numbered([*counted_as(blocks, sheet, self.numbers)], numbering, sheet)]
        report = Report(
            title=title,
            blocks=self._over_ranges(resolved(blocks, self.places.names, sheet)) or (Paragraph(next(self.ids)),),
            authorities=marks.authorities,
            categories=marks.categories,
            sees=tuple(dict.fromkeys(marks.sees)),
            styles=sheet,
            numbering=numbering,
            page=replace(self.sections.page, language=self._language(), **counting),
            parts=self.sections.parts,
            tables=self.contents.tables(sheet, self.places, self._section_of),
            labels=self.places.labels,
        )
        return Imported(report, self.pictures, self.notes.all(), frozenset(self.named))

    def _over_ranges(self, blocks: tuple[Block, ...]) -> tuple[Block, ...]:
        """The blocks, with terms over the bookmarks that they name, and marks over all paragraphs that they are of."""
        marks = self.places.marks
        if not marks.ranges and not marks.further:
            return blocks
        return tuple(with_paragraphs(blocks, marks.over_ranges))

    # --- Paragraphs (17.3.1) ---

    def block(self, element: _Element) -> list[Block]:
        if element.tag == qn("w:p"):
            if self.own and is_line_across(element):
                return [ThematicBreak(next(self.ids))]
            return self.paragraph(element)
        if element.tag == qn("w:tbl"):
            return [*table_of(element, self)]
        self.notes.add("inserted-file")
        return []

    def empty_cell(self) -> Paragraph:
        return Paragraph(next(self.ids), self.styles.sheet().role("cell").id)

    def paragraph(self, element: _Element) -> list[Block]:
        properties = child(element, "w:pPr")
        own = self._id(element)
        self.notes.at = own
        key = value(child(properties, "w:pStyle"))
        outside, self._around = self._around, self.styles.of_words(key)
        listed = self.styles.listed(properties, key)
        style = self._style(properties, key, listed)
        look = {} if properties is None else paragraph_look(properties)
        count = self._count(listed, style)
        blocks: list[Block] = []
        settings = self._settings(properties, style, look)
        if style.outline_level and number(child(properties, "w:outlineLvl")) == 9:  # body text (17.3.1.20)
            settings["listed"] = 0
        for name in ("new_page", "keep_with_next", "keep_together", "contextual_spacing"):
            if look.get(name, getattr(style, name)) != getattr(style, name):
                settings[name] = look[name]
        if style.marker and (listed.how.hidden if listed else is_taken_out_of_lists(properties)):
            settings["number"] = "none"
            if not listed:
                _without_own_place(settings, style)
        self.rest.of_paragraph(properties)
        runs: list[Run] = []
        made = False
        pieces, caption, entry = self.places.read([*self.inline(element, style, None)], own)
        self._around = outside
        if caption:
            settings["caption"] = caption
        if entry and not style.outline_level:
            settings["listed"] = entry

        if style.outline_level:
            words = any(isinstance(piece, Run) and piece.text.strip() for piece in pieces)
            self.headings.note(own, listed, counts=words)
        if caption and settings.get("keep_with_next") and self.places.labels[caption].place == "above":
            del settings["keep_with_next"]  # it does so by itself
        formulas = [piece for piece in pieces if isinstance(piece, Run) and piece.text.strip()]
        alone = not self.own and formulas and all(is_alone(piece) for piece in formulas)
        if "align" not in look and alone and (align := justification(element)) != style.align:
            settings["align"] = align

        def close() -> None:
            nonlocal made
            if runs or not made:
                id = next(self.ids) if made else own
                further = {"number": "none"} if made and style.marker else {}
                blocks.append(Paragraph(id, style.id, join_runs(runs), **settings, **further))  # type: ignore[arg-type]
                if count is not None and not made:
                    self.numbers[id] = count
                runs.clear()
                made = True

        # Its words stand beside pictures that they flow around, wherever in it these are anchored.
        floating = [piece for piece in pieces if isinstance(piece, Image) and piece.beside]
        blocks.extend(floating)
        for piece in pieces:
            if isinstance(piece, Run):
                runs.append(piece)
                continue
            if any(piece is one for one in floating):
                continue
            if runs:
                close()
            if isinstance(piece, Image) and piece.id in self.in_line:
                align = settings.get("align", style.align)
                piece = replace(piece, align=align if align in ("center", "right") else "left")
            blocks.append(piece)
            made = True
        if runs or not (made or floating):
            close()
        return blocks

    def _id(self, element: _Element) -> str:
        """The id of a paragraph: by the name of a bookmark in it (17.13.6), if it has one that no other has."""
        for bookmark in element.iter(qn("w:bookmarkStart")):
            name = bookmark.get(qn("w:name")) or ""
            id = f"n-{name}"
            if name.startswith((CITED, INDEXED)) or of_note(bookmark):
                continue
            if self.is_free(id):
                self.ids_of[element] = id
                return id
        return next(self.ids)

    def is_free(self, id: str) -> bool:
        """Whether a name of the file can be the id of something, which it is from then on."""
        free = (
            identifier(id) is not None and id != "n-_GoBack" and id not in self.named
        )  # where somebody's cursor stood last
        if free:
            self.named.add(id)
        return free

    def _style(self, properties: _Element | None, key: str | None, listed: Numbered | None) -> Style:
        style = self.styles.use(key)
        level = number(child(properties, "w:outlineLvl"))
        if level is not None and 0 <= level <= 8 and style.outline_level != level + 1:
            style = self.styles.at_level(style, level + 1)
        if style.outline_level:
            return style
        if listed:
            return self.styles.item(listed, style)
        if key and style.name.lower().startswith("toc "):
            self.notes.add("toc-line")
        return style

    def _count(self, listed: Numbered | None, style: Style) -> int | None:
        """What an item of a numbered list is counted as."""
        if listed is not None and not listed.how.known:
            self.notes.add("list-sign" if listed.how.marker == "bullet" else "list-figures")
        if listed is None or style.marker is None:
            return None
        count = self.styles.count(listed)  # bullets as well: what is beneath one is counted anew
        return None if style.marker == "bullet" else count

    def _settings(self, properties: _Element | None, style: Style, look: dict[str, Any]) -> dict[str, Any]:
        """Direct formatting of a paragraph, as far as it differs from its style."""
        if properties is None:
            return {}
        settings: dict[str, Any] = {}
        if "align" in look and look["align"] != style.align:
            settings["align"] = look["align"]
        spacing = child(properties, "w:spacing")
        for name, side in (("space_before", "before"), ("space_after", "after")):
            given = number(spacing, side)
            if given is not None and given / 20 != getattr(style, name):
                settings[name] = min(max(given / 20, 0.0), 500.0)
        for name in ("indent", "first_line", "right_indent"):
            if name in look and look[name] != getattr(style, name):
                settings[name] = look[name]
        first = settings.get("first_line", style.first_line)
        silent = is_taken_out_of_lists(properties)
        if (
            style.marker and first > style.first_line / 2 and not silent
        ):  # there is no room for the marker: it stands where the first line begins
            settings["indent"] = max(settings.get("indent", style.indent) + first - style.first_line, 0.0)
            settings.pop("first_line", None)
        background = shade(child(properties, "w:shd"))
        if background and background != style.background:
            settings["background"] = background
        borders = borders_with(style.borders, child(properties, "w:pBdr"))
        if borders != style.borders:
            settings["borders"] = borders
        stops = stops_with(style.tab_stops, properties)
        if stops != style.tab_stops:
            settings["tab_stops"] = stops
        lines = line_spacing(spacing, style.size, natural_spacing(style.font))
        if lines and abs(lines - style.line_spacing) > 0.012:
            # What was meant has two decimals, if that is written as it is here.
            short = round(lines, 2)
            settings["line_spacing"] = (
                short if abs(short - lines) < natural_spacing(style.font) / 480 else round(lines, 3)
            )
        return settings

    # --- Runs (17.3.2), and what stands among them ---

    def inline(self, element: _Element, style: Style, link: str | None) -> Iterator[Piece]:
        """What stands among the words of an element, with the signs of fields and bookmarks."""
        for one in element:
            tag = one.tag
            if not isinstance(tag, str):
                continue  # a comment
            if tag in SKIPPED:
                if tag in (qn("w:del"), qn("w:moveFrom")):
                    self.notes.add("tracked-deletion")
            elif tag == qn("w:r"):
                yield from self.run(one, style, link)
            elif tag == qn("w:hyperlink"):
                yield from self.inline(one, style, self._link(one))
            elif tag.startswith(MATH):
                runs = runs_of_formula(one, link)
                if not all(map(is_formula, runs)):
                    self.notes.add("formula")
                for kind in lost_of(one):
                    self.notes.add(kind)
                yield from runs
            elif tag == qn("w:bookmarkStart"):
                yield Sign("bookmark", one.get(qn("w:name")) or "", one.get(qn("w:id")) or "")
            elif tag == qn("w:bookmarkEnd"):
                yield Sign("bookmark end", "", one.get(qn("w:id")) or "")
            elif tag == qn("w:fldSimple"):
                yield from (Sign("begin"), Sign("instruction", one.get(qn("w:instr")) or ""), Sign("separate"))
                yield from self.inline(one, style, link)
                yield Sign("end")
            elif tag == qn("w:sdt") and (box := box_of(one)):
                yield Run(box, next((self.marks(r, style, link) for r in one.iter(qn("w:rPr"))), Marks(link=link)))
            elif tag == f"{COMPATIBILITY}AlternateContent":
                yield from self.inline(chosen(one), style, link)
            elif tag != FALLBACK:
                if tag in (qn("w:ins"), qn("w:moveTo")):
                    self.notes.add("tracked-insertion")
                yield from self.inline(one, style, link)

    def _link(self, element: _Element) -> str | None:
        """Where a ``w:hyperlink`` leads (17.16.22): to an address, to a place behind it, or to a place in this document."""
        relation = self.part.rels.get(element.get(qn("r:id")) or "")
        address = relation.target_ref if relation is not None and relation.is_external else ""
        anchor = element.get(qn("w:anchor")) or ""
        if not address:
            return f"#{anchor}" if anchor else None
        found = safe_link(f"{address}#{anchor}" if anchor and "#" not in address else address)
        if found is None:
            self.notes.add("link")
        return found

    def run(self, element: _Element, style: Style, link: str | None) -> Iterator[Piece]:
        properties = child(element, "w:rPr")
        if switched(properties, "vanish"):
            yield from self._hidden(element)
            return
        stands_for_note = any(one.tag in SIGNS for one in element)
        marks = Marks(link=link) if stands_for_note else self.marks(properties, style, link)
        noted = stands_for_note
        for one in element:
            tag = one.tag
            if not isinstance(tag, str) or tag == qn("w:rPr"):
                continue
            if tag == qn("w:t"):
                words = (one.text or "").replace("\n", " ")
                if words.strip() and not noted:
                    noted = True
                    self.rest.of_run(properties)
                yield Run(words, marks)
            elif (simple := _CHARACTERS.get(tag)) is not None:
                yield Run(simple, marks)
            elif tag == qn("w:br"):
                if one.get(qn("w:type")) == "page":
                    yield PageBreak(next(self.ids))
                elif one.get(qn("w:type")) != "column":
                    yield Run("\n", marks)
            elif tag == qn("w:fldChar"):
                if sign := _field_sign(one):
                    yield sign
            elif tag == qn("w:instrText"):
                yield Sign("instruction", one.text or "")
            elif tag in (qn("w:footnoteReference"), qn("w:endnoteReference")):
                if reference := self._noted.referred(one):
                    yield reference
                    if one.get(qn("w:customMarkFollows")) in ("1", "true", "on"):
                        self.notes.add("note-sign")
                        return  # what follows in the run is its sign, and here it is counted (17.11.14)
            elif tag == qn("w:commentReference"):
                self.notes.add("comment")
            elif tag == qn("w:sym"):
                yield from self._symbol(one, marks)
            elif tag == qn("w:ruby"):
                yield from self._ruby(one, style, link)
            elif tag == f"{COMPATIBILITY}AlternateContent":
                for inner in chosen(one):
                    if local(inner) in ("drawing", "pict", "object"):
                        yield from drawing_of(inner, self, style)
                    elif inner.tag == qn("w:t"):
                        yield Run(inner.text or "", marks)
            elif tag in (qn("w:drawing"), qn("w:pict"), qn("w:object")):
                yield from drawing_of(one, self, style)
            elif tag == qn("w:delText"):
                self.notes.add("tracked-deletion")
            elif tag not in _UNSEEN:
                self.notes.add("unknown", local(one)[:40])
                yield from (Run(words.text or "", marks) for words in one.iter(qn("w:t")))

    def _hidden(self, element: _Element) -> Iterator[Piece]:
        """Of a hidden run the signs of fields: those that mark words are often hidden themselves."""
        for one in element:
            if one.tag == qn("w:instrText"):
                yield Sign("instruction", one.text or "")
            elif one.tag == qn("w:fldChar"):
                if sign := _field_sign(one):
                    yield sign
            elif one.tag == qn("w:t") and (one.text or "").strip():
                self.notes.add("hidden")

    def _symbol(self, element: _Element, marks: Marks) -> Iterator[Run]:
        """A character of a font of symbols (17.3.3.30)."""
        font = element.get(qn("w:font")) or ""
        try:
            code = int(element.get(qn("w:char")) or "", 16)
        except ValueError:
            code = 0
        found = symbol(font, code)
        if found is None and not 0xE000 <= code <= 0xF8FF and 0x20 <= code <= 0xFFFF and not 0xD800 <= code <= 0xDFFF:
            found = chr(code)
        if found:
            yield Run(found, replace(marks, font=None))
        else:
            self.notes.add("symbol", font[:60] or "no name")

    def _ruby(self, element: _Element, style: Style, link: str | None) -> Iterator[Piece]:
        """Words with others above them (17.3.3.25): these in brackets behind."""
        above = "".join(words.text or "" for words in element.iterfind(f"{qn('w:rt')}//{qn('w:t')}"))
        for base in element.iterfind(qn("w:rubyBase")):
            yield from self.inline(base, style, link)
        if above.strip():
            self.notes.add("ruby")
            yield Run(f" ({above})")

    def marks(self, properties: _Element | None, style: Style, link: str | None) -> Marks:
        around, cell = self._around, self.in_cell
        by_table = Marks(
            # A toggle of a table style turns that of the paragraph's style around (17.7.3).
            bold=not style.bold if cell.bold else None,
            italic=not style.italic if cell.italic else None,
            colour=cell.colour if style.colour == "#000000" else None,
            script=script_of(around),
            highlight=highlight(around),
            link=link,
        )
        if properties is None:
            return by_table
        said = [properties, *self.styles.character_style(properties)]
        size = _first(said, letter_size)
        named = _first(said, self.styles.font)
        font = named and self.styles.family(named)
        shade = _first(said, colour)
        underline = _first(said, lambda one: value(child(one, "w:u")))
        return replace(
            by_table,
            bold=self._emphasis(said, "b", style.bold, by_table.bold),
            italic=self._emphasis(said, "i", style.italic, by_table.italic),
            underline=underline not in (None, "none"),
            font=font if font != style.font else None,
            size=size if size != style.size else None,
            colour=by_table.colour if shade is None else shade if shade != style.colour else None,
            strike=bool(
                _first(said, lambda one: switched(one, "strike")) or _first(said, lambda one: switched(one, "dstrike"))
            ),
            capitals=self.styles.run_capitals(properties, style.capitals),
            script=script_of([*said, *around]),
            highlight=highlight([*said, *around]),
        )

    def _emphasis(self, said: list[_Element], tag: str, inherited: bool, by_table: bool | None) -> bool | None:
        """Whether a run is bold or italic otherwise than its style says, by itself or else by the style of its table."""
        if by_table is not None and all(switched(one, tag) is None for one in said):
            return by_table
        return self.styles.run_toggle(said[0], tag, inherited)

    # --- The document as a whole ---

    def _note_controls(self) -> None:
        """Counts the content controls of the body that people fill in; boxes can be ticked here as well."""
        for control in self.body.iter(qn("w:sdt")):
            if is_filled_in(control):
                self.notes.add("control")

    def _title(self) -> str:
        """The title among the properties of the document (part 2, 11.1); the first, where there are several."""
        for relation in self.file.part.package.rels.values():
            if is_relation(relation, "core-properties"):
                root = parse(relation.target_part.blob)
                title = None if root is None else root.findtext("{http://purl.org/dc/elements/1.1/}title")
                if title and title.strip():
                    return title.strip()[:200]
        return ""

    def _section_of(self, name: str) -> str | None:
        """The id of the heading with which a bookmark begins (17.13.6.2): that of a section."""
        if self._bookmarks is None:
            self._bookmarks = {one.get(qn("w:name")) or "": one for one in self.body.iter(qn("w:bookmarkStart"))}
        start = self._bookmarks.get(name)
        if start is None:
            return None
        around = next(start.iterancestors(qn("w:p")), None)
        place = around if around is not None else next(start.itersiblings(qn("w:p")), None)
        key = value(child(child(place, "w:pPr"), "w:pStyle"))
        return None if place is None or not self.styles.level(key) else self.ids_of.get(place)

    def _language(self) -> str:
        """The language of what says no other (17.3.2.20)."""
        said = self.styles.language
        return said if LANGUAGE.fullmatch(said) else DEFAULT_PAGE.language


_CHARACTERS: Mapping[str, str] = {
    qn("w:tab"): "\t", qn("w:ptab"): "\t", qn("w:noBreakHyphen"): "\u2011", qn("w:cr"): "\n", qn("w:softHyphen"): "",
}  # fmt: skip
_UNSEEN = {qn(f"w:{name}") for name in ("lastRenderedPageBreak", "footnoteRef", "endnoteRef", "annotationRef", "separator",
                                         "continuationSeparator", "delInstrText", "pgNum")}  # fmt: skip
"""What shows nothing where it stands."""


def _field_sign(element: _Element) -> Sign | None:
    """Where a complex field begins, goes on or ends (17.16.18)."""
    kind = element.get(qn("w:fldCharType"))
    if kind == "begin":
        return Sign("begin", filled_in(element))
    return Sign(kind) if kind in ("separate", "end") else None  # type: ignore[arg-type]


T = TypeVar("T")


def _first(said: list[_Element], of: Callable[[_Element], T | None]) -> T | None:
    """What the nearest of some properties says that says anything."""
    return next((found for one in said if (found := of(one)) is not None), None)


def chosen(alternatives: _Element) -> _Element:
    """Of contents that stand in for each other the first (part 3, 9.3); what stands in for all, where there is no other."""
    choices = [one for one in alternatives if isinstance(one.tag, str)]
    return choices[0] if choices else alternatives


def is_line_across(paragraph: _Element) -> bool:
    """Whether a paragraph is a line across the page, as files of ours have it."""
    key = value(child(child(paragraph, "w:pPr"), "w:pStyle"))
    return key == LINE_ACROSS and all(one.tag == qn("w:pPr") for one in paragraph)


def is_hidden(paragraph: _Element) -> bool:
    """Whether the mark of a paragraph is hidden (17.3.1.29, 17.3.2.41)."""
    return switched(child(child(paragraph, "w:pPr"), "w:rPr"), "vanish") is True


def is_taken_out_of_lists(properties: _Element | None) -> bool:
    """Whether a paragraph says that it is in no list, whatever its style says (17.9.18)."""
    return number(child(child(properties, "w:numPr"), "w:numId")) == 0


def _without_own_place(settings: dict[str, Any], style: Style) -> None:
    """Takes out of what an item without a marker says itself that it stands where the words of others do."""
    if abs(settings.get("indent", style.indent) - style.indent) < 0.06 and settings.get("first_line") == 0:
        settings.pop("indent", None)
        settings.pop("first_line", None)
