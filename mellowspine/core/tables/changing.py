"""What somebody changes about one table of a report: its recipe, its words, how far it is caught up.

Each function gives the report with the table changed, and its pages; nothing is stored, so that it can be shown before it is
done. Where a change makes the table itself longer or shorter, page numbers that were true stay so.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from ..pages.pages import Pages
from ..pages.typefaces import Typefaces
from ..report.properties import SettingError
from ..report.recipes import SELECTS, Recipe
from ..report.report import Report
from ..report.tables import Issued, Line
from ..structure.outline import Outline
from .kinds import Sources, build, placed_tables, sources_of
from .own import with_heading_words, with_words
from .settle import Scope, reselected, settle

Changed = tuple[Report, Pages]


@dataclass(frozen=True)
class Now:
    """A report with all that tables are made from. ``pages`` are those of the report, ``headings`` its outline."""

    report: Report
    pages: Pages
    headings: Outline
    typefaces: Typefaces

    @cached_property
    def placed(self) -> Mapping[str, int]:
        """The block in which each table stands."""
        return {key: at for key, (at, _) in placed_tables(self.report.blocks).items()}

    @cached_property
    def _sources(self) -> Sources:
        return sources_of(self.headings, self.pages)

    def holds(self, key: str) -> bool:
        """Whether the table is in the text."""
        return key in self.report.tables and key in self.placed

    def lines(self, key: str, recipe: Recipe | None = None) -> tuple[Line, ...]:
        """The lines that the text gives for a table, by its own recipe or another, without own words."""
        return build(recipe or self.report.tables[key].recipe, self._sources._replace(at=self.placed[key]))


def caught_up(now: Now, keys: Collection[str], scope: Scope) -> Changed:
    """Tables brought up to date."""
    return settle(now.report, keys, scope, now.typefaces, now.headings, now.pages)


def with_recipe(now: Now, key: str, recipe: Recipe) -> Changed:
    """A table by another recipe: it lists what that asks for, and is otherwise as far behind as it was.

    Raises SettingError for a leader that none of its faces has.
    """
    issued = now.report.tables[key]
    check_leader(recipe, now.typefaces)
    changed = replace(issued, recipe=recipe)
    if any(getattr(recipe, name) != getattr(issued.recipe, name) for name in SELECTS):
        changed = reselected(changed, now.lines(key), now.lines(key, recipe))
    return _changed(now, key, changed)


def in_words(now: Now, key: str, source: str, words: str | None) -> Changed:
    """A table with own words for a line, or without that line (None)."""
    return _changed(now, key, with_words(now.report.tables[key], source, words, now.lines(key)))


def as_headed(now: Now, key: str, source: str) -> Changed:
    """A table with a line in the heading's words again."""
    return _changed(now, key, with_heading_words(now.report.tables[key], source, now.lines(key)))


def _changed(now: Now, key: str, issued: Issued) -> Changed:
    fresh = {line.source: line.pages for line in now.lines(key, issued.recipe)}
    true = {line.source for line in issued.lines if fresh.get(line.source) == line.pages}
    report = replace(now.report, tables={**now.report.tables, key: issued})
    return settle(report, (key,), "pages", now.typefaces, now.headings, now.pages, true)


def check_leader(recipe: Recipe, typefaces: Typefaces) -> None:
    """Raises SettingError if a leader could not be printed in a face of the table."""
    for look in {recipe.look(level) for level in recipe.levels}:
        if recipe.leader and not typefaces.face(look.font, look.bold, look.italic).covers(recipe.leader):
            raise SettingError(f"{look.font} has no character “{recipe.leader}” to lead with; choose another one.")


def pages_taken(pages: Pages, at: int) -> int:
    """How many pages the table placed in block ``at`` stands on."""
    return pages.page_of(at, len(pages.boxes[at].heights) - 1) - pages.page_of(at) + 1
