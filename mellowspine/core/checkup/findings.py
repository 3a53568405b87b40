"""The check-up: structural faults of a report, each with its place, why it matters, and, where one exists, a remedy.

A kind of finding is a module of ``checkup/kinds/``: it says how its findings are found and what its remedy does, and makes
itself known with ``add_check``. What is found in single blocks is found again only where blocks have changed; all else,
only if something has changed that it looks at.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from operator import itemgetter
from typing import Any, NamedTuple

from ..pages.pages import Pages, paginate
from ..pages.typefaces import Typefaces
from ..report.blocks import Block, Paragraph
from ..report.diff import Diff, diff
from ..report.formulas import FORMULA
from ..report.numbering import SCHEMES
from ..report.plan import Plan, Remove, Set, carry_out
from ..report.report import Report
from ..report.styles import StyleSheet
from ..structure.by_hand import Found, find_by_hand
from ..structure.outline import Outline, outline
from ..structure.repeated import Repeated, repeated


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
    repeated: Repeated
    removed: Callable[[str], str] = lambda id: ""
    """What a place was that is no longer there, and who removed it, in words; empty if that is not known."""
    renamed: Mapping[str, str] = field(default_factory=dict)
    """What headings were called before somebody renamed them, as far as that is known."""
    kept: tuple[tuple[str, str], ...] = ()
    """Words that were written in what another had taken out: under which name they are kept, and what is to be said of them."""


class Remedy(NamedTuple):
    """What mends findings: a plan, and a numbering scheme that is to be turned on with it."""

    plan: Plan
    scheme: str | None = None


NewIds = Iterator[str]
FoundHere = Iterable[tuple[str, str]]
"""Pairs of the id of a block and what is wrong with it."""


@dataclass(frozen=True)
class InWords:
    """How a kind of finding is found that reads the words of blocks and judges them by the rest of the report.

    Words are read again only where blocks have changed, and judged again only there, or where ``looks_at`` has changed.
    """

    read: Callable[[State, int], Any]
    """What in the block with this index is to be judged, from itself, from what stands next to it (``beside``), and from the
    report's styles and labels; nothing (None, or what is empty) if there is nothing."""
    judge: Callable[[Any, Any], FoundHere]
    """The findings, given what it is judged by and what was read of a block."""
    looks_at: Callable[[State], tuple[Any, ...]] = lambda state: ()
    known: Callable[[State], Any] = lambda state: None
    """What it is judged by, made of what it looks at."""


@dataclass(frozen=True)
class Judged:
    """What was read and judged of a report's blocks: for each that has something its index, what, and the findings."""

    looked_at: tuple[Any, ...]
    known: Any
    blocks: Sequence[tuple[int, Any, tuple[Finding, ...]]]
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Check:
    """A kind of finding. ``name`` says in a few words what is wrong, ``why`` in one sentence why that matters.

    Of ``in_block``, ``in_words`` and ``in_report`` it has one: what is wrong with a block by itself (None if nothing); what in
    the words of some blocks is to be judged by the rest of the report; or all that is wrong in a report, and then ``looks_at``
    names what of it the answer depends on. ``remedy`` mends some of its findings at
    once, given their places and ids for new blocks; ``label`` is what stands on the button for it.
    """

    kind: str
    name: str
    why: str
    in_block: Callable[[Block, StyleSheet], str | None] | None = None
    in_words: InWords | None = None
    in_report: Callable[[State], FoundHere] | None = None
    looks_at: Callable[[State], tuple[Any, ...]] = lambda state: (state.report.blocks, state.headings)
    remedy: Callable[[State, Sequence[str], NewIds], Remedy] | None = None
    label: str = ""
    hinders: str = ""
    """Where it keeps a PDF from being of use to those who do not see it: the clause of ISO 14289-1 that it goes against."""


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
    words: Mapping[str, Judged]
    """By kind of what is found in words."""
    findings: tuple[Finding, ...]


def check(state: State, before: Checked | None = None) -> Checked:
    """All findings, by kind and then in reading order. ``before``, of an earlier state, changes nothing but the time."""
    change = diff(before.state.report.blocks, state.report.blocks) if before else None
    blocks = _in_blocks(state.report, before, change)
    read_anew = _with_neighbours(change, state) if change else change
    kinds, words = {}, {}
    for one in CHECKS.values():
        if one.in_words:
            words[one.kind] = _in_words(one.kind, one.in_words, state, before, read_anew)
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
    found = {kind: one[1] for kind, one in kinds.items()} | {kind: one.findings for kind, one in words.items()} | single
    findings = tuple(finding for kind in CHECKS for finding in found.get(kind, ()))
    return Checked(state, blocks, kinds, words, before.findings if before and before.findings == findings else findings)


def _finding(kind: str, place: str, text: str) -> Finding:
    return Finding(f"{kind} {place}", kind, place, text)


def beside(state: State, index: int) -> list[Block]:
    """What stands next to a block, in front of it and behind it; empty paragraphs are left out of account."""
    blocks, seen = state.report.blocks, state.found.seen
    front = next((at for at in range(index - 1, -1, -1) if seen[at] is not False), None)
    after = next((at for at in range(index + 1, len(blocks)) if seen[at] is not False), None)
    return [blocks[at] for at in (front, after) if at is not None]


def _with_neighbours(change: Diff, state: State) -> Diff:
    """The stretch with all to which something in it is ``beside``."""
    seen, start, end = state.found.seen, change.first - 1, change.new_end
    while start > 0 and seen[start] is False:
        start -= 1
    while end < len(seen) and seen[end] is False:
        end += 1
    start, end = max(start, 0), min(end + 1, len(seen))
    return Diff(start, end - change.shift, end)


def _in_words(kind: str, how: InWords, state: State, before: Checked | None, change: Diff | None) -> Judged:
    old = before.words[kind] if before else None
    looked_at = how.looks_at(state)
    same = old is not None and all(now is then for now, then in zip(looked_at, old.looked_at, strict=True))
    known = old.known if old and same else how.known(state)

    def read(first: int, end: int) -> list[tuple[int, Any, tuple[Finding, ...]]]:
        found = ((index, how.read(state, index)) for index in range(first, end))
        return [(index, words, judge(words)) for index, words in found if words]

    def judge(words: Any) -> tuple[Finding, ...]:
        return tuple(_finding(kind, *found) for found in how.judge(known, words))

    report, earlier = state.report, before.state.report if before else None
    if old is None or earlier is None or earlier.styles != report.styles or earlier.labels != report.labels:
        blocks: Sequence[tuple[int, Any, tuple[Finding, ...]]] = read(0, len(report.blocks))
    else:
        blocks = old.blocks if same else [(index, words, judge(words)) for index, words, _ in old.blocks]
        if change:
            first, rest = (bisect_left(blocks, at, key=itemgetter(0)) for at in (change.first, change.old_end))
            moved = blocks[rest:]
            if change.shift:
                moved = [(index + change.shift, words, found) for index, words, found in moved]
            new = read(change.first, change.new_end)
            if same and not change.shift and not new and first == rest:
                return replace(old, looked_at=looked_at)
            blocks = [*blocks[:first], *new, *moved]
        elif same:
            return old
    return Judged(looked_at, known, blocks, tuple(one for _, _, found in blocks for one in found))


def read_words(state: State, kind: str) -> Iterator[Any]:
    """What a kind of finding that reads words has to judge in a report, in reading order."""
    how = CHECKS[kind].in_words
    assert how
    found = (how.read(state, index) for index in range(len(state.report.blocks)))
    return (words for words in found if words)


def _in_blocks(
    report: Report, before: Checked | None, change: Diff | None
) -> Sequence[tuple[int, tuple[Finding, ...]]]:
    checks = [(one.kind, one.in_block) for one in CHECKS.values() if one.in_block]

    def here(block: Block) -> tuple[Finding, ...]:
        texts = ((kind, look(block, report.styles)) for kind, look in checks)
        return tuple(_finding(kind, block.id, text) for kind, text in texts if text is not None)

    if before is None or change is None or before.state.report.styles != report.styles:
        return [(index, found) for index, block in enumerate(report.blocks) if (found := here(block))]
    earlier = before.state.report.blocks
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
    pages = paginate(report, typefaces, None, headings)
    return State(report, headings, pages, find_by_hand(report), repeated(report))


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
    words = " ".join(text.replace(FORMULA, "…").split())
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
