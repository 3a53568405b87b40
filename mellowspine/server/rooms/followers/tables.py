"""The placed tables: their issued lines, how each differs from the text, and what made it differ."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from typing import Any, NamedTuple

from mellowspine.core.report.blocks import Paragraph
from mellowspine.core.report.diff import diff
from mellowspine.core.report.recipes import Recipe
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued, Line
from mellowspine.core.tables.behind import Difference, Kind, behind
from mellowspine.core.tables.changing import pages_taken
from mellowspine.core.tables.kinds import Sources, build, placed_tables, table_kind
from mellowspine.core.tables.own import Standing, standings, worded
from mellowspine.core.tables.renumbering import renumberings, sentence
from mellowspine.core.tables.setting import Measures, measures_of

from ..causes import Cause, Causes
from .round import Follower, Issuance, Of, Round, same
from .shown import ListOf, MapOf, Parts, Single

_NEVER = Issuance()


class DifferenceShown(NamedTuple):
    """How a line differs from the text."""

    kinds: tuple[Kind, ...]
    source: str
    issued: Line | None
    fresh: Line | None
    cause: Cause | None
    after: str | None
    """The source of the line behind which the text gives this one."""


class RenumberingShown(NamedTuple):
    """Lines that are renumbered since something else has changed: said once."""

    sentence: str
    sources: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class TableShown:
    """A placed table: what is to be known about it, its issued lines, and how each differs from the text."""

    recipe: Recipe = field(default_factory=Recipe)
    page: str = "1"
    """The printed number of the sheet on which it begins."""
    pages: int = 1
    """How many it takes."""
    set: Measures = field(default_factory=Measures)
    """The measures by which its lines are set."""
    why: str = ""
    """Why the text gives it no lines; nothing if there are some."""
    issuance: Issuance = _NEVER
    lines: Sequence[Line] = ()
    differences: Sequence[DifferenceShown] = ()
    renumbered: Sequence[RenumberingShown] = ()
    """What merely renumbers lines."""
    own: Sequence[Standing] = ()
    """Own words, and how they stand to the text."""


@dataclass(frozen=True, slots=True)
class _Table(TableShown):
    """With what it was made from, for the next time."""

    plain: Sequence[Line] = field(default=(), compare=False)
    """The lines that the text gives, from which the differences were found."""
    given: Issued | None = field(default=None, compare=False)
    """The table as it was issued."""
    seen: tuple[Any, ...] = field(default=(), compare=False)
    """What its lines were made from, but for the words of blocks."""


def _tables(now: Round, before: Of | None) -> dict[str, _Table]:
    """By key."""
    report, pages = now.given.report, now["pages"]
    old: Mapping[str, _Table] = before.value if before else {}
    quiet, written = _written(report, before)
    # Besides the recipe, its place, and the words of blocks.
    of_all = (
        report.styles, report.numbering, report.labels, report.authorities, report.categories, report.sees, report.title,
        now["outline"], now["headings"], now["headings_on"], now["labels"], now["noted"], pages.captions, pages.starts,
        now["cited_on"], now["terms_on"],
    )  # fmt: skip
    result = {}
    for key, (at, _) in placed_tables(report.blocks).items():
        issued = report.tables[key]
        known = old.get(key)
        on = pages.on_paper(at)
        seen = (issued.recipe, at, on.page, *of_all)
        still = known is not None and same(seen, known.seen) and not any(map(written.__contains__, issued.recipe.feeds))
        sources = Sources(pages.worded, pages, now["headings_on"], at)
        plain = (
            known.plain
            if known and still and quiet and table_kind(issued.recipe.kind).from_structure
            else build(issued.recipe, sources)
        )
        measured = known.set if known and known.given is issued and known.seen[2] is on.page else None
        table = replace(
            known or _Table(),
            recipe=issued.recipe,
            page=pages.label(pages.page_of(at)),
            pages=pages_taken(pages, at),
            set=measured or measures_of(issued, on, now.given.typefaces),
            why="" if plain else table_kind(issued.recipe.kind).why(issued.recipe, sources),
            issuance=now.given.issuances[key],
            plain=plain,
            seen=seen,
        )
        if not (known and known.given is issued and known.plain == plain):
            differences, causes = behind(issued.lines, worded(plain, issued.own)), now.given.causes
            table = replace(
                table,
                given=issued,
                lines=issued.lines,
                differences=_differences(differences, causes),
                renumbered=_renumbered(differences, causes),
                own=standings(issued.own, plain),
            )
        result[key] = table
    return result


def _differences(differences: Sequence[Difference], causes: Causes) -> list[DifferenceShown]:
    return [
        DifferenceShown(
            one.kinds, one.line.source, one.issued, one.fresh, causes.of(one.line.source, one.kinds), one.after
        )
        for one in differences
    ]


def _renumbered(differences: Sequence[Difference], causes: Causes) -> list[RenumberingShown]:
    """Which lines are renumbered since something else has changed, in words."""
    found = []
    for one in renumberings(differences):
        known = {cause.line.source: causes.of(cause.line.source, cause.kinds) for cause in one.causes}
        who = {source: cause.who for source, cause in known.items() if cause}
        sources = tuple(difference.line.source for difference in one.lines)
        found.append(RenumberingShown(sentence(one, who), sources))
    return found


def _written(report: Report, before: Of | None) -> tuple[bool, Set[str]]:
    """Whether since then there were only words written in paragraphs that are none of those which the outline and the notes
    know; and the styles of these paragraphs."""
    if before is None:
        return False, frozenset()
    change = diff(before.report.blocks, report.blocks)
    blocks = (*before.report.blocks[change.first : change.old_end], *report.blocks[change.first : change.new_end])
    levels = report.styles.levels
    quiet = not change.shift and all(
        type(one) is Paragraph and one.style not in levels and one.listed is None and one.caption is None
        for one in blocks
    )
    return quiet, {one.style for one in blocks if type(one) is Paragraph}


_EMPTY = TableShown()
_SHOWN = Parts(
    TableShown,
    {
        "recipe": Single(Recipe, _EMPTY.recipe),
        "page": Single(str, _EMPTY.page),
        "pages": Single(int, _EMPTY.pages),
        "set": Single(Measures, _EMPTY.set),
        "why": Single(str, _EMPTY.why),
        "issuance": Single(Issuance, _EMPTY.issuance),
        "lines": ListOf(Line),
        "differences": ListOf(DifferenceShown),
        "renumbered": ListOf(RenumberingShown),
        "own": ListOf(Standing),
    },
)

FOLLOWERS = (Follower("tables", _tables, MapOf(_SHOWN)),)
