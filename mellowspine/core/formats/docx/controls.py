"""Forms in Office Open XML: content controls (ISO/IEC 29500-1, 17.5.2; check boxes by MS-DOCX 2.6.1.4, from memory) and fields of
forms (17.16.17 and beside it). A box is a character, ticked or not; what else is filled in, words."""

from __future__ import annotations

from lxml.etree import _Element

from .xml import child, is_on, number, qn, value

OPEN, TICKED = "☐", "☒"

_W14 = "{http://schemas.microsoft.com/office/word/2010/wordml}"
_KINDS = frozenset(qn(f"w:{name}") for name in ("text", "comboBox", "dropDownList", "date", "picture"))
"""Kinds of controls that people fill in; others hold any text."""


def box_of(control: _Element) -> str | None:
    """The box of a content control that is one."""
    properties = child(control, "w:sdtPr")
    box = None if properties is None else properties.find(f"{_W14}checkbox")
    if box is None:
        return None
    checked = box.find(f"{_W14}checked")
    given = "0" if checked is None else checked.get(f"{_W14}val", "1")
    return TICKED if given in ("1", "true", "on") else OPEN


def is_filled_in(control: _Element) -> bool:
    """Whether a content control is a field of a form, whose words people choose or type."""
    properties = child(control, "w:sdtPr")
    return properties is not None and any(one.tag in _KINDS for one in properties)


def filled_in(sign: _Element) -> str:
    """What the field of a form says that begins here (17.16.17 ffData): its box, or the entry that is chosen."""
    data = child(sign, "w:ffData")
    if (box := child(data, "w:checkBox")) is not None:
        checked = child(box, "w:checked")
        now = is_on(checked if checked is not None else child(box, "w:default"))
        return TICKED if now else OPEN
    if (entries := child(data, "w:ddList")) is not None:
        named = [value(one) or "" for one in entries.findall(qn("w:listEntry"))]
        chosen = number(child(entries, "w:result"))
        at = chosen if chosen is not None else number(child(entries, "w:default")) or 0
        return named[at] if 0 <= at < len(named) else ""
    return value(child(child(data, "w:textInput"), "w:default")) or ""
