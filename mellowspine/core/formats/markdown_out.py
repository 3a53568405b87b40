"""Writes Markdown after CommonMark, with tables; read back, headings, lists, tables and links are the same.

Pictures that are given stand in the text as ``data:`` addresses (RFC 2397); others are named by their source, to lie beside
the file. What Markdown has no words for (styles that are no role,
page breaks, alignment) is left out.
"""

from __future__ import annotations

import re
from base64 import b64encode
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from functools import singledispatch
from itertools import groupby
from typing import NamedTuple

from ..pages.as_set import blocks_as_set
from ..report.blocks import (
    Block,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Run,
    ThematicBreak,
)
from ..report.grids import all_columns
from ..report.links import inner
from ..report.report import Report
from ..report.styles import Style
from ..structure.markers import list_markers
from .footnotes import without_sign
from .front_matter import front_matter
from .walk import Written, plain_words, slugs_of

DEEPEST = 6
"""Levels that headings have in Markdown; deeper ones are written as this."""

_SPECIAL = re.compile(r"[\\`*_\[\]<>&#|~]|!$")
_ADDRESS = re.compile(r"(?<=www)\.|(?<=http|ttps|ilto|xmpp):|(?<=\w)@(?=\w)", re.IGNORECASE)
"""Where a bare address would become a link (GFM 0.29, 6.9)."""
_BOXES = {"☐ ": "[ ] ", "☒ ": "[x] "}
"""Boxes of tasks, as a list has them (GFM 0.29, 5.3)."""
_AT_START = re.compile(r"^(\s*)([-+=:]|\d{1,9}[.)])", re.MULTILINE)


def write(given: Written) -> bytes:
    report = replace(given.report, blocks=blocks_as_set(given.pages.report))
    # Links within a file go by the words of headings; no other place has an address in Markdown.
    headings = [one for one in given.pages.worded if given.only is None or one.block in given.only]
    slugs = dict(zip((one.id for one in headings), slugs_of(one.text for one in headings), strict=True))
    labels = {note.id: str(number) for number, note in enumerate(given.pages.footnotes, 1)}
    on = _On(report, list_markers(report), given.pictures, slugs, labels)
    pieces: list[_Piece] = []
    notes: list[_Piece] = []
    """They stand at the end: between the items of a list they would part it."""
    for done, (at, _) in enumerate(given.blocks):
        if done % 500 == 0:
            given.progress(at, len(report.blocks))
        block = report.blocks[at]
        (notes if block.id in labels else pieces).append(_piece(block, on))
    parts = (
        _joined(kind, [piece for piece in group if piece.text or kind == "code"])
        for kind, group in groupby(_with_captions(pieces), lambda piece: piece.kind)
    )
    text = "\n\n".join([part for part in parts if part] + [note.text for note in notes]) + "\n"
    front = front_matter(report.title, report.page.language, given.about) if given.only is None else ""
    return (front + text).encode()


class _On(NamedTuple):
    report: Report
    markers: Mapping[str, str]
    pictures: Mapping[str, bytes]
    slugs: Mapping[str, str]
    labels: Mapping[str, str]
    """What each note is called: it is counted through the report, however signs are."""


class _Piece(NamedTuple):
    """What a block becomes. Neighbours of one kind are written together."""

    kind: str
    text: str
    item: tuple[str, int] = ("", 0)
    """As an item of a list: its marker and its level."""


def _joined(kind: str, pieces: Sequence[_Piece]) -> str:
    texts = [piece.text for piece in pieces]
    match kind:
        case "list":
            return "\n".join(_items(pieces))
        case "quotation":
            return "\n>\n".join("> " + text.replace("\n", "\n> ") for text in texts)
        case "code":
            fence = "`" * max(3, 1 + max((len(run) for text in texts for run in re.findall("`+", text)), default=0))
            return "\n".join((fence, *texts, fence))
        case _:
            return "\n\n".join(texts)


def _items(pieces: Sequence[_Piece]) -> Iterator[str]:
    """The lines of a list. A level that was skipped is an item without words around the deeper one."""
    open_markers: list[str] = []
    for text, (marker, level) in ((piece.text, piece.item) for piece in pieces):
        del open_markers[level:]
        if not marker and len(open_markers) == level:
            inner = " " * sum(len(one) + 1 for one in open_markers)
            yield f"\n{inner}" + text.replace("\n", "\n" + inner)
            continue
        marker = marker or "-"
        missing = level - 1 - len(open_markers)
        indent = " " * sum(len(one) + 1 for one in open_markers[: level - 1])
        if missing > 0:
            open_markers += ["-"] * missing
            indent += "- " * missing
        del open_markers[level - 1 :]
        open_markers.append(marker)
        inner = " " * sum(len(one) + 1 for one in open_markers)
        box = _BOXES.get(text[:2], "")
        yield f"{indent}{marker} {box}" + text[2 * bool(box) :].replace("\n", "\n" + inner)


def _with_captions(pieces: Sequence[_Piece]) -> Iterator[_Piece]:
    """Pictures with the caption that follows as their title."""
    waiting: _Piece | None = None
    for piece in pieces:
        if waiting and piece.kind == "caption" and piece.text:
            title = piece.text.replace("\n", " ").replace('"', '\\"')
            yield _Piece("picture", f'{waiting.text[:-1]} "{title}")')
            waiting = None
            continue
        if waiting:
            yield waiting
        waiting = piece if piece.kind == "picture" else None
        if not waiting:
            yield piece
    if waiting:
        yield waiting


@singledispatch
def _piece(block: Block, on: _On) -> _Piece:
    return _Piece("text", _escaped(plain_words(block)))


@_piece.register
def _(block: Paragraph, on: _On) -> _Piece:
    style = on.report.styles[block.style]
    if label := on.labels.get(block.id):
        words = _AT_START.sub(_kept_as_text, _words(without_sign(block).runs, on))
        return _Piece("note", f"[^{label}]: " + words.replace("\n", "\n    "))
    if style.role == "code":
        return _Piece("code", block.text)
    if style.outline_level:
        words = _words(block.runs, on).replace("\\\n", " ").strip()
        return _Piece("text", f"{'#' * min(style.outline_level, DEEPEST)} {words}" if words else "")
    words = _AT_START.sub(_kept_as_text, _words(block.runs, on))
    if style.marker and style.list_level:
        marker = "" if block.number == "none" else _list_marker(style, on.markers.get(block.id, ""))
        return _Piece("list", words, (marker, style.list_level))
    return _Piece({"quotation": "quotation", "caption": "caption"}.get(style.role or "", "text"), words)


def _list_marker(style: Style, printed: str) -> str:
    return "-" if style.marker == "bullet" else f"{printed.rstrip('.') if printed.rstrip('.').isdigit() else 1}."


def _kept_as_text(found: re.Match[str]) -> str:
    """What would begin a list, a heading or a table is kept as text."""
    return f"{found[1]}{found[2][:-1]}\\{found[2][-1]}"


@_piece.register
def _(block: Image, on: _On) -> _Piece:
    return _Piece("picture", _image(block, on))


def _image(block: Image, on: _On) -> str:
    data, address = on.pictures.get(block.source), block.source
    if data is not None:
        kind = block.source.rpartition(".")[2].replace("jpg", "jpeg")
        address = f"data:image/{kind};base64,{b64encode(data).decode()}"
    return f"![{_escaped(' '.join(block.alt.split()))}]({address})"


@_piece.register
def _(block: DataTable, on: _On) -> _Piece:
    """The first row is the header, since a table of Markdown has one; what a cell reaches over besides its first place is
    empty."""
    rows = [[_cell(cell, on) if cell else "" for cell in row] for row in all_columns(block.rows)]
    if not rows or not rows[0]:
        return _Piece("text", "")
    lines = [f"| {' | '.join(row)} |" for row in rows]
    lines.insert(1, "|" + " --- |" * len(rows[0]))
    return _Piece("text", "\n".join(lines))


def _cell(cell: Cell, on: _On) -> str:
    return " ".join(
        _image(one, on) if isinstance(one, Image) else _words(one.runs, on).replace("\\\n", " ") for one in cell.blocks
    ).strip()


@_piece.register
def _(block: ThematicBreak, on: _On) -> _Piece:
    return _Piece("break", "---")


@_piece.register
def _(block: PageBreak | PartStart, on: _On) -> _Piece:
    return _Piece("break", "")


@_piece.register
def _(block: PlacedTable, on: _On) -> _Piece:
    issued = on.report.tables.get(block.table)
    if issued is None or not issued.lines:
        return _Piece("text", "")
    lines = [_Piece("list", _escaped(f"{line.number} {line.text}".strip()), ("-", line.level)) for line in issued.lines]
    title = f"**{_escaped(issued.recipe.title)}**\n\n" if issued.recipe.title else ""
    return _Piece("text", title + "\n".join(_items(lines)))


# --- Words ---


def _escaped(text: str) -> str:
    return _ADDRESS.sub(lambda found: "\\" + found[0], _SPECIAL.sub(lambda found: "\\" + found[0], text))


def _words(runs: Sequence[Run], on: _On) -> str:
    """Words with bold, italic and links; line breaks as a backslash at the end of a line."""
    links = [
        (link, "".join(_emphasised(list(group))))
        for link, group in groupby(_plain(runs, on), lambda run: run.marks.link)
    ]
    text = "".join(_linked(link, words) for link, words in links)
    lines = [line.strip() for line in text.strip().split("\n")]
    return "\\\n".join(line for line in lines if line)


def _linked(link: str | None, words: str) -> str:
    if link is None:
        return words
    return f"[{link}]" if link.startswith("^") else f"[{words}](<{_address(link)}>)"


def _link(run: Run, on: _On) -> str | None:
    """The address that a run leads to, that of a heading by its words, of a note "^" and what it is called; None if it leads
    nowhere that has one."""
    reference = run.marks.reference
    if reference and reference.shows == "note":
        return f"^{on.labels[reference.to]}" if reference.to in on.labels else None
    place = reference.to if reference else inner(run.marks.link)
    if place is None:
        return run.marks.link
    return f"#{on.slugs[place]}" if place in on.slugs else None


def _plain(runs: Sequence[Run], on: _On) -> Iterator[Run]:
    """The runs with what Markdown can say of them; links without words are none."""
    for link, group in groupby((run for run in runs if run.text), lambda run: _link(run, on)):
        parts = list(group)
        words = any(run.text.strip() for run in parts)
        for run in parts:
            given = run.marks
            marks = Marks(
                given.bold or None,
                given.italic or None,
                strike=given.strike,
                script=given.script,
                highlight=given.highlight and "yes",
                link=link if words else None,
            )
            yield Run(run.text.replace("\r", " ").replace("\t", " "), marks)


def _address(link: str) -> str:
    return link.replace("\\", "%5C").replace("<", "%3C").replace(">", "%3E").replace("\n", "")


_SCRIPTS = {"super": "sup", "sub": "sub"}
"""Tags for what Markdown has no sign for."""


def _emphasised(runs: Sequence[Run]) -> Iterator[str]:
    """Runs with asterisks around them, where asterisks mean that (CommonMark 0.31, 6.2: left- and right-flanking)."""
    joined = [
        (marks, "".join(run.text for run in group))
        for marks, group in groupby(runs, lambda run: replace(run.marks, link=None))
    ]
    starred = False  # the words before end in asterisks
    for index, (marks, text) in enumerate(joined):
        words = text.strip()
        sign = "*" * (2 * bool(marks.bold) + bool(marks.italic))
        front, end = text[: len(text) - len(text.lstrip())], text[len(text.rstrip()) :]
        before = front or (joined[index - 1][1][-1] if index else "")
        after = end or (joined[index + 1][1][0] if index + 1 < len(joined) else "")
        can = sign and words and "\n" not in words and not (starred and not front) and _flanks(words, before, after)
        starred = bool(can) and not end
        made = f"{sign}{_escaped(words)}{sign}" if can else _escaped(words)
        tags = [
            tag
            for tag, has in (
                ("s", marks.strike),
                ("mark", marks.highlight),
                (_SCRIPTS.get(marks.script or ""), marks.script),
            )
            if has
        ]
        if words:
            made = "".join(f"<{tag}>" for tag in tags) + made + "".join(f"</{tag}>" for tag in reversed(tags))
        yield f"{front}{made}{end}" if words else _escaped(text)


def _flanks(words: str, before: str, after: str) -> bool:
    """Whether asterisks around words open and close: words and digits on the inside, or nothing but space outside."""
    first, last = words[0].isalnum(), words[-1].isalnum()
    return (first or not before.strip()) and (last or not after.strip())
