"""``make pictures``: takes the pictures in docs/screenshots from the demonstration, at 1280×800."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from .application import CHROMIUM, EDITOR, FLAGS, OWNER, Application, chord, look_line, put_cursor, table_leaf, text_of

FOLDER = Path(__file__).parents[2] / "docs/screenshots"

NOTES = b"""# Harbour notes

Taken on the quay, the ninth of May. See the [chart](https://example.org/chart).

---

## What was measured

| Place | Depth |
|---|---|
| Steps | 3.4 m |

![The chart](chart.png)
"""


def places(page: Page) -> None:
    """A caption about to be put in; a list of figures, and a place being chosen; bookmarks on the spine."""
    left = table_leaf(page)
    page.get_by_label("What the spine shows").select_option(label="Figures, 14")
    page.locator("[data-rib]").filter(has_text="The harbour mouth").first.click()
    look_line(page).get_by_label("Label of this caption").select_option(label="no label")
    page.locator("figure").first.scroll_into_view_if_needed()
    page.locator("figure img").first.click()
    page.mouse.move(700, 600)
    page.wait_for_timeout(800)
    page.screenshot(path=FOLDER / "caption.png")
    look_line(page).get_by_role("button", name="Put a caption below").click()
    page.get_by_label("What the spine shows").select_option("headings")
    put_cursor(page, "Ines Varga, Tobias Okonjo")
    chord(page, "i")
    page.get_by_role("menuitem", name="List of figures here").click()
    left.get_by_role("button", name="Done", exact=True).click()
    put_cursor(page, "Three attempts were made")
    chord(page, "l")
    page.keyboard.type("wa")
    page.mouse.move(900, 200)
    page.wait_for_timeout(800)
    page.screenshot(path=FOLDER / "choosing-a-place.png")
    page.keyboard.press("Escape")
    left.get_by_role("button", name="Places", exact=True).click()
    page.get_by_label("What the spine shows").select_option(label="Bookmarks, 3")
    page.locator("[data-rib]").first.click()
    page.mouse.move(900, 300)
    page.wait_for_timeout(800)
    page.screenshot(path=FOLDER / "bookmarks.png")
    page.get_by_label("What the spine shows").select_option("headings")
    left.get_by_role("button", name="Tables", exact=True).click()


def main() -> None:
    application = Application()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)

            def enter(name: str):
                page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
                page.goto(application.address)
                page.get_by_role("button", name=name).wait_for()
                if name == OWNER:
                    page.screenshot(path=FOLDER / "sign-in.png")
                page.get_by_role("button", name=name).click()
                page.get_by_role("link", name="Tide Gate Manual").wait_for()
                return page

            def open_report(page):
                page.get_by_role("link", name="Quillmere Lido Restoration").click()
                text_of(page).wait_for()
                page.locator("[data-rib]").first.wait_for()
                page.wait_for_timeout(1000)

            def go_to(page, words: str):
                page.get_by_label("Filter the spine").fill(words)
                page.wait_for_timeout(300)
                page.locator("[data-rib]").first.click()
                page.get_by_label("Filter the spine").fill("")
                page.mouse.move(900, 700)
                page.wait_for_timeout(1200)

            page, other = enter(OWNER), enter(EDITOR)
            page.mouse.move(1000, 700)
            page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / "shelf.png")
            open_report(other)
            go_to(other, "Safety of the gates")
            open_report(page)
            page.get_by_label("Show only the lines that differ").check()
            go_to(page, "Water quality")
            page.screenshot(path=FOLDER / "workspace-behind.png")
            left = table_leaf(page)
            left.evaluate("element => element.scrollTo(0, 380)")
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "what-is-behind.png")
            left.get_by_label("See the result first").check()
            left.get_by_role("button", name="Catch up everything").click()
            page.get_by_text("This is how it will be").wait_for()
            left.evaluate("element => element.scrollTo(0, 360)")
            page.mouse.move(900, 300)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "result-first.png")
            left.get_by_role("button", name="Leave it as it is").click()
            left.get_by_label("See the result first").uncheck()
            left.evaluate("element => element.scrollTo(0, 0)")
            left.get_by_role("button", name="Forms").click()
            left.locator(".form-picture").last.wait_for()
            page.mouse.move(900, 300)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "forms.png")
            left.get_by_role("button", name="Change by pressing").click()
            left.get_by_role("button", name="Leader", exact=True).nth(3).click()
            page.mouse.move(900, 300)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "by-pressing.png")
            left.get_by_role("button", name="What the place means", exact=True).click()
            page.keyboard.press("Control+a")
            page.keyboard.type("What it means to the town")
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "own-words.png")
            page.keyboard.press("Escape")
            left.get_by_role("button", name="Done", exact=True).click()
            page.get_by_role("button", name="Catch up everything").click()
            page.get_by_text("The table is level with the text.").wait_for()
            page.wait_for_timeout(13_000)  # until the notice is gone
            places(page)
            go_to(page, "What we ask")
            look_line(page).get_by_role("combobox", name="Alignment").select_option("center")
            look_line(page).get_by_role("spinbutton", name="Size").fill("17")
            page.keyboard.press("Enter")
            page.wait_for_timeout(600)
            page.screenshot(path=FOLDER / "look-line.png")
            for place, press in (("Ladder", "Level 2"), ("Styles", None), ("House sheets", "Filings"), ("Page", None)):
                left.get_by_role("button", name=place, exact=True).click()
                if press:
                    left.get_by_role("button", name=press).click()
                if place == "Styles":
                    left.get_by_label("Style to look at").select_option("quotation")
                page.mouse.move(900, 300)
                page.wait_for_timeout(800)
                page.screenshot(path=FOLDER / f"{place.lower().replace(' ', '-')}.png")
            left.get_by_role("button", name="Check-up", exact=True).click()
            left.get_by_role("button", name=re.compile("Move them up")).first.click()
            page.get_by_text("It would change").wait_for()
            page.mouse.move(900, 300)
            page.wait_for_timeout(6000)
            page.screenshot(path=FOLDER / "check-up.png")
            page.goto(application.address)
            page.get_by_role("link", name="Stewards").click()
            page.get_by_role("button", name="See them on the ladder").click()
            page.mouse.move(900, 300)
            page.wait_for_timeout(1000)
            page.screenshot(path=FOLDER / "looks.png")
            page.goto(application.address)
            page.get_by_label("File to bring in").set_input_files(
                {"name": "harbour.md", "mimeType": "text/markdown", "buffer": NOTES}
            )
            page.get_by_role("link", name="Open it").wait_for()
            page.get_by_role("link", name="Open it").scroll_into_view_if_needed()
            page.mouse.wheel(0, 2000)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "import-summary.png")
            browser.close()
    finally:
        application.close()


if __name__ == "__main__":
    main()
