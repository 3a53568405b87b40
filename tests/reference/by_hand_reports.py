"""Reports of known structure whose headings are made by hand: what the finder is held against.

The headings of a report lose their styles and get the look of one by formatting, as many reports arrive; titles, captions
and quotations likewise. Among them stands what looks like a heading and is none.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from random import Random

from mellowspine.core.pages.as_set import blocks_as_set
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Align, Block, Cell, DataTable, Marks, Paragraph, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import default_styles
from mellowspine.core.structure.outline import outline


@dataclass(frozen=True)
class ByHandLook:
    marks: Marks
    align: Align | None = None
    capitals: bool = False


def _sizes(*sizes: float, **marks: bool) -> tuple[ByHandLook, ...]:
    return tuple(ByHandLook(Marks(size=size, **marks)) for size in sizes)


BOLD, ITALIC, BOTH = Marks(bold=True), Marks(italic=True), Marks(bold=True, italic=True)

LOOKS: Mapping[str, tuple[ByHandLook, ...]] = {
    "larger and bold": _sizes(20, 15, 12.5, 11.5, bold=True),
    "larger alone": _sizes(20, 16, 13.5, 12),
    "one size": (
        ByHandLook(BOLD, capitals=True),
        ByHandLook(BOLD),
        ByHandLook(BOTH),
        ByHandLook(ITALIC),
    ),
    "centred capitals, then underlined": (
        ByHandLook(BOLD, "center", capitals=True),
        ByHandLook(BOLD),
        ByHandLook(Marks(underline=True)),
        ByHandLook(ITALIC),
    ),
    "another face and colour": (
        ByHandLook(Marks(font="Carlito", size=18, colour="#884422", bold=True)),
        ByHandLook(Marks(font="Carlito", size=14, colour="#884422", bold=True)),
        ByHandLook(Marks(font="Carlito", size=12, bold=True)),
        ByHandLook(Marks(font="Carlito", size=12, bold=True, italic=True)),
    ),
}
"""How the headings of four levels look, by name."""

ALL_ALIKE = (ByHandLook(Marks(bold=True)),) * 4
"""All headings bold: only their numbers tell of levels."""


def made_by_hand(
    report: Report, looks: tuple[ByHandLook, ...], numbers: str, behind: str, seed: int
) -> tuple[Report, dict[str, int]]:
    """The report with headings made by hand, and the level of each by id.

    ``numbers`` names the scheme of typed numbers, ``behind`` is what stands behind each. The looks of levels without one
    of their own are that of the last.
    """
    random = Random(seed)
    # Labels of captions and references as people type them.
    printed = blocks_as_set(paginate(report, Typefaces()).report)
    report = replace(
        report, blocks=tuple(replace(one, caption=None) if isinstance(one, Paragraph) else one for one in printed)
    )
    numbered = outline(replace(report, numbering=SCHEMES[numbers]))
    known = {heading.id: heading for heading in numbered}
    levels = {heading.id: heading.level for heading in numbered}
    styles = report.styles
    blocks: list[Block] = []
    for block in report.blocks:
        if isinstance(block, DataTable):
            block = _with_bold_lines(block)
        elif isinstance(block, Paragraph) and block.id in known:
            heading = known[block.id]
            look = looks[min(heading.level, len(looks)) - 1]
            words = block.text.upper() if look.capitals else block.text
            number = heading.number + behind if heading.number else ""
            runs = _with_emphasis(number, words, look.marks, random)
            block = Paragraph(block.id, "body", runs, look.align)
        elif isinstance(block, Paragraph):
            block = _as_typed(block, styles[block.style].role, random)
        blocks.append(block)
        if isinstance(block, Paragraph) and len(block.text) > 80 and random.random() < 0.08:
            blocks.extend(_traps(f"{block.id}-t", random))
    return Report(report.title, tuple(blocks), default_styles()), levels


def _with_emphasis(number: str, words: str, marks: Marks, random: Random) -> tuple[Run, ...]:
    """The words of a heading; now and then the last of them, if it is short, is emphasised."""
    *first, last = words.split(" ")
    if first and len(last) < len(words) / 6 and random.random() < 0.3:
        return Run(f"{number}{' '.join(first)} ", marks), Run(last, replace(marks, italic=not marks.italic))
    return (Run(number + words, marks),)


def _as_typed(block: Paragraph, role: str | None, random: Random) -> Paragraph:
    match role:
        case "title":
            return Paragraph(block.id, "body", (Run(block.text, Marks(bold=True, size=26)),), "center")
        case "subtitle":
            return Paragraph(block.id, "body", (Run(block.text, Marks(size=11)),), "center")
        case "caption":
            return Paragraph(block.id, "body", (Run(block.text, BOLD),))
        case "quotation":
            return Paragraph(block.id, "body", tuple(replace(run, marks=ITALIC) for run in block.runs))
        case "body" if random.random() < 0.1 and len(block.text) > 150:
            # A lead-in: bold words at the start of a paragraph.
            words = block.text.split(" ")
            lead = " ".join(words[:3])
            return Paragraph(block.id, "body", (Run(lead + ".", BOLD), Run(" " + " ".join(words[3:]))))
    return block


def _with_bold_lines(table: DataTable) -> DataTable:
    first, *rest = table.rows
    bold = tuple(
        Cell(
            tuple(replace(p, runs=tuple(replace(run, marks=BOLD) for run in p.runs)) for p in cell.paragraphs),
            cell.columns,
        )
        for cell in first
    )
    return replace(table, rows=(bold, *rest))


_TRAPS: tuple[tuple[tuple[str, Marks], ...], ...] = (
    (("Harbour and Baths Trust", BOLD), ("4 Quay Lane", Marks()), ("Quillmere", Marks())),
    (("Ines Varga", BOLD), ("Tobias Okonjo", BOLD), ("Maren Lisk", BOLD), ("Piet Halloran", BOLD)),
    (("“We never shut the gate on a rising tide.”", ITALIC),),
    (("The keeper said it again on the last day of the season, and nobody wrote it down.", ITALIC),),
    (("Nobody goes down to the steps while the red ball is up.", BOLD),),
    (("Note: the figures are those of the spring survey, not of the autumn one.", BOLD),),
    (("three ropes", Marks()), ("two ladders", Marks()), ("a boat hook", Marks())),
)


def _traps(id: str, random: Random) -> Iterator[Paragraph]:
    for index, (words, marks) in enumerate(random.choice(_TRAPS)):
        yield Paragraph(f"{id}{index}", "body", (Run(words, marks),))
