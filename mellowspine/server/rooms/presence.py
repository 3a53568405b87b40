"""Who is in a room: the browsers that listen, where each of them is, and whether they still may be here."""

from __future__ import annotations

import json
import time
from collections.abc import Iterable, Iterator, Mapping
from typing import Any, Protocol

from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.utils import timezone

from mellowspine.server.shelf.models import Membership, Report

from .awareness import MOST_CLIENTS, AwarenessState, message

SIGNED_OUT, NOT_YOURS = 4401, 4404
"""Codes with which a connection is closed: its person has signed out, or may not read the report."""

BEAT_EVERY = 10.0
"""Seconds between two signs of life to every browser, which takes a longer silence for a lost connection."""


class Listener(Protocol):
    """A browser in the room. The methods may be called from the room's thread."""

    person: User
    session: str | None
    """The key of the session it belongs to, if it must end with one."""
    role: str
    """What its person may do here, as far as it has been told."""

    def deliver(self, data: bytes | str) -> None: ...

    def put_out(self, code: int, why: str = "") -> None: ...


def as_text(message: Mapping[str, Any]) -> str:
    return json.dumps(message, ensure_ascii=False)


class Presence:
    """Lives in the thread of its room."""

    def __init__(self) -> None:
        self._listeners: list[Listener] = []
        self._present: dict[int, tuple[Listener, AwarenessState]] = {}
        self._moved: dict[int, tuple[Listener | None, AwarenessState]] = {}
        """Where somebody is, as far as the others have not been told yet."""
        self._beaten = time.monotonic()

    def __contains__(self, listener: object) -> bool:
        return listener in self._listeners

    def __iter__(self) -> Iterator[Listener]:
        return iter(self._listeners)

    def join(self, listener: Listener) -> None:
        self._listeners.append(listener)
        if self._present:
            listener.deliver(message(presence for _, presence in self._present.values()))

    def leave(self, listener: Listener) -> None:
        """Takes a listener out, and tells the others that it is here no longer."""
        if listener in self._listeners:
            self._listeners.remove(listener)
        for client in [client for client, (one, _) in self._present.items() if one is listener]:
            # With the same clock: a browser that comes back goes on from there, and must be believed.
            self._moved[client] = None, AwarenessState(client, self._present.pop(client)[1].clock, None)
        self.broadcast_presence()

    def broadcast(self, data: bytes | str | Mapping[str, Any], but: object = None) -> None:
        """Sends something to every listener but one; mappings as JSON."""
        sent = data if isinstance(data, bytes | str) else as_text(data)
        for listener in self._listeners:
            if listener is not but:
                listener.deliver(sent)

    def update_presence(self, presences: Iterable[AwarenessState], listener: Listener) -> bool:
        """Takes in where a listener is, for ``broadcast_presence``; whether there is something to tell.

        It speaks for itself alone: states of others' browsers are left out. But a person whose browser has come back,
        before its old connection was found to be lost, speaks for that browser still.
        """
        own = {client for client, (one, _) in self._present.items() if one is listener}
        for presence in presences:
            if presence.client not in own:
                speaker = self._present.get(presence.client)
                if (speaker and speaker[0].person.pk != listener.person.pk) or len(own) >= MOST_CLIENTS:
                    continue
                own.add(presence.client)
            if presence.state is None:
                self._present.pop(presence.client, None)
            else:
                self._present[presence.client] = (listener, presence)
            self._moved[presence.client] = listener, presence
        return bool(self._moved)

    def broadcast_presence(self) -> None:
        """Tells everybody, in one message, who has moved since the last time."""
        if self._moved:
            moved, self._moved = list(self._moved.values()), {}
            first = moved[0][0]
            alone = first if all(listener is first for listener, _ in moved) else None
            self.broadcast(message(presence for _, presence in moved), but=alone)

    def check(self, report: Report) -> list[Listener]:
        """Puts out those who have signed out or are members no longer; tells those whose role is another, and returns them.

        Whoever has another password than when they came in has signed out everywhere.
        """
        if not self._listeners:
            return []
        found = Membership.objects.filter(report=report, person__is_active=True)
        members = {
            pk: (role, password) for pk, role, password in found.values_list("person_id", "role", "person__password")
        }
        keys = {listener.session for listener in self._listeners if listener.session}
        live = set(Session.objects.filter(pk__in=keys, expire_date__gt=timezone.now()).values_list("pk", flat=True))
        changed = []
        for listener in list(self._listeners):
            role, password = members.get(listener.person.pk, (None, None))
            signed_out = listener.session and (listener.session not in live or listener.person.password != password)
            if role is None or signed_out:
                self.leave(listener)
                listener.put_out(NOT_YOURS if role is None else SIGNED_OUT)
            elif role != listener.role:
                listener.role = role
                listener.deliver(as_text({"type": "role", "role": role}))
                changed.append(listener)
        return changed

    def beat(self) -> None:
        """Gives a sign of life now and then."""
        if time.monotonic() - self._beaten >= BEAT_EVERY:
            self._beaten = time.monotonic()
            self.broadcast({"type": "beat"})
