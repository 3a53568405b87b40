"""Lists of pages, as tables of authorities and indexes print them: "3, 7, 9–11", or "passim"."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from itertools import pairwise
from typing import NamedTuple

from ..report.tables import Lead

PASSIM = "passim"


class PageList(NamedTuple):
    """What is printed, and where each of it leads."""

    pages: tuple[str, ...] = ()
    leads: tuple[Lead, ...] = ()


_NOTHING = PageList()


class Places(NamedTuple):
    """Places in reading order: which each is of all that are marked, and where its page number leads."""

    numbers: Sequence[int] = ()
    leads: tuple[Lead, ...] = ()


def page_list(
    places: Places,
    firsts: Sequence[int],
    lasts: Sequence[int],
    labels: Sequence[str],
    ranges: int,
    passim: int,
    anew: Collection[int] = (),
) -> PageList:
    """The pages of places. ``firsts`` and ``lasts``: the sheets on which each begins and ends;
    ``labels``: what is printed on each sheet.

    Sheets that follow each other are a range where they are ``ranges`` at least (0 for never), and where one place goes over
    them. A sheet with a main place is in no range with others, and no range goes into a sheet from
    which on they are numbered ``anew``. From ``passim`` sheets on (0 for never) that word stands for all of them.
    """
    numbers = places.numbers
    if not numbers:
        return _NOTHING
    if not passim or len(numbers) < passim:
        # As most are: each place is on one sheet, and these are apart.
        before = -1
        for number in numbers:
            first = firsts[number]
            if first < before + 2 or first != lasts[number]:
                break
            before = first
        else:
            return _printed([labels[firsts[number]] for number in numbers], places.leads)
    leads: dict[int, Lead] = {}
    bound: set[int] = set()  # sheets that one place shares with the sheet before
    for number, lead in zip(numbers, places.leads, strict=True):
        first, last = firsts[number], lasts[number]
        if first < last:
            bound.update(range(first + 1, last + 1))
        for sheet in range(first, last + 1) if first < last else (first,):
            known = leads.get(sheet)
            if known is None or (lead.main and not known.main):
                leads[sheet] = lead
    sheets = sorted(leads)
    if passim and len(sheets) >= passim:
        return PageList((PASSIM,), (leads[sheets[0]]._replace(main=False),))
    if len(sheets) == 1 or all(after - before > 1 for before, after in pairwise(sheets)):
        return _printed([*map(labels.__getitem__, sheets)], [*map(leads.__getitem__, sheets)])
    pages: list[str] = []
    to: list[Lead] = []
    at = 0
    while at < len(sheets):
        # The run of sheets without a gap, all of them main or none.
        first, lead = sheets[at], leads[sheets[at]]
        end = at + 1
        while (
            end < len(sheets)
            and sheets[end] == sheets[end - 1] + 1
            and sheets[end] not in anew
            and leads[sheets[end]].main == lead.main
        ):
            end += 1
        whole = bool(ranges) and end - at >= max(ranges, 2) and not lead.main
        for place in range(at, end):
            sheet = sheets[place]
            if place + 1 < end and (whole or sheets[place + 1] in bound):
                continue
            pages.append(labels[first] if labels[first] == labels[sheet] else f"{labels[first]}–{labels[sheet]}")
            to.append(leads[first])
            first = sheets[place + 1] if place + 1 < end else sheet
        at = end
    return _printed(pages, to)


def _printed(pages: Sequence[str], leads: Sequence[Lead]) -> PageList:
    """A list without pages that have no number; where none has one, the first of them, so that it leads somewhere."""
    if all(pages):
        return PageList(tuple(pages), tuple(leads))
    kept = [place for place, page in enumerate(pages) if page] or [0]
    return PageList(tuple(pages[place] for place in kept), tuple(leads[place] for place in kept))
