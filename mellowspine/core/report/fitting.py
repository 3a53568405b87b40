"""What one report holds, as another can take it in: styles, labels and authorities matched or made, ids anew."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

from .authorities import MOST, OTHER, Authority, Category, known_category
from .blocks import Block, Image, Paragraph, PartStart, PlacedTable, Run, with_paragraphs
from .elements import ids_of
from .labels import Label, known_label
from .links import inner
from .properties import free_id
from .recipes import Recipe
from .report import Report
from .sheet import MOST_LABELS, MOST_STYLES
from .styles import LEVELS, Style, StyleSheet
from .tables import Issued, OwnWords

DEEPEST = LEVELS[-1]


class Fitted(NamedTuple):
    """Blocks for a report; the report with all that they need and it had not, its own blocks as before; and the tables among
    them, by their new keys."""

    blocks: tuple[Block, ...]
    report: Report
    tables: Mapping[str, Issued]


def highest_level(source: Report) -> int | None:
    """The level of a report's highest headings; None if it has none."""
    levels = source.styles.levels
    return min((levels[b.style] for b in source.blocks if isinstance(b, Paragraph) and b.style in levels), default=None)


def level_before(report: Report, after: str) -> int:
    """The level of the heading under which something would stand behind a block; 0 in front of all headings."""
    found = 0
    for block in report.blocks:
        if isinstance(block, Paragraph):
            found = report.styles.levels.get(block.style, found)
        if block.id == after:
            return found
    return found


def fitted(source: Report, into: Report, new_id: Callable[[], str], deeper: int = 0) -> Fitted:
    """All blocks of one report for another. Its headings come to stand ``deeper`` levels lower, or higher where that is less
    than 0; within the nine levels that there are.

    Styles are matched by what they are for, then by name; what leads to a place among the blocks leads to it in the copy.
    """
    fit = _Fit(source, into, new_id, deeper)
    blocks = tuple(fit.block(block) for block in source.blocks)
    report = replace(
        into,
        styles=StyleSheet(fit.styles.values()),
        labels=fit.labels,
        parts=fit.parts,
        categories=fit.categories,
        authorities=fit.authorities,
        sees=(*into.sees, *(see for see in source.sees if see not in into.sees)),
    )
    return Fitted(blocks, report, fit.tables)


@dataclass
class _Fit:
    source: Report
    into: Report
    new_id: Callable[[], str]
    deeper: int

    def __post_init__(self) -> None:
        self.styles = {style.id: style for style in self.into.styles.values()}
        self.labels = dict(self.into.labels)
        self.parts = dict(self.into.parts)
        self.categories = dict(self.into.categories)
        self.authorities = dict(self.into.authorities)
        self.tables: dict[str, Issued] = {}
        self._styles: dict[str, str] = {}
        self._labels: dict[str, str] = {}
        self._categories: dict[str, str] = {}
        self._authorities: dict[str, str] = {}
        places = {id for block in self.source.blocks for id in ids_of(block)}
        places |= {run.marks.bookmark.id for run in _runs(self.source.blocks) if run.marks.bookmark}
        self._inside = frozenset(places)
        self._ids: dict[str, str] = defaultdict(self.new_id)
        """New ids by their old ones: of blocks, of places, and of stretches of words."""

    def block(self, block: Block) -> Block:
        if isinstance(block, PlacedTable):
            return self._placed(block)
        if isinstance(block, PartStart) and block.id in self.source.parts:
            self.parts[self._ids[block.id]] = self.source.parts[block.id]
        (found,) = with_paragraphs([block], self.paragraph, self._image)
        return found if isinstance(found, Paragraph | Image) else replace(found, id=self._ids[found.id])  # type: ignore[type-var]  # each kind is a dataclass

    def _image(self, image: Image) -> Image:
        return replace(image, id=self._ids[image.id])

    def paragraph(self, paragraph: Paragraph) -> Paragraph:
        return replace(
            paragraph,
            id=self._ids[paragraph.id],
            style=self.style(paragraph.style),
            runs=tuple(map(self._run, paragraph.runs)),
            caption=paragraph.caption and self.label(paragraph.caption),
            listed=self._level(paragraph.listed) if paragraph.listed else paragraph.listed,
        )

    def _level(self, level: int) -> int:
        return min(max(level + self.deeper, 1), DEEPEST)

    def _run(self, run: Run) -> Run:
        marks = run.marks
        if (place := inner(marks.link)) in self._inside and place:
            marks = replace(marks, link=f"#{self._ids[place]}")
        if marks.reference and marks.reference.to in self._inside:
            marks = replace(marks, reference=marks.reference._replace(to=self._ids[marks.reference.to]))
        if marks.bookmark:
            marks = replace(marks, bookmark=marks.bookmark._replace(id=self._ids[marks.bookmark.id]))
        if marks.citation:
            of = self.authority(marks.citation.of)
            marks = replace(marks, citation=marks.citation._replace(id=self._ids[marks.citation.id], of=of))
        if marks.indexed:
            marks = replace(marks, indexed=marks.indexed._replace(id=self._ids[marks.indexed.id]))
        return run if marks is run.marks else replace(run, marks=marks)

    # --- What is said by name ---

    def style(self, id: str) -> str:
        if id not in self._styles:
            style = self.source.styles.find(id)
            self._styles[id] = self._style(style) if style else self.into.styles.role("body").id
        return self._styles[id]

    def _style(self, style: Style) -> str:
        into, name = self.into.styles, style.name.casefold()
        if into.find(style.id) == style and not (style.outline_level and self.deeper):
            return style.id  # it is the same style, as within one report
        if style.outline_level:
            level = self._level(style.outline_level)
            same = (one.id for one in into.values() if one.outline_level == level and one.name.casefold() == name)
            return next(same, into.heading(level).id)
        if style.role:
            return into.role(style.role).id
        for one in self.styles.values():
            if style.marker and (one.marker, one.list_level) == (style.marker, style.list_level):
                return one.id
        for one in self.styles.values():
            if one.name.casefold() == name and not one.outline_level:
                return one.id
        if len(self.styles) >= MOST_STYLES:
            return into.role("body").id
        made = replace(
            style,
            id=free_id(style.name, self.styles, "style", 50),
            based_on=None,
            declared=frozenset(),
            next=into.role("body").id,
        )
        self.styles[made.id] = made
        return made.id

    def label(self, id: str) -> str:
        if id not in self._labels:
            label = known_label(self.source.labels, id)
            same = next((one.id for one in self.labels.values() if one.name.casefold() == label.name.casefold()), None)
            if same is None and len(self.labels) < MOST_LABELS:
                same = free_id(label.name, self.labels, "label", 24)
                self.labels[same] = Label(same, label.name, label.behind, label.place)
            self._labels[id] = same or id
        return self._labels[id]

    def category(self, id: str) -> str:
        if id not in self._categories:
            wanted = known_category(self.source.categories, id)
            same = next(
                (one.id for one in self.categories.values() if one.name.casefold() == wanted.name.casefold()), None
            )
            if same is None:
                same = free_id(wanted.name, self.categories, "category", 24)
                # Last but for that of what has no category.
                rest = {key: one for key, one in self.categories.items() if key != OTHER}
                other = {OTHER: self.categories[OTHER]} if OTHER in self.categories else {}
                self.categories = {**rest, same: Category(same, wanted.name), **other}
            self._categories[id] = same
        return self._categories[id]

    def authority(self, id: str) -> str:
        if id not in self._authorities:
            known = self.source.authorities.get(id)
            if known is None:
                return id  # it goes by its own words, here as there
            category = self.category(known.category)
            if self.authorities.get(id) == known:
                return id
            same = next(
                (one.id for one in self.authorities.values() if one.long.casefold() == known.long.casefold()), None
            )
            if same is None and len(self.authorities) < MOST:
                same = self.new_id()
                self.authorities[same] = Authority(same, category, known.long, known.short)
            self._authorities[id] = same or id
        return self._authorities[id]

    # --- Tables ---

    def _placed(self, placed: PlacedTable) -> PlacedTable:
        key = self.new_id()
        issued = self.source.tables.get(placed.table)
        if issued is not None:
            self.tables[key] = Issued(self._recipe(issued.recipe), (), self._own(issued.own))
        return replace(placed, id=self._ids[placed.id], table=key)

    def _recipe(self, recipe: Recipe) -> Recipe:
        return replace(
            recipe,
            title_style=recipe.title_style and self.style(recipe.title_style),
            section=self._ids[recipe.section] if recipe.section in self._inside else recipe.section,
            feeds={self.style(style): level for style, level in recipe.feeds.items()},
            label=recipe.label and self.label(recipe.label),
            categories=tuple(dict.fromkeys(map(self.category, recipe.categories))),
        )

    def _own(self, own: Mapping[str, OwnWords]) -> Mapping[str, OwnWords]:
        return {self._ids[source]: words for source, words in own.items() if source in self._inside}


def _runs(blocks: Iterable[Block]) -> Iterable[Run]:
    found: list[Run] = []

    def note(paragraph: Paragraph) -> Paragraph:
        found.extend(paragraph.runs)
        return paragraph

    list(with_paragraphs(blocks, note))
    return found
