"""How words, paragraphs and cells look: as a file says, and as people change it."""

from __future__ import annotations

import re
from io import BytesIO

from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from tests.core.docx_parts import Made, elements, paragraph, run

from .application import OWNER, Journey, chord, look_line, put_cursor, take_away, text_of, whole_look

DOCX = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"


def cell(words: str, properties: str = "") -> str:
    return f"<w:tc><w:tcPr>{properties}</w:tcPr>{paragraph(run(words))}</w:tc>"


def sheet() -> bytes:
    """Words, paragraphs and a data table of all looks."""
    made = Made()
    style = made.document.styles.add_style("Warning", 1)
    style.element.get_or_add_pPr().extend(
        elements(
            '<w:pBdr><w:top w:val="single" w:sz="8" w:color="2F7D6B"/><w:bottom w:val="single" w:sz="8" w:color="2F7D6B"/></w:pBdr>'
            '<w:shd w:val="clear" w:fill="E4F2EE"/><w:ind w:left="400" w:right="600"/>'
        )
    )
    warning = '<w:pStyle w:val="Warning"/>'
    made.document.add_heading("Sluices", 1)
    made.add(
        paragraph(run("H") + run("2", '<w:vertAlign w:val="subscript"/>') + run("O was ") + run("not ", "<w:strike/>") + run("measured", '<w:highlight w:val="yellow"/>') + run(" by the board", "<w:caps/>"))
        + paragraph(run("Keep the sluice closed."), warning) + paragraph(run("Mind the second valve."), warning)
        + '<w:tbl><w:tblPr><w:jc w:val="right"/><w:tblBorders><w:insideH w:val="dashed" w:sz="8" w:color="B4452F"/></w:tblBorders></w:tblPr>'
        + '<w:tblGrid><w:gridCol w:w="2000"/><w:gridCol w:w="3000"/></w:tblGrid><w:tr><w:trPr><w:trHeight w:val="1200"/></w:trPr>'
        + cell("North", '<w:shd w:val="clear" w:fill="33263B"/>') + cell("closed", '<w:vAlign w:val="bottom"/>') + "</w:tr><w:tr>" + cell("South") + cell("open") + "</w:tr></w:tbl>"
    )  # fmt: skip
    return made.saved()


class Looks(Journey):
    def setUp(self) -> None:
        self.page = self.enter(OWNER)
        self.page.get_by_label("File to bring in").set_input_files(
            {"name": "sheet.docx", "mimeType": DOCX, "buffer": sheet()}
        )
        self.summary = self.page.get_by_role("status").filter(has_text="is on your shelf")
        self.summary.wait_for()

    def open(self) -> Page:
        self.page.get_by_role("link", name="Open it").click()
        text_of(self.page).wait_for()
        return self.page

    def cell(self, words: str) -> Locator:
        return self.page.locator(".ProseMirror td").filter(has_text=words)

    def test_they_come_in_as_the_file_says_and_nothing_else_is_said_of_them(self) -> None:
        expect(self.summary.get_by_role("listitem").filter(has_not_text="Typeface")).to_have_count(0)
        page = self.open()
        lowered = page.get_by_text("2", exact=True)
        self.assertLess(self.top(page.get_by_text("measured")), self.top(lowered))
        expect(page.get_by_text("measured")).to_have_css("background-color", "rgb(255, 255, 0)")
        expect(page.get_by_text("by the board")).to_have_css("text-transform", "uppercase")
        expect(page.get_by_text("not", exact=True)).to_have_css("text-decoration-line", "line-through")
        first, second = (page.locator(".ProseMirror p").filter(has_text=words) for words in ("Keep the", "Mind the"))
        for one in (first, second):  # both in one box
            expect(one).to_have_css("background-image", re.compile(r"oklab\(0\.94"))
        self.assertAlmostEqual(self.bottom(first), self.top(second), delta=1)
        expect(self.cell("North")).to_have_css("background-color", "rgb(51, 38, 59)")
        expect(self.cell("North").locator("span")).to_have_css("color", "rgb(255, 255, 255)")
        expect(self.cell("closed")).to_have_css("vertical-align", "bottom")
        expect(self.cell("South")).to_have_css("border-top-style", "dashed")
        self.assertGreaterEqual(self.bottom(self.cell("North")) - self.top(self.cell("North")), 79)
        self.assert_accessible(page)
        with page.expect_download() as download:
            take_away(page)
        self.assertIn("BY THE BOARD", PdfReader(BytesIO(download.value.path().read_bytes())).pages[0].extract_text())

    def test_cells_are_made_to_look_otherwise_and_stay_so(self) -> None:
        page = self.open()
        put_cursor(page, "open")
        page.get_by_role("button", name="Look of the cells").click()
        looks = page.get_by_role("group", name="Look of the cells")
        looks.get_by_role("combobox", name="Colour behind the cells").select_option(label="behind: straw")
        expect(self.cell("open")).to_have_css("background-color", "rgb(255, 242, 168)")
        looks.get_by_role("combobox", name="Lines around the cells", exact=True).select_option(label="a box around")
        looks.get_by_role("spinbutton", name="Lines around the cells: width").fill("3")
        page.keyboard.press("Enter")
        expect(self.cell("open")).to_have_css("border-left-width", "4px")
        looks.get_by_role("combobox", name="Words in the cells").select_option(label="in the middle")
        looks.get_by_role("spinbutton", name="Room around the words").fill("10")
        page.keyboard.press("Enter")
        expect(self.cell("open")).to_have_attribute("data-padding", "10,10,10,10")
        looks.get_by_role("spinbutton", name="Height of the row").fill("90")
        page.keyboard.press("Enter")
        looks.get_by_role("combobox", name="Place of the data table").select_option(label="table in the middle")
        expect(page.locator(".ProseMirror table")).to_have_attribute("data-align", "center")
        self.assert_accessible(page)
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        page.reload()
        text_of(page).wait_for()
        expect(self.cell("open")).to_have_attribute(
            "data-borders",
            "top 3 #b4452f dashed, right 3 #b4452f dashed, bottom 3 #b4452f dashed, left 3 #b4452f dashed",
        )
        expect(self.cell("open")).to_have_attribute("data-height", "90")

        # Back to what data tables look like, and that taken back.
        put_cursor(page, "open")
        page.get_by_role("button", name="Look of the cells").click()
        page.get_by_role("button", name="As data tables look").click()
        expect(page.locator(".ProseMirror td[data-borders]")).to_have_count(0)
        expect(page.get_by_role("button", name="As data tables look")).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(page.locator(".ProseMirror td[data-borders]")).to_have_count(4)

    def test_words_are_raised_struck_and_set_on_a_colour(self) -> None:
        page = self.open()
        page.get_by_text("measured").dblclick()
        whole_look(page)
        look_line(page).get_by_role("combobox", name="Place of the letters").select_option(label="raised")
        expect(page.locator(".ProseMirror [data-script=super]")).to_have_text("measured")
        look_line(page).get_by_role("button", name="Line through: not struck").click()
        expect(page.locator(".ProseMirror [data-script=super]")).to_have_attribute("data-strike", "true")
        look_line(page).get_by_role("combobox", name="Colour behind the words").select_option(
            label="no colour behind words"
        )
        expect(page.locator(".ProseMirror [data-highlight]")).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(page.locator(".ProseMirror [data-highlight]")).to_have_text("measured")
        self.assert_accessible(page)

    def test_a_paragraph_gets_lines_around_and_its_style_takes_them(self) -> None:
        page = self.open()
        put_cursor(page, "by the board")
        whole_look(page)
        lines = look_line(page).get_by_role("group", name="Lines around the paragraph")
        lines.get_by_role("combobox", name="Lines around the paragraph", exact=True).select_option(
            label="a line at the left"
        )
        paragraph = page.locator(".ProseMirror p").filter(has_text="by the board")
        expect(paragraph).to_have_attribute("data-framed", "")
        expect(paragraph).to_have_css("background-image", re.compile("linear-gradient"))
        look_line(page).get_by_role("button", name="Give this look to every").click()
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        expect(page.locator(".ProseMirror p[data-framed]")).to_have_count(0)
        expect(paragraph).to_have_css("background-image", re.compile("linear-gradient"))

    def test_a_line_across_the_page_is_put_in_and_taken_out(self) -> None:
        page = self.open()
        put_cursor(page, "by the board")
        chord(page, "i")
        page.get_by_role("menuitem", name="Line across the page", exact=True).click()
        line = page.get_by_role("group", name="Line across the page")
        expect(line).to_have_count(1)
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        page.reload()
        text_of(page).wait_for()
        expect(line).to_have_count(1)
        line.get_by_role("button").click()
        expect(line).to_have_count(0)

    def top(self, one: Locator) -> float:
        box = one.bounding_box()
        assert box
        return box["y"]

    def bottom(self, one: Locator) -> float:
        box = one.bounding_box()
        assert box
        return box["y"] + box["height"]
