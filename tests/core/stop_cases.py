"""Where a tab leads to, as the core has it: cases that the browser's text is held to as well.

``python -m tests.core.stop_cases`` writes them to web/tests/tab-stops.json, for ``tabs.test.ts``.
"""

from __future__ import annotations

import json
from dataclasses import replace
from itertools import product
from pathlib import Path
from typing import Any

from mellowspine.core.pages.lines import stops_in
from mellowspine.core.report.blocks import Paragraph
from mellowspine.core.report.styles import default_styles

FILE = Path(__file__).parents[2] / "web/tests/tab-stops.json"


def as_json() -> list[dict[str, Any]]:
    """Of each case the stops, the indent and the width of the column in points, and to which stop a tab leads from a place in it."""
    found = []
    for said, indent, x in product(
        (
            "",
            "72 left",
            "20 left, 90 center dots, 150.5 decimal",
            "400 right line",
            "400 left",
            "90 left, 20 right, 90 center",
            "30 right, 60 right dashes",
        ),
        (0.0, 40.0),
        (-30.0, -5.0, 0.0, 19.9, 20.0, 36.0, 75.5, 199.0, 260.0),
    ):
        style = replace(default_styles()["body"], tab_stops=said, indent=indent)
        stop = stops_in(Paragraph("p"), style, 240.0).after(x)
        found.append({"stops": said, "indent": indent, "width": 240.0, "x": x, "leads": list(stop)})
    return json.loads(json.dumps(found))


if __name__ == "__main__":
    FILE.write_text("[\n" + ",\n".join(json.dumps(one) for one in as_json()) + "\n]\n")
