"""Captions, bookmarks, links and references: what they are counted as, what they show, and on which page that is."""

from __future__ import annotations

import re
import unittest
from dataclasses import replace
from io import BytesIO

from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader
from pypdfium2 import PdfDocument

from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.as_set import as_set, offset_as_set, offset_in_text
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    FONTS,
    INLINE_OBJECT,
    SHOWS,
    Block,
    Bookmark,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    Reference,
    Run,
)
from mellowspine.core.report.elements import element_of, read_block
from mellowspine.core.report.labels import FIGURE
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report
from mellowspine.core.structure.captions import captions_of
from mellowspine.core.structure.notes import notes
from mellowspine.core.structure.outline import outline

TYPEFACES = Typefaces()


def text(id: str, *parts: str | Reference | Run, style: str = "body", caption: str | None = None) -> Paragraph:
    runs = tuple(
        Run(part)
        if isinstance(part, str)
        else part
        if isinstance(part, Run)
        else Run(INLINE_OBJECT, Marks(reference=part))
        for part in parts
    )
    return Paragraph(id, style, runs, caption=caption)


def figure(id: str, words: str, label: str = "figure") -> tuple[Block, Block]:
    return Image(f"p{id}", "", 100, 100), text(id, words, style="caption", caption=label)


def report_of(*blocks: Block, **more: object) -> Report:
    return Report("Tides", blocks, numbering=SCHEMES["decimal"], **more)  # type: ignore[arg-type]


def printed(pages: Pages, id: str) -> str:
    """The words of a paragraph as they are printed."""
    block = next(one for one in pages.report.blocks if one.id == id)
    assert isinstance(block, Paragraph)
    return as_set(block, pages.report).text


class OfBookmarks(unittest.TestCase):
    def test_a_reference_to_a_bookmark_says_the_words_that_it_marks(self) -> None:
        """ISO/IEC 29500-1, 17.16.5.51: the text that is marked, and not the name that somebody gave it."""
        marked = Run("the north wall", Marks(bookmark=Bookmark("m", "h0")))
        report = report_of(text("a", "It is ", marked, "."), text("b", "See ", Reference("m", "title", "?"), "."))
        pages = paginate(report, TYPEFACES)
        self.assertEqual(printed(pages, "b"), "See the north wall.")
        self.assertEqual(pages.places["m"].text, "h0")  # as lists of places call it
        other = replace(report, blocks=(text("a", "It is ", replace(marked, text="a gate")), report.blocks[1]))
        self.assertEqual(printed(paginate(other, TYPEFACES, pages), "b"), "See a gate.")

    def test_of_one_that_goes_over_paragraphs_it_says_all_of_them_and_a_copy_elsewhere_is_none_of_it(self) -> None:
        marked = Marks(bookmark=Bookmark("m", "Name"))
        several = (
            text("a", "It is ", Run("the north", marked)),
            text("b", Run("wall,", marked)),
            text("c", Run("all of it", marked), " and no more."),
            text("d", "Again: ", Run("the copy", marked)),
            text("e", "See ", Reference("m", "title", "?"), "."),
        )
        pages = paginate(report_of(*several), TYPEFACES)
        self.assertEqual(printed(pages, "e"), "See the north wall, all of it.")
        other = replace(several[1], runs=(Run("gate,", marked),))
        edited = replace(pages.report, blocks=(several[0], other, *several[2:]))
        self.assertEqual(printed(paginate(edited, TYPEFACES, pages), "e"), "See the north gate, all of it.")

    def test_a_reference_within_the_marked_words_says_nothing_in_them(self) -> None:
        marked = Marks(bookmark=Bookmark("m", "Name"))
        inside = replace(marked, reference=Reference("m", "title", "?"))
        report = report_of(
            text("a", Run("see ", marked), Run(INLINE_OBJECT, inside)), text("b", Reference("m", "title", "?"))
        )
        self.assertEqual(printed(paginate(report, TYPEFACES), "b"), "see …")


class Captions(unittest.TestCase):
    def test_they_are_counted_by_label_and_follow_as_things_move(self) -> None:
        one, two, three = figure("a", "North wall"), figure("b", "South wall"), figure("c", "Costs", "table")
        pages = paginate(report_of(*one, *three, *two), TYPEFACES)
        self.assertEqual(printed(pages, "a"), "Figure 1: North wall")
        self.assertEqual(printed(pages, "b"), "Figure 2: South wall")
        self.assertEqual(printed(pages, "c"), "Table 1: Costs")
        moved = paginate(report_of(*two, *one, *three), TYPEFACES, pages)
        self.assertEqual(printed(moved, "b"), "Figure 1: South wall")

    def test_one_without_words_has_its_number_and_an_unknown_label_its_own_name(self) -> None:
        pages = paginate(
            report_of(text("a", style="caption", caption="figure"), text("b", "X", caption="old-map")), TYPEFACES
        )
        self.assertEqual(printed(pages, "a"), "Figure 1")
        self.assertEqual(printed(pages, "b"), "Old map 1: X")

    def test_by_chapter_the_number_of_the_chapter_stands_in_front(self) -> None:
        labels = {"figure": replace(FIGURE, by_level=1)}
        blocks = (
            *figure("a", "In front"), text("h1", "Scope", style="heading-1"), *figure("b", "B"), *figure("c", "C"),
            text("h2", "Sea", style="heading-2"), *figure("d", "D"), text("h3", "Site", style="heading-1"), *figure("e", "E"),
        )  # fmt: skip
        wanted = {"a": "1", "b": "1-1", "c": "1-2", "d": "1-3", "e": "2-1"}
        report = report_of(*blocks, labels=labels)
        found = captions_of(report, outline(report), notes(report))
        self.assertEqual({id: number for id, (_, number, _) in found.items()}, wanted)
        lettered = replace(report, numbering=SCHEMES["chapters"])
        numbers = captions_of(lettered, outline(lettered), notes(lettered))
        self.assertEqual(numbers["e"][1], "II-1")  # "Part II" without its words

    @settings(max_examples=80, deadline=None)
    @given(st.lists(st.sampled_from(["1", "2", "0", "f", "t", "-"]), max_size=30), st.sampled_from([0, 1, 2]))
    def test_counting_by_chapter_is_as_a_count_by_hand(self, kinds: list[str], level: int) -> None:
        labels = {"figure": replace(FIGURE, by_level=level), "table": replace(FIGURE, id="table", name="Table")}
        blocks: list[Block] = []
        wanted: dict[str, str] = {}
        chapter, count, tables, ones, twos = "", 0, 0, 0, 0
        for index, kind in enumerate(kinds):
            id = f"x{index}"
            if kind in "12":
                blocks.append(text(id, "Heading", style=f"heading-{kind}"))
                ones, twos = (ones + 1, 0) if kind == "1" else (ones, twos + 1)
                if level and int(kind) <= level:
                    chapter, count = f"{ones}-" if kind == "1" else f"{ones}.{twos}-", 0
            elif kind == "0":  # a heading without a number begins no chapter
                blocks.append(replace(text(id, "Heading", style="heading-1"), number="none"))
                continue
            elif kind == "f":
                count += 1
                wanted[id] = f"{chapter}{count}"
                blocks.append(text(id, "Words", caption="figure"))
            elif kind == "t":
                tables += 1
                wanted[id] = str(tables)
                blocks.append(text(id, "Words", caption="table"))
            else:
                blocks.append(text(id, "Words"))
        if "0" in kinds:  # what stands beneath a heading without a number has none either: see the outline's own tests
            return
        report = report_of(*blocks, labels=labels)
        found = captions_of(report, outline(report), notes(report))
        self.assertEqual({id: number for id, (_, number, _) in found.items()}, wanted)


class References(unittest.TestCase):
    def setUp(self) -> None:
        bookmark = Run("spring tide", Marks(bookmark=Bookmark("m", "Highest tide")))
        self.report = report_of(
            text("h", "The sea", style="heading-1"), *figure("f", "North wall"),
            text("a", "See ", Reference("h", "number"), ", ", Reference("h", "title"), " and ", Reference("f", "label"), "."),
            text("b", "On page ", Reference("m", "page"), ", ", Reference("m", "way"), "; ", Reference("f", "way"), "."),
            PageBreak("-"), text("c", "At ", bookmark, " it floods."),
        )  # fmt: skip

    def test_they_show_number_title_label_page_and_way(self) -> None:
        pages = paginate(self.report, TYPEFACES)
        self.assertEqual(printed(pages, "a"), "See 1, The sea and Figure 1.")
        self.assertEqual(printed(pages, "b"), "On page 2, below; above.")

    def test_they_follow_what_they_lead_to(self) -> None:
        pages = paginate(self.report, TYPEFACES)
        more = (text("g", "Before", style="heading-1"), PageBreak("--"), *figure("e", "First"), *self.report.blocks)
        after = paginate(replace(self.report, blocks=more), TYPEFACES, pages)
        self.assertEqual(printed(after, "a"), "See 2, The sea and Figure 2.")
        self.assertEqual(printed(after, "b"), "On page 3, below; above.")

    def test_where_a_place_has_no_number_its_words_are_shown(self) -> None:
        pages = paginate(replace(self.report, numbering=SCHEMES["none"]), TYPEFACES)
        self.assertEqual(printed(pages, "a"), "See The sea, The sea and Figure 1.")

    def test_what_is_gone_says_what_it_was(self) -> None:
        gone = report_of(text("a", "See ", Reference("x", "label", "Figure 2"), " and ", Reference("y", "page"), "."))
        self.assertEqual(printed(paginate(gone, TYPEFACES), "a"), "See [Figure 2?] and [?].")

    def test_titles_in_circles_come_to_an_end(self) -> None:
        pages = paginate(
            report_of(
                text("a", "Like ", Reference("b", "title"), style="heading-1"),
                text("b", "As in ", Reference("a", "title"), ", page ", Reference("a", "page"), style="heading-1"),
                text("c", "Itself: ", Reference("c", "title"), style="heading-1"),
            ),
            TYPEFACES,
        )
        self.assertEqual(printed(pages, "a"), "Like As in …, page 1")
        self.assertEqual(printed(pages, "c"), "Itself: Itself: …")
        self.assertEqual([one.text for one in pages.worded][:1], ["Like As in …, page 1"])

    def test_the_character_that_stands_for_references_may_be_typed(self) -> None:
        pages = paginate(
            report_of(
                text("h", f"An {INLINE_OBJECT} object", style="heading-1"), text("a", "See ", Reference("h", "title"))
            ),
            TYPEFACES,
        )
        self.assertEqual(printed(pages, "a"), f"See An {INLINE_OBJECT} object")

    def test_their_width_is_that_of_what_they_show(self) -> None:
        words = "A wall that stands in the way of the sea, and longer than most of them are by far. " * 2
        long = report_of(text("h", words, style="heading-1"), text("a", Reference("h", "title")))
        plain = report_of(text("h", words, style="heading-1"), text("a", " ".join(words.split())))
        self.assertEqual(paginate(long, TYPEFACES).boxes[1].heights, paginate(plain, TYPEFACES).boxes[1].heights)

    def test_a_table_says_what_a_reference_in_a_heading_shows(self) -> None:
        from mellowspine.core.report.recipes import Recipe
        from mellowspine.core.tables.kinds import build, sources_of

        report = report_of(*figure("f", "Wall"), text("h", "About ", Reference("f", "label"), style="heading-1"))
        pages = paginate(report, TYPEFACES)
        (line,) = build(Recipe(), sources_of(pages.headings, pages))
        self.assertEqual(line.text, "About Figure 1")

    def test_a_bookmark_is_on_the_page_where_its_words_are(self) -> None:
        bookmark = Run("here", Marks(bookmark=Bookmark("m", "Here")))
        report = report_of(text("a", "Words and more words. " * 400, bookmark), text("b", Reference("m", "page")))
        pages = paginate(report, TYPEFACES)
        self.assertEqual(printed(pages, "b"), str(len(pages)))
        self.assertGreater(len(pages), 1)

    def test_places_in_printed_words_and_in_the_text_belong_together(self) -> None:
        block = text("c", "ab", Reference("f", "label"), "cd", style="caption", caption="figure")
        report = report_of(*figure("f", "Wall"), block)
        pages = paginate(report, TYPEFACES)
        self.assertEqual(as_set(block, pages.report).text, "Figure 2: abFigure 1cd")
        for offset, wanted in ((0, 0), (1, 1), (2, 2), (3, 3), (4, 4)):
            self.assertEqual(offset_in_text(block, pages.report, offset_as_set(block, pages.report, offset)), wanted)
        self.assertEqual(offset_in_text(block, pages.report, 15), 2)  # within the reference: in front of it


kinds = st.sampled_from(["heading-1", "heading-2", "caption", "body", "break", "marked"])


@st.composite
def blocks_with_references(draw: st.DrawFn) -> tuple[Block, ...]:
    ids = [f"b{n}" for n in range(draw(st.integers(1, 12)))]
    made: list[Block] = []
    for id in ids:
        kind = draw(kinds)
        if kind == "break":
            made.append(PageBreak(id))
            continue
        leads = draw(st.lists(st.tuples(st.sampled_from([*ids, "m-b0", "gone"]), st.sampled_from(SHOWS)), max_size=2))
        parts: list[str | Reference | Run] = [draw(st.sampled_from(["Words. ", "More words than before. " * 30, ""]))]
        parts += [Reference(to, shows) for to, shows in leads]
        if kind == "marked":
            parts.append(Run("named", Marks(bookmark=Bookmark(f"m-{id}", "Named"))))
        style = "body" if kind == "marked" else kind
        made.append(text(id, *parts, style=style, caption="figure" if kind == "caption" else None))
    return tuple(made)


class AfterEdits(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(st.data())
    def test_pages_after_an_edit_are_those_of_a_fresh_start(self, data: st.DataObject) -> None:
        first = report_of(*data.draw(blocks_with_references()))
        before = paginate(first, TYPEFACES)
        start = data.draw(st.integers(0, len(first.blocks)))
        end = data.draw(st.integers(start, len(first.blocks)))
        new = tuple(
            replace(one, id=f"n{one.id}")
            for one in data.draw(blocks_with_references())  # type: ignore[type-var]
        )
        second = replace(first, blocks=(*first.blocks[:start], *new, *first.blocks[end:]))
        after, fresh = paginate(second, TYPEFACES, before), paginate(second, TYPEFACES)
        self.assertEqual(after.noted, fresh.noted)
        self.assertEqual(after.report.captions, fresh.report.captions)
        self.assertEqual(list(after.boxes), list(fresh.boxes))
        self.assertEqual(list(after.starts), list(fresh.starts))
        self.assertEqual(after.report.shown, fresh.report.shown)
        self.assertEqual(list(after.places.items()), list(fresh.places.items()))

    @settings(max_examples=100, deadline=None)
    @given(blocks_with_references())
    def test_they_are_kept_as_they_are(self, blocks: tuple[Block, ...]) -> None:
        for block in blocks:
            again = read_block(element_of(block), "x")
            self.assertEqual(element_of(again), element_of(block))
            self.assertEqual(notes(report_of(again)), notes(report_of(block)))


class Written_(unittest.TestCase):
    def test_files_have_the_printed_words(self) -> None:
        report = report_of(
            text("h", "The sea", style="heading-1"), *figure("f", "Wall"),
            text("a", "See ", Reference("f", "label"), " in ", Reference("h", "number"), "."),
        )  # fmt: skip
        pages = paginate(report, TYPEFACES)
        found = {end: WRITERS[end].write(Written(report, pages, TYPEFACES, {})) for end in (".txt", ".md")}
        self.assertIn(b"See Figure 1 in 1.", found[".txt"])
        self.assertIn(b"Figure 1: Wall", found[".txt"])
        self.assertIn(b"See Figure 1 in [1](<#the-sea>).", found[".md"])

    def test_two_readers_find_no_space_within_a_number(self) -> None:
        blocks = (
            *(block for n in range(12) for block in figure(f"f{n}", "Wall")),
            text("a", "See ", Reference("f10", "label"), "."),
        )
        pages = paginate(report_of(*blocks), TYPEFACES)
        data = WRITERS[".pdf"].write(Written(pages.report, pages, TYPEFACES, {}))
        self.assertIn("See Figure 11.", PdfReader(BytesIO(data)).pages[-1].extract_text())
        document = PdfDocument(data)
        self.assertIn("See Figure 11.", document[len(document) - 1].get_textpage().get_text_range())

    def test_figures_that_the_core_writes_are_all_of_one_width(self) -> None:
        for font in FONTS:
            for bold, italic in ((False, False), (True, False), (False, True), (True, True)):
                face = TYPEFACES.face(font, bold, italic, tabular=True)
                self.assertEqual(len({round(face.width(digit), 6) for digit in "0123456789"}), 1, face.name)
                self.assertAlmostEqual(face.width("2191-79"), 6 * face.width("1") + face.width("-"))


class Indexed(unittest.TestCase):
    def test_of_two_with_one_id_the_first_counts_and_all_are_in_reading_order(self) -> None:
        twice = [
            Run("one", Marks(bookmark=Bookmark("m", "First"))),
            Run("two", Marks(bookmark=Bookmark("m", "Second"))),
        ]
        report = report_of(
            text("a", twice[0]), text("h", "Head", style="heading-1"), text("b", twice[1]), *figure("f", "Wall")
        )
        found = paginate(report, TYPEFACES).places
        self.assertEqual([(one.id, one.kind, one.text) for one in found.values()],
                         [("m", "bookmark", "First"), ("h", "heading", "Head"), ("f", "caption", "Wall")])  # fmt: skip
        self.assertFalse(re.search(INLINE_OBJECT, found["f"].text))
