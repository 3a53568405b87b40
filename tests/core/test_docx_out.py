"""Reports as Office Open XML: what is written comes back, and what others change in it counts."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from random import Random
from typing import Any
from unittest import TestCase

import docx
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

import mellowspine.core.kinds  # noqa: F401  (makes the kinds of block known)
from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.imported import FileRefused, Imported
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Bookmark,
    Cell,
    Citation,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Reference,
    Run,
)
from mellowspine.core.report.index import See
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.recipes import Recipe, settings_of
from mellowspine.core.report.recipes import changed as changed_recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import Style, StyleSheet, default_styles
from mellowspine.core.report.tables import Issued, OwnWords
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.kinds import table_kind
from mellowspine.core.tables.settle import settle_all

from .made_reports import AUTHORITIES, PICTURES, any_report
from .round_trip import NormalForm

SAMPLES = Path(".venv/samples/docx")
W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
_TYPEFACES = Typefaces()


def written(imported: Imported) -> bytes:
    report, pages = settle_all(imported.report, _TYPEFACES)
    return WRITERS[".docx"].write(Written(report, pages, _TYPEFACES, imported.pictures))


def of(*blocks: Block, **more: object) -> Imported:
    return Imported(Report("r", blocks, **more), {one.source: one.data for one in PICTURES})  # type: ignore[arg-type]


def heading(id: str, level: int, words: str, **own: object) -> Paragraph:
    return Paragraph(id, f"heading-{level}", (Run(words),), **own)  # type: ignore[arg-type]


def body(id: str, *runs: Run | str) -> Paragraph:
    return Paragraph(id, "body", tuple(Run(one) if isinstance(one, str) else one for one in runs))


def part(data: bytes, name: str = "word/document.xml") -> etree._Element:
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        return etree.fromstring(package.read(name))


def changed(data: bytes, change: Callable[[etree._Element], object], name: str = "word/document.xml") -> bytes:
    """The file, with one of its parts changed, as another program would."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as package, zipfile.ZipFile(made, "w") as other:
        for entry in package.infolist():
            content = package.read(entry)
            if entry.filename == name:
                root = etree.fromstring(content)
                change(root)
                content = etree.tostring(root)
            other.writestr(entry.filename, content)
    return made.getvalue()


class ThereAndBack(TestCase):
    def hold(self, imported: Imported) -> Imported:
        report, pages = settle_all(imported.report, _TYPEFACES)
        data = WRITERS[".docx"].write(Written(report, pages, _TYPEFACES, imported.pictures))
        found = read("r.docx", data)
        there = NormalForm(replace(imported, report=report), pages).all()
        back = NormalForm(found, paginate(found.report, _TYPEFACES)).all()
        self.assertEqual("\n".join(there), "\n".join(back))
        lost = [one for one in found.notes if not one.kind.startswith(("typeface", "no-face"))]
        self.assertEqual(lost, [])
        return found

    @settings(max_examples=60)
    @given(st.integers(0, 2**32))
    def test_any_report_comes_back_as_it_was(self, seed: int) -> None:
        self.hold(any_report(Random(seed)))

    def test_so_does_every_file_of_others(self) -> None:
        count = 0
        for file in sorted(SAMPLES.rglob("*.docx")):
            try:
                found = read(file.name, file.read_bytes())
            except FileRefused:
                continue
            with self.subTest(file.name):
                self.hold(found)
                count += 1
        self.assertGreater(count, 40)

    def test_twice_is_as_once(self) -> None:
        """Names that a file gives its places stay, however often it comes and goes."""
        first = self.hold(any_report(Random(7)))
        second = read("r.docx", written(first))
        self.assertEqual(first.named, second.named)

    def test_the_same_report_makes_the_same_bytes(self) -> None:
        made = any_report(Random(3))
        self.assertEqual(written(made), written(made))

    def test_characters_that_xml_has_no_place_for_cost_themselves_alone(self) -> None:
        found = read("r.docx", written(of(body("b1", "one\x0btwo\ufffe three", Run("four\x02", Marks(bold=True))))))
        self.assertEqual(found.report.blocks[0].text, "onetwo threefour")  # type: ignore[union-attr]

    def test_an_empty_report(self) -> None:
        self.assertEqual(len(read("r.docx", written(of(Paragraph("b1")))).report.blocks), 1)

    def test_a_picture_that_is_gone_leaves_its_words(self) -> None:
        image = Image("b1", "0" * 32 + ".png", 40, 20, "A weir")
        self.assertEqual(read("r.docx", written(of(image))).report.blocks[0].text, "[A weir]")  # type: ignore[union-attr]


class WhatOthersChange(TestCase):
    """What another program changed in a file of ours counts, though what the report said is still beside it."""

    def test_a_style(self) -> None:
        def larger(root: etree._Element) -> None:
            style = root.find(f"{W}style[@{W}styleId='Heading1']/{W}rPr")
            assert style is not None
            style.find(f"{W}sz").set(f"{W}val", "60")  # type: ignore[union-attr]

        data = written(of(heading("h1", 1, "Weirs")))
        found = read("r.docx", changed(data, larger, "word/styles.xml")).report
        self.assertEqual((found.styles["heading-1"].size, found.styles["heading-1"].line_spacing), (30.0, 1.2))

    def test_the_switches_of_a_table(self) -> None:
        def two_levels(root: etree._Element) -> None:
            for one in root.iter(f"{W}instrText"):
                one.text = (one.text or "").replace('"1-3"', '"1-2"')

        recipe = Recipe(leader="-", numbers="hung")
        tables = {"t": Issued(recipe, own={"h1": OwnWords("Short", "Weirs")})}
        data = written(of(PlacedTable("p", "t"), heading("h1", 1, "Weirs"), heading("h2", 3, "Gates"), tables=tables))
        (same,) = read("r.docx", data).report.tables.values()
        self.assertEqual((same.recipe, [one.words for one in same.own.values()]), (recipe, ["Short"]))
        (otherwise,) = read("r.docx", changed(data, two_levels)).report.tables.values()
        self.assertEqual((otherwise.recipe.levels, otherwise.recipe.title), ((1, 2), "Contents"))

    def test_the_paper(self) -> None:
        def sideways(root: etree._Element) -> None:
            size = next(root.iter(f"{W}pgSz"))
            size.set(f"{W}w", "16838")
            size.set(f"{W}h", "11906")

        page = PageSetup(back_level=1, version="Draft 2", foot_middle="{page}, {version}")
        found = read("r.docx", changed(written(of(body("b1", "words"), page=page)), sideways)).report.page
        self.assertEqual(
            (found.width, found.height, found.back_level, found.foot_middle), (841.9, 595.3, 1, page.foot_middle)
        )

    def test_a_part_of_ours_that_is_damaged_is_left_aside(self) -> None:
        def spoilt(root: etree._Element) -> None:
            root.text = (root.text or "")[:-20]

        data = changed(written(of(heading("h1", 1, "Weirs"), body("b1", "Words"))), spoilt, "customXml/item1.xml")
        found = read("r.docx", data).report
        self.assertEqual([(one.level, one.text) for one in outline(found)], [(1, "Weirs")])

    def test_whatever_stands_in_it_is_no_setting_unless_it_can_be_one(self) -> None:
        def strange(root: etree._Element) -> None:
            root.text = '{"styles": [{"id": "../x"}, 7], "keys": {"body": 3}, "page": {"width": 1e9}, "parts": [{}], "tables": {"mellow-table-1": []}}'

        data = changed(written(of(heading("h1", 1, "Weirs"), body("b1", "Words"))), strange, "customXml/item1.xml")
        self.assertAlmostEqual(read("r.docx", data).report.page.width, 595.3, 1)

    @settings(max_examples=150)
    @given(st.data())
    def test_nor_does_anything_that_anybody_puts_there_keep_a_file_from_being_read(self, data: st.DataObject) -> None:
        """Each value of what a report of ours says is put in the place of another, or is anything at all."""
        said, other = (json.loads(part(_OURS, "customXml/item1.xml").text or "") for _ in range(2))
        path = data.draw(st.sampled_from(_paths(said)))
        at = said
        for key in path[:-1]:
            at = at[key]
        at[path[-1]] = data.draw(st.one_of(_ANYTHING, st.sampled_from(_values(other))))

        def put(root: etree._Element) -> None:
            root.text = json.dumps(said)

        found = read("r.docx", changed(_OURS, put, "customXml/item1.xml"))
        self.assertEqual([one.text for one in outline(found.report)], ["Weirs", "Gates"])
        paginate(found.report, _TYPEFACES)
        written(found)

    def test_a_section_that_is_moved_keeps_its_name(self) -> None:
        def moved(root: etree._Element) -> None:
            content = root[0]
            content.insert(0, content[2])

        data = written(
            of(heading("h1", 1, "Weirs"), body("b1", "Words"), heading("h2", 1, "Gates"), body("b2", "More"))
        )
        before, after = read("r.docx", data), read("r.docx", changed(data, moved))
        ids = {one.text: one.id for one in outline(before.report)}
        self.assertEqual(
            [(one.text, one.id) for one in outline(after.report)], [("Gates", ids["Gates"]), ("Weirs", ids["Weirs"])]
        )


_ANYTHING = st.recursive(
    st.none() | st.booleans() | st.integers(-5, 10**9) | st.floats() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=5,
)


def _paths(said: Any, before: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Where each value of some JSON stands."""
    inside = said.items() if isinstance(said, dict) else enumerate(said) if isinstance(said, list) else ()
    return [path for key, one in inside for path in ((*before, key), *_paths(one, (*before, key)))]


def _values(said: Any) -> list[Any]:
    found = []
    for path in _paths(said):
        at = said
        for key in path:
            at = at[key]
        found.append(at)
    return found


_OURS = written(
    of(
        PlacedTable("p", "t"),
        heading("h1", 1, "Weirs"),
        Paragraph("i", "item-1", (Run("one"),)),
        body("b", Run("Act", Marks(citation=Citation("c", "a-1"), bookmark=Bookmark("m", "Place")))),
        PartStart("s"),
        heading("h2", 2, "Gates"),
        tables={"t": Issued(Recipe(), own={"h1": OwnWords("Short", "Weirs")})},
        parts={"s": Part(name="Annex", figures="lower-roman")},
        authorities=AUTHORITIES,
        sees=(See(("gate",), ("weir",)),),
        numbering=SCHEMES["decimal"],
    )
)
"""A report of ours with a bit of everything that is said beside the text."""


class BySwitchesAlone(TestCase):
    """What the switches of a field say (ISO/IEC 29500-1, 17.16.5) is read as it was written, without the part that is ours."""

    SAID: tuple[tuple[str, dict[tuple[str, ...], Any]], ...] = (
        ("contents", {("levels",): [1]}),
        ("contents", {("levels",): [1, 2, 3, 4]}),
        ("contents", {("levels",): [1, 3]}),
        ("contents", {("page_numbers",): "none"}),
        ("contents", {("looks", "2", "page_number"): False}),
        ("contents", {("page_numbers",): "words", ("separator",): ", p. "}),
        ("contents", {("feeds",): {"quotation": 2}}),
        ("contents", {("section",): "h1"}),
        ("figures", {}),
        ("tables", {}),
        ("authorities", {("categories",): ["statutes"], ("passim",): 0}),
        ("authorities", {("categories",): ["cases", "statutes"], ("levels",): [1, 2]}),
        ("index", {("run_in",): True, ("page_numbers",): "words"}),
        ("index", {("levels",): [2, 3, 4], ("columns",): 1}),
        ("index", {("page_numbers",): "edge"}),
    )

    def test_every_setting_that_a_switch_stands_for(self) -> None:
        for kind, settings_ in self.SAID:
            with self.subTest(kind=kind, settings=settings_):
                recipe = changed_recipe(table_kind(kind).recipe, settings_)
                blocks = (
                    heading("h1", 1, "Weirs"),
                    PlacedTable("p", "t", False, kind),
                    body(
                        "b",
                        Run("x", Marks(citation=Citation("c", "a-1"))),
                        Run("y", Marks(citation=Citation("d", "a-2"))),
                    ),
                    Paragraph("q", "quotation", (Run("said"),)),
                )
                data = written(of(*blocks, tables={"t": Issued(recipe)}, authorities=AUTHORITIES))
                found = read("r.docx", changed(data, without_ours, "word/_rels/document.xml.rels")).report
                (issued,) = found.tables.values()
                for path in settings_ or {("kind",): kind}:
                    self.assertEqual(self._of(issued.recipe, path), self._of(recipe, path), path)

    def _of(self, recipe: Recipe, path: tuple[str, ...]) -> object:
        said = settings_of(recipe)[path]
        # Ids of sections and styles are the file's there.
        return bool(said) if path == ("section",) else [*said.values()] if isinstance(said, Mapping) else said


def without_ours(root: etree._Element) -> None:
    """Takes out what leads to the part that is ours."""
    for one in [one for one in root if "customXml" in (one.get("Type") or "")]:
        root.remove(one)


class AsOthersReadIt(TestCase):
    """Read by ``python-docx`` and ``lxml``."""

    def test_headings_are_the_styles_that_programs_know(self) -> None:
        blocks = [
            Paragraph("t", "title", (Run("Report"),)),
            heading("h1", 1, "Weirs"),
            heading("h2", 2, "Gates"),
            body("b", "Words"),
        ]
        paragraphs = docx.Document(io.BytesIO(written(of(*blocks)))).paragraphs
        self.assertEqual([one.style.name for one in paragraphs], ["Title", "Heading 1", "Heading 2", "Normal"])  # type: ignore[union-attr]

    def test_styles_of_authors_are_told_from_those_of_programs(self) -> None:
        """ISO/IEC 29500-1, 17.7.4.17 (customStyle); names have no commas, which part several (17.7.4.1)."""
        sheet = [*default_styles().values(), Style("aside", "Remark, aside"), Style("mine", "heading 3")]
        mine = replace(sheet[1], name="Front")
        root = part(written(of(body("b", "x"), styles=StyleSheet([sheet[0], mine, *sheet[2:]]))), "word/styles.xml")
        said = {
            one.find(f"{W}name").get(f"{W}val"): (
                one.get(f"{W}customStyle"),
                one.findtext(f"{W}aliases"),
                one.find(f"{W}aliases"),
            )  # type: ignore[union-attr]
            for one in root.iter(f"{W}style")
        }
        self.assertEqual([said[name][0] for name in ("Normal", "Title", "heading 1", "List Bullet 2")], [None] * 4)
        self.assertEqual([said[name][0] for name in ("Remark aside", "heading 3 2", "Data table text")], ["1"] * 3)
        alias = said["Title"][2]
        self.assertEqual(alias.get(f"{W}val") if alias is not None else "", "Front")
        self.assertIsNone(said["Normal"][2])

    def test_headings_are_numbered_by_their_styles(self) -> None:
        blocks = (
            heading("h1", 1, "One"),
            heading("h2", 2, "Two"),
            heading("a", 1, "More", number="appendix"),
            heading("n", 1, "None", number="none"),
        )
        data = written(of(*blocks, numbering=SCHEMES["decimal"]))
        texts = [
            one.get(f"{W}val")
            for one in part(data, "word/numbering.xml").iterfind(f"{W}abstractNum[1]/{W}lvl/{W}lvlText")
        ]
        self.assertEqual(texts[:3], ["%1", "%1.%2", "%1.%2.%3"])
        tied = [one.get(f"{W}val") for one in part(data, "word/numbering.xml").iter(f"{W}pStyle")]
        self.assertEqual(tied[:2], ["Heading1", "Heading2"])
        own = [
            [one.get(f"{W}val") for one in p.iterfind(f"{W}pPr/{W}numPr/{W}numId")] for p in part(data).iter(f"{W}p")
        ]
        self.assertEqual(own, [[], [], ["2"], ["0"]])

    def test_lists_begin_anew_where_they_do(self) -> None:
        def item(id: str, **own: object) -> Paragraph:
            return Paragraph(id, "item-1", (Run(id),), **own)  # type: ignore[arg-type]

        report = of(
            item("a"),
            item("b"),
            body("x", "between"),
            item("c"),
            item("d", number_from=7),
            item("e", number="none"),
            item("f"),
        )
        found = read("r.docx", written(report)).report
        markers = list_markers(found)
        self.assertEqual([markers.get(one.id) for one in found.blocks], ["1.", "2.", None, "1.", "7.", None, "8."])

    def test_merged_cells_and_header_rows(self) -> None:
        def cell(words: str, **own: int) -> Cell:
            return Cell((Paragraph(words, "cell", (Run(words),)),), **own)

        rows = ((cell("head", columns=3),), (cell("tall", rows=2), cell("b"), cell("c")), (cell("d"), cell("e")))
        table = docx.Document(io.BytesIO(written(of(DataTable("t", rows, 1))))).tables[0]
        grid = [[table.cell(row, column).text for column in range(3)] for row in range(3)]
        self.assertEqual(grid, [["head"] * 3, ["tall", "b", "c"], ["tall", "d", "e"]])
        self.assertEqual(len([*table._tbl.iter(f"{W}tblHeader")]), 1)

    def test_between_two_data_tables_there_is_something(self) -> None:
        """Programs make one of two that touch."""
        one = DataTable("t", ((Cell((Paragraph("p", "cell", (Run("x"),)),)),),))
        data = written(of(one, replace(one, id="u")))
        self.assertEqual([child.tag.removeprefix(W) for child in part(data)[0]], ["tbl", "p", "tbl", "p", "sectPr"])
        self.assertEqual(len(read("r.docx", data).report.blocks), 2)

    def test_pictures_have_their_words_and_size(self) -> None:
        data = written(of(Image("b1", PICTURES[0].source, 60, 30, "A weir at low water")))
        shape = docx.Document(io.BytesIO(data)).inline_shapes[0]
        self.assertEqual((shape.width.pt, shape.height.pt), (60, 30))
        self.assertEqual(next(part(data).iter("{*}docPr")).get("descr"), "A weir at low water")

    def test_properties_of_the_document(self) -> None:
        page = PageSetup(language="de-DE")
        about = docx.Document(io.BytesIO(written(replace(of(body("b", "x"), page=page))))).core_properties
        self.assertEqual((about.title, about.language), ("r", "de-DE"))

    def test_a_note_that_is_called_twice(self) -> None:
        call = Run(INLINE_OBJECT, Marks(reference=Reference("n", "note")))
        data = written(of(body("b", "one", call, "two", call), Paragraph("n", "note", (Run("a note"),), note="foot")))
        root = part(data)
        self.assertEqual(len([*root.iter(f"{W}footnoteReference")]), 1)
        self.assertIn("NOTEREF", "".join(one.text or "" for one in root.iter(f"{W}instrText")))
        found = read("r.docx", data).report.blocks
        shown = [run.marks.reference.shows for run in found[0].runs if run.marks.reference]  # type: ignore[union-attr]
        self.assertEqual((shown, found[1].note), (["note", "note"], "foot"))  # type: ignore[union-attr]

    def test_a_note_within_a_note_stands_with_it(self) -> None:
        """Other programs have none such: its words come at the end of the one that calls it."""
        first, second = (Run(INLINE_OBJECT, Marks(reference=Reference(id, "note"))) for id in ("n", "m"))
        blocks = (
            body("b", "one", first),
            Paragraph("n", "note", (Run("outer"), second), note="foot"),
            Paragraph("m", "note", (Run("inner"),), note="foot"),
        )
        notes = part(written(of(*blocks)), "word/footnotes.xml")
        self.assertEqual(len(notes), 3)
        self.assertRegex("".join(notes[-1].itertext()), "outer2.*2 inner")

    def test_a_citation_of_what_is_not_known_any_more_keeps_its_words(self) -> None:
        data = written(of(body("b", "see ", Run("the Mole Act", Marks(citation=Citation("c", "gone"))), " there")))
        self.assertIn('TA \\l "the Mole Act"', "".join(one.text or "" for one in part(data).iter(f"{W}instrText")))
        (cited,) = (run for run in read("r.docx", data).report.blocks[0].runs if run.marks.citation)  # type: ignore[union-attr]
        self.assertEqual(cited.text, "the Mole Act")

    def test_columns_of_a_table_are_a_section_within_the_one_around_it(self) -> None:
        """ISO/IEC 29500-1, 17.6.22 (type continuous): page numbers, heads and feet go on."""
        tables = {"t": Issued(Recipe(columns=2))}
        page = PageSetup(first_page="none", head_left="{title}")
        parts = {FIRST: Part(start=3)}
        report = of(
            heading("h", 1, "Weirs"), PlacedTable("p", "t"), body("b", "x"), tables=tables, page=page, parts=parts
        )
        sections = [*part(written(report)).iter(f"{W}sectPr")]
        said = [
            (
                one.findtext(f"{W}type") if one.find(f"{W}type") is None else one.find(f"{W}type").get(f"{W}val"),  # type: ignore[union-attr]
                one.find(f"{W}cols").get(f"{W}num"),  # type: ignore[union-attr]
                one.find(f"{W}pgNumType") is not None,
                one.find(f"{W}titlePg") is not None,
                len(one.findall(f"{W}headerReference")),
            )
            for one in sections
        ]
        self.assertEqual(
            said,
            [(None, None, True, True, 2), ("continuous", "2", False, False, 0), ("continuous", None, False, False, 0)],
        )

    def test_page_breaks(self) -> None:
        data = written(of(body("a", "one"), PageBreak("p"), body("b", "two")))
        self.assertEqual([one.get(f"{W}type") for one in part(data).iter(f"{W}br")], ["page"])

    def test_no_script_or_relation_comes_from_words(self) -> None:
        bad = Run("press", Marks(link="javascript:alert(1)"))
        data = written(of(body("b", bad, '"><w:p/>', Run("x", Marks(link='https://example.org/"><b>')))))
        with zipfile.ZipFile(io.BytesIO(data)) as package:
            self.assertNotRegex(package.read("word/_rels/document.xml.rels").decode(), "javascript|<b>")
        self.assertEqual(len(re.findall("w:p>", etree.tostring(part(data)).decode())), 2 * 1)
