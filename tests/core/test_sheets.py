"""Styles based on each other, sheets, and what is changed about them."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.report.labels import Label
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.sheet import (
    Sheet,
    add_label,
    add_style,
    change_style,
    changes,
    delete_style,
    settings_of,
    sheet_of,
    undone,
)
from mellowspine.core.report.styles import StyleSheet, default_styles, resolved

STYLES = default_styles()


class Bounds(TestCase):
    def test_styles_based_on_each_other_however_deep(self) -> None:
        chain = [{"id": "body", "name": "Body", "role": "body"}]
        chain += [
            {"id": f"s{n}", "name": f"S{n}", "based_on": f"s{n - 1}" if n else "body", "size": 12.0}
            for n in range(3000)
        ]
        for kept in (chain, [*reversed(chain)]):
            self.assertEqual(resolved(kept)["s2999"].size, 12.0)
        with self.assertRaisesRegex(SettingError, "circle"):
            resolved([*chain, {"id": "a", "name": "A", "based_on": "b"}, {"id": "b", "name": "B", "based_on": "a"}])

    def test_the_only_style_of_a_level_keeps_it(self) -> None:
        for level in (None, 3):
            with self.assertRaisesRegex(SettingError, "only style of level 2"):
                change_style(default_styles(), "heading-2", {"outline_level": level})
        more, made = add_style(default_styles(), "Other", "heading-2")
        self.assertEqual(change_style(more, made.id, {"outline_level": 3})[made.id].outline_level, 3)

    def test_no_more_than_there_is_room_for(self) -> None:
        styles = default_styles()
        many = StyleSheet([*styles.values(), *(replace(styles["body"], id=f"s{n}", role=None) for n in range(1000))])
        with self.assertRaisesRegex(SettingError, "room for 1000 styles"):
            add_style(many, "One more", "body")
        with self.assertRaisesRegex(SettingError, "room for 100 labels"):
            add_label({f"l{n}": Label(f"l{n}", f"L{n}") for n in range(100)}, "One more")


class Inheritance(TestCase):
    def test_what_a_style_does_not_say_follows_its_base(self) -> None:
        styles = change_style(STYLES, "body", {"font": "Liberation Serif", "size": 12.0})
        self.assertEqual((styles["quotation"].font, styles["quotation"].size), ("Liberation Serif", 12.0))
        self.assertEqual(styles["heading-1"].size, STYLES["heading-1"].size)

    def test_through_styles_in_between(self) -> None:
        styles, aside = add_style(STYLES, "Aside", "quotation")
        styles = change_style(styles, "body", {"size": 9.0})
        self.assertEqual((styles[aside.id].size, styles[aside.id].italic), (9.0, True))

    def test_what_is_said_again_as_the_base_has_it_stays_when_that_changes(self) -> None:
        styles = change_style(STYLES, "quotation", {"size": 11.0})
        self.assertEqual(change_style(styles, "body", {"size": 12.0})["quotation"].size, 11.0)
        styles = change_style(styles, "quotation", {}, ["size"])
        self.assertEqual(change_style(styles, "body", {"size": 12.0})["quotation"].size, 12.0)

    def test_another_base_leaves_the_look(self) -> None:
        for base in ("heading-1", None):
            styles = change_style(STYLES, "caption", {"based_on": base})
            look = replace(styles["caption"], based_on=None, declared=frozenset())
            self.assertEqual(look, replace(STYLES["caption"], based_on=None, declared=frozenset()))
        styles = change_style(
            change_style(STYLES, "caption", {"based_on": "heading-1"}), "heading-1", {"font": "Caladea"}
        )
        self.assertEqual(styles["caption"].font, "Caladea")

    def test_a_circle_is_refused_by_name(self) -> None:
        styles = change_style(STYLES, "quotation", {"based_on": "caption"})
        with self.assertRaisesRegex(SettingError, "“Caption” and “Quotation” would be based on each other in a circle"):
            change_style(styles, "caption", {"based_on": "quotation"})
        with self.assertRaisesRegex(SettingError, "circle"):
            change_style(styles, "caption", {"based_on": "caption"})

    def test_a_style_whose_base_is_gone_keeps_its_look(self) -> None:
        styles, _ = add_style(STYLES, "Aside", "quotation")
        styles, further = add_style(styles, "Further", "aside")
        styles = change_style(styles, "aside", {"size": 10.0})
        left = delete_style(styles, "aside", "body")
        self.assertEqual((left[further.id].size, left[further.id].italic), (10.0, True))
        self.assertEqual(left[further.id].based_on, "quotation")


class Changing(TestCase):
    def test_what_cannot_be_used_is_refused_with_a_sentence_and_changes_nothing(self) -> None:
        wrong = (
            {"size": 0}, {"size": "large"}, {"size": float("nan")}, {"bold": "yes"}, {"bold": None}, {"font": ""}, {"font": "a{b"}, {"font": 3},
            {"colour": "red"}, {"colour": 3}, {"align": "middle"}, {"outline_level": 10}, {"outline_level": "2"},
            {"name": ""}, {"name": "  "}, {"name": "x" * 300}, {"name": "Caption"}, {"name": " caption "}, {"size": None}, {"size": True}, {"outline_level": 2.5},
            {"based_on": "gone"}, {"based_on": 3}, {"next": "gone"},
        )  # fmt: skip
        for values in wrong:
            with self.assertRaises(SettingError, msg=str(values)) as caught:
                change_style(STYLES, "quotation", values)
            self.assertRegex(str(caught.exception), r"^[A-Z“].+\.$")

    def test_a_style_is_made_like_another_and_stands_behind_it(self) -> None:
        styles, made = add_style(STYLES, "Pull quote!", "quotation")
        self.assertEqual((made.id, made.based_on, made.italic, made.role), ("pull-quote", "quotation", True, None))
        self.assertEqual([*styles].index("pull-quote"), [*styles].index("quotation") + 1)
        self.assertEqual(add_style(styles, "Pull-quote", "body")[1].id, "pull-quote-2")

    def test_deleting(self) -> None:
        styles, _ = add_style(STYLES, "Aside", "body")
        styles = change_style(styles, "caption", {"next": "aside"})
        self.assertEqual(delete_style(styles, "aside", "quotation")["caption"].next, "quotation")
        for id, instead in (
            ("aside", "aside"),
            ("body", "aside"),
            ("heading-2", "body"),
            ("gone", "body"),
            ("aside", "gone"),
        ):
            with self.assertRaises(SettingError):
                delete_style(styles, id, instead)
        styles, _ = add_style(styles, "Main part", "heading-1")
        self.assertEqual(delete_style(styles, "heading-1", "main-part").heading(1).id, "main-part")


_ids = st.sampled_from(["body", "quotation", "caption", "heading-1", "heading-2"])
_settings = st.fixed_dictionaries(
    {},
    optional={
        "size": st.sampled_from([9.0, 12.0]), "italic": st.booleans(), "name": st.sampled_from(["One", "Two"]),
        "based_on": st.none() | _ids, "outline_level": st.none() | st.integers(1, 3),
    },
)  # fmt: skip


def _changed(styles: StyleSheet, steps: list[tuple[str, dict[str, object]]]) -> StyleSheet:
    for id, values in steps:
        with suppress(SettingError):
            styles = change_style(styles, id, values)
    return styles


class Sheets(TestCase):
    @given(st.lists(st.tuples(_ids, _settings), max_size=6))
    def test_a_sheet_is_its_settings(self, steps) -> None:
        sheet = Sheet(_changed(STYLES, steps), SCHEMES["legal"], PageSetup(top=50.0))
        self.assertEqual(sheet_of(settings_of(sheet)), sheet)

    @given(st.lists(st.tuples(_ids, _settings), max_size=6))
    def test_taking_back_a_change_gives_the_sheet_before_it(self, steps) -> None:
        sheet = Sheet(STYLES)
        now = Sheet(_changed(STYLES, steps), SCHEMES["decimal"], PageSetup(width=400.0))
        self.assertEqual(undone(now, changes(sheet, now)), (sheet, []))

    def test_what_others_changed_meanwhile_stays(self) -> None:
        before = Sheet(STYLES)
        mine = replace(before, styles=change_style(STYLES, "caption", {"size": 12.0, "bold": True}))
        theirs = replace(mine, styles=change_style(mine.styles, "caption", {"size": 14.0, "italic": True}))
        back, left = undone(theirs, changes(before, mine))
        caption = back.styles["caption"]
        self.assertEqual((caption.size, caption.bold, caption.italic), (14.0, False, True))
        self.assertEqual([change.path for change in left], [("styles", "caption", "size")])

    def test_a_deleted_style_comes_back_where_it_was(self) -> None:
        styles, _ = add_style(STYLES, "Aside", "quotation")
        before = Sheet(styles)
        after = Sheet(delete_style(styles, "aside", "body"))
        back, left = undone(after, changes(before, after))
        self.assertEqual((back, [*back.styles], left), (before, [*styles], []))


class PageSetups(TestCase):
    def test_pages_that_cannot_be_are_refused_with_a_sentence(self) -> None:
        wrong = ({"width": 10.0}, {"top": -1.0}, {"left": 300.0, "right": 290.0}, {"left_pages": "side"}, {"top": None},
                 {"mirrored": "no"}, {"head_left": "{page"}, {"foot_right": "{section 10}"}, {"head_middle": "a\nb"}, {"columns": 0},
                 {"columns": 4, "column_gap": 120.0}, {"height": "A4"})  # fmt: skip
        for values in wrong:
            with self.assertRaises(SettingError, msg=str(values)) as caught:
                PageSetup(**values)
            self.assertRegex(str(caught.exception), r"^[A-Z“].+\.$")
