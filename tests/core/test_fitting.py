"""What comes from one report into another: levels, styles, labels, authorities, links, tables."""

from __future__ import annotations

from dataclasses import replace
from itertools import count
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.formats import read
from mellowspine.core.report.authorities import Authority, Category
from mellowspine.core.report.blocks import (
    Bookmark,
    Citation,
    Entry,
    Indexed,
    Marks,
    Paragraph,
    PlacedTable,
    Reference,
    Run,
)
from mellowspine.core.report.elements import element_of, ids_of, validate
from mellowspine.core.report.fitting import Fitted, fitted, highest_level, level_before
from mellowspine.core.report.labels import DEFAULT_LABELS, Label
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import add_style
from mellowspine.core.report.styles import Style, StyleSheet, default_styles
from mellowspine.core.report.tables import Issued, OwnWords

from .samples import blocks, heading, text

HERE = Report("here", (heading("a"), text("b"), heading("c", 3), text("d")))


def fit(source: Report, into: Report = HERE, deeper: int = 0) -> Fitted:
    return fitted(source, into, (f"n{number}" for number in count()).__next__, deeper)


def styles_of(found: Fitted) -> list[Any]:
    return [block.style for block in found.blocks if isinstance(block, Paragraph)]


class Levels(TestCase):
    def test_headings_go_deeper_within_the_nine_levels(self) -> None:
        source = Report("x", (heading("a", 1), heading("b", 2), heading("c", 9), replace(text("d"), listed=1)))
        self.assertEqual(highest_level(source), 1)
        found = fit(source, deeper=2)
        self.assertEqual(styles_of(found), ["heading-3", "heading-4", "heading-9", "body"])
        self.assertEqual(found.blocks[3].listed, 3)
        self.assertEqual(styles_of(fit(source, deeper=-1)), ["heading-1", "heading-1", "heading-8", "body"])

    def test_what_a_place_is_under(self) -> None:
        self.assertEqual([level_before(HERE, id) for id in ("a", "b", "c", "d")], [1, 1, 3, 3])
        self.assertEqual(level_before(Report("x", (text("a"),)), "a"), 0)


class Names(TestCase):
    def test_styles_are_matched_by_purpose_then_by_name_or_made(self) -> None:
        sheet = [*default_styles().values(), Style("lead", "Lead-in", font="Carlito", size=13)]
        sheet += [
            Style("x1", "Margin note", size=8, based_on="lead"),
            replace(default_styles()["quotation"], id="q2", role="quotation"),
        ]
        sheet += [Style("abc", "Lettered", marker="lower-letter", list_level=1)]
        source = Report(
            "x", tuple(Paragraph(id, id) for id in ("lead", "x1", "q2", "abc", "nowhere")), StyleSheet(sheet)
        )
        with_notes, made = add_style(default_styles(), "margin NOTE", "body")
        found = fit(source, replace(HERE, styles=with_notes))
        self.assertEqual(styles_of(found), ["lead-in", made.id, "quotation", "lettered", "body"])
        self.assertEqual(found.report.styles["lead-in"].size, 13)
        self.assertEqual({*found.report.styles} - {*with_notes}, {"lead-in", "lettered"})

    def test_labels_and_authorities_are_those_of_the_same_words(self) -> None:
        cite = Marks(citation=Citation("k", "act"))
        source = Report(
            "x",
            (Paragraph("p", "caption", (Run("Gate"),), caption="map"), Paragraph("q", "caption", caption="fig"),
             Paragraph("r", runs=(Run("Act", cite), Run("Other", Marks(citation=Citation("l", "gone")))))),
            labels={"map": Label("map", "Map"), "fig": Label("fig", "FIGURE")},
            categories={"acts": Category("acts", "Acts of the town")},
            authorities={"act": Authority("act", "acts", "Harbour Act 1871")},
        )  # fmt: skip
        known = replace(HERE, authorities={"k1": Authority("k1", "statutes", "Harbour act 1871")})
        for into, of, further in ((HERE, None, 1), (known, "k1", 0)):
            found = fit(source, into)
            self.assertEqual([found.blocks[0].caption, found.blocks[1].caption], ["map", "figure"])
            self.assertEqual(found.report.labels["map"].name, "Map")
            citations = [run.marks.citation.of for run in found.blocks[2].runs]
            self.assertEqual(citations[1], "gone")
            self.assertEqual(len(found.report.authorities), len(into.authorities) + further)
            if of:
                self.assertEqual(citations[0], of)
            else:
                made = found.report.authorities[citations[0]]
                self.assertEqual(
                    (made.long, found.report.categories[made.category].name), ("Harbour Act 1871", "Acts of the town")
                )
                self.assertEqual([*found.report.categories][-1], "other")
        self.assertEqual({*HERE.labels}, {*DEFAULT_LABELS})


class Leads(TestCase):
    def test_links_and_references_lead_to_the_copy_and_others_stay(self) -> None:
        runs = (
            Run("to", Marks(link="#h")),
            Run("out", Marks(link="#a")),
            Run("\ufffc", Marks(reference=Reference("m", "title", "said"))),
            Run("web", Marks(link="https://x.org")),
        )
        named = Paragraph(
            "n", runs=(Run("words", Marks(bookmark=Bookmark("m", "Name"), indexed=Indexed("i", (Entry(("t",)),)))),)
        )
        found = fit(Report("x", (heading("h"), Paragraph("p", runs=runs), named)))
        head, leads, place = found.blocks
        self.assertEqual([run.marks.link for run in leads.runs], [f"#{head.id}", "#a", None, "https://x.org"])
        self.assertEqual(leads.runs[2].marks.reference.to, place.runs[0].marks.bookmark.id)
        self.assertNotIn("i", place.runs[0].marks.indexed.id)

    def test_tables_stay_tables_with_their_recipe_and_own_words(self) -> None:
        recipe = Recipe(section="h", feeds={"lead": 2}, levels=(1, 2))
        sheet = StyleSheet([*default_styles().values(), Style("lead", "Lead-in")])
        own = {"h": OwnWords("Short", "Long"), "elsewhere": OwnWords("x", "y")}
        source = Report("x", (PlacedTable("t", "k"), heading("h")), sheet, tables={"k": Issued(recipe, (), own)})
        found = fit(source)
        placed, head = found.blocks
        issued = found.tables[placed.table]
        self.assertEqual((issued.recipe.section, dict(issued.recipe.feeds)), (head.id, {"lead-in": 2}))
        self.assertEqual(dict(issued.own), {head.id: OwnWords("Short", "Long")})

    @settings(max_examples=60)
    @given(blocks, st.integers(-3, 9))
    def test_whatever_comes_has_ids_of_its_own_and_all_its_words(self, given_blocks, deeper) -> None:
        source = Report("x", given_blocks)
        found = fit(source, source, deeper)
        ids = [id for block in found.blocks for id in ids_of(block)]
        self.assertEqual(len({*ids}), len(ids))
        self.assertFalse({*ids} & {id for block in given_blocks for id in ids_of(block)})
        for old, new in zip(given_blocks, found.blocks, strict=True):
            self.assertIsNone(validate(element_of(new)))
            self.assertEqual(getattr(old, "text", None), getattr(new, "text", None))
        self.assertEqual(found.report, source)

    def test_a_chapter_of_markdown(self) -> None:
        chapter = read("c.md", b"# Sea level\n\nSee [Weir](#weir).\n\n## Weir\n\n| a |\n|---|\n| 1 |\n").report
        found = fit(chapter, deeper=1)
        self.assertEqual(styles_of(found), ["heading-2", "body", "heading-3"])
        self.assertEqual(found.blocks[1].runs[1].marks.link, f"#{found.blocks[2].id}")
