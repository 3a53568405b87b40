"""The report that is written in, before and after: what the database must hold, held against what the authors saw."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from difflib import unified_diff
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.auth.models import User
from django.contrib.sessions.backends.db import SessionStore
from django.core.management import call_command
from django.db import connection
from pycrdt import Doc, get_update, merge_updates

from demo.load import quillmere
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.elements import names
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.kinds import pages_of
from mellowspine.server.rooms import text as text_module
from mellowspine.server.rooms.document import read_block, text_of
from mellowspine.server.rooms.followers.pages import shown_edges
from mellowspine.server.rooms.kept import written_of
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.models import KeptWords, Update
from mellowspine.server.shelf.models import Membership, Report, Role
from mellowspine.server.shelf.reports import without_text


def prepare(count: int, data: Path) -> tuple[str, list[str]]:
    """The Quillmere report with so many authors, in a folder of data; its key and a session for each."""
    # Two parts in one process have a folder each.
    connection.close()
    connection.settings_dict["NAME"] = data / "mellowspine.sqlite3"
    call_command("migrate", verbosity=0)
    (data / "secret").write_text(settings.SECRET_KEY)
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


def make_more(count: int) -> list[str]:
    """So many more reports of the first author, as large as the one there is; their keys."""
    first = User.objects.get(username="author0")
    keys = [make_report(quillmere(), first).key for _ in range(count)]
    connection.close()
    return keys


def examine(key: str, found: dict[str, Any]) -> tuple[int, int, list[str]]:
    """How many confirmed edits are not on disk, how many words stand there more than once, and what else is wrong with what the server left or had shown."""
    report = Report.objects.get(key=key)
    rows = [bytes(data) for data in Update.objects.filter(report=report).values_list("data", flat=True)]
    document: Doc = Doc()
    for data in rows:
        document.apply_update(data)
    faults = []
    if not found["same"]:
        faults.append(f"The authors' texts differ, {len(found['texts'])} of them: {Counter(found['lines'])}")
        first, *others = (one.split("\n") for one in found["texts"])
        for other in others:
            differs = [*unified_diff(first, other, "one browser", "another", lineterm="", n=0)]
            faults.append("\n".join(line[:400] for line in differs[:40]))
    if left_out := found["leftOut"]:
        faults.append(f"Left out of what authors wrote, {len(left_out)} times: {left_out[:3]}")
    clocks = text_module._clocks(document.get_state())
    lost = sum(clocks.get(client, 0) < clock for client, clock in found["clocks"])
    children = text_of(document).children
    text = "\n".join(str(child) for child in children)
    kept = "\n".join(written_of(row).text for row in KeptWords.objects.filter(report=report, settled_at=None))
    missing = [word for word in found["words"] if word.strip() not in text and word.strip() not in kept]
    if lost or missing:
        faults.append(
            f"Confirmed and not on disk: edits of {lost} authors; {len(missing)} words, such as {missing[:3]}"
        )
    if get_update(merge_updates(*rows), document.get_state())[0] != 0:
        faults.append("Part of the log hangs on something that is not there.")
    blocks = tuple(read_block(child, index) for index, child in enumerate(children))
    ids = Counter(name for block in blocks for name in names(block))
    if twice := [id for id, count in ids.items() if count > 1]:
        faults.append(f"{len(twice)} ids stand twice: {twice[:5]}")
    if len(rows) > 2 * text_module.COMPACT_AFTER:
        faults.append(f"{len(rows)} rows of the log were left over.")
    shown = replace(without_text(report), blocks=blocks)
    headings, pages = outline(shown), paginate(shown, Typefaces())
    labels = [pages.label(page) for page in pages_of(headings, pages)]
    wanted = {
        "headings": [[*heading[:4], label] for heading, label in zip(pages.worded, labels, strict=True)],
        "markers": dict(list_markers(shown)),
        "edges": [list(edge) for edge in shown_edges(pages)],
    }
    faults += [
        f"{name} shown and computed afresh differ" for name, value in wanted.items() if found["view"][name] != value
    ]
    return lost + len(missing), sum(text.count(word.strip()) > 1 for word in found["words"]), faults
