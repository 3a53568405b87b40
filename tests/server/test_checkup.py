"""The check-up over HTTP and in the open room: findings come and go, are mended by a plan, and are set aside."""

from __future__ import annotations

from typing import Any

from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Report

from .test_api import Api

FAULTY = """# Gates

Words.

### North gate.

Words.

# Tides

Words.
"""


class Checkup(Api):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make(FAULTY)

    def view(self, name: str) -> Any:
        with rooms.room(self.report.key) as room:
            room.call(room.settled).result()
            assert room.derived
            return room.derived.view[name].value

    def post(self, path: str, data: dict[str, Any], person=None):
        return self.ask(person or self.owner, "post", f"reports/{self.report.key}/{path}", data)

    def kinds(self) -> list[str]:
        return [finding.kind for finding in self.view("findings")]

    def test_findings_are_shown_to_everybody_and_counted_on_the_shelf(self) -> None:
        self.assertEqual(self.kinds(), ["skipped-level", "lone-subsection", "full-stop"])
        name, why, label = self.view("checks")["skipped-level"]
        self.assertTrue(name and why and label)
        self.assertEqual(self.view("checks")["lone-subsection"][2], "")
        cards = {card["key"]: card["findings"] for card in self.ask(self.owner, "get", "reports").json()}
        self.assertEqual(cards[self.report.key], 3)

    def test_a_remedy_is_shown_before_it_is_done(self) -> None:
        (finding,) = [one for one in self.view("findings") if one.kind == "full-stop"]
        found = self.post("plans/remedy", {"kind": "full-stop", "places": [finding.place, "gone"]}).json()
        self.assertEqual(
            found["changes"],
            [{"block": finding.place, "before": ["Heading 3", "North gate."], "after": ["Heading 3", "North gate"]}],
        )
        self.assertEqual([step["step"] for step in found["plan"]], ["cut"])
        self.assertEqual((found["count"], found["scheme"]), (1, None))

    def test_what_is_mended_already_or_cannot_be_is_told(self) -> None:
        for kind, places, why in (
            ("full-stop", ["gone"], "mended already"),
            ("lone-subsection", ["a"], "Nothing mends"),
            ("none", [], "Nothing mends"),
        ):
            answer = self.post("plans/remedy", {"kind": kind, "places": places})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(why, answer.json()["message"])
        self.assertEqual(self.post("plans/remedy", {"kind": "full-stop", "places": []}, self.reader).status_code, 403)
        self.assertEqual(self.post("plans/remedy", {"kind": "full-stop", "places": []}, self.stranger).status_code, 404)

    def test_findings_are_set_aside_with_a_reason_and_taken_up_again(self) -> None:
        lone = next(one.id for one in self.view("findings") if one.kind == "lone-subsection")
        self.assertEqual(self.post("findings/aside", {"findings": [lone], "reason": " "}).status_code, 400)
        self.assertEqual(self.post("findings/aside", {"findings": [lone], "reason": "x"}, self.reader).status_code, 403)
        self.assertEqual(
            self.post("findings/aside", {"findings": [lone], "reason": " as the law  wants it "}).status_code, 204
        )
        self.assertEqual(
            {id: (reason, who) for id, (reason, who, _) in self.view("set_aside").items()},
            {lone: ("as the law wants it", "own")},
        )
        self.assertEqual(Report.objects.get(pk=self.report.pk).findings, 2)
        self.assertEqual(self.post("findings/take-up", {"findings": [lone]}, self.editor).status_code, 204)
        self.assertEqual(self.view("set_aside"), {})
        self.assertEqual(Report.objects.get(pk=self.report.pk).findings, 3)
