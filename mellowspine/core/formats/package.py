"""Zip packages (ISO/IEC 21320-1), checked before anything in them is read."""

from __future__ import annotations

import logging
import posixpath
import re
import zipfile
import zlib
from collections.abc import Container
from io import BytesIO

from lxml import etree

from .imported import FileRefused

log = logging.getLogger(__name__)

MOST_PARTS = 10_000
MOST_BYTES = 200 * 1024 * 1024
_COMPOUND_FILE = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"


def check_package(data: bytes, kind: str) -> None:
    """Raises FileRefused unless ``data`` is a sound zip package with harmless names and plain XML.

    ``kind`` names the format in the message. A package is refused for more than 10,000 parts, more than 200 MB
    unpacked, names that leave the package, encryption, damage, document type declarations, or XML that is malformed
    or nested deeper than 256 elements (the limit of libxml2).
    """
    if data.startswith(_COMPOUND_FILE):
        raise FileRefused("The file is protected with a password or of an older format; save it unprotected as .docx.")
    try:
        package = zipfile.ZipFile(BytesIO(data))
        parts = package.infolist()
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
        log.info("A package could not be opened: %r", error)
        raise FileRefused(
            f"The file is not an {kind}, or it is cut off; save it again in the program it is from."
        ) from None
    if len(parts) > MOST_PARTS:
        raise FileRefused("The file has more than 10,000 parts; save it again in the program it is from.")
    if sum(part.file_size for part in parts) > MOST_BYTES:
        raise FileRefused(
            "The file unpacks to more than 200 MB; make its pictures smaller, or bring it in by sections."
        )
    left = MOST_BYTES
    for part in parts:
        if part.flag_bits & 1:
            raise FileRefused("The file is encrypted; take its password off and bring it in again.")
        name = part.filename.replace("\\", "/")
        if name.startswith("/") or ".." in name.split("/") or ":" in name or "\0" in name:
            raise FileRefused(
                "The file holds parts with names that lead out of it; save it again in the program it is from."
            )
        try:
            with package.open(part) as stream:
                content = stream.read(left + 1)
        except (zipfile.BadZipFile, OSError, EOFError, ValueError, NotImplementedError, zlib.error) as error:
            log.info("Part %s of a package could not be read: %r", name, error)
            raise FileRefused("The file is damaged; save it again in the program it is from.") from None
        left -= len(content)
        if left < 0:
            raise FileRefused(
                "The file unpacks to more than 200 MB; make its pictures smaller, or bring it in by sections."
            )
        if is_xml(name):
            _check_xml(content)


def is_xml(name: str) -> bool:
    return name.lower().endswith((".xml", ".rels"))


def parse(content: bytes) -> etree._Element | None:
    """The root of some XML from outside; None if it is malformed, or nested deeper than 256 elements."""
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        return etree.fromstring(content, parser)
    except (etree.XMLSyntaxError, ValueError):
        return None


def _check_xml(content: bytes) -> None:
    root = parse(content)
    if root is None:
        root = parse(_without_deep_formulas(content))
    if root is None:
        raise FileRefused(
            "The XML inside the file is malformed or nested too deeply; save it again in the program it is from."
        )
    if root.getroottree().docinfo.doctype:  # type: ignore[attr-defined]
        raise FileRefused("The XML inside the file declares entities; save it again in the program it is from.")


_MATHEMATICS = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
_DEEP = 100
"""How deep elements of a formula may stand in each other before they are cut: no formula that is drawn is so deep."""


def _without_deep_formulas(content: bytes) -> bytes:
    """XML with formulas that are nested too deep cut there, with their characters in the place of what is cut; itself if it has none."""
    if b"oMath" not in content:
        return content
    try:
        root = etree.fromstring(
            content, etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True)
        )
    except (etree.XMLSyntaxError, ValueError):
        return content
    for formula in [*root.iter(f"{_MATHEMATICS}oMath")]:
        row, depth = [formula], 0
        while row and depth < _DEEP:
            row, depth = [inner for one in row for inner in one], depth + 1
        for one in row:
            words = "".join(letters.text or "" for letters in one.iter(f"{_MATHEMATICS}t"))
            one.clear()
            letters = etree.SubElement(etree.SubElement(one, f"{_MATHEMATICS}r"), f"{_MATHEMATICS}t")
            letters.text = words
    return etree.tostring(root)


_STRICT = re.compile(rb"http://purl\.oclc\.org/ooxml/(\w+)/")
"""Names as the Strict variant has them (ISO/IEC 29500-1, A; the Transitional ones are in part 4)."""

_RELATION = "{http://schemas.openxmlformats.org/package/2006/relationships}Relationship"


def mended(data: bytes) -> bytes:
    """A sound package as libraries can read it: under the names of the Transitional variant, and naming no part that it lacks."""
    with zipfile.ZipFile(BytesIO(data)) as package:
        parts = {part.filename: package.read(part) for part in package.infolist()}
    found = {name: _mended(name, content, parts) if is_xml(name) else content for name, content in parts.items()}
    if found == parts:
        return data
    made = BytesIO()
    with zipfile.ZipFile(made, "w") as package:
        for name, content in found.items():
            package.writestr(name, content)
    return made.getvalue()


def _mended(name: str, content: bytes, parts: Container[str]) -> bytes:
    content = _STRICT.sub(rb"http://schemas.openxmlformats.org/\1/2006/", content)
    if b"oMath" in content and parse(content) is None:
        content = _without_deep_formulas(content)
    root = parse(content) if name.lower().endswith(".rels") else None
    if root is None:
        return content
    folder = posixpath.dirname(posixpath.dirname(name))
    lost = [
        one
        for one in root.iter(_RELATION)
        if one.get("TargetMode") != "External"
        and posixpath.normpath(posixpath.join("/", folder, one.get("Target") or "")).lstrip("/") not in parts
    ]
    for one in lost:
        root.remove(one)
    return etree.tostring(root) if lost else content
