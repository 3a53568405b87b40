"""Reading files: what comes along, what is noted, and what is refused."""

from __future__ import annotations

import io
import json
import struct
import zipfile
import zlib
from pathlib import Path
from unittest import TestCase
from xml.sax.saxutils import escape

import docx
from docx.enum.style import WD_STYLE_TYPE
from docx.enum.text import WD_BREAK, WD_LINE_SPACING, WD_TAB_ALIGNMENT, WD_TAB_LEADER
from docx.oxml import OxmlElement, parse_xml
from docx.oxml.ns import qn
from docx.shared import Pt, RGBColor
from PIL import Image as Pillow

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.docx.fields import ContentsFields, recipe_of
from mellowspine.core.formats.docx.own import Own
from mellowspine.core.formats.docx.places import DocumentPlaces
from mellowspine.core.formats.imported import FileRefused, Imported, Notes, unhurried
from mellowspine.core.formats.pictures import NotAPicture, check
from mellowspine.core.formats.walk import Written, plain_words
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PlacedTable,
    Run,
    ThematicBreak,
)
from mellowspine.core.report.links import safe_link
from mellowspine.core.report.report import Report
from mellowspine.core.report.sheet import change_style
from mellowspine.core.report.styles import default_styles
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline
from tests.core.docx_parts import elements, field, run


def styled(imported: Imported) -> list[tuple[str, str]]:
    return [(b.style, b.text) for b in imported.report.blocks if isinstance(b, Paragraph)]


def noted(imported: Imported) -> dict[str, int]:
    """What is said of a file, but for typefaces: those of new documents are not ours."""
    return {note.sentence: note.count for note in imported.notes if not note.kind.startswith("typeface")}


def saved(document: docx.document.Document) -> bytes:
    stream = io.BytesIO()
    document.save(stream)
    return stream.getvalue()


def png(width: int = 40, height: int = 20) -> bytes:
    stream = io.BytesIO()
    Pillow.new("RGB", (width, height), "teal").save(stream, "PNG")
    return stream.getvalue()


class PlainText(TestCase):
    def test_blank_lines_part_paragraphs(self) -> None:
        self.assertEqual(styled(read("a.txt", b"One\nline\n\nTwo\r\n")), [("body", "One line"), ("body", "Two")])

    def test_without_blank_lines_each_line_is_a_paragraph(self) -> None:
        self.assertEqual(len(styled(read("a.txt", b"One\nTwo\nThree"))), 3)

    def test_encodings(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            self.assertEqual(styled(read("a.txt", "Café “x”".encode(encoding))), [("body", "Café “x”")], encoding)

    def test_a_form_feed_is_a_page_break(self) -> None:
        kinds = [type(b) for b in read("a.txt", b"One\fTwo").report.blocks]
        self.assertEqual(kinds, [Paragraph, PageBreak, Paragraph])


class Markdown(TestCase):
    def test_headings_lists_quotations_and_code(self) -> None:
        text = b"# A\n\nb\n\nSetext\n---\n\n- c\n  1. d\n\n> e\n\n```\nf\n```\n"
        self.assertEqual(
            styled(read("a.md", text)),
            [("heading-1", "A"), ("body", "b"), ("heading-2", "Setext"), ("bullet-1", "c"), ("item-2", "d"),
             ("quotation", "e"), ("code", "f")],
        )  # fmt: skip

    def test_formatting(self) -> None:
        (paragraph,) = read("a.md", b"x **b _bi_** [l](https://x.org) `m`").report.blocks
        found = [(run.text, run.marks) for run in paragraph.runs if run.text.strip()]
        self.assertEqual(
            found,
            [("x ", Marks()), ("b ", Marks(bold=True)), ("bi", Marks(bold=True, italic=True)),
             ("l", Marks(link="https://x.org")), ("m", Marks(font="Liberation Mono"))],
        )  # fmt: skip

    def test_a_table_with_its_header(self) -> None:
        (table,) = read("a.md", b"| a | b |\n|---|---|\n| 1 | 2 |\n").report.blocks
        assert isinstance(table, DataTable)
        self.assertEqual(table.header_rows, 1)
        self.assertEqual([[c.paragraphs[0].text for c in row] for row in table.rows], [["a", "b"], ["1", "2"]])

    def test_numbered_lists_are_counted_as_the_file_says(self) -> None:
        text = (
            b"3. Three\n\n   More of three.\n4. Four\n\n   ```\n   code\n   ```\n5. Five\n   - Deep\n\n     more\n\nBetween.\n\n"
            b"1. One\n1. Two\n\n1) Other one\n2) Other two\n\n0. Zero\n"
        )
        report = read("a.md", text).report
        markers = list_markers(report)
        self.assertEqual(
            [(markers.get(block.id, ""), block.text) for block in report.blocks if isinstance(block, Paragraph)],
            [
                ("3.", "Three"), ("", "More of three."), ("4.", "Four"), ("", "code"), ("5.", "Five"), ("–", "Deep"), ("", "more"),
                ("", "Between."), ("1.", "One"), ("2.", "Two"), ("1.", "Other one"), ("2.", "Other two"), ("0.", "Zero"),
            ],
        )  # fmt: skip
        again = read(
            "a.md", WRITERS[".md"].write(Written(report, paginate(report, Typefaces()), Typefaces(), {}, unhurried))
        ).report
        there = [(markers.get(block.id, ""), block.text) for block in report.blocks if isinstance(block, Paragraph)]
        back = list_markers(again)
        found = [(back.get(block.id, ""), block.text) for block in again.blocks if isinstance(block, Paragraph)]
        self.assertEqual(found[:3], there[:3])

    def test_html_is_read_as_files_of_html_are(self) -> None:
        text = (
            b"---\ntitle: \"Tides\"\nlayout: post\n---\n<!-- note to self -->\n\n<div align='center'>\n<b>Bold</b> &amp; plain<br>below\n"
            b"<img src='x.png' alt='A gate'>\n</div>\n\nWords <kbd>Ctrl</kbd>, a<!-- hidden --> end <https://x.org>.\n\n<script>alert(1)</script>\n"
        )
        imported = read("a.md", text)
        self.assertEqual(
            [text for _, text in styled(imported)],
            ["Bold & plain\nbelow [A gate]", "Words Ctrl, a end https://x.org."],
        )
        self.assertEqual(imported.report.title, "Tides")
        self.assertEqual(
            {note.sentence for note in imported.notes},
            {
                "Settings in front of the text: left out",
                "Comment: left out",
                "Picture that did not come along: its description kept as plain text",
            },
        )

    def test_tasks_alerts_and_columns(self) -> None:
        """GFM 0.29, 5.3 task list items and 4.10 tables; alerts: common practice, no source."""
        found = read(
            "a.md",
            b"- [ ] do\n- [x] done *it*\n\n> [!WARNING]\n> Careful\n\n| a | b | c |\n|:--|:-:|--:|\n| 1 | 2 | 3 |\n",
        )
        self.assertEqual(
            styled(found),
            [("bullet-1", "☐ do"), ("bullet-1", "☒ done it"), ("quotation", "Warning"), ("quotation", "Careful")],
        )
        self.assertTrue(found.report.blocks[2].runs[0].marks.bold)  # type: ignore[attr-defined]
        table = found.report.blocks[-1]
        assert isinstance(table, DataTable)
        self.assertEqual(
            [[cell.paragraphs[0].align for cell in row] for row in table.rows], [[None, "center", "right"]] * 2
        )
        self.assertEqual(found.notes, ())

    def test_bare_addresses_are_links(self) -> None:
        """GFM 0.29, 6.9, examples 622 to 630 (typed in from memory)."""
        for text, wanted in (
            ("www.commonmark.org", [("www.commonmark.org", "http://www.commonmark.org")]),
            ("Visit www.commonmark.org/a.b.", [("Visit ", None), ("www.commonmark.org/a.b", "http://www.commonmark.org/a.b"), (".", None)]),
            ("(https://x.org/a?q=(b))", [("(", None), ("https://x.org/a?q=(b)", "https://x.org/a?q=(b)"), (")", None)]),
            ("foo@bar.baz", [("foo@bar.baz", "mailto:foo@bar.baz")]),
            ("`www.x.org`", [("www.x.org", None)]),
        ):  # fmt: skip
            (block,) = read("a.md", text.encode()).report.blocks
            self.assertEqual([(run.text, run.marks.link) for run in block.runs], wanted, text)  # type: ignore[attr-defined]

    def test_html_among_words_and_as_blocks(self) -> None:
        text = (
            b'# Set Up\n\nPress <kbd>Ctrl</kbd>, <b>now <a href="https://x.org">here</a></b>; <a name="p"></a>see [it](#Set-Up), [that](#deep).\n\n'
            b'<h2 align="center">Deep <a id="deep"></a></h2>\n\n<p><a href="#set-up">Up</a></p>\n\n- one\n\n  <div>more</div>\n\n<table><tr><td>\n\nWords\n\n</td></tr></table>\n'
        )
        found = read("a.md", text)
        self.assertEqual(
            styled(found),
            [("heading-1", "Set Up"), ("body", "Press Ctrl, now here; see it, that."), ("heading-2", "Deep"), ("body", "Up"),
             ("bullet-1", "one"), ("bullet-1", "more"), ("body", "Words")],
        )  # fmt: skip
        runs = found.report.blocks[1].runs  # type: ignore[attr-defined]
        self.assertEqual([run.text for run in runs if run.marks.font], ["Ctrl"])
        self.assertEqual([(run.text, bool(run.marks.bold)) for run in runs if run.marks.bold or run.marks.link],
                         [("now ", True), ("here", True), ("it", False), ("that", False)])  # fmt: skip
        ids = [block.id for block in found.report.blocks]
        self.assertEqual(
            [run.marks.link for run in runs if run.marks.link], ["https://x.org", f"#{ids[0]}", f"#{ids[2]}"]
        )
        self.assertEqual(found.report.blocks[3].runs[0].marks.link, f"#{ids[0]}")  # type: ignore[attr-defined]
        self.assertEqual(found.notes, ())

    def test_pictures_that_are_not_there_leave_their_words_in_their_place(self) -> None:
        (block,) = read("a.md", b"See [![the gate](g.png)](https://x.org) and ![](weir.png).").report.blocks
        self.assertEqual([(run.text, run.marks.link) for run in block.runs],  # type: ignore[attr-defined]
                         [("See ", None), ("[the gate]", "https://x.org"), (" and [weir.png].", None)])  # fmt: skip

    def test_code_is_parted_from_what_follows(self) -> None:
        found = read("a.md", b"```python\na\nb\n```\nAfter\n")
        self.assertEqual([block.space_after for block in found.report.blocks], [0, None, None])  # type: ignore[attr-defined]
        self.assertEqual(noted(found), {"Code in python: set in one colour": 1})

    def test_what_looks_like_an_address_a_task_or_an_alert_is_written_as_words(self) -> None:
        for words in (
            "www.x.org",
            "https://x.org/a_b",
            "a.b@x.org",
            "~~x~~",
            "[!NOTE] x",
            "[ ] x",
            "mailto:a@b.org",
            "Www.X.org",
        ):
            report = Report("r", (Paragraph("a", "body", (Run(words),)), Paragraph("b", "bullet-1", (Run(f"☐ {words}"),)), Paragraph("c", "quotation", (Run(words),))))  # fmt: skip
            written = WRITERS[".md"].write(Written(report, paginate(report, Typefaces()), Typefaces(), {}))
            again = read("a.md", written)
            self.assertEqual(styled(again), styled(Imported(report, {})), written)
            self.assertFalse([run for block in again.report.blocks for run in block.runs if run.marks.link], written)  # type: ignore[attr-defined]
        self.assertIn(b"- [ ] ", written)

    def test_odd_html_is_no_fault(self) -> None:
        for text in (
            "<div>\n<![!--b\n 1. c\n",
            "<div>\n<![!--b>\n</div>",
            "<![!--b\n",
            "Words <![ more",
            "<![CDATA[x]]>",
            "<!x",
            "<!-- open",
            "<a <b> c",
            "</",
            "<?php x ?>",
            "<!DOCTYPE html [<!ENTITY a 'b'>]>",
        ):
            with self.subTest(text):
                read("a.md", text.encode())

    def test_dangerous_links_stay_text(self) -> None:
        imported = read("a.md", b"[x](javascript:alert(1)) [y](data:text/html,z)")
        self.assertFalse(any(run.marks.link for b in imported.report.blocks for run in b.runs))  # type: ignore[union-attr]


class Links(TestCase):
    def test_only_web_and_mail_addresses_are_links(self) -> None:
        """In browsers as well: they are held to the same file."""
        cases = json.loads((Path(__file__).parents[2] / "web/tests/links.json").read_text())
        for address, is_safe in [*cases, ["https://x.org/" + "x" * 1986, True], ["https://x.org/" + "x" * 1987, False]]:
            self.assertEqual(safe_link(address), address.strip() if is_safe else None, address)


class OfficeOpenXml(TestCase):
    def test_headings_by_style_and_by_outline_level(self) -> None:
        document = docx.Document()
        document.add_heading("By style", 2)
        level = OxmlElement("w:outlineLvl")
        level.set(qn("w:val"), "0")
        document.add_paragraph("By outline level")._p.get_or_add_pPr().append(level)
        document.add_heading("The title", 0)
        found = outline(read("a.docx", saved(document)).report)
        self.assertEqual([(h.level, h.text) for h in found], [(2, "By style"), (1, "By outline level")])

    def test_sections_in_roman_numerals_in_front_of_others(self) -> None:
        """ISO/IEC 29500-1 17.6.12, ``w:pgNumType``: a section counts in figures, and on, unless it says otherwise."""
        for formats, labels in (((None, None), "1 2"), (("lowerRoman", None), "i 2"), (("lowerRoman", "decimal 1"), "i 1"),
                                (("upperLetter", "lowerRoman 7", None), "A vii 8"), (("lowerRoman",), "i")):  # fmt: skip
            document = docx.Document()
            for number, kind in enumerate(formats):
                section = document.sections[0] if number == 0 else document.add_section()
                document.add_paragraph(f"Words {number}")
                for old in section._sectPr.findall(qn("w:pgNumType")):
                    section._sectPr.remove(old)
                if kind:
                    numbers = OxmlElement("w:pgNumType")
                    figures, _, start = kind.partition(" ")
                    numbers.set(qn("w:fmt"), figures)
                    if start:
                        numbers.set(qn("w:start"), start)
                    section._sectPr.append(numbers)
            with self.subTest(formats=formats):
                pages = paginate(read("a.docx", saved(document)).report, Typefaces())
                self.assertEqual([pages.label(sheet) for sheet in range(1, len(pages) + 1)], labels.split())

    def test_run_and_paragraph_formatting(self) -> None:
        document = docx.Document()
        paragraph = document.add_paragraph("plain ")
        paragraph.alignment = 1
        paragraph.paragraph_format.space_after = Pt(33)
        run = paragraph.add_run("made up")
        run.bold = run.italic = run.underline = True
        run.font.name, run.font.size, run.font.color.rgb = "Courier New", Pt(17), RGBColor(1, 2, 3)
        block = read("a.docx", saved(document)).report.blocks[0]
        assert isinstance(block, Paragraph)
        self.assertEqual((block.align, block.space_after), ("center", 33))
        self.assertEqual(block.runs[0].marks, Marks())
        self.assertEqual(block.runs[1].marks, Marks(True, True, True, "Courier New", 17, "#010203"))

    def test_a_run_may_take_away_what_its_style_gives(self) -> None:
        """ISO/IEC 29500-1 17.7.3: a toggle of a run's own counts outright, one of a character style turns around."""
        document = docx.Document()
        document.styles["Heading 1"].font.bold = True
        paragraph = document.add_heading("Bold, ", 1)
        paragraph.add_run("not bold, ").bold = False
        paragraph.add_run("turned around", style="Strong")
        block = read("a.docx", saved(document)).report.blocks[0]
        self.assertEqual([run.marks.bold for run in block.runs], [None, False])  # type: ignore[union-attr]
        self.assertEqual(block.runs[1].text, "not bold, turned around")  # type: ignore[union-attr]

    def test_formatting_that_is_not_carried_is_counted(self) -> None:
        document = docx.Document()
        for words in ("one", "two"):
            paragraph = document.add_paragraph()
            run = paragraph.add_run(words)
            run.font.emboss = run.font.double_strike = True
            paragraph.add_run(" plain").font.emboss = False
        self.assertEqual(
            noted(read("a.docx", saved(document))),
            {
                "Letters struck through by two lines: struck through by one": 2,
                "Letters with an outline, a shadow or a relief: kept without it": 2,
            },
        )

    def test_lines_are_as_high_as_their_letters_where_they_are_to_be_that_high_at_least(self) -> None:
        """ISO/IEC 29500-1, 17.18.48: of "atLeast" more where the letters need it, of "exact" what is said."""
        rules = WD_LINE_SPACING
        for rule, points, spacing in (
            (rules.AT_LEAST, 1, 1.15), (rules.AT_LEAST, 22, 2.0), (rules.EXACTLY, 8.8, 0.8), (rules.EXACTLY, 22, 2.0),
        ):  # fmt: skip
            document = docx.Document()
            document.styles["Normal"].font.size, document.styles["Normal"].font.name = Pt(11), "Arial"
            of_style = document.styles.add_style("Close", 1)
            of_style.base_style = document.styles["Normal"]
            for paragraph in (of_style, document.add_paragraph("Words")):
                paragraph.paragraph_format.line_spacing = Pt(points)
                paragraph.paragraph_format.line_spacing_rule = rule
            document.add_paragraph("Words", "Close")
            with self.subTest(rule=rule, points=points):
                report = read("a.docx", saved(document)).report
                direct, styled = report.blocks
                self.assertAlmostEqual(direct.line_spacing, spacing, places=2)  # type: ignore[union-attr]
                self.assertAlmostEqual(report.styles[styled.style].line_spacing, spacing, places=2)  # type: ignore[union-attr]

    def test_indents_of_single_paragraphs_come_along(self) -> None:
        document = docx.Document()
        paragraph = document.add_paragraph("Words")
        paragraph.paragraph_format.left_indent = Pt(30)
        paragraph.paragraph_format.first_line_indent = Pt(-12)
        (found,) = read("a.docx", saved(document)).report.blocks
        self.assertEqual((found.indent, found.first_line), (30.0, -12.0))  # type: ignore[attr-defined]

    def test_the_language_comes_along(self) -> None:
        for said, language in (("de-AT", "de-AT"), ("x-odd", "en-GB")):
            document = docx.Document()
            document.add_paragraph("Wörter")
            document.styles.element.find(f".//{qn('w:lang')}").set(qn("w:val"), said)
            self.assertEqual(read("a.docx", saved(document)).report.page.language, language)

    def test_an_underlined_style_comes_along(self) -> None:
        document = docx.Document()
        document.styles["Heading 1"].font.underline = True
        document.add_heading("One", 1)
        self.assertTrue(read("a.docx", saved(document)).report.styles["heading-1"].underline)

    def test_looks_of_styles_come_along(self) -> None:
        document = docx.Document()
        style = document.styles["Heading 1"]
        style.font.size, style.font.color.rgb = Pt(27), RGBColor(0x11, 0x22, 0x33)
        own = document.styles.add_style("Warning Box", 1)
        own.font.italic = True
        document.add_heading("One", 1)
        document.add_paragraph("Careful", "Warning Box")
        report = read("a.docx", saved(document)).report
        self.assertEqual((report.styles["heading-1"].size, report.styles["heading-1"].colour), (27, "#112233"))
        self.assertEqual(report.blocks[1].style, "warning-box")  # type: ignore[union-attr]
        self.assertTrue(report.styles["warning-box"].italic)

    def test_how_styles_part_their_paragraphs_comes_along(self) -> None:
        """ISO/IEC 29500-1, 17.3.1.14 keepLines, 17.3.1.44 widowControl: off, a single line may stand alone."""
        document = docx.Document()
        for name, kept, controlled in (("Clause", True, None), ("Loose", None, False)):
            style = document.styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH)
            style.paragraph_format.keep_together, style.paragraph_format.widow_control = kept, controlled
            document.add_paragraph("Words", style=name)
        report = read("a.docx", saved(document)).report
        clause, loose = (report.styles[block.style] for block in report.blocks)
        self.assertEqual((clause.keep_together, clause.orphans, clause.widows), (True, 2, 2))
        self.assertEqual((loose.keep_together, loose.orphans, loose.widows), (False, 1, 1))

    def test_how_single_paragraphs_are_kept_comes_along(self) -> None:
        """ISO/IEC 29500-1, 17.3.1.14 keepLines, 17.3.1.15 keepNext, as formatting of a paragraph itself; off takes the style's back."""
        document = docx.Document()
        for with_next, together in ((None, None), (True, None), (None, True), (False, False)):
            shape = document.add_paragraph("Words").paragraph_format
            shape.keep_with_next, shape.keep_together = with_next, together
        document.add_heading("One", 1).paragraph_format.keep_with_next = False
        blocks = read("a.docx", saved(document)).report.blocks
        found = [(block.keep_with_next, block.keep_together) for block in blocks]  # type: ignore[union-attr]
        self.assertEqual(found, [(None, None), (True, None), (None, True), (None, None), (False, None)])

    def test_text_that_flows_around_a_picture_stands_beside_it(self) -> None:
        """ISO/IEC 29500-1, 20.4.2.3 (anchor): wherever in the paragraph it is anchored; between its lines it stays as it is."""
        anchor = (
            "<wp:anchor xmlns:wp='http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing' behindDoc='0'>"
            "<wp:positionH relativeFrom='column'>{}</wp:positionH>{}</wp:anchor>"
        )
        cases = (
            ("<wp:align>right</wp:align>", "<wp:wrapSquare wrapText='bothSides'/>", "right", True),
            ("<wp:posOffset>-12700</wp:posOffset>", "<wp:wrapTight wrapText='bothSides'/>", "left", True),
            ("<wp:posOffset>3810000</wp:posOffset>", "<wp:wrapThrough wrapText='bothSides'/>", "right", True),
            ("<wp:align>center</wp:align>", "<wp:wrapSquare wrapText='bothSides'/>", "center", False),
            ("<wp:align>left</wp:align>", "<wp:wrapTopAndBottom/>", "center", False),
        )
        for place, wrap, align, beside in cases:
            document = docx.Document()
            paragraph = document.add_paragraph("Words in front ")
            paragraph.add_run().add_picture(io.BytesIO(png()), width=Pt(120))
            paragraph.add_run("and behind")
            (inline,) = paragraph._p.iter(qn("wp:inline"))
            made = parse_xml(anchor.format(place, wrap))
            made.extend([*inline])
            inline.getparent().replace(inline, made)
            blocks = read("a.docx", saved(document)).report.blocks
            (image,) = (one for one in blocks if isinstance(one, Image))
            self.assertEqual((image.align, image.beside), (align, beside), place)
            if beside:
                self.assertEqual([getattr(one, "text", "") for one in blocks], ["", "Words in front and behind"])

    def test_tab_stops_come_along(self) -> None:
        """ISO/IEC 29500-1, 17.3.1.38: those of a paragraph are added to its style's, and one that is cleared is gone."""
        document = docx.Document()
        style = document.styles.add_style("Cast", WD_STYLE_TYPE.PARAGRAPH)
        style.paragraph_format.tab_stops.add_tab_stop(Pt(90))
        style.paragraph_format.tab_stops.add_tab_stop(Pt(300), WD_TAB_ALIGNMENT.RIGHT, WD_TAB_LEADER.DOTS)
        document.add_paragraph("As the style\tsays", style="Cast")
        own = document.add_paragraph("More\tof its own", style="Cast").paragraph_format.tab_stops
        own.add_tab_stop(Pt(200), WD_TAB_ALIGNMENT.DECIMAL, WD_TAB_LEADER.HEAVY)
        own.add_tab_stop(Pt(90), WD_TAB_ALIGNMENT.CLEAR)
        own.add_tab_stop(Pt(-20), WD_TAB_ALIGNMENT.CENTER)
        report = read("a.docx", saved(document)).report
        plain, further = report.blocks
        self.assertEqual(report.styles[plain.style].tab_stops, "90 left, 300 right dots")  # type: ignore[union-attr]
        self.assertEqual(plain.tab_stops, None)  # type: ignore[union-attr]
        self.assertEqual(further.tab_stops, "200 decimal line, 300 right dots")  # type: ignore[union-attr]

    def test_styles_based_on_each_other_stay_so(self) -> None:
        document = docx.Document()
        aside = document.styles.add_style("Aside", WD_STYLE_TYPE.PARAGRAPH)
        aside.base_style = document.styles["Normal"]
        aside.font.italic = True
        further = document.styles.add_style("Further aside", WD_STYLE_TYPE.PARAGRAPH)
        further.base_style = aside
        document.add_paragraph("Words", "Further aside")
        styles = read("a.docx", saved(document)).report.styles
        self.assertEqual((styles["further-aside"].based_on, styles["aside"].based_on), ("aside", "body"))
        changed = change_style(change_style(styles, "body", {"size": 13.0}), "aside", {"italic": False})
        self.assertEqual((changed["further-aside"].size, changed["further-aside"].italic), (13.0, False))

    def test_styles_based_on_each_other_in_a_circle_keep_their_words(self) -> None:
        document = docx.Document()
        one, two = (document.styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH) for name in ("One", "Two"))
        one.base_style, two.base_style = two, one
        document.add_paragraph("Kept", "One")
        document.add_paragraph("Kept too", "Two")
        self.assertEqual(styled(read("a.docx", saved(document))), [("one", "Kept"), ("two", "Kept too")])

    def test_a_style_without_a_name_is_called_by_its_id(self) -> None:
        document = docx.Document()
        style = document.styles.add_style("Nameless", WD_STYLE_TYPE.PARAGRAPH)
        document.add_paragraph("Kept", style)
        style.element.remove(style.element.find(qn("w:name")))
        report = read("a.docx", saved(document)).report
        self.assertEqual(report.styles[report.blocks[0].style].name, "style")  # type: ignore[attr-defined]

    def test_a_file_with_four_hundred_styles(self) -> None:
        """Those in use come along, each based on the one before as in the file; names that are alike get ids of their own."""
        document = docx.Document()
        for number in range(400):
            style = document.styles.add_style(f"Style {'-' * (number % 3)} {number // 3}", WD_STYLE_TYPE.PARAGRAPH)
            style.base_style = document.styles["Normal"]
            document.add_paragraph(f"Words {number}", style)
        report = read("a.docx", saved(document)).report
        self.assertEqual(len({block.style for block in report.blocks}), 400)  # type: ignore[attr-defined]
        self.assertEqual(len({style.name for style in report.styles.values()}), len(report.styles))

    def test_lists_pictures_data_tables_and_page_breaks(self) -> None:
        document = docx.Document()
        document.add_paragraph("point", "List Bullet")
        document.add_paragraph("first", "List Number")
        document.add_picture(io.BytesIO(png()), width=Pt(120))
        document.add_paragraph("before").add_run().add_break(WD_BREAK.PAGE)
        table = document.add_table(2, 2)
        table.cell(0, 0).text = "cell"
        imported = read("a.docx", saved(document))
        blocks = imported.report.blocks
        self.assertEqual([getattr(b, "style", type(b).__name__) for b in blocks],
                         ["bullet-1", "item-1", "Image", "body", "PageBreak", "DataTable"])  # fmt: skip
        image, grid = blocks[2], blocks[5]
        assert isinstance(image, Image)
        assert isinstance(grid, DataTable)
        self.assertEqual((image.width, image.height), (120, 60))
        self.assertEqual(list(imported.pictures), [image.source])
        self.assertEqual(grid.rows[0][0].paragraphs[0].text, "cell")

    def test_a_contents_field_becomes_a_table_and_its_old_lines_go(self) -> None:
        """ISO/IEC 29500-1, 17.16.5.68: the field TOC, its levels by the switch ``\\o``."""
        document = docx.Document()
        first = document.add_paragraph()
        for kind, words in (("begin", None), (None, ' TOC \\o "1-2" \\h '), ("separate", None)):
            run = first.add_run()
            element = OxmlElement("w:fldChar" if kind else "w:instrText")
            if kind:
                element.set(qn("w:fldCharType"), kind)
            else:
                element.text = words
            run._r.append(element)
        first.add_run("Old line\t7")
        last = document.add_paragraph("Old line two\t9").add_run()
        end = OxmlElement("w:fldChar")
        end.set(qn("w:fldCharType"), "end")
        last._r.append(end)
        document.add_heading("Real", 1)
        report = read("a.docx", saved(document)).report
        self.assertEqual([type(b) for b in report.blocks], [PlacedTable, Paragraph])
        self.assertEqual([issued.recipe.levels for issued in report.tables.values()], [(1, 2)])

    def test_the_switches_of_a_contents_field_are_settings_of_its_recipe(self) -> None:
        """ISO/IEC 29500-1, 17.16.5.68 (the switches from memory)."""
        styles = default_styles()
        for switches, wanted in (
            ("", {"levels": (1, 2, 3, 4, 5, 6, 7, 8, 9), "page_numbers": "edge", "title": ""}),
            (r'\o "2-4"', {"levels": (2, 3, 4), "links": True}),
            (r'\o "1-3" \n', {"page_numbers": "none"}),
            (r'\o "1-3" \p ", "', {"page_numbers": "words", "separator": ", "}),
            (r'\t "Quotation,2,Heading 3,1,Unknown,4"', {"levels": (1, 2), "feeds": {"quotation": 2, "heading-3": 1}}),
            (r'\o "9-12"', {"levels": (9,)}),
        ):
            with self.subTest(switches):
                recipe = recipe_of(f"TOC {switches}", styles)
                self.assertEqual({name: getattr(recipe, name) for name in wanted}, wanted)
        some = recipe_of(r'TOC \o "1-3" \n 2-3', styles)
        self.assertEqual([some.look(level).page_number for level in (1, 2, 3)], [True, False, False])

    def test_what_is_not_understood_is_kept_as_text_and_counted(self) -> None:
        document = docx.Document()
        for _ in range(2):
            field = OxmlElement("w:fldSimple")
            field.set(qn("w:instr"), "DATE")
            run = document.add_paragraph("Today: ").add_run("4 May")
            run._r.getparent().replace(run._r, field)
            field.append(run._r)
        imported = read("a.docx", saved(document))
        self.assertEqual(styled(imported)[0][1], "Today: 4 May")
        self.assertEqual(noted(imported), {"Field DATE: its last result kept as plain text": 2})


class Odd(TestCase):
    """What files say that no setting of ours can be: it is taken as near as can be, and the rest of the file as it is."""

    def test_fields_whose_switches_cannot_be_settings(self) -> None:
        for instruction, name, value in (
            ('INDEX \\e "\t"', "separator", " "),
            ('TOC \\c "Équation"', "label", "quation"),
            ('TOC \\c "***"', "label", "figure"),
            ('TOC \\p "\t"', "separator", " "),
            ('TOC \\p "a\r\nb"', "separator", "a b"),
        ):
            with self.subTest(instruction):
                own = Own({})
                fields, places = ContentsFields(Notes(), own), DocumentPlaces(Notes(), own)
                (paragraph,) = elements(f"<w:p>{field(escape(instruction), run('Line'))}</w:p>")
                self.assertTrue(fields.takes(paragraph))
                fields.add()
                (issued,) = fields.tables(default_styles(), places, lambda name: None).values()
                self.assertEqual(getattr(issued.recipe, name), value)

    def test_thousands_of_styles_of_one_name(self) -> None:
        document = docx.Document()
        for number in range(600):
            style = OxmlElement("w:style")
            style.set(qn("w:type"), "paragraph")
            style.set(qn("w:styleId"), f"s{number}")
            name = OxmlElement("w:name")
            name.set(qn("w:val"), "The same name for each and every one of them, which is rather long")
            style.append(name)
            document.styles.element.append(style)
            paragraph = document.add_paragraph("Words")
            properties = paragraph._p.get_or_add_pPr()
            mark = OxmlElement("w:pStyle")
            mark.set(qn("w:val"), f"s{number}")
            properties.append(mark)
        blocks = read("a.docx", saved(document)).report.blocks
        self.assertEqual(len({one.style for one in blocks}), 600)
        self.assertLessEqual(max(len(one.style) for one in blocks), 64)


class PlainTextWritten(TestCase):
    def test_raised_and_lowered_figures_are_no_others_in_plain_text(self) -> None:
        runs = (
            Run("10"),
            Run("3", Marks(script="super")),
            Run(" H"),
            Run("2", Marks(script="sub")),
            Run("O, 1"),
            Run("st", Marks(script="super")),
        )
        faces = Typefaces()
        report = Report("r", (Paragraph("p", runs=runs), ThematicBreak("h")))
        given = Written(report, paginate(report, faces), faces, {})
        self.assertEqual(WRITERS[".txt"].write(given).decode(), "10³ H₂O, 1st\n\n* * *\n")


class Refusals(TestCase):
    """Each is one sentence that ends with what to do; the reader survives."""

    def refused(self, name: str, data: bytes, words: str) -> None:
        with self.assertRaises(FileRefused) as caught:
            read(name, data)
        message = str(caught.exception)
        self.assertIn(words, message)
        self.assertRegex(message, r"^[A-Z][^\n]*[.]$")

    def package(self, **parts: bytes) -> bytes:
        """A sound document with parts added or replaced."""
        stream = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(saved(docx.Document()))) as old, zipfile.ZipFile(stream, "w") as new:
            for name in old.namelist():
                new.writestr(name, parts.pop(name, old.read(name)))
            for name, data in parts.items():
                new.writestr(name, data, zipfile.ZIP_DEFLATED)
        return stream.getvalue()

    def test_files_that_are_something_else(self) -> None:
        self.refused("a.pages", b"x", "cannot be read")
        self.refused("a.docx", b"", "empty")
        self.refused("a.docx", b"just text", "not an Office Open XML document")
        self.refused("a.docx", self.package()[:4000], "cut off")
        self.refused("a.docx", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\0" * 600, "password")
        self.refused("a.txt", b"\0\1\2", "not plain text")
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            archive.writestr("hello.txt", "hello")
        self.refused("a.docx", stream.getvalue(), "content list is missing")

    def test_packages_made_to_harm(self) -> None:
        self.refused("a.docx", self.package(**{"word/big.bin": bytes(201 * 1024 * 1024)}), "200 MB")
        self.refused("a.docx", self.package(**{f"word/{n}.bin": b"" for n in range(10_001)}), "10,000 parts")
        self.refused("a.docx", self.package(**{"../../evil.xml": b"<a/>"}), "lead out of it")
        entity = b'<!DOCTYPE a [<!ENTITY b "b">]><a>&b;</a>'
        self.refused("a.docx", self.package(**{"word/document.xml": entity}), "entities")
        nested = b"<a>" * 1_000_000 + b"</a>" * 1_000_000
        self.refused("a.docx", self.package(**{"word/document.xml": nested}), "nested too deeply")

    def test_a_size_in_the_directory_that_lies(self) -> None:
        data = bytearray(self.package(**{"word/big.bin": bytes(210 * 1024 * 1024)}))
        size = struct.pack("<I", 210 * 1024 * 1024)
        while (at := data.find(size)) >= 0:
            data[at : at + 4] = struct.pack("<I", 10)
        self.refused("a.docx", bytes(data), "damaged")

    def test_a_photograph_taken_upright_is_turned_as_its_camera_noted(self) -> None:
        """Exif 2.32, 4.6.4: orientation 6, the first row is on the right of what was seen."""
        photograph = Pillow.new("RGB", (40, 20), "white")
        photograph.paste("black", (0, 0, 10, 20))  # at the left, and so at the top when it is turned
        noted = Pillow.Exif()
        noted[0x0112] = 6
        stream = io.BytesIO()
        photograph.save(stream, "JPEG", exif=noted)
        source, data, width, height, _ = check(stream.getvalue())
        kept = Pillow.open(io.BytesIO(data))
        self.assertEqual((width, height, kept.size, source[-4:]), (20, 40, (20, 40), ".jpg"))
        self.assertLess(kept.convert("L").getpixel((10, 3)), 60)
        self.assertGreater(kept.convert("L").getpixel((10, 30)), 200)
        self.assertEqual(kept.getexif().get(0x0112, 1), 1)

    def test_a_text_may_begin_with_a_line_across_the_page(self) -> None:
        for text in (
            "---\n\nWords\n\n---\n\nMore",
            "---\nWords: and more\nof them\n\n---\n\nMore",
            "---\n" + " \n" * 5000 + "Words\n\nMore",
        ):
            with self.subTest(text[:20]):
                found = [one.text for one in read("a.md", text.encode()).report.blocks if isinstance(one, Paragraph)]
                self.assertIn("Words", found[0] + found[min(1, len(found) - 1)])
                self.assertEqual(found[-1], "More")
        with_settings = read("a.md", b"---\ntitle: Tides\ntags:\n  - a\n# note\n\nlayout: post\n...\n\nWords")
        self.assertEqual((with_settings.report.title, styled(with_settings)), ("Tides", [("body", "Words")]))

    def test_more_paragraphs_than_a_report_can_have(self) -> None:
        with self.assertRaisesRegex(FileRefused, "100,000 paragraphs"):
            read("a.txt", b"\f" * 200_000)

    def test_a_kind_that_a_format_does_not_know_is_said_in_its_words(self) -> None:
        (table,) = read("a.md", b"| Gate | Depth |\n|---|---|\n| *East* gate | 4 m |\n").report.blocks
        self.assertEqual(plain_words(table), "Gate\nDepth\nEast gate\n4 m")
        (lines,) = read("a.md", b"one  \ntwo").report.blocks
        self.assertEqual(plain_words(lines), "one two")

    def test_what_is_a_program_is_no_picture(self) -> None:
        """Pillow has PostScript run, where there is somebody to run it."""
        program = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n%%EndComments\n{ } loop\n"
        self.assertEqual(Pillow.open(io.BytesIO(program)).format, "EPS")
        with self.assertRaises(NotAPicture):
            check(program)

    def test_what_a_camera_noted_is_no_part_of_the_picture(self) -> None:
        stream = io.BytesIO()
        Pillow.new("RGB", (20, 10)).save(stream, "JPEG", exif=b"Exif\0\0MM\0*\0\0\0\x08" + b"\xff" * 40)
        _, data, width, height, _ = check(stream.getvalue())
        self.assertEqual((width, height, data), (20, 10, stream.getvalue()))

    def test_pictures_that_lie_about_their_size(self) -> None:
        def chunk(kind: bytes, body: bytes) -> bytes:
            return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

        def lying(width: int, height: int) -> bytes:
            header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
            return (
                b"\x89PNG\r\n\x1a\n"
                + chunk(b"IHDR", header)
                + chunk(b"IDAT", zlib.compress(b"\0\0\0\0"))
                + chunk(b"IEND", b"")
            )

        for width, height, words in ((50_000, 50_000, "60 million pixels"), (3000, 3000, "damaged")):
            document = docx.Document()
            document.add_picture(io.BytesIO(png()))
            picture = next(p for p in document.part.package.iter_parts() if p.partname.endswith(".png"))
            picture._blob = lying(width, height)
            document.add_paragraph("Words.")
            found = read("a.docx", saved(document))
            self.assertIn("Words.", [one.text for one in found.report.blocks if isinstance(one, Paragraph)])
            self.assertEqual(found.pictures, {})
            (note,) = (one.sentence for one in found.notes if "icture" in one.sentence)
            self.assertIn(words, note)
