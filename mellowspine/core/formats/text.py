"""Plain text. Blank lines part paragraphs; without any, each line is a paragraph. A form feed is a page break.

Written in UTF-8, with heading numbers, list markers, and tables with their page numbers.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import singledispatch

from ..pages.as_set import as_set, blocks_as_set, in_words
from ..report.blocks import (
    Block,
    DataTable,
    Image,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Run,
    Script,
    ThematicBreak,
    with_paragraphs,
)
from ..report.grids import all_columns
from ..report.report import Report
from ..structure.markers import list_markers
from .imported import FileRefused, Imported, Progress, new_ids, refuse_too_many
from .walk import Written, plain_words

_CONTROLS = re.compile(r"[\x00-\x08\x0b\x0e-\x1f\x7f]")


def decode(data: bytes) -> str:
    """UTF-8, UTF-16 with a byte order mark, or else Windows-1252. Raises FileRefused for what is no text."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return without_controls(data.decode("utf-16"))
        except UnicodeDecodeError:
            raise FileRefused(
                "The text is cut off in the middle of a character; save the file again as UTF-8."
            ) from None
    if b"\0" in data:
        raise FileRefused("The file is not plain text; choose the program's own “save as text”, or a .docx file.")
    try:
        return without_controls(data.decode("utf-8-sig"))
    except UnicodeDecodeError:
        return without_controls(data.decode("cp1252", errors="replace"))


def without_controls(text: str) -> str:
    """The text with line ends of one kind, and without what stands for no character."""
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    return _CONTROLS.sub("", text)


def read(data: bytes, name: str, progress: Progress, _beside: Mapping[str, bytes]) -> Imported:
    text = decode(data)
    ids = new_ids()
    blocks: list[Block] = []
    sheets = text.split("\f")
    for number, sheet in enumerate(sheets):
        refuse_too_many(len(blocks))
        if number:
            blocks.append(PageBreak(next(ids)))
        parted = "\n\n" in sheet.strip("\n")
        parts = sheet.strip("\n").split("\n\n") if parted else sheet.strip("\n").split("\n")
        for done, part in enumerate(parts):
            if done % 500 == 0:
                progress(number * len(parts) + done, len(sheets) * len(parts))
            words = " ".join(line.strip(" ") for line in part.split("\n")) if parted else part
            if words.strip():
                blocks.append(Paragraph(next(ids), runs=(Run(words.strip(" ")),)))
    return Imported(Report(title=name, blocks=tuple(blocks) or (Paragraph(next(ids)),)), {})


def write_piece(blocks: Sequence[Block], report: Report, markers: Mapping[str, str]) -> str:
    """Some blocks of a report as it is set, such as were copied. ``markers``: list markers and heading numbers, by id."""
    said = with_paragraphs(blocks, lambda paragraph: in_words(as_set(paragraph, report)))
    return "\n".join(part for part in (_plain_text(block, report, markers) for block in said) if part)


def write(given: Written) -> bytes:
    report = replace(given.report, blocks=blocks_as_set(given.pages.report))
    numbers = {heading.id: heading.number for heading in given.pages.headings if heading.number}
    markers = {**list_markers(report), **numbers}
    parts = []
    for done, (at, _) in enumerate(given.blocks):
        if done % 500 == 0:
            given.progress(at, len(report.blocks))
        block = report.blocks[at]
        parts.append(_plain_text(block, report, markers))
    # A form feed stands on a line of its own, and what is nothing leaves no blank lines.
    return ("\n\n".join(part for part in parts if part) + "\n").encode()


@singledispatch
def _plain_text(block: Block, report: Report, markers: Mapping[str, str]) -> str:
    return plain_words(block)


_PLACES: Mapping[Script, dict[int, int]] = {
    "super": str.maketrans("0123456789+-=()ni", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁼⁽⁾ⁿⁱ"),
    "sub": str.maketrans("0123456789+-=()", "₀₁₂₃₄₅₆₇₈₉₊₋₌₍₎"),
}
"""Characters that are raised or lowered by themselves (Unicode, "Superscripts and Subscripts")."""


def _in_place(run: Run) -> str:
    """Raised and lowered figures as such: 10³ is not 103. Other letters stay on the line."""
    if run.marks.script is None:
        return run.text
    table = _PLACES[run.marks.script]
    return run.text.translate(table) if all(ord(one) in table for one in run.text) else run.text


@_plain_text.register
def _(block: Paragraph, report: Report, markers: Mapping[str, str]) -> str:
    marker = markers.get(block.id)
    # What is raised on paper, the signs of notes, stands in brackets.
    words = "".join(f"[{r.text}]" if r.marks.raised and r.text.strip() else _in_place(r) for r in block.runs)
    return f"{marker} {words}" if marker else words


@_plain_text.register
def _(block: Image, report: Report, markers: Mapping[str, str]) -> str:
    return f"[{block.alt}]" if block.alt else ""


@_plain_text.register
def _(block: DataTable, report: Report, markers: Mapping[str, str]) -> str:
    rows = (
        (" ".join(_plain_text(one, report, markers) for one in cell.blocks) if cell else "" for cell in row)
        for row in all_columns(block.rows)
    )
    return "\n".join("\t".join(row) for row in rows)


@_plain_text.register
def _(block: ThematicBreak, report: Report, markers: Mapping[str, str]) -> str:
    return "* * *"


@_plain_text.register
def _(block: PageBreak | PartStart, report: Report, markers: Mapping[str, str]) -> str:
    return "\f"


@_plain_text.register
def _(block: PlacedTable, report: Report, markers: Mapping[str, str]) -> str:
    issued = report.tables.get(block.table)
    if issued is None:
        return ""
    recipe = issued.recipe
    lines = []
    for line in issued.lines:
        words = line.text if recipe.numbers == "none" else f"{line.number} {line.text}".strip()
        numbered = recipe.page_numbers != "none" and recipe.look(line.level).page_number
        lines.append("  " * (line.level - 1) + words + (f"\t{', '.join(line.pages)}" if numbered else ""))
    return "\n".join([*filter(None, [recipe.title]), *lines])
