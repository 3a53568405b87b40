"""Numbers of headings (ISO/IEC 29500-1, 17.9): the multilevel numbering that a document ties to them, as that of a report."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace
from typing import Literal, NamedTuple

from ...report.blocks import Block, Paragraph, with_paragraphs
from ...report.numbering import SCHEMES, UNNUMBERED, Numbering
from ...report.properties import SettingError
from ...report.styles import LEVELS, StyleSheet
from ...structure.numbering import Counter
from ...structure.outline import paragraphs_in
from .numbering import Lists, Numbered
from .own import Own


class Counted(NamedTuple):
    """A heading's place in its numbering, what it is counted as, and whether it says so itself; none of that where it has no number."""

    listed: Numbered | None = None
    figure: int = 0
    anew: bool = False


def _with_usual_appendix(numbering: Numbering) -> Numbering:
    """A numbering that is one of the usual ones as far as it goes, with appendices numbered as there."""
    for scheme in SCHEMES.values():
        pairs = [(one, other) for one, other in zip(numbering.levels, scheme.levels, strict=True) if one.on]
        if pairs and all(one == other for one, other in pairs):
            return replace(numbering, appendix=scheme.appendix)
    return numbering


class HeadingNumbers:
    """Follows the headings of a document."""

    def __init__(self, lists: Lists, own: Own) -> None:
        self._lists, self._own = lists, own
        self._counted: dict[str, Counted] = {}
        """By id of the paragraph."""
        self.appendix: str | None = None
        """The definition by which appendices are numbered."""

    def note(self, id: str, listed: Numbered | None, counts: bool) -> None:
        """Takes a heading that is met. ``counts``: whether it has words, and so stands among the others."""
        numbered = listed is not None and listed.how.marker != "bullet" and not listed.how.hidden
        if listed is None or not numbered:
            self._counted[id] = Counted()
        elif counts:
            anew = bool(self._own) and self._lists.begins_anew(listed.instance, listed.level - 1)
            self._counted[id] = Counted(listed, self._lists.next(listed.instance, listed.level - 1), anew)
        else:
            self._counted[id] = Counted(listed)

    def numbering(self, by_style: Mapping[int, Numbered]) -> Numbering:
        """How the levels are numbered: as the first heading of each is, or else as its style says, by level."""
        found = UNNUMBERED
        tied = [self._lists.definition(one.instance) for one in by_style.values()]
        body, appendix = next(iter(tied), None), None
        for one in self._listed():
            key = self._lists.definition(one.instance)
            body = body if body is not None else key
            if key != body and appendix is None and one.level == 1:
                appendix = key
        first: dict[tuple[bool, int], Numbered] = {}
        for one in self._listed():
            key = self._lists.definition(one.instance)
            if key in (body, appendix):
                first.setdefault((key == appendix, one.level), one)
        for level, styled in by_style.items():
            if body is None or self._lists.definition(styled.instance) == body:
                first.setdefault((False, level), styled)
        for of_appendix in (False, True):
            for level in LEVELS:  # from the highest on: deeper ones say their figures
                if shown := first.get((of_appendix, level)):
                    found = self._with(found, level, of_appendix, shown)
        self.appendix = appendix
        return found if appendix else _with_usual_appendix(found)

    def _listed(self) -> Iterator[Numbered]:
        return (one.listed for one in self._counted.values() if one.listed)

    def _with(self, numbering: Numbering, level: int, appendix: bool, one: Numbered) -> Numbering:
        how = one.how
        if how.marker == "bullet":
            return numbering
        start = self._lists.start(one.instance, level - 1)
        with suppress(SettingError):  # without a figure of its own, or with figures of deeper levels
            return numbering.changed(
                level, appendix, on=True, pattern=how.text, figures=how.marker, start=start, restarts=how.restarts
            )
        return numbering

    def numbered(self, blocks: Sequence[Block], numbering: Numbering, styles: StyleSheet) -> Iterator[Block]:
        """The blocks, with headings that say where they are counted otherwise than others would be: without a number, from a figure
        on, or as the first of the appendices."""
        counter = Counter(numbering)
        beneath = self._numbered_beneath(blocks, styles)

        def said(block: Paragraph) -> Paragraph:
            level = styles.levels.get(block.style)
            if level is None or not block.text.strip() or block.note:
                return block
            listed, figure, anew = self._counted.get(block.id, Counted())
            count = counter.count
            is_appendix = listed is not None and self._lists.definition(listed.instance) == self.appendix is not None
            begins = is_appendix and level == 1 and not count.appendix
            # What is above its level silences it all the same; and it must not silence what is numbered beneath it.
            silent = listed is None and block.id not in beneath
            trial = Counter(numbering, count)
            counted_otherwise = (
                bool(trial.next(level, silent, None, begins))
                and listed is not None
                and trial.count.figures[level - 1] != figure
            )
            start = figure if (anew or counted_otherwise) and 0 <= figure <= 9999 else None
            counter.next(level, silent, start, begins)
            on = numbering.of(counter.count.appendix)[level - 1].on
            is_none = silent and on and not 0 < count.unnumbered < level
            number: Literal["none", "appendix"] | None = "appendix" if begins else "none" if is_none else None
            return block if number is None and start is None else replace(block, number=number, number_from=start)

        return with_paragraphs(blocks, said)

    def _numbered_beneath(self, blocks: Iterable[Block], styles: StyleSheet) -> set[str]:
        """Headings without a number under which some have one: kept without a number, they would silence these."""
        open: list[tuple[int, str]] = []
        found: set[str] = set()
        for block in (paragraph for one in blocks for paragraph, _ in paragraphs_in(one)):
            level = styles.levels.get(block.style)
            if level is None:
                continue
            open = [one for one in open if one[0] < level]
            if self._counted.get(block.id, Counted()).listed is not None:
                found.update(id for _, id in open)
            else:
                open.append((level, block.id))
        return found
