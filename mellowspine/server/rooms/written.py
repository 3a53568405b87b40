"""What was written in a paragraph: which words at which of its characters, and how it read before."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from pycrdt import XmlElement, XmlText

from mellowspine.core.report.blocks import INLINE_OBJECT

Formatting = Mapping[str, Any]
Delta = Sequence[Mapping[str, Any]]


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


def words_of(text: XmlText) -> str:
    """What a text says, without its formatting."""
    return "".join(str(part) for part, _ in text.diff())


Stretch = tuple[int, int]
"""Some characters of a paragraph: from which on, to before which."""


class Layout:
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

    def stretches(self, text: XmlText, delta: Delta, kind: str) -> Iterator[Stretch]:
        """What a change put in, if it is there now; or what it then took out, if that is still there."""
        start, data = self._texts[text]
        at = 0
        for step in delta:
            length = int(step.get("retain", 0)) or int(step.get("delete", 0)) or len(step["insert"].encode())
            if kind in step:
                yield start + len(data[:at].decode()), start + len(data[: at + length].decode())
            at += length


def as_written(
    block: str, characters: Sequence[tuple[str, Formatting]], new: Iterable[Stretch], gone: Iterable[Stretch]
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
