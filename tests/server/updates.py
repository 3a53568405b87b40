"""Documents with blocks in them; and updates made byte by byte (Yjs, version 1; values as in lib0), as no library writes them."""

from __future__ import annotations

import struct
from collections.abc import Sequence
from typing import Any

from pycrdt import Doc

from mellowspine.core.report.blocks import Block
from mellowspine.server.rooms.document import updates_of

CLIENT = 4_000_000_001


def document_of(blocks: Sequence[Block]) -> Doc:
    """A new document with these blocks as its text."""
    document: Doc = Doc()
    for update in updates_of(blocks):
        document.apply_update(update)
    return document


def number(value: int) -> bytes:
    found = b""
    while value > 127:
        found += bytes([value & 127 | 128])
        value >>= 7
    return found + bytes([value])


def string(text: str) -> bytes:
    data = text.encode("utf-8", "surrogatepass")
    return number(len(data)) + data


def value(given: Any) -> bytes:
    match given:
        case None:
            return b"\x7e"
        case bool():
            return b"\x78" if given else b"\x79"
        case str():
            return b"\x77" + string(given)
        case list():
            return b"\x75" + number(len(given)) + b"".join(map(value, given))
        case dict():
            return b"\x76" + number(len(given)) + b"".join(string(key) + value(one) for key, one in given.items())
        case bytes():
            return b"\x74" + number(len(given)) + given
    return b"\x7b" + struct.pack(">d", given)


def root(name: str = "text") -> bytes:
    return b"\x01" + string(name)


def within(clock: int, client: int = CLIENT) -> bytes:
    """The parent that is this client's struct at a clock."""
    return b"\x00" + number(client) + number(clock)


def behind(clock: int, client: int = CLIENT) -> tuple[int, int]:
    return client, clock


def item(
    kind: int,
    content: bytes,
    parent: bytes | None = None,
    key: str | None = None,
    origin: tuple[int, int] | None = None,
) -> bytes:
    info = kind | (0x20 if key else 0) | (0x80 if origin else 0)
    if origin:
        return bytes([info]) + number(origin[0]) + number(origin[1]) + content
    return bytes([info]) + (parent or root()) + (string(key) if key else b"") + content


def element(tag: str, parent: bytes | None = None) -> bytes:
    return item(7, b"\x03" + string(tag), parent)


def words(parent: bytes | None = None) -> bytes:
    return item(7, b"\x06", parent)


def attribute(name: str, given: Any, parent: bytes) -> bytes:
    return item(8, b"\x01" + value(given), parent, name)


def formatting(name: str, said: str, parent: bytes) -> bytes:
    return item(6, string(name) + string(said), parent)


def update(*structs: bytes, client: int = CLIENT, clock: int = 0, deleted: bytes = b"\x00") -> bytes:
    return b"\x01" + number(len(structs)) + number(client) + number(clock) + b"".join(structs) + deleted
