"""Notes at the foot of pages and at ends: paragraphs that stand elsewhere than they are written."""

from __future__ import annotations

from ...report.blocks import INLINE_OBJECT
from ..noted import Marked, Noted, Place
from .kind import Around, PlaceKind


def _place(marked: Marked, one: Noted, block: int, around: Around) -> Place:
    return Place(one.id, "note", "", "", " ".join(one.text.replace(INLINE_OBJECT, "").split()), block, one.row)


note = PlaceKind("note", _place, paragraph=lambda paragraph: paragraph.note is not None)
