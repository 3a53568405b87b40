"""What values settings may have, for browsers: made from the core's own description of them. ``make types`` writes it."""

from __future__ import annotations

import json
from typing import Any

from mellowspine.core.pages import lines
from mellowspine.core.pages.typefaces import METRIC_EQUIVALENTS, MONO, SERIF, STAND_INS, WEIGHT
from mellowspine.core.report import formulas, tab_stops
from mellowspine.core.report.blocks import FONT_NAME, FONTS, LEAST_SIDE, MOST_SIDE
from mellowspine.core.report.labels import Label
from mellowspine.core.report.numbering import LevelNumber
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import Part
from mellowspine.core.report.properties import choices_of, properties_of
from mellowspine.core.report.recipes import LevelLook, Recipe
from mellowspine.core.report.styles import Style
from mellowspine.core.tables import setting

_HEAD = """/** What values settings may have, by what they are settings of: made by `make types` from the core, never by hand. */"""

_DESCRIBED = {
    "style": Style,
    "page": PageSetup,
    "part": Part,
    "level_number": LevelNumber,
    "label": Label,
    "recipe": Recipe,
    "level_look": LevelLook,
}

_FORMULAS = {
    "longest": formulas.LONGEST,
    "deepest": formulas.DEEPEST,
    "elements": {
        tag: {name: sorted(said) for name, said in formulas.ATTRIBUTES.get(tag, {}).items()}
        for tag in formulas.ELEMENTS
    },
    "space": formulas.SPACE.pattern,
}

_FAMILIES = {
    "shipped": FONTS,
    "as_wide": METRIC_EQUIVALENTS,
    "serif": SERIF,
    "mono": MONO,
    "weight": WEIGHT,
    "stand_ins": STAND_INS,
    "name": FONT_NAME.pattern,
}

_OF_TABLES = {
    "run_in_from": setting.RUN_IN_FROM,
    "page_gap": setting.PAGE_GAP,
    "page_separator": setting.PAGE_SEPARATOR,
    "least_words": setting.LEAST_WORDS,
    "most_indent": setting.MOST_INDENT,
}

_OF_TAB_STOPS = {"most": tab_stops.MOST_STOPS, "furthest": tab_stops.FURTHEST, "usual": lines.TAB_STOPS}


def typescript() -> str:
    ranges = {name: _ranges(made) for name, made in _DESCRIBED.items()}
    ranges["picture"] = {"width": {"least": LEAST_SIDE, "most": MOST_SIDE}}
    choices = {name: _choices(made) for name, made in _DESCRIBED.items()}
    return (
        "\n\n".join(
            (
                _HEAD,
                f"/** Numbers, from the least to the most. */\nexport const RANGES = {_json(ranges)} as const;",
                f"/** What is one of a few, in the core's order. */\nexport const CHOICES = {_json(choices)} as const;",
                f"/** Of what formulas are made: see the core's `report/formulas.py`. */\nexport const FORMULAS = {_json(_FORMULAS)} as const;",
                f"/** Typefaces: see the core's `pages/typefaces.py`. */\nexport const FAMILIES = {_json(_FAMILIES)} as const;",
                f"/** How the lines of tables are set: see the core's `tables/setting.py`. Lengths in points. */\nexport const LINES = {_json(_OF_TABLES)} as const;",
                f"/** How many tab stops a style may set, how far from the left, and the distance of those that are there without. */\nexport const TAB_STOPS = {_json(_OF_TAB_STOPS)} as const;",
            )
        )
        + "\n"
    )


def _ranges(made: type[Any]) -> dict[str, dict[str, float]]:
    properties = properties_of(made)
    return {name: {"least": one.least, "most": one.most} for name, one in properties.items() if not one.form}


def _choices(made: type[Any]) -> dict[str, list[Any]]:
    return {name: [*values] for name, values in choices_of(made).items() if set(values) != {False, True}}


def _json(value: Any) -> str:
    return json.dumps(value, indent=2, ensure_ascii=False)
