"""Which level a look is: from typed numbers, or else from size, weight and order; beside headings that are marked already."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from ..report.blocks import Paragraph
from ..report.report import Report
from ..report.styles import LEVELS
from .traits import SWITCHES, Face

PLAINLY_LARGER = 1.15
"""How many times the size of another a look has to be for this alone to make it one of a higher level."""

MOST_TIERS = 20
"""Looks beyond so many different ones go to the nearest: reports have nine levels."""
FEW = 3
"""Looks of one level are alike: these stand for all of them."""


class Reason(NamedTuple):
    """From what a proposal was made: a trait of the look and its value ("size" with that of body text beside it, "number" with
    the figures of the typed numbers); or "first" (it comes before all others), "under" (it stands under the title), "like"
    (the level of headings that look so already)."""

    by: str
    value: Any = None


@dataclass
class Look:
    """A look while it is judged: the indexes of its blocks, and those of them that could be headings."""

    face: Face
    all: list[int] = field(default_factory=list)
    fit: list[int] = field(default_factory=list)
    depth: int = 0
    """Figures of the typed numbers that are part of it; 0 for none, or for any."""
    form: str = ""
    prefix: str = ""
    """The word in front of them, such as "chapter"."""
    fixed: int | None = None
    """The level, for a look that headings with a style have already."""
    plain: Face = field(init=False)
    """The face but for what says nothing of a level."""

    def __post_init__(self) -> None:
        self.plain = self.face._replace(colour="", font="", align="left")


def marked(report: Report) -> Iterator[Look]:
    """The looks of headings that have a style already, each with its level."""
    styles = report.styles
    seen: dict[str, int] = {}
    for index, block in enumerate(report.blocks):
        if type(block) is Paragraph and block.style in styles.levels and block.style not in seen and block.text.strip():
            seen[block.style] = index
    for id, index in seen.items():
        style = styles[id]
        face = Face(style.font, style.size, style.bold, style.italic, style.underline, False, style.colour, style.align)
        yield Look(face, [index], [index], fixed=styles.levels[id])


def _strength(face: Face) -> int:
    """How strong a look is among others of its size."""
    return face.bold + face.capitals + face.underline + (face.align == "center") - face.italic


def levels(looks: Sequence[Look], fixed: Sequence[Look], body: Face) -> Iterator[tuple[Look, int, tuple[Reason, ...]]]:
    """Each look with its level, and why it is that."""
    tiers = _tiers([*looks, *fixed])
    last = 0
    for tier in tiers:
        here = next((look.fixed for look in tier if look.fixed), None)
        level = min(here if here is not None else last + 1, LEVELS[-1])
        for look in tier:
            if look.fixed is None:
                reasons = reasons_for(look.face, body, look.depth)
                if here is not None:
                    reasons = (*reasons, Reason("like", here))
                yield look, level, reasons
        last = max(last, level)


def _tiers(looks: Sequence[Look]) -> list[list[Look]]:
    """Looks from the highest level to the lowest; those of one level together."""
    numbered = [look for look in looks if look.form == "decimal" and look.depth and not look.prefix]
    tiers: list[list[Look]] = []
    for depth in sorted({look.depth for look in numbered}):
        tiers.append([look for look in numbered if look.depth == depth])
    for look in sorted((one for one in looks if one not in numbered), key=lambda one: one.fit[0]):
        _put(tiers, look)
    return tiers


def _put(tiers: list[list[Look]], look: Look) -> None:
    """Puts a look into the tier of those that look like it, or into one of its own between the others."""
    for tier in tiers:
        if any(_alike(look, other) for other in tier[:FEW]):
            tier.append(look)
            return
    at = 0
    for place, tier in enumerate(tiers):
        if any(_above(other, look) for other in tier[:FEW]):
            at = place + 1
    if len(tiers) < MOST_TIERS:
        tiers.insert(at, [look])
    else:
        tiers[min(at, len(tiers) - 1)].append(look)


def _alike(one: Look, other: Look) -> bool:
    """Whether two looks differ in nothing but what says nothing of a level."""
    if one.plain != other.plain:
        return False
    parted = one.form and other.form and (one.form, one.depth) != (other.form, other.depth)
    fixed = one.fixed is not None or other.fixed is not None
    return not parted and (one.face.align == other.face.align or fixed)


def _above(one: Look, other: Look) -> bool:
    """Whether a look is of a higher level than another: by size where it differs plainly, or else by the most of size,
    strength, order and number."""
    size, other_size = one.face.size, other.face.size
    if max(size, other_size) > min(size, other_size) * PLAINLY_LARGER:
        return size > other_size
    pairs: list[tuple[Any, Any]] = [
        (size, other_size),
        (_strength(one.face), _strength(other.face)),
        (other.fit[0], one.fit[0]),
    ]
    free = one.fixed is None and other.fixed is None
    if free:
        pairs.append((len(other.fit), len(one.fit)))
    votes = sum((mine > its) - (mine < its) for mine, its in pairs)
    # Beside headings that have styles, whose first may stand anywhere, the size says more than the order.
    return votes > 0 or (votes == 0 and (one.fit[0] < other.fit[0] if free else size > other_size))


def reasons_for(face: Face, body: Face, depth: int) -> tuple[Reason, ...]:
    """In what a look with numbers of so many figures (0 for none) differs from body text."""
    found = [Reason("number", depth)] if depth else []
    if face.size != body.size:
        found.append(Reason("size", (face.size, body.size)))
    for name in ("bold", "italic", "underline", "capitals", "colour", "align", "font"):
        if getattr(face, name) != getattr(body, name):
            found.append(Reason(name, getattr(face, name)))
    return tuple(found)


def reasons_in_words(reasons: Sequence[Reason]) -> str:
    """Reasons in words, as in "18 pt where text has 11, bold"."""
    words = []
    for by, value in reasons:
        match by:
            case "size":
                words.append(f"{value[0]:g} pt where text has {value[1]:g}")
            case "number":
                words.append("numbers of one figure" if value == 1 else f"numbers of {value} figures")
            case "first":
                words.append("the first words")
            case "under":
                words.append("under the title")
            case "like":
                words.append(f"looks like headings of level {value}")
            case "bold" | "italic" | "underline" | "capitals":
                words.append(SWITCHES[by][0 if value else 1])
            case "align":
                words.append({"center": "centred", "right": "on the right"}.get(value, "not centred"))
            case _:
                words.append(f"another {'typeface' if by == 'font' else by}")
    return ", ".join(words)
