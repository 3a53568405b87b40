"""Headings made by hand: the rules by which they are found, and the plan that marks them."""

from __future__ import annotations

import secrets
from itertools import count
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from mellowspine.core.checkup.exchange import exchange
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.plan import as_json
from mellowspine.core.structure.marking import mark, numbers_taken
from mellowspine.core.structure.rules import RuleError, check_rules, read_rule, rule_to_json
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import NotComputed
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.reports import open_report, styles_of

router = Router()

MOST_LOOKS = 5000
"""Looks that are marked at once."""


class LookRule(Schema):
    """``style``: what its paragraphs get; null leaves them as they are. ``wants``: the traits they have, see core's rules."""

    name: str
    style: str | None
    wants: dict[str, Any]


class LookRules(Schema):
    rules: list[LookRule]


class Look(Schema):
    style: str
    members: list[str]


class ToMark(Schema):
    """``numbers``: whether typed numbers are taken out; ``contents`` and ``rows``: whether typed contents are exchanged for
    a table, and rows of empty paragraphs for page breaks; ``show``: whether it is told which numbers will read otherwise."""

    looks: list[Look]
    numbers: bool = True
    contents: bool = False
    rows: bool = False
    show: bool = False


class Differs(Schema):
    block: str
    typed: str
    made: str


class MarkingPlan(Schema):
    """``marked``: how many paragraphs get a style; ``gone``: how many are not in the text any more. ``typed``: how many
    numbers are taken out; ``scheme``: the numbering that makes them anew, where there is none yet; ``differ``: those that
    will read otherwise."""

    plan: list[dict[str, Any]]
    marked: int
    gone: int
    typed: int
    scheme: str | None
    differ: list[Differs]


@router.get("/reports/{key}/look-rules", response=LookRules)
def look_rules(request: HttpRequest, key: str) -> dict[str, Any]:
    report, _ = open_report(key, request.user)
    return {"rules": report.look_rules}


@router.put("/reports/{key}/look-rules", response={204: None})
def save_look_rules(request: HttpRequest, key: str, given: LookRules) -> tuple[int, None]:
    report, _ = open_report(key, request.user, change=True)
    styles = styles_of(report)
    try:
        rules = [read_rule(one.dict(), styles) for one in given.rules]
        check_rules(rules)
    except RuleError as error:
        raise Refusal(str(error)) from None
    report.look_rules = [rule_to_json(rule) for rule in rules]
    report.save(update_fields=["look_rules"])
    rooms.renew(report.key)
    return 204, None


@router.post("/reports/{key}/plans/mark-looks", response=MarkingPlan)
def plan_to_mark_looks(request: HttpRequest, key: str, given: ToMark) -> MarkingPlan:
    """The plan that marks paragraphs by their looks, for the browser to carry out."""
    open_report(key, request.user, change=True)
    try:
        with rooms.room(key) as room:
            state = room.call(room.checked).result().state
    except NotComputed:
        raise Refusal(
            "The structure cannot be computed just now, through a fault of ours; what you write is saved. Try again later.",
            503,
        ) from None
    report = state.report
    if len(given.looks) > MOST_LOOKS:
        raise Refusal(f"There are more than {MOST_LOOKS} looks to mark; mark some of them first.")
    for look in given.looks:
        if look.style not in report.styles:
            raise Refusal("A style is no longer in the report; choose another one for its look.")
    wanted = {id: look.style for look in given.looks for id in look.members}
    there = {id: style for block in report.blocks if (style := wanted.get(id := block.id))}
    numbers = numbers_taken(report, there, SCHEMES, given.show)
    ids = (secrets.token_urlsafe(9) for _ in count())
    plan = mark(report, there, given.numbers) + exchange(state.found, state.pages, given.contents, given.rows, ids)
    return MarkingPlan(
        plan=as_json(plan, report),
        marked=len(there),
        gone=len(wanted) - len(there),
        typed=len(numbers.typed),
        scheme=numbers.scheme if given.numbers else None,
        differ=[Differs(block=id, typed=typed, made=made) for id, typed, made in numbers.differ]
        if given.numbers
        else [],
    )
