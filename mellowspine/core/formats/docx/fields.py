"""Tables in Office Open XML: complex fields that begin with TOC, TOA or INDEX (ISO/IEC 29500-1, 17.16.5.68 and beside it)."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Any, NamedTuple

from lxml.etree import _Element

from ...report.properties import free_id
from ...report.recipes import HERE, Recipe, changed
from ...report.styles import LEVELS, Style, StyleSheet
from ...report.tables import Issued
from ...tables.kinds import table_kind
from ..imported import Notes
from .grammar import instruction, longer
from .own import Own, TableSaid
from .places import DocumentPlaces
from .xml import child, qn, value

TAG = "mellow-table-"
"""What the tags of the controls begin with in which files of ours have their tables."""
_CONTENTS = re.compile(r"\s*(?:TOC|TOA|INDEX)\b", re.IGNORECASE)


class _Met(NamedTuple):
    """A table that has been met: the instructions of its fields, and the tag of the control around it, if that is one of ours."""

    fields: list[str]
    tag: str = ""
    own_page: bool = False
    title: str = ""


class ContentsFields:
    """Follows the fields of a document paragraph by paragraph. A field may span paragraphs and hold further fields.

    The lines of contents fields are made from the report, not from the file. In files of ours a table is all that stands in its
    control: its title, and further fields as well.
    """

    def __init__(self, notes: Notes, own: Own) -> None:
        self._notes, self._own = notes, own
        self._named: dict[str, str] = {}
        self._met: dict[str, _Met] = {}
        """The contents fields met, by the key of their table."""
        self.began = False
        self._instructions: list[str] = []
        self._field = ""
        self._control: _Element | None = None
        self._known: dict[_Element, bool] = {}
        """Whether there is a field of a table in a control of ours."""

    def takes(self, paragraph: _Element) -> bool:
        """Whether the paragraph belongs to a contents field; ``began`` says whether it is the first that does."""
        control = self._control_around(paragraph)
        if control is not None:
            self.began = control is not self._control
            self._control = control
            return True
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

    def _control_around(self, paragraph: _Element) -> _Element | None:
        """The control of ours in which a paragraph stands, if there is still a field of a table in it."""
        for control in paragraph.iterancestors(qn("w:sdt")):
            if (value(child(child(control, "w:sdtPr"), "w:tag")) or "").startswith(TAG):
                if control not in self._known:
                    self._known[control] = bool(_fields_in(control))
                return control if self._known[control] else None
        return None

    def add(self) -> tuple[str, bool, str]:
        """Keeps the table that just began. Returns its key, whether it has pages of its own, and its kind."""
        key = f"contents-{len(self._met) + 1}"
        if self._control is not None:
            met = _met_in(self._control)
        else:
            met = _Met([self._field])
        self._met[key] = met
        said = self._said(met)
        return key, met.own_page, said.recipe.kind if said else _kind(met.fields[0])

    def _said(self, met: _Met) -> TableSaid | None:
        """What a report of ours said of a table, if its fields are still those which that was written as."""
        said = self._own.tables.get(met.tag)
        same = said and [one.split() for one in said.fields] == [one.split() for one in met.fields]
        return said if same else None

    def find_styles(self, by_name: Callable[[str], Style | None]) -> None:
        """Finds the styles that fields name, as the document calls them, so that the sheet has them."""
        for met in self._met.values():
            for field in met.fields:
                for name, _ in _pairs(instruction(field).switches.get("t", "")):
                    if style := by_name(name):
                        self._named[name.casefold()] = style.id

    def tables(
        self, styles: StyleSheet, places: DocumentPlaces, section_of: Callable[[str], str | None]
    ) -> dict[str, Issued]:
        """The tables that stand for the fields. ``section_of`` gives the id of the heading with which a bookmark begins."""
        return {key: self._table(met, styles, places, section_of) for key, met in self._met.items()}

    def _table(
        self, met: _Met, styles: StyleSheet, places: DocumentPlaces, section_of: Callable[[str], str | None]
    ) -> Issued:
        if said := self._said(met):
            section = said.recipe.section
            recipe = replace(
                said.recipe, section=_id_of(section) if section not in ("", HERE) else section, title=met.title
            )
            own = {id if id in places.marks.authorities else _id_of(id): words for id, words in said.own.items()}
            return Issued(recipe, own=own)
        made = [
            _in_order(field, places.marks.category)
            if _kind(field) in _IN_ORDER
            else recipe_of(field, styles, places.label, self._named)
            for field in met.fields
        ]
        recipe = made[0]
        if all(one.categories for one in made):
            recipe = replace(recipe, categories=tuple(dict.fromkeys(id for one in made for id in one.categories)))
        if name := instruction(met.fields[0]).switches.get("b"):
            if id := section_of(name):
                recipe = replace(recipe, section=id)
            else:
                self._notes.add("contents-stretch")
        return Issued(replace(recipe, title=met.title))

    def _look(self, instruction: str, inside: bool) -> None:
        if inside or not _CONTENTS.match(instruction):
            return
        self.began = True
        self._field = instruction
        self._control = None


def _id_of(name: str) -> str:
    """The id of the paragraph that a hidden bookmark names."""
    return f"n-{name}"[:64]


def _met_in(control: _Element) -> _Met:
    """The table in a control of ours: its fields, and the words in front of the first, which are its title."""
    title: list[str] = []
    for paragraph in control.iter(qn("w:p")):
        if next(paragraph.iter(qn("w:fldChar")), None) is not None:
            break
        title.append("".join(one.text or "" for one in paragraph.iter(qn("w:t"))))
    tag = value(child(child(control, "w:sdtPr"), "w:tag")) or ""
    begins = next(control.iter(qn("w:pageBreakBefore")), None) is not None
    words = re.sub(r"[\n\r\t]", " ", " ".join(title)).strip()[:200]
    return _Met(_fields_in(control), tag, begins, words)


def _fields_in(control: _Element) -> list[str]:
    """The instructions of the tables in a control."""
    open: list[str] = []
    found: list[str] = []
    for element in control.iter(qn("w:fldChar"), qn("w:instrText"), qn("w:fldSimple")):
        kind = element.get(qn("w:fldCharType"))
        if element.tag == qn("w:instrText") and open:
            open[-1] = longer(open[-1], element.text or "")
        elif element.tag == qn("w:fldSimple"):
            found += [element.get(qn("w:instr")) or ""]
        elif kind == "begin":
            open.append("")
        elif kind == "end" and open:
            found.append(open.pop())
    return [one for one in found if _CONTENTS.match(one)]


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
            settings[("page_numbers",)] = "edge" if separator == "\t" else "words"
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


def recipe_of(
    field: str,
    styles: StyleSheet,
    label: Callable[[str], str | None] = lambda name: None,
    named: Mapping[str, str] = MappingProxyType({}),
) -> Recipe:
    """The recipe that the switches of a TOC field say; those that no setting stands for are left out. ``named``: ids of styles by what
    the document calls them, in small letters.

    It has no title: the file has its own paragraph for that, if it wants one. Its lines are links, whether it says so or not.
    """
    switches = instruction(field).switches
    said = _said_of_styles(switches.get("t", ""), styles, named)
    feeds = {id: level for id, level in said.items() if styles.levels.get(id) != level}
    levels = {*_levels(switches.get("o", "" if said else "1-9")), *said.values()} or {*Recipe().levels}
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


def _pairs(given: str) -> list[tuple[str, str]]:
    """The names and levels of ``Name,1,Other name,2``."""
    parts = [part.strip() for part in re.split("[,;]", given)]
    return [*zip(parts[::2], parts[1::2], strict=False)]


def _said_of_styles(given: str, styles: StyleSheet, named: Mapping[str, str]) -> dict[str, int]:
    """The level that is said of each style, by its id."""
    ids = {style.name.casefold(): style.id for style in styles.values()} | dict(named)
    found = {}
    for name, level in _pairs(given):
        id = ids.get(name.casefold())
        if id and level.isdecimal() and int(level) in LEVELS:
            found[id] = int(level)
    return found
