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
from mellowspine.core.formats.chosen import chosen
from mellowspine.core.formats.imported import FileRefused
from mellowspine.core.formats.told import told
from mellowspine.core.formats.typeface_files import face_file
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import FaceFile, Typefaces
from mellowspine.core.report.report import Report

from .command import Command, Unusable
from .notes import lines_of
from .shared import format_of, opened, write


def convert(
    file: Path, out: Path, contents: bool, faces: Sequence[Path] = (), section: str = "", tables: bool = False
) -> str | None:
    """Writes a file in the format of ``out``'s ending, with contents in front unless it has some or has no headings, ``contents`` is false or
    the format is one to go on with. What does not come along is said as by ``mellow notes``, on standard error, and so is what the file
    that is written has otherwise. Of a PDF it is said what keeps it from being of use to everybody."""
    format = format_of(out)
    imported = opened(file)
    own = [_face_of(one) for one in faces]
    written = write(imported, out, contents and not format.goes_on, own, lambda pages: _chosen(pages, section, tables))
    here = {face.family.lower() for face in own}
    notes = tuple(
        one for one in imported.notes if not (one.kind.startswith("typeface") and one.details[0].lower() in here)
    )
    for line in lines_of(replace(imported, notes=notes)):
        print(line, file=sys.stderr)
    for one in told(out.suffix.lower(), written.pages, written.only):
        print(f"{one.count:>5}  {one.sentence}", file=sys.stderr)
    return _hindering(imported.report) if out.suffix.lower() == ".pdf" else None


def _chosen(pages: Pages, section: str, tables: bool) -> frozenset[int] | None:
    """The blocks that are to be written: of a section by its number or its words, or the tables alone. Raises Unusable."""
    if not section:
        return chosen(pages, "tables" if tables else "all")
    wanted = " ".join(section.split()).casefold()
    for one in pages.worded:
        said = {
            one.number,
            " ".join(one.text.split()).casefold(),
            " ".join(f"{one.number} {one.text}".split()).casefold(),
        }
        if wanted in said:
            return chosen(pages, "section", one.id)
    raise Unusable(f"There is no section “{section}”; “mellow outline” says which there are.")


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
    parser.add_argument("--section", default="", help="write a section alone, by its number or its words")
    parser.add_argument("--tables", action="store_true", help="write the tables alone")
    parser.add_argument(
        "--typeface", type=Path, action="append", default=[], help="a TrueType file of a typeface that is not here"
    )


COMMAND = Command(
    lambda given: convert(given.file, given.out, not given.no_contents, given.typeface, given.section, given.tables),
    _arguments,
    prints=False,
)
