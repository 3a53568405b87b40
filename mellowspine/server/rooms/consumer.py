"""The WebSocket of a report: shared text, presence, and the room's view.

Binary messages are those of y-protocols: sync (0) and awareness (1). The server asks for what the browser has (sync step
1) when it comes in, and again whenever an update hangs on something that has not arrived; the browser answers with step 2
and sends everything that is written from then on. Text messages are JSON from the server:

- ``hello``: who the browser's person is, their role, and the schema of texts; ``role``: it is another now;
- ``state``: the whole view, as changes from an empty one; in a room that opens it comes once the text has been asked for;
- ``changes``: what differs from the view before;
- ``stored``: so many of this connection's updates, from its first, are on disk;
- ``condition``: whether what is written can be saved at present, and what that follows from it could not be computed;
- ``renewed``: the report has another name, other styles or other members, to be asked for over HTTP;
- ``left-out``: once it is stored, what of an update no text holds, or nobody can use, with the update (base64) that takes it out where it
  was written; the rest of it is taken, and so is what is written behind it;
- ``refused``, and ``beat``, a sign of life every ten seconds.

A message that is malformed, or larger than ``LARGEST_MESSAGE``, closes its own connection, which is told why, and touches
nothing else.
"""

from __future__ import annotations

import asyncio
import logging
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.contrib.auth.models import User
from pycrdt import YMessageType, YSyncMessageType, read_message, write_message

from mellowspine.server.accounts.people import person
from mellowspine.server.refusals import Refusal
from mellowspine.server.shelf.reports import open_report

from .awareness import decode, made_anew
from .document import SCHEMA
from .gate import Malformed
from .presence import NOT_YOURS, SIGNED_OUT, as_text
from .registry import rooms
from .room import MayNotWrite, Room

log = logging.getLogger(__name__)

LARGEST_MESSAGE = 8 * 1024 * 1024

MOST_UNSENT, MOST_UNSENT_BYTES = 20_000, 64 * 1024 * 1024
"""Messages that wait for a browser which does not take them, and their bytes; with more it has to come in anew."""

MOST_TAKEN = 2 * 1024 * 1024
"""Bytes of messages that have been read from a browser and wait for the room; with more, no further one is read from it."""

BAD_MESSAGE, TOO_LARGE, TOO_SLOW, FAILED = 4400, 4413, 4408, 1011
"""Codes with which a connection is closed, beside those of ``company``."""


class ReportConsumer(AsyncWebsocketConsumer):
    key: str
    person: User
    session: str | None
    shown: dict[str, Any]
    slow = False

    async def __call__(self, *given: Any) -> None:
        self.room: Room | None = None
        self.sender: asyncio.Task[None] | None = None
        try:
            await super().__call__(*given)
        except Exception:
            log.exception("A connection to report %s failed", self.scope["url_route"]["kwargs"].get("key"))
            raise
        finally:
            await self._leave()

    async def connect(self) -> None:
        self.received = 0
        self.unsent = self.taken = 0
        self.freed = asyncio.Event()
        self.loop = asyncio.get_running_loop()
        self.outgoing: asyncio.Queue[bytes | str] = asyncio.Queue()
        await self.accept()
        user = self.scope.get("user")
        if not isinstance(user, User):
            await self.close(SIGNED_OUT)
            return
        self.person, self.session = user, self.scope["session"].session_key
        self.key = self.scope["url_route"]["kwargs"]["key"]
        try:
            _, role = await database_sync_to_async(open_report)(self.key, user)
        except Refusal:
            await self.close(NOT_YOURS)
            return
        self.role = str(role)
        self.sender = asyncio.create_task(self._send_out())
        self.room = room = await asyncio.to_thread(rooms.enter, self.key)
        self.shown = (await database_sync_to_async(person)(user)).model_dump()
        self.send_out(as_text({"type": "hello", "role": self.role, "person": self.shown, "schema": SCHEMA}))
        state = await asyncio.wrap_future(room.call(self._enter, room))
        self.send_out(bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP1]) + write_message(state))

    def _enter(self, room: Room) -> bytes:
        room.join(self)
        return room.state()

    async def disconnect(self, code: int) -> None:
        await self._leave()

    async def _leave(self) -> None:
        """Gives back all that the connection holds, however it ended; more than once does no harm."""
        room, self.room = self.room, None
        if self.sender:
            self.sender.cancel()
        if room:
            with suppress(RuntimeError):  # the room has been closed: there is nothing left to leave
                room.call(room.leave, self)
            await asyncio.to_thread(rooms.leave, self.key)

    # From the room's thread.

    def put_out(self, code: int, why: str = "") -> None:
        # RFC 6455, 5.5: a close frame has room for a code and 123 bytes.
        reason = why.encode()[:123].decode(errors="ignore")
        asyncio.run_coroutine_threadsafe(self.close(code, reason or None), self.loop)

    def deliver(self, data: bytes | str) -> None:
        with suppress(RuntimeError):  # the loop has ended: nobody listens any more
            self.loop.call_soon_threadsafe(self.send_out, data)

    # From the event loop.

    def send_out(self, data: bytes | str) -> None:
        if self.slow:
            return
        # One message may be as large as a text is: what waits behind it is bounded.
        if self.outgoing.qsize() >= MOST_UNSENT or (self.unsent and self.unsent + len(data) > MOST_UNSENT_BYTES):
            self.slow = True
            self.loop.create_task(self.close(TOO_SLOW))
            return
        self.unsent += len(data)
        self.outgoing.put_nowait(data)

    async def _send_out(self) -> None:
        while True:
            item = await self.outgoing.get()
            if isinstance(item, bytes):
                await self.send(bytes_data=item)
            else:
                await self.send(text_data=item)
            self.unsent -= len(item)

    async def receive(self, text_data: str | None = None, bytes_data: bytes | None = None) -> None:
        if self.room is None:
            return
        if bytes_data and len(bytes_data) > LARGEST_MESSAGE:
            await self.close(TOO_LARGE)
            return
        try:
            if not bytes_data:
                raise ValueError("no message")
            await self._take(self.room, bytes_data)
            while self.taken > MOST_TAKEN:
                self.freed.clear()
                await self.freed.wait()
        except (Malformed, ValueError, IndexError, RuntimeError, AssertionError) as error:
            log.info("A message to report %s was not understood: %s", self.key, error)
            await self.close(BAD_MESSAGE)

    async def _take(self, room: Room, data: bytes) -> None:
        if data[0] == YMessageType.AWARENESS:
            presences = [made_anew(one, self.shown) for one in decode(read_message(data[1:]))]
            room.call(room.update_presence, presences, self)
        elif data[0] == YMessageType.SYNC and data[1] == YSyncMessageType.SYNC_STEP1:
            self._hand_on(room, len(data), lambda: self._give(room, read_message(data[2:])))
        elif data[0] == YMessageType.SYNC and data[1] in (YSyncMessageType.SYNC_STEP2, YSyncMessageType.SYNC_UPDATE):
            update, answer = read_message(data[2:]), data[1] == YSyncMessageType.SYNC_STEP2
            self.received += 1
            number = self.received
            self._hand_on(room, len(data), lambda: room.receive(update, self.person, self, number, answer))
        else:
            raise ValueError("unknown kind of message")

    def _hand_on(self, room: Room, size: int, work: Callable[[], None]) -> None:
        """Queues what a message asks for. Nobody waits for it, unless very much has been read and not been done yet."""
        self.taken += size

        def done(_: object) -> None:
            with suppress(RuntimeError):  # the loop has ended: nobody waits any more
                self.loop.call_soon_threadsafe(self._done, size)

        room.call(self._in_room, work).add_done_callback(done)

    def _done(self, size: int) -> None:
        self.taken -= size
        self.freed.set()

    # In the room's thread.

    def _in_room(self, work: Callable[[], None]) -> None:
        """Does what a message asks for. Nobody waits for it: messages behind it must not wait for a disk."""
        try:
            work()
        except MayNotWrite:
            self.deliver(as_text({"type": "refused", "message": "You can read this report, not change it."}))
        except Malformed as error:
            log.info("A message to report %s was not understood: %s", self.key, error)
            self.put_out(BAD_MESSAGE, str(error))
        except Exception:
            log.exception("A message to report %s could not be taken in", self.key)
            self.put_out(FAILED)

    def _give(self, room: Room, state: bytes) -> None:
        if not room.admits(self):
            return
        missing = room.missing(state)
        self.deliver(bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP2]) + write_message(missing))
