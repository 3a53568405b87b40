"""What hangs in front of paragraphs: heading numbers, bullets and the numbers of list items."""

from __future__ import annotations

from collections.abc import Mapping

from ..report.blocks import Paragraph
from ..report.report import Report
from .outline import Outline


def markers(report: Report, headings: Outline) -> Mapping[str, str]:
    """What hangs in front of paragraphs, by paragraph id: a heading's number, "•", or "3." in a list.

    A numbered list starts again at 1 after any paragraph that is in no list, and below a new item of the level above.
    """
    bullets = ("•", "–", "▪")
    marked = {key: (style.marker, int(key[-1]) if key[-1].isdigit() else 1)
              for key, style in report.styles.items() if style.marker in ("bullet", "decimal")}  # fmt: skip
    result = {heading.id: heading.number for heading in headings if heading.number}
    counts: list[int] = []
    for block in report.blocks:
        mark = marked.get(block.style) if type(block) is Paragraph else None
        if mark is None:
            if counts:
                counts = []
            continue
        kind, level = mark
        del counts[level:]
        counts.extend([0] * (level - len(counts)))
        if kind == "bullet":
            result[block.id] = bullets[(level - 1) % 3]
        else:
            counts[-1] += 1
            result[block.id] = f"{counts[-1]}."
    return result
