"""Styles: what a paragraph is, and how it looks. Lengths in points, line spacing as a multiple of the size."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import asdict, dataclass, fields, replace
from typing import Any, Literal

from .blocks import Align

LEVELS = range(1, 10)
"""Heading levels; nine, as in ISO/IEC 29500-1 17.3.1.20."""

_COLOUR = re.compile(r"#[0-9a-f]{6}")
_ID = re.compile(r"[a-z0-9][a-z0-9-]{0,63}")


class StyleError(ValueError):
    """A style's settings cannot be used; the message is a sentence for the person."""


@dataclass(frozen=True, slots=True)
class Style:
    id: str
    name: str
    font: str = "Caladea"
    size: float = 11.0
    bold: bool = False
    italic: bool = False
    colour: str = "#000000"
    align: Align = "left"
    space_before: float = 0.0
    space_after: float = 8.0
    line_spacing: float = 1.4
    indent: float = 0.0
    first_line: float = 0.0
    """Offset of the first line from ``indent``; negative for a hanging first line."""
    keep_with_next: bool = False
    new_page: bool = False
    outline_level: int | None = None
    next: str = "body"
    marker: Literal["bullet", "decimal", "number"] | None = None
    """What hangs in front of the paragraph at ``indent + first_line``; the text itself begins at ``indent``.

    ``number`` is the computed number of a heading.
    """

    def __post_init__(self) -> None:
        if not _ID.fullmatch(self.id):
            raise StyleError(f"“{self.id}” cannot name a style: use small letters, digits and hyphens.")
        if self.outline_level is not None and self.outline_level not in LEVELS:
            raise StyleError(f"Style “{self.name}” has outline level {self.outline_level}; levels go from 1 to 9.")
        if not 1 <= self.size <= 400:
            raise StyleError(f"Style “{self.name}” has size {self.size}; sizes go from 1 to 400 points.")
        if not 0.5 <= self.line_spacing <= 10:
            raise StyleError(f"Style “{self.name}” has line spacing {self.line_spacing}; choose 0.5 to 10.")
        if not _COLOUR.fullmatch(self.colour):
            raise StyleError(f"Style “{self.name}” has colour “{self.colour}”; write it as #rrggbb.")


class StyleSheet(Mapping[str, Style]):
    """The styles of a report by id, in the order in which they are offered. An unknown id gives the body style."""

    __slots__ = ("_styles", "levels")

    def __init__(self, styles: Iterable[Style]) -> None:
        self._styles = {style.id: style for style in styles}
        if "body" not in self._styles:
            raise StyleError("A style sheet needs a body style; add one with the id “body”.")
        self.levels: dict[str, int] = {s.id: s.outline_level for s in self._styles.values() if s.outline_level}
        """Outline level of every style that has one."""

    def __getitem__(self, key: str) -> Style:
        return self._styles.get(key) or self._styles["body"]

    def __contains__(self, key: object) -> bool:
        return key in self._styles

    def __iter__(self) -> Iterator[str]:
        return iter(self._styles)

    def __len__(self) -> int:
        return len(self._styles)

    def numbered(self) -> StyleSheet:
        """The same styles with every heading numbered. Room for the number is kept by level, so that a heading's lines
        do not depend on the headings before it: 1.6 em for level 1 and 0.75 em more for each further level."""
        styles = []
        for style in self._styles.values():
            if style.outline_level:
                room = style.size * (0.85 + 0.75 * style.outline_level)
                style = replace(style, marker="number", indent=room, first_line=-room)
            styles.append(style)
        return StyleSheet(styles)

    def heading(self, level: int) -> str:
        """The id of the first style with this outline level; the body style if there is none."""
        return next((key for key, found in self.levels.items() if found == level), "body")


def style_to_json(style: Style) -> dict[str, Any]:
    return asdict(style)


def style_from_json(data: Mapping[str, Any]) -> Style:
    """Raises StyleError for values out of range; unknown keys are left out."""
    known = {field.name for field in fields(Style)}
    return Style(**{key: value for key, value in data.items() if key in known})


def _headings() -> Iterator[Style]:
    sizes = (20.0, 15.0, 12.5, 11.5, 11.0, 11.0, 11.0, 11.0, 11.0)
    before = (28.0, 20.0, 16.0, 12.0, 10.0, 10.0, 10.0, 10.0, 10.0)
    for level, size, space in zip(LEVELS, sizes, before, strict=True):
        yield Style(
            f"heading-{level}",
            f"Heading {level}",
            font="Carlito",
            size=size,
            bold=level != 5,
            italic=level >= 5,
            colour="#33263b",
            space_before=space,
            space_after=(12.0, 6.0, 5.0, 4.0, 3.0, 3.0, 3.0, 3.0, 3.0)[level - 1],
            line_spacing=1.2,
            keep_with_next=True,
            outline_level=level,
        )


def default_styles() -> StyleSheet:
    """The style sheet of a new report."""
    return StyleSheet(
        [
            Style("body", "Body text"),
            Style("title", "Title", size=30, colour="#33263b", space_before=120, space_after=10, line_spacing=1.15,
                  keep_with_next=True, next="subtitle"),
            Style("subtitle", "Subtitle", font="Carlito", size=15, colour="#5a5260", space_after=24, line_spacing=1.3),
            Style("table-title", "Table title", font="Carlito", size=17, bold=True, colour="#33263b", space_after=10,
                  line_spacing=1.2, keep_with_next=True),
            *_headings(),
            Style("caption", "Caption", font="Carlito", size=9.5, colour="#4a4350", space_before=4, space_after=14,
                  line_spacing=1.3),
            Style("quotation", "Quotation", italic=True, space_before=4, space_after=12, indent=24),
            *(
                Style(f"bullet-{level}", f"Bulleted list {level}", space_after=4, indent=18.0 * level,
                      first_line=-14.0, marker="bullet", next=f"bullet-{level}")
                for level in (1, 2, 3)
            ),
            *(
                Style(f"item-{level}", f"Numbered list {level}", space_after=4, indent=20.0 * level,
                      first_line=-18.0, marker="decimal", next=f"item-{level}")
                for level in (1, 2, 3)
            ),
            Style("cell", "Data table text", font="Carlito", size=9.5, space_after=2, line_spacing=1.25, next="cell"),
            Style("code", "Fixed-width text", font="Liberation Mono", size=9, line_spacing=1.3, next="code"),
        ]
    )  # fmt: skip
