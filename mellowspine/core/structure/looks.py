"""Looks: the formatting that paragraphs share, and what can be done to all that have the same."""

from __future__ import annotations

from typing import NamedTuple

from ..report.blocks import Align, Marks, Paragraph
from ..report.plan import Plan, Set
from ..report.report import Report


class Look(NamedTuple):
    """All that the eye sees of a paragraph apart from its words. ``None`` where runs differ."""

    style: str
    align: Align | None
    bold: bool | None
    italic: bool | None
    underline: bool | None
    font: str | None
    size: float | None
    colour: str | None


def look(paragraph: Paragraph) -> Look:
    """The formatting common to all of a paragraph's words; white space does not count."""
    marks = [run.marks for run in paragraph.runs if run.text.strip()] or [Marks()]
    first = marks[0]

    def shared(name: str) -> object:
        value = getattr(first, name)
        return value if all(getattr(mark, name) == value for mark in marks) else None

    return Look(
        paragraph.style,
        paragraph.align,
        *(shared(name) for name in ("bold", "italic", "underline", "font", "size", "colour")),  # type: ignore[arg-type]
    )


def alike(report: Report, id: str) -> tuple[str, ...]:
    """The ids of all paragraphs with words that look like this one, itself included; empty if there is no such id."""
    paragraphs = [block for block in report.blocks if type(block) is Paragraph and block.text.strip()]
    wanted = next((look(paragraph) for paragraph in paragraphs if paragraph.id == id), None)
    return tuple(paragraph.id for paragraph in paragraphs if look(paragraph) == wanted) if wanted else ()


def mark_alike(report: Report, id: str, style: str) -> Plan:
    """The plan that gives a style to every paragraph that looks like this one."""
    return tuple(Set(one, {"style": style}) for one in alike(report, id))
