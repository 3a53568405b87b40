"""From a tree of HTML to blocks: what tags mean (the HTML standard, 4 and 15), and what word processors and spreadsheets write
instead of them (from memory: nobody specifies it).
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import dropwhile
from typing import Literal, NamedTuple
from urllib.parse import unquote

from lxml import etree
from lxml.etree import _Element

from ...report.blocks import (
    ALIGNMENTS,
    INLINE_OBJECT,
    PLAIN,
    Align,
    Block,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    Run,
    ThematicBreak,
)
from ...report.formulas import FORMULA, formula
from ...report.labels import Labels
from ...report.links import safe_link
from ...report.properties import free_id
from ...report.report import Report
from ...report.styles import Marker, StyleSheet
from ...structure.markers import counted_as
from ...structure.outline import paragraphs_in
from ...structure.typed_captions import typed_caption
from ...structure.typed_numbers import counting, typed_number
from ..footnotes import note_of, refer, with_notes
from ..imported import FileRefused, Keep, Notes, Progress
from ..leads import resolved
from ..pictures import LONGEST_SIDE, NotAPicture, check, data_address, placed
from ..runs import join_runs, without_start
from . import css
from .footnotes import Footnotes, footnotes_of
from .links import addresses_within
from .tables import Table, is_data_table
from .tree import text_in

_BLOCKS = frozenset(
    [
        "address",
        "article",
        "aside",
        "blockquote",
        "body",
        "caption",
        "center",
        "dd",
        "details",
        "dialog",
        "dir",
        "div",
        "dl",
        "dt",
        "fieldset",
        "figcaption",
        "figure",
        "footer",
        "form",
        "h1",
        "h2",
        "h3",
        "h4",
        "h5",
        "h6",
        "header",
        "hgroup",
        "hr",
        "html",
        "legend",
        "li",
        "main",
        "menu",
        "nav",
        "ol",
        "p",
        "pre",
        "section",
        "summary",
        "table",
        "tbody",
        "td",
        "tfoot",
        "th",
        "thead",
        "tr",
        "ul",
    ]
)
_NOT_TEXT = {
    **dict.fromkeys(("script", "style", "template", "head", "title", "meta", "link", "xml"), ""),
    **dict.fromkeys(("iframe", "frameset", "object", "embed", "applet"), "page-within"),
    **dict.fromkeys(("input", "select", "textarea", "button", "datalist"), "form"),
    **dict.fromkeys(("svg", "canvas", "video", "audio"), "film"),
}
"""Tags whose contents are no text, and what is noted of them."""
_MARKS: Mapping[str, tuple[str, object]] = {
    **dict.fromkeys(("b", "strong"), ("bold", True)),
    **dict.fromkeys(("i", "em", "cite", "dfn", "var", "address"), ("italic", True)),
    **dict.fromkeys(("u", "ins"), ("underline", True)),
    **dict.fromkeys(("code", "tt", "kbd", "samp"), ("font", "Liberation Mono")),
    **dict.fromkeys(("del", "s", "strike"), ("strike", True)),
    "sub": ("script", "sub"),
    "sup": ("script", "super"),
    "mark": ("highlight", "#ffff00"),
}
_MARKERS: Mapping[str, Marker] = {
    "1": "decimal", "a": "lower-letter", "A": "upper-letter", "i": "lower-roman", "I": "upper-roman",
    "decimal": "decimal", "decimal-leading-zero": "decimal", "lower-alpha": "lower-letter", "lower-letter": "lower-letter", "lower-latin": "lower-letter",
    "upper-alpha": "upper-letter", "upper-letter": "upper-letter", "upper-latin": "upper-letter", "lower-roman": "lower-roman", "upper-roman": "upper-roman",
    "disc": "bullet", "circle": "bullet", "square": "bullet",
}  # fmt: skip
_LISTS: Mapping[Marker, str] = {
    "lower-letter": "Lettered list", "upper-letter": "List in capital letters",
    "lower-roman": "List in roman numerals", "upper-roman": "List in capital numerals",
}  # fmt: skip
"""What styles of lists are called that come with what is read."""
_QUOTES = {
    "en": "“”", "de": "„“", "cs": "„“", "da": "“”", "nl": "“”", "fi": "””", "sv": "””", "fr": "«»", "it": "«»", "es": "«»", "pt": "“”",
    "nb": "«»", "pl": "„”", "hu": "„”",
}  # fmt: skip
"""Quotation marks by language (CLDR, from memory); French spaces within them are left to whoever writes."""
_CLASS_HEADING = re.compile(r"msoheading([1-9])")
_LEVEL_OF_LIST = re.compile(r"\bl\d+ level([1-9])")
_IGNORED = (
    "[if !supportlists]",
    "[if !supportemptyparas]",
    "[if !supportlinebreaknewline]",
    "[if !supportmisalignedcolumns]",
)
"""Conditional comments around what only programs without such things are to see."""
_SPACE = re.compile(r"[ \t\n\r\f]+")
_DEFINED = 24.0
"""Points by which what defines a term stands in."""


_BREAKS = frozenset({"always", "page", "left", "right", "recto", "verso"})
"""What begins a page, where it stands before something."""


@dataclass(slots=True)
class _List:
    """A list that is open: the number of its item, and whether that still has no paragraph."""

    marker: Marker
    number: int
    fresh: bool = False


class _Around(NamedTuple):
    """What holds for words at a place."""

    marks: Marks
    base: str
    """The style of paragraphs that nothing else is said of."""
    style: str | None = None
    lists: tuple[_List, ...] = ()
    align: Align | None = None
    indent: float | None = None
    pre: bool = False
    size: float = 12.0
    is_block: bool = False


class _Piece(NamedTuple):
    text: str
    marks: Marks
    pre: bool


class Reader:
    """Reads one tree. ``keep`` and ``numbered`` (levels of headings that the report counts by itself) say what stays."""

    def __init__(
        self,
        report: Report,
        ids: Iterator[str],
        keep: Keep,
        numbered: Collection[int],
        given: Mapping[str, bytes],
        is_piece: bool = False,
    ) -> None:
        """``is_piece``: of a larger text, so that links may lead beyond it."""
        self.styles: StyleSheet = report.styles
        self.labels: Labels = report.labels
        self.ids, self.keep, self.numbered, self.given = ids, keep, numbered, given
        self._quotes = _QUOTES.get(report.page.language.split("-")[0], _QUOTES["en"])
        self.notes = Notes()
        self.led: set[str] = set()
        """Names that links lead to, in a piece of a larger text."""
        self._is_piece = is_piece
        self.pictures: dict[str, bytes] = {}
        self.elsewhere: list[str] = []
        """Addresses of pictures that are not fetched."""
        self._numbers: dict[str, int] = {}
        """What items of numbered lists are counted as, by id of the paragraph."""
        self.places: dict[str, str] = {}
        """Ids of paragraphs by the names that HTML gives to places in them."""
        self.waiting: list[str] = []
        self._into: list[Block] = []
        self._outside: list[list[Block]] = []
        """Where blocks were put before the note that is being read."""
        self._footnotes_made: dict[str, Paragraph] = {}
        self._note_ids: dict[_Element, str] = {}
        self._own_break: PageBreak | None = None
        """The last page break that was asked for by a paragraph."""
        """Where blocks are put: into the text itself, or into a cell of the table that is being read."""
        self._table: Table | None = None
        self._above: list[Image] = []
        self._below: list[Image] = []
        """Pictures that came among the words, which stand above the paragraph of these, or below."""
        self._pieces: list[_Piece] = []
        self._open: _Around | None = None
        self._item: tuple[Marker, int, int] | None = None
        """Of a list item of a word processor its marker, its level, and what it is counted as."""
        self._marker: list[str] | None = None
        """Words that stand in for a marker, while they last."""
        self._stack: list[_Around] = []

    def read(self, root: _Element, progress: Progress) -> None:
        self._rules = css.Rules(text_in(one) for one in root.iter("style"))
        self._inner = addresses_within(root)
        self._footnotes: Footnotes = footnotes_of(root, self._inner)
        self._wanted = {*self._inner.values()}
        body = self.styles.role("body").id
        self._stack = [_Around(PLAIN, body)]
        walk = etree.iterwalk(root, events=("start", "end", "comment"))
        total = sum(1 for _ in root.iter()) if root is not None else 0
        for done, (event, element) in enumerate(walk):
            if done % 1000 == 0:
                progress(min(done // 2, total), total)
            if event == "start":
                if self._start(element):
                    self._words(element.text)
                else:
                    walk.skip_subtree()
                continue
            if event == "end":
                self._end(element)
            else:
                self._comment(element.text or "")
            self._words(element.tail)
        self._flush()

    @property
    def blocks(self) -> tuple[Block, ...]:
        """What was read, with links to the ids of their places, and without the numbers that the report counts."""
        counted = [*counted_as([*with_notes(self._into, self._footnotes_made)], self.styles, self._numbers)]
        return resolved([*self._without_numbers(counted)], self.places, self.styles)

    # --- Tags ---

    def _start(self, element: _Element) -> bool:
        """Takes in the beginning of an element; whether what it holds is to be read."""
        around, tag = self._stack[-1], str(element.tag)
        self._stack.append(around._replace(is_block=False))
        said = self._rules.of(element)
        if element in self._footnotes.bodies:
            self._flush()
            if self._into and isinstance(self._into[-1], ThematicBreak):
                self._into.pop()  # the line between a text and its notes is the page's own
            self._outside.append(self._into)
            self._into = []
            style = self.styles.role("note").id
            self._stack[-1] = around._replace(base=style, style=None, lists=(), indent=None, is_block=True)
            return True
        if element in self._footnotes.backs:
            return False
        if tag in _NOT_TEXT:
            if note := _NOT_TEXT.get(tag):
                self.notes.add(note)
            return False
        if _is_hidden(element, said):
            if text_in(element).strip() or tag == "img":
                self.notes.add("hidden")
            return False
        if said.get("mso-list") == "ignore":
            self._marker_of(text_in(element))
            return False
        if tag == "math" and (mathml := formula(etree.tostring(element, encoding="unicode", with_tail=False))):
            self._piece(FORMULA, around._replace(marks=Marks(formula=mathml)), pre=True)
            return False
        if (body := self._footnotes.called.get(element)) is not None:
            self._piece(INLINE_OBJECT, around._replace(marks=refer(self._note_id(body)).marks), pre=True)
            return False
        self._note_places(element)
        is_block = tag in _BLOCKS or said.get("display") in ("block", "flex", "grid", "list-item", "table")
        if is_block:
            self._flush()
            if tag not in ("html", "body", "br") and _begins_page(said):
                self._break(tag == "p" or _level_of(element, tag) is not None)
        now = self._looked(element, said, around, tag)._replace(is_block=is_block)
        match tag:
            case "br":
                if _begins_page(said):
                    self._flush()
                    self._break()
                else:
                    self._piece("\n", now, pre=True)
            case "hr" if self._table:
                self.notes.add("rule")
            case "hr":
                self._into.append(ThematicBreak(next(self.ids)))
            case "img":
                self._picture(element, now)
            case "ul" | "ol" | "menu" | "dir":
                now = now._replace(lists=(*around.lists, self._list(element, said)), style=None, indent=None)
            case "li":
                now = self._list_item(element, said, now)
            case "blockquote":
                if not now.lists and now.style is None:
                    now = now._replace(base=self.styles.role("quotation").id)
            case "q":
                self._words(self._quotes[0], now)
            case "dt":
                now = now._replace(marks=replace(now.marks, bold=True))
            case "dd":
                now = now._replace(indent=(around.indent or 0) + _DEFINED)
            case "table" if is_data_table(element):
                self._table = Table(element, self._rules.of(element), self._into)
            case "caption" | "figcaption":
                now = now._replace(style=self.styles.role("caption").id, lists=())
            case "col" if self._table:
                self._table.column(element, self._rules.of(element))
            case "tr" if self._table:
                self._table.row(element)
            case "td" | "th" if self._table and self._table.cell is None:
                self._table.begin_cell(element, self._rules.of(element), self.keep == "looks")
                self._into = []
                marks = replace(now.marks, bold=None) if tag == "th" and self.keep == "structure" else now.marks
                now = now._replace(base=self.styles.role("cell").id, style=None, lists=(), indent=None, marks=marks)
        self._stack[-1] = now
        return True

    def _end(self, element: _Element) -> None:
        now = self._stack.pop()
        tag = str(element.tag)
        if now.is_block:
            self._flush()
        if element in self._footnotes.bodies:
            self._end_note(element)
            return
        match tag:
            case "q":
                self._words(self._quotes[1], now)
            case "td" | "th" if self._table and self._table.cell is element:
                self._table.end_cell(self._into, Paragraph(next(self.ids), now.base), self.notes)
                self._into = self._table.around
            case "table" if self._table and self._table.element is element:
                self._into.extend(self._table.blocks(next(self.ids)))
                self._table = None
        if self._item and now.is_block and not self._pieces:
            self._item = None

    def _end_note(self, element: _Element) -> None:
        blocks, self._into = self._into, self._outside.pop()
        paragraphs = [paragraph for block in blocks for paragraph, _ in paragraphs_in(block)]
        if not all(isinstance(block, Paragraph) for block in blocks):
            self.notes.add("note-content")
        id = self._note_id(element)
        self._footnotes_made[id] = note_of(id, self.styles.role("note").id, "foot", paragraphs)

    def _note_id(self, body: _Element) -> str:
        if body not in self._note_ids:
            self._note_ids[body] = next(self.ids)
        return self._note_ids[body]

    def _comment(self, text: str) -> None:
        said = text.strip().lower()
        if said.startswith(_IGNORED):
            self._marker = []
        elif said == "[endif]" and self._marker is not None:
            words, self._marker = "".join(self._marker), None
            self._marker_of(words)

    def _looked(self, element: _Element, said: css.Declared, around: _Around, tag: str) -> _Around:
        """What holds for the words in an element."""
        marks, size = around.marks, None
        if tag in _MARKS and not (_MARKS[tag][0] == "font" and around.style == self.styles.role("code").id):
            marks = _marked(marks, *_MARKS[tag])
        if tag == "a":
            marks = self._linked(element, marks)
        if said or tag == "font":
            marks, size = self._declared(element, said, marks, around, tag)
        now = around if marks is around.marks and not size else around._replace(marks=marks, size=size or around.size)
        if tag in _BLOCKS:
            now = self._paragraph_of(element, said, now, tag)
        if tag in ("pre", "listing", "xmp") or said.get("white-space", "").startswith(("pre", "break-spaces")):
            now = now._replace(pre=True)
        elif said.get("white-space") in ("normal", "nowrap"):
            now = now._replace(pre=False)
        return now

    def _declared(
        self, element: _Element, said: css.Declared, marks: Marks, around: _Around, tag: str
    ) -> tuple[Marks, float | None]:
        """The marks of words of which something is declared, and their size in points if that is among it."""
        if (bold := css.is_bold(said.get("font-weight", ""))) is not None:
            marks = _marked(marks, "bold", bold or None)
        if slant := said.get("font-style"):
            marks = _marked(marks, "italic", slant.startswith(("italic", "oblique")) or None)
        if line := said.get("text-decoration-line", said.get("text-decoration", "")):
            for name, word in (("underline", "underline"), ("strike", "line-through")):
                marks = _marked(marks, name, word in line or (getattr(marks, name) and "none" not in line))
        if (raised := said.get("vertical-align")) in ("super", "sub"):
            marks = _marked(marks, "script", raised)
        of_font = {name: element.get(name) or "" if tag == "font" else "" for name in ("face", "size", "color")}
        asked = said.get("font-family") or of_font["face"]
        size = css.letter_size(said.get("font-size", ""), around.size) or css.size_of_font(of_font["size"])
        if asked and css.is_monospace(asked):
            marks = _marked(marks, "font", "Liberation Mono")
        if self.keep == "looks":
            if asked and (face := css.face(asked)):
                marks = _marked(marks, "font", face)
            if size:
                marks = _marked(marks, "size", size)
            if not marks.link and (found := css.colour(said.get("color") or of_font["color"])):
                marks = _marked(marks, "colour", found)
            if capitals := css.capitals(said):
                marks = _marked(marks, "capitals", None if capitals == "none" else capitals)
            behind = said.get("background-color") or said.get("background", "")
            if tag not in _BLOCKS and (found := css.colour(behind)) and found != "#ffffff":
                marks = _marked(marks, "highlight", found)
        return marks, size

    def _paragraph_of(self, element: _Element, said: css.Declared, now: _Around, tag: str) -> _Around:
        """What paragraphs in a block are, and how they stand."""
        align = said.get("text-align", (element.get("align") or "").lower())
        if align in ("start", "end"):
            align = "left" if align == "start" else "right"
        if align in ALIGNMENTS and (self.keep == "looks" or tag in ("td", "th") or self._table):
            now = now._replace(align=None if align == "left" else align)
        if tag == "center" and self.keep == "looks":
            now = now._replace(align="center")
        level = _level_of(element, tag)
        classes = (element.get("class") or "").lower()
        if level:
            return now._replace(style=self.styles.heading(level).id, lists=())
        for name, role in (("msotitle", "title"), ("msosubtitle", "subtitle"), ("msocaption", "caption")):
            if name in classes:
                return now._replace(style=self.styles.role(role).id, lists=())  # type: ignore[arg-type]  # each is a role
        if tag == "pre":
            return now._replace(style=self.styles.role("code").id, marks=replace(now.marks, font=None))
        if classes.startswith(("msoquote", "msointensequote")):
            return now._replace(base=self.styles.role("quotation").id)
        if tag in ("p", "div") and (found := _LEVEL_OF_LIST.search(said.get("mso-list", ""))):
            self._item = "bullet", int(found[1]), 0
        if classes.startswith("msotoc") and classes[6:7].isdigit():
            self.notes.add("toc-line")
        return now

    # --- Lists ---

    def _list(self, element: _Element, said: css.Declared) -> _List:
        numbered = element.tag == "ol"
        kind = said.get("list-style-type") or said.get("list-style", "").split(" ")[0] or element.get("type") or ""
        marker = _MARKERS.get(kind) or _MARKERS.get(kind.lower()) or ("decimal" if numbered else "bullet")
        start = element.get("start") or ""
        return _List(marker, int(start) - 1 if re.fullmatch(r"\d{1,9}", start) else 0)

    def _list_item(self, element: _Element, said: css.Declared, now: _Around) -> _Around:
        if not now.lists:
            now = now._replace(lists=(_List("bullet", 0),))
        item = now.lists[-1]
        if kind := _MARKERS.get(said.get("list-style-type", "")):
            item.marker = kind
        value = element.get("value") or ""
        item.number = int(value) if re.fullmatch(r"\d{1,9}", value) else item.number + 1
        item.fresh = True
        return now

    def _marker_of(self, words: str) -> None:
        """Takes what stands in for a marker of a list item, such as “1.” or “·”. One of a heading goes: the report counts it."""
        if self._item is None or not words.strip():
            return
        _, level, _ = self._item
        typed = typed_number(words.strip() + " ")
        if typed is None:
            self._item = "bullet", level, 0
            return
        case = "upper" if typed.label.strip("(.)")[-1:].isupper() else "lower"
        self._item = _MARKERS["decimal" if typed.form == "decimal" else f"{case}-{typed.form}"], level, typed.value

    # --- Words ---

    def _words(self, text: str | None, around: _Around | None = None) -> None:
        if not text:
            return
        if self._marker is not None:
            self._marker.append(text)
            return
        now = around or self._stack[-1]
        if now.pre and now.style == self.styles.role("code").id:
            first, *rest = text.split("\n")
            self._piece(first, now, pre=True)
            for line in rest:
                self._flush(line_of_code=now)
                self._piece(line, now, pre=True)
            return
        self._piece(text, now, now.pre)

    def _piece(self, text: str, around: _Around, pre: bool) -> None:
        if not text:
            return
        if self._open is None:
            if not pre and not text.strip(" \t\n\r\f"):
                return
            self._open = around
        self._pieces.append(_Piece(text, around.marks, pre))

    def _flush(self, line_of_code: _Around | None = None) -> None:
        """Makes a paragraph of the words that have come, and puts the pictures among them behind it; in front those beside which it
        stands, and those in front of which there are no words."""
        around, self._open = self._open or line_of_code, None
        pieces, self._pieces = self._pieces, []
        above, self._above, below, self._below = self._above, [], self._below, []
        self._into.extend(above)
        if around is not None:
            # A line break behind a picture that stands above is done with.
            runs = _collapsed([*dropwhile(lambda piece: not piece.text.strip(), pieces)] if above else pieces)
            if line_of_code or any(run.text.strip("\n ") for run in runs):
                for part in _parted(runs) if around.style is None else (runs,):
                    made = self._paragraph(part, around)
                    if self._own_break is not None and self._into[-1:] == [self._own_break]:
                        self._into[-1:] = [replace(made, new_page=True)]
                    else:
                        self._into.append(made)
        self._into.extend(below)

    def _paragraph(self, runs: tuple[Run, ...], around: _Around) -> Paragraph:
        made = Paragraph(next(self.ids), around.style or around.base, runs, around.align)
        for name in self.waiting:
            self.places.setdefault(name, made.id)
        self.waiting = []
        caption, code = self.styles.role("caption").id, self.styles.role("code").id
        if made.style == caption and (typed := typed_caption(made.text, self.labels)):
            return replace(made, runs=without_start(runs, typed.end), caption=typed.label)
        if made.style == code:
            return replace(made, space_after=0)
        if self.keep == "structure" and made.style in self.styles.levels:
            plain = [replace(run, marks=_marked(run.marks, "bold", None)) for run in runs]
            return replace(made, runs=join_runs(plain))
        if around.style is not None:
            return made
        if self._item:
            (marker, level, number), self._item = self._item, None
            if marker != "bullet":
                self._numbers[made.id] = number
            return replace(made, style=self._item_style(marker, level))
        if around.lists:
            item = around.lists[-1]
            made = replace(made, style=self._item_style(item.marker, len(around.lists)))
            if not item.fresh:
                return replace(made, number="none")
            item.fresh = False
            if item.marker != "bullet":
                self._numbers[made.id] = item.number
            return made
        return replace(made, indent=around.indent) if around.indent else made

    def _item_style(self, marker: Marker, level: int) -> str:
        """The style of list items with a marker; one of its own is made where the report has none."""
        plain = self.styles.item("decimal", level)
        style = self.styles.item(marker, level)
        if marker not in _LISTS or (style.marker, style.list_level) == (marker, plain.list_level):
            return style.id
        name = f"{_LISTS[marker]} {plain.list_level or 1}"
        id = free_id(name, self.styles, "list", 50)
        made = replace(plain, id=id, name=name, role=None, marker=marker, marker_text="", next=id)
        self.styles = StyleSheet([*self.styles.values(), made])
        return id

    def _break(self, of_paragraph: bool = False) -> None:
        """Begins a page. ``of_paragraph``: it is asked for by a paragraph, whose setting it will be, once that has words."""
        if not self._table and self._into:
            made = PageBreak(next(self.ids))
            self._into.append(made)
            self._own_break = made if of_paragraph else None

    # --- Links and pictures ---

    def _note_places(self, element: _Element) -> None:
        for name in (element.get("id"), element.get("name") if element.tag == "a" else None):
            if name and (self._is_piece or name in self._wanted):
                self.waiting.append(name)

    def _linked(self, element: _Element, marks: Marks) -> Marks:
        address = element.get("href")
        if not address:
            return marks
        if self._is_piece and len(address) > 1 and address[0] == "#":
            self.led.add(unquote(address[1:]))
            return replace(marks, link=f"#{unquote(address[1:])}")
        if element in self._inner:
            return replace(marks, link=f"#{self._inner[element]}")
        link = None if address.startswith("#") else safe_link(address)
        if link is None:
            self.notes.add("link-nowhere")
        return replace(marks, link=link)

    def _picture(self, element: _Element, around: _Around) -> None:
        address = element.get("src") or ""
        said = self._rules.of(element)
        width, height = (_side(element.get(side), said.get(side, "")) for side in ("width", "height"))
        if 0 < (width or 9) <= 1.5 and 0 < (height or 9) <= 1.5:
            self.notes.add("counting-picture")
            return
        words = " ".join((element.get("alt") or "").split())
        try:
            data = self.given.get(unquote(address)) or data_address(address)
        except FileRefused:  # of a picture that is cut off its words stay, and all around it
            data = b""
        if data is None:
            if re.match(r"(?:https?:)?//", address):
                self.elsewhere.append(address)
            else:
                self.notes.add("picture-absent")
        else:
            try:
                source, kept, *pixels, _ = check(data, LONGEST_SIDE)
            except NotAPicture as fault:
                self.notes.add(fault.kind)
            else:
                self.pictures[source] = kept
                size = (width, height) if width and height else None
                image = placed(next(self.ids), source, pixels[0], pixels[1], words, size)
                if self._table:
                    image = replace(image, align=around.align or "left")
                elif side := self._side_of(element):
                    image = replace(image, align=side, beside=True)
                first = not any(piece.text.strip() for piece in self._pieces)
                (self._above if first or image.beside else self._below).append(image)
                self._open = self._open or around
                return
        if words:
            self._words(f"[{words}]", around)

    def _side_of(self, element: _Element) -> Literal["left", "right"] | None:
        """The side at which a picture, or its figure, floats (CSS 2.1, 9.5.1; HTML, 15.4.3: ``align`` of images)."""
        figure = next(element.iterancestors("figure"), None)
        said = [self._rules.of(one).get("float") for one in (element, figure) if one is not None]
        for side in (*said, (element.get("align") or "").lower()):
            if side in ("left", "right"):
                return "left" if side == "left" else "right"
        return None

    # --- Afterwards ---

    def _without_numbers(self, blocks: list[Block]) -> Iterator[Block]:
        """The blocks without numbers typed in front of headings whose level the report counts."""
        levels = self.styles.levels
        typed = [
            (block.id, found)
            for block in blocks
            if isinstance(block, Paragraph)
            and levels.get(block.style) in self.numbered
            and (found := typed_number(block.text))
            and found.end < len(block.text)
        ]
        ends = {id: found.end for id, found in typed}
        # Behind a point, or a bracket, there is no doubt; else they have to count on from each other, unlike "1984 and after".
        counted = {id for id, found in typed if found.label.endswith((".", ")"))}
        counted |= {id for ids in counting(typed).values() for id in ids}
        for block in blocks:
            if isinstance(block, Paragraph) and block.id in counted:
                block = replace(block, runs=without_start(block.runs, ends[block.id]))
            yield block


@lru_cache(maxsize=4096)
def _marked(marks: Marks, name: str, value: object) -> Marks:
    """The marks with another value for one of them."""
    return replace(marks, **{name: value})  # type: ignore[arg-type]  # each value is one of its field


def _is_hidden(element: _Element, said: css.Declared) -> bool:
    return (
        element.get("hidden") is not None
        or said.get("display") == "none"
        or said.get("visibility") in ("hidden", "collapse")
        or said.get("mso-hide") == "all"
        or (said.get("font-size") in ("0", "0px", "0pt") and element.tag != "img")
    )


def _begins_page(said: css.Declared) -> bool:
    """CSS Fragmentation 3, 3.1, and its older name."""
    return any(said.get(name) in _BREAKS for name in ("break-before", "page-break-before"))


def _level_of(element: _Element, tag: str) -> int | None:
    """The level of a heading, by its tag, by what it says to those who hear it, or by its class."""
    if element.get("role") == "heading" or re.fullmatch(r"h[1-6]", tag):
        said = element.get("aria-level") or tag[1:]
        return min(int(said), 9) if re.fullmatch(r"[1-9]\d?", said) else 2
    found = _CLASS_HEADING.search((element.get("class") or "").lower())
    return int(found[1]) if found else None


def _side(attribute: str | None, said: str) -> float | None:
    """A side of a picture in points."""
    if found := css.points(said):
        return found
    return float(attribute) * 0.75 if attribute and re.fullmatch(r"\d{1,5}(?:\.\d+)?", attribute) else None


def _collapsed(pieces: list[_Piece]) -> tuple[Run, ...]:
    """Words with white space as it is shown (CSS Text 3, 4.1): runs of it are one space, and none stands at an end."""
    runs: list[Run] = []
    last = "\n"
    for text, marks, pre in pieces:
        if not pre:
            text = _SPACE.sub(" ", text)
            if last in " \n":
                text = text.removeprefix(" ")
        elif text == "\n" and runs and last == " ":
            runs[-1] = replace(runs[-1], text=runs[-1].text.rstrip(" "))
        if text:
            last = text[-1]
            runs.append(Run(text, marks))
    if pieces and pieces[-1].pre and pieces[-1].text != "\n":
        return join_runs(runs)
    while runs and not (text := runs[-1].text.rstrip(" \n")):
        runs.pop()
    if runs:
        runs[-1] = replace(runs[-1], text=text)
    return join_runs(runs)


def _parted(runs: tuple[Run, ...]) -> Iterator[tuple[Run, ...]]:
    """The paragraphs of some words: an empty line, as mail has it, parts them."""
    part: list[Run] = []
    for run in runs:
        first, *rest = re.split(r"\n[ \u00a0]*\n\s*", run.text)
        part.append(replace(run, text=first))
        for text in rest:
            yield join_runs(part)
            part = [replace(run, text=text)]
    yield join_runs(part)
