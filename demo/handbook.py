"""The *Stewards’ Handbook*: a text as it often arrives. Its headings only look like headings, its contents were typed
with rows of dots, and new pages were made with rows of empty paragraphs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from mellowspine.core.report.blocks import Block, Marks, Paragraph, Run
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles

SOURCE = Path(__file__).with_name("handbook.txt")

CHAPTER = Marks(bold=True, size=18.0, font="Carlito")
SECTION = Marks(bold=True, size=13.0, font="Carlito")
DETAIL = Marks(bold=True, italic=True)


def handbook() -> Report:
    """Reads the source, in which ``= ``, ``- `` and ``~ `` begin by-hand headings of three looks and ``% `` a number of
    empty paragraphs."""
    styles = [replace(s, size=14.0, line_spacing=1.65) if s.id == "body" else s for s in default_styles().values()]
    return Report("Stewards’ Handbook", tuple(_blocks()), StyleSheet(styles))


def _blocks() -> Iterator[Block]:
    looks = {"= ": CHAPTER, "- ": SECTION, "~ ": DETAIL}
    number = 0
    for line in SOURCE.read_text().splitlines():
        if not line.strip():
            continue
        if line.startswith("% "):
            for _ in range(int(line[2:])):
                number += 1
                yield Paragraph(f"s{number:05}")
            continue
        number += 1
        marks = looks.get(line[:2])
        text = line[2:] if marks else line
        yield Paragraph(f"s{number:05}", runs=(Run(text, marks or Marks()),))
