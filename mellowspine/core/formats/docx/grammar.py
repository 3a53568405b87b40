"""Instructions of fields (ISO/IEC 29500-1, 17.16.2 and 17.16.3): a name, arguments, and switches with or without one."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

LONGEST_INSTRUCTION = 4000
"""Characters of an instruction that are read; what is longer is none that anybody means."""

_TOKEN = re.compile(r"\"((?:[^\"\\]|\\.)*)(?:\"|$)|“([^”]*)(?:”|$)|\\(.)|((?:[^\s\"“\\])+)", re.DOTALL)
_BARE: Mapping[str, str] = {
    "REF": "fhnprtw", "PAGEREF": "hp", "NOTEREF": "fhp", "HYPERLINK": "mn", "XE": "bi", "TA": "bi", "TC": "n", "SEQ": "chn",
    "STYLEREF": "lnprtw", "TOC": "huwxz", "TOA": "hp", "INDEX": "ry", "SYMBOL": "ahju", "INCLUDEPICTURE": "dxy", "DATE": "hls",
}  # fmt: skip
"""The switches that take no argument, by the name of the field; of other fields any may have one."""


class Instruction(NamedTuple):
    name: str
    """In capitals; empty for no field at all."""
    arguments: tuple[str, ...]
    switches: Mapping[str, str]
    """By their letter, in small; what follows one is empty if nothing does."""
    rest: str = ""
    """All that stands behind the name, as it stands there."""

    @property
    def argument(self) -> str:
        return self.arguments[0] if self.arguments else ""


def instruction(text: str) -> Instruction:
    """What a field is to do."""
    name, rest = [*text.split(maxsplit=1), "", ""][:2]
    if "\\" in name:  # switches that begin right behind it
        name, _, more = name.partition("\\")
        rest = f"\\{more} {rest}"
    name = name.upper()
    bare = _BARE.get(name, "")
    arguments: list[str] = []
    switches: dict[str, str] = {}
    waiting: str | None = None
    """The switch that may have an argument."""
    for quoted, curled, letter, word in _TOKEN.findall(rest):
        if letter:
            waiting = letter.lower()
            switches.setdefault(waiting, "")
            if waiting in bare:
                waiting = None
            continue
        given = curled or word or re.sub(r"\\([\"\\])", r"\1", quoted)
        if waiting is None:
            arguments.append(given)
        else:
            switches[waiting] = given
            waiting = None
    return Instruction(name, tuple(arguments), switches, rest.strip())


def longer(instruction: str, more: str) -> str:
    """An instruction with what goes on with it: files give it in as many pieces as they like."""
    return instruction + more[: max(0, LONGEST_INSTRUCTION - len(instruction))]
