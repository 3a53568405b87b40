"""Formulas as they are drawn: MathML Core, section 3, with what the mathematics face says of itself (ISO/IEC 14496-22, 6.3.6 "MATH").

All is in em of the words around a formula: one layout serves every size. ``y`` is downwards from the baseline.
"""

from __future__ import annotations

import logging
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from itertools import pairwise
from math import inf
from typing import NamedTuple

import uharfbuzz as hb
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen

from ..report.formulas import TOKENS, Node, row, tree
from .typefaces import FONT_FOLDER, Face, Unit

log = logging.getLogger(__name__)

NAME = "STIXTwoMath-Regular"
_SCRIPTS: Mapping[str, tuple[str, ...]] = {"msub": ("sub",), "msup": ("super",), "msubsup": ("sub", "super")}
_LIMITS: Mapping[str, tuple[str, ...]] = {
    "munder": ("sub",), "mover": ("super",), "munderover": ("sub", "super"),
}  # fmt: skip
_BESIDE_CELL, _AROUND_CELL = 0.4, 0.22
"""Room at the sides of a cell, and above and below it (MathML Core, A "User agent stylesheet": 0.4 em and half the height of an x)."""
_BESIDE_FRACTION = 0.068
"""Room at the sides of a fraction (the same: a pixel, of words of 11 points)."""
_OVER = 0.05
"""Room between something and the sign over it: of the size of letters (common practice, no source)."""
_LEAST_SIZE = 0.4


class SetFormula(NamedTuple):
    """A formula as it is drawn: how wide it is, how far above and below the baseline it reaches, and the path of all that is drawn (SVG 2, 9.3)."""

    width: float
    above: float
    below: float
    outline: str


class _Glyph(NamedTuple):
    id: int
    size: float


class _Bar(NamedTuple):
    width: float
    height: float


class _Placed(NamedTuple):
    x: float
    y: float
    what: _Glyph | _Bar


@dataclass(frozen=True, slots=True)
class _Box:
    """Something that is drawn, with its baseline at 0. ``italic``: how far its last letter leans beyond its width."""

    width: float = 0.0
    above: float = 0.0
    below: float = 0.0
    placed: tuple[_Placed, ...] = ()
    italic: float = 0.0
    accent: float | None = None
    """Where a sign over it stands, if not in the middle."""

    def moved(self, x: float, y: float) -> tuple[_Placed, ...]:
        return tuple(_Placed(one.x + x, one.y + y, one.what) for one in self.placed) if x or y else self.placed


class _Style(NamedTuple):
    """``depth``: how often what is drawn is a part of something smaller; ``display``: whether on a line of its own; ``cramped``:
    whether exponents rise less."""

    depth: int
    display: bool
    cramped: bool = False

    @property
    def script(self) -> _Style:
        return _Style(self.depth + 1, False, self.cramped)


class _Operator(NamedTuple):
    """How a sign is set (MathML Core, B "Operator tables"): the space in front of it and behind it, in em, whether it grows
    with what stands beside it, whether it is larger on a line of its own, and whether its bounds stand at its side in a line."""

    before: float = 5 / 18
    behind: float = 5 / 18
    stretchy: bool = False
    large: bool = False
    limits: bool = False


def _all(signs: str, operator: _Operator) -> dict[str, _Operator]:
    return dict.fromkeys(signs.split(), operator)


_PREFIX: Mapping[str, _Operator] = {
    **_all("( [ { | ‖ ⌈ ⌊ ⟨ ⟦", _Operator(0, 0, True)),
    **_all("∑ ∏ ∐ ⋂ ⋃ ⨀ ⨁ ⨂ ⨄ ⨆ ⋁ ⋀", _Operator(3 / 18, 3 / 18, False, True, True)),
    **_all("∫ ∬ ∭ ∮ ∯ ∰", _Operator(3 / 18, 3 / 18, False, True)),
    **_all("+ - − ± ∓ ∼ ! ∀ ∃ ¬ ∇ ∠ ∴ ∵", _Operator(0, 0)),
    **_all("∂ √", _Operator(3 / 18, 0)),
}
_POSTFIX: Mapping[str, _Operator] = {
    **_all(") ] } | ‖ ⌉ ⌋ ⟩ ⟧", _Operator(0, 0, True)),
    **_all("! ′ ″ ‴ % ° & ~ ^ _ ` ¯ ˉ ˙ ˜ ˆ ¨ ‾ ⃗ ⏞ ⏟ ⎴ ⎵", _Operator(0, 0)),
}
_INFIX: Mapping[str, _Operator] = {
    **_all("\\ _ \u2061 \u2062 \u2063 \u2064", _Operator(0, 0)),
    **_all(", ; :", _Operator(0, 3 / 18)),
    **_all("× · ∗ * ⊗ ⊙ ⋅ ∘ • . % ? @ ^ ⋆ ⋄", _Operator(3 / 18, 3 / 18)),
    **_all("+ - − ± ∓ ÷ ∧ ∨ ∩ ∪ ⊕ ⊖ ∖ / ⊎ ⊔ ⊓", _Operator(4 / 18, 4 / 18)),
    **_all("| ∣ ∥ ‖", _Operator(stretchy=True)),
}
"""The spaces are those by which a browser sets them (Chromium 156, measured); other signs have the space of relations."""
_ACROSS = frozenset("→←↔⇒⇐⇔⏞⏟⎴⎵⏜⏝‾¯_^ˆ~˜⃗")
"""Signs that grow with what is wide and not with what is high."""


@lru_cache(maxsize=1 << 12)
def set_formula(said: str) -> SetFormula | None:
    """A formula, as its paragraph keeps it, as it is drawn; None if it cannot be."""
    try:
        node = tree(said)
        made = _maths().box(node, _Style(0, node.attributes.get("display") == "block"))
        return SetFormula(made.width, made.above, made.below, _maths().outline(made))
    except Exception:  # the words around it are to be seen all the same
        log.exception("A formula could not be drawn: %s", said[:200])
        return None


class FormulaFace(Face):
    """A formula as a face of a single sign: lines are broken around it, and placed with it, as with letters."""

    def __init__(self, drawn: SetFormula) -> None:
        self.drawn = drawn
        self.font, self.bold, self.italic, self.tabular = NAME, False, False, False
        self.advance = drawn.width
        self.ascent, self.descent = drawn.above, drawn.below
        self._units: dict[str, Unit] = {}

    def width(self, text: str) -> float:
        return self.advance * len(text)

    def unit(self, text: str) -> Unit:
        return Unit(self.width(text), self.width(text), 0.0, False)

    def kern(self, pair: str) -> float:
        return 0.0

    def covers(self, character: str) -> bool:
        return True


@lru_cache(maxsize=1 << 12)
def formula_face(said: str) -> FormulaFace:
    """The face of a formula; one that cannot be drawn has no width, and is set as its words (``as_set.py``)."""
    return FormulaFace(set_formula(said) or SetFormula(0.0, 0.0, 0.0, ""))


def lacking_in_formula(said: str) -> list[str]:
    """The characters of a formula that the mathematics face has not."""
    return [one for one in "".join(_characters(tree(said))) if not one.isspace() and not _maths().covers(one)]


def _characters(node: Node) -> Iterator[str]:
    yield node.text
    for one in node.parts:
        yield from _characters(one)


@cache
def _maths() -> _Maths:
    return _Maths()


class _Maths:
    def __init__(self) -> None:
        self._face = hb.Face(hb.Blob.from_file_path(str(FONT_FOLDER / f"{NAME}.ttf")))
        self._font = hb.Font(self._face)
        self._upem = float(self._face.upem)

    def says(self, name: str, size: float = 1.0) -> float:
        """A constant of the face, in em."""
        return float(self._font.get_math_constant(hb.OTMathConstant[name])) / self._upem * size

    @cached_property
    def _sizes(self) -> tuple[float, float, float]:
        small, least = (
            self._font.get_math_constant(hb.OTMathConstant[name]) / 100
            for name in ("SCRIPT_PERCENT_SCALE_DOWN", "SCRIPT_SCRIPT_PERCENT_SCALE_DOWN")
        )
        return 1.0, small, least

    def covers(self, character: str) -> bool:
        return self._font.get_nominal_glyph(ord(character)) is not None

    def size(self, style: _Style) -> float:
        """Of letters, by how deep they stand (MathML Core, 4.4 "math-depth")."""
        if style.depth < 3:
            return self._sizes[style.depth]
        return max(self._sizes[2] * 0.71 ** (style.depth - 2), _LEAST_SIZE)

    def box(self, node: Node, style: _Style) -> _Box:
        """What an element is drawn as."""
        match node.tag:
            case "mi" | "mn" | "mtext":
                return self._token(node, style)
            case "mo":
                return self._operator(node, style, "infix")
            case "mspace":
                return _Box(float(node.attributes.get("width", "0em")[:-2]) * self.size(style))
            case "mfrac":
                return self._fraction(node, style)
            case "msqrt":
                return self._root(row(node.parts), None, style)
            case "mroot":
                return self._root(node.parts[0], node.parts[1], style)
            case "msub" | "msup" | "msubsup":
                return self._scripts(node.parts, _SCRIPTS[node.tag], style)
            case "munder" | "mover" | "munderover":
                return self._limits(node, style)
            case "mtable":
                return self._table(node, style)
        return self._row(node.parts, style)

    def _shaped(self, text: str, size: float) -> _Box:
        """Letters in the face, one behind the other."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, {"liga": False})
        x, placed, above, below, last = 0.0, list[_Placed](), -inf, -inf, 0
        for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            glyph = self._glyph(last := info.codepoint, size)
            placed += glyph.moved(x + position.x_offset / self._upem * size, 0.0)
            above, below = max(above, glyph.above), max(below, glyph.below)
            x += position.x_advance / self._upem * size
        italic = self._font.get_math_glyph_italics_correction(last) / self._upem * size if len(placed) == 1 else 0.0
        accent = self._font.get_math_glyph_top_accent_attachment(last) / self._upem * size if len(placed) == 1 else None
        return _Box(x, above, below, tuple(placed), italic, accent)

    def _glyph(self, id: int, size: float) -> _Box:
        extents = self._font.get_glyph_extents(id)
        scale = size / self._upem
        above = extents.y_bearing * scale if extents else 0.0
        below = -(extents.y_bearing + extents.height) * scale if extents else 0.0
        width = self._font.get_glyph_h_advance(id) * scale
        return _Box(width, above, below, (_Placed(0.0, 0.0, _Glyph(id, size)),))

    def _token(self, node: Node, style: _Style) -> _Box:
        """Letters; one that stands for something is slanted (MathML Core, 3.2.2)."""
        text = node.text
        if node.tag == "mi" and len(text) == 1 and node.attributes.get("mathvariant") != "normal":
            text = _slanted(text)
        return self._shaped(text, self.size(style))

    def _of_operator(self, node: Node, form: str) -> _Operator:
        form = node.attributes.get("form", form)
        tables = {"prefix": _PREFIX, "postfix": _POSTFIX, "infix": _INFIX}
        found = tables[form].get(node.text)
        if found is None and "form" in node.attributes:
            found = _Operator()
        elif found is None:
            found = next((known[node.text] for known in (_INFIX, _POSTFIX, _PREFIX) if node.text in known), _Operator())
        said = node.attributes.get("stretchy")
        return found if said is None else found._replace(stretchy=said == "true")

    def _operator(self, node: Node, style: _Style, form: str, reach: tuple[float, float] | None = None) -> _Box:
        """A sign, without the space around it. ``reach``: how far above and below the baseline what it grows with reaches."""
        operator, size = self._of_operator(node, form), self.size(style)
        text = node.text
        glyph = self._font.get_nominal_glyph(ord(text)) if len(text) == 1 else None
        axis = self.says("AXIS_HEIGHT", size)
        if glyph is None:
            return self._shaped(text, size)
        if operator.large and style.display:
            return self._centred(self._high(glyph, self.says("DISPLAY_OPERATOR_MIN_HEIGHT", size), size), axis)
        if operator.stretchy and reach and text not in _ACROSS:
            half = max(reach[0] - axis, reach[1] + axis)
            own = self._glyph(glyph, size)
            if own.above + own.below < 2 * half:
                return self._centred(self._high(glyph, 2 * half, size), axis)
        return self._shaped(text, size)

    def _centred(self, box: _Box, axis: float) -> _Box:
        """With its middle on the axis."""
        down = (box.above - box.below) / 2 - axis
        return _Box(box.width, box.above - down, box.below + down, box.moved(0.0, down), box.italic)

    def _high(self, glyph: int, height: float, size: float) -> _Box:
        """A sign at least so high: one of its larger forms, or put together (MATH, "MathVariants")."""
        scale = size / self._upem
        found = glyph
        for variant in self._font.get_math_glyph_variants(glyph, "ttb"):
            found = variant.glyph
            if variant.advance * scale >= height:
                return self._alone(found, size)
        parts, _ = self._font.get_math_glyph_assembly(glyph, "ttb")
        return self._assembled(parts, height, size) if parts else self._alone(found, size)

    def _alone(self, glyph: int, size: float) -> _Box:
        italic = self._font.get_math_glyph_italics_correction(glyph) / self._upem * size
        box = self._glyph(glyph, size)
        return _Box(box.width, box.above, box.below, box.placed, italic)

    def _assembled(self, parts: Sequence[hb.OTMathGlyphPart], height: float, size: float) -> _Box:
        """Parts over each other, those that may be repeated as often as it takes; they overlap as far as they may, or less."""
        scale = size / self._upem
        least = self._font.get_math_min_connector_overlap("ttb") * scale
        repeated = [one for one in parts if one.flags & hb.OTMathGlyphPartFlags.EXTENDER]
        fixed = sum(one.full_advance for one in parts if one not in repeated) * scale
        each = sum(one.full_advance * scale - least for one in repeated)
        times = 0
        count = len(parts) - len(repeated)
        while repeated and fixed - least * max(count - 1, 0) + times * each < height and times < 200:
            times += 1
        order = [one for one in parts for _ in range(times if one in repeated else 1)]
        full = sum(one.full_advance for one in order) * scale
        overlap = max(least, (full - height) / max(len(order) - 1, 1)) if len(order) > 1 else 0.0
        overlap = min(
            [
                overlap,
                *(min(a.end_connector_length, b.start_connector_length) * scale for a, b in pairwise(order)),
            ]
        )
        y, placed, width = 0.0, list[_Placed](), 0.0
        for one in order:  # from below upwards
            box = self._glyph(one.glyph, size)
            placed += box.moved(0.0, -y - box.below)
            y += one.full_advance * scale - overlap
            width = max(width, box.width)
        return _Box(width, y + overlap, 0.0, tuple(placed))

    def _row(self, parts: Sequence[Node], style: _Style) -> _Box:
        """Parts beside each other, signs with their space; those that grow are as high as the others (3.3.1)."""
        cores, size = [_core(one) for one in parts], self.size(style)
        forms = [_form(at, len(parts)) for at in range(len(parts))]
        signs = [core.tag == "mo" for core in cores]
        boxes = [
            None if one.tag == "mo" and self._of_operator(one, form).stretchy else self.box(one, style)
            for one, form in zip(parts, forms, strict=True)
        ]
        # Around letters alone, signs stay as they are: f(x) is no higher for its x.
        grows = not all(_is_plain(one) for one, box in zip(parts, boxes, strict=True) if box)
        reach = (
            max((box.above for box in boxes if box), default=0.0) if grows else 0.0,
            max((box.below for box in boxes if box), default=0.0) if grows else 0.0,
        )
        x, above, below, placed = 0.0, 0.0, 0.0, list[_Placed]()
        box = _Box()
        for at, (one, form) in enumerate(zip(parts, forms, strict=True)):
            box = boxes[at] or self._operator(one, style, form, reach)
            space = self._of_operator(cores[at], form) if signs[at] and len(parts) > 1 else None
            x += space.before * size if space else 0.0
            placed += box.moved(x, 0.0)
            above, below = max(above, box.above), max(below, box.below)
            x += box.width + (space.behind * size if space else 0.0)
        return _Box(x, above, below, tuple(placed), box.italic, box.accent if len(parts) == 1 else None)

    def _fraction(self, node: Node, style: _Style) -> _Box:
        """One over the other (3.3.2)."""
        inner = _Style(style.depth, False) if style.display else style.script
        over, under = self.box(node.parts[0], inner), self.box(node.parts[1], inner._replace(cramped=True))
        size, axis = self.size(style), self.says("AXIS_HEIGHT", self.size(style))
        ruled = node.attributes.get("linethickness") != "0"
        rule = self.says("FRACTION_RULE_THICKNESS", size) if ruled else 0.0
        up, down, gap_up, gap_down = (
            self.says(name, size)
            for name in (
                (
                    "FRACTION_NUMERATOR_DISPLAY_STYLE_SHIFT_UP", "FRACTION_DENOMINATOR_DISPLAY_STYLE_SHIFT_DOWN",
                    "FRACTION_NUM_DISPLAY_STYLE_GAP_MIN", "FRACTION_DENOM_DISPLAY_STYLE_GAP_MIN",
                ) if style.display else (
                    "FRACTION_NUMERATOR_SHIFT_UP", "FRACTION_DENOMINATOR_SHIFT_DOWN",
                    "FRACTION_NUMERATOR_GAP_MIN", "FRACTION_DENOMINATOR_GAP_MIN",
                )
            )
        )  # fmt: skip
        up = max(up, axis + rule / 2 + gap_up + over.below)
        down = max(down, -axis + rule / 2 + gap_down + under.above)
        width = max(over.width, under.width)
        side = _BESIDE_FRACTION
        placed = (
            *over.moved(side + (width - over.width) / 2, -up),
            *under.moved(side + (width - under.width) / 2, down),
            *((_Placed(side, -axis - rule / 2, _Bar(width, rule)),) if ruled else ()),
        )
        return _Box(width + 2 * side, up + over.above, down + under.below, placed)

    def _root(self, base: Node, degree: Node | None, style: _Style) -> _Box:
        """Under a radical sign (3.3.3)."""
        inside = self.box(base, style._replace(cramped=True))
        size = self.size(style)
        rule = self.says("RADICAL_RULE_THICKNESS", size)
        gap = self.says("RADICAL_DISPLAY_STYLE_VERTICAL_GAP" if style.display else "RADICAL_VERTICAL_GAP", size)
        height = inside.above + inside.below + gap + rule
        glyph = self._font.get_nominal_glyph(ord("√"))
        sign = self._high(glyph, height, size) if glyph else _Box()
        gap += max(0.0, sign.above + sign.below - height) / 2
        top = inside.above + gap + rule
        x, placed, above = 0.0, list[_Placed](), top + self.says("RADICAL_EXTRA_ASCENDER", size)
        down = -top + sign.above
        if degree is not None:
            small = self.box(degree, _Style(style.depth + 2, False, True))
            x = max(0.0, self.says("RADICAL_KERN_BEFORE_DEGREE", size)) + small.width
            raised = self._font.get_math_constant(hb.OTMathConstant.RADICAL_DEGREE_BOTTOM_RAISE_PERCENT) / 100
            foot = down + sign.below - raised * (sign.above + sign.below)
            placed += small.moved(x - small.width, foot - small.below)
            above = max(above, small.above + small.below - foot)
            x = max(x + self.says("RADICAL_KERN_AFTER_DEGREE", size), 0.0)
        placed += sign.moved(x, down)
        placed += inside.moved(x + sign.width, 0.0)
        placed.append(_Placed(x + sign.width, -top, _Bar(inside.width, rule)))
        return _Box(x + sign.width + inside.width, above, max(inside.below, down + sign.below), tuple(placed))

    def _scripts(self, parts: Sequence[Node], places: Sequence[str], style: _Style) -> _Box:
        """Indices and exponents (3.4.1)."""
        base, size = self.box(parts[0], style), self.size(style)
        large = _core(parts[0]).tag == "mo" and self._of_operator(_core(parts[0]), "prefix").large
        boxes = {
            place: self.box(one, style.script._replace(cramped=style.cramped or place == "sub"))
            for place, one in zip(places, parts[1:], strict=True)
        }
        sub, raised = boxes.get("sub"), boxes.get("super")
        is_letter = _core(parts[0]).tag in ("mi", "mn", "mtext") and not large
        down = up = 0.0
        if sub:
            drop = 0.0 if is_letter else base.below + self.says("SUBSCRIPT_BASELINE_DROP_MIN", size)
            down = max(self.says("SUBSCRIPT_SHIFT_DOWN", size), sub.above - self.says("SUBSCRIPT_TOP_MAX", size), drop)
        if raised:
            rise = 0.0 if is_letter else base.above - self.says("SUPERSCRIPT_BASELINE_DROP_MAX", size)
            shift = "SUPERSCRIPT_SHIFT_UP_CRAMPED" if style.cramped else "SUPERSCRIPT_SHIFT_UP"
            up = max(self.says(shift, size), self.says("SUPERSCRIPT_BOTTOM_MIN", size) + raised.below, rise)
        if sub and raised:
            gap = up - raised.below + down - sub.above
            lacks = self.says("SUB_SUPERSCRIPT_GAP_MIN", size) - gap
            if lacks > 0:
                most = self.says("SUPERSCRIPT_BOTTOM_MAX_WITH_SUBSCRIPT", size) - (up - raised.below)
                lift = min(max(most, 0.0), lacks)
                up, down = up + lift, down + lacks - lift
        placed, reach = [*base.placed], base.width
        above, below = base.above, base.below
        if sub:
            placed += sub.moved(base.width - (base.italic if large else 0.0), down)
            reach = max(reach, base.width - (base.italic if large else 0.0) + sub.width)
            above, below = max(above, sub.above - down), max(below, sub.below + down)
        if raised:
            placed += raised.moved(base.width, -up)
            reach = max(reach, base.width + raised.width)
            above, below = max(above, raised.above + up), max(below, raised.below - up)
        return _Box(reach + self.says("SPACE_AFTER_SCRIPT", size), above, below, tuple(placed))

    def _limits(self, node: Node, style: _Style) -> _Box:
        """What stands over and under something (3.4.2); the bounds of a sum stand at its side in a line (3.4.3)."""
        places, base = _LIMITS[node.tag], node.parts[0]
        core = _core(base)
        operator = self._of_operator(core, "prefix") if core.tag == "mo" else None
        if operator and operator.limits and not style.display:
            return self._scripts(node.parts, places, style)
        size = self.size(style)
        middle = self.box(base, style)
        placed, above, below = list[_Placed](), middle.above, middle.below
        over: list[tuple[float, float, _Box]] = []
        for place, one in zip(places, node.parts[1:], strict=True):
            accent = node.attributes.get("accent" if place == "super" else "accentunder") == "true"
            grows = one.tag == "mo" and one.text in _ACROSS and (accent or one.attributes.get("stretchy") != "false")
            inner = style if accent or grows else style.script
            box = self._wide(one, middle.width, inner) if grows else self.box(one, inner)
            leans = middle.italic / 2 if operator and operator.large else 0.0
            x = (middle.width - box.width) / 2
            if place == "super" and accent:
                y = -middle.above - _OVER * size - box.below
                if middle.accent is not None and not grows:
                    x = middle.accent - (box.accent if box.accent is not None else box.width / 2)
            elif place == "super":
                gap = self.says("STRETCH_STACK_GAP_ABOVE_MIN" if grows else "UPPER_LIMIT_GAP_MIN", size)
                rise = 0.0 if grows else self.says("UPPER_LIMIT_BASELINE_RISE_MIN", size)
                y = -middle.above - max(gap + box.below, rise)
                x += leans
            else:
                gap = self.says("STRETCH_STACK_GAP_BELOW_MIN" if grows else "LOWER_LIMIT_GAP_MIN", size)
                drop = 0.0 if grows else self.says("LOWER_LIMIT_BASELINE_DROP_MIN", size)
                y = middle.below + max(gap + box.above, drop)
                x -= leans
            over.append((x, y, box))
            above, below = max(above, box.above - y), max(below, box.below + y)
        left = max([0.0, *(-x for x, _, _ in over)])
        placed += middle.moved(left, 0.0)
        for x, y, box in over:
            placed += box.moved(left + x, y)
        width = left + max([middle.width, *(x + box.width for x, _, box in over)])
        return _Box(width, above, below, tuple(placed))

    def _wide(self, node: Node, width: float, style: _Style) -> _Box:
        """A sign as wide as what it stands over: the widest of its forms that is no wider, or a line."""
        size = self.size(style)
        if node.text in "‾¯_":
            rule = self.says("OVERBAR_RULE_THICKNESS", size)
            gap = self.says("OVERBAR_VERTICAL_GAP", size)
            up = (_Placed(0.0, -gap - rule, _Bar(width, rule)),)
            return _Box(width, gap + rule, 0.0, up)
        glyph = self._font.get_nominal_glyph(ord(node.text)) if len(node.text) == 1 else None
        if glyph is None:
            return self.box(node, style)
        found = glyph
        for variant in self._font.get_math_glyph_variants(glyph, "ltr"):
            if variant.advance / self._upem * size > width and found != glyph:
                break
            found = variant.glyph
        return self._alone(found, size)

    def _table(self, node: Node, style: _Style) -> _Box:
        """Rows and columns, with the middle on the axis (3.5)."""
        inner = style._replace(display=False)
        rows = [[self._row(cell.parts, inner) for cell in one.parts] for one in node.parts]
        columns = max(map(len, rows), default=0)
        widths = [max((one[at].width for one in rows if at < len(one)), default=0.0) for at in range(columns)]
        size, y = self.size(style), 0.0
        placed = list[_Placed]()
        for one in rows:
            above = max([0.7 * size, *(cell.above for cell in one)])
            below = max([0.2 * size, *(cell.below for cell in one)])
            y += _AROUND_CELL * size + above
            x = 0.0
            for width, cell in zip(widths, one, strict=False):
                x += _BESIDE_CELL * size
                placed += cell.moved(x + (width - cell.width) / 2, y)
                x += width + _BESIDE_CELL * size
            y += below + _AROUND_CELL * size
        width = sum(widths) + 2 * _BESIDE_CELL * size * columns
        up = y / 2 + self.says("AXIS_HEIGHT", size)
        return _Box(width, up, y - up, _Box(placed=tuple(placed)).moved(0.0, -up))

    def outline(self, box: _Box) -> str:
        """The path of all that stands in a box."""
        said: list[str] = []
        for x, y, what in box.placed:
            if isinstance(what, _Bar):
                said.append(f"M{x:.4g},{y:.4g}h{what.width:.4g}v{what.height:.4g}h{-what.width:.4g}Z")
                continue
            pen = SVGPathPen(None, ntos=lambda value: f"{value:.4g}")
            scale = what.size / self._upem
            self._font.draw_glyph_with_pen(what.id, TransformPen(pen, (scale, 0, 0, -scale, x, y)))
            said.append(pen.getCommands())
        return "".join(said)


def _form(at: int, count: int) -> str:
    """Where a sign stands among the parts of a row (MathML Core, 3.2.4.1)."""
    if count > 1 and at in (0, count - 1):
        return "prefix" if at == 0 else "postfix"
    return "infix"


def _is_plain(node: Node) -> bool:
    """Whether an element is letters and signs, with indices and exponents at most. Browsers are told the same (``kinds/formula.ts``)."""
    return (
        node.tag in TOKENS
        or node.tag == "mspace"
        or (node.tag in ("mrow", *_SCRIPTS) and all(map(_is_plain, node.parts)))
    )


def _core(node: Node) -> Node:
    """What an element is a form of: the sign that has bounds or indices (3.2.4.1, "embellished operators")."""
    while node.parts and (node.tag in _SCRIPTS or node.tag in _LIMITS or (node.tag == "mrow" and len(node.parts) == 1)):
        node = node.parts[0]
    return node


def _slanted(letter: str) -> str:
    """A letter of the alphabet for things (Unicode, "Mathematical Alphanumeric Symbols")."""
    if letter == "h":
        return "ℎ"
    for first, last, to in (("A", "Z", 0x1D434), ("a", "z", 0x1D44E), ("Α", "Ω", 0x1D6E2), ("α", "ω", 0x1D6FC)):
        if first <= letter <= last:
            return chr(to + ord(letter) - ord(first))
    return {"∂": "\U0001d715", "ϵ": "\U0001d716", "ϕ": "\U0001d719"}.get(letter, letter)
