"""``manage.py member REPORT PERSON ROLE``: gives a person a role in a report, or takes it away."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from mellowspine.server.shelf.models import Membership, Report, Role


class Command(BaseCommand):
    help = "Gives a person a role in a report: owner, editor, reader, or none."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("report", help="key of the report: the last part of its address")
        parser.add_argument("person", help="name with which the person signs in")
        parser.add_argument("role", choices=[*Role.values, "none"])

    def handle(self, *args: Any, **options: Any) -> None:
        report = Report.objects.filter(key=options["report"]).first()
        person = User.objects.filter(username=options["person"]).first()
        if report is None or person is None:
            missing = f"report “{options['report']}”" if report is None else f"person “{options['person']}”"
            raise CommandError(f"There is no {missing}; check the spelling.")
        if options["role"] == "none":
            Membership.objects.filter(report=report, person=person).delete()
        else:
            Membership.objects.update_or_create(report=report, person=person, defaults={"role": options["role"]})
        self.stdout.write(f"{person.get_username()}: {options['role']} of “{report.title}”")
