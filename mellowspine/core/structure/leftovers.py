"""What is left of work by hand beside headings: a list of contents that was typed, and rows of empty paragraphs."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby
from typing import Literal, NamedTuple

from ..report.blocks import Block, Paragraph
from ..report.report import Report
from .traits import Traits
from .typed_contents import is_contents_title


class TypedContents(NamedTuple):
    """A list of contents typed by hand. ``title``: the id of the paragraph above it that names it, if there is one."""

    title: str | None
    lines: tuple[str, ...]


class EmptyRow(NamedTuple):
    """Empty paragraphs one behind the other. ``after``: the id of the block in front of them."""

    ids: tuple[str, ...]
    after: str | None


def typed_contents(report: Report, seen: Sequence[Traits | Literal[False] | None]) -> tuple[TypedContents, ...]:
    """The lists of contents typed by hand: three lines or more, or two under a title. ``seen``: see ``by_hand.py``."""
    if not any(its and its.contents_line for its in seen):
        return ()
    found = []
    here: list[Block] = []
    above: Block | None = None
    for block, its in zip((*report.blocks, None), (*seen, None), strict=True):
        if its is False:
            continue
        if its and its.contents_line and block is not None:
            here.append(block)
            continue
        if here and (one := _contents_of(here, above)):
            found.append(one)
        here, above = [], block
    return tuple(found)


def _contents_of(lines: Sequence[Block], above: Block | None) -> TypedContents | None:
    named = type(above) is Paragraph and is_contents_title(above.text)
    if len(lines) < (2 if named else 3):
        return None
    return TypedContents(above.id if named and above else None, tuple(line.id for line in lines))


def empty_rows(report: Report, seen: Sequence[Traits | Literal[False] | None]) -> tuple[EmptyRow, ...]:
    """Rows of two empty paragraphs or more in the text itself; none where nothing is written yet."""
    blocks = report.blocks
    if all(its is False for its in seen):
        return ()
    found = []
    for empty, group in groupby(range(len(blocks)), lambda index: seen[index] is False):
        row = [*group] if empty else []
        if len(row) > 1:
            after = blocks[row[0] - 1].id if row[0] else None
            found.append(EmptyRow(tuple(blocks[index].id for index in row), after))
    return tuple(found)
