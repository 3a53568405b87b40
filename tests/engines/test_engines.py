"""The text answers like text, in two engines: presses, drags and typing at random places, and a person's first steps.

Chromium and Firefox are driven by the same scripts: see ``web/tests/engines/``.
"""

from __future__ import annotations

import json
import subprocess
from typing import Any

from django.test import SimpleTestCase

from tests.journeys.application import PROJECT, Application


class Engines(SimpleTestCase):
    application: Application

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.application = Application()
        cls.addClassCleanup(cls.application.close)

    def run_script(self, name: str, *given: str) -> Any:
        done = subprocess.run(
            ["node", f"tests/engines/{name}.mjs", *given[:1], self.application.address, *given[1:]],
            cwd=PROJECT / "web", capture_output=True, text=True, timeout=900,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        return json.loads(done.stdout)

    def test_presses_and_drags_reach_what_is_under_the_pointer(self) -> None:
        for engine, places in (("chromium", "70"), ("firefox", "40")):
            with self.subTest(engine):
                found = self.run_script("pointer", engine, places)
                self.assertEqual(found["faults"], [])
                self.assertGreater(found["presses"], 40)
                self.assertGreater(found["drags"], 10)

    def test_first_steps(self) -> None:
        for engine in ("chromium", "firefox"):
            with self.subTest(engine):
                seen = self.run_script("journey", engine)
                self.assertEqual(seen["faults"], [])
                self.assertIn("Level with the text", seen["placed"])
                self.assertIn("1 line behind", seen["behind"])
                self.assertIn("Level with the text", seen["level"])
                self.assertEqual(seen["kept"][:2], ["Opening", "Some words about it. See what of Opening there"])
                self.assertIn("Closing words", seen["kept"])
                self.assertEqual(seen["marks"], [["citation", "Some"], ["indexed", "words"]])

    def test_what_comes_from_elsewhere(self) -> None:
        before = ["body: Before", "body: "]
        for engine in ("chromium", "firefox"):
            with self.subTest(engine):
                seen = self.run_script("clipboard", engine)
                self.assertEqual(seen["faults"], [])
                here = [
                    "heading-2: Access",
                    "item-1: First",
                    "bullet-2: Under it",
                    "item-1: Second",
                    "body: Large words",
                    "figure: ",
                ]
                self.assertEqual([one for one in seen["pasted"] if one not in before], here)
                self.assertEqual(seen["cells"], ["May 2", "1 1", "2 1"])
                self.assertEqual(
                    [one for one in seen["words"] if one not in before], ["body: Access", "body: Large words"]
                )
                self.assertEqual(seen["undone"], before)
                chapter = ["heading-1: Sea level", "body: See Weir.", "heading-2: Weir", "item-1: One"]
                self.assertEqual([one for one in seen["chapter"] if one not in before], chapter)
                self.assertTrue(seen["named"])
                self.assertIn("heading-2: Before the pool", seen["section"])
                self.assertIn("figure: ", seen["section"])
