"""Office Open XML text documents (ISO/IEC 29500-1, .docx), through python-docx.

Reads paragraphs with their styles and direct formatting, headings by outline level or style, lists, pictures, data
tables, page and section breaks, and contents tables, which become tables of the report. Text that stands in anything else is kept as plain text and noted.
"""

from __future__ import annotations

import logging
from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import cached_property
from io import BytesIO
from typing import Any, Literal

import docx
from docx.document import Document
from docx.opc.exceptions import PackageNotFoundError
from docx.oxml.ns import qn
from lxml.etree import LxmlError, _Element

from ...report.blocks import (
    Block,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PlacedTable,
    Run,
    size_within_bounds,
    with_paragraphs,
)
from ...report.elements import identifier
from ...report.grids import grid_of, width_of, with_widths, without_covered_rows
from ...report.links import safe_link
from ...report.numbering import SCHEMES
from ...report.page import DEFAULT_PAGE, LANGUAGE, PageSetup
from ...report.properties import SettingError
from ...report.report import Report
from ...report.styles import Style
from ...structure.markers import counted_as
from ..footnotes import note_of, refer, with_notes
from ..imported import FileRefused, Imported, Notes, Progress, new_ids
from ..leads import resolved
from ..package import check_package, mended, parse
from ..pictures import NotAPicture, check
from ..runs import join_runs
from .fields import ContentsFields
from .places import DocumentPlaces, Piece, Sign
from .styles import (
    Numbered,
    Styles,
    colour,
    is_relation,
    letter_size,
    line_spacing,
    natural_spacing,
    number,
    paragraph_look,
    related,
    stops_with,
    switched,
)

log = logging.getLogger(__name__)

_KIND = "Office Open XML document (.docx)"
_EMU = 12700
_AROUND = ("wrapSquare", "wrapTight", "wrapThrough")
_SIDES: Mapping[str, Literal["left", "right"]] = {
    "left": "left",
    "right": "right",
    "inside": "left",
    "outside": "right",
}
"""English Metric Units in a point (20.1.2.1)."""

_SKIPPED = {qn(f"w:{tag}") for tag in ("del", "moveFrom", "delText", "pPr", "rPr", "sectPr", "sdtPr", "proofErr",
                                        "lastRenderedPageBreak")}  # fmt: skip
_VML = "{urn:schemas-microsoft-com:vml}"
_MATH = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
_FALLBACK = "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback"

_NOTE_FIGURES = {"decimal": "decimal", "lowerLetter": "lower-letter", "lowerRoman": "lower-roman", "chicago": "signs"}
"""Figures of notes (17.18.59)."""
_NOTE_RESTARTS = {"continuous": "report", "eachSect": "section", "eachPage": "page"}
"""Where they are counted anew (17.18.74)."""
_NOTE_PLACES = {"docEnd": "report", "sectEnd": "section"}
"""Where endnotes stand (17.18.24)."""
_NOTE_SIGNS = frozenset(
    qn(f"w:{name}") for name in ("footnoteReference", "endnoteReference", "footnoteRef", "endnoteRef")
)
"""What stands for a note, in the text and in front of its own words (17.11.13, 17.11.14, 17.11.6, 17.11.7)."""
_FIELD_SIGNS = {"begin": Sign("begin"), "separate": Sign("separate"), "end": Sign("end")}

_RUN_NOTES = {
    "strike": "Struck-through letters: kept without the line",
    "dstrike": "Struck-through letters: kept without the line",
    "caps": "Letters shown as capitals: kept as they were typed",
    "smallCaps": "Letters shown as capitals: kept as they were typed",
    "highlight": "Colour behind letters: left out",
}
_PARAGRAPH_NOTES = {
    "pBdr": "Lines around a paragraph: left out",
    "shd": "Colour behind a paragraph: left out",
}


def read(data: bytes, name: str, progress: Progress, _beside: Mapping[str, bytes]) -> Imported:
    check_package(data, _KIND)
    try:
        document = docx.Document(BytesIO(mended(data)))
        body = document.element.find(qn("w:body"))
    except (PackageNotFoundError, KeyError, ValueError, LxmlError, AttributeError, TypeError) as error:
        # All that python-docx raises for parts that are missing, or are other than their relationships say.
        log.info("A document could not be opened: %r", error)
        body = None
    if body is None:
        raise FileRefused(f"The file is not an {_KIND}: its content list is missing or names other things.")
    return _Reader(document).read(name, progress)


class _Reader:
    def __init__(self, document: Document) -> None:
        self.document = document
        self.styles = Styles(document)
        self.ids = new_ids()
        self.named: set[str] = set()
        self.notes = Notes()
        self.pictures: dict[str, bytes] = {}
        self._in_line: set[str] = set()
        """Pictures that stand in a line of their paragraph, by id: at the left or right as that is."""
        self.numbered_headings = 0
        self.numbers: dict[str, int] = {}
        """What items of numbered lists are counted as, by id of the paragraph."""
        self.contents = ContentsFields()
        self.places = DocumentPlaces(self.notes)
        self._notes_in_file = {"footnote": self._notes_at("footnote"), "endnote": self._notes_at("endnote")}
        self._note_ids: dict[tuple[str, str], str] = {}
        """Ids of the notes that are referred to, by kind and id in the file."""

    def read(self, name: str, progress: Progress) -> Imported:
        body = self.document.element.find(qn("w:body"))
        assert body is not None  # as `read` has seen
        blocks: list[Block] = []
        elements = list(_flattened(body))
        for done, element in enumerate(elements):
            if done % 100 == 0:
                progress(done, len(elements))
            if element.tag == qn("w:p"):
                if self.contents.takes(element):
                    if self.contents.began:
                        blocks.append(PlacedTable(next(self.ids), *self.contents.add()))
                    continue
                blocks.extend(self.paragraph(element))
            elif element.tag == qn("w:tbl"):
                blocks.extend(self.table(element))
        while blocks and isinstance(blocks[-1], PageBreak):
            blocks.pop()
        blocks = [*with_notes(blocks, self._footnotes())]
        self._note_the_rest()
        sheet = self.styles.sheet()
        paragraphs = [block for block in blocks if isinstance(block, Paragraph) and block.text.strip()]
        title = self._title() or next((block.text for block in paragraphs if sheet[block.style].role == "title"), name)
        marks = self.places.marks
        report = Report(
            title=title,
            blocks=self._over_ranges(resolved([*counted_as(blocks, sheet, self.numbers)], self.places.names, sheet))
            or (Paragraph(next(self.ids)),),
            authorities=marks.authorities,
            categories=marks.categories,
            sees=tuple(dict.fromkeys(marks.sees)),
            styles=sheet,
            numbering=SCHEMES["decimal" if self.numbered_headings else "none"],
            page=replace(self._page, language=self._language(), **self._counting_of_notes()),
            tables=self.contents.tables(sheet, self.places.label, marks.category),
            labels=self.places.labels,
        )
        return Imported(report, self.pictures, self.notes.all(), frozenset(self.named))

    def _over_ranges(self, blocks: tuple[Block, ...]) -> tuple[Block, ...]:
        """The blocks, with terms over the bookmarks that they name."""
        marks = self.places.marks
        if not marks.ranges:
            return blocks
        return tuple(with_paragraphs(blocks, lambda one: replace(one, runs=marks.over_ranges(one.runs))))

    def paragraph(self, element: _Element) -> list[Block]:
        properties = element.find(qn("w:pPr"))
        key = None if properties is None else _value(properties.find(qn("w:pStyle")))
        listed = self.styles.listed(properties, key)
        style = self._style(properties, key, listed)
        look = {} if properties is None else paragraph_look(properties)
        count = self._count(listed, style)
        blocks: list[Block] = []
        settings = self._settings(properties, style, look)
        for name in ("new_page", "keep_with_next", "keep_together"):
            if look.get(name, getattr(style, name)) != getattr(style, name):
                settings[name] = look[name]
        if listed and style.marker and listed.marker != "bullet" and not listed.text:
            settings["number"] = "none"
        for tag, note in _PARAGRAPH_NOTES.items():
            if properties is not None and properties.find(qn(f"w:{tag}")) is not None and not style.marker:
                self.notes.add(note)
        right = None if properties is None else properties.find(qn("w:ind"))
        if number(right, "right") or number(right, "end"):
            self.notes.add("Indent of a paragraph on the right: left out")
        runs: list[Run] = []
        made = False
        own = self._id(element)
        pieces, caption = self.places.read([*self.inline(element, style, None)], own)
        if caption:
            settings["caption"] = caption

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
            if isinstance(piece, Image) and piece.id in self._in_line:
                align = settings.get("align", style.align)
                piece = replace(piece, align=align if align in ("center", "right") else "left")
            blocks.append(piece)
            made = True
        if runs or not (made or floating):
            close()
        section = None if properties is None else properties.find(qn("w:sectPr"))
        if section is not None and _value(section.find(qn("w:type"))) != "continuous":
            blocks.append(PageBreak(next(self.ids)))
        return blocks

    def _id(self, element: _Element) -> str:
        """The id of a paragraph: by the name of a bookmark in it (17.13.6), if it has one that no other has."""
        for bookmark in element.iter(qn("w:bookmarkStart")):
            id = f"n-{bookmark.get(qn('w:name'))}"
            if identifier(id) and id != "n-_GoBack" and id not in self.named:  # where somebody's cursor stood last
                self.named.add(id)
                return id
        return next(self.ids)

    def _style(self, properties: _Element | None, key: str | None, listed: Numbered | None) -> Style:
        level = None if properties is None else number(properties.find(qn("w:outlineLvl")))
        style = self.styles.use(key)
        if level is not None and 0 <= level <= 8 and style.outline_level != level + 1:
            style = self.styles.sheet().heading(level + 1)
        if style.outline_level:
            self.numbered_headings += bool(listed and listed.marker != "bullet")
            return style
        if listed:
            return self.styles.item(listed, style)
        if key and style.name.lower().startswith("toc "):
            self.notes.add("Line of a contents table made elsewhere: kept as plain text")
        return style

    def _count(self, listed: Numbered | None, style: Style) -> int | None:
        """What an item of a numbered list is counted as."""
        if listed is None or style.marker in (None, "bullet"):
            return None
        if not listed.known:
            self.notes.add("Numbers of a list in words or other scripts: counted in figures")
        return self.styles.count(listed)

    def _settings(self, properties: _Element | None, style: Style, look: dict[str, object]) -> dict[str, object]:
        """Direct formatting of a paragraph, as far as it differs from its style."""
        if properties is None:
            return {}
        settings: dict[str, object] = {}
        if "align" in look and look["align"] != style.align:
            settings["align"] = look["align"]
        spacing = properties.find(qn("w:spacing"))
        for name, side in (("space_before", "before"), ("space_after", "after")):
            value = number(spacing, side)
            if value is not None and value / 20 != getattr(style, name):
                settings[name] = min(max(value / 20, 0.0), 500.0)
        for name in ("indent", "first_line"):
            if name in look and look[name] != getattr(style, name) and not style.marker:
                settings[name] = look[name]
        stops = stops_with(style.tab_stops, properties)
        if stops != style.tab_stops:
            settings["tab_stops"] = stops
        lines = line_spacing(spacing, style.size, natural_spacing(style.font))
        if lines and abs(lines - style.line_spacing) > 0.08:
            settings["line_spacing"] = round(lines, 3)
        return settings

    def inline(self, element: _Element, style: Style, link: str | None) -> Iterator[Piece]:
        """What stands among the words of an element, with the signs of fields and bookmarks."""
        for child in element:
            tag = child.tag
            if tag in _SKIPPED or not isinstance(tag, str):
                continue
            if tag == qn("w:r"):
                yield from self.run(child, style, link)
            elif tag == qn("w:hyperlink"):
                relation = self.document.part.rels.get(child.get(qn("r:id")) or "")
                address = relation.target_ref if relation is not None and relation.is_external else None
                target = safe_link(address) if address else None
                if address and target is None:
                    self.notes.add("Link to no web address: kept as plain text")
                elif not address and (anchor := child.get(qn("w:anchor"))):
                    target = f"#{anchor}"
                yield from self.inline(child, style, target)
            elif tag.startswith(_MATH):
                self.notes.add("Formula: kept as plain text")
                words = "".join(t.text or "" for t in child.iter(f"{_MATH}t"))
                yield Run(words)
            elif tag == qn("w:bookmarkStart"):
                yield Sign("bookmark", child.get(qn("w:name")) or "", child.get(qn("w:id")) or "")
            elif tag == qn("w:bookmarkEnd"):
                yield Sign("bookmark end", "", child.get(qn("w:id")) or "")
            elif tag == qn("w:fldSimple"):
                yield from (Sign("begin"), Sign("instruction", child.get(qn("w:instr")) or ""), Sign("separate"))
                yield from self.inline(child, style, link)
                yield Sign("end")
            else:
                yield from self.inline(child, style, link)

    def run(self, element: _Element, style: Style, link: str | None) -> Iterator[Piece]:
        properties = element.find(qn("w:rPr"))
        if switched(properties, "vanish"):
            # Fields that mark words are often hidden themselves.
            for child in element:
                if child.tag == qn("w:instrText"):
                    yield Sign("instruction", child.text or "")
                elif child.tag == qn("w:fldChar"):
                    if sign := _FIELD_SIGNS.get(child.get(qn("w:fldCharType")) or ""):
                        yield sign
                elif child.tag == qn("w:t"):
                    self.notes.add("Hidden text: left out")
            return
        stands_for_note = any(child.tag in _NOTE_SIGNS for child in element)
        marks = Marks(link=link) if stands_for_note else self.marks(properties, style, link)
        for child in element:
            tag = child.tag
            if not isinstance(tag, str):
                continue  # a comment
            if tag == qn("w:t"):
                yield Run((child.text or "").replace("\n", " "), marks)
            elif tag == qn("w:tab"):
                yield Run("\t", marks)
            elif tag == qn("w:noBreakHyphen"):
                yield Run("\u2011", marks)
            elif tag == qn("w:br"):
                if child.get(qn("w:type")) == "page":
                    yield PageBreak(next(self.ids))
                elif child.get(qn("w:type")) != "column":
                    yield Run("\n", marks)
            elif tag == qn("w:cr"):
                yield Run("\n", marks)
            elif tag == qn("w:fldChar"):
                if sign := _FIELD_SIGNS.get(child.get(qn("w:fldCharType")) or ""):
                    yield sign
            elif tag == qn("w:instrText"):
                yield Sign("instruction", child.text or "")
            elif tag in (qn("w:footnoteReference"), qn("w:endnoteReference")):
                kind = "footnote" if tag == qn("w:footnoteReference") else "endnote"
                named = kind, child.get(qn("w:id")) or ""
                if named[1] in self._notes_in_file[kind]:
                    if named not in self._note_ids:
                        self._note_ids[named] = next(self.ids)
                    yield refer(self._note_ids[named])
            elif tag == qn("w:commentReference"):
                self.notes.add("Comment: left out")
            elif tag == qn("w:sym"):
                self.notes.add("Symbol of a special font: left out")
            elif tag in (qn("w:drawing"), qn("w:pict"), qn("w:object")) or tag.endswith("}AlternateContent"):
                yield from self.drawing(child, style)

    def marks(self, properties: _Element | None, style: Style, link: str | None) -> Marks:
        if properties is None:
            return Marks(link=link)
        size = letter_size(properties)
        font, shade = self.styles.font(properties), colour(properties)
        underline = properties.find(qn("w:u"))
        for note in {note for tag, note in _RUN_NOTES.items() if switched(properties, tag)}:
            self.notes.add(note)
        position = _value(properties.find(qn("w:vertAlign")))
        if position in ("superscript", "subscript"):
            self.notes.add("Raised or lowered letters: kept as plain text")
        return Marks(
            bold=self.styles.run_toggle(properties, "b", style.bold),
            italic=self.styles.run_toggle(properties, "i", style.italic),
            underline=underline is not None and _value(underline) not in (None, "none"),
            font=font if font != style.font else None,
            size=size if size != style.size else None,
            colour=shade if shade != style.colour else None,
            link=link,
        )

    def drawing(self, element: _Element, style: Style) -> Iterator[Run | Block]:
        for box in _outermost(element, qn("w:txbxContent")):
            self.notes.add("Text box: kept as paragraphs")
            for inner in _flattened(box):
                if inner.tag == qn("w:p"):
                    yield from self.paragraph(inner)
        references = [blip.get(qn("r:embed")) for blip in _outermost(element, qn("a:blip"))]
        references += (
            [data.get(qn("r:id")) for data in _outermost(element, f"{_VML}imagedata")] if not references else []
        )
        size = next(element.iter(qn("wp:extent")), None)
        words = next((p.get("descr") or "" for p in element.iter(qn("wp:docPr"))), "")
        for reference in references:
            part = self.document.part.related_parts.get(reference or "")
            if part is None:
                self.notes.add("Picture outside the file: left out")
                continue
            try:
                source, kept, width, height, _ = check(part.blob)
            except NotAPicture as fault:
                self.notes.add(f"{fault.note}: left out")
                continue
            self.pictures[source] = kept
            points = [width * 0.75, height * 0.75]
            if size is not None:
                points = [_points(size.get(side)) or given for side, given in zip(("cx", "cy"), points, strict=True)]
            image = Image(next(self.ids), source, *size_within_bounds(*points), words[:500])
            if next(element.iter(qn("wp:anchor")), None) is None:
                self._in_line.add(image.id)
            side = self._side_of(element, image)
            yield replace(image, align=side, beside=True) if side else image

    def _side_of(self, element: _Element, image: Image) -> Literal["left", "right"] | None:
        """The side of a picture around which text is to flow (20.4.2.3 anchor, 20.4.2.17 wrapSquare, 20.4.2.10 positionH)."""
        anchor = next(element.iter(qn("wp:anchor")), None)
        if anchor is None or not any(anchor.find(qn(f"wp:{tag}")) is not None for tag in _AROUND):
            return None
        place = anchor.find(qn("wp:positionH"))
        align = None if place is None else place.findtext(qn("wp:align"))
        if align is not None:
            return _SIDES.get(align)
        offset = _points(place.findtext(qn("wp:posOffset"))) if place is not None else None
        middle = (offset or 0.0) + image.width / 2
        return "left" if middle < self._page.column_width / 2 else "right"

    def table(self, element: _Element) -> list[Block]:
        rows: list[list[Cell]] = []
        header_rows = 0
        above: dict[int, tuple[int, int]] = {}
        """By column the cell that goes on downwards in it: its row and its place in that."""
        for row in _own(element, "w:tr", element):
            cells: list[Cell] = []
            column, going_on = 0, dict[int, tuple[int, int]]()
            for cell in _own(row, "w:tc", element):
                properties = cell.find(qn("w:tcPr"))
                span = number(None if properties is None else properties.find(qn("w:gridSpan"))) or 1
                merged = None if properties is None else properties.find(qn("w:vMerge"))
                inside = Cell(tuple(self.cell(cell)), min(max(span, 1), 63))
                if merged is not None and merged.get(qn("w:val")) != "restart" and column in above:
                    at, place = going_on[column] = above[column]
                    rows[at][place] = _longer(rows[at][place], inside)
                else:
                    if merged is not None:
                        going_on[column] = len(rows), len(cells)
                    cells.append(inside)
                column += inside.columns
            above = going_on
            if column:
                if len(rows) == header_rows and switched(row.find(qn("w:trPr")), "tblHeader"):
                    header_rows += 1
                rows.append(cells)
        kept = without_covered_rows(with_widths(rows, [*_column_widths(element), *[0.0] * width_of(grid_of(rows))]))
        header_rows = sum(bool(row) for row in rows[:header_rows])
        return [DataTable(next(self.ids), kept, header_rows)] if kept else []

    def cell(self, element: _Element) -> Iterator[Paragraph | Image]:
        found = False
        for inner in _outermost(element, qn("w:p")):
            sheet = self.styles.sheet()
            for block in self.paragraph(inner):
                if isinstance(block, Paragraph):
                    found = True
                    yield replace(block, style=sheet.role("cell").id) if sheet[block.style].role == "body" else block
                elif isinstance(block, Image):
                    found = True
                    yield block
        if next(element.iter(qn("w:tbl")), None) is not None:
            self.notes.add("Data table inside a data table: kept as plain text")
        if not found:
            yield Paragraph(next(self.ids), self.styles.sheet().role("cell").id)

    def _title(self) -> str:
        """The title among the properties of the document (part 2, 11.1); the first, where there are several."""
        for relation in self.document.part.package.rels.values():
            if is_relation(relation, "core-properties"):
                root = parse(relation.target_part.blob)
                title = None if root is None else root.findtext("{http://purl.org/dc/elements/1.1/}title")
                if title and title.strip():
                    return title.strip()[:200]
        return ""

    def _language(self) -> str:
        """The language of what says no other (17.3.2.20)."""
        said = self.styles.language
        return said if LANGUAGE.fullmatch(said) else DEFAULT_PAGE.language

    @cached_property
    def _page(self) -> PageSetup:
        """Paper and margins of the last section (17.6.13, 17.6.11), and whether one before it has roman numerals (17.6.12)."""
        sections = [*self.document.element.iter(qn("w:sectPr"))]
        section = sections[-1] if sections else None
        roman = [any(kind.get(qn("w:fmt")) == "lowerRoman" for kind in one.iter(qn("w:pgNumType"))) for one in sections]
        front: Literal["roman", "counted"] = "roman" if any(roman) and not roman[-1] else "counted"
        size, margins = (None if section is None else section.find(qn(f"w:{tag}")) for tag in ("pgSz", "pgMar"))
        width, height = number(size, "w"), number(size, "h")
        if not width or not height:
            return PageSetup(front=front)
        found = (number(margins, side) for side in ("top", "bottom", "left", "right"))
        top, bottom, left, right = (72.0 if side is None else abs(side) / 20 for side in found)
        try:
            return PageSetup(width / 20, height / 20, top, bottom, left, right, front=front)
        except SettingError:
            return PageSetup(front=front)

    def _notes_at(self, kind: str) -> dict[str, _Element]:
        """Footnotes or endnotes (17.11), by id; without what stands above all of them."""
        root = related(self.document, f"{kind}s")
        found = () if root is None else root.iter(qn(f"w:{kind}"))
        return {note.get(qn("w:id")) or "": note for note in found if note.get(qn("w:type")) in (None, "normal")}

    def _counting_of_notes(self) -> dict[str, Any]:
        """How notes are counted, and where endnotes stand (17.11.11, 17.11.4): as the last section says, or else the document."""
        sections = [*self.document.element.iter(qn("w:sectPr"))]
        found: dict[str, Any] = {}
        for root in (related(self.document, "settings"), sections[-1] if sections else None):
            for kind in ("footnote", "endnote"):
                said = None if root is None else root.find(qn(f"w:{kind}Pr"))
                if said is None:
                    continue
                how, restart, place = (_value(said.find(qn(f"w:{tag}"))) for tag in ("numFmt", "numRestart", "pos"))
                if how in _NOTE_FIGURES:
                    found[f"{kind}_signs"] = _NOTE_FIGURES[how]
                if restart in _NOTE_RESTARTS and not (kind == "endnote" and restart == "eachPage"):
                    found[f"{kind}s_counted"] = _NOTE_RESTARTS[restart]
                if kind == "endnote" and place in _NOTE_PLACES:
                    found["endnotes_at"] = _NOTE_PLACES[place]
        return found

    def _footnotes(self) -> dict[str, Paragraph]:
        """The notes that are referred to, by their ids; those within them come to be referred to as they are read."""
        found: dict[str, Paragraph] = {}
        while left := [named for named, id in self._note_ids.items() if id not in found]:
            for kind, key in left:
                blocks = [
                    block
                    for one in _outermost(self._notes_in_file[kind][key], qn("w:p"))
                    for block in self.paragraph(one)
                ]
                paragraphs = [block for block in blocks if isinstance(block, Paragraph)]
                if len(paragraphs) < len(blocks):
                    self.notes.add("Picture in a note: left out")
                id = self._note_ids[kind, key]
                style = paragraphs[0].style if paragraphs else self.styles.sheet().role("note").id
                found[id] = note_of(id, style, "foot" if kind == "footnote" else "end", paragraphs)
        return found

    def _note_the_rest(self) -> None:
        for relation in self.document.part.rels.values():
            if is_relation(relation, "header") or is_relation(relation, "footer"):
                root = parse(relation.target_part.blob)
                if root is not None and any((words.text or "").strip() for words in root.iter(qn("w:t"))):
                    self.notes.add("Header or footer: left out; page numbers are printed at the foot")


def _flattened(element: _Element) -> Iterator[_Element]:
    """Paragraphs and tables in order, out of content controls, insertions and the like."""
    for child in element:
        if child.tag in (qn("w:p"), qn("w:tbl")):
            yield child
        elif isinstance(child.tag, str) and child.tag not in _SKIPPED and child.tag != _FALLBACK:
            yield from _flattened(child)


def _outermost(element: _Element, tag: str) -> Iterator[_Element]:
    """The elements of a tag within one, in order, without those within these, and without what stands in for others."""
    for child in element:
        if child.tag == tag:
            yield child
        elif isinstance(child.tag, str) and child.tag != _FALLBACK:
            yield from _outermost(child, tag)


def _own(element: _Element, tag: str, table: _Element) -> Iterator[_Element]:
    """The rows of a table, or the cells in one of them, without those of tables within it."""
    return (one for one in element.iter(qn(tag)) if next(one.iterancestors(qn("w:tbl"))) is table)


def _longer(cell: Cell, going_on: Cell) -> Cell:
    """A cell that reaches over a row more. What stands in its part there, as some programs leave it, comes along."""
    more = [block for block in going_on.blocks if isinstance(block, Image) or block.text.strip()]
    return replace(cell, blocks=(*cell.blocks, *more), rows=cell.rows + 1)


def _value(element: _Element | None) -> str | None:
    return None if element is None else element.get(qn("w:val"))


def _column_widths(table: _Element) -> list[float]:
    """The widths of a table's columns in points (ISO/IEC 29500-1, 17.4.48: twentieths of them); 0 where not said."""
    grid = table.find(qn("w:tblGrid"))
    return [] if grid is None else [(number(one, "w") or 0) / 20 for one in grid.iterchildren(qn("w:gridCol"))]


def _points(length: str | None) -> float | None:
    try:
        points = int(length or "") / _EMU
    except ValueError:
        return None
    return points if 1 <= points <= 5000 else None
