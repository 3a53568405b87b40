"""The kinds of place that links can lead to, beside headings. To add one, write it as a ``PlaceKind`` and put it here.

It is then noted, listed, chosen, referred to, written to files and told when it is gone as the others are; the browser's part of
it stands in ``web/src/workspace/place-kinds/``.
"""

from __future__ import annotations

from .bookmark import bookmark
from .caption import caption
from .kind import Around as Around
from .kind import PlaceKind as PlaceKind
from .note import note

KINDS = {kind.name: kind for kind in (caption, bookmark, note)}

MAKERS = {kind.name: kind.place for kind in KINDS.values()}
"""What makes a place of what was noted, by kind."""

MARKS = {kind.name: kind.mark for kind in KINDS.values() if kind.mark}
"""What says of words that they are such a place, by kind."""

PARAGRAPHS = {kind.name: kind.paragraph for kind in KINDS.values() if kind.paragraph}
"""What says of a paragraph that it is such a place, by kind."""
