"""``python -m bench``: how fast and how large, printed side by side. Nothing is asserted: machines differ.

``core`` measures pagination and PDF; ``pages`` how that grows with the pages, in parts and with heads and feet; ``others`` sets 50 pages of the same text with reportlab and weasyprint in the same run;
``styles`` changes styles and numbers of 1,000 pages; ``looks`` finds headings made by hand in as many, and checks them up;
``tables`` keeps tables of 3,000 lines level and changes their recipe; ``workspace`` opens the manual in Chromium and types.
``places`` moves a thousand figures and three thousand references, ``marks`` two thousand citations and five thousand index
marks; ``clipboard`` pastes a hundred pages, finds and replaces; ``files`` reads a document of 1,000 pages and starts the command; ``sections`` moves fifty pages;
``happened`` asks what happened over 10,000 updates; ``hostile`` takes texts that are as bad as texts can be.
Without arguments, all of them. At the end stands what is over its target.
"""

from __future__ import annotations

import argparse
import gc

from bench import (
    clipboard,
    core,
    files,
    happened,
    hostile,
    looks,
    marks,
    others,
    pages,
    places,
    sections,
    styles,
    tables,
    workspace,
)
from bench.figures import show_over
from mellowspine.server.config.settings import COLLECTED_AFTER

PARTS = {
    "core": core.run,
    "pages": pages.run,
    "others": others.run,
    "styles": styles.run,
    "looks": looks.run,
    "tables": tables.run,
    "places": places.run,
    "marks": marks.run,
    "clipboard": clipboard.run,
    "files": files.run,
    "sections": sections.run,
    "happened": happened.run,
    "workspace": workspace.run,
    "hostile": hostile.run,
}

gc.set_threshold(COLLECTED_AFTER)  # as the server does
parser = argparse.ArgumentParser(prog="bench", description=__doc__)
parser.add_argument("part", nargs="*", help=", ".join(PARTS))
for name in parser.parse_args().part or PARTS:
    PARTS[name]()
show_over()
