"""Lists of pages, as tables of authorities and indexes print them: "3, 7, 9–11", or "passim"."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import groupby
from typing import NamedTuple

from ..report.tables import Lead

PASSIM = "passim"


class PageList(NamedTuple):
    """What is printed, and where each of it leads."""

    pages: tuple[str, ...] = ()
    leads: tuple[Lead, ...] = ()


class OnPages(NamedTuple):
    """A place on the sheets ``first`` to ``last``."""

    first: int
    last: int
    id: str
    main: bool = False


def page_list(places: Iterable[OnPages], label: Callable[[int], str], ranges: int, passim: int) -> PageList:
    """The pages of places, which are in reading order.

    Sheets that follow each other are a range where they are ``ranges`` at least (0 for never), and where one place goes over
    them. A sheet with a main place is in no range with others. From ``passim`` sheets on (0 for never) that word stands for
    all of them.
    """
    leads: dict[int, Lead] = {}
    bound: set[int] = set()  # sheets that one place shares with the sheet before
    for place in places:
        bound.update(range(place.first + 1, place.last + 1))
        for sheet in range(place.first, place.last + 1):
            known = leads.get(sheet)
            if known is None or (place.main and not known.main):
                leads[sheet] = Lead(place.id, place.main)
    if not leads:
        return PageList()
    sheets = sorted(leads)
    if passim and len(sheets) >= passim:
        return PageList((PASSIM,), (leads[sheets[0]]._replace(main=False),))
    pages: list[str] = []
    to: list[Lead] = []
    # Of sheets without a gap between them, and all of them main or none, the difference to their count is one number.
    for _, group in groupby(enumerate(sheets), lambda pair: (pair[1] - pair[0], leads[pair[1]].main)):
        run = [sheet for _, sheet in group]
        main = leads[run[0]].main
        whole = bool(ranges) and len(run) >= max(ranges, 2) and not main
        first = run[0]
        for at, sheet in enumerate(run):
            following = run[at + 1] if at + 1 < len(run) else None
            if following is not None and (whole or following in bound):
                continue
            pages.append(label(first) if first == sheet else f"{label(first)}–{label(sheet)}")
            to.append(leads[first])
            first = following or sheet
    return PageList(tuple(pages), tuple(to))
