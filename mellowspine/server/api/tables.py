"""The tables of a report: their forms and recipes, how far they are caught up, own words, and what was done to them."""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import partial
from typing import Any, Literal, TypeVar

from django.contrib.auth.models import User
from django.db import DatabaseError
from django.db.models import Q
from django.http import HttpRequest
from ninja import Router, Schema

from mellowspine.core.kinds.table_pictures import WIDTH, picture
from mellowspine.core.pages.draw import Rule, Words
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import changed
from mellowspine.core.tables.changing import (
    Changed,
    Now,
    as_headed,
    caught_up,
    in_words,
    pages_taken,
    with_recipe,
)
from mellowspine.core.tables.forms import FORMS, Form, form_kept, form_of, formed, forms_for
from mellowspine.core.tables.setting import Measures, measures_of
from mellowspine.core.tables.settle import Scope
from mellowspine.server.accounts.people import shown_name, signed_in
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import Derived, NotComputed
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Report, Role, TableChange, TableForm
from mellowspine.server.shelf.reports import open_report

log = logging.getLogger(__name__)

router = Router()

R = TypeVar("R")

PICTURE_HEIGHT = 160.0
"""Points of a table that its picture shows."""


class CatchUp(Schema):
    """``lines``: the sources of those that are chosen."""

    scope: Literal["everything", "pages", "chosen"]
    lines: list[str] = []

    def as_scope(self) -> Scope:
        return frozenset(self.lines) if self.scope == "chosen" else self.scope


class Done(Schema):
    """``change``: the number under which it can be taken back; null if nothing has changed."""

    change: int | None


class AllDone(Schema):
    """Numbers of the changes by table; only of those in which something changed."""

    changes: dict[str, int]


class Result(Schema):
    """A table as it would be: its lines and measures as in the room's messages, and on how many pages.

    ``lines``: null where all are as they were.
    """

    lines: list[Any] | None
    pages: int
    set: Measures


class Settings(Schema):
    """Pairs of path and value: ``[["looks", "2", "size"], 9]``."""

    settings: list[tuple[list[str], Any]]


class FormChosen(Schema):
    form: str


class FormKept(Schema):
    """``everywhere``: offered in all reports of this person, and not only in this one."""

    name: str
    everywhere: bool = False


class FormShown(Schema):
    """``words``: [x, baseline, text, font, bold, italic, size, colour, step]; ``rules``: [x, y, width, weight, colour]; points."""

    key: str
    name: str
    description: str
    own: bool
    at_hand: bool
    width: float
    height: float
    words: list[tuple[float, float, str, str, bool, bool, float, str, float]]
    rules: list[tuple[float, float, float, float, str]]


class LineWords(Schema):
    """``words``: null leaves the line out."""

    source: str
    words: str | None


class LineSource(Schema):
    source: str


class KeepsLevel(Schema):
    keeps_level: bool


class ChangeShown(Schema):
    """``lines``: the kinds in which each differed, its words before, and after."""

    id: int
    what: str
    who: str
    at: str
    may_take_back: bool
    taken_back: bool
    lines: list[tuple[list[str], str | None, str | None]]


class TakeBackChange(Schema):
    change: int


_GONE = "This table is no longer in the text; put it in again, or undo its removal."
_WORDS_AT_MOST = 1000
MOST_FORMS = 100
"""Forms that one person can keep for one report, or for all."""


def _not_computed() -> Refusal:
    return Refusal(
        "Pages and tables cannot be computed just now, through a fault of ours; what you write is saved. Try again later.",
        503,
    )


def _change_tables(report: Report, change: Callable[[Derived], R]) -> R:
    with rooms.room(report.key) as room:
        try:
            return room.call(room.change_tables, change).result()
        except NotComputed:
            raise _not_computed() from None
        except DatabaseError as error:
            log.exception("A change of the tables of report %s could not be stored", report.key)
            raise Refusal(
                "This cannot be saved just now, and nothing has changed; try again in a moment.", 503
            ) from error


def change_table(
    report: Report, table: str, change: Callable[[Now], Changed], person: User, what: str, alone: bool = False
) -> Done:
    """Changes a table for everybody, and notes it under what it is called; ``alone`` where it is no step of what was done just
    before. Raises Refusal."""
    try:
        number = _change_tables(report, lambda derived: _change_one(derived, table, change, person, what, alone))
    except SettingError as error:
        raise Refusal(str(error)) from None
    return Done(change=number)


def take_change_back(report: Report, table: str, number: int, person: User) -> bool:
    """Takes back what was done to a table together with other things; whether it stays no longer. Raises Refusal."""

    def take_back(derived: Derived) -> bool:
        done = TableChange.objects.filter(pk=number).first()
        if done is None or done.taken_back or not derived.holds(table):
            return True
        return derived.take_back(table, number, person) is None

    return _change_tables(report, take_back)


def _change_one(
    derived: Derived, table: str, change: Callable[[Now], Changed], person: User, what: str, alone: bool
) -> int | None:
    if not derived.holds(table):
        raise Refusal(_GONE, 404)
    return derived.change_table(table, change, person, what, alone)


def _now(report: Report, table: str) -> Now:
    """The report as it is, for what is computed outside its room. Raises Refusal if the table is not in it."""
    with rooms.room(report.key) as room:
        try:
            now: Now = room.call(room.now).result()
        except NotComputed:
            raise _not_computed() from None
    if not now.holds(table):
        raise Refusal(_GONE, 404)
    return now


def _result(now: Now, table: str, change: Callable[[Now], Changed]) -> Result:
    try:
        report, pages = change(now)
    except SettingError as error:
        raise Refusal(str(error)) from None
    issued = report.tables[table]
    return Result(
        lines=None if issued.lines == now.report.tables[table].lines else [*issued.lines],
        pages=pages_taken(pages, now.placed[table]),
        set=measures_of(issued, pages.on_paper(now.placed[table]), now.typefaces),
    )


@router.post("/reports/{key}/tables/{table}/catch-up", response=Done)
def catch_up(request: HttpRequest, key: str, table: str, given: CatchUp) -> Done:
    report, _ = open_report(key, request.user, change=True)
    what = {"everything": "Caught up everything", "pages": "Caught up page numbers", "chosen": "Caught up chosen lines"}
    person, scope = signed_in(request), given.as_scope()
    found = _change_tables(report, lambda now: now.catch_up([table], scope, person, what[given.scope]))
    if found is None:
        raise Refusal(_GONE, 404)
    return Done(change=found.get(table))


@router.post("/reports/{key}/catch-up", response=AllDone)
def catch_up_all(request: HttpRequest, key: str) -> AllDone:
    """Brings every table in the text up to date."""
    report, _ = open_report(key, request.user, change=True)
    person = signed_in(request)
    found = _change_tables(
        report, lambda now: now.catch_up(now.placed(), "everything", person, "Caught up everything, with all tables")
    )
    return AllDone(changes=found or {})


@router.post("/reports/{key}/tables/{table}/result", response=Result)
def result_of_catching_up(request: HttpRequest, key: str, table: str, given: CatchUp) -> Result:
    """The table as it would be after catching up; nothing is changed."""
    report, _ = open_report(key, request.user)
    scope = given.as_scope()
    return _result(_now(report, table), table, lambda now: caught_up(now, [table], scope))


def _recipe(now: Now, table: str, given: Settings) -> Changed:
    recipe = changed(now.report.tables[table].recipe, {tuple(path): value for path, value in given.settings})
    return with_recipe(now, table, recipe)


@router.post("/reports/{key}/tables/{table}/preview", response=Result)
def preview_recipe(request: HttpRequest, key: str, table: str, given: Settings) -> Result:
    """The table as it would be with other settings; nothing is changed."""
    report, _ = open_report(key, request.user)
    return _result(_now(report, table), table, lambda now: _recipe(now, table, given))


def _named(path: list[str]) -> str:
    """A setting in words."""
    match path:
        case ["looks", level, name]:
            return f"{name} of level {level}".replace("_", " ")
        case _:
            return " ".join(path).replace("_", " ")


@router.post("/reports/{key}/tables/{table}/recipe", response=Done)
def change_recipe(request: HttpRequest, key: str, table: str, given: Settings) -> Done:
    report, _ = open_report(key, request.user, change=True)
    names = [*dict.fromkeys(_named(path) for path, _ in given.settings)]
    what = f"Changed {', '.join(names)}" if 0 < len(names) < 4 else "Changed several settings"
    return change_table(report, table, lambda now: _recipe(now, table, given), signed_in(request), what)


def _own_forms(report: Report, person: User) -> dict[str, Form]:
    """Forms kept for this report by anybody, and for all of theirs by this person."""
    rows = TableForm.objects.filter(Q(report=report) | Q(report=None, person=person))
    return {row.key: form_kept(row.key, row.name, row.settings) for row in rows}


@router.get("/reports/{key}/tables/{table}/forms", response=list[FormShown])
def table_forms(request: HttpRequest, key: str, table: str) -> list[FormShown]:
    """All forms with a picture of this report's own table in each."""
    report, _ = open_report(key, request.user)
    now = _now(report, table)
    own = _own_forms(report, signed_in(request))
    forms = forms_for(now.report.tables[table].recipe.kind)
    return [_shown(now, table, form, form.key in own) for form in (*forms, *own.values())]


def _shown(now: Now, table: str, form: Form, own: bool) -> FormShown:
    at_hand = now.report.tables[table].recipe
    recipe = formed(at_hand, form)
    marks = picture(now, table, recipe, PICTURE_HEIGHT)
    return FormShown(
        key=form.key, name=form.name, description=form.description, own=own, at_hand=recipe == at_hand, width=WIDTH, height=PICTURE_HEIGHT,
        words=[(m.x, m.baseline, m.text, m.face.font, m.face.bold, m.face.italic, m.size, m.colour, m.step)
               for m in marks if isinstance(m, Words)],
        rules=[(m.x, m.y, m.width, m.weight, m.colour) for m in marks if isinstance(m, Rule)],
    )  # fmt: skip


@router.post("/reports/{key}/tables/{table}/form", response=Done)
def choose_form(request: HttpRequest, key: str, table: str, given: FormChosen) -> Done:
    report, _ = open_report(key, request.user, change=True)
    person = signed_in(request)
    form = FORMS.get(given.form) or _own_forms(report, person).get(given.form)
    if form is None:
        raise Refusal("There is no such form any more; choose another one.", 404)

    def change(now: Now) -> Changed:
        return with_recipe(now, table, formed(now.report.tables[table].recipe, form))

    return change_table(report, table, change, person, f"Gave it the form “{form.name}”")


@router.post("/reports/{key}/tables/{table}/forms", response={204: None})
def save_form(request: HttpRequest, key: str, table: str, given: FormKept) -> tuple[int, None]:
    """Keeps the table's recipe as a form; one of the same name is replaced."""
    report, _ = open_report(key, request.user, change=True)
    person, name = signed_in(request), " ".join(given.name.split())
    if not 1 <= len(name) <= 80:
        raise Refusal("A form needs a name of 1 to 80 characters; choose another one.")
    form = form_of(_now(report, table).report.tables[table].recipe, "", name)
    settings = [[[*path], value] for path, value in form.settings.items()]
    for_which = None if given.everywhere else report
    forms = TableForm.objects.filter(person=person, report=for_which)
    # Two of one name, made at the same moment, become one.
    if (same := forms.filter(name=name)).update(settings=settings) == 0:
        if forms.count() >= MOST_FORMS:
            raise Refusal(f"There is room for {MOST_FORMS} forms of yours; delete one first.")
        TableForm.objects.create(person=person, report=for_which, name=name, settings=settings)
    same.filter(pk__gt=same.values_list("pk", flat=True)[:1]).delete()
    return 204, None


@router.delete("/reports/{key}/forms/{form}", response={204: None})
def delete_form(request: HttpRequest, key: str, form: str) -> tuple[int, None]:
    """Deletes a form of one's own; or, of a report's, whoever owns that. Tables that have it stay as they are."""
    report, role = open_report(key, request.user, change=True)
    own = Q(person=signed_in(request)) & (Q(report=report) | Q(report=None))
    gone, _ = TableForm.objects.filter(own | Q(report=report) if role == Role.OWNER else own, key=form).delete()
    if not gone and TableForm.objects.filter(report=report, key=form).exists():
        raise Refusal("Somebody else made this form; ask them, or the owner of the report, to delete it.", 403)
    return 204, None


@router.post("/reports/{key}/tables/{table}/words", response=Done)
def set_own_words(request: HttpRequest, key: str, table: str, given: LineWords) -> Done:
    """Sets a line in own words, or leaves it out; so also where its own words are to stay though the heading has changed."""
    report, _ = open_report(key, request.user, change=True)
    words = None if given.words is None else " ".join(given.words.split())
    if words == "":
        raise Refusal("A line needs words; leave it out, if it is not to be there.")
    if words is not None and len(words) > _WORDS_AT_MOST:
        raise Refusal(f"A line has room for {_WORDS_AT_MOST} characters; shorten it.")
    what = "Left a line out" if words is None else f"Own words: “{words[:120]}”"
    return change_table(report, table, lambda now: in_words(now, table, given.source, words), signed_in(request), what)


@router.post("/reports/{key}/tables/{table}/heading-words", response=Done)
def use_heading_words(request: HttpRequest, key: str, table: str, given: LineSource) -> Done:
    """Gives a line the heading's words again, and puts it in again if it was left out."""
    report, _ = open_report(key, request.user, change=True)
    change = partial(as_headed, key=table, source=given.source)
    return change_table(report, table, change, signed_in(request), "Back to the heading’s words")


@router.post("/reports/{key}/tables/{table}/keeps-level", response={204: None})
def keep_level(request: HttpRequest, key: str, table: str, given: KeepsLevel) -> tuple[int, None]:
    """Has a table brought up to date by itself after each edit, or no longer."""
    report, _ = open_report(key, request.user, change=True)
    if not _change_tables(report, lambda now: now.keep_level(table, given.keeps_level)):
        raise Refusal(_GONE, 404)
    return 204, None


@router.get("/reports/{key}/tables/{table}/history", response=list[ChangeShown])
def table_history(request: HttpRequest, key: str, table: str) -> list[ChangeShown]:
    """What was done to a table, the newest first."""
    report, _ = open_report(key, request.user)
    rows = TableChange.objects.filter(table__report=report, table__key=table).select_related("person").defer("before")
    newest = rows.order_by("-pk")[:100]
    last = next((row.pk for row in newest if not row.taken_back), None)
    return [
        ChangeShown(
            id=row.pk, what=row.what, who=shown_name(row.person) if row.person else "", at=row.at.isoformat(),
            may_take_back=row.pk == last and row.person == request.user, taken_back=row.taken_back, lines=row.lines,
        )
        for row in newest
    ]  # fmt: skip


@router.post("/reports/{key}/tables/{table}/take-back", response={204: None})
def take_table_change_back(request: HttpRequest, key: str, table: str, given: TakeBackChange) -> tuple[int, None]:
    """Takes back what somebody changed last about a table, if it was this person."""
    report, _ = open_report(key, request.user, change=True)
    person = signed_in(request)

    def take_back(derived: Derived) -> str | None:
        if not derived.holds(table):
            raise Refusal(_GONE, 404)
        return derived.take_back(table, given.change, person)

    if refused := _change_tables(report, take_back):
        raise Refusal(refused, 409)
    return 204, None
