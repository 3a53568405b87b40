"""Outline, numbers, markers and looks."""

from __future__ import annotations

from dataclasses import replace
from operator import eq
from typing import Any
from unittest import TestCase

import roman
from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import Cell, DataTable, Marks, Paragraph, Run
from mellowspine.core.report.diff import diff
from mellowspine.core.report.numbering import SCHEMES, Numbering
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles, resolved, style_to_json
from mellowspine.core.structure.formatting import alike
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.numbering import figure
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.kinds import build, sources_of

from .samples import TYPEFACES, heading, text


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


class Exceptions(TestCase):
    def test_a_paragraph_is_put_into_tables_at_a_level_and_a_heading_is_kept_out(self) -> None:
        blocks = (
            heading("a"),
            replace(text("b"), listed=2),
            replace(heading("c"), listed=0),
            replace(text("d"), listed=0),
            replace(heading("e", 2), listed=5),
        )
        report = Report("r", blocks, numbering=SCHEMES["decimal"])
        found = [(h.id, h.level, h.number, h.by_hand) for h in outline(report)]
        self.assertEqual(
            found, [("a", 1, "1", ""), ("b", 2, "", "put in"), ("c", 1, "2", "kept out"), ("e", 2, "2.1", "")]
        )
        lines = build(Recipe(), sources_of(outline(report), paginate(report, TYPEFACES)))
        self.assertEqual([(line.source, line.level) for line in lines], [("a", 1), ("b", 2), ("e", 2)])


class Numbers(TestCase):
    def numbers(self, *levels: int) -> list[str]:
        blocks = tuple(heading(f"h{n}", level) for n, level in enumerate(levels))
        return [h.number for h in outline(Report("r", blocks, numbering=SCHEMES["decimal"]))]

    def test_decimal_numbers(self) -> None:
        """ISO 2145, 3.1–3.3: arabic figures, full stops between levels and none after the last; worked by hand."""
        self.assertEqual(
            self.numbers(1, 2, 2, 3, 3, 2, 1, 2, 3), ["1", "1.1", "1.2", "1.2.1", "1.2.2", "1.3", "2", "2.1", "2.1.1"]
        )

    def test_a_skipped_level_counts_as_nought(self) -> None:
        """Common practice, no source."""
        self.assertEqual(self.numbers(1, 3, 3, 2), ["1", "1.0.1", "1.0.2", "1.1"])

    def test_other_schemes(self) -> None:
        """Common practice, no source; worked by hand."""
        for scheme, wanted in {
            "outline": ["I.", "A.", "1.", "a.", "B.", "II.", "A."],
            "legal": ["Article 1", "§ 1.1", "(a)", "(i)", "§ 1.2", "Article 2", "§ 2.1"],
            "chapters": ["Part I", "Chapter 1", "1.1", "1.1.1", "Chapter 2", "Part II", "Chapter 3"],
            "none": [""] * 7,
        }.items():
            self.assertEqual(self.numbered(SCHEMES[scheme], *((level, {}) for level in (1, 2, 3, 4, 2, 1, 2))), wanted)

    def numbered(self, numbering: Numbering, *headings: tuple[int, dict[str, Any]]) -> list[str]:
        blocks = tuple(replace(heading(f"h{n}", level), **more) for n, (level, more) in enumerate(headings))
        return [h.number for h in outline(Report("r", blocks, numbering=numbering))]

    def test_appendices_count_in_letters_from_where_they_begin(self) -> None:
        """ISO 2145, 3: appendices may be lettered; the form is common practice, no source."""
        levels = ((1, {}), (2, {}), (1, {"number": "appendix"}), (2, {}), (3, {}), (1, {}), (2, {}))
        self.assertEqual(self.numbered(SCHEMES["decimal"], *levels), ["1", "1.1", "A", "A.1", "A.1.1", "B", "B.1"])

    def test_a_heading_without_a_number_does_not_count_and_neither_do_those_under_it(self) -> None:
        levels = (
            (1, {}),
            (1, {"number": "none"}),
            (2, {}),
            (3, {}),
            (1, {}),
            (2, {}),
            (2, {"number": "none"}),
            (2, {}),
        )
        self.assertEqual(self.numbered(SCHEMES["decimal"], *levels), ["1", "", "", "", "2", "2.1", "", "2.2"])

    def test_a_start_value_is_counted_on_from(self) -> None:
        levels = ((1, {}), (1, {"number_from": 7}), (2, {"number_from": 0}), (2, {}), (1, {}))
        self.assertEqual(self.numbered(SCHEMES["decimal"], *levels), ["1", "7", "7.0", "7.1", "8"])
        later = SCHEMES["decimal"].changed(1, start=5)
        self.assertEqual(self.numbered(later, (1, {}), (1, {}), (2, {})), ["5", "6", "6.1"])

    def test_a_level_may_be_off_or_count_on_through_the_sections_above(self) -> None:
        off = SCHEMES["decimal"].changed(1, on=False)
        levels = ((1, {}), (2, {}), (3, {}), (1, {}), (2, {}), (2, {}))
        self.assertEqual(self.numbered(off, *levels), ["", "1", "1.1", "", "1", "2"])
        through = SCHEMES["decimal"].changed(2, pattern="§ %2", restarts=False)
        self.assertEqual(self.numbered(through, *levels), ["1", "§ 1", "1.1.1", "2", "§ 2", "§ 3"])

    def test_patterns_that_cannot_be_are_refused_with_a_sentence(self) -> None:
        for wrong in ({"pattern": "Article"}, {"pattern": "%1.%3"}, {"pattern": "%2 %0"}, {"pattern": "x" * 61 + "%2"},
                      {"pattern": 2}, {"figures": "greek"}, {"start": -1}, {"start": None}, {"on": "yes"}):  # fmt: skip
            with self.assertRaises(SettingError, msg=str(wrong)) as caught:
                SCHEMES["decimal"].changed(2, **wrong)
            self.assertRegex(str(caught.exception), r"^[A-Z“].+\.$")

    def test_roman_figures_are_those_of_an_independent_library(self) -> None:
        """The package "roman" of PyPI, for all that it knows as we do: 1 to 3999."""
        for value in range(1, 4000):
            self.assertEqual(figure(value, "upper-roman"), roman.toRoman(value))
        self.assertEqual((figure(0, "upper-roman"), figure(4000, "lower-roman")), ("0", "4000"))

    def test_letters_go_on_doubled_behind_z(self) -> None:
        """ISO/IEC 29500-1, 17.18.59, upperLetter (from memory)."""
        self.assertEqual([figure(n, "lower-letter") for n in (1, 26, 27, 28, 53)], ["a", "z", "aa", "bb", "aaa"])

    def test_lists_count_by_level_and_start_again_after_other_text(self) -> None:
        styles = ["item-1", "item-2", "item-2", "item-1", "bullet-1", "body", "item-1"]
        blocks = tuple(Paragraph(f"p{n}", style, (Run("x"),)) for n, style in enumerate(styles))
        found = list_markers(Report("r", blocks))
        self.assertEqual([found.get(f"p{n}") for n in range(7)], ["1.", "1.", "2.", "2.", "•", None, "1."])


_STYLES = ("body", "heading-1", "heading-2", "heading-3", "item-1", "item-2", "bullet-1")
_texts = st.lists(
    st.tuples(
        st.sampled_from(_STYLES), st.sampled_from(("", "words")), st.sampled_from((None, None, "none", "appendix")),
        st.sampled_from((None, None, None, 4)), st.sampled_from((None, None, 0, 2)),
    ),
    max_size=12,
)  # fmt: skip


class AfterAnEdit(TestCase):
    @settings(max_examples=400)
    @given(_texts, _texts, st.data())
    def test_outline_and_markers_are_those_of_a_fresh_start(self, old, new, data) -> None:
        """Replacing any stretch of a report by any other gives the same structure, however it is computed."""
        first = data.draw(st.integers(0, len(old)))
        end = data.draw(st.integers(first, len(old)))

        def made(name: str, texts) -> list[Paragraph | DataTable]:
            paragraphs = [
                Paragraph(f"{name}{n}", style, (Run(words),), number=number, number_from=start, listed=listed)
                for n, (style, words, number, start, listed) in enumerate(texts)
            ]
            return [DataTable(p.id, ((Cell((p,)),),)) if n % 5 == 4 else p for n, p in enumerate(paragraphs)]

        before = made("old", old)
        report = Report("r", tuple(before), numbering=data.draw(st.sampled_from([*SCHEMES.values()])))
        edited = replace(report, blocks=(*before[:first], *made("new", new), *before[end:]))
        self.assertEqual(outline(edited, (report, outline(report))), outline(edited))
        self.assertEqual(list_markers(edited, (report, list_markers(report))), list_markers(edited))

    @given(st.text("ab", max_size=8), st.text("ab", max_size=8))
    def test_a_stretch_is_all_that_differs_and_no_more(self, old: str, new: str) -> None:
        found = diff(old, new, eq)
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
        sheet = default_styles()
        self.assertEqual(resolved(style_to_json(style) for style in sheet.values()), sheet)

    def test_values_out_of_range_are_refused_with_a_sentence(self) -> None:
        for wrong in ({"outline_level": 10}, {"size": 0.0}, {"colour": "red"}, {"id": "No spaces"}):
            with self.assertRaises(SettingError) as caught:
                resolved([{"id": "x", "name": "X", "role": "body", **wrong}])
            self.assertRegex(str(caught.exception), r"^[A-Z“].+\.$")

    def test_nine_levels(self) -> None:
        """ISO/IEC 29500-1 17.3.1.20: nine outline levels and body text."""
        self.assertEqual(sorted(default_styles().levels.values()), list(range(1, 10)))
