"""Reading files in a process of its own: the real process, ended for real."""

from __future__ import annotations

import time
from unittest import TestCase, mock

from mellowspine.core.formats.imported import FileRefused, unhurried
from mellowspine.server import reading
from mellowspine.server.reading import read_apart

ENDLESS = b"[" * 400_000
"""Markdown for which the parser needs minutes: open brackets are quadratic."""


class Stop(Exception):
    pass


class Apart(TestCase):
    def test_a_file_is_read(self) -> None:
        found = read_apart("a.md", b"# One\n\nWords", unhurried)
        self.assertEqual([block.text for block in found.report.blocks], ["One", "Words"])

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
