"""Plain text. Blank lines part paragraphs; without any, each line is a paragraph. A form feed is a page break."""

from __future__ import annotations

from ..report.blocks import Block, PageBreak, Paragraph, Run
from ..report.report import Report
from .imported import FileRefused, Imported, Progress, new_ids


def decode(data: bytes) -> str:
    """UTF-8, UTF-16 with a byte order mark, or else Windows-1252. Raises FileRefused for what is no text."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return _normal(data.decode("utf-16"))
        except UnicodeDecodeError:
            raise FileRefused(
                "The text is cut off in the middle of a character; save the file again as UTF-8."
            ) from None
    if b"\0" in data:
        raise FileRefused("The file is not plain text; choose the program's own “save as text”, or a .docx file.")
    try:
        return _normal(data.decode("utf-8-sig"))
    except UnicodeDecodeError:
        return _normal(data.decode("cp1252", errors="replace"))


def _normal(text: str) -> str:
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    return "".join(c for c in text if c in "\n\t\f" or (c >= " " and c != "\x7f"))


def read(data: bytes, name: str, progress: Progress) -> Imported:
    text = decode(data)
    ids = new_ids()
    blocks: list[Block] = []
    sheets = text.split("\f")
    for number, sheet in enumerate(sheets):
        if number:
            blocks.append(PageBreak(next(ids)))
        parted = "\n\n" in sheet.strip("\n")
        parts = sheet.strip("\n").split("\n\n") if parted else sheet.strip("\n").split("\n")
        for done, part in enumerate(parts):
            if done % 500 == 0:
                progress(number * len(parts) + done, len(sheets) * len(parts))
            words = " ".join(line.strip(" ") for line in part.split("\n")) if parted else part
            if words.strip():
                blocks.append(Paragraph(next(ids), runs=(Run(words.strip(" ")),)))
    return Imported(Report(title=name, blocks=tuple(blocks) or (Paragraph(next(ids)),)), {})
