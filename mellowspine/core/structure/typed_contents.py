"""Lists of contents that were typed: what a line of one reads like, and what it is called."""

from __future__ import annotations

import re

_PAGE = re.compile(r"(?:\d{1,4}|[ivxlc]{1,6})$")
_LEADERS = ".…·_‧•-–—"
CONTENTS_TITLES = frozenset({"contents", "table of contents", "contents list", "list of contents", "index of contents"})


def is_contents_line(text: str) -> bool:
    """Whether a text is words, a row of dots, a tab or a wide gap, and a page number."""
    words = text.strip()
    page = _PAGE.search(words[-6:])
    if page is None or len(words) > 300:
        return False
    before = words[: len(words) - (page.end() - page.start())]
    rest = before.rstrip(_LEADERS + " \t\u2002\u2003")
    gap = before[len(rest) :]
    dots = sum(sign in _LEADERS for sign in gap)
    return any(map(str.isalpha, rest)) and (dots > 2 or "…" in gap or "\t" in gap or (dots == 0 and len(gap) > 3))


def is_contents_title(text: str) -> bool:
    """Whether a text names a list of contents."""
    return text.strip(" \t:.").casefold() in CONTENTS_TITLES
