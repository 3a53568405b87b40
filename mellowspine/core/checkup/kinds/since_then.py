"""What people who work together leave behind: two sections that say the same since a copy, and names that are no longer true."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence

from ...report.elements import Words
from ...report.plan import Cut
from ...structure.noted import Leading
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, quoted

LEAST_SHARED, LEAST_PARAGRAPHS = 50, 3
"""Words that two sections share at least, and in how many paragraphs, to be taken for a copy."""


def _alike(state: State) -> FoundHere:
    """Sections that have paragraphs word for word as one in front of them has: the later of the two."""
    texts = state.repeated.texts
    headings = [one for one in state.headings if one.by_hand != "put in" and not one.row] if state.repeated.at else []
    starts = [one.block for one in headings]
    first: dict[str, int] = {}
    """The first section that has a paragraph, by its words."""
    shared: dict[tuple[int, int], list[int]] = {}
    """By a section and one in front of it, how many words each paragraph has that stands in both."""
    for block in state.repeated.at:
        section = bisect_right(starts, block) - 1
        other = first.setdefault(texts[block], section)
        if 0 <= other != section:
            shared.setdefault((section, other), []).append(texts[block].count(" ") + 1)
    told: set[int] = set()
    for (section, other), words in shared.items():
        if section not in told and len(words) >= LEAST_PARAGRAPHS and sum(words) >= LEAST_SHARED:
            told.add(section)
            yield (
                headings[section].id,
                f"{quoted(headings[section].text)} says nearly the same as {quoted(headings[other].text)} further up.",
            )


def _old_names(state: State) -> Iterator[tuple[str, Leading, str, str]]:
    """Links whose words are what their heading was called before: the paragraph, the link, the old name and the new one."""
    renamed = state.renamed
    found = [
        (one.id, lead, renamed[lead.to])
        for _, one in state.pages.noted
        for lead in one.leads
        if lead.to in renamed and not lead.shows and renamed[lead.to] in lead.words
    ]
    names = {heading.id: heading.text for heading in state.headings} if found else {}
    for paragraph, lead, old in found:
        now = names.get(lead.to)
        if now and now != old and now not in lead.words:
            yield paragraph, lead, old, now


def _named(state: State) -> FoundHere:
    told: set[str] = set()
    for paragraph, lead, old, now in _old_names(state):
        if paragraph not in told:
            told.add(paragraph)
            yield (
                paragraph,
                f"The link at {quoted(lead.words)} says {quoted(old)}; that is called {quoted(now)} by now.",
            )


def _new_names(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    wanted = {*places}
    found = [one for one in _old_names(state) if one[0] in wanted]
    found.sort(key=lambda one: one[1].start, reverse=True)
    return Remedy(tuple(_renamed(*one) for one in found))


def _renamed(paragraph: str, lead: Leading, old: str, now: str) -> Cut:
    at = lead.start + lead.words.index(old)
    return Cut(paragraph, at, old, (Words(now, {"link": {"href": f"#{lead.to}"}}),))


def _own_words(state: State) -> FoundHere:
    tables = [issued for issued in state.report.tables.values() if issued.own]
    names = {heading.id: heading.text for heading in state.headings} if tables else {}
    for issued in tables:
        for source, own in issued.own.items():
            now = names.get(source)
            if now is not None and own.words and own.heading not in ("", now):
                yield (
                    source,
                    f"In {quoted(issued.recipe.title or 'a table')} it says {quoted(own.words)}, which was written for "
                    f"{quoted(own.heading)}; the heading is {quoted(now)} by now.",
                )


add_check(
    Check(
        "says-the-same",
        "Sections that say nearly the same",
        "One may be a copy that nobody went on with; what is changed in one stays as it was in the other.",
        in_report=_alike,
        looks_at=lambda state: (state.headings, state.repeated.at),
    )
)
add_check(
    Check(
        "old-name",
        "Links that say what a section was called before",
        "Readers look for a name that is nowhere.",
        in_report=_named,
        looks_at=lambda state: (state.pages.noted, state.headings),
        remedy=_new_names,
        label="Say the new name",
    )
)
add_check(
    Check(
        "old-own-words",
        "Own words for a heading that has changed",
        "The line may say what the section no longer is; choose in the table which words it is to have.",
        in_report=_own_words,
        looks_at=lambda state: (state.report.tables, state.headings),
    )
)
