"""HTML: files, and what clipboards hold.

What is hidden, what is no text and what is elsewhere is left out and noted; nothing is fetched. ``docs/formats.md`` says what
comes along.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping
from typing import NamedTuple

from lxml.etree import _Element

from ...report.blocks import Block, Paragraph
from ...report.page import DEFAULT_PAGE, LANGUAGE, PageSetup
from ...report.report import Report
from ...report.styles import StyleSheet
from ..imported import Imported, Keep, Note, Progress, new_ids, unhurried
from ..text import without_controls
from .reader import Reader
from .tree import decoded, parsed, words_of
from .writer import write, write_piece

__all__ = ["read", "read_among", "read_into", "write", "write_piece"]

MOST_ADDRESSES = 5
"""How many of the pictures that are elsewhere are named."""


def read(data: bytes, name: str, progress: Progress, pictures: Mapping[str, bytes] | None = None) -> Imported:
    """A file as a new report."""
    root = parsed(decoded(data))
    found = _read(root, Report(name), new_ids(), "structure", (), progress, pictures)
    title = root.find(".//head/title") if root is not None else None
    named = (words_of(title) if title is not None else "")[:200]
    report = found.report
    first = report.styles.heading(1).id
    heading = next((b.text for b in report.blocks if isinstance(b, Paragraph) and b.style == first), name)
    blocks = report.blocks or (Paragraph("b00001"),)
    said = (root.get("lang") or "") if root is not None else ""
    page = PageSetup(language=said) if LANGUAGE.fullmatch(said) else DEFAULT_PAGE
    return Imported(Report(named or heading, blocks, report.styles, page=page), found.pictures, found.notes)


def read_into(
    text: str,
    report: Report,
    ids: Iterator[str],
    keep: Keep,
    numbered: Collection[int] = (),
    progress: Progress = unhurried,
) -> Imported:
    """Some HTML as blocks for a report, in its styles. Raises FileRefused for what is nested too deep.

    ``numbered``: levels of headings that the report counts by itself, so that numbers typed in front of them go.
    """
    root = parsed(without_controls(re.sub(r"[\ud800-\udfff]", "\ufffd", text)))
    return _read(root, report, ids, keep, numbered, progress)


class Among(NamedTuple):
    """A piece of HTML among text of another kind."""

    blocks: tuple[Block, ...]
    styles: StyleSheet
    """Those of the report, and those that the piece asks for."""
    pictures: Mapping[str, bytes]
    notes: tuple[Note, ...]
    places: Mapping[str, str]
    """Ids of paragraphs by the names that it gives to places in them."""
    waiting: tuple[str, ...]
    """Such names whose paragraph is still to come."""
    led: frozenset[str]
    """The names that its links lead to, wherever these are."""


def read_among(text: str, report: Report, ids: Iterator[str], pictures: Mapping[str, bytes]) -> Among:
    """What a piece of HTML says that stands among other text: as ``read_into``, but its links may lead beyond it."""
    root = parsed(without_controls(text))
    reader = Reader(report, ids, "structure", (), pictures, is_piece=True)
    if root is not None:
        reader.read(root, unhurried)
    blocks = reader.blocks
    return Among(
        blocks, reader.styles, reader.pictures, _notes(reader), reader.places, tuple(reader.waiting), frozenset(reader.led)
    )  # fmt: skip


def _notes(reader: Reader) -> tuple[Note, ...]:
    notes = list(reader.notes.all())
    if reader.elsewhere:
        named = ", ".join(dict.fromkeys(one[:200] for one in reader.elsewhere[:MOST_ADDRESSES]))
        notes.append(Note("picture-elsewhere", len(reader.elsewhere), (named,)))
    return tuple(notes)


def _read(
    root: _Element | None,
    report: Report,
    ids: Iterator[str],
    keep: Keep,
    numbered: Collection[int],
    progress: Progress,
    pictures: Mapping[str, bytes] | None = None,
) -> Imported:
    reader = Reader(report, ids, keep, numbered, pictures or {})
    if root is not None:
        reader.read(root, progress)
    return Imported(Report(report.title, reader.blocks, reader.styles), reader.pictures, _notes(reader))
