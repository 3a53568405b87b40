"""How far words reach, measured once for lines of any width.

What a paragraph's words take is found as if they stood in one endless line. Lines of a width are then found by halving: one that
begins with a piece ends in front of the first piece that reaches further than the width from there.
"""

from __future__ import annotations

from array import array
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from itertools import accumulate
from typing import NamedTuple

from ..report.blocks import Marks
from .breaks import units
from .typefaces import Face, Typefaces

_MOST_KNOWN = 10_000_000
"""Characters of paragraphs that are remembered: some 4,000 pages, 60 MB."""
_LEAST = 2.0
"""Sizes of a line below which kerning could make a difference to what reaches furthest."""


class Span(NamedTuple):
    """A stretch of a text that looks the same: from which character to which (exclusive), in what face and size."""

    start: int
    end: int
    face: Face
    size: float
    marks: Marks
    line_size: float
    """What lines are as high for: what is raised makes none higher or lower."""


class Advances(NamedTuple):
    """The pieces of a text between which a line may break, in one endless line: the first character of each, where it begins, and how
    far it reaches or one before it does, without the spaces behind. In sizes of the first words."""

    at: Sequence[int]
    begins: Sequence[float]
    reaches: Sequence[float]


def advances(text: str, spans: Sequence[Span], typefaces: Typefaces) -> Advances:
    """The advances of a text without tabs and line breaks; remembered, for lines of other widths and sizes."""
    key: tuple[object, ...] = (text, spans[0].face)
    if len(spans) > 1:
        size = spans[0].size
        key += (*(span.start for span in spans), *(span.face for span in spans), *(span.size / size for span in spans))
    found: Advances | None = typefaces.advances.get(key)
    if found is None:
        typefaces.measured += len(text)
        if typefaces.measured > _MOST_KNOWN:
            typefaces.advances.clear()
            typefaces.measured = len(text)
        found = typefaces.advances[key] = measured(text, spans)
    return found


def measured(text: str, spans: Sequence[Span]) -> Advances:
    """The advances of a text without tabs and line breaks."""
    pieces = units(text)
    begins, reaches = list[float](), list[float]()
    begun, reached = begins.append, reaches.append
    x = furthest = 0.0
    if len(spans) == 1:
        # The common case, apart for speed.
        face = spans[0].face
        known, unit, kern = face._units.get, face.unit, face.kern
        before = ""
        for piece in pieces:
            bare, full, lead, spaced = known(piece) or unit(piece)
            if before == " ":
                x += lead
            elif before:
                x += kern(before + piece[0])
            before = " " if spaced else piece[-1]
            begun(x)
            if x + bare > furthest:
                furthest = x + bare
            reached(furthest)
            x += full
    else:
        size, number, position = spans[0].size, -1, 0
        start = end = 0
        for piece in pieces:
            while end <= position:
                number += 1
                start, end, face, own, _, _ = spans[number]
                ratio = own / size
            if start < position:
                x += face.kern(text[position - 1] + piece[0]) * ratio
            begun(x)
            behind = position + len(piece)
            if behind <= end:
                bare, full, _, _ = face.unit(piece)
                bare, x = x + bare * ratio, x + full * ratio
            else:
                bare, x = _over_several(piece, position, x, (spans[at] for at in range(number, len(spans))), size)
            furthest = max(furthest, bare)
            reached(furthest)
            position = behind
    at = array("I", accumulate(map(len, pieces[:-1]), initial=0))
    return Advances(at, array("d", begins), array("d", reaches))


def _over_several(piece: str, position: int, x: float, spans: Iterable[Span], size: float) -> tuple[float, float]:
    """How far a piece in several faces reaches from ``x`` on, without and with the spaces behind it."""
    bare = x
    for one in spans:
        if one.start >= position + len(piece):
            break
        if part := piece[max(0, one.start - position) : max(0, one.end - position)]:
            unit = one.face.unit(part)
            if part.strip(" "):
                bare = x + unit.bare * one.size / size
            x += unit.full * one.size / size
    return bare, x


def line_starts(of: Advances, width: float, first: float) -> tuple[int, ...] | None:
    """The characters with which lines of a width begin, the first line at ``first``, both in sizes of the first words.

    None where a word is wider than a line, or lines are very narrow: there words are parted.
    """
    at, begins, reaches = of
    limit = width - first
    if min(limit, width) < _LEAST:
        return None
    starts, line = [0], 0
    while (end := bisect_right(reaches, limit, line)) < len(reaches):
        if end == line:
            return None
        starts.append(at[end])
        line, limit = end, begins[end] + width
    return tuple(starts)
