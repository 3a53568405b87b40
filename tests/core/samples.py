"""Small reports for the tests, and strategies that make many."""

from __future__ import annotations

from hypothesis import strategies as st

from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block, Cell, DataTable, Image, PageBreak, Paragraph, PartStart, Run
from mellowspine.core.report.report import Report

TYPEFACES = Typefaces()
SENTENCE = "The gate was closed at dusk and the water in the pool stood still until the morning. "


def text(id: str, sentences: int = 1, style: str = "body") -> Paragraph:
    return Paragraph(id, style, (Run(SENTENCE * sentences),))


def heading(id: str, level: int = 1, words: str | None = None) -> Paragraph:
    return Paragraph(id, f"heading-{level}", (Run(words or f"Heading {id}"),))


def grid(id: str, rows: int, header: int = 1) -> DataTable:
    def row(number: int) -> tuple[Cell, ...]:
        return tuple(Cell((Paragraph(f"{id}-{number}-{c}", "cell", (Run(f"{number}/{c}"),)),)) for c in range(3))

    return DataTable(id, tuple(row(number) for number in range(rows)), header)


def paged(*blocks: Block) -> Pages:
    return paginate(Report("Sample", blocks), TYPEFACES)


_KINDS = st.one_of(
    st.tuples(st.just("text"), st.integers(0, 40)),
    st.tuples(st.just("heading"), st.integers(1, 4)),
    st.tuples(st.just("image"), st.integers(50, 400)),
    st.tuples(st.just("beside"), st.integers(10, 400)),
    st.tuples(st.just("grid"), st.integers(1, 30)),
    st.tuples(st.just("break"), st.just(0)),
    st.tuples(st.just("part"), st.just(0)),
)


def _block(number: int, kind: str, size: int) -> Block:
    id = f"x{number}"
    match kind:
        case "text":
            return text(id, size)
        case "heading":
            return heading(id, size)
        case "image":
            return Image(id, "", 300, size)
        case "beside":
            return Image(id, "", 60 + size, size, align="right" if size % 2 else "left", beside=True)
        case "grid":
            return grid(id, size)
        case "part":
            return PartStart(id)
        case _:
            return PageBreak(id)


blocks = st.lists(_KINDS, max_size=40).map(lambda kinds: tuple(_block(n, *kind) for n, kind in enumerate(kinds)))
"""Any sequence of blocks."""
