"""Footnotes and endnotes (ISO/IEC 29500-1, 17.11), each kind in a part of its own."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from lxml.etree import _Element

from ...pages.as_set import note_sign
from ...report.blocks import NOTE_KINDS, NoteKind, Paragraph, Run
from ...report.page import NoteSigns, PageSetup
from .document import Document
from .fields import run
from .package import word_type
from .words import note_words, place
from .xml import made, properties, serialised

_FORMATS: Mapping[NoteSigns, str] = {
    "decimal": "decimal", "lower-letter": "lowerLetter", "lower-roman": "lowerRoman", "signs": "chicago"
}  # fmt: skip
_RESTARTS = {"report": "continuous", "section": "eachSect", "page": "eachPage"}
_SEPARATORS = ("separator", "continuationSeparator")
"""What stands above all notes of a page (17.11.23): they have the first numbers of their part."""


def add_notes(document: Document) -> None:
    """Writes the notes that have been referred to. What these refer to themselves stands with them."""
    for kind in NOTE_KINDS:
        called = {id: number for id, number in document.called.items() if document.notes_of[id] == kind}
        if not called:
            continue
        name = f"word/{kind}notes.xml"
        document.part = document.package.add(name, type=word_type(f"{kind}notes"))
        tag = f"w:{kind}note"
        above = (
            made(tag, made("w:p", made("w:r", made(f"w:{what}"))), type=what, id=number)
            for number, what in enumerate(_SEPARATORS, -1)
        )
        by_id = _by_id(document)
        notes = [made(tag, _note(by_id[id], kind, document, by_id), id=number) for id, number in called.items()]
        document.part.data = serialised(made(f"w:{kind}notes", *above, *notes))
        document.main.relate(f"{kind}notes", name)
    document.part = document.main


def _by_id(document: Document) -> dict[str, Paragraph]:
    found: dict[str, Paragraph] = {}
    for block in document.report.blocks:
        if isinstance(block, Paragraph) and block.note:
            found.setdefault(block.id, block)
    return found


def _note(block: Paragraph, kind: NoteKind, document: Document, by_id: Mapping[str, Paragraph]) -> _Element:
    raised = properties("w:rPr", [made("w:vertAlign", val="superscript")])
    sign = made("w:r", raised, made(f"w:{kind}noteRef"))
    runs = [*block.runs, *_within(block, document, by_id, {block.id})]
    return made("w:p", place(block, document), sign, run(" "), *note_words(block, document, runs))


def _within(block: Paragraph, document: Document, by_id: Mapping[str, Paragraph], known: set[str]) -> Iterator[Run]:
    """The notes to which a note refers, each on a line of its own with its sign: other programs have none within another."""
    for one in block.runs:
        reference = one.marks.reference
        if reference and reference.shows == "note" and reference.to in by_id and reference.to not in known:
            known.add(reference.to)
            inner = by_id[reference.to]
            yield Run(f"\n{note_sign(inner, document.report)} ")
            yield from inner.runs
            yield from _within(inner, document, by_id, known)


def counting(page: PageSetup, kind: NoteKind) -> _Element:
    """How notes are counted (17.11.11, 17.11.4)."""
    signs, counted = (page.footnote_signs, page.footnotes_counted) if kind == "foot" else (
        page.endnote_signs, page.endnotes_counted
    )  # fmt: skip
    at_end = made("w:pos", val="sectEnd" if page.endnotes_at == "section" else "docEnd") if kind == "end" else None
    return made(
        f"w:{kind}notePr",
        at_end,
        made("w:numFmt", val=_FORMATS[signs]),
        made("w:numRestart", val=_RESTARTS[counted]),
    )


def separators(page: PageSetup, kind: NoteKind, there: bool) -> _Element:
    """The same for the whole document, with what stands above its notes (17.11.10, 17.11.5)."""
    element = counting(page, kind)
    if there:
        element.extend([made(f"w:{kind}note", id=number) for number in range(-1, len(_SEPARATORS) - 1)])
    return element
