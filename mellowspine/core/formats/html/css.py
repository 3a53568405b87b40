"""What HTML says of looks: style attributes, and rules of its own for tags and classes. All other rules are left aside.

CSS Syntax 3 by ``tinycss2``; values are in small letters, as they stand there.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from functools import lru_cache

import tinycss2
import tinycss2.color4
from lxml.etree import _Element

from ...pages.typefaces import family, named
from ...report.blocks import Capitals

Declared = Mapping[str, str]

_SIMPLE = re.compile(r"([a-z][a-z0-9]*)?(?:\.([\w-]+))?")
_LENGTH = re.compile(r"(-?\d*\.?\d+)\s*(pt|px|cm|mm|in|pc|em|rem|%)")
_POINTS = {"pt": 1.0, "px": 0.75, "cm": 72 / 2.54, "mm": 7.2 / 2.54, "in": 72.0, "pc": 12.0, "rem": 12.0}
_SIZES = {
    "xx-small": 7.0,
    "x-small": 7.5,
    "small": 10.0,
    "medium": 12.0,
    "large": 13.5,
    "x-large": 18.0,
    "xx-large": 24.0,
}
_OF_FONT = ("", "x-small", "small", "medium", "large", "x-large", "xx-large", "xx-large")
"""Sizes of the tag ``font`` (the HTML standard, 15.3.4, from memory)."""
_GENERIC = re.compile(
    r"serif|sans-serif|monospace|cursive|fantasy|math|emoji|fangsong|-?(system|apple-system|ui-[a-z-]+)(-ui)?|blinkmacsystemfont"
)
_MONOSPACE = re.compile(r"mono|courier|consol|menlo|typewriter", re.IGNORECASE)


@lru_cache(maxsize=4096)
def declared(text: str) -> Declared:
    """The declarations of a style attribute, or of a rule."""
    found = tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True)
    said = {one.lower_name: tinycss2.serialize(one.value).strip() for one in found if one.type == "declaration"}
    return {name: value if name == "font-family" else value.lower() for name, value in said.items()}


class Rules:
    """The rules that a document has for tags and classes."""

    def __init__(self, sheets: Iterator[str]) -> None:
        self._by_selector: dict[tuple[str, str], dict[str, str]] = {}
        for sheet in sheets:
            # Some programs wrap them in what was a comment to the first browsers.
            for rule in tinycss2.parse_stylesheet(
                re.sub(r"<!--|-->", " ", sheet), skip_comments=True, skip_whitespace=True
            ):
                if rule.type != "qualified-rule":
                    continue
                values = declared(tinycss2.serialize(rule.content))
                for selector in tinycss2.serialize(rule.prelude).lower().split(","):
                    if (simple := _SIMPLE.fullmatch(selector.strip())) and selector.strip():
                        self._by_selector.setdefault((simple[1] or "", simple[2] or ""), {}).update(values)

    def of(self, element: _Element) -> Declared:
        """What is declared for an element: by its tag, its classes, and itself."""
        own = element.get("style")
        if not self._by_selector:
            return declared(own) if own else {}
        classes = (element.get("class") or "").lower().split()
        found: dict[str, str] = {}
        for selector in ((element.tag, ""), *(("", one) for one in classes), *((element.tag, one) for one in classes)):
            found.update(self._by_selector.get(selector, {}))
        return {**found, **declared(own)} if own else found


def points(value: str, size: float = 12.0, whole: float = 12.0) -> float | None:
    """A length in points; None if it is none. ``size``: that of the letters around; ``whole``: what 100 % is."""
    if not (found := _LENGTH.fullmatch(value)):
        return None
    number, unit = float(found[1]), found[2]
    return number * (size if unit == "em" else whole / 100 if unit == "%" else _POINTS[unit])


def letter_size(value: str, parent: float) -> float | None:
    """A size of letters in points, within what a report can have."""
    found = _SIZES.get(value) or {"smaller": parent / 1.2, "larger": parent * 1.2}.get(value)
    size = found or points(value, parent, parent)
    return None if size is None or not 4 <= size <= 200 else round(size * 2) / 2


def size_of_font(value: str) -> float | None:
    """A size that the tag ``font`` says, from 1 to 7."""
    return _SIZES.get(_OF_FONT[int(value)]) if value in "1234567" and value else None


def is_bold(value: str) -> bool | None:
    if value in ("bold", "bolder"):
        return True
    return None if not value else value.isdigit() and int(value) >= 600


def capitals(said: Declared) -> Capitals | None:
    """Whether letters are shown as capitals (CSS Text 3, 2.1; CSS Fonts 4, 6.8)."""
    variant = said.get("font-variant-caps", said.get("font-variant", ""))
    if "small-caps" in variant:
        return "small"
    transform = said.get("text-transform", "")
    if transform == "uppercase":
        return "all"
    return "none" if transform == "none" or variant == "normal" else None


def is_monospace(value: str) -> bool:
    return bool(_MONOSPACE.search(value.split(",")[0]))


def face(value: str) -> str | None:
    """The first of the families that are asked for; of a generic one (CSS Fonts 4, 2.1.4) the shipped one of its kind."""
    first = value.split(",")[0].strip(" \"'")
    if not first or first in ("inherit", "initial", "unset"):
        return None
    return family(first) if _GENERIC.fullmatch(first.lower()) else named(first)


def colour(value: str) -> str | None:
    """A colour as ``#rrggbb``; None for what is none, or cannot be seen."""
    found = tinycss2.color4.parse_color(value)
    if found is None or isinstance(found, str) or found.alpha < 0.5:
        return None
    red, green, blue = (round(min(max(one, 0), 1) * 255) for one in found.to("srgb").coordinates)
    return f"#{red:02x}{green:02x}{blue:02x}"
