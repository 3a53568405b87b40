"""Files as they come in, and the command line: an Office Open XML document of 1,000 pages, and how soon the command is there."""

from __future__ import annotations

import re
import subprocess
import sys
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from zipfile import ZipFile

import docx
from docx.document import Document
from docx.shared import RGBColor

import mellowspine.core.kinds  # noqa: F401  (makes the kinds of block known)
from bench.figures import seconds, show
from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.tables.settle import settle_all

WORDS = "The keeper writes down when the water rises, and shuts the gate at dusk; nobody else may turn the wheel. "
SAMPLES = Path(".venv/samples/docx")
"""Documents that tests are tried on (``tests/samples.sh``)."""
SECTIONS = 750
"""Of a heading, six paragraphs and a list, and a data table in each third."""


def document(sections: int) -> bytes:
    """A document whose words, paragraphs and cells look in many ways."""
    made = docx.Document()
    for number in range(sections):
        made.add_heading(f"Gate {number}", 1 + number % 3)
        for at in range(6):
            paragraph = made.add_paragraph(WORDS * 5)
            run = paragraph.add_run(WORDS)
            run.bold, run.italic, run.font.strike = at % 2 == 0, at % 3 == 0, at == 5
            run.font.superscript, run.font.color.rgb = at == 4, RGBColor(0x33, 0x26, 0x3B)
        for _ in range(3):
            made.add_paragraph(WORDS, "List Bullet")
        if number % 3 == 0:
            _table(made)
    saved = BytesIO()
    made.save(saved)
    return saved.getvalue()


def _table(made: Document) -> None:
    table = made.add_table(8, 4, "Light Grid Accent 1")
    for row in table.rows:
        for cell in row.cells:
            cell.text = "12.5 m"


def _agreeing() -> tuple[int, int]:
    """How many documents of the tests say how many pages they have (ISO/IEC 29500-1, 22.2.2.20), and of how many that is so here."""
    saying = agreeing = 0
    typefaces = Typefaces()
    for path in SAMPLES.rglob("*.docx"):
        with ZipFile(path) as package:
            said = package.read("docProps/app.xml") if "docProps/app.xml" in package.namelist() else b""
        if found := re.search(rb"<Pages>(\d+)</Pages>", said):
            saying += 1
            agreeing += len(paginate(read(path.name, path.read_bytes()).report, typefaces)) == int(found[1])
    return saying, agreeing


def _memory_of_reading(data: bytes) -> int:
    """The most memory that a process takes which reads a document, in MB: VmHWM, for ru_maxrss goes on from the process that started it."""
    with TemporaryDirectory() as folder:
        path = Path(folder, "ours.docx")
        path.write_bytes(data)
        code = (
            "import re, sys; from mellowspine.core.formats import read; "
            "read('ours.docx', open(sys.argv[1], 'rb').read()); "
            r"print(int(re.search(r'VmHWM:\s+(\d+)', open('/proc/self/status').read())[1]) // 1024)"
        )
        said = subprocess.run([sys.executable, "-c", code, str(path)], check=True, capture_output=True, text=True)
        return int(said.stdout)


def run() -> None:
    print("\nFiles")
    data = document(SECTIONS)
    report = read("bench.docx", data).report
    pages = len(paginate(report, Typefaces()))
    show(
        f"reads a .docx of {pages:,} pages, {len(data) // 1000:,} kB",
        f"{seconds(lambda: read('bench.docx', data), 3):.2f} s",
        "at most 5 s",
    )
    typefaces = Typefaces()
    settled, on = settle_all(report, typefaces)
    given = Written(settled, on, typefaces, {})
    show(
        f"writes {pages:,} pages as .docx", f"{seconds(lambda: WRITERS['.docx'].write(given), 3):.2f} s", "at most 8 s"
    )
    ours = WRITERS[".docx"].write(given)
    show(
        f"reads that .docx again, {len(ours) // 1000:,} kB",
        f"{seconds(lambda: read('ours.docx', ours), 3):.2f} s",
        "at most 6 s",
    )
    show("memory of a process that reads it", f"{_memory_of_reading(ours)} MB", "at most 600 MB")
    saying, agreeing = _agreeing()
    show("documents at hand that have as many pages as they say", f"{agreeing} of {saying}", "–")
    small = document(SECTIONS // 10)
    with TemporaryDirectory() as folder:
        source, target = Path(folder, "in.docx"), Path(folder, "out.pdf")
        source.write_bytes(small)

        def command(*said: str) -> None:
            subprocess.run([sys.executable, "-m", "mellowspine.cli", *said], check=True, capture_output=True)

        note = Path(folder, "note.md")
        note.write_text("# Gates\n\nThey close.\n")
        start = seconds(lambda: command("outline", str(note)), 5)
        show("the command says what a file of three words has for headings", f"{start:.2f} s", "at most 0.4 s")
        count = len(paginate(read("in.docx", small).report, Typefaces()))
        took = seconds(lambda: command("convert", str(source), str(target)), 3)
        show(
            f"converts {count} pages of .docx into PDF, a page, without its start",
            f"{1000 * (took - start) / count:.1f} ms",
            "at most 6 ms",
        )
