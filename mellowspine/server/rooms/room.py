"""A room: one report while people have it open.

Each room owns two threads. Its text and company are touched by the first alone, and what follows from the text by the
second; everything that reaches a room from outside is a call queued to one of them with ``call``. What arrives while the
disk is busy is stored together, and nobody hears of an edit before it is stored. Structure, pages and tables follow in
their own time, from the blocks as they are when the second thread asks for them: it may wait for the first, and the first
never waits for it. In a room that opens they follow once the text has been given to the first who comes: a browser has
work enough with that.
"""

from __future__ import annotations

import gc
import logging
import time
from base64 import b64encode
from collections.abc import Callable, Iterable, Mapping, Set
from concurrent.futures import Future
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Any, ParamSpec, TypeVar

from django.contrib.auth.models import User
from django.db import DatabaseError, connection
from pycrdt import YMessageType, YSyncMessageType, create_update_message, merge_updates, write_message

from mellowspine.core.checkup.findings import Checked
from mellowspine.core.pages.pages import Pages
from mellowspine.core.report.blocks import Block
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.tables.changing import Now
from mellowspine.server.shelf.models import Report
from mellowspine.server.shelf.reports import writers_of
from mellowspine.server.shelf.visits import note_here

from .awareness import AwarenessState
from .derived import Derived, NotComputed, following_writes
from .followers import FOLLOWERS, changes
from .followers.round import Known
from .gate import Malformed
from .presence import Listener, Presence, as_text
from .text import NOTHING, LeftOut, Text
from .worker import Worker

__all__ = ["Malformed", "MayNotWrite", "Room"]

log = logging.getLogger(__name__)

P = ParamSpec("P")
R = TypeVar("R")

PATIENCE = 1.0
"""Seconds that the room waits for a database that somebody else is writing to, before it says that nothing is saved."""

ALL = tuple(FOLLOWERS)
"""What could not be computed where it is not known how far it got."""

TRIED_AGAIN_AFTER = 10.0
"""Seconds after which what could not be computed is tried again, if nobody has written meanwhile."""

VISITS_NOTED_EVERY = 60.0
"""Seconds after which it is noted again who is here."""

WRITERS = ("owner", "editor")

F = TypeVar("F", bound=Callable[..., Any])


def follows(method: F) -> F:
    """Marks a method of a room that runs in its second thread."""
    method.in_second_thread = True  # type: ignore[attr-defined]
    return method


@dataclass(frozen=True, slots=True)
class Read:
    """The text as the second thread is given it: what has changed since it was last, and by whom."""

    blocks: list[Block]
    touched: dict[str, User]
    last: User | None
    """Who wrote last."""
    renamed: dict[str, str]
    """Tables that were put in twice and are named anew: new name → old name."""
    before: list[Block] | None = None
    """The blocks before the first edit that the room heard, if it has heard one: to know afterwards what that did."""


def _connect() -> None:
    """Opens the database for this thread, unless it is open; one that waits no longer than a room can."""
    if connection.connection is None:
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA busy_timeout={int(1000 * PATIENCE)}")


def _disconnect() -> None:
    """Closes this thread's connection to the database: which one is meant is decided where it is looked up."""
    connection.close()


class MayNotWrite(Exception):
    """The sender may read this report, but not change it."""


class Room:
    def __init__(self, key: str) -> None:
        self.key = key
        self.presence = Presence()
        self.text: Text
        self._opened = False
        self._shown: Known = {}
        """What the listeners have been shown."""
        self._renamed: dict[str, str] = {}
        self._before: list[Block] | None = None
        """The blocks before the first edit, until the second thread has been given them."""
        self._looked = False
        """Whether the blocks have been read before that."""
        self._visits_noted = time.monotonic()
        self._given_back = False
        """Whether it has been looked whether words are kept for what is in the text."""
        self.derived: Derived | None = None
        """From here on the second thread's own."""
        self._level = False
        """Whether what follows is that of the text as it was last read."""
        self._touched: dict[str, User] = {}
        """Who touched which blocks since what follows from them was computed."""
        self._worker = Worker(f"room-{key}")
        self._second = Worker(f"pages-{key}")
        self._saving = True
        """Whether the disk takes what is written."""
        self._frozen = False
        """Whether what follows from the text has been computed once, and is no longer looked through for garbage."""
        self._lacking: tuple[str, ...] = ()
        """Names of followers that could not compute what follows."""
        self._tried = 0.0
        self._writers: Set[int] | None = None
        self._to_confirm: dict[Listener, int] = {}
        self._to_tell: list[tuple[Listener, LeftOut]] = []
        """What was left out of what somebody wrote, until that is stored: they take it out of their text, as all others will."""
        self._asked: set[Listener] = set()
        """Those who have been asked for something that their updates hang on."""

    def call(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> Future[R]:
        """Queues one of the room's methods to the thread that it belongs to; anything else to the first."""
        second = getattr(work, "in_second_thread", False)

        def run() -> R:
            if second:
                self._worker.do(self._open).result()
                _connect()
            else:
                self._open()
            return work(*args, **kwargs)

        return (self._second if second else self._worker).do(run)

    def beat_soon(self) -> None:
        """Queues ``beat``, unless the last one is still to come."""
        if self._opened:
            self._worker.soon(self.beat)

    def renew_soon(self) -> None:
        """Queues ``renew``; a room that nobody has opened yet reads the rows when it is."""
        self._worker.soon(self.renew)
        self._second.soon(self._renew)

    def close(self) -> None:
        """Ends the room's threads, once all that is queued is done."""
        self._second.do(self._sweep)
        self._second.do(_disconnect)
        self._second.close()
        if self._opened:
            self._worker.do(self._store)
            self._worker.do(self.text.close)
        self._worker.do(_disconnect)
        self._worker.close()
        gc.unfreeze()  # what was of this room can be collected; the next that opens freezes the others again

    def _sweep(self) -> None:
        """In the second thread, when it ends: what is no longer in the text is noted, and goes in time."""
        try:
            if self.derived:
                self._followed().sweep()
        except Exception:
            log.exception("What is no longer in report %s could not be taken out", self.key)

    @property
    def is_needed(self) -> bool:
        """Whether something in it is not on disk yet."""
        return self._opened and bool(self.text.waiting)

    # Below: in the room's first thread only.

    def _open(self) -> None:
        if self._opened:
            return
        _connect()
        self.row = Report.objects.get(key=self.key)
        self.text = Text(self.row)
        self._opened = True

    # People.

    def join(self, listener: Listener) -> None:
        """Adds a listener, and shows it what the others see, if that is there by now."""
        self.presence.join(listener)
        self._worker.soon(self._note_visits)
        if self._shown:
            listener.deliver(as_text({"type": "state", **changes({}, self._shown)}))
        if not self._saving or self._lacking:
            listener.deliver(as_text(self._condition()))

    def _note_visits(self) -> None:
        self._visits_noted = time.monotonic()
        try:
            with following_writes():
                note_here(self.row, {listener.person.pk for listener in self.presence})
        except DatabaseError:  # nobody is kept from coming or leaving by it
            log.exception("Who is in report %s could not be noted", self.key)

    def leave(self, listener: Listener) -> None:
        if listener in self.presence:
            self._note_visits()
        self.presence.leave(listener)
        self._to_confirm.pop(listener, None)
        self._asked.discard(listener)

    def update_presence(self, presences: Iterable[AwarenessState], listener: Listener) -> None:
        if self.presence.update_presence(presences, listener):
            self._worker.soon(self.presence.broadcast_presence)

    def announce(self, message: Mapping[str, Any]) -> None:
        self.presence.broadcast(message)

    def check(self) -> None:
        """Looks again at who may be here, and as what; whoever may write again is asked for what they have."""
        for listener in self.presence.check(self.row):
            if listener.role in WRITERS:
                self._ask(listener)

    def admits(self, listener: Listener) -> bool:
        """Whether a listener may still be here, as rows say at this moment."""
        self.check()
        return listener in self.presence

    def beat(self) -> None:
        """What has to be done now and then: called every other second."""
        self.presence.beat()
        self.check()
        if time.monotonic() - self._visits_noted > VISITS_NOTED_EVERY:
            self._note_visits()
        if not self._saving:
            self._worker.soon(self._store)
        if self._lacking and time.monotonic() - self._tried > TRIED_AGAIN_AFTER:
            self._second.soon(self._follow)

    def _condition(self) -> dict[str, Any]:
        return {"type": "condition", "saving": self._saving, "lacking": [*self._lacking]}

    def _found(self, saving: bool | None = None, lacking: tuple[str, ...] | None = None) -> None:
        """Tells everybody when it turns out that the text cannot be saved, or what follows not computed; or can again."""
        before = self._condition()
        self._saving = self._saving if saving is None else saving
        self._lacking = self._lacking if lacking is None else lacking
        if self._condition() != before:
            self.announce(self._condition())

    # The text.

    def state(self) -> bytes:
        return self.text.arrived.get_state()

    def missing(self, state: bytes | None) -> bytes:
        """The update that a document in ``state`` (a state vector) lacks. Raises Malformed."""
        if not self._shown:
            self._second.soon(self._follow)
        return self.text.missing(state)

    def receive(
        self, update: bytes, person: User, sender: Listener | None = None, number: int = 0, answer: bool = False
    ) -> None:
        """Takes an update, to be stored as soon as the disk is free; only then the sender hears that it is, by ``number``.

        ``answer``: whether it is the answer of a browser that was asked for all that it has. Raises MayNotWrite, and
        Malformed for bytes that are no update; then nothing has changed.
        """
        if update != NOTHING:
            may_write = self._may_write(person)
            if sender and sender not in self.presence:
                return  # put out, just now or before: nothing of theirs is taken any more
            if not may_write:
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
            if left_out := self.text.left_out:
                log.warning("Left out of what %s wrote in report %s: %s", person.pk, self.key, left_out.faults[0])
                if sender:
                    self._to_tell.append((sender, left_out))
        elif sender and answer:
            self._asked.discard(sender)
        if sender:
            self._to_confirm[sender] = number
        self._worker.soon(self._store)

    def _may_write(self, person: User) -> bool:
        """Asked of the database once for all that is stored together."""
        if self._writers is None:
            self.check()
            self._writers = writers_of(self.row)
            self._worker.soon(self._store)  # which forgets them
        return person.pk in self._writers

    def _ask(self, listener: Listener) -> None:
        """Asks a browser for everything that has not arrived. Until it has answered, nothing that it sends is confirmed."""
        self._asked.add(listener)
        listener.deliver(bytes([YMessageType.SYNC, YSyncMessageType.SYNC_STEP1]) + write_message(self.state()))

    def _store(self) -> None:
        """Stores what has arrived, and then passes it on and confirms it."""
        self._writers = None
        if self.text.waiting and not self._looked:
            self._look_before()
        try:
            _connect()
            stored = self.text.store()
        except Exception:
            if self._saving:
                log.exception("Report %s cannot be saved; it is tried again", self.key)
            _disconnect()
            self._found(saving=False)
            return
        self._found(saving=True)
        if self.text.kept_changed:
            self.text.kept_changed = False
            self._second.soon(self._renew)
        told, self._to_tell = self._to_tell, []
        for listener, left_out in told:  # before it goes: the words in it are still there to be copied
            what, more = left_out.faults[0], len(left_out.faults) - 1
            update = b64encode(left_out.update).decode()
            listener.deliver(as_text({"type": "left-out", "what": what, "more": more, "update": update}))
        if stored:
            first = stored[0].sender
            alone = first if all(one.sender is first for one in stored) else None
            data = stored[0].data if len(stored) == 1 else merge_updates(*(one.data for one in stored))
            self.presence.broadcast(create_update_message(data), but=alone)
            self._second.soon(self._follow)
        for listener in [one for one in self._to_confirm if one not in self._asked]:
            listener.deliver(as_text({"type": "stored", "count": self._to_confirm.pop(listener)}))

    def _look_before(self) -> None:
        self._looked = True
        try:
            self._before = self._blocks().blocks
        except Exception:
            log.exception("The text of report %s could not be read", self.key)

    def _blocks(self) -> Read:
        """The text as it is now, once the room has put right what people left who wrote at once: ids that stand twice, and
        data tables in which there is no place to write on."""
        mirror = self.text.blocks()
        blocks, touched, again, lacking = mirror.read()
        if (again or lacking) and not self.text.waiting:
            self.text.fill(lacking)
            self._renamed |= self.text.settle_twins(blocks, again)
            self._store()
            blocks, more, *_ = mirror.read()
            touched = more | touched
        if self.text.give_back(blocks, {*touched} if self._given_back else None):
            self._store()
            blocks, more, *_ = mirror.read()
            touched = more | touched
        self._given_back = True
        renamed, self._renamed = self._renamed, {}
        return Read(blocks, touched, self.text.writer, renamed)

    def _blocks_if_changed(self, level: bool) -> Read | None:
        """The text for the second thread; None if that is ``level`` with it."""
        if level and not self.text.blocks().stale:
            return None
        if self.text.waiting:
            self._store()
        self._looked = True
        before, self._before = self._before, None
        return replace(self._blocks(), before=before)

    def _show(self, view: Known, found: Mapping[str, Any]) -> None:
        """Tells the listeners what has changed in what they see."""
        first, self._shown = not self._shown, view
        self.announce({"type": "state" if first else "changes", **found})

    def renew(self) -> None:
        """Rows of the report have changed, other than its text and tables: its name, its sheet, who may be here."""
        if self._opened:
            self.text.forget_kept()
            self.check()
            self.announce({"type": "renewed"})

    def _compact(self) -> None:
        try:
            self.text.compact()
        except DatabaseError:
            log.exception("The log of report %s could not be merged", self.key)

    # Below: in its second thread only.

    def _in_first(self, work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        return self._worker.do(lambda: work(*args, **kwargs)).result()

    def _made(self) -> Derived:
        if self.derived is None:
            _connect()
            self.derived = Derived(Report.objects.get(key=self.key))
        return self.derived

    @follows
    def _follow(self) -> None:
        self._tried = time.monotonic()
        try:
            self._refresh()
            self._worker.soon(self._compact)
            if not self._frozen:
                # A report is a million small objects for hours: collecting garbage need not look at them at every turn.
                # Garbage that is frozen would stay, so it goes first.
                self._frozen = True
                gc.collect()
                gc.freeze()
        except NotComputed:
            pass  # told by ``_refresh``
        except DatabaseError:
            log.exception("What follows from the text of report %s could not be stored", self.key)
        except Exception:
            log.exception("Structure and pages of report %s could not be computed", self.key)
            self._in_first(self._found, lacking=ALL)

    @follows
    def _refresh(self) -> None:
        """Brings what follows level with the text, and tells the listeners what changed. Raises NotComputed."""
        read = self._in_first(self._blocks_if_changed, self._level)
        if read is None:
            return
        self._level = False
        self._touched |= read.touched
        derived = self._made()
        if read.before is not None:
            derived.look_before(read.before)
        if read.renamed:
            derived.tables.copy(read.renamed)
        self._publishing(lambda: derived.follow(read.blocks, self._touched, read.last))
        self._touched, self._level = {}, True

    def _publishing(self, work: Callable[[], R]) -> R:
        """Does something that changes what follows, and tells the listeners what changed. Raises NotComputed."""
        derived = self._made()
        before, lacking = derived.view, self._lacking  # a request that is turned down says nothing of pages
        try:
            result = work()
            lacking = ()
        except NotComputed as error:
            lacking = error.args or ALL
            raise
        finally:
            self._in_first(self._found, lacking=lacking)
            if found := changes(before, derived.view):
                self._in_first(self._show, derived.view, found)
        return result

    def _renew(self) -> None:
        if self.derived:
            self.derived.renew()
            self._level = False
            self._follow()

    @follows
    def change_tables(self, change: Callable[[Derived], R]) -> R:
        """Does something to tables for everyone, once what follows is level with the text. Raises NotComputed."""
        derived = self._followed()
        return self._publishing(lambda: change(derived))

    @follows
    def now(self) -> Now:
        """The report with all that tables are made from, frozen: for work outside the room's thread. Raises NotComputed."""
        return self._followed().now()

    @follows
    def report(self) -> CoreReport:
        """The report as it is now, frozen: for what is asked of it and planned with it outside the room's thread."""
        return self._followed().report

    @follows
    def settled(self) -> tuple[CoreReport, Pages]:
        """The report and its pages as they are now, frozen: for work outside the room's thread. Raises NotComputed."""
        return self._followed().settled()

    @follows
    def checked(self) -> Checked:
        """The check-up as it is now, frozen, with the state of the report that it is of. Raises NotComputed."""
        checked: Checked = self._followed().value("checked")
        return checked

    def _followed(self) -> Derived:
        """What follows from the text, as it is now as far as it can be computed."""
        with suppress(NotComputed):
            self._refresh()
        assert self.derived
        return self.derived
