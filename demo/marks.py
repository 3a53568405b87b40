"""What the Quillmere report cites, and what its index leads to: marked in the text, with both tables at its end."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.report.authorities import Authority
from mellowspine.core.report.blocks import PlacedTable
from mellowspine.core.report.index import See
from mellowspine.core.report.plan import Format, carry_out
from mellowspine.core.report.report import Report
from mellowspine.core.report.tables import Issued
from mellowspine.core.structure.citations import FoundWords, find_words, unmarked
from mellowspine.core.structure.outline import paragraphs
from mellowspine.core.tables.kinds import table_kind
from mellowspine.core.tables.settle import settle_all

AUTHORITIES, INDEX = "authorities", "index"
"""The tables at the end."""

_NAMED = {
    "Lantern Parade (2003)": "cases", "Ebbing Cove Baths (2011)": "cases", "County Code for Marine Walls": "standards",
    "Coastal Concrete Standard 12": "standards", "Gate Safety Note 8": "standards",
}  # fmt: skip
"""What is cited in a way that nobody recognises, and its category."""
_TERMS: dict[str, tuple[str, ...]] = {
    "borehole": ("boreholes",), "boreholes": ("boreholes",), "café": ("café",), "ferry": ("ferry",), "silt": ("silt",),
    "clay": ("ground", "clay"), "peat": ("ground", "peat"), "shingle": ("ground", "shingle"), "piles": ("ground", "piles"),
    "sea wall": ("wall",), "footing": ("wall", "footing"), "coping": ("wall", "coping"), "mortar": ("wall", "mortar"),
    "south-east corner": ("wall", "south-east corner"), "concrete": ("concrete",), "mole": ("mole",), "crane": ("crane",),
    "gates": ("gates",), "pumps": ("pumps",), "plant room": ("plant room",), "warm basin": ("warm basin",),
    "boiler": ("warm basin", "boiler"), "changing rooms": ("changing rooms",), "roof": ("changing rooms", "roof"),
    "diving stage": ("diving stage",), "swimming club": ("swimming club",), "keeper": ("keeper",), "keepers": ("keeper",),
    "volunteers": ("volunteers",), "lifeguards": ("lifeguards",), "honeycomb worm": ("wildlife", "honeycomb worm"),
    "seaweed": ("wildlife", "seaweed"), "waves": ("waves",), "spring tide": ("tides", "spring"), "ramp": ("access", "ramp"),
    "lift": ("access", "lift"), "parking": ("access", "parking"), "wheelchair": ("access", "wheelchairs"),
    "harbour master": ("harbour master",), "customs house": ("customs house",), "Ropewalk": ("Ropewalk",),
    "foreshore licence": ("consents", "foreshore licence"), "reserve": ("money", "reserve"), "loan": ("money", "loan"),
    "contingency": ("money", "contingency"), "season ticket": ("money", "season tickets"), "noise": ("noise",),
    "school": ("school",), "drains": ("drains",), "weed": ("wildlife", "seaweed"),
}  # fmt: skip
"""Terms of the index, by words of the text that stand for them."""
_SEES = (
    See(("attendant",), ("keeper",)),
    See(("money",), ("consents",), also=True),
    See(("worm",), ("wildlife", "honeycomb worm")),
)


def marked(report: Report, typefaces: Typefaces) -> Report:
    """The report with its citations and terms marked, and its tables of both on pages of their own at the end."""
    report = _indexed(_cited(report))
    tables = {key: Issued(table_kind(key).recipe) for key in (AUTHORITIES, INDEX)}
    placed = (PlacedTable(f"{key}-placed", key, own_page=True, kind=key) for key in tables)
    report = replace(report, blocks=(*report.blocks, *placed), tables={**report.tables, **tables})
    return settle_all(report, typefaces)[0]


def _cited(report: Report) -> Report:
    known: dict[str, Authority] = {}
    plan: list[Format] = []
    for one in sorted(unmarked(report), key=lambda one: len(one.words)):
        # "Harbour Walls Act 1871, s. 9" cites the act.
        whole = next((words for words in known if one.words.startswith(f"{words},")), one.words)
        authority = known.setdefault(whole, Authority(f"cited-{len(known) + 1}", one.category, one.words))
        for place in one.places:
            plan.append(_citation(place, authority, len(plan)))
    for words, category in _NAMED.items():
        authority = known[words] = Authority(f"cited-{len(known) + 1}", category, words)
        for place in find_words(report, words):
            plan.append(_citation(place, authority, len(plan)))
    return carry_out(tuple(plan), replace(report, authorities={one.id: one for one in known.values()}))


def _indexed(report: Report) -> Report:
    body = {one.id for one in paragraphs(report) if one.style == "body"}
    plan: list[Format] = []

    def places(words: str, terms: tuple[str, ...]) -> Iterator[FoundWords]:
        return (one for one in find_words(report, words, terms=terms) if one.paragraph in body)

    for words, terms in _TERMS.items():
        for number, place in enumerate(places(words, terms)):
            main = number == 0 and len(terms) == 1
            id = f"term-{len(plan) + 1}"
            plan.append(_format(place, {"indexed": {"id": id, "entries": [[[*terms], main]]}}))
    return replace(carry_out(tuple(plan), report), sees=_SEES)


def _citation(place: FoundWords, authority: Authority, number: int) -> Format:
    return _format(place, {"citation": {"id": f"citation-{number + 1}", "of": authority.id}})


def _format(place: FoundWords, values: dict[str, object]) -> Format:
    return Format(place.paragraph, place.start, place.end, values)
