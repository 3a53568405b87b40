"""How the headings of a report are numbered, as data: a pattern, figures and a start for each level.

Patterns are written as in ISO/IEC 29500-1, 17.9.11 (level text): ``%1`` stands for the figure of level 1, ``%2`` for that
of level 2, and so on; all else is printed as it stands.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from typing import Annotated, Any, Literal

from .properties import Property, SettingError, choices_of, properties_of, usable, validate
from .styles import LEVELS

Figures = Literal["decimal", "upper-roman", "lower-roman", "upper-letter", "lower-letter"]

_FIGURE = re.compile(r"%(\d)")
_PATTERN = re.compile(r"[^\x00-\x1f\x7f]{0,60}")


@dataclass(frozen=True, slots=True)
class LevelNumber:
    """How the headings of one level are numbered."""

    on: bool = False
    pattern: Annotated[str, Property(form=_PATTERN, how="write at most 60 characters")] = ""
    figures: Figures = "decimal"
    start: Annotated[int, Property(0, 9999)] = 1
    restarts: bool = True
    """Whether it is counted anew under each heading of a level above."""


_PROPERTIES, _CHOICES = properties_of(LevelNumber), choices_of(LevelNumber)


def figures_in(pattern: str) -> list[int]:
    """The levels whose figures stand in a pattern, in its order."""
    return [int(figure) for figure in _FIGURE.findall(pattern)]


def _check(level: int, one: LevelNumber, place: str) -> None:
    for name in (*_PROPERTIES, *_CHOICES):
        value = getattr(one, name)
        if fault := validate(name, value, _PROPERTIES, _CHOICES):
            raise SettingError(f"Level {level} of {place} has “{str(value)[:80]}” as its {name}; {fault}.")
    there = figures_in(one.pattern)
    if one.on and level not in there:
        raise SettingError(
            f"The pattern “{one.pattern}” of level {level} of {place} has no number of that level in it; "
            f"write %{level} where it is to stand."
        )
    if beyond := [figure for figure in there if figure > level or figure == 0]:
        raise SettingError(
            f"The pattern “{one.pattern}” of level {level} of {place} asks for %{beyond[0]}, which is not known there; "
            f"use %1 to %{level}."
        )


@dataclass(frozen=True, slots=True)
class Numbering:
    """How headings are numbered, by level from 1: in the body of the report, and from where its appendices begin.

    Raises SettingError for what cannot be used.
    """

    levels: tuple[LevelNumber, ...] = (LevelNumber(),) * 9
    appendix: tuple[LevelNumber, ...] = (LevelNumber(),) * 9

    def __post_init__(self) -> None:
        for place, levels in (("the body", self.levels), ("the appendices", self.appendix)):
            if len(levels) != len(LEVELS):
                raise SettingError(f"A numbering has nine levels; {place} came with {len(levels)}.")
            for level, one in enumerate(levels, 1):
                _check(level, one, place)

    def of(self, appendix: bool) -> tuple[LevelNumber, ...]:
        return self.appendix if appendix else self.levels

    def changed(self, level: int, appendix: bool = False, **values: Any) -> Numbering:
        """The numbering with other settings for one level. Raises SettingError."""
        old = self.of(appendix)
        new = (*old[: level - 1], replace(old[level - 1], **values), *old[level:])
        return Numbering(self.levels, new) if appendix else Numbering(new, self.appendix)


UNNUMBERED = Numbering()


def _levels(patterns: Iterable[str], figures: Iterable[Figures], **more: Any) -> tuple[LevelNumber, ...]:
    return tuple(LevelNumber(True, pattern, kind, **more) for pattern, kind in zip(patterns, figures, strict=True))


def _pointed(first: str = "%1") -> list[str]:
    """1, 1.1, 1.1.1, as in ISO 2145: no full stop behind the last figure."""
    return [first, *(".".join(f"%{figure}" for figure in range(1, level + 1)) for level in LEVELS[1:])]


_DECIMAL: list[Figures] = ["decimal"] * 9
_LETTERED: list[Figures] = ["upper-letter", *_DECIMAL[1:]]
_OUTLINE: list[Figures] = ["upper-roman", "upper-letter", "decimal", "lower-letter", "lower-roman",
                           "decimal", "lower-letter", "lower-roman", "decimal"]  # fmt: skip
_LEGAL: list[Figures] = ["decimal", "decimal", "lower-letter", "lower-roman", "upper-letter",
                         "decimal", "lower-letter", "lower-roman", "decimal"]  # fmt: skip
_APPENDIX = _levels(_pointed("Appendix %1"), _LETTERED)
_CHAPTERS = (
    LevelNumber(True, "Part %1", "upper-roman"),
    LevelNumber(True, "Chapter %2", restarts=False),
    *(LevelNumber(True, ".".join(f"%{figure}" for figure in range(2, level + 1))) for level in LEVELS[2:]),
)

SCHEMES: Mapping[str, Numbering] = {
    "none": UNNUMBERED,
    "decimal": Numbering(_levels(_pointed(), _DECIMAL), _levels(_pointed(), _LETTERED)),
    "outline": Numbering(
        _levels([*(f"%{level}." for level in range(1, 6)), *(f"(%{level})" for level in range(6, 10))], _OUTLINE),
        _APPENDIX,
    ),
    "legal": Numbering(
        _levels(["Article %1", "§ %1.%2", *(f"(%{level})" for level in range(3, 10))], _LEGAL), _APPENDIX
    ),
    "chapters": Numbering(_CHAPTERS, _APPENDIX),
}
"""Ready-made numberings by name: none; decimal (ISO 2145), with appendices A, A.1; roman and letter outline (common
practice, no source); articles and sections; parts, and chapters counted through them."""


def scheme_of(numbering: Numbering) -> str | None:
    """The name of the ready-made numbering that this is, if it is one."""
    return next((name for name, scheme in SCHEMES.items() if scheme == numbering), None)


def numbering_to_json(numbering: Numbering) -> dict[str, Any]:
    return asdict(numbering)


def numbering_from_json(data: Any) -> Numbering:
    """A numbering as it was kept. What is not said, unknown or cannot be used is as in a report without numbers."""
    given = data if isinstance(data, Mapping) else {}
    found = UNNUMBERED
    for place in ("levels", "appendix"):
        for level, stored in enumerate(given.get(place) or (), 1) if isinstance(given.get(place), list | tuple) else ():
            with suppress(SettingError, IndexError):
                found = found.changed(level, place == "appendix", **usable(stored, _PROPERTIES, _CHOICES))
    return found
