"""Formulas as Office Open XML has them (ISO/IEC 29500-1, 22.1): what ``docx/formulas.py`` reads, written."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lxml.etree import _Element

from ...report.blocks import Align
from ...report.formulas import Node, tree
from .xml import clean, made

_ACCENTS = {"^": "\u0302", "~": "\u0303", "¯": "\u0304", "‾": "\u0305", "˙": "\u0307", "¨": "\u0308", "→": "\u20d7"}
"""Signs over a letter as those that combine with it (22.1.2.1)."""
_SUMS = frozenset("∑∏∐∫∬∭∮∯∰⋃⋂⨁⨂⋁⋀")
_OPENING, _CLOSING = frozenset("([{⟨⌈⌊|‖"), frozenset(")]}⟩⌉⌋|‖")


def formula_of(said: str, align: Align) -> _Element:
    """A formula in its line, or on a line of its own where it says so (22.1.2.78)."""
    node = tree(said)
    formula = made("m:oMath", *_row(node.parts))
    if node.attributes.get("display") != "block":
        return formula
    place = {"left": "left", "right": "right"}.get(align, "center")
    return made("m:oMathPara", made("m:oMathParaPr", made("m:jc", val=place)), formula)


def _row(parts: Sequence[Node]) -> Iterator[_Element]:
    """Parts one behind the other. A sum takes what follows it, and brackets what stands between them."""
    at = 0
    while at < len(parts):
        one = parts[at]
        if _is_sum(one):
            rest = parts[at + 1 :]
            yield _sum(one, rest)
            return
        closing = _closing(parts, at)
        if closing is not None:
            yield _brackets(one.text, parts[at + 1 : closing], parts[closing].text)
            at = closing + 1
            continue
        yield from _node(one)
        at += 1


def _is_sum(node: Node) -> bool:
    base = node.parts[0] if node.tag in _BOUNDS and node.parts else node
    return base.tag == "mo" and base.text in _SUMS


_BOUNDS = {"munder": "u", "mover": "o", "munderover": "uo", "msub": "u", "msup": "o", "msubsup": "uo"}
"""Elements that say the bounds of a sum: below, above, or both."""


def _closing(parts: Sequence[Node], at: int) -> int | None:
    """Where the sign stands that closes a bracket which opens at a place; None for none."""
    one = parts[at]
    if one.tag != "mo" or one.attributes.get("form") != "prefix" or one.text not in _OPENING:
        return None
    depth = 0
    for number in range(at, len(parts)):
        other = parts[number]
        if other.tag != "mo":
            continue
        form = other.attributes.get("form")
        depth += (form == "prefix" and other.text in _OPENING) - (form == "postfix" and other.text in _CLOSING)
        if not depth:
            return number
    return None


def _brackets(opening: str, inside: Sequence[Node], closing: str) -> _Element:
    """22.1.2.24; parts are parted by one sign."""
    parts: list[list[Node]] = [[]]
    separator = ""
    for one in inside:
        parting = one.tag == "mo" and one.attributes.get("form") == "infix" and one.attributes.get("stretchy") == "true"
        if parting and separator in ("", one.text):
            separator = one.text
            parts.append([])
        else:
            parts[-1].append(one)
    look = made(
        "m:dPr",
        made("m:begChr", val=clean(opening)),
        made("m:sepChr", val=clean(separator)) if separator else None,
        made("m:endChr", val=clean(closing)),
    )
    return made("m:d", look, *(made("m:e", *_row(part)) for part in parts))


def _sum(node: Node, rest: Sequence[Node]) -> _Element:
    """22.1.2.70."""
    base = node.parts[0] if node.parts else node
    which = _BOUNDS.get(node.tag, "") if node.parts else ""
    below = node.parts[1] if which.startswith("u") else None
    above = node.parts[-1] if which.endswith("o") else None
    look = made(
        "m:naryPr",
        made("m:chr", val=base.text),
        made("m:limLoc", val="subSup" if node.tag.startswith("ms") else "undOvr"),
        made("m:subHide", val="1") if below is None else None,
        made("m:supHide", val="1") if above is None else None,
    )
    return made("m:nary", look, _part("sub", below), _part("sup", above), made("m:e", *_row(rest)))


def _part(tag: str, node: Node | None) -> _Element:
    return made(f"m:{tag}", *(_row(_inside(node)) if node else ()))


def _inside(node: Node) -> Sequence[Node]:
    """The parts of a row; an element that is none by itself."""
    return node.parts if node.tag in ("mrow", "mtd", "math") else (node,)


def _node(node: Node) -> Iterator[_Element]:
    match node.tag:
        case "mi" | "mn" | "mo" | "mtext":
            if node.text:
                yield _letters(node)
        case "mrow" | "math":
            yield from _row(node.parts)
        case "mfrac":
            look = made("m:fPr", made("m:type", val="noBar")) if node.attributes.get("linethickness") == "0" else None
            yield made("m:f", look, _part("num", node.parts[0]), _part("den", node.parts[1]))
        case "msqrt":
            hidden = made("m:radPr", made("m:degHide", val="1"))
            yield made("m:rad", hidden, made("m:deg"), made("m:e", *_row(node.parts)))
        case "mroot":
            yield made("m:rad", _part("deg", node.parts[1]), _part("e", node.parts[0]))
        case "msub":
            yield made("m:sSub", _part("e", node.parts[0]), _part("sub", node.parts[1]))
        case "msup":
            yield made("m:sSup", _part("e", node.parts[0]), _part("sup", node.parts[1]))
        case "msubsup":
            yield made(
                "m:sSubSup", *(_part(tag, one) for tag, one in zip(("e", "sub", "sup"), node.parts, strict=True))
            )
        case "munder":
            yield _under(node)
        case "mover":
            yield _over(node)
        case "munderover":
            inner = made("m:limLow", _part("e", node.parts[0]), _part("lim", node.parts[1]))
            yield made("m:limUpp", made("m:e", inner), _part("lim", node.parts[2]))
        case "mtable":
            rows = [made("m:mr", *(made("m:e", *_row(cell.parts)) for cell in row.parts)) for row in node.parts]
            yield made("m:m", *rows)
        case "mspace":
            yield _words(" ")


def _under(node: Node) -> _Element:
    below = node.parts[1]
    if node.attributes.get("accentunder") == "true" and below.text in ("¯", "‾", "_"):
        return made("m:bar", made("m:barPr", made("m:pos", val="bot")), _part("e", node.parts[0]))
    if below.tag == "mo" and below.attributes.get("stretchy") == "true" and len(below.text) == 1:
        look = made("m:groupChrPr", made("m:chr", val=below.text), made("m:pos", val="bot"))
        return made("m:groupChr", look, _part("e", node.parts[0]))
    return made("m:limLow", _part("e", node.parts[0]), _part("lim", below))


def _over(node: Node) -> _Element:
    above = node.parts[1]
    if node.attributes.get("accent") == "true" and above.tag == "mo" and len(above.text) == 1:
        if above.text == "‾":
            return made("m:bar", made("m:barPr", made("m:pos", val="top")), _part("e", node.parts[0]))
        sign = _ACCENTS.get(above.text, above.text)
        return made("m:acc", made("m:accPr", made("m:chr", val=sign)), _part("e", node.parts[0]))
    if above.tag == "mo" and above.attributes.get("stretchy") == "true" and len(above.text) == 1:
        look = made(
            "m:groupChrPr", made("m:chr", val=above.text), made("m:pos", val="top"), made("m:vertJc", val="bot")
        )
        return made("m:groupChr", look, _part("e", node.parts[0]))
    return made("m:limUpp", _part("e", node.parts[0]), _part("lim", above))


def _letters(node: Node) -> _Element:
    """A run (22.1.2.87): names of several letters, and single ones that say so, are upright (22.1.2.104)."""
    if node.tag == "mtext":
        return _words(node.text)
    upright = node.tag == "mi" and (len(node.text) > 1 or node.attributes.get("mathvariant") == "normal")
    return made("m:r", made("m:rPr", made("m:sty", val="p")) if upright else None, _text(node.text))


def _words(words: str) -> _Element:
    """Normal text within a formula (22.1.2.75)."""
    return made("m:r", made("m:rPr", made("m:nor")), _text(words))


def _text(words: str) -> _Element:
    element = made("m:t")
    element.text = clean(words)
    if words != words.strip():
        element.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
    return element
