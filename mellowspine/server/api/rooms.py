"""What is asked of a room over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from mellowspine.core.report.plan import as_json
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.structure.formatting import alike, back_to_style, give_style, mark_alike, of_style
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.reports import open_report

router = Router()


class Paragraphs(Schema):
    ids: list[str]


class Alike(Schema):
    block: str
    style: str


def report_of(key: str) -> CoreReport:
    with rooms.room(key) as room:
        return room.call(room.report).result()


def _check_style(report: CoreReport, id: str) -> None:
    if id not in report.styles:
        raise Refusal("This style is no longer in the report; choose another one.")


@router.get("/reports/{key}/alike/{block}", response=Paragraphs)
def paragraphs_alike(request: HttpRequest, key: str, block: str) -> Paragraphs:
    """The paragraphs that look like this one, itself included."""
    open_report(key, request.user)
    return Paragraphs(ids=list(alike(report_of(key), block)))


@router.post("/reports/{key}/plans/mark-alike", response=list[dict[str, Any]])
def plan_to_mark_alike(request: HttpRequest, key: str, given: Alike) -> list[dict[str, Any]]:
    """The plan that gives a style to every paragraph that looks like this one, for the browser to carry out."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    _check_style(report, given.style)
    return as_json(mark_alike(report, given.block, given.style), report)


class MoveLevel(Schema):
    level: int
    to: int


class Restored(Schema):
    """All paragraphs of a style, or one."""

    style: str | None = None
    block: str | None = None


class OtherStyle(Schema):
    style: str
    instead: str


@router.post("/reports/{key}/plans/move-level", response=list[dict[str, Any]])
def plan_to_move_level(request: HttpRequest, key: str, given: MoveLevel) -> list[dict[str, Any]]:
    """The plan that makes all headings of a level headings of another."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    levels = report.styles.levels
    if given.to not in levels.values():
        raise Refusal(f"No style is a heading of level {given.to}; make one first.")
    styles = [id for id, level in levels.items() if level == given.level]
    return as_json(give_style(report, styles, report.styles.heading(given.to).id), report)


@router.post("/reports/{key}/plans/give-style", response=list[dict[str, Any]])
def plan_to_give_style(request: HttpRequest, key: str, given: OtherStyle) -> list[dict[str, Any]]:
    """The plan that gives all paragraphs of a style another one."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    _check_style(report, given.instead)
    return as_json(give_style(report, [given.style], given.instead), report)


@router.post("/reports/{key}/plans/back-to-style", response=list[dict[str, Any]])
def plan_back_to_style(request: HttpRequest, key: str, given: Restored) -> list[dict[str, Any]]:
    """The plan that takes what is done by hand off one paragraph, or off all of a style."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    ids = [given.block] if given.block else of_style(report, given.style or "")
    return as_json(back_to_style(report, ids), report)
