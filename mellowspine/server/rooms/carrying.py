"""What is written in a block while somebody moves it goes along, whoever of the two is heard of first.

In a shared document a block that is moved is taken out and put in again: what arrives for the one that was taken out would be
gone with it, and so would be what its mover had not heard of. What that was shows in a ghost (``ghost.py``); here it is done to the
block that has the id now. ``docs/together.md`` says what is carried, and what is not.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from difflib import SequenceMatcher

from pycrdt import XmlElement, XmlFragment, XmlText

from mellowspine.core.report.blocks import INLINE_OBJECT

from .document import blocks_in
from .written import Formatting, Layout, Written, as_written, words_of

MOST_COMPARED = 1_000_000
"""How many pairs of words are compared where a paragraph was rewritten; beyond that, all of it counts as rewritten."""


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
    there = _Aligned(written.before, Layout(paragraph).text)
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
    aligned = _Aligned("".join(one for one, _ in characters), Layout(paragraph).text)
    lacking = [(at, at + 1) for at in new if aligned.same(at) is None]
    write_into(paragraph, as_written(written.block, characters, lacking, ()))


def whole(paragraph: XmlElement) -> Written:
    """All words of a paragraph, as if they had been written just now."""
    layout = Layout(paragraph)
    return as_written(layout.block, layout.characters, [(0, len(layout.characters))], ())


def merge_into(paragraph: XmlElement, twin: XmlElement, originals: Sequence[str] = ()) -> bool:
    """Puts into a paragraph what another one with its id has and it lacks; False if they have too little in common to be one.

    ``originals``: what both are copies of, however much was rewritten in them; none if it was never taken out of the text. What
    reads the same in both and is in none of these, two have written.
    """
    layout, there = Layout(twin), Layout(paragraph).text
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
    write_into(paragraph, as_written(layout.block, layout.characters, [(at, at + 1) for at in lacking], ()))
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
        words = words_of(child)
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
            said = words_of(child)
            if at <= len(said):
                child.insert(len(said[:at].encode()), words, dict(formatting))
                return
            length = len(said)
        elif at == 0 or (at == 1 and index + 1 == len(children)):
            paragraph.children.insert(index + at, XmlText()).insert(0, words, dict(formatting))
            return
        at -= length
    paragraph.children.append(XmlText()).insert(0, words, dict(formatting))
