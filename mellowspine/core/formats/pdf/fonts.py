"""Faces in a PDF: words as glyphs, with the kerning that they were measured with, and the glyphs that are used (ISO 32000-1, 9.7).

A face is a composite font whose codes are the numbers of its glyphs (Identity-H, 9.7.5.2); what each says is in its ToUnicode
map (9.10.3), since readers search and copy by that.
"""

from __future__ import annotations

import logging
import re
from collections.abc import Mapping
from functools import cached_property
from io import BytesIO
from itertools import chain, pairwise
from typing import Any
from zlib import crc32

import uharfbuzz as hb
from fontTools.ttLib import TTFont
from pikepdf import Array, Dictionary, Name, Object, Pdf, Stream

from ...pages.typefaces import Face, family

logging.getLogger("fontTools").setLevel(logging.ERROR)  # it warns of how old the shipped faces are

_SYMBOLIC, _ITALIC, _FIXED, _SERIF = 1 << 2, 1 << 6, 1 << 0, 1 << 1
"""Flags of a font descriptor (9.8.2, table 123)."""
_MOST_KNOWN = 100_000
_LAST_CODE = 0xFFFF
"""A code has two bytes (Identity-H)."""
_WORDS = re.compile(r"^[^ ]*| [^ ]*")
"""The words of a line, each with the space in front of it."""
_SEEN = 0.8
"""Thousandths of an em by which a glyph may stand elsewhere within a word."""


class Glyphs:
    """The words that are set in one face."""

    def __init__(self, face: Face, name: str) -> None:
        self.face, self.name = face, name
        self._file = hb.Face(face.blob)
        self._font = hb.Font(self._file)
        self._per_em = 1000 / self._file.upem
        self._codes: dict[tuple[int, str], int] = {}
        """The codes of glyphs that are used, each with what it says. A glyph has its own number for a code, and further ones
        behind those of all glyphs if it says something else as well: a space, or what the face does not have."""
        self._glyphs: dict[int, tuple[int, str]] = {}
        """The same the other way round."""
        self._words: dict[str, tuple[bytes, bytes]] = {}
        """How words are shown, each with the space in front of it, and by how much a space behind it is nearer."""

    def shown(self, text: str) -> bytes:
        """The operand of TJ that shows a text (9.4.3): glyphs, and in between by how much they are nearer to each other, in
        thousandths of an em."""
        words = _WORDS.findall(text)
        known = self._words.get
        shown = [known(word) or self._known(word) for word in words]
        # Without what comes before another word.
        return b"[%b%b]" % (b"".join(chain.from_iterable(shown[:-1])), shown[-1][0])

    def _known(self, word: str) -> tuple[bytes, bytes]:
        if len(self._words) > _MOST_KNOWN:
            self._words.clear()
        behind = _nearer(1000 * self.face.kern(word[-1] + " ")) if word else b""
        found = self._words[word] = self._set(word), behind
        return found

    def repeated(self, sign: str, times: int) -> bytes:
        """The same for a sign that is there many times, each as far from the next as ``width`` says."""
        return b"[<" + b"%04x" % self._code(self._nominal(sign), sign) * times + b">]"

    def width(self, sign: str) -> float:
        """How far a sign takes a reader, in em."""
        return self._widths[self._nominal(sign)] / 1000

    def _nominal(self, sign: str) -> int:
        return self._font.get_nominal_glyph(ord(sign)) or 0

    def _set(self, word: str) -> bytes:
        if not word:
            return b""
        buffer = hb.Buffer()
        buffer.add_str(word)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, self.face.features)
        infos, places = buffer.glyph_infos, buffer.glyph_positions
        made, run = bytearray(), bytearray()
        starts = [info.cluster for info in infos]
        ends = dict(pairwise((*sorted({*starts}), len(word))))
        owed = 0.0
        """By how much what comes is further than the widths in the file say."""
        for at, (info, place) in enumerate(zip(infos, places, strict=True)):
            says = word[info.cluster : ends[info.cluster]] if at == 0 or starts[at - 1] != info.cluster else ""
            spare = self.face.spare(says) * 1000
            before = place.x_offset * self._per_em + spare / 2
            if abs(owed + before) >= _SEEN:
                made += _string(run) + _nearer(owed + before)
                run, owed = bytearray(), -before
            run += b"%04x" % self._code(info.codepoint, says)
            owed += place.x_advance * self._per_em + spare - self._widths[info.codepoint]
            if abs(owed) >= _SEEN:
                made += _string(run) + _nearer(owed)
                run, owed = bytearray(), 0.0
        return bytes(made + _string(run) + (_nearer(owed) if abs(owed) >= _SEEN / 4 else b""))

    def _code(self, glyph: int, says: str) -> int:
        known = self._codes.get((glyph, says))
        if known is None:
            known = glyph if glyph not in self._glyphs else self._file.glyph_count + len(self._codes)
            if known > _LAST_CODE:
                return glyph  # which says what it said first
            self._codes[glyph, says] = known
            self._glyphs[known] = glyph, says
        return known

    @cached_property
    def _table(self) -> Any:
        return TTFont(BytesIO(self.face.blob.data), lazy=True)

    @cached_property
    def _widths(self) -> list[int]:
        """Those that stand in the file: readers go by whole thousandths of an em, whatever stands there."""
        measures, names = self._table["hmtx"].metrics, self._table.getGlyphOrder()
        return [round(measures[name][0] * self._per_em) for name in names]

    def put_into(self, file: Pdf) -> Object:
        """The font with the glyphs that are used, to be called for once no more will be."""
        data = self.face.blob.data if self.face.whole else self._subset()
        program = Stream(file, data)
        program.Length1 = len(data)
        head, lines, system = self._table["head"], self._table["hhea"], self._table["OS/2"]
        slant = float(self._table["post"].italicAngle)
        flags = _SYMBOLIC | (_ITALIC if slant else 0)
        kind = family(self.face.font)
        flags |= _FIXED if kind == "Liberation Mono" else 0
        flags |= _SERIF if kind in ("Caladea", "Liberation Serif") else 0
        part = "" if self.face.whole else f"{_subset_name(self._glyphs)}+"
        name = Name(f"/{part}{self.face.name}")
        described = Dictionary(
            Type=Name.FontDescriptor,
            FontName=name,
            Flags=flags,
            FontBBox=[round(one * self._per_em) for one in (head.xMin, head.yMin, head.xMax, head.yMax)],
            ItalicAngle=slant,
            Ascent=round(lines.ascent * self._per_em),
            Descent=round(lines.descent * self._per_em),
            CapHeight=round(getattr(system, "sCapHeight", lines.ascent) * self._per_em),
            StemV=120 if self.face.bold else 80,  # no face says it; readers do without (common practice, no source)
            FontFile2=file.make_indirect(program),
        )
        glyphs = Dictionary(
            Type=Name.Font,
            Subtype=Name.CIDFontType2,
            BaseFont=name,
            CIDSystemInfo=Dictionary(Registry=b"Adobe", Ordering=b"Identity", Supplement=0),
            FontDescriptor=file.make_indirect(described),
            CIDToGIDMap=self._glyph_of_code(file),
            DW=0,
            W=Array(
                [one for code, (glyph, _) in sorted(self._glyphs.items()) for one in (code, [self._widths[glyph]])]
            ),
        )
        return file.make_indirect(
            Dictionary(
                Type=Name.Font,
                Subtype=Name.Type0,
                BaseFont=name,
                Encoding=Name("/Identity-H"),
                DescendantFonts=[file.make_indirect(glyphs)],
                ToUnicode=file.make_indirect(Stream(file, _to_unicode(self._glyphs))),
            )
        )

    def _subset(self) -> bytes:
        """The file with the glyphs that are used."""
        asked = hb.SubsetInput()
        asked.sets(hb.SubsetInputSets.GLYPH_INDEX).update(glyph for glyph, _ in self._codes)
        asked.sets(hb.SubsetInputSets.DROP_TABLE_TAG).update(map(_tag, ("GSUB", "GPOS", "GDEF", "kern", "DSIG")))
        asked.flags = hb.SubsetFlags.RETAIN_GIDS | hb.SubsetFlags.NO_LAYOUT_CLOSURE
        return bytes(hb.subset(self._file, asked).blob.data)

    def _glyph_of_code(self, file: Pdf) -> Object:
        last = max(self._glyphs)
        if last < self._file.glyph_count:
            return Name.Identity
        glyphs = (self._glyphs.get(code, (0, ""))[0] for code in range(last + 1))
        return file.make_indirect(Stream(file, b"".join(glyph.to_bytes(2) for glyph in glyphs)))


def _nearer(further: float) -> bytes:
    """What TJ has between glyphs of which one is so much further, in thousandths of an em; nothing if that is none."""
    return b"%.2f" % -further if abs(further) > 0.005 else b""


def _string(glyphs: bytearray) -> bytes:
    return b"<" + glyphs + b">" if glyphs else b""


def _tag(name: str) -> int:
    return int.from_bytes(name.encode())


def _subset_name(glyphs: Mapping[int, tuple[int, str]]) -> str:
    """Six capitals (9.6.4) that are the same for the same glyphs."""
    number = crc32(repr(sorted(glyphs.items())).encode())
    return "".join(chr(65 + number // 26**place % 26) for place in range(6))


def _to_unicode(glyphs: Mapping[int, tuple[int, str]]) -> bytes:
    """Which characters each code says (9.10.3)."""
    lines = [f"<{code:04x}> <{says.encode('utf-16-be').hex()}>" for code, (_, says) in sorted(glyphs.items()) if says]
    blocks = [lines[start : start + 100] for start in range(0, len(lines), 100)]
    maps = "".join(f"{len(one)} beginbfchar\n" + "\n".join(one) + "\nendbfchar\n" for one in blocks)
    return (
        "/CIDInit /ProcSet findresource begin 12 dict begin begincmap\n"
        "/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def\n"
        "/CMapName /Adobe-Identity-UCS def /CMapType 2 def\n"
        "1 begincodespacerange <0000> <ffff> endcodespacerange\n"
        f"{maps}endcmap CMapName currentdict /CMap defineresource pop end end\n"
    ).encode()
