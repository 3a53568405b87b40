"""Find and replace over HTTP."""

from __future__ import annotations

from django.http import HttpResponse

from .base import ServerCase


class Searching(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make("# Gate\n\nThe 𝒢 gate, a gate.\n\n## Two\n\nNo more.\n")
        self.client.force_login(self.editor)

    def ask(self, path: str, **sent: object) -> HttpResponse:
        return self.client.post(f"/api/reports/{self.report.key}/{path}", sent, content_type="application/json")

    def test_places_by_section_counted_as_browsers_do(self) -> None:
        found = self.ask("search", words="gate", instead="weir").json()
        self.assertEqual(found["count"], 3)
        self.assertEqual([(one["text"], one["count"]) for one in found["sections"]], [("Gate", 3)])
        self.assertEqual([(one["start"], one["words"], one["instead"]) for one in found["hits"]],
                         [(0, "Gate", "weir"), (7, "gate", "weir"), (15, "gate", "weir")])  # fmt: skip

    def test_the_plan_for_some_of_them(self) -> None:
        paragraph = self.ask("search", words="gate").json()["hits"][2]["paragraph"]
        made = self.ask("plans/replace", words="gate", instead="weir", places=[[paragraph, 15]]).json()
        (step,) = made["plan"]
        self.assertEqual(
            (step["step"], step["start"], step["words"], step["instead"][0]["text"]), ("cut", 15, "gate", "weir")
        )
        self.assertEqual((made["count"], made["lines"]), (1, []))
        self.assertEqual(self.ask("plans/replace", words="gate", instead="").json()["count"], 3)

    def test_bad_patterns_and_who_may(self) -> None:
        answer = self.ask("search", words="(", pattern=True)
        self.assertEqual(answer.status_code, 400)
        self.assertIn("cannot be read", answer.json()["message"])
        self.assertEqual(self.ask("search", words="x" * 501).status_code, 422)
        self.assertEqual(self.ask("search", words="gate", formatting="odd").status_code, 422)
        self.client.force_login(self.reader)
        self.assertEqual(self.ask("search", words="gate").json()["count"], 3)
        self.assertEqual(self.ask("plans/replace", words="gate", instead="x").status_code, 403)
        self.client.force_login(self.stranger)
        self.assertEqual(self.ask("search", words="gate").status_code, 404)
