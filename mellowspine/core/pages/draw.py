"""What stands on a page, as a few marks that any format that has pages can make.

``x`` and ``y`` are in points from the left and top of the text area, ``y`` downwards.
"""

from __future__ import annotations

import logging
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property, lru_cache, partial, singledispatch
from itertools import chain
from typing import NamedTuple, TypeVar

from ..report.blocks import INLINE_OBJECT, PLAIN, Block, DataTable, Paragraph, Run
from ..report.formulas import words_of_formula
from ..report.links import inner, safe_link
from ..report.page import PageSetup
from ..report.styles import Style
from ..structure.markers import list_markers
from ..structure.noted import Place
from ..structure.outline import Heading
from ..structure.place_kinds import KINDS
from .as_set import offset_as_set
from .backs import ABOVE, back_height, back_style, contents_of
from .feet import ABOVE as FEET_ABOVE
from .fill import Placed
from .formulas import FormulaFace
from .lines import SCRIPT_BY, InFaces, Lines, Piece, beyond, break_lines, level_of, pieces, script_of
from .pages import Pages, report_on
from .parts import Stretch
from .running import current_sections, filled_in, running, running_style, said_day
from .tags import NOTHING, Path, Tag, label_of, paragraph_paths
from .typefaces import Face, Typefaces

log = logging.getLogger(__name__)

LINK = "#3f3190"
_APART = 12.0
"""Points between what stands beside each other at the head or foot."""
_LEAST_SIGN = 2.0
"""Points of a picture at a head or foot below which nothing would be seen of it."""
_RULE = 0.3
"""How long the line above notes is: of the width of the column (common practice, no source)."""
_ABOVE_BASELINE, _HIGHLIGHT = 0.95, 1.25
"""How far above the baseline the colour behind words begins, and its height: of their size."""
_STRIKE = 0.28
"""How far above the baseline a line through words runs: of their size."""
_NO_END = 1e6
"""A width in points in which no line ends."""

T = TypeVar("T")

_NAMED = {kind.name for kind in KINDS.values() if kind.has_name}
"""Kinds of place by whose names files lead to them."""


class Words(NamedTuple):
    """Words in one face, size and colour. ``step`` is from one character to the next, in points, where that is not as the
    face has it."""

    x: float
    baseline: float
    text: str
    face: Face
    size: float
    colour: str
    step: float = 0.0
    hyphen: bool = False
    """Whether a hyphen stands behind them that is none of the report's."""

    @property
    def width(self) -> float:
        """In points, without the hyphen."""
        return self.step * len(self.text) if self.step else self.face.width(self.text) * self.size


class Rule(NamedTuple):
    """A rectangle with a line of ``weight`` points around it, and filled if ``fill`` is a colour; without width or height, a line.

    ``dash``: how long its dashes are, and the gaps between them, in points; 0 for a line without gaps.
    """

    x: float
    y: float
    width: float
    height: float
    weight: float
    colour: str
    fill: str | None = None
    dash: float = 0.0


class Curves(NamedTuple):
    """A filled area: ``outline`` is a path (SVG 2, 9.3: M, L, H, V, h, v, Q, C and Z alone) in ``size`` points, from a place on the baseline.

    ``width``, ``above`` and ``below`` are in points: how far it reaches from there. ``says``: the same in words.
    """

    x: float
    baseline: float
    size: float
    outline: str
    colour: str
    width: float
    above: float
    below: float
    says: str


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
    """A place to which links lead. Headings are the outline as well; ``name`` is that of a bookmark."""

    y: float
    id: str
    heading: Heading | None = None
    name: str = ""


class Belongs(NamedTuple):
    """What the marks behind it belong to, up to the next: links as well, which are of the part called ``Link``."""

    path: Path


class _Sign(NamedTuple):
    """The picture among the words of a head or foot."""

    x: float
    width: float
    height: float


class Paper(NamedTuple):
    """A sheet in points, and how far from its left and top its text area begins."""

    width: float
    height: float
    left: float
    top: float


MANY_LINES = 200

Mark = Words | Rule | Curves | Picture | Link | Target | Belongs


@dataclass(frozen=True, slots=True)
class _Known:
    """What is the same for all pages."""

    markers: dict[str, str]
    headings: dict[tuple[int, int], list[Heading]]
    """By block and row."""
    inside: dict[int, list[Place]]
    """Bookmarks, captions in data tables, and citations and terms to which tables lead, by block."""
    paths: dict[str, Path]
    """Where the paragraphs of the text stand, by id; of those in cells ``paths_within`` tells."""
    levels: dict[str, int]
    """Of headings, by id."""
    referring: dict[str, str]
    """By note the block that refers to it first."""
    places: frozenset[str]
    """What is there and may be linked to: headings, and blocks for which a line of a table stands."""


class Drawing:
    """The pages of a report, and what drawing any of them needs to know."""

    def __init__(self, pages: Pages, typefaces: Typefaces, day: date | None = None) -> None:
        """``day``: the one on which it is drawn, where heads or feet say it."""
        self.report, self.pages, self.typefaces = pages.report, pages, typefaces
        report, headings = pages.report, pages.worded
        by_row: dict[tuple[int, int], list[Heading]] = {}
        for heading in headings:
            by_row.setdefault((heading.block, heading.row), []).append(heading)
        markers = {**list_markers(report), **{h.id: h.number for h in headings if h.number}}
        listed = {line.source for issued in report.tables.values() for line in issued.lines}
        places = listed.intersection(block.id for block in report.blocks).union(pages.places)
        places |= {place.id for place in pages.occurrences_led_to}
        if report.backs and (contents := contents_of(report)):
            places |= {contents.id}
        inside: dict[int, list[Place]] = {}
        for place in (*pages.places.values(), *pages.occurrences_led_to):
            if place.kind != "heading" and place.id != report.blocks[place.block].id:
                inside.setdefault(place.block, []).append(place)
        levels = {one.id: one.level for one in headings if one.by_hand != "put in"}
        paths = dict(paragraph_paths(report.blocks, report.styles, levels))
        referring = {note.id: report.blocks[note.at].id for note in pages.footnotes}
        places = places.union(referring.values())
        self._known = _Known(markers, by_row, inside, paths, levels, referring, frozenset(places))
        self._cache: dict[str, object] = {}
        self._others: dict[int, Drawing] = {}
        """As this, for the paper of parts, by the block with which they begin."""
        self._day = said_day(day, report.page.language) if day else ""

    def marker(self, id: str) -> str | None:
        """What hangs in front of a paragraph: its list marker or heading number."""
        return self._known.markers.get(id)

    def path(self, id: str) -> Path:
        """Where a paragraph of the text stands."""
        return self._known.paths.get(id, NOTHING)

    def paths_within(self, blocks: Sequence[Block], around: Path) -> dict[str, Path]:
        """Where paragraphs stand that are in something else; the words of one that is alone there are its words."""
        found = dict(paragraph_paths(blocks, self.report.styles, self._known.levels, around))
        alone = len(blocks) == len(found) == 1 and next(iter(found.values()))[-1].type == "P"
        return dict.fromkeys(found, around) if alone else found

    def reaches(self, id: str) -> bool:
        """Whether there is a place with this id that a link can lead to."""
        return id in self._known.places

    def referring(self, sign: Path) -> str | None:
        """Where the sign of a note leads back to: the block that refers to it first."""
        note = next((one.key for one in sign if one.type == "Note"), None)
        return self._known.referring.get(note) if isinstance(note, str) else None

    def once(self, id: str, make: Callable[[], T]) -> T:
        """What ``make`` gives for a block, made once for all the pages on which the block stands."""
        if id not in self._cache:
            self._cache[id] = make()
        return self._cache[id]  # type: ignore[return-value]  # the same block always makes the same

    def page(self, number: int) -> Iterator[Mark]:
        """All that stands on a sheet, counted from 1."""
        stretch = self.pages.stretch(number)
        on = self._on(stretch)
        step = stretch.page.column_width + stretch.page.column_gap
        begun = -1
        for placed in self.pages.content(number):
            marks = on._placed(placed)
            if placed.foot and placed.column > begun:
                begun = placed.column
                marks = chain(on._rule_above(placed), marks)
            yield from marks if not placed.column else _moved(marks, placed.column * step)
            yield Belongs(NOTHING)
        if self.pages.starts[number - 1].part < 0:
            return
        try:
            yield from self._running(number, stretch)
        except Exception:  # the page itself is everybody's
            log.exception("Head and foot of page %d could not be drawn", number)

    def _rule_above(self, note: Placed) -> Iterator[Mark]:
        """The line between the text of a column and its notes."""
        colour = self.report.styles.role("note").colour
        yield Rule(0.0, note.y - FEET_ABOVE / 2, self.report.page.column_width * _RULE, 0.0, 0.5, colour)

    def _on(self, stretch: Stretch) -> Drawing:
        """The same for the paper of a part."""
        if stretch.page is self.report.page:
            return self
        if stretch.first not in self._others:
            other = self._others[stretch.first] = copy(self)
            other.report = report_on(self.report, stretch)
        return self._others[stretch.first]

    def _placed(self, placed: Placed) -> Iterator[Mark]:
        """What stands of a block on its page."""
        block = self.report.blocks[placed.box]
        headed: set[str] = set()
        for row in self._rows(placed) if isinstance(block, DataTable) else range(placed.first == 0):
            for heading in self._known.headings.get((placed.box, row), ()):
                headed.add(heading.id)
                yield Target(placed.y, heading.id, heading)
        if placed.first == 0 and self.reaches(block.id) and block.id not in headed:
            yield Target(placed.y, block.id)
        for place in self._known.inside.get(placed.box, ()):
            if (y := self._height_of(place, placed)) is not None:
                yield Target(y, place.id, name=place.text if place.kind in _NAMED else "")
        yield from self._block(block, placed)

    def _height_of(self, place: Place, placed: Placed) -> float | None:
        """Where on its page a bookmark, or a caption in a data table, begins; None if that is not among what is placed."""
        box, block = self.pages.boxes[placed.box], self.report.blocks[placed.box]
        box = box.foot or box
        part = place.row
        if isinstance(block, Paragraph):
            part = bisect_right(box.starts, offset_as_set(block, self.report, place.offset)) - 1
        elif box.starts:
            part = bisect_left(box.starts, place.row)
        part = max(part, 0)
        return placed.y + sum(box.heights[placed.first : part]) if placed.first <= part < placed.end else None

    def _rows(self, placed: Placed) -> range:
        """The rows of a data table that begin among what is placed."""
        starts = self.pages.boxes[placed.box].starts
        if not starts:
            return range(placed.first, placed.end)
        first = starts[placed.first]
        return range(first + (placed.first > 0 and starts[placed.first - 1] == first), starts[placed.end - 1] + 1)

    def _block(self, block: Block, placed: Placed) -> Iterator[Mark]:
        """A block, and the way back beneath it if there is one."""
        if block.id not in self.report.backs:
            yield from self._drawn(block, placed)
            return
        box = self.pages.boxes[placed.box]
        own = len(box.heights) - 1
        if placed.first < own:
            yield from self._drawn(block, placed._replace(end=min(placed.end, own)))
        if placed.end > own:
            yield from self._back(block.id, placed.y + sum(box.heights[placed.first : own]))

    def _drawn(self, block: Block, placed: Placed) -> Iterator[Mark]:
        try:
            yield from draw(block, placed, self)
        except Exception:  # the rest of the page is everybody's
            log.exception("A block of kind %s, “%s”, could not be drawn", type(block).__name__, block.id)

    def _back(self, id: str, y: float) -> Iterator[Mark]:
        """The line beneath a block that leads back to the contents, with its space above it at ``y``."""
        style, words = back_style(self.report), self.report.page.back_says
        face = self.typefaces.face(style.font)
        height = back_height(self.report) - ABOVE
        baseline, width = face.baseline(y + ABOVE, height, style.size), face.width(words) * style.size
        contents = contents_of(self.report)
        paragraph = (Tag("P", f"back {id}"),)
        yield Belongs((*paragraph, Tag("Link")) if contents else paragraph)
        yield Words(0.0, baseline, words, face, style.size, LINK)
        yield Rule(0.0, baseline + style.size * 0.12, width, 0.0, style.size / 18, LINK)
        if contents:
            yield Link(0.0, y + ABOVE, width, height, contents.id, words)

    def paper(self, number: int) -> Paper:
        """That of a sheet, and where its text area lies."""
        page = self.pages.stretch(number).page
        left = page.right if page.mirrored and number % 2 == 0 else page.left
        return Paper(page.width, page.height, left, page.top)

    def _running(self, number: int, stretch: Stretch) -> Iterator[Mark]:
        """Head and foot of a sheet, each in the middle of its margin."""
        page, pages = stretch.page, self.pages
        # What the report says of first pages is meant of its own, and not of each part in it.
        own = stretch.first == 0 or "first_page" in stretch.part.page
        first = own and (number == 1 or pages.stretch(number - 1) is not stretch)
        edges = running(page, first, left=number % 2 == 0)
        style = running_style(self.report.styles)
        for edge, margin, middle, rule in (
            (edges.head, page.top, -page.top / 2, page.head_rule),
            (edges.foot, page.bottom, page.text_height + page.bottom / 2, page.foot_rule),
        ):
            sign = self._sign(page, margin)
            values = {**self._values(number, stretch), **({"picture": INLINE_OBJECT} if sign else {})}
            words = tuple(filled_in(one, values) for one in edge) if any(edge) else edge
            if not any(words):
                continue
            height = style.size * style.line_spacing
            small = _of_size(style, max(style.size * min(1.0, margin / height), 1.0))
            height = small.size * small.line_spacing
            if height > margin:
                continue  # in the text it would stand else
            yield Belongs(NOTHING)
            yield from self._edge(words, small, middle, page, sign)
            if rule:
                away = min(height / 2 + 3, margin / 2)
                yield Rule(
                    0.0, middle + (away if edge is edges.head else -away), page.text_width, 0.0, 0.5, small.colour
                )

    def _sign(self, page: PageSetup, margin: float) -> tuple[float, float] | None:
        """Width and height of the picture in a head or foot, if there is one and room for it."""
        height = min(page.picture_height, margin * 0.8, page.text_width / page.picture_ratio)
        return (height * page.picture_ratio, height) if page.picture and height >= _LEAST_SIGN else None

    def _edge(
        self, words: Sequence[str], style: Style, middle_y: float, page: PageSetup, sign: tuple[float, float] | None
    ) -> Iterator[Mark]:
        """Words at the left, in the middle and at the right, cut short where they would come upon each other."""
        y = middle_y - style.size * style.line_spacing / 2
        wholes = [
            self.once(f"running {style.size} {sign} {one}", partial(self._words, one, style, sign)) for one in words
        ]
        full = page.text_width
        rooms = _rooms([width for _, width in wholes], full)
        for whole, said, room, at in zip(wholes, words, rooms, (0.0, 0.5, 1.0), strict=True):
            placed, width = whole if whole[1] <= room + 1e-6 else self._shortened(said, style, room, sign)
            x = (full - width) * at
            face = self.typefaces.face(style.font, style.bold, style.italic)
            baseline = face.baseline(y, style.size * style.line_spacing, style.size)
            for piece in placed:
                if isinstance(piece, _Sign):
                    yield Picture(x + piece.x, middle_y - piece.height / 2, piece.width, piece.height, page.picture)
                    continue
                yield Words(x + piece.x, baseline, piece.text, piece.face, piece.size, style.colour)
            if style.underline and placed:
                yield Rule(x, baseline + style.size * 0.12, width, 0.0, style.size / 18, style.colour)

    def _words(self, words: str, style: Style, sign: tuple[float, float] | None) -> tuple[list[Piece | _Sign], float]:
        """Words in one line, in faces that have them, with the picture where it stands among them; and their width."""
        found: list[Piece | _Sign] = []
        reach = 0.0
        for index, part in enumerate(words.split(INLINE_OBJECT)):
            if index and sign:
                found.append(_Sign(reach, *sign))
                reach += sign[0]
            if not part:
                continue
            paragraph = Paragraph("", "", (Run(part),))
            lines = break_lines(paragraph, style, _NO_END, self.typefaces)
            (placed,) = pieces(InFaces(paragraph, style, _NO_END, self.typefaces), lines, [0])
            found += [piece._replace(x=reach + piece.x) for piece in placed]
            spaces = len(part) - len(part.rstrip(" ")) if placed else len(part)
            space = self.typefaces.face(style.font, style.bold, style.italic).width(" ") * style.size
            reach = max((piece.x + piece.width for piece in found), default=reach) + spaces * space
        return found, max((piece.x + piece.width for piece in found), default=0.0)

    def _shortened(
        self, words: str, style: Style, room: float, sign: tuple[float, float] | None
    ) -> tuple[list[Piece | _Sign], float]:
        """The beginning of words that has room, with a sign that more would follow."""
        most = bisect_left(
            range(len(words)), True, key=lambda end: self._words(f"{words[:end]}…", style, sign)[1] > room
        )
        return self._words(f"{words[: most - 1].rstrip()}…", style, sign) if most > 1 else ([], 0.0)

    def _values(self, number: int, stretch: Stretch) -> Mapping[str, str]:
        pages, report = self.pages, self.pages.report
        values = {
            **self._sections[number - 1],
            "page": pages.label(number),
            "pages": str(len(pages)),
            "last": pages.last_of(number),
            "title": report.title,
            "part": stretch.part.name,
            "date": self._day,
            "version": report.page.version,
        }
        # None of them is a picture.
        return {name: value.replace(INLINE_OBJECT, "") for name, value in values.items()}

    @cached_property
    def _sections(self) -> Sequence[Mapping[str, str]]:
        return current_sections(self.pages)


def _rooms(widths: Sequence[float], full: float) -> tuple[float, float, float]:
    """How wide what stands at the left, in the middle and at the right may be without coming upon each other."""
    left, middle, right = widths
    if middle:
        # It keeps its place; the others have what is left on its sides.
        if left or right:
            middle = min(middle, max(full - 2 * (max(left, right) + _APART), full / 3))
        side = (full - min(middle, full)) / 2 - _APART
        return side, min(middle, full), side
    if left and right and left + right + _APART > full:
        left = min(left, max(full - right - _APART, full / 2))
        return left, 0.0, full - left - _APART
    return full, 0.0, full


def _moved(marks: Iterable[Mark], x: float) -> Iterator[Mark]:
    """Marks so many points further to the right."""
    for mark in marks:
        yield mark if isinstance(mark, Belongs | Target) else mark._replace(x=mark.x + x)


@lru_cache(maxsize=1 << 6)
def _of_size(style: Style, size: float) -> Style:
    """A style for a line of its own at the head or foot."""
    return replace(style, size=size, align="left", indent=0.0, first_line=0.0)


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
    hang: float = 0.0,
    path: Path = NOTHING,
    language: str = "",
) -> Iterator[Mark]:
    """Some lines of a paragraph, the first of them with its top at ``y``, in a column of ``width`` points at ``x``.

    ``hang``: how far in front of the first words the paragraph's number or list marker begins; ``path``: where they stand; ``language``: by whose
    patterns words are parted.
    """

    def in_faces() -> InFaces:
        return InFaces(paragraph, style, width, on.typefaces, language)

    # One that goes over many pages has its words put in their faces once.
    words = on.once(f"words {paragraph.id}", in_faces) if len(lines.starts) > MANY_LINES else in_faces()
    of_lines = pieces(words, lines, numbers)
    for number, placed in zip(numbers, of_lines, strict=True):
        height = lines.heights[number]
        level = placed if len(placed) == 1 and placed[0].marks is PLAIN else level_of(placed)
        size = max([piece.line_size for piece in level]) if level else style.size
        face = level[0].face if level else on.typefaces.face(style.font, style.bold, style.italic)
        if any(piece.marks.formula for piece in placed):
            of_words = (paragraph.line_spacing or style.line_spacing) * max(piece.line_size for piece in placed)
            baseline = y + beyond(placed, face, size, of_words)[0] + face.baseline(0.0, of_words, size)
        else:
            baseline = face.baseline(y, height, size)
        mark = on.marker(paragraph.id) if number == 0 and placed else None
        if mark is not None:
            own = on.typefaces.face(style.font, style.bold, style.italic)
            yield Belongs(label_of(path))
            at, done = x + placed[0].x - hang, 0
            for length, having in on.typefaces.parted(mark, own):
                part = Words(at, baseline, mark[done : done + length], having, style.size, style.colour)
                yield part
                at, done = at + part.width, done + length
        if mark is not None or number == numbers[0]:
            yield Belongs(path)
        for at, piece in enumerate(placed):
            if piece.leader:
                yield Belongs(NOTHING)
                yield Words(x + piece.x, baseline, piece.text, piece.face, piece.size, style.colour)
                yield Belongs(path)
                continue
            if piece.marks is PLAIN and not (style.underline or style.strike):
                yield Words(x + piece.x, baseline, piece.text, piece.face, piece.size, style.colour, 0.0, piece.hyphen)
            else:
                yield from _piece(piece, placed[at + 1] if at + 1 < len(placed) else None, x, baseline, style, on, path)
        y += height


def _piece(
    piece: Piece, after: Piece | None, left: float, baseline: float, style: Style, on: Drawing, path: Path
) -> Iterator[Mark]:
    """Words with marks. ``after``: what stands behind them in the line; lines and colours go on up to what has the same marks."""
    marks, x = piece.marks, left + piece.x
    if isinstance(piece.face, FormulaFace):
        yield from _formula(piece, piece.face, x, baseline, marks.colour or style.colour, path)
        return

    def reach() -> float:
        joined = after is not None and not after.leader and after.marks == marks
        return after.x - piece.x if after is not None and joined else piece.width

    if marks.highlight:
        top, height = baseline - _ABOVE_BASELINE * piece.line_size, _HIGHLIGHT * piece.line_size
        yield Belongs(NOTHING)
        yield Rule(x, top, reach(), height, 0.0, marks.highlight, marks.highlight)
        yield Belongs(path)
    link = safe_link(marks.link) if marks.link else None
    place = inner(link) or (marks.reference.to if marks.reference else None)
    if place and not on.reaches(place):
        link = place = None
    colour = LINK if link else marks.colour or style.colour
    leads = link or place
    if script := script_of(marks):
        baseline -= piece.line_size * SCRIPT_BY[script]
    if marks.raised:
        path = (*path, Tag("Reference" if marks.reference else "Lbl"))
        leads = place = place or on.referring(path)
        yield Belongs(path)
    if leads:
        # One that goes on in the next line is one link.
        yield Belongs((*path, Tag("Link", leads)))
    yield Words(x, baseline, piece.text, piece.face, piece.size, colour, hyphen=piece.hyphen)
    if marks.underline or style.underline or link:
        yield Rule(x, baseline + piece.size * 0.12, reach(), 0.0, piece.size / 18, colour)
    if marks.strike or style.strike:
        yield Rule(x, baseline - piece.size * _STRIKE, reach(), 0.0, piece.size / 18, colour)
    if leads:
        yield Link(
            x, baseline - piece.size, piece.width, piece.size * 1.25, place or leads, piece.text if place else ""
        )
        yield Belongs(path)
    if marks.raised:
        yield Belongs(path[:-1])


def _formula(piece: Piece, face: FormulaFace, x: float, baseline: float, colour: str, path: Path) -> Iterator[Mark]:
    """A formula, or several that are the same beside each other (ISO 32000-1, 14.8.4.5 "Formula")."""
    drawn, says = face.drawn, words_of_formula(piece.marks.formula or "")
    width, above, below = (length * piece.size for length in drawn[:3])
    for at in range(len(piece.text)):
        yield Belongs((*path, Tag("Formula", None, (("Alt", says),))))
        yield Curves(x + at * width, baseline, piece.size, drawn.outline, colour, width, above, below, says)
    yield Belongs(path)
