"""Sections: a heading with all that stands under it; and the plans that move, shift, split, join and take them out.

A section of level *n* reaches to the next heading of level *n* or higher. The text is flat, so a section moves as the blocks
that it is, and its headings get other styles where its level changes. Where one may be put, and at which levels, is
``levels_at``: no level is skipped, and what follows is not taken in. Only where one is brought up where it stands, its
neighbours behind it come to stand beneath it, since text that nobody touched stays where it is.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Literal, NamedTuple

from ..report.blocks import Paragraph, PartStart, Run
from ..report.elements import attribute_of, element_of
from ..report.fitting import Fitted, fitted
from ..report.plan import Cut, Insert, Move, Plan, Remove, Set, Step, words_of
from ..report.report import Report
from ..report.styles import LEVELS
from .outline import Outline, outline

DEEPEST = LEVELS[-1]

Way = Literal["up", "down"]


class NotPossible(ValueError):
    """Sections cannot be rearranged so; the message is a sentence for the person."""


class Section(NamedTuple):
    """``report.blocks[first:end]``; ``level`` and ``text`` are those of its heading, which is the first of them."""

    id: str
    level: int
    text: str
    first: int
    end: int


def sections(report: Report, headings: Outline | None = None) -> list[Section]:
    """All sections of a report, in the order in which they begin; those beneath another one lie within it.

    Headings without words make none, nor do those in the cells of data tables. ``headings``: the outline of the report, if it
    is known already; so everywhere here.
    """
    found = [
        one
        for one in (outline(report) if headings is None else headings)
        if one.by_hand != "put in" and type(report.blocks[one.block]) is Paragraph
    ]
    blocks = report.blocks
    ends = [len(blocks)] * len(found)
    open_ones: list[int] = []
    for at, one in enumerate(found):
        end = one.block
        while end and type(blocks[end - 1]) is PartStart:
            end -= 1  # a part of the report begins with what stands behind its start
        while open_ones and found[open_ones[-1]].level >= one.level:
            ends[open_ones.pop()] = end
        open_ones.append(at)
    return [Section(one.id, one.level, one.text, one.block, end) for one, end in zip(found, ends, strict=True)]


def section_at(report: Report, block: str) -> Section | None:
    """The innermost section in which a block of the text stands; None in front of all headings, or if it is gone."""
    index = next((index for index, one in enumerate(report.blocks) if one.id == block), None)
    if index is None:
        return None
    return next((one for one in reversed(sections(report)) if one.first <= index), None)


def move(
    report: Report, ids: Collection[str], before: str | None, level: int | None = None, headings: Outline | None = None
) -> Plan:
    """Moves sections in front of the section ``before``, or to the end of the text, each with all that is under it.

    The highest of each comes to stand at ``level``, or as near to it as may be there; without one, as near to its own.
    """
    all_of_them = sections(report, headings)
    chosen = _chosen(all_of_them, ids)
    boundary = len(report.blocks)
    if before is not None:
        boundary = next((one.first for one in all_of_them if one.id == before), -1)
    if boundary < 0:
        raise NotPossible("The section in front of which it would go is in the text no more.")
    if any(one.first < boundary < one.end for one in chosen):
        raise NotPossible("A section cannot be put into itself.")
    moving = {within.id for one in chosen for within in _within(all_of_them, one)}
    stay = [one for one in all_of_them if one.id not in moving]
    allowed = levels_at(stay, bisect_left(stay, boundary, key=_first))
    wanted = chosen[0].level if level is None else level
    to = min(max(wanted, allowed.start), allowed.stop - 1)
    shifted = [step for one in chosen for step in _shifted(report, all_of_them, one, to - one.level)]
    return (*_moved(report, chosen, boundary), *shifted)


def levels_at(others: Sequence[Section], place: int) -> range:
    """The levels at which a section may stand in front of the one at ``place`` among the others: at most one below what stands
    before it, and none above what follows, which would come to stand beneath it."""
    before = others[place - 1].level if place else 0
    after = others[place].level if place < len(others) else 1
    return range(after, max(after, before + 1) + 1)


def step(report: Report, ids: Collection[str], way: Way, headings: Outline | None = None) -> Plan:
    """Moves sections past their neighbour of the same level, or out of the section around them at its ends: to the nearest place,
    up or down, where they may stand at their level."""
    all_of_them = sections(report, headings)
    chosen = _chosen(all_of_them, ids)
    first, last = chosen[0], chosen[-1]
    if any(one.end != other.first or one.level != other.level for one, other in pairwise(chosen)):
        raise NotPossible("These sections do not follow each other at one level; drag them, or move one at a time.")
    stay = [one for one in all_of_them if not first.first <= one.first < last.end]
    here = bisect_left([one.first for one in stay], first.first)
    places = range(here - 1, -1, -1) if way == "up" else range(here + 1, len(stay) + 1)
    for place in places:
        if first.level in levels_at(stay, place):
            return move(report, ids, stay[place].id if place < len(stay) else None, first.level, headings)
    raise NotPossible(f"There is no place further {way} where a section of level {first.level} could stand.")


def shift(report: Report, ids: Collection[str], by: int, headings: Outline | None = None) -> Plan:
    """Brings sections ``by`` levels down, or up where that is less than 0, with all that is under them."""
    all_of_them = sections(report, headings)
    now = {one.id: one.level for one in all_of_them}
    plan: list[Step] = []
    for one in _chosen(all_of_them, ids):
        at = bisect_left(all_of_them, one.first, key=_first)
        above = now[all_of_them[at - 1].id] if at else 0
        if one.level + by < 1:
            raise NotPossible(f"“{one.text}” is at level 1 already, the highest there is.")
        if by > 0 and one.level + by > above + 1:
            raise NotPossible(f"There is no section in front of “{one.text}” beneath which it could stand.")
        plan.extend(_shifted(report, all_of_them, one, by))
        now |= {within.id: within.level + by for within in _within(all_of_them, one)}
    return tuple(plan)


def remove(report: Report, ids: Collection[str], headings: Outline | None = None) -> Plan:
    """Takes sections out, with all that is under them, as far as it still reads so."""
    blocks = [block for one in _chosen(sections(report, headings), ids) for block in report.blocks[one.first : one.end]]
    gone = tuple(block.id for block in blocks)
    reads = {block.id: words_of(element_of(block)) for block in blocks if isinstance(block, Paragraph)}
    if len(gone) < len(report.blocks):
        return (Remove(gone, reads),)
    body = report.styles.role("body").id
    return (Insert((Paragraph(_other_than(gone), body),), None), Remove(gone, reads))


def duplicate(report: Report, id: str, new_id: Callable[[], str]) -> tuple[Fitted, str]:
    """A section once more, with ids of its own, as ``fitted``; and the block behind which it goes: the last of the section.

    Links and references that lead to something in it lead to that in the copy.
    """
    (one,) = _chosen(sections(report), [id])
    copied = replace(report, blocks=report.blocks[one.first : one.end])
    return fitted(copied, report, new_id), report.blocks[one.end - 1].id


def join(report: Report, id: str, headings: Outline | None = None) -> Plan:
    """Joins a section with the one before it: its heading goes, and its text follows that of the other. What is under it comes to
    stand under the other, at the level that it has room for."""
    all_of_them = sections(report, headings)
    (one,) = _chosen(all_of_them, [id])
    at = bisect_left(all_of_them, one.first, key=_first)
    if not at:
        raise NotPossible(f"There is no section in front of “{one.text}” to join it with.")
    lift = max(0, one.level - all_of_them[at - 1].level)
    under = [step for other in _within(all_of_them, one)[1:] for step in _restyled(report, other, -lift)]
    return (*under, Remove((one.id,), {one.id: words_of(element_of(report.blocks[one.first]))}))


def split(report: Report, block: str, offset: int, new_id: Callable[[], str]) -> tuple[Plan, str]:
    """Splits a section in front of a character of a block: what follows has a heading of its own, of the same level. Returns the id
    of that heading as well."""
    index = next((index for index, one in enumerate(report.blocks) if one.id == block), None)
    if index is None:
        raise NotPossible("The paragraph is in the text no more.")
    there, section = report.blocks[index], section_at(report, block)
    if section and section.first == index:
        raise NotPossible("Put the cursor into the text of the section, to where its second part is to begin.")
    words = f"{section.text} (continued)" if section else "New section"
    style = report.blocks[section.first].style if section else _style_for(report, 1)  # type: ignore[attr-defined]  # a section begins with a paragraph
    heading = Paragraph(new_id(), style, (Run(words),))
    if not isinstance(there, Paragraph) or offset <= 0:
        return (Insert((heading,), report.blocks[index - 1].id if index else None),), heading.id
    if offset >= len(there.text):
        return (Insert((heading,), block),), heading.id
    tail = replace(there, id=new_id(), runs=_runs_from(there.runs, offset), caption=None)
    return (Cut(block, offset, words_of(element_of(there))[offset:]), Insert((heading, tail), block)), heading.id


# --- Steps ---


def _first(section: Section) -> int:
    return section.first


def _chosen(all_of_them: Sequence[Section], ids: Collection[str]) -> list[Section]:
    """The sections with these ids in the order of the text, but for those within another of them."""
    found: list[Section] = []
    for one in all_of_them:
        if one.id in ids and not (found and one.first < found[-1].end):
            found.append(one)
    if not found:
        raise NotPossible(
            "The section is in the text no more, or its heading stands in a data table, where none begins."
        )
    return found


def _within(all_of_them: Sequence[Section], one: Section) -> Sequence[Section]:
    """A section and those beneath it."""
    return all_of_them[bisect_left(all_of_them, one.first, key=_first) : bisect_left(all_of_them, one.end, key=_first)]


def _moved(report: Report, chosen: Sequence[Section], boundary: int) -> Iterable[Step]:
    """The step that puts sections in front of a block, unless they stand there."""
    moving = [index for one in chosen for index in range(one.first, one.end)]
    there = set(moving)
    after = boundary - 1
    while after in there:
        after -= 1
    if moving == list(range(after + 1, after + 1 + len(moving))):
        return ()
    blocks = report.blocks
    return (Move(tuple(blocks[index].id for index in moving), blocks[after].id if after >= 0 else None),)


def _shifted(report: Report, all_of_them: Sequence[Section], one: Section, by: int) -> Iterable[Step]:
    within = _within(all_of_them, one)
    deepest = max(within, key=lambda section: section.level)
    if deepest.level + by > DEEPEST:
        raise NotPossible(f"“{deepest.text}” would come to stand below level {DEEPEST}, the lowest there is.")
    return [step for section in within for step in _restyled(report, section, by)]


def _restyled(report: Report, section: Section, by: int) -> Iterator[Step]:
    """The step that makes a heading one of another level."""
    if by:
        yield Set(section.id, {attribute_of(Paragraph, "style"): _style_for(report, section.level + by)})


def _style_for(report: Report, level: int) -> str:
    if level not in report.styles.levels.values():
        raise NotPossible(f"No style is a heading of level {level}; make one on the ladder first.")
    return report.styles.heading(level).id


def _runs_from(runs: Sequence[Run], offset: int) -> tuple[Run, ...]:
    """What stands from a character of a paragraph on."""
    found = []
    for run in runs:
        if len(run.text) > offset:
            found.append(replace(run, text=run.text[max(offset, 0) :]))
        offset -= len(run.text)
    return tuple(found)


def _other_than(ids: Collection[str]) -> str:
    """An id that is none of these."""
    return next(id for number in range(len(ids) + 1) if (id := f"empty-{number}") not in ids)
