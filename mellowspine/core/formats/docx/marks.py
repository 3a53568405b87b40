"""Citations and terms of the index of Office Open XML: TA and XE fields (ISO/IEC 29500-1, 17.16.5).

These fields stand behind the words that they mark and do not say where those begin. Here the words themselves are marked: the
form that the field names, if it stands right in front, or else the word in front of it.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace
from itertools import count, pairwise
from typing import NamedTuple, TypeVar

from ...report.authorities import DEFAULT_CATEGORIES, OTHER, Authority, Categories, category_named, written
from ...report.blocks import Block, Citation, Entry, Indexed, Paragraph, Run
from ...report.elements import identifier
from ...report.index import MOST_ENTRIES, See, Terms, see_of, terms_of
from ...report.properties import SettingError
from ...structure.citations import pattern_of
from .grammar import Instruction
from .own import Own

_CATEGORIES = {1: "cases", 2: "statutes", 3: OTHER, 6: "regulations"}
_NAMED = {4: "Rules", 5: "Treatises", 7: "Constitutional provisions"}
"""What the first seven categories of TA fields are called where nobody has named them otherwise (from memory)."""
_NEAR = 3
"""Characters that may stand between words and the field that marks them."""
_WORD = re.compile(r"[\w’'-]+(?=[^\w’'-]*$)")
_FIRST_WORD = re.compile(r"[\w’'-]+")
_SEE = re.compile(r"\s*see(\s+also)?\b[\s:]*(.+)", re.IGNORECASE | re.DOTALL)

CITED, INDEXED = "_cited_", "_term_"
"""What the names of hidden bookmarks begin with that say which words are marked by the field behind them, in files of ours."""

T = TypeVar("T")


class Marking(NamedTuple):
    """A mark on the words in front of it: one of ``forms``, if they read so."""

    forms: tuple[str, ...]
    mark: Citation | Indexed


class Edge(NamedTuple):
    """Where words begin or end that a hidden bookmark says to be marked."""

    name: str
    begins: bool


class DocumentMarks:
    """What is marked in a document, as far as it has been read."""

    def __init__(self, own: Own) -> None:
        self._own = own
        self.authorities: dict[str, Authority] = dict(own.authorities)
        self.categories: Categories = own.categories if own else DEFAULT_CATEGORIES
        self.further: dict[str, list[tuple[int, int, Citation | Indexed]]] = {}
        """Stretches of paragraphs in front of the one whose field marks them as well, by their ids."""
        self._spans: dict[str, list[tuple[str, int, int]]] = {}
        """The stretches between edges, by the name of these: paragraph, first character, end."""
        self._begun: dict[str, int] = {}
        """Where what has begun does so in its paragraph."""
        self.sees: list[See] = []
        self._sees = {(see.terms, see.also, ", ".join(see.to)): see for see in own.sees}
        self.ranges: dict[str, Terms] = {}
        """Terms whose pages are those of a bookmark, by its name."""
        self._forms: dict[str, str] = {one.short or one.long: one.id for one in self.authorities.values()}
        """The id of an authority by its short form, or by its long one."""
        self._marks = 0

    def category(self, number: str) -> str:
        """The id of a category that fields give a number."""
        if number in self._own.numbers:
            return self._own.numbers[number]
        at = int(number) if number.isdecimal() else 1
        if at in _CATEGORIES:
            return _CATEGORIES[at]
        name = _NAMED.get(at, f"Category {at}"[:40])
        known = next((one.id for one in self.categories.values() if one.name == name), None)
        if known is None:
            before = self.categories
            self.categories = category_named(name, before)
            known = next(id for id in self.categories if id not in before)
        return known

    def citation(self, switches: Mapping[str, str]) -> Marking | None:
        """What a TA field marks; None for one that names no words."""
        long, short = written(switches.get("l")), written(switches.get("s"))
        if not long and not short:
            return None
        id = self._forms.get(short or long)
        if id is None:
            id = next(id for at in count(1) if (id := f"authority-{at}") not in self.authorities)
            self._forms[short or long] = id
            self.authorities[id] = Authority(id, OTHER, long or short, short if long and short != long else "")
        if long:
            category = self.category(switches.get("c", "1"))
            self.authorities[id] = Authority(id, category, long, short if short != long else "")
        self._marks += 1
        forms = tuple(form for form in (self.authorities[id].long, short) if form)
        return Marking(forms, Citation(f"cite-{self._marks}", id))

    def term(self, field: Instruction) -> Marking | None:
        """What an XE field marks; None for one that leads elsewhere, or to the pages of a bookmark."""
        switches = field.switches
        parts = [part.replace("\0", ":") for part in field.argument.replace(r"\:", "\0").split(":")]
        terms = terms_of([part for part in parts if part.strip()][:3])
        if terms is None:
            return None
        if (instead := switches.get("t")) is not None:
            found = _SEE.match(instead)
            if found and (see := self._sees.get((terms, bool(found[1]), found[2]))):
                self.sees.append(see)
                return None
            with suppress(SettingError):  # it says nothing, or to see itself
                self.sees.append(see_of(terms, [found[2] if found else instead], bool(found and found[1])))
            return None
        name = switches.get("r")
        if name and not name.startswith(INDEXED):
            self.ranges[name] = terms
            return None
        self._marks += 1
        return Marking(terms[::-1], Indexed(f"mark-{self._marks}", (Entry(terms, "b" in switches),)))

    def put(self, pieces: Iterable[Run | Block | Marking | Edge], paragraph: str) -> list[Run | Block]:
        """What stands in a paragraph, with the words marked that markings stand behind; at its start, with the word behind them."""
        result: list[Run | Block] = []
        waiting: list[Marking] = []
        ended = ""
        """What has just ended, with nothing but fields behind it."""
        self._begun = dict.fromkeys(self._begun, 0)
        for piece in pieces:
            match piece:
                case Edge(name, True):
                    self._begun[name] = _length(result)
                case Edge(name):
                    ended = name
                    self._span(name, paragraph, _length(result))
                case Marking() if ended:
                    self._mark_spans(ended, piece.mark, paragraph, result)
                case Marking():
                    if not _mark_in_front(result, piece):
                        waiting.append(piece)
                case _:
                    result.append(piece)
                    if not isinstance(piece, Run) or piece.text:
                        ended = ""
                    if waiting and isinstance(piece, Run) and (found := _FIRST_WORD.search(piece.text)):
                        for one in waiting:
                            _mark(result, len(result) - 1, found.start(), found.end(), one.mark)
                        waiting.clear()
        for name in [*self._begun]:
            self._span(name, paragraph, _length(result), goes_on=True)
        return result

    def _span(self, name: str, paragraph: str, end: int, goes_on: bool = False) -> None:
        """Keeps a stretch of a paragraph that is between two edges."""
        first = self._begun.get(name)
        if first is not None and len(self._spans.setdefault(name, [])) < _MOST_PARAGRAPHS:
            self._spans[name].append((paragraph, first, end))
        if not goes_on:
            self._begun.pop(name, None)

    def _mark_spans(self, name: str, mark: Citation | Indexed, paragraph: str, result: list[Run | Block]) -> None:
        prefix = CITED if isinstance(mark, Citation) else INDEXED
        if own := identifier(name.removeprefix(prefix)):
            mark = mark._replace(id=own)
        for where, first, end in self._spans.get(name, ()):
            if where == paragraph:
                _mark_text(result, first, end, mark)
            else:
                self.further.setdefault(where, []).append((first, end, mark))

    def over_ranges(self, paragraph: Paragraph) -> Paragraph:
        """A paragraph, with the words that are in a bookmark which terms name marked for these, and those that a field in a later one
        marks."""
        runs: list[Run | Block] = [*self._in_ranges(paragraph.runs)]
        for first, end, mark in self.further.get(paragraph.id, ()):
            _mark(runs, 0, first, end, mark)
        return replace(paragraph, runs=tuple(one for one in runs if isinstance(one, Run)))

    def _in_ranges(self, runs: Sequence[Run]) -> tuple[Run, ...]:
        return tuple(
            _with(run, Indexed(f"range-{mark.id}"[:64], (Entry(self.ranges[mark.name]),)))
            if (mark := run.marks.bookmark) and mark.name in self.ranges
            else run
            for run in runs
        )


_MOST_PARAGRAPHS = 1000
"""Over which something is marked."""


def _length(result: Sequence[Run | Block]) -> int:
    return sum(len(one.text) for one in result if isinstance(one, Run))


def _mark_text(result: list[Run | Block], first: int, end: int, mark: Citation | Indexed) -> None:
    """Marks a stretch of the words of a paragraph, among which other blocks may stand."""
    at, place = 0, 0
    while place < len(result):
        one = result[place]
        place += 1
        if not isinstance(one, Run):
            continue
        length = len(one.text)
        if at < end and at + length > first:
            part: list[Run | Block] = [one]
            _mark(part, 0, max(first - at, 0), min(end - at, length), mark)
            result[place - 1 : place] = part
            place += len(part) - 1
        at += length


def _mark_in_front(result: list[Run | Block], marking: Marking) -> bool:
    first = len(result)
    while first and isinstance(result[first - 1], Run):
        first -= 1
    text = "".join(run.text for run in result[first:] if isinstance(run, Run))
    end = len(text.rstrip())
    for form in marking.forms:
        pattern = pattern_of(form, any_case=isinstance(marking.mark, Indexed))
        last = [*pattern.finditer(text)][-1:] if pattern else []
        if last and end - last[0].end() <= _NEAR:
            return _mark(result, first, last[0].start(), last[0].end(), marking.mark)
    word = _WORD.search(text)
    if word is None:
        return False
    starts = [_start_of(form, text[: word.end()]) for form in marking.forms if isinstance(marking.mark, Citation)]
    return _mark(result, first, min([word.start(), *starts]), word.end(), marking.mark)


def _start_of(form: str, text: str) -> int:
    """Where the first words of a form begin, as many as stand at the end of a text; its end if none do."""
    wanted = [*_FIRST_WORD.finditer(form)]
    there = [*_FIRST_WORD.finditer(text)][-len(wanted) :]
    words = [word[0].casefold() for word in wanted]
    for together in range(len(there), 0, -1):
        if [word[0].casefold() for word in there[-together:]] == words[:together]:
            return there[-together].start()
    return len(text)


def _mark(result: list[Run | Block], first: int, start: int, end: int, mark: Citation | Indexed) -> bool:
    """Marks the words from ``start`` to before ``end`` of the runs from the place ``first`` on."""
    now: list[Run | Block] = []
    at = 0
    for run in result[first:]:
        assert isinstance(run, Run)
        edges = [min(max(offset - at, 0), len(run.text)) for offset in (0, start, end, at + len(run.text))]
        for part, (one, other) in enumerate(pairwise(edges)):
            if one < other:
                piece = replace(run, text=run.text[one:other])
                now.append(
                    _with(piece, mark) if part == 1 and not (run.marks.reference or run.marks.formula) else piece
                )
        at += len(run.text)
    result[first:] = now
    return True


def _with(run: Run, mark: Citation | Indexed) -> Run:
    if isinstance(mark, Citation):
        return replace(run, marks=replace(run.marks, citation=mark))
    known = run.marks.indexed
    if known:
        entries = (*known.entries, *(one for one in mark.entries if one not in known.entries))[:MOST_ENTRIES]
        mark = known._replace(entries=entries)
    return replace(run, marks=replace(run.marks, indexed=mark))
