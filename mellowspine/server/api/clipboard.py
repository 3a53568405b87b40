"""What is pasted, and files that are brought into a text: read here, put in by the browser."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, NamedTuple

from django.contrib.auth.models import User
from django.core.cache import cache
from django.http import HttpRequest
from ninja import File, Path, Router, Schema
from ninja.files import UploadedFile

from mellowspine.core.formats import LARGEST_FILE
from mellowspine.core.formats.html import write_piece
from mellowspine.core.formats.imported import FileRefused, Imported, Keep, Progress
from mellowspine.core.formats.text import write_piece as write_words
from mellowspine.core.report.blocks import Paragraph, PlacedTable, images
from mellowspine.core.report.elements import Element, element_of, is_kind, read_block, validate
from mellowspine.core.report.fitting import Fitted, fitted, highest_level, level_before
from mellowspine.core.report.plan import Insert, as_json, element_as_json, element_from_json
from mellowspine.core.structure.markers import list_markers
from mellowspine.server.accounts.people import signed_in
from mellowspine.server.jobs import jobs
from mellowspine.server.reading import read_apart, read_html_apart
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.document import new_id
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.pictures import read_picture
from mellowspine.server.shelf.reports import open_report
from mellowspine.server.shelf.taking_in import take_in

from .files import JobShown, Noted, counts_of, find_job, job_shown, notes_of
from .rooms import report_of

log = logging.getLogger(__name__)

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
    came = Fitted(pasted.report.blocks, replace(pasted.report, labels={}, categories={}), {})
    if take_in(found, signed_in(request), came, pasted.pictures, "what was pasted"):
        rooms.renew(found.key)
    return Pasted(
        blocks=[element_as_json(element_of(block)) for block in pasted.report.blocks],
        notes=notes_of(pasted),
    )


class HeadingRead(Schema):
    level: int
    text: str


class ReadToInsert(Schema):
    """A file that has been read and waits to be put in. ``level``: that at which its highest headings would come to stand, under
    the heading in front of the place; None if it has no headings."""

    title: str
    outline: list[HeadingRead]
    level: int | None
    headings: int
    paragraphs: int
    pictures: int
    data_tables: int
    notes: list[Noted]


class Place(Schema):
    """Behind which block, and at which level its highest headings are to stand."""

    after: str
    level: int | None = None


class InsertionPlan(Schema):
    plan: list[dict[str, Any]]
    first: str
    """The id of the first block that it puts in."""


MOST_HEADINGS_SHOWN = 200


@router.post("/reports/{key}/insertions", response=JobShown)
def read_to_insert(request: HttpRequest, key: str, file: File[UploadedFile]) -> JobShown:
    """Begins to read a file that is to be put into a text."""
    open_report(key, request.user, change=True)
    user = signed_in(request)
    if (file.size or 0) > LARGEST_FILE:
        raise Refusal("The file is larger than 100 MB; make its pictures smaller, or bring it in section by section.")
    name, data = file.name or "", file.read()

    def work(progress: Progress) -> Imported:
        return read_apart(name, data, progress).imported

    return job_shown(jobs.start(user.pk, work))


def _read(request: HttpRequest, job: str) -> Imported:
    found = find_job(request, job).result
    if not isinstance(found, Imported):
        raise Refusal("The file is not read yet; wait a moment.", 409)
    return found


@router.post("/reports/{key}/insertions/{job}/look", response=ReadToInsert)
def look_at_insertion(request: HttpRequest, key: str, job: str, place: Place) -> ReadToInsert:
    """What is in a file that has been read, and where it would stand behind a block."""
    open_report(key, request.user, change=True)
    found = _read(request, job)
    report = found.report
    levels = report.styles.levels
    headings = [b for b in report.blocks if isinstance(b, Paragraph) and b.style in levels]
    under = level_before(report_of(key), place.after)
    return ReadToInsert(
        title=report.title,
        outline=[HeadingRead(level=levels[one.style], text=one.text[:200]) for one in headings[:MOST_HEADINGS_SHOWN]],
        level=min(under + 1, 9) if headings else None,
        notes=notes_of(found),
        **counts_of(report),
    )


@router.post("/reports/{key}/insertions/{job}", response=InsertionPlan)
def plan_insertion(request: HttpRequest, key: str, job: str, place: Place) -> InsertionPlan:
    """The plan that puts a file in, for the browser to carry out. What the report lacks for it is stored."""
    row, _ = open_report(key, request.user, change=True)
    found = _read(request, job)
    highest = highest_level(found.report)
    deeper = place.level - highest if place.level and highest else 0
    report = report_of(key)
    made = fitted(found.report, report, new_id, deeper)
    if take_in(row, signed_in(request), made, found.pictures, f"“{found.report.title}”"):
        rooms.renew(row.key)
    plan = (Insert(made.blocks, place.after),)
    return InsertionPlan(plan=as_json(plan, report), first=made.blocks[0].id)


class ToCopy(Schema):
    """Lines of a table, by what they stand for."""

    lines: list[str]


class Copied(Schema):
    """What was copied, for other programs."""

    html: str
    text: str


class Copy(NamedTuple):
    """What somebody copied: the report that it is from, and its elements."""

    report: str
    elements: tuple[Element, ...]


KEPT = 24 * 3600
"""Seconds for which what somebody copied can be put into reports as it was."""
MOST_KEPT = 10
"""How many of somebody's copies are kept at a time."""
LARGEST_COPY = 32 * 1024 * 1024
"""Bytes of one, as browsers send it."""

Token = Annotated[str, Path(pattern=r"^[a-z0-9]{12,40}$")]


def _copy_of(person: User, token: str) -> str:
    return f"copy-{person.pk}-{token}"


def _keep(person: User, token: str, made: Copy) -> None:
    """Keeps what somebody copied, and forgets what they copied long before."""
    tokens = [token, *(one for one in cache.get(f"copies-{person.pk}", ()) if one != token)]
    cache.delete_many([_copy_of(person, one) for one in tokens[MOST_KEPT:]])
    cache.set(f"copies-{person.pk}", tokens[:MOST_KEPT], KEPT)
    cache.set(_copy_of(person, token), made, KEPT)


@router.post("/reports/{key}/copies/{token}", response=Copied)
def copy(request: HttpRequest, key: str, token: Token, file: File[UploadedFile]) -> Copied:
    """Blocks, or parts of them, as HTML and as plain text; they are kept, to be put into reports as they are.

    ``file``: the blocks as JSON, as they stand in plans; as a file, since a whole report may be copied.
    """
    row, _ = open_report(key, request.user)
    if (file.size or 0) > LARGEST_COPY:
        raise Refusal("This is more than can be copied at once; copy it in parts.")
    elements = tuple(_elements(file.read()))
    blocks = [read_block(element, new_id()) for element in elements]
    with rooms.room(row.key) as room:
        report, pages = room.call(room.settled).result()
    _keep(signed_in(request), token, Copy(row.key, elements))
    numbers = {one.id: one.number for one in pages.worded if one.number}
    sources = {image.source for image in images(blocks)}
    pictures = {source: data for source in sources if (data := read_picture(row, source))}
    address = request.build_absolute_uri(f"/reports/{row.key}#")
    return Copied(
        html=write_piece(blocks, pages.report, numbers, pictures, lambda id: address + id),
        text=write_words(blocks, pages.report, {**list_markers(report), **numbers}),
    )


@router.post("/reports/{key}/tables/{table}/copies", response=Copied)
def copy_lines(request: HttpRequest, key: str, table: str, given: ToCopy) -> Copied:
    """Some lines of a table as they were issued, as HTML and as plain text."""
    row, _ = open_report(key, request.user)
    report = report_of(row.key)
    issued = report.tables.get(table)
    if issued is None:
        raise Refusal("This table is in the report no more.", 404)
    wanted = set(given.lines)
    lines = tuple(line for line in issued.lines if line.source in wanted)
    alone = replace(issued, lines=lines, recipe=replace(issued.recipe, title=""))
    block, report = PlacedTable(new_id(), table), replace(report, tables={table: alone})
    address = request.build_absolute_uri(f"/reports/{row.key}#")
    return Copied(
        html=write_piece([block], report, {}, {}, lambda id: address + id), text=write_words([block], report, {})
    )


def _elements(blocks: bytes) -> Iterator[Element]:
    try:
        for one in map(element_from_json, json.loads(blocks)):
            if not isinstance(one, Element) or not is_kind(one.tag) or validate(one):
                raise ValueError("no block")
            yield one
    except (ValueError, TypeError, RecursionError) as error:
        log.info("What was to be copied is not understood: %s", error)
        raise Refusal("What was copied cannot be read; copy it once more.") from None


class ToPaste(Schema):
    """``moves``: whether it is in the text no more, so that it goes by its own ids again."""

    moves: bool = False


@router.post("/reports/{key}/copies/{token}/paste", response=Pasted)
def paste_copy(request: HttpRequest, key: str, token: Token, given: ToPaste) -> Pasted:
    """What was copied, for a report: this one or another. What that lacks for it is stored."""
    row, _ = open_report(key, request.user, change=True)
    user = signed_in(request)
    kept = cache.get(_copy_of(user, token))
    if not isinstance(kept, Copy):
        raise Refusal("What was copied is not kept any more; copy it once more.", 404)
    from_row, _ = open_report(kept.report, request.user)
    blocks = tuple(read_block(element, new_id()) for element in kept.elements)
    if given.moves and from_row.pk == row.pk:
        return Pasted(blocks=[element_as_json(element_of(block)) for block in blocks], notes=[])
    source = replace(report_of(from_row.key), blocks=blocks)
    made = fitted(source, report_of(row.key), new_id)
    sources = {image.source for image in images(blocks)} if from_row.pk != row.pk else set()
    pictures = {name: data for name in sources if (data := read_picture(from_row, name))}
    if take_in(row, user, made, pictures, f"“{source.title}”"):
        rooms.renew(row.key)
    return Pasted(blocks=[element_as_json(element_of(block)) for block in made.blocks], notes=[])
