"""Headings as long as a paragraph, and headings that end in a full stop."""

from __future__ import annotations

from collections.abc import Sequence

from ...report.blocks import Block
from ...report.plan import Cut, Set
from ...report.styles import StyleSheet
from ..findings import Check, NewIds, Remedy, State, add_check, as_heading, paragraphs_at, quoted

LONGEST = 150
"""Characters of a heading beyond which it is as long as a paragraph: two lines of text. Common practice, no source."""


def _long(block: Block, styles: StyleSheet) -> str | None:
    heading = as_heading(block, styles)
    is_long = heading and len(heading.text) > LONGEST
    return f"{quoted(heading.text)} has {len(heading.text)} characters." if heading and is_long else None


def _as_text(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    body = state.report.styles.role("body").id
    return Remedy(tuple(Set(id, {"style": body}) for id in places))


def _stopped(block: Block, styles: StyleSheet) -> str | None:
    heading = as_heading(block, styles)
    words = heading.text.rstrip() if heading else ""
    is_stop = words.endswith(".") and not words.endswith("..") and len(words) > 1 and len(words) <= LONGEST
    return f"{quoted(words)} ends in a full stop." if is_stop else None


def _without_stop(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    headings = paragraphs_at(state, places)
    return Remedy(tuple(Cut(heading.id, len(heading.text.rstrip()) - 1, ".") for heading in headings))


add_check(
    Check(
        "long-heading",
        "Headings as long as a paragraph",
        "Each stands in full in the contents; mostly, text was marked as a heading by mistake.",
        in_block=_long,
        remedy=_as_text,
        label="Make them body text",
    )
)
add_check(
    Check(
        "full-stop",
        "Headings that end in a full stop",
        "The full stop stands in every table as well, and others of the report have none.",
        in_block=_stopped,
        remedy=_without_stop,
        label="Take the full stops out",
    )
)
