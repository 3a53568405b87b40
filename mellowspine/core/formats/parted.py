"""Paragraphs of files that are longer than a report's paragraphs can be, parted into several."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from ..report.blocks import MOST_CHARACTERS, Block, DataTable, Paragraph, Run

_NEAR = 1000
"""So many characters before the last for which there is room, a space is looked for to part at."""


def part_long(blocks: Sequence[Block]) -> tuple[tuple[Block, ...], int]:
    """The blocks with each paragraph that is too long parted into several, and how many there were of these."""
    found: list[Block] = []
    count = 0
    for block in blocks:
        if isinstance(block, Paragraph) and _is_long(block):
            count += 1
            found.extend(_parts(block))
            continue
        if isinstance(block, DataTable):
            inside = [one for row in block.rows for cell in row for one in cell.paragraphs]
            if long := sum(map(_is_long, inside)):
                count += long
                block = replace(
                    block,
                    rows=tuple(
                        tuple(
                            replace(cell, paragraphs=tuple(part for one in cell.paragraphs for part in _parts(one)))
                            for cell in row
                        )
                        for row in block.rows
                    ),
                )
        found.append(block)
    return tuple(found), count


def _is_long(paragraph: Paragraph) -> bool:
    return sum(len(run.text) for run in paragraph.runs) > MOST_CHARACTERS


def _parts(paragraph: Paragraph) -> Iterator[Paragraph]:
    """A paragraph in parts that a report has room for; what is said of the whole stands at the first."""
    text, start, number = paragraph.text, 0, 0
    while len(text) - start > MOST_CHARACTERS:
        end = start + MOST_CHARACTERS
        near = max(text.rfind(" ", end - _NEAR, end), text.rfind("\n", end - _NEAR, end)) + 1
        end = near or end
        yield _part(paragraph, start, end, number)
        start, number = end, number + 1
    yield _part(paragraph, start, len(text), number) if number else paragraph


def _part(paragraph: Paragraph, start: int, end: int, number: int) -> Paragraph:
    runs, at = [], 0
    for run in paragraph.runs:
        if words := run.text[max(start - at, 0) : max(end - at, 0)]:
            runs.append(Run(words, run.marks))
        at += len(run.text)
    if number == 0:
        return replace(paragraph, runs=tuple(runs))
    # Forty characters, and then: an id has room for 64.
    id = f"{paragraph.id[:40]}-part-{number}"
    return replace(paragraph, id=id, runs=tuple(runs), caption=None, listed=None, number_from=None)
