"""Timing and printing."""

from __future__ import annotations

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


def show(what: str, value: str, wanted: str = "") -> None:
    print(f"{what:<76} {value:>16}   {wanted}", flush=True)


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
