"""What a file will not have as the report has it is said before it is written: each kind where there is some, and nothing else."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import mellowspine.core.kinds  # noqa: F401  (makes the kinds of block known)
from mellowspine.core.formats.chosen import chosen
from mellowspine.core.formats.told import OF_FORMATS, told
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Cell,
    DataTable,
    Image,
    Marks,
    Paragraph,
    PartStart,
    PlacedTable,
    Reference,
    Run,
)
from mellowspine.core.report.formulas import FORMULA
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles
from mellowspine.core.report.tables import Issued, OwnWords
from mellowspine.core.tables.settle import settle_all

from .made_reports import FORMULAS, PICTURES


def pages_of(report: Report) -> Pages:
    return settle_all(report, Typefaces())[1]


def call(note: str) -> Run:
    return Run(INLINE_OBJECT, Marks(reference=Reference(note, "note")))


PLAIN = Report("r", (Paragraph("h", "heading-1", (Run("Weirs"),)), Paragraph("b", "body", (Run("Words"),))))

_STYLES = default_styles()
FULL = Report(
    "r",
    (
        PlacedTable("t", "one"),
        Paragraph("h", "heading-1", (Run("Weirs"),)),
        Paragraph("deep", "heading-7", (Run("Deep"),), listed=0),
        Paragraph("b", "body", (Run("Words", Marks(size=9.25, link="https://example.org/")), Run(INLINE_OBJECT, Marks(reference=Reference("gone", "title"))), call("n"))),
        Paragraph("n", "note", (Run("outer"), call("m")), note="foot"),
        Paragraph("m", "note", (Run("inner"),), note="foot"),
        Image("i", PICTURES[0].source, 40, 20, "A gate", "left", True),
        Paragraph("f", "body", (Run(FORMULA, Marks(formula=FORMULAS[0])),)),
        DataTable("d", ((Cell((Paragraph("c", "cell"),), 2),), (Cell((Paragraph("c1", "cell"),)), Cell((Paragraph("c2", "cell"),))))),
        PartStart("p"),
        Paragraph("e", "body", (Run("End"),)),
    ),
    styles=StyleSheet(replace(one, orphans=4) if one.id == "body" else one for one in _STYLES.values()),
    numbering=SCHEMES["decimal"],
    page=PageSetup(back_level=1, footnotes_counted="section", head_left="{title}"),
    tables={"one": Issued(Recipe(leader="~", numbers="none", columns=2, continued=True), own={"h": OwnWords("W", "Weirs")})},
)  # fmt: skip


class WhatIsTold(TestCase):
    def test_every_kind_is_found_where_there_is_some(self) -> None:
        pages = pages_of(FULL)
        for ending, kinds in OF_FORMATS.items():
            with self.subTest(ending):
                self.assertEqual({one.what for one in told(ending, pages)}, {one.what for one in kinds})

    def test_of_a_plain_report_nothing_is_said(self) -> None:
        pages = pages_of(PLAIN)
        for ending in (*OF_FORMATS, ".pdf"):
            self.assertEqual(told(ending, pages), (), ending)

    def test_of_the_tables_alone_what_is_in_them(self) -> None:
        pages = pages_of(FULL)
        said = {one.what for one in told(".docx", pages, chosen(pages, "tables"))}
        self.assertIn("Own words of lines", said)
        self.assertNotIn("Notes within notes", said)
