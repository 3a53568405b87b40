"""How paragraphs and words look, as properties of Office Open XML (ISO/IEC 29500-1, 17.3.1 and 17.3.2).

What the reader reads is written under the same names: its tables are turned around.
"""

from __future__ import annotations

from collections.abc import Container, Iterator, Mapping
from copy import deepcopy

from lxml.etree import _Element

from ...report.blocks import Align, Marks, Paragraph
from ...report.borders import Border, borders_of
from ...report.styles import INHERITED, Style
from ...report.tab_stops import Leader, tab_stops_of
from ..docx.looks import HIGHLIGHTS
from ..docx.styles import natural_spacing
from .xml import clean, made, properties, switch, twips

_ALIGN: Mapping[Align, str] = {"left": "left", "center": "center", "right": "right", "justify": "both"}
_NAMED = {colour: name for name, colour in HIGHLIGHTS.items()}
LEADERS: Mapping[Leader, str] = {"dots": "dot", "dashes": "hyphen", "line": "underscore"}
_KINDS = {"solid": "single", "double": "double", "dashed": "dashed", "dotted": "dotted"}
_SIDES = ("top", "left", "bottom", "right")
"""In the order of the schema."""
ALL = frozenset(INHERITED)


# --- Words (17.3.2) ---


def words_of_style(style: Style, says: Container[str] = ALL) -> _Element | None:
    """The run properties of a style, of those that it is to say."""

    def said() -> Iterator[_Element]:
        if "font" in says:
            yield font(style.font)
        if "size" in says:
            yield from size(style.size)
        if "bold" in says:
            yield from toggle("b", style.bold)
        if "italic" in says:
            yield from toggle("i", style.italic)
        if "capitals" in says:
            yield switch("w:caps", style.capitals == "all")
            yield switch("w:smallCaps", style.capitals == "small")
        if "strike" in says:
            yield switch("w:strike", style.strike)
        if "underline" in says:
            yield made("w:u", val="single" if style.underline else "none")
        if "colour" in says:
            yield made("w:color", val=style.colour[1:])

    return properties("w:rPr", said())


def words_of_marks(marks: Marks) -> _Element | None:
    """The run properties that words have on top of their paragraph's style."""

    def said() -> Iterator[_Element]:
        if marks.font:
            yield font(marks.font)
        if marks.size:
            yield from size(marks.size)
        if marks.bold is not None:
            yield from toggle("b", marks.bold)
        if marks.italic is not None:
            yield from toggle("i", marks.italic)
        if marks.capitals:
            yield switch("w:caps", marks.capitals == "all")
            yield switch("w:smallCaps", marks.capitals == "small")
        if marks.strike:
            yield switch("w:strike", True)
        if marks.underline:
            yield made("w:u", val="single")
        if marks.colour:
            yield made("w:color", val=marks.colour[1:])
        if marks.script:
            yield made("w:vertAlign", val="superscript" if marks.script == "super" else "subscript")
        if marks.highlight:
            named = _NAMED.get(marks.highlight)
            yield made("w:highlight", val=named) if named else shade(marks.highlight)

    return properties("w:rPr", said())


def over(base: _Element | None, more: _Element | None) -> _Element | None:
    """Run properties with others over them."""
    if base is None or more is None:
        return more if base is None else base
    found = {one.tag: one for one in (*base, *more)}
    return properties("w:rPr", map(deepcopy, found.values()))


def font(name: str) -> _Element:
    name = clean(name)
    return made("w:rFonts", ascii=name, hAnsi=name, eastAsia=name, cs=name)


def size(points: float) -> tuple[_Element, _Element]:
    """The size of letters, in half points (17.3.2.38)."""
    half = max(round(points * 2), 2)
    return made("w:sz", val=half), made("w:szCs", val=half)


def toggle(tag: str, on: bool) -> tuple[_Element, _Element]:
    """Bold or italic, for all scripts alike."""
    return switch(f"w:{tag}", on), switch(f"w:{tag}Cs", on)


def shade(colour: str) -> _Element:
    return made("w:shd", val="clear", color="auto", fill="auto" if colour == "none" else colour[1:])


# --- Paragraphs (17.3.1) ---


def place_of_style(
    style: Style, base: Style | None, says: Container[str] = ALL, numbered: bool = False
) -> Iterator[_Element | None]:
    """The paragraph properties of a style, of those that it is to say over the one that it is based on. ``numbered``: whether its
    numbering says where it stands."""
    if "keep_with_next" in says:
        yield switch("w:keepNext", style.keep_with_next)
    if "keep_together" in says:
        yield switch("w:keepLines", style.keep_together)
    if "new_page" in says:
        yield switch("w:pageBreakBefore", style.new_page)
    if "orphans" in says or "widows" in says:
        yield switch("w:widowControl", min(style.orphans, style.widows) > 1)
    if "borders" in says:
        yield borders(style.borders, base.borders if base else "none")
    if "background" in says:
        yield shade(style.background)
    if "tab_stops" in says:
        yield tabs(style.tab_stops, base.tab_stops if base else "")
    if "hyphenate" in says:
        yield switch("w:suppressAutoHyphens", not style.hyphenate)
    yield spacing(
        style.space_before if "space_before" in says else None,
        style.space_after if "space_after" in says else None,
        line(style) if base is None or line(style) != line(base) else None,
    )
    if not numbered:
        yield indents(
            style.indent if "indent" in says else None,
            style.first_line if "first_line" in says else None,
            style.right_indent if "right_indent" in says else None,
        )
    elif "right_indent" in says:
        yield indents(None, None, style.right_indent)
    if "contextual_spacing" in says:
        yield switch("w:contextualSpacing", style.contextual_spacing)
    if "align" in says:
        yield made("w:jc", val=_ALIGN[style.align])
    if "outline_level" in says:
        yield made("w:outlineLvl", val=9 if style.outline_level is None else style.outline_level - 1)


def place_of_paragraph(block: Paragraph, style: Style) -> Iterator[_Element | None]:
    """What a paragraph says itself of its place, over its style."""
    for tag, on in (
        ("w:keepNext", block.keep_with_next),
        ("w:keepLines", block.keep_together),
        ("w:pageBreakBefore", block.new_page),
        ("w:contextualSpacing", block.contextual_spacing),
    ):
        if on is not None:
            yield switch(tag, on)
    if block.borders is not None:
        yield borders(block.borders, style.borders)
    if block.background is not None:
        yield shade(block.background)
    if block.tab_stops is not None:
        yield tabs(block.tab_stops, style.tab_stops)
    yield spacing(
        block.space_before,
        block.space_after,
        None if block.line_spacing is None else line(style, block.line_spacing),
    )
    yield indents(block.indent, block.first_line, block.right_indent)
    if block.align is not None:
        yield made("w:jc", val=_ALIGN[block.align])


def line(style: Style, spacing: float | None = None) -> int:
    """Line spacing in 240ths of the height that lines of the face have by themselves (17.3.1.33)."""
    return round(240 * (style.line_spacing if spacing is None else spacing) / natural_spacing(style.font))


def spacing(before: float | None, after: float | None, line: int | None) -> _Element | None:
    if before is None and after is None and line is None:
        return None
    return made(
        "w:spacing",
        before=None if before is None else twips(before),
        after=None if after is None else twips(after),
        line=line,
        lineRule=None if line is None else "auto",
    )


def indents(left: float | None, first: float | None, right: float | None) -> _Element | None:
    """Indents (17.3.1.12); one first line that hangs says so."""
    if left is None and first is None and right is None:
        return None
    hangs = first is not None and first < 0
    return made(
        "w:ind",
        left=None if left is None else twips(left),
        right=None if right is None else twips(right),
        hanging=twips(-first) if first is not None and hangs else None,
        firstLine=twips(first) if first is not None and not hangs else None,
    )


def tabs(own: str, inherited: str) -> _Element | None:
    """Tab stops (17.3.1.38), with those taken out that the style has and are not wanted."""
    wanted = {one.at: one for one in tab_stops_of(own)}
    gone = {one.at for one in tab_stops_of(inherited)} - wanted.keys()
    stops = [
        made("w:tab", val="clear", pos=twips(at))
        if at in gone
        else made(
            "w:tab",
            val=wanted[at].align,
            leader=LEADERS[leader] if (leader := wanted[at].leader) else None,
            pos=twips(at),
        )
        for at in sorted(wanted.keys() | gone)
    ]
    return made("w:tabs", *stops) if stops else None


def borders(own: str, inherited: str) -> _Element | None:
    """Lines around a paragraph (17.3.1.24); none at the sides where the style has some that are not wanted."""
    wanted = {one.side: one for one in borders_of(own)}
    gone = {one.side for one in borders_of(inherited)}
    sides = [border(f"w:{side}", wanted.get(side), space=3) for side in _SIDES if side in wanted or side in gone]
    return made("w:pBdr", *sides) if sides else None


def border(tag: str, one: Border | None, space: int | None = None) -> _Element:
    """A line, in eighths of a point (17.3.4); two lines and the gap between them are each a third as wide."""
    if one is None:
        return made(tag, val="nil")
    width = one.width / 3 if one.kind == "double" else one.width
    return made(tag, val=_KINDS[one.kind], sz=min(max(round(width * 8), 2), 96), space=space, color=one.colour[1:])
