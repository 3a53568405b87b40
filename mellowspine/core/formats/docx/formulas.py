"""Formulas of Office Open XML (ISO/IEC 29500-1, 22.1), written in one line: with raised and lowered letters, and strokes for fractions.

What stands over or under something else stands behind it; brackets show what belongs together where the line does not.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Mapping

from lxml.etree import _Element

from ...report.blocks import Marks, Run, Script
from ..runs import join_runs
from .xml import MATH, local, qn

DEEPEST = 60
"""How deep what stands in each other is told apart; what is deeper leaves its characters."""
_SIMPLE = re.compile(r"[\w.,′%°]{0,12}")
"""What needs no brackets around it."""
_ACCENTS: Mapping[str, str] = {"^": "\u0302", "~": "\u0303", "¯": "\u0304", "˙": "\u0307", "→": "\u20d7"}
"""Signs over a letter that are given as signs of their own; others combine by themselves (22.1.2.1)."""


def runs_of_formula(element: _Element, link: str | None) -> tuple[Run, ...]:
    """The words of a formula, or of several, as runs."""
    return join_runs([*_Line(link).of(element, None, 0)])


def _said(element: _Element, properties: str, name: str, usual: str) -> str:
    """What a property says; ``usual`` where it is not given."""
    found = _child(_child(element, properties), name)
    return usual if found is None else found.get(f"{MATH}val") or ""


def _child(element: _Element | None, name: str) -> _Element | None:
    return None if element is None else element.find(f"{MATH}{name}")


class _Line:
    def __init__(self, link: str | None) -> None:
        self._link = link

    def _run(self, text: str, script: Script | None, italic: bool | None = None, bold: bool | None = None) -> Run:
        return Run(text, Marks(bold=bold, italic=italic, script=script, link=self._link))

    def of(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """What an element is in the line. ``script``: where the letters around it stand."""
        if depth > DEEPEST:
            yield self._run("".join(one.text or "" for one in element.iter(f"{MATH}t", qn("w:t"))), script)
            return
        if isinstance(element.tag, str) and element.tag == f"{MATH}r":
            yield from self._letters(element, script)
            return
        made = getattr(self, f"_of_{local(element)}", None) if isinstance(element.tag, str) else None
        if made is not None and element.tag.startswith(MATH):
            yield from made(element, script, depth + 1)
            return
        for one in element:
            yield from self.of(one, script, depth + 1)

    def _letters(self, element: _Element, script: Script | None) -> Iterator[Run]:
        """A run (22.1.2.87): letters are slanted where it does not say otherwise (22.1.2.104); those of alphabets for mathematics
        are the usual ones with a look (Unicode, "Mathematical Alphanumeric Symbols")."""
        style = _said(element, "rPr", "sty", "i")
        if _child(_child(element, "rPr"), "nor") is not None:
            style = "p"
        for words in element.iterfind(f"{MATH}t"):
            for one in words.text or "":
                plain, name = one, ""
                if 0x1D400 <= ord(one) <= 0x1D7FF:
                    plain, name = unicodedata.normalize("NFKC", one), unicodedata.name(one, "")
                italic = "ITALIC" in name if name else style in ("i", "bi") and plain.isalpha()
                yield self._run(plain, script, italic or None, style in ("b", "bi") or " BOLD " in name or None)

    def _in(self, element: _Element, name: str, script: Script | None, depth: int) -> list[Run]:
        found = _child(element, name)
        return [] if found is None else [*self.of(found, script, depth)]

    def _bracketed(self, runs: list[Run], script: Script | None) -> Iterator[Run]:
        text = "".join(run.text for run in runs)
        simple = _SIMPLE.fullmatch(text) and not any(run.marks.script != script for run in runs)
        yield from runs if simple else (self._run("(", script), *runs, self._run(")", script))

    def _of_f(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """A fraction (22.1.2.36)."""
        above, below = (self._in(element, name, script, depth) for name in ("num", "den"))
        yield from self._bracketed(above, script)
        if above and below:
            yield self._run(", " if _said(element, "fPr", "type", "bar") == "noBar" else "/", script)
        yield from self._bracketed(below, script)

    def _of_sSup(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """An exponent (22.1.2.105), an index (22.1.2.101), both (22.1.2.103), or both in front (22.1.2.99)."""
        scripts: tuple[tuple[str, Script], ...] = (("sub", "sub"), ("sup", "super"))
        parts = [run for name, place in scripts for run in self._in(element, name, place, depth)]
        base = self._in(element, "e", script, depth)
        yield from (*parts, *base) if local(element) == "sPre" else (*base, *parts)

    _of_sSub = _of_sSubSup = _of_sPre = _of_sSup

    def _of_rad(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """A root (22.1.2.88)."""
        if _said(element, "radPr", "degHide", "0") in ("0", "off", "false"):
            yield from self._in(element, "deg", "super", depth)
        yield self._run("√", script)
        yield from self._bracketed(self._in(element, "e", script, depth), script)

    def _of_nary(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """A sum, an integral and the like (22.1.2.70)."""
        yield self._run(_said(element, "naryPr", "chr", "∫") or "∫", script)
        yield from self._in(element, "sub", "sub", depth)
        yield from self._in(element, "sup", "super", depth)
        yield self._run(" ", script)
        yield from self._in(element, "e", script, depth)

    def _of_d(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """Brackets (22.1.2.24)."""
        yield self._run(_said(element, "dPr", "begChr", "("), script)
        for at, one in enumerate(element.iterfind(f"{MATH}e")):
            if at:
                yield self._run(_said(element, "dPr", "sepChr", "|"), script)
            yield from self.of(one, script, depth)
        yield self._run(_said(element, "dPr", "endChr", ")"), script)

    def _of_func(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """A function by its name (22.1.2.39)."""
        yield from self._in(element, "fName", script, depth)
        yield self._run(" ", script)
        yield from self._in(element, "e", script, depth)

    def _of_limLow(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """What stands under something (22.1.2.54) or over it (22.1.2.56)."""
        yield from self._in(element, "e", script, depth)
        yield from self._in(element, "lim", "sub" if local(element) == "limLow" else "super", depth)

    _of_limUpp = _of_limLow

    def _of_acc(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """A sign over a letter (22.1.2.1)."""
        given = _said(element, "accPr", "chr", "\u0302")
        sign = _ACCENTS.get(given, given)
        yield from self._in(element, "e", script, depth)
        yield self._run(sign if len(sign) == 1 and unicodedata.combining(sign) else "", script)

    def _of_m(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """A matrix (22.1.2.60): its rows parted by semicolons, their cells by commas."""
        for at, row in enumerate(element.iterfind(f"{MATH}mr")):
            if at:
                yield self._run("; ", script)
            for number, cell in enumerate(row.iterfind(f"{MATH}e")):
                if number:
                    yield self._run(", ", script)
                yield from self.of(cell, script, depth)

    def _of_eqArr(self, element: _Element, script: Script | None, depth: int) -> Iterator[Run]:
        """Equations one below the other (22.1.2.34)."""
        for at, one in enumerate(element.iterfind(f"{MATH}e")):
            if at:
                yield self._run("\n", script)
            yield from self.of(one, script, depth)
