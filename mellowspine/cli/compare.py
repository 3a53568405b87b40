"""``mellow compare``: what happened to the sections between two versions of a file."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from mellowspine.core.structure.happened import Happened, happened, sentence
from mellowspine.core.structure.matching import matched
from mellowspine.core.structure.outline import outline

from .command import Command, Outcome, in_json
from .shared import opened


def show_compared(old: Path, new: Path, as_json: bool) -> Outcome:
    """What happened to the sections from one version of a file to another."""
    before, now = opened(old), opened(new)
    # What is in one version only may have the id of something else in the other.
    same = matched(outline(before.report), outline(now.report), before.named & now.named)
    found = happened(before.report, now.report, same)
    code = 1 if found else 0
    if as_json:
        return Outcome(in_json({"sections": [*map(_row, found)]}), code)
    return Outcome("\n".join(map(sentence, found)) if found else "Nothing happened to the sections.", code)


def _row(one: Happened) -> dict[str, Any]:
    return {
        "kinds": [*one.kinds],
        "old": one.then and one.then._asdict(),
        "new": one.now and one.now._asdict(),
        "under": one.under,
        "written": one.written,
        "taken": one.taken,
    }


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("new", type=Path)


COMMAND = Command(lambda given: show_compared(given.file, given.new, given.json), _arguments)
