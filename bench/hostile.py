"""Texts that are as bad as texts can be, half as long and whole: what grows faster than they do shows as more than 2×."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from bench.figures import seconds, show
from mellowspine.core.checkup.findings import check, state_of
from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block, Cell, DataTable, Marks, Paragraph, Run
from mellowspine.core.report.elements import MARKS, SHAPES
from mellowspine.core.report.report import Report
from mellowspine.core.structure.by_hand import find_by_hand
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline
from mellowspine.server.rooms.document import read_block, text_of, updates_of
from mellowspine.server.rooms.gate import Gate
from tests.server.updates import document_of


def _one(text: str) -> tuple[Block, ...]:
    return (Paragraph("p", runs=(Run(text),)),)


def _grid(count: int) -> tuple[Block, ...]:
    return (DataTable("t", tuple(tuple(Cell((Paragraph(f"c{row}-{n}", "cell", (Run("1/2"),)),)) for n in range(60)) for row in range(count))),)  # fmt: skip


TEXTS: Mapping[str, tuple[int, Callable[[int], Sequence[Block]]]] = {
    "combining marks on one letter": (100_000, lambda n: _one("a" + "\u0301" * n)),
    "Chinese without a space": (100_000, lambda n: _one("漢字仮名交じり文。" * (n // 9))),
    "Thai": (100_000, lambda n: _one("ภาษาไทย" * (n // 7))),
    "tabs": (100_000, lambda n: _one("\t" * n)),
    "a-b/c": (100_000, lambda n: _one("a-b/c" * (n // 5))),
    "one word": (1_000_000, lambda n: _one("x" * n)),
    "zero width spaces": (100_000, lambda n: _one("\u200b" * n)),
    "runs that differ": (
        40_000,
        lambda n: (Paragraph("p", runs=tuple(Run("ab ", Marks(bold=bool(k % 2))) for k in range(n))),),
    ),
    "line breaks": (
        40_000,
        lambda n: (Paragraph("p", runs=tuple(Run("\n" if k % 2 else "a", Marks(size=9.0 + k % 3)) for k in range(n))),),
    ),
    "line feeds": (100_000, lambda n: _one("\n" * n)),
    "typed numbers": (40_000, lambda n: tuple(Paragraph(f"p{k}", runs=(Run(f"{k}.{k}.{k} x"),)) for k in range(n))),
    "digits and dots": (200_000, lambda n: _one("1." * (n // 2))),
    "brackets": (200_000, lambda n: _one("(" * n)),
    "headings": (20_000, lambda n: tuple(Paragraph(f"p{k}", "heading-1", (Run("x"),)) for k in range(n))),
    "rows of sixty cells": (400, _grid),
}


def _steps(blocks: Sequence[Block]) -> Mapping[str, Callable[[], object]]:
    report = Report("Hostile", tuple(blocks))
    document = document_of(blocks)
    update = document.get_update()
    gate = Gate(frozenset(SHAPES), frozenset(MARKS))

    return {
        "made": lambda: updates_of(blocks),
        "gate": lambda: gate.let_through(update),
        "read": lambda: [read_block(one, index) for index, one in enumerate(text_of(document).children)],
        "structure": lambda: (outline(report), list_markers(report), find_by_hand(report)),
        "pages": lambda: paginate(report, Typefaces()),
        "check-up": lambda: check(state_of(report, Typefaces())),
        "PDF": lambda: _written(report, ".pdf"),
        "Markdown": lambda: _written(report, ".md"),
        "text": lambda: _written(report, ".txt"),
    }


def _written(report: Report, ending: str) -> bytes:
    pages = paginate(report, Typefaces())
    return WRITERS[ending].write(Written(report, pages, Typefaces(), {}, lambda done, total: None))


def run() -> None:
    for name, (count, make) in TEXTS.items():
        half, whole = _steps(make(count // 2)), _steps(make(count))
        for step in whole:
            short, long = seconds(half[step]), seconds(whole[step])
            if long > 0.2:
                show(f"{name} ({count:,}): {step}", f"{1000 * long:.0f} ms", f"{long / short:.1f}× of half")
