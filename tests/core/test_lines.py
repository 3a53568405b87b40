"""Lines of a paragraph."""

from __future__ import annotations

import itertools
import json
import math
from dataclasses import replace
from random import Random
from typing import get_args
from unittest import TestCase
from unittest.mock import patch

from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.formats import read
from mellowspine.core.pages.draw import Drawing, Rule, Words
from mellowspine.core.pages.lines import TAB_STOPS, InFaces, break_lines, in_one_line, pieces, reach_of_words
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces, lacking
from mellowspine.core.report.blocks import FONTS, Marks, Paragraph, Run
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import Style, StyleSheet, default_styles
from mellowspine.core.report.tab_stops import FORM, Leader, TabAlign, TabStop, tab_stops_as_text, tab_stops_of
from tests.core import stop_cases, style_cases

from .samples import SENTENCE, TYPEFACES, text

BODY = default_styles()["body"]
WIDTH = 200.0


def lines_of(*runs: Run, style: Style = BODY, **settings: object) -> list[str]:
    paragraph = Paragraph("p", runs=runs, **settings)  # type: ignore[arg-type]
    lines = break_lines(paragraph, style, WIDTH, TYPEFACES)
    return [paragraph.text[a:b] for a, b in zip(lines.starts, (*lines.starts[1:], None), strict=True)]


class Letters(TestCase):
    """Capitals, raised and lowered letters, and the right indent."""

    def drawn(self, *runs: Run, style: Style = BODY) -> list[Words]:
        report = Report("r", (Paragraph("p", "body", runs),), StyleSheet([style]), page=PageSetup(foot_middle=""))
        return [mark for mark in Drawing(paginate(report, TYPEFACES), TYPEFACES).page(1) if isinstance(mark, Words)]

    def test_capitals_are_drawn_and_measured_as_such(self) -> None:
        """CSS Text 3, 2.1, but for characters of which several capitals would come: a text keeps its length."""
        first, *_ = self.drawn(Run("harbour Straße", Marks(capitals="all")))
        self.assertEqual(first.text, "HARBOUR STRAßE")
        shown = SENTENCE.upper()
        self.assertEqual(
            break_lines(Paragraph("p", runs=(Run(SENTENCE * 5),)), replace(BODY, capitals="all"), WIDTH, TYPEFACES),
            break_lines(Paragraph("p", runs=(Run(shown * 5),)), BODY, WIDTH, TYPEFACES),
        )

    def test_a_run_may_turn_the_capitals_of_its_style_off(self) -> None:
        words = self.drawn(Run("Loud "), Run("quiet", Marks(capitals="none")), style=replace(BODY, capitals="all"))
        self.assertEqual([one.text for one in words], ["LOUD", "quiet"])

    def test_small_capitals_are_smaller_where_small_letters_were(self) -> None:
        words = self.drawn(Run("Tide", Marks(capitals="small")))
        self.assertEqual([(one.text, round(one.size / BODY.size, 2)) for one in words], [("T", 1.0), ("IDE", 0.8)])
        self.assertEqual(len({one.baseline for one in words}), 1)

    def test_raised_and_lowered_letters_make_no_line_higher(self) -> None:
        runs = (Run("H"), Run("2", Marks(script="sub")), Run("O"), Run("x", Marks(script="super")))
        self.assertEqual(lines_of(*runs), lines_of(Run("H2Ox")))
        lines = break_lines(Paragraph("p", runs=runs), BODY, WIDTH, TYPEFACES)
        self.assertEqual(lines.heights, (BODY.size * BODY.line_spacing,))
        h, two, o, x = self.drawn(*runs)
        self.assertEqual(h.baseline, o.baseline)
        self.assertTrue(two.baseline > h.baseline > x.baseline)
        self.assertTrue(two.size == x.size < h.size)

    def test_lines_end_before_the_right_indent(self) -> None:
        style = replace(BODY, right_indent=60.0)
        self.assertEqual(
            break_lines(Paragraph("p", runs=(Run(SENTENCE * 5),)), style, WIDTH, TYPEFACES),
            break_lines(Paragraph("p", runs=(Run(SENTENCE * 5),)), BODY, WIDTH - 60.0, TYPEFACES),
        )
        [word] = self.drawn(Run("Tide"), style=replace(style, align="right"))
        self.assertAlmostEqual(word.x + word.width, Report("r").page.column_width - 60.0, 3)

    def test_indents_that_leave_no_room_lose_no_word(self) -> None:
        lines = lines_of(Run(SENTENCE), style=replace(BODY, indent=300.0, right_indent=300.0))
        self.assertEqual("".join(lines), SENTENCE)

    def test_lines_and_colours_go_on_between_words_that_are_spread(self) -> None:
        words = (Run(SENTENCE * 6, Marks(strike=True, highlight="#ffff00")),)
        report = Report("r", (Paragraph("p", "body", words, align="justify"),), StyleSheet([BODY]))
        found = [mark for mark in Drawing(paginate(report, TYPEFACES), TYPEFACES).page(1) if isinstance(mark, Rule)]
        first = min(one.y for one in found if one.fill)
        lit = sorted((one for one in found if one.fill and one.y == first), key=lambda one: one.x)
        self.assertGreater(len(lit), 3)
        for one, next in itertools.pairwise(lit):
            self.assertAlmostEqual(one.x + one.width, next.x, 6)


class Breaking(TestCase):
    def test_a_line_takes_all_the_words_that_fit(self) -> None:
        lines = lines_of(Run(SENTENCE * 3))
        face = TYPEFACES.face(BODY.font)
        for line, following in itertools.pairwise(lines):
            width = sum(face.unit(word + " ").full for word in line.split()) - face.space
            self.assertLessEqual(width * BODY.size, WIDTH + 0.001)
            longer = width + face.space + face.width(following.split()[0])
            self.assertGreater(longer * BODY.size, WIDTH)

    def test_a_first_word_that_is_too_long_for_an_indented_first_line_is_broken(self) -> None:
        style = replace(BODY, size=25.0, first_line=45.0)
        self.assertEqual([*map(len, lines_of(Run("0" * 12), style=style))], [11, 1])

    @given(
        st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\n\t"), min_size=1, max_size=40)
        | st.lists(st.sampled_from(["tide", "AV", "harbour-wall", "Wo", "1902."]), min_size=1).map(" ".join),
        st.floats(4, 40),
        st.floats(0, 60),
        st.floats(-60, 60),
    )
    def test_words_that_reach_no_further_than_the_line_stand_in_one(
        self, words: str, size: float, indent: float, first: float
    ) -> None:
        paragraph = Paragraph("p", runs=(Run(words),))
        style = replace(BODY, size=size, indent=indent, first_line=first)
        reach = reach_of_words(paragraph, BODY, TYPEFACES)
        broken = break_lines(paragraph, style, WIDTH, TYPEFACES)
        if reach < math.inf:
            self.assertEqual(in_one_line(reach, style, WIDTH), broken if len(broken.starts) == 1 else None)

    def test_a_word_that_is_too_long_is_broken(self) -> None:
        self.assertGreater(len(lines_of(Run("x" * 200))), 3)
        self.assertGreater(len(lines_of(Run("x" * 100), Run("y" * 100, Marks(bold=True)))), 3)

    def test_formatting_within_a_word_breaks_no_line(self) -> None:
        plain = lines_of(Run(SENTENCE * 4))
        parted = lines_of(
            *(Run(character, Marks(link=f"https://x.org/{n}")) for n, character in enumerate(SENTENCE * 4))
        )
        self.assertEqual([len(line) for line in plain], [len(line) for line in parted])

    def test_a_larger_run_makes_its_line_higher_and_no_other(self) -> None:
        paragraph = Paragraph("p", runs=(Run(SENTENCE), Run("big", Marks(size=30)), Run(" " + SENTENCE)))
        heights = break_lines(paragraph, BODY, WIDTH, TYPEFACES).heights
        self.assertEqual(sorted(set(heights)), [11 * 1.4, 30 * 1.4])
        self.assertEqual(heights.count(30 * 1.4), 1)

    def test_a_line_break_is_kept(self) -> None:
        self.assertEqual(lines_of(Run("one\ntwo\n\nthree")), ["one\n", "two\n", "\n", "three"])

    @given(st.text(alphabet="ab cd\n\t-–é. ", max_size=80))
    def test_no_character_is_lost_or_doubled(self, words: str) -> None:
        half = len(words) // 2
        for runs in ([Run(words)], [Run(words[:half]), Run(words[half:], Marks(bold=True))]):
            self.assertEqual("".join(lines_of(*runs)), words)


class Placing(TestCase):
    def place(self, words: str, **settings: object) -> list[tuple[float, float, str]]:
        paragraph = Paragraph("p", runs=(Run(words),), **settings)  # type: ignore[arg-type]
        lines = break_lines(paragraph, BODY, WIDTH, TYPEFACES)
        return [(p.x, p.width, p.text) for p in next(pieces(InFaces(paragraph, BODY, WIDTH, TYPEFACES), lines, [0]))]

    def test_alignment(self) -> None:
        (left,) = self.place("word")
        (right,) = self.place("word", align="right")
        (middle,) = self.place("word", align="center")
        self.assertEqual(left[0], 0)
        self.assertAlmostEqual(right[0] + right[1], WIDTH)
        self.assertAlmostEqual(middle[0], (WIDTH - middle[1]) / 2)

    @given(st.text(alphabet="AVTYo,. ’-", min_size=1, max_size=24), st.integers(0, 24))
    def test_a_line_is_as_wide_as_its_text_set_in_one_piece(self, words: str, at: int) -> None:
        """Letters, spaces and the ends of words are kerned alike, wherever a word or a colour begins."""
        face = TYPEFACES.face(BODY.font)
        runs = (Run(words[:at]), Run(words[at:], Marks(colour="#2f7d6b")))
        paragraph = Paragraph("p", runs=tuple(run for run in runs if run.text))
        lines = break_lines(paragraph, BODY, 1000.0, TYPEFACES)
        placed = next(pieces(InFaces(paragraph, BODY, 1000.0, TYPEFACES), lines, [0]))
        if words.strip(" "):
            self.assertAlmostEqual(placed[-1].x + placed[-1].width, face.width(words.rstrip(" ")) * BODY.size)

    def test_justified_words_reach_the_right_edge(self) -> None:
        words = self.place(SENTENCE * 3, align="justify")
        self.assertAlmostEqual(words[-1][0] + words[-1][1], WIDTH)
        self.assertGreater(len(words), 3)

    def test_a_tab_leads_to_the_next_stop(self) -> None:
        self.assertEqual([round(x) for x, _, _ in self.place("2.1\tAims\tb")], [0, TAB_STOPS, 2 * TAB_STOPS])


class TabStops(TestCase):
    """ISO/IEC 29500-1, 17.3.1.37: the first stop behind where the tab is; what follows stands at it as its kind says."""

    def place(self, words: str, stops: str, style: Style = BODY, **settings: object) -> dict[str, tuple[float, float]]:
        """Where each piece of the first line begins and ends."""
        paragraph = Paragraph("p", runs=(Run(words),), tab_stops=stops, **settings)  # type: ignore[arg-type]
        lines = break_lines(paragraph, style, WIDTH, TYPEFACES, "de")
        placed = next(pieces(InFaces(paragraph, style, WIDTH, TYPEFACES, "de"), lines, [0]))
        return {piece.text: (piece.x, piece.x + piece.width) for piece in placed}

    def test_each_kind_stands_at_its_stop(self) -> None:
        found = self.place("a\tleft\tmiddle\tright", "40 left, 100 center, 180 right")
        self.assertEqual(found["left"][0], 40)
        self.assertAlmostEqual(sum(found["middle"]) / 2, 100)
        self.assertAlmostEqual(found["right"][1], 180)

    def test_figures_stand_by_their_decimal_sign(self) -> None:
        """That of the language: the same column of figures in each line."""
        for words in ("1,5", "1.234,25 m", "12"):
            begin, _ = self.place(f"a\t{words}", "120 decimal")[words]
            before = TYPEFACES.face(BODY.font).width(words.split(",")[0]) * BODY.size
            self.assertAlmostEqual(begin + before, 120, delta=0.5)  # but for what figure and sign are kerned

    def test_behind_the_last_stop_come_those_that_are_always_there(self) -> None:
        found = self.place("a\tb\tc", "20 left")
        self.assertEqual((found["b"][0], found["c"][0]), (20, TAB_STOPS))

    def test_stops_are_counted_from_the_column_whatever_the_indent(self) -> None:
        found = self.place("a\tb", "90 left", replace(BODY, indent=30.0))
        self.assertEqual(found["b"][0], 90)

    def test_a_first_line_that_hangs_out_goes_on_at_the_indent(self) -> None:
        found = self.place("1.\tb\tc", "120 left", replace(BODY, indent=50.0, first_line=-45.0))
        self.assertEqual((found["b"][0], found["c"][0]), (50, 120))

    def test_a_leader_fills_the_gap_and_keeps_clear_of_the_words(self) -> None:
        for leader, sign in (("dots", "."), ("dashes", "-"), ("line", "_")):
            found = self.place("Sea wall\t12", f"{WIDTH:g} right {leader}")
            ((begin, end),) = (ends for text, ends in found.items() if set(text) == {sign})
            self.assertGreater(begin, found["Sea wall"][1])
            self.assertLess(end, found["12"][0])
            self.assertGreater(end - begin, 0.8 * (found["12"][0] - found["Sea wall"][1]))

    def test_leaders_of_two_lines_stand_on_the_same_columns(self) -> None:
        ends = [self.place(f"{words}\t12", f"{WIDTH:g} right dots") for words in ("Sea wall", "Tide")]
        dots = [next(one[0] for text, one in found.items() if set(text) == {"."}) for found in ends]
        step = TYPEFACES.face(BODY.font).width(".") * BODY.size
        apart = (dots[0] - dots[1]) / step
        self.assertAlmostEqual(apart, round(apart))

    def test_what_has_no_room_before_its_stop_begins_where_the_tab_is(self) -> None:
        found = self.place("Sea wall\tfour words of it", "60 right")
        self.assertAlmostEqual(found["four words of it"][0], found["Sea wall"][1])

    def test_a_stop_beyond_the_line_lies_at_its_end(self) -> None:
        self.assertAlmostEqual(self.place("a\tb", "900 right")["b"][1], WIDTH)

    _STOPS = st.lists(
        st.builds(
            TabStop,
            st.integers(0, 300).map(float),
            st.sampled_from(get_args(TabAlign)),
            st.sampled_from([None, *get_args(Leader)]),
        ),
        max_size=5,
    ).map(tab_stops_as_text)

    @given(st.text(alphabet="ab cd\n\t\t1,. é-", max_size=80), _STOPS, st.floats(0, 60), st.floats(-60, 60))
    def test_no_character_is_lost_and_none_stands_past_the_line(
        self, words: str, stops: str, indent: float, first: float
    ) -> None:
        style = replace(BODY, indent=indent, first_line=first, tab_stops=stops)
        half = len(words) // 2
        paragraph = Paragraph("p", runs=(Run(words[:half]), Run(words[half:], Marks(bold=True))))
        self.assertEqual("".join(lines_of(*paragraph.runs, style=style)), words)
        lines = break_lines(paragraph, style, WIDTH, TYPEFACES, "de")
        of = InFaces(paragraph, style, WIDTH, TYPEFACES, "de")
        for start, end, placed in zip(
            lines.starts,
            (*lines.starts[1:], None),
            pieces(of, lines, range(len(lines.starts))),
            strict=True,
        ):
            drawn = "".join("".join(piece.text.split()) for piece in placed if not piece.leader)
            self.assertEqual(drawn, "".join(words[start:end].split()))
            reach = -math.inf
            for piece in sorted(placed, key=lambda one: one.x):
                self.assertLess(reach - 0.6, piece.x)  # no words over others, but for what they are kerned
                reach = piece.x + piece.width
            self.assertLessEqual(reach, WIDTH + 0.6)

    @given(_STOPS)
    def test_stops_are_kept_as_they_are_said(self, stops: str) -> None:
        self.assertIsNotNone(FORM.fullmatch(stops))
        self.assertEqual(tab_stops_as_text(tab_stops_of(stops)), stops)


class StandIns(TestCase):
    """Characters that a face lacks are set in one that has them (CSS Fonts 3, 5.3), in the browser as here."""

    def faces(self, text: str, font: str = "Caladea") -> list[tuple[str, str]]:
        style = replace(BODY, font=font)
        paragraph = Paragraph("p", runs=(Run(text),))
        lines = break_lines(paragraph, style, 2000.0, TYPEFACES)
        (placed,) = pieces(InFaces(paragraph, style, 2000.0, TYPEFACES), lines, [0])
        return [(piece.text, piece.face.font) for piece in placed]

    def test_greek_and_cyrillic_in_a_face_without_them(self) -> None:
        self.assertEqual(self.faces("Вода"), [("Вода", "Liberation Serif")])
        self.assertEqual(
            self.faces("The word вода, or ὕδωρ"),
            [
                ("The word", "Caladea"),
                ("вода", "Liberation Serif"),
                (", or", "Caladea"),
                ("ὕδωρ", "Liberation Serif"),
            ],
        )
        self.assertEqual(self.faces("Вода", "Carlito"), [("Вода", "Carlito")])

    def test_signs_that_no_text_face_has_are_set_in_the_one_for_signs(self) -> None:
        for font in FONTS:
            self.assertEqual(self.faces("☐ ☑ ☒ ✓ ⇒ ∈ ❖", font)[0][1], "DejaVu Sans")
        self.assertEqual(lacking(["☐☑☒✓✗➢❖❑⇒∇∈∉⊂∪∩"]), {})

    def test_the_signs_of_lists_are_set_in_a_face_that_has_them(self) -> None:
        levels = [Paragraph(f"b{level}", f"bullet-{level}", (Run("Words"),)) for level in (1, 2, 3)]
        drawn = [mark for mark in Drawing(paginate(Report("r", tuple(levels)), TYPEFACES), TYPEFACES).page(1) if isinstance(mark, Words)]  # fmt: skip
        signs = [mark for mark in drawn if mark.text not in ("Words", "1")]
        self.assertEqual([mark.text for mark in signs], ["•", "–", "▪"])
        self.assertEqual([mark.face.covers(mark.text) for mark in signs], [True] * 3)

    def test_a_mark_stays_with_its_letter(self) -> None:
        self.assertEqual(self.faces("д\u0301"), [("д\u0301", "Liberation Serif")])

    def test_widths_are_those_of_the_face_that_draws(self) -> None:
        paragraph = Paragraph("p", runs=(Run("вода"),))
        lines = break_lines(paragraph, BODY, 2000.0, TYPEFACES)
        ((piece,),) = pieces(InFaces(paragraph, BODY, 2000.0, TYPEFACES), lines, [0])
        self.assertAlmostEqual(piece.width, TYPEFACES.face("Liberation Serif").width("вода") * BODY.size)

    def test_what_no_face_has_is_counted_at_import(self) -> None:
        (note,) = read("a.txt", "Ein 漢字, und 漢 \u200b".encode()).notes
        self.assertEqual(
            (note.sentence, note.count),
            ("Characters that no typeface here has (漢 U+6F22, 字 U+5B57): printed as empty boxes", 3),
        )
        self.assertEqual(read("a.txt", "Вода ὕδωρ – “…” ž".encode()).notes, ())


class AsInBrowsers(TestCase):
    def test_the_cases_for_browsers_are_those_of_the_core(self) -> None:
        self.assertEqual(
            json.loads(style_cases.FILE.read_text()), style_cases.as_json(), "Run: python -m tests.core.style_cases"
        )
        self.assertEqual(
            json.loads(stop_cases.FILE.read_text()), stop_cases.as_json(), "Run: python -m tests.core.stop_cases"
        )


WORDS = ["The", "gate", "was", "closed", "(at)", "dusk", "still—until", "“the”", "morning.", "e.g.", "Office", "AVATAR", "To", "12.5", "%", "1/2", "a-b", "well-known", "x", "Äö", "Ω", "😀", "日本語の文", "fi", "ffl", "'", "."]  # fmt: skip


class MeasuredOnce(TestCase):
    """Words are measured once for lines of any width (``advances.py``)."""

    def test_lines_are_those_found_word_by_word(self) -> None:
        random, known = Random("advances"), Typefaces()
        styles = [*default_styles().values()]
        for _ in range(700):
            runs = []
            for _ in range(random.choice((1, 1, 1, 2, 4))):
                words = " ".join(random.choices(WORDS, k=random.choice((0, 1, 3, 20, 90))))
                words = " " * random.choice((0, 0, 1, 3)) + words + " " * random.choice((0, 0, 1, 3))
                size = random.choice((None, None, 7.0, 22.5))
                runs.append(Run(words, Marks(random.choice((None, True)), random.choice((None, True)), size=size, raised=random.random() < 0.1)))  # fmt: skip
            paragraph = Paragraph("p", runs=tuple(runs))
            style = replace(
                random.choice(styles),
                indent=random.choice((0.0, 18.0, 100.0)),
                first_line=random.choice((0.0, 0.0, 24.0, -18.0)),
                size=random.choice((9.0, 12.5)),
            )
            for width in (random.uniform(10, 80), random.uniform(30, 700), 451.28):
                lines = break_lines(paragraph, style, width, known)
                with patch("mellowspine.core.pages.lines.line_starts", return_value=None):
                    self.assertEqual(lines, break_lines(paragraph, style, width, TYPEFACES), (paragraph.text, width))

    def test_other_paper_and_another_size_measure_nothing_again(self) -> None:
        report = Report("r", tuple(text(f"p{number}", 4 + number) for number in range(30)))
        known = Typefaces()
        pages = paginate(report, known)
        body = report.styles.role("body")
        larger = StyleSheet(replace(one, size=14.0) if one is body else one for one in report.styles.values())
        with patch("mellowspine.core.pages.advances.measured") as measured:
            narrow = paginate(replace(report, page=replace(report.page, width=400.0)), known, pages)
            paginate(replace(report, styles=larger), known, pages)
        measured.assert_not_called()
        self.assertGreater(len(narrow), len(pages))
