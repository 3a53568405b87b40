"""Pictures and their captions: one without the other, and pictures that nobody has described."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeGuard

from ...report.blocks import Block, DataTable, Image, Paragraph, images
from ...report.plan import Set
from ...report.styles import StyleSheet
from ..findings import Check, FoundHere, InWords, NewIds, Remedy, State, add_check, beside, quoted, without_words


def _is_caption(block: Block, state: State) -> TypeGuard[Paragraph]:
    return type(block) is Paragraph and (
        block.caption is not None or state.report.styles[block.style].role == "caption"
    )


def _uncaptioned(state: State, index: int) -> Image | None:
    block = state.report.blocks[index]
    if type(block) is not Image:
        return None
    named = (
        one for one in beside(state, index) if _is_caption(one, state) and (one.text.strip() or one.caption is not None)
    )
    return block if next(named, None) is None else None


def _of_uncaptioned(_: object, picture: Image) -> FoundHere:
    yield picture.id, f"{_named(picture)} has no caption."


def _named(picture: Image) -> str:
    return f"The picture {quoted(picture.alt)}" if picture.alt.strip() else "A picture"


def _undescribed(block: Block, styles: StyleSheet) -> str | None:
    found = sum(not image.alt.strip() and not image.decorative for image in images([block]))
    if not found or isinstance(block, Image):
        return "A picture has no description." if found else None
    return f"{'A picture' if found == 1 else f'{found} pictures'} in this data table {'has' if found == 1 else 'have'} no description."


def _alone(state: State, index: int) -> Paragraph | None:
    block = state.report.blocks[index]
    if not _is_caption(block, state) or not block.text.strip():
        return None
    return None if any(isinstance(one, Image | DataTable) for one in beside(state, index)) else block


def _of_alone(_: object, caption: Paragraph) -> FoundHere:
    yield caption.id, f"{quoted(caption.text)} stands at no picture and no data table."


def _as_text(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    body = state.report.styles.role("body").id
    return Remedy(tuple(Set(id, {"style": body, "caption": None}) for id in places))


def _empty(block: Block, styles: StyleSheet) -> str | None:
    if type(block) is not Paragraph or styles[block.style].role != "caption":
        return None
    nothing = not block.text.strip() and block.caption is None
    return "A caption has no words: its style was given to a picture, or to the room for one." if nothing else None


def _without_empty(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    """The picture stays where it is; only the paragraph without words goes."""
    return Remedy(without_words(state, places))


add_check(
    Check(
        "picture-as-caption",
        "Pictures with a caption’s style",
        "The list of figures would have a line without words that leads to the picture.",
        in_block=_empty,
        remedy=_without_empty,
        label="Take the style off; the picture stays",
    )
)
add_check(
    Check(
        "no-caption",
        "Pictures without a caption",
        "No list of figures can name them, and the text cannot refer to them.",
        in_words=InWords(_uncaptioned, _of_uncaptioned),
    )
)
add_check(
    Check(
        "no-description",
        "Pictures without a description",
        "Who does not see the picture is told nothing of it (WCAG 2.2, 1.1.1).",
        in_block=_undescribed,
        hinders="7.3",
    )
)
add_check(
    Check(
        "lone-caption",
        "Captions without a picture",
        "The list of figures would lead to a place where there is none.",
        in_words=InWords(_alone, _of_alone),
        remedy=_as_text,
        label="Make them body text",
    )
)
