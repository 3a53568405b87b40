"""Two thousand citations of four hundred authorities and five thousand index marks on a thousand pages."""

from __future__ import annotations

import gc
from dataclasses import replace
from random import Random
from statistics import median
from time import perf_counter

from bench.figures import p95, show
from demo.manual import manual
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.authorities import Authority
from mellowspine.core.report.blocks import (
    Block,
    Citation,
    Entry,
    Indexed,
    Marks,
    PageBreak,
    Paragraph,
    PlacedTable,
    Run,
)
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued
from mellowspine.core.structure.citations import find_words
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.kinds import build, sources_of, table_kind
from mellowspine.core.tables.settle import settle_all

PAGES, CITATIONS, AUTHORITIES, TERMS = 1000, 2000, 400, 5000
SEED = 12


def sample() -> Report:
    report = manual(PAGES)
    chance = Random(SEED)
    texts = [
        at for at, one in enumerate(report.blocks) if isinstance(one, Paragraph) and one.style == "body" and one.text
    ]
    runs: dict[int, list[Run]] = {}
    for n in range(CITATIONS):
        words = f"Act {1500 + n % AUTHORITIES}, s. 9"
        mark = Marks(citation=Citation(f"cite-{n}", f"a{n % AUTHORITIES}"))
        runs.setdefault(chance.choice(texts), []).append(Run(words, mark))
    for n in range(TERMS):
        term = (f"term {n % 900}", f"beneath {n % 7}")[: 1 + n % 2]
        mark = Marks(indexed=Indexed(f"term-{n}", (Entry(term),)))
        runs.setdefault(chance.choice(texts), []).append(Run("gate", mark))
    blocks = [*report.blocks]
    for at, more in runs.items():
        block = blocks[at]
        assert isinstance(block, Paragraph)
        parts = [part for run in more for part in (Run(" "), run)]
        blocks[at] = replace(block, runs=(*block.runs, *parts))
    blocks += [PlacedTable("t-a", "t-a", kind="authorities"), PlacedTable("t-i", "t-i", kind="index")]
    authorities = {f"a{n}": Authority(f"a{n}", "statutes", f"Act {1500 + n}, s. 9") for n in range(AUTHORITIES)}
    tables = {"t-a": Issued(table_kind("authorities").recipe), "t-i": Issued(table_kind("index").recipe)}
    return replace(report, blocks=tuple(blocks), authorities=authorities, tables=tables)


def _is_marked(block: Block) -> bool:
    return isinstance(block, Paragraph) and any(run.marks.citation or run.marks.indexed for run in block.runs)


def run() -> None:
    print("\nAuthorities and index")
    typefaces = Typefaces()
    start = perf_counter()
    report, pages = settle_all(sample(), typefaces)
    show(f"{len(pages)} pages, {CITATIONS} citations of {AUTHORITIES}, {TERMS} index marks: from nothing",
         f"{(perf_counter() - start) * 1000:.0f} ms")  # fmt: skip
    gc.freeze()  # as rooms do
    marked = [at for at, block in enumerate(report.blocks) if _is_marked(block)]
    plain = [at for at, block in enumerate(report.blocks) if isinstance(block, Paragraph) and not _is_marked(block)]
    for what, places in (
        ("moves all of them", None),
        ("is in a paragraph with marks", marked),
        ("is elsewhere", plain),
    ):
        times = []
        for step in range(20):
            if places is None:
                blocks = (PageBreak("new"), *report.blocks) if step % 2 == 0 else report.blocks[1:]
            else:
                at = places[len(places) * step // 20]
                block = report.blocks[at]
                assert isinstance(block, Paragraph)
                new = replace(block, runs=(Run("x"), *block.runs))
                blocks = (*report.blocks[:at], new, *report.blocks[at + 1 :])
            edited = replace(report, blocks=blocks)
            start = perf_counter()
            headings = outline(edited, (report, pages.headings))
            pages = paginate(edited, typefaces, pages, headings)
            sources = sources_of(headings, pages)
            for issued in report.tables.values():
                behind(issued.lines, build(issued.recipe, sources))
            times.append(perf_counter() - start)
            report = edited
        show(f"an edit that {what}, until both tables say how far they are behind, median / p95",
             f"{median(times) * 1000:.1f} / {p95(times) * 1000:.1f} ms", "at most 40 ms")  # fmt: skip
    gc.unfreeze()
    times = []
    for _ in range(10):
        start = perf_counter()
        found = len(find_words(report, "the tide gate", "the gate", ids=True))
        times.append(perf_counter() - start)
    show(f"finding all {found} places of one authority", f"{median(times) * 1000:.0f} ms", "at most 200 ms")
