"""Data tables whose cells reach over several columns and rows: where they stand, how they are printed and written."""

from __future__ import annotations

from base64 import b64encode
from collections import Counter
from dataclasses import replace
from io import BytesIO
from itertools import pairwise
from unittest import TestCase

import docx
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.oxml import OxmlElement
from docx.shared import Pt
from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.walk import Written
from mellowspine.core.kinds.data_table import SPACE
from mellowspine.core.pages.columns import LEAST_WIDTH, PADDING
from mellowspine.core.pages.draw import Drawing, Picture, Rule, Words
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report.blocks import ALIGNMENTS, Cell, DataTable, Image, Marks, Paragraph, Run, images
from mellowspine.core.report.elements import Element, element_of, read_block
from mellowspine.core.report.fitting import fitted
from mellowspine.core.report.grids import grid_of, without_covered_rows
from mellowspine.core.report.report import Report

from .samples import TYPEFACES, paged, text
from .test_formats import png


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

    def test_no_word_is_cut_where_all_have_room(self) -> None:
        long = cell("words that go on and on, in one line after the other, until the column is as wide as it can be")
        narrow = Cell((replace(cell("Survival").paragraphs[0], runs=(Run("Survival", Marks(bold=True)),)),))
        found = table((long, long, long, narrow, long, long))
        pages = paged(found)
        words = [one.text for one in Drawing(pages, TYPEFACES).page(1) if isinstance(one, Words)]
        self.assertIn("Survival", words)
        self.assertAlmostEqual(sum(self.drawn(*found.rows)), pages.report.page.text_width, places=0)
        # Where words alone are wider than the page, all columns give way.
        wide = cell("Donaudampfschifffahrtsgesellschaftskapitän")
        self.assertEqual(len({*self.drawn((wide,) * 8)}), 1)

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
        """ISO/IEC 29500-1, 17.4.48 ("gridCol") and 17.4.71 ("tcW"): in twentieths of a point."""
        document = docx.Document()
        made = document.add_table(1, 2)
        for column, width in zip(made.columns, (Pt(72), Pt(150)), strict=True):
            column.width = column.cells[0].width = width
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
        self.assertEqual(
            WRITERS[".md"].write(given).partition(b"\n---\n\n")[2], b"| a |  | b |\n| --- | --- | --- |\n|  |  | c |\n"
        )
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


IMAGE = Image("i", f"{'0' * 32}.png", 90.0, 60.0, "A tide gate", "left")


class PicturesInCells(TestCase):
    def drawn(self, pages: Pages, page: int = 1) -> list[Picture]:
        return [mark for mark in Drawing(pages, TYPEFACES).page(page) if isinstance(mark, Picture)]

    def test_they_stand_in_their_cell_where_they_are_to(self) -> None:
        words = cell("b").blocks
        for align, x in (("left", PADDING), ("center", 100.0 - 45.0), ("right", 200.0 - PADDING - 90.0)):
            with self.subTest(align):
                with_image = Cell((*words, replace(IMAGE, align=align), *cell("c").blocks), widths=(200.0,))
                pages = paged(table((with_image, cell("d"))))
                (image,) = self.drawn(pages)
                lines = [one for one in Drawing(pages, TYPEFACES).page(1) if isinstance(one, Words)]
                self.assertAlmostEqual(image.x, x, places=3)
                self.assertEqual((image.width, image.height), (90.0, 60.0))
                above, below = (one for one in lines if one.text in ("b", "c"))
                self.assertLess(above.baseline, image.y)
                self.assertGreater(below.baseline, image.y + image.height)

    def test_one_that_is_alone_asks_for_its_own_height(self) -> None:
        self.assertEqual(paged(table((Cell((IMAGE,)),))).boxes[0].heights, (60.0 + 2 * PADDING,))

    def test_one_in_a_column_narrower_than_a_letter_is_small_and_stands_upright(self) -> None:
        (image,) = self.drawn(paged(table((Cell((IMAGE,)), *(cell(f"c{at}") for at in range(62))))))
        self.assertGreater(min(image.width, image.height), 0.0)
        self.assertLess(image.width, 10.0)

    def test_a_column_goes_by_its_widest_picture(self) -> None:
        pages = paged(table((Cell((replace(IMAGE, width=180.0),)), cell("a")), (cell("b"), cell("c"))))
        self.assertEqual(self.drawn(pages)[0].width, 180.0)

    @settings(max_examples=60, deadline=None)
    @given(st.data())
    def test_whatever_their_size_each_is_printed_once_and_within_its_cell(self, data: st.DataObject) -> None:
        sides, lines = st.sampled_from((1.0, 30.0, 200.0, 700.0, 5000.0)), st.sampled_from((1, 1, 3, 70))
        rows, count = [], 0
        for _ in range(data.draw(st.integers(1, 6))):
            row = []
            for _ in range(data.draw(st.integers(1, 4))):
                inside: list[Paragraph | Image] = []
                for _ in range(data.draw(st.integers(0, 3))):
                    count += 1
                    inside.append(replace(IMAGE, id=f"i{count}", width=data.draw(sides), height=data.draw(sides), align=data.draw(st.sampled_from(ALIGNMENTS))))  # fmt: skip
                if not inside or data.draw(st.booleans()):
                    inside[data.draw(st.integers(0, len(inside))) :] += cell("\n".join("w" * data.draw(lines))).blocks
                row.append(Cell(tuple(inside), data.draw(st.integers(1, 3)), data.draw(st.integers(1, 3))))
            rows.append(tuple(row))
        above = Paragraph("x", runs=(Run("\n" * data.draw(st.integers(0, 40))),))
        pages = paged(above, table(*rows, header=data.draw(st.integers(0, 2))))
        drawing, high = Drawing(pages, TYPEFACES), pages.report.page.text_height
        found = 0
        for page in range(1, len(pages) + 1):
            marks = [*drawing.page(page)]
            frames = [mark for mark in marks if isinstance(mark, Rule) and mark.height]
            for mark in marks:
                if isinstance(mark, Picture):
                    found += 1
                    [frame] = [
                        one
                        for one in frames
                        if one.x <= mark.x + mark.width / 2 < one.x + one.width and one.y <= mark.y < one.y + one.height
                    ]  # of its cell
                    self.assertGreaterEqual(mark.x, frame.x + PADDING - 0.001)
                    self.assertLessEqual(mark.x + mark.width, frame.x + frame.width - PADDING + 0.001)
                    self.assertGreaterEqual(mark.y, frame.y + PADDING - 0.001)
                    self.assertLessEqual(mark.y + mark.height, min(frame.y + frame.height, high) + 0.001)
                    self.assertGreater(min(mark.width, mark.height), 0.0)
        self.assertEqual(found, count) if not pages.boxes[1].repeated else self.assertGreaterEqual(found, count)

    def test_they_are_kept_in_the_text(self) -> None:
        grid = table((Cell((IMAGE, *cell("b").blocks)), Cell((replace(IMAGE, id="j"),))))
        self.assertEqual(read_block(element_of(grid), "x"), grid)

    def test_they_come_with_office_open_xml_at_the_side_of_their_paragraph(self) -> None:
        """ISO/IEC 29500-1, 17.3.1.13 ("jc"); a cell that holds nothing else has no empty line."""
        document = docx.Document()
        made = document.add_table(1, 2)
        for at, align in enumerate((WD_ALIGN_PARAGRAPH.RIGHT, None)):
            paragraph = made.cell(0, at).paragraphs[0]
            paragraph.alignment = align
            paragraph.add_run().add_picture(BytesIO(png()), Pt(60), Pt(40))
        made.cell(0, 1).paragraphs[0].add_run("behind it")
        data = BytesIO()
        document.save(data)
        come = read("a.docx", data.getvalue())
        (found,) = (block for block in come.report.blocks if isinstance(block, DataTable))
        first, second = found.rows[0]
        self.assertEqual([(type(one), one.align) for one in first.blocks], [(Image, "right")])
        self.assertEqual([type(one) for one in second.blocks], [Image, Paragraph])
        image = second.images[0]
        self.assertEqual((image.width, image.height, image.align), (60.0, 40.0, "left"))
        self.assertEqual(([*come.notes][1:], {*come.pictures}), ([], {image.source}))  # but for the typeface

    def test_they_go_out_and_come_back(self) -> None:
        source = read("a.html", f'<img src="data:image/png;base64,{b64encode(png()).decode()}">'.encode()).report.blocks
        (image,) = images(source)
        for align in ("left", "center", "right"):
            grid = table((cell("Gate"), Cell((*cell("b").blocks, replace(IMAGE, source=image.source, align=align)))))
            report = Report("r", (grid, Paragraph("x")))
            given = Written(report, paginate(report, TYPEFACES), TYPEFACES, {image.source: png()})
            for ending in (".html", ".md"):
                with self.subTest(ending, align=align):
                    back = read(f"a{ending}", WRITERS[ending].write(given))
                    (found,) = (one for one in back.report.blocks if isinstance(one, DataTable))
                    (shown,) = found.rows[0][1].images
                    self.assertEqual((shown.alt, shown.source, *back.notes), ("A tide gate", image.source))
                    self.assertEqual([one.text for one in found.rows[0][1].paragraphs], ["b"])
                    if ending == ".html":
                        self.assertEqual((shown.align, shown.width, shown.height), (align, 90.0, 60.0))
            self.assertIn(b"Gate\tb [A tide gate]", WRITERS[".txt"].write(given))

    def test_one_in_front_of_the_words_of_a_web_page_stands_above_them(self) -> None:
        picture = f'<img src="data:image/png;base64,{b64encode(png()).decode()}">'
        for words, kinds in (
            (f"{picture}<br>Weir", [Image, Paragraph]),
            (f"Weir<br>{picture}", [Paragraph, Image]),
            (f"the {picture} weir", [Paragraph, Image]),
        ):
            with self.subTest(words):
                page = f"<table><tr><td>{words}</td><td>b</td></tr></table><p>{words}</p>"
                grid, *others = read("a.html", page.encode()).report.blocks
                for found in (grid.rows[0][0].blocks, others):
                    self.assertEqual([type(one) for one in found], kinds)
                    (said,) = (one.text for one in found if isinstance(one, Paragraph))
                    self.assertEqual(said, "the weir" if "the" in words else "Weir")

    def test_another_report_has_them_under_names_of_their_own(self) -> None:
        made = fitted(Report("r", (table((Cell((IMAGE,)),)),)), Report("s", ()), iter("mnopq").__next__)
        (image,) = images(made.blocks)
        self.assertEqual((image.source, image.id in "mnopq", image.id != made.blocks[0].id), (IMAGE.source, True, True))
