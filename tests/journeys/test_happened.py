"""What others did while one was away is seen, read and put back; words written in what another removed are kept."""

from __future__ import annotations

import re

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
    rib,
    show_panel,
    text_of,
)


class Away(Journey):
    def test_what_happened_since_one_was_here_is_seen_on_the_shelf_the_spine_and_in_sentences(self) -> None:
        page = self.enter(READER)
        book = page.get_by_role("link", name="Quillmere Lido Restoration")
        expect(book).to_contain_text("3 sections added, 1 removed, 1 renamed, 1 put at another level since today")
        expect(book).to_contain_text("by Maren Lisk and Tobias Okonjo")
        book.click()
        page.get_by_label("Filter the spine").fill("bathing season")  # of long lists there is what is in sight
        mark = rib(page, "Water quality and bathing season").locator(".news")
        expect(mark).to_have_attribute("data-seen", "false")
        expect(mark).to_have_text(", renamed since you were last here")
        page.get_by_role("button", name="sections changed").click()
        left = show_panel(page, "What happened")
        expect(left.get_by_role("listitem")).to_have_count(5)
        self.assert_accessible(page)
        first = left.get_by_role("button", name="Tobias Okonjo renamed “Water quality and bathing season”")
        expect(first).to_contain_text("which was “Water quality”.")
        expect(first).to_contain_text("in “Contents”")
        # Where it leads one has been, and the mark fades.
        first.click()
        expect(text_of(page).locator("p").filter(has_text="Water quality and bathing season")).to_be_in_viewport()
        expect(mark).to_have_attribute("data-seen", "true")
        left.get_by_label("By whom").select_option(label="Maren Lisk")
        expect(left.get_by_role("listitem")).to_have_count(3)
        left.get_by_label("What", exact=True).select_option(label="Added")
        expect(left.get_by_role("listitem")).to_have_count(2)
        # A reader reads what was removed, and puts nothing back.
        left.get_by_label("By whom").select_option(label="By anybody")
        left.get_by_label("What", exact=True).select_option(label="Removed")
        left.get_by_role("button", name="removed “Beach access during works”").first.click()
        expect(left.get_by_label("What was removed")).to_contain_text("The slip beside the lido is the only way")
        expect(left.get_by_role("button", name="Put it back")).to_have_count(0)
        left.get_by_label("Since when").select_option(label="Since it was made")
        expect(left.get_by_role("listitem")).to_have_count(1)


class Back(Journey):
    def open_report(self, name: str, line: Line | None = None) -> Page:
        page = self.enter(name)
        if line:
            page.route_web_socket("**/ws/**", line.take)
        page.get_by_role("link", name="Quillmere Lido Restoration").click()
        text_of(page).wait_for()
        rib(page, "Sea level").wait_for()
        return page

    def notice(self, page: Page, words: str) -> Locator:
        return page.get_by_role("status").filter(has_text=words)

    def remove(self, page: Page, words: str) -> None:
        rib(page, words).get_by_role("button").first.focus()
        chord(page, "Delete")
        expect(rib(page, words)).to_have_count(0)
        page.keyboard.press("Escape")

    def test_a_removed_section_is_put_back_where_it_was_or_at_the_cursor_and_the_contents_follow(self) -> None:
        page = self.open_report(OWNER)
        left = show_panel(page, "What happened")
        behind = how_far_behind(page).inner_text()
        self.remove(page, "Honeycomb worm")
        expect(how_far_behind(page)).not_to_have_text(behind)
        gone = left.get_by_role("button", name=re.compile("^Ines Varga removed “Honeycomb worm”"))
        gone.click()
        expect(left.get_by_label("What was removed").locator(".heading")).to_have_text("Honeycomb worm")
        left.get_by_role("button", name="Put it back: Ines Varga removed “Honeycomb worm”").click()
        expect(rib(page, "Honeycomb worm")).to_be_visible()
        expect(rib(page, "Honeycomb worm").locator(".number")).to_have_text("3.3.2")
        expect(how_far_behind(page)).to_have_text(behind)
        expect(gone).to_have_count(0)
        # So that the contents have no line for it, and then one again.
        page.keyboard.press("Control+z")
        chord(page, "c")
        expect(how_far_behind(page)).not_to_have_text(behind)
        left.get_by_role("button", name="Put it back: Ines Varga removed “Honeycomb worm”").click()
        standing = rib(page, "Honeycomb worm").get_by_role("button").first
        expect(standing).to_have_attribute("data-standing", "behind")
        chord(page, "c")
        expect(standing).to_have_attribute("data-standing", "level")
        # One step of undo; then it is put in somewhere else.
        text_of(page).focus()
        page.keyboard.press("Control+z")
        expect(rib(page, "Honeycomb worm")).to_have_count(0)
        expect(gone).to_be_visible()
        put_cursor(page, "A pressure gauge was hung")
        left.get_by_role("button", name="Put in at the cursor: Ines Varga removed “Honeycomb worm”").click()
        expect(rib(page, "Honeycomb worm").locator(".number")).not_to_have_text("3.3.2")
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+z")
        expect(rib(page, "Honeycomb worm").locator(".number")).to_have_text("3.3.2")

    def test_what_is_written_offline_in_a_section_that_is_removed_is_kept_told_and_put_back(self) -> None:
        page, line = self.open_report(OWNER), Line()
        other = self.open_report(EDITOR, line)
        self.to_end(other, "A higher sea also means")
        line.cut()
        other.keyboard.type(" Measured twice.")
        other.keyboard.press("Enter")
        other.keyboard.type("A paragraph of mine.")
        other.keyboard.press("Enter")
        other.keyboard.type("And another one.")
        behind = how_far_behind(page).inner_text()
        self.remove(page, "Sea level")
        expect(how_far_behind(page)).not_to_have_text(behind)
        line.mend()
        said = "Tobias Okonjo wrote 9 words in “Sea level”, which Ines Varga removed."
        for each in (page, other):
            expect(self.notice(each, said)).to_be_visible()
            expect(text_of(each)).not_to_contain_text("A paragraph of mine.")
        other.get_by_role("button", name="See them").click()
        kept = show_panel(other, "What happened").get_by_role("region", name="Kept words")
        expect(kept).to_contain_text("Measured twice.")
        expect(kept).to_contain_text("And another one.")
        self.assert_accessible(other)
        # The check-up leads there, and so it is after the page is loaded anew.
        page.reload()
        rib(page, "Waves in the harbour mouth").wait_for()
        left = show_panel(page, "Check-up")
        left.get_by_role("button", name=re.compile(f"^{re.escape(said)}")).click()
        kept = show_panel(page, "What happened").get_by_role("region", name="Kept words")
        kept.get_by_role("button", name="Put it back").click()
        for each in (page, other):
            expect(rib(each, "Sea level")).to_be_visible()
            for written in ("Measured twice.", "A paragraph of mine.", "And another one."):
                expect(text_of(each).locator("p").filter(has_text=written)).to_have_count(1)
            expect(each.get_by_role("region", name="Kept words")).to_have_count(0)
        expect(rib(page, "Sea level").locator(".number")).to_have_text("3.2.1")
        # The contents were never brought up to date without it.
        expect(rib(page, "Sea level").get_by_role("button").first).to_have_attribute("data-standing", "level")

    def to_end(self, page: Page, words: str) -> None:
        """Puts the cursor at the end of a paragraph of several lines."""
        put_cursor(page, words)
        paragraph = text_of(page).locator("p").filter(has_text=words)
        paragraph.evaluate("one => getSelection().collapse(one, one.childNodes.length)")
        page.wait_for_timeout(100)  # until the editor has heard of it

    def test_kept_words_are_put_in_elsewhere_or_let_go(self) -> None:
        page, line = self.open_report(OWNER), Line()
        other = self.open_report(EDITOR, line)
        put_cursor(other, "Roosting birds")
        line.cut()
        other.keyboard.type(" and their young")
        self.remove(page, "Roosting birds")
        line.mend()
        expect(self.notice(page, "Tobias Okonjo wrote 3 words in “Roosting birds")).to_be_visible()
        kept = show_panel(page, "What happened").get_by_role("region", name="Kept words")
        kept.get_by_role("button", name="Let it go").click()
        expect(kept).to_have_count(0)
        page.get_by_role("button", name="Take it back").click()
        put_cursor(page, "A pressure gauge was hung")
        kept.get_by_role("button", name="Put in at the cursor").click()
        expect(text_of(page).locator("p").filter(has_text="and their young")).to_have_count(1)
        expect(kept).to_have_count(0)
        # Whoever removed it takes that back: it is whole.
        text_of(page).focus()
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+z")
        expect(rib(other, "Roosting birds")).to_be_visible()
