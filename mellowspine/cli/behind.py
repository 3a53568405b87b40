"""``mellow behind``: how far the contents of one version of a file are behind another."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path

from mellowspine.core.report.recipes import settings_of
from mellowspine.core.structure.matching import matched
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.renumbering import renumberings, sentence

from .command import Command, Outcome, in_json
from .shared import opened, with_table


def show_behind(old: Path, new: Path, as_json: bool) -> Outcome:
    """How far the contents of one version of a file are behind another version."""
    before, now = opened(old), opened(new)
    named = before.named & now.named
    then, issued = with_table(before.report)
    report, fresh = with_table(now.report, settings_of(issued.recipe))
    # What is in one version only may have the id of something else in the other.
    same = matched(outline(then), outline(report), named)
    lines = [line._replace(source=same.get(line.source, f"gone {line.source}")) for line in issued.lines]
    differences = behind(lines, fresh.lines)
    rows = [
        {
            "kinds": [*one.kinds],
            "level": one.line.level,
            "old": one.issued.text if one.issued else None,
            "new": one.fresh.text if one.fresh else None,
            "page": ", ".join(one.fresh.pages) if one.fresh else None,
        }
        for one in differences
    ]
    code = 1 if rows else 0
    if as_json:
        return Outcome(in_json({"behind": len(rows), "lines": rows}), code)
    if not rows:
        return Outcome("Level with the text.", code)
    said = ["1 line behind." if len(rows) == 1 else f"{len(rows)} lines behind."]
    said += [sentence(one, {}) for one in renumberings(differences)]
    for one in differences:
        was, is_now = one.issued and one.issued.text, one.fresh and one.fresh.text
        words = f"{was} → {is_now}" if was and is_now and was != is_now else is_now or was
        page = f"  page {', '.join(one.fresh.pages)}" if one.fresh else ""
        said.append(f"  {', '.join(one.kinds)}: {words}{page}")
    return Outcome("\n".join(said), code)


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("new", type=Path)


COMMAND = Command(lambda given: show_behind(given.file, given.new, given.json), _arguments)
