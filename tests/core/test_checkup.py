"""The check-up: each kind of finding, and what its remedy does and leaves alone."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import count
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

import mellowspine.core.checkup.kinds  # noqa: F401  (makes them known)
from mellowspine.core.checkup.findings import CHECKS, Checked, Remedy, State, check, remedy
from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Bookmark,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PlacedTable,
    Reference,
    Run,
)
from mellowspine.core.report.elements import Words
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.plan import Cut, Remove, carry_out
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import change_style
from mellowspine.core.report.styles import StyleSheet, default_styles
from mellowspine.core.report.tables import Issued, OwnWords
from mellowspine.core.structure.by_hand import find_by_hand
from mellowspine.core.structure.outline import outline
from mellowspine.core.structure.repeated import repeated

from .samples import SENTENCE, TYPEFACES, grid, heading, text

DEAD = Marks(link="https://nowhere")


def state_of(report: Report, before: State | None = None) -> State:
    headings = outline(report, (before.report, before.headings) if before else None)
    pages = paginate(report, TYPEFACES, before and before.pages, headings)
    again = repeated(report, (before.report, before.repeated) if before else None)
    return State(report, headings, pages, find_by_hand(report, before and before.found), again)


def state(*blocks: Block) -> State:
    return state_of(Report("Sample", blocks))


def found(given: State, kind: str) -> list[str]:
    return [finding.place for finding in check(given).findings if finding.kind == kind]


def ids() -> Iterator[str]:
    return (f"new{number}" for number in count())


def mended(given: State, kind: str, places: list[str] | None = None) -> State:
    made = remedy(check(given), kind, found(given, kind) if places is None else places, ids())
    assert made
    numbering = SCHEMES[made.scheme] if made.scheme else given.report.numbering
    return state_of(replace(carry_out(made.plan, given.report), numbering=numbering))


def shown(given: State) -> list[tuple[str, str]]:
    styles = given.report.styles
    return [(styles[b.style].id, b.text) for b in given.report.blocks if isinstance(b, Paragraph)]


def picture(id: str, alt: str = "A gate") -> Image:
    return Image(id, "", 100, 50, alt)


def said(id: str, words: str, style: str = "body", marks: Marks = Marks()) -> Paragraph:  # noqa: B008 -- frozen
    return Paragraph(id, style, (Run(words, marks),))


class Kinds(TestCase):
    def test_a_table_is_told_whose_pictures_nobody_has_described(self) -> None:
        rows = ((Cell((picture("a", ""), picture("b", ""))), Cell((picture("c"), picture("d", ""))),), (Cell((text("e"),)),))  # fmt: skip
        checked = check(state(heading("h"), text("x"), DataTable("t", rows, 1)))
        (one,) = [one for one in checked.findings if one.kind == "no-description"]
        self.assertEqual((one.place, one.text), ("t", "3 pictures in this data table have no description."))

    def test_a_report_in_order_has_no_findings(self) -> None:
        report = state(heading("a"), text("b"), heading("c", 2), picture("p"), said("k", "North wall", "caption"), heading("d", 2), grid("g", 2),
                       said("l", "Costs", "caption"), text("e"))  # fmt: skip
        self.assertEqual(check(report).findings, ())
        self.assertEqual(check(state()).findings, ())
        self.assertEqual(check(state(Paragraph("a", "heading-1"), Paragraph("b"))).findings, ())

    def test_by_hand(self) -> None:
        bold = Marks(bold=True)
        given = state(said("a", "1. Gates", marks=bold), text("b"), said("c", "2. Tides", marks=bold), text("d"))
        self.assertEqual(found(given, "by-hand"), ["a", "c"])
        after = mended(given, "by-hand")
        self.assertEqual([(one.number, one.text) for one in after.headings], [("1", "Gates"), ("2", "Tides")])
        self.assertEqual(found(after, "by-hand"), [])

    def test_unlike_its_level(self) -> None:
        """A single word may be emphasised; the whole heading may not look otherwise."""
        given = state(
            Paragraph("a", "heading-1", (Run("Gates", Marks(size=30)),), align="center"),
            Paragraph("b", "heading-1", (Run("The "), Run("Mermaid", Marks(italic=True)))),
            text("c"),
        )
        self.assertEqual(found(given, "unlike-level"), ["a"])
        self.assertEqual(check(given).findings[0].text, "“Gates” has its own alignment and size.")
        self.assertEqual(mended(given, "unlike-level").report.blocks[0], Paragraph("a", "heading-1", (Run("Gates"),)))

    def test_skipped_levels(self) -> None:
        """WCAG 2.2, technique G141: headings nest by their levels."""
        levels = (2, 1, 3, 4, 5, 3, 2, 4, 1, 4, 5, 6)
        given = state(*(heading(f"h{at}", level) for at, level in enumerate(levels)))
        self.assertEqual(found(given, "skipped-level"), ["h0", "h2", "h7", "h9"])
        self.assertEqual(
            [one.level for one in mended(given, "skipped-level").headings], [1, 1, 2, 3, 4, 2, 2, 3, 1, 2, 3, 4]
        )
        self.assertEqual(
            [one.level for one in mended(given, "skipped-level", ["h7"]).headings][:9], [2, 1, 3, 4, 5, 3, 2, 3, 1]
        )

        # What comes behind one that went up does not skip a level then.
        down = state(heading("a", 4), heading("b", 3), heading("c", 1))
        self.assertEqual([one.level for one in mended(down, "skipped-level").headings], [1, 2, 1])

    def test_headings_without_words(self) -> None:
        given = state(heading("a"), Paragraph("b", "heading-2"), text("c"))
        self.assertEqual(found(given, "empty-heading"), ["b"])
        self.assertEqual([block.id for block in mended(given, "empty-heading").report.blocks], ["a", "c"])

    def test_typed_numbers(self) -> None:
        given = state(
            heading("a", 1, "1. Gates"),
            text("b"),
            heading("c", 2, "1.1 North"),
            text("d"),
            heading("e", 1, "1984"),
            text("f"),
        )
        self.assertEqual(found(given, "typed-number"), ["a", "c"])
        after = mended(given, "typed-number")
        self.assertEqual(
            [(one.number, one.text) for one in after.headings], [("1", "Gates"), ("1.1", "North"), ("2", "1984")]
        )
        numbered = state_of(replace(given.report, numbering=SCHEMES["outline"]))
        self.assertIn("its number is I. already", check(numbered).findings[0].text)
        made = remedy(check(numbered), "typed-number", ["a"], ids())
        self.assertEqual(made, Remedy((Cut("a", 0, "1. "),)))

    def test_a_title_that_would_list_itself(self) -> None:
        report = Report("Sample", (heading("a", 1, "Contents"), Paragraph("e"), PlacedTable("t", "t"), heading("b"), text("c")), tables={"t": Issued()})  # fmt: skip
        given = state_of(report)
        self.assertEqual(found(given, "listed-title"), ["a"])
        self.assertEqual(mended(given, "listed-title").report.blocks[0], said("a", "Contents", "table-title"))

    def test_two_alike_under_one_parent(self) -> None:
        given = state(heading("a", 1, "One"), heading("b", 2, "Costs"), text("c"), heading("d", 2, "costs"), text("e"),
                      heading("f", 1, "Two"), heading("g", 2, "Costs"), text("h"), heading("i", 3, "Costs"), text("j"))  # fmt: skip
        self.assertEqual(found(given, "two-alike"), ["d"])

    def test_sections_without_text(self) -> None:
        given = state(heading("a"), heading("b", 2), Paragraph("e"), heading("c", 2), picture("p"), heading("d"))
        self.assertEqual(found(given, "without-text"), ["b", "d"])

    def test_lone_subsections(self) -> None:
        given = state(
            heading("a"),
            text("t"),
            heading("b", 2),
            text("u"),
            heading("c"),
            heading("d", 2),
            heading("e", 3),
            heading("f", 2),
        )
        self.assertEqual(found(given, "lone-subsection"), ["b", "e"])

    def test_headings_like_text(self) -> None:
        given = state(said("a", SENTENCE * 3, "heading-1"), text("b"), heading("c", 1, "Gates. "), text("d"), heading("e", 1, "And so on ..."), text("f"))  # fmt: skip
        self.assertEqual((found(given, "long-heading"), found(given, "full-stop")), (["a"], ["c"]))
        self.assertEqual(shown(mended(given, "long-heading"))[0], ("body", SENTENCE * 3))
        self.assertEqual(shown(mended(given, "full-stop"))[2], ("heading-1", "Gates "))

    def test_at_the_foot_of_a_page(self) -> None:
        styles = StyleSheet(
            replace(style, keep_with_next=False, space_before=0.0) for style in default_styles().values()
        )

        def filled(lines: int) -> State:
            rows = tuple(Paragraph(f"r{at}", runs=(Run("line"),), space_after=0) for at in range(lines))
            return state_of(Report("Sample", (*rows, heading("h"), text("t", 3)), styles))

        pages = [filled(lines) for lines in range(35, 50)]
        parted = [one for one in pages if found(one, "foot-of-page")]
        self.assertIn(len(parted), range(1, 7))
        for one in pages:
            at = len(one.report.blocks) - 2
            self.assertEqual(one in parted, one.pages.page_of(at) < one.pages.page_of(at + 1))
        broken = state(heading("h"), PageBreak("b"), text("t"))
        self.assertEqual(found(broken, "foot-of-page"), [])
        # Pages that are called otherwise begin where they did.
        called = state_of(replace(parted[0].report, parts={FIRST: Part(figures="lower-roman")}), parted[0])
        said = check(called, check(parted[0])).findings
        self.assertIn("“Heading h” stands at the foot of page i.", [one.text for one in said])

    def test_pictures_and_captions(self) -> None:
        given = state(picture("p", ""), Paragraph("e", "caption"), text("a"), picture("q"), said("k", "North wall", "caption"), text("b"), said("l", "South wall", "caption"), text("c"))  # fmt: skip
        self.assertEqual([(one.kind, one.place) for one in check(given).findings],
                         [("picture-as-caption", "e"), ("no-caption", "p"), ("no-description", "p"), ("lone-caption", "l")])  # fmt: skip
        after = mended(given, "picture-as-caption")
        self.assertEqual([block.id for block in after.report.blocks], ["p", "a", "q", "k", "b", "l", "c"])
        self.assertEqual(shown(mended(given, "lone-caption"))[-2], ("body", "South wall"))

    def test_data_tables_without_a_head_get_their_first_row_as_one(self) -> None:
        given = state(
            replace(grid("g", 2), header_rows=0), text("t"), replace(grid("one", 1), header_rows=0), grid("h", 2)
        )
        self.assertEqual(found(given, "no-head"), ["g"])
        after = mended(given, "no-head").report
        self.assertEqual([block.header_rows for block in after.blocks if block.id != "t"], [1, 0, 1])

    def test_typed_captions_become_real_ones(self) -> None:
        given = state(
            picture("p"), said("k", "Figure 7: North wall", "caption"), grid("g", 2), said("l", "Table 2-1 Costs"), text("b"),
            said("m", "Figure 9 shows that it leaks."), said("n", "FIG. 2 – South wall", "caption"),
        )  # fmt: skip
        self.assertEqual(found(given, "typed-caption"), ["k", "l", "n"])
        after = mended(given, "typed-caption").report
        fronts = state_of(after).pages.report.captions
        captions = {block.id: (fronts[block.id], block.text) for block in after.blocks if block.id in fronts}
        wanted = {"k": ("Figure 1: ", "North wall"), "l": ("Table 1: ", "Costs"), "n": ("Figure 2: ", "South wall")}
        self.assertEqual(captions, wanted)

    def test_typed_references_are_kept_true_from_then_on(self) -> None:
        caption = replace(said("k", "North wall", "caption"), caption="figure")
        words = "As section 1 and Figure 1 say; figure 1 again, but not Figure 2, section 9 or section 1 of an Act."
        blocks = (heading("h"), said("a", words), picture("p"), caption)
        given = state_of(Report("Sample", blocks, numbering=SCHEMES["decimal"]))
        self.assertEqual(found(given, "typed-reference"), ["a"])
        after = mended(given, "typed-reference")
        (_, one), *_ = after.pages.noted
        self.assertEqual(
            [(lead.to, lead.shows) for lead in one.leads], [("h", "number"), ("k", "label"), ("k", "label")]
        )
        self.assertEqual(found(after, "typed-reference"), [])

    def test_what_is_gone_is_told_and_becomes_plain_words(self) -> None:
        reference = Run(INLINE_OBJECT, Marks(reference=Reference("x", "label", "Figure 3")))
        link = Run("the wall", Marks(link="#y"))
        given = state(Paragraph("a", "body", (Run("See "), link, Run(" and "), reference, Run("."))))
        given = replace(given, removed=lambda id: "“Old wall”, which Ines removed" if id == "y" else "")
        (finding,) = [one for one in check(given).findings if one.kind == "broken-lead"]
        self.assertEqual(finding.text, "The link at “the wall” leads to “Old wall”, which Ines removed.")
        (block,) = mended(given, "broken-lead").report.blocks
        self.assertEqual("".join(run.text for run in block.runs), "See the wall and Figure 3.")
        self.assertEqual({run.marks for run in block.runs}, {Marks()})

    def test_figures_that_nothing_refers_to_and_bookmarks_alike(self) -> None:
        caption = replace(said("k", "North wall", "caption"), caption="figure")
        marks = [Marks(bookmark=Bookmark(id, "Tide")) for id in "mn"]
        given = state(picture("p"), caption, said("a", "High", marks=marks[0]), said("b", "Low", marks=marks[1]))
        self.assertEqual(found(given, "never-referred-to"), ["k"])
        self.assertEqual(found(given, "bookmarks-alike"), ["b"])

    def test_links_that_reach_nothing(self) -> None:
        good = [Marks(link=link) for link in ("https://example.org", "http://localhost:80/a", "mailto:a@example.org")]
        bad = [Marks(link=link) for link in ("https://nowhere", "http://./a", "mailto:nobody", "mailto:@example.org")]
        given = state(*(said(f"g{at}", "link", marks=marks) for at, marks in enumerate(good)),
                      *(said(f"b{at}", "link", marks=replace(marks, bold=True)) for at, marks in enumerate(bad)))  # fmt: skip
        self.assertEqual(found(given, "dead-link"), ["b0", "b1", "b2", "b3"])
        after = mended(given, "dead-link").report
        self.assertEqual(after.blocks[3], said("b0", "link", marks=Marks(bold=True)))
        self.assertEqual(after.blocks[:3], given.report.blocks[:3])

    def test_a_remedy_for_what_is_mended_already_does_nothing(self) -> None:
        given = state(heading("a"), text("b"))
        for kind, one in CHECKS.items():
            made = remedy(check(given), kind, ["a", "gone"], ids())
            self.assertEqual(made is None, one.remedy is None)
            self.assertEqual(carry_out(made.plan, given.report) if made else given.report, given.report, kind)
        self.assertIsNone(remedy(check(given), "no such kind", ["a"], ids()))


_WORDS = st.sampled_from(
    [
        "Gates",
        "1. Gates",
        "1.1 Gates",
        "Gates.",
        "Costs",
        "",
        " ",
        SENTENCE,
        SENTENCE * 3,
        "Gates .... 4",
        "Contents",
        "Figure 3: Gates",
        "See Figure 1 and section 1.",
        "Table",
    ]
)
_MARKS = st.sampled_from([Marks(), Marks(), Marks(bold=True), Marks(italic=True, size=14), DEAD])
_STYLES = st.sampled_from(["body", "body", "heading-1", "heading-2", "heading-3", "heading-4", "caption", "title"])
_BLOCKS = st.lists(
    st.one_of(
        st.builds(lambda style, runs, label: Paragraph("", style, tuple(runs), caption=label),
                  _STYLES, st.lists(st.builds(Run, _WORDS, _MARKS), max_size=2), st.sampled_from([None, None, "figure"])),
        st.builds(lambda alt: picture("", alt), st.sampled_from(["", "A gate"])),
        st.just(PageBreak("")),
        st.just(PlacedTable("", "t")),
    ),
    max_size=9,
).map(lambda blocks: tuple(replace(block, id=f"b{at}") for at, block in enumerate(blocks)))  # fmt: skip


_SHEET = default_styles()
_CHANGES = [
    ("body", {}), ("code", {"outline_level": 2}), ("caption", {"outline_level": 1}), ("body", {"size": 14.0}), ("title", {"outline_level": 1}),
]  # fmt: skip
_TABLES = {"t": Issued(Recipe(title="Contents"))}


class Remedies(TestCase):
    @given(_BLOCKS, st.sampled_from([kind for kind, one in CHECKS.items() if one.remedy]))
    def test_after_all_remedies_of_a_kind_none_is_left_and_no_other_character_has_changed(
        self, blocks: tuple[Block, ...], kind: str
    ) -> None:
        given = state_of(Report("Sample", blocks))
        made = remedy(check(given), kind, found(given, kind), ids())
        assert made
        after = mended(given, kind)
        self.assertEqual(found(after, kind), [])
        cut: dict[str, list[tuple[str, str]]] = {}
        for step in made.plan:
            if isinstance(step, Cut):
                instead = "".join(one.text if isinstance(one, Words) else INLINE_OBJECT for one in step.instead)
                cut.setdefault(step.block, []).append((step.words, instead))
        gone = {id for step in made.plan if isinstance(step, Remove) for id in step.blocks}
        before = {b.id: b.text for b in blocks if isinstance(b, Paragraph)}
        now = {b.id: b.text for b in after.report.blocks if isinstance(b, Paragraph)}
        self.assertEqual(set(now), set(before) - gone)
        for id, words in now.items():
            wanted = before[id]
            for old, new in cut.get(id, ()):
                if kind == "full-stop":  # the last of those that there are
                    head, _, tail = wanted.rpartition(old)
                    wanted = head + new + tail
                else:
                    wanted = wanted.replace(old, new, 1)
            self.assertEqual(words, wanted)
        for id in gone:
            self.assertTrue(not before.get(id, "").strip() or kind == "typed-contents")

    @given(_BLOCKS, _BLOCKS, st.data())
    def test_after_an_edit_it_is_as_from_a_fresh_start(
        self, old: tuple[Block, ...], new: tuple[Block, ...], data: st.DataObject
    ) -> None:
        first = data.draw(st.integers(0, len(old)))
        end = data.draw(st.integers(first, len(old)))
        earlier = state_of(Report("Sample", old, tables=_TABLES))
        # What is written anew keeps its id, as what is typed does; or it is another block.
        same = data.draw(st.booleans())
        ids = [old[at].id if same and at < end else f"n{at}" for at in range(first, first + len(new))]
        written = (replace(block, id=id) for block, id in zip(new, ids, strict=True))  # type: ignore[type-var]
        styles = change_style(_SHEET, *data.draw(st.sampled_from(_CHANGES)))
        now = state_of(Report("Sample", (*old[:first], *written, *old[end:]), styles, tables=_TABLES), earlier)
        again: Checked = check(now, check(earlier))
        self.assertEqual(again.findings, check(now).findings)


class SinceThen(TestCase):
    """What people who work together leave behind."""

    LONG = "The slip beside the lido is the only way onto the beach for a vehicle, and it stays open."
    OTHER = "A higher sea also means a shorter time in which the gates can be opened to let it out."

    def test_a_copy_that_was_hardly_changed_is_found_at_the_later_of_the_two(self) -> None:
        blocks = (
            heading("a", 1, "Access"), said("a1", self.LONG), said("a2", self.OTHER), said("a3", SENTENCE),
            heading("b", 1, "Ways in"), said("b1", self.LONG), said("b2", self.OTHER), said("b3", SENTENCE),
        )  # fmt: skip
        self.assertEqual(found(state(*blocks), "says-the-same"), ["b"])
        (finding,) = [one for one in check(state(*blocks)).findings if one.kind == "says-the-same"]
        self.assertEqual(finding.text, "“Ways in” says nearly the same as “Access” further up.")
        # Two paragraphs of it are no copy.
        changed = (*blocks[:5], said("b1", "All of this is new now."), *blocks[6:])
        self.assertEqual(found(state(*changed), "says-the-same"), [])

    def test_what_stands_everywhere_is_no_copy(self) -> None:
        blocks = [
            one
            for n in range(3)
            for one in (heading(f"h{n}", 1, f"Gate {n}"), said(f"t{n}", "See the plan of the harbour."))
        ]
        self.assertEqual(found(state(*blocks), "says-the-same"), [])

    def old_name(self, words: str, now: str = "Ways in") -> State:
        link = Run(words, Marks(link="#h"))
        given = state(heading("h", 1, now), Paragraph("p", "body", (Run("See "), link, Run("."))))
        return replace(given, renamed={"h": "Access"})

    def test_a_link_that_says_the_old_name_is_found_and_renamed(self) -> None:
        given = self.old_name("the part on Access")
        (finding,) = [one for one in check(given).findings if one.kind == "old-name"]
        self.assertEqual(
            finding.text, "The link at “the part on Access” says “Access”; that is called “Ways in” by now."
        )
        made = remedy(check(given), "old-name", ["p"], ids())
        assert made is not None
        after = carry_out(made.plan, given.report).blocks[1]
        assert isinstance(after, Paragraph)
        self.assertEqual(after.text, "See the part on Ways in.")
        self.assertEqual([run.marks.link for run in after.runs if "Ways" in run.text], ["#h"])
        self.assertEqual(found(self.old_name("the part on Access", "Access"), "old-name"), [])
        self.assertEqual(found(self.old_name("there"), "old-name"), [])
        self.assertEqual(found(self.old_name("Access by Ways in"), "old-name"), [])

    def test_own_words_that_stand_for_a_heading_as_it_was(self) -> None:
        given = state(heading("h", 1, "Ways in"), PlacedTable("t", "t1"))
        own = {"h": OwnWords("Getting there", "Access")}
        report = replace(given.report, tables={"t1": Issued(Recipe(title="Contents"), (), own)})
        (finding,) = [one for one in check(state_of(report)).findings if one.kind == "old-own-words"]
        self.assertEqual((finding.place, "“Getting there”" in finding.text), ("h", True))
        same = replace(report, tables={"t1": Issued(Recipe(), (), {"h": OwnWords("Getting there", "Ways in")})})
        self.assertEqual(found(state_of(same), "old-own-words"), [])

    def test_kept_words_are_a_finding(self) -> None:
        given = replace(state(heading("h", 1, "One")), kept=(("kept-1", "Tobias wrote 2 words."),))
        self.assertEqual(found(given, "kept-words"), ["kept-1"])
