"""Styles: what a paragraph is, and how it looks. Lengths in points, line spacing as a multiple of the size."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import asdict, dataclass, fields, replace
from types import NoneType
from typing import Annotated, Any, Literal, get_args, get_origin, get_type_hints

from .blocks import Align

LEVELS = range(1, 10)
"""Heading levels; nine, as in ISO/IEC 29500-1 17.3.1.20."""

Role = Literal["body", "title", "subtitle", "table-title", "caption", "quotation", "cell", "code"]
"""What a style is for, where something other than its author chooses it."""

Marker = Literal["bullet", "decimal", "number"]
"""What hangs in front of a paragraph; ``number`` is the computed number of a heading."""

_COLOUR = re.compile(r"#[0-9a-f]{6}")
_ID = re.compile(r"[a-z0-9][a-z0-9-]{0,63}")


class StyleError(ValueError):
    """A style's settings cannot be used; the message is a sentence for the person."""


@dataclass(frozen=True, slots=True)
class Property:
    """What values one setting of a style may have: numbers of a range, in a unit; or words of a form, said by ``how``."""

    least: float = 0.0
    most: float = 0.0
    unit: str = ""
    form: re.Pattern[str] | None = None
    how: str = ""

    def fault(self, value: Any) -> str | None:
        """How to choose another value, if this cannot be used."""
        if self.form:
            return None if self.form.fullmatch(value) else self.how
        if value is None or self.least <= value <= self.most:
            return None
        return f"choose {self.least:g} to {self.most:g} {self.unit}".rstrip()


@dataclass(frozen=True, slots=True)
class Style:
    """Each line is a property of styles: its type, what values it may have, and its default. Lengths are in points."""

    id: Annotated[str, Property(form=_ID, how="use small letters, digits and hyphens")]
    name: str
    role: Role | None = None
    font: str = "Caladea"
    size: Annotated[float, Property(1, 400, "points")] = 11.0
    bold: bool = False
    italic: bool = False
    colour: Annotated[str, Property(form=_COLOUR, how="write it as #rrggbb")] = "#000000"
    align: Align = "left"
    space_before: Annotated[float, Property(0, 500, "points")] = 0.0
    space_after: Annotated[float, Property(0, 500, "points")] = 8.0
    line_spacing: Annotated[float, Property(0.5, 10)] = 1.4
    """As a multiple of the size."""
    indent: Annotated[float, Property(0, 500, "points")] = 0.0
    first_line: Annotated[float, Property(-500, 500, "points")] = 0.0
    """Offset of the first line from ``indent``; negative for a hanging first line."""
    keep_with_next: bool = False
    new_page: bool = False
    outline_level: Annotated[int | None, Property(LEVELS[0], LEVELS[-1])] = None
    next: str = "body"
    marker: Marker | None = None
    """Stands at ``indent + first_line``; the text itself begins at ``indent``."""
    list_level: Annotated[int | None, Property(1, 9)] = None
    """Level of the list that its paragraphs are items of."""

    def __post_init__(self) -> None:
        for name, allowed in PROPERTIES.items():
            value = getattr(self, name)
            if fault := allowed.fault(value):
                raise StyleError(f"Style “{self.name}” has “{value}” as its {name.replace('_', ' ')}; {fault}.")
        for name, choices in CHOICES.items():
            value = getattr(self, name)
            if value not in choices:
                offered = ", ".join("none" if choice is None else choice for choice in choices)
                raise StyleError(f"Style “{self.name}” has “{value}” as its {name}; choose one of {offered}.")


_TYPES = get_type_hints(Style, include_extras=True)

PROPERTIES: Mapping[str, Property] = {
    name: more for name, type in _TYPES.items() for more in get_args(type) if isinstance(more, Property)
}
"""What the values of a property may be, beyond its type; by name."""


def _choices(type: Any) -> tuple[str | None, ...]:
    """The values of a type that has few of them: a Literal, or one that may be None; else nothing."""
    if get_origin(type) is Literal:
        return get_args(type)
    inner = [choice for one in get_args(type) for choice in _choices(one)]
    return (None, *inner) if inner and NoneType in get_args(type) else ()


CHOICES: Mapping[str, tuple[str | None, ...]] = {
    name: found for name, type in _TYPES.items() if (found := _choices(type))
}
"""What a property may be, where that is one of a few; by name."""


class StyleSheet(Mapping[str, Style]):
    """The styles of a report by id, in the order in which they are offered. An unknown id gives the body style."""

    __slots__ = ("_body", "_styles", "levels")

    def __init__(self, styles: Iterable[Style]) -> None:
        self._styles = {style.id: style for style in styles}
        body = next((style for style in self._styles.values() if style.role == "body"), None)
        if body is None:
            raise StyleError("A style sheet needs a style for body text; add one with the role “body”.")
        self._body = body
        self.levels: dict[str, int] = {s.id: s.outline_level for s in self._styles.values() if s.outline_level}
        """Outline level of every style that has one."""

    def __getitem__(self, key: str) -> Style:
        return self._styles.get(key, self._body)

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

    def role(self, role: Role) -> Style:
        """The first style for this; the body style if there is none."""
        return next((style for style in self._styles.values() if style.role == role), self._body)

    def heading(self, level: int) -> Style:
        """The first style with this outline level; the body style if there is none."""
        return next((self._styles[key] for key, found in self.levels.items() if found == level), self._body)

    def item(self, marker: Marker, level: int) -> Style:
        """The style for list items of this level, or else of the deepest level above it; the body style if there is none."""
        found = [s for s in self._styles.values() if s.marker == marker and s.list_level and s.list_level <= level]
        return max(found, key=lambda style: style.list_level or 0, default=self._body)


def style_to_json(style: Style) -> dict[str, Any]:
    return asdict(style)


def style_from_json(data: Mapping[str, Any]) -> Style:
    """Raises StyleError for values out of range; unknown keys are left out."""
    known = {one.name for one in fields(Style)}
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
            Style("body", "Body text", "body"),
            Style("title", "Title", "title", size=30, colour="#33263b", space_before=120, space_after=10, line_spacing=1.15,
                  keep_with_next=True, next="subtitle"),
            Style("subtitle", "Subtitle", "subtitle", font="Carlito", size=15, colour="#5a5260", space_after=24, line_spacing=1.3),
            Style("table-title", "Table title", "table-title", font="Carlito", size=17, bold=True, colour="#33263b", space_after=10,
                  line_spacing=1.2, keep_with_next=True),
            *_headings(),
            Style("caption", "Caption", "caption", font="Carlito", size=9.5, colour="#4a4350", space_before=4, space_after=14,
                  line_spacing=1.3),
            Style("quotation", "Quotation", "quotation", italic=True, space_before=4, space_after=12, indent=24),
            *(
                Style(f"bullet-{level}", f"Bulleted list {level}", space_after=4, indent=18.0 * level,
                      first_line=-14.0, marker="bullet", list_level=level, next=f"bullet-{level}")
                for level in (1, 2, 3)
            ),
            *(
                Style(f"item-{level}", f"Numbered list {level}", space_after=4, indent=20.0 * level,
                      first_line=-18.0, marker="decimal", list_level=level, next=f"item-{level}")
                for level in (1, 2, 3)
            ),
            Style("cell", "Data table text", "cell", font="Carlito", size=9.5, space_after=2, line_spacing=1.25, next="cell"),
            Style("code", "Fixed-width text", "code", font="Liberation Mono", size=9, line_spacing=1.3, next="code"),
        ]
    )  # fmt: skip
