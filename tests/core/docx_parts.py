"""Documents of Office Open XML for the tests, from the elements that they are to hold."""

from __future__ import annotations

from collections.abc import Mapping
from io import BytesIO

import docx
from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.packuri import PackURI
from docx.opc.part import Part
from docx.oxml import parse_xml
from lxml import etree
from PIL import Image as Pillow

SPACES = {
    "w": "http://schemas.openxmlformats.org/wordprocessingml/2006/main",
    "w14": "http://schemas.microsoft.com/office/word/2010/wordml",
    "r": "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
    "wp": "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing",
    "a": "http://schemas.openxmlformats.org/drawingml/2006/main",
    "pic": "http://schemas.openxmlformats.org/drawingml/2006/picture",
    "c": "http://schemas.openxmlformats.org/drawingml/2006/chart",
    "dgm": "http://schemas.openxmlformats.org/drawingml/2006/diagram",
    "m": "http://schemas.openxmlformats.org/officeDocument/2006/math",
    "v": "urn:schemas-microsoft-com:vml",
    "o": "urn:schemas-microsoft-com:office:office",
    "mc": "http://schemas.openxmlformats.org/markup-compatibility/2006",
    "wps": "http://schemas.microsoft.com/office/word/2010/wordprocessingShape",
}
DECLARED = " ".join(f'xmlns:{prefix}="{name}"' for prefix, name in SPACES.items())


def elements(xml: str) -> list[etree._Element]:
    """Elements by their prefixes."""
    return [*parse_xml(f"<x {DECLARED}>{xml}</x>")]


def png(width: int = 40, height: int = 20, colour: str = "teal") -> bytes:
    stream = BytesIO()
    Pillow.new("RGB", (width, height), colour).save(stream, "PNG")
    return stream.getvalue()


class Made:
    """A document with a body of some elements, and further parts that these name by their relationships."""

    def __init__(self) -> None:
        self.document = docx.Document()
        self.document.styles["Normal"].font.name = "Carlito"
        self.body = self.document.element.body

    def add(self, xml: str) -> None:
        for one in elements(xml):
            self.body.insert(len(self.body) - 1, one)

    def part(self, kind: str, name: str, content: bytes | str, type: str = "application/xml") -> str:
        """Adds a part. Returns the id of the relationship that leads to it."""
        data = content.encode() if isinstance(content, str) else content
        self.last = Part(PackURI(f"/word/{name}"), type, data, self.document.part.package)
        return self.document.part.relate_to(self.last, getattr(RELATIONSHIP_TYPE, kind, kind))

    def picture(self, data: bytes, name: str = "media/one.png") -> str:
        return self.part("IMAGE", name, data, "image/png")

    def settings(self, xml: str) -> None:
        for one in elements(xml):
            self.document.settings.element.append(one)

    def sections(self, *properties: str) -> None:
        """Puts sections with these properties into the body, each with a paragraph of its own."""
        for number, xml in enumerate(properties[:-1], 1):
            self.add(f"<w:p><w:pPr><w:sectPr>{xml}</w:sectPr></w:pPr><w:r><w:t>Section {number}</w:t></w:r></w:p>")
        self.add(f"<w:p><w:r><w:t>Section {len(properties)}</w:t></w:r></w:p>")
        last = self.body[-1]
        for one in [*last]:
            last.remove(one)
        last.extend(elements(properties[-1]))

    def head(self, xml: str, kind: str = "header", pictures: Mapping[str, bytes] | None = None) -> str:
        """Adds a header or footer. Returns the id of its relationship; pictures are named by theirs."""
        tag = "hdr" if kind == "header" else "ftr"
        number = len(self.document.part.rels)
        name = f"/word/{kind}{number}.xml"
        part = Part(PackURI(name), "application/xml", f"<w:{tag} {DECLARED}>{xml}</w:{tag}>".encode(), self.document.part.package)  # fmt: skip
        for key, data in (pictures or {}).items():
            inner = Part(PackURI(f"/word/media/{kind}{number}{key}.png"), "image/png", data, self.document.part.package)
            part.rels.add_relationship(RELATIONSHIP_TYPE.IMAGE, inner, key)
        return self.document.part.relate_to(part, getattr(RELATIONSHIP_TYPE, kind.upper()))

    def saved(self) -> bytes:
        stream = BytesIO()
        self.document.save(stream)
        return stream.getvalue()


def field(instruction: str, result: str = "", form: str = "") -> str:
    """A complex field (ISO/IEC 29500-1, 17.16.18) as runs; without a result it has none at all."""
    begin = f'<w:r><w:fldChar w:fldCharType="begin">{form}</w:fldChar></w:r>'
    code = f'<w:r><w:instrText xml:space="preserve">{instruction}</w:instrText></w:r>'
    shown = f'<w:r><w:fldChar w:fldCharType="separate"/></w:r>{result}' if result else ""
    return f'{begin}{code}{shown}<w:r><w:fldChar w:fldCharType="end"/></w:r>'


def run(words: str, properties: str = "") -> str:
    return f'<w:r><w:rPr>{properties}</w:rPr><w:t xml:space="preserve">{words}</w:t></w:r>'


def paragraph(inside: str, properties: str = "") -> str:
    return f"<w:p><w:pPr>{properties}</w:pPr>{inside}</w:p>"


def inline_picture(relation: str, width: int = 40, height: int = 20, form: str = "", cut: str = "") -> str:
    """A picture in a line, of so many points."""
    cx, cy = width * 12700, height * 12700
    return (
        f'<w:r><w:drawing><wp:inline><wp:extent cx="{cx}" cy="{cy}"/><wp:docPr id="1" name="p" descr="A gate"/><a:graphic>'
        f'<a:graphicData uri="{SPACES["pic"]}"><pic:pic><pic:blipFill><a:blip r:embed="{relation}"/>{cut}</pic:blipFill>'
        f'<pic:spPr><a:xfrm {form}><a:off x="0" y="0"/><a:ext cx="{cx}" cy="{cy}"/></a:xfrm></pic:spPr></pic:pic></a:graphicData>'
        "</a:graphic></wp:inline></w:drawing></w:r>"
    )
