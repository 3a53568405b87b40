"""What blocks from elsewhere need of a report, as rows: stored before they are put into its text."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from django.contrib.auth.models import User
from django.db import transaction

from mellowspine.core.report.authorities import DEFAULT_CATEGORIES, authorities_from_json, categories_from_json
from mellowspine.core.report.fitting import Fitted
from mellowspine.core.report.index import sees_from_json
from mellowspine.core.report.recipes import recipe_to_json
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.sheet import Sheet
from mellowspine.core.report.styles import StyleSheet

from .models import IssuedTable, Report
from .pictures import store_picture
from .sheets import change_sheet, sheet_of_report


def take_in(report: Report, person: User, found: Fitted, pictures: Mapping[str, bytes], name: str) -> bool:
    """Stores pictures, and the styles, labels, authorities and tables that a report has not; whether there were any of these.

    ``name`` is what the blocks come from, for who may take the styles back.
    """
    for source, data in pictures.items():
        store_picture(report, source, data)
    for key, issued in found.tables.items():
        made = {
            "recipe": recipe_to_json(issued.recipe),
            "own": {source: [*kept] for source, kept in issued.own.items()},
        }
        IssuedTable.objects.get_or_create(report=report, key=key, defaults=made)
    return any([_add_to_sheet(report, person, found.report, name), _add_authorities(report, found.report)])


def _add_to_sheet(report: Report, person: User, found: CoreReport, name: str) -> bool:
    def added(sheet: Sheet) -> Sheet:
        styles = [style for style in found.styles.values() if style.id not in sheet.styles]
        labels = {label.id: label for label in found.labels.values() if label.id not in sheet.labels}
        every = StyleSheet([*sheet.styles.values(), *styles])
        return replace(sheet, styles=every, labels={**sheet.labels, **labels}, parts={**found.parts, **sheet.parts})

    before = sheet_of_report(report)
    if all(
        {*came} <= {*there}
        for came, there in ((found.styles, before.styles), (found.labels, before.labels), (found.parts, before.parts))
    ):
        return False
    change_sheet(report, person, lambda _: f"styles that came with {name}", added)
    return True


@transaction.atomic
def _add_authorities(report: Report, found: CoreReport) -> bool:
    report.refresh_from_db()
    authorities, categories = authorities_from_json(report.authorities), categories_from_json(report.categories)
    sees = sees_from_json(report.sees)
    new = [one for one in found.authorities.values() if one.id not in authorities]
    named = [one for one in found.categories.values() if one.id not in categories]
    further = [one for one in found.sees if one not in sees]
    if not new and not named and not further:
        return False
    report.authorities = [[*one] for one in (*authorities.values(), *new)]
    if named or categories is not DEFAULT_CATEGORIES:
        # In their order there, which has that of what has no category last.
        order = {id: place for place, id in enumerate(found.categories)}
        every = sorted((*categories.values(), *named), key=lambda one: order.get(one.id, -1))
        report.categories = [[*one] for one in every]
    report.sees = [[*one] for one in (*sees, *further)]
    report.save(update_fields=["authorities", "categories", "sees", "changed_at"])
    return True
