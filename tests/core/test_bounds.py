"""Whatever the schema of texts takes, the core takes: every setting of every kind of block, and all formatting, at its bounds."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from dataclasses import replace
from typing import Any
from unittest import mock

from mellowspine.core.checkup.findings import State, check
from mellowspine.core.formats import WRITERS
from mellowspine.core.formats import read as read_file
from mellowspine.core.formats.parted import part_long
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    MOST_CHARACTERS,
    Cell,
    DataTable,
    Image,
    Marks,
    Paragraph,
    Run,
    size_within_bounds,
)
from mellowspine.core.report.elements import (
    MARKS,
    SHAPES,
    Element,
    Read,
    Words,
    element_of,
    is_kind,
    read_block,
    validate,
)
from mellowspine.core.report.labels import known_label
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued
from mellowspine.core.structure.by_hand import find_by_hand
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline
from mellowspine.core.structure.repeated import repeated
from mellowspine.core.tables.settle import settle_all

_NUMBERS = (-500, -1, 0, 0.5, 1, 2, 9, 10, 40, 63, 100, 400, 500, 5000, 9999)
_WORDS = (
    "-", "_", "Fig_1", "Équation", "a", "A" * 40, "a" * 64, "_" * 64, "x" * 80, "é" * 200, "y" * 500, " ", "\u200b", "\U0001f600",
    "left", "center", "right", "justify", "none", "appendix", "label", "number", "page", "words", "where", "heading-1",
    "contents", "figures", "authorities", "index", "f" * 32 + ".png", "Caladea", "Liberation Mono", "#00ff00",
    "https://example.org/" + "x" * 1900, "#" + "a" * 64, "mailto:a@b.c", "javascript:alert(1)",
)  # fmt: skip
_OTHERS = (True, False, [[["a", "b", "c"], True]], [[["z" * 80], False]])


def values(read: Read) -> Iterator[Any]:
    """Those values that a setting takes, the least and the most among them."""
    return (one for one in (*_NUMBERS, *_WORDS, *_OTHERS) if read(one) is not None)


def filled(tag: str, **attributes: Any) -> Element:
    """An element with something in it wherever something can be."""
    shape = SHAPES[tag]
    inside: list[Element | Words] = [filled(one) for one in sorted(shape.holds)]
    if shape.words:
        inside = [Words("Some words."), *inside, Words(" More words, and so on.")]
    return Element(tag, ({"id": f"the-{tag}"} if is_kind(tag) else {}) | attributes, inside)


def cases() -> Iterator[tuple[str, Element]]:
    for tag, shape in SHAPES.items():
        for name, read in shape.attributes.items():
            for value in values(read):
                yield f"{tag} {name} {value!r:.60}", within_block(filled(tag, **{name: value}))
    for mark, reads in MARKS.items():
        for name, read in reads.items():
            for value in values(read):
                said = {"id": "m", "of": "x", "entries": [[["t"], False]], "href": "#the-image"}
                words = Words("Marked words", {mark: {one: said[one] for one in reads if one in said} | {name: value}})
                yield f"{mark} {name} {value!r:.60}", Element("paragraph", {"id": "p", "caption": "figure"}, [words])


def within_block(element: Element) -> Element:
    """A block in which an element stands, as deep as it has to."""
    while not is_kind(element.tag):
        outer = next(tag for tag, shape in SHAPES.items() if element.tag in shape.holds)
        element = Element(outer, {"id": f"the-{outer}"} if is_kind(outer) else {}, [element])
    return element


class Bounds(unittest.TestCase):
    def test_everything_is_computed_of_each_setting_at_its_bounds(self) -> None:
        """None of the guards that keep one block from spoiling the rest is needed for it."""
        typefaces, count = Typefaces(), 0
        others = (Paragraph("h", "heading-1", (Run("A heading"),)), Paragraph("b", "body", (Run("Some words."),)))
        tables = {name: Issued(Recipe()) for name in ("t", "a")}
        for name, element in cases():
            count += 1
            with self.subTest(name):
                self.assertIsNone(validate(element))
                report = Report("Title", (*others, read_block(element, "x")), tables=tables)
                with self.assertNoLogs("mellowspine", "ERROR"):
                    headings = outline(report)
                    pages = paginate(report, typefaces)
                    list_markers(report)
                    settled, _ = settle_all(report, typefaces)
                    found = find_by_hand(report)
                    check(State(report, headings, pages, found, repeated(report)))
                    for format in WRITERS.values():
                        format.write(Written(settled, pages, typefaces, {}))
        self.assertGreater(count, 150)

    def test_a_label_that_nobody_made_is_called_by_its_id(self) -> None:
        for id, name in (("Fig_1", "Fig_1"), ("box-two", "Box two"), ("-", "Figure"), ("a" * 64, "A" + "a" * 39)):
            self.assertEqual(known_label({}, id).name, name)

    def test_a_picture_keeps_its_proportions_as_far_as_it_can(self) -> None:
        self.assertEqual(size_within_bounds(300, 200), (300, 200))
        self.assertEqual(size_within_bounds(6000, 3000), (5000, 2500))
        self.assertEqual(size_within_bounds(0.75, 6000), (1, 5000))


class Long(unittest.TestCase):
    def test_paragraphs_of_files_that_are_too_long_are_parted_and_no_word_is_lost(self) -> None:
        words = "".join(f"word{number}, " for number in range(25_000))
        self.assertGreater(len(words), 2 * MOST_CHARACTERS)
        found = read_file("long.txt", f"Before.\n\n{words}\n\nAfter.".encode())
        parts = [one for one in found.report.blocks if isinstance(one, Paragraph)]
        self.assertEqual("".join(one.text for one in parts[1:-1]), words.strip())
        self.assertTrue(all(len(one.text) <= MOST_CHARACTERS and one.text[-2:] == ", " for one in parts[1:-2]))
        self.assertEqual(len({one.id for one in parts}), len(parts))
        self.assertEqual(
            [(note.sentence, note.count) for note in found.notes],
            [("Paragraphs of more than 100,000 characters: parted into several", 1)],
        )

    def test_in_data_tables_without_spaces_and_with_formatting_they_are_parted_as_well(self) -> None:
        long = Paragraph(
            "p" * 64,
            "cell",
            (Run("a" * 99_999), Run("b" * 150_000, Marks(bold=True)), Run("c")),
            caption="figure",
            indent=3.0,
        )
        (table,), count = part_long([DataTable("t", ((Cell((long,)), Cell((Paragraph("q"),))),))])
        assert isinstance(table, DataTable)
        parts = table.rows[0][0].paragraphs
        self.assertEqual(count, 1)
        self.assertEqual([len(one.text) for one in parts], [100_000, 100_000, 50_000])
        self.assertEqual([one.caption for one in parts], ["figure", None, None])
        self.assertEqual({one.indent for one in parts}, {3.0})
        self.assertEqual(parts[0].runs, (Run("a" * 99_999), Run("b", Marks(bold=True))))
        self.assertEqual(parts[2].runs, (Run("b" * 49_999, Marks(bold=True)), Run("c")))
        self.assertIsNone(validate(element_of(table)))


class OneBlock(unittest.TestCase):
    def test_a_block_that_cannot_be_measured_or_drawn_costs_its_own_place_alone(self) -> None:
        report = Report(
            "T", (Paragraph("a", "body", (Run("One"),)), Image("i", "", 10, 10), Paragraph("b", "body", (Run("Two"),)))
        )
        typefaces = Typefaces()
        with (
            mock.patch("mellowspine.core.kinds.picture.fitted", side_effect=ZeroDivisionError),
            self.assertLogs("mellowspine.core.pages", "ERROR"),
        ):
            pages = paginate(report, typefaces)
            data = WRITERS[".pdf"].write(Written(report, pages, typefaces, {}))
        self.assertEqual(len(pages), 1)
        self.assertTrue(data.startswith(b"%PDF"))
        without = paginate(replace(report, blocks=(report.blocks[0], report.blocks[2])), typefaces)
        self.assertEqual(pages.boxes[0], without.boxes[0])
        self.assertEqual(pages.boxes[2], without.boxes[1])
