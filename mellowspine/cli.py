"""``mellow``: the core from the command line, for scripts."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import count, groupby
from pathlib import Path
from typing import Any, NamedTuple

import mellowspine.core.checkup.kinds  # noqa: F401  (makes the kinds of finding known)
from mellowspine.core.checkup.findings import CHECKS, check, mended, state_of
from mellowspine.core.formats import WRITERS, read
from mellowspine.core.formats.imported import FileRefused, Imported
from mellowspine.core.formats.walk import Format, Written
from mellowspine.core.pages.pages import Pages
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.authorities import authority_of
from mellowspine.core.report.blocks import Paragraph, PlacedTable
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.plan import Format as Formatting
from mellowspine.core.report.plan import carry_out
from mellowspine.core.report.properties import SettingError
from mellowspine.core.report.recipes import Recipe, changed, read_recipe, settings_of
from mellowspine.core.report.report import Report
from mellowspine.core.report.styles import INHERITED, StyleSheet, style_to_json
from mellowspine.core.report.tables import Issued, Line
from mellowspine.core.structure.by_hand import find_by_hand
from mellowspine.core.structure.citations import unmarked
from mellowspine.core.structure.marking import assigned, mark, numbers_typed
from mellowspine.core.structure.matching import matched
from mellowspine.core.structure.outline import outline, paragraphs
from mellowspine.core.structure.places import lead_words, worded
from mellowspine.core.structure.rules import Rule, RuleError, check_rules, read_rule
from mellowspine.core.tables.behind import behind
from mellowspine.core.tables.forms import Form, formed, forms_for
from mellowspine.core.tables.kinds import build, sources_of, table_kind
from mellowspine.core.tables.renumbering import renumberings, sentence
from mellowspine.core.tables.settle import settle_all, with_contents


class Unusable(Exception):
    """A file cannot be read or written; the message is one line."""


class _Beside(Mapping[str, bytes]):
    """The files that lie beside one, by name; read when they are asked for."""

    def __init__(self, file: Path) -> None:
        self._folder = file.parent

    def __getitem__(self, name: str) -> bytes:
        # Text from a file never leads to another place than this.
        if Path(name).name != name:
            raise KeyError(name)
        try:
            return (self._folder / name).read_bytes()
        except (OSError, ValueError):
            raise KeyError(name) from None

    def __iter__(self) -> Iterator[str]:
        return (path.name for path in self._folder.iterdir())

    def __len__(self) -> int:
        return sum(1 for _ in self)


def _opened(path: Path) -> Imported:
    try:
        return read(path.name, path.read_bytes(), pictures=_Beside(path))
    except FileRefused as refusal:
        raise Unusable(f"{path}: {refusal}") from None
    except OSError as error:
        raise Unusable(f"{path}: {error.strerror or error}; check the name and try again.") from None


def show_outline(file: Path, as_json: bool, numbers: str | None) -> str:
    """The headings of a file, one a line, or as JSON; numbered by the file's own scheme, or another one by name."""
    report = _opened(file).report
    if numbers is not None:
        report = replace(report, numbering=SCHEMES[numbers])
    report, pages = settle_all(report, Typefaces())
    rows: list[dict[str, Any]] = [
        {
            "id": heading.id,
            "level": heading.level,
            "number": heading.number,
            "text": heading.text,
            "page": (page := pages.page_of(heading.block, heading.row)),
            "label": pages.label(page),
        }
        for heading in outline(report)
    ]
    if as_json:
        return json.dumps({"pages": len(pages), "headings": rows}, ensure_ascii=False, indent=1)
    lines = ["  " * (row["level"] - 1) + f"{row['number']} {row['text']}".strip() for row in rows]
    width = max((len(line) for line in lines), default=0)
    return "\n".join(f"{line:<{width}}  {row['label']:>5}" for line, row in zip(lines, rows, strict=True))


def show_places(file: Path, as_json: bool) -> _Outcome:
    """The headings, captions and bookmarks of a file, and the links and references to them, with their pages."""
    _, pages = settle_all(_opened(file).report, Typefaces())
    known, leads = pages.places, {one.id: one.leads for _, one in pages.noted}

    places: list[dict[str, Any]] = [
        {
            "id": one.id,
            "kind": one.kind,
            "label": one.label,
            "number": one.number,
            "text": worded(one.text, leads.get(one.id, ()), pages.report),
            "page": pages.label(pages.page_of_place(one)),
        }
        for one in known.values()
    ]
    links: list[dict[str, Any]] = [
        {
            "id": one.id,
            "text": lead_words(lead, pages.report),
            "kind": "reference" if lead.shows else "link",
            "target": lead.to,
            "shows": lead.shows or None,
            "page": pages.label(pages.page_of(block, one.row)),
            "broken": lead.to not in known,
        }
        for block, one in pages.noted
        for lead in one.leads
    ]
    code = 1 if any(one["broken"] for one in links) else 0
    if as_json:
        return _Outcome(json.dumps({"places": places, "links": links}, ensure_ascii=False, indent=1), code)
    rows = [
        (f"{one['kind']}: {' '.join(filter(None, (one['label'], one['number'], one['text'])))}", one["page"])
        for one in places
    ]
    rows += [
        (
            f"{one['kind']} “{one['text']}”: "
            + ("leads nowhere" if one["broken"] else f"to {known[one['target']].text}"),
            one["page"],
        )
        for one in links
    ]
    width = max((len(said) for said, _ in rows), default=0)
    return _Outcome("\n".join(f"{said:<{width}}  {page:>5}" for said, page in rows), code)


def show_styles(file: Path, as_json: bool) -> str:
    """The styles of a file: each with what it says, what it is based on, and how many paragraphs use it."""
    report = _opened(file).report
    uses = Counter(report.styles[paragraph.style].id for paragraph in paragraphs(report))
    rows = [
        {
            "id": style.id,
            "name": style.name,
            "based_on": style.based_on,
            "level": style.outline_level,
            "says": {name: value for name, value in style_to_json(style).items() if name in INHERITED},
            "used": uses[style.id],
        }
        for style in report.styles.values()
    ]
    if as_json:
        return json.dumps({"styles": rows}, ensure_ascii=False, indent=1)
    width = max(len(style.name) for style in report.styles.values())
    lines = []
    for style in report.styles.values():
        base = f", based on {report.styles[style.based_on].name}" if style.based_on else ""
        level = f", heading of level {style.outline_level}" if style.outline_level else ""
        lines.append(f"{style.name:<{width}}  {uses[style.id]:>6}  {style.font} {style.size:g} pt{base}{level}")
    return "\n".join(lines)


def _write(imported: Imported, out: Path, contents: bool) -> None:
    """Writes a report in the format of ``out``'s ending; pictures beside it, where the format has them there."""
    format = _format_of(out)
    typefaces = Typefaces()
    report, pages = (with_contents if contents and outline(imported.report) else settle_all)(imported.report, typefaces)
    beside = format.pictures_beside
    data = format.write(Written(report, pages, typefaces, {} if beside else imported.pictures))
    try:
        out.write_bytes(data)
        for source, picture in imported.pictures.items() if beside else ():
            (out.parent / source).write_bytes(picture)
    except OSError as error:
        raise Unusable(f"{out}: {error.strerror or error}; choose another place.") from None


def _format_of(out: Path) -> Format:
    format = WRITERS.get(out.suffix.lower())
    if format is None:
        raise Unusable(f"{out}: this format cannot be written; give a name that ends in {' or '.join(WRITERS)}.")
    return format


def convert(file: Path, out: Path, contents: bool) -> None:
    """Writes a file in the format of ``out``'s ending, with contents in front unless it has some or has no headings, ``contents`` is false or
    the format has no pages to say."""
    format = _format_of(out)
    _write(_opened(file), out, contents and not format.pictures_beside)


def _rules(path: Path | None, styles: StyleSheet) -> list[Rule]:
    if path is None:
        return []
    given = _json_of(path)
    if not isinstance(given, dict) or not isinstance(given.get("rules"), list):
        raise Unusable(f'{path}: there are no rules in it; write {{"rules": [{{"name", "level", "wants"}}]}}.')
    rules = [read_rule(one, styles) for one in given["rules"]]
    check_rules(rules)
    return rules


def mark_headings(file: Path, out: Path | None, rules: Path | None, as_json: bool) -> str:
    """Marks the headings made by hand in a file and writes it to ``out``, if that is given; says what was marked.

    With ``rules`` paragraphs are marked by these alone, else by what the finder proposes.
    """
    if out is not None:
        _format_of(out)
    imported = _opened(file)
    report = imported.report
    try:
        given = _rules(rules, report.styles)
    except RuleError as error:
        raise Unusable(f"{rules}: {error}") from None
    marked = assigned(find_by_hand(report), given, proposals=rules is None)
    for one in marked:
        if one.fault:
            raise Unusable(f"{rules}: {one.fault}")
    wanted = {id: one.style for one in marked for id in one.members if one.style}
    if out is not None:
        _write(replace(imported, report=carry_out(mark(report, wanted), report)), out, contents=False)
    texts = {block.id: block.text for block in report.blocks if isinstance(block, Paragraph)}
    typed = numbers_typed(report, wanted)
    looks: list[dict[str, Any]] = []
    lines: list[str] = []
    for one in marked:
        style, ids = one.style, one.members
        level = report.styles[style].outline_level if style else None
        members = [{"id": id, "text": " ".join(texts[id][typed[id].end if id in typed else 0 :].split())} for id in ids]
        looks.append({"name": one.name, "level": level, "style": style, "members": members})
        lines.append(f"{report.styles[style].name if style else 'Left as it is'}: {one.name} ({len(ids)})")
        lines += [f"  since: {one.why}"] if one.why else []
        lines += [f"  “{other}” asks for more, and keeps {count} of these" for other, count in one.left]
        lines += [f"  {member['text']}" for member in members]
    if as_json:
        return json.dumps({"looks": looks, "changed": len(wanted)}, ensure_ascii=False, indent=1)
    changed = "1 paragraph" if len(wanted) == 1 else f"{len(wanted)} paragraphs"
    return "\n".join((*lines, f"{changed} {'marked' if out else 'would be marked'}."))


def _levels(given: str) -> list[int]:
    """``1-4`` or ``1,3``."""
    found = [part.partition("-") for part in given.split(",")]
    try:
        return sorted({level for first, _, last in found for level in range(int(first), int(last or first) + 1)})
    except ValueError:
        raise Unusable(f"“{given}” are no levels; write them as 1-4 or as 1,3.") from None


_FORM_NAMES = ", ".join(form.key for form in forms_for("contents"))


def _form(name: str) -> Form:
    for form in forms_for("contents"):
        if name.casefold() in (form.key, form.name.casefold()):
            return form
    raise Unusable(f"There is no form “{name}”; choose among {_FORM_NAMES}.")


def _json_of(path: Path) -> Any:
    try:
        return json.loads(path.read_text())
    except OSError as error:
        raise Unusable(f"{path}: {error.strerror or error}; check the name and try again.") from None
    except ValueError as error:
        raise Unusable(f"{path}: this is no JSON ({error}); correct it there.") from None


def _with_table(report: Report, settings: Mapping[tuple[str, ...], Any] | None = None) -> tuple[Report, Issued]:
    """The report with its tables up to date, and the first contents table; in front, if it has none of its own.

    ``settings`` are changed in the recipe of that table, by path.
    """
    typefaces = Typefaces()
    report, _ = with_contents(report, typefaces)
    key = next(block.table for block in report.blocks if type(block) is PlacedTable and block.table in report.tables)
    recipe = changed(report.tables[key].recipe, settings or {})
    report = replace(report, tables={**report.tables, key: replace(report.tables[key], recipe=recipe)})
    report, _ = settle_all(report, typefaces)
    return report, report.tables[key]


def _listing(of: str, styles: StyleSheet) -> Recipe:
    """The recipe of a table that lists figures, data tables, or the paragraphs of a style."""
    if of in ("figures", "tables"):
        return table_kind(of).recipe
    named = [style for style in styles.values() if of.casefold() in (style.id, style.name.casefold())]
    if not named:
        raise Unusable(f"There is no style “{of}” in it; choose figures, tables, or one that “mellow styles” prints.")
    return replace(table_kind("styles").recipe, title=named[0].name, feeds={named[0].id: 1})


def show_contents(
    file: Path, of: str | None, levels: str | None, form: str | None, recipe: Path | None, as_json: bool
) -> str:
    """The lines of a file's contents, as its own table has them, or by another recipe; or those of another list."""
    settings: dict[tuple[str, ...], Any] = {}
    try:
        made = read_recipe(_json_of(recipe)) if recipe else Recipe()
        made = formed(made, _form(form)) if form else made
        settings = settings_of(made) if recipe or form else {}
        if levels is not None:
            settings[("levels",)] = _levels(levels)
        report = _opened(file).report
        if of:
            report, pages = settle_all(report, Typefaces())
            made = _listing(of, report.styles)
            issued = Issued(made, build(made, sources_of(pages.headings, pages)))
        else:
            _, issued = _with_table(report, settings)
    except SettingError as error:
        raise Unusable(f"{recipe}: {error}" if recipe else str(error)) from None
    rows = [
        {
            "id": line.source,
            "level": line.level,
            "number": line.number,
            "text": line.text,
            "label": ", ".join(line.pages),
        }
        for line in issued.lines
    ]
    if as_json:
        return json.dumps({"lines": rows}, ensure_ascii=False, indent=1)
    words = ["  " * (line.level - 1) + f"{line.number} {line.text}".strip() for line in issued.lines]
    if issued.recipe.page_numbers == "none":
        return "\n".join(words)
    width = max((len(line) for line in words), default=0)
    return "\n".join(f"{line:<{width}}  {row['label']:>5}" for line, row in zip(words, rows, strict=True))


def _built(report: Report, recipe: Recipe) -> tuple[tuple[Line, ...], Pages]:
    """The lines of a table that stands nowhere in a report, with its own tables up to date; and its pages."""
    report, pages = settle_all(report, Typefaces())
    return build(recipe, sources_of(pages.headings, pages)), pages


def show_authorities(file: Path, passim: int, find: bool, as_json: bool) -> str:
    """What a file cites, by category; ``find``: what looks like a citation and is not marked as well."""
    if not 0 <= passim <= 99:
        raise Unusable("“passim” is printed from 2 to 99 pages on, or with 0 never; choose such a number.")
    report = _opened(file).report
    if find:
        report = _cited(report)
    recipe = replace(table_kind("authorities").recipe, passim=0)
    categories: list[dict[str, Any]] = []
    words: list[str] = []
    lines, pages_of_it = _built(report, recipe)
    sheets = {pages_of_it.label(sheet): sheet for sheet in range(1, len(pages_of_it) + 1)}
    for line in lines:
        if line.level == 1:
            categories.append({"name": line.text, "lines": []})
            words.append(line.text)
            continue
        known = report.authorities.get(line.source)
        many = bool(passim) and len({page for shown in line.pages for page in _each(shown, sheets)}) >= passim
        pages = [page.replace("–", "-") for page in line.pages]
        categories[-1]["lines"].append(
            {"text": line.text, "short": known.short if known else "", "pages": pages, "passim": many}
        )
        words.append(f"  {line.text}  {'passim' if many else ', '.join(line.pages)}")
    if as_json:
        return json.dumps({"categories": categories}, ensure_ascii=False, indent=1)
    return "\n".join(words or ["Nothing is marked as a citation in it; --find looks for what looks like one."])


def _each(shown: str, sheets: Mapping[str, int]) -> range:
    """The sheets of a page that is shown, or of a range. ``sheets``: by what is printed on them."""
    first, _, last = shown.partition("–")
    return range(sheets[first], sheets[last or first] + 1)


def _cited(report: Report) -> Report:
    """The report with what looks like a citation marked."""
    authorities = dict(report.authorities)
    plan: list[Formatting] = []
    for number, one in enumerate(unmarked(report), 1):
        id = f"found-{number}"
        authorities[id] = authority_of(id, one.category, one.words)
        plan += [
            Formatting(at.paragraph, at.start, at.end, {"citation": {"id": f"{id}-{place}", "of": id}}, at.words)
            for place, at in enumerate(one.places)
        ]
    return carry_out(tuple(plan), replace(report, authorities=authorities))


def show_index(file: Path, as_json: bool) -> str:
    """The alphabetical index of a file, from the terms marked in it."""
    lines: list[dict[str, Any]] = []
    words: list[str] = []
    terms: list[str] = []
    report = _opened(file).report
    for line in _built(report, replace(table_kind("index").recipe, levels=(2, 3, 4)))[0]:
        depth = line.level - 1
        if line.source.startswith("also-"):
            lines[-1]["see"] = line.text.removeprefix("see also ")
        else:
            term, _, see = line.text.partition(", see ") if line.emphasis else (line.text, "", "")
            terms = [*terms[: depth - 1], term]
            pages = [page.replace("–", "-") for page in line.pages]
            lines.append({"terms": terms, "pages": pages, "see": see or None})
        words.append("  " * (depth - 1) + ", ".join([line.text, *line.pages]))
    if as_json:
        return json.dumps({"lines": lines}, ensure_ascii=False, indent=1)
    return "\n".join(words or ["No terms are marked in it."])


def show_behind(old: Path, new: Path, as_json: bool) -> _Outcome:
    """How far the contents of one version of a file are behind another version."""
    before, now = _opened(old), _opened(new)
    named = before.named & now.named
    then, issued = _with_table(before.report)
    report, fresh = _with_table(now.report, settings_of(issued.recipe))
    # What is in one version only may have the id of something else in the other.
    same = matched(outline(then), outline(report), named)
    lines = [line._replace(source=same.get(line.source, f"gone {line.source}")) for line in issued.lines]
    differences = behind(lines, fresh.lines)
    rows = [
        {
            "kinds": [*one.kinds],
            "level": one.line.level,
            "old": one.issued.text if one.issued else None,
            "new": one.fresh.text if one.fresh else None,
            "page": ", ".join(one.fresh.pages) if one.fresh else None,
        }
        for one in differences
    ]
    code = 1 if rows else 0
    if as_json:
        return _Outcome(json.dumps({"behind": len(rows), "lines": rows}, ensure_ascii=False, indent=1), code)
    if not rows:
        return _Outcome("Level with the text.", code)
    said = ["1 line behind." if len(rows) == 1 else f"{len(rows)} lines behind."]
    said += [sentence(one, {}) for one in renumberings(differences)]
    for one in differences:
        was, is_now = one.issued and one.issued.text, one.fresh and one.fresh.text
        words = f"{was} → {is_now}" if was and is_now and was != is_now else is_now or was
        page = f"  page {', '.join(one.fresh.pages)}" if one.fresh else ""
        said.append(f"  {', '.join(one.kinds)}: {words}{page}")
    return _Outcome("\n".join(said), code)


class _Outcome(NamedTuple):
    """What a command prints, and its exit code."""

    said: str
    code: int


def check_up(file: Path, kinds: Sequence[str], out: Path | None, as_json: bool) -> _Outcome:
    """The findings of a file: all of them; or, once those of ``kinds`` are mended and the file is written to ``out``, those
    that are left."""
    if out is not None:
        _format_of(out)
    imported = _opened(file)
    typefaces = Typefaces()
    state = state_of(imported.report, typefaces)
    ids = (f"m{number:05}" for number in count(1))
    for kind in kinds:
        if kind not in CHECKS:
            raise Unusable(f"There is no kind of finding “{kind}”; choose among {', '.join(CHECKS)}.")
        after = mended(state, kind, ids, typefaces)
        if after is None:
            raise Unusable(f"Nothing mends “{kind}” by itself; see what it says, and mend it in the text.")
        state = after
    if out is not None:
        _write(replace(imported, report=state.report), out, contents=False)
    findings = check(state).findings
    rows = [
        {"id": one.id, "kind": one.kind, "place": one.place, "text": one.text, "why": CHECKS[one.kind].why,
         "remedy": CHECKS[one.kind].remedy is not None}
        for one in findings
    ]  # fmt: skip
    code = 1 if findings else 0
    if as_json:
        return _Outcome(json.dumps({"findings": rows}, ensure_ascii=False, indent=1), code)
    lines = []
    for kind, group in groupby(findings, lambda finding: finding.kind):
        lines.append(f"{CHECKS[kind].name} ({kind}): {CHECKS[kind].why}")
        lines += [f"  {finding.text}" for finding in group]
    return _Outcome("\n".join(lines) or "No findings.", code)


def _mend(given: argparse.Namespace) -> _Outcome:
    """``--mend KIND … OUT``: what stands last is the file to write."""
    *kinds, out = given.mend or [None]
    if out is not None and not kinds:
        raise Unusable("--mend takes kinds of finding and then the file to write; name at least one kind.")
    return check_up(given.file, kinds, Path(out) if out else None, given.json)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="mellow", description="Headings, pages and contents of long reports.")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(
        name: str, help: str, run: Callable[[argparse.Namespace], str | _Outcome | None]
    ) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=help)
        made.add_argument("file", type=Path)
        made.set_defaults(run=run)
        return made

    one = command(
        "outline",
        "print the headings of a file with level, text and page",
        lambda given: show_outline(given.file, given.json, given.numbers),
    )
    one.add_argument("--json", action="store_true", help="as JSON")
    one.add_argument("--numbers", choices=SCHEMES, help="number the headings by this scheme")
    one = command(
        "contents",
        "print the contents of a file",
        lambda given: show_contents(given.file, given.of, given.levels, given.form, given.recipe, given.json),
    )
    one.add_argument("--of", metavar="WHAT", help="list figures, tables, or the paragraphs of a style instead")
    one.add_argument("--levels", help="the levels that are listed, such as 1-4 or 1,3")
    one.add_argument("--form", metavar="NAME", help=f"one of {_FORM_NAMES}")
    one.add_argument("--recipe", type=Path, help="the recipe of the table, a file of JSON")
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command(
        "behind",
        "print how far the contents of a file are behind another version of it; exit code 1 if they are",
        lambda given: show_behind(given.file, given.new, given.json),
    )
    one.add_argument("new", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command(
        "places",
        "print what links and references can lead to, and those that there are; exit code 1 if any leads nowhere",
        lambda given: show_places(given.file, given.json),
    )
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command(
        "authorities",
        "print what a file cites, by category, with the pages",
        lambda given: show_authorities(given.file, given.passim, given.find, given.json),
    )
    one.add_argument(
        "--passim", type=int, default=5, metavar="N", help="the number of pages from which on it says “passim”"
    )
    one.add_argument("--find", action="store_true", help="with what looks like a citation and is not marked as one")
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command(
        "index",
        "print the alphabetical index of the terms that are marked in a file",
        lambda given: show_index(given.file, given.json),
    )
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command(
        "styles",
        "print the styles of a file, and how often each is used",
        lambda given: show_styles(given.file, given.json),
    )
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command(
        "convert",
        "write a file as PDF, Markdown or plain text",
        lambda given: convert(given.file, given.out, not given.no_contents),
    )
    one.add_argument("out", type=Path)
    one.add_argument("--no-contents", action="store_true", help="place no contents table in front")
    one = command(
        "mark",
        "mark headings that are made by hand, and write the file",
        lambda given: mark_headings(given.file, None if given.dry_run else given.out, given.rules, given.json),
    )
    one.add_argument("out", type=Path)
    one.add_argument("--rules", type=Path, help="mark by these rules, a file of JSON, and not by what is found")
    one.add_argument("--dry-run", action="store_true", help="write nothing, say what would be marked")
    one.add_argument("--json", action="store_true", help="as JSON")
    one = command("check", "print what is wrong with the structure of a file; exit code 1 if anything is", _mend)
    one.add_argument("--json", action="store_true", help="as JSON")
    one.add_argument(
        "--mend", nargs="+", metavar=("KIND", "OUT"), help="mend findings of these kinds, and write the file"
    )
    return parser


def main(arguments: list[str] | None = None) -> int:
    """Runs the command; returns 0, 1 if a check-up has findings or a link is broken, or 2 with one line on standard error for a file that cannot
    be used."""
    given = _parser().parse_args(arguments)
    code = 0
    try:
        outcome = given.run(given)
        if isinstance(outcome, _Outcome):
            outcome, code = outcome
        if outcome is not None:
            print(outcome, flush=True)
    except BrokenPipeError:
        # Whoever reads the output may stop reading, as "head" does; what is left to flush goes nowhere.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    except Unusable as error:
        print(" ".join(str(error).split()), file=sys.stderr)
        return 2
    return code


if __name__ == "__main__":
    sys.exit(main())
