"""Line breaking: a paragraph and a width in, lines out. Greedy: each line takes what fits.

Offsets count characters (code points) of the paragraph's text; lengths are in points.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from itertools import groupby
from math import ceil, inf
from typing import NamedTuple, TypeVar

from icu import DecimalFormatSymbols, Locale

from ..report.blocks import PLAIN, Align, Capitals, Marks, Paragraph, Run, Script
from ..report.formulas import FORMULA
from ..report.report import Report
from ..report.styles import Style
from ..report.tab_stops import Leader, TabStop, tab_stops_of
from .advances import Span, advances, line_starts
from .breaks import units
from .formulas import FormulaFace, formula_face
from .hyphens import HYPHEN, points
from .typefaces import Face, Typefaces

_TOLERANCE = 1e-9
"""For what sums of floating-point numbers lack, in sizes."""

SCRIPT_SIZE = 0.65
"""Size of raised and lowered letters: of that of the words around them (common practice, no source)."""
SCRIPT_BY: Mapping[Script, float] = {"super": 0.35, "sub": -0.15}
"""How far above the baseline they stand: of the size of the words around them (common practice, no source)."""
SMALL_CAPITAL = 0.8
"""Size of a capital that stands for a small letter: of that of the words around it (common practice, no source)."""

TAB_STOPS = 36.0
"""Distance of the default tab stops, in points: those behind the last one that a paragraph sets."""
LEADER_GAP = 3.0
"""Points at least between a leader and the words beside it."""
_LEADERS: Mapping[Leader, str] = {"dots": ".", "dashes": "-", "line": "_"}


_Same = TypeVar("_Same", "Span", "Piece")


class Lines(NamedTuple):
    """The lines of one paragraph: where each begins, and how high each is."""

    starts: tuple[int, ...]
    heights: tuple[float, ...]


class Piece(NamedTuple):
    """Words of one line that stand next to each other and look the same. ``x`` is counted from the column's left."""

    x: float
    text: str
    face: Face
    size: float
    marks: Marks
    hyphen: bool = False
    """Whether a hyphen stands behind it that is not in the text."""
    leader: bool = False
    """Whether it fills the gap that a tab leaves: none of it is in the text."""

    @property
    def line_size(self) -> float:
        """The size of the words around it, where it is smaller for what its letters are."""
        size = self.size / SMALL_CAPITAL if self.marks.small else self.size
        return size / SCRIPT_SIZE if script_of(self.marks) else size

    @property
    def width(self) -> float:
        """In points; found only where it is asked for."""
        x = reach = 0.0
        before = ""
        for word in units(self.text):
            unit = self.face.unit(word)
            x += self.face.kern(before + word[0]) if before else 0.0
            before, reach = word[-1], x + unit.bare
            x += unit.full
        return reach * self.size + (_hyphen(self.text, self.face, self.size) if self.hyphen else 0.0)


def _hyphen(text: str, face: Face, size: float) -> float:
    """How much wider words are with a hyphen behind them."""
    return (face.width(text[-1] + HYPHEN) - face.width(text[-1])) * size


class SetStyle(NamedTuple):
    """A style as one paragraph is set in it. ``hang``: how far in front of its first words its number or marker begins."""

    style: Style
    hang: float


def set_style(paragraph: Paragraph, report: Report) -> SetStyle:
    """The paragraph's style with what it says itself of its indents, and with room for its heading number.

    A number at the left edge hangs: the words behind it form a column of their own. Where the first line is indented, or
    the paragraph is not aligned to the left, it stands in the first line in front of the words.
    """
    style = report.styles[paragraph.style]
    room = report.number_widths.get(style.id, 0.0) if paragraph.number != "none" else 0.0
    if paragraph.right_indent is not None:
        style = _with_right_indent(style, paragraph.right_indent)
    if not room and paragraph.indent is None and paragraph.first_line is None:
        return SetStyle(style, -style.first_line)
    indent = style.indent if paragraph.indent is None else paragraph.indent
    first = style.first_line if paragraph.first_line is None else paragraph.first_line
    return _set(style, indent, first, room, paragraph.align or style.align)


@lru_cache(maxsize=1 << 8)
def _with_right_indent(style: Style, indent: float) -> Style:
    return replace(style, right_indent=indent)


def _measure(width: float, style: Style) -> float:
    """How long lines in a column of ``width`` points may be."""
    return width - style.indent - style.right_indent


@lru_cache(maxsize=1 << 10)
def _set(style: Style, indent: float, first: float, room: float, align: Align) -> SetStyle:
    hang = -first
    if room and first <= 0 and align in ("left", "justify"):
        hang = max(room, -first)
        indent, first = indent + first + hang, 0.0
    elif room:
        hang, first = room, first + room
    least, most = min(max(indent, 0.0), 500.0), min(max(first, -500.0), 500.0)
    return SetStyle(replace(style, indent=least, first_line=most), hang)


def script_of(marks: Marks) -> Script | None:
    """Where words stand that are set smaller, over the line of the others or under it."""
    return "super" if marks.raised else marks.script


def _capital(character: str) -> str:
    """The capital for a character; itself where that would be several (ß): a text keeps its length."""
    capital = character.upper()
    return capital if len(capital) == 1 else character


def _in_capitals(run: Run, capitals: Capitals) -> Iterator[Run]:
    """The runs that a run is set as."""
    if capitals == "all":
        yield Run("".join(map(_capital, run.text)), run.marks)
        return
    small = replace(run.marks, small=True)
    for is_small, stretch in groupby(run.text, lambda one: one != _capital(one)):
        words = "".join(map(_capital, stretch))
        yield Run(words, small if is_small else run.marks)


def _in_case(paragraph: Paragraph, style: Style) -> Paragraph:
    """The paragraph with capitals for small letters where it or its style asks for them: as many characters."""
    if style.capitals == "none" and not any(run.marks.capitals for run in paragraph.runs):
        return paragraph
    runs: list[Run] = []
    for run in paragraph.runs:
        capitals = run.marks.capitals or style.capitals
        runs.extend((run,) if capitals == "none" else _in_capitals(run, capitals))
    return replace(paragraph, runs=tuple(runs))


def _spans(paragraph: Paragraph, style: Style, typefaces: Typefaces, width: float = inf) -> list[Span]:
    """The words of a paragraph in their faces; ``width``: that of its lines, in points, beyond which no formula reaches."""
    result = []
    start = 0
    for run in paragraph.runs:
        marks = run.marks
        if marks.formula:
            as_drawn = formula_face(marks.formula)
            size = marks.size or style.size
            room = max(width - max(style.first_line, 0.0), 1.0)
            size = min(size, room / max(as_drawn.advance, 1e-6))
            result.append(Span(start, start + len(run.text), as_drawn, size, marks, size))
            start += len(run.text)
            continue
        bold = style.bold if marks.bold is None else marks.bold
        italic = style.italic if marks.italic is None else marks.italic
        face = typefaces.face(marks.font or style.font, bold, italic, marks.tabular)
        line_size = marks.size or style.size
        size = line_size * SCRIPT_SIZE if marks.raised or marks.script else line_size
        if marks.small:
            size *= SMALL_CAPITAL
        for length, fitting in typefaces.parted(run.text, face):
            result.append(Span(start, start + length, fitting, size, marks, line_size))
            start += length
    return result


def _faces(spans: Sequence[Span]) -> list[Span]:
    """The spans that differ in face or size, which alone make a difference to widths."""
    result = [spans[0]] if spans else []
    for span in spans[1:]:
        last = result[-1]
        if span.face is last.face and span.size == last.size:
            result[-1] = last._replace(end=span.end)
        else:
            result.append(span)
    return result


def _first(style: Style) -> float:
    """Where the text of the first line begins; a marker hangs in front of it."""
    return 0.0 if style.marker else style.first_line


@lru_cache(maxsize=256)
def _same(height: float, count: int) -> tuple[float, ...]:
    return (height,) * count


def break_lines(paragraph: Paragraph, style: Style, width: float, typefaces: Typefaces, language: str = "") -> Lines:
    """Breaks a paragraph into lines of ``width`` points. A paragraph without text has one line.

    ``language``: by whose patterns its words may be parted, if its style parts any (CSS Text 3, 6.1 "hyphens: auto"). A word wider
    than the line is broken between two of its characters (CSS Text 3, 5.5 "overflow-wrap: anywhere").
    """
    parting = language if style.hyphenate else ""
    spacing = paragraph.line_spacing or style.line_spacing
    paragraph = _in_case(paragraph, style)
    text = paragraph.text
    spans = _faces(_spans(paragraph, style, typefaces, _measure(width, style)))
    if not text:
        return Lines((0,), (style.size * spacing,))
    starts = None
    if "\n" not in text and "\t" not in text:
        starts = _starts_of_words(text, spans, _measure(width, style), _first(style), typefaces, parting)
    high = spans[0].line_size
    formulas = FORMULA in text
    if starts and not formulas and all(one.line_size == high for one in spans):
        return Lines(starts, _same(high * spacing, len(starts)))
    words = _Words(text, spans, _stops_of(text, paragraph, style, width, language))
    if starts is None:
        starts = tuple(_starts(words, _measure(width, style), _first(style), parting))
    ends = (*starts[1:], len(text))
    heights = []
    for start, end in zip(starts, ends, strict=True):
        inside = [*words.between(start, end)]
        height = spacing * max((span.line_size for span in inside), default=style.size)
        if formulas:
            level = level_of(inside)
            own = level[0].face if level else typefaces.face(style.font, style.bold, style.italic)
            size = max([span.line_size for span in level], default=style.size)
            height += sum(beyond(inside, own, size, height))
        heights.append(height)
    return Lines(starts, tuple(heights))


def level_of(spans: Sequence[_Same]) -> list[_Same]:
    """Of the words of a line those that it is as high for: neither raised nor lowered, nor formulas."""
    return [one for one in spans if not script_of(one.marks) and not one.marks.formula]


def beyond(spans: Iterable[Span | Piece], face: Face, size: float, height: float) -> tuple[float, float]:
    """How far formulas reach above and below a line that is ``height`` points high for its words, of which the largest have a size in a
    face (CSS 2.2, 10.8.1: what stands on the baseline makes its line as high as it needs)."""
    above = face.baseline(0.0, height, size)
    drawn = [(one.face.drawn, one.size) for one in spans if isinstance(one.face, FormulaFace)]
    return (
        max([0.0, *(of.above * size - above for of, size in drawn)]),
        max([0.0, *(of.below * size - (height - above) for of, size in drawn)]),
    )


def reach_of_words(paragraph: Paragraph, style: Style, typefaces: Typefaces) -> float:
    """How far a paragraph's words reach in a single line, in sizes of its style: another size or indent changes nothing in it.

    Infinite for words that are not all in one face and in the style's size, or have tabs or line breaks.
    """
    paragraph = _in_case(paragraph, style)
    text = paragraph.text
    spans = _faces(_spans(paragraph, style, typefaces))
    if len(spans) != 1 or spans[0].size != style.size or "\n" in text or "\t" in text:
        return inf
    return advances(text, spans, typefaces).reaches[-1] if text else 0.0


def in_one_line(reach: float, style: Style, width: float) -> Lines | None:
    """The line of words that reach so far, as ``break_lines`` gives it; None if there is no room for them in one."""
    if _first(style) / style.size + reach > _measure(width, style) / style.size + _TOLERANCE:
        return None
    return Lines((0,), _same(style.size * style.line_spacing, 1))


class _Stops(NamedTuple):
    """The tab stops of a paragraph, counted from its indent, in lines of ``width`` points, and what its decimal sign is."""

    stops: tuple[TabStop, ...]
    width: float
    sign: re.Pattern[str]

    def after(self, x: float) -> TabStop:
        """The first stop behind a place. One that lies beyond the line's end, and is not for what begins there, lies at it."""
        beyond = x + 1e-6
        if x < -1e-6 and not any(beyond < one.at < 0 for one in self.stops):
            return TabStop(0.0)  # a first line that hangs out: the indent itself
        for one in self.stops:
            at = one.at if one.align == "left" else min(one.at, self.width)
            if at > beyond:
                return one._replace(at=at)
        return TabStop((x // TAB_STOPS + 1) * TAB_STOPS)


_NO_STOPS = _Stops((), 0.0, re.compile(""))


def _stops_of(text: str, paragraph: Paragraph, style: Style, width: float, language: str) -> _Stops:
    """Those of a paragraph, if its words have any tab."""
    return stops_in(paragraph, style, width, language) if "\t" in text else _NO_STOPS


def stops_in(paragraph: Paragraph, style: Style, width: float, language: str = "") -> _Stops:
    """Its own, or those of its style, in a column of ``width`` points."""
    said = style.tab_stops if paragraph.tab_stops is None else paragraph.tab_stops
    stops = tuple(one._replace(at=one.at - style.indent) for one in tab_stops_of(said))
    return _Stops(stops, _measure(width, style), _decimal_sign(language))


class _Words:
    """The words of a paragraph in their faces. Finds those of a stretch without looking at all of them."""

    def __init__(self, text: str, spans: Sequence[Span], stops: _Stops) -> None:
        self.text = text
        self.spans = spans
        self.stops = stops
        self._ends = [span.end for span in spans]

    def between(self, start: int, end: int) -> Iterator[Span]:
        for index in range(bisect_right(self._ends, start), len(self.spans)):
            if self.spans[index].start >= end:
                return
            yield self.spans[index]

    def tab(self, x: float, position: int) -> tuple[float, Leader | None]:
        """Where what follows the tab at a position begins, which itself stands at ``x``, and what fills the gap.

        What has no room in front of its stop begins where the tab stands, and is not aligned.
        """
        stop = self.stops.after(x)
        if stop.align == "left":
            return stop.at, stop.leader
        room = self.stops.width - x
        bare, at_stop = self._cell(position + 1, room, stop.align)
        if bare > room:
            return x, None
        return max(x, min(stop.at - at_stop, self.stops.width - bare)), stop.leader

    def _cell(self, start: int, most: float, align: str) -> tuple[float, float]:
        """The width of what stands between two tabs, or in front of a line's end, and how much of it in front of the stop. No more
        of it is looked at than has room in ``most`` points."""
        ends = (self.text.find(sign, start) for sign in "\t\n")
        end = min([len(self.text), *(at for at in ends if at >= 0)])
        position, bare, full = start, 0.0, 0.0
        for piece in units(self.text[start : min(end, start + _MOST_OF_CELL)]):
            bare, full = _advance(piece, position, full, self, self.text[position - 1] if position > start else "")
            position += len(piece)
            if bare > most:
                break
        if align == "center":
            return bare, bare / 2
        if align == "decimal" and (sign := self.stops.sign.search(self.text, start, end)):
            return bare, _advance(self.text[start : sign.start()], start, 0.0, self)[0]
        return bare, bare


_MOST_OF_CELL = 1000
"""Characters between two tabs that are measured; more have no room in front of a stop."""


@lru_cache(maxsize=64)
def _decimal_sign(language: str) -> re.Pattern[str]:
    """What stands between a number's whole and its fraction, by ICU; a full stop where no language is said."""
    signs = DecimalFormatSymbols(Locale(language or "en"))
    return re.compile(re.escape(signs.getSymbol(DecimalFormatSymbols.kDecimalSeparatorSymbol)) + r"(?=\d)")


def _starts_of_words(
    text: str, spans: Sequence[Span], width: float, first: float, typefaces: Typefaces, language: str
) -> tuple[int, ...] | None:
    """Line starts of a text without tabs and line breaks; None where words in several faces may have to be parted."""
    size = spans[0].size
    if not language:
        available = width / size + _TOLERANCE
        if starts := line_starts(advances(text, spans, typefaces), available, first / size):
            return starts
    return _starts_in_one_face(text, spans[0].face, size, width, first, language) if len(spans) == 1 else None


def _starts_in_one_face(
    text: str, face: Face, size: float, width: float, first: float, language: str
) -> tuple[int, ...]:
    """Line starts of a text in one face and size without tabs and line breaks, of which words may have to be parted."""
    available = width / size + _TOLERANCE
    known, unit = face._units, face.unit
    starts = [0]
    x = first / size
    position = 0
    behind_space = False
    for piece in units(text):
        bare, full, lead, spaced = known.get(piece) or unit(piece)
        if behind_space:
            x += lead
        elif position > starts[-1]:
            x += face.kern(text[position - 1] + piece[0])
        behind_space = spaced
        if x + bare > available:
            if language and (parts := points(piece, language)):
                done, x = _part_word(piece, parts, face, available, position, starts, x)
                if done:
                    position += done
                    piece = piece[done:]
                    bare, full = face.width(piece.rstrip(" ")), face.unit(piece).full
            if x + bare > available and position > starts[-1]:
                starts.append(position)
                x = 0.0
            if x + bare > available:
                x = _break_word(piece, face, available, position, starts, x)
                position += len(piece)
                continue
        x += full
        position += len(piece)
    return tuple(starts)


def _part_word(
    word: str, at: Sequence[int], face: Face, available: float, position: int, starts: list[int], x: float
) -> tuple[int, float]:
    """Parts a word at hyphens, as late in each line as there is room: how many of its characters are done with, and where the line
    goes on. Nothing is done where no hyphen fits into the line that it would begin in."""
    done = 0
    while x + face.width(word[done:].rstrip(" ")) > available:
        fitting = [end for end in at if end > done and x + face.width(word[done:end] + HYPHEN) <= available]
        if fitting:
            done = fitting[-1]
            starts.append(position + done)
        elif done or position == starts[-1]:
            break
        else:
            starts.append(position)
        x = 0.0
    return done, x


def _break_word(word: str, face: Face, available: float, position: int, starts: list[int], x: float) -> float:
    for offset, character in enumerate(word):
        advance = face.width(character)
        if x + advance > available and position + offset > starts[-1] and character != " ":
            starts.append(position + offset)
            x = 0.0
        x += advance
    return x


def _starts(words: _Words, width: float, first: float, language: str) -> Iterator[int]:
    """Line starts of a text in several faces, with tabs and line breaks."""
    yield 0
    text, spans = words.text, words.spans
    start = position = 0
    x = first
    number, span = 0, spans[0]
    for index, part in enumerate(text.split("\n")):
        if index:
            position += 1
            yield (start := position)
            x = 0.0
        for piece in units(part) if part else ():
            while span.end <= position:
                number += 1
                span = spans[number]
            if position + len(piece) <= span.end and "\t" not in piece:
                # As `_advance` has it, for the common case: all of it in one face.
                unit, size, begin = span.face.unit(piece), span.size, x
                if span.start < position > start:
                    begin += span.face.kern(text[position - 1] + piece[0]) * size
                bare = begin + unit.bare * size if piece[0] != " " or piece.strip(" ") else x
                full = begin + unit.full * size
            else:
                bare, full = _advance(piece, position, x, words, text[position - 1] if position > start else "")
            parts = points(piece, language) if language and bare > width + 1e-6 else ()
            while parts and bare > width + 1e-6:
                fitting = [end for end in parts if _hyphenated(piece[:end], position, x, words) <= width + 1e-6]
                if not fitting:
                    if position == start:
                        break
                    yield (start := position)
                else:
                    yield (start := position + fitting[-1])
                    piece, position = piece[fitting[-1] :], start
                    parts = tuple(end - fitting[-1] for end in parts if end > fitting[-1])
                bare, full = _advance(piece, position, x := 0.0, words)
            if bare > width + 1e-6 and position > start:
                yield (start := position)
                bare, full = _advance(piece, position, x := 0.0, words)
            if bare > width + 1e-6:
                for offset, character in enumerate(piece):
                    _, end = _advance(character, position + offset, x, words)
                    if end > width + 1e-6 and position + offset > start and character != " ":
                        yield (start := position + offset)
                        _, end = _advance(character, start, 0.0, words)
                    x = end
            else:
                x = full
            position += len(piece)


def _hyphenated(piece: str, position: int, x: float, words: _Words) -> float:
    """Where the line's end comes to stand with the beginning of a word and a hyphen."""
    bare, _ = _advance(piece, position, x, words)
    (last,) = words.between(position + len(piece) - 1, position + len(piece))
    return bare + _hyphen(piece, last.face, last.size)


def _advance(piece: str, position: int, x: float, words: _Words, before: str = "") -> tuple[float, float]:
    """Where the line's end comes to stand, in points, without and with the spaces behind the piece.

    ``before`` is the character in front of the piece on its line, if there is one.
    """
    bare = x
    for span in words.between(position, position + len(piece)):
        first = max(0, span.start - position)
        part = piece[first : span.end - position]
        if before and span.start < position:
            x += span.face.kern(before + part[0]) * span.size
        at = position + first
        for index, cell in enumerate(part.split("\t")):
            if index:
                x, _ = words.tab(x, at - 1)
            unit = span.face.unit(cell)
            if cell.strip(" "):
                bare = x + unit.bare * span.size
            x += unit.full * span.size
            at += len(cell) + 1
    return bare, x


class InFaces:
    """The words of a paragraph, each in its face: what all its lines are placed from, in a column of ``width`` points.

    ``language``: as the lines were broken.
    """

    def __init__(
        self, paragraph: Paragraph, style: Style, width: float, typefaces: Typefaces, language: str = ""
    ) -> None:
        self.align = paragraph.align or style.align
        self.style = style
        self.width = width
        self.parting = language if style.hyphenate else ""
        paragraph = _in_case(paragraph, style)
        text = paragraph.text
        spans = _spans(paragraph, style, typefaces, _measure(width, style))
        self.words = _Words(text, spans, _stops_of(text, paragraph, style, width, language))


def pieces(words: InFaces, lines: Lines, numbers: Iterable[int]) -> Iterator[list[Piece]]:
    """The pieces of each line of ``numbers`` (from 0), placed as the paragraph's alignment says."""
    for number in numbers:
        yield _line(words, lines, number)


def _line(of: InFaces, lines: Lines, number: int) -> list[Piece]:
    style, width, words = of.style, of.width, of.words
    text = words.text
    start = lines.starts[number]
    last = number + 1 == len(lines.starts)
    end = len(text) if last else lines.starts[number + 1]
    ends_hard = last or text[end - 1 : end] == "\n"
    hyphen = bool(of.parting) and not last and _is_parted(text, end, of.parting)
    end = start + len(text[start:end].rstrip(" \n"))
    spread = of.align == "justify" and not ends_hard and "\t" not in text[start:end]
    placed: list[Piece] = []
    x = led = _first(style) if number == 0 else 0.0
    spans = [*words.between(start, end)]
    if len(spans) == 1 and not spread and "\t" not in text[start:end] and text[start : start + 1] != " ":
        # The common case, apart for speed: all of the line in one face and size.
        (span,) = spans
        whole = Piece(x, text[start:end], span.face, span.size, span.marks, hyphen)
        if not whole.text:
            return []
        shift = style.indent + _shift(of.align, width, style, whole)
        return _joined([whole], shift, 0.0, whole.text) if shift else [whole]
    before = ""
    previous: Span | None = None
    leaders: list[Piece] = []
    for span in spans:
        face, size = span.face, span.size
        if previous is None or previous.face is not face or previous.size != size:
            before = ""
        previous = span
        at = max(start, span.start)
        for index, cell in enumerate(text[at : min(end, span.end)].split("\t")):
            if index:
                reach = max(led, placed[-1].x + placed[-1].width) if placed else led
                led, leader = words.tab(x, at - 1)
                x, before = led, ""
                if leader:
                    leaders += _leader(leader, reach, min(x, words.stops.width), span, style.indent)
            begin: float | None = None
            for word in units(cell) if cell else ():
                unit = face.unit(word)
                x += face.kern(before + word[0]) * size if before else 0.0
                before = word[-1]
                if unit.bare and spread:
                    placed.append(Piece(x, word.rstrip(" "), face, size, span.marks))
                elif unit.bare and begin is None:
                    # No line breaks between a space and some signs: both are one word here.
                    begin = x + (unit.bare - face.unit(word.lstrip(" ")).bare) * size if word[0] == " " else x
                x += unit.full * size
            if begin is not None:
                placed.append(Piece(begin, cell.strip(" "), face, size, span.marks))
            at += len(cell) + 1
    if not placed and not leaders:
        return []
    if hyphen:
        placed[-1] = placed[-1]._replace(hyphen=True)
    gaps = text[start:end].count(" ")
    stretch = _free(width, style, placed[-1]) / gaps if spread and gaps else 0.0
    shift = style.indent + _shift(of.align, width, style, max(placed + leaders, key=lambda one: one.x))
    return _joined(placed, shift, stretch, text[start:end]) + [one._replace(x=one.x + shift) for one in leaders]


def _leader(leader: Leader, reach: float, end: float, span: Span, indent: float) -> Iterator[Piece]:
    """What fills the gap between words that end at ``reach`` and what begins at ``end``: its signs stand on the same columns in every
    line of a size, counted from the left edge of the page's column."""
    sign = _LEADERS[leader]
    step = span.face.width(sign) * span.size
    first = ceil((reach + indent + LEADER_GAP) / step)
    count = int((end + indent - LEADER_GAP) / step) - first
    if count > 0:
        yield Piece(first * step - indent, sign * count, span.face, span.size, PLAIN, leader=True)


def _is_parted(text: str, at: int, language: str) -> bool:
    """Whether a line that ends there parts a word with a hyphen."""
    if not (text[at - 1].isalpha() and text[at].isalpha()):
        return False
    first, end = at, at
    while first and text[first - 1].isalpha():
        first -= 1
    while end < len(text) and text[end].isalpha():
        end += 1
    return at - first in points(text[first:end], language)


def _free(width: float, style: Style, last: Piece) -> float:
    """What is left of the column behind the last words of a line."""
    return _measure(width, style) - (last.x + last.width)


def _shift(align: Align, width: float, style: Style, last: Piece) -> float:
    return 0.0 if align in ("left", "justify") else _free(width, style, last) / (2 if align == "center" else 1)


def _joined(placed: list[Piece], shift: float, stretch: float, text: str) -> list[Piece]:
    """Shifts the words of a line, spreads them by ``stretch`` a space, and joins neighbours where nothing is spread."""
    result: list[Piece] = []
    at = end = 0
    for piece in placed:
        at = text.index(piece.text, end)
        between = text[end:at]
        end = at + len(piece.text)
        x = piece.x + shift + stretch * text.count(" ", 0, at)
        before = result[-1] if result else None
        if before and before.marks == piece.marks and before.face is piece.face and not stretch and "\t" not in between:
            words = before.text + between + piece.text
            result[-1] = Piece(before.x, words, piece.face, piece.size, piece.marks, piece.hyphen)
        else:
            result.append(Piece(x, piece.text, piece.face, piece.size, piece.marks, piece.hyphen))
    return result
