"""Places: what links and references can lead to; headings, captions and bookmarks, in reading order.

One index for choosing, checking, the spine, tables and files.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection, Mapping
from typing import Literal, NamedTuple

from .captions import Captions
from .notes import Notes
from .outline import Outline

PlaceKind = Literal["heading", "caption", "bookmark", "occurrence"]
"""An occurrence is that of an authority, or of a term of the index: see ``occurrences.py``. Tables alone lead there."""


class Place(NamedTuple):
    """``label`` and ``number`` are as printed: "Figure" and "2-3"; a bookmark has those of the section that it stands in.

    ``offset`` is where in its paragraph a bookmark begins.
    """

    id: str
    kind: PlaceKind
    label: str
    number: str
    text: str
    block: int
    row: int
    offset: int = 0
    words: str = ""
    """The words that a bookmark marks, in all paragraphs over which it goes; ``text`` is its name, which is for lists."""


Places = Mapping[str, Place]
"""By id, in reading order."""


def places(
    headings: Outline, noted: Notes, captions: Captions, wanted: Collection[str] | None = None
) -> dict[str, Place]:
    """Everything that links can lead to, by id, in reading order; or what of it is ``wanted``, in any. Of two with one id the
    first counts."""
    found = {
        one.id: Place(one.id, "heading", "", one.number, one.text, one.block, one.row)
        for one in headings
        if (wanted is None or one.id in wanted) and one.id not in captions
    }
    sections: tuple[list[tuple[int, int]], list[str]] | None = None
    until: dict[str, int] = {}
    """By bookmark the last of the notes to which it goes on."""
    for at, (block, one) in enumerate(noted):
        if one.caption is not None and (wanted is None or one.id in wanted):
            label, number, text = captions[one.id]
            found[one.id] = Place(one.id, "caption", label.name, number, " ".join(text.split()), block, one.row)
        for mark in one.bookmarks:
            words = " ".join(mark.words.split())
            if mark.start == 0 and until.get(mark.id) == at - 1:
                known = found[mark.id]
                found[mark.id], until[mark.id] = known._replace(words=f"{known.words} {words}".strip()), at
            elif (wanted is None or mark.id in wanted) and mark.id not in found:
                until[mark.id] = at
                if sections is None:
                    real = [heading for heading in headings if heading.by_hand != "put in"]
                    sections = [(heading.block, heading.row) for heading in real], ["", *(h.number for h in real)]
                number = sections[1][bisect_right(sections[0], (block, one.row))]
                found[mark.id] = Place(mark.id, "bookmark", "", number, mark.name, block, one.row, mark.start, words)
    if wanted is not None:
        return found
    # Of what begins at one place, the paragraph comes before a bookmark in it.
    ordered = sorted(found.values(), key=lambda place: (place.block, place.row, place.offset, place.kind == "bookmark"))
    return {place.id: place for place in ordered}
