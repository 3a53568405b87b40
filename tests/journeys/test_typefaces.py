"""A typeface that the report asks for and that is not here: said, brought in, set, seen by the others, and taken out again."""

from __future__ import annotations

import re
from io import BytesIO
from pathlib import Path

import pypdfium2
from docx import Document
from playwright.sync_api import Page, expect

from tests.core.made_faces import face_data

from .application import OWNER, Journey, look_line, put_cursor, show_panel, take_away, text_of, whole_look

WORDS = "Weirs and sluices of the upper basin, as they were found. "
DOCX = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"


def document() -> bytes:
    made, data = Document(), BytesIO()
    made.styles["Normal"].font.name = "Quill Hand"
    made.add_heading("Basin", 1)
    made.add_paragraph(WORDS * 12)
    made.save(data)
    return data.getvalue()


class Typefaces(Journey):
    def width_of_letters(self, page: Page) -> float:
        """Of the first ten letters of the text, in their size."""
        return float(
            text_of(page)
            .locator("p", has_text="Weirs and")
            .evaluate(
                """p => {
                    const words = document.createTreeWalker(p, NodeFilter.SHOW_TEXT).nextNode();
                    const range = document.createRange();
                    range.setStart(words, 0);
                    range.setEnd(words, 10);
                    return range.getBoundingClientRect().width / parseFloat(getComputedStyle(p).fontSize);
                }"""
            )
        )

    def test_a_face_that_is_not_here_is_brought_in_for_the_report(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "basin.docx", document(), DOCX)
        panel = show_panel(page, "Faces")
        row = panel.get_by_role("listitem").filter(has_text="Quill Hand")
        expect(row).to_contain_text("Not here: shown in Liberation Sans")
        put_cursor(page, "Weirs and")
        expect(whole_look(page).get_by_role("combobox", name="Typeface").locator("option:checked")).to_have_text(
            "Quill Hand (shown in Liberation Sans)"
        )
        self.assertLess(self.width_of_letters(page), 6)
        self.assert_accessible(page)

        # Not every file will do.
        file = panel.get_by_label("Typeface file to bring in")
        file.set_input_files({"name": "quill.ttf", "mimeType": "font/ttf", "buffer": face_data(licence=2)})
        expect(page.get_by_text("The licence of Quill Hand does not allow it to be embedded")).to_be_visible()

        file.set_input_files({"name": "quill.ttf", "mimeType": "font/ttf", "buffer": face_data(width=700)})
        expect(row).to_contain_text("Of this report")
        page.wait_for_function(
            "() => [...document.fonts].some(face => face.family.includes('Quill') && face.status === 'loaded')"
        )
        self.assertAlmostEqual(self.width_of_letters(page), 7, delta=0.02)
        expect(look_line(page).get_by_role("combobox", name="Typeface").locator("option:checked")).to_have_text(
            "Quill Hand"
        )

        # Pages and text agree on its lines, and so does the PDF.
        with page.expect_download() as download:
            take_away(page)
        printed = pypdfium2.PdfDocument(Path(download.value.path()).read_bytes())
        lines = [
            line for at in range(len(printed)) for line in printed[at].get_textpage().get_text_bounded().splitlines()
        ]
        of_words = [line for line in lines if re.search("Weirs|sluices|upper|basin,|they|found", line)]
        in_text = (
            text_of(page)
            .locator("p", has_text="Weirs and")
            .evaluate(
                """p => {
                    const range = document.createRange();
                    range.selectNodeContents(p);
                    return new Set([...range.getClientRects()].map(one => Math.round(one.top))).size;
                }"""
            )
        )
        self.assertGreater(in_text, 10)
        self.assertEqual(in_text, len(of_words))

        # The others see it at once.
        other = self.enter(OWNER)
        other.goto(page.url)
        expect(show_panel(other, "Faces").get_by_role("listitem").filter(has_text="Quill Hand")).to_contain_text(
            "Of this report"
        )

        panel.get_by_role("button", name="Take out Quill Hand, regular").click()
        expect(row).to_contain_text("Not here: shown in Liberation Sans")
        expect(show_panel(other, "Faces").get_by_role("listitem").filter(has_text="Quill Hand")).to_contain_text(
            "Not here"
        )
        self.assertLess(self.width_of_letters(page), 6)
