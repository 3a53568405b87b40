"""Authorities and the index: what is cited and how it is called, where it stands in the text, and where to look instead."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from typing import Annotated, Any, TypeVar, get_type_hints

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field, create_model

from mellowspine.core.report.authorities import (
    MOST,
    OTHER,
    Authority,
    authorities_from_json,
    authority_of,
    categories_from_json,
    category_named,
)
from mellowspine.core.report.index import see_of, sees_from_json
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.structure.citations import FoundWords, find_words, likely_category, rules_from_json, unmarked
from mellowspine.core.structure.outline import paragraphs
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import NotComputed
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Report
from mellowspine.server.shelf.reports import open_report

router = Router()

MOST_RULES, MOST_SEES = 100, 2000
MOST_FOUND = 20_000
"""Occurrences that are told at once."""

T = TypeVar("T")

Form = Annotated[str, Field(max_length=2000)]


class AuthorityWritten(Schema):
    category: str = OTHER
    long: Form
    short: Form = ""


class AuthorityValues(Schema):
    category: str | None = None
    long: Form | None = None
    short: Form | None = None


class AuthorityChange(AuthorityValues):
    """``was``: what is only to be changed if it still reads so, as when somebody takes back what they did."""

    was: AuthorityValues | None = None


class Made(Schema):
    id: str


class CategoryNamed(Schema):
    name: Form


class ToFind(Schema):
    """``ids``: "id." and "ibid." as well; ``terms``: for the index, where words are not under these yet."""

    long: Form
    short: Form = ""
    ids: bool = False
    terms: list[Form] | None = None


_FOUND_FIELDS: dict[str, Any] = {name: (kind, ...) for name, kind in get_type_hints(FoundWords).items()}
FoundShown: Any = create_model("FoundShown", __base__=Schema, **_FOUND_FIELDS)
"""Words of a paragraph; offsets count UTF-16 code units."""


class Cited(Schema):
    words: Form


class Likely(Schema):
    category: str


class Candidate(Schema):
    """Words that look like a citation, and where they stand unmarked."""

    words: str
    category: str
    places: list[FoundShown]


class RuleWritten(Schema):
    words: Form
    category: str = OTHER


class SeeWritten(Schema):
    terms: list[Form]
    to: list[Form]
    also: bool = False


@transaction.atomic
def _change(request: HttpRequest, key: str, change: Callable[[Report], T]) -> T:
    """Changes a report's rows as they are at this moment. A SettingError says that it cannot be done."""
    report, _ = open_report(key, request.user, change=True)
    report.refresh_from_db()
    try:
        made = change(report)
    except SettingError as error:
        raise Refusal(str(error)) from None
    report.save(update_fields=["authorities", "categories", "citation_rules", "sees", "changed_at"])
    transaction.on_commit(lambda: rooms.renew(report.key))
    return made


@router.post("/reports/{key}/authorities", response=list[Made])
def make_authorities(request: HttpRequest, key: str, given: list[AuthorityWritten]) -> list[Made]:
    """An authority for each, by the words that cite it; the one that is called so already, if there is one. All or none."""

    def change(report: Report) -> list[str]:
        known = dict(authorities_from_json(report.authorities))
        called = {(one.long, one.category): one.id for one in known.values()}
        ids = []
        for one in given:
            made = authority_of(secrets.token_urlsafe(9), one.category, one.long, one.short)
            id = called.setdefault((made.long, made.category), made.id)
            known.setdefault(id, made)
            ids.append(id)
        if len(known) > MOST:
            raise SettingError(f"A report has room for {MOST} authorities; join some that are the same.")
        report.authorities = [[*one] for one in known.values()]
        return ids

    return [Made(id=id) for id in _change(request, key, change)]


def _given(values: AuthorityValues) -> dict[str, str]:
    """The values that are said."""
    said = {name: getattr(values, name) for name in AuthorityValues.model_fields}
    return {name: " ".join(value.split()) for name, value in said.items() if value is not None}


@router.patch("/reports/{key}/authorities/{id}", response={204: None})
def change_authority(request: HttpRequest, key: str, id: str, given: AuthorityChange) -> tuple[int, None]:
    """Other words or another category for an authority. One that is not known yet, being cited all the same, is from now on."""

    def change(report: Report) -> None:
        known = dict(authorities_from_json(report.authorities))
        old = known.get(id) or Authority(id, OTHER, given.long or "")
        if given.was and any(getattr(old, name) != value for name, value in _given(given.was).items()):
            raise SettingError(
                "Somebody has changed this authority since; look at it, and change it again if it is meant."
            )
        values = _given(given)
        known[id] = authority_of(*old._replace(**values))
        report.authorities = [[*one] for one in known.values()]

    _change(request, key, change)
    return 204, None


@router.delete("/reports/{key}/authorities/{id}", response={204: None})
def forget_authority(request: HttpRequest, key: str, id: str) -> tuple[int, None]:
    """Forgets an authority; what still cites it goes by its own words."""

    def change(report: Report) -> None:
        report.authorities = [[*one] for one in authorities_from_json(report.authorities).values() if one.id != id]

    _change(request, key, change)
    return 204, None


@router.post("/reports/{key}/categories", response=Made)
def make_category(request: HttpRequest, key: str, given: CategoryNamed) -> Made:
    def change(report: Report) -> str:
        before = categories_from_json(report.categories)
        now = category_named(given.name, before)
        report.categories = [[*one] for one in now.values()]
        return next(id for id in now if id not in before)

    return Made(id=_change(request, key, change))


@router.delete("/reports/{key}/categories/{id}", response={204: None})
def forget_category(request: HttpRequest, key: str, id: str) -> tuple[int, None]:
    """Takes a category away; what was in it is in that of what has none."""

    def change(report: Report) -> None:
        if id == OTHER:
            raise SettingError("What has no category needs this one; it stays.")
        report.categories = [[*one] for one in categories_from_json(report.categories).values() if one.id != id]
        report.authorities = [
            [*(one._replace(category=OTHER) if one.category == id else one)]
            for one in authorities_from_json(report.authorities).values()
        ]

    _change(request, key, change)
    return 204, None


@router.put("/reports/{key}/citation-rules", response={204: None})
def save_citation_rules(request: HttpRequest, key: str, given: list[RuleWritten]) -> tuple[int, None]:
    """The ways to cite of somebody's own, in place of those there were."""

    def change(report: Report) -> None:
        kept = [[" ".join(one.words.split()), one.category] for one in given]
        if len(kept) > MOST_RULES:
            raise SettingError(f"There is room for {MOST_RULES} ways to cite; take some out.")
        if len(rules_from_json(kept)) < len(kept):
            raise SettingError(
                "A way to cite needs some words of its own beside # and *; write at most 200 characters."
            )
        report.citation_rules = kept

    _change(request, key, change)
    return 204, None


@router.put("/reports/{key}/sees", response={204: None})
def save_see(request: HttpRequest, key: str, given: SeeWritten) -> tuple[int, None]:
    """Where the index says to look instead, or as well."""

    def change(report: Report) -> None:
        made = see_of(given.terms, given.to, given.also)
        known = [one for one in sees_from_json(report.sees) if (one.terms, one.to) != (made.terms, made.to)]
        if len(known) >= MOST_SEES:
            raise SettingError(f"There is room for {MOST_SEES} of these; take some out.")
        report.sees = [[*one] for one in (*known, made)]

    _change(request, key, change)
    return 204, None


@router.post("/reports/{key}/sees/forget", response={204: None})
def forget_see(request: HttpRequest, key: str, given: SeeWritten) -> tuple[int, None]:
    def change(report: Report) -> None:
        gone = (tuple(given.terms), tuple(given.to))
        report.sees = [[*one] for one in sees_from_json(report.sees) if (one.terms, one.to) != gone]

    _change(request, key, change)
    return 204, None


@router.post("/reports/{key}/find", response=list[FoundShown])
def find_citations(request: HttpRequest, key: str, given: ToFind) -> list[Any]:
    """Where words stand that are not marked as a citation, or under a term, with those around them."""
    report = _as_it_is(request, key)
    found = find_words(report, given.long, given.short, given.ids, given.terms)[:MOST_FOUND]
    return _shown(found, report)


@router.post("/reports/{key}/likely-category", response=Likely)
def category_of_words(request: HttpRequest, key: str, given: Cited) -> Likely:
    """The category that words which cite something have most likely."""
    open_report(key, request.user)
    return Likely(category=likely_category(given.words))


@router.get("/reports/{key}/unmarked", response=list[Candidate])
def unmarked_citations(request: HttpRequest, key: str) -> list[Candidate]:
    """What looks like a citation and is not marked."""
    row, _ = open_report(key, request.user)
    report = _as_it_is(request, key)
    found = unmarked(report, rules_from_json(row.citation_rules))
    shown = iter(_shown([place for one in found for place in one.places], report))
    return [
        Candidate(words=one.words, category=one.category, places=[next(shown) for _ in one.places]) for one in found
    ]


def _as_it_is(request: HttpRequest, key: str) -> CoreReport:
    """The report as it is now, for somebody who may read it."""
    open_report(key, request.user)
    try:
        with rooms.room(key) as room:
            report, _ = room.call(room.settled).result()
    except NotComputed:
        raise Refusal(
            "The text cannot be looked through just now, through a fault of ours; what you write is saved. Try again later.",
            503,
        ) from None
    return report


def _shown(found: list[FoundWords], report: CoreReport) -> list[Any]:
    wanted = {one.paragraph for one in found}
    texts = {one.id: text for one in paragraphs(report) if one.id in wanted and not (text := one.text).isascii()}

    def units(one: FoundWords, offset: int) -> int:
        text = texts.get(one.paragraph)
        return offset if text is None else len(text[:offset].encode("utf-16-le")) // 2

    def shown(one: FoundWords) -> dict[str, Any]:
        return one._asdict() | {"start": units(one, one.start), "end": units(one, one.end)}

    return [FoundShown(**shown(one)) for one in found]
