"""``mellow contents``: the lines of a file's contents, or of another list."""

from __future__ import annotations

from argparse import ArgumentParser
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import Recipe, read_recipe, settings_of
from mellowspine.core.report.styles import StyleSheet
from mellowspine.core.report.tables import Issued
from mellowspine.core.tables.forms import Form, formed, forms_for
from mellowspine.core.tables.kinds import build, sources_of, table_kind
from mellowspine.core.tables.settle import settle_all

from .command import Command, Unusable, in_json
from .shared import json_of, opened, with_table


def _levels(given: str) -> list[int]:
    """``1-4`` or ``1,3``."""
    found = [part.partition("-") for part in given.split(",")]
    try:
        return sorted({level for first, _, last in found for level in range(int(first), int(last or first) + 1)})
    except ValueError:
        raise Unusable(f"“{given}” are no levels; write them as 1-4 or as 1,3.") from None


_FORM_NAMES = ", ".join(form.key for form in forms_for("contents"))


def _form(name: str) -> Form:
    for form in forms_for("contents"):
        if name.casefold() in (form.key, form.name.casefold()):
            return form
    raise Unusable(f"There is no form “{name}”; choose among {_FORM_NAMES}.")


def _listing(of: str, styles: StyleSheet) -> Recipe:
    """The recipe of a table that lists figures, data tables, or the paragraphs of a style."""
    if of in ("figures", "tables"):
        return table_kind(of).recipe
    named = [style for style in styles.values() if of.casefold() in (style.id, style.name.casefold())]
    if not named:
        raise Unusable(f"There is no style “{of}” in it; choose figures, tables, or one that “mellow styles” prints.")
    return replace(table_kind("styles").recipe, title=named[0].name, feeds={named[0].id: 1})


def show_contents(
    file: Path, of: str | None, levels: str | None, form: str | None, recipe: Path | None, as_json: bool
) -> str:
    """The lines of a file's contents, as its own table has them, or by another recipe; or those of another list."""
    settings: dict[tuple[str, ...], Any] = {}
    try:
        made = read_recipe(json_of(recipe)) if recipe else Recipe()
        made = formed(made, _form(form)) if form else made
        settings = settings_of(made) if recipe or form else {}
        if levels is not None:
            settings[("levels",)] = _levels(levels)
        report = opened(file).report
        if of:
            report, pages = settle_all(report, Typefaces())
            made = _listing(of, report.styles)
            issued = Issued(made, build(made, sources_of(pages.headings, pages)))
        else:
            _, issued = with_table(report, settings)
    except SettingError as error:
        raise Unusable(f"{recipe}: {error}" if recipe else str(error)) from None
    rows = [
        {
            "id": line.source,
            "level": line.level,
            "number": line.number,
            "text": line.text,
            "label": ", ".join(line.pages),
        }
        for line in issued.lines
    ]
    if as_json:
        return in_json({"lines": rows})
    words = ["  " * (line.level - 1) + f"{line.number} {line.text}".strip() for line in issued.lines]
    if issued.recipe.page_numbers == "none":
        return "\n".join(words)
    width = max((len(line) for line in words), default=0)
    return "\n".join(f"{line:<{width}}  {row['label']:>5}" for line, row in zip(words, rows, strict=True))


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("--of", metavar="WHAT", help="list figures, tables, or the paragraphs of a style instead")
    parser.add_argument("--levels", help="the levels that are listed, such as 1-4 or 1,3")
    parser.add_argument("--form", metavar="NAME", help=f"one of {_FORM_NAMES}")
    parser.add_argument("--recipe", type=Path, help="the recipe of the table, a file of JSON")


COMMAND = Command(
    lambda given: show_contents(given.file, given.of, given.levels, given.form, given.recipe, given.json), _arguments
)
