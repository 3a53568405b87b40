"""Pagination in the core: cold, and after one edit; and its PDF."""

from __future__ import annotations

from dataclasses import replace

from bench.figures import p95, seconds, show
from demo.manual import manual
from mellowspine.core.formats import pdf
from mellowspine.core.formats.walk import Written
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import Paragraph, Run
from mellowspine.core.structure.outline import outline
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.kinds import build, pages_of, sources_of
from mellowspine.core.tables.settle import with_contents


def run() -> None:
    print("\nCore")
    for wanted in (300, 1000):
        report = manual(wanted)
        cold = seconds(lambda r=report: paginate(r, Typefaces()))
        typefaces = Typefaces()
        report, pages = with_contents(report, typefaces)
        headings = outline(report)
        show(f"cold pagination, {len(pages)} pages", f"{1000 * cold / len(pages):.2f} ms a page", "at most 2 ms")
        texts = [i for i, block in enumerate(report.blocks) if isinstance(block, Paragraph) and block.style == "body"]
        times, whole = [], []
        for step in range(40):
            index = texts[len(texts) * step // 40]
            block = report.blocks[index]
            assert isinstance(block, Paragraph)
            longer = replace(block, runs=(Run(block.text + " And one line more, so that all that follows moves on."),))
            edited = replace(report, blocks=(*report.blocks[:index], longer, *report.blocks[index + 1 :]))

            def follow(edited=edited, pages=pages, typefaces=typefaces, before=(report, headings)) -> None:
                now = outline(edited, before)
                pages_of(now, paginate(edited, typefaces, pages, now))

            def follow_all(edited=edited, pages=pages, typefaces=typefaces, before=(report, headings)) -> None:
                table = edited.tables["contents"]
                now = outline(edited, before)
                behind(table.lines, build(table.recipe, sources_of(now, paginate(edited, typefaces, pages, now))))

            times.append(seconds(follow))
            whole.append(seconds(follow_all))
        show(
            f"one edit → pages of all headings, {len(pages)} pages, p95", f"{1000 * p95(times):.1f} ms", "at most 30 ms"
        )
        written = seconds(lambda r=report, p=pages, t=typefaces: pdf.write(Written(r, p, t, {})))
        show(f"PDF of {len(pages)} pages", f"{written:.1f} s", "at most 3 s")
        show("one edit → the contents line by line against the text, p95", f"{1000 * p95(whole):.1f} ms")
