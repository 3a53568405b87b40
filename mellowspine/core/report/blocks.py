"""The blocks that a report's text is made of.

A report's text is a flat sequence of blocks, in reading order. A heading is a paragraph whose style has an outline
level; there is no heading block. All lengths are in points (1/72 inch). Every block has an ``id`` that it keeps for
life: tables and links hang on ids, never on text or position.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple, Protocol, get_args

from .formulas import FORMULA, words_of_formula

Align = Literal["left", "center", "right", "justify"]
ALIGNMENTS: tuple[Align, ...] = get_args(Align)

TableAlign = Literal["left", "center", "right"]
Vertical = Literal["top", "middle", "bottom"]

Font = Literal["Caladea", "Carlito", "Liberation Serif", "Liberation Sans", "Liberation Mono"]
FONTS: tuple[Font, ...] = get_args(Font)
"""The typefaces that ship with the application."""

FONT_NAME = re.compile(r"""[^\x00-\x1f\x7f"'\\;{}<>]{1,60}""")
"""The name of a family, be it here or not: one that is not is shown in another (``pages/typefaces.py``)."""

SOURCE = re.compile(r"[0-9a-f]{32}\.(png|jpg|gif|webp)")


def is_source(name: str) -> bool:
    """Whether a name can be that of a stored picture. Anything else must not reach a path."""
    return SOURCE.fullmatch(name) is not None


LEAST_SIDE, MOST_SIDE = 1.0, 5000.0
"""Points that a side of a picture may have."""

MOST_CHARACTERS = 100_000
"""Characters of a paragraph: some thirty pages."""


def size_within_bounds(width: float, height: float) -> tuple[float, float]:
    """Width and height in points as a picture may have them: in proportion, as far as the shorter side allows that."""
    scale = min(1.0, MOST_SIDE / max(width, height, LEAST_SIDE))
    return max(LEAST_SIDE, width * scale), max(LEAST_SIDE, height * scale)


class Block(Protocol):
    """What every block has. Its kind is a frozen dataclass; a module of ``kinds/`` says all about it."""

    @property
    def id(self) -> str: ...


class Bookmark(NamedTuple):
    """A name for a stretch of words. ``id`` is what links and references lead to; the name is for people."""

    id: str
    name: str


class Citation(NamedTuple):
    """Words that cite an authority. ``id`` is that of this one place, ``of`` that of the authority (``authorities.py``)."""

    id: str
    of: str


class Entry(NamedTuple):
    """A term of the index, at most three deep; ``main`` for the place that says most about it."""

    terms: tuple[str, ...]
    main: bool = False


class Indexed(NamedTuple):
    """Words that the index leads to, under one term or several."""

    id: str
    entries: tuple[Entry, ...]


Shows = Literal["number", "label", "title", "page", "way", "note"]
"""What a reference shows of its place: its number, label and number, its words, its page, whether it is above or below; or the
raised sign of a note."""
SHOWS: tuple[Shows, ...] = get_args(Shows)


Capitals = Literal["none", "all", "small"]
"""Letters as they are typed; capitals for small letters; or these smaller than capitals that were typed."""

Script = Literal["super", "sub"]
"""Smaller letters, raised above the line of the others or lowered under it."""


NoteKind = Literal["foot", "end"]
NOTE_KINDS: tuple[NoteKind, ...] = get_args(NoteKind)


class Reference(NamedTuple):
    """Words that the core keeps true. ``said`` is what they were when it was made: all that is left if its place goes."""

    to: str
    shows: Shows = "label"
    said: str = ""


INLINE_OBJECT = "\ufffc"
"""The character that a reference is in the text of a paragraph (OBJECT REPLACEMENT CHARACTER)."""


@dataclass(frozen=True, slots=True)
class Marks:
    """Formatting of a run, on top of what the paragraph's style says. ``None`` means: as the style.

    ``underline`` and ``strike`` add to what the style says: a line under a paragraph, or through it, cannot be taken from
    single words.
    """

    bold: bool | None = None
    italic: bool | None = None
    underline: bool = False
    font: str | None = None
    size: float | None = None
    colour: str | None = None  # "#rrggbb"
    link: str | None = None  # http, https or mailto address; or "#" and the id of a place in this report
    bookmark: Bookmark | None = None
    citation: Citation | None = None
    indexed: Indexed | None = None
    reference: Reference | None = None
    """Of a run that is a reference: each of its characters is ``INLINE_OBJECT``, or once it is set, what the reference shows."""
    formula: str | None = None
    """Of a run that is a formula (``formulas.py``): each of its characters is ``FORMULA``."""
    strike: bool = False
    capitals: Capitals | None = None
    script: Script | None = None
    highlight: str | None = None
    """The colour behind the words: "#rrggbb"."""
    tabular: bool = False
    """Set with figures of one width: what the core writes into a line. Only as it is set, not in a text."""
    raised: bool = False
    """The sign of a note, set as ``script`` "super" is. Only as it is set, not in a text."""
    small: bool = False
    """Capitals that stand for small letters (``capitals`` "small"). Only as it is set, not in a text."""


PLAIN = Marks()


@dataclass(frozen=True, slots=True)
class Run:
    """A stretch of text with the same marks. A line break inside a paragraph is ``"\\n"``."""

    text: str
    marks: Marks = PLAIN

    @property
    def words(self) -> str:
        """Its text, with a formula as words."""
        return words_of_formula(self.marks.formula) * len(self.text) if self.marks.formula else self.text


@dataclass(frozen=True, slots=True)
class Paragraph:
    id: str
    style: str = "body"
    runs: tuple[Run, ...] = ()
    align: Align | None = None
    space_before: float | None = None
    space_after: float | None = None
    line_spacing: float | None = None
    indent: float | None = None
    first_line: float | None = None
    right_indent: float | None = None
    background: str | None = None
    """The colour behind it instead of that of its style: "#rrggbb" or "none"."""
    borders: str | None = None
    """Lines around it instead of those of its style (``borders.py``)."""
    contextual_spacing: bool | None = None
    """Whether there is no space next to a paragraph of the same style, whatever its style says."""
    tab_stops: str | None = None
    """Instead of those of its style (``tab_stops.py``)."""
    number: Literal["none", "appendix"] | None = None
    """As a heading: whether it is kept without a number, or the appendices begin with it. As a list item: "none" if it goes on
    with the item before, without a marker of its own."""
    number_from: int | None = None
    """As a heading or an item of a numbered list: the figure from which its level is counted on."""
    caption: str | None = None
    """As a caption: the id of its label (``report/labels.py``), under which it is counted."""
    listed: int | None = None
    """The level at which it stands in tables though its style is none of a heading; 0 for a heading kept out of them."""
    new_page: bool | None = None
    """Whether it begins a new page, or goes on on the page, whatever its style says."""
    keep_with_next: bool | None = None
    """Whether it stays with what follows, or may part from it, whatever its style says."""
    keep_together: bool | None = None
    """Whether its lines stay on one page, or may be parted, whatever its style says."""
    note: NoteKind | None = None
    """As a note: whether it stands at the foot of the page on which its reference is, or at an end (``structure/footnotes.py``)."""

    @property
    def text(self) -> str:
        runs = self.runs
        return runs[0].text if len(runs) == 1 else "".join(run.text for run in runs)

    @property
    def words(self) -> str:
        """Its text, with formulas as words: for where it is said and not set. Places in it are others than in the text."""
        text = self.text
        return "".join(run.words for run in self.runs) if FORMULA in text else text


@dataclass(frozen=True, slots=True)
class Image:
    """A picture on a line of its own. ``source`` names the stored picture; ``width`` and ``height`` are in points."""

    id: str
    source: str
    width: float
    height: float
    alt: str = ""
    align: Align = "center"
    beside: bool = False
    """Whether words stand beside it, where it is at the left or the right."""
    decorative: bool | None = None
    """Whether it says nothing that words would have to say to those who do not see it."""


@dataclass(frozen=True, slots=True)
class Cell:
    """A cell of a data table, in the row where it begins; it may reach over several columns and rows.

    ``widths``: of the columns over which it reaches, in points; 0 where not said, and none if nothing is said at all.
    ``padding``: points between its edges and what stands in it: above, at the right, below, at the left. ``height``: that of the row
    in which it begins at least, in points. What is not said of these, of its lines and of its background is as cells have it.
    """

    blocks: tuple[Paragraph | Image, ...]
    columns: int = 1
    rows: int = 1
    widths: tuple[float, ...] = ()
    background: str | None = None
    """The colour behind it: "#rrggbb" or "none"."""
    borders: str | None = None
    """Lines around it (``borders.py``)."""
    vertical: Vertical | None = None
    """Where in it stands what is less high."""
    padding: tuple[float, ...] | None = None
    height: float | None = None

    @property
    def paragraphs(self) -> tuple[Paragraph, ...]:
        first = self.blocks[0] if len(self.blocks) == 1 else None
        if type(first) is Paragraph:  # as in most cells
            return (first,)
        return tuple([block for block in self.blocks if type(block) is Paragraph])

    @property
    def images(self) -> tuple[Image, ...]:
        return tuple(block for block in self.blocks if type(block) is Image)


@dataclass(frozen=True, slots=True)
class DataTable:
    """A grid of data. The first ``header_rows`` rows are repeated on every page that the grid reaches."""

    id: str
    rows: tuple[tuple[Cell, ...], ...]
    header_rows: int = 0
    align: TableAlign | None = None
    """Where it stands if it is narrower than the column; at the left, if it does not say so."""
    indent: float | None = None
    """Points by which it stands further to the right, at the left; less than 0 for further to the left."""


@dataclass(frozen=True, slots=True)
class PageBreak:
    id: str


@dataclass(frozen=True, slots=True)
class ThematicBreak:
    """A line across the column, between what is about one thing and what is about another."""

    id: str


@dataclass(frozen=True, slots=True)
class PartStart:
    """Where a part of the report begins, on a new page. Its settings are kept by ``id`` (``Report.parts``)."""

    id: str


@dataclass(frozen=True, slots=True)
class PlacedTable:
    """The place in the text where the table ``table`` is printed, on pages of its own if ``own_page``.

    ``kind`` is that of the recipe which the table begins with.
    """

    id: str
    table: str
    own_page: bool = False
    kind: str = "contents"


def with_paragraphs(
    blocks: Iterable[Block], to: Callable[[Paragraph], Paragraph], image: Callable[[Image], Image] = lambda image: image
) -> Iterator[Block]:
    """Blocks with every paragraph as ``to`` makes it, and every picture as ``image`` does, those in data tables included."""

    def inside(cell: Cell) -> Cell:
        made = tuple(to(one) if isinstance(one, Paragraph) else image(one) for one in cell.blocks)
        same = all(one is before for one, before in zip(made, cell.blocks, strict=True))
        return cell if same else replace(cell, blocks=made)

    for block in blocks:
        if isinstance(block, Paragraph):
            yield to(block)
        elif isinstance(block, Image):
            yield image(block)
        elif isinstance(block, DataTable):
            yield replace(block, rows=tuple(tuple(map(inside, row)) for row in block.rows))
        else:
            yield block


def images(blocks: Iterable[Block]) -> Iterator[Image]:
    """The pictures among blocks, those in data tables included."""
    for block in blocks:
        if isinstance(block, Image):
            yield block
        elif isinstance(block, DataTable):
            yield from (image for row in block.rows for cell in row for image in cell.images)
