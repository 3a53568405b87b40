"""What of a report has to be the same once it has been written and read again: all that somebody would see or could set."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import asdict, fields, replace
from typing import Any

from mellowspine.core.formats.imported import Imported
from mellowspine.core.formats.runs import join_runs
from mellowspine.core.pages.beside import fitted
from mellowspine.core.pages.pages import Pages
from mellowspine.core.report.blocks import Block, DataTable, Image, Marks, Paragraph, PartStart, PlacedTable, Run
from mellowspine.core.report.grids import grid_of
from mellowspine.core.report.links import inner
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.styles import Style
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import paragraphs

Said = list[str]


class NormalForm:
    """A report in words, line by line, with places for ids: two that say the same are the same but for their ids.

    Lengths are rounded to tenths of a point, since files have them in twentieths; pictures are as large as they are printed; what a
    paragraph or its words say as their style does is left out.
    """

    def __init__(self, imported: Imported, pages: Pages) -> None:
        self.report, self.pages, self.pictures = imported.report, pages, imported.pictures
        self._places: dict[str, str] = {}
        for number, one in enumerate(paragraphs(self.report)):
            self._places.setdefault(one.id, f"paragraph {number}")
            for run in one.runs:
                if run.marks.bookmark:
                    self._places.setdefault(run.marks.bookmark.id, f"bookmark in {number}")
        self._markers = list_markers(self.report)
        self._numbers = {one.id: one.number for one in pages.headings}
        self._silenced = {one.id for one in pages.headings if 0 < one.counted.unnumbered < one.level}
        """Headings without a number since one above them has none."""

    def all(self) -> Said:
        return [*self.blocks(), *self.styles(), *self.settings(), *self.tables()]

    def blocks(self) -> Said:
        return [line for at, block in enumerate(self.report.blocks) for line in self._block(at, block)]

    def styles(self) -> Said:
        return [self._style(style) for style in self.report.styles.values()]

    def _style(self, style: Style) -> str:
        sheet = self.report.styles
        said = asdict(style) | {
            "next": sheet[style.next].name,
            "based_on": style.based_on and sheet[style.based_on].name,
        }
        said["declared"] = sorted(style.declared)
        return f"style {style.name}: " + ", ".join(f"{name}={value}" for name, value in sorted(said.items()))

    def settings(self) -> Said:
        report = self.report
        found = [f"title {report.title}", f"numbering {report.numbering}"]
        found += [f"label {one}" for one in report.labels.values()]
        found += [f"category {one}" for one in report.categories.values()]
        found += [f"authority {one}" for one in report.authorities.values()]
        found += [f"see {one}" for one in sorted(report.sees)]
        found += [f"page {one.name} {getattr(report.page, one.name)}" for one in fields(report.page)]
        starts = [FIRST, *(block.id for block in report.blocks if isinstance(block, PartStart))]
        return found + sorted(
            f"part {starts.index(id)}: {replace(part, page={})} {sorted(part.page.items())}"
            for id, part in report.parts.items()
            if id in starts and part != Part()
        )

    def tables(self) -> Said:
        found: Said = []
        for block in self.report.blocks:
            if isinstance(block, PlacedTable) and (issued := self.report.tables.get(block.table)):
                recipe = issued.recipe
                section = self._places.get(recipe.section, recipe.section)
                own = sorted((self._places.get(id, id), str(words.words)) for id, words in issued.own.items())
                found.append(
                    f"{replace(recipe, section='', feeds={})} {sorted(recipe.feeds.items())} of {section}; {own}"
                )
        return found

    # --- Blocks ---

    def _block(self, at: int, block: Block) -> Iterator[str]:
        match block:
            case Paragraph():
                yield self._paragraph(block)
            case Image():
                yield self._image(block, fitted(block, self.pages.on_paper(at)))
            case DataTable():
                yield f"data table {block.header_rows} {block.align} {block.indent}"
                for slot in (slot for slots in grid_of(block.rows) for slot in slots):
                    look = {name: getattr(slot.cell, name) for name in ("background", "borders", "vertical", "padding")}
                    yield f"  cell {slot[1:]} {look}"
                    yield from (f"    {self._in_cell(one)}" for one in slot.cell.blocks)
            case PlacedTable():
                yield f"table {block.kind} {block.own_page}"
            case _:
                yield type(block).__name__

    def _in_cell(self, block: Paragraph | Image) -> str:
        if isinstance(block, Paragraph):
            return self._paragraph(block)
        return self._image(block, (block.width, block.height))

    def _image(self, block: Image, size: tuple[float, float]) -> str:
        wide, high = (round(one, 1) for one in size)
        return f"picture {wide} × {high} {block.align} {block.beside} {block.alt!r} {len(self.pictures[block.source])}"

    def _paragraph(self, block: Paragraph) -> str:
        style = self.report.styles[block.style]
        said: dict[str, Any] = {}
        for one in fields(Paragraph):
            value = getattr(block, one.name)
            if one.name in ("id", "style", "runs") or value is None or value == getattr(style, one.name, None):
                continue
            said[one.name] = round(value, 1) if isinstance(value, float) else value
        if "borders" in said:
            said["borders"] = re.sub(
                r"[\d.]+ #", "#", said["borders"]
            )  # two lines are a third as wide each, in eighths of a point
        if style.outline_level and not self._numbers.get(block.id):
            said.pop("number_from", None)
        if style.outline_level and (block.id in self._silenced or not self._is_numbered(style.outline_level)):
            said.pop("number", None)  # there is nothing that it would say
        if style.marker:  # whatever it is counted from, this is what is seen
            said.pop("number_from", None)
            said["marker"] = self._markers.get(block.id)
        runs = join_runs([Run(run.text, self._marks(run.marks, style)) for run in block.runs])
        return f"{style.name} {said} " + " | ".join(f"{run.text!r} {_said(run.marks)}".rstrip() for run in runs)

    def _is_numbered(self, level: int) -> bool:
        numbering = self.report.numbering
        return numbering.levels[level - 1].on or numbering.appendix[level - 1].on

    def _marks(self, marks: Marks, style: Style) -> Marks:
        plain = {
            name: None for name in ("bold", "italic", "font", "size", "colour", "capitals") if getattr(marks, name) == getattr(style, name)
        }  # fmt: skip
        reference, link = marks.reference, inner(marks.link)
        if reference:
            shows = reference.shows
            if reference.to in self._numbers and shows in ("label", "number"):
                shows = "number" if self._numbers[reference.to] else "title"  # which is what it shows
            reference = reference._replace(to=self._place(reference.to), shows=shows, said="")
        return replace(
            marks,
            **plain,
            underline=marks.underline or style.underline,
            strike=marks.strike or style.strike,
            reference=reference,
            link=f"to {self._place(link)}" if link else marks.link,
            bookmark=marks.bookmark and marks.bookmark._replace(id=""),
            citation=marks.citation and marks.citation._replace(id=""),
            indexed=marks.indexed and marks.indexed._replace(id=""),
            formula=marks.formula and re.sub("</?mrow>", "", marks.formula),
        )

    def _place(self, id: str) -> str:
        return self._places.get(id, "nowhere")


def _said(marks: Marks) -> str:
    return " ".join(
        f"{one.name}={value}" for one in fields(Marks) if (value := getattr(marks, one.name)) not in (None, False)
    )
