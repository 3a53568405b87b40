"""``mellow convert``: a file in another format."""

from __future__ import annotations

import sys
from argparse import ArgumentParser
from collections import Counter
from pathlib import Path

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from mellowspine.core.checkup.findings import CHECKS, check, state_of
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.report import Report

from .command import Command
from .notes import lines_of
from .shared import format_of, opened, write


def convert(file: Path, out: Path, contents: bool) -> str | None:
    """Writes a file in the format of ``out``'s ending, with contents in front unless it has some or has no headings, ``contents`` is false or
    the format has no pages to say. What does not come along is said as by ``mellow notes``, on standard error. Of a PDF it is said what keeps it from being of use to everybody."""
    format = format_of(out)
    imported = opened(file)
    write(imported, out, contents and not format.pictures_beside)
    for line in lines_of(imported):
        print(line, file=sys.stderr)
    return _hindering(imported.report) if out.suffix.lower() == ".pdf" else None


def _hindering(report: Report) -> str | None:
    """What those would miss who do not see the pages, in a line; None if there is nothing."""
    found = Counter(one.kind for one in check(state_of(report, Typefaces())).findings if CHECKS[one.kind].hinders)
    if not found:
        return None
    kinds = ", ".join(
        f"{CHECKS[kind].name.lower()}: {count} (ISO 14289-1, {CHECKS[kind].hinders})" for kind, count in found.items()
    )
    return f"Not of use to everybody yet: {kinds}. “mellow check” says where."


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("out", type=Path)
    parser.add_argument("--no-contents", action="store_true", help="place no contents table in front")


COMMAND = Command(lambda given: convert(given.file, given.out, not given.no_contents), _arguments, prints=False)
