"""What follows from an edit: as much as the edit asks for, and the same as from a fresh start.

How much is done may not grow with the report: calls are counted, of Python and of C, and nothing is timed.
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import replace
from types import FrameType
from typing import Any, ClassVar
from unittest import TestCase, mock

from hypothesis import given, settings
from hypothesis import strategies as st

from demo.manual import manual
from mellowspine.core.checkup.findings import CHECKS
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.authorities import Authority
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Bookmark,
    Cell,
    Citation,
    DataTable,
    Entry,
    Image,
    Indexed,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Reference,
    Run,
    ThematicBreak,
)
from mellowspine.core.report.formulas import FORMULA
from mellowspine.core.report.labels import Label, labels_of
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import change_style
from mellowspine.core.report.styles import StyleSheet
from mellowspine.core.report.tables import Issued
from mellowspine.core.tables.kinds import table_kind
from mellowspine.core.tables.settle import settle_all
from mellowspine.server.rooms.followers import FOLLOWERS, changes, shown
from mellowspine.server.rooms.followers.round import Given, Issuance, Known, Round, SetAside
from tests.core.samples import SENTENCE

ASIDE: dict[str, SetAside] = {}


class Unknown:
    """Who did what, of which nothing is known."""

    def of(self, source: str, kinds: object) -> None:
        return None

    def removed(self, id: str) -> str:
        return ""

    renamed: ClassVar[dict[str, str]] = {"b1": "Gates"}


def given_of(report: Report, typefaces: Typefaces) -> Given:
    return Given(report, typefaces, Unknown(), dict.fromkeys(report.tables, Issuance()), (), ASIDE)  # type: ignore[arg-type]


@contextmanager
def counted(counts: Counter[str]) -> Iterator[None]:
    """Counts the calls that each follower makes, and each finding of the check-up, without those that it asks others for."""
    doing = ["elsewhere"]

    def note(frame: FrameType, event: str, argument: object) -> None:
        if event in ("call", "c_call"):
            counts[doing[-1]] += 1

    def named(name: str, work: Callable[..., Any]) -> Callable[..., Any]:
        def run(*arguments: Any) -> Any:
            doing.append(name)
            try:
                return work(*arguments)
            finally:
                doing.pop()

        return run

    class Counted:
        def __init__(self, name: str, part: shown.Part) -> None:
            self.empty, self.changes = part.empty, named(f"{name}, told", part.changes)

    followers = {
        name: replace(one, compute=named(name, one.compute), shown=one.shown and Counted(name, one.shown))
        for name, one in FOLLOWERS.items()
    }
    checks = {
        kind: replace(one, in_report=one.in_report and named(f"finding {kind}", one.in_report))
        for kind, one in CHECKS.items()
    }
    with mock.patch.dict(FOLLOWERS, followers), mock.patch.dict(CHECKS, checks):
        sys.setprofile(note)
        try:
            yield
        finally:
            sys.setprofile(None)


def with_a_note_in_each(report: Report) -> Report:
    """The report with a note for every paragraph of some length."""
    blocks: list[Block] = []
    for at, block in enumerate(report.blocks):
        blocks.append(block)
        if isinstance(block, Paragraph) and block.style == "body" and len(block.text) > 80:
            sign = Run(INLINE_OBJECT, Marks(reference=Reference(f"note{at}", "note")))
            blocks[-1] = replace(block, runs=(*block.runs, sign))
            blocks.append(Paragraph(f"note{at}", "note", (Run("As the gate book has it."),), note="foot"))
    return replace(report, blocks=tuple(blocks))


def of_one_edit(pages: int, noted: bool = False) -> Counter[str]:
    """The calls for a few words in the middle of a report of so many pages, which has its contents in front."""
    typefaces = Typefaces()
    report = with_a_note_in_each(manual(pages)) if noted else manual(pages)
    report = replace(report, blocks=(PlacedTable("t", "t"), *report.blocks), tables={"t": Issued(Recipe())})
    report, _ = settle_all(report, typefaces)
    known: Known = {}
    for _ in range(2):
        now = Round(FOLLOWERS, given_of(report, typefaces), known)
        now.finish()
        assert not now.broken, now.broken
        known = now.known
    middle = len(report.blocks) // 2
    at = next(
        index
        for index, block in enumerate(report.blocks)
        if index > middle and isinstance(block, Paragraph) and block.style == "body" and len(block.text) > 80
    )
    block = report.blocks[at]
    longer = replace(block, runs=(Run("x"), *block.runs))
    edited = replace(report, blocks=(*report.blocks[:at], longer, *report.blocks[at + 1 :]))
    counts: Counter[str] = Counter()
    now = Round(FOLLOWERS, given_of(edited, typefaces), known)
    with counted(counts):
        now.finish()
        changes(known, now.known)
    return counts


class Work(TestCase):
    def test_of_no_follower_and_no_finding_does_it_grow_with_the_report(self) -> None:
        """By a fifth at most; only pages are filled again from where the edit is to where all is as before."""
        small, large = of_one_edit(100), of_one_edit(400)
        self.assertLessEqual({"pages", "tables", "checked", "found", "edges"}, set(large))
        for name, count in large.items():
            with self.subTest(name):
                self.assertLessEqual(count, (1.5 if name == "pages" else 1.2) * small[name] + 20)

    def test_nor_do_pages_and_places_where_every_paragraph_has_a_note(self) -> None:
        small, large = of_one_edit(60, noted=True), of_one_edit(240, noted=True)
        for name in ("noted", "pages", "edges", "shown", "places", "leads", "leads_on"):
            with self.subTest(name):
                self.assertLessEqual(large[name], (1.5 if name == "pages" else 1.2) * small[name] + 20)


# --- What is computed after an edit is as from a fresh start ---

_WORDS = st.sampled_from(
    ["Gates", "1. Gates", "Tides and their gates.", "", SENTENCE, SENTENCE * 12, "Figure 3: Gates", "See Figure 1 and section 1.", "Contents", "Gate\t12.5\tm"]
)  # fmt: skip
_MARKS = st.sampled_from(
    [Marks(), Marks(), Marks(bold=True), Marks(italic=True, size=14), Marks(script="sub", strike=True), Marks(capitals="small", highlight="#ffff00"), Marks(link="#b1"), Marks(bookmark=Bookmark("m", "Place")),
     Marks(citation=Citation("c", "vane")), Marks(indexed=Indexed("i", (Entry(("gate",), True),)))]
)  # fmt: skip
_RUNS = st.lists(
    st.one_of(
        st.builds(Run, _WORDS, _MARKS),
        st.sampled_from(["<math><mi>x</mi></math>", '<math display="block"><mfrac><mi>a</mi><mn>2</mn></mfrac></math>']).map(lambda said: Run(FORMULA, Marks(formula=said))),
        st.tuples(st.sampled_from(["label", "number", "title", "page", "way", "note", "note", "note"]), st.sampled_from(["b2", "b2", "b1", "b3"])).map(
            lambda to: Run(INLINE_OBJECT, Marks(reference=Reference(to[1], to[0], "?")))
        ),
    ),
    max_size=3,
).map(tuple)  # fmt: skip
_PARAGRAPHS = st.builds(
    Paragraph, st.just(""), st.sampled_from(["body", "body", "heading-1", "heading-2", "heading-3", "caption", "title", "code", "bullet-1", "item-1", "note"]),
    _RUNS, note=st.sampled_from([None, None, None, "foot", "end"]), caption=st.sampled_from([None, None, None, "figure", "table"]), listed=st.sampled_from([None, None, None, 0, 2]),
    number=st.sampled_from([None, None, "none", "appendix"]), number_from=st.sampled_from([None, None, 4]), new_page=st.sampled_from([None, None, True, False]),
    keep_with_next=st.sampled_from([None, None, True]), keep_together=st.sampled_from([None, None, True]),
    right_indent=st.sampled_from([None, None, 60.0]), background=st.sampled_from([None, None, "#e4f2ee", "none"]),
    borders=st.sampled_from([None, None, "top 3 #000000, bottom 6 #000000 double", "none"]), contextual_spacing=st.sampled_from([None, None, True, False]),
    tab_stops=st.sampled_from([None, None, None, "", "90 left, 300 right dots"]), space_before=st.sampled_from([None, None, 30.0]), line_spacing=st.sampled_from([None, None, 3.0]),
)  # fmt: skip
_CELLS: tuple[dict[str, Any], ...] = (
    {},
    {"padding": (20.0, 5.0, 0.0, 30.0), "borders": "none"},
    {"height": 90.0, "vertical": "middle", "background": "#e4f2ee"},
)
_GRIDS = st.lists(_PARAGRAPHS, min_size=1, max_size=3).map(
    lambda inside: DataTable("", tuple((Cell((replace(one, id="", caption=None, listed=None),)), Cell((Paragraph(""), Image("", "", 60.0, 10.0 * len(one.runs) + 5.0)), **_CELLS[len(one.text) % len(_CELLS)])) for one in inside), 1, (None, "center")[len(inside) % 2])
)  # fmt: skip
_SIDES = st.builds(
    Image,
    st.just(""),
    st.just(""),
    st.sampled_from([60.0, 250.0]),
    st.sampled_from([20.0, 150.0]),
    align=st.sampled_from(["left", "right", "center"]),
    beside=st.just(True),
)
_OTHERS = st.one_of(
    _SIDES,
    st.builds(Image, st.just(""), st.just(""), st.sampled_from([50.0, 400.0]), st.sampled_from([50.0, 900.0]), st.sampled_from(["", "A gate"])),
    st.just(PageBreak("")),
    st.just(ThematicBreak("")),
    st.just(PartStart("")),
    st.just(PartStart("")),
    st.sampled_from([PlacedTable("", key, True, kind) for key, kind in (("t", "contents"), ("f", "figures"), ("s", "styles"), ("a", "authorities"), ("x", "index"))]),
)  # fmt: skip
_BLOCK: st.SearchStrategy[Block] = st.one_of(_PARAGRAPHS, _PARAGRAPHS, _PARAGRAPHS, _GRIDS, _OTHERS)
_TABLES = {
    "t": Issued(Recipe(feeds={"code": 2})), "f": Issued(table_kind("figures").recipe), "s": Issued(replace(table_kind("styles").recipe, feeds={"code": 1, "title": 1})),
    "a": Issued(table_kind("authorities").recipe), "x": Issued(table_kind("index").recipe),
}  # fmt: skip
_SAMPLE = Report("Sample", tables=_TABLES, authorities={"vane": Authority("vane", "cases", "Vane v Ash")})


def _styled(id: str, **values: Any) -> Callable[[Report], Report]:
    return lambda report: replace(report, styles=change_style(report.styles, id, values))


def _of_level(id: str, level: int | None) -> Callable[[Report], Report]:
    """The sheet does not let a level's only style go; a report from elsewhere may have no style for a level."""
    return lambda report: replace(
        report,
        styles=StyleSheet(replace(one, outline_level=level) if one.id == id else one for one in report.styles.values()),
    )


def _on_page(**values: Any) -> Callable[[Report], Report]:
    return lambda report: replace(report, page=replace(report.page, **values))


def _table(key: str, **values: Any) -> Callable[[Report], Report]:
    def change(report: Report) -> Report:
        issued = report.tables[key]
        return replace(report, tables={**report.tables, key: replace(issued, recipe=replace(issued.recipe, **values))})

    return change


def _parted(number: int, part: Part) -> Callable[[Report], Report]:
    """Gives one of the parts other settings."""

    def change(report: Report) -> Report:
        ids = [FIRST, *(one.id for one in report.blocks if isinstance(one, PartStart))]
        return replace(report, parts={**report.parts, ids[number % len(ids)]: part})

    return change


_SETTINGS = st.sampled_from(
    [
        *(_parted(number, part) for number in range(3) for part in (
            Part(), Part(figures="lower-roman"), Part(figures="decimal", words="A-", start=1), Part(begins="right"), Part(begins="left"),
            Part(page={"width": 800.0}), Part(page={"columns": 2, "top": 150.0}))),
        *(_styled(id, **{name: value}) for id in ("body", "heading-2", "cell", "caption", "code", "table-title") for name, value in (
            ("font", "Carlito"), ("size", 17.0), ("bold", True), ("space_before", 25.0), ("space_after", 40.0), ("line_spacing", 2.5),
            ("indent", 60.0), ("first_line", 40.0), ("keep_with_next", True), ("keep_together", True), ("hyphenate", True),
            ("orphans", 5), ("widows", 4), ("new_page", True), ("capitals", "all"), ("capitals", "small"), ("strike", True), ("right_indent", 80.0), ("background", "#e4f2ee"),
            ("borders", "top 4 #000000, left 2 #000000"), ("contextual_spacing", True), ("tab_stops", "60 center, 200 decimal line"))),
        _of_level("heading-2", 3), _of_level("heading-2", None), _styled("code", outline_level=1),
        *(lambda report, scheme=scheme: replace(report, numbering=SCHEMES[scheme]) for scheme in SCHEMES),
        _on_page(width=420.0), _on_page(height=500.0), _on_page(top=200.0), _on_page(left=150.0), _on_page(back_level=1),
        _on_page(back_level=2), _on_page(back_level=None), _on_page(back_says="To the contents"), _on_page(front="roman"),
        *(_on_page(footnotes_counted=how) for how in ("report", "section", "page")), _on_page(footnote_signs="signs"), _on_page(endnote_signs="decimal"),
        _on_page(endnotes_at="section", endnotes_counted="section"), _styled("note", size=15.0), _styled("note", space_after=30.0), _on_page(head_left="{title}, {section 1}"),
        lambda report: replace(report, labels=labels_of([Label("figure", "Plate", by_level=1), Label("table", "Box")])),
        lambda report: replace(report, authorities={}), lambda report: replace(report, title="Gates"),
        _table("t", levels=(1,)), _table("t", page_numbers="words"), _table("t", columns=2), _table("t", title="What is in it"),
        _table("s", feeds={"body": 1}), _table("a", passim=1), _table("x", run_in=True), _table("f", label="table"),
    ]
)  # fmt: skip


def named(blocks: Iterable[Block], letter: str) -> tuple[Block, ...]:
    """The same with ids of their own, those in data tables as well."""

    def inside(block: Block, id: str) -> Block:
        if not isinstance(block, DataTable):
            return replace(block, id=id)  # type: ignore[type-var]
        rows = tuple(
            tuple(replace(cell, blocks=tuple(replace(one, id=f"{id}-{r}-{c}-{n}") for n, one in enumerate(cell.blocks))) for c, cell in enumerate(row))
            for r, row in enumerate(block.rows)
        )  # fmt: skip
        return replace(block, id=id, rows=rows)

    return tuple(inside(block, f"{letter}{at}") for at, block in enumerate(blocks))


def seen(known: Known) -> dict[str, Any]:
    """What followers gave, as far as it can be compared."""

    def plain(name: str, value: Any) -> Any:
        match name:
            case "pages":
                return (
                    [*value.starts],
                    [*value.boxes],
                    value.stretches,
                    value.counts,
                    dict(value.captions),
                    dict(value.places),
                    [*value.worded],
                )
            case "found":
                return value.proposals, value.contents, value.rows, value.empties
            case "checked":
                return value.findings
        return value if isinstance(value, Mapping) else [*value]

    return {name: plain(name, of.value) for name, of in known.items()}


class AsFromAFreshStart(TestCase):
    @settings(deadline=None, max_examples=60)
    @given(st.lists(_BLOCK, min_size=3, max_size=14), st.data())
    def test_whatever_changes_of_text_and_settings(self, blocks: list[Block], data: st.DataObject) -> None:
        report = replace(_SAMPLE, blocks=named(blocks, "b"))
        known: Known = {}
        for turn in range(4):
            now = Round(FOLLOWERS, given_by(report), known)
            now.finish()
            self.assertEqual(now.broken, [])
            known = now.known
            fresh = Round(FOLLOWERS, given_by(report), {})
            fresh.finish()
            self.assertEqual(fresh.broken, [])
            afresh = seen(fresh.known)
            for name, value in seen(known).items():
                self.assertEqual(value, afresh[name], name)
            if data.draw(st.booleans()):
                report = data.draw(_SETTINGS)(report)
                continue
            old = report.blocks
            first = data.draw(st.integers(0, len(old)))
            end = data.draw(st.integers(first, min(len(old), first + 3)))
            new = named(data.draw(st.lists(_BLOCK, max_size=3)), f"n{turn}-")
            # What is typed goes on as the block that it is typed in.
            new = tuple(replace(one, id=old[first + at].id) if first + at < end and not isinstance(one, DataTable) else one for at, one in enumerate(new))  # type: ignore[type-var]  # fmt: skip
            report = replace(report, blocks=(*old[:first], *new, *old[end:]))

    def test_ways_back_beneath_what_has_no_body_text_in_it(self) -> None:
        table = DataTable("d", ((Cell((Paragraph("c", "cell", (Run("1"),)),)),),))
        blocks = (PlacedTable("t", "t"), Paragraph("h", "heading-1", (Run("Gates"),)), table)
        report = _on_page(back_level=1)(replace(_SAMPLE, blocks=blocks))
        before = paginate(report, TYPEFACES)
        wider = _styled("body", line_spacing=2.5)(report)
        self.assertEqual([*paginate(wider, TYPEFACES, before).boxes], [*paginate(wider, TYPEFACES).boxes])


TYPEFACES = Typefaces()


def given_by(report: Report) -> Given:
    return given_of(report, TYPEFACES)
