"""Links that lead to places within what is read."""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import unquote

from lxml.etree import _Element


def addresses_within(root: _Element) -> Mapping[_Element, str]:
    """By element the name of the place that its link leads to, where that is there as well.

    Browsers make addresses whole when something is copied: "#access" becomes "https://example.org/plan#access".
    """
    names = {name for one in root.iter("*") for name in (one.get("id"), one.get("name")) if name}
    found: dict[_Element, str] = {}
    for link in root.iter("a"):
        before, sign, name = (link.get("href") or "").partition("#")
        if sign and (name := unquote(name)) in names and (not before or "/" in before):
            found[link] = name
    return found
