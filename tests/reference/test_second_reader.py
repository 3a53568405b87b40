"""What paragraphs and columns of .docx say of their place, held against values that are worked out from the XML once more.

By the standard's clauses (ISO/IEC 29500-1, from memory), with ``lxml`` alone and nothing of ours: properties of a paragraph are those of
the document's defaults, then of its style and the styles which that is based on, then its own (17.7.2); lengths are in twentieths of
a point. What numbering says of indents is left out here, and with it the paragraphs that have any.
"""

from __future__ import annotations

import re
import zipfile
from collections.abc import Iterator
from io import BytesIO
from itertools import accumulate
from pathlib import Path
from typing import NamedTuple
from unittest import TestCase

import roman
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from lxml import etree
from lxml.etree import _Element

from mellowspine.core.formats import read
from mellowspine.core.pages.lines import set_style
from mellowspine.core.report.blocks import DataTable, Paragraph
from mellowspine.core.report.grids import grid_of, widths_said
from mellowspine.core.report.report import Report
from mellowspine.core.structure.markers import list_markers
from tests.core.docx_parts import Made, elements, paragraph, run

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
_PHASES = (Phase.explicit, Phase.reuse, Phase.generate)
"""Documents are small; to make one that fails smaller still takes longer than to read it."""
SAMPLES = Path(__file__).parents[2] / ".venv/samples/docx"


class Placed(NamedTuple):
    """In points; ``align`` as the standard calls it."""

    before: float
    after: float
    left: float
    right: float
    first: float
    align: str
    close: bool


def _points(element: _Element | None, *names: str) -> float | None:
    said = (
        next((element.get(f"{W}{name}") for name in names if element.get(f"{W}{name}")), None)
        if element is not None
        else None
    )
    return None if said is None else int(float(said)) / 20


class SecondReader:
    def __init__(self, data: bytes) -> None:
        with zipfile.ZipFile(BytesIO(data)) as package:
            self.body = etree.fromstring(package.read("word/document.xml")).find(f"{W}body")
            named = "word/styles.xml"
            styles = etree.fromstring(package.read(named)) if named in package.namelist() else etree.Element("none")
        self.styles = {
            one.get(f"{W}styleId"): one for one in styles.iter(f"{W}style") if one.get(f"{W}type") == "paragraph"
        }
        self.usual = next((key for key, one in self.styles.items() if one.get(f"{W}default") in ("1", "true")), None)
        self.defaults = styles.find(f"{W}docDefaults/{W}pPrDefault/{W}pPr")

    def chain(self, properties: _Element | None) -> list[_Element]:
        """Properties that count for a paragraph, the furthest first (17.7.2)."""
        named = properties.find(f"{W}pStyle") if properties is not None else None
        key = named.get(f"{W}val") if named is not None else None
        key, found = (key if key in self.styles else self.usual), []
        while key in self.styles and len(found) < 20:
            found.append(self.styles[key].find(f"{W}pPr"))
            based = self.styles[key].find(f"{W}basedOn")
            key = based.get(f"{W}val") if based is not None else None
        return [one for one in (self.defaults, *reversed(found), properties) if one is not None]

    def paragraphs(self) -> Iterator[tuple[str, Placed]]:
        """Those of the text itself that are no items and stand alone with their words, each with these and its place."""
        for element in self.body.iterchildren(f"{W}p"):
            chain = self.chain(element.find(f"{W}pPr"))
            if any(one.find(f"{W}numPr") is not None or one.find(f"{W}framePr") is not None for one in chain):
                continue
            place = Placed(0.0, 0.0, 0.0, 0.0, 0.0, "left", False)
            for one in chain:
                spacing, indent, align, close = (
                    one.find(f"{W}{name}") for name in ("spacing", "ind", "jc", "contextualSpacing")
                )
                hanging = _points(indent, "hanging")  # goes before firstLine (17.3.1.12)
                said = {
                    "before": _points(spacing, "before"), "after": _points(spacing, "after"), "left": _points(indent, "left", "start"),
                    "right": _points(indent, "right", "end"), "first": -hanging if hanging is not None else _points(indent, "firstLine"),
                    "align": align.get(f"{W}val") if align is not None else None,
                    "close": close.get(f"{W}val") not in ("0", "false", "off") if close is not None else None,
                }  # fmt: skip
                place = place._replace(**{name: value for name, value in said.items() if value is not None})
            yield "".join(words.text or "" for words in element.iter(f"{W}t")), place

    def columns(self) -> Iterator[list[float]]:
        """Of each table of the text itself, without those that hold tables, the widths of its columns: what the first cell over that
        column alone says (17.4.71), or else its grid (17.4.48)."""
        for table in self.body.iterchildren(f"{W}tbl"):
            if next(table.iterdescendants(f"{W}tbl"), None) is not None:
                continue
            grid = [_points(one, "w") or 0.0 for one in table.iterfind(f"{W}tblGrid/{W}gridCol")]
            own: dict[int, float] = {}
            for row in table.iterchildren(f"{W}tr"):
                column = 0
                for cell in row.iterchildren(f"{W}tc"):
                    span = cell.find(f"{W}tcPr/{W}gridSpan")
                    count = int(span.get(f"{W}val") or 1) if span is not None else 1
                    width = cell.find(f"{W}tcPr/{W}tcW")
                    if (
                        count == 1
                        and width is not None
                        and width.get(f"{W}type") == "dxa"
                        and (said := _points(width, "w"))
                    ):
                        own.setdefault(column, said)
                    column += count
            yield [own.get(at, width) for at, width in enumerate(grid)]


def _figure(number: int, kind: str) -> str:
    """A number in figures of a kind (17.18.59)."""
    match kind:
        case "lowerLetter" | "upperLetter":  # aa, bb after z
            found = chr(ord("a") + (number - 1) % 26) * ((number - 1) // 26 + 1)
        case "lowerRoman" | "upperRoman":
            found = roman.toRoman(number).lower()
        case _:
            return str(number)
    return found.upper() if kind.startswith("upper") else found


class Labels:
    """The labels of numbered paragraphs (17.9): each level is counted on from its start, those beneath begin anew."""

    def __init__(self, numbering: _Element) -> None:
        self.levels = {
            one.get(f"{W}abstractNumId"): [*one.iterfind(f"{W}lvl")] for one in numbering.iterfind(f"{W}abstractNum")
        }
        self.instances = {
            one.get(f"{W}numId"): one.find(f"{W}abstractNumId").get(f"{W}val") for one in numbering.iterfind(f"{W}num")
        }
        self.counts: dict[str, list[int]] = {}

    def _say(self, level: _Element, name: str, usual: str) -> str:
        found = level.find(f"{W}{name}")
        return usual if found is None else found.get(f"{W}val") or usual

    def next(self, instance: str, at: int) -> str:
        levels = self.levels[self.instances[instance]]
        starts = [int(self._say(level, "start", "1")) for level in levels]
        counts = self.counts.setdefault(instance, [start - 1 for start in starts])
        counts[at] += 1
        counts[at + 1 :] = [start - 1 for start in starts[at + 1 :]]
        figures = [
            _figure(count, self._say(level, "numFmt", "decimal")) if count > 0 else ""
            for count, level in zip(counts, levels, strict=True)
        ]
        return re.sub(r"%([1-9])", lambda found: figures[int(found[1]) - 1], self._say(levels[at], "lvlText", ""))


_ALIGN = {
    "left": "left",
    "start": "left",
    "center": "center",
    "right": "right",
    "end": "right",
    "both": "justify",
    "distribute": "justify",
}


def placed(block: Paragraph, report: Report) -> Placed:
    """How a report sets a paragraph."""
    plain, style = report.styles[block.style], set_style(block, report).style
    own = [
        getattr(plain, name) if getattr(block, name) is None else getattr(block, name)
        for name in ("space_before", "space_after", "contextual_spacing")
    ]
    return Placed(
        own[0], own[1], style.indent, style.right_indent, style.first_line, block.align or plain.align, own[2]
    )


def hold(data: bytes, case: TestCase) -> int:
    """Holds a document against the second reader; how many paragraphs were compared. Those with the same words are left out."""
    report, second = read("a.docx", data).report, [*SecondReader(data).paragraphs()]
    words = [text.strip() for text, _ in second]
    blocks: dict[str, list[Paragraph]] = {}
    for block in report.blocks:
        if isinstance(block, Paragraph) and not report.styles[block.style].outline_level:
            blocks.setdefault(block.text.strip(), []).append(block)
    count = 0
    for text, wanted in zip(words, (place for _, place in second), strict=True):
        if text and words.count(text) == 1 and len(blocks.get(text, ())) == 1:
            found = placed(blocks[text][0], report)
            bound = wanted._replace(left=min(max(wanted.left, 0.0), 500.0), right=min(max(wanted.right, 0.0), 500.0), align=_ALIGN.get(wanted.align, "left"))  # fmt: skip
            case.assertEqual(tuple(found), tuple(bound), text)
            count += 1
    return count


class SecondReading(TestCase):
    def test_the_files_at_hand(self) -> None:
        count = 0
        for path in sorted(SAMPLES.rglob("*.docx")):
            with self.subTest(path.name):
                count += hold(path.read_bytes(), self)
        self.assertGreater(count, 80)

    @settings(max_examples=40, deadline=None, phases=_PHASES)
    @given(st.lists(st.tuples(st.sampled_from(["", "Quote", "Set"]), st.sampled_from([None, 0, 120, 480]), st.sampled_from([None, 240]),
                              st.sampled_from([None, 0, 720]), st.sampled_from([None, 0, 600]), st.sampled_from([None, 200, -200]),
                              st.sampled_from([None, "center", "both"]), st.sampled_from([None, "", "0"])), min_size=1, max_size=6))  # fmt: skip
    def test_paragraphs_of_whatever_place(self, drawn: list[tuple]) -> None:
        made = Made()
        style = made.document.styles.add_style("Set", 1)
        style.element.get_or_add_pPr().extend(elements('<w:spacing w:before="60" w:after="300"/><w:ind w:left="400" w:right="500" w:hanging="300"/><w:jc w:val="right"/><w:contextualSpacing/>'))  # fmt: skip
        for at, (name, before, after, left, right, first, align, close) in enumerate(drawn):
            spacing = "".join(
                f' w:{side}="{value}"' for side, value in (("before", before), ("after", after)) if value is not None
            )
            indent = "".join(
                f' w:{side}="{value}"' for side, value in (("left", left), ("right", right)) if value is not None
            )
            indent += "" if first is None else f' w:{"firstLine" if first > 0 else "hanging"}="{abs(first)}"'
            said = [f'<w:pStyle w:val="{name}"/>' if name else "", f"<w:spacing{spacing}/>" if spacing else "", f"<w:ind{indent}/>" if indent else "",
                    f'<w:jc w:val="{align}"/>' if align else "", "" if close is None else f"<w:contextualSpacing{' w:val=' + chr(34) + close + chr(34) if close else ''}/>"]  # fmt: skip
            made.add(paragraph(run(f"Paragraph {at}"), "".join(said)))
        self.assertEqual(hold(made.saved(), self), len(drawn))

    def test_columns_of_the_files_at_hand(self) -> None:
        count = 0
        for path in sorted(SAMPLES.rglob("*.docx")):
            data = path.read_bytes()
            wanted = [*SecondReader(data).columns()]
            tables = [block for block in read("a.docx", data).report.blocks if isinstance(block, DataTable)]
            for widths, table in zip(wanted, tables, strict=True) if len(wanted) == len(tables) else ():
                with self.subTest(path.name):
                    said = widths_said(grid_of(table.rows))
                    self.assertEqual([round(one, 2) for one in said], [round(one, 2) for one in widths[: len(said)]])
                    count += any(said)
        self.assertGreater(count, 5)

    @settings(max_examples=40, deadline=None, phases=_PHASES)
    @given(
        st.lists(st.integers(0, 2), min_size=1, max_size=14),
        st.tuples(*[st.sampled_from(["decimal", "lowerLetter", "upperRoman", "upperLetter", "lowerRoman"])] * 3),
        st.tuples(st.sampled_from(["%1.", "%1)", "Part %1:"]), st.sampled_from(["%1.%2", "%2)", "(%2)"]), st.sampled_from(["%1.%2.%3", "%3.", "%1-%3"])),
        st.tuples(*[st.sampled_from([1, 1, 3])] * 3),
    )  # fmt: skip
    def test_labels_of_lists(
        self, items: list[int], kinds: tuple[str, ...], texts: tuple[str, ...], starts: tuple[int, ...]
    ) -> None:
        made = Made()
        levels = "".join(
            f'<w:lvl w:ilvl="{at}"><w:start w:val="{start}"/><w:numFmt w:val="{kind}"/><w:lvlText w:val="{text}"/></w:lvl>'
            for at, (kind, text, start) in enumerate(zip(kinds, texts, starts, strict=True))
        )
        numbering = made.document.part.numbering_part.element
        abstract, number = elements(
            f'<w:abstractNum w:abstractNumId="90">{levels}</w:abstractNum><w:num w:numId="91"><w:abstractNumId w:val="90"/></w:num>'
        )
        numbering.insert(0, abstract)
        numbering.append(number)
        # What a level shows that was left out, no clause says.
        items = [*accumulate(items, lambda before, level: min(level, before + 1), initial=0)]
        for at, level in enumerate(items):
            made.add(paragraph(run(f"Item {at}"), f'<w:numPr><w:ilvl w:val="{level}"/><w:numId w:val="91"/></w:numPr>'))
        second = Labels(numbering)
        wanted = [second.next("91", level) for level in items]
        report = read("a.docx", made.saved()).report
        markers = list_markers(report)
        self.assertEqual([markers[block.id] for block in report.blocks], wanted)
