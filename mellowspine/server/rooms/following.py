"""What follows from the text of an open report, kept level with it: see ``follow.py`` for what that is."""

from __future__ import annotations

import logging
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import DatabaseError, connection

from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block
from mellowspine.core.report.report import Report
from mellowspine.core.tables.kinds import placed_tables
from mellowspine.core.tables.settle import Scope, settle
from mellowspine.server.shelf.models import Report as Row
from mellowspine.server.shelf.reports import rules_of, set_aside_in, without_text

from .causes import Causes
from .follow import Failed, Given, Known, Round
from .tables import Tables

log = logging.getLogger(__name__)


class NotComputed(Exception):
    """Something that follows from the text could not be computed; the log says what and why."""


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


class Following:
    """Lives in the thread of its room."""

    def __init__(self, row: Row) -> None:
        self._row = row
        self._typefaces = Typefaces()
        self._causes = Causes(row)
        self.tables = Tables(row)
        self._frame = without_text(row)
        self._rules = rules_of(row)
        self._aside = set_aside_in(row)
        """The report, but for its text and tables."""
        self.report = self._frame
        """As it was when all that follows was last computed."""
        self._known: Known = {}
        """What was computed last: the next round starts from it."""
        self.view: Known = {}
        """The same, once all has been computed that can be: what browsers are shown."""

    def renew(self) -> None:
        """Reads again what the report has besides its text and tables, for rows that have changed."""
        self._row.refresh_from_db()
        frame = without_text(self._row)
        if frame.styles == self._frame.styles:  # the very same, so that what hangs on them is not computed anew
            frame = replace(frame, styles=self._frame.styles)
        self._frame = frame
        self._rules = rules_of(self._row)
        self._aside = set_aside_in(self._row)

    def _round(self, blocks: Sequence[Block]) -> Round:
        self.report = replace(self._frame, blocks=tuple(blocks), tables=self.tables.issued)
        return Round(
            Given(self.report, self._typefaces, self._causes, self.tables.issuances(), self._rules, self._aside),
            self._known,
        )

    def look_before(self, blocks: Sequence[Block]) -> None:
        """Reads the structure before the first edit, to know afterwards what that edit did."""
        now = self._round(blocks)
        with suppress(Failed):
            _ = now["outline"], now["markers"]
        self._known = now.known

    def follow(self, blocks: Sequence[Block], touched: Mapping[str, User], last: User | None) -> None:
        """Computes all that follows from these blocks.

        ``touched``: who touched which block since the last time; ``last``: who wrote last. Raises NotComputed, once
        all is done that can be.
        """
        placed = placed_tables(blocks)
        missing = self.tables.make_missing({key: block.kind for key, (_, block) in placed.items()})
        self._compute(self._round(blocks), touched, last)
        for key in missing:
            self._catch_up(key, "everything", touched.get(placed[key][1].id))
        with following_writes():
            self._keep_counts()

    def _compute(self, now: Round, touched: Mapping[str, User], last: User | None) -> None:
        before = self._known.get("outline")
        with suppress(Failed):  # of which ``finish`` tells
            headings = now["outline"]
            if before and before.value is not headings:
                with following_writes():
                    self._causes.note(before.value, headings, touched, last)
        whole = now.finish()
        self._known = self.view = now.known
        if not whole:
            raise NotComputed

    def value(self, name: str) -> Any:
        """What a follower gives for the report as it is now. Raises NotComputed if it could not."""
        found = self.view.get(name)
        if found is None or found.report is not self.report:
            raise NotComputed(name)
        return found.value

    def settled(self) -> tuple[Report, Pages]:
        """The report and its pages as they are now, frozen. Raises NotComputed if there are no such pages."""
        return self.report, self.value("pages")

    def catch_up(self, table: str, scope: Scope, person: User) -> bool:
        """Brings a table up to date; False if there is no such table in the text."""
        if table not in placed_tables(self.report.blocks):
            return False
        self._catch_up(table, scope, person)
        with following_writes():
            self._keep_counts()
        return True

    def _catch_up(self, table: str, scope: Scope, person: User | None) -> None:
        report, pages = self.settled()
        report, _ = settle(report, (table,), scope, self._typefaces, self.value("outline"), pages)
        self.tables.issue(table, report.tables[table], person)
        self._compute(self._round(report.blocks), {}, None)

    def _keep_counts(self) -> None:
        """Stores what the shelf shows of the report."""
        findings = len(self.value("findings")) - len(self.value("set_aside"))
        counts = {"pages": len(self.value("pages")), "headings": len(self.value("headings")), "findings": findings}
        if any(getattr(self._row, name) != value for name, value in counts.items()):
            Row.objects.filter(pk=self._row.pk).update(**counts)
            for name, value in counts.items():
                setattr(self._row, name, value)
        tables = self.value("tables")
        self.tables.keep_counts({key: len(table.differences) for key, table in tables.items()})
