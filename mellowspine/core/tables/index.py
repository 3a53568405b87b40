"""The alphabetical subject index: terms and those beneath them, with their pages, and where to look instead or as well."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import NamedTuple

from ..report.index import DEEPEST, See, Terms
from ..report.recipes import LevelLook, Recipe
from ..report.tables import Emphasis, Lead, Line
from ..structure.occurrences import Occurrences
from .collation import in_its_language, letter_of, orders
from .contents import stretch_of
from .kinds import Sources, TableKind, add_table_kind
from .page_lists import Places, page_list

LETTER = 1
"""The level of the letters between groups of terms; terms themselves follow, ``LETTER + 1`` being those of the first depth."""


@dataclass
class _Term:
    """A term with what is known of it: what is marked, each by its place among all that is, and where that leads."""

    numbers: list[int] = field(default_factory=list)
    leads: list[Lead] = field(default_factory=list)
    sees: list[See] = field(default_factory=list)
    beneath: dict[str, _Term] = field(default_factory=dict)

    def at(self, terms: Terms) -> _Term:
        found = self
        for one in terms:
            found = found.beneath.setdefault(one, _Term())
        return found


class _Listed(NamedTuple):
    """A line before its pages are known."""

    source: str
    level: int
    text: str
    emphasis: tuple[Emphasis, ...]
    places: Places = Places()


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    pages, report = sources.pages, sources.pages.report
    recipe = in_its_language(recipe, sources.pages.report)
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    if section is None:
        return
    first, end = section
    order = recipe.language, recipe.by_letter, recipe.levels
    marked, on, noted = pages.occurrences, pages.indexing_pages, pages.noted
    if recipe.section:
        inside = [n for n, one in enumerate(marked.indexings) if first <= noted[one.at.at][0] < end]
        listed = _listed(recipe, report.sees, marked, inside)
    else:
        listed = marked.cached(
            ("listed", order),
            (report.sees,),
            lambda: _listed(recipe, report.sees, marked, range(len(marked.indexings))),
        )

    def lines() -> list[Line]:
        found, given = [], (*on, pages.labels, *how)
        for source, level, text, emphasis, places in listed:
            printed, leads = page_list(places, *given)
            found.append(Line(source, level, "", text, printed, emphasis, leads))
        return found

    how = recipe.ranges, recipe.passim, pages.counted_anew
    yield from (
        lines() if recipe.section else marked.cached(("lines of terms", order, how, pages.counts), (listed, on), lines)
    )


def _listed(recipe: Recipe, sees: Sequence[See], marked: Occurrences, among: Iterable[int]) -> list[_Listed]:
    """What an index lists of some that is marked, in its order."""
    root = _Term()
    for n in among:
        for entry in marked.indexings[n].entries:
            known = root.at(entry.terms)
            known.numbers.append(n)
            known.leads.append(Lead(marked.indexings[n].at.id, entry.main))
    for see in sees:
        root.at(see.terms).sees.append(see)
    order = orders(recipe.language, recipe.by_letter)
    found: list[_Listed] = []
    letters: set[str] = set()
    for term in sorted(root.beneath, key=lambda term: (order(term), term)):
        if LETTER in recipe.levels and (letter := letter_of(term, recipe.language)) not in letters:
            letters.add(letter)
            found.append(_Listed(f"letter-{_named((letter,))}", LETTER, letter, ()))
        found.extend(_term((term,), root.beneath[term], recipe))
    return found


def _term(terms: Terms, term: _Term, recipe: Recipe) -> Iterator[_Listed]:
    """The lines of a term and of all beneath it."""
    level, id = LETTER + len(terms), term_id(terms)
    if level in recipe.levels:
        instead = [see for see in term.sees if not see.also and not term.numbers]
        text, emphasis = _see(f"{terms[-1]}, ", "see", instead) if instead else (terms[-1], ())
        yield _Listed(id, level, text, emphasis, Places(term.numbers, tuple(term.leads)))
        if as_well := [see for see in term.sees if see not in instead]:
            text, emphasis = _see("", "see also", as_well)
            yield _Listed(f"also-{_named(terms)}", min(level + 1, LETTER + DEEPEST), text, emphasis)
    order = orders(recipe.language, recipe.by_letter)
    for one in sorted(term.beneath, key=lambda one: (order(one), one)):
        yield from _term((*terms, one), term.beneath[one], recipe)


def _see(front: str, how: str, sees: list[See]) -> tuple[str, tuple[Emphasis, ...]]:
    """The words of a hint, and that ``how`` is in italics."""
    to = "; ".join(", ".join(see.to) for see in sees)
    return f"{front}{how} {to}", (Emphasis(len(front), len(front) + len(how), "i"),)


def term_id(terms: Terms) -> str:
    """The id of the line of a term."""
    return f"term-{_named(terms)}"


@lru_cache(maxsize=1 << 14)
def _named(terms: Terms) -> str:
    """A name for terms that can be an id: the same for the same terms, in every report."""
    return hashlib.sha256("\n".join(terms).encode()).hexdigest()[:24]


def _why(recipe: Recipe, sources: Sources) -> str:
    if sources.pages.occurrences.indexings:
        return "No terms of these levels are marked where this table looks; list others, or the whole report."
    return "No terms are marked for the index yet; select some words in the text and press Alt+S d."


def _looks() -> tuple[LevelLook, ...]:
    letter = LevelLook(size=11.0, bold=True, space_before=10.0, space_after=3.0, page_number=False)
    terms = (
        LevelLook(size=9.5, indent=12.0 * depth, hang=18.0, space_before=0.0, space_after=1.0)
        for depth in range(DEEPEST)
    )
    return (letter, *terms, *Recipe().looks[LETTER + DEEPEST :])


_RECIPE = Recipe(
    kind="index",
    title="Index",
    levels=tuple(range(LETTER, LETTER + DEEPEST + 1)),
    passim=0,
    page_numbers="words",
    separator=", ",
    columns=2,
    looks=_looks(),
)

add_table_kind(TableKind("index", _RECIPE, _lines, "No terms yet.", _why, from_structure=True))
