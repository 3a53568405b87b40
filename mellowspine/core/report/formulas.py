"""Formulas: presentation MathML (MathML Core), as much of it as says what a formula is.

A formula is kept as it is written: ``<math>`` with the elements below, without a namespace, and with few attributes. What anybody
gives is brought into that form, or is no formula. What is not known falls back to what stands in it.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import lru_cache
from html import escape
from typing import NamedTuple
from xml.etree import ElementTree

FORMULA = "\ue000"
"""The character that a formula is in the text of a paragraph. One for private use: lines break around it as around a letter."""

LONGEST = 20_000
"""Characters of a formula as it is written."""
DEEPEST = 24
"""How deep its elements stand in each other."""

TOKENS = frozenset(("mi", "mn", "mo", "mtext"))
"""Elements that hold characters (3.2)."""
HOLDING: Mapping[str, int] = {
    "mfrac": 2, "mroot": 2, "msub": 2, "msup": 2, "msubsup": 3, "munder": 2, "mover": 2, "munderover": 3,
}  # fmt: skip
"""Elements with so many parts (3.3, 3.4)."""
_GONE = frozenset(
    ("annotation", "annotation-xml", "mphantom", "maligngroup", "malignmark", "none", "mprescripts", "script", "style")
)
ATTRIBUTES: Mapping[str, Mapping[str, frozenset[str]]] = {
    "math": {"display": frozenset(("block",))},
    "mi": {"mathvariant": frozenset(("normal",))},
    "mo": {"stretchy": frozenset(("true", "false")), "form": frozenset(("prefix", "infix", "postfix"))},
    "mfrac": {"linethickness": frozenset(("0",))},
    "mover": {"accent": frozenset(("true",))},
    "munder": {"accentunder": frozenset(("true",))},
    "munderover": {"accent": frozenset(("true",)), "accentunder": frozenset(("true",))},
}
"""What attributes may say, by element; browsers are told the same (``api/settings.ts``)."""
SPACE = re.compile(r"(?:\d{1,2}(?:\.\d{1,4})?|\.\d{1,4})em")
"""The width of a space."""
ELEMENTS = ("math", "mrow", "msqrt", "mtable", "mtr", "mtd", "mspace", *sorted(TOKENS), *HOLDING)
"""Of which formulas are made."""


class Node(NamedTuple):
    """An element of a formula: its tag, what its attributes say, the characters of a token, and its parts."""

    tag: str
    attributes: Mapping[str, str] = {}
    text: str = ""
    parts: Sequence[Node] = ()


NOTHING = Node("mrow")


def formula(given: object) -> str | None:
    """What anybody gave for a formula, in the form in which it is kept; None if it is none, or too long or deep."""
    return _formula(given) if isinstance(given, str) and len(given) <= LONGEST else None


@lru_cache(maxsize=1 << 12)
def _formula(given: str) -> str | None:
    found = _read(given)
    said = written(found) if found else ""
    # What is kept has to be readable again: in this form it may be longer, or deeper.
    return said if 0 < len(said) <= LONGEST and (said == given or _formula(said) == said) else None


@lru_cache(maxsize=1 << 10)
def tree(said: str) -> Node:
    """A formula in the form in which it is kept, as elements; an empty one for what is none."""
    return _read(said) or Node("math")


def written(node: Node) -> str:
    """Elements as they are kept."""
    said = "".join(f' {name}="{value}"' for name, value in node.attributes.items())
    inside = escape(node.text, quote=False) if node.tag in TOKENS else "".join(map(written, node.parts))
    return f"<{node.tag}{said}>{inside}</{node.tag}>"


def _read(given: str) -> Node | None:
    # What declares anything of its own could refer to more than it is long.
    if "<!" in given or "<?" in given:
        return None
    try:
        root = ElementTree.fromstring(given)
    except (ElementTree.ParseError, ValueError):
        return None
    if _name(root) != "math" or _depth(root) > DEEPEST:
        return None
    made = Node("math", _said("math", root.attrib), parts=tuple(_parts(root)))
    return made if words_of_node(made).strip() else None


def _name(element: ElementTree.Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _depth(root: ElementTree.Element) -> int:
    """How deep elements stand in each other, no deeper than is asked for."""
    row, depth = [root], 0
    while row and depth <= DEEPEST:
        row, depth = [inner for one in row for inner in one], depth + 1
    return depth


def _said(tag: str, given: Mapping[str, str]) -> dict[str, str]:
    known = ATTRIBUTES.get(tag, {})
    return {name: given[name].strip() for name in known if given.get(name, "").strip() in known[name]}


def _parts(element: ElementTree.Element) -> list[Node]:
    """What stands in an element, words that no token holds as well."""
    found = [*_bare(element.text)]
    for one in element:
        found += [*_nodes(one), *_bare(one.tail)]
    return found


def _bare(text: str | None) -> Iterator[Node]:
    if words := " ".join((text or "").split()):
        yield Node("mtext", text=words)


def _nodes(element: ElementTree.Element) -> Iterator[Node]:
    """What an element is, of those that are known: itself, or what stands in it."""
    tag = _name(element)
    if tag in _GONE or not tag:
        return
    if tag == "ms":
        tag = "mtext"
    if tag in TOKENS:
        words = " ".join("".join(element.itertext()).split())
        if words:
            yield Node(tag, _said(tag, element.attrib), "−" if (tag, words) == ("mo", "-") else words)
        return
    if tag == "mspace":
        width = element.get("width", "").strip()
        yield Node("mspace", {"width": width} if SPACE.fullmatch(width) else {})
    elif tag == "semantics":
        yield from (_nodes(element[0]) if len(element) else ())
    elif tag == "mfenced":
        yield _fenced(element)
    elif tag == "mmultiscripts":
        yield from _multiscripts(element)
    elif tag == "mtable":
        yield Node("mtable", parts=_table(element))
    elif tag in HOLDING:
        given = [row(list(_nodes(one))) for one in element]
        given += [NOTHING] * (HOLDING[tag] - len(given))
        yield Node(tag, _said(tag, element.attrib), parts=tuple(given[: HOLDING[tag]]))
    elif tag == "msqrt":
        yield Node(tag, parts=tuple(_parts(element)))
    elif tag in ("mrow", "math", "mstyle", "mpadded", "merror", "mtd", "mtr", "menclose", "maction"):
        yield row(_parts(element))
    else:
        yield from _parts(element)


def row(parts: Sequence[Node]) -> Node:
    """Parts as one."""
    return parts[0] if len(parts) == 1 else Node("mrow", parts=tuple(parts))


def _fenced(element: ElementTree.Element) -> Node:
    """What stands in brackets (MathML 3, 3.3.8)."""
    signs = [*"".join(element.get("separators", ",").split())]
    inside: list[Node] = []
    for at, one in enumerate(element):
        if at and signs:
            inside.append(Node("mo", text=signs[min(at - 1, len(signs) - 1)]))
        inside += _nodes(one)
    return brackets(element.get("open", "(").strip(), inside, element.get("close", ")").strip())


def brackets(opening: str, inside: Sequence[Node], closing: str) -> Node:
    """Parts between signs that grow with them; an empty sign is none."""
    before = [Node("mo", {"stretchy": "true", "form": "prefix"}, opening)] if opening else []
    behind = [Node("mo", {"stretchy": "true", "form": "postfix"}, closing)] if closing else []
    return row([*before, *inside, *behind])


def _multiscripts(element: ElementTree.Element) -> Iterator[Node]:
    """Indices and exponents on both sides (3.4.7): of each side the first."""
    given = [(_name(one), row(list(_nodes(one)))) for one in element]
    at = next((at for at, (name, _) in enumerate(given) if name == "mprescripts"), len(given))
    before, behind = [one for _, one in given[at + 1 : at + 3]], [one for _, one in given[1:at][:2]]
    base = given[0][1] if at else NOTHING
    if before:
        yield Node("msubsup", parts=(NOTHING, *before, *[NOTHING] * (2 - len(before))))
    yield Node("msubsup", parts=(base, *behind, *[NOTHING] * (2 - len(behind)))) if behind else base


def _table(element: ElementTree.Element) -> tuple[Node, ...]:
    """Rows of cells (3.5)."""
    return tuple(
        Node("mtr", parts=tuple(Node("mtd", parts=tuple(_parts(cell))) for cell in one if _name(cell) == "mtd"))
        for one in element
        if _name(one) == "mtr"
    )


_RAISED = str.maketrans("0123456789+-−=()ni", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻⁼⁽⁾ⁿⁱ")
_LOWERED = str.maketrans("0123456789+-−=()aeoxijn", "₀₁₂₃₄₅₆₇₈₉₊₋₋₌₍₎ₐₑₒₓᵢⱼₙ")
_SIMPLE = re.compile(r"[\w.,′%°∞]{0,12}")
"""What needs no brackets around it."""
_ACCENTS: Mapping[str, str] = {
    "^": "\u0302", "ˆ": "\u0302", "~": "\u0303", "˜": "\u0303", "¯": "\u0304", "‾": "\u0304", "_": "\u0332", "˙": "\u0307", "¨": "\u0308",
    "→": "\u20d7", "⃗": "\u20d7",
}  # fmt: skip
_BELOW: Mapping[str, Node] = dict.fromkeys(("¯", "‾", "_"), Node("mo", text="\u0332"))
_NAME_AT_START, _NAME_AT_END = re.compile(r"[A-Za-zÀ-ɏΑ-ω]+"), re.compile(r"[A-Za-zÀ-ɏΑ-ω]+$")
_BIG = frozenset("∑∏∐∫∬∭∮⋃⋂⨁⨂")
_SPACED = frozenset("=<>≤≥≠≈≡→←⇒⇔±×÷∈∉⊂⊆∼≅∝")


@lru_cache(maxsize=1 << 10)
def words_of_formula(said: str) -> str:
    """A formula in one line of plain words, for where it cannot be drawn: (a+b)/2c, x², √(x+1)."""
    return " ".join(words_of_node(tree(said)).split())


def words_of_node(node: Node) -> str:
    """The words of an element and its parts."""
    if node.tag in TOKENS:
        plain = "".join(
            unicodedata.normalize("NFKC", one) if 0x1D400 <= ord(one) <= 0x1D7FF else one for one in node.text
        )
        return f" {plain} " if node.tag == "mo" and plain in _SPACED else plain
    made = _SAID.get(node.tag)
    return made(node.parts) if made else _in_a_row(node.parts)


def _in_a_row(parts: Sequence[Node]) -> str:
    """One behind the other; between two words, and behind a sum, a space."""
    said = last = ""
    before = NOTHING
    for one in parts:
        words = words_of_node(one)
        big = (before.parts[0] if before.parts else before).text in _BIG and one.tag != "mo"
        names = _NAME_AT_END.search(last), _NAME_AT_START.match(words)
        apart = all(names) and max(len(found[0]) for found in names if found) > 1
        said += f" {words}" if big or apart else words
        before, last = one, words
    return said


def _bracketed(node: Node) -> str:
    words = words_of_node(node).strip()
    return words if _SIMPLE.fullmatch(words) else f"({words})"


def _over(parts: Sequence[Node]) -> str:
    above, below = map(_bracketed, parts)
    return f"{above}/{below}" if above and below else above + below


def _root(parts: Sequence[Node]) -> str:
    return f"{_script(parts[1], _RAISED, '')}√{_bracketed(parts[0])}"


def _script(node: Node, to: Mapping[int, int | str | None], sign: str) -> str:
    words = words_of_node(node).strip().replace(" ", "")
    if not words:
        return ""
    if all(ord(one) in to for one in words):
        return words.translate(to)
    return f"{sign}{words}" if len(words) == 1 or words == "′" else f"{sign}({words_of_node(node).strip()})"


def _sub(parts: Sequence[Node]) -> str:
    return words_of_node(parts[0]) + _script(parts[1], _LOWERED, "_")


def _super(parts: Sequence[Node]) -> str:
    if words_of_node(parts[1]) in ("′", "″"):
        return words_of_node(parts[0]) + words_of_node(parts[1])
    return words_of_node(parts[0]) + _script(parts[1], _RAISED, "^")


def _both(parts: Sequence[Node]) -> str:
    return words_of_node(parts[0]) + _script(parts[1], _LOWERED, "_") + _script(parts[2], _RAISED, "^")


def _accented(parts: Sequence[Node], otherwise: Callable[[Sequence[Node]], str]) -> str:
    sign = _ACCENTS.get(parts[1].text, parts[1].text)
    if len(sign) == 1 and unicodedata.combining(sign):
        base = words_of_node(parts[0])
        return f"{base}{sign}" if len(base) == 1 else f"{_bracketed(parts[0])}{sign}"
    return otherwise(parts)


_SAID: Mapping[str, Callable[[Sequence[Node]], str]] = {
    "mfrac": _over,
    "msqrt": lambda parts: f"√{_bracketed(row(parts))}",
    "mroot": _root,
    "msub": _sub,
    "msup": _super,
    "msubsup": _both,
    "munder": lambda parts: _accented((parts[0], _BELOW.get(parts[1].text, parts[1])), _sub),
    "mover": lambda parts: _accented(parts, _super),
    "munderover": _both,
    "mspace": lambda parts: " ",
    "mtable": lambda parts: "; ".join(map(words_of_node, parts)),
    "mtr": lambda parts: ", ".join(words_of_node(one).strip() for one in parts),
}
