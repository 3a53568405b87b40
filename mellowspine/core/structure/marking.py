"""Marking: what gives paragraphs that were found by their looks their styles, and takes typed numbers out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from ..report.blocks import Paragraph
from ..report.elements import attribute_of
from ..report.numbering import Numbering
from ..report.plan import Cut, Plan, Set, Step, carry_out
from ..report.report import Report
from .by_hand import Found
from .formatting import mostly_as_style
from .outline import outline
from .rules import LookRule, given_to
from .rungs import reasons_in_words
from .traits import Face
from .typed_numbers import TypedNumber, counting, typed_number


class Marked(NamedTuple):
    """Paragraphs of one look or rule, and the style that they get (None: they stay as they are).

    ``why``: from what it was made, in words; ``face``: how the first of them is set; ``numbered``: whether numbers are
    typed in front of them. ``left``: paragraphs that it asks for and others get, since these ask for
    more: by name of the others, how many. ``fault``: why it takes none.
    """

    key: str
    name: str
    style: str | None
    members: tuple[str, ...]
    why: str
    face: Face | None = None
    numbered: bool = False
    left: tuple[tuple[str, int], ...] = ()
    fault: str = ""


def assigned(found: Found, rules: Sequence[LookRule] = (), proposals: bool = True) -> list[Marked]:
    """Who gets what: by proposals, and by rules of the person's own. Of all that ask for a paragraph the narrowest has it."""
    faults = {id(rule): fault for rule in rules if (fault := _fault(rule, found))}
    sound = [rule for rule in rules if id(rule) not in faults]
    traits = dict(found.traits())
    given = dict(given_to(sound, traits.items()))
    to: dict[str, str] = {}
    marked = []
    for one in found.proposals if proposals else ():
        kept = tuple(id for id in one.members if id not in given or len(given[id].wants) < len(one.wants))
        for member in kept:
            given.pop(member, None)
            to[member] = one.name
        face = traits[one.members[0]].face
        marked.append(
            Marked(one.key, one.name, one.style, kept, reasons_in_words(one.reasons), face, "number" in one.wants)
        )
    to |= {id: rule.name for id, rule in given.items()}
    for number, rule in enumerate(rules):
        members = tuple(one for one, by in given.items() if by is rule)
        others = (
            to[one] for one, its in traits.items() if one in to and given.get(one) is not rule and rule.matches(its)
        )
        left = Counter(others) if rule in sound else Counter()
        first = traits[members[0]].face if members else None
        numbered = any(traits[one].typed for one in members)
        fault = faults.get(id(rule), "")
        marked.append(
            Marked(f"rule-{number}", rule.name, rule.style, members, "", first, numbered, tuple(left.items()), fault)
        )
    return marked


def _fault(rule: LookRule, found: Found) -> str:
    known = [its for _, its in found.traits()]
    if len(known) > 1 and all(rule.matches(its) for its in known):
        return f"The rule “{rule.name}” would take all {len(known)} paragraphs; ask for more that they have in common."
    return ""


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


def numbers_taken(
    report: Report, wanted: Mapping[str, str], schemes: Mapping[str, Numbering], compare: bool = True
) -> Numbers:
    """The typed numbers that marking takes out, and, if ``compare``, how they differ from those that the numbering makes.

    Where the report numbers no headings, that is the scheme that comes nearest.
    """
    headings = numbers_typed(report, wanted)
    if not headings:
        return Numbers({}, None, ())
    on = any(level.on for level in report.numbering.levels)
    scheme = None if on else scheme_for(headings.values())
    typed = {id: one.label for id, one in headings.items()}
    if not compare:
        return Numbers(typed, scheme, ())
    numbering = schemes[scheme] if scheme else report.numbering
    after = carry_out(mark(report, wanted), report)
    made = {heading.id: heading.number for heading in outline(Report("", after.blocks, after.styles, numbering))}
    differ = tuple(
        (id, label, made.get(id, "")) for id, label in typed.items() if _bare(label) != _bare(made.get(id, ""))
    )
    return Numbers(typed, scheme, differ)


def _bare(number: str) -> str:
    return number.casefold().strip(" .:)(–—-")
