"""What a report says that the standard has no place for, beside it in a part of its own (ISO/IEC 29500-1, 15.2.5, custom XML).

Other programs keep such a part as it is, whatever they change in the text. So nothing in it is believed by itself: a value counts where
what the file says by the standard is still what was written for it, and else what the file says.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import fields, replace
from functools import cached_property
from typing import Any

from docx.document import Document
from lxml import etree

from ...pages.running import Running, running
from ...report.authorities import (
    Authorities,
    Categories,
    authorities_from_json,
    categories_from_json,
)
from ...report.index import See, sees_from_json
from ...report.labels import Labels, label_to_json, labels_from_json
from ...report.numbering import Numbering, numbering_from_json, numbering_to_json
from ...report.page import PageSetup, page_from_json
from ...report.parts import OF_REPORT, Part, part_from_json, part_to_json
from ...report.recipes import Recipe, recipe_from_json, recipe_to_json
from ...report.report import Report
from ...report.styles import INHERITED, Style, default_styles, style_to_json, styles_from_json
from ...report.tables import OwnWords, own_words_from_json
from ..package import parse
from .xml import is_relation

LINE_ACROSS = "LineAcross"
"""The style of a paragraph that is a line across the page: the standard has no other for it."""
SPACE = "urn:mellowspine:report"
ROOT = f"{{{SPACE}}}report"
VERSION = 1
_NEAR: Mapping[str, float] = {"line_spacing": 0.01, "size": 0.26}
"""By how much a value that the file says may differ from what was written for it, by property."""
_NEAR_BY = 0.06
"""The same of all other lengths: twentieths of a point are as fine as they come."""


class TableSaid:
    """A table: its recipe, what is written otherwise in it by hand, and the instructions of its fields."""

    def __init__(self, stored: Mapping[str, Any]) -> None:
        self.recipe: Recipe = recipe_from_json(_object(stored.get("recipe")))
        given = stored.get("fields")
        self.fields = [one for one in given if isinstance(one, str)] if isinstance(given, list) else []
        self.own: dict[str, OwnWords] = {
            source: own
            for source, data in _object(stored.get("own")).items()
            if (own := own_words_from_json(data)) is not None
            and isinstance(own.words, str | None)
            and isinstance(own.heading, str)
        }


class Own:
    """What the part says; nothing, where a file has none that can be read."""

    def __init__(self, said: Mapping[str, Any]) -> None:
        self._said = said

    @classmethod
    def of(cls, document: Document) -> Own:
        for relation in document.part.rels.values():
            if is_relation(relation, "customXml"):
                root = parse(relation.target_part.blob)
                if root is not None and root.tag == ROOT and root.get("version") == str(VERSION):
                    try:
                        return cls(_object(json.loads(root.text or "")))
                    except ValueError:
                        return cls({})
        return cls({})

    def __bool__(self) -> bool:
        return bool(self._said)

    @cached_property
    def styles(self) -> Mapping[str, Style]:
        """By their keys in the file."""
        if not self:
            return {}
        keys = _words(self._said.get("keys"))
        stored = self._said.get("styles")
        found = styles_from_json(stored if isinstance(stored, list) else ())
        named = {keys[id]: style for id, style in found.items() if id in keys}
        # One that has the id of a style that there is always, and is for something else, would take its place.
        usual = default_styles()
        return {
            key: one for key, one in named.items() if (known := usual.find(one.id)) is None or known.role == one.role
        }

    @cached_property
    def numbering(self) -> Numbering:
        return numbering_from_json(self._said.get("numbering"))

    @cached_property
    def page(self) -> PageSetup:
        return page_from_json(self._said.get("page"))

    @cached_property
    def parts(self) -> Sequence[Part | None]:
        """Those of the sections in order; None for one that is a page break, or no part at all."""
        stored = self._said.get("parts")
        return [None if one is None else part_from_json(one) for one in stored] if isinstance(stored, list) else []

    @property
    def is_whole(self) -> bool:
        """Whether all of a report is in the file."""
        return self._said.get("whole") is not False

    @cached_property
    def labels(self) -> Labels:
        return labels_from_json(self._said.get("labels"))

    @cached_property
    def categories(self) -> Categories:
        return categories_from_json(self._said.get("categories"))

    @cached_property
    def numbers(self) -> Mapping[str, str]:
        """The ids of categories by their numbers in fields."""
        return {number: id for number, id in _words(self._said.get("numbers")).items() if id in self.categories}

    @cached_property
    def authorities(self) -> Authorities:
        return authorities_from_json(self._said.get("authorities"))

    @cached_property
    def sees(self) -> tuple[See, ...]:
        return sees_from_json(self._said.get("sees"))

    @cached_property
    def bookmarks(self) -> Mapping[str, str]:
        """What bookmarks are called for people, by their names in the file."""
        return _words(self._said.get("bookmarks"))

    @cached_property
    def tables(self) -> Mapping[str, TableSaid]:
        """By the tags of the controls that they stand in."""
        return {tag: TableSaid(_object(one)) for tag, one in _object(self._said.get("tables")).items()}


def own_part(
    report: Report,
    keys: Mapping[str, str],
    parts: Sequence[Part | None],
    numbers: Mapping[str, str],
    bookmarks: Mapping[str, str],
    tables: Mapping[str, tuple[Recipe, Mapping[str, OwnWords], Sequence[str]]],
    is_whole: bool,
) -> etree._Element:
    """The part; ``is_whole``: that of all of a report. ``keys``: names of styles in the file, by id; ``parts``: of the sections in order; others as ``Own`` has them."""
    said = {
        "styles": [style_to_json(style) for style in report.styles.values()],
        "keys": dict(keys),
        "whole": is_whole,
        "numbering": numbering_to_json(report.numbering),
        "page": {one.name: getattr(report.page, one.name) for one in fields(PageSetup)},
        "parts": [None if one is None else part_to_json(one) for one in parts],
        "labels": [label_to_json(one) for one in report.labels.values()],
        "categories": [list(one) for one in report.categories.values()],
        "numbers": dict(numbers),
        "authorities": [list(one) for one in report.authorities.values()],
        "sees": [list(one) for one in report.sees],
        "bookmarks": dict(bookmarks),
        "tables": {
            tag: {
                "recipe": recipe_to_json(recipe),
                "own": {id: list(one) for id, one in own.items()},
                "fields": [*fields_],
            }
            for tag, (recipe, own, fields_) in tables.items()
        },
    }
    root = etree.Element(ROOT, nsmap={"report": SPACE}, version=str(VERSION))
    root.text = json.dumps(said, ensure_ascii=True, separators=(",", ":"), sort_keys=True)
    return root


# --- What still counts ---


def style_as_said(read: Style, own: Style) -> Style:
    """A style as it was written, in all that the file still says so."""
    values = {name: still(name, getattr(read, name), getattr(own, name)) for name in INHERITED}
    if (min(read.orphans, read.widows) > 1) == (min(own.orphans, own.widows) > 1):  # more than that no file says
        values |= {"orphans": own.orphans, "widows": own.widows}
    return replace(
        own, **values, declared=own.declared | {n for n, value in values.items() if value != getattr(own, n)}
    )


def numbering_as_said(read: Numbering, own: Numbering) -> Numbering:
    """How headings are numbered, if the file still numbers them so; what a level without numbers would be like no file says."""
    same = all(one == other or not (one.on or other.on) for one, other in zip(read.levels, own.levels, strict=True))
    of_appendix = all(one == other or not one.on for one, other in zip(read.appendix, own.appendix, strict=True))
    return own if same and of_appendix else read


def page_as_said(read: PageSetup, own: PageSetup, part: Part, has_first: bool) -> PageSetup:
    """Likewise a page set-up. ``has_first``: whether what it says of first pages is meant of a page."""
    unsaid = OF_REPORT | {"picture_height"}  # language and counting of notes are read elsewhere
    heads_and_feet = {one.name for one in fields(PageSetup) if _OF_EDGES.search(one.name)}
    same = all(
        _as_read(running(own, first, left), own, part) == running(read, first, left)
        for first in (False, *([True] if has_first else []))
        for left in (False, True)
    )
    found = {
        one.name: getattr(own, one.name)
        if one.name in unsaid or (same and one.name in heads_and_feet)
        else still(one.name, getattr(read, one.name), getattr(own, one.name))
        for one in fields(PageSetup)
    }
    if not any(words for name, words in found.items() if isinstance(words, str) and "{picture}" in words):
        found |= {name: getattr(read, name) for name in ("picture", "picture_ratio", "picture_height")}
    return PageSetup(**found)


_OF_EDGES = re.compile("(head|foot)_(left|middle|right)$|^(left_pages|first_page|head_rule|foot_rule)$")
"""What of a page set-up is about what stands at head and foot."""


def _as_read(said: Running, page: PageSetup, part: Part) -> Running:
    """What stands at head and foot, as it reads in a file: names of versions and parts are words like others there."""

    def words(one: str) -> str:
        one = one.replace("{version}", page.version).replace("{part}", part.name)
        number = "" if part.figures == "none" else f"{part.words}{{page}}"
        return " ".join(one.replace("{page}", number).split())

    left, right = ((words(edge[0]), words(edge[1]), words(edge[2])) for edge in said)
    return Running(left, right)


def still(name: str, read: Any, own: Any) -> Any:
    """The value that was written, if the file says what is written for it; else what the file says."""
    if isinstance(own, float | int) and isinstance(read, float | int) and not isinstance(own, bool):
        return own if abs(read - own) <= _NEAR.get(name, _NEAR_BY) else read
    if name in ("borders", "tab_stops") and isinstance(own, str) and isinstance(read, str):
        return own if _alike(read, own) else read
    return own if read == own else read


_FIGURE = re.compile(r"\d+(?:\.\d+)?")


def _alike(read: str, own: str) -> bool:
    """Whether two texts say the same but for small differences of their lengths."""
    if _FIGURE.sub("0", read) != _FIGURE.sub("0", own):
        return False
    pairs = zip(_FIGURE.findall(read), _FIGURE.findall(own), strict=True)
    return all(abs(float(one) - float(other)) <= _NEAR_BY * 2 for one, other in pairs)


def _object(given: Any) -> Mapping[str, Any]:
    return given if isinstance(given, dict) else {}


def _words(given: Any) -> dict[str, str]:
    return {key: one for key, one in _object(given).items() if isinstance(one, str)}
