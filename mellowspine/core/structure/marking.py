"""Marking: what gives paragraphs found by their looks their styles, and exchanges what was made by hand around them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from ..report.blocks import Block, PageBreak, Paragraph, PlacedTable
from ..report.elements import attribute_of
from ..report.numbering import Numbering
from ..report.plan import Cut, Insert, Plan, Remove, Set, Step, carry_out
from ..report.report import Report
from .by_hand import Found
from .leftovers import TypedContents
from .looks import mostly_as_style
from .outline import outline
from .rules import Rule, RuleError, given_to, narrowest_first
from .typed_numbers import TypedNumber, counting, typed_number


class Marked(NamedTuple):
    """Paragraphs of one look or rule: its name, the style that they get (None: they stay as they are), and their ids."""

    name: str
    style: str | None
    members: tuple[str, ...]


def assigned(found: Found, rules: Sequence[Rule] = (), proposals: bool = True) -> list[Marked]:
    """Who gets what: by proposals, and by rules of the person's own.

    Of all that ask for a paragraph the narrowest has it. Raises RuleError where a rule would take all of the text.
    """
    for rule in rules:
        _check_reach(rule, found)
    given = dict(given_to(rules, found.traits()))
    marked = []
    for one in found.proposals if proposals else ():
        kept = tuple(id for id in one.members if id not in given or len(given[id].wants) <= len(one.wants))
        for id in kept:
            given.pop(id, None)
        marked.append(Marked(one.name, one.style, kept))
    for rule in narrowest_first(rules):
        marked.append(Marked(rule.name, rule.style, tuple(one for one, by in given.items() if by is rule)))
    return marked


def _check_reach(rule: Rule, found: Found) -> None:
    known = [its for _, its in found.traits()]
    if len(known) > 1 and all(rule.matches(its) for its in known):
        raise RuleError(
            f"The rule “{rule.name}” would take all {len(known)} paragraphs; ask for more that they have in common."
        )


@dataclass(frozen=True, slots=True)
class Numbers:
    """Typed numbers that are taken out, by id of their paragraph; and what stands there instead, if a report is numbered
    by ``scheme``, where that is not the same."""

    typed: Mapping[str, str]
    scheme: str | None
    differ: tuple[tuple[str, str, str], ...]
    """Id, number as typed, number as it will be."""


def mark(report: Report, wanted: Mapping[str, str], numbers: bool = True) -> Plan:
    """The plan that gives paragraphs styles, by id: without the formatting by hand that most of each has, and as headings
    without numbers or tabs typed in front, if ``numbers``."""
    typed = numbers_typed(report, wanted) if numbers else {}
    return tuple(
        step
        for block in report.blocks
        if type(block) is Paragraph and (style := wanted.get(block.id)) is not None and style in report.styles
        for step in _marked(block, style, report.styles[style].outline_level is not None, typed.get(block.id))
    )


def numbers_typed(report: Report, wanted: Mapping[str, str]) -> dict[str, TypedNumber]:
    """The numbers typed in front of what becomes a heading, by id; those that do not count on are none."""
    levels = report.styles.levels
    there = [
        (block.id, typed)
        for block in report.blocks
        if type(block) is Paragraph and wanted.get(block.id) in levels and (typed := typed_number(block.text))
        if block.text[typed.end :].strip()
    ]
    counted = {id for members in counting(there).values() for id in members}
    return {id: typed for id, typed in there if id in counted}


def _marked(paragraph: Paragraph, style: str, heading: bool, typed: TypedNumber | None) -> Iterator[Step]:
    yield Set(paragraph.id, {attribute_of(Paragraph, "style"): style})
    yield from mostly_as_style(paragraph)
    if not heading:
        return
    text = paragraph.text
    start = typed.end if typed else len(text) - len(text.lstrip())
    end = len(text.rstrip())
    if end < len(text) and start < end:
        yield Cut(paragraph.id, end, text[end:])
    if start and start < end:
        yield Cut(paragraph.id, 0, text[:start])


def scheme_for(typed: Iterable[TypedNumber]) -> str | None:
    """The numbering scheme that comes nearest to typed numbers; None if there are none."""
    known = list(typed)
    if not known:
        return None
    prefixes = {one.prefix for one in known}
    if prefixes & {"part", "chapter"}:
        return "chapters"
    if prefixes & {"article", "§"}:
        return "legal"
    return "outline" if sum(one.form != "decimal" for one in known) * 2 > len(known) else "decimal"


def numbers_taken(report: Report, wanted: Mapping[str, str], schemes: Mapping[str, Numbering]) -> Numbers:
    """The typed numbers that marking takes out, and how they differ from those that the numbering makes.

    Where the report numbers no headings, that is the scheme that comes nearest.
    """
    headings = numbers_typed(report, wanted)
    on = any(level.on for level in report.numbering.levels)
    scheme = None if on else scheme_for(headings.values())
    numbering = schemes[scheme] if scheme else report.numbering
    after = carry_out(mark(report, wanted), report)
    made = {heading.id: heading.number for heading in outline(Report("", after.blocks, after.styles, numbering))}
    differ = tuple(
        (id, typed.label, made.get(id, ""))
        for id, typed in headings.items()
        if _bare(typed.label) != _bare(made.get(id, ""))
    )
    return Numbers({id: typed.label for id, typed in headings.items()}, scheme, differ)


def _bare(number: str) -> str:
    return number.casefold().strip(" .:)(–—-")


# --- What was made by hand around headings ---


def exchange_contents(report: Report, one: TypedContents, table: str, id: str) -> Plan:
    """The plan that puts a contents table, on pages of its own, into the place of one that was typed."""
    ids = (*((one.title,) if one.title else ()), *one.lines)
    first = next((at for at, block in enumerate(report.blocks) if block.id == ids[0]), None)
    if first is None:
        return ()
    last = next((at for at, block in enumerate(report.blocks) if block.id == ids[-1]), first)
    # Empty paragraphs in the list and around it made the pages that the table has of its own.
    while first > 0 and _is_empty(report.blocks[first - 1]):
        first -= 1
    while last + 1 < len(report.blocks) and _is_empty(report.blocks[last + 1]):
        last += 1
    gone = tuple(block.id for block in report.blocks[first : last + 1] if block.id in ids or _is_empty(block))
    behind = report.blocks[first - 1].id if first else None
    return (Insert((PlacedTable(id, table, own_page=True),), behind), Remove(gone))


def _is_empty(block: Block) -> bool:
    return type(block) is PageBreak or (type(block) is Paragraph and not block.text.strip())


def exchange_rows(report: Report, rows: Iterable[tuple[tuple[str, ...], bool]], ids: Iterator[str]) -> Plan:
    """The plan that takes rows of empty paragraphs out, with a page break in place of each that made a new page.

    ``rows``: the ids of each row, and whether it makes a new page; ``ids`` for the page breaks.
    """
    steps: list[Step] = []
    place = {block.id: at for at, block in enumerate(report.blocks)}
    for row, makes_page in rows:
        there = [id for id in row if id in place and _is_empty(report.blocks[place[id]])]
        if not there:
            continue
        behind = report.blocks[place[there[0]] + len(there)] if place[there[0]] + len(there) < len(place) else None
        style = report.styles[behind.style] if type(behind) is Paragraph else None
        if makes_page and behind is not None and not (style and style.new_page):
            at = place[there[0]]
            steps.append(Insert((PageBreak(next(ids)),), report.blocks[at - 1].id if at else None))
        steps.append(Remove(tuple(there)))
    return tuple(steps)
