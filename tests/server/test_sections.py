"""Rearranging sections over HTTP: the plans, and where sections would stand by them."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse

from mellowspine.core.report.blocks import Paragraph
from mellowspine.server.api.rooms import report_of

from .base import ServerCase

TEXT = "# Access\n\nThe 𝒢 gate, a gate.\n\n## By sea\n\nBy boat.\n\n# Consents\n\nAll of them.\n"


class Sections(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make(TEXT)
        self.client.force_login(self.editor)
        self.ids = {one.text: one.id for one in report_of(self.report.key).blocks if isinstance(one, Paragraph)}

    def ask(self, plan: str, **sent: object) -> HttpResponse:
        address = f"/api/reports/{self.report.key}/plans/{plan}"
        return self.client.post(address, sent, content_type="application/json")

    def rearrange(self, do: str, *names: str, **sent: object) -> Any:
        answer = self.ask("sections", do=do, sections=[self.ids[name] for name in names], **sent)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def test_a_plan_and_where_the_section_would_stand(self) -> None:
        found = self.rearrange("move", "By sea", before=None, level=1)
        self.assertEqual([step["step"] for step in found["plan"]], ["move", "set"])
        self.assertEqual(found["plan"][0]["blocks"], [self.ids["By sea"], self.ids["By boat."]])
        landing = {"id": self.ids["By sea"], "number": "", "text": "By sea", "level": 1, "page": "1"}
        self.assertEqual(found["landings"], [landing])
        self.assertEqual(self.rearrange("down", "Access")["plan"][0]["after"], self.ids["All of them."])
        self.assertEqual(self.rearrange("promote", "By sea")["landings"][0]["level"], 1)
        self.assertEqual(self.rearrange("remove", "Access")["landings"], [])
        self.assertEqual(self.rearrange("move", "Access", before=self.ids["Consents"])["plan"], [])

    def test_numbers_are_those_it_would_have(self) -> None:
        self.client.patch(
            f"/api/reports/{self.report.key}/numbering", {"scheme": "decimal", "appendix": False}, content_type="application/json"
        )  # fmt: skip
        self.assertEqual(self.rearrange("move", "By sea", before=None)["landings"][0]["number"], "2.1")
        self.assertEqual(self.rearrange("demote", "Consents")["landings"][0]["number"], "1.2")

    def test_it_is_split_where_browsers_count_and_duplicated(self) -> None:
        """The letter behind “The” is two code units."""
        found = self.ask("split", block=self.ids["The 𝒢 gate, a gate."], offset=7).json()
        cut, insert = found["plan"]
        self.assertEqual((cut["start"], cut["words"]), (7, "gate, a gate."))
        self.assertEqual(insert["blocks"][0]["attributes"]["id"], found["first"])
        self.assertEqual(
            [one["children"][0]["text"] for one in insert["blocks"]], ["Access (continued)", "gate, a gate."]
        )
        (insert,) = (copied := self.ask("duplicate", section=self.ids["Access"]).json())["plan"]
        self.assertEqual((insert["after"], len(insert["blocks"])), (self.ids["By boat."], 4))
        self.assertEqual(insert["blocks"][0]["attributes"]["id"], copied["first"])
        self.assertNotIn(copied["first"], self.ids.values())

    def test_what_cannot_be_is_said_and_who_may(self) -> None:
        for plan, sent, words in (
            ("sections", {"do": "up", "sections": [self.ids["Access"]]}, "no place further up"),
            ("sections", {"do": "move", "sections": ["gone"]}, "no more"),
            ("sections", {"do": "join", "sections": [self.ids["Access"]]}, "no section in front"),
            ("split", {"block": self.ids["Access"], "offset": 1}, "Put the cursor"),
            ("duplicate", {"section": "gone"}, "no more"),
        ):
            answer = self.ask(plan, **sent)
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])
        for sent in (
            {"do": "odd", "sections": ["a"]},
            {"do": "up", "sections": []},
            {"do": "move", "sections": ["a"], "level": 10},
        ):
            self.assertEqual(self.ask("sections", **sent).status_code, 422)
        given = {
            "sections": {"do": "up", "sections": ["a"]},
            "split": {"block": "a", "offset": 0},
            "duplicate": {"section": "a"},
        }
        for person, status in ((self.reader, 403), (self.stranger, 404)):
            self.client.force_login(person)
            for plan, sent in given.items():
                self.assertEqual(self.ask(plan, **sent).status_code, status)
