"""``mellow``: the core from the command line, for scripts. A command is a file beside this one."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from . import authorities, behind, check, compare, contents, convert, index, mark, notes, outline, places, styles
from .shared import Outcome, Unusable

COMMANDS = tuple(
    module.COMMAND
    for module in (outline, contents, behind, compare, places, authorities, index, styles, notes, convert, mark, check)
)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="mellow", description="Headings, pages and contents of long reports.")
    commands = parser.add_subparsers(dest="command", required=True)
    for command in COMMANDS:
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
    given = _parser().parse_args(arguments)
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
