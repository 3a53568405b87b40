"""Headings made by hand become headings, by the screen alone."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from .application import EDITOR, OWNER, Journey, chord, how_far_behind, rib, table_leaf, take_away, text_of

NUMBERED = b"""**1. Gates**

The gate was shut at dusk and stayed shut until the morning tide came in.

***1.1 North gate***

It has two leaves, both of oak, and a sluice in each of them.

***1.3 South gate***

It has one leaf and no sluice at all, which is a pity in a wet spring.

**2. Tides**

The tide comes in twice a day, and leaves again without being asked.

*As the keeper says, it comes and goes.*

It is not the keeper who sends it, whatever visitors may think of that.
"""


class ByHand(Journey):
    def look(self, page: Page, words: str) -> Locator:
        return table_leaf(page).locator(".found-look").filter(has_text=words)

    def numbered(self, name: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", NUMBERED)
        page.get_by_text("4 paragraphs look like headings").first.wait_for()
        chord(page, "h")
        return page

    def ribs(self, page: Page) -> list[str]:
        return [" ".join(one.split()) for one in page.locator("[data-rib]").all_inner_texts()]

    def test_the_handbook_in_few_presses(self) -> None:
        """From nothing marked to numbered headings, a contents table and no empty rows, undone in one step."""
        page = self.enter(OWNER)
        page.get_by_role("link", name="Stewards").click()
        text_of(page).wait_for()
        other = self.enter(EDITOR)
        other.goto(page.url)
        other.get_by_text("34 paragraphs look like headings").wait_for()
        empty = other.locator(".ProseMirror p").filter(has_not_text="r").nth(4)

        page.get_by_role("button", name="See them on the ladder").click()
        page.get_by_label("Numbers of headings").select_option("decimal")
        # Somebody else writes into one of the empty paragraphs that are to go, and into a heading.
        empty.evaluate("element => element.scrollIntoView()")
        empty.click()
        other.keyboard.type("Bring this book back.")
        other.locator(".ProseMirror p").get_by_text("Changing rooms", exact=True).click()
        other.keyboard.press("End")
        other.keyboard.type(" and lockers")
        page.get_by_text("Changing rooms and lockers").first.wait_for()
        page.get_by_role("button", name="Mark 36 paragraphs").click()
        page.get_by_text("36 paragraphs marked, the typed contents made way for a table, 8 rows").wait_for()
        rib(other, "Changing rooms and lockers").wait_for()
        self.assertEqual(self.ribs(page)[:3], ["1 Before you come 3", "1.1 What to bring 3", "1.2 Coming and going 3"])
        expect(how_far_behind(page)).to_contain_text("Level with the text")
        expect(text_of(page).get_by_text("Bring this book back.")).to_have_count(1)
        with page.expect_download() as download:
            take_away(page)
        texts = [" ".join(sheet.extract_text().split()) for sheet in PdfReader(Path(download.value.path())).pages]
        self.assertIn("1.1 What to bring 3", texts[1])
        self.assertEqual(sum(text.startswith("3 Changing rooms and lockers") for text in texts), 1)

        text_of(page).press("Control+z")
        page.get_by_text("34 paragraphs look like headings").first.wait_for()
        text_of(other).get_by_text("Bring this book back.").wait_for()
        text_of(other).get_by_text("Changing rooms and lockers").wait_for()

    def test_typed_numbers_make_way_for_computed_ones_and_what_differs_is_told_before(self) -> None:
        page = self.numbered("tides")
        left = table_leaf(page)
        expect(left.get_by_text("take out 4 typed numbers; number as 1, 1.1, 1.1.1")).to_be_visible()
        expect(left.get_by_role("button", name="1.3 → 1.2")).to_be_visible()
        left.get_by_role("button", name="Mark 4 paragraphs").click()
        rib(page, "South gate").wait_for()
        expect(rib(page, "South gate")).to_contain_text("1.2")
        self.assertEqual(page.locator(".ProseMirror p").filter(has_text="South gate").inner_text(), "South gate")
        expect(left.get_by_text("look like headings")).to_have_count(0)

    def test_one_is_left_out_and_a_look_stays_as_it_is(self) -> None:
        page = self.numbered("left out")
        look = self.look(page, "a number of 2 figures in front")
        look.locator(".found-sample").click()
        expect(look).to_contain_text("Proposed since: numbers of 2 figures, bold, italic.")
        member = look.locator(".member").filter(has_text="South gate")
        expect(member).to_contain_text("a sluice in each of them.")
        expect(member).to_contain_text("It has one leaf and no sluice at all")
        member.get_by_role("checkbox").click()
        expect(look.locator(".found-sample")).to_contain_text("1 of 2")
        self.look(page, "bold, a number in front").get_by_role("combobox").select_option("")
        table_leaf(page).get_by_role("button", name="Mark 1 paragraph", exact=True).click()
        rib(page, "North gate").wait_for()
        self.assertEqual(len(self.ribs(page)), 1)
        expect(page.locator(".ProseMirror p").filter(has_text="1.3 South gate")).to_have_count(1)

    def test_a_rule_of_ones_own_by_keyboard(self) -> None:
        """A rule for what is no heading; a broader one is told what narrower ones keep."""
        page = self.numbered("rules")
        left = table_leaf(page)
        left.get_by_role("button", name="A rule of your own").press("Enter")
        rule = left.get_by_role("region", name="A rule of your own")
        rule.get_by_label("Slant").select_option("true")
        rule.get_by_label("What they become").select_option("quotation")
        rule.get_by_role("button", name="Keep the rule").press("Enter")
        look = self.look(page, "italic").filter(has_text="It would take 2")
        expect(look).to_contain_text(
            "It would take 2 of “bold, italic, a number of 2 figures in front” as well; they stay there"
        )
        expect(look).to_contain_text("As the keeper says")
        left.get_by_role("button", name="Mark 5 paragraphs").press("Enter")
        rib(page, "North gate").wait_for()
        quotation = page.locator(".ProseMirror p").filter(has_text="As the keeper says")
        expect(quotation).to_have_attribute("data-style", "quotation")
        # Two that ask for the same are refused; the first can be taken away.
        left.get_by_role("button", name="A rule of your own").press("Enter")
        rule.get_by_label("Slant").select_option("true")
        rule.get_by_role("button", name="Keep the rule").press("Enter")
        page.get_by_text("ask for the same; change one of them").wait_for()
        rule.get_by_role("button", name="Leave it").press("Enter")
        left.get_by_role("button", name="Take the rule “italic” away").press("Enter")
        expect(self.look(page, "italic")).to_have_count(0)

    def test_without_a_connection_nothing_is_marked_and_it_is_said(self) -> None:
        page = self.numbered("offline")
        page.context.set_offline(True)
        table_leaf(page).get_by_role("button", name="Mark 4 paragraphs").click()
        page.get_by_text("The server cannot be reached; check the connection and try again.").wait_for(timeout=60_000)
        expect(page.locator(".ProseMirror p").filter(has_text="1.3 South gate")).to_have_count(1)
        page.context.set_offline(False)
        table_leaf(page).get_by_role("button", name="Mark 4 paragraphs").click()
        rib(page, "South gate").wait_for()

    def test_the_ladder_with_looks_is_accessible(self) -> None:
        for scheme in ("light", "dark"):
            page = self.enter(OWNER, color_scheme=scheme)
            self.bring_in(page, f"{scheme}.md", NUMBERED)
            page.get_by_text("4 paragraphs look like headings").first.wait_for()
            chord(page, "h")
            self.look(page, "a number of 2 figures in front").locator(".found-sample").click()
            table_leaf(page).get_by_role("button", name="A rule of your own").click()
            self.assert_accessible(page, ("minor", "moderate", "serious", "critical"))
