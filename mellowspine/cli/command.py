"""What a command is: known without anything of the core, so that what there is can be said at once."""

from __future__ import annotations

import json
from argparse import ArgumentParser, Namespace
from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple


class Unusable(Exception):
    """A file cannot be read or written; the message is one line."""


class Outcome(NamedTuple):
    """What a command prints, and its exit code."""

    said: str
    code: int


@dataclass(frozen=True, slots=True)
class Command:
    """A command over a file: ``arguments`` adds its own to those that all have, ``run`` raises Unusable."""

    run: Callable[[Namespace], str | Outcome | None]
    arguments: Callable[[ArgumentParser], object] = lambda parser: None
    prints: bool = True
    """Whether it prints something, which can be had as JSON."""


def in_json(found: object) -> str:
    """What was found, as programs read it."""
    return json.dumps(found, ensure_ascii=False, indent=1)
