"""Forms: ready-made recipes. They say how a table looks, and leave alone what it lists where they say nothing of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any

from ..report.properties import SettingError
from ..report.recipes import HERE, LevelLook, Recipe, changed, settings_of
from .kinds import table_kind

Settings = Mapping[tuple[str, ...], Any]

_KEPT = frozenset(
    {"kind", "title", "title_style", "levels", "section", "feeds", "continued", "formatting", "label", "first_sentence",
     "categories", "passim", "ranges", "language", "by_letter"}
)  # fmt: skip
"""Settings that a form leaves as they are, unless it says them."""


@dataclass(frozen=True, slots=True)
class Form:
    """A recipe under a name. ``settings``: by path, what it says otherwise than the recipe of a new table."""

    key: str
    name: str
    description: str
    settings: Settings = field(default_factory=dict)
    kinds: frozenset[str] | None = None
    """The kinds of table that it is for; None for all whose lines stand in the order of the text."""


def _looks(look: LevelLook, *levels: int) -> dict[tuple[str, ...], Any]:
    """A look said for some levels, but for their indents."""
    return {
        ("looks", str(level), name): value
        for level in levels
        for name, value in asdict(look).items()
        if name not in ("indent", "hang")
    }


def _indents(step: float) -> dict[tuple[str, ...], Any]:
    return {("looks", str(level), "indent"): step * (level - 1) for level in range(1, 10)}


def _each(name: str, value: Any, *levels: int) -> dict[tuple[str, ...], Any]:
    return {("looks", str(level), name): value for level in levels or range(1, 10)}


_SMALL = LevelLook(size=9.0, space_before=0.0, space_after=1.0, line_spacing=1.25)

_AUTHORITIES, _INDEX = frozenset({"authorities"}), frozenset({"index"})

FORMS: Mapping[str, Form] = {
    form.key: form
    for form in (
        Form("dots", "Dots to the edge", "Page numbers at the right edge, with dots leading to them."),
        Form(
            "open",
            "Open edge",
            "Page numbers at the right edge, nothing in between.",
            {("leader",): "", ("numbers",): "hung", **_each("space_after", 4.0)},
        ),
        Form(
            "beside",
            "Beside the words",
            "Each page number right behind its line.",
            {("page_numbers",): "words", ("leader",): "", **_each("hang", 12.0)},
        ),
        Form(
            "links",
            "Links alone",
            "No page numbers: for reading on a screen.",
            {("page_numbers",): "none", ("leader",): "", ("look_like_links",): True, **_each("space_after", 4.0)},
        ),
        Form(
            "ruled",
            "Ruled",
            "A thin rule beneath each line.",
            {
                ("leader",): "",
                ("ruled",): "lines",
                **_each("space_before", 2.0),
                **_each("space_after", 5.0),
                **_indents(10.0),
            },
        ),
        Form(
            "main",
            "Main sections",
            "Only the highest level, set large.",
            {
                ("levels",): (1,),
                ("leader",): "_",
                **_looks(LevelLook(font="Caladea", size=13.0, space_before=6.0, space_after=4.0), 1),
            },
        ),
        Form(
            "columns",
            "Two columns",
            "Many levels in little room: small, narrow, side by side.",
            {
                ("columns",): 2,
                ("levels",): (1, 2, 3, 4),
                ("leader_step",): 3.5,
                **_looks(_SMALL, *range(2, 10)),
                **_looks(LevelLook(size=9.5, bold=True, space_before=5.0, space_after=1.0, line_spacing=1.25), 1),
                **_indents(9.0),
                **_each("hang", 8.0),
            },
        ),
        Form(
            "margin",
            "Numbers in the margin",
            "Heading numbers in a column of their own at the left edge.",
            {("numbers",): "margin", **_indents(0.0), **_each("indent", 10.0, *range(3, 10))},
        ),
        Form(
            "chapters",
            "Chapters apart",
            "Main sections in capitals, with a rule beneath.",
            {
                ("ruled",): "sections",
                ("leader",): "",
                ("numbers",): "hung",
                **_looks(
                    LevelLook(
                        size=10.0, bold=True, capitals=True, space_before=14.0, space_after=6.0, colour="#33263b"
                    ),
                    1,
                ),
                **_indents(0.0),
                **_each("indent", 18.0, *range(3, 10)),
            },
        ),
        Form(
            "section",
            "This section",
            "What stands in the section where the table is placed.",
            {
                ("section",): HERE,
                ("title",): "In this section",
                ("levels",): (2, 3, 4),
                **_looks(LevelLook(size=10.0, bold=True, space_before=3.0), 2),
                **_looks(LevelLook(size=9.5), *range(3, 10)),
                **{("looks", str(level), "indent"): 14.0 * (level - 2) for level in range(2, 10)},
            },
        ),
        Form("cited-dots", "Dots to the pages", "By category, with dots leading to the pages.", {}, _AUTHORITIES),
        Form(
            "cited-open",
            "Open edge",
            "By category, nothing between words and pages.",
            {("leader",): "", **_each("space_after", 4.0, 2)},
            _AUTHORITIES,
        ),
        Form(
            "cited-beside",
            "Beside the words",
            "Pages right behind each authority.",
            {("page_numbers",): "words", ("leader",): "", ("separator",): ", "},
            _AUTHORITIES,
        ),
        Form(
            "cited-list",
            "One list",
            "All authorities in one alphabet, categories unnamed.",
            {("levels",): (2,)},
            _AUTHORITIES,
        ),
        Form(
            "cited-all",
            "Every page",
            "Each page by itself: no ranges, and never “passim”.",
            {("passim",): 0, ("ranges",): 0},
            _AUTHORITIES,
        ),
        Form(
            "cited-ruled",
            "Ruled",
            "A thin rule beneath each line.",
            {("leader",): "", ("ruled",): "lines", **_each("space_after", 5.0, 1, 2), **_each("space_before", 3.0, 2)},
            _AUTHORITIES,
        ),
        Form("index-columns", "Two columns", "Small, in two columns, with letters between.", {}, _INDEX),
        Form(
            "index-column",
            "One column",
            "In one column, at the size of the contents.",
            {("columns",): 1, **_each("size", 10.5, 2, 3, 4)},
            _INDEX,
        ),
        Form(
            "index-run-in",
            "Run in",
            "Terms beneath others behind these, in little room.",
            {("run_in",): True},
            _INDEX,
        ),
        Form("index-plain", "Without letters", "No letters between the terms.", {("levels",): (2, 3, 4)}, _INDEX),
        Form(
            "index-edge",
            "Dots to the edge",
            "Pages at the right edge, with dots leading to them.",
            {("columns",): 1, ("page_numbers",): "edge"},
            _INDEX,
        ),
        Form(
            "index-letters",
            "Letter by letter",
            "Spaces and hyphens count for nothing in the order.",
            {("by_letter",): True},
            _INDEX,
        ),
    )
}


def forms_for(kind: str) -> list[Form]:
    """The forms that tables of a kind are offered."""
    own = [form for form in FORMS.values() if form.kinds is not None and kind in form.kinds]
    return own or [form for form in FORMS.values() if form.kinds is None]


def formed(recipe: Recipe, form: Form) -> Recipe:
    """The recipe in a form. What the form says nothing of stays, unless it is what another form had said.

    Raises SettingError for a form that says what cannot be used.
    """
    new = Recipe(kind=recipe.kind) if form.kinds is None else table_kind(recipe.kind).recipe
    settings = {path: value for path, value in settings_of(new).items() if path[0] not in _KEPT}
    for name in _KEPT - {"kind"}:
        path, now = (name,), getattr(recipe, name)
        said = any(one.settings.get(path) == now for one in forms_for(recipe.kind))
        settings[path] = getattr(new, name) if said else now
    return changed(recipe, {**settings, **form.settings})


def form_of(recipe: Recipe, key: str, name: str) -> Form:
    """A recipe kept as a form; a section that it names stands in one report only, and is left out."""
    left_out = {("kind",), *([("section",)] if recipe.section not in ("", HERE) else [])}
    return Form(key, name, "", {path: value for path, value in settings_of(recipe).items() if path not in left_out})


def form_kept(key: str, name: str, settings: Any) -> Form:
    """A form as it was kept: pairs of path and value. What cannot be used any more is left out."""
    usable: dict[tuple[str, ...], Any] = {}
    for path, value in settings:
        try:
            changed(Recipe(), {tuple(path): value})
        except SettingError:
            continue
        usable[tuple(path)] = value
    return Form(key, name, "", usable)
