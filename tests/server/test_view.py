"""What is sent after an edit: together with what a browser has, it must give what the room has."""

from __future__ import annotations

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any
from unittest import TestCase

from django.db import connection
from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, Run
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Line
from mellowspine.server.api.described import typescript as settings_in_typescript
from mellowspine.server.rooms.derived import following_writes
from mellowspine.server.rooms.described import typescript
from mellowspine.server.rooms.followers import changes
from mellowspine.server.rooms.followers.pages import shown_edges
from mellowspine.server.rooms.followers.round import Known, Of
from mellowspine.server.rooms.followers.shown import splice
from mellowspine.server.rooms.followers.tables import TableShown
from mellowspine.server.typescript import Module

from .base import ServerCase

lines = st.lists(
    st.builds(Line, st.sampled_from("abc"), st.just(1), st.just(""), st.sampled_from("xy"), st.just(("1",)))
)
differences = st.lists(st.tuples(st.sampled_from(["new", "page"]), st.sampled_from("ab")).map(list))
tables = st.dictionaries(
    st.sampled_from("tu"), st.builds(TableShown, pages=st.integers(1, 3), lines=lines, differences=differences)
)
views = st.fixed_dictionaries(
    {
        "labels": st.lists(st.sampled_from("12")),
        "headings": st.lists(st.tuples(st.sampled_from("ab"), st.just(1), st.just(""), st.just("x"))),
        "headings_on": st.lists(st.integers(1, 3)),
        "edges": st.lists(st.tuples(st.sampled_from("ab"), st.integers(0, 2))),
        "markers": st.dictionaries(st.sampled_from("abc"), st.sampled_from("•1")),
        "tables": tables,
    }
).map(lambda view: {name: Of(Report("r"), value) for name, value in view.items()})


def spliced(old: list[Any], change: dict[str, Any] | None) -> list[Any]:
    if change is None:
        return old
    return [*old[: change["at"]], *change["insert"], *old[change["at"] + change["remove"] :]]


def as_sent(view: Known) -> dict[str, Any]:
    """A view as a browser has it that came in just now."""
    return applied({"tables": {}}, json.loads(json.dumps(changes({}, view))))


def applied(old: dict[str, Any], changes: dict[str, Any]) -> dict[str, Any]:
    """What a browser does with changes."""
    new: dict[str, Any] = {
        name: spliced(old.get(name, []), changes.get(name)) for name in ("labels", "headings", "headings_on", "edges")
    }
    markers = old.get("markers", {}) | changes.get("markers", {})
    new["markers"] = {key: value for key, value in markers.items() if value is not None}
    new["tables"] = dict(old["tables"])
    for key, change in changes.get("tables", {}).items():
        if change is None:
            del new["tables"][key]
            continue
        before = old["tables"].get(key, {})
        new["tables"][key] = {
            "pages": change.get("pages", before.get("pages", [1])),
            "lines": spliced(before.get("lines", []), change.get("lines")),
            "differences": spliced(before.get("differences", []), change.get("differences")),
        }
    return new


class Changes(TestCase):
    @given(views, views)
    def test_a_browser_that_takes_in_the_changes_has_the_new_view(self, old: Known, new: Known) -> None:
        sent = json.loads(json.dumps(changes(old, new)))
        self.assertEqual(applied(as_sent(old), sent), as_sent(new))

    @given(views)
    def test_nothing_is_sent_where_nothing_differs(self, view: Known) -> None:
        self.assertEqual(changes(view, view), {})

    @given(st.lists(st.integers(0, 2)), st.lists(st.integers(0, 2)))
    def test_a_splice_turns_one_list_into_the_other(self, old: list[int], new: list[int]) -> None:
        self.assertEqual(spliced(old, splice(old, new)), new)

    def test_edges_count_as_javascript_does(self) -> None:
        """ECMAScript, 6.1.4: strings are sequences of 16-bit units, so that a face takes two."""
        face = "😀"
        report = Report("r", (Paragraph("a", runs=(Run(f"{face} gate " * 3000),)),))
        pages = paginate(report, Typefaces())
        characters = [edge.offset for edge in pages.edges()]
        self.assertGreater(len(characters), 2)
        text = report.blocks[0].text  # type: ignore[union-attr]
        self.assertEqual(shown_edges(pages), [("a", at + text[:at].count(face)) for at in characters])


class Described(TestCase):
    def test_browsers_have_the_types_that_the_followers_describe(self) -> None:
        kept = (Path(__file__).parents[2] / "web/src/workspace/view/described.ts").read_text()
        self.assertEqual(kept, typescript(), "Run: make types")

    def test_browsers_have_the_ranges_and_choices_of_the_core(self) -> None:
        kept = (Path(__file__).parents[2] / "web/src/api/settings.ts").read_text()
        self.assertEqual(kept, settings_in_typescript(), "Run: make types")

    def test_what_does_not_cross_is_told_where_it_is_described(self) -> None:
        for hint in (object, complex, tuple[Line, str], Mapping[str, Line]):
            with self.assertRaisesRegex(TypeError, "There is no"):
                Module("").reader(hint)


class Disk(ServerCase):
    def test_only_what_follows_from_the_text_does_not_wait_for_the_disk(self) -> None:
        """SQLite, PRAGMA synchronous: 1 is NORMAL, 2 is FULL."""

        def level() -> int:
            with connection.cursor() as cursor:
                return cursor.execute("PRAGMA synchronous").fetchone()[0]

        self.assertEqual(level(), 2)
        with self.assertRaises(ValueError), following_writes():
            self.assertEqual(level(), 1)
            raise ValueError
        self.assertEqual(level(), 2)
