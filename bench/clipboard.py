"""What is pasted, and find and replace: in the core with 1,000 pages, and in Chromium until the browser is quiet."""

from __future__ import annotations

import base64
import json
import time
from io import BytesIO
from itertools import count, islice

from PIL import Image
from playwright.sync_api import Page, sync_playwright

from bench.figures import busy_until, seconds, show, watch
from demo.manual import manual
from mellowspine.core.formats import read_html
from mellowspine.core.formats.html import write_piece
from mellowspine.core.formats.pictures import LONGEST_SIDE, check
from mellowspine.core.report.plan import as_json
from mellowspine.core.report.report import Report
from mellowspine.core.structure.searching import Wanted, changed_lines, find, replacement
from tests.journeys.application import CHROMIUM, FLAGS, OWNER, Application, show_panel, table_leaf, text_of

PAGES = 100


def page_of_html(pages: int) -> str:
    """Some HTML that fills about so many pages: two headings, a list and five paragraphs each."""
    words = "The keeper writes down <b>when</b> the water rises, and shuts the <a href='https://example.org'>gate</a> at dusk. "
    return "".join(
        f"<h2>Section {n}</h2><p>{words * 6}</p><p>{words * 6}</p><ul><li>One<li>Two<li>Three</ul><h3>More {n}</h3>"
        + f"<p>{words * 5}</p>" * 3
        for n in range(pages)
    )


def photograph() -> bytes:
    """Twelve megapixels of noise over a slope: nothing that packs well, as from a camera."""
    slope = Image.linear_gradient("L").resize((4000, 3000))
    noise = Image.effect_noise((4000, 3000), 40)
    saved = BytesIO()
    Image.merge("RGB", (slope, noise, slope)).save(saved, "JPEG", quality=92)
    return saved.getvalue()


def run() -> None:
    print("\nClipboard, find and replace")
    html, photo = page_of_html(PAGES), photograph()
    show(
        f"reads HTML of {PAGES} pages, {len(html) // 1000} kB",
        f"{1000 * seconds(lambda: read_html(html, Report('r'), map(str, count())), 3):.0f} ms",
    )
    show("a picture of 12 megapixels made smaller", f"{1000 * seconds(lambda: check(photo, LONGEST_SIDE), 3):.0f} ms")
    report = manual(1000)
    piece = report.blocks[:1100]
    show(
        "writes 100 pages as HTML",
        f"{1000 * seconds(lambda: write_piece(piece, report, {}, {}, lambda id: None), 3):.0f} ms",
    )
    for words, more in (("keeper", ""), ("the", ""), ("keeper", "any accents"), (r"(\w+) gate", "a pattern")):
        wanted = Wanted(words, accents=more == "any accents", pattern=more == "a pattern")
        hits = len(list(find(report, wanted)))
        show(
            f"finds “{words}” in 1,000 pages {more} ({hits:,} places)",
            f"{1000 * seconds(lambda wanted=wanted: list(islice(find(report, wanted), 2000)), 5):.0f} ms",
            "at most 100 ms",
        )
    some = {(hit.paragraph, hit.start) for hit in islice(find(report, Wanted("keeper")), 2000)}

    def plan() -> str:
        steps, hits = replacement(report, Wanted("keeper"), "warden", some)
        changed_lines(report, hits)
        return json.dumps(as_json(steps, report))

    show("plans 2,000 replacements", f"{1000 * seconds(plan, 3):.0f} ms")
    application = Application()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            may = ["clipboard-read", "clipboard-write"]
            page = browser.new_context(viewport={"width": 1280, "height": 800}, permissions=may).new_page()
            page.goto(application.address)
            page.get_by_role("button", name=OWNER).click()
            _pasted(page, html, photo)
            _copied(page)
            _replaced(page, application.address)
    finally:
        application.close()


_PASTE = """([html, photo]) => {
  const data = new DataTransfer();
  if (html) data.setData("text/html", html);
  if (photo) data.items.add(new File([Uint8Array.from(atob(photo), one => one.charCodeAt(0))], "photo.jpg", { type: "image/jpeg" }));
  window.begun = performance.now();
  document.querySelector(".ProseMirror").dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
}"""


def _pasted(page: Page, html: str, photo: bytes) -> None:
    page.get_by_role("button", name="Start a report").click()
    page.get_by_label("Name of the report").fill("Pasting")
    page.get_by_role("button", name="Start", exact=True).click()
    text_of(page).wait_for()
    watch(page)
    for given in ("<p>once</p>", html):
        text_of(page).click()
        page.keyboard.press("Control+End")
        page.evaluate(_PASTE, [given, ""])
        page.get_by_role("group", name="What was pasted").wait_for()
        quiet = busy_until(page)
    show(
        f"{PAGES} pages pasted until the browser is quiet",
        f"{quiet - page.evaluate('window.begun'):.0f} ms",
        "at most 2 s",
    )
    page.evaluate(_PASTE, ["", base64.b64encode(photo).decode()])
    page.locator(".ProseMirror figure img").wait_for()
    page.wait_for_function("() => document.querySelector('.ProseMirror figure img').naturalWidth > 0")
    took = page.evaluate("performance.now() - window.begun")
    show("a picture of 12 megapixels pasted until it stands there", f"{took:.0f} ms", "at most 2 s")


def _copied(page: Page) -> None:
    """All that has been pasted, copied: until the browser has its own half of it, and until it is there for other programs."""
    page.evaluate(
        """() => { const { clipboard } = navigator, write = clipboard.write.bind(clipboard);
        clipboard.write = items => write(items).then(() => { window.written = performance.now() });
        document.addEventListener("copy", () => { window.begun = performance.now() }, true) }"""
    )
    text_of(page).click()
    page.keyboard.press("Control+a")
    for _ in range(2):
        page.evaluate("window.written = 0")
        page.keyboard.press("Control+c")
        page.wait_for_function("() => window.written > 0")
        quiet = page.evaluate("window.written")
    took = quiet - page.evaluate("window.begun")
    show(f"{PAGES} pages and a picture copied until other programs have them", f"{took:.0f} ms")


def _replaced(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_role("link", name="Tide Gate Manual").click()
    text_of(page).wait_for()
    page.locator("[data-rib]").first.wait_for()
    show_panel(page, "Find")
    left = table_leaf(page)
    watch(page)
    start = time.perf_counter()
    left.get_by_label("Find", exact=True).fill("the gate")
    left.locator("mark").first.wait_for()
    show(
        "find in 300 pages from the last key until it is listed, pause of 200 ms included",
        f"{1000 * (time.perf_counter() - start):.0f} ms",
    )
    left.get_by_label("Find", exact=True).fill("e")
    left.get_by_text("places in").wait_for()
    left.get_by_label("Find", exact=True).fill("water")
    left.get_by_label("Put in its place").fill("sea")
    page.wait_for_timeout(1500)
    button = left.get_by_role("button", name="Replace all")
    places = button.inner_text()
    button.click()
    do = left.get_by_role("button", name="Replace", exact=True)
    do.wait_for()
    page.evaluate("() => { window.begun = performance.now() }")
    do.click()
    # Looked for in the notice alone: a driver that looks through the text of 300 pages would be what the browser is busy with.
    page.wait_for_function(
        "() => [...document.querySelectorAll('[role=status]')].some(one => one.textContent.includes('takes it back'))"
    )
    show(
        f"{places.strip(' …')}, until the browser is quiet",
        f"{busy_until(page) - page.evaluate('window.begun'):.0f} ms",
        "at most 1.5 s",
    )
