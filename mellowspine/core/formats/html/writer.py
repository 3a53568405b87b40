"""Writes HTML: headings, lists, figures, tables with header cells, and what the report computes as words.

What is written stands alone: pictures are in it (RFC 2397), and what leads to a place that is not in it leads to the report.
"""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import singledispatchmethod
from typing import NamedTuple

from lxml import etree
from lxml.etree import _Element

from ...pages.as_set import as_set, note_sign
from ...pages.beside import GAP
from ...pages.typefaces import family
from ...report.blocks import (
    Block,
    Capitals,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Run,
    ThematicBreak,
    with_paragraphs,
)
from ...report.borders import borders_of
from ...report.links import inner, safe_link
from ...report.report import Report
from ...report.styles import Marker, Style
from ...report.tables import Line
from ...structure.markers import list_markers
from ...structure.typed_numbers import typed_number
from ..footnotes import without_sign
from ..walk import Written, plain_words

Address = Callable[[str], str | None]
"""Gives the address of a place that is not among what is written, by its id; None if it has none."""

_TYPES: Mapping[Marker, str] = {
    "lower-letter": "a", "upper-letter": "A", "lower-roman": "i", "upper-roman": "I"
}  # fmt: skip
_CAPITALS: Mapping[Capitals, Mapping[str, str]] = {
    "none": {"text-transform": "none", "font-variant": "normal"},
    "all": {"text-transform": "uppercase"},
    "small": {"font-variant": "small-caps"},
}
DEEPEST = 6
"""Levels of headings that have a tag; those beyond say their level to who hears them (WAI-ARIA 1.2, aria-level)."""


def write(given: Written) -> bytes:
    """A report as a page of its own."""
    report = given.pages.report
    numbers = {one.id: one.number for one in given.pages.worded if one.number}
    blocks = [block for _, block in given.blocks]
    parts = write_blocks(blocks, report, numbers, given.pictures, lambda id: None)
    page = _made(
        "html",
        _made("head", _made("meta", charset="utf-8"), _made("title", report.title)),
        _made("body", *parts),
        lang="en",
    )
    return b"<!DOCTYPE html>\n" + etree.tostring(page, encoding="utf-8", method="html") + b"\n"


def write_piece(
    blocks: Sequence[Block],
    report: Report,
    numbers: Mapping[str, str],
    pictures: Mapping[str, bytes],
    address: Address,
) -> str:
    """Some blocks of a report, such as were copied. ``report`` is as it is set (``Pages.report``), ``numbers`` are those of its
    headings."""
    parts = write_blocks(blocks, report, numbers, pictures, address)
    return "".join(etree.tostring(part, encoding="unicode", method="html", with_tail=False) for part in parts)


def write_blocks(
    blocks: Sequence[Block],
    report: Report,
    numbers: Mapping[str, str],
    pictures: Mapping[str, bytes],
    address: Address,
) -> list[_Element]:
    writer = _Writer(report, {**list_markers(report), **numbers}, pictures, address, blocks)
    for block in with_paragraphs(blocks, lambda paragraph: as_set(paragraph, report)):
        writer.write(block)
    return writer.end()


class _Open(NamedTuple):
    """A list that is open."""

    element: _Element
    marker: str
    level: int


class _Writer:
    def __init__(
        self,
        report: Report,
        markers: Mapping[str, str],
        pictures: Mapping[str, bytes],
        address: Address,
        blocks: Iterable[Block],
    ) -> None:
        self.report, self.markers, self.pictures, self.address = report, markers, pictures, address
        self.parts: list[_Element] = []
        self._lists: list[_Open] = []
        self._caption: tuple[Paragraph, _Element] | None = None
        """A caption that waits for what it may stand above."""
        self._footnotes: list[_Element] = []
        self._called: set[str] = set()
        """Notes that something refers to in what is written so far."""
        self._in_cell = False
        self._here = {block.id for block in blocks}
        for _ in with_paragraphs(blocks, self._note):
            pass

    def _note(self, paragraph: Paragraph) -> Paragraph:
        self._here.add(paragraph.id)
        self._here.update(run.marks.bookmark.id for run in paragraph.runs if run.marks.bookmark)
        return paragraph

    def end(self) -> list[_Element]:
        """All parts; notes stand behind the others."""
        self._end_caption()
        return self.parts + self._footnotes

    @singledispatchmethod
    def write(self, block: Block) -> None:
        """Writes a block behind those before. One of a kind that is not known here is its words."""
        self._put(_made("p", plain_words(block)))

    def _put(self, element: _Element) -> None:
        self._end_caption()
        self._lists = []
        self.parts.append(element)

    def _end_caption(self) -> None:
        if self._caption:
            caption, self._caption = self._caption[1], None
            self.parts.append(_made("figure", caption))

    # --- Paragraphs ---

    @write.register
    def _(self, block: Paragraph) -> None:
        if note_sign(block, self.report) and block.note:
            return self._footnote(block)
        style = self.report.styles[block.style]
        if style.marker and style.list_level:
            self._end_caption()
            return self._item(block, style)
        if style.role == "caption":
            return self._captioned(block)
        if style.role == "code" and self._last("pre"):
            _append(self.parts[-1], "\n")
            return self._fill(self.parts[-1], block)
        if style.role == "quotation":
            if not self._last("blockquote"):
                self._put(_made("blockquote"))
            self.parts[-1].append(self._paragraph("p", block))
            return None
        if style.role == "code":
            return self._put(self._paragraph("pre", block))
        if style.outline_level:
            deep = style.outline_level > DEEPEST
            head = self._paragraph("div" if deep else f"h{style.outline_level}", block, self.markers.get(block.id, ""))
            head.set("id", block.id)
            if deep:
                head.set("role", "heading")
                head.set("aria-level", str(style.outline_level))
            return self._put(head)
        return self._put(self._paragraph("p", block))

    def _footnote(self, block: Paragraph) -> None:
        """A note, with a link back to where it is called (Digital Publishing WAI-ARIA 1.1)."""
        words = self._paragraph("p", without_sign(block))
        back = _made("a", _made("sup", note_sign(block, self.report)), href=f"#call-{block.id}", role="doc-backlink")
        back.tail, words.text = f" {words.text or ''}", None
        words.insert(0, back)
        aside = _made("aside", words, id=block.id, role="doc-footnote")
        self._footnotes.append(aside)

    def _call(self, into: _Element, run: Run, note: str) -> None:
        """What stands in the text for a note."""
        if note not in self._here:
            etree.SubElement(into, "sup").text = run.text
            return
        link = etree.SubElement(into, "a", href=f"#{note}", role="doc-noteref")
        if note not in self._called:
            link.set("id", f"call-{note}")
            self._called.add(note)
        etree.SubElement(link, "sup").text = run.text

    def _last(self, tag: str) -> bool:
        """Whether the last part has a tag, and nothing is waiting behind it."""
        return bool(self.parts) and self.parts[-1].tag == tag and not self._lists and self._caption is None

    def _captioned(self, block: Paragraph) -> None:
        caption = self._paragraph("figcaption", block)
        caption.set("id", block.id)
        last = self.parts[-1] if self.parts and not self._lists else None
        if self._caption is None and last is not None and last.tag == "figure" and last.find("figcaption") is None:
            last.append(caption)
            return
        self._end_caption()
        self._lists = []
        self._caption = block, caption

    def _paragraph(self, tag: str, block: Paragraph, front: str = "") -> _Element:
        element = _made(tag)
        looks = [f"text-align: {block.align}"] if block.align else []
        if block.new_page is not None:
            looks.append(f"page-break-before: {'always' if block.new_page else 'auto'}")
        if block.keep_with_next is not None:
            looks.append(f"break-after: {'avoid' if block.keep_with_next else 'auto'}")
        if block.keep_together is not None:
            looks.append(f"break-inside: {'avoid' if block.keep_together else 'auto'}")
        if looks:
            element.set("style", "; ".join(looks))
        if front:
            _append(element, f"{front} ")
        self._fill(element, block)
        return element

    def _item(self, block: Paragraph, style: Style) -> None:
        level, marker = style.list_level or 1, style.marker or "bullet"
        while self._lists and self._lists[-1].level > level:
            self._lists.pop()
        top = self._lists[-1] if self._lists else None
        if block.number == "none" and top and len(top.element):
            top.element[-1].append(self._paragraph("p", block))
            return
        if top and top.level == level and top.marker != marker:
            self._lists.pop()
        while not self._lists or self._lists[-1].level < level:
            self._open(marker, (self._lists[-1].level if self._lists else 0) + 1)
        item = self._paragraph("li", block)
        if marker != "bullet" and (number := typed_number(f"{self.markers.get(block.id, '')} ")):
            item.set("value", str(number.value))
        self._lists[-1].element.append(item)

    def _open(self, marker: Marker, level: int) -> None:
        made = _made("ul") if marker == "bullet" else _made("ol")
        if marker in _TYPES:
            made.set("type", _TYPES[marker])
        if self._lists:
            around = self._lists[-1].element
            if not len(around):
                around.append(_made("li"))
            around[-1].append(made)
        else:
            self.parts.append(made)
        self._lists.append(_Open(made, marker, level))

    # --- Words ---

    def _fill(self, element: _Element, block: Paragraph) -> None:
        for run in block.runs:
            self._run(element, run)

    def _run(self, into: _Element, run: Run) -> None:
        if (reference := run.marks.reference) and reference.shows == "note":
            self._call(into, run, reference.to)
            return
        if run.marks.formula:
            for _ in run.text:
                into.append(_mathml(run.marks.formula))
            return
        for tag, attributes in self._tags(run.marks):
            into = etree.SubElement(into, tag, attributes)
        first, *rest = run.text.split("\n")
        _append(into, first)
        for words in rest:
            etree.SubElement(into, "br")
            _append(into, words)

    def _tags(self, marks: Marks) -> Iterator[tuple[str, dict[str, str]]]:
        """The elements around some words, outermost first."""
        if marks.bookmark:
            yield "span", {"id": marks.bookmark.id}
        place = inner(marks.link) or (marks.reference.to if marks.reference else None)
        link = self._address_of(place) if place else marks.link and safe_link(marks.link)
        if link:
            yield "a", {"href": link}
        if marks.bold:
            yield "strong", {}
        if marks.italic:
            yield "em", {}
        if marks.underline:
            yield "u", {}
        if marks.strike:
            yield "s", {}
        if marks.script:
            yield "sup" if marks.script == "super" else "sub", {}
        if marks.font and family(marks.font) == "Liberation Mono":
            yield "code", {}
        rules = {
            "font-family": f"'{marks.font}'" if marks.font and marks.font != "Liberation Mono" else None,
            "font-size": f"{marks.size:g}pt" if marks.size else None,
            "color": marks.colour,
            "font-weight": "normal" if marks.bold is False else None,
            "font-style": "normal" if marks.italic is False else None,
            **(_CAPITALS[marks.capitals] if marks.capitals else {}),
            "background-color": marks.highlight,
        }
        if said := "; ".join(f"{name}: {value}" for name, value in rules.items() if value):
            yield "span", {"style": said}

    def _address_of(self, place: str) -> str | None:
        return f"#{place}" if place in self._here else self.address(place)

    # --- Other blocks ---

    @write.register
    def _(self, block: Image) -> None:
        data = self.pictures.get(block.source)
        kind = block.source.rpartition(".")[2].replace("jpg", "jpeg")
        picture = _made(
            "img",
            src=f"data:image/{kind};base64,{b64encode(data).decode()}" if data else "",
            alt=block.alt,
            style=f"width: {block.width:g}pt; height: {block.height:g}pt",
        )
        above = self._caption if self._caption and not self._is_below(self._caption[0]) else None
        if above:
            self._caption = None
        figure = _made("figure", *([above[1]] if above else []), picture)
        if self._in_cell:
            figure.set("style", f"margin: 0; text-align: {block.align}")
        elif block.beside and block.align in ("left", "right"):
            away = "right" if block.align == "left" else "left"
            figure.set("style", f"float: {block.align}; margin: 0 0 6pt; margin-{away}: {GAP:g}pt")
        self._put(figure)

    def _is_below(self, caption: Paragraph) -> bool:
        label = self.report.labels.get(caption.caption or "")
        return label is None or label.place == "below"

    @write.register
    def _(self, block: DataTable) -> None:
        table = _made("table")
        if self._caption and not self._is_below(self._caption[0]):
            caption, self._caption = self._caption[1], None
            caption.tag = "caption"
            table.append(caption)
        for number, row in enumerate(block.rows):
            is_header = number < block.header_rows
            group = "thead" if is_header else "tbody"
            if not len(table) or table[-1].tag != group:
                table.append(_made(group))
            table[-1].append(_made("tr", *(self._cell(cell, is_header) for cell in row)))
        self._put(table)

    def _cell(self, block: Cell, is_header: bool) -> _Element:
        cell = _made("th", scope="col") if is_header else _made("td")
        for name, span in (("colspan", block.columns), ("rowspan", block.rows)):
            if span > 1:
                cell.set(name, str(span))
        inside = block.blocks
        only = inside[0] if len(inside) == 1 else None
        simple = only if isinstance(only, Paragraph) and self.report.styles[only.style].role == "cell" else None
        looks = [f"width: {block.widths[0]:g}pt"] if block.columns == 1 and any(block.widths) else []
        looks += _looks_of_cell(block)
        if simple and simple.align:
            looks.append(f"text-align: {simple.align}")
        if looks:
            cell.set("style", "; ".join(looks))
        if simple:
            self._fill(cell, simple)
            return cell
        within = _Writer(self.report, self.markers, self.pictures, self.address, inside)
        within._here, within._called, within._in_cell = self._here, self._called, True
        for one in inside:
            within.write(one)
        cell.extend(within.end())
        return cell

    @write.register
    def _(self, block: ThematicBreak) -> None:
        self._put(_made("hr"))

    @write.register
    def _(self, block: PageBreak | PartStart) -> None:
        self._put(_made("br", style="page-break-before: always"))

    @write.register
    def _(self, block: PlacedTable) -> None:
        issued = self.report.tables.get(block.table)
        if issued is None:
            return
        recipe = issued.recipe
        nav = _made("nav")
        if recipe.title:
            nav.set("aria-label", recipe.title)
            nav.append(_made("p", _made("strong", recipe.title)))
        self._lines(nav, issued.lines, lambda line: recipe.page_numbers != "none" and recipe.look(line.level).page_number,
                    recipe.numbers != "none")  # fmt: skip
        self._put(nav)

    def _lines(self, into: _Element, lines: Iterable[Line], has_pages: Callable[[Line], bool], numbered: bool) -> None:
        open_lists: list[tuple[int, _Element]] = []
        for line in lines:
            while open_lists and open_lists[-1][0] > line.level:
                open_lists.pop()
            if not open_lists or open_lists[-1][0] < line.level:
                around = open_lists[-1][1][-1] if open_lists else into
                open_lists.append((line.level, etree.SubElement(around, "ul", style="list-style: none")))
            words = f"{line.number} {line.text}".strip() if numbered else line.text
            address = self._address_of(line.to)
            item = etree.SubElement(open_lists[-1][1], "li")
            _append(etree.SubElement(item, "a", href=address) if address else item, words)
            if has_pages(line) and line.pages:
                _append(item, f"\t{', '.join(line.pages)}")


def _looks_of_cell(cell: Cell) -> Iterator[str]:
    """What a cell says of its looks, as declarations."""
    if cell.background:
        yield f"background-color: {'transparent' if cell.background == 'none' else cell.background}"
    if cell.vertical:
        yield f"vertical-align: {cell.vertical}"
    if cell.borders is not None:
        yield "border: none"
        for side, width, colour, kind in borders_of(cell.borders):
            yield f"border-{side}: {width:g}pt {kind} {colour}"
    if cell.padding:
        yield f"padding: {' '.join(f'{one:g}pt' for one in cell.padding)}"
    if cell.height:
        yield f"height: {cell.height:g}pt"


def _made(tag: str, *inside: _Element | str, **attributes: str) -> _Element:
    element = etree.Element(tag, attributes)
    for one in inside:
        if isinstance(one, str):
            _append(element, one)
        else:
            element.append(one)
    return element


def _mathml(said: str) -> _Element:
    """A formula (HTML, 4.8.16 "MathML")."""
    made = etree.fromstring(said)
    made.set("xmlns", "http://www.w3.org/1998/Math/MathML")
    return made


def _append(element: _Element, words: str) -> None:
    """Puts words behind all that an element holds."""
    if len(element):
        element[-1].tail = (element[-1].tail or "") + words
    else:
        element.text = (element.text or "") + words
