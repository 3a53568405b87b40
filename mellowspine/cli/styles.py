"""``mellow styles``: the styles of a file."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from mellowspine.core.report.styles import INHERITED, style_to_json
from mellowspine.core.structure.outline import paragraphs

from .command import Command, in_json
from .shared import opened


def show_styles(file: Path, as_json: bool) -> str:
    """The styles of a file: each with what it says, what it is based on, and how many paragraphs use it."""
    report = opened(file).report
    uses = Counter(report.styles[paragraph.style].id for paragraph in paragraphs(report))
    rows = [
        {
            "id": style.id,
            "name": style.name,
            "based_on": style.based_on,
            "level": style.outline_level,
            "says": {name: value for name, value in style_to_json(style).items() if name in INHERITED},
            "used": uses[style.id],
        }
        for style in report.styles.values()
    ]
    if as_json:
        return in_json({"styles": rows})
    width = max(len(style.name) for style in report.styles.values())
    lines = []
    for style in report.styles.values():
        base = f", based on {report.styles[style.based_on].name}" if style.based_on else ""
        level = f", heading of level {style.outline_level}" if style.outline_level else ""
        lines.append(f"{style.name:<{width}}  {uses[style.id]:>6}  {style.font} {style.size:g} pt{base}{level}")
    return "\n".join(lines)


COMMAND = Command(lambda given: show_styles(given.file, given.json))
