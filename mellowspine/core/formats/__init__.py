"""Open formats. Each module reads bytes into a report, writes a report into bytes, or both.

``read`` chooses the module by the file's name, ``WRITERS`` has one by ending; ``docs/formats.md`` says what each carries.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from pathlib import PurePath

from ..pages.typefaces import lacking
from ..report.blocks import MOST_CHARACTERS, DataTable
from ..structure.outline import paragraphs
from . import docx, markdown, markdown_out, pdf, text
from .imported import FileRefused, Imported, Note, Progress, Reader, refuse_too_many, unhurried
from .parted import part_long
from .walk import Format

READERS: Mapping[str, Reader] = {
    ".docx": docx.read,
    ".md": markdown.read,
    ".markdown": markdown.read,
    ".txt": text.read,
}

WRITERS: Mapping[str, Format] = {
    ".pdf": Format(pdf.write, "application/pdf"),
    ".md": Format(markdown_out.write, "text/markdown; charset=utf-8", pictures_beside=True),
    ".txt": Format(text.write, "text/plain; charset=utf-8"),
}

LARGEST_FILE = 100 * 1024 * 1024
"""Largest file that is read, in bytes."""


def read(
    name: str, data: bytes, progress: Progress = unhurried, pictures: Mapping[str, bytes] | None = None
) -> Imported:
    """Reads a file by the ending of its name. Raises FileRefused with one sentence that says what to do.

    ``pictures``: the files beside it, by name, for formats whose pictures are files of their own.
    """
    reader = READERS.get(PurePath(name).suffix.lower())
    if reader is None:
        raise FileRefused(
            "Files of this kind cannot be read; save it as Office Open XML (.docx), Markdown (.md) or plain text (.txt)."
        )
    if not data:
        raise FileRefused("The file is empty; choose the file again, or save it once more in the program it is from.")
    if len(data) > LARGEST_FILE:
        raise FileRefused(
            "The file is larger than 100 MB; make its pictures smaller, or bring it in section by section."
        )
    found = reader(data, PurePath(name).stem, progress, pictures or {})
    blocks, long = part_long(found.report.blocks)
    if long:
        note = Note(f"Paragraphs of more than {MOST_CHARACTERS:,} characters: parted into several", long)
        found = replace(found, report=replace(found.report, blocks=blocks), notes=(*found.notes, note))
    refuse_too_many(sum(len(one.rows) if isinstance(one, DataTable) else 1 for one in blocks))
    if boxes := lacking(paragraph.text for paragraph in paragraphs(found.report)):
        first = ", ".join(f"{character} U+{ord(character):04X}" for character, _ in boxes.most_common(5))
        note = Note(f"Characters that no typeface here has ({first}): printed as empty boxes", boxes.total())
        found = replace(found, notes=(*found.notes, note))
    return found
