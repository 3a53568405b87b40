"""What is written as .docx, held against the schema of ISO/IEC 29500-1 and the grammar of its fields.

The sequences of elements are those of annex A and the switches those of 17.16.5, both from memory; no office program is run. Page
numbers are held against the PDF of the same report, as ``pypdf`` reads it.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator, Mapping
from itertools import pairwise
from random import Random
from typing import NamedTuple
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree
from lxml.etree import _Element
from pypdf import PdfReader
from pypdf.generic import Destination

import mellowspine.core.kinds  # noqa: F401  (makes the kinds of block known)
from demo.load import quillmere
from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.imported import Imported
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.tables.settle import settle_all, with_contents
from tests.core.made_reports import any_report

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
M = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
WP = "{http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing}"
PIC = "{http://schemas.openxmlformats.org/drawingml/2006/picture}"
R = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}"
RELATION = "{http://schemas.openxmlformats.org/package/2006/relationships}Relationship"

SEQUENCES: Mapping[str, str] = {
    f"{W}pPr": "pStyle keepNext keepLines pageBreakBefore framePr widowControl numPr suppressLineNumbers pBdr shd tabs suppressAutoHyphens "
    "kinsoku wordWrap overflowPunct topLinePunct autoSpaceDE autoSpaceDN bidi adjustRightInd snapToGrid spacing ind contextualSpacing "
    "mirrorIndents suppressOverlap jc textDirection textAlignment textboxTightWrap outlineLvl divId cnfStyle rPr sectPr pPrChange",
    f"{W}rPr": "rStyle rFonts b bCs i iCs caps smallCaps strike dstrike outline shadow emboss imprint noProof snapToGrid vanish webHidden "
    "color spacing w kern position sz szCs highlight u effect bdr shd fitText vertAlign rtl cs em lang eastAsianLayout specVanish oMath",
    f"{W}pBdr": "top left bottom right between bar",
    f"{W}numPr": "ilvl numId ins",
    f"{W}tcBorders": "top start left bottom end right insideH insideV tl2br tr2bl",
    f"{W}tcMar": "top start left bottom end right",
    f"{W}tblCellMar": "top start left bottom end right",
    f"{W}tbl": "bookmarkStart bookmarkEnd tblPr tblGrid tr*",
    f"{W}tblPr": "tblStyle tblpPr tblOverlap bidiVisual tblStyleRowBandSize tblStyleColBandSize tblW jc tblCellSpacing tblInd tblBorders "
    "shd tblLayout tblCellMar tblLook tblCaption tblDescription",
    f"{W}tr": "tblPrEx trPr tc*",
    f"{W}tcPr": "cnfStyle tcW gridSpan hMerge vMerge tcBorders shd noWrap tcMar textDirection tcFitText vAlign hideMark",
    f"{W}sectPr": "headerReference* footerReference* footnotePr endnotePr type pgSz pgMar paperSrc pgBorders lnNumType pgNumType cols "
    "formProt vAlign noEndnote titlePg textDirection bidi rtlGutter docGrid printerSettings",
    f"{W}footnotePr": "pos numFmt numStart numRestart footnote*",
    f"{W}endnotePr": "pos numFmt numStart numRestart endnote*",
    f"{W}styles": "docDefaults latentStyles style*",
    f"{W}docDefaults": "rPrDefault pPrDefault",
    f"{W}style": "name aliases basedOn next link autoRedefine hidden uiPriority semiHidden unhideWhenUsed qFormat locked personal "
    "personalCompose personalReply rsid pPr rPr tblPr trPr tcPr tblStylePr*",
    f"{W}numbering": "numPicBullet* abstractNum* num* numIdMacAtCleanup",
    f"{W}abstractNum": "nsid multiLevelType tmpl name styleLink numStyleLink lvl*",
    f"{W}lvl": "start numFmt lvlRestart pStyle isLgl suff lvlText lvlPicBulletId legacy lvlJc pPr rPr",
    f"{W}num": "abstractNumId lvlOverride*",
    f"{W}settings": "writeProtection view zoom removePersonalInformation embedTrueTypeFonts mirrorMargins alignBordersAndEdges "
    "trackRevisions documentProtection defaultTabStop autoHyphenation consecutiveHyphenLimit hyphenationZone doNotHyphenateCaps "
    "evenAndOddHeaders characterSpacingControl footnotePr endnotePr compat docVars rsids mathPr themeFontLang clrSchemeMapping",
    f"{W}sdt": "sdtPr sdtEndPr sdtContent",
    f"{W}font": "altName panose1 charset family notTrueType pitch sig embedRegular embedBold embedItalic embedBoldItalic",
    f"{WP}inline": "extent effectExtent docPr cNvGraphicFramePr graphic",
    f"{WP}anchor": "simplePos positionH positionV extent effectExtent wrapSquare docPr cNvGraphicFramePr graphic",
    f"{PIC}pic": "nvPicPr blipFill spPr",
    f"{M}f": "fPr num den", f"{M}nary": "naryPr sub sup e", f"{M}naryPr": "chr limLoc grow subHide supHide ctrlPr", f"{M}d": "dPr e*",
    f"{M}dPr": "begChr sepChr endChr grow shp ctrlPr", f"{M}rad": "radPr deg e", f"{M}sSub": "sSubPr e sub", f"{M}sSup": "sSupPr e sup",
    f"{M}sSubSup": "sSubSupPr e sub sup", f"{M}limLow": "limLowPr e lim", f"{M}limUpp": "limUppPr e lim", f"{M}acc": "accPr e",
    f"{M}bar": "barPr e", f"{M}groupChr": "groupChrPr e", f"{M}groupChrPr": "chr pos vertJc ctrlPr", f"{M}m": "mPr mr*", f"{M}mr": "e*",
    f"{M}oMathPara": "oMathParaPr oMath*",
}  # fmt: skip
"""Children in their order; those with a star may stand there several times."""

SWITCHES: Mapping[str, str] = {
    "TOC": "abcdefhlnopstuwxz", "TOA": "bcdefghlps", "INDEX": "bcdefghklprsyz", "SEQ": "chnrs", "REF": "dfhnprtw", "PAGEREF": "hp",
    "NOTEREF": "fhp", "STYLEREF": "lnprstw", "TA": "bcilrs", "XE": "bfirty", "TC": "fln", "PAGE": "", "NUMPAGES": "", "SECTIONPAGES": "",
    "TITLE": "", "DATE": "hls",
}  # fmt: skip
"""The switches of each field that is written, beside those of all fields (17.16.4: ``\\*``, ``\\#``, ``\\@``)."""


def schema_faults(root: _Element) -> Iterator[str]:
    """What stands out of order or twice, in any element whose sequence is known."""
    for element in root.iter():
        sequence = SEQUENCES.get(str(element.tag))
        if sequence is None:
            continue
        order = {name.rstrip("*"): at for at, name in enumerate(sequence.split())}
        often = {name.rstrip("*") for name in sequence.split() if name.endswith("*")}
        names = [etree.QName(child).localname for child in element]
        here = etree.QName(element).localname
        yield from (f"{name} in {here}" for name in names if name not in order)
        places = [order[name] for name in names if name in order]
        if places != sorted(places):
            yield f"{here}: {' '.join(names)}"
        yield from (f"{name} twice in {here}" for name in set(names) - often if names.count(name) > 1)


class Field(NamedTuple):
    name: str
    arguments: list[str]
    switches: dict[str, str | None]
    result: str


def parsed(instruction: str) -> tuple[str, list[str], dict[str, str | None]]:
    """An instruction by its grammar (17.16.3.1), sign by sign: a name, arguments in quotation marks or without, and switches."""
    at, words, quoted = 0, [], []
    while at < len(instruction):
        sign = instruction[at]
        if sign.isspace():
            at += 1
        elif sign == '"':
            word = ""
            at += 1
            while instruction[at] != '"':
                if instruction[at] == "\\" and instruction[at + 1] in '"\\':
                    at += 1
                word += instruction[at]
                at += 1
            at += 1
            words.append(word)
            quoted.append(True)
        else:
            end = next((n for n in range(at, len(instruction)) if instruction[n].isspace()), len(instruction))
            words.append(instruction[at:end])
            quoted.append(False)
            at = end
    name, arguments, switches = words[0], [], dict[str, str | None]()
    at = 1
    while at < len(words):
        if not quoted[at] and words[at].startswith("\\"):
            following = (
                words[at + 1]
                if at + 1 < len(words) and (quoted[at + 1] or not words[at + 1].startswith("\\"))
                else None
            )
            switches[words[at][1:]] = following
            at += 1 if following is None else 2
        else:
            arguments.append(words[at])
            at += 1
    return name, arguments, switches


def fields_of(root: _Element) -> Iterator[Field]:
    """All complex fields (17.16.18), the inner ones first."""
    open: list[list[str]] = []
    for element in root.iter(f"{W}fldChar", f"{W}instrText", f"{W}t"):
        kind = element.get(f"{W}fldCharType")
        if kind == "begin":
            open.append(["", "", ""])
        elif kind == "separate":
            open[-1][2] = "result"
        elif kind == "end":
            code, result, _ = open.pop()
            yield Field(*parsed(code), result)
        elif element.tag == f"{W}instrText":
            open[-1][0] += element.text or ""
        else:
            for one in open:
                one[1] += (element.text or "") if one[2] else ""
    if open:
        raise AssertionError(f"a field does not end: {open}")


def part_of(data: bytes, name: str) -> _Element:
    """A part of a file, by its name."""
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        return etree.fromstring(package.read(name))


class Package:
    """A report as .docx, taken apart, and as PDF if it has contents."""

    def __init__(self, imported: Imported, contents: bool = False, only: frozenset[int] | None = None) -> None:
        typefaces = Typefaces()
        self.report, self.pages = (with_contents if contents else settle_all)(imported.report, typefaces)
        given = Written(self.report, self.pages, typefaces, imported.pictures, only=only)
        self.pdf = PdfReader(io.BytesIO(WRITERS[".pdf"].write(given))) if contents else None
        with zipfile.ZipFile(io.BytesIO(WRITERS[".docx"].write(given))) as package:
            self.parts = {name: package.read(name) for name in package.namelist()}
        self.xml = {
            name: etree.fromstring(data) for name, data in self.parts.items() if name.endswith((".xml", ".rels"))
        }
        self.main = self.xml["word/document.xml"]

    def hold(self, case: TestCase) -> None:
        for name, root in self.xml.items():
            case.assertEqual([*schema_faults(root)], [], name)
        self._relations(case)
        self._names(case)
        self._fields(case)
        main = self.main
        case.assertEqual([one.tag for one in main[0].iter(f"{W}tc") if one[-1].tag != f"{W}p"], [])
        tags = [one.tag for one in main[0] if one.tag not in (f"{W}bookmarkStart", f"{W}bookmarkEnd")]
        case.assertNotIn((f"{W}tbl", f"{W}tbl"), [*pairwise(tags)])
        case.assertEqual((tags[-1], tags[-2]), (f"{W}sectPr", f"{W}p"))

    def _relations(self, case: TestCase) -> None:
        """Part 2, 9.3: what is named is there, and each part has a type."""
        types = self.xml["[Content_Types].xml"]
        typed = {one.get("PartName", "").lstrip("/") for one in types} | {one.get("Extension") for one in types}
        for name, root in self.xml.items():
            if not name.endswith(".rels"):
                continue
            folder = name.partition("_rels/")[0]
            ids = {one.get("Id") for one in root.iter(RELATION)}
            for one in root.iter(RELATION):
                target = one.get("Target") or ""
                if one.get("TargetMode") != "External":
                    case.assertIn(target.lstrip("/") if target.startswith("/") else folder + target, self.parts)
            source = self.xml.get(folder + name.rpartition("/")[2].removesuffix(".rels"))
            used = (
                {value for element in source.iter() for key, value in element.attrib.items() if key.startswith(R)}
                if source is not None
                else set()
            )
            case.assertLessEqual(used, ids, name)
        for name in self.parts:
            case.assertTrue(name == "[Content_Types].xml" or {name, name.rpartition(".")[2]} & typed, name)

    def _names(self, case: TestCase) -> None:
        """Bookmarks begin once and end (17.13.6), and everything that is named by a number or a key is there."""
        main = self.main
        roots = [root for name, root in self.xml.items() if name.startswith("word/")]
        starts = [one for root in roots for one in root.iter(f"{W}bookmarkStart")]
        ends = [one.get(f"{W}id") for root in roots for one in root.iter(f"{W}bookmarkEnd")]
        names = [one.get(f"{W}name") or "" for one in starts]
        case.assertEqual(sorted(ends), sorted(one.get(f"{W}id") or "" for one in starts))
        case.assertEqual(len({*ends}), len(ends))
        case.assertEqual(len({name.casefold() for name in names}), len(names))
        case.assertEqual([name for name in names if not re.fullmatch(r"[^\W\d]\w{0,39}", name)], [])
        lines = [link for control in main.iter(f"{W}sdt") for link in control.iter(f"{W}hyperlink")]
        case.assertLessEqual({link.get(f"{W}anchor") for link in lines}, {*names})
        styles = {one.get(f"{W}styleId") for one in self.xml["word/styles.xml"].iter(f"{W}style")}
        for root in roots:
            used = {one.get(f"{W}val") for one in root.iter(f"{W}pStyle", f"{W}basedOn", f"{W}next")}
            case.assertLessEqual(used, styles)
        numbering = self.xml.get("word/numbering.xml")
        numbers = {one.get(f"{W}numId") for one in numbering.iter(f"{W}num")} if numbering is not None else set()
        case.assertLessEqual({one.get(f"{W}val") for root in roots for one in root.iter(f"{W}numId")}, numbers | {"0"})
        for kind in ("footnote", "endnote"):
            called = [one.get(f"{W}id") for one in main.iter(f"{W}{kind}Reference")]
            notes = self.xml.get(f"word/{kind}s.xml")
            there = [one.get(f"{W}id") for one in notes if one.get(f"{W}type") is None] if notes is not None else []
            case.assertEqual(called, there)
        drawn = [one.get("id") for root in roots for one in root.iter(f"{WP}docPr")]
        case.assertEqual(len({*drawn}), len(drawn))

    def _fields(self, case: TestCase) -> None:
        """Every field is one that there is, with switches that it has, and leads to a bookmark that is there (17.16.5)."""
        names = {one.get(f"{W}name") for root in self.xml.values() for one in root.iter(f"{W}bookmarkStart")}
        for name, root in self.xml.items():
            for field in fields_of(root):
                case.assertIn(field.name, SWITCHES, name)
                case.assertLessEqual({*field.switches} - {"*", "#", "@"}, {*SWITCHES[field.name]}, field)
                if field.name in ("REF", "PAGEREF", "NOTEREF"):
                    case.assertEqual(len(field.arguments), 1)
                    case.assertIn(field.arguments[0], names)
                for switch in ("b", "r"):
                    if field.name in ("TOC", "XE") and field.switches.get(switch):
                        case.assertIn(field.switches[switch], names)


class AgainstTheSchema(TestCase):
    @settings(max_examples=30)
    @given(st.integers(0, 2**32))
    def test_any_report(self, seed: int) -> None:
        package = Package(any_report(Random(seed)))
        package.hold(self)

    def test_the_demonstration(self) -> None:
        package = Package(quillmere())
        package.hold(self)

    def test_the_checks_see_what_is_wrong(self) -> None:
        """A check that never fails holds nothing."""
        wrong = etree.fromstring(f'<w:pPr xmlns:w="{W[1:-1]}"><w:jc/><w:spacing/><w:jc/><w:sz/></w:pPr>')
        self.assertEqual(sorted(schema_faults(wrong)), ["jc twice in pPr", "pPr: jc spacing jc sz", "sz in pPr"])


class AgainstThePdf(TestCase):
    def test_page_numbers_are_those_on_which_an_independent_reader_finds_the_headings(self) -> None:
        package = Package(quillmere(), contents=True)
        assert package.pdf
        found = {}
        for one, _ in _outline(package.pdf.outline):
            page = package.pdf.get_destination_page_number(one)
            found.setdefault(" ".join(str(one.title).split()), package.pdf.page_labels[page or 0])
        lines = 0
        for paragraph in package.main.iter(f"{W}p"):
            style = paragraph.find(f"{W}pPr/{W}pStyle")
            if (
                style is None
                or not (style.get(f"{W}val") or "").startswith("TOC")
                or paragraph.find(f"{W}hyperlink") is None
            ):
                continue
            link = paragraph.find(f"{W}hyperlink")
            assert link is not None
            words = "".join(one.text or "" for one in link.iter(f"{W}t"))
            page = next(field.result for field in fields_of(link) if field.name == "PAGEREF")
            title = " ".join(words.removesuffix(page).split())
            self.assertEqual(found[title], page)
            lines += 1
        self.assertGreater(lines, 40)

    def test_references_show_what_the_pages_show(self) -> None:
        package = Package(quillmere())
        shown = {field.result for field in fields_of(package.main) if field.name in ("REF", "PAGEREF")}
        self.assertGreater(len(shown), 20)
        self.assertNotIn("", shown)


def _outline(items: list[object], depth: int = 0) -> Iterator[tuple[Destination, int]]:
    for one in items:
        if isinstance(one, list):
            yield from _outline(one, depth + 1)
        elif isinstance(one, Destination):
            yield one, depth
