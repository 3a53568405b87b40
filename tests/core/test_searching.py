"""Find and replace in a whole report."""

from __future__ import annotations

import re
import time
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.formats.runs import join_runs
from mellowspine.core.report.blocks import Cell, Citation, DataTable, Marks, Paragraph, PlacedTable, Reference, Run
from mellowspine.core.report.formulas import FORMULA
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued, Line, OwnWords
from mellowspine.core.structure.searching import ChangedLine, Wanted, changed_lines, find, replacement

from .samples import heading


def said(id: str, *runs: str | Run, style: str = "body", **more: Any) -> Paragraph:
    return Paragraph(id, style, tuple(Run(run) if isinstance(run, str) else run for run in runs), **more)


REPORT = Report(
    "r",
    (
        said("p", "The gate, the Gate and the floodgate."),
        heading("h", 1, "Gate keeper"),
        said(
            "q",
            "A gâte",
            Run(" gate", Marks(bold=True, citation=Citation("c", "act"))),
            " and a gate\u00a0keeper’s gate",
        ),
        DataTable("t", ((Cell((said("c", "gate", style="cell"),)),),)),
        heading("i", 2, "Access"),
        said("s", "Gate", Run("\ufffc", Marks(reference=Reference("h"))), "gate", style="quotation"),
    ),
)


def found(words: str, **how: Any) -> list[tuple[str, int]]:
    return [(hit.paragraph, hit.start) for hit in find(REPORT, Wanted(words, **how))]


class Finding(TestCase):
    def test_everywhere_by_section_with_the_words_around(self) -> None:
        hits = list(find(REPORT, Wanted("gate")))
        self.assertEqual(
            [(hit.paragraph, hit.start, hit.section) for hit in hits],
            [("p", 4, ""), ("p", 14, ""), ("p", 32, ""), ("h", 0, "h"), ("q", 7, "h"), ("q", 18, "h"), ("q", 32, "h"), ("c", 0, "h"),
             ("s", 0, "i"), ("s", 5, "i")],
        )  # fmt: skip
        self.assertEqual(
            (hits[0].before, hits[0].words, hits[0].after), ("The ", "gate", ", the Gate and the floodgate.")
        )

    def test_capitals_whole_words_and_any_accents(self) -> None:
        self.assertEqual(found("Gate", capitals=True), [("p", 14), ("h", 0), ("s", 0)])
        self.assertNotIn(("p", 32), found("gate", whole=True))
        self.assertIn(("q", 2), found("gate", accents=True))
        self.assertIn(("q", 2), found("GÀTE", accents=True))
        self.assertNotIn(("q", 2), found("gate"))

    def test_spaces_quotes_and_hyphens_are_as_people_type_them(self) -> None:
        self.assertEqual(found("gate keeper's"), [("q", 18)])

    def test_in_headings_a_style_or_some_formatting_alone(self) -> None:
        self.assertEqual(found("gate", headings=True), [("h", 0)])
        self.assertEqual(found("gate", style="quotation"), [("s", 0), ("s", 5)])
        self.assertEqual(found("gate", formatting="bold"), [("h", 0), ("q", 7)])
        self.assertEqual(found("gate", formatting="italic"), [("s", 0), ("s", 5)])

    def test_patterns_have_groups_and_never_take_in_a_reference(self) -> None:
        self.assertEqual(found(r"(?i)gate.gate", pattern=True), [])
        self.assertEqual(found(r"\bflood\w+", pattern=True), [("p", 27)])
        (hit,) = find(REPORT, Wanted(r"(flood)(gate)", pattern=True), r"\2 for \1")
        self.assertEqual(hit.instead, "gate for flood")
        for odd in ("(", "a{99999}", "[z-a]"):
            with self.assertRaisesRegex(SettingError, "cannot be read"):
                found(odd, pattern=True)
        with self.assertRaisesRegex(SettingError, "group"):
            list(find(REPORT, Wanted("gate", pattern=True), r"\7"))

    def test_nor_a_formula(self) -> None:
        root = Run(FORMULA, Marks(formula="<math><msqrt><mn>2</mn></msqrt></math>"))
        report = Report("Gates", (said("p", "Root ", root, " of two"),))
        hits = list(find(report, Wanted("o.*", pattern=True)))
        self.assertEqual([(hit.words, hit.before, hit.after) for hit in hits],
                         [("oot ", "R", "… of two"), ("of two", "Root … ", "")])  # fmt: skip

    def test_what_is_nothing_or_everything(self) -> None:
        for nothing in ("", "  ", "xyzzy", "g" * 600):
            self.assertEqual(found(nothing), [])
        self.assertEqual(found("x*", pattern=True), [])
        self.assertEqual(len(found(".+", pattern=True)), 5 + 2)

    def test_no_pattern_hangs(self) -> None:
        report = Report("r", (said("p", "a" * 50_000),))
        start = time.process_time()
        self.assertEqual(list(find(report, Wanted("(a+)+b", pattern=True))), [])
        self.assertLess(time.process_time() - start, 5)

    @given(st.text("aBé -’\u00a0ß", max_size=30), st.text("abé ", min_size=1, max_size=3))
    def test_it_finds_what_plain_comparing_finds(self, text: str, words: str) -> None:
        if not words.strip():
            return
        report = Report("r", (said("p", text),))
        wanted = re.escape(words).replace(r"\ ", r"[\s\u00a0]").replace(" ", r"[\s\u00a0]")
        plain = [match.start() for match in re.finditer(wanted, text, re.IGNORECASE)]
        self.assertEqual([hit.start for hit in find(report, Wanted(words))], plain)


class Replacing(TestCase):
    def test_everywhere_with_the_formatting_and_marks_that_were_there(self) -> None:
        plan, hits = replacement(REPORT, Wanted("gate", whole=True), "weir")
        now = carry_out(plan, REPORT).blocks
        self.assertEqual(len(hits), 9)
        self.assertEqual(now[0].text, "The weir, the weir and the floodgate.")
        self.assertEqual(
            [(run.text, run.marks) for run in join_runs(now[2].runs)][1],
            (" weir", Marks(bold=True, citation=Citation("c", "act"))),
        )
        self.assertEqual(now[2].text, "A gâte weir and a weir\u00a0keeper’s weir")
        self.assertEqual(now[3].rows[0][0].paragraphs[0].text, "weir")
        self.assertEqual(now[5].runs[1].marks.reference, Reference("h"))

    def test_some_places_alone_and_with_nothing(self) -> None:
        plan, hits = replacement(REPORT, Wanted("gate"), "", {("p", 14), ("p", 32)})
        self.assertEqual(len(hits), 2)
        self.assertEqual(carry_out(plan, REPORT).blocks[0].text, "The gate, the  and the flood.")

    def test_a_caption_keeps_its_label(self) -> None:
        report = Report("r", (said("k", "The gate", style="caption", caption="figure"),))
        (now,) = carry_out(replacement(report, Wanted("gate"), "weir")[0], report).blocks
        self.assertEqual((now.text, now.caption), ("The weir", "figure"))

    def test_it_says_which_lines_of_tables_change_and_which_own_words_hold_it(self) -> None:
        lines = (Line("h", 1, "1", "Gate keeper", ("1",)), Line("i", 2, "1.1", "The gate", ("1",)))
        issued = Issued(lines=lines, own={"i": OwnWords("The gate", "Access")})
        report = Report("r", (*REPORT.blocks, PlacedTable("x", "k")), tables={"k": issued})
        _, hits = replacement(report, Wanted("gate"), "Weir")
        self.assertEqual(
            changed_lines(report, hits),
            [ChangedLine("k", "Contents", "Gate keeper", "Weir keeper"), ChangedLine("k", "Contents", "The gate", "The gate", True)],
        )  # fmt: skip

    @given(
        st.lists(st.sampled_from(("gate ", "a gate", "x", "𝒢ate gate")), max_size=5),
        st.sampled_from(("", "g", "gategate")),
    )
    def test_plans_do_what_replacing_in_the_words_does(self, parts: list[str], instead: str) -> None:
        report = Report(
            "r", (Paragraph("p", runs=tuple(Run(part, Marks(bold=n % 2 == 0)) for n, part in enumerate(parts))),)
        )
        plan, _ = replacement(report, Wanted("gate"), instead)
        (now,) = carry_out(plan, report).blocks
        self.assertEqual(now.text, "".join(parts).replace("gate", instead))
