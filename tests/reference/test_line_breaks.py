"""Where a line may break, against LineBreakTest.txt of the Unicode Character Database (Debian: unicode-data)."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.pages.breaks import units

FILE = Path("/usr/share/unicode/auxiliary/LineBreakTest.txt")

DEVIATIONS = {
    "LB20a, new in 16.0: no break behind a hyphen that begins a word": (
        "-#", "-\u0308#", "-§", "-\u0308§", "-\U00050005", "-\u0308\U00050005", "-\u0e01", "-\u0308\u0e01",
    ),
    "LB25 as of 16.0: a full stop or comma stays with the digit behind it, whatever stands before": (
        ",0", ",\u03080", "a.2 ", "a.2 क", "a.2 本", "a.2\u3000本", "a.2\u3000ま", "a.2\u30003", "a.2\u3000「",
        "A.1 못", "봤어. A.2 볼", "봐요. A.3 못", "요. A.4 못",
    ),
    "LB15c, new in 16.0: a break before a full stop that begins a number": ("equals .35 cents",),
    "LB15 was dropped in 15.1: straight quotes no longer hold on to a bracket behind a space": (
        '" \u2329', '"\u0308 \u2329', '" (', '"\u0308 (',
    ),
    "LB15a and LB15b, new in 15.1: whether a quote opens or closes is told by what stands around it": (
        "ambigu(« \u0308 »)(e\u0308)", "ambigu« ( \u0308 ) »(e\u0308)",
        "ambigu{« \u0308 »}(e\u0308)", "ambigu« { \u0308 } »(e\u0308)",
    ),
    "LB21a as of 16.0: a hyphen between two Hebrew letters allows a break": ("א-א",),
}  # fmt: skip
"""Debian's file is that of Unicode 15.0; ICU follows 16.0. Every case that 16.0 decides otherwise, by rule."""

MANDATORY = set("\n\r\v\f\x85\u2028\u2029")


class Published(TestCase):
    def test_all_cases(self) -> None:
        cases = [line.split("#")[0].split() for line in FILE.read_text().splitlines() if line and line[0] != "#"]
        self.assertGreater(len(cases), 7000)
        deviating = set()
        for signs in cases:
            text = "".join(chr(int(sign, 16)) for sign in signs if sign not in "÷×")
            if MANDATORY & set(text):
                continue  # paragraphs are parted at mandatory breaks before any line is broken
            wanted = [index // 2 for index, sign in enumerate(signs) if sign == "÷" and index]
            found, offset = [], 0
            for unit in units(text):
                offset += len(unit)
                found.append(offset)
            if found != wanted:
                deviating.add(text)
        self.assertEqual(deviating, {text for texts in DEVIATIONS.values() for text in texts})


class Pieces(TestCase):
    @given(st.text(st.characters(exclude_categories=("Cs",), exclude_characters="".join(MANDATORY)), max_size=40))
    def test_they_are_the_text_again(self, text: str) -> None:
        self.assertEqual("".join(units(text)), text)

    def test_characters_beyond_sixteen_bits_count_as_one(self) -> None:
        """ICU counts UTF-16 code units."""
        self.assertEqual(units("😀😀 gate 😀 wall"), ["😀", "😀 ", "gate ", "😀 ", "wall"])

    def test_scripts_without_spaces_break_at_words_or_characters(self) -> None:
        """UAX #14, 3.1: Chinese between most characters; Thai by a dictionary, which ICU has."""
        self.assertEqual(units("防波堤受损。"), ["防", "波", "堤", "受", "损。"])
        self.assertEqual(units("กำแพงทะเลพัง"), ["กำแพง", "ทะเล", "พัง"])

    def test_small_kana_do_not_begin_a_line(self) -> None:
        """CSS Text 3, 5.2: ``line-break: strict``; UAX #14, LB1: CJ as NS."""
        self.assertEqual(units("ちょっと"), ["ちょっ", "と"])

    def test_each_thread_has_an_iterator_of_its_own(self) -> None:
        """ICU: an iterator may not be used by two threads at a time."""
        texts = ["one two three " * 50, "eins–zwei drei/vier " * 50, "防波堤受损。" * 50]
        wanted = [units(text) for text in texts]
        with ThreadPoolExecutor(8) as pool:
            self.assertEqual([*pool.map(units, texts * 200)], wanted * 200)
