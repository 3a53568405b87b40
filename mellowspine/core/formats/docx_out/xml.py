"""Elements of Office Open XML that are written: made by short names, their properties in the order of the standard's schema."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from functools import cache

from docx.oxml.ns import nsmap
from lxml import etree
from lxml.etree import _Element

SPACES = {prefix: nsmap[prefix] for prefix in ("w", "r", "wp", "a", "pic")} | {
    "m": "http://schemas.openxmlformats.org/officeDocument/2006/math"
}
_SAYS_SPACE = ("w", "m")
"""Attributes of these elements stand in the namespace of the element (``attributeFormDefault``), of others in none."""
_NO_CHARACTER = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")
"""What stands in no XML (XML 1.0, 2.2)."""

ORDER: Mapping[str, tuple[str, ...]] = {
    "w:pPr": ("pStyle", "keepNext", "keepLines", "pageBreakBefore", "widowControl", "numPr", "pBdr", "shd", "tabs", "suppressAutoHyphens",
              "spacing", "ind", "contextualSpacing", "jc", "outlineLvl", "rPr", "sectPr"),
    "w:rPr": ("rStyle", "rFonts", "b", "bCs", "i", "iCs", "caps", "smallCaps", "strike", "vanish", "color", "sz", "szCs", "highlight",
              "u", "shd", "vertAlign", "lang"),
    "w:tcPr": ("tcW", "gridSpan", "vMerge", "tcBorders", "shd", "tcMar", "vAlign"),
    "w:tblPr": ("tblW", "jc", "tblInd", "tblBorders", "tblLayout", "tblCellMar", "tblLook"),
    "w:trPr": ("gridAfter", "cantSplit", "trHeight", "tblHeader"),
    "w:sectPr": ("headerReference", "footerReference", "footnotePr", "endnotePr", "type", "pgSz", "pgMar", "pgNumType", "cols", "titlePg"),
    "w:style": ("name", "aliases", "basedOn", "next", "uiPriority", "semiHidden", "unhideWhenUsed", "qFormat", "pPr", "rPr"),
    "w:lvl": ("start", "numFmt", "lvlRestart", "pStyle", "suff", "lvlText", "lvlJc", "pPr", "rPr"),
    "w:settings": ("zoom", "mirrorMargins", "defaultTabStop", "autoHyphenation", "evenAndOddHeaders", "characterSpacingControl",
                   "footnotePr", "endnotePr", "compat"),
}  # fmt: skip
"""In which order the children of an element stand (ISO/IEC 29500-1, annex A, from memory), as far as they are written here."""


@cache
def qn(name: str) -> str:
    """A name as lxml has it, by prefix and local name."""
    prefix, _, local = name.partition(":")
    return f"{{{SPACES[prefix]}}}{local}"


@cache
def _attribute(tag: str, name: str) -> str:
    if ":" in name:
        return qn(name)
    prefix = tag.partition(":")[0]
    return qn(f"{prefix}:{name}") if prefix in _SAYS_SPACE else name


def made(tag: str, *children: _Element | None, **said: str | float | None) -> _Element:
    """An element such as ``w:jc``, with children and attributes; those that are None are left out."""
    element = etree.Element(
        qn(tag),
        {_attribute(tag, name): str(value) for name, value in said.items() if value is not None},
        nsmap=_space_of(tag),
    )
    for one in children:
        if one is not None:
            element.append(one)
    return element


@cache
def _space_of(tag: str) -> Mapping[str, str]:
    """The namespace of an element alone: a part declares all of them at its root (``serialised``)."""
    prefix = tag.partition(":")[0]
    return {prefix: SPACES[prefix]}


def properties(tag: str, children: Iterable[_Element | None]) -> _Element | None:
    """An element with properties in their order; None without any."""
    order = _places(tag)
    there = sorted((one for one in children if one is not None), key=lambda one: order[one.tag])
    return made(tag, *there) if there else None


def with_property(paragraph: _Element, one: _Element) -> None:
    """Gives a paragraph one property more, in its place among the others."""
    place = paragraph.find(qn("w:pPr"))
    there = [] if place is None else [*place]
    if place is not None:
        paragraph.remove(place)
    now = properties("w:pPr", [*(other for other in there if other.tag != one.tag), one])
    if now is not None:
        paragraph.insert(0, now)


@cache
def _places(tag: str) -> dict[str, int]:
    prefix = tag.partition(":")[0]
    return {qn(f"{prefix}:{name}"): at for at, name in enumerate(ORDER[tag])}


def switch(tag: str, on: bool) -> _Element:
    """A toggle property (17.17.4): on where it says nothing else."""
    return made(tag) if on else made(tag, val="0")


def clean(words: str) -> str:
    """Words without what XML has no place for."""
    return _NO_CHARACTER.sub("", words)


def twips(points: float) -> int:
    """Points in twentieths of a point."""
    return round(points * 20)


def emu(points: float) -> int:
    """Points in English Metric Units (20.1.2.1)."""
    return round(points * 12700)


def serialised(root: _Element) -> bytes:
    """A part as it stands in its package."""
    etree.cleanup_namespaces(root, top_nsmap=SPACES)
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True)
