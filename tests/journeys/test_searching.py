"""Find and replace: in headings, with the contents following; some places alone; while somebody else writes."""

from __future__ import annotations

from playwright.sync_api import expect

from .application import OWNER, Journey, chord, how_far_behind, put_cursor, show_panel, table_leaf, text_of

TEXT = b"# The gate\n\nThe gate is shut.\n\n## Gate keeper\n\nA gate, a *gate* and a floodgate.\n"


class Searching(Journey):
    def test_headings_are_replaced_and_the_contents_follow(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "gates.md", TEXT)
        page.get_by_role("button", name="Contents at the front").click()
        expect(how_far_behind(page)).to_contain_text("Level with the text")
        text_of(page).focus()
        chord(page, "/")
        left = table_leaf(page)
        page.keyboard.type("gate")
        expect(left.get_by_role("status")).to_contain_text("6 places in 2 sections")
        left.get_by_label("Put in its place").fill("weir")
        left.get_by_label("Where to look").select_option("headings alone")
        expect(left.get_by_role("status")).to_contain_text("2 places in 2 sections")
        self.assert_accessible(page)
        left.get_by_role("button", name="Replace all 2").click()
        question = left.get_by_role("region", name="What it would change")
        expect(question).to_contain_text("2 lines of tables will be behind by it")
        expect(question.get_by_role("listitem")).to_have_text(
            ["Contents: The gate The weir", "Contents: Gate keeper weir keeper"]
        )
        question.get_by_role("button", name="Replace", exact=True).click()
        expect(page.locator("[data-rib]")).to_contain_text(["The weir", "weir keeper"])
        expect(how_far_behind(page)).to_contain_text("2 lines behind")
        expect(left.get_by_role("status")).to_contain_text("Nowhere in the text")
        # One step of undo.
        put_cursor(page, "is shut")
        page.keyboard.press("Control+z")
        expect(page.locator("[data-rib]")).to_contain_text(["The gate", "Gate keeper"])
        expect(how_far_behind(page)).to_contain_text("Level with the text")

    def test_some_places_alone_and_live_while_others_write(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "places.md", TEXT)
        left = show_panel(page, "Find")
        left.get_by_label("Find", exact=True).fill("gate")
        left.get_by_label("whole words").check()
        expect(left.get_by_role("status")).to_contain_text("5 places")
        # A second browser writes, and what is found follows.
        other = self.enter(OWNER)
        other.goto(page.url.split("/find")[0])
        put_cursor(other, "is shut")
        other.keyboard.type(" Gate!")
        expect(left.get_by_role("status")).to_contain_text("6 places")
        left.get_by_label("Put in its place").fill("weir")
        left.get_by_role("button", name="none").click()
        left.get_by_role("checkbox", name="A gate, a gate and").first.click()
        left.get_by_role("button", name="Replace 1 place").click()
        left.get_by_role("button", name="Replace", exact=True).click()
        expect(page.locator(".ProseMirror p").last).to_have_text("A weir, a gate and a floodgate.")
        expect(other.locator(".ProseMirror p").last).to_have_text("A weir, a gate and a floodgate.")
        # A place is one press away; patterns have groups, and what is none is said.
        left.get_by_label("a pattern").check()
        left.get_by_label("Find", exact=True).fill("(")
        expect(left.get_by_role("alert")).to_contain_text("This pattern cannot be read")
        left.get_by_label("Find", exact=True).fill("(flood)(gate)")
        left.get_by_label("whole words").uncheck()
        left.get_by_label("Put in its place").fill(r"\2 of the \1")
        expect(left.locator("ins")).to_have_text("gate of the flood")
        left.get_by_role("button", name="a floodgate").last.click()
        expect(text_of(page)).to_be_focused()
