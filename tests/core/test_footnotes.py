"""Notes at the foot of pages and at ends. Where no standard is named: common practice, no source."""

from __future__ import annotations

import unittest
from dataclasses import replace
from io import BytesIO
from typing import Any

import docx
import html5lib
from docx.opc.packuri import PackURI
from docx.opc.part import Part
from docx.oxml import parse_xml
from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.draw import Drawing, Link, Rule, Words
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report import parts
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Cell,
    DataTable,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    Reference,
    Run,
    Shows,
)
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report

from .samples import TYPEFACES, heading, text
from .test_checkup import found, mended, state_of


def ref(to: str, shows: Shows = "note") -> Run:
    return Run(INLINE_OBJECT, Marks(reference=Reference(to, shows, "?")))


def says(id: str, *runs: Run | str, **given: Any) -> Paragraph:
    return Paragraph(id, runs=tuple(Run(one) if isinstance(one, str) else one for one in runs), **given)


def note(id: str, *runs: Run | str, lines: int = 1, note: Any = "foot", **given: Any) -> Paragraph:
    words = runs or ("\n".join([id] * lines),)
    return replace(says(id, *words, **given), style="note", note=note)


def pages_of(*blocks: Block, **page: Any) -> Pages:
    return paginate(Report("r", blocks, page=PageSetup(**page)), TYPEFACES)


def filling(lines: int) -> Paragraph:
    return Paragraph("filling", runs=(Run("\n".join(["x"] * lines)),), space_after=0)


def signs_of(pages: Pages) -> list[str]:
    return [pages.report.shown[f"note {one.id}"] for one in pages.footnotes]


def on_page(pages: Pages, number: int) -> list[str]:
    return [pages.report.blocks[one.box].id for one in pages.content(number)]


class Standing(unittest.TestCase):
    def test_a_note_stands_at_the_foot_of_the_page_on_which_it_is_referred_to(self) -> None:
        for lines in range(30, 50):
            pages = pages_of(filling(lines), says("p", "a", ref("n"), "b\nc\nd\ne"), note("n", lines=3), text("z"))
            sheet = pages.page_of(1)
            self.assertEqual(on_page(pages, sheet)[-1], "n")
            last = pages.content(sheet)[-1]
            foot = pages.boxes[2].foot
            assert foot
            self.assertTrue(last.foot)
            self.assertAlmostEqual(last.y + sum(foot.heights), pages.report.page.text_height)
            self.assertEqual(pages.page_of_place(pages.places["n"]), sheet)

    def test_a_line_goes_to_the_next_page_with_its_note(self) -> None:
        """CSS Generated Content for Paged Media 3, 2.5: “footnote-policy: line”."""
        seen = set()
        for lines in range(28, 46):
            block = says("p", "a\nb\nc", ref("n"), "\nd\ne")
            pages = pages_of(filling(lines), block, note("n", lines=6))
            line = pages.page_at(1, 0, 5)
            self.assertEqual(pages.page_of(2), line)
            seen.add(pages.page_of(1) != line)
        self.assertEqual(seen, {True, False})

    def test_notes_stand_in_the_order_in_which_they_are_referred_to(self) -> None:
        pages = pages_of(says("p", "a", ref("b"), ref("a"), ref("b")), note("a"), note("b"))
        self.assertEqual(on_page(pages, 1), ["p", "b", "a"])
        self.assertEqual(signs_of(pages), ["1", "2"])

    def test_one_that_nothing_refers_to_is_a_paragraph(self) -> None:
        pages = pages_of(text("a"), note("n"), text("b"))
        self.assertEqual((on_page(pages, 1), pages.footnotes), (["a", "n", "b"], ()))
        self.assertEqual(pages_of(says("a", ref("h")), replace(heading("h"), note="foot")).footnotes, ())

    def test_of_two_with_one_id_the_other_is_a_paragraph_and_none_is_lost(self) -> None:
        pages = pages_of(says("p", "a", ref("n")), note("n", "One"), text("b"), note("n", "Two"))
        marks = [one.text for one in Drawing(pages, TYPEFACES).page(1) if isinstance(one, Words)]
        self.assertEqual([marks.count("One"), marks.count("Two")], [1, 1])
        alone = Report("r", (pages.report.blocks[0], *pages.report.blocks[2:]))
        now = paginate(alone, TYPEFACES, pages)
        self.assertEqual([*now.boxes], [*paginate(alone, TYPEFACES).boxes])

    def test_where_one_of_two_with_one_id_is_taken_out_the_other_is_the_note(self) -> None:
        p, twins = says("p", "a", ref("n")), (note("n", "One"), note("n", "Two"))
        now = paginate(Report("r", (twins[1], p)), TYPEFACES, pages_of(*twins, p))
        self.assertEqual([*now.boxes], [*pages_of(twins[1], p).boxes])
        self.assertEqual(on_page(now, 1), ["p", "n"])

    def test_one_that_is_moved_in_front_of_a_paragraph_stands_where_it_did(self) -> None:
        p, a, n = says("p", "a", ref("n")), text("a"), note("n")
        now = paginate(Report("r", (n, a, p)), TYPEFACES, pages_of(a, n, p))
        self.assertEqual((now.footnotes[0].block, on_page(now, 1)), (0, ["a", "p", "n"]))

    def test_headings_stay_with_their_text_and_paragraphs_as_far_apart_as_without_notes_between(self) -> None:
        for lines in range(34, 46):
            noted = pages_of(filling(lines), says("h", "A", ref("n"), style="heading-1"), note("n"), text("p"))
            self.assertEqual(noted.page_of(1), noted.page_of(3), lines)
        noted, plain = pages_of(text("a"), note("n"), says("b", ref("n"))), pages_of(text("a"), says("b", "1"))
        self.assertEqual(noted.content(1)[1].y, plain.content(1)[1].y)

    def test_one_longer_than_a_page_goes_on_and_the_text_behind_it(self) -> None:
        pages = pages_of(text("a"), says("p", "b", ref("n")), note("n", lines=150), text("c"))
        found = [(at, one.first, one.end) for at in range(1, len(pages) + 1) for one in pages.content(at) if one.foot]
        self.assertGreater(len(found), 2)
        self.assertEqual([first for _, first, _ in found], [0, *(end for _, _, end in found[:-1])])
        self.assertEqual(found[-1][2], 150)
        self.assertEqual(pages.page_of(3), len(pages))

    def test_a_page_break_waits_for_what_is_left_of_notes(self) -> None:
        long = note("n", lines=150)
        for at, *end in (
            ("c", PageBreak("e"), text("c")),
            ("c", says("c", "c", new_page=True)),
            ("e", PartStart("e"), text("c")),
            ("p",),
        ):
            pages = pages_of(says("p", "b", ref("n")), long, *end, width=300.0)
            self.assertEqual(len(pages), 4 if end else 3)
            if end:
                self.assertEqual(on_page(pages, 4)[-1], "c")
                self.assertEqual(pages.page_of(len(end) + 1), 4)
            self.assertEqual({one.block.id for one in pages.edges()}, {at})

    def test_three_hundred_notes_in_one_row_of_a_data_table(self) -> None:
        cell = Cell((says("c", *(ref(f"n{at}") for at in range(300))),))
        table = DataTable("t", ((cell,), (Cell((text("d"),)),)), header_rows=1)
        pages = pages_of(table, *(note(f"n{at}") for at in range(300)), text("z"))
        found = [id for at in range(1, len(pages) + 1) for id in on_page(pages, at) if id[0] == "n"]
        self.assertEqual(found, [f"n{at}" for at in range(300)])
        self.assertEqual(pages.page_of(1), 1)
        for place in pages.places.values():
            self.assertIn(place.id, on_page(pages, pages.page_of_place(place)))

    def test_in_columns_each_has_its_own(self) -> None:
        pages = pages_of(filling(40), says("p", "b", ref("n")), note("n"), columns=2)
        self.assertEqual({one.column for one in pages.content(1) if one.foot}, {pages.content(1)[-1].column})
        long = pages_of(says("p", "b", ref("n")), note("n", lines=80), text("z"), columns=2)
        self.assertEqual([one.column for one in long.content(1) if one.foot], [0, 1])

    def test_a_note_within_a_note_stands_behind_it(self) -> None:
        pages = pages_of(says("p", ref("a")), note("a", "see", ref("b")), note("b", ref("a")))
        self.assertEqual((on_page(pages, 1), signs_of(pages)), (["p", "a", "b"], ["1", "2"]))
        self.assertEqual(pages_of(text("p"), note("a", ref("b")), note("b", ref("a"))).footnotes, ())


class Ends(unittest.TestCase):
    TEXT = (heading("1"), says("p", "a", ref("a")), note("a", note="end"), text("q"), heading("2"), says("r", ref("b")),
            note("b", lines=2, note="end"))  # fmt: skip

    def test_at_the_end_of_the_report_or_of_main_sections(self) -> None:
        self.assertEqual(on_page(pages_of(*self.TEXT), 1), ["1", "p", "q", "2", "r", "a", "b"])
        pages = pages_of(*self.TEXT, endnotes_at="section", endnotes_counted="section", endnote_signs="decimal")
        self.assertEqual(on_page(pages, 1), ["1", "p", "q", "a", "2", "r", "b"])
        self.assertEqual(signs_of(pages), ["1", "1"])
        self.assertEqual(signs_of(pages_of(*self.TEXT)), ["i", "ii"])

    def test_they_go_over_pages_and_say_where_they_stand(self) -> None:
        notes = [note(f"n{at}", lines=4, note="end") for at in range(40)]
        pages = pages_of(says("p", *(ref(one.id) for one in notes)), *notes, back_level=1)
        self.assertGreater(len(pages), 2)
        for place in pages.places.values():
            self.assertIn(place.id, on_page(pages, pages.page_of_place(place)), place)


class Counting(unittest.TestCase):
    TEXT = (says("p", ref("a"), ref("b")), note("a"), note("b"), PageBreak("e"), heading("h"), says("q", ref("c"), ref("a")), note("c"))  # fmt: skip

    def test_by_report_section_and_page(self) -> None:
        for counted, wanted in (("report", ["1", "2", "3"]), ("section", ["1", "2", "1"]), ("page", ["1", "2", "1"])):
            self.assertEqual(signs_of(pages_of(*self.TEXT, footnotes_counted=counted)), wanted)

    def test_with_letters_and_signs(self) -> None:
        many = (says("p", *(ref(f"n{at}") for at in range(7))), *(note(f"n{at}") for at in range(7)))
        for how, wanted in (("lower-letter", "a b c d e f g"), ("signs", "* † ‡ § ¶ ** ††")):
            self.assertEqual(signs_of(pages_of(*many, footnote_signs=how)), wanted.split())

    def test_the_sign_is_raised_stands_in_front_of_the_note_and_both_lead_to_each_other(self) -> None:
        pages = pages_of(says("p", "word", ref("a"), " more"), note("a", "Silt"))
        marks = [*Drawing(pages, TYPEFACES).page(1)]
        first, sign, *_, own, words = [one for one in marks if isinstance(one, Words)][:6][:3] + [
            one for one in marks if isinstance(one, Words)
        ][3:5]
        self.assertEqual((first.text, sign.text, own.text, words.text), ("word", "1", "1", "Silt"))
        self.assertLess(sign.size, first.size)
        self.assertLess(sign.baseline, first.baseline)
        self.assertLess(own.baseline, words.baseline)
        self.assertEqual([one.to for one in marks if isinstance(one, Link)], ["a", "p"])
        (rule,) = [one for one in marks if isinstance(one, Rule)]
        self.assertTrue(first.baseline < rule.y < own.baseline)

    def test_lines_are_no_higher_for_a_sign(self) -> None:
        pages = pages_of(says("p", "word", ref("a")), note("a"))
        self.assertEqual(pages.boxes[0].heights, pages_of(says("p", "word")).boxes[0].heights)

    def test_references_to_notes_say_their_number_or_page(self) -> None:
        pages = pages_of(says("p", "x", ref("a"), ref("a", "label"), ref("a", "number"), ref("a", "page")), note("a"))
        self.assertEqual(
            {key: pages.report.shown[key] for key in ("label a", "number a", "page a")},
            {"label a": "note 1", "number a": "1", "page a": "1"},
        )

    def test_what_is_said_again_of_headings_is_without_their_notes(self) -> None:
        pages = pages_of(says("h", "Silt", ref("a"), style="heading-1"), note("a"), says("p", ref("h", "title")))
        self.assertEqual((pages.worded[0].text, pages.report.shown["title h"]), ("Silt", "Silt"))


class Checked(unittest.TestCase):
    """What the check-up finds of notes, and what is done about it."""

    def after(self, report: Report, kind: str) -> Report:
        state = state_of(report)
        self.assertEqual(len(found(state, kind)), 1)
        return mended(state, kind).report

    def test_notes_that_nothing_refers_to(self) -> None:
        after = self.after(Report("r", (says("a", "x", ref("n")), note("n"), note("m"))), "lone-note")
        self.assertEqual([(one.id, one.note, one.style) for one in after.blocks],  # type: ignore[attr-defined]
                         [("a", None, "body"), ("n", "foot", "note"), ("m", None, "body")])  # fmt: skip

    def test_signs_of_notes_that_are_gone(self) -> None:
        after = self.after(Report("r", (says("a", "x", ref("gone"), "y"),)), "broken-lead")
        self.assertEqual(after.blocks[0].text, "xy")  # type: ignore[attr-defined]


MARKDOWN = """# Silt

Sea[^a] rises. Again[^a], and more^[In its *place*.].

- item[^b]
- second

[^b]: Of an item.

[^a]: By the **gauge**,
    kept since

    to 1881.

[^x]: Nothing refers to this.
"""

W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'


class Files(unittest.TestCase):
    """What comes in, and what goes out and comes in again."""

    def notes_of(self, report: Report) -> list[tuple[str, str]]:
        return [(one.note or "", one.text) for one in report.blocks if isinstance(one, Paragraph) and one.note]

    def read(self, data: str | bytes, name: str = "a.md") -> Report:
        found = read(name, data.encode() if isinstance(data, str) else data)
        self.assertEqual([one for one in found.notes if "note" in one.what.lower()], [])
        return found.report

    def written(self, report: Report, format: str) -> bytes:
        return WRITERS[f".{format}"].write(Written(report, paginate(report, TYPEFACES), TYPEFACES, {}))

    def test_markdown(self) -> None:
        report = self.read(MARKDOWN)
        self.assertEqual(
            [one.text for one in report.blocks if isinstance(one, Paragraph)],
            ["Silt", "Sea￼ rises. Again￼, and more￼.", "By the gauge, kept since\nto 1881.", "In its place.", "item￼",
             "Of an item.", "second", "Nothing refers to this."],
        )  # fmt: skip
        pages = paginate(report, TYPEFACES)
        self.assertEqual(signs_of(pages), ["1", "2", "3"])
        written = self.written(report, "md").decode()
        self.assertIn("Sea[^1] rises. Again[^1], and more[^2].", written)
        self.assertIn("- item[^3]\n- second", written)
        self.assertIn("[^1]: By the **gauge**, kept since\\\n    to 1881.", written)
        self.assertIn("[^2]: In its *place*.", written)
        self.assertEqual(self.notes_of(self.read(written))[:3], self.notes_of(report)[:3])

    def test_signs_of_markdown_in_words_stay_words(self) -> None:
        report = self.read(self.written(Report("r", (text("a"), says("p", "x[^1] and [^1]: y"))), "md"))
        self.assertEqual((self.notes_of(report), report.blocks[1].text), ([], "x[^1] and [^1]: y"))  # type: ignore[attr-defined]

    def test_html(self) -> None:
        """As Digital Publishing WAI-ARIA 1.1 has notes, and read again by what leads to what."""
        report = self.read(MARKDOWN)
        written = self.written(report, "html")
        page = html5lib.parse(written, namespaceHTMLElements=False)
        calls = [one for one in page.iter("a") if one.get("role") == "doc-noteref"]
        notes = {one.get("id"): one for one in page.iter("aside") if one.get("role") == "doc-footnote"}
        self.assertEqual([one.get("href", "")[1:] in notes for one in calls], [True] * 4)
        ids = {one.get("id") for one in calls}
        for one in notes.values():
            (back,) = [link for link in one.iter("a") if link.get("role") == "doc-backlink"]
            self.assertIn(back.get("href", "")[1:], ids)
        again = self.read(written, "a.html")
        self.assertEqual([words.split() for _, words in self.notes_of(again)],
                         [words.split() for _, words in self.notes_of(report)[:3]])  # fmt: skip
        bold = [
            run.text for block in again.blocks if isinstance(block, Paragraph) for run in block.runs if run.marks.bold
        ]
        self.assertEqual(bold, ["gauge"])

    def test_plain_text(self) -> None:
        written = self.written(self.read(MARKDOWN), "txt").decode()
        self.assertIn("Sea[1] rises. Again[1], and more[2].", written)
        self.assertIn("[1] By the gauge", written)

    def test_office_open_xml(self) -> None:
        """ISO/IEC 29500-1, 17.11: what stands above all notes has a type and is none."""
        made = docx.Document()
        made.add_paragraph("Sea", style="Heading 1")
        paragraph = made.add_paragraph("rises")
        for kind in ("footnote", "endnote", "footnote"):
            raised = "<w:rPr><w:vertAlign w:val='superscript'/></w:rPr>"
            paragraph._p.append(parse_xml(f'<w:r {W}>{raised}<w:{kind}Reference w:id="7"/></w:r>'))
        for kind in ("footnote", "endnote"):
            words = (
                f"<w:p><w:r><w:{kind}Ref/></w:r><w:r><w:t xml:space='preserve'> By the </w:t></w:r>"
                f"<w:r><w:rPr><w:b/></w:rPr><w:t>{kind}</w:t></w:r></w:p><w:p><w:r><w:t>kept</w:t></w:r></w:p>"
            )
            xml = (
                f'<w:{kind}s {W}><w:{kind} w:type="separator" w:id="0"><w:p><w:r><w:separator/></w:r></w:p></w:{kind}>'
                f'<w:{kind} w:id="7">{words}</w:{kind}></w:{kind}s>'
            )
            type = f"application/vnd.openxmlformats-officedocument.wordprocessingml.{kind}s+xml"
            part = Part(PackURI(f"/word/{kind}s.xml"), type, xml.encode(), made.part.package)
            made.part.relate_to(part, f"http://schemas.openxmlformats.org/officeDocument/2006/relationships/{kind}s")
        settings = f'<w:footnotePr {W}><w:numFmt w:val="chicago"/><w:numRestart w:val="eachPage"/></w:footnotePr>'
        made.sections[-1]._sectPr.insert(0, parse_xml(settings))
        made.settings.element.append(parse_xml(f'<w:endnotePr {W}><w:pos w:val="sectEnd"/></w:endnotePr>'))
        data = BytesIO()
        made.save(data)
        report = self.read(data.getvalue(), "a.docx")
        page = report.page
        self.assertEqual((page.footnote_signs, page.footnotes_counted, page.endnotes_at, page.endnote_signs),
                         ("signs", "page", "section", "lower-roman"))  # fmt: skip
        self.assertEqual(self.notes_of(report), [("foot", "By the footnote\nkept"), ("end", "By the endnote\nkept")])
        self.assertEqual(report.blocks[1].text, "rises" + 3 * INLINE_OBJECT)  # type: ignore[attr-defined]
        (bold,) = [run.text for run in report.blocks[2].runs if run.marks.bold]  # type: ignore[attr-defined]
        self.assertEqual(bold, "footnote")


NOTES = st.integers(0, 5).map(lambda at: f"n{at}")
RUNS = st.lists(st.one_of(st.sampled_from(["x ", "word " * 30, "\n"]).map(Run), NOTES.map(ref)), max_size=6).map(tuple)
PARAGRAPHS = st.one_of(
    RUNS.map(lambda runs: Paragraph("", runs=runs)),
    RUNS.map(lambda runs: Paragraph("", "heading-1", (Run("h"), *runs))),
    RUNS.map(lambda runs: DataTable("", ((Cell((Paragraph("", "cell", runs),)),),) * 2, 1)),
    st.sampled_from([PageBreak(""), PartStart(""), filling(20)]),
)


class AfterAnEdit(unittest.TestCase):
    @given(st.data())
    def test_pages_are_as_from_a_fresh_start_and_all_that_is_written_stands_on_one(self, data: st.DataObject) -> None:
        now: Pages | None = None
        blocks: list[Block] = []
        for step in range(4):
            at = data.draw(st.integers(0, len(blocks)))
            end = data.draw(st.integers(at, min(at + 3, len(blocks))))
            new = data.draw(st.lists(PARAGRAPHS, max_size=3))
            blocks[at:end] = [named(one, f"{step}-{at}") for at, one in enumerate(new)]
            if blocks and data.draw(st.integers(0, 4)) == 0:  # as two leave it who move the same
                twin = data.draw(st.sampled_from(blocks))
                blocks.insert(data.draw(st.integers(0, len(blocks))), replace(twin))  # type: ignore[type-var]
            for id in data.draw(st.sets(NOTES, max_size=3)):
                kept = [one for one in blocks if one.id != id or data.draw(st.integers(0, 3)) == 0]
                lines = data.draw(st.sampled_from([1, 1, 3, 70]))
                words = data.draw(RUNS)
                made = note(id, "\n" * (lines - 1), *words, note=data.draw(st.sampled_from(["foot", "foot", "end"])))
                kept.insert(data.draw(st.integers(0, len(kept))), made)
                blocks = kept
            draw_page = data.draw(st.booleans()) or now is None
            page = (
                PageSetup(
                    columns=data.draw(st.sampled_from([1, 1, 2])),
                    footnotes_counted=data.draw(st.sampled_from(["report", "section", "page"])),
                    endnotes_at=data.draw(st.sampled_from(["report", "section"])),
                    height=data.draw(st.sampled_from([842.0, 300.0])),
                )
                if draw_page
                else now.report.page  # type: ignore[union-attr]
            )
            wide = {
                one.id: parts.Part(page={"width": 900.0}, begins="right") for one in blocks if type(one) is PartStart
            }
            report = Report("r", tuple(blocks), page=page, parts=wide)
            fresh, now = paginate(report, TYPEFACES), paginate(report, TYPEFACES, now)
            self.assertEqual(now.report.shown, fresh.report.shown)
            self.assertEqual([*now.boxes], [*fresh.boxes])
            self.assertEqual([*now.starts], [*fresh.starts])
            self.assertEqual((now.footnotes, now.ends, now.edges()), (fresh.footnotes, fresh.ends, fresh.edges()))
            self.stands_once(now)

    def stands_once(self, pages: Pages) -> None:
        """All parts of all blocks, in their order, none over another, and notes where they are said to be."""
        found: dict[int, list[int]] = {}
        for sheet in range(1, len(pages) + 1):
            reached = dict[int, float]()
            for one in pages.content(sheet):
                box = pages.boxes[one.box].foot or pages.boxes[one.box]
                if not box.heights:
                    continue
                self.assertGreaterEqual(one.y, reached.get(one.column, 0.0) - 1e-6)
                reached[one.column] = one.y + box.extent(one.first, one.end)
                self.assertLessEqual(reached[one.column], pages.stretch(sheet).page.text_height + 1e-6)
                found.setdefault(one.box, []).extend(range(one.first, one.end))
        for at, box in enumerate(pages.boxes):
            beneath = sum(len(pages.boxes[one].foot.heights) for one in pages.ends.get(at, ()))  # type: ignore[union-attr]
            self.assertEqual(found.get(at, []), [*range(len((box.foot or box).heights) - beneath)])
        for place in pages.places.values():
            self.assertIn(place.id, {pages.report.blocks[one.box].id for one in pages.content(pages.page_of_place(place))}
                          | {place.id} if place.kind != "note" else set(on_page(pages, pages.page_of_place(place))))  # fmt: skip


def named(block: Any, id: str) -> Block:
    if isinstance(block, DataTable):
        rows = tuple(
            tuple(Cell(tuple(replace(one, id=f"{id}-{row}") for one in cell.blocks)) for cell in cells)
            for row, cells in enumerate(block.rows)
        )
        return replace(block, id=id, rows=rows)
    return replace(block, id=id)  # type: ignore[no-any-return]
