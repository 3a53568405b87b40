"""The rooms that are open in this process. One process serves all rooms: a report must never have two."""

from __future__ import annotations

import threading
from concurrent.futures import Future
from typing import Any

from .room import Listener, Room


class Registry:
    def __init__(self) -> None:
        self._rooms: dict[str, Room] = {}
        self._lock = threading.Lock()

    def room(self, key: str) -> Room:
        """The room of a report, opened if need be. The caller has checked that the report exists."""
        with self._lock:
            if key not in self._rooms:
                self._rooms[key] = Room(key)
            return self._rooms[key]

    def leave(self, key: str, listener: Listener) -> None:
        """Takes a listener out of its room; the log of a room that is empty now is compacted."""
        room = self.room(key)

        def left() -> None:
            if room.leave(listener) == 0:
                room.compact()

        room.call(left)

    def announce(self, key: str, message: dict[str, Any]) -> Future[None] | None:
        """Sends a message to everyone who has the report open."""
        with self._lock:
            room = self._rooms.get(key)
        return room.call(room.announce, message) if room else None

    def close(self) -> None:
        with self._lock:
            rooms, self._rooms = list(self._rooms.values()), {}
        for room in rooms:
            room.close()


rooms = Registry()
