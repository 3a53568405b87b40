"""What hangs in front of list items: bullets and numbers."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

from ..report.blocks import Block, Cell, DataTable, Image, Paragraph
from ..report.diff import diff
from ..report.elements import ids_of
from ..report.report import Report
from ..report.styles import Marker, StyleSheet
from .numbering import figure

Markers = Mapping[str, str]
"""By paragraph id: "•", "3." or "(c)"."""

BULLETS = ("•", "–", "▪")
"""In front of items of each level in turn, where their style says no other sign."""
_FIGURE = re.compile("%([1-9])")


def list_markers(report: Report, before: tuple[Report, Markers] | None = None) -> Markers:
    """The markers of all list items, those in the cells of data tables included: each cell is by itself.

    A numbered list starts again at 1 after any paragraph that is in no list, and below a new item of the level above; an
    item may say what it is counted from, and that it goes on with the one before and has no marker of its own.
    ``before``, an earlier state of the report with its markers, changes nothing but the time it takes: only the lists
    that the edit touches are counted again.
    """
    blocks = report.blocks
    kinds = _kinds(report.styles)
    if before is None or before[0].styles is not report.styles:
        return dict(_marked(blocks, kinds))
    earlier, old = before
    change = diff(earlier.blocks, blocks)
    first, end = change.first, change.new_end
    while first > 0 and _style(blocks[first - 1]) in kinds:
        first -= 1
    while end < len(blocks) and _style(blocks[end]) in kinds:
        end += 1
    gone = {id for block in earlier.blocks[change.first : change.old_end] for id in ids_of(block)} & old.keys()
    new = dict(_marked(blocks[first:end], kinds))
    if not gone and all(old.get(id) == mark for id, mark in new.items()):
        return old
    return {id: mark for id, mark in old.items() if id not in gone} | new


class _Kind(NamedTuple):
    marker: Marker
    level: int
    text: str


def _kinds(styles: StyleSheet) -> dict[str, _Kind]:
    """How the items of every list style are marked."""
    return {
        key: _Kind(style.marker, style.list_level or 1, style.marker_text)
        for key, style in styles.items()
        if style.marker
    }


def _style(block: Block) -> str | None:
    return block.style if type(block) is Paragraph else None


class _Lists:
    """Counts the items of lists, one paragraph after the other."""

    def __init__(self, kinds: Mapping[str, _Kind]) -> None:
        self._kinds = kinds
        self._counts: list[int] = []
        self._markers: list[Marker] = []
        """Of the levels, as far as they are counted."""

    def item(self, block: Block, number: int | None = None) -> tuple[_Kind, int] | None:
        """The kind of marker of a paragraph, and what it is counted as; None if it has no marker.

        ``number``: what it is to be counted as, unless it says so itself.
        """
        kind = self._kinds.get(_style(block) or "")
        if kind is None:
            self._counts, self._markers = [], []
            return None
        missing = kind.level - len(self._counts)
        del self._counts[kind.level :], self._markers[kind.level :]
        self._counts.extend([0] * missing)
        self._markers.extend(["decimal"] * missing)
        self._markers[-1] = kind.marker
        assert isinstance(block, Paragraph)  # as it has a style
        if block.number == "none":
            return None
        if kind.marker == "bullet":
            return kind, kind.level
        given = number if block.number_from is None else block.number_from
        self._counts[-1] = self._counts[-1] + 1 if given is None else given
        return kind, self._counts[-1]

    def written(self, kind: _Kind) -> str:
        """The marker of the item counted last."""
        if kind.marker == "bullet":
            # A style whose items were numbered once may still say how: that is no sign.
            own = "" if _FIGURE.search(kind.text) else kind.text.strip()
            return own or BULLETS[(kind.level - 1) % len(BULLETS)]
        return _FIGURE.sub(lambda found: self._figure(int(found[1])), kind.text or f"%{kind.level}.")

    def _figure(self, level: int) -> str:
        marker = self._markers[level - 1] if level <= len(self._counts) else "bullet"
        return "" if marker == "bullet" else figure(self._counts[level - 1], marker)

    def count_as(self, number: int) -> None:
        """Counts the item counted last as this."""
        self._counts[-1] = number


def _marked(blocks: Sequence[Block], kinds: Mapping[str, _Kind]) -> Iterator[tuple[str, str]]:
    lists = _Lists(kinds)
    for block in blocks:
        if item := lists.item(block):
            yield block.id, lists.written(item[0])
        elif isinstance(block, DataTable):
            for row in block.rows:
                for cell in row:
                    yield from _marked(cell.paragraphs, kinds)


def counts(blocks: Iterable[Block], styles: StyleSheet) -> Iterator[tuple[Paragraph | None, int | None]]:
    """Every block of a text: an item of a list, with the figure that it is counted as if it has one; None for what is no item. Of cells
    of data tables nothing is said: each is by itself."""
    lists = _Lists(_kinds(styles))
    for block in blocks:
        item = lists.item(block)
        if type(block) is not Paragraph or styles[block.style].marker is None:
            yield None, None
        else:
            yield block, item[1] if item and item[0].marker != "bullet" else None


def counted_as(blocks: Iterable[Block], styles: StyleSheet, numbers: Mapping[str, int]) -> Iterator[Block]:
    """The blocks, with list items that would be counted otherwise saying what they are counted from.

    ``numbers``: what items are to be counted as, by id.
    """
    kinds = _kinds(styles)
    plain, wanted = _Lists(kinds), _Lists(kinds)
    for block in blocks:
        number = numbers.get(block.id)
        is_now, is_to_be = plain.item(block), wanted.item(block, number)
        if is_now != is_to_be and number is not None and isinstance(block, Paragraph):
            block = replace(block, number_from=number)
            plain.count_as(number)
        if isinstance(block, DataTable):
            rows = tuple(tuple(_cell_counted(cell, styles, numbers) for cell in row) for row in block.rows)
            block = replace(block, rows=rows) if rows != block.rows else block
        yield block


def _cell_counted(cell: Cell, styles: StyleSheet, numbers: Mapping[str, int]) -> Cell:
    if not any(block.id in numbers for block in cell.blocks):
        return cell
    found = counted_as(cell.blocks, styles, numbers)
    return replace(cell, blocks=tuple(block for block in found if isinstance(block, Paragraph | Image)))
