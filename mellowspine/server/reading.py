"""Reading files from outside in a process of its own: bounded in time and memory, and ended at once when it is told to.

Whatever is wrong with a file, or with a library that reads it, the application and its rooms go on meanwhile.
"""

from __future__ import annotations

import gc
import resource
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.forkserver import ensure_running
from threading import BoundedSemaphore
from traceback import format_exc
from typing import NamedTuple

import mellowspine.core.formats.docx
import mellowspine.core.formats.html
import mellowspine.core.formats.markdown  # noqa: F401  (all of them are there when a file comes)
from mellowspine.core.formats import read, read_html
from mellowspine.core.formats.imported import FileRefused, Imported, Keep, Progress, unhurried
from mellowspine.core.formats.pictures import LONGEST_SIDE, Checked, NotAPicture, check
from mellowspine.core.formats.typeface_files import face_file
from mellowspine.core.pages.typefaces import FaceFile, Typefaces
from mellowspine.core.report.report import Report
from mellowspine.core.tables.settle import settle_all

from .rooms.document import new_id, updates_of

LONGEST = 300.0
"""Seconds that reading a file may take."""
LONGEST_PASTED = 60.0
"""Seconds that reading what a clipboard holds may take."""
LONGEST_PICTURE = 20.0
"""Seconds that looking at a picture or a typeface may take."""
MOST_MEMORY = 3 * 1024**3
"""Bytes that it may use, all that is loaded before included."""

_LOOKED = 0.1
"""Seconds between two looks at whether it is to go on, and between two words of how far it is."""

# One process that has all modules loaded already; each file is read by a copy of it.
_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload([__name__])


_PICTURES_AT_ONCE = BoundedSemaphore(2)
"""Each may take a quarter of a gigabyte for some seconds."""


def make_ready() -> None:
    """Has the process be there that reads what is pasted, so that the first who pastes waits no longer than others."""
    ensure_running()


class ReadFile(NamedTuple):
    """A file that has been read, and its text as updates of a shared document."""

    imported: Imported
    text: Sequence[bytes]


def read_apart(name: str, data: bytes, progress: Progress) -> ReadFile:
    """Reads a file as ``core.formats.read`` does, with its tables as they are printed.

    Raises FileRefused; and whatever ``progress`` raises, within a second.
    """
    found = _apart(_read, (name, data), progress, LONGEST, MOST_MEMORY)
    if isinstance(found, FileRefused):
        raise found
    assert isinstance(found, ReadFile)
    return found


def read_html_apart(text: str, report: Report, keep: Keep) -> Imported:
    """Reads what a clipboard holds as ``core.formats.read_html`` does, with new ids. Raises FileRefused.

    Of the report only its styles, labels and numbers are looked at.
    """
    bare = Report(report.title, (), report.styles, report.numbering, report.page, labels=report.labels)
    found = _apart(_read_html, (text, bare, keep), unhurried, LONGEST_PASTED, MOST_MEMORY)
    if isinstance(found, FileRefused):
        raise found
    assert isinstance(found, Imported)
    return found


def check_apart(data: bytes) -> Checked:
    """Looks at a picture that is put in by hand as ``core.formats.pictures.check`` does. Raises NotAPicture, and FileRefused if it takes too much."""
    with _PICTURES_AT_ONCE:
        found = _apart(_check, (data,), unhurried, LONGEST_PICTURE, MOST_MEMORY)
    if isinstance(found, NotAPicture):
        raise found
    assert isinstance(found, Checked)
    return found


def face_apart(data: bytes) -> FaceFile:
    """Looks at a typeface that is brought in as ``core.formats.typeface_files.face_file`` does. Raises FileRefused."""
    found = _apart(_face, (data,), unhurried, LONGEST_PICTURE, MOST_MEMORY)
    if isinstance(found, FileRefused):
        raise found
    assert isinstance(found, FaceFile)
    return found


def _apart(
    work: Callable[..., object], given: tuple[object, ...], progress: Progress, longest: float, memory: int
) -> object:
    """Has some work done in a process of its own, whose last argument is a progress; gives what it gives."""
    ours, theirs = _CONTEXT.Pipe(duplex=False)
    child = _CONTEXT.Process(target=_work, args=(theirs, work, given, memory), daemon=True)
    child.start()
    theirs.close()
    done, total = 0, 1
    end = time.monotonic() + longest
    try:
        while time.monotonic() < end:
            progress(done, total)
            if not ours.poll(_LOOKED):
                continue
            match ours.recv():
                case int(done), int(total):
                    pass
                case _Failed(words):
                    raise RuntimeError(words)
                case found:
                    return found
        raise FileRefused("The file takes too long to be read; bring it in by sections.")
    except (EOFError, MemoryError):
        raise FileRefused("The file takes more memory than there is for one; bring it in by sections.") from None
    finally:
        child.kill()
        child.join()
        child.close()
        ours.close()


# Below: in the process of its own.


class _Failed(NamedTuple):
    words: str


def _work(to: Connection, work: Callable[..., object], given: tuple[object, ...], memory: int) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    # What is made of a file lives until this process ends: looking for garbage in it finds none.
    gc.set_threshold(100_000, 50, 50)
    told = time.monotonic()

    def progress(done: int, total: int) -> None:
        nonlocal told
        if time.monotonic() - told >= _LOOKED:
            told = time.monotonic()
            to.send((done, total))

    result: object
    try:
        result = work(*given, progress)
    except MemoryError:
        return  # which the other side notices
    except Exception:
        result = _Failed(format_exc())  # logged by whoever waits for it
    to.send(result)


def _read(name: str, data: bytes, progress: Progress) -> object:
    try:
        imported = read(name, data, progress)
    except FileRefused as refusal:
        return refusal
    if imported.report.tables:
        imported = replace(imported, report=settle_all(imported.report, Typefaces())[0])
    return ReadFile(imported, updates_of(imported.report.blocks))


def _read_html(text: str, report: Report, keep: Keep, progress: Progress) -> object:
    try:
        return read_html(text, report, iter(new_id, ""), keep, progress)
    except FileRefused as refusal:
        return refusal


def _check(data: bytes, progress: Progress) -> object:
    try:
        return check(data, LONGEST_SIDE)
    except NotAPicture as fault:
        return fault


def _face(data: bytes, progress: Progress) -> object:
    try:
        return face_file(data)
    except FileRefused as refusal:
        return refusal
