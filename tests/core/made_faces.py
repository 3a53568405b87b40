"""Typeface files for tests: every letter is a block of one width."""

from __future__ import annotations

from io import BytesIO
from string import ascii_letters, digits

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

_UNITS = 1000
LETTERS = ascii_letters + digits + " .,-"


def face_data(
    family: str = "Quill Hand",
    bold: bool = False,
    italic: bool = False,
    width: int = 700,
    licence: int = 0,
    letters: str = LETTERS,
) -> bytes:
    """The file of a face; ``width``: of each letter in thousandths of an em, ``licence``: the field fsType of OS/2."""
    names = {letter: f"uni{ord(letter):04X}" for letter in letters}
    builder = FontBuilder(_UNITS, isTTF=True)
    builder.setupGlyphOrder([".notdef", *names.values()])
    builder.setupCharacterMap({ord(letter): name for letter, name in names.items()})
    pen = TTGlyphPen(None)
    for place in ((50, 0), (50, 700), (width - 50, 700), (width - 50, 0)):
        (pen.lineTo if place != (50, 0) else pen.moveTo)(place)
    pen.closePath()
    block, nothing = pen.glyph(), TTGlyphPen(None).glyph()
    builder.setupGlyf({name: nothing if name == "uni0020" else block for name in (".notdef", *names.values())})
    builder.setupHorizontalMetrics(dict.fromkeys((".notdef", *names.values()), (width, 50)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    weight = " ".join(word for word, there in (("Bold", bold), ("Italic", italic)) if there) or "Regular"
    builder.setupNameTable({"familyName": family, "styleName": weight, "psName": f"{family.replace(' ', '')}-{weight}"})
    builder.setupOS2(
        fsType=licence,
        fsSelection=bold << 5 | italic << 0 | (not bold and not italic) << 6,
        sTypoAscender=800,
        sTypoDescender=-200,
    )
    builder.setupPost(italicAngle=-10 if italic else 0)
    data = BytesIO()
    builder.save(data)
    return data.getvalue()
