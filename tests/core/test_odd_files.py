"""Files from outside, whatever is wrong with them: read, or refused with a sentence, and soon."""

from __future__ import annotations

import re
import zipfile
from dataclasses import replace
from io import BytesIO
from itertools import pairwise
from random import Random
from unittest import TestCase

from docx import Document
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls
from lxml import etree

from mellowspine.core.formats import docx, read
from mellowspine.core.formats.imported import FileRefused, Imported
from mellowspine.core.report.blocks import DataTable, Image, Paragraph
from mellowspine.core.structure.markers import list_markers

from .odd_files import odd_docx, odd_text, sound_docx, sources, try_all

MARKDOWN = (
    b"# One\n\nWords *a* **b** [l](http://x.org \"t\") ![p](data:image/png;base64,iVBORw0KGgo=)\n\n- a\n  - b\n    1. c\n\n> q\n\n"
    b"| a | b |\n|---|---|\n| 1 | 2 |\n\n```py\ncode\n```\n\n---\n\nSetext\n===\n<b>raw</b> &amp; &#55296; \\* text  \nbreak\n"
)  # fmt: skip


def texts(found: Imported) -> list[str]:
    return [block.text for block in found.report.blocks if isinstance(block, Paragraph)]


def with_parts(data: bytes, change) -> bytes:
    """A package with ``change(name, content)`` for each of its parts; None leaves it out."""
    made = BytesIO()
    with zipfile.ZipFile(BytesIO(data)) as before, zipfile.ZipFile(made, "w") as after:
        for name in before.namelist():
            if (content := change(name, before.read(name))) is not None:
                after.writestr(name, content)
    return made.getvalue()


class Mutated(TestCase):
    """A few hundred of each; ``make load LOAD=files`` tries some thousand. Whatever a reader raises, but FileRefused, fails."""

    def test_documents_with_parts_and_values_changed(self) -> None:
        chance, sound = Random(7), sources()
        found = try_all(
            ("a.docx", odd_docx(chance, chance.choice([sound[0], chance.choice(sound)]))) for _ in range(300)
        )
        self.assertGreater(found["read"], 150)
        self.assertGreater(found["refused"], 20)

    def test_texts_with_characters_changed(self) -> None:
        chance = Random(7)
        found = try_all((f"a{ending}", odd_text(chance, MARKDOWN)) for ending in (".md", ".txt") for _ in range(300))
        self.assertGreater(found["read"], 400)


class Odd(TestCase):
    def test_text_boxes_in_text_boxes_are_read_once(self) -> None:
        """Each level was read again for every level around it: twenty of them never ended."""
        document = Document()
        box = "<w:p {}><w:r><w:t>Deep</w:t></w:r></w:p>".format(nsdecls("w"))
        for level in range(24):
            box = (
                f'<w:p {nsdecls("w")}><w:r><w:t>{level}</w:t></w:r><w:r><w:pict><v:shape xmlns:v="urn:schemas-microsoft-com:vml">'
                f"<v:textbox><w:txbxContent>{box}</w:txbxContent></v:textbox></v:shape></w:pict></w:r></w:p>"
            )
        document.element.body.insert(0, parse_xml(box))
        found = read("a.docx", saved(document))
        self.assertEqual(texts(found), [*(str(level) for level in reversed(range(24))), "Deep"])

    def test_a_text_box_in_a_cell_is_read_once(self) -> None:
        document = Document()
        cell = document.add_table(1, 1).cell(0, 0)
        cell.paragraphs[0].add_run("Cell")._r.append(
            parse_xml(
                f"<w:pict {nsdecls('w')}><w:txbxContent><w:p><w:r><w:t>Boxed</w:t></w:r></w:p></w:txbxContent></w:pict>"
            )
        )
        (table,) = (block for block in read("a.docx", saved(document)).report.blocks if isinstance(block, DataTable))
        self.assertEqual([p.text for p in table.rows[0][0].paragraphs], ["Cell", "Boxed"])

    def test_a_picture_that_is_missing_is_left_out_and_counted(self) -> None:
        data = with_parts(sound_docx(), lambda name, content: None if name.startswith("word/media/") else content)
        found = read("a.docx", data)
        self.assertIn("First", texts(found))
        self.assertFalse([block for block in found.report.blocks if isinstance(block, Image)])
        self.assertIn(
            "Picture outside the file: its description or name kept as plain text",
            [note.sentence for note in found.notes],
        )

    def test_the_strict_variant(self) -> None:
        """ISO/IEC 29500-1 and -4: the same elements under other names, and lengths with units."""

        def strict(name: str, content: bytes) -> bytes:
            content = re.sub(
                rb"http://schemas\.openxmlformats\.org/(?!package)(\w+)/2006/",
                rb"http://purl.oclc.org/ooxml/\1/",
                content,
            )
            return content.replace(b'w:val="28"', b'w:val="14pt"').replace(b'w:left="720"', b'w:start="36pt"')

        plain, found = read("a.docx", sound_docx()), read("a.docx", with_parts(sound_docx(), strict))
        self.assertEqual(found.report.blocks, plain.report.blocks)
        self.assertEqual(found.report.page, plain.report.page)

    def test_only_what_is_there_is_noted(self) -> None:
        """Programs write parts for headers, notes and comments into documents that have none."""
        document = Document()
        document.add_paragraph("Words")
        document.sections[0].header.is_linked_to_previous = False
        document.styles["Normal"].font.name = "Carlito"
        self.assertEqual(read("a.docx", saved(document)).notes, ())
        document.sections[0].header.paragraphs[0].text = "Draft"
        document.sections[0].header.add_paragraph("Not for circulation")
        found = read("a.docx", saved(document))
        self.assertEqual([note.sentence for note in found.notes], ["Head or foot of several lines: joined into one"])
        self.assertEqual(found.report.page.head_left, "Draft · Not for circulation")

    def test_endnotes_stand_behind_what_refers_to_them(self) -> None:
        def with_note(name: str, content: bytes) -> bytes:
            if name == "word/document.xml":
                return content.replace(b"<w:t>Second</w:t>", b'<w:t>Second</w:t><w:endnoteReference w:id="2"/>')
            if name == "word/_rels/document.xml.rels":
                kind = b"http://schemas.openxmlformats.org/officeDocument/2006/relationships/endnotes"
                return content.replace(
                    b"</Relationships>",
                    b'<Relationship Id="rIdE" Type="' + kind + b'" Target="endnotes.xml"/></Relationships>',
                )
            return content

        made = BytesIO(with_parts(sound_docx(), with_note))
        with zipfile.ZipFile(made, "a") as package:
            package.writestr(
                "word/endnotes.xml",
                f'<w:endnotes {nsdecls("w")}><w:endnote w:id="2"><w:p><w:r><w:t>At the end.</w:t></w:r></w:p></w:endnote></w:endnotes>',
            )
        found = read("a.docx", made.getvalue())
        paragraphs = [block for block in found.report.blocks if isinstance(block, Paragraph)]
        (note,) = [one for before, one in pairwise(paragraphs) if before.text == "Second\ufffc"]
        self.assertEqual((note.text, note.note), ("At the end.", "end"))
        self.assertEqual([one for one in found.notes if "note" in one.sentence.lower()], [])

    def test_numbered_lists_are_counted_as_the_file_says(self) -> None:
        """ISO/IEC 29500-1, 17.9: instances of one abstract numbering go on from each other, unless they say where they start."""
        document = Document()
        numbering = document.part.numbering_part.element
        levels = "".join(
            f'<w:lvl w:ilvl="{level}"><w:start w:val="{start}"/><w:numFmt w:val="{format}"/><w:lvlText w:val="{text}"/></w:lvl>'
            for level, start, format, text in (
                (0, 5, "decimal", "%1."),
                (1, 1, "lowerLetter", "%1(%2)"),
                (2, 4, "upperRoman", "%3)"),
                (3, 1, "none", ""),
                (4, 1, "ordinal", "%5"),
            )
        )
        for xml in (
            f'<w:abstractNum {nsdecls("w")} w:abstractNumId="90">{levels}</w:abstractNum>',
            f'<w:num {nsdecls("w")} w:numId="91"><w:abstractNumId w:val="90"/></w:num>',
            f'<w:num {nsdecls("w")} w:numId="92"><w:abstractNumId w:val="90"/><w:lvlOverride w:ilvl="0"><w:startOverride w:val="2"/></w:lvlOverride></w:num>',
        ):
            numbering.append(parse_xml(xml))

        def item(words: str, instance: int, level: int = 0) -> None:
            document.add_paragraph(words)._p.get_or_add_pPr().append(
                parse_xml(f'<w:numPr {nsdecls("w")}><w:ilvl w:val="{level}"/><w:numId w:val="{instance}"/></w:numPr>')
            )

        item("five", 91)
        item("a", 91, 1)
        item("b", 91, 1)
        item("four", 91, 2)
        item("five", 91, 2)
        item("without", 91, 3)
        item("six", 91)
        item("a again", 91, 1)
        document.add_paragraph("Between.")
        item("seven", 91)
        item("two", 92)
        item("three", 92)
        item("first", 92, 4)
        found = read("a.docx", saved(document))
        markers = list_markers(found.report)
        self.assertEqual(
            [markers.get(block.id) for block in found.report.blocks],
            ["5.", "5(a)", "5(b)", "IV)", "V)", None, "6.", "6(a)", None, "7.", "2.", "3.", "1"],
        )
        names = [found.report.styles[block.style].name for block in found.report.blocks if isinstance(block, Paragraph)]
        self.assertEqual(names[0], "Numbered list 1")
        self.assertEqual(names[1:4:2], ["Numbered list 2, 1(a)", "Numbered list 3, I)"])
        self.assertIn(
            "Numbers of a list in words or other scripts: counted in figures", [note.sentence for note in found.notes]
        )

    def test_numbers_in_the_cells_of_a_column_go_on(self) -> None:
        document = Document()
        table = document.add_table(3, 1)
        for number in range(3):
            paragraph = table.cell(number, 0).paragraphs[0]
            paragraph.style = document.styles["List Number"]
            paragraph.add_run(f"Row {number}")
        report = read("a.docx", saved(document)).report
        (grid,) = (block for block in report.blocks if isinstance(block, DataTable))
        markers = list_markers(report)
        self.assertEqual([markers.get(row[0].paragraphs[0].id) for row in grid.rows], ["1.", "2.", "3."])
        other = replace(report, blocks=(*report.blocks[:-1], replace(grid, rows=grid.rows[1:])))
        self.assertEqual(list_markers(other, (report, markers)), list_markers(other))

    def test_items_of_lists_are_in_the_face_of_the_document(self) -> None:
        document = Document()
        document.styles["Normal"].font.name = "Arial"
        item = document.add_paragraph("Item")
        item._p.get_or_add_pPr().append(
            parse_xml(f'<w:numPr {nsdecls("w")}><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr>')
        )
        report = read("a.docx", saved(document)).report
        (block,) = (block for block in report.blocks if isinstance(block, Paragraph))
        self.assertTrue(report.styles[block.style].marker)
        self.assertEqual(report.styles[block.style].font, "Arial")

    def test_lengths_that_are_no_whole_numbers(self) -> None:
        data = with_parts(sound_docx(), lambda _, content: content.replace(b'w:w="12240"', b'w:w="12240.0"'))
        self.assertEqual(read("a.docx", data).report.page.width, 612.0)

    def test_two_parts_with_properties(self) -> None:
        def twice(name: str, content: bytes) -> bytes:
            if name == "_rels/.rels":
                root = etree.fromstring(content)
                (one,) = (one for one in root if (one.get("Type") or "").endswith("core-properties"))
                other = etree.fromstring(etree.tostring(one))
                other.set("Id", "rIdOther")
                root.append(other)
                return etree.tostring(root)
            return content

        self.assertEqual(read("a.docx", with_parts(sound_docx(), twice)).report.title, "Sound")

    def test_xml_under_another_spelling_is_checked_as_well(self) -> None:
        bomb = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa">]><x>&a;</x>'
        made = BytesIO(sound_docx())
        with zipfile.ZipFile(made, "a") as package:
            package.writestr("word/more.XML", bomb)
        with self.assertRaisesRegex(FileRefused, "entities"):
            read("a.docx", made.getvalue())

    def test_levels_of_a_contents_field_without_end(self) -> None:
        data = with_parts(sound_docx(), lambda _, content: content.replace(b'"1-3"', b'"1-99999999999999"'))
        (table,) = read("a.docx", data).report.tables.values()
        self.assertEqual(table.recipe.levels, (1, 2, 3, 4, 5, 6, 7, 8, 9))

    def test_a_body_is_needed(self) -> None:
        data = with_parts(sound_docx(), lambda _, content: content.replace(b"w:body", b"w:other"))
        with self.assertRaises(FileRefused):
            docx.read(data, "a", lambda done, total: None, {})


def saved(document) -> bytes:
    made = BytesIO()
    document.save(made)
    return made.getvalue()
