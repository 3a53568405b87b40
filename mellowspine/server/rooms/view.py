"""What a room shows of its report: structure, pages and tables. Every browser holds a copy and keeps it up to date
with the changes that are sent after each edit. Offsets count UTF-16 code units, as JavaScript does.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from mellowspine.core.pages.pages import Edge, Pages
from mellowspine.core.report.blocks import Paragraph
from mellowspine.core.report.tables import Line
from mellowspine.core.tables.behind import Difference

from .causes import Causes
from .changes import changed_keys, splice


@dataclass(frozen=True, slots=True)
class TableView:
    """A placed table: what is to be known about it, its issued lines, and how each differs from the text."""

    about: Mapping[str, Any] = field(default_factory=dict)
    lines: Sequence[Line] = ()
    differences: Sequence[list[Any]] = ()
    """[kinds, issued line or None, fresh line or None, cause or None]"""

    def changes(self, old: TableView) -> dict[str, Any] | None:
        found = {
            "about": self.about if self.about != old.about else None,
            "lines": splice(old.lines, self.lines),
            "differences": splice(old.differences, self.differences),
        }
        return {name: value for name, value in found.items() if value is not None} or None


def differences_view(differences: Sequence[Difference], causes: Causes) -> list[list[Any]]:
    return [[one.kinds, one.issued, one.fresh, causes.of(one.line.heading, one.kinds)] for one in differences]


@dataclass(frozen=True, slots=True)
class View:
    labels: Sequence[str] = ()
    """The printed number of every page."""
    headings: Sequence[tuple[str, int, str, str]] = ()
    """Id, level, number and text of every heading."""
    on: Sequence[int] = ()
    """The page of every heading, counted from 1."""
    edges: Sequence[tuple[str, int]] = ()
    """Block id and offset in it of the start of every page but the first."""
    markers: Mapping[str, str] = field(default_factory=dict)
    tables: Mapping[str, TableView] = field(default_factory=dict)

    def changes(self, old: View) -> dict[str, Any]:
        """What brings an older view up to this one; empty if nothing differs."""
        tables = {key: table.changes(old.tables.get(key, TableView())) for key, table in self.tables.items()}
        found = {
            "labels": splice(old.labels, self.labels),
            "headings": splice(old.headings, self.headings),
            "on": splice(old.on, self.on),
            "edges": splice(old.edges, self.edges),
            "markers": changed_keys(old.markers, self.markers),
            "tables": {key: change for key, change in tables.items() if change}
            | {key: None for key in old.tables if key not in self.tables},
        }
        return {name: value for name, value in found.items() if value}


def edges_view(pages: Pages) -> list[tuple[str, int]]:
    return [(edge.block.id, _utf16(edge)) for edge in pages.edges()]


def _utf16(edge: Edge) -> int:
    block, offset = edge.block, edge.offset
    return len(block.text[:offset].encode("utf-16-le")) // 2 if isinstance(block, Paragraph) else offset
