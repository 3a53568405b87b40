"""Reports with a bit of everything in them, by chance: for what has to hold of any report."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from random import Random
from typing import Any

from mellowspine.core.formats.imported import Imported
from mellowspine.core.formats.pictures import check
from mellowspine.core.report.authorities import DEFAULT_CATEGORIES, Authority, category_named
from mellowspine.core.report.blocks import (
    ALIGNMENTS,
    INLINE_OBJECT,
    Block,
    Bookmark,
    Cell,
    Citation,
    DataTable,
    Entry,
    Image,
    Indexed,
    Marks,
    PageBreak,
    Paragraph,
    PartStart,
    PlacedTable,
    Reference,
    Run,
    ThematicBreak,
)
from mellowspine.core.report.formulas import FORMULA, formula
from mellowspine.core.report.index import See
from mellowspine.core.report.labels import DEFAULT_LABELS, Label
from mellowspine.core.report.numbering import SCHEMES, Numbering
from mellowspine.core.report.page import PageSetup
from mellowspine.core.report.parts import FIRST, Part
from mellowspine.core.report.recipes import HERE, changed
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import Style, StyleSheet, based_on, default_styles
from mellowspine.core.report.tables import Issued, OwnWords
from mellowspine.core.tables.kinds import table_kind
from tests.core.docx_parts import png

WORDS = [
    "sluice",
    "weir",
    "tide",
    "gate",
    "wall",
    "mole",
    "harbour",
    "basin",
    "keel",
    "“quoted”",
    "§12",
    "ebb—flood",
    "naïve",
    "Zürich",
    "3.5",
    "metres",
    "&",
    "<b>",
    "\\path",
    "co-op",
    "£40",
    "“é”",
    "so:",
    "and;",
    "or,",
    "50%",
    "#1",
    "{page}",
    "can’t",
]
FORMULAS = tuple(
    found
    for words in (
        "<math><mfrac><mi>a</mi><mn>2</mn></mfrac></math>",
        "<math><msup><mi>x</mi><mn>2</mn></msup><mo>+</mo><msub><mi>y</mi><mi>i</mi></msub></math>",
        '<math display="block"><msqrt><mi>x</mi><mo>+</mo><mn>1</mn></msqrt></math>',
        '<math><munderover><mo form="prefix">∑</mo><mi>i</mi><mi>n</mi></munderover><mi>i</mi></math>',
        '<math><mover accent="true"><mi>v</mi><mo>→</mo></mover><mo>=</mo><mtext>rate</mtext></math>',
        "<math><mtable><mtr><mtd><mn>1</mn></mtd><mtd><mn>0</mn></mtd></mtr><mtr><mtd><mn>0</mn></mtd><mtd><mn>1</mn></mtd></mtr></mtable></math>",
    )
    if (found := formula(words))
)
PICTURES = tuple(check(png(width, height, colour)) for width, height, colour in ((40, 20, "teal"), (30, 60, "navy")))
AUTHORITIES = {
    one.id: one
    for one in (
        Authority("a-1", "cases", "Harbour Board v. Quill, 12 R. 40", "Quill"),
        Authority("a-2", "statutes", 'The "Foreshore" Act 1871'),
        Authority("a-3", "standards", "Code of Walls: Part 2"),
        Authority("a-4", "charters", "Charter of the Mole", "the Charter"),
    )
}
CATEGORIES = category_named("Charters", DEFAULT_CATEGORIES)


def any_report(random: Random, size: int = 25) -> Imported:
    """A report with its pictures."""
    return _Making(random, size).report()


class _Making:
    """Ids of headings and captions are there before anything is made, so that anything may lead to them."""

    def __init__(self, random: Random, size: int) -> None:
        self.random, self.size = random, size
        self.count = 0
        self.notes: list[Paragraph] = []
        """Those that are referred to, and still to be put."""
        self.places: list[tuple[str, str]] = []
        """Ids that references may lead to, each with its kind."""
        self.names = ["Flood gates", "Tor_2"]
        """Of bookmarks that are still to be put."""
        self.calls: list[str] = []
        """Notes that are referred to once already."""

    def id(self) -> str:
        self.count += 1
        return self.random.choice((f"b{self.count:04}", f"N-{self.count}_x", f"n-_Ref{self.count}"))

    def chance(self, share: float) -> bool:
        return self.random.random() < share

    def words(self, most: int = 8) -> str:
        return " ".join(self.random.choices(WORDS, k=self.random.randint(1, most)))

    # --- The whole ---

    def report(self) -> Imported:
        random = self.random
        self.styles = self._styles()
        self.labels = {
            **DEFAULT_LABELS,
            "figure": Label("figure", behind=random.choice((": ", ". ", " – ")), by_level=random.choice((0, 0, 1, 2))),
            "plan": Label("plan", "Detailed plan of site 2 (north)", " "),
            "map-sheet": Label("map-sheet", "Map sheet", place=random.choice(("above", "below"))),
        }
        kinds = ["plain", *(self._kind() for _ in range(self.size))]
        ids = [self.id() for _ in kinds]
        self.places = [(id, kind) for id, kind in zip(ids, kinds, strict=True) if kind in ("heading", "caption")]
        blocks: list[Block] = []
        self.tables: dict[str, Issued] = {}
        self.parts: dict[str, Part] = {}
        self.appendix = False
        for id, kind in zip(ids, kinds, strict=True):
            blocks += getattr(self, f"_{kind}")(id)
            if kind not in ("placed", "data", "picture"):
                blocks += self.notes
                self.notes.clear()
        blocks += [*self.notes, Paragraph(self.id(), runs=(Run(self.words()),))]
        if self.chance(0.2):
            self.parts[FIRST] = Part(figures=random.choice((None, "lower-roman", "none")), page=self._own_page())
        report = Report(
            title=self.words(4),
            blocks=tuple(self._spanned(blocks)),
            styles=self.styles,
            numbering=self._numbering(),
            page=self._page(),
            parts=self.parts,
            labels=self.labels,
            authorities=AUTHORITIES,
            categories=CATEGORIES,
            sees=tuple(random.sample((See(("gate",), ("sluice", "old")), See(("mole",), ("wall",), True)), k=random.randint(0, 2))),
            tables=self.tables,
        )  # fmt: skip
        return Imported(report, {one.source: one.data for one in PICTURES})

    def _kind(self) -> str:
        kinds = {
            "plain": 6, "heading": 5, "item": 6, "caption": 2, "picture": 2, "data": 2, "placed": 2, "page_break": 1, "part": 1, "rule": 1,
        }  # fmt: skip
        return self.random.choices([*kinds], [*kinds.values()])[0]

    def _styles(self) -> StyleSheet:
        random, styles = self.random, dict(default_styles())
        for id in random.sample([*styles], 4):
            styles[id] = self._restyled(styles[id])
        body = styles["body"]
        further = [
            Style("remark", "Remark, aside", size=9.25, italic=True, first_line=-12.5, indent=12.5, capitals="small", tab_stops="72 left, 300.25 right dots"),
            Style("letter", "Lettered", marker="lower-letter", list_level=2, marker_text="(%2)", indent=40, first_line=-20),
            Style("clause", "Clauses", marker="decimal", list_level=2, marker_text="%1.%2", indent=44, first_line=-26),
            Style("tick", "Ticks", marker="bullet", list_level=1, marker_text="✓", indent=20, first_line=-15, put_away=True),
            Style("boxed", "Boxed", borders="top 1 #000000, left 0.5 #b9b3bf dashed", background="#f1f0ec", right_indent=20),
        ]  # fmt: skip
        styles |= {one.id: based_on(one, body) if self.chance(0.7) else one for one in further}
        if self.chance(0.3):
            heading = styles["heading-2"]
            styles["minor"] = based_on(
                replace(heading, id="minor", name="Minor heading", size=10.0, bold=False), heading
            )
        return StyleSheet(styles.values())

    def _restyled(self, style: Style) -> Style:
        random = self.random
        values: dict[str, Any] = {
            "size": random.choice((9.0, 10.5, 13.0)), "bold": random.random() < 0.5, "underline": random.random() < 0.3,
            "colour": random.choice(("#000000", "#1a2b3c")), "align": random.choice(ALIGNMENTS), "space_before": random.choice((0.0, 7.3)),
            "line_spacing": random.choice((1.0, 1.15, 1.37, 2.0)), "keep_together": random.random() < 0.5, "orphans": random.randint(1, 4),
            "hyphenate": random.random() < 0.3, "font": random.choice(("Carlito", "Liberation Sans", "Garamond Pro")),
            "contextual_spacing": random.random() < 0.3, "strike": random.random() < 0.1, "name": random.choice((style.name, "Own " + style.name)),
        }  # fmt: skip
        return replace(style, **dict(random.sample([*values.items()], 5)))

    def _numbering(self) -> Numbering:
        found = SCHEMES[self.random.choice([*SCHEMES])]
        if self.chance(0.3) and found.levels[1].on:
            found = found.changed(2, start=self.random.choice((0, 3)), restarts=self.random.random() < 0.5)
        return found

    def _page(self) -> PageSetup:
        random = self.random
        page = PageSetup(
            left=random.choice((72.0, 54.35)),
            mirrored=self.chance(0.2),
            front=random.choice(("counted", "roman")),
            version="Draft 3",
            head_left=random.choice(("", "{title}", "{section 1}", "{version} of {date}")),
            head_right=random.choice(("", "{number 2}", "{part}")),
            foot_middle=random.choice(("", "{page}", "Page {page} of {pages}")),
            foot_rule=self.chance(0.3),
            left_pages=random.choice(("same", "same", "mirrored", "own")),
            left_foot_left="{page}",
            first_page=random.choice(("same", "same", "none", "own")),
            first_foot_right="first",
            language=random.choice(("en-GB", "de-DE")),
            footnotes_counted=random.choice(("report", "page")),
            endnote_signs=random.choice(("lower-roman", "signs")),
            back_level=random.choice((None, 1)),
        )
        if self.chance(0.3):
            page = replace(page, picture=PICTURES[0].source, picture_ratio=2.0, head_middle="{picture}")
        return page

    def _own_page(self) -> dict[str, Any]:
        found: dict[str, Any] = {
            "width": 841.89, "height": 595.28, "top": 50.0, "columns": 2, "foot_left": "{last}", "first_page": "none",
        }  # fmt: skip
        return dict(self.random.sample([*found.items()], self.random.randint(0, 3)))

    def _spanned(self, blocks: list[Block]) -> Iterator[Block]:
        """The blocks, some stretches over two paragraphs marked as one."""
        number = 0
        for at, block in enumerate(blocks):
            following = blocks[at + 1] if at + 1 < len(blocks) else None
            first, second = (
                one if isinstance(one, Paragraph) and _is_worded(one) else None for one in (block, following)
            )
            free = first and second and not any((first.runs[-1].marks.bookmark, second.runs[0].marks.bookmark))
            if first and second and free and number < 3 and self.chance(0.3):
                number += 1
                mark = self._mark(f"over-{number}")
                last, begin = first.runs[-1], second.runs[0]
                block = replace(first, runs=(*first.runs[:-1], replace(last, marks=_with(last.marks, mark))))
                blocks[at + 1] = replace(
                    second, runs=(replace(begin, marks=_with(begin.marks, mark)), *second.runs[1:])
                )
            yield block

    def _mark(self, id: str) -> Bookmark | Citation | Indexed:
        return self.random.choice(
            (
                Bookmark(id, f"Two {id}"),
                Citation(id, self.random.choice([*AUTHORITIES])),
                Indexed(id, (Entry(("tide", "over: both"), True),)),
            )
        )

    # --- Words ---

    def runs(self, notes: bool = True) -> tuple[Run, ...]:
        return tuple(run for _ in range(self.random.randint(1, 4)) for run in self._run(notes))

    def _run(self, notes: bool) -> Iterator[Run]:
        random, kind = self.random, self.random.random()
        text = self.words()
        places = self.places or [("gone", "bookmark")]
        if kind < 0.35:
            yield Run(text + " ")
        elif kind < 0.6:
            yield Run(text + random.choice(("", " ", "\t", "\n")), self._look())
        elif kind < 0.66:
            yield Run(
                text, Marks(link=random.choice(("https://example.org/a?b=1&c=2", "#" + random.choice(places)[0])))
            )
        elif kind < 0.72 and self.names:
            name = self.names.pop()
            yield Run(text, Marks(bookmark=Bookmark(f"mark-{len(self.names)}", name)))
            self.places.append((f"mark-{len(self.names)}", "bookmark"))
        elif kind < 0.8:
            entries = [Entry(("gate",)), Entry(("wall", "west: old"), True), Entry(('so "called"',))]
            yield Run(
                text, Marks(indexed=Indexed(f"i{self.id()}", tuple(random.sample(entries, random.randint(1, 2)))))
            )
        elif kind < 0.86:
            of = random.choice([*AUTHORITIES])
            yield Run(random.choice((AUTHORITIES[of].long, text)), Marks(citation=Citation(f"c{self.id()}", of)))
        elif kind < 0.9:
            yield Run(FORMULA, Marks(formula=random.choice(FORMULAS)))
        elif kind < 0.95 and notes:
            yield Run(text)
            yield self._note()
        else:
            to, of = random.choice(places)
            shows: Any = random.choice(
                ("page", "way", "title", "label", "number") if of != "bookmark" else ("page", "way", "title")
            )
            yield Run(INLINE_OBJECT, Marks(reference=Reference(to, shows))) if to != "gone" else Run(text)

    def _note(self) -> Run:
        if self.calls and self.chance(0.2):
            return Run(INLINE_OBJECT, Marks(reference=Reference(self.random.choice(self.calls), "note")))
        id = self.id()
        self.calls.append(id)
        words = (Run(self.words()), Run("\n"), *self.runs(notes=False))
        self.notes.append(Paragraph(id, "note", words, note=self.random.choice(("foot", "end"))))
        return Run(INLINE_OBJECT, Marks(reference=Reference(id, "note")))

    def _look(self) -> Marks:
        random = self.random
        found: dict[str, Any] = {
            "bold": True, "italic": True, "underline": True, "font": random.choice(("Liberation Mono", "Garamond Pro")),
            "size": random.choice((7.0, 14.5)), "colour": "#b4452f", "strike": True, "capitals": random.choice(("all", "small")),
            "script": random.choice(("super", "sub")), "highlight": random.choice(("#ffff00", "#eeddcc")),
        }  # fmt: skip
        return Marks(**dict(random.sample([*found.items()], random.randint(1, 3))))

    def own(self) -> dict[str, Any]:
        """What a paragraph says itself."""
        random = self.random
        found: dict[str, Any] = {
            "align": random.choice(ALIGNMENTS), "space_before": 3.3, "space_after": 0.0, "line_spacing": 1.73, "indent": 30.0, "first_line": 11.0,
            "right_indent": 9.0, "background": "#eeeeee", "borders": "bottom 1 #112233 double", "tab_stops": "50 center, 200 right line",
            "new_page": True, "keep_with_next": True, "keep_together": True, "contextual_spacing": True,
        }  # fmt: skip
        return dict(random.sample([*found.items()], random.choice((0, 0, 0, 1, 2))))

    # --- Blocks ---

    def _plain(self, id: str) -> list[Block]:
        style = self.random.choice(("body", "body", "quotation", "remark", "boxed", "title", "code"))
        own = {name: value for name, value in self.own().items() if getattr(self.styles[style], name, None) != value}
        listed = self.random.choice((None, None, None, 2)) if style != "title" else None
        return [Paragraph(id, style, self.runs(), listed=listed, **own)]

    def _heading(self, id: str) -> list[Block]:
        random = self.random
        styles = ("heading-1", "heading-2", "heading-2", "heading-3", *(["minor"] if "minor" in self.styles else []))
        style = random.choice(styles)
        number: Any = None
        if style == "heading-1" and not self.appendix and self.chance(0.15):
            number, self.appendix = "appendix", True
        elif self.chance(0.1):
            number = "none"
        start = random.randint(0, 9) if number is None and self.chance(0.1) else None
        runs = (Run(self.words(5), self._look() if self.chance(0.2) else Marks()),)
        listed, new_page = 0 if self.chance(0.1) else None, True if self.chance(0.1) else None
        return [Paragraph(id, style, runs, number=number, number_from=start, listed=listed, new_page=new_page)]

    def _item(self, id: str) -> list[Block]:
        random = self.random
        style = random.choice(("bullet-1", "bullet-2", "item-1", "item-1", "item-2", "letter", "clause", "tick"))
        numbered = self.styles[style].marker != "bullet"
        number: Any = "none" if self.chance(0.15) else None
        start = random.randint(2, 9) if numbered and number is None and self.chance(0.15) else None
        return [Paragraph(id, style, self.runs(), number=number, number_from=start)]

    def _caption(self, id: str) -> list[Block]:
        return [Paragraph(id, "caption", self.runs(notes=False), caption=self.random.choice([*self.labels]))]

    def _picture(self, id: str) -> list[Block]:
        one, beside = self.random.choice(PICTURES), self.chance(0.4)
        align: Any = self.random.choice(("left", "right") if beside else ("left", "center", "right"))
        image = Image(id, one.source, 60.0, 60.0 * one.height / one.width, self.words(3), align, beside)
        return [image, *([Paragraph(self.id(), "body", (Run(self.words(20)),))] if beside else [])]

    def _data(self, id: str) -> list[Block]:
        random = self.random
        columns, rows = random.randint(1, 4), random.randint(1, 4)
        cells: list[tuple[Cell, ...]] = []
        tall = columns > 1 and rows > 1 and self.chance(0.4)
        for row in range(rows):
            there = columns - (tall and row == 1)
            if row and there > 1 and self.chance(0.2):
                cells.append((self._cell(columns=there),))
                continue
            cells.append(tuple(self._cell(rows=2 if tall and not row and not at else 1) for at in range(there)))
        align: Any = random.choice((None, "center", "right"))
        return [
            DataTable(id, tuple(cells), random.choice((0, 1)), align),
            Paragraph(self.id(), "body", (Run("beneath"),)),
        ]

    def _cell(self, columns: int = 1, rows: int = 1) -> Cell:
        random = self.random
        blocks: list[Paragraph | Image] = [
            Paragraph(self.id(), random.choice(("cell", "cell", "body", "bullet-1", "item-1")), self.runs(notes=False))
            for _ in range(random.randint(1, 2))
        ]
        if self.chance(0.15):
            blocks.append(Image(self.id(), PICTURES[0].source, 12.0, 6.0, "sign", "left"))
        look: dict[str, Any] = {
            "background": "#ddeeff", "borders": random.choice(("none", "top 1 #112233, right 0.5 #445566 dotted")), "vertical": random.choice(("middle", "bottom")),
            "padding": (1.0, 2.0, 3.0, 6.0),
        }  # fmt: skip
        return Cell(tuple(blocks), columns, rows, **dict(random.sample([*look.items()], random.choice((0, 0, 1, 2)))))

    def _placed(self, id: str) -> list[Block]:
        random = self.random
        kind = random.choice(("contents", "contents", "figures", "authorities", "index", "styles"))
        recipe = table_kind(kind).recipe
        for settings in random.sample(self._settings(kind), k=random.randint(0, 3)):
            recipe = changed(recipe, settings)
        key = f"t-{len(self.tables) + 1}"
        headings = [one for one, of in self.places if of == "heading"]
        own = (
            {random.choice(headings): OwnWords(random.choice(("Short", None)), "x")}
            if headings and kind == "contents"
            else {}
        )
        self.tables[key] = Issued(recipe, own=own)
        return [PlacedTable(id, key, random.random() < 0.3, kind)]

    def _settings(self, kind: str) -> list[dict[tuple[str, ...], Any]]:
        random = self.random
        found: list[dict[tuple[str, ...], Any]] = [
            {("title",): random.choice(("", "What is in it"))}, {("page_numbers",): "words", ("separator",): ", p. "}, {("page_numbers",): "none"},
            {("leader",): random.choice(("", "_", "-", "~"))}, {("looks", "1", "size"): 13.0}, {("look_like_links",): True}, {("ruled",): "lines"},
            {("columns",): 2}, {("links",): False},
        ]  # fmt: skip
        if kind == "contents":
            found += [
                {("levels",): [1]}, {("levels",): [1, 3]}, {("numbers",): random.choice(("hung", "margin", "none"))}, {("section",): HERE},
                {("feeds",): {"remark": 3}}, {("feeds",): {"heading-2": 0}}, {("looks", "2", "page_number"): False},
            ]  # fmt: skip
        if kind == "styles":
            found += [{("feeds",): {"remark": 1, "quotation": 1}}] * 3
        if kind == "authorities":
            found += [{("categories",): ["statutes", "standards"]}, {("passim",): 0}, {("levels",): [2]}]
        if kind == "index":
            found += [{("run_in",): True}, {("levels",): [2, 3, 4]}]
        return found

    def _page_break(self, id: str) -> list[Block]:
        return [PageBreak(id), Paragraph(self.id(), runs=(Run("next"),))]

    def _rule(self, id: str) -> list[Block]:
        return [ThematicBreak(id)]

    def _part(self, id: str) -> list[Block]:
        random = self.random
        self.parts[id] = Part(
            name=random.choice(("", "Annex")),
            figures=random.choice((None, None, "lower-roman", "decimal", "none")),
            words=random.choice(("", "A-")),
            start=random.choice((None, 1, 7)),
            begins=random.choice(("any", "right", "left")),
            page=self._own_page(),
        )
        return [PartStart(id), Paragraph(self.id(), runs=(Run("begins"),))]


def _is_worded(paragraph: Paragraph) -> bool:
    """Whether a paragraph begins and ends with words, on which marks can be."""
    ends = (paragraph.runs[0].marks, paragraph.runs[-1].marks) if paragraph.runs else ()
    return bool(ends) and not paragraph.note and not any(one.reference or one.formula for one in ends)


def _with(marks: Marks, mark: Bookmark | Citation | Indexed) -> Marks:
    if isinstance(mark, Bookmark):
        return replace(marks, bookmark=mark)
    return replace(marks, citation=mark) if isinstance(mark, Citation) else replace(marks, indexed=mark)
