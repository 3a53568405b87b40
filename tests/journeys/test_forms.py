"""A real document comes in: a form with boxes to tick, merged cells, a head with a logo, comments. What is said of it is held against it."""

from __future__ import annotations

from io import BytesIO

from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from tests.core.docx_parts import Made, field, inline_picture, paragraph, png, run

from .application import OWNER, Journey, chord, put_cursor, take_away, text_of

DOCX = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"


def box(ticked: bool) -> str:
    return field(
        "FORMCHECKBOX", "", f'<w:ffData><w:checkBox><w:default w:val="{int(ticked)}"/></w:checkBox></w:ffData>'
    )


def cell(words: str, properties: str = "") -> str:
    return f"<w:tc><w:tcPr>{properties}</w:tcPr>{paragraph(run(words))}</w:tc>"


def form() -> bytes:
    """A form of two sections, the second on wide paper."""
    made = Made()
    head = made.head(
        paragraph(
            inline_picture("logo", 60, 20)
            + run(" Quillmere Lido Trust")
            + "<w:r><w:tab/><w:tab/></w:r>"
            + run("Form 7")
        ),
        pictures={"logo": png(120, 40, "#335588")},
    )
    foot = made.head(paragraph(run("Page ") + field("PAGE", run("1")), '<w:jc w:val="center"/>'), "footer")
    made.document.add_heading("Request for a changing hut", 1)
    made.add(
        paragraph(run("Name: ") + field("FORMTEXT", run("Ann Weir")))
        + paragraph(box(True) + run(" I swim all year"))
        + paragraph(box(False) + run(" I swim in summer alone"))
        + paragraph(run("Reviewed") + '<w:r><w:commentReference w:id="0"/></w:r>' + run(" twice") + '<w:r><w:commentReference w:id="1"/></w:r>')
        + '<w:tbl><w:tblPr><w:tblInd w:w="400"/></w:tblPr><w:tblGrid><w:gridCol w:w="2000"/><w:gridCol w:w="3000"/></w:tblGrid>'
        + "<w:tr>" + cell("Months", '<w:vMerge w:val="restart"/>') + cell("May") + "</w:tr>"
        + "<w:tr>" + cell("", "<w:vMerge/>") + cell("June") + "</w:tr></w:tbl>"
    )  # fmt: skip
    made.sections(
        f'<w:headerReference w:type="default" r:id="{head}"/><w:footerReference w:type="default" r:id="{foot}"/><w:pgSz w:w="11906" w:h="16838"/>',
        '<w:pgSz w:w="16838" w:h="11906" w:orient="landscape"/>',
    )
    return made.saved()


class Forms(Journey):
    def test_a_form_comes_in_is_filled_in_and_goes_out(self) -> None:
        page = self.enter(OWNER)
        page.get_by_label("File to bring in").set_input_files({"name": "form.docx", "mimeType": DOCX, "buffer": form()})
        summary = page.get_by_role("status").filter(has_text="is on your shelf")
        left_out = summary.get_by_role("region", name="Left out").get_by_role("listitem")
        otherwise = summary.get_by_role("region", name="Kept in another form").get_by_role("listitem")
        expect(left_out).to_have_text(["Comment (2 times) – Request for a changing hut"])
        expect(otherwise.filter(has_not_text="Typeface")).to_have_text(
            [
                "Field of a form: what was filled in kept as plain text – Request for a changing hut",
            ]
        )
        self.assert_accessible(page)
        page.get_by_role("link", name="Open it").click()
        text_of(page).wait_for()

        # Its boxes are pressed, with the pointer and by keys.
        summer, year = self.line(page, "in summer"), self.line(page, "all year")
        expect(year).to_have_text("☒ I swim all year")
        self.press_box(page, "in summer")
        expect(summer).to_have_text("☒ I swim in summer alone")
        put_cursor(page, "all year")
        chord(page, "x")
        expect(year).to_have_text("☐ I swim all year")
        page.keyboard.press("Control+z")
        expect(year).to_have_text("☒ I swim all year")
        put_cursor(page, "Reviewed")
        chord(page, "x")
        expect(self.line(page, "Reviewed")).to_have_text("☐ Reviewed twice")
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()

        # A press beside a box is a press on words.
        self.press_box(page, "in summer", beside=60)
        expect(summer).to_have_text("☒ I swim in summer alone")

        # A column is dragged by its edge, and told its width.
        months, may = (page.locator(".ProseMirror td").filter(has_text=words) for words in ("Months", "May"))
        before, beside = self.width(months), self.width(may)
        self.assertAlmostEqual(before, 100, delta=1)
        self.drag_edge(page, months, 40)
        self.assertAlmostEqual(self.width(months), before + 30, delta=1)
        self.assertAlmostEqual(self.width(may), beside - 30, delta=1)
        page.keyboard.press("Control+z")
        self.assertAlmostEqual(self.width(months), before, delta=1)
        self.drag_edge(page, may, 4000)  # no further than there is room
        self.assertAlmostEqual(self.width(months), before, delta=40)
        page.keyboard.press("Control+z")
        put_cursor(page, "Months")
        page.get_by_role("spinbutton", name="Width of this column").fill("64")
        page.keyboard.press("Enter")
        expect(months).to_have_attribute("data-widths", "64")
        expect(may).to_have_attribute("data-widths", "186")
        expect(page.get_by_role("spinbutton", name="Width of this column")).to_have_value("64")
        put_cursor(page, "May")
        expect(page.get_by_role("spinbutton", name="Width of this column")).to_have_value("186")
        page.get_by_role("button", name="Widths by words").click()
        expect(page.get_by_role("button", name="Widths by words")).to_have_count(0)
        expect(page.get_by_role("spinbutton", name="Width of this column")).not_to_have_value("186")
        page.keyboard.press("Control+z")
        expect(may).to_have_attribute("data-widths", "186")
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()

        # The pages have what the file has: its head with a picture, and a wide section.
        with page.expect_download() as download:
            take_away(page)
        found = PdfReader(BytesIO(download.value.path().read_bytes()))
        first, last = found.pages[0], found.pages[-1]
        self.assertIn("Quillmere Lido Trust", first.extract_text())
        self.assertIn("Form 7", last.extract_text())
        self.assertIn("Page 2", last.extract_text())
        self.assertIn("☒ I swim in summer alone", first.extract_text())
        self.assertEqual(len(first.images), 1)
        self.assertGreater(last.mediabox.width, last.mediabox.height)

    def width(self, cell: Locator) -> float:
        """In points."""
        return float(cell.evaluate("cell => cell.getBoundingClientRect().width * 0.75"))

    def drag_edge(self, page: Page, cell: Locator, by: float) -> None:
        """Drags the right edge of a cell by so many pixels."""
        box = cell.bounding_box()
        assert box
        page.mouse.move(box["x"] + box["width"] - 2, box["y"] + box["height"] / 2)
        expect(page.locator(".at-column-edge")).to_have_count(1)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] - 2 + by / 2, box["y"] + 5)
        expect(page.locator(".column-guide")).to_be_visible()
        page.mouse.move(box["x"] + box["width"] - 2 + by, box["y"] + 5)
        page.mouse.up()
        expect(page.locator(".column-guide")).to_have_count(0)

    def line(self, page: Page, words: str) -> Locator:
        return page.locator(".ProseMirror p").filter(has_text=words)

    def press_box(self, page: Page, words: str, beside: float = 0) -> None:
        """Presses the box at the start of a line, or so many pixels beside it."""
        place = self.line(page, words).evaluate(
            """line => {
              const range = document.createRange();
              const text = document.createTreeWalker(line, NodeFilter.SHOW_TEXT).nextNode();
              range.setStart(text, 0);
              range.setEnd(text, 1);
              const { x, y, width, height } = range.getBoundingClientRect();
              return [x + width / 2, y + height / 2];
            }"""
        )
        page.mouse.click(place[0] + beside, place[1])
