"""The rooms that are open in this process. One process serves all rooms: a report must never have two.

Entering may wait for the same room to close; call it from a thread, not from an event loop.
"""

from __future__ import annotations

import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection

from .leftovers import sweep
from .room import Room

KEPT_OPEN = 8
"""Rooms that stay open although nobody is in them, those left last: whoever comes back need not wait."""

BEAT = 2.0
"""Seconds after which every room looks again at who is in it, and tries again what it could not do."""


SWEEP = 6 * 3600.0
"""Seconds between two looks at what has ended altogether; the first is at the first beat."""


class Registry:
    def __init__(self) -> None:
        self._rooms: dict[str, Room] = {}
        self._closing: set[str] = set()
        """Reports whose room is being closed, outside the lock: nobody else need wait for that."""
        self._users: Counter[str] = Counter()
        self._changed = threading.Condition()
        self._beating: threading.Thread | None = None
        self._end = threading.Event()

    def enter(self, key: str) -> Room:
        """The room of a report, opened if need be, until ``leave``. The caller has checked that the report exists."""
        with self._changed:
            self._changed.wait_for(lambda: key not in self._closing)
            self._users[key] += 1
            room = self._rooms.get(key)
            if room is None:
                room = self._rooms[key] = Room(key)
            if self._beating is None:
                self._end.clear()
                self._beating = threading.Thread(target=self._beat, name="rooms", daemon=True)
                self._beating.start()
            return room

    def leave(self, key: str) -> None:
        """Gives back what ``enter`` gave; rooms that nobody uses are closed, but for the last few."""
        with self._changed:
            self._users[key] -= 1
            if self._users[key] <= 0:
                del self._users[key]
                if key in self._rooms:
                    self._rooms[key] = self._rooms.pop(key)
            idle = [one for one, room in self._rooms.items() if one not in self._users and not room.is_needed]
            surplus = {one: self._rooms.pop(one) for one in idle[: max(0, len(idle) - KEPT_OPEN)]}
            self._closing.update(surplus)
        for key, one in surplus.items():
            # Whoever leaves need not wait for a room that is still busy.
            threading.Thread(target=self._close, args=({key: one},), name=f"close-{key}").start()

    def _close(self, rooms: dict[str, Room]) -> None:
        for key, room in rooms.items():
            try:
                room.close()
            finally:
                with self._changed:
                    self._closing.discard(key)
                    self._changed.notify_all()

    @contextmanager
    def room(self, key: str) -> Iterator[Room]:
        room = self.enter(key)
        try:
            yield room
        finally:
            self.leave(key)

    def renew(self, key: str) -> None:
        """Has the room of a report, if it is open, read its rows again: its name, styles or members have changed."""
        with self._changed:
            if room := self._rooms.get(key):
                room.renew_soon()

    def check(self) -> None:
        """Has every room look again at who may be in it: somebody has signed out."""
        with self._changed:
            for room in self._rooms.values():
                room.call(room.check)

    def _beat(self) -> None:
        swept = 0.0
        while not self._end.wait(BEAT):
            if time.monotonic() - swept > SWEEP:
                swept = time.monotonic()
                sweep()
                connection.close()  # it is asked for once in a long while
            with self._changed:
                # A room still busy with the last beat is left alone.
                for room in self._rooms.values():
                    room.beat_soon()

    def close(self) -> None:
        """Closes every room, whoever is in it."""
        self._end.set()
        with self._changed:
            beating, self._beating = self._beating, None
            rooms, self._rooms = self._rooms, {}
            self._users.clear()
            self._closing.update(rooms)
        if beating:
            beating.join()
        self._close(rooms)
        with self._changed:
            self._changed.wait_for(lambda: not self._closing)


rooms = Registry()
