"""``mellow mark``: headings made by hand become headings."""

from __future__ import annotations

from argparse import ArgumentParser
from dataclasses import replace
from pathlib import Path
from typing import Any

from mellowspine.core.report.blocks import Paragraph
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.styles import StyleSheet
from mellowspine.core.structure.by_hand import find_by_hand
from mellowspine.core.structure.marking import assigned, mark, numbers_typed
from mellowspine.core.structure.rules import LookRule, RuleError, check_rules, read_rule

from .command import Command, Unusable, in_json
from .shared import format_of, json_of, opened, write


def _rules(path: Path | None, styles: StyleSheet) -> list[LookRule]:
    if path is None:
        return []
    given = json_of(path)
    if not isinstance(given, dict) or not isinstance(given.get("rules"), list):
        raise Unusable(f'{path}: there are no rules in it; write {{"rules": [{{"name", "level", "wants"}}]}}.')
    rules = [read_rule(one, styles) for one in given["rules"]]
    check_rules(rules)
    return rules


def mark_headings(file: Path, out: Path | None, rules: Path | None, as_json: bool) -> str:
    """Marks the headings made by hand in a file and writes it to ``out``, if that is given; says what was marked.

    With ``rules`` paragraphs are marked by these alone, else by what the finder proposes.
    """
    if out is not None:
        format_of(out)
    imported = opened(file)
    report = imported.report
    try:
        given = _rules(rules, report.styles)
    except RuleError as error:
        raise Unusable(f"{rules}: {error}") from None
    marked = assigned(find_by_hand(report), given, proposals=rules is None)
    for one in marked:
        if one.fault:
            raise Unusable(f"{rules}: {one.fault}")
    wanted = {id: one.style for one in marked for id in one.members if one.style}
    if out is not None:
        write(replace(imported, report=carry_out(mark(report, wanted), report)), out, contents=False)
    texts = {block.id: block.text for block in report.blocks if isinstance(block, Paragraph)}
    typed = numbers_typed(report, wanted)
    looks: list[dict[str, Any]] = []
    lines: list[str] = []
    for one in marked:
        style, ids = one.style, one.members
        level = report.styles[style].outline_level if style else None
        members = [{"id": id, "text": " ".join(texts[id][typed[id].end if id in typed else 0 :].split())} for id in ids]
        looks.append({"name": one.name, "level": level, "style": style, "members": members})
        lines.append(f"{report.styles[style].name if style else 'Left as it is'}: {one.name} ({len(ids)})")
        lines += [f"  since: {one.why}"] if one.why else []
        lines += [f"  “{other}” asks for more, and keeps {count} of these" for other, count in one.left]
        lines += [f"  {member['text']}" for member in members]
    if as_json:
        return in_json({"looks": looks, "changed": len(wanted)})
    changed = "1 paragraph" if len(wanted) == 1 else f"{len(wanted)} paragraphs"
    return "\n".join((*lines, f"{changed} {'marked' if out else 'would be marked'}."))


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument("out", type=Path)
    parser.add_argument("--rules", type=Path, help="mark by these rules, a file of JSON, and not by what is found")
    parser.add_argument("--dry-run", action="store_true", help="write nothing, say what would be marked")


COMMAND = Command(
    lambda given: mark_headings(given.file, None if given.dry_run else given.out, given.rules, given.json), _arguments
)
