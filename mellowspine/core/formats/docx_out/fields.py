"""Fields (ISO/IEC 29500-1, 17.16): instructions as they are written, and the runs that a field is."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from copy import deepcopy

from lxml.etree import _Element

from .xml import clean, made

_SPACE = "{http://www.w3.org/XML/1998/namespace}space"
_PARTS = re.compile("([\n\t])")


def quoted(argument: str) -> str:
    """An argument as instructions have it (17.16.3.1): in quotation marks, those in it behind a backslash."""
    said = " ".join(clean(argument).split()).replace("\\", "\\\\").replace('"', '\\"')
    return f'"{said}"'


def text(words: str, tag: str = "w:t") -> _Element:
    """A stretch of words, with the spaces at its ends."""
    element = made(tag)
    element.text = words
    if words != words.strip() or "  " in words:
        element.set(_SPACE, "preserve")
    return element


def run(words: str, look: _Element | None = None) -> _Element:
    """Words as a run (17.3.2), with their tabs and breaks of lines."""
    element = made("w:r", None if look is None else deepcopy(look))
    for piece in _PARTS.split(clean(words)):
        if piece == "\n":
            element.append(made("w:br"))
        elif piece == "\t":
            element.append(made("w:tab"))
        elif piece:
            element.append(text(piece))
    return element


def begin(instruction: str) -> Iterator[_Element]:
    """The runs with which a field begins, up to its result."""
    yield made("w:r", made("w:fldChar", fldCharType="begin"))
    yield made("w:r", text(f" {instruction} ", "w:instrText"))
    yield made("w:r", made("w:fldChar", fldCharType="separate"))


def end() -> _Element:
    return made("w:r", made("w:fldChar", fldCharType="end"))


def field(instruction: str, result: Iterable[_Element]) -> Iterator[_Element]:
    """A field that shows something."""
    yield from begin(instruction)
    yield from result
    yield end()


def silent(instruction: str) -> Iterator[_Element]:
    """A field that marks its place and shows nothing there (TA, TC, XE)."""
    yield made("w:r", made("w:fldChar", fldCharType="begin"))
    yield made("w:r", text(f" {instruction} ", "w:instrText"))
    yield end()
