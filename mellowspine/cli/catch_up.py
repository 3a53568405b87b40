"""``mellow catch-up``: a file whose tables are level with its text."""

from __future__ import annotations

from pathlib import Path

from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.tables.kinds import table_kind

from .command import Command, Unusable, in_json
from .shared import opened, write


def catch_up(file: Path, out: Path, as_json: bool) -> str:
    """Writes a file with all its tables made anew from its text, page numbers included, and says what each lists. Raises Unusable for one
    that has none."""
    imported = opened(file)
    if not any(isinstance(block, PlacedTable) for block in imported.report.blocks):
        raise Unusable(
            f"{file}: there is no table in it that is made from its text; “mellow convert” puts contents in front."
        )
    report = write(imported, out, contents=False).report
    issued = [
        report.tables[block.table]
        for block in report.blocks
        if isinstance(block, PlacedTable) and block.table in report.tables
    ]
    rows = [
        {"table": one.recipe.title or table_kind(one.recipe.kind).recipe.title, "lines": len(one.lines)}
        for one in issued
    ]
    if as_json:
        return in_json({"tables": rows})
    return "\n".join(f"{row['table']}: {row['lines']} {'line' if row['lines'] == 1 else 'lines'}" for row in rows)


COMMAND = Command(
    lambda given: catch_up(given.file, given.out, given.json), lambda parser: parser.add_argument("out", type=Path)
)
