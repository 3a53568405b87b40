"""What commands share: reading and writing files, and what is said when that fails."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.imported import FileRefused, Imported
from mellowspine.core.formats.walk import Format, Written
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import FaceFile, Typefaces
from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.report.recipes import Recipe, changed
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued, Line
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.kinds import build, sources_of
from mellowspine.core.tables.settle import settle_all, with_contents

from .command import Unusable


class _Beside(Mapping[str, bytes]):
    """The files that lie beside one, by name; read when they are asked for."""

    def __init__(self, file: Path) -> None:
        self._folder = file.parent

    def __getitem__(self, name: str) -> bytes:
        # Text from a file never leads to another place than this.
        if Path(name).name != name:
            raise KeyError(name)
        try:
            return (self._folder / name).read_bytes()
        except (OSError, ValueError):
            raise KeyError(name) from None

    def __iter__(self) -> Iterator[str]:
        return (path.name for path in self._folder.iterdir())

    def __len__(self) -> int:
        return sum(1 for _ in self)


def opened(path: Path) -> Imported:
    """A file that has been read, with the pictures beside it. Raises Unusable."""
    try:
        return read(path.name, path.read_bytes(), pictures=_Beside(path))
    except FileRefused as refusal:
        raise Unusable(f"{path}: {refusal}") from None
    except OSError as error:
        raise Unusable(f"{path}: {error.strerror or error}; check the name and try again.") from None


Choice = Callable[[Pages], frozenset[int] | None]
"""Which blocks of a report are written; None for all."""


def write(
    imported: Imported,
    out: Path,
    contents: bool,
    own: Iterable[FaceFile] = (),
    choice: Choice = lambda pages: None,
) -> Written:
    """Writes a report in the format of ``out``'s ending, set in typefaces of its own among others; pictures beside it, where the
    format has them there. Returns what was written. Raises Unusable."""
    format = format_of(out)
    typefaces = Typefaces(own)
    report, pages = (with_contents if contents and outline(imported.report) else settle_all)(imported.report, typefaces)
    beside = format.pictures_beside
    written = Written(report, pages, typefaces, {} if beside else imported.pictures, only=choice(pages))
    data = format.write(written)
    try:
        out.write_bytes(data)
        for source, picture in imported.pictures.items() if beside else ():
            (out.parent / source).write_bytes(picture)
    except OSError as error:
        raise Unusable(f"{out}: {error.strerror or error}; choose another place.") from None
    return written


def format_of(out: Path) -> Format:
    """The format that a file's ending asks for. Raises Unusable for one that cannot be written."""
    format = WRITERS.get(out.suffix.lower())
    if format is None:
        raise Unusable(f"{out}: this format cannot be written; give a name that ends in {' or '.join(WRITERS)}.")
    return format


def json_of(path: Path) -> Any:
    """What a file of JSON says. Raises Unusable."""
    try:
        return json.loads(path.read_text())
    except OSError as error:
        raise Unusable(f"{path}: {error.strerror or error}; check the name and try again.") from None
    except ValueError as error:
        raise Unusable(f"{path}: this is no JSON ({error}); correct it there.") from None


def with_table(report: Report, settings: Mapping[tuple[str, ...], Any] | None = None) -> tuple[Report, Issued]:
    """The report with its tables up to date, and the first contents table; in front, if it has none of its own.

    ``settings`` are changed in the recipe of that table, by path.
    """
    typefaces = Typefaces()
    report, _ = with_contents(report, typefaces)
    key = next(block.table for block in report.blocks if type(block) is PlacedTable and block.table in report.tables)
    recipe = changed(report.tables[key].recipe, settings or {})
    report = replace(report, tables={**report.tables, key: replace(report.tables[key], recipe=recipe)})
    report, _ = settle_all(report, typefaces)
    return report, report.tables[key]


def built(report: Report, recipe: Recipe) -> tuple[tuple[Line, ...], Pages]:
    """The lines of a table that stands nowhere in a report, with its own tables up to date; and its pages."""
    report, pages = settle_all(report, Typefaces())
    return build(recipe, sources_of(pages.headings, pages)), pages
