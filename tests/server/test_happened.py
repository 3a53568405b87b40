"""What happened in a report since somebody was there, over HTTP; removed sections and kept words come back."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.http import HttpResponse
from django.utils import timezone
from pycrdt import Doc, XmlText

from mellowspine.core.report.blocks import Paragraph, Run
from mellowspine.core.report.elements import read_block
from mellowspine.core.report.plan import Insert, carry_out, element_from_json
from mellowspine.server.api.rooms import report_of
from mellowspine.server.rooms.document import put_block, text_of
from mellowspine.server.rooms.models import KeptWords, Touch, Update
from mellowspine.server.rooms.past import blocks_at
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.rooms.text import Text
from mellowspine.server.shelf.models import Membership
from mellowspine.server.shelf.visits import AWAY, last_here, note_here

from .base import ServerCase

TEXT = "# Access\n\nThe gate.\n\n## By sea\n\nBy boat.\n\n# Consents\n\nAll of them.\n\n## Others\n\nNone.\n"


class HappenedCase(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make(TEXT)
        for person, name in ((self.owner, "Ines"), (self.editor, "Tobias")):
            person.first_name = name
            person.save()
        Membership.objects.filter(report=self.report).update(here_at=timezone.now() - 2 * AWAY)
        self.report.made_at -= 3 * AWAY
        self.report.save(update_fields=["made_at"])
        Update.objects.filter(report=self.report).update(at=self.report.made_at)
        self.room = self.enterContext(rooms.room(self.report.key))
        self.copies = {person: self.copy() for person in (self.owner, self.editor)}
        self.client.force_login(self.reader)

    def copy(self) -> Doc[Any]:
        made: Doc[Any] = Doc()
        for data in Update.objects.filter(report=self.report).values_list("data", flat=True):
            made.apply_update(bytes(data))
        return made

    def send(self, person: User) -> None:
        document = self.copies[person]
        known = self.room.call(self.room.state).result()
        self.room.call(self.room.receive, document.get_update(known), person).result()
        self.room.call(self.room.settled).result()

    def hear(self, person: User) -> None:
        document = self.copies[person]
        document.apply_update(self.room.call(self.room.missing, document.get_state()).result())

    def find(self, person: User, words: str) -> int:
        return next(
            index
            for index, child in enumerate(text_of(self.copies[person]).children)
            if words in "".join(str(one) for one in child.children if isinstance(one, XmlText))
        )

    def write(self, person: User, words: str, more: str) -> None:
        text = text_of(self.copies[person]).children[self.find(person, words)].children[0]
        assert isinstance(text, XmlText)
        text.insert(len(str(text).encode()), more)

    def remove(self, person: User, first: str, last: str) -> None:
        children = text_of(self.copies[person]).children
        start, end = self.find(person, first), self.find(person, last)
        with self.copies[person].transaction():
            for index in reversed(range(start, end + 1)):
                del children[index]

    def get(self, path: str, **sent: Any) -> Any:
        answer = self.client.get(f"/api/reports/{self.report.key}/{path}", sent)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def post(self, path: str, **sent: Any) -> HttpResponse:
        return self.client.post(f"/api/reports/{self.report.key}/{path}", sent, content_type="application/json")

    def said(self, **sent: Any) -> list[str]:
        return [one["text"] for one in self.get("happened", **sent)["happened"]]

    def blocks(self) -> list[str]:
        return [getattr(block, "text", "") for block in report_of(self.report.key).blocks]

    def block(self, words: str) -> str:
        return next(block.id for block in report_of(self.report.key).blocks if getattr(block, "text", "") == words)

    def carry_out(self, person: User, plan: list[dict[str, Any]]) -> None:
        """As a browser does: insertions alone."""
        self.hear(person)
        text = text_of(self.copies[person])
        for step in plan:
            self.assertEqual(step["step"], "insert")
            at = self.ids(text).index(step["after"]) + 1 if step["after"] else 0
            for offset, data in enumerate(step["blocks"]):
                element = element_from_json(data)
                put_block(text, read_block(element, ""), at + offset)
        self.send(person)

    def ids(self, text: Any) -> list[str]:
        return [str(one.attributes.get("id")) for one in text.children]


class Happened(HappenedCase):
    def test_what_others_did_since_somebody_was_last_here(self) -> None:
        self.assertEqual(self.said(), [])
        self.write(self.editor, "Access", " and ways in")
        self.write(self.editor, "By boat", " And by kite.")
        self.send(self.editor)
        self.hear(self.owner)
        self.remove(self.owner, "Consents", "None.")
        self.send(self.owner)
        self.assertEqual(
            self.said(),
            [
                "Tobias renamed “Access and ways in”, which was “Access”.",
                "Tobias wrote 3 words in “By sea”.",
                "Ines removed “Consents” from the top level, with 1 section under it.",
            ],
        )
        found = self.get("happened")["happened"]
        self.assertEqual([one["by"] for one in found], [[self.editor.pk], [self.editor.pk], [self.owner.pk]])
        self.assertEqual([one["there"] for one in found], [True, True, False])
        self.assertTrue(all(one["at"] for one in found))
        # Nothing is new to somebody who asks since now; nor does one's own work count as others'.
        self.assertEqual(self.said(since=timezone.now().isoformat()), [])
        Update.objects.filter(report=self.report, person=self.owner, at__gt=self.report.made_at).exclude(
            at=Update.objects.filter(report=self.report).earliest("pk").at
        ).update(person=self.editor)
        self.client.force_login(self.editor)
        self.assertEqual(self.said(but_mine=True), [])
        self.assertEqual(len(self.said()), 3)

    def test_a_section_with_words_is_added_and_another_moved(self) -> None:
        text = text_of(self.copies[self.owner])
        put_block(text, Paragraph("new1", "heading-1", (Run("Costs"),)), 0)
        put_block(text, Paragraph("new2", "body", (Run("High."),)), 1)
        self.send(self.owner)
        self.hear(self.editor)
        text = text_of(self.copies[self.editor])
        blocks = [
            one for one in report_of(self.report.key).blocks if getattr(one, "text", "") in ("By sea", "By boat.")
        ]
        self.remove(self.editor, "By sea", "By boat")
        for block in blocks:
            put_block(text, block, len(text.children))
        self.send(self.editor)
        self.assertEqual(
            self.said(),
            ["Ines added “Costs” to the top level.", "Tobias moved “By sea” from “Access” to “Consents”."],
        )

    def test_what_stays_as_it_was_is_the_very_same_and_the_rest_is_as_it_was(self) -> None:
        before = report_of(self.report.key).blocks
        at = timezone.now()
        text = text_of(self.copies[self.editor])
        words, style = self.find(self.editor, "By boat"), self.find(self.editor, "Others")
        with self.copies[self.editor].transaction():
            text.children[words].children[0].format(0, 2, {"bold": {"off": False}})  # type: ignore[union-attr]
            text.children[style].attributes["style"] = "heading-1"  # type: ignore[union-attr]
        self.send(self.editor)
        now = report_of(self.report.key).blocks
        found = blocks_at(self.report, at, now)
        self.assertEqual([*found], [*before])
        same = [place for place, (then, block) in enumerate(zip(found, now, strict=True)) if then is block]
        self.assertEqual(same, [place for place in range(len(now)) if place not in (words, style)])

    def test_who_is_here_for_the_first_time_is_told_of_nothing(self) -> None:
        Membership.objects.filter(report=self.report).update(here_at=None)
        self.write(self.editor, "By boat", " And by kite.")
        self.send(self.editor)
        self.assertEqual(self.get("happened")["since"], None)
        self.assertEqual(self.said(), [])
        # Before it was made there was nothing.
        self.assertEqual(self.said(since="2001-01-01T00:00:00Z"), ["Tobias wrote 3 words in “By sea”."])

    def test_a_visit_begins_where_somebody_was_away(self) -> None:
        row = Membership.objects.get(report=self.report, person=self.reader)
        before = row.here_at
        self.assertEqual(last_here(row), before)
        note_here(self.report, [self.reader.pk])
        row.refresh_from_db()
        self.assertEqual(last_here(row), before)
        note_here(self.report, [self.reader.pk])
        row.refresh_from_db()
        self.assertEqual(last_here(row), before)

    def test_it_is_the_same_when_the_log_has_been_merged(self) -> None:
        self.write(self.editor, "Access", " and ways in")
        self.send(self.editor)
        self.write(self.editor, "By boat", " And by kite.")
        self.send(self.editor)
        before = self.said()
        text = Text(self.report)
        text._logged = 10_000
        text.compact()
        text.close()
        self.assertEqual(Update.objects.filter(report=self.report).count(), 2)
        self.assertEqual(self.said(), before)

    def test_who_wrote_in_a_block_is_noted_once_a_minute(self) -> None:
        for _ in range(3):
            self.write(self.editor, "By boat", " More.")
            self.send(self.editor)
        self.assertEqual(Touch.objects.filter(report=self.report, person=self.editor).count(), 1)

    def test_who_may(self) -> None:
        self.client.force_login(self.stranger)
        for path in ("happened", "removed/a"):
            self.assertEqual(self.client.get(f"/api/reports/{self.report.key}/{path}").status_code, 404)
        asked = {"plans/back": {"section": "a"}, "plans/kept": {"rows": [1]}, "kept/settle": {"rows": [1]}}
        for person, status in ((self.reader, 403), (self.stranger, 404)):
            self.client.force_login(person)
            for path, sent in asked.items():
                self.assertEqual(self.post(path, **sent).status_code, status)


class Back(HappenedCase):
    def test_a_removed_section_is_read_and_put_back(self) -> None:
        section = self.block("By sea")
        before = self.blocks()
        self.remove(self.owner, "Access", "By boat")
        self.send(self.owner)
        self.assertEqual(self.get(f"removed/{section}")["paragraphs"], [[2, "By sea"], [0, "By boat."]])
        self.client.force_login(self.editor)
        # What went with the section around it comes back alone, or with that.
        plan = self.post("plans/back", section=section, after=self.block("Consents")).json()
        self.assertEqual(plan["first"], section)
        self.assertEqual(len(plan["plan"][0]["blocks"]), 2)
        (head,) = (one["id"] for one in self.get("happened")["happened"] if "Access" in one["text"])
        self.carry_out(self.editor, self.post("plans/back", section=head).json()["plan"])
        self.assertEqual(self.blocks(), before)
        answer = self.post("plans/back", section=head)
        self.assertEqual(answer.status_code, 400)
        self.assertIn("in the text again", answer.json()["message"])
        self.assertEqual(self.post("plans/back", section=section, after="nowhere").status_code, 400)

    def lose(self) -> dict[str, Any]:
        self.remove(self.owner, "By sea", "By boat")
        self.write(self.editor, "By boat", " Or by kite.")
        self.send(self.owner)
        self.send(self.editor)
        self.room.call(self.room.settled).result()
        (kept,) = self.room.call(lambda: self.room._shown["kept"].value).result()
        self.assertEqual(kept.text, "Tobias wrote 3 words in “By sea”, which Ines removed.")
        self.client.force_login(self.owner)
        return {"rows": [*kept.rows]}

    def test_kept_words_are_put_back_with_their_section(self) -> None:
        before = self.blocks()
        rows = self.lose()
        findings = self.room.call(lambda: self.room._shown["findings"].value).result()
        self.assertIn("kept-words", [one.kind for one in findings])
        plan = self.post("plans/kept", **rows).json()["plan"]
        self.carry_out(self.owner, plan)
        self.assertEqual(self.blocks(), [words + " Or by kite." * (words == "By boat.") for words in before])
        self.room.call(self.room.settled).result()
        self.assertEqual(self.room.call(lambda: self.room._shown["kept"].value).result(), ())
        # Whoever wrote them did, and whoever put them back.
        self.assertEqual(
            self.said(since=self.report.made_at.isoformat()), ["Ines and Tobias wrote 3 words in “By sea”."]
        )
        answer = self.post("plans/kept", **rows)
        self.assertEqual(answer.status_code, 400)
        self.assertIn("dealt with already", answer.json()["message"])

    def test_kept_words_are_put_in_elsewhere_and_settled(self) -> None:
        rows = self.lose()
        found = self.post("plans/kept", **rows, after=self.block("None.")).json()
        self.carry_out(self.owner, found["plan"])
        self.assertEqual(self.blocks()[-1], " Or by kite.")
        self.assertEqual(self.post("kept/settle", **rows).status_code, 204)
        self.room.call(self.room.settled).result()
        self.assertEqual(self.room.call(lambda: self.room._shown["kept"].value).result(), ())
        self.post("kept/settle", **rows, settled=False)
        self.assertFalse(KeptWords.objects.get().settled_at)

    def test_words_of_other_reports_are_not_reached(self) -> None:
        rows = self.lose()
        other = self.make("# Other\n")
        for path in ("plans/kept", "kept/settle"):
            self.client.post(f"/api/reports/{other.key}/{path}", rows, content_type="application/json")
        self.assertIsNone(KeptWords.objects.get().settled_at)

    def test_kept_words_are_in_the_plan_as_words_alone(self) -> None:
        """Formatting that cannot be used costs its place alone."""
        rows = self.lose()
        KeptWords.objects.update(puts=[[8, 0, [[" Or <b>kite</b>.", {"bold": {"off": False}, "odd": {"a": 1}}]]]])
        found = self.post("plans/kept", **rows, after=self.block("None.")).json()
        report = report_of(self.report.key)
        block = read_block(element_from_json(found["plan"][0]["blocks"][0]), "")
        after = carry_out((Insert((block,), report.blocks[-1].id),), report).blocks[-1]
        assert isinstance(after, Paragraph)
        self.assertEqual(after.text, " Or <b>kite</b>.")
        self.assertTrue(after.runs[0].marks.bold)
