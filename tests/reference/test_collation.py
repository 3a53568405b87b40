"""The order of authorities and terms against the weights that Unicode publishes (UTS #10, allkeys.txt of Debian's unicode-data)."""

from __future__ import annotations

import re
import unicodedata
import unittest
from pathlib import Path

from mellowspine.core.tables.collation import letter_of, orders

ALLKEYS = Path("/usr/share/unicode/allkeys.txt")
_LINE = re.compile(r"([0-9A-F]{4,6})\s*;\s*((?:\[\.[0-9A-F.]+\])+)\s*#")
_WEIGHTS = re.compile(r"\[\.([0-9A-F]+)\.([0-9A-F]+)\.([0-9A-F]+)\]")


def published() -> dict[str, tuple[tuple[int, ...], ...]]:
    """The weights of every Latin letter: all primary ones, then secondary, then tertiary."""
    found = {}
    for line in ALLKEYS.read_text().splitlines():
        match = _LINE.match(line)
        if (
            match
            and unicodedata.name(chr(int(match[1], 16)), "").startswith("LATIN ")
            and chr(int(match[1], 16)).isalpha()
        ):
            elements = [[int(weight, 16) for weight in one] for one in _WEIGHTS.findall(match[2])]
            found[chr(int(match[1], 16))] = tuple(tuple(one[at] for one in elements if one[at]) for at in range(3))
    return found


class Order(unittest.TestCase):
    def test_latin_letters_stand_in_the_published_order(self) -> None:
        weights = published()
        self.assertGreater(len(weights), 900)
        key = orders("en-GB", False)
        ours = sorted(weights, key=lambda one: (key(one), weights[one], one))
        theirs = sorted(weights, key=lambda one: (weights[one], one))
        # CLDR, whose order ICU has, puts no letter elsewhere; whatever differs is told with its name.
        wrong = [
            unicodedata.name(one)
            for one, other in zip(ours, theirs, strict=True)
            if weights[one][0] != weights[other][0]
        ]
        self.assertEqual(wrong, [])

    def test_accents_and_capitals_come_after_the_letters(self) -> None:
        """UTS #10, 1.1: levels are compared one after the other."""
        for language, words in (
            ("en-GB", ["cote", "coté", "côte", "côté"]),
            ("fr-CA", ["cote", "côte", "coté", "côté"]),  # accents from the end on: UTS #10, table 4
            ("sv", ["Zorn", "Ångström", "Ärlig", "Öberg"]),  # table 1: z before ö
            ("de", ["Öberg", "Zorn"]),
        ):
            with self.subTest(language):
                self.assertEqual(sorted({*words}, key=orders(language, False)), words)
        self.assertEqual(
            sorted(["role", "Role", "roles", "rôle"], key=orders("en-GB", False)), ["role", "Role", "rôle", "roles"]
        )

    def test_letters_over_groups(self) -> None:
        self.assertEqual([letter_of(one, "es") for one in ("ñandú", "9 gates", "llano")], ["Ñ", "…", "L"])
