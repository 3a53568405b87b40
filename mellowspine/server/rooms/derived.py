"""What follows from the text of an open report, kept level with it: see ``followers`` for what that is."""

from __future__ import annotations

import logging
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import DatabaseError, connection

from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block
from mellowspine.core.report.report import Report
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.changing import Changed, Now, caught_up
from mellowspine.core.tables.kinds import placed_tables
from mellowspine.core.tables.own import worded
from mellowspine.core.tables.settle import Scope
from mellowspine.server.shelf.models import Report as Row
from mellowspine.server.shelf.reports import rules_of, set_aside_in, without_text
from mellowspine.server.shelf.typefaces import face_files, face_keys

from .causes import Causes, things
from .followers import FOLLOWERS
from .followers.round import Failed, Given, Known, Of, Round, SetAside
from .followers.tables import TableShown
from .kept import kept_in
from .leftovers import sweep_report
from .tables import Tables

log = logging.getLogger(__name__)


class NotComputed(Exception):
    """Something that follows from the text could not be computed: its arguments say what; the log says why."""


@contextmanager
def following_writes() -> Iterator[None]:
    """For what follows from the text and could be computed again: written without waiting for the disk.

    SQLite, ``PRAGMA synchronous``: in WAL mode NORMAL keeps the database sound, and the next commit under FULL brings
    everything before it to the disk as well. If it cannot be written at all, it is made up for with the next edit.
    """
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA synchronous=NORMAL")
        try:
            yield
        except DatabaseError:
            log.exception("What follows from the text could not be written")
        finally:
            cursor.execute("PRAGMA synchronous=FULL")


class Derived:
    """Lives in the thread of its room."""

    def __init__(self, row: Row) -> None:
        self._row = row
        self._own_faces = face_keys(row)
        self._typefaces = Typefaces(face_files(row))
        self._causes = Causes(row)
        self.tables = Tables(row)
        self._frame = without_text(row)
        """The report, but for its text and tables."""
        self._rules = rules_of(row)
        self._aside = _set_aside(row)
        self._kept = kept_in(row)
        self.report = self._frame
        """As it was when all that follows was last computed."""
        self._known: Known = {}
        """What was computed last: the next round starts from it."""
        self.view: Known = {}
        """What browsers are shown: what was computed last, once all has been that can be."""

    def renew(self) -> None:
        """Reads again what the report has besides its text and tables, for rows that have changed."""
        self._row.refresh_from_db()
        frame = without_text(self._row)
        if frame.styles == self._frame.styles:  # the very same, so that what hangs on them is not computed anew
            frame = replace(frame, styles=self._frame.styles)
        self._frame = frame
        self._rules = rules_of(self._row)
        self._aside = _set_aside(self._row)
        self._kept = kept_in(self._row)
        if (faces := face_keys(self._row)) != self._own_faces:
            self._own_faces, self._typefaces = faces, Typefaces(face_files(self._row))
            self._known = {}  # nothing is as wide as it was

    def _round(self, blocks: Sequence[Block]) -> Round:
        self.report = replace(self._frame, blocks=tuple(blocks), tables=self.tables.issued)
        return Round(
            FOLLOWERS,
            Given(
                self.report,
                self._typefaces,
                self._causes,
                self.tables.issuances(),
                self._rules,
                self._aside,
                self._kept,
            ),
            self._known,
        )

    def look_before(self, blocks: Sequence[Block]) -> None:
        """Reads the structure before the first edit, to know afterwards what that edit did."""
        now = self._round(blocks)
        with suppress(Failed):
            _ = now["outline"], now["markers"], now["noted"]
        self._known = now.known

    def follow(self, blocks: Sequence[Block], touched: Mapping[str, User], last: User | None) -> None:
        """Computes all that follows from these blocks.

        ``touched``: who touched which block since the last time; ``last``: who wrote last. Raises NotComputed, once
        all is done that can be.
        """
        placed = placed_tables(blocks)
        missing = self.tables.make_missing(
            {key: (block.kind, touched.get(block.id, last)) for key, (_, block) in placed.items()}
        )
        self._compute(self._round(blocks), touched, last)
        for key in missing:
            self._issue([key], touched.get(placed[key][1].id))
        self._follow_up()

    def _follow_up(self) -> None:
        """What is done once all has been computed: tables that keep themselves level are, and the shelf is told."""
        kept = self.tables.kept_level()
        tables: Mapping[str, TableShown] = self.value("tables")
        if late := [key for key, table in tables.items() if key in kept and table.differences]:
            self._issue(late, None)
        with following_writes():
            self._store_counts()

    def _issue(self, keys: Sequence[str], person: User | None) -> None:
        """Brings tables up to date by themselves."""
        report, pages = caught_up(self.now(), keys, "everything")
        for key in keys:
            self.tables.follow(key, report.tables[key], person)
        self._start_from(report, pages)
        self._compute(self._round(report.blocks), {}, None)

    def _compute(self, now: Round, touched: Mapping[str, User], last: User | None) -> None:
        before, noted = self._known.get("outline"), self._known.get("noted")
        with suppress(Failed):  # of which ``finish`` tells
            headings = now["outline"]
            if before and before.value is not headings:
                with following_writes():
                    self._causes.note(before.value, headings, touched, last)
            if noted and noted.value is not now["noted"]:
                with following_writes():
                    self._causes.note(things(noted.value), things(now["noted"]), touched, last, are_headings=False)
        if touched:
            with following_writes():
                self._causes.note_touched(touched)
        now.finish()
        self._known = self.view = now.known
        if now.broken:
            raise NotComputed(*now.broken)

    def value(self, name: str) -> Any:
        """What a follower gives for the report as it is now. Raises NotComputed if it could not."""
        found = self.view.get(name)
        if found is None or found.report is not self.report:
            raise NotComputed(name)
        return found.value

    def settled(self) -> tuple[Report, Pages]:
        """The report and its pages as they are now, frozen. Raises NotComputed if there are no such pages."""
        return self.report, self.value("pages")

    def now(self) -> Now:
        """The report with all that tables are made from, frozen. Raises NotComputed."""
        report, pages = self.settled()
        return Now(report, pages, self.value("outline"), self._typefaces)

    def placed(self) -> Collection[str]:
        """The tables in the text."""
        return placed_tables(self.report.blocks).keys()

    def holds(self, key: str) -> bool:
        return key in self.placed()

    def change_table(
        self, key: str, change: Callable[[Now], Changed], person: User, what: str, alone: bool = False
    ) -> int | None:
        """Changes a table in the text as somebody wants it; None if nothing changes.

        Gives the number under which it can be taken back. Raises NotComputed.
        """
        report, pages = change(self.now())
        if report.tables[key] == self.report.tables[key]:
            return None
        number = self.tables.change(key, report.tables[key], person, what, alone=alone)
        self._start_from(report, pages)
        self._changed()
        return number

    def catch_up(self, keys: Collection[str], scope: Scope, person: User, what: str) -> dict[str, int] | None:
        """Brings tables up to date; None if one of them is not in the text.

        Gives the numbers under which it can be taken back, of those tables in which something changed.
        """
        if not all(map(self.holds, keys)):
            return None
        now = self.now()
        report, pages = caught_up(now, keys, scope)
        after = replace(now, report=report, pages=pages)
        numbers = {}
        for key in keys:
            issued = report.tables[key]
            if issued == now.report.tables[key]:
                continue
            was = {line.source: line for line in now.report.tables[key].lines}
            is_now = {line.source: line for line in issued.lines}
            differed = behind(now.report.tables[key].lines, worded(after.lines(key), issued.own))
            done = [
                one
                for one in differed
                if was.get(one.line.source) != is_now.get(one.line.source) or "moved" in one.kinds
            ]
            numbers[key] = self.tables.change(key, issued, person, what, done, caught_up=True)
        self._start_from(report, pages)
        self._changed()
        return numbers

    def take_back(self, key: str, number: int, person: User) -> str | None:
        """Takes back what somebody changed last about a table; says why not, otherwise."""
        refused = self.tables.take_back(key, number, person)
        self._changed()
        return refused

    def keep_level(self, key: str, keeps_level: bool) -> bool:
        """Whether there is such a table in the text, which from now on keeps itself level, or no longer."""
        if not self.holds(key):
            return False
        self.tables.keep_level(key, keeps_level)
        self._changed()
        return True

    def sweep(self) -> None:
        """Takes out what has not been in the text for long. Raises NotComputed where it is not known what is."""
        report, pages = self.settled()
        known = {heading.id for heading in pages.headings} | pages.places.keys()
        known |= {line.source for issued in report.tables.values() for line in issued.lines}
        with following_writes():
            sweep_report(self._row, report.blocks, self.placed(), known)

    def _start_from(self, report: Report, pages: Pages) -> None:
        """Has the next round begin with pages that are known already, and measure no table of them again."""
        self._known = {**self._known, "pages": Of(report, pages)}

    def _changed(self) -> None:
        """Tables have changed, and the text has not."""
        self._compute(self._round(self.report.blocks), {}, None)
        self._follow_up()

    def _store_counts(self) -> None:
        """Stores what the shelf shows of the report."""
        findings = len(self.value("findings")) - len(self.value("set_aside"))
        counts = {"pages": len(self.value("pages")), "headings": len(self.value("headings")), "findings": findings}
        if any(getattr(self._row, name) != value for name, value in counts.items()):
            Row.objects.filter(pk=self._row.pk).update(**counts)
            for name, value in counts.items():
                setattr(self._row, name, value)
        tables = self.value("tables")
        self.tables.store_counts({key: len(table.differences) for key, table in tables.items()})


def _set_aside(row: Row) -> Mapping[str, SetAside]:
    return {finding: SetAside(*one) for finding, one in set_aside_in(row).items()}
