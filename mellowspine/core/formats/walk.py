"""What the writers of formats share: what they are given, and words for kinds of block that a format does not know."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from datetime import datetime
from typing import NamedTuple

from ..pages.pages import Pages
from ..pages.typefaces import Typefaces
from ..report.blocks import Block
from ..report.elements import Element, Words, element_of
from ..report.formulas import words_of_formula
from ..report.report import Report
from .imported import Progress, unhurried


class About(NamedTuple):
    """What files say of a report beside what is in it: who wrote it, and when the file is made. Without a date it is one that
    is always the same, and so are the bytes of the file."""

    authors: tuple[str, ...] = ()
    at: datetime | None = None


class Written(NamedTuple):
    """What a writer is given. ``pages`` are the report's own; ``pictures`` are files by the source of image blocks."""

    report: Report
    pages: Pages
    typefaces: Typefaces
    pictures: Mapping[str, bytes]
    progress: Progress = unhurried
    about: About = About()
    only: frozenset[int] | None = None
    """The blocks of the report that are written, by index; None for all (``chosen.py``)."""

    @property
    def blocks(self) -> Iterator[tuple[int, Block]]:
        """What is written of the report as it is set, each block with its index."""
        blocks = self.pages.report.blocks
        return ((at, block) for at, block in enumerate(blocks) if self.only is None or at in self.only)


class Format(NamedTuple):
    """A format that can be written. ``media_type`` is its name on the web (IANA, media types)."""

    write: Callable[[Written], bytes]
    media_type: str
    goes_on: bool = False
    """Whether files are for going on with: nothing is put into them that the report has not."""
    pictures_beside: bool = False
    """Whether pictures may lie beside the file, under the names of their sources; those not given are expected there."""


def plain_words(block: Block) -> str:
    """All words of a block, whatever its kind: each paragraph in it on a line of its own."""
    return "\n".join(line for line in _lines(element_of(block)) if line)


def _lines(element: Element) -> Iterator[str]:
    """The words of an element, and then of each within it; an element that holds nothing is a break among words."""
    yield "".join(_said(child) for child in element.children if not _holds(child))
    for child in element.children:
        if isinstance(child, Element):
            yield from _lines(child)


def _said(child: Element | Words) -> str:
    if isinstance(child, Words):
        return child.text
    return words_of_formula(child.attributes["mathml"]) if child.tag == "formula" else " "


def _holds(child: Element | Words) -> bool:
    return isinstance(child, Element) and bool(child.children)


def slugs_of(texts: Iterable[str]) -> Iterator[str]:
    """What headings are called in the addresses of links within a file: their words in small letters, with hyphens for spaces
    and without other signs; a number behind those that are there already (common practice, no source)."""
    seen: dict[str, int] = {}
    for text in texts:
        slug = re.sub(r"[^\w\- ]", "", text.strip().lower()).replace(" ", "-")
        count = seen[slug] = seen.get(slug, -1) + 1
        yield f"{slug}-{count}" if count else slug
