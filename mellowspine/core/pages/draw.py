"""What stands on a page, as a few marks that any format that has pages can make.

``x`` and ``y`` are in points from the left and top of the text area, ``y`` downwards.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import singledispatch
from typing import NamedTuple, TypeVar

from ..report.blocks import PLAIN, Block, DataTable, Paragraph
from ..report.links import safe_link
from ..report.report import Report
from ..report.styles import Style
from ..structure.markers import list_markers
from ..structure.outline import Heading, outline
from .fill import Placed
from .lines import Lines, Piece, pieces
from .pages import Pages
from .typefaces import Face, Typefaces

LINK = "#3f3190"
_FOOT = "#4a4350"
_FOOT_SIZE = 9.0

T = TypeVar("T")


class Words(NamedTuple):
    """Words in one face, size and colour. ``apart`` is what comes between two characters, in points."""

    x: float
    baseline: float
    text: str
    face: Face
    size: float
    colour: str
    apart: float = 0.0


class Rule(NamedTuple):
    """A rectangle with a line of ``weight`` points around it, and filled if ``fill`` is a colour; without height, a line."""

    x: float
    y: float
    width: float
    height: float
    weight: float
    colour: str
    fill: str | None = None


class Picture(NamedTuple):
    x: float
    y: float
    width: float
    height: float
    source: str


class Link(NamedTuple):
    """An area that leads to the place with the id ``to``, or to the web address ``to`` if it has no ``name``."""

    x: float
    y: float
    width: float
    height: float
    to: str
    name: str = ""


class Target(NamedTuple):
    """A place to which links lead. Headings are the outline as well."""

    y: float
    id: str
    heading: Heading | None = None


Mark = Words | Rule | Picture | Link | Target


@dataclass(frozen=True, slots=True)
class _Known:
    """What is the same for all pages."""

    markers: dict[str, str]
    headings: dict[tuple[int, int], list[Heading]]
    """By block and row."""
    places: frozenset[str]
    """What is there and may be linked to: headings, and blocks for which a line of a table stands."""


class Drawing:
    """A report and its pages, and what drawing any of them needs to know."""

    def __init__(self, report: Report, pages: Pages, typefaces: Typefaces) -> None:
        self.report, self.pages, self.typefaces = report, pages, typefaces
        headings = outline(report)
        by_row: dict[tuple[int, int], list[Heading]] = {}
        for heading in headings:
            by_row.setdefault((heading.block, heading.row), []).append(heading)
        markers = {**list_markers(report), **{h.id: h.number for h in headings if h.number}}
        listed = {line.source for issued in report.tables.values() for line in issued.lines}
        places = listed.intersection(block.id for block in report.blocks).union(heading.id for heading in headings)
        self._known = _Known(markers, by_row, frozenset(places))
        self._kept: dict[str, object] = {}

    def marker(self, id: str) -> str | None:
        """What hangs in front of a paragraph: its list marker or heading number."""
        return self._known.markers.get(id)

    def reaches(self, id: str) -> bool:
        """Whether there is a place with this id that a link can lead to."""
        return id in self._known.places

    def once(self, id: str, make: Callable[[], T]) -> T:
        """What ``make`` gives for a block, made once for all the pages on which the block stands."""
        if id not in self._kept:
            self._kept[id] = make()
        return self._kept[id]  # type: ignore[return-value]  # the same block always makes the same

    def page(self, number: int) -> Iterator[Mark]:
        """All that stands on a sheet, counted from 1."""
        headed: set[str] = set()
        for placed in self.pages.content(number):
            block = self.report.blocks[placed.box]
            for row in range(placed.first, placed.end) if isinstance(block, DataTable) else range(placed.first == 0):
                for heading in self._known.headings.get((placed.box, row), ()):
                    headed.add(heading.id)
                    yield Target(placed.y, heading.id, heading)
            if placed.first == 0 and self.reaches(block.id) and block.id not in headed:
                yield Target(placed.y, block.id)
            yield from draw(block, placed, self)
        yield self._foot(number)

    def _foot(self, number: int) -> Words:
        face = self.typefaces.face("Carlito")
        label, page = self.pages.label(number), self.report.page
        x = page.width / 2 - page.left - face.width(label) * _FOOT_SIZE / 2
        return Words(x, page.height - page.top - page.bottom / 2 + _FOOT_SIZE / 3, label, face, _FOOT_SIZE, _FOOT)


@singledispatch
def draw(block: Block, placed: Placed, on: Drawing) -> Iterator[Mark]:
    """What stands of a block where ``placed`` says. Every kind of block registers its own; without one nothing is seen."""
    return iter(())


def draw_lines(
    paragraph: Paragraph,
    style: Style,
    lines: Lines,
    numbers: Sequence[int],
    x: float,
    y: float,
    width: float,
    on: Drawing,
) -> Iterator[Mark]:
    """Some lines of a paragraph, the first of them with its top at ``y``, in a column of ``width`` points at ``x``."""
    for number in numbers:
        height = lines.heights[number]
        placed = pieces(paragraph, style, width, on.typefaces, lines, number)
        size = max((piece.size for piece in placed), default=style.size)
        face = placed[0].face if placed else on.typefaces.face(style.font, style.bold, style.italic)
        baseline = face.baseline(y, height, size)
        if number == 0:
            placed = _marked(paragraph, style, placed, on)
        for piece in placed:
            yield from _piece(piece, x, baseline, style.colour)
        y += height


def _marked(paragraph: Paragraph, style: Style, placed: list[Piece], on: Drawing) -> list[Piece]:
    """The first line with the paragraph's list marker or heading number set in front of it."""
    mark = on.marker(paragraph.id)
    if mark is None or not placed:
        return placed
    face = on.typefaces.face(style.font, style.bold, style.italic)
    x = placed[0].x + style.first_line
    return [Piece(x, face.width(mark) * style.size, mark, face, style.size, PLAIN), *placed]


def _piece(piece: Piece, left: float, baseline: float, colour: str) -> Iterator[Mark]:
    marks, x = piece.marks, left + piece.x
    link = safe_link(marks.link) if marks.link else None
    colour = LINK if link else marks.colour or colour
    yield Words(x, baseline, piece.text, piece.face, piece.size, colour)
    if marks.underline or link:
        yield Rule(x, baseline + piece.size * 0.12, piece.width, 0.0, piece.size / 18, colour)
    if link:
        yield Link(x, baseline - piece.size, piece.width, piece.size * 1.25, link)
