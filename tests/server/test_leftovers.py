"""What nobody needs any more goes, and nothing goes before its time."""

from __future__ import annotations

import random
from contextlib import suppress
from datetime import timedelta
from unittest import mock

from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.db import DatabaseError
from django.utils import timezone

from mellowspine.core.report.blocks import Image
from mellowspine.server.rooms import leftovers
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.leftovers import sweep
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import HeadingChange, IssuedTable, Picture, PicturePart, Report
from mellowspine.server.shelf.pictures import (
    PIECE,
    forget_pictures,
    forget_unfinished,
    read_picture,
    read_pictures,
    store_picture,
)

from .test_room import RoomCase

SOURCE, OTHER = f"{'0' * 32}.png", f"{'1' * 32}.png"


class Leftovers(RoomCase):
    def close(self, after: timedelta = timedelta()) -> None:
        """Closes the room so much later."""
        with mock.patch.object(leftovers.timezone, "now", return_value=timezone.now() + after):
            rooms.close()

    def again(self) -> None:
        self.room = rooms.enter(self.report.key)
        self.room.call(self.room.settled).result()

    def test_pictures_that_are_no_longer_in_the_text(self) -> None:
        for source in (SOURCE, OTHER):
            Picture.objects.create(report=self.report, source=source, data=b"x")
        append_block(text_of(self.copy), Image("i", SOURCE, 10, 10))
        self.send()
        self.close()
        self.assertEqual(self.unused(Picture, "source"), {OTHER})
        self.again()
        self.close(leftovers.PICTURES - timedelta(hours=1))
        self.assertEqual(Picture.objects.count(), 2)
        self.again()
        self.close(leftovers.PICTURES + timedelta(hours=1))
        self.assertEqual([one.source for one in Picture.objects.all()], [SOURCE])

    def test_the_picture_at_head_and_foot_is_in_use(self) -> None:
        for source in (SOURCE, OTHER):
            Picture.objects.create(report=self.report, source=source, data=b"x")
        self.send()
        # Set by somebody else than whoever opened the report.
        Report.objects.filter(pk=self.report.pk).update(page={"picture": SOURCE})
        self.close()
        self.assertEqual(self.unused(Picture, "source"), {OTHER})

    def test_a_large_picture_is_written_in_pieces_and_goes_with_all_of_them(self) -> None:
        data = random.Random(1).randbytes(2 * PIECE + 5)
        store_picture(self.report, SOURCE, data)
        store_picture(self.report, OTHER, data[:PIECE])
        self.assertEqual(max(len(one.data) for one in (*Picture.objects.all(), *PicturePart.objects.all())), PIECE)
        self.assertEqual(read_picture(self.report, SOURCE), data)
        self.assertEqual(read_pictures(self.report), {SOURCE: data, OTHER: data[:PIECE]})
        append_block(text_of(self.copy), Image("i", OTHER, 10, 10))
        self.send()
        for _ in range(2):
            self.close(leftovers.PICTURES + timedelta(hours=1))
            self.again()
        Picture.objects.filter(source=SOURCE).update(unused_since=timezone.now() - leftovers.PICTURES)
        self.close(timedelta(hours=1))
        self.assertEqual(read_pictures(self.report), {OTHER: data[:PIECE]})
        self.assertEqual(PicturePart.objects.count(), 0)

    def test_a_picture_that_was_not_stored_to_the_end_is_not_there_and_can_be_stored_again(self) -> None:
        data = random.Random(1).randbytes(3 * PIECE)
        for again in (True, False):
            with (
                mock.patch.object(Picture.objects, "create", side_effect=DatabaseError),
                self.assertRaises(DatabaseError),
            ):
                store_picture(self.report, SOURCE, data)
            self.assertEqual((read_picture(self.report, SOURCE), PicturePart.objects.count()), (None, 2))
            if again:
                PicturePart.objects.update(at=timezone.now() - 2 * leftovers.UNFINISHED)
                with mock.patch.object(Picture.objects, "create", side_effect=DatabaseError), suppress(DatabaseError):
                    store_picture(self.report, SOURCE, data)
                # Whoever sweeps while it is being stored again leaves what is there of it.
                forget_unfinished(self.report, timezone.now() - leftovers.UNFINISHED)
                self.assertEqual(PicturePart.objects.count(), 2)
                store_picture(self.report, SOURCE, data)
                self.assertEqual(read_picture(self.report, SOURCE), data)
                forget_pictures(self.report, {SOURCE})
        self.close(leftovers.UNFINISHED - timedelta(hours=1))
        self.assertEqual(PicturePart.objects.count(), 2)
        self.again()
        self.close(leftovers.UNFINISHED + timedelta(hours=1))
        self.assertEqual(PicturePart.objects.count(), 0)

    def test_one_that_is_back_is_kept(self) -> None:
        Picture.objects.create(
            report=self.report, source=SOURCE, data=b"x", unused_since=timezone.now() - timedelta(days=300)
        )
        append_block(text_of(self.copy), Image("i", SOURCE, 10, 10))
        self.send()
        self.close()
        self.assertEqual((Picture.objects.count(), self.unused(Picture, "source")), (1, set()))

    def test_tables_that_were_taken_out(self) -> None:
        self.place("t1")
        self.place("t2")
        del self.children[len(self.children) - 1]
        self.send()
        self.close()
        self.assertEqual(self.unused(IssuedTable, "key"), {"t2"})
        self.again()
        self.close(leftovers.TABLES + timedelta(hours=1))
        self.assertEqual([one.key for one in IssuedTable.objects.all()], ["t1"])

    def test_what_was_done_to_headings_that_are_gone(self) -> None:
        there = self.room.call(self.room.report).result().blocks[0].id
        long_ago = timezone.now() - leftovers.CHANGES - timedelta(days=1)
        for heading, at in ((there, long_ago), ("gone", long_ago), ("just gone", timezone.now())):
            HeadingChange.objects.create(report=self.report, heading=heading, kind="renamed", at=at, text="Words")
        self.close()
        self.assertEqual({one.heading for one in HeadingChange.objects.all()}, {there, "just gone"})

    def test_sign_ins_that_have_ended_and_reports_that_were_never_finished(self) -> None:
        for days in (-1, 1):
            session = SessionStore()
            session.set_expiry(timezone.now() + timedelta(days=days))
            session.create()
        fresh, old = Report.objects.create(title="Being made"), Report.objects.create(title="Given up")
        Report.objects.filter(pk=old.pk).update(made_at=timezone.now() - timedelta(days=2))
        Report.objects.filter(pk=self.report.pk).update(made_at=timezone.now() - timedelta(days=900))
        sweep()
        self.assertEqual(Session.objects.count(), 1)
        self.assertEqual(set(Report.objects.values_list("pk", flat=True)), {self.report.pk, fresh.pk})

    def unused(self, model: type[Picture] | type[IssuedTable], name: str) -> set[str]:
        return set(model.objects.exclude(unused_since=None).values_list(name, flat=True))
