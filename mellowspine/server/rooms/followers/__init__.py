"""What follows from a report: structure, pages, tables. One follower for each thing that is computed, a module a subject.

To add one: write it in the module of its subject, with a description of what browsers are shown of it (``shown.py``), and
run ``make types``. The browser then holds it in its view, under the follower's name.
"""

from __future__ import annotations

from typing import Any

from . import by_hand, checkup, occurrences, pages, places, structure, tables
from .round import Follower, Known

FOLLOWERS: dict[str, Follower] = {
    follower.name: follower
    for subject in (structure, pages, places, occurrences, tables, by_hand, checkup)
    for follower in subject.FOLLOWERS
}


def changes(old: Known, new: Known) -> dict[str, Any]:
    """What brings a browser that was shown ``old`` up to ``new``, by name; nothing where nothing differs."""
    found = {
        name: follower.shown.changes(old[name].value if name in old else follower.shown.empty, new[name].value)
        for name, follower in FOLLOWERS.items()
        if follower.shown and name in new
    }
    return {name: value for name, value in found.items() if value is not None}
