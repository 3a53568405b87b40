"""The proof over HTTP: the pages as they are, for whoever may read."""

from __future__ import annotations

from io import BytesIO

import pypdfium2

from mellowspine.core.report.blocks import PageBreak, Paragraph, PartStart, Run

from .test_api import Api


class Proofs(Api):
    def proof(self, first: int = 1, last: int = 40, person=None) -> dict:
        return self.ask(
            person or self.reader, "get", f"reports/{self.report.key}/proof?first={first}&last={last}"
        ).json()

    def test_every_word_stands_where_the_pdf_has_it(self) -> None:
        self.ask(
            self.owner,
            "patch",
            f"reports/{self.report.key}/page",
            {"mirrored": True, "left": 100, "head_left": "{title}"},
        )
        self.ask(self.owner, "patch", f"reports/{self.report.key}/parts/p", {"page": {"width": 700, "columns": 2}})
        self.put_at_the_end(
            self.report,
            PageBreak("b"),
            Paragraph("x", "body", (Run("Mirrored words"),)),
            PartStart("p"),
            Paragraph("y", "body", (Run("Wide words"),)),
        )
        job = self.wait(self.owner, self.ask(self.owner, "post", f"reports/{self.report.key}/files/pdf", {}).json())
        file = pypdfium2.PdfDocument(BytesIO(self.ask(self.owner, "get", f"jobs/{job['key']}/file").content))
        shown = self.proof()
        self.assertEqual((shown["count"], len(shown["pages"]), len(file)), (3, 3, 3))
        self.assertEqual([(one["first"], one["width"]) for one in shown["papers"]], [(1, 595.28), (3, 700.0)])
        for page, there in zip(shown["pages"], file, strict=True):
            text, height = there.get_textpage(), there.get_height()
            for x, baseline, words, face, size, _, width in page["words"]:
                self.assertLess(face, len(shown["faces"]))
                # Letters reach a little over what they take up.
                area = x - 1, height - baseline - size / 2, x + width + 1, height - baseline + size
                self.assertIn(words.strip(), text.get_text_bounded(*area).replace("\r\n", " "), page["number"])
            words = "".join(one[2] for one in page["words"])
            self.assertEqual(
                sorted(words.replace(" ", "")), sorted(text.get_text_bounded().replace(" ", "").replace("\r\n", ""))
            )

    def test_blocks_and_headings_are_where_their_words_are(self) -> None:
        page = self.proof()["pages"][0]
        blocks = {id: area for id, *area in page["blocks"]}
        headings = {words: id for id, words in page["headings"]}
        self.assertEqual([*headings], ["One", "Two", "Three"])
        for x, baseline, words, *_ in page["words"]:
            if words in headings:
                left, top, width, height = blocks[headings[words]]
                self.assertTrue(left <= x <= left + width and top <= baseline <= top + height)

    def test_some_pages_and_none_behind_the_last(self) -> None:
        self.put_at_the_end(
            self.report, *(PageBreak(f"b{n}") for n in range(60)), Paragraph("x", "body", (Run("Last"),))
        )
        shown = self.proof(21, 100)
        self.assertEqual((shown["count"], [one["number"] for one in shown["pages"]]), (61, [*range(21, 61)]))
        self.assertEqual(self.proof(62, 70)["pages"], [])
        self.assertEqual(self.ask(self.owner, "get", f"reports/{self.report.key}/proof?first=0").status_code, 422)

    def test_it_follows_what_is_written_and_is_for_members(self) -> None:
        self.assertNotIn("Late words", str(self.proof()))
        self.put_at_the_end(self.report, Paragraph("x", "body", (Run("Late words"),)))
        self.assertIn("Late words", str(self.proof()))
        self.assertEqual(self.ask(self.stranger, "get", f"reports/{self.report.key}/proof").status_code, 404)
