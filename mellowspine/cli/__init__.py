"""``mellow``: the core from the command line, for scripts. A command is a file beside this one."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Iterable
from importlib import import_module
from pathlib import Path

from .shared import Command, Outcome, Unusable

COMMANDS = (
    "outline", "contents", "behind", "compare", "places", "authorities", "index", "styles", "notes", "convert", "mark", "check",
)  # fmt: skip
"""Each a module beside this one."""


def command_of(name: str) -> Command:
    found: Command = import_module(f".{name}", __name__).COMMAND
    return found


def _parser(names: Iterable[str]) -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="mellow", description="Headings, pages and contents of long reports.")
    commands = parser.add_subparsers(dest="command", required=True)
    for command in map(command_of, names):
        made = commands.add_parser(command.name, help=command.help)
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
    # Only what is asked for is loaded: all of it takes longer than a short file does.
    given = _parser(said[:1] if said[:1] and said[0] in COMMANDS else COMMANDS).parse_args(said)
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
