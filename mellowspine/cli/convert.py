"""``mellow convert``: a file in another format."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path

from .shared import Command, format_of, opened, write


def convert(file: Path, out: Path, contents: bool) -> None:
    """Writes a file in the format of ``out``'s ending, with contents in front unless it has some or has no headings, ``contents`` is false or
    the format has no pages to say."""
    format = format_of(out)
    write(opened(file), out, contents and not format.pictures_beside)


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("out", type=Path)
    parser.add_argument("--no-contents", action="store_true", help="place no contents table in front")


COMMAND = Command(
    "convert",
    "write a file as PDF, Markdown or plain text",
    lambda given: convert(given.file, given.out, not given.no_contents),
    _arguments,
    prints=False,
)
