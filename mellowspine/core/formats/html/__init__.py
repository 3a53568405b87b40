"""HTML: files, and what clipboards hold.

What is hidden, what is no text and what is elsewhere is left out and noted; nothing is fetched. ``docs/formats.md`` says what
comes along.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping

from lxml.etree import _Element

from ...report.blocks import Paragraph
from ...report.page import DEFAULT_PAGE, LANGUAGE, PageSetup
from ...report.report import Report
from ..imported import Imported, Keep, Note, Progress, new_ids, unhurried
from ..text import without_controls
from .reader import Reader
from .tree import decoded, parsed, words_of
from .writer import write, write_piece

__all__ = ["read", "read_into", "write", "write_piece"]

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
    notes = list(reader.notes.all())
    if reader.elsewhere:
        named = ", ".join(dict.fromkeys(one[:200] for one in reader.elsewhere[:MOST_ADDRESSES]))
        notes.append(Note("picture-elsewhere", len(reader.elsewhere), (named,)))
    return Imported(Report(report.title, reader.blocks, reader.styles), reader.pictures, tuple(notes))
