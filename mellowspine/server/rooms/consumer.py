"""The WebSocket of a report: shared text, presence, and the room's view.

Binary messages are those of y-protocols: sync (0) and awareness (1). Text messages are JSON from the server:
``hello``, ``state`` (the whole view, as changes from an empty one; in a room that opens it comes once the text has been
asked for), ``changes`` (what differs from the view before), ``stored`` (how many of this connection's updates are on
disk), ``refused`` and ``renamed``. A message that is malformed, or larger than ``LARGEST_MESSAGE``, closes its own
connection and touches nothing else.
"""

from __future__ import annotations

import asyncio
import json
from dataclasses import replace
from typing import Any

from asgiref.sync import sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.contrib.auth.models import User
from pycrdt import YMessageType, YSyncMessageType, create_update_message, read_message, write_message

from mellowspine.server.accounts.people import person
from mellowspine.server.refusals import Refusal
from mellowspine.server.shelf.reports import open_report

from .awareness import decode
from .registry import rooms
from .room import NOT_YOURS, Malformed, MayNotWrite, Room

LARGEST_MESSAGE = 8 * 1024 * 1024

SIGN_IN, BAD_MESSAGE = 4401, 4400
"""Codes with which a connection is closed; NOT_YOURS is a third."""


class ReportConsumer(AsyncWebsocketConsumer):
    async def connect(self) -> None:
        self.room: Room | None = None
        self.stored = 0
        await self.accept()
        user = self.scope.get("user")
        if not isinstance(user, User):
            await self.close(SIGN_IN)
            return
        self.person = user
        self.key = self.scope["url_route"]["kwargs"]["key"]
        try:
            _, role = await sync_to_async(open_report)(self.key, user)
        except Refusal:
            await self.close(NOT_YOURS)
            return
        self.loop = asyncio.get_running_loop()
        self.outgoing: asyncio.Queue[bytes | str] = asyncio.Queue()
        self.sender = asyncio.create_task(self._send_out())
        self.room = room = await asyncio.to_thread(rooms.enter, self.key)
        self.shown = (await sync_to_async(person)(user)).model_dump()
        self.send_json({"type": "hello", "role": role, "person": self.shown})
        state = await asyncio.wrap_future(room.call(self._enter, room))
        self.send_bytes(bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP1]) + write_message(state))

    def _enter(self, room: Room) -> bytes:
        room.join(self)
        return room.state()

    async def disconnect(self, code: int) -> None:
        if self.room is None:
            return
        self.room.call(self.room.leave, self)
        await asyncio.to_thread(rooms.leave, self.key)
        self.sender.cancel()

    def put_out(self, code: int) -> None:
        asyncio.run_coroutine_threadsafe(self.close(code), self.loop)

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
            # Whoever it says it is, it is the person who signed in.
            presences = [
                one if one.state is None else replace(one, state={**one.state, "user": self.shown})
                for one in decode(read_message(data[1:]))
            ]
            room.call(room.meet, presences, self)
        elif data[0] == YMessageType.SYNC and data[1] == YSyncMessageType.SYNC_STEP1:
            missing = await asyncio.wrap_future(room.call(room.missing, read_message(data[2:])))
            await self.send(bytes_data=bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP2]) + write_message(missing))
        elif data[0] == YMessageType.SYNC and data[1] in (YSyncMessageType.SYNC_STEP2, YSyncMessageType.SYNC_UPDATE):
            update = read_message(data[2:])
            await asyncio.wrap_future(room.call(self._write, room, update))
            self.stored += 1
            self.send_json({"type": "stored", "count": self.stored})
        else:
            raise ValueError("unknown kind of message")

    def _write(self, room: Room, update: bytes) -> None:
        if room.receive(update, self.person):
            room.pass_on(create_update_message(update), self)
