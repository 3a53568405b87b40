"""Bookmarks: words that somebody has given a name. Their number is that of the section in which they stand."""

from __future__ import annotations

from ...report.blocks import Marks
from ..noted import Marked, Noted, Place
from .kind import Around, PlaceKind


def _mark(marks: Marks) -> tuple[str, str] | None:
    return (marks.bookmark.id, marks.bookmark.name) if marks.bookmark else None


def _place(marked: Marked, one: Noted, block: int, around: Around) -> Place:
    number, words = around.section_number(block, one.row), " ".join(marked.words.split())
    return Place(marked.id, "bookmark", "", number, marked.name, block, one.row, marked.start, words)


bookmark = PlaceKind("bookmark", _place, mark=_mark, has_name=True)
