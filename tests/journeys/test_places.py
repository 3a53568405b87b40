"""Captions, links, bookmarks and references, as people use them."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from .application import (
    OWNER,
    READER,
    Journey,
    chord,
    look_line,
    put_cursor,
    put_in,
    rib,
    show_panel,
    table_leaf,
    take_away,
    text_of,
)

PIXEL = "data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="


def album(pictures: int = 20) -> bytes:
    """Twenty pictures in two chapters with captions that were typed."""
    parts = ["# North shore\n\nAs Figure 12 shows, the wall leans.\n"]
    for number in range(1, pictures + 1):
        if number == pictures // 2 + 1:
            parts.append("# South shore\n\nSee section 1 and Figure 2 for more.\n")
        parts.append(f"![Wall {number}]({PIXEL})\n\nFigure {number}: Length {number} of the wall. Drawn by hand.\n")
    return "\n".join(parts).encode()


class Places(Journey):
    def opened(self, name: str, text: bytes) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", text)
        page.locator("[data-rib]").first.wait_for()
        return page

    def paragraph(self, page: Page, words: str) -> Locator:
        return page.locator(".ProseMirror p").filter(has_text=words).first

    def front(self, page: Page, words: str, front: str) -> None:
        """What stands in front of a caption's words."""
        expect(self.paragraph(page, words)).to_have_css("content", f'"{front}"', pseudo="before")

    def pdf(self, page: Page) -> PdfReader:
        with page.expect_download() as download:
            take_away(page)
        return PdfReader(Path(download.value.path()))

    def test_typed_captions_to_a_list_of_figures(self) -> None:
        page = self.opened("album", album())
        left = table_leaf(page)
        show_panel(page, "Ladder")
        left.get_by_label("Numbers of headings").select_option("decimal")
        chord(page, "k")
        left.get_by_role("button", name="Number them anew: all 20").click()
        left.get_by_role("button", name="Do it").click()
        self.front(page, "Length 12 of the wall", "Figure 12: ")
        # One paragraph with a caption’s style beside a picture has no words: the picture stays where it is.
        put_cursor(page, "Length 3 of the wall. Drawn by hand.")
        page.keyboard.press("Enter")
        look_line(page).get_by_label("Style", exact=True).select_option("caption")
        pictures = page.locator("figure").count()
        left.get_by_role("button", name="Pictures with a caption’s style").click()
        left.get_by_role("button", name="Take the style off; the picture stays").first.click()
        left.get_by_role("button", name="Do it").click()
        expect(page.locator("figure")).to_have_count(pictures)
        left.get_by_role("button", name=re.compile("^Keep them true from now on")).first.click()
        left.get_by_role("button", name="Do it").click()
        expect(page.locator(".reference")).to_have_text(["Figure 12", "1", "Figure 2"])
        # The list of figures, up to the first full stop.
        put_cursor(page, "As Figure 12 shows")
        chord(page, "i")
        put_in(page, "List of figures")
        left.get_by_role("button", name="Done", exact=True).click()
        lines = left.get_by_role("list", name="Lines of Figures").get_by_role("link")
        expect(lines.first).to_contain_text("Figure 1")
        left.get_by_role("button", name="Change by pressing").click()
        left.get_by_role("group", name="What is changed").get_by_role("button", name="Table").click()
        left.get_by_role("button", name="How much of a caption").click()
        left.get_by_role("button", name="Done", exact=True).click()
        expect(lines.first).not_to_contain_text("Drawn by hand")
        # A chapter is moved: every caption and reference follows, in the PDF too.
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        put_cursor(page, "South shore", end=False)
        page.keyboard.press("Home")
        page.keyboard.press("Control+Shift+End")
        page.keyboard.press("Control+x")
        expect(page.locator("figure")).to_have_count(pictures // 2)
        page.keyboard.press("Control+Home")
        page.keyboard.press("Control+v")
        expect(page.locator("figure")).to_have_count(pictures)
        expect(page.locator(".reference")).to_have_text(["2", "Figure 12", "Figure 2"])
        self.front(page, "Length 12 of the wall", "Figure 2: ")
        expect(left.get_by_role("status").first).to_contain_text("lines behind")
        text = " ".join(" ".join(one.extract_text() for one in self.pdf(page).pages).split())
        self.assertIn("See section 2 and Figure 12 for more", text)
        self.assertIn("As Figure 2 shows", text)

    def test_a_caption_in_one_step_and_what_the_picture_shows(self) -> None:
        page = self.opened("one step", f"# Wall\n\nFirst words.\n\n![]({PIXEL})\n\nLast words.\n".encode())
        page.locator("figure img").click()
        line = look_line(page)
        line.get_by_label("What the picture shows").fill("The wall at low tide")
        page.keyboard.press("Enter")
        expect(page.get_by_role("img", name="The wall at low tide")).to_be_visible()
        page.locator("figure img").click()
        line.get_by_role("button", name="Put a caption below").click()
        page.keyboard.type("The wall")
        self.front(page, "The wall", "Figure 1: ")
        line.get_by_label("Label of this caption").select_option(label="Plate")
        self.front(page, "The wall", "Plate 1: ")
        text_of(page).press("Control+z")
        self.front(page, "The wall", "Figure 1: ")
        expect(page.get_by_label("What the spine shows")).to_contain_text("Figures, 1")

    def test_a_caption_by_keyboard(self) -> None:
        page = self.opened("no mouse", f"# Wall\n\nFirst words.\n\n![A wall]({PIXEL})\n\nLast words.\n".encode())
        put_cursor(page, "First words.")
        page.keyboard.press("ArrowRight")
        expect(page.locator("figure.ProseMirror-selectednode")).to_have_count(1)
        chord(page, "e")
        for _ in range(5):
            if page.evaluate("document.activeElement.textContent").startswith("Put a caption"):
                break
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        page.keyboard.type("The wall")
        self.front(page, "The wall", "Figure 1: ")

    def test_labels_by_chapter_and_of_ones_own(self) -> None:
        page = self.opened(
            "labels",
            f'# Sea\n\n![x]({PIXEL} "Figure 1: North")\n\n# Land\n\n![y]({PIXEL} "Figure 2: South")\n'.encode(),
        )
        show_panel(page, "Ladder")
        table_leaf(page).get_by_label("Numbers of headings").select_option("decimal")
        left = table_leaf(page)
        show_panel(page, "Styles")
        left.get_by_label("Style to look at").select_option("caption")
        left.get_by_label("How Figure is counted").select_option("1")
        self.front(page, "South", "Figure 2-1: ")
        left.get_by_label("What stands behind the number of Figure").fill(" – ")
        page.keyboard.press("Enter")
        self.front(page, "South", "Figure 2-1 – ")
        left.get_by_label("Name of the new label").fill("Map")
        left.get_by_role("button", name="Make").first.click()
        put_cursor(page, "South")
        look_line(page).get_by_label("Label of this caption").select_option(label="Map")
        self.front(page, "South", "Map 1: ")

    def test_links_references_and_back_by_keyboard(self) -> None:
        page = self.opened("keys", b"# Sea\n\nFirst words here.\n\n# Land\n\nSecond words there.\n")
        show_panel(page, "Ladder")
        table_leaf(page).get_by_label("Numbers of headings").select_option("decimal")
        put_cursor(page, "First words here.")
        page.keyboard.type(" See section ")
        chord(page, "l")
        page.keyboard.type("land")
        expect(page.get_by_role("list", name="Places of the report").get_by_role("button")).to_have_count(1)
        page.get_by_label("What is put in").select_option("number")
        page.get_by_label("Search places of the report").press("Enter")
        page.keyboard.type(".")
        expect(self.paragraph(page, "First words here.")).to_have_text("First words here. See section 2.")
        # It follows: a section in front of it.
        put_cursor(page, "See section")
        page.keyboard.press("Enter")
        page.keyboard.type("Between")
        chord(page, "1")
        expect(self.paragraph(page, "First words here.")).to_have_text("First words here. See section 3.")
        # Followed with the keyboard, and back again.
        page.locator(".reference").click()
        look_line(page).get_by_role("button", name="Go there").press("Enter")
        expect(page.get_by_role("button", name="Back to where you were")).to_be_visible()
        chord(page, "r")
        # A link on words, by its place; then its place goes.
        put_cursor(page, "Second words there.")
        page.keyboard.press("Shift+Home")
        chord(page, "l")
        page.keyboard.type("between")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.locator(".ProseMirror a")).to_have_text("Second words there.")
        rib(page, "Between").click()
        page.keyboard.press("Home")
        page.keyboard.press("Shift+End")
        page.keyboard.press("Delete")
        chord(page, "k")
        finding = table_leaf(page).locator(".finding").filter(has_text="Second words there")
        expect(finding).to_contain_text("“Between”, which Ines Varga removed")

    def test_bookmarks_named_gone_to_renamed_and_taken_off(self) -> None:
        page = self.opened("marks", b"# Sea\n\nThe spring tide is highest.\n\n# Land\n\nLast words.\n")
        put_cursor(page, "The spring tide")
        page.keyboard.press("Home")
        page.keyboard.press("Control+Shift+ArrowRight")
        chord(page, "b")
        page.get_by_label("Name of the bookmark").fill("Highest tide")
        page.keyboard.press("Enter")
        expect(page.locator(".bookmark")).to_have_attribute("data-name", "Highest tide")
        put_cursor(page, "Last words.")
        page.keyboard.type(" On page ")
        chord(page, "l")
        page.keyboard.type("highest")
        page.get_by_label("What is put in").select_option("page")
        page.get_by_label("Search places of the report").press("Enter")
        expect(self.paragraph(page, "Last words.")).to_have_text("Last words. On page 1")
        left = table_leaf(page)
        show_panel(page, "Bookmarks")
        left.get_by_label("Name of the bookmark “Highest tide”").fill("Spring tide")
        page.keyboard.press("Enter")
        page.get_by_label("What the spine shows").select_option(label="Bookmarks, 1")
        rib_ = page.locator("[data-rib]").filter(has_text="Spring tide")
        rib_.click()
        left.get_by_role("button", name="Take off “Spring tide”").click()
        expect(left.get_by_role("alert")).to_contain_text("1 link or reference leads here")
        left.get_by_role("button", name="Take off “Spring tide”").click()
        expect(page.locator(".reference.broken")).to_have_text("[1?]")
        expect(left.get_by_role("list", name="What leads nowhere").get_by_role("listitem")).to_have_count(1)
        text_of(page).press("Control+z")
        expect(page.locator(".reference")).to_have_text("1")
        self.assert_accessible(page)

    def test_the_address_of_a_place_leads_a_reader_there(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Quillmere").click()
        text_of(page).wait_for()
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        page.get_by_label("Filter the spine").fill("Options")
        rib(page, "Options").first.click()
        page.get_by_role("button", name="Press to choose another").click()
        page.get_by_role("menuitem", name="Copy the address of this place").click()
        address = page.evaluate("navigator.clipboard.readText()")
        other = self.enter(READER)
        other.goto(address)
        heading = other.locator(".ProseMirror p[data-level]").filter(has_text="Options").first
        expect(heading).to_be_in_viewport()
        # References lead a reader on with a press.
        other.locator(".reference").first.scroll_into_view_if_needed()
        other.locator(".reference").first.click()
        expect(other.get_by_role("button", name="Back to where you were")).to_be_visible()

    def test_what_somebody_else_moves_while_a_reference_is_made(self) -> None:
        page = self.opened(
            "together",
            f'# Sea\n\nWords.\n\n![x]({PIXEL} "Figure 1: North")\n\n![y]({PIXEL} "Figure 2: South")\n'.encode(),
        )
        put_cursor(page, "Words.")
        page.keyboard.type(" See ")
        chord(page, "l")
        page.keyboard.type("south")
        page.get_by_label("Search places of the report").press("Enter")
        expect(page.locator(".reference")).to_have_text("Figure 2")
        other = page.context.new_page()  # a second browser window of the same person
        other.goto(page.url)
        expect(other.locator(".reference")).to_have_text("Figure 2")
        other.locator("figure").first.click()
        other.keyboard.press("Delete")
        put_cursor(other, "North")
        other.keyboard.press("Home")
        other.keyboard.press("Shift+End")
        other.keyboard.press("Delete")
        look_line(other).get_by_label("Label of this caption").select_option(label="no label")
        expect(page.locator(".reference")).to_have_text("Figure 1")

    def test_a_pasted_address_becomes_a_link_and_odd_ones_are_none(self) -> None:
        page = self.opened("paste", b"# Sea\n\nWords\n")
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        put_cursor(page, "Words")
        page.keyboard.type(" ")
        page.evaluate("navigator.clipboard.writeText('https://example.org/tides')")
        page.keyboard.press("Control+v")
        expect(page.locator(".ProseMirror a")).to_have_attribute("href", "https://example.org/tides")
        page.keyboard.type(" and on")
        expect(page.locator(".ProseMirror a")).to_have_text("https://example.org/tides")
        chord(page, "l")
        page.get_by_label("Search places of the report").fill("javascript:alert(1)")
        page.keyboard.press("Enter")
        expect(page.get_by_text("No place of the report reads so.")).to_be_visible()
        expect(page.locator(".ProseMirror a")).to_have_count(1)
