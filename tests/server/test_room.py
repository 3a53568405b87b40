"""A room: storing, following, telling, catching up."""

from __future__ import annotations

import gc
import json
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from datetime import timedelta
from typing import Any
from unittest import mock

from django.contrib.auth.models import User
from django.db import DatabaseError
from django.utils import timezone
from pycrdt import Doc, XmlElement, XmlText, read_message

from mellowspine.core.report.blocks import Cell, DataTable, Paragraph, PlacedTable, Run
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.tables import Line
from mellowspine.core.tables import kinds as table_kinds
from mellowspine.core.tables.kinds import Sources, TableKind
from mellowspine.core.tables.settle import Scope
from mellowspine.server.rooms import registry
from mellowspine.server.rooms import text as text_module
from mellowspine.server.rooms.awareness import AwarenessState, decode
from mellowspine.server.rooms.document import append_block, read_block, text_of
from mellowspine.server.rooms.followers import pages as page_followers
from mellowspine.server.rooms.followers.shown import changed_keys, splice
from mellowspine.server.rooms.followers.tables import TableShown
from mellowspine.server.rooms.models import Update
from mellowspine.server.rooms.presence import NOT_YOURS
from mellowspine.server.rooms.registry import KEPT_OPEN, rooms
from mellowspine.server.rooms.room import Malformed, MayNotWrite
from mellowspine.server.shelf.models import HeadingChange, Membership

from .base import ServerCase


class Listener:
    def __init__(self, person: User) -> None:
        self.person = person
        self.session, self.role = None, "owner"
        self.messages: list[dict[str, Any]] = []
        self.heard: list[bytes] = []
        self.closed_with: int | None = None

    def deliver(self, data: bytes | str) -> None:
        if isinstance(data, bytes):
            self.heard.append(data)
        else:
            self.messages.append(json.loads(data))

    def of_type(self, kind: str) -> list[dict[str, Any]]:
        return [message for message in self.messages if message["type"] == kind]

    def put_out(self, code: int, why: str = "") -> None:
        self.closed_with = code


def wait_until(holds: Callable[[], bool], patience: float = 10.0) -> None:
    """Waits for what threads do that nobody waits for."""
    end = time.monotonic() + patience
    while not holds() and time.monotonic() < end:
        time.sleep(0.02)


class RoomCase(ServerCase):
    """Has a room with somebody in it who writes in a copy of its text."""

    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()
        self.room = rooms.enter(self.report.key)
        self.listener = Listener(self.owner)
        self.copy: Doc = Doc()
        self.room.call(self.room.join, self.listener).result()
        self.copy.apply_update(self.room.call(self.room.missing, None).result())
        self.room.call(self.room.settled).result()
        self.children = text_of(self.copy).children

    def send(self, person=None) -> None:
        """Sends what changed in the copy since the last time, and waits until all has followed."""
        state = self.room.call(self.room.state).result()
        self.room.call(self.room.receive, self.copy.get_update(state), person or self.owner).result()
        self.room.call(self.room.settled).result()

    def rest(self) -> None:
        """Waits until nothing is queued in the room any more: storing, then following, then what that stores."""
        for _ in range(4):
            self.room.call(self.room.state).result()
            self.room.call(self.room.report).result()

    def place(self, table: str = "t1") -> None:
        append_block(text_of(self.copy), PlacedTable(f"b-{table}", table))
        self.send()

    def table(self, key: str = "t1") -> TableShown:
        self.room.call(self.room.settled).result()
        return self.room.call(lambda: self.room.derived.view["tables"].value[key]).result()

    def catch_up(self, scope: Scope) -> dict[str, int] | None:
        return self.room.call(
            self.room.change_tables, lambda now: now.catch_up(["t1"], scope, self.owner, "Caught up")
        ).result()

    def kinds(self) -> list[tuple[str, ...]]:
        return [kinds for kinds, *_ in self.table().differences]


def half_each(document: Doc) -> Doc:
    """What two people leave who each take out half of what is there, at once: updates of both, in a document of their own."""
    met: Doc = Doc()
    for part in (slice(0, 1), slice(1, None)):
        copy: Doc = Doc()
        copy.apply_update(document.get_update())
        table = next(one for one in text_of(copy).children if one.tag == "dataTable")
        with copy.transaction():
            for index in reversed(range(len(table.children))[part]):
                del table.children[index]
            for row in table.children:
                for cell in row.children:
                    for index in reversed(range(len(cell.children))[part]):
                        del cell.children[index]
        met.apply_update(copy.get_update())
    return met


class Opening(ServerCase):
    def test_after_any_number_of_openings_the_process_has_what_it_had(self) -> None:
        keys = [self.make().key for _ in range(KEPT_OPEN + 4)]

        def open_all() -> None:
            for key in keys:
                with rooms.room(key) as room:
                    with suppress(Malformed):  # which has the room begin a document anew
                        room.call(room.receive, b"odd", self.owner).result()
                    room.call(room.settled).result()

        def counts() -> dict[str, int]:
            documents = sum(isinstance(one, Doc) for one in gc.get_objects())
            return {
                "handles": len(os.listdir("/proc/self/fd")),
                "threads": threading.active_count(),
                "documents": documents,
            }

        # Less than one for every third of the openings: SQLite closes a file of one connection late where another holds a lock
        # on it, and a thread that has not asked for anything yet has no connection.
        def grown() -> dict[str, int]:
            return {name: count - before[name] for name, count in counts().items() if count >= before[name] + len(keys)}

        gc.collect()
        others = sum(isinstance(one, Doc) for one in gc.get_objects())
        self.enterContext(mock.patch.object(gc, "freeze"))  # what is frozen cannot be counted
        # Twice: a thread connects to the database when it first needs it, and its connection has three handles.
        for _ in range(2):
            open_all()
            wait_until(lambda: threading.active_count() <= 2 * KEPT_OPEN + 2)
        before = counts()
        for _ in range(3):
            open_all()
        # Rooms close in threads of their own, and what has ended is looked for in another: what has leaked stays.
        wait_until(lambda: not grown())
        self.assertEqual(grown(), {})
        rooms.close()
        gc.collect()
        self.assertLessEqual(sum(isinstance(one, Doc) for one in gc.get_objects()), others)


class Rooms(RoomCase):
    def test_where_two_took_out_half_of_a_table_each_there_is_a_place_to_write_on(self) -> None:
        cell = Cell((Paragraph("p1", "cell", (Run("1"),)), Paragraph("p2", "cell", (Run("2"),))))
        append_block(text_of(self.copy), DataTable("grid", ((cell,), (Cell((Paragraph("p3"), Paragraph("p4"))),))))
        self.send()
        before = len(self.listener.heard)
        self.copy.apply_update(half_each(self.copy).get_update())
        self.send()
        self.rest()
        table = self.room.call(self.room.report).result().blocks[-1]
        ((left,),) = table.rows
        self.assertEqual([(one.style, one.text) for one in left.paragraphs], [("cell", "")])
        # The room has put it in, once, for all; with an id for life.
        for data in self.listener.heard[before:]:
            self.copy.apply_update(read_message(data[2:]))
        shown = text_of(self.copy).children[len(self.children) - 1]
        self.assertEqual(read_block(shown, 0), table)
        self.rest()
        self.assertEqual(Update.objects.filter(report=self.report, person=None).count(), 1)

    def test_what_nobody_can_use_is_left_out_told_and_everybody_has_the_same(self) -> None:
        image = XmlElement("image")
        self.children.append(image)
        image.attributes["width"] = 6000.0
        state = self.room.call(self.room.state).result()
        self.room.call(self.room.receive, self.copy.get_update(state), self.owner, self.listener, 1).result()
        self.rest()
        (said,) = self.listener.of_type("left-out")
        self.assertEqual((said["what"], said["more"]), ("“width” of “image” cannot be “6000.0”", 0))
        self.assertIsNone(self.listener.closed_with)
        self.assertEqual(self.listener.of_type("stored")[-1]["count"], 1)
        for data in self.listener.heard:
            self.copy.apply_update(read_message(data[2:]))
        self.assertNotIn("width", dict(image.attributes))
        self.assertEqual(self.room.call(self.room.report).result().blocks[-1].width, 100.0)

    def test_nobody_hears_what_was_left_out_before_that_is_stored(self) -> None:
        """Whoever has taken something out of their text that no server knows of has another text than all others."""
        image = XmlElement("image")
        self.children.append(image)
        image.attributes["width"] = 6000.0
        update = self.copy.get_update(self.room.call(self.room.state).result())
        with mock.patch.object(Update.objects, "bulk_create", side_effect=DatabaseError("full")), self.assertLogs():
            self.room.call(self.room.receive, update, self.owner, self.listener, 1).result()
            self.rest()
            self.assertEqual(self.listener.of_type("left-out"), [])
        told: list[str] = []
        with mock.patch.object(
            self.listener,
            "deliver",
            side_effect=lambda one: told.append("update" if isinstance(one, bytes) else json.loads(one)["type"]),
        ):
            self.room.call(self.room.beat).result()
            self.rest()
        # The words that go with it are still in the text when its author hears of it.
        self.assertLess(told.index("left-out"), told.index("update"))
        self.assertLess(told.index("update"), told.index("stored"))

    def test_a_cell_of_which_two_took_a_paragraph_each_gets_one(self) -> None:
        cell = Cell((Paragraph("p1", "cell", (Run("1"),)), Paragraph("p2", "cell", (Run("2"),))))
        append_block(text_of(self.copy), DataTable("grid", ((cell, Cell((Paragraph("p3"),))),)))
        self.send()
        row = self.children[len(self.children) - 1].children[0]
        del row.children[0].children[0]
        del row.children[0].children[0]
        self.send()
        self.rest()
        ((left, right),) = self.room.call(self.room.report).result().blocks[-1].rows
        self.assertEqual([one.style for one in left.paragraphs], ["cell"])
        self.assertNotIn(left.paragraphs[0].id, ("p1", "p2"))
        self.assertEqual(right.paragraphs[0].id, "p3")

    def test_whoever_comes_in_gets_the_whole_view(self) -> None:
        (state,) = self.listener.messages
        self.assertEqual(state["type"], "state")
        self.assertEqual([h[3] for h in state["headings"]["insert"]], ["One", "Two", "Three"])

    def test_a_room_that_opens_gives_the_text_before_it_counts_pages(self) -> None:
        self.send()
        rooms.close()
        order: list[str] = []
        room = rooms.enter(self.report.key)
        late = Listener(self.editor)
        late.deliver = lambda data: order.append(json.loads(data)["type"])  # type: ignore[method-assign]
        room.call(room.join, late)
        room.call(lambda: (room.missing(None), order.append("text")))
        room.call(room.settled).result()
        self.assertEqual(order, ["text", "state"])
        again = Listener(self.owner)
        room.call(room.join, again).result()
        self.assertEqual([message["type"] for message in again.messages], ["state"])

    def test_who_made_an_edit_is_known_even_if_it_is_the_first_that_a_room_hears(self) -> None:
        self.place()
        rooms.close()
        room = self.room = rooms.enter(self.report.key)
        self.children[0].children[0].insert(0, "Number ")
        room.call(room.receive, self.copy.get_update(), self.editor).result()
        ((kinds, _, _, _, cause, _),) = self.table().differences
        self.assertEqual((kinds, cause.who), (("renamed",), "edit"))

    def test_what_could_not_be_computed_once_is_made_up_for(self) -> None:
        self.place()
        self.children[0].children[0].insert(0, "Number ")
        with mock.patch.object(page_followers, "paginate", side_effect=ZeroDivisionError), self.assertLogs() as logs:
            update = self.copy.get_update(self.room.call(self.room.state).result())
            self.room.call(self.room.receive, update, self.editor).result()
            self.rest()
        self.assertIn("could not be computed", logs.output[0])
        self.assertEqual(self.kinds(), [("renamed",)])
        self.assertEqual(self.table().differences[0].cause.who, "edit")

    def test_what_cannot_be_computed_leaves_all_else_alone(self) -> None:
        self.children[0].children[0].insert(0, "Number ")
        with mock.patch.object(page_followers, "paginate", side_effect=ZeroDivisionError), self.assertLogs():
            update = self.copy.get_update(self.room.call(self.room.state).result())
            self.room.call(self.room.receive, update, self.editor).result()
            self.rest()
        *_, condition, changes = self.listener.messages
        self.assertEqual(set(changes), {"type", "headings"})
        self.assertEqual(changes["headings"]["insert"][0][3], "Number One")
        self.assertEqual(condition, {"type": "condition", "saving": True, "lacking": ["pages"]})

    def test_a_report_that_is_renamed_has_its_new_name_in_its_files(self) -> None:
        self.report.title = "Another name"
        self.report.save()
        rooms.renew(self.report.key)
        report, _ = self.room.call(self.room.settled).result()
        self.assertEqual(report.title, "Another name")
        self.assertEqual(len(self.listener.of_type("renewed")), 1)

    def test_pages_follow_styles_that_change_while_the_report_is_open(self) -> None:
        style = self.report.styles.get(settings__id="heading-1")
        style.settings |= {"new_page": True}
        style.save()
        rooms.renew(self.report.key)
        _, pages = self.room.call(self.room.settled).result()
        self.assertEqual(len(pages), 2)
        self.assertEqual(self.listener.messages[-1]["headings_on"], {"at": 2, "remove": 1, "insert": [2]})

    def test_an_edit_is_stored_before_anything_else(self) -> None:
        before = Update.objects.count()
        self.children[1].children[0].insert(0, "New ")
        self.send()
        self.assertEqual(Update.objects.count(), before + 1)
        rooms.close()
        again = rooms.enter(self.report.key)
        report, _ = again.call(again.settled).result()
        self.assertEqual(report.blocks[1].text, "New Words.")

    def test_only_what_changed_is_told(self) -> None:
        self.children[2].attributes["style"] = "heading-3"
        self.send()
        message = self.listener.messages[-1]
        self.assertEqual(set(message), {"type", "headings", "findings"})
        self.assertEqual((message["headings"]["at"], message["headings"]["remove"]), (1, 1))

    def test_a_placed_table_gets_its_lines_by_itself(self) -> None:
        self.place()
        self.assertEqual([line.text for line in self.table().lines], ["One", "Two", "Three"])
        self.assertEqual(self.table().differences, [])

    def test_a_table_falls_behind_says_who_and_catches_up(self) -> None:
        self.place()
        self.children[0].children[0].insert(0, "Number ")
        self.send(self.editor)
        ((kinds, _, _, _, cause, _),) = self.table().differences
        self.assertEqual((kinds, cause.who), (("renamed",), "edit"))
        self.report.refresh_from_db()
        self.assertEqual([table.behind for table in self.report.tables.all()], [1])
        self.assertTrue(self.catch_up("everything"))
        self.assertEqual(self.table().differences, [])
        self.assertEqual([table.behind for table in self.report.tables.all()], [0])

    def test_the_lines_of_a_table_are_sent_only_when_they_change(self) -> None:
        self.place()
        self.assertIn("lines", self.listener.messages[-1]["tables"]["t1"])
        self.children[0].children[0].insert(0, "Number ")
        self.send()
        self.assertNotIn("lines", self.listener.messages[-1]["tables"]["t1"])
        self.catch_up("everything")
        self.assertIn("lines", self.listener.messages[-1]["tables"]["t1"])

    def test_a_table_that_lists_something_else_than_headings_follows_what_it_lists(self) -> None:
        def lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
            for block in sources.pages.report.blocks:
                if isinstance(block, Paragraph) and block.text.startswith("More"):
                    yield Line(block.id, 1, "", block.text, ("1",))

        kind = TableKind("mores", Recipe(kind="mores", title="Mores"), lines, "Nothing.", lambda *_: "")
        with mock.patch.dict(table_kinds._KINDS, {"mores": kind}):
            append_block(text_of(self.copy), PlacedTable("b-t1", "t1", kind="mores"))
            self.send()
            self.assertEqual([line.text for line in self.table().lines], ["More words."])
            self.children[3].children[0].insert(4, " and more")
            self.send()
            self.assertEqual(self.kinds(), [("renamed",)])

    def test_page_numbers_only(self) -> None:
        self.place()
        self.children[0].children[0].insert(0, "Number ")
        self.children.insert(1, XmlElement("pageBreak"))
        self.send()
        self.assertEqual(self.kinds(), [("renamed",), ("page",), ("page",)])
        self.catch_up("pages")
        self.assertEqual(self.kinds(), [("renamed",)])

    def test_a_table_that_is_removed_counts_no_longer_and_keeps_its_recipe(self) -> None:
        self.place()
        index = len(self.children) - 1
        del self.children[index]
        self.send()
        self.assertEqual(list(self.report.tables.values_list("placed", flat=True)), [False])
        self.assertIsNone(self.catch_up("everything"))

    def test_who_did_what_to_headings_is_kept(self) -> None:
        del self.children[0]
        self.send(self.editor)
        self.children[1].attributes["style"] = "body"
        self.send(self.owner)
        found = {(c.text, c.kind, c.person.username) for c in HeadingChange.objects.all()}
        self.assertEqual(found, {("One", "removed", "edit"), ("Two", "removed", "own")})

    def test_a_section_that_was_moved_is_explained_by_who_moved_it(self) -> None:
        self.place()
        one, words = (str(child) for child in (self.children[0].children[0], self.children[1].children[0]))
        ids = [self.children[index].attributes["id"] for index in (0, 1)]
        with self.copy.transaction():
            del self.children[0:2]
            end = len(self.children) - 1  # the table stands last
            for at, (id, style, text) in enumerate(((ids[0], "heading-1", one), (ids[1], "body", words))):
                element = self.children.insert(end + at, XmlElement("paragraph"))
                element.attributes["id"], element.attributes["style"] = id, style
                element.children.append(XmlText()).insert(0, text)
        self.send(self.editor)
        ((kinds, _, issued, fresh, cause, _),) = self.table().differences
        self.assertEqual((kinds, issued.text, fresh.text, cause.who), (("moved",), "One", "One", "edit"))
        self.assertEqual(list(HeadingChange.objects.values_list("text", "kind")), [("One", "moved")])

    def test_what_is_known_of_headings_survives_the_room(self) -> None:
        self.place()
        self.children[2].attributes["style"] = "heading-3"
        self.send(self.editor)
        rooms.close()
        self.room = rooms.enter(self.report.key)
        ((kinds, _, _, _, cause, _),) = self.table().differences
        self.assertEqual((kinds, cause.who), (("level",), "edit"))

    def test_merging_the_log_does_not_make_a_report_look_changed(self) -> None:
        self.addCleanup(setattr, text_module, "COMPACT_AFTER", text_module.COMPACT_AFTER)
        self.children[1].children[0].insert(0, "Once ")
        self.send()
        written = Update.objects.order_by("at").last().at
        text_module.COMPACT_AFTER = 0
        self.room.call(self.room._follow).result()
        self.rest()
        # What it was when it was made stays apart: what happened since then can be asked for.
        self.assertEqual(list(Update.objects.values_list("at", flat=True)), [self.report.made_at, written])

    def test_a_browser_speaks_for_itself_alone_and_leaves_with_its_connection(self) -> None:
        """One that takes another's number is not heard; nor one that speaks for more than a few."""
        other = Listener(self.editor)
        heard: list[list[int]] = []
        self.listener.deliver = lambda data: heard.append([p.client for p in decode(read_message(data[1:]))])  # type: ignore[method-assign]
        self.room.call(self.room.join, other).result()
        self.room.call(self.room.update_presence, [AwarenessState(1, 1, {})], self.listener).result()
        many = [AwarenessState(client, 1, {}) for client in (1, 2, 3, 4, 5, 6)]
        self.room.call(self.room.update_presence, many, other).result()
        self.room.call(self.room.leave, other).result()
        self.assertEqual(heard, [[2, 3, 4, 5], [2, 3, 4, 5]])

    def test_readers_and_strangers_and_those_put_out_cannot_write(self) -> None:
        self.children[1].children[0].insert(0, "No ")
        before = Update.objects.count()
        for person in (self.reader, self.stranger):
            with self.assertRaises(MayNotWrite):
                self.send(person)
        Membership.objects.filter(person=self.editor).delete()
        with self.assertRaises(MayNotWrite):
            self.send(self.editor)
        self.assertEqual(Update.objects.count(), before)
        report, _ = self.room.call(self.room.settled).result()
        self.assertEqual(report.blocks[1].text, "Words.")

    def test_bytes_that_are_no_update_change_nothing(self) -> None:
        before = Update.objects.count()
        for junk in (b"junk", b"\x01\xff\xff\xff", b"", b"\x00"):
            with self.subTest(junk), self.assertRaises(Malformed):
                self.room.call(self.room.receive, junk, self.owner).result()
        self.room.call(self.room.receive, bytes(2), self.owner).result()  # an update that says nothing is no fault
        self.rest()
        self.assertEqual(Update.objects.count(), before)
        report, _ = self.room.call(self.room.settled).result()
        self.assertEqual(len(report.blocks), 6)

    def test_an_update_that_breaks_halfway_leaves_what_is_stored(self) -> None:
        """The library panics, in the middle of its work, on some updates that are malformed in a way it cannot tell."""

        class Panic(BaseException):
            pass

        apply = Doc.apply_update
        broken = []

        def halfway(document: Doc, update: bytes) -> None:
            apply(document, update)
            if not broken:
                broken.append(update)
                raise Panic

        self.children[1].children[0].insert(0, "Torn ")
        with mock.patch.object(Doc, "apply_update", halfway), self.assertRaises(Malformed):
            self.send()
        report, _ = self.room.call(self.room.settled).result()
        self.assertEqual(report.blocks[1].text, "Words.")
        self.send()
        report, _ = self.room.call(self.room.settled).result()
        self.assertEqual(report.blocks[1].text, "Torn Words.")

    def test_a_long_log_is_merged_and_loses_nothing(self) -> None:
        self.addCleanup(setattr, text_module, "COMPACT_AFTER", text_module.COMPACT_AFTER)
        text_module.COMPACT_AFTER = 5
        for number in range(8):
            self.children[1].children[0].insert(0, f"{number} ")
            self.send()
        self.assertLess(Update.objects.count(), 8)
        rooms.close()
        again = rooms.enter(self.report.key)
        report, _ = again.call(again.settled).result()
        self.assertEqual(report.blocks[1].text, "7 6 5 4 3 2 1 0 Words.")

    def test_a_merged_log_still_tells_who_wrote_what_and_when(self) -> None:
        """Two people write by turns, in two hours, each on what the other wrote, and take out some of it again."""
        self.addCleanup(setattr, text_module, "COMPACT_AFTER", text_module.COMPACT_AFTER)
        day = timezone.now().replace(minute=0) - timedelta(days=1)
        Update.objects.update(at=day)
        for number in range(40):
            person = (self.owner, self.editor)[number % 2]
            words = self.children[1].children[0]
            words.insert(len(str(words).encode()) // 2, f"{person.username}{number} ")
            if number % 5 == 4:
                del words[0:3]
            self.send(person)
            Update.objects.filter(pk=Update.objects.last().pk).update(at=day + timedelta(minutes=3 * number))
        written = str(self.children[1].children[0])
        text_module.COMPACT_AFTER = 0
        self.room.call(self.room.text.compact).result()
        found = list(Update.objects.values_list("person__username", "at"))
        hours = [(name, (at - day) // timedelta(hours=1)) for name, at in found]
        self.assertEqual(sorted(hours), [("edit", 0), ("edit", 1), ("own", 0), ("own", 1)])
        self.assertEqual(max(at for _, at in found), day + timedelta(minutes=117))
        early: Doc = Doc()
        for row in Update.objects.filter(at__lt=day + timedelta(hours=1)):
            early.apply_update(bytes(row.data))
        self.assertIn(" 17 ", str(text_of(early).children[1]))
        self.assertNotIn("21", str(text_of(early).children[1]))
        rooms.close()
        again = rooms.enter(self.report.key)
        report, _ = again.call(again.settled).result()
        self.assertEqual(report.blocks[1].text, written)

    def test_who_is_a_member_no_longer_is_put_out(self) -> None:
        leaver = Listener(self.reader)
        self.room.call(self.room.join, leaver).result()
        Membership.objects.filter(person=self.reader).delete()
        self.room.call(self.room.beat).result()
        self.children[0].children[0].insert(0, "Secret ")
        self.send()
        self.assertEqual((leaver.closed_with, len(leaver.messages)), (NOT_YOURS, 1))
        self.assertIsNone(self.listener.closed_with)


class Open(ServerCase):
    def test_rooms_that_nobody_uses_are_closed_but_for_the_last_few(self) -> None:
        keys = [self.make().key for _ in range(registry.KEPT_OPEN + 3)]
        in_use = rooms.enter(keys[0])
        for key in keys:
            with rooms.room(key) as room:
                room.call(room.settled).result()
        while rooms._closing:  # whoever left did not wait for that
            time.sleep(0.01)
        threads = {thread.name for thread in threading.enumerate()}
        open_now = [key for key in keys if any(name.startswith(f"room-{key}") for name in threads)]
        self.assertEqual(open_now, [keys[0], *keys[3:]])
        self.assertIs(rooms.enter(keys[0]), in_use)


class Changes(ServerCase):
    def test_a_splice_is_the_one_stretch_that_differs(self) -> None:
        self.assertIsNone(splice([1, 2], [1, 2]))
        self.assertEqual(splice([1, 2, 3], [1, 9, 9, 3]), {"at": 1, "remove": 1, "insert": [9, 9]})
        self.assertEqual(splice([], [1]), {"at": 0, "remove": 0, "insert": [1]})
        self.assertEqual(splice([1, 1], [1, 1, 1]), {"at": 2, "remove": 0, "insert": [1]})

    def test_keys_that_are_gone_are_none(self) -> None:
        self.assertIsNone(changed_keys({"a": 1}, {"a": 1}))
        self.assertEqual(changed_keys({"a": 1, "b": 1}, {"b": 2, "c": 3}), {"a": None, "b": 2, "c": 3})
