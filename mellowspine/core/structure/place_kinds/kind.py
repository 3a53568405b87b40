"""What a kind of place is, beside headings: what marks it in a text, and what is said of it."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from ...report.blocks import Marks, Paragraph
from ..captions import Captions
from ..noted import Marked, Noted, Place
from ..outline import Outline


class Around:
    """What places are told by besides what marks them."""

    def __init__(self, headings: Outline, captions: Captions) -> None:
        self._headings, self.captions = headings, captions

    @cached_property
    def section_number(self) -> Callable[[int, int], str]:
        """Says the number of the section in which a block, or a row of it, stands; empty in front of the first."""
        real = [heading for heading in self._headings if heading.by_hand != "put in"]
        starts, numbers = [(one.block, one.row) for one in real], ["", *(one.number for one in real)]
        return lambda block, row: numbers[bisect_right(starts, (block, row))]


@dataclass(frozen=True, slots=True)
class PlaceKind:
    """One of ``mark`` and ``paragraph`` says where there is such a place; ``place`` makes it.

    ``place`` is given what marks it, the notes on its paragraph, the index of its block, and what is around.
    """

    name: str
    place: Callable[[Marked, Noted, int, Around], Place]
    mark: Callable[[Marks], tuple[str, str] | None] | None = None
    """Of words: the id and name of the place that they are, if they are one."""
    paragraph: Callable[[Paragraph], bool] | None = None
    """Whether a paragraph as a whole is one; its id is that of the place."""
    has_name: bool = False
    """Whether its text is a name that somebody gave it: files know it by that as well."""
