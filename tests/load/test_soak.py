"""One minute of the soak: see ``tests/load/__main__.py``, which ``make load`` runs for longer."""

from __future__ import annotations

import subprocess
import sys

from django.test import SimpleTestCase

from .server import PROJECT


class Soak(SimpleTestCase):
    def test_no_confirmed_word_is_lost_whatever_is_cut_or_killed(self) -> None:
        done = subprocess.run(
            [sys.executable, "-m", "tests.load", "soak", "--minutes", "1", "--kills", "0.1"],
            cwd=PROJECT, capture_output=True, text=True, timeout=400,
        )  # fmt: skip
        print(f"\n{done.stdout}")
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr[-3000:])
