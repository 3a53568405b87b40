"""``mellow outline``: the headings of a file."""

from __future__ import annotations

from argparse import ArgumentParser
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.settle import settle_all

from .command import Command, in_json
from .shared import opened


def show_outline(file: Path, as_json: bool, numbers: str | None) -> str:
    """The headings of a file, one a line, or as JSON; numbered by the file's own scheme, or another one by name."""
    report = opened(file).report
    if numbers is not None:
        report = replace(report, numbering=SCHEMES[numbers])
    report, pages = settle_all(report, Typefaces())
    rows: list[dict[str, Any]] = [
        {
            "id": heading.id,
            "level": heading.level,
            "number": heading.number,
            "text": heading.text,
            "page": (page := pages.page_of(heading.block, heading.row)),
            "label": pages.label(page),
        }
        for heading in outline(report)
    ]
    if as_json:
        return in_json({"pages": len(pages), "headings": rows})
    lines = ["  " * (row["level"] - 1) + f"{row['number']} {row['text']}".strip() for row in rows]
    width = max((len(line) for line in lines), default=0)
    return "\n".join(f"{line:<{width}}  {row['label']:>5}" for line, row in zip(lines, rows, strict=True))


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("--numbers", choices=SCHEMES, help="number the headings by this scheme")


COMMAND = Command(lambda given: show_outline(given.file, given.json, given.numbers), _arguments)
