"""What of a report a file in a format will not have as the report has it: said before one is written, by kind, with how often.

A writer names its kinds here (``Told``), each with what finds it in a report; what becomes of it is said in words for people.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, fields
from typing import NamedTuple

from ..pages.pages import Pages
from ..report.blocks import Block, DataTable, Image, Paragraph, PartStart, PlacedTable, images
from ..report.page import DEFAULT_PAGE
from ..report.recipes import Recipe
from ..report.report import Report
from ..structure.footnotes import Footnote
from ..structure.outline import Heading, paragraphs_in


class Told(NamedTuple):
    """A kind of thing that does not come along as it is: what it is, what becomes of it, and how often it is in a report."""

    what: str
    instead: str
    find: Callable[[Written], int]

    @property
    def lost(self) -> bool:
        """Whether nothing of it comes along."""
        return self.instead == "left out"


@dataclass(frozen=True, slots=True)
class Warned:
    """One of them, of which a report has some."""

    what: str
    instead: str
    count: int
    lost: bool

    @property
    def sentence(self) -> str:
        return f"{self.what}: {self.instead}"


class Written(NamedTuple):
    """What is written: the blocks of a report that ``only`` names by their index, or all."""

    pages: Pages
    only: frozenset[int] | None = None

    @property
    def report(self) -> Report:
        return self.pages.report

    @property
    def blocks(self) -> list[Block]:
        return [block for at, block in enumerate(self.report.blocks) if self.has(at)]

    @property
    def paragraphs(self) -> Iterator[Paragraph]:
        return (paragraph for block in self.blocks for paragraph, _ in paragraphs_in(block))

    @property
    def headings(self) -> list[Heading]:
        return [one for one in self.pages.headings if self.has(one.block)]

    @property
    def notes(self) -> list[Footnote]:
        return [one for one in self.pages.footnotes if self.has(one.at)]

    def has(self, block: int) -> bool:
        return self.only is None or block in self.only


def told(ending: str, pages: Pages, only: frozenset[int] | None = None) -> tuple[Warned, ...]:
    """What of a report a file with this ending, such as ``.docx``, will not have as it is; ``only``: of these blocks, by index."""
    of = Written(pages, only)
    found = ((one, one.find(of)) for one in OF_FORMATS.get(ending, ()))
    return tuple(Warned(one.what, one.instead, count, one.lost) for one, count in found if count)


def _recipes(of: Written) -> Iterator[Recipe]:
    report = of.report
    for block in of.blocks:
        if isinstance(block, PlacedTable) and block.table in report.tables:
            yield report.tables[block.table].recipe


def _tables_that(wanted: Callable[[Recipe], bool]) -> Callable[[Written], int]:
    return lambda of: sum(map(wanted, _recipes(of)))


def _own_words(of: Written) -> int:
    tables = {block.table for block in of.blocks if isinstance(block, PlacedTable)}
    return sum(len(issued.own) for key, issued in of.report.tables.items() if key in tables)


def _kept_out(of: Written) -> int:
    return sum(heading.by_hand == "kept out" for heading in of.headings)


def _nested_notes(of: Written) -> int:
    notes = {note.id for note in of.notes}
    return sum(
        bool(run.marks.reference and run.marks.reference.shows == "note" and run.marks.reference.to in notes)
        for one in of.paragraphs
        if one.id in notes
        for run in one.runs
    )


def _broken(of: Written) -> int:
    places = of.pages.places
    return sum(
        bool(run.marks.reference and run.marks.reference.to not in places) for one in of.paragraphs for run in one.runs
    )


def _skipped(of: Written) -> int:
    """Headings under one that is more than a level above them, of which both have numbers: others count what is skipped as 1."""
    before, found = 0, 0
    for heading in of.headings:
        found += bool(heading.number) and heading.level > before + 1
        before = heading.level
    return found


def _keeping_more(of: Written) -> int:
    return sum(max(style.orphans, style.widows) > 2 for style in of.report.styles.values())


def _in_fractions(of: Written) -> int:
    """Styles and words whose size is no half point."""
    report = of.report
    sizes = [style.size for style in report.styles.values()]
    sizes += [run.marks.size for one in of.paragraphs for run in one.runs if run.marks.size]
    return sum(size * 2 != round(size * 2) for size in sizes)


def _notes_by_section(of: Written) -> int:
    page = of.report.page
    counted = {"foot": page.footnotes_counted, "end": page.endnotes_counted}
    return sum(counted[note.kind] == "section" for note in of.notes)


def _images(of: Written) -> int:
    return sum(1 for _ in images(of.blocks))


def _beside(of: Written) -> int:
    return sum(isinstance(block, Image) and block.beside for block in of.blocks)


def _merged(of: Written) -> int:
    rows = (row for block in of.blocks if isinstance(block, DataTable) for row in block.rows)
    return sum(cell.columns > 1 or cell.rows > 1 for row in rows for cell in row)


def _data_tables(of: Written) -> int:
    return sum(isinstance(block, DataTable) for block in of.blocks)


def _parts(of: Written) -> int:
    return sum(isinstance(block, PartStart) for block in of.blocks)


def _heads_and_feet(of: Written) -> int:
    """Whether heads and feet say more than those of a new report, whose page numbers mean nothing without pages."""
    page = of.report.page
    names = [one.name for one in fields(page) if one.name.startswith(("head_", "foot_"))]
    return int(any(getattr(page, name) != getattr(DEFAULT_PAGE, name) for name in names))


def _looks_of_words(of: Written) -> int:
    marks = (run.marks for one in of.paragraphs for run in one.runs)
    return sum(bool(one.font or one.size or one.colour or one.capitals) for one in marks)


def _formulas(of: Written) -> int:
    return sum(bool(run.marks.formula) for one in of.paragraphs for run in one.runs)


def _deep(of: Written) -> int:
    return sum(heading.level > 6 for heading in of.headings)


def _backs(of: Written) -> int:
    return sum(block.id in of.report.backs for block in of.blocks)


def _leads(of: Written) -> int:
    return sum(bool(run.marks.link) for one in of.paragraphs for run in one.runs)


def _has_own_leader(recipe: Recipe) -> bool:
    return recipe.page_numbers == "edge" and recipe.leader not in ("", ".", "-", "_", "·", "–")


_PAGES: Sequence[Told] = (
    Told("Heads and feet of pages", "left out", _heads_and_feet),
    Told("Parts with pages and page numbers of their own", "left out but for a page break", _parts),
    Told("Ways back to the contents", "left out", _backs),
)

OF_FORMATS: Mapping[str, Sequence[Told]] = {
    ".docx": (
        Told("Own words of lines", "kept until the table is refreshed elsewhere, which takes them back", _own_words),
        Told("Headings kept out of tables", "listed once the table is refreshed elsewhere", _kept_out),
        Told("Tables without heading numbers", "numbered once they are refreshed elsewhere",
             _tables_that(lambda recipe: recipe.numbers == "none" and recipe.kind == "contents")),
        Told("Tables with a leader of their own", "led by dots", _tables_that(_has_own_leader)),
        Told("Tables whose title stands over each further page", "titled once", _tables_that(lambda recipe: recipe.continued)),
        Told("Notes within notes", "at the end of the note that calls them", _nested_notes),
        Told("Notes counted by main sections", "counted by parts of the report when they are counted anew elsewhere", _notes_by_section),
        Told("Headings beneath a level that is skipped", "numbered elsewhere as if there were one between", _skipped),
        Told("References to what is gone", "kept as the words that they show", _broken),
        Told("Ways back to the contents", "left out", _backs),
        Told("Styles that keep more than two lines together at the edge of a page", "two elsewhere", _keeping_more),
        Told("Letters of a size between half points", "rounded elsewhere to the next half", _in_fractions),
    ),
    ".md": (
        *_PAGES,
        Told("Words with a face, size or colour of their own", "left out but for their words", _looks_of_words),
        Told("Cells over several columns or rows", "in the first of these", _merged),
        Told("Pictures with text beside them", "on lines of their own", _beside),
        Told("Formulas", "as words in one line", _formulas),
        Told("Headings deeper than the sixth level", "as the sixth", _deep),
    ),
    ".html": (
        *_PAGES,
        Told("Headings deeper than the sixth level", "their level is said to screen readers", _deep),
    ),
    ".txt": (
        *_PAGES,
        Told("Pictures", "as their words", _images),
        Told("Data tables", "as rows, their cells parted by tabs", _data_tables),
        Told("Links", "left out but for their words", _leads),
        Told("Formulas", "as words in one line", _formulas),
        Told("Words with a face, size or colour of their own", "left out but for their words", _looks_of_words),
    ),
}  # fmt: skip
"""By the ending of files in the format; nothing for those that have everything as the report has it."""
