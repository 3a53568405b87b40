"""``mellow``: the core from the command line, for scripts. A command is a file beside this one."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Mapping
from importlib import import_module
from pathlib import Path

from .command import Command, Outcome, Unusable

COMMANDS: Mapping[str, str] = {
    "outline": "print the headings of a file with level, text and page",
    "contents": "print the contents of a file",
    "behind": "print how far the contents of a file are behind another version of it; exit code 1 if they are",
    "compare": "print what happened to the sections from a file to another version of it; exit code 1 if anything did",
    "places": "print what links and references can lead to, and those that there are; exit code 1 if any leads nowhere",
    "authorities": "print what a file cites, by category, with the pages",
    "index": "print the alphabetical index of the terms that are marked in a file",
    "styles": "print the styles of a file, and how often each is used",
    "notes": "print what of a file is left out or kept in another form, how often and where; exit code 1 if anything is left out",
    "convert": "write a file in another format, or a section or the tables of it",
    "catch-up": "write a file with its tables level with its text",
    "mark": "mark headings that are made by hand, and write the file",
    "check": "print what is wrong with the structure of a file; exit code 1 if anything is",
}
"""What each does; a module beside this one, loaded when it is asked for: all of them take longer than a short file does."""


def command_of(name: str) -> Command:
    found: Command = import_module(f".{name.replace('-', '_')}", __name__).COMMAND
    return found


def _parser(asked: str | None) -> argparse.ArgumentParser:
    """For all commands; only what is ``asked`` for is told what else it takes."""
    parser = argparse.ArgumentParser(prog="mellow", description="Headings, pages and contents of long reports.")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, does in COMMANDS.items():
        made = commands.add_parser(name, help=does)
        if name != asked:
            continue
        command = command_of(name)
        made.add_argument("file", type=Path)
        command.arguments(made)
        if command.prints:
            made.add_argument("--json", action="store_true", help="as JSON")
        made.set_defaults(run=command.run)
    return parser


def main(arguments: list[str] | None = None) -> int:
    """Runs a command. Returns 0; 1 if a check-up has findings, something of a file is left out, a link is broken, contents are behind or something happened to sections; or 2, with one line on
    standard error, for a file that cannot be used."""
    said = sys.argv[1:] if arguments is None else arguments
    # What is made of a file lives until the command ends: looking for garbage in it takes a quarter of the time, and finds none.
    gc.set_threshold(100_000, 50, 50)
    given = _parser(said[0] if said else None).parse_args(said)
    code = 0
    try:
        outcome = given.run(given)
        if isinstance(outcome, Outcome):
            outcome, code = outcome
        if outcome is not None:
            print(outcome, flush=True)
    except BrokenPipeError:
        # Whoever reads the output may stop reading, as "head" does; what is left to flush goes nowhere.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    except Unusable as error:
        print(" ".join(str(error).split()), file=sys.stderr)
        return 2
    return code
