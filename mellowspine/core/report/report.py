"""A report: its text, its styles, its page set-up and the tables issued from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from .blocks import Block
from .styles import StyleSheet, default_styles
from .tables import Issued


@dataclass(frozen=True, slots=True)
class PageSetup:
    """Paper and margins, in points. The default is A4 (ISO 216: 210 × 297 mm) with margins of one inch."""

    width: float = 595.28
    height: float = 841.89
    top: float = 72.0
    bottom: float = 72.0
    left: float = 72.0
    right: float = 72.0

    @property
    def text_width(self) -> float:
        return self.width - self.left - self.right

    @property
    def text_height(self) -> float:
        return self.height - self.top - self.bottom


@dataclass(frozen=True, slots=True)
class Report:
    title: str
    blocks: tuple[Block, ...] = ()
    styles: StyleSheet = field(default_factory=default_styles)
    page: PageSetup = PageSetup()
    tables: Mapping[str, Issued] = field(default_factory=dict)
    """Recipe and issued lines of every table, by table id; printed where a PlacedTable names it."""
