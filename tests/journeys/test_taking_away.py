"""The report is taken away as a file that others go on with, and brought in again."""

from __future__ import annotations

import io
from pathlib import Path

import docx
from playwright.sync_api import Page, expect

from .application import OWNER, READER, Journey, rib, take_away, text_of

TEXT = """# Weirs

Water falls over the *upper* weir.[^1]

## Gates

![A gate](gate.png "Figure: The gate")

| Gate | Width |
| --- | --- |
| North | 4 m |

# Basins

Basins hold it.

[^1]: In the year of the flood.
"""


class TakingAway(Journey):
    def taken(self, page: Page, kind: str) -> bytes:
        with page.expect_download() as download:
            take_away(page, kind)
        return Path(download.value.path()).read_bytes()

    def test_a_report_goes_out_and_comes_back(self) -> None:
        page = self.enter(OWNER)
        self.bring_in(page, "weirs.md", TEXT.encode())
        expect(rib(page, "Basins")).to_be_visible()
        data = self.taken(page, ".docx")
        # The button has the focus again, and the slip is gone.
        expect(page.get_by_role("button", name="Take away", exact=True)).to_be_focused()
        expect(page.get_by_role("region", name="Take away")).to_have_count(0)
        paragraphs = docx.Document(io.BytesIO(data)).paragraphs
        headings = [one.text for one in paragraphs if one.style and one.style.name.startswith("Heading")]
        self.assertEqual(headings, ["Weirs", "Gates", "Basins"])
        page.get_by_role("link", name="To your shelf").click()
        kind = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
        self.bring_in(page, "weirs.docx", data, kind)
        expect(rib(page, "Basins")).to_be_visible()
        expect(text_of(page)).to_contain_text("In the year of the flood.")
        expect(text_of(page).locator("em, i").first).to_have_text("upper")

    def test_what_a_file_will_not_have_is_said_first(self) -> None:
        page = self.enter(READER)
        page.get_by_role("link", name="Quillmere Lido Restoration").first.click()
        expect(rib(page, "Summary")).to_be_visible()
        button = page.get_by_role("button", name="Take away", exact=True)
        button.focus()
        page.keyboard.press("Enter")
        slip = page.get_by_role("region", name="Take away")
        expect(slip).to_contain_text("All of the report is in it.")
        expect(slip.get_by_role("radio", name="PDF")).to_be_focused()
        page.keyboard.press("ArrowDown")
        expect(slip.get_by_role("radio", name="Office Open XML")).to_be_checked()
        expect(slip.get_by_role("list")).to_contain_text("Headings beneath a level that is skipped: numbered elsewhere")
        self.assert_accessible(page)
        page.keyboard.press("Escape")
        expect(slip).to_have_count(0)
        expect(button).to_be_focused()

    def test_a_section_alone(self) -> None:
        page = self.enter(READER)
        page.get_by_role("link", name="Quillmere Lido Restoration").first.click()
        expect(rib(page, "Summary")).to_be_visible()
        page.get_by_role("button", name="Take away", exact=True).click()
        slip = page.get_by_role("region", name="Take away")
        slip.get_by_role("radio", name="Plain text").check()
        slip.get_by_label("What of it").select_option(label="\u20034.2 The wall")
        with page.expect_download() as download:
            slip.get_by_role("button", name="Write the .txt").click()
        text = Path(download.value.path()).read_text()
        self.assertTrue(text.startswith("4.2 The wall\n"), text[:60])
        self.assertNotIn("How the survey was made", text)

    def test_writing_can_be_cancelled(self) -> None:
        page = self.enter(OWNER)
        page.get_by_role("link", name="Tide Gate Manual").first.click()
        expect(rib(page, "1").first).to_be_visible()
        take_away(page, "PDF")
        slip = page.get_by_role("region", name="Take away")
        slip.get_by_role("button", name="Cancel").click()
        expect(slip.get_by_role("button", name="Write the PDF")).to_be_visible()
