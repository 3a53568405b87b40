"""The gate before the log: reads an update of a shared document before anything is done with it.

The encoding is that of Yjs, version 1 (`INTERNALS.md` and the sources of yjs 13, MIT; numbers and values as in lib0):
for every client a run of structs (items with their content, or gaps), then what is deleted. The libraries that apply
updates believe what they read: nested deep enough it ends the process, and an odd value ends every browser that meets it.
So whatever is of a kind that a text never has, or beyond a bound, is refused here. Whether it stands where it may is seen
once it has been applied on trial (``text.py``).
"""

from __future__ import annotations

import json
import struct
from bisect import bisect_right
from collections.abc import Callable, Mapping
from math import isfinite
from typing import Any

from .document import FIELD

DEEPEST = 6
"""How deep values, and elements in elements, may be nested; of a cell's text it is five."""
LONGEST_VALUE = 4000
"""Characters of an attribute, or of what a mark says."""
MOST_STRUCTS = 1_000_000
NESTING_SEEN = 5000
"""Elements of one update from which on it is looked into how they are nested; so many do no harm, however they are."""

_GC, _DELETED, _JSON, _BINARY, _STRING, _EMBED, _FORMAT, _TYPE, _ANY, _DOCUMENT, _SKIP = range(11)
_ELEMENT, _HOOK, _TEXT = 3, 5, 6
_ORIGIN, _RIGHT_ORIGIN, _KEYED = 0x80, 0x40, 0x20
_LARGEST = 2**53


class Malformed(ValueError):
    """An update is not what it should be, nothing of it was kept; the message says what is wrong with it."""


class _Reader:
    """Numbers and strings as lib0 encodes them, from ``at`` on."""

    def __init__(self, data: bytes) -> None:
        self.data, self.at = data, 0

    def byte(self) -> int:
        try:
            found = self.data[self.at]
        except IndexError:
            raise Malformed("it ends too early") from None
        self.at += 1
        return found

    def number(self) -> int:
        byte = self.byte()
        if byte < 0x80:
            return byte
        found, shift = byte & 0x7F, 7
        while byte & 0x80:
            byte = self.byte()
            found |= (byte & 0x7F) << shift
            shift += 7
            if shift > 63:
                break
        if found >= _LARGEST:
            raise Malformed("a number is too large")
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


def without_deep_values(update: bytes) -> bytes:
    """An update with each value that is nested too deep as if it had been deleted.

    For what was stored before there was a gate: the library ends the process when it reads such a value. Raises Malformed
    for what is no update at all.
    """
    reader = _Reader(update)
    made = bytearray()
    kept = 0
    """What is before this in the update has been made."""
    for _ in range(reader.number()):
        count, _, _ = reader.number(), reader.number(), reader.number()
        for _ in range(count):
            start = reader.at
            info = reader.byte()
            kind = info & 0x1F
            if kind in (_GC, _SKIP):
                reader.number()
                continue
            for origin in (_ORIGIN, _RIGHT_ORIGIN):
                if info & origin:
                    reader.number(), reader.number()
            if not info & (_ORIGIN | _RIGHT_ORIGIN):
                if reader.number() == 1:
                    reader.string(None)
                else:
                    reader.number(), reader.number()
                if info & _KEYED:
                    reader.string(None)
            content = reader.at
            length = _read_over(reader, kind)
            if length:
                made += update[kept:start] + bytes([info & 0xE0 | _DELETED]) + update[start + 1 : content]
                made += _number(length)
                kept = reader.at
    return bytes(made + update[kept:])


def _read_over(reader: _Reader, kind: int) -> int:
    """Reads over some content of any kind. Returns its length if values in it are nested too deep, else 0."""
    if kind == _ANY:
        count = reader.number()
        deepest = max((_value(reader, None) for _ in range(count)), default=0)
        return count if deepest > DEEPEST else 0
    if kind == _DELETED:
        reader.number()
    elif kind == _JSON:
        for _ in range(reader.number()):
            reader.string(None)
    elif kind in (_BINARY, _STRING, _EMBED):
        reader.take(reader.number())
    elif kind == _FORMAT:
        reader.string(None), reader.string(None)
    elif kind == _TYPE:
        if reader.number() in (_ELEMENT, _HOOK):
            reader.string(None)
    elif kind == _DOCUMENT:
        reader.string(None)
        return 1 if _value(reader, None) > DEEPEST else 0
    else:
        raise Malformed("it holds something of an unknown kind")
    return 0


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


class Gate:
    """Reads updates; of what it lets through only the place is left to be checked."""

    def __init__(self, tags: frozenset[str], marks: Mapping[str, Callable[[Any], bool]]) -> None:
        """``tags``: the elements that there are; ``marks``: what each kind of formatting may say."""
        self._tags = tags
        self._marks = marks

    def check(self, update: bytes) -> None:
        """Raises Malformed for what is no update of a text."""
        reader = _Reader(update)
        starts: dict[int, list[int]] = {}
        parents: dict[int, list[tuple[int, int, int] | None]] = {}
        structs = elements = 0
        for _ in range(reader.number()):
            count, client, clock = reader.number(), reader.number(), reader.number()
            structs += count
            if structs > MOST_STRUCTS:
                raise Malformed("it is too much at once")
            own, above = starts.setdefault(client, []), parents.setdefault(client, [])
            for _ in range(count):
                own.append(clock)
                info = reader.byte()
                length, parent, element = self._struct(reader, info)
                above.append(parent)
                elements += element
                clock += length
                if length == 0 or clock >= _LARGEST:
                    raise Malformed("a number is out of range")
        for _ in range(reader.number()):
            reader.number()
            for _ in range(reader.number()):
                if reader.number() + reader.number() >= _LARGEST:
                    raise Malformed("a number is out of range")
        if reader.at != len(update):
            raise Malformed("something follows its end")
        if elements > NESTING_SEEN:
            _check_nesting(starts, parents)

    def _struct(self, reader: _Reader, info: int) -> tuple[int, tuple[int, int, int] | None, bool]:
        """Reads over a struct. Returns its length, what its level follows from, and whether it is an element.

        That is another struct, by client and clock, and how many levels deeper than that this one is.
        """
        kind = info & 0x1F
        if kind in (_GC, _SKIP):
            return reader.number(), None, False
        parent = None
        if info & _ORIGIN:
            parent = reader.number(), reader.number(), 0
        if info & _RIGHT_ORIGIN:
            right = reader.number(), reader.number(), 0
            parent = parent or right
        keyed = bool(info & _KEYED)
        if parent is None:
            if reader.number() == 1:
                if reader.string() != FIELD:
                    raise Malformed("it is for something else than the text")
            else:
                parent = reader.number(), reader.number(), 1
            if keyed:
                reader.string()
        if kind == _STRING:
            # In units of UTF-16, as browsers count.
            return len(reader.string(None).encode("utf-16-le")) // 2, parent, False
        if kind == _DELETED:
            return reader.number(), parent, False
        if kind == _ANY:
            if not keyed:
                raise Malformed("loose values stand in the text")
            count = reader.number()
            for _ in range(count):  # several where one was written over, and is kept to be undone
                if _value(reader) > DEEPEST:
                    raise Malformed("a value is nested too deep")
            return count, parent, False
        if kind == _FORMAT:
            self._format(reader)
            return 1, parent, False
        if kind == _TYPE and not keyed:
            type = reader.number()
            if type == _TEXT:
                return 1, parent, False
            if type == _ELEMENT:
                if (tag := reader.string()) not in self._tags:
                    raise Malformed(f"there is no kind of block “{tag[:40]}”")
                return 1, parent, True
        raise Malformed("it holds something of a kind that a text never has")

    def _format(self, reader: _Reader) -> None:
        name, said = reader.string(), reader.string()
        try:
            value = json.loads(said, parse_constant=_refuse_constant)
        except (json.JSONDecodeError, RecursionError):
            raise Malformed("formatting says what cannot be read") from None
        if name not in self._marks:
            raise Malformed(f"there is no formatting “{name[:40]}”")
        if value is not None and (_nested(value) or not self._marks[name](value)):
            raise Malformed(f"“{name}” says what cannot be used")


def _check_nesting(starts: Mapping[int, list[int]], parents: Mapping[int, list[tuple[int, int, int] | None]]) -> None:
    """Raises Malformed where elements are nested too deep. ``parents``: by client and struct, what its level follows from."""
    levels = {client: [-1] * len(above) for client, above in parents.items()}

    def found(client: int, clock: int) -> tuple[int, int] | None:
        own = starts.get(client, [])
        place = bisect_right(own, clock) - 1
        return (client, place) if place >= 0 else None

    for client, own in starts.items():
        for place in range(len(own)):
            path: list[tuple[int, int]] = []
            at: tuple[int, int] | None = (client, place)
            while at and levels[at[0]][at[1]] < 0:
                levels[at[0]][at[1]] = 0  # as far as is known; also where a struct would follow from itself
                path.append(at)
                above = parents[at[0]][at[1]]
                at = found(above[0], above[1]) if above else None
            level = levels[at[0]][at[1]] if at else 0
            for one in reversed(path):
                above = parents[one[0]][one[1]]
                level += above[2] if above else 0
                levels[one[0]][one[1]] = level
            if level > DEEPEST:
                raise Malformed("elements are nested too deep")
