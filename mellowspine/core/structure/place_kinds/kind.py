"""What a kind of place is, beside headings: what marks it in a text, and what is said of it."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from ...report.blocks import Marks
from ..captions import Captions
from ..noted import Marked, Noted, Place
from ..outline import Outline


class Around:
    """What places are told by besides what marks them."""

    def __init__(self, headings: Outline, captions: Captions) -> None:
        self._headings, self.captions = headings, captions

    @cached_property
    def _sections(self) -> tuple[list[tuple[int, int]], list[str]]:
        real = [heading for heading in self._headings if heading.by_hand != "put in"]
        return [(heading.block, heading.row) for heading in real], ["", *(heading.number for heading in real)]

    def section_number(self, block: int, row: int) -> str:
        """The number of the section in which a block, or a row of it, stands; empty in front of the first."""
        starts, numbers = self._sections
        return numbers[bisect_right(starts, (block, row))]


@dataclass(frozen=True, slots=True)
class PlaceKind:
    """One of ``mark`` and ``paragraph`` says where there is such a place; ``place`` makes it.

    ``place`` is given what marks it, the notes on its paragraph, the index of its block, and what is around.
    """

    name: str
    place: Callable[[Marked, Noted, int, Around], Place]
    mark: Callable[[Marks], tuple[str, str] | None] | None = None
    """Of words: the id and name of the place that they are, if they are one."""
    paragraph: Callable[[Noted], bool] | None = None
    """Whether a paragraph as a whole is one; its id is that of the place."""
    has_name: bool = False
    """Whether its text is a name that somebody gave it: files know it by that as well."""
