"""Pagination, as a careful typesetter does it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from unittest import TestCase, mock

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.pages import pages as pages_module
from mellowspine.core.pages.boxes import Box
from mellowspine.core.pages.draw import Drawing, Rule, Target, Words
from mellowspine.core.pages.fill import Frame, fill
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report.blocks import Block, Cell, DataTable, Image, PageBreak, Paragraph, PlacedTable, Run
from mellowspine.core.report.numbering import SCHEMES, UNNUMBERED
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import change_style
from mellowspine.core.report.styles import StyleSheet, default_styles
from mellowspine.core.report.tables import Issued, Line

from .samples import TYPEFACES, blocks, grid, heading, paged, text


def bottom(pages: Pages, page: int) -> float:
    placed = pages.content(page)[-1]
    return placed.y + sum(pages.boxes[placed.box].heights[placed.first : placed.end])


class Keeping(TestCase):
    """Common practice, no source, but for what the tests name."""

    def test_a_heading_is_never_the_last_thing_on_a_page(self) -> None:
        for lines in range(30, 48):
            body = Paragraph("p", runs=(Run("\n".join(["x"] * lines)),), space_after=0)
            pages = paged(body, heading("h", 2), text("after", 20))
            self.assertEqual(pages.page_of(1), pages.page_of(2), lines)

    def test_headings_in_a_row_stay_together_with_their_text(self) -> None:
        for lines in range(25, 48):
            body = Paragraph("p", runs=(Run("\n".join(["x"] * lines)),))
            pages = paged(body, heading("a", 1), heading("b", 2), heading("c", 3), text("after", 20))
            self.assertEqual({pages.page_of(i) for i in (1, 2, 3, 4)}, {pages.page_of(1)}, lines)

    def test_no_line_stands_alone_at_the_head_or_foot_of_a_page(self) -> None:
        for lines in range(36, 50):
            pages = paged(Paragraph("p", runs=(Run("\n".join(["x"] * lines)),)), text("q", 5))
            count = len(pages.boxes[1].heights)
            for start in pages.starts[1:]:
                if start.box == 1 and start.part:
                    self.assertGreaterEqual(start.part, 2)
                    self.assertGreaterEqual(count - start.part, 2)

    def test_a_picture_stays_with_its_caption(self) -> None:
        for lines in range(10, 48):
            body = Paragraph("p", runs=(Run("\n".join(["x"] * lines)),))
            pages = paged(body, Image("i", "", 300, 200), Paragraph("c", "caption", (Run("Figure 1"),)))
            self.assertEqual(pages.page_of(1), pages.page_of(2), lines)

    def test_a_heading_stays_with_its_picture_even_if_no_page_holds_the_caption_as_well(self) -> None:
        caption = Paragraph("c", "caption", (Run("\n".join(["Figure 1"] * 3)),))
        for lines in range(1, 44):
            body = Paragraph("p", runs=(Run("\n".join(["x"] * lines)),))
            pages = paged(body, heading("h", 2), Image("i", "", 300, 650), caption)
            self.assertEqual([pages.page_of(1), pages.page_of(2), pages.page_of(3)], [2, 2, 3], lines)

    def test_a_page_break_is_kept_and_space_before_stands_below_it(self) -> None:
        """CSS Fragmentation 3, 5.2: margins behind a forced break are kept, behind any other dropped."""
        pages = paged(text("a"), PageBreak("b"), heading("c", 2))
        self.assertEqual(pages.page_of(2), 2)
        self.assertEqual(pages.content(2)[0].y, default_styles()["heading-2"].space_before)
        filled = Paragraph("p", runs=(Run("\n".join(["x"] * 45)),))
        pages = paged(filled, heading("c", 2), text("d"))
        self.assertEqual(pages.content(2)[0].y, 0.0)

    def test_space_between_blocks_is_the_larger_of_the_two(self) -> None:
        """CSS 2.1, 8.3.1, collapsing margins."""
        pages = paged(
            Paragraph("a", runs=(Run("x"),), space_after=10), Paragraph("b", runs=(Run("x"),), space_before=30)
        )
        first, second = pages.content(1)
        self.assertAlmostEqual(second.y - first.y - pages.boxes[0].total, 30)

    def test_rows_of_a_data_table_are_not_split_and_its_header_is_repeated(self) -> None:
        pages = paged(grid("g", 120, header=2))
        self.assertGreater(len(pages), 2)
        box = pages.boxes[0]
        for page in range(2, len(pages) + 1):
            self.assertAlmostEqual(pages.content(page)[0].y, box.heights[0] + box.heights[1])

    def test_a_row_taller_than_a_page_is_split_and_no_word_of_it_is_lost(self) -> None:
        words = [f"word{number}" for number in range(4000)]
        tall = Cell(
            (
                Paragraph("p1", "cell", (Run(" ".join(words[:2500])),)),
                Paragraph("p2", "cell", (Run(" ".join(words[2500:])),)),
            )
        )
        side = Cell((Paragraph("p3", "cell", (Run("beside"),)),))
        head = tuple(Cell((Paragraph(f"h{n}", "cell", (Run(f"head{n}"),)),)) for n in range(2))
        after = (Cell((Paragraph("p4", "heading-2", (Run("after"),)),)), side)
        pages = paged(text("a"), DataTable("t", (head, (tall, side), after), 1), text("b"))
        self.assertGreater(len(pages), 3)
        drawing, drawn = Drawing(pages, TYPEFACES), []
        for page in range(1, len(pages) + 1):
            marks = list(drawing.page(page))
            said = [mark for mark in marks if isinstance(mark, Words)]
            for mark in said:
                self.assertLessEqual(mark.baseline, pages.report.page.text_height + 40)  # the page number stands below
            drawn += " ".join(mark.text for mark in said).split()
            for rule in marks:
                if isinstance(rule, Rule):
                    self.assertLessEqual(rule.y + rule.height, pages.report.page.text_height + 0.001)
            if 1 < page < len(pages):
                self.assertIn("head0", " ".join(mark.text for mark in said))
        self.assertEqual([word for word in drawn if word.startswith("word")], words)
        self.assertEqual(drawn.count("after"), 1)
        self.assertEqual((pages.page_of(1, 0), pages.page_of(1, 2)), (2, len(pages)))
        (target,) = (mark for mark in drawing.page(len(pages)) if isinstance(mark, Target))
        self.assertEqual(target.id, "p4")

    def test_a_style_may_start_a_new_page(self) -> None:
        sheet = StyleSheet(replace(s, new_page=s.id == "heading-1") for s in default_styles().values())
        report = Report("r", (heading("a"), text("b"), heading("c"), PageBreak("d"), heading("e")), sheet)
        pages = paginate(report, TYPEFACES)
        self.assertEqual([pages.page_of(i) for i in (0, 1, 2, 4)], [1, 1, 2, 3])

    def test_one_paragraph_may_do_otherwise_than_its_style(self) -> None:
        sheet = StyleSheet(replace(s, new_page=s.id == "heading-1") for s in default_styles().values())
        blocks = (
            heading("a"),
            text("t"),
            replace(heading("b"), new_page=False),
            text("u"),
            replace(heading("c", 2), new_page=True),
            replace(text("v"), new_page=True),
        )
        pages = paginate(Report("Sample", blocks, sheet), TYPEFACES)
        self.assertEqual([pages.page_of(index) for index in range(6)], [1, 1, 1, 1, 2, 3])

    def test_a_picture_larger_than_the_page_is_made_to_fit(self) -> None:
        pages = paged(Image("i", "", 4000, 9000), text("a"))
        self.assertLessEqual(bottom(pages, 1), pages.report.page.text_height + 0.001)


class Live(TestCase):
    @settings(max_examples=120)
    @given(blocks, blocks, st.data())
    def test_after_an_edit_the_pages_are_those_of_a_fresh_start(self, old, new, data) -> None:
        """Replacing any stretch of a report by any other gives the same pages, however they are computed."""
        start = data.draw(st.integers(0, len(old)))
        end = data.draw(st.integers(start, len(old)))
        report = Report("r", old)
        edited = replace(report, blocks=(*old[:start], *new[:5], *old[end:]))
        before = paginate(report, TYPEFACES)
        self.assertEqual(list(paginate(edited, TYPEFACES, before).starts), list(paginate(edited, TYPEFACES).starts))

    @settings(max_examples=80)
    @given(blocks)
    def test_every_part_of_every_block_stands_on_one_page_and_inside_it(self, all_blocks) -> None:
        pages = paged(*all_blocks)
        height = pages.report.page.text_height
        seen: list[tuple[int, int]] = []
        for page in range(1, len(pages) + 1):
            for placed in pages.content(page):
                seen.extend((placed.box, part) for part in range(placed.first, placed.end))
            if pages.content(page):
                self.assertLessEqual(bottom(pages, page), height + 0.001)
        wanted = [(i, part) for i, box in enumerate(pages.boxes) for part in range(len(box.heights))]
        self.assertEqual(seen, wanted)

    @settings(max_examples=60)
    @given(blocks, st.integers(0, 60), st.integers(0, 60), st.booleans())
    def test_tables_that_change_at_both_ends_give_the_pages_of_a_fresh_start(self, some, before, after, typed) -> None:
        """Catching up changes no block; what stands between two tables is not measured again."""

        def issued(count: int) -> Issued:
            return Issued(lines=tuple(Line(f"h{n}", 1, "", f"A line of some words, {n}", ("1",)) for n in range(count)))

        old = (PlacedTable("p", "t"), *some, PlacedTable("q", "u", True))
        report = Report("r", old, tables={"t": issued(before), "u": issued(3)})
        pages = paginate(report, TYPEFACES)
        new = (*old[:1], text("typed", 3), *old[1:]) if typed else old
        edited = replace(report, blocks=new, tables={"t": issued(after), "u": issued(after)})
        found = paginate(edited, TYPEFACES, pages)
        self.assertEqual(list(found.starts), list(paginate(edited, TYPEFACES).starts))
        if some:
            self.assertIs(found.boxes[-2], pages.boxes[-2])

    @settings(max_examples=60)
    @given(blocks)
    def test_pages_of_many_parts_are_those_of_each(self, all_blocks) -> None:
        pages = paged(*all_blocks)
        parts = [(i, part) for i, box in enumerate(pages.boxes) for part in range(max(1, len(box.heights)))]
        self.assertEqual(pages.pages_of(parts), [pages.page_of(*part) for part in parts])

    def test_an_edit_measures_one_paragraph_only(self) -> None:
        report = Report("r", tuple(text(f"p{n}", 3) for n in range(200)))
        before = paginate(report, TYPEFACES)
        edited = replace(report, blocks=(*report.blocks[:50], text("p50", 9), *report.blocks[51:]))
        after = paginate(edited, TYPEFACES, before)
        self.assertEqual([i for i in range(200) if after.boxes[i] is not before.boxes[i]], [50])

    @settings(max_examples=80)
    @given(blocks, blocks, st.data())
    def test_after_a_change_of_styles_or_numbers_too(self, old, new, data) -> None:
        numberings = st.sampled_from([*SCHEMES.values()])
        ids = st.sampled_from(["body", "heading-1", "heading-2", "cell", "quotation"])
        values = st.fixed_dictionaries(
            {}, optional={"size": st.sampled_from([9.0, 16.0]), "new_page": st.booleans(), "align": st.just("center")}
        )
        report = Report("r", old, numbering=data.draw(numberings))
        styles = change_style(report.styles, data.draw(ids), data.draw(values))
        edited = replace(report, blocks=(*old[:3], *new[:5], *old[3:]), styles=styles, numbering=data.draw(numberings))
        found, fresh = paginate(edited, TYPEFACES, paginate(report, TYPEFACES)), paginate(edited, TYPEFACES)
        self.assertEqual((list(found.starts), list(found.boxes)), (list(fresh.starts), list(fresh.boxes)))


class HeadingNumbers(TestCase):
    """A number hangs in room as wide as the widest of its level; what does not stand at the left has it in its line."""

    def lines(self, report: Report) -> tuple[float, list[float]]:
        """Where a heading's number stands, and where its lines begin."""
        pages = paginate(report, TYPEFACES)
        drawn = [mark for mark in Drawing(pages, TYPEFACES).page(1) if isinstance(mark, Words) and mark.size == 20.0]
        return drawn[0].x, sorted({mark.x for mark in drawn[1:] if mark.baseline >= drawn[0].baseline})

    def test_words_behind_a_number_are_a_column(self) -> None:
        report = Report("r", (heading("a", 1, "Tide gates " * 12),), numbering=SCHEMES["decimal"])
        number, words = self.lines(report)
        self.assertEqual((number, len(words)), (0.0, 1))
        self.assertGreater(words[0], 20.0)

    def test_a_number_in_the_middle_stands_right_before_the_first_words(self) -> None:
        styles = change_style(default_styles(), "heading-1", {"align": "center"})
        report = Report("r", (heading("a", 1, "Gates"),), styles, SCHEMES["legal"])
        number, words = self.lines(report)
        width = TYPEFACES.face("Carlito", True).width("Article 1") * 20
        self.assertTrue(0 < words[0] - number - width < 20, (number, words, width))

    def test_only_the_headings_of_a_level_are_measured_when_its_numbers_grow_wider(self) -> None:
        many = [heading(f"h{n}", 1 + n % 2, f"Heading {n}") for n in range(18)]
        report = Report("r", tuple(many), numbering=SCHEMES["decimal"])
        before = paginate(report, TYPEFACES)
        edited = replace(report, blocks=(*many, heading("new", 1, "The tenth")))
        with mock.patch.object(pages_module, "measure", side_effect=pages_module.measure) as measure:
            paginate(edited, TYPEFACES, before)
        measured = {call.args[0].style for call in measure.call_args_list}
        self.assertEqual(measured, {"heading-1"})

    def test_a_new_heading_leaves_those_behind_it_as_they_are(self) -> None:
        many = [heading(f"h{n}", 1, f"Heading {n}") for n in range(40)]
        before = paginate(Report("r", tuple(many), numbering=SCHEMES["decimal"]), TYPEFACES)
        edited = replace(before.report, blocks=(*many[:15], heading("new", 1, "One more"), *many[15:]))
        with mock.patch.object(pages_module, "measure", side_effect=pages_module.measure) as measure:
            paginate(edited, TYPEFACES, before)
        self.assertEqual([call.args[0].id for call in measure.call_args_list], ["new"])

    def test_a_change_of_style_measures_its_paragraphs_and_those_based_on_it_alone(self) -> None:
        some = (text("a"), text("b", style="quotation"), heading("c"), grid("d", 2))
        report = Report("r", some)
        before = paginate(report, TYPEFACES)
        for id, values, wanted in (
            ("quotation", {"size": 9.0}, ["b"]), ("body", {"first_line": 12.0}, ["a", "b", "c", "d"]), ("title", {"size": 9.0}, []),
        ):  # fmt: skip
            edited = replace(report, styles=change_style(report.styles, id, values))
            with mock.patch.object(pages_module, "measure", side_effect=pages_module.measure) as measure:
                paginate(edited, TYPEFACES, before)
            self.assertEqual([call.args[0].id for call in measure.call_args_list], wanted)


class Edges(TestCase):
    def test_an_edge_names_block_and_character_where_the_page_starts(self) -> None:
        pages = paged(text("a", 60))
        edge = pages.edges()[0]
        self.assertEqual(edge.block.id, "a")
        start = pages.report.blocks[0].text[: edge.offset]  # type: ignore[union-attr]
        self.assertTrue(start.endswith(" "))
        self.assertEqual(edge.offset, pages.boxes[0].starts[pages.starts[1].part])

    def test_a_table_with_no_recipe_takes_no_room(self) -> None:
        self.assertEqual(len(paged(text("a"), PlacedTable("t", "unknown"), text("b"))), 1)


class Work(TestCase):
    def test_only_blocks_that_changed_are_measured_however_far_apart(self) -> None:
        """As when many people write at once: the stretch between their edits is the same as before."""
        before = paged(*(text(f"p{number}", 3) for number in range(60)))
        blocks = list(before.report.blocks)
        for index in (5, 50):
            blocks[index] = replace(blocks[index], runs=(Run("New"),))
        with mock.patch.object(pages_module, "measure", side_effect=pages_module.measure) as measure:
            now = paginate(replace(before.report, blocks=tuple(blocks)), TYPEFACES, before)
        self.assertEqual([call.args[0].id for call in measure.call_args_list], ["p5", "p50"])
        self.assertEqual(now.starts, paginate(now.report, TYPEFACES).starts)


class WaysBack(TestCase):
    BACK = PageSetup(back_level=1)

    @given(blocks, blocks, st.data(), st.integers(1, 3))
    def test_after_an_edit_they_stand_where_they_would_from_a_fresh_start(self, old, new, data, level) -> None:
        """Whatever the edit does to sections, as in the same test without them; the table stands in front."""
        at = data.draw(st.integers(0, len(old)))
        placed = PlacedTable("t", "t")
        report = Report("r", (placed, *old), page=PageSetup(back_level=level), tables={"t": Issued()})
        edited = replace(report, blocks=(placed, *old[:at], *(replace(b, id=f"n{b.id}") for b in new), *old[at:]))
        now, fresh = paginate(edited, TYPEFACES, paginate(report, TYPEFACES)), paginate(edited, TYPEFACES)
        self.assertEqual((now.report.backs, list(now.starts)), (fresh.report.backs, list(fresh.starts)))
        self.assertEqual(list(now.boxes), list(fresh.boxes))

    def test_one_stands_at_the_end_of_every_section_of_the_level_in_front_of_a_page_break(self) -> None:
        some = (PlacedTable("t", "t"), text("p"), heading("a"), text("a1"), heading("b", 2), text("b1"), PageBreak("x"),
                heading("c"), heading("d", 2), heading("e"))  # fmt: skip
        report = Report("r", some, page=self.BACK, tables={"t": Issued()})
        self.assertEqual(paginate(report, TYPEFACES).report.backs, {"b1", "d", "e"})
        self.assertEqual(paginate(replace(report, page=PageSetup(back_level=2)), TYPEFACES).report.backs, {"b1", "d"})
        self.assertEqual(paginate(replace(report, page=PageSetup()), TYPEFACES).report.backs, frozenset())
        self.assertEqual(paginate(replace(report, blocks=some[1:]), TYPEFACES).report.backs, frozenset())


class FrontMatter(TestCase):
    def pages(self, *blocks: Block, **settings: Any) -> Pages:
        return paginate(Report("r", blocks, page=PageSetup(front="roman", **settings)), TYPEFACES)

    def labels(self, pages: Pages) -> list[str]:
        return [pages.label(page) for page in range(1, len(pages) + 1)]

    def test_the_body_begins_with_the_first_main_section(self) -> None:
        front = (text("a"), PageBreak("1"), heading("s", 2), PageBreak("2"))
        pages = self.pages(
            *front, heading("h"), text("b"), PageBreak("3"), text("c"), foot_middle="Page {page} of {last}"
        )
        self.assertEqual(self.labels(pages), ["i", "ii", "1", "2"])
        said = [
            words.text for page in (2, 3) for words in Drawing(pages, TYPEFACES).page(page) if isinstance(words, Words)
        ]
        self.assertEqual([words for words in said if words.startswith("Page")], ["Page ii of ii", "Page 1 of 2"])

    def test_a_foreword_without_a_number_is_in_front_where_others_are_numbered(self) -> None:
        foreword = replace(heading("f"), number="none")
        blocks = (foreword, text("a"), PageBreak("1"), heading("h"), text("b"))
        report = Report("r", blocks, numbering=SCHEMES["decimal"], page=PageSetup(front="roman"))
        self.assertEqual(self.labels(paginate(report, TYPEFACES)), ["i", "1"])
        self.assertEqual(self.labels(paginate(replace(report, numbering=UNNUMBERED), TYPEFACES)), ["1", "2"])

    def test_without_main_sections_or_with_one_on_the_first_page_all_is_body(self) -> None:
        self.assertEqual(self.labels(self.pages(text("a"), PageBreak("1"), text("b"))), ["1", "2"])
        self.assertEqual(self.labels(self.pages(heading("h"), PageBreak("1"), text("b"))), ["1", "2"])

    @given(blocks, blocks, st.data())
    def test_after_an_edit_pages_are_called_as_from_a_fresh_start(self, old, new, data) -> None:
        at = data.draw(st.integers(0, len(old)))
        before = Report("r", tuple(old), page=PageSetup(front="roman"))
        after = replace(before, blocks=(*old[:at], *(replace(b, id=f"n{b.id}") for b in new), *old[at:]))
        now, fresh = paginate(after, TYPEFACES, paginate(before, TYPEFACES)), paginate(after, TYPEFACES)
        self.assertEqual(self.labels(now), self.labels(fresh))


class Columns(TestCase):
    heights = st.lists(st.floats(1, 40), min_size=1, max_size=30)

    @given(heights, st.floats(40, 200), st.booleans())
    def test_each_page_holds_as_much_as_fits_and_nothing_stands_below_its_foot(self, heights, height, titled) -> None:
        box = Box(tuple(heights), columns=2, spanning=int(titled))
        box = replace(box, total=box.extent(0, len(heights)))
        starts = list(fill([box], [Frame(0, height)]))
        ends = [*(start.part for start in starts[1:]), len(heights)]
        for start, end in zip(starts, ends, strict=True):
            self.assertLessEqual(box.extent(start.part, end), height + 1e-3)
            if end < len(heights):
                self.assertGreater(box.extent(start.part, end + 1), height)

    @given(heights)
    def test_the_columns_end_as_evenly_as_they_can(self, heights) -> None:
        """Against every place where the left column could end."""
        box = Box(tuple(heights), columns=2)
        lowest = min(max(sum(heights[:turn]), sum(heights[turn:])) for turn in range(len(heights) + 1))
        self.assertAlmostEqual(box.extent(0, len(heights)), lowest)

    @given(heights, st.sets(st.integers(0, 29)), st.floats(130, 200), st.integers(1, 2))
    def test_what_holds_on_to_the_next_ends_no_page_and_no_column(self, heights, holding, height, columns) -> None:
        # Not more than two of 40 points in a row, so that a column has room for them and the next.
        last = len(heights) - 1
        holding = frozenset(n for n in holding if n < last and not {n - 1, n - 2} <= holding)
        box = Box(tuple(heights), columns=columns, holding=holding)
        box = replace(box, total=box.extent(0, len(heights)))
        starts = list(fill([box], [Frame(0, height)]))
        for start, end in zip(starts, [*(start.part for start in starts[1:]), len(heights)], strict=True):
            self.assertNotIn(end - 1, holding)
            self.assertLessEqual(box.extent(start.part, end), height + 1e-3)
            if columns == 2:
                self.assertNotIn(box.turn(start.part, end) - 1, {*range(start.part, end)} & holding)

    def test_the_title_of_a_table_does_not_stay_behind_at_the_foot_of_a_page(self) -> None:
        lines = tuple(Line(f"h{n}", 1, "", f"Line {n}", ("1",)) for n in range(3))
        for count in range(38, 48):
            pages = paginate(
                Report("r", (text("a", count), PlacedTable("t", "t")), tables={"t": Issued(lines=lines)}), TYPEFACES
            )
            with self.subTest(count):
                self.assertEqual(pages.page_of(1, 0), pages.page_of(1, 1))
