"""What the check-up finds, and what of it somebody said is to stay."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from mellowspine.core.checkup.findings import CHECKS, Checked, Finding, State, check
from mellowspine.core.structure.repeated import Repeated, repeated

from ..kept import Kept
from .round import Follower, Of, Round, SetAside
from .shown import ListOf, MapOf


class CheckShown(NamedTuple):
    """What a kind of finding is called, why it matters, and what the button for its remedy says; empty if nothing mends it."""

    name: str
    why: str
    label: str


_CHECKS = {one.kind: CheckShown(one.name, one.why, one.label) for one in CHECKS.values()}


def _repeated(now: Round, before: Of | None) -> Repeated:
    return repeated(now.given.report, (before.report, before.value) if before else None)


def _checked(now: Round, before: Of | None) -> Checked:
    causes = now.given.causes
    kept = tuple((one.id, one.text) for one in now.given.kept)
    state = State(
        now.given.report,
        now["outline"],
        now["pages"],
        now["found"],
        now["repeated"],
        causes.removed,
        causes.renamed,
        kept,
    )
    return check(state, before and before.value)


def _findings(now: Round, before: Of | None) -> Sequence[Finding]:
    """By kind, and then in reading order."""
    checked: Checked = now["checked"]
    return checked.findings


def _checks(now: Round, before: Of | None) -> Mapping[str, CheckShown]:
    """The kinds of finding."""
    return _CHECKS


def _kept(now: Round, before: Of | None) -> Sequence[Kept]:
    """Words that were written in what another had taken out, and wait for somebody to deal with them."""
    return now.given.kept


def _set_aside(now: Round, before: Of | None) -> dict[str, SetAside]:
    """By id of the finding."""
    aside = now.given.set_aside
    return {finding.id: aside[finding.id] for finding in now["findings"] if finding.id in aside} if aside else {}


FOLLOWERS = (
    Follower("repeated", _repeated),
    Follower("checked", _checked),
    Follower("findings", _findings, ListOf(Finding)),
    Follower("checks", _checks, MapOf(CheckShown)),
    Follower("kept", _kept, ListOf(Kept)),
    Follower("set_aside", _set_aside, MapOf(SetAside)),
)
