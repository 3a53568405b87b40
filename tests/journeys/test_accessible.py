"""Main views against WCAG 2.2 A and AA, by the rules of axe-core."""

from __future__ import annotations

from playwright.sync_api import expect

from .application import OWNER, Journey, chord, put_cursor, show_panel, text_of, whole_look


class Accessible(Journey):
    def test_sign_in(self) -> None:
        page = self.browser.new_context().new_page()
        self.addCleanup(page.context.close)
        page.goto(self.application.address)
        page.get_by_role("button", name=OWNER).wait_for()
        self.assert_accessible(page)

    def test_shelf(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Tide Gate Manual").wait_for()
        self.assert_accessible(page)

    def test_workspace_light_and_dark(self) -> None:
        for scheme in ("light", "dark"):
            with self.subTest(scheme):
                page = self.enter(OWNER, color_scheme=scheme)
                page.get_by_role("link", name="Quillmere Lido Restoration").click()
                text_of(page).wait_for()
                page.get_by_text("lines behind").first.wait_for()
                self.assert_accessible(page)

    def test_the_places_where_looks_are_set_light_and_dark(self) -> None:
        for scheme in ("light", "dark"):
            page = self.enter(OWNER, color_scheme=scheme)
            page.get_by_role("link", name="Quillmere Lido Restoration").click()
            page.locator("[data-rib]").first.wait_for()
            put_cursor(page, "What we ask of the trust")
            whole_look(page).get_by_role("button", name="Slant").click()
            left = page.get_by_role("region", name="Table leaf")
            for place, press in (
                ("Ladder", "Level 2"),
                ("Styles", None),
                ("House sheets", "Filings"),
                ("Page", None),
            ):
                with self.subTest(place, scheme=scheme):
                    show_panel(page, place)
                    if press:
                        left.get_by_role("button", name=press).click()
                    self.assert_accessible(page)
            chord(page, "i")
            self.assert_accessible(page)
            page.keyboard.press("Escape")
            text_of(page).press("Control+z")

    def test_people(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="People").click()
        expect(page.get_by_role("heading", name="A new account")).to_be_visible()
        self.assert_accessible(page)

    def test_headings_of_the_text_are_found_by_role_and_level(self) -> None:
        """WAI-ARIA 1.2, heading and aria-level: levels beyond six as well; and what levels styles have by now."""
        page = self.enter(OWNER)
        self.bring_in(page, "levels.md", b"# Tides\n\nWords.\n\n## Neap\n\n- low\n- high\n")
        text = text_of(page)
        expect(text.get_by_role("heading", name="Tides", level=1)).to_have_count(1)
        expect(text.get_by_role("heading", name="Neap", level=2)).to_have_count(1)
        expect(text.locator("[aria-roledescription='list item']")).to_have_text(["low", "high"])
        put_cursor(page, "Neap")
        chord(page, "9")
        expect(text.get_by_role("heading", name="Neap", level=9)).to_have_count(1)
        left = show_panel(page, "Styles")
        left.get_by_label("Style to look at").select_option("body")
        left.get_by_label("Heading level").select_option("7")
        expect(text.get_by_role("heading", name="Words.", level=7)).to_have_count(1)
        self.assert_accessible(page)
