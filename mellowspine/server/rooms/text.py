"""A report's text: the shared document as it is on disk, and what has arrived and still has to get there.

Two documents hold this apart. ``arrived`` takes in first every update that the gate lets through, so that one that puts
something where it may not stand, or that hangs on something that has not come, shows itself there. ``document`` takes in only what has been stored: it is what is passed on,
what a newcomer is given, and what structure and pages are made from.
"""

from __future__ import annotations

import logging
from bisect import bisect_left
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from time import monotonic
from typing import Any, TypeVar

from django.contrib.auth.models import User
from django.db import DatabaseError, transaction
from django.utils import timezone
from pycrdt import Decoder, Doc, TransactionEvent, XmlElement, XmlFragment, get_update, merge_updates

from mellowspine.core.report.blocks import Block
from mellowspine.core.report.elements import MARKS, SHAPES, ids_of, unique_attributes
from mellowspine.server.shelf.models import Membership, Report
from mellowspine.server.shelf.reports import styles_of

from .carrying import complete, find_blocks, merge_into, whole, write_into
from .causes import keep_touches
from .document import (
    MANY,
    SCHEMA,
    Watch,
    blocks_in,
    copy_of,
    fill,
    leave_out_what_is_foreign,
    new_id,
    put_block,
    read_block,
    text_of,
)
from .gate import (
    LOOSE,
    NESTING_SEEN,
    Gate,
    Malformed,
    Passed,
    Span,
    deletions,
    formats_elsewhere,
    loose_values,
    parts_of,
    without_what_ends_readers,
)
from .ghost import By, Ghost
from .kept import TakenOut, ghost_of, paragraph_of, written_of
from .mirror import Mirror
from .models import KeptWords, Update
from .spans import Spans, gone_already, gone_beyond, joined, lost_words

log = logging.getLogger(__name__)

T = TypeVar("T")

COMPACT_AFTER = 2000
"""Number of updates written to the log after which it is merged."""

STRETCH = 3600
"""Seconds within which it is not kept apart when somebody wrote what."""

LARGEST_HANGING = 512 * 1024
"""Bytes of updates that hang on something which has not arrived; with more, all of them are forgotten."""

GHOST_FOR = 600
"""Seconds for which a text without what was taken out is at hand after it was asked last: what one writes meanwhile goes on."""

KEPT_APART = 30 * 86400
"""Seconds for which a row that takes blocks out is merged with no other: so long words for these find where they go."""

A_FEW = 50
"""Structs and deletions of an update that somebody has just made; what browsers send who come back names all that is gone."""

NOTHING = b"\x00\x00"
"""The update in which there is nothing: no clients, no deletions."""


GATE = Gate(frozenset(SHAPES), frozenset(MARKS))


class _FormatsElsewhere(Malformed):
    """Formatting stands in no text; ``formats`` says which, by client and clock."""

    def __init__(self, formats: Sequence[tuple[int, int]]) -> None:
        super().__init__("formatting stands where there are no words")
        self.formats = formats


@dataclass(frozen=True, slots=True)
class Waiting:
    """What an update brought that is new, until it is on disk. ``sender`` is whoever need not be told of it."""

    data: bytes
    person: User | None
    sender: object = None
    places: int = 0
    """In how many places of the text it changes something, at most."""
    removes: bool = False
    """Whether it takes out more than words."""
    kept: tuple[KeptWords, ...] = ()
    """What of it found no place, to be stored with it."""
    lost: tuple[Span, ...] = ()
    """Its words that came to stand nowhere."""

    @property
    def by(self) -> By:
        return By(self.person.pk if self.person else None, timezone.now())


@dataclass(frozen=True, slots=True)
class LeftOut:
    """What was taken out of an update again, in words, and the update that takes it out where it was written."""

    faults: tuple[str, ...]
    update: bytes

    def __bool__(self) -> bool:
        return bool(self.faults)


ALL_WELL = LeftOut((), NOTHING)


class Text:
    """Lives in the thread of its room."""

    def __init__(self, report: Report) -> None:
        self._report = report
        self.waiting: list[Waiting] = []
        self.writer: User | None = None
        """Who wrote what was stored last."""
        self.left_out = ALL_WELL
        """What of the last update that was taken no text holds, or nobody can use."""
        self.mirror: Mirror | None = None
        """The text as blocks; read when it is first needed."""
        self._watch = Watch(Doc())
        self._ghost: Ghost | None = None
        self._ghost_asked = 0.0
        self._ghost_lacks: list[Waiting] = []
        """What it has not taken in yet: no key waits for it."""
        self._taken_out: Spans | None = None
        """All that was taken out of the text with blocks; read when it is first needed."""
        self._kept: set[str] | None = None
        """Blocks that are gone and for which words are kept, and blocks behind which such a paragraph was begun; read when
        they are first needed."""
        self._settled: list[int] = []
        """Rows that are settled with what waits for the disk."""
        self.kept_changed = False
        """Whether words have come to be kept, or are no longer; until somebody has seen it."""
        self._read()

    def _read(self) -> None:
        """Reads the document from the log. An update that breaks the document is left out, and said in the server's log."""
        rows = [(pk, bytes(data)) for pk, data in Update.objects.filter(report=self._report).values_list("pk", "data")]
        if self._report.schema < SCHEMA:
            formats = frozenset(formats_elsewhere(data for _, data in rows))
            rows = [(pk, self._without(pk, data, formats)) for pk, data in rows]
        broken: set[int] = set()
        while True:
            self.document: Doc[Any] = Doc()
            for pk, data in rows:
                if pk in broken:
                    continue
                try:
                    _apply(self.document, data)
                except Malformed:
                    log.exception("Update %s of report %s cannot be read; it is left out", pk, self._report.key)
                    broken.add(pk)
                    break
            else:
                break
        if self._report.schema < SCHEMA:
            self._clean()
        self._logged = len(rows)
        if self.mirror is not None:
            self.mirror.close()
            self.mirror = None
        self._gather()

    def _without(self, pk: int, data: bytes, formats: Collection[tuple[int, int]]) -> bytes:
        """An update of the log without what would end whoever reads it; it is so in the log, too, from now on."""
        try:
            found = without_what_ends_readers(data, formats)
        except Malformed:
            return data  # the library will not take it either
        if found != data:
            log.warning("Left out of update %s of report %s: what would end its readers", pk, self._report.key)
            try:
                Update.objects.filter(pk=pk).update(data=found)
            except DatabaseError:
                log.exception("Update %s of report %s could not be written", pk, self._report.key)
        return found

    def _clean(self) -> None:
        """Takes out of the document what a text may not hold, once for each schema; it is said in the server's log."""
        made: list[bytes] = []
        subscription = self.document.observe(lambda event: made.append(event.update))
        with self.document.transaction():
            found = leave_out_what_is_foreign(text_of(self.document))
        self.document.unobserve(subscription)
        for fault in found[:100]:
            log.warning("Left out of report %s: %s", self._report.key, fault)
        try:
            with transaction.atomic():
                Update.objects.bulk_create(Update(report=self._report, data=data) for data in made if data != NOTHING)
                Report.objects.filter(pk=self._report.pk).update(schema=SCHEMA)
        except DatabaseError:  # a full disk keeps nobody from reading; it is done again when the report opens next
            log.exception("What was left out of report %s could not be noted", self._report.key)
        else:
            self._report.schema = SCHEMA

    def _gather(self) -> None:
        """Makes ``arrived`` anew: what is on disk, and what waits for it."""
        self._watch.close()
        self._ghost, self._ghost_lacks = None, []
        self.arrived: Doc[Any] = Doc()
        for data in (self.document.get_update(), *(one.data for one in self.waiting)):
            self.arrived.apply_update(data)
        self._watch = Watch(self.arrived)
        self._hanging_updates: list[tuple[bytes, int]] = []
        """Updates that hang on something that has not arrived, and how many elements each has."""

    def close(self) -> None:
        """Lets go of the documents. The library holds what looks at them, which holds them: nobody else would find that."""
        self._watch.close()
        if self.mirror is not None:
            self.mirror.close()

    def blocks(self) -> Mirror:
        if self.mirror is None:
            self.mirror = Mirror(self.document)
        return self.mirror

    def missing(self, state: bytes | None) -> bytes:
        """The update that a document in ``state`` (a state vector) lacks. Raises Malformed."""
        try:
            return self.document.get_update(state)
        except ValueError:
            raise Malformed("state vector") from None

    def take(self, update: bytes, person: User | None, sender: object = None) -> bool:
        """Takes an update in, to be stored with the next ``store``; what no text holds is taken out of it (``left_out``).

        False if part of it hangs on something that has not arrived. That part is kept for when it does, but may not be
        confirmed: its sender has to be asked for what is missing. Raises Malformed for what is no update; then nothing
        has changed.
        """
        self.left_out = ALL_WELL
        passed = GATE.let_through(update)
        try:
            return self._take(passed, person, sender)
        except _FormatsElsewhere as error:
            # Where it stands in what hung until now, that has been forgotten, and is asked for again.
            return self._take(GATE.let_through(update, error.formats), person, sender)

    def _take(self, passed: Passed, person: User | None, sender: object) -> bool:
        update, faults, made = passed.update, [*passed.faults], list[bytes]()
        hung = bool(self._hanging_updates)
        unsure = passed.unsure or hung
        try:
            if passed.places > MANY:
                self._begin_again()
            new = _apply(self.arrived, update)
            if passed.places > MANY:
                self._watch_all()
            removes = self._watch.removed
            whole = new == [update]
            holds = whole or self.holds(update)
            by = By(person.pk if person else None, timezone.now())
            carried, kept, lost = (None, [], ()) if whole or not holds else self._carry(update, new, removes, by)
            came = self._ids_beside_what_is_gone(update) if holds and passed.elements else set()
            # Whether formatting stands in a text is seen by what it follows from, which the library does not tell.
            if unsure and self._watch.built and (formats := formats_elsewhere([self.arrived.get_update()])):
                raise _FormatsElsewhere(formats)
            if self._watch.fault():
                found, changes = self._change(self._watch.mend)
                faults += found
                made += changes
            if self._watch.fault():
                # In another document, as everybody else has it: where clocks were used twice, the library loses count in this one.
                self._begin_again(*(() if holds else (update,)))
                self._watch_all()
                if spans := loose_values(self.arrived.get_update()):
                    made += self._change(lambda: self.arrived.apply_update(deletions(spans)))[1]
                    faults += [LOOSE] * len(spans)
            if self._watch.fault():
                (found, left), changes = self._change(self._watch.take_out)
                faults += found
                made += changes
                if left:
                    raise Malformed(left)
            # Only now: what is taken out may not be looked at any more.
            brought = self._bring_strays(update, by, came, kept) if came else []
            self._watch.forget()
            if holds:
                self._forget_what_holds()
            else:
                self._hanging_updates.append((update, passed.elements))
                if self._hanging > LARGEST_HANGING or sum(count for _, count in self._hanging_updates) > NESTING_SEEN:
                    raise Malformed("too much of it hangs on what has not arrived")
        except RecursionError:
            self._gather()
            raise Malformed("elements are nested too deep") from None
        except BaseException:
            # Whatever it was: what is in ``arrived`` and waits for no disk would be confirmed and never stored.
            self._gather()
            raise
        if faults:
            self.left_out = LeftOut(tuple(faults), merge_updates(deletions(passed.gone), *made))
        if carried is not None:
            # Words that stand nowhere are in the log as they came, and so is what had hung on them.
            new, made = [update, *(new if hung else [])], [*carried, *made]
        self._wait([Waiting(data, person, sender, passed.places, removes, lost=lost) for data in new])
        self._wait([Waiting(data, None, removes=True) for data in brought])
        self._wait([Waiting(data, None, removes=bool(faults)) for data in made])
        self._keep(kept)
        return holds

    def _wait(self, updates: Sequence[Waiting]) -> None:
        """Has updates that have arrived wait for the disk."""
        self.waiting.extend(updates)
        if any(one.removes for one in updates):
            self._taken_out = None
        if self._ghost is None:
            return
        self._ghost_lacks.extend(updates)
        if len(self._ghost_lacks) > COMPACT_AFTER or monotonic() - self._ghost_asked > GHOST_FOR:
            self._ghost, self._ghost_lacks = None, []

    def _carry(
        self, update: bytes, new: Sequence[bytes], removes: bool, by: By
    ) -> tuple[list[bytes] | None, list[KeptWords], tuple[Span, ...]]:
        """Does to the blocks that are there what an update does to those that somebody moved away, and what went with those that
        it moves away itself. Returns the updates that others need for it, None if there is nothing of the kind in it; rows for
        words whose blocks are not there; and which of its words came to stand nowhere.

        Whatever goes wrong with it: what the update itself changes is stored all the same.
        """
        try:
            parts, news = parts_of(update), [*map(parts_of, new)]
            lost, beyond = lost_words(parts, news), gone_beyond(parts, news)
            stale = gone_already(parts, news)
            if not (lost or beyond or (stale and not removes and len(parts.structs) + len(parts.deleted) <= A_FEW)):
                return None, [], ()
            ghost = self._ghost_now()
            went = ghost.went(beyond) if beyond else []
            wrote = ghost.write(update, lost, stale, by) if lost or stale else []
            written = [*went, *wrote]
            there = find_blocks(text_of(self.arrived), (one.block for one in written))

            def write() -> None:
                for one in written:
                    if one.block in there:
                        write_into(there[one.block], one)

            made = self._change(write)[1]
            homeless = [one for one in written if one.block not in there and one.text.strip()]
            if not homeless:
                return made, [], tuple(lost)
            ghost.take(update, by, lost)
            gone = self._gone(ghost)
            elements = find_blocks(ghost.text, (one.block for one in homeless))
            writer = self._writer_of(beyond) if went else None
            kept = [
                gone.keep(one, elements[one.block], writer if one in went else by.person)
                for one in homeless
                if one.block in elements
            ]
            return made, kept, tuple(lost)
        except Exception:
            log.exception(
                "What was written in blocks that are moved could not be carried along in report %s", self._report.key
            )
            self._ghost = None
            return [], [], ()

    def _writer_of(self, spans: Sequence[Span]) -> int | None:
        """Who wrote what is in these, by number: the last of them."""
        wanted = Spans(spans)
        for one in reversed(self.waiting):
            if wanted.inside(parts_of(one.data).structs):
                return one.person.pk if one.person else None
        rows = Update.objects.filter(report=self._report).order_by("-pk").values_list("data", "person_id")
        return next((person for data, person in rows if wanted.inside(parts_of(bytes(data)).structs)), None)

    def _gone(self, ghost: Ghost) -> TakenOut:
        return TakenOut(ghost, styles_of(self._report).levels)

    def _ids_beside_what_is_gone(self, update: bytes) -> set[str]:
        """The blocks that came with an update, if any was put in next to what somebody else has taken out."""
        if self._taken_out is None:
            rows = Update.objects.filter(report=self._report, removes=True).values_list("data", flat=True)
            waiting = (one.data for one in self.waiting if one.removes)
            self._taken_out = Spans(span for data in (*map(bytes, rows), *waiting) for span in parts_of(data).deleted)
        if not self._taken_out.holds_any(parts_of(update).beside):
            return set()
        return {str(one.attributes.get("id") or "") for one in self._watch.came if isinstance(one, XmlElement)}

    def _bring_strays(self, update: bytes, by: By, came: set[str], kept: list[KeptWords]) -> list[bytes]:
        """Paragraphs that were begun behind a block that is not there any more go where that is now, up to the next heading; or, if
        it is gone, are taken out and kept. Returns the updates that others need for it; ``kept`` takes the rows. ``came``: the
        blocks that came with the update.

        Whatever goes wrong with it: they are in the text where they came to stand.
        """
        try:
            ghost = self._ghost_now()
            ghost.take(update, by)
            gone = self._gone(ghost)
            stood = [one.id for one in gone.blocks]
            text = text_of(self.arrived)
            children = [one for one in text.children if isinstance(one, XmlElement)]
            ids = [str(one.attributes.get("id") or "") for one in children]
            there = {*ids}
            follows: dict[str, str] = {}
            """By stray the block behind which it was begun."""
            for at, (id, element) in enumerate(zip(ids, children, strict=True)):
                level = gone.levels.get(str(element.attributes.get("style") or ""))
                if id not in came or level is not None or element.tag != "paragraph" or stood.count(id) != 1:
                    continue
                before, was = ids[at - 1] if at else "", stood.index(id)
                begun = stood[was - 1] if was else ""
                if begun != before or before in follows:
                    follows[id] = begun
            if not follows:
                return []
            homeless = [id for id in follows if _origin(follows, id) not in there]

            def bring() -> None:
                for id, after in follows.items():
                    at = next(index for index, one in enumerate(_ids(text)) if one == id)
                    element = text.children[at]
                    assert isinstance(element, XmlElement)
                    block = read_block(element, 0)
                    if id in homeless and whole(element).text.strip():
                        kept.append(gone.keep(whole(element), element, by.person, _origin(follows, id)))
                    del text.children[at]
                    if id not in homeless:
                        put_block(text, block, _ids(text).index(after) + 1)

            return self._change(bring)[1]
        except Exception:
            log.exception(
                "What was begun in blocks that are moved could not be brought along in report %s", self._report.key
            )
            self._ghost = None
            return []

    def _keep(self, rows: list[KeptWords]) -> None:
        """Has rows be stored with what was taken in last."""
        if rows:
            for one in rows:
                one.report = self._report
            self.waiting[-1] = replace(self.waiting[-1], kept=(*self.waiting[-1].kept, *rows))

    def forget_kept(self) -> None:
        """Has it be looked again for what words are kept: rows have changed."""
        self._kept = None

    def give_back(self, blocks: Sequence[Block], touched: Collection[str] | None = None) -> bool:
        """Puts words that are kept for blocks that have come back into these; whether there were any, which are settled now.

        ``touched``: the blocks that changed; None if any may have.
        """
        if self._kept is None:
            self._kept = {
                id
                for row in KeptWords.objects.filter(report=self._report, settled_at=None)
                for id in (row.block, row.after)
            }
        if not self._kept:
            return False
        here = {id for block in blocks if touched is None or block.id in touched for id in ids_of(block)} & self._kept
        if not here:
            return False
        rows = [*KeptWords.objects.filter(report=self._report, settled_at=None)]
        settled: list[int] = []

        def put(text: XmlFragment) -> None:
            for row in rows:
                written = written_of(row)
                if found := find_blocks(text, [row.block]):
                    complete(found[row.block], written)
                elif row.after and row.after in (ids := _ids(text)):
                    put_block(text, paragraph_of(row, row.block, row.style), ids.index(row.after) + 1)
                else:
                    continue
                settled.append(row.pk)

        self.change(put, len(rows))
        self._settled = [*self._settled, *settled]
        return bool(settled)

    def _ghost_now(self) -> Ghost:
        """The text without anything ever taken out of it but words; kept for a while."""
        self._ghost_asked = monotonic()
        lacking = self._ghost_lacks
        if self._ghost is None:
            self._ghost, lacking = ghost_of(self._report), self.waiting
        for one in lacking:
            self._ghost.take(one.data, one.by, one.lost)
        self._ghost_lacks = []
        return self._ghost

    def _exchange(self, document: Doc[Any]) -> None:
        """Has another document, which nobody watches yet, be ``arrived``."""
        self._watch.close()
        self.arrived = document

    def _begin_again(self, *hanging: bytes) -> None:
        """Has another document with all that has arrived be ``arrived``; ``hanging``: what hangs beside what is known to."""
        self._exchange(copy_of(self.arrived, *(one for one, _ in self._hanging_updates), *hanging))

    def _watch_all(self) -> None:
        self._watch = Watch(self.arrived)
        self._watch.look_at_all()

    @property
    def _hanging(self) -> int:
        """Bytes of updates that hang on something that has not arrived."""
        return sum(len(update) for update, _ in self._hanging_updates)

    def _forget_what_holds(self) -> None:
        """What updates hung on may have arrived by now: these hang no longer."""
        if self._hanging_updates:
            self._hanging_updates = [one for one in self._hanging_updates if not self.holds(one[0])]

    def _change(self, work: Callable[[], T]) -> tuple[T, list[bytes]]:
        """Has the room itself change what has arrived; returns what came of it, and the updates that others need for it."""
        made: list[bytes] = []
        subscription = self.arrived.observe(lambda event: made.append(event.update))
        with self.arrived.transaction():
            result = work()
        self.arrived.unobserve(subscription)
        return result, made

    def holds(self, update: bytes) -> bool:
        """Whether everything in an update has arrived. Raises Malformed."""
        state = self.arrived.get_state()
        try:
            rest = get_update(update, state)
            reader = Decoder(rest)
            if reader.read_var_uint() > 0:
                return False
            # What is left are deletions (y-protocols, "delete set"): by client, pairs of clock and length.
            deleted: dict[int, int] = {}
            for _ in range(reader.read_var_uint()):
                client = reader.read_var_uint()
                for _ in range(reader.read_var_uint()):
                    deleted[client] = reader.read_var_uint() + reader.read_var_uint()
        except (ValueError, IndexError):
            raise Malformed("update") from None
        known = _clocks(state) if deleted else {}
        return all(end <= known.get(client, 0) for client, end in deleted.items())

    def store(self) -> list[Waiting]:
        """Puts on disk what waits for it, and takes it into the document; returns it.

        Raises django.db.DatabaseError if the disk does not take it; then all of it goes on waiting.
        """
        if not self.waiting and not self._settled:
            return []
        with transaction.atomic():
            Update.objects.bulk_create(
                Update(report=self._report, person=one.person, data=one.data, removes=one.removes, lost=one.lost)
                for one in self.waiting
            )
            kept = [row for one in self.waiting for row in one.kept]
            KeptWords.objects.bulk_create(kept)
            # Whoever puts them back did not write them.
            wrote = {(row.block, row.person_id) for row in kept if row.person_id is not None}
            keep_touches(self._report, wrote, timezone.now())
            KeptWords.objects.filter(pk__in=self._settled).update(settled_at=timezone.now())
        stored, self.waiting = self.waiting, []
        if self._settled or any(one.kept for one in stored):
            self._settled, self._kept, self.kept_changed = [], None, True
        self._logged += len(stored)
        try:
            for one in stored:
                self.writer = one.person or self.writer
                if self.mirror is not None:
                    self.mirror.person = one.person
                if one.places <= MANY:
                    _apply(self.document, one.data)
                    continue
                self.document = copy_of(self.document)
                _apply(self.document, one.data)
                if self.mirror is not None:
                    self.mirror.move(self.document)
        except Malformed:
            log.exception("The document of report %s broke over an update that had arrived whole", self._report.key)
            self._read()
        return stored

    def change(self, work: Callable[[XmlFragment], T], places: int) -> T:
        """Has the room itself change the text in about so many places, in one transaction; stored and passed on with
        ``store``, as any update."""
        if places > MANY:
            self._exchange(copy_of(self.arrived))
        result, made = self._change(lambda: work(text_of(self.arrived)))
        if places > MANY:
            self._watch_all()
        removes = self._watch.removed
        self._watch.forget()
        self._wait([Waiting(data, None, None, places, removes) for data in made])
        return result

    def settle_twins(self, blocks: Sequence[Block], again: Sequence[int]) -> dict[str, str]:
        """Sees to the blocks at these places of the text, whose ids stand elsewhere in it as well.

        One that was moved by two people at once goes, once the other has all its words: it is one block. What has little in
        common with the other is another block, and gets new ids, and so does what it holds. Returns what else was named anew,
        such as the tables placed among them: new name → old name.
        """
        later = {*again}
        places = {block.id: index for index, block in reversed([*enumerate(blocks)]) if index not in later}
        originals = self._originals(blocks, again, places)

        def settle(text: XmlFragment) -> dict[str, str]:
            renamed: dict[str, str] = {}
            gone = []
            children = list(text.children)  # one by one, the library counts to each of them from the first
            for index in again:
                block, other = children[index], places.get(blocks[index].id)
                assert isinstance(block, XmlElement)  # nothing else is found to need another id
                if other is not None and (
                    blocks[other] == blocks[index] or _is_merged(children[other], block, originals)
                ):
                    gone.append(index)
                else:
                    _name_anew(block, renamed)
            for first, end in reversed(joined((index, index + 1) for index in gone)):
                del text.children[first:end]
            return renamed

        return self.change(settle, len(again))

    def _originals(
        self, blocks: Sequence[Block], again: Sequence[int], places: Mapping[str, int]
    ) -> Mapping[str, Sequence[str]]:
        """What the paragraphs that stand twice and differ may be copies of, by id."""
        differ = {
            blocks[index].id
            for index in again
            if (other := places.get(blocks[index].id)) is not None and blocks[other] != blocks[index]
        }
        if not differ:
            return {}
        try:
            return self._ghost_now().originals(differ)
        except Exception:
            log.exception(
                "What two moved at once could not be compared with what it was in report %s", self._report.key
            )
            return {}

    def fill(self, lacking: Sequence[int]) -> None:
        """Gives the blocks at these places of the text something to write on where they hold nothing."""

        def put(text: XmlFragment) -> None:
            children = list(text.children)
            for index in lacking:
                block = children[index]
                assert isinstance(block, XmlElement)  # nothing else lacks anything
                fill(block)

        self.change(put, len(lacking))

    def compact(self) -> None:
        """Merges what one person wrote within one stretch of time into one row, once the log has grown long.

        Who wrote what, and when, stays known to within ``STRETCH``; so does what has been deleted since. What stood there when
        it was made, and when somebody left, can be made again exactly (``past.py``).
        """
        if self._logged <= COMPACT_AFTER:
            return
        self._logged = 0
        log = Update.objects.filter(report=self._report)
        members = Membership.objects.filter(report=self._report).values_list("here_at", "left_at")
        kept_apart = sorted([self._report.made_at, *(at for times in members for at in times if at)])
        groups: dict[tuple[int | None, int, int], list[int]] = {}
        for pk, person, at in log.exclude(
            removes=True, at__gt=timezone.now() - timedelta(seconds=KEPT_APART)
        ).values_list("pk", "person_id", "at"):
            stretch = int(at.timestamp() // STRETCH), bisect_left(kept_apart, at)
            groups.setdefault((person, *stretch), []).append(pk)
        for pks in groups.values():
            if len(pks) > 1:
                first, *rest = log.filter(pk__in=pks)
                first.data = merge_updates(*(bytes(row.data) for row in (first, *rest)))
                first.at = rest[-1].at
                first.lost = [span for row in (first, *rest) for span in row.lost]
                with transaction.atomic():  # one at a time, since everybody's saving waits for each
                    first.save(update_fields=["data", "at", "lost"])
                    log.filter(pk__in=pks[1:]).delete()


def _apply(document: Doc[Any], update: bytes) -> list[bytes]:
    """Takes an update into a document; returns what was new in it, as updates. Raises Malformed.

    After that the document may be broken: the library panics, halfway, on some updates whose fault it cannot tell.
    """
    new: list[bytes] = []

    def note(event: TransactionEvent) -> None:
        if event.update != NOTHING:
            new.append(event.update)

    subscription = document.observe(note)
    try:
        document.apply_update(update)
    except ValueError:
        raise Malformed("update") from None
    except BaseException as error:  # pycrdt raises PanicException, which is no Exception
        if isinstance(error, KeyboardInterrupt | SystemExit):
            raise
        raise Malformed("update") from error
    document.unobserve(subscription)
    return new


def _clocks(state: bytes) -> dict[int, int]:
    """A state vector as a mapping from client to the end of what is known of it."""
    reader = Decoder(state)
    return {reader.read_var_uint(): reader.read_var_uint() for _ in range(reader.read_var_uint())}


def _is_merged(block: Any, twin: XmlElement, originals: Mapping[str, Sequence[str]]) -> bool:
    """Whether two blocks with one id are the same one; then the first has all words of the other."""
    if not (isinstance(block, XmlElement) and block.tag == twin.tag == "paragraph"):
        return False
    return merge_into(block, twin, originals.get(str(twin.attributes.get("id")), ()))


def _ids(text: XmlFragment) -> list[str]:
    return [str(one.attributes.get("id") or "") if isinstance(one, XmlElement) else "" for one in text.children]


def _origin(follows: Mapping[str, str], id: str) -> str:
    """The block behind which a stray was begun, or the first of those in a row."""
    while id in follows:
        id = follows[id]
    return id


def _name_anew(block: XmlElement, renamed: dict[str, str]) -> None:
    """Gives new names to a block and to all that it holds. ``renamed`` takes what is no id: new name → old name."""
    block.attributes["id"] = new_id()
    for name in unique_attributes(block.tag or ""):
        new, old = new_id(), str(block.attributes.get(name) or "")
        block.attributes[name], renamed[new] = new, old
    for inner in blocks_in(block):
        _name_anew(inner, renamed)
