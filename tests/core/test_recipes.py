"""Recipes and forms: what may be set, what is refused, what is read of other versions."""

from __future__ import annotations

import json
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import (
    HERE,
    LevelLook,
    Recipe,
    changed,
    read_recipe,
    recipe_from_json,
    recipe_to_json,
    settings_of,
)
from mellowspine.core.tables.forms import FORMS, form_kept, form_of, formed, forms_for


class Changing(TestCase):
    def test_one_setting_of_one_level(self) -> None:
        recipe = changed(Recipe(), {("looks", "2", "size"): 9, ("leader",): "-", ("levels",): [1, 4]})
        self.assertEqual((recipe.look(2).size, recipe.look(1).size), (9, 11.0))
        self.assertEqual((recipe.leader, recipe.levels), ("-", (1, 4)))

    def test_what_cannot_be_used_is_refused_with_how_to_choose_another(self) -> None:
        for path, value, said in (
            (("leader",), "..", "choose a single character, or none"),
            (("leader_step",), 0, "choose 1.5 to 60 points"),
            (("levels",), [], "choose at least one"),
            (("levels",), [2, 1], "in their order"),
            (("levels",), [0], "levels of 1 to 9"),
            (("levels",), "12", "a list of figures"),
            (("columns",), 3, "choose one of 1, 2"),
            (("page_numbers",), "left", "choose one of edge, words, none"),
            (("title",), "two\nlines", "on one line"),
            (("title",), "x" * 201, "at most 200 characters"),
            (("looks", "2", "indent"), 9999, "choose 0 to 500 points"),
            (("looks", "2", "indent"), float("nan"), "choose 0 to 500 points"),
            (("looks", "2", "colour"), "red", "#rrggbb"),
            (("looks", "2", "font"), "x" * 61, "at most 60 characters"),
            (("looks", "0", "size"), 9, "no setting"),
            (("looks", "x", "size"), 9, "no setting"),
            (("colour",), "#000000", "no setting"),
            (("feeds",), {"note": 10}, "choose 1 to 9, or 0"),
            (("feeds",), {"no te": 1}, "cannot be listed"),
            (("feeds",), [1], "a level for each style"),
            (("section",), "a b", "choose a style or section of this report"),
        ):
            with self.subTest(path=path, value=value), self.assertRaises(SettingError) as refused:
                changed(Recipe(), {path: value})
            self.assertIn(said, str(refused.exception))

    @given(st.sampled_from(sorted(settings_of(Recipe()))), st.recursive(
        st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=4),
        lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=3), inner, max_size=2),
    ))  # fmt: skip
    def test_no_value_of_json_does_more_than_be_refused(self, path, value) -> None:
        try:
            recipe = changed(Recipe(), {path: value})
        except SettingError:
            return
        self.assertEqual(recipe_from_json(json.loads(json.dumps(recipe_to_json(recipe)))), recipe)


class Kept(TestCase):
    def test_the_first_version_had_one_face_and_spacing_for_all_levels(self) -> None:
        look = {"indent": 4.0, "size": 9.0, "bold": True, "space_before": 1.0}
        kept = recipe_from_json(
            {"title": "In it", "levels": [1], "font": "Caladea", "line_spacing": 2.0, "looks": [look]}
        )
        self.assertEqual(kept.look(1), LevelLook(indent=4, font="Caladea", size=9, bold=True, line_spacing=2.0))
        self.assertEqual((kept.look(9).font, kept.kind, kept.levels), ("Caladea", "contents", (1,)))

    def test_of_a_newer_version_is_kept_what_is_known_and_can_be_used(self) -> None:
        kept = recipe_from_json(
            {"version": 9, "leader": "-", "columns": 5, "glow": True, "looks": [{"size": 8, "glow": 1}]}
        )
        self.assertEqual((kept.leader, kept.columns, kept.look(1).size), ("-", 1, 8))

    def test_what_somebody_wrote_is_refused_where_it_cannot_be_read_whole(self) -> None:
        for data, said in (
            ([], "an object"),
            ({"version": 3}, "The recipe is of version 3, and only those up to 2 can be read; save it in that form."),
            ({"version": True and "new"}, "version new"),
            ({"glow": 1}, "no setting “glow”"),
            ({"looks": [{"glow": 1}]}, "no setting “looks 1 glow”"),
        ):
            with self.subTest(data=data), self.assertRaises(SettingError) as refused:
                read_recipe(data)
            self.assertIn(said, str(refused.exception))

    def test_a_recipe_that_was_written_is_read(self) -> None:
        recipe = changed(Recipe(), {("feeds",): {"note": 2}, ("section",): HERE, ("looks", "1", "italic"): True})
        self.assertEqual(read_recipe(json.loads(json.dumps(recipe_to_json(recipe)))), recipe)


class Forms(TestCase):
    def test_there_are_eight_or_more_and_no_two_look_alike(self) -> None:
        made = [formed(Recipe(), form) for form in forms_for("contents")]
        self.assertGreaterEqual(len(made), 8)
        for recipe in made:
            self.assertEqual(made.count(recipe), 1)

    def test_a_form_leaves_what_the_table_lists_and_is_called(self) -> None:
        mine = changed(Recipe(), {("title",): "What is where", ("levels",): [1, 2, 5], ("feeds",): {"note": 2}})
        there = formed(mine, FORMS["ruled"])
        self.assertEqual((there.title, there.levels, there.feeds), ("What is where", (1, 2, 5), {"note": 2}))

    @given(st.lists(st.sampled_from([form.key for form in forms_for("contents")]), min_size=1, max_size=4))
    def test_the_form_chosen_last_is_as_if_it_had_been_chosen_first(self, keys: list[str]) -> None:
        recipe = Recipe()
        for key in keys:
            recipe = formed(recipe, FORMS[key])
        self.assertEqual(recipe, formed(Recipe(), FORMS[keys[-1]]))

    def test_a_recipe_kept_as_a_form_makes_another_table_alike_but_for_its_section(self) -> None:
        mine = changed(
            Recipe(), {("title",): "Mine", ("section",): "h7", ("looks", "3", "size"): 8, ("levels",): [2, 3]}
        )
        form = form_of(mine, "own-1", "Mine")
        kept = form_kept("own-1", "Mine", json.loads(json.dumps([[*one] for one in form.settings.items()])))
        self.assertEqual(formed(Recipe(), kept), changed(mine, {("section",): ""}))

    def test_of_a_form_kept_long_ago_what_cannot_be_used_is_left_out(self) -> None:
        form = form_kept("own-1", "Old", [[["leader"], "-"], [["glow"], 1], [["columns"], 7]])
        self.assertEqual(formed(Recipe(), form), changed(Recipe(), {("leader",): "-"}))
