"""Sheets of reports as rows: read, stored, and what people change about them, so that they can take it back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict

from django.contrib.auth.models import User
from django.db import transaction

from mellowspine.core.report.house import SHIPPED, HouseSheet, kept_as
from mellowspine.core.report.labels import label_to_json, labels_from_json
from mellowspine.core.report.numbering import numbering_from_json, numbering_to_json
from mellowspine.core.report.report import page_from_json
from mellowspine.core.report.sheet import Change, Sheet, changes, settings_of, sheet_of, undone
from mellowspine.core.report.styles import style_to_json

from .models import HouseSheet as HouseRow
from .models import Report, ReportStyle, SheetChange
from .reports import styles_of

KEPT = 200
"""How many changes of a report's sheet can be taken back."""


def sheet_of_report(report: Report) -> Sheet:
    return Sheet(
        styles_of(report),
        numbering_from_json(report.numbering),
        page_from_json(report.page),
        labels_from_json(report.labels),
    )


_HOUSE = ("house sheet",)
"""The path of the house sheet that a report has, beside those of its sheet."""


@transaction.atomic
def change_sheet(
    report: Report,
    person: User,
    what: Callable[[Sheet], str],
    change: Callable[[Sheet], Sheet],
    house: str | None = None,
) -> Sheet:
    """Changes the sheet of a report as it is at this moment, and notes that for who may take it back.

    ``what`` says in a few words what changes about the sheet as it was; ``house`` is the house sheet that it has with it.

    Raises SettingError if the change cannot be made; then nothing has changed.
    """
    report.refresh_from_db()
    old = sheet_of_report(report)
    new = change(old)
    found = changes(old, new)
    if house is not None and house != report.house_sheet:
        found = [*found, Change(_HOUSE, (report.house_sheet,), (house,))]
        report.house_sheet = house
    if found:
        _store(report, new)
        SheetChange.objects.create(report=report, person=person, what=what(old)[:200], changes=found)
        kept = SheetChange.objects.filter(report=report).order_by("-pk").values_list("pk", flat=True)[KEPT:]
        SheetChange.objects.filter(pk__in=list(kept)).delete()
    return new


def last_change(report: Report, person: User) -> SheetChange | None:
    """What the person would take back."""
    return SheetChange.objects.filter(report=report, person=person).last()


@transaction.atomic
def take_back(report: Report, person: User) -> tuple[str, int] | None:
    """Takes back the person's last change: what it was, and how many settings somebody else has changed since and that
    therefore stay. None if there is none. Raises SettingError if what is left could not be used."""
    done = last_change(report, person)
    if done is None:
        return None
    report.refresh_from_db()
    found = [Change(tuple(path), tuple(old), tuple(new)) for path, old, new in done.changes]
    houses = [one for one in found if one.path == _HOUSE]
    sheet, left = undone(sheet_of_report(report), [one for one in found if one.path != _HOUSE])
    for one in houses:
        if report.house_sheet == one.new[0]:
            report.house_sheet = str(one.old[0])
        else:
            left = [*left, one]
    _store(report, sheet)
    done.delete()
    return done.what, len(left)


def _store(report: Report, sheet: Sheet) -> None:
    rows = {row.settings["id"]: row for row in report.styles.all()}
    for order, style in enumerate(sheet.styles.values()):
        row = rows.pop(style.id, None) or ReportStyle(report=report)
        settings = style_to_json(style)
        if row.pk is None or (row.order, row.settings) != (order, settings):
            row.order, row.settings = order, settings
            row.save()
    report.styles.filter(pk__in=[row.pk for row in rows.values()]).delete()
    report.numbering, report.page = numbering_to_json(sheet.numbering), asdict(sheet.page)
    report.labels = [label_to_json(label) for label in sheet.labels.values()]
    report.save(update_fields=["numbering", "page", "labels", "house_sheet", "changed_at"])


def house_sheet(key: str) -> HouseSheet | None:
    """The house sheet with a key: one that ships, or one that somebody keeps."""
    if key in SHIPPED:
        return SHIPPED[key]
    row = HouseRow.objects.filter(key=key).first()
    return house_of(row) if row else None


def house_of(row: HouseRow) -> HouseSheet:
    return kept_as(row.name, sheet_of({tuple(path): value for path, value in row.settings}), row.checked_as)


def keep_house_sheet(person: User, name: str, sheet: Sheet, checked_as: str) -> HouseRow:
    """Keeps a sheet under a name, in place of the one that the person kept under it before."""
    settings = [[list(path), value] for path, value in settings_of(sheet).items()]
    values = {"settings": settings, "checked_as": checked_as}
    row, _ = HouseRow.objects.update_or_create(person=person, name=name, defaults=values)
    return row
