"""What the server's tests share: people, a report with members, and rooms that end with the test."""

from __future__ import annotations

import logging

from django.contrib.auth.models import User
from django.test import TransactionTestCase

from mellowspine.core.formats import read
from mellowspine.server.config import asgi  # noqa: F401  (sets up the log, before it is made quieter)
from mellowspine.server.rooms.making import make_report
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
