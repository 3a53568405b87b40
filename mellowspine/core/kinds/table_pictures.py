"""Small true pictures of a table: what stands on the first page of it, in each of several recipes."""

from __future__ import annotations

from dataclasses import replace

from ..pages.draw import Drawing, Rule, Words
from ..pages.pages import paginate
from ..report.blocks import PlacedTable
from ..report.page import PageSetup
from ..report.recipes import Recipe
from ..tables.changing import Now

LINES = 12
"""How many lines a picture shows at most."""
WIDTH = 240.0
"""Points between the edges of the text in a picture: less than on a page, so that its letters are not too small."""


def picture(now: Now, key: str, recipe: Recipe, height: float) -> list[Words | Rule]:
    """The beginning of a table by a recipe, down to ``height`` points."""
    lines = now.lines(key, recipe)[:LINES]
    page = PageSetup(width=WIDTH, height=max(height, 100.0), top=0, bottom=0, left=0, right=0, foot_middle="")
    issued = replace(now.report.tables[key], recipe=recipe, lines=lines)
    sample = replace(
        now.report, blocks=(PlacedTable("t", "t"),), tables={"t": issued}, page=page, parts={}, number_widths={}
    )
    pages = paginate(sample, now.typefaces)
    return [mark for mark in Drawing(pages, now.typefaces).page(1) if isinstance(mark, Words | Rule)]
