"""Awareness messages: carets and places of the people in a room (y-protocols, awareness)."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from pycrdt import Decoder, Encoder, YMessageType, write_message

from mellowspine.core.report.elements import identifier

from .document import FIELD

MOST_CLIENTS = 4
"""Awareness states that one connection may speak for."""

LARGEST_STATE = 1024
"""Bytes of one state."""

_LARGEST = 2**53
"""No number of a browser's is as large."""


@dataclass(frozen=True, slots=True)
class AwarenessState:
    """One browser's state at a clock; ``state`` is None once it has left."""

    client: int
    clock: int
    state: dict[str, Any] | None


def decode(data: bytes) -> list[AwarenessState]:
    """Raises ValueError for anything that is no awareness update, or too large."""
    try:
        reader = Decoder(data)
        count = reader.read_var_uint()
        if count > 1000:
            raise ValueError("too many states")
        result = []
        for _ in range(count):
            client, clock = reader.read_var_uint(), reader.read_var_uint()
            if client >= _LARGEST or clock >= _LARGEST:
                raise ValueError("a number is too large")
            written = reader.read_var_string()
            if len(written.encode()) > LARGEST_STATE:
                raise ValueError("a state is too large")
            state = json.loads(written)
            if state is not None and not isinstance(state, dict):
                raise ValueError("a state is no object")
            result.append(AwarenessState(client, clock, state))
        return result
    except (IndexError, RuntimeError, UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        raise ValueError(str(error)) from None


def made_anew(presence: AwarenessState, user: dict[str, Any]) -> AwarenessState:
    """What others are told of a browser: whose it is, whoever it says it is, and where; nothing else, and nothing odd."""
    if presence.state is None:
        return presence
    state: dict[str, Any] = {"user": user}
    if heading := identifier(presence.state.get("heading")):
        state["heading"] = heading
    cursor = presence.state.get("cursor")
    ends = [_position(cursor.get(end)) for end in ("anchor", "head")] if isinstance(cursor, dict) else [None]
    if all(ends):
        state["cursor"] = dict(zip(("anchor", "head"), ends, strict=True))
    return AwarenessState(presence.client, presence.clock, state)


def _position(given: Any) -> dict[str, Any] | None:
    """A place in the text as Yjs has it (a relative position, as JSON), if it is one."""
    if not isinstance(given, dict):
        return None
    name, assoc = given.get("tname"), given.get("assoc", 0)
    type, item = _struct(given.get("type")), _struct(given.get("item"))
    if (
        name not in (None, FIELD)
        or not (name or type or item)
        or assoc not in (-1, 0, 1)
        or isinstance(assoc, bool | float)
    ):
        return None
    return {"type": type, "tname": name, "item": item, "assoc": assoc}


def _struct(given: Any) -> dict[str, int] | None:
    client, clock = (given.get("client"), given.get("clock")) if isinstance(given, dict) else (None, None)
    if type(client) is int and type(clock) is int and 0 <= client < _LARGEST and 0 <= clock < _LARGEST:
        return {"client": client, "clock": clock}
    return None


def message(presences: Iterable[AwarenessState]) -> bytes:
    """A whole awareness message, as it goes over the wire."""
    all_of_them = list(presences)
    writer = Encoder()
    writer.write_var_uint(len(all_of_them))
    for presence in all_of_them:
        writer.write_var_uint(presence.client)
        writer.write_var_uint(presence.clock)
        # json keeps to ASCII, so that pycrdt's string length (characters) equals the length in bytes.
        writer.write_var_string(json.dumps(presence.state))
    return bytes([YMessageType.AWARENESS]) + write_message(writer.to_bytes())
