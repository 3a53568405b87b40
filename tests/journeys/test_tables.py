"""Tables made to one's taste and brought level: what is behind, own words, forms, recipes by pressing, ways there and back."""

from __future__ import annotations

import re
from io import BytesIO

import pypdfium2
from playwright.sync_api import Locator, Page, expect

from .application import (
    EDITOR,
    OWNER,
    READER,
    Journey,
    Line,
    chord,
    how_far_behind,
    put_cursor,
    put_in,
    rib,
    table_leaf,
    take_away,
    text_of,
)

CHAPTERS = b"""# Gates

Words on gates.

## North gate

Words.

## South gate

Words.

# Tides

Words on tides.

## Spring

Words.

### Highest of them

Words.
"""


def press_part(page: Page, name: str) -> None:
    table_leaf(page).get_by_role("group", name="What is changed").get_by_role("button", name=name, exact=True).click()


def line(page: Page, words: str) -> Locator:
    """A line of the table leaf."""
    return table_leaf(page).locator(".long-list li").filter(has_text=words).first


def in_text(page: Page, words: str) -> Locator:
    """A line of the table where it stands in the text."""
    return text_of(page).locator(".placed-lines .printed").filter(has_text=words).first


def pdf_of(page: Page) -> pypdfium2.PdfDocument:
    with page.expect_download() as download:
        take_away(page)
    return pypdfium2.PdfDocument(BytesIO(download.value.path().read_bytes()))


class TablesJourney(Journey):
    def with_contents(self, name: str, connection: Line | None = None) -> tuple[Page, Locator]:
        """A report of two chapters with its contents at the front; and the table leaf that shows them."""
        page = self.enter(OWNER)
        if connection:
            page.route_web_socket("**/ws/**", connection.take)
        self.bring_in(page, f"{name}.md", CHAPTERS)
        put_cursor(page, "Words on gates")
        page.get_by_role("button", name="Contents at the front").click()
        table_leaf(page).get_by_role("button", name="Done", exact=True).click()
        return page, table_leaf(page)


class KeepingUp(TablesJourney):
    def test_from_what_four_people_changed_to_a_table_that_is_level_with_one_line_in_own_words(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Quillmere Lido").click()
        text_of(page).wait_for()
        leaf = table_leaf(page)
        expect(how_far_behind(page)).to_have_text("◇ 14 lines behind")

        # What is behind, line by line; what merely follows is said once.
        leaf.get_by_text("Show only the lines that differ").click()
        expect(line(page, "Water quality")).to_contain_text(
            "renamed: now “Water quality and bathing season” · Tobias Okonjo"
        )
        expect(
            leaf.get_by_text("count one more, since 9.3 “Lifts and hoists” was put on another level by Maren Lisk.")
        ).to_be_visible()
        expect(
            leaf.get_by_text(
                "9.1.3 counts one less, since 9.1.2 “Beach access during works” was removed by Tobias Okonjo."
            )
        ).to_be_visible()
        self.assert_accessible(page)
        leaf.get_by_text("Show only the lines that differ").click()

        # Own words, right in the table; another sees them in the text.
        other = self.enter(EDITOR)
        other.goto(page.url)
        text_of(other).wait_for()
        leaf.get_by_role("button", name="Change by pressing").click()
        leaf.get_by_role("button", name="What the place means", exact=True).click()
        page.keyboard.press("Control+a")
        page.keyboard.type("What it means")
        page.keyboard.press("Enter")
        expect(in_text(other, "What it means")).to_be_visible()
        expect(how_far_behind(page)).to_have_text("◇ 14 lines behind")
        leaf.get_by_role("button", name="Done", exact=True).click()

        # The heading beneath changes: the line asks, and keeps its words.
        put_cursor(other, "What the place means")
        other.keyboard.type(" to us")
        asks = leaf.get_by_role("region", name="Own words “What it means”")
        expect(asks).to_contain_text("now reads “What the place means to us”")
        expect(how_far_behind(page)).to_have_text("◇ 14 lines behind")
        asks.get_by_role("button", name="Keep “What it means”").click()
        expect(asks).to_have_count(0)

        # Page numbers only: lines whose headings are gone stay, and are marked.
        leaf.get_by_role("button", name="Catch up page numbers").click()
        expect(leaf.locator("[data-kinds='page']")).to_have_count(0)
        leaf.get_by_text("Show only the lines that differ").click()
        expect(line(page, "Beach access during works")).to_contain_text("gone")

        # Chosen lines.
        leaf.get_by_role("checkbox", name=re.compile("Choose Water quality")).click()
        leaf.get_by_role("button", name="Catch up chosen lines").click()
        expect(how_far_behind(page)).to_have_text("◇ 13 lines behind")

        # Everything, with the result before, and back.
        leaf.get_by_text("See the result first").click()
        leaf.get_by_role("button", name="Catch up everything").click()
        expect(leaf.get_by_text("Taken out: “Beach access during works”.")).to_be_visible()
        expect(leaf.locator(".long-list .table-line")).to_have_count(9)
        expect(how_far_behind(page)).to_have_text("◇ 13 lines behind")
        leaf.get_by_role("button", name="Catch up everything").last.click()
        expect(how_far_behind(page)).to_have_text("◇ 3 lines behind")
        page.get_by_role("button", name="Take it back").click()
        expect(how_far_behind(page)).to_have_text("◇ 13 lines behind")
        leaf.get_by_role("button", name="What was done").click()
        done = leaf.get_by_role("listitem")
        expect(done.first).to_contain_text("taken back")
        expect(done.nth(1)).to_contain_text("Caught up chosen lines")
        self.assert_accessible(page)
        leaf.get_by_role("button", name="Done", exact=True).click()
        chord(other, "c")
        expect(how_far_behind(page)).to_have_text("◇ 3 lines behind")
        expect(line(page, "What it means")).to_be_visible()

        # All of it in the PDF.
        front = "".join(pdf_of(page)[number].get_textpage().get_text_bounded() for number in range(1, 5))
        self.assertIn("What it means", front)
        self.assertIn("Water quality and bathing season", front)
        self.assertNotIn("Beach access during works", front)

    def test_it_keeps_itself_level_while_another_writes(self) -> None:
        page, leaf = self.with_contents("level")
        other = self.enter(OWNER)
        leaf.get_by_text("Keep itself level").click()
        other.goto(page.url)
        put_cursor(other, "North gate")
        other.keyboard.type(" and lock")
        expect(line(page, "North gate and lock")).to_be_visible()
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")


class Tables(TablesJourney):
    def test_leader_levels_indent_and_spacing_are_changed_where_they_are_seen_and_stand_so_in_the_pdf(self) -> None:
        page, leaf = self.with_contents("pressed")
        other = self.enter(OWNER)
        other.goto(page.url)
        expect(in_text(other, "North gate")).to_be_visible()
        leaf.get_by_role("button", name="Change by pressing").click()

        # A leader is pressed: its settings alone open.
        leaf.get_by_role("button", name="Leader", exact=True).first.click()
        leaf.get_by_role("combobox", name="Leader").select_option("-")
        expect(in_text(other, "North gate").locator(".leader")).to_contain_text("----")
        leaf.get_by_role("combobox", name="Leader").select_option("own")
        leaf.get_by_label("Character of the leader").fill("\N{OCTOPUS}")
        expect(page.get_by_text("has no character “🐙” to lead with")).to_be_visible()
        leaf.get_by_label("Character of the leader").fill("~")
        expect(in_text(other, "North gate").locator(".leader")).to_contain_text("~~~~")

        # An edge is dragged, with its figure; it is kept on letting go.
        leaf.get_by_role("button", name="North gate", exact=True).click()
        edge = leaf.get_by_role("slider", name="Indent of level 2")
        box = edge.bounding_box()
        assert box
        page.mouse.move(box["x"] + 20, box["y"] + 8)
        page.mouse.down()
        page.mouse.move(box["x"] + 20 + 40, box["y"] + 8, steps=4)
        expect(leaf.get_by_text("46 pt", exact=True)).to_be_visible()
        page.mouse.up()
        expect(leaf.get_by_role("spinbutton", name="Indent", exact=True)).to_have_value("46")
        expect(in_text(other, "South gate")).to_have_css("padding-left", re.compile(r"^61\.3"))
        edge.focus()
        page.keyboard.press("ArrowRight")
        expect(edge).to_have_attribute("aria-valuenow", "47")

        # Spacing and size of a level, in words; levels of the table.
        leaf.get_by_role("spinbutton", name="Space above").fill("9")
        leaf.get_by_role("button", name="Weight: regular").click()
        expect(in_text(other, "South gate")).to_have_css("font-weight", "700")
        expect(in_text(other, "South gate")).to_have_css("padding-top", "12px")
        press_part(page, "Table")
        leaf.get_by_role("button", name="Level 3", exact=True).last.click()
        expect(in_text(other, "Highest of them")).to_have_count(0)
        press_part(page, "Title")
        leaf.get_by_label("Title of the table").fill("What is in it")
        page.keyboard.press("Enter")
        expect(text_of(other).locator(".placed-lines")).to_contain_text("What is in it")
        self.assert_accessible(page)

        text = pdf_of(page)[0].get_textpage()
        words = text.get_text_range()
        self.assertIn("What is in it", words)
        self.assertNotIn("Highest of them", words)
        left, *_ = text.get_charbox(words.index("North gate"), loose=True)
        self.assertAlmostEqual(left, 72 + 47, delta=0.5)
        self.assertIn("~~~~~~~~", words)

    def test_forms_are_pictures_of_this_table_and_own_ones_are_kept(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "forms.md", CHAPTERS)
        put_cursor(page, "Words on gates")
        page.get_by_role("button", name="Contents at the front").click()
        leaf = table_leaf(page)
        expect(leaf.locator(".form-picture")).to_have_count(10)
        expect(leaf.locator(".form-picture").first).to_contain_text("North gate")
        leaf.get_by_role("button", name="Links alone").click()
        expect(leaf.get_by_role("button", name="✓ Links alone")).to_be_visible()
        expect(in_text(page, "North gate").locator(".page")).to_have_count(0)
        leaf.get_by_label("Name of the form").fill("Ours")
        leaf.get_by_role("button", name="Keep").click()
        expect(leaf.get_by_role("button", name="✓ Ours")).to_be_visible()
        leaf.get_by_role("button", name="Dots to the edge").click()
        expect(in_text(page, "North gate").locator(".page")).to_have_text("2")
        leaf.get_by_role("button", name="Ours", exact=True).click()
        expect(in_text(page, "North gate").locator(".page")).to_have_count(0)
        self.assert_accessible(page)
        leaf.get_by_role("button", name="Forget the form Ours").click()
        expect(leaf.get_by_role("button", name="Ours")).to_have_count(0)

        # Links lead there even so, and back.
        in_text(page, "Highest of them").click()
        expect(text_of(page).locator("p").filter(has_text="Highest of them")).to_be_in_viewport()
        page.get_by_role("button", name="Back to where you were").click()
        expect(in_text(page, "Highest of them")).to_be_in_viewport()

    def test_one_of_the_whole_and_one_of_a_chapter_removed_and_undone_with_all_that_was_made_by_hand(self) -> None:
        page, leaf = self.with_contents("several")
        put_cursor(page, "Words on tides")
        chord(page, "i")
        put_in(page, "Contents table")
        expect(text_of(page).locator(".placed-lines")).to_have_count(2)
        leaf.get_by_role("button", name="This section").click()
        leaf.get_by_role("button", name="Done", exact=True).click()
        second = text_of(page).locator(".placed-lines").nth(1)
        expect(second.locator(".printed .words")).to_have_text(["Spring", "Highest of them"])
        expect(text_of(page).locator(".placed-lines").first.locator(".printed")).to_have_count(6)

        # A line is left out, in this table alone.
        leaf.get_by_role("button", name="Change by pressing").click()
        leaf.get_by_role("button", name="Highest of them", exact=True).click()
        leaf.get_by_role("button", name="Leave this line out").click()
        expect(second.locator(".printed .words")).to_have_text(["Spring"])
        leaf.get_by_role("button", name="Done", exact=True).click()
        expect(leaf.get_by_text("Left out by hand:")).to_be_visible()

        # All of them in one press.
        put_cursor(page, "Spring")
        page.keyboard.type(" tides")
        leaf.get_by_role("button", name="Catch up all 2 tables").click()
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")

        # Out and in again.
        leaf.get_by_label("Table to look at").select_option(index=1)
        leaf.get_by_role("button", name="Remove this table").click()
        expect(text_of(page).locator(".placed-lines")).to_have_count(1)
        page.keyboard.press("Control+z")
        expect(second.locator(".printed .words")).to_have_text(["Spring tides"])
        leaf.get_by_label("Table to look at").select_option(index=1)
        leaf.get_by_role("button", name="Put it in again: Highest of them").click()
        expect(second.locator(".printed .words")).to_have_text(["Spring tides", "Highest of them"])

    def test_ways_back_stand_at_the_end_of_every_section_and_follow_when_sections_come(self) -> None:
        page, leaf = self.with_contents("ways")
        leaf.get_by_role("button", name="Change by pressing").click()
        leaf.get_by_role("combobox", name="Ways back to the contents").select_option("1")
        ways = text_of(page).locator(".way-back button")
        expect(ways).to_have_text(["Back to contents"] * 2)
        put_cursor(page, "Words on tides")
        page.keyboard.press("Enter")
        chord(page, "1")
        page.keyboard.type("Currents")
        expect(ways).to_have_count(3)
        page.keyboard.press("Control+End")
        ways.last.click()
        expect(text_of(page).locator(".placed-lines")).to_be_in_viewport()
        page.get_by_role("button", name="Back to where you were").click()
        expect(ways.last).to_be_in_viewport()
        leaf.get_by_role("combobox", name="Ways back to the contents").select_option("")
        expect(ways).to_have_count(0)

    def test_all_of_it_by_keyboard(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "keys.md", CHAPTERS)
        put_cursor(page, "Words on gates")
        leaf = table_leaf(page)
        leaf.get_by_role("button", name="Contents at the front").focus()
        page.keyboard.press("Enter")
        leaf.get_by_role("button", name="Ruled").focus()
        page.keyboard.press("Space")
        expect(leaf.get_by_role("button", name="✓ Ruled")).to_be_visible()

        # Own words of the line of the heading with the cursor.
        put_cursor(page, "North gate")
        chord(page, "o")
        expect(leaf.get_by_label("Words of the line “North gate”")).to_be_focused()
        page.keyboard.press("Control+a")
        page.keyboard.type("The north")
        page.keyboard.press("Enter")
        expect(in_text(page, "The north")).to_be_visible()
        leaf.get_by_role("button", name="The north", exact=True).focus()
        page.keyboard.press("Enter")
        leaf.get_by_role("button", name="Back to the heading’s words").focus()
        page.keyboard.press("Enter")
        expect(in_text(page, "North gate")).to_be_visible()

        # Escape leaves the words as they were.
        leaf.get_by_role("button", name="South gate", exact=True).focus()
        page.keyboard.press("Enter")
        page.keyboard.type("x")
        page.keyboard.press("Escape")
        expect(leaf.get_by_role("button", name="South gate", exact=True)).to_be_visible()

        # The edge of a level, and a heading in the text renamed and chosen.
        leaf.get_by_role("button", name="South gate", exact=True).focus()
        page.keyboard.press("Enter")
        leaf.get_by_role("slider", name="Indent of level 2").focus()
        page.keyboard.press("Shift+ArrowRight")
        expect(leaf.get_by_role("slider", name="Indent of level 2")).to_have_attribute("aria-valuenow", "16")
        leaf.get_by_role("button", name="Done", exact=True).focus()
        page.keyboard.press("Enter")
        put_cursor(page, "South gate")
        page.keyboard.type("s")
        mark = leaf.get_by_role("checkbox", name="Choose South gate: renamed")
        mark.focus()
        page.keyboard.press("Space")
        expect(mark).to_be_checked()
        leaf.get_by_role("button", name="Catch up chosen lines").focus()
        page.keyboard.press("Enter")
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")

    def test_readers_see_forms_and_history_and_no_means_to_change_them(self) -> None:
        page = self.enter(READER)
        page.get_by_role("link", name="Quillmere Lido").click()
        text_of(page).wait_for()
        leaf = table_leaf(page)
        expect(leaf.get_by_text(re.compile(r"^\W*11 lines behind$"))).to_be_visible()
        for name in ("Catch up everything", "Change by pressing", "Remove this table"):
            expect(leaf.get_by_role("button", name=name)).to_have_count(0)
        expect(leaf.get_by_role("checkbox", name="Choose")).to_have_count(0)
        leaf.get_by_role("button", name="Forms").click()
        expect(leaf.get_by_role("button", name="Ruled")).to_be_disabled()
        leaf.get_by_role("button", name="What was done").click()
        expect(leaf.get_by_text("Nothing was done to this table by hand yet.")).to_be_visible()

    def test_without_a_connection_it_says_so_and_nothing_is_lost(self) -> None:
        page, leaf = self.with_contents("away")
        put_cursor(page, "South gate")
        page.keyboard.type("s")
        expect(how_far_behind(page)).to_have_text("◇ 1 line behind")
        page.context.set_offline(True)
        leaf.get_by_role("button", name="Catch up everything").click()
        expect(page.get_by_text("The server cannot be reached")).to_be_visible()
        leaf.get_by_role("button", name="Change by pressing").click()
        leaf.get_by_role("combobox", name="Rules").select_option("lines")
        expect(leaf.get_by_role("combobox", name="Rules")).to_have_value("none")
        page.context.set_offline(False)
        leaf.get_by_role("button", name="Done", exact=True).click()
        expect(rib(page, "South gates")).to_be_visible()
        leaf.get_by_role("button", name="Catch up everything").click()
        expect(how_far_behind(page)).to_have_text("◆ Level with the text")

    def test_no_other_table_is_changed_while_one_that_was_just_put_in_is_on_its_way(self) -> None:
        connection = Line()
        page, leaf = self.with_contents("awaited", connection)
        connection.cut()
        put_cursor(page, "Words on tides")
        chord(page, "i")
        put_in(page, "Contents table")
        expect(leaf.get_by_text("The table is being put together")).to_be_visible()
        expect(leaf.get_by_role("button", name="This section")).to_have_count(0)
        connection.mend()
        leaf.get_by_role("button", name="This section").click()
        expect(text_of(page).locator(".placed-lines").nth(1).locator(".printed .words")).to_have_text(
            ["Spring", "Highest of them"]
        )

    def test_on_a_phone_and_in_the_dark(self) -> None:
        page = self.enter(OWNER, viewport={"width": 390, "height": 800}, color_scheme="dark")
        page.get_by_role("link", name="Quillmere Lido").click()
        page.get_by_role("group", name="Leaf in sight").get_by_role("button", name="Table").click()
        leaf = table_leaf(page)
        leaf.get_by_role("button", name="Change by pressing").click()
        leaf.get_by_role("button", name="Before the pool", exact=True).click()
        self.assert_accessible(page)
        self.assertLessEqual(leaf.evaluate("element => element.scrollWidth - element.clientWidth"), 0)
        leaf.get_by_role("button", name="Forms").click()
        leaf.locator(".form-picture").first.wait_for()
        self.assert_accessible(page)
