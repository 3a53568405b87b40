"""Awareness messages: carets and places of the people in a room (y-protocols, awareness)."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from pycrdt import Decoder, Encoder, YMessageType, write_message

MOST_CLIENTS = 4
"""Awareness states that one connection may speak for."""


@dataclass(frozen=True, slots=True)
class Presence:
    """One browser's state at a clock; ``state`` is None once it has left."""

    client: int
    clock: int
    state: dict[str, Any] | None


def decode(data: bytes) -> list[Presence]:
    """Raises ValueError for anything that is no awareness update."""
    try:
        reader = Decoder(data)
        count = reader.read_var_uint()
        if count > 1000:
            raise ValueError("too many states")
        result = []
        for _ in range(count):
            client, clock = reader.read_var_uint(), reader.read_var_uint()
            state = json.loads(reader.read_var_string())
            if state is not None and not isinstance(state, dict):
                raise ValueError("a state is no object")
            result.append(Presence(client, clock, state))
        return result
    except (IndexError, RuntimeError, UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        raise ValueError(str(error)) from None


def message(presences: Iterable[Presence]) -> bytes:
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
