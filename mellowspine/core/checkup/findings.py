"""The check-up: structural faults of a report, each with its place, why it matters, and, where one exists, a remedy.

A kind of finding is a module of ``checkup/kinds/``: it says how its findings are found and what its remedy does, and makes
itself known with ``add_check``. What is found in single blocks is found again only where blocks have changed; all else,
only if something has changed that it looks at.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

from ..pages.pages import Pages, paginate
from ..pages.typefaces import Typefaces
from ..report.blocks import Block, Paragraph
from ..report.numbering import SCHEMES
from ..report.plan import Plan, Remove, Set, carry_out
from ..report.report import Report
from ..report.stretch import stretch
from ..report.styles import StyleSheet
from ..structure.by_hand import Found, find_by_hand
from ..structure.outline import Outline, outline


class Finding(NamedTuple):
    """``id`` stays as long as the fault is there; ``place`` is the id of its block, ``text`` says what is wrong with it."""

    id: str
    kind: str
    place: str
    text: str


@dataclass(frozen=True)
class State:
    """What findings are looked for in: a report and what follows from it."""

    report: Report
    headings: Outline
    pages: Pages
    found: Found
    removed: Callable[[str], str] = lambda id: ""
    """What a place was that is no longer there, and who removed it, in words; empty if that is not known."""


class Remedy(NamedTuple):
    """What mends findings: a plan, and a numbering scheme that is to be turned on with it."""

    plan: Plan
    scheme: str | None = None


NewIds = Iterator[str]
FoundHere = Iterable[tuple[str, str]]
"""Pairs of the id of a block and what is wrong with it."""


@dataclass(frozen=True)
class Check:
    """A kind of finding. ``name`` says in a few words what is wrong, ``why`` in one sentence why that matters.

    Of ``in_block`` and ``in_report`` it has one: what is wrong with a block by itself (None if nothing), or all that is
    wrong in a report; then ``looks_at`` names what of it the answer depends on. ``remedy`` mends some of its findings at
    once, given their places and ids for new blocks; ``saying`` is what the button for it says.
    """

    kind: str
    name: str
    why: str
    in_block: Callable[[Block, StyleSheet], str | None] | None = None
    in_report: Callable[[State], FoundHere] | None = None
    looks_at: Callable[[State], tuple[Any, ...]] = lambda state: (state.report.blocks, state.headings)
    remedy: Callable[[State, Sequence[str], NewIds], Remedy] | None = None
    saying: str = ""


CHECKS: dict[str, Check] = {}
"""All kinds of finding, in the order in which they are shown."""


def add_check(check: Check) -> None:
    """Makes a kind known. Raises ValueError if there is one of this name."""
    if check.kind in CHECKS:
        raise ValueError(f"there is a kind of finding “{check.kind}” already")
    CHECKS[check.kind] = check


@dataclass(frozen=True)
class Checked:
    """What was found, and from what."""

    state: State
    blocks: Sequence[tuple[int, tuple[Finding, ...]]]
    """What was found in blocks by themselves, with their indexes."""
    kinds: Mapping[str, tuple[tuple[Any, ...], tuple[Finding, ...]]]
    """By kind of what is found in the report as a whole: what it was found from, and the findings."""
    findings: tuple[Finding, ...]


def check(state: State, before: Checked | None = None) -> Checked:
    """All findings, by kind and then in reading order. ``before``, of an earlier state, changes nothing but the time."""
    blocks = _in_blocks(state.report, before)
    kinds = {}
    for one in CHECKS.values():
        if one.in_report is None:
            continue
        seen = one.looks_at(state)
        old = before.kinds[one.kind] if before else None
        if old and all(now is then for now, then in zip(seen, old[0], strict=True)):
            kinds[one.kind] = (seen, old[1])
        else:
            kinds[one.kind] = (seen, tuple(_finding(one.kind, *pair) for pair in one.in_report(state)))
    single: dict[str, list[Finding]] = {}
    for _, here in blocks:
        for finding in here:
            single.setdefault(finding.kind, []).append(finding)
    findings = tuple(
        finding for kind in CHECKS for finding in (kinds[kind][1] if kind in kinds else single.get(kind, ()))
    )
    return Checked(state, blocks, kinds, before.findings if before and before.findings == findings else findings)


def _finding(kind: str, place: str, text: str) -> Finding:
    return Finding(f"{kind} {place}", kind, place, text)


def _in_blocks(report: Report, before: Checked | None) -> Sequence[tuple[int, tuple[Finding, ...]]]:
    checks = [(one.kind, one.in_block) for one in CHECKS.values() if one.in_block]

    def here(block: Block) -> tuple[Finding, ...]:
        texts = ((kind, look(block, report.styles)) for kind, look in checks)
        return tuple(_finding(kind, block.id, text) for kind, text in texts if text is not None)

    if before is None or before.state.report.styles != report.styles:
        return [(index, found) for index, block in enumerate(report.blocks) if (found := here(block))]
    earlier = before.state.report.blocks
    change = stretch(earlier, report.blocks)
    if not change:
        return before.blocks
    first, rest = (bisect_left(before.blocks, (at,)) for at in (change.first, change.old_end))
    known = {id(earlier[index]): found for index, found in before.blocks[first:rest]}
    same = {id(block) for block in earlier[change.first : change.old_end]}
    new = (
        (index, found)
        for index, block in enumerate(report.blocks[change.first : change.new_end], change.first)
        if (found := known.get(id(block), ()) if id(block) in same else here(block))
    )
    moved = ((index + change.shift, found) for index, found in before.blocks[rest:])
    return [*before.blocks[:first], *new, *moved]


def remedy(checked: Checked, kind: str, places: Sequence[str], ids: NewIds) -> Remedy | None:
    """What mends findings of a kind at these places; None if nothing does. Places where nothing is wrong any more are
    left alone."""
    one = CHECKS.get(kind)
    if one is None or one.remedy is None:
        return None
    wanted = {*places}
    there = [finding.place for finding in checked.findings if finding.kind == kind and finding.place in wanted]
    return one.remedy(checked.state, there, ids)


def state_of(report: Report, typefaces: Typefaces) -> State:
    """What findings are looked for in, for a report of which nothing is known yet."""
    headings = outline(report)
    return State(report, headings, paginate(report, typefaces, None, headings), find_by_hand(report))


def mended(state: State, kind: str, ids: NewIds, typefaces: Typefaces) -> State | None:
    """The state after all remedies of a kind; None if nothing mends it."""
    checked = check(state)
    made = remedy(checked, kind, [finding.place for finding in checked.findings], ids)
    if made is None:
        return None
    numbering = SCHEMES[made.scheme] if made.scheme else state.report.numbering
    return state_of(replace(carry_out(made.plan, state.report), numbering=numbering), typefaces)


# --- What kinds share ---


def quoted(text: str, most: int = 60) -> str:
    """Words of a report as they are quoted in a sentence."""
    words = " ".join(text.split())
    return f"“{words if len(words) <= most else words[: most - 1].rstrip() + '…'}”"


def as_heading(block: Block, styles: StyleSheet) -> Paragraph | None:
    """A block as a heading by its style; None if it is none."""
    return block if type(block) is Paragraph and block.style in styles.levels else None


def blocks_at(state: State, places: Iterable[str]) -> Iterator[Block]:
    """The blocks of the text itself with these ids, in reading order."""
    wanted = {*places}
    return (block for block in state.report.blocks if block.id in wanted)


def paragraphs_at(state: State, places: Iterable[str]) -> Iterator[Paragraph]:
    """The paragraphs among these."""
    return (block for block in blocks_at(state, places) if type(block) is Paragraph)


def without_words(state: State, places: Sequence[str]) -> Plan:
    """The plan that takes paragraphs without words out; where there is nothing else, the last of them becomes body text."""
    empty = {paragraph.id: paragraph.text for paragraph in paragraphs_at(state, places)}
    last: Plan = ()
    if empty and len(empty) == len(state.report.blocks):
        last = (Set(empty.popitem()[0], {"style": state.report.styles.role("body").id}),)
    return (Remove(tuple(empty), empty), *last) if empty else last
