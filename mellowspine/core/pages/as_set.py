"""Paragraphs as they are set: references and labels of captions as the words that they show."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache

from ..report.blocks import Block, Marks, Paragraph, Run, with_paragraphs
from ..report.formulas import words_of_formula
from ..report.report import Report
from ..structure.notes import shown_as
from ..structure.references import reference_text
from .formulas import set_formula

_FRONT = Marks(tabular=True)
_SIGN = Marks(tabular=True, raised=True)


def is_set_otherwise(paragraph: Paragraph) -> bool:
    """Whether a paragraph is set with other words than its own."""
    return bool(paragraph.caption or paragraph.note) or any(
        run.marks.reference or (run.marks.formula and set_formula(run.marks.formula) is None) for run in paragraph.runs
    )


def as_set(paragraph: Paragraph, report: Report) -> Paragraph:
    """The paragraph with the words that are printed: those of its references, and in front its label and number, or the sign of a note."""
    if not is_set_otherwise(paragraph):
        return paragraph
    return replace(paragraph, runs=tuple(run for _, run in _set_runs(paragraph, report)))


def note_sign(paragraph: Paragraph, report: Report) -> str:
    """The sign of a paragraph that is a note; empty if nothing refers to it."""
    return report.shown.get(shown_as(paragraph.id, "note", ""), "")


def words_as_set(paragraph: Paragraph, report: Report) -> Paragraph:
    """The paragraph with the words that its references show, without what stands in front, and without the signs of notes: for
    where its words stand once more."""
    if not is_set_otherwise(paragraph):
        return in_words(paragraph)
    runs = tuple(r for r in paragraph.runs if not (r.marks.reference and r.marks.reference.shows == "note"))
    return in_words(as_set(replace(paragraph, runs=runs, caption=None, note=None), report))


def in_words(paragraph: Paragraph) -> Paragraph:
    """The paragraph with formulas as words."""
    if not any(run.marks.formula for run in paragraph.runs):
        return paragraph
    runs = (Run(run.words, replace(run.marks, formula=None)) if run.marks.formula else run for run in paragraph.runs)
    return replace(paragraph, runs=tuple(runs))


def blocks_as_set(report: Report) -> tuple[Block, ...]:
    """All blocks of a report with the words that are printed: for formats that know neither references nor formulas."""
    return tuple(with_paragraphs(report.blocks, lambda paragraph: in_words(as_set(paragraph, report))))


@lru_cache(maxsize=1 << 12)
def _shown(marks: Marks, raised: bool) -> Marks:
    """The marks of what a reference shows."""
    return replace(marks, tabular=True, raised=raised)


def _set_runs(paragraph: Paragraph, report: Report) -> Iterator[tuple[int, Run]]:
    """The runs as they are printed, each with how many characters of the paragraph's text it stands for."""
    if paragraph.caption and (front := report.captions.get(paragraph.id)):
        yield 0, Run(front, _FRONT)
    if paragraph.note and (sign := note_sign(paragraph, report)):
        yield 0, Run(sign, _SIGN)
        yield 0, Run(" ", _SIGN)
    for run in paragraph.runs:
        reference = run.marks.reference
        if run.marks.formula and set_formula(run.marks.formula) is None:  # its words are to be seen all the same
            for _ in run.text:
                yield 1, replace(run, text=words_of_formula(run.marks.formula), marks=replace(run.marks, formula=None))
            continue
        if reference is None:
            yield len(run.text), run
            continue
        for _ in run.text:
            raised = reference.shows == "note"
            yield (
                1,
                Run(reference_text(reference, paragraph.id, report), _shown(run.marks, raised)),
            )


def offset_in_text(paragraph: Paragraph, report: Report, offset: int) -> int:
    """Where in a paragraph's own text a place in its printed words is: in front of a reference for a place within it."""
    if not is_set_otherwise(paragraph):
        return offset
    at = printed = 0
    for length, run in _set_runs(paragraph, report):
        if offset < printed + len(run.text):
            return at + (offset - printed if length == len(run.text) and not run.marks.reference else 0)
        at += length
        printed += len(run.text)
    return at


def offset_as_set(paragraph: Paragraph, report: Report, offset: int) -> int:
    """Where a place in a paragraph's own text is in its printed words."""
    if not is_set_otherwise(paragraph):
        return offset
    at = printed = 0
    for length, run in _set_runs(paragraph, report):
        if length and offset < at + length:
            return printed + offset - at
        at += length
        printed += len(run.text)
    return printed
