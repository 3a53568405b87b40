"""Labels of captions: what figures, tables and other things are called, and how they are counted. Kept as data by id."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass
from typing import Annotated, Any, Literal

from .properties import Property, SettingError, choices_of, properties_of, usable, validate

_NAME = re.compile(r"[^\s\x00-\x1f\x7f][^\x00-\x1f\x7f]{0,39}")
_ID = re.compile(r"[A-Za-z0-9_-]{1,64}")
"""Whatever may be the id of a block: captions name their label by it, and bring what others called theirs."""
_BEHIND = re.compile(r"[^\n\r\t]{0,8}")


@dataclass(frozen=True, slots=True)
class Label:
    """One label of captions. Raises SettingError for what cannot be used."""

    id: Annotated[str, Property(form=_ID, how="use letters, digits and hyphens")]
    name: Annotated[str, Property(form=_NAME, how="write 1 to 40 characters")] = "Figure"
    behind: Annotated[str, Property(form=_BEHIND, how="write at most 8 characters")] = ": "
    """What stands between the number and the words of a caption."""
    place: Literal["above", "below"] = "below"
    """Where a new caption is put, seen from what it names."""
    by_level: Annotated[int, Property(0, 9)] = 0
    """Counted anew under each numbered heading of this level, whose number stands in front; 0 if counted through the report."""

    def __post_init__(self) -> None:
        for name in (*_PROPERTIES, *_CHOICES):
            value = getattr(self, name)
            if fault := validate(name, value, _PROPERTIES, _CHOICES):
                raise SettingError(f"A label cannot have “{str(value)[:80]}” as its {name.replace('_', ' ')}; {fault}.")


_PROPERTIES, _CHOICES = properties_of(Label), choices_of(Label)

Labels = Mapping[str, Label]
"""By id, in the order in which they are offered."""

FIGURE = Label("figure")
DEFAULT_LABELS: Labels = {
    one.id: one for one in (FIGURE, Label("table", "Table", place="above"), Label("plate", "Plate"))
}


def labels_of(labels: Iterable[Label]) -> Labels:
    """Labels by id. Raises SettingError where two have one name."""
    found: dict[str, Label] = {}
    for label in labels:
        if any(other.name.casefold() == label.name.casefold() for other in found.values()):
            raise SettingError(f"There is a label “{label.name}” already; choose another name.")
        found[label.id] = label
    return found


def label_to_json(label: Label) -> dict[str, Any]:
    return asdict(label)


def labels_from_json(stored: Any) -> Labels:
    """Labels as they were kept: what is unknown or cannot be used is left out. Without any they are the usual ones."""
    found: dict[str, Label] = {}
    for data in stored if isinstance(stored, list) else ():
        own = usable(data, _PROPERTIES, _CHOICES)
        if "id" in own:
            found[own["id"]] = Label(**own)
    return found or DEFAULT_LABELS


def known_label(labels: Labels, id: str) -> Label:
    """The label with this id; one that is not there is called by it, so that no caption loses its number."""
    return labels.get(id) or Label(id, id.replace("-", " ").strip().capitalize()[:40].strip() or "Figure")
