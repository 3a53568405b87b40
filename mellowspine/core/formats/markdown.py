"""Markdown after CommonMark, with tables, boxes of tasks and bare addresses after GFM 0.29, and with notes (``[^1]``) and alerts
(``> [!NOTE]``), which are common practice without a source. Raw HTML is read as HTML is.

A picture's title becomes its caption. Pictures are taken from ``data:`` addresses or from ``pictures``.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from html import unescape
from html.parser import HTMLParser
from typing import Any
from urllib.parse import unquote

from markdown_it import MarkdownIt
from markdown_it.renderer import RendererHTML
from markdown_it.token import Token
from mdit_py_plugins.footnote import footnote_plugin
from mdit_py_plugins.gfm_autolink import gfm_autolink_plugin

from ..report.blocks import Align, Block, Cell, DataTable, Image, Marks, Paragraph, Run, ThematicBreak
from ..report.labels import DEFAULT_LABELS
from ..report.links import safe_link
from ..report.page import DEFAULT_PAGE
from ..report.report import Report
from ..report.styles import Marker, default_styles
from ..structure.markers import counted_as
from ..structure.outline import paragraphs_in
from ..structure.typed_captions import typed_caption
from . import html
from .footnotes import note_of, refer, with_notes
from .front_matter import FrontMatter, read_front_matter
from .imported import Imported, Notes, Progress, new_ids
from .leads import resolved
from .mail import whole_addresses_plugin
from .pictures import NotAPicture, check, data_address, placed
from .runs import join_runs
from .text import decode
from .walk import slugs_of

_STYLES = default_styles()
_BODY, _CODE, _CELL, _CAPTION, _NOTE = (_STYLES.role(role).id for role in ("body", "code", "cell", "caption", "note"))
_QUOTATION = _STYLES.role("quotation").id
_PARSER = (
    MarkdownIt("commonmark", {"tasklists": True, "alerts": True, "strikethrough_single_tilde": True})
    .enable(["table", "strikethrough"])
    .use(footnote_plugin, move_to_end=False)
    .use(gfm_autolink_plugin)
    .use(whole_addresses_plugin)
)
_RENDERER = RendererHTML()
OPEN, TICKED = "☐", "☒"
"""What the boxes of tasks are in a text."""
_MONO = "Liberation Mono"
_ALIGN: Mapping[str, Align] = {"text-align:center": "center", "text-align:right": "right"}
_LOOKS: Mapping[str, Mapping[str, Any]] = {
    **{tag: {"bold": True} for tag in ("b", "strong")},
    **{tag: {"italic": True} for tag in ("i", "em", "cite", "dfn", "var")},
    **{tag: {"underline": True} for tag in ("u", "ins")},
    **{tag: {"font": _MONO} for tag in ("code", "kbd", "samp", "tt")},
    **{tag: {"strike": True} for tag in ("s", "del", "strike")},
    "sub": {"script": "sub"},
    "sup": {"script": "super"},
    "mark": {"highlight": "#ffff00"},
}
"""How words look by tags of HTML among them."""
_KNOWN = {
    *_LOOKS,
    *["a", "span", "small", "big", "font", "abbr", "wbr", "q"],
}
_FRONT_LINE = re.compile(r"\w[\w \t.-]*:(?:\s|$)|[ \t]|-[ \t]|#|$")
BLOCKS: dict[str, Callable[[str], Block]] = {}
"""What makes a block of a token that is one by itself, given the block's id; by type of the token. Kinds add theirs."""


def read(data: bytes, name: str, progress: Progress, pictures: Mapping[str, bytes] | None = None) -> Imported:
    text = decode(data)
    walk = _Walk(pictures or {})
    lines, text = _parted(text)
    front = read_front_matter(lines)
    if front.others:
        walk.notes.add("settings-in-front")
    walk.blocks += _title_block(front, walk.ids)
    env: dict[str, Any] = {}
    tokens = _PARSER.parse(text, env)
    walk.inline_notes = {
        at: one["tokens"] for at, one in env.get("footnotes", {}).get("list", {}).items() if one.get("tokens")
    }
    for done, token in enumerate(tokens):
        if done % 200 == 0:
            progress(done, len(tokens))
        walk.token(token)
    counted = [*counted_as([*with_notes(walk.blocks, walk.footnotes)], walk.styles, walk.numbers)]
    headings = [block for block in counted if isinstance(block, Paragraph) and block.style in walk.styles.levels]
    slugs = dict(zip(slugs_of(one.text for one in headings), (one.id for one in headings), strict=True))
    names = slugs | walk.anchors
    # Addresses of headings are in small letters; who leads to them may not be.
    names |= {led: names[led.lower()] for led in walk.led if led not in names and led.lower() in names}
    blocks = resolved(counted, names, walk.styles) or (Paragraph(next(walk.ids)),)
    first = walk.styles.heading(1).id
    title = front.title or next((b.text for b in blocks if isinstance(b, Paragraph) and b.style == first), name)
    page = replace(DEFAULT_PAGE, language=front.language or DEFAULT_PAGE.language)
    return Imported(Report(title=title, blocks=blocks, styles=walk.styles, page=page), walk.pictures, walk.notes.all())


def _title_block(front: FrontMatter, ids: Iterator[str]) -> Iterator[Paragraph]:
    """Title, subtitle, authors and date at the head of a text whose settings name more than its title."""
    if front.is_ours or not (front.subtitle or front.authors or front.date):
        return
    if front.title:
        yield Paragraph(next(ids), _STYLES.role("title").id, (Run(front.title),))
    for words in (front.subtitle, ", ".join(front.authors), front.date):
        if words:
            yield Paragraph(next(ids), _STYLES.role("subtitle").id, (Run(words),))


def _parted(text: str) -> tuple[str, str]:
    """Settings in YAML before a text, and the text: common practice, no source.

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
        self.styles = _STYLES
        """With those that raw HTML asks for."""
        self.led: set[str] = set()
        """The names of places that links lead to."""
        self._align: Align | None = None
        """Of the column of a table."""
        self.ids = new_ids()
        self.blocks: list[Block] = []
        self.pictures: dict[str, bytes] = {}
        self.notes = Notes()
        self.lists: list[_List] = []
        self.numbers: dict[str, int] = {}
        """What the items of numbered lists are counted as, by id of the paragraph."""
        self.quotes = 0
        self.heading = ""
        self.alert = False
        """Whether it is the title of an alert that is read."""
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
        self.notes.at = self.blocks[-1].id if self.blocks else ""
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
                ticked = token.meta.get("checked")
                self.lists[-1].box = "" if ticked is None else f"{TICKED if ticked else OPEN} "
            case "bullet_list_close" | "ordered_list_close":
                self.lists.pop()
            case "blockquote_open" | "alert_open":
                self.quotes += 1
            case "blockquote_close" | "alert_close":
                self.quotes -= 1
            case "alert_title_open" | "alert_title_close":
                self.alert = token.type.endswith("open")
            case "th_open" | "td_open":
                self._align = _ALIGN.get(str(token.attrGet("style") or ""))
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
                if language := token.info.split(maxsplit=1)[:1]:
                    self.notes.add("code-colours", language[0][:40])
                lines = token.content.rstrip("\n").split("\n")
                for line in lines[:-1]:
                    self.blocks.append(Paragraph(next(self.ids), _CODE, (Run(line),) if line else (), space_after=0))
                self.blocks.append(Paragraph(next(self.ids), _CODE, (Run(lines[-1]),) if lines[-1] else ()))
            case "html_block":
                self.html(token.content)
            case "hr":
                self.blocks.append(ThematicBreak(next(self.ids)))

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
        id = self.notes.at = next(self.ids)
        joined, figures = self.words(token.children or ())
        if self.in_table:
            # A row is a line: its pictures stand behind the words.
            inside = [one for figure in figures for one in figure if isinstance(one, Paragraph | Image)]
            if joined or not inside:
                inside.insert(0, Paragraph(id, _CELL, joined, align=self._align))
            self.rows[-1].append(Cell(tuple(inside)))
            return
        if self.alert:
            joined = tuple(replace(run, marks=replace(run.marks, bold=True)) for run in joined)
        if any(run.text.strip() for run in joined) or not figures:
            self.blocks.append(self.paragraph(id, joined))
        for figure in figures:
            self.blocks.extend(figure)

    def words(self, tokens: Iterable[Token]) -> tuple[tuple[Run, ...], list[tuple[Block, ...]]]:
        """The words among some tokens, and the pictures."""
        runs: list[Run] = []
        figures: list[tuple[Block, ...]] = []
        marks = [Marks()]
        tags: list[str] = []
        """Of HTML, for each of the marks whether it is by a tag."""
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
                    runs.append(Run(child.content, replace(now, font=_MONO)))
                case "strong_open":
                    marks.append(replace(now, bold=True))
                case "em_open":
                    marks.append(replace(now, italic=True))
                case "link_open":
                    marks.append(replace(now, link=self.link(str(child.attrGet("href") or ""))))
                case "s_open":
                    marks.append(replace(now, strike=True))
                case "strong_close" | "em_close" | "s_close" | "link_close":
                    if len(marks) > 1:
                        marks.pop()
                case "image":
                    address = str(child.attrGet("src") or "")
                    described = _RENDERER.renderInlineAsText(child.children or [], _PARSER.options, {})
                    self.picture(address, described, str(child.attrGet("title") or ""), now, runs, figures)
                case "html_inline" if child.content.startswith("<![CDATA["):
                    # Which HTML does not know: a comment up to the first sign that ends one, and words (HTML standard, 13.2.5.42).
                    runs.append(Run(unescape(child.content.partition(">")[2]), now))
                case "html_inline":
                    for tag, given in _tags(child.content):
                        self.tag(tag, given, marks, tags, runs, figures)
        return join_runs(runs), figures

    def tag(
        self,
        tag: str,
        given: Mapping[str, str],
        marks: list[Marks],
        tags: list[str],
        runs: list[Run],
        figures: list[tuple[Block, ...]],
    ) -> None:
        """Takes in a tag of HTML among words; ``/b`` ends what ``b`` began, and ``!`` is a comment."""
        now = marks[-1]
        if tag == "!":
            self.notes.add("comment")
        elif tag.startswith("/"):
            if tag[1:] in tags:
                while tags and tags.pop() != tag[1:]:
                    marks.pop()
                marks.pop()
        elif tag == "br":
            runs.append(Run("\n", now))
        elif tag == "img":
            self.picture(given.get("src", ""), given.get("alt", ""), given.get("title", ""), now, runs, figures)
        else:
            self._waiting += [name for name in (given.get("id"), given.get("name") if tag == "a" else None) if name]
            if tag not in _KNOWN:
                self.notes.add("raw-html")
            look = dict(_LOOKS.get(tag, {}))
            if tag == "a" and given.get("href"):
                look["link"] = self.link(given["href"])
            if tag != "wbr":
                tags.append(tag)
                marks.append(replace(now, **look))

    def link(self, address: str) -> str | None:
        """Where a link leads, if that is a place that one can lead to."""
        if len(address) > 1 and address[0] == "#":
            name = unquote(address[1:])
            self.led.add(name)
            return f"#{name}"
        found = safe_link(address)
        if found is None:
            self.notes.add("link")
        return found

    def referred(self, token: Token) -> str:
        """The id of the note that is referred to; one that is written in its place is made."""
        if (label := token.meta.get("label")) is not None:
            return self.note_id(label)
        id = next(self.ids)
        words, figures = self.words(self.inline_notes.get(token.meta["id"], ()))
        self.footnote(id, [Paragraph("", _BODY, words), *(block for figure in figures for block in figure)])
        return id

    def paragraph(self, id: str, runs: tuple[Run, ...]) -> Paragraph:
        """A paragraph in the text. In a list only the first of each item has a marker, and the box of a task."""
        found = Paragraph(id, self.style(), runs)
        for name in self._waiting:
            self.anchors.setdefault(name, found.id)
        self._waiting = []
        if self.lists and not self.heading:
            item = self.lists[-1]
            if not item.fresh:
                return replace(found, number="none")
            item.fresh = False
            self.numbers[found.id] = item.number
            if item.box:
                found = replace(found, runs=join_runs([Run(item.box), *runs]))
        return found

    def html(self, content: str) -> None:
        """Takes in a block of HTML, as files of HTML are read."""
        if any(content.lower().count(f"<{tag}>") > content.lower().count(f"</{tag}>") for tag in _LOOKS):
            self.notes.add("raw-html")  # it would go on over what is no HTML
        found = html.read_among(content, Report("", styles=self.styles), self.ids, self.given)
        self.styles = found.styles
        self.pictures |= found.pictures
        self.notes.merge(found.notes)
        for kind in _comments_in(content):
            self.notes.add(kind)
        self.anchors |= {name: id for name, id in found.places.items() if name not in self.anchors}
        self._waiting += found.waiting
        self.led |= found.led
        for block in found.blocks:
            if isinstance(block, Paragraph) and block.style == _BODY and self.style() != _BODY and not self.heading:
                block = replace(block, style=self.style(), number="none" if self.lists else None)
            for name in self._waiting if isinstance(block, Paragraph) else ():
                self.anchors.setdefault(name, block.id)
            if isinstance(block, Paragraph):
                self._waiting = []
            self.blocks.append(block)

    def picture(
        self,
        address: str,
        described: str,
        caption: str,
        marks: Marks,
        runs: list[Run],
        figures: list[tuple[Block, ...]],
    ) -> None:
        """Takes in a picture among words: it stands behind them, with its caption. One that is not there leaves its words."""
        typed = typed_caption(caption, DEFAULT_LABELS)
        words = (Run(caption[typed.end if typed else 0 :]),)
        label = typed.label if typed else None
        captions = (Paragraph(next(self.ids), _CAPTION, words, caption=label),) if caption else ()
        data = self.given.get(unquote(address)) or data_address(address)
        try:
            if data is None:
                raise NotAPicture("", "picture-beside")
            source, kept, width, height, _ = check(data)
        except NotAPicture as fault:
            self.notes.add(fault.kind)
            runs.append(Run(f"[{described or address[:200]}]", marks))
            figures += [(one,) for one in captions]
            return
        self.pictures[source] = kept
        if marks.link:
            self.notes.add("picture-link")
        figures.append((placed(next(self.ids), source, width, height, described), *captions))
        if runs:  # words on both sides of it have one space between them
            runs[-1] = replace(runs[-1], text=runs[-1].text.rstrip(" "))


@dataclass
class _List:
    """A list that is open: the number of its item, and whether that still has no paragraph."""

    marker: Marker
    number: int
    fresh: bool = False
    box: str = ""
    """Of a task."""


class _Tags(HTMLParser):
    """Takes the tags out of HTML."""

    def __init__(self) -> None:
        super().__init__()
        self.met: list[tuple[str, Mapping[str, str]]] = []

    def parse_marked_section(self, i: int, report: int = 1) -> int:
        """Reads over ``<![ … >``, which HTML does not know; the library takes one without a name for a fault of its own."""
        end = self.rawdata.find(">", i)
        return end + 1 if end >= 0 else -1

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.met.append((tag, {name: value or "" for name, value in attrs}))

    def handle_endtag(self, tag: str) -> None:
        self.met.append((f"/{tag}", {}))

    def handle_comment(self, data: str) -> None:
        self.met.append(("!", {}))


def _tags(content: str) -> Iterator[tuple[str, Mapping[str, str]]]:
    """The tags in some HTML with what they say; ``/b`` for one that ends, ``!`` for a comment."""
    if content in ("<!-->", "<!--->"):  # comments without words (CommonMark 0.31, 6.6)
        yield "!", {}
        return
    found = _Tags()
    found.feed(content)
    found.close()
    yield from found.met


def _comments_in(content: str) -> Iterator[str]:
    return ("comment" for tag, _ in _tags(content) if tag == "!")
