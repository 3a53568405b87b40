"""Long work with progress that can be cancelled. Jobs live in this process, each in a thread of its own."""

from __future__ import annotations

import logging
import secrets
import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.db import connection

from mellowspine.core.formats.imported import FileRefused, Progress

log = logging.getLogger(__name__)

KEPT = 600.0
"""Seconds for which a finished job can be asked for."""
MOST_AT_ONCE = 3
"""Jobs that one person may have running."""


class Cancelled(Exception):
    """The person stopped the job."""


@dataclass
class Job:
    owner: int
    key: str = field(default_factory=lambda: secrets.token_urlsafe(12))
    done: int = 0
    total: int = 1
    state: str = "running"
    message: str = ""
    result: Any = None
    cancelled: threading.Event = field(default_factory=threading.Event)
    end: threading.Timer | None = None
    """What forgets it in time, once it is done."""

    def progress(self, done: int, total: int) -> None:
        if self.cancelled.is_set():
            raise Cancelled
        self.done, self.total = done, max(total, 1)


class Jobs:
    def __init__(self) -> None:
        self._jobs: dict[str, Job] = {}
        self._lock = threading.Lock()

    def start(self, owner: int, work: Callable[[Progress], Any]) -> Job | None:
        """Starts a job; None if the person has too many running already."""
        with self._lock:
            if sum(j.owner == owner and j.state == "running" for j in self._jobs.values()) >= MOST_AT_ONCE:
                return None
            job = Job(owner)
            self._jobs[job.key] = job
        threading.Thread(target=self._run, args=(job, work), daemon=True).start()
        return job

    def find(self, key: str, owner: int) -> Job | None:
        job = self._jobs.get(key)
        return job if job and job.owner == owner else None

    def _forget_in_time(self, job: Job) -> None:
        """A file that was made is kept for a while, for who asked for it; of each person's the last few."""
        with self._lock:
            done = [one for one in self._jobs.values() if one.owner == job.owner and one.state != "running"]
            for one in done[:-MOST_AT_ONCE]:
                self._jobs.pop(one.key, None)
                if one.end:
                    one.end.cancel()  # each waits in a thread of its own
        job.end = threading.Timer(KEPT, self._jobs.pop, (job.key, None))
        job.end.daemon = True
        job.end.start()

    def _run(self, job: Job, work: Callable[[Progress], Any]) -> None:
        try:
            job.result = work(job.progress)
            job.done, job.total = job.total, job.total
            job.state = "done"
        except Cancelled:
            job.state = "cancelled"
        except FileRefused as refusal:
            job.message, job.state = str(refusal), "refused"
        except Exception:
            log.exception("A job failed")
            job.message = "This did not work, through a fault of ours; nothing was changed. Try again."
            job.state = "refused"
        finally:
            connection.close()
            self._forget_in_time(job)


jobs = Jobs()
