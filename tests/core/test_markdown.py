"""Markdown: written and read back, it gives the same headings, lists, tables and links (CommonMark 0.31)."""

from __future__ import annotations

from datetime import UTC, datetime
from itertools import groupby
from typing import Any
from unittest import TestCase

from hypothesis import example, given
from hypothesis import strategies as st

from mellowspine.core.formats import markdown, markdown_out, read
from mellowspine.core.formats.front_matter import front_matter, read_front_matter
from mellowspine.core.formats.imported import unhurried
from mellowspine.core.formats.walk import About, Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import (
    Block,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    Run,
    ThematicBreak,
)
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report
from mellowspine.core.structure.outline import outline, paragraphs

from .samples import TYPEFACES

_WORDS = st.text(
    st.one_of(st.sampled_from("ab Zé1.2)-+*_`#>|[]()<>&!\\~=:\"'§“”"), st.characters(codec="utf-8", categories=["L", "N", "P", "Zs"])),
    max_size=24,
)  # fmt: skip
_LINKS = st.sampled_from([None, None, "https://example.org/a_b(c)?d=e&f", "mailto:keeper@example.org"])
_RUNS = st.lists(
    st.builds(
        Run,
        _WORDS,
        st.builds(
            Marks,
            bold=st.sampled_from([None, True]),
            italic=st.sampled_from([None, True]),
            link=_LINKS,
            strike=st.booleans(),
            script=st.sampled_from([None, None, "super", "sub"]),
            highlight=st.sampled_from([None, None, "#ffff00"]),
        ),
    ),
    max_size=4,
).map(tuple)
_STYLES = st.sampled_from(
    [f"heading-{level}" for level in range(1, 7)]
    + [f"{kind}-{level}" for kind in ("bullet", "item") for level in (1, 2, 3)]
    + ["body", "body", "quotation", "code", "caption"]
)
_CELLS = st.builds(lambda runs: Cell((Paragraph("c", "cell", runs),)), _RUNS)
_GRIDS = st.integers(1, 3).flatmap(lambda width: st.lists(st.lists(_CELLS, min_size=width, max_size=width).map(tuple),
                                                           min_size=1, max_size=3).map(tuple))  # fmt: skip
_BLOCKS = st.lists(
    st.one_of(
        st.builds(lambda style, runs: Paragraph("p", style, runs), _STYLES, _RUNS),
        st.builds(lambda rows: DataTable("t", rows, 1), _GRIDS),
        st.just(PageBreak("b")),
        st.just(ThematicBreak("h")),
    ),
    max_size=8,
)


def written(*blocks: Block) -> str:
    """Without the settings in front."""
    report = Report("Sample", blocks)
    return whole(report).partition("\n---\n\n")[2]


_NOBODY = About()


def whole(report: Report, about: About = _NOBODY) -> str:
    given = Written(report, paginate(report, TYPEFACES), TYPEFACES, {}, about=about)
    return markdown_out.write(given).decode()


def _plain(text: str) -> str:
    return " ".join(text.split())


def _kept(report: Report) -> dict[str, Any]:
    """What has to be the same: headings with their levels, items of lists, cells, and links with their words."""
    styles = report.styles
    items = [
        (styles[block.style].marker, styles[block.style].list_level, _plain(block.text))
        for block in report.blocks
        if isinstance(block, Paragraph) and styles[block.style].marker and _plain(block.text)
    ]
    grids = [
        [[_plain(" ".join(p.text for p in cell.paragraphs)) for cell in row] for row in block.rows]
        for block in report.blocks
        if isinstance(block, DataTable)
    ]
    links = [
        (link, _plain("".join(run.text for run in group)))
        for paragraph in paragraphs(report)
        if styles[paragraph.style].role != "code"
        for link, group in groupby((run for run in paragraph.runs if run.text), lambda run: run.marks.link)
        if link
    ]
    return {
        "headings": [(heading.level, heading.text) for heading in outline(report)],
        "items": items,
        "grids": grids,
        "links": [link for link in links if link[1]],
        "marks": [
            (character, run.marks.strike, run.marks.script, run.marks.highlight)
            for paragraph in paragraphs(report)
            if styles[paragraph.style].role != "code"
            for run in paragraph.runs
            for character in run.text
            if character.isalnum() and (run.marks.strike or run.marks.script or run.marks.highlight)
        ],
        "rules": sum(isinstance(block, ThematicBreak) for block in report.blocks),
    }


class Mail(TestCase):
    def test_addresses_with_underscores_are_whole(self) -> None:
        """Of half an address the mail would go to somebody else."""
        for source, found in (
            ("see ann_weir@lido.org, or x_y_z@a.org", ["ann_weir@lido.org", "x_y_z@a.org"]),
            ("*ann@lido.org* and *a_b@c.de*", ["ann@lido.org", "a_b@c.de"]),
            ("[ann_weir@lido.org](https://x.org)", []),
            ("`a_b`@c.de", []),
            (f"{'a_' * 200}b@c.de", []),
        ):
            with self.subTest(source):
                report = markdown.read(source.encode(), "Sample", unhurried).report
                runs = [run for paragraph in paragraphs(report) for run in paragraph.runs]
                self.assertEqual([run.text for run in runs if (run.marks.link or "").startswith("mailto:")], found)
                said = "".join(run.text for run in runs)
                self.assertEqual(said.count("@"), source.count("@"))


class FrontMatter(TestCase):
    """Settings in front of a text (common practice, no source; strings as YAML 1.2, 7.3.1, has them)."""

    ABOUT = About(("Ines Varga", 'O\'Neill, "Maren"'), datetime(2026, 11, 28, 9, tzinfo=UTC))

    def test_what_is_written_is_read_again_and_adds_no_words(self) -> None:
        report = Report(
            'The "Lido": a study', (Paragraph("b", "body", (Run("Words"),)),), page=PageSetup(language="de-DE")
        )
        text = whole(report, self.ABOUT)
        self.assertEqual(
            text.splitlines()[:7],
            ["---", 'title: "The \\"Lido\\": a study"', 'author: ["Ines Varga", "O\'Neill, \\"Maren\\""]', "date: 2026-11-28", "lang: de-DE", "generator: Mellow Spine", "---"],
        )  # fmt: skip
        found = read("x.md", text.encode())
        self.assertEqual((found.report.title, found.report.page.language), (report.title, "de-DE"))
        self.assertEqual(([one.text for one in found.report.blocks], found.notes), (["Words"], ()))  # type: ignore[attr-defined]

    def test_of_others_it_is_the_title_above_the_text(self) -> None:
        text = "---\ntitle: 'Weirs: it''s time'\nsubtitle: Notes\nauthor:\n  - Ines Varga\n  - \"Piet Halloran\"\ndate: 3 May\nlanguage: en_GB\n---\n# One\n"
        found = read("x.md", text.encode())
        styles = found.report.styles
        said = [(styles[one.style].role, one.text) for one in found.report.blocks if isinstance(one, Paragraph)]
        lines = [
            ("title", "Weirs: it's time"),
            ("subtitle", "Notes"),
            ("subtitle", "Ines Varga, Piet Halloran"),
            ("subtitle", "3 May"),
        ]
        self.assertEqual(said, [*lines, (None, "One")])
        self.assertEqual((found.report.title, found.notes), ("Weirs: it's time", ()))

    def test_what_else_is_said_there_is_told(self) -> None:
        for more in ("layout: post", "lang: Klingon", "header:\n  image: x.png"):
            with self.subTest(more):
                found = read("x.md", f"---\ntitle: A\n{more}\n---\nWords".encode())
                self.assertEqual([one.kind for one in found.notes], ["settings-in-front"])
                self.assertEqual([one.text for one in found.report.blocks], ["Words"])  # type: ignore[attr-defined]

    @given(st.text(max_size=60), st.lists(st.text(max_size=30), max_size=3))
    def test_any_title_and_any_authors(self, title: str, authors: list[str]) -> None:
        said = front_matter(title, "en-GB", About(tuple(authors)))
        found = read_front_matter(said.partition("---\n")[2].partition("\n---\n")[0])
        self.assertEqual(found.title, " ".join(title.split())[:200])
        self.assertEqual(found.authors, tuple(words for one in authors if (words := " ".join(one.split()))))
        self.assertEqual((found.others, found.is_ours), (False, True))


class MarkdownTests(TestCase):
    @given(_BLOCKS)
    @example([Paragraph("p", "heading-1", (Run("1. # *One* \\ two #"),))])
    @example([Paragraph("p", "item-2", (Run("under nothing"),)), Paragraph("q", "item-1", (Run("- one"),))])
    @example([Paragraph("p", "body", (Run("head\n:--"),)), Paragraph("q", "body", (Run("> not quoted"),))])
    def test_what_is_written_reads_the_same(self, blocks: list[Block]) -> None:
        text = written(*blocks)
        back = markdown.read(text.encode(), "Sample", unhurried).report
        self.assertEqual(_kept(back), _kept(Report("Sample", tuple(blocks))), text)

    def test_it_reads_as_people_write_it(self) -> None:
        text = written(
            Paragraph("a", "heading-2", (Run("Gates"),)),
            Paragraph("b", "body", (Run("The "), Run("north", Marks(bold=True)), Run(" gate, see "), Run("the chart", Marks(link="https://example.org/c")), Run(".\nShut."))),
            Paragraph("c", "item-1", (Run("Ring."),)), Paragraph("d", "bullet-2", (Run("Loudly"),)), Paragraph("e", "item-1", (Run("Wait."),)),
            Paragraph("f", "quotation", (Run("Never."),)),
            Image("g", "0" * 32 + ".png", 10, 10, "The gate"), Paragraph("h", "caption", (Run("Figure 1: “The gate”"),)),
            Paragraph("i", "code", (Run("a ``` b"),)),
        )  # fmt: skip
        self.assertEqual(
            text.split("\n\n"),
            [
                "## Gates",
                "The **north** gate, see [the chart](<https://example.org/c>).\\\nShut.",
                "1. Ring.\n   - Loudly\n2. Wait.",
                "> Never.",
                f'![The gate]({"0" * 32}.png "Figure 1: “The gate”")',
                "````\na ``` b\n````\n",
            ],
        )

    def test_the_first_row_of_a_table_without_a_header_becomes_one(self) -> None:
        cells = tuple(Cell((Paragraph(word, "cell", (Run(word),)),)) for word in ("a|b", ""))
        self.assertEqual(
            written(DataTable("t", (cells, (Cell(cells[0].paragraphs, 2),)))),
            "| a\\|b |  |\n| --- | --- |\n| a\\|b |  |\n",
        )
