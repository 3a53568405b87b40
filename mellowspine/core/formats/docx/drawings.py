"""Drawings of Office Open XML: pictures, charts, diagrams, shapes and text boxes (ISO/IEC 29500-1, 20 and 21; VML: part 4, 19)."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import replace
from typing import Literal

from lxml.etree import _Element

from ...report.blocks import Block, Cell, DataTable, Image, Marks, Paragraph, Run, size_within_bounds
from ...report.styles import Style
from ..charts import Chart, Kind, Series, drawn, figure, number_of
from ..package import parse
from ..pictures import AS_IT_IS, Checked, Drawn, NotAPicture, check
from .document import Document
from .xml import COMPATIBILITY, FALLBACK, OFFICE, VML, flattened, local, outermost, points, qn

_AROUND = ("wrapSquare", "wrapTight", "wrapThrough")
_SIDES: Mapping[str, Literal["left", "right"]] = {
    "left": "left",
    "right": "right",
    "inside": "left",
    "outside": "right",
}
_CHART = "{http://schemas.openxmlformats.org/drawingml/2006/chart}"
_CHART_EX = "{http://schemas.microsoft.com/office/drawing/2014/chartex}"
_DIAGRAM = "{http://schemas.openxmlformats.org/drawingml/2006/diagram}"
_SHAPES = ("{http://schemas.microsoft.com/office/word/2010/wordprocessingShape}wsp",
           "{http://schemas.openxmlformats.org/drawingml/2006/lockedCanvas}lockedCanvas",
           *(f"{VML}{name}" for name in ("shape", "rect", "line", "oval", "roundrect", "polyline", "arc", "curve")))  # fmt: skip
_LENGTH = re.compile(r"(width|height)\s*:\s*([0-9]{1,6}(?:\.[0-9]{1,6})?)(pt|in|cm|mm|px)?", re.IGNORECASE)
_UNITS = {"pt": 1.0, "in": 72.0, "cm": 72 / 2.54, "mm": 72 / 25.4, "px": 0.75, "": 1.0}
_CHART_KINDS: Mapping[str, Kind] = {
    **dict.fromkeys(("barChart", "bar3DChart"), "column"),
    **dict.fromkeys(("lineChart", "line3DChart", "radarChart", "stockChart", "surfaceChart", "surface3DChart"), "line"),
    **dict.fromkeys(("areaChart", "area3DChart"), "area"),
    **dict.fromkeys(("pieChart", "pie3DChart", "doughnutChart", "ofPieChart"), "pie"),
    **dict.fromkeys(("scatterChart", "bubbleChart"), "points"),
}
"""As what each kind of chart (21.2.2) is drawn."""
_STACKED: Mapping[str, Literal["on each other", "to the whole"]] = {
    "stacked": "on each other",
    "percentStacked": "to the whole",
}
_CHART_SIZE = (360.0, 220.0)
"""Points of a chart that does not say how large it is."""
MOST_VALUES, MOST_SERIES = 2_000, 40
"""Values of a series, and series of a chart, that are kept."""


def drawing_of(element: _Element, document: Document, style: Style) -> Iterator[Run | Block]:
    """What a drawing becomes: pictures, tables of charts, and the words of anything else."""
    shown = False
    for box in outermost(element, qn("w:txbxContent")):
        document.notes.add("text-box")
        shown = True
        for inner in flattened(box):
            yield from document.block(inner)
    for path in outermost(element, f"{VML}textpath"):
        if words := " ".join((path.get("string") or "").split()):
            document.notes.add("drawn-words")
            shown = True
            yield Run(words[:500], Marks())
    for found in _outside_boxes(element):
        shown = True
        if found.tag in (qn("a:blip"), f"{VML}imagedata"):
            yield from _picture(found, element, document)
        elif found.tag == f"{_CHART}chart":
            yield from _chart(found, element, document)
        elif found.tag == f"{_CHART_EX}chart":
            document.notes.add("chart-bare")
        else:
            yield from _diagram(found, document, style)
    if not shown:
        document.notes.add("object-bare" if element.tag == qn("w:object") else "shape")
    elif element.tag == qn("w:object") or next(element.iter(f"{OFFICE}OLEObject"), None) is not None:
        document.notes.add("object")
    if next(element.iter(qn("a:hlinkClick")), None) is not None:
        document.notes.add("picture-link")


def _outside_boxes(element: _Element) -> Iterator[_Element]:
    """The pictures, charts and diagrams of a drawing, without those in its text boxes and those that stand in for others."""
    wanted = (qn("a:blip"), f"{VML}imagedata", f"{_CHART}chart", f"{_CHART_EX}chart", f"{_DIAGRAM}relIds")
    for one in element:
        if one.tag in wanted:
            yield one
        elif isinstance(one.tag, str) and one.tag not in (FALLBACK, qn("w:txbxContent")):
            yield from _outside_boxes(one)


def _picture(found: _Element, drawing: _Element, document: Document) -> Iterator[Run | Image]:
    embedded = found.get(qn("r:embed")) or found.get(qn("r:id"))
    words = next((p.get("descr") or "" for p in drawing.iter(qn("wp:docPr"))), "") or _words_of(found)
    part = document.part.related_parts.get(embedded or "")
    if part is None:
        relation = document.part.rels.get(embedded or found.get(qn("r:link")) or "")
        name = posixpath.basename(relation.target_ref.replace("\\", "/")) if relation is not None else ""
        if embedded or found.get(qn("r:link")):
            document.notes.add("picture-outside")
            yield Run(f"[{(words or name)[:200]}]", Marks()) if words or name else Run("[…]", Marks())
        return
    shown = _drawn(found)
    try:
        checked = check(part.blob, drawn=shown)
    except NotAPicture as fault:
        instead = _instead(found, document)
        if instead is None:
            document.notes.add(fault.kind)
            yield Run(f"[{(words or posixpath.basename(str(part.partname)))[:200]}]", Marks())
            return
        checked, shown = instead, AS_IT_IS
    source, kept, width, height, _ = checked
    document.pictures[source] = kept
    size = _size(found, drawing) or (width * 0.75, height * 0.75)
    if shown.turned and (own := _own_size(found)):
        size = shown.size(*own)
    if found.tag == f"{VML}imagedata" and any(found.get(f"crop{side}") for side in ("left", "top", "right", "bottom")):
        document.notes.add("picture-cropped")
    image = Image(next(document.ids), source, *size_within_bounds(*size), words[:500])
    anchor = next(drawing.iter(qn("wp:anchor")), None)
    if anchor is None:
        document.in_line.add(image.id)
    side = _side_of(anchor, image, document)
    if anchor is not None and side is None and _is_placed(anchor):
        document.notes.add("picture-placed")
    yield replace(image, align=side, beside=True) if side else image


def _instead(found: _Element, document: Document) -> Checked | None:
    """The picture that the file has in the place of one for those who cannot draw that (part 3, 9.5 Fallback), if it can be shown."""
    choice = next((one for one in found.iterancestors() if one.tag == f"{COMPATIBILITY}Choice"), None)
    fallback = None if choice is None else next(choice.itersiblings(FALLBACK), None)
    if choice is None or fallback is None:
        return None
    chosen, others = ([*one.iter(qn("a:blip"), f"{VML}imagedata")] for one in (choice, fallback))
    other = others[chosen.index(found)] if len(chosen) == len(others) else None
    part = other is not None and document.part.related_parts.get(
        other.get(qn("r:embed")) or other.get(qn("r:id")) or ""
    )
    with suppress(NotAPicture):
        return check(part.blob) if part else None
    return None


def _words_of(found: _Element) -> str:
    """The words for a picture of VML: its shape's ``alt``, or else its title."""
    shape = next((one for one in found.iterancestors() if one.get("alt")), None)
    return (shape.get("alt") if shape is not None else found.get(f"{OFFICE}title")) or ""


Size = tuple[float, float]
"""Width and height in points."""


def _size(found: _Element, drawing: _Element) -> Size | None:
    """The size of a picture: its share of a group, else that of the drawing or the shape; None where it is not said."""
    extent = _extent(next(drawing.iter(qn("wp:extent")), None))
    if extent is None:
        shape = next((one for one in found.iterancestors() if one.tag.startswith(VML) and one.get("style")), None)
        said = {name.lower(): float(number) * _UNITS[unit.lower()] for name, number, unit in _LENGTH.findall("" if shape is None else shape.get("style") or "")}  # fmt: skip
        width, height = said.get("width", 0.0), said.get("height", 0.0)
        return (width, height) if min(width, height) >= 1 and max(width, height) <= 5000 else None
    if any(one.tag.endswith(("}wgp", "}grpSp")) for one in found.iterancestors()):
        own, whole = _own_size(found), _extent(next(drawing.iter(qn("a:chExt")), None))
        if own and whole:
            return own[0] * extent[0] / whole[0], own[1] * extent[1] / whole[1]
    return extent


def _own_size(found: _Element) -> Size | None:
    """The size of a picture before it is turned, or put into a group (20.1.7.6 xfrm)."""
    picture = next((one for one in found.iterancestors() if one.tag.endswith("}pic")), None)
    return None if picture is None else _extent(next(picture.iter(qn("a:ext")), None))


def _extent(element: _Element | None) -> Size | None:
    if element is None:
        return None
    width, height = points(element.get("cx")), points(element.get("cy"))
    return (width, height) if width and height else None


def _drawn(blip: _Element) -> Drawn:
    """How a picture is drawn: what is cut off from it (20.1.8.55 srcRect), and how it is turned and mirrored (20.1.7.6 xfrm)."""
    fill = blip.getparent()
    cut = None if fill is None else fill.find(qn("a:srcRect"))
    edges = tuple(_share(None if cut is None else cut.get(side)) for side in ("l", "t", "r", "b"))
    picture = next((one for one in blip.iterancestors() if one.tag.endswith("}pic")), None)
    form = None if picture is None else next(picture.iter(qn("a:xfrm")), None)
    if form is None:
        return Drawn(edges)  # type: ignore[arg-type]
    try:
        turned = int(form.get("rot") or 0) / 60000
    except ValueError:
        turned = 0.0
    mirrored = form.get("flipH") in ("1", "true"), form.get("flipV") in ("1", "true")
    return Drawn(edges, turned % 360, *mirrored)  # type: ignore[arg-type]


def _share(given: str | None) -> float:
    """A part of a whole (22.9.2.9 ST_Percentage): in thousandths of a hundredth, or with a sign."""
    try:
        found = float(given[:-1]) / 100 if given and given.endswith("%") else int(given or 0) / 100_000
    except ValueError:
        return 0.0
    return min(max(found, 0.0), 0.98)


def _side_of(anchor: _Element | None, image: Image, document: Document) -> Literal["left", "right"] | None:
    """The side of a picture around which text is to flow (20.4.2.3 anchor, 20.4.2.17 wrapSquare, 20.4.2.10 positionH)."""
    if anchor is None or not any(anchor.find(qn(f"wp:{tag}")) is not None for tag in _AROUND):
        return None
    place = anchor.find(qn("wp:positionH"))
    align = None if place is None else place.findtext(qn("wp:align"))
    if align is not None:
        return _SIDES.get(align)
    offset = points(place.findtext(qn("wp:posOffset"))) if place is not None else None
    middle = (offset or 0.0) + image.width / 2
    return "left" if middle < document.column_width / 2 else "right"


def _is_placed(anchor: _Element) -> bool:
    """Whether a picture stands elsewhere than between the lines of its paragraph."""
    return anchor.find(qn("wp:wrapTopAndBottom")) is None


def _diagram(found: _Element, document: Document, style: Style) -> Iterator[Run | Block]:
    """The words of a diagram (21.4), a paragraph for each of its points."""
    part = document.part.related_parts.get(found.get(qn("r:dm")) or "")
    root = None if part is None else parse(part.blob)
    document.notes.add("diagram")
    for words in root.iter(f"{_DIAGRAM}t") if root is not None else ():
        said = "".join(one.text or "" for one in words.iter(qn("a:t")))
        if said.strip():
            yield Paragraph(next(document.ids), style.id, (Run(said),))


def _chart(found: _Element, drawing: _Element, document: Document) -> Iterator[Run | Block]:
    """A chart drawn anew from its values (21.2), as they were kept with it (21.2.2.125 numCache, 21.2.2.200 strCache). They are told
    in its description, and where they are too many for that in a table as well."""
    part = document.part.related_parts.get(found.get(qn("r:id")) or "")
    root = None if part is None else parse(part.blob)
    chart = None if root is None else _read_chart(root)
    if chart is None:
        document.notes.add("chart-bare")
        return
    document.notes.add("chart")
    size = _extent(next(drawing.iter(qn("wp:extent")), None)) or _CHART_SIZE
    words = chart.in_words()
    source, kept, _, _, _ = check(drawn(chart, *size))
    document.pictures[source] = kept
    image = Image(next(document.ids), source, *size_within_bounds(*size), words[:500])
    document.in_line.add(image.id)
    yield image
    if len(words) > 500:
        yield _table_of(chart, document)


def _read_chart(root: _Element) -> Chart | None:
    """What a chart says; None if it has no values."""
    found: list[Series] = []
    names: dict[int, str] = {}
    stacked: Literal["", "on each other", "to the whole"] = ""
    for group in root.iter(*(f"{_CHART}{name}" for name in _CHART_KINDS)):
        kind = _CHART_KINDS[local(group)]
        direction, grouping = (group.find(f"{_CHART}{name}") for name in ("barDir", "grouping"))
        if kind == "column" and direction is not None and direction.get("val") == "bar":
            kind = "bar"
        if grouping is not None and kind in ("column", "bar", "area"):
            stacked = _STACKED.get(grouping.get("val") or "", stacked)
        for one in group.findall(f"{_CHART}ser")[: MOST_SERIES - len(found)]:
            for at, words in _cached(one, "cat", "xVal").items():
                names.setdefault(at, words)
            across = _numbers(_cached(one, "xVal")) if kind == "points" else None
            values = _numbers(_cached(one, "val", "yVal"))
            if kind == "points" and not across:
                across = {at: float(at + 1) for at in values}
            if values:
                found.append(Series(_text_of(one.find(f"{_CHART}tx")), values, kind, across))
    if not found:
        return None
    return Chart(_text_of(root.find(f"{_CHART}chart/{_CHART}title")), names, tuple(found), stacked)


def _numbers(values: Mapping[int, str]) -> dict[int, float]:
    return {at: found for at, words in values.items() if (found := number_of(words)) is not None}


def _table_of(chart: Chart, document: Document) -> DataTable:
    """The values of a chart, a column for each of its series."""
    style = document.styles.sheet().role("cell").id

    def cell(words: str) -> Cell:
        return Cell((Paragraph(next(document.ids), style, (Run(words),) if words else ()),))

    rows = [tuple(cell(words) for words in ("", *(one.name for one in chart.series)))]
    for at in chart.places:
        values = (figure(one.values[at]) if at in one.values else "" for one in chart.series)
        rows.append(tuple(cell(words) for words in (chart.names.get(at, ""), *values)))
    return DataTable(next(document.ids), tuple(rows), 1)


def _text_of(element: _Element | None) -> str:
    """The words of a title or of the name of a series: written there, or as they were kept."""
    if element is None:
        return ""
    written = "".join(one.text or "" for one in element.iter(qn("a:t")))
    return " ".join((written or " ".join(one.text or "" for one in element.iter(f"{_CHART}v"))).split())[:500]


def _cached(series: _Element, *names: str) -> dict[int, str]:
    """Kept values by their place, of the first of some kinds that a series has."""
    for name in names:
        if (element := series.find(f"{_CHART}{name}")) is not None:
            found = {}
            for point in [*element.iter(f"{_CHART}pt")][:MOST_VALUES]:
                at = point.get("idx") or ""
                if at.isdecimal() and len(at) < 8 and int(at) < MOST_VALUES:
                    found[int(at)] = " ".join((point.findtext(f"{_CHART}v") or "").split())[:200]
            return found
    return {}
