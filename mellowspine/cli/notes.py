"""``mellow notes``: what of a file does not come along as it is."""

from __future__ import annotations

from pathlib import Path

from mellowspine.core.formats.imported import Imported
from mellowspine.core.formats.where import with_sections

from .command import Command, Outcome, in_json
from .shared import opened

_MOST_NAMED = 3
"""Sections that are named in a line."""


def lines_of(imported: Imported) -> list[str]:
    """What is said of a file, a line for each kind of thing: how often, what, what became of it, and where."""
    lines = []
    for note, sections in with_sections(imported):
        named = "; ".join(sections[:_MOST_NAMED])
        more = f"; {len(sections) - _MOST_NAMED} more" if len(sections) > _MOST_NAMED else ""
        where = f" ({named}{more})" if named else ""
        lines.append(f"{note.count:>5}  {note.sentence}{where}")
    return lines


def show_notes(file: Path, as_json: bool) -> Outcome:
    """What of a file is left out, or kept in another form; the exit code is 1 if anything is left out."""
    imported = opened(file)
    code = 1 if any(note.lost for note in imported.notes) else 0
    if as_json:
        rows = [
            {"kind": note.kind, "count": note.count, "what": note.what, "instead": note.instead, "lost": note.lost, "where": sections}
            for note, sections in with_sections(imported)
        ]  # fmt: skip
        return Outcome(in_json({"notes": rows}), code)
    return Outcome("\n".join(lines_of(imported)) or "All of it comes along.", code)


COMMAND = Command(lambda given: show_notes(given.file, given.json))
