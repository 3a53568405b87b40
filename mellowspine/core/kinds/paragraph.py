"""A paragraph: words in a style. Headings, list items and captions are paragraphs as well."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any, get_args

from ..pages.as_set import as_set
from ..pages.beside import going_on, narrowed, parted
from ..pages.boxes import Box, behind, gap, measure
from ..pages.draw import Drawing, Mark, draw, draw_lines
from ..pages.fill import Placed
from ..pages.frames import Frame, draw_frame, frame_of, is_close
from ..pages.lines import Lines, break_lines, set_style
from ..pages.typefaces import Typefaces
from ..report.blocks import (
    ALIGNMENTS,
    FONT_NAME,
    INLINE_OBJECT,
    MOST_CHARACTERS,
    NOTE_KINDS,
    PLAIN,
    SHOWS,
    Bookmark,
    Capitals,
    Citation,
    Entry,
    Indexed,
    Marks,
    Paragraph,
    Reference,
    Run,
    Script,
)
from ..report.elements import (
    Content,
    Element,
    Field,
    Kind,
    Read,
    Shape,
    Words,
    add_kind,
    add_mark,
    add_shape,
    background,
    borders,
    flag,
    identifier,
    number,
    of_form,
    one_of,
    short,
    whole,
)
from ..report.formulas import FORMULA, formula
from ..report.index import MOST_ENTRIES, terms_of
from ..report.labels import known_label
from ..report.links import safe_link
from ..report.report import Beside, Report
from ..report.styles import LEVELS
from ..report.tab_stops import FORM as TAB_STOPS

_BREAK, _REFERENCE, _FORMULA = "hardBreak", "reference", "formula"
_ATOMS = (_BREAK, _REFERENCE, _FORMULA)
"""Elements among the words. Each is exactly one character of the paragraph's text."""
_LINES = re.compile("(\n)")

_NAME, _SAID = short(80), short(200)

_COLOUR = re.compile(r"#[0-9a-f]{6}")


_colour, _tab_stops = of_form(_COLOUR), of_form(TAB_STOPS)


def _yes(value: Any) -> bool | None:
    return True if value is True else None


_TYPEFACE: Mapping[str, Read] = {
    "font": of_form(FONT_NAME),
    "size": number(1, 400),
    "colour": _colour,
    "strike": _yes,
    "capitals": one_of(*get_args(Capitals)),
    "script": one_of(*get_args(Script)),
    "highlight": _colour,
}


def _read_marks(given: Mapping[str, Any]) -> Marks:
    typeface, link = given.get("typeface"), given.get("link")
    look = {name: read(typeface.get(name)) for name, read in _TYPEFACE.items()} if isinstance(typeface, dict) else {}
    look["strike"] = bool(look.get("strike"))
    address = link.get("href") if isinstance(link, dict) else None
    return Marks(
        _switched(given, "bold"),
        _switched(given, "italic"),
        "underline" in given,
        link=safe_link(address) if isinstance(address, str) else None,
        bookmark=_read_bookmark(given.get("bookmark")),
        citation=_read_citation(given.get("citation")),
        indexed=_read_indexed(given.get("indexed")),
        **look,
    )


def _read_bookmark(given: Any) -> Bookmark | None:
    if not isinstance(given, dict):
        return None
    id, name = identifier(given.get("id")), _NAME(given.get("name"))
    return Bookmark(id, name or id) if id else None


def _read_citation(given: Any) -> Citation | None:
    if not isinstance(given, dict):
        return None
    id, of = identifier(given.get("id")), identifier(given.get("of"))
    return Citation(id, of) if id and of else None


def _read_indexed(given: Any) -> Indexed | None:
    if not isinstance(given, dict):
        return None
    id, entries = identifier(given.get("id")), _read_entries(given.get("entries"))
    return Indexed(id, entries) if id and entries else None


def _read_entries(given: Any) -> tuple[Entry, ...] | None:
    """``[[term, …], main]`` for each."""
    if not isinstance(given, list) or not 1 <= len(given) <= MOST_ENTRIES:
        return None
    found = [
        Entry(terms, one[1] is True)
        if isinstance(one, list) and len(one) == 2 and (terms := terms_of(one[0]))
        else None
        for one in given
    ]
    return tuple(one for one in found if one) if all(found) else None


def _read_reference(given: Mapping[str, Any]) -> Reference | None:
    to = identifier(given.get("to"))
    return Reference(to, one_of(*SHOWS)(given.get("shows")) or "label", _SAID(given.get("said")) or "") if to else None


def _switched(given: Mapping[str, Any], name: str) -> bool | None:
    """Bold and italic say ``{"off": true}`` where they take away what the style gives."""
    value = given.get(name)
    return not value.get("off") if isinstance(value, dict) else None


def _write_marks(marks: Marks) -> dict[str, Any]:
    result: dict[str, Any] = {"underline": {}} if marks.underline else {}
    result |= {name: {"off": not value} for name in ("bold", "italic") if (value := getattr(marks, name)) is not None}
    typeface = {name: getattr(marks, name) or None for name in _TYPEFACE}
    if any(value is not None for value in typeface.values()):
        result["typeface"] = typeface
    if marks.link:
        result["link"] = {"href": marks.link}
    if marks.bookmark:
        result["bookmark"] = marks.bookmark._asdict()
    if marks.citation:
        result["citation"] = marks.citation._asdict()
    if marks.indexed:
        entries = [[[*terms], main] for terms, main in marks.indexed.entries]
        result["indexed"] = {"id": marks.indexed.id, "entries": entries}
    return result


def _read_runs(children: Sequence[Element | Words], id: str) -> tuple[Run, ...]:
    runs: list[Run] = []
    for child in children:
        if isinstance(child, Words):
            runs.append(Run(child.text, _read_marks(child.attributes) if child.attributes else PLAIN))
        elif child.tag == _BREAK:
            runs.append(Run("\n", replace(runs[-1].marks, reference=None, formula=None) if runs else PLAIN))
        elif child.tag == _REFERENCE and (reference := _read_reference(child.attributes)):
            runs.append(Run(INLINE_OBJECT, Marks(reference=reference)))
        elif child.tag == _FORMULA and (said := formula(child.attributes.get("mathml"))):
            runs.append(Run(FORMULA, Marks(formula=said)))
        elif child.tag in _ATOMS:  # one that leads nowhere is still a character
            runs.append(Run("?"))
    return tuple(runs)


def _write_runs(runs: Sequence[Run]) -> Iterator[Element | Words]:
    for run in runs:
        if run.marks.reference:
            for _ in run.text:
                yield Element(_REFERENCE, run.marks.reference._asdict())
            continue
        if run.marks.formula:
            for _ in run.text:
                yield Element(_FORMULA, {"mathml": run.marks.formula})
            continue
        for part in _LINES.split(run.text):
            if part == "\n":
                yield Element(_BREAK)
            elif part:
                yield Words(part, _write_marks(run.marks))


add_kind(
    Kind(
        Paragraph,
        "paragraph",
        (
            Field("style", "style", short(64), "body"),
            Field("align", "align", one_of(*ALIGNMENTS)),
            Field("space_before", "before", number(0, 500)),
            Field("space_after", "after", number(0, 500)),
            Field("line_spacing", "lines", number(0.5, 10)),
            Field("indent", "indent", number(0, 500)),
            Field("first_line", "firstLine", number(-500, 500)),
            Field("right_indent", "rightIndent", number(0, 500)),
            Field("background", "background", background),
            Field("borders", "borders", borders),
            Field("contextual_spacing", "contextualSpacing", flag),
            Field("tab_stops", "tabStops", _tab_stops),
            Field("number", "number", one_of("none", "appendix")),
            Field("number_from", "numberFrom", whole(0, 9999)),
            Field("caption", "caption", identifier),
            Field("listed", "listed", whole(0, LEVELS[-1])),
            Field("new_page", "newPage", flag),
            Field("keep_with_next", "keepWithNext", flag),
            Field("keep_together", "keepTogether", flag),
            Field("note", "note", one_of(*NOTE_KINDS)),
        ),
        Content("runs", _read_runs, _write_runs, _ATOMS, words=True, longest=MOST_CHARACTERS),
    )
)
add_shape(_BREAK, Shape(character="\n"))
add_shape(_REFERENCE, Shape({"to": identifier, "shows": one_of(*SHOWS), "said": _SAID}, character=INLINE_OBJECT))
add_shape(_FORMULA, Shape({"mathml": formula}, character=FORMULA))


add_mark("bookmark", id=identifier, name=_NAME)
add_mark("citation", id=identifier, of=identifier)
add_mark("indexed", id=identifier, entries=_read_entries)
add_mark("bold", off=flag)
add_mark("italic", off=flag)
add_mark("underline")
add_mark("typeface", **_TYPEFACE)
_ADDRESS: Read = lambda value: value if isinstance(value, str) else None  # noqa: E731
# An address that leads nowhere safe is no link. Browsers used to write beside it what all links have.
_nothing = one_of()
add_mark(
    "link",
    href=_ADDRESS,
    rel=one_of("noopener noreferrer nofollow"),
    target=_nothing,
    title=_nothing,
    **{"class": _nothing},
)


@measure.register
def _(block: Paragraph, report: Report, typefaces: Typefaces) -> Box:
    style = set_style(block, report).style
    width, language = report.page.column_width, report.page.language
    if report.beside:
        lines = parted(as_set(block, report), style, width, report.beside, typefaces, language).whole()
    else:
        lines = break_lines(as_set(block, report), style, width, typefaces, language)
    before, after = block.space_before, block.space_after
    # A caption stays with what it names.
    place = known_label(report.labels, block.caption).place if block.caption else None
    total, count = sum(lines.heights), len(lines.heights)
    # Headings are not parted either. One that no page holds is parted as any other.
    together = style.keep_together if block.keep_together is None else block.keep_together
    whole = (together or style.outline_level is not None) and total <= report.page.text_height
    frame = frame_of(block, style)
    return Box(
        lines.heights,
        lines.starts,
        total,
        style.space_before if before is None else before,
        style.space_after if after is None else after,
        count if whole else style.orphans,
        1 if whole else style.widows,
        (style.keep_with_next or place == "above") if block.keep_with_next is None else block.keep_with_next,
        place == "below",
        style.new_page if block.new_page is None else block.new_page,
        close=style.id if is_close(block, style) else "",
        frame=frame,
        above=frame.room("top") if frame else 0.0,
        below=frame.room("bottom") if frame else 0.0,
    )


@draw.register
def _(block: Paragraph, placed: Placed, on: Drawing) -> Iterator[Mark]:
    box = on.pages.boxes[placed.box]
    if not box.foot and (beside := on.pages.beside.get(placed.box)):
        yield from _drawn_beside(block, placed, on, beside)
        return
    style, hang = set_style(block, on.report)
    if not box.foot and box.frame and (frame := frame_of(block, style)):
        yield from _framed(frame, placed, on)
    box = box.foot or box
    yield from draw_lines(
        as_set(block, on.report),
        style,
        Lines(box.starts, box.heights),
        range(placed.first, placed.end),
        0.0,
        placed.y,
        on.report.page.column_width,
        on,
        hang,
        on.path(block.id),
        on.report.page.language,
    )


_OVERLAP = 0.25
"""Points by which frames that go on reach into each other: no seam is seen between them."""


def _framed(frame: Frame, placed: Placed, on: Drawing) -> Iterator[Mark]:
    """The frame of what is placed, up to the neighbour above that stands in the same, if there is one in the column."""
    boxes, at = on.pages.boxes, placed.box
    box, above = boxes[at], at - 1
    while above >= 0 and boxes[above].foot:
        above -= 1
    after = behind(boxes, at)
    height = sum(box.heights[placed.first : placed.end])
    joined = above >= 0 and boxes[above].frame == box.frame
    up = gap(boxes[above], box) + _OVERLAP if joined and placed.first == 0 and placed.y > 0 else 0.0
    yield from draw_frame(
        frame,
        0.0,
        placed.y - up,
        on.report.page.column_width,
        height + up,
        placed.first == 0 and not joined,
        placed.end >= len(box.starts) and not (after < len(boxes) and boxes[after].frame == box.frame),
    )


def _drawn_beside(block: Paragraph, placed: Placed, on: Drawing, beside: Beside) -> Iterator[Mark]:
    """Its lines beside a picture, and those beneath."""
    style, hang = set_style(block, on.report)
    words, path, page = as_set(block, on.report), on.path(block.id), on.report.page
    made = parted(words, style, page.column_width, beside, on.typefaces, page.language)
    x, width = narrowed(page.column_width, style, beside)
    above, y = range(placed.first, min(placed.end, made.above)), placed.y
    beneath = range(max(0, placed.first - made.above), placed.end - made.above)
    if frame := frame_of(block, style):
        high = sum(made.lines.heights[at] for at in above)
        low = sum(made.further.heights[at] for at in beneath) if made.further else 0.0
        if above:
            yield from draw_frame(frame, x, y, width, high, placed.first == 0, not low)
        if low:
            yield from draw_frame(frame, 0.0, y + high, page.column_width, low, not above, True)
    yield from draw_lines(words, style, made.lines, above, x, y, width, on, hang, path, page.language)
    if made.rest and made.further and placed.end > made.above:
        y += sum(made.lines.heights[at] for at in above)
        style = going_on(style)
        yield from draw_lines(
            made.rest, style, made.further, beneath, 0.0, y, page.column_width, on, hang, path, page.language
        )
