"""Runs the real application for the journeys, and drives Debian's Chromium through it."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any, ClassVar

from django.test import SimpleTestCase
from playwright.sync_api import (
    Browser,
    BrowserContext,
    Locator,
    Page,
    Playwright,
    WebSocketRoute,
    expect,
    sync_playwright,
)

PROJECT = Path(__file__).parents[2]
AXE = PROJECT / "web/node_modules/axe-core/axe.min.js"
CHROMIUM = "/usr/bin/chromium"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
         "--disable-component-update", "--disable-sync"]  # fmt: skip

# A busy machine is slow, not wrong.
expect.set_options(timeout=20_000)

OWNER, EDITOR, READER = "Ines Varga", "Tobias Okonjo", "Piet Halloran"


class Application:
    """The demonstration on a port of its own, with data of its own."""

    def __init__(self, chosen: tuple[str, ...] = ()) -> None:
        self.data = Path(tempfile.mkdtemp(prefix="mellow-journey-"))
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self.log = (self.data / "log").open("w")
        self.process = subprocess.Popen(
            [sys.executable, "-m", "demo", "--port", str(self.port)],
            cwd=PROJECT,
            env={**os.environ, "MELLOW_DATA": str(self.data)},
            stdout=self.log,
            stderr=subprocess.STDOUT,
        )
        for _ in range(600):
            try:
                urllib.request.urlopen(f"{self.address}/api/session", timeout=1)
                return
            except OSError:
                if self.process.poll() is not None:
                    break
                time.sleep(0.1)
        raise RuntimeError(f"The application did not start:\n{(self.data / 'log').read_text()}")

    def close(self) -> None:
        self.process.terminate()
        self.process.wait(10)
        self.log.close()
        shutil.rmtree(self.data, ignore_errors=True)


class Line:
    """A connection that can be cut and mended: a WebSocket that is open outlives the browser's being offline."""

    def __init__(self) -> None:
        self.whole = True
        self.open: list[WebSocketRoute] = []

    def take(self, route: WebSocketRoute) -> None:
        if self.whole:
            route.connect_to_server()
            self.open.append(route)
        else:
            route.close()

    def cut(self) -> None:
        self.whole = False
        for route in self.open:
            route.close()
        self.open.clear()

    def mend(self) -> None:
        self.whole = True


class Journey(SimpleTestCase):
    """A test that uses the application as people do. One application and one browser serve all tests of a class."""

    application: ClassVar[Application]
    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.application = Application()
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        cls.application.close()
        super().tearDownClass()

    def enter(self, name: str, **settings: Any) -> Page:
        """A browser of its own in which this person has signed in; ends with the test."""
        context: BrowserContext = self.browser.new_context(
            **{"viewport": {"width": 1280, "height": 800}, "accept_downloads": True, **settings}
        )
        context.set_default_timeout(30_000)
        self.addCleanup(context.close)
        page = context.new_page()
        self.troubles: list[str] = getattr(self, "troubles", [])
        page.on("pageerror", lambda error: self.troubles.append(str(error)))
        page.goto(self.application.address)
        page.get_by_role("button", name=name).click()
        page.get_by_role("heading", name="Your shelf").wait_for()
        return page

    def start_report(self, page: Page, title: str) -> str:
        """Starts an empty report; returns its address."""
        page.get_by_role("button", name="Start a report").click()
        page.get_by_label("Name of the report").fill(title)
        page.get_by_role("button", name="Start", exact=True).click()
        text_of(page).wait_for()
        return page.url

    def bring_in(self, page: Page, name: str, data: bytes, kind: str = "text/markdown") -> None:
        """Brings in a file from the shelf and opens the report it becomes."""
        page.get_by_label("File to bring in").set_input_files({"name": name, "mimeType": kind, "buffer": data})
        page.get_by_role("link", name="Open it").click()
        text_of(page).wait_for()

    def assert_accessible(self, page: Page, least: tuple[str, ...] = ("serious", "critical")) -> None:
        """No rule of axe-core for WCAG 2.2 A and AA is broken that has at least this impact.

        The size of targets is not asked of tables with many lines, over which axe-core takes a minute; nor far from what is in
        sight, where a browser lays nothing out (``content-visibility``), and guessed boxes lie over each other.
        """
        page.wait_for_timeout(400)  # menus and notices fade in; half-faded text has no contrast
        page.evaluate(AXE.read_text())
        found = page.evaluate(
            """async least => {
              const size = 'target-size';
              const tags = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
              const long = [...document.querySelectorAll('.placed-lines')].filter(one => one.querySelectorAll('a').length > 40);
              const results = [
                await axe.run({ runOnly: tags, rules: { [size]: { enabled: false } } }),
                await axe.run({ include: [document.body], exclude: long }, { runOnly: { type: 'rule', values: [size] }, elementRef: true }),
              ];
              const violations = results.flatMap(one => one.violations);
              const laidOut = ({ element }) => !element || element.checkVisibility({ contentVisibilityAuto: true });
              return violations
                .filter(one => least.includes(one.impact))
                .map(one => [one.id, one.id === size ? one.nodes.filter(laidOut) : one.nodes])
                .filter(([, nodes]) => nodes.length > 0)
                .map(([id, nodes]) => [id, nodes.slice(0, 3).map(node => node.html.slice(0, 200))]);
            }""",
            least,
        )
        self.assertEqual(found, [])

    def tearDown(self) -> None:
        self.assertEqual(getattr(self, "troubles", []), [])


def table_leaf(page: Page) -> Locator:
    return page.get_by_role("region", name="Table leaf")


PANELS = {
    "Tables": ("As printed", "Bookmarks", "Authorities", "Index"),
    "Looks": ("Ladder", "Styles", "House sheets", "Page", "Faces"),
    "Report": ("Check-up", "What happened", "Find"),
}


def show_panel(page: Page, name: str) -> Locator:
    """Has the table leaf show a panel by the words of its chooser, and gives the leaf."""
    left = table_leaf(page)
    group = next(group for group, panels in PANELS.items() if name in panels)
    chooser = left.get_by_role("navigation", name="What the table leaf shows")
    chooser.get_by_role("link", name=group, exact=True).click()
    if len(PANELS[group]) > 1:
        left.get_by_role("navigation", name=group, exact=True).get_by_role("link", name=name, exact=True).click()
    return left


def take_away(page: Page, kind: str = "PDF") -> None:
    """Has the report written as a file; ``kind`` is what the file is called there."""
    page.get_by_role("button", name="Take away", exact=True).click()
    slip = page.get_by_role("region", name="Take away")
    slip.get_by_role("radio", name=kind).check()
    slip.get_by_role("button", name=f"Write the {kind}").click()


def put_in(page: Page, what: str, where: str = "here") -> None:
    """Chooses a table in the open list of a seam, and where it is to stand."""
    page.get_by_role("menuitem", name=what, exact=True).click()
    page.get_by_role("menuitem", name=f"{what} {where}", exact=True).click()


def look_line(page: Page) -> Locator:
    return page.get_by_role("group", name="How the selection looks")


def whole_look(page: Page) -> Locator:
    """The look line with all of its words."""
    more = look_line(page).get_by_role("button", name="more", exact=True)
    look_line(page).get_by_role("combobox", name="Style", exact=True).wait_for()
    if more.count():
        more.click()
    return look_line(page)


def text_of(page: Page) -> Any:
    return page.get_by_role("textbox", name="Text of")


def rib(page: Page, words: str) -> Any:
    return page.get_by_role("navigation", name="Spine").locator("li").filter(has_text=words)


def how_far_behind(page: Page) -> Any:
    return page.get_by_test_id("how-far-behind")


def put_cursor(page: Page, words: str, end: bool = True) -> None:
    """Clicks a paragraph and goes to its end or start."""
    page.locator(".ProseMirror p").filter(has_text=words).first.click()
    page.keyboard.press("End" if end else "Home")


def chord(page: Page, key: str) -> None:
    page.keyboard.press("Alt+s")
    page.get_by_text("Now one key").wait_for()
    page.keyboard.press(key)
