"""The style sheet as the styles of a document (ISO/IEC 29500-1, 17.7): based on, next, outline levels, and all properties."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

from lxml.etree import _Element

from ...report.report import Report
from ...report.styles import LEVELS, Role, Style, StyleSheet, default_styles
from ..docx.own import LINE_ACROSS
from .looks import ALL, place_of_style, words_of_style
from .numbering import Numbering, numbered
from .xml import clean, made, properties

_ROLES: Mapping[Role, tuple[str, str]] = {
    "body": ("Normal", "Normal"), "title": ("Title", "Title"), "subtitle": ("Subtitle", "Subtitle"),
    "table-title": ("TOCHeading", "TOC Heading"), "caption": ("Caption", "caption"), "quotation": ("Quote", "Quote"),
    "running": ("Header", "header"), "note": ("FootnoteText", "footnote text"),
}  # fmt: skip
"""The key and name of the style that other programs know for what one is for, by its role; of others they know none."""
_LINE_ACROSS = LINE_ACROSS, "Line across"
_FIRST_LEVELS = range(1, 4)
"""Levels of lists for which other programs have styles by name."""
_DEFAULTS = default_styles()


def names_of(styles: StyleSheet) -> dict[str, tuple[str, str]]:
    """The key and the name of each style in the file, by its id. What other programs know has the name that they know."""
    known: dict[str, tuple[str, str]] = {
        styles.role(role).id: said for role, said in _ROLES.items() if styles.role(role).role == role
    }
    for level in LEVELS:
        if (heading := styles.heading(level)).outline_level == level:
            known.setdefault(heading.id, (f"Heading{level}", f"heading {level}"))
    for level in _FIRST_LEVELS:
        number = f" {level}" if level > 1 else ""
        for key, name, marker in (("ListBullet", "List Bullet", "bullet"), ("ListNumber", "List Number", "decimal")):
            item = styles.item(marker, level)  # type: ignore[arg-type]
            if item.list_level == level and item.marker == marker:
                known.setdefault(item.id, (f"{key}{number.strip()}", f"{name}{number}"))
    found: dict[str, tuple[str, str]] = dict(known)
    keys = {key.casefold() for key, _ in known.values()} | {LINE_ACROSS.casefold()}
    names = {name.casefold() for _, name in known.values()} | _LISTS | {_LINE_ACROSS[1].casefold()} | _OF_PROGRAMS
    for style in styles.values():
        if style.id not in found:
            key, name = _free(style.id, keys), _free(_named(style), names)
            found[style.id] = key, name
            keys.add(key.casefold())
            names.add(name.casefold())
    return found


_OF_PROGRAMS = frozenset(
    {f"heading {n}" for n in LEVELS} | {f"toc {n}" for n in LEVELS} | {f"index {n}" for n in LEVELS}
    | {name.casefold() for _, name in _ROLES.values()}
    | {"footer", "table of figures", "table of authorities", "toa heading", "index heading", "endnote text"}
)  # fmt: skip
"""Names by which programs know styles of theirs: one of an author's own that is called so is called otherwise."""


_NO_NAME = re.compile(r"[,;{}\\]")
"""What stands in no name of a style elsewhere: commas part its names, and others are signs of fields."""


def _named(style: Style) -> str:
    return " ".join(_NO_NAME.sub(" ", clean(style.name)).split()) or style.id


def _free(wanted: str, taken: set[str]) -> str:
    name, count = wanted, 1
    while name.casefold() in taken:
        count += 1
        name = f"{wanted} {count}"
    return name


def part(
    report: Report,
    names: Mapping[str, tuple[str, str]],
    numbering: Numbering,
    further: Iterator[_Element],
) -> _Element:
    """The part with all styles; ``further`` are those of lines of tables."""
    language = made("w:lang", val=report.page.language, eastAsia=report.page.language)
    defaults = made(
        "w:docDefaults",
        made("w:rPrDefault", properties("w:rPr", [language])),
        made("w:pPrDefault"),
    )
    styles = (_style(style, report, names, numbering) for style in report.styles.values())
    return made("w:styles", defaults, *styles, _line_across(names[report.styles.role("body").id][0]), *further)


def _style(style: Style, report: Report, names: Mapping[str, tuple[str, str]], numbering: Numbering) -> _Element:
    styles = report.styles
    base = styles.find(style.based_on or "")
    says = style.declared if base else ALL
    key, name = names[style.id]
    place = [*place_of_style(style, base, says, numbered=numbering.stands(style))]
    if style.id in numbering.of_style:
        place.append(numbered(*numbering.of_style[style.id]))
    elif base and base.id in numbering.of_style:
        place.append(numbered(1, 0))
    return made(
        "w:style",
        made("w:name", val=name),
        made("w:aliases", val=_named(style)) if is_called_otherwise(style, name) else None,
        made("w:basedOn", val=names[base.id][0]) if base else None,
        made("w:next", val=names[style.next][0]) if style.next in names else None,
        *([made("w:semiHidden"), made("w:unhideWhenUsed")] if style.put_away else []),
        None if style.put_away else made("w:qFormat"),
        properties("w:pPr", place),
        words_of_style(style, says),
        type="paragraph",
        default="1" if style.role == "body" and style.id == styles.role("body").id else None,
        customStyle=None if name.casefold() in _OF_PROGRAMS | _LISTS else "1",
        styleId=key,
    )


_LISTS = frozenset(
    f"{name}{number}".casefold() for name in ("List Bullet", "List Number") for number in ("", " 2", " 3")
)


def is_called_otherwise(style: Style, name: str) -> bool:
    """Whether an author has a name of their own for a style that other programs know by another."""
    usual = _DEFAULTS.find(style.id)
    return name != _named(style) and not (usual and usual.name == style.name)


def _line_across(body: str) -> _Element:
    """ISO/IEC 29500-1 has no line across the page: it is the line below an empty paragraph, in a style of its own."""
    key, name = _LINE_ACROSS
    rule = made("w:pBdr", made("w:bottom", val="single", sz=6, space=1, color="847d8a"))
    place = [rule, made("w:spacing", before=120, after=240, line=120, lineRule="exact")]
    return made(
        "w:style",
        made("w:name", val=name),
        made("w:basedOn", val=body),
        made("w:next", val=body),
        properties("w:pPr", place),
        type="paragraph",
        customStyle="1",
        styleId=key,
    )
