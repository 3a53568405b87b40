"""Reading files from outside in a process of its own: bounded in time and memory, and ended at once when it is told to.

Whatever is wrong with a file, or with a library that reads it, the application and its rooms go on meanwhile.
"""

from __future__ import annotations

import resource
import time
from dataclasses import replace
from multiprocessing import get_context
from multiprocessing.connection import Connection
from traceback import format_exc

from mellowspine.core.formats import read
from mellowspine.core.formats.imported import FileRefused, Imported, Progress
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.tables.settle import settle_all

LONGEST = 300.0
"""Seconds that reading a file may take."""
MOST_MEMORY = 3 * 1024**3
"""Bytes that it may use, all that is loaded before included."""

_LOOKED = 0.1
"""Seconds between two looks at whether it is to go on, and between two words of how far it is."""

# One process that has all modules loaded already; each file is read by a copy of it.
_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload([__name__])


def read_apart(name: str, data: bytes, progress: Progress) -> Imported:
    """Reads a file as ``core.formats.read`` does, with its tables as they are printed.

    Raises FileRefused; and whatever ``progress`` raises, within a second.
    """
    ours, theirs = _CONTEXT.Pipe(duplex=False)
    child = _CONTEXT.Process(target=_read, args=(theirs, name, data, MOST_MEMORY), daemon=True)
    child.start()
    theirs.close()
    done, total = 0, 1
    end = time.monotonic() + LONGEST
    try:
        while time.monotonic() < end:
            progress(done, total)
            if not ours.poll(_LOOKED):
                continue
            match ours.recv():
                case int(done), int(total):
                    pass
                case Imported() as imported:
                    return imported
                case FileRefused() as refusal:
                    raise refusal
                case str(failure):
                    raise RuntimeError(failure)
        raise FileRefused("The file takes too long to be read; bring it in by sections.")
    except (EOFError, MemoryError):
        raise FileRefused("The file takes more memory than there is for one; bring it in by sections.") from None
    finally:
        child.kill()
        child.join()
        ours.close()


def _read(to: Connection, name: str, data: bytes, most_memory: int) -> None:
    """In the process of its own."""
    resource.setrlimit(resource.RLIMIT_AS, (most_memory, most_memory))
    told = time.monotonic()

    def progress(done: int, total: int) -> None:
        nonlocal told
        if time.monotonic() - told >= _LOOKED:
            told = time.monotonic()
            to.send((done, total))

    result: object
    try:
        imported = read(name, data, progress)
        if imported.report.tables:
            imported = replace(imported, report=settle_all(imported.report, Typefaces())[0])
        result = imported
    except FileRefused as refusal:
        result = refusal
    except MemoryError:
        return  # which the other side notices
    except Exception:
        result = format_exc()  # logged by whoever waits for it
    to.send(result)
