"""Typefaces of a report: brought in, served to its members alone, set in its pages and files, and taken out again."""

from __future__ import annotations

from io import BytesIO
from unittest import mock

import pikepdf
from django.core.files.uploadedfile import SimpleUploadedFile

from mellowspine.core.formats.imported import Imported
from mellowspine.core.report.blocks import Marks, Paragraph, Run
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.styles import default_styles
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf import typefaces as shelf
from mellowspine.server.shelf.models import Membership, Role, Typeface
from tests.core.made_faces import face_data

from .test_api import Api

STYLES = default_styles()
WORDS = "Weirs and sluices of the upper basin " * 30


class Typefaces(Api):
    def setUp(self) -> None:
        super().setUp()
        body = STYLES.role("body").id
        blocks = (Paragraph("a", body, (Run(WORDS, Marks(font="Quill Hand")),)),)
        self.report = make_report(Imported(CoreReport("Basin", blocks, STYLES), {}), self.owner)
        Membership.objects.create(report=self.report, person=self.reader, role=Role.READER)
        self.path = f"reports/{self.report.key}/typefaces"

    def give(self, person, data: bytes):
        self.client.force_login(person)
        return self.client.post(f"/api/{self.path}", {"file": SimpleUploadedFile("face.ttf", data)})

    def lines(self) -> int:
        """How many lines the text has on its pages."""
        with rooms.room(self.report.key) as room:
            _, pages = room.call(room.settled).result()
        return sum(len(box.heights) for box in pages.boxes)

    def test_a_family_that_is_asked_for_and_not_here_is_said(self) -> None:
        found = {one["name"]: one for one in self.ask(self.reader, "get", self.path).json()}
        self.assertEqual(found["Quill Hand"]["shown_in"], "Liberation Sans")
        self.assertEqual((found["Quill Hand"]["as_wide"], found["Quill Hand"]["used"]), (False, True))
        self.assertEqual(found["Quill Hand"]["faces"], [])

    def test_once_it_is_there_pages_are_set_in_it_and_once_it_is_not_as_before(self) -> None:
        before = self.lines()
        answer = self.give(self.owner, face_data(width=900))
        self.assertEqual(answer.status_code, 200)
        (face,) = next(one["faces"] for one in answer.json() if one["name"] == "Quill Hand")
        self.assertGreater(self.lines(), 1.4 * before)
        shown = self.ask(self.reader, "get", f"reports/{self.report.key}").json()["typefaces"]
        self.assertEqual([(one["bold"], one["italic"], one["file"]) for one in shown],
                         [(bold, italic, face["key"]) for bold in (False, True) for italic in (False, True)])  # fmt: skip
        self.assertEqual(self.ask(self.owner, "delete", f"{self.path}/{face['key']}").status_code, 200)
        self.assertEqual(self.lines(), before)

    def test_a_file_is_served_to_members_alone(self) -> None:
        data = face_data()
        self.give(self.owner, data)
        key = self.report.typefaces.get().key
        answer = self.ask(self.reader, "get", f"{self.path}/{key}/file")
        self.assertEqual(
            (answer.content, answer["Content-Type"], answer["X-Content-Type-Options"]), (data, "font/ttf", "nosniff")
        )
        self.assertIn("private", answer["Cache-Control"])
        self.assertEqual(self.ask(self.stranger, "get", f"{self.path}/{key}/file").status_code, 404)
        other = self.make()
        self.assertEqual(self.ask(self.owner, "get", f"reports/{other.key}/typefaces/{key}/file").status_code, 404)
        self.assertEqual(self.ask(self.owner, "delete", f"reports/{other.key}/typefaces/{key}").status_code, 404)

    def test_readers_bring_in_and_take_out_nothing(self) -> None:
        self.give(self.owner, face_data())
        key = self.report.typefaces.get().key
        self.assertEqual(self.give(self.reader, face_data(bold=True)).status_code, 403)
        self.assertEqual(self.ask(self.reader, "delete", f"{self.path}/{key}").status_code, 403)
        self.assertEqual(self.report.typefaces.count(), 1)

    def test_the_same_face_again_takes_its_place(self) -> None:
        for width in (500, 900):
            self.give(self.owner, face_data(width=width))
        self.give(self.owner, face_data("QUILL HAND", width=600))
        self.give(self.owner, face_data("QUILL HAND", bold=True))
        found = [(row.family, row.bold) for row in self.report.typefaces.all()]
        self.assertEqual(found, [("Quill Hand", False), ("Quill Hand", True)])

    def test_two_bring_in_the_same_face_at_once(self) -> None:
        create, seen = Typeface.objects.create, []

        def after_another(**given):
            if not seen:
                seen.append(create(**{**given, "key": "first"}))
            return create(**given)

        with mock.patch.object(Typeface.objects, "create", after_another):
            self.assertEqual(self.give(self.owner, face_data()).status_code, 200)
        self.assertEqual(self.report.typefaces.count(), 1)

    def test_what_cannot_be_had_is_said_in_a_sentence(self) -> None:
        for data, said in ((face_data(licence=2), "licence"), (b"no face", "no typeface"), (b"", "")):
            answer = self.give(self.owner, data)
            self.assertIn(answer.status_code, (400, 422))
            self.assertIn(said, answer.json()["message"])
        with mock.patch.object(shelf, "MOST", 1):
            self.give(self.owner, face_data())
            answer = self.give(self.owner, face_data(bold=True))
        self.assertEqual(answer.status_code, 400)
        self.assertIn("take one out first", answer.json()["message"])

    def test_a_pdf_is_set_in_it(self) -> None:
        self.give(self.owner, face_data())
        job = self.wait(self.owner, self.ask(self.owner, "post", f"reports/{self.report.key}/files/pdf", {}).json())
        data = self.ask(self.owner, "get", f"jobs/{job['key']}/file").content
        with pikepdf.open(BytesIO(data)) as file:
            names = [str(font.BaseFont) for font in file.pages[0].Resources.Font.values()]
        self.assertTrue(any(name.endswith("+QuillHand-Regular") for name in names), names)
