"""Stretches of text with the same marks: what readers of formats do with them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import groupby

from ..report.blocks import Run


def join_runs(runs: Sequence[Run]) -> tuple[Run, ...]:
    """The same text with neighbours of equal marks joined and empty runs left out."""
    together = (list(alike) for _, alike in groupby((run for run in runs if run.text), key=lambda run: run.marks))
    return tuple(
        alike[0] if len(alike) == 1 else Run("".join(run.text for run in alike), alike[0].marks) for alike in together
    )


def without_start(runs: Sequence[Run], count: int) -> tuple[Run, ...]:
    """The runs without their first characters."""

    def rest() -> Iterator[Run]:
        left = count
        for run in runs:
            if left < len(run.text):
                yield replace(run, text=run.text[left:]) if left > 0 else run
            left -= len(run.text)

    return tuple(rest())
