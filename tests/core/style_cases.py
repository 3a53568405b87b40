"""Where the lines of a paragraph begin by its style, as the core sets them: cases that the browser's CSS is held to as well.

``python -m tests.core.style_cases`` writes them to web/tests/styles.json, for ``styleRules.test.ts``.
"""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from itertools import product
from pathlib import Path
from typing import Any, get_args

from mellowspine.core.pages.lines import set_style
from mellowspine.core.report.blocks import Align, Paragraph
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import StyleSheet, default_styles

FILE = Path(__file__).parents[2] / "web/tests/styles.json"
_STYLE = default_styles()["heading-2"]


def as_json() -> list[dict[str, Any]]:
    """Of each case the style, the room for its heading number, what the paragraph says itself, and in points from the left of
    the column where the first words and the lines behind them begin."""
    found = []
    for indent, first, align, room, own in product(
        (0.0, 36.0), (-48.0, -18.0, 0.0, 18.0), get_args(Align), (0.0, 24.0), (None, "center", "left")
    ):
        style = replace(_STYLE, indent=indent, first_line=first, align=align)
        report = Report("r", styles=StyleSheet([*default_styles().values(), style]), number_widths={style.id: room})
        for paragraph in (
            Paragraph("p", style.id, align=own),
            Paragraph("p", style.id, align=own, indent=12.0, first_line=-6.0),
        ):
            as_set = set_style(paragraph, report).style
            found.append(
                {
                    "style": {**asdict(style), "declared": sorted(style.declared)},
                    "room": room,
                    "own": {"align": own, "indent": paragraph.indent, "first": paragraph.first_line},
                    "begins": [as_set.indent + as_set.first_line, as_set.indent],
                }
            )
    return json.loads(json.dumps(found))


if __name__ == "__main__":
    FILE.write_text("[\n" + ",\n".join(json.dumps(one, ensure_ascii=False) for one in as_json()) + "\n]\n")
