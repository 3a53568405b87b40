"""What is cited and what the index leads to, as people mark, find, list and check it."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from .application import (
    OWNER,
    PROJECT,
    Journey,
    chord,
    look_line,
    put_cursor,
    put_in,
    show_panel,
    table_leaf,
    take_away,
    text_of,
)

_SELECT = """words => {
  const root = document.querySelector('.ProseMirror');
  const texts = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  for (let text; (text = texts.nextNode()); ) {
    const at = text.data.indexOf(words);
    const block = text.parentElement.closest('.band > p');
    if (at < 0 || !block) continue;
    block.scrollIntoView({block: 'center'});
    getSelection().setBaseAndExtent(text, at, text, at + words.length);
    return true;
  }
  return false;
}"""


def select(page: Page, words: str) -> None:
    """Selects words of the text, as somebody does who drags over them."""
    text_of(page).focus()
    page.wait_for_timeout(100)  # the editor puts its own selection there first
    assert page.evaluate(_SELECT, words), words
    page.wait_for_function("words => getSelection().toString() === words", arg=words)
    page.wait_for_timeout(50)


class Authorities(Journey):
    def opened(self, name: str, text: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", text.encode())
        page.locator("[data-rib]").first.wait_for()
        return page

    def places(self, page: Page, sort: str) -> Locator:
        return show_panel(page, sort)

    def expect_listed(self, left: Locator, *rows: str) -> None:
        """That these are the categories and what is in them, from top to bottom."""
        expect(left.get_by_role("list", name="Authorities by category").get_by_role("listitem")).to_contain_text(rows)

    def pages_of_pdf(self, page: Page) -> list[str]:
        with page.expect_download() as download:
            take_away(page)
        return [" ".join(one.extract_text().split()) for one in PdfReader(Path(download.value.path())).pages]

    def put_table(self, page: Page, words: str, where: str = "here") -> None:
        chord(page, "i")
        put_in(page, words, where)
        table_leaf(page).get_by_role("button", name="Done", exact=True).click()

    def test_all_that_looks_cited_is_marked_at_once_each_in_its_category(self) -> None:
        page = self.opened(
            "law", "# Law\n\nSee Vane v Ash [1931] and the Pilot Act 1902.\n\nAgain Vane v Ash [1931], and ISO 2145."
        )
        left = self.places(page, "Authorities")
        left.get_by_role("button", name="Find what looks like a citation").click()
        found = left.get_by_role("list", name="What looks like a citation")
        expect(found.get_by_role("listitem")).to_contain_text(["Vane v Ash", "Pilot Act 1902", "ISO 2145"])
        found.get_by_label("Category of ISO 2145").select_option(label="Other authorities")
        found.get_by_role("checkbox", name="Pilot Act 1902").click()
        left.get_by_role("button", name="Mark the 2 ticked, each in its category").click()
        self.expect_listed(left, "Cases", "Vane v Ash", "Other authorities", "ISO 2145")
        expect(page.locator(".citation")).to_have_text(["Vane v Ash [1931]", "Vane v Ash [1931]", "ISO 2145"])
        expect(found.get_by_role("listitem")).to_contain_text(["Pilot Act 1902"])
        text_of(page).focus()
        page.keyboard.press("Control+z")
        expect(page.locator(".citation")).to_have_count(0)
        page.keyboard.press("Control+y")
        expect(page.locator(".citation")).to_have_count(3)
        page.get_by_role("button", name="Take it back").click()
        expect(page.locator(".citation")).to_have_count(0)
        expect(left.get_by_text("Nothing is marked yet.")).to_be_visible()
        self.assert_accessible(page)

    def test_from_nothing_marked_to_a_table_checked_in_the_pdf(self) -> None:
        page = self.opened("nothing marked", (PROJECT / "demo/quillmere.md").read_text())
        select(page, "Harbour Walls Act 1871")
        chord(page, "m")
        line = look_line(page)
        expect(line.get_by_label("Category")).to_have_value("statutes")
        line.get_by_label("Cited in short").fill("the Walls Act")
        expect(line.get_by_role("checkbox", name="Harbour Walls Act 1871")).not_to_have_count(0)
        line.get_by_label("Cited in full").press("Enter")
        marked = page.locator(".citation")
        expect(marked.first).to_have_text("Harbour Walls Act 1871")
        # What looks like a citation is offered; one is left where it is not meant.
        left = self.places(page, "Authorities")
        left.get_by_role("button", name="Find what looks like a citation").click()
        left.get_by_role("button", name="Mark: Pennock v Quillmere Harbour Commissioners").click()
        left.get_by_label("Cited in full").press("Enter")
        self.expect_listed(left, "Cases", "Pennock", "Statutes", "Harbour Walls Act 1871")
        left.get_by_role("button", name="Mark: Sarn Fisheries v Attorney General").click()
        expect(left.get_by_role("button", name="Mark 2 places")).to_be_visible()
        left.get_by_role("checkbox", name="Sarn Fisheries").nth(1).click()
        left.get_by_role("button", name="Mark 1 place").click()
        self.expect_listed(left, "Cases", "Pennock", "Sarn Fisheries", "Statutes", "Harbour Walls Act 1871")
        # From its top: what has been scrolled half behind another counts as too small.
        left.get_by_role("heading", name="Authorities", exact=True).scroll_into_view_if_needed()
        self.assert_accessible(page)
        # The table, on a page of its own at the end.
        put_cursor(page, "A visit costs six crowns")
        self.put_table(page, "Table of authorities", "on a page of its own")
        show_panel(page, "As printed")
        status = left.get_by_role("status").first
        expect(status).to_contain_text("Level with the text")
        lines = left.get_by_role("list", name="Lines of Authorities")
        expect(lines.get_by_role("listitem")).to_have_count(5)
        expect(lines.get_by_role("listitem").nth(3)).to_contain_text("Statutes")
        # Into another category, and a page on: behind by both, and caught up.
        left = self.places(page, "Authorities")
        left.get_by_role("button", name="Change: Sarn Fisheries").click()
        left.get_by_label("Category", exact=True).select_option(label="Other authorities")
        self.expect_listed(
            left, "Cases", "Pennock", "Statutes", "Harbour Walls Act 1871", "Other authorities", "Sarn Fisheries"
        )
        page.get_by_role("button", name="Take it back").click()
        self.expect_listed(left, "Cases", "Pennock", "Sarn Fisheries", "Statutes", "Harbour Walls Act 1871")
        left.get_by_label("Category", exact=True).select_option(label="Other authorities")
        self.expect_listed(
            left, "Cases", "Pennock", "Statutes", "Harbour Walls Act 1871", "Other authorities", "Sarn Fisheries"
        )
        show_panel(page, "As printed")
        expect(status).to_contain_text("lines behind")
        page.get_by_label("Filter the spine").fill("What we ask")
        page.locator("[data-rib]").first.click()
        page.get_by_label("Filter the spine").fill("")
        page.keyboard.press("Home")
        page.keyboard.press("Control+Enter")
        left.get_by_role("button", name="Catch up everything").click()
        expect(status).to_contain_text("Level with the text")
        self.assert_accessible(page)
        texts = self.pages_of_pdf(page)
        table = next(text for text in texts if text.startswith("Authorities Cases"))
        for words in ("Harbour Walls Act 1871", "Pennock v Quillmere Harbour Commissioners"):
            found = re.search(re.escape(words) + r"(?: \(\d{4}\))?[ .]*(\d[\d, –]*)", table)
            assert found, table
            pages = [int(one) for one in re.findall(r"\d+", found[1])]
            self.assertEqual(pages, [n for n, text in enumerate(texts, 1) if words in text and text != table])
        # From a page number to the place, and back.
        lines.get_by_role("link", name=re.compile(r"^\d+, Pennock")).last.click()
        expect(page.locator(".citation").filter(has_text="Pennock").last).to_be_in_viewport()
        chord(page, "r")
        # The spine lists them by category.
        page.get_by_label("What the spine shows").select_option(label="Cases, 2")
        expect(page.locator("[data-rib]")).to_have_count(2)

    def test_marks_stay_through_edits_and_loading_and_are_taken_off(self) -> None:
        page = self.opened("marks", "# Law\n\nVane v. Ash says so. Id. at 3. See Vane v. Ash.\n\nAs ISO 2145 has it.\n")
        select(page, "Vane v. Ash")
        chord(page, "m")
        line = look_line(page)
        line.get_by_label("“id.” and “ibid.” behind it as well").check()
        line.get_by_role("button", name="Mark 3 places").click()
        expect(page.locator(".citation")).to_have_text(["Vane v. Ash", "Id.", "Vane v. Ash"])
        put_cursor(page, "Vane v. Ash says", end=False)
        page.keyboard.type("In ")
        expect(page.locator("[data-saved='true']")).to_be_visible()
        page.reload()
        expect(page.locator(".citation")).to_have_text(["Vane v. Ash", "Id.", "Vane v. Ash"])
        # By keyboard: into the mark, its tools, off it goes; undo brings it back.
        put_cursor(page, "In Vane", end=False)
        for _ in range(len("In V")):
            page.keyboard.press("ArrowRight")
        expect(look_line(page).get_by_role("group", name="Citation")).to_contain_text("Cites Vane v. Ash, in 3 places")
        look_line(page).get_by_role("button", name="Take the mark off").press("Enter")
        expect(page.locator(".citation")).to_have_count(2)
        text_of(page).press("Control+z")
        expect(page.locator(".citation")).to_have_count(3)
        # Two that are the same become one; marks can be hidden.
        select(page, "ISO 2145")
        chord(page, "m")
        look_line(page).get_by_role("button", name="Mark 1 place").click()
        left = self.places(page, "Authorities")
        left.get_by_role("button", name="Change: ISO 2145").click()
        left.get_by_label("The same as").select_option(label="Vane v. Ash")
        expect(
            left.get_by_role("list", name="Authorities by").get_by_role("button", name="Vane v. Ash, page 1")
        ).to_have_count(4)
        left.get_by_label("Marks are shown in the text").uncheck()
        expect(page.locator(".citation").first).to_have_css("border-bottom-color", "rgba(0, 0, 0, 0)")
        left.get_by_role("button", name="Change: ISO 2145").click()
        left.get_by_role("button", name="Forget it").click()
        expect(left.get_by_text("not cited")).to_have_count(0)
        # A category of one's own, and without it again.
        left.get_by_label("Name of the new category").fill("Maps")
        left.get_by_role("button", name="Make", exact=True).click()
        expect(left.get_by_role("list", name="Categories of your own")).to_contain_text("Maps")
        left.get_by_role("button", name="Change: Vane v. Ash").click()
        left.get_by_label("Category", exact=True).select_option(label="Maps")
        self.expect_listed(left, "Maps", "Vane v. Ash")
        left.get_by_role("button", name="Take out the category “Maps”").click()
        expect(left.get_by_role("list", name="Categories of your own")).to_have_count(0)
        self.expect_listed(left, "Other authorities", "Vane v. Ash")
        page.get_by_role("button", name="Take it back").click()
        self.expect_listed(left, "Maps", "Vane v. Ash")

    def test_somebody_else_deletes_the_words_while_they_are_marked(self) -> None:
        page = self.opened("two", "# Law\n\nFirst Vane v. Ash here.\n\nThen Vane v. Ash there.\n")
        other = self.enter(OWNER)
        other.goto(page.url)
        text_of(other).wait_for()
        select(page, "Vane v. Ash")
        chord(page, "m")
        expect(look_line(page).get_by_role("button", name="Mark 2 places")).to_be_visible()
        # The selected words are seen as such while the keyboard is in the form.
        self.assertEqual(page.evaluate("[...CSS.highlights.get('held-selection')].join()"), "Vane v. Ash")
        put_cursor(other, "Then Vane")
        other.keyboard.press("Shift+Home")
        other.keyboard.type("All gone.")
        expect(page.locator(".ProseMirror p").filter(has_text="All gone.")).to_be_visible()
        look_line(page).get_by_label("Cited in full").press("Enter")
        expect(page.locator(".citation")).to_have_text(["Vane v. Ash"])
        expect(other.locator(".citation")).to_have_text(["Vane v. Ash"])
        expect(other.locator(".ProseMirror p").filter(has_text="All gone.")).to_be_visible()

    def test_without_a_connection_the_form_stays_and_looks_again_once_there_is_one(self) -> None:
        page = self.opened("away", "# Law\n\nFirst Vane v. Ash here.\n\nThen Vane v. Ash there.\n")
        select(page, "Vane v. Ash")
        page.context.set_offline(True)
        chord(page, "m")
        line = look_line(page)
        expect(page.get_by_text("The server cannot be reached")).to_be_visible()
        line.get_by_label("Cited in short").fill("Vane")
        line.get_by_label("Cited in short").press("Enter")
        expect(line.get_by_label("Cited in short")).to_have_value("Vane")
        expect(page.locator(".citation")).to_have_count(0)
        page.context.set_offline(False)
        line.get_by_role("button", name="Mark 2 places").click()
        expect(page.locator(".citation")).to_have_text(["Vane v. Ash"] * 2)

    def test_an_index_of_thirty_terms(self) -> None:
        terms = [
            f"{word} {thing}"
            for word in ("tide", "gate", "wall", "pump", "basin")
            for thing in ("keeper", "log", "key", "survey", "cost", "light")
        ]
        parts = [
            f"## Part {n}\n\nHere the {term} is told of, and the {terms[(n + 7) % 30]} as well."
            for n, term in enumerate(terms)
        ]
        page = self.opened("index", "# All of it\n\n" + "\n\n".join(parts))
        line = look_line(page)
        for number, term in enumerate(terms):
            select(page, f"the {term}")
            page.keyboard.press("Shift+ArrowRight")  # with the space behind, which does not count
            chord(page, "d")
            thing, word = term.split()[1], term.split()[0]
            line.get_by_label("Term", exact=True).fill(thing if number % 2 else term)
            if number % 2:
                line.get_by_label("Beneath it").fill(word)
            line.get_by_label("everywhere else").check()
            expect(line.get_by_role("button", name="Mark 2 places")).to_be_enabled()
            line.get_by_label("Term", exact=True).press("Enter")
            expect(line.get_by_label("Term", exact=True)).to_have_count(0)
        expect(page.locator(".indexed")).to_have_count(60)
        left = self.places(page, "Index")
        listed = left.get_by_role("list", name="Terms of the index")
        expect(listed.get_by_role("listitem").first).to_have_attribute("aria-setsize", "30")
        # What is being typed is there however far the list is scrolled meanwhile.
        field = left.get_by_label("Term “basin cost”", exact=True)
        field.fill("basin price")
        left.hover()
        page.mouse.wheel(0, 4000)
        expect(listed.get_by_role("listitem").last).to_be_in_viewport()
        page.keyboard.press("Enter")
        page.mouse.wheel(0, -4000)
        expect(left.get_by_label("Term “basin price”", exact=True)).to_have_value("basin price")
        expect(page.locator(".indexed")).to_have_count(60)
        left.get_by_label("Term to look under").fill("lock")
        left.get_by_label("Term to see").fill("key")
        left.get_by_role("button", name="Add", exact=True).click()
        expect(left.get_by_role("list", name="Where to look instead")).to_contain_text("lock, see key")
        put_cursor(page, "Part 29")
        page.keyboard.press("Control+End")
        self.put_table(page, "Index")
        show_panel(page, "As printed")
        lines = left.get_by_role("list", name="Lines of Index")
        expect(lines).to_contain_text("lock, see key")
        # No letter stands at the foot of a column.
        page.locator(".columns .stands-over").first.scroll_into_view_if_needed()
        sides = "one => [one, one.nextElementSibling].map(each => each.getBoundingClientRect().left)"
        over = page.evaluate(f"[...document.querySelectorAll('.columns > .stands-over')].map({sides})")
        self.assertGreater(len(over), 5)
        for letter, beneath in over:
            self.assertAlmostEqual(letter, beneath, delta=60)
        # A term renamed is behind, and caught up; Ctrl+Z takes the renaming back.
        left = self.places(page, "Index")
        left.get_by_label("Term “basin keeper”", exact=True).fill("keeper › of the basin")
        page.keyboard.press("Enter")
        show_panel(page, "As printed")
        expect(left.get_by_role("status").first).to_contain_text("lines behind")
        left.get_by_role("button", name="Catch up everything").click()
        expect(lines).to_contain_text("of the basin")
        self.assert_accessible(page)
        texts = self.pages_of_pdf(page)
        index = next(text for text in texts if "lock, see key" in text)
        self.assertRegex(index, r"Index B basin key, 2, 3 basin price, \d")
