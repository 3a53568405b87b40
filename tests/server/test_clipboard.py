"""What is pasted is read for the report it goes into; nothing is put into the text by that."""

from __future__ import annotations

import base64
import json
import time
from io import BytesIO

import docx
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from PIL import Image as Pillow

from mellowspine.core.report.blocks import Citation, Image, Marks, Paragraph, PlacedTable, Run
from mellowspine.core.report.elements import element_of
from mellowspine.core.report.plan import element_as_json
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import IssuedTable, Membership, Report
from mellowspine.server.shelf.pictures import store_picture

from .base import ServerCase


class Clipboards(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()
        self.client.force_login(self.editor)

    def read(self, html: str, keep: str = "structure") -> HttpResponse:
        file = SimpleUploadedFile("pasted.html", html.encode("utf-8", "surrogatepass"))
        return self.client.post(f"/api/reports/{self.report.key}/clipboard?keep={keep}", {"file": file})

    def test_blocks_come_in_the_reports_styles_with_ids_of_their_own(self) -> None:
        html = "<h2>Head</h2><ol start=3><li>three</ol><p style='font-size:18pt'>large</p>"
        answer = self.read(html).json()
        found = [(one["attributes"]["style"], one["children"][0]["text"]) for one in answer["blocks"]]
        self.assertEqual(found, [("heading-2", "Head"), ("item-1", "three"), ("body", "large")])
        self.assertEqual(answer["blocks"][1]["attributes"]["numberFrom"], 3)
        self.assertEqual(answer["blocks"][2]["children"][0]["attributes"], {})
        again = self.read(html, "looks").json()
        [(name, said)] = again["blocks"][2]["children"][0]["attributes"].items()
        self.assertEqual(
            (name, {one: value for one, value in said.items() if value is not None}), ("typeface", {"size": 18.0})
        )
        ids = {one["attributes"]["id"] for one in (*answer["blocks"], *again["blocks"])}
        self.assertEqual(len(ids), 6)

    def test_numbers_go_where_the_report_counts(self) -> None:
        self.client.force_login(self.owner)
        sent = {"scheme": "decimal", "appendix": False}
        self.client.patch(f"/api/reports/{self.report.key}/numbering", sent, content_type="application/json")
        (head,) = self.read("<h1>2. Access</h1>").json()["blocks"]
        self.assertEqual(head["children"][0]["text"], "Access")

    def test_pictures_in_it_are_stored_for_the_report_and_what_is_elsewhere_is_said(self) -> None:
        saved = BytesIO()
        Pillow.new("RGB", (30, 10), "#335588").save(saved, "PNG")
        data = base64.b64encode(saved.getvalue()).decode()
        answer = self.read(f'<img src="data:image/png;base64,{data}"><img src="https://x.org/p.png">').json()
        (picture,) = answer["blocks"]
        stored = self.client.get(f"/api/reports/{self.report.key}/pictures/{picture['attributes']['source']}")
        self.assertEqual(b"".join(stored), saved.getvalue())
        self.assertEqual(
            answer["notes"],
            [
                {
                    "what": "Picture that is elsewhere (https://x.org/p.png)",
                    "instead": "not fetched, its description kept as plain text",
                    "count": 1,
                    "lost": False,
                    "where": [],
                }
            ],
        )

    def test_what_cannot_be_read_is_refused_in_a_sentence(self) -> None:
        answer = self.read("<div>" * 50_000 + "x")
        self.assertEqual(answer.status_code, 400)
        self.assertIn("nested too deep", answer.json()["message"])
        self.assertEqual(self.read("x", "nonsense").status_code, 422)

    def test_half_characters_and_nothing(self) -> None:
        self.assertEqual(self.read("").json(), {"blocks": [], "notes": []})
        (one,) = self.read("a\ud800b").json()["blocks"]
        self.assertEqual(one["children"][0]["text"][0], "a")

    def test_readers_and_strangers_are_turned_down_and_the_text_is_as_before(self) -> None:
        for person, status in ((self.reader, 403), (self.stranger, 404)):
            self.client.force_login(person)
            self.assertEqual(self.read("<p>x").status_code, status)
        self.client.logout()
        self.assertEqual(self.read("<p>x").status_code, 401)
        with rooms.room(self.report.key) as room:
            self.assertEqual(room.call(room.report).result().blocks[0].text, "One")


class Insertions(ServerCase):
    """A file is read, looked at for a place, and planned; the browser puts it in."""

    CHAPTER = (
        b"<h1>Sea level</h1><p>See <a href='#w'>the weir</a>.</p><ol type=a><li>lettered</ol><h2 id=w>Weir</h2>"
        b"<p>a <span style='display:none'>b</span></p>"
    )

    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()
        self.client.force_login(self.editor)
        with rooms.room(self.report.key) as room:
            self.blocks = room.call(room.report).result().blocks

    def ask(self, path: str, sent: object) -> HttpResponse:
        return self.client.post(f"/api/reports/{self.report.key}/{path}", sent, content_type="application/json")

    def begun(self, data: bytes = CHAPTER, name: str = "chapter.html") -> str:
        file = SimpleUploadedFile(name, data)
        job = self.client.post(f"/api/reports/{self.report.key}/insertions", {"file": file}).json()
        for _ in range(200):
            if job["state"] != "running":
                break
            time.sleep(0.05)
            job = self.client.get(f"/api/jobs/{job['key']}").json()
        self.assertEqual(job["state"], "done", job)
        return job["key"]

    def test_it_is_shown_at_the_level_under_the_heading_in_front_and_comes_at_the_one_that_is_chosen(self) -> None:
        job, after = self.begun(), self.blocks[2].id
        seen = self.ask(f"insertions/{job}/look", {"after": after}).json()
        self.assertEqual(seen["outline"], [{"level": 1, "text": "Sea level"}, {"level": 2, "text": "Weir"}])
        self.assertEqual((seen["level"], seen["paragraphs"], seen["notes"][0]["what"]), (3, 5, "Hidden text"))
        for level, styles in ((3, ["heading-3", "heading-4"]), (1, ["heading-1", "heading-2"])):
            made = self.ask(f"insertions/{job}", {"after": after, "level": level}).json()
            (step,) = made["plan"]
            self.assertEqual(
                (step["step"], step["after"], step["blocks"][0]["attributes"]["id"]), ("insert", after, made["first"])
            )
            found = [one["attributes"]["style"] for one in step["blocks"]]
            self.assertEqual([found[0], found[3]], styles)
            link = step["blocks"][1]["children"][1]["attributes"]["link"]["href"]
            self.assertEqual(link, f"#{step['blocks'][3]['attributes']['id']}")

    def test_what_the_report_lacks_for_it_is_made_once_and_can_be_taken_back(self) -> None:
        for _ in range(2):
            job = self.begun()
            self.ask(f"insertions/{job}", {"after": self.blocks[0].id, "level": 2})
        styles = self.client.get(f"/api/reports/{self.report.key}").json()["styles"]
        self.assertEqual([one["marker"] for one in styles if one["name"] == "Lettered list 1"], ["lower-letter"])
        self.assertIn("Sea level", self.ask("sheet/take-back", {}).json()["what"])

    def test_a_contents_table_in_it_is_a_table_here(self) -> None:
        document = docx.Document()
        document.add_heading("One", 1)
        paragraph = document.add_paragraph()
        for kind, words in (("begin", ""), ("", 'TOC \\o "1-2"'), ("separate", ""), ("end", "")):
            run = paragraph.add_run()
            element = OxmlElement("w:fldChar" if kind else "w:instrText")
            if kind:
                element.set(qn("w:fldCharType"), kind)
            else:
                element.text = words
            run._r.append(element)
        saved = BytesIO()
        document.save(saved)
        job = self.begun(saved.getvalue(), "chapter.docx")
        (step,) = self.ask(f"insertions/{job}", {"after": self.blocks[0].id, "level": 2}).json()["plan"]
        placed = next(one for one in step["blocks"] if one["tag"] == "placedTable")
        kept = IssuedTable.objects.get(report=self.report, key=placed["attributes"]["table"])
        self.assertEqual(kept.recipe["levels"], [1, 2])

    def test_only_who_may_write_and_only_their_own_file(self) -> None:
        job = self.begun()
        self.client.force_login(self.owner)
        self.assertEqual(self.ask(f"insertions/{job}", {"after": "x"}).status_code, 404)
        self.client.force_login(self.reader)
        self.assertEqual(self.ask(f"insertions/{job}/look", {"after": "x"}).status_code, 403)
        file = SimpleUploadedFile("a.md", b"# A")
        self.assertEqual(
            self.client.post(f"/api/reports/{self.report.key}/insertions", {"file": file}).status_code, 403
        )


class Copies(ServerCase):
    """What is copied out of a report: for other programs, and with all that it has for this report and others."""

    def setUp(self) -> None:
        super().setUp()
        self.source, self.target = self.make(), self.make("# Other\n\nWords.\n")
        picture = BytesIO()
        Pillow.new("RGB", (8, 4), "#335588").save(picture, "PNG")
        name = f"{'a' * 32}.png"
        store_picture(self.source, name, picture.getvalue())
        self.source.authorities = [["act", "acts", "Harbour Act 1871", ""]]
        self.source.categories = [["acts", "Acts of the town"], ["other", "Other"]]
        self.source.save()
        Report.objects.filter(pk=self.target.pk).update(categories=[["cases", "Cases"], ["other", "Other"]])
        self.piece = (
            Paragraph("h", "heading-2", (Run("Weir"),)),
            Paragraph("p", runs=(Run("Act", Marks(citation=Citation("c", "act"))), Run("up", Marks(link="#h")))),
            Image("i", name, 80.0, 40.0),
            PlacedTable("t", "table-1"),
        )
        IssuedTable.objects.create(
            report=self.source, key="table-1", recipe={"levels": [1], "section": "h", "title": "Here"}
        )
        self.client.force_login(self.editor)

    def ask(self, method: str, report: Report, sent: object, token: str = "token4567890") -> HttpResponse:
        path = f"/api/reports/{report.key}/copies/{token}"
        if method == "copy":
            return self.client.post(path, {"file": SimpleUploadedFile("c.json", json.dumps(sent).encode())})
        return self.client.post(f"{path}/paste", sent, content_type="application/json")

    def copied(self) -> dict:
        return self.ask("copy", self.source, [element_as_json(element_of(one)) for one in self.piece]).json()

    def test_it_is_html_and_words_for_other_programs(self) -> None:
        answer = self.copied()
        self.assertIn(
            '<h2 id="h">Weir</h2><p>Act<a href="#h">up</a></p><figure><img src="data:image/png;base64,', answer["html"]
        )
        self.assertTrue(answer["text"].startswith("Weir\nActup"))

    def test_another_report_gets_all_that_it_has(self) -> None:
        self.copied()
        head, words, picture, placed = self.ask("paste", self.target, {}).json()["blocks"]
        self.assertNotEqual(head["attributes"]["id"], "h")
        cited, link = words["children"]
        self.assertEqual(link["attributes"]["link"]["href"], f"#{head['attributes']['id']}")
        shown = self.client.get(f"/api/reports/{self.target.key}").json()
        (authority,) = shown["authorities"]
        self.assertEqual(
            (authority["id"], authority["long"]), (cited["attributes"]["citation"]["of"], "Harbour Act 1871")
        )
        self.assertIn(
            (authority["category"], "Acts of the town"), [(one["id"], one["name"]) for one in shown["categories"]]
        )
        there = self.client.get(f"/api/reports/{self.target.key}/pictures/{picture['attributes']['source']}")
        self.assertEqual(there.status_code, 200)
        kept = IssuedTable.objects.get(report=self.target, key=placed["attributes"]["table"])
        self.assertEqual(
            (kept.recipe["levels"], kept.recipe["section"], kept.recipe["title"]),
            ([1], head["attributes"]["id"], "Here"),
        )

    def test_what_was_cut_out_keeps_its_ids_in_its_report_alone(self) -> None:
        self.copied()
        for report, same in ((self.source, True), (self.target, False)):
            found = self.ask("paste", report, {"moves": True}).json()["blocks"]
            self.assertEqual(found[0]["attributes"]["id"] == "h", same)

    def test_it_is_nobody_elses_and_needs_both_reports(self) -> None:
        self.copied()
        self.client.force_login(self.owner)
        self.assertEqual(self.ask("paste", self.target, {}).status_code, 404)
        self.client.force_login(self.reader)
        self.assertEqual(self.copied()["text"][:4], "Weir")
        self.assertEqual(self.ask("paste", self.target, {}).status_code, 403)
        self.client.force_login(self.editor)
        self.copied()
        Membership.objects.filter(report=self.source, person=self.editor).delete()
        self.assertEqual(self.ask("paste", self.target, {}).status_code, 404)
        self.assertEqual(self.ask("copy", self.source, []).status_code, 404)

    def test_of_many_copies_the_last_are_kept(self) -> None:
        for n in range(12):
            self.ask("copy", self.source, [], f"token12345{n:02}")
        found = [self.ask("paste", self.source, {}, f"token12345{n:02}").status_code for n in range(12)]
        self.assertEqual(found, [404] * 2 + [200] * 10)

    def test_lines_of_a_table_as_html_and_as_words(self) -> None:
        lines = [["h", 1, "1", "Weir & gate", ["3"]], ["x", 2, "1.1", "Sluice", ["4"]], ["y", 1, "2", "Quay", ["9"]]]
        IssuedTable.objects.filter(key="table-1").update(lines=lines)
        ask = lambda table, *lines: self.client.post(  # noqa: E731
            f"/api/reports/{self.source.key}/tables/{table}/copies", {"lines": lines}, content_type="application/json"
        )
        answer = ask("table-1", "y", "h", "gone").json()
        self.assertIn("Weir &amp; gate", answer["html"])
        self.assertNotIn("Sluice", answer["html"])
        self.assertEqual(answer["text"], "1 Weir & gate\t3\n2 Quay\t9")
        self.assertEqual(ask("other").status_code, 404)
        Membership.objects.filter(report=self.source, person=self.editor).delete()
        self.assertEqual(ask("table-1", "h").status_code, 404)

    def test_what_is_no_block_is_refused(self) -> None:
        for odd in ({"tag": "x", "attributes": {}, "children": []}, {"text": "x", "attributes": {}}, {"tag": 1}, {},
                    {"tag": "dataRow", "attributes": {}, "children": []},
                    {"tag": "paragraph", "attributes": {"style": 7}, "children": []}):  # fmt: skip
            self.assertEqual(self.ask("copy", self.source, [odd]).status_code, 400, odd)
        self.assertEqual(self.ask("copy", self.source, [], "../x").status_code, 404)
        self.assertEqual(self.ask("paste", self.target, {}, "unknown12345").status_code, 404)
