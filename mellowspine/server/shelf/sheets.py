"""Sheets of reports as rows: read, stored, and what people change about them, so that they can take it back."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import asdict
from typing import Any, NamedTuple, TypeVar

from django.contrib.auth.models import User
from django.db import transaction

from mellowspine.core.report.house import SHIPPED, HouseSheet, house_sheet_of
from mellowspine.core.report.labels import label_to_json, labels_from_json
from mellowspine.core.report.numbering import numbering_from_json, numbering_to_json
from mellowspine.core.report.page import page_from_json
from mellowspine.core.report.parts import parts_from_json, parts_to_json
from mellowspine.core.report.sheet import Path, SettingChange, Sheet, changes, undone
from mellowspine.core.report.styles import style_to_json

from .models import HouseSheet as HouseRow
from .models import Report, ReportStyle, SheetChange
from .reports import styles_of

T = TypeVar("T")

KEPT = 200
"""How many changes of a report's sheet can be taken back."""


def sheet_of_report(report: Report) -> Sheet:
    return Sheet(
        styles_of(report),
        numbering_from_json(report.numbering),
        page_from_json(report.page),
        labels_from_json(report.labels),
        parts_from_json(report.parts),
    )


_HOUSE = ("house sheet",)
"""The path of the house sheet that a report has, beside those of its sheet."""


class _Late(Exception):
    """Somebody else has changed the sheet since it was read."""


def change_sheet(
    report: Report,
    person: User,
    what: Callable[[Sheet], str],
    change: Callable[[Sheet], Sheet],
    house: str | None = None,
    tables: Sequence[tuple[str, int]] = (),
) -> Sheet:
    """Changes the sheet of a report as it is at this moment, and notes that for who may take it back.

    ``what`` says in a few words what changes about the sheet as it was; ``house`` is the house sheet that it has with it,
    ``tables`` what was done to tables for that: the key of each, and the number under which it can be taken back.
    ``change`` is asked again if somebody else was quicker.

    Raises SettingError if the change cannot be made; then nothing has changed.
    """

    def once() -> Sheet:
        old = _read(report)
        new = change(old)
        found = changes(old, new)
        if house is not None and house != report.house_sheet:
            found = [*found, SettingChange(_HOUSE, (report.house_sheet,), (house,))]
            report.house_sheet = house
        if found or tables:
            done = SheetChange(
                report=report, person=person, what=what(old)[:200], changes=found, tables=[*map(list, tables)]
            )
            with _stored(report, new):
                done.save()
                kept = SheetChange.objects.filter(report=report).order_by("-pk").values_list("pk", flat=True)[KEPT:]
                SheetChange.objects.filter(pk__in=list(kept)).delete()
        return new

    return _until_in_time(once)


def last_change(report: Report, person: User) -> SheetChange | None:
    """What the person would take back."""
    return SheetChange.objects.filter(report=report, person=person).last()


class TakenBack(NamedTuple):
    """What a change was; how many settings were changed since, which therefore stay; and what was done to
    tables with it, which is still there: the key of each, and the number of its change."""

    what: str
    left: int
    tables: list[tuple[str, int]]


def take_back(report: Report, person: User) -> TakenBack | None:
    """Takes back the person's last change of the sheet; None if there is none. Raises SettingError if what is left could
    not be used."""

    def once() -> TakenBack | None:
        now = _read(report)
        done = last_change(report, person)
        if done is None:
            return None
        found = [SettingChange(tuple(path), tuple(old), tuple(new)) for path, old, new in done.changes]
        houses = [one for one in found if one.path == _HOUSE]
        sheet, left = undone(now, [one for one in found if one.path != _HOUSE])
        for one in houses:
            if report.house_sheet == one.new[0]:
                report.house_sheet = str(one.old[0])
            else:
                left = [*left, one]
        with _stored(report, sheet):
            done.delete()
        return TakenBack(done.what, len(left), [(table, number) for table, number in done.tables])

    return _until_in_time(once)


def _until_in_time(once: Callable[[], T]) -> T:
    """What a change gives that nobody else came before; whoever did has changed something, so that it comes to an end."""
    while True:
        with suppress(_Late):
            return once()


def _read(report: Report) -> Sheet:
    report.refresh_from_db()
    return sheet_of_report(report)


@contextmanager
def _stored(report: Report, sheet: Sheet) -> Iterator[None]:
    """Stores the sheet of a report, together with what is done meanwhile. Raises _Late, and then nothing has changed.

    Everybody's saving waits for this: whatever can be thought out before has been, and however many styles there are, they are
    written at once.
    """
    rows = {row.settings["id"]: row for row in report.styles.all()}
    made = []
    for order, style in enumerate(sheet.styles.values()):
        settings, row = style_to_json(style), rows.get(style.id)
        if row and (row.order, row.settings) == (order, settings):
            del rows[style.id]
        else:
            made.append(ReportStyle(report=report, order=order, settings=settings))
    report.numbering, report.page = numbering_to_json(sheet.numbering), asdict(sheet.page)
    report.parts = parts_to_json(sheet.parts)
    report.labels = [label_to_json(label) for label in sheet.labels.values()]
    report.sheet_number += 1
    with transaction.atomic():
        if not Report.objects.filter(pk=report.pk, sheet_number=report.sheet_number - 1).exists():
            raise _Late
        report.styles.filter(pk__in=[row.pk for row in rows.values()]).delete()
        ReportStyle.objects.bulk_create(made)
        report.save(update_fields=["numbering", "page", "parts", "labels", "house_sheet", "sheet_number", "changed_at"])
        yield


def house_sheet(key: str) -> HouseSheet | None:
    """The house sheet with a key: one that ships, or one that somebody keeps."""
    if key in SHIPPED:
        return SHIPPED[key]
    row = HouseRow.objects.filter(key=key).first()
    return house_of(row) if row else None


def house_of(row: HouseRow) -> HouseSheet:
    return house_sheet_of(row.name, {tuple(path): value for path, value in row.settings}, row.checked_as)


def store_house_sheet(person: User, name: str, settings: Mapping[Path, Any], checked_as: str) -> HouseRow:
    """Keeps settings under a name, in place of those that the person kept under it before."""
    values = {"settings": [[list(path), value] for path, value in settings.items()], "checked_as": checked_as}
    row, _ = HouseRow.objects.update_or_create(person=person, name=name, defaults=values)
    return row
