"""Pagination as a whole, against ``weasyprint``: the same reports with the same fonts and page box, through CSS.

What it follows: CSS Fragmentation 3 (breaks between and within blocks, orphans and widows), CSS 2.1, 8.3.1 (collapsing
margins), CSS Text 3 (line breaks). It knows nothing of our pages.
"""

from __future__ import annotations

from dataclasses import replace
from random import Random
from unittest import TestCase

from demo.load import QUILLMERE, demonstration, with_contents_alone
from demo.manual import manual
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block, Cell, DataTable, Image, PageBreak, Paragraph, Run
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles
from mellowspine.core.tables.settle import with_contents

from .html_pages import pages_of_anchors, render

WORDS = "the tide gate keeper writes down when water rises, and every hinge post; fifty-two Tables (of 3.5 m) “so” it’s AV To. We"


class AgainstCss(TestCase):
    def compare(self, report: Report, pages: Pages) -> None:
        document = render(pages.report)
        theirs = pages_of_anchors(document)
        ours = {block.id: pages.page_of(index) for index, block in enumerate(report.blocks) if block.id in theirs}
        self.assertGreater(len(ours), 50)
        self.assertEqual(ours, {id: theirs[id] for id in ours})
        self.assertEqual(len(pages), len(document.pages))

    def test_every_block_of_the_demonstration_begins_on_the_same_page(self) -> None:
        reports: dict[str, Report] = {title: imported.report for title, imported in demonstration()}
        # The tables at its end are left out: what renders reports by CSS here knows tables of one kind.
        reports[QUILLMERE] = with_contents_alone().report
        reports["Tide Gate Manual"] = manual(40)  # the same kinds of page over and over; 300 of them take a minute
        for title, source in reports.items():
            with self.subTest(title):
                self.compare(*with_contents(source, Typefaces()))

    def test_blocks_in_any_order_begin_on_the_same_page(self) -> None:
        """Of thirty such reports one differs, by a word in a data table that just fits here and just not there. Pictures
        are low here: of several in a row, which no page holds with the heading above them, we keep the first with the
        heading and CSS keeps none."""
        for seed in range(6):
            with self.subTest(seed=seed):
                report = Report("r", tuple(any_block(Random(f"{seed}/{index}"), f"b{index}") for index in range(70)))
                self.compare(report, paginate(report, Typefaces()))

    def test_however_many_lines_stay_together(self) -> None:
        """CSS Fragmentation 3, 3.2 (``break-inside: avoid``) and 3.3 (``orphans``, ``widows``)."""
        otherwise = 0
        for seed in range(8):
            with self.subTest(seed=seed):
                random = Random(seed)
                styles = StyleSheet(
                    style if style.outline_level else
                    replace(style, orphans=random.randint(1, 6), widows=random.randint(1, 6), keep_together=random.random() < 0.3)
                    for style in default_styles().values()
                )  # fmt: skip
                blocks = tuple(any_block(Random(f"{seed}/{index}"), f"b{index}") for index in range(100, 170))
                report = Report("r", blocks, styles)
                pages = paginate(report, Typefaces())
                self.compare(report, pages)
                otherwise += pages.starts != paginate(Report("r", blocks), Typefaces()).starts
        self.assertGreater(otherwise, 3)


def any_block(random: Random, id: str) -> Block:
    def words(*counts: int) -> tuple[Run]:
        return (Run(" ".join(random.choices(WORDS.split(), k=random.choice(counts)))),)

    match random.choices(("heading", "text", "picture", "grid", "break", "empty"), (25, 50, 8, 12, 2, 3))[0]:
        case "heading":
            return Paragraph(id, f"heading-{random.choice((1, 2, 2, 3, 3, 4))}", words(1, 4, 20))
        case "text":
            return Paragraph(
                id,
                random.choice(("body", "body", "bullet-1", "item-2", "quotation", "caption", "code")),
                words(1, 5, 12, 30, 60, 120, 250),
                random.choice((None, None, "justify", "right", "center")),
                random.choice((None, None, None, 24.0)),
                random.choice((None, None, 0.0, 30.0)),
                random.choice((None, None, None, 1.0, 2.0)),
            )
        case "picture":
            return Image(id, "", random.choice((100.0, 300.0)), random.choice((40.0, 120.0, 200.0)))
        case "grid":
            rows, columns = random.choice((1, 2, 4, 12, 40)), random.choice((1, 2, 3, 5))
            cells = [
                tuple(Cell((Paragraph(f"{id}-{row}-{at}", "cell", words(1, 2, 6, 15)),)) for at in range(columns))
                for row in range(rows)
            ]
            header = min(random.choice((0, 1, 1, 2)), rows - 1)
            if rows - header > 3 and columns > 1 and random.random() < 0.5:
                # A cell over three rows of the body, and one over two of these and two columns.
                first, second, third = cells[header : header + 3]
                cells[header] = (replace(first[0], rows=3), *first[1:])
                cells[header + 1], cells[header + 2] = second[1:], third[1:]
            return DataTable(id, tuple(cells), header)
        case "break":
            return PageBreak(id)
        case _:
            return Paragraph(id)
