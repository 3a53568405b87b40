"""HTML as a tree, whatever was written: parsed by ``lxml``."""

from __future__ import annotations

import re

from lxml import etree
from lxml.etree import _Element

from ..imported import FileRefused
from ..text import decode, without_controls

_CHARSET = re.compile(rb"<meta[^>]{1,200}?charset\s*=\s*[\"']?\s*([\w-]{3,20})", re.IGNORECASE)


def decoded(data: bytes) -> str:
    """The text of a file, in the encoding that it names, or as plain text is read. Raises FileRefused for what is no text."""
    named = _CHARSET.search(data[:4096])
    if named and not data.startswith((b"\xff\xfe", b"\xfe\xff", b"\xef\xbb\xbf")):
        try:
            return without_controls(data.decode(named[1].decode()))
        except (LookupError, UnicodeDecodeError):
            pass  # it names none that there is, or another than its own
    return decode(data)


def parsed(text: str) -> _Element | None:
    """The root; None for what holds nothing. Raises FileRefused for what is nested too deep to be read: 2,048 elements."""
    parser = etree.HTMLParser(encoding="utf-8", huge_tree=True, remove_pis=True, no_network=True)
    root = etree.fromstring(text.encode("utf-8", "replace"), parser) if text.strip() else None
    # The library reads no further there, and says so in its log alone.
    if any("depth" in one.message for one in parser.error_log):
        raise FileRefused("The HTML is nested too deep to be read; save it as plain text.")
    return root


def text_in(element: _Element) -> str:
    """All text in an element as it stands there."""
    return etree.tostring(element, method="text", encoding="unicode", with_tail=False)


def words_of(element: _Element) -> str:
    """All words in an element, with single spaces."""
    return " ".join(text_in(element).split())
