"""The tables of an open report: recipes and issued lines, as the core has them and as rows."""

from __future__ import annotations

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.utils import timezone

from mellowspine.core.report.recipes import recipe_to_json
from mellowspine.core.report.tables import Issued, line_to_json
from mellowspine.core.tables.kinds import table_kind
from mellowspine.server.accounts.people import shown_name
from mellowspine.server.shelf.models import IssuedTable, Report
from mellowspine.server.shelf.reports import issued_of


class Tables:
    """Lives in the thread of its room."""

    def __init__(self, report: Report) -> None:
        self._report = report
        self._rows = {row.key: row for row in report.tables.select_related("issued_by")}
        self.issued: Mapping[str, Issued] = {key: issued_of(row) for key, row in self._rows.items()}
        """By key of the table; a mapping of its own after each change."""

    def issuances(self) -> dict[str, dict[str, str | None]]:
        """When each table was brought up to date last, and by whom."""
        return {
            key: {
                "issuedAt": row.issued_at.isoformat() if row.issued_at else None,
                "issuedBy": shown_name(row.issued_by) if row.issued_by else None,
            }
            for key, row in self._rows.items()
        }

    def make_missing(self, placed: Mapping[str, str]) -> list[str]:
        """Gives a recipe to each table that has none: placed by hand, undo or paste. Returns which these were.

        ``placed``: kind of each table in the text, by key.
        """
        missing = [key for key in placed if key not in self._rows]
        for key in missing:
            recipe = recipe_to_json(table_kind(placed[key]).recipe)
            self._rows[key], _ = IssuedTable.objects.get_or_create(
                report=self._report, key=key, defaults={"recipe": recipe}
            )
            self.issued = {**self.issued, key: issued_of(self._rows[key])}
        return missing

    def copy(self, renamed: Mapping[str, str]) -> None:
        """A second copy of a placed table has the recipe and lines of the first, and is a table of its own.

        ``renamed``: new key → old key.
        """
        for new, old in renamed.items():
            if old in self._rows:
                row = self._rows[old]
                self._rows[new] = IssuedTable.objects.create(report=self._report, key=new, recipe=row.recipe, lines=row.lines,
                                                             issued_at=row.issued_at, issued_by=row.issued_by)  # fmt: skip
                self.issued = {**self.issued, new: self.issued[old]}

    def issue(self, key: str, issued: Issued, person: User | None) -> None:
        """Keeps a table as it was just brought up to date by somebody."""
        row = self._rows[key]
        row.lines = [line_to_json(line) for line in issued.lines]
        row.issued_at, row.issued_by = timezone.now(), person
        row.save()
        self.issued = {**self.issued, key: issued}

    def keep_counts(self, behind: Mapping[str, int]) -> None:
        """Stores what the shelf shows: how many lines each placed table is behind, by key; others are not placed."""
        for key, row in self._rows.items():
            state = {"behind": behind.get(key, 0), "placed": key in behind}
            if any(getattr(row, name) != value for name, value in state.items()):
                IssuedTable.objects.filter(pk=row.pk).update(**state)
                for name, value in state.items():
                    setattr(row, name, value)
