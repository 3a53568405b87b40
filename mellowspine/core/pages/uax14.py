"""The rules of the Unicode line breaking algorithm (UAX #14, Unicode 16.0), in time that grows with the text alone.

What each character is comes from the ``uniseg`` library, which has the rules as well: it is what these are held against
(``tests/reference/test_line_breaks.py``). It goes from each character back to where a rule begins, and takes some 100 µs a
character, and with many combining marks the square of that; a paragraph of Chinese is one word to it.
"""

from __future__ import annotations

from typing import NamedTuple

from uniseg.emoji import extended_pictographic
from uniseg.linebreak import line_break
from uniseg.unicodedatawrapper import category, east_asian_width


class _Character(NamedTuple):
    """What the rules ask of a character: its line breaking class (LB1 done), and a few properties more."""

    kind: str
    opens: bool
    """An opening quotation mark (category Pi)."""
    closes: bool
    """A closing one (Pf)."""
    eastern: bool
    """Wide, as characters of East Asian writing are (UAX #11: F, W, H)."""
    circle: bool
    """U+25CC, which stands for any letter of a Brahmic script."""
    to_come: bool
    """No character yet, but kept for a pictograph."""
    hyphen: bool
    """U+2010."""


class _Characters(dict[str, _Character]):
    def __missing__(self, character: str) -> _Character:
        kind, what = line_break(character).value, category(character).value
        if kind in ("AI", "SG", "XX"):
            kind = "AL"
        elif kind == "SA":
            kind = "CM" if what in ("Mn", "Mc") else "AL"
        elif kind == "CJ":
            kind = "NS"
        found = self[character] = _Character(
            kind,
            what == "Pi",
            what == "Pf",
            east_asian_width(character).value in ("F", "W", "H"),
            character == "\u25cc",
            what == "Cn" and extended_pictographic(character),
            character == "\u2010",
        )
        return found


CHARACTERS = _Characters()
"""By character; looked up when it is first asked for."""
_LETTER = CHARACTERS["A"]

_ENDS = frozenset(("BK", "CR", "LF", "NL"))
_LETTERS = frozenset(("AL", "HL"))
_IDEOGRAPHS = frozenset(("ID", "EB", "EM"))
_HANGUL = frozenset(("JL", "JV", "JT", "H2", "H3"))
_BEFORE_OPENING = _ENDS | {"OP", "QU", "GL", "SP", "ZW"}
_BEHIND_CLOSING = _ENDS | {"SP", "GL", "WJ", "CL", "QU", "CP", "EX", "IS", "SY", "ZW"}
_BEFORE_HYPHEN = _ENDS | {"SP", "ZW", "CB", "GL"}
_AKSARA = frozenset(("AK", "AS"))


def breaks(text: str) -> list[int]:
    """The offsets before which a line may break, but for the first and the one behind all."""
    if not text:
        return []
    # LB9, LB10: a combining mark is as what it stands on; where there is nothing to stand on, as a letter.
    signs: list[_Character] = []
    offsets: list[int] = []
    joined: list[bool] = []
    """Whether a zero width joiner stands before."""
    before = ""
    for offset, character in enumerate(map(CHARACTERS.__getitem__, text)):
        kind = character.kind
        if kind in ("CM", "ZWJ"):
            if signs and signs[-1].kind not in ("BK", "CR", "LF", "NL", "SP", "ZW"):
                before = kind
                continue
            character = _LETTER
        signs.append(character)
        offsets.append(offset)
        joined.append(before == "ZWJ")
        before = kind

    found: list[int] = []
    count = len(signs)
    solid = 0
    """The last sign before the present one that is no space."""
    flags = signs[0].kind == "RI"
    """Whether the last signs are an odd number of regional indicators (LB30a)."""
    figures = signs[0].kind == "NU"
    """Whether the last signs are figures, with ``/ , .`` behind them (LB25)."""
    closed_figures = False
    """The same with one closing bracket behind."""
    for at in range(1, count):
        last, this = signs[at - 1], signs[at]
        prev, curr = last.kind, this.kind
        if prev != "SP":
            solid = at - 1
        behind = signs[solid].kind if signs[solid].kind != "SP" else ""
        if _may_break(signs, at, last, this, prev, curr, solid, behind, joined[at], figures, closed_figures, flags):
            found.append(offsets[at])
        flags = curr == "RI" and not flags
        closed_figures = figures and curr in ("CL", "CP")
        figures = curr == "NU" or (figures and curr in ("SY", "IS"))
    return found


def _may_break(
    signs: list[_Character],
    at: int,
    last: _Character,
    this: _Character,
    prev: str,
    curr: str,
    solid: int,
    behind: str,
    joined: bool,
    figures: bool,
    closed_figures: bool,
    flags: bool,
) -> bool:
    """Whether a line may break before sign ``at``. The first rule that speaks of the place decides."""
    if prev in _LETTERS and curr in _LETTERS and not (last.circle or this.circle or joined):
        return False  # LB28, as no rule before it speaks of two letters
    if prev == "ID" and curr == "ID" and not (joined or last.to_come):
        return True  # LB31
    if prev in _ENDS:  # LB4, LB5
        return not (prev == "CR" and curr == "LF")
    if curr in _ENDS or curr in ("SP", "ZW"):  # LB6, LB7
        return False
    if behind == "ZW":  # LB8
        return True
    if joined or curr == "WJ" or prev == "WJ" or prev == "GL":  # LB8a, LB11, LB12
        return False
    if curr == "GL" and prev not in ("SP", "BA", "HY"):  # LB12a
        return False
    if curr in ("CL", "CP", "EX", "SY"):  # LB13
        return False
    if behind == "OP":  # LB14
        return False
    if signs[solid].opens and (solid == 0 or signs[solid - 1].kind in _BEFORE_OPENING):  # LB15a
        return False
    following = signs[at + 1] if at + 1 < len(signs) else None
    if curr == "QU" and this.closes and (following is None or following.kind in _BEHIND_CLOSING):  # LB15b
        return False
    if curr == "IS":  # LB15c, LB15d
        return prev == "SP" and following is not None and following.kind == "NU"
    if curr == "NS" and behind in ("CL", "CP"):  # LB16
        return False
    if curr == "B2" and behind == "B2":  # LB17
        return False
    if prev == "SP":  # LB18
        return True
    if (curr == "QU" and not this.opens) or (prev == "QU" and not last.closes):  # LB19
        return False
    if curr == "QU" and (not last.eastern or following is None or not following.eastern):  # LB19a
        return False
    if prev == "QU" and (not this.eastern or at == 1 or not signs[at - 2].eastern):
        return False
    if curr == "CB" or prev == "CB":  # LB20
        return True
    if curr == "AL" and (prev == "HY" or last.hyphen) and (at == 1 or signs[at - 2].kind in _BEFORE_HYPHEN):  # LB20a
        return False
    if curr in ("BA", "HY", "NS") or prev == "BB":  # LB21
        return False
    if prev in ("HY", "BA") and at > 1 and signs[at - 2].kind == "HL" and curr != "HL":  # LB21a
        return False
    if (prev == "SY" and curr == "HL") or curr == "IN":  # LB21b, LB22
        return False
    if (prev in _LETTERS and curr == "NU") or (prev == "NU" and curr in _LETTERS):  # LB23
        return False
    if (prev == "PR" and curr in _IDEOGRAPHS) or (prev in _IDEOGRAPHS and curr == "PO"):  # LB23a
        return False
    if (prev in ("PR", "PO") and curr in _LETTERS) or (prev in _LETTERS and curr in ("PR", "PO")):  # LB24
        return False
    if _in_number(signs, at, prev, curr, figures, closed_figures):  # LB25
        return False
    if prev in _HANGUL or curr in _HANGUL:
        if (prev == "JL" and curr in ("JL", "JV", "H2", "H3")) or (
            prev in ("JV", "H2") and curr in ("JV", "JT")
        ):  # LB26
            return False
        if (prev in ("JT", "H3") and curr == "JT") or (prev in _HANGUL and curr == "PO"):  # LB26, LB27
            return False
        if prev == "PR":
            return False
    if prev in _LETTERS and curr in _LETTERS:  # LB28
        return False
    if _in_aksara(signs, at, last, this):  # LB28a
        return False
    if prev == "IS" and curr in _LETTERS:  # LB29
        return False
    if curr == "OP" and not this.eastern and (prev in _LETTERS or prev == "NU"):  # LB30
        return False
    if prev == "CP" and not last.eastern and (curr in _LETTERS or curr == "NU"):
        return False
    if prev == "RI" and curr == "RI" and flags:  # LB30a
        return False
    return not (curr == "EM" and (prev == "EB" or last.to_come))  # LB30b, LB31


def _in_number(signs: list[_Character], at: int, prev: str, curr: str, figures: bool, closed_figures: bool) -> bool:
    """LB25."""
    if curr in ("PO", "PR"):
        return figures or closed_figures
    if curr == "NU":
        return figures or prev in ("PO", "PR", "HY", "IS")
    if curr == "OP" and prev in ("PO", "PR"):
        following = [sign.kind for sign in signs[at + 1 : at + 3]]
        return following[:1] == ["NU"] or following == ["IS", "NU"]
    return False


def _in_aksara(signs: list[_Character], at: int, last: _Character, this: _Character) -> bool:
    """LB28a: syllables of Brahmic scripts."""
    prev_is, curr_is = last.kind in _AKSARA or last.circle, this.kind in _AKSARA or this.circle
    if last.kind == "AP" and curr_is:
        return True
    if prev_is and this.kind in ("VF", "VI"):
        return True
    if last.kind == "VI" and (this.kind == "AK" or this.circle) and at > 1:
        return signs[at - 2].kind in _AKSARA or signs[at - 2].circle
    return prev_is and curr_is and at + 1 < len(signs) and signs[at + 1].kind == "VF"
