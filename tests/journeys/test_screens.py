"""What is in sight: when a report opens, and on small screens."""

from __future__ import annotations

import re

from playwright.sync_api import Page, Route, expect

from mellowspine.core.kinds import data_table, picture

from .application import EDITOR, OWNER, READER, Journey, chord, put_cursor, show_panel, table_leaf, text_of

QUILLMERE = "Quillmere Lido Restoration"


class Screens(Journey):
    def open(self, width: int, height: int = 740, name: str = OWNER, title: str = QUILLMERE) -> Page:
        page = self.enter(name, viewport={"width": width, "height": height})
        page.get_by_role("link", name=title).click()
        text_of(page).wait_for()
        return page

    def test_a_report_opens_at_its_beginning_on_every_leaf(self) -> None:
        page = self.open(1280, 800, title="Tide Gate Manual")
        for words in (
            page.locator(".ProseMirror p").first,
            page.locator("[data-rib]").first,
            page.locator(".printed").first,
        ):
            expect(words).to_be_in_viewport()
        page.wait_for_timeout(500)  # nothing scrolls away behind that
        expect(page.locator("[data-rib]").first).to_be_in_viewport()

    def test_data_tables_and_pictures_have_the_space_on_screen_that_they_have_on_paper(self) -> None:
        page = self.open(1280, 800)
        for kind, space in (("table", data_table.SPACE), ("figure", picture.SPACE)):
            block = page.locator(f".ProseMirror .band > {kind}").first
            block.wait_for()
            gaps = block.evaluate(
                """block => { const { top, bottom } = block.getBoundingClientRect();
                    return [top - block.previousElementSibling.getBoundingClientRect().bottom,
                            block.nextElementSibling.getBoundingClientRect().top - bottom] }"""
            )
            self.assertTrue(all(gap >= space * 4 / 3 - 1 for gap in gaps), (kind, gaps))

    def test_a_workspace_that_cannot_be_fetched_says_what_to_do(self) -> None:
        page = self.enter(OWNER)
        page.route("**/assets/Workspace*.js", lambda route: route.abort())
        page.reload()
        page.get_by_role("link", name=QUILLMERE).click()
        expect(page.get_by_role("alert")).to_contain_text("Check the connection, then load it again")
        page.go_back()
        expect(page.get_by_role("heading", name="Your shelf")).to_be_visible()
        page.get_by_role("link", name=QUILLMERE).click()
        page.unroute("**/assets/Workspace*.js")
        page.get_by_role("button", name="Load it again").click()
        expect(text_of(page)).to_be_visible()
        self.assertTrue(self.troubles)
        self.troubles = [trouble for trouble in self.troubles if "Failed to fetch" not in trouble]

    def test_the_rib_of_the_section_in_sight_is_marked_and_in_sight(self) -> None:
        page = self.open(1280, 800, title="Tide Gate Manual")
        page.get_by_label("Filter the spine").fill("anode plate of the")
        page.locator("[data-rib]").nth(2).click()
        page.get_by_label("Filter the spine").fill("")
        current = page.locator("[data-rib][aria-current]")
        expect(current).to_contain_text("Anode plate of the")
        expect(current).to_be_in_viewport()

    def test_back_leads_to_the_same_lines_and_the_same_cursor_whatever_others_write(self) -> None:
        page, other = self.open(1280, 800), self.enter(EDITOR)
        other.goto(page.url)
        page.get_by_label("Filter the spine").fill("Noise")
        page.locator("[data-rib]").first.click()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("End")
        heading = page.locator(".band > p[data-style='heading-3']").filter(has_text="Noise")
        before = heading.bounding_box()["y"]  # type: ignore[index]
        page.get_by_label("Filter the spine").fill("Summary")
        page.locator("[data-rib]").first.click()
        expect(page.locator(".ProseMirror p").filter(has_text="Summary").first).to_be_in_viewport()
        paragraphs = page.locator(".band > p").count()
        put_cursor(other, "The tidal lido at Quillmere has been closed")
        for _ in range(6):
            other.keyboard.press("Enter")
        expect(page.locator(".band > p")).to_have_count(paragraphs + 6)
        chord(page, "r")
        expect(heading).to_be_in_viewport()
        page.wait_for_timeout(300)
        self.assertAlmostEqual(heading.bounding_box()["y"], before, delta=2)  # type: ignore[index]
        page.keyboard.type("HERE")
        expect(heading.locator("xpath=following::p[1]")).to_contain_text("HERE")

    def test_catching_up_leaves_the_text_where_it_is(self) -> None:
        """Though the table that grows stands above it, out of sight."""
        page = self.open(1280, 800)
        page.get_by_label("Filter the spine").fill("Water quality")
        page.locator("[data-rib]").first.click()
        heading = page.locator(".band > p").filter(has_text="Water quality").first
        page.wait_for_timeout(1000)
        before = heading.bounding_box()["y"]  # type: ignore[index]
        page.get_by_role("button", name="Catch up all").click()
        expect(page.get_by_test_id("how-far-behind")).to_have_text("◆ Level with the text")
        page.wait_for_timeout(300)
        self.assertAlmostEqual(heading.bounding_box()["y"], before, delta=2)  # type: ignore[index]

    def test_a_phone_shows_one_leaf_at_a_time(self) -> None:
        page = self.open(360, name=READER)
        text, spine = page.get_by_role("main", name="Text leaf"), page.get_by_role("navigation", name="Spine")
        leaf = page.get_by_role("region", name="Table leaf")
        chooser = page.get_by_role("group", name="Leaf in sight")
        expect(text).to_be_visible()
        expect(spine).to_be_hidden()
        self.assertLessEqual(page.evaluate("document.scrollingElement.scrollWidth"), 360)
        chooser.get_by_role("button", name="Table").click()
        expect(leaf.get_by_text(re.compile(r"^\W*11 lines behind$"))).to_be_visible()
        expect(text).to_be_hidden()
        chord(page, "f")
        expect(spine.get_by_label("Filter the spine")).to_be_focused()
        expect(leaf).to_be_hidden()
        spine.locator("[data-rib]").filter(has_text="Before the pool").click()
        expect(page.locator(".ProseMirror p").filter(has_text="Before the pool").first).to_be_in_viewport()
        expect(spine).to_be_hidden()

    def test_a_small_screen_keeps_the_spine_beside_one_leaf(self) -> None:
        page = self.open(820)
        spine, leaf = page.get_by_role("navigation", name="Spine"), page.get_by_role("region", name="Table leaf")
        page.get_by_role("group", name="Leaf in sight").get_by_role("button", name="Table").click()
        expect(spine).to_be_visible()
        expect(leaf).to_be_visible()
        chord(page, "f")
        expect(leaf).to_be_visible()
        spine.locator("[data-rib]").first.click()
        expect(text_of(page)).to_be_visible()
        expect(leaf).to_be_hidden()

    def test_each_panel_has_an_address_and_is_found_as_it_was_left(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        page.locator("[data-rib]").first.wait_for()
        left = show_panel(page, "Bookmarks")
        left.get_by_role("searchbox", name="Search bookmarks").fill("gate")
        show_panel(page, "Styles").get_by_label("Style to look at").select_option("quotation")
        expect(page).to_have_url(re.compile(r"/styles/quotation$"))
        there = page.url
        show_panel(page, "Bookmarks")
        expect(left.get_by_role("searchbox", name="Search bookmarks")).to_have_value("gate")
        left.get_by_role("link", name="Looks", exact=True).click()
        expect(left.get_by_label("Style to look at")).to_have_value("quotation")
        page.go_back()
        expect(left.get_by_role("searchbox", name="Search bookmarks")).to_be_visible()
        page.goto(there)
        expect(left.get_by_label("Style to look at")).to_have_value("quotation")

    def test_a_tick_answers_before_the_server_and_is_taken_back_if_that_refuses(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        tick = table_leaf(page).get_by_label("Keep itself level")
        tick.wait_for()
        held: list[Route] = []
        page.route("**/keeps-level", lambda route: held.append(route))
        tick.check()
        expect(tick).to_be_checked()
        while not held:
            page.wait_for_timeout(20)
        held[0].fulfill(status=403, content_type="application/json", body='{"message": "Not now."}')
        expect(tick).not_to_be_checked()
        expect(page.get_by_text("Not now.")).to_be_visible()
