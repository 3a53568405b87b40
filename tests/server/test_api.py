"""The HTTP API: who may do what, and what bad requests are told."""

from __future__ import annotations

import io
import json
import time
from dataclasses import replace
from importlib import import_module
from pathlib import Path
from unittest import mock

from django.apps import apps
from django.contrib.auth.models import Group, User
from django.core.management import CommandError, call_command
from django.db import connection
from django.db.models.signals import post_save
from django.test import Client, override_settings
from django.test.utils import CaptureQueriesContext
from PIL import Image
from pypdf import PdfReader

from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.imported import Imported
from mellowspine.core.report.blocks import Paragraph, PlacedTable
from mellowspine.core.report.numbering import scheme_of
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.server.api import api
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.followers import pages as page_followers
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import IssuedTable, Membership, Report, Role, SetAside, new_key
from mellowspine.server.shelf.reports import styles_of
from mellowspine.server.shelf.sheets import sheet_of_report

from .base import ServerCase
from .updates import document_of


class Api(ServerCase):
    def setUp(self) -> None:
        super().setUp()
        self.report = self.make()

    def ask(self, person, method: str, path: str, data: object = None, **extra: object):
        self.client.logout()
        if person:
            self.client.force_login(person)
        body = {} if data is None else {"data": data, "content_type": "application/json"}
        return getattr(self.client, method)(f"/api/{path}", **body, **extra)

    def wait(self, person, job: dict) -> dict:
        for _ in range(200):
            if job["state"] != "running":
                break
            time.sleep(0.05)
            job = self.ask(person, "get", f"jobs/{job['key']}").json()
        return job

    def bring_in(self, person, name: str, data: bytes) -> dict:
        file = io.BytesIO(data)
        file.name = name
        self.client.force_login(person)
        return self.wait(person, self.client.post("/api/imports", {"file": file}).json())


class Permissions(Api):
    def test_every_path_asks_who_is_there(self) -> None:
        """Goes through the API's own description, so that a new path cannot be forgotten."""
        open_to_all = {("/api/session", "get"), ("/api/session", "post")}
        for path, methods in api.get_openapi_schema()["paths"].items():
            for method in methods:
                if (path, method) in open_to_all:
                    continue
                address = path.replace("{key}", self.report.key).replace("{", "").replace("}", "")
                response = self.ask(None, method, address.removeprefix("/api/"), {})
                self.assertEqual(response.status_code, 401, (path, method))

    def test_a_report_of_others_is_not_there(self) -> None:
        key = self.report.key
        for method, path, data in (
            ("get", f"reports/{key}", None), ("patch", f"reports/{key}", {"title": "x"}), ("post", f"reports/{key}/files/pdf", {}),
            ("get", f"reports/{key}/alike/b00001", None), ("get", f"reports/{key}/pictures/x.png", None),
            ("post", f"reports/{key}/tables/t/catch-up", {"scope": "everything"}),
        ):  # fmt: skip
            self.assertEqual(self.ask(self.stranger, method, path, data).status_code, 404, path)
        self.assertEqual(self.ask(self.stranger, "get", "reports").json(), [])

    def test_a_reader_reads_and_changes_nothing(self) -> None:
        key = self.report.key
        self.assertEqual(self.ask(self.reader, "get", f"reports/{key}").json()["role"], "reader")
        for method, path, data in (
            ("patch", f"reports/{key}", {"title": "x"}),
            ("post", f"reports/{key}/tables/t/catch-up", {"scope": "everything"}),
        ):
            response = self.ask(self.reader, method, path, data)
            self.assertEqual(response.status_code, 403)
            self.assertIn("not change it", response.json()["message"])

    def test_changing_needs_the_token_against_forged_requests(self) -> None:
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.owner)
        response = client.patch(f"/api/reports/{self.report.key}", {"title": "x"}, content_type="application/json")
        self.assertEqual(response.status_code, 403)
        self.assertEqual(client.post("/api/session", {"name": "own"}, content_type="application/json").status_code, 403)

    def test_only_staff_make_accounts(self) -> None:
        given = {"name": "new", "full_name": "New Person", "password": "another long passphrase"}
        self.assertEqual(self.ask(self.owner, "post", "people", given).status_code, 403)
        self.owner.is_staff = True
        self.owner.save()
        self.assertEqual(self.ask(self.owner, "post", "people", given).json()["name"], "New Person")
        again = self.ask(self.owner, "post", "people", given)
        self.assertEqual((again.status_code, "already exists" in again.json()["message"]), (400, True))
        weak = self.ask(self.owner, "post", "people", {**given, "name": "other", "password": "123"})
        self.assertIn("too short", weak.json()["message"])

    def test_jobs_belong_to_those_who_began_them(self) -> None:
        job = self.ask(self.owner, "post", f"reports/{self.report.key}/files/pdf", {}).json()
        self.assertEqual(self.ask(self.editor, "get", f"jobs/{job['key']}").status_code, 404)
        self.assertEqual(self.ask(self.editor, "get", f"jobs/{job['key']}/file").status_code, 404)
        self.wait(self.owner, job)


class SigningIn(Api):
    def test_by_name_and_password(self) -> None:
        self.owner.set_password("a long passphrase")
        self.owner.save()
        good = self.ask(None, "post", "session", {"name": "own", "password": "a long passphrase"})
        self.assertEqual(good.json()["person"]["name"], "own")
        bad = self.ask(None, "post", "session", {"name": "own", "password": "wrong"})
        self.assertEqual((bad.status_code, bad.json()["message"][:17]), (403, "Name and password"))

    def test_without_a_password_only_in_the_demonstration_and_only_its_people(self) -> None:
        self.assertEqual(self.ask(None, "post", "session", {"name": "own"}).status_code, 403)
        with override_settings(DEMONSTRATION=True):
            self.assertEqual(self.ask(None, "post", "session", {"name": "own"}).status_code, 403)

    def test_the_people_of_the_demonstration_come_in_by_one_press_there_and_nowhere_else(self) -> None:
        self.owner.groups.add(
            Group.objects.create(name="demonstration"), Group.objects.create(name="demonstration: owns it")
        )
        self.assertEqual(self.ask(None, "get", "session").json()["demonstration"], [])
        self.assertEqual(self.ask(None, "post", "session", {"name": "own"}).status_code, 403)
        with override_settings(DEMONSTRATION=True):
            (shown,) = self.ask(None, "get", "session").json()["demonstration"]
            self.assertEqual(shown, {"name": "own", "full_name": "own", "does": "owns it"})
            entered = self.ask(None, "post", "session", {"name": "own"})
        self.assertEqual((entered.status_code, entered.json()["person"]["name"]), (200, "own"))

    def test_the_policy_lets_pages_load_their_own_files_only(self) -> None:
        policy = self.client.get("/")["Content-Security-Policy"]
        directives = [one.strip() for one in policy.split(";")]  # in any order
        for part in (
            "default-src 'self'",
            "object-src 'none'",
            "frame-ancestors 'none'",
            "connect-src 'self'",
        ):
            self.assertIn(part, directives)
        self.assertNotIn("script-src", policy)


class Files(Api):
    def test_a_file_becomes_a_report_with_a_summary(self) -> None:
        job = self.bring_in(self.stranger, "notes.md", b"# A\n\nb\n\n<!-- later -->\n\n| x |\n|---|\n| y |\n")
        summary = job["summary"]
        self.assertEqual((summary["title"], summary["headings"], summary["data_tables"]), ("A", 1, 1))
        rule = {"what": "Comment", "instead": "left out", "count": 1, "lost": True, "where": ["A"]}
        self.assertEqual(summary["notes"], [rule])
        self.assertEqual([card["title"] for card in self.ask(self.stranger, "get", "reports").json()], ["A"])

    def test_a_bad_file_makes_no_report(self) -> None:
        before = Report.objects.count()
        job = self.bring_in(self.owner, "x.docx", b"no")
        self.assertEqual(job["state"], "refused")
        self.assertIn("not an Office Open XML document", job["message"])
        self.assertEqual(Report.objects.count(), before)

    def test_a_cancelled_import_makes_no_report(self) -> None:
        before = Report.objects.count()
        file = io.BytesIO(b"# H\n\nword\n\n" * 60_000)
        file.name = "long.md"
        self.client.force_login(self.owner)
        job = self.client.post("/api/imports", {"file": file}).json()
        self.ask(self.owner, "delete", f"jobs/{job['key']}")
        self.assertEqual(self.wait(self.owner, job)["state"], "cancelled")
        self.assertEqual(Report.objects.count(), before)

    def test_the_pdf_is_the_report(self) -> None:
        job = self.wait(self.reader, self.ask(self.reader, "post", f"reports/{self.report.key}/files/pdf", {}).json())
        response = self.ask(self.reader, "get", f"jobs/{job['key']}/file")
        (page,) = PdfReader(io.BytesIO(response.content)).pages
        self.assertEqual(
            page.extract_text().split(), ["One", "Words.", "Two", "More", "words.", "Three", "Last", "words.", "1"]
        )
        self.assertEqual(
            (response["Content-Type"], "One.pdf" in response["Content-Disposition"]), ("application/pdf", True)
        )

    def test_every_format_is_written_and_no_other(self) -> None:
        for ending, format in WRITERS.items():
            path = f"reports/{self.report.key}/files/{ending[1:]}"
            job = self.wait(self.reader, self.ask(self.reader, "post", path, {}).json())
            response = self.ask(self.reader, "get", f"jobs/{job['key']}/file")
            self.assertEqual((response.status_code, response["Content-Type"]), (200, format.media_type))
        refused = self.ask(self.reader, "post", f"reports/{self.report.key}/files/exe", {})
        self.assertEqual(
            (refused.status_code, refused.json()["message"][:36]), (404, "Reports cannot be written in this fo")
        )

    def test_no_part_of_a_new_report_is_written_in_one_transaction_with_another(self) -> None:
        """Everybody's saving waits while one is open."""
        written: list[tuple[str, bool]] = []

        def note(sender: type, **_: object) -> None:
            written.append((sender.__name__, connection.in_atomic_block))

        post_save.connect(note)
        self.addCleanup(post_save.disconnect, note)
        pictures = {f"{number:032}.png": b"x" for number in range(3)}
        made = make_report(Imported(CoreReport("New", (Paragraph("a"),)), pictures), self.owner)
        self.assertEqual(written[0][0], "Report")
        self.assertEqual(written[-1][0], "Membership")  # until then it is nobody's
        self.assertEqual([name for name, within in written if within], [])
        self.assertEqual(made.pictures.count(), 3)

    def test_findings_are_set_aside_all_at_once(self) -> None:
        findings = [f"kind {number}" for number in range(3000)]
        with CaptureQueriesContext(connection) as queries:
            self.ask(
                self.owner,
                "post",
                f"reports/{self.report.key}/findings/aside",
                {"findings": findings, "reason": "So be it"},
            )
        self.assertLess(len(queries), 100)
        self.ask(
            self.owner,
            "post",
            f"reports/{self.report.key}/findings/aside",
            {"findings": findings[:2], "reason": "Again"},
        )
        reasons = dict(SetAside.objects.filter(report=self.report).values_list("finding", "reason"))
        self.assertEqual((len(reasons), reasons["kind 1"], reasons["kind 2"]), (3000, "Again", "So be it"))

    def test_pictures_are_stored_served_and_checked(self) -> None:
        stream = io.BytesIO()
        Image.new("RGB", (400, 100)).save(stream, "PNG")
        stream.seek(0)
        stream.name = "p.png"
        self.client.force_login(self.editor)
        stored = self.client.post(f"/api/reports/{self.report.key}/pictures", {"file": stream}).json()
        self.assertEqual((stored["width"], stored["height"]), (300, 75))
        answer = self.ask(self.reader, "get", f"reports/{self.report.key}/pictures/{stored['source']}")
        self.assertEqual((answer["Content-Type"], answer["X-Content-Type-Options"]), ("image/png", "nosniff"))
        bad = io.BytesIO(b"<svg onload=alert(1)>")
        bad.name = "p.png"
        self.client.force_login(self.editor)
        self.assertEqual(self.client.post(f"/api/reports/{self.report.key}/pictures", {"file": bad}).status_code, 400)


class Reports(Api):
    def test_a_new_report_has_a_heading_to_write_into(self) -> None:
        key = self.ask(self.stranger, "post", "reports", {"title": "  A   name "}).json()["key"]
        room = rooms.enter(key)
        report, _ = room.call(room.settled).result()
        self.assertEqual(([b.style for b in report.blocks], report.title), (["heading-1", "body"], "A name"))
        self.assertEqual(self.ask(self.stranger, "post", "reports", {"title": " "}).status_code, 400)

    def test_the_shelf_says_how_far_behind_each_table_is(self) -> None:
        room = rooms.enter(self.report.key)
        copy = document_of(())
        copy.apply_update(room.call(room.missing, None).result())
        append_block(text_of(copy), PlacedTable("p", "t"))
        room.call(room.receive, copy.get_update(), self.owner).result()
        room.call(room.settled).result()
        del text_of(copy).children[0]
        room.call(room.receive, copy.get_update(), self.owner).result()
        room.call(room.settled).result()
        (card,) = self.ask(self.reader, "get", "reports").json()
        self.assertEqual((card["behind"], card["headings"]), ([1], 2))
        self.assertEqual(
            self.ask(
                self.editor, "post", f"reports/{self.report.key}/tables/t/catch-up", {"scope": "everything"}
            ).status_code,
            200,
        )
        (card,) = self.ask(self.reader, "get", "reports").json()
        self.assertEqual(card["behind"], [0])

    def test_a_reports_key_can_be_given_on_a_command_line(self) -> None:
        """One in sixty-four began with a hyphen, and was taken for an option."""
        with mock.patch("secrets.token_urlsafe", side_effect=["-b", "-c", "d-e"]):
            self.assertEqual(new_key(), "d-e")

    def test_members_by_command(self) -> None:
        call_command("member", self.report.key, "strange", "editor", stdout=io.StringIO())
        self.assertEqual(Membership.objects.get(person=self.stranger).role, "editor")
        call_command("member", self.report.key, "strange", "none", stdout=io.StringIO())
        self.assertFalse(Membership.objects.filter(person=self.stranger).exists())
        with self.assertRaises(CommandError):
            call_command("member", "nothing", "strange", "editor")

    def test_the_typed_client_is_made_from_this_very_api(self) -> None:
        kept = json.loads((Path(__file__).parents[2] / "web/openapi.json").read_text())
        self.assertEqual(kept, json.loads(json.dumps(api.get_openapi_schema(), default=str)), "Run: make types")


class Tables(Api):
    def test_a_table_that_cannot_be_computed_is_said_to_be_so_and_left_as_it_is(self) -> None:
        document = document_of(())
        append_block(text_of(document), PlacedTable("place", "t1"))
        with rooms.room(self.report.key) as room:
            room.call(room.receive, document.get_update(), self.owner).result()
            room.call(room.settled).result()
            issued = IssuedTable.objects.get(key="t1").issued_at
            room.call(lambda: setattr(room, "_level", False)).result()
            with mock.patch.object(page_followers, "paginate", side_effect=ZeroDivisionError), self.assertLogs():
                path = f"reports/{self.report.key}/tables/t1/catch-up"
                answer = self.ask(self.owner, "post", path, {"scope": "everything"})
        self.assertEqual(
            (answer.status_code, answer.json()["message"][:35]), (503, "Pages and tables cannot be computed")
        )
        self.assertEqual(IssuedTable.objects.get(key="t1").issued_at, issued)


class Shelf(ServerCase):
    def test_a_table_that_has_nothing_to_list_is_not_said_to_be_level(self) -> None:
        report = self.make("Words without a heading.\n")
        document = document_of(())
        append_block(text_of(document), PlacedTable("place", "t1"))
        with rooms.room(report.key) as room:
            room.call(room.receive, document.get_update(), self.owner).result()
            room.call(room.settled).result()
        self.client.force_login(self.owner)
        (card,) = self.client.get("/api/reports").json()
        self.assertEqual((card["behind"], card["empty"]), ([], 1))

    def test_a_table_that_was_taken_out_is_not_counted(self) -> None:
        report = self.make()
        IssuedTable.objects.create(report=report, key="gone", recipe={}, placed=False, behind=3)
        self.client.force_login(self.owner)
        (card,) = self.client.get("/api/reports").json()
        self.assertEqual((card["behind"], card["empty"]), ([], 0))

    def test_a_long_shelf_and_a_large_company_ask_the_database_no_more_often(self) -> None:
        """Session and person; then roles, reports, members, tables; or report, role, styles, members, own last change, typefaces of its own."""
        self.client.force_login(self.owner)
        report = self.make()
        for count in (1, 10):
            with self.subTest(count), self.assertNumQueries(6):
                self.assertEqual(len(self.client.get("/api/reports").json()), count)
            with self.subTest(count), self.assertNumQueries(8):
                people = self.client.get(f"/api/reports/{report.key}").json()["people"]
                self.assertEqual(len(people), 2 + count)
            for number in range(9):
                IssuedTable.objects.create(report=self.make(), key="t", recipe={})
                person = User.objects.create(username=f"{count}-{number}")
                Membership.objects.create(report=report, person=person, role=Role.READER)


class Kept(ServerCase):
    def test_reports_from_before_have_the_style_of_notes(self) -> None:
        report, other = self.make(), self.make()
        before = styles_of(report)
        for one in (report, other):
            one.styles.filter(settings__id="note").delete()
        row = other.styles.get(settings__id="body")
        other.styles.create(order=90, settings={**row.settings, "id": "note", "name": "Mine", "role": None})
        import_module("mellowspine.server.shelf.migrations.0016_style_of_notes").add_style(apps, None)
        self.assertEqual(styles_of(report)["note"], before["note"])
        self.assertEqual(styles_of(other)["note"].name, "Mine")

    def test_styles_kept_before_they_said_what_they_are_for_are_told_so_by_their_ids(self) -> None:
        report = self.make()
        report.styles.filter(settings__id__in=["head-and-foot", "note"]).delete()  # which there were not yet
        before = styles_of(report)
        for row in report.styles.all():
            row.settings.pop("role", None)
            row.settings.pop("list_level", None)
            row.save()
        import_module("mellowspine.server.shelf.migrations.0002_roles_of_styles").name_roles(apps, None)
        self.assertEqual(styles_of(report), before)

    def test_numbers_that_were_settings_of_heading_styles_are_those_of_the_report(self) -> None:
        numbered, plain = self.make(), self.make()
        before = styles_of(numbered)
        for row in numbered.styles.all():
            if row.settings.get("outline_level"):
                row.settings |= {"marker": "number", "indent": 32.0, "first_line": -32.0}
                row.save()
        import_module("mellowspine.server.shelf.migrations.0003_numbering").move_numbers(apps, None)
        for report, scheme in ((numbered, "decimal"), (plain, "none")):
            report.refresh_from_db()
            self.assertEqual(scheme_of(sheet_of_report(report).numbering), scheme)
        after = styles_of(numbered)
        self.assertEqual([replace(s, declared=frozenset()) for s in after.values()],
                         [replace(s, declared=frozenset()) for s in before.values()])  # fmt: skip
