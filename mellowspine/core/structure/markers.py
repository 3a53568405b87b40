"""What hangs in front of list items: bullets and numbers."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from ..report.blocks import Block, Paragraph
from ..report.report import Report
from ..report.stretch import stretch
from ..report.styles import StyleSheet

Markers = Mapping[str, str]
"""By paragraph id: "•", or "3."."""

_BULLETS = ("•", "–", "▪")


def list_markers(report: Report, before: tuple[Report, Markers] | None = None) -> Markers:
    """The markers of all list items.

    A numbered list starts again at 1 after any paragraph that is in no list, and below a new item of the level above.
    ``before``, an earlier state of the report with its markers, changes nothing but the time it takes: only the lists
    that the edit touches are counted again.
    """
    blocks = report.blocks
    kinds = _kinds(report.styles)
    if before is None or before[0].styles is not report.styles:
        return dict(_marked(blocks, kinds))
    earlier, old = before
    change = stretch(earlier.blocks, blocks)
    first, end = change.first, change.new_end
    while first > 0 and _style(blocks[first - 1]) in kinds:
        first -= 1
    while end < len(blocks) and _style(blocks[end]) in kinds:
        end += 1
    gone = {block.id for block in earlier.blocks[change.first : change.old_end]} & old.keys()
    new = dict(_marked(blocks[first:end], kinds))
    if not gone and all(old.get(id) == mark for id, mark in new.items()):
        return old
    return {id: mark for id, mark in old.items() if id not in gone} | new


def _kinds(styles: StyleSheet) -> dict[str, tuple[str, int]]:
    """Kind of marker and level of every list style."""
    return {
        key: (style.marker, style.list_level or 1)
        for key, style in styles.items()
        if style.marker in ("bullet", "decimal")
    }


def _style(block: Block) -> str | None:
    return block.style if type(block) is Paragraph else None


def _marked(blocks: Sequence[Block], kinds: Mapping[str, tuple[str, int]]) -> Iterator[tuple[str, str]]:
    counts: list[int] = []
    for block in blocks:
        kind = kinds.get(_style(block) or "")
        if kind is None:
            counts = []
            continue
        marker, level = kind
        del counts[level:]
        counts.extend([0] * (level - len(counts)))
        if marker == "bullet":
            yield block.id, _BULLETS[(level - 1) % 3]
        else:
            counts[-1] += 1
            yield block.id, f"{counts[-1]}."
