"""What documents of Office Open XML hold, part by part of the standard (ISO/IEC 29500-1; its clauses from memory)."""

from __future__ import annotations

from io import BytesIO
from unittest import TestCase
from zlib import crc32

from PIL import Image as Pillow

from mellowspine.core.formats import read
from mellowspine.core.formats.charts import steps
from mellowspine.core.formats.docx.grammar import instruction
from mellowspine.core.formats.imported import Imported
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block, DataTable, Image, PageBreak, Paragraph, PartStart
from mellowspine.core.report.parts import FIRST
from mellowspine.core.structure.markers import list_markers
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.settle import settle_all

from .docx_parts import DECLARED, SPACES, Made, elements, field, inline_picture, paragraph, png, run


def brought(made: Made) -> Imported:
    return read("a.docx", made.saved())


def body_of(xml: str) -> Imported:
    made = Made()
    made.add(xml)
    return brought(made)


def words(found: Imported) -> list[str]:
    return [block.text for block in found.report.blocks if isinstance(block, Paragraph)]


def noted(found: Imported) -> dict[str, int]:
    """What is said of a file, but for typefaces: those of new documents are not ours."""
    return {note.sentence: note.count for note in found.notes if not note.kind.startswith("typeface")}


def only(found: Imported, kind: type[Block]) -> Block:
    (block,) = (block for block in found.report.blocks if isinstance(block, kind))
    return block


class Fields(TestCase):
    """17.16."""

    def test_instructions(self) -> None:
        """17.16.2 and 17.16.3."""
        for text, wanted in (
            (' HYPERLINK "http://x.org/a b" \\l "here" \\o "Tip" ', ("HYPERLINK", ("http://x.org/a b",), {"l": "here", "o": "Tip"})),
            ("REF \\h place \\p", ("REF", ("place",), {"h": "", "p": ""})),
            ('TOC\\o "1-3"\\h', ("TOC", (), {"o": "1-3", "h": ""})),
            ('XE "say \\"so\\":a\\\\b"', ("XE", ('say "so":a\\b',), {})),
            ("TC “Curled words” \\f x", ("TC", ("Curled words",), {"f": "x"})),
            ('DATE \\@ "d MMMM" \\* MERGEFORMAT', ("DATE", (), {"@": "d MMMM", "*": "MERGEFORMAT"})),
            ('IF "open', ("IF", ("open",), {})),
            ("\tPAGE\n", ("PAGE", (), {})),
            ("", ("", (), {})),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(instruction(text)[:3], wanted)

    def test_links(self) -> None:
        """17.16.5.25 HYPERLINK and 17.16.22 hyperlink: an address, a place behind it, or a place in the document."""
        made = Made()
        outside = made.document.part.relate_to("https://x.org/a", "http://schemas.openxmlformats.org/officeDocument/2006/relationships/hyperlink", is_external=True)  # fmt: skip
        made.add(
            paragraph('<w:bookmarkStart w:id="1" w:name="here"/>' + run("Place") + '<w:bookmarkEnd w:id="1"/>')
            + paragraph(field('HYPERLINK "https://x.org/b"', run("one")))
            + paragraph(field('HYPERLINK "https://x.org/b" \\l "part"', run("two")))
            + paragraph(field('HYPERLINK \\l "here"', run("three")))
            + paragraph(f'<w:hyperlink r:id="{outside}" w:anchor="part">{run("four")}</w:hyperlink>')
            + paragraph(field('HYPERLINK "javascript:alert(1)"', run("five")))
        )
        found = brought(made)
        links = [block.runs[0].marks.link for block in found.report.blocks[1:] if isinstance(block, Paragraph)]
        self.assertEqual(links, ["https://x.org/b", "https://x.org/b#part", "#m-here", "https://x.org/a#part", None])
        self.assertEqual(noted(found), {"Link to no web address: kept as plain text": 1})

    def test_what_shows_a_result_keeps_it_and_what_has_none_is_said_to_be_left_out(self) -> None:
        found = body_of(
            paragraph(field("AUTHOR", run("Ann Weir"))) + paragraph(run("By ") + field("AUTHOR")) + paragraph(field("SET a 1"))
        )  # fmt: skip
        self.assertEqual(words(found), ["Ann Weir", "By ", ""])
        self.assertEqual(
            noted(found),
            {"Field AUTHOR: its last result kept as plain text": 1, "Field AUTHOR without a result: left out": 1},
        )

    def test_fields_that_say_by_themselves_what_they_show(self) -> None:
        for code, wanted in (
            ('SYMBOL 254 \\f "Wingdings" \\s 12', "☑"),
            ("SYMBOL 0xA7 \\u", "§"),
            ("SYMBOL 233 \\a", "é"),
            ("EQ \\f(a + 1,2b)", "a + 1/2b"),
            ("EQ \\r(3,x) = \\i \\su(n,1,k)", "√{x} = ∫ n 1 k"),
            ('MACROBUTTON Next "Press here"', "Press here"),
            ("AUTONUM", "1."),
            ('INCLUDEPICTURE "C:\\\\plans\\\\gate.png" \\d', "[gate.png]"),
        ):
            with self.subTest(code):
                self.assertEqual(words(body_of(paragraph(field(code)))), [wanted])

    def test_a_field_within_an_instruction_is_part_of_it(self) -> None:
        inner = field("MERGEFIELD name", run("here"))
        code = (
            '<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText>HYPERLINK \\l "</w:instrText></w:r>' + inner
        )
        code += '<w:r><w:instrText>"</w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>' + run("Shown")
        found = body_of(paragraph(code + '<w:r><w:fldChar w:fldCharType="end"/></w:r>'))
        self.assertEqual(words(found), ["Shown"])

    def test_an_entry_of_contents_stands_in_them(self) -> None:
        """17.16.5.67 TC."""
        found = body_of(
            paragraph(run("A short line") + field('TC "A short line" \\l 2'))
            + paragraph(run("Another") + field('TC "Other words" \\f m'))
        )
        self.assertEqual([(one.level, one.text, one.by_hand) for one in outline(found.report)],
                         [(2, "A short line", "put in"), (1, "Another", "put in")])  # fmt: skip
        self.assertEqual(
            noted(found), {"Entry of contents with words of its own: listed with those of its paragraph": 1}
        )

    def test_a_citation_reaches_over_its_words(self) -> None:
        """17.16.5.64 TA: what stands in front of it may be the beginning of the long form alone."""
        made = paragraph(run("As in Able v. Baker, 1 Rep. 2") + field('TA \\l "Able v. Baker, 1 Rep. 2 (1900)" \\s "Able" \\c 1') + run("."))  # fmt: skip
        (block,) = body_of(made).report.blocks
        self.assertEqual([one.text for one in block.runs if one.marks.citation], ["Able v. Baker, 1 Rep. 2"])  # type: ignore[attr-defined]

    def test_contents_of_entries_marked_singly_list_no_others(self) -> None:
        """17.16.5.68, switches f and l."""
        text = (
            paragraph(run("Gates"), '<w:pStyle w:val="Heading1"/>')
            + paragraph(run("A short line") + field('TC "A short line" \\l 2'))
            + paragraph(run("A deep one") + field('TC "A deep one" \\l 4'))
        )
        for code, wanted in (
            ("TOC \\f", ["A short line", "A deep one"]),
            ('TOC \\f \\l "1-2"', ["A short line"]),
            ('TOC \\o "1-1" \\f', ["Gates"]),
        ):
            report, _ = settle_all(body_of(paragraph(field(code, run("Old line\t3"))) + text).report, Typefaces())
            (issued,) = report.tables.values()
            self.assertEqual([line.text for line in issued.lines], wanted, code)

    def test_what_a_table_cannot_be_told_is_noted(self) -> None:
        for code, wanted in (
            ("TOC \\f \\h", {}),
            ('TOC \\o "1-2" \\f', {}),
            ("TOC \\b chapter", {"Table of a stretch of the text alone: lists all of it": 1}),
        ):
            self.assertEqual(noted(body_of(paragraph(field(code, run("Old line\t3"))))), wanted, code)


class Forms(TestCase):
    def test_boxes_are_boxes_ticked_or_not(self) -> None:
        """17.16.17 and beside it: fields of forms; MS-DOCX 2.6.1.4: content controls."""

        def box(inside: str) -> str:
            return paragraph(field("FORMCHECKBOX", "", f"<w:ffData><w:checkBox>{inside}</w:checkBox></w:ffData>"))

        def control(value: str, shown: str) -> str:
            return paragraph(f'<w:sdt><w:sdtPr><w14:checkbox><w14:checked w14:val="{value}"/></w14:checkbox></w:sdtPr><w:sdtContent>{shown}</w:sdtContent></w:sdt>')  # fmt: skip

        found = body_of(
            box("") + box('<w:default w:val="1"/>') + box('<w:default w:val="1"/><w:checked w:val="0"/>') + box("<w:checked/>")
            + control("1", '<w:r><w:sym w:font="Wingdings 2" w:char="F052"/></w:r>') + control("0", run("☐"))
        )  # fmt: skip
        self.assertEqual(words(found), ["☐", "☒", "☐", "☒", "☒", "☐"])
        self.assertEqual(noted(found), {})

    def test_what_is_filled_in_is_kept(self) -> None:
        chosen = "<w:ffData><w:ddList><w:result w:val='1'/><w:listEntry w:val='North'/><w:listEntry w:val='South'/></w:ddList></w:ffData>"
        found = body_of(
            paragraph(field("FORMTEXT", run("Ann"))) + paragraph(field("FORMDROPDOWN", "", chosen))
            + paragraph(f"<w:sdt><w:sdtPr><w:date/></w:sdtPr><w:sdtContent>{run('4 May')}</w:sdtContent></w:sdt>")
            + paragraph(f"<w:sdt><w:sdtPr><w:alias w:val='x'/></w:sdtPr><w:sdtContent>{run('Words')}</w:sdtContent></w:sdt>")
        )  # fmt: skip
        self.assertEqual(words(found), ["Ann", "South", "4 May", "Words"])
        self.assertEqual(noted(found), {"Field of a form: what was filled in kept as plain text": 3})


class Drawings(TestCase):
    def test_pictures_are_cut_turned_and_mirrored_as_they_are_drawn(self) -> None:
        """20.1.8.55 srcRect, 20.1.7.6 xfrm."""
        picture = Pillow.new("RGB", (40, 20), "white")
        picture.paste("red", (0, 0, 20, 20))
        stream = BytesIO()
        picture.save(stream, "PNG")
        for form, cut, size, pixels, red in (
            ("", "", (80, 40), (40, 20), (0, 0)),
            ("", '<a:srcRect l="50000"/>', (80, 40), (20, 20), None),
            ('rot="5400000"', "", (40, 80), (20, 40), (0, 0)),
            ('rot="16200000"', "", (40, 80), (20, 40), (0, 39)),
            ('flipH="1"', "", (80, 40), (40, 20), (39, 0)),
        ):  # fmt: skip
            made = Made()
            made.add(paragraph(inline_picture(made.picture(stream.getvalue()), 80, 40, form, cut)))
            found = brought(made)
            image = only(found, Image)
            assert isinstance(image, Image)
            shown = Pillow.open(BytesIO(found.pictures[image.source])).convert("RGB")
            with self.subTest(form=form, cut=cut):
                self.assertEqual((round(image.width), round(image.height)), size)
                self.assertEqual(shown.size, pixels)
                if red:
                    self.assertEqual(shown.getpixel(red), (255, 0, 0))
                else:
                    self.assertEqual(shown.getcolors(), [(400, (255, 255, 255))])

    def test_a_picture_that_cannot_be_shown_leaves_its_words_where_it_stood(self) -> None:
        made = Made()
        unknown = made.part("IMAGE", "media/plan.emf", b"\x01\x00\x00\x00 no picture", "image/x-emf")
        made.add(paragraph(run("See ") + inline_picture(unknown) + run(" there")) + paragraph(inline_picture("rId999")))
        found = brought(made)
        self.assertEqual(words(found), ["See [A gate] there", "[A gate]"])
        self.assertEqual(
            noted(found),
            {
                "Picture in an unknown format: its description or name kept as plain text": 1,
                "Picture outside the file: its description or name kept as plain text": 1,
            },
        )

    def test_what_the_file_has_for_those_who_cannot_draw_a_picture_is_shown(self) -> None:
        """Part 3, 9.5 Fallback; in another, or for more than one, nobody can tell which it stands in for."""
        for fallbacks, shown in ((("good",), 1), (("bad",), 0), (("good", "good"), 0), ((), 0)):
            made = Made()
            relation = {
                "bad": made.part("IMAGE", "media/plan.emf", b"\x01\x00\x00\x00 no picture", "image/x-emf"),
                "good": made.picture(png(30, 10)),
            }
            others = "".join(
                f'<w:r><w:pict><v:shape style="width:30pt;height:10pt"><v:imagedata r:id="{relation[one]}"/></v:shape></w:pict></w:r>'
                for one in fallbacks
            )
            choice = f'<mc:Choice Requires="wpg">{inline_picture(relation["bad"], 60, 20)}</mc:Choice>'
            made.add(
                paragraph(f"<mc:AlternateContent>{choice}<mc:Fallback>{others}</mc:Fallback></mc:AlternateContent>")
            )
            found = brought(made)
            with self.subTest(fallbacks=fallbacks):
                images = [block for block in found.report.blocks if isinstance(block, Image)]
                self.assertEqual([(one.width, one.height, one.alt) for one in images], [(60, 20, "A gate")] * shown)
                self.assertEqual(len(noted(found)), 1 - shown)

    def test_a_chart_is_drawn_from_its_values(self) -> None:
        """21.2: what was kept of the values when it was drawn last."""

        def cache(kind: str, *given: object) -> str:
            points = "".join(f'<c:pt idx="{at}"><c:v>{one}</c:v></c:pt>' for at, one in enumerate(given))
            return f"<c:{kind}>{points}</c:{kind}>"

        def series(name: str, *given: object) -> str:
            return (f"<c:ser><c:tx><c:strRef>{cache('strCache', name)}</c:strRef></c:tx><c:cat><c:strRef>{cache('strCache', 'May', 'June')}</c:strRef></c:cat>"
                    f"<c:val><c:numRef>{cache('numCache', *given)}</c:numRef></c:val></c:ser>")  # fmt: skip

        def charted(inside: str) -> Imported:
            made = Made()
            title = "<c:title><c:tx><c:rich><a:p><a:r><a:t>Visitors</a:t></a:r></a:p></c:rich></c:tx></c:title>"
            chart = (
                f"<c:chartSpace {DECLARED}><c:chart>{title}<c:plotArea>{inside}</c:plotArea></c:chart></c:chartSpace>"
            )
            extent = '<wp:extent cx="2540000" cy="1270000"/>'
            relation = made.part("CHART", "charts/chart1.xml", chart)
            made.add(paragraph(f'<w:r><w:drawing><wp:inline>{extent}<a:graphic><a:graphicData><c:chart r:id="{relation}"/></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>'))  # fmt: skip
            return brought(made)

        found = charted(f"<c:barChart>{series('Lido', 3, 4.5)}{series('Sea', -7)}</c:barChart>")
        image = only(found, Image)
        assert isinstance(image, Image)
        self.assertEqual((image.width, image.height), (200, 100))
        self.assertEqual(image.alt, "Chart: Visitors. Lido: May 3, June 4.5. Sea: May −7.")
        shown = Pillow.open(BytesIO(found.pictures[image.source])).convert("RGB")
        self.assertEqual(shown.size, (500, 250))
        colours = {colour for _, colour in shown.getcolors(100_000) or ()}
        self.assertTrue({(0x5B, 0x4A, 0xA0), (0x2F, 0x7D, 0x6B)} <= colours)
        self.assertEqual(noted(found), {"Chart: drawn anew from its values, which its description tells": 1})
        for kind in ("lineChart", "areaChart", "pieChart", "scatterChart", "radarChart", "bar3DChart"):
            for inside in (
                series("Lido", 3, 4.5),
                series("Lido", 0),
                series("", *range(90)),
                series("Lido", "x", "1e999", "NaN", 2),
            ):
                looks = ("", '<c:grouping val="percentStacked"/>', '<c:barDir val="bar"/>')
                for more in looks if kind in ("areaChart", "bar3DChart") else ("",):
                    found = charted(f"<c:{kind}>{more}{inside}</c:{kind}>")
                    self.assertEqual(len(found.pictures), 1)
        # More than a description can tell is a table as well.
        table = only(charted(f"<c:lineChart>{series('Lido', *range(200, 300))}</c:lineChart>"), DataTable)
        assert isinstance(table, DataTable)
        self.assertEqual((len(table.rows), table.rows[100][1].paragraphs[0].text), (101, "299"))
        self.assertEqual(noted(charted("<c:barChart/>")), {"Chart without values: left out": 1})

    def test_steps_are_round_and_reach_over_all_values(self) -> None:
        for least, most, about in (
            (0, 43, 5),
            (-30, 420, 6),
            (0.001, 0.0042, 4),
            (5, 5, 3),
            (0, 1e14, 5),
            (-1e-9, 1e-9, 2),
        ):
            found = steps(least, most, about)
            self.assertLessEqual((found[0], -found[-1]), (least, -most))
            self.assertLessEqual(len(found), about + 3)
            self.assertIn(f"{found[1] - found[0]:e}"[0], "125")

    def test_diagrams_shapes_boxes_and_objects(self) -> None:
        made = Made()
        data = f'<dgm:dataModel xmlns:dgm="{SPACES["dgm"]}" xmlns:a="{SPACES["a"]}"><dgm:ptLst>{"".join(f"<dgm:pt><dgm:t><a:p><a:r><a:t>{one}</a:t></a:r></a:p></dgm:t></dgm:pt>" for one in ("Survey", "Build"))}</dgm:ptLst></dgm:dataModel>'  # fmt: skip
        relation = made.part(f"{SPACES['r']}/diagramData", "diagrams/data1.xml", data)
        made.add(
            paragraph(f'<w:r><w:drawing><a:graphic><a:graphicData><dgm:relIds r:dm="{relation}"/></a:graphicData></a:graphic></w:drawing></w:r>')
            + paragraph("<w:r><w:drawing><a:graphic><a:graphicData><wps:wsp/></a:graphicData></a:graphic></w:drawing></w:r>")
            + paragraph(f"<w:r><w:pict><v:shape><v:textbox><w:txbxContent>{paragraph(run('Boxed'))}</w:txbxContent></v:textbox></v:shape></w:pict></w:r>")
            + paragraph("<w:r><w:object><o:OLEObject/></w:object></w:r>")
        )  # fmt: skip
        found = brought(made)
        self.assertEqual([one for one in words(found) if one], ["Survey", "Build", "Boxed"])
        self.assertEqual(
            noted(found),
            {
                "Diagram: its words kept as plain text": 1, "Drawn shape: left out": 1, "Text box: kept as paragraphs": 1,
                "Embedded object without a picture: left out": 1,
            },
        )  # fmt: skip


class Sections(TestCase):
    """17.6 and 17.10."""

    A4, WIDE = '<w:pgSz w:w="11906" w:h="16838"/>', '<w:pgSz w:w="16838" w:h="11906" w:orient="landscape"/>'

    def test_a_wide_section_is_a_part_and_those_alike_are_parted_by_page_breaks(self) -> None:
        made = Made()
        made.sections(self.A4, self.WIDE, self.A4, self.A4)
        report = brought(made).report
        self.assertEqual([type(block) for block in report.blocks if not isinstance(block, Paragraph)], [PartStart, PartStart, PageBreak])  # fmt: skip
        pages = paginate(report, Typefaces())
        self.assertEqual(len(pages), 4)
        wide = next(iter(report.parts.values()))
        self.assertEqual({name: round(wide.page[name]) for name in ("width", "height")}, {"width": 842, "height": 595})

    def test_a_section_says_itself_how_it_begins(self) -> None:
        """17.6.22 type: of the section, with regard to the one in front of it."""
        made = Made()
        made.sections(self.A4, '<w:type w:val="continuous"/>' + self.A4, '<w:type w:val="oddPage"/>' + self.A4)
        report = brought(made).report
        self.assertEqual(
            [type(block).__name__ for block in report.blocks], ["Paragraph", "Paragraph", "PartStart", "Paragraph"]
        )
        self.assertEqual([part.begins for part in report.parts.values()], ["right"])

    def test_columns_in_the_midst_of_a_page_are_noted(self) -> None:
        made = Made()
        made.sections(self.A4, '<w:type w:val="continuous"/>' + self.A4 + '<w:cols w:num="2"/>')
        found = brought(made)
        self.assertEqual(noted(found), {"Other number of columns in the midst of a page: set as in front of it": 1})

    def test_heads_and_feet(self) -> None:
        """17.10: at the left, in the middle and at the right; of first, left-hand and all pages; with fields and a picture."""
        made = Made()
        logo = made.head(paragraph(inline_picture("logo", 60, 30) + run(" Quillmere") + "<w:r><w:tab/><w:tab/></w:r>" + field('STYLEREF "heading 1"', run("x"))), pictures={"logo": png(60, 30)})  # fmt: skip
        foot = made.head(paragraph(run("Page ") + field("PAGE", run("1")) + run(" of ") + field("NUMPAGES", run("9")), '<w:jc w:val="center"/>'), "footer")  # fmt: skip
        first = made.head(paragraph(run("Draft {1}"), '<w:jc w:val="right"/>'))
        made.document.add_heading("One", 1)
        made.settings("<w:evenAndOddHeaders/>")
        made.sections(
            f'<w:headerReference w:type="default" r:id="{logo}"/><w:headerReference w:type="first" r:id="{first}"/>'
            f'<w:footerReference w:type="default" r:id="{foot}"/><w:titlePg/>' + self.A4,
            self.A4 + '<w:pgNumType w:fmt="upperRoman" w:start="4"/>',
        )
        found = brought(made)
        page = found.report.page
        self.assertEqual(
            (page.head_left, page.head_middle, page.head_right), ("{picture} Quillmere", "", "{section 1}")
        )
        self.assertEqual((page.foot_left, page.foot_middle, page.foot_right), ("", "Page {page} of {pages}", ""))
        self.assertEqual((page.left_pages, page.left_foot_middle), ("own", ""))
        self.assertEqual((page.picture_ratio, page.picture_height, [*found.pictures]), (2.0, 30.0, [page.picture]))
        parts = found.report.parts
        self.assertEqual(
            (parts[FIRST].page["first_page"], page.first_page, page.first_head_right), ("own", "same", "Draft (1)")
        )
        self.assertEqual([(one.figures, one.start) for one in parts.values()], [("decimal", None), ("upper-roman", 4)])
        self.assertEqual(noted(found), {})

    def test_looks_of_letters_in_a_head_are_said(self) -> None:
        made = Made()
        head = made.head(paragraph(run("Plain ") + run("bold", "<w:b/>")))
        made.sections(f'<w:headerReference w:type="default" r:id="{head}"/>' + self.A4)
        found = brought(made)
        self.assertEqual(found.report.page.head_left, "Plain bold")
        self.assertEqual(noted(found), {"Head or foot with letters of a look of their own: set in one style": 1})

    def test_without_heads_and_feet_pages_are_numbered_as_in_a_new_report(self) -> None:
        self.assertEqual(body_of(paragraph(run("Words"))).report.page.foot_middle, "{page}")

    def test_what_sections_say_that_pages_cannot(self) -> None:
        made = Made()
        made.sections(self.A4 + '<w:lnNumType w:countBy="5"/><w:pgBorders><w:top w:val="single"/></w:pgBorders><w:vAlign w:val="center"/>')  # fmt: skip
        self.assertEqual(
            noted(brought(made)),
            {"Numbers beside lines: left out": 1, "Lines around the page, or colour behind it: left out": 1,
             "Text in the middle or at the foot of pages: set from the top": 1},
        )  # fmt: skip


class ListsAndLevels(TestCase):
    """17.9."""

    def listed(self, levels: str, *items: str) -> Imported:
        made = Made()
        numbering = made.document.part.numbering_part.element
        abstract = f'<w:abstractNum w:abstractNumId="90">{levels}</w:abstractNum><w:num w:numId="90"><w:abstractNumId w:val="90"/></w:num>'
        for one in elements(abstract):
            numbering.append(one)
        made.add("".join(items))
        return brought(made)

    def item(self, depth: int, own: str = "") -> str:
        return paragraph(run("Words"), f'<w:numPr><w:ilvl w:val="{depth}"/><w:numId w:val="90"/></w:numPr>{own}')

    def level(self, depth: int, text: str, font: str = "", place: str = "", kind: str = "bullet") -> str:
        return (f'<w:lvl w:ilvl="{depth}"><w:numFmt w:val="{kind}"/><w:lvlText w:val="{text}"/><w:pPr>{place}</w:pPr>'
                f'<w:rPr><w:rFonts w:ascii="{font}"/></w:rPr></w:lvl>')  # fmt: skip

    def test_bullets_have_the_signs_of_the_file(self) -> None:
        levels = (
            self.level(0, "\uf0b7", "Symbol") + self.level(1, "o", "Courier New") + self.level(2, "\uf0a7", "Wingdings")
        )
        found = self.listed(
            levels + self.level(3, "➔", "Arial") + self.level(4, "\uf0ee", "Wingdings"), *map(self.item, range(5))
        )
        self.assertEqual([*list_markers(found.report).values()], ["•", "○", "▪", "➔", "–"])
        self.assertEqual(
            noted(found), {"Bullet that is a picture or of a special font: kept as a bullet of this report": 1}
        )

    def test_items_stand_where_the_file_says(self) -> None:
        place = '<w:ind w:left="1440" w:hanging="720"/>'
        found = self.listed(self.level(0, "•", "", place), self.item(0), self.item(0, '<w:ind w:left="2000"/>'))
        style = found.report.styles[found.report.blocks[0].style]  # type: ignore[attr-defined]
        self.assertEqual((style.id, style.indent, style.first_line), ("bullet-1", 72.0, -36.0))
        self.assertEqual([block.indent for block in found.report.blocks], [None, 100.0])  # type: ignore[attr-defined]

    def test_words_do_not_stand_over_their_markers(self) -> None:
        """Where nothing hangs, words go on behind the number."""
        level = self.level(0, "%1.%1.", "", '<w:ind w:left="720" w:firstLine="0"/>', "decimal")
        found = self.listed(level, self.item(0), self.item(0, '<w:ind w:left="0" w:firstLine="0"/>'))
        style = found.report.styles[found.report.blocks[0].style]  # type: ignore[attr-defined]
        self.assertAlmostEqual(style.indent + style.first_line, 36.0)
        self.assertGreater(-style.first_line, 25)
        direct = found.report.blocks[1]
        self.assertEqual((direct.indent, direct.first_line), (-style.first_line, None))  # type: ignore[attr-defined]

    def test_a_paragraph_with_an_outline_level_keeps_its_look(self) -> None:
        """17.3.1.20: it is a heading of that level all the same; "9" takes a heading's level from it."""
        made = Made()
        made.document.add_heading("Kept out", 1)._p.get_or_add_pPr().extend(elements('<w:outlineLvl w:val="9"/>'))
        made.add(paragraph(run("4 May"), '<w:outlineLvl w:val="1"/>'))
        report = brought(made).report
        self.assertEqual(
            [(one.level, one.text, one.by_hand) for one in outline(report)],
            [(1, "Kept out", "kept out"), (2, "4 May", "")],
        )
        style, body = report.styles[report.blocks[1].style], report.styles.role("body")  # type: ignore[attr-defined]
        self.assertEqual((style.outline_level, style.size, style.bold, style.based_on), (2, body.size, False, "body"))


class Words(TestCase):
    def test_tracked_changes_count_as_accepted_and_are_said(self) -> None:
        """17.13.5."""
        found = body_of(
            paragraph(run("Kept ") + f'<w:ins w:id="1">{run("put in ")}</w:ins><w:del w:id="2"><w:r><w:delText>gone</w:delText></w:r></w:del>')
        )  # fmt: skip
        self.assertEqual(words(found), ["Kept put in "])
        self.assertEqual(
            noted(found),
            {"Words put in under review: kept as if accepted": 1, "Words taken out under review: left out, as if accepted": 1},
        )  # fmt: skip

    def test_words_above_words_symbols_and_files_within_the_file(self) -> None:
        """17.3.3.25 ruby, 17.3.3.30 sym, 17.17.2.1 altChunk."""
        found = body_of(
            paragraph(f"<w:r><w:ruby><w:rt>{run('over')}</w:rt><w:rubyBase>{run('base')}</w:rubyBase></w:ruby></w:r>")
            + paragraph('<w:r><w:sym w:font="Symbol" w:char="F0A3"/><w:sym w:font="Odd" w:char="F041"/></w:r>')
            + '<w:altChunk r:id="rId9"/>'
        )
        self.assertEqual(words(found), ["base (over)", "≤"])
        self.assertEqual(
            noted(found),
            {"Words above other words: kept in brackets behind these": 1, "Symbol of a special font (Odd): left out": 1, "File within the file: left out": 1},
        )  # fmt: skip

    def test_words_that_are_drawn_and_signs_of_notes(self) -> None:
        """VML textpath (part 4, 19.1.2.23); 17.11.14, customMarkFollows."""
        made = Made()
        drawn = '<w:r><w:pict><v:shape><v:textpath string="Grand opening"/></v:shape></w:pict></w:r>'
        head = made.head(paragraph(drawn.replace("Grand opening", "DRAFT")))
        made.part(
            "FOOTNOTES",
            "footnotes.xml",
            f'<w:footnotes {DECLARED}><w:footnote w:id="2">{paragraph(run("Said there."))}</w:footnote></w:footnotes>',
        )
        made.add(
            paragraph(drawn)
            + paragraph(
                run("Words")
                + '<w:r><w:footnoteReference w:customMarkFollows="1" w:id="2"/><w:t>[a]</w:t></w:r>'
                + run(".")
            )
        )
        made.sections(f'<w:headerReference w:type="default" r:id="{head}"/>' + Sections.A4)
        found = brought(made)
        self.assertEqual(words(found)[:3], ["Grand opening", "Words\ufffc.", "Said there."])
        self.assertEqual(
            noted(found),
            {
                "Words drawn as a picture: kept as plain text": 1,
                "Words across the page, behind the text: left out": 1,
                "Note with a sign of its own: counted as all others": 1,
            },
        )

    def test_links_in_notes_are_those_of_the_notes(self) -> None:
        """Part 2, 9.3: each part names others by relationships of its own."""
        made = Made()
        named = f'<w:hyperlink r:id="rId1">{run("there")}</w:hyperlink>'
        made.part(
            "FOOTNOTES",
            "footnotes.xml",
            f'<w:footnotes {DECLARED}><w:footnote w:id="2">{paragraph(named)}</w:footnote></w:footnotes>',
        )
        made.last.rels.add_relationship(f"{SPACES['r']}/hyperlink", "https://x.org/note", "rId1", is_external=True)
        made.add(paragraph('<w:r><w:footnoteReference w:id="2"/></w:r>'))
        note = next(block for block in brought(made).report.blocks if isinstance(block, Paragraph) and block.note)
        self.assertEqual([(one.text, one.marks.link) for one in note.runs], [("there", "https://x.org/note")])

    def test_sections_as_they_were_before_a_change_are_none(self) -> None:
        made = Made()
        before = f'<w:pPrChange w:id="1"><w:pPr><w:sectPr>{Sections.WIDE}</w:sectPr></w:pPr></w:pPrChange>'
        made.add(paragraph(run("Words"), before))
        made.sections(Sections.WIDE, Sections.A4)
        report = brought(made).report
        self.assertEqual(
            [type(block).__name__ for block in report.blocks], ["Paragraph", "Paragraph", "PartStart", "Paragraph"]
        )
        self.assertEqual(round(report.page.width), 595)

    def test_character_styles_say_how_words_look(self) -> None:
        """17.7.3; links have the look of links here."""
        made = Made()
        style = made.document.styles.add_style("Warning", 2)
        style.font.name, style.font.all_caps = "Courier New", True
        style.element.rPr.extend(elements('<w:color w:val="AA0000"/>'))
        made.add(
            paragraph(run("Careful", '<w:rStyle w:val="Warning"/>') + run(" again", '<w:rStyle w:val="Warning"/>'))
        )
        found = brought(made)
        marks = found.report.blocks[0].runs[0].marks  # type: ignore[attr-defined]
        self.assertEqual((marks.font, marks.colour, marks.capitals), ("Courier New", "#aa0000", "all"))
        self.assertEqual(noted(found), {})

    def test_raised_lowered_struck_and_coloured_words(self) -> None:
        """17.3.2.42, 17.3.2.37, 17.3.2.15, 17.3.5; shading of points is as one colour, 17.18.78."""
        found = body_of(
            paragraph(
                run("H") + run("2", '<w:vertAlign w:val="subscript"/>') + run("x", '<w:vertAlign w:val="superscript"/>')
                + run("gone", "<w:strike/>") + run(" ") + run("twice", "<w:dstrike/>") + run("lit", '<w:highlight w:val="darkCyan"/>')
                + run("shade", '<w:shd w:val="clear" w:fill="D6E4F5"/>') + run("points", '<w:shd w:val="pct50" w:fill="FFFFFF" w:color="000000"/>')
                + run("over", '<w:highlight w:val="yellow"/><w:shd w:val="clear" w:fill="D6E4F5"/>')
                + run("lines", '<w:shd w:val="diagCross" w:fill="FFFFFF" w:color="000000"/>') + run("white", '<w:shd w:val="clear" w:fill="FFFFFF"/>')
            )
        )  # fmt: skip
        marks = {one.text: one.marks for one in found.report.blocks[0].runs}  # type: ignore[attr-defined]
        self.assertEqual([marks[one].script for one in ("H", "2", "x")], [None, "sub", "super"])
        self.assertTrue(marks["gone"].strike and marks["twice"].strike and not marks["H"].strike)
        self.assertEqual(
            [marks[one].highlight for one in ("lit", "shade", "points", "over", "lines", "white")],
            ["#008080", "#d6e4f5", "#808080", "#ffff00", "#808080", None],
        )
        self.assertEqual(
            noted(found),
            {
                "Letters struck through by two lines: struck through by one": 1,
                "Pattern behind words, paragraphs or cells: shown as one colour": 1,
            },
        )

    def test_capitals_of_a_style_and_of_runs_that_turn_them_off(self) -> None:
        """17.3.2.5, 17.3.2.33: a run's own toggle counts outright."""
        made = Made()
        style = made.document.styles.add_style("Loud", 1)
        style.font.all_caps, style.font.strike = True, True
        made.add(paragraph(run("Loud ") + run("quiet ", '<w:caps w:val="0"/>') + run("small", '<w:caps w:val="0"/><w:smallCaps/>'), '<w:pStyle w:val="Loud"/>'))  # fmt: skip
        report = brought(made).report
        [block] = [one for one in report.blocks if isinstance(one, Paragraph)]
        self.assertEqual((report.styles[block.style].capitals, report.styles[block.style].strike), ("all", True))
        self.assertEqual([one.marks.capitals for one in block.runs], [None, "none", "small"])

    def test_what_a_paragraph_style_says_of_the_place_and_colour_of_words_is_said_of_the_words(self) -> None:
        made = Made()
        style = made.document.styles.add_style("Lit", 1)
        style.element.get_or_add_rPr().extend(
            elements('<w:highlight w:val="yellow"/><w:vertAlign w:val="superscript"/>')
        )
        made.add(paragraph(run("lit") + run(" dark", '<w:highlight w:val="none"/><w:vertAlign w:val="baseline"/>'), '<w:pStyle w:val="Lit"/>'))  # fmt: skip
        [block] = [one for one in brought(made).report.blocks if isinstance(one, Paragraph)]
        self.assertEqual(
            [(one.marks.highlight, one.marks.script) for one in block.runs], [("#ffff00", "super"), (None, None)]
        )


class Frames(TestCase):
    """What is behind and around paragraphs: 17.3.1.24, 17.3.1.31; their right indent, 17.3.1.12; and 17.3.1.9."""

    def test_those_of_a_style_and_of_a_paragraph(self) -> None:
        made = Made()
        style = made.document.styles.add_style("Boxed", 1)
        style.element.get_or_add_pPr().extend(
            elements(
                '<w:pBdr><w:top w:val="single" w:sz="8" w:color="2F7D6B"/><w:left w:val="double" w:sz="4"/></w:pBdr>'
                '<w:shd w:val="clear" w:fill="E4F2EE"/><w:contextualSpacing/><w:ind w:right="400"/>'
            )
        )
        named = '<w:pStyle w:val="Boxed"/>'
        made.add(
            paragraph(run("as the style"), named)
            + paragraph(run("its own"), f'{named}<w:pBdr><w:top w:val="nil"/><w:bottom w:val="dashed" w:sz="12" w:color="000000"/></w:pBdr><w:shd w:val="clear" w:fill="auto"/><w:contextualSpacing w:val="0"/><w:ind w:end="200"/>')
        )  # fmt: skip
        found = brought(made)
        one, own = [block for block in found.report.blocks if isinstance(block, Paragraph)]
        style = found.report.styles[one.style]
        self.assertEqual(
            (style.borders, style.background, style.right_indent, style.contextual_spacing),
            ("top 1 #2f7d6b, left 1.5 #000000 double", "#e4f2ee", 20.0, True),
        )
        self.assertEqual((one.borders, one.background, one.right_indent, one.contextual_spacing), (None,) * 4)
        self.assertEqual(
            (own.borders, own.background, own.right_indent, own.contextual_spacing),
            ("bottom 1.5 #000000 dashed, left 1.5 #000000 double", "none", 10.0, False),
        )
        self.assertEqual(noted(found), {})

    def test_lines_that_no_report_has_are_counted(self) -> None:
        found = body_of(
            paragraph(run("a"), '<w:pBdr><w:top w:val="wave" w:sz="8"/><w:between w:val="single"/></w:pBdr>')
            + paragraph(run("b"), '<w:ind w:right="-300"/>')
        )
        block = found.report.blocks[0]
        self.assertEqual(block.borders, "top 1 #000000")  # type: ignore[union-attr]
        self.assertEqual(
            noted(found),
            {
                "Lines of a special kind: drawn as plain ones": 1,
                "Paragraph that reaches beyond its column on the right: set up to the column's edge": 1,
            },
        )

    def test_sizes_that_no_line_has_are_brought_within_bounds(self) -> None:
        found = body_of(paragraph(run("a"), '<w:pBdr><w:top w:val="single" w:sz="99999"/><w:left w:val="single" w:sz="-4"/></w:pBdr><w:ind w:right="9999999"/>'))  # fmt: skip
        block = found.report.blocks[0]
        self.assertEqual(block.borders, "top 20 #000000, left 0.1 #000000")  # type: ignore[union-attr]
        self.assertEqual(block.right_indent, 500.0)  # type: ignore[union-attr]

    def test_which_typeface_stands_in_for_which(self) -> None:
        fonts = ("Georgia", "Tahoma", "Consolas", "times new roman", "Arimo", "Carlito")
        found = body_of("".join(paragraph(run("Words", f'<w:rFonts w:ascii="{font}"/>') * 2) for font in fonts))
        self.assertEqual(
            [(*note.details, note.kind) for note in found.notes],
            [
                ("Georgia", "Liberation Serif", "typeface"),
                ("Tahoma", "Liberation Sans", "typeface"),
                ("Consolas", "Liberation Mono", "typeface"),
                ("times new roman", "Liberation Serif", "typeface-as-wide"),
                ("Arimo", "Liberation Sans", "typeface-as-wide"),
            ],
        )


class Tables(TestCase):
    """17.4."""

    def test_columns_are_as_wide_as_cells_say_or_else_the_grid(self) -> None:
        def cell(width: str = "") -> str:
            return f"<w:tc><w:tcPr>{width}</w:tcPr>{paragraph(run('a'))}</w:tc>"

        found = body_of(
            '<w:tbl><w:tblGrid><w:gridCol w:w="1000"/><w:gridCol w:w="2000"/><w:gridCol w:w="3000"/></w:tblGrid><w:tr>'
            + cell('<w:tcW w:w="1400" w:type="dxa"/>') + cell('<w:tcW w:w="50" w:type="pct"/>') + cell() + "</w:tr></w:tbl>"
        )  # fmt: skip
        table = only(found, DataTable)
        self.assertEqual([cell.widths for cell in table.rows[0]], [(70.0,), (100.0,), (150.0,)])  # type: ignore[attr-defined]

    def test_cells_look_as_the_file_says(self) -> None:
        """17.4.33, 17.4.67, 17.4.70, 17.4.84; lines that a table says around itself and inside, 17.4.38; what a cell says counts first."""

        def cell(words: str, properties: str = "") -> str:
            return f"<w:tc><w:tcPr>{properties}</w:tcPr>{paragraph(run(words))}</w:tc>"

        found = body_of(
            '<w:tbl><w:tblPr><w:jc w:val="center"/><w:tblBorders><w:top w:val="single" w:sz="16" w:color="000000"/><w:bottom w:val="single" w:sz="16" w:color="000000"/>'
            '<w:insideH w:val="dotted" w:sz="4" w:color="FF0000"/></w:tblBorders><w:tblCellMar><w:left w:w="200"/></w:tblCellMar></w:tblPr>'
            '<w:tr><w:trPr><w:trHeight w:val="900"/></w:trPr>'
            + cell("a", '<w:shd w:val="clear" w:fill="33263B"/>')
            + cell("b", '<w:tcBorders><w:left w:val="single" w:sz="8" w:color="00FF00"/><w:bottom w:val="nil"/></w:tcBorders><w:tcMar><w:top w:w="40"/></w:tcMar><w:vAlign w:val="center"/>')
            + "</w:tr><w:tr>" + cell("c") + cell("d", '<w:vAlign w:val="bottom"/>') + "</w:tr></w:tbl>"
        )  # fmt: skip
        table = only(found, DataTable)
        assert isinstance(table, DataTable)
        (a, b), (c, d) = table.rows
        self.assertEqual(table.align, "center")
        self.assertEqual(
            [one.borders for one in (a, b, c, d)],
            [
                "top 2 #000000, bottom 0.5 #ff0000 dotted",
                "top 2 #000000, left 1 #00ff00",
                "top 0.5 #ff0000 dotted, bottom 2 #000000",
                "top 0.5 #ff0000 dotted, bottom 2 #000000",
            ],
        )
        self.assertEqual([one.vertical for one in (a, b, c, d)], [None, "middle", None, "bottom"])
        self.assertEqual([a.height, c.height], [45.0, None])
        self.assertEqual([a.padding, b.padding], [(0.0, 5.4, 0.0, 10.0), (2.0, 5.4, 0.0, 10.0)])
        self.assertEqual([a.background, c.background], ["#33263b", None])
        # Letters of no colour of their own are light on what is dark.
        self.assertEqual([one.paragraphs[0].runs[0].marks.colour for one in (a, c)], ["#ffffff", None])
        self.assertEqual(noted(found), {})

    def test_by_the_parts_of_a_table_style(self) -> None:
        """17.7.6: the whole of a table, bands, first and last rows and columns, corners, each over those before."""
        made = Made()
        styles = made.document.styles.element
        styles.extend(
            elements(
                '<w:style w:type="table" w:styleId="Grid"><w:name w:val="Grid"/><w:tblPr><w:tblStyleRowBandSize w:val="1"/><w:tblBorders>'
                '<w:top w:val="single" w:sz="8"/><w:insideV w:val="single" w:sz="4"/></w:tblBorders></w:tblPr>'
                '<w:tblStylePr w:type="firstRow"><w:rPr><w:b/><w:color w:val="FFFFFF"/></w:rPr><w:tcPr><w:shd w:val="clear" w:fill="111111"/></w:tcPr></w:tblStylePr>'
                '<w:tblStylePr w:type="firstCol"><w:rPr><w:i/></w:rPr></w:tblStylePr>'
                '<w:tblStylePr w:type="band1Horz"><w:tcPr><w:shd w:val="clear" w:fill="EEEEEE"/></w:tcPr></w:tblStylePr>'
                '<w:tblStylePr w:type="nwCell"><w:tcPr><w:shd w:val="clear" w:fill="222222"/></w:tcPr></w:tblStylePr></w:style>'
            )
        )  # fmt: skip
        row = "<w:tr>" + f"<w:tc>{paragraph(run('a'))}</w:tc>" * 2 + "</w:tr>"
        made.add(
            f'<w:tbl><w:tblPr><w:tblStyle w:val="Grid"/><w:tblLook w:firstRow="1" w:firstColumn="1" w:noVBand="1"/></w:tblPr>{row * 3}</w:tbl>'
        )
        found = brought(made)
        table = only(found, DataTable)
        assert isinstance(table, DataTable)
        self.assertEqual(
            [[one.background for one in row] for row in table.rows],
            [["#222222", "#111111"], ["#eeeeee", "#eeeeee"], [None, None]],
        )
        marks = [[one.paragraphs[0].runs[0].marks for one in row] for row in table.rows]
        self.assertEqual([[(one.bold, one.italic, one.colour) for one in row] for row in marks[:2]],
                         [[(True, True, "#ffffff"), (True, None, "#ffffff")], [(None, True, None), (None, None, None)]])  # fmt: skip
        self.assertEqual(
            [one.borders for one in table.rows[0]],
            ["top 1 #000000, right 0.5 #000000", "top 1 #000000, left 0.5 #000000"],
        )
        self.assertEqual(noted(found), {})

    def test_the_line_below_merged_cells_is_that_of_their_last_row(self) -> None:
        def cell(properties: str, side: str) -> str:
            return f'<w:tc><w:tcPr>{properties}<w:tcBorders><w:{side} w:val="single" w:sz="8"/></w:tcBorders></w:tcPr>{paragraph(run("a"))}</w:tc>'

        found = body_of(
            "<w:tbl><w:tr>" + cell('<w:vMerge w:val="restart"/>', "top") + "</w:tr><w:tr>" + cell("<w:vMerge/>", "bottom") + "</w:tr></w:tbl>"
        )  # fmt: skip
        [[one]] = only(found, DataTable).rows  # type: ignore[attr-defined]
        self.assertEqual((one.borders, one.rows), ("top 1 #000000, bottom 1 #000000", 1))

    def test_what_is_not_kept_of_how_tables_look_is_said_once_for_each(self) -> None:
        cell = f'<w:tc><w:tcPr><w:shd w:val="diagCross" w:fill="FFEE00"/><w:tcBorders><w:top w:val="wave"/><w:tl2br w:val="single"/></w:tcBorders></w:tcPr>{paragraph(run("a"))}</w:tc>'  # fmt: skip
        plain = f'<w:tc><w:tcPr><w:shd w:val="clear" w:fill="auto"/><w:vAlign w:val="top"/></w:tcPr>{paragraph(run("a"))}</w:tc>'
        found = body_of(
            f'<w:tbl><w:tblPr><w:tblpPr w:tblpX="5"/><w:tblCellSpacing w:w="50"/></w:tblPr><w:tr><w:trPr><w:trHeight w:val="200" w:hRule="exact"/></w:trPr>{cell}{cell}</w:tr></w:tbl>'
            + paragraph("") + f"<w:tbl><w:tr>{plain}</w:tr></w:tbl>"
        )  # fmt: skip
        self.assertEqual(
            noted(found),
            {
                "Lines of a special kind: drawn as plain ones": 1,
                "Pattern behind words, paragraphs or cells: shown as one colour": 1,
                "Data table with space between its cells: set without it": 1,
                "Data table with rows of a height that cuts words off: so high at least": 1,
                "Data table, or row of one, placed freely on the page: set where it stands in the text": 1,
            },
        )


class BadInput(TestCase):
    """What no program should have written is read as far as it goes, and said."""

    def test_tables_within_a_table_that_only_lays_out_the_page_stand_in_the_text(self) -> None:
        inner = f"<w:tbl><w:tblPr><w:tblBorders><w:top w:val='single'/></w:tblBorders></w:tblPr><w:tr><w:tc>{paragraph(run('x'))}</w:tc><w:tc>{paragraph(run('y'))}</w:tc></w:tr></w:tbl>"
        found = body_of(
            f"<w:tbl><w:tr><w:tc>{paragraph(run('left'))}</w:tc><w:tc>{inner}{paragraph('')}</w:tc></w:tr></w:tbl>"
        )
        self.assertEqual([type(one).__name__ for one in found.report.blocks], ["Paragraph", "DataTable"])
        self.assertEqual(words(found), ["left"])
        self.assertEqual(
            noted(found), {"Table that lays out the page, with tables in it: set as text, cell below cell": 1}
        )

    def test_a_table_in_a_cell_of_a_ruled_table_stays_there(self) -> None:
        inner = f"<w:tbl><w:tr><w:tc>{paragraph(run('x'))}</w:tc></w:tr></w:tbl>"
        found = body_of(
            "<w:tbl><w:tblPr><w:tblBorders><w:insideV w:val='single'/></w:tblBorders></w:tblPr><w:tr>"
            f"<w:tc>{paragraph(run('left'))}</w:tc><w:tc>{inner}{paragraph('')}</w:tc></w:tr></w:tbl>"
        )
        self.assertEqual([type(one).__name__ for one in found.report.blocks], ["DataTable"])
        self.assertEqual(noted(found), {"Data table inside a data table: kept as plain text": 1})

    def test_tables_twenty_and_eighty_deep(self) -> None:
        for deep in (20, 80):
            made = paragraph(run("innermost"))
            for _ in range(deep):
                made = f"<w:tbl><w:tr><w:tc>{made}{paragraph('')}</w:tc></w:tr></w:tbl>"
            found = body_of(made)
            table = only(found, DataTable)
            assert isinstance(table, DataTable)
            self.assertIn("innermost", [one.text for one in table.rows[0][0].paragraphs])
            self.assertEqual(
                noted(found).get("Table that lays out the page, with tables in it: set as text, cell below cell"),
                min(deep - 1, 20),
            )
            self.assertEqual(
                noted(found).get("Data table inside a data table: kept as plain text", 0), max(deep - 21, 0)
            )

    def test_cells_that_are_merged_over_each_other_or_beyond_the_table(self) -> None:
        def cell(words: str, properties: str) -> str:
            return f"<w:tc><w:tcPr>{properties}</w:tcPr>{paragraph(run(words))}</w:tc>"

        restart, on = '<w:vMerge w:val="restart"/>', "<w:vMerge/>"
        found = body_of(
            "<w:tbl><w:tr>" + cell("a", on) + cell("b", '<w:gridSpan w:val="9999"/>' + restart) + "</w:tr><w:tr>"
            + cell("c", restart + '<w:gridSpan w:val="-3"/>') + cell("d", on) + cell("e", '<w:hMerge w:val="continue"/>') + "</w:tr></w:tbl>"
        )  # fmt: skip
        table = only(found, DataTable)
        assert isinstance(table, DataTable)
        inside = [one.text for row in table.rows for cell in row for one in cell.paragraphs]
        self.assertEqual(sorted(inside), ["a", "b", "c", "d", "e"])
        paginate(found.report, Typefaces())

    def test_heads_that_are_too_long_or_hold_braces_and_signs(self) -> None:
        made = Made()
        head = made.head(
            paragraph(run("{page} " + "word " * 38) + field("PAGE", run("1")) + field("NUMPAGES", run("1")) * 3)
        )
        made.sections(f'<w:headerReference w:type="default" r:id="{head}"/>' + Sections.A4)
        found = brought(made)
        self.assertTrue(found.report.page.head_left.startswith("(page) word word"))
        self.assertEqual(found.report.page.head_left.count("{"), found.report.page.head_left.count("}"))
        self.assertEqual(noted(found), {"Head or foot of more than 200 characters: cut off behind these": 1})

    def test_a_section_without_room_keeps_the_usual_page(self) -> None:
        made = Made()
        made.sections('<w:pgSz w:w="99999999" w:h="3"/><w:pgMar w:left="90000" w:top="-4"/><w:cols w:num="99"/><w:pgNumType w:start="-7"/>')  # fmt: skip
        page = brought(made).report.page
        self.assertEqual((round(page.width), page.columns), (595, 1))

    def test_a_picture_that_claims_to_be_vast(self) -> None:
        data = bytearray(png())
        data[16:24] = (30_000).to_bytes(4, "big") * 2
        data[29:33] = crc32(bytes(data[12:29])).to_bytes(4, "big")
        made = Made()
        made.add(paragraph(inline_picture(made.picture(bytes(data)))))
        found = brought(made)
        self.assertEqual((words(found), [*found.pictures]), (["[A gate]"], []))
        self.assertEqual([note.kind for note in found.notes], ["picture-large"])

    def test_fields_that_do_not_end_or_were_never_begun(self) -> None:
        begin, end = '<w:r><w:fldChar w:fldCharType="begin"/></w:r>', '<w:r><w:fldChar w:fldCharType="end"/></w:r>'
        for made in (
            begin * 40 + run("Words"),
            end * 3 + run("Words"),
            begin + "<w:r><w:instrText>REF</w:instrText></w:r>" + run("Words") + end,
        ):
            body_of(paragraph(made))
        self.assertEqual(words(body_of(paragraph(end * 3 + run("Words")))), ["Words"])
