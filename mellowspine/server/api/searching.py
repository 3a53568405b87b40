"""Finding words in a whole report, and the plan that puts others in their place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from mellowspine.core.report.plan import as_json
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.structure.outline import outline, paragraphs
from mellowspine.core.structure.searching import (
    LONGEST,
    Formatting,
    Hit,
    Wanted,
    changed_lines,
    find,
    replacement,
)
from mellowspine.server.refusals import Refusal
from mellowspine.server.shelf.reports import open_report

from .rooms import report_of

router = Router()

MOST_SHOWN = 2000
"""Places that are shown; all are counted, and replaced."""

Said = Annotated[str, Field(max_length=LONGEST)]


class ToSearch(Schema):
    """What is looked for, see ``Wanted``; and what would stand in its place, if anything is to."""

    words: Said
    capitals: bool = False
    whole: bool = False
    accents: bool = False
    pattern: bool = False
    headings: bool = False
    style: str = ""
    formatting: Formatting = ""
    instead: Said | None = None

    def wanted(self) -> Wanted:
        return Wanted(**self.model_dump(include={*Wanted._fields}))


class HitShown(Schema):
    """``start`` counts UTF-16 code units."""

    paragraph: str
    start: int
    words: str
    before: str
    after: str
    section: str
    instead: str


class SectionShown(Schema):
    """A heading under which something was found, and how often; no words for what stands in front of all headings."""

    id: str
    number: str
    text: str
    count: int


class LineShown(Schema):
    """A line of a table that would say otherwise, or own words of one that hold what would be replaced."""

    table: str
    title: str
    before: str
    after: str
    is_own: bool


class Found(Schema):
    count: int
    sections: list[SectionShown]
    hits: list[HitShown]


class ToReplace(ToSearch):
    """``places``: paragraph and start of those that are meant; all of them without."""

    places: list[tuple[str, int]] | None = None


class ReplacementPlan(Schema):
    plan: list[dict[str, Any]]
    count: int
    lines: list[LineShown]


@router.post("/reports/{key}/search", response=Found)
def search(request: HttpRequest, key: str, given: ToSearch) -> Found:
    """Where something stands in a report, by section."""
    open_report(key, request.user)
    report = report_of(key)
    try:
        hits = list(find(report, given.wanted(), given.instead))
    except SettingError as error:
        raise Refusal(str(error)) from None
    counts: dict[str, int] = {}
    for hit in hits:
        counts[hit.section] = counts.get(hit.section, 0) + 1
    headings = {one.id: one for one in outline(report)} if hits else {}
    sections = []
    for id, count in counts.items():
        heading = headings.get(id)
        number, text = (heading.number, heading.text) if heading else ("", "")
        sections.append(SectionShown(id=id, number=number, text=text, count=count))
    return Found(count=len(hits), sections=sections, hits=list(_shown(hits[:MOST_SHOWN], report)))


@router.post("/reports/{key}/plans/replace", response=ReplacementPlan)
def plan_replacement(request: HttpRequest, key: str, given: ToReplace) -> ReplacementPlan:
    """The plan that puts other words in the place of what is found, and what tables would say otherwise by it."""
    open_report(key, request.user, change=True)
    report = report_of(key)
    places = None if given.places is None else _places(given.places, report)
    try:
        plan, hits = replacement(report, given.wanted(), given.instead or "", places)
    except SettingError as error:
        raise Refusal(str(error)) from None
    lines = [LineShown(**line._asdict()) for line in changed_lines(report, hits)]
    return ReplacementPlan(plan=as_json(plan, report), count=len(hits), lines=lines)


def _texts(wanted: Iterable[str], report: CoreReport) -> dict[str, str]:
    """The texts of paragraphs in which offsets count otherwise in UTF-16, by id."""
    ids = {*wanted}
    return {one.id: text for one in paragraphs(report) if one.id in ids and not (text := one.text).isascii()}


def _shown(hits: list[Hit], report: CoreReport) -> Iterator[HitShown]:
    texts = _texts((hit.paragraph for hit in hits), report)
    for hit in hits:
        text = texts.get(hit.paragraph)
        start = hit.start if text is None else len(text[: hit.start].encode("utf-16-le")) // 2
        yield HitShown(
            paragraph=hit.paragraph,
            start=start,
            words=hit.words,
            before=hit.before,
            after=hit.after,
            section=hit.section,
            instead=hit.instead,
        )


def _places(given: list[tuple[str, int]], report: CoreReport) -> set[tuple[str, int]]:
    """Places as a browser counts them, as the core does."""
    texts = _texts((paragraph for paragraph, _ in given), report)
    return {
        (
            id,
            start
            if (text := texts.get(id)) is None
            else len(text.encode("utf-16-le")[: 2 * start].decode("utf-16-le", "ignore")),
        )
        for id, start in given
    }
