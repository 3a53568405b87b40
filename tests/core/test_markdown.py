"""Markdown: written and read back, it gives the same headings, lists, tables and links (CommonMark 0.31)."""

from __future__ import annotations

from itertools import groupby
from typing import Any
from unittest import TestCase

from hypothesis import example, given
from hypothesis import strategies as st

from mellowspine.core.formats import markdown, markdown_out
from mellowspine.core.formats.imported import unhurried
from mellowspine.core.formats.walk import Written
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
    report = Report("Sample", blocks)
    return markdown_out.write(Written(report, paginate(report, TYPEFACES), TYPEFACES, {})).decode()


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
