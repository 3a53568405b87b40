"""The way from a file to a contents table that is right, and away with a PDF."""

from __future__ import annotations

from io import BytesIO

from playwright.sync_api import expect
from pypdf import PdfReader

from .application import OWNER, Journey, chord, how_far_behind, put_cursor, put_in, rib, take_away, text_of

LONG = "The wall was looked at again and found to be as it had been described before. " * 14
SOURCE = "\n\n".join(["Opening words", *[LONG] * 4, "The gate", *[LONG] * 3, "The pump", LONG, "Last words"])


class FirstReport(Journey):
    def test_from_a_file_to_a_pdf_whose_contents_are_right(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "wall.txt", SOURCE.encode(), "text/plain")

        # Headings: one with the gutter tag, one with the keyboard.
        page.locator(".ProseMirror p").filter(has_text="The gate").first.click()
        page.get_by_role("button", name="style Body text").click()
        page.get_by_role("menuitem", name="Heading 1").click()
        expect(rib(page, "The gate")).to_contain_text("2")
        put_cursor(page, "The pump")
        chord(page, "2")
        expect(rib(page, "The pump")).to_be_visible()

        # Contents at the cursor, on a page of their own.
        put_cursor(page, "Opening words")
        page.get_by_role("button", name="Contents on a page of its own").click()
        leaf = page.get_by_role("region", name="Table leaf")
        expect(leaf.get_by_role("heading", name="Forms")).to_be_visible()
        leaf.get_by_role("button", name="Done", exact=True).click()
        expect(leaf.get_by_role("link", name="The gate")).to_be_visible()
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")
        before = rib(page, "The pump").inner_text().split()[-1]

        # Write until a heading moves to another page.
        put_cursor(page, LONG[:60])
        page.keyboard.insert_text(" " + LONG * 4)
        expect(how_far_behind(page)).to_have_text("◇ 2 lines behind")
        after = rib(page, "The pump").inner_text().split()[-1]
        self.assertEqual(int(after), int(before) + 1)
        expect(leaf.locator("[data-kinds='page']")).to_have_count(2)

        # Press a line; come back.
        scroller = page.locator(".text-of-report").locator("..")
        scroller.evaluate("element => element.scrollTo(0, 40)")
        leaf.get_by_role("link", name="The pump").click()
        expect(page.locator(".ProseMirror p").filter(has_text="The pump")).to_be_in_viewport()
        page.get_by_role("button", name="Back to where you were").click()
        expect(page.locator(".ProseMirror p").first).to_be_in_viewport()
        self.assertEqual(scroller.evaluate("element => element.scrollTop"), 40)

        # Only the page numbers, then a new name, then everything.
        leaf.get_by_role("button", name="Catch up page numbers").click()
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")
        put_cursor(page, "The pump")
        page.keyboard.type(" house")
        expect(rib(page, "The pump house")).to_be_visible()
        expect(how_far_behind(page)).to_have_text("◇ 1 line behind")
        expect(leaf.get_by_text("renamed", exact=True)).to_be_visible()
        leaf.get_by_role("button", name="Catch up everything").click()
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")
        expect(leaf.get_by_role("link", name="The pump house")).to_be_visible()

        # The same page in the PDF.
        with page.expect_download() as download:
            take_away(page)
        pdf = PdfReader(BytesIO(download.value.path().read_bytes()))
        self.assertIn("The pump house", pdf.pages[int(after) - 1].extract_text())
        self.assertTrue([link for link in pdf.pages[1].annotations if link.get_object()["/Subtype"] == "/Link"])

    def test_many_paragraphs_become_headings_at_once(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "three.txt", b"One\n\nTwo\n\nThree", "text/plain")
        put_cursor(page, "One", end=False)
        page.keyboard.press("Control+a")
        chord(page, "3")
        expect(page.get_by_role("navigation", name="Spine").locator("[data-rib]")).to_have_count(3)
        chord(page, ",")
        expect(page.locator(".ProseMirror p[data-style='heading-2']")).to_have_count(3)
        page.keyboard.press("Control+z")
        expect(page.locator(".ProseMirror p[data-style='heading-3']")).to_have_count(3)

    def test_all_paragraphs_that_look_alike_become_headings(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "alike.md", b"**Aims**\n\nText.\n\n**Means**\n\nMore *text*.\n\n**Ends**")
        page.locator(".ProseMirror p").filter(has_text="Means").click()
        page.get_by_role("button", name="style Body text").click()
        page.get_by_role("menuitemcheckbox", name="All 3 that look like this one").click()
        page.get_by_role("menuitem", name="Heading 1", exact=False).click()
        expect(page.get_by_role("navigation", name="Spine").locator("[data-rib]")).to_have_text(
            ["Aims 1", "Means 1", "Ends 1"]
        )

    def test_a_table_that_is_removed_comes_back_with_undo(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "short.md", b"# Only heading\n\nWords.")
        put_cursor(page, "Words.")
        chord(page, "i")
        put_in(page, "Contents table")
        leaf = page.get_by_role("region", name="Table leaf")
        leaf.get_by_role("button", name="Done", exact=True).click()
        leaf.get_by_role("link", name="Only heading").wait_for()
        leaf.get_by_role("button", name="Remove this table").click()
        expect(leaf.get_by_role("heading", name="No table yet")).to_be_visible()
        page.keyboard.press("Control+z")
        expect(leaf.get_by_role("link", name="Only heading")).to_be_visible()

    def test_a_bad_file_is_refused_with_a_sentence_and_leaves_nothing(self) -> None:
        page = self.enter(OWNER)
        page.locator("main li a").first.wait_for()
        before = page.locator("main li a").count()
        page.get_by_label("File to bring in").set_input_files(
            {"name": "broken.docx", "mimeType": "application/octet-stream", "buffer": b"PK\x03\x04 not really"}
        )
        expect(page.get_by_role("alert")).to_contain_text("is not an Office Open XML document")
        self.assertEqual(page.locator("main li a").count(), before)

    def test_enter_behind_a_heading_gives_body_text_and_a_split_keeps_the_first_id(self) -> None:
        page = self.enter(OWNER)
        self.start_report(page, "Splits")
        expect(text_of(page)).to_be_focused()
        expect(page.locator("[data-hint]")).to_have_count(1)
        page.keyboard.type("A heading")
        expect(page.locator("[data-hint]")).to_have_count(0)
        first = page.locator(".ProseMirror p").first.get_attribute("data-id")
        page.keyboard.press("Enter")
        page.keyboard.type("left right")
        for _ in range(5):
            page.keyboard.press("ArrowLeft")
        page.keyboard.press("Enter")
        styles = page.locator(".ProseMirror p").evaluate_all("all => all.map(p => p.dataset.style)")
        self.assertEqual(styles, ["heading-1", "body", "body", "body"])
        ids = page.locator(".ProseMirror p").evaluate_all("all => all.map(p => p.dataset.id)")
        self.assertEqual(ids[0], first)
        self.assertEqual(len(set(ids)), 4)
