"""Where a line may break: the Unicode line breaking algorithm (UAX #14), by the rules of ICU, which ships with us."""

from __future__ import annotations

import threading

from icu import BreakIterator, Locale, UnicodeString

_RULES = "root@lb=strict"
"""No language's own rules; small kana do not begin a line (CSS Text 3, 5.2: ``line-break: strict``)."""


class _OfThread(threading.local):
    """A break iterator holds the text that it goes through: each thread has its own."""

    def __init__(self) -> None:
        self.iterator = BreakIterator.createLineInstance(Locale(_RULES))


_of_thread = _OfThread()


def units(text: str) -> list[str]:
    """Splits text into the pieces between which a line may break; each keeps its trailing spaces.

    ``text`` holds no mandatory breaks. Joined together, the pieces are the text.
    """
    units16 = UnicodeString(text)
    iterator = _of_thread.iterator
    iterator.setText(units16)
    ends = [*iterator]
    if len(units16) == len(text):
        return [text[start:end] for start, end in zip([0, *ends], ends, strict=False)]
    # Its places are those of 16-bit units, of which some characters have two.
    data = text.encode("utf-16-le")
    return [data[2 * start : 2 * end].decode("utf-16-le") for start, end in zip([0, *ends], ends, strict=False)]
