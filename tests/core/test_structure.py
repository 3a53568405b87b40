"""Outline, numbers, markers and looks."""

from __future__ import annotations

from dataclasses import replace
from operator import eq
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.report.blocks import Cell, DataTable, Marks, Paragraph, Run
from mellowspine.core.report.report import Report
from mellowspine.core.report.stretch import stretch
from mellowspine.core.report.styles import Style, StyleError, StyleSheet, default_styles, style_from_json, style_to_json
from mellowspine.core.structure.looks import alike
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline

from .samples import heading, text

NUMBERED = default_styles().numbered()


class Outlines(TestCase):
    def test_headings_are_paragraphs_whose_style_has_a_level(self) -> None:
        own = replace(default_styles()["body"], id="part", name="Part", outline_level=1)
        styles = StyleSheet([*default_styles().values(), own])
        report = Report("r", (text("a"), Paragraph("b", "part", (Run("One"),)), heading("c", 2)), styles)
        self.assertEqual([(h.id, h.level, h.block) for h in outline(report)], [("b", 1, 1), ("c", 2, 2)])

    def test_titles_and_table_titles_and_empty_headings_are_not_listed(self) -> None:
        blocks = (
            Paragraph("a", "title", (Run("T"),)),
            Paragraph("b", "table-title", (Run("T"),)),
            heading("c", 1, " "),
        )
        self.assertEqual(outline(Report("r", blocks)), ())

    def test_a_heading_in_a_data_table_is_listed_with_its_row(self) -> None:
        rows = ((Cell((text("x"),)),), (Cell((heading("h"),)),))
        (found,) = outline(Report("r", (text("a"), DataTable("d", rows))))
        self.assertEqual((found.id, found.block, found.row), ("h", 1, 1))

    def test_line_breaks_and_tabs_in_a_heading_are_spaces(self) -> None:
        self.assertEqual(outline(Report("r", (heading("a", 1, "One\ntwo\tthree "),)))[0].text, "One two three")


class Numbers(TestCase):
    def numbers(self, *levels: int) -> list[str]:
        blocks = tuple(heading(f"h{n}", level) for n, level in enumerate(levels))
        return [h.number for h in outline(Report("r", blocks, NUMBERED))]

    def test_decimal_numbers(self) -> None:
        """ISO 2145, 3.1–3.3: arabic figures, full stops between levels and none after the last; worked by hand."""
        self.assertEqual(
            self.numbers(1, 2, 2, 3, 3, 2, 1, 2, 3), ["1", "1.1", "1.2", "1.2.1", "1.2.2", "1.3", "2", "2.1", "2.1.1"]
        )

    def test_a_skipped_level_counts_as_nought(self) -> None:
        """Common practice, no source."""
        self.assertEqual(self.numbers(1, 3, 3, 2), ["1", "1.0.1", "1.0.2", "1.1"])

    def test_headings_of_styles_without_numbers_have_none_and_count_nowhere(self) -> None:
        plain = Style("plain", "Unnumbered", outline_level=1)
        styles = StyleSheet([*NUMBERED.values(), plain])
        blocks = (heading("a"), Paragraph("b", "plain", (Run("Foreword"),)), heading("c"))
        self.assertEqual([h.number for h in outline(Report("r", blocks, styles))], ["1", "", "2"])

    def test_lists_count_by_level_and_start_again_after_other_text(self) -> None:
        styles = ["item-1", "item-2", "item-2", "item-1", "bullet-1", "body", "item-1"]
        blocks = tuple(Paragraph(f"p{n}", style, (Run("x"),)) for n, style in enumerate(styles))
        found = list_markers(Report("r", blocks))
        self.assertEqual([found.get(f"p{n}") for n in range(7)], ["1.", "1.", "2.", "2.", "•", None, "1."])


_STYLES = ("body", "heading-1", "heading-2", "heading-3", "item-1", "item-2", "bullet-1")
_texts = st.lists(st.tuples(st.sampled_from(_STYLES), st.sampled_from(("", "words"))), max_size=12)


class AfterAnEdit(TestCase):
    @settings(max_examples=400)
    @given(_texts, _texts, st.data())
    def test_outline_and_markers_are_those_of_a_fresh_start(self, old, new, data) -> None:
        """Replacing any stretch of a report by any other gives the same structure, however it is computed."""
        first = data.draw(st.integers(0, len(old)))
        end = data.draw(st.integers(first, len(old)))

        def made(name: str, texts) -> list[Paragraph | DataTable]:
            paragraphs = [Paragraph(f"{name}{n}", style, (Run(words),)) for n, (style, words) in enumerate(texts)]
            return [DataTable(p.id, ((Cell((p,)),),)) if n % 5 == 4 else p for n, p in enumerate(paragraphs)]

        before = made("old", old)
        report = Report("r", tuple(before), NUMBERED)
        edited = replace(report, blocks=(*before[:first], *made("new", new), *before[end:]))
        self.assertEqual(outline(edited, (report, outline(report))), outline(edited))
        self.assertEqual(list_markers(edited, (report, list_markers(report))), list_markers(edited))

    @given(st.text("ab", max_size=8), st.text("ab", max_size=8))
    def test_a_stretch_is_all_that_differs_and_no_more(self, old: str, new: str) -> None:
        found = stretch(old, new, eq)
        self.assertEqual(old[: found.first] + new[found.first : found.new_end] + old[found.old_end :], new)
        self.assertEqual(bool(found), old != new)
        inside = old[found.first : found.old_end], new[found.first : found.new_end]
        if all(inside):
            self.assertNotEqual(inside[0][0], inside[1][0])
            self.assertNotEqual(inside[0][-1], inside[1][-1])


class Looks(TestCase):
    def test_alike_means_same_style_and_formatting_whatever_the_words(self) -> None:
        bold, slant = Marks(bold=True), Marks(bold=True, italic=True)
        blocks = (
            Paragraph("a", runs=(Run("Aims", bold),)),
            Paragraph("b", runs=(Run("Not all of it ", bold), Run("is bold"))),
            Paragraph("c", runs=(Run("Means", bold), Run(" "))),
            Paragraph("d", runs=(Run("Narrower", slant),)),
            Paragraph("e", runs=(Run("Centred", bold),), align="center"),
        )
        self.assertEqual(alike(Report("r", blocks), "a"), ("a", "c"))
        self.assertEqual(alike(Report("r", blocks), "gone"), ())


class Styles(TestCase):
    def test_styles_survive_json(self) -> None:
        for style in NUMBERED.values():
            self.assertEqual(style_from_json(style_to_json(style)), style)

    def test_values_out_of_range_are_refused_with_a_sentence(self) -> None:
        for wrong in ({"outline_level": 10}, {"size": 0.0}, {"colour": "red"}, {"id": "No spaces"}):
            with self.assertRaises(StyleError) as caught:
                style_from_json({"id": "x", "name": "X", **wrong})
            self.assertRegex(str(caught.exception), r"^[A-Z“].+\.$")

    def test_nine_levels(self) -> None:
        """ISO/IEC 29500-1 17.3.1.20: nine outline levels and body text."""
        self.assertEqual(sorted(default_styles().levels.values()), list(range(1, 10)))
