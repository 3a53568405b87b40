"""What is pasted: the browser sends what its clipboard holds, and is given blocks."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from mellowspine.core.formats.imported import FileRefused, Keep
from mellowspine.core.report.elements import element_of
from mellowspine.core.report.plan import element_as_json
from mellowspine.server.reading import read_html_apart
from mellowspine.server.refusals import Refusal
from mellowspine.server.shelf.pictures import store_picture
from mellowspine.server.shelf.reports import open_report

from .files import Noted
from .rooms import report_of

router = Router()

LARGEST = 60 * 1024 * 1024
"""Bytes of HTML that are read, the pictures in it included."""


class Pasted(Schema):
    """Blocks as they stand in plans, and what did not come along."""

    blocks: list[dict[str, Any]]
    notes: list[Noted]


@router.post("/reports/{key}/clipboard", response=Pasted)
def read_clipboard(request: HttpRequest, key: str, file: File[UploadedFile], keep: Keep = "structure") -> Pasted:
    """Reads HTML for a report, in its styles. Nothing of it is put into the text here; its pictures are stored."""
    found, _ = open_report(key, request.user, change=True)
    if (file.size or 0) > LARGEST:
        raise Refusal("The clipboard holds more than 60 MB; save it as a file and bring that in.")
    try:
        pasted = read_html_apart(file.read().decode("utf-8", "replace"), report_of(key), keep)
    except FileRefused as refusal:
        raise Refusal(str(refusal)) from None
    for source, data in pasted.pictures.items():
        store_picture(found, source, data)
    return Pasted(
        blocks=[element_as_json(element_of(block)) for block in pasted.report.blocks],
        notes=[Noted(what=note.what, count=note.count) for note in pasted.notes],
    )
