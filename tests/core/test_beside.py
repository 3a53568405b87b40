"""Pictures with text beside them. The rules are those of floats (CSS 2.1, 9.5) within the bounds that `pages/beside.py` says."""

from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.pages.beside import GAP
from mellowspine.core.pages.draw import Drawing, Picture, Words
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report import parts
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    Reference,
    Run,
)
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles

from .samples import SENTENCE, TYPEFACES, grid, heading, text

WIDE = PageSetup().text_width


def side(id: str = "i", height: float = 100, width: float = 150, align: Any = "left") -> Image:
    return Image(id, "", width, height, align=align, beside=True)


def pages_of(*blocks: Block, **page: Any) -> Pages:
    return paginate(Report("r", blocks, page=PageSetup(**page)), TYPEFACES)


def boxes_on(pages: Pages, sheet: int) -> tuple[list[tuple[float, ...]], list[tuple[float, ...]]]:
    """Left, top, right and bottom of the words of the text on a sheet, and of its pictures."""
    words, pictures = [], []
    page = pages.stretch(sheet).page
    for mark in Drawing(pages, TYPEFACES).page(sheet):
        if isinstance(mark, Words) and -1 < mark.baseline < page.text_height + 1:
            words.append((mark.x, mark.baseline - mark.size * 0.6, mark.x + mark.width, mark.baseline))
        elif isinstance(mark, Picture):
            pictures.append((mark.x, mark.y, mark.x + mark.width, mark.y + mark.height))
    return words, pictures


class Beside(unittest.TestCase):
    def test_lines_beside_a_picture_are_shorter_and_those_beneath_it_are_not(self) -> None:
        for align in ("left", "right"):
            words, (picture,) = boxes_on(pages_of(side(align=align), text("p", 12)), 1)
            beside = [one for one in words if one[1] < picture[3] - 1]
            beneath = [one for one in words if one[1] > picture[3] - 1]
            self.assertEqual(len(beside), 7)  # of 15.4 points, the last of them begins at 92.4
            for left, _, right, _ in beside:
                self.assertTrue(left >= picture[2] + GAP if align == "left" else right <= picture[0] - GAP)
                self.assertGreaterEqual(left, 0)
            self.assertTrue(all(one[0] == 0 for one in beneath))
            self.assertGreater(max(one[2] for one in beneath), WIDE - 60)

    def test_the_first_line_and_the_picture_begin_at_one_height(self) -> None:
        pages = pages_of(text("a"), side(), text("p", 12))
        self.assertEqual(pages.content(1)[1].y, pages.content(1)[2].y)

    def test_several_paragraphs_stand_beside_one(self) -> None:
        """Lines of 15.4 points, 2 in each paragraph there, with 8 between these: the ninth begins at 147.2."""
        words, _ = boxes_on(pages_of(side(height=150), text("a"), text("b"), text("c"), text("d", 9)), 1)
        self.assertEqual([one[0] > 0 for one in words][:10], [True] * 9 + [False])
        words, _ = boxes_on(pages_of(side(height=147), text("a"), text("b"), text("c"), text("d", 9)), 1)
        self.assertEqual([one[0] > 0 for one in words][:10], [True] * 8 + [False] * 2)

    def test_what_is_no_paragraph_begins_beneath_it(self) -> None:
        for follows in (heading("h"), grid("g", 2), Image("j", "", 50, 50), side("j"), text("n", style="wide")):
            pages = pages_of(
                side(height=200), text("a"), replace(follows, **({"new_page": True} if follows.id == "n" else {}))
            )
            placed = pages.content(1)
            if follows.id == "n":
                self.assertEqual(pages.page_of(2), 2)
            else:
                self.assertGreaterEqual(placed[2].y, placed[0].y + 200)

    def test_with_nothing_beside_it_is_a_picture_as_any_other(self) -> None:
        for blocks in ((side(),), (side(), heading("h")), (side(), PageBreak("b"), text("a"))):
            plain = (replace(blocks[0], beside=False), *blocks[1:])
            self.assertEqual(pages_of(*blocks).boxes, pages_of(*plain).boxes)

    def test_one_that_leaves_no_room_has_nothing_beside_it(self) -> None:
        pages = pages_of(side(width=WIDE - 60), text("a", 9))
        self.assertEqual(pages.beside, {})

    def test_lines_stay_on_the_page_of_the_picture(self) -> None:
        for lines in range(20, 50):
            filling = Paragraph("f", runs=(Run("\n".join("x" * lines)),), space_after=0)
            pages = pages_of(filling, side(height=120), text("a"), text("p", 12))
            for sheet in range(1, len(pages) + 1):
                words, pictures = boxes_on(pages, sheet)
                for _, _, _, bottom in pictures:
                    self.assertLessEqual(bottom, PageSetup().text_height)
                shorter = [one for one in words if one[0] > 150]
                self.assertEqual(bool(pictures), len(shorter) > 3)

    def test_it_goes_to_the_next_page_though_what_is_kept_with_it_has_no_room_on_any(self) -> None:
        high = PageSetup().text_height
        pages = pages_of(side("i", 3000, 200), side("j", 3000, 200), text("a"), text("b"))
        self.assertEqual([[one.box for one in pages.content(sheet)] for sheet in (1, 2)], [[0], [1, 2, 3]])
        for sheet in (1, 2):
            ((_, _, _, bottom),) = boxes_on(pages, sheet)[1]
            self.assertLessEqual(bottom, high)

    def test_a_marker_stands_once_and_a_first_line_is_indented_once(self) -> None:
        styles = default_styles()
        indented = StyleSheet({**styles, "body": replace(styles["body"], first_line=24.0)}.values())
        pages = paginate(Report("r", (side(), text("p", 20)), styles=indented), TYPEFACES)
        words, (picture,) = boxes_on(pages, 1)
        self.assertEqual([one[0] for one in words][:2], [picture[2] + GAP + 24, picture[2] + GAP])
        self.assertTrue(all(one[0] == 0 for one in words[8:]))
        marked = pages_of(side(), text("p", 20, "item-1"))
        said = [mark.text for mark in Drawing(marked, TYPEFACES).page(1) if isinstance(mark, Words)]
        self.assertEqual(said.count("1."), 1)

    def test_what_hangs_no_more_stands_beside_it(self) -> None:
        styles = default_styles()
        before = Report("r", (side(height=200), text("b", 2, "bullet-1")), styles=styles)
        item = replace(styles["bullet-1"], first_line=0.0)
        after = replace(before, styles=StyleSheet({**styles, "bullet-1": item}.values()))
        now = paginate(after, TYPEFACES, paginate(before, TYPEFACES))
        self.assertEqual([*now.beside], [1])
        self.assertEqual([*now.boxes], [*paginate(after, TYPEFACES).boxes])

    def test_a_place_in_a_line_is_on_the_page_of_that_line(self) -> None:
        filling = Paragraph("f", runs=(Run("\n".join("x" * 30)),), space_after=0)
        pages = pages_of(filling, side(height=90), text("p", 40))
        there = pages.edges()[0]
        self.assertEqual((there.block.id, len(pages)), ("p", 2))
        self.assertEqual([pages.page_at(2, 0, there.offset - 1), pages.page_at(2, 0, there.offset)], [1, 2])


PARAGRAPHS = st.builds(
    Paragraph,
    st.just(""),
    st.sampled_from(["body", "body", "body", "heading-1", "bullet-1", "quotation", "caption"]),
    st.lists(
        st.one_of(
            st.integers(0, 9).map(lambda count: Run(SENTENCE * count)),
            st.just(Run("a\tb\nc", Marks(bold=True, size=18))),
            st.sampled_from(["n1", "n2"]).map(
                lambda to: Run(INLINE_OBJECT, Marks(reference=Reference(to, "note", "?")))
            ),
        ),
        max_size=3,
    ).map(tuple),
    align=st.sampled_from([None, None, "justify", "right"]),
    space_before=st.sampled_from([None, None, 20.0]),
    new_page=st.sampled_from([None, None, None, True]),
    note=st.sampled_from([None, None, None, None, "foot"]),
)
PICTURES = st.builds(
    Image, st.just(""), st.just(""), st.sampled_from([50.0, 200.0, 800.0]), st.sampled_from([4.0, 60.0, 150.0, 3000.0]),
    align=st.sampled_from(["left", "right", "center"]), beside=st.sampled_from([True, True, False])
)  # fmt: skip
BLOCKS = st.one_of(
    PARAGRAPHS, PARAGRAPHS, PARAGRAPHS, PICTURES, PICTURES, st.sampled_from([PageBreak(""), PartStart(""), grid("", 3)])
)


class AnyText(unittest.TestCase):
    @given(st.data())
    def test_pages_are_as_from_a_fresh_start_and_no_words_stand_over_a_picture(self, data: st.DataObject) -> None:
        now: Pages | None = None
        blocks: list[Block] = []
        page, styles = PageSetup(), default_styles()
        for step in range(5):
            at = data.draw(st.integers(0, len(blocks)))
            end = data.draw(st.integers(at, min(at + 3, len(blocks))))
            new = data.draw(st.lists(BLOCKS, max_size=4))
            blocks[at:end] = [replace(one, id=f"b{step}-{n}") for n, one in enumerate(new)]  # type: ignore[type-var]
            if blocks and data.draw(st.integers(0, 3)) == 0:  # as two leave it who move the same
                twin = data.draw(st.sampled_from(blocks))
                blocks.insert(data.draw(st.integers(0, len(blocks))), replace(twin))  # type: ignore[type-var]
            for id in data.draw(st.sets(st.sampled_from(["n1", "n2"]), max_size=2)):
                blocks = [one for one in blocks if one.id != id]
                made = Paragraph(id, "note", (Run(id),), note=data.draw(st.sampled_from(["foot", "foot", "end"])))
                blocks.insert(data.draw(st.integers(0, len(blocks))), made)
            if data.draw(st.integers(0, 2)) == 0:
                page = PageSetup(
                    columns=data.draw(st.sampled_from([1, 1, 2])),
                    height=data.draw(st.sampled_from([842.0, 400.0])),
                    back_level=data.draw(st.sampled_from([None, 1])),
                )
            if data.draw(st.integers(0, 3)) == 0:
                body = replace(styles["body"], size=data.draw(st.sampled_from([11.0, 14.0])))
                # Whether it has room beside a picture at the left.
                hanging = data.draw(st.sampled_from([-14.0, 0.0]))
                item, quotation = (replace(styles[id], first_line=hanging) for id in ("bullet-1", "quotation"))
                styles = StyleSheet({**styles, "body": body, "bullet-1": item, "quotation": quotation}.values())
            wide = {one.id: parts.Part(page={"width": 900.0}) for one in blocks if type(one) is PartStart}
            report = Report("r", tuple(blocks), page=page, parts=wide, styles=styles)
            with self.assertNoLogs("mellowspine", "ERROR"):
                fresh, now = paginate(report, TYPEFACES), paginate(report, TYPEFACES, now)
            self.assertEqual(now.groups, fresh.groups)
            self.assertEqual([*now.boxes], [*fresh.boxes])
            self.assertEqual([*now.starts], [*fresh.starts])
            self.stands_apart(now)

    def stands_apart(self, pages: Pages) -> None:
        """Pictures lie inside the page, and no words over them; all words are on some page."""
        drawn = ""
        for sheet in range(1, len(pages) + 1):
            words, pictures = boxes_on(pages, sheet)
            page = pages.stretch(sheet).page
            crowded = any(one.foot for one in pages.content(sheet))
            for left, top, right, bottom in pictures:
                self.assertLessEqual(bottom, page.text_height + 1e-6)
                over = [one for one in words if one[0] < right and one[2] > left and one[1] < bottom and one[3] > top]
                if not crowded and page.columns == 1:
                    self.assertEqual(over, [])
            marks = Drawing(pages, TYPEFACES).page(sheet)
            drawn += "".join(mark.text for mark in marks if isinstance(mark, Words))
        for block in pages.report.blocks:
            if isinstance(block, Paragraph):
                for word in block.text.replace(INLINE_OBJECT, " ").split():
                    self.assertIn(word, drawn)
