"""The tables of an open report: recipes, issued lines and own words, as the core has them and as rows."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from mellowspine.core.report.recipes import Recipe, changed, recipe_from_json, recipe_to_json
from mellowspine.core.report.tables import Issued, line_to_json
from mellowspine.core.tables.behind import Difference
from mellowspine.core.tables.kinds import table_kind
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.shelf.models import IssuedTable, Membership, Report, TableChange
from mellowspine.server.shelf.reports import issued_of
from mellowspine.server.shelf.sheets import house_sheet

from .followers.round import Issuance

KEPT = 20
"""How many changes of a table can be taken back."""

ONE_CHANGE = 30
"""Seconds within which somebody who changes the same again goes on with the same change."""

TOLD = 200
"""How many lines a change is remembered with."""


class Tables:
    """Lives in the thread of its room."""

    def __init__(self, report: Report) -> None:
        self._report = report
        self._rows = {row.key: row for row in report.tables.select_related("issued_by")}
        self.issued: Mapping[str, Issued] = {key: issued_of(row) for key, row in self._rows.items()}
        """By key of the table; a mapping of its own after each change."""

    def issuances(self) -> dict[str, Issuance]:
        """When each table was brought up to date last, and by whom; and whether that is done by itself."""
        return {
            key: Issuance(
                row.issued_at.isoformat() if row.issued_at else None,
                shown_name(row.issued_by) if row.issued_by else None,
                row.keeps_level,
            )
            for key, row in self._rows.items()
        }

    def make_missing(self, placed: Mapping[str, tuple[str, User | None]]) -> list[str]:
        """Gives a recipe to each table that has none: placed by hand, undo or paste. Returns which these were.

        ``placed``: kind of each table in the text and who put it there, by key. One that was copied out of another report
        of theirs has the recipe and own words of that, if its key is that of one table alone.
        """
        missing = [key for key in placed if key not in self._rows]
        for key in missing:
            kind, person = placed[key]
            known = self._elsewhere(key, person)
            made = {"recipe": known.recipe, "own": known.own} if known else {
                "recipe": recipe_to_json(self._recipe(kind))
            }  # fmt: skip
            self._rows[key], _ = IssuedTable.objects.get_or_create(report=self._report, key=key, defaults=made)
            self._read(key)
        return missing

    def _recipe(self, kind: str) -> Recipe:
        """What a new table of a kind is made by: as the report's house sheet has it, if that says something of the kind."""
        usual = table_kind(kind).recipe
        named = Report.objects.filter(pk=self._report.pk).values_list("house_sheet", flat=True).first()
        house = house_sheet(named) if named else None
        if house is None or usual.kind not in house.recipes:
            return usual
        return changed(usual, house.recipes[usual.kind])

    @staticmethod
    def _elsewhere(key: str, person: User | None) -> IssuedTable | None:
        theirs = Membership.objects.filter(person=person).values("report")
        found = [*IssuedTable.objects.filter(key=key, report__in=theirs)[:2]] if person else []
        return found[0] if len(found) == 1 else None

    def copy(self, renamed: Mapping[str, str]) -> None:
        """A second copy of a placed table has all that the first has, and is a table of its own.

        ``renamed``: new key → old key.
        """
        for new, old in renamed.items():
            if old in self._rows:
                row = self._rows[old]
                same = {
                    name: getattr(row, name)
                    for name in ("recipe", "lines", "own", "keeps_level", "issued_at", "issued_by")
                }
                made = IssuedTable.objects.create(report=self._report, key=new, **same)
                TableChange.objects.bulk_create(
                    TableChange(table=made, person=one.person, at=one.at, what=one.what, lines=one.lines,
                                before=one.before, taken_back=one.taken_back)
                    for one in row.changes.select_related("person")
                )  # fmt: skip
                self._rows[new] = made
                self.issued = {**self.issued, new: self.issued[old]}

    def _read(self, key: str) -> None:
        self.issued = {**self.issued, key: issued_of(self._rows[key])}

    def follow(self, key: str, issued: Issued, person: User | None) -> None:
        """Keeps the lines of a table that came to be by itself: when it was placed, or since it keeps itself level."""
        self._store(key, issued, {"lines": _lines(issued), "issued_at": timezone.now(), "issued_by": person})

    def _store(
        self, key: str, issued: Issued, values: Mapping[str, Any], also: Callable[[], object] = lambda: None
    ) -> None:
        """Stores values of a table's row, and ``also`` something else. What is in memory changes only once all is stored."""
        row = self._rows[key]
        with transaction.atomic():
            also()
            IssuedTable.objects.filter(pk=row.pk).update(**values)
        for name, value in values.items():
            setattr(row, name, value)
        self.issued = {**self.issued, key: issued}

    def change(
        self,
        key: str,
        issued: Issued,
        person: User,
        what: str,
        lines: Sequence[Difference] = (),
        caught_up: bool = False,
        alone: bool = False,
    ) -> int:
        """Keeps a table as somebody just changed it; returns the number under which that can be taken back.

        ``lines``: those that differed and do no more, if it was ``caught_up``. ``alone``: it is no step of what the same person
        did just before, even if that was called the same.
        """
        row, before = self._rows[key], self.issued[key]
        last = row.changes.last()
        if (
            last
            and not (caught_up or alone)
            and (last.person, last.what, last.taken_back) == (person, what[:200], False)
            and last.before
            and _soon(last)
        ):
            # Step by step, as when an edge is moved by keys: all of it is one change.
            change = last
        else:
            told = [_difference_to_json(one) for one in lines[:TOLD]]
            change = TableChange(table=row, person=person, what=what[:200], lines=told, before=_issued_to_json(before))
        change.at = timezone.now()
        values: dict[str, Any] = {
            "recipe": _with_unknown(row.recipe, recipe_to_json(issued.recipe)),
            "lines": _lines(issued),
            "own": _own(issued),
        }
        if caught_up:
            values |= {"issued_at": timezone.now(), "issued_by": person}
        self._store(key, issued, values, change.save)
        old = row.changes.filter(before__isnull=False).order_by("-pk").values_list("pk", flat=True)[KEPT:]
        TableChange.objects.filter(pk__in=list(old)).update(before=None)
        return int(change.pk)

    def take_back(self, key: str, number: int, person: User) -> str | None:
        """Takes back the last change of a table, if it is this person's; says why not, otherwise."""
        row = self._rows[key]
        last = row.changes.filter(taken_back=False).last()
        if last is None or last.pk != number:
            who = f"{shown_name(last.person)} has" if last and last.person and last.person != person else "Somebody has"
            return f"{who} changed the table since; what was done before that stays."
        if last.person != person or last.before is None:
            return "Only who changed the table can take it back, and not for ever."
        last.taken_back = True
        kept = {name: last.before[name] for name in ("recipe", "lines", "own")}
        self._store(key, issued_of(IssuedTable(**kept)), kept, last.save)
        return None

    def keep_level(self, key: str, keeps_level: bool) -> None:
        self._store(key, self.issued[key], {"keeps_level": keeps_level})

    def kept_level(self) -> set[str]:
        """The tables that are brought up to date by themselves."""
        return {key for key, row in self._rows.items() if row.keeps_level}

    def store_counts(self, behind: Mapping[str, int]) -> None:
        """Stores what the shelf shows: how many lines each placed table is behind, by key; others are not placed."""
        for key, row in self._rows.items():
            state = {"behind": behind.get(key, 0), "placed": key in behind}
            if any(getattr(row, name) != value for name, value in state.items()):
                IssuedTable.objects.filter(pk=row.pk).update(**state)
                for name, value in state.items():
                    setattr(row, name, value)


def _soon(change: TableChange) -> bool:
    return timezone.now() - change.at < timedelta(seconds=ONE_CHANGE)


def _difference_to_json(one: Difference) -> list[Any]:
    return [one.kinds, one.issued and _words(one.issued), one.fresh and _words(one.fresh)]


def _words(line: Any) -> str:
    return f"{line.number} {line.text}".strip()[:200]


def _lines(issued: Issued) -> list[Any]:
    return [line_to_json(line) for line in issued.lines]


def _own(issued: Issued) -> dict[str, Any]:
    return {source: [*kept] for source, kept in issued.own.items()}


def _issued_to_json(issued: Issued) -> dict[str, Any]:
    return {"recipe": recipe_to_json(issued.recipe), "lines": _lines(issued), "own": _own(issued)}


def _with_unknown(kept: Mapping[str, Any], new: Mapping[str, Any]) -> dict[str, Any]:
    """A recipe as it is to be kept: with what a newer version of the application said in it and this one does not know."""
    unknown = kept.keys() - recipe_to_json(recipe_from_json(kept)).keys() - {"font", "line_spacing"}
    versions = [one for one in (kept.get("version"), new["version"]) if isinstance(one, int)]
    return {name: kept[name] for name in unknown} | {**new, "version": max(versions)}
