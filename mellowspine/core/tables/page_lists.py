"""Lists of pages, as tables of authorities and indexes print them: "3, 7, 9–11", or "passim"."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple

from ..report.tables import Lead

PASSIM = "passim"


class PageList(NamedTuple):
    """What is printed, and where each of it leads."""

    pages: tuple[str, ...] = ()
    leads: tuple[Lead, ...] = ()


_NOTHING = PageList()


OnPages = tuple[int, int, str, bool]
"""A place: the first and the last sheet that it is on, its id, and whether it says most."""


def page_list(places: Iterable[OnPages], label: Callable[[int], str], ranges: int, passim: int) -> PageList:
    """The pages of places, which are in reading order.

    Sheets that follow each other are a range where they are ``ranges`` at least (0 for never), and where one place goes over
    them. A sheet with a main place is in no range with others. From ``passim`` sheets on (0 for never) that word stands for
    all of them.
    """
    places = [*places]
    if not places:
        return _NOTHING
    if len(places) == 1 and passim != 1:
        ((first, last, id, main),) = places
        if first == last:
            return PageList((label(first),), (Lead(id, main),))
    leads: dict[int, Lead] = {}
    bound: set[int] = set()  # sheets that one place shares with the sheet before
    for first, last, id, main in places:
        if first < last:
            bound.update(range(first + 1, last + 1))
        for sheet in range(first, last + 1) if first < last else (first,):
            known = leads.get(sheet)
            if known is None or (main and not known.main):
                leads[sheet] = Lead(id, main)
    sheets = sorted(leads)
    if passim and len(sheets) >= passim:
        return PageList((PASSIM,), (leads[sheets[0]]._replace(main=False),))
    pages: list[str] = []
    to: list[Lead] = []
    at = 0
    while at < len(sheets):
        # The run of sheets without a gap, all of them main or none.
        first, lead = sheets[at], leads[sheets[at]]
        end = at + 1
        while end < len(sheets) and sheets[end] == sheets[end - 1] + 1 and leads[sheets[end]].main == lead.main:
            end += 1
        whole = bool(ranges) and end - at >= max(ranges, 2) and not lead.main
        for place in range(at, end):
            sheet = sheets[place]
            if place + 1 < end and (whole or sheets[place + 1] in bound):
                continue
            pages.append(label(first) if first == sheet else f"{label(first)}–{label(sheet)}")
            to.append(leads[first])
            first = sheets[place + 1] if place + 1 < end else sheet
        at = end
    return PageList(tuple(pages), tuple(to))
