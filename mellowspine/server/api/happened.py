"""What happened to the sections of a report since some time, what was removed of it, and the words that are kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Annotated, Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from pydantic import AwareDatetime, Field

from mellowspine.core.report.blocks import Block, DataTable, Paragraph
from mellowspine.core.report.plan import Insert, as_json
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.structure.happened import Happened, Kind, happened, sentences
from mellowspine.server.accounts.people import Person, person, shown_name, signed_in
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.document import new_id
from mellowspine.server.rooms.kept import RemovedSection, TakenOut, ghost_of, paragraph_of
from mellowspine.server.rooms.models import KeptWords, Touch, Update
from mellowspine.server.rooms.past import blocks_at
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import HeadingChange, Report
from mellowspine.server.shelf.reports import open_report
from mellowspine.server.shelf.visits import last_here

from .rooms import report_of
from .sections import Id

router = Router()

_CAUSES: Mapping[Kind, str] = {
    "added": "added",
    "removed": "removed",
    "renamed": "renamed",
    "moved": "moved",
    "level": "level",
}
"""Under which name it is kept who did it."""


class HappenedShown(Schema):
    """What happened to one section, in words. ``id``: its heading; ``there``: whether that is in the text; ``by``: who did it, by
    number, as far as that is known; ``at``: when it was done last, as far as that is known."""

    id: str
    kinds: list[Kind]
    text: str
    there: bool
    by: list[int]
    at: datetime | None


class Visitor(Person):
    """``last_here``: when they were in the report last, but for the visit they are on; None if never."""

    last_here: datetime | None


class HappenedSince(Schema):
    """``since``: None if whoever asks is here for the first time."""

    since: datetime | None
    people: list[Visitor]
    happened: list[HappenedShown]


@router.get("/reports/{key}/happened", response=HappenedSince)
def happened_since(
    request: HttpRequest, key: str, since: AwareDatetime | None = None, but_mine: bool = False
) -> HappenedSince:
    """What happened since a time, or else since whoever asks was last here. ``but_mine``: nothing if nobody else wrote."""
    report, _ = open_report(key, request.user)
    me = signed_in(request)
    members = [*report.members.select_related("person").order_by("pk")]
    people = [
        Visitor(**person(one.person).dict(), last_here=one.here_at if one.person_id != me.pk else last_here(one))
        for one in members
    ]
    at = since or next((last_here(one) for one in members if one.person_id == me.pk), None)
    if at is None:
        return HappenedSince(since=None, people=people, happened=[])
    at = max(at, report.made_at)
    written = Update.objects.filter(report=report, at__gt=at)
    if but_mine:
        written = written.exclude(person=me)
    now = report_of(key) if written.exists() else None
    found = _happened(report, now, at) if now else []
    return HappenedSince(since=at, people=people, happened=found)


def _happened(row: Report, now: CoreReport, since: datetime) -> list[HappenedShown]:
    found = happened(replace(now, blocks=tuple(blocks_at(row, since, now.blocks))), now)
    causes = {
        (one.heading, one.kind): one
        for one in HeadingChange.objects.filter(report=row, at__gt=since).select_related("person")
    }
    writers = _writers(row, now, since, [one for one in found if "written" in one.kinds or "added" in one.kinds])
    shown = []
    for one in found:
        side = one.now or one.then
        assert side is not None
        who: dict[Kind, str] = {}
        by: list[int] = []
        times: list[datetime] = []
        for kind in one.kinds:
            cause = causes.get((side.id, _CAUSES.get(kind, "")))
            if cause:
                times.append(cause.at)
            if cause and cause.person:
                who[kind] = shown_name(cause.person)
                by.append(cause.person.pk)
        if wrote := writers.get(side.id):
            who["written"] = _listed([name for _, name, _ in wrote])
            by += [number for number, _, _ in wrote]
            times += [time for _, _, time in wrote]
        shown.append(
            HappenedShown(
                id=side.id,
                kinds=[*one.kinds],
                text=sentences(one, who),
                there=one.now is not None,
                by=[*dict.fromkeys(by)],
                at=max(times, default=None),
            )
        )
    return shown


def _writers(
    row: Report, now: CoreReport, since: datetime, found: Sequence[Happened]
) -> dict[str, list[tuple[int, str, datetime]]]:
    """Who wrote in which sections since a time, by heading: number, name, and when last."""
    wanted = {one.now.id for one in found if one.now}
    if not wanted:
        return {}
    touches: dict[str, list[Touch]] = {}
    for touch in Touch.objects.filter(report=row, at__gt=since).select_related("person"):
        touches.setdefault(touch.block, []).append(touch)
    people: dict[str, dict[int, tuple[int, str, datetime]]] = {}
    heading = ""
    for block in now.blocks:
        if isinstance(block, Paragraph) and block.style in now.styles.levels:
            heading = block.id
            continue
        for touch in touches.get(block.id, ()) if heading in wanted else ():
            known = people.setdefault(heading, {}).get(touch.person_id)
            at = max(touch.at, known[2]) if known else touch.at
            people[heading][touch.person_id] = touch.person_id, shown_name(touch.person), at
    return {id: [*found.values()] for id, found in people.items()}


def _listed(names: Sequence[str]) -> str:
    *first, last = names
    return f"{', '.join(first)} and {last}" if first else last


class RemovedShown(Schema):
    """A section that is gone, to be read: pairs of a heading's level, 0 for all other text, and the words."""

    paragraphs: list[tuple[int, str]]


class Back(Schema):
    """The heading of a section that is gone; and the block behind which it is to stand, None for where it was."""

    section: Id
    after: Id | None = None


class BackPlan(Schema):
    """``first``: the first block that comes back."""

    plan: list[dict[str, Any]]
    first: str


_GONE_FOR_GOOD = (
    "This section cannot be found among what was removed; it may be in the text again, or was never stored."
)


@router.get("/reports/{key}/removed/{section}", response=RemovedShown)
def removed_section(request: HttpRequest, key: str, section: str) -> RemovedShown:
    """A section that was removed, with all that was written in it since."""
    row, _ = open_report(key, request.user)
    report = report_of(key)
    gone, found = _removed(row, report, section)
    blocks = [block for _, some in gone.back(found.blocks) for block in some]
    levels = report.styles.levels
    return RemovedShown(paragraphs=[pair for block in blocks for pair in _read(block, levels)])


def _read(block: Block, levels: Mapping[str, int]) -> list[tuple[int, str]]:
    if isinstance(block, Paragraph):
        return [(levels.get(block.style, 0), block.text)]
    if isinstance(block, DataTable):
        return [(0, " · ".join(one.text for cell in row for one in cell.paragraphs)) for row in block.rows]
    return [(0, f"[{getattr(block, 'alt', '') or 'what is no text'}]")]


def _removed(row: Report, report: CoreReport, section: str) -> tuple[TakenOut, RemovedSection]:
    gone = TakenOut(ghost_of(row), report.styles.levels)
    found = next((one for one in gone.sections() if section in one.blocks), None)
    if found is None:
        raise Refusal(_GONE_FOR_GOOD)
    if found.heading != section:  # it went with the section around it, and may come back alone
        first = found.blocks.index(section)
        level = gone.level(gone.places[section]) or 0
        rest = found.blocks[first + 1 :]
        end = next((at for at, id in enumerate(rest) if 0 < (gone.level(gone.places[id]) or 0) <= level), len(rest))
        found = replace(found, heading=section, blocks=(section, *rest[:end]))
    return gone, found


@router.post("/reports/{key}/plans/back", response=BackPlan)
def plan_back(request: HttpRequest, key: str, given: Back) -> BackPlan:
    """The plan that puts a section back that was removed."""
    row, _ = open_report(key, request.user, change=True)
    report = report_of(key)
    gone, found = _removed(row, report, given.section)
    begun = KeptWords.objects.filter(report=row, section__in=found.blocks, settled_at=None).exclude(after="")
    ids = [*found.blocks, *begun.values_list("block", flat=True)]
    return _plan(gone, report, ids, given.after)


def _plan(gone: TakenOut, report: CoreReport, ids: Sequence[str], after: str | None) -> BackPlan:
    if after is None:
        plan = gone.plan_back(ids)
    else:
        _check_after(report, after)
        blocks = tuple(block for _, some in gone.back(ids) for block in some)
        plan = (Insert(blocks, after),) if blocks else ()
    if not plan:
        raise Refusal(_GONE_FOR_GOOD)
    first = next(step.blocks[0].id for step in plan if isinstance(step, Insert))
    return BackPlan(plan=as_json(plan, report), first=first)


def _check_after(report: CoreReport, after: str) -> None:
    if all(block.id != after for block in report.blocks):
        raise Refusal("The paragraph with the cursor is in the text no more; put the cursor somewhere else.")


Rows = Annotated[list[int], Field(min_length=1, max_length=1000)]


class KeptToPlace(Schema):
    """Kept words by their numbers; and the block behind which they are to stand, None for where they were written."""

    rows: Rows
    after: Id | None = None


class KeptToSettle(Schema):
    rows: Rows
    settled: bool = True


@router.post("/reports/{key}/plans/kept", response=BackPlan)
def plan_kept(request: HttpRequest, key: str, given: KeptToPlace) -> BackPlan:
    """The plan that puts kept words back, with what they were written in; or as paragraphs behind a block."""
    row, _ = open_report(key, request.user, change=True)
    kept = [*KeptWords.objects.filter(report=row, pk__in=given.rows, settled_at=None)]
    if not kept:
        raise Refusal("These words are dealt with already; look at the list again.")
    report = report_of(key)
    if given.after is not None:
        _check_after(report, given.after)
        paragraphs = _paragraphs(kept, report)
        return BackPlan(plan=as_json((Insert(paragraphs, given.after),), report), first=paragraphs[0].id)
    gone = TakenOut(ghost_of(row), report.styles.levels)
    ids = [gone.outer(one.block) for one in kept]
    for section in gone.sections():
        if any(one.section in section.blocks for one in kept):
            ids += section.blocks
    return _plan(gone, report, ids, None)


def _paragraphs(kept: Sequence[KeptWords], report: CoreReport) -> tuple[Paragraph, ...]:
    """Kept words as paragraphs: those of one block in one, none as a heading."""
    made: dict[str, Paragraph] = {}
    body = report.styles.role("body").id
    for one in kept:
        style = one.style if one.style in report.styles and one.style not in report.styles.levels else body
        words = paragraph_of(one, new_id(), style)
        before = made.get(one.block)
        made[one.block] = replace(before, runs=(*before.runs, *words.runs)) if before else words
    return tuple(made.values())


@router.post("/reports/{key}/kept/settle", response={204: None})
def settle_kept(request: HttpRequest, key: str, given: KeptToSettle) -> tuple[int, None]:
    """Kept words that somebody has dealt with; or that are to be kept again."""
    row, _ = open_report(key, request.user, change=True)
    KeptWords.objects.filter(report=row, pk__in=given.rows).update(settled_at=timezone.now() if given.settled else None)
    rooms.renew(row.key)
    return 204, None
