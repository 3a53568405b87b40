"""Making reports: rows for all that a report has, and its text as the first updates of the log."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict

from django.contrib.auth.models import User

from mellowspine.core.formats.imported import Imported
from mellowspine.core.report.authorities import DEFAULT_CATEGORIES
from mellowspine.core.report.labels import label_to_json
from mellowspine.core.report.numbering import numbering_to_json
from mellowspine.core.report.parts import parts_to_json
from mellowspine.core.report.recipes import recipe_to_json
from mellowspine.core.report.styles import style_to_json
from mellowspine.core.report.tables import line_to_json
from mellowspine.server.shelf.models import IssuedTable, Membership, Report, ReportStyle, Role
from mellowspine.server.shelf.pictures import store_picture

from .document import SCHEMA, updates_of
from .models import Update


def make_report(imported: Imported, owner: User, text: Sequence[bytes] | None = None, schema: int = 0) -> Report:
    """Puts a report on its owner's shelf: styles, pictures, tables, and the text as the first updates of its log.

    ``text``, if given, is those updates, and ``schema`` that by which they were made; otherwise they are made of the imported
    blocks.
    No part is written in one transaction with another: everybody's saving waits for each. The report is nobody's until all
    of it is there; what is left of one that was not finished goes in time (``leftovers.py``).
    """
    made = imported.report
    if text is None:
        text, schema = updates_of(made.blocks), SCHEMA
    report = Report.objects.create(
        title=made.title[:300],
        page=asdict(made.page),
        parts=parts_to_json(made.parts),
        numbering=numbering_to_json(made.numbering),
        labels=[label_to_json(label) for label in made.labels.values()],
        authorities=[[*one] for one in made.authorities.values()],
        categories=[] if made.categories is DEFAULT_CATEGORIES else [[*one] for one in made.categories.values()],
        sees=[[*one] for one in made.sees],
        schema=schema,
    )
    ReportStyle.objects.bulk_create(
        ReportStyle(report=report, order=order, settings=style_to_json(style))
        for order, style in enumerate(made.styles.values())
    )
    for source, data in imported.pictures.items():
        store_picture(report, source, data)
    IssuedTable.objects.bulk_create(
        IssuedTable(
            report=report,
            key=key,
            recipe=recipe_to_json(issued.recipe),
            lines=[line_to_json(line) for line in issued.lines],
        )
        for key, issued in made.tables.items()
    )
    for data in text:
        # All of one moment: nothing happened in a report before it was made.
        Update.objects.create(report=report, person=owner, data=data, at=report.made_at)
    Membership.objects.create(report=report, person=owner, role=Role.OWNER)
    return report
