"""Faces that reports have of their own, as rows."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import IntegrityError, transaction

from mellowspine.core.pages.typefaces import FaceFile

from .models import Report, Typeface

MOST = 24
"""Files of a report: six families of four faces."""


def face_keys(report: Report) -> Sequence[str]:
    """The keys of a report's own faces: the same for the same files."""
    return [*report.typefaces.order_by("pk").values_list("key", flat=True)]


def face_files(report: Report) -> Sequence[FaceFile]:
    """A report's own faces, with their files."""
    rows = report.typefaces.all()
    return [FaceFile(row.family, row.bold, row.italic, bytes(row.data), row.whole) for row in rows]


def store_face(report: Report, face: FaceFile) -> bool:
    """Stores a face, in place of one of the same family, weight and slant; whether there was room for it."""
    try:
        return _store(report, face)
    except IntegrityError:  # somebody else has brought in the same one in this very moment
        return _store(report, face)


@transaction.atomic
def _store(report: Report, face: FaceFile) -> bool:
    there = [*report.typefaces.defer("data")]
    kin = [row for row in there if row.family.lower() == face.family.lower()]
    same = [row for row in kin if (row.bold, row.italic) == (face.bold, face.italic)]
    if len(there) - len(same) >= MOST:
        return False
    for row in same:
        row.delete()
    spelt = kin[0].family if kin else face.family  # the faces of a family are called alike
    Typeface.objects.create(report=report, **face._replace(family=spelt)._asdict())
    return True
