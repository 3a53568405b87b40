"""What happened to the sections between two states of a report: in sentences, each about a section with all that is under it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Literal, NamedTuple

from ..report.blocks import Block
from ..report.diff import out_of_order
from ..report.report import Report
from .outline import Heading, outline, paragraphs_in

Kind = Literal["added", "removed", "renamed", "moved", "level", "renumbered", "written"]


class Side(NamedTuple):
    """A section in one of the two states. ``under``: the heading above it of a higher level, by its words; empty for none."""

    id: str
    level: int
    number: str
    text: str
    under: str


class Happened(NamedTuple):
    """What happened to one section. ``then`` is None for one that was added, ``now`` for one that was removed.

    ``under``: how many sections beneath it shared that, but for its name and words. ``written`` and ``taken``:
    words of its own text, without that of the sections beneath it.
    """

    kinds: tuple[Kind, ...]
    then: Side | None
    now: Side | None
    under: int = 0
    written: int = 0
    taken: int = 0


def happened(old: Report, new: Report, same: Mapping[str, str] | None = None) -> list[Happened]:
    """What happened from one state to another: of sections that are there now in the order of the text, each that was removed
    in front of what followed it.

    ``same``: the id in ``new`` of every heading of ``old`` that is still there, where ids do not say it. As few sections as
    possible count as moved.
    """
    before, after = _Sections(old), _Sections(new)
    if same is None:
        same = {id: id for id in before.sides if id in after.sides}
    was = {now: then for then, now in same.items()}
    places = {id: place for place, id in enumerate(before.sides)}
    order = [places[was[id]] for id in after.sides if id in was]
    moved = out_of_order(order)
    found: dict[str, list[Happened]] = {}
    follower = ""
    for id in reversed(before.sides):
        if id in same:
            follower = same[id]
        else:
            gone = Happened(("removed",), before.sides[id], None, taken=_words(before.own(id), id).total())
            found.setdefault(follower, []).insert(0, gone)
    result: list[Happened] = []
    for id, side in after.sides.items():
        result.extend(found.pop(id, ()))
        if id not in was:
            result.append(Happened(("added",), None, side, written=_words(after.own(id), id).total()))
            continue
        then = before.sides[was[id]]
        written, taken = _change(before.own(was[id]), after.own(id), was[id], id)
        kinds = _kinds(then, side, places[was[id]] in moved, bool(written or taken))
        if kinds:
            result.append(Happened(kinds, then, side, 0, written, taken))
    for rest in found.values():
        result.extend(rest)
    return _together(result, before, after)


def _kinds(then: Side, now: Side, moved: bool, words: bool) -> tuple[Kind, ...]:
    differs: list[tuple[Kind, bool]] = [
        ("moved", moved),
        ("level", then.level != now.level),
        ("renamed", then.text != now.text),
        ("renumbered", then.number != now.number),
        ("written", words),
    ]
    return tuple(kind for kind, found in differs if found)


class _Sections:
    """The sections of a report. ``parents``: by section the one around it."""

    def __init__(self, report: Report) -> None:
        self.sides: dict[str, Side] = {}
        self.parents: dict[str, str] = {}
        self._report = report
        self._own: dict[str, range] = {}
        """The places of each section's own text."""
        headings = [one for one in outline(report) if one.by_hand != "put in"]
        ends = [one.block for one in headings] + [len(report.blocks)]
        above: list[Heading] = []
        for one, end in zip(headings, ends[1:], strict=True):
            while above and above[-1].level >= one.level:
                above.pop()
            if above:
                self.parents[one.id] = above[-1].id
            self.sides[one.id] = Side(one.id, one.level, one.number, one.text, above[-1].text if above else "")
            self._own[one.id] = range(one.block, end)
            above.append(one)

    def own(self, id: str) -> Sequence[Block]:
        """A section's own text, with the heading, without the sections beneath it."""
        places = self._own[id]
        return self._report.blocks[places.start : places.stop]


def _words(blocks: Iterable[Block], heading: str) -> Counter[str]:
    """The words of some blocks, but for those of a heading, and how often each stands there."""
    found = Counter[str]()
    for block in blocks:
        for paragraph, _ in paragraphs_in(block):
            if paragraph.id != heading:
                found.update(paragraph.text.split())
    return found


def _change(then: Sequence[Block], now: Sequence[Block], was: str, heading: str) -> tuple[int, int]:
    """How many words came, and how many went. What is the very same in both is not looked at."""
    same = {*map(id, then)} & {*map(id, now)}
    before = _words((one for one in then if id(one) not in same), was)
    after = _words((one for one in now if id(one) not in same), heading)
    return (after - before).total(), (before - after).total()


_OWN: tuple[Kind, ...] = ("renamed", "written")
"""What happens to a section alone; all else happens to it with all that is under it."""


def _together(all_of_them: Sequence[Happened], before: _Sections, after: _Sections) -> list[Happened]:
    """What happened to sections together with the one around them is said once, of that one."""
    result: list[Happened] = []
    said: dict[tuple[bool, str], int] = {}
    """By section, as it is now or was, the place of what is said of it with the others."""
    for one in all_of_them:
        side = one.now or one.then
        assert side is not None
        is_there = one.now is not None
        around = (after if is_there else before).parents.get(side.id, "")
        place = said.get((is_there, around))
        if place is not None and _shared(one)[0] and _shared(one) == _shared(result[place]):
            result[place] = result[place]._replace(under=result[place].under + 1)
            one = one._replace(kinds=tuple(kind for kind in one.kinds if kind in _OWN))
        else:
            place = len(result)
        said[is_there, side.id] = place
        if one.kinds:
            result.append(one)
    return result


def _shared(one: Happened) -> tuple[tuple[Kind, ...], int]:
    """What happened to a section with all that is under it, and by how many levels it went down."""
    shift = one.now.level - one.then.level if one.now and one.then else 0
    return tuple(kind for kind in one.kinds if kind not in _OWN), shift


def sentence(one: Happened) -> str:
    """What happened to a section, for people to read."""
    *first, last = [_PHRASES[kind](one) for kind in one.kinds]
    said = f"{', '.join(first)} and {last}" if first else last
    return f"“{_side(one).text}” {said}{_under(one)}."


def sentences(one: Happened, who: Mapping[Kind, str]) -> str:
    """The same with who did it, as far as that is known: a sentence for each kind."""
    found: list[str] = []
    for kind in one.kinds:
        name = "it" if found else f"“{_side(one).text}”"
        said = f"{who[kind]} {_DEEDS[kind](one, name)}" if who.get(kind) else f"{name} {_PHRASES[kind](one)}"
        found.append(f"{said[0].upper()}{said[1:]}{'' if found else _under(one)}.")
    return " ".join(found)


def _side(one: Happened) -> Side:
    side = one.now or one.then
    assert side is not None
    return side


def _under(one: Happened) -> str:
    return f", with {_counted(one.under, 'section')} under it" if one.under else ""


def _place(side: Side | None) -> str:
    return f"“{side.under}”" if side and side.under else "the top level"


def _from_to(one: Happened) -> str:
    then, now = _place(one.then), _place(one.now)
    return "" if then == now else f" from {then} to {now}"


def _renumbered(one: Happened) -> str:
    then, now = one.then and one.then.number, one.now and one.now.number
    if not then or not now:
        return f"has the number {now}" if now else "has no number any more"
    return f"was {then} and is {now}"


def _called(one: Happened) -> str:
    return f"“{one.then.text}”" if one.then else ""


def _levels(one: Happened) -> str:
    return f"from level {one.then.level} to {one.now.level}" if one.then and one.now else ""


def _written(one: Happened) -> str:
    counts = [(one.written, "more"), (one.taken, "less")]
    return "has " + " and ".join(f"{_counted(count, 'word')} {what}" for count, what in counts if count)


def _wrote(one: Happened, name: str) -> str:
    if not one.written:
        return f"took {_counted(one.taken, 'word')} out of {name}"
    took = f" and took {_counted(one.taken, 'word')} out" if one.taken else ""
    return f"wrote {_counted(one.written, 'word')} in {name}{took}"


def _counted(count: int, one: str) -> str:
    return f"{count:,} {one}{'' if count == 1 else 's'}"


_PHRASES: Mapping[Kind, Callable[[Happened], str]] = {
    "added": lambda one: f"was added to {_place(one.now)}",
    "removed": lambda one: f"was removed from {_place(one.then)}",
    "renamed": lambda one: f"was called {_called(one)}",
    "moved": lambda one: f"was moved{_from_to(one)}",
    "level": lambda one: f"went {_levels(one)}",
    "renumbered": _renumbered,
    "written": _written,
}

_DEEDS: Mapping[Kind, Callable[[Happened, str], str]] = {
    "added": lambda one, name: f"added {name} to {_place(one.now)}",
    "removed": lambda one, name: f"removed {name} from {_place(one.then)}",
    "renamed": lambda one, name: f"renamed {name}, which was {_called(one)}",
    "moved": lambda one, name: f"moved {name}{_from_to(one)}",
    "level": lambda one, name: f"took {name} {_levels(one)}",
    "renumbered": lambda one, name: f"renumbered {name}",
    "written": _wrote,
}
