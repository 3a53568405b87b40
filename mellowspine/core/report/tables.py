"""What a table is made by (its recipe), and the lines that were issued from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any, NamedTuple

from .blocks import Font


@dataclass(frozen=True, slots=True)
class LevelLook:
    """How the lines of one heading level look. Lengths in points."""

    indent: float
    size: float = 11.0
    bold: bool = False
    space_before: float = 0.0
    space_after: float = 2.0


_LOOKS = (LevelLook(0.0, 11.0, True, 7.0), *(LevelLook(16.0 * depth, 10.5, False, 1.0) for depth in range(1, 9)))


@dataclass(frozen=True, slots=True)
class Recipe:
    """The settings of one table: what goes in, how it looks. They outlive every refresh of its lines."""

    kind: str = "contents"
    """What it lists: see ``tables/kinds.py``."""
    title: str = "Contents"
    levels: tuple[int, ...] = (1, 2, 3)
    font: Font = "Carlito"
    leader: str = "."
    line_spacing: float = 1.35
    """Of its lines, as a multiple of their size."""
    looks: tuple[LevelLook, ...] = _LOOKS

    def look(self, level: int) -> LevelLook:
        return self.looks[level - 1]


class Line(NamedTuple):
    """One entry of a table."""

    source: str
    """The id of what it stands for, to which it leads."""
    level: int
    number: str
    text: str
    pages: tuple[str, ...]
    """The printed numbers of the pages on which that is; one, or several."""


@dataclass(frozen=True, slots=True)
class Issued:
    """A table as it was last brought up to date."""

    recipe: Recipe = Recipe()
    lines: tuple[Line, ...] = ()


def recipe_to_json(recipe: Recipe) -> dict[str, Any]:
    return asdict(recipe)


def recipe_from_json(data: Mapping[str, Any]) -> Recipe:
    values = dict(data)
    values["levels"] = tuple(values.get("levels", Recipe().levels))
    values["looks"] = tuple(LevelLook(**look) for look in values["looks"]) if "looks" in values else _LOOKS
    return Recipe(**values)


def line_to_json(line: Line) -> list[Any]:
    return list(line)


def line_from_json(data: list[Any]) -> Line:
    """Takes lines as well that were kept when each had one page, and no list of them."""
    source, level, number, text, pages = data
    return Line(source, level, number, text, (pages,) if isinstance(pages, str) else tuple(pages))
