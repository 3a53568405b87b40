"""The formatting that paragraphs share, what is done by hand in it, and what can be done to all that have the same."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any, NamedTuple

from ..report.blocks import Align, Capitals, Marks, Paragraph, Script
from ..report.elements import Words, attribute_of, element_of
from ..report.plan import Format, Plan, Set, Step
from ..report.report import Report
from ..report.styles import Style
from .outline import paragraphs

_TYPEFACE = ("font", "size", "colour", "strike", "capitals", "script", "highlight")
_OF_WORDS_ALONE = ("script", "highlight")
"""What words may say, and no style."""
_EMPHASIS = ("bold", "italic", "underline")
_OF_PARAGRAPH = (
    "align",
    "space_before",
    "space_after",
    "contextual_spacing",
    "line_spacing",
    "indent",
    "first_line",
    "right_indent",
    "background",
    "borders",
    "tab_stops",
)
"""What a paragraph may say otherwise than its style, beside what its words say."""


class Formatting(NamedTuple):
    """All that the eye sees of a paragraph apart from its words. ``None`` where runs differ."""

    style: str
    align: Align | None
    bold: bool | None
    italic: bool | None
    underline: bool | None
    font: str | None
    size: float | None
    colour: str | None
    strike: bool | None
    capitals: Capitals | None
    script: Script | None
    highlight: str | None


def formatting(paragraph: Paragraph) -> Formatting:
    """The formatting common to all of a paragraph's words; white space does not count."""
    return Formatting(
        paragraph.style, paragraph.align, **{name: _shared(paragraph, name) for name in _EMPHASIS + _TYPEFACE}
    )


def _shared(paragraph: Paragraph, name: str) -> Any:
    """What all words of a paragraph say of one kind of formatting, None if they differ."""
    marks = [run.marks for run in paragraph.runs if run.text.strip()] or [Marks()]
    value = getattr(marks[0], name)
    return value if all(getattr(mark, name) == value for mark in marks) else None


def departures(paragraph: Paragraph, style: Style) -> dict[str, Any]:
    """What the whole of a paragraph says otherwise than its style, by property of styles."""
    said = {name: getattr(paragraph, name) for name in _OF_PARAGRAPH}
    said |= {name: _shared(paragraph, name) for name in _EMPHASIS + _TYPEFACE if name not in _OF_WORDS_ALONE}
    for added in ("underline", "strike"):
        said[added] = said[added] or None
    return {name: value for name, value in said.items() if value is not None and value != getattr(style, name)}


def as_style(paragraph: Paragraph) -> Iterator[Step]:
    """The steps that take the formatting off that all of a paragraph has by hand; emphasis of single words stays."""
    shared = {name: value for name in _EMPHASIS + _TYPEFACE if (value := _shared(paragraph, name)) is not None}
    return without(paragraph, shared)


MOST_OF = 0.8
"""Share of its characters from which on a paragraph as a whole counts as bold, italic or underlined."""


def mostly_as_style(paragraph: Paragraph) -> Iterator[Step]:
    """The steps that take the formatting off that most of a paragraph has by hand; what single words have stays."""
    return without(
        paragraph, {name: value for name in _EMPHASIS + _TYPEFACE if (value := _mostly(paragraph, name)) is not None}
    )


def _mostly(paragraph: Paragraph, name: str) -> Any:
    """What most words of a paragraph say of one kind of formatting; None if they say nothing, or differ too much."""
    lengths: dict[Any, int] = {}
    for run in paragraph.runs:
        value = getattr(run.marks, name)
        lengths[value] = lengths.get(value, 0) + len("".join(run.text.split()))
    most = max(lengths, key=lengths.__getitem__, default=None)
    return most if most is not None and lengths[most] >= MOST_OF * sum(lengths.values()) else None


def without(paragraph: Paragraph, said: Mapping[str, Any]) -> Iterator[Step]:
    """The steps that take the paragraph's own settings off, and these of its words: value by name of the formatting."""
    own = [attribute_of(Paragraph, name) for name in _OF_PARAGRAPH if getattr(paragraph, name) is not None]
    if own:
        yield Set(paragraph.id, dict.fromkeys(own))
    start = 0
    for child in element_of(paragraph).children:
        end = start + (len(child.text) if isinstance(child, Words) else 1)
        if isinstance(child, Words):
            values = dict(_taken(child.attributes, said))
            if values:
                yield Format(paragraph.id, start, end, values)
        start = end


def _taken(attributes: Mapping[str, Any], said: Mapping[str, Any]) -> Iterator[tuple[str, Any]]:
    """What is left of the formatting of words, by attribute, where that is less than before."""
    for name in _EMPHASIS:
        if name in attributes and name in said and (attributes[name] or {}).get("off", False) is not bool(said[name]):
            yield name, None
    typeface = attributes.get("typeface") or {}
    given = {name: value for name, value in typeface.items() if value is not None}
    left = {name: value for name, value in given.items() if name not in said or value != said[name]}
    if len(left) < len(given):
        yield "typeface", dict.fromkeys(_TYPEFACE) | left if left else None


def back_to_style(report: Report, ids: Iterable[str]) -> Plan:
    """The plan that takes all formatting by hand off these paragraphs, but for single words in them."""
    wanted = {*ids}
    return tuple(step for paragraph in paragraphs(report) if paragraph.id in wanted for step in as_style(paragraph))


def of_style(report: Report, style: str) -> list[str]:
    """The ids of all paragraphs of a style, in reading order."""
    return [paragraph.id for paragraph in paragraphs(report) if paragraph.style == style]


def give_style(report: Report, styles: Iterable[str], style: str) -> Plan:
    """The plan that gives a style to all paragraphs of some others."""
    old = {*styles}
    return tuple(Set(paragraph.id, {"style": style}) for paragraph in paragraphs(report) if paragraph.style in old)


class Restyling(NamedTuple):
    """What gives a paragraph's look to its style: the style, what that says then, and what is done to the text."""

    style: str
    values: dict[str, Any]
    plan: Plan


def restyle(report: Report, id: str) -> Restyling | None:
    """What gives the look of one paragraph to all of its style; None if there is no such paragraph.

    The style says what the paragraph says by hand, and every paragraph of the style goes back to what that says.
    """
    example = next((paragraph for paragraph in paragraphs(report) if paragraph.id == id), None)
    if example is None:
        return None
    style = report.styles[example.style]
    ids = [paragraph.id for paragraph in paragraphs(report) if report.styles[paragraph.style] is style]
    return Restyling(style.id, departures(example, style), back_to_style(report, ids))


def alike(report: Report, id: str) -> tuple[str, ...]:
    """The ids of all paragraphs with words that look like this one, itself included; empty if there is no such id."""
    paragraphs = [block for block in report.blocks if type(block) is Paragraph and block.text.strip()]
    wanted = next((formatting(paragraph) for paragraph in paragraphs if paragraph.id == id), None)
    return tuple(paragraph.id for paragraph in paragraphs if formatting(paragraph) == wanted) if wanted else ()


def mark_alike(report: Report, id: str, style: str) -> Plan:
    """The plan that gives a style to every paragraph that looks like this one."""
    return tuple(Set(one, {"style": style}) for one in alike(report, id))
