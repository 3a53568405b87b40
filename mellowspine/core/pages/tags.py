"""What stands on pages as parts of the report: a tree of standard structure types (ISO 32000-1, 14.7 and 14.8.4).

A *path* leads from the report down to a part; marks that are drawn for nothing but the page, such as its number, have none.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from ..report.blocks import Block, Paragraph
from ..report.styles import Style, StyleSheet


class Tag(NamedTuple):
    """A part: its structure type, what it is called among those that it stands with, and what is said of it by the names of the
    standard (14.7.5, 14.8.5). Links, and parts without a name, go on only where nothing else has come between."""

    type: str
    key: str | int | None = None
    says: tuple[tuple[str, str | int], ...] = ()


Path = tuple[Tag, ...]

NOTHING: Path = ()
"""Where what belongs to the page stands, and not to the report (14.8.2.2, "artifacts")."""

_NUMBERING = {
    "bullet": "Disc",
    "decimal": "Decimal",
    "lower-letter": "LowerAlpha",
    "upper-letter": "UpperAlpha",
    "lower-roman": "LowerRoman",
    "upper-roman": "UpperRoman",
}
"""``ListNumbering`` (14.8.5.5) by how items are marked."""


def paragraph_paths(
    blocks: Iterable[Block], styles: StyleSheet, levels: Mapping[str, int], around: Path = NOTHING
) -> Iterator[tuple[str, Path]]:
    """Where paragraphs that follow one another stand, by id. ``levels``: of those that are headings; ``around``: what they stand in.

    Items of lists stand in the lists that they make together, deeper ones in the item before them.
    """
    lists: list[tuple[int, str, Path]] = []
    """Those that are open: their level, how their items are marked, and where the last item stands."""
    quotation = styles.role("quotation").id
    for block in blocks:
        style = styles[block.style] if isinstance(block, Paragraph) else None
        if isinstance(block, Paragraph) and block.note and block.id not in levels:
            yield block.id, (*around, Tag("Note", block.id, (("ID", block.id),)))  # it interrupts no list
            continue
        if style is None or style.marker is None or not isinstance(block, Paragraph):
            lists.clear()
            if isinstance(block, Paragraph):
                yield block.id, (*around, *_paragraph(block, levels, block.style == quotation))
            continue
        level = style.list_level or 1
        while lists and lists[-1][0] > level:
            lists.pop()
        if block.number == "none" and lists:  # it goes on with the item before it
            yield block.id, (*lists[-1][2], Tag("LBody"), Tag("P", block.id))
            continue
        if lists and lists[-1][0] == level and lists[-1][1] != style.marker:
            lists.pop()
        if not lists or lists[-1][0] < level:
            outside = (*lists[-1][2], Tag("LBody")) if lists else around
            lists.append((level, style.marker, (*outside, _list(block, style), Tag("LI", block.id))))
        else:
            lists[-1] = (level, style.marker, (*lists[-1][2][:-1], Tag("LI", block.id)))
        yield block.id, (*lists[-1][2], Tag("LBody"))


def _paragraph(block: Paragraph, levels: Mapping[str, int], quoted: bool) -> Path:
    if level := levels.get(block.id):
        return (Tag(f"H{level}", block.id),)
    if block.caption:
        return (Tag("Caption", block.id),)
    return (Tag("BlockQuote"), Tag("P", block.id)) if quoted else (Tag("P", block.id),)


def _list(first: Paragraph, style: Style) -> Tag:
    return Tag("L", first.id, (("ListNumbering", _NUMBERING.get(style.marker or "bullet", "None")),))


def label_of(path: Path) -> Path:
    """Where the number or bullet in front of a paragraph stands: beside the words of an item, and else among the words."""
    return (*path[:-1], Tag("Lbl")) if path and path[-1].type == "LBody" else path
