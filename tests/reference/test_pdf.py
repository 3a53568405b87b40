"""Our PDF, read by others: page numbers, links and outline.

``pypdf`` and ``pypdfium2`` each look for the headings; ``pikepdf`` reads the links (ISO 32000-1, 12.5.6.5), their
destinations (12.3.2), the outline (12.3.3) and the structure (14.7), ``pypdfium2`` the words of its parts. The .docx files are sample files of python-docx (its source
distribution), fetched with ``tests/samples.sh``.
"""

from __future__ import annotations

import ctypes
import re
from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime, timedelta, timezone
from io import BytesIO
from pathlib import Path
from random import Random
from typing import Any, NamedTuple
from unittest import TestCase

import pikepdf
import pypdf
import pypdfium2
from PIL import Image as Pillow

from demo.load import QUILLMERE, demonstration, with_contents_alone
from mellowspine.core.formats import pdf, read, text, walk
from mellowspine.core.formats.imported import Imported
from mellowspine.core.pages.draw import Drawing
from mellowspine.core.pages.lines import InFaces, Lines, pieces
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Cell,
    DataTable,
    Image,
    Marks,
    Paragraph,
    PartStart,
    Reference,
    Run,
)
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.settle import with_contents

from .test_pagination import any_block, report_with_notes

SAMPLES = Path(__file__).parents[2] / ".venv/samples/docx"
SAMPLE_FILES = (
    "features/steps/test_files/par-known-paragraphs.docx",
    "features/steps/test_files/par-known-styles.docx",
    "tests/test_files/test.docx",
)


def squeezed(text: str) -> str:
    return re.sub(r"\W+", "", text)


class Written:
    """A report as PDF, opened by three readers."""

    def __init__(self, imported: Imported) -> None:
        typefaces = Typefaces()
        self.report: Report
        self.report, self.pages = with_contents(imported.report, typefaces)
        self.data = pdf.write(walk.Written(self.report, self.pages, typefaces, imported.pictures))
        self.pypdf = [squeezed(page.extract_text()) for page in pypdf.PdfReader(BytesIO(self.data)).pages]
        document = pypdfium2.PdfDocument(self.data)
        self.pdfium = [squeezed(page.get_textpage().get_text_bounded()) for page in document]
        self.pikepdf = pikepdf.open(BytesIO(self.data))
        (self.table,) = self.report.tables.values()


class ThreeReaders(TestCase):
    written: dict[str, Written]

    @classmethod
    def setUpClass(cls) -> None:
        reports = dict(demonstration()) | {QUILLMERE: with_contents_alone()}
        reports |= {name: read(name, (SAMPLES / name).read_bytes()) for name in SAMPLE_FILES}
        cls.written = {title: Written(imported) for title, imported in reports.items()}

    def test_every_reader_finds_each_heading_on_the_page_that_the_contents_give(self) -> None:
        for title, written in self.written.items():
            with self.subTest(title):
                listed = written.table.lines
                self.assertTrue(listed or not outline(written.report))
                for line in listed:
                    words = squeezed(line.number + line.text)
                    for texts in (written.pypdf, written.pdfium):
                        self.assertIn(words, texts[int(line.pages[0]) - 1], line)

    def test_the_contents_hold_every_line_with_its_page(self) -> None:
        for title, written in self.written.items():
            with self.subTest(title):
                front = "".join(written.pdfium[:20])
                for line in written.table.lines:
                    self.assertIn(squeezed(line.number + line.text + line.pages[0]), front)

    def test_every_line_is_a_link_to_its_heading_and_every_reference_to_its_place(self) -> None:
        for title, written in self.written.items():
            with self.subTest(title):
                file = written.pikepdf
                numbers = {page.objgen: number for number, page in enumerate(file.pages, 1)}
                found = []
                for page in file.pages:
                    for annotation in page.get("/Annots", []):
                        if annotation.Subtype == "/Link" and "/Dest" in annotation:
                            found.append(numbers[annotation.Dest[0].objgen])
                places = written.pages.places
                led_to = [places[lead.to] for _, one in written.pages.noted for lead in one.leads if lead.to in places]
                lines = [int(line.pages[0]) for line in written.table.lines]
                wanted = [*lines, *map(written.pages.page_of_place, led_to)]
                # The sign in front of a note leads back to the paragraph that refers to it, from further down on its page.
                backs = [written.pages.page_of(note.at) for note in written.pages.footnotes]
                self.assertEqual(sorted(found), sorted([*wanted, *backs]))
                if not backs:
                    self.assertEqual(found, wanted)

    def test_references_say_the_pages_and_numbers_that_two_readers_find(self) -> None:
        """Every place that a reference leads to is found, with what the reference says of it, on the page that its link has."""
        written = self.written["Quillmere Lido Restoration"]
        places, report = written.pages.places, written.pages.report
        seen = 0
        for _, one in written.pages.noted:
            for lead in one.leads:
                place = places[lead.to]
                front = f"{place.label} {place.number}: " if place.kind == "caption" else place.number
                if place.kind == "note":
                    front = report.shown[lead.key]
                    self.assertRegex(front, r"^\d$")
                else:
                    self.assertIn(report.shown[lead.key], (place.number, f"{place.label} {place.number}"))
                words = squeezed(front + place.text)
                for texts in (written.pypdf, written.pdfium):
                    self.assertIn(words, texts[written.pages.page_of_place(place) - 1])
                seen += 1
        self.assertGreater(seen, 4)

    def test_places_are_destinations_by_name(self) -> None:
        """ISO 32000-1, 12.3.2.3: a name tree in order, in which bookmarks stand under their own names."""
        written = self.written["Quillmere Lido Restoration"]
        names = [str(name) for name in list(written.pikepdf.Root.Names.Dests.Names)[::2]]
        self.assertEqual(names, sorted(names))
        bookmarks = {place.text for place in written.pages.places.values() if place.kind == "bookmark"}
        self.assertEqual(len(bookmarks), 3)
        self.assertLessEqual(bookmarks, {*names})
        numbers = {page.objgen: number for number, page in enumerate(written.pikepdf.pages, 1)}
        found = dict(zip(names, list(written.pikepdf.Root.Names.Dests.Names)[1::2], strict=True))
        for place in written.pages.places.values():
            self.assertEqual(numbers[found[place.id][0].objgen], written.pages.page_of_place(place), place)

    def test_the_outline_holds_every_heading_in_order(self) -> None:
        for title, written in self.written.items():
            with self.subTest(title), written.pikepdf.open_outline() as bookmarks:
                flat = [item.title for item in flattened(bookmarks.root)]
                wanted = [f"{h.number} {h.text}".strip() for h in outline(written.report)]
                self.assertEqual(flat, wanted)

    def test_there_are_as_many_pages_as_the_core_filled(self) -> None:
        for title, written in self.written.items():
            with self.subTest(title):
                self.assertEqual(len(written.pypdf), len(written.pages))
                for number, text in enumerate(written.pdfium, 1):
                    self.assertTrue(text.endswith(str(number)), (title, number))


class Words(TestCase):
    def test_every_word_stands_where_the_core_measured_it(self) -> None:
        """``pypdfium2`` tells where each character is; kerned pairs and spaces included, to a twentieth of a point."""
        words = "AV To Ty. We. fifty-two Tables, Va. Wo, “Yes.” The keeper’s Log"
        report = Report("r", (Paragraph("a", runs=(Run(words), Run(" LT. To", Marks(bold=True, size=17.0)))),))
        typefaces = Typefaces()
        pages = paginate(report, typefaces)
        page = pypdfium2.PdfDocument(pdf.write(walk.Written(report, pages, typefaces, {})))[0].get_textpage()
        box = pages.boxes[0]
        block, style = report.blocks[0], report.styles["body"]
        line = next(
            pieces(InFaces(block, style, report.page.text_width, typefaces), Lines(box.starts, box.heights), [0])
        )
        self.assertEqual(len(line), 2)
        text = page.get_text_range()
        for piece in line:
            at = text.index(piece.text)
            for index, character in enumerate(piece.text):
                if index == 0 or piece.text[index - 1] == " ":
                    x = (piece.face.width(piece.text[: index + 1]) - piece.face.width(character)) * piece.size
                    left, *_ = page.get_charbox(at + index, loose=True)
                    self.assertAlmostEqual(left, report.page.left + piece.x + x, delta=0.05, msg=piece.text[index:])

    def test_what_glyphs_share_and_no_face_has_is_read_as_it_was_written(self) -> None:
        """A space that does not break looks like any other, and letters that are missing all look like a box (ISO 32000-1, 9.10.3)."""
        words = "a\u00a0b c 五六 Ω\u2126 ﬁn"
        report = Report("r", (Paragraph("a", runs=(Run(words),)),))
        data = pdf.write(walk.Written(report, paginate(report, Typefaces()), Typefaces(), {}))
        (page,) = pypdf.PdfReader(BytesIO(data)).pages
        self.assertEqual(page.extract_text().split("\n")[0], words)

    def test_a_hanging_first_line_begins_where_it_hangs(self) -> None:
        words = "Re Harrow Point Breakwater"
        report = Report("r", (Paragraph("a", runs=(Run(words),), indent=24.0, first_line=-24.0),))
        data = pdf.write(walk.Written(report, paginate(report, Typefaces()), Typefaces(), {}))
        left, *_ = pypdfium2.PdfDocument(data)[0].get_textpage().get_charbox(0, loose=True)
        self.assertAlmostEqual(left, report.page.left, delta=0.05)


class Pictures(TestCase):
    """ISO 32000-1, 8.9.5, drawn by ``pypdfium2``."""

    def test_every_kind_of_picture_is_drawn_in_its_colours(self) -> None:
        red = (200, 30, 40)
        kinds = {
            "JPEG RGB": red, "JPEG L": (90, 90, 90), "JPEG CMYK": red, "PNG RGB": red, "PNG RGBA": red, "PNG P": red,
            "PNG 1": (255, 255, 255), "PNG I;16": (117, 117, 117), "GIF P": red, "WEBP RGB": red,
        }  # fmt: skip
        for kind, colour in kinds.items():
            with self.subTest(kind):
                format, mode = kind.split()
                source = Pillow.new("RGB", (40, 20), colour)
                saved = BytesIO()
                (Pillow.new(mode, (40, 20), 30_000) if mode == "I;16" else source.convert(mode)).save(saved, format)
                drawn = self.drawn(saved.getvalue())
                # The colours of ink, and of palettes, are near to those that were meant.
                self.assertLess(max(abs(one - other) for one, other in zip(drawn, colour, strict=True)), 48, drawn)

    def test_one_sees_through_what_is_not_there_of_it(self) -> None:
        saved = BytesIO()
        Pillow.new("RGBA", (40, 20), (200, 30, 40, 0)).save(saved, "PNG")
        self.assertEqual(self.drawn(saved.getvalue()), (255, 255, 255))

    def test_what_is_missing_and_what_is_no_picture_leaves_a_frame(self) -> None:
        self.assertEqual(self.drawn(None), (255, 255, 255))
        with self.assertLogs("mellowspine", "ERROR"):
            self.assertEqual(self.drawn(b"no picture"), (255, 255, 255))

    def drawn(self, data: bytes | None) -> tuple[int, ...]:
        """The colour in the middle of a picture."""
        block = Image("i", "p.png", 200.0, 100.0)
        report = Report("r", (block,))
        given = {"p.png": data} if data else {}
        made = pdf.write(walk.Written(report, paginate(report, Typefaces()), Typefaces(), given))
        page = pypdfium2.PdfDocument(made)[0].render(scale=1).to_pil().convert("RGB")
        return tuple(page.getpixel((round(report.page.left + report.page.text_width / 2), round(report.page.top + 60))))


def flattened(items):
    for item in items:
        yield item
        yield from flattened(item.children)


class Area(NamedTuple):
    """A rectangle on a page that is a link, with the words that it has for those who do not see it."""

    words_for_it: str


class Element(NamedTuple):
    """An element of the structure as ``pikepdf`` reads it: its type, what is said of it, and what it holds."""

    type: str
    says: dict[str, str]
    kids: tuple[Element | str | Area, ...]

    def all(self, *types: str) -> Iterator[Element]:
        for kid in self.kids:
            if isinstance(kid, Element):
                if kid.type in types:
                    yield kid
                yield from kid.all(*types)

    def without(self, type: str) -> Element:
        kids = (kid.without(type) if isinstance(kid, Element) else kid for kid in self.kids)
        return self._replace(kids=tuple(kid for kid in kids if not (isinstance(kid, Element) and kid.type == type)))

    @property
    def words(self) -> str:
        return "".join(
            kid if isinstance(kid, str) else kid.words for kid in self.kids if isinstance(kid, str | Element)
        )


def tagged(data: bytes) -> Element:
    """The structure of a file; the words of each stretch as ``pdfium`` reads them."""
    stretches = [words_by_stretch(page) for page in pypdfium2.PdfDocument(data)]
    file = pikepdf.open(BytesIO(data))
    pages = {page.objgen: number for number, page in enumerate(file.pages)}

    def read_element(made: pikepdf.Object) -> Element:
        kids = made.get("/K", [])
        kids = list(kids) if isinstance(kids, pikepdf.Array) else [kids]
        found: list[Element | str | Area] = []
        for kid in kids:
            if isinstance(kid, pikepdf.Dictionary) and "/S" in kid:
                assert kid.P.objgen == made.objgen
                found.append(read_element(kid))
            elif isinstance(kid, pikepdf.Dictionary) and kid.Type == "/OBJR":
                assert parents[int(kid.Obj.StructParent)].objgen == made.objgen
                found.append(Area(str(kid.Obj.Contents)))
            else:  # 14.7.4.2: a stretch of a page, by its number alone where the element names the page
                on, number = (made.Pg, int(kid)) if isinstance(kid, int) else (kid.Pg, int(kid.MCID))
                # 14.7.4.4: from the page, and from a link, back to what they belong to.
                assert parents[int(on.StructParents)][number].objgen == made.objgen
                found.append(stretches[pages[on.objgen]].get(number, ""))
        says = {**dict(made.get("/A", {})), **({"/Alt": made["/Alt"]} if "/Alt" in made else {})}
        return Element(str(made.S)[1:], {name: str(value) for name, value in says.items()}, tuple(found))

    root = file.Root.StructTreeRoot
    numbered = list(root.ParentTree.Nums)
    parents = dict(zip(map(int, numbered[::2]), numbered[1::2], strict=True))
    assert bool(file.Root.MarkInfo.Marked)
    return read_element(root.K)


def words_by_stretch(page: pypdfium2.PdfPage) -> dict[int, str]:
    """The words that belong to the report, by the number of their stretch on the page; all others are artifacts."""
    text, found = page.get_textpage(), dict[int, str]()
    for one in page.get_objects([pypdfium2.raw.FPDF_PAGEOBJ_TEXT]):
        number = pypdfium2.raw.FPDFPageObj_GetMarkedContentID(one.raw)
        length = pypdfium2.raw.FPDFTextObj_GetText(one.raw, text.raw, None, 0)
        buffer = ctypes.create_string_buffer(length)
        pypdfium2.raw.FPDFTextObj_GetText(
            one.raw, text.raw, ctypes.cast(buffer, ctypes.POINTER(ctypes.c_ushort)), length
        )
        if number >= 0:
            found[number] = found.get(number, "") + buffer.raw.decode("utf-16-le").rstrip("\0")
    return found


class Tagged(TestCase):
    """ISO 32000-1, 14.7 and 14.8, with what ISO 14289-1 asks for beyond it."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.typefaces = Typefaces()
        imported = dict(demonstration())[QUILLMERE]
        cls.report, cls.pages = with_contents(imported.report, cls.typefaces)
        cls.given = walk.Written(cls.report, cls.pages, cls.typefaces, imported.pictures)
        cls.data = pdf.write(cls.given)
        cls.root = tagged(cls.data)

    def of(self, *blocks: Block) -> Element:
        report = Report("r", blocks)
        return tagged(pdf.write(walk.Written(report, paginate(report, self.typefaces), self.typefaces, {})))

    def test_the_tags_read_all_words_of_the_report_in_their_order(self) -> None:
        """As plain text has them, in which the way back and the title of the report are not."""
        wanted = squeezed(text.write(self.given).decode())
        for block in self.report.blocks:
            if isinstance(block, Image):  # said of the figure
                wanted = wanted.replace(squeezed(block.alt), "", 1)
        for note in self.pages.footnotes:  # they stand at the foot of their page, each by itself
            words = squeezed(self.pages.report.shown[f"note {note.id}"] + self.report.blocks[note.block].text)  # type: ignore[attr-defined]
            self.assertIn(words, [squeezed(one.words) for one in self.root.all("Note")])
            wanted = wanted.replace(words, "", 1)
        self.assertEqual(squeezed(self.root.without("Note").words), wanted)

    def test_all_that_is_drawn_is_part_of_the_report_or_told_to_be_none(self) -> None:
        """14289-1, 7.1: nothing stands outside."""
        for page in pikepdf.open(BytesIO(self.data)).pages:
            open_stretches, drawn = [], 0
            for operands, operator in pikepdf.parse_content_stream(page):
                match str(operator):
                    case "BDC":
                        open_stretches.append(int(operands[1].MCID))
                    case "BMC":
                        self.assertEqual(str(operands[0]), "/Artifact")
                        open_stretches.append(None)
                    case "EMC":
                        open_stretches.pop()
                    case "TJ" | "S" | "B" | "Do":
                        self.assertEqual(len(open_stretches), 1)
                        drawn += 1
            self.assertEqual(open_stretches, [])
            self.assertGreater(drawn, 0)
            self.assertEqual(str(page.Tabs), "/S")

    def test_headings_stand_at_their_levels(self) -> None:
        found = [(one.type, squeezed(one.words)) for one in self.root.all(*(f"H{level}" for level in range(1, 10)))]
        self.assertEqual(found, [(f"H{h.level}", squeezed(h.number + h.text)) for h in outline(self.report)])
        deep = self.of(*(Paragraph(f"h{level}", f"heading-{level}", (Run("x"),)) for level in range(1, 10)))
        self.assertEqual([one.type for one in deep.kids], [f"H{level}" for level in range(1, 10)])
        with pikepdf.open(BytesIO(self.data)) as file:
            roles = {str(name): str(role) for name, role in file.Root.StructTreeRoot.RoleMap.items()}
        self.assertEqual(roles, dict.fromkeys(("/H7", "/H8", "/H9"), "/H6"))

    def test_each_line_of_the_contents_is_an_item_with_its_link(self) -> None:
        """14.8.4.2: TOC, TOCI; 14.8.4.4.1: Reference; 14.8.4.4.2: Link."""
        (contents,) = self.root.all("TOC")
        title, *items = contents.kids
        self.assertEqual(title.type, "Caption")
        (issued,) = (one for one in self.report.tables.values() if one.recipe.kind == "contents")
        for item, line in zip(items, issued.lines, strict=True):
            ((link,),) = ([*reference.kids] for reference in item.kids)
            self.assertEqual((item.type, link.type), ("TOCI", "Link"))
            self.assertEqual(squeezed(link.words), squeezed(line.number + line.text + line.pages[0]))
            self.assertEqual(sum(isinstance(kid, Area) for kid in link.kids), 1)

    def test_every_link_is_told_and_stands_among_its_words(self) -> None:
        """14289-1, 7.18.5: in a Link, with words for it."""
        inside = [kid for link in self.root.all("Link") for kid in link.kids if isinstance(kid, Area)]
        on_pages = [one for page in pikepdf.open(BytesIO(self.data)).pages for one in page.get("/Annots", [])]
        self.assertEqual(len(inside), len(on_pages))
        for link in self.root.all("Link"):
            self.assertTrue(squeezed(link.words))
            for kid in link.kids:
                if isinstance(kid, Area):
                    self.assertTrue(kid.words_for_it)

    def test_a_link_over_two_lines_is_one(self) -> None:
        words = "a place that is called by so many words that they do not stand in one line " * 2
        link = Run(words, Marks(link="https://example.org"))
        one, other = self.of(Paragraph("a", runs=(Run("See "), link, Run(", and "), link))).all("Link")
        for found in (one, other):
            self.assertEqual(squeezed(found.words), squeezed(words))
            self.assertGreater(sum(isinstance(kid, Area) for kid in found.kids), 1)

    def test_lists_hold_items_and_items_deeper_lists(self) -> None:
        """14.8.4.3.3, and ListNumbering (14.8.5.5)."""

        def item(id: str, style: str, **more: Any) -> Paragraph:
            return Paragraph(id, style, (Run(id),), **more)

        root = self.of(
            item("one", "item-1"), item("two", "item-1"), item("deep", "bullet-2"),
            item("still two", "item-1", number="none"), item("three", "item-1"), item("out", "body"),
            item("four", "bullet-1"),
        )  # fmt: skip
        first, out, second = root.kids
        self.assertEqual(
            (out.type, first.says["/ListNumbering"], second.says["/ListNumbering"]), ("P", "/Decimal", "/Disc")
        )
        self.assertEqual([kid.type for kid in first.kids], ["LI"] * 3)
        for one in (*first.kids, *second.kids):
            self.assertEqual([kid.type for kid in one.kids], ["Lbl", "LBody"])
        body = first.kids[1].kids[1]
        self.assertEqual([kid if isinstance(kid, str) else kid.type for kid in body.kids], ["two", "L", "P"])
        self.assertEqual([kid.words.strip() for kid in first.kids[0].kids], ["1.", "one"])

    def test_data_tables_have_rows_and_heads_with_their_scope(self) -> None:
        """14.8.4.3.4, 14.8.5.7: each cell once, also on pages where the head is repeated."""

        def cell(words: str, columns: int = 1, rows: int = 1) -> Cell:
            return Cell((Paragraph(f"p-{words}", "cell", (Run(words),) if words else ()),), columns, rows)

        rows = ((cell("A", 2), cell("B")), (cell("tall", 1, 2), cell(""), cell("x")), (cell("y"), cell("z")))
        (table,) = self.of(DataTable("t", rows, 1)).kids
        self.assertEqual([[one.type for one in row.kids] for row in table.kids], [["TH", "TH"], ["TD"] * 3, ["TD"] * 2])
        self.assertEqual(table.kids[0].kids[0].says, {"/O": "/Table", "/Scope": "/Column", "/ColSpan": "2"})
        self.assertEqual(table.kids[1].kids[0].says, {"/O": "/Table", "/RowSpan": "2"})
        long = ((cell("Head"),), *((cell(f"row {number}"),) for number in range(120)))
        (table,) = self.of(DataTable("t", long, 1)).kids
        self.assertEqual([row.words for row in table.kids], ["Head", *(f"row {number}" for number in range(120))])

    def test_a_cell_over_rows_and_pages_is_one(self) -> None:
        tall = Cell(tuple(Paragraph(f"t{n}", "cell", (Run(f"line {n}"),)) for n in range(140)), 1, 3)
        rows = [(tall, Cell((Paragraph("a", "cell", (Run("a"),)),)))]
        rows += [(Cell((Paragraph(f"b{n}", "cell", (Run(f"b{n}"),)),)),) for n in range(2)]
        (table,) = self.of(DataTable("t", tuple(rows), 0)).kids
        self.assertEqual([len(row.kids) for row in table.kids], [2, 1, 1])
        self.assertEqual(table.kids[0].kids[0].words, "".join(f"line {n}" for n in range(140)))

    def test_figures_say_what_they_show_and_where_they_stand(self) -> None:
        """14.9.3, 14.8.5.4.3."""
        pictures = [block for block in self.report.blocks if isinstance(block, Image)]
        figures = [*self.root.all("Figure")]
        self.assertEqual([one.says["/Alt"] for one in figures], [one.alt for one in pictures])
        self.assertTrue(all("/BBox" in one.says for one in figures))
        captions = [b for b in self.report.blocks if isinstance(b, Paragraph) and b.caption]
        self.assertEqual(len([kid for kid in self.root.kids if kid.type == "Caption"]), len(captions))

    def test_whatever_stands_in_a_report_all_of_it_is_on_some_sheet(self) -> None:
        """Blocks in any order, a word wider than the column, pictures larger than a page, some of them with text beside them, tab
        stops beyond the line, a table of thirty columns."""
        for seed in range(6):
            with self.subTest(seed=seed):
                blocks = [any_block(Random(f"{seed}/{index}"), f"b{index}") for index in range(40)]
                wide = tuple(Cell((Paragraph(f"c{at}", "cell", (Run(f"column{at}"),)),)) for at in range(30))
                blocks += [
                    Paragraph("long", "heading-2", (Run("unbroken" * 300),)),
                    Image("tall", "p.png", 100.0, 5000.0, "tall"),
                    Image("wide", "p.png", 5000.0, 100.0, "wide"),
                    DataTable("columns", (wide, wide), 1),
                    Paragraph(
                        "tabs", runs=(Run("sea\twall\tgate\tof the water"),), tab_stops="40 right, 700 decimal dots"
                    ),
                    *(
                        Image(
                            f"side{at}",
                            "p.png",
                            30.0 + 60 * at,
                            5000.0 if at > 5 else 20.0 + 90 * at,
                            align=align,
                            beside=True,
                        )
                        for at, align in enumerate(("left", "right") * 4)
                    ),
                ]
                Random(seed).shuffle(blocks)
                report = Report("r", tuple(blocks))
                pages = paginate(report, self.typefaces)
                given = walk.Written(report, pages, self.typefaces, {})
                data = pdf.write(given)
                wanted = squeezed(text.write(given).decode())
                self.assertEqual(squeezed(tagged(data).words), wanted.replace("tall", "").replace("wide", ""))
                for page in pypdfium2.PdfDocument(data):
                    width, height = page.get_size()
                    for one in page.get_objects():
                        left, bottom, right, top = one.get_bounds()
                        self.assertTrue(
                            left > -1 and right < width + 1 and bottom > -1 and top < height + 1, one.get_bounds()
                        )

    def test_notes_are_told_from_the_text_and_found_by_their_names(self) -> None:
        """14.8.4.4.2 (Note, Reference, Lbl); 14289-1, 7.9: each note has an identifier of its own. What is left reads on without
        them, and both lead to each other."""
        for seed in range(6):
            report = report_with_notes(seed, 40)
            given = walk.Written(report, paginate(report, self.typefaces), self.typefaces, {})
            data = pdf.write(given)
            root = tagged(data)
            notes = [*root.all("Note")]
            by_words = {squeezed(one.words): one for one in notes}
            said = list[str]()
            for block in report.blocks:
                if isinstance(block, Paragraph) and block.note:
                    said.append(squeezed(given.pages.report.shown[f"note {block.id}"] + block.text))
            self.assertGreater(len(said), 8)
            self.assertEqual({*by_words}, {*said})
            self.assertEqual(
                [kid.type for one in notes for kid in one.kids if isinstance(kid, Element)], ["Lbl"] * len(notes)
            )
            self.assertEqual(len([*root.without("Note").all("Reference")]), len(notes))
            text_alone = replace(report, blocks=tuple(b for b in report.blocks if not getattr(b, "note", None)))
            wanted = squeezed(
                text.write(
                    given._replace(
                        report=text_alone,
                        pages=replace(given.pages, report=replace(given.pages.report, blocks=text_alone.blocks)),
                    )
                ).decode()
            )
            self.assertEqual(squeezed(root.without("Note").words), wanted)
            with pikepdf.open(BytesIO(data)) as file:
                named = [*file.Root.StructTreeRoot.IDTree.Names]
                self.assertEqual([str(one) for one in named[::2]], sorted(str(one.ID) for one in named[1::2]))
                self.assertEqual({str(one) for one in named[::2]}, {note.id for note in given.pages.footnotes})
                self.assertEqual({str(one.S) for one in named[1::2]}, {"/Note"})

    def test_all_of_whatever_notes_there_are_is_on_some_sheet(self) -> None:
        """A note longer than a page, three hundred in one paragraph, in a heading, a caption, a cell of a header row, a note in a
        note; on a page with columns as well. Nothing stands outside its sheet, and no note upon the text."""

        def sign(id: str) -> Run:
            return Run(INLINE_OBJECT, Marks(reference=Reference(id, "note")))

        def note(id: str, words: str, *more: Run) -> Paragraph:
            return Paragraph(id, "note", (Run(words), *more), note="foot")

        many = [f"m{at}" for at in range(300)]
        cell = Cell((Paragraph("cell", "cell", (Run("Gate"), sign("incell"))),))
        rows = tuple((Cell((Paragraph(f"r{at}", "cell", (Run(f"Row {at}"),)),)),) for at in range(60))
        blocks = (
            Paragraph("h", "heading-1", (Run("Of the gates"), sign("inheading"))),
            note("inheading", "In a heading."),
            Paragraph("p", runs=(Run("Words before "), sign("long"), Run(" and after."))),
            note("long", "Long as a tide. " * 700, sign("deep")),
            note("deep", "In a note."),
            Paragraph("all", runs=tuple(run for id in many for run in (Run(f"word {id} "), sign(id)))),
            *(note(id, f"Note of {id}.") for id in many),
            DataTable("t", ((cell,), *rows), 1),
            note("incell", "In a header row."),
            Paragraph("c", "caption", (Run("What was found"), sign("incaption")), caption="figure"),
            note("incaption", "In a caption."),
            Paragraph("end", runs=(Run("Last words."),)),
        )
        for columns, how in ((1, "page"), (2, "report")):
            report = Report("r", blocks, page=PageSetup(columns=columns, footnotes_counted=how, foot_middle=""))  # type: ignore[arg-type]
            pages = paginate(report, self.typefaces)
            data = pdf.write(walk.Written(report, pages, self.typefaces, {}))
            file = pypdfium2.PdfDocument(data)
            read = squeezed("".join(page.get_textpage().get_text_range() for page in file))
            for block in blocks:
                if isinstance(block, Paragraph) and block.note:
                    for sentence in {*block.text.replace(INLINE_OBJECT, "").split(". ")}:
                        self.assertIn(squeezed(sentence), read)
            self.assertGreaterEqual(read.count("Longasatide"), 690)  # those at the end of a page are parted
            for number, page in enumerate(file, 1):
                width, height = page.get_size()
                for one in page.get_objects():
                    left, bottom, right, top = one.get_bounds()
                    self.assertTrue(
                        left > -1 and right < width + 1 and bottom > 60 and top < height - 60,
                        (number, one.get_bounds()),
                    )
                for column in range(columns):
                    placed = [one for one in pages.content(number) if one.column == column]
                    text_ends = max(
                        (p.y + pages.boxes[p.box].extent(p.first, p.end) for p in placed if not p.foot), default=0.0
                    )
                    self.assertGreaterEqual(min((p.y for p in placed if p.foot), default=text_ends) + 1e-6, text_ends)

    def test_ways_back_are_paragraphs_of_their_own(self) -> None:
        blocks = (Paragraph("h", "heading-1", (Run("One"),)), Paragraph("p", runs=(Run("Last words."),)))
        report = Report("r", blocks, page=PageSetup(back_level=1, back_says="Back up"))
        report, pages = with_contents(report, self.typefaces)
        root = tagged(pdf.write(walk.Written(report, pages, self.typefaces, {})))
        words, back = root.kids[-2:]
        self.assertEqual((words.words, [kid.type for kid in back.kids]), ("Last words.", ["Link"]))
        self.assertEqual(back.words, "Back up")

    def test_what_is_there_for_its_looks_is_no_figure(self) -> None:
        root = self.of(Paragraph("a", runs=(Run("x"),)), Image("i", "p.png", 20.0, 10.0, "", decorative=True))
        self.assertEqual([kid.type for kid in root.kids], ["P"])

    def test_quotations_that_follow_each_other_are_one(self) -> None:
        root = self.of(
            *(Paragraph(id, style, (Run(id),)) for id, style in (("a", "quotation"), ("b", "quotation"), ("c", "body")))
        )
        self.assertEqual([(kid.type, len(kid.kids)) for kid in root.kids], [("BlockQuote", 2), ("P", 1)])

    def test_a_paragraph_over_pages_is_one_and_page_numbers_are_none(self) -> None:
        words = "word " * 4000
        (paragraph,) = self.of(Paragraph("a", runs=(Run(words),))).kids
        self.assertEqual(squeezed(paragraph.words), squeezed(words))

    def test_metadata_say_the_same_as_the_file(self) -> None:
        """14.3.2; 14289-1, 7.1: a title."""
        with pikepdf.open(BytesIO(self.data)) as file, file.open_metadata() as metadata:
            self.assertEqual(metadata["dc:title"], self.report.title)
            self.assertEqual(metadata["dc:language"], {self.report.page.language})
            self.assertTrue(file.Root.ViewerPreferences.DisplayDocTitle)


class WhatItSaysOfItself(TestCase):
    """ISO 32000-1, 14.3.3 and 14.9.2, read by ``pypdf`` and ``pikepdf``."""

    def test_title_authors_subject_language_and_dates_as_they_are(self) -> None:
        blocks = (
            Paragraph("t", "title", (Run("Lido"),)),
            Paragraph("s", "subtitle", (Run("Feasibility  and consents"),)),
        )
        report = Report("Lido – größer", blocks, page=PageSetup(language="de"))
        pages = paginate(report, Typefaces())
        about = walk.About(
            ("Ines Varga", "Tobias Okonjo"), datetime(2026, 11, 29, 9, 5, 7, tzinfo=timezone(timedelta(hours=2)))
        )
        data = pdf.write(walk.Written(report, pages, Typefaces(), {}, about=about))
        said = pypdf.PdfReader(BytesIO(data)).metadata
        self.assertEqual(
            (said.title, said.author, said.subject),
            ("Lido – größer", "Ines Varga, Tobias Okonjo", "Feasibility and consents"),
        )
        self.assertEqual((said["/CreationDate"], said["/ModDate"]), ("D:20261129070507Z", "D:20261129070507Z"))
        with pikepdf.open(BytesIO(data)) as opened:
            self.assertEqual(str(opened.Root.Lang), "de")

    def test_without_a_date_the_same_report_is_the_same_file(self) -> None:
        report = Report("r", (Paragraph("p", runs=(Run("x"),)),))
        one, other = (pdf.write(walk.Written(report, paginate(report, Typefaces()), Typefaces(), {})) for _ in range(2))
        self.assertEqual(one, other)
        self.assertEqual(pypdf.PdfReader(BytesIO(one)).metadata.author, "")


def numbered_report(seed: int) -> Report:
    """A report in up to five parts, each with numbers, paper and head of its own; no two headings have the same words."""
    random = Random(f"numbers {seed}")
    blocks: list[Block] = []
    parts: dict[str, Part] = {}
    for number in range(random.randint(1, 5)):
        id = f"p{number}"
        if number or random.random() < 0.3:
            blocks.append(PartStart(id))
        parts[id if blocks and blocks[-1] == PartStart(id) else FIRST] = Part(
            figures=random.choice((None, "decimal", "lower-roman", "upper-roman", "upper-letter", "none")),
            words=random.choice(("", "A-", "§ ")),
            start=random.choice((None, None, 1, 5)),
            begins=random.choice(("any", "right", "left")),
            page=random.choice(
                (
                    {},
                    {"width": 800.0, "height": 560.0},
                    {"columns": 2},
                    {"first_page": "none"},
                    {"head_right": "{part} {page}"},
                )
            ),
        )
        for index in range(random.randint(2, 8)):
            level = random.choice((1, 2, 3))
            blocks.append(
                Paragraph(f"h{number}-{index}", f"heading-{level}", (Run(f"Heading {seed} {number} {index} here"),))
            )
            for more in range(random.randint(0, 5)):
                key = f"{number}-{index}-{more}"
                blocks.append(any_block(Random(f"{seed} {number} {index} {more}"), f"b{key}"))
                if random.random() < 0.3:
                    sign = Run(INLINE_OBJECT, Marks(reference=Reference(f"n{key}", "note")))
                    words = f"Note {seed} {number} {index} {more} there. " + "On the water. " * random.choice(
                        (0, 9, 40)
                    )
                    kind = random.choice(("foot", "foot", "end"))
                    blocks.append(
                        Paragraph(f"q{key}", "body", (Run("Words of the gate"), sign, Run(" and of the water.")))
                    )
                    blocks.append(Paragraph(f"n{key}", "note", (Run(words),), note=kind))
    page = PageSetup(
        mirrored=seed % 2 == 0,
        left=100.0,
        right=50.0,
        head_left="{section 1}",
        foot_middle="{page} of {last}",
        footnotes_counted=random.choice(("report", "section", "page")),
        endnotes_at=random.choice(("report", "section")),
    )
    return Report(
        "r",
        tuple(
            b
            for b in blocks
            if not (isinstance(b, Paragraph) and b.style.startswith("heading") and "here" not in b.text)
        ),
        parts=parts,
        page=page,
    )


class PartsInTwoReaders(TestCase):
    def test_every_heading_is_on_the_page_and_every_page_has_the_label_that_the_core_says(self) -> None:
        """200 reports: the page on which ``pypdf`` and ``pypdfium2`` find each heading and note first, the labels of pages (ISO 32000-1, 12.4.2)
        as both say them, what is printed at the foot, the outline (12.3.3), and the size of each sheet (14.11.2)."""
        typefaces, seen = Typefaces(), set[str]()
        for seed in range(200):
            report = numbered_report(seed)
            pages = paginate(report, typefaces)
            data = pdf.write(walk.Written(report, pages, typefaces, {}))
            by_pypdf, by_pdfium = pypdf.PdfReader(BytesIO(data)), pypdfium2.PdfDocument(data)
            with self.subTest(seed=seed):
                labels = pages.labels[1:]
                self.assertEqual(by_pypdf.page_labels, labels)
                self.assertEqual([by_pdfium.get_page_label(at) for at in range(len(by_pdfium))], labels)
                texts = [[squeezed(page.get_textpage().get_text_bounded()) for page in by_pdfium]]
                if seed % 4 == 0:  # takes longest
                    texts.append([squeezed(page.extract_text()) for page in by_pypdf.pages])
                for heading in pages.headings:
                    for read in texts:
                        first = next(number for number, text in enumerate(read, 1) if squeezed(heading.text) in text)
                        self.assertEqual(first, pages.page_of(heading.block), heading.text)
                for note in pages.footnotes:
                    sign, words = pages.report.shown[f"note {note.id}"], report.blocks[note.block].text[:40]  # type: ignore[attr-defined]
                    for read in texts:
                        said = squeezed(sign + words[: words.index("there") + 5])
                        first = next(number for number, text in enumerate(read, 1) if said in text)
                        self.assertEqual(first, pages.page_of(note.block), words)
                    seen.add(note.kind)
                for number, text in enumerate(texts[0], 1):
                    if pages.starts[number - 1].part < 0:
                        self.assertEqual(text, "")
                        seen.add("left empty")
                    elif pages.label(number) and "first_page" not in pages.stretch(number).part.page:
                        self.assertTrue(
                            text.endswith(squeezed(f"{pages.label(number)} of {pages.last_of(number)}")), text[-40:]
                        )
                        seen.add(pages.counts[-1].figures or "none")
                sizes = [tuple(map(round, page.get_size())) for page in by_pdfium]
                drawing = Drawing(pages, typefaces)
                self.assertEqual(
                    sizes, [tuple(map(round, drawing.paper(number)[:2])) for number in range(1, len(pages) + 1)]
                )
                with pikepdf.open(BytesIO(data)) as file, file.open_outline() as bookmarks:
                    self.assertEqual(
                        [one.title for one in flattened(bookmarks.root)], [one.text for one in pages.headings]
                    )
        self.assertEqual(
            seen, {"foot", "end", "left empty", "none", "decimal", "lower-roman", "upper-roman", "upper-letter"}
        )


class Hyphenated(TestCase):
    def test_hyphens_that_are_none_of_the_report_s_read_as_such(self) -> None:
        """ISO 32000-1, 14.9.4: each is marked as a soft hyphen, so the words of the report are found again without it."""
        words = "The neighbouring foundations of masonry, understanding considerable quantities were unavoidable. " * 6
        styles = StyleSheet(
            replace(one, hyphenate=True, align="justify") if one.role == "body" else one
            for one in default_styles().values()
        )
        report = Report(
            "r", (Paragraph("a", "body", (Run(words.strip()),)),), styles, page=PageSetup(width=330.0, foot_middle="")
        )
        typefaces = Typefaces()
        data = pdf.write(walk.Written(report, paginate(report, typefaces), typefaces, {}))
        with pikepdf.open(BytesIO(data)) as file:
            content = b"".join(page.Contents.read_bytes() for page in file.pages)
        hyphens = content.count(b"/ActualText <FEFF00AD>")
        self.assertGreater(hyphens, 4)
        self.assertEqual(content.count(b"BDC") + content.count(b"BMC"), content.count(b"EMC"))
        read = "".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(data))
        # U+FFFE is how this reader says a hyphen that is to be left out.
        self.assertEqual(read.count("\ufffe"), hyphens)
        self.assertEqual(" ".join(read.replace("\ufffe", "").split()), words.strip())
