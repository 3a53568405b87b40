"""Styles and numbers of a report of 1,000 pages: in the core, and until two browsers show it."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from dataclasses import replace

from playwright.sync_api import Page, sync_playwright

from bench.figures import busy_until, seconds, show, watch
from demo.manual import manual
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import change_style
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.kinds import build, sources_of
from mellowspine.core.tables.settle import with_contents
from tests.journeys.application import CHROMIUM, EDITOR, FLAGS, OWNER, PROJECT, Application, show_panel

LARGE = "A thousand pages"

_MAKE = f"""
from dataclasses import replace
from django.contrib.auth.models import User
from demo.manual import manual
from mellowspine.core.formats.imported import Imported
from mellowspine.server.rooms.making import make_report
from mellowspine.server.shelf.models import Membership, Role
report = make_report(Imported(replace(manual(1000), title="{LARGE}"), {{}}), User.objects.get(username="ines"))
Membership.objects.create(report=report, person=User.objects.get(username="tobias"), role=Role.EDITOR)
"""


def run() -> None:
    print("\nStyles and numbers, 1,000 pages")
    _core()
    _workspace()


def _core() -> None:
    typefaces = Typefaces()
    report, pages = with_contents(manual(1000), typefaces)
    headings = outline(report)

    def all_numbers(edited: Report) -> None:
        now = outline(edited, (report, headings))
        numbered = paginate(edited, typefaces, pages, now)
        build(edited.tables["contents"].recipe, sources_of(now, numbered))

    for what, id, values in (
        ("all body text, larger", "body", {"size": 11.5}),
        ("headings of level 2, larger", "heading-2", {"size": 16.0}),
    ):
        edited = replace(report, styles=change_style(report.styles, id, values))
        show(
            f"{what} → all page numbers", f"{1000 * seconds(lambda r=edited: all_numbers(r), 3):.0f} ms", "at most 1 s"
        )
    for scheme in ("outline", "none"):
        edited = replace(report, numbering=SCHEMES[scheme])
        taken = 1000 * seconds(lambda r=edited: all_numbers(r), 3)
        show(f"numbers: {scheme} → all page numbers", f"{taken:.0f} ms", "at most 500 ms")


def _workspace() -> None:
    application = Application()
    try:
        subprocess.run(
            [sys.executable, "manage.py", "shell", "--no-imports", "-c", _MAKE],
            cwd=PROJECT,
            env={**os.environ, "MELLOW_DATA": str(application.data)},
            check=True,
        )
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            one, other = (_enter(browser.new_page(), application, name) for name in (OWNER, EDITOR))
            show_panel(one, "Ladder")
            one.get_by_role("button", name="Level 2").click()
            size = one.get_by_role("region", name="Table leaf").get_by_role("spinbutton", name="Size")
            last = "[...document.querySelectorAll('[data-rib] .page')][0]?.textContent"
            other.get_by_label("Filter the spine").fill("Handing over")
            time.sleep(2)
            size.fill("30")
            before = other.evaluate(last)
            start = time.perf_counter()
            one.keyboard.press("Enter")
            other.wait_for_function(f"before => {last} !== before", arg=before, polling=10)
            show(
                "level 2 larger → page numbers in the other browser",
                f"{1000 * (time.perf_counter() - start):.0f} ms",
                "at most 1.5 s",
            )
            _mark(one)
            browser.close()
    finally:
        application.close()


def _enter(page: Page, application: Application, name: str) -> Page:
    page.set_default_timeout(120_000)
    page.goto(application.address)
    page.get_by_role("button", name=name).click()
    page.get_by_role("link", name=LARGE).click()
    page.locator("[data-rib]").first.wait_for()
    page.locator(".ProseMirror p").first.wait_for()
    time.sleep(2)
    return page


def _mark(page: Page) -> None:
    """All headings of the most frequent level to another one; quiet is when no frame takes longer than 50 ms any more."""
    watch(page)
    page.get_by_role("button", name="Level 3").click()
    choice = page.get_by_label("Move all headings of level 3")
    start = page.evaluate("performance.now()")
    choice.select_option("5")
    told = page.get_by_role("status").filter(has_text="paragraphs changed")
    told.wait_for()
    what = told.inner_text().split(".")[0]
    taken = busy_until(page) - start
    show(f"marking at once ({what}), until the browser is quiet", f"{taken:.0f} ms", "at most 1.5 s")
