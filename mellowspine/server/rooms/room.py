"""A room: one report while people have it open.

Each room owns one thread, and its document, mirror and pages are touched by that thread alone. Everything that reaches
a room from outside is a call queued to it with ``call``. An edit is stored before anyone hears of it; structure, pages
and tables follow once no further edit is waiting. In a room that opens they follow once the text has been given to the
first who comes: a browser has work enough with that.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from typing import Any, ParamSpec, Protocol, TypeVar

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.utils import timezone
from pycrdt import Doc, TransactionEvent

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
from mellowspine.server.shelf.models import IssuedTable, Membership, Report
from mellowspine.server.shelf.reports import role_of, without_text

from .awareness import MOST_CLIENTS, Presence, message
from .causes import Causes
from .mirror import Mirror
from .models import Update
from .view import TableView, View, differences_view, edges_view

log = logging.getLogger(__name__)

P = ParamSpec("P")
R = TypeVar("R")

COMPACT_AFTER = 300
"""Number of updates in the log after which they are merged into one."""

ASKED_AGAIN_AFTER = 10.0
"""Seconds after which those in the room are asked again whether they may still read the report."""

NOT_YOURS = 4404
"""The code with which a connection is closed whose person may not read the report."""


_NOTHING = b"\x00\x00"
"""The update in which there is nothing: no clients, no deletions."""


class Listener(Protocol):
    """A browser in the room. The methods may be called from the room's thread."""

    person: User

    def send_bytes(self, data: bytes) -> None: ...

    def send_json(self, data: dict[str, Any]) -> None: ...

    def put_out(self, code: int) -> None: ...


@contextmanager
def following_writes() -> Iterator[None]:
    """For what follows from the text and could be computed again: written without waiting for the disk.

    SQLite, ``PRAGMA synchronous``: in WAL mode NORMAL keeps the database sound, and the next commit under FULL brings
    everything before it to the disk as well.
    """
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA synchronous=NORMAL")
        try:
            yield
        finally:
            cursor.execute("PRAGMA synchronous=FULL")


class Malformed(ValueError):
    """An update is not what it should be; nothing of it was kept."""


class MayNotWrite(Exception):
    """The sender may read this report, but not change it."""


class Room:
    def __init__(self, key: str) -> None:
        self.key = key
        self._thread = ThreadPoolExecutor(1, thread_name_prefix=f"room-{key}")
        self._listeners: list[Listener] = []
        self._present: dict[int, tuple[Listener, Presence]] = {}
        self._asked = time.monotonic()
        self._writer: User | None = None
        """Who made the edits whose effect on the structure has not been looked at yet."""
        self._following = False
        self._opened = False

    def call(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> Future[R]:
        """Queues one of the room's methods to its thread."""

        def run() -> R:
            if not self._opened:
                self._open()
            return work(*args, **kwargs)

        return self._thread.submit(run)

    def close(self) -> None:
        """Ends the room's thread, once all that is queued is done."""
        self._thread.submit(connection.close)
        self._thread.shutdown(wait=True)

    # Below: in the room's thread only.

    def _open(self) -> None:
        self.row = Report.objects.get(key=self.key)
        self._load()
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
        self.view: View | None = None
        """What the listeners have been shown; nothing yet until structure and pages are there."""
        self._opened = True

    def _load(self) -> None:
        """Reads the text from the log."""
        self.document: Doc[Any] = Doc()
        updates = [bytes(data) for data in Update.objects.filter(report=self.row).values_list("data", flat=True)]
        for data in updates:
            self.document.apply_update(data)
        self._logged = len(updates)
        self.mirror: Mirror | None = None
        """The text as blocks; read when it is first needed."""

    # People.

    def join(self, listener: Listener) -> None:
        """Adds a listener and sends it the room's view, if there is one by now."""
        self._listeners.append(listener)
        if self.view:
            self._refresh()
            listener.send_json({"type": "state", **self.view.changes(View())})
        if self._present:
            listener.send_bytes(message(presence for _, presence in self._present.values()))

    def leave(self, listener: Listener) -> None:
        """Takes a listener out, and tells the others that it is here no longer."""
        if listener in self._listeners:
            self._listeners.remove(listener)
        gone = [presence for one, presence in self._present.values() if one is listener]
        for presence in gone:
            del self._present[presence.client]
        if gone:
            self.pass_on(message(Presence(one.client, one.clock + 1, None) for one in gone))

    def meet(self, presences: Iterable[Presence], listener: Listener) -> None:
        """Passes on where a listener is. It speaks for itself alone: states of others' browsers are left out."""
        own = {client for client, (one, _) in self._present.items() if one is listener}
        told = []
        for presence in presences:
            if presence.client not in own:
                if presence.client in self._present or len(own) >= MOST_CLIENTS:
                    continue
                own.add(presence.client)
            if presence.state is None:
                self._present.pop(presence.client, None)
            else:
                self._present[presence.client] = (listener, presence)
            told.append(presence)
        if told:
            self.pass_on(message(told), listener)

    def pass_on(self, data: bytes, sender: Listener | None = None) -> None:
        """Sends bytes to every listener but the sender."""
        self._ask_again()
        for listener in self._listeners:
            if listener is not sender:
                listener.send_bytes(data)

    def announce(self, message: dict[str, Any]) -> None:
        self._ask_again()
        for listener in self._listeners:
            listener.send_json(message)

    def _ask_again(self) -> None:
        """Now and then, puts out those who are members of the report no longer."""
        if time.monotonic() - self._asked < ASKED_AGAIN_AFTER:
            return
        self._asked = time.monotonic()
        found = Membership.objects.filter(report=self.row, person__is_active=True)
        members = set(found.values_list("person_id", flat=True))
        for listener in [one for one in self._listeners if one.person.pk not in members]:
            self._listeners.remove(listener)
            listener.put_out(NOT_YOURS)

    # The text.

    def state(self) -> bytes:
        return self.document.get_state()

    def missing(self, state: bytes | None) -> bytes:
        """The update that a document in ``state`` (a state vector) lacks. Raises Malformed."""
        try:
            return self.document.get_update(state)
        except ValueError:
            raise Malformed("state vector") from None
        finally:
            if self.view is None:
                self._follow_soon()

    def receive(self, update: bytes, person: User) -> bool:
        """Takes an update and stores it; whether anything in it was new, so that the others must be told.

        Raises MayNotWrite, and Malformed for bytes that are no update; then nothing has changed.
        """
        if update == _NOTHING:
            return False
        if role_of(self.row, person) not in ("owner", "editor"):
            raise MayNotWrite
        if self.view is None or (self._writer is not None and self._writer.pk != person.pk):
            self._refresh()
        if not self._apply(update):
            return False
        Update.objects.create(report=self.row, person=person, data=update)
        self._logged += 1
        self._writer = person
        self._follow_soon()
        return True

    def _apply(self, update: bytes) -> bool:
        """Takes an update into the document; whether that changed anything."""
        changed = False

        def note(event: TransactionEvent) -> None:
            nonlocal changed
            changed = changed or event.update != _NOTHING

        subscription = self.document.observe(note)
        try:
            self.document.apply_update(update)
        except ValueError:
            self.document.unobserve(subscription)
            raise Malformed("update") from None
        except BaseException as error:  # pycrdt raises PanicException, which is no Exception
            if isinstance(error, KeyboardInterrupt | SystemExit):
                raise
            # It was taken in halfway: what has been stored is sound, this document is not.
            self._load()
            raise Malformed("update") from None
        self.document.unobserve(subscription)
        return changed

    def _compact(self) -> None:
        """Merges the log into one update, as new as the last of those that it replaces."""
        rows = Update.objects.filter(report=self.row)
        with transaction.atomic():
            last = rows.last()
            if last is not None:
                Update.objects.create(report=self.row, at=last.at, data=self.document.get_update())
                rows.filter(pk__lte=last.pk).delete()
        self._logged = 1

    # What follows from it.

    def _follow_soon(self) -> None:
        """Lets structure and pages follow, once all that is queued by now is done."""
        if not self._following:
            self._following = True
            self._thread.submit(self._follow)

    def _follow(self) -> None:
        self._following = False
        try:
            self._refresh()
            if self._logged > COMPACT_AFTER:
                self._compact()
        except Exception:
            log.exception("Structure and pages of report %s could not be computed", self.key)

    def _refresh(self) -> None:
        """Brings outline, pages and tables level with the document, and tells the listeners what changed."""
        if self.mirror is None:
            self.mirror = Mirror(self.document)
        elif not self.mirror.stale:
            return
        report = replace(self.frame, blocks=tuple(self.mirror.blocks))
        headings = outline(report, (self.report, self.headings))
        markers = list_markers(report, (self.report, self.markers))
        pages = paginate(report, self.typefaces, self.pages)
        # Taken over together: what the next edit starts from must be of one text.
        before, self.mirror.stale = self.headings, False
        self.report, self.headings, self.markers, self.pages = report, headings, markers, pages
        person, self._writer = self._writer, None
        self.placed = {b.table: i for i, b in enumerate(self.report.blocks) if type(b) is PlacedTable and b.table}
        self._make_missing_tables(person)
        if self.view and before is not headings:
            with following_writes():
                self.causes.note(before, headings, person)
        self._show()

    def _make_missing_tables(self, person: User | None) -> None:
        """A table placed in the text by hand, undo or paste gets its recipe and its first lines here."""
        for key in self.placed:
            if key not in self.issued:
                recipe = Recipe()
                self.issued[key], _ = IssuedTable.objects.get_or_create(
                    report=self.row, key=key, defaults={"recipe": recipe_to_json(recipe)}
                )
                self.report = replace(self.report, tables={**self.report.tables, key: Issued(recipe)})
                self._catch_up(key, "everything", person)

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
            state = (len(table.differences) if table else 0, table is not None)
            if (row.behind, row.placed) != state:
                row.behind, row.placed = state
                row.save(update_fields=["behind", "placed"])

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
