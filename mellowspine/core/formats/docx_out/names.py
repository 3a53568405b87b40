"""Bookmarks of a document that is written (ISO/IEC 29500-1, 17.13.6): what places, and what is marked, are called in it.

A name begins with a letter, or with ``_`` where people are not to see it, has letters, digits and ``_``, and is at most 40 characters
long. Where a place has its id from the name that a file gave it, it is called so again: a file that comes back keeps its names.
"""

from __future__ import annotations

import re
from hashlib import sha256
from typing import Final

from lxml.etree import _Element

from ...report.blocks import Bookmark
from .xml import made

LONGEST = 40
_OUTSIDE = re.compile(r"[^A-Za-z0-9_]")
_NAME = re.compile(r"[^\W\d]\w{0,39}")

PLACE: Final = "_n"
"""What the hidden names of paragraphs begin with; of words that cite or are indexed: ``docx/marks.py``."""


class Names:
    """The names of bookmarks, each for one thing, and the numbers under which they begin and end."""

    def __init__(self) -> None:
        self._names: dict[tuple[str, str], str] = {}
        self._taken: set[str] = set()
        self._count = 0

    def place(self, id: str, part: str = "") -> str:
        """That of a paragraph by its id, or of a ``part`` of it, such as its number."""
        own = id[2:] if id.startswith("n-") and _NAME.fullmatch(id[2:]) else f"{PLACE}{_OUTSIDE.sub('_', id)}"
        return self._name(("place", id + part), own + part)

    def bookmark(self, mark: Bookmark) -> str:
        wanted = mark.id[2:] if mark.id.startswith("m-") and _NAME.fullmatch(mark.id[2:]) else mark.name
        plain = re.sub(r"\W+", "_", wanted).strip("_")
        return self._name(("place", mark.id), plain if _NAME.fullmatch(plain) else f"b_{plain}"[:LONGEST])

    def marked(self, kind: str, id: str) -> str:
        """That of words by the id of their mark; ``kind`` is ``CITED`` or ``INDEXED``."""
        return self._name((kind, id), f"{kind}{_OUTSIDE.sub('_', id)}")

    def _name(self, key: tuple[str, str], wanted: str) -> str:
        if key not in self._names:
            name = wanted
            if len(name) > LONGEST or name.casefold() in self._taken:
                name = f"{wanted[: LONGEST - 11]}_{sha256(' '.join(key).encode()).hexdigest()[:10]}"
            self._names[key] = name
            self._taken.add(name.casefold())
        return self._names[key]

    def around(self, name: str) -> tuple[_Element, _Element]:
        """Where a bookmark begins and where it ends."""
        self._count += 1
        return (
            made("w:bookmarkStart", id=self._count, name=name),
            made("w:bookmarkEnd", id=self._count),
        )
