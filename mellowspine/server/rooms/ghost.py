"""A *ghost* is a text as if nothing had ever been taken out of it but words.

What arrives for a block that somebody moved or took out has its effect in it where it was meant to. ``docs/together.md``, and
``carrying.py`` for what becomes of that.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from copy import deepcopy
from datetime import datetime
from typing import Any, NamedTuple

from pycrdt import Doc, XmlElement, XmlFragment, XmlText

from .document import text_of
from .gate import Parts, Span, deletions, parts_of, without_words
from .spans import Spans
from .written import Delta, Layout, Stretch, Written, as_written, words_of


class By(NamedTuple):
    """Who did something to a text, by number, and when, as far as that is known."""

    person: int | None = None
    at: datetime | None = None


NOBODY = By()


class Removal(NamedTuple):
    """What was taken out at once, and by whom."""

    spans: tuple[Span, ...]
    by: By


class Stood(NamedTuple):
    """A block of the ghost: its id, its element, and which removal took it out; None while it is in the text."""

    id: str
    element: XmlElement
    removal: int | None


class Ghost:
    """A text in which no block, row or cell is ever taken out."""

    def __init__(self) -> None:
        self._document: Doc[Any] = Doc()
        self._text = text_of(self._document)
        self._known: list[Span] = []
        """All words that have been taken out, and those that went with what was."""
        self.removals: list[Removal] = []
        """What has been taken out and is here still, as it was taken out at once."""
        self._orphans: list[Span] = []
        """Words that came to stand nowhere in the text, since what they were meant for was gone."""
        self._words: list[Span] = []
        """All words that ever were here."""
        self._elements: dict[int, set[int]] = {}
        self._texts: dict[int, set[int]] = {}
        """These by client."""

    def take(self, update: bytes, by: By = NOBODY, lost: Iterable[Span] = ()) -> None:
        """Takes an update in. ``lost``: which of its words came to stand nowhere."""
        self._orphans.extend(lost)
        parts = parts_of(update)
        self._note(parts)
        self._document.apply_update(parts.kept)
        self._document.apply_update(deletions(self._words_gone(parts, by)))

    def _words_gone(self, parts: Parts, by: By) -> list[Span]:
        """The words that an update deletes, but for what is known to be gone; notes what that is.

        Who comes back names all that they know to be gone, and so blocks that were taken out: these are named whole, and with them
        what came to stand in them too late. Where more than words is named besides, it is a removal of its own, even if somebody
        else was quicker.
        """
        if not parts.deleted:
            return []
        named = Spans(parts.deleted)
        whole = [span for one in self.removals if all(map(named.covers, one.spans)) for span in one.spans]
        rest = Spans([*self._known, *whole, *(self._orphans if whole else ())]).outside(parts.deleted)
        if any(_among(self._elements, rest)):
            self.removals.append(Removal(tuple(rest), by))
            return []
        self._known.extend(rest)
        # What words stand in stays, for those that others write in it.
        return Spans(_among(self._texts, rest)).outside(rest)

    def _note(self, parts: Parts) -> None:
        self._words.extend(span for span, _ in parts.words)
        for known, spans in ((self._elements, parts.elements), (self._texts, parts.texts)):
            for client, clock, _ in spans:
                known.setdefault(client, set()).add(clock)

    def write(self, update: bytes, lost: Collection[Span], stale: Sequence[Span], by: By = NOBODY) -> list[Written]:
        """Takes in an update of whose words some came to stand nowhere, or that takes some out which were not there any more; what
        it does with these, by block. ``lost``, ``stale``: these words."""
        parts = parts_of(update)
        landed = {span for span, _ in parts.words} - {*lost}
        if landed:
            # Seen in a ghost of its own, in which all that came to stand somewhere is as if it had been deleted.
            found = self._twin().write(without_words(update, landed), lost, stale)
            self.take(update, by, lost)
            return found
        self._orphans.extend(lost)
        written: dict[XmlElement, tuple[Layout, list[Stretch]]] = {}
        # What is put in first, and then what is taken out: in between, both can be seen.
        self._note(parts)
        for target, delta in self._changes(parts.kept):
            if isinstance(target.parent, XmlElement) and any("insert" in step for step in delta):
                layout, new = written.setdefault(target.parent, (Layout(target.parent), []))
                new.extend(layout.stretches(target, delta, "insert"))
        before = self._layouts() if stale else {one: layout for one, (layout, _) in written.items()}
        words = self._words_gone(parts, by)
        taken = Spans(stale).inside(words)
        gone: dict[XmlElement, list[Stretch]] = {}
        for target, delta in self._changes(deletions(taken)):
            if isinstance(target.parent, XmlElement) and target.parent in before:
                stretches = before[target.parent].stretches(target, delta, "delete")
                gone.setdefault(target.parent, []).extend(stretches)
                written.setdefault(target.parent, (before[target.parent], []))
        self._document.apply_update(deletions(words))
        return [
            as_written(layout.block, layout.characters, new, gone.get(one, ()))
            for one, (layout, new) in written.items()
        ]

    def _twin(self) -> Ghost:
        made = Ghost()
        made._document.apply_update(self._document.get_update())
        made._known, made.removals = [*self._known], [*self.removals]
        made._orphans, made._words = [*self._orphans], [*self._words]
        made._elements, made._texts = deepcopy(self._elements), deepcopy(self._texts)
        return made

    def went(self, spans: Sequence[Span]) -> list[Written]:
        """What the words among these were, which went with what somebody took out, and where they stood, by block. They stay here."""
        words = Spans(self._words).inside(spans)
        if not words:
            return []
        self._known.extend(words)
        twin = self._twin()
        before = twin._layouts()
        found: dict[XmlElement, list[Stretch]] = {}
        for target, delta in twin._changes(deletions(words)):
            if isinstance(target.parent, XmlElement) and target.parent in before:
                stretches = before[target.parent].stretches(target, delta, "delete")
                found.setdefault(target.parent, []).extend(stretches)
        return [
            as_written(before[one].block, before[one].characters, stretches, ()) for one, stretches in found.items()
        ]

    @property
    def text(self) -> XmlFragment:
        return self._text

    def originals(self, ids: Collection[str]) -> dict[str, list[str]]:
        """How the paragraphs with these ids read that were taken out."""
        found: dict[str, list[str]] = {}
        for id, element, removal in self.blocks():
            if id in ids and removal is not None and element.tag == "paragraph":
                found.setdefault(id, []).append(Layout(element).text)
        return found

    def blocks(self) -> list[Stood]:
        """All blocks that ever stood in the text, in order; those that were moved as often as they were put in."""
        twin = self._copy()
        text = text_of(twin)
        here = [*range(len(text.children))]
        """The places of what is in the twin yet."""
        removed: dict[int, int] = {}
        at_hand = 0

        def note(event: Any) -> None:
            at = 0
            for step in event.delta:
                at += int(step.get("retain", 0))
                if gone := int(step.get("delete", 0)):
                    removed.update(dict.fromkeys(here[at : at + gone], at_hand))
                    del here[at : at + gone]

        subscription = text.observe(note)
        for at_hand, one in enumerate(self.removals):  # noqa: B007  (asked for by ``note``)
            twin.apply_update(deletions(one.spans))
        text.unobserve(subscription)
        return [
            Stood(str(child.attributes.get("id") or ""), child, removed.get(index))
            for index, child in enumerate(self._text.children)
            if isinstance(child, XmlElement)
        ]

    def without(self, removals: Collection[int]) -> XmlFragment:
        """The text as if these of the removals had never been, in a document of its own."""
        document = self._copy()
        for number, one in enumerate(self.removals):
            if number not in removals:
                document.apply_update(deletions(one.spans))
        return text_of(document)

    def _copy(self) -> Doc[Any]:
        made: Doc[Any] = Doc()
        made.apply_update(self._document.get_update())
        return made

    def _layouts(self) -> dict[XmlElement, Layout]:
        return {paragraph: Layout(paragraph) for paragraph in _paragraphs(self._text)}

    def _changes(self, update: bytes) -> list[tuple[XmlText, Delta]]:
        """Takes an update in; the texts in which it changes words, and how."""
        found: list[tuple[XmlText, Delta]] = []

        def note(events: list[Any]) -> None:
            for one in events:
                if isinstance(one.target, XmlText):
                    found.append((one.target, list(one.delta)))
                elif isinstance(
                    one.target, XmlElement
                ):  # a paragraph that had been emptied has its words in a text of their own
                    come = (child for step in one.delta for child in step.get("insert", ()))
                    found.extend((child, [{"insert": words_of(child)}]) for child in come if isinstance(child, XmlText))

        subscription = self._text.observe_deep(note)
        self._document.apply_update(update)
        self._text.unobserve(subscription)
        return found


def _among(known: Mapping[int, Collection[int]], spans: Iterable[Span]) -> Iterator[Span]:
    """Those of some structs, by client, that are in some spans."""
    for client, clock, length in spans:
        clocks, within = known.get(client, ()), range(clock, clock + length)
        found = (
            (one for one in within if one in clocks)
            if length < len(clocks)
            else (one for one in clocks if one in within)
        )
        yield from ((client, one, 1) for one in found)


def _paragraphs(parent: XmlFragment | XmlElement) -> Iterator[XmlElement]:
    """The elements that hold words."""
    for child in parent.children:
        if isinstance(child, XmlElement):
            if any(isinstance(one, XmlText) for one in child.children):
                yield child
            else:
                yield from _paragraphs(child)
