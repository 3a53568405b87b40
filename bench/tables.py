"""Tables of 3,000 lines: what is behind, catching up, other settings; in the core, and until browsers show it."""

from __future__ import annotations

import gc
import os
import subprocess
import sys
from dataclasses import replace
from statistics import median
from time import perf_counter, sleep

from playwright.sync_api import Browser, Page, sync_playwright

from bench.figures import p95, seconds, show
from demo.manual import manual
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, PlacedTable, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.recipes import Recipe, changed
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.changing import Now, caught_up, with_recipe
from mellowspine.core.tables.kinds import Sources, build, pages_of
from mellowspine.core.tables.renumbering import renumberings
from mellowspine.core.tables.settle import settle_all
from tests.journeys.application import CHROMIUM, FLAGS, OWNER, PROJECT, Application, chord

PAGES = 1160
"""Of the manual: as many as hold 3,000 headings."""

TITLE = "Three thousand lines"

_MAKE = f"""
from dataclasses import replace
from django.contrib.auth.models import User
from bench.tables import sample
from mellowspine.core.formats.imported import Imported
from mellowspine.server.rooms.making import make_report
make_report(Imported(replace(sample(), title={TITLE!r}), {{}}), User.objects.get(username="ines"))
"""


def sample() -> Report:
    """The manual with a table of all its headings in front."""
    report = manual(PAGES)
    blocks = (PlacedTable("place", "t", own_page=True), *report.blocks)
    recipe = changed(Recipe(), {("levels",): [*range(1, 10)]})
    return replace(report, blocks=blocks, numbering=SCHEMES["decimal"], tables={"t": Issued(recipe)})


def run() -> None:
    print("\nTables")
    _core()
    _browsers()


def _core() -> None:
    typefaces = Typefaces()
    report, pages = settle_all(sample(), typefaces)
    headings = outline(report)
    gc.freeze()  # as rooms do with the report that they hold
    issued = report.tables["t"]
    what = f"{len(issued.lines)} lines, {len(pages)} pages"
    texts = [
        at for at, block in enumerate(report.blocks) if isinstance(block, Paragraph) and block.style == "heading-2"
    ]
    times, catching = [], []
    for step in range(40):
        at = texts[len(texts) * step // 40]
        block = report.blocks[at]
        assert isinstance(block, Paragraph)
        # Half of the edits rename a section, the others remove one, which renumbers those behind it.
        new = (replace(block, runs=(Run(block.text + " anew"),)),) if step % 2 else ()
        edited = replace(report, blocks=(*report.blocks[:at], *new, *report.blocks[at + 1 :]))
        now = outline(edited, (report, headings))
        after = paginate(edited, typefaces, pages, now)
        start = perf_counter()
        fresh = build(issued.recipe, Sources(now, after, pages_of(now, after), 0))
        renumberings(behind(issued.lines, fresh))
        times.append(perf_counter() - start)
        state = Now(edited, after, now, typefaces)
        catching.append(seconds(lambda state=state: caught_up(state, ["t"], "everything")))
    show(f"what is behind after an edit, {what}, p95", f"{1000 * p95(times):.1f} ms", "at most 20 ms")
    show("catching up everything, with pages, in the core, p95", f"{1000 * p95(catching):.0f} ms")
    state = Now(report, pages, headings, typefaces)
    sizes = [changed(issued.recipe, {("looks", "2", "size"): 9.0 + step / 10}) for step in range(5)]
    gc.unfreeze()
    show(
        "another size of a level, in the core, median",
        f"{1000 * median(seconds(lambda r=r: with_recipe(state, 't', r)) for r in sizes):.0f} ms",
    )


def _browsers() -> None:
    application = Application()
    try:
        environment = {**os.environ, "MELLOW_DATA": str(application.data)}
        subprocess.run(
            [sys.executable, "manage.py", "shell", "--no-imports", "-c", _MAKE],
            cwd=PROJECT,
            env=environment,
            check=True,
        )
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            one, other = _enter(browser, application), _enter(browser, application)
            chord(one, "c")
            _until(one, "[data-testid=how-far-behind]", "Level")
            _catch_up(one, other)
            _preview(one)
            _scroll(one)
            browser.close()
    finally:
        application.close()


def _enter(browser: Browser, application: Application) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.set_default_timeout(120_000)
    page.goto(application.address)
    page.get_by_role("button", name=OWNER).click()
    page.get_by_role("link", name=TITLE).click()
    page.locator("[data-rib]").first.wait_for()
    sleep(5)
    return page


def _until(page: Page, place: str, words: str) -> float:
    """Waits until these words are there; milliseconds, by the driver's clock."""
    start = perf_counter()
    # Not by the driver's own search for words, which keeps the browser busy in a long text.
    while words not in (page.evaluate("place => document.querySelector(place)?.textContent ?? ''", place)):
        sleep(0.005)
    return 1000 * (perf_counter() - start)


def _catch_up(one: Page, other: Page) -> None:
    found = []
    first = one.locator(".ProseMirror p[data-style='heading-1']").first
    for number in range(6):
        first.click()
        one.keyboard.press("End")
        one.keyboard.type(str(number))
        for page in (one, other):
            _until(page, "[data-testid=how-far-behind]", "behind")
        sleep(1)
        start = perf_counter()
        one.evaluate(
            "[...document.querySelectorAll('button')].find(one => one.textContent === 'Catch up everything').click()"
        )
        for page in (other, one):
            _until(page, "[data-testid=how-far-behind]", "Level")
        found.append(1000 * (perf_counter() - start))
        sleep(1)
    show(
        "catch up everything until two browsers show it, median / worst of six",
        f"{median(found):.0f} / {max(found):.0f} ms",
        "at most 500 ms",
    )


def _preview(page: Page) -> None:
    """From the pointer's move until the line is painted with the new indent, and until the core has said its pages."""
    page.get_by_role("button", name="Change by pressing").click()
    page.locator(".shaped [role=button]").nth(1).click()
    edge = page.get_by_role("slider").bounding_box()
    assert edge
    x, y = edge["x"] + 20, edge["y"] + 8
    page.mouse.move(x, y)
    page.mouse.down()
    painted, said = [], []
    for step in range(1, 11):
        asked = page.evaluate(
            "performance.getEntriesByType('resource').filter(one => one.name.endsWith('/preview')).length"
        )
        start = perf_counter()
        page.mouse.move(x + 8 * step, y)
        page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => done())))")
        painted.append(1000 * (perf_counter() - start))
        while asked == page.evaluate(
            "performance.getEntriesByType('resource').filter(one => one.name.endsWith('/preview')).length"
        ):
            sleep(0.005)
        said.append(1000 * (perf_counter() - start))
        sleep(0.3)
    page.mouse.up()
    show(
        "a dragged edge until it is painted, driver included, median / worst",
        f"{median(painted):.0f} / {max(painted):.0f} ms",
        "at most 150 ms",
    )
    show(
        "  until the core has said what it makes of it, median / worst",
        f"{median(said):.0f} / {max(said):.0f} ms",
        "at most 150 ms",
    )
    page.get_by_role("button", name="Done", exact=True).click()
    sleep(1)


def _scroll(page: Page) -> None:
    """Frames while the table leaf is scrolled from end to end."""
    frames = page.evaluate(
        """() => new Promise(done => {
          const leaf = document.querySelector('[aria-label="Table leaf"]');
          const times = []; let last = performance.now();
          const step = () => {
            const now = performance.now(); times.push(now - last); last = now;
            leaf.scrollTop += 240;
            if (leaf.scrollTop + leaf.clientHeight >= leaf.scrollHeight - 2 || times.length > 600) done(times.slice(1));
            else requestAnimationFrame(step);
          };
          requestAnimationFrame(step);
        })"""
    )
    show(
        f"{len(frames)} frames of scrolling the lines, p95 / longest",
        f"{p95(frames):.0f} / {max(frames):.0f} ms",
        "none over 50 ms",
    )
