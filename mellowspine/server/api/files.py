"""Files in and out: import, pictures, PDF."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import asdict
from typing import Any, NamedTuple
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from mellowspine.core.formats import LARGEST_FILE, WRITERS
from mellowspine.core.formats.chosen import What, chosen
from mellowspine.core.formats.imported import FileRefused, Imported, Progress
from mellowspine.core.formats.pictures import NotAPicture, size_of
from mellowspine.core.formats.told import told
from mellowspine.core.formats.walk import About, Format, Written
from mellowspine.core.formats.where import with_sections
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, images
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.server.accounts.people import shown_name, signed_in
from mellowspine.server.jobs import Job, jobs
from mellowspine.server.reading import check_apart, read_apart
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import NotComputed
from mellowspine.server.rooms.document import SCHEMA
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.models import Role
from mellowspine.server.shelf.pictures import read_pictures, store_picture
from mellowspine.server.shelf.reports import open_report
from mellowspine.server.shelf.typefaces import face_files

router = Router()

_PAGES_AWAITED = 5.0
"""Seconds for which an import waits for its pages to be counted; after that they follow when they can."""

LARGEST_PICTURE = 50 * 1024 * 1024


class Noted(Schema):
    """Something that did not come along as it is in a file: what, and what became of it."""

    what: str
    instead: str
    count: int
    lost: bool
    """Whether nothing of it is there."""
    where: list[str]
    """The sections where it occurs, in reading order; none if it is about the whole file."""


class Summary(Schema):
    """What came out of an import."""

    report: str
    title: str
    paragraphs: int
    headings: int
    pictures: int
    data_tables: int
    notes: list[Noted]


class JobShown(Schema):
    key: str
    state: str
    done: int
    total: int
    message: str
    summary: Summary | None = None


class StoredPicture(Schema):
    source: str
    width: float
    height: float
    made_smaller: str | None = None
    """Its width and height in pixels, if it was made smaller."""


def job_shown(job: Job | None) -> JobShown:
    if job is None:
        raise Refusal("Too much is going on at once; wait until one of your files is done.", 429)
    summary = job.result if job.state == "done" and isinstance(job.result, Summary) else None
    return JobShown(key=job.key, state=job.state, done=job.done, total=job.total, message=job.message, summary=summary)


def find_job(request: HttpRequest, key: str) -> Job:
    """A job of whoever asks. Raises Refusal."""
    job = jobs.find(key, signed_in(request).pk)
    if job is None:
        raise Refusal("This work is over or was never begun; start it again.", 404)
    return job


def counts_of(report: CoreReport) -> dict[str, int]:
    """How much of each kind a report holds."""
    kinds = [type(block).__name__ for block in report.blocks]
    levels = report.styles.levels
    return {
        "paragraphs": kinds.count("Paragraph"),
        "headings": sum(isinstance(block, Paragraph) and block.style in levels for block in report.blocks),
        "pictures": sum(1 for _ in images(report.blocks)),
        "data_tables": kinds.count("DataTable"),
    }


def notes_of(imported: Imported) -> list[Noted]:
    return [
        Noted(what=note.what, instead=note.instead, count=note.count, lost=note.lost, where=[*sections])
        for note, sections in with_sections(imported)
    ]


@router.post("/imports", response=JobShown)
def bring_in(request: HttpRequest, file: File[UploadedFile]) -> JobShown:
    """Begins to read a file into a new report."""
    user = signed_in(request)
    if (file.size or 0) > LARGEST_FILE:
        raise Refusal("The file is larger than 100 MB; make its pictures smaller, or bring it in section by section.")
    name, data = file.name or "", file.read()

    def work(progress: Progress) -> Summary:
        imported, text = read_apart(name, data, progress)
        progress(1, 1)  # the last moment at which it can be cancelled
        made = make_report(imported, user, text, SCHEMA)
        with rooms.room(made.key) as room, suppress(TimeoutError, NotComputed):
            room.call(room.settled).result(_PAGES_AWAITED)
        return Summary(report=made.key, title=made.title, notes=notes_of(imported), **counts_of(imported.report))

    return job_shown(jobs.start(user.pk, work))


class ToldShown(Schema):
    """What of a report a file in some format will not have as it is: what, what becomes of it, and how often."""

    what: str
    instead: str
    count: int
    lost: bool
    """Whether nothing of it is there."""


def _format(ending: str) -> Format:
    """The format that files with an ending are in. Raises Refusal."""
    format = WRITERS.get(f".{ending}")
    if format is None:
        raise Refusal(f"Reports cannot be written in this format; choose {' or '.join(WRITERS)}.", 404)
    return format


@router.get("/reports/{key}/files/{ending}", response=list[ToldShown])
def say_of_file(request: HttpRequest, key: str, ending: str, what: What = "all", of: str = "") -> list[ToldShown]:
    """What of the report a file with this ending will not have as it is; of what is meant as in writing it."""
    found, _ = open_report(key, request.user)
    _format(ending)
    with rooms.room(found.key) as room:
        _, pages = room.call(room.settled).result()
    try:
        only = chosen(pages, what, of)
    except KeyError:
        raise Refusal("This section is not there any more; choose another one.", 404) from None
    return [ToldShown(**asdict(one)) for one in told(f".{ending}", pages, only)]


class Made(NamedTuple):
    """A file that a job has made."""

    name: str
    media_type: str
    data: bytes


@router.post("/reports/{key}/files/{ending}", response=JobShown)
def begin_file(request: HttpRequest, key: str, ending: str, what: What = "all", of: str = "") -> JobShown:
    """Begins to write a report in the format of an ending, such as ``pdf``: ``what`` of it, and ``of`` which section or part, by the
    id of the block with which that begins."""
    found, _ = open_report(key, request.user)
    user = signed_in(request)
    format = _format(ending)

    # The owner first, then who else writes in it.
    writers = found.members.exclude(role=Role.READER).select_related("person")
    members = sorted(writers, key=lambda one: (one.role != Role.OWNER, one.pk))

    def work(progress: Progress) -> Made:
        with rooms.room(found.key) as room:
            report, pages = room.call(room.settled).result()
        try:
            only = chosen(pages, what, of)
        except KeyError:
            raise FileRefused("This section is not there any more; choose another one.") from None
        pictures = read_pictures(found)
        about = About(tuple(shown_name(one.person) for one in members), timezone.now())
        data = format.write(Written(report, pages, Typefaces(face_files(found)), pictures, progress, about, only))
        name = "".join(c if c.isalnum() or c in " -_.," else "-" for c in report.title).strip()[:120] or "report"
        return Made(f"{name}.{ending}", format.media_type, data)

    return job_shown(jobs.start(user.pk, work))


@router.get("/jobs/{key}", response=JobShown)
def look(request: HttpRequest, key: str) -> JobShown:
    return job_shown(find_job(request, key))


@router.delete("/jobs/{key}", response=JobShown)
def cancel(request: HttpRequest, key: str) -> JobShown:
    job = find_job(request, key)
    job.cancelled.set()
    return job_shown(job)


@router.get("/jobs/{key}/file", response={200: Any})
def fetch(request: HttpRequest, key: str) -> HttpResponse:
    job = find_job(request, key)
    if job.state != "done" or not isinstance(job.result, Made):
        raise Refusal("The file is not ready yet; wait a moment.", 409)
    name, media_type, data = job.result
    plain = f"report.{name.rsplit('.', 1)[1]}"
    return HttpResponse(
        data,
        content_type=media_type,
        headers={
            "Cache-Control": "no-store",
            "Content-Disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}",
        },
    )


@router.post("/reports/{key}/pictures", response=StoredPicture)
def add_picture(request: HttpRequest, key: str, file: File[UploadedFile]) -> StoredPicture:
    """Stores a picture, made smaller if it is larger than prints well; the browser then puts it into the text. Width and height in points."""
    found, _ = open_report(key, request.user, change=True)
    if (file.size or 0) > LARGEST_PICTURE:
        raise Refusal("The picture is larger than 50 MB; make it smaller and try again.")
    try:
        picture = check_apart(file.read())
    except NotAPicture as fault:
        raise Refusal(fault.message) from None
    except FileRefused:
        raise Refusal(
            "The picture takes too long or too much to be looked at; make it smaller and try again."
        ) from None
    store_picture(found, picture.source, picture.data)
    width, height = size_of(picture.width, picture.height)
    smaller = f"{picture.width:,} × {picture.height:,}" if picture.made_smaller else None
    return StoredPicture(source=picture.source, width=width, height=height, made_smaller=smaller)
