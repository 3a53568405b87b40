"""Footnotes and endnotes: put in, written in place, counted, printed, and taken out again."""

from __future__ import annotations

from pathlib import Path

import pypdfium2
from playwright.sync_api import Locator, Page, expect

from .application import OWNER, Journey, chord, put_cursor, rib, show_panel, take_away, text_of

SENTENCE = "The gate was closed at dusk and the water in the basin stood still until the morning. "
TEXT = "\n\n".join(f"# {name}\n\n{SENTENCE * 30}\n\nLast words of {name}." for name in ("Silt", "Locks", "Weirs"))


class Notes(Journey):
    def open(self, name: str) -> Page:
        page = self.enter(OWNER)
        self.bring_in(page, f"{name}.md", TEXT.encode())
        rib(page, "Weirs").wait_for()
        return page

    def note(self, page: Page, at: str, words: str) -> None:
        """Refers to a new note behind a paragraph's words, writes it, and goes back."""
        put_cursor(page, at)
        page.keyboard.press("End")
        chord(page, "u")
        page.keyboard.type(words)
        expect(text_of(page).locator("p[data-note]", has_text=words)).to_have_count(1)
        chord(page, "r")

    def signs(self, page: Page) -> list[str]:
        return [one.strip() for one in text_of(page).locator(".reference[data-shows=note]").all_inner_texts()]

    def printed(self, page: Page) -> list[list[str]]:
        """The lines of each page of the PDF."""
        with page.expect_download() as download:
            take_away(page)
        data = Path(download.value.path()).read_bytes()
        return [one.get_textpage().get_text_bounded().splitlines() for one in pypdfium2.PdfDocument(data)]

    def test_written_in_place_counted_and_printed_at_the_foot(self) -> None:
        page = self.open("notes")
        self.note(page, "Last words of Locks", "Kept by the harbour office.")
        page.keyboard.type(" And so it went on.")
        expect(text_of(page).get_by_text("Last words of Locks.1 And so it went on.")).to_have_count(1)
        self.note(page, "Last words of Silt", "As measured in spring.")
        expect(text_of(page).locator(".reference[data-shows=note]")).to_have_text(["1", "2"])
        page.get_by_label("What the spine shows").select_option(label="Notes, 2")
        listed = page.get_by_role("navigation", name="Spine").locator("li")
        expect(listed).to_have_count(2)
        expect(listed.first).to_contain_text("As measured in spring.")
        self.assert_accessible(page)
        pages = self.printed(page)
        on = [at for at, lines in enumerate(pages) for line in lines if "As measured in spring." in line]
        where = [at for at, lines in enumerate(pages) for line in lines if "Last words of Silt" in line]
        self.assertEqual(on, where)
        for at in on:
            words = "\n".join(pages[at])
            self.assertGreater(words.index("As measured in spring."), words.index("Last words of Silt."))
        listed.last.click()
        expect(text_of(page).locator("p[data-note]", has_text="Kept by")).to_be_in_viewport()
        proof = self.proof(page)
        expect(proof.locator("text").filter(has_text="Kept by the harbour office.")).to_be_attached()
        chord(page, "p")

        # A section goes with its notes; the others are counted anew.
        put_cursor(page, "Last words of Silt")
        chord(page, "Delete")
        expect(text_of(page).locator(".reference[data-shows=note]")).to_have_text(["1"])
        words = "\n".join(
            next(lines for lines in self.printed(page) if "Last words of Locks.1 And so it went on." in "".join(lines))
        )
        self.assertIn("Kept by the harbour office.", words)
        self.assertNotIn("spring", words)

    def proof(self, page: Page) -> Locator:
        chord(page, "p")
        return page.get_by_role("region", name="Proof")

    def test_keys_in_a_note_and_taking_it_out(self) -> None:
        page = self.open("keys")
        put_cursor(page, "Last words of Silt")
        chord(page, "u")
        page.keyboard.type("One")
        page.keyboard.press("Enter")
        page.keyboard.type("Two")
        notes, signs = text_of(page).locator("p[data-note]"), text_of(page).locator(".reference[data-shows=note]")
        expect(notes).to_have_count(1)
        self.assertEqual(notes.inner_text().split(), ["One", "Two"])
        # Its words do not run into the text in front of it.
        page.keyboard.press("Home")
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Home")
        page.keyboard.press("Backspace")
        expect(notes).to_have_count(1)
        page.get_by_role("button", name="Back to where it is referred to").click()
        page.keyboard.type("!")
        expect(text_of(page).get_by_text("Last words of Silt.1!")).to_have_count(1)
        notes.click()
        page.get_by_role("button", name="Take the note out").click()
        expect(notes).to_have_count(0)
        expect(signs).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(notes).to_have_count(1)
        expect(signs).to_have_text(["1"])
        # An empty one goes by Backspace, with what refers to it.
        put_cursor(page, "Last words of Locks")
        chord(page, "u")
        expect(notes).to_have_count(2)
        page.keyboard.press("Backspace")
        expect(notes).to_have_count(1)
        page.keyboard.type("?")
        expect(text_of(page).get_by_text("Last words of Locks.?")).to_have_count(1)

    def test_at_the_end_with_other_signs_referred_to_again_and_the_same_for_others(self) -> None:
        page = self.open("ends")
        for name in ("Silt", "Locks"):
            self.note(page, f"Last words of {name}", f"On {name.lower()}.")
        other = self.enter(OWNER)
        other.goto(page.url.split("?")[0].split("#")[0])
        signs = other.locator(".ProseMirror .reference[data-shows=note]")
        expect(signs).to_have_text(["1", "2"])
        text_of(page).locator("p[data-note]", has_text="On silt.").click()
        page.get_by_label("Where the note is printed").select_option("end")
        expect(signs).to_have_text(["i", "1"])
        left = show_panel(page, "Page")
        left.get_by_label("Signs of footnotes").select_option("signs")
        expect(signs).to_have_text(["i", "*"])
        put_cursor(page, "Last words of Weirs")
        chord(page, "l")
        page.get_by_label("What is put in").select_option("note")
        page.locator("[data-place]").filter(has_text="On silt.").click()
        expect(signs).to_have_text(["i", "*", "i"])
        pages = self.printed(page)
        words = "\n".join(pages[-1])
        self.assertGreater(words.index("On silt."), words.index("Last words of Weirs."))

    def test_where_no_words_stand_one_is_told_and_an_old_reference_is_found(self) -> None:
        page = self.open("gone")
        self.note(page, "Last words of Silt", "Short.")
        text_of(page).locator("p[data-note]").click()
        page.keyboard.press("Home")
        page.keyboard.press("Shift+End")
        page.keyboard.press("Delete")
        expect(text_of(page).locator("p[data-note]")).to_have_count(1)
        page.keyboard.type("Another.")
        expect(text_of(page).locator("p[data-note]")).to_have_text("Another.")
        # Without its reference it stands in the text, and says so.
        text_of(page).get_by_text("Last words of Silt").first.click()
        page.keyboard.press("End")
        page.keyboard.press("Backspace")
        text_of(page).locator("p[data-note]").click()
        expect(page.get_by_role("group", name="Note")).to_contain_text("Nothing refers to this note")
