"""No word is lost between people and a disk: what is confirmed is stored, and what is not stored is neither told nor lost."""

from __future__ import annotations

import asyncio
import sqlite3
import threading
import time
from dataclasses import replace
from typing import Any
from unittest import mock

from asgiref.sync import sync_to_async
from django.db import connection
from django.test import Client
from pycrdt import Doc, create_update_message, read_message, write_message

from mellowspine.core.pages.pages import paginate
from mellowspine.core.report.blocks import Cell, DataTable, PageBreak, Paragraph, PlacedTable
from mellowspine.server.rooms.awareness import AwarenessState, decode, message
from mellowspine.server.rooms.consumer import FAILED
from mellowspine.server.rooms.document import append_block, read_block, text_of
from mellowspine.server.rooms.followers import pages as page_followers
from mellowspine.server.rooms.models import Update
from mellowspine.server.rooms.presence import NOT_YOURS, SIGNED_OUT
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.rooms.room import Room
from mellowspine.server.shelf.models import Membership, Role

from .base import ServerCase
from .test_connections import Browser, steps
from .test_room import Listener


class Held:
    """Keeps the database from being written, as another process does that writes for long."""

    def __enter__(self) -> None:
        self.other = sqlite3.connect(connection.settings_dict["NAME"], isolation_level=None, check_same_thread=False)
        self.other.execute("BEGIN IMMEDIATE")

    def __exit__(self, *_: object) -> None:
        self.other.rollback()
        self.other.close()


class Storing(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()

    async def browser(self, user, role: str = "owner") -> Browser:
        browser = await sync_to_async(Browser)(self.report.key, user)
        await browser.connect()
        await browser.fetch()
        return browser

    async def words_on_disk(self) -> str:
        """What a server that starts anew finds."""
        await sync_to_async(rooms.close)()
        document: Doc = Doc()
        for data in await sync_to_async(list)(Update.objects.values_list("data", flat=True)):
            document.apply_update(bytes(data))
        return str(text_of(document).children[1].children[0])

    async def quiet(self, browser: Browser) -> None:
        """Nothing was said to a browser of what others wrote."""
        before = browser.words()
        while not await browser.socket.receive_nothing(0.2):
            event = await browser.socket.receive_output(1)
            if event.get("bytes"):
                browser.take(event["bytes"])
        self.assertEqual(browser.words(), before)

    def test_storing_and_passing_on_wait_for_no_pages_nor_for_another_room(self) -> None:
        elsewhere = self.make()
        began, go_on = threading.Event(), threading.Event()
        self.addCleanup(go_on.set)

        def slow(*given: Any) -> Any:
            began.set()
            go_on.wait(60)
            return paginate(*given)

        @steps
        async def story() -> None:
            with mock.patch.object(page_followers, "paginate", slow):
                one, other = await self.browser(self.owner), await self.browser(self.editor)
                self.assertTrue(await sync_to_async(began.wait)(10))
                await one.write("Now: ")
                await one.json("stored")
                while other.words() != "Now: Words.":
                    other.take(await other.bytes())
                for _ in range(12):  # more than there are threads to wait in
                    visitor = await sync_to_async(Browser)(elsewhere.key, self.owner)
                    await visitor.connect()
                    await visitor.fetch()
                    await visitor.leave()
                go_on.set()
                await one.json("state")

        story()

    def test_an_update_that_hangs_on_something_missing_is_asked_for_and_not_confirmed(self) -> None:
        @steps
        async def story() -> None:
            one, other = await self.browser(self.owner), await self.browser(self.editor)
            one.typed("First ")  # and lost on the way
            await one.send(bytes=one.typed("Second "))
            await one.asked()
            await self.quiet(other)
            self.assertEqual(await self.stored_rows(), 1)
            await one.send(bytes=one.typed("Third "))
            await one.answer()
            self.assertEqual((await one.json("stored"))["count"], 3)
            while other.words() != "Third Second First Words.":
                other.take(await other.bytes())
            self.assertEqual(await self.words_on_disk(), "Third Second First Words.")

        story()

    async def stored_rows(self) -> int:
        return await sync_to_async(Update.objects.count)()

    def test_what_the_disk_does_not_take_is_told_to_nobody_and_stored_when_it_can_be(self) -> None:
        @steps
        async def story() -> None:
            one, other = await self.browser(self.owner), await self.browser(self.editor)
            late = await sync_to_async(Browser)(self.report.key, self.reader)
            with self.assertLogs("mellowspine", "ERROR") as logs:
                held = Held()
                held.__enter__()
                await one.write("Here: ")
                for browser in (one, other):
                    self.assertFalse((await browser.json("condition"))["saving"])
                await self.quiet(other)
                await late.connect()
                await late.fetch()
                self.assertEqual(late.words(), "Words.")
                self.assertFalse((await late.json("condition"))["saving"])
                await one.write("Now ")
                await self.quiet(other)
                held.__exit__()
            self.assertTrue((await one.json("condition"))["saving"])
            # On a slow machine the room may still wait for the disk with the first when the second comes.
            counts = [(await one.json("stored"))["count"]]
            while counts[-1] < 2:
                counts.append((await one.json("stored"))["count"])
            self.assertIn(counts, ([2], [1, 2]))
            while other.words() != "Now Here: Words.":
                other.take(await other.bytes())
            self.assertEqual(await self.words_on_disk(), "Now Here: Words.")
            self.assertEqual(sum("cannot be saved" in line for line in logs.output), 1)

        story()

    def test_a_full_disk(self) -> None:
        """SQLite says "database or disk is full" at the largest size that a database may have."""

        @steps
        async def story() -> None:
            one = await self.browser(self.owner)
            with rooms.room(self.report.key) as room, self.assertLogs("mellowspine", "ERROR"):

                def fill() -> None:
                    """Lets the database grow no more, and leaves nothing free inside."""
                    cursor = connection.cursor()
                    cursor.execute("VACUUM")
                    cursor.execute("PRAGMA max_page_count=1")

                room.call(fill).result()
                words = "x" * 100_000
                await one.write(words)
                self.assertFalse((await one.json("condition"))["saving"])
                self.assertEqual((await one.json("stored"))["count"], 1)  # the next try opens the database anew
            self.assertEqual(await self.words_on_disk(), f"{words}Words.")

        story()

    def test_a_room_in_which_something_waits_for_the_disk_stays_open_when_all_have_left(self) -> None:
        @steps
        async def story() -> None:
            one = await self.browser(self.owner)
            with self.assertLogs("mellowspine", "ERROR"), mock.patch("mellowspine.server.rooms.registry.KEPT_OPEN", 0):
                with Held():
                    await one.write("Late: ")
                    await one.json("condition")
                    await one.leave()
                    for _ in range(40):
                        if not rooms._users:
                            break
                        await asyncio.sleep(0.05)
                again = await self.browser(self.editor)
                while again.words() != "Late: Words.":
                    again.take(await again.bytes())

        story()

    def test_what_cannot_be_computed_keeps_nobody_from_writing_or_coming_in(self) -> None:
        @steps
        async def story() -> None:
            broken = mock.patch.object(page_followers, "paginate", side_effect=ZeroDivisionError)
            with broken, self.assertLogs("mellowspine", "ERROR"):
                one, other = await self.browser(self.owner), await self.browser(self.editor)
                await one.write("One. ")
                self.assertEqual((await one.json("stored"))["count"], 1)
                other.take(await other.bytes())
                await other.write("Other. ")
                self.assertEqual((await other.json("stored"))["count"], 1)
                late = await self.browser(self.reader)
                self.assertEqual(late.words(), "Other. One. Words.")
                self.assertEqual((await late.json("condition"))["lacking"], ["pages"])
            await one.write("Again. ")
            self.assertEqual((await late.json("condition"))["lacking"], [])

        story()

    def test_an_update_in_the_log_that_breaks_the_document_is_left_out(self) -> None:
        Update.objects.create(report=self.report, data=b"\x01\xff\xff\xffjunk")
        with rooms.room(self.report.key) as room, self.assertLogs("mellowspine", "ERROR") as logs:
            report, _ = room.call(room.settled).result()
        self.assertEqual(len(report.blocks), 6)
        self.assertIn("it is left out", logs.output[0])


class FirstHeard(ServerCase):
    def test_lists_keep_their_markers_when_an_edit_is_the_first_that_a_room_hears(self) -> None:
        """As after the server was started again: browsers come back with what they wrote meanwhile."""
        report = self.make("# One\n\nWords.\n\n- spring\n- neap\n")
        document: Doc = Doc()
        for data in Update.objects.filter(report=report).values_list("data", flat=True):
            document.apply_update(bytes(data))
        text_of(document).children[0].children[0].insert(0, "New ")
        with rooms.room(report.key) as room:
            room.call(room.receive, document.get_update(), self.owner).result()
            room.call(room.settled).result()
            self.assertEqual(list(room.derived.view["markers"].value.values()), ["•", "•"])


class Leaving(ServerCase):
    """However a connection ends, it gives back what it held."""

    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()

    async def browser(self, user) -> Browser:
        browser = await sync_to_async(Browser)(self.report.key, user)
        await browser.connect()
        return browser

    def listeners(self) -> int:
        with rooms.room(self.report.key) as room:
            return room.call(lambda: len(list(room.presence))).result()

    async def nobody_is_left(self) -> None:
        for _ in range(100):
            if not rooms._users and await sync_to_async(self.listeners)() == 0:
                return
            await asyncio.sleep(0.02)
        self.fail(f"{dict(rooms._users)}, {await sync_to_async(self.listeners)()} listeners")

    def test_after_an_unexpected_fault(self) -> None:
        @steps
        async def story() -> None:
            one = await self.browser(self.owner)
            await one.fetch()
            with mock.patch.object(Room, "receive", side_effect=ZeroDivisionError), self.assertLogs("mellowspine"):
                await one.write("x")
                self.assertEqual(await one.closed_with(), FAILED)
                await one.leave()
            await self.nobody_is_left()

        story()

    def test_after_a_fault_in_the_consumer_itself(self) -> None:
        for place in ("person", "decode"):
            with self.subTest(place):

                @steps
                async def story(place: str = place) -> None:
                    with (
                        mock.patch(f"mellowspine.server.rooms.consumer.{place}", side_effect=ZeroDivisionError),
                        self.assertLogs("mellowspine", "ERROR"),
                        self.assertRaises(ZeroDivisionError),
                    ):
                        one = await self.browser(self.owner)
                        await one.send(bytes=message([AwarenessState(1, 1, {})]))
                        await one.socket.wait(10)
                    await self.nobody_is_left()

                story()

    def test_signing_out_closes_the_connections_of_that_session(self) -> None:
        client = Client()
        client.force_login(self.owner)

        @steps
        async def story() -> None:
            one, elsewhere = Browser(self.report.key, None), await self.browser(self.owner)
            cookie = f"sessionid={client.cookies['sessionid'].value}".encode()
            one.socket.scope["headers"].append((b"cookie", cookie))
            await one.connect()
            await one.fetch()
            await sync_to_async(client.delete)("/api/session")
            self.assertEqual(await one.closed_with(), SIGNED_OUT)
            await elsewhere.fetch()
            await elsewhere.write("Still ")
            await elsewhere.json("stored")

        story()

    def test_a_room_that_closes_holds_up_only_those_who_want_it(self) -> None:
        other = self.make()
        for key in (other.key, self.report.key):
            with rooms.room(key) as room:
                room.call(room.settled).result()
        goes_on, wanted = threading.Event(), threading.Event()
        with mock.patch("mellowspine.server.rooms.registry.KEPT_OPEN", 0):
            room = rooms.enter(self.report.key)
            room.call(goes_on.wait, 30)
            closing_it = threading.Thread(target=rooms.leave, args=(self.report.key,))
            closing_it.start()
            while not rooms._closing:
                time.sleep(0.01)
            with rooms.room(other.key) as free:
                self.assertEqual(len(free.call(free.settled).result(5)[0].blocks), 6)
            comes_back = threading.Thread(target=lambda: (rooms.enter(self.report.key), wanted.set()))
            comes_back.start()
            self.assertFalse(wanted.wait(0.2))
            goes_on.set()
            self.assertTrue(wanted.wait(5))
            closing_it.join()
            comes_back.join()


class Roles(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()

    def become(self, role: str) -> None:
        Membership.objects.filter(report=self.report, person=self.editor).update(role=role)

    async def browser(self, user) -> Browser:
        browser = await sync_to_async(Browser)(self.report.key, user)
        await browser.connect()
        await browser.fetch()
        return browser

    def test_a_reader_who_comes_back_and_answers_is_not_refused(self) -> None:
        @steps
        async def story() -> None:
            owner = await self.browser(self.owner)
            text_of(owner.document).children[1].children[0].__delitem__(slice(0, 2))
            await owner.send(bytes=create_update_message(owner.document.get_update()))
            await owner.json("stored")
            reader = await self.browser(self.reader)
            await reader.send(bytes=b"\x00\x01" + write_message(reader.document.get_update()))
            await owner.write("Next. ")
            while reader.words() != "Next. rds.":
                event = await reader.socket.receive_output(10)
                self.assertNotIn("refused", event.get("text") or "")
                if event.get("bytes"):
                    reader.take(event["bytes"])

        story()

    def test_whoever_is_made_a_reader_hears_of_it_and_is_asked_again_when_made_an_editor(self) -> None:
        @steps
        async def story() -> None:
            editor = await self.browser(self.editor)
            await sync_to_async(self.become)(Role.READER)
            self.assertEqual((await editor.json("role"))["role"], "reader")
            await editor.write("Mine: ")
            await editor.json("refused")
            await sync_to_async(self.become)(Role.EDITOR)
            self.assertEqual((await editor.json("role"))["role"], "editor")
            await editor.asked()
            await editor.answer()
            await editor.json("stored")
            owner = await self.browser(self.owner)
            self.assertEqual(owner.words(), "Mine: Words.")

        story()

    def test_whoever_is_put_out_is_told_why(self) -> None:
        @steps
        async def story() -> None:
            editor = await self.browser(self.editor)
            await sync_to_async(Membership.objects.filter(person=self.editor).delete)()
            self.assertEqual(await editor.closed_with(), NOT_YOURS)

        story()


class OneId(ServerCase):
    """Ids stand once in a room, whatever browsers send."""

    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()
        self.room = rooms.enter(self.report.key)
        self.copies = [self.copy(), self.copy()]

    def copy(self) -> Doc:
        document: Doc = Doc()
        document.apply_update(self.room.call(self.room.missing, None).result())
        return document

    def send(self, document: Doc, person) -> None:
        self.room.call(self.room.receive, document.get_update(), person).result()

    def ids(self) -> list[str]:
        report, _ = self.room.call(self.room.settled).result()
        self.room.call(self.room.state).result()
        return [block.id for block in report.blocks]

    def move(self, document: Doc, first: int, count: int) -> None:
        """Cuts blocks and pastes them at the end, with the ids they have."""
        children = text_of(document).children
        with document.transaction():
            taken = [read_block(children[index], index) for index in range(first, first + count)]
            del children[first : first + count]
            for block in taken:
                append_block(text_of(document), block)

    def test_two_people_who_move_the_same_section(self) -> None:
        first = self.ids()
        for document, person in zip(self.copies, (self.owner, self.editor), strict=True):
            self.move(document, 0, 2)
            self.send(document, person)
        ids = self.ids()
        self.assertEqual(sorted(ids), sorted(first))
        append_block(text_of(self.copies[0]), PlacedTable("place", "t1"))
        self.send(self.copies[0], self.owner)
        self.ids()
        self.assertEqual(self.room.derived.view["tables"].value["t1"].differences, [])
        rooms.close()
        self.room = rooms.enter(self.report.key)
        self.assertEqual(sorted(self.ids()), sorted([*ids, "place"]))

    def test_a_table_that_two_people_move_is_one(self) -> None:
        append_block(text_of(self.copies[0]), PlacedTable("place", "t1"))
        self.send(self.copies[0], self.owner)
        self.ids()
        self.copies[1].apply_update(self.room.call(self.room.missing, None).result())
        for document in self.copies:
            self.move(document, 6, 1)
            self.send(document, self.owner)
        self.ids()
        (one,) = self.room.derived.view["tables"].value.values()
        self.assertEqual(one.differences, [])

    def test_a_table_that_one_moves_and_another_puts_on_a_page_of_its_own_becomes_two_with_the_same_recipe(
        self,
    ) -> None:
        append_block(text_of(self.copies[0]), PlacedTable("place", "t1"))
        self.send(self.copies[0], self.owner)
        self.ids()
        self.copies[1].apply_update(self.room.call(self.room.missing, None).result())
        for document in self.copies:
            self.move(document, 6, 1)
        text_of(self.copies[1]).children[6].attributes["ownPage"] = True
        for document in self.copies:
            self.send(document, self.owner)
        self.ids()
        self.assertEqual(len(self.room.derived.view["tables"].value), 2)
        one, other = self.room.derived.view["tables"].value.values()
        self.assertEqual(one.lines, other.lines)
        self.assertEqual((one.differences, other.differences), ([], []))

    def test_ids_in_data_tables_and_blocks_without_any(self) -> None:
        text = text_of(self.copies[0])
        table = DataTable("grid", ((Cell((Paragraph("inner", "cell"),)),),))
        for block in (table, replace(table, header_rows=1), PageBreak("break")):
            append_block(text, block)
        del text.children[8].attributes["id"]
        self.send(self.copies[0], self.owner)
        self.ids()
        report, _ = self.room.call(self.room.settled).result()
        one, other, last = report.blocks[6:]
        self.assertEqual((one.id, one.rows[0][0].paragraphs[0].id), ("grid", "inner"))
        self.assertNotIn(other.id, ("grid", ""))
        self.assertNotEqual(other.rows[0][0].paragraphs[0].id, "inner")
        self.assertEqual(len(last.id), 12)

    def test_ids_are_mended_although_more_arrives_meanwhile(self) -> None:
        """As when many people write: something always waits for the disk."""
        for document in self.copies:
            self.move(document, 0, 2)
        typed = self.copy()
        text_of(typed).children[3].children[0].insert(0, "Typed ")

        def all_at_once() -> None:
            for document in self.copies:
                self.room.receive(document.get_update(), self.owner)
                self.room._store()
            self.room.receive(typed.get_update(), self.editor)
            self.room._blocks()
            self.room._store()

        self.room.call(all_at_once).result()
        ids = self.ids()
        self.assertEqual((len(ids), len(set(ids))), (6, 6))

    def test_all_browsers_get_the_same_ids(self) -> None:
        listener = Listener(self.reader)
        self.room.call(self.room.join, listener).result()
        for document in self.copies:
            self.move(document, 0, 2)
            self.send(document, self.owner)
        ids = self.ids()
        third: Doc = Doc()
        third.apply_update(self.copy().get_update())
        self.assertEqual([child.attributes["id"] for child in text_of(third).children], ids)


class Presences(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.room = rooms.enter(self.make().key)
        self.watching = Listener(self.reader)
        self.room.call(self.room.join, self.watching).result()

    def come(self, person, client: int, clock: int) -> Listener:
        listener = Listener(person)
        self.room.call(self.room.join, listener).result()
        self.room.call(self.room.update_presence, [AwarenessState(client, clock, {"at": clock})], listener).result()
        self.room.call(self.room.state).result()
        return listener

    def seen(self) -> list[AwarenessState]:
        found = [presence for data in self.watching.heard for presence in decode(read_message(data[1:]))]
        self.watching.heard.clear()
        return found

    def test_a_browser_that_comes_back_before_its_old_connection_was_noticed_is_heard(self) -> None:
        old = self.come(self.editor, 7, 1)
        self.come(self.editor, 7, 2)
        self.room.call(self.room.leave, old).result()
        self.assertEqual(self.seen(), [AwarenessState(7, 1, {"at": 1}), AwarenessState(7, 2, {"at": 2})])

    def test_one_that_comes_back_after_it_was_noticed_is_believed(self) -> None:
        """y-protocols: a state is believed if its clock is newer, or if it is an end with the same clock."""
        old = self.come(self.editor, 7, 1)
        self.room.call(self.room.leave, old).result()
        self.come(self.editor, 7, 2)
        self.assertEqual([(one.clock, one.state) for one in self.seen()], [(1, {"at": 1}), (1, None), (2, {"at": 2})])

    def test_nobody_takes_the_place_of_another_person(self) -> None:
        self.come(self.editor, 7, 1)
        self.come(self.reader, 7, 2)
        self.assertEqual(len(self.seen()), 1)
