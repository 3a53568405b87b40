"""Formulas: as they come in, as they are kept, as words, and as they are drawn."""

from __future__ import annotations

import zipfile
from io import BytesIO
from unittest import TestCase, mock
from xml.sax.saxutils import escape

import pypdfium2
from hypothesis import given, settings
from hypothesis import strategies as st
from pikepdf import Name, Pdf

from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.pdf.curves import operators
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.draw import Curves, Drawing, Words
from mellowspine.core.pages.formulas import _Maths, lacking_in_formula, set_formula
from mellowspine.core.pages.lines import break_lines
from mellowspine.core.pages.pages import Pages, paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Block, Marks, Paragraph, Run
from mellowspine.core.report.elements import Element, element_of, read_block
from mellowspine.core.report.formulas import DEEPEST, FORMULA, LONGEST, formula, words_of_formula
from mellowspine.core.report.report import Report
from mellowspine.core.structure.outline import outline

from .docx_parts import Made, field, paragraph, run
from .test_docx import body_of, brought, noted, only, words

TYPEFACES = Typefaces()
ROOTS = (
    "<math><mi>x</mi><mo>=</mo><mfrac><mrow><mo>−</mo><mi>b</mi><mo>±</mo><msqrt><msup><mi>b</mi><mn>2</mn></msup><mo>−</mo>"
    "<mn>4</mn><mi>a</mi><mi>c</mi></msqrt></mrow><mrow><mn>2</mn><mi>a</mi></mrow></mfrac></math>"
)
ENERGY = "<math><mi>E</mi><mo>=</mo><mi>m</mi><msup><mi>c</mi><mn>2</mn></msup></math>"


def drawn(said: str) -> Run:
    return Run(FORMULA, Marks(formula=said))


def pages_of(*blocks: Block) -> Pages:
    return paginate(Report("Gates", blocks), TYPEFACES)


def r(letters: str, style: str = "", script: str = "") -> str:
    said = f'<m:scr m:val="{script}"/>' * bool(script) + f'<m:sty m:val="{style}"/>' * bool(style)
    return f"<m:r><m:rPr>{said}</m:rPr><m:t>{letters}</m:t></m:r>"


def e(tag: str, inside: str) -> str:
    return f"<m:{tag}>{inside}</m:{tag}>"


class OfficeOpenXml(TestCase):
    def of(self, inside: str) -> str:
        block = body_of(paragraph(f"<m:oMath>{inside}</m:oMath>")).report.blocks[0]
        assert isinstance(block, Paragraph)
        (said,) = block.runs
        self.assertEqual(said.text, FORMULA)
        return said.marks.formula or ""

    def test_what_each_element_becomes(self) -> None:
        """ISO/IEC 29500-1, 22.1.2; MathML Core, 3."""
        for one, kept, said in (
            (e("f", e("num", r("a+b")) + e("den", r("2c"))), "<mfrac><mrow><mi>a</mi><mo>+</mo><mi>b</mi></mrow><mrow><mn>2</mn><mi>c</mi></mrow></mfrac>", "(a+b)/2c"),
            (e("f", '<m:fPr><m:type m:val="noBar"/></m:fPr>' + e("num", r("n")) + e("den", r("k"))), '<mfrac linethickness="0"><mi>n</mi><mi>k</mi></mfrac>', "n/k"),
            (e("f", '<m:fPr><m:type m:val="lin"/></m:fPr>' + e("num", r("a")) + e("den", r("b"))), "<mrow><mi>a</mi><mo>/</mo><mi>b</mi></mrow>", "a/b"),
            (e("sSup", e("e", r("x")) + e("sup", r("2"))), "<msup><mi>x</mi><mn>2</mn></msup>", "x²"),
            (e("sSub", e("e", r("CO", "p")) + e("sub", r("2"))), "<msub><mi>CO</mi><mn>2</mn></msub>", "CO₂"),
            (e("sSubSup", e("e", r("x")) + e("sub", r("i")) + e("sup", r("k+1"))), "<msubsup><mi>x</mi><mi>i</mi><mrow><mi>k</mi><mo>+</mo><mn>1</mn></mrow></msubsup>", "xᵢ^(k+1)"),
            (e("sPre", e("sub", r("6")) + e("sup", r("14")) + e("e", r("C", "p"))),
             '<mrow><msubsup><mrow></mrow><mn>6</mn><mn>14</mn></msubsup><mi mathvariant="normal">C</mi></mrow>', "₆¹⁴C"),
            (e("rad", '<m:radPr><m:degHide m:val="1"/></m:radPr><m:deg/>' + e("e", r("x+1"))), "<msqrt><mrow><mi>x</mi><mo>+</mo><mn>1</mn></mrow></msqrt>", "√(x+1)"),
            (e("rad", e("deg", r("3")) + e("e", r("x"))), "<mroot><mi>x</mi><mn>3</mn></mroot>", "³√x"),
            (e("nary", '<m:naryPr><m:chr m:val="∑"/></m:naryPr>' + e("sub", r("i=1")) + e("sup", r("n")) + e("e", r("x"))),
             '<mrow><munderover><mo form="prefix">∑</mo><mrow><mi>i</mi><mo>=</mo><mn>1</mn></mrow><mi>n</mi></munderover><mi>x</mi></mrow>', "∑ᵢ₌₁ⁿ x"),
            (e("nary", e("sub", r("0")) + e("sup", r("")) + e("e", r("t"))), '<mrow><msub><mo form="prefix">∫</mo><mn>0</mn></msub><mi>t</mi></mrow>', "∫₀ t"),
            (e("d", '<m:dPr><m:begChr m:val="["/><m:endChr m:val=""/></m:dPr>' + e("e", r("a")) + e("e", r("b"))),
             '<mrow><mo stretchy="true" form="prefix">[</mo><mi>a</mi><mo stretchy="true" form="infix">|</mo><mi>b</mi></mrow>', "[a|b"),
            (e("func", e("fName", e("limLow", e("e", r("lim", "p")) + e("lim", r("x→0")))) + e("e", r("f"))),
             '<mrow><munder><mi>lim</mi><mrow><mi>x</mi><mo>→</mo><mn>0</mn></mrow></munder><mspace width="0.1667em"></mspace><mi>f</mi></mrow>', "lim_(x → 0) f"),
            (e("acc", '<m:accPr><m:chr m:val="\u0303"/></m:accPr>' + e("e", r("x"))), '<mover accent="true"><mi>x</mi><mo>~</mo></mover>', "x\u0303"),
            (e("bar", '<m:barPr><m:pos m:val="top"/></m:barPr>' + e("e", r("v"))), '<mover accent="true"><mi>v</mi><mo>‾</mo></mover>', "v\u0304"),
            (e("m", e("mr", e("e", r("a")) + e("e", r("b"))) + e("mr", e("e", r("c")) + e("e", r("d")))),
             "<mtable><mtr><mtd><mi>a</mi></mtd><mtd><mi>b</mi></mtd></mtr><mtr><mtd><mi>c</mi></mtd><mtd><mi>d</mi></mtd></mtr></mtable>", "a, b; c, d"),
            (e("eqArr", e("e", r("a=1")) + e("e", r("b=2"))),
             "<mtable><mtr><mtd><mi>a</mi><mo>=</mo><mn>1</mn></mtd></mtr><mtr><mtd><mi>b</mi><mo>=</mo><mn>2</mn></mtd></mtr></mtable>", "a = 1; b = 2"),
            (e("phant", '<m:phantPr><m:show m:val="0"/></m:phantPr>' + e("e", r("x"))) + r("y"), "<mrow></mrow><mi>y</mi>", "y"),
            (r("R", "p", "double-struck") + r("A2", "b") + r("g", "", "fraktur") + r("C", "", "fraktur"),
             "<mi>ℝ</mi><mi>𝐀</mi><mn>𝟐</mn><mi>𝔤</mi><mi>ℭ</mi>", "ℝA2gℭ"),
            ("<m:r><m:rPr><m:nor/></m:rPr><m:t>if wet</m:t></m:r>", "<mtext>if wet</mtext>", "if wet"),
            (r("3.14-&lt;"), "<mn>3.14</mn><mo>−</mo><mo>&lt;</mo>", "3.14− <"),
        ):  # fmt: skip
            with self.subTest(said):
                found = self.of(one)
                self.assertEqual(found, f"<math>{kept}</math>")
                self.assertEqual(words_of_formula(found), said)

    def test_formulas_on_lines_of_their_own(self) -> None:
        """22.1.2.78, 22.1.2.51: in the middle if nothing else is said; in a line their bounds stand at the side."""
        one = e("oMath", r("x"))
        self.assertEqual(only(body_of(paragraph(e("oMathPara", one))), Paragraph).align, "center")
        right = '<m:oMathParaPr><m:jc m:val="right"/></m:oMathParaPr>'
        self.assertEqual(only(body_of(paragraph(e("oMathPara", right + one))), Paragraph).align, "right")
        self.assertIsNone(only(body_of(paragraph(run("Here ") + one)), Paragraph).align)
        two = only(body_of(paragraph(e("oMathPara", one + one))), Paragraph)
        self.assertEqual([one.text for one in two.runs], [FORMULA, "\n", FORMULA])

    def test_what_is_nested_too_deep_leaves_its_words_and_says_so(self) -> None:
        deep = r("x")
        for _ in range(100):
            deep = f"<m:f><m:num>{deep}</m:num></m:f>"
        found = body_of(paragraph(run("Here ") + f"<m:oMath>{deep}</m:oMath>"))
        self.assertEqual((words(found), noted(found)), (["Here x"], {"Formula nested too deep: kept as plain text": 1}))
        within = r("x")
        for _ in range(6):
            within = f"<m:f><m:num>{within}</m:num><m:den>{r('2')}</m:den></m:f>"
        self.assertEqual(noted(body_of(paragraph(f"<m:oMath>{within}</m:oMath>"))), {})

    def test_in_heads_its_words_are_kept_and_said(self) -> None:
        made = Made()
        square = e(
            "oMath",
            e("sSup", e("e", r("x")) + e("sup", r("2")))
            + e("d", '<m:dPr><m:begChr m:val="{"/><m:endChr m:val="}"/></m:dPr>' + e("e", r("page"))),
        )
        made.sections(f'<w:headerReference w:type="default" r:id="{made.head(paragraph(run("Head ") + square))}"/>')
        found = brought(made)
        self.assertEqual(found.report.page.head_left, "Head x²(page)")
        self.assertEqual(noted(found), {"Formula at a head or foot: kept as plain text": 1})

    def test_what_marks_it_leads_to_its_paragraph(self) -> None:
        """A formula has no marks: a bookmark over it alone is its paragraph, and references still lead there."""
        named = '<w:bookmarkStart w:id="1" w:name="eq"/>' + e("oMath", r("x")) + '<w:bookmarkEnd w:id="1"/>'
        found = body_of(paragraph(named + run(" is square")) + paragraph(run("See ") + field("REF eq", run("x"))))
        first, other = found.report.blocks
        assert isinstance(first, Paragraph)
        assert isinstance(other, Paragraph)
        self.assertEqual([one.marks.bookmark is not None for one in first.runs], [False, True])
        (reference,) = (one.marks.reference for one in other.runs if one.marks.reference)
        self.assertEqual(reference.to, first.runs[1].marks.bookmark and first.runs[1].marks.bookmark.id)

    def test_of_one_without_words_nothing_is_kept_or_said(self) -> None:
        hidden = e("phant", '<m:phantPr><m:show m:val="0"/></m:phantPr>' + e("e", r("x")))
        for nothing in ("", hidden, e("f", e("num", "") + e("den", hidden))):
            found = body_of(paragraph(run("Here ") + e("oMath", nothing) + run("there")))
            self.assertEqual((words(found), noted(found)), (["Here there"], {}))

    def test_one_nested_a_thousand_deep_costs_itself_alone(self) -> None:
        made, deep = Made(), "<m:r><m:t>x</m:t></m:r>"
        made.add(paragraph(run("Here ") + e("oMath", "<m:r><m:t>DEEP</m:t></m:r>") + run(" and there.")))
        for _ in range(1000):
            deep = f"<m:f><m:num>{deep}</m:num><m:den><m:r><m:t>2</m:t></m:r></m:den></m:f>"
        changed = BytesIO()
        with zipfile.ZipFile(BytesIO(made.saved())) as given, zipfile.ZipFile(changed, "w") as to:
            for part in given.infolist():
                to.writestr(part, given.read(part).replace(b"<m:r><m:t>DEEP</m:t></m:r>", deep.encode()))
        found = read("a.docx", changed.getvalue())
        (said,) = words(found)
        self.assertRegex(said, "^Here x2+ and there.$")
        self.assertEqual(noted(found), {"Formula nested too deep: kept as plain text": 1})

    def test_what_formulas_do_not_have_is_said(self) -> None:
        red = '<m:r><w:rPr><w:color w:val="FF0000"/></w:rPr><m:t>x</m:t></m:r>'
        found = body_of(paragraph(f"<m:oMath>{red}{red}{e('borderBox', e('e', r('y')))}</m:oMath>"))
        self.assertEqual(
            noted(found), {"Colours or sizes in a formula: left out": 1, "Box around a part of a formula: left out": 1}
        )


class Kept(TestCase):
    def test_what_anybody_gives_is_brought_into_form(self) -> None:
        """MathML Core, 3; what is not known falls back to what stands in it (2.1.4)."""
        for one, kept in (
            ('<math xmlns="http://www.w3.org/1998/Math/MathML" onclick="x()"><mi href="javascript:x">a</mi></math>', "<mi>a</mi>"),
            ("<math><mstyle><mi>a</mi></mstyle><mphantom><mi>b</mi></mphantom><script>alert(1)</script></math>", "<mi>a</mi>"),
            ("<math><semantics><mrow><mi>a</mi></mrow><annotation>a</annotation></semantics></math>", "<mi>a</mi>"),
            ('<math><mfenced open="[" separators=";"><mi>a</mi><mi>b</mi></mfenced></math>',
             '<mrow><mo stretchy="true" form="prefix">[</mo><mi>a</mi><mo>;</mo><mi>b</mi><mo stretchy="true" form="postfix">)</mo></mrow>'),
            ("<math><mfrac><mi>a</mi></mfrac></math>", "<mfrac><mi>a</mi><mrow></mrow></mfrac>"),
            ("<math><mmultiscripts><mi>C</mi><mn>1</mn><none/><mprescripts/><mn>6</mn><mn>14</mn></mmultiscripts></math>",
             "<msubsup><mrow></mrow><mn>6</mn><mn>14</mn></msubsup><msubsup><mi>C</mi><mn>1</mn><mrow></mrow></msubsup>"),
            ("<math>a <mi> b </mi></math>", "<mtext>a</mtext><mi>b</mi>"),
            ("<math><mrow>if <mi>b</mi> holds<p>so</p></mrow></math>", "<mrow><mtext>if</mtext><mi>b</mi><mtext>holds</mtext><mtext>so</mtext></mrow>"),
            ('<math><mspace width="1em"/><mspace width="999em"/><mi>a</mi></math>', '<mspace width="1em"></mspace><mspace></mspace><mi>a</mi>'),
            ("<math><mo>-</mo><mi>a</mi></math>", "<mo>−</mo><mi>a</mi>"),
        ):  # fmt: skip
            with self.subTest(one):
                self.assertEqual(formula(one), f"<math>{kept}</math>")

    def test_what_is_no_formula(self) -> None:
        deep = "<mrow><mi>x</mi>" * DEEPEST + "</mrow>" * DEEPEST
        bomb = '<!DOCTYPE math [<!ENTITY a "aaaaaaaaaa">]><math><mi>&a;</mi></math>'
        long = f"<math><mi>{'x' * LONGEST}</mi></math>"
        # Nearly as long as may be, and longer once it is in form.
        grown = "<math>" + '<mfenced open="("></mfenced>' * 700 + "<mi>x</mi></math>"
        # As deep as may be, and deeper once it is in form.
        deeper = "<math>" + "<mfenced>" * (DEEPEST - 1) + "</mfenced>" * (DEEPEST - 1) + "</math>"
        for one in (
            deeper,
            "",
            "x",
            "<math/>",
            "<math><mi></mi></math>",
            "<p>x</p>",
            "<math>",
            None,
            5,
            f"<math>{deep}</math>",
            bomb,
            long,
            grown,
        ):
            with self.subTest(str(one)[:40]):
                self.assertIsNone(formula(one))
                # In a text it is a character all the same.
                self.assertEqual(
                    read_block(Element("paragraph", {}, (Element("formula", {"mathml": one}),)), "a"),
                    Paragraph("a", runs=(Run("?"),)),
                )

    def test_a_report_holds_it_as_one_character(self) -> None:
        block = Paragraph("a", "body", (Run("Since "), drawn(ENERGY), Run(" holds")))
        self.assertEqual(read_block(element_of(block), ""), block)
        self.assertEqual((len(block.text), block.words), (13, "Since E = mc² holds"))

    _tokens = st.builds(
        lambda tag, text: f"<{tag}>{escape(text)}</{tag}>",
        st.sampled_from(["mi", "mn", "mo", "mtext", "ms"]),
        st.text("ab1+-−=∑∫√()|→^‾𝐀&<> é", max_size=3),
    )
    _elements = st.recursive(
        _tokens,
        lambda within: st.builds(
            lambda tag, said, parts: f"<{tag}{said}>{''.join(parts)}</{tag}>",
            st.sampled_from(["mrow", "mfrac", "msqrt", "mroot", "msub", "msup", "msubsup", "munder", "mover", "munderover", "mtable", "mtr", "mtd",
                             "mfenced", "mmultiscripts", "mprescripts", "mstyle", "unknown"]),
            st.sampled_from(["", "", ' accent="true"', ' display="block"', ' stretchy="true"', ' linethickness="0"', ' open="" close="|"', ' width="1em"']),
            st.lists(within, max_size=4),
        ),
        max_leaves=14,
    )  # fmt: skip

    @settings(max_examples=300, deadline=None)
    @given(st.lists(_elements, min_size=1, max_size=3), st.booleans())
    def test_whatever_is_kept_stays_and_is_drawn(self, parts: list[str], alone: bool) -> None:
        kept = formula(f"<math{' display=' + chr(34) + 'block' + chr(34) if alone else ''}>{''.join(parts)}</math>")
        if kept is None:
            return
        self.assertEqual(formula(kept), kept)
        self.assertTrue(words_of_formula(kept).strip())
        found = set_formula(kept)
        assert found is not None
        self.assertGreaterEqual(found.width, 0.0)
        for said in operators(found.outline).decode().split():
            self.assertTrue(said in ("m", "l", "c", "h") or abs(float(said)) < 1000, said)


class InLines(TestCase):
    def lines(self, *runs: Run, width: float = 400.0) -> list[float]:
        report = Report("Gates", ())
        return list(break_lines(Paragraph("a", "body", runs), report.styles["body"], width, TYPEFACES).heights)

    def test_a_line_is_as_high_as_its_formula_needs_and_others_are_not(self) -> None:
        """CSS 2.2, 10.8.1."""
        plain = self.lines(Run("Sea walls settle. " * 12))
        low = self.lines(Run("Sea walls settle. " * 12), drawn(ENERGY))
        self.assertEqual({*low}, {*plain})
        high = self.lines(Run("Sea walls settle. " * 12), drawn(ROOTS), Run(" walls settle" * 12))
        self.assertEqual(sum(one > plain[0] for one in high), 1)

    def test_nothing_of_it_is_printed_over_other_lines(self) -> None:
        words_around = Run("Sea walls settle where the tide is quick. ")
        block = Paragraph("a", "body", (words_around, drawn(ROOTS), words_around, drawn(ROOTS)) * 3)
        pages = pages_of(block)
        marks = [*Drawing(pages, TYPEFACES).page(1)]
        size = pages.report.styles["body"].size
        baselines = sorted({one.baseline for one in marks if isinstance(one, Words)})
        for one in (mark for mark in marks if isinstance(mark, Curves)):
            self.assertIn(one.baseline, baselines)
            above = [at for at in baselines if at < one.baseline - 0.01]
            below = [at for at in baselines if at > one.baseline + 0.01]
            self.assertTrue(not above or one.baseline - one.above > above[-1])
            self.assertTrue(not below or one.baseline + one.below < below[0] - 0.5 * size)

    def test_words_beside_it_stay_with_it(self) -> None:
        """UAX #14: it is a letter; no line begins with the comma behind it."""
        for width in range(120, 260, 7):
            report = Report("Gates", ())
            block = Paragraph("a", "body", (Run("Where water stands ("), drawn(ENERGY), Run("), walls move.")))
            starts = break_lines(block, report.styles["body"], float(width), TYPEFACES).starts
            at = block.text.index(FORMULA)
            self.assertNotIn(at, starts)
            self.assertNotIn(at + 1, starts)

    def test_one_wider_than_the_column_is_made_smaller(self) -> None:
        wide = f"<math>{'<mi>a</mi><mo>+</mo>' * 60}<mi>z</mi></math>"
        for runs in ((drawn(wide),), (Run("So "), drawn(wide), Run(" is."))):
            pages = pages_of(Paragraph("a", "body", runs))
            (curves,) = (one for one in Drawing(pages, TYPEFACES).page(1) if isinstance(one, Curves))
            self.assertLessEqual(curves.x + curves.width, pages.report.page.column_width + 0.01)

    def test_one_that_cannot_be_drawn_leaves_its_words_and_the_page(self) -> None:
        said = "<math><mi>y</mi><mo>=</mo><mn>7</mn></math>"
        with (
            self.assertLogs("mellowspine.core.pages.formulas"),
            mock.patch.object(_Maths, "box", side_effect=ValueError),
        ):
            pages = pages_of(Paragraph("a", "body", (Run("So "), drawn(said), Run(" is "), drawn(said))))
            marks = [*Drawing(pages, TYPEFACES).page(1)]
        self.assertEqual(
            " ".join(one.text for one in marks if isinstance(one, Words) and len(one.text) > 1), "So y = 7 is y = 7"
        )
        set_formula.cache_clear()

    def test_contents_say_its_words(self) -> None:
        report = Report("Gates", (Paragraph("a", "heading-1", (Run("On "), drawn(ENERGY))),))
        self.assertEqual(outline(report)[0].text, "On E = mc²")

    def test_characters_that_no_face_has(self) -> None:
        self.assertEqual(lacking_in_formula("<math><mtext>水 a</mtext><mo>→</mo></math>"), ["水"])
        self.assertEqual(lacking_in_formula(ROOTS), [])


class InFiles(TestCase):
    blocks = (Paragraph("a", "body", (Run("Since "), drawn(ENERGY), Run(" and "), drawn(ROOTS), Run("."))),)

    def write(self, format: str) -> bytes:
        pages = pages_of(*self.blocks)
        return WRITERS[format].write(Written(pages.report, pages, TYPEFACES, {}))

    def test_pdf_has_it_as_a_formula_with_its_words(self) -> None:
        """ISO 32000-1, 14.8.4.5 and 14.9.3; read by two readers."""
        data = self.write(".pdf")
        text = pypdfium2.PdfDocument(data)[0].get_textpage().get_text_bounded()
        self.assertIn("Since E = mc² and x = (−b ± √(b²−4ac))/2a.", " ".join(text.split()))
        with Pdf.open(BytesIO(data)) as file:
            formulas = [one for one in file.objects if getattr(one, "get", None) and one.get("/S") == Name.Formula]
            self.assertEqual([str(one.Alt) for one in formulas], ["E = mc²", "x = (−b ± √(b²−4ac))/2a"])

    def test_html_has_it_as_mathml_and_gives_it_back(self) -> None:
        data = self.write(".html")
        self.assertIn(b'<math xmlns="http://www.w3.org/1998/Math/MathML"><mi>E</mi>', data)
        (block,) = (
            one for one in read("a.html", data).report.blocks if isinstance(one, Paragraph) and "Since" in one.text
        )
        self.assertEqual([one.marks.formula for one in block.runs if one.marks.formula], [ENERGY, ROOTS])

    def test_text_and_markdown_have_its_words(self) -> None:
        for format in (".txt", ".md"):
            self.assertIn("Since E = mc² and x = (−b ± √(b²−4ac))/2a.", self.write(format).decode())
