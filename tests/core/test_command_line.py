"""``mellow`` from the command line."""

from __future__ import annotations

import base64
import contextlib
import io
import json
import re
import subprocess
import sys
import tempfile
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import docx
import pikepdf
from docx import Document
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from PIL import Image
from pypdf import PdfReader

import mellowspine.core.kinds  # noqa: F401  (makes the kinds of block known)
from mellowspine.cli import main
from mellowspine.core.formats import WRITERS
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, PlacedTable, Run
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued
from mellowspine.core.tables.settle import settle_all

from .made_faces import face_data

TEXT = "# One\n\n" + "word " * 3000 + "\n\n## Two\n\nend\n"


def _png() -> bytes:
    stream = io.BytesIO()
    Image.new("RGB", (20, 10)).save(stream, "PNG")
    return stream.getvalue()


class Command(TestCase):
    """Has a folder to run it in."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "a.md"
        self.file.write_text(TEXT)

    def run_it(self, *arguments: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main([str(argument) for argument in arguments])
        return code, out.getvalue(), err.getvalue()


class OfAFile(Command):
    """``mellow notes``: what does not come along as it is."""

    TEXT = "Words\n\n# One\n\na <!-- b -->\n\n[x](ftp://y.org)\n\n# Two\n\nc <!-- d -->\n"

    def test_how_often_what_and_where(self) -> None:
        self.file.write_text(self.TEXT)
        code, out, _ = self.run_it("notes", self.file)
        self.assertEqual((code, out.splitlines()), (1, [
            "    2  Comment: left out (One; Two)",
            "    1  Link to no web address: kept as plain text (One)",
        ]))  # fmt: skip
        _, out, _ = self.run_it("notes", self.file, "--json")
        self.assertEqual(
            json.loads(out)["notes"][0],
            {"kind": "comment", "count": 2, "what": "Comment", "instead": "left out", "lost": True, "where": ["One", "Two"]},
        )  # fmt: skip

    def test_nothing_is_left_out(self) -> None:
        self.assertEqual(self.run_it("notes", self.file)[:2], (0, "All of it comes along.\n"))
        self.file.write_text("[x](ftp://y.org)")
        self.assertEqual(self.run_it("notes", self.file)[0], 0)

    def test_converting_says_the_same_on_standard_error(self) -> None:
        self.file.write_text(self.TEXT)
        _, said, _ = self.run_it("notes", self.file)
        self.assertEqual(self.run_it("convert", self.file, self.folder / "b.txt"), (0, "", said))


class CommandLine(Command):
    def test_what_there_is_is_said_without_anything_of_the_core(self) -> None:
        said = "import sys; from mellowspine.cli import main\ntry: main(['--help'])\nfinally: print([one for one in sys.modules if '.core' in one])"
        done = subprocess.run([sys.executable, "-c", said], capture_output=True, text=True, check=True)
        self.assertIn("print the headings of a file", done.stdout)
        self.assertEqual(done.stdout.splitlines()[-1], "[]")

    def test_outline_as_json(self) -> None:
        code, out, _ = self.run_it("outline", self.file, "--json")
        data = json.loads(out)
        self.assertEqual(code, 0)
        self.assertEqual(list(data), ["pages", "headings"])
        self.assertEqual(list(data["headings"][0]), ["id", "level", "number", "text", "page", "label"])
        found = [(h["level"], h["text"], h["page"], h["label"]) for h in data["headings"]]
        self.assertEqual(found, [(1, "One", 1, "1"), (2, "Two", data["pages"], str(data["pages"]))])

    def test_outline_for_the_eye(self) -> None:
        _, out, _ = self.run_it("outline", self.file)
        self.assertRegex(out.splitlines()[1], r"^  Two +\d+$")

    def test_outline_in_another_scheme(self) -> None:
        for scheme, wanted in (("decimal", ["1", "1.1"]), ("outline", ["I.", "A."]), ("legal", ["Article 1", "§ 1.1"]), ("none", ["", ""])):  # fmt: skip
            _, out, _ = self.run_it("outline", self.file, "--json", "--numbers", scheme)
            self.assertEqual([heading["number"] for heading in json.loads(out)["headings"]], wanted)
        with self.assertRaises(SystemExit):
            self.run_it("outline", self.file, "--numbers", "other")

    def test_styles(self) -> None:
        code, out, _ = self.run_it("styles", self.file, "--json")
        styles = {style["id"]: style for style in json.loads(out)["styles"]}
        self.assertEqual(code, 0)
        self.assertEqual(list(styles["quotation"]), ["id", "name", "based_on", "level", "says", "used"])
        self.assertEqual((styles["quotation"]["based_on"], styles["quotation"]["says"]["italic"]), ("body", True))
        self.assertNotIn("font", styles["quotation"]["says"])
        self.assertEqual([styles[id]["used"] for id in ("body", "heading-1", "heading-2", "title")], [2, 1, 1, 0])
        self.assertEqual((styles["heading-2"]["level"], styles["body"]["level"]), (2, None))
        _, out, _ = self.run_it("styles", self.file)
        self.assertRegex(out, r"Heading 1 +1  Carlito 20 pt, based on Body text, heading of level 1\n")

    def test_convert_takes_the_files_of_typefaces_that_are_not_here(self) -> None:
        document, face, out = (self.folder / name for name in ("c.docx", "quill.ttf", "c.pdf"))
        made = Document()
        made.styles["Normal"].font.name = "Quill Hand"
        made.add_paragraph("Weirs and sluices")
        made.save(str(document))
        face.write_bytes(face_data())
        said = "Typeface Quill Hand: set in Liberation Sans"
        self.assertIn(said, self.run_it("convert", document, out)[2])
        self.assertNotIn(said, self.run_it("convert", document, out, "--typeface", face)[2])
        with pikepdf.open(out) as file:
            names = [str(font.BaseFont) for font in file.pages[0].Resources.Font.values()]
        self.assertTrue(any("QuillHand" in name for name in names), names)
        code, _, error = self.run_it("convert", document, out, "--typeface", document)
        self.assertEqual((code != 0, "no typeface" in error), (True, True))

    def test_convert_puts_contents_in_front_unless_told_not_to(self) -> None:
        out = self.folder / "a.pdf"
        self.assertEqual(self.run_it("convert", self.file, out)[0], 0)
        self.assertIn("Contents", PdfReader(out).pages[0].extract_text())
        pages = len(PdfReader(out).pages)
        self.assertEqual(self.run_it("convert", self.file, out, "--no-contents")[0], 0)
        self.assertEqual(len(PdfReader(out).pages), pages - 1)

    def test_convert_puts_no_contents_in_front_of_a_text_without_headings(self) -> None:
        self.file.write_text("Only words.\n")
        out = self.folder / "a.pdf"
        self.assertEqual(self.run_it("convert", self.file, out)[0], 0)
        (page,) = PdfReader(out).pages
        self.assertNotIn("headings", page.extract_text())

    def test_convert_says_what_those_would_miss_who_do_not_see_the_pages(self) -> None:
        out = self.folder / "a.pdf"
        self.assertEqual(self.run_it("convert", self.file, out)[1], "")
        html = self.file.rename(self.folder / "b.html")
        html.write_text("<h1>One</h1><h3>Deep</h3><table><tr><td>a</td></tr><tr><td>b</td></tr></table>")
        code, said, _ = self.run_it("convert", html, out)
        self.assertEqual(code, 0)
        self.assertEqual(
            said.strip(),
            "Not of use to everybody yet: skipped levels: 1 (ISO 14289-1, 7.4.2), data tables without a head: 1 (ISO 14289-1, 7.5). "
            "“mellow check” says where.",
        )

    def test_convert_to_plain_text(self) -> None:
        self.file.write_text(
            "# One\n\n- spring\n- neap\n\n| Gate | Depth |\n|---|---|\n| East | 4 m |\n\n## Two\n\nend\n"
        )
        out = self.folder / "a.txt"
        self.assertEqual(self.run_it("convert", self.file, out)[0], 0)
        self.assertEqual(
            out.read_text().split("\n\n"),
            ["Contents\nOne\t2\n  Two\t2", "One", "• spring", "• neap", "Gate\tDepth\nEast\t4 m", "Two", "end\n"],
        )

    def test_a_section_and_the_tables_alone(self) -> None:
        self.file.write_text("# One\n\nfirst\n\n## Two\n\nsecond\n\n# Three\n\nthird\n")
        out = self.folder / "a.txt"
        self.assertEqual(self.run_it("convert", self.file, out, "--section", "two")[0], 0)
        self.assertEqual(out.read_text(), "Two\n\nsecond\n")
        self.assertEqual(self.run_it("convert", self.file, out, "--tables")[0], 0)
        self.assertEqual(out.read_text(), "Contents\nOne\t2\n  Two\t2\nThree\t2\n")
        code, _, said = self.run_it("convert", self.file, out, "--section", "four")
        self.assertEqual((code, said), (2, "There is no section “four”; “mellow outline” says which there are.\n"))

    def test_there_and_back_as_docx_and_what_that_will_not_have(self) -> None:
        self.file.write_text("# One\n\nfirst\n\n### Two\n\nsecond\n")
        out, again = self.folder / "a.docx", self.folder / "b.md"
        code, _, said = self.run_it("convert", self.file, out)
        self.assertEqual((code, said), (0, ""))
        self.assertEqual(self.run_it("convert", out, again)[0], 0)
        self.assertEqual(again.read_text().partition("\n---\n\n")[2], self.file.read_text())

    def test_a_file_is_caught_up(self) -> None:
        self.file.write_text("# One\n\nfirst\n\n## Two\n\nsecond\n")
        code, _, said = self.run_it("catch-up", self.file, self.folder / "a.docx")
        self.assertEqual(code, 2)
        self.assertIn("no table in it that is made from its text", said)
        made = Report(
            "r",
            (
                PlacedTable("p", "t"),
                Paragraph("h1", "heading-1", (Run("One"),)),
                Paragraph("h2", "heading-2", (Run("Two"),)),
            ),
            tables={"t": Issued()},
        )
        report, pages = settle_all(made, Typefaces())
        stale = replace(report, tables={"t": replace(report.tables["t"], lines=report.tables["t"].lines[:1])})
        source, out = self.folder / "in.docx", self.folder / "out.docx"
        source.write_bytes(WRITERS[".docx"].write(Written(stale, replace(pages, report=stale), Typefaces(), {})))
        self.assertEqual(self.run_it("catch-up", source, out)[:2], (0, "Contents: 2 lines\n"))
        lines = [one.text for one in docx.Document(str(out)).element.body.iter(qn("w:t"))]
        self.assertIn("Two", lines)

    BY_HAND = (
        "**1. Gates**\n\nThe gate was shut at dusk and stayed shut until the tide came in.\n\n***1.1 North gate***\n\nIt has two "
        "leaves, both of oak, and a sluice in each of them.\n\n**2. *Tides***\n\nThe tide comes in twice a day, and leaves again.\n"
    )

    def test_mark(self) -> None:
        self.file.write_text(self.BY_HAND)
        out = self.folder / "out.md"
        code, said, _ = self.run_it("mark", self.file, out, "--json", "--dry-run")
        self.assertFalse(out.exists())
        data = json.loads(said)
        self.assertEqual((code, list(data), data["changed"]), (0, ["looks", "changed"], 3))
        self.assertEqual([(look["name"], look["level"], [member["text"] for member in look["members"]]) for look in data["looks"]],
                         [("bold, a number in front", 1, ["Gates", "Tides"]), ("bold, italic, a number of 2 figures in front", 2, ["North gate"])])  # fmt: skip
        self.assertEqual(list(data["looks"][0]["members"][0]), ["id", "text"])
        self.assertIn(
            "Heading 1: bold, a number in front (2)\n  since: numbers of one figure, bold\n  Gates\n  Tides\n",
            self.run_it("mark", self.file, out)[1],
        )
        self.assertEqual(re.findall("^#.*", out.read_text(), re.MULTILINE), ["# Gates", "## North gate", "# *Tides*"])
        self.assertEqual(json.loads(self.run_it("mark", out, out, "--json")[1])["changed"], 0)

    def test_mark_by_rules(self) -> None:
        self.file.write_text(self.BY_HAND)
        out, rules = self.folder / "out.md", self.folder / "rules.json"
        rules.write_text(json.dumps({"rules": [{"name": "bold", "level": 2, "wants": {"bold": True}},
                                               {"name": "both", "level": 3, "wants": {"bold": True, "italic": True}}]}))  # fmt: skip
        self.assertEqual(self.run_it("mark", self.file, out, "--rules", rules)[0], 0)
        self.assertEqual(
            re.findall("^#.*", out.read_text(), re.MULTILINE), ["## Gates", "### North gate", "## *Tides*"]
        )
        for text, why in (("{", "no JSON"), ("[]", "no rules in it"), ('{"rules": [{"wants": {}}]}', "asks for nothing"),
                          ('{"rules": [{"name": "all", "level": 1, "wants": {"size": 11}}]}', "would take all 6 paragraphs")):  # fmt: skip
            rules.write_text(text)
            code, _, err = self.run_it("mark", self.file, out, "--rules", rules)
            self.assertEqual((code, err.count("\n")), (2, 1))
            self.assertIn(why, err)

    def test_places_and_what_leads_to_them(self) -> None:
        picture = base64.b64encode(_png()).decode()
        self.file.write_text(
            f'# Sea\n\nSee [walls](#walls) and [nothing](#gone).\n\n## Walls\n\n![x](data:image/png;base64,{picture} "Figure 7: North")\n'
        )
        code, out, _ = self.run_it("places", self.file, "--json")
        data = json.loads(out)
        self.assertEqual(code, 1)
        self.assertEqual([list(one) for one in data["places"]], [["id", "kind", "label", "number", "text", "page"]] * 3)
        self.assertEqual([(one["kind"], one["label"], one["number"], one["text"], one["page"]) for one in data["places"]],
                         [("heading", "", "", "Sea", "1"), ("heading", "", "", "Walls", "1"), ("caption", "Figure", "1", "North", "1")])  # fmt: skip
        walls = data["places"][1]["id"]
        self.assertEqual(
            [list(one) for one in data["links"]], [["id", "text", "kind", "target", "shows", "page", "broken"]] * 2
        )
        self.assertEqual([(one["text"], one["kind"], one["target"], one["broken"]) for one in data["links"]],
                         [("walls", "link", walls, False), ("nothing", "link", "gone", True)])  # fmt: skip
        self.file.write_text("# Sea\n\nSee [it](#sea).\n")
        code, out, _ = self.run_it("places", self.file)
        self.assertEqual(
            (code, [re.sub(" +", " ", line) for line in out.splitlines()]),
            (0, ["heading: Sea 1", "link “it”: to Sea 1"]),
        )

    def test_contents_of_figures_of_data_tables_and_of_a_style(self) -> None:
        picture = base64.b64encode(_png()).decode()
        self.file.write_text(
            f'# Sea\n\n> Said of the sea.\n\n![x](data:image/png;base64,{picture} "Figure 7: North")\n\n'
            f'![y](data:image/png;base64,{picture} "Table 3: Costs")\n'
        )
        for of, wanted in (
            ("figures", ["Figure 1 North 1"]),
            ("tables", ["Table 1 Costs 1"]),
            ("Quotation", ["Said of the sea. 1"]),
        ):
            _, out, _ = self.run_it("contents", self.file, "--of", of)
            self.assertEqual([re.sub(" +", " ", line) for line in out.splitlines()], wanted)
        code, _, err = self.run_it("contents", self.file, "--of", "plates")
        self.assertEqual((code, len(err.splitlines())), (2, 1))

    def test_check(self) -> None:
        self.file.write_text(
            "# One\n\nWords.\n\n### Three.\n\nWords.\n\n# Four\n\n![](data:image/gif;base64,R0lGODlhAQABAAAAACw=)\n"
        )
        code, out, _ = self.run_it("check", self.file, "--json")
        findings = json.loads(out)["findings"]
        self.assertEqual(code, 1)
        self.assertEqual(list(findings[0]), ["id", "kind", "place", "text", "why", "remedy"])
        self.assertEqual([(one["kind"], one["remedy"]) for one in findings],
                         [("skipped-level", True), ("lone-subsection", False), ("full-stop", True)])  # fmt: skip
        self.assertEqual((findings[0]["id"], findings[0]["text"]), (f"skipped-level {findings[0]['place']}", "“Three.” is of level 3 and comes right after level 1."))  # fmt: skip
        code, out, _ = self.run_it("check", self.file)
        self.assertIn("Skipped levels (skipped-level): Who hears", out)
        mended = self.folder / "mended.md"
        code, out, _ = self.run_it("check", self.file, "--json", "--mend", "skipped-level", "full-stop", mended)
        self.assertEqual((code, [one["kind"] for one in json.loads(out)["findings"]]), (1, ["lone-subsection"]))
        self.assertIn("\n## Three\n", mended.read_text())
        self.file.write_text(TEXT)
        self.assertEqual(self.run_it("check", self.file)[:2], (1, "Lone subsections (lone-subsection): A section parted into one part is not parted: "
                                                              "either its heading is not needed, or another one is missing.\n  “Two” is the only subsection of “One”.\n"))  # fmt: skip
        self.file.write_text("# One\n\nWords.\n")
        self.assertEqual(self.run_it("check", self.file)[:2], (0, "No findings.\n"))
        for arguments, why in (
            (("no-such", mended), "choose among kept-words, by-hand"),
            (("two-alike", mended), "Nothing mends"),
            ((mended,), "at least one kind"),
        ):
            code, _, err = self.run_it("check", self.file, "--mend", *arguments)
            self.assertEqual((code, err.count("\n")), (2, 1))
            self.assertIn(why, err)

    def test_pictures_lie_beside_markdown(self) -> None:
        picture = io.BytesIO()
        Image.new("RGB", (4, 4), "red").save(picture, "PNG")
        self.file.write_text(
            f"# One\n\n![A gate](data:image/png;base64,{base64.b64encode(picture.getvalue()).decode()})\n"
        )
        out = self.folder / "deeper" / "a.md"
        out.parent.mkdir()
        self.assertEqual(self.run_it("convert", self.file, out)[0], 0)
        (name,) = re.findall(r"!\[A gate\]\((.*)\)", out.read_text())
        self.assertEqual((out.parent / name).read_bytes(), picture.getvalue())
        self.run_it("convert", out, self.folder / "b.pdf", "--no-contents")
        self.assertEqual(len(PdfReader(self.folder / "b.pdf").pages[0].images), 1)

    def test_whoever_reads_the_output_may_stop_reading(self) -> None:
        self.file.write_text("\n\n".join(f"# Heading number {number}" for number in range(4000)))
        command = [sys.executable, "-m", "mellowspine.cli", "outline", str(self.file)]
        with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as mellow:
            assert mellow.stdout
            assert mellow.stderr
            self.assertIn("Heading number 0", mellow.stdout.readline())
            mellow.stdout.close()
            self.assertEqual(mellow.stderr.read(), "")

    def test_what_cannot_be_read_is_code_2_and_one_line(self) -> None:
        bad = self.folder / "bad.docx"
        bad.write_bytes(b"no")
        for arguments in (("outline", bad), ("styles", bad), ("mark", bad, self.folder / "x.md"), ("mark", self.file, self.folder / "x.odt"), ("outline", self.folder / "missing.md"), ("convert", bad, self.folder / "x.pdf"),
                          ("convert", self.file, self.folder / "x.odt"), ("convert", self.file, "/nowhere/x.pdf")):  # fmt: skip
            code, out, err = self.run_it(*arguments)
            self.assertEqual((code, out, err.count("\n")), (2, "", 1), (arguments, err))


class Contents(Command):
    OLD = "# Aims\n\nt\n\n## Scope\n\nt\n\n# Method\n\n## Tides\n\nt\n\n## Winds *of* spring\n\nt\n\n# Costs\n"
    NEW = "# Aims\n\nt\n\n# News\n\nt\n\n# Method\n\n## Winds *of* the spring\n\nt\n\n## Tides\n\nt\n\n# Costs\n"

    def setUp(self) -> None:
        super().setUp()
        self.old, self.new = self.folder / "old.md", self.folder / "new.md"
        self.old.write_text(self.OLD)
        self.new.write_text(self.NEW)

    def lines(self, *arguments: object) -> list[str]:
        code, out, _ = self.run_it("contents", self.old, *arguments, "--json")
        self.assertEqual(code, 0)
        return [line["text"] for line in json.loads(out)["lines"]]

    def test_the_contents_of_a_file(self) -> None:
        self.assertEqual(self.lines(), ["Aims", "Scope", "Method", "Tides", "Winds of spring", "Costs"])
        _, out, _ = self.run_it("contents", self.old, "--json")
        line = json.loads(out)["lines"][1]
        self.assertEqual({**line, "id": ""}, {"id": "", "level": 2, "number": "", "text": "Scope", "label": "2"})
        _, out, _ = self.run_it("contents", self.old)
        self.assertIn("  Scope                2", out.splitlines()[1])

    def test_by_levels_by_a_form_and_by_a_recipe(self) -> None:
        self.assertEqual(self.lines("--levels", "2"), ["Scope", "Tides", "Winds of spring"])
        self.assertEqual(self.lines("--form", "Main sections"), ["Aims", "Method", "Costs"])
        recipe = self.folder / "r.json"
        recipe.write_text(json.dumps({"levels": [1], "feeds": {"heading-2": 1}, "page_numbers": "none"}))
        self.assertEqual(len(self.lines("--recipe", recipe)), 6)
        self.assertEqual(self.run_it("contents", self.old, "--recipe", recipe)[1].splitlines()[1], "Scope")

    def test_what_cannot_be_used_is_one_line(self) -> None:
        newer, broken = self.folder / "newer.json", self.folder / "broken.json"
        newer.write_text('{"version": 7}')
        broken.write_text("{")
        for arguments, said in (
            (("--levels", "a"), "“a” are no levels; write them as 1-4 or as 1,3."),
            (("--levels", "4-12"), "A table needs levels of 1 to 9"),
            (("--form", "curly"), "There is no form “curly”; choose among dots, "),
            (("--recipe", newer), "The recipe is of version 7"),
            (("--recipe", broken), "this is no JSON"),
            (("--recipe", self.folder / "none.json"), "check the name"),
        ):
            with self.subTest(arguments=arguments):
                code, out, err = self.run_it("contents", self.old, *arguments)
                self.assertEqual((code, out, err.count("\n")), (2, "", 1))
                self.assertIn(said, err)

    def test_how_far_they_are_behind_another_version(self) -> None:
        code, out, _ = self.run_it("behind", self.old, self.new, "--json")
        said = json.loads(out)
        self.assertEqual((code, said["behind"]), (1, 3))
        self.assertEqual(
            [(*line["kinds"], line["old"], line["new"]) for line in said["lines"]],
            [("new", None, "News"), ("gone", "Scope", None),
             ("moved", "renamed", "Winds of spring", "Winds of the spring")],
        )  # fmt: skip
        self.assertEqual(
            (said["lines"][0]["level"], said["lines"][0]["page"], said["lines"][1]["page"]), (1, "2", None)
        )
        self.assertIn(
            "  moved, renamed: Winds of spring → Winds of the spring  page 2",
            self.run_it("behind", self.old, self.new)[1],
        )

    def test_what_happened_to_the_sections_between_two_versions(self) -> None:
        code, out, _ = self.run_it("compare", self.old, self.new, "--json")
        kinds = {(one["new"] or one["old"])["text"]: one["kinds"] for one in json.loads(out)["sections"]}
        self.assertEqual(code, 1)
        self.assertEqual((kinds["News"], kinds["Scope"]), (["added"], ["removed"]))
        self.assertIn("moved", kinds["Winds of the spring"])
        self.assertIn("“News” was added to the top level", self.run_it("compare", self.old, self.new)[1])
        self.assertEqual(self.run_it("compare", self.old, self.old), (0, "Nothing happened to the sections.\n", ""))
        self.assertEqual(self.run_it("compare", self.old, self.folder / "none.md")[0], 2)

    def test_level_with_the_text(self) -> None:
        self.assertEqual(self.run_it("behind", self.old, self.old), (0, "Level with the text.\n", ""))

    def test_headings_that_a_file_names_itself_are_known_by_that_name(self) -> None:
        """Bookmarks, ISO/IEC 29500-1 17.13.6: what has the same name is the same heading, however much it has changed."""
        for file, words in (
            (self.old.with_suffix(".docx"), "Aims"),
            (self.new.with_suffix(".docx"), "Quite other words"),
        ):
            document = docx.Document()
            for text, name in ((words, "first"), ("Tides", "second")):
                heading = document.add_heading(text, 1)._p
                for tag in ("w:bookmarkStart", "w:bookmarkEnd"):
                    mark = OxmlElement(tag)
                    mark.set(qn("w:id"), name)
                    mark.set(qn("w:name"), name)
                    heading.append(mark)
            document.save(file)
        _, out, _ = self.run_it("behind", self.old.with_suffix(".docx"), self.new.with_suffix(".docx"), "--json")
        self.assertEqual([line["kinds"] for line in json.loads(out)["lines"]], [["renamed"]])


class Passim(Command):
    def test_what_is_cited_on_many_pages_is_so_from_the_number_on_that_is_asked_for(self) -> None:
        """Pages are counted as sheets, those of a range as well, however they are printed."""
        cited = "See *Vane v. Ash*, 12 Rep. 34 (1921). "
        self.file.write_text("# One\n\n" + "\n\n".join(cited + "word " * 700 for _ in range(4)) + "\n\nEnd.\n")
        printed = {
            number: self.run_it("authorities", self.file, "--find", "--json", "--passim", number)[1]
            for number in (0, 2, 99)
        }
        found = {
            number: [line for one in json.loads(out)["categories"] for line in one["lines"]]
            for number, out in printed.items()
        }
        self.assertEqual(len(found[0]), 1)
        self.assertGreater(len("".join(found[0][0]["pages"])), 1)
        self.assertEqual(
            {number: lines[0]["passim"] for number, lines in found.items()}, {0: False, 2: True, 99: False}
        )
        self.assertEqual(found[2][0]["pages"], found[0][0]["pages"])
