"""What reading a file gives, and how it is refused."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import count
from typing import Literal

from ..report.report import Report
from .noted import NOTED

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


MOST_PLACES = 100
"""Places that are named of one kind of thing."""


@dataclass(frozen=True, slots=True)
class Note:
    """Something that a report does not have as the file has it, and how often it occurs there."""

    kind: str
    """One of ``NOTED``."""
    count: int
    details: tuple[str, ...] = ()
    """Which it is, in the file's own words."""
    places: tuple[str, ...] = ()
    """Ids of the blocks where it occurs, the first of them; none if it is about the whole file."""

    @property
    def what(self) -> str:
        return NOTED[self.kind].what.format(*self.details)

    @property
    def instead(self) -> str:
        """What became of it."""
        return NOTED[self.kind].instead.format(*self.details)

    @property
    def lost(self) -> bool:
        return NOTED[self.kind].lost

    @property
    def sentence(self) -> str:
        return f"{self.what}: {self.instead}"


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
    """Counts what a report does not have as the file has it."""

    def __init__(self) -> None:
        self.at = ""
        """The id of the block that is being read; empty for the file as a whole."""
        self._counts: Counter[tuple[str, tuple[str, ...]]] = Counter()
        self._places: dict[tuple[str, tuple[str, ...]], dict[str, None]] = {}

    def add(self, kind: str, *details: str) -> None:
        """Counts a thing of a kind of ``NOTED``; ``details`` say which, where the kind does not by itself."""
        key = kind, details
        self._counts[key] += 1
        places = self._places.setdefault(key, {})
        if self.at and len(places) < MOST_PLACES:
            places[self.at] = None

    def merge(self, notes: Iterable[Note]) -> None:
        """Counts what was noted of a part, where that stands."""
        for note in notes:
            key = note.kind, note.details
            self._counts[key] += note.count
            self._places.setdefault(key, {}).update(dict.fromkeys(note.places or ((self.at,) if self.at else ())))

    def all(self) -> tuple[Note, ...]:
        """The most frequent first."""
        return tuple(
            Note(kind, times, details, tuple(self._places[kind, details]))
            for (kind, details), times in self._counts.most_common()
        )


def new_ids(prefix: str = "b") -> Iterator[str]:
    """Block ids for a report that is being made."""
    return (f"{prefix}{number:05}" for number in count(1))
