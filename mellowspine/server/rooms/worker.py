"""The one thread of a room: what is queued to it is done in turn."""

from __future__ import annotations

import logging
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import TypeVar

T = TypeVar("T")

log = logging.getLogger(__name__)


class Worker:
    def __init__(self, name: str) -> None:
        self._name = name
        self._thread = ThreadPoolExecutor(1, thread_name_prefix=name)
        self._queued: set[Callable[[], None]] = set()

    def do(self, work: Callable[[], T]) -> Future[T]:
        """Queues some work. Raises RuntimeError once the worker is closed."""
        return self._thread.submit(work)

    def soon(self, work: Callable[[], None]) -> None:
        """Does something once all that is queued by now is done; once, however often it is asked for until then."""
        if work in self._queued:
            return
        self._queued.add(work)

        def run() -> None:
            self._queued.discard(work)
            try:
                work()
            except Exception:
                log.exception("%s: %s failed", self._name, work.__qualname__)

        try:
            self._thread.submit(run)
        except RuntimeError:
            self._queued.discard(work)  # closing: what must be done before the end has been queued by then

    def close(self) -> None:
        """Ends the thread, once all that is queued is done."""
        self._thread.shutdown(wait=True)
