"""Draws the fourteen figures of the Quillmere report: ``python -m demo.figures``. All figures in them are invented.

Needs matplotlib, which the application itself does not; the pictures are kept in ``demo/figures``.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import matplotlib as mpl

mpl.use("Agg")

import matplotlib.pyplot as plt
import numpy as np
from matplotlib import font_manager
from matplotlib.axes import Axes
from matplotlib.patches import FancyArrowPatch, Polygon, Rectangle

FOLDER = Path(__file__).with_name("figures")
FONTS = Path(__file__).parents[1] / "mellowspine/core/pages/fonts"

INK, SEA, STONE, SAND, GOLD, BRICK, LEAF = (
    "#33263b", "#4b7f94", "#8d8791", "#e9dfc8", "#c98a12", "#b4452f", "#2f7d6b"
)  # fmt: skip

random = np.random.default_rng(1934)


def harbour(ax: Axes) -> None:
    ax.add_patch(Rectangle((0, 0), 10, 6, color="#dbe7ea"))
    land = [(0, 3.9), (2.6, 4.1), (5.2, 4.0), (6.4, 4.6), (8, 4.4), (10, 4.8), (10, 6), (0, 6)]
    ax.add_patch(Polygon(land, color=SAND))
    ax.plot([6.6, 7.6, 8.3], [4.5, 2.6, 1.2], lw=9, color=STONE, solid_capstyle="round")
    ax.add_patch(Rectangle((2.4, 2.5), 3, 1.5, fc="#9cc2cd", ec=INK, lw=2.5))
    for x, y, words in (
        (3.9, 3.2, "Tidal pool"), (8.5, 1.9, "Mole"), (6.35, 3.3, "Harbour\nmouth"), (1.2, 4.8, "Battery Steps"),
        (4.2, 4.8, "Terrace"), (9.0, 5.3, "Town"), (2.2, 1.0, "Quillmere Sound"),
    ):  # fmt: skip
        ax.text(x, y, words, ha="center", va="center", fontsize=12)
    ax.annotate("N", (9.4, 1.2), (9.4, 0.4), ha="center", arrowprops={"arrowstyle": "<-", "color": INK})
    frameless(ax, 10, 6)


def tickets(ax: Axes) -> None:
    years = np.array([*range(1934, 1940), *range(1946, 2023)])
    trend = np.interp(
        years, [1934, 1939, 1946, 1957, 1966, 1974, 1988, 1996, 2010, 2022], [31, 48, 40, 88, 42, 55, 38, 30, 24, 19]
    )
    sold = trend * random.normal(1, 0.06, len(years))
    ax.plot(years[:6], sold[:6], color=SEA, lw=2)
    ax.plot(years[6:], sold[6:], color=SEA, lw=2)
    ax.axvspan(1939.5, 1945.5, color=SAND)
    ax.text(1942.5, 84, "closed", ha="center", fontsize=10)
    ax.set(ylabel="Tickets, thousands", xlabel="Season", ylim=(0, 100))


def tide(ax: Axes) -> None:
    hours = np.linspace(0, 24, 400)
    ax.plot(hours, 2.95 + 2.35 * np.cos((hours - 3) / 12.42 * 2 * np.pi), color=SEA, lw=2.2)
    for level, words, colour in (
        (5.9, "crest of the wall", INK),
        (0.9, "sill, north gate", GOLD),
        (0.4, "sill, south gate", BRICK),
    ):
        ax.axhline(level, color=colour, lw=1.3, ls="--")
        ax.text(24.2, level, words, va="center", fontsize=10, color=colour)
    ax.set(xlabel="Hours", ylabel="Metres above gauge datum", xlim=(0, 24), xticks=range(0, 25, 4), ylim=(0, 6.4))


def waves(ax: Axes) -> None:
    ax.bar(np.arange(10) * 0.25 + 0.125, [5120, 3870, 2240, 1180, 560, 271, 118, 44, 12, 3], width=0.22, color=SEA)
    ax.set(xlabel="Height from trough to crest, metres", ylabel="Waves recorded", yscale="log")


def condition(ax: Axes) -> None:
    corners = {"North wall · 2": ((1, 4.6), (7.2, 4.6), LEAF), "West wall · 2": ((1, 4.6), (1, 1), LEAF),
               "South wall · 3": ((1, 1), (6, 1), GOLD), "South-east\ncorner · 5": ((6, 1), (8.6, 2.2), BRICK)}  # fmt: skip
    for words, ((x0, y0), (x1, y1), colour) in corners.items():
        ax.plot([x0, x1], [y0, y1], lw=8, color=colour, solid_capstyle="butt")
        upright = x0 == x1
        ax.text(
            (x0 + x1) / 2 + (0.35 if upright else -0.5 if y0 != y1 else 0),
            (y0 + y1) / 2 + (0 if upright else 0.35),
            words,
            ha="left" if upright else "center",
            va="bottom",
            fontsize=11,
        )
    ax.plot([8.6, 8.6, 7.2], [2.2, 4.6, 4.6], lw=2, color=STONE, ls=":")
    ax.text(8.75, 3.5, "terrace", fontsize=11, rotation=90)
    frameless(ax, 10, 5.6)


def movement(ax: Axes) -> None:
    months = np.arange(31)
    winter = ((months + 1) % 12) < 5
    for total, colour, words in ((19, BRICK, "outer prism"), (13, GOLD, "inner prism")):
        step = np.where(winter, 1.0, 0.06) * np.linspace(1.3, 0.7, 31)
        ax.plot(months, np.cumsum(step) / step.sum() * total, color=colour, lw=2.2, label=words)
    ax.legend(frameon=False, loc="upper left")
    ax.set(xlabel="Months since the storm", ylabel="Millimetres outwards", ylim=(0, 22))


def wishes(ax: Axes) -> None:
    names = ["Open again", "Shelter from wind", "Warm basin", "Shallow water", "A café", "Lanes", "Parking"]
    counts = [1724, 1102, 1048, 871, 866, 390, 61]
    ax.barh(names[::-1], counts[::-1], color=[STONE, *[SEA] * 5, LEAF])
    for row, count in enumerate(counts[::-1]):
        ax.text(count + 18, row, f"{count:,}", va="center", fontsize=10)
    ax.set(xlabel="People who asked for it, of 1,912", xlim=(0, 1950))


def options(ax: Axes) -> None:
    names, cost, balance = (
        ["Make safe", "Fill in", "Closed, heated", "Tidal, warm basin"],
        [1.9, 3.2, 9.7, 6.84],
        [-22, -48, -640, 4],
    )
    place = np.arange(4)
    ax.bar(place - 0.2, cost, 0.38, color=SEA, label="Building, millions of crowns (left)")
    other = ax.twinx()
    other.bar(place + 0.2, balance, 0.38, color=GOLD, label="Each year, thousands (right)")
    other.set_ylim(-800, 800)
    ax.set(xticks=place, xticklabels=names, ylim=(-11, 11))
    ax.axhline(0, color=INK, lw=0.8)
    ax.legend(frameon=False, loc="upper left", fontsize=9)
    other.legend(frameon=False, loc="lower left", fontsize=9)
    other.spines[["top"]].set_visible(False)


def corner(ax: Axes) -> None:
    ax.add_patch(Rectangle((0, 0), 10, 2.2, color="#c7c9cf"))
    ax.add_patch(Polygon([(0, 2.2), (10, 2.2), (10, 3.0), (0, 2.7)], color=SAND))
    ax.add_patch(Rectangle((0, 2.7), 4.1, 2.0, color="#dbe7ea"))
    for x in (4.5, 5.9):
        ax.add_patch(Rectangle((x, 0.3), 0.35, 2.8, color=INK))
    ax.add_patch(Rectangle((4.2, 3.0), 2.4, 0.6, color=STONE))
    ax.add_patch(Polygon([(4.2, 3.6), (6.6, 3.6), (6.1, 5.9), (4.6, 5.9)], fc="#d8cdbb", ec=INK))
    ax.add_patch(Polygon([(6.6, 3.0), (10, 3.0), (10, 5.4), (6.2, 5.4)], fc="#efe9dc", ec="none"))
    for x, y, words in (
        (5.4, 4.7, "stone\nin lime"),
        (8.2, 4.2, "drained filling"),
        (5.4, 3.3, "beam"),
        (7.6, 1.2, "firm clay"),
        (2, 3.6, "sea"),
        (3.3, 1.3, "piles"),
    ):
        ax.text(x, y, words, ha="center", va="center", fontsize=11)
    frameless(ax, 10, 6.2)


def fortnight(ax: Axes) -> None:
    days = np.linspace(0, 14, 1400)
    spring = 1.75 + 0.6 * np.cos(days / 14.77 * 2 * np.pi)
    outside = 2.95 + spring * np.cos(days * 24 / 12.42 * 2 * np.pi)
    ax.plot(days, outside, color="#b9ccd3", lw=1, label="outside")
    pool, level = [], 3.9
    for height in outside:
        level = max(level - 0.0012, height if height > 3.6 else 0, 3.2) if height > level else max(level - 0.004, 3.2)
        pool.append(level)
    ax.plot(days, pool, color=INK, lw=2, label="pool")
    ax.legend(frameon=False, loc="lower right", ncols=2)
    ax.set(xlabel="Days from a spring tide", ylabel="Metres above gauge datum", xlim=(0, 14))


def basin(ax: Axes) -> None:
    steps = [
        ("Pool", 1.0, 4),
        ("Sand filter", 3.4, 4),
        ("Lamp", 6.0, 4),
        ("Warm basin", 8.7, 4),
        ("Heat pump", 6.0, 1.6),
        ("Outfall of the\nice works", 2.6, 1.6),
    ]
    for words, x, y in steps:
        ax.add_patch(Rectangle((x - 0.85, y - 0.5), 1.9, 1.0, fc="#fbfaf7", ec=INK, lw=1.5))
        ax.text(x + 0.1, y, words, ha="center", va="center", fontsize=11)
    arrows = [
        ((2.05, 4), (2.55, 4)),
        ((4.45, 4), (5.15, 4)),
        ((7.05, 4), (7.85, 4)),
        ((3.65, 1.6), (5.15, 1.6)),
        ((7.05, 1.9), (8.4, 3.5)),
        ((8.8, 4.5), (0.9, 4.5)),
    ]
    for index, (start, end) in enumerate(arrows):
        bend = "arc3,rad=0.35" if index == 5 else "arc3,rad=0"
        ax.add_patch(
            FancyArrowPatch(
                start,
                end,
                arrowstyle="-|>",
                mutation_scale=14,
                color=SEA if index < 3 or index == 5 else GOLD,
                connectionstyle=bend,
                lw=1.8,
            )
        )
    ax.text(4.8, 6.25, "back to the pool, one part in ten each day", ha="center", fontsize=10)
    frameless(ax, 10.2, 6.6)


def samples(ax: Axes) -> None:
    days = np.sort(random.choice(np.arange(0, 150), 44, replace=False))
    counts = random.lognormal(3.2, 0.5, 44)
    rain = np.isin(np.arange(44), (9, 23, 37))
    counts = np.where(rain, random.uniform(205, 290, 44), np.minimum(counts, 180))
    ax.scatter(days[~rain], counts[~rain], color=SEA, s=26, label="other days")
    ax.scatter(days[rain], counts[rain], color=BRICK, marker="^", s=44, label="after heavy rain")
    ax.axhline(200, color=GOLD, lw=1.5, ls="--")
    ax.text(1, 207, "limit for good water", fontsize=10, color="#845600")
    ax.legend(frameon=False, loc="upper right")
    ax.set(
        xticks=[0, 31, 61, 92, 123],
        xticklabels=["May", "June", "July", "August", "September"],
        ylabel="Counted in 100 millilitres",
        ylim=(0, 320),
    )


def terrace(ax: Axes) -> None:
    rooms = [
        ("North block,\n48 cubicles", 0.4, 2.6),
        ("Entrance", 3.0, 0.9),
        ("South block,\n6 rooms", 3.9, 2.2),
        ("Café", 6.1, 1.8),
        ("Plant", 7.9, 1.0),
    ]
    for words, x, width in rooms:
        ax.add_patch(Rectangle((x, 3.4), width, 1.5, fc=SAND, ec=INK, lw=1.5))
        ax.text(x + width / 2, 4.15, words, ha="center", va="center", fontsize=10.5)
    ax.add_patch(Rectangle((0.4, 0.4), 6.4, 2.3, fc="#9cc2cd", ec=INK, lw=2.5))
    ax.text(3.6, 1.5, "Tidal pool", ha="center", fontsize=12)
    ax.add_patch(Rectangle((7.3, 1.2), 1.7, 1.2, fc="#f0c9a0", ec=INK, lw=1.5))
    ax.text(8.15, 1.8, "Warm\nbasin", ha="center", va="center", fontsize=10.5)
    ax.add_patch(Polygon([(0.55, 2.7), (0.95, 2.7), (0.95, 0.9), (0.55, 0.9)], fc="#fbfaf7", ec=INK))
    ax.text(1.1, 1.9, "ramp", fontsize=10)
    frameless(ax, 9.6, 5.3)


def summers(ax: Axes) -> None:
    names = ["Poor", "Middling", "Good"]
    place = np.arange(3)
    ax.bar(place - 0.2, [210, 303, 409], 0.38, color=LEAF, label="Income")
    ax.bar(place + 0.2, [304, 299, 331], 0.38, color=STONE, label="Cost, loan included")
    ax.legend(frameon=False, loc="upper left")
    ax.set(xticks=place, xticklabels=names, ylabel="Thousands of crowns", ylim=(0, 480))


def frameless(ax: Axes, width: float, height: float) -> None:
    ax.set(xlim=(0, width), ylim=(0, height), aspect="equal")
    ax.axis("off")


FIGURES: tuple[Callable[[Axes], None], ...] = (
    harbour, tickets, tide, waves, condition, movement, wishes, options, corner, fortnight, basin, samples, terrace,
    summers,
)  # fmt: skip


def main() -> None:
    for path in FONTS.glob("Carlito-*.ttf"):
        font_manager.fontManager.addfont(str(path))
    plt.rcParams.update({"font.family": "Carlito", "font.size": 12, "text.color": INK, "axes.edgecolor": INK,
                         "axes.spines.top": False, "axes.spines.right": False})  # fmt: skip
    FOLDER.mkdir(exist_ok=True)
    for number, draw in enumerate(FIGURES, 1):
        figure, ax = plt.subplots(figsize=(6.4, 3.5), layout="constrained")
        draw(ax)
        figure.savefig(FOLDER / f"figure-{number:02}.png", dpi=150, metadata={"Software": None})
        plt.close(figure)


if __name__ == "__main__":
    main()
