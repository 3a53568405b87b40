"""The lines that were issued from a table's recipe, and what somebody wants otherwise in them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from .recipes import Recipe
from .styles import LEVELS


class Emphasis(NamedTuple):
    """A stretch of a line's words (from character ``start`` to before ``end``) that is set otherwise than the rest.

    ``how`` holds "i" for italic, "b" for bold, "u" for underlined.
    """

    start: int
    end: int
    how: str


class Lead(NamedTuple):
    """Where a page number leads: the id of a place. ``main`` for the one that says most."""

    to: str
    main: bool = False


class Line(NamedTuple):
    """One entry of a table."""

    source: str
    """The id of what it stands for, to which it leads."""
    level: int
    number: str
    text: str
    pages: tuple[str, ...]
    """The printed numbers of the pages on which that is; one, or several."""
    emphasis: tuple[Emphasis, ...] = ()
    leads: tuple[Lead, ...] = ()
    """Where each of its pages leads, if not to its source."""

    @property
    def to(self) -> str:
        """Where its words lead."""
        return self.leads[0].to if self.leads else self.source


class OwnWords(NamedTuple):
    """A line's wording as somebody set it by hand, or its absence."""

    words: str | None
    """None for a line that is left out."""
    heading: str
    """The heading's words that they stand for; the line says so where it has others by now. Nothing if these are not known."""


@dataclass(frozen=True, slots=True)
class Issued:
    """A table as it was last brought up to date."""

    recipe: Recipe = field(default_factory=Recipe)
    lines: tuple[Line, ...] = ()
    own: Mapping[str, OwnWords] = field(default_factory=dict)
    """By source of the line."""


def line_to_json(line: Line) -> list[Any]:
    return list(line)


def line_from_json(data: Any) -> Line | None:
    """Takes lines as well that were kept when each had one page, and no list of them, and when none had emphasis.

    None for what is no line.
    """
    try:
        source, level, number, text, pages, *rest = data
        emphasis = tuple(Emphasis(*one) for one in rest[0]) if rest else ()
        leads = tuple(Lead(*one) for one in rest[1]) if len(rest) > 1 else ()
        line = Line(source, level, number, text, (pages,) if isinstance(pages, str) else tuple(pages), emphasis, leads)
    except (TypeError, ValueError):
        return None
    words = (line.source, line.number, line.text, *line.pages)
    return line if all(isinstance(one, str) for one in words) and line.level in LEVELS else None


def own_words_from_json(data: Any) -> OwnWords | None:
    """Own words as they were kept; None for what are none."""
    try:
        return OwnWords(*data)
    except TypeError:
        return None
