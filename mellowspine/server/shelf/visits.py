"""When people were in a report: what happened since is counted from there."""

from __future__ import annotations

import logging
from collections.abc import Collection
from datetime import datetime, timedelta

from django.db import DatabaseError
from django.utils import timezone

from .models import Membership, Report

log = logging.getLogger(__name__)

AWAY = timedelta(minutes=10)
"""Whoever has not been in a report for so long comes back to it."""


def note_here(report: Report, people: Collection[int]) -> None:
    """Notes that people, by number, are in a report at this moment. If it cannot be noted, that is logged."""
    now = timezone.now()
    try:
        for row in Membership.objects.filter(report=report, person__in=people):
            left = row.here_at if row.here_at and now - row.here_at > AWAY else row.left_at
            Membership.objects.filter(pk=row.pk).update(here_at=now, left_at=left)  # it may have gone meanwhile
    except DatabaseError:
        log.exception("Who is in report %s could not be noted", report.key)


def last_here(row: Membership) -> datetime | None:
    """When somebody was in a report last, but for the visit they are on; None if never."""
    if row.here_at and timezone.now() - row.here_at <= AWAY:
        return row.left_at
    return row.here_at
