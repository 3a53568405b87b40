"""Addresses that a link in a text may lead to: the same as in browsers (``text-leaf/links.ts``), by the cases of one file."""

from __future__ import annotations

import re

from .elements import identifier

_OUTER = re.compile(r"(?:https?://[^/?#]|mailto:)", re.IGNORECASE | re.ASCII)
_IN_NO_ADDRESS = re.compile(r'[\x00- <>"\\^`{|}\x7f]')
"""RFC 3986, 2: none of these stands in an address."""
_LONGEST = 2000


def inner(address: str | None) -> str | None:
    """The id of the place in the report that an address leads to; None if it leads elsewhere."""
    return identifier(address[1:]) if address and address.startswith("#") else None


def safe_link(address: str) -> str | None:
    """The address if it is a web or mail address or leads to a place in the report, else None: ``javascript:`` and its kin
    never become links."""
    address = address.strip(" \t\r\n")
    if inner(address):
        return address
    is_outer = len(address) <= _LONGEST and _OUTER.match(address) and not _IN_NO_ADDRESS.search(address)
    return address if is_outer else None
