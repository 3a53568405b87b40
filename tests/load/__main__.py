"""``python -m tests.load``: what holds when many people write in one report, on a real server.

``soak``: twenty authors type, move, mark, delete and undo in the Quillmere report; connections are cut or go silent, and
the server is killed, at random. At the end all must have the same text, with every confirmed edit in it.
``moving``: ten authors move sections and write in them, likewise; each confirmed word must stand there, or be kept.
``people``: fifty only type, and how long it takes until each key is stored is printed.
``openings``: reports are opened and left, again and again; the server must end with what it had after the first round.
``odd``: updates, presences, frames and files as nobody should send them. Exit code 1 if anything is lost or goes wrong.
"""

from __future__ import annotations

import argparse
import random
import shutil
import statistics
import sys
import time
from collections import Counter
from types import ModuleType

import django
from django.apps import apps

from tests.load.server import Authors, Line, Server, folder

WANTED_MEMORY = 400.0
"""Megabytes of the server that are not to be passed, however long it runs."""


WANTED_HANDLES, WANTED_THREADS = 200, 100
"""What it may have open for twenty authors of one report."""


def main() -> int:
    parser = argparse.ArgumentParser(prog="load", description=__doc__, formatter_class=argparse.RawTextHelpFormatter)
    parser.add_argument("part", nargs="*", help="soak, moving, people, openings, odd; all if none is named")
    parser.add_argument("--minutes", type=float, default=5, help="length of the soak")
    parser.add_argument("--kills", type=float, default=0.05, help="chance of a kill, every other second")
    parser.add_argument("--people", type=int, default=50, help="how many type")
    parser.add_argument("--rounds", type=int, default=6, help="how often forty reports are opened")
    parser.add_argument("--times", type=int, default=2000, help="how many odd things of each kind")
    parser.add_argument("--seed", type=int, default=None, help="repeats the same choices")
    given = parser.parse_args()
    if unknown := set(given.part) - {"soak", "moving", "people", "openings", "odd"}:
        parser.error(f"there is no part “{unknown.pop()}”: name soak, moving, people, openings or odd")
    faults: list[str] = []
    if "soak" in given.part or not given.part:
        faults += soak(given.minutes, given.seed or random.randrange(10**6), given.kills)
    if "moving" in given.part or not given.part:
        faults += soak(min(given.minutes, 1), given.seed or random.randrange(10**6), given.kills, moving=True)
    if "people" in given.part or not given.part:
        faults += people(given.people)
    if "openings" in given.part or not given.part:
        faults += openings(given.rounds)
    if "odd" in given.part or not given.part:
        faults += _odd(given.times, given.seed or random.randrange(10**6))
    for fault in faults:
        print(f"FAULT  {fault}")
    return 1 if faults else 0


def _odd(times: int, seed: int) -> list[str]:
    print(f"Odd: {times} of each kind, seed {seed}", flush=True)
    data = folder()
    _reports()
    from tests.load.odd import odd

    return odd(times, seed, data)


def soak(minutes: float, seed: int, kills: float, moving: bool = False) -> list[str]:
    count = 10 if moving else 20
    print(f"{'Moving sections' if moving else 'Soak'}: {count} authors, {minutes:g} min, seed {seed}", flush=True)
    chance = random.Random(seed)
    data = folder()
    reports = _reports()
    report, sessions = reports.prepare(count, data)
    server = Server(data)
    line = Line(server)
    authors = Authors(
        host=f"127.0.0.1:{line.port}",
        report=report,
        sessions=sessions,
        pace=700,
        typing=False,
        moving=moving,
        seed=seed,
    )
    done: Counter[str] = Counter()
    peak = 0.0
    most_handles = most_threads = 0
    end = time.monotonic() + 60 * minutes
    try:
        while time.monotonic() < end:
            time.sleep(chance.uniform(0.5, 2.5))
            peak = max(peak, server.memory())
            most_handles, most_threads = max(most_handles, server.handles()), max(most_threads, server.threads())
            what = chance.random()
            if what < kills:
                server.kill()
                time.sleep(chance.uniform(0, 2))
                server.start()
                done["kills"] += 1
            elif what < 0.45:
                line.cut(chance)
                done["connections cut"] += 1
            elif what < 0.48:
                line.silence(chance)
                done["connections gone silent"] += 1
        found = authors.ask("rest")
        peak = max(peak, server.memory())
    finally:
        authors.close()
        server.kill()
    stored, others = found["stored"], found["others"]
    lost, twice, faults = reports.examine(report, found)
    _show("edits", found["edits"])
    _show("updates confirmed", found["confirmed"])
    _show("confirmed and lost", lost)
    _show("words that stand there more than once", twice)
    for name in ("kills", "connections cut", "connections gone silent"):
        _show(name, done[name])
    _show("key until stored, p50 / p95 ms", _times(stored))
    _show("key until in another's browser, p50 / p95 ms", _times(others))
    _show("server memory, at most", f"{peak:.0f} MB")
    _show("server: handles and threads, at most", f"{most_handles} / {most_threads}")
    if peak > WANTED_MEMORY:
        faults.append(f"The server took {peak:.0f} MB.")
    if most_handles > WANTED_HANDLES or most_threads > WANTED_THREADS:
        faults.append(f"The server had {most_handles} handles and {most_threads} threads.")
    faults += _errors(data)
    shutil.rmtree(data, ignore_errors=True)
    return faults


def people(count: int) -> list[str]:
    """How long it takes until each key of so many people is stored, at a key every 250 ms each."""
    print(f"{count} people typing", flush=True)
    data = folder()
    reports = _reports()
    report, sessions = reports.prepare(count, data)
    server = Server(data)
    authors = Authors(host=f"127.0.0.1:{server.port}", report=report, sessions=sessions, pace=250, typing=True, seed=1)
    try:
        time.sleep(12)
        authors.ask("figures")  # coming in is not measured
        before, start = server.processor(), time.monotonic()
        time.sleep(30)
        found = authors.ask("figures")
        busy = (server.processor() - before) / (time.monotonic() - start)
        memory = server.memory()
        last = authors.ask("rest")
    finally:
        authors.close()
        server.kill()
    _show("keys a second", f"{len(found['stored']) / 30:.0f}")
    _show("key until stored, p50 / p95 ms  (wanted for 50: 60 / 300)", _times(found["stored"]))
    _show("key until in another's browser, p50 / p95 ms", _times(found["others"]))
    _show("server: processor, memory", f"{100 * busy:.0f} % of a core, {memory:.0f} MB")
    lost, _, faults = reports.examine(report, last)
    _show("confirmed and lost", lost)
    shutil.rmtree(data, ignore_errors=True)
    return faults


def openings(rounds: int) -> list[str]:
    """What opening and leaving reports leaves behind in the server."""
    print(f"Openings: 40 reports, {rounds} rounds", flush=True)
    data = folder()
    reports = _reports()
    report, (session,) = reports.prepare(1, data)
    keys = [report, *reports.make_more(39)]
    server = Server(data)
    from tests.load.odd import Browser

    counts: list[tuple[int, int, float]] = []
    try:
        for _ in range(rounds):
            for key in keys:
                browser = Browser(server.port, key, session)
                browser.text()
                browser.socket.close()
            time.sleep(3)  # rooms close in threads of their own
            counts.append((server.handles(), server.threads(), server.memory()))
    finally:
        server.kill()
    faults = []
    # Memory that has been given back is not always the system's again: it may grow by a tenth.
    for what, first, last, room in zip(
        ("handles", "threads", "MB"), counts[1], counts[-1], (8, 4, 0.1 * counts[1][2]), strict=True
    ):
        _show(f"{what} after the second and the last round", f"{first:.0f} / {last:.0f}")
        if last > first + room:
            faults.append(f"The server had {first:.0f} {what} after two rounds, and {last:.0f} after {rounds}.")
    faults += _errors(data)
    shutil.rmtree(data, ignore_errors=True)
    return faults


def _reports() -> ModuleType:
    """What is done with the database: its place must be chosen before Django is set up."""
    if not apps.ready:
        django.setup()
    from tests.load import reports

    return reports


def _errors(data) -> list[str]:
    """What the server's log says of faults."""
    lines = (data / "log").read_text().splitlines()
    found = Counter(line for line in lines if line.endswith(("Error", "Exception")) or "Error:" in line)
    return [f"The server's log says, {count} times: {line}" for line, count in found.most_common(5)]


def _times(values: list[float]) -> str:
    if len(values) < 2:
        return "none"
    return f"{statistics.median(values):.0f} / {statistics.quantiles(values, n=20)[-1]:.0f}"


def _show(what: str, value: object) -> None:
    print(f"  {what:<62}{value:>20}", flush=True)


if __name__ == "__main__":
    sys.exit(main())
