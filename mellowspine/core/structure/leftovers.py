"""What is left of work by hand beside headings: a list of contents that was typed, and rows of empty paragraphs."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from ..report.blocks import Block, Paragraph
from ..report.report import Report

_PAGE = re.compile(r"(?:\d{1,4}|[ivxlc]{1,6})$")
_LEADERS = ".…·_‧•-–—"
CONTENTS_TITLES = frozenset({"contents", "table of contents", "contents list", "list of contents", "index of contents"})


class TypedContents(NamedTuple):
    """A list of contents typed by hand. ``title``: the id of the paragraph above it that names it, if there is one."""

    title: str | None
    lines: tuple[str, ...]


class EmptyRow(NamedTuple):
    """Empty paragraphs one behind the other. ``behind``: the id of the block in front of them."""

    ids: tuple[str, ...]
    behind: str | None


def is_contents_line(text: str) -> bool:
    """Whether a text is words, a row of dots, a tab or a wide gap, and a page number."""
    words = text.strip()
    page = _PAGE.search(words[-6:])
    if page is None or len(words) > 300:
        return False
    before = words[: len(words) - (page.end() - page.start())]
    rest = before.rstrip(_LEADERS + " \t\u2002\u2003")
    gap = before[len(rest) :]
    dots = sum(sign in _LEADERS for sign in gap)
    return any(map(str.isalpha, rest)) and (dots > 2 or "…" in gap or "\t" in gap or (dots == 0 and len(gap) > 3))


def typed_contents(report: Report, lines: Sequence[bool]) -> tuple[TypedContents, ...]:
    """The lists of contents typed by hand: three lines or more, or two under a title.

    ``lines``: of each block, whether it reads like one (``is_contents_line``).
    """
    if True not in lines:
        return ()
    found = []
    here: list[Block] = []
    last_words: Block | None = None
    for block, is_line in zip((*report.blocks, None), (*lines, False), strict=True):
        if type(block) is Paragraph and not block.text.strip():
            continue
        if is_line and block is not None:
            here.append(block)
            continue
        if here and (one := _contents_of(here, last_words)):
            found.append(one)
        here, last_words = [], block
    return tuple(found)


def _contents_of(lines: Sequence[Block], above: Block | None) -> TypedContents | None:
    named = type(above) is Paragraph and above.text.strip(" \t:.").casefold() in CONTENTS_TITLES
    if len(lines) < (2 if named else 3):
        return None
    return TypedContents(above.id if named and above else None, tuple(line.id for line in lines))


def empty_rows(report: Report) -> tuple[EmptyRow, ...]:
    """Rows of two empty paragraphs or more in the text itself."""
    found: list[EmptyRow] = []
    row: list[str] = []
    behind: str | None = None
    for block in (*report.blocks, None):
        if type(block) is Paragraph and not (block.runs and block.text.strip()):
            row.append(block.id)
        elif row:
            if len(row) > 1:
                found.append(EmptyRow(tuple(row), behind))
            row = []
        if block is not None and not row:
            behind = block.id
    return tuple(found)
