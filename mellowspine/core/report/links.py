"""Addresses that a link in a text may lead to."""

from __future__ import annotations

from urllib.parse import urlsplit

_SCHEMES = ("http", "https", "mailto")


def safe_link(address: str) -> str | None:
    """The address if it is a web or mail address, else None: ``javascript:`` and its kin never become links."""
    address = address.strip()
    if len(address) > 2000 or any(c <= " " or c in '<>"\\^`{|}' or c == "\x7f" for c in address):
        return None
    try:
        parts = urlsplit(address)
    except ValueError:
        return None
    if parts.scheme.lower() not in _SCHEMES or not (parts.netloc or parts.scheme.lower() == "mailto"):
        return None
    return address
