"""Tables in Office Open XML: complex fields that begin with TOC, TOA or INDEX (ISO/IEC 29500-1, 17.16.5.68 and beside it)."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Any

from lxml.etree import _Element

from ...report.properties import free_id
from ...report.recipes import Recipe, changed
from ...report.styles import LEVELS, StyleSheet
from ...report.tables import Issued
from ...tables.kinds import table_kind
from ..imported import Notes
from .grammar import instruction, longer
from .xml import qn

_CONTENTS = re.compile(r"\s*(?:TOC|TOA|INDEX)\b", re.IGNORECASE)


class ContentsFields:
    """Follows the fields of a document paragraph by paragraph. A field may span paragraphs and hold further fields.

    The lines of contents fields are made from the report, not from the file.
    """

    def __init__(self, notes: Notes) -> None:
        self._notes = notes
        self._fields: dict[str, str] = {}
        """The instruction of every contents field met, by the key of its table."""
        self.began = False
        self._instructions: list[str] = []
        self._field = ""

    def takes(self, paragraph: _Element) -> bool:
        """Whether the paragraph belongs to a contents field; ``began`` says whether it is the first that does."""
        inside = any(_CONTENTS.match(text) for text in self._instructions)
        self.began = False
        for element in paragraph.iter(qn("w:fldChar"), qn("w:instrText"), qn("w:fldSimple")):
            if element.tag == qn("w:instrText"):
                if self._instructions:
                    self._instructions[-1] = longer(self._instructions[-1], element.text or "")
                    self._look(self._instructions[-1], inside)
            elif element.tag == qn("w:fldSimple"):
                self._look(element.get(qn("w:instr")) or "", inside)
            elif element.get(qn("w:fldCharType")) == "begin":
                self._instructions.append("")
            elif element.get(qn("w:fldCharType")) == "end" and self._instructions:
                self._instructions.pop()
        return inside or self.began

    def add(self) -> tuple[str, bool, str]:
        """Keeps the table that just began. Returns its key, whether it has pages of its own (never), and its kind."""
        key = f"contents-{len(self._fields) + 1}"
        self._fields[key] = self._field
        name, _, switches, _ = instruction(self._field)
        if name in ("TOC", "INDEX") and switches.get("b"):
            self._notes.add("contents-stretch")
        return key, False, _kind(self._field)

    def tables(
        self, styles: StyleSheet, label: Callable[[str], str | None], category: Callable[[str], str]
    ) -> dict[str, Issued]:
        """The tables that stand for the fields. ``label`` gives the id of the label of a kind of captions, ``category`` that
        of a category of authorities by its number."""
        return {
            key: Issued(
                recipe_of(field, styles, label) if _kind(field) not in _IN_ORDER else _in_order(field, category)
            )
            for key, field in self._fields.items()
        }

    def _look(self, instruction: str, inside: bool) -> None:
        if inside or not _CONTENTS.match(instruction):
            return
        self.began = True
        self._field = instruction


def _captions(switches: Mapping[str, str]) -> str | None:
    """The kind of captions that a field lists, if it does."""
    return switches.get("c") or switches.get("a") or None


_IN_ORDER = ("authorities", "index")


def _in_order(field: str, category: Callable[[str], str]) -> Recipe:
    """The recipe that the switches of a TOA or INDEX field say."""
    switches = instruction(field).switches
    settings: dict[tuple[str, ...], Any] = {("title",): ""}
    if _kind(field) == "authorities":
        number = switches.get("c", "1")
        settings |= {("categories",): [] if number == "0" else [category(number)], ("passim",): 5 if "p" in switches else 0,
                     ("levels",): [1, 2] if "h" in switches else [2]}  # fmt: skip
    else:
        settings |= {("columns",): 1 if switches.get("c", "1") == "1" else 2,
                     ("levels",): [1, 2, 3, 4] if "h" in switches else [2, 3, 4]}  # fmt: skip
        settings[("run_in",)] = "r" in switches
        if separator := switches.get("e"):
            settings[("separator",)] = _parting(separator)
    return changed(table_kind(_kind(field)).recipe, settings)


def _parting(given: str) -> str:
    """What parts words and numbers, as a recipe can say it: a tab is a space there."""
    return re.sub(r"[\n\r\t]+", " ", given)[:12] or " "


def _kind(field: str) -> str:
    name, _, switches, _ = instruction(field)
    if name in ("TOA", "INDEX"):
        return "authorities" if name == "TOA" else "index"
    captions = _captions(switches)
    return "contents" if captions is None else "tables" if captions.casefold() == "table" else "figures"


def recipe_of(field: str, styles: StyleSheet, label: Callable[[str], str | None] = lambda name: None) -> Recipe:
    """The recipe that the switches of a TOC field say; those that no setting stands for are left out.

    It has no title: the file has its own paragraph for that, if it wants one. Its lines are links, whether it says so or not.
    """
    switches = instruction(field).switches
    feeds = _feeds(switches.get("t", ""), styles)
    levels = {*_levels(switches.get("o", "" if feeds else "1-9")), *feeds.values()} or {*Recipe().levels}
    settings: dict[tuple[str, ...], Any] = {("title",): "", ("levels",): sorted(levels), ("feeds",): feeds}
    if "f" in switches and not {"o", "t", "u", "c", "a"} & switches.keys():
        # Of entries marked singly alone: no style of headings feeds it (17.16.5.68).
        settings |= {
            ("levels",): _levels(switches.get("l", "")) or [*LEVELS],
            ("feeds",): dict.fromkeys(styles.levels, 0),
        }
    if (captions := _captions(switches)) is not None:
        settings |= {
            ("kind",): _kind(field),
            ("label",): label(captions) or free_id(captions, (), "figure", 32),
            ("levels",): [1],
        }
    if "n" in switches:
        without = _levels(switches["n"])
        if without:
            settings |= {("looks", str(level), "page_number"): False for level in without}
        else:
            settings[("page_numbers",)] = "none"
    if (separator := switches.get("p")) is not None:
        settings |= {("page_numbers",): "words", ("separator",): _parting(separator)}
    return changed(Recipe(), settings)


def _levels(given: str) -> list[int]:
    """The levels of ``2-3``; none if they are not such."""
    first, _, last = given.partition("-")
    if not (first.strip().isdecimal() and (last or first).strip().isdecimal()):
        return []
    return [level for level in LEVELS if int(first) <= level <= int(last or first)]


def _feeds(given: str, styles: StyleSheet) -> dict[str, int]:
    """The levels of ``Name,1,Other name,2`` by style, where these are not the styles' own."""
    parts = [part.strip() for part in re.split("[,;]", given)]
    ids = {style.name.casefold(): style.id for style in styles.values()}
    found = {}
    for name, level in zip(parts[::2], parts[1::2], strict=False):
        id = ids.get(name.casefold())
        if id and level.isdecimal() and int(level) in LEVELS and styles.levels.get(id) != int(level):
            found[id] = int(level)
    return found
