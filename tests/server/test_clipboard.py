"""What is pasted is read for the report it goes into; nothing is put into the text by that."""

from __future__ import annotations

import base64
from io import BytesIO

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from PIL import Image as Pillow

from mellowspine.server.rooms.registry import rooms

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
        self.assertEqual(
            again["blocks"][2]["children"][0]["attributes"], {"typeface": {"font": None, "size": 18.0, "colour": None}}
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
            [{"what": "Pictures that are elsewhere and were not fetched (https://x.org/p.png)", "count": 1}],
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
