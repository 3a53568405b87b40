"""Portable Document Format (ISO 32000-1), through reportlab: the pages of a report exactly as the core filled them.

Every line of a table and every web address is a link (12.5.6.5), the headings are the outline (12.3.3).
"""

from __future__ import annotations

import logging
from collections.abc import Iterable, Mapping
from datetime import UTC
from functools import lru_cache
from io import BytesIO
from pathlib import Path
from typing import Any

from fontTools.ttLib import TTFont
from reportlab import rl_config
from reportlab.lib.abag import ABag
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfdoc, pdfmetrics
from reportlab.pdfbase.ttfonts import ShapedStr, shapeFragWord
from reportlab.pdfbase.ttfonts import TTFont as PDFFont
from reportlab.pdfgen.canvas import Canvas

from ..pages.draw import Drawing, Link, Mark, Picture, Rule, Target, Words
from ..pages.typefaces import FEATURES
from ..report.blocks import Paragraph
from ..report.report import Report
from .walk import About, Written

logging.getLogger("fontTools").setLevel(logging.ERROR)  # it warns of how old the shipped faces are
rl_config.useA85 = 0  # streams as they are: as ASCII they are a quarter larger, and slower to write

_FRAME = "#b9b3bf"
"""Colour of the frame that stands for a missing picture."""
_ABOVE_TARGET = 4.0
"""Points above a heading at which a reader shows the page."""


def write(given: Written) -> bytes:
    """The report as PDF. Pictures that are missing leave an empty frame."""
    report, pages, typefaces, pictures, progress, about = given
    writer = _Writer(report, pictures, about)
    drawing = Drawing(pages, typefaces)
    for number in range(1, len(pages) + 1):
        if number % 10 == 1:
            progress(number - 1, len(pages))
        writer.page(drawing.page(number))
    writer.count(pages.front)
    return writer.finish()


def _subject(report: Report) -> str:
    """What the line under the title says."""
    subtitle = report.styles.role("subtitle").id
    lines = (b.text for b in report.blocks if isinstance(b, Paragraph) and b.style == subtitle)
    return " ".join(next(lines, "").split())[:300]


class _Writer:
    def __init__(self, report: Report, pictures: Mapping[str, bytes], about: About) -> None:
        self.setup = report.page
        self.pictures = pictures
        self.file = BytesIO()
        size = (self.setup.width, self.setup.height)
        language = report.page.language
        self.canvas = Canvas(self.file, pagesize=size, pageCompression=1, invariant=1, lang=language)
        self.canvas.setTitle(report.title)
        self.canvas.setAuthor(", ".join(about.authors))
        self.canvas.setSubject(_subject(report))
        self.canvas.setCreator("Mellow Spine")
        if about.at:
            date = about.at.astimezone(UTC).strftime("D:%Y%m%d%H%M%SZ")  # ISO 32000-1, 7.9.4
            self.canvas.setDateFormatter(lambda *_: date)
        self.depth = -1
        """That of the last entry of the outline; -1 while it has none."""
        self.named: dict[str, str] = {}
        """Targets by the names under which links from elsewhere can lead to them."""

    def page(self, marks: Iterable[Mark]) -> None:
        for mark in marks:
            match mark:
                case Words():
                    self.words(mark)
                case Rule():
                    self.rule(mark)
                case Picture():
                    self.picture(mark)
                case Link():
                    self.link(mark)
                case Target():
                    self.target(mark)
        self.canvas.showPage()

    def count(self, front: int) -> None:
        """Gives readers of the file the page numbers that are printed: page labels (ISO 32000-1, 12.4.2)."""
        if front:
            self.canvas.addPageLabel(0, "ROMAN_LOWER")
        self.canvas.addPageLabel(front, "ARABIC")

    def finish(self) -> bytes:
        if self.depth >= 0:
            self.canvas.showOutline()
        self._name_destinations()
        self.canvas.save()
        return self.file.getvalue()

    def _name_destinations(self) -> None:
        """Makes every target known by its name, for links from elsewhere (ISO 32000-1, 12.3.2.3: a name tree in order)."""
        document: Any = self.canvas._doc  # type: ignore[attr-defined]  # the library has no public way to its catalogue
        names: list[object] = []
        for name, target in sorted(self.named.items(), key=lambda one: pdfdoc.PDFString(one[0]).format(document)):
            names += [pdfdoc.PDFString(name), self.canvas._bookmarkReference(target)]  # type: ignore[attr-defined]
        if names:
            tree = pdfdoc.PDFDictionary({"Names": pdfdoc.PDFArray(names)})
            document.Catalog.Names = pdfdoc.PDFDictionary({"Dests": tree})

    def x(self, right_of_left: float) -> float:
        return self.setup.left + right_of_left

    def y(self, below_top: float) -> float:
        """PDF counts from the foot of the sheet; the core from the top of the text area."""
        return self.setup.height - self.setup.top - below_top

    def words(self, mark: Words) -> None:
        face = mark.face
        name = f"{face.name}-Even" if face.tabular else face.name
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(PDFFont(name, _tabular(face.path) if face.tabular else str(face.path)))
        self.canvas.setFillColor(HexColor(mark.colour))
        line = self.canvas.beginText(self.x(mark.x), self.y(mark.baseline))
        line.setFont(name, mark.size)
        if mark.step:
            # Readers go by the widths in the file, which are whole thousandths.
            line.setCharSpace(mark.step - round(1000 * face.width(mark.text[0])) / 1000 * mark.size)
            line.textOut(mark.text)
            line.setCharSpace(0)
        else:
            line.textOut(mark.text if face.tabular else _kerned(mark.text, name))
        self.canvas.drawText(line)

    def rule(self, mark: Rule) -> None:
        x, y = self.x(mark.x), self.y(mark.y + mark.height)
        self.canvas.setLineWidth(mark.weight)
        self.canvas.setStrokeColor(HexColor(mark.colour))
        if not mark.height:
            self.canvas.line(x, y, x + mark.width, y)
            return
        if mark.fill:
            self.canvas.setFillColor(HexColor(mark.fill))
        self.canvas.rect(x, y, mark.width, mark.height, 1, 1 if mark.fill else 0)

    def picture(self, mark: Picture) -> None:
        x, y = self.x(mark.x), self.y(mark.y + mark.height)
        data = self.pictures.get(mark.source)
        if data is None:
            self.canvas.setStrokeColor(HexColor(_FRAME))
            self.canvas.rect(x, y, mark.width, mark.height)
        else:
            self.canvas.drawImage(ImageReader(BytesIO(data)), x, y, mark.width, mark.height, mask="auto")

    def link(self, mark: Link) -> None:
        area = (self.x(mark.x), self.y(mark.y + mark.height), self.x(mark.x + mark.width), self.y(mark.y))
        if mark.name:
            self.canvas.linkAbsolute(mark.name, mark.to, area)
        else:
            self.canvas.linkURL(mark.to, area, relative=0)

    def target(self, mark: Target) -> None:
        self.canvas.bookmarkHorizontal(mark.id, 0, self.y(mark.y - _ABOVE_TARGET))
        self.named.setdefault(mark.id, mark.id)
        if mark.name:
            self.named.setdefault(mark.name, mark.id)
        heading = mark.heading
        if heading is None or heading.by_hand == "put in":
            return
        self.depth = min(heading.level - 1, self.depth + 1)
        words = f"{heading.number} {heading.text}" if heading.number else heading.text
        self.canvas.addOutlineEntry(words, heading.id, self.depth, closed=self.depth > 0)


@lru_cache(maxsize=1 << 12)
def _kerned(text: str, font: str) -> ShapedStr | str:
    """The text with the kerning that it was measured with.

    reportlab writes a shaped string as glyphs and offsets. Offsets are in em, whatever the size.
    """
    shaped = shapeFragWord([0, (ABag(fontName=font, fontSize=1), text)], features=FEATURES)[1][1]
    return shaped if isinstance(shaped, ShapedStr) else text


def _tabular(path: Path) -> BytesIO:
    """A font file in which the figures are those of one width that it has for its feature ``tnum``: reportlab asks for no
    features of a font, and readers take words from what its characters are."""
    font = TTFont(path, recalcTimestamp=False)
    features: Any = font["GSUB"].table if "GSUB" in font else None
    wanted = [one.Feature for one in features.FeatureList.FeatureRecord if one.FeatureTag == "tnum"] if features else []
    instead: dict[str, str] = {}
    for index in {index for feature in wanted for index in feature.LookupListIndex}:
        for part in features.LookupList.Lookup[index].SubTable:
            instead |= getattr(part, "ExtSubTable", part).mapping
    for table in font["cmap"].tables:
        table.cmap |= {code: instead.get(name, name) for code, name in table.cmap.items() if chr(code).isdecimal()}
    glyphs, measures = font.getBestCmap(), font["hmtx"]
    wide, _ = measures[glyphs[ord("0")]]
    for code in map(ord, "123456789"):
        own, left = measures[glyphs[code]]
        measures[glyphs[code]] = wide, left + (wide - own) // 2
    for record in font["name"].names:
        if record.nameID == 6:  # by which reportlab tells files apart
            record.string = f"{record.toUnicode()}-Even"
    made = BytesIO()
    font.save(made)
    made.seek(0)
    return made
