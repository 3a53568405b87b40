"""Fills the database with the demonstration's people and reports; what is there already stays as it is."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from django.contrib.auth.models import Group, User
from django.db import transaction
from django.utils import timezone
from pycrdt import Doc, XmlText

from demo.handbook import handbook
from demo.manual import manual
from demo.marks import AUTHORITIES, marked
from mellowspine.core.checkup.findings import check, remedy, state_of
from mellowspine.core.formats.imported import Imported, unhurried
from mellowspine.core.formats.markdown import read
from mellowspine.core.pages.pages import paginate
from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.blocks import INLINE_OBJECT, Block, Marks, Paragraph, Reference, Run
from mellowspine.core.report.numbering import SCHEMES
from mellowspine.core.report.plan import Format, Step, carry_out
from mellowspine.core.report.report import Report as CoreReport
from mellowspine.core.report.styles import StyleSheet, default_styles, resolved, style_to_json
from mellowspine.core.structure.notes import notes
from mellowspine.core.tables.settle import with_contents
from mellowspine.server.rooms.document import put_block, text_of
from mellowspine.server.rooms.making import make_report
from mellowspine.server.rooms.models import Update
from mellowspine.server.rooms.registry import rooms
from mellowspine.server.rooms.room import Room
from mellowspine.server.shelf.models import IssuedTable, Membership, Report, Role

_CAPTION = re.compile(r"Table \d+: ")
_LEFT = 2
"""Typed references that are left for the check-up to find."""
_BOOKMARKED = ("south-east corner of the wall moved outwards", "band of peat", "right of way")
SOURCES = Path(__file__).parent

PEOPLE = {
    "ines": ("Ines Varga", "owns the reports"),
    "tobias": ("Tobias Okonjo", "writes with her"),
    "maren": ("Maren Lisk", "writes with her"),
    "piet": ("Piet Halloran", "reads them"),
}
ROLES = {"ines": Role.OWNER, "tobias": Role.EDITOR, "maren": Role.EDITOR, "piet": Role.READER}

QUILLMERE = "Quillmere Lido Restoration"
HANDBOOK = "Stewards’ Handbook"
MANUAL = "Tide Gate Manual"


def demonstration() -> list[tuple[str, Imported]]:
    """The three reports as they were before the co-authors went on."""
    return [(MANUAL, _manual()), (HANDBOOK, _handbook()), (QUILLMERE, quillmere())]


def load(say: Callable[[str], None]) -> None:
    people = _people()
    for title, make in ((MANUAL, _manual), (HANDBOOK, _handbook), (QUILLMERE, quillmere)):
        if not Report.objects.filter(title=title).exists():
            say(f"Writing “{title}” …")
            with transaction.atomic():
                report = make_report(make(), people["ines"])
                for name, role in ROLES.items():
                    Membership.objects.update_or_create(report=report, person=people[name], defaults={"role": role})
                IssuedTable.objects.filter(report=report).update(issued_by=people["ines"], issued_at=report.made_at)
            with rooms.room(report.key) as room:
                # They were all here when the contents were made, and have not been since.
                Membership.objects.filter(report=report).update(here_at=timezone.now(), left_at=timezone.now())
                if title == QUILLMERE:
                    _co_authors_change_it(report, room, people)
                room.call(room.settled).result()
    rooms.close()


def _people() -> dict[str, User]:
    group, _ = Group.objects.get_or_create(name="demonstration")
    people = {}
    for name, (full, does) in PEOPLE.items():
        first, last = full.split()
        person, made = User.objects.get_or_create(username=name, defaults={"first_name": first, "last_name": last})
        if made:
            person.set_unusable_password()
            person.is_staff = ROLES[name] == Role.OWNER
            person.save()
        person.groups.add(group, Group.objects.get_or_create(name=f"demonstration: {does}")[0])
        people[name] = person
    return people


def quillmere() -> Imported:
    imported = with_contents_alone()
    return replace(imported, report=marked(imported.report, Typefaces()))


def with_contents_alone() -> Imported:
    """The Quillmere report before anything in it was marked as cited or for the index."""
    pictures = {path.name: path.read_bytes() for path in (SOURCES / "figures").glob("*.png")}
    text = (SOURCES / "quillmere.md").read_bytes()
    imported = read(text, QUILLMERE, unhurried, pictures)
    front = (
        Paragraph("front1", "title", (Run("Quillmere Lido Restoration"),)),
        Paragraph("front2", "subtitle", (Run("Feasibility and consents report"),)),
        Paragraph("front3", "subtitle", (Run("Prepared for the Quillmere Harbour and Baths Trust"),)),
        Paragraph("front4", "subtitle", (Run("Ines Varga, Tobias Okonjo, Maren Lisk and Piet Halloran"),)),
    )
    blocks = (_captioned(block) for block in imported.report.blocks)
    report = replace(imported.report, title=QUILLMERE, blocks=(*front, *blocks), styles=_quillmere_styles(),
                     numbering=SCHEMES["decimal"])  # fmt: skip
    report, _ = with_contents(_led(report), Typefaces())
    return replace(imported, report=report)


def _captioned(block: Block) -> Block:
    """A caption that was typed over a data table, as a real one."""
    if not isinstance(block, Paragraph) or (typed := _CAPTION.match(block.text)) is None:
        return block
    return replace(block, style="caption", caption="table", runs=(Run(block.text[typed.end() :]),))


def _led(report: CoreReport) -> CoreReport:
    """The report with real references for most of those that were typed, and with some bookmarks."""
    checked = check(state_of(report, Typefaces()))
    typed = [finding.place for finding in checked.findings if finding.kind == "typed-reference"]
    made = remedy(checked, "typed-reference", typed[:-_LEFT], iter(()))
    plan: list[Step] = [*(made.plan if made else ())]
    for number, words in enumerate(_BOOKMARKED, 1):
        block = next(one for one in report.blocks if isinstance(one, Paragraph) and words in one.text)
        start = block.text.index(words)
        name = words[0].upper() + words[1:]
        plan.insert(
            0, Format(block.id, start, start + len(words), {"bookmark": {"id": f"named-{number}", "name": name}})
        )
    return _with_all_referred_to(carry_out(tuple(plan), report))


def _with_all_referred_to(report: CoreReport) -> CoreReport:
    """The report with a reference to every figure and data table, behind a paragraph near it whose last line has room for it:
    so all pages stay as they are."""
    led_to = {lead.to for _, one in notes(report) for lead in one.leads}
    typefaces = Typefaces()
    pages = paginate(report, typefaces)
    wanted = [(index, block.id) for index, block in enumerate(report.blocks)
              if isinstance(block, Paragraph) and block.caption is not None and block.id not in led_to]  # fmt: skip
    for index, id in wanted:
        # Those before it, the nearest first; else those behind it.
        for at in (*range(index, max(index - 12, 0), -1), *range(index, min(index + 12, len(report.blocks)))):
            block = report.blocks[at]
            if not isinstance(block, Paragraph) or block.style != "body" or not block.text.endswith("."):
                continue
            runs = (*block.runs, Run(" See "), Run(INLINE_OBJECT, Marks(reference=Reference(id))), Run("."))
            blocks = (*report.blocks[:at], replace(block, runs=runs), *report.blocks[at + 1 :])
            after = paginate(replace(report, blocks=blocks), typefaces, pages)
            if after.boxes[at].heights == pages.boxes[at].heights:
                report, pages = replace(report, blocks=blocks), after
                break
    return report


def _quillmere_styles() -> StyleSheet:
    """The default styles with more air, and every main section on a page of its own."""
    looks: dict[str, dict[str, Any]] = {
        "body": {"size": 12.0, "line_spacing": 1.75, "space_after": 10.0},
        "heading-1": {"new_page": True, "space_before": 0.0},
        "caption": {"size": 10.0, "space_after": 18.0},
        "cell": {"size": 10.5, "space_after": 3.0},
    }
    return resolved(style_to_json(style) | looks.get(style.id, {}) for style in default_styles().values())


def _handbook() -> Imported:
    return Imported(replace(handbook(), title=HANDBOOK), {})


def _manual() -> Imported:
    report, _ = with_contents(replace(manual(300), title=MANUAL), Typefaces())
    return Imported(report, {})


def _co_authors_change_it(report: Report, room: Room, people: dict[str, User]) -> None:
    """Two co-authors go on writing after the contents were made: why they are behind when first opened."""
    document: Doc[object] = Doc()
    for data in Update.objects.filter(report=report).values_list("data", flat=True):
        document.apply_update(bytes(data))
    text = text_of(document)

    def find(words: str) -> int:
        for index, child in enumerate(text.children):
            first = next((c for c in child.children if isinstance(c, XmlText)), None)
            if first is not None and "".join(str(part) for part, _ in first.diff()).startswith(words):
                return index
        raise LookupError(words)

    def send(name: str, before: bytes) -> None:
        room.call(room.receive, document.get_update(before), people[name]).result()
        room.call(room.settled).result()

    state = document.get_state()
    heading = text.children[find("Water quality")].children[0]
    assert isinstance(heading, XmlText)
    heading.insert(len("Water quality"), " and bathing season")
    send("tobias", state)

    state = document.get_state()
    first = find("Beach access during works")
    with document.transaction():
        end = first + 1
        while not str(text.children[end].attributes.get("style") or "").startswith("heading"):
            end += 1
        del text.children[first:end]
    send("tobias", state)

    state = document.get_state()
    with document.transaction():
        end = next(n for n, one in enumerate(text.children) if one.attributes.get("table") == AUTHORITIES)
        for number, (id, style, words, *further) in enumerate(_SUSPENDED):
            put_block(text, Paragraph(id, style, (Run(words), *further)), end + number)
    send("maren", state)

    state = document.get_state()
    text.children[find("Lifts and hoists")].attributes["style"] = "heading-2"
    send("maren", state)


# Id, style, words, and what runs there are behind these.
_SUSPENDED: list[tuple[Any, ...]] = [
    ("late01", "heading-2", "Winter shutdown"),
    (
        "late02",
        "body",
        "The pool will be drawn down each November and left to the tide until March. The two sluice leaves are lifted "
        "and stored under cover, the changing rooms are heated to eight degrees to keep the new timber dry, and the "
        "walkway is closed at the landward gate.",
    ),
    ("late03", "heading-2", "Handing over the keys"),
    (
        "late04",
        "body",
        "The contractor keeps the keys until the trust has sat through one full spring tide with every gate shut and "
        "found no water on the plant room floor. Two stewards attend with the engineer and sign the record together.",
    ),
    ("late05", "heading-4", "Keys that went into the water."),
    (
        "late06",
        "body",
        "A key that has been in the basin is not dried and hung up again but cut anew. The lock it belongs to is changed "
        "within the week, and the harbour office is told which one it was.",
    ),
    ("late07", "body", "", Run("Spare keys", Marks(bold=True))),
    (
        "late08",
        "body",
        "One set lies in the safe of the ferry hall, in an envelope that is signed across its flap. Whoever opens it "
        "writes their name and the hour in the log, and seals a new envelope before they leave.",
    ),
    (
        "late09",
        "body",
        "Who holds which key is written down in ",
        Run("the log of the harbour office", Marks(link="https://harbour-log")),
        Run(", which is open to both trusts."),
    ),
]
