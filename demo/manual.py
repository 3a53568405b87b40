"""The *Tide Gate Manual*: a generated text of any length, to feel and measure speed.

Sentences are put together from parts that fit each other, so that it reads like a manual; no two pages are the same.
"""

from __future__ import annotations

from collections.abc import Iterator
from random import Random

from mellowspine.core.report.blocks import Block, Cell, DataTable, Paragraph, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import default_styles

PARTS = (
    "outer leaf", "inner leaf", "hinge post", "meeting seal", "sill beam", "gudgeon pin", "lifting chain", "winch drum",
    "brake band", "float chamber", "stilling well", "level gauge", "relief valve", "drain cock", "grease nipple",
    "anode plate", "fender pile", "walkway grating", "limit switch", "control pillar", "culvert screen", "paddle gear",
    "balance weight", "guide rail", "thrust pad",
)  # fmt: skip
TASKS = ("Inspection", "Lubrication", "Adjustment", "Removal", "Refitting", "Testing", "Cleaning", "Storage", "Repair")
PLACES = (
    "north chamber", "south chamber", "east pier", "west pier", "upper gallery", "lower gallery", "pump sump",
    "dry well", "gate house", "seaward apron",
)  # fmt: skip
WHEN = (
    "before every spring tide", "once a month", "after a storm from the south-east", "at the start of each season",
    "whenever the alarm has sounded", "within two days of a grounding", "twice a year",
)  # fmt: skip
TOOLS = ("a torque wrench", "a feeler gauge", "a lead line", "a soft mallet", "a strap spanner", "a brass scraper")
CARE = (
    "Wear a line and have a second keeper in sight",
    "Lock the control pillar and keep the key with you",
    "Close the culvert and wait until the gauge has stood still for ten minutes",
    "Tell the harbour office before the first bolt is turned",
)
FAULTS = (
    "weeps at low water", "binds in cold weather", "rings when struck", "shows a bright line on one side",
    "moves more than the table allows", "has lost its paint at the waterline",
)  # fmt: skip


def manual(pages: int, seed: int = 7) -> Report:
    """A manual of about ``pages`` pages in the default styles, headings numbered."""
    return Report(MANUAL_TITLE, tuple(_blocks(pages, Random(seed))), default_styles(), SCHEMES["decimal"])


MANUAL_TITLE = "Tide Gate Manual"
_CHAPTER_PAGES = 12.2


def _blocks(pages: int, random: Random) -> Iterator[Block]:
    number = 0

    def paragraph(style: str, text: str) -> Paragraph:
        nonlocal number
        number += 1
        return Paragraph(f"m{number:06}", style, (Run(text),))

    yield paragraph("title", MANUAL_TITLE)
    yield paragraph("subtitle", "Operation and upkeep of the gates at Quillmere Sound")
    for chapter in range(max(1, round(pages / _CHAPTER_PAGES))):
        part = PARTS[chapter % len(PARTS)]
        series = chapter // len(PARTS)
        yield paragraph("heading-1", f"The {part}" + (f", series {series + 1}" if series else ""))
        yield paragraph("body", _opening(part, random))
        for place in random.sample(PLACES, 5):
            yield paragraph("heading-2", f"{part.capitalize()} of the {place}")
            yield paragraph("body", _prose(part, place, random, 5))
            for task in random.sample(TASKS, 4):
                yield paragraph("heading-3", f"{task} of the {part}")
                for _ in range(3):
                    yield paragraph("body", _prose(part, place, random, random.randint(3, 6)))
                if random.random() < 0.4:
                    for _ in range(random.randint(2, 4)):
                        yield paragraph("bullet-1", f"{random.choice(CARE)}.")
                if random.random() < 0.3:
                    yield paragraph("heading-4", f"Limits found in the {place}")
                    number += 1
                    yield _limits(f"m{number:06}", part, random)


def _opening(part: str, random: Random) -> str:
    return (
        f"This chapter covers the {part} in all its positions. The gates were built with {random.randint(2, 16)} of them, "
        f"and each is stamped with the number of its chamber. Nothing here replaces the keeper’s own judgement: a {part} "
        f"that {random.choice(FAULTS)} is taken out of use first and reported second."
    )


def _prose(part: str, place: str, random: Random, sentences: int) -> str:
    choices = (
        lambda: f"The {part} in the {place} is looked at {random.choice(WHEN)}.",
        lambda: f"A {part} that {random.choice(FAULTS)} is set aside, marked with chalk and replaced from the store.",
        lambda: (
            f"{random.choice(CARE)}; the water in the {random.choice(PLACES)} can rise by "
            f"{random.randint(4, 60)} centimetres in a quarter of an hour."
        ),
        lambda: (
            f"Use {random.choice(TOOLS)} and stop at {random.randint(12, 180)} newton metres, "
            f"or earlier if the {random.choice(PARTS)} begins to move."
        ),
        lambda: (
            f"The gap between the {part} and the {random.choice(PARTS)} should be between "
            f"{random.randint(2, 5)} and {random.randint(6, 11)} millimetres when both are dry."
        ),
        lambda: f"Write the reading into the log of the {place}, with the height of the tide and the hour.",
        lambda: (
            f"If the {random.choice(PARTS)} was renewed in the same season, this step may wait for the next low water."
        ),
        lambda: f"The keeper on watch decides whether the {place} is fit for people; no one enters alone.",
    )
    return " ".join(random.choice(choices)() for _ in range(sentences))


def _limits(id: str, part: str, random: Random) -> DataTable:
    def row(number: int, *words: str) -> tuple[Cell, ...]:
        return tuple(
            Cell((Paragraph(f"{id}-{number}-{column}", "cell", (Run(word),)),)) for column, word in enumerate(words)
        )

    body = (
        row(number, f"{part.capitalize()} {number}", f"{random.randint(20, 90) / 10:.1f} mm", random.choice(WHEN))
        for number in range(1, random.randint(4, 8))
    )
    return DataTable(id, (row(0, "Piece", "Largest gap", "Measured"), *body), 1)
