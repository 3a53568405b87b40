"""Elements and simple types of Office Open XML (ISO/IEC 29500-1, 17.17 and 22.9)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache

from docx.document import Document
from docx.opc.part import Part
from docx.opc.rel import _Relationship
from docx.oxml import ns
from lxml.etree import _Element

from ..package import parse

qn = cache(ns.qn)
"""The name of an element or attribute as libraries have it, by prefix and local name."""

MATH = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
VML = "{urn:schemas-microsoft-com:vml}"
OFFICE = "{urn:schemas-microsoft-com:office:office}"
COMPATIBILITY = "{http://schemas.openxmlformats.org/markup-compatibility/2006}"
FALLBACK = f"{COMPATIBILITY}Fallback"

_MEASURE = re.compile(r"(-?[0-9]+(?:\.[0-9]+)?)(mm|cm|in|pt|pc|pi)")
_UNITS = {"mm": 72 / 25.4, "cm": 72 / 2.54, "in": 72.0, "pt": 1.0, "pc": 12.0, "pi": 12.0}
_HEX = re.compile(r"[0-9A-Fa-f]{6}")
_EMU = 12700
"""English Metric Units in a point (20.1.2.1)."""

SKIPPED = {qn(f"w:{tag}") for tag in ("del", "moveFrom", "delText", "pPr", "rPr", "sectPr", "sdtPr", "sdtEndPr", "proofErr",
                                       "lastRenderedPageBreak")}  # fmt: skip
"""What holds no words that are shown."""


def local(element: _Element) -> str:
    """The name of an element without its namespace; nothing for what is none, such as a comment."""
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def value(element: _Element | None) -> str | None:
    return None if element is None else element.get(qn("w:val"))


def child(element: _Element | None, tag: str) -> _Element | None:
    """The first element of a tag, such as ``w:ind``, right in another; None if either is missing."""
    return None if element is None else element.find(qn(tag))


def number(element: _Element | None, name: str = "val") -> int | None:
    """A whole number that is an attribute of an element, None if either is missing or the value is none.

    Lengths with a unit (22.9.2.15) come in twentieths of a point; for the size of letters see ``letter_size``.
    """
    given = None if element is None else element.get(qn(f"w:{name}"))
    if given is None:
        return None
    try:
        if length := _MEASURE.fullmatch(given.strip()):
            return int(float(length[1]) * _UNITS[length[2]] * 20)
        found = float(given)
    except (ValueError, OverflowError):
        return None
    # What is larger is a fault of the file, and no length of a page.
    return int(found) if abs(found) < 2**31 else None


def letter_size(properties: _Element | None) -> float | None:
    """The size of letters in points (17.3.2.38: in half points, or with a unit), as far as a style may have it."""
    element = child(properties, "w:sz")
    found = number(element)
    if element is None or not found:
        return None
    unit = _MEASURE.fullmatch((element.get(qn("w:val")) or "").strip())
    return min(max(found / (20 if unit else 2), 1.0), 400.0)


def is_on(element: _Element | None) -> bool | None:
    """A toggle property (17.17.4); None if it is not given."""
    return None if element is None else element.get(qn("w:val"), "true") not in ("0", "false", "off", "none")


def switched(properties: _Element | None, tag: str) -> bool | None:
    """A toggle among properties: on, off, or None if not given (17.3.2)."""
    return is_on(child(properties, f"w:{tag}"))


def colour(properties: _Element | None) -> str | None:
    given = value(child(properties, "w:color")) or ""
    return f"#{given.lower()}" if _HEX.fullmatch(given) else None


def points(length: str | None) -> float | None:
    """A length of a drawing in points; None for what no picture has."""
    try:
        found = int(length or "") / _EMU
    except ValueError:
        return None
    return found if 1 <= found <= 5000 else None


def flattened(element: _Element) -> Iterator[_Element]:
    """Paragraphs, tables and files within the file, in order, out of content controls, insertions and the like."""
    for one in element:
        if one.tag in (qn("w:p"), qn("w:tbl"), qn("w:altChunk")):
            yield one
        elif isinstance(one.tag, str) and one.tag not in SKIPPED and one.tag != FALLBACK:
            yield from flattened(one)


def outermost(element: _Element, tag: str) -> Iterator[_Element]:
    """The elements of a tag within one, in order, without those within these, and without what stands in for others."""
    for one in element:
        if one.tag == tag:
            yield one
        elif isinstance(one.tag, str) and one.tag != FALLBACK:
            yield from outermost(one, tag)


def own(element: _Element, tag: str, table: _Element) -> Iterator[_Element]:
    """The rows of a table, or the cells in one of them, without those of tables within it and of what was taken out."""
    return (one for one in element.iter(qn(tag)) if next(one.iterancestors(qn("w:tbl"))) is table)


def is_relation(relation: _Relationship, kind: str) -> bool:
    """Whether a relationship leads to a part of the package of a kind, such as ``theme``."""
    return not relation.is_external and (relation.reltype or "").rsplit("/", 1)[-1] == kind


def part_of(document: Document, kind: str) -> Part | None:
    """The first part of a kind that the document has."""
    return next((one.target_part for one in document.part.rels.values() if is_relation(one, kind)), None)


def related(document: Document, kind: str) -> _Element | None:
    """The root of that part; None if there is none that can be read."""
    part = part_of(document, kind)
    return None if part is None else parse(part.blob)
