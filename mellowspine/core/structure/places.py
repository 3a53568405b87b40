"""Places: what links and references can lead to; headings and all of the ``place_kinds``, in reading order.

One index for choosing, checking, the spine, tables and files.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import NamedTuple

from ..report.diff import diff
from .captions import Captions
from .noted import Marked, Notes, Place
from .outline import Outline
from .place_kinds import MAKERS, MARKS, Around

Places = Mapping[str, Place]
"""By id, in reading order."""


class Before(NamedTuple):
    """An earlier state, with its places."""

    headings: Outline
    noted: Notes
    captions: Captions
    places: Places


def places(
    headings: Outline,
    noted: Notes,
    captions: Captions,
    wanted: Collection[str] | None = None,
    before: Before | None = None,
) -> Mapping[str, Place]:
    """Everything that links can lead to, by id, in reading order; or what of it is ``wanted``, in any. Of two with one id the
    first counts. ``before`` changes nothing but the time it takes."""
    if before and wanted is None and (found := _carried(headings, noted, captions, before)) is not None:
        return found
    return _found(headings, noted, captions, wanted)


def _carried(headings: Outline, noted: Notes, captions: Captions, before: Before) -> Places | None:
    """The places as they were, where the same paragraphs are noted as before, and those that read otherwise have nothing marked in
    them; None elsewhere."""
    if before.headings is not headings or len(before.noted) != len(noted) or before.captions != captions:
        return None
    change = diff(before.noted, noted)
    around = Around(headings, captions)
    found = dict(before.places)
    for (then, old), (block, one) in zip(
        before.noted[change.first : change.old_end], noted[change.first : change.new_end], strict=True
    ):
        if old.places or one.places or (then, old.id, old.kind, old.row) != (block, one.id, one.kind, one.row):
            return None
        if one.kind:
            if found[one.id].block != block:
                return None
            found[one.id] = MAKERS[one.kind](Marked(one.kind, one.id, "", "", 0), one, block, around)
    return found


def _found(headings: Outline, noted: Notes, captions: Captions, wanted: Collection[str] | None) -> dict[str, Place]:
    found = {
        one.id: Place(one.id, "heading", "", one.number, one.text, one.block, one.row)
        for one in headings
        if (wanted is None or one.id in wanted) and one.id not in captions
    }
    around = Around(headings, captions)
    until: dict[str, int] = {}
    """By place the last of the notes to which its words go on."""
    for at, (block, one) in enumerate(noted):
        if one.kind and (wanted is None or one.id in wanted):
            found[one.id] = MAKERS[one.kind](Marked(one.kind, one.id, "", "", 0), one, block, around)
        for mark in one.places:
            if mark.start == 0 and until.get(mark.id) == at - 1:
                known, words = found[mark.id], " ".join(mark.words.split())
                found[mark.id], until[mark.id] = known._replace(words=f"{known.words} {words}".strip()), at
            elif (wanted is None or mark.id in wanted) and mark.id not in found:
                until[mark.id] = at
                found[mark.id] = MAKERS[mark.kind](mark, one, block, around)
    if wanted is not None:
        return found
    # Of what begins at one place, the paragraph comes before what is marked in it.
    ordered = sorted(found.values(), key=lambda place: (place.block, place.row, place.offset, place.kind in MARKS))
    return {place.id: place for place in ordered}
