"""Nothing of a file is silently gone: what a census counts in it is there, or is said; and what is said is there to be counted."""

from __future__ import annotations

import re
import unicodedata
from collections import Counter
from pathlib import Path
from unittest import TestCase

from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from lxml import etree, html
from markdown_it import MarkdownIt
from mdit_py_plugins.gfm_autolink import gfm_autolink_plugin

from mellowspine.core.formats import read
from mellowspine.core.formats.imported import Imported
from mellowspine.core.formats.noted import NOTED
from mellowspine.core.report.blocks import DataTable, ThematicBreak
from mellowspine.core.structure.outline import paragraphs
from tests.core.docx_parts import Made, elements, field, inline_picture, paragraph, png, run

from .census import CELL, PARAGRAPH, ROW, RUN, SECTION, TABLE, Census, tokens

SAMPLES = Path(".venv/samples/docx")

_PHASES = (Phase.explicit, Phase.generate)
"""Documents are small; to make one that fails smaller still takes longer than to read it."""

COUNTED = {
    *RUN.values(), *PARAGRAPH.values(), *CELL.values(), *TABLE.values(), *ROW.values(), *SECTION.values(), "hidden", "comment",
    "tracked-insertion", "tracked-deletion", "nested-table", "layout-table", "text-box", "shape", "object-bare", "inserted-file", "ruby",
    "formula-look", "formula-box",
} - {"", "columns", "page-numbers", "table-style"}  # fmt: skip
"""The kinds of which the number has to be right; others are there or not."""


def words_in(found: Imported) -> Counter[str]:
    """All words that a report has, those included that it puts in front of captions."""
    report = found.report
    labels = [report.labels[one.caption].name for one in paragraphs(report) if one.caption in report.labels]
    runs = [
        [
            "".join(f" {each} " for each in characters(one.marks.formula)) * len(one.text)
            if one.marks.formula
            else one.text
            for one in each.runs
        ]
        for each in paragraphs(report)
    ]
    return tokens([f" {words} " for words in [*map("".join, runs), *labels]])


def characters(formula: str) -> str:
    """The letters and figures of a formula, without their alphabets."""
    return re.sub(r"\W", "", unicodedata.normalize("NFKC", "".join(etree.fromstring(formula).itertext())))


def account(data: bytes, held: TestCase) -> Imported:
    """Holds a document against what a report makes of it."""
    there, found = Census(data), read("a.docx", data)
    noted: Counter[str] = Counter()
    for note in found.notes:
        held.assertIn(note.kind, NOTED)
        noted[note.kind] += note.count
    held.assertEqual(
        {kind: count for kind, count in noted.items() if kind in COUNTED},
        {kind: count for kind, count in there.kinds.items() if count},
    )
    for kinds in there.some - {"columns", "page-numbers"}:
        held.assertTrue(noted.keys() & {*kinds.split("|")}, kinds)
    held.assertEqual(tokens(there.words) - words_in(found), Counter())
    held.assertEqual(words_in(found) - tokens(there.words) - tokens(there.computed) - _said_by_others(found), Counter())
    return found


def _said_by_others(found: Imported) -> Counter[str]:
    """Words that stand for something that is none: pictures that are not there, charts, diagrams, boxes."""
    kinds = {note.kind for note in found.notes}
    if kinds & {
        "chart",
        "diagram",
        "picture-outside",
        "picture-unknown",
        "picture-damaged",
        "field-number",
        "control",
        "symbol",
    }:
        return words_in(found)
    numbers = (
        [one.text for one in paragraphs(found.report)]
        if any(run.marks.reference for one in paragraphs(found.report) for run in one.runs)
        else []
    )
    return tokens([f" {words} " for words in numbers])


def _property(known: dict[str, str]) -> st.SearchStrategy[str]:
    """Any property of a list of the standard, with a value that it may have or one that says nothing."""
    values = st.sampled_from(
        ["", 'w:val="0"', 'w:val="1"', 'w:val="none"', 'w:val="single"', 'w:val="nil"', 'w:val="dotted"', 'w:val="20"', 'w:val="center"',
         'w:val="clear" w:fill="auto"', 'w:val="clear" w:fill="FFEE00"', 'w:val="pct15" w:color="000000"', 'w:val="solid" w:color="auto"',
         'w:right="0"', 'w:right="300" w:left="20"', 'w:end="40"', 'w:w="0" w:type="dxa"', 'w:w="200" w:type="dxa"', 'w:countBy="1"']
    )  # fmt: skip
    sides = st.sampled_from(["", '<w:top w:val="single"/>', '<w:left w:val="nil"/><w:top w:val="none"/>'])
    names = st.sampled_from(sorted({*known} - _ELSEWHERE))
    return st.builds(lambda name, value, inside: f"<w:{name} {value}>{inside if name.endswith(('Borders', 'Bdr', 'Mar')) else ''}</w:{name}>", names, values, sides)  # fmt: skip


_ELSEWHERE = {
    "rPr", "rStyle", "pStyle", "sectPr", "numPr", "tabs", "tblStyle", "vMerge", "gridSpan", "headerReference", "footerReference", "footnotePr",
    "endnotePr", "vanish", "del", "ins", "moveFrom", "moveTo", "outlineLvl", "hMerge", "pgSz", "pgMar", "cols",
    "pgNumType", "type", "bdr", "gridBefore", "gridAfter", "rFonts", "hidden",
}  # fmt: skip
"""What is drawn with more than a value, or leads to another part."""


def _of(tag: str, **parts: str) -> str:
    return f"<m:{tag}>{''.join(f'<m:{name}>{inside}</m:{name}>' for name, inside in parts.items())}</m:{tag}>"


def _nested(within: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    part = st.lists(within, max_size=2).map("".join)
    return st.one_of(
        st.builds(lambda a, b: _of("f", num=a, den=b), part, part),
        st.builds(lambda a, b: _of("sSup", e=a, sup=b), part, part),
        st.builds(lambda a, b, c: _of("sPre", sub=a, sup=b, e=c), part, part, part),
        st.builds(lambda a: f'<m:rad><m:radPr><m:degHide m:val="1"/></m:radPr><m:deg/><m:e>{a}</m:e></m:rad>', part),
        st.builds(lambda a, b, c: f'<m:nary><m:naryPr><m:chr m:val="∑"/></m:naryPr><m:sub>{a}</m:sub><m:sup>{b}</m:sup><m:e>{c}</m:e></m:nary>', part, part, part),
        st.builds(lambda a, b: f'<m:d><m:dPr><m:begChr m:val="["/></m:dPr><m:e>{a}</m:e><m:e>{b}</m:e></m:d>', part, part),
        st.builds(lambda a, b: _of("m", mr=f"<m:e>{a}</m:e><m:e>{b}</m:e>"), part, part),
        st.builds(lambda tag, a: _of(tag, e=a), st.sampled_from(["acc", "bar", "box", "borderBox", "groupChr", "eqArr"]), part),
        st.builds(lambda show, a: f'<m:phant><m:phantPr><m:show m:val="{show}"/></m:phantPr><m:e>{a}</m:e></m:phant>', st.sampled_from("01"), part),
        st.builds(lambda a, b: _of("func", fName=a, e=b), part, part),
        st.builds(lambda tag, a: f'<w:{tag} w:id="3">{a}</w:{tag}>', st.sampled_from(["ins", "del"]), part),
        st.builds(lambda tag, a, b: _of(tag, e=a, lim=b), st.sampled_from(["limLow", "limUpp"]), part, part),
    )  # fmt: skip


_formulas = st.recursive(
    st.builds(
        lambda words, look, rpr: f"<m:r><m:rPr>{look}</m:rPr>{rpr}<m:t>{words}</m:t></m:r>",
        st.text("abxyαβ12+−=→", max_size=4),
        st.sampled_from(
            ["", "", '<m:sty m:val="b"/>', '<m:sty m:val="p"/>', '<m:scr m:val="double-struck"/>', "<m:nor/>"]
        ),
        st.sampled_from(["", "", "", '<w:rPr><w:color w:val="FF0000"/></w:rPr>']),
    ),
    _nested,
    max_leaves=6,
)
_runs = st.builds(
    run,
    st.text("abcdefgh ", min_size=1, max_size=12),
    st.lists(_property(RUN), max_size=3, unique_by=lambda one: one.split()[0]).map("".join),
)
_among = st.one_of(
    _runs,
    st.just(run("secret", "<w:vanish/>")),
    st.just(run("careful", '<w:rStyle w:val="Warning"/>')),
    st.just(f'<w:ins w:id="1">{run("inserted")}</w:ins>'),
    st.just('<w:del w:id="2"><w:r><w:delText>gone</w:delText></w:r></w:del>'),
    st.just('<w:r><w:commentReference w:id="0"/></w:r>'),
    st.just(f"<w:r><w:ruby><w:rt>{run('above')}</w:rt><w:rubyBase>{run('base ')}</w:rubyBase></w:ruby></w:r>"),
    st.just("<w:r><w:drawing><wps:wsp/></w:drawing></w:r>"),
    st.just(f"<w:r><w:pict><v:shape><v:textbox><w:txbxContent>{paragraph(run('boxed'))}</w:txbxContent></v:textbox></v:shape></w:pict></w:r>"),
    st.just(f"<mc:AlternateContent><mc:Choice Requires='wps'>{run('chosen')}</mc:Choice><mc:Fallback>{run('instead')}</mc:Fallback></mc:AlternateContent>"),
    st.just(f'<w:sdt><w:sdtPr><w:alias w:val="x"/></w:sdtPr><w:sdtContent>{run("controlled")}</w:sdtContent></w:sdt>'),
    st.just(f'<w:hyperlink w:anchor="x">{run("linked")}</w:hyperlink>'),
    st.just(field("DATE", run("today"))),
    st.just(field('HYPERLINK "https://x.org"', run("led"))),
    st.just(f'<w:fldSimple w:instr="AUTHOR">{run("author")}</w:fldSimple>'),
    st.lists(_formulas, max_size=3).map(lambda parts: f"<m:oMath>{''.join(parts)}</m:oMath>"),
    st.lists(_formulas, max_size=2).map(lambda parts: f"<m:oMathPara><m:oMath>{''.join(parts)}</m:oMath></m:oMathPara>"),
    st.just(f"<w:smartTag>{run('tagged')}</w:smartTag>"),
)  # fmt: skip
_paragraphs = st.builds(
    lambda inside, properties, style: paragraph("".join(inside), f'<w:pStyle w:val="{style}"/>' + "".join(properties)),
    st.lists(_among, max_size=4),
    st.lists(_property(PARAGRAPH), max_size=2, unique_by=lambda one: one.split()[0]),
    st.sampled_from(["Normal", "Framed", "Heading1", "none"]),
)


def _cell(inside: list[str], properties: list[str]) -> str:
    return f"<w:tc><w:tcPr>{''.join(properties)}</w:tcPr>{''.join(inside)}</w:tc>"


def _tables(within: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    cells = st.builds(_cell, st.lists(within, min_size=1, max_size=2), st.lists(_property(CELL), max_size=2, unique_by=lambda one: one.split()[0]))  # fmt: skip
    rows = st.builds(
        lambda inside, properties: f"<w:tr><w:trPr>{''.join(properties)}</w:trPr>{''.join(inside)}</w:tr>",
        st.lists(cells, min_size=1, max_size=2),
        st.lists(_property(ROW), max_size=1),
    )
    return st.builds(
        lambda inside, properties: f"<w:tbl><w:tblPr>{''.join(properties)}</w:tblPr>{''.join(inside)}</w:tbl>",
        st.lists(rows, min_size=1, max_size=2),
        st.lists(_property(TABLE), max_size=2, unique_by=lambda one: one.split()[0]),
    )


_blocks = st.one_of(
    _paragraphs, _tables(st.one_of(_paragraphs, _tables(_paragraphs))), st.just('<w:altChunk r:id="rId99"/>')
)


class OfficeOpenXml(TestCase):
    def test_the_files_at_hand(self) -> None:
        files = sorted(SAMPLES.rglob("*.docx"))
        self.assertGreater(len(files), 40)
        for path in files:
            with self.subTest(path.name):
                account(path.read_bytes(), self)

    @settings(max_examples=200, phases=_PHASES)
    @given(
        st.lists(_blocks, min_size=1, max_size=3),
        st.lists(_property(SECTION), max_size=2, unique_by=lambda one: one.split()[0]),
    )
    def test_documents_of_whatever_the_standard_has(self, blocks: list[str], section: list[str]) -> None:
        account(made(blocks, section), self)

    def test_the_census_sees_what_is_lost(self) -> None:
        """It is a check that can fail: what a report does not have and does not say is found."""
        there = Census(made([paragraph(run("Words", "<w:emboss/>"))], []))
        self.assertEqual((there.kinds["letter-effect"], "".join(there.words).split()), (1, ["Words"]))
        with self.assertRaises(AssertionError):
            Census(made([paragraph(run("Words", "<w:unheardOf/>"))], []))


def made(blocks: list[str], section: list[str]) -> bytes:
    document = Made()
    framed = document.document.styles.add_style("Framed", 1)
    framed.font.emboss, framed.paragraph_format.right_indent = True, -200000
    document.document.styles.add_style("Warning", 2).font.double_strike = True
    document.add("".join(blocks) + paragraph(inline_picture(document.picture(png()))))
    last = document.body[-1]
    last.extend(elements("".join(section)))
    return document.saved()


_RENDERED = MarkdownIt("commonmark").enable(["table", "strikethrough"]).use(gfm_autolink_plugin)


class Markdown(TestCase):
    """Each word that a reader of Markdown would show is in the report: the published cases of CommonMark 0.31 and of GFM."""

    def test_the_published_cases(self) -> None:
        spec = (Path(".venv/samples/markdown") / "tests/test_cmark_spec/spec.md").read_text()
        cases = re.findall(r"^`{32} example\n(.*?)\n?^\.\n(.*?)^`{32}$", spec, re.DOTALL | re.MULTILINE)
        self.assertGreater(len(cases), 600)
        for source, shown in cases:
            with self.subTest(source):
                self.hold(source.replace("→", "\t"), shown.replace("→", "\t"))

    @settings(max_examples=200, phases=_PHASES)
    @given(st.lists(st.sampled_from(
        ["# Head\n", "word ", "*em* ", "**bold** ", "`code` ", "\n\n", "- item\n", "1. one\n", "> quote\n", "| a | b |\n|---|:-:|\n| c | d |\n", "---\n",
         "```py\nx = 1\n```\n", "<b>html</b> ", "<div>\nblock\n</div>\n\n", "<!-- note -->", "~~gone~~ ", "www.x.org ", "[link](https://x.org) ",
         "![alt](a.png) ", "- [ ] task\n", "    indented\n", "[^1] ", "[^1]: said\n\n", "&amp; ", "\\* ", "<a href='#head'>up</a> ", "<br>", "x@y.org "]
    ), max_size=12))  # fmt: skip
    def test_any_tokens(self, pieces: list[str]) -> None:
        source = "".join(pieces)
        if "[^1]" not in source:
            self.hold(source, _RENDERED.render(source))

    def hold(self, source: str, shown: str) -> None:
        found = read("a.md", source.encode()) if source.strip() else None
        if found is None:
            return
        there = tokens([_text_of(shown)])
        has = words_in(found)
        kinds = {note.kind for note in found.notes}
        if "form" not in kinds:
            self.assertEqual(there - has, Counter(), shown)
        titles = tokens([f" {title} " for title in re.findall(r'<img[^>]* title="([^"]*)"', shown)])  # become captions
        named = re.findall(r"\[([^\]]*)\]", " ".join(one.text for one in paragraphs(found.report)))
        described = re.findall(r'alt="([^"]*)"', shown)
        pictures = tokens([f" {words} " for words in (*named, *described)])
        self.assertEqual(has - there - pictures - titles, Counter(), shown)
        for tag, kind in (("<img", "picture-"), ("<!--", "comment")):
            if tag in shown:
                self.assertTrue(any(one.startswith(kind) for one in kinds), kind)
        struck = any(run.marks.strike for one in paragraphs(found.report) for run in one.runs if run.text.strip())
        if _text_of("".join(re.findall(r"<del>.*?</del>", shown, re.DOTALL))).strip():
            self.assertTrue(struck or "raw-html" in kinds, shown)
        rules = sum(isinstance(block, ThematicBreak) for block in found.report.blocks)
        if "<table" not in shown:
            self.assertEqual(rules, len(re.findall(r"<hr\b", shown)), shown)
        tables = sum(isinstance(block, DataTable) for block in found.report.blocks)
        if "<table" not in source:  # those of HTML may be there to lay a page out
            self.assertEqual(tables, shown.count("<table"))


def _text_of(shown: str) -> str:
    """The words of some HTML, as somebody sees them."""
    if not shown.strip() or shown.startswith("<!DOCTYPE"):
        return ""
    tree = html.fragment_fromstring(shown, create_parent="div")
    for hidden in tree.xpath("//script | //style | //template"):
        hidden.drop_tree()
    return str(tree.text_content())
