"""A report's text as a shared document (Yjs), and as blocks of the core; both ways.

The document has one XML fragment, ``text``. Its children are the elements of the report's blocks, as the core describes
them (``core/report/elements.py``); formatting is attributes of text.
"""

from __future__ import annotations

import secrets
from collections.abc import Iterable, Iterator
from typing import Any

from pycrdt import Doc, XmlElement, XmlFragment, XmlText

from mellowspine.core.report.blocks import Block
from mellowspine.core.report.elements import Element, Words, element_of, identifier, is_kind
from mellowspine.core.report.elements import read_block as read_element

FIELD = "text"


def new_id() -> str:
    """An id that no other block of the report has: 62 bits, as many as the browsers' own have."""
    return "".join(secrets.choice("abcdefghijklmnopqrstuvwxyz0123456789") for _ in range(12))


def has_own_id(element: Any) -> bool:
    """Whether a child of the text has an id that can be used."""
    return isinstance(element, XmlElement) and identifier(element.attributes.get("id")) is not None


def text_of(document: Doc[Any]) -> XmlFragment:
    fragment: XmlFragment = document.get(FIELD, type=XmlFragment)
    return fragment


def blocks_in(element: XmlElement) -> Iterator[XmlElement]:
    """The elements of blocks that an element holds, those of data tables in their rows and cells."""
    for child in element.children:
        if isinstance(child, XmlElement):
            if is_kind(child.tag or ""):
                yield child
            else:
                yield from blocks_in(child)


def document_of(blocks: Iterable[Block]) -> Doc[Any]:
    """A new document with these blocks as its text."""
    document: Doc[Any] = Doc()
    fragment = text_of(document)
    with document.transaction():
        for block in blocks:
            append_block(fragment, block)
    return document


def append_block(parent: XmlFragment | XmlElement, block: Block) -> None:
    _append(parent, element_of(block))


def _append(parent: XmlFragment | XmlElement, element: Element) -> None:
    made: XmlElement = parent.children.append(XmlElement(element.tag))
    for name, value in element.attributes.items():
        made.attributes[name] = value
    text: XmlText | None = None
    length = 0  # in bytes, as pycrdt counts
    for child in element.children:
        if isinstance(child, Element):
            _append(made, child)
            text = None
        else:
            if text is None:
                text, length = made.children.append(XmlText()), 0
            text.insert(length, child.text, dict(child.attributes))
            length += len(child.text.encode())


def read_block(child: Any, index: int) -> Block:
    """One block of the text. ``index`` names a block whose id is missing or unusable."""
    return read_element(_read(child), f"at-{index}")


def _read(child: Any) -> Element | Words:
    if not isinstance(child, XmlElement):
        return Words("")
    children: list[Element | Words] = []
    for one in child.children:
        if isinstance(one, XmlText):
            children.extend(Words(text, attributes or {}) for text, attributes in one.diff() if isinstance(text, str))
        elif isinstance(one, XmlElement):
            children.append(_read(one))
    attributes = dict(child.attributes)  # type: ignore[call-overload]  # pairs, though its type does not say so
    return Element(child.tag or "", attributes, children)
