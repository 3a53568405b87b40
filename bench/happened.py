"""What happened: over 10,000 updates of a report of 1,000 pages, and a removed section read and put back."""

from __future__ import annotations

import os
import subprocess
import sys

from playwright.sync_api import Page, sync_playwright

from bench.busy import PAGES, TITLE, UPDATES
from bench.figures import show
from tests.journeys.application import CHROMIUM, FLAGS, OWNER, PROJECT, Application, show_panel, text_of


def run() -> None:
    print(f"\nWhat happened, {PAGES:,} pages, {UPDATES:,} updates")
    application = Application()
    try:
        filled = subprocess.run(
            [sys.executable, "-m", "bench.busy"],
            cwd=PROJECT,
            env={
                **os.environ,
                "MELLOW_DATA": str(application.data),
                "DJANGO_SETTINGS_MODULE": "mellowspine.server.config.settings",
            },
            check=True,
            capture_output=True,
            text=True,
        )
        key, removed = filled.stdout.split()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(application.address)
            page.get_by_role("button", name=OWNER).click()
            page.get_by_role("link", name=TITLE).click()
            text_of(page).wait_for(timeout=120_000)
            page.locator("[data-rib]").nth(3).wait_for(timeout=120_000)
            page.wait_for_timeout(5000)
            _asked(page, key, removed)
            _opened(page)
    finally:
        application.close()


_ASK = """async ([address, given]) => {
  const token = (document.cookie.match(/csrftoken=([^;]*)/) ?? [])[1], begun = performance.now();
  const answer = await fetch(address, given ? { method: 'POST', headers: { 'X-CSRFToken': token, 'Content-Type': 'application/json' }, body: JSON.stringify(given) } : {});
  const said = await answer.text();
  return [performance.now() - begun, answer.status, said.length] }"""


def _asked(page: Page, key: str, removed: str) -> None:
    reports = f"/api/reports/{key}"
    made = f"{reports}/happened?since=1970-01-01T00:00:00Z"
    for what, address, given, wanted in (
        ("since it was made", made, None, "at most 1,000 ms"),
        ("  asked again", made, None, ""),
        ("a removed section read", f"{reports}/removed/{removed}", None, "at most 200 ms"),
        ("  read again", f"{reports}/removed/{removed}", None, "at most 200 ms"),
        ("the plan that puts it back", f"{reports}/plans/back", {"section": removed}, "at most 200 ms"),
    ):
        took, status, length = page.evaluate(_ASK, [address, given])
        if status != 200:
            raise RuntimeError(f"{address} answered {status}")
        show(f"{what}, {length:,} bytes", f"{took:.0f} ms", wanted)


def _opened(page: Page) -> None:
    """By the second word of the chooser, when the first shows the check-up."""
    show_panel(page, "Check-up")
    page.wait_for_timeout(2000)
    took = []
    for _ in range(5):
        took.append(
            page.evaluate(
                """() => new Promise(done => {
                  const begun = performance.now();
                  [...document.querySelectorAll('nav[aria-label="Report"] a')].find(one => one.textContent.includes('What happened')).click();
                  const look = () => document.querySelector('.happened') ? requestAnimationFrame(() => done(performance.now() - begun)) : setTimeout(look, 5);
                  look() })"""
            )
        )
        show_panel(page, "Check-up")
        page.wait_for_timeout(500)
    show("its list opened since the last visit, first time", f"{took[0]:.0f} ms", "at most 1,000 ms")
    show("  again, median", f"{sorted(took[1:])[2]:.0f} ms", "at most 200 ms")
