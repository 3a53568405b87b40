"""Kinds of block as data, and the form in which they are kept: a tree of elements, attributes and words.

The shared document keeps a report's text in this form, and anybody may have put anything into it. Reading believes
nothing: a value that cannot be used counts as not given, and an element of an unknown kind is an empty paragraph. Each
kind is described once, in a module of ``kinds/``; whatever has to do something with every kind loops over what stands here.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from .blocks import Block, Paragraph
from .borders import FORM as BORDERS

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


MEETING = 2
"""How many times as much as there is room for may be there: several people may each put in the last at the same time."""

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


def of_form(form: re.Pattern[str]) -> Read:
    """Text that a pattern matches as a whole."""
    return lambda value: value if isinstance(value, str) and form.fullmatch(value) else None


background = of_form(re.compile(r"#[0-9a-f]{6}|none"))
"""A colour behind something, or none."""

borders = of_form(BORDERS)
"""Lines around something (``borders.py``)."""


def flag(value: Any) -> bool | None:
    return value if isinstance(value, bool) else None


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

    ``read`` takes the children and the block's id; None if no such block can be made of them. ``holds`` are the tags of
    the children, ``words`` whether there is text among them. ``blocks`` gives the blocks among a block's content.
    """

    name: str
    read: Callable[[Sequence[Element | Words], str], Any]
    write: Callable[[Any], Iterable[Element | Words]]
    holds: tuple[str, ...] = ()
    words: bool = False
    blocks: Callable[[Any], Iterable[Block]] = lambda content: ()
    least: Element | None = None
    longest: int | None = None
    """See ``Shape``."""


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of block: its type, the tag of its elements, its settings, and what its elements hold."""

    type: type[Any]
    tag: str
    fields: tuple[Field, ...] = ()
    content: Content | None = None
    most: int | None = None
    """How many of them a report has room for, if not for any number."""


@dataclass(frozen=True, slots=True)
class Shape:
    """What an element may be: its attributes, each with how it is read, and what it holds. The schema has one for each tag."""

    attributes: Mapping[str, Read] = field(default_factory=dict)
    holds: frozenset[str] = frozenset()
    words: bool = False
    most: int | None = None
    """How many elements it has room for, if not for any number."""
    longest: int | None = None
    """How many characters it has room for, if not for any number."""
    character: str = ""
    """Among words, the one character of a paragraph's text that it is."""
    least: Element | None = None
    """What is put into it if it holds nothing, since there would be no place to write on. Texts cannot promise a minimum:
    of two people each may have taken out half of what it held."""


_BY_TAG: dict[str, Kind] = {}
_BY_TYPE: dict[type[Any], Kind] = {}
_SHAPES: dict[str, Shape] = {}
_MARKS: dict[str, Mapping[str, Read]] = {}

SHAPES: Mapping[str, Shape] = MappingProxyType(_SHAPES)
"""The elements that a text may hold, by tag."""

MARKS: Mapping[str, Mapping[str, Read]] = MappingProxyType(_MARKS)
"""The formatting that words may have: its name, and how each of the things is read that it may say."""


def add_kind(kind: Kind) -> None:
    """Makes a kind known. Raises ValueError if its tag or type is taken."""
    if kind.tag in _BY_TAG or kind.type in _BY_TYPE:
        raise ValueError(f"there is a kind of block with tag “{kind.tag}” or type {kind.type.__name__} already")
    _BY_TAG[kind.tag] = _BY_TYPE[kind.type] = kind
    attributes = {"id": identifier} | {one.attribute: one.read for one in kind.fields}
    content = kind.content or Content("", lambda children, id: None, lambda content: ())
    add_shape(
        kind.tag,
        Shape(attributes, frozenset(content.holds), content.words, longest=content.longest, least=content.least),
    )


def add_shape(tag: str, shape: Shape) -> None:
    """Makes elements known: those that blocks hold, and are none themselves."""
    _SHAPES[tag] = shape


def add_mark(name: str, /, **reads: Read) -> None:
    """Makes known what formatting of words may say: each as it can be read, or not at all."""
    _MARKS[name] = reads


def usable_mark(name: str, value: Any) -> Mapping[str, Any] | None:
    """Of what formatting says all that it can mean; None if nothing of it can be used. None or nothing is as if not said."""
    reads = MARKS.get(name)
    if reads is None or not isinstance(value, dict):
        return None
    found = {
        one: said
        for one, said in value.items()
        if one in reads and (said in (None, "") or reads[one](said) is not None)
    }
    return found if found or not value else None


def fault_of_attribute(tag: str, name: str, value: Any) -> str | None:
    """What is wrong with an attribute, if anything. None or nothing as its value is as if it were not given."""
    read = SHAPES[tag].attributes.get(name)
    if read is None:
        return f"“{tag}” has no “{name[:40]}”"
    return (
        None
        if value is None or value == "" or read(value) is not None
        else f"“{name}” of “{tag}” cannot be “{str(value)[:40]}”"
    )


def fault_of_words(attributes: Mapping[str, Any]) -> str | None:
    """What is wrong with the formatting of words, if anything."""
    for name, value in attributes.items():
        if name not in MARKS:
            return f"there is no formatting “{name[:40]}”"
        if value is not None and usable_mark(name, value) != value:
            return f"“{name}” cannot say “{str(value)[:40]}”"
    return None


def fault_within(tag: str | None, child: Element | Words) -> str | None:
    """What is wrong with a child of an element, or of the text itself (None), and all that it holds, if anything."""
    shape = shape_of(tag)
    if isinstance(child, Words):
        return fault_of_words(child.attributes) if shape.words else f"words stand in {place_in_words(tag)}"
    return validate(child) if child.tag in shape.holds else f"“{child.tag[:40]}” stands in {place_in_words(tag)}"


def validate(element: Element) -> str | None:
    """What is wrong with an element and all that it holds, wherever it stands, if anything."""
    if element.tag not in SHAPES:
        return f"there is no kind of block “{element.tag[:40]}”"
    for name, value in element.attributes.items():
        if fault := fault_of_attribute(element.tag, name, value):
            return fault
    most = SHAPES[element.tag].most
    if most is not None and len(element.children) > MEETING * most:
        return f"“{element.tag}” has room for {most} of what it holds, not for {len(element.children)}"
    return next((fault for one in element.children if (fault := fault_within(element.tag, one))), None)


def fault_of_length(element: Element) -> str | None:
    """What is wrong with how many characters stand in an element, or in one that it holds, if anything.

    Asked only where some were put in: from what is too long all the same, one can take away.
    """
    longest = SHAPES[element.tag].longest
    if longest is None:
        return next(
            (fault for one in element.children if isinstance(one, Element) and (fault := fault_of_length(one))), None
        )
    count = sum(len(one.text if isinstance(one, Words) else SHAPES[one.tag].character) for one in element.children)
    return (
        f"a {element.tag} has room for {longest:,} characters, not for {count:,}" if count > MEETING * longest else None
    )


def lacks(element: Element) -> bool:
    """Whether an element, or one in it, holds nothing where there has to be a place to write on."""
    shape = SHAPES.get(element.tag)
    if shape is None:
        return False
    if shape.least and not any(isinstance(one, Element) for one in element.children):
        return True
    return any(isinstance(one, Element) and lacks(one) for one in element.children if not shape.words)


def most_of(tag: str) -> int | None:
    """How many blocks with a tag a report has room for; None if for any number."""
    kind = _BY_TAG.get(tag)
    return kind.most if kind else None


def shape_of(tag: str | None) -> Shape:
    """What an element may be; or, for None, the text itself, which holds all kinds of block."""
    return SHAPES[tag] if tag is not None else Shape(holds=frozenset(_BY_TAG))


def place_in_words(tag: str | None) -> str:
    return "the text itself" if tag is None else f"“{tag}”"


def is_kind(tag: str) -> bool:
    """Whether elements with this tag are blocks."""
    return tag in _BY_TAG


def element_of(block: Block) -> Element:
    """A block as an element; settings that say nothing (None), or what they may not be, are left out."""
    kind = _BY_TYPE[type(block)]
    given = {one.attribute: one.read(getattr(block, one.name)) for one in kind.fields}
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
