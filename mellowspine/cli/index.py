"""``mellow index``: the alphabetical index of a file."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.tables.kinds import table_kind

from .command import Command, in_json
from .shared import built, opened


def show_index(file: Path, as_json: bool) -> str:
    """The alphabetical index of a file, from the terms marked in it."""
    lines: list[dict[str, Any]] = []
    words: list[str] = []
    terms: list[str] = []
    report = opened(file).report
    for line in built(report, replace(table_kind("index").recipe, levels=(2, 3, 4)))[0]:
        depth = line.level - 1
        if line.source.startswith("also-"):
            lines[-1]["see"] = line.text.removeprefix("see also ")
        else:
            term, _, see = line.text.partition(", see ") if line.emphasis else (line.text, "", "")
            terms = [*terms[: depth - 1], term]
            pages = [page.replace("–", "-") for page in line.pages]
            lines.append({"terms": terms, "pages": pages, "see": see or None})
        words.append("  " * (depth - 1) + ", ".join([line.text, *line.pages]))
    if as_json:
        return in_json({"lines": lines})
    return "\n".join(words or ["No terms are marked in it."])


COMMAND = Command(lambda given: show_index(given.file, given.json))
