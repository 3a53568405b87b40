"""Kinds of block as data, and the form in which they are kept: a tree of elements, attributes and words.

The shared document keeps a report's text in this form, and anybody may have put anything into it. Reading believes
nothing: a value that cannot be used counts as not given, and an element of an unknown kind is an empty paragraph. Each
kind is described once, in a module of ``kinds/``; whatever has to do something with every kind loops over what stands here.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from .blocks import Block, Paragraph

_ID = re.compile(r"[A-Za-z0-9_-]{1,64}")


@dataclass(frozen=True, slots=True)
class Words:
    """Text with the same formatting throughout; ``attributes`` name it."""

    text: str
    attributes: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Element:
    tag: str
    attributes: Mapping[str, Any] = field(default_factory=dict)
    children: Sequence[Element | Words] = ()


Read = Callable[[Any], Any]
"""Takes a value that anybody may have given; returns it as it can be used, or None."""


def number(least: float, most: float) -> Read:
    return lambda value: (
        float(value) if isinstance(value, int | float) and least <= value <= most and value is not True else None
    )


def whole(least: int, most: int) -> Read:
    read = number(least, most)
    return lambda value: None if read(value) is None else int(value)


def one_of(*values: object) -> Read:
    return lambda value: value if isinstance(value, str | int) and value in values else None


def short(most: int) -> Read:
    """Text of which at most ``most`` characters are kept."""
    return lambda value: value[:most] if isinstance(value, str) and value else None


def flag(value: Any) -> bool:
    return bool(value)


def identifier(value: Any) -> str | None:
    """What can be the id of a block or the name of a table."""
    return value if isinstance(value, str) and _ID.fullmatch(value) else None


@dataclass(frozen=True, slots=True)
class Field:
    """One setting of a kind: the block's own name for it, the attribute that keeps it, and how it is read."""

    name: str
    attribute: str
    read: Read
    default: Any = None
    unique: bool = False
    """Whether no two blocks of a report may have the same, as with ids."""


@dataclass(frozen=True, slots=True)
class Content:
    """What a kind makes of its element's children: the block's own field ``name``.

    ``read`` takes the children and the block's id; None if no such block can be made of them. ``blocks`` gives the
    blocks among a block's content.
    """

    name: str
    read: Callable[[Sequence[Element | Words], str], Any]
    write: Callable[[Any], Iterable[Element | Words]]
    blocks: Callable[[Any], Iterable[Block]] = lambda content: ()


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of block: its type, the tag of its elements, its settings, and what its elements hold."""

    type: type[Any]
    tag: str
    fields: tuple[Field, ...] = ()
    content: Content | None = None


_BY_TAG: dict[str, Kind] = {}
_BY_TYPE: dict[type[Any], Kind] = {}


def add_kind(kind: Kind) -> None:
    """Makes a kind known. Raises ValueError if its tag or type is taken."""
    if kind.tag in _BY_TAG or kind.type in _BY_TYPE:
        raise ValueError(f"there is a kind of block with tag “{kind.tag}” or type {kind.type.__name__} already")
    _BY_TAG[kind.tag] = _BY_TYPE[kind.type] = kind


def is_kind(tag: str) -> bool:
    """Whether elements with this tag are blocks."""
    return tag in _BY_TAG


def element_of(block: Block) -> Element:
    """A block as an element; settings that say nothing (None) are left out."""
    kind = _BY_TYPE[type(block)]
    given = {one.attribute: getattr(block, one.name) for one in kind.fields}
    attributes = {"id": block.id} | {name: value for name, value in given.items() if value is not None}
    return Element(
        kind.tag, attributes, tuple(kind.content.write(getattr(block, kind.content.name))) if kind.content else ()
    )


def read_block(element: Element | Words, fallback: str) -> Block:
    """The block that an element stands for. ``fallback`` is its id if its own is missing or unusable."""
    if isinstance(element, Words):
        return Paragraph(fallback)
    id = identifier(element.attributes.get("id")) or fallback
    kind = _BY_TAG.get(element.tag, _BY_TYPE[Paragraph])
    values: dict[str, Any] = {}
    for one in kind.fields:
        found = one.read(element.attributes[one.attribute]) if one.attribute in element.attributes else None
        values[one.name] = one.default if found is None else found
    if kind.content:
        content = kind.content.read(element.children, id)
        if content is None:
            return Paragraph(id)
        values[kind.content.name] = content
    block: Block = kind.type(id, **values)
    return block


def attribute_of(type: type[Any], name: str) -> str:
    """The attribute that keeps a setting of a kind of block. Raises KeyError if it has none of this name."""
    return {one.name: one.attribute for one in _BY_TYPE[type].fields}[name]


def ids_of(block: Block) -> list[str]:
    """The ids of a block and of the blocks in it."""
    kind = _BY_TYPE[type(block)]
    found = [block.id]
    if kind.content:
        for inner in kind.content.blocks(getattr(block, kind.content.name)):
            found.extend(ids_of(inner))
    return found


def names(block: Block) -> list[str]:
    """What may stand only once in a report: the ids of a block and of the blocks in it, and its unique settings."""
    kind = _BY_TYPE[type(block)]
    own = [block.id, *(f"{one.attribute} {getattr(block, one.name)}" for one in kind.fields if one.unique)]
    if kind.content:
        for inner in kind.content.blocks(getattr(block, kind.content.name)):
            own.extend(names(inner))
    return own


def unique_attributes(tag: str) -> tuple[str, ...]:
    """The attributes of an element, beside its id, that may stand only once in a report."""
    kind = _BY_TAG.get(tag)
    return tuple(one.attribute for one in kind.fields if one.unique) if kind else ()
