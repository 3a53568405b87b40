"""Places: links and references to what is gone, captions and references that were typed, figures that nothing refers to."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

from ...report.blocks import INLINE_OBJECT, DataTable, Image, Paragraph, Reference, Shows
from ...report.elements import Element, Words
from ...report.plan import Cut, Format, Set, Step
from ...structure.captions import bare_number
from ...structure.noted import Leading, Place
from ...structure.outline import paragraphs_of
from ...structure.place_kinds import KINDS
from ...structure.references import broken
from ...structure.typed_captions import NUMBER, TypedCaption, typed_caption
from ..findings import Check, FoundHere, InWords, NewIds, Remedy, State, add_check, quoted, read_words

_SECTION = re.compile(rf"\b([Ss]ection|[Cc]hapter|[Pp]art|[Aa]ppendix)(\s)({NUMBER})\b(?!\s+of\b)")
"""A section of this report, as far as words tell: one "of" something else is that of a law or a book."""


# --- What leads to nothing ---


def _gone(state: State) -> Iterator[tuple[str, Leading]]:
    """Links and references that lead to what is gone, each with its paragraph."""
    places = state.pages.places
    for _, one in state.pages.noted:
        for lead in one.leads:
            if lead.to not in places:
                yield one.id, lead


def _broken(state: State) -> FoundHere:
    told: set[str] = set()
    for paragraph, lead in _gone(state):
        if paragraph in told:
            continue
        told.add(paragraph)
        was = state.removed(lead.to)
        if lead.shows == "note":
            what = "The sign of a note"
        else:
            what = (
                f"The link at {quoted(lead.words)}" if not lead.shows else f"The reference {quoted(broken(lead.words))}"
            )
        yield paragraph, f"{what} leads to {was}." if was else f"{what} leads to what is no longer in the report."


def _as_words(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    """Links are taken off, and references become the words that they were; the last first, so that offsets stay."""
    found = [(id, lead) for id, lead in _gone(state) if id in {*places}]
    return Remedy(tuple(_without(id, lead) for id, lead in reversed(found)))


def _without(paragraph: str, lead: Leading) -> Step:
    if lead.shows == "note":
        return Cut(paragraph, lead.start, INLINE_OBJECT)
    if lead.shows:
        return Cut(paragraph, lead.start, INLINE_OBJECT, (Words(lead.words or "?"),))
    return Format(paragraph, lead.start, lead.start + len(lead.words), {"link": None})


# --- What was typed ---


def _typed_caption(state: State, index: int) -> tuple[Paragraph, TypedCaption] | None:
    """A paragraph that has the style of captions, or stands at a picture or data table, and begins like one."""
    report, blocks, block = state.report, state.report.blocks, state.report.blocks[index]
    if type(block) is not Paragraph or block.caption is not None or block.style in report.styles.levels:
        return None
    around = (*blocks[max(index - 1, 0) : index], *blocks[index + 1 : index + 2])
    if report.styles[block.style].role != "caption" and not any(isinstance(one, Image | DataTable) for one in around):
        return None
    found = typed_caption(block.text, report.labels)
    return (block, found) if found else None


def _typed(_: object, at: tuple[Paragraph, TypedCaption]) -> FoundHere:
    block, found = at
    yield (
        block.id,
        f"“{block.text[: found.end].strip()}” is typed in front of {quoted(block.text[found.end :] or '…')}.",
    )


def _as_captions(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    style = state.report.styles.role("caption").id
    steps: list[Step] = []
    for block, found in read_words(state, "typed-caption"):
        if block.id in places:
            steps += [
                Set(block.id, {"style": style, "caption": found.label}),
                Cut(block.id, 0, block.text[: found.end]),
            ]
    return Remedy(tuple(steps))


class TypedReference(NamedTuple):
    """Words that refer to a section or a caption by its number: ``start`` and ``words`` are what becomes a reference."""

    paragraph: str
    start: int
    words: str
    said: str
    shows: Shows
    number: str
    """What it refers to: the number of a section, or label and number of a caption."""


@lru_cache(maxsize=16)
def _labelled(names: tuple[str, ...]) -> re.Pattern[str]:
    return re.compile(rf"\b({'|'.join(map(re.escape, names))})\s({NUMBER})\b", re.IGNORECASE)


def _typed_references(state: State, index: int) -> tuple[TypedReference, ...]:
    """Words such as "section 3.2" and "Figure 4" in running text."""
    report, block = state.report, state.report.blocks[index]
    if type(block) is Paragraph and (block.style in report.styles.levels or block.caption is not None):
        return ()
    labelled = _labelled(tuple(label.name for label in report.labels.values()))
    return tuple(one for paragraph, _ in paragraphs_of(report, index) for one in _in_words(paragraph, labelled))


def _in_words(paragraph: Paragraph, labelled: re.Pattern[str]) -> Iterator[TypedReference]:
    text = paragraph.text
    for found in labelled.finditer(text):
        if found.start() > 0:  # at the start it is a caption that was typed
            number = " ".join(found[0].split()).casefold()
            yield TypedReference(paragraph.id, found.start(), found[0], found[0], "label", number)
    for found in _SECTION.finditer(text):
        yield TypedReference(paragraph.id, found.start(3), found[3], found[0], "number", found[3])


def _numbered(state: State) -> Mapping[tuple[str, str], Place]:
    """The places that have a number, by what a reference shows of them and that."""
    found: dict[tuple[str, str], Place] = {}
    for place in state.pages.places.values():
        if place.kind == "heading" and place.number:
            found["number", bare_number(place.number)] = place
        elif place.kind == "caption":
            found["label", f"{place.label} {place.number}".casefold()] = place
    return found


def _typed_leads(numbered: Mapping[tuple[str, str], Place], typed: tuple[TypedReference, ...]) -> FoundHere:
    told: set[str] = set()
    for one in typed:
        if (one.shows, one.number) in numbered and one.paragraph not in told:
            told.add(one.paragraph)
            yield one.paragraph, f"{quoted(one.said)} is typed; it stays as it is when the number changes."


def _as_references(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    numbered, wanted = _numbered(state), {*places}
    typed = (one for block in read_words(state, "typed-reference") for one in block if one.paragraph in wanted)
    found = [(one, numbered[one.shows, one.number]) for one in typed if (one.shows, one.number) in numbered]
    found.sort(key=lambda pair: pair[0].start, reverse=True)
    return Remedy(
        tuple(
            Cut(
                one.paragraph,
                one.start,
                one.words,
                (Element("reference", Reference(to.id, one.shows, one.words)._asdict()),),
            )
            for one, to in found
        )
    )


# --- What nothing refers to ---


def _unreferred(state: State) -> FoundHere:
    led_to = {lead.to for _, one in state.pages.noted for lead in one.leads}
    for place in state.pages.places.values():
        if place.kind == "caption" and place.id not in led_to:
            yield place.id, f"Nothing refers to {place.label} {place.number}, {quoted(place.text or 'without words')}."


def _lone_notes(state: State) -> FoundHere:
    referred = {note.id for note in state.pages.footnotes}
    for place in state.pages.places.values():
        if place.kind == "note" and place.id not in referred:
            yield place.id, f"Nothing refers to the note {quoted(place.text or 'without words')}."


def _as_text(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    body = state.report.styles.role("body").id
    return Remedy(tuple(Set(id, {"note": None, "style": body}) for id in places))


def _same_name(state: State) -> FoundHere:
    seen: set[str] = set()
    for block, one in state.pages.noted:
        for mark in one.places:
            if not KINDS[mark.kind].has_name:
                continue
            name = mark.name.casefold()
            if name in seen and state.pages.places[mark.id].block == block:
                yield one.id, f"There are two {mark.kind}s {quoted(mark.name)}; who chooses one cannot tell them apart."
            seen.add(name)


def _looks_at(state: State) -> tuple[object, ...]:
    return state.pages.noted, state.headings, state.report.labels


add_check(
    Check(
        "typed-caption",
        "Captions with typed numbers",
        "Their numbers stay as they are when figures come, go and move, and no list of figures finds them.",
        in_words=InWords(_typed_caption, _typed),
        remedy=_as_captions,
        label="Number them anew",
    )
)
add_check(
    Check(
        "broken-lead",
        "Links and references to what is gone",
        "Readers who follow them get nowhere, and what is printed may be wrong.",
        in_report=_broken,
        looks_at=_looks_at,
        remedy=_as_words,
        label="Make them plain words",
    )
)
add_check(
    Check(
        "typed-reference",
        "References typed by hand",
        "They stay as they are when sections and figures are numbered anew.",
        in_words=InWords(_typed_references, _typed_leads, _looks_at, _numbered),
        remedy=_as_references,
        label="Keep them true from now on",
    )
)
add_check(
    Check(
        "never-referred-to",
        "Figures and tables that the text never refers to",
        "Readers do not know when to look at them.",
        in_report=_unreferred,
        looks_at=_looks_at,
    )
)
add_check(
    Check(
        "lone-note",
        "Notes that nothing refers to",
        "They are printed where they are written, as any paragraph, and not at the foot or the end.",
        in_report=_lone_notes,
        looks_at=_looks_at,
        remedy=_as_text,
        label="Make them paragraphs of the text",
    )
)
add_check(
    Check(
        "bookmarks-alike",
        "Two bookmarks of one name",
        "In every list of places they look the same.",
        in_report=_same_name,
        looks_at=_looks_at,
    )
)
