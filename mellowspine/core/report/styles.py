"""Styles: what a paragraph is, and how it looks. Lengths in points, line spacing as a multiple of the size.

A style may be based on another: what it does not say itself is as that one has it, and follows when that one changes.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import asdict, dataclass, fields, replace
from typing import Annotated, Any, Literal

from .blocks import FONT_NAME, Align, Capitals
from .borders import FORM as BORDERS
from .properties import Property, SettingError, choices_of, properties_of, usable, validate
from .tab_stops import FORM as TAB_STOPS

LEVELS = range(1, 10)
"""Heading levels; nine, as in ISO/IEC 29500-1 17.3.1.20."""

Role = Literal["body", "title", "subtitle", "table-title", "caption", "quotation", "cell", "code", "running", "note"]
"""What a style is for, where something other than its author chooses it."""

Marker = Literal["bullet", "decimal", "upper-roman", "lower-roman", "upper-letter", "lower-letter"]
"""What hangs in front of a list item: a bullet, or figures of this kind."""

_COLOUR = re.compile(r"#[0-9a-f]{6}")
_BACKGROUND = re.compile(r"#[0-9a-f]{6}|none")
_MARKER_TEXT = re.compile(r"[^\x00-\x1f\x7f]{0,60}")
_ID = re.compile(r"[a-z0-9][a-z0-9-]{0,63}")


@dataclass(frozen=True, slots=True)
class Style:
    """Each line is a property of styles: its type, what values it may have, and its default. Lengths are in points."""

    id: Annotated[str, Property(form=_ID, how="use small letters, digits and hyphens")]
    name: str
    role: Role | None = None
    based_on: str | None = None
    declared: frozenset[str] = frozenset()
    """Names of the properties that it sets itself, where it is based on another."""
    put_away: bool = False
    """Not offered where a style is chosen."""
    next: str = "body"
    """The style of the paragraph that Enter begins at the end of one of these."""
    font: Annotated[str, Property(form=FONT_NAME, how="write the name of a typeface, at most 60 characters")] = (
        "Caladea"
    )
    size: Annotated[float, Property(1, 400, "points")] = 11.0
    bold: bool = False
    italic: bool = False
    underline: bool = False
    strike: bool = False
    capitals: Capitals = "none"
    colour: Annotated[str, Property(form=_COLOUR, how="write it as #rrggbb")] = "#000000"
    align: Align = "left"
    space_before: Annotated[float, Property(0, 500, "points")] = 0.0
    space_after: Annotated[float, Property(0, 500, "points")] = 8.0
    line_spacing: Annotated[float, Property(0.5, 10)] = 1.4
    """As a multiple of the size."""
    indent: Annotated[float, Property(0, 500, "points")] = 0.0
    first_line: Annotated[float, Property(-500, 500, "points")] = 0.0
    """Offset of the first line from ``indent``; negative for a hanging first line."""
    right_indent: Annotated[float, Property(0, 500, "points")] = 0.0
    background: Annotated[str, Property(form=_BACKGROUND, how="write it as #rrggbb, or none")] = "none"
    """The colour behind the paragraph, from its indent to its right indent."""
    borders: Annotated[
        str, Property(form=BORDERS, how="write them as “top 1 #000000, left 0.5 #b9b3bf dashed”, or none")
    ] = "none"
    """Lines around the paragraph, as ``borders.borders_of`` reads them."""
    contextual_spacing: bool = False
    """No space above or below next to a paragraph of the same style (ISO/IEC 29500-1, 17.3.1.9)."""
    tab_stops: Annotated[str, Property(form=TAB_STOPS, how="write them as “72 left, 450 right dots”, 20 at most")] = ""
    """As ``tab_stops.tab_stops_of`` reads it."""
    hyphenate: bool = False
    """Whether its words may be parted at the end of a line, in languages with patterns for it."""
    keep_with_next: bool = False
    keep_together: bool = False
    """Its lines are not parted, where one page holds all of them."""
    orphans: Annotated[int, Property(1, 9, "lines")] = 2
    """How many lines a paragraph leaves at least at the foot of a page (CSS Fragmentation 3, 3.3)."""
    widows: Annotated[int, Property(1, 9, "lines")] = 2
    """How many lines it has at least at the head of the next one."""
    new_page: bool = False
    outline_level: Annotated[int | None, Property(LEVELS[0], LEVELS[-1])] = None
    marker: Marker | None = None
    """Stands at ``indent + first_line``; the text itself begins at ``indent``."""
    marker_text: Annotated[str, Property(form=_MARKER_TEXT, how="write at most 60 characters")] = ""
    """A numbered marker as it is written: ``%1`` stands for the figure of level 1, and so on (ISO/IEC 29500-1, 17.9.11); empty
    for the figure of its own level and a full stop. Of a bullet, its sign; empty for the usual one of its level."""
    list_level: Annotated[int | None, Property(1, 9)] = None
    """Level of the list that its paragraphs are items of."""

    def __post_init__(self) -> None:
        if not (isinstance(self.name, str) and isinstance(self.next, str) and isinstance(self.based_on, str | None)):
            raise SettingError(
                f"Style “{str(self.id)[:80]}” needs a name, and names of other styles; write them as words."
            )
        for name in (*PROPERTIES, *CHOICES):
            value = getattr(self, name)
            if fault := validate(name, value, PROPERTIES, CHOICES):
                title = str(self.name)[:80]
                raise SettingError(f"Style “{title}” has “{str(value)[:80]}” as its {name.replace('_', ' ')}; {fault}.")


PROPERTIES = properties_of(Style)
"""What the values of a property may be, beyond its type; by name."""

CHOICES = choices_of(Style)
"""What a property may be, where that is one of a few; by name."""

OWN = frozenset({"id", "name", "role", "based_on", "declared", "put_away", "next"})
"""What a style never takes from the one that it is based on."""

INHERITED: Mapping[str, Any] = {one.name: one.default for one in fields(Style) if one.name not in OWN}
"""What a style that is based on another takes from that one where it does not say it; each with its default."""


def based_on(style: Style, base: Style) -> Style:
    """The style with the same look, based on another: it says itself only in what it differs from that one."""
    return replace(
        style,
        based_on=base.id,
        declared=frozenset(name for name in INHERITED if getattr(style, name) != getattr(base, name)),
    )


def _declaring(style: Style, base: Style | None) -> Style:
    if base is None:
        return style if style.based_on is None else replace(style, based_on=None, declared=frozenset())
    declared = style.declared | based_on(style, base).declared
    return style if declared == style.declared else replace(style, declared=declared)


class StyleSheet(Mapping[str, Style]):
    """The styles of a report by id, in the order in which they are offered. An unknown id gives the body style.

    A style says itself whatever it has otherwise than the style it is based on; one that is based on a style that is
    not here is based on none.
    """

    __slots__ = ("_body", "_styles", "levels")

    def __init__(self, styles: Iterable[Style]) -> None:
        given = {style.id: style for style in styles}
        self._styles = {id: _declaring(style, given.get(style.based_on or "")) for id, style in given.items()}
        body = next((style for style in self._styles.values() if style.role == "body"), None)
        if body is None:
            raise SettingError("A style sheet needs a style for body text; add one with the role “body”.")
        self._body = body
        self.levels: dict[str, int] = {s.id: s.outline_level for s in self._styles.values() if s.outline_level}
        """Outline level of every style that has one."""

    def __getitem__(self, key: str) -> Style:
        return self._styles.get(key, self._body)

    def find(self, key: str) -> Style | None:
        """The style with this id, if there is one."""
        return self._styles.get(key)

    def __contains__(self, key: object) -> bool:
        return key in self._styles

    def __iter__(self) -> Iterator[str]:
        return iter(self._styles)

    def __len__(self) -> int:
        return len(self._styles)

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
    """What is kept of a style: all that it says itself."""
    left_out = {"declared"} if style.based_on is None else {"declared", *(INHERITED.keys() - style.declared)}
    return {name: value for name, value in asdict(style).items() if name not in left_out}


def resolved(stored: Iterable[Mapping[str, Any]]) -> StyleSheet:
    """The style sheet whose styles say what was kept of each; unknown keys are left out.

    Raises SettingError for values that cannot be used, and for styles based on each other in a circle. A style that is
    based on one that is gone says all by itself: what it does not say has its default.
    """
    said = {data["id"]: data for data in stored}
    made: dict[str, Style] = {}

    def make(id: str) -> None:
        data = said[id]
        base = made.get(data.get("based_on") or "")
        own = {name: value for name, value in data.items() if name in INHERITED}
        look = {name: getattr(base, name) for name in INHERITED} if base else {}
        others = {name: data[name] for name in ("name", "role", "put_away", "next") if name in data}
        made[id] = Style(
            id=id, **others, based_on=base.id if base else None,
            declared=frozenset(own if base else ()), **look | own
        )  # fmt: skip

    for id in said:
        waiting: dict[str, None] = {}
        at = id
        while at in said and at not in made:
            if at in waiting:
                circle = [*waiting][[*waiting].index(at) :]
                names = " and ".join(f"“{said[one]['name']}”" for one in circle)
                raise SettingError(
                    f"{names} would be based on each other in a circle; base one of them on another style."
                )
            waiting[at] = None
            at = str(said[at].get("based_on"))
        for one in reversed(waiting):
            make(one)
    return StyleSheet(made[id] for id in said)


def styles_from_json(stored: Iterable[Any]) -> StyleSheet:
    """The style sheet that was kept. What is unknown or cannot be used is left out, whoever put it there."""
    found = []
    for data in stored:
        own = usable(data, PROPERTIES, CHOICES)
        if "id" not in own:
            continue
        words = {name: data[name] for name in ("name", "next", "based_on") if isinstance(data.get(name), str)}
        found.append({"name": own["id"], **own, **words})
    try:
        return resolved(found)
    except SettingError:  # no body text among them, or styles based on each other in a circle
        alone = [{**data, "based_on": None} for data in found]
        return resolved([*(style_to_json(style) for style in default_styles().values()), *alone])


def _headings(body: Style) -> Iterator[Style]:
    sizes = (20.0, 15.0, 12.5, 11.5, 11.0, 11.0, 11.0, 11.0, 11.0)
    before = (28.0, 20.0, 16.0, 12.0, 10.0, 10.0, 10.0, 10.0, 10.0)
    for level, size, space in zip(LEVELS, sizes, before, strict=True):
        yield replace(
            body,
            id=f"heading-{level}",
            name=f"Heading {level}",
            role=None,
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
    """The style sheet of a new report. All others are based on body text."""
    body = Style("body", "Body text", "body")
    further = [
        Style("title", "Title", "title", size=30, colour="#33263b", space_before=120, space_after=10, line_spacing=1.15,
              keep_with_next=True, next="subtitle"),
        Style("subtitle", "Subtitle", "subtitle", font="Carlito", size=15, colour="#5a5260", space_after=24, line_spacing=1.3),
        Style("table-title", "Table title", "table-title", font="Carlito", size=17, bold=True, colour="#33263b", space_after=10,
              line_spacing=1.2, keep_with_next=True),
        *_headings(body),
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
        Style("head-and-foot", "Head and foot", "running", font="Carlito", size=9, colour="#4a4350", space_after=0, line_spacing=1.2),
        Style("note", "Note", "note", size=9, space_after=2, line_spacing=1.25, next="note"),
        Style("code", "Fixed-width text", "code", font="Liberation Mono", size=9, line_spacing=1.3, next="code"),
    ]  # fmt: skip
    return StyleSheet([body, *(based_on(style, body) for style in further)])
