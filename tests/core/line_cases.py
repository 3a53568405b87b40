"""How lines of tables read, as the core sets them: cases that the browser's lines are held to as well.

``python -m tests.core.line_cases`` writes them to web/tests/lines-of-tables.json, for ``printedLine.test.ts``.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Run
from mellowspine.core.report.recipes import LevelLook, Recipe, recipe_to_json
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Emphasis, Issued, Lead, Line
from mellowspine.core.tables.setting import PAGE_SEPARATOR, Part, set_table

FILE = Path(__file__).parents[2] / "web/tests/lines-of-tables.json"

_RECIPE = Recipe(title="", levels=(1, 2, 3))
_LINES = (
    Line("a", 1, "1", "Aims of the survey", ("3",)),
    Line("b", 2, "1.1", "The brig Fulmar and 😀 others", ("4",), (Emphasis(9, 15, "i"), Emphasis(20, 21, "bu"))),
    Line("c", 3, "", "BOLD in a bold level", ("iv",), (Emphasis(0, 4, "b"),)),
    Line("d", 3, "1.1.2", "No page", ()),
)
_LEADING = (
    Line("a", 1, "", "Tides", ()),
    Line("b", 2, "", "neap", ("3", "7", "12"), (), (Lead("x"), Lead("y", main=True), Lead("z"))),
    Line("c", 3, "", "at the quay", ("5",), (), (Lead("w"),)),
    Line("d", 3, "", "at sea", ("9",)),
)


def cases() -> list[tuple[Recipe, tuple[Line, ...]]]:
    looks = list(_RECIPE.looks)
    looks[2] = replace(looks[2], bold=True, capitals=False)
    recipe = replace(_RECIPE, looks=tuple(looks))
    quiet = replace(recipe, looks=tuple(replace(look, page_number=at != 1) for at, look in enumerate(looks)))
    return [
        *((replace(recipe, numbers=numbers, page_numbers=pages), _LINES) for numbers in ("run in", "hung", "margin", "none")
          for pages in ("edge", "words", "none")),
        (quiet, _LINES), (replace(quiet, page_numbers="words", separator=", p. "), _LINES),
        *((replace(recipe, run_in=run_in, page_numbers=pages, links=links), _LEADING) for run_in in (False, True)
          for pages in ("edge", "words") for links in (False, True)),
    ]  # type: ignore[arg-type]  # fmt: skip


def read(recipe: Recipe, lines: tuple[Line, ...]) -> list[dict[str, Any]]:
    """Each paragraph of a table: the number that hangs in front, its words in stretches, and what stands at the edge."""
    parts = set_table(Issued(recipe, lines), Report("r"), Typefaces()).parts
    return [
        {"number": part.number, "words": [*_stretches(part, recipe.look(part.line.level))], "edge": _edge(part, recipe)}
        for part in parts
        if part.line
    ]


def _stretches(part: Part, look: LevelLook) -> Iterator[list[str]]:
    """Pairs of words and how they are set: b, i, u."""
    last: list[str] | None = None
    for run in part.paragraph.runs:
        how = _how(run, look)
        if last and last[1] == how:
            last[0] += run.text
        else:
            if last:
                yield last
            last = [run.text, how]
    if last:
        yield last


def _how(run: Run, look: LevelLook) -> str:
    marks = run.marks
    bold = look.bold if marks.bold is None else marks.bold
    italic = look.italic if marks.italic is None else marks.italic
    return "b" * bold + "i" * italic + "u" * bool(marks.underline)


def _edge(part: Part, recipe: Recipe) -> str:
    at_edge = recipe.page_numbers == "edge" and part.line and recipe.look(part.line.level).page_number
    return PAGE_SEPARATOR.join(part.line.pages) if at_edge and part.line else ""


def as_json() -> list[Any]:
    made = [
        {"recipe": recipe_to_json(recipe), "lines": lines, "reads": read(recipe, lines)} for recipe, lines in cases()
    ]
    return json.loads(json.dumps(made))


if __name__ == "__main__":
    cases_on_lines = ",\n".join(json.dumps(one, ensure_ascii=False) for one in as_json())
    FILE.write_text(f"[\n{cases_on_lines}\n]\n")
