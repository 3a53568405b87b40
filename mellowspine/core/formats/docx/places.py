"""Captions, bookmarks and references of Office Open XML: fields (ISO/IEC 29500-1, 17.16) and bookmarks (17.13.6).

The runs of a paragraph come with the signs of fields and bookmarks among them; here these become captions, bookmarks, links
and references. What they lead to is known once the whole document is: see ``leads.py``.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, NamedTuple

from ...report.blocks import INLINE_OBJECT, Block, Bookmark, Marks, Reference, Run, Shows
from ...report.elements import identifier
from ...report.labels import DEFAULT_LABELS, Label
from ...report.properties import SettingError, free_id
from ..imported import Notes
from .fields import longer
from .marks import DocumentMarks, Marking, put

_SWITCHED = re.compile(r"\\([a-zA-Z*@#!])\s*(\"[^\"]*\"|[^\s\\\"]+)?")
_FRONT = re.compile(r"[^\W\d_]{1,30}(?:[ \u00a0][^\W\d_]{1,20})?[\s\u00a0.–—:-]*")
"""What stands in front of a caption's number: one word or two."""
_WORD = re.compile(r"\"([^\"]*)\"|([^\s\\\"]+)")


class Sign(NamedTuple):
    """Where a field or a bookmark begins or ends among the runs. ``value`` is an instruction, or the name of a bookmark."""

    kind: Literal["begin", "instruction", "separate", "end", "bookmark", "bookmark end"]
    value: str = ""
    id: str = ""


Piece = Run | Block | Sign | Marking


class Instruction(NamedTuple):
    """The instruction of a field (17.16.2): its name, its first argument, and its switches with theirs."""

    name: str
    argument: str
    switches: Mapping[str, str]


def instruction(text: str) -> Instruction:
    name, _, rest = text.strip().partition(" ")
    found = _WORD.match(rest.strip())
    argument = (found[1] or found[2] or "") if found else ""
    switches = {key.lower(): value.strip('"') for key, value in _SWITCHED.findall(rest)}
    return Instruction(name.upper(), argument, switches)


@dataclass
class _Field:
    value: str = ""
    results: bool = False
    pieces: list[Piece] = field(default_factory=list)


class Read(NamedTuple):
    """A paragraph read: its runs and blocks in order, and the id of the label that counts it as a caption, if it is one."""

    pieces: list[Run | Block]
    caption: str | None


class DocumentPlaces:
    def __init__(self, notes: Notes) -> None:
        self._notes = notes
        self.marks = DocumentMarks()
        self._open: dict[str, tuple[str, str]] = {}
        """Bookmarks that have begun, by the id under which they end: their own id here, and their name."""
        self.names: dict[str, str] = {}
        """The id of a paragraph or bookmark here, by the name of a bookmark there."""
        self.labels: dict[str, Label] = dict(DEFAULT_LABELS)
        self._used: set[str] = set()

    def label(self, name: str) -> str | None:
        """The id of the label whose captions a SEQ field of this name counts."""
        for label in self.labels.values():
            if name.casefold() in (label.id, label.name.casefold()):
                return label.id
        return None

    def read(self, pieces: Sequence[Piece], paragraph: str) -> Read:
        """What the pieces of one paragraph become. ``paragraph`` is its id, to which its bookmarks lead."""
        label, pieces = self._caption(pieces) or (None, pieces)
        return Read(put(self._plain(pieces, paragraph)), label)

    # --- Fields ---

    def _plain(self, pieces: Sequence[Piece], paragraph: str) -> Iterator[Run | Block | Marking]:
        """The pieces without signs. A field that does not end in its paragraph leaves its results as they are."""
        stack: list[_Field] = [_Field(results=True)]
        for piece in pieces:
            match piece:
                case Sign("begin"):
                    stack.append(_Field())
                case Sign("instruction", value):
                    if len(stack) > 1:
                        stack[-1].value = longer(stack[-1].value, value)
                case Sign("separate"):
                    stack[-1].results = True
                case Sign("end"):
                    if len(stack) > 1:
                        one = stack.pop()
                        stack[-1].pieces += self._result(one)
                case Sign("bookmark", value, id):
                    self._begin(value, id, paragraph)
                case Sign("bookmark end", _, id):
                    self._open.pop(id, None)
                case Run():
                    if stack[-1].results:
                        stack[-1].pieces.append(self._in_bookmark(piece))
                case _:
                    stack[-1].pieces.append(piece)
        for one in stack:
            for piece in one.pieces:
                if not isinstance(piece, Sign):
                    yield piece

    def _result(self, one: _Field) -> list[Piece]:
        """What a field becomes."""
        name, argument, switches = instruction(one.value)
        runs = [piece for piece in one.pieces if isinstance(piece, Run)]
        others = [piece for piece in one.pieces if not isinstance(piece, Run)]
        said = "".join(run.text for run in runs)
        if name == "HYPERLINK" and "l" in switches and not argument.startswith(("http", "mailto")):
            place = switches["l"] or argument
            return [*others, *(replace(run, marks=replace(run.marks, link=f"#{place}")) for run in runs)]
        if name in ("REF", "PAGEREF") and argument:
            if any(run.marks.reference for run in runs):
                return one.pieces  # a field within a field: the inner one is what shows
            reference = Reference(argument, _shows(name, switches, said), said[:200])
            mark = runs[0].marks.bookmark if runs else None
            return [*others, Run(INLINE_OBJECT, Marks(reference=reference, bookmark=mark))]
        if name in ("TA", "XE"):
            marking = self.marks.citation(switches) if name == "TA" else self.marks.term(argument, switches)
            return [*one.pieces, *([marking] if marking else [])]
        if name and name not in ("SEQ", "STYLEREF", "PAGE", "NUMPAGES"):
            self._notes.add("Field: its last result kept as plain text")
        elif name:
            self._notes.add(f"Field {name}: its last result kept as plain text")
        return one.pieces

    # --- Captions ---

    def _caption(self, pieces: Sequence[Piece]) -> tuple[str, list[Piece]] | None:
        """The label and the words of a paragraph that begins with a label and a SEQ field (17.16.5.56); None if it does not."""
        depth, front, value, at = 0, "", "", -1
        by_level = 0
        counted: str | None = None
        for index, piece in enumerate(pieces):
            match piece:
                case Sign("begin"):
                    depth, value = depth + 1, ""
                case Sign("instruction", more):
                    value = longer(value, more)
                case Sign("end"):
                    depth -= 1
                    name, argument, switches = instruction(value)
                    if name == "SEQ" and argument and not {"h", "c"} & switches.keys():
                        counted, at = argument, index
                        if switches.get("s", "").isdecimal():
                            by_level = int(switches["s"])
                        break
                    if name == "STYLEREF" and argument.isdecimal():
                        by_level = int(argument)
                    elif name:
                        return None
                case Run(text) if depth == 0:
                    front = longer(front, text)
        if counted is None or not _FRONT.fullmatch(front.strip() or counted):
            return None
        name = front.strip(" -.–—:\u00a0\t") or counted
        id = self._label(counted, name, by_level)
        if id is None:
            return None
        rest = [
            piece
            for index, piece in enumerate(pieces)
            if index > at or (isinstance(piece, Sign) and piece.kind.startswith("bookmark"))
        ]
        return id, self._behind(rest, id)

    def _label(self, counted: str, name: str, by_level: int) -> str | None:
        id = self.label(counted) or self.label(name)
        if id is None:
            id = free_id(counted, self.labels, "label", 32)
            try:
                self.labels[id] = Label(id, " ".join(name.split())[:40])
            except SettingError:
                return None
        if by_level and id not in self._used:
            self.labels[id] = replace(self.labels[id], by_level=min(by_level, 9))
        return id

    def _behind(self, pieces: list[Piece], id: str) -> list[Piece]:
        """The words of a caption without what parts them from the number; that of the first caption is the label's."""
        for index, piece in enumerate(pieces):
            if isinstance(piece, Run):
                found = re.match(r"\s*[:.–—-]?\s*", piece.text)
                parting = found[0] if found else ""
                if id not in self._used and piece.text.strip():
                    behind = re.sub(r"[\s\u00a0]+", " ", parting)[:8] or " "
                    self.labels[id] = replace(self.labels[id], behind=behind)
                    self._used.add(id)
                return [*pieces[:index], replace(piece, text=piece.text[len(parting) :]), *pieces[index + 1 :]]
        return pieces

    # --- Bookmarks ---

    def _begin(self, name: str, id: str, paragraph: str) -> None:
        if not name or name == "_GoBack":  # where somebody's cursor stood last
            return
        self.names.setdefault(name, paragraph)
        own = identifier(f"m-{name}")
        if own and not name.startswith("_"):
            self._open[id] = own, name

    def _in_bookmark(self, run: Run) -> Run:
        """The run in the bookmark that began last, of those that have not ended."""
        if not self._open or not run.text.strip() or run.marks.reference:
            return run
        own, name = next(reversed(self._open.values()))
        self.names[name] = own
        return replace(run, marks=replace(run.marks, bookmark=Bookmark(own, name[:80])))


def _shows(name: str, switches: Mapping[str, str], said: str) -> Shows:
    """What a REF or PAGEREF field shows (17.16.5.51, 17.16.5.45), by its switches; else by what it showed last."""
    if name == "PAGEREF":
        return "page"
    if "p" in switches and not {"r", "n", "w"} & switches.keys():
        return "way"
    if {"r", "n", "w"} & switches.keys():
        return "number"
    words = said.split()
    if len(words) == 2 and re.fullmatch(r"[0-9A-Z]+([.-][0-9]+)*", words[1]):
        return "label"
    return "number" if re.fullmatch(r"[0-9]+([.-][0-9]+)*", said.strip()) else "title"
