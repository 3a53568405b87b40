"""What reading a file gives, and how it is refused."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from itertools import count
from typing import Literal

from ..report.report import Report

Progress = Callable[[int, int], None]
"""Called with the steps done and the steps in all; may raise to stop the work."""


def unhurried(done: int, total: int) -> None:
    """The progress nobody watches."""


Keep = Literal["structure", "looks"]
"""What comes along of what is put into a text: structure and emphasis alone; or also faces, sizes, colours and alignment."""


class FileRefused(ValueError):
    """A file cannot be read. The message is one sentence for the person: what is wrong and what to do."""


MOST_BLOCKS = 100_000
"""Blocks of one report, rows of data tables included: some 10,000 pages."""


def refuse_too_many(count: int) -> None:
    """Raises FileRefused for more paragraphs than a report can have."""
    if count > MOST_BLOCKS:
        raise FileRefused(f"The file has more than {MOST_BLOCKS:,} paragraphs; bring it in in parts.")


@dataclass(frozen=True, slots=True)
class Note:
    """Something that was not understood: what it is, what became of it, and how often it occurred."""

    what: str
    count: int


@dataclass(frozen=True, slots=True)
class Imported:
    report: Report
    pictures: Mapping[str, bytes]
    """The pictures' files by the ``source`` of the image blocks."""
    notes: tuple[Note, ...] = ()
    named: frozenset[str] = frozenset()
    """Ids of blocks that the file names by itself, and will name so in its other versions."""


Reader = Callable[[bytes, str, Progress, Mapping[str, bytes]], Imported]
"""Takes the file's bytes, its name without ending, a progress, and the files beside it by name."""


class Notes:
    """Counts what was not understood."""

    def __init__(self) -> None:
        self._counts: Counter[str] = Counter()

    def add(self, what: str, times: int = 1) -> None:
        self._counts[what] += times

    def all(self) -> tuple[Note, ...]:
        return tuple(Note(what, times) for what, times in self._counts.most_common())


def new_ids(prefix: str = "b") -> Iterator[str]:
    """Block ids for a report that is being made."""
    return (f"{prefix}{number:05}" for number in count(1))
