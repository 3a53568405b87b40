"""Links and references of a file that lead to places in it, once all of these are known.

While a file is read, they lead to the names that the file has for its places: ``Marks.link`` is "#" and such a name,
``Reference.to`` is one. ``resolved`` puts the ids of the report's places there.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

from ..report.blocks import Block, Bookmark, Paragraph, Run, with_paragraphs
from ..report.elements import identifier
from ..report.styles import StyleSheet

LONGEST_NAME = 80


def resolved(blocks: Sequence[Block], names: Mapping[str, str], styles: StyleSheet) -> tuple[Block, ...]:
    """The blocks with links and references that lead to places of the report. ``names`` gives ids of paragraphs and bookmarks.

    A paragraph that they lead to and that is no place by itself becomes one: its words are bookmarked. What the file does
    not hold is led to all the same, as it says itself; the check-up tells.
    """
    ids: dict[str, str] = {}

    def id_of(name: str) -> str:
        if name not in ids:
            ids[name] = names.get(name) or identifier(name) or re.sub(r"[^A-Za-z0-9_-]+", "-", name)[:64] or "nowhere"
        return ids[name]

    def lead(run: Run) -> Run:
        marks = run.marks
        if marks.link and marks.link.startswith("#"):
            marks = replace(marks, link=f"#{id_of(marks.link[1:])}")
        if marks.reference:
            marks = replace(marks, reference=marks.reference._replace(to=id_of(marks.reference.to)))
        return run if marks is run.marks else replace(run, marks=marks)

    def leading(paragraph: Paragraph) -> Paragraph:
        runs = tuple(map(lead, paragraph.runs))
        same = all(run is before for run, before in zip(runs, paragraph.runs, strict=True))
        return paragraph if same else replace(paragraph, runs=runs)

    led = tuple(with_paragraphs(blocks, leading))
    wanted = {*ids.values()}
    spoken = {id: name for name, id in names.items() if id in wanted}

    def bookmarked(paragraph: Paragraph) -> Paragraph:
        is_place = paragraph.style in styles.levels or paragraph.listed or paragraph.caption or paragraph.note
        if paragraph.id not in wanted or is_place or not paragraph.text.strip():
            return paragraph
        name = spoken.get(paragraph.id, "")
        words = " ".join(paragraph.text.split()) if name.startswith("_") or not name else name
        mark = Bookmark(paragraph.id, words[:LONGEST_NAME])
        return replace(
            paragraph,
            runs=tuple(
                run
                if run.marks.bookmark or run.marks.reference or run.marks.formula
                else replace(run, marks=replace(run.marks, bookmark=mark))
                for run in paragraph.runs
            ),
        )

    return tuple(with_paragraphs(led, bookmarked))
