"""Formulas of Office Open XML (ISO/IEC 29500-1, 22.1) as MathML."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import lru_cache

from lxml.etree import _Element

from ...report.blocks import Align, Marks, Run
from ...report.formulas import DEEPEST, FORMULA, NOTHING, Node, brackets, formula, row, words_of_node, written
from .xml import MATH, SKIPPED, local, qn

_SAME: Mapping[str, str] = {
    "\u0302": "^",
    "\u0303": "~",
    "\u0304": "¯",
    "\u0305": "‾",
    "\u0307": "˙",
    "\u0308": "¨",
    "\u20d7": "→",
}
"""Signs over a letter that combine with it, as signs of their own (22.1.2.1)."""
_TOKENS = re.compile(r"\d+(?:[.,]\d+)*|[^\W\d_]|\s+|.", re.DOTALL)
_ALPHABETS: Mapping[str, str] = {
    "double-struck": "DOUBLE-STRUCK", "fraktur": "FRAKTUR", "monospace": "MONOSPACE", "sans-serif": "SANS-SERIF", "script": "SCRIPT",
}  # fmt: skip
"""The scripts of 22.1.2.90 as Unicode calls them ("Mathematical Alphanumeric Symbols")."""
_PLAIN_LOOK = frozenset(
    ("rFonts", "i", "iCs", "b", "bCs", "lang", "noProof", "rStyle", "szCs", "kern", "ins", "del", "rPrChange")
)
"""What is said of the letters of formulas (17.3.2) and changes nothing in them."""


def runs_of_formula(element: _Element, link: str | None) -> tuple[Run, ...]:
    """Formulas as runs: each a character of its own, those of one paragraph of formulas (22.1.2.78) on lines of their own.

    What is nested too deep is its words.
    """
    if local(element) != "oMathPara":
        return (_run_of(element, False, link),)
    runs: list[Run] = []
    for one in element.iterfind(f"{MATH}oMath"):
        runs += [*([Run("\n")] if runs else []), _run_of(one, True, link)]
    return tuple(runs)


def lost_of(element: _Element) -> Iterator[str]:
    """The kinds of what formulas do not have here: colours and sizes of their letters, counted once a formula, boxes around parts, and
    what was put in and taken out under review."""
    formulas = [element] if local(element) != "oMathPara" else element.iterfind(f"{MATH}oMath")
    for one in formulas:
        looks = (look for run in one.iter(f"{MATH}r") for look in run.iterfind(f"{qn('w:rPr')}/*"))
        if any(isinstance(look.tag, str) and local(look) not in _PLAIN_LOOK for look in looks):
            yield "formula-look"
        yield from _lost_within(one)


def _lost_within(element: _Element) -> Iterator[str]:
    """Boxes and tracked changes, as far as they stand in what is shown."""
    for one in element:
        if one.tag in (qn("w:del"), qn("w:moveFrom")):
            yield "tracked-deletion"
            continue
        if one.tag == f"{MATH}phant" and not _is_shown(one):
            continue
        if one.tag == f"{MATH}borderBox":
            yield "formula-box"
        if one.tag in (qn("w:ins"), qn("w:moveTo")) and next(one.iter(f"{MATH}r", qn("w:r")), None) is not None:
            yield "tracked-insertion"
        yield from _lost_within(one)


def _is_shown(phantom: _Element) -> bool:
    return _said(phantom, "phantPr", "show", "1") not in ("0", "off", "false")


def is_formula(run: Run) -> bool:
    """Whether a run of ``runs_of_formula`` is one, or nothing, and not its words."""
    return bool(run.marks.formula) or not run.text.strip()


def is_alone(run: Run) -> bool:
    """Whether a run is a formula that stands on a line of its own."""
    return bool(run.marks.formula and run.marks.formula.startswith('<math display="block">'))


def justification(element: _Element) -> Align:
    """Where the formulas of a paragraph stand (22.1.2.51): in the middle, if it says nothing else."""
    said = next(
        (one.get(f"{MATH}val") for one in element.iterfind(f"{MATH}oMathPara/{MATH}oMathParaPr/{MATH}jc")), None
    )
    return "left" if said == "left" else "right" if said == "right" else "center"


def _run_of(element: _Element, alone: bool, link: str | None) -> Run:
    parts = [*_parts(element)] if _is_shallow(element) else []
    made = formula(written(Node("math", {"display": "block"} if alone else {}, parts=tuple(parts))))
    if made:
        return Run(FORMULA, Marks(formula=made))
    if not words_of_node(Node("math", parts=tuple(parts))).strip() and _is_shallow(element):
        return Run("")  # nothing of it is shown
    return Run("".join(one.text or "" for one in element.iter(f"{MATH}t", qn("w:t"))), Marks(link=link))


def _is_shallow(element: _Element) -> bool:
    """Whether so little stands in each other that it can be a formula: two elements of theirs for each of ours."""
    level, depth = [element], 0
    while level and depth <= 3 * DEEPEST:
        level, depth = [inner for one in level for inner in one], depth + 1
    return not level


def _parts(element: _Element | None) -> Iterator[Node]:
    """What stands in an element, in its order."""
    for one in element if element is not None else ():
        if not isinstance(one.tag, str) or one.tag in SKIPPED or local(one).endswith("Pr"):
            continue
        if one.tag == f"{MATH}r":
            yield from _letters(one)
        elif one.tag == qn("w:r"):
            yield from (Node("mtext", text=t.text) for t in one.iterfind(qn("w:t")) if t.text)
        elif made := _MADE.get(local(one)) if one.tag.startswith(MATH) else None:
            yield made(one)
        else:
            yield from _parts(one)


def _in(element: _Element, name: str) -> Node:
    return row([*_parts(_child(element, name))])


def _child(element: _Element | None, name: str) -> _Element | None:
    return None if element is None else element.find(f"{MATH}{name}")


def _said(element: _Element, properties: str, name: str, usual: str) -> str:
    """What a property says; ``usual`` where it is not given."""
    found = _child(_child(element, properties), name)
    return usual if found is None else found.get(f"{MATH}val") or ""


def _letters(run: _Element) -> Iterator[Node]:
    """A run (22.1.2.87): letters are slanted where it does not say otherwise (22.1.2.104), and each is one thing; upright ones that
    stand together are a name. What is normal text (22.1.2.75) is no mathematics."""
    style, script = _said(run, "rPr", "sty", "i"), _said(run, "rPr", "scr", "roman")
    words = "".join(one.text or "" for one in run.iterfind(f"{MATH}t"))
    if _child(_child(run, "rPr"), "nor") is not None:
        if words:
            yield Node("mtext", text=words)
        return
    name = ""
    for token in _TOKENS.findall(words):
        if style == "p" and script == "roman" and token.isalpha():
            name += token
            continue
        if name:
            yield _name(name)
            name = ""
        if token.isspace():
            continue
        if token[0].isdigit():
            yield Node("mn", text="".join(_in_alphabet(one, script, style) for one in token))
        elif token.isalpha():
            yield Node("mi", text=_in_alphabet(token, script, style))
        else:
            yield Node("mo", text=token)
    if name:
        yield _name(name)


def _name(letters: str) -> Node:
    return Node("mi", {"mathvariant": "normal"} if len(letters) == 1 else {}, letters)


@lru_cache(maxsize=1 << 10)
def _in_alphabet(letter: str, script: str, style: str) -> str:
    """A letter or figure of an alphabet for mathematics; itself where there is none such."""
    bold, slanted, alphabet = style in ("b", "bi"), style == "bi", _ALPHABETS.get(script, "")
    if not (bold or alphabet) or not letter.isascii():
        return letter
    kind = "DIGIT" if letter.isdigit() else "CAPITAL" if letter.isupper() else "SMALL"
    name = f"{kind} {unicodedata.name(letter).split()[-1]}"
    weights = " ".join(
        filter(
            None, ("BOLD" if bold else "", alphabet, "ITALIC" if slanted and not alphabet and kind != "DIGIT" else "")
        )
    )
    # Some were there before the others, under shorter names.
    for wanted in (
        f"MATHEMATICAL {weights} {name}",
        f"MATHEMATICAL {alphabet} {name}",
        f"{alphabet} {name}".replace("FRAKTUR", "BLACK-LETTER"),
    ):
        try:
            return unicodedata.lookup(" ".join(wanted.split()))
        except KeyError:
            continue
    return letter


def _fraction(element: _Element) -> Node:
    """22.1.2.36."""
    kind = _said(element, "fPr", "type", "bar")
    parts = _in(element, "num"), _in(element, "den")
    if kind in ("lin", "skw"):
        return Node("mrow", parts=(parts[0], Node("mo", text="/"), parts[1]))
    return Node("mfrac", {"linethickness": "0"} if kind == "noBar" else {}, parts=parts)


def _scripts(element: _Element) -> Node:
    """An exponent (22.1.2.105), an index (22.1.2.101), both (22.1.2.103), or both in front (22.1.2.99)."""
    kind, base = local(element), _in(element, "e")
    sub, raised = (_in(element, name) for name in ("sub", "sup"))
    if kind == "sPre":
        return Node("mrow", parts=(Node("msubsup", parts=(NOTHING, sub, raised)), base))
    if kind == "sSub":
        return Node("msub", parts=(base, sub))
    return Node("msup", parts=(base, raised)) if kind == "sSup" else Node("msubsup", parts=(base, sub, raised))


def _root(element: _Element) -> Node:
    """22.1.2.88."""
    inside, degree = _in(element, "e"), _in(element, "deg")
    if _said(element, "radPr", "degHide", "0") not in ("0", "off", "false") or degree == NOTHING:
        return Node("msqrt", parts=(inside,))
    return Node("mroot", parts=(inside, degree))


def _sum(element: _Element) -> Node:
    """A sum, an integral and the like (22.1.2.70): its bounds over and under it, or at its side (22.1.2.53)."""
    sign = _said(element, "naryPr", "chr", "∫") or "∫"
    at_side = _said(element, "naryPr", "limLoc", "subSup" if sign in "∫∬∭∮∯∰" else "undOvr") == "subSup"
    operator = Node("mo", {"form": "prefix"}, sign)
    lower, upper = _in(element, "sub"), _in(element, "sup")
    tags = ("msub", "msup", "msubsup") if at_side else ("munder", "mover", "munderover")
    if lower != NOTHING and upper != NOTHING:
        operator = Node(tags[2], parts=(operator, lower, upper))
    elif lower != NOTHING or upper != NOTHING:
        operator = Node(tags[upper != NOTHING], parts=(operator, upper if lower == NOTHING else lower))
    return Node("mrow", parts=(operator, _in(element, "e")))


def _brackets(element: _Element) -> Node:
    """22.1.2.24."""
    inside: list[Node] = []
    for one in element.iterfind(f"{MATH}e"):
        if inside and (sign := _said(element, "dPr", "sepChr", "|")):
            inside.append(Node("mo", {"stretchy": "true", "form": "infix"}, sign))
        inside.append(row([*_parts(one)]))
    return brackets(_said(element, "dPr", "begChr", "("), inside, _said(element, "dPr", "endChr", ")"))


def _function(element: _Element) -> Node:
    """A function by its name (22.1.2.39)."""
    return Node("mrow", parts=(_in(element, "fName"), Node("mspace", {"width": "0.1667em"}), _in(element, "e")))


def _limit(element: _Element) -> Node:
    """What stands under something (22.1.2.54) or over it (22.1.2.56)."""
    tag = "munder" if local(element) == "limLow" else "mover"
    return Node(tag, parts=(_in(element, "e"), _in(element, "lim")))


def _accent(element: _Element) -> Node:
    """A sign over a letter (22.1.2.1)."""
    sign = _said(element, "accPr", "chr", "\u0302")
    return _over(_in(element, "e"), _SAME.get(sign, sign))


def _bar(element: _Element) -> Node:
    """A line over something, or under it (22.1.2.7)."""
    inside = _in(element, "e")
    if _said(element, "barPr", "pos", "bot") == "top":
        return _over(inside, "‾")
    return Node("munder", {"accentunder": "true"}, parts=(inside, Node("mo", {"stretchy": "true"}, "¯")))


def _over(inside: Node, sign: str) -> Node:
    return Node("mover", {"accent": "true"}, parts=(inside, Node("mo", text=sign))) if sign else inside


def _grouped(element: _Element) -> Node:
    """A brace or the like over or under something (22.1.2.41)."""
    sign, below = _said(element, "groupChrPr", "chr", "⏟"), _said(element, "groupChrPr", "pos", "bot") != "top"
    return Node("munder" if below else "mover", parts=(_in(element, "e"), Node("mo", {"stretchy": "true"}, sign)))


def _phantom(element: _Element) -> Node:
    """What has a place; it is seen where it does not say otherwise (22.1.2.81)."""
    return _in(element, "e") if _is_shown(element) else NOTHING


def _matrix(element: _Element) -> Node:
    """22.1.2.60; and equations one below the other (22.1.2.34)."""
    if local(element) == "eqArr":
        rows: Sequence[Sequence[_Element]] = [[one] for one in element.iterfind(f"{MATH}e")]
    else:
        rows = [[*one.iterfind(f"{MATH}e")] for one in element.iterfind(f"{MATH}mr")]
    cells = [tuple(Node("mtd", parts=tuple(_parts(cell))) for cell in one) for one in rows]
    return Node("mtable", parts=tuple(Node("mtr", parts=one) for one in cells))


_MADE: Mapping[str, Callable[[_Element], Node]] = {
    "f": _fraction,
    **dict.fromkeys(("sSup", "sSub", "sSubSup", "sPre"), _scripts),
    "rad": _root,
    "nary": _sum,
    "d": _brackets,
    "func": _function,
    **dict.fromkeys(("limLow", "limUpp"), _limit),
    "acc": _accent,
    "bar": _bar,
    "phant": _phantom,
    "groupChr": _grouped,
    **dict.fromkeys(("m", "eqArr"), _matrix),
}
