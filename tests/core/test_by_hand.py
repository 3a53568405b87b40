"""Headings made by hand: found, grouped, marked; rules of the person's own; typed contents and rows of empty paragraphs."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

import mellowspine.core.checkup.kinds  # noqa: F401  (makes them known)
from mellowspine.core.checkup.exchange import exchange_contents, exchange_rows
from mellowspine.core.checkup.findings import check
from mellowspine.core.checkup.findings import state_of as state_of_report
from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import Block, Cell, DataTable, Marks, PageBreak, Paragraph, PlacedTable, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles
from mellowspine.core.structure.by_hand import Found, find_by_hand
from mellowspine.core.structure.marking import (
    assigned,
    mark,
    numbers_taken,
)
from mellowspine.core.structure.outline import outline
from mellowspine.core.structure.rules import LookRule, RuleError, check_rules, read_rule
from mellowspine.core.structure.typed_contents import is_contents_line
from mellowspine.core.structure.typed_numbers import typed_number

from .samples import SENTENCE, TYPEFACES

BOLD, BOTH, ITALIC = Marks(bold=True), Marks(bold=True, italic=True), Marks(italic=True)
STYLES = default_styles()


def said(id: str, words: str, marks: Marks = Marks()) -> Paragraph:  # noqa: B008 -- frozen
    return Paragraph(id, "body", (Run(words, marks),))


def prose(id: str) -> Paragraph:
    return said(id, SENTENCE * 2)


def report_of(*blocks: Block) -> Report:
    return Report("Sample", blocks)


def sections(*headings: tuple[str, Marks]) -> Report:
    """A report of these by-hand headings, h0, h1 …, each with text under it."""
    return report_of(
        *(
            block
            for at, (words, marks) in enumerate(headings)
            for block in (said(f"h{at}", words, marks), prose(f"p{at}"))
        )
    )


def levels(found: Found) -> dict[str, int | None]:
    return {id: one.level for one in found.proposals for id in one.members}


class Capitals(TestCase):
    def test_words_set_in_capitals_are_found_like_words_typed_so(self) -> None:
        set_so = Marks(capitals="all")
        asked, typed = (find_by_hand(sections(*headings)) for headings in (
            [(words, set_so) for words in ("Gates and tides", "Boats at rest", "Ropes")],
            [(words, Marks()) for words in ("GATES AND TIDES", "BOATS AT REST", "ROPES")],
        ))  # fmt: skip
        self.assertEqual([one.members for one in asked.proposals], [one.members for one in typed.proposals])
        self.assertTrue(asked.proposals)


class TypedNumberTests(TestCase):
    def test_numbers_as_people_type_them(self) -> None:
        """Forms after ISO 2145 and of legal outlines; common practice, no source."""
        for text, wanted in {
            "2.1\tAims": ("2.1", "decimal", 2, 1, "Aims"), "3 Tides": ("3", "decimal", 1, 3, "Tides"), "1.2.3. Sluice": ("1.2.3.", "decimal", 3, 3, "Sluice"),
            "IV. Terms": ("IV.", "roman", 1, 4, "Terms"), "B. Cases": ("B.", "letter", 1, 2, "Cases"), "(a) Gates": ("(a)", "letter", 1, 1, "Gates"),
            "Chapter 3: Gates": ("Chapter 3:", "decimal", 1, 3, "Gates"), "PART TWO – Sea": ("PART TWO –", "decimal", 1, 2, "Sea"),
            "A.2 Tables": ("A.2", "decimal", 2, 2, "Tables"), "§ 4 Scope": ("§ 4", "decimal", 1, 4, "Scope"),
        }.items():  # fmt: skip
            found = typed_number(text)
            assert found
            self.assertEqual((found.label, found.form, found.depth, found.value, text[found.end :]), wanted)

    def test_what_only_looks_like_one(self) -> None:
        for text in ("A house", "I think", "Mix. of", "Civil. law", "2024 Budget", "Part of it", "", "Gates"):
            self.assertIsNone(typed_number(text), text)

    def test_figures_that_do_not_count_on_are_no_numbers(self) -> None:
        report = sections(("20 questions", BOLD), ("3 answers", BOLD), ("7", BOLD))
        self.assertEqual(carry_out(mark(report, {"h0": "heading-1", "h1": "heading-1", "h2": "heading-1"}), report).blocks[::2],
                         tuple(Paragraph(f"h{at}", "heading-1", (Run(words),)) for at, words in enumerate(("20 questions", "3 answers", "7"))))  # fmt: skip


class FinderTests(TestCase):
    def test_looks_stand_for_levels_by_size_weight_and_order(self) -> None:
        report = sections(("Gates", Marks(size=16)), ("North", BOLD), ("Leaves", BOTH), ("South", BOLD), ("Tides", Marks(size=16)))  # fmt: skip
        found = find_by_hand(report)
        self.assertEqual(levels(found), {"h0": 1, "h1": 2, "h2": 3, "h3": 2, "h4": 1})
        self.assertEqual([one.name for one in found.proposals], ["16 pt", "bold", "bold, italic"])
        self.assertEqual([one.by for one in found.proposals[2].reasons], ["bold", "italic"])

    def test_typed_numbers_tell_the_level_where_all_look_alike(self) -> None:
        report = sections(("1 Gates", BOLD), ("1.1 North", BOLD), ("1.2 South", BOLD), ("2 Tides", BOLD))
        self.assertEqual(levels(find_by_hand(report)), {"h0": 1, "h1": 2, "h2": 2, "h3": 1})
        tabs = sections(("1.\tGates", BOLD), ("2.\tTides", BOLD))
        self.assertEqual([one.name for one in find_by_hand(tabs).proposals], ["bold, a number and a tab in front"])
        plain = sections(("1.1 North", Marks()), ("1.2 South", Marks()))
        self.assertEqual(levels(find_by_hand(plain)), {"h0": 1, "h1": 1})

    def test_where_sizes_are_near_the_order_tells(self) -> None:
        """A smaller bold look comes before a bold italic one of the text's size."""
        small, large = Marks(bold=True, size=10.5, font="Carlito"), Marks(size=16)
        report = sections(
            ("Gates", large), ("North", small), ("Leaves", BOTH), ("South", small), ("East", small), ("Tides", large)
        )
        self.assertEqual(levels(find_by_hand(report)), {"h0": 1, "h1": 2, "h2": 3, "h3": 2, "h4": 2, "h5": 1})

    def test_beside_headings_with_styles_the_size_tells(self) -> None:
        marked = tuple(Paragraph(f"m{level}", f"heading-{level}", (Run("One"),)) for level in range(1, 5))
        spare = said("k", "Spare keys", Marks(bold=True, size=12))
        self.assertEqual(levels(find_by_hand(report_of(*marked, prose("z"), spare, prose("q")))), {"k": 4})

    def test_a_look_that_headings_have_already_is_their_level(self) -> None:
        marked = Marks(font="Carlito", size=15, bold=True, colour="#33263b")
        report = sections(("Gates", marked), ("Tides", marked))
        report = replace(report, blocks=(Paragraph("x", "heading-1", (Run("One"),)), Paragraph("y", "heading-2", (Run("Two"),)), *report.blocks))  # fmt: skip
        self.assertEqual(levels(find_by_hand(report)), {"h0": 2, "h1": 2})
        self.assertIn("like", [one.by for one in find_by_hand(report).proposals[0].reasons])

    def test_what_stands_out_and_is_no_heading(self) -> None:
        grid = DataTable("g", ((Cell((said("c", "Depth", BOLD),)),),), 1)
        for what, blocks in {
            "words in a data table": (grid, prose("p")),
            "a lead-in": (Paragraph("l", "body", (Run("Note. ", BOLD), Run(SENTENCE))), prose("p")),
            "a caption": (said("k", "Figure 3: The gate", BOLD), prose("p")),
            "a bold sentence": (said("k", "Nobody goes down to the steps.", BOLD), prose("p"), prose("q"), prose("r")),
            "a signature": (prose("p"), said("k", "Ines Varga", BOLD)),
            "an address": (
                said("k", "Harbour Trust", BOLD),
                said("l", "4 Quay Lane"),
                said("m", "Quillmere"),
                prose("p"),
            ),
            "names": (*(said(f"n{at}", f"Person {at}", BOLD) for at in range(4)), prose("p"), prose("q")),
            "a quotation": (said("k", "“We never shut the gate”", ITALIC), prose("p")),
        }.items():
            with self.subTest(what):
                self.assertEqual(find_by_hand(report_of(prose("first"), *blocks)).proposals, ())

    def test_a_report_all_in_bold_is_told_by_size(self) -> None:
        report = sections(("Gates", Marks(bold=True, size=16)), ("Tides", Marks(bold=True, size=16)))
        bold = tuple(said(b.id, b.text, BOLD) if b.id.startswith("p") else b for b in report.blocks if isinstance(b, Paragraph))  # fmt: skip
        self.assertEqual(levels(find_by_hand(report_of(*bold))), {"h0": 1, "h1": 1})

    def test_one_look_for_headings_and_text_tells_nothing(self) -> None:
        self.assertEqual(find_by_hand(sections(("Gates", Marks()), ("Tides", Marks()))).proposals, ())
        self.assertEqual(find_by_hand(Report("Empty", (Paragraph("e"),))).proposals, ())
        self.assertEqual(find_by_hand(Report("Nothing")).proposals, ())

    def test_the_first_words_are_the_title(self) -> None:
        report = report_of(
            said("t", "Sample", Marks(size=20)), said("u", "for all"), Paragraph("e"), Paragraph("f"),
            said("a", "Gates", Marks(size=20)), prose("b"),
        )  # fmt: skip
        self.assertEqual([(one.style, one.members) for one in find_by_hand(report).proposals],
                         [("title", ("t",)), ("subtitle", ("u",)), ("heading-1", ("a",))])  # fmt: skip

    def test_thousands_of_looks(self) -> None:
        report = sections(*((f"Section {at}", Marks(bold=True, colour=f"#{at:06x}")) for at in range(1, 5001)))
        found = find_by_hand(report)
        self.assertEqual(len(levels(found)), 5000)
        self.assertEqual({one.level for one in found.proposals}, {1})
        sizes = sections(*((f"Section {at}", Marks(size=400 - at / 20, bold=at % 2 == 0)) for at in range(5000)))
        found = find_by_hand(sizes)
        self.assertEqual(
            (len(levels(found)), {one.level for one in found.proposals if one.level}), (5000, set(range(1, 10)))
        )

    @given(st.data())
    def test_after_an_edit_it_is_as_from_a_fresh_start(self, data: st.DataObject) -> None:
        block = st.sampled_from(
            [said("1", "Gates", BOLD), said("2", "1.1 Tides", Marks(size=15)), said("3", "Leaves", BOTH), prose("4"), Paragraph("5"),
             Paragraph("6", "heading-2", (Run("Marked"),)), PageBreak("7"), said("8", "Gates .... 4"), said("9", "Contents", BOLD)]
        )  # fmt: skip
        numbered = st.lists(block, max_size=12).map(
            lambda blocks: tuple(replace(one, id=f"b{at}") for at, one in enumerate(blocks))
        )
        first = data.draw(numbered)
        found = find_by_hand(report_of(*first))
        for _ in range(3):
            start = data.draw(st.integers(0, len(first)))
            end = data.draw(st.integers(start, len(first)))
            same = data.draw(st.booleans())  # what is typed goes on as the block that it is typed in
            ids = [first[at].id if same and at < end else f"n{at}" for at in range(start, start + 12)]
            new = tuple(replace(one, id=id) for one, id in zip(data.draw(numbered), ids, strict=False))
            first = (*first[:start], *new, *first[end:])
            now = report_of(*first)
            again = find_by_hand(now, found)
            fresh = find_by_hand(now)
            self.assertEqual(
                (again.proposals, again.contents, again.rows), (fresh.proposals, fresh.contents, fresh.rows)
            )
            found = again


class Quoted(TestCase):
    def test_a_finding_quotes_the_words_as_they_are_now(self) -> None:
        blocks = [said(f"h{at}", words, BOLD) for at, words in enumerate(("Gates", "Tides", "Leaves"))]
        report = report_of(*(one for block in blocks for one in (block, prose(f"p{block.id}"))), prose("z"))
        earlier = state_of_report(report, TYPEFACES)
        checked = check(earlier)
        self.assertIn("“Gates” looks", " ".join(one.text for one in checked.findings))
        other = report_of(replace(report.blocks[0], runs=(Run("Gatez", BOLD),)), *report.blocks[1:])
        found = find_by_hand(other, earlier.found)
        now = replace(state_of_report(other, TYPEFACES), found=found)
        texts = " ".join(one.text for one in check(now, checked).findings)
        self.assertIn("“Gatez” looks", texts)
        self.assertNotIn("“Gates” looks", texts)


class RuleTests(TestCase):
    def rule(self, name: str, level: int | None, **wants: object) -> LookRule:
        return read_rule({"name": name, "level": level, "wants": wants}, STYLES)

    def test_the_narrowest_matches_first_whatever_the_order(self) -> None:
        """Common practice, no source."""
        report = sections(("Gates", BOLD), ("Leaves", BOTH), ("Tides", BOLD))
        broad, narrow = self.rule("bold", 1, bold=True), self.rule("bold italic", 2, bold=True, italic=True)
        for rules in ([broad, narrow], [narrow, broad]):
            found = assigned(find_by_hand(report), rules, proposals=False)
            self.assertEqual({one.name: one.members for one in found}, {"bold italic": ("h1",), "bold": ("h0", "h2")})
            self.assertEqual({one.name: one.left for one in found}, {"bold italic": (), "bold": (("bold italic", 1),)})

    def test_a_proposal_is_narrower_than_a_rule_that_asks_for_less(self) -> None:
        report = sections(
            ("Gates", Marks(size=16)), ("North", BOLD), ("Leaves", BOTH), ("South", BOLD), ("Tides", Marks(size=16))
        )
        found = assigned(find_by_hand(report), [self.rule("mine", None, bold=True, short=True, full_stop=False)])
        self.assertEqual([(one.name, one.members) for one in found],
                         [("16 pt", ("h0", "h4")), ("bold", ()), ("bold, italic", ()), ("mine", ("h1", "h2", "h3"))])  # fmt: skip

    def test_a_rule_that_asks_for_the_same_as_a_proposal_has_its_way(self) -> None:
        report = sections(("Gates", BOLD), ("Tides", BOLD))
        found = assigned(find_by_hand(report), [self.rule("mine", 3, bold=True)])
        self.assertEqual(
            [(one.name, one.members, one.left) for one in found], [("bold", (), ()), ("mine", ("h0", "h1"), ())]
        )

    def test_for_what_is_no_heading(self) -> None:
        report = report_of(prose("p"), said("k", "Figure 1: The gate", ITALIC), prose("q"))
        rule = read_rule({"name": "captions", "style": "caption", "wants": {"italic": True}}, STYLES)
        (found,) = assigned(find_by_hand(report), [rule], proposals=False)
        after = carry_out(mark(report, dict.fromkeys(found.members, "caption")), report)
        self.assertEqual(after.blocks[1], Paragraph("k", "caption", (Run("Figure 1: The gate"),)))

    def test_a_rule_that_takes_all_or_nothing(self) -> None:
        found = find_by_hand(sections(("Gates", BOLD)))
        *_, all_of_it = assigned(found, [self.rule("all", 1, size=11)])
        self.assertEqual(all_of_it.members, ())
        self.assertIn("“all” would take all 2 paragraphs; ask for more", all_of_it.fault)
        (nothing,) = assigned(found, [self.rule("none", 1, size=99)], proposals=False)
        self.assertEqual(nothing.members, ())

    def test_what_cannot_be_a_rule(self) -> None:
        for given_rule, why in (
            ({"name": "a", "level": 1, "wants": {}}, "asks for nothing"), ({"name": "a", "level": 1}, "asks for nothing"), ([], "A rule is"),
            ({"name": "a", "level": 1, "wants": {"weight": 1}}, "it can ask for bold"), ({"name": "a", "level": 1, "wants": {"bold": "yes"}}, "choose true or false"),
            ({"name": "a", "level": 1, "wants": {"size": float("nan")}}, "1 to 400 points"), ({"name": "a", "level": 12, "wants": {"bold": True}}, "no style is a heading"),
            ({"name": "a", "style": "gone", "wants": {"bold": True}}, "not in the report"), ({"name": "a", "level": True, "style": 3, "wants": {"bold": True}}, "not in the report"),
        ):  # fmt: skip
            with self.subTest(why), self.assertRaisesRegex(RuleError, why):
                read_rule(given_rule, STYLES)
        with self.assertRaisesRegex(RuleError, "“a” and “b” ask for the same"):
            check_rules([self.rule("a", 1, bold=True), self.rule("b", 2, bold=True)])


class MarkingTests(TestCase):
    def test_numbers_and_formatting_go_and_an_emphasised_word_stays(self) -> None:
        runs = (Run("2.1\t", BOLD), Run("The case of the ", BOLD), Run("Mermaid", BOTH))
        report = report_of(Paragraph("h", "body", runs, "center"), prose("p"))
        after = carry_out(mark(report, {"h": "heading-2"}), report)
        self.assertEqual(
            after.blocks[0], Paragraph("h", "heading-2", (Run("The case of the "), Run("Mermaid", ITALIC)))
        )
        kept = carry_out(mark(report, {"h": "heading-2"}, numbers=False), report).blocks[0]
        assert isinstance(kept, Paragraph)
        self.assertEqual(kept.text, "2.1\tThe case of the Mermaid")

    def test_what_is_gone_or_written_anew_meanwhile_is_left_alone(self) -> None:
        report = sections(("1 Gates", BOLD), ("2 Tides", BOLD))
        plan = mark(report, {"h0": "heading-1", "h1": "heading-1", "gone": "heading-1"})
        now = report_of(said("h1", "Our 2 Tides", BOLD))
        (block,) = carry_out(plan, now).blocks
        assert isinstance(block, Paragraph)
        self.assertEqual((block.style, block.text), ("heading-1", "Our 2 Tides"))

    def test_numbers_that_differ_from_what_was_typed_are_told(self) -> None:
        report = sections(("1. Gates", BOLD), ("1.1 North", BOLD), ("1.3 South", BOLD), ("2. Tides", BOLD))
        wanted = {id: f"heading-{level}" for id, level in levels(find_by_hand(report)).items()}
        taken = numbers_taken(report, wanted, SCHEMES)
        self.assertEqual((taken.scheme, taken.differ), ("decimal", (("h2", "1.3", "1.2"),)))
        numbered = replace(report, numbering=SCHEMES["outline"])
        self.assertIsNone(numbers_taken(numbered, wanted, SCHEMES).scheme)

    def test_after_marking_nothing_is_left_to_mark(self) -> None:
        report = sections(
            ("1 Gates", Marks(size=15)), ("1.1 North", BOLD), ("1.2 South", BOLD), ("2 Tides", Marks(size=15))
        )
        found = find_by_hand(report)
        wanted = {id: one.style for one in found.proposals for id in one.members}
        after = carry_out(mark(report, wanted), report)
        self.assertEqual(find_by_hand(after).proposals, ())
        self.assertEqual(
            [(h.level, h.text) for h in outline(after)], [(1, "Gates"), (2, "North"), (2, "South"), (1, "Tides")]
        )

    @given(
        st.lists(
            st.tuples(st.text("1.a IV)\t", max_size=8), st.sampled_from([BOLD, BOTH, Marks(size=14), Marks()])),
            max_size=6,
        )
    )
    def test_no_other_character_changes(self, parts: list[tuple[str, Marks]]) -> None:
        block = Paragraph("h", "body", tuple(Run(text, marks) for text, marks in parts))
        report = report_of(block)
        after = carry_out(mark(report, {"h": "heading-1"}), report).blocks[0]
        assert isinstance(after, Paragraph)
        typed = typed_number(block.text)
        rest = block.text[typed.end :] if typed and block.text[typed.end :].strip() else block.text
        self.assertIn(after.text.strip(), (rest.strip(), block.text.strip()))


class LeftoverTests(TestCase):
    def test_lines_of_typed_contents(self) -> None:
        for text in ("Gates ........ 4", "Gates\t4", "1.1 Gates … 12", "Foreword . . . . . iv", "Gates      7", "Gates --- 3"):  # fmt: skip
            self.assertTrue(is_contents_line(text), text)
        for text in ("Gates 4", "Open until 9", "…", "........ 4", "In 2019. It was 4", "The tide, at 3.4", ""):
            self.assertFalse(is_contents_line(text), text)

    def test_typed_contents_make_way_for_a_table(self) -> None:
        report = report_of(
            said("t", "Sample", Marks(size=20)), Paragraph("e1"), Paragraph("e2"), said("c", "Contents", BOLD), said("l1", "Gates .... 2"),
            said("l2", "Tides .... 3"), Paragraph("e3"), said("h", "Gates", BOLD), prose("p"),
        )  # fmt: skip
        (found,) = find_by_hand(report).contents
        self.assertEqual(found, ("c", ("l1", "l2")))
        after = carry_out(exchange_contents(report, found, "table", "new"), report)
        self.assertEqual([block.id for block in after.blocks], ["t", "new", "h", "p"])
        self.assertEqual(after.blocks[1], PlacedTable("new", "table", own_page=True))

    def test_rows_of_empty_paragraphs_make_way_for_a_page_break_where_they_made_a_page(self) -> None:
        styles = StyleSheet(replace(style, new_page=style.id == "heading-1") for style in STYLES.values())

        def row(name: str, count: int) -> tuple[Paragraph, ...]:
            return tuple(Paragraph(f"{name}{at}") for at in range(count))

        report = Report("Sample", (
            prose("a"), *row("far", 40), prose("b"), *row("near", 2), prose("c"), *row("before", 40), Paragraph("h", "heading-1", (Run("H"),)),
            Paragraph("alone"), prose("d"), *row("last", 40),
        ), styles)  # fmt: skip
        rows = find_by_hand(report).rows
        self.assertEqual([row.after for row in rows], ["a", "b", "c", "d"])
        plan = exchange_rows(rows, paginate(report, TYPEFACES), iter(["n1", "n2", "n3"]))
        self.assertEqual(
            [block.id for block in carry_out(plan, report).blocks], ["a", "n1", "b", "c", "h", "alone", "d"]
        )

    def test_a_report_in_which_nothing_is_written_has_no_rows(self) -> None:
        self.assertEqual(find_by_hand(report_of(Paragraph("a", "heading-1"), Paragraph("b"))).rows, ())

    def test_an_empty_paragraph_in_which_somebody_writes_meanwhile_stays(self) -> None:
        report = report_of(prose("a"), Paragraph("e1"), Paragraph("e2"), prose("b"))
        rows = find_by_hand(report).rows
        written = report_of(prose("a"), said("e1", "now a word"), Paragraph("e2"), prose("b"))
        plan = exchange_rows(rows, paginate(written, TYPEFACES), iter(["n"]))
        self.assertEqual([block.id for block in carry_out(plan, written).blocks], ["a", "e1", "b"])
        plan = exchange_rows(rows, paginate(report, TYPEFACES), iter(["n"]))
        self.assertEqual([block.id for block in carry_out(plan, written).blocks], ["a", "e1", "b"])
