"""Sections of Office Open XML (ISO/IEC 29500-1, 17.6), with their heads and feet (17.10), as parts of a report."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Any, Literal

from lxml.etree import _Element

from ...report.blocks import Block, PageBreak, PartStart
from ...report.numbering import Figures
from ...report.page import DEFAULT_PAGE, PageSetup
from ...report.parts import FIRST, OF_PART, Part, page_of_part
from ...report.properties import SettingError
from ..package import parse
from ..pictures import NotAPicture, check
from .document import Document
from .fields import TAG
from .formulas import runs_of_formula
from .grammar import instruction, longer
from .own import page_as_said
from .xml import FALLBACK, SKIPPED, VML, child, is_on, local, number, outermost, points, qn, related, switched, value

_FIGURES: Mapping[str, Figures] = {
    "decimal": "decimal", "upperRoman": "upper-roman", "lowerRoman": "lower-roman", "upperLetter": "upper-letter",
    "lowerLetter": "lower-letter", "numberInDash": "decimal",
}  # fmt: skip
"""Figures of page numbers (17.18.59)."""
_BEGINS: Mapping[str, Literal["right", "left"]] = {"oddPage": "right", "evenPage": "left"}
_WHICH = {"default": "", "even": "left_", "first": "first_"}
"""What the settings of each kind of head and foot begin with (17.18.36)."""
_PLACES = ("left", "middle", "right")
_FIELDS = {"PAGE": "{page}", "NUMPAGES": "{pages}", "SECTIONPAGES": "{last}", "TITLE": "{title}", "DATE": "{date}"}
_LOOKS = frozenset({"b", "i", "u", "color", "sz", "rFonts", "caps", "smallCaps", "strike", "highlight", "vertAlign"})
_PRINTED = tuple(one.name for one in fields(PageSetup) if re.search("(head|foot)_(left|middle|right)$", one.name))
_EMPTY: Mapping[str, Any] = dict.fromkeys(_PRINTED, "") | {
    "head_rule": False, "foot_rule": False, "first_page": "same", "left_pages": "same",
}  # fmt: skip
"""Heads and feet with nothing in them."""


_NO_FIELDS = str.maketrans("{}", "()")
"""Braces in words are none of ours: they would stand for fields."""


@dataclass
class _Section:
    properties: _Element | None
    part: Part = field(default_factory=Part)
    continuous: bool = False
    is_part: bool = True
    """Whether what begins with it is a part of the report, or a page at least."""
    running: dict[str, Any] = field(default_factory=dict)
    """Settings of its heads and feet, those that it has from the section in front of it included."""


class Sections:
    """The sections of a document in order, and what begins where each does."""

    def __init__(self, document: Document) -> None:
        self._document = document
        self._odd_and_even = switched(related(document.file, "settings"), "evenAndOddHeaders") is True
        self._mirrored = switched(related(document.file, "settings"), "mirrorMargins") is True
        self._picture: str | None = None
        self._picture_settings: dict[str, Any] = {}
        self._running: dict[str, _Running] = {}
        self._sections = [_Section(one) for one in _sections(document.body)] or [_Section(None)]
        self._at = 0
        self._believed = False
        """Whether it is known which of them are parts of a report."""
        self.parts: dict[str, Part] = {}
        setups = []
        inherited: dict[str, Any] = dict(_EMPTY)
        for one in self._sections:
            one.continuous = value(child(one.properties, "w:type")) == "continuous"
            inherited = one.running = self._heads_and_feet(one.properties, inherited)
            document.rest.of_section(one.properties)
            setups.append(self._setup(one))
        if not document.own and not any(one.running[name] for one in self._sections for name in _PRINTED):
            # Nothing stands in any head or foot: pages are numbered as in a new report.
            setups = [one | {name: getattr(DEFAULT_PAGE, name) for name in _EMPTY} for one in setups]
        self.page = _usable(setups[-1] | self._picture_settings)
        self._settle(setups)
        self._believe(setups)
        if self._sections[0].part != Part():
            self.parts[FIRST] = self._sections[0].part

    def end(self, id: str) -> list[Block]:
        """What stands where a section ends and another begins: the start of a part, a page break, or nothing."""
        before = self._sections[self._at]
        if self._at + 1 >= len(self._sections):
            return []
        self._at += 1
        now = self._sections[self._at]
        if not now.is_part:
            return []
        if now.continuous:
            if now.part.page != before.part.page:
                columns = now.part.page.get("columns") != before.part.page.get("columns")
                self._document.notes.add("columns" if columns else "section")
                # What cannot change within a page goes on as it was.
                now.part = replace(now.part, page=before.part.page)
            return []
        if not self._believed and now.part == replace(before.part, start=None, begins="any"):
            return [PageBreak(id)]
        self.parts[id] = now.part
        return [PartStart(id)]

    def _settle(self, setups: Sequence[Mapping[str, Any]]) -> None:
        """Finds in what each section differs from the page of the report."""
        for one, setup in zip(self._sections, setups, strict=True):
            page = _usable({**setup, **self._picture_settings})
            differs = {name: getattr(page, name) for name in OF_PART if getattr(page, name) != getattr(self.page, name)}
            numbers = child(one.properties, "w:pgNumType")
            format = None if numbers is None else numbers.get(qn("w:fmt"))
            if format and format not in _FIGURES:
                self._document.notes.add("page-numbers")
            if numbers is not None and numbers.get(qn("w:chapStyle")):
                self._document.notes.add("page-chapters")
            start = number(numbers, "start")
            kind = value(child(one.properties, "w:type")) or ""
            try:
                one.part = Part(
                    figures=_FIGURES.get(format or ""),
                    start=start if start and 1 <= start <= 9999 else None,
                    begins=_BEGINS.get(kind, "any"),
                    page=differs,
                )
            except SettingError:
                one.part = Part()
        # Page numbers are in figures where a section does not say otherwise, whatever those in front of it have.
        if any(one.part.figures not in (None, "decimal") for one in self._sections):
            for one in self._sections:
                one.part = replace(one.part, figures=one.part.figures or "decimal")

    def _believe(self, setups: Sequence[Mapping[str, Any]]) -> None:
        """Takes parts as a report of ours had them, in all that the file still says so."""
        own = self._document.own
        if not own or len(own.parts) != len(self._sections):
            return
        self._believed = True
        expected = _numbered_as_written(own.parts)
        pages: list[PageSetup] = []
        for setup, (_, part) in zip(setups, expected, strict=True):
            has_first = (not pages and own.is_whole) or "first_page" in part.page
            read = _usable({**setup, **self._picture_settings})
            pages.append(page_as_said(read, page_of_part(part, own.page), part, has_first))
        plain = [page for page, stored in zip(pages, own.parts, strict=True) if stored is not None and not stored.page]
        before = pages[0]
        """The page of the part in front."""
        self.page = plain[0] if plain and all(page == plain[0] for page in plain) else own.page
        for one, page, (figures, _), stored in zip(self._sections, pages, expected, own.parts, strict=True):
            numbers = child(one.properties, "w:pgNumType")
            format = None if numbers is None else _FIGURES.get(numbers.get(qn("w:fmt")) or "")
            as_written = format == figures and (stored is None or one.part.start == stored.start)
            if stored is None:
                one.is_part = not as_written or page != before
                continue
            before = page
            kept = stored if as_written else replace(stored, figures=one.part.figures, start=one.part.start)
            if page != page_of_part(stored, self.page):
                differs = {
                    name: getattr(page, name) for name in OF_PART if getattr(page, name) != getattr(self.page, name)
                }
                kept = replace(kept, page=differs)
            one.part = replace(kept, begins=one.part.begins)

    def _setup(self, one: _Section) -> dict[str, Any]:
        """Paper, margins, columns, heads and feet of a section, under the names of a page set-up; as far as it says them."""
        size, margins, columns = (child(one.properties, f"w:{tag}") for tag in ("pgSz", "pgMar", "cols"))
        found: dict[str, Any] = {"mirrored": self._mirrored, **one.running}
        width, height = number(size, "w"), number(size, "h")
        if width and height:
            found |= {"width": width / 20, "height": height / 20}
        for side in ("top", "bottom", "left", "right"):
            if (given := number(margins, side)) is not None:
                found[side] = abs(given) / 20
        found["left"] = found.get("left", DEFAULT_PAGE.left) + abs(number(margins, "gutter") or 0) / 20
        count = number(columns, "num") or 1
        if columns is not None and count > 1:
            gap = number(columns, "space")
            found |= {"columns": min(count, 4), "column_gap": (720 if gap is None else abs(gap)) / 20}
            if count > 4 or columns.get(qn("w:equalWidth")) in ("0", "false", "off"):
                self._document.notes.add("columns-unequal")
        return found

    # --- Heads and feet ---

    def _heads_and_feet(self, section: _Element | None, inherited: Mapping[str, Any]) -> dict[str, Any]:
        """What stands at the head and foot of a section's pages; what it does not say is as in the one in front of it (17.10.5)."""
        found = dict(inherited)
        if section is None:
            return found
        for edge in ("head", "foot"):
            for reference in section.findall(qn(f"w:{'header' if edge == 'head' else 'footer'}Reference")):
                which = _WHICH.get(reference.get(qn("w:type")) or "default")
                part = self._document.part.related_parts.get(reference.get(qn("r:id")) or "")
                if which is None or part is None:
                    continue
                said = self._read(str(part.partname), part, edge)
                for place, words in zip(_PLACES, said.places, strict=True):
                    found[f"{which}{edge}_{place}"] = words
                if which == "":
                    found[f"{edge}_rule"] = said.ruled
        found["first_page"] = "own" if switched(section, "titlePg") else "same"
        found["left_pages"] = "own" if self._odd_and_even else "same"
        return found

    def _read(self, name: str, part: Any, edge: str) -> _Running:
        if name not in self._running:
            root = parse(part.blob)
            reading = _Reading(self, part, edge)
            self._running[name] = _Running() if root is None else reading.read(root)
        return self._running[name]

    def picture(self, part: Any, blip: _Element, drawing: _Element) -> str:
        """The field for a picture in a head or foot. A report has one that may stand there."""
        found = part.related_parts.get(blip.get(qn("r:embed")) or blip.get(qn("r:id")) or "")
        try:
            if found is None:
                self._document.notes.add("picture-outside")
                return ""
            source, kept, width, height, _ = check(found.blob)
        except NotAPicture as fault:
            self._document.notes.add(fault.kind)
            return ""
        if self._picture is None:
            extent = next(drawing.iter(qn("wp:extent")), None)
            high = None if extent is None else points(extent.get("cy"))
            self._picture = source
            self._picture_settings = {
                "picture": source,
                "picture_ratio": min(max(width / height, 0.01), 100.0),
                "picture_height": min(max(high or height * 0.75, 4.0), 200.0),
            }
            self._document.pictures[source] = kept
        if source != self._picture:
            self._document.notes.add("head-picture")
            return ""
        return "{picture}"

    @property
    def document(self) -> Document:
        return self._document


@dataclass
class _Running:
    places: tuple[str, str, str] = ("", "", "")
    ruled: bool = False


class _Reading:
    """Reads one head or foot: words with fields in braces, at the left, in the middle and at the right."""

    def __init__(self, sections: Sections, part: Any, edge: str) -> None:
        self._sections, self._part, self._edge = sections, part, edge
        self._notes = sections.document.notes

    def read(self, root: _Element) -> _Running:
        places: list[list[str]] = [[], [], []]
        ruled, lines = False, 0
        for one in _paragraphs_and_rows(root):
            found = self._row(one) if one.tag == qn("w:tr") else self._paragraph(one)
            lines += any(found)
            for place, words in zip(places, found, strict=True):
                if words:
                    place.append(words)
            border = child(child(one, "w:pPr"), "w:pBdr")
            side = child(border, "w:bottom" if self._edge == "head" else "w:top")
            ruled = ruled or (side is not None and value(side) not in ("nil", "none"))
        if lines > 1:
            self._notes.add("head-lines")
        joined = [" · ".join(place) for place in places]
        if any(_looks(child(one, "w:rPr")) for one in root.iter(qn("w:r"))):
            self._notes.add("head-look")
        if any(len(words) > 200 for words in joined):
            self._notes.add("head-long")
        left, middle, right = (re.sub(r"\{[^}]*$", "", words[:200]) for words in joined)
        return _Running((left, middle, right), ruled)

    def _row(self, row: _Element) -> tuple[str, str, str]:
        """The cells of a row: the first at the left, the last at the right, others in the middle."""
        cells = [
            " ".join("".join(self._paragraph(one)) for one in outermost(cell, qn("w:p"))).strip()
            for cell in row.findall(qn("w:tc"))
        ]
        if len(cells) == 1:
            return cells[0], "", ""
        return cells[0] if cells else "", " ".join(filter(None, cells[1:-1])), cells[-1] if cells else ""

    def _paragraph(self, paragraph: _Element) -> tuple[str, str, str]:
        """What stands in a paragraph: parted by its tabs, or all where it is aligned."""
        properties = child(paragraph, "w:pPr")
        words = "".join(self._words(paragraph))
        words = re.sub(r"[\x00-\x08\x0a-\x1f\x7f]+", " ", words).strip(" ")
        pieces = [" ".join(piece.split()) for piece in words.split("\t")]
        align = (
            value(child(properties, "w:jc"))
            or self._sections.document.styles.use(value(child(properties, "w:pStyle"))).align
        )
        if len(pieces) == 1:
            at = {"center": 1, "right": 2, "end": 2}.get(align, 0)
            return tuple(words if place == at else "" for place, words in enumerate((pieces[0],) * 3))  # type: ignore[return-value]
        # As programs have it, a head has a stop in the middle and one at the right; further tabs go on to the right.
        return (
            pieces[0],
            pieces[1] if len(pieces) > 2 else "",
            " ".join(filter(None, pieces[2:] if len(pieces) > 2 else pieces[1:])),
        )

    def _words(self, element: _Element) -> Iterator[str]:
        stack: list[_Field] = []
        for kind, given in self._pieces(element):
            if kind == "begin":
                stack.append(_Field())
            elif kind == "instruction" and stack:
                stack[-1].value = longer(stack[-1].value, given)
            elif kind == "separate" and stack:
                stack[-1].results = True
            elif kind == "end" and stack:
                one = stack.pop()
                words = self._field(one.value, "".join(one.words))
                if not stack:
                    yield words
                elif stack[-1].results:
                    stack[-1].words.append(words)
            elif kind == "words":
                if not stack:
                    yield given
                elif stack[-1].results:
                    stack[-1].words.append(given)

    def _pieces(self, element: _Element) -> Iterator[tuple[str, str]]:
        for one in element:
            if not isinstance(one.tag, str) or one.tag in SKIPPED or one.tag == FALLBACK:
                continue
            match local(one):
                case "t":
                    yield "words", (one.text or "").translate(_NO_FIELDS)
                case "tab" | "ptab":
                    yield "words", "\t"
                case "br" | "cr":
                    yield "words", " "
                case "noBreakHyphen":
                    yield "words", "\u2011"
                case "fldChar":
                    yield one.get(qn("w:fldCharType")) or "", ""
                case "instrText":
                    yield "instruction", one.text or ""
                case "fldSimple":
                    yield "begin", ""
                    yield "instruction", one.get(qn("w:instr")) or ""
                    yield "separate", ""
                    yield from self._pieces(one)
                    yield "end", ""
                case "oMath":
                    self._notes.add("formula-words")
                    yield "words", "".join(run.words for run in runs_of_formula(one, None)).translate(_NO_FIELDS)
                case "drawing" | "pict" | "object":
                    yield from self._drawing(one)
                case "r" if switched(child(one, "w:rPr"), "vanish"):
                    if any((words.text or "").strip() for words in one.iter(qn("w:t"))):
                        self._notes.add("hidden")
                case _:
                    yield from self._pieces(one)

    def _drawing(self, drawing: _Element) -> Iterator[tuple[str, str]]:
        boxes = [*outermost(drawing, qn("w:txbxContent"))]
        for box in boxes:
            self._notes.add("text-box")
            for paragraph in outermost(box, qn("w:p")):
                yield "words", " "
                yield from self._pieces(paragraph)
        shown = bool(boxes)
        for blip in outermost(drawing, qn("a:blip")):
            shown = True
            yield "words", self._sections.picture(self._part, blip, drawing)
        if not shown:
            for data in drawing.iter(f"{VML}imagedata"):
                shown = True
                yield "words", self._sections.picture(self._part, data, drawing)
        if not shown:
            across = any(path.get("string") for path in drawing.iter(f"{VML}textpath"))
            self._notes.add("across-page" if across else "shape")

    def _field(self, given: str, said: str) -> str:
        field = instruction(given)
        if field.name in _FIELDS:
            return _FIELDS[field.name]
        if field.name == "STYLEREF" and (level := self._level(field.argument)):
            return f"{{{'number' if {'n', 'r', 'w', 's'} & field.switches.keys() else 'section'} {level}}}"
        if field.name:
            self._notes.add("field" if said.strip() else "field-bare", field.name[:20])
        return said

    def _level(self, style: str) -> int | None:
        if style.isdecimal():
            return int(style) if 1 <= int(style) <= 9 else None
        found = self._sections.document.styles.by_name(style)
        return None if found is None else found.outline_level


@dataclass
class _Field:
    value: str = ""
    results: bool = False
    words: list[str] = field(default_factory=list)


def _numbered_as_written(parts: Sequence[Part | None]) -> list[tuple[Figures | None, Part]]:
    """The figures that are written for the pages of each section, None for none, and its part with what stands before them."""
    found: list[tuple[Figures | None, Part]] = []
    figures: Figures | None = "decimal"
    words = ""
    for stored in parts:
        part = stored or found[-1][1] if found else stored or Part()
        if stored and (part.figures is not None or not found):
            figures = None if part.figures == "none" else part.figures or "decimal"
            words = part.words
        found.append((figures, replace(part, words=words, figures=figures or "none")))
    if None in parts:  # what stands in front of the body has small roman numerals without being a part
        found = [("lower-roman", replace(found[0][1], figures="lower-roman", words="")), *found[1:]]
    if all(figures in (None, "decimal") for figures, _ in found):
        return [(None, part) for _, part in found]
    return found


def _paragraphs_and_rows(element: _Element) -> Iterator[_Element]:
    for one in element:
        if one.tag in (qn("w:p"), qn("w:tr")):
            yield one
        elif isinstance(one.tag, str) and one.tag not in SKIPPED and one.tag != FALLBACK:
            yield from _paragraphs_and_rows(one)


def _sections(body: _Element) -> Iterator[_Element]:
    """The properties of all sections in order: at the end of each."""
    begun: _Element | None = None
    """Of a section within which a table of ours has columns: what it says where these begin."""
    for one in body.iter(qn("w:sectPr")):
        if of_table(one):
            begun = one if begun is None else begun
            continue
        said, begun = one if begun is None else begun, None
        holder = one.getparent()
        if holder is not None and holder.tag == qn("w:pPr"):  # but not in one as it was before a change
            holder = holder.getparent()
            inside = () if holder is None else holder.iterancestors(qn("w:tbl"), qn("w:txbxContent"))
            if holder is not None and holder.tag == qn("w:p") and next(iter(inside), None) is None:
                yield said
        elif holder is body:
            yield said


def of_table(section: _Element) -> bool:
    """Whether the properties of a section stand in a table of ours: they are of columns within the one around it."""
    controls = section.iterancestors(qn("w:sdt"))
    return any((value(child(child(one, "w:sdtPr"), "w:tag")) or "").startswith(TAG) for one in controls)


def _looks(properties: _Element | None) -> bool:
    """Whether letters have a look of their own (17.3.2); all of a head or foot is set in one style."""
    return properties is not None and any(local(one) in _LOOKS and is_on(one) is not False for one in properties)


def _usable(settings: Mapping[str, Any]) -> PageSetup:
    """A page with these settings; where they leave no room, one with the usual paper and margins."""
    try:
        return PageSetup(**settings)
    except SettingError:
        lengths = ("width", "height", "top", "bottom", "left", "right", "columns", "column_gap")
        return PageSetup(**{name: kept for name, kept in settings.items() if name not in lengths})
