"""Citations in the words of a text: where an authority or a term stands, and what looks like a citation and is not marked.

How people cite is common practice, and differs from trade to trade: the patterns here have no source.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache
from typing import Any, Literal, NamedTuple, TypeVar

import re2

from ..report.authorities import OTHER
from ..report.blocks import Paragraph
from ..report.report import Report
from .outline import paragraphs

How = Literal["long", "short", "id"]

AROUND = 48
"""Characters that are shown in front of what was found and behind it."""


class FoundWords(NamedTuple):
    """Words of a paragraph from ``start`` to before ``end``, and those around them. ``how`` they cite: in full, by the short
    form, or by "id." or "ibid." behind one of these."""

    paragraph: str
    start: int
    end: int
    words: str
    before: str
    after: str
    how: How


ALIKE = {
    "'": "['’‘ʼ`´]", "’": "['’‘ʼ`´]", "‘": "['’‘ʼ`´]",
    '"': '["“”„«»]', "“": '["“”„«»]', "”": '["“”„«»]',
    "-": "[-‐‑–—]", "‐": "[-‐‑–—]", "‑": "[-‐‑–—]", "–": "[-‐‑–—]", "—": "[-‐‑–—]",
}  # fmt: skip
"""Characters that people take for each other."""

_ID = re.compile(r"(?<!\w)(?:[Ii]d\.|[Ii]bid\b\.?)")


_CATEGORIES = (
    ("cases", re.compile(r"\sv\.?\s")),
    ("statutes", re.compile(r"\bAct\b|§")),
    ("regulations", re.compile(r"\b(?:Regulations?|Order|Rules|Byelaws)\b")),
    ("standards", re.compile(r"\b(?:ISO|IEC|EN|BS|DIN|IEEE)\b")),
)
"""What words of a citation tell of its category; the first that fits."""


def likely_category(words: str) -> str:
    """The id of the category that words which cite something have most likely."""
    return next((category for category, pattern in _CATEGORIES if pattern.search(words)), OTHER)


@lru_cache(maxsize=256)
def pattern_of(words: str, any_case: bool) -> re.Pattern[str] | None:
    """Words with any space between them, and any of the characters that are taken for each other; None for no words."""
    parts = words.split()
    if not parts:
        return None
    said = [r"".join(ALIKE.get(one, re.escape(one)) for one in part) for part in parts]
    # Between a sign and its number there may be a space or none: "§9" and "§ 9".
    joined = said[0]
    for before, part, now in zip(parts, parts[1:], said[1:], strict=False):
        joined += (r"\s*" if before[-1] in "§¶" or part[0] in "§¶" else r"\s+") + now
    first = parts[0][0]
    begin = ALIKE.get(first, re.escape(first))
    rest = joined[len(begin) :]
    if not any_case and first.isalpha() and first.lower() != first.upper():
        begin = f"[{first.lower()}{first.upper()}]"  # at the start of a sentence, or not
    # What stands in front is looked at behind the first character: texts are searched for that one several times as fast.
    edge, close = (r"(?<!\w.)" if first.isalnum() else ""), (r"(?!\w)" if parts[-1][-1].isalnum() else "")
    return re.compile(begin + edge + rest + close, re.IGNORECASE if any_case else 0)


def find_words(
    report: Report, long: str, short: str = "", ids: bool = False, terms: Sequence[str] | None = None
) -> list[FoundWords]:
    """Everywhere that an authority is cited and not marked, in reading order.

    ``ids``: with "id." and "ibid." behind a place where it is, in the same paragraph or the next, and nothing else cited
    between. ``terms``: for the index, whatever the capitals, and what is found is not marked under these terms yet.
    """
    wanted = [
        (how, pattern, _rarest(words).lower())
        for how, words in (("long", long), ("short", short))
        if (pattern := pattern_of(words, terms is not None))
    ]
    found: list[FoundWords] = []
    before: _Hits | None = None
    for paragraph in paragraphs(report):
        text = paragraph.text
        lower = text.lower()
        hits = _hits(text, [(how, pattern) for how, pattern, part in wanted if part in lower])
        here = _outside(hits, _marked(paragraph, terms)) if hits else []
        if ids and ("id." in lower or "ibid" in lower):
            was_last = before is not None and _with_ids(*before, [], False)[1]
            here, _ = _with_ids(paragraph, hits, here, was_last)
        before = _Hits(paragraph, hits)
        found.extend(_found(paragraph, text, *one) for one in here)
    return found


def _rarest(words: str) -> str:
    """The part of some words that can be looked for as it is: the longest of them without signs."""
    return max(re.split(r"[^\w]+", words), key=len)


class _Hits(NamedTuple):
    paragraph: Paragraph
    hits: list[tuple[int, int, How]]


def _hits(text: str, wanted: Sequence[tuple[str, re.Pattern[str]]]) -> list[tuple[int, int, How]]:
    """Where the forms stand, the longest first where they overlap."""
    taken: list[tuple[int, int, How]] = []
    for how, pattern in wanted:
        found: list[tuple[int, int, How]] = [(*match.span(), how) for match in pattern.finditer(text)]  # type: ignore[misc]
        taken = sorted([*taken, *_outside(found, taken)])
    return taken


_Stretch = TypeVar("_Stretch", bound=tuple[Any, ...])
"""A stretch of a text: where it begins and ends, and whatever is known of it."""


def _outside(stretches: Iterable[_Stretch], others: Sequence[tuple[Any, ...]]) -> list[_Stretch]:
    """Those that have nothing in common with any of the others, which are in order and apart from each other."""
    starts = [other[0] for other in others]
    found = []
    for one in stretches:
        before = bisect_left(starts, one[1])  # those that begin before it ends
        if not before or others[before - 1][1] <= one[0]:
            found.append(one)
    return found


def _with_ids(
    paragraph: Paragraph, hits: list[tuple[int, int, How]], here: list[tuple[int, int, How]], was_last: bool
) -> tuple[list[tuple[int, int, How]], bool]:
    """What is found here and not marked, with "id." and "ibid."; and whether the last citation is one of these."""
    text = paragraph.text
    ours = [(start, end) for start, end, _ in hits]
    marked = _marked(paragraph)
    cited = [(start, end) for start, end in marked if not _ID.fullmatch(text[start:end].strip())]
    others = _outside([*((start, end) for start, end, _ in looks_cited(text)), *cited], ours)
    found = [*here]
    events = [*((start, end, "ours") for start, end in ours), *((start, end, "others") for start, end in others)]
    events += [(match.start(), match.end(), "id") for match in _ID.finditer(text)]
    for start, end, what in sorted(events):
        if what == "id":
            if was_last and _outside([(start, end)], marked):
                found.append((start, end, "id"))
        else:
            was_last = what == "ours"
    return sorted(found), was_last


def _marked(paragraph: Paragraph, terms: Sequence[str] | None = None) -> list[tuple[int, int]]:
    """The stretches of a paragraph that are marked as citations, or under some terms of the index."""
    found = []
    at = 0
    for run in paragraph.runs:
        marks = run.marks
        if (
            marks.citation
            if terms is None
            else marks.indexed and any(one.terms == (*terms,) for one in marks.indexed.entries)
        ):
            found.append((at, at + len(run.text)))
        at += len(run.text)
    return found


def _found(paragraph: Paragraph, text: str, start: int, end: int, how: How) -> FoundWords:
    before, after = text[max(0, start - AROUND) : start], text[end : end + AROUND]
    return FoundWords(paragraph.id, start, end, text[start:end], before, after, how)


# --- What looks like a citation ---

# A name ends somewhere: looking for one from each letter of an endless word would take the square of its length.
_NAME = r"(?:[A-Z][\w’'&-]{0,60}+\.?|&)"
_NAMES = rf"{_NAME}(?:\s+(?:(?:of|the|and|for|de|von)\s+){{0,2}}{_NAME}){{0,5}}"
_SECTION = r"(?:,?\s+(?:s{1,2}|sections?|reg|regs|regulations?|arts?|articles?|r|rules?|para|paras)\.?\s*\d+[A-Z]?(?:\(\w+\))*|,?\s*§{1,2}\s*\d+[A-Z]?(?:\(\w+\))*)"

_AT_SECTION = re.compile(_SECTION + r"\Z")
"""Which part of an act is cited, at the end of the words that cite it."""

_LOOKS: tuple[tuple[str, re.Pattern[str]], ...] = (
    ("cases", re.compile(rf"\b(?:In\s+re|Re|Ex\s+parte)\s+{_NAMES}(?:\s*\(\d{{4}}\))?")),
    ("cases", re.compile(rf"\b{_NAMES}\s+v\.?\s+{_NAMES}(?:\s*\(\d{{4}}\)|\s*\[\d{{4}}\]|,?\s+\d+\s+[A-Z][A-Za-z.]*\s+\d+)*")),
    ("statutes", re.compile(rf"\b{_NAMES}\s+Act(?:\s+of)?\s+\d{{4}}{_SECTION}?")),
    ("regulations", re.compile(rf"\b{_NAMES}\s+(?:Regulations?|Order|Rules|Byelaws)(?:\s+of)?\s+\d{{4}}{_SECTION}?")),
    ("statutes", re.compile(r"\b\d+\s+(?:[A-Z]\.){2,}\s*§{1,2}\s*\d+[A-Za-z]?(?:\(\w+\))*")),
    ("other", re.compile(r"\b(?:Decision|Ruling|Determination|Opinion|Notice)\s+(?:No\.?\s*)?[A-Z]{0,6}[-/ ]?\d+(?:[-/]\d+)*\b")),
    ("standards", re.compile(r"\b(?:ISO|IEC|EN|BS|DIN|ASTM|IEEE|ANSI|RFC|ITU)(?:[/ ](?:IEC|IEEE|EN|ISO|TR|TS)){0,2}\s?[A-Z]?\d+(?:[-.]\d+)*(?::\d{4})?")),
    ("statutes", re.compile(r"§{1,2}\s*\d+[A-Z]?(?:\(\w+\))*")),
)  # fmt: skip
"""The category that each would have, and how it looks; of those that overlap the first counts."""

_FRONT = re.compile(
    r"^(?:See|Again|In|As|[Tt]he|Under|By|And|But|Cf\.|Compare|With|From|On|Of|For|To|Also|That|This|When|Where|Since|If)\s+"
)


class LikelyCitation(NamedTuple):
    start: int
    end: int
    category: str


class CitationRule(NamedTuple):
    """A way to cite of somebody's own: words in which ``#`` stands for a number and ``*`` for any one word."""

    words: str
    category: str


def rules_from_json(kept: object) -> tuple[CitationRule, ...]:
    """Rules as they were kept; what cannot be used is left out."""
    given = kept if isinstance(kept, list) else []
    pairs = [one for one in given if isinstance(one, list) and len(one) == 2 and all(isinstance(s, str) for s in one)]
    return tuple(CitationRule(words[:200], category) for words, category in pairs if _of_rule(words[:200]))


_LETTER = r"\pL\pN\pM_"
"""What words are made of, for RE2, whose ``\\w`` knows ASCII alone."""
_QUIET = re2.Options()
_QUIET.log_errors = False


@lru_cache(maxsize=256)
def _of_rule(words: str) -> re2.Pattern | None:
    """The pattern of a rule; None for one that would take any word.

    RE2 matches in linear time whatever a rule says: of signs behind each other, each has many ways to share some digits.
    """
    parts = words.split()
    if not any(part.strip("#*") for part in parts):
        return None
    said = [
        "".join(
            {"#": r"\p{Nd}+", "*": rf"[{_LETTER}’'.&-]+"}.get(one, ALIKE.get(one, re2.escape(one)))
            for one in re.sub(r"\*+", "*", re.sub("#+", "#", part))
        )
        for part in parts
    ]
    return re2.compile(r"\s+".join(said), _QUIET)


def _by_rule(rule: CitationRule, text: str) -> Iterator[tuple[int, int]]:
    """Where a rule finds something that neither begins nor ends within a word."""
    for match in pattern.finditer(text) if (pattern := _of_rule(rule.words)) else ():
        start, end = match.span()
        if not (_in_word(text, start) or _in_word(text, end)):
            yield start, end


def _in_word(text: str, at: int) -> bool:
    """Whether the characters before and behind a place belong to one word."""
    return 0 < at < len(text) and all(one.isalnum() or one == "_" for one in text[at - 1 : at + 1])


def looks_cited(text: str, rules: Iterable[CitationRule] = ()) -> list[LikelyCitation]:
    """The stretches of a text that look like citations, in its order."""
    hits = [(rule.category, list(_by_rule(rule, text))) for rule in rules]
    hits += [(category, [match.span() for match in pattern.finditer(text)]) for category, pattern in _LOOKS]
    found: list[LikelyCitation] = []
    for category, spans in hits:
        here: list[LikelyCitation] = []
        for start, end in spans:
            while front := _FRONT.match(text[start:end]):
                start += front.end()
            here.append(LikelyCitation(start, end, category))
        found = sorted([*found, *_outside(here, found)])
    return found


class Candidate(NamedTuple):
    """Words that look like a citation, as they stand first, and everywhere that they stand unmarked."""

    words: str
    category: str
    places: tuple[FoundWords, ...]


def _alike(words: str) -> str:
    """What two ways to write the same citation have in common."""
    return re.sub(r"[’‘]", "'", words.casefold())


def unmarked(report: Report, rules: Iterable[CitationRule] = ()) -> list[Candidate]:
    """What looks like a citation and is not marked, the same words together, in the order in which they first stand.

    Words that hold a form of an authority are as good as cited by it: they are found with it. Likewise a section of an act that
    is also cited as a whole is a place of the act, as far as that is named.
    """
    rules = tuple(rules)
    known = [
        p for one in report.authorities.values() for form in (one.long, one.short) if (p := pattern_of(form, False))
    ]
    found: list[tuple[Paragraph, str, LikelyCitation, str]] = []
    for paragraph in paragraphs(report):
        text = paragraph.text
        for one in _outside(looks_cited(text, rules), _marked(paragraph)):
            words = " ".join(text[one.start : one.end].split())
            if not any(pattern.search(words) for pattern in known):
                found.append((paragraph, text, one, words))
    whole = {_alike(words) for *_, words in found}
    there: dict[str, tuple[str, str, list[FoundWords]]] = {}
    for paragraph, text, (start, end, category), words in found:
        section = _AT_SECTION.search(words)
        if section and _alike(words[: section.start()]) in whole and (said := _AT_SECTION.search(text, start, end)):
            end, words = said.start(), words[: section.start()]
        there.setdefault(_alike(words), (words, category, []))[2].append(_found(paragraph, text, start, end, "long"))
    return [Candidate(words, category, tuple(places)) for words, category, places in there.values()]
