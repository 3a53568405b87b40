"""A report's text as a shared document (Yjs), and as blocks of the core; both ways.

The document has one XML fragment, ``text``. Its children are ``paragraph``, ``image``, ``dataTable``, ``pageBreak``
and ``placedTable`` elements with an ``id``; formatting is attributes of text. Whatever else a client puts in is read as
nothing: values out of range fall back to the style's, unknown elements to an empty paragraph.
"""

from __future__ import annotations

import re
import secrets
from collections.abc import Iterable
from typing import Any

from pycrdt import Doc, XmlElement, XmlFragment, XmlText

from mellowspine.core.formats.links import safe_link
from mellowspine.core.formats.pictures import is_source
from mellowspine.core.pages.typefaces import FAMILIES
from mellowspine.core.report.blocks import (
    PLAIN,
    Block,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PlacedTable,
    Run,
)

FIELD = "text"
_COLOUR = re.compile(r"#[0-9a-f]{6}")
_ID = re.compile(r"[A-Za-z0-9_-]{1,64}")
_ALIGN = ("left", "center", "right", "justify")


def new_id() -> str:
    """An id that no other block of the report has: 62 bits, as many as the browsers' own have."""
    return "".join(secrets.choice("abcdefghijklmnopqrstuvwxyz0123456789") for _ in range(12))


def has_own_id(element: Any) -> bool:
    """Whether a child of the text has an id that can be used."""
    return isinstance(element, XmlElement) and _ID.fullmatch(str(element.attributes.get("id") or "")) is not None


def text_of(document: Doc[Any]) -> XmlFragment:
    return document.get(FIELD, type=XmlFragment)


def document_of(blocks: Iterable[Block]) -> Doc[Any]:
    """A new document with these blocks as its text."""
    document: Doc[Any] = Doc()
    fragment = text_of(document)
    with document.transaction():
        for block in blocks:
            append_block(fragment, block)
    return document


def append_block(parent: XmlFragment | XmlElement, block: Block) -> None:
    match block:
        case Paragraph():
            attributes = {"style": block.style, "align": block.align, "before": block.space_before,
                          "after": block.space_after, "lines": block.line_spacing}  # fmt: skip
            element = _append(parent, "paragraph", block.id, **attributes)
            _append_runs(element, block.runs)
        case Image():
            _append(parent, "image", block.id, source=block.source, width=block.width, height=block.height,
                    alt=block.alt, align=block.align)  # fmt: skip
        case DataTable():
            element = _append(parent, "dataTable", block.id, headerRows=block.header_rows)
            for row in block.rows:
                line = element.children.append(XmlElement("dataRow"))
                for cell in row:
                    box = line.children.append(XmlElement("dataCell"))
                    if cell.columns != 1:
                        box.attributes["colspan"] = cell.columns
                    for paragraph in cell.paragraphs:
                        append_block(box, paragraph)
        case PageBreak():
            _append(parent, "pageBreak", block.id)
        case PlacedTable():
            _append(parent, "placedTable", block.id, table=block.table, ownPage=block.own_page)


def _append(parent: XmlFragment | XmlElement, tag: str, id: str, **attributes: object) -> XmlElement:
    element: XmlElement = parent.children.append(XmlElement(tag))
    element.attributes["id"] = id
    for name, value in attributes.items():
        if value is not None:
            element.attributes[name] = value
    return element


def _append_runs(element: XmlElement, runs: Iterable[Run]) -> None:
    text: XmlText | None = None
    length = 0
    for run in runs:
        for index, part in enumerate(run.text.split("\n")):
            if index:
                element.children.append(XmlElement("hardBreak"))
                text = None
            if not part:
                continue
            if text is None:
                text, length = element.children.append(XmlText()), 0
            text.insert(length, part, _attributes(run.marks))
            length += len(part.encode())


def _attributes(marks: Marks) -> dict[str, Any]:
    result: dict[str, Any] = {"underline": {}} if marks.underline else {}
    result |= {name: {"off": not value} for name in ("bold", "italic") if (value := getattr(marks, name)) is not None}
    typeface = {name: value for name in ("font", "size", "colour") if (value := getattr(marks, name)) is not None}
    if typeface:
        result["typeface"] = {"font": None, "size": None, "colour": None, **typeface}
    if marks.link:
        result["link"] = {"href": marks.link}
    return result


def read_block(element: Any, index: int) -> Block:
    """One block of the text. ``index`` names a block whose id is missing or unusable."""
    if not isinstance(element, XmlElement):
        return Paragraph(f"at-{index}")
    given = dict(element.attributes)
    id = str(given.get("id", ""))
    if not _ID.fullmatch(id):
        id = f"at-{index}"
    match element.tag:
        case "image":
            source = str(given.get("source", ""))
            width, height = _number(given, "width", 1, 5000) or 100.0, _number(given, "height", 1, 5000) or 100.0
            align = given.get("align", "center")
            return Image(id, source if is_source(source) else "", width, height, str(given.get("alt") or "")[:500],
                         align if align in _ALIGN else "center")  # fmt: skip
        case "dataTable":
            rows = tuple(
                _row(child, id, number) for number, child in enumerate(element.children) if _is(child, "dataRow")
            )
            rows = tuple(row for row in rows if row)
            if not rows:
                return Paragraph(id)
            return DataTable(id, rows, min(int(_number(given, "headerRows", 0, 100) or 0), len(rows)))
        case "pageBreak":
            return PageBreak(id)
        case "placedTable":
            table = str(given.get("table", ""))
            return PlacedTable(id, table if _ID.fullmatch(table) else "", bool(given.get("ownPage")))
        case _:
            return _paragraph(element, given, id)


def _is(element: Any, tag: str) -> bool:
    return isinstance(element, XmlElement) and element.tag == tag


def _row(element: XmlElement, id: str, row: int) -> tuple[Cell, ...]:
    cells = []
    for column, child in enumerate(element.children):
        if _is(child, "dataCell"):
            paragraphs = tuple(
                _paragraph(p, dict(p.attributes), str(p.attributes.get("id") or f"{id}-{row}-{column}-{number}"))
                for number, p in enumerate(child.children)
                if _is(p, "paragraph")
            )
            span = int(_number(dict(child.attributes), "colspan", 1, 63) or 1)
            cells.append(Cell(paragraphs or (Paragraph(f"{id}-{row}-{column}", "cell"),), span))
    return tuple(cells)


def _paragraph(element: XmlElement, given: dict[str, Any], id: str) -> Paragraph:
    runs: list[Run] = []
    for child in element.children:
        if isinstance(child, XmlText):
            runs.extend(
                Run(text, _marks(attributes) if attributes else PLAIN)
                for text, attributes in child.diff()
                if isinstance(text, str)
            )
        elif _is(child, "hardBreak"):
            runs.append(Run("\n", runs[-1].marks if runs else PLAIN))
    align, style = given.get("align"), given.get("style")
    return Paragraph(
        id,
        style[:64] if isinstance(style, str) and style else "body",
        tuple(runs),
        align if align in _ALIGN else None,
        _number(given, "before", 0, 500),
        _number(given, "after", 0, 500),
        _number(given, "lines", 0.5, 10),
    )


def _marks(attributes: dict[str, Any]) -> Marks:
    typeface = attributes.get("typeface")
    typeface = typeface if isinstance(typeface, dict) else {}
    link = attributes.get("link")
    address = link.get("href") if isinstance(link, dict) else None
    colour = typeface.get("colour")
    font = typeface.get("font")
    return Marks(
        _switched(attributes, "bold"),
        _switched(attributes, "italic"),
        "underline" in attributes,
        font if font in FAMILIES else None,
        _number(typeface, "size", 1, 400),
        colour if isinstance(colour, str) and _COLOUR.fullmatch(colour) else None,
        safe_link(address) if isinstance(address, str) else None,
    )


def _switched(attributes: dict[str, Any], name: str) -> bool | None:
    """Bold and italic say ``{"off": true}`` where they take away what the style gives."""
    given = attributes.get(name)
    return not given.get("off") if isinstance(given, dict) else None


def _number(given: dict[str, Any], name: str, least: float, most: float) -> float | None:
    value = given.get(name)
    return float(value) if isinstance(value, int | float) and least <= value <= most else None
