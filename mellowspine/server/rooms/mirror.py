"""A live mirror of a shared document as blocks. After each change it reads again only the blocks that changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from django.contrib.auth.models import User
from pycrdt import Doc, XmlElement

from mellowspine.core.report.blocks import Block
from mellowspine.core.report.elements import Element, lacks, names, read_block

from .document import has_own_id, read, text_of


@dataclass(slots=True)
class _Entry:
    """A block of the text. ``unread`` once something changed in it; a block that is new has not been read at all."""

    block: Block | None
    unread: bool = False
    person: User | None = None
    """Who changed it last since it was read."""
    unchecked: bool = False
    """Whether its ids may stand elsewhere as well, until they are found to stand once."""
    lacking: bool = False
    """Whether it holds nothing where there has to be a place to write on."""


FEW = 20
"""Blocks that are asked for one by one, at the most."""


class Seen(NamedTuple):
    """The blocks as they are now, and what the room has to put right about them, by their places."""

    blocks: list[Block]
    touched: dict[str, User]
    """Who touched which since the last time, by id, as far as that is known."""
    again: list[int]
    """Where ids must be renewed."""
    lacking: list[int]
    """Where something has to be put in to be written on."""


class Mirror:
    """Lives in the thread of its document. While the document changes it only notes where; ``read`` does the rest."""

    def __init__(self, document: Doc[Any]) -> None:
        self._fragment = text_of(document)
        self._entries = [_Entry(None, unread=True) for _ in self._fragment.children]
        self.person: User | None = None
        """Who makes the changes that come now."""
        self._touched: dict[str, User] = {}
        """Blocks of which it is known already who touched them since ``read``, those that are gone among them."""
        self.stale = True
        """Whether anything changed since ``read``."""
        self._subscription = self._fragment.observe_deep(self._changed)

    def close(self) -> None:
        """Ends it: nothing is noted from now on."""
        self._fragment.unobserve(self._subscription)

    def move(self, document: Doc[Any]) -> None:
        """Goes on with another document, in which very much may be otherwise: all of it is read again."""
        self.close()
        self._fragment = text_of(document)
        self._subscription = self._fragment.observe_deep(self._changed)
        self._read_anew()

    def _read_anew(self) -> None:
        """Every block again: one that is as it was goes on as the very same."""
        self.stale = True
        before = {one.block.id: one for one in self._entries if one.block}
        found = []
        for index, child in enumerate(self._fragment.children):
            known = read(child)
            block = read_block(known, f"at-{index}")
            entry = before.pop(block.id, None) or _Entry(None)
            if entry.block != block or entry.unread:
                unchecked = _names(entry.block) != _names(block)
                person = self.person if entry.block != block else entry.person
                entry = _Entry(block, False, person, entry.unchecked or unchecked)
                if person:
                    self._touched[block.id] = person
            entry.lacking = isinstance(known, Element) and lacks(known)
            found.append(entry)
        if self.person:
            self._touched |= dict.fromkeys(before, self.person)
        self._entries = found

    def _changed(self, events: list[Any]) -> None:
        self.stale = True
        touched: set[int] = set()
        for event in events:
            if path := event.path:
                touched.add(path[0])
                continue
            at = 0
            for step in event.delta:
                if "retain" in step:
                    at += int(step["retain"])
                elif "delete" in step:
                    end = at + int(step["delete"])
                    if self.person:
                        self._touched |= {one.block.id: self.person for one in self._entries[at:end] if one.block}
                    del self._entries[at:end]
                else:
                    new = [_Entry(None, unread=True, person=self.person) for _ in step["insert"]]
                    self._entries[at:at] = new
                    at += len(new)
        for index in touched:
            if index < len(self._entries):
                self._entries[index].unread, self._entries[index].person = True, self.person

    def read(self) -> Seen:
        """The text as it is now.

        An id stands once: where it stands twice, whoever had it before keeps it, or else the first in the text.
        """
        touched = self._touched
        children: Sequence[Any] = self._fragment.children  # type: ignore[assignment]  # it can be asked like one
        if sum(one.unread or one.unchecked for one in self._entries) > FEW:
            children = list(children)  # one by one, the library counts to each of them from the first
        for index, one in enumerate(self._entries):
            if one.unread:
                before = _names(one.block)
                known = read(children[index])
                block, one.unread = read_block(known, f"at-{index}"), False
                one.lacking = isinstance(known, Element) and lacks(known)
                if block == one.block:
                    continue
                one.block = block
                if one.person:
                    touched[one.block.id] = one.person
                if _names(one.block) != before:
                    one.unchecked = True
        unchecked = [index for index, one in enumerate(self._entries) if one.unchecked]
        again: list[int] = []
        if unchecked:
            new = set(unchecked)
            kept = {name for index, one in enumerate(self._entries) if index not in new for name in _names(one.block)}
            for index in unchecked:
                names, element = _names(self._entries[index].block), children[index]
                if has_own_id(element) and kept.isdisjoint(names) and len(set(names)) == len(names):
                    kept.update(names)
                    self._entries[index].unchecked = False
                elif isinstance(element, XmlElement):
                    again.append(index)
        self._touched, self.stale = {}, False
        lacking = [index for index, one in enumerate(self._entries) if one.lacking]
        return Seen([one.block for one in self._entries if one.block], touched, again, lacking)


def _names(block: Block | None) -> list[str]:
    return names(block) if block else []
