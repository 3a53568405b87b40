"""Text widths against the published metrics of the standard PDF fonts.

Source: the AFM tables in ``reportlab.pdfbase._fontdata``; second reader: the ``hmtx`` table through fontTools.
"""

from __future__ import annotations

from io import BytesIO
from unittest import TestCase

from fontTools.ttLib import TTFont
from reportlab.pdfbase import _fontdata, pdfmetrics

from mellowspine.core.pages.typefaces import Typefaces

PAIRS = {
    "Helvetica": ("Liberation Sans", False, False),
    "Helvetica-Bold": ("Liberation Sans", True, False),
    "Helvetica-Oblique": ("Liberation Sans", False, True),
    "Times-Roman": ("Liberation Serif", False, False),
    "Times-Bold": ("Liberation Serif", True, False),
    "Times-BoldItalic": ("Liberation Serif", True, True),
    "Courier": ("Liberation Mono", False, False),
}
LATIN = [c for c in map(chr, [*range(33, 127), *range(0xC0, 0x100)]) if c not in "'`^~|÷×"]
"""Without the quotes and accents of ASCII, which the encodings give to other glyphs, and without ÷ and ×, of which the
Liberation faces have narrower ones."""


class Widths(TestCase):
    def test_every_letter_has_the_width_that_the_standard_fonts_have(self) -> None:
        names = {chr(code): name for code, name in enumerate(_fontdata.encodings["WinAnsiEncoding"]) if name}
        for standard, (font, bold, italic) in PAIRS.items():
            face = Typefaces().face(font, bold, italic)
            published = _fontdata.widthsByFontGlyph[standard]
            for letter in LATIN:
                self.assertAlmostEqual(
                    face.width(letter), published[names[letter]] / 1000, delta=0.001, msg=(font, letter)
                )

    def test_widths_are_those_of_the_font_file(self) -> None:
        for font in ("Caladea", "Carlito"):
            face = Typefaces().face(font)
            file = TTFont(BytesIO(face.blob.data))
            glyphs, units = file.getBestCmap(), file["head"].unitsPerEm
            for letter in LATIN:
                self.assertAlmostEqual(face.width(letter), file["hmtx"][glyphs[ord(letter)]][0] / units)

    def test_a_line_without_kerning_pairs_is_as_wide_as_the_standard_font_says(self) -> None:
        words = "Minimum housing in common units"
        face = Typefaces().face("Liberation Mono")
        self.assertAlmostEqual(face.width(words) * 10, pdfmetrics.stringWidth(words, "Courier", 10), places=1)
