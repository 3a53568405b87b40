"""``mellow places``: what links and references lead to."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mellowspine.core.pages.typefaces import Typefaces
from mellowspine.core.structure.references import lead_words, worded
from mellowspine.core.tables.settle import settle_all

from .command import Command, Outcome, in_json
from .shared import opened


def show_places(file: Path, as_json: bool) -> Outcome:
    """The headings, captions and bookmarks of a file, and the links and references to them, with their pages."""
    _, pages = settle_all(opened(file).report, Typefaces())
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
        return Outcome(in_json({"places": places, "links": links}), code)
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
    return Outcome("\n".join(f"{said:<{width}}  {page:>5}" for said, page in rows), code)


COMMAND = Command(lambda given: show_places(given.file, given.json))
