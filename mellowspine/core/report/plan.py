"""Plans: what an action would change in a text, as data.

A plan is made from a report and can be shown, counted and tested before anything is done. It is carried out here on a
report, and by the browser of whoever asked for it as one edit of theirs (``text-leaf/plan.ts``); one set of cases holds
the two together. Between the making and the doing others go on writing: a step whose block is gone is left out, and words
are taken away only where they still read as they did.

Offsets count characters of a paragraph's text; ``as_json`` gives them in UTF-16 code units, as JavaScript counts.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from typing import Any

from .blocks import Block
from .elements import SHAPES, Element, Words, element_of, ids_of, read_block
from .report import Report


@dataclass(frozen=True, slots=True)
class Set:
    """Gives a block other settings, by attribute; None takes one away."""

    block: str
    values: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Format:
    """Changes the formatting of a paragraph's words from ``start`` to ``end``, by attribute; None takes one away.

    With ``words`` only if they still read so."""

    block: str
    start: int
    end: int
    values: Mapping[str, Any]
    words: str = ""


@dataclass(frozen=True, slots=True)
class Cut:
    """Takes words out of a paragraph, from ``start`` on, if they still read so, and puts ``instead`` in their place."""

    block: str
    start: int
    words: str
    instead: tuple[Element | Words, ...] = ()


@dataclass(frozen=True, slots=True)
class Move:
    """Moves blocks, in the order in which they are named, behind another; to the start of the text if that is None."""

    blocks: tuple[str, ...]
    after: str | None


@dataclass(frozen=True, slots=True)
class Insert:
    """Puts new blocks behind another; at the start of the text if that is None."""

    blocks: tuple[Block, ...]
    after: str | None


@dataclass(frozen=True, slots=True)
class Remove:
    """Takes blocks out. Those named in ``reads`` are taken out only if their words still are what it says."""

    blocks: tuple[str, ...]
    reads: Mapping[str, str] = field(default_factory=dict, hash=False)


Step = Set | Format | Cut | Move | Insert | Remove
Plan = tuple[Step, ...]


def carry_out(plan: Plan, report: Report) -> Report:
    """The report after the plan."""
    blocks = list(report.blocks)
    places: dict[str, int] = {}
    for step in plan:
        match step:
            case Set(id) | Format(id) | Cut(id):
                # Steps that move nothing find their blocks by one look through the report.
                places = places or _places(blocks)
                if id in places:
                    _change(blocks, places[id], id, step)
                continue
            case Move(ids, after):
                _move(blocks, ids, after)
            case Insert(new, after):
                at = _after(blocks, after)
                if at is not None:
                    blocks[at:at] = new
            case Remove(ids, reads):
                gone = {*ids}
                blocks = [block for block in blocks if block.id not in gone or not _reads(block, reads)]
        places = {}
    return replace(report, blocks=tuple(blocks))


def _reads(block: Block, reads: Mapping[str, str]) -> bool:
    return block.id not in reads or words_of(element_of(block)) == reads[block.id]


def words_of(element: Element) -> str:
    """The words of a paragraph, with one character for each of what else stands among them."""
    return "".join(map(_characters, element.children))


def _characters(child: Element | Words) -> str:
    return child.text if isinstance(child, Words) else SHAPES[child.tag].character


def _places(blocks: Sequence[Block]) -> dict[str, int]:
    """Where each block is, or the block that it stands in, by id."""
    found: dict[str, int] = {}
    for index, block in enumerate(blocks):
        for id in ids_of(block):
            found.setdefault(id, index)
    return found


def _change(blocks: list[Block], index: int, id: str, step: Set | Format | Cut) -> None:
    """Changes the block with an id, in the block at an index."""
    match step:
        case Set(_, values):
            change: Callable[[Element], Element] = partial(_set, values=values)
        case Format(_, start, end, values, words):
            change = partial(_formatted, start=start, end=end, values=values, words=words)
        case Cut(_, start, words, instead):
            change = partial(_without, start=start, words=words, instead=instead)
    before = element_of(blocks[index])
    after = _changed(before, id, change)
    if after is not before:
        blocks[index] = read_block(after, blocks[index].id)


def _changed(element: Element, id: str, change: Callable[[Element], Element]) -> Element:
    if element.attributes.get("id") == id:
        return change(element)
    for index, child in enumerate(element.children):
        if isinstance(child, Element):
            after = _changed(child, id, change)
            if after is not child:
                children = (*element.children[:index], after, *element.children[index + 1 :])
                return replace(element, children=children)
    return element


def _with(attributes: Mapping[str, Any], values: Mapping[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in {**attributes, **values}.items() if value is not None}


def _set(element: Element, values: Mapping[str, Any]) -> Element:
    return replace(element, attributes=_with(element.attributes, values))


def _parted(children: Sequence[Element | Words], *offsets: int) -> list[list[Element | Words]]:
    """The words of a paragraph and what stands among them, parted at offsets, each a character long but for words."""
    parts: list[list[Element | Words]] = [[] for _ in range(len(offsets) + 1)]
    at = 0
    for child in children:
        if isinstance(child, Element):
            parts[sum(offset <= at for offset in offsets)].append(child)
            at += 1
            continue
        edges = [0, *(min(max(offset - at, 0), len(child.text)) for offset in offsets), len(child.text)]
        for part, start, end in zip(parts, edges[:-1], edges[1:], strict=True):
            if start < end:
                part.append(replace(child, text=child.text[start:end]))
        at += len(child.text)
    return parts


def _formatted(element: Element, start: int, end: int, values: Mapping[str, Any], words: str) -> Element:
    before, there, after = _parted(element.children, start, end)
    if words and "".join(map(_characters, there)) != words:
        return element
    changed = [
        replace(one, attributes=_with(one.attributes, values)) if isinstance(one, Words) else one for one in there
    ]
    return replace(element, children=(*before, *changed, *after))


def _without(element: Element, start: int, words: str, instead: tuple[Element | Words, ...]) -> Element:
    before, there, after = _parted(element.children, start, start + len(words))
    reads = "".join(map(_characters, there))
    return replace(element, children=(*before, *instead, *after)) if reads == words else element


def _after(blocks: Sequence[Block], id: str | None) -> int | None:
    """The place behind a block; None if it is not there."""
    if id is None:
        return 0
    return next((index + 1 for index, block in enumerate(blocks) if block.id == id), None)


def _move(blocks: list[Block], ids: tuple[str, ...], after: str | None) -> None:
    """A block that is to go behind one of those that move stays where it is, and so do all of them."""
    there = {block.id: block for block in blocks}
    moving = {*ids}
    rest = [block for block in blocks if block.id not in moving]
    at = _after(rest, after)
    if at is not None:
        blocks[:] = [*rest[:at], *(there[id] for id in ids if id in there), *rest[at:]]


def as_json(plan: Plan, report: Report) -> list[dict[str, Any]]:
    """The plan for a browser."""
    texts: dict[str, str] = {}
    if wanted := {step.block for step in plan if isinstance(step, Format | Cut)}:
        for block in report.blocks:
            if not wanted.isdisjoint(ids_of(block)):
                _note_texts(element_of(block), texts)
    return [_step_as_json(step, texts) for step in plan]


def _note_texts(element: Element, texts: dict[str, str]) -> None:
    if "id" in element.attributes:
        texts[element.attributes["id"]] = words_of(element)
    for child in element.children:
        if isinstance(child, Element):
            _note_texts(child, texts)


def _step_as_json(step: Step, texts: Mapping[str, str]) -> dict[str, Any]:
    def units(block: str, offset: int) -> int:
        return len(texts.get(block, "")[:offset].encode("utf-16-le")) // 2

    match step:
        case Set(block, values):
            return {"step": "set", "block": block, "values": dict(values)}
        case Format(block, start, end, values, words):
            return {"step": "format", "block": block, "start": units(block, start), "end": units(block, end),
                    "values": dict(values), "words": words}  # fmt: skip
        case Cut(block, start, words, instead):
            return {"step": "cut", "block": block, "start": units(block, start), "words": words,
                    "instead": [element_as_json(one) for one in instead]}  # fmt: skip
        case Move(blocks, after):
            return {"step": "move", "blocks": list(blocks), "after": after}
        case Insert(blocks, after):
            return {"step": "insert", "blocks": [element_as_json(element_of(one)) for one in blocks], "after": after}
        case Remove(blocks, reads):
            return {"step": "remove", "blocks": list(blocks), "reads": dict(reads)}


def element_as_json(element: Element | Words) -> dict[str, Any]:
    """An element for a browser, as it stands in plans."""
    if isinstance(element, Words):
        return {"text": element.text, "attributes": dict(element.attributes)}
    children = [element_as_json(child) for child in element.children]
    return {"tag": element.tag, "attributes": dict(element.attributes), "children": children}


def element_from_json(data: Any) -> Element | Words:
    """What ``element_as_json`` gives, from a browser. Raises ValueError for anything else."""
    match data:
        case {"text": str(text), "attributes": dict(attributes)}:
            return Words(text, attributes)
        case {"tag": str(tag), "attributes": dict(attributes), "children": list(children)}:
            return Element(tag, attributes, tuple(map(element_from_json, children)))
    raise ValueError("neither an element nor words")
