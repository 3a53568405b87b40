"""What GitHub Flavored Markdown adds to CommonMark, by the published cases of its specification (0.29-gfm, typed in from memory; the
numbers are those of its examples)."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from mellowspine.core.formats import read
from mellowspine.core.report.blocks import Block, DataTable, Paragraph, Run


def blocks_of(source: str) -> list[Block]:
    return [*read("a.md", source.encode()).report.blocks]


def grid(block: Block) -> Any:
    """The words of a data table, row by row, and how each column is aligned."""
    assert isinstance(block, DataTable)
    rows = [[cell.paragraphs[0].text for cell in row] for row in block.rows]
    return rows, [cell.paragraphs[0].align for cell in block.rows[0]]


def links(source: str) -> list[tuple[str, str]]:
    """Words that are links, and where they lead."""
    return [
        (run.text, run.marks.link)
        for block in blocks_of(source)
        if isinstance(block, Paragraph)
        for run in block.runs
        if run.marks.link
    ]


class Tables(TestCase):
    """4.10."""

    def test_198_and_199_with_alignment(self) -> None:
        self.assertEqual(
            grid(blocks_of("| foo | bar |\n| --- | --- |\n| baz | bim |")[0]),
            ([["foo", "bar"], ["baz", "bim"]], [None, None]),
        )
        self.assertEqual(
            grid(blocks_of("| abc | defghi |\n:-: | -----------:\nbar | baz")[0]),
            ([["abc", "defghi"], ["bar", "baz"]], ["center", "right"]),
        )

    def test_200_pipes_in_cells(self) -> None:
        table = blocks_of("| f\\|oo  |\n| ------ |\n| b `\\|` az |\n| b **\\|** im |")[0]
        self.assertEqual(grid(table)[0], [["f|oo"], ["b | az"], ["b | im"]])
        code, bold = (table.rows[at][0].paragraphs[0].runs[1].marks for at in (1, 2))  # type: ignore[attr-defined]
        self.assertEqual((code.font, bold.bold), ("Liberation Mono", True))

    def test_201_a_quotation_ends_it(self) -> None:
        table, quoted = blocks_of("| abc | def |\n| --- | --- |\n| bar | baz |\n> bar")
        self.assertEqual(grid(table)[0], [["abc", "def"], ["bar", "baz"]])
        self.assertEqual((quoted.style, quoted.text), ("quotation", "bar"))  # type: ignore[attr-defined]

    def test_202_an_empty_line_ends_it_and_a_line_without_pipes_does_not(self) -> None:
        table, after = blocks_of("| abc | def |\n| --- | --- |\n| bar | baz |\nbar\n\nbar")
        self.assertEqual(grid(table)[0], [["abc", "def"], ["bar", "baz"], ["bar", ""]])
        self.assertEqual(after.text, "bar")  # type: ignore[attr-defined]

    def test_203_a_head_of_another_number_of_cells_makes_none(self) -> None:
        [only] = blocks_of("| abc | def |\n| --- |\n| bar |")
        self.assertEqual(only.text, "| abc | def | | --- | | bar |")  # type: ignore[attr-defined]

    def test_204_and_205_too_few_too_many_and_no_rows(self) -> None:
        table = blocks_of("| abc | def |\n| --- | --- |\n| bar |\n| bar | baz | boo |")[0]
        self.assertEqual(grid(table)[0], [["abc", "def"], ["bar", ""], ["bar", "baz"]])
        self.assertEqual(grid(blocks_of("| abc | def |\n| --- | --- |")[0])[0], [["abc", "def"]])


class Tasks(TestCase):
    """5.3."""

    def test_279_and_280(self) -> None:
        found = blocks_of("- [ ] foo\n- [x] bar")
        self.assertEqual([one.text for one in found], ["☐ foo", "☒ bar"])  # type: ignore[attr-defined]
        nested = blocks_of("- [x] foo\n  - [ ] bar\n  - [x] baz\n- [ ] bim")
        self.assertEqual(
            [(one.style, one.text) for one in nested],  # type: ignore[attr-defined]
            [("bullet-1", "☒ foo"), ("bullet-2", "☐ bar"), ("bullet-2", "☒ baz"), ("bullet-1", "☐ bim")],
        )


class Strikethrough(TestCase):
    """6.5."""

    def test_491_one_tilde_or_two(self) -> None:
        [block] = blocks_of("~~Hi~~ Hello, ~there~ world!")
        self.assertEqual([(run.text, run.marks.strike) for run in block.runs],  # type: ignore[attr-defined]
                         [("Hi", True), (" Hello, ", False), ("there", True), (" world!", False)])  # fmt: skip

    def test_492_not_across_paragraphs_493_nor_three(self) -> None:
        for source in ("This ~~has a\n\nnew paragraph~~.", "This will ~~~not~~~ strike."):
            runs = [run for block in blocks_of(source) for run in block.runs]  # type: ignore[attr-defined]
            self.assertFalse(any(run.marks.strike for run in runs))
            self.assertIn("~~", "".join(run.text for run in runs))


class BareAddresses(TestCase):
    """6.9."""

    def test_622_to_626_of_the_web(self) -> None:
        for source, found in (
            ("www.commonmark.org", [("www.commonmark.org", "http://www.commonmark.org")]),
            ("Visit www.commonmark.org/help for more information.", [("www.commonmark.org/help", "http://www.commonmark.org/help")]),
            ("Visit www.commonmark.org.\n\nVisit www.commonmark.org/a.b.", [("www.commonmark.org", "http://www.commonmark.org"), ("www.commonmark.org/a.b", "http://www.commonmark.org/a.b")]),
            ("www.google.com/search?q=Markup+(business)", [("www.google.com/search?q=Markup+(business)", "http://www.google.com/search?q=Markup+(business)")]),
            ("www.google.com/search?q=Markup+(business)))", [("www.google.com/search?q=Markup+(business)", "http://www.google.com/search?q=Markup+(business)")]),
            ("(www.google.com/search?q=Markup+(business))", [("www.google.com/search?q=Markup+(business)", "http://www.google.com/search?q=Markup+(business)")]),
            ("www.google.com/search?q=(business))+ok", [("www.google.com/search?q=(business))+ok", "http://www.google.com/search?q=(business))+ok")]),
            ("www.google.com/search?q=commonmark&hl=en", [("www.google.com/search?q=commonmark&hl=en", "http://www.google.com/search?q=commonmark&hl=en")]),
            ("www.commonmark.org/he<lp", [("www.commonmark.org/he", "http://www.commonmark.org/he")]),
        ):  # fmt: skip
            with self.subTest(source):
                self.assertEqual(links(source), found)

    def test_628_with_a_scheme(self) -> None:
        self.assertEqual(
            links("http://commonmark.org\n\n(Visit https://encrypted.google.com/search?q=Markup+(business))"),
            [("http://commonmark.org", "http://commonmark.org"),
             ("https://encrypted.google.com/search?q=Markup+(business)", "https://encrypted.google.com/search?q=Markup+(business)")],
        )  # fmt: skip

    def test_629_to_631_of_mail(self) -> None:
        for source, found in (
            ("foo@bar.baz", [("foo@bar.baz", "mailto:foo@bar.baz")]),
            ("hello@mail+xyz.example isn't valid, but hello+xyz@mail.example is.", [("hello+xyz@mail.example", "mailto:hello+xyz@mail.example")]),
            ("a.b-c_d@a.b\n\na.b-c_d@a.b.\n\na.b-c_d@a.b-\n\na.b-c_d@a.b_", [("a.b-c_d@a.b", "mailto:a.b-c_d@a.b")] * 2),
        ):  # fmt: skip
            with self.subTest(source):
                self.assertEqual(links(source), found)


class Written(TestCase):
    def test_runs_are_what_they_are_taken_for(self) -> None:
        """The helpers above would see nothing where blocks hold no runs."""
        self.assertEqual(blocks_of("x")[0].runs, (Run("x"),))  # type: ignore[attr-defined]
