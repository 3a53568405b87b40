"""What files say that a report does not have, by kind: what it is, and what becomes of it, in words for people.

A reader names a kind each time it meets one (``imported.Notes``); nothing that somebody would see in the file goes without one.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple


class Noted(NamedTuple):
    """A kind of thing. ``{}`` in either half stands for which one it was, in the file's own words."""

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
    "long-paragraph": Noted("Paragraph of more than 100,000 characters", "parted into several"),
    "no-face": Noted("Character that no typeface here has ({})", "printed as an empty box"),
    "typeface": Noted("Typeface {}", "set in another of its kind"),
    "typeface-same-widths": Noted("Typeface {}", "set in one of the same widths"),
    "symbol": Noted("Symbol of a special font ({})", "left out"),
    "ruby": Noted("Words above other words", "kept in brackets behind these"),
    "inserted-file": Noted("File within the file", "left out"),
    "unknown": Noted("Something of an unknown kind ({})", "its words kept as plain text"),
    "raw-html": Noted("Raw HTML", "its words kept as plain text"),
    # Looks of words
    "struck": Noted("Struck-through letters", "kept without the line"),
    "capitals": Noted("Letters shown as capitals", "kept as they were typed"),
    "behind-words": Noted("Colour behind letters", "left out"),
    "raised": Noted("Raised or lowered letters", "kept as plain text"),
    "line-kind": Noted("Letters underlined by another than a single line", "underlined by a single one"),
    "around-words": Noted("Line around words", "left out"),
    "letter-effect": Noted("Letters with an outline, a shadow or a relief", "kept without it"),
    "letter-spacing": Noted("Letters set wider, closer or stretched", "set as usual"),
    "emphasis-mark": Noted("Dots above or below letters", "kept without them"),
    "right-to-left": Noted("Text from right to left", "set from left to right"),
    # Looks of paragraphs
    "around-paragraph": Noted("Lines around a paragraph", "left out"),
    "behind-paragraph": Noted("Colour behind a paragraph", "left out"),
    "right-indent": Noted("Indent of a paragraph on the right", "left out"),
    "frame": Noted("Paragraph in a frame of its own", "set among the others"),
    "turned-text": Noted("Text set upwards or downwards", "set from left to right"),
    "close-together": Noted("Paragraphs of one style without space between them", "set with it"),
    "rule": Noted("Rule across the page", "left out"),
    "toc-line": Noted("Line of a contents table made elsewhere", "kept as plain text"),
    "toc-line-html": Noted("Line of a contents table", "kept as plain text"),
    # Lists
    "list-figures": Noted("Numbers of a list in words or other scripts", "counted in figures"),
    "list-sign": Noted("Bullet of another kind ({})", "kept as a bullet of this report"),
    # Pictures
    "picture-outside": Noted("Picture outside the file", "its description or name kept as words"),
    "picture-elsewhere": Noted("Picture that is elsewhere ({})", "its description kept as plain text, not fetched"),
    "picture-absent": Noted("Picture that did not come along", "its description kept as plain text"),
    "picture-beside": Noted("Picture in a file of its own", "its description kept as plain text"),
    "picture-unknown": Noted("Picture in an unknown format", "its description or name kept as words"),
    "picture-damaged": Noted("Picture that is damaged", "its description or name kept as words"),
    "picture-large": Noted("Picture of more than 60 million pixels", "its description or name kept as words"),
    "picture-cropped": Noted("Picture of which a part is cut off", "shown whole"),
    "picture-turned": Noted("Picture that is turned or mirrored", "shown upright"),
    "picture-placed": Noted("Picture placed freely on the page", "set where its paragraph stands"),
    "picture-link": Noted("Link on a picture", "left out"),
    "counting-picture": Noted("Picture of a single point, by which readers are counted", "left out"),
    "chart": Noted("Chart", "left out; its title, names and values kept as a data table"),
    "chart-bare": Noted("Chart without values", "left out"),
    "diagram": Noted("Diagram", "its words kept as plain text"),
    "shape": Noted("Drawn shape", "left out"),
    "text-box": Noted("Text box", "kept as paragraphs"),
    "object": Noted("Embedded object", "shown as its picture"),
    "object-bare": Noted("Embedded object without a picture", "left out"),
    "formula": Noted("Formula", "kept as plain text"),
    # Links, fields, controls
    "link": Noted("Link to no web address", "kept as plain text"),
    "link-nowhere": Noted("Link to no web address, nor to a place that came along", "kept as plain text"),
    "field": Noted("Field {}", "its last result kept as plain text"),
    "field-bare": Noted("Field {} without a result", "left out"),
    "field-formula": Noted("Formula written as a field", "kept as plain text"),
    "field-number": Noted("Number made by a field", "counted once, kept as plain text"),
    "control": Noted("Field of a form", "what was filled in kept as plain text"),
    # Notes
    "note-content": Noted("List, picture or table in a note", "its words kept"),
    "note-picture": Noted("Picture in a note", "left out"),
    "note-twice": Noted("Second note of the same name", "left out"),
    # Data tables
    "nested-table": Noted("Data table inside a data table", "kept as plain text"),
    "nested-table-html": Noted("Table in a data table", "left out"),
    "cell-lines": Noted("Data table with lines of its own around cells", "ruled as all data tables"),
    "cell-colour": Noted("Data table with colour behind cells", "without the colour"),
    "cell-place": Noted("Data table with words in the middle or at the foot of cells", "set at the top"),
    "cell-margins": Noted("Data table with margins of its own in cells", "set with the usual ones"),
    "row-height": Noted("Data table with rows of a height of their own", "as high as what is in them"),
    "table-place": Noted("Data table that is indented, centred or placed freely", "set from the left"),
    "table-style": Noted("Data table with a style of its own ({})", "set as all data tables"),
    # Pages
    "head-or-foot": Noted("Header or footer", "left out; page numbers are printed at the foot"),
    "columns": Noted("Section in several columns", "set in one"),
    "section": Noted("Section with pages of its own", "set on the pages of the last one"),
    "page-numbers": Noted("Page numbers of a section that begin anew or in other figures", "counted on"),
    "line-numbers": Noted("Numbers beside lines", "left out"),
    "page-frame": Noted("Lines around the page, or colour behind it", "left out"),
}  # fmt: skip
