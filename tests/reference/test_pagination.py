"""Pagination as a whole, against ``weasyprint``: the same reports with the same fonts and page box, through CSS.

What it follows: CSS Fragmentation 3 (breaks between and within blocks, orphans and widows), CSS 2.1, 8.3.1 (collapsing
margins), CSS Text 3 (line breaks). It knows nothing of our pages.
"""

from __future__ import annotations

from unittest import TestCase

from demo.load import demonstration
from demo.manual import manual
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.report import Report
from mellowspine.core.tables.contents import with_contents

from .html_pages import pages_of_anchors, render


class AgainstCss(TestCase):
    def test_every_block_begins_on_the_same_page(self) -> None:
        reports: dict[str, Report] = {title: imported.report for title, imported in demonstration()}
        reports["Tide Gate Manual"] = manual(40)  # the same kinds of page over and over; 300 of them take a minute
        for title, source in reports.items():
            with self.subTest(title):
                report, pages = with_contents(source, Typefaces())
                document = render(report)
                theirs = pages_of_anchors(document)
                ours = {
                    block.id: pages.page_of(index) for index, block in enumerate(report.blocks) if block.id in theirs
                }
                self.assertGreater(len(ours), 100)
                self.assertEqual(ours, {id: theirs[id] for id in ours})
                self.assertEqual(len(pages), len(document.pages))
