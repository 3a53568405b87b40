"""Headings made by hand, and the check-up, at 1,000 pages: in the core, and until the browser that asked is quiet again."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from dataclasses import replace
from time import perf_counter

from playwright.sync_api import Page, sync_playwright

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from bench.figures import busy_until, p95, seconds, show, watch
from demo.manual import manual
from mellowspine.core.checkup.findings import Checked, State, check
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, Run
from mellowspine.core.report.report import Report
from mellowspine.core.structure.by_hand import find_by_hand
from mellowspine.core.structure.outline import outline
from mellowspine.core.structure.repeated import repeated
from tests.journeys.application import CHROMIUM, FLAGS, OWNER, PROJECT, Application, chord
from tests.reference.by_hand_reports import LOOKS, made_by_hand

MARKED = {"none": "", "decimal": ", numbers taken out and numbering turned on"}
"""By scheme of the typed numbers, what marking does beside giving styles."""

_MAKE = """
from dataclasses import replace
from django.contrib.auth.models import User
from demo.manual import manual
from mellowspine.core.formats.imported import Imported
from mellowspine.server.rooms.making import make_report
from tests.reference.by_hand_reports import LOOKS, made_by_hand
for scheme in ("none", "decimal"):
    report, _ = made_by_hand(manual(390), LOOKS["one size"], scheme, " ", 1)
    make_report(Imported(replace(report, title=f"By hand, {scheme}"), {}), User.objects.get(username="ines"))
"""


def run() -> None:
    print("\nLooks and check-up, 1,000 pages")
    marked = manual(1000)
    _core("with styles", marked)
    _core("by hand", made_by_hand(marked, LOOKS["one size"], "decimal", "\t", 1)[0])
    _workspace()


def _core(what: str, report: Report) -> None:
    typefaces = Typefaces()

    def state(now: Report, before: State | None = None) -> State:
        headings = outline(now, (before.report, before.headings) if before else None)
        pages = paginate(now, typefaces, before and before.pages, headings)
        again = repeated(now, (before.report, before.repeated) if before else None)
        return State(now, headings, pages, find_by_hand(now, before and before.found), again)

    show(f"finder in full, {what}", f"{seconds(lambda: find_by_hand(report), 3):.2f} s", "at most 2 s")
    last = state(report)
    found: Checked = check(last)
    show(
        f"check-up in full, {what}: {len(found.findings)} findings",
        f"{seconds(lambda: check(last), 3):.2f} s",
        "at most 1 s",
    )
    finder, checks = [], []
    texts = [at for at, block in enumerate(report.blocks) if isinstance(block, Paragraph) and len(block.text) > 80]
    for step in range(40):
        at = texts[len(texts) * step // 40]
        block = last.report.blocks[at]
        assert isinstance(block, Paragraph)
        longer = replace(block, runs=(*block.runs, Run(" And more.")))
        edited = replace(last.report, blocks=(*last.report.blocks[:at], longer, *last.report.blocks[at + 1 :]))
        start = perf_counter()
        find_by_hand(edited, last.found)
        finder.append(perf_counter() - start)
        now = state(edited, last)
        start = perf_counter()
        found = check(now, found)
        checks.append(perf_counter() - start)
        last = now
    show(f"finder after an edit, {what}, p95", f"{1000 * p95(finder):.1f} ms", "at most 20 ms")
    show(f"check-up after an edit, {what}, p95", f"{1000 * p95(checks):.1f} ms", "at most 30 ms")


def _workspace() -> None:
    application = Application()
    try:
        environment = {**os.environ, "MELLOW_DATA": str(application.data)}
        command = [sys.executable, "manage.py", "shell", "--no-imports", "-c", _MAKE]
        subprocess.run(command, cwd=PROJECT, env=environment, check=True)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            for scheme, what in MARKED.items():
                page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
                page.set_default_timeout(120_000)
                page.goto(application.address)
                page.get_by_role("button", name=OWNER).click()
                page.get_by_role("link", name=f"By hand, {scheme}").click()
                page.get_by_text("paragraphs look like headings").first.wait_for()
                chord(page, "h")
                _mark(page, what)
                page.context.close()
            browser.close()
    finally:
        application.close()


def _mark(page: Page, what: str) -> None:
    button = page.get_by_role("button", name=re.compile("^Mark .* paragraphs"))
    button.wait_for()
    page.wait_for_timeout(5000)  # what is shown before has been asked for
    watch(page)
    words, start = button.inner_text(), page.evaluate("performance.now()")
    button.click()
    # Not by the driver's own search for words, which keeps the browser busy in a long text.
    while "takes it back" not in page.evaluate("document.querySelector('[role=status][aria-live]').textContent"):
        page.wait_for_timeout(100)
    taken = busy_until(page) - start
    show(f"“{words}”{what}, until quiet", f"{taken:.0f} ms", "1,000 at most 1,500 ms")
