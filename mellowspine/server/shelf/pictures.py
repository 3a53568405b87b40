"""Pictures of reports as rows: kept, and read. What is large is written piece by piece, since everybody's saving waits for each."""

from __future__ import annotations

from contextlib import suppress

from django.db import IntegrityError
from django.db.models import QuerySet
from django.utils import timezone

from .models import Picture, PicturePart, Report

PIECE = 4 * 1024 * 1024
"""Bytes that are written in one transaction."""


def store_picture(report: Report, source: str, data: bytes) -> None:
    """Stores a picture that the report does not have yet; it is there once all of it is."""
    if report.pictures.filter(source=source).exists():
        return
    # What is there of it from a time before is not unfinished any more, and stays.
    _rows(report, source).update(at=timezone.now())
    for order, start in enumerate(range(PIECE, len(data), PIECE)):
        with suppress(IntegrityError):  # it is named by its content: whoever stored it before stored the same
            PicturePart.objects.create(report=report, source=source, order=order, data=data[start : start + PIECE])
    with suppress(IntegrityError):
        Picture.objects.create(report=report, source=source, data=data[:PIECE])


def read_picture(report: Report, source: str) -> bytes | None:
    """A picture's file; None if the report does not have it."""
    head = report.pictures.filter(source=source).values_list("data", flat=True).first()
    if head is None:
        return None
    return b"".join([bytes(head), *map(bytes, _rows(report, source).values_list("data", flat=True))])


def read_pictures(report: Report) -> dict[str, bytes]:
    """All pictures' files by source."""
    found = {source: [bytes(data)] for source, data in report.pictures.values_list("source", "data")}
    for source, data in report.picture_parts.order_by("order").values_list("source", "data"):
        if source in found:  # of others not all is there
            found[source].append(bytes(data))
    return {source: b"".join(pieces) for source, pieces in found.items()}


def _rows(report: Report, source: str) -> QuerySet[PicturePart]:
    return report.picture_parts.filter(source=source).order_by("order")


def forget_pictures(report: Report, sources: set[str]) -> None:
    """Takes pictures out, piece by piece."""
    for source in sources:
        report.pictures.filter(source=source).delete()
        for part in _rows(report, source).values_list("pk", flat=True):
            PicturePart.objects.filter(pk=part).delete()


def forget_unfinished(report: Report, before: object) -> None:
    """Takes out the pieces of pictures that were not stored to the end, since ``before``."""
    begun = report.picture_parts.filter(at__lt=before).values_list("source", flat=True).distinct()
    whole = set(report.pictures.values_list("source", flat=True))
    forget_pictures(report, {source for source in begun if source not in whole})
