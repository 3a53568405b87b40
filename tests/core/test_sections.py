"""Sections, and the plans that rearrange them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from itertools import count
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import Bookmark, Cell, DataTable, Marks, Paragraph, Reference, Run
from mellowspine.core.report.plan import Plan, carry_out
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet
from mellowspine.core.structure.outline import outline
from mellowspine.core.structure.sections import (
    NotPossible,
    duplicate,
    join,
    move,
    remove,
    section_at,
    sections,
    shift,
    split,
    step,
)

from .samples import TYPEFACES, grid, heading, text


def report_of(said: str) -> Report:
    """A report as ``1A a 2B b``: a heading of level 1 with the words A, a paragraph with the words a, and so on; ids as words."""
    blocks = (
        heading(one[1:], int(one[0]), one[1:]) if one[0].isdigit() else Paragraph(one, "body", (Run(one),))
        for one in said.split()
    )
    return Report("r", tuple(blocks))


def said_of(report: Report) -> str:
    levels = report.styles.levels
    return " ".join(f"{levels.get(block.style, '')}{block.text}" for block in report.blocks)  # type: ignore[attr-defined]


BOOK = "x 1A a 2B b 3C c 2D d 1E e 2F f 2G g"


class Rearranging(TestCase):
    def become(self, plan: Callable[[Report], Plan], wanted: str, book: str = BOOK) -> None:
        report = report_of(book)
        self.assertEqual(said_of(carry_out(plan(report), report)), wanted)

    def refused(self, plan: Callable[[Report], object], words: str, book: str = BOOK) -> None:
        with self.assertRaisesRegex(NotPossible, words):
            plan(report_of(book))

    def test_a_section_reaches_to_the_next_heading_that_is_no_deeper(self) -> None:
        found = {one.id: (one.level, one.first, one.end) for one in sections(report_of(BOOK))}
        self.assertEqual(
            found, {"A": (1, 1, 9), "B": (2, 3, 7), "C": (3, 5, 7), "D": (2, 7, 9), "E": (1, 9, 15), "F": (2, 11, 13), "G": (2, 13, 15)}
        )  # fmt: skip

    def test_headings_without_words_and_those_in_cells_make_no_section(self) -> None:
        blocks = (heading("a"), heading("b", 2, " "), DataTable("t", ((Cell((heading("c"),)),),)), text("d"))
        self.assertEqual([(one.id, one.end) for one in sections(Report("r", blocks))], [("a", 4)])

    def test_a_section_is_moved_with_all_that_is_under_it(self) -> None:
        self.become(lambda r: move(r, ["B"], "G"), "x 1A a 2D d 1E e 2F f 2B b 3C c 2G g")
        self.become(lambda r: move(r, ["B"], None), "x 1A a 2D d 1E e 2F f 2G g 2B b 3C c")
        self.become(lambda r: move(r, ["E"], "A"), "x 1E e 2F f 2G g 1A a 2B b 3C c 2D d")

    def test_it_takes_the_level_that_is_asked_for_as_far_as_it_may_stand_there(self) -> None:
        self.become(lambda r: move(r, ["B"], None, 1), "x 1A a 2D d 1E e 2F f 2G g 1B b 2C c")
        self.become(lambda r: move(r, ["B"], None, 3), "x 1A a 2D d 1E e 2F f 2G g 3B b 4C c")
        self.become(lambda r: move(r, ["B"], None, 9), "x 1A a 2D d 1E e 2F f 2G g 3B b 4C c")
        # At level 1 it would take G in, which follows.
        self.become(lambda r: move(r, ["B"], "G", 1), "x 1A a 2D d 1E e 2F f 2B b 3C c 2G g")
        self.become(lambda r: move(r, ["C"], "A"), "x 1C c 1A a 2B b 2D d 1E e 2F f 2G g")

    def test_several_go_together_in_their_order_and_none_twice(self) -> None:
        self.become(lambda r: move(r, ["G", "C", "B"], "A"), "x 1B b 2C c 1G g 1A a 2D d 1E e 2F f")

    def test_where_it_stands_already_nothing_changes(self) -> None:
        for before in ("B", "D"):
            self.assertEqual(move(report_of(BOOK), ["B"], before), ())
        self.become(lambda r: move(r, ["D"], "E", 3), "x 1A a 2B b 3C c 3D d 1E e 2F f 2G g")

    def test_no_section_goes_into_itself_nor_below_level_9(self) -> None:
        self.refused(lambda r: move(r, ["A"], "C"), "into itself")
        deep = " ".join(f"{level}L{level}" for level in range(1, 10)) + " 1Z 2Y"
        self.refused(lambda r: move(r, ["Z"], "L9", 9), "below level 9", deep)
        self.refused(lambda r: shift(r, ["Y"], 1), "no section in front", deep)
        self.refused(lambda r: shift(r, ["L9"], 1), "no section in front", deep)
        self.refused(lambda r: shift(r, ["L2"], 1), "“L9” would come to stand below level 9", "1K 2J " + deep[4:])

    def test_what_is_gone_is_not_moved_nor_is_anything_put_in_front_of_it(self) -> None:
        self.refused(lambda r: move(r, ["nothing"], "A"), "no more")
        self.refused(lambda r: move(r, ["A"], "nothing"), "no more")
        self.become(lambda r: move(r, ["nothing", "B"], "G"), "x 1A a 2D d 1E e 2F f 2B b 3C c 2G g")

    def test_up_and_down_go_past_a_neighbour_or_out_at_the_ends(self) -> None:
        self.become(lambda r: step(r, ["D"], "up"), "x 1A a 2D d 2B b 3C c 1E e 2F f 2G g")
        self.become(lambda r: step(r, ["B"], "down"), "x 1A a 2D d 2B b 3C c 1E e 2F f 2G g")
        self.become(lambda r: step(r, ["D"], "down"), "x 1A a 2B b 3C c 1E e 2D d 2F f 2G g")
        self.become(lambda r: step(r, ["F"], "up"), "x 1A a 2B b 3C c 2D d 2F f 1E e 2G g")
        self.become(lambda r: step(r, ["C"], "down"), "x 1A a 2B b 2D d 3C c 1E e 2F f 2G g")
        self.become(lambda r: step(r, ["A"], "down"), "x 1E e 2F f 2G g 1A a 2B b 3C c 2D d")
        self.become(lambda r: step(r, ["F", "G"], "up"), "x 1A a 2B b 3C c 2D d 2F f 2G g 1E e")
        for way, id in (("up", "A"), ("up", "B"), ("up", "C"), ("down", "E"), ("down", "G")):
            self.refused(lambda r, way=way, id=id: step(r, [id], way), f"no place further {way}")  # type: ignore[misc]
        self.refused(lambda r: step(r, ["B", "G"], "up"), "do not follow each other")

    def test_promoted_and_demoted_with_what_is_under_it(self) -> None:
        self.become(lambda r: shift(r, ["B"], -1), "x 1A a 1B b 2C c 2D d 1E e 2F f 2G g")
        self.become(lambda r: shift(r, ["E"], 1), "x 1A a 2B b 3C c 2D d 2E e 3F f 3G g")
        self.become(lambda r: shift(r, ["F", "G"], -1), "x 1A a 2B b 3C c 2D d 1E e 1F f 1G g")
        self.become(lambda r: shift(r, ["E", "G"], 1), "x 1A a 2B b 3C c 2D d 2E e 3F f 3G g")
        self.refused(lambda r: shift(r, ["A"], -1), "level 1 already")
        self.refused(lambda r: shift(r, ["A"], 1), "no section in front")
        self.refused(lambda r: shift(r, ["F"], 1), "no section in front")

    def test_a_level_without_a_style_is_said(self) -> None:
        report = report_of("1A 2B 3C 3D")
        report = replace(report, styles=StyleSheet(one for one in report.styles.values() if one.outline_level != 4))
        with self.assertRaisesRegex(NotPossible, "No style is a heading of level 4; make one on the ladder first"):
            shift(report, ["D"], 1)

    def test_the_first_the_last_and_the_only_section_are_taken_out(self) -> None:
        self.become(lambda r: remove(r, ["A"]), "x 1E e 2F f 2G g")
        self.become(lambda r: remove(r, ["G", "C"]), "x 1A a 2B b 2D d 1E e 2F f")
        self.become(lambda r: remove(r, ["A"]), "", "1A a 2B b")

    def test_what_somebody_rewrites_meanwhile_stays(self) -> None:
        report = report_of(BOOK)
        plan = remove(report, ["B"])
        rewritten = replace(
            report, blocks=tuple(replace(one, runs=(Run("new"),)) if one.id == "b" else one for one in report.blocks)
        )  # type: ignore[type-var]
        self.assertEqual(said_of(carry_out(plan, rewritten)), "x 1A a new 2D d 1E e 2F f 2G g")

    def test_a_section_is_joined_with_the_one_before(self) -> None:
        self.become(lambda r: join(r, "D"), "x 1A a 2B b 3C c d 1E e 2F f 2G g")
        self.become(lambda r: join(r, "E"), "x 1A a 2B b 3C c 2D d e 2F f 2G g")
        # What is under it moves up with it: no level is skipped.
        self.become(lambda r: join(r, "B"), "x 1A a b 2C c 2D d 1E e 2F f 2G g")
        self.refused(lambda r: join(r, "A"), "no section in front")

    def test_a_section_is_split_where_the_cursor_is(self) -> None:
        ids = map(str, count())
        report = report_of("1A abcdef 2B b")
        for offset, wanted in (
            (0, "1A 1A (continued) abcdef 2B b"),
            (2, "1A ab 1A (continued) cdef 2B b"),
            (6, "1A abcdef 1A (continued) 2B b"),
        ):
            plan, new = split(report, "abcdef", offset, lambda: next(ids))
            after = carry_out(plan, report)
            self.assertEqual(said_of(after), wanted)
            self.assertIn(new, [one.id for one in sections(after)])
        with self.assertRaisesRegex(NotPossible, "Put the cursor into the text"):
            split(report, "A", 1, lambda: "new")

    def test_in_front_of_all_headings_and_behind_a_data_table_too(self) -> None:
        report = Report("r", (text("a"), heading("h"), grid("t", 2), text("b")))
        plan, new = split(report, "a", 3, iter("nm").__next__)
        self.assertEqual([one.id for one in sections(carry_out(plan, report))], [new, "h"])
        plan, new = split(report, "t", 0, iter("n").__next__)
        self.assertEqual([one.id for one in carry_out(plan, report).blocks], ["a", "h", "n", "t", "b"])

    def test_a_duplicate_has_ids_of_its_own_and_leads_into_itself(self) -> None:
        ids = map(str, count())
        marks = Marks(bookmark=Bookmark("mark", "here"))
        leading = Paragraph(
            "p",
            "body",
            (Run("x", marks), Run("y", Marks(link="#A")), Run("\ufffc", Marks(reference=Reference("E", "number")))),
        )
        report = report_of(BOOK)
        report = replace(report, blocks=(*report.blocks[:2], leading, *report.blocks[2:]))
        made, after = duplicate(report, "A", lambda: next(ids))
        self.assertEqual(after, "d")
        self.assertEqual([*map(type, made.blocks)], [*map(type, report.blocks[1:10])])
        self.assertFalse({one.id for one in made.blocks} & {one.id for one in report.blocks})
        _, copied, *_ = made.blocks
        assert isinstance(copied, Paragraph)
        bookmark, link, reference = (run.marks for run in copied.runs)
        self.assertNotEqual(bookmark.bookmark, marks.bookmark)
        self.assertEqual(link.link, f"#{made.blocks[0].id}")
        self.assertEqual(reference.reference, Reference("E", "number"))

    def test_the_section_around_a_block_is_the_innermost(self) -> None:
        report = report_of(BOOK)
        found = [(one := section_at(report, id)) and one.id for id in ("x", "a", "C", "c", "d", "gone")]
        self.assertEqual(found, [None, "A", "C", "C", "D", None])


_BOOKS = st.lists(st.one_of(st.just(0), st.integers(1, 4)), min_size=1, max_size=14)


class Always(TestCase):
    """Whatever is rearranged in whatever text."""

    @settings(max_examples=300)
    @given(_BOOKS, st.data())
    def test_each_block_stands_once_and_numbers_and_pages_are_those_of_a_fresh_start(self, levels, data) -> None:
        blocks = tuple(heading(f"b{n}", level) if level else text(f"b{n}", 9) for n, level in enumerate(levels))
        report = Report("r", blocks)
        known = sections(report)
        ids = [one.id for one in known] or ["none"]
        chosen = data.draw(st.sets(st.sampled_from(ids), min_size=1, max_size=3))
        wanted: Callable[[], Plan] = data.draw(
            st.sampled_from(
                [
                    lambda: move(report, chosen, data.draw(st.sampled_from([*ids, None])), data.draw(st.sampled_from([None, 1, 2, 5]))),
                    lambda: step(report, chosen, data.draw(st.sampled_from(["up", "down"]))),
                    lambda: shift(report, chosen, data.draw(st.sampled_from([-1, 1]))),
                ]
            )
        )  # fmt: skip
        try:
            plan = wanted()
        except NotPossible:
            return
        before = paginate(report, TYPEFACES)
        after = carry_out(plan, report)
        self.assertCountEqual([one.id for one in after.blocks], [one.id for one in blocks])
        # What is not moved keeps its order; a section keeps what is under it, in its order.
        moved = {b.id for s in known if s.id in chosen for b in blocks[s.first : s.end]}
        self.assertEqual([b.id for b in after.blocks if b.id not in moved], [b.id for b in blocks if b.id not in moved])
        now = {one.id: one for one in sections(after)}
        for one in known:
            if one.id in chosen:
                there = [block.id for block in after.blocks[now[one.id].first :]]
                inside = [block.id for block in blocks[one.first : one.end]]
                self.assertEqual(there[: len(inside)], inside)
        self.assertEqual(outline(after, (report, before.headings)), outline(after))
        found, fresh = paginate(after, TYPEFACES, before), paginate(after, TYPEFACES)
        self.assertEqual((list(found.starts), found.headings), (list(fresh.starts), fresh.headings))

    @settings(max_examples=200)
    @given(_BOOKS, st.data())
    def test_a_move_skips_no_level_and_takes_in_nothing(self, levels, data) -> None:
        """As far as none was skipped before: what stood behind the place where it was may then be too deep."""
        blocks = tuple(heading(f"b{n}", level) if level else text(f"b{n}") for n, level in enumerate(levels))
        report = Report("r", blocks)
        known = sections(report)
        if not known:
            return
        one = data.draw(st.sampled_from(known))
        before = data.draw(st.sampled_from([*[other.id for other in known], None]))
        try:
            after = carry_out(move(report, [one.id], before, data.draw(st.integers(1, 9))), report)
        except NotPossible:
            return
        now = sections(after)
        at = next(index for index, other in enumerate(now) if other.id == one.id)
        inside = one.end - one.first
        self.assertEqual(now[at].end - now[at].first, inside)
        above = now[at - 1].level if at else 0
        follows = next((other.level for other in now[at:] if other.first >= now[at].end), 1)
        self.assertLessEqual(now[at].level, max(above + 1, follows))
