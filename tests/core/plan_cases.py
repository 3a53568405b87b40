"""What the core and the editor have to agree on: what a text may hold, and what comes of plans.

Held against the core here, and against the editor in ``web/tests/plan.test.ts`` and ``schema.test.ts``; written down for
these by ``python -m tests.core.plan_cases``.
"""

from __future__ import annotations

import json
from pathlib import Path
from random import Random
from typing import Any

from mellowspine.core.pages.typefaces import STAND_INS, family
from mellowspine.core.report.blocks import (
    INLINE_OBJECT,
    Block,
    Cell,
    DataTable,
    Image,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Reference,
    Run,
)
from mellowspine.core.report.elements import MARKS, SHAPES, Element, Words, element_of, most_of, shape_of
from mellowspine.core.report.formulas import FORMULA
from mellowspine.core.report.plan import Cut, Format, Insert, Move, Plan, Remove, Set, Step, as_json, carry_out
from mellowspine.core.report.report import Report

FILE = Path(__file__).parents[2] / "web" / "tests" / "plans.json"
SCHEMA_FILE = FILE.with_name("schema.json")

BOLD = Marks(bold=True)
ROOT = "<math><msqrt><mn>2</mn></msqrt></math>"
SEEN = Reference("k", "label", "Figure 1")
TEXT: tuple[Block, ...] = (
    Paragraph("a", "heading-1", (Run("1.\tTide gates"),)),
    Paragraph("b", "body", (Run("The 😀 gate "), Run("opens\nat", BOLD), Run(" dawn."))),
    DataTable(
        "t",
        (
            (
                Cell((Paragraph("c", "cell", (Run("Depth"),)),)),
                Cell((Paragraph("d", "cell"), Image("i", f"{'0' * 32}.png", 60.0, 40.0, "A gate"))),
            ),
        ),
    ),
    PageBreak("e"),
    PartStart("p"),
    Paragraph("r", "body", (Run("See "), Run(INLINE_OBJECT, Marks(reference=SEEN)), Run(" and Figure 2 here."))),
    Paragraph("s", "body", (Run("Here "), Run(FORMULA, Marks(formula=ROOT)), Run(" is a root."))),
    PlacedTable("f", "contents"),
    Paragraph("g", "body", (Run("Last words."),), align="center", space_before=6.0),
)

NAMED: dict[str, Plan] = {
    "another style": (Set("b", {"style": "heading-2"}),),
    "a setting that was the style's, and one that is the style's again": (Set("g", {"after": 3.0, "align": None}),),
    "a style within a data table": (Set("d", {"style": "heading-3"}),),
    "a picture within a data table": (Set("i", {"alt": "A tide gate", "align": "left"}),),
    "a block that is gone": (Set("gone", {"style": "title"}), Cut("gone", 0, "x"), Remove(("gone",))),
    "bold words, one of them so already": (Format("b", 4, 15, {"bold": {"off": False}}),),
    "words as their style has them": (Format("b", 0, 100, {"bold": None}),),
    "another typeface": (Format("a", 3, 7, {"typeface": {"font": "Carlito", "size": 9.0, "colour": None}}),),
    "a typed number": (Cut("a", 0, "1.\t"),),
    "words behind a face": (Cut("b", 4, "😀 gate "),),
    "words that read otherwise by now": (Cut("a", 0, "2.\t"),),
    "words over a line break": (Cut("b", 11, "opens\nat"),),
    "words in a data table": (Cut("c", 2, "pth"),),
    "a section further down": (Move(("a", "b"), "g"),),
    "blocks to the start, in another order": (Move(("g", "t"), None),),
    "behind what is gone": (Move(("a",), "gone"), Insert((Paragraph("n"),), "gone")),
    "behind itself": (Move(("a", "b"), "b"),),
    "new blocks": (
        Insert(
            (
                PageBreak("m"),
                Paragraph("n", "caption", (Run("Fig", BOLD), Run("ure"))),
                DataTable("o", ((Cell((Paragraph("q", "cell"),), 2),),), 1),
            ),
            "b",
        ),
    ),
    "a new first block": (Insert((Paragraph("n", "title", (Run("Gates"),)),), None),),
    "blocks of every kind taken out": (Remove(("t", "e", "f")),),
    "blocks that read so": (Remove(("a", "e", "g"), {"a": "1.\tTide gates", "g": "Last words."}),),
    "blocks that read otherwise by now": (Remove(("a", "b", "g"), {"a": "", "b": "The 😀 gate opens\nat dawn."}),),
    "a caption that was typed": (Set("g", {"caption": "figure"}), Cut("g", 0, "Last ")),
    "words for a reference": (Cut("r", 4, INLINE_OBJECT, (Words("Figure 1", {}),)),),
    "a reference for words, and words for another": (
        Cut("r", 10, "Figure 2", (Element("reference", Reference("m", "page", "7")._asdict()),)),
        Cut("r", 4, INLINE_OBJECT, (Words("Figure 1", {}),)),
    ),
    "words for a formula, and a formula for words": (
        Cut("s", 5, FORMULA, (Words("it", {}),)),
        Cut("s", 0, "Here", (Element("formula", {"mathml": ROOT}),)),
        Cut("s", 0, "It"),
    ),
    "bold words around a formula": (Format("s", 3, 8, {"bold": {"off": False}}),),
    "bold words around a reference": (Format("r", 0, 12, {"bold": {"off": False}}),),
    "a citation over words that read so": (
        Format(
            "g",
            0,
            4,
            {"citation": {"id": "c", "of": "v"}, "indexed": {"id": "x", "entries": [[["tide"], True]]}},
            "Last",
        ),
        Format("a", 3, 7, {"citation": {"id": "d", "of": "v"}}, "Tide"),
    ),
    "a citation over words that read otherwise by now": (
        Format("a", 3, 7, {"citation": {"id": "c", "of": "v"}}, "Gone"),
    ),
    "a bookmark over words": (Format("g", 0, 4, {"bookmark": {"id": "m", "name": "Here"}}),),
    "a reference where it reads otherwise by now": (Cut("r", 3, INLINE_OBJECT),),
    "one step after another": (
        Set("a", {"style": "heading-4"}),
        Cut("a", 0, "1.\t"),
        Move(("a",), "g"),
        Remove(("b",)),
    ),
}


def _random_step(random: Random) -> Step:
    block = random.choice("abcdefgx")
    start = random.randrange(14)
    words = "".join(run.text for run in TEXT[1].runs)  # type: ignore[attr-defined]
    behind = random.choice([None, *"abtefgx"])
    return random.choice(
        [
            Set(block, {"style": f"heading-{random.randint(1, 9)}"}) if block in "abcdg" else Set(block, {}),
            Format(
                random.choice("abcdg"),
                start,
                start + random.randrange(9),
                {"bold": random.choice([None, {"off": True}])},
            ),
            Cut("b", start, words[start : start + random.randrange(6)]),
            Move(tuple(random.sample("abtefg", random.randint(1, 3))), behind),
            Insert((Paragraph(f"n{random.randrange(10**6)}", "body", (Run("New"),)),), behind),
            Remove((random.choice("abtefx"),)),
        ]
    )


def cases() -> list[dict[str, Any]]:
    random = Random(11)
    plans = dict(NAMED)
    for number in range(60):
        plans[f"random {number}"] = tuple(_random_step(random) for _ in range(random.randint(1, 5)))
    report = Report("r", TEXT)
    return [
        {
            "name": name,
            "before": [shown(block) for block in TEXT],
            "plan": as_json(plan, report),
            "after": [shown(block) for block in carry_out(plan, report).blocks],
        }
        for name, plan in plans.items()
    ]


FAMILIES = (
    "Caladea", "carlito", "Calibri", "Times New Roman", "ARIAL", "Garamond", "Book Face", "Sans Book", "Quill Mono", "Source Code",
    "Quill", "constructor", "toString", " Cambria ", "Größe", "",
    "Calibri Light", "Cambria Semibold", "Carlito Black", "Light", "Georgia Light",
)  # fmt: skip
"""Names of typefaces, among them some that are not here."""


def schema() -> dict[str, Any]:
    """The elements of a text by tag, with their attributes and what they hold; and the formatting that there is."""
    shapes = {"doc": shape_of(None), **SHAPES}
    return {
        "elements": {
            tag: {"attributes": sorted(shape.attributes), "holds": sorted(shape.holds), "words": shape.words}
            for tag, shape in sorted(shapes.items())
        },
        "marks": sorted(MARKS),
        "shownIn": {name: family(name) for name in FAMILIES},
        "standIns": {font: list(families) for font, families in STAND_INS.items()},
        "most": {
            "dataRow": SHAPES["dataRow"].most,
            "placedTable": most_of("placedTable"),
            "paragraph": SHAPES["paragraph"].longest,
        },
    }


def shown(block: Block) -> Any:
    """A block as both sides can say it: tag, attributes, and words joined where they look the same."""

    def as_data(element: Any) -> Any:
        children: list[Any] = []
        for child in element.children:
            if not isinstance(child, Words):
                children.append(as_data(child))
            elif (
                children
                and isinstance(children[-1], dict)
                and children[-1].get("attributes") == dict(child.attributes)
                and "text" in children[-1]
            ):
                children[-1]["text"] += child.text
            else:
                children.append({"text": child.text, "attributes": dict(child.attributes)})
        return {"tag": element.tag, "attributes": dict(element.attributes), "children": children}

    return as_data(element_of(block))


if __name__ == "__main__":
    lines = ",\n".join(json.dumps(case, ensure_ascii=False) for case in cases())
    FILE.write_text(f"[\n{lines}\n]\n")
    SCHEMA_FILE.write_text(json.dumps(schema(), indent=2) + "\n")
