"""A room: one report while people have it open.

Each room owns one thread, and its document, mirror and pages are touched by that thread alone. Everything that reaches
a room from outside is a call queued to it with ``call``. An edit is stored before anyone hears of it; structure, pages
and tables follow once no further edit is waiting.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, replace
from typing import Any, ParamSpec, Protocol, TypeVar

from django.contrib.auth.models import User
from django.db import close_old_connections, connection, transaction
from django.utils import timezone
from pycrdt import Doc, TransactionEvent

from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.tables import Issued, Line, Recipe, line_to_json, recipe_to_json
from mellowspine.core.structure.looks import alike
from mellowspine.core.structure.outline import Outline, outline
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.contents import Scope, build, settle
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.shelf.models import HeadingChange, IssuedTable, Report
from mellowspine.server.shelf.reports import role_of, without_text

from .mirror import Mirror
from .models import Update
from .view import TableView, View, view_of

log = logging.getLogger(__name__)

P = ParamSpec("P")
R = TypeVar("R")

COMPACT_AFTER = 300
"""Number of updates in the log after which they are merged into one."""

_KINDS = {"new": "added", "gone": "removed", "renamed": "renamed", "moved": "moved", "level": "level"}


class Listener(Protocol):
    """A browser in the room. Both methods may be called from the room's thread."""

    def send_bytes(self, data: bytes) -> None: ...

    def send_json(self, data: dict[str, Any]) -> None: ...


class Malformed(ValueError):
    """An update is not what it should be; nothing of it was kept."""


class MayNotWrite(Exception):
    """The sender may read this report, but not change it."""


@dataclass
class _Edits:
    """Edits whose effect on the structure has not been looked at yet."""

    person: User | None = None
    waiting: bool = False


class Room:
    def __init__(self, key: str) -> None:
        self.key = key
        self._thread = ThreadPoolExecutor(1, thread_name_prefix=f"room-{key}")
        self._listeners: list[Listener] = []
        self._edits = _Edits()
        self._opened = False

    def call(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> Future[R]:
        """Queues one of the room's methods to its thread."""

        def run() -> R:
            close_old_connections()
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
        self.document: Doc[Any] = Doc()
        for data in Update.objects.filter(report=self.row).values_list("data", flat=True):
            self.document.apply_update(bytes(data))
        self.mirror = Mirror(self.document)
        self._reload()
        self.typefaces = Typefaces()
        self.report: CoreReport = replace(self.frame, blocks=tuple(self.mirror.blocks))
        self.headings: Outline = outline(self.report)
        self.pages: Pages = paginate(self.report, self.typefaces)
        self.view = View()
        self._opened = True
        self._refresh()

    def _reload(self) -> None:
        """Reads all but the text again: styles, page set-up, tables."""
        self.row.refresh_from_db()
        self.frame = without_text(self.row)
        self.issued = {row.key: row for row in self.row.tables.select_related("issued_by")}

    def join(self, listener: Listener, state: bytes | None = None) -> bytes:
        """Adds a listener and sends it the room's view. Returns the update that a document in ``state`` lacks."""
        self._listeners.append(listener)
        if self.mirror.stale:
            self._refresh()
        listener.send_json({"type": "state", **self.view.json()})
        return self.missing(state)

    def missing(self, state: bytes | None) -> bytes:
        try:
            return self.document.get_update(state)
        except ValueError:
            raise Malformed("state vector") from None

    def state(self) -> bytes:
        return self.document.get_state()

    def leave(self, listener: Listener) -> int:
        """Takes a listener out; returns how many are left."""
        if listener in self._listeners:
            self._listeners.remove(listener)
        return len(self._listeners)

    def pass_on(self, data: bytes, sender: Listener | None = None) -> None:
        """Sends bytes to every listener but the sender."""
        for listener in self._listeners:
            if listener is not sender:
                listener.send_bytes(data)

    def announce(self, message: dict[str, Any]) -> None:
        for listener in self._listeners:
            listener.send_json(message)

    def receive(self, update: bytes, person: User) -> bytes | None:
        """Takes an update, stores it, and returns what the others must be told, None if nothing was new.

        Raises MayNotWrite, and Malformed for bytes that are no update; then nothing has changed.
        """
        if role_of(self.row, person) not in ("owner", "editor"):
            raise MayNotWrite
        if self._edits.person is not None and self._edits.person.pk != person.pk:
            self._refresh()
        new: list[bytes] = []

        def note(event: TransactionEvent) -> None:
            new.append(event.update)

        subscription = self.document.observe(note)
        try:
            self.document.apply_update(update)
        except BaseException as error:  # pycrdt raises PanicException, which is no Exception
            if isinstance(error, KeyboardInterrupt | SystemExit):
                raise
            raise Malformed("update") from None
        finally:
            self.document.unobserve(subscription)
        news = [data for data in new if data != b"\x00\x00"]
        if not news:
            return None
        Update.objects.bulk_create(Update(report=self.row, person=person, data=data) for data in news)
        self._edits.person = person
        if not self._edits.waiting:
            self._edits.waiting = True
            self._thread.submit(self._follow)
        return news[0] if len(news) == 1 else self.document.get_update()

    def _follow(self) -> None:
        try:
            self._refresh()
        except Exception:
            log.exception("Structure and pages of report %s could not be computed", self.key)

    def _refresh(self) -> None:
        """Brings outline, pages and tables level with the document, and tells the listeners what changed."""
        self._edits.waiting = False
        person, self._edits.person = self._edits.person, None
        self.mirror.stale = False
        self.report = replace(self.frame, blocks=tuple(self.mirror.blocks))
        self._make_missing_tables(person)
        before = self.headings
        self.headings = outline(self.report)
        self.pages = paginate(self.report, self.typefaces, self.pages)
        if before != self.headings:
            self._note_changes(before, person)
        self._show()

    def _placed(self) -> dict[str, int]:
        """Index of the block that prints each table."""
        return {b.table: i for i, b in enumerate(self.report.blocks) if type(b) is PlacedTable and b.table}

    def _make_missing_tables(self, person: User | None) -> None:
        """A table placed in the text by hand, undo or paste gets its recipe and its first lines here."""
        for key in self._placed():
            if key not in self.issued:
                recipe = Recipe()
                self.issued[key], _ = IssuedTable.objects.get_or_create(
                    report=self.row, key=key, defaults={"recipe": recipe_to_json(recipe)}
                )
                self.frame = replace(self.frame, tables={**self.frame.tables, key: Issued(recipe)})
                self.report = replace(self.report, tables=self.frame.tables)
                self._catch_up(key, "everything", person)

    def _note_changes(self, before: Outline, person: User | None) -> None:
        """Keeps who added, removed, renamed, moved or re-levelled which heading."""
        old, new = (tuple(Line(h.id, h.level, "", h.text, "") for h in side) for side in (before, self.headings))
        now = timezone.now()
        rows = [
            HeadingChange(report=self.row, heading=line.heading, kind=_KINDS[kind], person=person, at=now,
                          text=(difference.issued or line).text[:300])
            for difference in behind(old, new)
            for kind in difference.kinds
            if (line := difference.fresh or difference.issued)
        ]  # fmt: skip
        HeadingChange.objects.bulk_create(
            rows,
            update_conflicts=True,
            unique_fields=["report", "heading", "kind"],
            update_fields=["person", "at", "text"],
        )

    def _show(self) -> None:
        placed = self._placed()
        changes = {
            (change.heading, change.kind): {
                "who": shown_name(change.person) if change.person else "",
                "at": change.at.isoformat(),
            }
            for change in HeadingChange.objects.filter(report=self.row).select_related("person")
        }
        tables: dict[str, Any] = {}
        for key, index in placed.items():
            issued, row = self.report.tables[key], self.issued[key]
            fresh = build(issued.recipe, self.headings, self.pages)
            shown = TableView(
                issued.recipe,
                issued.lines,
                behind(issued.lines, fresh),
                self.pages.page_of(index),
                row.issued_at.isoformat() if row.issued_at else None,
                shown_name(row.issued_by) if row.issued_by else None,
            )
            tables[key] = shown.json(changes)
        view = view_of(self.pages, self.headings, tables)
        changed = view.changes(self.view)
        self.view = view
        if changed:
            self.announce({"type": "changes", **changed})
            self._keep_counts(tables)

    def _keep_counts(self, tables: dict[str, Any]) -> None:
        with transaction.atomic():
            Report.objects.filter(pk=self.row.pk).update(
                pages=len(self.pages), headings=len(self.headings), changed_at=timezone.now()
            )
            for key, row in self.issued.items():
                count = len(tables[key]["differences"]) if key in tables else 0
                if (row.behind, row.placed) != (count, key in tables):
                    row.behind, row.placed = count, key in tables
                    row.save(update_fields=["behind", "placed"])

    def catch_up(self, table: str, scope: Scope, person: User) -> bool:
        """Brings a table up to date for everyone; False if there is no such table in the text."""
        if self.mirror.stale:
            self._refresh()
        if table not in self._placed():
            return False
        self._catch_up(table, scope, person)
        self._show()
        return True

    def _catch_up(self, table: str, scope: Scope, person: User | None) -> None:
        self.report, self.pages = settle(self.report, table, scope, self.typefaces, self.pages)
        self.frame = replace(self.frame, tables=self.report.tables)
        row = self.issued[table]
        row.lines = [line_to_json(line) for line in self.report.tables[table].lines]
        row.issued_at, row.issued_by = timezone.now(), person
        row.save()

    def compact(self) -> None:
        """Merges the log into one update."""
        rows = Update.objects.filter(report=self.row)
        if rows.count() > COMPACT_AFTER:
            with transaction.atomic():
                last = rows.last()
                Update.objects.create(report=self.row, person=None, data=self.document.get_update())
                rows.filter(pk__lte=last.pk if last else 0).delete()

    def alike(self, block: str) -> tuple[str, ...]:
        return alike(replace(self.report, blocks=tuple(self.mirror.blocks)), block)

    def settled(self) -> tuple[CoreReport, Pages]:
        """The report and its pages as they are now, frozen: for work outside the room's thread."""
        if self.mirror.stale:
            self._refresh()
        return self.report, self.pages
