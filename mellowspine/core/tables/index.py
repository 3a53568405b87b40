"""The alphabetical subject index: terms and those beneath them, with their pages, and where to look instead or as well."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass, field

from ..report.index import DEEPEST, See, Terms
from ..report.recipes import LevelLook, Recipe
from ..report.tables import Emphasis, Line
from .collation import letter_of, orders
from .contents import stretch_of
from .kinds import Sources, TableKind, add_table_kind
from .page_lists import OnPages, page_list

LETTER = 1
"""The level of the letters between groups of terms; terms themselves follow, ``LETTER + 1`` being those of the first depth."""


@dataclass
class _Term:
    """A term with what is known of it."""

    places: list[OnPages] = field(default_factory=list)
    sees: list[See] = field(default_factory=list)
    beneath: dict[str, _Term] = field(default_factory=dict)

    def at(self, terms: Terms) -> _Term:
        found = self
        for one in terms:
            found = found.beneath.setdefault(one, _Term())
        return found


def _lines(recipe: Recipe, sources: Sources) -> Iterator[Line]:
    pages, report = sources.pages, sources.pages.report
    section = stretch_of(recipe, sources.headings, sources.at, len(report.blocks))
    if section is None:
        return
    first, end = section
    root = _Term()
    for (entries, at), begins, ends in pages.indexings:
        if first <= at.start[0] < end:
            for entry in entries:
                root.at(entry.terms).places.append(OnPages(begins, ends, at.id, entry.main))
    for see in report.sees:
        root.at(see.terms).sees.append(see)
    order = orders(recipe.language, recipe.by_letter)
    letter = ""
    for term in sorted(root.beneath, key=lambda term: (order(term), term)):
        if LETTER in recipe.levels and (own := letter_of(term, recipe.language)) != letter:
            letter = own
            yield Line(f"letter-{_named((letter,))}", LETTER, "", letter, ())
        yield from _term((term,), root.beneath[term], recipe, sources)


def _term(terms: Terms, term: _Term, recipe: Recipe, sources: Sources) -> Iterator[Line]:
    """The lines of a term and of all beneath it."""
    level, id = LETTER + len(terms), f"term-{_named(terms)}"
    if level in recipe.levels:
        found = page_list(term.places, sources.pages.label, recipe.ranges, recipe.passim)
        instead = [see for see in term.sees if not see.also and not term.places]
        text, emphasis = _see(f"{terms[-1]}, ", "see", instead) if instead else (terms[-1], ())
        yield Line(id, level, "", text, found.pages, emphasis, found.leads)
        if as_well := [see for see in term.sees if see not in instead]:
            text, emphasis = _see("", "see also", as_well)
            yield Line(f"also-{_named(terms)}", min(level + 1, LETTER + DEEPEST), "", text, (), emphasis)
    order = orders(recipe.language, recipe.by_letter)
    for one in sorted(term.beneath, key=lambda one: (order(one), one)):
        yield from _term((*terms, one), term.beneath[one], recipe, sources)


def _see(front: str, how: str, sees: list[See]) -> tuple[str, tuple[Emphasis, ...]]:
    """The words of a hint, and that ``how`` is in italics."""
    to = "; ".join(", ".join(see.to) for see in sees)
    return f"{front}{how} {to}", (Emphasis(len(front), len(front) + len(how), "i"),)


def _named(terms: Terms) -> str:
    """A name for terms that can be an id: the same for the same terms, in every report."""
    return hashlib.sha256("\n".join(terms).encode()).hexdigest()[:24]


def _why(recipe: Recipe, sources: Sources) -> str:
    if sources.pages.indexings:
        return "No terms of these levels are marked where this table looks; list others, or the whole report."
    return "No terms are marked for the index yet; select some words in the text and press Alt+S x."


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

add_table_kind(TableKind("index", _RECIPE, _lines, "No terms yet.", _why))
