"""What is written in a block while somebody moves it goes along, whoever of the two is heard of first.

In a shared document a block that is moved is taken out and put in again: what arrives for the one that was taken out would be
gone with it, and so would be what its mover had not heard of. A *ghost* is the text as if nothing had ever been taken out but
words: an update takes effect in it where it was meant to, and what that is, is done to the block that has the id now.
``docs/together.md`` says what is carried, and what is not.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from difflib import SequenceMatcher
from typing import Any, NamedTuple

from pycrdt import Doc, XmlElement, XmlFragment, XmlText

from mellowspine.core.report.blocks import INLINE_OBJECT

from .document import blocks_in, text_of
from .gate import Parts, Span, deletions, parts_of, without_words

Formatting = Mapping[str, Any]
Delta = Sequence[Mapping[str, Any]]

MOST_COMPARED = 1_000_000
"""How many pairs of words are compared where a paragraph was rewritten; beyond that, all of it counts as rewritten."""


A_FEW = 50
"""Structs and deletions of an update that somebody has just made; what browsers send who come back names all that is gone."""


class Put(NamedTuple):
    """Words at a character of what stood there, instead of ``gone`` of its characters."""

    at: int
    gone: int
    words: tuple[tuple[str, Formatting], ...]


@dataclass(frozen=True, slots=True)
class Written:
    """What was written in a block that is gone, and how that read before."""

    block: str
    before: str
    puts: tuple[Put, ...]

    @property
    def text(self) -> str:
        """What was put in, in words."""
        return "".join(word for put in self.puts for word, _ in put.words)


def lost_words(update: Parts, new: Sequence[Parts]) -> set[Span]:
    """The words of an update that came to stand nowhere, since what they were meant for is gone.

    ``new``: what was new in it to the document that took it in. What the update itself deletes again is not meant.
    """
    gone = Spans(span for one in new for span in one.gone)
    own = Spans(update.deleted)
    return {span for span, _ in update.words if gone.covers(span) and not own.covers(span)}


def gone_already(update: Parts, new: Sequence[Parts]) -> list[Span]:
    """What an update takes out that the document did not have any more."""
    return Spans(span for one in new for span in one.deleted).outside(update.deleted)


def gone_beyond(update: Parts, new: Sequence[Parts]) -> list[Span]:
    """What an update took out of a document without naming it: what its author had not heard of, in something they took out."""
    known = Spans([*update.deleted, *update.structs, *update.gone])
    return known.outside(span for one in new for span in one.deleted)


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


class Spans:
    """Stretches of structs, by client."""

    def __init__(self, spans: Iterable[Span]) -> None:
        by_client: dict[int, list[tuple[int, int]]] = {}
        for client, clock, length in spans:
            by_client.setdefault(client, []).append((clock, clock + length))
        self._joined = {client: joined(found) for client, found in by_client.items()}

    def without(self, span: Span) -> Iterator[Span]:
        """What of a span is in none of these."""
        client, clock, length = span
        end = clock + length
        stretches = self._joined.get(client, [])
        for start, stop in stretches[max(0, bisect_right(stretches, (clock, _LAST)) - 1) :]:
            if start >= end:
                break
            if start > clock:
                yield client, clock, start - clock
            clock = max(clock, stop)
        if clock < end:
            yield client, clock, end - clock

    def outside(self, spans: Iterable[Span]) -> list[Span]:
        """What of some spans is in none of these."""
        return [rest for span in spans for rest in self.without(span)]

    def holds_any(self, clocks: Iterable[tuple[int, int]]) -> bool:
        """Whether any of some structs is in these, by client and clock."""
        return any(self.covers((client, clock, 1)) for client, clock in clocks)

    def inside(self, spans: Sequence[Span]) -> list[Span]:
        """What of some spans is in these."""
        return Spans(self.outside(spans)).outside(spans)

    def covers(self, span: Span) -> bool:
        return not any(self.without(span))


_LAST = 2**60


def joined(stretches: Iterable[tuple[int, int]]) -> list[tuple[int, int]]:
    """The same stretches in order, with those in one that touch each other."""
    found: list[tuple[int, int]] = []
    for start, end in sorted(stretches):
        if found and start <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], end))
        else:
            found.append((start, end))
    return found


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
        self._nodes: dict[int, set[int]] = {}
        """Elements and texts, by client."""

    def take(self, update: bytes, removes: bool, by: By = NOBODY, lost: Iterable[Span] = ()) -> None:
        """Takes an update in. ``removes``: whether it takes out more than words, which it does not do here; ``lost``: which of its
        words came to stand nowhere."""
        self._orphans.extend(lost)
        parts = parts_of(update)
        self._note(parts)
        self._document.apply_update(parts.kept)
        self._document.apply_update(deletions(self._words_gone(parts, removes, by)))

    def _words_gone(self, parts: Parts, removes: bool, by: By) -> list[Span]:
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
        if removes or any(map(self._holds_nodes, rest)):
            if rest:
                self.removals.append(Removal(tuple(rest), by))
            return []
        self._known.extend(rest)
        return rest

    def _note(self, parts: Parts) -> None:
        self._words.extend(span for span, _ in parts.words)
        for client, clock, _ in parts.nodes:
            self._nodes.setdefault(client, set()).add(clock)

    def _holds_nodes(self, span: Span) -> bool:
        client, clock, length = span
        clocks = self._nodes.get(client, set())
        if length < len(clocks):
            return not clocks.isdisjoint(range(clock, clock + length))
        return any(clock <= one < clock + length for one in clocks)

    def write(
        self, update: bytes, removes: bool, lost: Collection[Span], stale: Sequence[Span], by: By = NOBODY
    ) -> list[Written]:
        """Takes in an update of whose words some came to stand nowhere, or that takes some out which were not there any more; what
        it does with these, by block. ``lost``, ``stale``: these words."""
        parts = parts_of(update)
        landed = {span for span, _ in parts.words} - {*lost}
        if landed:
            # Seen in a ghost of its own, in which all that came to stand somewhere is as if it had been deleted.
            found = self._twin().write(without_words(update, landed), removes, lost, stale)
            self.take(update, removes, by, lost)
            return found
        self._orphans.extend(lost)
        written: dict[XmlElement, tuple[_Layout, list[_Stretch]]] = {}
        # What is put in first, and then what is taken out: in between, both can be seen.
        self._note(parts)
        for target, delta in self._changes(parts.kept):
            if isinstance(target.parent, XmlElement) and any("insert" in step for step in delta):
                layout, new = written.setdefault(target.parent, (_Layout(target.parent), []))
                new.extend(layout.stretches(target, delta, "insert"))
        before = self._layouts() if stale else {one: layout for one, (layout, _) in written.items()}
        words = self._words_gone(parts, removes, by)
        taken = Spans(stale).inside(words)
        gone: dict[XmlElement, list[_Stretch]] = {}
        for target, delta in self._changes(deletions(taken)):
            if isinstance(target.parent, XmlElement) and target.parent in before:
                stretches = before[target.parent].stretches(target, delta, "delete")
                gone.setdefault(target.parent, []).extend(stretches)
                written.setdefault(target.parent, (before[target.parent], []))
        self._document.apply_update(deletions(words))
        return [
            _written(layout.block, layout.characters, new, gone.get(one, ())) for one, (layout, new) in written.items()
        ]

    def _twin(self) -> Ghost:
        made = Ghost()
        made._document.apply_update(self._document.get_update())
        made._known, made.removals = [*self._known], [*self.removals]
        made._orphans, made._words = [*self._orphans], [*self._words]
        made._nodes = {client: {*clocks} for client, clocks in self._nodes.items()}
        return made

    def went(self, spans: Sequence[Span]) -> list[Written]:
        """What the words among these were, which went with what somebody took out, and where they stood, by block. They stay here."""
        words = Spans(self._words).inside(spans)
        if not words:
            return []
        self._known.extend(words)
        twin = self._twin()
        before = twin._layouts()
        found: dict[XmlElement, list[_Stretch]] = {}
        for target, delta in twin._changes(deletions(words)):
            if isinstance(target.parent, XmlElement) and target.parent in before:
                stretches = before[target.parent].stretches(target, delta, "delete")
                found.setdefault(target.parent, []).extend(stretches)
        return [_written(before[one].block, before[one].characters, stretches, ()) for one, stretches in found.items()]

    @property
    def text(self) -> XmlFragment:
        return self._text

    def originals(self, ids: Collection[str]) -> dict[str, list[str]]:
        """How the paragraphs with these ids read that were taken out."""
        found: dict[str, list[str]] = {}
        for id, element, removal in self.blocks():
            if id in ids and removal is not None and element.tag == "paragraph":
                found.setdefault(id, []).append(_Layout(element).text)
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

    def _layouts(self) -> dict[XmlElement, _Layout]:
        return {paragraph: _Layout(paragraph) for paragraph in _paragraphs(self._text)}

    def _changes(self, update: bytes) -> list[tuple[XmlText, Delta]]:
        """Takes an update in; the texts in which it changes words, and how."""
        found: list[tuple[XmlText, Delta]] = []

        def note(events: list[Any]) -> None:
            found.extend((one.target, list(one.delta)) for one in events if isinstance(one.target, XmlText))

        subscription = self._text.observe_deep(note)
        self._document.apply_update(update)
        self._text.unobserve(subscription)
        return found


def _paragraphs(parent: XmlFragment | XmlElement) -> Iterator[XmlElement]:
    """The elements that hold words."""
    for child in parent.children:
        if isinstance(child, XmlElement):
            if any(isinstance(one, XmlText) for one in child.children):
                yield child
            else:
                yield from _paragraphs(child)


_Stretch = tuple[int, int]
"""Some characters of a paragraph: from which on, to before which."""


class _Layout:
    """The characters of a paragraph, each with its formatting, as it is now; what stands among words is one character each."""

    def __init__(self, paragraph: XmlElement) -> None:
        self.block = str(paragraph.attributes.get("id") or "")
        self.characters: list[tuple[str, Formatting]] = []
        self._texts: dict[XmlText, tuple[int, bytes]] = {}
        """Where each text begins, and what it says, in bytes as the library counts."""
        for child in paragraph.children:
            if isinstance(child, XmlText):
                parts = [(str(part), formatting or {}) for part, formatting in child.diff()]
                self._texts[child] = len(self.characters), "".join(part for part, _ in parts).encode()
                self.characters.extend((one, formatting) for part, formatting in parts for one in part)
            else:
                self.characters.append((INLINE_OBJECT, {}))

    @property
    def text(self) -> str:
        return "".join(one for one, _ in self.characters)

    def stretches(self, text: XmlText, delta: Delta, kind: str) -> Iterator[_Stretch]:
        """What a change put in, if it is there now; or what it then took out, if that is still there."""
        start, data = self._texts[text]
        at = 0
        for step in delta:
            length = int(step.get("retain", 0)) or int(step.get("delete", 0)) or len(step["insert"].encode())
            if kind in step:
                yield start + len(data[:at].decode()), start + len(data[: at + length].decode())
            at += length


def _written(
    block: str, characters: Sequence[tuple[str, Formatting]], new: Iterable[_Stretch], gone: Iterable[_Stretch]
) -> Written:
    """What was written, of characters as they are with what is new and before any is gone."""
    is_new = {at for start, end in new for at in range(start, end)}
    is_gone = {at for start, end in gone for at in range(start, end)}
    before: list[str] = []
    puts: list[Put] = []
    for at, (character, formatting) in enumerate(characters):
        last = puts[-1] if puts and puts[-1].at + puts[-1].gone == len(before) else Put(len(before), 0, ())
        if at in is_new and at not in is_gone:
            changed = last._replace(words=_with(last.words, character, formatting))
        elif at not in is_new and at in is_gone:
            changed = last._replace(gone=last.gone + 1)
        else:
            changed = last
        if changed is not last:
            puts[-1:] = [changed] if puts and puts[-1] is last else [*puts[-1:], changed]
        if at not in is_new:
            before.append(character)
    said = "".join(before)
    if len(puts) > 1 and not is_gone:
        puts = _in_one(said, characters) or puts
    return Written(block, said, tuple(puts))


def _in_one(before: str, characters: Sequence[tuple[str, Formatting]]) -> list[Put] | None:
    """What is new among some characters as one stretch, if it may be: browsers put an "n" that is typed in front of another
    behind that, and of what is typed on, the first is a part."""
    after = "".join(character for character, _ in characters)
    most = len(before)
    head = next((at for at in range(most) if before[at] != after[at]), most)
    if before[head:] != after[len(after) - (most - head) :]:
        return None
    words: tuple[tuple[str, Formatting], ...] = ()
    for character, formatting in characters[head : head + len(after) - most]:
        words = _with(words, character, formatting)
    return [Put(head, 0, words)]


def _with(
    words: tuple[tuple[str, Formatting], ...], character: str, formatting: Formatting
) -> tuple[tuple[str, Formatting], ...]:
    """Words with one character more."""
    if words and words[-1][1] == formatting:
        return (*words[:-1], (words[-1][0] + character, formatting))
    return (*words, (character, formatting))


def find_blocks(text: XmlFragment, ids: Iterable[str]) -> dict[str, XmlElement]:
    """The elements of the blocks with these ids that are in a text."""
    wanted, found = {*ids}, dict[str, XmlElement]()
    for one in _all_blocks(text):
        if (id := str(one.attributes.get("id"))) in wanted:
            found.setdefault(id, one)
    return found


def _all_blocks(text: XmlFragment) -> Iterator[XmlElement]:
    for one in text.children:
        if isinstance(one, XmlElement):
            yield one
            yield from _blocks_within(one)


def _blocks_within(block: XmlElement) -> Iterator[XmlElement]:
    for one in blocks_in(block):
        yield one
        yield from _blocks_within(one)


def write_into(paragraph: XmlElement, written: Written) -> None:
    """Does to a paragraph what was done to one with the same id, where it reads as that did."""
    there = _Aligned(written.before, _Layout(paragraph).text)
    for put in reversed(written.puts):
        for at in reversed(range(put.at, put.at + put.gone)):
            if (place := there.same(at)) is not None:
                _cut(paragraph, place)
        at = there.place(put.at)
        for word, formatting in reversed(put.words):
            _insert(paragraph, at, word, formatting)


def complete(paragraph: XmlElement, written: Written) -> None:
    """Puts into a paragraph what of that was written it lacks."""
    characters: list[tuple[str, Formatting]] = []
    new: list[int] = []
    at = 0
    for put in written.puts:
        characters += ((one, {}) for one in written.before[at : put.at])
        for word, formatting in put.words:
            new.extend(range(len(characters), len(characters) + len(word)))
            characters += ((one, formatting) for one in word)
        at = put.at
    characters += ((one, {}) for one in written.before[at:])
    aligned = _Aligned("".join(one for one, _ in characters), _Layout(paragraph).text)
    lacking = [(at, at + 1) for at in new if aligned.same(at) is None]
    write_into(paragraph, _written(written.block, characters, lacking, ()))


def whole(paragraph: XmlElement) -> Written:
    """All words of a paragraph, as if they had been written just now."""
    layout = _Layout(paragraph)
    return _written(layout.block, layout.characters, [(0, len(layout.characters))], ())


def merge_into(paragraph: XmlElement, twin: XmlElement, originals: Sequence[str] = ()) -> bool:
    """Puts into a paragraph what another one with its id has and it lacks; False if they have too little in common to be one.

    ``originals``: what both are copies of, however much was rewritten in them; none if it was never taken out of the text. What
    reads the same in both and is in none of these, two have written.
    """
    layout, there = _Layout(twin), _Layout(paragraph).text
    length, aligned = len(layout.characters), _Aligned(layout.text, there)
    if originals:
        both = ((_Aligned(layout.text, one), _Aligned(there, one)) for one in originals)
        of_twin, of_other = max(both, key=lambda pair: pair[0].common + pair[1].common)
        shared = {of_other.same(at) for at in range(len(there))} - {None}
        lacking = [at for at in range(length) if of_twin.same(at) not in shared]
    elif 2 * aligned.common < min(length, len(there)):
        return False
    else:
        lacking = [at for at in range(length) if aligned.same(at) is None]
    write_into(paragraph, _written(layout.block, layout.characters, [(at, at + 1) for at in lacking], ()))
    return True


_TOKENS = re.compile(r"[^\W\u3040-\u9fff\uac00-\ud7af]+|.", re.DOTALL)
"""Words, and what stands between them; in writing without spaces, its signs."""


class _Aligned:
    """Which character of one text is which of another: whole words are compared, and their characters only where one was put
    into the other. So two words that two people wrote at the same place are two words."""

    def __init__(self, one: str, other: str) -> None:
        mine, theirs = _TOKENS.findall(one), _TOKENS.findall(other)
        most = min(len(mine), len(theirs))
        head = next((at for at in range(most) if mine[at] != theirs[at]), most)
        tail = next((at for at in range(most - head) if mine[-1 - at] != theirs[-1 - at]), most - head)
        left, right = mine[head : len(mine) - tail], theirs[head : len(theirs) - tail]
        self._length = len(other)
        self._same: list[tuple[int, int, int]] = []
        at = there = 0
        for same, taken, given in _differing(mine[:head], left, right, mine[len(mine) - tail :]):
            if same:
                self._same.append((at, there, len(same)))
            else:
                self._same += [(at + i, there + j, 1) for i, j in _within(taken, given)]
            at, there = at + len(same or taken), there + len(same or given)
        self._same.append((len(one), len(other), 0))

    @property
    def common(self) -> int:
        """How many characters are in both."""
        return sum(size for _, _, size in self._same)

    def same(self, at: int) -> int | None:
        """Where a character of the first is in the other; None if it is not there."""
        return next((other + at - one for one, other, size in self._same if one <= at < one + size), None)

    def place(self, at: int) -> int:
        """Where what stands in front of a character of the first would stand in the other."""
        for one, other, size in self._same:
            if at <= one + size:
                return other + max(0, at - one)
        return self._length


def _differing(
    head: Sequence[str], left: Sequence[str], right: Sequence[str], tail: Sequence[str]
) -> Iterator[tuple[str, str, str]]:
    """The stretches of two texts, in order: what stands in both; or what stands in each instead of what is in the other."""
    if head:
        yield "".join(head), "", ""
    if left and right and len(left) * len(right) <= MOST_COMPARED:
        matcher = SequenceMatcher(None, left, right, autojunk=False)
        for kind, i, i_end, j, j_end in matcher.get_opcodes():
            if kind == "equal":
                yield "".join(left[i:i_end]), "", ""
            else:
                yield "", "".join(left[i:i_end]), "".join(right[j:j_end])
    elif left or right:
        yield "", "".join(left), "".join(right)
    if tail:
        yield "".join(tail), "", ""


def _within(one: str, other: str) -> list[tuple[int, int]]:
    """Which characters are which, where all of the shorter one are in the longer one in that order; none otherwise."""
    if len(one) > len(other):
        return [(at, there) for there, at in _within(other, one)]
    found: list[tuple[int, int]] = []
    there = 0
    for at, character in enumerate(one):
        there = other.find(character, there)
        if there < 0:
            return []
        found.append((at, there))
        there += 1
    return found


def _cut(paragraph: XmlElement, at: int) -> None:
    """Takes out a character of a paragraph."""
    for index, child in enumerate(paragraph.children):
        if not isinstance(child, XmlText):
            if at == 0:
                del paragraph.children[index]
                return
            at -= 1
            continue
        words = "".join(str(part) for part, _ in child.diff())
        if at < len(words):
            start = len(words[:at].encode())
            del child[start : start + len(words[at].encode())]
            return
        at -= len(words)


def _insert(paragraph: XmlElement, at: int, words: str, formatting: Formatting) -> None:
    """Puts words in front of a character of a paragraph, or at its end."""
    if words == INLINE_OBJECT:
        return
    for index, child in enumerate(children := list(paragraph.children)):
        length = 1
        if isinstance(child, XmlText):
            said = "".join(str(part) for part, _ in child.diff())
            if at <= len(said):
                child.insert(len(said[:at].encode()), words, dict(formatting))
                return
            length = len(said)
        elif at == 0 or (at == 1 and index + 1 == len(children)):
            paragraph.children.insert(index + at, XmlText()).insert(0, words, dict(formatting))
            return
        at -= length
    paragraph.children.append(XmlText()).insert(0, words, dict(formatting))
