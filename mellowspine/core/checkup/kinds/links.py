"""Links that reach nothing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from urllib.parse import urlsplit

from ...report.blocks import Block, DataTable, Paragraph
from ...report.links import inner
from ...report.plan import Format, Step
from ...report.styles import StyleSheet
from ..findings import Check, NewIds, Remedy, State, add_check, blocks_at, quoted


def reaches(address: str) -> bool:
    """Whether an address can reach anything: a web address names a host, a mail address somebody at one."""
    parts = urlsplit(address)
    if parts.scheme.lower() == "mailto":
        name, at, host = parts.path.partition("@")
        return bool(name and at and host)
    host = parts.hostname or ""
    return "." in host.strip(".") or host == "localhost" or ":" in host


def _paragraphs(block: Block) -> Iterator[Paragraph]:
    if isinstance(block, Paragraph):
        yield block
    elif isinstance(block, DataTable):
        for row in block.rows:
            for cell in row:
                yield from cell.paragraphs


def _dead(block: Block) -> Iterator[tuple[Paragraph, int, int, str]]:
    """The stretches of words whose links reach nothing: paragraph, start, end, address."""
    for paragraph in _paragraphs(block):
        start = 0
        for run in paragraph.runs:
            end = start + len(run.text)
            if run.marks.link and not inner(run.marks.link) and not reaches(run.marks.link):
                yield paragraph, start, end, run.marks.link
            start = end


def _found(block: Block, styles: StyleSheet) -> str | None:
    found = next(_dead(block), None)
    return found and f"The link at {quoted(found[0].text[found[1] : found[2]])} leads to {quoted(found[3])}."


def _remedy(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    steps: list[Step] = []
    for block in blocks_at(state, places):
        steps += [Format(paragraph.id, start, end, {"link": None}) for paragraph, start, end, _ in _dead(block)]
    return Remedy(tuple(steps))


add_check(
    Check(
        "dead-link",
        "Links that reach nothing",
        "Whoever follows them gets nowhere; mostly, part of the address is missing.",
        in_block=_found,
        remedy=_remedy,
        label="Take the links off; the words stay",
    )
)
