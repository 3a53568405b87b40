"""Pictures with text beside them: placed with a word, shown in the text as they are printed."""

from __future__ import annotations

import io
from pathlib import Path

import pypdfium2
from PIL import Image as Pillow
from playwright.sync_api import Page, expect

from .application import OWNER, Journey, chord, put_cursor, rib, take_away, text_of

SENTENCE = "The gate was closed at dusk and the water in the basin stood still until the morning. "
TEXT = f"# Silt\n\nBefore it.\n\n{SENTENCE * 2}\n\n{SENTENCE * 9}\n\n# Weirs\n\nLast words.\n"


def lines_in_the_text(page: Page) -> list[str]:
    """The lines of the paragraphs of sentences, as the browser breaks them."""
    return page.evaluate(
        """() => [...document.querySelectorAll('.ProseMirror p')].filter((one) => one.textContent.length > 100).flatMap((one) => {
            const range = document.createRange();
            const lines = new Map();
            const text = one.firstChild;
            for (let at = 0; at < text.length; at += 1) {
                range.setStart(text, at);
                range.setEnd(text, at + 1);
                const top = Math.round(range.getClientRects()[0].top);
                lines.set(top, (lines.get(top) ?? '') + text.data[at]);
            }
            return [...lines.values()].map((line) => line.trim());
        })"""
    )


class PicturesBeside(Journey):
    def printed(self, page: Page) -> list[str]:
        with page.expect_download() as download:
            take_away(page)
        sheet = pypdfium2.PdfDocument(Path(download.value.path()).read_bytes())[0]
        lines = [line.strip() for line in sheet.get_textpage().get_text_bounded().splitlines()]
        return lines[lines.index("Before it.") + 1 : lines.index("Weirs")]

    def test_text_stands_beside_it_as_it_is_printed(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "beside.md", TEXT.encode())
        rib(page, "Weirs").wait_for()
        put_cursor(page, "Before it.")
        data = io.BytesIO()
        Pillow.new("RGB", (400, 300), (90, 140, 160)).save(data, "PNG")
        with page.expect_file_chooser() as chooser:
            chord(page, "i")
            page.get_by_role("menuitem", name="Picture …").click()
        chooser.value.set_files({"name": "gate.png", "mimeType": "image/png", "buffer": data.getvalue()})
        picture = text_of(page).locator("figure img")
        picture.click()
        plain = lines_in_the_text(page)
        width = page.get_by_label("Width of the picture")
        width.fill("180")
        width.press("Enter")
        expect(picture).to_have_css("width", "240px")
        expect(picture).to_have_css("height", "180px")
        for side in ("left", "right"):
            page.get_by_label("Where the picture stands").select_option(label=f"at the {side}, text beside it")
            expect(text_of(page).locator("figure")).to_have_attribute("data-beside", side)
            lines = lines_in_the_text(page)
            self.assertGreater(len(lines), len(plain))
            self.assertEqual(self.printed(page), lines)
        # One that leaves no room beside it has its words beneath, here as there.
        picture.click()
        for side in ("left", "right"):
            page.get_by_label("Where the picture stands").select_option(label=f"at the {side}, text beside it")
            width.fill("400")
            width.press("Enter")
            expect(picture).to_have_css("width", "533.328px")
            self.assertEqual(lines_in_the_text(page), plain)
            self.assertEqual(self.printed(page), plain)
        width.fill("180")
        width.press("Enter")
        self.assert_accessible(page)
        # A press on words beside it goes to these, and what is typed there stays.
        put_cursor(page, SENTENCE * 2)
        page.keyboard.type("Typed beside it.")
        expect(text_of(page).get_by_text("Typed beside it.")).to_have_count(1)
        self.assertEqual(self.printed(page), lines_in_the_text(page))
        page.get_by_role("button", name="Take away", exact=True).focus()
        text_of(page).focus()
        for _ in range(3):
            page.keyboard.press("Control+z")
        expect(text_of(page).get_by_text("Typed beside it.")).to_have_count(0)
