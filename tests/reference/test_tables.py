"""Where a table's words, numbers and leaders stand: read from our PDF by ``pypdfium2``, against the recipe.

Page numbers of tables of several lengths at the front: against the pages on which ``pypdf`` and ``pypdfium2`` find the headings.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from io import BytesIO
from itertools import groupby, takewhile
from typing import Any, NamedTuple
from unittest import TestCase

import pypdf
import pypdfium2

from mellowspine.core.formats import pdf, walk
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Marks, PageBreak, Paragraph, PlacedTable, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.recipes import Recipe, changed
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued
from mellowspine.core.tables.forms import formed, forms_for
from mellowspine.core.tables.setting import COLUMN_GAP
from mellowspine.core.tables.settle import settle_all

TYPEFACES = Typefaces()
LONG = "The order in which the gates of the harbour are shut when the wind stands in the north and the tide is high"


class Character(NamedTuple):
    """``left`` and ``right`` in points from the left edge of the text; ``y`` is that of its line's foot on the sheet."""

    text: str
    left: float
    right: float
    y: float


def report_of(settings: Mapping[tuple[str, ...], Any], sections: int = 12, words: str = "") -> Report:
    """A report with its table on the first pages, and headings of three levels, some of them long."""
    blocks = [PlacedTable("t", "t", own_page=True)]
    for number in range(sections):
        level = (1, 2, 2, 3)[number % 4]
        text = LONG if number % 4 == 2 else words or f"Water and works, {number}"
        blocks.append(Paragraph(f"h{number}", f"heading-{level}", (Run(text),)))
        blocks.append(Paragraph(f"p{number}", "body", (Run("The pool was filled by the tide. " * 12),)))
    report = Report(
        "r", tuple(blocks), numbering=SCHEMES["decimal"], tables={"t": Issued(changed(Recipe(title=""), settings))}
    )
    return settle_all(report, TYPEFACES)[0]


def written(report: Report) -> bytes:
    report, pages = settle_all(report, TYPEFACES)
    return pdf.write(walk.Written(report, pages, TYPEFACES, {}))


def rows(report: Report, page: int = 0) -> list[list[Character]]:
    """The characters on a page, row by row as they stand in the file."""
    text = pypdfium2.PdfDocument(written(report))[page].get_textpage()
    found = []
    for index in range(text.count_chars()):
        character = text.get_text_range(index, 1)
        if character.strip():
            left, bottom, right, _ = text.get_charbox(index, loose=True)
            found.append(Character(character, left - report.page.left, right - report.page.left, round(bottom, 1)))
    ordered = sorted(found[:-1], key=lambda one: (-one.y, one.left))  # the last is the page's own number
    return [[*row] for _, row in groupby(ordered, key=lambda one: one.y)]


def lines_of(report: Report) -> Iterator[list[Character]]:
    """The last row of every line: those that end with a page number."""
    for row in rows(report):
        if row[-1].text.isdigit() and row[-1].right > report.page.text_width - 20:
            yield row


class AtTheEdge(TestCase):
    def setUp(self) -> None:
        self.report = report_of({("leader_step",): 5.0, ("looks", "1", "size"): 13.0})
        self.lines = self.report.tables["t"].lines

    def test_every_page_number_ends_at_the_right_edge(self) -> None:
        found = list(lines_of(self.report))
        self.assertEqual(len(found), len(self.lines))
        for row in found:
            self.assertAlmostEqual(row[-1].right, self.report.page.text_width, delta=0.5)

    def test_leader_dots_stand_in_the_same_columns_in_all_lines_whatever_their_size(self) -> None:
        places = []
        for row in lines_of(self.report):
            dots = [(one.left + one.right) / 2 for one in row if one.text == "."][-8:]
            self.assertEqual(len(dots), 8)
            places.extend((self.report.page.text_width - dot) / 5.0 for dot in dots)
        for place in places:
            self.assertAlmostEqual(place, round(place), delta=0.02)

    def test_words_keep_clear_of_the_page_numbers(self) -> None:
        for row in rows(self.report):
            words = [one for one in row if one.text.isalpha()]
            self.assertLess(max((one.right for one in words), default=0), self.report.page.text_width - 24)

    def test_each_level_is_indented_as_the_recipe_says(self) -> None:
        for line, row in zip(self.lines, first_rows(self.report), strict=True):
            self.assertAlmostEqual(row[0].left, {1: 0.0, 2: 16.0, 3: 32.0}[line.level], delta=0.1)


def first_rows(report: Report) -> list[list[Character]]:
    """The row that begins each line: with its heading number."""
    numbers = {line.number for line in report.tables["t"].lines}
    return [row for row in rows(report) if _leading(row) in numbers]


def _leading(row: list[Character]) -> str:
    found = ""
    for one in row:
        if not (one.text.isdigit() or one.text == "."):
            break
        found += one.text
    return found


class OtherSettings(TestCase):
    def test_wrapped_rows_hang(self) -> None:
        report = report_of({("looks", "2", "hang"): 20.0, ("looks", "2", "indent"): 30.0, ("looks", "2", "size"): 14.0})
        wrapped = [row for row in rows(report) if row[0].text.islower()]
        self.assertTrue(wrapped)
        for row in wrapped:
            self.assertAlmostEqual(row[0].left, 50.0, delta=0.2)

    def test_numbers_in_the_margin_stand_at_the_left_edge_and_all_words_in_one_column(self) -> None:
        report = report_of({("numbers",): "margin", **{("looks", str(n), "indent"): 0.0 for n in range(1, 10)}})
        begins = []
        for row in first_rows(report):
            self.assertAlmostEqual(row[0].left, 0.0, delta=0.1)
            begins.append(next(one.left for one in row if one.text.isalpha()))
        self.assertAlmostEqual(min(begins), max(begins), delta=0.1)

    def test_numbers_behind_the_words_follow_them_closely(self) -> None:
        report = report_of({("page_numbers",): "words", ("leader",): ""}, words="Water")
        for row in first_rows(report):
            if row[-1].right < 150:
                self.assertLess(row[-1].left - row[-2].right, 8.0)
                self.assertTrue(row[-1].text.isdigit())

    def test_without_page_numbers_every_line_is_a_link_all_the_same(self) -> None:
        report = report_of({("page_numbers",): "none"})
        page = pypdf.PdfReader(BytesIO(written(report))).pages[0]
        self.assertEqual(len(page["/Annots"]), len(report.tables["t"].lines))

    def test_without_links_there_are_none(self) -> None:
        report = report_of({("links",): False})
        self.assertNotIn("/Annots", pypdf.PdfReader(BytesIO(written(report))).pages[0])

    def test_two_columns_are_read_down_the_left_and_on_in_the_right(self) -> None:
        report = report_of({("columns",): 2, ("looks", "1", "space_before"): 1.0}, 40)
        width = (report.page.text_width - COLUMN_GAP) / 2
        found = first_in_columns(report, width)
        self.assertEqual(found, [line.number for line in report.tables["t"].lines])
        for row in rows(report):
            between = [one for one in row if one.left < width - 0.5 and one.right > width + 0.5]
            self.assertEqual(between, [])

    def test_capitals_and_emphasis_are_set(self) -> None:
        report = report_of({("looks", "1", "capitals"): True}, 4)
        heading = Paragraph("h1", "heading-2", (Run("On "), Run("Tides", Marks(italic=True)), Run(" and walls")))
        blocks = tuple(heading if block.id == "h1" else block for block in report.blocks)
        text = pypdfium2.PdfDocument(written(replace(report, blocks=blocks)))[0].get_textpage().get_text_bounded()
        self.assertIn("WATER AND WORKS", text)
        reader = pypdf.PdfReader(BytesIO(written(replace(report, blocks=blocks))))
        self.assertIn(
            "Carlito-Italic",
            str(reader.pages[0]["/Resources"]["/Font"].get_object()).replace("#20", " ") + fonts(reader),
        )

    def test_every_form_prints_every_line(self) -> None:
        for form in forms_for("contents"):
            with self.subTest(form.key):
                report = report_of({})
                table = report.tables["t"]
                report = replace(report, tables={"t": replace(table, recipe=formed(table.recipe, form))})
                report, _ = settle_all(report, TYPEFACES)
                text = pypdfium2.PdfDocument(written(report))[0].get_textpage().get_text_bounded()
                squeezed = "".join(text.split()).casefold()
                lines = report.tables["t"].lines
                self.assertTrue(lines)
                for line in lines:
                    self.assertIn("".join(line.text.split()).casefold(), squeezed)


def fonts(reader: pypdf.PdfReader) -> str:
    return " ".join(str(font.get_object()["/BaseFont"]) for font in reader.pages[0]["/Resources"]["/Font"].values())


def first_in_columns(report: Report, width: float) -> list[str]:
    """The heading numbers as they are read: down the left column, then down the right one."""
    columns: list[list[str]] = [[], []]
    for row in rows(report):
        for side, part in enumerate(
            ([one for one in row if one.left < width], [one for one in row if one.left >= width + COLUMN_GAP - 1])
        ):
            number = _leading(part)
            if part and number and part[len(number) :] and part[len(number)].text.isalpha():
                columns[side].append(number)
    return [*columns[0], *columns[1]]


class AtTheFront(TestCase):
    def test_the_pages_that_a_table_takes_up_itself_are_counted_in_its_numbers(self) -> None:
        """Pages are found by the labels that the file gives them (ISO 32000-1, 12.4.2), arabic, or roman in front of the body."""
        for sections, wanted in ((20, 1), (50, 2), (135, 5)):
            for front in ("counted", "roman"):
                with self.subTest(pages=wanted, front=front):
                    report = report_of({}, sections)
                    foreword = (
                        Paragraph("f", "heading-1", (Run("Foreword"),), number="none"),
                        Paragraph("g", "body", (Run("It is kept short. " * 400),)),
                        Paragraph("s", "heading-2", (Run("Who is thanked"),)),
                    )
                    blocks = (*foreword, *report.blocks, PageBreak("end"))
                    report = replace(report, blocks=blocks, page=PageSetup(front=front))
                    data = written(report)
                    report, pages = settle_all(report, TYPEFACES)
                    self.assertEqual(pages.page_of(4) - pages.page_of(3), wanted)
                    reader = pypdf.PdfReader(BytesIO(data))
                    document = pypdfium2.PdfDocument(data)
                    files = [
                        (reader.page_labels, ["".join(page.extract_text().split()) for page in reader.pages]),
                        (
                            [document.get_page_label(page) for page in range(len(document))],
                            ["".join(page.get_textpage().get_text_bounded().split()) for page in document],
                        ),
                    ]
                    lines = report.tables["t"].lines
                    first = [line.pages[0] for line in lines][:3]
                    self.assertEqual(first, ["i", "ii", "1"] if front == "roman" else ["1", "2", str(3 + wanted)])
                    for line in lines:
                        words = "".join(f"{line.number}{line.text}".split())
                        for labels, read in files:
                            self.assertIn(words, read[labels.index(line.pages[0])])

    def test_roman_numerals_end_at_the_right_edge_and_the_words_keep_clear_of_them(self) -> None:
        report = report_of({("levels",): (1, 2)}, 8)
        front = [PageBreak(f"b{number}") for number in range(37)]
        # All of these are on page xxxviii; one of them leaves hardly any room in its row.
        words = ["gate " * 17 + "t" * number for number in range(12)]
        front += [Paragraph(f"f{number}", "heading-2", (Run(one),)) for number, one in enumerate(words)]
        report = replace(report, blocks=(*front, *report.blocks), page=PageSetup(front="roman"))
        report, pages = settle_all(report, TYPEFACES)
        at = pages.page_of(len(front)) - 1
        edge = report.page.text_width / 2 + 50  # the pages' own numbers stand in the middle
        found = [row for row in rows(report, at) if row[-1].text in "ivxl"]
        found = [row for row in found if row[-1].right > edge]
        self.assertEqual(["".join(one.text for one in row)[-7:] for row in found], ["xxxviii"] * 12)
        for row in found:
            self.assertAlmostEqual(row[-1].right, report.page.text_width, delta=0.5)
            label = [*takewhile(lambda one: one.text in "ivxl", reversed(row))]
            words = [one for one in row[: -len(label)] if one.text != "."]
            if words:
                self.assertGreater(label[-1].left - words[-1].right, 5)


class WaysBack(TestCase):
    def test_every_section_of_a_level_ends_in_a_link_to_the_contents(self) -> None:
        report = replace(report_of({}), page=PageSetup(back_level=1, back_says="Up to the list"))
        reader = pypdf.PdfReader(BytesIO(written(report)))
        words = [page.extract_text().count("Up to the list") for page in reader.pages]
        self.assertEqual(sum(words), 3)
        front = reader.pages[0].indirect_reference.idnum
        for page, count in list(zip(reader.pages, words, strict=True))[1:]:
            back = [one.get_object()["/Dest"][0].idnum for one in page.get("/Annots", [])]
            self.assertEqual(back, [front] * count)
