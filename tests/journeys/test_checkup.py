"""The check-up, as people use it: findings come and go, are mended after they were shown, and set aside."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from .application import EDITOR, OWNER, READER, Journey, chord, put_cursor, rib, table_leaf, text_of

FAULTY = b"""# Gates

Words of the gates.

### North gate.

Words of the north gate.

### South gate

Words of the south gate.

# Tides

Last words.
"""


class CheckUp(Journey):
    def finding(self, page: Page, words: str) -> Locator:
        return table_leaf(page).locator(".finding").filter(has_text=words)

    def count(self, page: Page) -> Locator:
        return table_leaf(page).get_by_role("status")

    def opened(self, name: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", FAULTY)
        rib(page, "Tides").wait_for()
        chord(page, "k")
        return page

    def test_what_a_remedy_would_change_leaves_the_keyboard_to_whoever_goes_on_writing(self) -> None:
        page = self.opened("on")
        self.finding(page, "ends in a full stop").get_by_role("button", name="Take the full stops out").click()
        expect(table_leaf(page).get_by_role("button", name="Do it")).to_be_focused()
        put_cursor(page, "Last words.")
        for word in (" One", " two", " three."):
            page.keyboard.type(word)
            page.wait_for_timeout(600)  # until the check-up has been drawn again
        expect(page.locator(".ProseMirror p").filter(has_text="Last words. One two three.")).to_be_visible()

    def test_quillmere_from_its_findings_to_none(self) -> None:
        page = self.enter(OWNER)
        expect(page.get_by_role("link", name="Quillmere Lido Restoration")).to_contain_text("findings in the check-up")
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        page.locator("[data-rib]").first.wait_for()
        chord(page, "k")
        left = table_leaf(page)
        self.finding(page, "“Spare keys” looks like a heading").get_by_role("button", name="Mark").click()
        expect(left.locator(".changes")).to_contain_text("Body text: Spare keys")
        left.get_by_role("button", name="Do it").click()
        page.get_by_label("Filter the spine").fill("keys")
        rib(page, "Spare keys").wait_for()
        for words, press in (("is of level 4", "Move them up"), ("ends in a full stop", "Take the full stops out"), ("leads to “https://harbour-log”", "Take the links off")):  # fmt: skip
            finding = self.finding(page, words)
            finding.get_by_role("button", name=press).click()
            left.get_by_role("button", name="Do it").click()
            expect(finding).to_have_count(0)
        expect(rib(page, "Keys that went into the water")).not_to_contain_text("water.")
        left.get_by_role("button", name="Keep them true from now on: all 2").click()
        left.get_by_role("button", name="Do it").click()
        # What nothing mends is to stay: why, others can read.
        left.get_by_role("button", name="Set all aside …: Lone subsections").click()
        page.keyboard.type("the consents office wants them so")
        page.keyboard.press("Enter")
        expect(self.count(page)).to_contain_text("◆ Nothing found")
        left.get_by_role("button", name="findings set aside").click()
        expect(left.locator(".finding").first).to_contain_text("“the consents office wants them so” · Ines Varga")
        left.get_by_role("button", name="Take it up again").first.click()
        expect(self.count(page)).to_contain_text("◇ 1 finding")

    def test_findings_come_and_go_while_people_type(self) -> None:
        page = self.opened("come and go")
        expect(self.count(page)).to_contain_text("◇ 2 findings")
        self.finding(page, "“North gate.” ends in a full stop.").locator(".place").click()
        page.keyboard.press("End")
        page.keyboard.press("Backspace")
        expect(self.count(page)).to_contain_text("◇ 1 finding")
        put_cursor(page, "Tides")
        page.keyboard.type(".")
        expect(self.finding(page, "“Tides.” ends in a full stop.")).to_be_visible()
        page.keyboard.press("Backspace")
        expect(self.count(page)).to_contain_text("◇ 1 finding")

    def test_a_remedy_while_somebody_else_writes_and_undone_in_one_step(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Stewards").click()
        text_of(page).wait_for()
        other = self.enter(EDITOR)
        other.goto(page.url)
        text_of(other).wait_for()
        chord(page, "k")
        left = table_leaf(page)
        left.get_by_role("button", name="Exchange them for page breaks: all 7").click()
        expect(left.get_by_text("It would change 122 places")).to_be_visible()
        # It was shown; before it is done, somebody writes into one of the paragraphs that are to go.
        empty = other.locator(".ProseMirror p").filter(has_not_text="r").nth(2)
        empty.evaluate("element => element.scrollIntoView()")
        empty.click()
        other.keyboard.type("Read this first.")
        text_of(page).get_by_text("Read this first.").wait_for()
        left.get_by_role("button", name="Do it").click()
        other.locator("[data-page-break]").first.wait_for(state="attached")
        expect(text_of(other).get_by_text("Read this first.")).to_have_count(1)
        expect(left.get_by_role("button", name="Exchange them for page breaks")).to_have_count(0)
        text_of(page).press("Control+z")
        expect(left.get_by_role("button", name="Exchange them for page breaks")).to_have_count(1)
        expect(text_of(other).get_by_text("Read this first.")).to_have_count(1)

    def test_by_keyboard(self) -> None:
        page = self.opened("keys")
        page.keyboard.press("Tab")
        mend = self.finding(page, "“North gate.” is of level 3").get_by_role("button", name="Move them up")
        mend.wait_for()
        for _ in range(40):
            if mend.evaluate("element => element === document.activeElement"):
                break
            page.keyboard.press(
                "Tab" if page.evaluate("!document.activeElement.closest('.long-list')") else "ArrowDown"
            )
            if page.evaluate("document.activeElement.closest('.finding') !== null"):
                page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        page.get_by_text("It would change 2 places").wait_for()
        page.keyboard.press("Enter")
        expect(self.finding(page, "is of level 3")).to_have_count(0)
        expect(page.locator(".ProseMirror p").filter(has_text="South gate").first).to_have_attribute(
            "data-style", "heading-2"
        )

    def test_readers_see_findings_and_change_nothing(self) -> None:
        page = self.enter(READER)
        page.get_by_role("link", name="Tide Gate Manual").click()
        page.locator("[data-rib]").first.wait_for()
        chord(page, "k")
        expect(self.count(page)).to_contain_text("147 findings")
        expect(table_leaf(page).get_by_role("button", name="Set all aside")).to_have_count(0)
        table_leaf(page).get_by_role("button", name="Lone subsections").click()
        table_leaf(page).locator(".place").first.click()
        expect(table_leaf(page).get_by_role("button", name="Set aside")).to_have_count(0)

    def test_it_is_accessible(self) -> None:
        for scheme in ("light", "dark"):
            page = self.enter(OWNER, color_scheme=scheme)
            self.bring_in(page, f"{scheme}.md", FAULTY)
            rib(page, "Tides").wait_for()
            chord(page, "k")
            self.finding(page, "is of level 3").get_by_role("button", name="Move them up").click()
            page.get_by_text("It would change 2 places").wait_for()
            self.assert_accessible(page, ("minor", "moderate", "serious", "critical"))
