"""Recipes: the settings of one table, what goes in and how it looks. Lengths in points.

They outlive every refresh of its lines. A setting has a path: ``("leader",)``, ``("looks", "2", "size")``; recipes are
changed one setting at a time, so that two people who change different settings both have their way.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass, field, fields, replace
from typing import Annotated, Any, Literal

from .blocks import FONT_NAME
from .elements import identifier
from .properties import Property, SettingError, choices_of, properties_of, validate
from .styles import LEVELS

VERSION = 2
"""Of the form in which recipes are kept. The first had one face and line spacing for all levels."""

_COLOUR = Property(form=re.compile(r"#[0-9a-f]{6}"), how="write it as #rrggbb")
_FONT = Property(form=FONT_NAME, how="write the name of a typeface, at most 60 characters")
_WORDS = Property(form=re.compile(r"[^\n\r\t]{0,200}"), how="write at most 200 characters, on one line")
_LEADER = Property(form=re.compile(r"\S?"), how="choose a single character, or none")
_ID = Property(form=re.compile(r"[A-Za-z0-9_-]{0,64}"), how="choose a style or section of this report")

HERE = "here"
"""As the section of a recipe: the one in which the table stands."""


@dataclass(frozen=True, slots=True)
class LevelLook:
    """How the lines of one level look."""

    indent: Annotated[float, Property(0, 500, "points")] = 0.0
    hang: Annotated[float, Property(0, 200, "points")] = 0.0
    """How much further the second and all following rows of a line are indented."""
    font: Annotated[str, _FONT] = "Carlito"
    size: Annotated[float, Property(4, 144, "points")] = 10.5
    bold: bool = False
    italic: bool = False
    colour: Annotated[str, _COLOUR] = "#000000"
    capitals: bool = False
    page_number: bool = True
    """Whether its lines have their page numbers, in a table that has any."""
    space_before: Annotated[float, Property(0, 200, "points")] = 1.0
    space_after: Annotated[float, Property(0, 200, "points")] = 2.0
    line_spacing: Annotated[float, Property(0.5, 10)] = 1.35
    """As a multiple of the size."""

    def __post_init__(self) -> None:
        _check(self, LOOK_PROPERTIES, LOOK_CHOICES, "A line of a table")


LOOK_PROPERTIES, LOOK_CHOICES = properties_of(LevelLook), choices_of(LevelLook)


def _looks() -> tuple[LevelLook, ...]:
    """How a new table looks: main sections stand out, all deeper levels are indented step by step."""
    main = LevelLook(size=11.0, bold=True, space_before=7.0)
    return (main, *(LevelLook(indent=16.0 * depth) for depth in range(1, 9)))


@dataclass(frozen=True, slots=True)
class Recipe:
    """What one table is made by. Raises SettingError for what cannot be used."""

    kind: Annotated[str, Property(form=re.compile(r"[a-z-]{1,32}"), how="choose a kind of table")] = "contents"
    """What it lists: see ``tables/kinds.py``."""
    title: Annotated[str, _WORDS] = "Contents"
    """Nothing for a table without a title."""
    title_style: Annotated[str, _ID] = ""
    """The id of the style of its title; nothing for that of the role ``table-title``."""
    continued: bool = False
    """Whether the title stands over each further page as well, and says that the table goes on."""
    levels: tuple[int, ...] = (1, 2, 3)
    section: Annotated[str, _ID] = ""
    """Lists what stands beneath the heading with this id, or in the section where it is placed (``HERE``); or all."""
    feeds: Mapping[str, int] = field(default_factory=dict)
    """The level at which paragraphs of a style are listed, by its id, where that is not its outline level; 0 keeps them out."""
    label: Annotated[str, _ID] = ""
    """The id of the label whose captions it lists, where it lists captions."""
    first_sentence: bool = False
    """Whether captions are listed up to their first full stop only."""
    categories: tuple[str, ...] = ()
    """The ids of the categories of authorities that it lists; none for all."""
    passim: Annotated[int, Property(0, 99)] = 5
    """The number of pages from which on "passim" is printed in place of them (common practice, no source); 0 for never."""
    ranges: Annotated[int, Property(0, 99)] = 3
    """How many pages that follow each other are printed as a range, at least; 0 for none but those of one place."""
    language: Annotated[str, Property(form=re.compile(r"([a-z]{2,3}(-[A-Z]{2})?)?"), how="choose a language")] = ""
    """Whose order the lines have, where they are in the order of an alphabet; nothing for that of the report."""
    by_letter: bool = False
    """Whether spaces and hyphens count for nothing in that order."""
    run_in: bool = False
    """Whether lines of the third level and deeper stand behind the one above them, and not on rows of their own; not with page
    numbers at the edge."""
    page_numbers: Literal["edge", "words", "none"] = "edge"
    """Whether page numbers stand at the right edge or right behind the words."""
    separator: Annotated[str, Property(form=re.compile(r"[^\n\r\t]{0,12}"), how="write at most 12 characters")] = (
        "\u2002"
    )
    """What stands between the words and a page number behind them."""
    leader: Annotated[str, _LEADER] = "."
    """What leads to page numbers at the edge, over and over; ``_`` is a continuous line."""
    leader_step: Annotated[float, Property(1.5, 60, "points")] = 4.5
    """From one leader character to the next; in all lines these stand in the same columns."""
    numbers: Literal["run in", "hung", "margin", "none"] = "run in"
    """Whether heading numbers stand in front of the words, hang in a column of their own level, or all at the left edge."""
    links: bool = True
    look_like_links: bool = False
    columns: Literal[1, 2] = 1
    ruled: Literal["none", "lines", "sections"] = "none"
    """Whether there is a thin rule beneath each line, or beneath those of the highest level."""
    formatting: bool = True
    """Whether italics, bold and underlined words in a heading are so in its line."""
    looks: tuple[LevelLook, ...] = field(default_factory=_looks)

    def __post_init__(self) -> None:
        _check(self, PROPERTIES, CHOICES, "A table")
        if not self.levels or sorted({*self.levels}) != [*self.levels] or not {*self.levels} <= {*LEVELS}:
            raise SettingError("A table needs levels of 1 to 9, each once and in their order; choose at least one.")
        if len(self.looks) != len(LEVELS):
            raise SettingError("A table needs a look for each of the nine levels.")
        for style, level in self.feeds.items():
            if identifier(style) is None or level not in range(10) or isinstance(level, bool):
                raise SettingError(
                    f"“{style[:80]}” cannot be listed at level “{str(level)[:80]}”; choose 1 to 9, or 0."
                )

    def look(self, level: int) -> LevelLook:
        return self.looks[level - 1]


PROPERTIES, CHOICES = properties_of(Recipe), choices_of(Recipe)
_SETTINGS = {one.name for one in fields(Recipe)} - {"looks"}
_LOOK_SETTINGS = {one.name for one in fields(LevelLook)}

SELECTS = frozenset(
    {"levels", "section", "feeds", "formatting", "label", "first_sentence", "categories", "passim", "ranges"}
)
"""The settings that say what goes into a table; all others say how it looks."""


def _check(made: Any, properties: Mapping[str, Property], choices: Mapping[str, Any], what: str) -> None:
    for name in (*properties, *choices):
        value = getattr(made, name)
        if fault := validate(name, value, properties, choices):
            said = f"{what} cannot have “{str(value)[:80]}” as its {name.replace('_', ' ')}"
            raise SettingError(f"{said}; {fault}.")


def changed(recipe: Recipe, settings: Mapping[tuple[str, ...], Any]) -> Recipe:
    """The recipe with other values for some settings, by path. Raises SettingError."""
    own: dict[str, Any] = {}
    looks = [*recipe.looks]
    for path, value in settings.items():
        match path:
            case (name,) if name in _SETTINGS:
                own[name] = _plain(name, value)
            case ("looks", level, name) if name in _LOOK_SETTINGS and level in _LEVEL_NAMES:
                looks[int(level) - 1] = replace(looks[int(level) - 1], **{name: value})
            case _:
                raise SettingError(f"Tables have no setting “{' '.join(path)[:80]}”; choose another one.")
    return replace(recipe, **own, looks=tuple(looks))


_LEVEL_NAMES = {str(level) for level in LEVELS}


def _plain(name: str, value: Any) -> Any:
    """A value of JSON as the field ``name`` holds it."""
    if name == "levels":
        if not isinstance(value, list | tuple) or not all(type(one) is int for one in value):
            raise SettingError("The levels of a table are a list of figures from 1 to 9.")
        return tuple(value)
    if name == "categories":
        if not isinstance(value, list | tuple) or any(identifier(one) is None for one in value) or len(value) > 100:
            raise SettingError("The categories of a table are a list of those of this report.")
        return tuple(value)
    if name == "feeds" and not isinstance(value, Mapping):
        raise SettingError("What feeds a table is a level for each style.")
    return value


def settings_of(recipe: Recipe) -> dict[tuple[str, ...], Any]:
    """Every setting of a recipe, by path."""
    found: dict[tuple[str, ...], Any] = {(name,): getattr(recipe, name) for name in _SETTINGS}
    for level, look in enumerate(recipe.looks, 1):
        found |= {("looks", str(level), name): value for name, value in asdict(look).items()}
    return found


def recipe_to_json(recipe: Recipe) -> dict[str, Any]:
    return {"version": VERSION, **asdict(recipe)}


def recipe_from_json(data: Mapping[str, Any]) -> Recipe:
    """A recipe as it was kept, of this version or another: what is not known or cannot be used has its default."""
    recipe, given = Recipe(), _given(data)
    with suppress(SettingError):
        return changed(recipe, given)
    for path, value in given.items():
        try:
            recipe = changed(recipe, {path: value})
        except SettingError:
            continue
    return recipe


def read_recipe(data: Any) -> Recipe:
    """A recipe that somebody wrote. Raises SettingError for one of a newer version, and for what cannot be used."""
    if not isinstance(data, Mapping):
        raise SettingError("A recipe is an object with a value for each setting.")
    version = data.get("version", VERSION)
    if not isinstance(version, int) or not 1 <= version <= VERSION:
        raise SettingError(
            f"The recipe is of version {str(version)[:20]}, and only those up to {VERSION} can be read; save it in that form."
        )
    return changed(Recipe(), _given(data))


def _given(data: Mapping[str, Any]) -> dict[tuple[str, ...], Any]:
    """The settings that are said, by path."""
    found: dict[tuple[str, ...], Any] = {}
    looks = data.get("looks")
    for level, look in enumerate(looks if isinstance(looks, list | tuple) else (), 1):
        if isinstance(look, Mapping):
            found |= {("looks", str(level), str(name)): value for name, value in look.items()}
    for name, value in data.items():
        if name in ("font", "line_spacing"):  # of the first version
            found |= {("looks", str(level), name): value for level in LEVELS}
        elif name not in ("looks", "version"):
            found[(str(name),)] = value
    return found
