"""Reports between the database and the core, and who may do what with them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django.contrib.auth.models import AnonymousUser, User

from mellowspine.core.report.authorities import authorities_from_json, categories_from_json
from mellowspine.core.report.house import SHIPPED
from mellowspine.core.report.index import sees_from_json
from mellowspine.core.report.labels import labels_from_json
from mellowspine.core.report.numbering import numbering_from_json
from mellowspine.core.report.page import page_from_json
from mellowspine.core.report.parts import parts_from_json
from mellowspine.core.report.recipes import recipe_from_json
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.styles import StyleSheet, styles_from_json
from mellowspine.core.report.tables import Issued, line_from_json, own_words_from_json
from mellowspine.core.structure.rules import LookRule, look_rules_from_json
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.refusals import not_allowed, not_found

from .models import HouseSheet, IssuedTable, Membership, Report, Role


def role_of(report: Report, person: User | AnonymousUser) -> Role | None:
    """The person's role in a report, None if it is none of theirs."""
    if not isinstance(person, User) or not person.is_active:
        return None
    found = Membership.objects.filter(report=report, person=person).values_list("role", flat=True).first()
    return Role(found) if found else None


def writers_of(report: Report) -> frozenset[int]:
    """The primary keys of all who may change a report."""
    found = Membership.objects.filter(report=report, person__is_active=True, role__in=(Role.OWNER, Role.EDITOR))
    return frozenset(found.values_list("person_id", flat=True))


def open_report(key: str, person: User | AnonymousUser, change: bool = False) -> tuple[Report, Role]:
    """A report that the person may read, or ``change``. Raises Refusal; a report of others is not there at all."""
    report = Report.objects.filter(key=key).first()
    role = role_of(report, person) if report else None
    if report is None or role is None:
        raise not_found()
    if change and role == Role.READER:
        raise not_allowed()
    return report, role


def styles_of(report: Report) -> StyleSheet:
    return styles_from_json(row.settings for row in report.styles.all())


def tables_of(report: Report) -> Mapping[str, Issued]:
    return {row.key: issued_of(row) for row in report.tables.all()}


def issued_of(row: IssuedTable) -> Issued:
    own = {source: words for source, stored in as_mapping(row.own).items() if (words := own_words_from_json(stored))}
    lines = (line_from_json(line) for line in as_list(row.lines))
    return Issued(recipe_from_json(as_mapping(row.recipe)), tuple(line for line in lines if line), own)


def as_mapping(stored: Any) -> Mapping[str, Any]:
    """Stored JSON that ought to be an object."""
    return stored if isinstance(stored, dict) else {}


def as_list(stored: Any) -> Sequence[Any]:
    """Stored JSON that ought to be a list."""
    return stored if isinstance(stored, list | tuple) else ()


def rules_of(report: Report) -> tuple[LookRule, ...]:
    return look_rules_from_json(as_list(report.look_rules), styles_of(report))


def set_aside_in(report: Report) -> Mapping[str, tuple[str, str, str]]:
    """The findings that are set aside, by id: the reason, who did it, and when."""
    return {
        one.finding: (one.reason, shown_name(one.person) if one.person else "", one.at.isoformat())
        for one in report.set_aside.select_related("person")
    }


def checked_as(house: str) -> str:
    """By whose rules a report with this house sheet is checked, if by any."""
    if not house or house in SHIPPED:
        return SHIPPED[house].checked_as if house else ""
    return HouseSheet.objects.filter(key=house).values_list("checked_as", flat=True).first() or ""


def without_text(report: Report) -> CoreReport:
    """The report as the core sees it, but for its blocks, which the room reads from the text itself."""
    return CoreReport(
        report.title,
        styles=styles_of(report),
        numbering=numbering_from_json(report.numbering),
        page=page_from_json(report.page),
        parts=parts_from_json(report.parts),
        labels=labels_from_json(report.labels),
        authorities=authorities_from_json(report.authorities),
        categories=categories_from_json(report.categories),
        sees=sees_from_json(report.sees),
        house=checked_as(report.house_sheet),
        tables=tables_of(report),
    )
