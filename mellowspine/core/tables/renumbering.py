"""Numbers that merely follow: a section that comes or goes renumbers all behind it, which is one change and not forty."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from itertools import groupby
from typing import NamedTuple

from ..report.tables import Line
from .behind import Difference, Kind

_TOKEN = re.compile(r"\d+|[^\W\d_]+")

_OF_THEMSELVES: tuple[Kind, ...] = ("new", "gone", "moved", "level")
"""What happens to a heading itself, and may renumber others."""


class Renumbering(NamedTuple):
    """Lines one behind the other whose numbers follow from the same."""

    lines: tuple[Difference, ...]
    by: int | None
    """How many more (or less, below 0) they count; None where that cannot be told from their numbers."""
    causes: tuple[Difference, ...]
    """From which they follow, as far as these are among the lines that differ."""


class _Step(NamedTuple):
    """Where a number differs: in one of its parts, behind the same ``prefix``."""

    prefix: tuple[str, ...]
    by: int | None


def renumberings(differences: Sequence[Difference]) -> tuple[Renumbering, ...]:
    """The lines that are renumbered since something else has changed, in runs."""
    causes: dict[tuple[str, ...], list[tuple[Difference, int | None, int | None]]] = {}
    following: list[tuple[_Step | Difference, Difference]] = []
    # What happened of itself to sections, by their numbers before (0) and now (1).
    sections: dict[tuple[int, tuple[str, ...]], Difference] = {}
    for one in differences:
        why = _step(one) or _above(one, sections)
        if why:
            following.append((why, one))
        elif _may_renumber(one):
            _add_cause(causes, one)
            if one.kinds[0] in _OF_THEMSELVES:
                sections |= {(side, _parts(line)): one for side, line in enumerate((one.issued, one.fresh)) if line}
    found = []
    for why, run in groupby(following, lambda each: each[0]):
        lines = tuple(one for _, one in run)
        if isinstance(why, _Step):
            found.append(Renumbering(lines, why.by, tuple(_because(why, lines[0], causes))))
        else:
            found.append(Renumbering(lines, None, (why,)))
    return tuple(found)


def _step(one: Difference) -> _Step | None:
    """How the number of a line that only follows differs; None for other lines."""
    if "renumbered" not in one.kinds or {"moved", "level"} & {*one.kinds} or not (one.issued and one.fresh):
        return None
    old, new = _TOKEN.findall(one.issued.number), _TOKEN.findall(one.fresh.number)
    differing = [place for place, (was, now) in enumerate(zip(old, new, strict=False)) if was != now]
    if len(old) != len(new) or len(differing) != 1:
        return None
    (place,) = differing
    was, now = old[place], new[place]
    return _Step(tuple(new[:place]), int(now) - int(was) if was.isdecimal() and now.isdecimal() else None)


def _parts(line: Line) -> tuple[str, ...]:
    return tuple(_TOKEN.findall(line.number))


def _above(one: Difference, sections: Mapping[tuple[int, tuple[str, ...]], Difference]) -> Difference | None:
    """What changed in front of a line and is a section that it stands in now, or stood in, where it only follows."""
    if one.kinds[0] in _OF_THEMSELVES or "renumbered" not in one.kinds or not (one.issued and one.fresh):
        return None
    for side, line in ((1, one.fresh), (0, one.issued)):
        parts = _parts(line)
        for length in range(len(parts) - 1, 0, -1):
            if found := sections.get((side, parts[:length])):
                return found
    return None


def _may_renumber(one: Difference) -> bool:
    return "renumbered" in one.kinds or any(kind in one.kinds for kind in _OF_THEMSELVES)


def _add_cause(causes: dict[tuple[str, ...], list[tuple[Difference, int | None, int | None]]], one: Difference) -> None:
    """Notes a cause under what its number counts on from: what it counted before, and what it counts now."""
    sides: dict[tuple[str, ...], list[int | None]] = {}
    for side, line in enumerate((one.issued, one.fresh)):
        tokens = _TOKEN.findall(line.number) if line else []
        if tokens:
            count = int(tokens[-1]) if tokens[-1].isdecimal() else None
            sides.setdefault(tuple(tokens[:-1]), [None, None])[side] = -1 if count is None else count
    for prefix, (was, now) in sides.items():
        causes.setdefault(prefix, []).append((one, was, now))


def _because(
    step: _Step,
    first: Difference,
    causes: Mapping[tuple[str, ...], Sequence[tuple[Difference, int | None, int | None]]],
) -> Iterator[Difference]:
    """What is counted before a line now and was not, or was and is not now."""
    assert first.issued
    assert first.fresh
    place = len(step.prefix)
    old, new = (_TOKEN.findall(line.number) for line in (first.issued, first.fresh))
    for one, was, now in causes.get(step.prefix, ()):
        if _comes_before(was, old, place) != _comes_before(now, new, place):
            yield one


def _comes_before(count: int | None, number: Sequence[str], place: int) -> bool:
    """Whether a section that counts so is in front of the line with this number, or is the one that the line stands in."""
    if count is None or not number[place].isdecimal():
        return count is not None
    return count < int(number[place]) or (count == int(number[place]) and place + 1 < len(number))


_DONE: Mapping[Kind, str] = {
    "gone": "was removed",
    "new": "was added",
    "moved": "was moved",
    "level": "was put on another level",
    "renumbered": "was numbered otherwise",
}
_FIGURES = ("", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def sentence(one: Renumbering, who: Mapping[str, str]) -> str:
    """It in words: which lines count how many more or less, and since when. ``who``: people by the heading they changed."""
    old = [line.issued.number for line in one.lines if line.issued]
    several = len(old) > 1
    which = f"{old[0]} to {old[-1]}" if several else old[0]
    if one.by is None:
        what = f"{'are' if several else 'is'} numbered otherwise"
    else:
        count = abs(one.by)
        said = _FIGURES[count] if count < len(_FIGURES) else str(count)
        what = f"{'count' if several else 'counts'} {said} {'more' if one.by > 0 else 'less'}"
    if not one.causes:
        return f"{which} {what}."
    if len(one.causes) > 2:
        return f"{which} {what}, since {len(one.causes)} sections were added, removed or moved."
    return f"{which} {what}, since {' and '.join(_because_of(cause, who) for cause in one.causes)}."


def _because_of(cause: Difference, who: Mapping[str, str]) -> str:
    line = cause.issued if cause.fresh is None else cause.fresh
    assert line
    kind = next(kind for kind in _DONE if kind in cause.kinds)
    person = who.get(line.source)
    number = f"{line.number} " if line.number else ""
    return f"{number}“{line.text}” {_DONE[kind]}{f' by {person}' if person else ''}"
