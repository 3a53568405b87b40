"""What is noted of a paragraph, and what a place is: the values that notes, places and references are made of."""

from __future__ import annotations

from typing import NamedTuple

from ..report.blocks import Entry, NoteKind


class Leading(NamedTuple):
    """A reference, or words that are a link to a place in the report. ``shows`` is empty for a link, ``words`` are its own.

    ``key`` says what a reference shows, by ``shown_as``; it is empty for a link.
    """

    to: str
    shows: str
    words: str
    start: int
    key: str = ""


class Marked(NamedTuple):
    """A place of a kind in one paragraph, marked on words of it: ``start`` is where these begin."""

    kind: str
    id: str
    name: str
    words: str
    start: int


class Cited(NamedTuple):
    """A citation in one paragraph: ``start`` is where its words begin."""

    id: str
    of: str
    words: str
    start: int


class Termed(NamedTuple):
    """Words in one paragraph that are marked for the index, from ``start`` to before ``end``."""

    id: str
    entries: tuple[Entry, ...]
    words: str
    start: int
    end: int


class Noted(NamedTuple):
    """A paragraph that is a caption, leads somewhere, or has something marked in it. ``caption`` is the id of its label, or
    None."""

    row: int
    id: str
    caption: str | None
    text: str
    leads: tuple[Leading, ...]
    places: tuple[Marked, ...] = ()
    cites: tuple[Cited, ...] = ()
    terms: tuple[Termed, ...] = ()
    kind: str = ""
    """The kind of place that the paragraph as a whole is; empty if it is none."""
    note: NoteKind | None = None
    """Of a note where it stands."""


Notes = tuple[tuple[int, Noted], ...]
"""In reading order, each with the index of its block."""


class Place(NamedTuple):
    """``label`` and ``number`` are as printed: "Figure" and "2-3"; a bookmark has those of the section that it stands in.

    ``offset`` is where in its paragraph a bookmark begins.
    """

    id: str
    kind: str
    """That of a heading is "heading", of an authority or a term of the index "occurrence" (``occurrences.py``: tables alone lead
    there); all others are those of ``place_kinds``."""
    label: str
    number: str
    text: str
    block: int
    row: int
    offset: int = 0
    words: str = ""
    """The words that a bookmark marks, in all paragraphs over which it goes; ``text`` is its name, which is for lists."""
