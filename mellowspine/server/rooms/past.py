"""A text as it was at some time, made again from its log."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from functools import lru_cache
from typing import Any

from pycrdt import Doc, merge_updates

from mellowspine.core.report.blocks import Block
from mellowspine.server.shelf.models import Report

from .document import read_block, text_of
from .models import Update

STATES_KEPT = 4
"""States of texts that are at hand once they have been made."""


def blocks_at(report: Report, at: datetime) -> Sequence[Block]:
    """The blocks of a text as they were. Where the log has been merged that is true to within an hour, and exactly for when it
    was made and when each member was here last (``Text.compact``)."""
    return _blocks_at(report.pk, at)


@lru_cache(maxsize=STATES_KEPT)
def _blocks_at(report: int, at: datetime) -> tuple[Block, ...]:
    rows = [bytes(one) for one in Update.objects.filter(report=report, at__lte=at).values_list("data", flat=True)]
    document: Doc[Any] = Doc()
    if rows:
        document.apply_update(merge_updates(*rows))
    return tuple(read_block(child, index) for index, child in enumerate(text_of(document).children))
