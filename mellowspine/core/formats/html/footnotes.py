"""Footnotes: links that lead to words which lead back to them. HTML has no tag for these; so everybody writes them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

from lxml.etree import _Element

from .tree import words_of

_SIGN = re.compile(r"[\[(]?\s*(?:\d{1,4}|[a-z]{1,5}|[*†‡§¶]{1,3})\s*[\])]?", re.IGNORECASE)
_HOLDS = frozenset(("li", "p", "div", "aside", "dd", "td"))


class Footnotes(NamedTuple):
    called: Mapping[_Element, _Element]
    """The element that holds a footnote, by each that stands for it in the text."""
    bodies: frozenset[_Element]
    """The elements that hold the footnotes themselves."""
    backs: frozenset[_Element]
    """The links in them that lead back."""


def footnotes_of(root: _Element, inner: Mapping[_Element, str]) -> Footnotes:
    """``inner``: by link the name of the place that it leads to."""
    by_name: dict[str, _Element] = {}
    for one in root.iter("*"):
        for name in (one.get("id"), one.get("name")):
            if name:
                by_name.setdefault(name, one)
    order = {link: number for number, link in enumerate(inner)}
    called: dict[_Element, _Element] = {}
    backs: dict[_Element, _Element] = {}
    """By the element that holds a footnote."""
    for link, name in inner.items():
        target = by_name[name]
        body = target if target.tag in _HOLDS else next(target.iterancestors(*_HOLDS), None)
        if body is None or not _SIGN.fullmatch(words_of(link)) or link in body.iterdescendants():
            continue
        back = next(
            (
                one
                for one in body.iter("a")
                if one in inner and _is_at(by_name[inner[one]], link) and order[one] > order[link]
            ),
            None,
        )
        if back is not None:
            backs.setdefault(body, back)
        if body in backs:  # it may be called again from elsewhere
            called[link] = body
    return Footnotes(called, frozenset(backs), frozenset(backs.values()))


def _is_at(place: _Element, link: _Element) -> bool:
    """Whether a place is a link itself, or close around it."""
    around = [link, *list(link.iterancestors())[:2]]
    return place in around or any(place is one for one in link)
