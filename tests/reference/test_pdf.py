"""Our PDF, read by others: page numbers, links and outline.

``pypdf`` and ``pypdfium2`` each look for the headings; ``pikepdf`` reads the links (ISO 32000-1, 12.5.6.5), their
destinations (12.3.2) and the outline (12.3.3). The .docx files are sample files of python-docx (its source
distribution), fetched with ``tests/samples.sh``.
"""

from __future__ import annotations

import re
from datetime import datetime, timedelta, timezone
from io import BytesIO
from pathlib import Path
from unittest import TestCase

import pikepdf
import pypdf
import pypdfium2
from PIL import Image as Pillow

from demo.load import QUILLMERE, demonstration, with_contents_alone
from mellowspine.core.formats import pdf, read, walk
from mellowspine.core.formats.imported import Imported
from mellowspine.core.pages.lines import InFaces, Lines, pieces
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Image, Marks, Paragraph, Run
from mellowspine.core.report.report import PageSetup, Report
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.settle import with_contents

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
                self.assertEqual(found, [*lines, *map(written.pages.page_of_place, led_to)])

    def test_references_say_the_pages_and_numbers_that_two_readers_find(self) -> None:
        """Every place that a reference leads to is found, with what the reference says of it, on the page that its link has."""
        written = self.written["Quillmere Lido Restoration"]
        places, report = written.pages.places, written.pages.report
        seen = 0
        for _, one in written.pages.noted:
            for lead in one.leads:
                place = places[lead.to]
                front = f"{place.label} {place.number}: " if place.kind == "caption" else place.number
                words = squeezed(front + place.text)
                self.assertIn(report.shown[lead.key], (place.number, f"{place.label} {place.number}"))
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
            pieces(
                block,
                style,
                report.page.text_width,
                InFaces(block, style, typefaces),
                Lines(box.starts, box.heights),
                [0],
            )
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
