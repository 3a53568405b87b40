"""HTML that is written: what was copied, and files. ``html5lib`` is the second reader of it."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO
from itertools import count
from typing import Any
from unittest import TestCase

import html5lib
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image as Pillow

from mellowspine.core.formats import WRITERS, read, read_html
from mellowspine.core.formats.html import write_piece
from mellowspine.core.formats.text import write_piece as write_words
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.report.blocks import (
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
    ThematicBreak,
)
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued, Line
from mellowspine.core.structure.markers import list_markers

from .samples import TYPEFACES, heading

SOURCE = f"{'a' * 32}.png"


def picture() -> bytes:
    saved = BytesIO()
    Pillow.new("RGB", (8, 4), "#335588").save(saved, "PNG")
    return saved.getvalue()


def said(id: str, words: str, style: str = "body", marks: Marks | None = None, **more: Any) -> Paragraph:
    return Paragraph(id, style, (Run(words, marks or Marks()),), **more)


def set_pages(*blocks: Block, **more: Any) -> Pages:
    return paginate(Report("Lido", blocks, **more), TYPEFACES)


def written(*blocks: Block, **more: Any) -> str:
    pages = set_pages(*blocks, **more)
    numbers = {one.id: one.number for one in pages.worded if one.number}
    return write_piece(blocks, pages.report, numbers, {SOURCE: picture()}, lambda id: f"https://x.org/r#{id}")


class Pieces(TestCase):
    def test_a_paragraph_that_begins_a_page_does_so_again_when_it_is_read(self) -> None:
        first, second, third = (Paragraph(f"p{n}", "body", (Run("Words"),), new_page=n == 1 or None) for n in range(3))
        html = written(first, second, replace(third, new_page=False))
        self.assertIn("auto", html)
        back = read_html(html, Report("r"), (f"i{n}" for n in count()), "structure").report
        self.assertEqual([one.new_page for one in back.blocks], [None, True, None])  # type: ignore[union-attr]

    def test_headings_have_their_numbers_and_levels_beyond_six_say_theirs(self) -> None:
        self.assertEqual(
            written(heading("a", 1, "Aims"), heading("b", 2, "Gate"), heading("c", 8, "Deep"), numbering=SCHEMES["decimal"]),
            '<h1 id="a">1 Aims</h1><h2 id="b">1.1 Gate</h2>'
            '<div id="c" role="heading" aria-level="8">1.1.0.0.0.0.0.1 Deep</div>',
        )  # fmt: skip

    def test_lists_stand_in_each_other_with_kinds_and_values(self) -> None:
        html = written(
            said("a", "One", "item-1", number_from=3), said("b", "Under", "bullet-2"), said("c", "More", "item-1", number="none"),
            said("d", "Two", "item-1"), said("e", "Text"), said("f", "Skipped", "bullet-3"),
        )  # fmt: skip
        self.assertEqual(
            html,
            '<ol><li value="3">One<ul><li>Under</li></ul><p>More</p></li><li value="4">Two</li></ol><p>Text</p>'
            "<ul><li><ul><li><ul><li>Skipped</li></ul></li></ul></li></ul>",
        )

    def test_quotations_and_lines_of_code_stand_together(self) -> None:
        html = written(
            said("a", "q", "quotation"),
            said("b", "r", "quotation"),
            said("c", "x = 1", "code"),
            said("d", "  y", "code"),
        )
        self.assertEqual(html, "<blockquote><p>q</p><p>r</p></blockquote><pre>x = 1\n  y</pre>")

    def test_formatting_links_and_breaks(self) -> None:
        runs = (
            Run("b", Marks(bold=True)),
            Run("i\nu", Marks(italic=True, underline=True)),
            Run("l", Marks(link="https://e.org/?a=1&b=<")),
            Run("<&>", Marks(size=18.0, colour="#ff0000", font="Carlito")),
            Run("m", Marks(font="Liberation Mono")),
            Run("j", Marks(link="javascript:alert(1)")),
        )
        self.assertEqual(
            written(Paragraph("p", runs=runs, align="center")),
            '<p style="text-align: center"><strong>b</strong><em><u>i<br>u</u></em>l'
            "<span style=\"font-family: 'Carlito'; font-size: 18pt; color: #ff0000\">&lt;&amp;&gt;</span><code>m</code>j</p>",
        )

    def test_references_and_captions_are_words_and_lead_to_their_places(self) -> None:
        leads = Paragraph("p", runs=tuple(Run("\ufffc", Marks(reference=Reference(to, "label"))) for to in ("c", "h")))
        html = written(
            leads, Image("i", SOURCE, 90.0, 45.0, "A board"), said("c", "Board", "caption", caption="figure"), heading("h", 1, "Gate"),
            numbering=SCHEMES["decimal"],
        )  # fmt: skip
        self.assertIn('<a href="#c">Figure 1</a>', html)
        self.assertIn('<img src="data:image/png;base64,', html)
        self.assertIn(
            'alt="A board" style="width: 90pt; height: 45pt"><figcaption id="c">Figure 1: Board</figcaption></figure>',
            html,
        )
        pages = set_pages(leads, said("c", "Board", "caption", caption="figure"), heading("h"))
        alone = write_piece([leads], pages.report, {}, {}, lambda id: f"https://x.org/r#{id}")
        self.assertIn('<a href="https://x.org/r#c">Figure 1</a>', alone)

    def test_data_tables_have_header_cells_spans_and_their_caption(self) -> None:
        cell = [Cell((said(f"c{n}", str(n), "cell", align="right" if n > 2 else None),)) for n in range(5)]
        table = DataTable(
            "t", ((cell[0], replace(cell[1], columns=2)), (replace(cell[2], rows=2), cell[3], cell[4])), 1
        )
        self.assertEqual(
            written(said("k", "Depths", "caption", caption="table"), table),
            '<table><caption id="k">Table 1: Depths</caption><thead><tr><th scope="col">0</th><th scope="col" colspan="2">1</th></tr></thead>'
            '<tbody><tr><td rowspan="2">2</td><td style="text-align: right">3</td><td style="text-align: right">4</td></tr></tbody></table>',
        )  # fmt: skip

    def test_columns_say_how_wide_they_are(self) -> None:
        cells = (Cell((said("a", "1", "cell", align="right"),), widths=(72.5,)), Cell((said("b", "2", "cell"),)))
        self.assertIn(
            '<td style="width: 72.5pt; text-align: right">1</td><td>2</td>', written(DataTable("t", (cells,)))
        )

    def test_a_contents_table_is_a_list_with_page_numbers(self) -> None:
        lines = (Line("h", 1, "1", "Aims", ("2",)), Line("x", 2, "1.1", "Gate & weir", ("3",)))
        html = written(PlacedTable("t", "k"), heading("h"), tables={"k": Issued(lines=lines)})
        self.assertTrue(
            html.startswith(
                '<nav aria-label="Contents"><p><strong>Contents</strong></p><ul style="list-style: none"><li><a href="#h">1 Aims</a>\t2'
                '<ul style="list-style: none"><li><a href="https://x.org/r#x">1.1 Gate &amp; weir</a>\t3</li></ul></li></ul></nav>'
            ),
            html,
        )

    def test_plain_words_have_numbers_bullets_and_tabs(self) -> None:
        blocks = (heading("a", 1, "Aims"), said("b", "One", "bullet-1"), said("c", "Two", "item-1"),
                  DataTable("t", ((Cell((said("d", "x", "cell"),)), Cell((said("e", "y", "cell"),))),)))  # fmt: skip
        pages = set_pages(*blocks, numbering=SCHEMES["decimal"])
        markers = {**list_markers(pages.report), "a": "1"}
        self.assertEqual(write_words(blocks, pages.report, markers), "1 Aims\n• One\n1. Two\nx\ty")


_MARKS = st.builds(Marks, bold=st.sampled_from((None, True)), italic=st.sampled_from((None, True)),
                   underline=st.booleans(), link=st.sampled_from((None, "https://x.org/a")), strike=st.booleans(),
                   script=st.sampled_from((None, None, "super", "sub")), highlight=st.sampled_from((None, None, "#cfe9d4")),
                   capitals=st.sampled_from((None, None, "all", "small")))  # fmt: skip
_RUNS = st.lists(st.builds(Run, st.sampled_from(("word", "two words", "a<b&c")), _MARKS), min_size=1, max_size=3).map(
    lambda runs: tuple(run for n, run in enumerate(runs) if not n or run.marks != runs[n - 1].marks)
)
_STYLES = st.sampled_from(
    ("body", "heading-1", "heading-3", "heading-8", "bullet-1", "bullet-2", "item-1", "quotation", "code")
)


_LOOKS: tuple[dict[str, Any], ...] = (
    {}, {"background": "#e4f2ee", "vertical": "middle"}, {"borders": "top 1 #000000, left 0.5 #b9b3bf dashed"}, {"borders": "none"},
    {"padding": (1.0, 5.5, 2.0, 5.5), "vertical": "bottom"},
)  # fmt: skip


@st.composite
def _blocks(draw: st.DrawFn) -> tuple[Block, ...]:
    found: list[Block] = []
    for number in range(draw(st.integers(1, 8))):
        kind = draw(st.sampled_from(("text", "text", "text", "table", "break")))
        if kind == "text":
            style = draw(_STYLES)
            plain = style.startswith(("heading", "code"))
            runs = (Run("words of it"),) if plain else draw(_RUNS)
            found.append(Paragraph(f"p{number}", style, runs, space_after=0 if style == "code" else None))
        elif kind == "table":
            widths = draw(st.sampled_from(((), (72.5,))))
            look = draw(st.sampled_from(_LOOKS))
            cells = [Cell((Paragraph(f"c{number}{n}", "cell", draw(_RUNS)),), widths=widths, **look) for n in range(4)]
            found.append(DataTable(f"t{number}", (tuple(cells[:2]), tuple(cells[2:])), draw(st.integers(0, 1))))
        elif found:
            found.append(draw(st.sampled_from((PageBreak, ThematicBreak)))(f"b{number}"))
    return tuple(found)


class Cells(TestCase):
    def test_looks_as_programs_write_them(self) -> None:
        """CSS Backgrounds and Borders 3, 3: words in any order; CSS 2.1, 8.4: one to four figures of padding."""
        for declared, look in (
            ("border: 1px solid rgb(10, 20, 30)", {"borders": ", ".join(f"{side} 0.75 #0a141e" for side in ("top", "right", "bottom", "left"))}),
            ("border-left: red dashed thin", {"borders": "left 0.75 #ff0000 dashed"}),
            ("border: none", {"borders": "none"}),
            ("border-top: .5pt solid windowtext; border-bottom: 0 solid black", {"borders": "top 0.5 #000000"}),
            ("padding: 1pt 2pt 3pt", {"padding": (1.0, 2.0, 3.0, 2.0)}),
            ("padding: 0 5pt; padding-left: 9pt", {"padding": (0.0, 5.0, 0.0, 9.0)}),
            ("padding: 1pt 2pt 3pt 4pt", {"padding": (1.0, 2.0, 3.0, 4.0)}),
            ("padding-left: 4pt; background: transparent; vertical-align: top", {}),
            ("background: #FFEE00; vertical-align: bottom", {"background": "#ffee00", "vertical": "bottom"}),
        ):  # fmt: skip
            with self.subTest(declared):
                html = f'<table><tr><td style="{declared}">a</td><td>b</td></tr></table>'
                [table] = read_html(html, Report("x"), map(str, count()), "looks").report.blocks
                first, second = table.rows[0]  # type: ignore[union-attr]
                self.assertEqual(replace(first, blocks=()), Cell((), **look))
                self.assertEqual(replace(second, blocks=()), Cell(()))


class ThereAndBack(TestCase):
    @settings(max_examples=150, deadline=None)
    @given(_blocks())
    def test_what_is_copied_and_pasted_as_html_is_the_same(self, blocks: tuple[Block, ...]) -> None:
        html = written(*blocks)
        found = read_html(html, Report("x"), (f"i{number}" for number in count()), "looks")
        self.assertEqual([bare(one) for one in found.report.blocks], [bare(one) for one in blocks], html)

    @settings(max_examples=100, deadline=None)
    @given(_blocks())
    def test_another_reader_finds_the_same_words_headings_lists_and_tables(self, blocks: tuple[Block, ...]) -> None:
        tree = html5lib.parseFragment(written(*blocks), namespaceHTMLElements=False)
        levels = [int(one.get("aria-level") or one.tag[1:]) for one in tree.iter() if one.get("role") == "heading" or one.tag in
                  ("h1", "h2", "h3", "h4", "h5", "h6")]  # fmt: skip
        styles = [block.style for block in blocks if isinstance(block, Paragraph)]
        self.assertEqual(levels, [int(style[8:]) for style in styles if style.startswith("heading")])
        self.assertEqual(len([*tree.iter("table")]), sum(isinstance(block, DataTable) for block in blocks))
        words = "".join(tree.itertext()).split()
        wanted = [word for block in blocks for word in plain(block).split()]
        self.assertEqual("".join(words), "".join(wanted))


def bare(block: Block) -> Any:
    match block:
        case Paragraph():
            return block.style, block.number_from, block.runs
        case DataTable():
            return block.header_rows, [
                [([p.runs for p in cell.paragraphs], replace(cell, blocks=(), widths=())) for cell in row]
                for row in block.rows
            ]
    return type(block).__name__


def plain(block: Block) -> str:
    if isinstance(block, Paragraph):
        return block.text
    if isinstance(block, DataTable):
        return " ".join(p.text for row in block.rows for cell in row for p in cell.paragraphs)
    return ""


class Files(TestCase):
    def test_a_report_is_a_page_that_is_read_again(self) -> None:
        pages = set_pages(heading("a", 1, "Größe"), said("b", "Words", marks=Marks(bookmark=Bookmark("m", "Name"))))
        data = WRITERS[".html"].write(Written(pages.report, pages, TYPEFACES, {}))
        self.assertTrue(data.startswith(b"<!DOCTYPE html>\n<html"))
        found = read("x.html", data).report
        self.assertEqual((found.title, [block.text for block in found.blocks]), ("Lido", ["Größe", "Words"]))
