"""``python -m tests.load``: what holds when many people write in one report, on a real server.

``soak``: twenty authors type, move, mark, delete and undo in the Quillmere report; connections are cut or go silent, and
the server is killed, at random. At the end all must have the same text, with every confirmed edit in it.
``people``: fifty only type, and how long it takes until each key is stored is printed. Exit code 1 if anything is lost.
"""

from __future__ import annotations

import argparse
import random
import shutil
import statistics
import sys
import time
from collections import Counter

from tests.load.server import Authors, Line, Server, folder

WANTED_MEMORY = 400.0
"""Megabytes of the server that are not to be passed, however long it runs."""


def main() -> int:
    parser = argparse.ArgumentParser(prog="load", description=__doc__, formatter_class=argparse.RawTextHelpFormatter)
    parser.add_argument("part", nargs="*", help="soak, people; both if none is named")
    parser.add_argument("--minutes", type=float, default=5, help="length of the soak")
    parser.add_argument("--kills", type=float, default=0.05, help="chance of a kill, every other second")
    parser.add_argument("--people", type=int, default=50, help="how many type")
    parser.add_argument("--seed", type=int, default=None, help="repeats the same choices")
    given = parser.parse_args()
    if unknown := set(given.part) - {"soak", "people"}:
        parser.error(f"there is no part “{unknown.pop()}”: name soak or people")
    faults: list[str] = []
    if "soak" in given.part or not given.part:
        faults += soak(given.minutes, given.seed or random.randrange(10**6), given.kills)
    if "people" in given.part or not given.part:
        faults += people(given.people)
    for fault in faults:
        print(f"FAULT  {fault}")
    return 1 if faults else 0


def soak(minutes: float, seed: int, kills: float) -> list[str]:
    print(f"Soak: 20 authors, {minutes:g} min, seed {seed}", flush=True)
    chance = random.Random(seed)
    data = folder()
    report, sessions = _prepare(20)
    server = Server(data)
    line = Line(server)
    authors = Authors(
        host=f"127.0.0.1:{line.port}", report=report, sessions=sessions, pace=700, typing=False, seed=seed
    )
    done: Counter[str] = Counter()
    peak = early = 0.0
    end = time.monotonic() + 60 * minutes
    try:
        while time.monotonic() < end:
            time.sleep(chance.uniform(0.5, 2.5))
            peak = max(peak, server.memory())
            early = early or peak
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
    lost, faults = _examine(report, found)
    _show("edits", found["edits"])
    _show("updates confirmed", found["confirmed"])
    _show("confirmed and lost", lost)
    for name in ("kills", "connections cut", "connections gone silent"):
        _show(name, done[name])
    _show("key until stored, p50 / p95 ms", _times(stored))
    _show("key until in another's browser, p50 / p95 ms", _times(others))
    _show("server memory, at most", f"{peak:.0f} MB")
    if peak > WANTED_MEMORY:
        faults.append(f"The server took {peak:.0f} MB.")
    faults += _errors(data)
    shutil.rmtree(data, ignore_errors=True)
    return faults


def people(count: int) -> list[str]:
    """How long it takes until each key of so many people is stored, at a key every 250 ms each."""
    print(f"{count} people typing", flush=True)
    data = folder()
    report, sessions = _prepare(count)
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
    lost, faults = _examine(report, last)
    _show("confirmed and lost", lost)
    shutil.rmtree(data, ignore_errors=True)
    return faults


def _prepare(count: int) -> tuple[str, list[str]]:
    """The Quillmere report with so many authors; its key and a session for each."""
    import django
    from django.core.management import call_command

    if not django.apps.apps.ready:
        django.setup()
    from django.conf import settings
    from django.db import connection

    # Two parts in one process have a folder each.
    connection.close()
    connection.settings_dict["NAME"] = folder_now() / "mellowspine.sqlite3"
    call_command("migrate", verbosity=0)
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
    from django.contrib.auth.models import User
    from django.contrib.sessions.backends.db import SessionStore

    from demo.load import quillmere
    from mellowspine.server.shelf.models import Membership, Role
    from mellowspine.server.shelf.reports import make_report

    (folder_now() / "secret").write_text(settings.SECRET_KEY)
    users = [User.objects.create(username=f"author{number}") for number in range(count)]
    report = make_report(quillmere(), users[0])
    sessions = []
    for user in users:
        Membership.objects.get_or_create(report=report, person=user, defaults={"role": Role.EDITOR})
        session = SessionStore()
        session[SESSION_KEY] = str(user.pk)
        session[BACKEND_SESSION_KEY] = settings.AUTHENTICATION_BACKENDS[0]
        session[HASH_SESSION_KEY] = user.get_session_auth_hash()
        session.create()
        sessions.append(str(session.session_key))
    connection.close()
    return report.key, sessions


def folder_now():
    import os
    from pathlib import Path

    return Path(os.environ["MELLOW_DATA"])


def _examine(key: str, found: dict) -> tuple[int, list[str]]:
    """Opens what the server left on disk; how many confirmed edits are not in it, and what else is wrong."""
    from pycrdt import Doc, get_update, merge_updates

    from mellowspine.core.report.blocks import DataTable
    from mellowspine.server.rooms import text as text_module
    from mellowspine.server.rooms.document import read_block, text_of
    from mellowspine.server.rooms.models import Update
    from mellowspine.server.shelf.models import Report

    report = Report.objects.get(key=key)
    rows = [bytes(data) for data in Update.objects.filter(report=report).values_list("data", flat=True)]
    document: Doc = Doc()
    for data in rows:
        document.apply_update(data)
    faults = []
    if not found["same"]:
        faults.append(f"The authors' texts differ, {len(found['texts'])} of them: {Counter(found['lines'])}")
    clocks = text_module._clocks(document.get_state())
    lost = sum(clocks.get(client, 0) < clock for client, clock in found["clocks"])
    children = text_of(document).children
    text = "\n".join(str(child) for child in children)
    missing = [word for word in found["words"] if word not in text]
    if lost or missing:
        faults.append(
            f"Confirmed and not on disk: edits of {lost} authors; {len(missing)} words, such as {missing[:3]}"
        )
    if get_update(merge_updates(*rows), document.get_state())[0] != 0:
        faults.append("Part of the log hangs on something that is not there.")
    ids: Counter[str] = Counter()
    for index, child in enumerate(children):
        block = read_block(child, index)
        ids[block.id] += 1
        if isinstance(block, DataTable):
            ids.update(p.id for row in block.rows for cell in row for p in cell.paragraphs)
    if twice := [id for id, count in ids.items() if count > 1]:
        faults.append(f"{len(twice)} ids stand twice: {twice[:5]}")
    if len(rows) > 2 * text_module.COMPACT_AFTER:
        faults.append(f"{len(rows)} rows of the log were left over.")
    return lost + len(missing), faults


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
