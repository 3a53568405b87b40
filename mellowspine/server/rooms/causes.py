"""Who did what to which heading, and when: explains why a table is behind."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple, Protocol

from django.contrib.auth.models import User
from django.utils import timezone

from mellowspine.core.report.diff import diff
from mellowspine.core.report.tables import Line
from mellowspine.core.structure.noted import Notes
from mellowspine.core.tables.behind import Kind, behind
from mellowspine.core.tables.index import term_id
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.shelf.models import HeadingChange, Report

from .models import Touch

_KEPT: dict[Kind, str] = {
    "new": "added",
    "gone": "removed",
    "renamed": "renamed",
    "moved": "moved",
    "level": "level",
}
"""Kinds of difference that somebody made by hand, and the name under which each is stored."""

A_MINUTE = timedelta(minutes=1)

AT_IT = timedelta(minutes=10)
"""Whoever renames something again within this has not been done with it."""


class Cause(NamedTuple):
    """Who did it, and when (ISO 8601)."""

    who: str
    at: str


def keep_touches(report: Report, touched: Iterable[tuple[str, int]], at: datetime) -> None:
    """Keeps who, by number, wrote in which blocks."""
    Touch.objects.bulk_create(
        (Touch(report=report, block=block, person_id=person, at=at) for block, person in touched),
        update_conflicts=True,
        unique_fields=["report", "block", "person"],
        update_fields=["at"],
        batch_size=2000,
    )


class Causes:
    """The newest change of each kind to each heading of a report; in memory, and stored as it is noted."""

    def __init__(self, report: Report) -> None:
        self._report = report
        self._known: dict[tuple[str, str], tuple[Cause, str]] = {}
        """With the words that it had."""
        self.renamed: dict[str, str] = {}
        """What headings were called before somebody renamed them last."""
        self._unstored: dict[tuple[str, str], HeadingChange] = {}
        """What the disk has not taken yet; it goes with the next that is noted."""
        self._touches: dict[tuple[str, int], datetime] = {}
        """When who wrote in which block, as far as this room has noted it."""
        for change in HeadingChange.objects.filter(report=report).select_related("person"):
            self._store(change)

    def _store(self, change: HeadingChange) -> None:
        who = shown_name(change.person) if change.person else ""
        self._known[change.heading, change.kind] = Cause(who, change.at.isoformat()), change.text
        if change.kind == _KEPT["renamed"] and change.text:
            self.renamed[change.heading] = change.text

    def of(self, heading: str, kinds: tuple[Kind, ...]) -> Cause | None:
        """That of the first of these kinds that is known for a heading."""
        found = (self._known.get((heading, _KEPT[kind])) for kind in kinds if kind in _KEPT)
        one = next((one for one in found if one), None)
        return one and one[0]

    def removed(self, place: str) -> str:
        """What a place was that somebody has removed, in words; empty if that is not known."""
        one = self._known.get((place, _KEPT["gone"]))
        if one is None or not one[1]:
            return ""
        return f"“{one[1]}”, which {one[0].who or 'somebody'} removed"

    def _before(self, heading: str, kind: str, person: User | None, text: str, at: datetime) -> str:
        """The words of a heading before it was changed: before the first key, where somebody is still at it."""
        known = self._known.get((heading, kind)) if kind == _KEPT["renamed"] else None
        who = shown_name(person) if person else ""
        still = known and known[0].who == who and at - datetime.fromisoformat(known[0].at) < AT_IT
        return known[1] if known and still else text[:300]

    def note_touched(self, touched: Mapping[str, User]) -> None:
        """Keeps who wrote in which blocks; one block and person at most once a minute."""
        now = timezone.now()
        new = {
            (block[:80], person.pk): now
            for block, person in touched.items()
            if (known := self._touches.get((block[:80], person.pk))) is None or now - known > A_MINUTE
        }
        if new:
            keep_touches(self._report, new, now)
            self._touches |= new

    def note(
        self,
        before: Sequence[Named],
        now: Sequence[Named],
        touched: Mapping[str, User],
        last: User | None,
        are_headings: bool = True,
    ) -> None:
        """Keeps what edits did to headings or other places: each put down to whoever ``touched`` it, or else to who wrote
        ``last``."""
        change = diff(before, now, _same_words)
        if not change and not self._unstored:
            return
        old, new = before[change.first : change.old_end], now[change.first : change.new_end]
        at = timezone.now()
        rows = []
        for difference in behind([_line(h) for h in old], [_line(h) for h in new]):
            heading, was = difference.line.source, (difference.issued or difference.line).text
            person = touched.get(heading, last)
            for kind in (_KEPT[one] for one in difference.kinds):
                text = self._before(heading, kind, person, was, at)
                rows.append(
                    HeadingChange(
                        report=self._report,
                        heading=heading,
                        kind=kind,
                        person=person,
                        at=at,
                        text=text,
                        is_heading=are_headings,
                    )
                )
        for row in rows:
            self._store(row)
            self._unstored[row.heading, row.kind] = row
        HeadingChange.objects.bulk_create(
            self._unstored.values(),
            update_conflicts=True,
            unique_fields=["report", "heading", "kind"],
            update_fields=["person", "at", "text", "is_heading"],
        )
        self._unstored = {}


class Named(Protocol):
    """What can be added, removed, renamed and moved: a heading, a caption, a bookmark."""

    @property
    def id(self) -> str: ...
    @property
    def level(self) -> int: ...
    @property
    def text(self) -> str: ...


class Thing(NamedTuple):
    id: str
    level: int
    text: str


def things(noted: Notes) -> list[Thing]:
    """The captions and bookmarks of a report, in reading order; then what is cited and indexed at all, by id."""
    found = []
    listed = set()
    for _, one in noted:
        if one.caption is not None:
            found.append(Thing(one.id, 1, one.text))
        found += [Thing(mark.id, 1, mark.name) for mark in one.places]
        listed.update([cited.of for cited in one.cites])
        listed.update([term_id(entry.terms) for term in one.terms for entry in term.entries])
    return [*found, *(Thing(id, 1, "") for id in sorted(listed))]


def _line(heading: Named) -> Line:
    """A heading's words and level alone: its number and page follow from other headings."""
    return Line(heading.id, heading.level, "", heading.text, ())


def _same_words(one: Named, other: Named) -> bool:
    return one is other or _line(one) == _line(other)
