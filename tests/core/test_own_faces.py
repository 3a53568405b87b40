"""Typefaces that a report has of its own: which files it may have, and words set in them. OpenType: ISO/IEC 14496-22."""

from __future__ import annotations

import re
import sys
from io import BytesIO
from random import Random
from types import FrameType
from unittest import TestCase, mock

import pikepdf
import pypdfium2
from fontTools.ttLib import TTFont

from mellowspine.core.formats.imported import FileRefused
from mellowspine.core.formats.pdf import fonts, write
from mellowspine.core.formats.typeface_files import face_file
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.typefaces import FONT_FOLDER, Face, FaceFile, Typefaces, families_named, family, named
from mellowspine.core.report.blocks import Marks, Paragraph, Run
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import default_styles
from mellowspine.core.tables.settle import settle_all

from .made_faces import face_data

STYLES = default_styles()


def report(words: str, marks: Marks) -> Report:
    return Report("Sluices", (Paragraph("a", STYLES.role("body").id, (Run(words, marks),)),), STYLES)


def printed(of: Report, typefaces: Typefaces) -> bytes:
    settled, pages = settle_all(of, typefaces)
    return write(Written(settled, pages, typefaces, {}))


class Names(TestCase):
    def test_a_shipped_family_has_its_own_spelling_and_others_keep_theirs(self) -> None:
        self.assertEqual([*map(named, ("carlito", "Garamond", " Quill Hand "))], ["Carlito", "Garamond", "Quill Hand"])

    def test_what_no_report_can_name_is_called_as_what_stands_in_for_it(self) -> None:
        self.assertEqual(
            [*map(named, ('Mono "x"', "", "a" * 61))], ["Liberation Mono", "Liberation Sans", "Liberation Sans"]
        )

    def test_a_report_says_which_families_it_asks_for(self) -> None:
        found = families_named(report("Weir", Marks(font="Quill Hand")))
        self.assertEqual(found, {"Quill Hand", STYLES.role("body").font})


class Files(TestCase):
    def refused(self, data: bytes) -> str:
        with self.assertRaises(FileRefused) as caught:
            face_file(data)
        message = str(caught.exception)
        self.assertRegex(message, r"^[A-Z][^\n]*; [^\n]*\.$")
        return message

    def test_a_file_says_what_it_is(self) -> None:
        found = face_file(face_data("Quill Hand", bold=True, italic=True))
        self.assertEqual((found.family, found.bold, found.italic, found.whole), ("Quill Hand", True, True, False))

    def test_the_licence_decides(self) -> None:
        # OS/2, fsType: 0 installable, 2 restricted, 4 preview and print, 8 editable, 0x100 no subsetting, 0x200 bitmaps only.
        for licence, allowed in (
            (0, True),
            (2, False),
            (4, False),
            (8, True),
            (0x100, True),
            (0x108, True),
            (0x200, False),
            (12, True),
        ):
            with self.subTest(licence=licence):
                data = face_data(licence=licence)
                if allowed:
                    self.assertEqual(face_file(data).whole, bool(licence & 0x100))
                else:
                    self.assertIn("licence of Quill Hand does not allow", self.refused(data))

    def test_what_is_no_single_truetype_face_is_refused_with_what_to_bring(self) -> None:
        data = face_data()
        for begins, said in (
            (b"OTTO", "PostScript"),
            (b"ttcf", "several faces"),
            (b"wOF2", "web pages"),
            (b"\x89PNG", "no typeface"),
            (b"", "no typeface"),
        ):
            self.assertIn(said, self.refused(begins + data[4:] if begins else b""))

    def test_a_family_that_is_here_already_is_not_brought_in(self) -> None:
        self.assertIn("Carlito is here already", self.refused((FONT_FOLDER / "Carlito-Bold.ttf").read_bytes()))

    def test_a_table_that_is_lacking_is_named(self) -> None:
        file = TTFont(BytesIO(face_data()))
        del file["OS/2"]
        out = BytesIO()
        file.save(out)
        self.assertIn("“OS/2”", self.refused(out.getvalue()))

    def test_damaged_files_are_refused_or_set(self) -> None:
        self.enterContext(self.assertLogs("mellowspine"))
        data, random = face_data(), Random(7)
        for _ in range(300):
            broken = bytearray(data)
            for _ in range(random.choice((1, 4, 40))):
                broken[random.randrange(len(broken))] = random.randrange(256)
            one = bytes(broken[: random.choice((len(broken), random.randrange(len(broken))))])
            try:
                found = face_file(one)
            except FileRefused:
                continue
            # Be it as it is: the report is printed.
            of_it = report("Weirs of 1900, and ☐", Marks(font=found.family))
            self.assertTrue(printed(of_it, Typefaces([found])).startswith(b"%PDF"))


class Set(TestCase):
    def faces(self, *files: bytes) -> Typefaces:
        return Typefaces(map(face_file, files))

    def test_words_are_as_wide_as_the_file_says(self) -> None:
        typefaces = self.faces(face_data(width=700))
        self.assertAlmostEqual(typefaces.face("quill hand").width("Weir"), 4 * 0.7)
        self.assertEqual(typefaces.face("Quill Foot").font, family("Quill Foot"))

    def test_what_it_lacks_is_set_in_what_stands_in_for_it(self) -> None:
        typefaces = self.faces(face_data())
        face = typefaces.face("Quill Hand")
        self.assertEqual([(length, one.font) for length, one in typefaces.parted("We’re ☐", face)],
                         [(2, "Quill Hand"), (1, "Liberation Sans"), (3, "Quill Hand"), (1, "DejaVu Sans")])  # fmt: skip

    def test_of_a_family_the_nearest_face_is_taken_the_slant_before_the_weight(self) -> None:
        typefaces = self.faces(face_data(), face_data(bold=True), face_data(italic=True))
        found = [
            typefaces.face("Quill Hand", bold, italic) for bold, italic in ((True, True), (True, False), (False, False))
        ]
        self.assertEqual([(one.bold, one.italic) for one in found], [(False, True), (True, False), (False, False)])

    def test_figures_of_different_widths_are_one_width_in_what_the_core_writes(self) -> None:
        file = TTFont(BytesIO(face_data()))
        file["hmtx"]["uni0031"] = (400, 50)
        out = BytesIO()
        file.save(out)
        face = self.faces(out.getvalue()).face("Quill Hand", tabular=True)
        self.assertAlmostEqual(face.width("1"), face.width("2"))

    def test_a_pdf_holds_the_face_and_its_words_are_found(self) -> None:
        for licence in (0, 0x100):
            with self.subTest(licence=licence):
                source = face_data(licence=licence)
                data = printed(report("Weirs of 1900", Marks(font="Quill Hand", size=20)), self.faces(source))
                page = pypdfium2.PdfDocument(data)[0].get_textpage()
                self.assertIn("Weirs of 1900", page.get_text_bounded())
                left, _, right, _ = page.get_charbox(0, loose=True)
                self.assertAlmostEqual(right - left, 14, delta=0.1)
                file = pikepdf.open(BytesIO(data))
                fonts = file.pages[0].Resources.Font
                names = [str(font.BaseFont) for font in fonts.values()]
                (own,) = [font for font in fonts.values() if "QuillHand" in str(font.BaseFont)]
                embedded = own.DescendantFonts[0].FontDescriptor.FontFile2.read_bytes()
                self.assertEqual(embedded == source, licence == 0x100)
                self.assertEqual(any("+QuillHand" in name for name in names), licence == 0)

    def test_without_its_file_words_are_set_in_what_stands_in_for_it(self) -> None:
        named_so = report("Weirs", Marks(font="Garamond"))
        shown = report("Weirs", Marks(font="Liberation Serif"))
        self.assertEqual(printed(named_so, Typefaces()), printed(shown, Typefaces()))

    def test_shipped_faces_have_what_is_taken_for_sure(self) -> None:
        for path in FONT_FOLDER.glob("*-Regular.ttf"):
            if path.stem.startswith(("STIX", "DejaVu")):
                continue
            name = path.stem.removesuffix("-Regular")
            font = {
                "LiberationSans": "Liberation Sans",
                "LiberationSerif": "Liberation Serif",
                "LiberationMono": "Liberation Mono",
            }.get(name, name)
            own = FaceFile(font, False, False, path.read_bytes())
            self.assertTrue(Face(font, False, False, own=own).has_sure, font)


class Glyphs(TestCase):
    """Words of a PDF, however long they are and whatever they hold."""

    def calls(self, word: str) -> int:
        """How much is called for a word."""
        face, count = Typefaces().face("Carlito"), 0

        def note(frame: FrameType, event: str, given: object) -> None:
            nonlocal count
            count += event in ("call", "c_call")

        glyphs = fonts.Glyphs(face, "F")
        sys.setprofile(note)
        try:
            glyphs.shown(word)
        finally:
            sys.setprofile(None)
        return count

    def test_a_word_costs_as_much_as_it_is_long(self) -> None:
        self.calls("a")  # reads the file
        for letters in ("a" + "\u0301" * 999, "AV" * 500, "x" * 1000):
            once, twice, fourfold = (self.calls(letters * times) for times in (1, 2, 4))
            self.assertLess(fourfold - twice, 2.5 * (twice - once))

    def test_glyphs_that_say_many_things_have_codes_of_two_bytes(self) -> None:
        glyphs = fonts.Glyphs(Typefaces().face("Carlito"), "F")
        with mock.patch.object(fonts, "_LAST_CODE", glyphs._file.glyph_count + 5):
            shown = glyphs.shown(" ".join(map(chr, range(0x4E00, 0x4E40))))  # of which it has none
        codes = re.findall(rb"[0-9a-f]{4}", b"".join(re.findall(rb"<([0-9a-f]*)>", shown)))
        self.assertLessEqual(max(int(one, 16) for one in codes), glyphs._file.glyph_count + 5)
        self.assertEqual(len(codes), 127)
        self.assertIsInstance(glyphs.put_into(pikepdf.Pdf.new()), pikepdf.Object)
