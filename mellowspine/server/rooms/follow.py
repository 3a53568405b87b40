"""What follows from a report: structure, pages, tables. One follower for each thing that is computed.

A follower has a name. It computes its value from the report and from what others give, asked for by name, and is handed
its own value of before, with the report that this was of, so that work after an edit can be confined to the edit. What is
shown to browsers also says how a value changed: every browser holds a copy of it and keeps it up to date with what is
sent. One that fails keeps the value it had, and so do those that ask for it; all others go on.

Offsets that are shown count UTF-16 code units, as JavaScript does.
"""

from __future__ import annotations

import logging
from bisect import bisect_left
from collections.abc import Callable, Mapping, Sequence, Set
from dataclasses import astuple, dataclass, field, replace
from operator import itemgetter
from typing import Any, NamedTuple

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from mellowspine.core.checkup.findings import CHECKS, Checked, Finding, State, check
from mellowspine.core.pages.pages import Edge, Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import ATOM, Entry, Paragraph
from mellowspine.core.report.recipes import recipe_to_json
from mellowspine.core.report.report import Report
from mellowspine.core.report.stretch import stretch
from mellowspine.core.report.tables import Issued, Line
from mellowspine.core.structure.by_hand import Found, find_by_hand
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.marking import Marked, assigned
from mellowspine.core.structure.outline import Outline, outline
from mellowspine.core.structure.places import Notes, notes
from mellowspine.core.structure.rules import Rule
from mellowspine.core.tables.behind import Difference, behind
from mellowspine.core.tables.changing import pages_taken
from mellowspine.core.tables.kinds import Sources, build, pages_of, placed_tables, table_kind
from mellowspine.core.tables.own import Standing, standings, worded
from mellowspine.core.tables.renumbering import renumberings, sentence
from mellowspine.core.tables.setting import measures_of

from .causes import Causes
from .changes import changed_keys, splice

log = logging.getLogger(__name__)


class Of(NamedTuple):
    """A value, the state of the report that it was computed from, and what its follower looked at."""

    report: Report
    value: Any
    seen: tuple[Any, ...] | None = None


Known = Mapping[str, Of]
"""By name of the follower."""


@dataclass(frozen=True, slots=True)
class Given:
    """What the followers start from. ``issuances``: who brought each table up to date last, and when."""

    report: Report
    typefaces: Typefaces
    causes: Causes
    issuances: Mapping[str, Mapping[str, str | None]]
    rules: tuple[Rule, ...] = ()
    """Rules of the authors' own for what is to be marked."""
    set_aside: Mapping[str, tuple[str, str, str]] = field(default_factory=dict)
    """Findings that are to stay, by id: the reason, who said so, and when."""


class Failed(Exception):
    """A follower could not compute its value."""


class Round:
    """One computing of what follows from one state of a report."""

    def __init__(self, given: Given, before: Known) -> None:
        self.given, self._before = given, before
        self.known: dict[str, Of] = {}
        self._failed: set[str] = set()
        self.broken: list[str] = []
        """What could not be computed through its own fault, by name."""

    def __getitem__(self, name: str) -> Any:
        """What the follower with this name gives. Raises Failed if it cannot, which is logged where it began."""
        if name in self._failed:
            raise Failed(name)
        if name not in self.known:
            self._failed.add(name)  # until it is there: one that asks for itself fails rather than hangs
            follower, before = FOLLOWERS[name], self._before.get(name)
            try:
                seen = follower.looks_at(self) if follower.looks_at else None
                same = before is not None and seen is not None and before.seen is not None and _same(seen, before.seen)
                value = before.value if before and same else follower.compute(self, before)
            except Failed:
                raise
            except Exception as error:
                log.exception("“%s” of report “%s” could not be computed", name, self.given.report.title)
                self.broken.append(name)
                raise Failed(name) from error
            self._failed.discard(name)
            self.known[name] = Of(self.given.report, value, seen)
        return self.known[name].value

    def finish(self) -> None:
        """Computes all that has not been asked for; what failed is as it was before."""
        for name in FOLLOWERS:
            try:
                self[name]
            except Failed:
                if name in self._before:
                    self.known[name] = self._before[name]


def _same(seen: tuple[Any, ...], then: tuple[Any, ...]) -> bool:
    """Whether a follower would look at the very same; numbers are the same if they are equal."""
    return len(seen) == len(then) and all(
        one is other or (type(one) is int and one == other) for one, other in zip(seen, then, strict=True)
    )


@dataclass(frozen=True, slots=True)
class Follower:
    name: str
    compute: Callable[[Round, Of | None], Any]
    changes: Callable[[Any, Any], Any] | None = None
    """What brings an older value up to a newer one; None if nothing differs. Without it, no browser is shown the value."""
    empty: Any = ()
    """The value of a browser that has just come in."""
    looks_at: Callable[[Round], tuple[Any, ...]] | None = None
    """What the value follows from, if it is worth a look: where all of that is as before, the value is not computed again."""


def _outline(now: Round, before: Of | None) -> Outline:
    return outline(now.given.report, before and before[:2])


def _headings(now: Round, before: Of | None) -> list[tuple[str, int, str, str, str]]:
    """Id, level, number and text of every heading, and where somebody made an exception of it."""
    headings: Outline = now["outline"]
    if any(ATOM in heading.text for heading in headings):
        try:
            pages: Pages = now["pages"]
            headings = pages.worded
        except Failed:
            pass  # they can be read without the words of references in them
    return [(*heading[:4], heading.by_hand) for heading in headings]


def _headings_of(now: Round) -> tuple[Any, ...]:
    try:
        shown = now["pages"].report.shown
    except Failed:
        shown = None
    return now["outline"], shown


def _markers(now: Round, before: Of | None) -> Mapping[str, str]:
    return list_markers(now.given.report, before and before[:2])


def _noted(now: Round, before: Of | None) -> Notes:
    return notes(now.given.report, before and before[:2])


def _pages(now: Round, before: Of | None) -> Pages:
    return paginate(now.given.report, now.given.typefaces, before and before.value, now["outline"], now["noted"])


def _captions(now: Round, before: Of | None) -> Mapping[str, str]:
    """What stands in front of the words of each caption."""
    pages: Pages = now["pages"]
    return pages.report.captions


def _shown(now: Round, before: Of | None) -> Mapping[str, str]:
    """What references show, by core's ``shown_as``."""
    pages: Pages = now["pages"]
    return pages.report.shown


def _places(now: Round, before: Of | None) -> list[tuple[str, str, str, str, str]]:
    """Id, kind, label, number and words of every place that is no heading, in reading order."""
    pages: Pages = now["pages"]
    return [(*place[:5],) for place in pages.places.values() if place.kind != "heading"]


def _places_of(now: Round) -> tuple[Any, ...]:
    return (now["pages"].places,)


def _places_on(now: Round, before: Of | None) -> list[int]:
    """The page of each of these, counted from 1."""
    pages: Pages = now["pages"]
    return [pages.page_of_place(place) for place in pages.places.values() if place.kind != "heading"]


def _leads(now: Round, before: Of | None) -> list[tuple[str, str, str, str]]:
    """Links within the report and references: the paragraph, where it leads, what it shows, and its words."""
    noted: Notes = now["noted"]
    return [(one.id, lead.to, lead.shows, "" if lead.shows else lead.words) for _, one in noted for lead in one.leads]


def _leads_on(now: Round, before: Of | None) -> list[int]:
    """The page on which the paragraph of each of these begins."""
    pages: Pages = now["pages"]
    noted: Notes = now["noted"]
    return pages.pages_of((block, one.row) for block, one in noted for _ in one.leads)


def _cited(now: Round, before: Of | None) -> list[tuple[str, str, str]]:
    """Every citation: its id, the authority, and its words, in reading order."""
    pages: Pages = now["pages"]
    marked = pages.occurrences
    return marked.keep("cited, shown", (), lambda: [(one.at.id, one.of, one.at.words) for one in marked.citings])


def _cited_on(now: Round, before: Of | None) -> Sequence[int]:
    """The page of each of these, counted from 1."""
    pages: Pages = now["pages"]
    return pages.citing_pages


def _terms(now: Round, before: Of | None) -> list[tuple[str, tuple[Entry, ...], str]]:
    """Every stretch of words that is marked for the index: its id, its entries, and its words, in reading order."""
    pages: Pages = now["pages"]
    marked = pages.occurrences
    return marked.keep(
        "terms, shown", (), lambda: [(one.at.id, one.entries, one.at.words[:200]) for one in marked.indexings]
    )


def _terms_on(now: Round, before: Of | None) -> Sequence[int]:
    """The page on which each of these begins."""
    pages: Pages = now["pages"]
    return pages.indexing_pages[0]


def _rooms(now: Round, before: Of | None) -> Mapping[str, float]:
    """Room for heading numbers, by style."""
    pages: Pages = now["pages"]
    return pages.report.rooms


def _backs(now: Round, before: Of | None) -> dict[str, str]:
    """What stands beneath a block to lead back to the contents, by the block's id."""
    pages: Pages = now["pages"]
    says = pages.report.page.back_says
    return dict.fromkeys(pages.report.backs, says)


def _labels(now: Round, before: Of | None) -> list[str]:
    """The printed number of every page."""
    pages: Pages = now["pages"]
    return pages.labels[1:]


def _labels_of(now: Round) -> tuple[Any, ...]:
    pages: Pages = now["pages"]
    return len(pages), pages.front, pages.report.page


def _on_of(now: Round) -> tuple[Any, ...]:
    return now["outline"], now["pages"].starts


def _on(now: Round, before: Of | None) -> list[int]:
    """The page of every heading, counted from 1."""
    return pages_of(now["outline"], now["pages"])


def _edges(now: Round, before: Of | None) -> list[tuple[str, int]]:
    pages: Pages = now["pages"]
    if before is None or before.seen is None:
        return shown_edges(pages)
    old: Pages = before.seen[0]
    if pages.starts is not old.starts:
        return shown_edges(pages)
    # The pages begin as before: at other characters only of blocks that have changed.
    blocks = stretch(old.report.blocks, pages.report.blocks)
    boxes = stretch(old.boxes, pages.boxes)
    first, end = min(blocks.first, boxes.first), max(blocks.new_end, boxes.new_end)
    if blocks.shift or pages.report.shown is not old.report.shown or pages.report.captions is not old.report.captions:
        return shown_edges(pages)
    start, stop = (max(1, bisect_left(pages.starts, at, key=itemgetter(0))) for at in (first, end))
    return [*before.value[: start - 1], *shown_edges(pages, start, stop), *before.value[stop - 1 :]]


def shown_edges(pages: Pages, first: int = 1, end: int | None = None) -> list[tuple[str, int]]:
    """Block id and offset in it of the start of every page but the first, or of some of them (see ``Pages.edges``)."""
    return [(edge.block.id, _utf16(edge)) for edge in pages.edges(first, end)]


def _utf16(edge: Edge) -> int:
    block, offset = edge.block, edge.offset
    return len(block.text[:offset].encode("utf-16-le")) // 2 if isinstance(block, Paragraph) else offset


@dataclass(frozen=True, slots=True)
class TableView:
    """A placed table: what is to be known about it, its issued lines, and how each differs from the text."""

    about: Mapping[str, Any] = field(default_factory=dict)
    lines: Sequence[Line] = ()
    differences: Sequence[list[Any]] = ()
    """[kinds, issued line or None, fresh line or None, cause or None, source of the line before it or None]"""
    follows: Sequence[list[Any]] = ()
    """What merely renumbers lines, each as [sentence, sources of the lines]."""
    own: Sequence[Standing] = ()
    """Own words, and how they stand to the text."""
    plain: Sequence[Line] = field(default=(), compare=False)
    """The lines that the text gives, from which the differences were found."""
    given: Issued | None = field(default=None, compare=False)
    """The table as it was issued."""
    seen: tuple[Any, ...] = field(default=(), compare=False)
    """What its lines were made from, but for the words of blocks."""

    def changes(self, old: TableView) -> dict[str, Any] | None:
        found = {
            "about": {name: value for name, value in self.about.items() if old.about.get(name) != value} or None,
            "lines": splice(old.lines, self.lines),
            "differences": splice(old.differences, self.differences),
            "follows": splice(old.follows, self.follows),
            "own": splice(old.own, self.own),
        }
        return {name: value for name, value in found.items() if value is not None} or None


def differences_view(differences: Sequence[Difference], causes: Causes) -> list[list[Any]]:
    return [
        [one.kinds, one.issued, one.fresh, causes.of(one.line.source, one.kinds), one.behind] for one in differences
    ]


def follows_view(differences: Sequence[Difference], causes: Causes) -> list[list[Any]]:
    """Which lines are renumbered since something else has changed, in words."""
    found = []
    for one in renumberings(differences):
        known = {cause.line.source: causes.of(cause.line.source, cause.kinds) for cause in one.causes}
        who = {source: cause["who"] for source, cause in known.items() if cause}
        found.append([sentence(one, who), [difference.line.source for difference in one.lines]])
    return found


def _tables(now: Round, before: Of | None) -> dict[str, TableView]:
    report, pages = now.given.report, now["pages"]
    old: Mapping[str, TableView] = before.value if before else {}
    quiet, written = _written(report, before)
    # Besides the recipe, its place, and the words of blocks.
    of_all = (
        report.page, report.styles, report.numbering, report.labels, report.authorities, report.categories, report.sees, report.title,
        now["outline"], now["headings"], now["on"], now["labels"], now["noted"], pages.captions, pages.starts,
        now["cited_on"], now["terms_on"],
    )  # fmt: skip
    result = {}
    for key, (at, _) in placed_tables(report.blocks).items():
        issued = report.tables[key]
        known = old.get(key)
        seen = (issued.recipe, at, *of_all)
        still = (
            known is not None and _same(seen, known.seen) and not any(map(written.__contains__, issued.recipe.feeds))
        )
        sources = Sources(pages.worded, pages, now["on"], at)
        plain = (
            known.plain
            if known and still and quiet and table_kind(issued.recipe.kind).from_structure
            else build(issued.recipe, sources)
        )
        measured = known.about["set"] if known and known.given is issued and known.seen[2] is report.page else None
        about = {"recipe": recipe_to_json(issued.recipe), "page": pages.label(pages.page_of(at)), "pages": pages_taken(pages, at),
                 "set": measured or astuple(measures_of(issued, report, now.given.typefaces)),
                 "why": "" if plain else table_kind(issued.recipe.kind).why(issued.recipe, sources),
                 **now.given.issuances[key]}  # fmt: skip
        if known and known.given is issued and known.plain == plain:
            result[key] = replace(known, about=about, plain=plain, seen=seen)
            continue
        differences = behind(issued.lines, worded(plain, issued.own))
        causes = now.given.causes
        shown, follows = differences_view(differences, causes), follows_view(differences, causes)
        result[key] = TableView(about, issued.lines, shown, follows, standings(issued.own, plain), plain, issued, seen)
    return result


def _written(report: Report, before: Of | None) -> tuple[bool, Set[str]]:
    """Whether since then there were only words written in paragraphs that are none of those which the outline and the notes
    know; and the styles of these paragraphs."""
    if before is None:
        return False, frozenset()
    change = stretch(before.report.blocks, report.blocks)
    blocks = (*before.report.blocks[change.first : change.old_end], *report.blocks[change.first : change.new_end])
    levels = report.styles.levels
    quiet = not change.shift and all(
        type(one) is Paragraph and one.style not in levels and one.listed is None and one.caption is None
        for one in blocks
    )
    return quiet, {one.style for one in blocks if type(one) is Paragraph}


def _changed_tables(old: Mapping[str, TableView], new: Mapping[str, TableView]) -> dict[str, Any] | None:
    found = {key: table.changes(old.get(key, TableView())) for key, table in new.items()}
    return {key: change for key, change in found.items() if change} | {
        key: None for key in old if key not in new
    } or None


def _found(now: Round, before: Of | None) -> Found:
    """Headings made by hand, and what else was."""
    return find_by_hand(now.given.report, before and before.value)


class Looks(NamedTuple):
    """What was found, grouped by look and by rules; and from what it was grouped."""

    given: tuple[Any, ...]
    shown: list[list[Any]]
    """Each as core's ``Marked``."""


def _looks(now: Round, before: Of | None) -> Looks:
    found: Found = now["found"]
    rules, aside = now.given.rules, now.given.set_aside
    # Rules may take any paragraph; without them, only what was found counts.
    given = (found.proposals, rules, aside, found.seen if rules else None)
    known: Looks | None = before.value if before else None
    if known and all(new is old for new, old in zip(given, known.given, strict=True)):
        return known
    marked = [_without(one, aside) if aside else one for one in assigned(found, rules)]
    return Looks(given, [[*one] for one in marked if one.members or one.key.startswith("rule-")])


def _without(one: Marked, aside: Mapping[str, Any]) -> Marked:
    """A look without the paragraphs that somebody said are to stay as they are."""
    return one._replace(members=tuple(id for id in one.members if f"by-hand {id}" not in aside))


def _changed_looks(old: Looks | None, new: Looks) -> dict[str, Any] | None:
    return splice(old.shown if old else (), new.shown)


def _leftovers(now: Round, before: Of | None) -> dict[str, list[str]]:
    """The first paragraph of each list of contents that was typed, and of each row of empty paragraphs."""
    found: Found = now["found"]
    return {
        "contents": [one.title or one.lines[0] for one in found.contents],
        "rows": [row.ids[0] for row in found.rows],
    }


def _checked(now: Round, before: Of | None) -> Checked:
    state = State(now.given.report, now["outline"], now["pages"], now["found"], now.given.causes.removed)
    return check(state, before and before.value)


def _findings(now: Round, before: Of | None) -> Sequence[Finding]:
    checked: Checked = now["checked"]
    return checked.findings


def _kinds_of_finding(now: Round, before: Of | None) -> dict[str, tuple[str, str, str]]:
    """Of each kind its name, why it matters, and what the button for its remedy says; nothing if there is none."""
    return KINDS_OF_FINDING


KINDS_OF_FINDING = {one.kind: (one.name, one.why, one.saying) for one in CHECKS.values()}


def _set_aside(now: Round, before: Of | None) -> dict[str, tuple[str, str, str]]:
    aside = now.given.set_aside
    return {finding.id: aside[finding.id] for finding in now["findings"] if finding.id in aside} if aside else {}


FOLLOWERS = {
    follower.name: follower
    for follower in (
        Follower("outline", _outline),
        Follower("headings", _headings, splice, looks_at=_headings_of),
        Follower("markers", _markers, changed_keys, {}),
        Follower("noted", _noted),
        Follower("pages", _pages),
        Follower("captions", _captions, changed_keys, {}),
        Follower("shown", _shown, changed_keys, {}),
        Follower("places", _places, splice, looks_at=_places_of),
        Follower("places_on", _places_on, splice),
        Follower("leads", _leads, splice),
        Follower("leads_on", _leads_on, splice),
        Follower("cited", _cited, splice),
        Follower("cited_on", _cited_on, splice),
        Follower("terms", _terms, splice),
        Follower("terms_on", _terms_on, splice),
        Follower("rooms", _rooms, changed_keys, {}),
        Follower("backs", _backs, changed_keys, {}),
        Follower("labels", _labels, splice, looks_at=_labels_of),
        Follower("on", _on, splice, looks_at=_on_of),
        Follower("edges", _edges, splice, looks_at=lambda now: (now["pages"],)),
        Follower("tables", _tables, _changed_tables, {}),
        Follower("found", _found),
        Follower("looks", _looks, _changed_looks, None),
        Follower("leftovers", _leftovers, changed_keys, {}),
        Follower("checked", _checked),
        Follower("findings", _findings, splice),
        Follower("checks", _kinds_of_finding, changed_keys, {}),
        Follower("set_aside", _set_aside, changed_keys, {}),
    )
}


def changes(old: Known, new: Known) -> dict[str, Any]:
    """What brings a browser that was shown ``old`` up to ``new``, by name; nothing where nothing differs."""
    found = {
        name: follower.changes(old[name].value if name in old else follower.empty, new[name].value)
        for name, follower in FOLLOWERS.items()
        if follower.changes and name in new
    }
    return {name: value for name, value in found.items() if value}
