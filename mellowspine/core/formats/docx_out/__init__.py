"""Office Open XML text documents (ISO/IEC 29500-1, Transitional, .docx), written: the report itself, so that others can go on with it.

Each module is for a part of the standard. What other programs compute by themselves stands as fields, with what the report shows as
their present result: numbers of headings, captions and pages, references, contents, lists, authorities and indexes.
"""

from __future__ import annotations

from lxml import etree

from ...structure.outline import paragraphs
from ..docx.own import SPACE, own_part
from ..walk import Written
from .body import body
from .contents import Tables
from .document import Document
from .notes import add_notes
from .package import word_type
from .parts import add_about, font_table, settings
from .sections import Sections
from .styles import part as styles_part
from .words import category_number
from .xml import made, serialised

__all__ = ["write"]


def write(given: Written) -> bytes:
    """The report as a document. Tables are as they were last brought up to date; page numbers are those of its pages."""
    document = Document(given)
    sections, tables = Sections(document), Tables(document)
    main = document.main
    content = body(document, sections, tables, given.progress)
    add_notes(document)
    main.data = serialised(made("w:document", content))
    main.type = word_type("document.main")
    document.package.relate("officeDocument", main.name)
    parts = {
        "styles": styles_part(document.report, document.styles, document.numbering, tables.styles()),
        "settings": settings(document, sections.odd_and_even),
        "fontTable": font_table(document),
        "numbering": document.numbering.part(),
    }
    for kind, root in parts.items():
        if root is not None:
            name = f"word/{kind}.xml"
            document.package.add(name, serialised(root), word_type(kind))
            main.relate(kind, name)
    add_about(document)
    _add_own(document, sections, tables)
    return document.package.saved()


_PROPERTIES = "http://schemas.openxmlformats.org/officeDocument/2006/customXml"
_STORE = "{5D6F4C2E-7A31-4B0B-9C52-4D656C6C6F77}"
"""By what the part is known, the same in every file."""


def _add_own(document: Document, sections: Sections, tables: Tables) -> None:
    """What the standard has no place for (``docx/own.py``)."""
    report, names = document.report, document.names
    marks = {run.marks.bookmark for one in paragraphs(report) for run in one.runs if run.marks.bookmark}
    root = own_part(
        report,
        {id: key for id, (key, _) in document.styles.items()},
        [one.stretch.part if one.own else None for one in sections.all],
        {str(category_number(id, document)): id for id in [*report.categories][::-1]},
        {names.bookmark(mark): mark.name for mark in sorted(marks)},
        tables.said,
        document.is_whole,
    )
    item = document.package.add("customXml/item1.xml", serialised(root))
    document.main.relate("customXml", item.name)
    about = etree.Element(
        f"{{{_PROPERTIES}}}datastoreItem", {f"{{{_PROPERTIES}}}itemID": _STORE}, nsmap={"ds": _PROPERTIES}
    )
    schemas = etree.SubElement(about, f"{{{_PROPERTIES}}}schemaRefs")
    etree.SubElement(schemas, f"{{{_PROPERTIES}}}schemaRef", {f"{{{_PROPERTIES}}}uri": SPACE})
    kind = "application/vnd.openxmlformats-officedocument.customXmlProperties+xml"
    item.relate("customXmlProps", document.package.add("customXml/itemProps1.xml", serialised(about), kind).name)
