"""Kinds of finding, one module each (two where they look at the same), in the order in which they are shown."""

from . import (  # noqa: I001 -- the order is theirs
    made_by_hand,
    leftovers,
    unlike_its_level,
    skipped_level,
    empty_heading,
    typed_numbers,
    listed_title,
    two_alike,
    without_text,
    lone_subsection,
    long_heading,
    foot_of_page,
    pictures,
    links,
    places,
)

__all__ = [
    "empty_heading",
    "foot_of_page",
    "leftovers",
    "links",
    "listed_title",
    "lone_subsection",
    "long_heading",
    "made_by_hand",
    "pictures",
    "places",
    "skipped_level",
    "two_alike",
    "typed_numbers",
    "unlike_its_level",
    "without_text",
]
