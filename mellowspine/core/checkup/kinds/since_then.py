"""What people who work together leave behind: two sections that say the same since a copy, and names that are no longer true."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter
from collections.abc import Iterator, Sequence

from ...report.elements import Words
from ...report.plan import Cut
from ...structure.noted import Leading
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, quoted

LEAST_SHARED = 25
"""Words that two sections share at least."""


def _alike(state: State) -> FoundHere:
    """Sections of whose own words at least half stand in one other section as well, in the same paragraphs; the later of them."""
    texts, twice = state.repeated.texts, state.repeated.twice
    if not twice:
        return
    headings = [one for one in state.headings if one.by_hand != "put in" and not one.row]
    starts = [one.block for one in headings]
    first: dict[str, int] = {}
    """The first section that has a paragraph, by its words."""
    shared: dict[int, Counter[int]] = {}
    """By section, how many of its words which one in front of it has as well."""
    for block, text in enumerate(texts):
        if text in twice and (section := bisect_right(starts, block) - 1) >= 0:
            other = first.setdefault(text, section)
            if other != section:
                shared.setdefault(section, Counter())[other] += _words(text)

    def size(section: int) -> int:
        return sum(map(_words, filter(None, texts[slice(*(*starts, len(texts))[section : section + 2])])))

    for section, others in shared.items():
        (other, words), *_ = others.most_common(1)
        if words >= LEAST_SHARED and 2 * words >= max(size(section), size(other)):
            yield (
                headings[section].id,
                f"{quoted(headings[section].text)} says nearly the same as {quoted(headings[other].text)} further up.",
            )


def _words(text: str) -> int:
    return text.count(" ") + 1


def _old_names(state: State) -> Iterator[tuple[str, Leading, str, str]]:
    """Links whose words are what their heading was called before: the paragraph, the link, the old name and the new one."""
    found = [
        (one.id, lead, old)
        for _, one in state.pages.noted
        for lead in one.leads
        if not lead.shows and (old := state.renamed(lead.to)) and old in lead.words
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
        looks_at=lambda state: (state.headings, state.repeated.twice and state.repeated),
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
