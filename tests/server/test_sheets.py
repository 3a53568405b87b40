"""Styles, numbers, pages and house sheets over HTTP: everybody sees a change, and each can take back their own."""

from __future__ import annotations

from dataclasses import replace
from importlib import import_module
from io import BytesIO
from unittest import mock

from django.apps import apps
from django.db import DatabaseError, connection
from django.test.utils import CaptureQueriesContext
from pycrdt import Doc
from pypdf import PdfReader

from mellowspine.core.report.blocks import Paragraph, PartStart, PlacedTable, Run
from mellowspine.core.report.page import PageSetup, page_from_json
from mellowspine.core.report.sheet import Sheet, add_style, change_style, settings_of, undone
from mellowspine.core.report.styles import default_styles
from mellowspine.core.structure.outline import outline
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.models import Update
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf import sheets
from mellowspine.server.shelf.models import HouseSheet, IssuedTable, SheetChange
from mellowspine.server.shelf.reports import styles_of
from mellowspine.server.shelf.sheets import change_sheet, take_back

from .test_api import Api


class Sheets(Api):
    def change(self, person, path: str, data: object, method: str = "patch"):
        return self.ask(person, method, f"reports/{self.report.key}/{path}", data)

    def style(self, id: str, person=None) -> dict:
        shown = self.ask(person or self.owner, "get", f"reports/{self.report.key}").json()
        return next(style for style in shown["styles"] if style["id"] == id)

    def settled(self):
        with rooms.room(self.report.key) as room:
            return room.call(room.settled).result()

    def test_a_change_is_in_the_open_room_and_on_its_pages(self) -> None:
        before = self.settled()[1]
        self.assertEqual(self.change(self.owner, "styles/heading-1", {"values": {"new_page": True}}).status_code, 204)
        report, pages = self.settled()
        self.assertTrue(report.styles["heading-1"].new_page)
        self.assertEqual((len(before), len(pages)), (1, 2))
        self.assertEqual(self.change(self.owner, "numbering", {"scheme": "outline"}).status_code, 204)
        self.assertEqual([h.number for h in outline(self.settled()[0])], ["I.", "A.", "II."])
        levels = {"level": 1, "values": {"pattern": "Part %1", "start": 3}}
        self.assertEqual(self.change(self.owner, "numbering", levels).status_code, 204)
        self.assertEqual([h.number for h in outline(self.settled()[0])], ["Part III", "A.", "Part IV"])

    def test_page_numbers_stand_where_they_are_wanted(self) -> None:
        self.change(self.owner, "styles/heading-1", {"values": {"new_page": True}})
        page = {"foot_middle": "", "head_right": "Page {page} of {last}", "first_page": "none"}
        self.assertEqual(self.change(self.owner, "page", page).status_code, 204)
        job = self.wait(self.owner, self.ask(self.owner, "post", f"reports/{self.report.key}/files/pdf", {}).json())
        reader = PdfReader(BytesIO(self.ask(self.owner, "get", f"jobs/{job['key']}/file").content))
        self.assertNotIn("Page 1", reader.pages[0].extract_text())
        places: dict[str, tuple[float, float]] = {}
        reader.pages[1].extract_text(
            visitor_text=lambda text, _, at, *__: places.update({text.strip(): (at[4], at[5])})
        )
        x, y = places["Page 2 of 2"]
        self.assertGreater(x, 595 - 72 - 60)
        self.assertGreater(y, 842 - 72)

    def test_two_people_change_one_style_at_the_same_moment(self) -> None:
        self.change(self.owner, "styles/caption", {"values": {"size": 12, "bold": True}})
        self.change(self.editor, "styles/caption", {"values": {"italic": True, "size": 14}})
        style = self.style("caption")
        self.assertEqual((style["size"], style["bold"], style["italic"]), (14, True, True))
        answer = self.change(self.owner, "sheet/take-back", {}, "post").json()
        self.assertEqual((answer["what"], answer["left"]), ("Caption: size, bold", 1))
        style = self.style("caption")
        self.assertEqual((style["size"], style["bold"], style["italic"]), (14, False, True))
        self.assertEqual(self.change(self.owner, "sheet/take-back", {}, "post").status_code, 404)
        self.change(self.editor, "sheet/take-back", {}, "post")
        self.assertEqual(self.style("caption")["italic"], False)

    def test_whoever_comes_second_changes_the_sheet_as_the_first_left_it(self) -> None:
        """What a change makes of the sheet is thought out before anybody's saving waits for it."""
        asked = []

        def bold(sheet: Sheet) -> Sheet:
            asked.append(sheet)
            if len(asked) == 1:
                self.change(self.editor, "styles/body", {"values": {"italic": True}})
            return replace(sheet, styles=change_style(sheet.styles, "body", {"bold": True}))

        change_sheet(self.report, self.owner, lambda _: "bold", bold)
        self.assertEqual(len(asked), 2)
        style = self.style("body")
        self.assertEqual((style["bold"], style["italic"]), (True, True))
        once = []

        def back(sheet: Sheet, found: object) -> tuple[Sheet, object]:
            if not once:
                once.append(1)
                self.change(self.editor, "styles/body", {"values": {"size": 15}})
            return undone(sheet, found)

        with mock.patch.object(sheets, "undone", side_effect=back):
            self.assertEqual(take_back(self.report, self.owner)[:2], ("bold", 0))
        style = self.style("body")
        self.assertEqual((style["bold"], style["italic"], style["size"]), (False, True, 15))

    def test_however_many_styles_change_they_are_written_at_once(self) -> None:
        def many(sheet: Sheet) -> Sheet:
            styles = sheet.styles
            for number in range(120):
                styles, _ = add_style(styles, f"Style {number}", "body")
            return replace(sheet, styles=styles)

        def larger(most: int) -> int:
            def change(sheet: Sheet) -> Sheet:
                styles = sheet.styles
                for id in [f"style-{number}" for number in range(most)]:
                    styles = change_style(styles, id, {"indent": float(most)})
                return replace(sheet, styles=styles)

            with CaptureQueriesContext(connection) as queries:
                change_sheet(self.report, self.owner, lambda _: "indents", change)
            return len(queries)

        change_sheet(self.report, self.owner, lambda _: "many", many)
        before = self.style("body")
        self.assertEqual(larger(1), larger(120))
        self.assertEqual((self.style("body"), self.style("style-119")["indent"]), (before, 120.0))
        order = [style["id"] for style in self.ask(self.owner, "get", f"reports/{self.report.key}").json()["styles"]]
        behind = order.index("body") + 1
        self.assertEqual(order[behind : behind + 120], [f"style-{number}" for number in reversed(range(120))])

    def test_who_may_take_back_what_is_told_with_the_report(self) -> None:
        self.change(self.owner, "page", {"top": 90})
        for person, wanted in ((self.owner, "page set-up"), (self.editor, "")):
            shown = self.ask(person, "get", f"reports/{self.report.key}").json()
            self.assertEqual(shown["to_take_back"], wanted)

    def test_making_and_deleting_a_style(self) -> None:
        made = self.change(self.owner, "styles", {"name": "Aside", "like": "body"}, "post").json()["id"]
        self.change(self.owner, f"styles/{made}", {"values": {"italic": True}})
        self.change(self.owner, "styles/body", {"values": {"size": 13}})
        self.assertEqual((self.style(made)["size"], self.style(made)["italic"]), (13, True))
        gone = self.ask(self.owner, "delete", f"reports/{self.report.key}/styles/{made}?instead=body")
        self.assertEqual(gone.status_code, 204)
        self.assertNotIn(made, styles_of(self.report))
        self.change(self.owner, "sheet/take-back", {}, "post")
        self.assertTrue(self.style(made)["italic"])

    def test_whether_a_style_can_be_deleted_is_said_before_anything_is_done(self) -> None:
        before = [style["id"] for style in self.ask(self.owner, "get", f"reports/{self.report.key}").json()["styles"]]
        for id, status in (("heading-2", 400), ("body", 400), ("code", 400), ("item-3", 204)):
            path = f"reports/{self.report.key}/styles/{id}?instead=quotation&ask=true"
            self.assertEqual(self.ask(self.owner, "delete", path).status_code, status, id)
        after = [style["id"] for style in self.ask(self.owner, "get", f"reports/{self.report.key}").json()["styles"]]
        self.assertEqual(before, after)

    def test_bad_requests_are_told_why_and_change_nothing(self) -> None:
        before = sorted(map(str, self.report.styles.values_list("settings", flat=True)))
        styles, style = "styles", "styles/caption"
        for method, path, data in (
            ("patch", style, {"values": {"size": 1000}}), ("patch", style, {"values": {"size": "x"}}), ("patch", style, {}),
            ("patch", style, {"values": {"based_on": "caption"}}), ("patch", style, {"values": {"based_on": "gone"}}),
            ("patch", "styles/gone", {"values": {"size": 10}}), ("patch", style, {"values": {"name": "x" * 300}}),
            ("post", styles, {"name": "Caption", "like": "body"}), ("post", styles, {"name": " ", "like": "body"}),
            ("post", styles, {"name": "New", "like": "gone"}), ("delete", "styles/body?instead=caption", None),
            ("delete", "styles/heading-3?instead=body", None), ("patch", "numbering", {}),
            ("patch", "numbering", {"scheme": "other"}), ("patch", "numbering", {"level": 12, "values": {"on": True}}),
            ("patch", "numbering", {"level": 1, "values": {"on": True, "pattern": "Article"}}),
            ("patch", "page", {"left": 400, "right": 400}), ("patch", "page", {"width": 1}),
            ("post", "house-sheets/gone", {}), ("post", "house-sheet", {"name": ""}),
            ("post", "plans/restyle", {"block": "gone"}), ("post", "plans/move-level", {"level": 1, "to": 12}),
            ("post", "plans/give-style", {"style": "body", "instead": "gone"}),
        ):  # fmt: skip
            response = self.change(self.owner, path, data, method)
            self.assertIn(response.status_code, (400, 404, 422), (path, data))
            self.assertRegex(response.json()["message"], r"^[A-Z“].+\.$")
        self.assertEqual(sorted(map(str, self.report.styles.values_list("settings", flat=True))), before)

    def test_readers_and_strangers_change_nothing(self) -> None:
        for person, status in ((self.reader, 403), (self.stranger, 404)):
            for method, path, data in (
                ("patch", "styles/body", {"values": {"size": 9}}), ("post", "styles", {"name": "New", "like": "body"}),
                ("delete", "styles/caption?instead=body", None), ("patch", "numbering", {"scheme": "legal"}),
                ("patch", "page", {"top": 9}), ("post", "sheet/take-back", {}), ("post", "house-sheets/filings", {}),
                ("post", "plans/restyle", {"block": "x"}), ("post", "plans/move-level", {"level": 1, "to": 2}),
                ("post", "plans/give-style", {"style": "body", "instead": "caption"}),
                ("post", "plans/back-to-style", {"block": "x"}),
            ):  # fmt: skip
                self.assertEqual(self.change(person, path, data, method).status_code, status, path)

    def test_the_look_of_one_heading_becomes_that_of_its_level(self) -> None:
        report, _ = self.settled()
        first, other = (b for b in report.blocks if getattr(b, "style", "") == "heading-1")
        with rooms.room(self.report.key) as room:
            room.call(room.receive, self.formatted(first.id, other.id), self.owner).result()
        plan = self.change(self.owner, "plans/restyle", {"block": first.id}, "post").json()
        style = self.style("heading-1")
        self.assertEqual((style["align"], style["italic"], style["size"]), ("center", True, 20))
        self.assertEqual({step["block"] for step in plan}, {first.id, other.id})

    def formatted(self, first: str, other: str) -> bytes:
        """An update that centres one heading, all of it slanted, and the other one by hand on the right."""
        from pycrdt import Doc

        document: Doc[object] = Doc()
        for data in Update.objects.filter(report=self.report).values_list("data", flat=True):
            document.apply_update(bytes(data))
        state = document.get_state()
        for child in text_of(document).children:
            if child.attributes["id"] == first:
                child.attributes["align"] = "center"
                words = child.children[0]
                words.format(0, len(str(words)), {"italic": {"off": False}})
            if child.attributes["id"] == other:
                child.attributes["align"] = "right"
        return document.get_update(state)

    def test_all_headings_of_a_level_are_moved_to_another(self) -> None:
        plan = self.change(self.owner, "plans/move-level", {"level": 1, "to": 3}, "post").json()
        self.assertEqual([step["values"] for step in plan], [{"style": "heading-3"}] * 2)

    def test_a_house_sheet_is_given_told_and_kept(self) -> None:
        key = self.report.key
        told = self.ask(self.owner, "get", f"reports/{key}/house-sheets/filings").json()
        size = next(one for one in told if one["path"] == ["styles", "body", "size"])
        self.assertEqual((size["here"], size["there"]), (11, 14))
        self.assertIn("FRAP 32(a)(5)", size["rule"])
        chosen = {"paths": [["styles", "body", "size"], ["page", "width"]]}
        self.assertEqual(self.change(self.owner, "house-sheets/filings", chosen, "post").status_code, 204)
        shown = self.ask(self.owner, "get", f"reports/{key}").json()
        self.assertEqual((self.style("body")["size"], self.style("body")["font"]), (14, "Caladea"))
        self.assertEqual((shown["page"]["width"], shown["page"]["height"], shown["house_sheet"]), (612, 841.89, ""))
        self.assertEqual(self.change(self.owner, "house-sheets/filings", {}, "post").status_code, 204)
        self.assertEqual(self.ask(self.owner, "get", f"reports/{key}").json()["house_sheet"], "filings")
        self.change(self.owner, "sheet/take-back", {}, "post")
        self.assertEqual(self.ask(self.owner, "get", f"reports/{key}").json()["house_sheet"], "")
        self.assertEqual(self.change(self.owner, "house-sheets/filings", {}, "post").status_code, 204)
        self.assertEqual(self.ask(self.owner, "get", f"reports/{key}/house-sheets/filings").json(), [])
        self.change(self.owner, "styles/heading-2", {"values": {"size": 13}})
        (departs,) = self.ask(self.reader, "get", f"reports/{key}/house-sheets/filings").json()
        self.assertEqual((departs["style"], departs["here"], departs["there"]), ("Heading 2", 13, 14))

    def test_a_house_sheet_of_ones_own_goes_to_another_report(self) -> None:
        self.change(self.owner, "styles/body", {"values": {"font": "Liberation Serif"}})
        kept = self.change(self.owner, "house-sheet", {"name": "Ours"}, "post").json()["key"]
        self.assertIn(kept, [one["key"] for one in self.ask(self.owner, "get", "house-sheets").json()])
        self.assertNotIn(kept, [one["key"] for one in self.ask(self.editor, "get", "house-sheets").json()])
        other = self.make()
        path = f"reports/{other.key}/house-sheets/{kept}"
        self.assertEqual(self.ask(self.editor, "post", path, {}).status_code, 404)
        self.assertEqual(self.ask(self.owner, "post", path, {}).status_code, 204)
        self.assertEqual(styles_of(other)["body"].font, "Liberation Serif")
        # Whoever is in a report may see what its house sheet says, whoever keeps that.
        self.assertEqual(self.ask(self.reader, "get", path).json(), [])
        self.assertEqual(self.ask(self.editor, "delete", f"house-sheets/{kept}").status_code, 404)
        self.assertEqual(self.ask(self.owner, "delete", f"house-sheets/{kept}").status_code, 204)
        self.assertFalse(HouseSheet.objects.exists())
        self.assertEqual(self.ask(self.reader, "get", path).status_code, 404)

    def test_a_house_sheet_keeps_the_recipes_of_tables(self) -> None:
        contents = "# Aims\n\nText.\n\n# Site\n\nMore.\n"
        mine, other = self.make(contents), self.make(contents)
        for one in (mine, other):
            with rooms.room(one.key) as room:
                room.call(room.receive, self.placing(one.key), self.owner).result()
                room.call(room.settled).result()
        path = f"reports/{mine.key}/tables/t/recipe"
        settings = [[["leader"], "-"], [["looks", "1", "size"], 13], [["levels"], [1, 2]]]
        self.assertEqual(self.ask(self.owner, "post", path, {"settings": settings}).status_code, 200)
        kept = self.ask(self.owner, "post", f"reports/{mine.key}/house-sheet", {"name": "Ours"}).json()
        self.assertEqual([one["name"] for one in kept["sample"]], ["Heading 1", "Heading 2", "Body text"])
        path = f"reports/{other.key}/house-sheets/{kept['key']}"
        told = {
            tuple(one["path"]): (one["style"], one["here"], one["there"])
            for one in self.ask(self.owner, "get", path).json()
        }
        self.assertEqual(told["tables", "t", "leader"], ("Contents", ".", "-"))
        self.assertEqual(told["tables", "t", "looks", "1", "size"][1:], (11, 13))
        chosen = {"paths": [["tables", "t", "leader"]]}
        self.assertEqual(self.ask(self.owner, "post", path, chosen).status_code, 204)
        self.assertEqual([one["path"][-1] for one in self.ask(self.owner, "get", path).json()], ["levels", "size"])
        self.assertEqual(self.ask(self.owner, "post", path, {}).status_code, 204)
        self.assertEqual(self.ask(self.owner, "get", path).json(), [])
        history = self.ask(self.owner, "get", f"reports/{other.key}/tables/t/history").json()
        self.assertEqual([one["what"] for one in history], ["House sheet Ours"] * 2)  # each is taken back by itself
        # A table that is put in afterwards is of the same make.
        with rooms.room(other.key) as room:
            room.call(room.receive, self.placing(other.key, "u"), self.owner).result()
            room.call(room.settled).result()
        self.assertEqual(IssuedTable.objects.get(report=other, key="u").recipe["leader"], "-")

    def test_a_house_sheet_is_taken_back_with_what_it_did_to_tables(self) -> None:
        report = self.make("# Aims\n\nText.\n")
        with rooms.room(report.key) as room:
            for table in "tu":
                room.call(room.receive, self.placing(report.key, table), self.owner).result()
            room.call(room.settled).result()

        def change(table: str, **settings: object) -> None:
            path = f"reports/{report.key}/tables/{table}/recipe"
            given = {"settings": [[[name], value] for name, value in settings.items()]}
            self.assertEqual(self.ask(self.owner, "post", path, given).status_code, 200)

        def leaders() -> dict[str, str]:
            return {one.key: one.recipe["leader"] for one in IssuedTable.objects.filter(report=report)}

        for table in "tu":
            change(table, leader="-")
        kept = self.ask(self.owner, "post", f"reports/{report.key}/house-sheet", {"name": "Ours"}).json()["key"]
        for table in "tu":
            change(table, leader=".")
        give = f"reports/{report.key}/house-sheets/{kept}"
        take_back = f"reports/{report.key}/sheet/take-back"
        self.ask(self.owner, "post", give, {})
        self.assertEqual(leaders(), {"t": "-", "u": "-"})
        self.assertEqual(self.ask(self.owner, "post", take_back, {}).json(), {"what": "house sheet Ours", "left": 0})
        self.assertEqual(leaders(), {"t": ".", "u": "."})
        # Given twice in a row it is two things, each taken back by itself.
        for table in "tu":
            change(table, leader="_")
        again = self.ask(self.owner, "post", f"reports/{report.key}/house-sheet", {"name": "Others"}).json()["key"]
        for table in "tu":
            change(table, leader=".")
        self.ask(self.owner, "post", give, {})
        HouseSheet.objects.filter(key=kept).update(name="Ours before")
        HouseSheet.objects.filter(key=again).update(name="Ours")
        self.ask(self.owner, "post", give.replace(kept, again), {})
        self.assertEqual(leaders(), {"t": "_", "u": "_"})
        self.ask(self.owner, "post", take_back, {})
        self.assertEqual(leaders(), {"t": "-", "u": "-"})
        self.ask(self.owner, "post", take_back, {})
        self.assertEqual(leaders(), {"t": ".", "u": "."})
        HouseSheet.objects.filter(key=again).update(name="Others")
        HouseSheet.objects.filter(key=kept).update(name="Ours")
        # What somebody has changed of a table since then stays.
        self.ask(self.owner, "post", give, {})
        change("t", title="What there is")
        self.assertEqual(self.ask(self.owner, "post", take_back, {}).json(), {"what": "house sheet Ours", "left": 1})
        self.assertEqual(leaders(), {"t": "-", "u": "."})

    def test_a_house_sheet_that_tables_cannot_take_now_changes_nothing(self) -> None:
        report = self.make("# Aims\n\nText.\n")
        with rooms.room(report.key) as room:
            room.call(room.receive, self.placing(report.key), self.owner).result()
            room.call(room.settled).result()
        path = f"reports/{report.key}/tables/t/recipe"
        self.ask(self.owner, "post", path, {"settings": [[["leader"], "-"]]})
        self.ask(self.owner, "patch", f"reports/{report.key}/styles/body", {"values": {"size": 14}})
        kept = self.ask(self.owner, "post", f"reports/{report.key}/house-sheet", {"name": "Ours"}).json()["key"]
        self.ask(self.owner, "post", path, {"settings": [[["leader"], "."]]})
        self.ask(self.owner, "patch", f"reports/{report.key}/styles/body", {"values": {"size": 10}})
        with (
            mock.patch("mellowspine.server.rooms.tables.Tables.change", side_effect=DatabaseError("full")),
            self.assertLogs("mellowspine.server.api.tables", "ERROR"),
        ):
            answer = self.ask(self.owner, "post", f"reports/{report.key}/house-sheets/{kept}", {})
        self.assertEqual(answer.status_code, 503)
        self.assertIn("nothing has changed", answer.json()["message"])
        shown = self.ask(self.owner, "get", f"reports/{report.key}").json()
        self.assertEqual(next(one["size"] for one in shown["styles"] if one["id"] == "body"), 10)
        self.assertEqual(shown["house_sheet"], "")

    def placing(self, key: str, table: str = "t") -> bytes:
        """The update that puts a table at the end of a report."""
        document: Doc = Doc()
        for update in Update.objects.filter(report__key=key):
            document.apply_update(update.data)
        state = document.get_state()
        append_block(text_of(document), PlacedTable(f"b-{table}", table))
        return document.get_update(state)

    def test_one_kept_from_a_filing_goes_by_the_same_rules(self) -> None:
        self.change(self.owner, "house-sheets/filings", {}, "post")
        self.change(self.owner, "page", {"top": 90})
        kept = self.change(self.owner, "house-sheet", {"name": "Our filings"}, "post").json()
        self.assertEqual(kept["about"], "Checked by the same rules as “Filings”.")
        other = self.make("# Brief\n\nText.\n")
        path = f"reports/{other.key}/house-sheets/{kept['key']}"
        rules = {tuple(one["path"]): one["rule"] for one in self.ask(self.owner, "get", path).json()}
        self.assertIn("FRAP 32(a)(5)", rules["styles", "body", "size"])
        self.assertEqual(rules["page", "top"], "")  # the author's own, which no rule asks for
        self.assertNotIn("filing-contents", self.found(other.key))
        self.assertEqual(self.ask(self.owner, "post", path, {}).status_code, 204)
        self.assertIn("filing-contents", self.found(other.key))

    def found(self, key: str) -> set[str]:
        """The kinds of finding in an open report."""
        with rooms.room(key) as room:
            return {one.kind for one in room.call(room.checked).result().findings}

    def test_a_style_deleted_while_somebody_without_a_connection_used_it(self) -> None:
        """What they wrote is kept, looks like body text, and has its look again if the style comes back."""
        self.change(self.owner, "styles", {"name": "Aside", "like": "quotation"}, "post")
        document: Doc[object] = Doc()
        for data in Update.objects.filter(report=self.report).values_list("data", flat=True):
            document.apply_update(bytes(data))
        state = document.get_state()
        append_block(text_of(document), Paragraph("late", "aside", (Run("Written without a connection"),)))
        self.ask(self.owner, "delete", f"reports/{self.report.key}/styles/aside?instead=body")
        with rooms.room(self.report.key) as room:
            room.call(room.receive, document.get_update(state), self.editor).result()
        report, _ = self.settled()
        self.assertEqual(report.blocks[-1].text, "Written without a connection")
        self.assertEqual(report.styles[report.blocks[-1].style].name, "Body text")
        self.change(self.owner, "sheet/take-back", {}, "post")
        report, _ = self.settled()
        self.assertEqual(report.styles[report.blocks[-1].style].name, "Aside")

    def parts(self, person=None) -> dict:
        return self.ask(person or self.owner, "get", f"reports/{self.report.key}").json()["parts"]

    def test_a_part_is_set_up_shown_to_everybody_and_taken_back(self) -> None:
        self.put_at_the_end(self.report, PartStart("p"), Paragraph("late", "body", (Run("Maps"),)))
        values = {"values": {"name": "Maps", "figures": "decimal", "words": "M-", "start": 1}, "page": {"width": 700.0}}
        self.assertEqual(self.change(self.owner, "parts/p", values).status_code, 204)
        pages = self.settled()[1]
        self.assertEqual((pages.labels[1:], pages.stretch(2).page.width), (["1", "M-1"], 700.0))
        shown = self.parts(self.editor)["p"]
        self.assertEqual((shown["name"], shown["page"]), ("Maps", {"width": 700.0}))
        self.assertEqual(self.change(self.editor, "parts/p", {"as_report": ["width"]}).status_code, 204)
        self.assertEqual(self.parts()["p"]["page"], {})
        self.assertEqual(self.change(self.owner, "sheet/take-back", {}, "post").json()["left"], 1)
        self.assertEqual(self.settled()[1].labels[1:], ["1", "2"])

    def test_who_may_not_write_and_what_cannot_be(self) -> None:
        self.assertEqual(self.change(self.reader, "parts/p", {"values": {"name": "X"}}).status_code, 403)
        self.assertEqual(self.change(self.stranger, "parts/p", {"values": {"name": "X"}}).status_code, 404)
        for id, values, said in (
            ("p", {"page": {"left": 300.0, "right": 290.0}}, "leave no room"),
            ("p", {"page": {"columns": 4, "column_gap": 150.0}}, "too narrow"),
            ("p", {"page": {"language": "de"}}, "set for the whole report"),
            ("p", {"values": {"words": "x" * 30}}, "at most 20 characters"),
            ("p%20q", {"values": {"name": "X"}}, "letters, digits and hyphens"),
        ):
            answer = self.change(self.owner, f"parts/{id}", values)
            self.assertEqual(answer.status_code, 400, id)
            self.assertIn(said, answer.json()["message"])
        self.assertEqual(self.parts(), {})

    def test_its_settings_stay_while_its_start_is_out_of_the_text(self) -> None:
        self.change(self.owner, "parts/p", {"values": {"words": "A-", "figures": "decimal"}})
        self.assertEqual(self.settled()[1].labels[1:], ["1"])
        self.put_at_the_end(self.report, PartStart("p"))
        self.assertEqual(self.settled()[1].labels[1:], ["1", "A-2"])

    def test_where_page_numbers_stood_in_reports_of_before(self) -> None:
        old = {"number_at": "head", "number_align": "right", "number_says": "of", "number_first": False, "top": 80.0}
        for said, wanted in (
            (old, PageSetup(foot_middle="", head_right="Page {page} of {last}", first_page="none", top=80.0)),
            ({"width": 500.0}, PageSetup(width=500.0)),
            ({"number_at": "none"}, PageSetup(foot_middle="")),
            ({}, PageSetup()),
        ):
            self.report.page = said
            self.report.save()
            kept = [
                [list(path), value] for path, value in settings_of(Sheet(default_styles())).items() if path[0] != "page"
            ]
            kept += [[["page", name], value] for name, value in said.items()]
            house = HouseSheet.objects.create(person=self.owner, name="Ours", settings=kept)
            changes = [[["page", "number_at"], ["foot"], ["head"]], [["page", "top"], [72.0], [80.0]]]
            SheetChange.objects.create(report=self.report, person=self.owner, what="x", changes=changes)
            import_module("mellowspine.server.shelf.migrations.0015_parts").to_words(apps, None)
            self.report.refresh_from_db()
            self.assertEqual(page_from_json(self.report.page), wanted)
            self.assertEqual(sheets.house_sheet(house.key).sheet.page, wanted)
            self.assertEqual([one.changes for one in SheetChange.objects.all()], [changes[1:]])
            house.delete()
            SheetChange.objects.all().delete()
