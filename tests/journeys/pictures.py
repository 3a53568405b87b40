"""``make pictures``: takes the pictures in docs/screenshots from the demonstration, at 1280×800."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from .application import (
    CHROMIUM,
    EDITOR,
    FLAGS,
    OWNER,
    Application,
    Line,
    chord,
    look_line,
    put_cursor,
    put_in,
    rib,
    show_panel,
    table_leaf,
    text_of,
    whole_look,
)
from .test_authorities import select
from .test_rearranging import drag

FOLDER = Path(__file__).parents[2] / "docs/screenshots"

NOTES = b"""# Harbour notes

Taken on the quay, the ninth of May. See the [chart](https://example.org/chart).

---

<!-- The mate asks for another sounding. -->

## What was measured

| Place | Depth |
|---|---|
| Steps | 3.4 m |

![The chart](chart.png)
"""


def places(page: Page) -> None:
    """A caption about to be put in; a list of figures; a data table."""
    left = table_leaf(page)
    page.get_by_label("What the spine shows").select_option(label="Figures, 14")
    page.locator("[data-rib]").filter(has_text="The harbour mouth").first.click()
    look_line(page).get_by_label("Label of this caption").select_option(label="no label")
    page.locator("figure").first.scroll_into_view_if_needed()
    page.locator("figure img").first.click()
    look_line(page).get_by_role("button", name="Put a caption below").click()
    page.get_by_label("What the spine shows").select_option("headings")
    put_cursor(page, "Ines Varga, Tobias Okonjo")
    chord(page, "i")
    put_in(page, "List of figures")
    left.get_by_role("button", name="Done", exact=True).click()
    data_table(page)


def data_table(page: Page) -> None:
    """A data table whose cells are being changed: some are selected, and on a colour."""
    cells = [page.locator(".ProseMirror td").filter(has_text=words) for words in ("South wall", "Stitch the crack")]
    cells[0].scroll_into_view_if_needed()
    (first, last) = (one.bounding_box() for one in cells)
    assert first
    assert last
    page.mouse.move(first["x"] + 20, first["y"] + 8)
    page.mouse.down()
    page.mouse.move(last["x"] + 20, last["y"] + 8, steps=10)
    page.mouse.up()
    page.get_by_role("button", name="Look of the cells").click()
    looks = page.get_by_role("group", name="Look of the cells")
    looks.get_by_role("combobox", name="Colour behind the cells").select_option(label="behind: straw")
    looks.get_by_role("combobox", name="Lines around the cells", exact=True).select_option(
        label="lines above and below"
    )
    page.mouse.move(900, 120)
    page.wait_for_timeout(1000)
    page.screenshot(path=FOLDER / "data-table.png")
    page.keyboard.press("Escape")
    put_cursor(page, "Three attempts were made")


def rearranging(page: Page) -> None:
    """A rib that is dragged, and the one that shows where it would stand."""
    drag(page, "Sea level", "Waves in the harbour mouth", right=20)
    page.locator(".rib.drop .page").filter(has_text=re.compile(r"\d")).wait_for()
    page.wait_for_timeout(500)
    page.screenshot(path=FOLDER / "rearranging.png")
    page.keyboard.press("Escape")
    page.mouse.up()


def pages(page: Page) -> None:
    """The front in roman numerals, the body from 1 on a right-hand page under its sections; and the pages as they will lie."""
    left = show_panel(page, "Page")
    left.get_by_role("button", name="At the head, right").click()
    left.get_by_role("button", name="main section with its number").click()
    left.get_by_label("line under the head").check()
    left.get_by_role("button", name="At the foot, in the middle").click()
    left.get_by_role("button", name="Take out", exact=True).click()
    left.get_by_role("button", name="At the foot, right").click()
    left.get_by_role("button", name=re.compile("^Page 2 of")).click()
    go_to(page, "Summary")
    heading = text_of(page).locator("p").filter(has_text=re.compile("^Summary$")).bounding_box()
    assert heading
    page.mouse.move(900, heading["y"] + 20)
    page.mouse.move(900, heading["y"] - 1)
    page.get_by_role("button", name="Put something in between these paragraphs").click()
    put_in(page, "Part of its own", "with pages from 1, on the right")
    left.get_by_role("button", name="The beginning").click()
    left.get_by_label("How its pages are numbered").select_option("lower-roman")
    left.get_by_label("Name of the part").fill("Front matter")
    left.get_by_label("Name of the part").press("Enter")
    left.get_by_role("button", name="Body", exact=True).click()
    left.get_by_role("button", name="At the foot, right").click()
    page.mouse.move(1000, 600)
    page.wait_for_timeout(800)
    page.screenshot(path=FOLDER / "page.png")
    chord(page, "p")
    rib(page, "3.1 Ground").locator("[data-rib]").first.click()
    page.mouse.move(1240, 600)
    page.wait_for_timeout(2500)
    page.screenshot(path=FOLDER / "proof.png")
    chord(page, "p")
    page.wait_for_timeout(500)


def go_to(page: Page, words: str) -> None:
    page.get_by_label("Filter the spine").fill(words)
    page.wait_for_timeout(300)
    page.locator("[data-rib]").first.click()
    page.get_by_label("Filter the spine").fill("")
    page.mouse.move(900, 700)
    page.wait_for_timeout(1200)


def finding(page: Page) -> None:
    """Words about to be replaced in headings."""
    left = show_panel(page, "Find")
    left.get_by_label("Find", exact=True).fill("gate")
    left.get_by_label("Put in its place").fill("sluice")
    left.get_by_label("Where to look").select_option("headings alone")
    left.get_by_role("button", name="Replace all").click()
    left.get_by_role("region", name="What it would change").wait_for()
    page.mouse.move(900, 300)
    page.wait_for_timeout(800)
    page.screenshot(path=FOLDER / "find.png")
    left.get_by_role("button", name="Leave it").click()
    show_panel(page, "As printed")


def marks(page: Page) -> None:
    """What is cited, and an index."""
    left, line = show_panel(page, "Authorities"), look_line(page)
    left.get_by_role("button", name="Change: Harbour Walls Act 1871").click()
    left.get_by_role("button", name="Take its marks off").click()
    left.get_by_role("button", name="Change: Harbour Walls Act 1871").click()
    select(page, "Harbour Walls Act 1871")
    chord(page, "m")
    line.get_by_label("Cited in short").fill("the Walls Act")
    page.wait_for_timeout(8000)  # until the notice is gone
    page.screenshot(path=FOLDER / "citation.png")
    line.get_by_label("Cited in full").press("Enter")
    page.get_by_label("What the spine shows").select_option("cited statutes")
    for table in ("Authorities",):
        show_panel(page, table)
        page.get_by_role("navigation", name=table, exact=True).scroll_into_view_if_needed()
        page.mouse.move(900, 300)
        page.mouse.wheel(0, 250)
        page.wait_for_timeout(8000)
        page.screenshot(path=FOLDER / f"{table.lower()}.png")
        page.get_by_label("What the spine shows").select_option("headings")


def happened(page: Page, other: Page) -> None:
    """Words that were written in a section which another removed at that moment; and what others did besides."""
    line = Line()
    other.route_web_socket("**/ws/**", line.take)
    other.reload()
    text_of(other).wait_for()
    other.wait_for_timeout(4000)
    put_cursor(other, "Counts were made at high water")
    line.cut()
    other.keyboard.type(" The turnstones were seen in March as well, on the apron and on the slip.")
    page.get_by_label("Filter the spine").fill("Roosting")
    rib(page, "Roosting birds").get_by_role("button").first.focus()
    chord(page, "Delete")
    page.keyboard.press("Escape")
    page.get_by_label("Filter the spine").fill("")
    line.mend()
    left = show_panel(page, "What happened")
    left.get_by_role("region", name="Kept words").wait_for()
    page.mouse.move(900, 300)
    page.wait_for_timeout(14_000)  # until the notice is gone
    page.screenshot(path=FOLDER / "what-happened.png")
    left.get_by_role("button", name="Put it back").first.click()
    page.wait_for_timeout(1000)


def main() -> None:
    application = Application()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)

            def enter(name: str):
                page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
                page.goto(application.address)
                page.get_by_role("button", name=name).click()
                page.get_by_role("link", name="Tide Gate Manual").wait_for()
                return page

            def open_report(page):
                page.get_by_role("link", name="Quillmere Lido Restoration").click()
                text_of(page).wait_for()
                page.locator("[data-rib]").first.wait_for()
                page.wait_for_timeout(1000)

            page, other = enter(OWNER), enter(EDITOR)
            page.mouse.move(1000, 700)
            page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / "shelf.png")
            open_report(other)
            go_to(other, "Safety of the gates")
            open_report(page)
            go_to(page, "Sea level")
            rearranging(page)
            page.get_by_label("Show only the lines that differ").check()
            go_to(page, "Water quality")
            page.screenshot(path=FOLDER / "workspace-behind.png")
            left = table_leaf(page)
            page.get_by_role("button", name="Take away", exact=True).click()
            page.get_by_role("radio", name="Office Open XML").check()
            page.get_by_role("list", name="What the file will not have").wait_for()
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "take-away.png")
            page.keyboard.press("Escape")
            left.get_by_role("button", name="Forms").click()
            left.locator(".form-picture").last.wait_for()
            page.mouse.move(900, 300)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "forms.png")
            left.get_by_role("button", name="Change by pressing").click()
            left.get_by_role("button", name="Leader", exact=True).nth(3).click()
            page.mouse.move(900, 300)
            page.wait_for_timeout(500)
            left.get_by_role("button", name="Done", exact=True).click()
            page.get_by_role("button", name="Catch up everything").click()
            page.get_by_text("The table is level with the text.").wait_for()
            page.wait_for_timeout(13_000)  # until the notice is gone
            places(page)
            finding(page)
            go_to(page, "What we ask")
            whole_look(page).get_by_role("combobox", name="Alignment").select_option("center")
            look_line(page).get_by_role("spinbutton", name="Size").fill("17")
            page.keyboard.press("Enter")
            page.wait_for_timeout(600)
            page.screenshot(path=FOLDER / "look-line.png")
            look_line(page).get_by_role("button", name="less", exact=True).click()
            for place, press in (("Ladder", "Level 2"), ("Styles", None), ("House sheets", "Filings")):
                show_panel(page, place)
                if press:
                    left.get_by_role("button", name=press).click()
                if place == "Styles":
                    left.get_by_label("Style to look at").select_option("quotation")
                page.mouse.move(900, 300)
                page.wait_for_timeout(800)
                page.screenshot(path=FOLDER / f"{place.lower().replace(' ', '-')}.png")
            show_panel(page, "Check-up")
            left.get_by_role("button", name=re.compile("Move them up")).first.click()
            page.get_by_text("It would change").wait_for()
            page.mouse.move(900, 300)
            page.wait_for_timeout(6000)
            page.screenshot(path=FOLDER / "check-up.png")
            happened(page, other)
            marks(page)
            pages(page)
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
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / "import-summary.png")
            browser.close()
    finally:
        application.close()


if __name__ == "__main__":
    main()
