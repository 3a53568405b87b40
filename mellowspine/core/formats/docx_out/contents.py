"""Tables made from the text, as fields that other programs refresh: their lines and page numbers are the fields' present result.

Each is in a content control of its own (ISO/IEC 29500-1, 17.5.2), with its title in front of the field.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

from lxml import etree
from lxml.etree import _Element

from ...report.authorities import known_category
from ...report.blocks import Marks, Paragraph, PlacedTable, Run
from ...report.recipes import HERE, Recipe
from ...report.report import Report
from ...report.tables import Issued, Line, OwnWords
from ...tables.kinds import table_kind
from ...tables.setting import LINK_COLOUR, PAGE_SEPARATOR, Measures, measures_of, run_together
from ..docx.fields import TAG
from .document import Document
from .fields import begin, end, field, run
from .looks import font, indents, line, over, size, spacing, toggle
from .sections import Sections
from .switches import fields_of, section_of
from .words import between, category_number, name_of, paragraph
from .xml import clean, made, properties, qn, switch, twips, with_property

_LEADERS = {"": None, ".": "dot", "-": "hyphen", "_": "underscore", "·": "middleDot", "–": "hyphen", "…": "dot"}
_RULE: Mapping[str, str | int] = {"val": "single", "sz": 4, "space": 1, "color": "8a8390"}


class _Style(NamedTuple):
    key: str
    name: str


class Tables:
    """The tables of a document. The first of its kind says how the styles of lines look; in others what is otherwise is said by
    each line."""

    def __init__(self, document: Document) -> None:
        self._document = document
        self._styles: dict[str, tuple[_Style, list[_Element | None], _Element | None]] = {}
        self.said: dict[str, tuple[Recipe, Mapping[str, OwnWords], Sequence[str]]] = {}
        """Recipe, own words and instructions of the tables that are written so far, by the tags of their controls. Places are called as
        their bookmarks are."""

    def table(self, block: PlacedTable, at: int, paper: Report, sections: Sections) -> list[_Element]:
        """The table that is placed in the block ``at``; ``paper`` is the report as it is set there."""
        document = self._document
        issued = document.report.tables.get(block.table)
        if issued is None:
            return []
        recipe = issued.recipe
        tag = f"{TAG}{len(self.said) + 1}"
        measures = measures_of(issued, paper, document.typefaces)
        groups = self._groups(issued, fields_of(recipe, document, section_of(recipe, at, document)))
        self.said[tag] = (
            replace(
                recipe,
                section=name_of(recipe.section, document) if recipe.section not in ("", HERE) else recipe.section,
            ),
            {
                name_of(id, document) if id not in document.report.authorities else id: one
                for id, one in issued.own.items()
            },
            [instruction for instruction, _ in groups],
        )
        titled = [*self._title(recipe, block.own_page)]
        lines = [line for group in groups for line in self._lines(*group, recipe, measures)]
        if block.own_page and not titled:
            with_property(lines[0], switch("w:pageBreakBefore", True))
        if recipe.columns > 1:
            titled = titled or [between()]
            before, columns = sections.columns()
            with_property(titled[-1], before)
            with_property(lines[-1], columns)
        found = [*titled, *lines]
        if block.own_page:
            found.append(made("w:p", made("w:r", made("w:br", type="page"))))
        control = made("w:docPartObj", made("w:docPartGallery", val="Table of Contents"), made("w:docPartUnique"))
        about = made("w:sdtPr", made("w:tag", val=tag), made("w:id", val=7300 + len(self.said)), control)
        return [made("w:sdt", about, made("w:sdtContent", *found))]

    def styles(self) -> Iterator[_Element]:
        """The styles of the lines of all tables."""
        body = self._document.key(self._document.report.styles.role("body").id)
        for style, place, words in self._styles.values():
            yield made(
                "w:style",
                made("w:name", val=style.name),
                made("w:basedOn", val=body),
                made("w:next", val=body),
                properties("w:pPr", place),
                words,
                type="paragraph",
                styleId=style.key,
            )

    def _title(self, recipe: Recipe, own_page: bool) -> Iterator[_Element]:
        if not recipe.title:
            return
        styles = self._document.report.styles
        style = styles.find(recipe.title_style) or styles.role("table-title")
        yield paragraph(
            Paragraph("", style.id, (Run(recipe.title),), new_page=True if own_page else None), self._document
        )

    # --- Lines ---

    def _lines(self, instruction: str, lines: Sequence[Line], recipe: Recipe, measures: Measures) -> Sequence[_Element]:
        """Lines in paragraphs, with the field around them."""
        found = [self._line(one, recipe, measures) for one in run_together(lines, recipe)]
        found = found or [self._nothing(recipe, measures)]
        at = 0 if found[0].find(qn("w:pPr")) is None else 1
        for number, element in enumerate(begin(instruction)):
            found[0].insert(at + number, element)
        found[-1].append(end())
        return found

    def _groups(self, issued: Issued, instructions: Sequence[str]) -> list[tuple[str, tuple[Line, ...]]]:
        """The instructions, each with the lines that it makes: one for all, or of authorities one for each category."""
        if len(instructions) == 1:
            return [(instructions[0], issued.lines)]
        document = self._document
        numbers = {instruction: number for instruction in instructions if (number := instruction.split('"')[1])}
        of: dict[str, list[Line]] = {number: [] for number in numbers.values()}
        at = next(iter(of))
        for one in issued.lines:
            authority = document.report.authorities.get(one.source)
            category = authority.category if authority else one.source.removeprefix("category-")
            known = known_category(document.report.categories, category).id
            number = str(category_number(known, document))
            at = number if number in of else at
            of[at].append(one)
        found = [(instruction, tuple(of[number])) for instruction, number in numbers.items() if of[number]]
        return found or [(instructions[0], ())]

    def _line(self, together: Sequence[Line], recipe: Recipe, measures: Measures) -> _Element:
        first = together[0]
        element = made("w:p", self._place(first.level, recipe, measures))
        leads_as_a_whole = recipe.links and not (first.leads and recipe.page_numbers == "words")
        for number, one in enumerate(together):
            if number:
                element.append(run(": " if number == 1 and not first.pages else "; "))
            into = self._linked(one.to, element) if leads_as_a_whole or (recipe.links and one.leads) else element
            look = self.look_of(first.level, recipe, measures)
            into.extend(self._words(one, recipe, look, bool(measures.number_widths[first.level - 1])))
            self._pages(one, recipe, element if one.leads else into, look)
        return element

    def _linked(self, to: str, element: _Element) -> _Element:
        if to not in self._document.inside:
            return element
        link = made("w:hyperlink", anchor=name_of(to, self._document), history="1")
        element.append(link)
        return link

    def _words(self, one: Line, recipe: Recipe, own: _Element | None, hangs: bool) -> Iterator[_Element]:
        """The number and the words of a line; ``own`` is what they say of their look, ``hangs`` whether a number has room of its own."""
        look = recipe.look(one.level)

        def said(words: str, marks: Marks) -> _Element:
            return run(words, over(own, self._document.look(marks)))

        plain = Marks(colour=LINK_COLOUR, underline=True) if recipe.look_like_links else Marks()
        if one.number and recipe.numbers != "none":
            yield said(one.number + ("\t" if hangs else "  "), plain)
        elif hangs:
            yield said("\t", Marks())
        at = 0
        for start, stop, how in (*one.emphasis, (len(one.text), len(one.text), "")):
            if one.text[at:start]:
                yield said(one.text[at:start], plain)
            if one.text[start:stop]:
                marks = Marks(
                    bold=not look.bold if "b" in how else None,
                    italic=not look.italic if "i" in how else None,
                    underline=plain.underline or "u" in how,
                    colour=plain.colour,
                )
                yield said(one.text[start:stop], marks)
            at = stop

    def _pages(self, one: Line, recipe: Recipe, into: _Element, own: _Element | None) -> None:
        """The pages of a line, each with what leads there."""
        if recipe.page_numbers == "none" or not recipe.look(one.level).page_number or not one.pages:
            return
        into.append(run("\t" if recipe.page_numbers == "edge" else recipe.separator, own))
        for number, page in enumerate(one.pages):
            if number:
                into.append(run(PAGE_SEPARATOR, own))
            lead = one.leads[number] if number < len(one.leads) else None
            to = lead.to if lead else one.source
            target = self._linked(to, into) if lead and recipe.links else into
            look = over(own, self._document.look(Marks(bold=True))) if lead and lead.main else own
            target.extend(self._page(page, to, look))

    def _page(self, page: str, to: str, look: _Element | None) -> Iterator[_Element]:
        """A page number, as a field where it is one (17.16.5.45); a range of pages, or words for them, is none."""
        if page.isalnum() and page != "passim" and to in self._document.inside:
            yield from field(f"PAGEREF {name_of(to, self._document)} \\h", [run(page, look)])
        else:
            yield run(page, look)

    def _nothing(self, recipe: Recipe, measures: Measures) -> _Element:
        words = run(table_kind(recipe.kind).nothing, self._document.look(Marks(italic=True, bold=False)))
        return made("w:p", self._place(recipe.levels[0], recipe, measures), words)

    # --- How lines look ---

    def _place(self, level: int, recipe: Recipe, measures: Measures) -> _Element | None:
        """The properties of a line's paragraph: its style, and in what it differs from that."""
        style = _style(level, recipe)
        place, words = _look(level, recipe, measures, self._document)
        known = self._styles.setdefault(style.key, (style, place, words))
        own = [made("w:pStyle", val=style.key)]
        if _same(known[1:], (place, words)):
            return properties("w:pPr", own)
        return properties("w:pPr", [*own, *place])

    def look_of(self, level: int, recipe: Recipe, measures: Measures) -> _Element | None:
        """What words of a line say of themselves, where its style does not say it."""
        _, _, styled = self._styles[_style(level, recipe).key]
        words = _look(level, recipe, measures, self._document)[1]
        return None if _said(styled) == _said(words) else words


def _same(
    one: tuple[list[_Element | None], _Element | None], other: tuple[list[_Element | None], _Element | None]
) -> bool:
    return [_said(element) for element in (*one[0], one[1])] == [_said(element) for element in (*other[0], other[1])]


def _said(element: _Element | None) -> bytes:
    return b"" if element is None else etree.tostring(element)


def _style(level: int, recipe: Recipe) -> _Style:
    """The style in which programs set the lines of a table of this kind."""
    if recipe.kind == "contents" or recipe.kind == "styles":
        return _Style(f"TOC{level}", f"toc {level}")
    if recipe.kind == "authorities":
        return (
            _Style("TOAHeading", "toa heading") if level == 1 else _Style("TableofAuthorities", "table of authorities")
        )
    if recipe.kind == "index":
        return (
            _Style("IndexHeading", "index heading") if level == 1 else _Style(f"Index{level - 1}", f"index {level - 1}")
        )
    return _Style("TableofFigures", "table of figures")


def _look(
    level: int, recipe: Recipe, measures: Measures, document: Document
) -> tuple[list[_Element | None], _Element | None]:
    """How the lines of a level look: paragraphs, and words."""
    look = recipe.look(level)
    body = document.report.styles.role("body")
    at, hang = measures.words_at(level), measures.hangs[level - 1]
    stops = []
    first = -hang
    if recipe.numbers in ("hung", "margin") and measures.number_widths[level - 1]:
        begins = measures.indents[level - 1] if recipe.numbers == "hung" else 0.0
        first = begins - (at + hang)
        stops.append(made("w:tab", val="left", pos=twips(at)))
    if recipe.page_numbers == "edge":
        leader = _LEADERS.get(recipe.leader, "dot")
        stops.append(made("w:tab", val="right", leader=leader, pos=twips(measures.column)))
    ruled = recipe.ruled == "lines" or (recipe.ruled == "sections" and level == recipe.levels[0])
    spaced = replace(body, font=look.font)
    place: list[_Element | None] = [
        made("w:pBdr", made("w:bottom", **_RULE)) if ruled else None,
        made("w:tabs", *stops) if stops else None,
        spacing(look.space_before, look.space_after, line(spaced, look.line_spacing)),
        indents(at + hang, first, 0.0),
        made("w:jc", val="left"),
    ]
    words = [
        font(clean(look.font)),
        *size(look.size),
        *toggle("b", look.bold),
        *toggle("i", look.italic),
        switch("w:caps", look.capitals),
        made("w:color", val=look.colour[1:]),
        made("w:u", val="none"),
    ]
    return place, properties("w:rPr", words)
