"""A census of files: what is in them that somebody sees, counted by the standards and by no reader of ours.

Of Office Open XML (ISO/IEC 29500-1, its clauses from memory): the words that are shown, and how often each thing occurs of which a
report has to say that it does not have it so. Elements are known by the standard's lists of what runs, paragraphs, cells, tables,
rows and sections may say; one that is in none of them is an error here, so that none is passed over.
"""

from __future__ import annotations

import re
import unicodedata
import zipfile
from collections import Counter
from collections.abc import Callable
from io import BytesIO
from posixpath import dirname, join, normpath

from lxml import etree
from lxml.etree import _Element

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
R = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}"
MC = "{http://schemas.openxmlformats.org/markup-compatibility/2006}"
A = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
C = "{http://schemas.openxmlformats.org/drawingml/2006/chart}"
DGM = "{http://schemas.openxmlformats.org/drawingml/2006/diagram}"
WP = "{http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing}"
V = "{urn:schemas-microsoft-com:vml}"
M = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"

MATHEMATICS = frozenset(
    ["acc", "bar", "borderBox", "box", "d", "deg", "den", "e", "eqArr", "f", "fName", "func", "groupChr", "lim", "limLow", "limUpp", "m", "mr",
     "nary", "num", "oMath", "oMathPara", "phant", "r", "rad", "sPre", "sSub", "sSubSup", "sSup", "sub", "sup", "t"]
)  # fmt: skip
"""22.1.2: the elements that hold something."""
LOOKS_OF_FORMULAS = frozenset(
    [
        "color",
        "sz",
        "u",
        "strike",
        "dstrike",
        "highlight",
        "shd",
        "vanish",
        "caps",
        "smallCaps",
        "position",
        "bdr",
        "emboss",
    ]
)

SHOWN = ""
"""Of a property: a report has it. Of one that says nothing that is seen: likewise."""

RUN = {
    # 17.3.2: what a report has
    **dict.fromkeys(("rStyle", "rFonts", "b", "i", "color", "sz", "vanish", "strike", "caps", "smallCaps", "highlight", "vertAlign"), SHOWN),
    # what is not seen in print, is of other scripts, or is said by something else
    **dict.fromkeys(("bCs", "iCs", "szCs", "cs", "lang", "noProof", "webHidden", "specVanish", "snapToGrid", "kern", "oMath",
                     "ins", "del", "moveFrom", "moveTo", "rPrChange"), SHOWN),
    "u": "line-kind", "dstrike": "struck-twice", "shd": "pattern", "position": "raised", "bdr": "around-words", "outline": "letter-effect",
    "shadow": "letter-effect", "emboss": "letter-effect", "imprint": "letter-effect", "effect": "letter-effect",
    "spacing": "letter-spacing", "w": "letter-spacing", "fitText": "letter-spacing", "em": "emphasis-mark", "rtl": "right-to-left",
    "eastAsianLayout": "turned-text",
}  # fmt: skip
PARAGRAPH = {
    # 17.3.1
    **dict.fromkeys(("pStyle", "keepNext", "keepLines", "pageBreakBefore", "widowControl", "numPr", "tabs", "spacing", "jc", "outlineLvl",
                     "sectPr", "contextualSpacing"), SHOWN),
    **dict.fromkeys(("rPr", "pPrChange", "suppressLineNumbers", "suppressAutoHyphens", "kinsoku", "wordWrap", "overflowPunct", "topLinePunct",
                     "autoSpaceDE", "autoSpaceDN", "adjustRightInd", "snapToGrid", "mirrorIndents", "suppressOverlap", "textAlignment",
                     "textboxTightWrap", "divId", "cnfStyle"), SHOWN),
    "ind": "right-indent", "pBdr": "line-look", "shd": "pattern", "framePr": "frame", "textDirection": "turned-text",
    "bidi": "right-to-left",
}  # fmt: skip
CELL = {
    # 17.4.69 and beside it
    **dict.fromkeys(("tcW", "gridSpan", "vMerge", "hMerge", "tcMar", "vAlign"), SHOWN),
    **dict.fromkeys(("cnfStyle", "noWrap", "tcFitText", "hideMark", "headers", "cellIns", "cellDel", "cellMerge", "tcPrChange"), SHOWN),
    "tcBorders": "line-look", "shd": "pattern", "textDirection": "turned-text",
}  # fmt: skip
TABLE = {
    # 17.4.59 and beside it
    **dict.fromkeys(("tblW", "tblLayout", "tblCellMar", "jc", "tblInd"), SHOWN),
    **dict.fromkeys(("tblLook", "tblOverlap", "tblStyleRowBandSize", "tblStyleColBandSize", "tblCaption", "tblDescription", "tblPrChange"), SHOWN),
    "tblStyle": "table-style", "tblBorders": "line-look", "shd": "pattern", "tblpPr": "table-place", "bidiVisual": "right-to-left",
    "tblCellSpacing": "cell-spacing",
}  # fmt: skip
ROW = {
    # 17.4.81 and beside it; that a row is not parted is so for all of a report
    **dict.fromkeys(("tblHeader", "cantSplit", "gridBefore", "gridAfter", "wBefore", "wAfter"), SHOWN),
    **dict.fromkeys(("cnfStyle", "divId", "hidden", "ins", "trPrChange"), SHOWN),
    "trHeight": "row-height", "jc": "table-place", "tblCellSpacing": "cell-spacing", "del": "tracked-deletion",
}  # fmt: skip
SECTION = {
    # 17.6
    **dict.fromkeys(("headerReference", "footerReference", "footnotePr", "endnotePr", "type", "pgSz", "pgMar", "titlePg"), SHOWN),
    **dict.fromkeys(("paperSrc", "formProt", "noEndnote", "rtlGutter", "docGrid", "printerSettings", "sectPrChange"), SHOWN),
    "cols": "columns", "pgNumType": "page-numbers", "lnNumType": "line-numbers", "pgBorders": "page-frame", "vAlign": "page-place",
    "textDirection": "turned-text", "bidi": "right-to-left",
}  # fmt: skip


class NotInTheStandard(AssertionError):
    """An element stands where no list of the standard has it."""


def tell(element: _Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _val(element: _Element, name: str = "val") -> str | None:
    return element.get(f"{W}{name}")


def _is_on(element: _Element) -> bool:
    return _val(element) not in ("0", "false", "off", "none")


def _line(element: _Element) -> bool:
    return _val(element) not in (None, "nil", "none")


def _odd(element: _Element) -> bool:
    """Whether a line (17.18.2) is drawn that is no plain one, or between paragraphs, beside them, or across a cell."""
    drawn = _line(element) and _val(element) not in ("single", "thick", "double", "dotted", "dashed")
    return drawn or (_line(element) and tell(element) in ("between", "bar", "tl2br", "tr2bl"))


def _pattern(element: _Element) -> bool:
    """Whether shading is a pattern of lines (17.18.78), and no colour, nor points of one."""
    return re.fullmatch(r"clear|nil|solid|pct\d+", _val(element) or "clear") is None


def _other_than(*plain: str) -> Callable[[_Element], bool]:
    return lambda element: (_val(element) or plain[0]) not in plain


SEEN: dict[str, Callable[[_Element], bool]] = {
    "u": _other_than("single", "none", "words"), "highlight": _other_than("none"), "vertAlign": _other_than("baseline"),
    "position": _other_than("0"), "effect": _other_than("none"), "em": _other_than("none"), "w": _other_than("100", "100%"), "bdr": _line,
    "shd": _pattern, "eastAsianLayout": lambda one: bool(one.attrib), "framePr": lambda one: bool(one.attrib),
    "textDirection": _other_than("lrTb", "lr"), "pBdr": lambda one: any(map(_odd, one)), "tcBorders": lambda one: any(map(_odd, one)),
    "tblBorders": lambda one: any(map(_odd, one)), "tblpPr": lambda one: True, "pgBorders": lambda one: any(map(_line, one)),
    "trHeight": lambda one: _val(one, "hRule") == "exact" and (_val(one) or "0") != "0", "tblCellSpacing": lambda one: _val(one, "w") not in (None, "0"),
    "lnNumType": lambda one: (_val(one, "countBy") or "0") != "0", "vAlign": _other_than("top"),
}  # fmt: skip
"""Whether a property says something that is seen, where it is no toggle."""


def said(properties: _Element | None, known: dict[str, str]) -> set[str]:
    """The kinds of what properties say and a report does not have."""
    found = set()
    for one in properties if properties is not None else ():
        if not isinstance(one.tag, str) or not one.tag.startswith(W):
            continue  # of another namespace: whoever does not know it passes it over (part 3, 8)
        name = tell(one)
        if name not in known:
            raise NotInTheStandard(f"{tell(properties)} holds {name}")
        seen = SEEN.get(name, _is_on)
        if name == "spacing":
            seen = _other_than("0")
        elif name == "jc":
            seen = _other_than("left", "start")
        elif name == "ind":
            seen = lambda element: any((_val(element, side) or "0").startswith("-") for side in ("right", "end"))  # noqa: E731
        if known[name] and seen(one):
            found.add(known[name])
    return found


class Package:
    """The parts of a package, and what their relationships lead to."""

    def __init__(self, data: bytes) -> None:
        with zipfile.ZipFile(BytesIO(data)) as package:
            self.parts = {name: package.read(name) for name in package.namelist()}
        found = self.of_kind("", "officeDocument")
        self.main = found[0] if found else "word/document.xml"

    def relations(self, part: str) -> dict[str, tuple[str, str, bool]]:
        """Kind, target and whether it is outside, by id."""
        name = join(dirname(part), "_rels", f"{part.rpartition('/')[2]}.rels")
        if name not in self.parts:
            return {}
        root = etree.fromstring(self.parts[name])
        return {
            one.get("Id") or "": (
                (one.get("Type") or "").rpartition("/")[2],
                normpath(join("/", dirname(part), one.get("Target") or "")).lstrip("/"),
                one.get("TargetMode") == "External",
            )
            for one in root
        }

    def of_kind(self, part: str, kind: str) -> list[str]:
        return [
            target
            for name, target, outside in self.relations(part).values()
            if name == kind and not outside and target in self.parts
        ]

    def root(self, part: str) -> _Element:
        return etree.fromstring(self.parts[part])

    def first(self, kind: str) -> _Element | None:
        found = self.of_kind(self.main, kind)
        return self.root(found[0]) if found else None


COMPUTED = {"REF", "PAGEREF", "SEQ", "STYLEREF"}
"""Fields that a report computes: their last results are not its words."""
MADE = {"TOC", "TOA", "INDEX"}
"""Fields that become tables, made anew."""


class Census:
    """What is in a document. ``words``: those that are shown. ``computed``: those that the report may say otherwise. ``kinds``: how
    often each thing occurs that it does not have; a thing of which not the number counts is in ``some``."""

    def __init__(self, data: bytes) -> None:
        self.package = Package(data)
        self.words: list[str] = []
        self.computed: list[str] = []
        self.kinds: Counter[str] = Counter()
        self.some: set[str] = set()
        self._used: set[str] = set()
        self._layouts: set[_Element] = set()
        """Tables that are there to lay out the page."""
        styles = self.package.first("styles")
        self._styles = (
            {one.get(f"{W}styleId") or "": one for one in styles.iter(f"{W}style")} if styles is not None else {}
        )
        self._plain = next((key for key, one in self._styles.items() if one.get(f"{W}type") == "paragraph" and one.get(f"{W}default") in ("1", "true")), "")  # fmt: skip
        self._fields: list[list[object]] = []
        """Of open fields the instruction and whether the result is reached."""
        body = self.package.root(self.package.main).find(f"{W}body")
        assert body is not None
        self._walk(body, False)
        for section in body.iter(f"{W}sectPr"):
            if tell(section.getparent()) in ("pPr", "body"):
                for kind in said(section, SECTION):
                    (self.some.add if kind in ("columns", "page-numbers") else self._count)(kind)
        for kind in ("footnote", "endnote"):
            notes = self.package.first(f"{kind}s")
            wanted = [one.get(f"{W}id") for one in body.iter(f"{W}{kind}Reference")]
            for note in notes.iter(f"{W}{kind}") if notes is not None else ():
                if note.get(f"{W}id") in wanted and note.get(f"{W}type") in (None, "normal"):
                    self._walk(note, False)
        self._of_styles()

    def _count(self, kind: str) -> None:
        self.kinds[kind] += 1

    def _code(self) -> str:
        return next((str(code).split()[0].upper() for code, _ in self._fields if str(code).split()[:1] and str(code).split()[0].upper() in MADE | COMPUTED), "")  # fmt: skip

    def _walk(self, element: _Element, hidden: bool) -> None:
        for one in element:
            name = tell(one)
            if (
                not name
                or one.tag == f"{MC}Fallback"
                or (name in ("del", "moveFrom") and one.tag.startswith(W) and name != "delText")
            ):
                if name in ("del", "moveFrom") and tell(element) not in ("rPr", "trPr"):
                    self._count("tracked-deletion")
                continue
            if name in ("ins", "moveTo") and any(True for _ in one.iter(f"{W}r", f"{M}r")):
                self._count("tracked-insertion")
            if one.tag.startswith(M):
                self._of_mathematics(one, hidden)
                continue
            handler = getattr(self, f"_of_{name}", None) if one.tag.startswith(W) else None
            if handler is None or handler(one, hidden):
                self._walk(one, hidden)

    def _of_mathematics(self, element: _Element, hidden: bool) -> None:
        """22.1.2: of formulas the characters, each by itself, and what stands around their parts."""
        name = tell(element)
        assert name in MATHEMATICS or name.endswith("Pr"), name
        if name.endswith("Pr"):
            return
        if name == "phant" and any(
            one.get(f"{M}val") in ("0", "off", "false") for one in element.iterfind(f"{M}phantPr/{M}show")
        ):
            return
        if name == "borderBox":
            self._count("formula-box")
        if name == "oMath" and any(tell(one) in LOOKS_OF_FORMULAS for one in element.iterfind(f".//{M}r/{W}rPr/*")):
            self._count("formula-look")
        if name == "t":
            self.words += [f" {one} " for one in re.findall(r"\w", unicodedata.normalize("NFKC", element.text or ""))]
        self._walk(element, hidden)

    def _of_p(self, paragraph: _Element, hidden: bool) -> bool:
        before = self._code() in MADE
        self.words.append("\n")
        self._walk(paragraph, hidden)
        self.words.append("\n")
        if before or self._code() in MADE or self._made_in(paragraph):
            return False  # a line of a table, which is made anew: nothing of its look is kept, and nothing is to be said of it
        properties = paragraph.find(f"{W}pPr")
        for kind in said(properties, PARAGRAPH):
            self._count(kind)
        style = properties.find(f"{W}pStyle") if properties is not None else None
        self._use(_val(style) if style is not None else None)
        return False

    def _made_in(self, paragraph: _Element) -> bool:
        codes = "".join(one.text or "" for one in paragraph.iter(f"{W}instrText")).split()
        return bool(codes) and codes[0].upper() in MADE

    def _use(self, key: str | None) -> None:
        key = key if key in self._styles else self._plain
        seen: set[str] = set()
        while key and key in self._styles and key not in seen:
            seen.add(key)
            self._used.add(key)
            based = self._styles[key].find(f"{W}basedOn")
            key = _val(based) if based is not None else None

    def _of_styles(self) -> None:
        """What the styles say that are used, each once."""
        for key in self._used:
            for kind in said(self._styles[key].find(f"{W}rPr"), RUN):
                self._count(kind)
            for kind in said(self._styles[key].find(f"{W}pPr"), PARAGRAPH):
                self._count(kind)

    def _of_r(self, run: _Element, hidden: bool) -> bool:
        properties = run.find(f"{W}rPr")
        vanish = properties.find(f"{W}vanish") if properties is not None else None
        hidden = hidden or (vanish is not None and _is_on(vanish))
        shown = any((one.text or "").strip() for one in run.findall(f"{W}t"))
        note = any(tell(one) in ("footnoteReference", "endnoteReference", "footnoteRef", "endnoteRef") for one in run)
        if shown and not hidden and not note and self._code() not in MADE:
            for kind in said(properties, RUN):
                self._count(kind)
            style = properties.find(f"{W}rStyle") if properties is not None else None
            if style is not None and _val(style) in self._styles:
                named = self._styles[_val(style) or ""].find(f"{W}name")
                if (_val(named) if named is not None else "").lower().replace(" ", "") not in (
                    "hyperlink",
                    "followedhyperlink",
                ):
                    self._use(_val(style))
        self._walk(run, hidden)
        return False

    def _of_t(self, words: _Element, hidden: bool) -> bool:
        if self._fields and not self._fields[-1][1]:
            return False
        if not (words.text or "").strip():
            self.words.append(words.text or "")
        else:
            code = self._code()
            if hidden:
                self._count("hidden")
            elif code in MADE | COMPUTED:
                self.computed.append(f" {words.text or ''} ")
            else:
                self.words.append(words.text or "")
        return False

    def _of_tab(self, one: _Element, hidden: bool) -> bool:
        self.words.append(" ")
        return False

    _of_br = _of_cr = _of_tab

    def _of_fldChar(self, sign: _Element, hidden: bool) -> bool:
        match _val(sign, "fldCharType"):
            case "begin":
                self._fields.append(["", False])
            case "separate" if self._fields:
                self._fields[-1][1] = True
            case "end" if self._fields:
                self._fields.pop()
        return False

    def _of_instrText(self, words: _Element, hidden: bool) -> bool:
        if self._fields:
            self._fields[-1][0] = f"{self._fields[-1][0]}{words.text or ''}"
        return False

    def _of_fldSimple(self, one: _Element, hidden: bool) -> bool:
        self._fields.append([_val(one, "instr") or "", True])
        self._walk(one, hidden)
        self._fields.pop()
        return False

    def _of_tbl(self, table: _Element, hidden: bool) -> bool:
        above = next(table.iterancestors(f"{W}tbl"), None)
        if above is not None and above not in self._layouts:
            self._count("nested-table")
            return True
        if len(self._layouts.intersection(table.iterancestors(f"{W}tbl"))) < 20 and self._lays_out(table):
            self._layouts.add(table)
            self._count("layout-table")
            return True
        properties = table.find(f"{W}tblPr")
        found = said(properties, TABLE | {"tblStyle": SHOWN})
        style = properties.find(f"{W}tblStyle") if properties is not None else None
        if self._says_more(_val(style) if style is not None else None):
            self.some.add("table-style")
        inside = [one for one in table.iter() if next(one.iterancestors(f"{W}tbl"), None) is table]
        """What is its own, and not of tables within it: of these it is said that they are tables within it."""
        for row in (one for one in inside if tell(one) == "tr"):
            found |= said(row.find(f"{W}trPr"), ROW | {"del": SHOWN}) | said(row.find(f"{W}tblPrEx"), TABLE)
        for cell in (one for one in inside if tell(one) == "tc"):
            found |= said(cell.find(f"{W}tcPr"), CELL)
        for kind in found:
            self._count(kind)
        return True

    def _lays_out(self, table: _Element) -> bool:
        """Whether a table holds tables, and has itself no line, by itself or by its style, or a single column."""
        inner = [one for one in table.iter(f"{W}tbl") if one is not table]
        if not inner:
            return False
        mine = [one for one in table.iter() if next(one.iterancestors(f"{W}tbl"), None) is table]
        rows = [one for one in mine if tell(one) == "tr"]
        if all(
            sum(tell(one) == "tc" and next(one.iterancestors(f"{W}tr")) is row for one in mine) <= 1 for row in rows
        ):
            return True
        style = table.find(f"{W}tblPr/{W}tblStyle")
        key = _val(style) if style is not None else None
        plain = next((one for one, style in self._styles.items() if style.get(f"{W}type") == "table" and style.get(f"{W}default") in ("1", "true")), None)  # fmt: skip
        key = key if key in self._styles else plain
        seen: set[str] = set()
        said = [one for one in mine if tell(one) in ("tblBorders", "tcBorders")]
        while key and key in self._styles and key not in seen:
            seen.add(key)
            said += [one for one in self._styles[key].iter() if tell(one) in ("tblBorders", "tcBorders")]
            based = self._styles[key].find(f"{W}basedOn")
            key = _val(based) if based is not None else None
        return not any(_line(side) for borders in said for side in borders)

    def _says_more(self, key: str | None) -> bool:
        """Whether a table style (17.7.6), or the one of tables that name none, says more of words than bold, italic and their colour."""
        plain = next((one for one, style in self._styles.items() if style.get(f"{W}type") == "table" and style.get(f"{W}default") in ("1", "true")), None)  # fmt: skip
        key = key if key in self._styles else plain
        seen: set[str] = set()
        while key and key in self._styles and key not in seen:
            seen.add(key)
            style = self._styles[key]
            if any(len(one) for one in style.iter(f"{W}pPr")):
                return True
            if any(tell(one) not in ("b", "bCs", "i", "iCs", "color", "lang", "szCs") and _is_on(one) for words in style.iter(f"{W}rPr") for one in words):  # fmt: skip
                return True
            based = style.find(f"{W}basedOn")
            key = _val(based) if based is not None else None
        return False

    def _of_commentReference(self, one: _Element, hidden: bool) -> bool:
        self._count("comment")
        return False

    def _of_drawing(self, drawing: _Element, hidden: bool) -> bool:
        words = len([*drawing.iter(f"{W}txbxContent")])
        for _ in range(words):
            self._count("text-box")
        inside = {
            tell(one) for one in drawing.iter() if one.tag in (f"{A}blip", f"{C}chart", f"{DGM}relIds", f"{V}imagedata")
        }
        if not words and not inside:
            self._count("object-bare" if tell(drawing) == "object" else "shape")
        for name, kinds in (("chart", ("chart", "chart-bare")), ("relIds", ("diagram",))):
            if name in inside:
                self.some.add("|".join(kinds))
        return True

    _of_pict = _of_object = _of_drawing

    def _of_rt(self, above: _Element, hidden: bool) -> bool:
        among, self.words = self.words, [" "]
        self._walk(above, hidden)
        self.words = [*self.words, " ", *among]
        return False

    def _of_altChunk(self, one: _Element, hidden: bool) -> bool:
        self._count("inserted-file")
        return False

    def _of_ruby(self, one: _Element, hidden: bool) -> bool:
        self._count("ruby")
        return True


def tokens(words: list[str]) -> Counter[str]:
    """Words as they are compared, out of pieces that may part them anywhere: without what stands between them."""
    return Counter(re.findall(r"\w+", "".join(words)))
