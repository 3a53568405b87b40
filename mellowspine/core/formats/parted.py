"""Paragraphs of files that are longer than a report's paragraphs can be, parted into several."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator, Sequence
from dataclasses import replace

from ..report.blocks import MOST_CHARACTERS, Block, DataTable, Image, Paragraph, Run

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
                            replace(cell, blocks=tuple(part for one in cell.blocks for part in _parts(one)))
                            for cell in row
                        )
                        for row in block.rows
                    ),
                )
        found.append(block)
    return tuple(found), count


def _is_long(paragraph: Paragraph) -> bool:
    return sum(len(run.text) for run in paragraph.runs) > MOST_CHARACTERS


def _parts(paragraph: Paragraph | Image) -> Iterator[Paragraph | Image]:
    """A paragraph in parts that a report has room for; what is said of the whole stands at the first. A picture as it is."""
    if isinstance(paragraph, Image) or not _is_long(paragraph):
        yield paragraph
        return
    for number, runs in enumerate(_parted(paragraph.runs, _ends(paragraph.text))):
        if number == 0:
            yield replace(paragraph, runs=runs)
            continue
        # Forty characters, and then: an id has room for 64.
        id = f"{paragraph.id[:40]}-part-{number}"
        yield replace(paragraph, id=id, runs=runs, caption=None, listed=None, number_from=None)


def _ends(text: str) -> list[int]:
    """Where the parts of a text end: behind a space where one is near."""
    ends = [0]
    while len(text) - ends[-1] > MOST_CHARACTERS:
        most = ends[-1] + MOST_CHARACTERS
        near = max(text.rfind(" ", most - _NEAR, most), text.rfind("\n", most - _NEAR, most)) + 1
        ends.append(near or most)
    return [*ends[1:], len(text)]


def _parted(runs: Sequence[Run], ends: Sequence[int]) -> Iterator[tuple[Run, ...]]:
    """The runs from each end to the next."""
    left, at = deque(runs), 0
    for end in ends:
        part: list[Run] = []
        while left and at < end:
            run = left.popleft()
            if at + len(run.text) > end:
                left.appendleft(Run(run.text[end - at :], run.marks))
                run = Run(run.text[: end - at], run.marks)
            part.append(run)
            at += len(run.text)
        yield tuple(part)
