"""Footnotes and endnotes of files: how readers make them, and what writers say of them.

Files keep notes apart from their text; a report has each behind the block that refers to it first.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from ..report.blocks import INLINE_OBJECT, Block, Marks, NoteKind, Paragraph, Reference, Run
from ..structure.outline import paragraphs_in
from .runs import join_runs


def refer(note: str) -> Run:
    """The reference to a note, by its id."""
    return Run(INLINE_OBJECT, Marks(reference=Reference(note, "note")))


def note_of(id: str, style: str, kind: NoteKind, paragraphs: Iterable[Paragraph]) -> Paragraph:
    """A note of what a file says in one, each paragraph on a line of its own; without space in front, where its sign stood."""
    runs: list[Run] = []
    for paragraph in paragraphs:
        if runs:
            runs.append(Run("\n"))
        runs += paragraph.runs
    while runs and not runs[0].text.lstrip():
        runs.pop(0)
    if runs:
        runs[0] = replace(runs[0], text=runs[0].text.lstrip())
    return Paragraph(id, style, join_runs(runs), note=kind)


def with_notes(blocks: Sequence[Block], notes: Mapping[str, Paragraph]) -> Iterator[Block]:
    """Blocks with each note behind the one that refers to it first; those to which nothing does, at the end."""
    left = dict(notes)
    for block in blocks:
        yield block
        waiting: list[Block] = [block]
        for one in waiting:  # grows where notes refer to notes
            for id in _referred(one):
                if note := left.pop(id, None):
                    yield note
                    waiting.append(note)
    yield from left.values()


def _referred(block: Block) -> Iterator[str]:
    for paragraph, _ in paragraphs_in(block):
        for run in paragraph.runs:
            if run.marks.reference and run.marks.reference.shows == "note":
                yield run.marks.reference.to


def without_sign(paragraph: Paragraph) -> Paragraph:
    """A note as it is set (``pages/as_set.py``), without its sign in front."""
    runs = paragraph.runs
    while runs and runs[0].marks.raised and not runs[0].marks.reference:
        runs = runs[1:]
    return replace(paragraph, runs=runs)
