"""Exchanges what was made by hand around headings: typed contents for a table, rows of empty paragraphs for page breaks."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator

from ..pages.pages import Pages
from ..report.blocks import Block, PageBreak, Paragraph, PartStart, PlacedTable
from ..report.plan import Insert, Plan, Remove, Step
from ..report.report import Report
from ..structure.by_hand import Found
from ..structure.leftovers import EmptyRow, TypedContents


def is_empty(block: Block) -> bool:
    """Whether a block is a paragraph without words."""
    return type(block) is Paragraph and not block.text.strip()


def exchange(found: Found, pages: Pages, contents: bool, rows: bool, ids: Iterator[str]) -> Plan:
    """The plan that exchanges typed contents, rows of empty paragraphs, or both; ``ids`` are for what is new."""
    plan: Plan = ()
    for one in found.contents if contents else ():
        plan += exchange_contents(found.report, one, next(ids), next(ids))
    gone = {id for step in plan if isinstance(step, Remove) for id in step.blocks}
    return plan + exchange_rows(found.rows if rows else (), pages, ids, gone)


def exchange_contents(report: Report, one: TypedContents, table: str, id: str) -> Plan:
    """The plan that puts a contents table into the place of one that was typed.

    The table has pages of its own: empty paragraphs and page breaks next to the list go with it. ``table`` and ``id`` name
    the new table and its block.
    """
    blocks = report.blocks
    ids = {*one.lines, one.title}
    there = [at for at, block in enumerate(blocks) if block.id in ids]
    if not there:
        return ()
    first, end = there[0], there[-1] + 1
    while first > 0 and _makes_room(blocks[first - 1]):
        first -= 1
    while end < len(blocks) and _makes_room(blocks[end]):
        end += 1
    gone = [block for block in blocks[first:end] if block.id in ids or _makes_room(block)]
    placed = PlacedTable(id, table, own_page=True)
    return (Insert((placed,), blocks[first - 1].id if first else None), _remove(gone))


def _remove(blocks: Iterable[Block]) -> Remove:
    """Takes blocks out, but for paragraphs in which somebody writes meanwhile."""
    gone = tuple(blocks)
    return Remove(
        tuple(block.id for block in gone), {block.id: block.text for block in gone if isinstance(block, Paragraph)}
    )


def _makes_room(block: Block) -> bool:
    return type(block) is PageBreak or is_empty(block)


def exchange_rows(rows: Iterable[EmptyRow], pages: Pages, ids: Iterator[str], but: Collection[str] = ()) -> Plan:
    """The plan that takes rows of empty paragraphs out, with a page break in place of each that leads to a new page.

    ``pages`` are those of the report with its rows, ``ids`` for the new page breaks; paragraphs in ``but`` are gone already.
    """
    steps: list[Step] = []
    blocks = pages.report.blocks
    place = {block.id: at for at, block in enumerate(blocks)}
    for row in rows:
        there = [place[id] for id in row.ids if id in place and is_empty(blocks[place[id]]) and id not in but]
        if not there:
            continue
        first, end = there[0], there[-1] + 1
        if (
            first
            and end < len(blocks)
            and pages.page_of(end) > pages.page_of(first - 1)
            and _needs_break(first, end, pages)
        ):
            steps.append(Insert((PageBreak(next(ids)),), blocks[first - 1].id))
        steps.append(_remove(blocks[at] for at in there))
    return tuple(steps)


def _needs_break(first: int, end: int, pages: Pages) -> bool:
    """Whether what follows a row would not begin a page without it."""
    blocks = pages.report.blocks
    before, after = blocks[first - 1], blocks[end]
    begins = pages.boxes[end].new_page
    own = any(type(one) is PlacedTable and one.own_page for one in (before, after))
    return not (begins or own or PageBreak in (type(before), type(after)) or type(before) is PartStart)
