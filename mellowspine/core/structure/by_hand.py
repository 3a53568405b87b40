"""Headings made by hand: paragraphs that look like headings and are not marked as such, grouped by look.

Nothing but what the eye goes by: a heading stands out from the text (larger, heavier, in capitals, underlined, with a
number of its own), is short, ends in no full stop, and has text beneath it. Which level a look is follows from typed
numbers, or else from size, weight and order. Every proposal says from what it was made.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from ..report.blocks import Block, Image, Paragraph
from ..report.report import Report
from ..report.stretch import stretch
from ..report.styles import Role, StyleSheet
from .leftovers import EmptyRow, TypedContents, empty_rows, typed_contents
from .rungs import Look, Reason, levels, marked, reasons_for
from .traits import Face, Traits, in_words, roman, traits_of

_CAPTION = re.compile(
    r"(?:figure|fig\.|table|plate|photo|photograph|chart|map|diagram|exhibit|illustration)\s+[\dIVXA-Z]", re.I
)
_QUOTED = ("“", "‘", '"', "'", "«", "„")
LARGER = 1.06
"""How many times the size of body text is larger. Common practice, no source."""
FEW = 2
"""So many neighbours of one look are headings with nothing under them; more are something else, such as an address."""


@dataclass(frozen=True)
class Proposal:
    """Paragraphs of one look, and the style that they are proposed for.

    ``wants`` are the traits in which they differ from body text, as a rule would ask for them; ``key`` names the look.
    """

    key: str
    name: str
    style: str
    level: int | None
    members: tuple[str, ...]
    wants: Mapping[str, Any]
    reasons: tuple[Reason, ...]


@dataclass(frozen=True)
class Found:
    """What was found in a report. ``traits``: of each block, None for what is no paragraph with words that could be a
    heading made by hand."""

    report: Report
    traits: Sequence[Traits | None]
    body: Face | None
    """How most of the text is set."""
    proposals: tuple[Proposal, ...]
    contents: tuple[TypedContents, ...]
    rows: tuple[EmptyRow, ...]

    @property
    def count(self) -> int:
        """Paragraphs that look like headings and are not marked as such."""
        return sum(len(one.members) for one in self.proposals)


def find_by_hand(report: Report, before: Found | None = None) -> Found:
    """The headings made by hand. ``before``, of an earlier state of the report, changes nothing but the time it takes."""
    if before and before.report is report:
        return before
    traits = _traits(report, before)
    body = _body(traits)
    contents = typed_contents(report, [its is not None and its.contents_line for its in traits])
    proposals = tuple(_proposals(report, traits, body, contents)) if body else ()
    return Found(report, traits, body, proposals, contents, empty_rows(report))


def _traits(report: Report, before: Found | None) -> Sequence[Traits | None]:
    styles = report.styles
    free = _free_styles(styles)
    if before is None or (before.report.styles is not styles and before.report.styles != styles):
        return [_of_block(block, styles, free) for block in report.blocks]
    change = stretch(before.report.blocks, report.blocks)
    if not change:
        return before.traits
    new = [_of_block(block, styles, free) for block in report.blocks[change.first : change.new_end]]
    if not change.shift and new == list(before.traits[change.first : change.old_end]):
        return before.traits
    return [*before.traits[: change.first], *new, *before.traits[change.old_end :]]


def _free_styles(styles: StyleSheet) -> frozenset[str]:
    """The styles of what could be a heading made by hand: body text, and styles of the author's own."""
    return frozenset(
        style.id
        for style in styles.values()
        if style.outline_level is None and style.marker is None and style.role in (None, "body")
    )


def _of_block(block: Block, styles: StyleSheet, free: frozenset[str]) -> Traits | None:
    if type(block) is not Paragraph or block.listed is not None:
        return None
    # A style that nobody knows is body text.
    if (styles[block.style].id not in free) or not block.text.strip():
        return None
    return traits_of(block, styles)


def _body(traits: Iterable[Traits | None]) -> Face | None:
    """The face in which most characters are set; None if there are no words."""
    lengths: dict[Face, int] = {}
    for its in traits:
        if its:
            lengths[its.face] = lengths.get(its.face, 0) + its.length
    return max(lengths, key=lengths.__getitem__, default=None)


def _stands_out(face: Face, body: Face) -> bool:
    """Whether a look is one of headings by itself. A slant, a colour or a place in the middle alone is not enough."""
    if face.size < body.size * 0.95 and not face.bold:
        return False
    return (
        face.size >= body.size * LARGER
        or (face.bold and not body.bold)
        or (face.capitals and not body.capitals)
        or (face.underline and not body.underline)
    )


def _hints(face: Face, body: Face) -> bool:
    """Whether a look could be one of headings if all of its paragraphs behave like headings."""
    return face.size >= body.size * 0.95 and (
        (face.italic and not body.italic) or face.colour != body.colour or face.font != body.font
        or (face.align == "center" and body.align != "center")
    )  # fmt: skip


# --- Which paragraphs ---


class _Text(NamedTuple):
    """A report as the finder reads it. ``words``: the indexes of all blocks that are not empty paragraphs."""

    report: Report
    traits: Sequence[Traits | None]
    body: Face
    flow: list[int]
    place: Mapping[int, int]
    """Where each index stands in ``flow``."""
    skeleton: bool
    """Whether it has hardly any text yet: then headings follow each other."""

    def neighbour(self, index: int, by: int) -> int | None:
        at = self.place[index] + by
        return self.flow[at] if 0 <= at < len(self.flow) else None


def _proposals(
    report: Report, traits: Sequence[Traits | None], body: Face, contents: Sequence[TypedContents]
) -> Iterator[Proposal]:
    looks: dict[Face, Look] = {}
    listed = {id for one in contents for id in (one.title, *one.lines)}
    candidates: dict[Face, bool] = {}
    for index, its in enumerate(traits):
        if its is None:
            continue
        face = its.face
        wanted = candidates.get(face)
        if wanted is None:
            wanted = candidates[face] = face != body and (_stands_out(face, body) or _hints(face, body))
        if report.blocks[index].id in listed:
            continue
        if wanted or (face == body and its.typed and _tells(its)):
            looks.setdefault(face, Look(face)).all.append(index)
    if not looks:
        return
    blocks = report.blocks
    flow = [i for i, block in enumerate(blocks) if traits[i] or type(block) is not Paragraph or block.text.strip()]
    skeleton = sum(len(look.all) for look in looks.values()) > 0.75 * len(flow)
    text = _Text(report, traits, body, flow, {index: at for at, index in enumerate(flow)}, skeleton)
    judged = [found for look in looks.values() for found in _judged(look, looks, text)]
    cover = list(_cover(looks, judged, text))
    for look in judged:
        look.fit = [index for index in look.fit if index not in cover]
    yield from _cover_proposals(cover, text)
    judged = [look for look in judged if look.fit]
    fixed = list(marked(report))
    for look, level, reasons in levels(judged, fixed, body):
        style = report.styles.heading(level)
        wants = _wants(look.face, body, look)
        members = tuple(blocks[index].id for index in look.fit)
        yield Proposal(f"look-{blocks[look.fit[0]].id}", in_words(wants, report.styles), style.id, style.outline_level,
                       members, wants, reasons)  # fmt: skip


def _tells(its: Traits) -> bool:
    """Whether a typed number alone tells of a heading: one of several figures, or with a word such as "Chapter"."""
    typed = its.typed
    return typed is not None and its.length <= 80 and not its.full_stop and (typed.depth > 1 or bool(typed.prefix))


def _judged(look: Look, looks: Mapping[Face, Look], text: _Text) -> list[Look]:
    """The looks of headings that a look is: none, one, or one for each kind of typed number in it."""
    sure = look.face == text.body or _stands_out(look.face, text.body)
    stopped = sum(text.traits[i].full_stop for i in look.all)  # type: ignore[union-attr]
    # Where nearly all of several end in a full stop, it says nothing.
    stops_count = len(look.all) <= FEW or stopped <= 0.8 * len(look.all)
    rows = _rows(look, text) if not (sure and text.skeleton) else set()
    undecided = [i for i in look.all if i not in rows and not _is_something_else(i, stops_count, text)]
    look.fit = [i for i in undecided if _is_fit(i, sure, looks, text)]
    if len(look.fit) < (0.4 if sure else 0.85) * len(undecided) or len(look.fit) < (1 if sure else FEW):
        return []
    return _by_numbers(look, text)


def _is_something_else(index: int, stops_count: bool, text: _Text) -> bool:
    """Whether a paragraph is a caption, a sentence or a quotation, whatever it looks like."""
    its, block = text.traits[index], text.report.blocks[index]
    assert its is not None
    assert type(block) is Paragraph
    words = block.text.strip()
    if _CAPTION.match(words) or not its.short:
        return True
    if its.full_stop and (stops_count or its.length > 60):
        return True
    return words.startswith(_QUOTED) and words[-1] in "”’\"'»“."


def _is_fit(index: int, sure: bool, looks: Mapping[Face, Look], text: _Text) -> bool:
    """Whether a paragraph with the look of a heading behaves like one."""
    its, block = text.traits[index], text.report.blocks[index]
    assert its is not None
    assert type(block) is Paragraph
    words = block.text[its.typed.end if its.typed else 0 :].strip() or block.text.strip()
    if words[-1] in ",;" or (not sure and (its.length > 80 or words[-1] in ".?!:" or not words[0].isupper())):
        return False
    behind = text.neighbour(index, 1)
    if behind is None:
        return False  # a signature, a last word
    if isinstance(text.report.blocks[behind], Image) and not its.typed:
        before = text.neighbour(index, -1)
        return before is None or text.traits[before] is not None
    next_one = text.traits[behind]
    if next_one is None or next_one.face in looks or its.typed:
        return True
    # Words under a heading are sentences; short lines without an end are an address, or names under a contract.
    following = text.report.blocks[behind]
    assert type(following) is Paragraph
    ended = following.text.rstrip()[-1] in '.?!:;”’")'
    return ended or next_one.length > 60


def _rows(look: Look, text: _Text) -> set[int]:
    """Neighbours of one look with nothing between them: names, an address, lines of a cover."""
    rows: list[list[int]] = []
    for index in look.all:
        if rows and text.place[index] == text.place[rows[-1][-1]] + 1 and not _typed(index, text):
            rows[-1].append(index)
        else:
            rows.append([index])
    return {index for row in rows if len(row) > FEW for index in row}


def _typed(index: int, text: _Text) -> bool:
    its = text.traits[index]
    return its is not None and its.typed is not None


def _by_numbers(look: Look, text: _Text) -> list[Look]:
    """A look parted by the typed numbers in it, where they differ; numbers that do not count on are none."""
    kinds: dict[tuple[str, int, bool, str], list[int]] = {}
    plain: list[int] = []
    last_roman = 0
    for index in look.fit:
        its = text.traits[index]
        assert its is not None
        if its.typed is None:
            plain.append(index)
            continue
        typed = its.typed
        form = typed.form
        sign = typed.label.strip("().:")
        # "V" is a letter behind "U" and a numeral behind "IV".
        if form == "letter" and last_roman and roman(sign) == last_roman + 1:
            form = "roman"
        if form == "roman":
            last_roman = roman(sign) or typed.value
        kinds.setdefault((form, typed.depth, sign[-1:].isupper(), typed.prefix), []).append(index)
    counted = {kind: members for kind, members in kinds.items() if kind[1] > 1 or kind[3] or _count_on(members, text)}
    for kind, members in kinds.items():
        if kind not in counted:
            plain = sorted(plain + members)
    if look.face == text.body:
        plain = []
    if not counted:
        return [Look(look.face, look.all, plain)] if plain else []
    least = min(counted, key=lambda kind: (kind[1], counted[kind][0]))
    return [
        Look(look.face, look.all, sorted(members + plain) if kind == least else members, kind[1], kind[0], kind[3])
        for kind, members in counted.items()
    ]


def _count_on(members: Sequence[int], text: _Text) -> bool:
    """Whether single figures in front of some paragraphs count on from each other, most of the time."""
    values = [its.typed for index in members if (its := text.traits[index]) and its.typed]
    good = sum(
        one.value == 1 or (last is not None and one.value == last.value + 1)
        or (last is not None and roman(one.label.strip("().:")) == roman(last.label.strip("().:")) + 1)
        for last, one in zip([None, *values], values, strict=False)
    )  # fmt: skip
    return good >= 0.5 * len(values)


def _cover(looks: Mapping[Face, Look], judged: Sequence[Look], text: _Text) -> Iterator[int]:
    """The indexes of the report's title and of the lines under it: its first words, if they are of the largest look and
    stand apart."""
    report, first = text.report, text.flow[0]
    its = text.traits[first]
    if its is None or its.typed or not its.short or its.face not in looks or not _stands_out(its.face, text.body):
        return
    titled = any(type(block) is Paragraph and report.styles[block.style].role == "title" for block in report.blocks)
    if titled or any(look.face.size > its.face.size for look in judged):
        return
    under = list(_under(first, text))
    behind = text.neighbour(first, len(under) + 1)
    block = report.blocks[first]
    assert type(block) is Paragraph
    same = block.text.strip().casefold() == report.title.strip().casefold()
    # Rows of empty paragraphs, a page break, another heading: a chapter has text under it.
    apart = behind is not None and (
        behind - first > len(under) + 2
        or not isinstance(report.blocks[behind], Paragraph)
        or any(behind in look.all for look in judged)
    )
    alone = looks[its.face].all == [first] and len(judged) > 1 and its.face.size >= text.body.size * LARGER
    if same or apart or alone:
        yield from (first, *under)


def _under(title: int, text: _Text) -> Iterator[int]:
    """Short lines that follow a title and do not stand out from the text."""
    for index in text.flow[text.place[title] + 1 :]:
        its = text.traits[index]
        if its is None or not its.short or its.full_stop or its.typed or _stands_out(its.face, text.body):
            return
        yield index


def _cover_proposals(cover: Sequence[int], text: _Text) -> Iterator[Proposal]:
    styles = text.report.styles
    parts: tuple[tuple[Role, Sequence[int], str], ...] = (
        ("title", cover[:1], "the first words"),
        ("subtitle", cover[1:], "under the title"),
    )
    for role, members, place in parts:
        style = styles.role(role)
        if not members or style.role != role:
            continue
        its = text.traits[members[0]]
        assert its is not None
        wants = _wants(its.face, text.body, None)
        ids = tuple(text.report.blocks[index].id for index in members)
        said = in_words({} if its.face == text.body else wants, styles)
        name = f"{place}, {said}" if said else place
        yield Proposal(
            f"{role}-{ids[0]}",
            name,
            style.id,
            None,
            ids,
            wants,
            (Reason("first"), *reasons_for(its.face, text.body, 0)),
        )


def _wants(face: Face, body: Face, look: Look | None) -> dict[str, Any]:
    """The traits in which a look differs from body text."""
    wants: dict[str, Any] = {
        name: getattr(face, name)
        for name in ("bold", "italic", "underline", "capitals", "size", "font", "colour", "align")
        if getattr(face, name) != getattr(body, name)
    }
    if look is not None and look.depth:
        wants["number"] = look.depth if look.form == "decimal" else True
    if face == body:
        wants["short"] = True
    return wants
