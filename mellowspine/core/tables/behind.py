"""What is behind: the issued lines of a table held against the lines that the text gives now."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

from ..report.diff import out_of_order
from ..report.tables import Line

Kind = Literal["new", "gone", "moved", "level", "renamed", "formatting", "renumbered", "page"]


class Difference(NamedTuple):
    """One line that differs. ``issued`` is None for a new line, ``fresh`` is None for one that is gone.

    ``after`` is the source of the line behind which the text gives this one; None for the first, and for one that is gone.
    """

    kinds: tuple[Kind, ...]
    issued: Line | None
    fresh: Line | None
    after: str | None = None

    @property
    def line(self) -> Line:
        """The line as the text gives it now, or as it was issued if it is gone."""
        line = self.fresh or self.issued
        assert line is not None
        return line


def behind(issued: Sequence[Line], fresh: Sequence[Line]) -> tuple[Difference, ...]:
    """All lines that differ: those of the text in its order, each one that is gone before the line that followed it.

    As few lines as possible count as moved: all but a longest run of lines that kept their order.
    """
    fresh_sources = {line.source for line in fresh}
    places = {line.source: place for place, line in enumerate(issued)}
    moved = out_of_order([places[line.source] for line in fresh if line.source in places])
    gone: dict[str | None, list[Difference]] = {}
    follower: str | None = None
    for line in reversed(issued):
        if line.source in fresh_sources:
            follower = line.source
        else:
            gone.setdefault(follower, []).insert(0, Difference(("gone",), line, None))
    result: list[Difference] = []
    before: str | None = None
    for line in fresh:
        result.extend(gone.pop(line.source, ()))
        place = places.get(line.source)
        if place is None:
            result.append(Difference(("new",), None, line, before))
        elif kinds := _kinds(issued[place], line, place in moved):
            result.append(Difference(kinds, issued[place], line, before))
        before = line.source
    for rest in gone.values():
        result.extend(rest)
    return tuple(result)


_PAGES = Line._fields.index("pages")
_PRINTED = Line._fields.index("leads")


def reads_alike(one: Line, other: Line) -> bool:
    """Whether two lines are the same but for where their pages lead, which nobody sees."""
    return one == other or one[:_PRINTED] == other[:_PRINTED]


def _kinds(old: Line, new: Line, moved: bool) -> tuple[Kind, ...]:
    """In what two lines differ that anybody sees; where their pages lead, nobody does."""
    if not moved and old[:_PAGES] == new[:_PAGES] and old.emphasis == new.emphasis:
        return ("page",) if old.pages != new.pages else ()
    differs: list[tuple[Kind, bool]] = [
        ("moved", moved),
        ("level", old.level != new.level),
        ("renamed", old.text != new.text),
        ("formatting", old.text == new.text and old.emphasis != new.emphasis),
        ("renumbered", old.number != new.number),
        ("page", old.pages != new.pages),
    ]
    return tuple(kind for kind, found in differs if found)
