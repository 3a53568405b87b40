"""Finding words in a whole report, and putting others in their place: a plan, whatever is looked for.

RE2 matches in linear time, whatever a pattern says. References and formulas are no words: nothing that is found reaches over one.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Iterator, Mapping
from functools import lru_cache
from typing import Literal, NamedTuple

import re2

from ..report.blocks import INLINE_OBJECT, Marks, Paragraph
from ..report.elements import Element, Words, element_of
from ..report.formulas import FORMULA
from ..report.plan import Cut, Plan
from ..report.properties import SettingError
from ..report.report import Report
from ..report.styles import Style
from .citations import ALIKE
from .outline import paragraphs

AROUND = 40
"""Characters of a paragraph that are shown in front of what was found, and behind it."""
LONGEST = 500
"""Characters of what is looked for, and of what is put in its place."""

Formatting = Literal["", "bold", "italic", "underline", "link"]
_BETWEEN = re.compile(f"[{INLINE_OBJECT}{FORMULA}]")


class Wanted(NamedTuple):
    """What is looked for. ``capitals``: as they are written; ``whole``: words that are no part of others; ``accents``: letters with
    any; ``pattern``: the words are a pattern of RE2; ``headings``, ``style`` and ``formatting``: in such alone."""

    words: str
    capitals: bool = False
    whole: bool = False
    accents: bool = False
    pattern: bool = False
    headings: bool = False
    style: str = ""
    formatting: Formatting = ""


class Hit(NamedTuple):
    """Words of a paragraph from ``start`` to before ``end``, and those around them. ``section``: the id of the heading under
    which they stand, nothing in front of all; ``instead``: what would stand in their place."""

    paragraph: str
    start: int
    end: int
    words: str
    before: str
    after: str
    section: str
    instead: str = ""


def find(report: Report, wanted: Wanted, instead: str | None = None) -> Iterator[Hit]:
    """Where something stands, in reading order. ``instead`` is what would be put in its place; groups of a pattern are named in
    it by ``\\1`` to ``\\9``.

    Raises SettingError for a pattern that cannot be read.
    """
    pattern = pattern_of(wanted)
    if pattern is None:
        return
    levels, section = report.styles.levels, ""
    holds = _sieve(wanted)
    for paragraph in paragraphs(report):
        is_heading = paragraph.style in levels
        if is_heading:
            section = paragraph.id
        if (wanted.headings and not is_heading) or (wanted.style and paragraph.style != wanted.style):
            continue
        text = paragraph.text
        if not text or (holds and holds not in (text if wanted.capitals else text.casefold())):
            continue
        for at, match in _matches(pattern, text):
            start, end = at + match.start(), at + match.end()
            if start == end or (wanted.whole and (_in_word(text, start) or _in_word(text, end))):
                continue
            if wanted.formatting and not _is_so(
                paragraph, start, end, wanted.formatting, report.styles[paragraph.style]
            ):
                continue
            put = "" if instead is None else _put(match, instead) if wanted.pattern else instead
            yield Hit(paragraph.id, start, end, match[0], *_around(text, start, end), section, put)


def _around(text: str, start: int, end: int) -> tuple[str, str]:
    """The words in front of a stretch and behind it, as many as are shown."""
    before, after = (_BETWEEN.sub("…", one) for one in (text[max(0, start - AROUND) : start], text[end : end + AROUND]))
    if start > AROUND:
        before = "…" + before.split(" ", 1)[-1]
    if end + AROUND < len(text):
        after = after.rsplit(" ", 1)[0] + "…"
    return before, after


def _matches(pattern: re2.Pattern, text: str) -> Iterator[tuple[int, re2.Match]]:
    """What is found between the references and formulas in a text, with where that stretch begins."""
    at = 0
    for part in _BETWEEN.split(text):
        for match in pattern.finditer(part):
            yield at, match
        at += len(part) + 1


def _sieve(wanted: Wanted) -> str:
    """The longest word of what is looked for, where paragraphs without it need not be looked at more closely."""
    if wanted.pattern or wanted.accents:
        return ""
    longest = max(re.findall(r"[A-Za-z0-9]+", wanted.words), key=len, default="")
    return longest if wanted.capitals else longest.casefold()


def replacement(
    report: Report, wanted: Wanted, instead: str, places: Collection[tuple[str, int]] | None = None
) -> tuple[Plan, list[Hit]]:
    """The plan that puts other words in the place of what is found: everywhere, or at ``places`` (paragraph and start) alone.

    The new words have the formatting and the marks of the first that they replace. Raises SettingError.
    """
    hits = [hit for hit in find(report, wanted, instead) if places is None or (hit.paragraph, hit.start) in places]
    inside = {hit.paragraph for hit in hits}
    words = {one.id: element_of(one).children for one in paragraphs(report) if one.id in inside}
    steps = [
        Cut(hit.paragraph, hit.start, hit.words, _formatted(hit.instead, words[hit.paragraph], hit.start))
        for hit in reversed(hits)  # so that those in front stay where they are
    ]
    return tuple(steps), hits


def _formatted(instead: str, children: Collection[Element | Words], start: int) -> tuple[Words, ...]:
    at = 0
    for child in children:
        length = len(child.text) if isinstance(child, Words) else 1
        if isinstance(child, Words) and at <= start < at + length:
            return (Words(instead, child.attributes),) if instead else ()
        at += length
    return (Words(instead),) if instead else ()


class ChangedLine(NamedTuple):
    """A line of a table that prints words that change. ``is_own``: it has words of its own, which stay as they are."""

    table: str
    title: str
    before: str
    after: str
    is_own: bool = False


def changed_lines(report: Report, hits: Collection[Hit]) -> list[ChangedLine]:
    """The lines of tables that say otherwise once words are replaced, and own words of lines that hold what is replaced."""
    inside = {hit.paragraph for hit in hits}
    texts = {one.id: one.text for one in paragraphs(report) if one.id in inside}
    after: dict[str, str] = {}
    for hit in sorted(hits, key=lambda hit: -hit.start):
        text = after.get(hit.paragraph, texts.get(hit.paragraph, ""))
        after[hit.paragraph] = text[: hit.start] + hit.instead + text[hit.end :]
    replaced = {hit.words.casefold() for hit in hits}
    found = []
    for key, issued in report.tables.items():
        title = issued.recipe.title
        for line in issued.lines:
            own = issued.own.get(line.source)
            if own and own.words and any(words in own.words.casefold() for words in replaced):
                found.append(ChangedLine(key, title, own.words, own.words, True))
            elif not own and line.source in after:
                before, now = (" ".join(one[line.source].split()) for one in (texts, after))
                if before != now:
                    found.append(ChangedLine(key, title, before, now))
    return found


def _in_word(text: str, at: int) -> bool:
    return 0 < at < len(text) and all(one.isalnum() or one == "_" for one in text[at - 1 : at + 1])


def _is_so(paragraph: Paragraph, start: int, end: int, formatting: Formatting, style: Style) -> bool:
    """Whether all characters of a stretch are formatted so, by themselves or by their style."""
    at = 0
    for run in paragraph.runs:
        if at < end and at + len(run.text) > start and not _has(run.marks, formatting, style):
            return False
        at += len(run.text)
    return True


def _has(marks: Marks, formatting: Formatting, style: Style) -> bool:
    match formatting:
        case "bold":
            return style.bold if marks.bold is None else marks.bold
        case "italic":
            return style.italic if marks.italic is None else marks.italic
        case "underline":
            return style.underline or marks.underline
        case "link":
            return marks.link is not None
    return True


def _put(match: re2.Match, instead: str) -> str:
    try:
        return str(match.expand(instead))
    except (re2.error, IndexError):
        raise SettingError(
            f"“{instead[:80]}” names a group that the pattern has not; use \\1 for its first pair of brackets."
        ) from None


_OPTIONS: Mapping[bool, re2.Options] = {True: re2.Options(), False: re2.Options()}
for _capitals, _options in _OPTIONS.items():
    _options.log_errors = False
    _options.case_sensitive = _capitals


def pattern_of(wanted: Wanted) -> re2.Pattern | None:
    """What is looked for as a pattern; None if that is nothing. Raises SettingError for what is none."""
    if not wanted.words.strip() or len(wanted.words) > LONGEST:
        return None
    try:
        return _compiled(wanted.words, wanted.capitals, wanted.accents, wanted.pattern)
    except re2.error as error:
        said = error.args[0] if error.args else ""
        said = said.decode(errors="replace") if isinstance(said, bytes) else str(said)
        raise SettingError(
            f"This pattern cannot be read ({said}); change it, or look for the words as they stand."
        ) from None


@lru_cache(maxsize=64)
def _compiled(words: str, capitals: bool, accents: bool, is_pattern: bool) -> re2.Pattern:
    said = words if is_pattern else "".join(_of_letter(one, accents) for one in words)
    return re2.compile(said, _OPTIONS[capitals])


def _of_letter(letter: str, accents: bool) -> str:
    """What stands for a letter: a space for any, quotes and hyphens for those that look like them."""
    if letter.isspace():
        return r"[\s\x{a0}\x{202f}]"
    if letter in ALIKE:
        return ALIKE[letter]
    if not accents:
        return str(re2.escape(letter))
    plain = unicodedata.normalize("NFD", letter)[0]
    return f"[{plain}{_accented().get(plain, '')}]\\pM*" if plain.isalpha() else str(re2.escape(letter))


@lru_cache(maxsize=1)
def _accented() -> Mapping[str, str]:
    """By letter those that are it with an accent (Unicode, canonical decomposition)."""
    found: dict[str, str] = {}
    for code in range(0xC0, 0x2000):
        decomposed = unicodedata.normalize("NFD", chr(code))
        if len(decomposed) > 1 and all(unicodedata.combining(one) for one in decomposed[1:]):
            found[decomposed[0]] = found.get(decomposed[0], "") + chr(code)
    return found
