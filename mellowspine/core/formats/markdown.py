"""Markdown after CommonMark, with tables and notes (``[^1]``: common practice, no source). Of raw HTML the words are kept.

A picture's title becomes its caption. Pictures are taken from ``data:`` addresses or from ``pictures``.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from html.parser import HTMLParser
from typing import Any
from urllib.parse import unquote

from markdown_it import MarkdownIt
from markdown_it.token import Token
from mdit_py_plugins.footnote import footnote_plugin

from ..report.blocks import Block, Cell, DataTable, Image, Marks, Paragraph, Run
from ..report.labels import DEFAULT_LABELS
from ..report.links import safe_link
from ..report.report import Report
from ..report.styles import Marker, default_styles
from ..structure.markers import counted_as
from ..structure.outline import paragraphs_in
from ..structure.typed_captions import typed_caption
from .footnotes import note_of, refer, with_notes
from .imported import Imported, Notes, Progress, new_ids
from .leads import resolved
from .pictures import NotAPicture, check, data_address, placed
from .runs import join_runs
from .text import decode
from .walk import slugs_of

_STYLES = default_styles()
_BODY, _CODE, _CELL, _CAPTION, _NOTE = (_STYLES.role(role).id for role in ("body", "code", "cell", "caption", "note"))
_QUOTATION = _STYLES.role("quotation").id
_PARSER = MarkdownIt("commonmark").enable("table").use(footnote_plugin, move_to_end=False)
_FRONT_LINE = re.compile(r"\w[\w \t.-]*:(?:\s|$)|[ \t]|-[ \t]|#|$")
_TITLE = re.compile(r"^title:[ \t]*([\"']?)(.+?)\1[ \t]*$", re.MULTILINE)
BLOCKS: dict[str, Callable[[str], Block]] = {}
"""What makes a block of a token that is one by itself, given the block's id; by type of the token. Kinds add theirs."""


def read(data: bytes, name: str, progress: Progress, pictures: Mapping[str, bytes] | None = None) -> Imported:
    text = decode(data)
    walk = _Walk(pictures or {})
    title = ""
    front, text = _parted(text)
    if front:
        walk.notes.add("settings-in-front")
        title = named[2][:200] if (named := _TITLE.search(front)) else ""
    env: dict[str, Any] = {}
    tokens = _PARSER.parse(text, env)
    walk.inline_notes = {
        at: one["tokens"] for at, one in env.get("footnotes", {}).get("list", {}).items() if one.get("tokens")
    }
    for done, token in enumerate(tokens):
        if done % 200 == 0:
            progress(done, len(tokens))
        walk.token(token)
    counted = [*counted_as([*with_notes(walk.blocks, walk.footnotes)], _STYLES, walk.numbers)]
    headings = [block for block in counted if isinstance(block, Paragraph) and block.style in _STYLES.levels]
    slugs = dict(zip(slugs_of(one.text for one in headings), (one.id for one in headings), strict=True))
    blocks = resolved(counted, slugs | walk.anchors, _STYLES) or (Paragraph(next(walk.ids)),)
    first = _STYLES.heading(1).id
    title = title or next((b.text for b in blocks if isinstance(b, Paragraph) and b.style == first), name)
    return Imported(Report(title=title, blocks=blocks, styles=_STYLES), walk.pictures, walk.notes.all())


def _parted(text: str) -> tuple[str, str]:
    """Settings in YAML before a text, and the text: common practice, no source. Of these only a title is read.

    A text may also begin with a line across the page: settings have a name and a colon in their first line, and nothing but
    settings follows up to their end.
    """
    first, *lines = text.split("\n", 2)
    if first.rstrip() != "---" or not lines or not re.match(r"\w[\w \t.-]*:(?:\s|$)", lines[0]):
        return "", text
    at = len(first) + 1
    while at < len(text):
        end = text.find("\n", at)
        line = text[at:] if end < 0 else text[at:end]
        after = len(text) if end < 0 else end + 1
        if line.rstrip() in ("---", "..."):
            return text[len(first) + 1 : at], text[after:]
        if not _FRONT_LINE.match(line):
            break
        at = after
    return "", text


class _Walk:
    def __init__(self, given: Mapping[str, bytes]) -> None:
        self.given = given
        self.ids = new_ids()
        self.blocks: list[Block] = []
        self.pictures: dict[str, bytes] = {}
        self.notes = Notes()
        self.lists: list[_List] = []
        self.numbers: dict[str, int] = {}
        """What the items of numbered lists are counted as, by id of the paragraph."""
        self.quotes = 0
        self.heading = ""
        self.rows: list[list[Cell]] = []
        self.header_rows = 0
        self.in_table = False
        self.anchors: dict[str, str] = {}
        """Ids of paragraphs by the names that HTML gives to places in them."""
        self.footnotes: dict[str, Paragraph] = {}
        """Notes by their ids; in the text of a file they stand anywhere."""
        self.inline_notes: dict[int, list[Token]] = {}
        """The words of notes that are written where they are referred to, by number."""
        self._labelled: dict[str, str] = {}
        """Ids of notes by what they are called in the file."""
        self._outside: list[tuple[str, list[Block]]] = []
        """The note that is being read, and what stood in front of it."""
        self._waiting: list[str] = []
        """Such names whose paragraph is still to come."""

    def token(self, token: Token) -> None:
        if token.type in BLOCKS:
            self.blocks.append(BLOCKS[token.type](next(self.ids)))
            return
        match token.type:
            case "footnote_reference_open":
                self._outside.append((self.note_id(token.meta["label"]), self.blocks))
                self.blocks = []
            case "footnote_reference_close":
                id, outside = self._outside.pop()
                self.footnote(id, self.blocks)
                self.blocks = outside
            case "heading_open":
                self.heading = _STYLES.heading(int(token.tag[1])).id
            case "heading_close":
                self.heading = ""
            case "bullet_list_open" | "ordered_list_open":
                start = token.attrGet("start")
                marker: Marker = "bullet" if token.type.startswith("bullet") else "decimal"
                self.lists.append(_List(marker, int(start if start is not None else 1) - 1))
            case "list_item_open":
                self.lists[-1].number += 1
                self.lists[-1].fresh = True
            case "bullet_list_close" | "ordered_list_close":
                self.lists.pop()
            case "blockquote_open":
                self.quotes += 1
            case "blockquote_close":
                self.quotes -= 1
            case "table_open":
                self.in_table, self.rows, self.header_rows = True, [], 0
            case "thead_close":
                self.header_rows = len(self.rows)
            case "tr_open":
                self.rows.append([])
            case "table_close":
                self.in_table = False
                rows = tuple(tuple(row) for row in self.rows)
                self.blocks.append(DataTable(next(self.ids), rows, self.header_rows))
            case "inline":
                self.inline(token)
            case "fence" | "code_block":
                for line in token.content.rstrip("\n").split("\n"):
                    self.blocks.append(Paragraph(next(self.ids), _CODE, (Run(line),) if line else (), space_after=0))
            case "html_block":
                if words := self.html(token.content).strip():
                    self.blocks.append(Paragraph(next(self.ids), self.style(), (Run(words),)))
            case "hr":
                self.notes.add("rule")

    def note_id(self, label: str) -> str:
        if label not in self._labelled:
            self._labelled[label] = next(self.ids)
        return self._labelled[label]

    def footnote(self, id: str, blocks: list[Block]) -> None:
        """Makes a note of what stands in it: words in lines, whatever else that was."""
        paragraphs = [paragraph for block in blocks for paragraph, _ in paragraphs_in(block)]
        if any(type(block) is not Paragraph or block.style != _BODY for block in blocks):
            self.notes.add("note-content")
        if id in self.footnotes:
            self.notes.add("note-twice")
            return
        self.footnotes[id] = note_of(id, _NOTE, "foot", paragraphs)

    def style(self) -> str:
        if self.heading:
            return self.heading
        if self.lists:
            return _STYLES.item(self.lists[-1].marker, len(self.lists)).id
        return _QUOTATION if self.quotes else _BODY

    def inline(self, token: Token) -> None:
        joined, figures = self.words(token.children or ())
        if self.in_table:
            # A row is a line: its pictures stand behind the words.
            inside = [one for figure in figures for one in figure if isinstance(one, Paragraph | Image)]
            if joined or not inside:
                inside.insert(0, Paragraph(next(self.ids), _CELL, joined))
            self.rows[-1].append(Cell(tuple(inside)))
            return
        if any(run.text.strip() for run in joined) or not figures:
            self.blocks.append(self.paragraph(joined))
        for figure in figures:
            self.blocks.extend(figure)

    def words(self, tokens: Iterable[Token]) -> tuple[tuple[Run, ...], list[tuple[Block, ...]]]:
        """The words among some tokens, and the pictures."""
        runs: list[Run] = []
        figures: list[tuple[Block, ...]] = []
        marks = [Marks()]
        for child in tokens:
            now = marks[-1]
            match child.type:
                case "footnote_ref":
                    runs.append(refer(self.referred(child)))
                case "text":
                    runs.append(Run(child.content, now))
                case "softbreak":
                    runs.append(Run(" ", now))
                case "hardbreak":
                    runs.append(Run("\n", now))
                case "code_inline":
                    runs.append(Run(child.content, replace(now, font="Liberation Mono")))
                case "strong_open":
                    marks.append(replace(now, bold=True))
                case "em_open":
                    marks.append(replace(now, italic=True))
                case "link_open":
                    address = str(child.attrGet("href") or "")
                    link = f"#{unquote(address[1:])}" if len(address) > 1 and address[0] == "#" else safe_link(address)
                    if link is None:
                        self.notes.add("link")
                    marks.append(replace(now, link=link))
                case "strong_close" | "em_close" | "link_close":
                    marks.pop()
                case "image":
                    figures.append(self.figure(child))
                    if runs:  # words on both sides of it have one space between them
                        runs[-1] = replace(runs[-1], text=runs[-1].text.rstrip(" "))
                case "html_inline":
                    if words := self.html(child.content):
                        runs.append(Run(words, now))
        return join_runs(runs), figures

    def referred(self, token: Token) -> str:
        """The id of the note that is referred to; one that is written in its place is made."""
        if (label := token.meta.get("label")) is not None:
            return self.note_id(label)
        id = next(self.ids)
        words, figures = self.words(self.inline_notes.get(token.meta["id"], ()))
        self.footnote(id, [Paragraph("", _BODY, words), *(block for figure in figures for block in figure)])
        return id

    def paragraph(self, runs: tuple[Run, ...]) -> Paragraph:
        """A paragraph in the text. In a list only the first of each item has a marker."""
        found = Paragraph(next(self.ids), self.style(), runs)
        for name in self._waiting:
            self.anchors.setdefault(name, found.id)
        self._waiting = []
        if self.lists and not self.heading:
            item = self.lists[-1]
            if not item.fresh:
                return replace(found, number="none")
            item.fresh = False
            self.numbers[found.id] = item.number
        return found

    def html(self, content: str) -> str:
        """The words in some HTML; what else it says is left out and noted."""
        words = _Words()
        words.feed(content)
        words.close()
        for what in words.met:
            self.notes.add(what)
        self._waiting += words.named
        return words.text()

    def figure(self, token: Token) -> tuple[Block, ...]:
        address = str(token.attrGet("src") or "")
        data = self.given.get(unquote(address)) or data_address(address)
        caption = str(token.attrGet("title") or "")
        typed = typed_caption(caption, DEFAULT_LABELS)
        words = (Run(caption[typed.end if typed else 0 :]),)
        label = typed.label if typed else None
        captions = (Paragraph(next(self.ids), _CAPTION, words, caption=label),) if caption else ()
        if data is None:
            self.notes.add("picture-beside")
            return (Paragraph(next(self.ids), _BODY, (Run(f"[{token.content or address}]"),)), *captions)
        try:
            source, kept, width, height, _ = check(data)
        except NotAPicture as fault:
            self.notes.add(fault.kind)
            return (Paragraph(next(self.ids), _BODY, (Run(f"[{token.content}]"),)), *captions)
        self.pictures[source] = kept
        return (placed(next(self.ids), source, width, height, token.content), *captions)


@dataclass
class _List:
    """A list that is open: the number of its item, and whether that still has no paragraph."""

    marker: Marker
    number: int
    fresh: bool = False


class _Words(HTMLParser):
    """Takes the words out of HTML."""

    def __init__(self) -> None:
        super().__init__()
        self.met: list[str] = []
        self.named: list[str] = []
        """Names of places to which links can lead."""
        self._parts: list[str] = []
        self._hidden = 0

    def text(self) -> str:
        return re.sub(r"[ \t\n]*\n[ \t\n]*", "\n", re.sub(r"[ \t]+", " ", "".join(self._parts)))

    def parse_marked_section(self, i: int, report: int = 1) -> int:
        """Reads over ``<![ … >``, which HTML does not know; the library takes one without a name for a fault of its own."""
        end = self.rawdata.find(">", i)
        return end + 1 if end >= 0 else -1

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = dict(attrs)
        names = [name for name in (given.get("id"), given.get("name") if tag == "a" else None) if name]
        self.named += names
        if not (tag == "a" and names and len(attrs) == len(names)):  # one that only names a place is kept as that
            self.met.append("raw-html")
        self._hidden += tag in ("script", "style")
        if tag == "br":
            self._parts.append("\n")
        if tag == "img" and (described := given.get("alt")):
            self._parts.append(f"[{described}]")

    def handle_endtag(self, tag: str) -> None:
        self._hidden = max(0, self._hidden - (tag in ("script", "style")))

    def handle_comment(self, data: str) -> None:
        self.met.append("comment")

    def handle_data(self, data: str) -> None:
        if not self._hidden:
            self._parts.append(data)
