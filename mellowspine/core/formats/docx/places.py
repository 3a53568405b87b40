"""Captions, bookmarks, references and other fields of Office Open XML (ISO/IEC 29500-1, 17.16) and bookmarks (17.13.6).

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
from ...report.links import safe_link
from ...report.properties import SettingError, free_id
from ..imported import Notes
from .grammar import Instruction, instruction, longer
from .marks import CITED, INDEXED, DocumentMarks, Edge, Marking
from .numbering import is_font_of_symbols, symbol
from .own import Own

_FRONT = re.compile(r"[^\W\d_]{1,30}(?:[ \u00a0][^\W\d_]{1,20})?[\s\u00a0.–—:-]*")
"""What stands in front of a caption's number: one word or two."""
_SILENT = frozenset({"SET", "RD", "PRIVATE", "NEXT", "NEXTIF", "SKIPIF", "ADVANCE", "ASK", "DATABASE"})
"""Fields that show nothing where they stand."""
PARTS: Mapping[Shows, str] = {"label": "__label", "number": "__number", "title": "__words"}
"""What the names of bookmarks over parts of captions end with, in files of ours, by what a reference to one shows."""
_EQUATION = re.compile(r"\\([a-z]+)(?:\s*\\[a-z]+[0-9.]*)*\s*\(([^()]*)\)", re.IGNORECASE)


class Sign(NamedTuple):
    """Where a field or a bookmark begins or ends among the runs. ``value`` is an instruction, or the name of a bookmark; of a
    field of a form that begins, what is filled in."""

    kind: Literal["begin", "instruction", "separate", "end", "bookmark", "bookmark end"]
    value: str = ""
    id: str = ""


Piece = Run | Block | Sign | Marking | Edge


@dataclass
class _Field:
    value: str = ""
    results: bool = False
    filled_in: str = ""
    pieces: list[Piece] = field(default_factory=list)


class Read(NamedTuple):
    """A paragraph read: its runs and blocks in order, the id of the label that counts it as a caption, if it is one, and the level
    at which it is to stand in contents though its style is none of a heading."""

    pieces: list[Run | Block]
    caption: str | None
    listed: int | None


class DocumentPlaces:
    def __init__(self, notes: Notes, own: Own) -> None:
        self._notes, self._own = notes, own
        self.marks = DocumentMarks(own)
        self._edges: dict[str, str] = {}
        """Names of hidden bookmarks over words that are marked, by the id under which they end."""
        self._begun: list[str] = []
        """Names of the bookmarks that have begun since the last words."""
        self._open: dict[str, tuple[str, str]] = {}
        """Bookmarks that have begun, by the id under which they end: their own id here, and their name."""
        self.names: dict[str, str] = {}
        """The id of a paragraph or bookmark here, by the name of a bookmark there."""
        self.labels: dict[str, Label] = dict(own.labels if own else DEFAULT_LABELS)
        self._used: set[str] = set()
        self._numbers = 0
        """How many numbers fields have made."""
        self._entry: tuple[str, int] | None = None
        """Words and level of the entry that the paragraph at hand makes in contents."""

    def label(self, name: str) -> str | None:
        """The id of the label whose captions a SEQ field of this name counts."""
        for label in self.labels.values():
            if name.casefold() in (label.id, label.name.casefold()):
                return label.id
        return None

    def read(self, pieces: Sequence[Piece], paragraph: str) -> Read:
        """What the pieces of one paragraph become. ``paragraph`` is its id, to which its bookmarks lead."""
        label, pieces = self._caption(pieces) or (None, pieces)
        self._entry = None
        found = self.marks.put(self._plain(pieces, paragraph), paragraph)
        words, level = self._entry or ("", None)
        if (
            not self._own
            and words
            and words.split() != "".join(piece.text for piece in found if isinstance(piece, Run)).split()
        ):
            self._notes.add("contents-entry")
        return Read(found, label, level)

    # --- Fields ---

    def _plain(self, pieces: Sequence[Piece], paragraph: str) -> Iterator[Run | Block | Marking | Edge]:
        """The pieces without signs. A field that does not end in its paragraph leaves its results as they are."""
        stack: list[_Field] = [_Field(results=True)]
        for piece in pieces:
            match piece:
                case Sign("begin", value):
                    stack.append(_Field(filled_in=value))
                case Sign("instruction", value):
                    if len(stack) > 1:
                        stack[-1].value = longer(stack[-1].value, value)
                case Sign("separate"):
                    stack[-1].results = True
                case Sign("end"):
                    if len(stack) > 1:
                        made = self._result(stack.pop())
                        if not stack[-1].results:  # its words are part of an instruction
                            said = "".join(piece.text for piece in made if isinstance(piece, Run))
                            stack[-1].value = longer(stack[-1].value, said)
                            made = [piece for piece in made if not isinstance(piece, Run)]
                        stack[-1].pieces += made
                case Sign("bookmark", value, id):
                    self._begin(value, id, paragraph)
                    if value.startswith((CITED, INDEXED)):
                        self._edges[id] = value
                        stack[-1].pieces.append(Edge(value, True))
                case Sign("bookmark end", _, id):
                    self._open.pop(id, None)
                    if id in self._edges:
                        stack[-1].pieces.append(Edge(self._edges.pop(id), False))
                case Run():
                    self._meet(piece)
                    if stack[-1].results:
                        stack[-1].pieces.append(self._in_bookmark(piece))
                case _:
                    stack[-1].pieces.append(piece)
        for one in stack:
            for piece in one.pieces:
                if not isinstance(piece, Sign):
                    yield piece

    def _result(self, one: _Field) -> list[Piece]:
        """What a field becomes (17.16.5)."""
        field = instruction(one.value)
        runs = [piece for piece in one.pieces if isinstance(piece, Run)]
        others: list[Piece] = [piece for piece in one.pieces if not isinstance(piece, Run)]
        said = "".join(run.words for run in runs)
        match field.name:
            case "HYPERLINK":
                return [*others, *self._linked(runs, field)]
            case "REF" | "PAGEREF" if field.argument:
                if any(run.marks.reference for run in runs):
                    return one.pieces  # a field within a field: the inner one is what shows
                of_part = next((shows for shows, ending in PARTS.items() if field.argument.endswith(ending)), None)
                shown = _shows(field.name, field.switches, said)
                if self._own and shown in ("label", "number", "title") and "n" not in field.switches:
                    shown = of_part or "title"  # it says so by its bookmark
                reference = Reference(field.argument, shown, said[:200])
                mark = runs[0].marks.bookmark if runs else None
                return [*others, Run(INLINE_OBJECT, Marks(reference=reference, bookmark=mark))]
            case "NOTEREF" if field.argument:
                shows: Shows = "note" if "f" in field.switches else "number"
                return [*others, Run(INLINE_OBJECT, Marks(reference=Reference(field.argument, shows, said[:200])))]
            case "TA" | "XE":
                is_citation = field.name == "TA"
                marking = self.marks.citation(field.switches) if is_citation else self.marks.term(field)
                return [*one.pieces, *([marking] if marking else [])]
            case "TC":
                given = field.switches.get("l", "1")
                self._entry = field.argument, min(max(int(given), 1), 9) if given.isdecimal() else 1
                return others
            case "FORMCHECKBOX":
                return [*others, Run(one.filled_in or "☐")]
            case "FORMTEXT" | "FORMDROPDOWN":
                self._notes.add("control")
                return one.pieces if said or not one.filled_in else [*others, Run(one.filled_in)]
            case "SYMBOL" if not said and (found := _symbol(field)):
                return [*others, Run(found)]
            case "EQ" if not said:
                self._notes.add("field-formula")
                return [*others, Run(_equation(field.rest))]
            case "AUTONUM" | "AUTONUMLGL" | "AUTONUMOUT" if not said:
                self._numbers += 1
                self._notes.add("field-number")
                return [*others, Run(f"{self._numbers}.")]
            case "MACROBUTTON" | "GOTOBUTTON" if not said:
                self._notes.add("button")
                return [*others, Run(field.rest.partition(" ")[2].strip().strip('"'))]
            case "INCLUDEPICTURE" if not others:
                self._notes.add("picture-outside")
                name = field.argument.replace("\\", "/").rpartition("/")[2]
                return [Run(said or f"[{name[:200]}]")]
            case "":
                return one.pieces
        if said.strip() or others:
            self._notes.add("field", field.name[:20])
        elif field.name not in _SILENT:
            self._notes.add("field-bare", field.name[:20])
        return one.pieces

    def _linked(self, runs: Sequence[Run], field: Instruction) -> Iterator[Run]:
        """Words as a link to an address, or to a place in this document (17.16.5.25)."""
        place = field.switches.get("l") or ""
        address = field.argument + (f"#{place}" if place else "")
        target = safe_link(address) if field.argument else f"#{place}" if place else None
        if target is None and field.argument.startswith("#"):
            target = field.argument
        if target is None and any(run.text.strip() for run in runs):
            self._notes.add("link")
        for run in runs:
            yield replace(run, marks=replace(run.marks, link=target)) if target else run

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
                    field = instruction(value)
                    if field.name == "SEQ" and field.argument and not {"h", "c"} & field.switches.keys():
                        counted, at = field.argument, index
                        if field.switches.get("s", "").isdecimal():
                            by_level = int(field.switches["s"])
                        break
                    if field.name == "STYLEREF" and field.argument.isdecimal():
                        by_level = int(field.argument)
                    elif field.name:
                        return None
                case Run(text) if depth == 0:
                    front = longer(front, text)
        if counted is None:
            return None
        name = front.strip(" -.–—:\u00a0\t") or counted
        # Whatever a label of ours is called; with others it has a word or two.
        if not _FRONT.fullmatch(front.strip() or counted) and not (self._own and self.label(name)):
            return None
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
        self._begun.append(name)

    def _meet(self, run: Run) -> None:
        """Takes words: a bookmark that begins right in front of the sign of a note is a name for that note."""
        reference = run.marks.reference
        if reference and reference.shows == "note":
            self.names |= dict.fromkeys(self._begun, reference.to)
        self._begun.clear()

    def _in_bookmark(self, run: Run) -> Run:
        """The run in the bookmark that began last, of those that have not ended."""
        if not self._open or not (run.text.strip() or self._own) or run.marks.reference or run.marks.formula:
            return run
        own, name = next(reversed(self._open.values()))
        self.names[name] = own
        said = self._own.bookmarks.get(name, name)
        return replace(run, marks=replace(run.marks, bookmark=Bookmark(own, said[:80])))


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


def _symbol(field: Instruction) -> str | None:
    """The character that a SYMBOL field shows (17.16.5.60): by its code, in a font of symbols or else in Unicode."""
    try:
        code = int(field.argument, 16 if field.argument.lower().startswith("0x") else 10)
    except ValueError:
        return None
    font = field.switches.get("f", "")
    if found := symbol(font, code):
        return found
    if "u" in field.switches:
        return chr(code) if 0x20 <= code <= 0x10FFFF and not 0xD800 <= code <= 0xDFFF else None
    if font and is_font_of_symbols(font):
        return None
    return (bytes([code]).decode("cp1252", "ignore") or None) if 0x20 <= code <= 0xFF else None


def _equation(rest: str) -> str:
    """The words of an EQ field (17.16.5.17): fractions as "a/b", roots with their sign, all else one behind the other."""
    for _ in range(200):  # from the innermost out
        found = _EQUATION.search(rest)
        if found is None:
            break
        parts = [part.strip() for part in re.split("[,;]", found[2])]
        match found[1].lower():
            case "f" if len(parts) == 2:
                words = f"{parts[0]}/{parts[1]}"
            case "r":
                words = f"√{{{parts[-1]}}}"
            case "i":
                words = "∫ " + " ".join(part for part in parts if part)
            case "b":
                words = f"[{', '.join(parts)}]"
            case _:
                words = ", ".join(part for part in parts if part)
        rest = rest[: found.start()] + words.replace("(", "[").replace(")", "]") + rest[found.end() :]
    return re.sub(r"\\[a-z]+\s*", "", rest, flags=re.IGNORECASE).strip()
