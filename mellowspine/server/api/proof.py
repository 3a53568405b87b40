"""The proof: the exact pages of a report, as the marks that its PDF is drawn from."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from threading import Lock
from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from mellowspine.core.pages.draw import Belongs, Curves, Drawing, Link, Paper, Picture, Rule, Target, Words
from mellowspine.core.pages.hyphens import HYPHEN
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import Face
from mellowspine.core.tables.changing import Now
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.derived import NotComputed
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.shelf.reports import open_report

router = Router()

MOST_PAGES = 40
"""How many are given at once."""


class ProofFace(Schema):
    """One of the faces in which words are set. ``tabular``: with figures of one width."""

    font: str
    bold: bool
    italic: bool
    tabular: bool


class ProofPaper(Schema):
    """The paper of a page, counted from 1, and of those behind it up to the next that is said; in points."""

    first: int
    width: float
    height: float


class ProofPage(Schema):
    """What stands on a page, counted from 1. Lengths in points, from its left and top; colours as #rrggbb.

    ``words``: x, baseline, the words, their face among ``Proof.faces``, size, colour, width; ``rules``: x, y, width, height, weight
    of the line, its colour, that of what it is filled with, how long its dashes are; ``curves``: x, baseline, size, colour, width, the path
    (SVG 2, 9.3, in sizes) and the words of formulas; ``pictures``: x, y, width, height, source; ``links``: x, y, width,
    height, where they lead (the id of a place if they have a name, else a web address), name; ``places``: id and y of what links
    lead to; ``blocks``: id, x, y, width, height of what stands there of each block of the text; ``headings``: ids and words of those
    among them.
    """

    number: int
    words: list[tuple[float, float, str, int, float, str, float]]
    rules: list[tuple[float, float, float, float, float, str, str | None, float]]
    curves: list[tuple[float, float, float, str, float, str, str]]
    pictures: list[tuple[float, float, float, float, str]]
    links: list[tuple[float, float, float, float, str, str]]
    places: list[tuple[str, float]]
    blocks: list[tuple[str, float, float, float, float]]
    headings: list[tuple[str, str]]


class Proof(Schema):
    """Some pages of a report that has ``count`` of them."""

    count: int
    papers: list[ProofPaper]
    faces: list[ProofFace]
    pages: list[ProofPage]


class _Drawings:
    """The drawings of reports that were looked at last: whoever leafs through one asks again and again."""

    KEPT = 8

    def __init__(self) -> None:
        self._known: OrderedDict[str, Drawing] = OrderedDict()
        self._lock = Lock()

    def of(self, key: str, now: Now) -> Drawing:
        with self._lock:
            known = self._known.get(key)
            if known is None or known.pages is not now.pages:
                known = self._known[key] = Drawing(now.pages, now.typefaces, timezone.localdate())
            self._known.move_to_end(key)
            while len(self._known) > self.KEPT:
                self._known.popitem(last=False)
            return known


_drawings = _Drawings()


@router.get("/reports/{key}/proof", response=Proof)
def proof(
    request: HttpRequest,
    key: str,
    first: Annotated[int, Field(ge=1, le=1_000_000)] = 1,
    last: Annotated[int, Field(ge=1, le=1_000_000)] = 1,
) -> Proof:
    """Some of the pages, 40 at most, as they are now; what is asked for behind the last one is left out."""
    open_report(key, request.user)
    with rooms.room(key) as room:
        try:
            now: Now = room.call(room.now).result()
        except NotComputed:
            raise Refusal(
                "The pages could not be computed; the text itself is stored. Try again in a moment.", 503
            ) from None
    drawing = _drawings.of(key, now)
    count = len(now.pages)
    faces: dict[Face, int] = {}
    shown = range(first, min(last, first + MOST_PAGES - 1, count) + 1)
    pages = [_page(drawing, number, faces) for number in shown]
    return Proof(
        count=count,
        papers=[*_papers(now.pages)],
        faces=[ProofFace(font=one.font, bold=one.bold, italic=one.italic, tabular=one.tabular) for one in faces],
        pages=pages,
    )


def _papers(pages: Pages) -> Iterator[ProofPaper]:
    """Paper changes with parts alone; a page that is left empty in front of one is of the part before it."""
    last: tuple[float, float] | None = None
    for stretch in pages.stretches:
        size = stretch.page.width, stretch.page.height
        if size != last:
            yield ProofPaper(first=pages.page_of(stretch.first) if last else 1, width=size[0], height=size[1])
        last = size


def _page(drawing: Drawing, number: int, faces: dict[Face, int]) -> ProofPage:
    paper = drawing.paper(number)
    made = ProofPage(
        number=number, words=[], rules=[], curves=[], pictures=[], links=[], places=[], blocks=[*_blocks(drawing, number, paper)], headings=[]
    )  # fmt: skip
    for mark in drawing.page(number):
        if isinstance(mark, Belongs):
            continue
        if isinstance(mark, Target):
            made.places.append((mark.id, _points(paper.top + mark.y)))
            if mark.heading is not None:
                made.headings.append((mark.id, f"{mark.heading.number} {mark.heading.text}".strip()))
            continue
        if isinstance(mark, Words):
            face = faces.setdefault(mark.face, len(faces))
            text, width = mark.text, mark.width
            if mark.hyphen:
                text, width = f"{text}{HYPHEN}", mark.face.width(f"{text}{HYPHEN}") * mark.size
            x, baseline = _points(paper.left + mark.x), _points(paper.top + mark.baseline)
            made.words.append((x, baseline, text, face, mark.size, mark.colour, _points(width)))
            continue
        if isinstance(mark, Curves):
            x, baseline = _points(paper.left + mark.x), _points(paper.top + mark.baseline)
            made.curves.append((x, baseline, mark.size, mark.colour, _points(mark.width), mark.outline, mark.says))
            continue
        area = (_points(paper.left + mark.x), _points(paper.top + mark.y), _points(mark.width), _points(mark.height))
        if isinstance(mark, Rule):
            made.rules.append((*area, mark.weight, mark.colour, mark.fill, mark.dash))
        elif isinstance(mark, Picture):
            made.pictures.append((*area, mark.source))
        elif isinstance(mark, Link):
            made.links.append((*area, mark.to, mark.name))
    return made


def _blocks(drawing: Drawing, number: int, paper: Paper) -> Iterator[tuple[str, float, float, float, float]]:
    pages = drawing.pages
    page = pages.stretch(number).page
    for placed in pages.content(number):
        height = pages.boxes[placed.box].extent(placed.first, placed.end)
        if height:
            x = paper.left + placed.column * (page.column_width + page.column_gap)
            area = _points(x), _points(paper.top + placed.y), _points(page.column_width), _points(height)
            yield (pages.report.blocks[placed.box].id, *area)


def _points(length: float) -> float:
    """A length in points, as exactly as anybody sees."""
    return round(length, 2)
