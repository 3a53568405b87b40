"""Where the things stand that a report does not have as its file has them: the sections, in the words of their headings."""

from __future__ import annotations

from collections.abc import Iterator

from ..report.elements import ids_of
from ..structure.outline import outline
from .imported import Imported, Note

IN_FRONT = "in front of the first heading"


def with_sections(imported: Imported) -> Iterator[tuple[Note, tuple[str, ...]]]:
    """The notes of a file, each with the sections where it occurs, in reading order; with none if it is about the whole file."""
    report = imported.report
    headings = {one.block: " ".join(f"{one.number} {one.text}".split())[:80] for one in outline(report)}
    section: dict[str, tuple[int, str]] = {}
    now = -1, IN_FRONT
    for index, block in enumerate(report.blocks):
        if index in headings:
            now = index, headings[index]
        for id in ids_of(block):
            section[id] = now
    for note in imported.notes:
        found = sorted({section[id] for id in note.places if id in section})
        yield note, tuple(words for _, words in found)
