"""House sheets: sheets and recipes under a name, given to reports, all or by choice; and where a report departs from its own."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field, replace
from typing import Any, NamedTuple

from .numbering import SCHEMES
from .page import PageSetup
from .properties import SettingError
from .recipes import Recipe, changed
from .recipes import settings_of as settings_of_recipe
from .sheet import Path, Sheet, settings_of, sheet_of
from .styles import INHERITED, StyleSheet, based_on, default_styles
from .tables import Issued


@dataclass(frozen=True, slots=True)
class HouseSheet:
    """``rules`` says for a setting which rule it follows from, and where that stands."""

    name: str
    about: str
    sheet: Sheet
    rules: Mapping[Path, str]
    checked_as: str = ""
    """The house sheet that ships whose rules the check-up asks of a report with this one; nothing for none."""
    recipes: Mapping[str, Mapping[Path, Any]] = field(default_factory=dict)
    """Settings of tables by their kind; each as in ``recipes.py``."""


TABLES = "tables"
"""Paths of settings of tables begin with this: in what is kept behind it the kind, in a report the key of the table."""

_OF_ONE_REPORT = frozenset({"kind", "section", "feeds", "label", "categories", "title_style"})
"""Settings of tables that name something which other reports need not have."""


def has_rules(issued: Issued) -> bool:
    """Whether a table is one of those that house sheets are about: the one of its kind for the whole report."""
    return issued.recipe.section == "" and issued.recipe.kind != "styles"


def recipes_of(tables: Iterable[Issued]) -> dict[str, dict[Path, Any]]:
    """The settings of a report's tables that go to other reports, by kind: those of the first table of each."""
    found: dict[str, dict[Path, Any]] = {}
    for issued in tables:
        if has_rules(issued) and issued.recipe.kind not in found:
            settings = settings_of_recipe(issued.recipe)
            found[issued.recipe.kind] = {
                path: value for path, value in settings.items() if path[0] not in _OF_ONE_REPORT
            }
    return found


def settings_to_keep(sheet: Sheet, tables: Iterable[Issued]) -> dict[Path, Any]:
    """All that a house sheet says which is kept from a report, by path."""
    of_tables = {
        (TABLES, kind, *path): value
        for kind, settings in recipes_of(tables).items()
        for path, value in settings.items()
    }
    # Parts are of one report as well, as its text is.
    own = settings_of(replace(sheet, parts={}))
    return {path: value for path, value in own.items() if path not in _PAGE_OF_ONE_REPORT} | of_tables


def house_sheet_of(name: str, settings: Mapping[Path, Any], checked_as: str) -> HouseSheet:
    """A house sheet as it was kept; settings of tables that cannot be used any more are left out. Raises SettingError."""
    recipes: dict[str, dict[Path, Any]] = {}
    for path, value in settings.items():
        if path[0] == TABLES:
            recipes.setdefault(path[1], {})[path[2:]] = value
    usable = {kind: _usable(kind, given) for kind, given in recipes.items()}
    return replace(_own_house_sheet(name, sheet_of(settings), checked_as), recipes=usable)


def _usable(kind: str, given: Mapping[Path, Any]) -> dict[Path, Any]:
    """Those of some settings of a table that can be used, as recipes hold them."""
    recipe, usable = Recipe(kind=kind), []
    for path, value in given.items():
        with suppress(SettingError):
            recipe = changed(recipe, {path: value})
            usable.append(path)
    settings = settings_of_recipe(recipe)
    return {path: settings[path] for path in usable}


def _own_house_sheet(name: str, sheet: Sheet, checked_as: str) -> HouseSheet:
    """A house sheet that somebody keeps: by the rules of the one that ships where it says the same."""
    after = SHIPPED.get(checked_as)
    if after is None:
        return HouseSheet(name, "", sheet, {})
    mine, theirs = settings_of(sheet), settings_of(after.sheet)
    rules = {path: rule for path, rule in after.rules.items() if mine.get(path) == theirs.get(path)}
    return HouseSheet(name, f"Checked by the same rules as “{after.name}”.", sheet, rules, checked_as)


_PAGE_OF_ONE_REPORT: frozenset[Path] = frozenset(("page", name) for name in ("version", "picture", "picture_ratio"))
"""What no other report has from it."""


class Departure(NamedTuple):
    """A setting in which a report differs from its house sheet. ``here`` is None for a style that the report lacks."""

    path: Path
    style: str
    """Name of the style, or title of the table; empty for numbers and pages."""
    here: Any
    there: Any
    rule: str


def departures(sheet: Sheet, house: HouseSheet) -> list[Departure]:
    """Where a sheet differs from a house sheet: in styles that are in both as they look, in numbers and in the page.

    Styles that only the report has are its own affair.
    """
    found = []
    for style in house.sheet.styles.values():
        here = sheet.styles.find(style.id)
        if here is None:
            found.append(Departure(("styles", style.id), style.name, None, style.name, ""))
            continue
        for name in (*INHERITED, "next"):
            one, other = getattr(here, name), getattr(style, name)
            if one != other:
                place: Path = ("styles", style.id, name)
                found.append(Departure(place, here.name, one, other, house.rules.get(place, "")))
    mine, theirs = settings_of(sheet), settings_of(house.sheet)
    for path, value in theirs.items():
        if path[0] in ("numbering", "page") and path not in _PAGE_OF_ONE_REPORT and mine.get(path) != value:
            found.append(Departure(path, "", mine.get(path), value, house.rules.get(path, "")))
    return found


def departures_of_tables(tables: Mapping[str, Issued], house: HouseSheet) -> list[Departure]:
    """Where the tables of a report, by key, differ from what a house sheet says of their kinds."""
    found = []
    for key, issued in tables.items():
        there = house.recipes.get(issued.recipe.kind)
        if there is None or not has_rules(issued):
            continue
        mine = settings_of_recipe(issued.recipe)
        name = issued.recipe.title or issued.recipe.kind
        found += [
            Departure((TABLES, key, *path), name, mine[path], value, "")
            for path, value in there.items()
            if path in mine and mine[path] != value
        ]
    return found


def given_to_tables(
    tables: Mapping[str, Issued], house: HouseSheet, chosen: Collection[Path] | None = None
) -> dict[str, dict[Path, Any]]:
    """The settings that the tables of a report get from a house sheet, or those chosen: by key of the table."""
    found: dict[str, dict[Path, Any]] = {}
    for one in departures_of_tables(tables, house):
        if chosen is None or one.path in chosen:
            found.setdefault(one.path[1], {})[one.path[2:]] = one.there
    return found


def given(sheet: Sheet, house: HouseSheet, chosen: Collection[Path] | None = None) -> Sheet:
    """The sheet with all settings of a house sheet, or with those chosen. Its own further styles stay as they are."""
    wanted = [one for one in departures(sheet, house) if chosen is None or one.path in chosen]
    styles = {style.id: style for style in sheet.styles.values()}
    settings: dict[Path, Any] = {}
    for one in wanted:
        if one.path[0] != "styles":
            settings[one.path] = one.there
        elif len(one.path) == 2:
            styles[one.path[1]] = house.sheet.styles[one.path[1]]
        else:
            _, id, name = one.path
            styles[id] = replace(styles[id], **{name: one.there})
    # Where a whole style is as in the house sheet, it says no more than it does there.
    for id, style in styles.items():
        there = house.sheet.styles.find(id)
        if there and there.based_on in styles and all(getattr(style, n) == getattr(there, n) for n in INHERITED):
            styles[id] = replace(style, based_on=there.based_on, declared=there.declared)
    return sheet_of(settings_of(replace(sheet, styles=StyleSheet(styles.values()))) | settings)


_LETTER = PageSetup(width=612.0, height=792.0)
"""US letter paper: 8½ by 11 inches, as FRAP 32(a)(4) asks for, with margins of one inch."""


def _restyled(**looks: Mapping[str, Any]) -> StyleSheet:
    """The default styles with another look; ``headings`` is that of all heading levels."""
    body = replace(default_styles()["body"], **looks["body"])
    made = [body]
    for style in default_styles().values():
        if style.id == "body":
            continue
        key = style.id.replace("-", "_")
        look = looks.get("headings", {}) if style.outline_level else looks.get("others", {})
        style = replace(style, **{**look, **looks.get(key, {})})
        made.append(based_on(replace(style, font=style.font if style.role == "code" else body.font), body))
    return StyleSheet(made)


_PAPERS = _restyled(
    body={"font": "Liberation Serif", "size": 12.0, "line_spacing": 1.5, "space_after": 6.0},
    headings={
        "size": 12.0,
        "bold": True,
        "italic": False,
        "colour": "#000000",
        "space_before": 12.0,
        "space_after": 12.0,
    },
    others={"size": 12.0, "colour": "#000000", "line_spacing": 1.5},
    heading_1={"align": "center"},
    title={"align": "center", "bold": True},
    subtitle={"align": "center"},
    table_title={"align": "center"},
    cell={"line_spacing": 1.2},
    caption={"line_spacing": 1.2},
    code={"line_spacing": 1.2},
)
_DOUBLE = 2.0
_FILINGS = _restyled(
    body={"font": "Liberation Serif", "size": 14.0, "line_spacing": _DOUBLE, "space_after": 0.0, "first_line": 36.0},
    headings={"size": 14.0, "bold": True, "italic": False, "colour": "#000000", "line_spacing": 1.15,
              "space_before": 14.0, "space_after": 14.0, "first_line": 0.0},
    others={"size": 14.0, "colour": "#000000", "first_line": 0.0},
    title={"align": "center", "bold": True, "space_before": 120.0},
    subtitle={"align": "center"},
    heading_1={"align": "center"},
    table_title={"align": "center"},
    quotation={"italic": False, "indent": 36.0, "line_spacing": 1.15, "space_after": 14.0},
    bullet_1={"first_line": -14.0}, bullet_2={"first_line": -14.0}, bullet_3={"first_line": -14.0},
    item_1={"first_line": -18.0}, item_2={"first_line": -18.0}, item_3={"first_line": -18.0},
    cell={"line_spacing": 1.15},
    caption={"line_spacing": 1.15},
)  # fmt: skip

_TYPE_SIZE = "14-point or larger, where the typeface is proportional: FRAP 32(a)(5)(A)"
_SPACING = "double-spaced, but for quotations, headings and footnotes: FRAP 32(a)(4)"
_PAPER = "paper of 8½ by 11 inches, margins of at least one inch on all four sides: FRAP 32(a)(4)"

SHIPPED: Mapping[str, HouseSheet] = {
    "plain": HouseSheet("Plain", "A serif for the text, a sans for headings, no numbers.", Sheet(default_styles()), {}),
    "papers": HouseSheet(
        "Papers",
        "One typeface, 12 points, black; main headings in the middle.",
        Sheet(_PAPERS, SCHEMES["decimal"], PageSetup(foot_middle="", foot_right="{page}")),
        {},
    ),
    "filings": HouseSheet(
        "Filings",
        "14 points and double spacing, after rule 32(a)(4)–(5) of the US Federal Rules of Appellate Procedure.",
        Sheet(_FILINGS, SCHEMES["outline"], _LETTER),
        {("styles", style.id, "size"): _TYPE_SIZE for style in _FILINGS.values()}
        | {("styles", id, "line_spacing"): _SPACING for id in ("body", *(s.id for s in _FILINGS.values() if s.marker))}
        | {("page", side): _PAPER for side in ("width", "height", "top", "bottom", "left", "right")},
        "filings",
    ),
}
"""The house sheets that ship with the application, by key."""
