"""Files of typefaces that are brought in for a report: single faces with TrueType outlines (ISO/IEC 14496-22, OpenType)."""

from __future__ import annotations

import logging
from io import BytesIO

from fontTools.ttLib import TTFont
from pikepdf import Pdf

from ..pages.typefaces import SYMBOLS, Face, FaceFile, family
from ..report.blocks import FONT_NAME
from .imported import FileRefused
from .pdf.fonts import Glyphs

log = logging.getLogger(__name__)
logging.getLogger("fontTools").setLevel(logging.CRITICAL)  # what is wrong with a file is said by us

LARGEST = 16 * 1024 * 1024
"""Bytes of a file."""

_OTHER_KINDS = {
    b"OTTO": "has PostScript outlines",
    b"ttcf": "holds several faces at once",
    b"wOFF": "is packed for web pages",
    b"wOF2": "is packed for web pages",
}
_SINGLE = b"\x00\x01\x00\x00", b"true"
_NEEDED = ("cmap", "glyf", "head", "hhea", "hmtx", "loca", "maxp", "name", "OS/2", "post")

_RESTRICTED, _PREVIEW, _EDITABLE = 1 << 1, 1 << 2, 1 << 3
_NO_SUBSETTING, _BITMAPS_ONLY = 1 << 8, 1 << 9
"""What the field fsType of OS/2 says of embedding; of the first three, the one that allows most counts."""
_ITALIC, _BOLD = 1 << 0, 1 << 5
"""Of the field fsSelection there."""

_LEAST_HEIGHT, _MOST_HEIGHT = 0.2, 10.0
"""From the highest to the lowest, in em."""
_WORDS = ("Sluice ", "0123456789 ")


def face_file(data: bytes) -> FaceFile:
    """What a file of a typeface is. Raises FileRefused where reports cannot have it, or its licence does not let them."""
    kind = data[:4]
    if kind in _OTHER_KINDS:
        raise FileRefused(f"The file {_OTHER_KINDS[kind]}; bring in a single TrueType face, whose name ends in .ttf.")
    if kind not in _SINGLE:
        raise FileRefused("The file is no typeface; bring in a TrueType face, whose name ends in .ttf.")
    if len(data) > LARGEST:
        raise FileRefused("The file is larger than 16 MB; bring in a face with fewer characters.")
    try:
        return _read(data)
    except FileRefused:
        raise
    except Exception as error:  # the library gives up on damaged tables in many ways
        log.warning("A file of a typeface could not be read: %r", error)
        raise FileRefused("The file is damaged; bring in another copy of it.") from error


def _read(data: bytes) -> FaceFile:
    file = TTFont(BytesIO(data), lazy=True)
    if lacking := [table for table in _NEEDED if table not in file]:
        raise FileRefused(
            f"The file is no whole typeface: it has no table “{lacking[0]}”; bring in another copy of it."
        )
    if "fvar" in file:
        raise FileRefused("The file holds many weights in one; bring in files of single weights.")
    name, system = file["name"].getDebugName(1) or "", file["OS/2"]
    name = " ".join(name.split())
    if not FONT_NAME.fullmatch(name):
        raise FileRefused("The file does not say what its typeface is called; bring in another copy of it.")
    if name.lower() in (family(name).lower(), SYMBOLS.lower()):
        raise FileRefused(f"{name} is here already; there is no need to bring it in.")
    if refused := _refused(system.fsType):
        raise FileRefused(f"The licence of {name} does not allow {refused}; bring in a face whose licence does.")
    bold, italic = bool(system.fsSelection & _BOLD), bool(system.fsSelection & _ITALIC)
    found = FaceFile(name, bold, italic, data, bool(system.fsType & _NO_SUBSETTING))
    _try_out(Face(name, bold, italic, own=found))
    return found


def _refused(licence: int) -> str | None:
    """What the field fsType keeps one from doing that a report does: it is written in, and printed."""
    if licence & _BITMAPS_ONLY:
        return "its outlines to be embedded"
    if licence & _EDITABLE or not licence & (_RESTRICTED | _PREVIEW):
        return None
    return "it to be embedded in what can be edited" if licence & _PREVIEW else "it to be embedded"


def _try_out(face: Face) -> None:
    """Sets some words as pages and the PDF will. Raises where that cannot be done."""
    if not _LEAST_HEIGHT <= face.ascent + face.descent <= _MOST_HEIGHT:
        raise ValueError(f"{face.ascent} em above and {face.descent} em below the line")
    file, glyphs = Pdf.new(), Glyphs(face, "F")
    for word in _WORDS:
        face.unit(word)
        glyphs.shown(word)
    glyphs.put_into(file)
    outlines = TTFont(BytesIO(face.blob.data), lazy=True)
    for name in outlines.getBestCmap().values():
        outlines["glyf"][name].getCoordinates(outlines["glyf"])
