"""The order of an alphabet, by language: Unicode collation (UTS #10) with the tailorings of CLDR, from ICU."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import Any

import icu

from ..report.recipes import Recipe
from ..report.report import Report

_ARTICLES = {
    language: re.compile(rf"(?:{articles})(?=\w)", re.IGNORECASE)
    for language, articles in {
        "en": r"(?:the|an?)\s+",
        "de": r"(?:der|die|das|ein|eine)\s+",
        "fr": r"(?:les?|la|une?)\s+|l['’]",
        "es": r"(?:el|las?|los|una?)\s+",
        "it": r"(?:il|lo|la|gli|le|i|una?|uno)\s+|l['’]",
        "nl": r"(?:de|het|een)\s+",
    }.items()
}
"""Leading articles, which count for nothing (common practice; from memory)."""


@lru_cache(maxsize=64)
def orders(language: str, by_letter: bool) -> Callable[[str], bytes]:
    """Gives the key by which words are ordered: numbers in them by their value, the same words with other capitals or
    accents next to each other. ``by_letter``: spaces, hyphens and other signs count for nothing."""
    collator = icu.Collator.createInstance(icu.Locale(language))
    collator.setAttribute(icu.UCollAttribute.NUMERIC_COLLATION, icu.UCollAttributeValue.ON)
    if by_letter:
        collator.setAttribute(icu.UCollAttribute.ALTERNATE_HANDLING, icu.UCollAttributeValue.SHIFTED)
        collator.setStrength(icu.Collator.QUATERNARY)

    @lru_cache(maxsize=1 << 14)
    def key(words: str) -> bytes:
        found: bytes = collator.getSortKey(words)
        return found

    return key


@lru_cache(maxsize=1 << 14)
def without_article(words: str, language: str) -> str:
    """Words as they are put in order: without the article in front of them, unless there is nothing else."""
    article = _ARTICLES.get(language.split("-")[0])
    found = article.match(words) if article else None
    return words[found.end() :] if found else words


@lru_cache(maxsize=64)
def _alphabet(language: str) -> Any:
    return icu.AlphabeticIndex(icu.Locale(language)).buildImmutableIndex()


@lru_cache(maxsize=1 << 14)
def letter_of(words: str, language: str) -> str:
    """The letter under which a term stands in an index of this language, whatever signs are in front of it."""
    words = re.sub(r"^[^\w]+(?=\w)", "", words)
    alphabet = _alphabet(language)
    label: str = alphabet.getBucket(alphabet.getBucketIndex(words))[0]
    return label


def in_its_language(recipe: Recipe, report: Report) -> Recipe:
    """The recipe with the language whose order its lines have, which is the report's unless it says otherwise."""
    return recipe if recipe.language else replace(recipe, language=report.page.language)
