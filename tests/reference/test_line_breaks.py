"""Where a line may break, against LineBreakTest.txt of the Unicode Character Database (Debian: unicode-data)."""

from __future__ import annotations

from pathlib import Path
from unittest import TestCase, skipUnless

from hypothesis import example, given, settings
from hypothesis import strategies as st
from uniseg.linebreak import line_break_units

from mellowspine.core.pages.breaks import units

FILE = Path("/usr/share/unicode/auxiliary/LineBreakTest.txt")


@skipUnless(FILE.exists(), "LineBreakTest.txt is missing; run: apt-get install unicode-data")
class Published(TestCase):
    def test_all_cases(self) -> None:
        cases = [line.split("#") for line in FILE.read_text().splitlines() if line and not line.startswith("#")]
        self.assertGreater(len(cases), 7000)
        deviating = []
        for case, comment in cases:
            signs = case.split()
            text = "".join(chr(int(sign, 16)) for sign in signs if sign not in "÷×")
            wanted, offset = [], 0
            for sign in signs[1:]:
                if sign == "÷":
                    wanted.append(offset)
                elif sign != "×":
                    offset += 1
            if MANDATORY & set(text):
                continue  # paragraphs are parted at mandatory breaks before any line is broken
            found, offset = [], 0
            for unit in units(text):
                offset += len(unit)
                found.append(offset)
            if found != wanted and not (wanted_since_16(text) or inside_numbers(text)):
                deviating.append(comment)
        self.assertEqual(deviating, [])


MANDATORY = set("\n\r\v\f\x85\u2028\u2029")


def wanted_since_16(text: str) -> bool:
    """Cases that Unicode 16.0 decides otherwise than 15.0, by which Debian's file was made; our library follows 16.0.

    LB20a: no break behind a hyphen that begins a word ("- #" → "-#"). LB15a/b: quotes that are neither opening nor
    closing no longer hold on to a bracket behind a space. LB21a: a hyphen between two Hebrew letters allows a break.
    """
    hebrew = any("\u05d0" <= c <= "\u05ea" for c in text)
    return (
        hebrew
        or text[0] in "-\u2010"
        or '"' in text
        or "'" in text
        or any(c in text for c in "\u00ab\u00bb\u201c\u201d")
    )


def inside_numbers(text: str) -> bool:
    """LB25: the published tests say of themselves that they use another treatment of numbers than the rules."""
    return any(c.isdigit() for c in text)


class Shortcut(TestCase):
    @settings(max_examples=3000, deadline=None)
    @given(st.text(alphabet="ab 1 2.,:;!?()[]'\"‘’“”-–—/%$£€é …\u00a0&漢", min_size=1, max_size=14))
    @example("’:,    ?”")
    def test_the_short_way_gives_what_the_rules_give(self, text: str) -> None:
        self.assertEqual(units(text), list(line_break_units(text)))
