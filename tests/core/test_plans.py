"""Plans: carried out on a report. The browser is held to the same cases."""

from __future__ import annotations

import json
from dataclasses import replace
from unittest import TestCase

from mellowspine.core.report.blocks import INLINE_OBJECT, Cell, DataTable, Marks, PageBreak, Paragraph, Run
from mellowspine.core.report.formulas import FORMULA
from mellowspine.core.report.plan import Cut, Format, Insert, Move, Remove, Set, as_json, carry_out
from mellowspine.core.report.preview import preview
from mellowspine.core.report.report import Report
from mellowspine.core.structure.formatting import back_to_style, mark_alike, restyle

from .plan_cases import FILE, NAMED, SCHEMA_FILE, TEXT, cases, schema

REPORT = Report("r", TEXT)


def texts(plan: str) -> list[tuple[str, str]]:
    blocks = carry_out(NAMED[plan], REPORT).blocks
    return [(block.id, block.text) for block in blocks if isinstance(block, Paragraph)]


class Plans(TestCase):
    def test_the_browser_is_held_to_these_very_cases(self) -> None:
        self.assertEqual(
            json.loads(FILE.read_text()), json.loads(json.dumps(cases())), "Run: python -m tests.core.plan_cases"
        )
        self.assertEqual(json.loads(SCHEMA_FILE.read_text()), schema(), "Run: python -m tests.core.plan_cases")

    def test_words_are_taken_out_where_they_still_read_so_and_nowhere_else(self) -> None:
        before = [
            ("a", "1.\tTide gates"),
            ("b", "The 😀 gate opens\nat dawn."),
            ("r", f"See {INLINE_OBJECT} and Figure 2 here."),
            ("s", f"Here {FORMULA} is a root."),
            ("g", "Last words."),
        ]
        self.assertEqual(texts("a typed number"), [("a", "Tide gates"), *before[1:]])
        self.assertEqual(texts("words over a line break")[1], ("b", "The 😀 gate  dawn."))
        self.assertEqual(texts("words that read otherwise by now"), before)

    def test_blocks_move_with_all_that_they_are(self) -> None:
        moved = carry_out((Move(("a", "b"), "g"),), REPORT).blocks
        self.assertEqual(moved, (*TEXT[2:], TEXT[0], TEXT[1]))

    def test_a_step_whose_block_is_gone_changes_nothing(self) -> None:
        for plan in ("a block that is gone", "behind what is gone", "behind itself"):
            with self.subTest(plan):
                self.assertEqual(carry_out(NAMED[plan], REPORT).blocks, TEXT)

    def test_formatting_changes_the_words_meant_and_keeps_what_else_they_have(self) -> None:
        report = Report("r", (Paragraph("p", runs=(Run("one two three"),)),))
        plan = (
            Format("p", 4, 7, {"bold": {"off": False}}),
            Format("p", 6, 9, {"underline": {}}),
            Format("p", 6, 7, {"bold": None}),
        )
        (block,) = carry_out(plan, report).blocks
        found = [(run.text, run.marks.bold, run.marks.underline) for run in block.runs]  # type: ignore[attr-defined]
        self.assertEqual(
            found,
            [("one ", None, False), ("tw", True, False), ("o", None, True), (" t", None, True), ("hree", None, False)],
        )

    def test_a_browser_is_told_places_as_javascript_counts(self) -> None:
        """ECMAScript, 6.1.4: strings are sequences of 16-bit units, so that a face takes two."""
        (step,) = as_json((Cut("b", 6, "gate"),), REPORT)
        self.assertEqual(step["start"], 7)

    def test_a_plan_is_shown_before_it_is_done(self) -> None:
        plan = (
            Set("a", {"style": "heading-2"}), Cut("a", 0, "1.\t"), Remove(("e",)), Insert((PageBreak("n"), Paragraph("m", "caption", (Run("New"),))), "b"),
            Set("gone", {"style": "title"}), Format("g", 0, 4, {"bold": {"off": False}}), Insert((PageBreak("first"),), None),
        )  # fmt: skip
        self.assertEqual(
            preview(plan, REPORT),
            [
                ("first", None, ("Page break", "")),
                ("a", ("Heading 1", "1. Tide gates"), ("Heading 2", "Tide gates")),
                ("n", None, ("Page break", "")),
                ("m", None, ("Caption", "New")),
                ("e", ("Page break", ""), None),
                ("g", ("Body text", "Last words."), ("Body text", "Last words.")),
            ],
        )
        self.assertEqual(preview((Move(("a",), "g"),), REPORT), [])

    def test_back_to_the_style_takes_off_what_all_has_by_hand_and_leaves_single_words(self) -> None:
        """All of it in one font and bold, one word slanted, one larger: the font and the weight go, the rest stays."""
        by_hand = Marks(bold=True, font="Carlito")
        runs = (
            Run("One ", by_hand),
            Run("two", replace(by_hand, italic=True)),
            Run(" three", replace(by_hand, size=20.0)),
            Run("\n"),
            Run("link", replace(by_hand, link="https://example.org")),
        )
        blocks = (
            Paragraph("a", "body", runs, align="center", indent=20.0, number="none"),
            Paragraph("b", "body", runs),
            DataTable("t", ((Cell((Paragraph("c", "cell", (Run("x", by_hand),)),)),),)),
        )
        report = Report("r", blocks)
        first, second, grid = carry_out(back_to_style(report, ["a", "c"]), report).blocks
        self.assertEqual(
            first,
            Paragraph("a", "body", (Run("One "), Run("two", Marks(italic=True)), Run(" three", Marks(size=20.0)),
                                    Run("\n", Marks(size=20.0)), Run("link", Marks(link="https://example.org"))),
                      number="none"),
        )  # fmt: skip
        self.assertEqual((second, grid.rows[0][0].paragraphs[0].runs), (blocks[1], (Run("x"),)))

    def test_the_look_of_one_paragraph_for_all_of_its_style(self) -> None:
        blocks = (
            Paragraph("a", "heading-2", (Run("Aims", Marks(italic=True, size=13.0, underline=True)),), align="center"),
            Paragraph("b", "heading-2", (Run("Means ", Marks(size=30.0)), Run("and", Marks(size=30.0, bold=False)))),
            Paragraph("c", "heading-1", (Run("Other", Marks(size=30.0)),), align="right"),
        )
        report = Report("r", blocks)
        found = restyle(report, "a")
        assert found
        self.assertEqual(found.style, "heading-2")
        self.assertEqual(found.values, {"italic": True, "size": 13.0, "underline": True, "align": "center"})
        after = carry_out(found.plan, report).blocks
        plain = (Run("Means "), Run("and", Marks(bold=False)))
        self.assertEqual(
            after, (Paragraph("a", "heading-2", (Run("Aims"),)), Paragraph("b", "heading-2", plain), blocks[2])
        )
        self.assertIsNone(restyle(report, "gone"))

    def test_all_that_look_alike(self) -> None:
        report = Report("r", tuple(Paragraph(id, runs=(Run("Words"),)) for id in "xy") + TEXT[:1])
        self.assertEqual(
            mark_alike(report, "x", "heading-1"), (Set("x", {"style": "heading-1"}), Set("y", {"style": "heading-1"}))
        )
