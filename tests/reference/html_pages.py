"""A report as HTML with the same fonts and page box, for a library that fills pages by itself: ``weasyprint``.

Every rule here is CSS's own; nothing of what the core measured goes in but what CSS leaves to choice: the widths of
data tables' columns, the size of pictures, and the place that page numbers take in a contents table.
"""

from __future__ import annotations

import html
import inspect
import re
from dataclasses import replace

import weasyprint
from PIL import ImageFile
from weasyprint.layout import block as their_blocks

from mellowspine.core.formats.footnotes import without_sign
from mellowspine.core.kinds import data_table, picture, placed_table
from mellowspine.core.pages.as_set import as_set, note_sign
from mellowspine.core.pages.beside import GAP, fitted, fitted_in, is_beside
from mellowspine.core.pages.columns import PADDING, column_widths
from mellowspine.core.pages.feet import ABOVE
from mellowspine.core.pages.lines import SCRIPT_BY, SCRIPT_SIZE, script_of
from mellowspine.core.pages.parts import is_start, stretches
from mellowspine.core.pages.typefaces import FONT_FOLDER, Typefaces
from mellowspine.core.report.blocks import Block, DataTable, Image, PageBreak, Paragraph, PartStart, PlacedTable, Run
from mellowspine.core.report.diff import where
from mellowspine.core.report.grids import Slot, grid_of
from mellowspine.core.report.labels import known_label
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import Style
from mellowspine.core.tables.setting import measures_of

_TYPEFACES = Typefaces()

# weasyprint lets every user of Pillow in the process read pictures that are cut off.
ImageFile.LOAD_TRUNCATED_IMAGES = False

_VARIANTS = (
    ("Regular", 400, "normal"),
    ("Bold", 700, "normal"),
    ("Italic", 400, "italic"),
    ("BoldItalic", 700, "italic"),
)


def _keep_notes_with_their_lines() -> None:
    """Where a paragraph's last lines have no room and it cannot be parted earlier, the other library moves notes of the page on to
    the next one, though ``footnote-policy: line`` says that they stay with theirs (CSS Generated Content for Paged Media 3, 2.5):
    a kindness to what is not to be parted, which is left out here."""
    kindness = "report = not context.in_column and can_break_now and not could_break_before"
    source = inspect.getsource(their_blocks._linebox_layout)
    if kindness not in source:
        raise RuntimeError("weasyprint has changed: look again at how it moves notes on in `_linebox_layout`")
    exec(compile(source.replace(kindness, "report = False"), their_blocks.__file__, "exec"), vars(their_blocks))


_keep_notes_with_their_lines()


def render(report: Report) -> weasyprint.Document:
    """The report, set by weasyprint. Its pages' ``anchors`` hold the block ids."""
    return weasyprint.HTML(string=f'<html lang="{report.page.language}">{as_html(report)}').render()


def pages_of_anchors(document: weasyprint.Document) -> dict[str, int]:
    """The first page on which each id stands, counted from 1."""
    found: dict[str, int] = {}
    for number, page in enumerate(document.pages, 1):
        for name in page.anchors:
            found.setdefault(name, number)
    return found


def as_html(report: Report) -> str:
    """Each block of a part is on pages with the part's name (CSS Paged Media 3, 7.3), which have its running head (CSS Generated
    Content for Paged Media 3, 1.1). Columns are not written: CSS makes those of the last page level."""
    parts = stretches(report, where(report.blocks, is_start))
    ends = [*(one.first for one in parts[1:]), len(report.blocks)]
    notes = _Notes(report)
    rules = _rules(report)
    if notes.left:  # the other library breaks lines that keep their spaces at notes, whether they are full or not
        rules.append("p { white-space: normal }")
    if len(parts) == 1:
        rules.append(_paper("", parts[0].page))
        return f"<style>{' '.join(rules)}</style>{''.join(_block(block, report, notes) for block in report.blocks)}"
    body = ""
    for at, (one, end) in enumerate(zip(parts, ends, strict=True)):
        on = replace(report, page=one.page)
        written = [made for block in report.blocks[one.first : end] if (made := _block(block, on, notes))]
        body += "".join(
            _FIRST_TAG.sub(rf'<\1 data-part="{at}{"" if index else " first"}"', made)
            for index, made in enumerate(written)
        )
        rules.append(_paper(f"part{at}", one.page))
        rules.append(f'[data-part="{at}"], [data-part="{at} first"] {{ page: part{at} }}')
        if at:
            rules.append(f'[data-part="{at} first"] {{ break-before: {_BEGINS[one.part.begins]} !important }}')
    return f"<style>{' '.join(rules)}</style>{body}"


class _Notes:
    """Footnotes stand among the words that refer to them first (CSS Generated Content for Paged Media 3, 2.2)."""

    def __init__(self, report: Report) -> None:
        self._report = report
        self.left = {
            block.id: block
            for block in report.blocks
            if isinstance(block, Paragraph) and note_sign(block, report) and block.note
        }

    def written(self, run: Run) -> str:
        reference = run.marks.reference
        note = self.left.pop(reference.to, None) if reference and reference.shows == "note" else None
        if note is None:
            return _run(run)
        words = "".join(map(_run, without_sign(as_set(note, self._report)).runs))
        return f'<span class="note {note.style}" id="{note.id}" data-sign="{run.text}">{words}</span>'


_FIRST_TAG = re.compile(r"^<(\w+)")
_BEGINS = {"any": "page", "right": "right", "left": "left"}


def _paper(name: str, page: PageSetup) -> str:
    def margins(left: float, right: float) -> str:
        return f"margin: {page.top}pt {right}pt {page.bottom}pt {left}pt;"

    head = "@top-left { content: string(section) }" if "{section 1}" in page.head_left else ""
    foot = f"@footnote {{ margin-top: {ABOVE / 2}pt; border-top: 0.5pt solid; padding-top: {ABOVE / 2 - 0.5}pt }}"
    rules = f"@page {name} {{ size: {page.width}pt {page.height}pt; {margins(page.left, page.right)} {head} {foot} }}"
    if page.mirrored:
        rules += f" @page {name}:left {{ {margins(page.right, page.left)} }}"
    return rules


def _rules(report: Report) -> list[str]:
    faces = sorted({style.font for style in report.styles.values()} | {"Carlito"})
    return [
        "body { margin: 0; font-variant-ligatures: none }",
        "p { white-space: pre-wrap; overflow-wrap: anywhere; tab-size: 36pt }",
        f"div.image {{ margin: {picture.SPACE}pt 0; break-inside: avoid; break-after: avoid }}",
        ".image, .beside, table, nav { clear: both }",
        f".inside:not(:last-child) {{ margin-bottom: {PADDING}pt }}",
        # A box without height of its own begins beneath what floats above, and with it the words beside it.
        f".beside {{ margin: {picture.SPACE}pt 0 0 }}",
        f"table {{ margin: {data_table.SPACE}pt 0; border-spacing: 0; table-layout: fixed; width: 100% }}",
        f"tr {{ break-inside: avoid }} td {{ padding: {PADDING}pt; vertical-align: top }}",
        f"nav {{ margin: {placed_table.SPACE}pt 0 }} nav.own {{ break-before: page; break-after: page }}",
        ".note { float: footnote; footnote-policy: line; overflow-wrap: anywhere }",
        # Signs are as wide as ours, and make no line higher.
        f".note::footnote-call {{ content: attr(data-sign); {_RAISED}; {_TABULAR} }}",
        f".note::footnote-marker {{ content: attr(data-sign) ' '; {_RAISED}; {_TABULAR} }}",
        "nav a::after { content: target-counter(attr(href), page); float: right }",
        *(
            f'@font-face {{ font-family: "{face}"; font-weight: {weight}; font-style: {slant};'
            f" src: url({(FONT_FOLDER / (face.replace(' ', '') + f'-{file}.ttf')).as_uri()}) }}"
            for face in faces
            for file, weight, slant in _VARIANTS
        ),
        *(f"p.{style.id} {{ {_look(style)} }}" for style in report.styles.values()),
        *(
            f"body > p.{style.id} {{ string-set: section content(text) }}"
            for style in report.styles.values()
            if style.outline_level == 1
        ),
        *(f"span.note.{style.id} {{ {_look(style)} }}" for style in report.styles.values()),
        *(f"td p.{style.id} {{ margin: 0 0 {style.space_after}pt }}" for style in report.styles.values()),
    ]


def _look(style: Style) -> str:
    rules = [
        f"font: {'italic' if style.italic else 'normal'} {'bold' if style.bold else 'normal'}",
        f'{style.size}pt/{style.line_spacing} "{style.font}";',
        f"margin: {style.space_before}pt 0 {style.space_after}pt {style.indent}pt;",
        f"text-indent: {0 if style.marker else style.first_line}pt; text-align: {style.align};",
    ]
    rules.append(f"orphans: {style.orphans}; widows: {style.widows};")
    if style.hyphenate:
        rules.append('hyphens: auto; hyphenate-character: "-"; hyphenate-limit-chars: 5 2 3;')
    if style.keep_together or style.outline_level is not None:
        rules.append("break-inside: avoid;")
    if style.keep_with_next:
        rules.append("break-after: avoid;")
    if style.new_page:
        rules.append("break-before: page;")
    return " ".join(rules)


def _in_cell(image: Image, room: float, highest: float) -> str:
    width, height = fitted_in(image, room, highest)
    return f'<div class="inside" id="{image.id}" style="height: {height}pt; width: {width}pt"></div>'


def _block(block: Block, report: Report, notes: _Notes) -> str:
    match block:
        case Paragraph() if block.note and note_sign(block, report):
            return ""
        case Paragraph():
            own = {"text-align": block.align, "line-height": block.line_spacing}
            spaces = {"margin-top": block.space_before, "margin-bottom": block.space_after}
            rules = [f"{name}: {value}" for name, value in own.items() if value is not None]
            if block.caption:
                above = known_label(report.labels, block.caption).place == "above"
                rules.append("break-after: avoid" if above else "break-before: avoid")
            if block.keep_with_next is not None:
                rules.append(f"break-after: {'avoid' if block.keep_with_next else 'auto'}")
            if block.keep_together is not None:
                rules.append(f"break-inside: {'avoid' if block.keep_together else 'auto'}")
            rules += [f"{name}: {value}pt" for name, value in spaces.items() if value is not None]
            runs = "".join(map(notes.written, as_set(block, report).runs)) or "&#8203;"
            return f'<p id="{block.id}" class="{block.style}" style="{"; ".join(rules)}">{runs}</p>'
        case Image():
            width, height = fitted(block, report)
            size = f"height: {height}pt; width: {width}pt"
            if is_beside(block):
                away = "right" if block.align == "left" else "left"
                size += f"; float: {block.align}; margin-{away}: {GAP}pt"
                return f'<div class="beside" id="{block.id}"><div style="{size}"></div></div>'
            return f'<div class="image" id="{block.id}" style="{size}"></div>'
        case DataTable():
            grid = grid_of(block.rows)
            widths = column_widths(grid, report.page.text_width, report, _TYPEFACES)
            columns = "".join(f'<col style="width: {width}pt">' for width in widths)
            highest = report.page.text_height / (2 if block.header_rows else 1) - 2 * PADDING

            def within(slot: Slot) -> str:
                room = sum(widths[slot.column : slot.column + slot.columns]) - 2 * PADDING
                return "".join(
                    _in_cell(one, room, highest) if isinstance(one, Image) else _block(one, report, notes)
                    for one in slot.cell.blocks
                )

            rows = [
                "".join(f'<td colspan="{one.columns}" rowspan="{one.rows}">{within(one)}</td>' for one in slots)
                for slots in grid
            ]
            head, rest = rows[: block.header_rows], rows[block.header_rows :]
            return (
                f'<table id="{block.id}">{columns}<thead>{"".join(f"<tr>{row}</tr>" for row in head)}</thead>'
                f"<tbody>{''.join(f'<tr>{row}</tr>' for row in rest)}</tbody></table>"
            )
        case PartStart():
            return ""
        case PageBreak():
            return '<div style="break-after: page"></div>'
        case PlacedTable():
            return _contents(block, report)


_TABULAR = "font-variant-numeric: tabular-nums; font-kerning: none"
_RAISED = f"font-size: {SCRIPT_SIZE}em; line-height: 0; vertical-align: {SCRIPT_BY['super'] / SCRIPT_SIZE}em"


def _run(run: Run) -> str:
    marks = run.marks
    rules = []
    if marks.bold is not None:
        rules.append(f"font-weight: {'bold' if marks.bold else 'normal'}")
    if marks.italic is not None:
        rules.append(f"font-style: {'italic' if marks.italic else 'normal'}")
    if marks.font:
        rules.append(f"font-family: '{marks.font}'")
    if marks.size:
        rules.append(f"font-size: {marks.size}pt")
    if marks.tabular:  # what the core writes, in figures of one width
        rules.append("font-variant-numeric: tabular-nums; font-kerning: none")
    if script := script_of(marks):
        rules.append(
            f"font-size: {SCRIPT_SIZE}em; line-height: 0; position: relative; top: -{SCRIPT_BY[script] / SCRIPT_SIZE}em"
        )
    if marks.capitals == "all":
        rules.append("text-transform: uppercase")
    text = html.escape(run.text)
    return f'<span style="{"; ".join(rules)}">{text}</span>' if rules else text


def _contents(block: PlacedTable, report: Report) -> str:
    issued = report.tables[block.table]
    recipe = issued.recipe
    column = measures_of(issued, report, _TYPEFACES).pages
    lines = [f'<p class="table-title">{html.escape(recipe.title)}</p>' if recipe.title else ""]
    for line in issued.lines:
        look = recipe.look(line.level)
        words = html.escape(f"{line.number}  {line.text}" if line.number else line.text)
        lines.append(
            f'<p style="font: {"bold" if look.bold else "normal"} {look.size}pt/{look.line_spacing} {look.font};'
            f" margin: 0 {column}pt 0 {look.indent}pt; padding: {look.space_before}pt 0 {look.space_after}pt; orphans: 9; widows: 9"
            f'"><a href="#{line.source}">{words}</a></p>'
        )
    return f'<nav class="{"own" if block.own_page else ""}">{"".join(lines)}</nav>'
