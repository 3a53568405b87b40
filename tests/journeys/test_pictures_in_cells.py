"""Pictures in the cells of data tables: put in by the look line, the clipboard and by dropping, and printed where they stand."""

from __future__ import annotations

import base64
import io
from pathlib import Path

import pypdfium2
from PIL import Image as Pillow
from playwright.sync_api import Page, expect

from .application import OWNER, Journey, put_cursor, rib, take_away, text_of

TEXT = "# Gates\n\n| Gate | Seen from the quay |\n| --- | --- |\n| North | closed |\n| South | open |\n\n# Weirs\n\nLast words.\n"


def png(colour: tuple[int, int, int]) -> bytes:
    data = io.BytesIO()
    Pillow.new("RGB", (160, 120), colour).save(data, "PNG")
    return data.getvalue()


DROP = """(target, [data, kind]) => {
    const held = new DataTransfer();
    const bytes = Uint8Array.from(atob(data), (one) => one.charCodeAt(0));
    held.items.add(new File([bytes], 'gate.png', { type: 'image/png' }));
    const { left, top, width, height } = target.getBoundingClientRect();
    const at = { clientX: left + width / 2, clientY: top + height / 2, bubbles: true, cancelable: true };
    if (kind === 'paste') target.dispatchEvent(new ClipboardEvent('paste', { clipboardData: held, ...at }));
    else for (const type of ['dragover', kind]) target.dispatchEvent(new DragEvent(type, { dataTransfer: held, ...at }));
}"""


class PicturesInCells(Journey):
    def drawn(self, page: Page) -> list[tuple[float, float, float, float]]:
        """Where the pictures stand on the first sheet of the PDF, in points from its left and top: left, top, right, bottom."""
        with page.expect_download() as download:
            take_away(page)
        sheet = pypdfium2.PdfDocument(Path(download.value.path()).read_bytes())[0]
        high = sheet.get_height()
        found = [one.get_bounds() for one in sheet.get_objects(filter=[3])]  # FPDF_PAGEOBJ_IMAGE
        return [(left, high - top, right, high - bottom) for left, bottom, right, top in found]

    def test_they_are_put_into_the_cell_at_hand_and_printed_there(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "gates.md", TEXT.encode())
        rib(page, "Weirs").wait_for()
        text = text_of(page)
        cell = text.locator("td")
        # By the look line, with the cursor in the cell.
        put_cursor(page, "closed")
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name="Picture into this cell …").click()
        chooser.value.set_files({"name": "gate.png", "mimeType": "image/png", "buffer": png((90, 140, 160))})
        expect(cell.nth(3).locator("p, figure")).to_have_count(2)
        expect(cell.nth(3).locator("figure.ProseMirror-selectednode")).to_have_count(1)
        # It is at hand: nothing stands beside it in a cell, and it is as wide as it is to be.
        stands = page.get_by_label("Where the picture stands")
        self.assertEqual(stands.locator("option").all_inner_texts(), ["in the middle", "at the left", "at the right"])
        stands.select_option(label="at the right")
        width = page.get_by_label("Width of the picture")
        width.fill("60")
        width.press("Enter")
        expect(cell.nth(3).locator("img")).to_have_css("width", "80px")
        described = page.get_by_label("What the picture shows, for those who do not see it")
        described.fill("The north gate")
        described.press("Enter")
        # By dropping it there, where the cell shows that it takes it.
        held = base64.b64encode(png((160, 90, 90))).decode()
        cell.nth(5).evaluate(DROP, [held, "drop"])
        expect(cell.nth(5).locator("figure")).to_have_count(1)
        expect(page.locator(".into-cell")).to_have_count(0)
        # By the clipboard.
        put_cursor(page, "North")
        text.locator("td p", has_text="North").evaluate(DROP, [held, "paste"])
        expect(cell.nth(2).locator("figure")).to_have_count(1)
        self.assert_accessible(page)
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        # Printed where they stand: the first as wide as said, at the right of its cell.
        pictures = self.drawn(page)
        self.assertEqual(len(pictures), 3)
        self.assertTrue(any(abs(right - left - 60.0) < 0.1 for left, _, right, _ in pictures))
        # Others see them, also in a browser that opens the report later.
        page.reload()
        expect(text_of(page).locator("td figure")).to_have_count(3)
        expect(text_of(page).get_by_role("img", name="The north gate")).to_have_count(1)

    def test_by_keys_alone_they_are_reached_left_and_taken_out(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "gates.md", TEXT.encode())
        rib(page, "Weirs").wait_for()
        text = text_of(page)
        put_cursor(page, "closed")
        for _ in range(6):
            page.keyboard.press("Backspace")
        text.locator("td").nth(3).locator("p").evaluate(DROP, [base64.b64encode(png((90, 140, 160))).decode(), "paste"])
        # Alone in its cell: the row is as high as it is.
        cell = text.locator("td").nth(3)
        expect(cell.locator("p")).to_have_count(0)
        expect(cell.locator("figure.ProseMirror-selectednode")).to_have_count(1)
        page.keyboard.press("Tab")
        page.keyboard.type("Far ")
        expect(text.locator("td").nth(4)).to_have_text("Far ")
        page.keyboard.press("Shift+Tab")
        expect(cell.locator("figure.ProseMirror-selectednode")).to_have_count(1)
        page.keyboard.type("Seen at dusk")
        expect(cell.locator("figure + p")).to_have_text("Seen at dusk")
        page.keyboard.press("Home")
        page.keyboard.press("ArrowLeft")
        expect(cell.locator("figure.ProseMirror-selectednode")).to_have_count(1)
        page.keyboard.press("Delete")
        expect(cell.locator("figure")).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(cell.locator("figure")).to_have_count(1)
