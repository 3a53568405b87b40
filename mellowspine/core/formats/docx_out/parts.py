"""The smaller parts of a document: its settings (ISO/IEC 29500-1, 17.15), its typefaces (17.8), and what it says of itself (part 2, 11)."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime

from lxml import etree
from lxml.etree import _Element

from ...pages.lines import TAB_STOPS
from ...pages.typefaces import FAMILIES_AS_WIDE
from ...structure.outline import paragraphs
from .document import Document
from .notes import separators
from .xml import clean, made, properties, switch, twips

_LONG_AGO = datetime(1980, 1, 1, tzinfo=UTC)
"""The date of a file that says none: so its bytes are always the same."""
_CORE = "http://schemas.openxmlformats.org/package/2006/metadata/core-properties"
_DC, _TERMS = "http://purl.org/dc/elements/1.1/", "http://purl.org/dc/terms/"
_INSTANCE = "http://www.w3.org/2001/XMLSchema-instance"
_EXTENDED = "http://schemas.openxmlformats.org/officeDocument/2006/extended-properties"
_COMPATIBLE = "15"
"""Layout as programs have it by now; without this they lay out as those of 2007 did (MS-DOCX 2.2.4, from memory)."""


def settings(document: Document, odd_and_even: bool) -> _Element:
    report = document.report
    hyphenates = any(style.hyphenate for style in report.styles.values())
    kinds = {document.notes_of[id] for id in document.called}
    mode = made(
        "w:compatSetting", name="compatibilityMode", uri="http://schemas.microsoft.com/office/word", val=_COMPATIBLE
    )
    found = properties(
        "w:settings",
        [
            switch("w:mirrorMargins", True) if report.page.mirrored else None,
            made("w:defaultTabStop", val=twips(TAB_STOPS)),
            switch("w:autoHyphenation", True) if hyphenates else None,
            switch("w:evenAndOddHeaders", True) if odd_and_even else None,
            separators(report.page, "foot", "foot" in kinds),
            separators(report.page, "end", "end" in kinds),
            made("w:compat", mode),
        ],
    )
    assert found is not None
    return found


def font_table(document: Document) -> _Element:
    """The typefaces that are asked for, with those that are as wide for programs that have not got them (17.8.3.1)."""
    return made("w:fonts", *(_font(name) for name in sorted(_named(document))))


def _font(name: str) -> _Element:
    alike = FAMILIES_AS_WIDE.get(name)
    return made("w:font", made("w:altName", val=alike) if alike else None, name=clean(name))


def _named(document: Document) -> set[str]:
    report = document.report
    found = {style.font for style in report.styles.values()}
    found |= {look.font for issued in report.tables.values() for look in issued.recipe.looks}
    return found | {run.marks.font for one in paragraphs(report) for run in one.runs if run.marks.font}


def add_about(document: Document) -> None:
    """Title, authors, dates and language; and the program that wrote the file."""
    package, report, about = document.package, document.report, document.about
    spaces = {"cp": _CORE, "dc": _DC, "dcterms": _TERMS, "xsi": _INSTANCE}
    root = etree.Element(f"{{{_CORE}}}coreProperties", nsmap=spaces)
    at = (about.at or _LONG_AGO).astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    for tag, said in _about(report.title, "; ".join(about.authors), report.page.language):
        etree.SubElement(root, tag).text = clean(said)
    for name in ("created", "modified"):
        element = etree.SubElement(root, f"{{{_TERMS}}}{name}", {f"{{{_INSTANCE}}}type": "dcterms:W3CDTF"})
        element.text = at
    core = package.add(
        "docProps/core.xml", _serialised(root), "application/vnd.openxmlformats-package.core-properties+xml"
    )
    package.relate("core-properties", core.name)
    app = etree.Element(f"{{{_EXTENDED}}}Properties", nsmap={None: _EXTENDED})  # type: ignore[dict-item]
    etree.SubElement(app, f"{{{_EXTENDED}}}Application").text = "Mellow Spine"
    kind = "application/vnd.openxmlformats-officedocument.extended-properties+xml"
    package.relate("extended-properties", package.add("docProps/app.xml", _serialised(app), kind).name)


def _about(title: str, authors: str, language: str) -> Iterator[tuple[str, str]]:
    yield f"{{{_DC}}}title", title
    if authors:
        yield f"{{{_DC}}}creator", authors
    yield f"{{{_DC}}}language", language


def _serialised(root: _Element) -> bytes:
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True)
