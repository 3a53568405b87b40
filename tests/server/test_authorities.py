"""Authorities and the index over HTTP and in the open room: made, changed, found, and told to everybody."""

from __future__ import annotations

from typing import Any

from mellowspine.core.report.blocks import Citation, Entry, Indexed, Marks, Paragraph, PlacedTable, Run
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Report

from .test_api import Api
from .test_room import RoomCase

CITING = "# Law\n\nAs Vane v. Ash says 😀, and O’Neil v Port (1911).\n\nVane v. Ash again; see ISO 2145.\n"


class OverHttp(Api):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make(CITING)

    def do(self, method: str, path: str, data: Any = None, person: Any = None) -> Any:
        return self.ask(person or self.owner, method, f"reports/{self.report.key}/{path}", data)

    def shown(self) -> dict[str, Any]:
        return self.ask(self.owner, "get", f"reports/{self.report.key}").json()

    def test_made_once_changed_and_forgotten(self) -> None:
        given = {"category": "cases", "long": " Vane  v. Ash ", "short": "Vane"}
        made, again = (
            self.do("post", "authorities", [given], person).json()[0]["id"] for person in (self.owner, self.editor)
        )
        self.assertEqual(made, again)
        self.assertEqual(self.do("patch", f"authorities/{made}", {"category": "other"}, self.editor).status_code, 204)
        self.assertEqual(
            self.shown()["authorities"], [{"id": made, "category": "other", "long": "Vane v. Ash", "short": "Vane"}]
        )
        self.assertEqual(self.do("delete", f"authorities/{made}").status_code, 204)
        self.assertEqual(self.shown()["authorities"], [])

    def test_taken_back_only_while_it_still_reads_so(self) -> None:
        id = self.do("post", "authorities", [{"category": "cases", "long": "Vane v. Ash"}]).json()[0]["id"]
        back = {"long": "Vane v. Ash", "was": {"long": " Vane and  Ash"}}
        self.assertEqual(self.do("patch", f"authorities/{id}", {"long": "Vane and Ash"}).status_code, 204)
        # What somebody else changes besides does not stand in the way.
        self.do("patch", f"authorities/{id}", {"category": "other"}, self.editor)
        self.assertEqual(self.do("patch", f"authorities/{id}", back).status_code, 204)
        self.assertEqual(
            self.shown()["authorities"], [{"id": id, "category": "other", "long": "Vane v. Ash", "short": ""}]
        )
        self.do("patch", f"authorities/{id}", {"long": "In re Vane"}, self.editor)
        refused = self.do("patch", f"authorities/{id}", back)
        self.assertEqual(refused.status_code, 400)
        self.assertIn("Somebody has changed this authority since", refused.json()["message"])
        self.assertEqual(self.shown()["authorities"][0]["long"], "In re Vane")

    def test_categories_of_ones_own_and_what_was_in_them(self) -> None:
        map_ = self.do("post", "categories", {"name": "Maps"}).json()["id"]
        self.do("post", "authorities", [{"category": map_, "long": "Chart 12"}])
        self.assertEqual([one["name"] for one in self.shown()["categories"]][-2:], ["Maps", "Other authorities"])
        self.assertEqual(self.do("delete", f"categories/{map_}").status_code, 204)
        self.assertEqual(self.shown()["authorities"][0]["category"], "other")
        self.assertNotIn("Maps", [one["name"] for one in self.shown()["categories"]])

    def test_what_cannot_be_is_refused_in_a_sentence_and_changes_nothing(self) -> None:
        before = self.shown()
        for method, path, data in (
            ("post", "authorities", [{"long": "Ash"}, {"long": "  "}]),
            ("post", "authorities", [{"long": "x" * 501}]),
            ("post", "categories", {"name": "cases"}),
            ("delete", "categories/other", None),
            ("put", "citation-rules", [{"words": "#"}]),
            ("put", "sees", {"terms": ["a"], "to": ["a"]}),
            ("put", "sees", {"terms": [], "to": ["a"]}),
        ):
            with self.subTest(path=path, data=data):
                answer = self.do(method, path, data)
                self.assertEqual(answer.status_code, 400)
                self.assertRegex(answer.json()["message"], r"^[A-Z“].*\.$")
        self.assertEqual(self.shown(), before)

    def test_who_may(self) -> None:
        paths = [
            ("post", "authorities", [{"long": "Vane"}]), ("patch", "authorities/x", {"long": "Vane"}), ("delete", "authorities/x", None),
            ("post", "categories", {"name": "Maps"}), ("delete", "categories/cases", None), ("put", "citation-rules", []),
            ("put", "sees", {"terms": ["a"], "to": ["b"]}), ("post", "sees/forget", {"terms": ["a"], "to": ["b"]}),
        ]  # fmt: skip
        for method, path, data in paths:
            with self.subTest(path):
                self.assertEqual(self.do(method, path, data, self.reader).status_code, 403)
                self.assertEqual(self.do(method, path, data, self.stranger).status_code, 404)
        for method, path, data in (("post", "find", {"long": "Vane"}), ("get", "unmarked", None)):
            self.assertEqual(self.do(method, path, data, self.reader).status_code, 200)
            self.assertEqual(self.do(method, path, data, self.stranger).status_code, 404)

    def test_found_with_the_words_around_counted_as_browsers_count(self) -> None:
        found = self.do("post", "find", {"long": "O'Neil v Port"}).json()
        self.assertEqual(
            [(one["words"], one["before"], one["how"]) for one in found],
            [("O’Neil v Port", "As Vane v. Ash says 😀, and ", "long")],
        )
        self.assertEqual(found[0]["start"], len("As Vane v. Ash says , and ") + 2)
        self.assertEqual(len(self.do("post", "find", {"long": "Vane v. Ash"}).json()), 2)

    def test_what_looks_cited_and_ways_to_cite_of_ones_own(self) -> None:
        words = lambda: [one["words"] for one in self.do("get", "unmarked").json()]  # noqa: E731
        self.assertEqual(words(), ["Vane v. Ash", "O’Neil v Port (1911)", "ISO 2145"])
        self.assertEqual(self.do("put", "citation-rules", [{"words": "says *"}]).status_code, 204)
        self.do("post", "authorities", [{"long": "ISO 2145"}])
        self.assertNotIn("ISO 2145", words())

    def test_several_at_once_the_same_words_being_one(self) -> None:
        given = [
            {"long": "Vane v. Ash", "category": "cases"},
            {"long": "ISO 2145"},
            {"long": "Vane  v. Ash", "category": "cases"},
        ]
        first, other, again = (one["id"] for one in self.do("post", "authorities", given).json())
        self.assertEqual((first, len({first, other})), (again, 2))
        self.assertEqual([one["long"] for one in self.shown()["authorities"]], ["Vane v. Ash", "ISO 2145"])

    def test_hints_of_the_index(self) -> None:
        see = {"terms": ["swell"], "to": ["waves", "height"], "also": True}
        for _ in range(2):
            self.assertEqual(self.do("put", "sees", see).status_code, 204)
        self.assertEqual(self.shown()["sees"], [see])
        self.do("post", "sees/forget", see)
        self.assertEqual(self.shown()["sees"], [])


class InTheRoom(RoomCase):
    def cite(self, id: str, words: str, of: str = "v") -> None:
        append_block(text_of(self.copy), Paragraph(id, "body", (Run(words, Marks(citation=Citation(f"c-{id}", of))),)))

    def test_a_table_of_authorities_is_behind_and_caught_up(self) -> None:
        Report.objects.filter(pk=self.report.pk).update(authorities=[["v", "cases", "Vane v. Ash", ""]])
        self.room.renew_soon()
        append_block(text_of(self.copy), PlacedTable("b-t1", "t1", kind="authorities"))
        self.cite("a", "Vane v. Ash")
        self.send()
        self.catch_up("everything")
        self.assertEqual(
            [(one.text, one.pages) for one in self.table().lines], [("Cases", ()), ("Vane v. Ash", ("1",))]
        )
        self.cite("b", "Act 1902", "new")
        self.send(self.editor)
        self.assertEqual(self.kinds(), [("new",), ("new",)])
        # The category, which follows, is nobody's doing; the authority is the editor's.
        self.assertEqual([cause and cause.who for *_, cause, _ in self.table().differences], [None, "edit"])
        self.catch_up("everything")
        self.assertEqual(self.kinds(), [])
        Report.objects.filter(pk=self.report.pk).update(authorities=[["v", "statutes", "Vane v. Ash", ""]])
        self.room.renew_soon()
        self.rest()
        self.assertEqual(sorted(self.kinds()), [("gone",), ("new",)])

    def test_everybody_is_told_what_is_cited_and_indexed_and_on_which_page(self) -> None:
        self.cite("a", "Vane v. Ash")
        words = Run("tide", Marks(indexed=Indexed("x", (Entry(("water", "tide"), True),))))
        append_block(text_of(self.copy), Paragraph("z", "body", (words,)))
        self.listener.messages.clear()
        self.send()
        told = {
            name: one["insert"]
            for message in self.listener.messages
            for name, one in message.items()
            if name in ("cited", "cited_on", "terms", "terms_on")
        }
        self.assertEqual(
            told,
            {
                "cited": [["c-a", "v", "Vane v. Ash"]],
                "cited_on": [1],
                "terms": [["x", [[["water", "tide"], True]], "tide"]],
                "terms_on": [1],
            },
        )

    def test_odd_marks_are_left_out_and_take_nobodys_words(self) -> None:
        self.cite("a", "x" * 10, of="no id!")
        self.send()
        rooms.close()
        with rooms.room(self.report.key) as room:
            report, _ = room.call(room.settled).result()
        self.assertEqual(
            [(run.text, run.marks.citation) for run in report.blocks[-1].runs if run.text.strip()], [("x" * 10, None)]
        )
