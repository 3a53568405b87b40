"""A room: one report while people have it open.

Each room owns one thread, and its text, company and pages are touched by that thread alone. Everything that reaches a
room from outside is a call queued to it with ``call``. What arrives while the disk is busy is stored together, and nobody
hears of an edit before it is stored. Structure, pages and tables follow once no further edit is waiting, and nothing that
goes wrong with them keeps an edit from being stored. In a room that opens they follow once the text has been given to the
first who comes: a browser has work enough with that.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence, Set
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from typing import Any, ParamSpec, TypeVar

from django.contrib.auth.models import User
from django.db import DatabaseError, connection
from django.utils import timezone
from pycrdt import YMessageType, YSyncMessageType, create_update_message, merge_updates, write_message

from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.tables import Issued, Recipe, line_to_json, recipe_to_json
from mellowspine.core.structure.looks import alike
from mellowspine.core.structure.markers import Markers, list_markers
from mellowspine.core.structure.outline import Outline, outline
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.contents import Scope, build, pages_of, settle
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.shelf.models import IssuedTable, Report
from mellowspine.server.shelf.reports import without_text, writers_of

from .awareness import Presence
from .causes import Causes
from .company import Company, Listener, as_text
from .text import NOTHING, Malformed, Text
from .view import TableView, View, differences_view, edges_view

__all__ = ["Malformed", "MayNotWrite", "Room"]

log = logging.getLogger(__name__)

P = ParamSpec("P")
R = TypeVar("R")

PATIENCE = 1.0
"""Seconds that the room waits for a database that somebody else is writing to, before it says that nothing is saved."""

TRIED_AGAIN_AFTER = 10.0
"""Seconds after which what could not be computed is tried again, if nobody has written meanwhile."""

WRITERS = ("owner", "editor")


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


def _connect() -> None:
    """Opens the database for this thread, unless it is open; one that waits no longer than a room can."""
    if connection.connection is None:
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA busy_timeout={int(1000 * PATIENCE)}")


class MayNotWrite(Exception):
    """The sender may read this report, but not change it."""


class Room:
    def __init__(self, key: str) -> None:
        self.key = key
        self.company = Company()
        self.text: Text | None = None
        self.view: View | None = None
        """What the listeners have been shown; nothing yet until structure and pages are there."""
        self._thread = ThreadPoolExecutor(1, thread_name_prefix=f"room-{key}")
        self._queued: set[Callable[[], None]] = set()
        self._saving = True
        """Whether the disk takes what is written."""
        self._computing = True
        """Whether what follows from the text can be computed."""
        self._tried = 0.0
        self._writers: Set[int] | None = None
        self._to_confirm: dict[Listener, int] = {}
        self._asked: set[Listener] = set()
        """Those who have been asked for something that their updates hang on."""

    def call(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> Future[R]:
        """Queues one of the room's methods to its thread."""

        def run() -> R:
            if self.text is None:
                self._open()
            return work(*args, **kwargs)

        return self._thread.submit(run)

    def beat_soon(self) -> None:
        """Queues ``beat``, unless the last one is still to come."""
        if self.text is not None:
            self._soon(self.beat)

    def close(self) -> None:
        """Ends the room's thread, once all that is queued is done."""
        if self.text is not None:
            self._thread.submit(self._store)
        self._thread.submit(connection.close)
        self._thread.shutdown(wait=True)

    @property
    def is_needed(self) -> bool:
        """Whether something in it is not on disk yet."""
        return self.text is not None and bool(self.text.waiting)

    # Below: in the room's thread only.

    def _open(self) -> None:
        _connect()
        self.row = Report.objects.get(key=self.key)
        self.text = Text(self.row)
        self._prepared = False
        self._known = False
        """Whether the structure of the text has been read at all."""
        self._level = False
        """Whether structure, pages and tables are those of the text as it was last read."""

    def _soon(self, work: Callable[[], None]) -> None:
        """Does something once all that is queued by now is done; once, however often it is asked for until then."""
        if work in self._queued:
            return
        self._queued.add(work)

        def run() -> None:
            self._queued.discard(work)
            try:
                work()
            except Exception:
                log.exception("Report %s: %s failed", self.key, work.__name__)

        try:
            self._thread.submit(run)
        except RuntimeError:
            self._queued.discard(work)  # the room is closing, and stores what waits by itself

    # People.

    def join(self, listener: Listener) -> None:
        """Adds a listener, and shows it what the others see, if that is there by now."""
        self.company.join(listener)
        if self.view:
            listener.tell(as_text({"type": "state", **self.view.changes(View())}))
        if not (self._saving and self._computing):
            listener.tell(as_text(self._condition()))

    def leave(self, listener: Listener) -> None:
        self.company.leave(listener)
        self._to_confirm.pop(listener, None)
        self._asked.discard(listener)

    def meet(self, presences: Iterable[Presence], listener: Listener) -> None:
        if self.company.meet(presences, listener):
            self._soon(self.company.tell_presence)

    def announce(self, message: Mapping[str, Any]) -> None:
        self.company.tell(message)

    def check(self) -> None:
        """Looks again at who may be here, and as what; whoever may write again is asked for what they have."""
        for listener in self.company.check(self.row):
            if listener.role in WRITERS:
                self._ask(listener)

    def beat(self) -> None:
        """What has to be done now and then: called every other second."""
        self.company.beat()
        self.check()
        if not self._saving:
            self._soon(self._store)
        if not self._computing and time.monotonic() - self._tried > TRIED_AGAIN_AFTER:
            self._soon(self._follow)

    def _condition(self) -> dict[str, Any]:
        return {"type": "condition", "saving": self._saving, "computing": self._computing}

    def _found(self, saving: bool | None = None, computing: bool | None = None) -> None:
        """Tells everybody when it turns out that the text cannot be saved, or what follows not computed; or can again."""
        before = self._condition()
        self._saving = self._saving if saving is None else saving
        self._computing = self._computing if computing is None else computing
        if self._condition() != before:
            self.announce(self._condition())

    # The text.

    def state(self) -> bytes:
        return self.text.arrived.get_state()

    def missing(self, state: bytes | None) -> bytes:
        """The update that a document in ``state`` (a state vector) lacks. Raises Malformed."""
        if self.view is None:
            self._soon(self._follow)
        return self.text.missing(state)

    def receive(
        self, update: bytes, person: User, sender: Listener | None = None, number: int = 0, answer: bool = False
    ) -> None:
        """Takes an update, to be stored as soon as the disk is free; only then the sender hears that it is, by ``number``.

        ``answer``: whether it is the answer of a browser that was asked for all that it has. Raises MayNotWrite, and
        Malformed for bytes that are no update; then nothing has changed.
        """
        if update != NOTHING:
            if not self._may_write(person):
                if answer and self.text.holds(update):
                    return
                raise MayNotWrite
            if not self.text.take(update, person, sender):
                if answer:
                    raise Malformed("update that hangs on what nobody has")
                if sender and sender not in self._asked:
                    self._ask(sender)
            elif sender and answer:
                self._asked.discard(sender)
        elif sender and answer:
            self._asked.discard(sender)
        if sender:
            self._to_confirm[sender] = number
        self._soon(self._store)

    def _may_write(self, person: User) -> bool:
        """Asked of the database once for all that is stored together."""
        if self._writers is None:
            self._writers = writers_of(self.row)
            self._soon(self._store)  # which forgets them
        return person.pk in self._writers

    def _ask(self, listener: Listener) -> None:
        """Asks a browser for everything that has not arrived. Until it has answered, nothing that it sends is confirmed."""
        self._asked.add(listener)
        listener.tell(bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP1]) + write_message(self.state()))

    def _store(self) -> None:
        """Stores what has arrived, and then passes it on and confirms it."""
        self._writers = None
        if self.text.waiting and not self._known:
            self._look_before()
        try:
            _connect()
            stored = self.text.store()
        except Exception:
            if self._saving:
                log.exception("Report %s cannot be saved; it is tried again", self.key)
            connection.close()
            self._found(saving=False)
            return
        self._found(saving=True)
        if stored:
            first = stored[0].sender
            alone = first if all(one.sender is first for one in stored) else None
            data = stored[0].data if len(stored) == 1 else merge_updates(*(one.data for one in stored))
            self.company.tell(create_update_message(data), but=alone)
            self._soon(self._follow)
        for listener in [one for one in self._to_confirm if one not in self._asked]:
            listener.tell(as_text({"type": "stored", "count": self._to_confirm.pop(listener)}))

    def _look_before(self) -> None:
        """Reads the structure before the first edit that the room hears, to know afterwards what that edit did."""
        try:
            if not self._prepared:
                self._prepare()
            report = replace(self.frame, blocks=tuple(self._read()))
            # Taken over together, as in ``_refresh``; pages know by themselves which report they are of.
            self.report, self.headings, self.markers = report, outline(report), list_markers(report)
            self._known = True
        except Exception:
            log.exception("The structure of report %s could not be read", self.key)

    # What follows from it.

    def _follow(self) -> None:
        self._tried = time.monotonic()
        try:
            self._refresh()
            self._found(computing=True)
            self.text.compact()
        except DatabaseError:
            log.exception("What follows from the text of report %s could not be stored", self.key)
        except Exception:
            log.exception("Structure and pages of report %s could not be computed", self.key)
            self._found(computing=False)

    def _prepare(self) -> None:
        """Reads what the report has besides its text."""
        self.frame = without_text(self.row)
        self.issued = {row.key: row for row in self.row.tables.select_related("issued_by")}
        self.causes = Causes(self.row)
        self.typefaces = Typefaces()
        self.report: CoreReport = self.frame
        self.headings: Outline = outline(self.report)
        self.markers: Markers = list_markers(self.report)
        self.pages: Pages = paginate(self.report, self.typefaces)
        self._compared: dict[str, tuple[Issued, Outline, Sequence[int], list[list[Any]]]] = {}
        """For every table, what was last held against each other, and what differed."""
        self._touched: dict[str, User] = {}
        """Who touched which blocks since what follows from them was shown."""
        self._prepared = True

    def _refresh(self) -> None:
        """Brings outline, pages and tables level with the document, and tells the listeners what changed."""
        if not self._prepared:
            self._prepare()
        mirror = self.text.blocks()
        if self._level and not mirror.stale:
            return
        if self.text.waiting:
            self._store()
        blocks = self._read()
        report = replace(self.frame, blocks=tuple(blocks))
        headings = outline(report, (self.report, self.headings))
        markers = list_markers(report, (self.report, self.markers))
        pages = paginate(report, self.typefaces, self.pages)
        # Taken over together: what the next edit starts from must be of one text.
        before = self.headings
        self.report, self.headings, self.markers, self.pages = report, headings, markers, pages
        self.placed = {b.table: i for i, b in enumerate(self.report.blocks) if type(b) is PlacedTable and b.table}
        self._make_missing_tables()
        if self._known and before is not headings:
            with following_writes():
                self.causes.note(before, headings, self._touched, self.text.writer)
        self._known = True
        self._show()
        self._touched = {}
        self._level = True

    def _read(self) -> Sequence[Any]:
        """The blocks of the text. Where two people have put the same id into it, one of them gets another."""
        mirror = self.text.blocks()
        self._level = False
        blocks, touched, again = mirror.read()
        self._touched |= touched
        if again and not self.text.waiting:
            renamed = self.text.renew_ids(again)
            self._store()
            self._copy_recipes(renamed)
            blocks, touched, _ = mirror.read()
            self._touched = touched | self._touched
        return blocks

    def _copy_recipes(self, renamed: Mapping[str, str]) -> None:
        """A second copy of a placed table has the same recipe and lines as the first, and is a table of its own."""
        for new, old in renamed.items():
            if old in self.issued:
                row = self.issued[old]
                self.issued[new] = IssuedTable.objects.create(report=self.row, key=new, recipe=row.recipe, lines=row.lines,
                                                              issued_at=row.issued_at, issued_by=row.issued_by)  # fmt: skip
                self.frame = replace(self.frame, tables={**self.frame.tables, new: self.frame.tables[old]})

    def _make_missing_tables(self) -> None:
        """A table placed in the text by hand, undo or paste gets its recipe and its first lines here."""
        for key, index in self.placed.items():
            if key not in self.issued:
                recipe = Recipe()
                self.issued[key], _ = IssuedTable.objects.get_or_create(
                    report=self.row, key=key, defaults={"recipe": recipe_to_json(recipe)}
                )
                self.report = replace(self.report, tables={**self.report.tables, key: Issued(recipe)})
                self._catch_up(key, "everything", self._touched.get(self.report.blocks[index].id))

    def _show(self) -> None:
        """Tells the listeners what differs from the view that they have."""
        on = pages_of(self.headings, self.pages)
        view = View(
            [self.pages.label(page) for page in range(1, len(self.pages) + 1)],
            [heading[:4] for heading in self.headings],
            on,
            edges_view(self.pages),
            self.markers,
            {key: self._table_view(key, index, on) for key, index in self.placed.items()},
        )
        kind, changed = ("changes", view.changes(self.view)) if self.view else ("state", view.changes(View()))
        self.view = view
        if changed:
            self.announce({"type": kind, **changed})
            with following_writes():
                self._keep_counts()

    def _table_view(self, key: str, index: int, on: Sequence[int]) -> TableView:
        issued, row = self.report.tables[key], self.issued[key]
        about = {
            "title": issued.recipe.title,
            "levels": issued.recipe.levels,
            "leader": issued.recipe.leader,
            "page": self.pages.page_of(index),
            "issuedAt": row.issued_at.isoformat() if row.issued_at else None,
            "issuedBy": shown_name(row.issued_by) if row.issued_by else None,
        }
        compared = self._compared.get(key)
        if compared is None or compared[0] is not issued or compared[1] is not self.headings or compared[2] != on:
            found = behind(issued.lines, build(issued.recipe, self.headings, self.pages, on))
            compared = self._compared[key] = (issued, self.headings, on, differences_view(found, self.causes))
        return TableView(about, issued.lines, compared[3])

    def _keep_counts(self) -> None:
        """Stores what the shelf shows of the report."""
        counts = {"pages": len(self.pages), "headings": len(self.headings)}
        if any(getattr(self.row, name) != value for name, value in counts.items()):
            Report.objects.filter(pk=self.row.pk).update(**counts)
            for name, value in counts.items():
                setattr(self.row, name, value)
        for key, row in self.issued.items():
            table = self.view.tables.get(key) if self.view else None
            state = {"behind": len(table.differences) if table else 0, "placed": table is not None}
            if any(getattr(row, name) != value for name, value in state.items()):
                IssuedTable.objects.filter(pk=row.pk).update(**state)
                for name, value in state.items():
                    setattr(row, name, value)

    def catch_up(self, table: str, scope: Scope, person: User) -> bool:
        """Brings a table up to date for everyone; False if there is no such table in the text."""
        self._refresh()
        if table not in self.placed:
            return False
        self._catch_up(table, scope, person)
        self._show()
        return True

    def _catch_up(self, table: str, scope: Scope, person: User | None) -> None:
        self.report, self.pages = settle(self.report, table, scope, self.typefaces, self.headings, self.pages)
        self.frame = replace(self.frame, tables=self.report.tables)
        row = self.issued[table]
        row.lines = [line_to_json(line) for line in self.report.tables[table].lines]
        row.issued_at, row.issued_by = timezone.now(), person
        row.save()

    def alike(self, block: str) -> tuple[str, ...]:
        """The paragraphs that look like this one."""
        self._refresh()
        return alike(self.report, block)

    def settled(self) -> tuple[CoreReport, Pages]:
        """The report and its pages as they are now, frozen: for work outside the room's thread."""
        self._refresh()
        return self.report, self.pages
