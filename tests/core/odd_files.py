"""Files as nobody should have written them: sound ones with something in them changed. Held against the readers."""

from __future__ import annotations

import zipfile
from collections import Counter
from collections.abc import Iterable, Iterator
from io import BytesIO
from pathlib import Path
from random import Random

from docx import Document
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls
from lxml import etree
from PIL import Image as Pillow

from mellowspine.core.formats import READERS
from mellowspine.core.formats.imported import FileRefused, unhurried

from .docx_parts import DECLARED, Made, elements, field, inline_picture, paragraph, png, run

SAMPLES = Path(".venv/samples/docx/features/steps/test_files")
_VALUES = ["", "-1", "0", "1", "x", "12240.0", "NaN", "1e999", "-1e999", "9" * 40, "99999", "true", "\u00b2", "\u0663", "../x", "http://[", "a b"]  # fmt: skip


def sound_docx() -> bytes:
    """A .docx with something of each kind that is read."""
    document = Document()
    document.core_properties.title = "Sound"
    document.add_heading("Title", 0)
    document.add_heading("First", 1)
    paragraph = document.add_paragraph("Words ", "List Bullet")
    paragraph.add_run("bold").bold = True
    paragraph._p.append(parse_xml(f'<w:bookmarkStart {nsdecls("w")} w:id="1" w:name="here"/>'))
    document.add_paragraph("Item", "List Number")
    picture = BytesIO()
    Pillow.new("RGB", (8, 6), "#7a3e9d").save(picture, "PNG")
    document.add_picture(picture)
    table = document.add_table(2, 2)
    table.cell(0, 0).merge(table.cell(0, 1)).text = "Wide"
    table.cell(1, 0).text = "Cell"
    document.add_page_break()
    for xml in (
        '<w:p><w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText> TOC \\o "1-3" \\n 2-2 \\t "Normal,4" </w:instrText></w:r>'
        '<w:r><w:fldChar w:fldCharType="separate"/></w:r><w:r><w:t>First 1</w:t></w:r><w:r><w:fldChar w:fldCharType="end"/></w:r></w:p>',
        '<w:p><w:pPr><w:pStyle w:val="Heading2"/><w:outlineLvl w:val="2"/><w:numPr><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr>'
        '<w:spacing w:before="120" w:after="60" w:line="360" w:lineRule="auto"/><w:ind w:left="720" w:hanging="360" w:right="100"/>'
        '<w:jc w:val="both"/></w:pPr><w:r><w:rPr><w:rFonts w:ascii="Arial"/><w:sz w:val="28"/><w:color w:val="AA0000"/><w:u w:val="single"/>'
        "</w:rPr><w:t>Second</w:t></w:r></w:p>",
        '<w:p><w:r><w:pict><v:shape xmlns:v="urn:schemas-microsoft-com:vml"><v:textbox><w:txbxContent><w:p><w:r><w:t>Boxed</w:t></w:r></w:p>'
        "</w:txbxContent></v:textbox></v:shape></w:pict></w:r></w:p>",
        '<w:sdt><w:sdtContent><w:p><w:r><w:t>Controlled</w:t></w:r><w:fldSimple w:instr="PAGE"><w:r><w:t>3</w:t></w:r></w:fldSimple></w:p></w:sdtContent></w:sdt>',
    ):
        element = etree.fromstring(f"<x {nsdecls('w')}>{xml}</x>")[0]
        document.element.body.insert(len(document.element.body) - 1, element)
    made = BytesIO()
    document.save(made)
    return made.getvalue()


def whole_docx() -> bytes:
    """A .docx with heads and feet, sections, forms, charts, diagrams, lists of its own and tables with looks."""
    made = Made()
    head = made.head(
        paragraph(inline_picture("logo") + run("Head {x}") + "<w:r><w:tab/></w:r>" + field("STYLEREF 1", run("One")))
        + "<w:tbl><w:tr><w:tc><w:p/></w:tc><w:tc><w:p><w:r><w:t>Cell</w:t></w:r></w:p></w:tc></w:tr></w:tbl>",
        pictures={"logo": png()},
    )
    foot = made.head(
        paragraph(field("PAGE", run("1")) + run(" of ") + field("NUMPAGES", run("2")), '<w:jc w:val="center"/>'),
        "footer",
    )
    chart = (
        f"<c:chartSpace {DECLARED}><c:chart><c:title><c:tx><c:rich><a:p><a:r><a:t>Visitors</a:t></a:r></a:p></c:rich></c:tx></c:title><c:plotArea>"
        "<c:barChart><c:ser><c:tx><c:v>Lido</c:v></c:tx><c:cat><c:strRef><c:strCache><c:pt idx='0'><c:v>May</c:v></c:pt></c:strCache></c:strRef></c:cat>"
        "<c:val><c:numRef><c:numCache><c:pt idx='0'><c:v>3</c:v></c:pt><c:pt idx='2'><c:v>4</c:v></c:pt></c:numCache></c:numRef></c:val></c:ser></c:barChart>"
        "</c:plotArea></c:chart></c:chartSpace>"
    )
    charted, pictured = made.part("CHART", "charts/chart1.xml", chart), made.picture(png())
    numbering = made.document.part.numbering_part.element
    numbering.extend(elements(
        '<w:abstractNum w:abstractNumId="90"><w:lvl w:ilvl="0"><w:start w:val="3"/><w:numFmt w:val="upperRoman"/><w:lvlText w:val="%1)"/>'
        '<w:pPr><w:ind w:left="900" w:hanging="300"/></w:pPr></w:lvl><w:lvl w:ilvl="1"><w:numFmt w:val="bullet"/><w:lvlText w:val="&#xF0A7;"/>'
        '<w:rPr><w:rFonts w:ascii="Wingdings"/></w:rPr></w:lvl></w:abstractNum><w:num w:numId="90"><w:abstractNumId w:val="90"/>'
        '<w:lvlOverride w:ilvl="0"><w:startOverride w:val="5"/></w:lvlOverride></w:num>'
    ))  # fmt: skip
    drop = "<w:ffData><w:ddList><w:result w:val='1'/><w:listEntry w:val='a'/><w:listEntry w:val='b'/></w:ddList></w:ffData>"
    made.add(
        paragraph(run("Item"), '<w:numPr><w:ilvl w:val="0"/><w:numId w:val="90"/></w:numPr><w:ind w:right="90"/>')
        + paragraph(run("Deeper"), '<w:numPr><w:ilvl w:val="1"/><w:numId w:val="90"/></w:numPr><w:pBdr><w:top w:val="single"/></w:pBdr>')
        + paragraph(inline_picture(pictured, 40, 20, 'rot="5400000" flipH="1"', '<a:srcRect l="10000" b="5000"/>'))
        + paragraph(f'<w:r><w:drawing><wp:inline><a:graphic><a:graphicData><c:chart r:id="{charted}"/></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>')
        + paragraph(field("FORMCHECKBOX", "", "<w:ffData><w:checkBox><w:checked/></w:checkBox></w:ffData>") + field("FORMDROPDOWN", "", drop))
        + paragraph(field("EQ \\f(a,b)") + field('SYMBOL 254 \\f "Wingdings"') + field("AUTONUM") + '<w:r><w:sym w:font="Symbol" w:char="F0A3"/></w:r>')
        + paragraph(field('HYPERLINK "https://x.org" \\l "a"', run("led")) + field('TC "Entry" \\l 2') + field('TA \\l "A v. B" \\c 1'))
        + paragraph('<w:sdt><w:sdtPr><w14:checkbox><w14:checked w14:val="1"/></w14:checkbox></w:sdtPr><w:sdtContent><w:r><w:t>x</w:t></w:r></w:sdtContent></w:sdt>')
        + '<w:tbl><w:tblPr><w:tblInd w:w="200"/></w:tblPr><w:tblGrid><w:gridCol w:w="900"/></w:tblGrid><w:tr><w:trPr><w:gridBefore w:val="1"/></w:trPr><w:tc><w:tcPr>'
        '<w:tcW w:w="900" w:type="dxa"/><w:gridSpan w:val="2"/><w:vMerge w:val="restart"/><w:shd w:fill="FFEE00"/></w:tcPr><w:p/></w:tc><w:tc><w:tcPr><w:hMerge w:val="continue"/></w:tcPr><w:p/></w:tc></w:tr>'
        "<w:tr><w:tc><w:tcPr><w:vMerge/></w:tcPr><w:tbl><w:tr><w:tc><w:p/></w:tc></w:tr></w:tbl><w:p/></w:tc></w:tr></w:tbl>"
    )  # fmt: skip
    made.settings("<w:evenAndOddHeaders/><w:mirrorMargins/>")
    made.sections(
        f'<w:headerReference w:type="default" r:id="{head}"/><w:footerReference w:type="first" r:id="{foot}"/><w:pgSz w:w="11906" w:h="16838"/><w:titlePg/>',
        '<w:type w:val="oddPage"/><w:pgSz w:w="16838" w:h="11906"/><w:pgMar w:left="700" w:right="700" w:gutter="100"/><w:cols w:num="2" w:space="300"/><w:pgNumType w:fmt="upperRoman" w:start="4"/>',
    )
    return made.saved()


def sources() -> list[bytes]:
    return [sound_docx(), whole_docx(), whole_docx(), *(path.read_bytes() for path in sorted(SAMPLES.glob("*.docx")))]


def odd_docx(chance: Random, data: bytes) -> bytes:
    """The package with a few things changed in its parts, or bytes of it."""
    if chance.random() < 0.05:
        found = bytearray(data)
        for _ in range(chance.randint(1, 8)):
            found[chance.randrange(len(found))] = chance.randrange(256)
        return bytes(found)
    parts = {part.filename: content for part, content in _parts(data)}
    for _ in range(chance.choice([1, 1, 2, 4])):
        name = chance.choice(list(parts))
        if name.endswith((".xml", ".rels")) and chance.random() < 0.95:
            parts[name] = _odd_xml(chance, parts[name])
        elif chance.random() < 0.3:
            parts.pop(name)
        elif chance.random() < 0.5:
            parts[chance.choice([name.upper(), f"{name}.XML", name.replace(".xml", ".Xml"), "word/other.xml"])] = (
                parts.pop(name)
            )
        else:
            parts[name] = chance.choice([b"", b"<x/>", b"\x00\xff" * 20, parts[chance.choice(list(parts))]])
        if not parts:
            break
    made = BytesIO()
    with zipfile.ZipFile(made, "w") as package:
        for name, content in parts.items():
            package.writestr(name, content)
    return made.getvalue()


def _parts(data: bytes) -> Iterator[tuple[zipfile.ZipInfo, bytes]]:
    with zipfile.ZipFile(BytesIO(data)) as package:
        for part in package.infolist():
            yield part, package.read(part)


def _odd_xml(chance: Random, content: bytes) -> bytes:
    try:
        root = etree.fromstring(content)
    except etree.XMLSyntaxError:
        return content
    elements = list(root.iter(etree.Element))
    for _ in range(chance.choice([1, 1, 3, 8])):
        element = chance.choice(elements)
        names = list(element.attrib)
        match chance.randrange(9):
            case 0 | 1 | 2 if names:
                element.set(chance.choice(names), chance.choice(_VALUES))
            case 3 if names:
                del element.attrib[chance.choice(names)]
            case 4:
                element.tag = chance.choice(elements).tag
            case 5 if element is not root and element.getparent() is not None:
                element.getparent().remove(element)
            case 6:
                element.append(etree.fromstring(etree.tostring(chance.choice(elements))))
            case 7:
                element.text = chance.choice(_VALUES)
            case _:
                other = chance.choice(elements)
                for name, value in other.attrib.items():
                    element.set(name, value)
    return etree.tostring(root)


def odd_text(chance: Random, data: bytes) -> bytes:
    """Lines and characters put elsewhere, doubled and broken."""
    found = bytearray(data)
    for _ in range(chance.randint(1, 30)):
        at, length = chance.randrange(len(found) + 1), chance.randint(1, 12)
        match chance.randrange(4):
            case 0:
                del found[at : at + length]
            case 1:
                found[at:at] = chance.choice([b"![", b"](", b"|", b"```", b"> " * 20, b"- " * 30, b"[" * 40, b"&#55296;", b"\xff", b"data:image/png;base64,", b"<!--", b"\t" * 8])  # fmt: skip
            case 2:
                start = chance.randrange(len(found) + 1)
                found[at:at] = found[start : start + 60]
            case _:
                found[at : at + 1] = bytes([chance.randrange(256)])
    return bytes(found)


def try_all(files: Iterable[tuple[str, bytes]]) -> Counter[str]:
    """Reads files by their ending; how many were read, and how many refused. Whatever else a reader raises comes out."""
    found: Counter[str] = Counter()
    for name, data in files:
        try:
            READERS[Path(name).suffix](data, "odd", unhurried, {})
            found["read"] += 1
        except FileRefused:
            found["refused"] += 1
    return found
