"""Reading files in a process of its own: the real process, ended for real."""

from __future__ import annotations

import io
import os
import resource
import time
from unittest import TestCase, mock

from PIL import Image as Pillow
from pycrdt import Doc

from mellowspine.core.formats.imported import FileRefused, unhurried
from mellowspine.core.formats.pictures import NotAPicture
from mellowspine.server import reading
from mellowspine.server.reading import check_apart, read_apart
from mellowspine.server.rooms.document import text_of

ENDLESS = b"[" * 400_000
"""Markdown for which the parser needs minutes: open brackets are quadratic."""


class Stop(Exception):
    pass


class Apart(TestCase):
    def test_a_file_is_read(self) -> None:
        found = read_apart("a.md", b"# One\n\nWords", unhurried)
        self.assertEqual([block.text for block in found.imported.report.blocks], ["One", "Words"])
        document: Doc = Doc()
        for data in found.text:
            document.apply_update(data)
        self.assertEqual(len(text_of(document).children), 2)

    def test_pictures_are_looked_at_apart_as_well(self) -> None:
        stream = io.BytesIO()
        Pillow.new("RGB", (30, 20)).save(stream, "TIFF")
        source, _, width, height, _ = check_apart(stream.getvalue())
        self.assertEqual((source[-4:], width, height), (".png", 30, 20))
        with self.assertRaisesRegex(NotAPicture, "not a picture"):
            check_apart(b"%!PS-Adobe-3.0 EPSF-3.0\n")

    def test_a_small_picture_that_becomes_a_large_one_takes_nothing_of_the_server(self) -> None:
        stream = io.BytesIO()
        Pillow.new("1", (7000, 7000)).save(stream, "TIFF", compression="group4")
        self.assertLess(len(stream.getvalue()), 20_000)
        before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        check_apart(stream.getvalue())
        self.assertLess(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before, 100_000)  # kilobytes
        coloured = io.BytesIO()
        Pillow.new("RGB", (7700, 7700)).save(coloured, "TIFF", compression="tiff_deflate")
        with mock.patch.object(reading, "MOST_MEMORY", 350 * 1024**2), self.assertRaises(FileRefused):
            check_apart(coloured.getvalue())

    def test_handles_are_given_back(self) -> None:
        read_apart("a.md", b"Words", unhurried)
        before = len(os.listdir("/proc/self/fd"))
        for _ in range(5):
            read_apart("a.md", b"Words", unhurried)
        self.assertLessEqual(len(os.listdir("/proc/self/fd")), before)

    def test_what_is_wrong_with_it_is_said(self) -> None:
        with self.assertRaisesRegex(FileRefused, "^The file is empty"):
            read_apart("a.md", b"", unhurried)

    def test_it_ends_within_a_second_of_being_told_to(self) -> None:
        began = time.monotonic()
        told: list[float] = []

        def stop(done: int, total: int) -> None:
            if time.monotonic() - began > 1.5:
                told.append(time.monotonic())
                raise Stop

        with self.assertRaises(Stop):
            read_apart("a.md", ENDLESS, stop)
        self.assertLess(len(told), 2)

    def test_one_that_takes_too_long_is_refused(self) -> None:
        with mock.patch.object(reading, "LONGEST", 1.5), self.assertRaisesRegex(FileRefused, "too long"):
            read_apart("a.md", ENDLESS, unhurried)

    def test_one_that_takes_too_much_memory_is_refused(self) -> None:
        with mock.patch.object(reading, "MOST_MEMORY", 400 * 1024**2), self.assertRaisesRegex(FileRefused, "memory"):
            read_apart("a.txt", b"word\n" * 2_000_000, unhurried)
