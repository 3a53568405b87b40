"""What a court's rules ask of a filing: for reports that were given the house sheet for filings.

The rules are those of the US Federal Rules of Appellate Procedure: 28(a)(2)–(3) and 32(a)(4)–(7), 32(f), typed in from them.
"""

from __future__ import annotations

from collections.abc import Iterator

from ...pages.pages import Pages
from ...pages.typefaces import family
from ...report.blocks import PageBreak, Paragraph, PartStart, PlacedTable
from ...report.report import Report
from ...structure.outline import paragraphs, paragraphs_of
from ...tables.behind import reads_alike
from ...tables.kinds import build, placed_tables, sources_of
from ...tables.own import worded
from ...tables.page_lists import PASSIM
from ..findings import Check, FoundHere, State, add_check, quoted

HOUSE = "filings"
INCH = 72.0
LEAST_SIZE = 14.0
"""Points of a proportional face: 32(a)(5)(A)."""
LEAST_SIZE_MONOSPACED = 72 / (0.6 * 10.5)
"""Points of Liberation Mono, whose characters are 0.6 em wide, at 10½ characters per inch: 32(a)(5)(B)."""
MOST_PAGES, MOST_WORDS = 30, 13_000
"""Of a principal brief: 32(a)(7)(A), or (B)."""
_SANS = ("Carlito", "Liberation Sans")
_FREE = ("title", "subtitle")
"""Roles of what stands on a cover, which is not counted: 32(f)."""


def _first(report: Report) -> str:
    return report.blocks[0].id if report.blocks else ""


def _tables(state: State, kind: str) -> list[tuple[PlacedTable, str]]:
    found = placed_tables(state.report.blocks).items()
    return [
        (block, key)
        for key, (_, block) in found
        if key in state.report.tables and state.report.tables[key].recipe.kind == kind
    ]


def _contents(state: State) -> FoundHere:
    if state.report.house != HOUSE:
        return
    tables = _tables(state, "contents")
    if not tables:
        yield _first(state.report), "There is no table of contents; put one in: FRAP 28(a)(2)."
    for block, key in tables:
        recipe = state.report.tables[key].recipe
        if recipe.page_numbers == "none":
            yield block.id, "The table of contents has no page references; give it page numbers: FRAP 28(a)(2)."
        elif count := _behind(state, key):
            yield block.id, f"The table of contents is not true in {count} of its lines; catch it up: FRAP 28(a)(2)."


def _behind(state: State, key: str) -> int:
    """How many lines of a table are not as the text gives them now."""
    issued = state.report.tables[key]
    at, _ = placed_tables(state.report.blocks)[key]
    fresh = worded(build(issued.recipe, sources_of(state.headings, state.pages, at)), issued.own)
    now = {line.source: line for line in fresh}
    printed = {line.source for line in issued.lines}
    stale = sum(not ((there := now.get(line.source)) and reads_alike(line, there)) for line in issued.lines)
    return stale + sum(line.source not in printed for line in fresh)


def _authorities(state: State) -> FoundHere:
    report = state.report
    if report.house != HOUSE:
        return
    tables = _tables(state, "authorities")
    if not tables:
        yield _first(report), "There is no table of authorities; mark what is cited, and put one in: FRAP 28(a)(3)."
        return
    listed: set[str] = set()
    for block, key in tables:
        issued = report.tables[key]
        recipe = issued.recipe
        listed.update(line.source for line in issued.lines)
        if recipe.page_numbers == "none":
            yield block.id, "The table of authorities has no page references; give it page numbers: FRAP 28(a)(3)."
        elif any(PASSIM in line.pages for line in issued.lines):
            yield (
                block.id,
                "“passim” stands in place of the pages where an authority is cited; print them: FRAP 28(a)(3).",
            )
        elif count := _behind(state, key):
            yield block.id, f"The table of authorities is not true in {count} of its lines; catch it up: FRAP 28(a)(3)."
    missing: dict[str, dict[str, None]] = {}
    for one in state.pages.occurrences.citings:
        if one.of not in listed:
            known = report.authorities.get(one.of)
            missing.setdefault(one.at.paragraph, {})[quoted(known.long if known else one.at.words)] = None
            listed.add(one.of)
    for paragraph, names in missing.items():
        stands = "stands" if len(names) == 1 else "stand"
        yield paragraph, f"{', '.join(names)} {stands} in no table of authorities: FRAP 28(a)(3)."


def _type(state: State) -> FoundHere:
    report = state.report
    if report.house != HOUSE:
        return
    body = report.styles.role("body")
    told: set[tuple[str, float]] = set()
    for paragraph in paragraphs(report):
        style = report.styles[paragraph.style]
        sizes = {run.marks.size or style.size for run in paragraph.runs if run.text.strip()}
        shown_in = family(style.font)
        least = LEAST_SIZE_MONOSPACED if shown_in == "Liberation Mono" else LEAST_SIZE
        small = min(sizes, default=least)
        if small < least and (style.id, small) not in told:
            told.add((style.id, small))
            yield (
                paragraph.id,
                f"{style.name} is set in {small:g} points here; it takes at least {least:.4g}: FRAP 32(a)(5).",
            )
        elif style.id == body.id and shown_in in _SANS and ("", 0.0) not in told:
            told.add(("", 0.0))
            yield paragraph.id, f"The text is set in {style.font}, which has no serifs: FRAP 32(a)(5)(A)."


def _page(state: State) -> FoundHere:
    report = state.report
    if report.house != HOUSE:
        return
    page, body = report.page, report.styles.role("body")
    said = []
    if abs(page.width - 8.5 * INCH) > 1 or abs(page.height - 11 * INCH) > 1:
        said.append("The paper is not 8½ by 11 inches: FRAP 32(a)(4).")
    if min(page.top, page.bottom, page.left, page.right) < INCH - 0.01:
        said.append("A margin is less than one inch: FRAP 32(a)(4).")
    if body.line_spacing < 2:
        said.append("The text is not double-spaced: FRAP 32(a)(4).")
    if said:
        yield _first(report), " ".join(said)


def _length(state: State) -> FoundHere:
    if state.report.house != HOUSE:
        return
    pages, words = counted(state.report, state.pages)
    if pages > MOST_PAGES and words > MOST_WORDS:
        yield (
            _first(state.report),
            f"It has {pages} pages and {words:,} words, without what rule 32(f) leaves out; a principal brief has at most "
            f"{MOST_PAGES} pages, or {MOST_WORDS:,} words: FRAP 32(a)(7).",
        )


def counted(report: Report, pages: Pages) -> tuple[int, int]:
    """Pages and words of a filing without its cover, its tables and its addendum, which are not counted: FRAP 32(f).

    A page counts if anything on it does. The addendum begins where appendices do.
    """
    counts: set[int] = set()
    words = 0
    for index in _counting(report):
        counts.update(
            range(pages.page_of(index), pages.page_of(index, max(len(pages.boxes[index].heights) - 1, 0)) + 1)
        )
        words += sum(len(paragraph.text.split()) for paragraph, _ in paragraphs_of(report, index))
    return len(counts), words


def _counting(report: Report) -> Iterator[int]:
    for index, block in enumerate(report.blocks):
        if isinstance(block, Paragraph):
            if block.number == "appendix":
                return
            if block.text.strip() and report.styles[block.style].role not in _FREE:
                yield index
        elif not isinstance(block, PlacedTable | PageBreak | PartStart):
            yield index


def _seen(state: State) -> tuple[object, ...]:
    report = state.report
    if report.house != HOUSE:
        return (False, *(None,) * 6)
    return (True, report.blocks, report.tables, report.styles, report.page, report.authorities, state.pages.starts)


for kind, name, why, found in (
    ("filing-contents", "Filing: table of contents", "A clerk returns a brief without it.", _contents),
    ("filing-authorities", "Filing: table of authorities", "A clerk checks it against the pages.", _authorities),
    ("filing-type", "Filing: type", "A brief in smaller type is not accepted.", _type),
    ("filing-page", "Filing: paper, margins, spacing", "A brief of another form is not accepted.", _page),
    ("filing-length", "Filing: length", "A brief that is longer needs leave of the court.", _length),
):
    add_check(
        Check(
            kind,
            name,
            why,
            in_report=found,
            looks_at=_seen,
        )
    )
