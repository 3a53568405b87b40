"""Numbering of headings and lists (ISO/IEC 29500-1, 17.9): multilevel numbering that is tied to the styles.

A definition (``w:abstractNum``) says how each level is written, and is counted on from paragraph to paragraph; an instance of it
(``w:num``) may begin a level anew. Both are as programs have them, so that what is added elsewhere is counted as here.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from lxml.etree import _Element

from ...pages.pages import Pages
from ...report.blocks import Block, DataTable, Paragraph
from ...report.numbering import LevelNumber
from ...report.report import Report
from ...report.styles import LEVELS, Marker, Style
from ...structure.markers import BULLETS, counts
from ...structure.outline import paragraphs
from ..docx.numbering import FIGURES
from .looks import font, indents, toggle
from .xml import clean, made, properties

_FORMATS: Mapping[str, str] = {marker: name for name, marker in FIGURES.items()}
"""Kinds of figures (17.18.59) by ours."""
_FIGURE = re.compile(r"%(\d)")


@dataclass
class _Abstract:
    """How the levels of lists are marked, by the style at each."""

    styles: dict[int, str] = field(default_factory=dict)
    counted: dict[int, int] = field(default_factory=dict)
    """How far each level is counted, as a program that reads the file counts."""
    last: int = 0
    """The instance used last."""


@dataclass
class _Instance:
    abstract: int
    starts: dict[int, int] = field(default_factory=dict)
    """Figures with which levels begin, by level from 1."""


class Numbering:
    """All numbering of a report. Levels are counted from 1 here, and from 0 in the file."""

    def __init__(self, pages: Pages, keys: Mapping[str, str], only: frozenset[int] | None) -> None:
        """``only``: the blocks that are written, if these are not all."""
        self._report: Report = pages.report
        self._keys = keys
        """Names of styles in the file, by id."""
        self._instances: list[_Instance] = []
        self._of: dict[str, tuple[int, int]] = {}
        """Level and instance of paragraphs that say so themselves, by id; instance 0 for no number."""
        self.of_style: dict[str, tuple[int, int]] = {}
        """Those of styles."""
        self._headings = {one.id: one for one in pages.headings if one.by_hand != "put in"}
        self._begins = next((one for one in pages.headings if only and one.block in only and one.number), None)
        """Where counting goes on in the middle: the first heading that has a number and is written."""
        self._levels: list[list[_Element]] = []
        """The levels of each definition."""
        self._number_headings()
        self._lists: list[_Abstract] = []
        self._first_list = len(self._levels)
        self._number_lists(self._report.blocks)
        self._tie_lists()

    def of(self, block: Paragraph) -> _Element | None:
        """What a paragraph says itself of its number."""
        found = self._of.get(block.id)
        return None if found is None else numbered(*found)

    def is_silent(self, block: Paragraph) -> bool:
        """Whether a paragraph has no number though its style has one."""
        return self._of.get(block.id, (0, 1))[1] == 0

    def stands(self, style: Style) -> bool:
        """Whether the numbering of a style says where its paragraphs stand."""
        return style.id in self.of_style and not (style.indent or style.first_line or style.marker)

    def _instance(self, abstract: int, starts: Mapping[int, int] | None = None) -> int:
        self._instances.append(_Instance(abstract, dict(starts or {})))
        return len(self._instances)

    # --- Headings ---

    def _number_headings(self) -> None:
        numbering, there = self._report.numbering, self._headings.values()
        body = appendix = 0
        if any(one.on for one in numbering.levels):
            body = self._add(self._heading_levels(numbering.levels, tied=True))
            for id, level in self._report.styles.levels.items():
                if numbering.levels[level - 1].on:
                    self.of_style[id] = level, body
        if any(one.counted.appendix for one in there) and any(one.on for one in numbering.appendix):
            appendix = self._add(self._heading_levels(numbering.appendix, tied=False))
        instances = {False: body, True: appendix}
        for paragraph in paragraphs(self._report):
            heading = self._headings.get(paragraph.id)
            usual = self.of_style.get(paragraph.style)
            if heading is None:
                # Nothing to be numbered: an empty heading, or a second paragraph of the same name.
                if usual and paragraph.style in self._report.styles.levels:
                    self._of[paragraph.id] = 1, 0
                continue
            instance = instances[heading.counted.appendix]
            if not heading.number or not instance:
                found = 1, 0
            elif self._begins and heading.id == self._begins.id:
                figures = heading.counted.figures[: heading.level]
                starts = {level: figure for level, figure in enumerate(figures, 1) if figure >= 0}
                found = heading.level, self._instance(self._instances[instance - 1].abstract, starts)
            elif paragraph.number_from is not None:
                abstract = self._instances[instance - 1].abstract
                found = heading.level, self._instance(abstract, {heading.level: paragraph.number_from})
            else:
                found = heading.level, instance
            if found != usual and (usual or found[1]):
                self._of[paragraph.id] = found

    def _add(self, levels: list[_Element]) -> int:
        self._levels.append(levels)
        return self._instance(len(self._levels) - 1)

    def _heading_levels(self, levels: Sequence[LevelNumber], tied: bool) -> list[_Element]:
        styles, elements = self._report.styles, []
        for level, one in enumerate(levels, 1):
            style = styles.heading(level)
            room = self._report.number_widths.get(style.id, 0.0)
            place = None
            if room and style.first_line <= 0 and style.align in ("left", "justify"):
                hang = max(room, -style.first_line)
                place = indents(max(style.indent + style.first_line + hang, 0.0), -hang, None)
            elements.append(
                self._level(
                    level,
                    _FORMATS[one.figures] if one.on else "none",
                    _written(levels, level) if one.on else "",
                    start=one.start,
                    restart=one.restarts,
                    style=style.id if tied and one.on and style.outline_level == level else None,
                    place=place,
                    suffix="tab" if place is not None else "space" if one.on else "nothing",
                )
            )
        return elements

    def _level(
        self,
        level: int,
        format: str,
        text: str,
        *,
        start: int = 1,
        restart: bool = True,
        style: str | None = None,
        place: _Element | None = None,
        suffix: str = "tab",
        words: _Element | None = None,
    ) -> _Element:
        return made(
            "w:lvl",
            made("w:start", val=start),
            made("w:numFmt", val=format),
            None if restart else made("w:lvlRestart", val=0),
            made("w:pStyle", val=self._keys[style]) if style else None,
            made("w:suff", val=suffix),
            made("w:lvlText", val=clean(text)),
            made("w:lvlJc", val="left"),
            properties("w:pPr", [place]),
            words,
            ilvl=level - 1,
        )

    # --- Lists ---

    def _number_lists(self, blocks: Sequence[Block]) -> None:
        run: dict[int, str] = {}
        abstract: int | None = None
        for block, (item, count) in zip(blocks, counts(blocks, self._report.styles), strict=True):
            if isinstance(block, DataTable):
                for row in block.rows:
                    for cell in row:
                        self._number_lists(cell.paragraphs)
            if item is None:
                run, abstract = {}, None
                continue
            style = self._report.styles[item.style]
            level = style.list_level or 1
            if run.get(level, style.id) != style.id:
                run, abstract = {}, None
            run[level] = style.id
            if abstract is None or self._lists[abstract].styles.get(level) != style.id:
                abstract = self._fitting(run)
            if item.number == "none":
                self._of[item.id] = 1, 0
                continue
            self._of[item.id] = level, self._counting(abstract, level, count)

    def _fitting(self, run: Mapping[int, str]) -> int:
        """The definition with these styles at these levels: one that there is, if need be with further levels."""
        for at, one in enumerate(self._lists):
            if all(one.styles.get(level, style) == style for level, style in run.items()):
                one.styles.update(run)
                return at
        self._lists.append(_Abstract(dict(run)))
        return len(self._lists) - 1

    def _counting(self, at: int, level: int, count: int | None) -> int:
        """The instance by which an item is counted as it is to be: the one before, or one that begins anew."""
        one = self._lists[at]
        goes_on = one.counted.get(level, 0) + 1
        anew = count is not None and (count != goes_on or not one.last)
        if anew or not one.last:
            one.last = self._instance(self._first_list + at, {level: count} if count is not None else None)
        one.counted = {other: last for other, last in one.counted.items() if other < level}
        one.counted[level] = count or 1
        return one.last

    def _tie_lists(self) -> None:
        """Ties each style of list items to a level, those that nothing uses as well."""
        styles = self._report.styles
        for style in sorted(styles.values(), key=lambda one: one.list_level or 1):
            level = style.list_level or 1
            if style.marker and not any(one.styles.get(level) == style.id for one in self._lists):
                kind = style.marker == "bullet"
                alike = next(
                    (one for one in self._lists if level not in one.styles
                     and all((styles[other].marker == "bullet") == kind for other in one.styles.values())),
                    None,
                )  # fmt: skip
                if alike is None:
                    self._lists.append(alike := _Abstract())
                alike.styles[level] = style.id
        for at, one in enumerate(self._lists):
            # One to which no item belongs, for what is written elsewhere.
            instance = self._instance(self._first_list + at)
            tied = {level: id for level, id in one.styles.items() if id not in self.of_style}
            self.of_style |= {id: (level, instance) for level, id in tied.items()}
            self._levels.append(
                [self._list_level(level, styles.find(one.styles.get(level, "")), level in tied) for level in LEVELS]
            )

    def _list_level(self, level: int, style: Style | None, tied: bool) -> _Element:
        if style is None:
            return self._level(level, "decimal", f"%{level}.", place=indents(18.0 * level, -18.0, None))
        marker: Marker = style.marker or "bullet"
        place = indents(style.indent, style.first_line, None)
        words = properties("w:rPr", [font(style.font), *toggle("b", style.bold), *toggle("i", style.italic)])
        if marker == "bullet":
            own = "" if _FIGURE.search(style.marker_text) else style.marker_text.strip()
            text = own or BULLETS[(level - 1) % len(BULLETS)]
        else:
            text = style.marker_text or f"%{level}."
        suffix = "tab" if style.first_line < 0 else "space"
        return self._level(
            level, _FORMATS[marker], text, style=style.id if tied else None, place=place, suffix=suffix, words=words
        )

    # --- The part ---

    def part(self) -> _Element | None:
        """The numbering part; None where nothing is numbered."""
        if not self._instances:
            return None
        definitions = (
            made(
                "w:abstractNum",
                made("w:nsid", val=f"{0x4D530000 + at:08X}"),
                made("w:multiLevelType", val="multilevel"),
                *levels,
                abstractNumId=at,
            )
            for at, levels in enumerate(self._levels)
        )
        return made("w:numbering", *definitions, *self._nums())

    def _nums(self) -> Iterator[_Element]:
        for number, one in enumerate(self._instances, 1):
            anew = [
                made("w:lvlOverride", made("w:startOverride", val=start), ilvl=level - 1)
                for level, start in sorted(one.starts.items())
            ]
            yield made("w:num", made("w:abstractNumId", val=one.abstract), *anew, numId=number)


def numbered(level: int, instance: int) -> _Element:
    """Where a paragraph stands in its numbering (17.3.1.19); instance 0 for nowhere."""
    return made("w:numPr", made("w:ilvl", val=level - 1) if instance else None, made("w:numId", val=instance))


def _written(levels: Sequence[LevelNumber], level: int) -> str:
    """How a level's number is written (17.9.11), without the figures of levels that have no numbers, and what parts them."""
    found, rest = "", levels[level - 1].pattern
    while figure := _FIGURE.search(rest):
        other = int(figure[1])
        if other == level or levels[other - 1].on:
            found += rest[: figure.end()]
            rest = rest[figure.end() :]
        else:
            found += rest[: figure.start()]
            rest = re.sub(r"^[^%\w]+", "", rest[figure.end() :])
    return found + rest
