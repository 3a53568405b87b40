"""``mellow convert``: a file in another format."""

from __future__ import annotations

import sys
from argparse import ArgumentParser
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from mellowspine.core.checkup.findings import CHECKS, check, state_of
from mellowspine.core.formats.imported import FileRefused
from mellowspine.core.formats.told import told
from mellowspine.core.formats.typeface_files import face_file
from mellowspine.core.pages.typefaces import FaceFile, Typefaces
from mellowspine.core.report.report import Report

from .command import Command, Unusable
from .notes import lines_of
from .shared import format_of, opened, write


def convert(file: Path, out: Path, contents: bool, faces: Sequence[Path] = ()) -> str | None:
    """Writes a file in the format of ``out``'s ending, with contents in front unless it has some or has no headings, ``contents`` is false or
    the format is one to go on with. What does not come along is said as by ``mellow notes``, on standard error, and so is what the file
    that is written has otherwise. Of a PDF it is said what keeps it from being of use to everybody."""
    format = format_of(out)
    imported = opened(file)
    own = [_face_of(one) for one in faces]
    pages = write(imported, out, contents and not format.goes_on, own)
    here = {face.family.lower() for face in own}
    notes = tuple(
        one for one in imported.notes if not (one.kind.startswith("typeface") and one.details[0].lower() in here)
    )
    for line in lines_of(replace(imported, notes=notes)):
        print(line, file=sys.stderr)
    for one in told(out.suffix.lower(), pages):
        print(f"{one.count:>5}  {one.sentence}", file=sys.stderr)
    return _hindering(imported.report) if out.suffix.lower() == ".pdf" else None


def _face_of(path: Path) -> FaceFile:
    """A typeface from its file. Raises Unusable."""
    try:
        return face_file(path.read_bytes())
    except FileRefused as refusal:
        raise Unusable(f"{path}: {refusal}") from None
    except OSError as error:
        raise Unusable(f"{path}: {error.strerror or error}; check the name and try again.") from None


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
    parser.add_argument(
        "--typeface", type=Path, action="append", default=[], help="a TrueType file of a typeface that is not here"
    )


COMMAND = Command(
    lambda given: convert(given.file, given.out, not given.no_contents, given.typeface), _arguments, prints=False
)
