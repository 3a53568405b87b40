"""Packages of Office Open XML that are written (ISO/IEC 29500-2): parts, what leads from one to another, and the file they are in.

The same parts give the same bytes: they stand in the order in which they were added, and have one date.
"""

from __future__ import annotations

import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from io import BytesIO

from lxml import etree
from lxml.etree import _Element

_RELATIONS = "http://schemas.openxmlformats.org/package/2006/relationships"
_TYPES = "http://schemas.openxmlformats.org/package/2006/content-types"
_OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_KINDS: Mapping[str, str] = {
    "core-properties": "http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties"
}
"""What relationships are called that are not named as those of the first, with their kind behind."""
_DATE = (1980, 1, 1, 0, 0, 0)
"""The first that a zip package can have: no part has another, so that nothing but a change makes another file."""
_PICTURES: Mapping[str, str] = {"png": "image/png", "jpg": "image/jpeg", "gif": "image/gif"}
_XML = "application/xml"
_TYPE = "application/vnd.openxmlformats-officedocument.wordprocessingml.{}+xml"


def word_type(kind: str) -> str:
    """The type of a part of text documents, such as ``styles``."""
    return _TYPE.format(kind)


@dataclass
class Part:
    """A part of a package, by its name from the root on. ``type`` is its media type; empty for pictures, which have one by ending."""

    name: str
    data: bytes
    type: str = ""
    relations: dict[tuple[str, str, bool], str] = field(default_factory=dict)
    """Ids by kind and target, and whether that is outside the package."""

    def relate(self, kind: str, target: str, outside: bool = False) -> str:
        """The id of what leads to a target; one for each target. ``kind`` is such as ``styles``."""
        return self.relations.setdefault((kind, target, outside), f"rId{len(self.relations) + 1}")


class Package:
    def __init__(self) -> None:
        self.parts: dict[str, Part] = {}
        self._root = Part("", b"")

    def add(self, name: str, data: bytes = b"", type: str = "") -> Part:
        """Adds a part. One that is there already stays."""
        return self.parts.setdefault(name, Part(name, data, type))

    def relate(self, kind: str, name: str) -> None:
        """Has the package itself lead to a part."""
        self._root.relate(kind, name)

    def saved(self) -> bytes:
        stream = BytesIO()
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as file:

            def put(name: str, data: bytes) -> None:
                entry = zipfile.ZipInfo(name, _DATE)
                # What is compressed already gains nothing.
                entry.compress_type = zipfile.ZIP_STORED if _ending(name) in _PICTURES else zipfile.ZIP_DEFLATED
                file.writestr(entry, data)

            put("[Content_Types].xml", self._types())
            put("_rels/.rels", _relations(self._root))
            for part in self.parts.values():
                put(part.name, part.data)
                if part.relations:
                    folder, _, own = part.name.rpartition("/")
                    put(f"{folder}/_rels/{own}.rels", _relations(part))
        return stream.getvalue()

    def _types(self) -> bytes:
        root = etree.Element(f"{{{_TYPES}}}Types", nsmap={None: _TYPES})  # type: ignore[dict-item]
        endings = {_ending(name): "" for name in self.parts}
        known = {"rels": "application/vnd.openxmlformats-package.relationships+xml", "xml": _XML}
        known |= {one: _PICTURES[one] for one in endings if one in _PICTURES}
        for ending, type in known.items():
            etree.SubElement(root, f"{{{_TYPES}}}Default", Extension=ending, ContentType=type)
        for part in self.parts.values():
            if part.type:
                etree.SubElement(root, f"{{{_TYPES}}}Override", PartName=f"/{part.name}", ContentType=part.type)
        return _serialised(root)


def _ending(name: str) -> str:
    return name.rpartition(".")[2]


def _relations(part: Part) -> bytes:
    """What leads from a part to others. Targets within the package are named from the part's own folder."""
    root = etree.Element(f"{{{_RELATIONS}}}Relationships", nsmap={None: _RELATIONS})  # type: ignore[dict-item]
    folder = part.name.rpartition("/")[0]
    for (kind, target, outside), id in part.relations.items():
        if outside:
            inside = target
        elif folder and target.startswith(f"{folder}/"):
            inside = target[len(folder) + 1 :]
        else:
            inside = f"/{target}" if folder else target
        said = {
            "Id": id,
            "Type": _KINDS.get(kind) or f"{_OFFICE}/{kind}",
            "Target": inside,
            **({"TargetMode": "External"} if outside else {}),
        }
        etree.SubElement(root, f"{{{_RELATIONS}}}Relationship", said)
    return _serialised(root)


def _serialised(root: _Element) -> bytes:
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8", standalone=True)
