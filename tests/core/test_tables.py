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

from mellowspine.core.pages.draw import Drawing, Words
from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import Marks, Paragraph, PlacedTable, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.recipes import HERE, Recipe, changed
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Emphasis, Issued, Line, line_from_json, line_to_json
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables import kinds
from mellowspine.core.tables.behind import Difference, behind
from mellowspine.core.tables.kinds import Sources, TableKind, build, sources_of
from mellowspine.core.tables.own import standings, with_heading_words, with_words, worded
from mellowspine.core.tables.renumbering import renumberings, sentence
from mellowspine.core.tables.settle import catch_up, reselected, settle_all, with_contents
from tests.core import line_cases

from .samples import TYPEFACES, blocks, heading, paged, text


def line(id: str, text: str = "", page: str = "1", level: int = 1, number: str = "") -> Line:
    return Line(id, level, number, text or id, (page,))


@contextmanager
def growing(words: Callable[[int], str]) -> Iterator[None]:
    """A kind of table whose lines have words that hang on their page numbers."""

    def lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
        for one, page in zip(sources.headings, sources.on, strict=True):
            yield Line(one.id, 1, "", f"{one.text} {words(page)}", (str(page),))

    kind = TableKind("growing", Recipe(kind="growing"), lines, "Nothing.", lambda *_: "")
    with mock.patch.dict(kinds._KINDS, {"growing": kind}):
        yield


class Building(TestCase):
    def test_it_lists_the_levels_of_the_recipe_with_their_pages(self) -> None:
        pages = paged(heading("a", 1), text("t", 60), heading("b", 3), heading("c", 4), text("u"))
        lines = build(Recipe(), sources_of(outline(pages.report), pages))
        self.assertEqual([(one.source, *one.pages) for one in lines], [("a", "1"), ("b", "2")])

    def test_what_was_kept_before_lines_had_several_pages_and_emphasis_is_read(self) -> None:
        self.assertEqual(line_from_json(["a", 1, "", "Aims", "3"]), line("a", "Aims", "3"))
        self.assertEqual(line_from_json(json.loads(json.dumps(line_to_json(line("a"))))), line("a"))


def listed(recipe: Recipe, *all_blocks, at: int | None = None) -> list[tuple[str, int]]:
    pages = paged(*all_blocks)
    return [(one.source, one.level) for one in build(recipe, sources_of(outline(pages.report), pages, at))]


class WhatGoesIn(TestCase):
    CHAPTERS = (
        heading("a"), text("n", style="quotation"), heading("a1", 2), heading("a11", 3),
        heading("b"), heading("b1", 2), text("m", style="quotation"), heading("c"),
    )  # fmt: skip

    def test_a_table_in_a_chapter_lists_that_chapter(self) -> None:
        here = changed(Recipe(), {("section",): HERE})
        self.assertEqual(listed(here, *self.CHAPTERS, at=1), [("a1", 2), ("a11", 3)])
        self.assertEqual(listed(here, *self.CHAPTERS, at=3), [("a11", 3)], "it stands in section a1")
        self.assertEqual(listed(here, *self.CHAPTERS, at=8), [], "the last section has nothing beneath it")
        self.assertEqual(len(listed(here, text("t"), *self.CHAPTERS, at=0)), 6, "in front of all headings it lists all")

    def test_a_table_lists_the_section_that_it_names_wherever_it_stands(self) -> None:
        named = changed(Recipe(), {("section",): "b"})
        self.assertEqual(listed(named, *self.CHAPTERS, at=0), [("b1", 2)])

    def test_a_table_whose_section_is_gone_lists_nothing(self) -> None:
        self.assertEqual(listed(changed(Recipe(), {("section",): "gone"}), *self.CHAPTERS), [])

    def test_a_style_without_an_outline_level_feeds_it_in_the_order_of_the_text(self) -> None:
        fed = changed(Recipe(), {("feeds",): {"quotation": 2, "deleted": 1}, ("levels",): [1, 2]})
        found = [id for id, _ in listed(fed, *self.CHAPTERS)]
        self.assertEqual(found, ["a", "n", "a1", "b", "b1", "m", "c"])

    def test_headings_can_be_listed_at_another_level_or_not_at_all(self) -> None:
        fed = changed(Recipe(), {("feeds",): {"heading-3": 2, "heading-2": 0}, ("levels",): [1, 2]})
        self.assertEqual(listed(fed, *self.CHAPTERS), [("a", 1), ("a11", 2), ("b", 1), ("c", 1)])

    def test_single_paragraphs_are_put_in_and_kept_out_whatever_their_styles(self) -> None:
        inside = replace(text("n", style="quotation"), listed=2)
        outside = replace(heading("b"), listed=0)
        fed = changed(Recipe(), {("feeds",): {"quotation": 3}})
        self.assertEqual(listed(fed, heading("a"), inside, outside), [("a", 1), ("n", 2)])

    def test_what_is_set_otherwise_within_a_heading_is_so_in_its_line(self) -> None:
        runs = (
            Run("  On  "),
            Run("Tides ", Marks(italic=True)),
            Run("\nand "),
            Run("walls", Marks(bold=False, underline=True)),
        )
        pages = paged(Paragraph("a", "heading-1", runs))
        (line,) = build(Recipe(), sources_of(outline(pages.report), pages))
        self.assertEqual(line.text, "On Tides and walls")
        self.assertEqual(
            [(line.text[one.start : one.end], one.how) for one in line.emphasis], [("Tides ", "i"), ("walls", "bu")]
        )
        (plain,) = build(changed(Recipe(), {("formatting",): False}), sources_of(outline(pages.report), pages))
        self.assertEqual(plain.emphasis, ())

    def test_a_heading_that_is_all_bold_is_one_that_looks_so_and_one_in_italics_is_a_title(self) -> None:
        for marks, wanted in ((Marks(bold=False), []), (Marks(underline=True), []), (Marks(italic=True), ["i"])):
            pages = paged(Paragraph("a", "heading-1", (Run("The Tides", marks),)))
            (line,) = build(Recipe(), sources_of(outline(pages.report), pages))
            self.assertEqual([one.how for one in line.emphasis], wanted)


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

    def test_words_in_italics_now_are_a_change_and_those_in_other_words_are_renamed(self) -> None:
        italic = line("a")._replace(emphasis=(Emphasis(0, 1, "i"),))
        self.assertEqual(self.kinds([line("a")], [italic]), [("a", ("formatting",))])
        self.assertEqual(self.kinds([line("a", "b")], [italic]), [("a", ("renamed",))])

    @given(st.data())
    def test_it_is_what_the_definition_says(self, data: st.DataObject) -> None:
        """Against brute force: each line compared by itself, and moved lines by trying every choice of lines that stay."""
        old, new = (data.draw(tables) for _ in range(2))
        found = behind(old, new)
        before, now = {one.source: one for one in old}, {one.source: one for one in new}
        common = [one.source for one in new if one.source in before]
        order = {source: place for place, source in enumerate(before)}
        staying = max(
            size
            for size in range(len(common) + 1)
            if any([*kept] == sorted(kept, key=order.__getitem__) for kept in combinations(common, size))
        )
        self.assertEqual(sum("moved" in one.kinds for one in found), len(common) - staying)
        kinds = {one.line.source: {*one.kinds} for one in found}
        for source in {*before, *now}:
            was, is_now = before.get(source), now.get(source)
            if was is None:
                wanted = {"new"}
            elif is_now is None:
                wanted = {"gone"}
            else:
                wanted = {
                    kind
                    for kind, field in (
                        ("level", "level"),
                        ("renamed", "text"),
                        ("renumbered", "number"),
                        ("page", "pages"),
                    )
                    if getattr(was, field) != getattr(is_now, field)
                }
            self.assertEqual(kinds.get(source, set()) - {"moved"}, wanted)

    @given(st.data())
    def test_chosen_lines_alone_are_brought_up_to_date(self, data: st.DataObject) -> None:
        old, new = (data.draw(tables) for _ in range(2))
        chosen = data.draw(st.sets(st.sampled_from("abcdefgh")))
        caught = catch_up(Issued(lines=tuple(old)), tuple(new), chosen)
        left = {one.line.source for one in behind(old, new)} - chosen
        self.assertLessEqual({one.line.source for one in behind(caught.lines, new) if one.kinds != ("moved",)}, left)
        untouched = [one for one in old if one.source not in chosen]
        self.assertEqual([one for one in caught.lines if one.source not in chosen], untouched)
        everything = catch_up(Issued(lines=tuple(old)), tuple(new), {*"abcdefgh"})
        self.assertEqual({*everything.lines}, {*new})

    def test_a_new_line_that_is_chosen_goes_where_the_text_has_it(self) -> None:
        issued = Issued(lines=(line("a"), line("gone"), line("c")))
        caught = catch_up(issued, (line("a"), line("n"), line("b"), line("c")), {"b"})
        self.assertEqual([one.source for one in caught.lines], ["a", "b", "gone", "c"])

    def test_page_numbers_alone_leave_words_and_order(self) -> None:
        issued = Issued(lines=(line("a", "Old words", "1"), line("gone", page="3"), line("b", page="4")))
        caught = catch_up(issued, (line("b", page="5"), line("a", "New words", "2"), line("n")), "pages")
        self.assertEqual(
            [(one.text, *one.pages) for one in caught.lines], [("Old words", "2"), ("gone", "3"), ("b", "5")]
        )


tables = st.lists(
    st.builds(
        Line,
        st.sampled_from("abcdefgh"),
        st.integers(1, 2),
        st.sampled_from(["", "1", "2"]),
        st.sampled_from(["Aims", "Terms"]),
        st.sampled_from([("1",), ("2",)]),
        st.just(()),
        st.just(()),
    ),
    max_size=7,
    unique_by=lambda one: one.source,
)
"""Lines of a table, whatever stands in them."""


class WhatItListsChanges(TestCase):
    def test_another_recipe_adds_and_takes_out_lines_and_catches_up_nothing_else(self) -> None:
        issued = Issued(lines=(line("a", "Old words", "1"), line("a1", level=2), line("gone")))
        before = (line("a", "New words", "2"), line("a1", level=2), line("b"))
        now = (line("a", "New words", "2"), line("d", level=4), line("b"))
        self.assertEqual(
            [(one.source, one.text) for one in reselected(issued, before, now).lines],
            [("a", "Old words"), ("d", "d"), ("gone", "gone")],
        )

    def test_a_style_listed_at_another_level_takes_its_lines_there(self) -> None:
        issued = Issued(lines=(line("a", "Old", level=3), line("b", level=1)))
        before = (line("a", "New", level=3), line("b", level=3))
        now = (line("a", "New", level=2), line("b", level=2))
        self.assertEqual([one.level for one in reselected(issued, before, now).lines], [2, 1])


class InOwnWords(TestCase):
    def setUp(self) -> None:
        self.plain = (line("a", "The aims of the survey"), line("b", "Terms"), line("c", "Costs"))
        self.issued = Issued(lines=self.plain)

    def test_words_stand_at_once_and_through_every_catching_up(self) -> None:
        mine = with_words(self.issued, "a", "  Aims ", self.plain)
        now = (line("a", "The aims of the new survey", "4"), *self.plain[1:])
        for scope in ("everything", "pages", {"a"}):
            caught = catch_up(mine, now, scope)
            self.assertEqual(next((one.text, *one.pages) for one in caught.lines), ("Aims", "4"))
        self.assertEqual(behind(catch_up(mine, now, "everything").lines, worded(now, mine.own)), ())

    def test_the_line_asks_when_its_heading_has_other_words_and_no_more_once_somebody_has_chosen(self) -> None:
        mine = with_words(self.issued, "a", "Aims", self.plain)
        now = (line("a", "Purposes"), *self.plain[1:])
        (asks,) = standings(mine.own, now)
        self.assertEqual(
            (asks.asks, asks.words, asks.then, asks.now), (True, "Aims", "The aims of the survey", "Purposes")
        )
        self.assertFalse(standings(with_words(mine, "a", "Aims", now).own, now)[0].asks)
        back = with_heading_words(mine, "a", now)
        self.assertEqual((back.lines[0].text, dict(back.own)), ("Purposes", {}))

    def test_a_line_left_out_stays_out_and_comes_back_to_its_place(self) -> None:
        mine = with_words(self.issued, "b", None, self.plain)
        self.assertEqual([one.source for one in mine.lines], ["a", "c"])
        self.assertEqual([one.source for one in catch_up(mine, self.plain, "everything").lines], ["a", "c"])
        self.assertEqual(with_heading_words(mine, "b", self.plain).lines, self.plain)
        self.assertEqual(
            [one.text for one in with_words(mine, "b", "Mine", self.plain).lines],
            ["The aims of the survey", "Mine", "Costs"],
        )

    def test_words_for_a_heading_that_is_gone_are_kept_until_it_is_back(self) -> None:
        mine = with_words(self.issued, "b", "Mine", self.plain)
        gone = (self.plain[0], self.plain[2])
        caught = catch_up(mine, gone, "everything")
        self.assertEqual([one.source for one in caught.lines], ["a", "c"])
        (kept,) = standings(caught.own, gone)
        self.assertEqual((kept.words, kept.now, kept.asks), ("Mine", None, False))
        self.assertEqual(catch_up(caught, self.plain, "everything").lines[1].text, "Mine")

    def test_the_headings_own_words_are_no_own_words(self) -> None:
        mine = with_words(self.issued, "b", "Mine", self.plain)
        self.assertEqual(with_words(mine, "b", " Terms ", self.plain), self.issued)

    def test_words_for_a_heading_that_went_while_they_were_written_wait_for_it(self) -> None:
        mine = with_words(self.issued, "x", "Mine", self.plain)
        self.assertEqual((mine.lines, mine.own["x"].words), (self.issued.lines, "Mine"))
        now = (*self.plain, line("x", "Back again"))
        self.assertEqual(catch_up(mine, now, "everything").lines[-1].text, "Mine")
        self.assertFalse(standings(mine.own, now)[0].asks)

    def test_what_is_no_line_at_all_is_neither_worded_nor_left_out(self) -> None:
        for source, words in (("x", None), ("no id", "Mine"), ("i" * 65, "Mine")):
            self.assertEqual(with_words(self.issued, source, words, self.plain), self.issued)


class RenumberingThatFollows(TestCase):
    def said(self, old: list[Line], new: list[Line], who: dict[str, str] | None = None) -> list[str]:
        return [sentence(one, who or {}) for one in renumberings(behind(old, new))]

    def test_forty_lines_behind_one_that_was_removed_are_one_sentence(self) -> None:
        old = [line(f"x{n}", number=f"9.1.{n}") for n in range(1, 43)]
        new = [one._replace(number=f"9.1.{n - 1}") if n > 2 else one for n, one in enumerate(old, 1) if n != 2]
        self.assertEqual(
            self.said(old, new, {"x2": "Ines"}),
            ["9.1.3 to 9.1.42 count one less, since 9.1.2 “x2” was removed by Ines."],
        )

    def test_all_that_stands_beneath_a_new_chapter_goes_with_it(self) -> None:
        old = [line("a", number="1"), line("b", number="2"), line("b1", number="2.1"), line("c", number="3")]
        new = [old[0], line("n", number="2"), line("b", number="3"), line("b1", number="3.1"), line("c", number="4")]
        self.assertEqual(self.said(old, new), ["2 to 3 count one more, since 2 “n” was added."])

    def test_what_changes_elsewhere_is_no_cause(self) -> None:
        old = [
            line("a", number="1"),
            line("a1", number="1.1"),
            line("b", number="2"),
            line("b1", number="2.1"),
            line("b2", number="2.2"),
        ]
        new = [line("a", number="1"), line("b", number="2"), line("b2", number="2.1")]
        self.assertEqual(self.said(old, new), ["2.2 counts one less, since 2.1 “b1” was removed."])

    def test_a_section_that_moved_renumbers_those_between(self) -> None:
        old = [line(c, number=str(n)) for n, c in enumerate("abcd", 1)]
        new = [line(c, number=str(n)) for n, c in enumerate("bcda", 1)]
        self.assertEqual(self.said(old, new), ["2 to 4 count one less, since 4 “a” was moved."])

    def test_what_stands_beneath_a_section_of_another_level_now(self) -> None:
        old = [line("a", number="1"), line("b", number="1.1", level=2), line("c", number="1.2", level=2)]
        new = [line("a", number="1"), line("b", number="2"), line("c", number="2.1", level=2)]
        self.assertEqual(
            self.said(old, new, {"b": "Maren"}),
            ["1.2 is numbered otherwise, since 2 “b” was put on another level by Maren."],
        )

    def test_letters_and_a_numbering_of_another_kind(self) -> None:
        old = [line("a", number="A"), line("b", number="B"), line("c", number="C")]
        self.assertEqual(
            self.said(old, [line("b", number="A"), line("c", number="B")])[0],
            "B to C are numbered otherwise, since A “a” was removed.",
        )
        self.assertEqual(self.said([line("a", number="1")], [line("a", number="I")]), ["1 is numbered otherwise."])

    @given(st.data())
    def test_each_line_that_only_follows_is_said_once(self, data: st.DataObject) -> None:
        old, new = (data.draw(tables) for _ in range(2))
        differences = behind(old, new)
        said: list[Difference] = [one for run in renumberings(differences) for one in run.lines]
        self.assertEqual(len(said), len({one.line.source for one in said}))
        for one in said:
            self.assertIn("renumbered", one.kinds)
        for run in renumberings(differences):
            self.assertTrue(sentence(run, {}).endswith("."))


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
        self.assertEqual(report.tables["t"].lines, build(Recipe(), sources_of(outline(report), pages)))

    def test_lines_that_grow_with_their_page_numbers_settle_in_further_rounds(self) -> None:
        """Here each line says its page number in words as long as the number is large."""
        headings = tuple(b for n in range(40) for b in (heading(f"h{n}"), text(f"t{n}", 12)))
        report = Report("r", (PlacedTable("t", "t"), *headings), tables={"t": Issued(Recipe(kind="growing"))})
        with growing(lambda page: "on and on " * 3 * page):
            report, pages = settle_all(report, TYPEFACES)
            issued = report.tables["t"]
            self.assertEqual(issued.lines, build(issued.recipe, sources_of(outline(report), pages)))
        self.assertEqual(list(pages.starts), list(paginate(report, TYPEFACES).starts))

    def test_lines_that_never_settle_are_left_behind_the_text_and_not_waited_for(self) -> None:
        """The line is long where its heading is on page 2, which takes the heading to page 4; there the line is short."""
        report = Report(
            "r", (PlacedTable("t", "t"), text("a", 50), heading("h")), tables={"t": Issued(Recipe(kind="growing"))}
        )
        with growing(lambda page: "on and on " * 400 * (page < 3)):
            report, pages = settle_all(report, TYPEFACES)
            issued = report.tables["t"]
            (difference,) = behind(issued.lines, build(issued.recipe, sources_of(outline(report), pages)))
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
        fresh = build(Recipe(), sources_of(outline(edited), pages))
        self.assertEqual([d.kinds for d in behind(report.tables["contents"].lines, fresh)], [("gone",)])


class BadInput(TestCase):
    """Whatever headings and recipes hold, every line is there, and stands between the edges of the page."""

    def drawn(self, recipe: Recipe, *all_blocks, tables: int = 1) -> tuple[list[Line], list[Words]]:
        placed = tuple(PlacedTable(f"t{n}", f"t{n}") for n in range(tables))
        issued = {f"t{n}": Issued(recipe) for n in range(tables)}
        report, pages = settle_all(Report("r", (*placed, *all_blocks), tables=issued), TYPEFACES)
        drawing = Drawing(pages, TYPEFACES)
        marks = [mark for page in range(1, len(pages) + 1) for mark in drawing.page(page) if isinstance(mark, Words)]
        for mark in marks:
            self.assertGreaterEqual(mark.x, -1e-6)
            if not mark.step:
                self.assertLessEqual(mark.x + mark.face.width(mark.text) * mark.size, report.page.text_width + 20)
        return list(report.tables["t0"].lines), marks

    def test_headings_of_any_length(self) -> None:
        long = "Water " * 333
        word = "Pool" * 120
        lines, marks = self.drawn(Recipe(), heading("a", 1, long), heading("b", 2, word), heading("c", 1, "  "))
        self.assertEqual([line.text for line in lines], [" ".join(long.split()), word])
        self.assertIn(word, "".join(mark.text for mark in marks))

    def test_levels_that_skip_keep_their_own_look(self) -> None:
        recipe = changed(Recipe(), {("levels",): [1, 2, 3, 4, 5, 6, 7, 8, 9]})
        lines, _ = self.drawn(recipe, heading("a", 3), heading("b", 9), heading("c", 1))
        self.assertEqual([line.level for line in lines], [3, 9, 1])

    def test_an_indent_wider_than_the_page_leaves_room_for_words(self) -> None:
        far = {("looks", str(level), "indent"): 500.0 for level in range(1, 10)}
        for more in ({}, {("numbers",): "margin"}, {("columns",): 2}, {("looks", "2", "hang"): 200.0}):
            with self.subTest(more):
                lines, marks = self.drawn(
                    changed(Recipe(), far | more), heading("a"), heading("b", 2, "Walls and gates " * 5)
                )
                self.assertEqual(len(lines), 2)
                self.assertIn("Heading a", [mark.text for mark in marks])

    def test_on_the_widest_paper_too(self) -> None:
        far = {("looks", str(level), "indent"): 500.0 for level in range(1, 10)} | {("looks", "1", "hang"): 200.0}
        recipe = changed(Recipe(), far | {("numbers",): "hung"})
        report = Report("r", (PlacedTable("t", "t"), heading("a", 1, "Walls " * 400)), page=PageSetup(width=5000),
                        numbering=SCHEMES["decimal"], tables={"t": Issued(recipe)})  # fmt: skip
        report, pages = settle_all(report, TYPEFACES)
        self.assertEqual(pages.page_of(1), 1)

    def test_a_style_in_a_recipe_that_was_deleted_counts_no_more(self) -> None:
        recipe = changed(Recipe(), {("title_style",): "deleted", ("feeds",): {"deleted": 1}})
        lines, marks = self.drawn(recipe, heading("a"))
        self.assertEqual(([line.text for line in lines], marks[0].text), (["Heading a"], "Contents"))

    def test_a_table_inside_the_section_that_it_lists(self) -> None:
        some = (heading("a"), PlacedTable("in", "t"), heading("a1", 2), text("w"), heading("b"))
        report = Report("r", some, tables={"t": Issued(changed(Recipe(), {("section",): "a"}))})
        report, pages = settle_all(report, TYPEFACES)
        self.assertEqual(
            [(one.source, *one.pages) for one in report.tables["t"].lines], [("a1", str(pages.page_of(2)))]
        )

    def test_two_tables_in_each_others_scope_are_both_true(self) -> None:
        both = {("looks", level, "space_before"): 60.0 for level in "123"}
        some = (heading("a"), PlacedTable("one", "t"), *(heading(f"a{n}", 2) for n in range(20)),
                heading("b"), PlacedTable("two", "u"), *(heading(f"b{n}", 2) for n in range(20)))  # fmt: skip
        recipes = {
            "t": changed(Recipe(), {("section",): "b"} | both),
            "u": changed(Recipe(), {("section",): "a"} | both),
        }
        report = Report("r", some, tables={key: Issued(recipe) for key, recipe in recipes.items()})
        report, pages = settle_all(report, TYPEFACES)
        for key, recipe in recipes.items():
            fresh = build(recipe, sources_of(outline(report), pages))
            self.assertEqual((report.tables[key].lines, len(fresh)), (fresh, 20))

    def test_a_table_of_nothing_says_why(self) -> None:
        pages = paged(heading("a", 4))
        sources = sources_of(outline(pages.report), pages)
        for other, said in (
            ({}, "The text has no headings of level 1, 2, 3 yet; mark some, or list other levels."),
            (
                {("section",): "gone"},
                "The section that it lists is no longer in the text; choose another one, or the whole report.",
            ),
            (
                {("section",): "a"},
                "Beneath the heading of its section there are no headings of level 1, 2, 3 yet; mark some, or list other levels.",
            ),
        ):
            recipe = changed(Recipe(), other)
            self.assertEqual(build(recipe, sources), ())
            self.assertEqual(kinds.table_kind("contents").why(recipe, sources), said)


class AsInBrowsers(TestCase):
    def test_the_cases_for_browsers_are_those_of_the_core(self) -> None:
        self.assertEqual(
            json.loads(line_cases.FILE.read_text()), line_cases.as_json(), "Run: python -m tests.core.line_cases"
        )
