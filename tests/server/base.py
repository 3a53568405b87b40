"""What the server's tests share: people, a report with members, and rooms that end with the test."""

from __future__ import annotations

import logging

from django.contrib.auth.models import User
from django.test import TransactionTestCase
from pycrdt import Doc

from mellowspine.core.formats import read
from mellowspine.core.report.blocks import Block
from mellowspine.server.config import asgi  # noqa: F401  (sets up the log, before it is made quieter)
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.models import Update
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Membership, Report, Role

# Requests that are refused are what many of these tests are about.
for name in ("django.request", "django.security.csrf"):
    logging.getLogger(name).setLevel(logging.ERROR)

TEXT = "# One\n\nWords.\n\n## Two\n\nMore words.\n\n# Three\n\nLast words.\n"


class ServerCase(TransactionTestCase):
    def setUp(self) -> None:
        self.owner, self.editor, self.reader, self.stranger = (
            User.objects.create(username=name) for name in ("own", "edit", "read", "strange")
        )
        self.addCleanup(rooms.close)

    def make(self, text: str = TEXT) -> Report:
        report = make_report(read("report.md", text.encode()), self.owner)
        Membership.objects.create(report=report, person=self.editor, role=Role.EDITOR)
        Membership.objects.create(report=report, person=self.reader, role=Role.READER)
        return report

    def put_at_the_end(self, report: Report, *blocks: Block) -> None:
        """Has the owner write blocks at the end of a report."""
        document: Doc[object] = Doc()
        for data in Update.objects.filter(report=report).values_list("data", flat=True):
            document.apply_update(bytes(data))
        state = document.get_state()
        for block in blocks:
            append_block(text_of(document), block)
        with rooms.room(report.key) as room:
            room.call(room.receive, document.get_update(state), self.owner).result()
