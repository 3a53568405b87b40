"""Rearranging sections: the plans for it, for the browser to carry out, and where sections would stand by them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.plan import Insert, Plan, as_json, carry_out
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.structure import sections
from mellowspine.core.structure.outline import Outline, outline
from mellowspine.core.structure.sections import NotPossible
from mellowspine.core.tables.changing import Now
from mellowspine.server.accounts.people import signed_in
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import NotComputed
from mellowspine.server.rooms.document import new_id
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.reports import open_report
from mellowspine.server.shelf.taking_in import take_in

from .clipboard import InsertionPlan
from .rooms import report_of

router = Router()

Id = Annotated[str, Field(max_length=80)]
Does = Literal["move", "up", "down", "promote", "demote", "remove", "join"]


class ToRearrange(Schema):
    """What is to be done to which sections. For ``move``: in front of which other, None for the end of the text; and at which
    level, None for their own."""

    sections: Annotated[list[Id], Field(min_length=1, max_length=5000)]
    do: Does
    before: Id | None = None
    level: Annotated[int, Field(ge=1, le=9)] | None = None


class Landing(Schema):
    """Where a section stands then; ``page`` as it is printed, without any if it is not known."""

    id: str
    number: str
    text: str
    level: int
    page: str


class SectionsPlan(Schema):
    plan: list[dict[str, Any]]
    landings: list[Landing]


class ToSplit(Schema):
    """In front of which character of a block, in UTF-16 code units."""

    block: Id
    offset: Annotated[int, Field(ge=0)]


class ToDuplicate(Schema):
    section: Id


@router.post("/reports/{key}/plans/sections", response=SectionsPlan)
def plan_sections(request: HttpRequest, key: str, given: ToRearrange) -> SectionsPlan:
    """The plan that rearranges sections, and where they would stand by it, each of those named that is not within another."""
    open_report(key, request.user, change=True)
    report, now = _as_it_is(key)
    try:
        plan = _planned(report, now.headings if now else None, given)
    except NotPossible as error:
        raise Refusal(str(error)) from None
    return SectionsPlan(plan=as_json(plan, report), landings=_landings(plan, report, now, {*given.sections}))


def _as_it_is(key: str) -> tuple[CoreReport, Now | None]:
    """The report, and what its pages can be counted from, if these are known: sections move whatever becomes of pages."""
    with rooms.room(key) as room:
        try:
            now = room.call(room.now).result()
        except NotComputed:
            return room.call(room.report).result(), None
        return now.report, now


def _planned(report: CoreReport, headings: Outline | None, given: ToRearrange) -> Plan:
    ids = {*given.sections}
    match given.do:
        case "move":
            return sections.move(report, ids, given.before, given.level, headings)
        case "up" | "down":
            return sections.step(report, ids, given.do, headings)
        case "promote" | "demote":
            return sections.shift(report, ids, -1 if given.do == "promote" else 1, headings)
        case "remove":
            return sections.remove(report, ids, headings)
        case "join":
            return sections.join(report, given.sections[0], headings)


def _landings(plan: Plan, report: CoreReport, now: Now | None, ids: set[str]) -> list[Landing]:
    after = carry_out(plan, report)
    headings = outline(after, (report, now.headings) if now else None)
    pages = now and paginate(after, now.typefaces, now.pages, headings)
    return [
        Landing(
            id=one.id,
            number=one.number,
            text=one.text,
            level=one.level,
            page=pages.label(pages.page_of(one.block, one.row)) if pages else "",
        )
        for one in headings
        if one.id in ids
    ]


@router.post("/reports/{key}/plans/split", response=InsertionPlan)
def plan_split(request: HttpRequest, key: str, given: ToSplit) -> InsertionPlan:
    """The plan that splits a section; ``first`` is the heading of its second part."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    text = next((getattr(block, "text", "") for block in report.blocks if block.id == given.block), "")
    offset = len(text.encode("utf-16-le")[: 2 * given.offset].decode("utf-16-le", "ignore"))
    try:
        plan, heading = sections.split(report, given.block, offset, new_id)
    except NotPossible as error:
        raise Refusal(str(error)) from None
    return InsertionPlan(plan=as_json(plan, report), first=heading)


@router.post("/reports/{key}/plans/duplicate", response=InsertionPlan)
def plan_duplicate(request: HttpRequest, key: str, given: ToDuplicate) -> InsertionPlan:
    """The plan that puts a section in once more, behind itself. The tables placed in it are stored."""
    row, _ = open_report(key, request.user, change=True)
    report = report_of(key)
    try:
        made, after = sections.duplicate(report, given.section, new_id)
    except NotPossible as error:
        raise Refusal(str(error)) from None
    if take_in(row, signed_in(request), made, {}, f"“{report.title}”"):
        rooms.renew(row.key)
    return InsertionPlan(plan=as_json((Insert(made.blocks, after),), report), first=made.blocks[0].id)
