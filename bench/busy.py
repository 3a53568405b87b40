"""``python -m bench.busy``: puts a report of 1,000 pages with 10,000 updates of four weeks into the demonstration's database.

Prints its key, and the id of a section that was removed. Three people write; sections are added, removed, moved and renamed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import timedelta
from random import Random
from typing import Any, cast

import django

PAGES, UPDATES, DAYS = 1000, 10_000, 28
TITLE = "Busy Manual"


def main() -> None:
    django.setup()
    from django.contrib.auth.models import User
    from django.utils import timezone
    from pycrdt import Doc, XmlElement, XmlFragment, XmlText

    from demo.load import ROLES
    from demo.manual import manual
    from mellowspine.core.formats.imported import Imported
    from mellowspine.core.report.blocks import Paragraph, Run
    from mellowspine.server.rooms.document import new_id, put_block, read_block, text_of
    from mellowspine.server.rooms.making import make_report
    from mellowspine.server.rooms.models import Update
    from mellowspine.server.rooms.text import Text
    from mellowspine.server.shelf.models import Membership, Report

    people = {name: User.objects.get(username=name) for name in ROLES}
    now = timezone.now()
    report = make_report(Imported(manual(PAGES), {}), people["ines"])
    begun = now - timedelta(days=DAYS)
    Report.objects.filter(pk=report.pk).update(title=TITLE, made_at=begun)
    Update.objects.filter(report=report).update(at=begun)
    for name, role in ROLES.items():
        Membership.objects.update_or_create(
            report=report, person=people[name], defaults={"role": role, "here_at": begun + timedelta(days=DAYS / 2)}
        )

    text = Text(report)
    document: Doc[Any] = Doc()
    document.apply_update(text.document.get_update())
    made: list[bytes] = []
    subscription = document.observe(lambda event: made.append(event.update))
    body = text_of(document)
    random = Random(11)
    removed = ""

    def style(at: int) -> str:
        return str(cast(XmlElement, body.children[at]).attributes.get("style") or "")

    def section(at: int) -> tuple[int, int]:
        """The smallest section of about a place: from which block on, to before which."""
        count = len(body.children)
        first = next((one for one in range(at, 0, -1) if style(one).startswith("heading-")), 0)
        end = next((one for one in range(first + 1, count) if style(one).startswith("heading-")), count)
        return first, end

    def words(at: int) -> Iterator[XmlText]:
        yield from (one for one in cast(XmlElement, body.children[at]).children if isinstance(one, XmlText))

    def write(at: int) -> None:
        for one in words(at):
            one.insert(len(str(one).encode()), " and so forth")

    def rename(at: int) -> None:
        for one in words(section(at)[0]):
            one.insert(0, "The ")

    def remove(at: int) -> None:
        nonlocal removed
        first, end = section(at)
        removed = str(cast(XmlElement, body.children[first]).attributes["id"])
        del body.children[first:end]

    def move(at: int) -> None:
        first, end = section(at)
        blocks = [read_block(body.children[one], one) for one in range(first, end)]
        del body.children[first:end]
        for block in reversed(blocks):
            put_block(cast(XmlFragment, body), block, min(5, len(body.children)))

    def add(at: int) -> None:
        first, _ = section(at)
        put_block(body, Paragraph(new_id(), "heading-2", (Run("What came later"),)), first)
        put_block(body, Paragraph(new_id(), "body", (Run("It is said here."),)), first + 1)

    works: list[Callable[[int], None]] = [write] * 92 + [rename, rename, remove, move, move, add, add, add]
    authors = [people[name] for name in ("ines", "tobias", "maren")]
    for number in range(UPDATES):
        with document.transaction():
            random.choice(works)(random.randrange(10, len(body.children) - 10))
        for update in made:
            text.take(update, random.choice(authors))
        made.clear()
        if number % 50 == 49:
            text.store()
    document.unobserve(subscription)
    text.store()
    rows = [*Update.objects.filter(report=report, at__gt=begun).order_by("pk")]
    for number, row in enumerate(rows):
        row.at = begun + timedelta(days=DAYS) * ((number + 1) / len(rows))
    Update.objects.bulk_update(rows, ["at"], batch_size=500)
    text.close()
    print(report.key, removed)


if __name__ == "__main__":
    main()
