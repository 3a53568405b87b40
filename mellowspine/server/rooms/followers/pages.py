"""Pages: where they begin, what they are called, and what else the page decides.

Offsets that are shown count UTF-16 code units, as JavaScript does.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping
from operator import itemgetter
from typing import Any, NamedTuple

from mellowspine.core.pages.pages import Edge, Pages, paginate
from mellowspine.core.report.blocks import Paragraph
from mellowspine.core.report.diff import diff

from .round import Follower, Of, Round
from .shown import ListOf, MapOf


class EdgeShown(NamedTuple):
    """The start of a page."""

    block: str
    offset: int
    """In UTF-16 units; in data tables and placed tables the row."""


class PartOnPages(NamedTuple):
    """A part of the report that has pages; ``first`` and ``last`` of them, as sheets counted from 1."""

    id: str
    first: int
    last: int


def _pages(now: Round, before: Of | None) -> Pages:
    return paginate(now.given.report, now.given.typefaces, before and before.value, now["outline"], now["noted"])


def _labels(now: Round, before: Of | None) -> list[str]:
    """The printed number of every page."""
    pages: Pages = now["pages"]
    return pages.labels[1:]


def _labels_from(now: Round) -> tuple[Any, ...]:
    pages: Pages = now["pages"]
    return len(pages), pages.counts


def _parts(now: Round, before: Of | None) -> list[PartOnPages]:
    """The parts of the report, one at least."""
    pages: Pages = now["pages"]
    firsts = [pages.page_of(one.first) for one in pages.stretches]
    lasts = [*(first - 1 for first in firsts[1:]), len(pages)]
    return [PartOnPages(one.id, *on) for one, *on in zip(pages.stretches, firsts, lasts, strict=True)]


def _edges(now: Round, before: Of | None) -> list[EdgeShown]:
    """The start of every page but the first."""
    pages: Pages = now["pages"]
    if before is None or before.seen is None:
        return shown_edges(pages)
    old: Pages = before.seen[0]
    if pages.starts is not old.starts:
        return shown_edges(pages)
    # The pages begin as before: at other characters only of blocks that have changed.
    blocks = diff(old.report.blocks, pages.report.blocks)
    changed = [one for one in (blocks, diff(old.boxes, pages.boxes)) if one] or [blocks]
    first, end = min(one.first for one in changed), max(one.new_end for one in changed)
    if blocks.shift or pages.report.shown is not old.report.shown or pages.report.captions is not old.report.captions:
        return shown_edges(pages)
    start, stop = (max(1, bisect_left(pages.starts, at, key=itemgetter(0))) for at in (first, end))
    return [*before.value[: start - 1], *shown_edges(pages, start, stop), *before.value[stop - 1 :]]


def shown_edges(pages: Pages, first: int = 1, end: int | None = None) -> list[EdgeShown]:
    """The start of every page but the first, or of some of them (see ``Pages.edges``)."""
    return [EdgeShown(edge.block.id, _utf16(edge)) for edge in pages.edges(first, end)]


def _utf16(edge: Edge) -> int:
    block, offset = edge.block, edge.offset
    return len(block.text[:offset].encode("utf-16-le")) // 2 if isinstance(block, Paragraph) else offset


def _number_widths(now: Round, before: Of | None) -> Mapping[str, float]:
    """Room for heading numbers in points, by style."""
    pages: Pages = now["pages"]
    return pages.report.number_widths


def _backs(now: Round, before: Of | None) -> dict[str, str]:
    """What stands beneath a block to lead back to the contents, by the block's id."""
    pages: Pages = now["pages"]
    return dict.fromkeys(pages.report.backs, pages.report.page.back_says)


FOLLOWERS = (
    Follower("pages", _pages),
    Follower("labels", _labels, ListOf(str), looks_at=_labels_from),
    Follower("parts", _parts, ListOf(PartOnPages)),
    Follower("edges", _edges, ListOf(EdgeShown), looks_at=lambda now: (now["pages"],)),
    Follower("number_widths", _number_widths, MapOf(float)),
    Follower("backs", _backs, MapOf(str)),
)
