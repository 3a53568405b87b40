"""Signing in and out, and making further accounts."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest
from ninja import Router, Schema
from ninja.utils import check_csrf

from mellowspine.server.accounts import attempts
from mellowspine.server.accounts.people import Person, person, shown_name
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.registry import rooms

router = Router()


class DemonstrationPerson(Schema):
    """Somebody to sign in as by one press; ``does`` says in a few words what they do there."""

    name: str
    full_name: str
    does: str


class Session(Schema):
    person: Person | None
    demonstration: list[DemonstrationPerson]
    """Empty but in the demonstration."""


class SignIn(Schema):
    name: str
    password: str = ""


class NewPerson(Schema):
    name: str
    full_name: str = ""
    password: str


_DOES = "demonstration: "
"""How the name of a group begins that says what its people do in the demonstration."""


def _demonstration() -> list[DemonstrationPerson]:
    if not settings.DEMONSTRATION:
        return []
    people = User.objects.filter(groups__name="demonstration").order_by("pk").prefetch_related("groups")
    return [
        DemonstrationPerson(
            name=user.username,
            full_name=shown_name(user),
            does="".join(group.name.removeprefix(_DOES) for group in user.groups.all() if group.name.startswith(_DOES)),
        )
        for user in people
    ]


def _session(request: HttpRequest) -> Session:
    user = request.user
    return Session(person=person(user) if isinstance(user, User) else None, demonstration=_demonstration())


@router.get("/session", auth=None, response=Session)
def session(request: HttpRequest) -> Session:
    return _session(request)


@router.post("/session", auth=None, response=Session)
def sign_in(request: HttpRequest, given: SignIn) -> Session:
    if check_csrf(request) is not None:
        raise Refusal("This page has been open for too long; load it again and sign in.", 403)
    if settings.DEMONSTRATION and not given.password:
        user = User.objects.filter(username=given.name, groups__name="demonstration").first()
    else:
        address = request.META.get("REMOTE_ADDR", "")
        if attempts.too_many(given.name, address):
            raise Refusal("Too many wrong passwords; wait five minutes and try again.", 429)
        user = authenticate(request, username=given.name, password=given.password)
        if user is None:
            attempts.note_wrong(given.name, address)
    if user is None:
        raise Refusal("Name and password do not belong together; check both and try again.", 403)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    rooms.check()  # another person may have been signed in here
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    logout(request)
    rooms.check()
    return _session(request)


def _staff(request: HttpRequest) -> None:
    if not (isinstance(request.user, User) and request.user.is_staff):
        raise Refusal("Only the people who run this application can make accounts.", 403)


@router.get("/people", response=list[Person])
def people(request: HttpRequest) -> list[Person]:
    _staff(request)
    return [person(user) for user in User.objects.order_by("username")]


@router.post("/people", response=Person)
def add_person(request: HttpRequest, given: NewPerson) -> Person:
    _staff(request)
    user = User(username=given.name.strip(), first_name=given.full_name.strip()[:150])
    try:
        validate_password(given.password, user)
        user.set_password(given.password)
        user.full_clean()
    except ValidationError as error:
        raise Refusal(" ".join(error.messages)) from None
    user.save()
    return person(user)
