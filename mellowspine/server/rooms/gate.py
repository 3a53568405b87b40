"""The gate before the log: reads an update of a shared document before anything is done with it.

The encoding is that of Yjs, version 1 (`INTERNALS.md` and the sources of yjs 13, MIT; numbers and values as in lib0):
for every client a run of structs (items with their content, or gaps), then what is deleted. The libraries that apply
updates believe what they read: nested deep enough it ends the process, and an odd value ends every browser that meets it.
So whatever is of a kind that a text never has, or beyond a bound, is taken out of it here and counts as deleted, so that
what its author writes behind it still holds. Whether all else stands where it may is seen once it has been applied on trial
(``text.py``). What is no update at all is refused.
"""

from __future__ import annotations

import json
import struct
from bisect import bisect_right
from collections.abc import Collection, Iterable, Iterator
from contextlib import suppress
from math import isfinite
from typing import Any, NamedTuple

from .document import FIELD

DEEPEST = 6
"""How deep values, and elements in elements, may be nested; of a cell's text it is five."""
LONGEST_VALUE = 4000
"""Characters of an attribute, or of what a mark says."""
MOST_STRUCTS = 1_000_000
MOST_AUTHORS = 100_000
"""Browsers from which an update may bring something: each time that somebody opens a report is another one."""
NESTING_SEEN = 5000
"""Elements that may hang on something which has not arrived: so many do no harm, however they are nested."""

_GC, _DELETED, _JSON, _BINARY, _STRING, _EMBED, _FORMAT, _TYPE, _ANY, _DOCUMENT, _SKIP = range(11)
_ELEMENT, _HOOK, _TEXT = 3, 5, 6
_ORIGIN, _RIGHT_ORIGIN, _KEYED = 0x80, 0x40, 0x20
_LARGEST = 2**53


Span = tuple[int, int, int]
"""Structs that follow one another: their client, the clock of the first, and how many."""


class Malformed(ValueError):
    """An update is not what it should be, nothing of it was kept; the message says what is wrong with it."""


class _Elsewhere(Malformed):
    """Something is meant for another place than the text and what stands in it."""


_NO_WORDS = "formatting stands where there are no words"
LOOSE = "loose values stand in the text"
_TOO_DEEP = "elements are nested too deep"


class _Reader:
    """Numbers and strings as lib0 encodes them, from ``at`` on."""

    def __init__(self, data: bytes, at: int = 0) -> None:
        self.data, self.at = data, at

    def byte(self) -> int:
        try:
            found = self.data[self.at]
        except IndexError:
            raise Malformed("it ends too early") from None
        self.at += 1
        return found

    def number(self) -> int:
        # Without a call for each byte: of a long text there are millions.
        data, at = self.data, self.at
        try:
            byte = data[at]
            found, shift = byte & 0x7F, 7
            while byte & 0x80 and shift <= 63:
                at += 1
                byte = data[at]
                found |= (byte & 0x7F) << shift
                shift += 7
        except IndexError:
            raise Malformed("it ends too early") from None
        self.at = at + 1
        if found >= _LARGEST:
            raise Malformed("a number is too large")
        return found

    def few(self, most: int) -> int:
        """A number of things, of which there may be so many."""
        found = self.number()
        if found > most:
            raise Malformed("it is too much at once")
        return found

    def skip_signed(self) -> None:
        """A signed number: six bits and the sign in its first byte."""
        for _ in range(9):
            if not self.byte() & 0x80:
                return
        raise Malformed("a number is too large")

    def take(self, length: int) -> bytes:
        found = self.data[self.at : self.at + length]
        if len(found) != length:
            raise Malformed("it ends too early")
        self.at += length
        return found

    def string(self, most: int | None = LONGEST_VALUE) -> str:
        length = self.number()
        if most is not None and length > 4 * most:
            raise Malformed("a value is too long")
        try:
            return self.take(length).decode()
        except UnicodeDecodeError:
            raise Malformed("it holds characters that are none") from None


def _value(reader: _Reader, most: int | None = LONGEST_VALUE) -> int:
    """Reads over a value of an attribute; returns how deep it is nested. ``most``: see ``_Reader.string``."""
    deepest = 0
    left = [1]
    """How many values are still to come in each of those that are open, and whether a name stands before each."""
    named = [False]
    while left:
        if left[-1] == 0:
            left.pop()
            named.pop()
            continue
        left[-1] -= 1
        if named[-1]:
            reader.string(most)
        kind = reader.byte()
        if kind in (117, 118):
            left.append(reader.number())
            named.append(kind == 118)
            deepest = max(deepest, len(left) - 1)
        elif kind == 119:
            reader.string(most)
        elif kind == 125:
            reader.skip_signed()
        elif kind in (123, 124):
            (found,) = struct.unpack(">d", reader.take(8)) if kind == 123 else struct.unpack(">f", reader.take(4))
            if most is not None and not isfinite(found):
                raise Malformed("a number is none")
        elif most is None and kind in (116, 122):
            reader.take(reader.number() if kind == 116 else 8)
        elif kind not in (120, 121, 126, 127):
            raise Malformed("a value is of a kind that a text never has")
    return deepest


class _Structs:
    """The structs of some updates: where each stands, and what it follows from.

    That is another struct, by client and clock, and how many levels deeper than that this one is; or ``ROOT`` for what
    stands in the text itself. Nothing for what has been deleted and forgotten.
    """

    ROOT = (-1, -1, 0)

    def __init__(self) -> None:
        self.above: dict[int, list[tuple[int, int, int] | None]] = {}
        self.starts: dict[int, list[int]] = {}
        self.ends: dict[int, list[int]] = {}
        self.words: set[tuple[int, int]] = set()
        """Texts, in which words stand."""
        self.formats: list[tuple[int, int]] = []
        self.nodes: set[tuple[int, int]] = set()
        """Elements and texts, which may hold something."""
        self._holders: dict[tuple[int, int], tuple[int, int] | None] = {}
        """See ``holder``; by client and place."""

    def add(self, client: int, clock: int, length: int, above: tuple[int, int, int] | None) -> None:
        self.starts.setdefault(client, []).append(clock)
        self.ends.setdefault(client, []).append(clock + length)
        self.above.setdefault(client, []).append(above)

    def note(
        self, client: int, clock: int, length: int, above: tuple[int, int, int] | None, kind: int, type: int
    ) -> None:
        """Adds one, and whether it is a text or formatting. ``type``: as ``Gate._struct`` gives it."""
        self.add(client, clock, length, above)
        if type:
            self.nodes.add((client, clock))
        if type == _TEXT:
            self.words.add((client, clock))
        if kind == _FORMAT:
            self.formats.append((client, clock))

    def sort(self) -> None:
        """Puts them in order, where they have come out of it."""
        for client, starts in self.starts.items():
            order = sorted(range(len(starts)), key=starts.__getitem__)
            self.starts[client] = [starts[index] for index in order]
            self.ends[client] = [self.ends[client][index] for index in order]
            self.above[client] = [self.above[client][index] for index in order]

    def find(self, client: int, clock: int) -> tuple[int, int] | None:
        """The client and the place among its structs of the one in which a clock is; None if it is not known."""
        place = bisect_right(self.starts.get(client, []), clock) - 1
        return (client, place) if place >= 0 and clock < self.ends[client][place] else None

    def from_outside(self) -> int:
        """How many of them follow from what is not among them."""
        return sum(
            one is not None and (one == self.ROOT or self.find(one[0], one[1]) is None)
            for above in self.above.values()
            for one in above
        )

    def formats_elsewhere(self) -> tuple[list[tuple[int, int]], bool]:
        """Formatting that stands in no text, by client and clock; and whether there is some of which that is not known."""
        found, unknown = [], False
        for client, clock in self.formats:
            holder = self.holder(client, clock)
            if holder is None:
                unknown = True
            elif holder not in self.words:
                if holder == self.ROOT[:2] or self.find(*holder):
                    found.append((client, clock))
                else:
                    unknown = True
        return found, unknown

    def holder(self, client: int, clock: int) -> tuple[int, int] | None:
        """What a struct stands in, by client and clock, ``ROOT`` for the text itself; None if it is not known.

        All structs are there and in order by then: what was found once is known from then on.
        """
        path, holder = [], None
        at = self.find(client, clock)
        while at is not None:
            if at in self._holders:
                holder = self._holders[at]
                break
            path.append(at)
            self._holders[at] = None  # also where a struct would follow from itself
            above = self.above[at[0]][at[1]]
            if above is None:
                break
            if above == self.ROOT or above[2]:
                holder = above[:2]
                break
            at = self.find(above[0], above[1])
        self._holders.update(dict.fromkeys(path, holder))
        return holder


def formats_elsewhere(updates: Iterable[bytes]) -> list[tuple[int, int]]:
    """Formatting that stands in no text, where browsers end over it; by client and clock. ``updates`` are all of a document.

    What is no update is left out.
    """
    structs = _Structs()
    for update in updates:
        with suppress(Malformed):
            for one in _skim(update):
                structs.add(one.client, one.clock, one.length, one.above)
                if one.kind == _FORMAT:
                    structs.formats.append((one.client, one.clock))
                elif one.is_words:
                    structs.words.add((one.client, one.clock))
    structs.sort()
    return structs.formats_elsewhere()[0]


def loose_values(update: bytes) -> list[Span]:
    """Characters that stand in no text, and values that are no setting. ``update`` is all of a document."""
    structs = _Structs()
    words, found = [], []
    for one in _skim(update):
        span = one.client, one.clock, one.length
        structs.add(*span, one.above)
        if one.is_words:
            structs.words.add((one.client, one.clock))
        elif one.kind == _STRING and not one.keyed:
            words.append(span)
        elif one.kind == _ANY and not one.keyed:
            found.append(span)
    structs.sort()
    return [*found, *(span for span in words if structs.holder(*span[:2]) not in structs.words)]


class _Skimmed(NamedTuple):
    """A struct of an update as it stands there: where it starts, where its content does, and where it ends."""

    client: int
    clock: int
    length: int
    kind: int
    above: tuple[int, int, int] | None
    start: int
    content: int
    end: int
    deep: bool
    """Whether it holds values that are nested too deep."""
    is_words: bool
    keyed: bool
    """Whether it is said to be a setting: that may be left to what it follows from."""


def _skim(update: bytes) -> Iterator[_Skimmed]:
    """The structs of any update, whatever it holds. Raises Malformed for what is no update at all."""
    reader = _Reader(update)
    for _ in range(reader.number()):
        count, client, clock = reader.number(), reader.number(), reader.number()
        for _ in range(count):
            start = reader.at
            info = reader.byte()
            kind = info & 0x1F
            above = None
            deep = is_words = False
            if kind not in (_GC, _SKIP):
                above = _above(reader, info, None)
                if not info & (_ORIGIN | _RIGHT_ORIGIN) and info & _KEYED:
                    reader.string(None)
            content = reader.at
            if kind in (_GC, _SKIP):
                length = reader.number()
            else:
                length, deep, is_words = _read_over(reader, kind)
            keyed = kind not in (_GC, _SKIP) and bool(info & _KEYED)
            yield _Skimmed(client, clock, length, kind, above, start, content, reader.at, deep, is_words, keyed)
            clock += length


def _above(reader: _Reader, info: int, field: str | None) -> tuple[int, int, int] | None:
    """Reads what a struct follows from, see ``_Structs``. ``field``: the only root that there may be."""
    above = None
    if info & _ORIGIN:
        above = reader.number(), reader.number(), 0
    if info & _RIGHT_ORIGIN:
        right = reader.number(), reader.number(), 0
        above = above or right
    if above is None:
        if reader.number() == 1:
            if reader.string(None if field is None else LONGEST_VALUE) != field and field is not None:
                raise _Elsewhere("it is for something else than the text")
            return _Structs.ROOT
        return reader.number(), reader.number(), 1
    return above


def without_what_ends_readers(update: bytes, formats: Collection[tuple[int, int]] = ()) -> bytes:
    """An update with each value that is nested too deep, and each of these formats, as if it had been deleted.

    For what was stored before there was a gate: the library ends the process when it reads such a value, and browsers end
    over formatting that stands in no text. Raises Malformed for what is no update at all.
    """
    return _without(update, [one for one in _skim(update) if one.deep or (one.client, one.clock) in formats])


def _without(update: bytes, gone: Iterable[_Skimmed], forgotten: Collection[tuple[int, int]] = ()) -> bytes:
    """An update with some of its structs, in their order, as if they had been deleted; or had been forgotten since, with
    the place where they stood."""
    made = bytearray()
    kept = 0
    """What is before this in the update has been made."""
    for one in gone:
        made += update[kept : one.start]
        if (one.client, one.clock) in forgotten:
            made += bytes([_GC])
        else:
            made += bytes([update[one.start] & 0xE0 | _DELETED]) + update[one.start + 1 : one.content]
        made += _number(one.length)
        kept = one.end
    return bytes(made + update[kept:])


def deletions(spans: Collection[Span]) -> bytes:
    """The update that deletes some structs, wherever they are (y-protocols, "delete set")."""
    by_client: dict[int, list[tuple[int, int]]] = {}
    for client, clock, length in spans:
        by_client.setdefault(client, []).append((clock, length))
    made = bytearray(_number(0) + _number(len(by_client)))
    for client, stretches in by_client.items():
        made += _number(client) + _number(len(stretches))
        for clock, length in stretches:
            made += _number(clock) + _number(length)
    return bytes(made)


class Parts(NamedTuple):
    """What is in an update. ``structs``: all of them, but for those that are known to be gone, which are in ``gone``; ``deleted``:
    what it deletes; ``elements`` and ``texts``: those of it that are such, ``beside`` what these were put in next to, by client and
    clock; ``words``: those that are words, and what they are. ``kept``: the update without what it deletes."""

    structs: tuple[Span, ...]
    gone: tuple[Span, ...]
    deleted: tuple[Span, ...]
    elements: tuple[Span, ...]
    texts: tuple[Span, ...]
    beside: tuple[tuple[int, int], ...]
    words: tuple[tuple[Span, str], ...]
    kept: bytes


def parts_of(update: bytes) -> Parts:
    """Raises Malformed for what is no update."""
    structs: list[Span] = []
    gone: list[Span] = []
    elements: list[Span] = []
    texts: list[Span] = []
    beside: list[tuple[int, int]] = []
    words: list[tuple[Span, str]] = []
    end = 1  # behind the count of those whose structs there are: none
    for one in _skim(update):
        span, end = (one.client, one.clock, one.length), one.end
        if one.kind == _SKIP:
            continue
        (gone if one.kind in (_GC, _DELETED) else structs).append(span)
        if one.kind == _TYPE:
            (texts if one.is_words else elements).append(span)
            if one.above and one.above[2] == 0:
                beside.append(one.above[:2])
        elif one.kind == _STRING:
            words.append((span, _Reader(update, one.content).string(None)))
    reader = _Reader(update, end)
    deleted = [
        (client, reader.number(), reader.number())
        for _ in range(reader.number())
        for client in (reader.number(),)
        for _ in range(reader.number())
    ]
    kept = update[:end] + b"\x00"
    return Parts(
        tuple(structs), tuple(gone), tuple(deleted), tuple(elements), tuple(texts), tuple(beside), tuple(words), kept
    )


def without_words(update: bytes, spans: Collection[Span]) -> bytes:
    """An update with these words of it as if they had been deleted."""
    return _without(update, [one for one in _skim(update) if (one.client, one.clock, one.length) in spans])


def _read_over(reader: _Reader, kind: int) -> tuple[int, bool, bool]:
    """Reads over some content of any kind. Returns its length, whether values in it are nested too deep, and whether it is a text."""
    length, deep, is_words = 1, False, False
    if kind == _ANY:
        length = reader.number()
        deep = max((_value(reader, None) for _ in range(length)), default=0) > DEEPEST
    elif kind == _DELETED:
        length = reader.number()
    elif kind == _JSON:
        length = reader.number()
        for _ in range(length):
            reader.string(None)
    elif kind == _STRING:
        length = _units(reader.string(None))
    elif kind in (_BINARY, _EMBED):
        reader.take(reader.number())
    elif kind == _FORMAT:
        reader.string(None), reader.string(None)
    elif kind == _TYPE:
        type = reader.number()
        is_words = type == _TEXT
        if type in (_ELEMENT, _HOOK):
            reader.string(None)
    elif kind == _DOCUMENT:
        reader.string(None)
        deep = _value(reader, None) > DEEPEST
    else:
        raise Malformed("it holds something of an unknown kind")
    return length, deep, is_words


def _units(text: str) -> int:
    """Length in units of UTF-16, as browsers count."""
    return len(text) + sum(character > "\uffff" for character in text) if not text.isascii() else len(text)


def _number(value: int) -> bytes:
    found = bytearray()
    while value > 127:
        found.append(value & 127 | 128)
        value >>= 7
    return bytes([*found, value])


def _nested(value: Any, deep: int = 0) -> bool:
    if deep > DEEPEST:
        return True
    inner = value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
    return any(_nested(one, deep + 1) for one in inner)


def _refuse_constant(name: str) -> None:
    raise Malformed("a number is none")


class Passed(NamedTuple):
    """An update as the gate lets it through, and what is to be known of it."""

    update: bytes
    gone: tuple[Span, ...]
    """What was taken out of it."""
    faults: tuple[str, ...]
    """What was wrong with that."""

    unsure: bool
    """Whether it holds formatting of which it does not show that it stands in a text."""
    elements: int
    places: int
    """In how many places of what there was it may put something in or take something out."""


MOST_ROUNDS = 4
"""Times that an update is looked at anew: taking something out may show what else is wrong."""


class Gate:
    """Reads updates; of what it lets through only the place is left to be checked."""

    def __init__(self, tags: frozenset[str], marks: Collection[str]) -> None:
        """``tags``: the elements that there are; ``marks``: the kinds of formatting."""
        self._tags = tags
        self._marks = marks

    def let_through(self, update: bytes, formats: Collection[tuple[int, int]] = ()) -> Passed:
        """An update without what no text holds, and without this formatting, by client and clock; that counts as deleted.

        Raises Malformed for what is no update.
        """
        gone: dict[Span, str] = {}
        wrong = dict.fromkeys(formats, Malformed(_NO_WORDS))
        for _ in range(MOST_ROUNDS):
            if wrong:
                skimmed = [one for one in _skim(update) if (one.client, one.clock) in wrong]
                forgotten = {at for at, why in wrong.items() if isinstance(why, _Elsewhere)}
                update = _without(update, skimmed, forgotten)
                for one in skimmed:
                    gone[one.client, one.clock, one.length] = str(wrong[one.client, one.clock])
            try:
                passed = self._check(update)
            except Malformed:
                if not (wrong := self._wrong(update)):
                    raise
            else:
                return passed._replace(gone=tuple(gone), faults=tuple(gone.values()))
        raise Malformed("too much of it is what a text never has")

    def _wrong(self, update: bytes) -> dict[tuple[int, int], Malformed]:
        """The structs of an update that no text holds, by client and clock, and why; of those that stand at fault alone first."""
        found: dict[tuple[int, int], Malformed] = {}
        structs = _Structs()
        for one in _skim(update):
            reader = _Reader(update, one.start + 1)
            try:
                _, above, type = self._struct(reader, update[one.start])
            except Malformed as error:
                found[one.client, one.clock] = error
                continue
            structs.note(one.client, one.clock, one.length, above, one.kind, type)
        if not found:
            found |= dict.fromkeys(structs.formats_elsewhere()[0], Malformed(_NO_WORDS))
            found |= dict.fromkeys(_too_deep(structs), Malformed(_TOO_DEEP))
        return found

    def _check(self, update: bytes) -> Passed:
        """Raises Malformed for what is no update of a text."""
        reader = _Reader(update)
        structs = _Structs()
        count_of_all = elements = deleted = 0
        for _ in range(reader.few(MOST_AUTHORS)):
            count, client, clock = reader.number(), reader.number(), reader.number()
            count_of_all += count
            if count_of_all > MOST_STRUCTS:
                raise Malformed("it is too much at once")
            for _ in range(count):
                info = reader.byte()
                length, above, type = self._struct(reader, info)
                structs.note(client, clock, length, above, info & 0x1F, type)
                elements += type == _ELEMENT
                clock += length
                if length == 0 or clock >= _LARGEST:
                    raise Malformed("a number is out of range")
        for _ in range(reader.few(MOST_AUTHORS)):
            reader.number()
            stretches = reader.few(MOST_STRUCTS)
            deleted += stretches
            for _ in range(stretches):
                if reader.number() + reader.number() >= _LARGEST:
                    raise Malformed("a number is out of range")
        if reader.at != len(update):
            raise Malformed("something follows its end")
        if elements > DEEPEST and _too_deep(structs):
            raise Malformed(_TOO_DEEP)
        elsewhere, unknown = structs.formats_elsewhere()
        if elsewhere:
            raise Malformed(_NO_WORDS)
        return Passed(update, (), (), unknown, elements, deleted + structs.from_outside())

    def _struct(self, reader: _Reader, info: int) -> tuple[int, tuple[int, int, int] | None, int]:
        """Reads over a struct. Returns its length, what it follows from (see ``_Structs``), and of which type it is, or 0."""
        kind = info & 0x1F
        if kind in (_GC, _SKIP):
            return reader.number(), None, 0
        above = _above(reader, info, FIELD)
        keyed = bool(info & _KEYED)
        if keyed and not info & (_ORIGIN | _RIGHT_ORIGIN):
            if above == _Structs.ROOT and kind != _DELETED:
                raise _Elsewhere("the text itself has no settings")
            reader.string()
        if kind == _DELETED:
            return reader.number(), above, 0
        if kind == _ANY:
            # Behind another value, updates that have been merged say no name (``mergeUpdates`` of Yjs): it is that of the value
            # in front. Whether there is any is seen once it has been applied.
            if not keyed and not info & (_ORIGIN | _RIGHT_ORIGIN):
                raise Malformed(LOOSE)
            count = reader.number()
            for _ in range(count):  # several where one was written over, and is kept to be undone
                if _value(reader) > DEEPEST:
                    raise Malformed("a value is nested too deep")
            return count, above, 0
        if kind == _STRING and not keyed:
            return _units(reader.string(None)), above, 0
        if kind == _FORMAT and not keyed:
            self._format(reader)
            return 1, above, 0
        if kind == _TYPE and not keyed:
            type = reader.number()
            if type == _TEXT:
                return 1, above, type
            if type == _ELEMENT:
                if (tag := reader.string()) not in self._tags:
                    raise Malformed(f"there is no kind of block “{tag[:40]}”")
                return 1, above, type
        raise Malformed("it holds something of a kind that a text never has")

    def _format(self, reader: _Reader) -> None:
        name, said = reader.string(), reader.string()
        try:
            value = json.loads(said, parse_constant=_refuse_constant)
        except (json.JSONDecodeError, RecursionError):
            raise Malformed("formatting says what cannot be read") from None
        if name not in self._marks:
            raise Malformed(f"there is no formatting “{name[:40]}”")
        if _nested(value) or not isinstance(value, dict | None):
            raise Malformed(f"“{name}” says what cannot be used")


def _too_deep(structs: _Structs) -> list[tuple[int, int]]:
    """Where elements are nested too deep; by client and clock."""
    found: list[tuple[int, int]] = []
    levels = {client: [-1] * len(above) for client, above in structs.above.items()}
    for client, own in structs.starts.items():
        for place in range(len(own)):
            path: list[tuple[int, int]] = []
            at: tuple[int, int] | None = (client, place)
            while at and levels[at[0]][at[1]] < 0:
                levels[at[0]][at[1]] = 0  # as far as is known; also where a struct would follow from itself
                path.append(at)
                above = structs.above[at[0]][at[1]]
                at = structs.find(above[0], above[1]) if above else None
            level = levels[at[0]][at[1]] if at else 0
            for one in reversed(path):
                above = structs.above[one[0]][one[1]]
                level += above[2] if above else 0
                levels[one[0]][one[1]] = level
                if level > DEEPEST and (node := (one[0], structs.starts[one[0]][one[1]])) in structs.nodes:
                    found.append(node)
    return found
