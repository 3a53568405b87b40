"""Styles, the look line, the ladder, numbers and house sheets, as people use them."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, Route, expect
from pypdf import PdfReader

from .application import (
    EDITOR,
    OWNER,
    READER,
    Journey,
    chord,
    look_line,
    put_cursor,
    put_in,
    rib,
    show_panel,
    take_away,
    text_of,
    whole_look,
)

PLAN = b"""# Summary

Words of the summary.

## What we ask

More words.

## What it costs

Words about money.

# The site

Last words.
"""


class Styles(Journey):
    def left(self, page: Page) -> Locator:
        return page.get_by_role("region", name="Table leaf")

    def show(self, page: Page, place: str) -> Locator:
        show_panel(page, place)
        return self.left(page)

    def brought_in(self, name: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", PLAN)
        rib(page, "The site").wait_for()
        return page

    def paragraph(self, page: Page, words: str) -> Locator:
        return page.locator(".ProseMirror p").filter(has_text=words).first

    def pdf(self, page: Page) -> PdfReader:
        with page.expect_download() as download:
            take_away(page)
        return PdfReader(Path(download.value.path()))

    def second(self, page: Page, name: str = EDITOR) -> Page:
        """A second person's browser in the same report, which they share in the demonstration."""
        other = self.enter(name)
        other.goto(page.url)
        other.locator("[data-rib]").first.wait_for()
        return other

    def quillmere(self, name: str = OWNER) -> Page:
        page = self.enter(name)
        page.get_by_role("link", name="Quillmere").click()
        page.locator("[data-rib]").first.wait_for()
        return page

    def test_a_level_is_restyled_by_example_and_taken_back(self) -> None:
        page = self.brought_in("example")
        put_cursor(page, "What we ask")
        line = whole_look(page)
        line.get_by_role("combobox", name="Alignment").select_option("center")
        line.get_by_role("spinbutton", name="Size").fill("12")
        page.keyboard.press("Enter")
        expect(line.locator(".marked")).to_have_count(2)
        other = self.paragraph(page, "What it costs")
        expect(other).to_have_css("font-size", "20px")
        line.get_by_role("button", name="Give this look to every Heading 2").click()
        expect(other).to_have_css("font-size", "16px")  # 12 points
        expect(other).to_have_css("text-align", "center")
        expect(line.locator(".marked")).to_have_count(0)
        # What was done by hand has gone from the example: it follows its style from now on.
        styles = self.show(page, "Styles")
        styles.get_by_label("Style to look at").select_option("heading-2")
        styles.get_by_role("spinbutton", name="Size").fill("14")
        page.keyboard.press("Enter")
        expect(self.paragraph(page, "What we ask")).to_have_css("font-size", "18.6667px")
        for wanted in ("16px", "20px"):
            styles.get_by_role("button", name="Take back").first.click()
            expect(other).to_have_css("font-size", wanted)

    def test_giving_a_look_is_taken_back_whole_where_it_is_told(self) -> None:
        page = self.brought_in("whole")
        put_cursor(page, "What we ask")
        look_line(page).get_by_role("spinbutton", name="Size").fill("12")
        page.keyboard.press("Enter")
        page.keyboard.press("Escape")
        chord(page, "g")
        for words in ("What we ask", "What it costs"):
            expect(self.paragraph(page, words)).to_have_css("font-size", "16px")
        expect(page.locator("[data-typeface]")).to_have_count(0)
        page.get_by_role("status").get_by_role("button", name="Take back").click()
        expect(self.paragraph(page, "What it costs")).to_have_css("font-size", "20px")
        expect(page.locator("[data-typeface]")).to_have_text("What we ask")

    def test_back_to_the_look_of_the_style_here_and_everywhere(self) -> None:
        page = self.brought_in("back")
        for words in ("What we ask", "What it costs"):
            put_cursor(page, words)
            whole_look(page).get_by_role("button", name="Slant").click()
            expect(self.paragraph(page, words).locator("em")).to_have_count(1)
        look_line(page).get_by_role("button", name="Back to the style’s look here").click()
        expect(page.locator(".ProseMirror em")).to_have_count(1)
        whole_look(page).get_by_role("button", name="Slant").click()
        expect(page.locator(".ProseMirror em")).to_have_count(2)
        look_line(page).get_by_role("button", name="Back to the style’s look everywhere").click()
        expect(page.locator(".ProseMirror em")).to_have_count(0)
        text_of(page).press("Control+z")
        expect(page.locator(".ProseMirror em")).to_have_count(2)

    def test_one_restyles_a_level_while_the_other_types_in_it(self) -> None:
        page, other = self.quillmere(), self.quillmere(EDITOR)
        put_cursor(other, "What we ask of the trust")
        ladder = self.show(page, "Ladder")
        ladder.get_by_role("button", name="Level 2").click()
        other.keyboard.type(" and")
        ladder.get_by_role("spinbutton", name="Size").fill("17")
        page.keyboard.press("Enter")
        other.keyboard.type(" of the town")
        for one in (page, other):
            heading = self.paragraph(one, "What we ask of the trust and of the town")
            expect(heading).to_have_css("font-size", "22.6667px")
        expect(text_of(other)).to_be_focused()
        ladder.get_by_role("button", name="Take back").click()
        expect(self.paragraph(other, "What we ask of the trust")).to_have_css("font-size", "20px")

    def test_numbers_in_another_scheme_are_in_text_spine_table_and_pdf(self) -> None:
        page = self.brought_in("numbers")
        put_cursor(page, "Words of the summary")
        chord(page, "i")
        put_in(page, "Contents table")
        self.left(page).get_by_role("button", name="Done", exact=True).click()
        ladder = self.show(page, "Ladder")
        for scheme, wanted in (("decimal", "1.2"), ("outline", "B."), ("legal", "§ 1.2")):
            ladder.get_by_label("Numbers of headings").select_option(scheme)
            expect(rib(page, "What it costs")).to_contain_text(f"{wanted} What it costs")
            before = "element => getComputedStyle(element, '::before').content"
            heading = self.paragraph(page, "What it costs")
            page.wait_for_function(f"element => ({before})(element) === '\"{wanted}\"'", arg=heading.element_handle())
        ladder.get_by_role("button", name="Level 2").click()
        pattern = ladder.get_by_label("Pattern of numbers in the body")
        pattern.fill("Section")
        expect(ladder.get_by_role("alert")).to_have_text("Write %2 where the number goes")
        pattern.fill("Section %2")
        page.keyboard.press("Enter")
        expect(rib(page, "What it costs")).to_contain_text("Section 2 What it costs")
        put_cursor(page, "What we ask")
        whole_look(page).get_by_label("Number of this heading").select_option("none")
        expect(rib(page, "What it costs")).to_contain_text("Section 1 What it costs")
        chord(page, "c")
        self.show(page, "As printed")
        expect(self.left(page).get_by_role("link", name="Section 1 What it costs")).to_be_visible()
        text = " ".join(self.pdf(page).pages[0].extract_text().split())
        self.assertIn("Article 1 Summary", text)
        self.assertIn("Section 1 What it costs", text)

    def test_a_report_is_given_the_house_sheet_for_filings_and_back(self) -> None:
        page = self.quillmere()
        house = self.show(page, "House sheets")
        house.get_by_role("button", name="Filings").click()
        house.locator("summary").filter(has_text="Body text").click()
        expect(house.get_by_text("Body text is 12 pt; the house sheet says 14 pt")).to_be_visible()
        expect(house.get_by_text("FRAP 32(a)(5)(A)").first).to_be_visible()
        before = len(self.pdf(page).pages)
        house.get_by_role("button", name="Give all of it").click()
        expect(house.get_by_text("This report is as the house sheet says.")).to_be_visible()
        body = self.paragraph(page, "The tidal lido at Quillmere has been closed")
        expect(body).to_have_css("font-size", "18.6667px")
        expect(rib(page, "What we ask of the trust")).to_contain_text("A. What we ask")
        filing = self.pdf(page)
        self.assertGreater(len(filing.pages), before)
        self.assertEqual([float(side) for side in filing.pages[0].mediabox[2:]], [612.0, 792.0])
        # One setting of it is changed: the report departs from its house sheet.
        styles = self.show(page, "Styles")
        styles.get_by_label("Style to look at").select_option("heading-2")
        styles.get_by_role("spinbutton", name="Size").fill("13")
        page.keyboard.press("Enter")
        house = self.show(page, "House sheets")
        house.locator("summary").filter(has_text="Heading 2").click()
        expect(house.get_by_text("Heading 2 is 13 pt; the house sheet says 14 pt")).to_be_visible()
        for _ in range(2):
            house.get_by_role("button", name="Take back").click()
            page.wait_for_timeout(600)
        expect(body).to_have_css("font-size", "16px")
        self.assertEqual(len(self.pdf(page).pages), before)

    def test_pages_in_front_of_the_body_have_roman_numerals_in_text_spine_table_and_pdf(self) -> None:
        page = self.quillmere()
        self.show(page, "Page").get_by_label("Front pages").select_option("roman")
        expect(rib(page, "Summary")).to_have_text(re.compile("1$"))
        expect(page.locator("[data-label='page ii']").first).to_be_attached()
        left = self.show(page, "As printed")
        expect(left.get_by_role("status").first).to_contain_text("lines behind")
        left.get_by_role("button", name="Catch up page numbers").click()
        lines = left.get_by_role("list", name="Lines of Contents")
        expect(lines.get_by_role("listitem").first).to_contain_text(re.compile(r"Summary[ .]*1$"))
        left.get_by_role("button", name="Change by pressing").click()
        expect(left.get_by_text("Takes 4 pages, from page ii")).to_be_visible()
        reader = self.pdf(page)
        self.assertEqual(reader.page_labels[:7], ["i", "ii", "iii", "iv", "v", "1", "2"])
        self.assertRegex(reader.pages[5].extract_text(), r"^1\s+Summary")
        self.assertRegex(reader.pages[1].extract_text(), r"\bii\s*$")

    def test_a_paragraph_is_put_into_the_tables_and_a_heading_kept_out(self) -> None:
        page = self.brought_in("exceptions")
        put_cursor(page, "Words of the summary")
        page.get_by_role("button", name="style Body text").click()
        page.get_by_role("menuitem", name="Into the tables").click()
        page.get_by_role("menuitem", name="At level 2").click()
        expect(rib(page, "Words of the summary")).to_contain_text("put into tables")
        expect(self.paragraph(page, "Words of the summary")).to_have_attribute("data-style", "body")
        put_cursor(page, "What we ask")
        page.get_by_role("button", name="style Heading 2").click()
        page.get_by_role("menuitemcheckbox", name="Keep this heading out of all tables").click()
        expect(rib(page, "What we ask")).to_contain_text("kept out of tables")
        put_cursor(page, "Last words")
        chord(page, "i")
        put_in(page, "Contents table")
        self.left(page).get_by_role("button", name="Done", exact=True).click()
        lines = self.left(page).get_by_role("list", name="Lines of Contents").get_by_role("link")
        expect(lines).to_have_count(4)
        expect(lines.nth(1)).to_contain_text("Words of the summary")
        expect(lines.nth(2)).to_contain_text("What it costs")

    def test_one_heading_is_without_a_number_and_a_list_is_lettered_and_begins_anew(self) -> None:
        page = self.enter(OWNER)
        items = b"# Scope\n\n## Sea\n\n## Shore\n\n# Land\n\n1. North\n1. East\n1. South\n"
        self.bring_in(page, "counted.md", items)
        rib(page, "Scope").wait_for()
        ladder = self.show(page, "Ladder")
        ladder.get_by_label("Numbers of headings").select_option("decimal")
        expect(rib(page, "Shore")).to_contain_text("1.2")

        def say(words: str, name: str, value: str) -> None:
            put_cursor(page, words)
            whole_look(page).get_by_label(name).select_option(value)

        say("Sea", "Number of this heading", "none")
        expect(rib(page, "Shore")).to_contain_text("1.1")
        say("Land", "Number of this heading", "appendix")
        expect(rib(page, "Land")).to_contain_text("A Land")
        say("Land", "Number of this heading", "")
        expect(rib(page, "Land")).to_contain_text("2 Land")
        # The list, in letters of its own form.
        styles = self.show(page, "Styles")
        put_cursor(page, "East")
        styles.get_by_label("Style to look at").select_option(label="Numbered list 1")
        styles.get_by_label("Marker of list items").select_option(label="a, b, c")
        styles.get_by_label("How markers are written").fill("(%1)")
        page.keyboard.press("Enter")

        def marked(words: str, marker: str) -> None:
            expect(self.paragraph(page, words)).to_have_css("content", marker, pseudo="before")

        marked("North", '"(a)"')
        marked("South", '"(c)"')
        say("East", "Marker of this item", "none")
        marked("East", "none")
        marked("South", '"(b)"')
        put_cursor(page, "South")
        whole_look(page).get_by_label("Number counted from").fill("1")
        page.keyboard.press("Enter")
        marked("South", '"(a)"')

    def test_a_style_is_made_used_renamed_and_deleted(self) -> None:
        page = self.brought_in("own")
        styles = self.show(page, "Styles")
        styles.get_by_label("Name of the new style").fill("Aside")
        styles.get_by_role("button", name="Make").click()
        expect(styles.get_by_label("Name of the style")).to_have_value("Aside")
        styles.get_by_role("button", name="Slant").click()
        put_cursor(page, "Last words")
        look_line(page).get_by_label("Style", exact=True).select_option("aside")
        expect(self.paragraph(page, "Last words")).to_have_css("font-style", "italic")
        styles.get_by_label("Name of the style").fill("Caption")
        page.keyboard.press("Enter")
        expect(page.get_by_text("There is a style “Caption” already; choose another name.")).to_be_visible()
        styles.get_by_label("Name of the style").fill("Note to self")
        page.keyboard.press("Enter")
        expect(look_line(page).get_by_label("Style", exact=True)).to_have_value("aside")
        expect(styles.get_by_text("1 paragraph", exact=True)).to_be_visible()
        styles.get_by_label("Style for its paragraphs").select_option("quotation")
        styles.get_by_role("button", name="Delete “Note to self”").click()
        expect(self.paragraph(page, "Last words")).to_have_attribute("data-style", "quotation")
        expect(styles.get_by_label("Style to look at")).to_have_value("quotation")

    def test_paragraphs_leave_as_many_lines_on_a_page_as_their_style_says(self) -> None:
        page = self.enter(OWNER)
        filling = " ".join(["The keeper writes the level down."] * 100)
        long = " ".join(["Every gate is opened and shut once a month."] * 60)
        self.bring_in(page, "parted.md", f"# Log\n\n{filling}\n\n{long}\n".encode())
        text = self.paragraph(page, "Every gate")
        edge = text.locator(".page-edge")
        expect(edge).to_have_count(1)

        styles = self.show(page, "Styles")
        styles.get_by_label("Lines left at the foot of a page").fill("9")
        page.keyboard.press("Enter")
        expect(edge).to_have_count(0)
        styles.get_by_role("button", name="Take back: Body text: orphans").click()
        expect(edge).to_have_count(1)
        styles.get_by_text("keeps its lines together").click()
        expect(edge).to_have_count(0)
        expect(styles.get_by_label("Lines taken to the next page")).to_have_count(0)
        styles.get_by_role("button", name="Take back: Body text: keep together").click()
        expect(edge).to_have_count(1)

    def test_a_name_typed_while_another_is_turned_down_stays(self) -> None:
        page = self.brought_in("hasty")
        styles = self.show(page, "Styles")
        styles.get_by_label("Name of the new style").fill("Aside")
        styles.get_by_role("button", name="Make").click()
        name = styles.get_by_label("Name of the style")
        expect(name).to_have_value("Aside")
        # The report as it is after the refusal comes late, when the next name is being typed.
        held: list[Route] = []
        page.route(re.compile(r"/api/reports/[\w-]+$"), lambda route: held.append(route))
        name.fill("Caption")
        page.keyboard.press("Enter")
        expect(page.get_by_text("There is a style “Caption” already; choose another name.")).to_be_visible()
        name.fill("Note to self")
        self.assertTrue(held)
        for route in held:
            route.continue_()
        page.unroute_all()
        expect(styles.get_by_label("Style to look at").locator("option:checked")).to_have_text("Aside")
        expect(name).to_have_value("Note to self")
        page.keyboard.press("Enter")
        expect(styles.get_by_role("button", name="Delete “Note to self”")).to_be_visible()

    def test_all_headings_of_a_rung_are_moved_and_come_back_with_undo(self) -> None:
        page = self.brought_in("rungs")
        ladder = self.show(page, "Ladder")
        ladder.get_by_role("button", name="Level 2, Heading 2, 2 headings").click()
        ladder.get_by_label("Move all headings of level 2").select_option("4")
        expect(ladder.get_by_role("button", name="Level 4, Heading 4, 2 headings")).to_be_visible()
        expect(ladder.get_by_role("button", name="Level 2, Heading 2, 0 headings")).to_be_visible()
        text_of(page).press("Control+z")
        expect(ladder.get_by_role("button", name="Level 2, Heading 2, 2 headings")).to_be_visible()

    def test_page_numbers_in_two_presses_from_the_page_strip(self) -> None:
        page = self.brought_in("pages")
        page.get_by_role("button", name="Page set-up and page numbers").click()
        self.left(page).get_by_role("button", name="At the head, right").click()
        self.left(page).get_by_role("button", name="2", exact=True).click()
        expect(self.left(page).get_by_role("button", name="At the foot, in the middle: nothing")).to_be_visible()
        places: dict[str, float] = {}
        self.pdf(page).pages[0].extract_text(visitor_text=lambda text, _, at, *__: places.update({text.strip(): at[5]}))
        self.assertGreater(places["1"], 842 - 72)

    def test_everything_by_keyboard(self) -> None:
        page = self.brought_in("keys")
        put_cursor(page, "What we ask")
        chord(page, "e")
        expect(look_line(page).get_by_label("Style", exact=True)).to_be_focused()
        for _ in range(2):
            page.keyboard.press("Tab")
        page.keyboard.type("12")
        page.keyboard.press("Enter")
        expect(self.paragraph(page, "What we ask").locator("[data-typeface]")).to_have_css("font-size", "16px")
        page.keyboard.press("Escape")
        expect(text_of(page)).to_be_focused()
        chord(page, "g")
        expect(self.paragraph(page, "What it costs")).to_have_css("font-size", "16px")
        chord(page, "h")
        self.assertTrue(page.evaluate("document.activeElement.getAttribute('aria-label') === 'Table leaf'"))
        ladder = self.left(page).get_by_role("button", name="Level 1, Heading 1")
        for _ in range(20):
            page.keyboard.press("Tab")
            if ladder.evaluate("element => element === document.activeElement"):
                break
        page.keyboard.press("Enter")
        expect(ladder).to_have_attribute("aria-expanded", "true")
        rib(page, "What we ask").get_by_role("button").focus()
        chord(page, "3")
        expect(self.paragraph(page, "What we ask")).to_have_attribute("data-style", "heading-3")
        chord(page, "0")
        expect(page.locator("[data-rib]")).to_have_count(3)

    def test_a_reader_sees_the_sheet_and_changes_nothing(self) -> None:
        page = self.quillmere(READER)
        expect(look_line(page)).to_have_count(0)
        ladder = self.show(page, "Ladder")
        ladder.get_by_role("button", name="Level 2").click()
        expect(ladder.get_by_role("spinbutton", name="Size")).to_be_disabled()
        expect(ladder.get_by_label("Numbers of headings")).to_be_disabled()
        styles = self.show(page, "Styles")
        expect(styles.get_by_role("button", name="Make")).to_have_count(0)
        house = self.show(page, "House sheets")
        house.get_by_role("button", name="Papers").click()
        expect(house.get_by_text("The report departs from it")).to_be_visible()
        expect(house.get_by_role("button", name="Give all of it")).to_have_count(0)

    def test_the_seam_opens_by_pointer_and_covers_nothing(self) -> None:
        page = self.brought_in("seam")
        heading, below = self.paragraph(page, "What we ask"), self.paragraph(page, "More words.")
        box = heading.bounding_box()
        assert box
        page.mouse.move(box["x"] + 300, box["y"] + box["height"] + 2)
        page.get_by_role("button", name="Put something in between").click()
        menu = page.get_by_role("menu", name="Put in here")
        expect(menu.get_by_role("menuitem").first).to_be_focused()
        puts = menu.bounding_box()
        assert puts
        top = below.evaluate(
            "p => { const r = document.createRange(); r.selectNodeContents(p); return r.getBoundingClientRect().top }"
        )
        self.assertGreaterEqual(top, puts["y"] + puts["height"])
        page.keyboard.press("Escape")
        expect(menu).to_have_count(0)
        expect(text_of(page)).to_be_focused()
        page.mouse.move(box["x"] + 300, box["y"] + box["height"] + 2)
        page.get_by_role("button", name="Put something in between").click()
        menu.get_by_role("menuitem", name="Page break").click()
        expect(page.locator(".ProseMirror [data-page-break]")).to_have_count(1)
        self.assertLess(heading.bounding_box()["y"], page.locator("[data-page-break]").bounding_box()["y"])  # type: ignore[index]
