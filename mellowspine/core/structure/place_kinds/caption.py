"""Captions: paragraphs that are counted under a label."""

from __future__ import annotations

from ..noted import Marked, Noted, Place
from .kind import Around, PlaceKind


def _place(marked: Marked, one: Noted, block: int, around: Around) -> Place:
    label, number, text = around.captions[one.id]
    return Place(one.id, "caption", label.name, number, " ".join(text.split()), block, one.row)


caption = PlaceKind("caption", _place, paragraph=lambda paragraph: paragraph.caption is not None)
