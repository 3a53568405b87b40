"""Captions: each counted under its label, throughout or by chapter."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Mapping, Sequence

from ..report.labels import Label, known_label
from ..report.report import Report
from .noted import Notes
from .outline import Heading, Outline

Captions = Mapping[str, tuple[Label, str, str]]
"""Label, number and words of every caption, by its id."""


def captions_of(report: Report, headings: Outline, noted: Notes) -> Captions:
    """All captions, counted.

    Those of a label that is counted by a level begin anew under each numbered heading of that level, or a higher one; its
    number stands in front, without words: "Chapter 2" and a third figure give 2-3 (common practice, no source). In front of
    the first such heading they are counted by themselves.
    """
    counts: dict[str, int] = {}
    chapters: dict[int, tuple[Sequence[Heading], list[tuple[int, int]]]] = {}
    at: dict[str, int] = {}
    found: dict[str, tuple[Label, str, str]] = {}
    for block, one in noted:
        if one.caption is None:
            continue
        label = known_label(report.labels, one.caption)
        front = ""
        if label.by_level:
            if label.by_level not in chapters:
                of_level = [h for h in headings if h.level <= label.by_level and h.number and h.by_hand != "put in"]
                chapters[label.by_level] = of_level, [(h.block, h.row) for h in of_level]
            headed, there = chapters[label.by_level]
            place = bisect_left(there, (block, one.row))
            if at.get(label.id) != place:
                at[label.id], counts[label.id] = place, 0
            front = f"{bare_number(headed[place - 1].number)}-" if place else ""
        counts[label.id] = counts.get(label.id, 0) + 1
        found[one.id] = label, f"{front}{counts[label.id]}", one.text
    return found


def bare_number(number: str) -> str:
    """A heading's number without the words and signs around it: "2" of "Chapter 2", "II" of "Part II."."""
    return re.sub(r"^.*\s", "", number.strip()).strip(".()[]§:–-") or number


def front_of(label: Label, number: str, text: str) -> str:
    """What is printed in front of a caption's words."""
    return f"{label.name} {number}{label.behind if text.strip() else ''}"
