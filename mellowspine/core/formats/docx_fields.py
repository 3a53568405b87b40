"""Tables of contents in Office Open XML: complex fields that begin with TOC (ISO/IEC 29500-1, 17.16.5.68)."""

from __future__ import annotations

import re

from docx.oxml.ns import qn
from lxml.etree import _Element

from ..report.recipes import Recipe
from ..report.styles import LEVELS
from ..report.tables import Issued

_CONTENTS = re.compile(r"\s*TOC\b(?!.*\\c)", re.DOTALL)
_LEVELS = re.compile(r'\\o\s+"(\d)\s*-\s*(\d)"')


class ContentsFields:
    """Follows the fields of a document paragraph by paragraph. A field may span paragraphs and hold further fields.

    ``tables`` holds a recipe for every contents field met; their lines are made from the report, not from the file.
    """

    def __init__(self) -> None:
        self.tables: dict[str, Issued] = {}
        self.began = False
        self._instructions: list[str] = []
        self._recipe = Recipe()

    def takes(self, paragraph: _Element) -> bool:
        """Whether the paragraph belongs to a contents field; ``began`` says whether it is the first that does."""
        inside = any(_CONTENTS.match(text) for text in self._instructions)
        self.began = False
        for element in paragraph.iter(qn("w:fldChar"), qn("w:instrText"), qn("w:fldSimple")):
            if element.tag == qn("w:instrText"):
                if self._instructions:
                    self._instructions[-1] += element.text or ""
                    self._look(self._instructions[-1], inside)
            elif element.tag == qn("w:fldSimple"):
                self._look(element.get(qn("w:instr")) or "", inside)
            elif element.get(qn("w:fldCharType")) == "begin":
                self._instructions.append("")
            elif element.get(qn("w:fldCharType")) == "end" and self._instructions:
                self._instructions.pop()
        return inside or self.began

    def add(self) -> str:
        """Keeps the table that just began; returns its key."""
        key = f"contents-{len(self.tables) + 1}"
        self.tables[key] = Issued(self._recipe)
        return key

    def _look(self, instruction: str, inside: bool) -> None:
        if inside or not _CONTENTS.match(instruction):
            return
        self.began = True
        span = _LEVELS.search(instruction)
        levels = range(int(span[1]), int(span[2]) + 1) if span else LEVELS
        # The file has its own paragraph for the title, if it wants one.
        self._recipe = Recipe(title="", levels=tuple(level for level in levels if level in LEVELS) or Recipe().levels)
