"""Words that cite an authority, and words that the index leads to."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from mellowspine.core.pages.pages import Pages
from mellowspine.core.report.blocks import Entry

from .round import Follower, Of, Round
from .shown import ListOf, PagesOf

_MOST_SHOWN = 200
"""Characters of words marked for the index."""


class CitedShown(NamedTuple):
    """Words that cite an authority, ``of``."""

    id: str
    of: str
    words: str


class TermedShown(NamedTuple):
    """Words that the index leads to, under one term or several."""

    id: str
    entries: tuple[Entry, ...]
    words: str


def _cited(now: Round, before: Of | None) -> list[CitedShown]:
    """Citations, in reading order."""
    pages: Pages = now["pages"]
    marked = pages.occurrences
    return marked.cached(
        "cited, shown", (), lambda: [CitedShown(one.at.id, one.of, one.at.words) for one in marked.citings]
    )


def _cited_on(now: Round, before: Of | None) -> Sequence[int]:
    pages: Pages = now["pages"]
    return pages.citing_pages


def _terms(now: Round, before: Of | None) -> list[TermedShown]:
    """Words marked for the index, in reading order."""
    pages: Pages = now["pages"]
    marked = pages.occurrences
    return marked.cached(
        "terms, shown",
        (),
        lambda: [TermedShown(one.at.id, one.entries, one.at.words[:_MOST_SHOWN]) for one in marked.indexings],
    )


def _terms_on(now: Round, before: Of | None) -> Sequence[int]:
    """Where each of these begins."""
    pages: Pages = now["pages"]
    return pages.indexing_pages[0]


FOLLOWERS = (
    Follower("cited", _cited, ListOf(CitedShown)),
    Follower("cited_on", _cited_on, PagesOf(of="cited")),
    Follower("terms", _terms, ListOf(TermedShown)),
    Follower("terms_on", _terms_on, PagesOf(of="terms")),
)
