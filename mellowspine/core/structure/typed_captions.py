"""Labels and numbers of captions that were typed."""

from __future__ import annotations

import re
from typing import NamedTuple

from ..report.labels import Labels

NUMBER = r"[0-9A-Z]+(?:[.-][0-9]+)*"
"""The number of a caption, or of a section: 3, 2-3, 1.2, A-1."""


class TypedCaption(NamedTuple):
    label: str
    end: int
    """How many characters of it are the label and number."""


def typed_caption(text: str, labels: Labels) -> TypedCaption | None:
    """The label and number in front of a typed caption: "Figure 3: ", "Table 2-1. ", "Fig. 4 – "."""
    for label in labels.values():
        names = {label.name, label.name[:3] + "."} if label.name == "Figure" else {label.name}
        name = "|".join(map(re.escape, sorted(names, key=len, reverse=True)))
        if found := re.match(rf"\s*(?:{name})\s+{NUMBER}(?:\s*[:.–—-]\s*|\s+|$)", text, re.IGNORECASE):
            return TypedCaption(label.id, found.end())
    return None
