"""Data tables whose cells reach over several columns and rows: where they stand, how they are printed and written."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from io import BytesIO
from itertools import pairwise
from unittest import TestCase

import docx
from docx.oxml import OxmlElement
from docx.shared import Pt
from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.walk import Written
from mellowspine.core.kinds.data_table import LEAST_WIDTH, PADDING, SPACE
from mellowspine.core.pages.draw import Drawing, Rule, Words
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report.blocks import Cell, DataTable, Paragraph, Run
from mellowspine.core.report.elements import Element, element_of, read_block
from mellowspine.core.report.grids import grid_of, without_covered_rows
from mellowspine.core.report.report import Report

from .samples import TYPEFACES, paged, text


def cell(words: str, columns: int = 1, rows: int = 1) -> Cell:
    return Cell((Paragraph(f"p{words[:40]}", "cell", (Run(words),)),), columns, rows)


def table(*rows: tuple[Cell, ...], header: int = 0) -> DataTable:
    return DataTable("t", rows, header)


class Places(TestCase):
    def placed(self, *rows: tuple[Cell, ...]) -> dict[str, tuple[int, int, int, int]]:
        return {
            slot.cell.paragraphs[0].text: (slot.row, slot.column, slot.columns, slot.rows)
            for slots in grid_of(rows)
            for slot in slots
        }

    def test_cells_stand_beside_those_that_reach_down_into_their_row(self) -> None:
        found = self.placed((cell("a", 1, 2), cell("b", 2)), (cell("c"), cell("d")), (cell("e"), cell("f", 2)))
        self.assertEqual(
            found,
            {"a": (0, 0, 1, 2), "b": (0, 1, 2, 1), "c": (1, 1, 1, 1), "d": (1, 2, 1, 1), "e": (2, 0, 1, 1), "f": (2, 1, 2, 1)},
        )  # fmt: skip

    def test_no_cell_goes_on_below_the_last_row_or_into_another(self) -> None:
        found = self.placed((cell("a"), cell("b", 1, 9)), (cell("c", 2), cell("d")))
        self.assertEqual(found, {"a": (0, 0, 1, 1), "b": (0, 1, 1, 2), "c": (1, 0, 1, 1), "d": (1, 2, 1, 1)})

    def test_rows_in_which_no_cell_begins_are_left_out(self) -> None:
        rows = without_covered_rows(((cell("a", 1, 3), cell("b", 1, 2)), (), (cell("c"),)))
        self.assertEqual(
            [[(one.paragraphs[0].text, one.rows) for one in row] for row in rows], [[("a", 2), ("b", 1)], [("c", 1)]]
        )


def words_on(pages: Pages) -> dict[str, int]:
    """The page of each word."""
    drawing = Drawing(pages, TYPEFACES)
    found: dict[str, int] = {}
    for page in range(1, len(pages) + 1):
        for mark in drawing.page(page):
            if isinstance(mark, Words) and mark.baseline <= pages.report.page.text_height:
                found |= dict.fromkeys(mark.text.split(), page)
    return found


class Printed(TestCase):
    """The height of rows follows CSS 2.1, 17.5.3, which leaves open where the rest of a taller cell goes: we add it to the last."""

    def test_a_cell_over_two_rows_stands_beside_both_and_makes_the_last_taller(self) -> None:
        pages = paged(table((cell("tall\n" * 6, 1, 2), cell("b")), (cell("c"),)))
        first, second = pages.boxes[0].heights
        line = first - 2 * PADDING - pages.report.styles.role("cell").space_after
        self.assertAlmostEqual(first + second, first + 6 * line, places=3)
        rules = [mark for mark in Drawing(pages, TYPEFACES).page(1) if isinstance(mark, Rule)]
        self.assertEqual(
            [round(rule.height, 3) for rule in rules], [round(one, 3) for one in (first + second, first, second)]
        )
        self.assertEqual(len({rule.x for rule in rules}), 2)

    def test_a_page_ends_within_a_cell_over_rows_only_where_its_words_stand_above(self) -> None:
        above = text("x", 1)
        rows = tuple((cell(f"r{n}"),) for n in range(1, 200))
        pages = paged(above, table((cell("few", 1, 200), cell("r0")), *rows))
        found = words_on(pages)
        self.assertEqual((found["few"], found["r0"]), (1, 1))
        self.assertGreater(found["r199"], 3)
        # On each further page its frame goes on beside the rows.
        frames = [one for one in Drawing(pages, TYPEFACES).page(2) if isinstance(one, Rule)]
        self.assertAlmostEqual(
            max(one.height for one in frames), sum(one.height for one in frames if one.x > 0), places=3
        )
        for gap in range(30, 40):
            many = "\n".join(f"w{n}" for n in range(8))
            pages = paged(
                text("x", gap), table((cell(many, 1, 6), cell("r0")), *((cell(f"r{n}"),) for n in range(1, 6)))
            )
            found = words_on(pages)
            self.assertEqual({found[f"w{n}"] for n in range(8)}, {found["r0"]}, gap)

    def test_rows_that_no_page_holds_together_are_parted_and_no_word_is_lost(self) -> None:
        words = [f"w{n}" for n in range(900)]
        pages = paged(
            table(
                (cell("h"), cell("i")), (cell("\n".join(words), 1, 3), cell("b")), (cell("c"),), (cell("d"),), header=1
            )
        )
        found = words_on(pages)
        self.assertEqual([word for word in found if word.startswith("w")], words)
        self.assertEqual((found["b"], found["d"]), (1, len(pages)))

    @settings(max_examples=60, deadline=None)
    @given(st.data())
    def test_whatever_reaches_over_what_all_words_are_printed_once_and_on_the_sheet(self, data: st.DataObject) -> None:
        count, widths = st.integers(1, 4), st.sampled_from((0.0, 0.0, 1.0, 60.0, 300.0, 5000.0))
        rows, number = [], 0
        for _ in range(data.draw(st.integers(1, 12))):
            row = []
            for _ in range(data.draw(st.integers(1, 4))):
                lines = data.draw(st.sampled_from((1, 1, 2, 9, 60)))
                made = cell("\n".join(f"w{number + n}" for n in range(lines)), data.draw(count), data.draw(count))
                row.append(replace(made, widths=tuple(data.draw(st.lists(widths, max_size=made.columns)))))
                number += lines
            rows.append(tuple(row))
        pages = paged(
            Paragraph("x", runs=(Run("\n" * data.draw(st.integers(0, 40))),)),
            table(*rows, header=data.draw(st.integers(0, 2))),
        )
        drawing, height = Drawing(pages, TYPEFACES), pages.report.page.text_height
        drawn: list[str] = []
        for page in range(1, len(pages) + 1):
            marks = [*drawing.page(page)]
            # A word may be parted where a column is narrow.
            drawn += [mark.text for mark in marks if isinstance(mark, Words) and mark.baseline <= height]
            for mark in marks:
                if isinstance(mark, Rule):
                    self.assertLessEqual(mark.y + mark.height, height + 0.001)
                    self.assertGreaterEqual(mark.y, -0.001)
            frames = sorted(
                (m.y, m.x, m.y + m.height, m.x + m.width) for m in marks if isinstance(m, Rule) and m.height > 0
            )
            for (top, left, bottom, right), (other_top, other_left, _, other_right) in pairwise(frames):
                self.assertFalse(
                    other_top < bottom - 0.01
                    and top < other_top + 0.01
                    and left < other_right - 0.01
                    and other_left < right - 0.01
                )
        printed, written = Counter("".join(drawn)), Counter("".join(f"w{n}" for n in range(number)))
        self.assertGreaterEqual(printed["w"], number)
        if not pages.boxes[1].repeated:
            self.assertEqual(printed, written)


class Widths(TestCase):
    def drawn(self, *rows: tuple[Cell, ...]) -> list[float]:
        """The widths of the cells of the first row, as they are drawn, in points."""
        drawing = Drawing(paged(table(*rows)), TYPEFACES)
        return [
            round(one.width, 2)
            for one in drawing.page(1)
            if isinstance(one, Rule) and one.height > 0 and abs(one.y - SPACE) < 0.01
        ]

    def said(self, words: str, *widths: float, columns: int = 1) -> Cell:
        return replace(cell(words, columns), widths=widths)

    def test_columns_are_as_wide_as_they_say_and_no_wider_than_the_page_together(self) -> None:
        self.assertEqual(self.drawn((self.said("a", 90.0), self.said("b", 60.5))), [90.0, 60.5])
        wide = paged().report.page.text_width
        self.assertEqual(
            self.drawn((self.said("a", 900.0), self.said("b", 300.0))), [round(wide * 0.75, 2), round(wide * 0.25, 2)]
        )

    def test_what_is_said_in_any_row_holds_and_all_else_goes_by_the_words(self) -> None:
        rows = (cell("a", 2), cell("words")), (self.said("b", 100.0), self.said("c", 50.0), cell("d"))
        first, rest = self.drawn(*rows)
        self.assertEqual(first, 150.0)
        self.assertGreater(rest, 50)
        self.assertEqual(self.drawn((self.said("a", 80.0, 40.0, columns=2), self.said("b", 30.0))), [120.0, 30.0])

    def test_a_column_has_room_for_a_letter_whatever_it_says(self) -> None:
        self.assertEqual(self.drawn((self.said("a", 0.5), self.said("b", 100.0))), [LEAST_WIDTH, 100.0])

    def test_they_are_kept_in_the_text_and_odd_ones_count_as_not_said(self) -> None:
        kept = table((self.said("a", 80.0, 0.0, columns=2), cell("b")))
        self.assertEqual(read_block(element_of(kept), "x"), kept)
        for odd in ([], None, "80", [80, "x"], [-1], [6000.0], [1.0] * 64, {"a": 1}):
            with self.subTest(odd=odd):
                paragraph = Element("paragraph", {"id": "p"})
                one = Element("dataCell", {"colwidth": odd}, (paragraph,))
                (row,) = read_block(Element("dataTable", {"id": "t"}, (Element("dataRow", {}, (one,)),)), "x").rows
                self.assertEqual(row[0].widths, ())

    def test_those_of_office_open_xml(self) -> None:
        """ISO/IEC 29500-1, 17.4.48 ("gridCol"): in twentieths of a point."""
        document = docx.Document()
        made = document.add_table(1, 2)
        for column, width in zip(made.columns, (Pt(72), Pt(150)), strict=True):
            column.width = width
        made.cell(0, 0).text, made.cell(0, 1).text = "a", "b"
        data = BytesIO()
        document.save(data)
        (found,) = (block for block in read("a.docx", data.getvalue()).report.blocks if isinstance(block, DataTable))
        self.assertEqual([one.widths for one in found.rows[0]], [(72.0,), (150.0,)])


class InFiles(TestCase):
    TABLE = table((cell("a", 2, 2), cell("b")), (cell("c"),))

    def test_what_it_reaches_over_is_empty_in_markdown_and_plain_text(self) -> None:
        report = Report("r", (self.TABLE,))
        given = Written(report, paginate(report, TYPEFACES), TYPEFACES, {})
        self.assertEqual(WRITERS[".md"].write(given), b"| a |  | b |\n| --- | --- | --- |\n|  |  | c |\n")
        self.assertEqual(WRITERS[".txt"].write(given), b"a\t\tb\n\t\tc\n")

    def test_cells_merged_in_office_open_xml_are_one(self) -> None:
        """ISO/IEC 29500-1, 17.4.17 and 17.4.84, as ``python-docx`` writes it; also a row that others cover whole."""
        document = docx.Document()
        made = document.add_table(4, 3)
        for number, one in enumerate(one for row in made.rows for one in row.cells):
            one.text = str(number)
        made.cell(0, 0).merge(made.cell(1, 1)).text = "both"
        made.cell(2, 0).merge(made.cell(3, 2)).text = "all"
        made.cell(1, 2)._tc.get_or_add_tcPr().append(OxmlElement("w:vMerge"))  # goes on with nothing
        data = BytesIO()
        document.save(data)
        (found,) = (block for block in read("a.docx", data.getvalue()).report.blocks if isinstance(block, DataTable))
        said = [
            [(" ".join(p.text for p in one.paragraphs), one.columns, one.rows) for one in row] for row in found.rows
        ]
        self.assertEqual(said, [[("both", 2, 2), ("2", 1, 1)], [("5", 1, 1)], [("all", 3, 1)]])
