"""The rooms that are open in this process. One process serves all rooms: a report must never have two.

Entering and leaving may wait for a room to open or to close; call them from a thread, not from an event loop.
"""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from typing import Any

from .room import Room

KEPT_OPEN = 8
"""Rooms that stay open although nobody is in them, those left last: whoever comes back need not wait."""


class Registry:
    def __init__(self) -> None:
        self._rooms: dict[str, Room] = {}
        self._users: Counter[str] = Counter()
        self._lock = threading.Lock()

    def enter(self, key: str) -> Room:
        """The room of a report, opened if need be, until ``leave``. The caller has checked that the report exists."""
        with self._lock:
            self._users[key] += 1
            room = self._rooms.get(key)
            if room is None:
                room = self._rooms[key] = Room(key)
            return room

    def leave(self, key: str) -> None:
        """Gives back what ``enter`` gave; rooms that nobody uses are closed, but for the last few."""
        with self._lock:
            self._users[key] -= 1
            if self._users[key] <= 0:
                del self._users[key]
                if key in self._rooms:
                    self._rooms[key] = self._rooms.pop(key)
            idle = [one for one in self._rooms if one not in self._users]
            for one in idle[: max(0, len(idle) - KEPT_OPEN)]:
                self._rooms.pop(one).close()

    @contextmanager
    def room(self, key: str) -> Iterator[Room]:
        room = self.enter(key)
        try:
            yield room
        finally:
            self.leave(key)

    def announce(self, key: str, message: dict[str, Any]) -> Future[None] | None:
        """Sends a message to everyone who has the report open."""
        with self._lock:
            room = self._rooms.get(key)
            return room.call(room.announce, message) if room else None

    def close(self) -> None:
        """Closes every room, whoever is in it."""
        with self._lock:
            for room in self._rooms.values():
                room.close()
            self._rooms.clear()
            self._users.clear()


rooms = Registry()
