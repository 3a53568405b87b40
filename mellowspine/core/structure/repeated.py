"""Paragraphs that stand in a report more than once, word for word."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence, Set
from typing import NamedTuple

from ..report.blocks import Block, Paragraph
from ..report.diff import diff
from ..report.report import Report

LEAST_WORDS = 6
"""Words of a paragraph with fewer of which nothing can be said: they stand in many places."""


class Repeated(NamedTuple):
    """``texts``: by block its words, empty for all but paragraphs with words enough; ``counts``: how often each of these stands
    there; ``twice``: those that do more than once; ``at``: in which blocks. That is the very same where none of them was
    touched or moved."""

    texts: Sequence[str] = ()
    counts: Mapping[str, int] = {}
    twice: Set[str] = frozenset()
    at: Sequence[int] = ()


def repeated(report: Report, before: tuple[Report, Repeated] | None = None) -> Repeated:
    """``before``, of an earlier state, changes nothing but the time: only blocks that differ are read."""
    if before is None:
        return _with(Repeated(), 0, 0, [*map(_text, report.blocks)])
    old, known = before
    change = diff(old.blocks, report.blocks)
    if not change:
        return known
    new = [*map(_text, report.blocks[change.first : change.new_end])]
    if new == [*known.texts[change.first : change.old_end]]:
        return known
    return _with(known, change.first, change.old_end, new)


def _with(known: Repeated, first: int, end: int, new: Sequence[str]) -> Repeated:
    """What is known, with other words for some blocks."""
    counts, twice = Counter(known.counts), {*known.twice}
    for text in known.texts[first:end]:
        counts[text] -= 1
    counts.update(text for text in new if text)
    for text in (*known.texts[first:end], *new):
        if counts[text] > 1:
            twice.add(text)
        else:
            twice.discard(text)
            if counts[text] < 1:
                del counts[text]
    twice.discard("")
    texts = (*known.texts[:first], *new, *known.texts[end:])
    touched = {*known.texts[first:end], *new} & (twice | known.twice)
    if not touched and len(texts) == len(known.texts):
        return Repeated(texts, counts, known.twice, known.at)
    return Repeated(texts, counts, frozenset(twice), tuple(at for at, text in enumerate(texts) if text in twice))


def _text(block: Block) -> str:
    text = block.text if type(block) is Paragraph else ""
    return text if text.count(" ") + 1 >= LEAST_WORDS else ""
