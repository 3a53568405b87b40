"""Headings that were made by hand, grouped by look and by rules; and what else was typed that the report makes by itself."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from mellowspine.core.structure.by_hand import Found, find_by_hand
from mellowspine.core.structure.marking import Marked, assigned

from .round import Follower, Of, Round
from .shown import ListOf, Single


class LeftoversShown(NamedTuple):
    """The first paragraph of each list of contents that was typed, and of each row of empty paragraphs."""

    contents: tuple[str, ...]
    rows: tuple[str, ...]


def _found(now: Round, before: Of | None) -> Found:
    """Headings made by hand, and what else was."""
    return find_by_hand(now.given.report, before and before.value)


def _looks(now: Round, before: Of | None) -> list[Marked]:
    """What looks like headings and is not marked as such, and what rules ask for."""
    found: Found = now["found"]
    aside = now.given.set_aside
    marked = [_without(one, aside) if aside else one for one in assigned(found, now.given.rules)]
    return [one for one in marked if one.members or one.key.startswith("rule-")]


def _looks_from(now: Round) -> tuple[Any, ...]:
    found: Found = now["found"]
    rules = now.given.rules
    # Rules may take any paragraph; without them, only what was found counts.
    return found.proposals, rules, now.given.set_aside, found.seen if rules else None


def _without(one: Marked, aside: Mapping[str, Any]) -> Marked:
    """A look without the paragraphs that somebody said are to stay as they are."""
    return one._replace(members=tuple(id for id in one.members if f"by-hand {id}" not in aside))


def _leftovers(now: Round, before: Of | None) -> LeftoversShown:
    found: Found = now["found"]
    return LeftoversShown(
        tuple(one.title or one.lines[0] for one in found.contents), tuple(row.ids[0] for row in found.rows)
    )


FOLLOWERS = (
    Follower("found", _found),
    Follower("looks", _looks, ListOf(Marked), looks_at=_looks_from),
    Follower("leftovers", _leftovers, Single(LeftoversShown, LeftoversShown((), ()))),
)
