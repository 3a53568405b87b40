"""What people do to tables over HTTP, as everybody in the room sees it: recipes, forms, own words, catching up, taking back."""

from __future__ import annotations

from typing import Any
from unittest import mock

from django.contrib.auth.models import User
from django.db import DatabaseError
from django.db.models import QuerySet
from pycrdt import XmlElement

from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.report.numbering import SCHEMES, numbering_to_json
from mellowspine.core.report.recipes import Recipe
from mellowspine.server.rooms.causes import Causes, Thing
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.followers.tables import TableShown
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.rooms.tables import Tables
from mellowspine.server.shelf.models import HeadingChange, IssuedTable, Report, TableForm

from .test_api import Api
from .updates import document_of

TEXT = """# One

Words.

## Two

More words.

#### Four *deep*

# Three

Last words.
"""


class TableCase(Api):
    """A report with a table, and a copy of its text in which things can be changed."""

    def setUp(self) -> None:
        super().setUp()
        self.report = self.make(TEXT)
        self.room = rooms.enter(self.report.key)
        self.copy = document_of(())
        self.copy.apply_update(self.room.call(self.room.missing, None).result())
        self.children = text_of(self.copy).children
        append_block(text_of(self.copy), PlacedTable("place", "t"))
        self.send()

    def send(self, person: User | None = None) -> None:
        self.room.call(self.room.receive, self.copy.get_update(), person or self.owner).result()
        self.table()

    def table(self, key: str = "t") -> TableShown:
        self.room.call(self.room.settled).result()
        return self.room.call(lambda: self.room.derived.view["tables"].value[key]).result()

    def lines(self) -> list[str]:
        return [line.text for line in self.table().lines]

    def kinds(self) -> list[tuple[str, ...]]:
        return [one[0] for one in self.table().differences]

    def source(self, text: str) -> str:
        report, _ = self.room.call(self.room.settled).result()
        return next(block.id for block in report.blocks if getattr(block, "text", "") == text)

    def post(self, path: str, data: Any = None, person: User | None = None, status: int = 200, table: str = "t") -> Any:
        found = self.ask(person or self.owner, "post", f"reports/{self.report.key}/tables/{table}/{path}", data or {})
        self.assertEqual(found.status_code, status, found.content)
        return found.json() if found.content else None

    def get(self, path: str, person: User | None = None) -> Any:
        found = self.ask(person or self.owner, "get", f"reports/{self.report.key}/tables/t/{path}")
        self.assertEqual(found.status_code, 200)
        return found.json()

    def retype(self, block: int, words: str, person: User | None = None) -> None:
        """Gives a block other words."""
        text = self.children[block].children[0]
        del text[0 : len(str(text))]
        text.insert(0, words)
        self.send(person)


class Recipes(TableCase):
    def test_a_setting_is_shown_first_and_kept_then(self) -> None:
        settings = [[["levels"], [1, 2, 4]], [["looks", "4", "size"], 8]]
        shown = self.post("preview", {"settings": settings}, self.editor)
        self.assertEqual([line[3] for line in shown["lines"]], ["One", "Two", "Four deep", "Three"])
        self.assertEqual((shown["pages"], len(shown["set"]), self.lines()), (1, 7, ["One", "Two", "Three"]))
        dashed = self.post("preview", {"settings": [[["leader"], "-"]]})
        self.assertIsNone(dashed["lines"], "all are as they were")
        self.assertIsNotNone(self.post("recipe", {"settings": settings}, self.editor)["change"])
        self.assertEqual(self.lines(), ["One", "Two", "Four deep", "Three"])
        recipe = self.table().recipe
        self.assertEqual((recipe.levels, recipe.looks[3].size), ((1, 2, 4), 8))
        self.assertEqual(self.kinds(), [])
        self.assertEqual(IssuedTable.objects.get().recipe["levels"], [1, 2, 4])

    def test_what_it_lists_newly_is_there_at_once_and_all_else_is_as_far_behind_as_it_was(self) -> None:
        self.retype(0, "First")
        self.post("recipe", {"settings": [[["levels"], [1, 4]]]})
        self.assertEqual((self.lines(), self.kinds()), (["One", "Four deep", "Three"], [("renamed",)]))

    def test_what_somebody_changes_step_by_step_is_one_change_and_is_taken_back_as_one(self) -> None:
        numbers = [
            self.post("recipe", {"settings": [[["looks", "1", "size"], size]]})["change"] for size in (12, 13, 14)
        ]
        self.assertEqual(len({*numbers}), 1)
        self.post("recipe", {"settings": [[["looks", "1", "size"], 15]]}, self.editor)
        self.assertEqual([one["who"] for one in self.get("history")], ["edit", "own"])
        self.post("take-back", {"change": self.get("history")[0]["id"]}, self.editor, 204)
        self.post("take-back", {"change": numbers[0]}, status=204)
        self.assertEqual(self.table().recipe.looks[0].size, 11)

    def test_two_people_who_change_different_settings_both_have_their_way(self) -> None:
        self.post("recipe", {"settings": [[["leader"], "-"]]})
        self.post("recipe", {"settings": [[["looks", "1", "size"], 14]]}, self.editor)
        recipe = self.table().recipe
        self.assertEqual((recipe.leader, recipe.looks[0].size), ("-", 14))

    def test_a_table_that_grows_to_further_pages_leaves_no_page_number_behind(self) -> None:
        self.children.insert(0, XmlElement("placedTable", {"id": "front", "table": "f", "ownPage": True}))
        self.send()
        self.assertEqual(self.table("f").differences, [])
        self.post("recipe", {"settings": [[["looks", level, "space_before"], 200.0] for level in "12"]}, table="f")
        self.post("recipe", {"settings": [[["looks", level, "space_after"], 200.0] for level in "12"]}, table="f")
        self.assertEqual((self.table("f").differences, self.table("f").pages), ([], 2))

    def test_what_cannot_be_used_is_refused_in_one_sentence(self) -> None:
        for settings, said in (
            ([[["leader"], "\N{OCTOPUS}"]], "has no character “🐙” to lead with; choose another one."),
            ([[["looks", "1", "indent"], 9000]], "choose 0 to 500 points"),
            ([[["levels"], []]], "choose at least one"),
            ([[["nothing"], 1]], "no setting “nothing”"),
        ):
            for way in ("recipe", "preview"):
                self.assertIn(said, self.post(way, {"settings": settings}, status=400)["message"])

    def test_settings_that_a_newer_version_kept_are_not_lost(self) -> None:
        rooms.leave(self.report.key)
        rooms.close()
        row = IssuedTable.objects.get()
        row.recipe |= {"version": 7, "glow": 3, "leader": "-", "columns": 9}
        row.save()
        self.room = rooms.enter(self.report.key)
        self.assertEqual(self.table().recipe.columns, 1)
        self.post("recipe", {"settings": [[["title"], "New"]]})
        kept = IssuedTable.objects.get().recipe
        self.assertEqual((kept["version"], kept["glow"], kept["leader"], kept["title"]), (7, 3, "-", "New"))

    def test_an_empty_table_says_why(self) -> None:
        self.post("recipe", {"settings": [[["levels"], [9]]]})
        self.assertEqual(self.table().why, "The text has no headings of level 9 yet; mark some, or list other levels.")
        self.post("recipe", {"settings": [[["section"], "gone"]]})
        self.assertIn("no longer in the text", self.table().why)


class Pasted(TableCase):
    def test_a_table_whose_key_several_reports_have_takes_from_none_of_them(self) -> None:
        """Files that are brought in call their tables by number."""
        for name, times in (("one", 1), ("two", 2)):
            for _ in range(times):
                IssuedTable.objects.create(report=self.make(TEXT), key=name, recipe={"leader": "-"})
        tables = Tables(self.report)
        tables.make_missing(dict.fromkeys(("one", "two"), ("contents", self.owner)))
        self.assertEqual(
            (tables.issued["one"].recipe.leader, tables.issued["two"].recipe.leader), ("-", Recipe().leader)
        )


class WhoDidIt(TableCase):
    def test_what_the_disk_did_not_take_is_stored_with_the_next(self) -> None:
        causes = Causes(self.report)
        before, now = [Thing("a", 1, "One")], [Thing("a", 1, "Other")]
        with (
            mock.patch.object(HeadingChange.objects, "bulk_create", side_effect=DatabaseError),
            self.assertRaises(DatabaseError),
        ):
            causes.note(before, now, {}, self.owner)
        causes.note(now, now, {}, self.owner)
        again = Causes(self.report).of("a", ("renamed",))
        self.assertEqual(again and again.who, "own")


class Forms(TableCase):
    def test_each_is_shown_as_a_picture_of_this_table(self) -> None:
        forms = self.get("forms", self.reader)
        self.assertGreaterEqual(len(forms), 8)
        for form in forms:
            words = " ".join(word[2] for word in form["words"])
            self.assertIn(
                "ONE" if form["key"] == "chapters" else "One" if form["key"] != "section" else "No headings", words
            )
        self.assertEqual([form["key"] for form in forms if form["at_hand"]], ["dots"])

    def test_a_form_is_chosen_without_losing_own_words(self) -> None:
        self.post("words", {"source": self.source("One"), "words": "Mine"})
        self.post("form", {"form": "links"})
        self.assertEqual((self.lines(), self.table().recipe.page_numbers), (["Mine", "Two", "Three"], "none"))
        self.assertEqual([form["key"] for form in self.get("forms") if form["at_hand"]], ["links"])
        self.assertIn("no such form", self.post("form", {"form": "curly"}, status=404)["message"])

    def test_a_form_of_the_report_goes_with_whoever_made_it_or_owns_that(self) -> None:
        for person in (self.editor, self.owner):
            self.post("forms", {"name": "Dashed"}, person, status=204)
        theirs, own = (TableForm.objects.get(person=person).key for person in (self.editor, self.owner))
        path = f"reports/{self.report.key}/forms"
        self.assertEqual(self.ask(self.editor, "delete", f"{path}/{own}").status_code, 403)
        self.assertEqual(self.ask(self.editor, "delete", f"{path}/{theirs}").status_code, 204)
        self.post("forms", {"name": "Dashed"}, self.editor, status=204)
        theirs = TableForm.objects.get(person=self.editor).key
        self.assertEqual(self.ask(self.owner, "delete", f"{path}/{theirs}").status_code, 204)

    def test_two_forms_of_one_name_become_one(self) -> None:
        for _ in range(2):
            TableForm.objects.create(person=self.owner, report=None, name="Mine", settings=[])
        self.post("forms", {"name": "Mine", "everywhere": True}, status=204)
        self.assertEqual(TableForm.objects.filter(name="Mine").count(), 1)

    def test_a_recipe_is_kept_as_a_form_for_this_report_or_for_all_of_ones_own(self) -> None:
        self.post("recipe", {"settings": [[["leader"], "-"], [["title"], "In it"]]})
        self.post("forms", {"name": "Dashed"}, status=204)
        self.post("forms", {"name": "Mine", "everywhere": True}, self.editor, status=204)
        other = self.make(TEXT)
        self.post("form", {"form": "links"})
        self.assertEqual([form["name"] for form in self.get("forms") if form["own"]], ["Dashed"])
        self.assertEqual([form["name"] for form in self.get("forms", self.editor) if form["own"]], ["Dashed", "Mine"])
        kept = TableForm.objects.get(name="Dashed")
        self.post("form", {"form": kept.key}, self.editor)
        self.assertEqual(self.table().recipe.leader, "-")
        self.assertEqual(self.ask(self.owner, "delete", f"reports/{other.key}/forms/{kept.key}").status_code, 204)
        self.assertTrue(TableForm.objects.filter(name="Dashed").exists(), "it is that of another report")
        self.assertEqual(self.ask(self.owner, "delete", f"reports/{self.report.key}/forms/{kept.key}").status_code, 204)
        self.assertFalse(TableForm.objects.filter(name="Dashed").exists())
        self.assertIn("1 to 80 characters", self.post("forms", {"name": " "}, status=400)["message"])


class CatchingUp(TableCase):
    def test_the_result_is_shown_before_and_taken_back_afterwards(self) -> None:
        self.retype(0, "First")
        self.retype(2, "Second")
        shown = self.post("result", {"scope": "chosen", "lines": [self.source("First")]}, self.reader)
        self.assertEqual([line[3] for line in shown["lines"]], ["First", "Two", "Three"])
        self.assertEqual(self.lines(), ["One", "Two", "Three"])
        change = self.post("catch-up", {"scope": "chosen", "lines": [self.source("First")]})["change"]
        self.assertEqual(self.lines(), ["First", "Two", "Three"])
        (done,) = self.get("history")
        self.assertEqual(
            (done["what"], done["who"], done["lines"]),
            ("Caught up chosen lines", "own", [[["renamed"], "One", "First"]]),
        )
        self.assertTrue(done["may_take_back"])
        self.post("take-back", {"change": change}, status=204)
        self.assertEqual((self.lines(), self.get("history")[0]["taken_back"]), (["One", "Two", "Three"], True))

    def test_what_the_disk_does_not_take_is_not_done(self) -> None:
        self.retype(0, "First")
        with (
            mock.patch.object(QuerySet, "update", side_effect=DatabaseError("disk I/O error")),
            self.assertLogs(),
        ):
            refused = self.post("catch-up", {"scope": "everything"}, status=503)
        self.assertIn("cannot be saved just now, and nothing has changed", refused["message"])
        self.assertEqual(
            (self.lines(), self.kinds(), self.get("history")), (["One", "Two", "Three"], [("renamed",)], [])
        )
        self.post("catch-up", {"scope": "everything"})
        self.assertEqual(self.lines(), ["First", "Two", "Three"])

    def test_two_people_at_once_make_one_result_and_it_is_remembered_once(self) -> None:
        self.retype(0, "First")
        numbers = [
            self.post("catch-up", {"scope": "everything"}, person)["change"] for person in (self.owner, self.editor)
        ]
        self.assertEqual((numbers[1], len(self.get("history"))), (None, 1))

    def test_only_who_did_it_takes_it_back_and_only_while_nobody_changed_the_table_since(self) -> None:
        self.retype(0, "First")
        change = self.post("catch-up", {"scope": "everything"})["change"]
        self.assertIn("Only who changed", self.post("take-back", {"change": change}, self.editor, 409)["message"])
        self.post("recipe", {"settings": [[["leader"], "-"]]}, self.editor)
        self.assertEqual(
            self.post("take-back", {"change": change}, status=409)["message"],
            "edit has changed the table since; what was done before that stays.",
        )

    def test_page_numbers_alone_keep_words_and_lines_that_are_gone(self) -> None:
        self.retype(0, "First")
        del self.children[5]  # Three
        self.send()
        self.post("catch-up", {"scope": "pages"})
        self.assertEqual((self.lines(), self.kinds()), (["One", "Two", "Three"], [("renamed",), ("gone",)]))

    def test_a_table_keeps_itself_level_whoever_writes_and_nobody_is_named_for_it(self) -> None:
        self.post("keeps-level", {"keeps_level": True}, status=204)
        self.retype(0, "First", self.editor)
        self.assertEqual((self.lines(), self.kinds(), self.get("history")), (["First", "Two", "Three"], [], []))
        self.assertEqual((self.table().issuance.keeps_level, self.table().issuance.by), (True, None))
        self.post("keeps-level", {"keeps_level": False}, status=204)
        self.retype(0, "Again")
        self.assertEqual(self.kinds(), [("renamed",)])

    def test_all_tables_of_the_report_in_one_press(self) -> None:
        append_block(text_of(self.copy), PlacedTable("place-2", "t2"))
        self.send()
        self.retype(0, "First")
        found = self.ask(self.editor, "post", f"reports/{self.report.key}/catch-up", {}).json()
        self.assertEqual(sorted(found["changes"]), ["t", "t2"])
        self.assertEqual((self.kinds(), self.table("t2").differences), ([], []))

    def test_renumbering_that_follows_is_said_once_with_who_did_it(self) -> None:
        row = Report.objects.get(pk=self.report.pk)
        row.numbering = numbering_to_json(SCHEMES["decimal"])
        row.save()
        self.room.renew_soon()
        self.post("catch-up", {"scope": "everything"})
        del self.children[0]
        self.send(self.editor)
        self.assertIn("count one less, since 1 “One” was removed by edit.", str(self.table().renumbered))


class OwnWords(TableCase):
    def test_words_are_kept_through_everything_and_ask_when_the_heading_changes(self) -> None:
        source = self.source("One")
        self.post("words", {"source": source, "words": "  The\n first "})
        self.assertEqual((self.lines()[0], self.kinds()), ("The first", []))
        self.retype(0, "One and only", self.editor)
        self.assertEqual(self.kinds(), [])
        ((_, words, then, now),) = self.table().own
        self.assertEqual((words, then, now), ("The first", "One", "One and only"))
        self.post("catch-up", {"scope": "everything"})
        self.assertEqual(self.lines()[0], "The first")
        self.post("words", {"source": source, "words": "The first"})
        self.assertFalse(self.table().own[0].asks)
        self.post("heading-words", {"source": source})
        self.assertEqual((self.lines()[0], self.table().own), ("One and only", ()))

    def test_a_line_is_left_out_and_put_in_again(self) -> None:
        source = self.source("Two")
        change = self.post("words", {"source": source, "words": None})["change"]
        self.assertEqual((self.lines(), self.kinds()), (["One", "Three"], []))
        self.post("heading-words", {"source": source})
        self.assertEqual(self.lines(), ["One", "Two", "Three"])
        self.assertNotEqual(self.post("take-back", {"change": change}, status=409), None)

    def test_of_a_heading_that_is_gone_they_come_back_with_it(self) -> None:
        source = self.source("One")
        self.post("words", {"source": source, "words": "Mine"})
        style = self.children[0].attributes["style"]
        self.children[0].attributes["style"] = "body"
        self.send()
        self.post("catch-up", {"scope": "everything"})
        self.assertEqual((self.lines(), self.table().own[0].now), (["Two", "Three"], None))
        self.children[0].attributes["style"] = style
        self.send()
        self.post("catch-up", {"scope": "everything"})
        self.assertEqual(self.lines()[0], "Mine")

    def test_no_words_and_too_many_are_refused(self) -> None:
        source = self.source("One")
        self.assertIn("leave it out", self.post("words", {"source": source, "words": " \n"}, status=400)["message"])
        self.assertIn("shorten it", self.post("words", {"source": source, "words": "x" * 1001}, status=400)["message"])
        self.assertIsNone(self.post("words", {"source": "no where", "words": "x"})["change"])


class ComesWith(TableCase):
    def test_a_table_that_is_taken_out_and_put_back_is_as_it_was(self) -> None:
        self.post("words", {"source": self.source("One"), "words": "Mine"})
        self.post("recipe", {"settings": [[["leader"], "-"]]})
        del self.children[len(self.children) - 1]
        self.send_without_table()
        self.assertIn("no longer in the text", self.post("catch-up", {"scope": "everything"}, status=404)["message"])
        append_block(text_of(self.copy), PlacedTable("place", "t"))
        self.send()
        self.assertEqual((self.lines()[0], self.table().recipe.leader, len(self.get("history"))), ("Mine", "-", 2))

    def send_without_table(self) -> None:
        self.room.call(self.room.receive, self.copy.get_update(), self.owner).result()
        self.room.call(self.room.settled).result()

    def test_a_copy_has_recipe_own_words_and_history_and_is_a_table_of_its_own(self) -> None:
        self.post("words", {"source": self.source("One"), "words": "Mine"})
        append_block(text_of(self.copy), PlacedTable("place-2", "t"))
        self.send()
        (other,) = {*self.room.call(lambda: self.room.derived.view["tables"].value).result()} - {"t"}
        self.assertEqual([line.text for line in self.table(other).lines], ["Mine", "Two", "Three"])
        self.assertEqual(
            len(self.ask(self.owner, "get", f"reports/{self.report.key}/tables/{other}/history").json()), 1
        )
        self.post("heading-words", {"source": self.source("One")})
        self.assertEqual(self.table(other).lines[0].text, "Mine")

    def test_pasted_into_another_report_it_has_its_recipe_for_those_who_may_see_the_first(self) -> None:
        self.post("recipe", {"settings": [[["leader"], "-"]]})
        for person, leader in ((self.owner, "-"), (self.stranger, ".")):
            report = (
                self.make(TEXT)
                if person is self.owner
                else self.ask(person, "post", "reports", {"title": "Other"}).json()
            )
            key = report.key if isinstance(report, Report) else report["key"]
            room = rooms.enter(key)
            copy = document_of(())
            copy.apply_update(room.call(room.missing, None).result())
            append_block(text_of(copy), PlacedTable("place", "t"))
            room.call(room.receive, copy.get_update(), person).result()
            room.call(room.settled).result()
            self.assertEqual(IssuedTable.objects.get(report__key=key).recipe["leader"], leader)
            rooms.leave(key)


class WhoMay(TableCase):
    CHANGES = (
        ("catch-up", {"scope": "everything"}), ("recipe", {"settings": []}), ("form", {"form": "dots"}), ("forms", {"name": "x"}),
        ("words", {"source": "x", "words": "y"}), ("heading-words", {"source": "x"}), ("keeps-level", {"keeps_level": True}),
        ("take-back", {"change": 1}),
    )  # fmt: skip

    def test_readers_look_and_change_nothing_and_strangers_find_no_report(self) -> None:
        for path, data in self.CHANGES:
            self.assertIn("You can read", self.post(path, data, self.reader, 403)["message"])
            self.post(path, data, self.stranger, 404)
        for path, data in (("preview", {"settings": []}), ("result", {"scope": "everything"})):
            self.post(path, data, self.reader)
            self.post(path, data, self.stranger, 404)
        for path in ("forms", "history"):
            self.get(path, self.reader)
            found = self.ask(self.stranger, "get", f"reports/{self.report.key}/tables/t/{path}")
            self.assertEqual(found.status_code, 404)
        self.assertEqual(self.ask(self.reader, "post", f"reports/{self.report.key}/catch-up", {}).status_code, 403)
