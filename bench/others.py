"""The same 50 pages with contents and a note on each: here, with reportlab's own table of contents, and with weasyprint.

reportlab knows no footnotes: there they are paragraphs."""

from __future__ import annotations

import html
from dataclasses import replace
from io import BytesIO

from bench.figures import seconds, show
from bench.pages import with_notes
from demo.manual import manual
from mellowspine.core.formats import pdf
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import FONT_FOLDER, Typefaces
from mellowspine.core.report.blocks import DataTable, Paragraph, PlacedTable
from mellowspine.core.report.report import Report
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.settle import with_contents
from tests.reference.html_pages import pages_of_anchors, render


def run() -> None:
    print("\nThe same text, contents and notes included, as PDF")
    plain = manual(50)
    source = replace(plain, blocks=tuple(one for block in with_notes(plain.blocks, 50) for one in block))
    ours: list[tuple[Report, Pages]] = []

    def by_us() -> None:
        typefaces = Typefaces()
        report, pages = with_contents(source, typefaces)
        pdf.write(Written(report, pages, typefaces, {}))
        ours[:] = [(report, pages)]

    paged = seconds(lambda: with_contents(source, Typefaces()), 3)
    here = seconds(by_us, 3)
    report, pages = ours[0]
    show(f"here, {len(pages)} pages and contents known", f"{paged:.2f} s")
    show("here, PDF written", f"{here:.2f} s", "1")
    theirs = seconds(lambda: by_reportlab(report))
    show("reportlab with its own contents table", f"{theirs:.2f} s", f"{theirs / here:.1f} times as long")
    with_css = seconds(lambda: by_weasyprint(report, pages))
    show("weasyprint with target-counter", f"{with_css:.2f} s", f"{with_css / here:.1f} times as long")


def by_reportlab(report: Report) -> bytes:
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.platypus import BaseDocTemplate, Frame, PageBreak, PageTemplate, Table
    from reportlab.platypus import Paragraph as Words
    from reportlab.platypus.tableofcontents import TableOfContents

    for face in ("Caladea-Regular", "Carlito-Bold", "Carlito-Regular", "Carlito-BoldItalic"):
        pdfmetrics.registerFont(TTFont(face, str(FONT_FOLDER / f"{face}.ttf")))
    from reportlab.lib.styles import ParagraphStyle

    def look(key: str) -> ParagraphStyle:
        style = report.styles[key]
        face = "Carlito-Bold" if style.bold else "Carlito-Regular" if style.font == "Carlito" else "Caladea-Regular"
        return ParagraphStyle(key, fontName=face, fontSize=style.size, leading=style.size * style.line_spacing,
                              spaceBefore=style.space_before, spaceAfter=style.space_after, leftIndent=style.indent,
                              keepWithNext=style.keep_with_next, allowWidows=0, allowOrphans=0)  # fmt: skip

    looks = {key: look(key) for key in report.styles}

    class Document(BaseDocTemplate):
        def afterFlowable(self, flowable) -> None:
            if (
                isinstance(flowable, Words)
                and (level := report.styles[flowable.style.name].outline_level)
                and level <= 3
            ):
                self.notify("TOCEntry", (level - 1, flowable.getPlainText(), self.page))

    page = report.page
    frame = Frame(page.left, page.bottom, page.text_width, page.text_height, 0, 0, 0, 0)
    contents = TableOfContents()
    story = []
    for block in report.blocks:
        match block:
            case Paragraph():
                story.append(Words(html.escape(block.text), looks[block.style]))
            case DataTable():
                story.append(Table([[cell.paragraphs[0].text for cell in row] for row in block.rows]))
            case PlacedTable():
                story += [PageBreak(), contents, PageBreak()]
    stream = BytesIO()
    document = Document(stream, pagesize=(page.width, page.height), pageTemplates=[PageTemplate(frames=[frame])])
    document.multiBuild(story)
    return stream.getvalue()


def by_weasyprint(report: Report, pages: Pages) -> bytes:
    document = render(pages.report)
    theirs = pages_of_anchors(document)
    headings = outline(report)
    same = sum(theirs.get(h.id) == pages.page_of(h.block, h.row) for h in headings)
    show(f"headings on the same page as with weasyprint, of {len(headings)}", f"{100 * same / len(headings):.0f} %")
    return document.write_pdf()
