"""Running heads and feet: what stands in the margins of a page, with what is filled in there.

The section that is current on a page is, level by level, the first that begins on it, or else the one in which it begins (as
``string(…)`` of CSS Generated Content for Paged Media 3, 1.1.2, with its default ``first``); one of a level ends where one of a
higher level begins.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime
from typing import TYPE_CHECKING, NamedTuple

import icu

from ..report.blocks import INLINE_OBJECT
from ..report.page import FIELD, PageSetup
from ..report.styles import Style, StyleSheet

if TYPE_CHECKING:
    from .pages import Pages

Edge = tuple[str, str, str]
"""What stands at the left, in the middle and at the right."""


class Running(NamedTuple):
    """What stands at the head and foot of one page, its fields not filled in."""

    head: Edge
    foot: Edge


NOTHING = Running(("", "", ""), ("", "", ""))

_STYLE = Style(
    "head-and-foot",
    "Head and foot",
    "running",
    font="Carlito",
    size=9,
    colour="#4a4350",
    space_after=0,
    line_spacing=1.2,
)


def running_style(styles: StyleSheet) -> Style:
    """In which style heads and feet are set, also in reports that have none for them."""
    style = styles.role("running")
    return style if style.role == "running" else _STYLE


def running(page: PageSetup, first: bool, left: bool) -> Running:
    """What stands on a page: on the ``first`` of its part, on a ``left``-hand one."""
    if first and page.first_page != "same":
        return _read(page, "first_") if page.first_page == "own" else NOTHING
    if left and page.left_pages == "own":
        return _read(page, "left_")
    found = _read(page, "")
    if left and page.left_pages == "mirrored":
        return Running(found.head[::-1], found.foot[::-1])
    return found


def _read(page: PageSetup, which: str) -> Running:
    def edge(name: str) -> Edge:
        left, middle, right = (getattr(page, f"{which}{name}_{place}") for place in ("left", "middle", "right"))
        return left, middle, right

    return Running(edge("head"), edge("foot"))


def filled_in(words: str, values: Mapping[str, str]) -> str:
    """Words with their fields filled in, by name; what is put in is not looked at for fields."""
    return FIELD.sub(lambda field: values.get(field[1], ""), words.replace(INLINE_OBJECT, ""))


def said_day(day: date, language: str) -> str:
    """A day in the words of a language, as its locale has them (Unicode CLDR, long form)."""
    how = icu.DateFormat.createDateInstance(icu.DateFormat.LONG, icu.Locale(language))
    how.setTimeZone(icu.TimeZone.getGMT())
    return str(how.format(datetime(day.year, day.month, day.day, 12, tzinfo=UTC)))


def current_sections(pages: Pages) -> Sequence[Mapping[str, str]]:
    """On each sheet the words and number of the section of each level (``section 1``, ``number 1`` …)."""
    found: list[Mapping[str, str]] = []
    now: dict[str, str] = {}
    """What the next sheet begins with."""
    headings = [one for one in pages.worded if one.by_hand != "put in"]
    on = pages.pages_of((one.block, one.row) for one in headings)
    at = 0
    for sheet in range(1, len(pages) + 1):
        here, begun = dict(now), set[int]()
        while at < len(on) and on[at] == sheet:
            heading = headings[at]
            for level in range(heading.level, 10):
                for name in ("section", "number"):
                    now.pop(f"{name} {level}", None)
            words = {
                f"section {heading.level}": " ".join(heading.text.split()),
                f"number {heading.level}": heading.number,
            }
            now.update(words)
            if heading.level not in begun:
                here.update(words)
            begun.add(heading.level)
            at += 1
        found.append(here)
    return found
