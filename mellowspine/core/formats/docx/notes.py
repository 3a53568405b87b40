"""Footnotes and endnotes of Office Open XML (ISO/IEC 29500-1, 17.11)."""

from __future__ import annotations

from typing import Any

from lxml.etree import _Element

from ...report.blocks import Paragraph, Run
from ..footnotes import note_of, refer
from .document import Document
from .xml import child, outermost, part_of, qn, related, value

_FIGURES = {"decimal": "decimal", "lowerLetter": "lower-letter", "lowerRoman": "lower-roman", "chicago": "signs"}
"""Figures of notes (17.18.59)."""
_RESTARTS = {"continuous": "report", "eachSect": "section", "eachPage": "page"}
"""Where they are counted anew (17.18.74)."""
_PLACES = {"docEnd": "report", "sectEnd": "section"}
"""Where endnotes stand (17.18.24)."""
SIGNS = frozenset(qn(f"w:{name}") for name in ("footnoteReference", "endnoteReference", "footnoteRef", "endnoteRef"))
"""What stands for a note, in the text and in front of its own words (17.11.13, 17.11.14, 17.11.6, 17.11.7)."""


def of_note(bookmark: _Element) -> bool:
    """Whether a bookmark is about the sign of a note, and so names that note (17.16.5.41 NOTEREF)."""
    if bookmark.tag != qn("w:bookmarkStart"):
        return False
    following = bookmark.getnext()
    return (
        following is not None
        and following.tag == qn("w:r")
        and any(following.find(qn(f"w:{kind}noteReference")) is not None for kind in ("foot", "end"))
    )


class DocumentNotes:
    """The notes of a document, and which of them are referred to."""

    def __init__(self, document: Document) -> None:
        self._document = document
        self._in_file = {kind: self._at(kind) for kind in ("footnote", "endnote")}
        self._ids: dict[tuple[str, str], str] = {}
        """Ids of the notes that are referred to, by kind and id in the file."""

    def _at(self, kind: str) -> dict[str, _Element]:
        """Footnotes or endnotes, by id; without what stands above all of them."""
        root = related(self._document.file, f"{kind}s")
        found = () if root is None else root.iter(qn(f"w:{kind}"))
        return {note.get(qn("w:id")) or "": note for note in found if note.get(qn("w:type")) in (None, "normal")}

    def referred(self, sign: _Element) -> Run | None:
        """The reference that a sign in the text is; None if there is no such note."""
        kind = "footnote" if sign.tag == qn("w:footnoteReference") else "endnote"
        named = kind, sign.get(qn("w:id")) or ""
        if named[1] not in self._in_file[kind]:
            return None
        if named not in self._ids:
            run = sign.getparent()
            before = None if run is None else run.getprevious()
            own = f"n-{before.get(qn('w:name'))}" if before is not None and of_note(before) else ""
            self._ids[named] = own if own and self._document.is_free(own) else next(self._document.ids)
        return refer(self._ids[named])

    def read(self) -> dict[str, Paragraph]:
        """The notes that are referred to, by their ids; those within them come to be referred to as they are read."""
        found: dict[str, Paragraph] = {}
        body = self._document.part
        while left := [named for named, id in self._ids.items() if id not in found]:
            for kind, key in left:
                note = self._in_file[kind][key]
                self._document.part = part_of(self._document.file, f"{kind}s") or body
                blocks = [block for one in outermost(note, qn("w:p")) for block in self._document.paragraph(one)]
                paragraphs = [block for block in blocks if isinstance(block, Paragraph)]
                for _ in range(len(blocks) - len(paragraphs)):
                    self._document.notes.add("note-picture")
                if any(True for _ in outermost(note, qn("w:tbl"))):
                    self._document.notes.add("note-content")
                id = self._ids[kind, key]
                style = paragraphs[0].style if paragraphs else self._document.styles.sheet().role("note").id
                found[id] = note_of(id, style, "foot" if kind == "footnote" else "end", paragraphs)
        self._document.part = body
        return found

    def counting(self, sections: list[_Element]) -> dict[str, Any]:
        """How notes are counted, and where endnotes stand (17.11.11, 17.11.4): as the last section says, or else the document."""
        found: dict[str, Any] = {}
        for root in (related(self._document.file, "settings"), sections[-1] if sections else None):
            for kind in ("footnote", "endnote"):
                said = child(root, f"w:{kind}Pr")
                how, restart, place = (value(child(said, f"w:{tag}")) for tag in ("numFmt", "numRestart", "pos"))
                if how in _FIGURES:
                    found[f"{kind}_signs"] = _FIGURES[how]
                if restart in _RESTARTS and not (kind == "endnote" and restart == "eachPage"):
                    found[f"{kind}s_counted"] = _RESTARTS[restart]
                if kind == "endnote" and place in _PLACES:
                    found["endnotes_at"] = _PLACES[place]
        return found
