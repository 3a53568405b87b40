"""Portable Document Format (ISO 32000-1), through reportlab: the pages of a report exactly as the core filled them.

Every line of a table and every web address is a link (12.5.6.5), the headings are the outline (12.3.3).
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from io import BytesIO

from reportlab import rl_config
from reportlab.lib.abag import ABag
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import ShapedStr, TTFont, shapeFragWord
from reportlab.pdfgen.canvas import Canvas

from ..pages.boxes import CELL_PADDING, cell_lines, column_widths, fitted
from ..pages.fill import Placed
from ..pages.lines import Lines, Piece, break_lines, pieces
from ..pages.pages import Pages
from ..pages.table_setting import Setting, lay_out
from ..pages.typefaces import FEATURES, Face, Typefaces
from ..report.blocks import PLAIN, DataTable, Image, Paragraph, PlacedTable
from ..report.report import Report
from ..report.styles import Style
from ..structure.markers import list_markers
from ..structure.outline import Heading, outline
from .imported import Progress, unhurried
from .links import safe_link

rl_config.useA85 = 0  # streams as they are: as ASCII they are a quarter larger, and slower to write

_LINK = "#3f3190"
_RULE = "#b9b3bf"
_FOOT_SIZE = 9.0
_WORDS = re.compile("( )")
_NUMBER_GAP = 8.0


def write(
    report: Report,
    pages: Pages,
    typefaces: Typefaces,
    pictures: Mapping[str, bytes],
    progress: Progress = unhurried,
) -> bytes:
    """The report as PDF. ``pages`` are the report's own; pictures that are missing leave an empty frame."""
    return _Writer(report, pages, typefaces, pictures).write(progress)


class _Writer:
    def __init__(self, report: Report, pages: Pages, typefaces: Typefaces, pictures: Mapping[str, bytes]) -> None:
        self.report = report
        self.pages = pages
        self.typefaces = typefaces
        self.pictures = pictures
        self.file = BytesIO()
        setup = report.page
        self.canvas = Canvas(self.file, pagesize=(setup.width, setup.height), pageCompression=1, invariant=1)
        self.canvas.setTitle(report.title)
        self.canvas.setCreator("Mellow Spine")
        headings = outline(report)
        self.markers = {**list_markers(report), **{h.id: h.number for h in headings if h.number}}
        self.headings: dict[tuple[int, int], list[Heading]] = {}
        for heading in headings:
            self.headings.setdefault((heading.block, heading.row), []).append(heading)
        self.listed = {heading.id for heading in headings}
        self.depth = -1
        self.settings: dict[str, list[Setting]] = {}

    def write(self, progress: Progress) -> bytes:
        for page in range(1, len(self.pages) + 1):
            if page % 10 == 1:
                progress(page - 1, len(self.pages))
            for placed in self.pages.content(page):
                self.box(placed)
            self.foot(page)
            self.canvas.showPage()
        if self.headings:
            self.canvas.showOutline()
        self.canvas.save()
        return self.file.getvalue()

    def y(self, below_top: float) -> float:
        """PDF counts from the foot of the sheet; the core from the top of the text area."""
        return self.report.page.height - self.report.page.top - below_top

    def box(self, placed: Placed) -> None:
        block = self.report.blocks[placed.box]
        for row in range(placed.first, placed.end):
            for heading in self.headings.get((placed.box, row), ()) if row == 0 or type(block) is DataTable else ():
                self.destination(heading, placed.y)
        match block:
            case Paragraph():
                box = self.pages.boxes[placed.box]
                style = self.report.styles[block.style]
                self.paragraph(block, style, Lines(box.starts, box.heights), placed.first, placed.end, placed.y, 0.0,
                               self.report.page.text_width)  # fmt: skip
            case Image():
                self.image(block, placed.y)
            case DataTable():
                self.data_table(block, placed)
            case PlacedTable():
                self.table(block, placed)
            case _:
                pass

    def destination(self, heading: Heading, y: float) -> None:
        self.canvas.bookmarkHorizontal(heading.id, 0, self.y(y) + 4)
        self.depth = min(heading.level - 1, self.depth + 1)
        words = f"{heading.number} {heading.text}" if heading.number else heading.text
        self.canvas.addOutlineEntry(words, heading.id, self.depth, closed=self.depth > 0)

    def paragraph(
        self, block: Paragraph, style: Style, lines: Lines, first: int, end: int, y: float, x: float, width: float
    ) -> None:
        left = self.report.page.left + x
        for number in range(first, end):
            height = lines.heights[number]
            placed = pieces(block, style, width, self.typefaces, lines, number)
            size = max((piece.size for piece in placed), default=style.size)
            face = placed[0].face if placed else self.typefaces.face(style.font, style.bold, style.italic)
            baseline = self.y(y + (height - (face.ascent + face.descent) * size) / 2 + face.ascent * size)
            if number == 0:
                placed = self.numbered(block, style, placed)
            for piece in placed:
                self.piece(piece, left, baseline, style.colour)
            y += height

    def numbered(self, block: Paragraph, style: Style, placed: list[Piece]) -> list[Piece]:
        """The first line with the paragraph's list marker or heading number set in front of it."""
        mark = self.markers.get(block.id)
        if mark is None or not placed:
            return placed
        first = placed[0]
        face = self.typefaces.face(style.font, style.bold, style.italic)
        marker = Piece(first.x + style.first_line, face.width(mark) * style.size, mark, face, style.size, PLAIN)
        return [marker, *placed]

    def piece(self, piece: Piece, left: float, baseline: float, colour: str) -> None:
        marks = piece.marks
        link = safe_link(marks.link) if marks.link else None
        self.canvas.setFillColor(HexColor(_LINK if link else marks.colour or colour))
        self.words(piece.text, piece.face, piece.size, left + piece.x, baseline)
        if marks.underline or link:
            self.canvas.setStrokeColor(HexColor(_LINK if link else marks.colour or colour))
            self.canvas.setLineWidth(piece.size / 18)
            under = baseline - piece.size * 0.12
            self.canvas.line(left + piece.x, under, left + piece.x + piece.width, under)
        if link:
            area = (left + piece.x, baseline - piece.size * 0.25, left + piece.x + piece.width, baseline + piece.size)
            self.canvas.linkURL(link, area, relative=0)

    def words(self, text: str, face: Face, size: float, x: float, baseline: float) -> None:
        if face.name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(face.name, str(face.path)))
        line = self.canvas.beginText(x, baseline)
        line.setFont(face.name, size)
        line.textOut(_kerned(text, face.name))
        self.canvas.drawText(line)

    def image(self, block: Image, y: float) -> None:
        width, height = fitted(block, self.report)
        free = self.report.page.text_width - width
        x = self.report.page.left + {"left": 0.0, "right": free}.get(block.align, free / 2)
        data = self.pictures.get(block.source)
        if data is None:
            self.canvas.setStrokeColor(HexColor(_RULE))
            self.canvas.rect(x, self.y(y + height), width, height)
            return
        self.canvas.drawImage(ImageReader(BytesIO(data)), x, self.y(y + height), width, height, mask="auto")

    def data_table(self, block: DataTable, placed: Placed) -> None:
        box = self.pages.boxes[placed.box]
        rows = list(range(placed.first, placed.end))
        y = placed.y
        if placed.first:
            rows = [*range(box.repeated), *rows]
            y -= sum(box.heights[: box.repeated])
        widths = column_widths(block, self.report.page.text_width)
        self.canvas.setLineWidth(0.5)
        for row in rows:
            height = box.heights[row]
            column = 0
            left = 0.0
            for cell in block.rows[row]:
                width = sum(widths[column : column + cell.columns])
                column += cell.columns
                if row < block.header_rows:
                    self.canvas.setFillColor(HexColor("#f1f0ec"))
                    self.canvas.rect(self.report.page.left + left, self.y(y + height), width, height, 0, 1)
                self.canvas.setStrokeColor(HexColor(_RULE))
                self.canvas.rect(self.report.page.left + left, self.y(y + height), width, height, 1, 0)
                inner = y + CELL_PADDING
                for paragraph, lines in cell_lines(cell, width, self.report, self.typefaces):
                    style = self.report.styles[paragraph.style]
                    self.paragraph(paragraph, style, lines, 0, len(lines.starts), inner, left + CELL_PADDING,
                                   width - 2 * CELL_PADDING)  # fmt: skip
                    inner += sum(lines.heights) + style.space_after
                left += width
            y += height

    def table(self, block: PlacedTable, placed: Placed) -> None:
        issued = self.report.tables.get(block.table)
        if issued is None:
            return
        if block.id not in self.settings:
            self.settings[block.id] = lay_out(issued, self.report, self.typefaces)
        parts = self.settings[block.id]
        for part in parts[placed.first : placed.end]:
            y = placed.y + part.top - parts[placed.first].top
            lines = break_lines(part.paragraph, part.style, part.width, self.typefaces)
            self.paragraph(part.paragraph, part.style, lines, 0, len(lines.starts), y, 0.0, part.width)
            if part.line is not None:
                self.page_number(part, lines, y, issued.recipe.leader)

    def page_number(self, part: Setting, lines: Lines, y: float, leader: str) -> None:
        """Page number at the right edge of a table line's last row, leader up to it, and the link over all of it."""
        line = part.line
        if line is None:
            return
        page = self.report.page
        style = part.style
        face = self.typefaces.face(style.font, style.bold)
        last = len(lines.starts) - 1
        row = y + sum(lines.heights[:-1])
        baseline = self.y(
            row + (lines.heights[-1] - (face.ascent + face.descent) * style.size) / 2 + face.ascent * style.size
        )
        width = face.width(line.page) * style.size
        end = page.left + page.text_width - width
        self.canvas.setFillColor(HexColor(style.colour))
        self.words(line.page, face, style.size, end, baseline)
        placed = pieces(part.paragraph, style, part.width, self.typefaces, lines, last)
        reach = page.left + (placed[-1].x + placed[-1].width if placed else 0.0) + _NUMBER_GAP
        if leader:
            step = max(face.width(leader), 0.1) * style.size * 1.6
            x = end - _NUMBER_GAP - step
            dots = int((x - reach) / step) + 1
            if dots > 1:
                text = self.canvas.beginText(x - (dots - 1) * step, baseline)
                text.setFont(face.name, style.size)
                text.setCharSpace(step - face.width(leader) * style.size)
                text.textOut(leader * dots)
                text.setCharSpace(0)
                self.canvas.drawText(text)
        if line.heading in self.listed:
            area = (page.left + style.indent, self.y(y + part.height), page.left + page.text_width, self.y(y))
            self.canvas.linkAbsolute(line.text, line.heading, area)

    def foot(self, page: int) -> None:
        face = self.typefaces.face("Carlito")
        label = self.pages.label(page)
        width = face.width(label) * _FOOT_SIZE
        setup = self.report.page
        self.canvas.setFillColor(HexColor("#4a4350"))
        self.words(label, face, _FOOT_SIZE, (setup.width - width) / 2, setup.bottom / 2 - _FOOT_SIZE / 3)


@lru_cache(maxsize=1 << 12)
def _kerned(text: str, font: str) -> ShapedStr | str:
    """The text with the kerning that it was measured with.

    reportlab writes a shaped string as glyphs and offsets. Offsets are in em, whatever the size.
    """
    shaped = shapeFragWord([0, (ABag(fontName=font, fontSize=1), text)], features=FEATURES)[1][1]
    return shaped if isinstance(shaped, ShapedStr) else text
