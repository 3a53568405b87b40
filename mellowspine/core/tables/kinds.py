"""Kinds of table: what each lists. Everything else about tables knows no kind."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from ..pages.pages import Pages
from ..report.blocks import Block, PlacedTable
from ..report.recipes import Recipe
from ..report.tables import Line
from ..structure.outline import Outline


class Sources(NamedTuple):
    """What the lines of a table are made from. ``headings`` say what references in them show, ``on`` is the sheet of each, as
    ``pages_of`` gives it.

    The report itself is ``pages.report``; ``at`` is the index of the block in it where the table is placed, if it is.
    """

    headings: Outline
    pages: Pages
    on: Sequence[int]
    at: int | None = None


class TableKind(NamedTuple):
    """``recipe`` is what a table of this kind begins with, ``nothing`` what is printed where it lists nothing.

    ``why``: why the text gives no lines for a recipe, and what to do about it.
    """

    name: str
    recipe: Recipe
    lines: Callable[[Recipe, Sources], Iterator[Line]]
    nothing: str
    why: Callable[[Recipe, Sources], str]
    from_structure: bool = False
    """Whether its lines follow from the outline, from what is noted and marked, and from paragraphs of styles that feed it: other
    words make no other lines then."""


_KINDS: dict[str, TableKind] = {}


def add_table_kind(kind: TableKind) -> None:
    """Makes a kind known. Raises ValueError if there is one of this name."""
    if kind.name in _KINDS:
        raise ValueError(f"there is a kind of table “{kind.name}” already")
    _KINDS[kind.name] = kind


def table_kind(name: str) -> TableKind:
    """The kind with this name; a name that nobody knows is that of a contents table."""
    return _KINDS.get(name) or _KINDS["contents"]


def pages_of(headings: Outline, pages: Pages) -> list[int]:
    """The sheet on which each heading stands."""
    return pages.pages_of((heading.block, heading.row) for heading in headings)


def sources_of(headings: Outline, pages: Pages, at: int | None = None) -> Sources:
    return Sources(pages.worded, pages, pages_of(headings, pages), at)


def build(recipe: Recipe, sources: Sources) -> tuple[Line, ...]:
    """The lines that the text gives now."""
    return tuple(table_kind(recipe.kind).lines(recipe, sources))


def placed_tables(blocks: Sequence[Block]) -> dict[str, tuple[int, PlacedTable]]:
    """Which block each table stands in, and where that is; a table that is not in the text is not in here."""
    return {block.table: (at, block) for at, block in enumerate(blocks) if type(block) is PlacedTable and block.table}
