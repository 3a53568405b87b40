"""A data table: a grid of cells with paragraphs and pictures in them. Header rows repeat on every page.

A row is split only where no page holds it: between lines, in all its cells. A cell over several rows begins with its words
in the first; a page ends within it only where all of them stand above.
"""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from itertools import accumulate
from typing import Any, NamedTuple, get_args

from ..pages.as_set import as_set
from ..pages.beside import fitted_in
from ..pages.boxes import Box, measure
from ..pages.columns import HEADER, LINE, LINE_WIDTH, PADDING, column_edges, padding_of
from ..pages.draw import Belongs, Drawing, Mark, Rule, draw, draw_lines
from ..pages.fill import Placed
from ..pages.frames import draw_frame, draw_line, frame_of, is_close
from ..pages.lines import Lines, break_lines, set_style
from ..pages.tags import NOTHING, Path, Tag
from ..pages.typefaces import Typefaces
from ..report import elements
from ..report.blocks import Block, Cell, DataTable, Image, Paragraph, TableAlign, Vertical
from ..report.borders import borders_of
from ..report.elements import (
    Content,
    Element,
    Field,
    Kind,
    Shape,
    Words,
    add_kind,
    add_shape,
    element_of,
    read_block,
    whole,
)
from ..report.grids import MOST_HEIGHT, MOST_INDENT, MOST_PADDING, WIDEST, Slot, grid_of
from ..report.report import Report
from .picture import path_of, picture_at

SPACE = 10.0
"""Points above and below a data table."""
_SLACK = 1e-6
_LEAST_PICTURE = 1.0
"""Points that a picture is wide in a column with no room between its edges."""

MOST_CELLS = 63
"""Cells of a row: as many as a table of ISO/IEC 29500-1 may have columns (17.4.17, 17.18.13, from memory)."""

MOST_ROWS = 65534
"""Rows over which a cell may reach: as many as in the HTML standard ("rowspan", from memory)."""

_ROW, _CELL, _PARAGRAPH, _IMAGE = "dataRow", "dataCell", "paragraph", "image"


_WIDTH = elements.number(0, WIDEST)


def _read_widths(value: Any) -> tuple[float, ...] | None:
    found = [_WIDTH(one) for one in value] if isinstance(value, list | tuple) and len(value) <= MOST_CELLS else [None]
    return tuple(one for one in found if one is not None) if None not in found else None


def _read_padding(value: Any) -> tuple[float, ...] | None:
    found = [_SIDE(one) for one in value] if isinstance(value, list | tuple) and len(value) == 4 else [None]
    return tuple(one for one in found if one is not None) if None not in found else None


_SIDE = elements.number(0, MOST_PADDING)
_LOOK: Mapping[str, elements.Read] = {
    "background": elements.background,
    "borders": elements.borders,
    "vertical": elements.one_of(*get_args(Vertical)),
    "padding": _read_padding,
    "height": elements.number(0, MOST_HEIGHT),
}
"""How a cell looks, each as it is read."""
_SPANS = {"colspan": whole(1, MOST_CELLS), "rowspan": whole(1, MOST_ROWS)}
_WIDTHS = "colwidth"
"""As the editor's library calls it; these are points."""


def _inside(element: Element | Words, *tags: str) -> Iterator[tuple[int, Element]]:
    """The children with one of these tags, and where each stands among all children."""
    for index, child in enumerate(element.children if isinstance(element, Element) else ()):
        if isinstance(child, Element) and child.tag in tags:
            yield index, child


def _read_rows(children: Sequence[Element | Words], id: str) -> tuple[tuple[Cell, ...], ...] | None:
    return tuple(_read_row(row, f"{id}-{index}") for index, row in _inside(Element("", {}, children), _ROW)) or None


def _read_row(row: Element, name: str) -> tuple[Cell, ...]:
    cells = []
    for column, cell in _inside(row, _CELL):
        inside = [read_block(one, f"{name}-{column}-{index}") for index, one in _inside(cell, _PARAGRAPH, _IMAGE)]
        blocks = tuple(one for one in inside if isinstance(one, Paragraph | Image))
        columns, rows = (read(cell.attributes.get(span)) or 1 for span, read in _SPANS.items())
        widths = _read_widths(cell.attributes.get(_WIDTHS)) or ()
        look = {one: read(cell.attributes.get(one)) for one, read in _LOOK.items() if one in cell.attributes}
        cells.append(Cell(blocks or (Paragraph(f"{name}-{column}"),), columns, rows, widths, **look))
    # Of two people each may have taken out some of its cells.
    return tuple(cells) or (Cell((Paragraph(f"{name}-0"),)),)


def _write_rows(rows: Iterable[tuple[Cell, ...]]) -> Iterator[Element]:
    for row in map(_with_room, rows):
        yield Element(_ROW, {}, tuple(_write_cell(cell) for cell in row))


def _with_room(row: tuple[Cell, ...]) -> tuple[Cell, ...]:
    """A row as it can be kept: what stands in cells for which there is no room stands in the last one as well."""
    if len(row) <= MOST_CELLS:
        return row
    last = tuple(block for cell in row[MOST_CELLS - 1 :] for block in cell.blocks)
    return (*row[: MOST_CELLS - 1], Cell(last))


def _write_cell(cell: Cell) -> Element:
    spans = {"colspan": cell.columns, "rowspan": cell.rows}
    attributes: dict[str, Any] = {name: span for name, span in spans.items() if span != 1}
    if cell.widths:
        attributes[_WIDTHS] = [*cell.widths]
    look = {name: read(getattr(cell, name)) for name, read in _LOOK.items()}
    attributes |= {
        name: [*said] if isinstance(said, tuple) else said for name, said in look.items() if said is not None
    }
    return Element(_CELL, attributes, tuple(map(element_of, cell.blocks)))


def _blocks(rows: Iterable[tuple[Cell, ...]]) -> Iterator[Block]:
    return (block for row in rows for cell in row for block in cell.blocks)


_LEAST_PARAGRAPH = Element(_PARAGRAPH, {"style": "cell"})
_LEAST_CELL = Element(_CELL, {}, (_LEAST_PARAGRAPH,))
_LEAST_ROW = Element(_ROW, {}, (_LEAST_CELL,))

add_kind(
    Kind(
        DataTable,
        "dataTable",
        (
            Field("header_rows", "headerRows", whole(0, 100), 0),
            Field("align", "align", elements.one_of(*get_args(TableAlign))),
            Field("indent", "indent", elements.number(-MOST_INDENT, MOST_INDENT)),
        ),
        Content("rows", _read_rows, _write_rows, (_ROW,), blocks=_blocks, least=_LEAST_ROW),
    )
)
add_shape(_ROW, Shape(holds=frozenset({_CELL}), most=MOST_CELLS, least=_LEAST_CELL))
add_shape(
    _CELL, Shape({**_SPANS, _WIDTHS: _read_widths, **_LOOK}, frozenset({_PARAGRAPH, _IMAGE}), least=_LEAST_PARAGRAPH)
)


class _Piece(NamedTuple):
    """A paragraph or picture in a cell, as it is set: the heights of its lines, and the space behind it, in points.

    ``lines``: those of a paragraph; ``width``: that of a picture, which is as one line; ``above``: the room for a frame above.
    """

    block: Paragraph | Image
    heights: Sequence[float]
    after: float
    lines: Lines | None = None
    width: float = 0.0
    above: float = 0.0


_Cell = Sequence[_Piece]


def _cell_set(cell: Cell, width: float, highest: float, report: Report, typefaces: Typefaces) -> list[_Piece]:
    """What stands in a cell whose padded width is ``width`` points, pictures at most ``highest`` points high."""
    _, right, _, left = padding_of(cell)
    inner = width - left - right
    pieces: list[_Piece] = []
    for at, block in enumerate(cell.blocks):
        if isinstance(block, Image):
            wide, high = fitted_in(block, max(inner, _LEAST_PICTURE), highest)
            pieces.append(_Piece(block, (high,), 0.0 if block is cell.blocks[-1] else PADDING, width=wide))
        else:
            paragraph = as_set(block, report)
            style = set_style(block, report).style
            lines = break_lines(paragraph, style, inner, typefaces, report.page.language)
            frame, after = frame_of(block, style), style.space_after
            following = cell.blocks[at + 1] if at + 1 < len(cell.blocks) else None
            if is_close(block, style) and isinstance(following, Paragraph) and following.style == block.style:
                after = 0.0
            above, below = (frame.room("top"), frame.room("bottom")) if frame else (0.0, 0.0)
            pieces.append(_Piece(paragraph, lines.heights, below + after, lines, above=above))
    return pieces


class Slice(NamedTuple):
    """A row, or as much of one as a page holds that is taller.

    ``cells``: for each cell that begins in the row what stands here, with the lines of it that do; of one over several rows
    all, in the first.
    """

    row: int
    height: float
    cells: tuple[tuple[tuple[_Piece, range], ...], ...]


def _height(inside: Iterable[tuple[_Piece, range]]) -> float:
    """Of some lines in a cell, with the space behind those that end their paragraphs."""
    return sum(
        sum(piece.heights[among.start : among.stop])
        + (0.0 if among.start else piece.above)
        + (piece.after if among.stop == len(piece.heights) else 0.0)
        for piece, among in inside
    )


def _whole(cell: _Cell) -> tuple[tuple[_Piece, range], ...]:
    return tuple((piece, range(len(piece.heights))) for piece in cell)


def _slices(row: int, cells: Sequence[_Cell], room: float, height: float, limit: float) -> Iterator[Slice]:
    """A row as one slice; or as several where it is taller than ``limit``, each but the last as high as that. ``room``: what is free
    above and below in its cells together."""
    if height <= limit:
        yield Slice(row, height, tuple(map(_whole, cells)))
        return
    parted = [list(_parted(cell, limit - room)) for cell in cells]
    count = max(map(len, parted))
    for place in range(count):
        inside = tuple(tuple(parts[place]) if place < len(parts) else () for parts in parted)
        last = max(_height(cell) for cell in inside) + room
        yield Slice(row, min(last, limit) if place + 1 == count else limit, inside)


def _parted(cell: _Cell, room: float) -> Iterator[list[tuple[_Piece, range]]]:
    """The lines of a cell, as many at a time as ``room`` points hold."""
    part: list[tuple[_Piece, range]] = []
    y = 0.0
    for piece in cell:
        first = 0
        y += piece.above
        for number, height in enumerate(piece.heights):
            if y + height > room and y > 0:
                if number > first:
                    part.append((piece, range(first, number)))
                yield part
                part, y, first = [], 0.0, number
            y += height
        part.append((piece, range(first, len(piece.heights))))
        y += piece.after
    yield part


def _room(cell: Cell) -> float:
    """What is free in a cell above and below what stands in it, in points."""
    above, _, below, _ = padding_of(cell)
    return above + below


class _Set(NamedTuple):
    """A data table as it is set: its cells, the edges of its columns, the cells over several rows, and what it is printed as.

    ``repeated``: how many of the first slices are printed again on each further page; ``holding``: the slices with which no
    page ends, since words of a cell over several rows go on beneath.
    """

    grid: list[list[Slot]]
    edges: list[float]
    spanning: list[Slot]
    slices: list[Slice]
    repeated: int
    holding: frozenset[int]


def _set(block: DataTable, report: Report, typefaces: Typefaces) -> _Set:
    grid = grid_of(block.rows)
    edges = column_edges(block, grid, report, typefaces)
    limit = report.page.text_height
    rooms = [max((_room(one.cell) for one in slots), default=2 * PADDING) for slots in grid]
    highest = (limit / 2 if block.header_rows else limit) - max(rooms, default=0.0)
    cells = [
        [
            _cell_set(one.cell, edges[one.column + one.columns] - edges[one.column], highest, report, typefaces)
            for one in slots
        ]
        for slots in grid
    ]
    needed = [
        [
            max(_height(_whole(cell)) + _room(slot.cell), (slot.cell.height or 0.0) if slot.rows == 1 else 0.0)
            for slot, cell in zip(slots, row, strict=True)
        ]
        for slots, row in zip(grid, cells, strict=True)
    ]
    heights, held = _row_heights(grid, needed, limit / 2)  # there is room for them beneath any header
    found: list[Slice] = []
    repeated, above = 0, 0.0
    for number, row in enumerate(cells):
        if (
            number == block.header_rows
            and number == len(found)
            and number - 1 not in held
            and (height := sum(one.height for one in found)) < limit / 2
        ):
            repeated, above = number, height
        found.extend(_slices(number, row, rooms[number], heights[number], limit - above))
    if block.header_rows >= len(block.rows) == len(found) and sum(one.height for one in found) < limit / 2:
        repeated = len(found)
    last = {one.row: index for index, one in enumerate(found)}
    spanning = [slot for slots in grid for slot in slots if slot.rows > 1]
    return _Set(grid, edges, spanning, found, repeated, frozenset(last[row] for row in held))


def _row_heights(
    grid: Sequence[Sequence[Slot]], needed: Sequence[Sequence[float]], limit: float
) -> tuple[list[float], set[int]]:
    """Heights of a grid's rows in points, and the rows with which no page ends.

    ``needed``: how high each cell is by itself. What a cell over several rows needs beyond their own heights is added to the
    last of them. Where rows that stay together are higher than ``limit``, the cells that hold them count to their first row with
    all their height, which may then be split as any other.
    """
    single = [
        max((height for slot, height in zip(slots, own, strict=True) if slot.rows == 1), default=0.0)
        for slots, own in zip(grid, needed, strict=True)
    ]
    spanning = [
        (slot, height)
        for slots, own in zip(grid, needed, strict=True)
        for slot, height in zip(slots, own, strict=True)
        if slot.rows > 1
    ]
    if not spanning:
        return single, set()
    alone: set[tuple[int, int]] = set()
    for attempt in range(3):
        heights = list(single)
        ending: dict[int, list[tuple[Slot, float]]] = defaultdict(list)
        for slot, height in spanning:
            if (slot.row, slot.column) in alone:
                heights[slot.row] = max(heights[slot.row], height)
            else:
                ending[slot.end - 1].append((slot, height))
        tops = [0.0]
        for row in range(len(heights)):
            for slot, height in ending[row]:
                heights[row] = max(heights[row], height - (tops[row] - tops[slot.row]))
            tops.append(tops[row] + heights[row])
        together = [(slot, height) for slots in ending.values() for slot, height in slots]
        held = {row for slot, height in together for row in range(slot.row, _last_row_of_words(slot, height, tops))}
        high = [rows for rows in _stretches(held) if tops[rows.stop] - tops[rows.start] > limit]
        if not high:
            break
        alone.update(
            (slot.row, slot.column)
            for slot, _ in together
            if attempt or any(slot.row < rows.stop and slot.end > rows.start for rows in high)
        )
    return heights, held


def _last_row_of_words(slot: Slot, height: float, tops: Sequence[float]) -> int:
    """The row in which the words of a cell end that needs ``height`` points, among those over which it reaches."""
    return min(max(bisect_left(tops, tops[slot.row] + height - _SLACK) - 1, slot.row), slot.end - 1)


def _stretches(held: Collection[int]) -> Iterator[range]:
    """The stretches of rows that stay together."""
    for row in sorted(held):
        if row - 1 not in held:
            end = row + 1
            while end in held:
                end += 1
            yield range(row, end + 1)


@measure.register
def _(block: DataTable, report: Report, typefaces: Typefaces) -> Box:
    made = _set(block, report, typefaces)
    heights = tuple(one.height for one in made.slices)
    starts = tuple(one.row for one in made.slices) if len(made.slices) > len(block.rows) else ()
    return Box(heights, starts, sum(heights), SPACE, SPACE, repeated=made.repeated, holding=made.holding)


@draw.register
def _(block: DataTable, placed: Placed, on: Drawing) -> Iterator[Mark]:
    made = on.once(f"set {block.id}", lambda: _set(block, on.report, on.typefaces))
    shown, y = made.slices[placed.first : placed.end], placed.y
    if placed.first:
        repeated = made.slices[: made.repeated]
        yield from _drawn(block, made, repeated, y - sum(one.height for one in repeated), on, again=True)
    yield from _drawn(block, made, shown, y, on)


def _cell(block: DataTable, slot: Slot) -> Path:
    """Where what is in a cell stands (ISO 32000-1, 14.8.4.3.4)."""
    heads = slot.row < block.header_rows
    says: list[tuple[str, str | int]] = [("Scope", "Column")] if heads else []
    says += [(name, count) for name, count in (("ColSpan", slot.columns), ("RowSpan", slot.rows)) if count > 1]
    return (Tag("Table", block.id), Tag("TR", slot.row), Tag("TH" if heads else "TD", slot.column, tuple(says)))


def _drawn(
    block: DataTable, made: _Set, shown: Sequence[Slice], y: float, on: Drawing, again: bool = False
) -> Iterator[Mark]:
    """Slices that follow each other on a page, the first with its top at ``y`` points. ``again``: rows that are repeated."""
    bottoms = {one.row: bottom for one, bottom in zip(shown, accumulate(one.height for one in shown), strict=True)}

    def area(slot: Slot, top: float) -> _Area:
        left, right = made.edges[slot.column], made.edges[slot.column + slot.columns]
        bottom = y + bottoms[min(slot.end - 1, shown[-1].row)]
        return _Area(slot, left, top, right - left, bottom - top)

    tops = [*accumulate((one.height for one in shown), initial=y)]
    going_on = [slot for slot in made.spanning if shown and slot.row < shown[0].row < slot.end]
    areas = [area(slot, y) for slot in going_on]
    areas += [area(slot, top) for one, top in zip(shown, tops, strict=False) for slot in made.grid[one.row]]
    # Colours first: they would cover half of the lines around neighbours.
    yield Belongs(NOTHING)
    for place in areas:
        yield from _background(place, place.slot.row < block.header_rows)
    for one, top in zip(shown, tops, strict=False):
        for slot, inside in zip(made.grid[one.row], one.cells, strict=True):
            place = area(slot, top)
            cell = NOTHING if again else _cell(block, slot)
            yield Belongs(cell)
            paths = {} if again else on.paths_within([piece.block for piece, _ in inside], cell)
            above, right, below, left = padding_of(slot.cell)
            width, left, inner = place.width - left - right, place.x + left, top + above
            inner += _SHIFT.get(slot.cell.vertical or "top", 0.0) * max(
                0.0, place.height - above - below - _height(inside)
            )
            for piece, among in inside:
                if isinstance(piece.block, Image):
                    yield Belongs(NOTHING if again else path_of(piece.block, cell))
                    yield picture_at(piece.block, left, inner, width, piece.width, piece.heights[0])
                elif piece.lines:
                    style, hang = set_style(piece.block, on.report)
                    inner += 0.0 if among.start else piece.above
                    if frame := frame_of(piece.block, style):
                        high = sum(piece.heights[among.start : among.stop])
                        ends = among.stop == len(piece.heights)
                        yield from draw_frame(frame, left, inner, width, high, not among.start, ends)
                    path = paths.get(piece.block.id, NOTHING)
                    yield from draw_lines(
                        piece.block,
                        style,
                        piece.lines,
                        among,
                        left,
                        inner,
                        width,
                        on,
                        hang,
                        path,
                        on.report.page.language,
                    )
                inner += sum(piece.heights[among.start : among.stop]) + piece.after
    yield Belongs(NOTHING)
    for place in areas:
        for border in borders_of(place.slot.cell.borders or "none"):
            yield from draw_line(border, *place[1:], centred=True)


class _Area(NamedTuple):
    """Where a cell stands on a page, or as much of it as does there."""

    slot: Slot
    x: float
    y: float
    width: float
    height: float


_SHIFT = {"middle": 0.5, "bottom": 1.0}


def _background(area: _Area, heads: bool) -> Iterator[Mark]:
    """What is behind a cell, and the usual line around it, if it says no other."""
    slot, x, y, width, height = area
    fill = slot.cell.background or (HEADER if heads else "none")
    if slot.cell.borders is None:
        yield Rule(x, y, width, height, LINE_WIDTH, LINE, None if fill == "none" else fill)
    elif fill != "none":
        yield Rule(x, y, width, height, 0.0, fill, fill)
