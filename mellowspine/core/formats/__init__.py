"""Open formats. Each module reads bytes into a report, writes a report into bytes, or both.

``read`` chooses the module by the file's name, ``WRITERS`` has one by ending; ``docs/formats.md`` says what each carries.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from importlib import import_module
from pathlib import PurePath

from ..pages.formulas import lacking_in_formula
from ..pages.typefaces import lacking
from ..report.blocks import DataTable
from ..report.report import Report
from ..structure.outline import paragraphs
from .imported import FileRefused, Imported, Keep, Note, Progress, Reader, refuse_too_many, unhurried
from .parted import part_long
from .walk import Format, Written


def _reader(module: str) -> Reader:
    """That of a module beside this one, which is loaded when it is wanted: commands over one file begin sooner so."""

    def read(data: bytes, name: str, progress: Progress, pictures: Mapping[str, bytes]) -> Imported:
        found: Imported = import_module(f".{module}", __name__).read(data, name, progress, pictures)
        return found

    return read


READERS: Mapping[str, Reader] = {
    ".docx": _reader("docx"),
    ".md": _reader("markdown"),
    ".markdown": _reader("markdown"),
    ".html": _reader("html"),
    ".htm": _reader("html"),
    ".txt": _reader("text"),
}


def _writer(module: str) -> Callable[[Written], bytes]:
    """Likewise; and who reads a file has no room for a library that writes another kind (``server/reading.py``)."""

    def write(given: Written) -> bytes:
        made: bytes = import_module(f".{module}", __name__).write(given)
        return made

    return write


WRITERS: Mapping[str, Format] = {
    ".pdf": Format(_writer("pdf"), "application/pdf"),
    ".docx": Format(
        _writer("docx_out"), "application/vnd.openxmlformats-officedocument.wordprocessingml.document", goes_on=True
    ),
    ".md": Format(_writer("markdown_out"), "text/markdown; charset=utf-8", goes_on=True, pictures_beside=True),
    ".html": Format(_writer("html"), "text/html; charset=utf-8"),
    ".txt": Format(_writer("text"), "text/plain; charset=utf-8"),
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
            "Files of this kind cannot be read; save it as Office Open XML (.docx), Markdown (.md), HTML (.html) or plain text (.txt)."
        )
    if not data:
        raise FileRefused("The file is empty; choose the file again, or save it once more in the program it is from.")
    if len(data) > LARGEST_FILE:
        raise FileRefused(
            "The file is larger than 100 MB; make its pictures smaller, or bring it in section by section."
        )
    return _bounded(reader(data, PurePath(name).stem, progress, pictures or {}))


def read_html(
    text: str, report: Report, ids: Iterator[str], keep: Keep = "structure", progress: Progress = unhurried
) -> Imported:
    """What a clipboard holds as blocks for a report, in its styles and with ``ids``. Raises FileRefused, as ``read``.

    Numbers that stand in front of headings go where the report counts them by itself.
    """
    from . import html

    counted = {level for level, number in enumerate(report.numbering.levels, 1) if number.on}
    return _bounded(html.read_into(text, report, ids, keep, counted, progress))


def _bounded(found: Imported) -> Imported:
    """What was read, as much of it in one paragraph as there is room for, and with what cannot be printed noted.

    Raises FileRefused for more than a report can have.
    """
    blocks, long = part_long(found.report.blocks)
    if long:
        found = replace(
            found, report=replace(found.report, blocks=blocks), notes=(*found.notes, Note("long-paragraph", long))
        )
    refuse_too_many(sum(len(one.rows) if isinstance(one, DataTable) else 1 for one in blocks))
    runs = [run for paragraph in paragraphs(found.report) for run in paragraph.runs]
    boxes = lacking(run.text for run in runs if not run.marks.formula)
    for run in runs:
        if run.marks.formula:
            boxes.update(lacking_in_formula(run.marks.formula))
    if boxes:
        first = ", ".join(f"{character} U+{ord(character):04X}" for character, _ in boxes.most_common(5))
        found = replace(found, notes=(*found.notes, Note("no-face", boxes.total(), (first,))))
    return found
