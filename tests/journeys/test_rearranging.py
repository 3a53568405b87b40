"""Sections are rearranged: dragged on the spine, by keys, from a rib; alone and while others write in them."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from .application import OWNER, READER, Journey, Line, chord, look_line, put_cursor, rib, text_of

TEXT = b"""# Access

By the gate.

## By sea

By boat.

## By land

On foot.

# Consents

All of them.

## Harbour

The harbour.

# Costs

Too high.
"""


def ribs(page: Page) -> list[str]:
    """The ribs as ``level words``."""
    found = "() => [...document.querySelectorAll('[data-rib]')].map(one => `${one.dataset.level} ${one.querySelector('.words').textContent.trim()}`)"
    return [str(one) for one in page.evaluate(found)]


def expect_ribs(page: Page, *wanted: str) -> None:
    expect(page.locator("[data-rib]")).to_have_count(len(wanted))
    for index, one in enumerate(wanted):
        level, words = one.split(" ", 1)
        expect(page.locator("[data-rib]").nth(index)).to_have_attribute("data-level", level)
        expect(page.locator("[data-rib] .words").nth(index)).to_contain_text(words)


BEFORE = ("1 Access", "2 By sea", "2 By land", "1 Consents", "2 Harbour", "1 Costs")


def drag(page: Page, words: str, to: str, below: bool = True, right: int = 0) -> None:
    """Takes a rib to another one, to its lower or upper half, and so far to the right; without letting go."""
    start = rib(page, words).bounding_box()
    x, y = start["x"] + 60, start["y"] + start["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 10, steps=3)
    for _ in range(2):  # the rib that shows the place moves those behind it
        aim = rib(page, to).bounding_box()
        page.mouse.move(x + right, aim["y"] + aim["height"] * (0.8 if below else 0.2), steps=6)


class Rearranging(Journey):
    def opened(self, name: str = OWNER) -> Page:
        page = self.enter(name)
        self.bring_in(page, "rearranging.md", TEXT)
        expect_ribs(page, *BEFORE)
        return page

    def opened_by_two(self) -> tuple[Page, Page, Line]:
        """In two browsers; the connection of the second can be cut."""
        page, line = self.opened(), Line()
        other = self.enter(OWNER)
        other.route_web_socket("**/ws/**", line.take)
        other.goto(page.url)
        expect_ribs(other, *BEFORE)
        return page, other, line

    def test_a_rib_is_dragged_and_shows_before_where_its_section_will_stand(self) -> None:
        page = self.opened()
        drag(page, "By sea", "Harbour")
        drop = page.locator(".rib.drop")
        expect(drop).to_contain_text("By sea")
        expect(drop).to_have_attribute("data-level", "2")
        expect(drop.locator(".page")).to_have_text("1")
        page.mouse.up()
        after = ("1 Access", "2 By land", "1 Consents", "2 Harbour", "2 By sea", "1 Costs")
        expect_ribs(page, *after)
        self.assertEqual(
            [one.inner_text() for one in text_of(page).locator("p").all()][-4:],
            ["By sea", "By boat.", "Costs", "Too high."],
        )
        expect(page.get_by_role("status").filter(has_text="“By sea” is now at level 2, on page 1.")).to_be_visible()
        text_of(page).focus()
        page.keyboard.press("Control+z")
        expect_ribs(page, *BEFORE)
        # To the right it goes a level down, as far as it may stand there; Escape lets it be.
        drag(page, "Costs", "Harbour", right=40)
        expect(drop).to_have_attribute("data-level", "3")
        page.keyboard.press("Escape")
        expect(drop).to_have_count(0)
        page.mouse.up()
        expect_ribs(page, *BEFORE)

    def test_several_are_dragged_together(self) -> None:
        page = self.opened()
        rib(page, "By land").click(modifiers=["Control"])
        rib(page, "Harbour").click(modifiers=["Control"])
        expect(page.get_by_text("2 chosen")).to_be_visible()
        self.assert_accessible(page)
        drag(page, "Harbour", "Access", below=False)
        expect(page.locator(".rib.drop")).to_contain_text("and 1 more")
        page.mouse.up()
        expect_ribs(page, "1 By land", "1 Harbour", "1 Access", "2 By sea", "1 Consents", "1 Costs")
        page.get_by_role("button", name="Let them be").click()
        expect(page.get_by_text("2 chosen")).to_have_count(0)

    def test_three_are_rearranged_by_keyboard_alone_and_the_contents_follow(self) -> None:
        page = self.opened()
        put_cursor(page, "By boat.")
        chord(page, "ArrowDown")
        expect_ribs(page, "1 Access", "2 By land", "2 By sea", "1 Consents", "2 Harbour", "1 Costs")
        page.keyboard.press("ArrowDown")
        expect_ribs(page, "1 Access", "2 By land", "1 Consents", "2 By sea", "2 Harbour", "1 Costs")
        page.keyboard.press("ArrowLeft")
        expect_ribs(page, "1 Access", "2 By land", "1 Consents", "1 By sea", "2 Harbour", "1 Costs")
        # Any other key is for the text, in which the cursor has stayed.
        page.keyboard.type(" Still here.")
        expect(text_of(page)).to_contain_text("By boat. Still here.")
        # On a rib; the focus goes with it.
        rib(page, "Costs").get_by_role("button").focus()
        chord(page, "ArrowUp")
        expect_ribs(page, "1 Access", "2 By land", "1 Consents", "1 Costs", "1 By sea", "2 Harbour")
        expect(rib(page, "Costs").get_by_role("button")).to_be_focused()
        page.keyboard.press("ArrowUp")
        page.keyboard.press("ArrowUp")
        expect_ribs(page, "1 Costs", "1 Access", "2 By land", "1 Consents", "1 By sea", "2 Harbour")
        page.keyboard.press("ArrowUp")
        expect(page.get_by_text("There is no place further up where a section of level 1 could stand.")).to_be_visible()
        page.keyboard.press("Escape")

    def test_split_joined_duplicated_and_taken_out(self) -> None:
        page = self.opened()
        put_cursor(page, "By the gate.", end=False)
        page.keyboard.press("Control+ArrowRight")
        chord(page, "s")
        expect_ribs(page, "1 Access", "1 Access (continued)", *BEFORE[1:])
        page.keyboard.type("At the gate")
        expect_ribs(page, "1 Access", "1 At the gate", *BEFORE[1:])
        chord(page, "j")
        expect_ribs(page, *BEFORE)
        rib(page, "Consents").click()
        page.get_by_label("Level of “Consents”").select_option(label="Once more, behind itself (Alt+S Y)")
        expect_ribs(page, *BEFORE[:5], "1 Consents", "2 Harbour", "1 Costs")
        put_cursor(page, "By boat.")
        chord(page, "Delete")
        expect_ribs(page, "1 Access", "2 By land", "1 Consents", "2 Harbour", "1 Consents", "2 Harbour", "1 Costs")
        for _ in range(2):
            page.keyboard.press("Control+z")
        expect_ribs(page, *BEFORE)

    def test_a_section_is_put_on_a_page_of_its_own_and_a_page_break_taken_away(self) -> None:
        page = self.opened()
        rib(page, "By land").click()
        page.get_by_label("Level of “By land”").select_option(label="On a page of its own, or no longer")
        expect(rib(page, "By land").locator(".page")).to_have_text("⤓ 2")
        expect(rib(page, "By land").get_by_label("on a new page")).to_be_visible()
        expect(rib(page, "Costs").locator(".page")).to_have_text("2")
        self.assert_accessible(page)
        # The look line says so, and has the way back.
        put_cursor(page, "By land")
        new_page = look_line(page).get_by_label("New page")
        expect(new_page).to_have_value("true")
        new_page.select_option(label="goes on on the page")
        expect(rib(page, "By land").locator(".page")).to_have_text("1")
        text_of(page).focus()
        page.keyboard.press("Control+z")
        expect(rib(page, "By land").locator(".page")).to_have_text("⤓ 2")
        page.keyboard.press("Control+z")
        expect(rib(page, "By land").locator(".page")).to_have_text("1")
        put_cursor(page, "On foot.")
        page.keyboard.press("Control+Enter")
        expect(rib(page, "Costs").locator(".page")).to_have_text("2")
        page.get_by_role("button", name="Take the page break away").click()
        expect(rib(page, "Costs").locator(".page")).to_have_text("1")
        page.keyboard.press("Control+z")
        expect(rib(page, "Costs").locator(".page")).to_have_text("2")

    def test_whoever_writes_in_a_section_goes_along_when_another_moves_it(self) -> None:
        page = self.opened()
        other = self.enter(OWNER)
        other.goto(page.url)
        expect_ribs(other, *BEFORE)
        put_cursor(other, "By boat.")
        other.keyboard.type(" One")
        expect(text_of(page)).to_contain_text("By boat. One")
        rib(page, "Access").get_by_role("button").focus()
        chord(page, "ArrowDown")
        after = ("1 Consents", "2 Harbour", "1 Access", "2 By sea", "2 By land", "1 Costs")
        expect_ribs(other, *after)
        other.keyboard.type(" two")
        for each in (page, other):
            expect(text_of(each).locator("p").filter(has_text="By boat.")).to_contain_text("By boat. One two")
        # What others write stays when whoever moved it takes that back.
        text_of(page).focus()
        page.keyboard.press("Escape")
        page.keyboard.press("Control+z")
        expect_ribs(other, *BEFORE)
        other.keyboard.type(" three")
        for each in (page, other):
            expect(text_of(each).locator("p").filter(has_text="By boat.")).to_contain_text("three")

    def test_what_is_written_without_a_connection_is_in_the_section_wherever_that_was_moved(self) -> None:
        page, other, line = self.opened_by_two()
        put_cursor(other, "By boat.")
        line.cut()
        other.keyboard.type(" An hour later, by the tide.")
        put_cursor(other, "By sea", end=False)
        other.keyboard.type("Mostly ")
        rib(page, "By sea").get_by_role("button").focus()
        chord(page, "ArrowDown")
        page.keyboard.press("ArrowDown")
        after = ("1 Access", "2 By land", "1 Consents", "2 By sea", "2 Harbour", "1 Costs")
        expect_ribs(page, *after)
        line.mend()
        for each in (page, other):
            expect(rib(each, "Mostly By sea")).to_be_visible()
            expect(text_of(each)).to_contain_text("By boat. An hour later, by the tide.")
            expect_ribs(each, *after)
        other.keyboard.type("and always ")
        for each in (page, other):
            expect(rib(each, "Mostly and always By sea")).to_be_visible()

    def test_what_is_split_cut_and_pasted_without_a_connection_is_there_when_the_sections_were_moved(self) -> None:
        page, other, line = self.opened_by_two()
        line.cut()
        put_cursor(other, "By boat.", end=False)
        for _ in range(len("By ")):
            other.keyboard.press("ArrowRight")
        other.keyboard.press("Enter")
        other.keyboard.type("swift ")
        put_cursor(other, "On foot.", end=False)
        other.keyboard.press("Shift+End")
        other.keyboard.press("Control+x")
        put_cursor(other, "All of them.")
        other.keyboard.press("Enter")
        other.keyboard.press("Control+v")
        other.keyboard.type(" Or by cart.")
        rib(page, "By sea").get_by_role("button").focus()
        chord(page, "ArrowDown")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Escape")
        rib(page, "Consents").get_by_role("button").focus()
        chord(page, "ArrowDown")
        after = ("1 Access", "2 By land", "1 Costs", "1 Consents", "2 By sea", "2 Harbour")
        expect_ribs(page, *after)
        line.mend()
        for each in (page, other):
            expect_ribs(each, *after)
            text = text_of(each).locator("p")
            for words in ("swift boat.", "On foot. Or by cart.", "All of them."):
                expect(text.filter(has_text=words)).to_have_count(1)
            expect(text.filter(has_text="boat.")).to_have_count(1)
            expect(text.filter(has_text="On foot.")).to_have_count(1)
        ids = "() => [...document.querySelectorAll('.ProseMirror [data-id]')].map(one => one.dataset.id)"
        self.assertEqual(page.evaluate(ids), other.evaluate(ids))

    def test_without_a_connection_a_rib_that_is_dragged_stays_and_it_is_said(self) -> None:
        page, line = self.enter(OWNER), Line()
        page.route_web_socket("**/ws/**", line.take)
        self.bring_in(page, "rearranging.md", TEXT)
        expect_ribs(page, *BEFORE)
        page.context.set_offline(True)
        line.cut()
        drag(page, "Consents", "Access", below=False)
        page.mouse.up()
        expect(
            page.get_by_role("alert").or_(page.get_by_role("status")).filter(has_text="connection").first
        ).to_be_visible()
        expect_ribs(page, *BEFORE)
        put_cursor(page, "By boat.")
        page.keyboard.type(" Still.")
        page.context.set_offline(False)
        line.mend()
        expect(page.locator("[data-saved='true']")).to_be_visible()
        drag(page, "Consents", "Access", below=False)
        expect(page.locator(".rib.drop")).to_be_visible()
        page.mouse.up()
        expect_ribs(page, "1 Consents", "2 Harbour", "1 Access", "2 By sea", "2 By land", "1 Costs")
        expect(text_of(page)).to_contain_text("By boat. Still.")

    def test_a_section_that_two_move_at_once_stands_once(self) -> None:
        page, other, line = self.opened_by_two()
        line.cut()
        rib(other, "Access").get_by_role("button").focus()
        chord(other, "ArrowDown")
        expect(text_of(other).locator("p").first).to_have_text("Consents")
        rib(page, "Access").get_by_role("button").focus()
        chord(page, "ArrowDown")
        page.keyboard.press("ArrowDown")
        after = ("1 Consents", "2 Harbour", "1 Costs", "1 Access", "2 By sea", "2 By land")
        expect_ribs(page, *after)
        line.mend()
        expect_ribs(other, *after)
        expect_ribs(page, *after)
        self.assertEqual(text_of(page).locator("p").count(), 12)
        for words in ("By the gate.", "By boat.", "On foot."):
            expect(text_of(other).locator("p").filter(has_text=words)).to_have_count(1)

    def test_a_reader_moves_nothing(self) -> None:
        page = self.enter(READER)
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        text_of(page).wait_for()
        page.get_by_role("button", name="sections changed").wait_for()  # it takes its room from the ribs
        before = ribs(page)
        drag(page, "Before the pool", "Use and decline")
        expect(page.locator(".rib.drop")).to_have_count(0)
        page.mouse.up()
        chord(page, "ArrowDown")
        self.assertEqual(ribs(page), before)
