"""Terms of the index that differ by a capital or an s only; and hints to look where there is nothing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache

from ...report.blocks import Entry
from ...report.index import Terms
from ...report.plan import Format
from ...report.report import Report
from ...structure.noted import Notes
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, quoted


def _quoted(terms: Terms) -> str:
    return quoted(" › ".join(terms))


@lru_cache(maxsize=1 << 14)
def _bare(terms: Terms) -> Terms:
    """Terms without what people write now so, now so: capitals, and an s at the end."""
    return tuple(
        one.removesuffix("s") if len(one) > 3 and not one.endswith("ss") else one for one in map(str.casefold, terms)
    )


def _alike(noted: Notes) -> dict[Terms, Terms]:
    """Terms that are all but the same as another: that which stands in more places, or first where both stand in as many."""
    counts: dict[Terms, int] = {}
    for _, one in noted:
        for termed in one.terms:
            for entry in termed.entries:
                counts[entry.terms] = counts.get(entry.terms, 0) + 1
    best: dict[Terms, Terms] = {}
    for terms, count in counts.items():
        known = best.get(_bare(terms))
        if known is None or count > counts[known]:
            best[_bare(terms)] = terms
    return {terms: best[_bare(terms)] for terms in counts if best[_bare(terms)] != terms}


def _found(state: State) -> FoundHere:
    alike = _alike(state.pages.noted)
    told: set[Terms] = set()
    for _, one in state.pages.noted:
        if not one.terms:
            continue
        here = [entry.terms for termed in one.terms for entry in termed.entries if entry.terms in alike]
        if here and not told.issuperset(here):
            told.update(here)
            yield (
                one.id,
                " ".join(f"{_quoted(terms)} stands beside {_quoted(alike[terms])}." for terms in dict.fromkeys(here)),
            )


def _as_the_others(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    """Gives every place of these terms the term that stands in most."""
    alike = _alike(state.pages.noted)
    wanted = {
        entry.terms
        for _, one in state.pages.noted
        if one.id in places
        for termed in one.terms
        for entry in termed.entries
    }
    return Remedy(tuple(_renamed(state.pages.noted, {old: new for old, new in alike.items() if old in wanted})))


def _renamed(noted: Notes, names: dict[Terms, Terms]) -> Iterator[Format]:
    for _, one in noted:
        for termed in one.terms:
            if any(entry.terms in names for entry in termed.entries):
                entries: dict[Terms, Entry] = {}
                for entry in termed.entries:
                    terms = names.get(entry.terms, entry.terms)
                    entries.setdefault(terms, Entry(terms, entry.main))
                said = [[[*terms], main] for terms, main in entries.values()]
                values = {"indexed": {"id": termed.id, "entries": said}}
                yield Format(one.id, termed.start, termed.end, values, termed.words)


add_check(
    Check(
        "terms-alike",
        "Terms of the index that are all but the same",
        "They stand in the index on two lines, each with a part of the pages.",
        in_report=_found,
        looks_at=lambda state: (state.pages.noted,),
        remedy=_as_the_others,
        label="Make them one term",
    )
)


def _known(report: Report, noted: Notes) -> set[Terms]:
    """All terms that there is anything under."""
    marked = {entry.terms for _, one in noted for termed in one.terms for entry in termed.entries}
    return {terms[:depth] for terms in marked for depth in range(1, len(terms) + 1)}


def _to_nothing(state: State) -> FoundHere:
    report = state.report
    if not report.sees:
        return
    known = _known(report, state.pages.noted)
    said = [
        f"Under {_quoted(see.terms)} the index says to see {_quoted(see.to)}, where it has nothing."
        for see in report.sees
        if see.to not in known
    ]
    said += [
        f"{_quoted(see.terms)} has no places of its own, and the index says to see {_quoted(see.to)} “also”."
        for see in report.sees
        if see.also and see.to in known and see.terms not in known
    ]
    tables = {key for key, issued in report.tables.items() if issued.recipe.kind == "index"}
    at = next((block.id for block in report.blocks if getattr(block, "table", None) in tables), None)
    if said and report.blocks:
        yield at or report.blocks[0].id, " ".join(said)


add_check(
    Check(
        "see-nothing",
        "Terms without places",
        "Whoever follows such a hint in the index finds nothing there.",
        in_report=_to_nothing,
        looks_at=lambda state: (state.pages.noted, state.report.sees, state.report.tables, state.report.blocks),
    )
)
