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

from .boxes import Box, stays

_SLACK = 1e-6


class Start(NamedTuple):
    """Where a page starts: index of the box, index of the part in it, and whether a page break led here."""

    box: int
    part: int
    forced: bool = False


FIRST = Start(0, 0, True)


class Placed(NamedTuple):
    """Parts ``first`` to ``end`` (exclusive) of a box on a page; ``y`` is the top, in points below the page's top, and ``column``
    that in which it stands, counted from 0."""

    box: int
    first: int
    end: int
    y: float
    column: int = 0


class Frame(NamedTuple):
    """What pages are filled with from a box on, up to the next frame: columns of one height in points."""

    first: int
    height: float
    columns: int = 1


def _head(box: Box) -> float:
    """Height of the least of a box that may stand at the foot of a page."""
    if len(box.heights) < box.orphans + box.widows:
        return box.total
    return box.extent(0, _least(box))


def _least(box: Box) -> int:
    """How many parts of a box begin it on a page at least."""
    least = max(box.orphans, box.repeated + 1, box.spanning + 1)
    while least - 1 in box.holding:
        least += 1
    return min(least, len(box.heights))


def _together(boxes: Sequence[Box], index: int, part: int, height: float) -> tuple[float, int]:
    """Height of a box, from a part of it on, with all that must stay on its page, and the last box of these.

    That is every box that it is kept with, one by the other, and the head of the last; or, where no page of ``height``
    holds them all, the nearest of them that it holds. One of them that may be parted ends them: what follows stays with its end.
    """
    above = 0.0
    total = boxes[index].extent(part, len(boxes[index].heights)) if part else boxes[index].total
    found = total if part else _head(boxes[index]), index
    while stays(boxes, index) and index + 1 < len(boxes) and not boxes[index + 1].new_page:
        following = boxes[index + 1]
        above += total + max(boxes[index].after, following.before)
        index, total = index + 1, following.total
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


def fill_page(boxes: Sequence[Box], frame: Frame, start: Start) -> tuple[Start | None, list[Placed]]:
    """Fills the one page that begins at ``start``: where the next page starts, if any, and what stands on this one."""
    following, placed = _fill_column(boxes, frame.height, start)
    for column in range(1, frame.columns):
        if following is None or following.forced:
            break
        following, here = _fill_column(boxes, frame.height, following)
        placed += [one._replace(column=column) for one in here]
    return following, placed


def _fill_column(boxes: Sequence[Box], height: float, start: Start) -> tuple[Start | None, list[Placed]]:
    """As ``fill_page``, for one column. One that a page break ends is told by the next start, which is forced."""
    index, part, forced = start
    placed: list[Placed] = []
    y = after = 0.0
    empty = True
    kept = -1  # boxes up to this one were found to fit together
    while index < len(boxes):
        box = boxes[index]
        if part == 0:
            if box.new_page and not (empty and (not box.new_part or _only_starts(boxes, placed))):
                return Start(index, 0, True), placed
            gap = (box.before if forced else 0.0) if empty else max(after, box.before)
            if empty and box.heights and gap + box.extent(0, _least(box)) > height:
                gap = 0.0
            top = y + gap if box.heights else y
            if index > kept and stays(boxes, index):
                needed, kept = _together(boxes, index, 0, height)
                if y + gap + needed > height + _SLACK:
                    if count := _parted(box, 0, height - top):
                        return Start(index, count), [*placed, Placed(index, 0, count, top)]
                    if not empty:
                        return Start(index, 0), placed
            if top + box.total <= height + _SLACK or not box.heights:
                placed.append(Placed(index, 0, len(box.heights), top))
                y = top + box.total
                if box.ends_page and index + 1 < len(boxes):
                    return Start(index + 1, 0, True), placed
                after = box.after
                empty = empty and not box.heights
                index += 1
                continue
        else:
            top = y + sum(box.heights[: box.repeated])
            apart = stays(boxes, index) and top + _together(boxes, index, part, height)[0] > height + _SLACK
            if apart and (count := _parted(box, part, height - top)):
                return Start(index, part + count), [*placed, Placed(index, part, part + count, top)]
        count = _fitting(box, part, height - top, empty)
        if count:
            placed.append(Placed(index, part, part + count, top))
        if part + count < len(box.heights):
            return Start(index, part + count), placed
        y = top + box.extent(part, part + count)
        if box.ends_page and index + 1 < len(boxes):
            return Start(index + 1, 0, True), placed
        after = box.after
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


def fill(boxes: Sequence[Box], frames: Sequence[Frame], start: Start = FIRST) -> Iterator[Start]:
    """The starts of the pages from ``start`` on."""
    following: Start | None = start
    while following is not None:
        yield following
        following, _ = fill_page(boxes, frame_at(frames, following.box), following)


def frame_at(frames: Sequence[Frame], box: int) -> Frame:
    """The one that pages which begin with a box are filled with."""
    return frames[bisect_right(frames, box, key=_first) - 1] if len(frames) > 1 else frames[0]


def _first(frame: Frame) -> int:
    return frame.first
