"""Where a line may break, against LineBreakTest.txt of the Unicode Character Database (Debian: unicode-data)."""

from __future__ import annotations

import re
from itertools import pairwise
from pathlib import Path
from random import Random
from unittest import TestCase

from hypothesis import example, given, settings
from hypothesis import strategies as st
from uniseg.linebreak import line_break, line_break_units

from mellowspine.core.pages.breaks import LETTERS, units
from mellowspine.core.pages.uax14 import CHARACTERS, breaks

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
"""Debian's file is that of Unicode 15.0; our library follows 16.0. Every case that 16.0 decides otherwise, by rule."""

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


class Shortcut(TestCase):
    @settings(max_examples=2000)
    @given(st.text(alphabet="ab 1 2.,:;!?()[]'\"‘’“”-–—/%$£€é …\u00a0&漢žΔЖ", min_size=1, max_size=14))
    @example("’:,    ?”")
    def test_the_short_way_gives_what_the_rules_give(self, text: str) -> None:
        self.assertEqual(units(text), list(line_break_units(text)))

    def test_what_counts_as_a_letter_is_one(self) -> None:
        letters = re.compile(f"[{LETTERS}]")
        found = {line_break(chr(code)).value for code in range(0x3000) if letters.match(chr(code))}
        self.assertLessEqual(found, {"AL", "XX"})  # LB1: what is no character yet counts as a letter


def _signs() -> list[str]:
    """A few characters of each kind that the rules tell apart."""
    kinds: dict[tuple[object, ...], list[str]] = {}
    for code in (*range(0x20, 0xD800), *range(0xE000, 0x1FB00)):
        kind = tuple(CHARACTERS[chr(code)])
        if len(kinds.setdefault(kind, [])) < 3:
            kinds[kind].append(chr(code))
    return [
        sign for signs in kinds.values() for sign in signs if line_break(sign).value not in ("BK", "CR", "LF", "NL")
    ]


class Rules(TestCase):
    def test_they_are_those_of_the_library(self) -> None:
        """Source: uniseg, which follows 16.0. Of marks at the end it does not know that the text ends behind them."""
        chance, signs = Random(14), _signs()
        self.assertGreater(len(signs), 150)
        for _ in range(6000):
            text = "".join(chance.choices(signs, k=chance.randint(1, 9)))
            while CHARACTERS[text[-1]].kind in ("CM", "ZWJ"):
                text += "a"
            found = [0, *breaks(text), len(text)]
            parts = [text[start:end] for start, end in pairwise(found)]
            self.assertEqual(parts, list(line_break_units(text)), [hex(ord(sign)) for sign in text])
