"""What a room shows of its report: structure, pages and tables, as the JSON that is sent to the browser.

Offsets in it count UTF-16 code units, as JavaScript does.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from mellowspine.core.pages.pages import Pages
from mellowspine.core.report.blocks import Paragraph
from mellowspine.core.report.tables import Line, Recipe
from mellowspine.core.structure.markers import markers
from mellowspine.core.structure.outline import Outline
from mellowspine.core.tables.behind import Difference

from .changes import changed_keys, splice


@dataclass
class TableView:
    """A placed table: its recipe, its issued lines, and how each line differs from the text."""

    recipe: Recipe
    lines: tuple[Line, ...]
    differences: tuple[Difference, ...]
    page: int
    issued_at: str | None
    issued_by: str | None

    def json(self, who: Mapping[tuple[str, str], dict[str, Any]]) -> dict[str, Any]:
        return {
            "title": self.recipe.title,
            "levels": list(self.recipe.levels),
            "leader": self.recipe.leader,
            "page": self.page,
            "issuedAt": self.issued_at,
            "issuedBy": self.issued_by,
            "lines": [_line(line) for line in self.lines],
            "differences": [_difference(difference, who) for difference in self.differences],
        }


def _line(line: Line) -> dict[str, Any]:
    return line._asdict()


_CAUSE = {"new": "added", "gone": "removed", "renamed": "renamed", "moved": "moved", "level": "level"}


def _difference(difference: Difference, who: Mapping[tuple[str, str], dict[str, Any]]) -> dict[str, Any]:
    line = difference.fresh or difference.issued
    causes = (who.get((line.heading, _CAUSE[kind])) for kind in difference.kinds if kind in _CAUSE) if line else ()
    return {
        "kinds": list(difference.kinds),
        "heading": line.heading if line else "",
        "issued": _line(difference.issued) if difference.issued else None,
        "fresh": _line(difference.fresh) if difference.fresh else None,
        "change": next((cause for cause in causes if cause), None),
    }


@dataclass
class View:
    """The state that every browser in the room holds; ``changes`` brings an older one up to it."""

    pages: int = 1
    headings: list[list[Any]] = field(default_factory=list)
    """[id, level, number, text, page, label] of every heading."""
    edges: list[list[Any]] = field(default_factory=list)
    """[block id, UTF-16 offset, label] of the start of every page but the first."""
    markers: dict[str, str] = field(default_factory=dict)
    tables: dict[str, Any] = field(default_factory=dict)

    def json(self) -> dict[str, Any]:
        return {"pages": self.pages, "headings": self.headings, "edges": self.edges, "markers": self.markers,
                "tables": self.tables}  # fmt: skip

    def changes(self, old: View) -> dict[str, Any]:
        found = {
            "pages": self.pages if self.pages != old.pages else None,
            "headings": splice(old.headings, self.headings),
            "edges": splice(old.edges, self.edges),
            "markers": changed_keys(old.markers, self.markers),
            "tables": _table_changes(old.tables, self.tables),
        }
        return {name: value for name, value in found.items() if value is not None}


def _table_changes(old: dict[str, Any], new: dict[str, Any]) -> dict[str, Any] | None:
    """As ``changed_keys``, but a table whose lines are as before goes without them: there may be a thousand."""
    changed = changed_keys(old, new)
    if changed is None:
        return None
    return {
        key: {name: value for name, value in table.items() if name != "lines"}
        if table and key in old and table["lines"] == old[key]["lines"]
        else table
        for key, table in changed.items()
    }


def view_of(pages: Pages, headings: Outline, tables: dict[str, Any]) -> View:
    return View(
        pages=len(pages),
        headings=[
            [h.id, h.level, h.number, h.text, (page := pages.page_of(h.block, h.row)), pages.label(page)]
            for h in headings
        ],
        edges=_edges(pages),
        markers=dict(markers(pages.report, headings)),
        tables=tables,
    )


def _edges(pages: Pages) -> list[list[Any]]:
    blocks = pages.report.blocks
    result: list[list[Any]] = []
    for number, start in enumerate(pages.starts[1:], 2):
        block = blocks[start.box]
        offset = pages.offset(start.box, start.part)
        if offset and isinstance(block, Paragraph):
            offset = len(block.text[:offset].encode("utf-16-le")) // 2
        elif start.part:
            offset = start.part
        result.append([block.id, offset, pages.label(number)])
    return result
