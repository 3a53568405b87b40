"""Sheets: all that says how a report looks, apart from its text. Changed one setting at a time, and compared so.

Every setting has a path: ``("styles", "heading-2", "size")``, ``("numbering", "levels", "2", "pattern")``,
``("page", "top")``. What people change is kept by path, so that two who change different settings both have their way,
and each can take back what they did while what others did meanwhile stays.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, field, replace
from typing import Any, NamedTuple

from .labels import DEFAULT_LABELS, Label, Labels, label_to_json, labels_of
from .numbering import UNNUMBERED, LevelNumber, Numbering
from .page import DEFAULT_PAGE, PageSetup
from .parts import PLAIN, Part, Parts, part_to_json
from .properties import SettingError, free_id
from .styles import INHERITED, Style, StyleSheet, based_on, resolved, style_to_json

Path = tuple[str, ...]

_ORDER, _PARTS, _PAGE = "order", "parts", "page"
_CHANGEABLE = {"name", "based_on", "put_away", "next", *INHERITED}
"""What can be changed about a style."""


@dataclass(frozen=True, slots=True)
class Sheet:
    styles: StyleSheet
    numbering: Numbering = UNNUMBERED
    page: PageSetup = DEFAULT_PAGE
    labels: Labels = field(default_factory=lambda: DEFAULT_LABELS)
    parts: Parts = field(default_factory=dict)


class SettingChange(NamedTuple):
    """One setting that differs. ``old`` and ``new`` hold its value, or nothing where it is not said."""

    path: Path
    old: tuple[Any, ...]
    new: tuple[Any, ...]


def settings_of(sheet: Sheet) -> dict[Path, Any]:
    """Every setting that a sheet says, by path."""
    found: dict[Path, Any] = {}
    for place, style in enumerate(sheet.styles.values()):
        found["styles", style.id, "place"] = place
        for name, value in style_to_json(style).items():
            found["styles", style.id, name] = value
    for part in ("levels", "appendix"):
        for level, one in enumerate(getattr(sheet.numbering, part), 1):
            for name, value in asdict(one).items():
                found["numbering", part, str(level), name] = value
    for name, value in asdict(sheet.page).items():
        found["page", name] = value
    for place, label in enumerate(sheet.labels.values()):
        found["labels", label.id, _ORDER] = place
        for name, value in label_to_json(label).items():
            found["labels", label.id, name] = value
    for id, one in sheet.parts.items():
        for name, value in part_to_json(one).items():
            if name != _PAGE:
                found[_PARTS, id, name] = value
        for name, value in one.page.items():
            found[_PARTS, id, _PAGE, name] = value
    return found


def sheet_of(settings: Mapping[Path, Any]) -> Sheet:
    """The sheet that says these settings. Raises SettingError for values that cannot be used."""
    styles: dict[str, dict[str, Any]] = {}
    numbers: dict[str, dict[str, Any]] = {}
    page: dict[str, Any] = {}
    labels: dict[str, dict[str, Any]] = {}
    parts: dict[str, dict[str, Any]] = {}
    for path, value in settings.items():
        match path:
            case ("styles", id, name):
                styles.setdefault(id, {})[name] = value
            case ("numbering", part, level, name):
                numbers.setdefault(f"{part} {level}", {})[name] = value
            case ("page", name):
                page[name] = value
            case ("labels", id, name):
                labels.setdefault(id, {})[name] = value
            case ("parts", id, name):
                parts.setdefault(id, {})[name] = value
            case ("parts", id, "page", name):
                parts.setdefault(id, {}).setdefault(_PAGE, {})[name] = value
    # A style without an id or name is what is left of one that somebody else has deleted.
    kept = sorted(
        (one for one in styles.values() if "id" in one and "name" in one), key=lambda one: one.get("place", 0)
    )
    levels, appendix = (
        tuple(LevelNumber(**numbers.get(f"{part} {level}", {})) for level in range(1, 10))
        for part in ("levels", "appendix")
    )
    named = sorted((one for one in labels.values() if "id" in one and "name" in one), key=_order)
    made = [Label(**{name: value for name, value in one.items() if name != _ORDER}) for one in named]
    return Sheet(
        resolved(kept),
        Numbering(levels, appendix),
        PageSetup(**page),
        labels_of(made) if made else DEFAULT_LABELS,
        {id: Part(**values) for id, values in parts.items()},
    )


def _order(label: Mapping[str, Any]) -> int:
    place: int = label.get(_ORDER, 0)
    return place


def changes(old: Sheet, new: Sheet) -> list[SettingChange]:
    """What brings one sheet to another."""
    before, after = settings_of(old), settings_of(new)
    return [
        SettingChange(path, *(((side[path],) if path in side else ()) for side in (before, after)))
        for path in [*before, *(path for path in after if path not in before)]
        if path not in before or path not in after or before[path] != after[path]
    ]


def undone(sheet: Sheet, done: Iterable[SettingChange]) -> tuple[Sheet, list[SettingChange]]:
    """The sheet without some changes, and those that could not be taken back: somebody has changed the same since.

    Raises SettingError if what is left cannot be used.
    """
    settings = settings_of(sheet)
    left = []
    for change in done:
        now = (settings[change.path],) if change.path in settings else ()
        if now != change.new and change.path[-1] not in ("place", _ORDER):
            left.append(change)
        elif change.old:
            settings[change.path] = change.old[0]
        else:
            settings.pop(change.path, None)
    return sheet_of(settings), left


def change_style(styles: StyleSheet, id: str, values: Mapping[str, Any], as_base: Iterable[str] = ()) -> StyleSheet:
    """The style sheet with other settings for one style; those named in ``as_base`` are as its base has them again.

    A style that is given another base keeps its look. Raises SettingError.
    """
    style = _known(styles, id)
    values = {name: value for name, value in values.items() if name in _CHANGEABLE}
    if "name" in values:
        values["name"] = _free_name(styles, values["name"], id)
    if "next" in values:
        _known(styles, values["next"])
    base = _known(styles, values["based_on"]) if values.get("based_on") is not None else None
    new = replace(style, **values)
    if new.outline_level != style.outline_level:
        _keep_a_style_of_its_level(styles, style)
    if new.based_on != style.based_on:
        new = based_on(new, base) if base else replace(new, declared=frozenset())
    if new.based_on:
        new = replace(new, declared=(new.declared | values.keys() & INHERITED.keys()) - {*as_base})
    return resolved(style_to_json(new if one.id == id else one) for one in styles.values())


def add_style(styles: StyleSheet, name: str, like: str) -> tuple[StyleSheet, Style]:
    """The style sheet with a new style in it, based on another and looking like it, which stands right behind that."""
    base = _known(styles, like)
    name = _free_name(styles, name)
    if len(styles) >= MOST_STYLES:
        raise SettingError(f"A report has room for {MOST_STYLES} styles; delete some that nothing has.")
    id = free_id(name, styles, "style", 50)
    made = based_on(replace(base, id=id, name=name, role=None, put_away=False), base)
    placed = [one for style in styles.values() for one in ((style, made) if style.id == like else (style,))]
    return StyleSheet(placed), made


def delete_style(styles: StyleSheet, id: str, instead: str) -> StyleSheet:
    """The style sheet without a style. Those based on it keep their look, and what followed it is followed by ``instead``.

    Raises SettingError for a style that the report cannot do without.
    """
    style, _ = _known(styles, id), _known(styles, instead)
    if id == instead:
        raise SettingError("Its paragraphs need another style than the one that goes; choose another one.")
    if style.role:
        raise SettingError(f"“{style.name}” has a purpose of its own in every report; put it away instead.")
    _keep_a_style_of_its_level(styles, style)
    base = styles[style.based_on] if style.based_on else None
    kept = []
    for one in styles.values():
        if one.id == id:
            continue
        if one.based_on == id:
            one = based_on(one, base) if base else replace(one, based_on=None, declared=frozenset())
        kept.append(replace(one, next=instead) if one.next == id else one)
    return StyleSheet(kept)


MOST_STYLES, MOST_LABELS = 1000, 100
"""How many can be made in a report."""


def _keep_a_style_of_its_level(styles: StyleSheet, style: Style) -> None:
    """Raises SettingError where a level would have no style any more."""
    level = style.outline_level
    if level and list(styles.levels.values()).count(level) == 1:
        raise SettingError(f"“{style.name}” is the only style of level {level}; make another one of that level first.")


def _known(styles: StyleSheet, id: Any) -> Style:
    if not isinstance(id, str) or id not in styles:
        raise SettingError("This style is no longer in the report; choose another one.")
    return styles[id]


def _free_name(styles: StyleSheet, given: Any, id: str = "") -> str:
    """A name for a style, without needless space. Raises SettingError if it is none, or another style has it."""
    name = " ".join(given.split()) if isinstance(given, str) else ""
    if not 1 <= len(name) <= 80:
        raise SettingError("A style needs a name of 1 to 80 characters; choose another one.")
    for other in styles.values():
        if other.id != id and other.name.casefold() == name.casefold():
            raise SettingError(f"There is a style “{other.name}” already; choose another name.")
    return name


def change_label(labels: Labels, id: str, values: Mapping[str, Any]) -> Labels:
    """The labels with other settings for one. Raises SettingError."""
    if id not in labels:
        raise SettingError("This label is no longer in the report; choose another one.")
    values = {name: value for name, value in values.items() if name != "id"}
    return labels_of(replace(one, **values) if one.id == id else one for one in labels.values())


def add_label(labels: Labels, name: str) -> tuple[Labels, Label]:
    """The labels with a new one behind them. Raises SettingError."""
    name = " ".join(name.split())
    if len(labels) >= MOST_LABELS:
        raise SettingError(f"A report has room for {MOST_LABELS} labels; take one of those.")
    id = free_id(name, labels, "label", 24)
    made = Label(id, name)
    return labels_of([*labels.values(), made]), made


MOST_PARTS = 500


def change_part(
    parts: Parts, id: str, values: Mapping[str, Any], page: Mapping[str, Any], as_report: Iterable[str]
) -> Parts:
    """The parts with other settings for one; ``page`` is what its page set-up has otherwise than the report's, and ``as_report``
    what it has no more. Raises SettingError."""
    if id not in parts and len(parts) >= MOST_PARTS:
        raise SettingError(f"A report has room for {MOST_PARTS} parts; take one of those.")
    now = parts.get(id, PLAIN)
    kept = {name: value for name, value in {**now.page, **page}.items() if name not in {*as_report}}
    return {**parts, id: replace(now, **{**values, "page": kept})}
