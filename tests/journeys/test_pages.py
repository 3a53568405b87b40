"""Pages as people set them up: parts, heads and feet, paper; and the proof, which shows them exactly."""

from __future__ import annotations

import re
from io import BytesIO
from pathlib import Path

import pypdfium2
from PIL import Image as Pillow
from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from .application import (
    OWNER,
    READER,
    Journey,
    chord,
    put_cursor,
    put_in,
    rib,
    show_panel,
    table_leaf,
    take_away,
    text_of,
    whole_look,
)

SENTENCE = "The gate was closed at dusk and the water in the basin stood still until the morning. "
TEXT = "\n\n".join(
    [
        "Foreword words.",
        *(f"# {name}\n\n{SENTENCE * 30}\n\nLast words of {name}." for name in ("Silt", "Locks", "Weirs")),
        "# Soundings\n\nWords of the soundings.",
    ]
)


def _sign() -> bytes:
    made = BytesIO()
    Pillow.new("RGB", (60, 30), "#33263b").save(made, "PNG")
    return made.getvalue()


SIGN = _sign()


class Pages(Journey):
    def open(self, name: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", TEXT.encode())
        rib(page, "Soundings").wait_for()
        return page

    def part_behind(self, page: Page, words: str, way: str) -> None:
        """Puts the start of a part in behind a paragraph."""
        put_cursor(page, words)
        chord(page, "i")
        put_in(page, "Part of its own", way)

    def shown(self, page: Page) -> list[str]:
        """Headings with their pages, as the spine says them."""
        return [" ".join(one.split()) for one in page.locator("[data-rib]").all_inner_texts()]

    def file(self, page: Page) -> bytes:
        with page.expect_download() as download:
            take_away(page)
        return Path(download.value.path()).read_bytes()

    def proof(self, page: Page) -> Locator:
        chord(page, "p")
        proof = page.get_by_role("region", name="Proof")
        proof.locator("text").first.wait_for(state="attached")
        return proof

    def agree(self, page: Page, wanted: list[tuple[str, str]]) -> None:
        """Spine, contents, PDF and proof say the same of every heading."""
        for words, number in wanted:
            expect(rib(page, words).locator(".page")).to_have_text(number)
        chord(page, "c")
        lines = text_of(page).locator(".placed-lines .printed")
        for words, number in wanted:
            expect(lines.filter(has_text=words).first).to_contain_text(re.compile(rf"{words}[ .]*{number}$"))
        data = self.file(page)
        labels, texts = (
            PdfReader(BytesIO(data)).page_labels,
            [one.get_textpage().get_text_bounded() for one in pypdfium2.PdfDocument(data)],
        )
        for words, number in wanted:
            # The head of its page names the section as well.
            on = [
                label
                for label, text in zip(labels, texts, strict=True)
                if re.search(rf"^{words}\s*$", text.replace("\r\n", "\n"), re.M) and "." not in label
            ]
            self.assertIn(number, on)
        proof = self.proof(page)
        for words, number in wanted:
            sheet = proof.get_by_role("group", name=f"Page {number}", exact=True)
            sheet.scroll_into_view_if_needed()
            expect(sheet.locator("text").filter(has_text=re.compile(f"^{words}$")).first).to_be_attached()
        chord(page, "p")
        expect(proof).to_have_count(0)

    def test_front_matter_body_and_appendices_agree_everywhere(self) -> None:
        page = self.open("parts")
        put_cursor(page, "Foreword words")
        chord(page, "i")
        put_in(page, "Contents table", "on a page of its own")
        self.part_behind(page, "Foreword words", "with pages from 1, on the right")
        left = table_leaf(page)
        expect(left.get_by_label("Name of the part")).to_have_value("Body")
        left.get_by_role("button", name="The beginning").click()
        left.get_by_label("How its pages are numbered").select_option("lower-roman")
        left.get_by_role("button", name="The report", exact=True).click()
        left.get_by_role("button", name="At the head, right").click()
        left.get_by_role("button", name="main section", exact=True).click()
        expect(left.get_by_role("button", name="At the head, right")).to_contain_text("Silt")
        # The table stands behind the part; what is put behind the foreword comes in front of it.
        expect(text_of(page).locator("[data-part-start]")).to_have_count(1)
        self.part_behind(page, "Last words of Locks", "on its side, for what is wide")
        page.keyboard.type("Wide words.")
        self.part_behind(page, "Last words of Weirs", "of appendices, A-1, A-2")
        expect(text_of(page).locator("[data-part-start]")).to_have_count(4)
        expect(rib(page, "Soundings").locator(".page")).to_have_text("A-1")
        self.agree(page, [("Silt", "2"), ("Weirs", "5"), ("Soundings", "A-1")])
        data = self.file(page)
        widths = [round(one.get_width()) for one in pypdfium2.PdfDocument(data)]
        self.assertEqual(widths.count(842), 1)
        wide = widths.index(842)
        self.assertIn("Wide words.", pypdfium2.PdfDocument(data)[wide].get_textpage().get_text_bounded())
        self.assertEqual(PdfReader(BytesIO(data)).page_labels[wide], "4")
        # Somebody takes a section out: all follows.
        other = self.enter(OWNER)
        other.goto(page.url)
        rib(other, "Silt").wait_for()
        put_cursor(other, "Last words of Silt")
        chord(other, "Delete")
        expect(rib(page, "Silt")).to_have_count(0)
        expect(rib(page, "Locks").locator(".page")).not_to_have_text("3")
        self.agree(
            page, [(words, rib(page, words).locator(".page").inner_text()) for words in ("Locks", "Weirs", "Soundings")]
        )

    def test_a_part_is_set_up_where_it_is_pressed_and_taken_away(self) -> None:
        page = self.open("pressed")
        self.part_behind(page, "Last words of Silt", "that goes on counting")
        left = table_leaf(page)
        left.get_by_label("Name of the part").fill("Water")
        left.get_by_label("Name of the part").press("Enter")
        left.get_by_label("How its pages are numbered").select_option("upper-roman")
        left.get_by_label("on from the part in front of it").uncheck()
        start = text_of(page).locator("[data-part-start] .part-words")
        expect(start).to_have_css("content", re.compile("Water · pages I to"), pseudo="before")
        expect(rib(page, "Locks").locator(".page")).to_have_text("I")
        show_panel(page, "As printed")
        start.click()
        expect(left.get_by_label("Name of the part")).to_have_value("Water")
        self.assert_accessible(page)
        left.get_by_role("button", name="Take the part away").click()
        expect(start).to_have_count(0)
        expect(rib(page, "Locks").locator(".page")).not_to_have_text("I")
        text_of(page).press("Control+z")
        expect(rib(page, "Locks").locator(".page")).to_have_text("I")
        page.get_by_role("button", name="Take the start of the part away").click()
        expect(start).to_have_count(0)

    def test_margins_are_dragged_and_words_put_together(self) -> None:
        page = self.open("margins")
        left = show_panel(page, "Page")
        edge = left.locator("[data-margin=left]")
        box = edge.bounding_box()
        assert box
        y = box["y"] + box["height"] / 2
        page.mouse.move(box["x"] + 7, y)
        page.mouse.down()
        page.mouse.move(box["x"] + 27, y, steps=4)
        expect(left.get_by_text(re.compile(r"^\d+ mm$"))).to_be_visible()
        page.mouse.up()
        figure = left.get_by_role("spinbutton", name="Left margin")
        expect(figure).to_have_value(re.compile(r"^4\d$"))
        left.get_by_role("button", name="Take back: page set-up").click()
        expect(figure).to_have_value("25.4")
        # Wider than the paper: refused with a sentence, and nothing has changed.
        figure.fill("180")
        figure.press("Enter")
        expect(page.get_by_text("The margins leave no room for the text")).to_be_visible()
        figure.blur()
        expect(figure).to_have_value("25.4")
        left.get_by_role("button", name="At the foot, left").click()
        left.get_by_role("button", name=re.compile("^Page 2 of")).click()
        expect(left.get_by_role("button", name="At the foot, in the middle: nothing")).to_be_visible()
        left.get_by_label("Put in behind it").select_option("version")
        left.get_by_label("What the version is called").fill("Draft 3")
        left.get_by_label("What the version is called").press("Enter")
        left.get_by_label("First page").select_option("none")
        self.assert_accessible(page)
        pages = [one.get_textpage().get_text_bounded() for one in pypdfium2.PdfDocument(self.file(page))]
        self.assertNotIn("Draft 3", pages[0])
        self.assertIn(f"Page 2 of {len(pages)} Draft 3", pages[1])

    def test_a_picture_at_the_head(self) -> None:
        page = self.open("sign")
        left = show_panel(page, "Page")
        left.get_by_role("button", name="At the head, left").click()
        left.get_by_role("button", name="picture", exact=True).click()
        left.get_by_label("Picture for head and foot").set_input_files(
            {"name": "sign.png", "mimeType": "image/png", "buffer": SIGN}
        )
        expect(left.get_by_role("img", name="At head and foot")).to_be_visible()
        left.get_by_label("Put in behind it").select_option("title")
        self.assert_accessible(page)
        proof = self.proof(page)
        expect(proof.locator("image").first).to_be_attached()
        document = pypdfium2.PdfDocument(self.file(page))
        pictures = [one for one in document[0].get_objects() if one.type == pypdfium2.raw.FPDF_PAGEOBJ_IMAGE]
        self.assertEqual(len(pictures), 1)

    def test_single_paragraphs_stay_together_or_with_what_follows(self) -> None:
        page = self.open("kept")
        words = text_of(page).locator("p").filter(has_text="The gate was closed").first
        edges = text_of(page).locator(".page-edge")
        expect(words.locator(".page-edge")).to_have_count(0)
        # With room for half of it, it is parted; kept together, it begins the next page.
        put_cursor(page, "Foreword words")
        page.keyboard.type(". " + "More of the foreword, to fill the page. " * 50)
        expect(words.locator(".page-edge")).to_have_count(1)
        words.click()
        line = whole_look(page)
        line.get_by_label("Its lines").select_option("true")
        expect(words.locator(".page-edge")).to_have_count(0)
        expect(edges.first).to_be_attached()
        line.get_by_label("Its lines, otherwise than its style").select_option("")
        expect(words.locator(".page-edge")).to_have_count(1)
        line.get_by_label("With what follows").select_option("true")
        expect(words).to_have_attribute("data-keep-with-next", "true")
        page.keyboard.press("Control+z")

    def test_the_proof_and_back(self) -> None:
        page = self.open("proof")
        put_cursor(page, "Foreword words")
        chord(page, "i")
        put_in(page, "Contents table", "here")
        rib(page, "Locks").locator("[data-rib]").first.click()
        text = text_of(page)
        before = page.evaluate("document.querySelector('main .text-of-report').parentElement.scrollTop")
        page.get_by_role("button", name="Proof: the exact pages").click()
        proof = page.get_by_role("region", name="Proof")
        expect(proof.locator("text").filter(has_text=re.compile("^Locks$")).first).to_be_visible()
        self.assert_accessible(page)
        # A hasty press, before any page has come, is answered as well.
        proof.get_by_role("button", name="Back to the text").click()
        page.route("**/proof?*", lambda route: (page.wait_for_timeout(700), route.continue_()))
        page.get_by_role("button", name="Proof: the exact pages").click()
        rib(page, "Weirs").locator("[data-rib]").first.click()
        expect(proof.locator("text").filter(has_text=re.compile("^Weirs$")).last).to_be_in_viewport()
        page.unroute("**/proof?*")
        proof.get_by_role("button", name="Back to the text").click()
        rib(page, "Locks").locator("[data-rib]").first.click()
        before = page.evaluate("document.querySelector('main .text-of-report').parentElement.scrollTop")
        page.get_by_role("button", name="Proof: the exact pages").click()
        expect(proof.locator("text").filter(has_text=re.compile("^Locks$")).first).to_be_visible()
        # The way back leads to where one was, as long as one has not gone on here.
        proof.get_by_role("button", name="Back to the text").click()
        self.assertAlmostEqual(
            page.evaluate("document.querySelector('main .text-of-report').parentElement.scrollTop"), before, delta=2
        )
        proof = self.proof(page)
        rib(page, "Silt").locator("[data-rib]").first.click()
        lines = proof.locator("a[data-place]")
        expect(lines.first).to_be_attached()
        lines.last.focus()
        page.keyboard.press("Enter")
        expect(proof.locator("text").filter(has_text=re.compile("^Soundings$")).last).to_be_in_viewport()
        # Somebody writes: the pages follow.
        other = self.enter(OWNER)
        other.goto(page.url)
        put_cursor(other, "Words of the soundings")
        other.keyboard.type(" Forty fathoms.")
        expect(proof.locator("text").filter(has_text="Forty fathoms.").first).to_be_attached()
        printed = pypdfium2.PdfDocument(page.pdf(prefer_css_page_size=True))
        exact = pypdfium2.PdfDocument(self.file(page))
        self.assertEqual(len(printed), len(exact))
        for one, other_one in zip(printed, exact, strict=True):
            # Leaders are dots with room between them.
            self.assertEqual(
                *("".join(re.sub(r"[\s.]", "", sheet.get_textpage().get_text_bounded())) for sheet in (one, other_one))
            )
        # A heading leads to its place in the text.
        proof.get_by_role("link", name="“Soundings” in the text").click()
        expect(proof).to_have_count(0)
        expect(text.get_by_text("Words of the soundings.")).to_be_in_viewport()

    def test_somebody_who_only_reads(self) -> None:
        page = self.enter(READER)
        page.get_by_role("link", name="Quillmere").click()
        page.locator("[data-rib]").first.wait_for()
        left = show_panel(page, "Page")
        expect(left.get_by_role("spinbutton", name="Left margin")).to_be_disabled()
        left.get_by_role("button", name="At the foot, right").click()
        expect(left.get_by_role("group", name="At the foot, right")).to_have_count(0)
        proof = self.proof(page)
        expect(proof.get_by_role("group", name="Page 2", exact=True)).to_be_attached()
        page.keyboard.press("Escape")
        expect(proof).to_have_count(0)
