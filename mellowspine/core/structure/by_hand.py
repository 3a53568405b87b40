"""Headings made by hand: paragraphs that look like headings and are not marked as such, grouped by look.

Nothing but what the eye goes by: a heading stands out from the text (larger, heavier, in capitals, underlined, with a
number of its own), is short, ends in no full stop, and has text beneath it. Which level a look is follows from typed
numbers, or else from size, weight and order. Every proposal says from what it was made.
"""

from __future__ import annotations

from bisect import bisect_left as bisect
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal, NamedTuple

from ..report.blocks import Block, Image, Paragraph
from ..report.diff import Diff, diff
from ..report.report import Report
from ..report.styles import Role, StyleSheet
from .leftovers import EmptyRow, TypedContents, empty_rows, typed_contents
from .rungs import Look, Reason, levels, marked, reasons_for
from .traits import SHORT, Face, Traits, in_words, traits_of
from .typed_contents import is_contents_title
from .typed_numbers import counting

Seen = Traits | Literal[False] | None
"""What a block is to the finder: a paragraph that could be a heading made by hand, one without words (False), or something
else (None)."""

_CLOSING = "”’\"'»“."
_ENDS = '.?!:;”’")'
"""Last characters of sentences."""
_LENGTHS = (60, 80, SHORT)
"""Lengths on which something depends."""
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
    """What was found in a report."""

    report: Report
    seen: Sequence[Seen]
    """What each block is to the finder."""
    lengths: Mapping[Face, int]
    """Characters set in each face."""
    proposals: tuple[Proposal, ...]
    contents: tuple[TypedContents, ...]
    rows: tuple[EmptyRow, ...]
    empties: tuple[int, ...]
    """The indexes of blocks without words; the very same while these stay so."""

    def traits(self) -> Iterator[tuple[str, Traits]]:
        """The paragraphs that could be headings made by hand: id and traits."""
        return ((block.id, its) for block, its in zip(self.report.blocks, self.seen, strict=True) if its)


def find_by_hand(report: Report, before: Found | None = None) -> Found:
    """The headings made by hand. ``before``, of an earlier state of the report, changes nothing but the time it takes."""
    if before is None or (before.report.styles is not report.styles and before.report.styles != report.styles):
        before, change = None, Diff(0, 0, len(report.blocks))
    elif not (change := diff(before.report.blocks, report.blocks)) and before.report.title == report.title:
        return before
    free = _free_styles(report.styles)
    there = slice(change.first, change.old_end)
    # Where many blocks change at once the stretch is long, and most blocks in it are the same as before.
    known = (
        {id(block): its for block, its in zip(before.report.blocks[there], before.seen[there], strict=True)}
        if before
        else {}
    )
    new = [
        known[id(block)] if id(block) in known else _of_block(block, report.styles, free)
        for block in report.blocks[change.first : change.new_end]
    ]
    if before is None:
        return _found(report, new, _counted({}, new, 1), ())
    old = before.seen[there]
    lengths = _counted(_counted(before.lengths, old, -1), new, 1)
    seen = [*before.seen[: change.first], *new, *before.seen[change.old_end :]]
    # While somebody types, hardly anything changes of what the eye goes by.
    same = (
        not change.shift
        and any(before.seen[: change.first])  # the first words may be the report's title
        and before.report.title == report.title
        and _body(lengths) == _body(before.lengths)
        and all(map(_same_to_the_eye, old, new))
        and all(map(_same_kind, before.report.blocks[change.first : change.old_end], report.blocks[change.first :]))
    )
    if not same:
        return _found(report, seen, lengths, before.empties)
    written = {block.id for block in report.blocks[change.first : change.new_end]}
    proposals = before.proposals
    if any(not written.isdisjoint(one.members) for one in proposals):
        proposals = (*proposals,)  # others than before: their members are, to whoever quotes them
    return replace(before, report=report, seen=seen, lengths=lengths, proposals=proposals)


def _same_to_the_eye(one: Seen, other: Seen) -> bool:
    """Whether two paragraphs are the same but for their words."""
    if not one or not other:
        return one is other
    return _to_the_eye(one) == _to_the_eye(other)


def _to_the_eye(its: Traits) -> Traits:
    """The traits on which it depends what is found; of long text, that it is long."""
    if not its.short:
        return its._replace(length=SHORT + 1, typed=None, tab=False, opens="other", last="")
    return its._replace(length=bisect(_LENGTHS, its.length), last="a" if its.last.isalnum() else its.last)


def _same_kind(one: Block, other: Block) -> bool:
    """Whether two blocks are the same one, of one style, and name a list of contents or not."""
    if one.id != other.id:
        return False
    if type(one) is not Paragraph or type(other) is not Paragraph:
        return type(one) is type(other)
    return one.style == other.style and is_contents_title(one.text) == is_contents_title(other.text)


def _found(report: Report, seen: Sequence[Seen], lengths: Mapping[Face, int], empties: tuple[int, ...]) -> Found:
    contents = typed_contents(report, seen)
    body = _body(lengths)
    proposals = tuple(_proposals(report, seen, body, contents)) if body else ()
    now = tuple(index for index, its in enumerate(seen) if its is False)
    rows = empty_rows(report, seen)
    return Found(report, seen, lengths, proposals, contents, rows, empties if now == empties else now)


def _free_styles(styles: StyleSheet) -> frozenset[str]:
    """The styles of what could be a heading made by hand: body text, and styles of the author's own."""
    return frozenset(
        style.id
        for style in styles.values()
        if style.outline_level is None and style.marker is None and style.role in (None, "body")
    )


def _of_block(block: Block, styles: StyleSheet, free: frozenset[str]) -> Seen:
    if type(block) is not Paragraph:
        return None
    if not block.text.strip():
        return False
    if block.listed is not None or styles[block.style].id not in free:
        return None
    return traits_of(block, styles)


def _counted(lengths: Mapping[Face, int], seen: Iterable[Seen], sign: int) -> dict[Face, int]:
    result = dict(lengths)
    for its in seen:
        if its:
            result[its.face] = result.get(its.face, 0) + sign * its.length
    return result


def _body(lengths: Mapping[Face, int]) -> Face | None:
    """The face in which most characters are set; None if there are no words."""
    most = max(lengths.values(), default=0)
    return min((face for face, length in lengths.items() if length == most), default=None) if most else None


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
    """A report as the finder reads it. ``flow``: the indexes of all blocks that are not empty paragraphs."""

    report: Report
    seen: Sequence[Seen]
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
    report: Report, seen: Sequence[Seen], body: Face, contents: Sequence[TypedContents]
) -> Iterator[Proposal]:
    looks: dict[Face, Look] = {}
    listed = {id for one in contents for id in (one.title, *one.lines)}
    candidates: dict[Face, bool] = {}
    for index, its in enumerate(seen):
        if not its:
            continue
        face = its.face
        wanted = candidates.get(face)
        if wanted is None:
            wanted = candidates[face] = face != body and (_stands_out(face, body) or _hints(face, body))
        if report.blocks[index].id in listed:
            continue
        if wanted or (face == body and its.typed and _is_distinct(its)):
            looks.setdefault(face, Look(face)).all.append(index)
    if not looks:
        return
    blocks = report.blocks
    flow = [index for index, its in enumerate(seen) if its is not False]
    skeleton = sum(len(look.all) for look in looks.values()) > 0.75 * len(flow)
    text = _Text(report, seen, body, flow, {index: at for at, index in enumerate(flow)}, skeleton)
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
        if all(its and its.tab for its in (seen[index] for index in look.fit)):
            wants["tab"] = True
        members = tuple(blocks[index].id for index in look.fit)
        yield Proposal(f"look-{blocks[look.fit[0]].id}", in_words(wants, report.styles), style.id, style.outline_level,
                       members, wants, reasons)  # fmt: skip


def _is_distinct(its: Traits) -> bool:
    """Whether a typed number alone tells of a heading: one of several figures, or with a word such as "Chapter"."""
    typed = its.typed
    return typed is not None and its.length <= 80 and not its.full_stop and (typed.depth > 1 or bool(typed.prefix))


def _judged(look: Look, looks: Mapping[Face, Look], text: _Text) -> list[Look]:
    """The looks of headings that a look is: none, one, or one for each kind of typed number in it."""
    sure = look.face == text.body or _stands_out(look.face, text.body)
    short = [(index, its) for index in look.all if (its := text.seen[index]) and its.short]
    stopped = sum(its.full_stop for _, its in short)
    # Where nearly all of several end in a full stop, it says nothing.
    stops_count = len(short) <= FEW or stopped <= 0.8 * len(short)
    rows = _rows(look, text) if not (sure and text.skeleton) else set()
    undecided = [(index, its) for index, its in short if index not in rows and not _is_something_else(its, stops_count)]
    look.fit = [index for index, its in undecided if _is_fit(index, its, sure, looks, text)]
    if len(look.fit) < (0.4 if sure else 0.85) * len(undecided) or len(look.fit) < (1 if sure else FEW):
        return []
    return _by_numbers(look, text)


def _is_something_else(its: Traits, stops_count: bool) -> bool:
    """Whether a paragraph is a caption, a sentence or a quotation, whatever it looks like."""
    if its.opens == "caption":
        return True
    if its.full_stop and (stops_count or its.length > 60):
        return True
    return its.opens == "quotation" and its.last in _CLOSING


def _is_fit(index: int, its: Traits, sure: bool, looks: Mapping[Face, Look], text: _Text) -> bool:
    """Whether a paragraph with the look of a heading behaves like one."""
    if its.last in ",;" or (not sure and (its.length > 80 or its.last in ".?!:" or its.opens != "capital")):
        return False
    after = text.neighbour(index, 1)
    if after is None:
        return False  # a signature, a last word
    if isinstance(text.report.blocks[after], Image) and not its.typed:
        before = text.neighbour(index, -1)
        return before is None or bool(text.seen[before])
    following = text.seen[after]
    if not following or following.face in looks or its.typed:
        return True
    # Words under a heading are sentences; short lines without an end are an address, or names under a contract.
    return following.length > 60 or following.last in _ENDS


def _rows(look: Look, text: _Text) -> set[int]:
    """Neighbours of one look with nothing between them: names, an address, lines of a cover."""
    rows: list[list[int]] = []
    for index in look.all:
        if rows and text.place[index] == text.place[rows[-1][-1]] + 1 and not _is_numbered(text.seen[index]):
            rows[-1].append(index)
        else:
            rows.append([index])
    return {index for row in rows if len(row) > FEW for index in row}


def _is_numbered(its: Seen) -> bool:
    return bool(its and its.typed)


def _by_numbers(look: Look, text: _Text) -> list[Look]:
    """A look parted by the typed numbers in it, where they differ."""
    typed = [(index, its.typed) for index in look.fit if (its := text.seen[index]) and its.typed]
    kinds = counting(typed)
    numbered = {index for members in kinds.values() for index in members}
    # Plain text with a number that is none is plain text.
    plain = [index for index in look.fit if index not in numbered and look.face != text.body]
    if not kinds:
        return [Look(look.face, look.all, plain)] if plain else []
    least = min(kinds, key=lambda kind: (kind.depth, kinds[kind][0]))
    return [
        Look(
            look.face,
            look.all,
            sorted([*members, *plain]) if kind == least else members,
            kind.depth,
            kind.form,
            kind.prefix,
        )
        for kind, members in kinds.items()
    ]


def _cover(looks: Mapping[Face, Look], judged: Sequence[Look], text: _Text) -> Iterator[int]:
    """The indexes of the report's title and of the lines under it: its first words, if they are of the largest look and
    stand apart."""
    report, first = text.report, text.flow[0]
    its = text.seen[first]
    if not its or its.typed or not its.short or its.face not in looks or not _stands_out(its.face, text.body):
        return
    titled = any(type(block) is Paragraph and report.styles[block.style].role == "title" for block in report.blocks)
    if titled or any(look.face.size > its.face.size for look in judged):
        return
    under = list(_under(first, text))
    after = text.neighbour(first, len(under) + 1)
    block = report.blocks[first]
    assert type(block) is Paragraph
    same = block.text.strip().casefold() == report.title.strip().casefold()
    # Rows of empty paragraphs, a page break, another heading: a chapter has text under it.
    apart = after is not None and (
        after - first > len(under) + 2
        or not isinstance(report.blocks[after], Paragraph)
        or any(after in look.all for look in judged)
    )
    alone = looks[its.face].all == [first] and len(judged) > 1 and its.face.size >= text.body.size * LARGER
    if same or apart or alone:
        yield from (first, *under)


def _under(title: int, text: _Text) -> Iterator[int]:
    """Short lines that follow a title and do not stand out from the text."""
    for index in text.flow[text.place[title] + 1 :]:
        its = text.seen[index]
        if not its or not its.short or its.full_stop or its.typed or _stands_out(its.face, text.body):
            return
        yield index


def _cover_proposals(cover: Sequence[int], text: _Text) -> Iterator[Proposal]:
    styles = text.report.styles
    parts: tuple[tuple[Role, Sequence[int], str], ...] = (
        ("title", cover[:1], "first"),
        ("subtitle", cover[1:], "under"),
    )
    for role, members, by in parts:
        style = styles.role(role)
        if not members or style.role != role:
            continue
        its = text.seen[members[0]]
        assert its
        wants = _wants(its.face, text.body, None)
        ids = tuple(text.report.blocks[index].id for index in members)
        said = in_words({} if its.face == text.body else wants, styles)
        place = "the first words" if by == "first" else "under the title"
        name = f"{place}, {said}" if said else place
        yield Proposal(
            f"{role}-{ids[0]}",
            name,
            style.id,
            None,
            ids,
            wants,
            (Reason(by), *reasons_for(its.face, text.body, 0)),
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
