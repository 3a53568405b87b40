"""Sections rearranged: what a rib being dragged asks at each place, and a move until another browser shows it."""

from __future__ import annotations

from playwright.sync_api import Browser, Page, sync_playwright

from bench.figures import p95, seconds, show
from demo.manual import manual
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.report import Report
from mellowspine.core.structure.outline import outline
from mellowspine.core.structure.sections import Section, move, sections
from tests.journeys.application import CHROMIUM, EDITOR, FLAGS, OWNER, Application, chord, text_of

PAGES, MOVED = 1000, 50
"""Of the report, and about so many of the section."""


def run() -> None:
    print("\nSections")
    report, typefaces = manual(PAGES), Typefaces()
    pages = paginate(report, typefaces)
    known = [one for one in sections(report) if one.level == 1]
    moved = min(known, key=lambda one: abs(pages.page_of(one.end - 1) - pages.page_of(one.first) - MOVED))
    count = pages.page_of(moved.end - 1) - pages.page_of(moved.first) + 1
    took = [1000 * seconds(lambda to=to: _landed(report, pages, typefaces, moved, to)) for to in known]
    show(
        f"a section of {count} pages at each of {len(known)} places in {len(pages)}, p95",
        f"{p95(took):.0f} ms",
        "at most 50 ms",
    )
    application = Application()
    try:
        with sync_playwright() as playwright:
            _moved(playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS), application)
    finally:
        application.close()


def _landed(report: Report, pages: Pages, typefaces: Typefaces, moved: Section, to: Section) -> None:
    after = carry_out(move(report, [moved.id], to.id, None, pages.headings), report)
    headings = outline(after, (report, pages.headings))
    paginate(after, typefaces, pages, headings)


def _opened(browser: Browser, application: Application, name: str) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.goto(application.address)
    page.get_by_role("button", name=name).click()
    page.get_by_role("link", name="Tide Gate Manual").click()
    text_of(page).wait_for()
    page.get_by_label("Show levels 1 to 1").click()
    page.locator("[data-rib]").nth(3).wait_for()
    return page


_WATCH = """id => {
  const heading = () => document.querySelector('.ProseMirror [data-id="' + id + '"]');
  const place = () => heading()?.previousElementSibling?.dataset.id ?? heading()?.parentElement.previousElementSibling?.lastElementChild?.dataset.id;
  const page = () => document.querySelector('[data-rib="' + id + '"] .page')?.textContent;
  const before = [place(), page()], step = () => {
    window.there ??= heading() && place() !== before[0] ? Date.now() : undefined;
    window.paged ??= page() !== undefined && page() !== before[1] ? Date.now() : undefined;
    if (!window.there || !window.paged) setTimeout(step, 10) };
  window.there = window.paged = undefined;
  step() }"""


def _moved(browser: Browser, application: Application) -> None:
    """The second main section of the manual, down and up again."""
    one, other = _opened(browser, application, OWNER), _opened(browser, application, EDITOR)
    ids = one.evaluate(
        "() => [...document.querySelectorAll('[data-rib][data-level=\"1\"]')].map(one => one.dataset.rib)"
    )
    id = ids[1]
    one.wait_for_timeout(3000)
    texts, numbers = [], []
    for key in ("ArrowDown", "ArrowUp", "ArrowDown", "ArrowUp"):
        other.evaluate(_WATCH, id)
        one.locator(f"[data-rib='{id}']").focus()
        one.evaluate(
            "() => window.addEventListener('keydown', ({ key }) => { if (key.startsWith('Arrow')) window.pressed = Date.now() }, true)"
        )
        chord(one, key)
        other.wait_for_function("() => window.there && window.paged")
        one.keyboard.press("Escape")
        pressed = one.evaluate("window.pressed")
        texts.append(other.evaluate("window.there") - pressed)
        numbers.append(other.evaluate("window.paged") - pressed)
        one.wait_for_timeout(1500)
    show(
        "a main section moved until the other browser shows it, median / worst of four",
        f"{sorted(texts)[2]:.0f} / {max(texts):.0f} ms",
        "at most 300 ms",
    )
    show("  until its rib has its new page", f"{sorted(numbers)[2]:.0f} / {max(numbers):.0f} ms", "at most 400 ms")
