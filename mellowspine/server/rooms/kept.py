"""Words that were written in what another had taken out: kept, and given back when that comes back.

They arise in ``Text``, which stores them together with the update that brought them. ``docs/together.md`` has the rules.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

from pycrdt import XmlElement

from mellowspine.core.report.blocks import Block, Paragraph
from mellowspine.core.report.elements import Element, Words, ids_of, read_block
from mellowspine.core.report.plan import Insert, Plan
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.shelf.models import Report

from .document import read
from .ghost import By, Ghost
from .models import KeptWords, Update
from .written import Put, Written


def ghost_of(report: Report) -> Ghost:
    """The ghost of a text as it is on disk."""
    ghost = Ghost()
    rows = Update.objects.filter(report=report).values_list("data", "person_id", "at", "lost")
    for data, person, at, lost in rows:
        ghost.take(bytes(data), By(person, at), [(client, clock, length) for client, clock, length in lost])
    return ghost


@dataclass(frozen=True)
class TakenOut:
    """What is no longer in a text, as its ghost has it. ``levels``: the outline level by style."""

    ghost: Ghost
    levels: Mapping[str, int]

    @cached_property
    def blocks(self) -> list[_Stood]:
        return [_Stood(*one) for one in self.ghost.blocks()]

    @cached_property
    def _there(self) -> set[str]:
        return {one.id for one in self.blocks if one.removal is None}

    @cached_property
    def places(self) -> dict[str, int]:
        """Where each block that is gone stood when it was taken out last, by id."""
        found: dict[str, int] = {}
        for index, one in enumerate(self.blocks):
            if one.removal is None or one.id in self._there:
                continue
            other = found.get(one.id)
            if other is None or (self.blocks[other].removal or 0) <= one.removal:
                found[one.id] = index
        return found

    def level(self, index: int) -> int | None:
        return self.levels.get(self.blocks[index].style)

    def _place(self, id: str) -> int:
        """Where a block stood, or the one that it stood in; -1 if that is not known."""
        if id in self.places:
            return self.places[id]
        holds = (index for index, one in enumerate(self.blocks) if id in one.ids)
        return max(holds, key=lambda index: self.blocks[index].removal or 0, default=-1)

    def outer(self, id: str) -> str:
        """The block of the text that a block stood in, or it itself."""
        place = self._place(id)
        return self.blocks[place].id if place >= 0 else id

    def by(self, id: str) -> By:
        """Who took a block out. What the room itself did is put down to whoever took out what stood in front of it."""
        for index in range(self._place(id), -1, -1):
            number = self.blocks[index].removal
            if number is None:
                break
            if self.ghost.removals[number].by.person is not None:
                return self.ghost.removals[number].by
        return By()

    def heading_of(self, id: str) -> _Stood | None:
        """The heading that a block stood under when it was taken out, or that it is itself."""
        above = range(self._place(id), -1, -1)
        return next((self.blocks[index] for index in above if self.level(index) is not None), None)

    def in_front_of(self, id: str) -> str | None:
        """The last block in front of a place that is still in the text."""
        above = range(self._place(id) - 1, -1, -1)
        return next((self.blocks[index].id for index in above if self.blocks[index].removal is None), None)

    def is_gone(self, id: str) -> bool:
        return id in self.places

    def sections(self) -> list[RemovedSection]:
        """The sections that are gone, each with those beneath it that went at the same time, the one that went last first."""
        found: list[RemovedSection] = []
        gone = sorted(self.places.values())
        at: list[int] = []
        for index in gone:
            level = self.level(index)
            goes_on = (
                at
                and self.blocks[index].removal == self.blocks[at[0]].removal
                and (level is None or level > (self.level(at[0]) or 0))
                and not any(self.blocks[between].removal is None for between in range(at[-1] + 1, index))
            )
            if goes_on:
                at.append(index)
                continue
            found += self._section(at)
            at = [] if level is None else [index]
        found += self._section(at)
        return sorted(found, key=lambda one: one.removal, reverse=True)

    def _section(self, at: Sequence[int]) -> list[RemovedSection]:
        if not at:
            return []
        head = self.blocks[at[0]]
        assert head.removal is not None
        ids = tuple(self.blocks[index].id for index in at)
        return [RemovedSection(head.id, head.removal, self.ghost.removals[head.removal].by, ids)]

    def back(self, ids: Collection[str]) -> list[tuple[str | None, tuple[Block, ...]]]:
        """Blocks that are gone, as they would be with all that was written in them since, in stretches: each behind which block
        of the text it stood."""
        wanted = sorted(self.places[id] for id in {*ids} if id in self.places)
        numbers = {number for index in wanted if (number := self.blocks[index].removal) is not None}
        # Rows and cells that were taken out of them before stay out.
        made = {
            str(child.attributes.get("id")): child
            for child in self.ghost.without(numbers).children
            if isinstance(child, XmlElement)
        }
        found: list[tuple[str | None, list[Block]]] = []
        for index in wanted:
            one = self.blocks[index]
            after = self.in_front_of(one.id)
            if not found or found[-1][0] != after:
                found.append((after, []))
            element = made.get(one.id, one.element)  # two may have taken it out
            found[-1][1].append(read_block(read(element), one.id))
        return [(after, tuple(blocks)) for after, blocks in found]

    def plan_back(self, ids: Collection[str]) -> Plan:
        """The plan that puts blocks back where they stood."""
        return tuple(Insert(blocks, after) for after, blocks in self.back(ids))

    def keep(self, written: Written, element: XmlElement, person: int | None, after: str = "") -> KeptWords:
        """A row for what somebody wrote in a block that is gone, or in one begun behind such a block (``after``)."""
        stood = after or written.block
        heading = self.heading_of(stood)
        return KeptWords(
            person_id=person,
            removed_by_id=self.by(stood).person,
            block=written.block[:80],
            style=str(element.attributes.get("style") or "")[:80],
            after=after[:80],
            section=heading.id[:80] if heading else "",
            heading=heading.text[:300] if heading else "",
            section_gone=bool(heading and self.is_gone(heading.id)),
            place=(self.in_front_of(stood) or "")[:80],
            before=written.before,
            puts=[
                [put.at, put.gone, [[word, {**formatting}] for word, formatting in put.words]] for put in written.puts
            ],
        )


@dataclass(frozen=True)
class RemovedSection:
    """A section that is gone. ``blocks``: those that it had, its heading first, by id."""

    heading: str
    removal: int
    by: By
    blocks: tuple[str, ...]


class _Stood:
    """A block of the ghost, with what of it is asked for."""

    def __init__(self, id: str, element: XmlElement, removal: int | None) -> None:
        self.id, self.element, self.removal = id, element, removal

    @cached_property
    def style(self) -> str:
        return str(self.element.attributes.get("style") or "")

    @cached_property
    def _block(self) -> Block:
        return read_block(read(self.element), self.id)

    @property
    def ids(self) -> Collection[str]:
        """Those of the blocks that it holds, and its own."""
        return (self.id,) if self.element.tag == "paragraph" else ids_of(self._block)

    @property
    def text(self) -> str:
        return self._block.text if isinstance(self._block, Paragraph) else ""


class Kept(NamedTuple):
    """Words that are kept, in one section: who wrote them, when last (ISO 8601), and who took out what they stood in.

    ``writer`` and ``remover``: these by number. ``rows``: under which numbers they are kept; ``words``: how many they are;
    ``paragraphs``: what they say, of each paragraph; ``place``: the block behind which they stood.
    """

    id: str
    writer: int | None
    remover: int | None
    text: str
    at: str
    words: int
    paragraphs: tuple[str, ...]
    place: str
    rows: tuple[int, ...]


MOST_SHOWN = 5000
"""Characters of kept words that are sent to be shown."""


def kept_in(report: Report) -> tuple[Kept, ...]:
    """What is kept for a report, and waits for somebody to deal with it."""
    rows = KeptWords.objects.filter(report=report, settled_at=None).select_related("person", "removed_by")
    groups: dict[tuple[str, int | None, int | None], list[KeptWords]] = {}
    for row in rows:
        groups.setdefault((row.section, row.person_id, row.removed_by_id), []).append(row)
    return tuple(map(_shown, groups.values()))


def _shown(rows: Sequence[KeptWords]) -> Kept:
    first, last = rows[0], rows[-1]
    said = [written_of(row).text for row in rows]
    count = sum(len(one.split()) for one in said)
    writer, remover = (shown_name(one) if one else "somebody" for one in (first.person, first.removed_by))
    where = f"“{first.heading or 'a section without words'}”" if first.section else "the text in front of all headings"
    took = f"{where}, which {remover} removed" if first.section_gone else f"what {remover} removed of {where}"
    what = f"{count:,} word{'' if count == 1 else 's'}"
    return Kept(
        id=f"kept-{first.pk}",
        writer=first.person_id,
        remover=first.removed_by_id,
        text=f"{writer[:1].upper()}{writer[1:]} wrote {what} in {took}.",
        at=last.at.isoformat(),
        words=count,
        paragraphs=tuple(one[:MOST_SHOWN] for one in said[:50]),
        place=first.place,
        rows=tuple(row.pk for row in rows),
    )


def written_of(row: KeptWords) -> Written:
    puts = (Put(at, gone, tuple((word, formatting) for word, formatting in words)) for at, gone, words in row.puts)
    return Written(row.block, row.before, tuple(puts))


def paragraph_of(row: KeptWords, id: str, style: str) -> Paragraph:
    """The words of a row as a paragraph of their own."""
    words = [Words(word, formatting) for put in written_of(row).puts for word, formatting in put.words]
    found = read_block(Element("paragraph", {"id": id, "style": style}, tuple(words)), id)
    assert isinstance(found, Paragraph)
    return found
