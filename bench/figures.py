"""Timing and printing."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def seconds(work: Callable[[], object], times: int = 1) -> float:
    """The median time of some runs."""
    runs = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        runs.append(time.perf_counter() - start)
    return statistics.median(runs)


def p95(values: list[float]) -> float:
    return statistics.quantiles(values, n=20)[-1]


def show(what: str, value: str, wanted: str = "") -> None:
    print(f"{what:<76} {value:>16}   {wanted}", flush=True)
