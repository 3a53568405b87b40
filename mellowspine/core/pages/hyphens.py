"""Where words may be parted at the end of a line: by the hyphenation patterns of their language, which ``pyphen`` brings.

Two letters stay in front of a hyphen at least, and three behind it; words of fewer than five letters, and those in capitals, are not
parted (common practice, no source).
"""

from __future__ import annotations

import re
from functools import lru_cache

import pyphen

HYPHEN = "-"
_WORD = re.compile(r"[^\W\d_]{5,}")


@lru_cache(maxsize=1 << 14)
def points(words: str, language: str) -> tuple[int, ...]:
    """Where hyphens may be put into words, as offsets; none in a language without patterns."""
    patterns = _patterns(language)
    if patterns is None:
        return ()
    # Those at which letters would change with the hyphen (in some languages) are left out.
    return tuple(
        found.start() + at
        for found in _WORD.finditer(words)
        if not found[0].isupper()
        for at in patterns.positions(found[0])
        if at.data is None
    )


@lru_cache(maxsize=64)
def _patterns(language: str) -> pyphen.Pyphen | None:
    known = pyphen.language_fallback(language.replace("-", "_"))
    return pyphen.Pyphen(lang=known, left=2, right=3) if known else None
