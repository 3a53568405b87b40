"""The contents table: building, what is behind, catching up, settling."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from itertools import combinations
from unittest import TestCase, mock

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import (
    Issued,
    Line,
    Recipe,
    line_from_json,
    line_to_json,
    recipe_from_json,
    recipe_to_json,
)
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables import kinds
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.kinds import Sources, TableKind, build
from mellowspine.core.tables.settle import catch_up, settle_all, with_contents

from .samples import TYPEFACES, blocks, heading, paged, text


def line(id: str, text: str = "", page: str = "1", level: int = 1, number: str = "") -> Line:
    return Line(id, level, number, text or id, (page,))


@contextmanager
def growing(words: Callable[[int], str]) -> Iterator[None]:
    """A kind of table whose lines have words that hang on their page numbers."""

    def lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
        for one, page in zip(sources.headings, sources.on, strict=True):
            yield Line(one.id, 1, "", f"{one.text} {words(page)}", (str(page),))

    kind = TableKind("growing", Recipe(kind="growing"), lines, "Nothing.")
    with mock.patch.dict(kinds._KINDS, {"growing": kind}):
        yield


class Building(TestCase):
    def test_it_lists_the_levels_of_the_recipe_with_their_pages(self) -> None:
        pages = paged(heading("a", 1), text("t", 60), heading("b", 3), heading("c", 4), text("u"))
        lines = build(Recipe(), outline(pages.report), pages)
        self.assertEqual([(one.source, *one.pages) for one in lines], [("a", "1"), ("b", "2")])

    def test_a_recipe_survives_json(self) -> None:
        recipe = Recipe(title="Inhalt", levels=(1, 4), leader="-")
        self.assertEqual(recipe_from_json(recipe_to_json(recipe)), recipe)

    def test_what_was_kept_before_lines_had_several_pages_and_recipes_a_kind_is_read(self) -> None:
        self.assertEqual(line_from_json(["a", 1, "", "Aims", "3"]), line("a", "Aims", "3"))
        self.assertEqual(line_from_json(json.loads(json.dumps(line_to_json(line("a"))))), line("a"))
        look = {"indent": 4.0, "size": 9.0, "bold": True, "space_before": 1.0}
        kept = recipe_from_json({"title": "Contents", "levels": [1], "font": "Caladea", "leader": "", "looks": [look]})
        self.assertEqual((kept.kind, kept.look(1).space_after), ("contents", 2.0))


class Behind(TestCase):
    def kinds(self, old: list[Line], new: list[Line]) -> list[tuple[str, tuple[str, ...]]]:
        return [(one.line.source, one.kinds) for one in behind(old, new)]

    def test_each_kind(self) -> None:
        old = [line("a"), line("b"), line("c"), line("d"), line("e", number="5")]
        new = [line("a", page="2"), line("b", "B"), line("n"), line("d", level=2), line("e", number="4")]
        self.assertEqual(
            self.kinds(old, new),
            [("a", ("page",)), ("b", ("renamed",)), ("n", ("new",)), ("c", ("gone",)), ("d", ("level",)),
             ("e", ("renumbered",))],
        )  # fmt: skip

    def test_one_section_that_moved_is_one_line_that_moved(self) -> None:
        old = [line(c) for c in "abcdef"]
        self.assertEqual(self.kinds(old, [line(c) for c in "bcdaef"]), [("a", ("moved",))])

    def test_level_with_the_text(self) -> None:
        self.assertEqual(behind([line("a")], [line("a")]), ())

    @given(st.permutations("abcdefg"))
    def test_as_few_lines_as_possible_have_moved(self, order: list[str]) -> None:
        """Against brute force: the largest selection of lines that kept their order."""
        longest = max(
            size for size in range(1, 8) if any(list(kept) == sorted(kept) for kept in combinations(order, size))
        )
        moved = behind([line(c) for c in "abcdefg"], [line(c) for c in order])
        self.assertEqual(len(moved), 7 - longest)

    @given(st.lists(st.sampled_from("abcdefghij"), unique=True), st.lists(st.sampled_from("abcdefghij"), unique=True))
    def test_a_table_that_caught_up_is_level(self, old: list[str], new: list[str]) -> None:
        fresh = tuple(line(c, page=str(n)) for n, c in enumerate(new))
        issued = catch_up(Issued(lines=tuple(line(c) for c in old)), fresh, "everything")
        self.assertEqual(behind(issued.lines, fresh), ())

    def test_page_numbers_alone_leave_words_and_order(self) -> None:
        issued = Issued(lines=(line("a", "Old words", "1"), line("gone", page="3"), line("b", page="4")))
        caught = catch_up(issued, (line("b", page="5"), line("a", "New words", "2"), line("n")), "pages")
        self.assertEqual(
            [(one.text, *one.pages) for one in caught.lines], [("Old words", "2"), ("gone", "3"), ("b", "5")]
        )


class Settling(TestCase):
    @settings(max_examples=60)
    @given(blocks, st.booleans())
    def test_after_catching_up_the_table_is_true_of_its_own_pages(self, all_blocks, own_page: bool) -> None:
        """The table moves what it lists; two rounds are enough, whatever the report."""
        many = tuple(
            heading(f"h{n}", 1 + n % 3, f"A heading of some length, number {n} " * (1 + n % 3)) for n in range(60)
        )
        placed = PlacedTable("t", "t", own_page)
        report = Report("r", (placed, *all_blocks, *many), tables={"t": Issued()})
        report, pages = settle_all(report, TYPEFACES)
        self.assertEqual(list(pages.starts), list(paginate(report, TYPEFACES).starts))
        self.assertEqual(report.tables["t"].lines, build(Recipe(), outline(report), pages))

    def test_lines_that_grow_with_their_page_numbers_settle_in_further_rounds(self) -> None:
        """Here each line says its page number in words as long as the number is large."""
        headings = tuple(b for n in range(40) for b in (heading(f"h{n}"), text(f"t{n}", 12)))
        report = Report("r", (PlacedTable("t", "t"), *headings), tables={"t": Issued(Recipe(kind="growing"))})
        with growing(lambda page: "on and on " * 3 * page):
            report, pages = settle_all(report, TYPEFACES)
            issued = report.tables["t"]
            self.assertEqual(issued.lines, build(issued.recipe, outline(report), pages))
        self.assertEqual(list(pages.starts), list(paginate(report, TYPEFACES).starts))

    def test_lines_that_never_settle_are_left_behind_the_text_and_not_waited_for(self) -> None:
        """The line is long where its heading is on page 2, which takes the heading to page 4; there the line is short."""
        report = Report(
            "r", (PlacedTable("t", "t"), text("a", 50), heading("h")), tables={"t": Issued(Recipe(kind="growing"))}
        )
        with growing(lambda page: "on and on " * 400 * (page < 3)):
            report, pages = settle_all(report, TYPEFACES)
            issued = report.tables["t"]
            (difference,) = behind(issued.lines, build(issued.recipe, outline(report), pages))
        self.assertEqual(difference.kinds, ("renamed", "page"))
        self.assertEqual(list(pages.starts), list(paginate(report, TYPEFACES).starts))

    def test_a_table_of_its_own_pages_begins_and_ends_one(self) -> None:
        report, pages = with_contents(Report("r", (text("a"), heading("b"), text("c"))), TYPEFACES)
        self.assertEqual([pages.page_of(i) for i in range(len(report.blocks))], [1, 2, 2, 2])
        self.assertEqual(report.tables["contents"].lines[0].pages, ("2",))

    def test_a_report_that_has_a_table_gets_no_second(self) -> None:
        report, _ = with_contents(Report("r", (heading("b"),)), TYPEFACES)
        self.assertEqual(with_contents(report, TYPEFACES)[0].blocks, report.blocks)

    def test_an_unplaced_title_is_not_listed_in_its_own_table(self) -> None:
        report, _ = with_contents(Report("r", (heading("b"),)), TYPEFACES)
        self.assertEqual([one.source for one in report.tables["contents"].lines], ["b"])

    def test_removing_a_heading_leaves_it_in_the_table_as_gone(self) -> None:
        report, _ = with_contents(Report("r", (heading("a"), heading("b"), text("c"))), TYPEFACES)
        edited = replace(report, blocks=tuple(b for b in report.blocks if b.id != "a"))
        pages = paginate(edited, TYPEFACES)
        fresh = build(Recipe(), outline(edited), pages)
        self.assertEqual([d.kinds for d in behind(report.tables["contents"].lines, fresh)], [("gone",)])
