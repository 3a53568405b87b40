"""The WebSocket of a report: who may come in, what is passed on, and what closes a connection."""

from __future__ import annotations

import asyncio
import json
import threading
from typing import Any
from unittest import mock

from asgiref.sync import async_to_sync, sync_to_async
from asgiref.testing import ApplicationCommunicator
from django.contrib.auth.models import User
from django.test import Client
from pycrdt import Doc, YMessageType, YSyncMessageType, create_update_message, read_message, write_message

from mellowspine.server.accounts.people import person
from mellowspine.server.config.asgi import application
from mellowspine.server.rooms import consumer
from mellowspine.server.rooms.awareness import AwarenessState, decode, message
from mellowspine.server.rooms.consumer import BAD_MESSAGE, LARGEST_MESSAGE, TOO_LARGE, TOO_SLOW
from mellowspine.server.rooms.document import text_of
from mellowspine.server.rooms.presence import NOT_YOURS, SIGNED_OUT
from mellowspine.server.rooms.registry import rooms

from .base import ServerCase

PATIENCE = 60
"""Seconds after which a message that does not come counts as missing."""


class Browser:
    """One connection to a report's room."""

    def __init__(self, key: str, user: User | None) -> None:
        headers = [(b"host", b"localhost"), (b"origin", b"http://localhost")]
        if user is not None:
            client = Client()
            client.force_login(user)
            headers.append((b"cookie", f"sessionid={client.cookies['sessionid'].value}".encode()))
        path = f"/ws/reports/{key}"
        scope = {"type": "websocket", "path": path, "query_string": b"", "headers": headers, "subprotocols": []}
        self.socket = ApplicationCommunicator(application, scope)
        self.document: Doc = Doc()
        self.heard: list[dict[str, Any]] = []
        """Text messages that came while a binary one was waited for."""

    async def connect(self) -> None:
        await self.socket.send_input({"type": "websocket.connect"})

    async def send(self, **data: object) -> None:
        await self.socket.send_input({"type": "websocket.receive", **data})

    async def closed_with(self) -> int:
        while True:
            event = await self.socket.receive_output(PATIENCE)
            if event["type"] == "websocket.close":
                return event.get("code", 1000)

    async def json(self, type: str) -> dict[str, Any]:
        """The next text message of this type; binary messages before it are taken in."""
        while self.heard:
            if (found := self.heard.pop(0))["type"] == type:
                return found
        while True:
            event = await self.socket.receive_output(PATIENCE)
            if event.get("text"):
                found = json.loads(event["text"])
                if found["type"] == type:
                    return found
            elif event.get("bytes"):
                self.take(event["bytes"])

    async def bytes(self) -> bytes:
        while True:
            event = await self.socket.receive_output(PATIENCE)
            if event.get("bytes"):
                return event["bytes"]
            if event.get("text"):
                self.heard.append(json.loads(event["text"]))

    def take(self, data: bytes) -> None:
        if data[0] == YMessageType.SYNC and data[1] != YSyncMessageType.SYNC_STEP1:
            self.document.apply_update(read_message(data[2:]))

    async def ask(self) -> None:
        """Asks for the text; the view follows it."""
        await self.send(bytes=bytes([0, 0]) + write_message(self.document.get_state()))

    async def fetch(self) -> None:
        """Asks for the text and takes it in."""
        await self.ask()
        while len(text_of(self.document).children) == 0:
            self.take(await self.bytes())

    def typed(self, words: str) -> bytes:
        """The message that these words make when they are typed."""
        made: list[bytes] = []
        subscription = self.document.observe(lambda event: made.append(event.update))
        text_of(self.document).children[1].children[0].insert(0, words)
        self.document.unobserve(subscription)
        return create_update_message(made[0])

    async def write(self, words: str) -> None:
        await self.send(bytes=self.typed(words))

    async def asked(self) -> None:
        """Waits until the server asks for what this browser has."""
        while True:
            data = await self.bytes()
            if data[0] == YMessageType.SYNC and data[1] == YSyncMessageType.SYNC_STEP1:
                self.asked_with = read_message(data[2:])
                return

    async def answer(self) -> None:
        await self.send(bytes=b"\x00\x01" + write_message(self.document.get_update(self.asked_with)))

    async def leave(self) -> None:
        await self.socket.send_input({"type": "websocket.disconnect", "code": 1001})

    def words(self) -> str:
        return str(text_of(self.document).children[1].children[0])


LONGEST = 120
"""Seconds after which a test that goes on waiting has failed: signs of life come for ever."""


def steps(function):
    """Runs an async test to its end within Django's thread."""

    async def bounded() -> None:
        async with asyncio.timeout(LONGEST):
            await function()

    return async_to_sync(bounded)


class Connections(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()

    async def browser(self, user: User | None, key: str | None = None) -> Browser:
        browser = await sync_to_async(Browser)(key or self.report.key, user)
        await browser.connect()
        await browser.ask()
        return browser

    def test_only_members_come_in(self) -> None:
        @steps
        async def story() -> None:
            self.assertEqual(await (await self.browser(None)).closed_with(), SIGNED_OUT)
            self.assertEqual(await (await self.browser(self.stranger)).closed_with(), NOT_YOURS)
            self.assertEqual(await (await self.browser(self.owner, "nothing")).closed_with(), NOT_YOURS)
            reader = await self.browser(self.reader)
            self.assertEqual((await reader.json("hello"))["role"], "reader")
            self.assertEqual(len((await reader.json("state"))["headings"]["insert"]), 3)

        story()

    def test_an_edit_is_stored_confirmed_and_passed_on(self) -> None:
        @steps
        async def story() -> None:
            one, other = await self.browser(self.owner), await self.browser(self.editor)
            await one.fetch()
            await other.fetch()
            await one.write("Here: ")
            self.assertEqual((await one.json("stored"))["count"], 1)
            while other.words() != "Here: Words.":
                other.take(await other.bytes())

        story()

    def test_a_reader_who_writes_is_refused_by_the_server(self) -> None:
        @steps
        async def story() -> None:
            reader = await self.browser(self.reader)
            await reader.fetch()
            await reader.write("Mine: ")
            self.assertIn("not change it", (await reader.json("refused"))["message"])
            owner = await self.browser(self.owner)
            await owner.fetch()
            self.assertEqual(owner.words(), "Words.")

        story()

    def test_bad_messages_close_their_own_connection_only(self) -> None:
        @steps
        async def story() -> None:
            other = await self.browser(self.editor)
            await other.fetch()
            bad = (
                b"\x07what", b"\x00", b"\x00\x09", b"\x00\x02\xff\xff\xff\xff\xff\x0f", b"\x00\x02\x05abc", b"\x01\x03zzz",
                b"\x00\x02" + write_message(b"\x01\xff\xff\xffjunk"),
            )  # fmt: skip
            for data in bad:
                owner = await self.browser(self.owner)
                await owner.json("state")
                await owner.send(bytes=data)
                self.assertEqual(await owner.closed_with(), BAD_MESSAGE, data[:10])
            large = await self.browser(self.owner)
            await large.json("state")
            await large.send(bytes=b"x" * (LARGEST_MESSAGE + 1))
            self.assertEqual(await large.closed_with(), TOO_LARGE)
            text = await self.browser(self.owner)
            await text.json("state")
            await text.send(text="hello")
            self.assertEqual(await text.closed_with(), BAD_MESSAGE)
            await other.write("Still: ")
            self.assertEqual((await other.json("stored"))["count"], 1)

        story()

    def test_a_browser_that_takes_nothing_is_let_go_before_it_fills_the_memory(self) -> None:
        @steps
        async def story() -> None:
            reader = await self.browser(self.reader)
            await reader.fetch()
            held = asyncio.Event()

            async def stuck(*given: object, **more: object) -> None:
                await held.wait()

            with (
                mock.patch.object(consumer.ReportConsumer, "send", stuck),
                mock.patch.object(consumer, "MOST_UNSENT_BYTES", 20_000),
            ):
                everything = Doc().get_state()
                for _ in range(200):
                    await reader.send(bytes=b"\x00\x00" + write_message(everything))
                self.assertEqual(await reader.closed_with(), TOO_SLOW)
            held.set()

        story()

    def test_a_browser_is_not_read_faster_than_the_room_works(self) -> None:
        @steps
        async def story() -> None:
            writer = await self.browser(self.owner)
            await writer.fetch()
            free = threading.Event()
            with mock.patch.object(consumer, "MOST_TAKEN", 100), rooms.room(self.report.key) as room:
                busy = room.call(free.wait)
                for number in range(20):
                    await writer.write(f"{number} " * 20)
                await asyncio.sleep(0.3)
                waiting = room._worker._thread._work_queue.qsize()
                self.assertLess(waiting, 8)
                free.set()
                await asyncio.wrap_future(busy)
                while (await writer.json("stored"))["count"] < 20:
                    pass

        story()

    def test_presence_reaches_the_others_and_ends_with_the_connection(self) -> None:
        @steps
        async def story() -> None:
            one, other = await self.browser(self.owner), await self.browser(self.editor)
            await other.json("state")
            await one.json("state")
            here = AwarenessState(
                77, 1, {"user": (await sync_to_async(person)(self.owner)).model_dump(), "heading": "b00001"}
            )
            await one.send(bytes=message([here]))
            self.assertEqual(await self.presence(other), [here])
            late = await self.browser(self.reader)
            self.assertEqual(await self.presence(late), [here])
            await one.leave()
            self.assertEqual(await self.presence(other), [AwarenessState(77, 1, None)])

        story()

    async def presence(self, browser: Browser) -> list[AwarenessState]:
        while True:
            data = await browser.bytes()
            if data[0] == YMessageType.AWARENESS:
                return decode(read_message(data[1:]))

    def test_nobody_appears_under_anothers_name(self) -> None:
        @steps
        async def story() -> None:
            one, other = await self.browser(self.reader), await self.browser(self.editor)
            await other.json("state")
            await one.json("state")
            await one.send(bytes=message([AwarenessState(5, 1, {"user": {"id": self.owner.pk, "name": "own"}})]))
            (seen,) = await self.presence(other)
            self.assertEqual((seen.state["user"]["id"], seen.state["user"]["name"]), (self.reader.pk, "read"))
            await one.send(bytes=message([AwarenessState(6, 1, {}), AwarenessState(5, 2, None)]))
            self.assertEqual([p.client for p in await self.presence(other)], [6, 5])
            await other.send(bytes=message([AwarenessState(6, 9, {"heading": "mine"}), AwarenessState(8, 1, {})]))
            self.assertEqual([p.client for p in await self.presence(one)], [8])

        story()

    def test_of_a_presence_only_what_is_well_is_passed_on(self) -> None:
        place = {"type": {"client": 1, "clock": 2}, "tname": None, "item": None, "assoc": -1}
        well = {"anchor": place, "head": {**place, "item": {"client": 3, "clock": 4}, "type": None}}
        nested: Any = 0
        for _ in range(300):
            nested = [nested]
        odd: list[Any] = [
            5, "x", [], True, {"anchor": None, "head": None}, {"anchor": place}, {"anchor": place, "head": "x"},
            {"anchor": {}, "head": {}}, {"anchor": {**place, "type": {"client": -1, "clock": 0}}, "head": place},
            {"anchor": {**place, "type": {"client": 2**60, "clock": 0}}, "head": place},
            {"anchor": {**place, "type": {"client": 1.5, "clock": None}}, "head": place},
            {"anchor": {**place, "type": None, "tname": "other"}, "head": place},
            {"anchor": {**place, "assoc": "x"}, "head": place}, {"anchor": {**place, "assoc": nested}, "head": place},
        ]  # fmt: skip

        @steps
        async def story() -> None:
            one, other = await self.browser(self.reader), await self.browser(self.editor)
            await other.json("state")
            await one.json("state")
            user = (await sync_to_async(person)(self.reader)).model_dump()
            for clock, cursor in enumerate([well, *odd], 1):
                state = {"cursor": cursor, "heading": clock if clock > 1 else "b1", "more": [1], "user": {"id": 7}}
                await one.send(bytes=message([AwarenessState(5, clock, state)]))
                (seen,) = await self.presence(other)
                expected = {"user": user, "heading": "b1", "cursor": well} if clock == 1 else {"user": user}
                self.assertEqual(seen, AwarenessState(5, clock, expected), cursor)

        story()

    def test_a_presence_that_is_too_large_ends_its_own_connection(self) -> None:
        @steps
        async def story() -> None:
            for presence in (
                AwarenessState(5, 1, {"heading": "x" * 1024}), AwarenessState(2**53, 1, {}), AwarenessState(5, 2**53, {}),
            ):  # fmt: skip
                one = await self.browser(self.reader)
                await one.json("state")
                await one.send(bytes=message([presence]))
                self.assertEqual(await one.closed_with(), BAD_MESSAGE)

        story()
