"""Captions, bookmarks, links and references of Office Open XML documents (ISO/IEC 29500-1, 17.13.6 and 17.16), and of Markdown."""

from __future__ import annotations

import unittest
from io import BytesIO

from docx import Document
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls

from mellowspine.core.formats import read
from mellowspine.core.pages.as_set import as_set
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, PlacedTable

TYPEFACES = Typefaces()


def r(words: str) -> str:
    return f'<w:r><w:t xml:space="preserve">{words}</w:t></w:r>'


def field(instruction: str, result: str) -> str:
    return (
        '<w:r><w:fldChar w:fldCharType="begin"/></w:r>'
        f'<w:r><w:instrText xml:space="preserve"> {instruction} </w:instrText></w:r>'
        f'<w:r><w:fldChar w:fldCharType="separate"/></w:r>{r(result)}<w:r><w:fldChar w:fldCharType="end"/></w:r>'
    )


def mark(name: str, inside: str, id: int) -> str:
    return f'<w:bookmarkStart w:id="{id}" w:name="{name}"/>{inside}<w:bookmarkEnd w:id="{id}"/>'


def p(inside: str, style: str = "Normal") -> str:
    return f'<w:p {nsdecls("w")}><w:pPr><w:pStyle w:val="{style}"/></w:pPr>{inside}</w:p>'


def pages_of(*paragraphs: str) -> Pages:
    document = Document()
    body = document.element.body
    for number, one in enumerate(paragraphs):
        body.insert(number, parse_xml(one))
    stream = BytesIO()
    document.save(stream)
    return paginate(read("a.docx", stream.getvalue()).report, TYPEFACES)


def printed(pages: Pages) -> list[str]:
    return [as_set(one, pages.report).text for one in pages.report.blocks if isinstance(one, Paragraph) and one.text]


class Fields(unittest.TestCase):
    def test_seq_counts_captions_whatever_was_printed_last(self) -> None:
        pages = pages_of(
            p(r("Figure ") + field("SEQ Figure \\* ARABIC", "7") + r(" – North wall"), "Caption"),
            p(r("Table ") + field("SEQ Table \\* ARABIC", "1") + r(": Costs"), "Caption"),
            p(r("Figure ") + field("SEQ Figure \\* ARABIC", "9") + r(" – South wall"), "Caption"),
            p(r("Photo ") + f'<w:fldSimple w:instr=" SEQ Photo ">{r("1")}</w:fldSimple>' + r(" Gulls"), "Caption"),
        )
        self.assertEqual(
            printed(pages), ["Figure 1 – North wall", "Table 1: Costs", "Figure 2 – South wall", "Photo 1 Gulls"]
        )
        self.assertEqual([one.caption for one in pages.report.blocks if isinstance(one, Paragraph)][:4],
                         ["figure", "table", "figure", "photo"])  # fmt: skip

    def test_seq_by_chapter(self) -> None:
        caption = r("Figure ") + field("STYLEREF 1 \\s", "1") + r("-") + field("SEQ Figure \\s 1", "1") + r(": Wall")
        pages = pages_of(p(caption, "Caption"))
        self.assertEqual(pages.report.labels["figure"].by_level, 1)
        self.assertEqual(printed(pages), ["Figure 1: Wall"])  # no chapter has a number in it

    def test_what_is_no_caption_keeps_its_words(self) -> None:
        pages = pages_of(p(r("Equation (") + field("SEQ Equation", "3") + r(") holds.")))
        self.assertEqual(printed(pages), ["Equation (3) holds."])

    def test_ref_and_pageref_become_references(self) -> None:
        caption = mark("_Ref1", r("Figure ") + field("SEQ Figure", "4"), 1) + r(": North wall")
        pages = pages_of(
            p(mark("_Ref2", r("The sea"), 2), "Heading1"),
            p(caption, "Caption"),
            p(r("See ") + field("REF _Ref1 \\h", "Figure 4") + r(" in “") + field("REF _Ref2 \\h", "Old title") + r("” on page ")
              + field("PAGEREF _Ref1 \\h", "12") + r(", ") + field("REF _Ref1 \\p \\h", "below") + r(".")),
        )  # fmt: skip
        self.assertEqual(printed(pages)[-1], "See Figure 1 in “The sea” on page 1, above.")

    def test_a_reference_to_plain_words_makes_a_place_of_them(self) -> None:
        pages = pages_of(p(mark("_Ref3", r("The tide turns at noon."), 3)), p(r("Page ") + field("PAGEREF _Ref3", "8")))
        self.assertEqual(printed(pages)[-1], "Page 1")
        (place,) = pages.places.values()
        self.assertEqual((place.kind, place.text), ("bookmark", "The tide turns at noon."))

    def test_bookmarks_and_links_to_them(self) -> None:
        link = f'<w:hyperlink w:anchor="Highest_tide">{r("there")}</w:hyperlink>'
        field_link = field('HYPERLINK \\l "Highest_tide"', "once more")
        pages = pages_of(
            p(r("At ") + mark("Highest_tide", r("spring tide"), 5) + r(" it floods.")),
            p(r("As said ") + link + field_link),
        )
        (place,) = pages.places.values()
        self.assertEqual((place.kind, place.text, place.offset), ("bookmark", "Highest_tide", 3))
        leads = [lead for _, one in pages.noted for lead in one.leads]
        self.assertEqual([(lead.to, lead.shows, lead.words) for lead in leads], [(place.id, "", "thereonce more")])

    def test_a_bookmark_over_paragraphs_and_one_without_words(self) -> None:
        start, end = '<w:bookmarkStart w:id="6" w:name="Tide"/>', '<w:bookmarkEnd w:id="6"/>'
        pages = pages_of(
            p(r("High ") + start + r("water")), p(r("and low") + end + r(" water.")), p(mark("Point", "", 7) + r("Here.")),
            p(f'<w:hyperlink w:anchor="Point">{r("go")}</w:hyperlink>'),
        )  # fmt: skip
        self.assertEqual(
            [(one.kind, one.text) for one in pages.places.values()], [("bookmark", "Tide"), ("bookmark", "Point")]
        )

    def test_what_the_file_lacks_says_what_it_was(self) -> None:
        pages = pages_of(p(r("See ") + field("REF _Ref9 \\h", "Figure 8") + r(".")))
        self.assertEqual(printed(pages), ["See [Figure 8?]."])

    def test_a_list_of_figures_is_one(self) -> None:
        pages = pages_of(
            p(field('TOC \\h \\z \\c "Figure"', "Figure 1 Wall 3")),
            p(r("Figure ") + field("SEQ Figure", "1") + r(": Wall"), "Caption"),
        )
        (placed,) = (one for one in pages.report.blocks if isinstance(one, PlacedTable))
        recipe = pages.report.tables[placed.table].recipe
        self.assertEqual((placed.kind, recipe.kind, recipe.label), ("figures", "figures", "figure"))


class Markdown(unittest.TestCase):
    def test_links_within_the_file_reach_their_headings(self) -> None:
        text = """# The sea

See [walls](#north--south-walls), [the point](#point) and [nothing](#gone).

## North & South walls

<a id="point"></a>The point is here.

![A wall](data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg== "Figure 4: North wall")
"""
        report = read("a.md", text.encode()).report
        pages = paginate(report, TYPEFACES)
        leads = [lead for _, one in pages.noted for lead in one.leads]
        reached = [pages.places[lead.to].text if lead.to in pages.places else None for lead in leads]
        self.assertEqual(reached, ["North & South walls", "point", None])
        self.assertEqual(printed(pages)[-1], "Figure 1: North wall")


def hidden(instruction: str) -> str:
    """A field without a result, whose code is hidden text."""
    return (
        '<w:r><w:rPr><w:vanish/></w:rPr><w:fldChar w:fldCharType="begin"/></w:r>'
        f'<w:r><w:rPr><w:vanish/></w:rPr><w:instrText xml:space="preserve"> {instruction} </w:instrText></w:r>'
        '<w:r><w:rPr><w:vanish/></w:rPr><w:fldChar w:fldCharType="end"/></w:r>'
    )


def marked(pages: Pages) -> list[tuple[str, str]]:
    """The words that are marked, with the authority or the terms."""
    found = []
    for one in pages.report.blocks:
        for run in one.runs if isinstance(one, Paragraph) else ():
            if run.marks.citation:
                found.append((run.text, pages.report.authorities[run.marks.citation.of].long))
            if run.marks.indexed:
                found.append((run.text, "; ".join(":".join(entry.terms) for entry in run.marks.indexed.entries)))
    return found


class Marks(unittest.TestCase):
    """TA, TOA, XE and INDEX fields (ISO/IEC 29500-1, 17.16.5)."""

    def test_ta_marks_the_form_it_names_and_categories_are_those_of_its_number(self) -> None:
        pages = pages_of(
            p(
                r("Held in Vane v. Ash, 12 Harb. 4")
                + hidden(r'TA \l "Vane v. Ash, 12 Harb. 4" \s "Vane" \c 1')
                + r(" and so on.")
            ),
            p(
                r("As Vane")
                + field(r'TA \s "Vane"', "")
                + r(" says; Rule 4")
                + hidden(r'TA \l "Rule 4" \s "Rule 4" \c 4')
                + r(".")
            ),
            p(hidden(r'TA \l "Act 1902" \c 2') + r("Under it")),
        )
        self.assertEqual(
            marked(pages),
            [
                ("Vane v. Ash, 12 Harb. 4", "Vane v. Ash, 12 Harb. 4"),
                ("Vane", "Vane v. Ash, 12 Harb. 4"),
                ("Rule 4", "Rule 4"),
                ("Under", "Act 1902"),
            ],
        )
        report = pages.report
        names = {one.long: report.categories[one.category].name for one in report.authorities.values()}
        self.assertEqual(names, {"Vane v. Ash, 12 Harb. 4": "Cases", "Rule 4": "Rules", "Act 1902": "Statutes"})
        self.assertEqual(printed(pages)[0], "Held in Vane v. Ash, 12 Harb. 4 and so on.")

    def test_xe_marks_terms_three_deep_main_places_and_hints(self) -> None:
        pages = pages_of(
            p(r("The neap tide") + hidden(r'XE "tide:neap" \b') + r(" was late") + hidden('XE "delay"') + r(".")),
            p(hidden(r'XE "swell" \t "See waves"') + hidden(r'XE "tide" \t "See also gates"') + r("Nothing.")),
        )
        self.assertEqual(marked(pages), [("tide", "tide:neap"), ("late", "delay")])
        (main,) = [run for one in pages.report.blocks for run in getattr(one, "runs", ()) if run.text == "tide"]
        self.assertTrue(main.marks.indexed.entries[0].main)
        self.assertEqual(
            [(see.terms, see.to, see.also) for see in pages.report.sees],
            [(("swell",), ("waves",), False), (("tide",), ("gates",), True)],
        )

    def test_a_term_over_a_bookmark_has_the_pages_of_its_words(self) -> None:
        pages = pages_of(p(mark("Wall", r("All about the wall."), 3)), p(r("Here") + hidden(r'XE "wall" \r Wall')))
        self.assertEqual(marked(pages), [("All about the wall.", "wall")])

    def test_toa_and_index_become_tables(self) -> None:
        pages = pages_of(
            p(field(r'TOA \h \c "1" \p', "Cases")),
            p(field(r'INDEX \h "A" \c "2" \e "; "', "A")),
        )
        made = {
            one.kind: pages.report.tables[one.table].recipe
            for one in pages.report.blocks
            if isinstance(one, PlacedTable)
        }
        self.assertEqual([*made], ["authorities", "index"])
        self.assertEqual(
            (made["authorities"].categories, made["authorities"].passim, made["authorities"].levels),
            (("cases",), 5, (1, 2)),
        )
        self.assertEqual(
            (made["index"].columns, made["index"].separator, made["index"].levels), (2, "; ", (1, 2, 3, 4))
        )
