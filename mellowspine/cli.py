"""``mellow``: the core from the command line, for scripts."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections import Counter
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.imported import FileRefused, Imported
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.styles import INHERITED, style_to_json
from mellowspine.core.structure.outline import outline, paragraphs
from mellowspine.core.tables.settle import settle_all, with_contents


class Unusable(Exception):
    """A file cannot be read or written; the message is one line."""


def _opened(path: Path) -> Imported:
    try:
        return read(path.name, path.read_bytes())
    except FileRefused as refusal:
        raise Unusable(f"{path}: {refusal}") from None
    except OSError as error:
        raise Unusable(f"{path}: {error.strerror or error}; check the name and try again.") from None


def show_outline(file: Path, as_json: bool, numbers: str | None) -> str:
    """The headings of a file, one a line, or as JSON; numbered by the file's own scheme, or another one by name."""
    report = _opened(file).report
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
        return json.dumps({"pages": len(pages), "headings": rows}, ensure_ascii=False, indent=1)
    lines = ["  " * (row["level"] - 1) + f"{row['number']} {row['text']}".strip() for row in rows]
    width = max((len(line) for line in lines), default=0)
    return "\n".join(f"{line:<{width}}  {row['label']:>5}" for line, row in zip(lines, rows, strict=True))


def show_styles(file: Path, as_json: bool) -> str:
    """The styles of a file: each with what it says, what it is based on, and how many paragraphs use it."""
    report = _opened(file).report
    uses = Counter(report.styles[paragraph.style].id for paragraph in paragraphs(report))
    rows = [
        {
            "id": style.id,
            "name": style.name,
            "based_on": style.based_on,
            "level": style.outline_level,
            "says": {name: value for name, value in style_to_json(style).items() if name in INHERITED},
            "used": uses[style.id],
        }
        for style in report.styles.values()
    ]
    if as_json:
        return json.dumps({"styles": rows}, ensure_ascii=False, indent=1)
    width = max(len(style.name) for style in report.styles.values())
    lines = []
    for style in report.styles.values():
        base = f", based on {report.styles[style.based_on].name}" if style.based_on else ""
        level = f", heading of level {style.outline_level}" if style.outline_level else ""
        lines.append(f"{style.name:<{width}}  {uses[style.id]:>6}  {style.font} {style.size:g} pt{base}{level}")
    return "\n".join(lines)


def convert(file: Path, out: Path, contents: bool) -> None:
    """Writes a file in the format of ``out``'s ending, with contents in front unless it has some or ``contents`` is false."""
    format = WRITERS.get(out.suffix.lower())
    if format is None:
        raise Unusable(f"{out}: this format cannot be written; give a name that ends in {' or '.join(WRITERS)}.")
    imported = _opened(file)
    typefaces = Typefaces()
    report = imported.report
    report, pages = (with_contents if contents else settle_all)(report, typefaces)
    data = format.write(Written(report, pages, typefaces, imported.pictures))
    try:
        out.write_bytes(data)
    except OSError as error:
        raise Unusable(f"{out}: {error.strerror or error}; choose another place.") from None


def main(arguments: list[str] | None = None) -> int:
    """Runs the command; returns 0, or 2 with one line on standard error for a file that cannot be used."""
    parser = argparse.ArgumentParser(prog="mellow", description="Headings, pages and contents of long reports.")
    commands = parser.add_subparsers(dest="command", required=True)
    first = commands.add_parser("outline", help="print the headings of a file with level, text and page")
    first.add_argument("file", type=Path)
    first.add_argument("--json", action="store_true", help="as JSON")
    first.add_argument("--numbers", choices=SCHEMES, help="number the headings by this scheme")
    third = commands.add_parser("styles", help="print the styles of a file, and how often each is used")
    third.add_argument("file", type=Path)
    third.add_argument("--json", action="store_true", help="as JSON")
    second = commands.add_parser("convert", help="write a file as PDF or plain text")
    second.add_argument("file", type=Path)
    second.add_argument("out", type=Path)
    second.add_argument("--no-contents", action="store_true", help="place no contents table in front")
    given = parser.parse_args(arguments)
    try:
        if given.command == "outline":
            print(show_outline(given.file, given.json, given.numbers), flush=True)
        elif given.command == "styles":
            print(show_styles(given.file, given.json), flush=True)
        else:
            convert(given.file, given.out, not given.no_contents)
    except BrokenPipeError:
        # Whoever reads the output may stop reading, as "head" does; what is left to flush goes nowhere.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    except Unusable as error:
        print(" ".join(str(error).split()), file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
