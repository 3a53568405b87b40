"""Typefaces of a report: which its styles and words name, what they are shown in, and the files it has of its own."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from mellowspine.core.formats.imported import FileRefused
from mellowspine.core.formats.typeface_files import LARGEST
from mellowspine.core.pages.typefaces import families_named, family, is_as_wide
from mellowspine.core.report.blocks import FONTS
from mellowspine.server.reading import face_apart
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Report
from mellowspine.server.shelf.reports import open_report
from mellowspine.server.shelf.typefaces import MOST, store_face

from .rooms import report_of

router = Router()


class OwnFace(Schema):
    """A file that the report has of its own."""

    key: str
    bold: bool
    italic: bool


class Family(Schema):
    """A family that the report names or has of its own. ``shown_in``: the one that stands in for it; itself if it is here."""

    name: str
    shown_in: str
    as_wide: bool
    """Whether what it is shown in has letters of the same widths, so that lines break as they would."""
    used: bool
    faces: list[OwnFace]


@router.get("/reports/{key}/typefaces", response=list[Family])
def typefaces(request: HttpRequest, key: str) -> list[Family]:
    found, _ = open_report(key, request.user)
    return _families(found)


@router.post("/reports/{key}/typefaces", response=list[Family])
def bring_in_typeface(request: HttpRequest, key: str, file: File[UploadedFile]) -> list[Family]:
    """Gives the report a face of its own, in place of one of the same family, weight and slant."""
    found, _ = open_report(key, request.user, change=True)
    if (file.size or 0) > LARGEST:
        raise Refusal("The file is larger than 16 MB; bring in a face with fewer characters.")
    try:
        face = face_apart(file.read())
    except FileRefused as refused:
        raise Refusal(str(refused)) from None
    if not store_face(found, face):
        raise Refusal(
            f"The report has {MOST} typefaces of its own, which is as many as it can have; take one out first."
        )
    rooms.renew(found.key)
    return _families(found)


@router.delete("/reports/{key}/typefaces/{face}", response=list[Family])
def take_out_typeface(request: HttpRequest, key: str, face: str) -> list[Family]:
    """Takes a face out again; whatever names it is shown in another from then on."""
    found, _ = open_report(key, request.user, change=True)
    if not found.typefaces.filter(key=face).delete()[0]:
        raise Refusal("This typeface is not in the report any more.", 404)
    rooms.renew(found.key)
    return _families(found)


@router.get("/reports/{key}/typefaces/{face}/file", response={200: Any})
def typeface_file(request: HttpRequest, key: str, face: str) -> HttpResponse:
    found, _ = open_report(key, request.user)
    row = found.typefaces.filter(key=face).first()
    if row is None:
        raise Refusal("This typeface is not in the report.", 404)
    return HttpResponse(
        bytes(row.data),
        content_type="font/ttf",
        headers={"Cache-Control": "private, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"},
    )


def _families(row: Report) -> list[Family]:
    own: dict[str, list[OwnFace]] = {}
    for one in row.typefaces.defer("data"):
        own.setdefault(one.family, []).append(OwnFace(key=one.key, bold=one.bold, italic=one.italic))
    here = {name.lower(): name for name in (*FONTS, *own)}
    named = families_named(report_of(row.key))
    names = {here.get(name.lower(), name): True for name in named} | {name: name in named for name in own}
    return [
        Family(
            name=name,
            shown_in=(shown := name if name.lower() in here else family(name)),
            as_wide=shown == name or is_as_wide(name),
            used=used,
            faces=own.get(name, []),
        )
        for name, used in sorted(names.items(), key=lambda one: one[0].lower())
    ]
