"""People, as the interface shows them."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Schema

from mellowspine.server.refusals import Refusal

_COLOURS = ("#7a3e9d", "#1f6f8b", "#a2472a", "#3d6b2f", "#8a2f5c", "#4a55a2", "#7d5a12", "#2f6d62")
"""Colours for carets and beads; each has a contrast of at least 4.5 to white (WCAG 2.2, 1.4.3)."""


class Person(Schema):
    id: int
    name: str
    colour: str
    may_add_people: bool = False


def shown_name(user: User) -> str:
    return user.get_full_name() or user.get_username()


def signed_in(request: HttpRequest) -> User:
    """Whoever has signed in. Raises Refusal if nobody has."""
    if not isinstance(request.user, User):
        raise Refusal("Sign in first.", 401)
    return request.user


def person(user: User) -> Person:
    return Person(
        id=user.pk, name=shown_name(user), colour=_COLOURS[user.pk % len(_COLOURS)], may_add_people=user.is_staff
    )
