"""The shelf: which reports a person has, and each report's own settings."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from itertools import product
from typing import Any, get_type_hints

from django.contrib.auth.models import User
from django.db.models import Max, Prefetch, Q, prefetch_related_objects
from django.db.models.functions import Coalesce, Greatest
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import create_model

from mellowspine.core.formats.imported import Imported
from mellowspine.core.pages.typefaces import FaceFile, nearest
from mellowspine.core.report.authorities import authorities_from_json, categories_from_json
from mellowspine.core.report.blocks import Paragraph, is_source
from mellowspine.core.report.index import sees_from_json
from mellowspine.core.report.labels import Label
from mellowspine.core.report.numbering import Figures, numbering_to_json, scheme_of
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import Part
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.styles import Style, default_styles
from mellowspine.core.structure.citations import rules_from_json
from mellowspine.server.accounts.people import Person, person, shown_name, signed_in
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.models import Touch
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import HeadingChange, IssuedTable, Membership, Report, Role
from mellowspine.server.shelf.pictures import read_picture
from mellowspine.server.shelf.reports import open_report
from mellowspine.server.shelf.sheets import last_change, sheet_of_report
from mellowspine.server.shelf.visits import last_here

router = Router()


class News(Schema):
    """What others did to a report since a time: how many sections were added, removed, and so on; and who wrote, by name."""

    since: datetime
    sections: dict[str, int]
    people: list[str]


class Card(Schema):
    key: str
    title: str
    role: Role
    pages: int
    headings: int
    behind: list[int]
    """For every table placed in the report that has something to list, how many lines it is behind."""
    empty: int
    """How many tables placed in it have nothing to list yet."""
    findings: int
    """How many findings the check-up has, but for those set aside."""
    changed_at: datetime
    people: list[Person]
    news: News | None
    """What others did since the person was last here; None if nothing."""


_FIELDS: dict[str, Any] = {name: (kind, ...) for name, kind in get_type_hints(Style).items()}
_FIELDS["declared"] = (list[str], ...)
StyleShown: Any = create_model("StyleShown", __base__=Schema, **_FIELDS)
"""A style with all its properties."""


_PAGE_FIELDS: dict[str, Any] = {name: (kind, ...) for name, kind in get_type_hints(PageSetup).items()}
_page_values: dict[str, Any] = {name: (kind, None) for name, (kind, _) in _PAGE_FIELDS.items()}
PageValues: Any = create_model("PageValues", __base__=Schema, **_page_values)
"""Some of them."""
PageShown: Any = create_model("PageShown", __base__=Schema, **_PAGE_FIELDS)
"""Paper, margins and page numbers, with all their settings."""


_PART_FIELDS: dict[str, Any] = {name: (kind, ...) for name, kind in get_type_hints(Part).items()}
PartShown: Any = create_model("PartShown", __base__=Schema, **(_PART_FIELDS | {"page": (dict[str, Any], ...)}))
"""How the pages of a part are numbered, and in what its page set-up differs from the report's."""


class LevelNumberShown(Schema):
    on: bool
    pattern: str
    figures: Figures
    start: int
    restarts: bool


class NumberingShown(Schema):
    """``scheme``: the ready-made numbering that it is, if it is one."""

    scheme: str | None
    levels: list[LevelNumberShown]
    appendix: list[LevelNumberShown]


_LABEL_FIELDS: dict[str, Any] = {name: (kind, ...) for name, kind in get_type_hints(Label).items()}
LabelShown: Any = create_model("LabelShown", __base__=Schema, **_LABEL_FIELDS)
"""What captions are called, and how they are counted."""


class AuthorityShown(Schema):
    """What is cited: the category that it is in, how it is printed, and how the text goes on to call it."""

    id: str
    category: str
    long: str
    short: str


class CategoryShown(Schema):
    id: str
    name: str


class CitationRule(Schema):
    """A way to cite: words in which # stands for a number and * for any word."""

    words: str
    category: str


class SeeShown(Schema):
    """Where the index says to look instead, or as well."""

    terms: list[str]
    to: list[str]
    also: bool


class FaceShown(Schema):
    """What a family that the report has of its own is set in, bold and slanted or not: the key of one of its files."""

    family: str
    bold: bool
    italic: bool
    file: str


class ReportShown(Schema):
    key: str
    title: str
    role: Role
    page: PageShown
    parts: dict[str, PartShown]
    styles: list[StyleShown]
    numbering: NumberingShown
    labels: list[LabelShown]
    authorities: list[AuthorityShown]
    categories: list[CategoryShown]
    citation_rules: list[CitationRule]
    sees: list[SeeShown]
    people: list[Person]
    typefaces: list[FaceShown]
    house_sheet: str
    """Key of the house sheet that it was given; empty if none."""
    to_take_back: str
    """What the person who asks changed last about its sheet and can take back; empty if nothing."""


class Titled(Schema):
    title: str


class Key(Schema):
    key: str


def _title(given: Titled) -> str:
    title = " ".join(given.title.split())[:300]
    if not title:
        raise Refusal("A report needs a name; type one.")
    return title


_MEMBERS = Prefetch("members", Membership.objects.select_related("person").order_by("pk"))


def _people(report: Report) -> list[Person]:
    """The members of a report that was fetched with ``_MEMBERS``."""
    return [person(member.person) for member in report.members.all()]


@router.get("/reports", response=list[Card])
def shelf(request: HttpRequest) -> list[Card]:
    user = signed_in(request)
    found = Membership.objects.filter(person=user).prefetch_related(
        Prefetch("report", Report.objects.prefetch_related(_MEMBERS))
    )
    written = Greatest("report__changed_at", Coalesce(Max("report__updates__at"), "report__changed_at"))
    tables = IssuedTable.objects.filter(placed=True, report__members__person=user).annotate(empty=Q(lines=[], behind=0))
    behind: dict[int, list[int]] = {}
    empty: Counter[int] = Counter()
    for report_id, lines, is_empty in tables.values_list("report", "behind", "empty"):
        if is_empty:
            empty[report_id] += 1
        else:
            behind.setdefault(report_id, []).append(lines)
    members = [*found.annotate(written=written).order_by("-written")]
    news = _news(members, user)
    return [
        Card(
            key=report.key,
            title=report.title,
            role=Role(membership.role),
            pages=report.pages,
            headings=report.headings,
            behind=behind.get(report.pk, []),
            empty=empty[report.pk],
            findings=report.findings,
            changed_at=membership.written,
            people=_people(report),
            news=news.get(report.pk),
        )
        for membership in members
        for report in [membership.report]
    ]


def _news(members: Sequence[Membership], user: User) -> dict[int, News]:
    """What others did in each of these reports since somebody was last in it, by number of the report."""
    since = {one.report_id: at for one in members if (at := last_here(one))}
    if not since:
        return {}
    asked = {"report__in": since, "at__gt": min(since.values())}
    people: dict[int, dict[str, None]] = {}
    for touch in Touch.objects.filter(**asked).exclude(person=user).select_related("person").order_by("-at"):
        if touch.at > since[touch.report_id]:
            people.setdefault(touch.report_id, {})[shown_name(touch.person)] = None
    newest: dict[tuple[int, str], HeadingChange] = {}
    """Of a section that was taken out and put in again, or the other way, what was done last."""
    counts: dict[int, Counter[str]] = {}
    changes = HeadingChange.objects.filter(**asked, is_heading=True).exclude(person=user).order_by("at", "pk")
    for change in changes.select_related("person"):
        if change.at <= since[change.report_id]:
            continue
        if change.person:
            people.setdefault(change.report_id, {})[shown_name(change.person)] = None
        if change.kind in ("added", "removed"):
            newest[change.report_id, change.heading] = change
        else:
            counts.setdefault(change.report_id, Counter())[change.kind] += 1
    for change in newest.values():
        counts.setdefault(change.report_id, Counter())[change.kind] += 1
    return {
        report: News(since=since[report], sections=dict(counts.get(report, ())), people=[*names])
        for report, names in people.items()
    }


@router.post("/reports", response=Key)
def start_report(request: HttpRequest, given: Titled) -> Key:
    title = _title(given)
    styles = default_styles()
    blocks = (Paragraph("b00001", styles.heading(1).id), Paragraph("b00002", styles.role("body").id))
    report = make_report(Imported(CoreReport(title, blocks, styles), {}), signed_in(request))
    return Key(key=report.key)


def style_shown(style: Style) -> Any:
    return StyleShown(**asdict(style) | {"declared": sorted(style.declared)})


@router.get("/reports/{key}", response=ReportShown)
def report(request: HttpRequest, key: str) -> ReportShown:
    found, role = open_report(key, request.user)
    prefetch_related_objects([found], _MEMBERS)
    sheet = sheet_of_report(found)
    numbering = numbering_to_json(sheet.numbering)
    done = last_change(found, signed_in(request))
    return ReportShown(
        key=found.key,
        title=found.title,
        role=role,
        page=PageShown(**asdict(sheet.page)),
        parts={id: PartShown(**asdict(part)) for id, part in sheet.parts.items()},
        styles=[style_shown(style) for style in sheet.styles.values()],
        numbering=NumberingShown(scheme=scheme_of(sheet.numbering), **numbering),
        labels=[LabelShown(**asdict(label)) for label in sheet.labels.values()],
        authorities=[AuthorityShown(**one._asdict()) for one in authorities_from_json(found.authorities).values()],
        categories=[CategoryShown(**one._asdict()) for one in categories_from_json(found.categories).values()],
        citation_rules=[CitationRule(**one._asdict()) for one in rules_from_json(found.citation_rules)],
        sees=[SeeShown(**one._asdict()) for one in sees_from_json(found.sees)],
        people=_people(found),
        typefaces=_faces(found),
        house_sheet=found.house_sheet,
        to_take_back=done.what if done else "",
    )


def _faces(report: Report) -> list[FaceShown]:
    keys = {FaceFile(row.family, row.bold, row.italic, b""): row.key for row in report.typefaces.defer("data")}
    return [
        FaceShown(family=name, bold=bold, italic=italic, file=keys[nearest(of_it, bold, italic)])
        for name in dict.fromkeys(one.family for one in keys)
        for of_it in [[one for one in keys if one.family == name]]
        for bold, italic in product((False, True), repeat=2)
    ]


@router.patch("/reports/{key}", response=Titled)
def rename_report(request: HttpRequest, key: str, given: Titled) -> Titled:
    found, _ = open_report(key, request.user, change=True)
    found.title = _title(given)
    found.save(update_fields=["title", "changed_at"])
    rooms.renew(found.key)
    return Titled(title=found.title)


@router.get("/reports/{key}/pictures/{source}", response={200: Any})
def picture(request: HttpRequest, key: str, source: str) -> HttpResponse:
    found, _ = open_report(key, request.user)
    data = read_picture(found, source)
    if not is_source(source) or data is None:
        raise Refusal("This picture is not in the report.", 404)
    kind = {"jpg": "jpeg"}.get(source[-3:], source.rsplit(".", 1)[1])
    return HttpResponse(
        data,
        content_type=f"image/{kind}",
        headers={"Cache-Control": "private, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"},
    )
