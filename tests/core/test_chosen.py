"""A section, a part or the tables of a report alone, in every format: with the numbers and pages that they have in the whole."""

from __future__ import annotations

import io
from random import Random
from unittest import TestCase

import docx
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader

import mellowspine.core.kinds  # noqa: F401  (makes the kinds of block known)
from demo.load import quillmere
from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.chosen import chosen, sheets_of
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.settle import settle_all, with_contents
from tests.reference.test_docx_out import Package, W, fields_of, part_of

from .made_reports import any_report

_TYPEFACES = Typefaces()
_IMPORTED = quillmere()
_REPORT, _PAGES = with_contents(_IMPORTED.report, _TYPEFACES)
_SECTION = next(one for one in _PAGES.headings if one.text == "The wall")


def written(ending: str, only: frozenset[int] | None, pages: Pages = _PAGES) -> bytes:
    return WRITERS[ending].write(Written(pages.report, pages, _TYPEFACES, _IMPORTED.pictures, only=only))


class Chosen(TestCase):
    section = chosen(_PAGES, "section", _SECTION.id)
    assert section

    def test_a_section_in_words(self) -> None:
        for ending, front in ((".txt", f"{_SECTION.number} The wall\n"), (".md", "## The wall\n")):
            with self.subTest(ending):
                text = written(ending, self.section).decode()
                self.assertTrue(text.startswith(front), text[:80])
                self.assertIn("Movement of the south-east corner", text)
                self.assertNotIn("How the survey was made", text)
        page = written(".html", self.section).decode()
        self.assertIn(f">{_SECTION.number} The wall<", page)
        self.assertNotIn("How the survey was made", page)

    def test_a_section_as_pdf_is_the_pages_on_which_it_stands(self) -> None:
        pdf = PdfReader(io.BytesIO(written(".pdf", self.section)))
        sheets = sheets_of(_PAGES, self.section)
        self.assertEqual(pdf.page_labels, [_PAGES.label(sheet) for sheet in sheets])
        self.assertIn("The wall", pdf.pages[0].extract_text())

    def test_a_section_as_docx_goes_on_counting(self) -> None:
        data = written(".docx", self.section)
        root = part_of(data, "word/document.xml")
        sequence = next(field for field in fields_of(root) if field.name == "SEQ")
        label, number, _ = next(
            _PAGES.captions[one.id] for at, one in _PAGES.noted if one.caption and at in self.section
        )
        self.assertEqual((sequence.switches["r"], sequence.result), (number, number), label)
        found = read("section.docx", data).report
        there = [one.text for one in _PAGES.worded if one.block in self.section]
        self.assertEqual([one.text for one in outline(found)], there)
        starts = [one.get(f"{W}val") for one in part_of(data, "word/numbering.xml").iter(f"{W}startOverride")]
        self.assertEqual(".".join(map(str, starts[:2])), _SECTION.number)
        self.assertEqual(len(docx.Document(io.BytesIO(data)).sections), 1)

    def test_the_tables_alone(self) -> None:
        only = chosen(_PAGES, "tables")
        text = written(".txt", only).decode()
        self.assertTrue(text.startswith("Contents\n"))
        self.assertIn("Index", text)
        self.assertNotIn("Water falls", text)
        links = [*part_of(written(".docx", only), "word/document.xml").iter(f"{W}hyperlink")]
        self.assertEqual(links, [])

    def test_what_is_not_there_is_not_written(self) -> None:
        with self.assertRaises(KeyError):
            chosen(_PAGES, "section", "nowhere")
        with self.assertRaises(KeyError):
            chosen(_PAGES, "part", "nowhere")

    @settings(max_examples=25)
    @given(st.integers(0, 2**32), st.randoms(use_true_random=False))
    def test_any_section_of_any_report_leads_nowhere_outside(self, seed: int, random: Random) -> None:
        imported = any_report(Random(seed))
        report, pages = settle_all(imported.report, _TYPEFACES)
        headings = [one.id for one in pages.headings if one.by_hand != "put in" and one.block]
        ways = [("section", id) for id in headings] + [("part", one.id) for one in pages.stretches] + [("tables", "")]
        what, id = random.choice(ways)
        try:
            only = chosen(pages, what, id)  # type: ignore[arg-type]
        except KeyError:
            return  # a heading in a data table
        assert only is not None
        for ending in (".md", ".html", ".txt", ".pdf"):
            WRITERS[ending].write(Written(report, pages, _TYPEFACES, imported.pictures, only=only))
        package = Package(imported, only=only)
        package.hold(self)
        names = {one.get(f"{W}name") for root in package.xml.values() for one in root.iter(f"{W}bookmarkStart")}
        for link in package.main.iter(f"{W}hyperlink"):
            if anchor := link.get(f"{W}anchor"):
                self.assertIn(anchor, names)
