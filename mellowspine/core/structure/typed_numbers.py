"""Numbers typed in front of headings, as people write them."""

from __future__ import annotations

import re
from collections.abc import Hashable, Iterable, Sequence
from typing import Literal, NamedTuple, TypeVar

from .numbering import figure

NumberForm = Literal["decimal", "roman", "letter"]


class TypedNumber(NamedTuple):
    """A number typed in front of words. ``label`` is it as it stands there, ``end`` where the words behind it begin.

    ``depth`` is how many figures a decimal number has: 2 for "2.1"; 1 for all others. ``prefix`` is a word in front of it,
    such as "chapter".
    """

    label: str
    end: int
    form: NumberForm
    depth: int
    value: int
    prefix: str


_PREFIX = r"(?:(?P<prefix>part|chapter|section|article|appendix|annex|volume|book)\s+|§\s*)"
_FIGURES = r"(?:(?P<decimal>\d{1,3}(?:\.\d{1,3})*|[A-Z](?:\.\d{1,3})+)|(?P<roman>[IVXLC]{1,7}|[ivxlc]{1,7})|(?P<letter>[A-Za-z]))"
_TYPED = re.compile(
    # Behind a prefix a number may end the line, or be followed by a dash; a letter or a roman numeral needs a point.
    rf"\s*(?:{_PREFIX}(?P<figure>one|two|three|four|five|six|seven|eight|nine|ten|{_FIGURES})(?P<after>[.:)]?(?:\s+[–—-])?(?:\s+|$))"
    rf"|{_FIGURES.replace('<', '<own_')}(?P<own_after>[.)]{{1,2}}\s+|[.)]?\t\s*|\s+))",
    re.IGNORECASE,
)
_IN_BRACKETS = re.compile(r"\s*\((?P<figure>\d{1,2}|[a-z]|[ivx]{1,5})\)\s+")
_WORDS = ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
_ROMAN = {"i": 1, "v": 5, "x": 10, "l": 50, "c": 100}


def roman(text: str) -> int:
    """The value of a roman numeral; 0 for what is none."""
    values = [_ROMAN.get(sign, 0) for sign in text.lower()]
    total = sum(-a if a < b else a for a, b in zip(values, [*values[1:], 0], strict=True))
    return total if figure(total, "lower-roman") == text.lower() else 0


def typed_number(text: str) -> TypedNumber | None:
    """The number that a text begins with; None if it begins with none.

    A single letter may be a roman numeral as well: "I" and "i" are taken for one, other letters are not.
    """
    if found := _IN_BRACKETS.match(text):
        return _read(found["figure"], text[: found.end()].strip(), found.end(), "")
    found = _TYPED.match(text)
    if not found:
        return None
    prefix = (found["prefix"] or ("§" if "§" in found[0] else "")).lower()
    sign = found["figure"] or found["own_decimal"] or found["own_roman"] or found["own_letter"]
    after = found["after"] if found["after"] is not None else found["own_after"]
    plain = not sign[0].isdigit() and not prefix and "." not in sign
    if plain and not after.strip(" \t").startswith((".", ")")) and "\t" not in after:
        return None  # "A house", "I think", "Mix of both"
    if sign.lower() in _WORDS:
        return TypedNumber(found[0].strip(), found.end(), "decimal", 1, _WORDS.index(sign.lower()) + 1, prefix)
    return _read(sign, found[0].strip(), found.end(), prefix)


def _read(sign: str, label: str, end: int, prefix: str) -> TypedNumber | None:
    if "." in sign or sign.isdigit():
        parts = sign.split(".")
        return TypedNumber(label, end, "decimal", len(parts), int(parts[-1]), prefix)
    if len(sign) > 1 or sign in "Ii":
        value = roman(sign)
        return TypedNumber(label, end, "roman", 1, value, prefix) if value else None
    return TypedNumber(label, end, "letter", 1, ord(sign.lower()) - ord("a") + 1, prefix)


class NumberKind(NamedTuple):
    """What numbers of one level have in common."""

    form: NumberForm
    depth: int
    upper: bool
    prefix: str


Key = TypeVar("Key", bound=Hashable)


def counting(numbers: Iterable[tuple[Key, TypedNumber]]) -> dict[NumberKind, list[Key]]:
    """Typed numbers by kind, in reading order; those that do not count on from each other are none, such as "20" in front
    of "20 questions"."""
    kinds: dict[NumberKind, list[tuple[Key, TypedNumber]]] = {}
    last_roman = 0
    for key, typed in numbers:
        form, sign = typed.form, _sign(typed)
        # "V" is a letter behind "U" and a numeral behind "IV".
        if form == "letter" and last_roman and roman(sign) == last_roman + 1:
            form = "roman"
        if form == "roman":
            last_roman = roman(sign) or typed.value
        kinds.setdefault(NumberKind(form, typed.depth, sign[-1:].isupper(), typed.prefix), []).append((key, typed))
    return {
        kind: [key for key, _ in members]
        for kind, members in kinds.items()
        if kind.depth > 1 or kind.prefix or _count_on([typed for _, typed in members])
    }


def _sign(typed: TypedNumber) -> str:
    return typed.label.strip("().:")


def _count_on(numbers: Sequence[TypedNumber]) -> bool:
    """Whether most single figures are the first, or count on from the one before."""
    good = sum(
        one.value == 1
        or (last is not None and (one.value == last.value + 1 or roman(_sign(one)) == roman(_sign(last)) + 1))
        for last, one in zip([None, *numbers], numbers, strict=False)
    )
    return good >= 0.5 * len(numbers)
