"""Main views against WCAG 2.2 A and AA, by the rules of axe-core."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, expect

from .application import OWNER, Journey, chord, look_line, put_cursor, text_of

AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"


class Accessible(Journey):
    def check(self, page: Page) -> None:
        page.wait_for_timeout(400)  # menus and notices fade in; half-faded text has no contrast
        page.evaluate(AXE.read_text())
        found = page.evaluate(
            "() => axe.run({runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})"
            ".then(result => result.violations.filter(one => ['serious', 'critical'].includes(one.impact))"
            ".map(one => [one.id, one.nodes.slice(0, 3).map(node => node.html.slice(0, 200))]))"
        )
        self.assertEqual(found, [])

    def test_sign_in(self) -> None:
        page = self.browser.new_context().new_page()
        self.addCleanup(page.context.close)
        page.goto(self.application.address)
        page.get_by_role("button", name=OWNER).wait_for()
        self.check(page)

    def test_shelf(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Tide Gate Manual").wait_for()
        self.check(page)

    def test_workspace_light_and_dark(self) -> None:
        for scheme in ("light", "dark"):
            with self.subTest(scheme):
                page = self.enter(OWNER, color_scheme=scheme)
                page.get_by_role("link", name="Quillmere Lido Restoration").click()
                text_of(page).wait_for()
                page.get_by_text("lines behind").first.wait_for()
                self.check(page)

    def test_the_places_where_looks_are_set_light_and_dark(self) -> None:
        for scheme in ("light", "dark"):
            page = self.enter(OWNER, color_scheme=scheme)
            page.get_by_role("link", name="Quillmere Lido Restoration").click()
            page.locator("[data-rib]").first.wait_for()
            put_cursor(page, "What we ask of the trust")
            look_line(page).get_by_role("button", name="Slant").click()
            left = page.get_by_role("region", name="Table leaf")
            for place, press in (
                ("Ladder", "Level 2"),
                ("Styles", None),
                ("House sheets", "Filings"),
                ("Page", None),
            ):
                with self.subTest(place, scheme=scheme):
                    left.get_by_role("button", name=place, exact=True).click()
                    if press:
                        left.get_by_role("button", name=press).click()
                    self.check(page)
            chord(page, "i")
            self.check(page)
            page.keyboard.press("Escape")
            text_of(page).press("Control+z")

    def test_people(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="People").click()
        expect(page.get_by_role("heading", name="A new account")).to_be_visible()
        self.check(page)
