"""Rules: which paragraphs get which style, told by their traits.

Where a paragraph is what two rules ask for, the narrower one has it, whatever the order in which they were thought of
(common practice, no source): a rule that asks for bold would else swallow what another would find as bold italic.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from ..report.blocks import ALIGNMENTS
from ..report.elements import number, one_of, short
from ..report.styles import StyleSheet
from .traits import Traits, in_words

MOST_RULES = 200


class RuleError(ValueError):
    """A rule cannot be used; the message is a sentence for the person."""


class Trait(NamedTuple):
    """One thing that a rule can ask for: how a value that anybody may have given is read, how to choose another, and what
    a paragraph has."""

    read: Callable[[Any], Any]
    how: str
    of: Callable[[Traits], Any]


def _switch(value: Any) -> bool | None:
    return value if isinstance(value, bool) else None


def _depth(value: Any) -> int | bool | None:
    if isinstance(value, bool):
        return value
    return value if isinstance(value, int) and 1 <= value <= 9 else None


_YES_NO = "choose true or false"

TRAITS: Mapping[str, Trait] = {
    "bold": Trait(_switch, _YES_NO, lambda it: it.face.bold),
    "italic": Trait(_switch, _YES_NO, lambda it: it.face.italic),
    "underline": Trait(_switch, _YES_NO, lambda it: it.face.underline),
    "capitals": Trait(_switch, _YES_NO, lambda it: it.face.capitals),
    "size": Trait(number(1, 400), "choose 1 to 400 points", lambda it: it.face.size),
    "font": Trait(short(64), "write the name of a typeface", lambda it: it.face.font),
    "colour": Trait(short(7), "write it as #rrggbb", lambda it: it.face.colour),
    "align": Trait(one_of(*ALIGNMENTS), f"choose one of {', '.join(ALIGNMENTS)}", lambda it: it.face.align),
    "number": Trait(
        _depth,
        "choose true, false, or how many figures it has",
        lambda it: it.typed.depth if it.typed else False,
    ),
    "tab": Trait(_switch, _YES_NO, lambda it: it.tab),
    "short": Trait(_switch, _YES_NO, lambda it: it.short),
    "full_stop": Trait(_switch, _YES_NO, lambda it: it.full_stop),
    "style": Trait(short(64), "write the id of a style", lambda it: it.style),
}
"""What a rule can ask for, by name."""


@dataclass(frozen=True, slots=True)
class LookRule:
    """Paragraphs with all traits of ``wants`` get the style; with None they are held, and stay as they are."""

    name: str
    style: str | None
    wants: Mapping[str, Any] = field(hash=False)

    def matches(self, traits: Traits) -> bool:
        return all(_is(TRAITS[name].of(traits), wanted) for name, wanted in self.wants.items())


def _is(has: Any, wanted: Any) -> bool:
    if wanted is True and not isinstance(has, bool):  # any number
        return bool(has)
    return has is wanted if isinstance(wanted, bool) else bool(has == wanted)


def read_rule(given: object, styles: StyleSheet) -> LookRule:
    """A rule as somebody gives it: ``{"name", "level" or "style", "wants"}``; without a name it is called by what it asks.

    Raises RuleError for what cannot be used.
    """
    if not isinstance(given, Mapping):
        raise RuleError("A rule is an object with “name”, “wants” and “level” or “style”; write it so.")
    name = " ".join(str(given.get("name") or "").split())[:80] or "without a name"
    wants = given.get("wants")
    if not isinstance(wants, Mapping) or not wants:
        raise RuleError(
            f"The rule “{name}” asks for nothing, so it would take every paragraph; say what they have in common."
        )
    read = {}
    for trait, value in wants.items():
        if trait not in TRAITS:
            raise RuleError(f"The rule “{name}” asks for “{str(trait)[:40]}”; it can ask for {', '.join(TRAITS)}.")
        found = TRAITS[trait].read(value)
        if found is None:
            raise RuleError(
                f"The rule “{name}” asks for {trait.replace('_', ' ')} “{str(value)[:40]}”; {TRAITS[trait].how}."
            )
        read[trait] = found
    return LookRule(name if given.get("name") else in_words(read, styles), _style(given, name, styles), read)


def _style(given: Mapping[Any, Any], name: str, styles: StyleSheet) -> str | None:
    style, level = given.get("style"), given.get("level")
    if isinstance(level, int) and not isinstance(level, bool):
        if level not in styles.levels.values():
            raise RuleError(f"The rule “{name}” is for level {level}, of which no style is a heading; choose another.")
        return styles.heading(level).id
    if style is None and level is None:
        return None
    if not isinstance(style, str) or style not in styles:
        raise RuleError(f"The rule “{name}” names a style that is not in the report; choose one that is.")
    return style


def rule_to_json(rule: LookRule) -> dict[str, Any]:
    return {"name": rule.name, "style": rule.style, "wants": dict(rule.wants)}


def look_rules_from_json(kept: Iterable[Any], styles: StyleSheet) -> tuple[LookRule, ...]:
    """Rules as they were kept; one whose style is gone holds its paragraphs as they are, what is none is left out."""
    return tuple(
        LookRule(one["name"], next((id for id in styles if id == one.get("style")), None), one["wants"])
        for one in kept
        if isinstance(one, Mapping) and isinstance(one.get("name"), str) and isinstance(one.get("wants"), Mapping)
    )


def check_rules(rules: Sequence[LookRule]) -> None:
    """Raises RuleError where two rules ask for the same, or there are too many."""
    if len(rules) > MOST_RULES:
        raise RuleError(f"These are {len(rules)} rules; use at most {MOST_RULES}.")
    seen: dict[frozenset[tuple[str, Any]], LookRule] = {}
    for rule in rules:
        key = frozenset(rule.wants.items())
        if key in seen:
            raise RuleError(
                f"The rules “{seen[key].name}” and “{rule.name}” ask for the same; change one of them, or take it away."
            )
        seen[key] = rule


def narrowest_first(rules: Iterable[LookRule]) -> list[LookRule]:
    """Rules in the order in which they are tried: those that ask for more come first."""
    return sorted(rules, key=lambda rule: (-len(rule.wants), -sum(value is not True for value in rule.wants.values())))


def given_to(rules: Sequence[LookRule], traits: Iterable[tuple[str, Traits]]) -> list[tuple[str, LookRule]]:
    """The paragraphs (id, traits) that rules take, each with the narrowest rule that does."""
    order = narrowest_first(rules)
    tried: dict[Any, LookRule | None] = {}
    found = []
    for id, its in traits:
        # All that a rule can ask for; many paragraphs share it.
        key = (its.face, its.style, its.typed.depth if its.typed else 0, its.tab, its.full_stop, its.short)
        if key not in tried:
            tried[key] = next((rule for rule in order if rule.matches(its)), None)
        rule = tried[key]
        if rule is not None:
            found.append((id, rule))
    return found
