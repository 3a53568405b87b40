"""Page filling: boxes in, the first box and part of every page out.

The rules of a careful typesetter: a heading stays with the text after it, what is kept with the next is parted before it parts from it, no paragraph leaves fewer lines than it is to at the
foot (orphans) or head (widows) of a page, no part of a box is split, page breaks are kept. Space between two blocks
is the larger of the space after the first and before the second (CSS 2.1, 8.3.1); space before a block is dropped at
the top of a page unless a page break stands before it (CSS Fragmentation 3, 5.2).
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from .boxes import Box, behind, gap, stays
from .feet import ABOVE, NO_FEET, Feet, Owed, at_foot, placed_feet

_SLACK = 1e-6


class Start(NamedTuple):
    """Where a page starts: index of the box, index of the part in it, and whether a page break led here."""

    box: int
    part: int
    forced: bool = False
    owed: Owed = ()
    """Notes that are referred to before, and are still to be printed. Where nothing but these is left in front of what begins a page,
    ``part`` is past the last one."""


FIRST = Start(0, 0, True)


class Placed(NamedTuple):
    """Parts ``first`` to ``end`` (exclusive) of a box on a page; ``y`` is the top, in points below the page's top, and ``column``
    that in which it stands, counted from 0."""

    box: int
    first: int
    end: int
    y: float
    column: int = 0
    foot: bool = False
    """Whether it is a note at the foot."""


class Frame(NamedTuple):
    """What pages are filled with from a box on, up to the next frame: columns of one height in points."""

    first: int
    height: float
    columns: int = 1


def _head(box: Box) -> float:
    """Height of the least of a box that may stand at the foot of a page."""
    if len(box.heights) < box.orphans + box.widows:
        return max(box.total, box.needs)
    return box.extent(0, _least(box))


def _least(box: Box) -> int:
    """How many parts of a box begin it on a page at least."""
    least = max(box.orphans, box.repeated + 1, box.spanning + 1)
    while least - 1 in box.holding:
        least += 1
    return min(least, len(box.heights))


def _together(boxes: Sequence[Box], index: int, part: int, height: float, feet: Feet, free: bool) -> tuple[float, int]:
    """Height of a box, from a part of it on, with all that must stay on its page, and the last box of these.

    That is every box that it is kept with, one by the other, and the head of the last; or, where no page of ``height``
    holds them all, the nearest of them that it holds. One of them that may be parted ends them: what follows stays with its end.
    """
    box = feet.box(index, part, not free)
    above = 0.0
    total = box.extent(part, len(box.heights)) if part else box.total
    found = total if part else _head(box), index
    while stays(boxes, index) and (next := behind(boxes, index)) < len(boxes) and not boxes[next].new_page:
        free = free and not feet.of(index)
        following = feet.box(next, 0, not free)
        above += total + gap(boxes[index], following)
        index, total = next, following.total
        if above + _head(following) > height + _SLACK:
            break
        if stays(boxes, index) and len(following.heights) >= following.orphans + following.widows:
            return (above + _head(following), index - 1)
        found = above + _head(following), index
    return found


def _parted(box: Box, part: int, room: float) -> int:
    """How many parts of a box, from one on, may stand at the foot of a page with ``room`` points left while the others do not; 0 if
    it is not to be parted there."""
    count = min(box.fitting(part, room + _SLACK), len(box.heights) - part - box.widows)
    count = box.let_go(part, part + count) - part if count > 0 else 0
    return count if count >= (1 if part else _least(box)) else 0


def fill_page(
    boxes: Sequence[Box], frame: Frame, start: Start, feet: Feet = NO_FEET
) -> tuple[Start | None, list[Placed]]:
    """Fills the one page that begins at ``start``: where the next page starts, if any, and what stands on this one."""
    following, placed = _fill_column(boxes, frame.height, start, feet)
    for column in range(1, frame.columns):
        if following is None or following.forced:
            break
        following, here = _fill_column(boxes, frame.height, following, feet)
        placed += [one._replace(column=column) for one in here]
    return following, placed


def _fill_column(boxes: Sequence[Box], height: float, start: Start, feet: Feet) -> tuple[Start | None, list[Placed]]:
    """As ``fill_page``, for one column. One that a page break ends is told by the next start, which is forced.

    What is left of notes from before comes first, then text with the notes that it refers to; notes stand at the foot.
    """
    if not feet:
        return _fill_text(boxes, height, start, feet, height)
    going_on, owed = placed_feet(feet, start.owed, height, alone=True)
    if owed:  # they have the column to themselves
        return start._replace(owed=owed, forced=False), _at_the_foot(feet, going_on, height)
    taken = at_foot(feet, going_on)[0].up + ABOVE if going_on else 0.0
    if going_on and start.part >= max(len(boxes[start.box].heights), 1):  # nothing but notes was left there
        after = behind(boxes, start.box)
        following, placed = Start(after, 0, True) if after < len(boxes) else None, list[Placed]()
    else:
        following, placed = _fill_text(boxes, height, start, feet, height - taken)
    new = [note for one in placed for note in feet.within(one.box, one.first, one.end)]
    if new:
        bottom = max(one.y + boxes[one.box].extent(one.first, one.end) for one in placed)
        begun, owed = placed_feet(feet, new, height - bottom - taken, begun=bool(going_on))
        going_on += begun
    if owed and (following is None or following.forced):  # a page break waits for them
        last = placed[-1].box
        following = Start(last, max(len(boxes[last].heights), 1), False, owed)
    elif owed and following:
        following = following._replace(owed=owed)
    return following, placed + _at_the_foot(feet, going_on, height)


def _at_the_foot(feet: Feet, notes: Sequence[tuple[int, int, int]], height: float) -> list[Placed]:
    """Notes, or parts of them, so that they end with the column."""
    return [Placed(one.note, one.first, one.end, height - one.up, foot=True) for one in at_foot(feet, notes)]


def _fill_text(
    boxes: Sequence[Box], whole: float, start: Start, feet: Feet, height: float
) -> tuple[Start | None, list[Placed]]:
    """Fills a column of ``whole`` points with text; ``height`` of them are left beside what notes from before take."""
    index, part, forced = start[:3]
    placed: list[Placed] = []
    y = 0.0
    last: Box | None = None
    """The box above, if any."""
    empty = True
    free = height == whole
    """Whether no note takes anything of the column yet."""
    kept = -1  # boxes up to this one were found to fit together
    while index < len(boxes):
        if boxes[index].foot:
            index += 1
            continue
        box = feet.box(index, part, not free) if feet else boxes[index]
        if part == 0:
            if box.new_page and not (empty and (not box.new_part or _only_starts(boxes, placed))):
                return Start(index, 0, True), placed
            if last is None or empty:
                space = box.above + box.before if forced else box.above
            else:
                space = gap(last, box)
            if empty and box.heights and space + box.extent(0, _least(box)) > height:
                space = 0.0
            top = y + space if box.heights else y
            if box.needs and top + box.needs > height + _SLACK and not (empty and height == whole):
                return Start(index, 0), placed
            if index > kept and stays(boxes, index):
                needed, kept = _together(boxes, index, 0, whole, feet, free)
                if y + space + needed > height + _SLACK:
                    if count := _parted(box, 0, height - top):
                        return Start(index, count), [*placed, Placed(index, 0, count, top)]
                    if not empty or height < whole:
                        return Start(index, 0), placed
            if top + box.total <= height + _SLACK or not box.heights:
                placed.append(Placed(index, 0, len(box.heights), top))
                y = top + boxes[index].total
                if feet and feet.of(index):
                    height -= box.total - boxes[index].total
                    free = False
                if box.ends_page and (next := behind(boxes, index)) < len(boxes):
                    return Start(next, 0, True), placed
                last = box
                empty = empty and not box.heights
                index += 1
                continue
        else:
            top = y + sum(boxes[index].heights[: box.repeated])
            apart = stays(boxes, index) and top + _together(boxes, index, part, whole, feet, free)[0] > height + _SLACK
            if apart and (count := _parted(box, part, height - top)):
                return Start(index, part + count), [*placed, Placed(index, part, part + count, top)]
        count = _fitting(box, part, height - top, empty and height == whole)
        if count:
            placed.append(Placed(index, part, part + count, top))
        if part + count < len(box.heights):
            return Start(index, part + count), placed
        y = top + boxes[index].extent(part, part + count)
        if feet and feet.of(index):
            height -= box.extent(part, part + count) - boxes[index].extent(part, part + count)
            free = free and not feet.within(index, part, part + count)
        if box.ends_page and (next := behind(boxes, index)) < len(boxes):
            return Start(next, 0, True), placed
        last = box
        empty = False
        index += 1
        part = 0
    return None, placed


def _only_starts(boxes: Sequence[Box], placed: Sequence[Placed]) -> bool:
    """Whether nothing stands on a page but starts of parts, of which the last one counts."""
    return all(boxes[one.box].new_part for one in placed)


def _fitting(box: Box, part: int, room: float, empty: bool) -> int:
    """How many parts from ``part`` on go on a page with ``room`` points left; at least one on an empty page."""
    left = len(box.heights) - part
    count = box.fitting(part, room + _SLACK)
    if count == left:
        return count
    fits = count
    count = box.let_go(part, part + count) - part
    if left - count < box.widows:
        count = left - box.widows
    if part == 0 and count < _least(box):
        count = 0
    count = max(count, 0)
    return count or (max(fits, 1) if empty else 0)


def fill(boxes: Sequence[Box], frames: Sequence[Frame], start: Start = FIRST, feet: Feet = NO_FEET) -> Iterator[Start]:
    """The starts of the pages from ``start`` on."""
    following: Start | None = start
    while following is not None:
        yield following
        following, _ = fill_page(boxes, frame_at(frames, following.box), following, feet)


def frame_at(frames: Sequence[Frame], box: int) -> Frame:
    """The one that pages which begin with a box are filled with."""
    return frames[bisect_right(frames, box, key=_first) - 1] if len(frames) > 1 else frames[0]


def _first(frame: Frame) -> int:
    return frame.first
