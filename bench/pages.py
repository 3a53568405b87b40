"""Pages in parts with heads, feet and a note on each: how the work grows with the pages, from 10 to 3,000."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator, Sequence
from dataclasses import replace

from bench.figures import p95, seconds, show
from demo.manual import manual
from mellowspine.core.formats import pdf
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.draw import Drawing
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import INLINE_OBJECT, Block, Marks, Paragraph, PartStart, Reference, Run
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.report import Report

SIZES = (10, 100, 1000, 3000)


def report_in_parts(pages: int) -> Report:
    """The manual in five parts: front matter, body, a wide table in the middle of it, appendices; with as many notes as pages."""
    report = manual(pages)
    mains = [
        at for at, block in enumerate(report.blocks) if isinstance(block, Paragraph) and block.style == "heading-1"
    ]
    middle = len(report.blocks) // 2
    starts = {
        mains[0]: "body",
        middle: "wide",
        middle + 2: "further",
        mains[-1] if len(mains) > 1 else len(report.blocks) - 1: "back",
    }
    blocks: list[Block] = []
    for at, block in enumerate(with_notes(report.blocks, pages)):
        if at in starts:
            blocks.append(PartStart(starts[at]))
        blocks += block
    parts = {
        FIRST: Part("Front matter", "lower-roman"),
        "body": Part("Body", "decimal", start=1, begins="right"),
        "wide": Part("Wide", page={"width": 841.89, "height": 595.28}),
        "back": Part("Appendices", "decimal", "A-", 1, "right"),
    }
    page = PageSetup(
        mirrored=True, head_left="{number 1} {section 1}", head_right="{title}", head_rule=True, left_pages="mirrored",
        foot_middle="", foot_right="Page {page} of {last}", first_page="none",
    )  # fmt: skip
    return replace(report, blocks=tuple(blocks), parts=parts, page=page)


def with_notes(blocks: Sequence[Block], count: int) -> Iterator[list[Block]]:
    """Each block, with a note behind it in so many of the paragraphs of body text, evenly."""
    texts = [at for at, block in enumerate(blocks) if isinstance(block, Paragraph) and block.style == "body"]
    noted = {texts[len(texts) * number // count] for number in range(min(count, len(texts)))}
    for at, block in enumerate(blocks):
        yield _noted(block, at) if isinstance(block, Paragraph) and at in noted else [block]


def _noted(block: Paragraph, at: int) -> list[Block]:
    """A paragraph with a note behind its words, and the note."""
    sign = Run(INLINE_OBJECT, Marks(reference=Reference(f"note{at}", "note")))
    words = Run(
        "As the gate book of that year has it, which is kept at the harbour office; the third volume is missing. "
    )
    return [replace(block, runs=(*block.runs, sign)), Paragraph(f"note{at}", "note", (words,), note="foot")]


def _edits(report: Report, pages: Pages, typefaces: Typefaces, noted: bool) -> list[float]:
    """Seconds until all page numbers are there after a line more, in forty paragraphs around the middle; in those that refer to a note,
    or in others."""
    texts = [
        i for i, block in enumerate(report.blocks)
        if isinstance(block, Paragraph) and block.style == "body" and noted == any(run.marks.reference for run in block.runs)
    ]  # fmt: skip
    times = []
    for step in range(min(40, len(texts))):
        index = texts[len(texts) // 4 + len(texts) * step // 80]
        block = report.blocks[index]
        assert isinstance(block, Paragraph)
        longer = replace(block, runs=(Run("One line more, so that all that follows moves on from here. "), *block.runs))
        edited = replace(report, blocks=(*report.blocks[:index], longer, *report.blocks[index + 1 :]))
        times.append(seconds(lambda e=edited: paginate(e, typefaces, pages).counts))
    return times


def run() -> None:
    print("\nPages in parts, with heads, feet and notes")
    for wanted in SIZES:
        report, typefaces = report_in_parts(wanted), Typefaces()
        cold = seconds(lambda r=report: paginate(r, Typefaces()))
        pages = paginate(report, typefaces)
        count = len(pages)
        target = wanted == 1000
        show(f"{count:,} pages: cold", f"{1000 * cold / count:.2f} ms a page", "at most 1.2 ms" if target else "")
        for where, noted in (("", False), (" where a note is referred to", True)):
            times = sorted(_edits(report, pages, typefaces, noted))
            show(
                f"{count:,} pages: one edit{where} → all page numbers, median",
                f"{1000 * times[len(times) // 2]:.1f} ms",
                "at most 5 ms" if target else "",
            )
            show(
                f"{count:,} pages: one edit{where} → all page numbers, p95",
                f"{1000 * p95(times):.1f} ms",
                "at most 15 ms" if target else "",
            )
        other = replace(report, page=replace(report.page, width=612.0, height=792.0))
        show(
            f"{count:,} pages: other paper",
            f"{1000 * seconds(lambda o=other, p=pages, t=typefaces: paginate(o, t, p)):.0f} ms",
            "at most 500 ms" if target else "",
        )

        def drawn(pages: Pages = pages, typefaces: Typefaces = typefaces, count: int = count) -> None:
            drawing = Drawing(pages, typefaces)
            for number in range(count // 2 + 1, min(count // 2 + 9, count + 1)):
                for _ in drawing.page(number):
                    pass

        show(
            f"{count:,} pages: eight of them drawn for the proof",
            f"{1000 * seconds(drawn):.0f} ms",
            "at most 1000 ms" if target else "",
        )
        whole = seconds(lambda r=report, p=pages, t=typefaces: pdf.write(Written(r, p, t, {})))
        show(f"{count:,} pages: PDF", f"{whole:.2f} s", "at most 3 s" if target else "")
    show("memory of the layout of 1,000 pages", f"{_memory(1000):.0f} MB", "at most 250 MB")


_MEASURE = """
import os, resource, django
django.setup()
from bench.pages import *
report, typefaces = report_in_parts({pages}), Typefaces()
rss = lambda: int(open("/proc/self/statm").read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6
before = rss()
pages = paginate(report, typefaces)
print(rss() - before)
"""


def _memory(pages: int) -> float:
    """Megabytes that a process of its own has more once a report is set on pages."""
    done = subprocess.run(
        [sys.executable, "-c", _MEASURE.format(pages=pages)], capture_output=True, text=True, check=True
    )
    return float(done.stdout)
