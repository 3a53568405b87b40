"""Sheets of reports: styles, numbers, pages, and house sheets. Everybody in the report sees a change at once."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import fields, replace
from functools import partial
from typing import Any, Literal, get_type_hints

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import create_model

from mellowspine.core.report.elements import identifier
from mellowspine.core.report.house import (
    SHIPPED,
    HouseSheet,
    departures,
    departures_of_tables,
    given,
    given_to_tables,
    settings_to_keep,
)
from mellowspine.core.report.labels import Label
from mellowspine.core.report.numbering import SCHEMES, LevelNumber
from mellowspine.core.report.parts import Part
from mellowspine.core.report.plan import as_json
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import changed
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.sheet import (
    Path,
    Sheet,
    add_label,
    add_style,
    change_label,
    change_part,
    change_style,
    delete_style,
)
from mellowspine.core.report.styles import INHERITED, LEVELS, Style
from mellowspine.core.report.tables import Issued
from mellowspine.core.structure.formatting import restyle
from mellowspine.core.tables.changing import Changed, Now, with_recipe
from mellowspine.core.tables.kinds import placed_tables
from mellowspine.server.accounts.people import signed_in
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf import sheets
from mellowspine.server.shelf.models import HouseSheet as HouseRow
from mellowspine.server.shelf.reports import checked_as, open_report

from .reports import PageValues, StyleShown, style_shown
from .rooms import report_of
from .tables import change_table, take_change_back

router = Router()


def _partial(name: str, type: Any, names: Any) -> Any:
    """A schema with some fields of a dataclass, any of which may be left out."""
    hints = get_type_hints(type)
    some: dict[str, Any] = {one: (hints[one], None) for one in names}
    return create_model(name, __base__=Schema, **some)


StyleValues: Any = _partial("StyleValues", Style, ("name", "based_on", "put_away", "next", *INHERITED))
PartValues: Any = _partial("PartValues", Part, [one.name for one in fields(Part) if one.name != "page"])
LabelValues: Any = _partial("LabelValues", Label, [one.name for one in fields(Label) if one.name != "id"])
LevelValues: Any = _partial("LevelValues", LevelNumber, [one.name for one in fields(LevelNumber)])


class PartChange(Schema):
    """Settings of a part that change; those of its page set-up in ``as_report`` are again as the report's."""

    values: PartValues | None = None
    page: PageValues | None = None
    as_report: list[str] = []


class StyleChange(Schema):
    """Settings of a style that change; those in ``as_base`` are again as the style has them that it is based on."""

    values: StyleValues
    as_base: list[str] = []


class NewStyle(Schema):
    name: str
    like: str


class NewLabel(Schema):
    name: str


class Made(Schema):
    id: str


class NumberingChange(Schema):
    """A ready-made scheme, or other settings for one level."""

    scheme: Literal["none", "decimal", "outline", "legal", "chapters"] | None = None
    level: int | None = None
    appendix: bool = False
    values: LevelValues | None = None


class TakenBack(Schema):
    """``what`` was taken back, but for ``left`` settings, or tables, that were changed since."""

    what: str
    left: int


class Example(Schema):
    """``values``: the look to give, where it is that of some words and not of the whole paragraph."""

    block: str
    values: StyleValues | None = None


class HouseSheetShown(Schema):
    key: str
    name: str
    about: str
    ships: bool
    sample: list[StyleShown]
    """Styles that show how it looks: of the first headings, and of body text."""


class DepartureShown(Schema):
    path: list[str]
    style: str
    here: Any
    there: Any
    rule: str


class Chosen(Schema):
    """``paths``: the settings to take over; all of them if it is left out."""

    paths: list[list[str]] | None = None


class Kept(Schema):
    name: str


def _change(
    request: HttpRequest,
    key: str,
    what: str | Callable[[Sheet], str],
    change: Callable[[Sheet], Sheet],
    house: str | None = None,
    tables: Sequence[tuple[str, int]] = (),
) -> None:
    """Changes the sheet of a report, and has its room show that to everybody; ``house`` and ``tables`` as for
    ``change_sheet``. Raises Refusal.
    """
    report, _ = open_report(key, request.user, change=True)
    said = (lambda _: what) if isinstance(what, str) else what
    try:
        sheets.change_sheet(report, signed_in(request), said, change, house, tables)
    except SettingError as error:
        raise Refusal(str(error)) from None
    rooms.renew(key)


def _values(given: Schema) -> dict[str, Any]:
    return given.dict(exclude_unset=True)


@router.patch("/reports/{key}/styles/{id}", response={204: None})
def restyle_style(request: HttpRequest, key: str, id: str, given: StyleChange) -> tuple[int, None]:
    values = _values(given.values)

    def change(sheet: Sheet) -> Sheet:
        return replace(sheet, styles=change_style(sheet.styles, id, values, given.as_base))

    _change(request, key, _sentence(id, [*values, *given.as_base]), change)
    return 204, None


def _sentence(id: str, names: list[str]) -> Callable[[Sheet], str]:
    """A few words for what changes about a style."""
    properties = ", ".join(name.replace("_", " ") for name in names)
    return lambda sheet: f"{sheet.styles[id].name}: {properties}"


@router.post("/reports/{key}/styles", response=Made)
def make_style(request: HttpRequest, key: str, given: NewStyle) -> Made:
    made: list[str] = []

    def change(sheet: Sheet) -> Sheet:
        styles, style = add_style(sheet.styles, given.name, given.like)
        made.append(style.id)
        return replace(sheet, styles=styles)

    _change(request, key, f"new style {given.name}", change)
    return Made(id=made[-1])


@router.delete("/reports/{key}/styles/{id}", response={204: None})
def remove_style(request: HttpRequest, key: str, id: str, instead: str, ask: bool = False) -> tuple[int, None]:
    """Deletes a style. The browser gives its paragraphs the other one first, by a plan; before that it asks, with ``ask``, whether
    the style can be deleted at all, which deletes nothing."""
    if ask:
        report, _ = open_report(key, request.user, change=True)
        try:
            delete_style(sheets.sheet_of_report(report).styles, id, instead)
        except SettingError as error:
            raise Refusal(str(error)) from None
        return 204, None
    _change(
        request,
        key,
        lambda sheet: f"deleted style {sheet.styles[id].name}",
        lambda sheet: replace(sheet, styles=delete_style(sheet.styles, id, instead)),
    )
    return 204, None


@router.patch("/reports/{key}/numbering", response={204: None})
def renumber(request: HttpRequest, key: str, given: NumberingChange) -> tuple[int, None]:
    if given.scheme:
        numbering = SCHEMES[given.scheme]
        _change(request, key, f"numbers: {given.scheme}", lambda sheet: replace(sheet, numbering=numbering))
    elif given.level is not None and given.level in LEVELS and given.values is not None:
        level, values = given.level, _values(given.values)

        def change(sheet: Sheet) -> Sheet:
            return replace(sheet, numbering=sheet.numbering.changed(level, given.appendix, **values))

        _change(request, key, f"numbers of level {level}", change)
    else:
        raise Refusal("Say a scheme, or a level from 1 to 9 and what changes about it.", 422)
    return 204, None


@router.patch("/reports/{key}/labels/{id}", response={204: None})
def change_caption_label(request: HttpRequest, key: str, id: str, given: LabelValues) -> tuple[int, None]:
    values = _values(given)
    _change(
        request, key, f"captions: {id}", lambda sheet: replace(sheet, labels=change_label(sheet.labels, id, values))
    )
    return 204, None


@router.post("/reports/{key}/labels", response=Made)
def make_label(request: HttpRequest, key: str, given: NewLabel) -> Made:
    made: list[str] = []

    def change(sheet: Sheet) -> Sheet:
        labels, label = add_label(sheet.labels, given.name)
        made.append(label.id)
        return replace(sheet, labels=labels)

    _change(request, key, f"new label {given.name}", change)
    return Made(id=made[-1])


@router.patch("/reports/{key}/page", response={204: None})
def change_page(request: HttpRequest, key: str, given: PageValues) -> tuple[int, None]:
    values = _values(given)
    _change(request, key, "page set-up", lambda sheet: replace(sheet, page=replace(sheet.page, **values)))
    return 204, None


@router.patch("/reports/{key}/parts/{id}", response={204: None})
def change_part_of_report(request: HttpRequest, key: str, id: str, given: PartChange) -> tuple[int, None]:
    """Changes a part, or sets one up that is put into the text with this id."""
    if identifier(id) is None:
        raise Refusal("A part needs an id of letters, digits and hyphens; choose another one.")
    values, page = (_values(one) if one else {} for one in (given.values, given.page))

    def change(sheet: Sheet) -> Sheet:
        parts = change_part(sheet.parts, id, values, page, given.as_report)
        replace(sheet.page, **parts[id].page)  # refused where both together leave no room
        return replace(sheet, parts=parts)

    _change(request, key, "a part of the report", change)
    return 204, None


@router.post("/reports/{key}/sheet/take-back", response=TakenBack)
def take_back(request: HttpRequest, key: str) -> TakenBack:
    """Takes back what the person changed last about the sheet of a report."""
    report, _ = open_report(key, request.user, change=True)
    try:
        done = sheets.take_back(report, signed_in(request))
    except SettingError as error:
        raise Refusal(f"This cannot be taken back any more. {error}") from None
    if done is None:
        raise Refusal("There is nothing of yours to take back.", 404)
    rooms.renew(key)
    stay = [table for table, number in done.tables if not take_change_back(report, table, number, signed_in(request))]
    return TakenBack(what=done.what, left=done.left + len(stay))


@router.post("/reports/{key}/plans/restyle", response=list[dict[str, Any]])
def restyle_by_example(request: HttpRequest, key: str, given: Example) -> list[dict[str, Any]]:
    """Gives the look of one paragraph to its style, and the plan that takes what is done by hand off all others of it."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    found = restyle(report, given.block)
    if found is None:
        raise Refusal("This paragraph is no longer in the text; choose another one.", 404)

    values = found.values if given.values is None else _values(given.values)

    def change(sheet: Sheet) -> Sheet:
        return replace(sheet, styles=change_style(sheet.styles, found.style, values))

    if values:
        _change(request, key, _sentence(found.style, [*values]), change)
    return as_json(found.plan, report)


# House sheets.


def _tables_of(report: CoreReport) -> dict[str, Issued]:
    """The tables in the text, by key."""
    return {key: report.tables[key] for key in placed_tables(report.blocks)}


def _by_settings(table: str, settings: Mapping[Path, Any], now: Now) -> Changed:
    return with_recipe(now, table, changed(now.report.tables[table].recipe, settings))


@router.get("/house-sheets", response=list[HouseSheetShown])
def house_sheets(request: HttpRequest) -> list[HouseSheetShown]:
    """The house sheets that ship, and those that the person keeps."""
    shipped = [_house_shown(key, house, ships=True) for key, house in SHIPPED.items()]
    return shipped + [_shown(row) for row in HouseRow.objects.filter(person=signed_in(request))]


def _shown(row: HouseRow) -> HouseSheetShown:
    return _house_shown(row.key, sheets.house_of(row), ships=False)


def _house_shown(key: str, house: HouseSheet, ships: bool) -> HouseSheetShown:
    styles = house.sheet.styles
    sample = (styles.heading(1), styles.heading(2), styles.role("body"))
    return HouseSheetShown(
        key=key, name=house.name, about=house.about, ships=ships, sample=[style_shown(one) for one in sample]
    )


@router.delete("/house-sheets/{house}", response={204: None})
def forget_house_sheet(request: HttpRequest, house: str) -> tuple[int, None]:
    if not HouseRow.objects.filter(person=signed_in(request), key=house).delete()[0]:
        raise Refusal("You keep no such house sheet.", 404)
    return 204, None


@router.post("/reports/{key}/house-sheet", response=HouseSheetShown)
def save_as_house_sheet(request: HttpRequest, key: str, given: Kept) -> HouseSheetShown:
    """Keeps the sheet of a report under a name."""
    report, _ = open_report(key, request.user)
    name = " ".join(given.name.split())
    if not 1 <= len(name) <= 80:
        raise Refusal("A house sheet needs a name of 1 to 80 characters; choose another one.")
    checks = checked_as(report.house_sheet)
    settings = settings_to_keep(sheets.sheet_of_report(report), _tables_of(report_of(key)).values())
    return _shown(sheets.store_house_sheet(signed_in(request), name, settings, checks))


def _house(request: HttpRequest, report_sheet: str, house: str) -> HouseSheet:
    """A house sheet that the person may see: one that ships, their own, or that of a report they may read."""
    is_open = house in SHIPPED or house == report_sheet
    is_theirs = HouseRow.objects.filter(person=signed_in(request), key=house).exists()
    if (is_open or is_theirs) and (found := sheets.house_sheet(house)):
        return found
    raise Refusal("This house sheet is no longer kept; choose another one.", 404)


@router.get("/reports/{key}/house-sheets/{house}", response=list[DepartureShown])
def departures_from(request: HttpRequest, key: str, house: str) -> list[DepartureShown]:
    """Where a report departs from a house sheet: what would change if it were given that."""
    report, _ = open_report(key, request.user)
    there = _house(request, report.house_sheet, house)
    found = departures(sheets.sheet_of_report(report), there)
    if there.recipes:
        found += departures_of_tables(_tables_of(report_of(key)), there)
    return [
        DepartureShown(path=list(one.path), style=one.style, here=one.here, there=one.there, rule=one.rule)
        for one in found
    ]


@router.post("/reports/{key}/house-sheets/{house}", response={204: None})
def give_house_sheet(request: HttpRequest, key: str, house: str, chosen: Chosen) -> tuple[int, None]:
    """Gives a report a house sheet, all of it or the settings chosen."""
    report, _ = open_report(key, request.user, change=True)
    found = _house(request, report.house_sheet, house)
    paths = None if chosen.paths is None else {tuple(path) for path in chosen.paths}
    # One that was chosen from is not given: what was left out would be told as a departure from it.
    whole = house if paths is None else None
    of_tables = given_to_tables(_tables_of(report_of(key)), found, paths) if found.recipes else {}
    tables: list[tuple[str, int]] = []
    try:
        for table, settings in of_tables.items():
            change = partial(_by_settings, table, settings)
            what = f"House sheet {found.name}"
            number = change_table(report, table, change, signed_in(request), what, alone=True).change
            if number is not None:
                tables.append((table, number))
        _change(request, key, f"house sheet {found.name}", lambda sheet: given(sheet, found, paths), whole, tables)
    except Exception:
        # All of it or nothing.
        for table, number in tables:
            take_change_back(report, table, number, signed_in(request))
        raise
    return 204, None
