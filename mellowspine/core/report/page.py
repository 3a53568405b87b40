"""The page: paper, margins, columns, and what stands at its head and foot. Of a whole report, or of a part of it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from .blocks import SOURCE
from .properties import Property, SettingError, choices_of, properties_of, shown, usable, validate

_SIDE = Property(72, 5669, "points")
_MARGIN = Property(0, 2000, "points")
LANGUAGE = re.compile(r"[a-z]{2,3}(-[A-Z]{2})?")
LEAST_AREA, LEAST_COLUMN = 72.0, 36.0
"""Width and height in points that the margins must leave for the text, and the width that a column must have."""
FIELD = re.compile(r"\{(page|pages|last|title|part|date|version|picture|section [1-9]|number [1-9])\}")
"""What is filled in at the head and foot of a page: its number, how many pages there are, the last number that is counted with
it; the report's title, the part's name, the day, the version, the picture of all heads and feet; and words and number of the section of a level."""
Running = Annotated[
    str,
    Property(
        form=re.compile(rf"(?:[^{{}}\x00-\x1f\x7f]|{FIELD.pattern}){{0,200}}"),
        how="write at most 200 characters, braces only around a field",
    ),
]
"""Words at the head or foot of pages, with fields in braces."""


NoteSigns = Literal["decimal", "lower-letter", "lower-roman", "signs"]
"""What notes are counted with: figures, letters, or an asterisk, a dagger and so on."""


@dataclass(frozen=True, slots=True)
class PageSetup:
    """Paper, margins, columns, and what stands at the head and foot. Lengths in points; the default is A4 (ISO 216: 210 × 297 mm)
    with margins of one inch. Raises SettingError for what cannot be used."""

    width: Annotated[float, _SIDE] = 595.28
    height: Annotated[float, _SIDE] = 841.89
    top: Annotated[float, _MARGIN] = 72.0
    bottom: Annotated[float, _MARGIN] = 72.0
    left: Annotated[float, _MARGIN] = 72.0
    right: Annotated[float, _MARGIN] = 72.0
    mirrored: bool = False
    """Whether left-hand pages have their margins the other way round: ``left`` is then the inner one, ``right`` the outer."""
    columns: Annotated[int, Property(1, 4)] = 1
    column_gap: Annotated[float, Property(0, 200, "points")] = 18.0
    head_left: Running = ""
    head_middle: Running = ""
    head_right: Running = ""
    foot_left: Running = ""
    foot_middle: Running = "{page}"
    foot_right: Running = ""
    head_rule: bool = False
    """Whether a line stands under the head."""
    foot_rule: bool = False
    """Whether a line stands over the foot."""
    left_pages: Literal["same", "mirrored", "own"] = "same"
    """What stands on left-hand pages: the same; the same, left for right; or something of their own."""
    left_head_left: Running = ""
    left_head_middle: Running = ""
    left_head_right: Running = ""
    left_foot_left: Running = ""
    left_foot_middle: Running = ""
    left_foot_right: Running = ""
    first_page: Literal["same", "none", "own"] = "same"
    """What stands on the first page: the same as on others, nothing, or something of its own."""
    first_head_left: Running = ""
    first_head_middle: Running = ""
    first_head_right: Running = ""
    first_foot_left: Running = ""
    first_foot_middle: Running = ""
    first_foot_right: Running = ""
    picture: Annotated[
        str, Property(form=re.compile(rf"(?:{SOURCE.pattern})?"), how="choose a picture of the report")
    ] = ""
    """The stored picture that may stand at heads and feet, such as a sign of the house."""
    picture_ratio: Annotated[float, Property(0.01, 100)] = 1.0
    """Its width by its height."""
    picture_height: Annotated[float, Property(4, 200, "points")] = 24.0
    """How high it is printed; less in margins that have no room for it."""
    version: Annotated[str, Property(form=re.compile(r"[^\x00-\x1f\x7f]{0,80}"), how="write at most 80 characters")] = (
        ""
    )
    """What the version is called that is being written, for head and foot."""
    front: Literal["counted", "roman"] = "counted"
    """Whether what stands in front of the body is counted with it, or has small roman numerals of its own, so that the body
    begins with page 1 (common practice, no source). It is so only where the report has no parts."""
    back_level: Annotated[int | None, Property(1, 9)] = None
    """The level whose sections end in a line that leads back to the contents, if any do."""
    back_says: Annotated[str, Property(form=re.compile(r"[^\n\r\t]{1,80}"), how="write 1 to 80 characters")] = (
        "Back to contents"
    )

    footnotes_counted: Literal["report", "section", "page"] = "report"
    """Where footnotes are counted from one on again: nowhere, under each main section, or on each page."""
    footnote_signs: NoteSigns = "decimal"
    endnotes_at: Literal["report", "section"] = "report"
    """Whether endnotes stand at the end of the report, or of the main section in which they are referred to."""
    endnotes_counted: Literal["report", "section"] = "report"
    endnote_signs: NoteSigns = "lower-roman"
    language: Annotated[str, Property(form=LANGUAGE, how="choose a language")] = "en-GB"
    """That of the text (BCP 47, with its region): for who checks spelling or reads aloud, and for the order of an alphabet."""

    def __post_init__(self) -> None:
        for name in (*PAGE_PROPERTIES, *PAGE_CHOICES):
            value = getattr(self, name)
            if fault := validate(name, value, PAGE_PROPERTIES, PAGE_CHOICES):
                raise SettingError(f"A page cannot have “{shown(value)}” as its {name.replace('_', ' ')}; {fault}.")
        if min(self.text_width, self.text_height) < LEAST_AREA:
            raise SettingError("The margins leave no room for the text; make them smaller or the paper larger.")
        if self.column_width < LEAST_COLUMN:
            raise SettingError("The columns are too narrow for words; have fewer of them, or less room between them.")

    @property
    def text_width(self) -> float:
        """From the left margin to the right one."""
        return self.width - self.left - self.right

    @property
    def text_height(self) -> float:
        return self.height - self.top - self.bottom

    @property
    def column_width(self) -> float:
        """How wide lines are set."""
        return (self.text_width - self.column_gap * (self.columns - 1)) / self.columns


PAGE_PROPERTIES, PAGE_CHOICES = properties_of(PageSetup), choices_of(PageSetup)
DEFAULT_PAGE = PageSetup()


def page_from_json(stored: Any) -> PageSetup:
    """A page set-up as it was kept. What is unknown or cannot be used is as on a page of its own accord."""
    try:
        return PageSetup(**usable(stored, PAGE_PROPERTIES, PAGE_CHOICES))
    except SettingError:
        return DEFAULT_PAGE
