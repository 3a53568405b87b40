"""Tables of authorities and the index: where things are cited, in which order, on which pages."""

from __future__ import annotations

import time
import unittest
from dataclasses import replace
from io import BytesIO
from itertools import pairwise
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader
from pypdfium2 import PdfDocument

from mellowspine.core.checkup.findings import check as check_up
from mellowspine.core.checkup.findings import mended, state_of
from mellowspine.core.checkup.kinds import filing
from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.authorities import (
    DEFAULT_CATEGORIES,
    Authority,
    authorities_from_json,
    authority_of,
    categories_from_json,
    category_named,
)
from mellowspine.core.report.blocks import (
    Block,
    Cell,
    Citation,
    DataTable,
    Entry,
    Indexed,
    Marks,
    PageBreak,
    Paragraph,
    PlacedTable,
    Run,
)
from mellowspine.core.report.elements import element_of, read_block, validate
from mellowspine.core.report.house import SHIPPED
from mellowspine.core.report.index import See, see_of, sees_from_json
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import Recipe, recipe_from_json, recipe_to_json
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued, Lead, Line, line_from_json, line_to_json
from mellowspine.core.structure.citations import CitationRule, find_words, looks_cited, rules_from_json, unmarked
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.collation import orders, without_article
from mellowspine.core.tables.forms import formed, forms_for
from mellowspine.core.tables.kinds import build, sources_of, table_kind
from mellowspine.core.tables.page_lists import PageList, Places, page_list
from mellowspine.core.tables.settle import settle_all

TYPEFACES = Typefaces()
LABELS = [str(sheet) for sheet in range(100)]
AUTHORITIES, INDEX = table_kind("authorities").recipe, table_kind("index").recipe


def cite(words: str, of: str, id: str, **marks: bool) -> Run:
    return Run(words, Marks(citation=Citation(id, of), **marks))  # type: ignore[arg-type]


def term(words: str, id: str, *entries: tuple[str, ...], main: bool = False) -> Run:
    return Run(words, Marks(indexed=Indexed(id, tuple(Entry(one, main) for one in entries))))


def p(id: str, *runs: str | Run) -> Paragraph:
    return Paragraph(id, "body", tuple(Run(one) if isinstance(one, str) else one for one in runs))


def listed(places: list[tuple[int, int, str, bool]], ranges: int, passim: int, front: int = 0) -> PageList:
    """The pages of places, each with its first and last sheet, its id, and whether it says most."""
    leads = tuple(Lead(id, main) for *_, id, main in places)
    return page_list(
        Places(range(len(places)), leads),
        [one[0] for one in places],
        [one[1] for one in places],
        LABELS,
        ranges,
        passim,
        {front + 1},
    )


def on_pages(*pages: tuple[Run, ...]) -> tuple[Block, ...]:
    """One paragraph a page."""
    blocks: list[Block] = []
    for number, runs in enumerate(pages, 1):
        blocks += [
            p(f"p{number}", "See ", *(part for run in runs for part in (run, " and ")), "more."),
            PageBreak(f"b{number}"),
        ]
    return tuple(blocks)


def report_of(*blocks: Block, **more: object) -> Report:
    return Report("Tides", blocks, **more)  # type: ignore[arg-type]


def lines(report: Report, recipe: Recipe) -> list[Line]:
    _, pages = settle_all(report, TYPEFACES)
    return lines_on(pages, recipe)


def lines_on(pages: Pages, recipe: Recipe) -> list[Line]:
    return [*build(recipe, sources_of(pages.headings, pages))]


def printed(found: list[Line]) -> list[str]:
    return [" ".join([line.text, ", ".join(line.pages)]).strip() for line in found]


def known(*authorities: tuple[str, str, str]) -> dict[str, Authority]:
    return {id: Authority(id, category, long) for id, category, long in authorities}


class ListsOfPages(unittest.TestCase):
    def test_pages_without_a_number_are_left_out_but_for_a_single_one(self) -> None:
        labels = ["", "", "", "1", "2", "3", ""]
        for sheets, pages in (
            ((1, 3, 6), ("1",)),
            ((1, 2), ("",)),
            ((2,), ("",)),
            ((1, 3, 4, 5), ("1–3",)),
            ((1, 2, 4), ("2",)),
        ):
            places = Places(range(len(sheets)), tuple(Lead(f"p{sheet}") for sheet in sheets))
            found = page_list(places, sheets, sheets, labels, 2, 0, {3, 6})
            self.assertEqual(found.pages, pages, sheets)
            self.assertEqual(len(found.leads), len(pages))

    @given(
        st.lists(st.tuples(st.integers(1, 12), st.integers(0, 3), st.booleans()), min_size=1, max_size=8),
        st.sampled_from([0, 2, 3, 4]),
        st.sampled_from([0, 3, 5]),
        st.integers(0, 6),
    )
    def test_as_it_is_defined(self, given: list[tuple[int, int, bool]], ranges: int, passim: int, front: int) -> None:
        places = [(first, first + more, f"p{n}", main) for n, (first, more, main) in enumerate(sorted(given))]
        sheets = {sheet for one in places for sheet in range(one[0], one[1] + 1)}
        found = listed(places, ranges, passim, front)
        if passim and len(sheets) >= passim:
            self.assertEqual(found.pages, ("passim",))
            return
        # By hand: two neighbours are joined if one place is on both, or both are of a long enough run of sheets.
        main = {sheet for sheet in sheets if any(one[3] and one[0] <= sheet <= one[1] for one in places)}

        def run_of(sheet: int) -> set[int]:
            run = {sheet}
            alike = {s for s in sheets if (s in main) == (sheet in main) and (s <= front) == (sheet <= front)}
            while more := {s for s in alike - run if {s - 1, s + 1} & run}:
                run |= more
            return run

        def joined(one: int, other: int) -> bool:
            if (one in main) != (other in main) or other - one != 1 or one == front:
                return False
            shared = any(place[0] <= one and other <= place[1] for place in places)
            return shared or bool(ranges and one not in main and len(run_of(one)) >= max(ranges, 2))

        expected: list[list[int]] = []
        for sheet in sorted(sheets):
            if expected and joined(expected[-1][-1], sheet):
                expected[-1].append(sheet)
            else:
                expected.append([sheet])
        self.assertEqual(found.pages, tuple(str(r[0]) if len(r) == 1 else f"{r[0]}–{r[-1]}" for r in expected))
        for lead, run in zip(found.leads, expected, strict=True):
            place = next(one for one in places if one[2] == lead.to)
            self.assertTrue(place[0] <= run[0] <= place[1])
            self.assertEqual(lead.main, run[0] in main)

    def test_passim_from_five_pages_on_by_common_practice(self) -> None:
        four = [(sheet, sheet, "x", False) for sheet in (1, 3, 5, 7)]
        self.assertEqual(listed(four, 3, 5).pages, ("1", "3", "5", "7"))
        self.assertEqual(listed([*four, (9, 9, "x", False)], 3, 5).pages, ("passim",))


class TheTable(unittest.TestCase):
    def setUp(self) -> None:
        vane, act, old = (
            (lambda id: cite("Vane v. Ash", "v", id, italic=True)),
            (lambda id: cite("Act 1902, § 10", "a", id)),
            (lambda id: cite("Act 1902, § 9", "o", id)),
        )
        self.report = report_of(
            *on_pages((vane("1"), act("2")), (act("3"),), (vane("4"), old("5"), vane("6"))),
            authorities=known(
                ("v", "cases", "Vane v. Ash"), ("a", "statutes", "Act 1902, § 10"), ("o", "statutes", "Act 1902, § 9")
            ),
        )

    def test_by_category_in_order_with_the_pages(self) -> None:
        found = lines(self.report, AUTHORITIES)
        self.assertEqual(
            printed(found), ["Cases", "Vane v. Ash 1, 3", "Statutes", "Act 1902, § 9 3", "Act 1902, § 10 1, 2"]
        )
        self.assertEqual(found[1].emphasis, ((0, 11, "i"),))
        self.assertEqual([lead.to for lead in found[1].leads], ["1", "4"])

    def test_single_categories_and_one_list(self) -> None:
        self.assertEqual(
            printed(lines(self.report, replace(AUTHORITIES, categories=("cases",), levels=(2,)))), ["Vane v. Ash 1, 3"]
        )
        one_list = formed(AUTHORITIES, next(form for form in forms_for("authorities") if form.key == "cited-list"))
        self.assertEqual(len(lines(self.report, one_list)), 3)

    def test_what_is_not_known_goes_by_its_own_words(self) -> None:
        found = lines(report_of(p("x", cite("Minute  12", "gone", "1"))), AUTHORITIES)
        self.assertEqual(printed(found), ["Other authorities", "Minute 12 1"])

    def test_a_category_that_was_taken_away_lists_what_was_in_it_among_the_others(self) -> None:
        report = replace(self.report, categories={"other": DEFAULT_CATEGORIES["other"]})
        self.assertEqual(printed(lines(report, AUTHORITIES))[0], "Other authorities")

    def test_behind_by_one_page_more_and_by_another_category(self) -> None:
        before = lines(self.report, AUTHORITIES)
        more = replace(self.report, blocks=(*self.report.blocks, p("z", cite("Vane v. Ash", "v", "9"))))
        self.assertEqual(
            [(d.line.text, d.kinds) for d in behind(before, lines(more, AUTHORITIES))], [("Vane v. Ash", ("page",))]
        )
        moved = replace(
            self.report, authorities={**self.report.authorities, "o": Authority("o", "cases", "Act 1902, § 9")}
        )
        self.assertEqual(
            [(d.line.text, d.kinds) for d in behind(before, lines(moved, AUTHORITIES))], [("Act 1902, § 9", ("moved",))]
        )

    def test_another_place_on_the_same_page_is_no_difference(self) -> None:
        before = lines(self.report, AUTHORITIES)
        other = (p("new", cite("Vane v. Ash", "v", "0", italic=True)), *self.report.blocks)
        now = lines(replace(self.report, blocks=other), AUTHORITIES)
        self.assertNotEqual(before, now)
        self.assertEqual(behind(before, now), ())

    def test_a_citation_over_two_paragraphs_counts_once(self) -> None:
        report = report_of(p("x", "In ", cite("Vane v.", "v", "1")), p("y", cite("Ash", "v", "1"), " it was held."))
        self.assertEqual(printed(lines(report, AUTHORITIES)), ["Other authorities", "Vane v. Ash 1"])

    def test_the_pages_are_those_on_which_two_readers_find_the_words(self) -> None:
        words = [cite(f"Case {n} v. Ash", f"c{n}", f"i{n}") for n in range(40)]
        blocks = [
            p(f"p{n}", "The tide was late. " * (40 + 7 * n % 50), one, " " + "It rose. " * 60)
            for n, one in enumerate(words)
        ]
        table = PlacedTable("t", "t", own_page=True, kind="authorities")
        report = report_of(table, *blocks, tables={"t": Issued(AUTHORITIES)})
        report, pages = settle_all(report, TYPEFACES)
        data = WRITERS[".pdf"].write(Written(report, pages, TYPEFACES, {}))
        texts = [page.extract_text() for page in PdfReader(BytesIO(data)).pages]
        others = [page.get_textpage().get_text_bounded() for page in PdfDocument(data)]
        issued = report.tables["t"].lines
        self.assertEqual(len(issued), 41)
        front = pages.page_of(1) - 1
        for line in issued[1:]:
            for read in (texts, others):
                there = [n for n, text in enumerate(read, 1) if line.text in " ".join(text.split()) and n > front]
                self.assertEqual([int(page) for page in line.pages], there, line.text)
        # Every page number leads to where the words stand.
        reader = PdfReader(BytesIO(data))
        links = [one.get_object() for one in reader.pages[0]["/Annots"]]
        self.assertGreaterEqual(len(links), 40)

    def test_long_lists_of_pages_stand_in_rows_of_their_own_within_the_column(self) -> None:
        runs = tuple((cite("Vane v. Ash", "v", f"i{n}"),) if n % 2 else () for n in range(120))
        table = PlacedTable("t", "t", own_page=True, kind="authorities")
        report = report_of(*on_pages(*runs), table, tables={"t": Issued(replace(AUTHORITIES, passim=0))})
        report, pages = settle_all(report, TYPEFACES)
        data = WRITERS[".pdf"].write(Written(report, pages, TYPEFACES, {}))
        page = PdfDocument(data)[pages.page_of(len(report.blocks) - 1) - 1].get_textpage()
        self.assertIn("2, 4, 6, 8,", " ".join(page.get_text_bounded().split()))
        self.assertIn("114, 116, 118, 120", " ".join(page.get_text_bounded().split()))
        boxes = [page.get_charbox(n) for n in range(page.count_chars())]
        right = report.page.width - report.page.right
        self.assertLessEqual(max(box[2] for box in boxes if box[2] - box[0] > 0), right + 0.5)


class TheIndex(unittest.TestCase):
    def test_terms_beneath_others_letters_between_and_hints(self) -> None:
        report = report_of(
            *on_pages(
                (term("tide", "1", ("tide",), ("water", "tides")),),
                (term("neap tide", "2", ("tide", "neap"), main=True),),
                (term("gate", "3", ("gate",)),),
            ),
            sees=(See(("swell",), ("tide",)), See(("tide",), ("water",), True)),
        )
        self.assertEqual(
            printed(lines(report, INDEX)),
            ["G", "gate 3", "S", "swell, see tide", "T", "tide 1", "see also water", "neap 2", "W", "water", "tides 1"],
        )
        self.assertEqual([line.level for line in lines(report, INDEX)], [1, 2, 1, 2, 1, 2, 3, 3, 1, 2, 3])
        self.assertTrue(next(line for line in lines(report, INDEX) if line.text == "neap").leads[0].main)

    def test_letters_and_terms_without_pages_stay_with_what_stands_beneath_them(self) -> None:
        words = [(f"{letter}{one}", "of stone") for letter in "abcdefgh" for one in "xyz"]
        marked = p("a", *(term("/".join(two), str(n), two) for n, two in enumerate(words)))
        for columns in (1, 2):
            for above in range(36, 44):
                report = report_of(
                    *(p(f"t{n}", Run("Text")) for n in range(above)),
                    PlacedTable("t", "t", kind="index"),
                    marked,
                    tables={"t": Issued(replace(INDEX, columns=columns, levels=(1, 2, 3)))},
                )
                report, pages = settle_all(report, TYPEFACES)
                box, parts = pages.boxes[above], report.tables["t"].lines
                starts = [one.part for one in pages.starts if one.box == above and one.part]
                ends = [*starts, *(box.turn(a, b) for a, b in pairwise((0, *starts, len(box.heights))) if columns == 2)]
                with self.subTest(columns=columns, above=above):
                    self.assertTrue(ends)
                    for end in ends:  # the first part is the title
                        self.assertTrue(parts[end - 2].pages, parts[end - 2].text)

    def test_terms_run_in_behind_those_above_them(self) -> None:
        report = report_of(
            PlacedTable("t", "t", kind="index"),
            p("a", term("tide", "1", ("tide",), ("tide", "neap"), ("tide", "spring"), ("wall", "cost"))),
            tables={"t": Issued(replace(INDEX, columns=1, run_in=True))},
        )
        report, pages = settle_all(report, TYPEFACES)
        data = WRITERS[".pdf"].write(Written(report, pages, TYPEFACES, {}))
        words = " ".join(PdfReader(BytesIO(data)).pages[0].extract_text().split())
        self.assertIn("tide, 1; neap, 1; spring, 1 W wall: cost, 1", words)

    def test_pages_in_front_of_the_body_are_roman_and_in_no_range_with_it(self) -> None:
        gate = lambda id: (term("gate", id, ("gate",)),)  # noqa: E731
        body = Paragraph("h", "heading-1", (Run("Body"),))
        blocks = [*on_pages(gate("1"), gate("2"), gate("3")), body, *on_pages(gate("4"), gate("5"), gate("6"))]
        blocks = [replace(block, id=f"b{n}") for n, block in enumerate(blocks)]
        report = replace(report_of(*blocks), page=PageSetup(front="roman"))
        self.assertEqual(printed(lines(report, replace(INDEX, levels=(2,)))), ["gate i–iii, 1–3"])
        # As soon as they are counted along, so are all of them.
        report, pages = settle_all(replace(report, blocks=(PlacedTable("t", "t", kind="index"), *report.blocks),
                                           tables={"t": Issued(replace(INDEX, levels=(2,)))}), TYPEFACES)  # fmt: skip
        self.assertEqual(report.tables["t"].lines[0].pages, ("i–iii", "1–3"))
        after = paginate(replace(report, page=PageSetup()), TYPEFACES, pages)
        fresh = build(report.tables["t"].recipe, sources_of(after.headings, after, 0))
        self.assertEqual(fresh[0].pages, ("1–6",))

    def test_a_stretch_over_pages_is_a_range(self) -> None:
        mark = Marks(indexed=Indexed("1", (Entry(("wall",)),)))
        report = report_of(p("a", Run("Wall " * 900, mark)), p("b", Run("Wall " * 900, mark)))
        self.assertEqual(printed(lines(report, replace(INDEX, levels=(2,), ranges=0))), ["wall 1–3"])

    def test_word_by_word_and_letter_by_letter(self) -> None:
        """The textbook example of the two ways of filing (common practice; ISO 999 knows both)."""
        words = ("Newark", "New York", "news", "New Zealand")
        for by_letter, order in (
            (False, ["New York", "New Zealand", "Newark", "news"]),
            (True, ["Newark", "news", "New York", "New Zealand"]),
        ):
            self.assertEqual(sorted(words, key=orders("en-GB", by_letter)), order)

    def test_letters_are_those_of_the_language(self) -> None:
        report = report_of(p("a", term("Ålesund", "1", ("Ålesund",)), term("Zeebrugge", "2", ("Zeebrugge",))))
        self.assertEqual([line.text for line in lines(report, INDEX)], ["A", "Ålesund", "Z", "Zeebrugge"])
        self.assertEqual(
            [line.text for line in lines(report, replace(INDEX, language="sv"))], ["Z", "Zeebrugge", "Å", "Ålesund"]
        )
        swedish = replace(report, page=PageSetup(language="sv"))
        self.assertEqual([line.text for line in lines(swedish, INDEX)], ["Z", "Zeebrugge", "Å", "Ålesund"])
        of_its_own = replace(INDEX, language="en-GB")
        self.assertEqual(next(iter(lines(swedish, of_its_own))).text, "A")

    def test_signs_in_front_of_a_term_part_no_letter_in_two(self) -> None:
        words = ("“tide”", "table", "‘tin’", "tower")
        report = report_of(p("a", *(term(one, str(n), (one,)) for n, one in enumerate(words))))
        for by_letter in (False, True):
            found = [line.text for line in lines(report, replace(INDEX, by_letter=by_letter)) if line.level == 1]
            self.assertEqual(found, ["T"])

    def test_leading_articles_count_for_nothing_in_their_own_language(self) -> None:
        self.assertEqual(without_article("The Foreshore Act", "en-GB"), "Foreshore Act")
        self.assertEqual(without_article("Theatre Act", "en-GB"), "Theatre Act")
        self.assertEqual(without_article("L’Eau", "fr"), "Eau")
        self.assertEqual(without_article("The", "en-GB"), "The")

    def test_numbers_by_their_value(self) -> None:
        self.assertEqual(sorted(["s. 14", "s. 3", "s. 100"], key=orders("en-GB", False)), ["s. 3", "s. 14", "s. 100"])

    def test_a_term_of_500_characters_and_none_longer(self) -> None:
        element = element_of(p("a", term("x", "1", ("y" * 500,))))
        self.assertIsNone(validate(element))
        self.assertEqual(read_block(element, "a"), p("a", term("x", "1", ("y" * 500,))))
        longer = element_of(p("a", term("x", "1", ("y" * 501,))))
        self.assertIn("indexed", validate(longer) or "")
        self.assertEqual(read_block(longer, "a").runs[0].text, "x")  # type: ignore[attr-defined]  # no word is lost


class Finding(unittest.TestCase):
    def found(
        self, *paragraphs: Paragraph, long: str, short: str = "", ids: bool = False, **more: Any
    ) -> list[tuple[str, str]]:
        return [(one.words, one.how) for one in find_words(report_of(*paragraphs), long, short, ids, **more)]

    def test_other_spacing_apostrophes_and_lines(self) -> None:
        self.assertEqual(
            self.found(
                p("a", "O'Neil v.\u00a0The  Port; O’Neil v.\nThe Port; McO’Neil v. The Port"), long="O’Neil v. The Port"
            ),
            [("O'Neil v.\u00a0The  Port", "long"), ("O’Neil v.\nThe Port", "long")],
        )
        self.assertEqual(self.found(p("a", "§9, § 9 and §  91"), long="§ 9"), [("§9", "long"), ("§ 9", "long")])

    def test_the_longer_form_first_and_marked_words_not_again(self) -> None:
        there = p("a", "The Walls Act 1871, then the Walls Act, and ", cite("the Walls Act", "w", "1"), ".")
        self.assertEqual(
            self.found(there, long="the Walls Act 1871", short="the Walls Act"),
            [("The Walls Act 1871", "long"), ("the Walls Act", "short")],
        )

    def test_id_and_ibid_only_right_behind(self) -> None:
        text = p("a", "Vane v. Ash held so. Id. at 4. See ISO 2145. Ibid. Then Vane v. Ash.")
        behind_it = p("b", "Ibid. Id.")
        self.assertEqual(
            self.found(text, behind_it, long="Vane v. Ash", ids=True),
            [("Vane v. Ash", "long"), ("Id.", "id"), ("Vane v. Ash", "long"), ("Ibid.", "id"), ("Id.", "id")],
        )
        self.assertEqual(len(self.found(text, behind_it, long="Vane v. Ash")), 2)

    def test_terms_whatever_the_capitals(self) -> None:
        self.assertEqual(
            self.found(p("a", "Tide gates. A tide gate, TIDE GATE."), long="tide gate", terms=("gate",)),
            [("tide gate", "long"), ("TIDE GATE", "long")],
        )

    def test_terms_where_they_are_not_marked_under_the_same_whatever_is_cited_there(self) -> None:
        there = p("a", "A gate, ", term("gate", "1", ("gate",)), ", ", term("gate", "2", ("works", "gate")), ", the ",
                  cite("gate", "w", "3"), ".")  # fmt: skip
        self.assertEqual(len(self.found(there, long="gate", terms=("gate",))), 3)
        self.assertEqual(len(self.found(there, long="gate", terms=("works", "gate"))), 3)
        self.assertEqual(len(self.found(there, long="gate", terms=())), 4)

    def test_ten_thousand_places(self) -> None:
        half = tuple(cite("tide", "t", f"i{n}") if n % 2 else " tide " for n in range(20_000))
        self.assertEqual(len(self.found(p("a", "tide " * 10_000), p("b", *half), long="tide", short="tid")), 20_000)

    def test_what_looks_cited(self) -> None:
        text = "As in Vane v Ash (1911); under the Foreshore and Piers Act 1902, s. 31(2), the Shore Order 1996, ISO/IEC 29500-1:2016, Decision 14/1934, § 9 and 12 U.S.C. § 1."
        self.assertEqual(
            [(text[start:end], category) for start, end, category in looks_cited(text)],
            [
                ("Vane v Ash (1911)", "cases"),
                ("Foreshore and Piers Act 1902, s. 31(2)", "statutes"),
                ("Shore Order 1996", "regulations"),
                ("ISO/IEC 29500-1:2016", "standards"),
                ("Decision 14/1934", "other"),
                ("§ 9", "statutes"),
                ("12 U.S.C. § 1", "statutes"),
            ],
        )
        self.assertEqual(looks_cited("The act of 1902 men v. the sea at 9 in order."), [])

    def test_ways_to_cite_of_ones_own_are_words_and_never_patterns(self) -> None:
        rules = [CitationRule("Minute #/# (*)", "other")]
        text = "Minute 12/1934 (Harbour), Minute x/y (z)"
        self.assertEqual([text[one.start : one.end] for one in looks_cited(text, rules)], ["Minute 12/1934 (Harbour)"])
        self.assertEqual(
            rules_from_json([["#", "other"], ["* *", "x"], ["(a+)+$ #", "x"], "odd", [1, 2]]),
            (CitationRule("(a+)+$ #", "x"),),
        )

    def test_no_way_to_cite_takes_longer_than_its_text(self) -> None:
        """Some of these never ended for 130 digits; the square of the length would be minutes."""
        start = time.process_time()
        for words in ("#*#*#!", "*a*a*a*a*a*!", "# " * 60 + "!", "*-" * 60 + "x"):
            for piece in ("1", "a", "1 ", "a-", "A'"):
                looks_cited(piece * (100_000 // len(piece)), [CitationRule(words[:200], "other")])
        self.assertLess(time.process_time() - start, 60)

    def test_rules_find_whole_words_alone(self) -> None:
        text = "Minute 12, Minutes 13, XMinute 14, Minute é, «Minute 15», Minute 16a"
        self.assertEqual(
            [text[one.start : one.end] for one in looks_cited(text, [CitationRule("Minute #", "other")])],
            ["Minute 12", "Minute 15"],
        )

    def test_unmarked_ones_together_and_not_those_of_known_authorities(self) -> None:
        report = report_of(
            p("a", "ISO 2145 and ISO 999 and ISO\n2145."), p("b", "Vane v Ash, ", cite("ISO 1", "i", "1")),
            authorities=known(("v", "cases", "Vane v Ash")),
        )  # fmt: skip
        self.assertEqual([(one.words, len(one.places)) for one in unmarked(report)], [("ISO 2145", 2), ("ISO 999", 1)])

    def test_a_section_of_an_act_that_is_cited_as_a_whole_is_a_place_of_it(self) -> None:
        report = report_of(
            p("a", "Under the Harbour Walls Act  1871,  s. 9(b) and the Sluices Act 1902, s. 4, walls are kept."),
            p("b", "The Harbour Walls Act 1871 stands; the Sluices Act 1902, § 12 as well."),
        )
        self.assertEqual(
            [(one.words, [place.words for place in one.places]) for one in unmarked(report)],
            [
                ("Harbour Walls Act 1871", ["Harbour Walls Act  1871", "Harbour Walls Act 1871"]),
                ("Sluices Act 1902, s. 4", ["Sluices Act 1902, s. 4"]),
                ("Sluices Act 1902, § 12", ["Sluices Act 1902, § 12"]),
            ],
        )


class Kept(unittest.TestCase):
    def test_rows_that_cannot_be_used_are_left_out(self) -> None:
        self.assertEqual(
            [
                *authorities_from_json(
                    [["a", "cases", " Vane  v. Ash ", ""], ["b"], None, ["", "x", "y", ""], ["c", "x", "", ""]]
                )
            ],
            ["a"],
        )
        self.assertEqual(categories_from_json("odd"), DEFAULT_CATEGORIES)
        self.assertEqual([*categories_from_json([["x", "Maps"], 4])], ["x"])
        self.assertEqual(sees_from_json([[["a"], ["b"], True], [["a"], ["a"]], 5]), (See(("a",), ("b",), True),))

    def test_what_cannot_be_is_said_in_a_sentence(self) -> None:
        for refused in (
            lambda: authority_of("a", "cases", "  "),
            lambda: authority_of("a", "cases", "x" * 501),
            lambda: category_named("cases", DEFAULT_CATEGORIES),
            lambda: category_named(" ", DEFAULT_CATEGORIES),
            lambda: see_of(["a"], ["a"]),
            lambda: see_of(["a", "b", "c", "d"], ["x"]),
        ):
            with self.assertRaises(SettingError) as caught:
                refused()
            self.assertRegex(str(caught.exception), r"^[A-Z“].*\.$")

    def test_own_categories_stand_before_the_rest(self) -> None:
        self.assertEqual(
            [one.name for one in category_named("Maps and charts", DEFAULT_CATEGORIES).values()][-2:],
            ["Maps and charts", "Other authorities"],
        )

    def test_lines_and_recipes_come_back_as_they_were_kept(self) -> None:
        line = Line("a", 2, "", "Vane v. Ash", ("1", "3–5"), (), (Lead("x"), Lead("y", True)))
        self.assertEqual(line_from_json(line_to_json(line)), line)
        for recipe in (AUTHORITIES, INDEX, replace(AUTHORITIES, categories=("cases",), passim=9, language="sv")):
            self.assertEqual(recipe_from_json(recipe_to_json(recipe)), recipe)

    def test_every_form_is_another_one(self) -> None:
        for kind in ("authorities", "index"):
            made = [formed(table_kind(kind).recipe, form) for form in forms_for(kind)]
            self.assertGreaterEqual(len(made), 5)
            self.assertTrue(all(one != other for at, one in enumerate(made) for other in made[at + 1 :]))
            self.assertEqual({one.kind for one in made}, {kind})

    def test_marks_on_words_survive_being_kept_together(self) -> None:
        run = Run("Vane", Marks(citation=Citation("c", "v"), indexed=Indexed("x", (Entry(("tide",), True),))))
        block = p("a", run)
        self.assertIsNone(validate(element_of(block)))
        self.assertEqual(read_block(element_of(block), "a"), block)


def texts(report: Report, kind: str) -> list[str]:
    return [one.text for one in check_up(state_of(report, TYPEFACES)).findings if one.kind == kind]


class CheckUp(unittest.TestCase):
    def test_terms_that_differ_by_a_capital_or_an_s_become_one(self) -> None:
        report = report_of(
            p("a", term("tide", "1", ("tide",)), " ", term("tide", "2", ("tide",))),
            p("b", term("Tides", "3", ("Tides",)), " ", term("glass", "4", ("glass",))),
        )
        self.assertEqual(texts(report, "terms-alike"), ["“Tides” stands beside “tide”."])
        after = mended(state_of(report, TYPEFACES), "terms-alike", iter(()), TYPEFACES)
        assert after is not None
        self.assertEqual(texts(after.report, "terms-alike"), [])
        self.assertEqual(printed(lines(after.report, replace(INDEX, levels=(2,)))), ["glass 1", "tide 1"])

    def test_hints_to_nothing(self) -> None:
        report = report_of(
            p("a", term("tide", "1", ("tide", "neap"))),
            sees=(See(("swell",), ("waves",)), See(("flood",), ("tide",)), See(("ebb",), ("tide",), True)),
        )
        (found,) = texts(report, "see-nothing")
        self.assertIn("Under “swell” the index says to see “waves”, where it has nothing.", found)
        self.assertIn("“ebb” has no places of its own", found)
        self.assertNotIn("flood", found)

    def test_a_filing_that_meets_the_rules(self) -> None:
        """US Federal Rules of Appellate Procedure 28(a)(2)–(3), 32(a)(4)–(5)."""
        report = self.filing()
        kinds = {one.kind for one in check_up(state_of(report, TYPEFACES)).findings}
        self.assertEqual({kind for kind in kinds if kind.startswith("filing")}, set())

    def filing(self, **more: object) -> Report:
        sheet = SHIPPED["filings"].sheet
        blocks = (
            PlacedTable("t1", "t1", own_page=True),
            PlacedTable("t2", "t2", own_page=True, kind="authorities"),
            Paragraph("h", "heading-1", (Run("Argument"),)),
            p("a", cite("Vane v. Ash", "v", "1"), " binds."),
        )
        tables = {"t1": Issued(), "t2": Issued(replace(AUTHORITIES, passim=0))}
        made = report_of(*blocks, styles=sheet.styles, page=sheet.page, house="filings", tables=tables,
                         authorities=known(("v", "cases", "Vane v. Ash")))  # fmt: skip
        report, _ = settle_all(made, TYPEFACES)
        return replace(report, **more)  # type: ignore[arg-type]

    def test_what_is_not_met_is_told_with_the_number_of_the_rule(self) -> None:
        report = self.filing()
        small = Paragraph("s", "body", (Run("Small print", Marks(size=9.0)),))
        for kind, broken, rule in (
            ("filing-contents", replace(report, blocks=report.blocks[1:]), "28(a)(2)"),
            (
                "filing-contents",
                replace(report, blocks=(*report.blocks, Paragraph("n", "heading-1", (Run("New"),)))),
                "28(a)(2)",
            ),
            ("filing-authorities", replace(report, blocks=(report.blocks[0], *report.blocks[2:])), "28(a)(3)"),
            (
                "filing-authorities",
                replace(report, blocks=(*report.blocks, p("n", cite("Act 1902", "new", "9")))),
                "28(a)(3)",
            ),
            ("filing-type", replace(report, blocks=(*report.blocks, small)), "32(a)(5)"),
            ("filing-page", replace(report, page=replace(report.page, left=60.0)), "32(a)(4)"),
        ):
            with self.subTest(kind=kind, rule=rule):
                found = texts(broken, kind)
                self.assertTrue(found and all(rule in one for one in found), found)
                self.assertEqual(texts(replace(broken, house=""), kind), [])

    def test_words_in_data_tables_are_counted(self) -> None:
        """FRAP 32(f) names what is left out, and tables of data are not among it."""
        row = (Cell((Paragraph("c1", "cell", (Run("two words"),)),)), Cell((Paragraph("c2", "cell", (Run("three"),)),)))
        report = report_of(p("a", "One."), DataTable("d", (row, row)))
        self.assertEqual(filing.counted(report, paginate(report, TYPEFACES))[1], 1 + 6)

    def test_pages_are_counted_without_cover_tables_and_addendum(self) -> None:
        long = tuple(p(f"l{n}", "word " * 300) for n in range(50))
        addendum = tuple(p(f"x{n}", "word " * 300) for n in range(50))
        report = self.filing()
        begins = Paragraph("z", "heading-1", (Run("Addendum"),), number="appendix")
        self.assertEqual(texts(replace(report, blocks=(*report.blocks, begins, *addendum)), "filing-length"), [])
        (found,) = texts(replace(report, blocks=(*report.blocks, *long)), "filing-length")
        self.assertIn("15,005 words", found)
        self.assertIn("FRAP 32(a)(7)", found)


class PagesOfMarks(unittest.TestCase):
    @given(
        st.lists(st.integers(0, 400), min_size=1, max_size=12),
        st.integers(0, 2),
        st.booleans(),
        st.integers(0, 11),
        st.booleans(),
    )
    def test_after_an_edit_they_are_those_of_a_fresh_start(
        self, lengths: list[int], at: int, put_in: bool, within: int, first: bool
    ) -> None:
        # Every second paragraph begins with what ends the one before: one place over both. Some marks are copies of others.
        blocks = tuple(
            p(
                f"p{n}",
                *((cite("and Others", "v", f"s{n}"),) if n % 2 else ()),
                "tide " * length,
                cite("Vane v. Ash", "v", f"c{n % 9}"),
                " gate" * 40,
                term("wall", f"t{n % 7}", ("wall",)),
                cite("Vane v. Ash", "v", f"s{n + 1}"),
            )
            for n, length in enumerate(lengths)
        )
        before = report_of(*blocks)
        pages: Pages = paginate(before, TYPEFACES)
        _ = pages.citing_pages, pages.indexing_pages, lines_on(pages, AUTHORITIES), lines_on(pages, INDEX)
        # A paragraph more, and one longer within: in front of what is marked in it, or behind.
        there = blocks[within % len(blocks)]
        longer = replace(
            there, runs=((Run("And "),) if first else ()) + there.runs + (() if first else (Run(" more"),))
        )
        marked = tuple(longer if one is there else one for one in blocks)
        edited = replace(before, blocks=(*marked[:at], *([p("new", "more " * 300)] if put_in else []), *marked[at:]))
        after, fresh = paginate(edited, TYPEFACES, pages), paginate(edited, TYPEFACES)
        self.assertEqual(after.occurrences.citings, fresh.occurrences.citings)
        self.assertEqual(after.occurrences.indexings, fresh.occurrences.indexings)
        for recipe in (AUTHORITIES, INDEX):
            self.assertEqual(lines_on(after, recipe), lines_on(fresh, recipe))
        self.assertEqual([*after.citing_pages], [*fresh.citing_pages])
        self.assertEqual([*after.indexing_pages], [*fresh.indexing_pages])
        self.assertTrue(all(one <= other for one, other in pairwise(after.citing_pages)))
        for at, page in zip(after.occurrences.citings, after.citing_pages, strict=True):
            block, one = after.noted[at.at.at]
            self.assertEqual(page, after.page_at(block, one.row, at.at.start))
