"""What is behind and around paragraphs and cells, and the space between neighbours."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.pages.draw import Drawing, Mark, Rule, Words
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report.blocks import Cell, DataTable, Paragraph, Run, ThematicBreak
from mellowspine.core.report.borders import FORM, LINE_KINDS, SIDES, Border, borders_as_text, borders_of
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles

from .samples import TYPEFACES

GREEN, INK = "#e4f2ee", "#000000"
BOX = "top 1 #000000, right 1 #000000, bottom 1 #000000, left 1 #000000"
ROOM = 1.0 + 3.0
"""Points of a line of one point, and what is free beside it."""


def said(id: str, words: str = "Tide", **settings: Any) -> Paragraph:
    return Paragraph(id, runs=(Run(words),), **settings)


def set_on(*blocks: Any, page: PageSetup | None = None, **of_body: Any) -> Pages:
    body = replace(default_styles()["body"], space_before=0.0, space_after=8.0, **of_body)
    report = Report("r", blocks, StyleSheet({**default_styles(), "body": body}.values()))
    return paginate(replace(report, page=page or PageSetup(foot_middle="")), TYPEFACES)


def drawn(pages: Pages, number: int = 1) -> list[Mark]:
    return [*Drawing(pages, TYPEFACES).page(number)]


def rules(pages: Pages, number: int = 1) -> list[Rule]:
    return [mark for mark in drawn(pages, number) if isinstance(mark, Rule)]


def colours(pages: Pages, number: int = 1) -> list[tuple[float, float, float, float]]:
    return [
        (round(r.x, 2), round(r.y, 2), round(r.width, 2), round(r.height, 2)) for r in rules(pages, number) if r.fill
    ]


def baselines(pages: Pages, number: int = 1) -> list[float]:
    return [round(mark.baseline, 2) for mark in drawn(pages, number) if isinstance(mark, Words)]


LINE = 11.0 * 1.4


class Kept(TestCase):
    @given(
        st.lists(
            st.builds(Border, st.sampled_from(SIDES), st.floats(0.1, 20), st.sampled_from([INK, GREEN]), st.sampled_from(LINE_KINDS)),
            max_size=6,
        )
    )  # fmt: skip
    def test_lines_are_kept_as_they_are_read(self, borders: list[Border]) -> None:
        kept = borders_as_text(borders)
        self.assertTrue(FORM.fullmatch(kept), kept)
        self.assertEqual(borders_as_text(borders_of(kept)), kept)
        self.assertEqual({one.side for one in borders_of(kept)}, {one.side for one in borders})

    def test_what_is_no_line(self) -> None:
        for text in (
            "",
            "top",
            "top 0 #000000",
            "top 1 red",
            "top 1 #000000 wavy",
            "top 1 #000000,left 1 #000000",
            "top 100 #000000",
        ):
            self.assertIsNone(FORM.fullmatch(text), text)


class Paragraphs(TestCase):
    def test_a_colour_is_as_wide_as_the_lines_may_be(self) -> None:
        page = PageSetup(foot_middle="")
        pages = set_on(said("a", background=GREEN, indent=20.0, right_indent=30.0), page=page)
        self.assertEqual(colours(pages), [(20.0, 0.0, round(page.column_width - 50.0, 2), round(LINE, 2))])

    def test_lines_stand_outside_the_words_and_take_room_above_and_below(self) -> None:
        """ISO/IEC 29500-1, 17.3.1.24: words stay where they are without lines, across."""
        plain, boxed = set_on(said("a"), said("b"), said("c")), set_on(said("a"), said("b", borders=BOX), said("c"))
        self.assertEqual([mark.x for mark in drawn(boxed) if isinstance(mark, Words)], [0.0, 0.0, 0.0])
        first, second, third = baselines(plain)
        for found, wanted in zip(baselines(boxed), (first, second + ROOM, third + 2 * ROOM), strict=True):
            self.assertAlmostEqual(found, wanted, 1)
        top, right, bottom, left = sorted(rules(boxed), key=lambda one: (one.height > 0, one.y, one.x))[:2] + sorted(
            (one for one in rules(boxed) if one.height), key=lambda one: one.x
        )  # fmt: skip
        above = LINE + 8.0
        self.assertAlmostEqual(top.y, above + 0.5)
        self.assertAlmostEqual(right.y, above + LINE + 2 * ROOM - 0.5)  # the lower of the two across
        self.assertAlmostEqual(bottom.x, -ROOM + 0.5)
        self.assertAlmostEqual(left.x, boxed.report.page.column_width + ROOM - 0.5)

    def test_neighbours_with_the_same_lines_stand_in_one_box(self) -> None:
        pages = set_on(said("a", borders=BOX, background=GREEN), said("b", borders=BOX, background=GREEN), said("c"))
        across = [one for one in rules(pages) if not one.height]
        self.assertEqual(len(across), 2)  # above the first and below the second
        (_, first, _, one), (_, second, _, other) = colours(pages)
        self.assertLessEqual(second, first + one)  # no gap between them
        self.assertAlmostEqual(second + other, ROOM + 2 * LINE + 8.0 + ROOM, 1)

    def test_neighbours_with_other_lines_do_not(self) -> None:
        pages = set_on(
            said("a", borders=BOX), said("b", borders=BOX.replace("1 ", "2 ")), said("c", borders=BOX, indent=9.0)
        )
        self.assertEqual(len([one for one in rules(pages) if not one.height]), 6)

    def test_one_that_goes_on_on_the_next_page_has_no_line_there(self) -> None:
        words = "\n".join("Tide" for _ in range(60))
        pages = set_on(said("a", words, borders=BOX), page=PageSetup(height=600.0, foot_middle=""))
        self.assertGreater(len(pages), 1)
        self.assertEqual([len([one for one in rules(pages, page) if not one.height]) for page in range(1, len(pages) + 1)],
                         [1, *[0] * (len(pages) - 2), 1])  # fmt: skip

    def test_what_a_paragraph_says_goes_before_its_style(self) -> None:
        pages = set_on(said("a"), said("b", background="none", borders="none"), background=GREEN, borders=BOX)
        self.assertEqual(len(colours(pages)), 1)
        self.assertEqual(len([one for one in rules(pages) if not one.fill]), 4)

    def test_kinds_of_line(self) -> None:
        pages = set_on(said("a", borders="top 3 #000000 double, bottom 2 #ff0000 dashed, left 1 #000000 dotted"))
        self.assertEqual(
            sorted((round(one.weight, 2), one.dash, one.colour) for one in rules(pages)),
            [(1.0, 0.0, INK), (1.0, 0.0, INK), (1.0, 1.0, INK), (2.0, 6.0, "#ff0000")],
        )

    def test_paragraphs_of_a_style_close_to_each_other(self) -> None:
        """ISO/IEC 29500-1, 17.3.1.9."""
        other = said("c", style="quotation")
        pages = set_on(said("a"), said("b"), other, contextual_spacing=True)
        first, second, third = baselines(pages)
        self.assertAlmostEqual(second - first, LINE, 1)
        self.assertGreater(third - second, LINE + 7.0)
        apart = set_on(said("a"), said("b", contextual_spacing=False), contextual_spacing=True)
        self.assertAlmostEqual(baselines(apart)[1] - baselines(apart)[0], LINE + 8.0, 1)

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.builds(
                said, st.just(""), st.sampled_from(["Tide", "\n".join(["Tide"] * 30)]), background=st.sampled_from([None, GREEN]),
                borders=st.sampled_from([None, BOX, "top 20 #000000"]), contextual_spacing=st.sampled_from([None, True]),
            ),
            min_size=1, max_size=12,
        )
    )  # fmt: skip
    def test_no_word_stands_on_a_line_nor_on_another_word(self, paragraphs: list[Paragraph]) -> None:
        blocks = [replace(one, id=f"p{at}") for at, one in enumerate(paragraphs)]
        pages = set_on(*blocks, page=PageSetup(height=700.0, foot_middle=""))
        for number in range(1, len(pages) + 1):
            marks = drawn(pages, number)
            lines = [mark.baseline for mark in marks if isinstance(mark, Words)]
            self.assertEqual(lines, sorted(lines))
            for one, next in pairwise(lines):
                self.assertGreater(next - one, LINE - 0.01)
            for rule in marks:
                if isinstance(rule, Rule) and not rule.height and not rule.fill:
                    for line in lines:  # from the top of capitals to the baseline
                        self.assertFalse(line - 8.0 < rule.y < line, (rule, line))


class Cells(TestCase):
    def table(self, *cells: Cell, **settings: Any) -> DataTable:
        return DataTable("t", (cells,), **settings)

    def cell(self, words: str = "Tide", **look: Any) -> Cell:
        return Cell((Paragraph(f"c{words}", "cell", (Run(words),)),), **look)

    def test_colour_lines_and_room(self) -> None:
        pages = set_on(
            self.table(
                self.cell(background=GREEN, borders="left 2 #ff0000", padding=(10.0, 1.0, 6.0, 20.0), widths=(100.0,))
            )
        )
        (fill, line), [words] = rules(pages), [mark for mark in drawn(pages) if isinstance(mark, Words)]
        height = 9.5 * 1.25 + 2.0 + 16.0
        self.assertEqual((fill.x, fill.width, round(fill.height, 3), fill.fill), (0.0, 100.0, round(height, 3), GREEN))
        self.assertEqual((line.x, line.weight, line.colour, line.width), (0.0, 2.0, "#ff0000", 0.0))
        self.assertEqual(words.x, 20.0)

    def test_words_in_the_middle_and_at_the_foot_of_a_row_of_some_height(self) -> None:
        cells = [
            self.cell(words, vertical=place, height=100.0)
            for words, place in (("a", None), ("b", "middle"), ("c", "bottom"))
        ]
        top, middle, bottom = baselines(set_on(self.table(*cells)))
        free = 100.0 - 8.0 - (9.5 * 1.25 + 2.0)
        self.assertAlmostEqual(middle - top, free / 2, 1)
        self.assertAlmostEqual(bottom - top, free, 1)

    def test_where_a_narrow_table_stands(self) -> None:
        column = PageSetup().column_width
        for place, left in (
            ({}, 0.0),
            ({"indent": -12.0}, -12.0),
            ({"align": "center"}, (column - 100.0) / 2),
            ({"align": "right"}, column - 100.0),
        ):
            pages = set_on(self.table(self.cell(widths=(100.0,)), **place))
            self.assertAlmostEqual(rules(pages)[0].x, left)

    def test_a_row_higher_than_a_page_is_parted_whatever_its_room(self) -> None:
        words = "\n".join("Tide" for _ in range(200))
        pages = set_on(self.table(self.cell(words, padding=(50.0, 0.0, 50.0, 0.0), vertical="bottom")))
        self.assertGreater(len(pages), 2)
        self.assertEqual(sum(len(baselines(pages, page)) for page in range(1, len(pages) + 1)), 200)

    def test_a_row_that_is_to_be_higher_than_a_page(self) -> None:
        pages = set_on(self.table(self.cell(height=2000.0), self.cell("b", height=2000.0, vertical="bottom")))
        self.assertEqual(sum(len(baselines(pages, page)) for page in range(1, len(pages) + 1)), 2)

    def test_frames_and_close_paragraphs_within_a_cell(self) -> None:
        inside = tuple(
            Paragraph(f"i{at}", "cell", (Run("Tide"),), contextual_spacing=True, borders=BOX) for at in range(2)
        )
        pages = set_on(self.table(Cell(inside)))
        first, second = baselines(pages)
        self.assertAlmostEqual(second - first, 9.5 * 1.25 + 2 * ROOM, 1)


class Breaks(TestCase):
    def test_a_thematic_break_is_a_line_across_the_column(self) -> None:
        pages = set_on(said("a"), ThematicBreak("h"), said("b"))
        [line] = rules(pages)
        self.assertEqual((line.x, line.width, line.height), (0.0, pages.report.page.column_width, 0.0))
        first, second = baselines(pages)
        self.assertTrue(first < line.y < second)
