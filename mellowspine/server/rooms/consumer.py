"""The WebSocket of a report: shared text, presence, and the room's view.

Binary messages are those of y-protocols: sync (0) and awareness (1). Text messages are JSON from the server:
``hello``, ``state`` (the whole view), ``changes`` (what differs from the view before), ``stored`` (how many of this
connection's updates are on disk), ``refused`` and ``renamed``. A message that is malformed, or larger than
``LARGEST_MESSAGE``, closes its own connection and touches nothing else.
"""

from __future__ import annotations

import asyncio
import json
from typing import Any

from asgiref.sync import sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.contrib.auth.models import User
from pycrdt import YMessageType, YSyncMessageType, create_update_message, read_message, write_message

from mellowspine.server.accounts.people import person
from mellowspine.server.refusals import Refusal
from mellowspine.server.shelf.reports import open_report

from .awareness import MOST_CLIENTS, Presence, decode, message
from .registry import rooms
from .room import Malformed, MayNotWrite, Room

LARGEST_MESSAGE = 8 * 1024 * 1024

SIGN_IN, NOT_YOURS, BAD_MESSAGE = 4401, 4404, 4400
"""Codes with which a connection is closed."""


class ReportConsumer(AsyncWebsocketConsumer):
    presences: dict[str, dict[int, Presence]] = {}
    """By report: the last state of every browser, for those who come in later."""

    async def connect(self) -> None:
        self.room: Room | None = None
        self.stored = 0
        self.clients: set[int] = set()
        await self.accept()
        user = self.scope.get("user")
        if not isinstance(user, User):
            await self.close(SIGN_IN)
            return
        self.person = user
        self.key = self.scope["url_route"]["kwargs"]["key"]
        try:
            _, self.role = await sync_to_async(open_report)(self.key, user)
        except Refusal:
            await self.close(NOT_YOURS)
            return
        self.loop = asyncio.get_running_loop()
        self.outgoing: asyncio.Queue[bytes | str] = asyncio.Queue()
        self.sender = asyncio.create_task(self._send_out())
        room = rooms.room(self.key)
        shown = await sync_to_async(person)(user)
        self.send_json({"type": "hello", "role": self.role, "person": shown.model_dump()})
        state = await asyncio.wrap_future(room.call(self._enter, room))
        self.room = room
        await self.send(bytes_data=bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP1]) + write_message(state))
        if others := list(self.presences.get(self.key, {}).values()):
            await self.send(bytes_data=message(others))

    def _enter(self, room: Room) -> bytes:
        room.join(self)
        return room.state()

    async def disconnect(self, code: int) -> None:
        if self.room is None:
            return
        rooms.leave(self.key, self)
        here = self.presences.get(self.key, {})
        gone = [Presence(p.client, p.clock + 1, None) for c in self.clients if (p := here.pop(c, None))]
        if gone:
            self.room.call(self.room.pass_on, message(gone), self)
        if not here:
            self.presences.pop(self.key, None)
        self.sender.cancel()

    def send_bytes(self, data: bytes) -> None:
        self.loop.call_soon_threadsafe(self.outgoing.put_nowait, data)

    def send_json(self, data: dict[str, Any]) -> None:
        self.loop.call_soon_threadsafe(self.outgoing.put_nowait, json.dumps(data, ensure_ascii=False))

    async def _send_out(self) -> None:
        while True:
            item = await self.outgoing.get()
            if isinstance(item, bytes):
                await self.send(bytes_data=item)
            else:
                await self.send(text_data=item)

    async def receive(self, text_data: str | None = None, bytes_data: bytes | None = None) -> None:
        if self.room is None:
            return
        if not bytes_data or len(bytes_data) > LARGEST_MESSAGE:
            await self.close(BAD_MESSAGE)
            return
        try:
            await self._take(self.room, bytes_data)
        except (Malformed, ValueError, IndexError, RuntimeError, AssertionError):
            await self.close(BAD_MESSAGE)
        except MayNotWrite:
            self.send_json({"type": "refused", "message": "You can read this report, not change it."})

    async def _take(self, room: Room, data: bytes) -> None:
        if data[0] == YMessageType.AWARENESS:
            self._meet(room, read_message(data[1:]))
        elif data[0] == YMessageType.SYNC and data[1] == YSyncMessageType.SYNC_STEP1:
            missing = await asyncio.wrap_future(room.call(room.missing, read_message(data[2:])))
            await self.send(bytes_data=bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP2]) + write_message(missing))
        elif data[0] == YMessageType.SYNC and data[1] in (YSyncMessageType.SYNC_STEP2, YSyncMessageType.SYNC_UPDATE):
            update = read_message(data[2:])
            if update != b"\x00\x00":
                await asyncio.wrap_future(room.call(self._write, room, update))
            self.stored += 1
            self.send_json({"type": "stored", "count": self.stored})
        else:
            raise ValueError("unknown kind of message")

    def _write(self, room: Room, update: bytes) -> None:
        news = room.receive(update, self.person)
        if news is not None:
            room.pass_on(create_update_message(news), self)

    def _meet(self, room: Room, data: bytes) -> None:
        """Passes presence on; a connection speaks only for itself and only under its own name."""
        found = decode(data)
        here = self.presences.setdefault(self.key, {})
        for presence in found:
            if presence.client not in self.clients:
                if presence.client in here or len(self.clients) >= MOST_CLIENTS:
                    continue
                self.clients.add(presence.client)
            user = (presence.state or {}).get("user")
            if isinstance(user, dict) and user.get("id") != self.person.pk:
                raise ValueError("presence under another's name")
            if presence.state is None:
                here.pop(presence.client, None)
            else:
                here[presence.client] = presence
            room.call(room.pass_on, message([presence]), self)
        if not here:
            self.presences.pop(self.key, None)
