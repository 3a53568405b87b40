"""HTML as blocks: what browsers, mail, word processors and spreadsheets put on clipboards. Samples of the latter are from memory."""

from __future__ import annotations

import base64
from dataclasses import replace
from io import BytesIO
from itertools import count
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image as Pillow

from mellowspine.core.formats import WRITERS, read, read_html
from mellowspine.core.formats.imported import FileRefused, Imported, Keep
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import DataTable, Image, Marks, PageBreak, Paragraph
from mellowspine.core.report.elements import element_of, validate
from mellowspine.core.report.grids import grid_of, widths_said
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report

from .samples import TYPEFACES


def pasted(html: str, keep: Keep = "structure", report: Report | None = None) -> Imported:
    return read_html(html, report or Report("r"), (f"i{number}" for number in count()), keep)


def shown(html: str, **given: Any) -> list[str]:
    """Each paragraph with its style, each table with its cells: words, and what they reach over beyond one."""
    found = []
    for block in pasted(html, **given).report.blocks:
        match block:
            case Paragraph():
                own = [
                    str(one) for one in (block.number_from, block.number, block.align, block.caption) if one is not None
                ]
                found.append(f"{' '.join((block.style, *own))}: {block.text}")
            case DataTable():
                rows = (
                    " | ".join(
                        " / ".join(p.text + (f" {p.align}" if p.align else "") for p in cell.paragraphs)
                        + (f" {cell.columns}x{cell.rows}" if (cell.columns, cell.rows) != (1, 1) else "")
                        for cell in row
                    )
                    for row in block.rows
                )
                found.append(f"table {block.header_rows}: " + "; ".join(rows))
            case _:
                found.append(type(block).__name__)
    return found


def noted(html: str) -> dict[str, int]:
    return {note.sentence: note.count for note in pasted(html).notes}


def data_of(picture: Pillow.Image, format: str = "PNG") -> str:
    saved = BytesIO()
    picture.save(saved, format)
    return f"data:image/{format.lower()};base64,{base64.b64encode(saved.getvalue()).decode()}"


class Structure(TestCase):
    def test_headings_by_tag_by_what_they_say_to_be_and_beyond_six(self) -> None:
        html = '<h1>One</h1><div role="heading" aria-level="8">Eight</div><p class="MsoHeading7">Seven</p><h3><b>Three</b></h3>'
        self.assertEqual(shown(html), ["heading-1: One", "heading-8: Eight", "heading-7: Seven", "heading-3: Three"])
        self.assertEqual(pasted("<h3><b>T</b></h3>").report.blocks[0].runs[0].marks, Marks())

    def test_lists_within_lists_with_their_kinds_starts_and_values(self) -> None:
        self.assertEqual(
            shown(
                "<ol start=3><li>c<ul><li>deep<ol><li>deeper</ol></ul><li value=9><p>i</p><p>more</p></ol>"
                "<ul><li>a</li><ul><li>b</ul></ul>"
            ),
            ["item-1 3: c", "bullet-2: deep", "item-3: deeper", "item-1 9: i", "item-1 none: more", "bullet-1: a", "bullet-2: b"],
        )  # fmt: skip

    def test_kinds_of_list_that_the_report_has_not_get_a_style(self) -> None:
        found = pasted(
            "<ol type=a start=2><li>b<ol style='list-style-type:upper-roman'><li>I</ol></ol><ol type=a><li>a</ol>"
        ).report
        kinds = [(found.styles[b.style].marker, found.styles[b.style].list_level, b.number_from) for b in found.blocks]
        self.assertEqual(kinds, [("lower-letter", 1, 2), ("upper-roman", 2, None), ("lower-letter", 1, 1)])
        self.assertEqual(found.styles[found.blocks[0].style].indent, found.styles.item("decimal", 1).indent)

    def test_quotations_fixed_width_definitions_and_breaks(self) -> None:
        self.assertEqual(
            shown(
                "<blockquote>Said<p>twice</p></blockquote><pre>a\n  b\n</pre><dl><dt>Weir<dd>A low dam</dl>"
                '<p>one<br>two</p><br style="page-break-before:always">soft&shy;hyphen'
            ),
            ["quotation: Said", "quotation: twice", "code: a", "code:   b", "body: Weir", "body: A low dam", "body: one\ntwo",
             "PageBreak", "body: soft\u00adhyphen"],
        )  # fmt: skip
        term, meaning = pasted("<dl><dt>Weir<dd>A low dam</dl>").report.blocks
        self.assertEqual((term.runs[0].marks.bold, meaning.indent), (True, 24.0))

    def test_an_empty_line_of_mail_parts_paragraphs(self) -> None:
        self.assertEqual(shown("<div>Dear all,<br><br>the gate<br>is shut.</div><div><br></div><div>Maren</div>"),
                         ["body: Dear all,", "body: the gate\nis shut.", "body: Maren"])  # fmt: skip

    def test_emphasis_and_links_come_along_and_looks_only_if_asked_for(self) -> None:
        html = (
            '<p style="text-align:center"><b>b</b> <span style="font:italic 9pt x;font-style:italic">i</span> <u>u</u> <code>m</code> '
            '<a href="https://x.org/a">l</a> <a href="javascript:alert(1)">n</a> '
            '<span style="font-size:18pt;color:#f00;font-family:Georgia">r</span></p>'
        )
        (here,), (there,) = (pasted(html, keep).report.blocks for keep in ("structure", "looks"))
        marks = {run.text.strip(): run.marks for run in here.runs if run.text.strip()}
        self.assertEqual(
            marks,
            {"b": Marks(bold=True), "i": Marks(italic=True), "u": Marks(underline=True), "m": Marks(font="Liberation Mono"),
             "l": Marks(link="https://x.org/a"), "n r": Marks()},
        )  # fmt: skip
        self.assertEqual((here.align, there.align), (None, "center"))
        self.assertEqual(there.runs[-1].marks, Marks(size=18.0, colour="#ff0000", font="Georgia"))

    def test_bold_that_is_taken_back_is_none(self) -> None:
        (one,) = pasted(
            '<b style="font-weight:normal"><p>plain <span style="font-weight:700">bold</span></p></b>'
        ).report.blocks
        self.assertEqual([(run.text, run.marks.bold) for run in one.runs], [("plain ", None), ("bold", True)])

    def test_rules_for_classes_are_heeded(self) -> None:
        html = "<style><!-- .a, p.b {font-weight:bold} @page x {margin:1cm} td.c{text-align:right} --></style>"
        (one, two), (table,) = (
            pasted(html + text).report.blocks
            for text in ("<p class=a>x</p><p class=b>y</p>", "<table><tr><td class=c>1<td>2</table>")
        )
        self.assertEqual((one.runs[0].marks.bold, two.runs[0].marks.bold), (True, True))
        self.assertEqual([cell.paragraphs[0].align for cell in table.rows[0]], ["right", None])

    def test_numbers_that_the_report_counts_are_taken_out(self) -> None:
        counting = Report("r", numbering=SCHEMES["decimal"])
        html = "<h1>1 Aims</h1><h2>1.1 The gate</h2><h2>1.2&nbsp;Access</h2><h1>1984 and after</h1>"
        self.assertEqual(
            [one.split(": ")[1] for one in shown(html, report=counting)],
            ["Aims", "The gate", "Access", "1984 and after"],
        )
        self.assertEqual(shown(html)[0], "heading-1: 1 Aims")

    def test_links_within_lead_to_their_places_also_where_addresses_were_made_whole(self) -> None:
        html = '<p><a href="https://x.org/p#b">to it</a> <a href="#c">away</a></p><h2 id=b>Place</h2>'
        words, place = pasted(html).report.blocks
        self.assertEqual([run.marks.link for run in words.runs], [f"#{place.id}", None])

    def test_footnotes_are_notes_behind_where_they_were_called(self) -> None:
        notes = {"web": '<p>Sea<sup id=r><a href="#f">1</a></sup> rises.</p><ol><li id=f>By the gauge. <a href="#r">↩</a></ol>',
                 "words": '<p>Sea<a href="#_ftn1" name="_ftnref1"><span><![if !supportFootnotes]>[1]<![endif]></span></a> rises.</p><hr>'
                          '<div id=ftn1><p><a href="#_ftnref1" name="_ftn1">[1]</a> By the gauge.</p></div>'}  # fmt: skip
        for name, html in notes.items():
            with self.subTest(name):
                self.assertEqual(shown(html), ["body: Sea\ufffc rises.", "note: By the gauge."])

    def test_what_is_seen_by_nobody_is_left_out_and_noted(self) -> None:
        html = (
            "<p>a<script>x</script><style>y</style></p><p hidden>b</p><span style='display:none'>c</span><template>d</template>"
            "<iframe src=x></iframe><form><input value=e><button>f</button></form><!-- g --><noscript>h</noscript>"
        )
        self.assertEqual(shown(html), ["body: a", "body: h"])
        self.assertEqual(
            noted(html),
            {"Hidden text: left out": 2, "Field of a form: left out": 2, "Page within the page: left out": 1},
        )


class Tables(TestCase):
    def test_header_rows_merged_cells_and_numbers_at_the_right(self) -> None:
        self.assertEqual(
            shown(
                "<table><caption>Table 4: Depths</caption><thead><tr><th>Month<th colspan=2>Water</thead>"
                "<tr><td rowspan=2>May<td align=right>1<td style='text-align:right'>2<tr><td>3<td>4</table>"
            ),
            ["caption table: Depths", "table 1: Month | Water 2x1; May 1x2 | 1 right | 2 right; 3 | 4"],
        )

    def test_widths_of_columns_as_web_pages_word_processors_and_spreadsheets_say_them(self) -> None:
        for html, widths in {
            "<colgroup><col width=64 style='width:48pt'><col span=2 width=100></colgroup><tr><td>a<td>b<td>c": [
                48.0,
                75.0,
                75.0,
            ],
            "<tr><td width=208 style='width:155.8pt'>a<td>b": [155.8, 0.0],
            "<tr><td colspan=2 width=400>a<td>b<tr><td width=20%>c<td style='width:50%'>d<td>e": [90.0, 225.0, 0.0],
            "<tr><td width=*>a<td width=-5>b<td width='9e9px'>c": [0.0, 0.0, 0.0],
        }.items():
            with self.subTest(html):
                (table,) = pasted(f"<table width=450pt>{html}</table>").report.blocks
                self.assertEqual(widths_said(grid_of(table.rows)), widths)
        (table,) = pasted("<table style='width:300pt'><tr><td width='50%'>a<td>b</table>").report.blocks
        self.assertEqual([cell.widths for cell in table.rows[0]], [(150.0,), ()])

    def test_tables_that_lay_a_page_out_are_text(self) -> None:
        self.assertEqual(
            shown(
                "<table><tr><td><h2>Head</h2>words<td><table><tr><td>1<td>2</table></table><table><tr><td>alone</table>"
            ),
            ["heading-2: Head", "body: words", "table 0: 1 | 2", "body: alone"],
        )

    def test_spans_that_overlap_or_reach_too_far(self) -> None:
        html = "<table><tr><td colspan=5000 rowspan=99999999>a<td rowspan=0>b<tr><td colspan=x>c<tr><td>d</table>"
        (table,) = pasted(html).report.blocks
        self.assertEqual([(cell.columns, cell.rows) for cell in table.rows[0]], [(63, 65534), (1, 65534)])
        self.assertIsNone(validate(element_of(table)))

    def test_cells_in_cells_as_readers_leave_them_of_what_is_never_closed(self) -> None:
        self.assertEqual(
            shown("<table><tr><td>one<div>two<td>three<p>four</table>"), ["table 0: one / two / three / four"]
        )

    def test_five_thousand_columns_keep_their_words(self) -> None:
        (table,) = pasted("<table><tr>" + "".join(f"<td>w{n}" for n in range(5000)) + "</table>").report.blocks
        element = element_of(table)
        self.assertIsNone(validate(element))
        self.assertEqual(len(element.children[0].children), 63)
        self.assertIn("w4999", str(element))

    def test_tables_in_tables_in_lists(self) -> None:
        html = "<ul><li>" + "<table><tr><td>x<td>" * 60 + "deep" + "</table>" * 60
        self.assertIn("deep", " ".join(shown(html)))


class WordProcessors(TestCase):
    def test_list_paragraphs_whose_markers_are_words(self) -> None:
        def item(marker: str, level: int, words: str) -> str:
            return (
                f"<p class=MsoListParagraph style='text-indent:-18.0pt;mso-list:l0 level{level} lfo1'><![if !supportLists]>"
                f"<span style='mso-list:Ignore'>{marker}<span style='font:7.0pt \"Times\"'>&nbsp;&nbsp; </span></span><![endif]>{words}</p>"
            )

        html = item("3.", 1, "Three") + item("·", 2, "Point") + item("4.", 1, "Four") + item("iv)", 2, "Low")
        self.assertEqual(
            shown(html), ["item-1 3: Three", "bullet-2: Point", "item-1: Four", "list-in-roman-numerals-2 4: Low"]
        )

    def test_numbers_in_front_of_headings_titles_captions_and_contents(self) -> None:
        html = (
            "<p class=MsoTitle>Lido</p><h1 style='mso-list:l1 level1 lfo2'><![if !supportLists]><span style='mso-list:Ignore'>1"
            "<span>&nbsp;</span></span><![endif]>Aims</h1><p class=MsoCaption>Figure 2: The gate</p><p class=MsoQuote>Said</p>"
        )
        self.assertEqual(shown(html), ["title: Lido", "heading-1: Aims", "caption figure: The gate", "quotation: Said"])


class Pictures(TestCase):
    def test_a_picture_that_floats_has_text_beside_it_and_floats_again(self) -> None:
        """CSS 2.1, 9.5.1; HTML, 15.4.3 (``align``): wherever in a paragraph it stands, the words begin beside it."""
        source = data_of(Pillow.new("RGB", (120, 60), "red"))
        for html, side in (
            (f"<p>Some words <img src='{source}' style='float: right'> beside it</p>", "right"),
            (f"<p><img src='{source}' align=left>Some words beside it</p>", "left"),
            (f"<figure style='float: left'><img src='{source}'></figure><p>Some words beside it</p>", "left"),
        ):
            found = read("a.html", html.encode())
            picture, words = found.report.blocks
            self.assertEqual((picture.align, picture.beside, words.text), (side, True, "Some words beside it"))  # type: ignore[union-attr]
            again = read(
                "a.html",
                WRITERS[".html"].write(
                    Written(found.report, paginate(found.report, TYPEFACES), TYPEFACES, found.pictures)
                ),
            ).report.blocks
            self.assertEqual((again[0].align, again[0].beside), (side, True))  # type: ignore[union-attr]

    def test_a_picture_comes_with_its_caption_and_size(self) -> None:
        source = data_of(Pillow.new("RGB", (40, 20), "#335588"))
        found = pasted(
            f'<figure><img src="{source}" alt="A board" style="width:90pt;height:45pt"><figcaption>Figure 1. Board</figcaption></figure>'
        )
        picture, caption = found.report.blocks
        self.assertEqual((picture.width, picture.height, picture.alt), (90.0, 45.0, "A board"))
        self.assertIn(picture.source, found.pictures)
        self.assertEqual((caption.text, caption.caption), ("Board", "figure"))

    def test_what_is_elsewhere_is_named_and_not_fetched(self) -> None:
        html = '<p>a <img src="https://x.org/a.png" alt="Gate"></p><img src="https://x.org/t.gif" width=1 height=1>'
        self.assertEqual(shown(html), ["body: a [Gate]"])
        self.assertEqual(
            noted(html),
            {
                "Picture that is elsewhere (https://x.org/a.png): not fetched, its description kept as plain text": 1,
                "Picture of a single point, by which readers are counted: left out": 1,
            },
        )

    def test_large_ones_are_made_smaller_and_moving_ones_stay(self) -> None:
        large = pasted(f'<img src="{data_of(Pillow.new("RGB", (4000, 1000), "#335588"))}">')
        (data,) = large.pictures.values()
        self.assertEqual(Pillow.open(BytesIO(data)).size, (2400, 600))
        frames = [Pillow.new("RGB", (3000, 10), colour) for colour in ("#000000", "#ffffff")]
        saved = BytesIO()
        frames[0].save(saved, "GIF", save_all=True, append_images=frames[1:])
        moving = pasted(f'<img src="data:image/gif;base64,{base64.b64encode(saved.getvalue()).decode()}">')
        self.assertEqual([*moving.pictures.values()], [saved.getvalue()])

    def test_one_that_is_cut_off_leaves_its_words_and_all_around_it(self) -> None:
        html = '<h2>Head</h2><img alt="Gate" src="data:image/png;base64,iVBO"><img alt="Weir" src="data:image/png;base64,a"><p>b'
        self.assertEqual(shown(html), ["heading-2: Head", "body: [Gate][Weir]", "body: b"])

    def test_one_that_lies_leaves_its_words(self) -> None:
        html = f'<img alt="Gate" src="data:image/png;base64,{base64.b64encode(b"%PDF-1.7").decode()}">'
        self.assertEqual(shown(html), ["body: [Gate]"])
        self.assertEqual(noted(html), {"Picture in an unknown format: its description or name kept as plain text": 1})


class Odd(TestCase):
    def test_nested_too_deep_is_refused(self) -> None:
        with self.assertRaisesRegex(FileRefused, "nested too deep"):
            pasted("<div>" * 100_000 + "x")
        self.assertEqual(shown("<div>" * 1900 + "x"), ["body: x"])

    def test_half_characters_and_controls(self) -> None:
        self.assertEqual(shown("<p>a\ud800b\0c\x07</p>"), ["body: a\ufffdbc"])

    def test_nothing(self) -> None:
        for html in ("", "  ", "<p> </p>", "<!-- -->", "<table></table>", "<ul></ul>"):
            self.assertEqual(shown(html), [], html)

    @settings(max_examples=150, deadline=None)
    @given(st.data())
    def test_whatever_tags_there_are_all_words_come_along_and_a_report_can_have_it(self, data: st.DataObject) -> None:
        tags = st.sampled_from(
            [
                "p",
                "div",
                "span",
                "b",
                "h1",
                "h7",
                "ul",
                "ol",
                "li",
                "table",
                "thead",
                "tr",
                "td",
                "th",
                "caption",
                "pre",
                "code",
                "blockquote",
                "dl",
                "dt",
                "dd",
                "figure",
                "figcaption",
                "a",
                "sup",
                "br",
                "section",
                "q",
                "img",
                "hr",
            ]
        )
        attributes = st.sampled_from(
            ("", ' style="mso-list:l0 level2 lfo1"', " class=MsoListParagraph", ' style="white-space:pre-wrap"', " rowspan=3 colspan=2",
             ' href="#x" id=y', ' href="#y" id=x', ' align=right dir=rtl', ' style="font-weight:bold;font-size:300%;color:zz"',
             ' data-bookmark="x" data-id="../"', " start=-4 type=a", ' role=heading aria-level=12', ' style="page-break-before:always"')
        )  # fmt: skip
        html, number = "", 0
        for _ in range(data.draw(st.integers(1, 30))):
            tag, closes = data.draw(tags), data.draw(st.integers(0, 2))
            html += f"</{tag}>" if closes == 0 else f"<{tag}{data.draw(attributes)}>"
            html += data.draw(st.sampled_from((f"w{number} ", f"\n w{number}", f"<![if !vml]>w{number}<![endif]>")))
            number += 1
        found = pasted(html, data.draw(st.sampled_from(("structure", "looks"))))
        said = ""
        for block in found.report.blocks:
            element = element_of(block)
            self.assertIsNone(validate(element))
            said += str(element)
        for one in range(number):
            self.assertIn(f"w{one}", said, html)


class Files(TestCase):
    def test_a_file_is_a_report_with_its_title(self) -> None:
        page = '<!doctype html><meta charset="iso-8859-1"><title>The  gate</title><body><h1>Größe</h1><p>Words'.encode(
            "latin1"
        )
        found = read("a.html", page)
        self.assertEqual(found.report.title, "The gate")
        self.assertEqual([(b.style, b.text) for b in found.report.blocks], [("heading-1", "Größe"), ("body", "Words")])
        self.assertEqual(read("b.htm", "<p>ü".encode()).report.title, "b")

    def test_a_picture_beside_it(self) -> None:
        saved = BytesIO()
        Pillow.new("RGB", (4, 4)).save(saved, "PNG")
        found = read("a.html", b'<img src="p%201.png">', pictures={"p 1.png": saved.getvalue()})
        self.assertIsInstance(found.report.blocks[0], Image)
        self.assertEqual(replace(found.report, blocks=()).title, "a")

    def test_page_breaks_stand_between_blocks(self) -> None:
        found = read("a.html", b"<p>a</p><div style='break-before:always'>b</div>")
        self.assertEqual([type(block) for block in found.report.blocks], [Paragraph, PageBreak, Paragraph])
        saved = BytesIO()
        Pillow.new("RGB", (4, 4)).save(saved, "PNG")
        picture = '<p style="break-before: page"><img src="p.png"></p>'
        found = read("a.html", f"<p>a</p>{picture}<p>b</p>".encode(), pictures={"p.png": saved.getvalue()})
        self.assertEqual([type(block) for block in found.report.blocks], [Paragraph, PageBreak, Image, Paragraph])

    def test_a_paragraph_that_begins_a_page_has_that_as_its_setting(self) -> None:
        """CSS Fragmentation 3, 3.1: ``page`` and its older name, and what asks for a side."""
        for said in ("break-before: page", "page-break-before:always", "break-before: right"):
            for tag, style in (("p", "body"), ("h2", "heading-2")):
                with self.subTest(said=said, tag=tag):
                    found = read("a.html", f"<p>a</p><{tag} style='{said}'>b<br><br>c</{tag}>".encode()).report
                    self.assertEqual(found.blocks[1].style, style)  # type: ignore[union-attr]
                    settings = [block.new_page for block in found.blocks if isinstance(block, Paragraph)]
                    self.assertEqual(settings[:2], [None, True])
                    self.assertFalse(any(settings[2:]))
