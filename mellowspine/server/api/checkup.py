"""The check-up: what mends findings, shown before it is done; and which findings are to stay."""

from __future__ import annotations

import secrets
from itertools import count
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from mellowspine.core.checkup.findings import CHECKS, remedy
from mellowspine.core.report.plan import as_json
from mellowspine.core.report.preview import preview
from mellowspine.server.accounts.people import signed_in
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import NotComputed
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import SetAside
from mellowspine.server.shelf.reports import open_report

router = Router()

MOST_SHOWN = 200
"""Changes that a preview shows at the most."""


class ToMend(Schema):
    """``places``: the blocks with the findings."""

    kind: str
    places: list[str]


class Change(Schema):
    """A paragraph or another block before and after: the name of its style or of what it is, and its words. None where it
    was not there, or is not any more."""

    block: str
    before: tuple[str, str] | None
    after: tuple[str, str] | None


class RemedyPlan(Schema):
    """``scheme``: a numbering that is turned on with it; ``changes``: the first of what it does, of ``count`` in all."""

    plan: list[dict[str, Any]]
    scheme: str | None
    changes: list[Change]
    count: int


class Aside(Schema):
    findings: list[str]
    reason: str = ""


@router.post("/reports/{key}/plans/remedy", response=RemedyPlan)
def plan_remedy(request: HttpRequest, key: str, given: ToMend) -> RemedyPlan:
    """The plan that mends findings of a kind, for the browser to show and to carry out."""
    open_report(key, request.user, change=True)
    if given.kind not in CHECKS or CHECKS[given.kind].remedy is None:
        raise Refusal("Nothing mends these findings by itself; go to each of them and mend it in the text.")
    try:
        with rooms.room(key) as room:
            checked = room.call(room.checked).result()
    except NotComputed:
        raise Refusal(
            "The check-up cannot be computed just now, through a fault of ours; what you write is saved. Try again later.",
            503,
        ) from None
    report = checked.state.report
    made = remedy(checked, given.kind, given.places, (secrets.token_urlsafe(9) for _ in count()))
    if made is None or not made.plan:
        raise Refusal("These findings are mended already, or their places are gone; there is nothing left to do.")
    changes = preview(made.plan, report)
    return RemedyPlan(
        plan=as_json(made.plan, report),
        scheme=made.scheme,
        changes=[Change(block=id, before=before, after=after) for id, before, after in changes[:MOST_SHOWN]],
        count=len(changes),
    )


@router.post("/reports/{key}/findings/aside", response={204: None})
def set_aside(request: HttpRequest, key: str, given: Aside) -> tuple[int, None]:
    """Findings that are to stay, and why."""
    report, _ = open_report(key, request.user, change=True)
    reason = " ".join(given.reason.split())[:300]
    if not reason:
        raise Refusal("Say in a few words why these are to stay, so that others know.")
    person = signed_in(request)
    SetAside.objects.bulk_create(
        (
            SetAside(report=report, finding=finding, reason=reason, person=person)
            for finding in dict.fromkeys(one[:120] for one in given.findings[:5000])
        ),
        update_conflicts=True,
        unique_fields=["report", "finding"],
        update_fields=["reason", "person"],
    )
    rooms.renew(report.key)
    return 204, None


@router.post("/reports/{key}/findings/take-up", response={204: None})
def take_up(request: HttpRequest, key: str, given: Aside) -> tuple[int, None]:
    """Findings that were set aside count again."""
    report, _ = open_report(key, request.user, change=True)
    SetAside.objects.filter(report=report, finding__in=given.findings).delete()
    rooms.renew(report.key)
    return 204, None
