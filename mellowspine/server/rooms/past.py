"""A text as it was at some time, made again from its log."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import Any

from pycrdt import Doc, XmlElement

from mellowspine.core.report.blocks import Block
from mellowspine.server.shelf.models import Report

from .document import read_block, text_of
from .models import Update

STATES_KEPT = 4
"""States of texts that are at hand once they have been made."""

_known: dict[tuple[int, datetime], tuple[Block, ...]] = {}
"""These states, by report and time; the one that was asked for last comes last."""


def blocks_at(report: Report, at: datetime, now: Iterable[Block] = ()) -> Sequence[Block]:
    """The blocks of a text as they were. Where the log has been merged that is true to within an hour, and exactly for when it
    was made and when each member was here last (``Text.compact``).

    ``now``: the blocks as they are, or were a moment ago. Those that are as they were are the very same in what is returned.
    """
    key = report.pk, at
    found = _known.pop(key, None)
    if found is None:
        found = _made(report, at, now)
    _known[key] = found
    for old in [*_known][:-STATES_KEPT]:
        _known.pop(old, None)  # another thread may have been quicker
    return found


def _made(report: Report, at: datetime, now: Iterable[Block]) -> tuple[Block, ...]:
    rows = [(bytes(data), when) for data, when in Update.objects.filter(report=report).values_list("data", "at")]
    then, later = _document(data for data, when in rows if when <= at), _document(data for data, _ in rows)
    # To have the library write a block is ten times as fast as to read it.
    blocks = {one.id: one for one in now}
    with later.transaction():
        known = {
            _written(child): block
            for child in text_of(later).children
            if isinstance(child, XmlElement) and (block := blocks.get(str(child.attributes.get("id"))))
        }
    with then.transaction():
        return tuple(
            known.get(_written(child)) or read_block(child, index) for index, child in enumerate(text_of(then).children)
        )


def _document(updates: Iterable[bytes]) -> Doc[Any]:
    made: Doc[Any] = Doc()
    with made.transaction():
        for one in updates:
            made.apply_update(one)
    return made


_TAGS = re.compile("(<[^>]*>)")


def _written(child: Any) -> tuple[str, ...]:
    """A block as the library writes it, but for the order of attributes, which differs from one document to another."""
    return tuple(
        "".join(sorted(part[1:-1].split(" "))) if part.startswith("<") else part for part in _TAGS.split(str(child))
    )
