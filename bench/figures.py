"""Timing and printing."""

from __future__ import annotations

import re
import statistics
import time
from collections.abc import Callable

from playwright.sync_api import Page


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


OVER: list[str] = []
"""What was over its target, as it was printed."""

_IN_MS = {"s": 1000.0, "ms": 1.0}


def show(what: str, value: str, wanted: str = "") -> None:
    """Prints a figure; ``wanted`` says "at most" so much, of the last figure if there are two."""
    line = f"{what:<76} {value:>16}   {wanted}"
    print(line, flush=True)
    limit, found = _amount(wanted.rpartition("at most")[2]) if "at most" in wanted else None, _amount(value)
    if limit is not None and found is not None and found > limit:
        OVER.append(line)


def _amount(said: str) -> float | None:
    """The last figure of what is said, in milliseconds where it is a time."""
    if not (found := re.findall(r"(\d[\d,]*(?:\.\d+)?)\s*([a-zA-Z%]*)", said)):
        return None
    figure, unit = found[-1]
    return float(figure.replace(",", "")) * _IN_MS.get(unit, 1.0)


def show_over() -> None:
    print("\nOver its target:" if OVER else "\nNothing is over its target.")
    for line in OVER:
        print(line)


def watch(page: Page) -> None:
    """Notes from now on when the browser was busy last: a frame that took longer than 50 ms (W3C, Long Tasks)."""
    page.evaluate(
        """() => { window.busy = performance.now();
        new PerformanceObserver(list => { for (const one of list.getEntries()) window.busy = one.startTime + one.duration })
          .observe({entryTypes: ['longtask']}) }"""
    )


def busy_until(page: Page) -> float:
    """Waits until the browser has been quiet for a second; when it was busy last, in milliseconds of the page's own clock."""
    for _ in range(100):
        time.sleep(0.3)
        if page.evaluate("performance.now() - window.busy") > 1000:
            break
    return float(page.evaluate("window.busy"))
