"""A document that is being read: what the modules for its parts share."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Protocol

from docx.document import Document as File
from docx.opc.part import Part
from lxml.etree import _Element

from ...report.blocks import Block, Paragraph
from ..imported import Notes
from .own import Own
from .rest import Rest
from .styles import Styles
from .table_looks import CellWords, TableLooks


class Document(Protocol):
    file: File
    part: Part
    """The part that is being read: what is named in it is named by its own relationships."""
    body: _Element
    ids: Iterator[str]
    notes: Notes
    rest: Rest
    own: Own
    styles: Styles
    pictures: dict[str, bytes]
    in_line: set[str]
    """Pictures that stand in a line of their paragraph, by id: at the left or right as that is."""
    table_looks: TableLooks
    in_cell: CellWords
    """What the style of the table says of the words in the cell that is being read."""
    depth: int
    """In how many tables stands what is being read."""
    column_width: float
    """How wide lines are set, in points."""

    def block(self, element: _Element) -> list[Block]:
        """What a paragraph, a table or a file within the file becomes."""
        ...

    def paragraph(self, element: _Element) -> list[Block]: ...

    def is_free(self, id: str) -> bool:
        """Whether a name of the file can be the id of something, which it is from then on."""
        ...

    def empty_cell(self) -> Paragraph: ...
