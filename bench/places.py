"""A thousand figures, three thousand references and five hundred bookmarks: what an edit takes that moves all of them."""

from __future__ import annotations

import gc
from dataclasses import replace
from random import Random
from statistics import median
from time import perf_counter

from bench.figures import p95, show
from demo.manual import manual
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Bookmark,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    Reference,
    Run,
    Shows,
)
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report
from mellowspine.core.structure.outline import outline

PAGES, FIGURES, REFERENCES, BOOKMARKS = 1000, 1000, 3000, 500
SEED = 11
_SHOWS: tuple[Shows, ...] = ("label", "page", "number")


def sample() -> Report:
    """The manual with figures, references to them and to bookmarks, spread over it at random."""
    report = manual(PAGES)
    chance = Random(SEED)
    texts = [
        at for at, one in enumerate(report.blocks) if isinstance(one, Paragraph) and one.style == "body" and one.text
    ]
    figures = {texts[len(texts) * n // FIGURES]: f"figure-{n}" for n in range(FIGURES)}
    marked = dict(zip(chance.sample(texts, BOOKMARKS), (f"mark-{n}" for n in range(BOOKMARKS)), strict=True))
    places = [*figures.values(), *marked.values()]
    leads: dict[int, list[Run]] = {}
    for n in range(REFERENCES):
        reference = Reference(chance.choice(places), _SHOWS[n % 3])
        leads.setdefault(chance.choice(texts), []).append(Run(INLINE_OBJECT, Marks(reference=reference)))
    blocks: list[Block] = []
    for at, block in enumerate(report.blocks):
        if isinstance(block, Paragraph) and (at in leads or at in marked):
            words = block.text
            named = Marks(bookmark=Bookmark(marked[at], f"Place {marked[at]}")) if at in marked else Marks()
            runs = [Run(words[:20], named), Run(words[20:])]
            for lead in leads.get(at, ()):
                runs += [Run(" See "), lead]
            block = replace(block, runs=tuple(run for run in runs if run.text))
        blocks.append(block)
        if at in figures:
            id = figures[at]
            blocks += [
                Image(f"image-{id}", "", 60, 20),
                Paragraph(id, "caption", (Run("A drawing"),), caption="figure"),
            ]
    return replace(report, blocks=tuple(blocks), numbering=SCHEMES["decimal"])


def run() -> None:
    print("\nPlaces")
    typefaces = Typefaces()
    report = sample()
    start = perf_counter()
    pages = paginate(report, typefaces)
    cold = perf_counter() - start
    gc.freeze()  # as rooms do
    _, moving = _edits(report, pages, typefaces, moving=True)
    _, typing = _edits(report, pages, typefaces, moving=False)
    start = perf_counter()
    found = len(pages.places)
    listed = perf_counter() - start
    gc.unfreeze()
    what = f"{len(pages)} pages, {FIGURES} figures, {REFERENCES} references, {BOOKMARKS} bookmarks"
    show(f"{what}: all pages from nothing", f"{cold * 1000:.0f} ms")
    show("an edit that moves all of them, until labels and pages are there, median / p95",
         f"{median(moving) * 1000:.1f} / {p95(moving) * 1000:.1f} ms")  # fmt: skip
    show("an edit within a line, median / p95", f"{median(typing) * 1000:.1f} / {p95(typing) * 1000:.1f} ms")
    show(f"the list of {found} places", f"{listed * 1000:.1f} ms")


def _edits(report: Report, pages: Pages, typefaces: Typefaces, moving: bool) -> tuple[Pages, list[float]]:
    """Times in seconds. One that moves all puts a figure and a page in front of everything, or takes them out again."""
    times = []
    more = (PageBreak("new-page"), Image("new-image", "", 60, 20),
            Paragraph("new-figure", "caption", (Run("One more"),), caption="figure"))  # fmt: skip
    for step in range(20):
        if moving:
            blocks = (*more, *report.blocks) if step % 2 == 0 else report.blocks[3:]
        else:
            at = 50 + step * 100
            block = report.blocks[at]
            new = replace(block, runs=(*block.runs, Run("x"))) if isinstance(block, Paragraph) else block
            blocks = (*report.blocks[:at], new, *report.blocks[at + 1 :])
        edited = replace(report, blocks=blocks)
        start = perf_counter()
        headings = outline(edited, (report, pages.headings))
        after = paginate(edited, typefaces, pages, headings)
        times.append(perf_counter() - start)
        report, pages = edited, after
    return pages, times
