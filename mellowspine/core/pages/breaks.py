"""Where a line may break: the Unicode line breaking algorithm (UAX #14).

The rules (``uax14.py``) look at each character, so paragraphs in which they leave only the spaces as places to break are
recognised with one regular expression, and of the others only the words that need it are looked at, each once.
"""

from __future__ import annotations

import re
from functools import lru_cache

from .uax14 import breaks

_WORDS = re.compile(r"[^ ]+ *|^ +")

LETTERS = "A-Za-zÀ-ÖØ-öø-ɏΆΈ-ϿЀ-ҁҊ-ԯḀ-ỿ"
"""Ranges of Latin, Greek and Cyrillic letters. All of them are of the class of letters (AL)."""

_PLAIN = re.compile(rf"(?:[{LETTERS}0-9]++(?:’[{LETTERS}]++)?[.,:;!?]?(?: ++|$))*+")
"""Words of letters, digits and one apostrophe at the most, with one stop at the most behind: the quickest to recognise."""

# Letters (AL), digits (NU), brackets (OP, CP), quotes (QU), stops (IS), !? (EX), % (PO), $£ (PR) in an order in which
# no rule before LB18 forbids the break after a space and no rule allows one elsewhere.
_MORE_THAN_SPACES = re.compile(
    rf"""[^ {LETTERS}0-9‘’“”'"()\[\].,:;!?%$£]   # any other class
      | [!?][^ ’”'"!?.,)]                              # EX ÷ AL
      | (?<!\d)[.,:;]\d | [.,:;][$£%(\[]              # IS ÷ NU outside a number, IS ÷ OP
      | \ [!?)\].,:;%’”]                               # LB13, LB15: × after spaces as well
      | [(\[‘“'"]\                                     # LB14, LB15: OP SP* ×
      | [$£%]['"‘’“”$£%(\[] | ^\ +[^A-Za-z0-9] | [)\]'"‘’“”][$£%(\[‘“] | [‘’“”'"]{2}
    """,
    re.VERBOSE,
)


_LONGEST_KEPT = 64
"""Characters of a word that is remembered: in scripts without spaces a paragraph is one word, and another one at every key."""


def _split(text: str) -> tuple[str, ...]:
    ends = [*breaks(text), len(text)]
    return tuple(text[start:end] for start, end in zip([0, *ends], ends, strict=False))


@lru_cache(maxsize=1 << 16)
def _known(word: str) -> tuple[str, ...]:
    return _split(word) if _MORE_THAN_SPACES.search(word) else (word,)


def _word_units(word: str) -> tuple[str, ...]:
    return _known(word) if len(word) <= _LONGEST_KEPT else _split(word)


def units(text: str) -> list[str]:
    """Splits text into the pieces between which a line may break; each keeps its trailing spaces.

    ``text`` holds no mandatory breaks. Joined together, the pieces are the text.
    """
    words = _WORDS.findall(text)
    if _PLAIN.fullmatch(text) or not _MORE_THAN_SPACES.search(text):
        return words
    result: list[str] = []
    joined = False
    for index, word in enumerate(words):
        pieces = _word_units(word)
        if joined:
            result[-1] += pieces[0]
            result.extend(pieces[1:])
        else:
            result.extend(pieces)
        joined = index + 1 < len(words) and not _breaks_between(word, words[index + 1])
    return result


def _breaks_between(word: str, following: str) -> bool:
    """Whether a line may break between a word, spaces behind it included, and the next.

    The rules that reach across spaces look at no more than two characters on either side.
    """
    if word[0] != " " and not _MORE_THAN_SPACES.search(word.rstrip(" ")[-2:] + " " + following[:1]):
        return True
    before = word.rstrip(" ")[-4:] + " "
    return _breaks_at(before, following[:4])


@lru_cache(maxsize=1 << 16)
def _breaks_at(before: str, behind: str) -> bool:
    return len(before) in breaks(before + behind)
