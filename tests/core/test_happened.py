"""What happened to the sections between two states of a report."""

from __future__ import annotations

from dataclasses import replace
from itertools import combinations
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from mellowspine.core.report.blocks import Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.report import Report
from mellowspine.core.structure.happened import happened, sentence
from mellowspine.core.structure.sections import move, remove, sections, shift

from .samples import heading, text
from .test_sections import BOOK, report_of


def said(old: Report, new: Report) -> list[str]:
    return [sentence(one) for one in happened(old, new)]


class Happening(TestCase):
    def setUp(self) -> None:
        self.old = report_of(BOOK)

    def test_nothing(self) -> None:
        self.assertEqual(happened(self.old, self.old), [])

    def test_a_section_is_moved_with_those_under_it(self) -> None:
        new = carry_out(move(self.old, ["B"], None), self.old)
        self.assertEqual(said(self.old, new), ["“B” was moved from “A” to “E”, with 1 section under it."])
        new = carry_out(move(self.old, ["F"], None), self.old)
        self.assertEqual(len(said(self.old, new)), 1)
        self.assertIn("was moved.", said(self.old, new)[0])

    def test_removed_where_it_stood_and_added(self) -> None:
        new = carry_out(remove(self.old, ["B"]), self.old)
        self.assertEqual(said(self.old, new), ["“B” was removed from “A”, with 1 section under it."])
        self.assertEqual(said(new, self.old), ["“B” was added to “A”, with 1 section under it."])
        (gone,) = happened(self.old, new)
        self.assertEqual((gone.taken, gone.now), (1, None))

    def test_promoted_renamed_and_written_in(self) -> None:
        new = carry_out(shift(self.old, ["B"], -1), self.old)
        self.assertEqual(said(self.old, new), ["“B” went from level 2 to 1, with 1 section under it."])
        blocks = (
            replace(one, runs=(Run({"D": "Delta", "d": "d e f"}.get(one.id, "")),)) if one.id in ("D", "d") else one  # type: ignore[type-var]
            for one in self.old.blocks
        )
        new = replace(self.old, blocks=tuple(blocks))
        self.assertEqual(said(self.old, new), ["“Delta” was called “D” and has 2 words more."])
        self.assertEqual(said(new, self.old), ["“D” was called “Delta” and has 2 words less."])

    def test_renumbered_only_is_said_once_for_what_is_under_it(self) -> None:
        old = replace(self.old, numbering=SCHEMES["decimal"])
        new = carry_out(remove(old, ["A"]), old)
        self.assertEqual(
            said(old, new),
            [
                "“A” was removed from the top level, with 3 sections under it.",
                "“E” was 2 and is 1, with 2 sections under it.",
            ],
        )

    def test_sections_of_files_are_paired_by_what_the_caller_knows(self) -> None:
        old, new = (
            Report("o", (heading("a", 1, "Gate"),)),
            Report("n", (heading("b", 1, "Gate"), heading("a", 2, "New"))),
        )
        self.assertEqual([sentence(one) for one in happened(old, new, {"a": "b"})], ["“New” was added to “Gate”."])


_LEVELS = st.lists(st.tuples(st.integers(1, 3), st.booleans()), max_size=7)


class Against(TestCase):
    @settings(max_examples=200)
    @given(_LEVELS, st.permutations(range(7)), st.sets(st.integers(0, 6), max_size=3), st.data())
    def test_brute_force(self, levels, order, gone, data) -> None:
        """Every heading that differs is told, each once, and no fewer could have been moved."""
        blocks = [
            (heading(f"h{n}", level), *([text(f"t{n}")] if words else [])) for n, (level, words) in enumerate(levels)
        ]
        old = Report("r", tuple(one for some in blocks for one in some))
        kept = [n for n in order if n < len(blocks) and n not in gone]
        new = Report("r", tuple(one for n in kept for one in blocks[n]))
        found = happened(old, new)
        removed = {n for n in range(len(blocks)) if n in gone}
        self.assertEqual(sum(one.under + 1 for one in found if "removed" in one.kinds), len(removed))
        moved = sum(one.under + 1 for one in found if "moved" in one.kinds)
        fewest = next(
            count
            for count in range(len(kept) + 1)
            if any(sorted(rest) == list(rest) for rest in combinations(kept, len(kept) - count))
        )
        self.assertEqual(moved, fewest)
        self.assertEqual([one for one in found if "renamed" in one.kinds or "level" in one.kinds], [])
        self.assertEqual(happened(new, new), [])

    @settings(max_examples=100)
    @given(_LEVELS, st.data())
    def test_what_was_done_is_undone(self, levels, data) -> None:
        """What is said of a change and of its opposite has the same kinds but for added and removed, and as many words."""
        blocks = tuple(one for n, (level, _) in enumerate(levels) for one in (heading(f"h{n}", level), text(f"t{n}")))
        old = Report("r", blocks)
        known = sections(old)
        if not known:
            return
        new = carry_out(remove(old, [data.draw(st.sampled_from(known)).id]), old)
        there, back = happened(old, new), happened(new, old)
        self.assertEqual(sum(one.taken for one in there), sum(one.written for one in back))
        self.assertEqual(
            [one.under for one in there if "removed" in one.kinds], [one.under for one in back if "added" in one.kinds]
        )
