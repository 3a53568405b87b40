"""What files say that a report does not have, by kind: what it is, and what becomes of it, in words for people.

A reader names a kind each time it meets one (``imported.Notes``); nothing that somebody would see in the file goes without one.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple


class Noted(NamedTuple):
    """A kind of thing. ``{0}`` and ``{1}`` stand for which one it was, in the file's own words."""

    what: str
    instead: str

    @property
    def lost(self) -> bool:
        """Whether nothing of it came along."""
        return self.instead.startswith("left out")


NOTED: Mapping[str, Noted] = {
    # Words
    "hidden": Noted("Hidden text", "left out"),
    "comment": Noted("Comment", "left out"),
    "tracked-insertion": Noted("Words put in under review", "kept as if accepted"),
    "tracked-deletion": Noted("Words taken out under review", "left out, as if accepted"),
    "settings-in-front": Noted("Settings in front of the text", "left out"),
    "long-paragraph": Noted("Paragraphs of more than 100,000 characters", "parted into several"),
    "no-face": Noted("Characters that no typeface here has ({0})", "printed as empty boxes"),
    "typeface": Noted("Typeface {0}", "set in {1}"),
    "typeface-as-wide": Noted("Typeface {0}", "set in {1}, whose letters are as wide"),
    "symbol": Noted("Symbol of a special font ({0})", "left out"),
    "ruby": Noted("Words above other words", "kept in brackets behind these"),
    "inserted-file": Noted("File within the file", "left out"),
    "unknown": Noted("Something of an unknown kind ({0})", "its words kept as plain text"),
    "raw-html": Noted("Raw HTML", "its words kept as plain text"),
    "code-colours": Noted("Code in {0}", "set in one colour"),
    # Looks of words
    "struck-twice": Noted("Letters struck through by two lines", "struck through by one"),
    "pattern": Noted("Pattern behind words, paragraphs or cells", "shown as one colour"),
    "raised": Noted("Letters a distance above or below their line", "set on the line"),
    "line-kind": Noted("Letters underlined by another than a single line", "underlined by a single one"),
    "around-words": Noted("Line around words", "left out"),
    "letter-effect": Noted("Letters with an outline, a shadow or a relief", "kept without it"),
    "letter-spacing": Noted("Letters set wider, closer or stretched", "set as usual"),
    "emphasis-mark": Noted("Dots above or below letters", "kept without them"),
    "right-to-left": Noted("Text from right to left", "set from left to right"),
    # Looks of paragraphs
    "line-look": Noted("Lines of a special kind", "drawn as plain ones"),
    "right-indent": Noted("Paragraph that reaches beyond its column on the right", "set up to the column's edge"),
    "frame": Noted("Paragraph in a frame of its own", "set among the others"),
    "turned-text": Noted("Text set upwards or downwards", "set from left to right"),
    "rule": Noted("Rule across a cell", "left out"),
    "toc-line": Noted("Line of a contents table made elsewhere", "kept as plain text"),
    # Lists
    "list-figures": Noted("Numbers of a list in words or other scripts", "counted in figures"),
    "list-sign": Noted("Bullet that is a picture or of a special font", "kept as a bullet of this report"),
    # Pictures
    "picture-outside": Noted("Picture outside the file", "its description or name kept as plain text"),
    "picture-elsewhere": Noted("Picture that is elsewhere ({0})", "not fetched, its description kept as plain text"),
    "picture-absent": Noted("Picture that did not come along", "its description kept as plain text"),
    "picture-beside": Noted("Picture in a file of its own", "its description kept as plain text"),
    "picture-unknown": Noted("Picture in an unknown format", "its description or name kept as plain text"),
    "picture-damaged": Noted("Picture that is damaged", "its description or name kept as plain text"),
    "picture-large": Noted("Picture of more than 60 million pixels", "its description or name kept as plain text"),
    "picture-cropped": Noted("Picture of which a part is cut off", "shown whole"),
    "picture-placed": Noted("Picture placed freely on the page", "set where its paragraph stands"),
    "picture-link": Noted("Link on a picture", "left out"),
    "counting-picture": Noted("Picture of a single point, by which readers are counted", "left out"),
    "chart": Noted("Chart", "drawn anew from its values, which its description tells"),
    "chart-bare": Noted("Chart without values", "left out"),
    "diagram": Noted("Diagram", "its words kept as plain text"),
    "shape": Noted("Drawn shape", "left out"),
    "drawn-words": Noted("Words drawn as a picture", "kept as plain text"),
    "text-box": Noted("Text box", "kept as paragraphs"),
    "object": Noted("Embedded object", "shown as its picture"),
    "object-bare": Noted("Embedded object without a picture", "left out"),
    "film": Noted("Drawing, film or sound", "left out"),
    "page-within": Noted("Page within the page", "left out"),
    "form": Noted("Field of a form", "left out"),
    "formula-words": Noted("Formula at a head or foot", "kept as plain text"),
    "formula-box": Noted("Box around a part of a formula", "left out"),
    "formula-look": Noted("Colours or sizes in a formula", "left out"),
    "formula": Noted("Formula nested too deep", "kept as plain text"),
    # Links, fields, controls
    "link": Noted("Link to no web address", "kept as plain text"),
    "link-nowhere": Noted("Link to no web address, nor to a place that came along", "kept as plain text"),
    "field": Noted("Field {0}", "its last result kept as plain text"),
    "field-bare": Noted("Field {0} without a result", "left out"),
    "field-formula": Noted("Formula written as a field", "kept as plain text"),
    "field-number": Noted("Number made by a field", "counted through the file, kept as plain text"),
    "button": Noted("Button that runs a program or leads elsewhere", "its words kept as plain text"),
    "control": Noted("Field of a form", "what was filled in kept as plain text"),
    # Tables made from the text
    "contents-stretch": Noted("Table of a stretch of the text alone", "lists all of it"),
    "contents-entry": Noted("Entry of contents with words of its own", "listed with those of its paragraph"),
    # Notes
    "note-content": Noted("List, picture or table in a note", "its words kept"),
    "note-picture": Noted("Picture in a note", "left out"),
    "note-sign": Noted("Note with a sign of its own", "counted as all others"),
    "note-twice": Noted("Second note of the same name", "left out"),
    # Data tables
    "nested-table": Noted("Data table inside a data table", "kept as plain text"),
    "layout-table": Noted("Table that lays out the page, with tables in it", "set as text, cell below cell"),
    "nested-table-html": Noted("Table in a data table", "left out"),
    "cell-spacing": Noted("Data table with space between its cells", "set without it"),
    "row-height": Noted("Data table with rows of a height that cuts words off", "so high at least"),
    "table-place": Noted("Data table, or row of one, placed freely on the page", "set where it stands in the text"),
    "table-style": Noted("Letters and paragraphs by the style of a data table ({0})", "set as those of cells, but for bold, italic and colour"),
    # Pages
    "head-lines": Noted("Head or foot of several lines", "joined into one"),
    "head-look": Noted("Head or foot with letters of a look of their own", "set in one style"),
    "head-long": Noted("Head or foot of more than 200 characters", "cut off behind these"),
    "head-picture": Noted("Second picture at heads and feet", "left out"),
    "columns": Noted("Other number of columns in the midst of a page", "set as in front of it"),
    "columns-unequal": Noted("Columns of unequal widths, or more than four", "set as wide as each other"),
    "section": Noted("Other margins or paper in the midst of a page", "set as in front of it"),
    "page-numbers": Noted("Page numbers in words or other scripts", "printed in figures"),
    "page-chapters": Noted("Page numbers with those of chapters in front", "printed alone"),
    "page-place": Noted("Text in the middle or at the foot of pages", "set from the top"),
    "line-numbers": Noted("Numbers beside lines", "left out"),
    "across-page": Noted("Words across the page, behind the text", "left out"),
    "page-frame": Noted("Lines around the page, or colour behind it", "left out"),
}  # fmt: skip
