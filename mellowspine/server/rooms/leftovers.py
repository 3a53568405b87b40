"""What nobody needs any more goes, each kind a time after it was needed last."""

from __future__ import annotations

import logging
from collections.abc import Collection, Sequence
from datetime import timedelta

from django.contrib.sessions.models import Session
from django.db import DatabaseError
from django.db.models import QuerySet
from django.utils import timezone

from mellowspine.core.report.blocks import Block, images
from mellowspine.core.report.page import page_from_json
from mellowspine.server.shelf.models import HeadingChange, IssuedTable, Picture, Report
from mellowspine.server.shelf.pictures import forget_pictures, forget_unfinished

log = logging.getLogger(__name__)

PICTURES, TABLES, CHANGES = timedelta(days=30), timedelta(days=90), timedelta(days=90)
"""How long pictures and tables are kept that are no longer in the text: undo, or whoever wrote without a connection, may bring
them back; and what was done to headings that are gone, which explains why something is missing."""
KEPT = timedelta(days=30)
"""How long kept words can be taken up again that somebody has dealt with."""
UNFINISHED = timedelta(days=1)
"""How long a report is kept that is on nobody's shelf, or a picture of which not all is there: making it was ended halfway."""


def sweep() -> None:
    """Takes out sign-ins that have ended, and reports whose making was never finished. What cannot be done is logged."""
    now = timezone.now()
    try:
        Session.objects.filter(expire_date__lt=now).delete()
        for report in Report.objects.filter(members=None, made_at__lt=now - UNFINISHED):
            forget_pictures(report, {*report.pictures.values_list("source", flat=True)})
            forget_unfinished(report, now)
            report.delete()
    except DatabaseError:
        log.exception("What has ended could not be taken out; it is tried again later")


def sweep_report(report: Report, blocks: Sequence[Block], tables: Collection[str], known: Collection[str]) -> None:
    """Notes what is no longer in the text of a report, and takes out what has not been for long.

    ``tables``: the keys of those in the text; ``known``: ids of headings and places that are in it, or in a table's lines.
    """
    now = timezone.now()
    sources = {image.source for image in images(blocks)} | {_picture_of_pages(report)}
    forget_pictures(report, _ended(report.pictures.all(), "source", sources, now - PICTURES))
    forget_unfinished(report, now - UNFINISHED)
    report.tables.filter(key__in=_ended(report.tables.all(), "key", tables, now - TABLES)).delete()
    old = HeadingChange.objects.filter(report=report, at__lt=now - CHANGES).values_list("pk", "heading")
    gone = [pk for pk, heading in old if heading not in known]
    report.touches.filter(at__lt=now - CHANGES).delete()
    report.kept_words.filter(settled_at__lt=now - KEPT).delete()
    for first in range(0, len(gone), 500):
        HeadingChange.objects.filter(pk__in=gone[first : first + 500]).delete()


def _picture_of_pages(report: Report) -> str:
    """The picture at heads and feet, as it is set now."""
    return page_from_json(Report.objects.values_list("page", flat=True).get(pk=report.pk)).picture


def _ended(
    rows: QuerySet[Picture] | QuerySet[IssuedTable], name: str, used: Collection[str], before: object
) -> set[str]:
    """Marks rows that are used, or no longer; gives the names of those that have not been since ``before``."""
    found = rows.values_list("pk", name, "unused_since")
    again = [pk for pk, value, since in found if value in used and since is not None]
    begins = [pk for pk, value, since in found if value not in used and since is None]
    rows.filter(pk__in=again).update(unused_since=None)
    rows.filter(pk__in=begins).update(unused_since=timezone.now())
    return {value for _, value, since in found if value not in used and since is not None and since < before}
