"""Tab stops: set for one paragraph and for a style, shown in the text as they are printed."""

from __future__ import annotations

from pathlib import Path

import pypdfium2
from playwright.sync_api import Page, expect

from .application import OWNER, Journey, look_line, put_cursor, rib, show_panel, take_away, text_of, whole_look

TEXT = "# Costs\n\nRows of sums.\n\n# Rates\n\nFurther words.\n"
ROWS = ("Pump\t12.5\tyearly", "Sluice gates\t1,204.75\tonce")


class TabStops(Journey):
    def open(self, name: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", TEXT.encode())
        rib(page, "Rates").wait_for()
        return page

    def type_rows(self, page: Page) -> None:
        put_cursor(page, "Rows of sums.")
        for row in ROWS:
            page.keyboard.press("Enter")
            first, *others = row.split("\t")
            page.keyboard.type(first)
            for cell in others:
                page.keyboard.press("Tab")
                page.keyboard.type(cell)

    def set_stops(self, page: Page, *stops: tuple[str, str, str]) -> None:
        """Sets tab stops in the words of the look line."""
        words = whole_look(page)
        for number, (at, align, leader) in enumerate(stops, 1):
            words.get_by_role("button", name="set a tab stop" if number == 1 else "another tab stop").click()
            words.get_by_label(f"Tab stop {number}, what stands there").select_option(label=align)
            words.get_by_label(f"Tab stop {number}, what leads to it").select_option(label=leader)
            words.get_by_label(f"Tab stop {number}, from the left").fill(at)
            page.keyboard.press("Enter")

    def place(self, page: Page, words: str) -> tuple[float, float]:
        """Where words begin and end in the text, in points from the left of its lines."""
        left, right = page.evaluate(
            """(words) => {
                const walker = document.createTreeWalker(document.querySelector('.ProseMirror'), NodeFilter.SHOW_TEXT);
                for (let text = walker.nextNode(); text; text = walker.nextNode()) {
                    const at = text.nodeValue.indexOf(words);
                    if (at < 0) continue;
                    const range = document.createRange();
                    range.setStart(text, at);
                    range.setEnd(text, at + words.length);
                    const block = text.parentElement.closest('p');
                    const begins = block.getBoundingClientRect().left + parseFloat(getComputedStyle(block).paddingLeft);
                    const box = range.getBoundingClientRect();
                    return [(box.left - begins) * 0.75, (box.right - begins) * 0.75];
                }
            }""",
            words,
        )
        return left, right

    def test_set_in_words_shown_in_the_text_and_printed_alike(self) -> None:
        page = self.open("tabs")
        self.type_rows(page)
        page.keyboard.press("Shift+ArrowUp")
        self.set_stops(page, ("200", "by the decimal sign", "with dots"), ("430", "right", "no leader"))
        for row in ROWS:
            expect(text_of(page).locator("p", has_text=row.split("\t")[0])).to_have_attribute(
                "data-tab-stops", "200 decimal dots, 430 right"
            )
        page.wait_for_timeout(300)
        for whole, end in (("12", "yearly"), ("1,204", "once")):
            self.assertAlmostEqual(self.place(page, whole)[1], 200, delta=1)
            self.assertAlmostEqual(self.place(page, end)[1], 430, delta=1)
        self.assert_accessible(page)
        # What is typed before a stop moves to the left of it.
        put_cursor(page, "Pump")
        page.keyboard.type(", and more")
        self.assertAlmostEqual(self.place(page, "yearly, and more")[1], 430, delta=1)
        # And so it is when the report is opened again, and in a narrow window, where the last stop lies at the column's end.
        page.reload()
        text_of(page).wait_for()
        expect(text_of(page).locator(".tab[data-leader=dots]")).to_have_count(2)
        page.wait_for_timeout(500)
        self.assertAlmostEqual(self.place(page, "1,204")[1], 200, delta=1)
        page.set_viewport_size({"width": 600, "height": 800})
        page.wait_for_timeout(500)
        ends = [self.place(page, words)[1] for words in ("and more", "once")]
        self.assertAlmostEqual(ends[0], ends[1], delta=1)
        self.assertLess(ends[0], 420)
        page.set_viewport_size({"width": 1280, "height": 800})
        with page.expect_download() as download:
            take_away(page)
        words = pypdfium2.PdfDocument(Path(download.value.path()).read_bytes())[0].get_textpage()
        text = words.get_text_range()
        ends = [words.get_charbox(text.index(one) + len(one) - 1, loose=True)[2] for one in ("and more", "once")]
        self.assertAlmostEqual(ends[0], ends[1], delta=0.5)
        self.assertRegex(text, r"Pump[ .]+12\.5")

    def test_a_style_takes_them_from_a_paragraph_and_they_go_again(self) -> None:
        page = self.open("style")
        self.type_rows(page)
        self.set_stops(page, ("150", "left", "with a line"))
        look_line(page).get_by_role("button", name="give this look to every Body text").click()
        expect(page.get_by_text("Every Body text looks like this now.")).to_be_visible()
        expect(text_of(page).locator("p[data-tab-stops]")).to_have_count(0)
        page.wait_for_timeout(300)
        self.assertAlmostEqual(self.place(page, "12.5")[0], 150, delta=1)
        left = show_panel(page, "Styles")
        left.get_by_label("Style to look at").select_option(label="Body text")
        left.get_by_role("button", name="Take tab stop 1 out").click()
        expect(left.get_by_text("tabs every 36 pt")).to_be_visible()
        expect(text_of(page).locator(".tab")).to_have_count(0)
        self.assertAlmostEqual(self.place(page, "12.5")[0], 36, delta=1)
