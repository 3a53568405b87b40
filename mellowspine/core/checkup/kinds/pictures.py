"""Pictures and their captions: one without the other, and pictures that nobody has described."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...report.blocks import Block, DataTable, Image, Paragraph
from ...report.plan import Set
from ...report.styles import StyleSheet
from ..findings import Check, FoundHere, NewIds, Remedy, State, add_check, quoted, without_words


def _captions(state: State) -> Iterator[tuple[int, Paragraph]]:
    styles = {style.id for style in state.report.styles.values() if style.role == "caption"}
    for index, block in enumerate(state.report.blocks):
        if type(block) is Paragraph and (block.style in styles or block.caption is not None):
            yield index, block


def _beside(state: State, index: int) -> list[Block]:
    """What stands next to a block, empty paragraphs left out of account."""
    blocks, seen = state.report.blocks, state.found.seen
    before = next((at for at in range(index - 1, -1, -1) if seen[at] is not False), None)
    behind = next((at for at in range(index + 1, len(blocks)) if seen[at] is not False), None)
    return [blocks[at] for at in (before, behind) if at is not None]


def _uncaptioned(state: State) -> FoundHere:
    captions = {block.id for _, block in _captions(state) if block.text.strip() or block.caption is not None}
    for index, block in enumerate(state.report.blocks):
        if type(block) is Image and not any(one.id in captions for one in _beside(state, index)):
            yield block.id, f"{_named(block)} has no caption."


def _named(picture: Image) -> str:
    return f"The picture {quoted(picture.alt)}" if picture.alt.strip() else "A picture"


def _undescribed(block: Block, styles: StyleSheet) -> str | None:
    return (
        "A picture has no description."
        if type(block) is Image and not block.alt.strip() and not block.decorative
        else None
    )


def _alone(state: State) -> FoundHere:
    for index, block in _captions(state):
        if block.text.strip() and not any(isinstance(one, Image | DataTable) for one in _beside(state, index)):
            yield block.id, f"{quoted(block.text)} stands at no picture and no data table."


def _as_text(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    body = state.report.styles.role("body").id
    return Remedy(tuple(Set(id, {"style": body, "caption": None}) for id in places))


def _empty(state: State) -> FoundHere:
    for _, block in _captions(state):
        if not block.text.strip() and block.caption is None:
            yield block.id, "A caption has no words: its style was given to a picture, or to the room for one."


def _without_empty(state: State, places: Sequence[str], ids: NewIds) -> Remedy:
    """The picture stays where it is; only the paragraph without words goes."""
    return Remedy(without_words(state, places))


add_check(
    Check(
        "picture-as-caption",
        "Pictures with a caption’s style",
        "The list of figures would have a line without words that leads to the picture.",
        in_report=_empty,
        remedy=_without_empty,
        saying="Take the style off; the picture stays",
    )
)
add_check(
    Check(
        "no-caption",
        "Pictures without a caption",
        "No list of figures can name them, and the text cannot refer to them.",
        in_report=_uncaptioned,
    )
)
add_check(
    Check(
        "no-description",
        "Pictures without a description",
        "Who does not see the picture is told nothing of it (WCAG 2.2, 1.1.1).",
        in_block=_undescribed,
    )
)
add_check(
    Check(
        "lone-caption",
        "Captions without a picture",
        "The list of figures would lead to a place where there is none.",
        in_report=_alone,
        remedy=_as_text,
        saying="Make them body text",
    )
)
