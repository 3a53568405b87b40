"""HTML against Markdown: the cases of the CommonMark specification 0.31.2 are read as Markdown, and as the HTML that it gives for
them. Both have to be the same report.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

from mellowspine.core.formats import read
from mellowspine.core.formats.imported import FileRefused
from mellowspine.core.report.blocks import Block, Paragraph

CASES = Path(__file__).parents[2] / ".venv/samples/markdown/tests/test_cmark_spec/commonmark.json"

DIFFERENT = {
    "HTML shows white space as one space, wherever it stands; Markdown keeps it": (
        *(13, 39, 40, 304, 331, 332, 334, 335, 336, 337, 640, 652),
        *(524, 536, 617, 625, 627, 628, 630, 631),  # at the end, where a tag followed it
    ),
    "paragraphs and lines of code in which nothing stands go": (79, 126, 130, 138, 144, 237, 318),
    "HTML in Markdown is read by itself, without what stands around it": (148, 167, 174, 187, 626),
    "addresses are links in Markdown (GFM 0.29, 6.9)": (608, 611, 612),
    "a title of a picture is its caption in Markdown": (475, 572, 573, 576, 577, 579, 584, 585, 586, 588, 589, 591),
    "a picture without a description is said by its address in Markdown": (581,),
    "a picture that is not there leaves its words where it stood": (587,),
    "a link to what is not there": (501,),
    "nothing is no HTML": (207,),
}


def shown(blocks: Iterable[Block]) -> list[object]:
    return [
        (
            one.style,
            one.number,
            one.number_from,
            [(run.text, replace(run.marks, link=None, bookmark=None), bool(run.marks.link)) for run in one.runs],
        )
        if isinstance(one, Paragraph)
        else type(one).__name__
        for one in blocks
    ]


class AgainstMarkdown(TestCase):
    def test_the_cases_of_the_specification(self) -> None:
        cases = json.loads(CASES.read_text())
        self.assertEqual(len(cases), 652)
        different = set()
        for case in cases:
            try:
                same = shown(read("a.md", case["markdown"].encode()).report.blocks) == shown(
                    read("a.html", case["html"].encode()).report.blocks
                )
            except FileRefused:
                same = False
            if not same:
                different.add(case["example"])
        self.assertEqual(different, {number for numbers in DIFFERENT.values() for number in numbers})
