"""``mellow authorities``: what a file cites."""

from __future__ import annotations

from argparse import ArgumentParser
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.report.authorities import authority_of
from mellowspine.core.report.plan import Format as Formatting
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.report import Report
from mellowspine.core.structure.citations import unmarked
from mellowspine.core.tables.kinds import table_kind
from mellowspine.core.tables.page_lists import PASSIM

from .command import Command, Unusable, in_json
from .shared import built, opened


def show_authorities(file: Path, passim: int, find: bool, as_json: bool) -> str:
    """What a file cites, by category; ``find``: what looks like a citation and is not marked as well."""
    if not 0 <= passim <= 99:
        raise Unusable("“passim” is printed from 2 to 99 pages on, or with 0 never; choose such a number.")
    report = opened(file).report
    if find:
        report = _cited(report)
    recipe = replace(table_kind("authorities").recipe, passim=0)
    categories: list[dict[str, Any]] = []
    words: list[str] = []
    lines, _ = built(report, recipe)
    everywhere = {line.source for line in built(report, replace(recipe, passim=passim))[0] if line.pages == (PASSIM,)}
    for line in lines:
        if line.level == 1:
            categories.append({"name": line.text, "lines": []})
            words.append(line.text)
            continue
        known = report.authorities.get(line.source)
        many = line.source in everywhere
        pages = [page.replace("–", "-") for page in line.pages]
        categories[-1]["lines"].append(
            {"text": line.text, "short": known.short if known else "", "pages": pages, "passim": many}
        )
        words.append(f"  {line.text}  {'passim' if many else ', '.join(line.pages)}")
    if as_json:
        return in_json({"categories": categories})
    return "\n".join(words or ["Nothing is marked as a citation in it; --find looks for what looks like one."])


def _cited(report: Report) -> Report:
    """The report with what looks like a citation marked."""
    authorities = dict(report.authorities)
    plan: list[Formatting] = []
    for number, one in enumerate(unmarked(report), 1):
        id = f"found-{number}"
        authorities[id] = authority_of(id, one.category, one.words)
        plan += [
            Formatting(at.paragraph, at.start, at.end, {"citation": {"id": f"{id}-{place}", "of": id}}, at.words)
            for place, at in enumerate(one.places)
        ]
    return carry_out(tuple(plan), replace(report, authorities=authorities))


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument(
        "--passim", type=int, default=5, metavar="N", help="the number of pages from which on it says “passim”"
    )
    parser.add_argument("--find", action="store_true", help="with what looks like a citation and is not marked as one")


COMMAND = Command(lambda given: show_authorities(given.file, given.passim, given.find, given.json), _arguments)
