"""Headings made by hand, over HTTP: what everybody is shown, the rules that are kept, and the plan that marks."""

from __future__ import annotations

from typing import Any

from mellowspine.core.structure.outline import outline
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Report

from .test_api import Api

BY_HAND = """**1. Gates**

The gate was shut at dusk and stayed shut until the morning tide came in.

***1.1 North gate***

It has two leaves, both of oak, and a sluice in each of them.

***1.3 South gate***

It has one leaf and no sluice at all, which is a pity in a wet spring.

**2. Tides**

The tide comes in twice a day, and leaves again without being asked.
"""


class Looks(Api):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make(BY_HAND)

    def shown(self) -> list[list[Any]]:
        with rooms.room(self.report.key) as room:
            room.call(room.settled).result()
            assert room.derived
            return room.derived.view["looks"].value

    def plan(self, looks: list[dict[str, Any]], person=None, **more: Any):
        return self.ask(
            person or self.owner, "post", f"reports/{self.report.key}/plans/mark-looks", {"looks": looks, **more}
        )

    def keep(self, *rules: dict[str, Any], person=None):
        return self.ask(person or self.owner, "put", f"reports/{self.report.key}/look-rules", {"rules": list(rules)})

    def test_looks_are_shown_to_everybody_with_their_reasons(self) -> None:
        looks = self.shown()
        self.assertEqual([(name, style, len(members), why) for _, name, style, members, why, *_ in looks],
                         [("bold, a number in front", "heading-1", 2, "numbers of one figure, bold"),
                          ("bold, italic, a number of 2 figures in front", "heading-2", 2, "numbers of 2 figures, bold, italic")])  # fmt: skip

    def test_the_plan_says_what_it_will_do_first(self) -> None:
        looks = [{"style": style, "members": list(members)} for _, _, style, members, *_ in self.shown()]
        looks[0]["members"].append("gone")
        found = self.plan(looks, show=True).json()
        self.assertEqual((found["marked"], found["gone"], found["typed"], found["scheme"]), (4, 1, 4, "decimal"))
        self.assertEqual([(one["typed"], one["made"]) for one in found["differ"]], [("1.3", "1.2")])
        cut = [step["words"] for step in found["plan"] if step["step"] == "cut"]
        self.assertEqual(cut, ["1. ", "1.1 ", "1.3 ", "2. "])
        kept = self.plan(looks, numbers=False).json()
        self.assertEqual((kept["scheme"], kept["differ"]), (None, []))
        self.assertNotIn("cut", [step["step"] for step in kept["plan"]])

    def test_rules_are_kept_for_all_who_write(self) -> None:
        rule = {"name": "bold", "style": "heading-3", "wants": {"bold": True}}
        self.assertEqual(self.keep(rule).status_code, 204)
        answer = self.ask(self.editor, "get", f"reports/{self.report.key}/look-rules").json()
        self.assertEqual(answer["rules"], [rule])
        # Proposals ask for more, and keep what is theirs.
        key, name, style, members, _, _, _, left, fault = self.shown()[-1]
        self.assertEqual((key, name, style, members, fault), ("rule-0", "bold", "heading-3", (), ""))
        self.assertEqual([count for _, count in left], [2, 2])
        self.keep({"name": "all", "style": "heading-1", "wants": {"size": 11}})
        self.assertIn("would take all 8 paragraphs", self.shown()[-1][-1])
        self.keep()
        self.assertEqual(len(self.shown()), 2)

    def test_a_rule_whose_style_is_deleted_leaves_its_paragraphs_as_they_are(self) -> None:
        styles = f"reports/{self.report.key}/styles"
        made = self.ask(self.owner, "post", styles, {"name": "Aside", "like": "body"}).json()["id"]
        wants = {"bold": True, "italic": True, "number": 2, "short": True}
        self.keep({"name": "asides", "style": made, "wants": wants})

        def shown() -> list[tuple[str | None, int]]:
            return [(style, len(members)) for _, _, style, members, *_ in self.shown()]

        self.assertEqual(shown(), [("heading-1", 2), (made, 2)])
        self.ask(self.owner, "delete", f"{styles}/{made}?instead=body")
        self.assertEqual(shown(), [("heading-1", 2), (None, 2)])

    def test_what_is_set_aside_is_not_proposed_any_more(self) -> None:
        gate = self.shown()[1][3][0]
        aside = {"findings": [f"by-hand {gate}"], "reason": "a poem"}
        self.ask(self.owner, "post", f"reports/{self.report.key}/findings/aside", aside)
        self.assertEqual([len(one[3]) for one in self.shown()], [2, 1])

    def test_bad_requests_are_told_why_and_change_nothing(self) -> None:
        for rules, why in (
            ([{"name": "a", "style": "heading-1", "wants": {}}], "asks for nothing"),
            ([{"name": "a", "style": "gone", "wants": {"bold": True}}], "not in the report"),
            ([{"name": n, "style": None, "wants": {"bold": True}} for n in "ab"], "ask for the same"),
            ([{"name": "a", "style": None, "wants": {"size": "big"}}], "1 to 400 points"),
        ):  # fmt: skip
            answer = self.keep(*rules)
            self.assertEqual(answer.status_code, 400)
            self.assertIn(why, answer.json()["message"])
        self.assertEqual(Report.objects.get(pk=self.report.pk).look_rules, [])
        self.assertEqual(self.plan([{"style": "gone", "members": []}]).status_code, 400)
        self.assertEqual(self.plan([], self.reader).status_code, 403)
        self.assertEqual(self.keep(person=self.reader).status_code, 403)
        self.assertEqual(self.plan([], self.stranger).status_code, 404)
        self.assertEqual(self.keep(person=self.stranger).status_code, 404)

    def test_contents_and_rows_are_exchanged_in_the_same_plan(self) -> None:
        self.report = self.make("**Contents**\n\nGates …… 2\n\nTides …… 3\n\n" + BY_HAND)
        looks = [{"style": style, "members": list(members)} for _, _, style, members, *_ in self.shown()]
        steps = self.plan(looks, contents=True, rows=True).json()["plan"]
        self.assertEqual([step["blocks"][0]["tag"] for step in steps if step["step"] == "insert"], ["placedTable"])
        (removed,) = [step for step in steps if step["step"] == "remove"]
        self.assertEqual(list(removed["reads"].values()), ["Contents", "Gates …… 2", "Tides …… 3"])
        with rooms.room(self.report.key) as room:
            self.assertEqual(outline(room.call(room.report).result()), ())
            assert room.derived
            self.assertEqual(
                {name: len(ids) for name, ids in room.derived.view["leftovers"].value._asdict().items()},
                {"contents": 1, "rows": 0},
            )
