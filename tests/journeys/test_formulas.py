"""Formulas of a file: seen, read aloud, moved about, taken away; and as wide as a browser sets them."""

from __future__ import annotations

from io import BytesIO

from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from mellowspine.core.pages.formulas import set_formula
from mellowspine.core.report.formulas import formula
from tests.core.docx_parts import Made, paragraph, run

from .application import OWNER, Journey, chord, put_cursor, rib, take_away, text_of

DOCX = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"


def r(letters: str) -> str:
    return f"<m:r><m:t>{letters}</m:t></m:r>"


def e(tag: str, inside: str) -> str:
    return f"<m:{tag}>{inside}</m:{tag}>"


ENERGY = e("oMath", r("E=m") + e("sSup", e("e", r("c")) + e("sup", r("2"))))
SUM = e("nary", '<m:naryPr><m:chr m:val="∑"/></m:naryPr>' + e("sub", r("i=1")) + e("sup", r("n")) + e("e", r("x")))
MEAN = e("oMathPara", e("oMath", r("M=") + e("f", e("num", SUM) + e("den", r("n")))))


def file() -> bytes:
    made = Made()
    made.document.add_heading("Settlement", 1)
    made.add(
        paragraph(run("For each station ") + ENERGY + run(" holds."))
        + paragraph(MEAN)
        + paragraph(run("So it settles."))
    )
    return made.saved()


class Formulas(Journey):
    def setUp(self) -> None:
        self.page = self.enter(OWNER)
        self.page.get_by_label("File to bring in").set_input_files(
            {"name": "walls.docx", "mimeType": DOCX, "buffer": file()}
        )
        self.page.get_by_role("link", name="Open it").click()
        text_of(self.page).wait_for()

    def formulas(self, page: Page) -> Locator:
        return page.locator(".ProseMirror math")

    def copy_elsewhere(self, page: Page) -> None:
        """Copies the words with the first formula, and puts them in behind the last paragraph."""
        put_cursor(page, "For each station", end=False)
        page.keyboard.press("Shift+End")
        page.keyboard.press("Control+c")
        put_cursor(page, "So it settles.")
        page.keyboard.press("Enter")
        page.keyboard.press("Control+v")
        expect(self.formulas(page)).to_have_count(3)
        expect(self.formulas(page).nth(2)).to_have_text("E=mc2")

    def test_they_are_text_like_other_text(self) -> None:
        page = self.page
        one, mean = self.formulas(page).nth(0), self.formulas(page).nth(1)
        expect(one).to_have_text("E=mc2")
        expect(one.locator("msup mn")).to_be_visible()
        raised, beside = one.locator("msup mn").bounding_box(), one.locator("msup mi").bounding_box()
        assert raised
        assert beside
        self.assertLess(raised["height"], beside["height"] * 1.2)
        self.assertLess(raised["y"], beside["y"])
        # It is set in the middle, as the file has it; its sum stands over what it is parted by.
        expect(mean.locator("xpath=ancestor::p[1]")).to_have_css("text-align", "center")
        above, below = mean.locator("mfrac > *").nth(0).bounding_box(), mean.locator("mfrac > *").nth(1).bounding_box()
        assert above
        assert below
        self.assertLess(above["y"] + above["height"], below["y"] + 2)
        # A screen reader is told of mathematics.
        expect(page.get_by_role("math")).to_have_count(2)
        self.assert_accessible(page)

    def test_it_goes_along_when_words_are_moved_copied_and_deleted(self) -> None:
        page = self.page
        put_cursor(page, "For each station")
        for _ in " holds.":
            page.keyboard.press("ArrowLeft")
        page.keyboard.press("Backspace")
        expect(self.formulas(page)).to_have_count(1)
        page.keyboard.press("Control+z")
        expect(self.formulas(page)).to_have_count(2)
        # Copied with the words around it, and put in elsewhere.
        self.copy_elsewhere(page)
        # A heading that has one says it on the spine in words.
        put_cursor(page, "For each station")
        chord(page, "2")
        expect(rib(page, "For each station E = mc² holds.")).to_be_visible()
        expect(page.get_by_text("Saved", exact=True)).to_be_visible()
        page.reload()
        expect(self.formulas(page)).to_have_count(3)
        with page.expect_download() as download:
            take_away(page)
        data = download.value.path().read_bytes()
        said = " ".join(PdfReader(BytesIO(data)).pages[0].extract_text().split())
        self.assertIn("For each station E = mc² holds.", said)
        self.assertIn("M = (∑ᵢ₌₁ⁿ x)/n", said)

    def test_what_is_pasted_before_the_server_knows_of_it_has_them_as_well(self) -> None:
        page = self.page
        page.route("**/copies/**", lambda route: route.abort())
        self.copy_elsewhere(page)

    def test_pages_give_them_the_width_that_the_browser_does(self) -> None:
        """MathML Core as Chromium has it, in the same face: to 2 hundredths of the size. Signs that grow are left out: it keeps the
        room of the largest for all of them."""
        given = [
            "<mi>x</mi>", "<mi>f</mi>", "<mi>sin</mi><mi>x</mi>", "<mtext>if wet</mtext>", "<mrow><mo>−</mo><mi>b</mi></mrow>",
            "<mi>b</mi><mo>±</mo><mi>c</mi>", "<mi>x</mi><mo>=</mo><mi>y</mi>", "<mi>a</mi><mo>,</mo><mi>b</mi>", "<mi>n</mi><mo>!</mo>",
            "<mi>a</mi><mo>×</mo><mi>b</mi>", "<mi>a</mi><mo>∈</mo><mi>B</mi>", "<mi>a</mi><mo>/</mo><mi>b</mi>", "<mi>x</mi><mo>→</mo><mn>0</mn>",
            "<msup><mi>x</mi><mn>2</mn></msup>", "<msup><mi>f</mi><mn>2</mn></msup>", "<msub><mi>f</mi><mn>2</mn></msub>",
            "<msubsup><mi>x</mi><mi>i</mi><mn>2</mn></msubsup>", "<msup><mn>2</mn><msup><mi>x</mi><mi>y</mi></msup></msup>",
            "<msup><mi>f</mi><mo>′</mo></msup>", "<munderover><mo>∑</mo><mi>i</mi><mi>n</mi></munderover><mi>x</mi>",
            '<msubsup><mo form="prefix">∫</mo><mn>0</mn><mi>∞</mi></msubsup><mi>x</mi>', '<mover accent="true"><mi>x</mi><mo>^</mo></mover>',
            "<munder><mi>lim</mi><mrow><mi>x</mi><mo>→</mo><mn>0</mn></mrow></munder><mi>f</mi>",
            "<mtable><mtr><mtd><mn>1</mn></mtd><mtd><mn>0</mn></mtd></mtr></mtable>", '<mo stretchy="false">(</mo><mi>t</mi><mo stretchy="false">)</mo>',
        ]  # fmt: skip
        said = [f"<math{alone}>{one}</math>" for alone in ("", ' display="block"') for one in given]
        widths = self.page.evaluate(
            """async said => {
                const place = document.createElement("div");
                place.className = "text-of-report";
                place.innerHTML = said.map(one => `<p>${one}</p>`).join("");
                for (const one of place.children) one.style.fontSize = "100px";
                document.body.append(place);
                await document.fonts.load('100px "STIX Two Math"');
                return [...place.querySelectorAll("math")].map(one => one.getBoundingClientRect().width / 100);
            }""",
            said,
        )
        for one, width in zip(said, widths, strict=True):
            with self.subTest(one):
                found = set_formula(formula(one) or "")
                assert found
                self.assertAlmostEqual(found.width, width, delta=0.02)
