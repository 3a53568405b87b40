"""Pictures with text beside them: how large each is printed, which paragraphs stand beside it, and how their lines are set.

As a float in CSS (CSS 2.1, 9.5: lines that begin above the float's end are shorter), within these bounds: paragraphs alone stand
beside a picture, and no headings; nor, at the right of one, what hangs in front of its lines, as markers of lists do; whatever else
follows begins beneath it; and lines stay on the page of the picture that they stand beside.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Literal, NamedTuple

from ..report.blocks import Block, Image, Paragraph, Run
from ..report.report import Beside, Report
from ..report.styles import Style
from .boxes import Box, gap
from .lines import Lines, break_lines
from .typefaces import Typefaces

GAP = 12.0
"""Points between a picture and the words beside it."""
LEAST_WIDTH = 90.0
"""Points of a column that are left beside a picture; where less would be, nothing stands beside it."""
_HIGHEST = 0.8
"""How high a picture with text beside it is at most: of the page's text. It leaves room for the last line beside it, and for notes."""
_SLACK = 1e-6


def fitted(image: Image, report: Report) -> tuple[float, float]:
    """Width and height at which a picture is printed: its own, or smaller where it exceeds the text area."""
    highest = report.page.text_height * (_HIGHEST if is_beside(image) else 1.0)
    return fitted_in(image, report.page.column_width, highest)


def fitted_in(image: Image, widest: float, highest: float) -> tuple[float, float]:
    """Width and height of a picture as there is room for it, in points: its own, or smaller in proportion."""
    scale = min(1.0, widest / image.width, highest / image.height)
    return image.width * scale, image.height * scale


def is_beside(block: Block) -> bool:
    """Whether a block is a picture that is to have text beside it."""
    return type(block) is Image and block.beside and block.align in ("left", "right")


class Group(NamedTuple):
    """What follows a picture: how many blocks had to be looked at, and which of them stand beside it, each counted from the picture."""

    reach: int
    beside: tuple[tuple[int, Beside], ...] = ()


def grouped(
    picture: int, report: Report, plain: Box, may: Callable[[int], bool | None], box: Callable[[int, Beside], Box]
) -> tuple[Group, dict[int, Box]]:
    """The group of a picture and its boxes, by their place; none where nothing stands beside it. ``plain``: the picture's then.

    ``may``: whether a block may stand beside a picture, None for one that has no room in the text; ``box``: that of a paragraph with
    something beside its first lines.
    """
    image = report.blocks[picture]
    assert isinstance(image, Image)
    side: Literal["left", "right"] = "left" if image.align == "left" else "right"
    width, height = fitted(image, report)
    found: list[tuple[int, Beside, Box]] = []
    y = 0.0
    last = plain
    at = picture + 1
    while at < len(report.blocks) and width + GAP + LEAST_WIDTH <= report.page.column_width:
        allowed = may(at)
        if allowed is False:
            break
        if allowed:
            beside = Beside(side, width + GAP, height)
            own = box(at, beside)
            top = y + (gap(last, own) if found else own.above + own.before)
            if top >= height - _SLACK or own.new_page:
                break
            if top:
                beside = beside._replace(height=height - top)
                own = box(at, beside)
            found.append((at, beside, own))
            y, last = top + own.total, own
            if y >= height - _SLACK:
                break
        at += 1
    group = Group(at - picture, tuple((index - picture, beside) for index, beside, _ in found))
    if not found:
        return group, {}
    boxes = {
        index: replace(own, orphans=len(own.heights), widows=1, keep_with_next=True) for index, _, own in found[:-1]
    }
    index, beside, own = found[-1]
    least = max(own.orphans, lines_above(own.heights, beside.height))
    # What is left of the picture beneath the last line stays free.
    boxes[index] = replace(own, orphans=least, total=own.total + max(0.0, height - y))
    needs = height - beside.height + sum(own.heights[: least if len(own.heights) >= least + own.widows else None])
    boxes[picture] = replace(plain, heights=(0.0,), total=0.0, after=0.0, needs=max(height, needs))
    return group, boxes


def lines_above(heights: Sequence[float], height: float) -> int:
    """How many lines begin less than ``height`` points below the first one's top."""
    top, count = 0.0, 0
    while count < len(heights) and top < height - _SLACK:
        top += heights[count]
        count += 1
    return count


class Parted(NamedTuple):
    """A paragraph whose first ``above`` lines, of ``lines``, stand beside a picture; ``rest`` and ``further`` are its other lines, if it
    has any, as a paragraph of their own."""

    lines: Lines
    above: int
    rest: Paragraph | None = None
    further: Lines | None = None

    def whole(self) -> Lines:
        """All its lines."""
        if not self.further:
            return self.lines
        begin = self.lines.starts[self.above]
        starts = (*self.lines.starts[: self.above], *(begin + start for start in self.further.starts))
        return Lines(starts, (*self.lines.heights[: self.above], *self.further.heights))


def parted(
    paragraph: Paragraph, style: Style, width: float, beside: Beside, typefaces: Typefaces, language: str
) -> Parted:
    """Breaks a paragraph, as it is set, into lines of ``width`` points, of which the first have a picture beside them."""
    lines = break_lines(paragraph, style, narrowed(width, style, beside)[1], typefaces, language)
    count = lines_above(lines.heights, beside.height)
    if count == len(lines.heights):
        return Parted(lines, count)
    rest = replace(paragraph, id=f"{paragraph.id} rest", runs=_from(paragraph.runs, lines.starts[count]))
    return Parted(lines, count, rest, break_lines(rest, going_on(style), width, typefaces, language))


def narrowed(width: float, style: Style, beside: Beside) -> tuple[float, float]:
    """Where lines beside a picture begin that would begin at 0, and of how wide a column they are then. They keep of their indent what
    reaches beyond the picture."""
    if beside.side == "right":
        return 0.0, width - max(0.0, beside.width - style.right_indent)
    begin = max(0.0, beside.width - style.indent)
    return begin, width - begin


def going_on(style: Style) -> Style:
    """A style for lines that are not the first of their paragraph."""
    return replace(style, first_line=0.0) if style.first_line else style


def _from(runs: Sequence[Run], offset: int) -> tuple[Run, ...]:
    found: list[Run] = []
    for run in runs:
        if offset < len(run.text):
            found.append(replace(run, text=run.text[max(0, offset) :]))
        offset -= len(run.text)
    return tuple(found)
