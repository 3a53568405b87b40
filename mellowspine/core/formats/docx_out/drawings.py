"""Pictures (ISO/IEC 29500-1, 20.1, 20.2 and 20.4): in a line of their own, or with text beside them."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO
from typing import Final

from lxml.etree import _Element
from PIL import Image as Pillow

from ...pages.beside import GAP
from ...report.blocks import Image
from .document import Document
from .fields import run
from .xml import clean, emu, made, properties, switch, twips

_SPACE = 6.0
"""Points above and below a picture."""
_PLACES = {"left": "left", "center": "center", "right": "right", "justify": "left"}
_PICTURE: Final = "http://schemas.openxmlformats.org/drawingml/2006/picture"


def picture(block: Image, document: Document, size: tuple[float, float]) -> _Element:
    """A run with a picture, printed in this size in points; with its words where it is not there."""
    name = stored(block.source, document)
    if name is None:
        return run(f"[{block.alt}]" if block.alt else "[…]")
    graphic = _graphic(document.part.relate("image", name), name, size, document)
    extent = made("wp:extent", cx=emu(size[0]), cy=emu(size[1]))
    document.drawings += 1
    about = made("wp:docPr", id=document.drawings, name=f"Picture {document.drawings}", descr=clean(block.alt))
    if block.beside and block.align in ("left", "right"):
        return made("w:r", made("w:drawing", _beside(block, extent, about, graphic)))
    near = {"distT": 0, "distB": 0, "distL": 0, "distR": 0}
    return made("w:r", made("w:drawing", made("wp:inline", extent, about, graphic, **near)))


def _beside(block: Image, extent: _Element, about: _Element, graphic: _Element) -> _Element:
    """A picture at a side of its paragraph, around which text flows (20.4.2.3)."""
    across = made("wp:positionH", made("wp:align"), relativeFrom="column")
    across[0].text = block.align
    down = made("wp:positionV", made("wp:posOffset"), relativeFrom="paragraph")
    down[0].text = "0"
    gap = emu(GAP)
    return made(
        "wp:anchor",
        made("wp:simplePos", x=0, y=0),
        across,
        down,
        extent,
        made("wp:effectExtent", l=0, t=0, r=0, b=0),
        made("wp:wrapSquare", wrapText="bothSides"),
        about,
        made("wp:cNvGraphicFramePr"),
        graphic,
        distT=0,
        distB=emu(6),
        distL=gap if block.align == "right" else 0,
        distR=gap if block.align == "left" else 0,
        simplePos="0",
        relativeHeight="1",
        behindDoc="0",
        locked="0",
        layoutInCell="1",
        allowOverlap="0",
    )


def _graphic(relation: str, name: str, size: tuple[float, float], document: Document) -> _Element:
    own = made("pic:nvPicPr", made("pic:cNvPr", id=0, name=name.rpartition("/")[2]), made("pic:cNvPicPr"))
    filling = made("pic:blipFill", made("a:blip", **{"r:embed": relation}), made("a:stretch", made("a:fillRect")))
    form = made("a:xfrm", made("a:off", x=0, y=0), made("a:ext", cx=emu(size[0]), cy=emu(size[1])))
    shape = made("pic:spPr", form, made("a:prstGeom", made("a:avLst"), prst="rect"))
    return made("a:graphic", made("a:graphicData", made("pic:pic", own, filling, shape), uri=_PICTURE))


def stored(source: str, document: Document) -> str | None:
    """The part with a picture; None for one that is not there. What other programs may not know comes as PNG."""
    data = document.pictures.get(source)
    if data is None:
        return None
    stem, _, ending = source.rpartition(".")
    name = f"word/media/{stem}.{'png' if ending == 'webp' else ending}"
    if name not in document.package.parts:
        document.package.add(name, _as_png(data) if ending == "webp" else data)
    return name


def _as_png(data: bytes) -> bytes:
    stream = BytesIO()
    with Pillow.open(BytesIO(data)) as picture:
        picture.save(stream, "PNG")
    return stream.getvalue()


def on_a_line(block: Image, document: Document, size: tuple[float, float]) -> _Element:
    """A picture as a paragraph of its own, which stays with what follows."""
    place = properties(
        "w:pPr",
        [
            switch("w:keepNext", True),
            made("w:spacing", before=twips(_SPACE), after=twips(_SPACE), line=240, lineRule="auto"),
            made("w:ind", left=0, right=0, firstLine=0),
            made("w:jc", val=_PLACES[block.align]),
        ],
    )
    return made("w:p", place, picture(replace(block, beside=False), document, size))
