"""Parts of a report on its pages, with page numbers, paper, heads and feet of their own."""

from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import date
from io import BytesIO
from itertools import pairwise
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.draw import Drawing, Mark, Picture, Rule, Words
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report.blocks import Block, PageBreak, Paragraph, PartStart, PlacedTable, Run
from mellowspine.core.report.labels import Label
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import FIRST, Part, page_of_part, part_from_json, part_to_json
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import Sheet, change_part, changes, settings_of, sheet_of, undone
from mellowspine.core.report.styles import default_styles
from mellowspine.core.report.tables import Issued
from mellowspine.core.structure.sections import move, sections
from mellowspine.core.tables.settle import settle_all

from .samples import TYPEFACES, blocks, grid, heading, text

LANDSCAPE = {"width": 841.89, "height": 595.28}


def report_of(*blocks: Block, parts: dict[str, Part] | None = None, **page: Any) -> Report:
    return Report("The sluice", blocks, parts=parts or {}, page=PageSetup(**page))


def pages_of(*blocks: Block, parts: dict[str, Part] | None = None, **page: Any) -> Pages:
    return paginate(report_of(*blocks, parts=parts, **page), TYPEFACES)


def labels(pages: Pages) -> list[str]:
    return pages.labels[1:]


def said(pages: Pages, page: int, where: str = "foot") -> list[str]:
    """What stands at the head or foot of a sheet, from the left."""
    height = pages.stretch(page).page.text_height
    marks = Drawing(pages, TYPEFACES, date(2031, 5, 4)).page(page)
    found = [
        one
        for one in marks
        if isinstance(one, Words) and (one.baseline < 0 if where == "head" else one.baseline > height)
    ]
    return [one.text for one in sorted(found, key=lambda one: one.x)]


def words_on(pages: Pages, page: int) -> list[Words]:
    return [one for one in Drawing(pages, TYPEFACES).page(page) if isinstance(one, Words)]


class Numbers(unittest.TestCase):
    def test_front_matter_body_and_appendices(self) -> None:
        pages = pages_of(
            text("a"), PageBreak("1"), text("b"), PartStart("body"), text("c"), PageBreak("2"), text("d"),
            PartStart("wide"), text("e"), PartStart("back"), text("f"),
            parts={FIRST: Part(figures="lower-roman"), "body": Part(figures="decimal", start=1), "wide": Part(page=LANDSCAPE),
                   "back": Part(figures="decimal", words="A-", start=1)},
            foot_middle="{page} of {last}, {pages} in all",
        )  # fmt: skip
        self.assertEqual(labels(pages), ["i", "ii", "1", "2", "3", "A-1"])
        self.assertEqual(said(pages, 2), ["ii of ii, 6 in all"])
        self.assertEqual(said(pages, 5), ["3 of 3, 6 in all"])
        self.assertEqual(said(pages, 6), ["A-1 of A-1, 6 in all"])

    def test_a_part_without_numbers_is_counted_and_prints_none(self) -> None:
        parts = {FIRST: Part(figures="none"), "p": Part(figures="decimal")}
        pages = pages_of(text("a"), PartStart("p"), text("b"), parts=parts)
        self.assertEqual((labels(pages), said(pages, 1), said(pages, 2)), (["", "2"], [], ["2"]))

    def test_a_heading_on_pages_without_numbers_is_listed_without_one(self) -> None:
        """Nothing stands where its page would; it once kept a PDF from being written."""
        report = Report(
            "r",
            (PlacedTable("t", "c"), heading("h1", 1, "In front"), PartStart("p"), heading("h2", 1, "Body")),
            parts={FIRST: Part(figures="none"), "p": Part(figures="decimal")},
            tables={"c": Issued()},
        )
        settled, pages = settle_all(report, TYPEFACES)
        self.assertEqual([line.pages for line in settled.tables["c"].lines], [("",), ("2",)])
        data = WRITERS[".pdf"].write(Written(settled, pages, TYPEFACES, {}))
        self.assertIn("In front", PdfReader(BytesIO(data)).pages[0].extract_text())

    def test_a_part_begins_on_the_hand_that_it_wants(self) -> None:
        """The first sheet lies on the right; a sheet left empty has no head or foot, and is counted with what is before it."""
        for begins, wanted in (("right", ["1", "2", "1"]), ("left", ["1", "1"]), ("any", ["1", "1"])):
            pages = pages_of(text("a"), PartStart("p"), text("b"), parts={"p": Part(start=1, begins=begins)})
            self.assertEqual(labels(pages), wanted)
            self.assertEqual(pages.page_of(2), len(wanted))
            if begins == "right":
                self.assertEqual([*Drawing(pages, TYPEFACES).page(2)], [])
                self.assertEqual([(edge.block.id, edge.offset) for edge in pages.edges()], [("p", 0), ("p", 0)])

    def test_of_parts_right_behind_each_other_the_last_counts(self) -> None:
        parts = {"one": Part(words="X", figures="decimal"), "two": Part(words="Y", figures="decimal", page=LANDSCAPE)}
        for some in (
            (text("a"), PartStart("one"), PartStart("two"), text("b")),
            (PartStart("one"), PartStart("two"), text("b")),
        ):
            pages = pages_of(*some, parts=parts)
            self.assertEqual(labels(pages)[-1], f"Y{len(pages)}")
            self.assertEqual(len(pages), len(some) - 2)
            self.assertEqual(Drawing(pages, TYPEFACES).paper(len(pages)).width, 841.89)

    def test_a_part_at_the_end_has_a_page_and_one_with_an_empty_page_keeps_it(self) -> None:
        self.assertEqual(len(pages_of(text("a"), PartStart("p"))), 2)
        self.assertEqual(labels(pages_of(PartStart("p"), PageBreak("1"), PartStart("q"), parts={"q": Part(words="Q", figures="decimal", start=1)})),
                         ["1", "Q1"])  # fmt: skip

    def test_numbers_that_begin_anew_end_the_front_pages_of_their_own_accord(self) -> None:
        blocks = (text("a"), PageBreak("1"), heading("h"), text("b"))
        self.assertEqual(labels(pages_of(*blocks, front="roman")), ["i", "1"])
        self.assertEqual(labels(pages_of(*blocks, PartStart("p"), text("c"), front="roman")), ["1", "2", "3"])


class Paper(unittest.TestCase):
    def test_a_landscape_part_is_set_as_wide_as_its_paper(self) -> None:
        pages = pages_of(
            text("a", 9), PartStart("p"), text("b", 9), PartStart("q"), text("c", 9), parts={"p": Part(page=LANDSCAPE)}
        )
        lines = [len({round(one.baseline, 2) for one in words_on(pages, page)}) for page in (1, 2, 3)]
        self.assertEqual(lines[0], lines[2])
        self.assertLess(lines[1], lines[0])
        self.assertEqual(Drawing(pages, TYPEFACES).paper(2)[:2], (841.89, 595.28))

    def test_columns_are_filled_from_the_left(self) -> None:
        pages = pages_of(*(text(f"t{n}", 6) for n in range(30)), columns=2, column_gap=24.0, foot_middle="")
        page = pages.report.page
        self.assertAlmostEqual(page.column_width, (page.text_width - 24) / 2)
        first = words_on(pages, 1)
        left = [one for one in first if one.x < page.column_width]
        right = [one for one in first if one.x >= page.column_width + 24]
        self.assertEqual(len(left) + len(right), len(first))
        self.assertEqual(first, left + right)
        self.assertGreater(max(one.baseline for one in left), page.text_height * 0.8)
        self.assertLess(len(pages), len(pages_of(*(text(f"t{n}", 6) for n in range(30)), right=300.0)))

    def test_a_page_break_ends_all_columns(self) -> None:
        pages = pages_of(text("a"), PageBreak("1"), text("b"), columns=3)
        self.assertEqual(len(pages), 2)

    def test_margins_are_mirrored_on_left_hand_pages(self) -> None:
        pages = pages_of(text("a"), PageBreak("1"), text("b"), mirrored=True, left=100.0, right=50.0)
        self.assertEqual([Drawing(pages, TYPEFACES).paper(page).left for page in (1, 2)], [100.0, 50.0])

    def test_a_part_whose_paper_leaves_no_room_is_set_as_the_report(self) -> None:
        page = PageSetup(left=250.0, right=250.0)
        self.assertIs(page_of_part(Part(page={"width": 300.0}), page), page)

    def test_a_word_is_parted_at_the_end_of_its_column(self) -> None:
        pages = pages_of(Paragraph("w", "body", (Run("m" * 3000),)), columns=4, column_gap=0.0, foot_middle="")
        width = pages.report.page.column_width
        for page in range(1, len(pages) + 1):
            for one in words_on(pages, page):
                within = one.x - (one.x + 1e-6) // width * width
                self.assertLessEqual(within + one.face.width(one.text) * one.size, width + 1e-6)


class HeadsAndFeet(unittest.TestCase):
    blocks = (
        heading("h1", words="Silt"), text("a"), PageBreak("1"), text("b"), PageBreak("2"),
        text("c"), heading("h2", 2, "Dredging"), heading("h3", words="Locks"), text("d"), PageBreak("3"), text("e"),
    )  # fmt: skip

    def test_the_current_section_is_the_first_that_begins_on_the_page_or_the_one_before(self) -> None:
        report = replace(
            report_of(*self.blocks, head_left="{number 1} {section 1}", head_right="{section 2}"),
            numbering=SCHEMES["decimal"],
        )
        pages = paginate(report, TYPEFACES)
        self.assertEqual([said(pages, page, "head") for page in (1, 2, 3, 4)],
                         [["1 Silt"], ["1 Silt"], ["2 Locks", "Dredging"], ["2 Locks"]])  # fmt: skip

    def test_fields_are_filled_in_once(self) -> None:
        report = replace(
            report_of(text("a"), head_left="{title}", head_right="{version}, {date}", version="Draft {page}x"[:5]),
            title="{page} of sand",
        )
        pages = paginate(report, TYPEFACES)
        self.assertEqual(said(pages, 1, "head"), ["{page} of sand", "Draft, 4 May 2031"])

    def test_left_pages_are_mirrored_or_have_their_own(self) -> None:
        pages = pages_of(*self.blocks, head_left="in", head_right="out", left_pages="mirrored", foot_middle="")
        self.assertEqual([said(pages, page, "head") for page in (1, 2)], [["in", "out"], ["out", "in"]])
        pages = pages_of(*self.blocks, head_left="right", left_pages="own", left_head_right="left", foot_middle="")
        self.assertEqual([said(pages, page, "head") for page in (1, 2, 3)], [["right"], ["left"], ["right"]])

    def test_first_pages(self) -> None:
        """What the report says of its first page is not said of each part; a part may say it of its own."""
        blocks = (text("a"), PageBreak("1"), text("b"), PartStart("p"), text("c"), PageBreak("2"), text("d"))
        for parts, wanted in (
            ({}, [[], ["2"], ["3"], ["4"]]),
            (
                {"p": Part(page={"first_page": "own", "first_foot_left": "New: {part}"}, name="Sand")},
                [[], ["2"], ["New: Sand"], ["4"]],
            ),
        ):
            pages = pages_of(*blocks, parts=parts, first_page="none")
            self.assertEqual([said(pages, page) for page in (1, 2, 3, 4)], wanted)

    def test_what_is_too_long_is_cut_and_nothing_stands_on_something_else(self) -> None:
        long = "Sand and silt and what the tide brings with it " * 4
        for places in (("left",), ("left", "right"), ("left", "middle", "right"), ("middle", "right")):
            pages = pages_of(text("a"), foot_middle="", **{f"head_{place}": long for place in places})
            marks = sorted((one for one in words_on(pages, 1) if one.baseline < 0), key=lambda one: one.x)
            self.assertEqual(len(marks), len(places))
            reach = [(one.x, one.x + one.face.width(one.text) * one.size) for one in marks]
            self.assertGreaterEqual(reach[0][0], -1e-6)
            self.assertLessEqual(reach[-1][1], pages.report.page.text_width + 1e-6)
            self.assertTrue(all(one.text.endswith("…") for one in marks))
            self.assertTrue(all(one[1] < other[0] for one, other in pairwise(reach)))

    def test_a_head_stays_in_its_margin_however_large_its_letters(self) -> None:
        styles = default_styles()
        huge = type(styles)([replace(one, size=300.0) if one.role == "running" else one for one in styles.values()])
        for margin in (0.0, 1.0, 20.0, 72.0):
            report = replace(report_of(text("a"), head_left="Silt", top=margin, head_rule=True), styles=huge)
            marks: list[Mark] = [*Drawing(paginate(report, TYPEFACES), TYPEFACES).page(1)]
            heads = [one for one in marks if isinstance(one, Words) and one.text == "Silt"]
            self.assertEqual(len(heads), margin > 1)
            for one in heads:
                self.assertLess(one.size, margin)
                self.assertTrue(-margin < one.baseline < 0)
            self.assertEqual(len([one for one in marks if isinstance(one, Rule)]), margin > 1)


class Settings(unittest.TestCase):
    def test_what_cannot_be_is_refused_with_a_sentence(self) -> None:
        wrong = ({"figures": "Roman"}, {"start": 0}, {"begins": "up"}, {"words": "x" * 21}, {"name": "a\nb"}, {"page": {"language": "de"}},
                 {"page": {"top": -3.0}}, {"page": {"no": 1}})  # fmt: skip
        for values in wrong:
            with self.assertRaises(SettingError, msg=str(values)) as caught:
                Part(**values)  # type: ignore[arg-type]
            self.assertRegex(str(caught.exception), r"^[A-Z“].+\.$")

    def test_as_it_was_kept(self) -> None:
        part = Part("Annexes", "upper-letter", "A-", 3, "left", {"columns": 2, "head_left": "{part}"})
        self.assertEqual(part_from_json(part_to_json(part)), part)
        self.assertEqual(part_to_json(Part()), {})
        for stored in (
            None,
            [],
            {"figures": "x", "page": [], "start": "3", "what": 1},
            {"page": {"top": "x", "language": "de"}},
        ):
            self.assertEqual(part_from_json(stored), Part())

    def test_by_path_changed_and_taken_back(self) -> None:
        old = Sheet(default_styles(), parts={"p": Part("Annexes", page={"columns": 2})})
        self.assertEqual(sheet_of(settings_of(old)), old)
        new = replace(old, parts=change_part(old.parts, "p", {"start": 4}, {"top": 90.0}, ["columns"]))
        self.assertEqual(new.parts["p"], Part("Annexes", start=4, page={"top": 90.0}))
        self.assertEqual([one.path for one in changes(old, new)],
                         [("parts", "p", "page", "columns"), ("parts", "p", "start"), ("parts", "p", "page", "top")])  # fmt: skip
        later = replace(new, parts=change_part(new.parts, "p", {"name": "Maps"}, {}, []))
        back, left = undone(later, changes(old, new))
        self.assertEqual((back.parts["p"], left), (Part("Maps", page={"columns": 2}), []))


class Rearranging(unittest.TestCase):
    def test_a_part_begins_where_it_did_when_the_section_in_front_of_it_moves(self) -> None:
        report = report_of(heading("a"), text("1"), PartStart("p"), heading("b"), text("2"), heading("c"), text("3"))
        self.assertEqual([(one.id, one.end) for one in sections(report)], [("a", 2), ("b", 5), ("c", 7)])
        moved = carry_out(move(report, ["a"], "c"), report)
        self.assertEqual([one.id for one in moved.blocks], ["p", "b", "2", "a", "1", "c", "3"])

    def test_a_part_within_a_section_goes_along(self) -> None:
        report = report_of(heading("a"), PartStart("p"), text("1"), PartStart("q"), text("2"), heading("b"), text("3"))
        moved = carry_out(move(report, ["a"], None), report)
        self.assertEqual([one.id for one in moved.blocks], ["b", "3", "a", "p", "1", "q", "2"])


PARTS = st.builds(
    Part,
    figures=st.sampled_from([None, "decimal", "lower-roman", "none"]),
    start=st.sampled_from([None, 1, 7]),
    begins=st.sampled_from(["any", "any", "left", "right"]),
    page=st.sampled_from([{}, {}, LANDSCAPE, {"columns": 2}, {"top": 300.0}, {"first_page": "none"}]),
)


class AfterAnEdit(unittest.TestCase):
    @given(st.data())
    def test_pages_are_as_from_a_fresh_start(self, data: st.DataObject) -> None:
        """Whatever is written, and whatever parts come, go and change, one state after the other."""
        now: Pages | None = None
        text_of: list[Block] = []
        for step in range(4):
            at = data.draw(st.integers(0, len(text_of)))
            end = data.draw(st.integers(at, min(at + 4, len(text_of))))
            new = [replace(one, id=f"{step}-{one.id}") for one in data.draw(blocks)]  # type: ignore[type-var]
            if data.draw(st.booleans()):
                new.insert(data.draw(st.integers(0, len(new))), PartStart(f"part{step}"))
            text_of[at:end] = new
            starts = [FIRST, *(one.id for one in text_of if type(one) is PartStart)]
            parts = {id: data.draw(PARTS) for id in starts if data.draw(st.booleans())}
            if now and data.draw(st.booleans()):
                parts = {**now.report.parts}
            page = PageSetup(front=data.draw(st.sampled_from(["counted", "roman"])))
            report = Report("r", tuple(text_of), parts=parts, page=page)
            fresh, now = paginate(report, TYPEFACES), paginate(report, TYPEFACES, now)
            self.assertEqual([*now.boxes], [*fresh.boxes])
            self.assertEqual([*now.starts], [*fresh.starts])
            self.assertEqual((now.labels, now.counts, now.stretches), (fresh.labels, fresh.counts, fresh.stretches))
            self.assertEqual(now.edges(), fresh.edges())
            self.placed_once(now)

    def test_what_is_in_another_part_now_is_set_for_its_paper(self) -> None:
        """The same blocks in parts with the same papers, one after the other; but not in the same ones."""
        wide = {id: Part(page={"width": 900.0}) for id in ("p", "q", "n")}
        first = Report("r", (text("x"), text("t", 9), PartStart("p"), text("y"), PartStart("q"), text("z")), parts=wide)
        kept = first.blocks[:2]
        then = replace(first, blocks=(text("w"), PartStart("n"), *kept, PartStart("q"), first.blocks[-1]))
        now = paginate(then, TYPEFACES, paginate(first, TYPEFACES))
        self.assertEqual([*now.boxes], [*paginate(then, TYPEFACES).boxes])

    def placed_once(self, pages: Pages) -> None:
        """All parts of all boxes stand on some page, in their order, and each part of the report begins a page."""
        placed = [one for page in range(1, len(pages) + 1) for one in pages.content(page)]
        found = [(one.box, part) for one in placed for part in range(one.first, one.end)]
        self.assertEqual(found, [(at, part) for at, box in enumerate(pages.boxes) for part in range(len(box.heights))])
        for one in pages.stretches:
            first = pages.starts[pages.page_of(one.first) - 1]
            self.assertEqual((first.box, first.part), (one.first, 0))
            if one.part.begins != "any":
                self.assertEqual(pages.page_of(one.first) % 2, one.part.begins == "right")


class PictureAtTheHead(unittest.TestCase):
    SIGN = "0" * 32 + ".png"

    def marks(self, words: str, **page: Any) -> list[Mark]:
        page = {"picture": self.SIGN, "picture_ratio": 2.0, "foot_middle": "", **page}
        return [*Drawing(pages_of(text("a"), head_left=words, **page), TYPEFACES).page(1)]

    def test_it_stands_among_the_words_in_the_middle_of_the_margin(self) -> None:
        marks = self.marks("Silt {picture} and sand")
        (sign,) = (one for one in marks if isinstance(one, Picture))
        before, after = (one for one in marks if isinstance(one, Words) and one.baseline < 0)
        self.assertEqual((sign.width, sign.height, sign.source), (48.0, 24.0, self.SIGN))
        self.assertAlmostEqual(sign.y + sign.height / 2, -36.0)
        self.assertLess(before.x + before.width, sign.x)
        self.assertLess(sign.x + sign.width, after.x)

    def test_it_is_smaller_in_a_low_margin_and_left_out_of_none(self) -> None:
        for top, height in ((72.0, 24.0), (20.0, 16.0), (1.0, None), (0.0, None)):
            found = [one.height for one in self.marks("{picture}", top=top) if isinstance(one, Picture)]
            self.assertEqual(found, [] if height is None else [height])

    def test_without_one_nothing_stands_there_and_titles_cannot_call_for_it(self) -> None:
        self.assertEqual([one for one in self.marks("{picture}", picture="") if isinstance(one, Picture | Rule)], [])
        report = replace(report_of(text("a"), head_left="{title}", picture=self.SIGN), title="\ufffc Silt")
        marks = Drawing(paginate(report, TYPEFACES), TYPEFACES).page(1)
        self.assertEqual([one for one in marks if isinstance(one, Picture)], [])


class Captions(unittest.TestCase):
    """A caption stays with what it names, above or below it."""

    def caption(self, id: str, label: str) -> Paragraph:
        return Paragraph(id, "caption", (Run("What the tide left"),), caption=label)

    def test_above_a_data_table_and_below_one(self) -> None:
        for filling in range(20, 60):
            lines = tuple(text(f"t{n}") for n in range(filling))
            pages = pages_of(*lines, self.caption("c", "table"), grid("g", 4, 0), text("z"))
            self.assertEqual(pages.page_of(filling), pages.page_of(filling + 1), filling)
            pages = pages_of(*lines, grid("g", 4, 0), self.caption("c", "figure"), text("z"))
            last = pages.page_of(filling, 3)
            self.assertEqual(pages.page_of(filling + 1), last, filling)

    def test_where_labels_stand_is_followed(self) -> None:
        labels = {"figure": Label("figure", place="below"), "table": Label("table", "Table", place="above")}
        for filling in range(30, 50):
            blocks = (*(text(f"t{n}") for n in range(filling)), self.caption("c", "table"), grid("g", 2, 0))
            before = replace(report_of(*blocks), labels=labels)
            after = replace(before, labels={**labels, "table": replace(labels["table"], place="below")})
            now = paginate(after, TYPEFACES, paginate(before, TYPEFACES))
            self.assertEqual([*now.starts], [*paginate(after, TYPEFACES).starts])
