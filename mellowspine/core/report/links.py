"""Addresses that a link in a text may lead to."""

from __future__ import annotations

from urllib.parse import urlsplit

from .elements import identifier

_SCHEMES = ("http", "https", "mailto")


def inner(address: str | None) -> str | None:
    """The id of the place in the report that an address leads to; None if it leads elsewhere."""
    return identifier(address[1:]) if address and address.startswith("#") else None


def safe_link(address: str) -> str | None:
    """The address if it is a web or mail address or leads to a place in the report, else None: ``javascript:`` and its kin
    never become links."""
    address = address.strip()
    if inner(address):
        return address
    if len(address) > 2000 or any(c <= " " or c in '<>"\\^`{|}' or c == "\x7f" for c in address):
        return None
    try:
        parts = urlsplit(address)
    except ValueError:
        return None
    if parts.scheme.lower() not in _SCHEMES or not (parts.netloc or parts.scheme.lower() == "mailto"):
        return None
    return address
