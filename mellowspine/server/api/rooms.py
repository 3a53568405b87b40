"""What is asked of a room over HTTP."""

from __future__ import annotations

from typing import Literal

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Router, Schema

from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.reports import open_report

router = Router()


class CatchUp(Schema):
    scope: Literal["everything", "pages"]


class Paragraphs(Schema):
    ids: list[str]


@router.post("/reports/{key}/tables/{table}/catch-up", response={204: None})
def catch_up(request: HttpRequest, key: str, table: str, given: CatchUp) -> tuple[int, None]:
    report, _ = open_report(key, request.user, change=True)
    assert isinstance(request.user, User)
    with rooms.room(report.key) as room:
        found = room.call(room.catch_up, table, given.scope, request.user).result()
    if not found:
        raise Refusal("This table is no longer in the text; put it in again, or undo its removal.", 404)
    return 204, None


@router.get("/reports/{key}/alike/{block}", response=Paragraphs)
def paragraphs_alike(request: HttpRequest, key: str, block: str) -> Paragraphs:
    """The paragraphs that look like this one, itself included."""
    report, _ = open_report(key, request.user)
    with rooms.room(report.key) as room:
        return Paragraphs(ids=list(room.call(room.alike, block).result()))
