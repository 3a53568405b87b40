"""Charts as pictures, drawn anew from their values: columns, bars, lines, areas, pies and points.

Drawn with Pillow at 180 dots to the inch, in shipped typefaces. Sides in points, what is drawn in pixels.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from io import BytesIO
from itertools import cycle, islice
from math import cos, floor, isfinite, log10, radians, sin
from typing import Literal, NamedTuple

from PIL import Image as Pillow
from PIL import ImageDraw, ImageFont

from ..pages.typefaces import FONT_FOLDER

Kind = Literal["column", "bar", "line", "area", "pie", "points"]

COLOURS = ("#5b4aa0", "#2f7d6b", "#c98a12", "#b4452f", "#3d6fa5", "#8a5a83", "#6b7a2f", "#7a6a5a")
_INK, _QUIET, _GRID = "#26222b", "#5a5260", "#dcd8e0"
_DOTS = 2.5
"""Pixels of a point."""
_SIZE, _TITLE_SIZE = 8.0, 10.5
_WIDEST_BARS = 90.0
"""Points of all bars that stand at one place."""
_LARGEST = 1e15
"""Values beyond this, either way, are faults of a file."""


@dataclass(frozen=True, slots=True)
class Series:
    name: str
    values: Mapping[int, float]
    """By their place along the chart."""
    kind: Kind = "column"
    at: Mapping[int, float] | None = None
    """Of points: how far to the right each stands."""


@dataclass(frozen=True, slots=True)
class Chart:
    title: str
    names: Mapping[int, str]
    """What the places along it are called."""
    series: tuple[Series, ...]
    stacked: Literal["", "on each other", "to the whole"] = ""

    @property
    def places(self) -> range:
        return range(
            max((at for one in [self.names, *(one.values for one in self.series)] for at in one), default=-1) + 1
        )

    def in_words(self) -> str:
        """Its title, names and values, as they are described to those who do not see it."""
        said = [f"Chart: {self.title}." if self.title else "Chart."]
        for one in self.series:
            values = ", ".join(
                f"{self.names.get(at) or at + 1} {figure(value)}" for at, value in sorted(one.values.items())
            )
            said.append(f"{one.name}: {values}." if one.name else f"{values}.")
        return " ".join(said)


def number_of(words: str) -> float | None:
    """A value that can be drawn; None for what is none."""
    try:
        found = float(words)
    except ValueError:
        return None
    return found if isfinite(found) and abs(found) < _LARGEST else None


def figure(value: float) -> str:
    """A value as it is written: thousands parted, with the sign for less than nothing."""
    return f"{value:,.12g}".replace("-", "−")


def steps(least: float, most: float, about: int) -> list[float]:
    """Round numbers from at or below ``least`` to at or above ``most``, about so many: 1, 2 or 5 times a power of ten apart."""
    if most <= least:
        most = least + 1
    rough = (most - least) / max(about, 1)
    power = 10.0 ** floor(log10(rough))
    step = next(power * factor for factor in (1, 2, 5, 10) if power * factor >= rough * 0.999)
    first, last = floor(least / step + 1e-9), -floor(-most / step + 1e-9)
    return [round(number * step, 12) for number in range(first, last + 1)]


_Place = Callable[[float], float]
"""Where a value stands along its axis, in pixels."""


class _Box(NamedTuple):
    left: float
    top: float
    right: float
    bottom: float


def drawn(chart: Chart, width: float, height: float) -> bytes:
    """The chart as a PNG for a picture of so many points."""
    scale = min(_DOTS, 2400 / max(width, height))
    return _Drawing(chart, max(round(width * scale), 40), max(round(height * scale), 40), scale).png()


class _Drawing:
    def __init__(self, chart: Chart, width: int, height: int, scale: float) -> None:
        self.chart, self.scale = chart, scale
        self.picture = Pillow.new("RGB", (width, height), "white")
        self.on = ImageDraw.Draw(self.picture)
        self.box = _Box(6 * scale, 6 * scale, width - 6 * scale, height - 6 * scale)

    def png(self) -> bytes:
        if self.chart.title:
            self._title()
        pie = next((one for one in self.chart.series if one.kind == "pie"), None)
        if pie:
            self._pie(pie)
        else:
            if len(self.chart.series) > 1 or (
                self.chart.series[0].name and self.chart.series[0].name != self.chart.title
            ):
                self._legend([one.name for one in self.chart.series])
            self._axes()
        saved = BytesIO()
        self.picture.save(saved, "PNG", optimize=True)
        return saved.getvalue()

    # --- Words ---

    def _font(self, size: float = _SIZE, bold: bool = False) -> ImageFont.FreeTypeFont:
        return _font(bold, max(round(size * self.scale), 6))

    def _fitting(self, words: str, width: float, font: ImageFont.FreeTypeFont) -> str:
        """The words, cut off where there is no room for more."""
        if font.getlength(words) <= width:
            return words
        while words and font.getlength(words + "…") > width:
            words = words[:-1]
        return words.rstrip() + "…" if words else ""

    def _title(self) -> None:
        font = self._font(_TITLE_SIZE, bold=True)
        left, top, right, bottom = self.box
        self.on.text(
            ((left + right) / 2, top), self._fitting(self.chart.title, right - left, font), _INK, font, anchor="ma"
        )
        self.box = _Box(left, top + 1.9 * _TITLE_SIZE * self.scale, right, bottom)

    def _legend(self, names: Sequence[str]) -> None:
        """What each colour stands for, in lines at the foot."""
        font, line, sign = self._font(), 1.6 * _SIZE * self.scale, 0.8 * _SIZE * self.scale
        left, top, right, bottom = self.box
        lines: list[list[tuple[str, str]]] = [[]]
        at = left
        for name, colour in zip(names, cycle(COLOURS), strict=False):
            words = self._fitting(name or "–", (right - left) * 0.6, font)
            wide = sign * 1.5 + font.getlength(words) + sign * 1.5
            if lines[-1] and at + wide > right:
                lines.append([])
                at = left
            lines[-1].append((words, colour))
            at += wide
        lines = lines[: max(int((bottom - top) * 0.35 / line), 1)]
        for number, row in enumerate(lines):
            y = bottom - line * (len(lines) - number)
            wide = sum(sign * 3 + font.getlength(words) for words, _ in row)
            at = max((left + right - wide) / 2, left)
            for words, colour in row:
                self.on.rectangle((at, y + line / 2 - sign / 2, at + sign, y + line / 2 + sign / 2), colour)
                self.on.text((at + sign * 1.5, y + line / 2), words, _INK, font, anchor="lm")
                at += sign * 3 + font.getlength(words)
        self.box = _Box(left, top, right, bottom - line * len(lines) - 4 * self.scale)

    # --- Pies ---

    def _pie(self, series: Series) -> None:
        parts = [(at, value) for at, value in sorted(series.values.items()) if value > 0]
        whole = sum(value for _, value in parts)
        if not whole:
            return
        self._legend([f"{self.chart.names.get(at) or at + 1} {value / whole:.0%}" for at, value in parts])
        left, top, right, bottom = self.box
        radius = max(min(right - left, bottom - top) / 2, 2)
        middle = (left + right) / 2, (top + bottom) / 2
        corners = (middle[0] - radius, middle[1] - radius, middle[0] + radius, middle[1] + radius)
        angle = -90.0
        for (_, value), colour in zip(parts, cycle(COLOURS), strict=False):
            end = angle + 360 * value / whole
            self.on.pieslice(corners, angle, end, colour)
            angle = end
        angle = -90.0
        for _, value in parts if len(parts) > 1 else ():
            edge = middle[0] + radius * cos(radians(angle)), middle[1] + radius * sin(radians(angle))
            self.on.line((*middle, *edge), "white", round(self.scale))
            angle += 360 * value / whole

    # --- Axes ---

    def _axes(self) -> None:
        chart = self.chart
        lying = any(one.kind == "bar" for one in chart.series)
        points = all(one.kind == "points" for one in chart.series)
        values = [value for _, _, low, high in self._stacks() for value in (low, high)]
        lines = [value for one in chart.series if one.kind in ("line", "points") for value in one.values.values()]
        from_zero = [0.0] if not points else []
        all_values = [*values, *lines, *from_zero] or [0.0, 1.0]
        left, top, right, bottom = self.box
        font, line = self._font(), 1.4 * _SIZE * self.scale
        along = right - left if lying else bottom - top
        up = steps(min(all_values), max(all_values), max(int(along / (line * (4 if lying else 2.2))), 1))
        labels = [figure(one) for one in up]
        if chart.stacked == "to the whole":
            labels = [f"{one:.0%}" for one in up]
        if points:
            across = [value for one in chart.series for value in (one.at or {}).values()] or [0.0, 1.0]
            beside = steps(min(across), max(across), max(int((right - left) / (line * 4)), 1))
        names = [chart.names.get(at) or str(at + 1) for at in chart.places]
        wide = max((font.getlength(one) for one in (names if lying else labels)), default=0)
        gap = min(wide, (right - left) * 0.35) + 4 * self.scale
        plot = _Box(left + gap, top + line / 2, right - line / 2, bottom - line * 1.2)

        def place(value: float) -> float:
            share = (value - up[0]) / (up[-1] - up[0])
            return (
                plot.left + share * (plot.right - plot.left)
                if lying
                else plot.bottom - share * (plot.bottom - plot.top)
            )

        for value, words in zip(up, labels, strict=True):
            at = place(value)
            colour = _QUIET if value == 0 else _GRID
            if lying:
                self.on.line((at, plot.top, at, plot.bottom), colour, max(round(self.scale / 2), 1))
                self.on.text((at, plot.bottom + 2 * self.scale), words, _QUIET, font, anchor="ma")
            else:
                self.on.line((plot.left, at, plot.right, at), colour, max(round(self.scale / 2), 1))
                self.on.text((plot.left - 3 * self.scale, at), words, _QUIET, font, anchor="rm")
        if points:
            self._points(plot, place, beside, font)
            return
        count = max(len(chart.places), 1)
        room = (plot.bottom - plot.top if lying else plot.right - plot.left) / count
        every = (
            1
            if lying
            else max(1, -(-int(max(map(font.getlength, names), default=0) + 4 * self.scale) // max(int(room), 1)))
        )
        if lying:
            every = max(1, -(-int(line) // max(int(room), 1)))
        reached = 0.0
        for at, words in islice(enumerate(names), 0, None, min(every, max(count, 1))):
            middle = (plot.top if lying else plot.left) + room * (at + 0.5)
            if lying:
                self.on.text(
                    (plot.left - 3 * self.scale, middle),
                    self._fitting(words, gap - 3 * self.scale, font),
                    _QUIET,
                    font,
                    anchor="rm",
                )
            else:
                shown = self._fitting(words, room * every, font)
                half = font.getlength(shown) / 2
                middle = min(max(middle, self.box.left + half), self.box.right - half)
                if middle - half < reached:
                    continue
                reached = middle + half + 2 * self.scale
                self.on.text((middle, plot.bottom + 2 * self.scale), shown, _QUIET, font, anchor="ma")
        self._areas(plot, place, room)
        self._bars(plot, place, room, lying)
        self._lines(plot, place, room)

    def _stacks(self) -> Iterator[tuple[int, int, float, float]]:
        """Of what is drawn from the ground up the number of its series, its place, and from where to where it reaches."""
        grounds: dict[tuple[bool, int], float] = {}
        wholes: dict[int, float] = {}
        for one in self.chart.series:
            for at, value in one.values.items():
                wholes[at] = wholes.get(at, 0.0) + abs(value)
        for number, one in enumerate(self.chart.series):
            if one.kind not in ("column", "bar", "area"):
                continue
            for at, value in sorted(one.values.items()):
                if self.chart.stacked == "to the whole":
                    value = value / wholes[at] if wholes[at] else 0.0
                ground = grounds.get((value < 0, at), 0.0) if self.chart.stacked else 0.0
                grounds[value < 0, at] = ground + value
                yield number, at, ground, ground + value

    def _bars(self, plot: _Box, place: _Place, room: float, lying: bool) -> None:
        standing = [number for number, one in enumerate(self.chart.series) if one.kind in ("column", "bar")]
        share = 1 if self.chart.stacked else max(len(standing), 1)
        width = min(room * 0.72, _WIDEST_BARS * self.scale) / share
        for number, at, low, high in self._stacks():
            if number not in standing:
                continue
            beside = 0 if self.chart.stacked else standing.index(number)
            start = (plot.top if lying else plot.left) + room * (at + 0.5) + width * (beside - share / 2)
            first, last = sorted((place(low), place(high)))
            box = (first, start, last, start + width - 1) if lying else (start, first, start + width - 1, last)
            if box[2] >= box[0] and box[3] >= box[1]:
                self.on.rectangle(box, COLOURS[number % len(COLOURS)])

    def _areas(self, plot: _Box, place: _Place, room: float) -> None:
        for number, one in [*enumerate(self.chart.series)][::-1]:
            if one.kind != "area":
                continue
            reach = [(at, low, high) for which, at, low, high in self._stacks() if which == number]
            x = [plot.left + room * (at + 0.5) for at, _, _ in reach]
            if len(reach) > 1:
                edge = [(left, place(high)) for left, (_, _, high) in zip(x, reach, strict=True)]
                ground = [(left, place(low)) for left, (_, low, _) in zip(x, reach, strict=True)]
                self.on.polygon([*edge, *ground[::-1]], COLOURS[number % len(COLOURS)])

    def _lines(self, plot: _Box, place: _Place, room: float) -> None:
        for number, one in enumerate(self.chart.series):
            if one.kind != "line":
                continue
            spots = {at: (plot.left + room * (at + 0.5), place(value)) for at, value in sorted(one.values.items())}
            for at, spot in spots.items():
                if at + 1 in spots:
                    self.on.line(
                        (*spot, *spots[at + 1]), COLOURS[number % len(COLOURS)], max(round(1.4 * self.scale), 1)
                    )
            for spot in spots.values():
                self._spot(spot, number)

    def _points(self, plot: _Box, place: _Place, beside: Sequence[float], font: ImageFont.FreeTypeFont) -> None:
        def across(value: float) -> float:
            return plot.left + (value - beside[0]) / (beside[-1] - beside[0]) * (plot.right - plot.left)

        for value in beside:
            self.on.line((across(value), plot.top, across(value), plot.bottom), _GRID, max(round(self.scale / 2), 1))
            self.on.text((across(value), plot.bottom + 2 * self.scale), figure(value), _QUIET, font, anchor="ma")
        for number, one in enumerate(self.chart.series):
            for at, value in one.values.items():
                if one.at is not None and at in one.at:
                    self._spot((across(one.at[at]), place(value)), number)

    def _spot(self, spot: tuple[float, float], number: int) -> None:
        """A mark of a series: round, square, a triangle or a diamond, so that they differ without colour as well."""
        x, y = spot
        size, colour = 2.2 * self.scale, COLOURS[number % len(COLOURS)]
        match number % 4:
            case 0:
                self.on.ellipse((x - size, y - size, x + size, y + size), colour)
            case 1:
                self.on.rectangle((x - size, y - size, x + size, y + size), colour)
            case 2:
                self.on.polygon([(x, y - size * 1.2), (x + size * 1.2, y + size), (x - size * 1.2, y + size)], colour)
            case _:
                self.on.polygon(
                    [(x, y - size * 1.3), (x + size * 1.3, y), (x, y + size * 1.3), (x - size * 1.3, y)], colour
                )


@cache
def _font(bold: bool, size: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(FONT_FOLDER / f"Carlito-{'Bold' if bold else 'Regular'}.ttf"), size)
