"""``mellow check``: what is wrong with the structure of a file."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from collections.abc import Sequence
from dataclasses import replace
from itertools import count, groupby
from pathlib import Path

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from mellowspine.core.checkup.findings import CHECKS, check, mended, state_of
from mellowspine.core.pages.typefaces import Typefaces

from .command import Command, Outcome, Unusable, in_json
from .shared import format_of, opened, write


def check_up(file: Path, kinds: Sequence[str], out: Path | None, as_json: bool) -> Outcome:
    """The findings of a file: all of them; or, once those of ``kinds`` are mended and the file is written to ``out``, those
    that are left."""
    if out is not None:
        format_of(out)
    imported = opened(file)
    typefaces = Typefaces()
    state = state_of(imported.report, typefaces)
    ids = (f"m{number:05}" for number in count(1))
    for kind in kinds:
        if kind not in CHECKS:
            raise Unusable(f"There is no kind of finding “{kind}”; choose among {', '.join(CHECKS)}.")
        after = mended(state, kind, ids, typefaces)
        if after is None:
            raise Unusable(f"Nothing mends “{kind}” by itself; see what it says, and mend it in the text.")
        state = after
    if out is not None:
        write(replace(imported, report=state.report), out, contents=False)
    findings = check(state).findings
    rows = [
        {"id": one.id, "kind": one.kind, "place": one.place, "text": one.text, "why": CHECKS[one.kind].why,
         "remedy": CHECKS[one.kind].remedy is not None}
        for one in findings
    ]  # fmt: skip
    code = 1 if findings else 0
    if as_json:
        return Outcome(in_json({"findings": rows}), code)
    lines = []
    for kind, group in groupby(findings, lambda finding: finding.kind):
        lines.append(f"{CHECKS[kind].name} ({kind}): {CHECKS[kind].why}")
        lines += [f"  {finding.text}" for finding in group]
    return Outcome("\n".join(lines) or "No findings.", code)


def _mend(given: Namespace) -> Outcome:
    """``--mend KIND … OUT``: what stands last is the file to write."""
    *kinds, out = given.mend or [None]
    if out is not None and not kinds:
        raise Unusable("--mend takes kinds of finding and then the file to write; name at least one kind.")
    return check_up(given.file, kinds, Path(out) if out else None, given.json)


def _arguments(parser: ArgumentParser) -> None:
    parser.add_argument(
        "--mend", nargs="+", metavar=("KIND", "OUT"), help="mend findings of these kinds, and write the file"
    )


COMMAND = Command(_mend, _arguments)
