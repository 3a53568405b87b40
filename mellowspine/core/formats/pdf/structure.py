"""The logical structure of a file: what its pages show as a tree for those who do not see them (ISO 32000-1, 14.7 and 14.8)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from pikepdf import Array, Dictionary, Name, Object, Pdf

from ...pages.tags import Path, Tag

_OWNERS = {"ListNumbering": "List", "Scope": "Table", "ColSpan": "Table", "RowSpan": "Table"}
"""Whose attributes these are (14.8.5); what is not among them is said of the element itself."""


@dataclass(eq=False, slots=True)
class Element:
    """A part of the report. ``kids`` are further parts, stretches of pages as (page, number), both from 0, or links."""

    tag: Tag
    above: Element | None
    kids: list[Element | tuple[int, int] | Object] = field(default_factory=list)
    box: tuple[float, float, float, float] | None = None
    """Of a picture: where it stands on its page."""
    known: dict[tuple[str, str | int], Element] = field(default_factory=dict)
    """The parts with a name among the kids."""


class Structure:
    def __init__(self, file: Pdf) -> None:
        self._file = file
        self._report = Element(Tag("Document"), None)
        self._pages: list[list[Element]] = []
        """For each page what its stretches belong to."""
        self._links: list[tuple[Element, Object]] = []
        self._names: dict[str, Object] = {}

    def page(self) -> None:
        """Begins a page."""
        self._pages.append([])

    def element(self, path: Path) -> Element | None:
        """The part at the end of a path; it and those around it come to stand behind what was there, if they were not yet."""
        at = self._report
        for tag in path:
            last = at.kids[-1] if at.kids else None
            if tag.type == "Link" or tag.key is None:
                found = last if isinstance(last, Element) and last.tag == tag else None
            else:
                found = at.known.get((tag.type, tag.key))
            if found is None:
                found = Element(tag, at)
                at.kids.append(found)
                if tag.key is not None:
                    at.known[tag.type, tag.key] = found
            at = found
        return at if path else None

    def stretch(self, element: Element) -> int:
        """The number on its page of a stretch that belongs to a part (14.7.4.2)."""
        own = self._pages[-1]
        own.append(element)
        element.kids.append((len(self._pages) - 1, len(own) - 1))
        return len(own) - 1

    def link(self, element: Element, annotation: Object) -> None:
        """Has an annotation be of a part (14.7.4.3)."""
        annotation.StructParent = len(self._pages) + len(self._links)
        self._links.append((element, annotation))
        element.kids.append(annotation)

    def put(self) -> None:
        """Puts it into the file, once all pages are there."""
        file, pages = self._file, [page.obj for page in self._file.pages]
        made: dict[Element, Dictionary] = {}
        root = file.make_indirect(Dictionary(Type=Name.StructTreeRoot, RoleMap=Dictionary()))
        # The standard has six levels of headings.
        for level in (7, 8, 9):
            root.RoleMap[f"/H{level}"] = Name.H6
        # From the top, since each names what is above it; what holds others names these once they are there.
        for element in _within(self._report):
            made[element] = file.make_indirect(
                self._made(element, made[element.above] if element.above else root, pages)
            )
        for element, own in made.items():
            if "/K" not in own:
                kids = [_kid(kid, made, pages) for kid in element.kids]
                own.K = kids[0] if len(kids) == 1 else Array(kids)
        root.K = made[self._report]
        of_pages = [Array([made[one] for one in own]) for own in self._pages]
        numbered = [*of_pages, *(made[element] for element, _ in self._links)]
        root.ParentTree = file.make_indirect(
            Dictionary(Nums=[one for number, value in enumerate(numbered) for one in (number, value)])
        )
        root.ParentTreeNextKey = len(numbered)
        if named := sorted((str(one.ID), one) for one in made.values() if "/ID" in one):
            # Found by their names (14.7.2), which notes must have (ISO 14289-1, 7.9).
            root.IDTree = file.make_indirect(Dictionary(Names=[part for one in named for part in one]))
        for number, page in enumerate(pages):
            page.StructParents = number
            page.Tabs = Name.S
        file.Root.StructTreeRoot = root
        file.Root.MarkInfo = Dictionary(Marked=True)

    def _made(self, element: Element, above: Dictionary, pages: list[Dictionary]) -> Dictionary:
        """An element without what it holds, unless that stands on one page and is all words: most do."""
        tag = element.tag
        if tag.type not in self._names:
            self._names[tag.type] = Name(f"/{tag.type}")
        type, on = self._names[tag.type], {kid[0] if isinstance(kid, tuple) else -1 for kid in element.kids}
        if len(on) == 1 and (page := on.pop()) >= 0:
            numbers = [kid[1] for kid in element.kids if isinstance(kid, tuple)]
            made = Dictionary(S=type, P=above, Pg=pages[page], K=numbers[0] if len(numbers) == 1 else numbers)
        else:
            made = Dictionary(S=type, P=above)
        attributes: dict[str, Object | str | int] = {}
        for name, value in tag.says:
            if owner := _OWNERS.get(name):
                attributes["/O"] = Name(f"/{owner}")
                attributes[f"/{name}"] = Name(f"/{value}") if isinstance(value, str) else value
            else:
                made[f"/{name}"] = value
        if element.box:
            box = Array([round(one, 2) for one in element.box])
            attributes = {"/O": Name.Layout, "/BBox": box, "/Placement": Name.Block}
        if attributes:
            made.A = Dictionary(attributes)
        return made


def _within(element: Element) -> Iterator[Element]:
    yield element
    for kid in element.kids:
        if isinstance(kid, Element):
            yield from _within(kid)


def _kid(kid: Element | tuple[int, int] | Object, made: dict[Element, Dictionary], pages: list[Dictionary]) -> Object:
    if isinstance(kid, Element):
        return made[kid]
    if isinstance(kid, tuple):
        return Dictionary(Type=Name.MCR, Pg=pages[kid[0]], MCID=kid[1])
    return Dictionary(Type=Name.OBJR, Obj=kid)
