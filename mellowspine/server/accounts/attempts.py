"""How often somebody has tried to sign in with a wrong password, in the memory of this process."""

from __future__ import annotations

import hashlib
from contextlib import suppress

from django.core.cache import cache

WITHIN = 300
"""Seconds after which a wrong password is forgotten."""

MOST_FOR_ONE = 10
"""Wrong passwords for one name from one address."""
MOST = 100
"""Wrong passwords for one name from anywhere, or for any names from one address."""


def _counters(name: str, address: str) -> dict[str, int]:
    name = name.casefold()[:150]
    # As a cache's key has to be short and of plain characters.
    keys = {repr(("for", name, address)): MOST_FOR_ONE, repr(("name", name)): MOST, repr(("address", address)): MOST}
    return {
        f"attempts-{hashlib.sha256(key.encode('utf-8', 'replace')).hexdigest()}": most for key, most in keys.items()
    }


def too_many(name: str, address: str) -> bool:
    """Whether no further password is to be tried now."""
    return any(cache.get(key, 0) >= most for key, most in _counters(name, address).items())


def note_wrong(name: str, address: str) -> None:
    for key in _counters(name, address):
        if not cache.add(key, 1, WITHIN):
            with suppress(ValueError):  # forgotten just now
                cache.incr(key)
