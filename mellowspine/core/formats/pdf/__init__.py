"""Portable Document Format (ISO 32000-1): the pages of a report exactly as the core filled them.

Every line of a table and every web address is a link (12.5.6.5), the headings are the outline (12.3.3), and all that is in
the report is tagged as what it is there (14.8; ISO 14289-1).
"""

from __future__ import annotations

import logging
from collections.abc import Iterable, Iterator, Mapping
from datetime import UTC
from io import BytesIO

from pikepdf import Array, Dictionary, Name, ObjectStreamMode, OutlineItem, Page, Pdf, Stream, String

from ...pages.draw import Belongs, Curves, Drawing, Link, Mark, Paper, Picture, Rule, Target, Words
from ...pages.hyphens import HYPHEN
from ...pages.parts import Count
from ...pages.typefaces import Face, Typefaces
from ...report.blocks import Paragraph
from ...report.report import Report
from ..chosen import counts_on, sheets_of
from ..walk import About, Written
from .curves import operators
from .fonts import Glyphs
from .pictures import put_picture
from .structure import Element, Structure

log = logging.getLogger(__name__)

_FRAME = "#b9b3bf"
"""Colour of the frame that stands for a missing picture."""
_WORDS_OF_FORMULAS = "Liberation Serif"
_ABOVE_TARGET = 4.0
"""Points above a heading at which a reader shows the page."""


def write(given: Written) -> bytes:
    """The report as PDF; of some blocks, the whole sheets on which these stand. Pictures that are missing leave an empty frame."""
    report, pages, typefaces, pictures, progress, about, only = given
    writer = _Writer(report, typefaces, pictures)
    drawing = Drawing(pages, typefaces, about.at.date() if about.at else None)
    sheets = range(1, len(pages) + 1) if only is None else sheets_of(pages, only)
    for done, number in enumerate(sheets):
        if done % 10 == 0:
            progress(done, len(sheets))
        writer.page(drawing.page(number), drawing.paper(number))
    return writer.finish(about, pages.counts if only is None else counts_on(pages, sheets))


def _subject(report: Report) -> str:
    """What the line under the title says."""
    subtitle = report.styles.role("subtitle").id
    lines = (b.text for b in report.blocks if isinstance(b, Paragraph) and b.style == subtitle)
    return " ".join(next(lines, "").split())[:300]


class _Writer:
    def __init__(self, report: Report, typefaces: Typefaces, pictures: Mapping[str, bytes]) -> None:
        self.report, self.typefaces, self.pictures = report, typefaces, pictures
        self.papers: list[Paper] = []
        """Of each page; that of the one that is written is the last."""
        self.file = Pdf.new()
        self.fonts: dict[Face, Glyphs] = {}
        self.images: dict[str, str] = {}
        """The names of pictures that are in the file, by source; empty for one that is missing."""
        self.resources = self.file.make_indirect(Dictionary(Font=Dictionary(), XObject=Dictionary()))
        self.structure = Structure(self.file)
        self.links: list[tuple[int, Link, Element | None]] = []
        """Each with the page that it stands on, from 0, and what it belongs to."""
        self.targets: dict[str, tuple[int, float, Target]] = {}
        """Places by id: the page, from 0, and the height from the foot at which a reader shows it."""

    def page(self, marks: Iterable[Mark], paper: Paper) -> None:
        self.papers.append(paper)
        self.structure.page()
        drawn = b"\n".join(self._drawn(marks))
        size = [0, 0, paper.width, paper.height]
        content = self.file.make_indirect(Stream(self.file, drawn))
        made = Dictionary(Type=Name.Page, MediaBox=size, Resources=self.resources, Contents=content)
        self.file.pages.append(Page(self.file.make_indirect(made)))

    def _drawn(self, marks: Iterable[Mark]) -> Iterator[bytes]:
        """The operators that draw the marks of a page (annex A), in stretches that belong to one part of the report each (14.6).
        What is in force already is not said again."""
        number = len(self.file.pages)
        font, colour, text = ("", 0.0), "", False
        element: Element | None = None
        """What the next marks belong to."""
        begun: Element | bool | None = False
        """What the stretch that is open belongs to; False if none is."""
        for mark in marks:
            if isinstance(mark, Belongs):
                element = self.structure.element(mark.path)
                continue
            if isinstance(mark, Link):
                self.links.append((number, mark, element))
                continue
            if isinstance(mark, Target):
                self.targets.setdefault(mark.id, (number, self.y(mark.y - _ABOVE_TARGET), mark))
                continue
            if text and (begun is not element or not isinstance(mark, Words)):
                yield b"ET"
                text = False
            if begun is not element:
                if begun is not False:
                    yield b"EMC"
                yield self._begin(element)
                begun = element
            if isinstance(mark, Rule):
                yield from self._rule(mark)
                colour = ""
            elif isinstance(mark, Picture):
                yield self._picture(mark, element)
            elif isinstance(mark, Curves):
                if colour != mark.colour:
                    colour = mark.colour
                    yield _colour(colour) + b" rg"
                yield self._curves(mark)
            else:
                if not text:
                    yield b"BT"
                    text = True
                glyphs = self._glyphs(mark.face)
                if font != (glyphs.name, mark.size):
                    font = glyphs.name, mark.size
                    yield b"/%s %.6g Tf" % (glyphs.name.encode(), mark.size)
                if colour != mark.colour:
                    colour = mark.colour
                    yield _colour(colour) + b" rg"
                yield self._words(mark, glyphs)
        if text:
            yield b"ET"
        if begun is not False:
            yield b"EMC"

    def _begin(self, element: Element | None) -> bytes:
        """Opens a stretch of a page (14.6.1)."""
        if element is None:
            return b"/Artifact BMC"
        return b"/%s <</MCID %d>> BDC" % (element.tag.type.encode(), self.structure.stretch(element))

    def _words(self, mark: Words, glyphs: Glyphs) -> bytes:
        place = b"1 0 0 1 %.3f %.3f Tm " % (self.x(mark.x), self.y(mark.baseline))
        if not mark.step:
            said = place + glyphs.shown(mark.text) + b" TJ"
            # A hyphen that is none of the report's reads as one that may be left out (14.9.4, "ActualText").
            return (
                said + b" /Span <</ActualText <FEFF00AD>>> BDC " + glyphs.shown(HYPHEN) + b" TJ EMC"
                if mark.hyphen
                else said
            )
        further = mark.step - glyphs.width(mark.text[0]) * mark.size
        return place + b"%.4f Tc %s TJ 0 Tc" % (further, glyphs.repeated(mark.text[0], len(mark.text)))

    def x(self, right_of_left: float, page: int = -1) -> float:
        return self.papers[page].left + right_of_left

    def y(self, below_top: float, page: int = -1) -> float:
        """PDF counts from the foot of the sheet; the core from the top of the text area."""
        paper = self.papers[page]
        return paper.height - paper.top - below_top

    def _glyphs(self, face: Face) -> Glyphs:
        found = self.fonts.get(face)
        if found is None:
            found = self.fonts[face] = Glyphs(face, f"F{len(self.fonts)}")
        return found

    def _rule(self, mark: Rule) -> Iterator[bytes]:
        x, y = self.x(mark.x), self.y(mark.y + mark.height)
        if mark.fill and not mark.weight:
            yield _colour(mark.fill) + b" rg"
            yield b"%.3f %.3f %.3f %.3f re f" % (x, y, mark.width, mark.height)
            return
        yield b"%.3f w %s RG" % (mark.weight, _colour(mark.colour))
        if not (mark.height and mark.width):
            dash, plain = (b"[%.3g] 0 d " % mark.dash, b" [] 0 d") if mark.dash else (b"", b"")
            yield dash + b"%.3f %.3f m %.3f %.3f l S" % (x, y, x + mark.width, y + mark.height) + plain
            return
        if mark.fill:
            yield _colour(mark.fill) + b" rg"
        yield b"%.3f %.3f %.3f %.3f re %s" % (x, y, mark.width, mark.height, b"B" if mark.fill else b"S")

    def _curves(self, mark: Curves) -> bytes:
        """A formula, and its words where it stands, which are not seen (9.3.6): it is found and copied by them."""
        x, y = self.x(mark.x), self.y(mark.baseline)
        said, width = list[bytes](), 0.0
        at = 0
        for length, face in self.typefaces.parted(mark.says, self.typefaces.face(_WORDS_OF_FORMULAS)):
            glyphs, words = self._glyphs(face), mark.says[at : at + length]
            said.append(b"/%s %.6g Tf %s TJ" % (glyphs.name.encode(), mark.size, glyphs.shown(words)))
            width += face.width(words) * mark.size
            at += length
        scale = 100 * mark.width / width if width else 100.0
        hidden = b"BT 3 Tr %.4g Tz 1 0 0 1 %.3f %.3f Tm %s ET" % (scale, x, y, b" ".join(said))
        drawn = b"%.5g 0 0 %.5g %.3f %.3f cm %s f" % (mark.size, -mark.size, x, y, operators(mark.outline))
        return b"q %s %s Q" % (hidden, drawn)

    def _picture(self, mark: Picture, element: Element | None) -> bytes:
        x, y = self.x(mark.x), self.y(mark.y + mark.height)
        if element:
            element.box = x, y, x + mark.width, y + mark.height
        name = self.images.get(mark.source)
        if name is None:
            name = self.images[mark.source] = self._put_picture(mark.source)
        if not name:
            return b"1 w %s RG %.3f %.3f %.3f %.3f re S" % (_colour(_FRAME), x, y, mark.width, mark.height)
        return b"q %.3f 0 0 %.3f %.3f %.3f cm /%s Do Q" % (mark.width, mark.height, x, y, name.encode())

    def _put_picture(self, source: str) -> str:
        if source not in self.pictures:
            return ""
        try:
            picture = put_picture(self.file, self.pictures[source])
        except (OSError, ValueError):
            log.exception("The picture “%s” could not be read", source)
            return ""
        name = f"P{len(self.images)}"
        self.resources.XObject[f"/{name}"] = picture
        return name

    def finish(self, about: About, counts: Iterable[Count]) -> bytes:
        """The file. ``counts``: how its pages are numbered."""
        for glyphs in self.fonts.values():
            self.resources.Font[f"/{glyphs.name}"] = glyphs.put_into(self.file)
        pages = [page.obj for page in self.file.pages]
        places = {
            id: Array([pages[number], Name.XYZ, 0, round(y, 2), None]) for id, (number, y, _) in self.targets.items()
        }
        self._put_links(pages, places)
        self.structure.put()
        self._put_outline()
        root = self.file.Root
        root.Lang = self.report.page.language
        root.ViewerPreferences = Dictionary(DisplayDocTitle=True)
        # The page numbers that are printed (12.4.2).
        root.PageLabels = Dictionary(Nums=[one for count in counts for one in (count.sheet - 1, _page_label(count))])
        named = {**places}
        for id, (_, _, target) in self.targets.items():
            if target.name:
                named.setdefault(target.name, places[id])
        if named:
            # Every place under its name, for links from elsewhere (12.3.2.3: a name tree in order).
            ordered = sorted((bytes(String(name)), name) for name in named)
            root.Names = Dictionary(Dests=Dictionary(Names=[one for _, name in ordered for one in (name, named[name])]))
        self._say_what_it_is(about)
        made = BytesIO()
        self.file.save(made, object_stream_mode=ObjectStreamMode.generate, deterministic_id=True)
        return made.getvalue()

    def _put_links(self, pages: list[Dictionary], places: Mapping[str, Array]) -> None:
        by_page: dict[int, list[Dictionary]] = {}
        for number, mark, element in self.links:
            area = [
                self.x(mark.x, number),
                self.y(mark.y + mark.height, number),
                self.x(mark.x + mark.width, number),
                self.y(mark.y, number),
            ]
            made = Dictionary(
                Type=Name.Annot, Subtype=Name.Link, Rect=[round(one, 2) for one in area], Border=[0, 0, 0]
            )
            if not mark.name:
                made.A, made.Contents = Dictionary(S=Name.URI, URI=mark.to.encode()), mark.to
            elif mark.to in places:
                made.Dest, made.Contents = places[mark.to], mark.name
            else:
                continue
            annotation = self.file.make_indirect(made)
            if element:
                self.structure.link(element, annotation)
            by_page.setdefault(number, []).append(annotation)
        for number, found in by_page.items():
            pages[number].Annots = Array(found)

    def _put_outline(self) -> None:
        above: list[tuple[int, OutlineItem]] = []
        """The entries around the next one, each with the level of its heading."""
        with self.file.open_outline() as outline:
            for number, y, target in self.targets.values():
                heading = target.heading
                if heading is None or heading.by_hand == "put in":
                    continue
                words = f"{heading.number} {heading.text}" if heading.number else heading.text
                item = OutlineItem(words, number, "XYZ", left=0, top=round(y, 2))
                while above and above[-1][0] >= heading.level:
                    above.pop()
                item.is_closed = bool(above)
                (above[-1][1].children if above else outline.root).append(item)
                above.append((heading.level, item))

    def _say_what_it_is(self, about: About) -> None:
        """Who wrote it, and what it is (14.3.3; 14.3.2 and ISO 16684-1 for the same as metadata)."""
        said = self.file.docinfo
        said.Title, said.Author, said.Subject = self.report.title, ", ".join(about.authors), _subject(self.report)
        said.Creator = said.Producer = "Mellow Spine"
        if about.at:
            said.CreationDate = said.ModDate = about.at.astimezone(UTC).strftime("D:%Y%m%d%H%M%SZ")  # 7.9.4
        with self.file.open_metadata(set_pikepdf_as_editor=False, update_docinfo=False) as metadata:
            metadata["dc:title"], metadata["dc:language"] = self.report.title, {self.report.page.language}
            metadata["dc:format"], metadata["pdf:Producer"] = "application/pdf", "Mellow Spine"
            if about.authors:
                metadata["dc:creator"] = [*about.authors]
            if about.at:
                metadata["xmp:CreateDate"] = metadata["xmp:ModifyDate"] = about.at.astimezone(UTC).isoformat()


_FIGURES = {
    "decimal": Name.D,
    "upper-roman": Name.R,
    "lower-roman": Name.r,
    "upper-letter": Name.A,
    "lower-letter": Name.a,
}
"""Styles of page numbers (table 159)."""


def _page_label(count: Count) -> Dictionary:
    """How pages are numbered from one on (12.4.2); without figures they have no label."""
    made = Dictionary(St=count.start)
    if count.figures:
        made.S = _FIGURES[count.figures]
    if count.figures and count.words:
        made.P = count.words
    return made


def _colour(said: str) -> bytes:
    """Parts of red, green and blue (8.6.4.3) of ``#rrggbb``."""
    return b"%.3g %.3g %.3g" % tuple(part / 255 for part in bytes.fromhex(said[1:]))
