"""Jobs: what of them stays in memory, and for how long."""

from __future__ import annotations

import threading
import time
from unittest import TestCase, mock

from mellowspine.server import jobs as module
from mellowspine.server.jobs import MOST_AT_ONCE, Job, Jobs


def done(job: Job | None) -> Job:
    assert job
    for _ in range(200):
        if job.end:
            return job
        time.sleep(0.01)
    raise AssertionError("it does not end")


class Kept(TestCase):
    def test_of_each_person_the_last_few_files_and_no_thread_for_those_that_are_gone(self) -> None:
        jobs = Jobs()
        others = done(jobs.start(2, lambda progress: b"theirs"))
        before = threading.active_count()
        made = [done(jobs.start(1, lambda progress: b"file")) for _ in range(MOST_AT_ONCE + 5)]
        self.assertEqual([jobs.find(one.key, 1) is not None for one in made], [False] * 5 + [True] * MOST_AT_ONCE)
        self.assertIsNotNone(jobs.find(others.key, 2))
        for _ in range(200):
            if threading.active_count() <= before + MOST_AT_ONCE:
                break
            time.sleep(0.01)
        self.assertLessEqual(threading.active_count(), before + MOST_AT_ONCE)

    def test_a_file_goes_in_time(self) -> None:
        jobs = Jobs()
        with mock.patch.object(module, "KEPT", 0.1):
            job = done(jobs.start(1, lambda progress: b"file"))
        self.assertIsNotNone(jobs.find(job.key, 1))
        time.sleep(0.5)
        self.assertIsNone(jobs.find(job.key, 1))
