"""A report's text as a shared document (Yjs), and as blocks of the core; both ways.

The document has one XML fragment, ``text``. Its children are the elements of the report's blocks, as the core describes
them (``core/report/elements.py``); formatting is attributes of text.
"""

from __future__ import annotations

import secrets
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from pycrdt import Doc, XmlElement, XmlFragment, XmlText

from mellowspine.core.report.blocks import Block
from mellowspine.core.report.elements import (
    MEETING,
    SHAPES,
    Element,
    Words,
    element_of,
    fault_of_attribute,
    fault_of_length,
    fault_of_words,
    fault_within,
    identifier,
    is_kind,
    most_of,
    place_in_words,
    shape_of,
    usable_mark,
    validate,
)
from mellowspine.core.report.elements import read_block as read_element

FIELD = "text"

SCHEMA = 13
"""Number of the schema of texts; one more whenever a text may hold something else than before."""


def new_id() -> str:
    """An id that no other block of the report has: 62 bits, as many as the browsers' own have."""
    return "".join(secrets.choice("abcdefghijklmnopqrstuvwxyz0123456789") for _ in range(12))


def has_own_id(element: Any) -> bool:
    """Whether a child of the text has an id that can be used."""
    return isinstance(element, XmlElement) and identifier(element.attributes.get("id")) is not None


def copy_of(document: Doc[Any], *updates: bytes) -> Doc[Any]:
    """Another document with the same in it, and some more, that nobody watches."""
    made: Doc[Any] = Doc()
    for data in (document.get_update(), *updates):
        made.apply_update(data)
    return made


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


PIECE = 1_000_000
"""Characters of a text that are written in one transaction; an element counts as thirty."""


def updates_of(blocks: Sequence[Block]) -> list[bytes]:
    """A new document with these blocks as its text, as updates that are to be taken in one after the other.

    They are small, so that nobody's saving has to wait long while one is written.
    """
    document: Doc[Any] = Doc()
    text, made, waiting, size = text_of(document), [], list[Element](), 0
    for block in (*reversed(blocks), None):
        if block is not None:
            waiting.append(element_of(block))
            size += _size(waiting[-1])
        if waiting and (block is None or size > PIECE):
            state = document.get_state()
            with document.transaction():
                _put_in_front(text, waiting[::-1])
            made.append(document.get_update(state))
            waiting, size = [], 0
    return made


def _size(part: Element | Words) -> int:
    return len(part.text) if isinstance(part, Words) else 30 + sum(map(_size, part.children))


def append_block(parent: XmlFragment | XmlElement, block: Block) -> None:
    put_block(parent, block, len(parent.children))


def put_block(parent: XmlFragment | XmlElement, block: Block, index: int) -> None:
    """Puts a block into a text, or into an element, in front of the child that stands there."""
    _fill(parent.children.insert(index, XmlElement((element := element_of(block)).tag)), element)


def _put_in_front(parent: XmlFragment | XmlElement, children: Sequence[Element | Words]) -> None:
    """The last first, each before all others: the library counts from the front to wherever something is put in."""
    text: XmlText | None = None
    for child in reversed(children):
        if isinstance(child, Element):
            _fill(parent.children.insert(0, XmlElement(child.tag)), child)
            text = None
        else:
            text = parent.children.insert(0, XmlText()) if text is None else text
            text.insert(0, child.text, dict(child.attributes))


def _fill(made: XmlElement, element: Element) -> None:
    for name, value in element.attributes.items():
        made.attributes[name] = value
    _put_in_front(made, element.children)


def read_block(child: Any, index: int) -> Block:
    """One block of the text. ``index`` names a block whose id is missing or unusable."""
    return read_element(read(child), f"at-{index}")


def fill(parent: XmlElement) -> None:
    """Puts something into an element, and those in it, where they hold nothing and there has to be a place to write on."""
    least = shape_of(parent.tag).least
    inside = [one for one in parent.children if isinstance(one, XmlElement)]
    if least and not inside:
        _fill(parent.children.append(XmlElement(least.tag)), _with_ids(least))
    for one in inside:
        fill(one)


def _with_ids(element: Element) -> Element:
    children = [_with_ids(one) if isinstance(one, Element) else one for one in element.children]
    ids = {"id": new_id()} if is_kind(element.tag) else {}
    return Element(element.tag, ids | dict(element.attributes), children)


_FOREIGN = Element("something that is no element")
"""Stands for what a text never has, such as a number among the blocks."""


def read(child: Any) -> Element | Words:
    """A child of the text, or of an element, as the core knows it."""
    if not isinstance(child, XmlElement):
        return _FOREIGN
    children = list(_within(child))
    attributes = dict(child.attributes)  # type: ignore[call-overload]  # pairs, though its type does not say so
    return Element(child.tag or "", attributes, children)


def _within(parent: XmlElement | XmlFragment) -> Iterator[Element | Words]:
    count = 0
    shape = SHAPES.get(parent.tag or "") if isinstance(parent, XmlElement) else None
    holds_words = shape is not None and shape.words
    for one in parent.children:
        count += 1
        if isinstance(one, XmlText):
            yield from _words_of(one) if holds_words else (_FOREIGN,)
        else:
            yield read(one)
    if count != len(parent.children):
        # The library ends where something stands that is neither element nor text.
        yield _FOREIGN


def _words_of(text: XmlText) -> Iterator[Element | Words]:
    parts = text.diff()
    yield from _words(parts)
    if len(text.attributes) or _length(parts) != len(text):
        yield _FOREIGN


def _length(parts: Iterable[tuple[Any, Any]]) -> int:
    """The length of some text, in bytes as pycrdt counts. Where the text itself is longer, something else stands in it."""
    return sum(len(part.encode()) if isinstance(part, str) else 1 for part, _ in parts)


def _words(parts: Iterable[tuple[Any, Mapping[str, Any] | None]]) -> Iterator[Element | Words]:
    for text, attributes in parts:
        yield Words(text, attributes or {}) if isinstance(text, str) else _FOREIGN


def leave_out_what_is_foreign(parent: XmlFragment | XmlElement) -> list[str]:
    """Takes out of a text, or of an element, all that may not stand there. Returns what it was."""
    tag = parent.tag if isinstance(parent, XmlElement) else None
    shape = shape_of(tag)
    found = _leave_out_of_attributes(parent) if isinstance(parent, XmlElement) else []
    children = parent.children
    while len(known := list(children)) < len(children):
        found.append(f"something in {place_in_words(tag)} that is no element")
        del children[len(known)]
    for index in reversed(range(len(known))):
        child = known[index]
        if isinstance(child, XmlText) and shape.words:
            found.extend(_leave_out_of_words(parent, index))
        elif isinstance(child, XmlElement) and child.tag in shape.holds:
            found.extend(leave_out_what_is_foreign(child))
        else:
            found.append(fault_within(tag, read(child)) or "")
            del children[index]
    return found


def _leave_out_of_words(parent: XmlFragment | XmlElement, index: int) -> list[str]:
    """Takes out of the text at a place what is no words, or formatting that there is not. Returns what it was."""
    children = parent.children
    text = children[index]
    assert isinstance(text, XmlText)
    found = []
    parts = text.diff()
    words = [(part, attributes or {}) for part, attributes in parts if isinstance(part, str)]
    if len(text.attributes) or _length(words) != len(text):
        found.append("something among words that is none")
        del children[index]
        text = children.insert(index, XmlText())
        for part, attributes in words:
            text.insert(len(text), part, attributes)
    return [*found, *_leave_out_of_formatting(text)]


def _leave_out_of_formatting(text: XmlText) -> list[str]:
    """Takes out of what formatting says what it cannot mean. Returns what it was."""
    found = []
    at = 0
    for part, attributes in text.diff():
        end = at + (len(part.encode()) if isinstance(part, str) else 1)
        for name, value in (attributes or {}).items():
            if fault := fault_of_words({name: value}):
                found.append(fault)
                text.format(at, end, {name: usable_mark(name, value)})
        at = end
    return found


def leave_out_what_has_no_room(element: XmlElement) -> list[str]:
    """Takes out of an element, and those in it, the last of what it holds where that is more than may meet there. Returns
    what it was."""
    shape = shape_of(element.tag)
    if shape.words:
        return _leave_out_of_length(element)
    found = []
    children = element.children
    if shape.most is not None and len(children) > MEETING * shape.most:
        found.append(f"“{element.tag}” has room for {shape.most} of what it holds, not for {len(children)}")
        for index in reversed(range(MEETING * shape.most, len(children))):
            del children[index]
    return [
        *found,
        *(fault for one in children if isinstance(one, XmlElement) for fault in leave_out_what_has_no_room(one)),
    ]


def _leave_out_too_many(text: XmlFragment) -> list[str]:
    """Takes the last blocks of a kind out of a text that holds more of them than may meet there. Returns what it was."""
    tags = [one.tag or "" if isinstance(one, XmlElement) else "" for one in text.children]
    left = Counter(tags)
    found = []
    for index in reversed(range(len(tags))):
        most = most_of(tag := tags[index])
        if most is not None and left[tag] > MEETING * most:
            found.append(f"a report has room for {most} of “{tag}”")
            left[tag] -= 1
            del text.children[index]
    return found


def _leave_out_of_length(paragraph: XmlElement) -> list[str]:
    """Takes characters from the end of an element that holds more than it has room for. Returns what it was."""
    element = read(paragraph)
    assert isinstance(element, Element)
    fault = fault_of_length(element)
    if fault is None:
        return []
    left = MEETING * (shape_of(paragraph.tag).longest or 0)
    children = paragraph.children
    for index, child in enumerate(known := list(children)):
        at = index - len(known) + len(children)
        if isinstance(child, XmlText):
            words = "".join(part for part, _ in child.diff())
            if len(words) > left:
                del child[len(words[:left].encode()) :]
            left -= min(left, len(words))
        elif left > 0:
            left -= 1
        else:
            del children[at]
    return [fault]


def leave_out_what_cannot_be_meant(part: XmlElement | XmlText) -> list[str]:
    """Takes out of an element or a text, and all in it, settings and formatting that nobody can use. Returns what it was.

    What stands where it may not stays.
    """
    if isinstance(part, XmlText):
        return _leave_out_of_formatting(part)
    found = _leave_out_of_attributes(part)
    for child in part.children:
        if isinstance(child, XmlElement | XmlText):
            found.extend(leave_out_what_cannot_be_meant(child))
    return found


def _leave_out_of_attributes(element: XmlElement) -> list[str]:
    tag, found = element.tag or "", []
    for name, value in dict(element.attributes).items():  # type: ignore[call-overload]
        if tag in SHAPES and (fault := fault_of_attribute(tag, name, value)):
            found.append(fault)
            del element.attributes[name]
    return found


MANY = 2000
"""Places changed at once that are looked at one by one. In a document that is watched, or ever was, the library counts to each
from the first of the text; more are changed in another document, which is looked at as a whole."""


class Watch:
    """Notes where a document changes, to say afterwards whether all that is there now may stand there."""

    def __init__(self, document: Doc[Any]) -> None:
        self._text = text_of(document)
        self._changed: list[tuple[Any, bool]] = []
        """What has changed, and whether something was put into it."""
        self._came: list[Any] = []
        """What came to stand in the text itself."""
        self.built = False
        """Whether blocks, or what they hold, have come or gone since the last time."""
        self.removed = False
        """Whether any have gone."""
        self._subscription: Any = self._text.observe_deep(self._note)

    def _note(self, events: list[Any]) -> None:
        for event in events:
            self.built |= bool(not isinstance(event.target, XmlText) and (event.delta or not event.keys))
            self.removed |= not isinstance(event.target, XmlText) and any("delete" in step for step in event.delta)
            if isinstance(event.target, XmlFragment):
                come = [one for step in event.delta for one in step.get("insert", ())]
                # Of what a browser said twice, in different words, the library may leave out what came.
                self._came.extend(come if event.delta else [None])
                self._came.extend(event.keys)  # attributes, of which the text itself has none
            else:
                self._changed.append((event.target, any("insert" in step for step in event.delta)))

    @property
    def came(self) -> list[Any]:
        """What came to stand in the text itself, as elements; None among them where that is not known."""
        return [*self._came]

    def close(self) -> None:
        """Ends it; more than once does no harm."""
        subscription, self._subscription = self._subscription, None
        if subscription is not None:
            self._text.unobserve(subscription)

    def look_at_all(self) -> None:
        """Has all of the text count as changed."""
        self._came, self.built, self.removed = [None], True, True

    def forget(self) -> None:
        """Has what changed by now count as looked at: later it may be gone."""
        self._changed, self._came, self.built, self.removed = [], [], False, False

    def mend(self) -> list[str]:
        """Takes out of what has changed what nobody can use and can be taken out alone. Returns what it was."""
        came = [*self._text.children] if None in self._came else self._came
        here = [one for one in (*came, *(one for one, _ in self._changed)) if isinstance(one, XmlElement | XmlText)]
        return [fault for one in here for fault in leave_out_what_cannot_be_meant(one)]

    def take_out(self) -> tuple[list[str], str | None]:
        """Takes out of the text what may not stand where it does, or has no room there.

        All was well before, so whatever is not has come with what has changed. Returns what it was, and what is wrong even
        so, if anything.
        """
        found = leave_out_what_is_foreign(self._text)
        found += _leave_out_too_many(self._text)
        grown = (
            [*self._text.children]
            if None in self._came
            else [*self._came, *(one for one, more in self._changed if more)]
        )
        for one in grown:
            holder = one.parent if isinstance(one, XmlText) else one
            if isinstance(holder, XmlElement) and holder.tag:  # what has been taken out has none
                found += leave_out_what_has_no_room(holder)
        self.forget()
        return found, next((fault for one in _within(self._text) if (fault := fault_within(None, one))), None)

    def fault(self) -> str | None:
        """What has changed since ``forget`` and may not be as it is now, if anything."""
        came = self._came
        elements = [*(read(one) for one in came if one is not None), *(_within(self._text) if None in came else ())]
        for one in elements:
            if fault := fault_within(None, one) or (fault_of_length(one) if isinstance(one, Element) else None):
                return fault
        for tag in {element.tag for element in elements if isinstance(element, Element)}:
            most = most_of(tag)
            if (
                most is not None
                and sum(isinstance(one, XmlElement) and one.tag == tag for one in self._text.children) > MEETING * most
            ):
                return f"a report has room for {most} of “{tag}”"
        return next((fault for one, grown in self._changed if (fault := _fault_of(one, grown))), None)


def _fault_of(changed: XmlElement | XmlText, grown: bool) -> str | None:
    element = Element("paragraph", {}, tuple(_words_of(changed))) if isinstance(changed, XmlText) else read(changed)
    if not isinstance(element, Element):
        return None
    return validate(element) or (fault_of_length(element) if grown else None)
