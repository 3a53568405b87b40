"""What follows from captions, bookmarks and references, and who did what to them."""

from __future__ import annotations

from dataclasses import replace

from pycrdt import Doc

from mellowspine.core.report.blocks import INLINE_OBJECT, Bookmark, Marks, Paragraph, PlacedTable, Reference, Run
from mellowspine.server.rooms.document import append_block, text_of
from mellowspine.server.rooms.registry import rooms

from .test_room import RoomCase


def caption(id: str, words: str) -> Paragraph:
    return Paragraph(id, "caption", (Run(words),), caption="figure")


def leading(id: str, *references: Reference) -> Paragraph:
    return Paragraph(id, "body", tuple(Run(INLINE_OBJECT, Marks(reference=one)) for one in references))


class Places(RoomCase):
    def append(self, *blocks: Paragraph | PlacedTable, person: object = None) -> None:
        for block in blocks:
            append_block(text_of(self.copy), block)
        self.send(person)

    def remove(self, id: str) -> None:
        at = next(n for n, one in enumerate(self.children) if dict(one.attributes).get("id") == id)
        del self.children[at]

    def findings(self) -> list[str]:
        return [one.text for one in self.room.call(self.room.checked).result().findings if one.kind == "broken-lead"]

    def test_a_list_of_figures_is_behind_and_says_who_did_what(self) -> None:
        self.append(caption("a", "North"), PlacedTable("b-t1", "t1", kind="figures"))
        self.catch_up("everything")
        self.append(caption("b", "South"), person=self.editor)
        ((kinds, _, _, line, cause, _),) = self.table().differences
        self.assertEqual((kinds, line.number, line.text, cause.who), (("new",), "Figure 2", "South", "edit"))
        self.remove("a")
        self.send(self.editor)
        found = {(kinds, cause and cause.who) for kinds, _, _, _, cause, _ in self.table().differences}
        self.assertEqual(found, {(("gone",), "edit"), (("new",), "edit")})
        self.catch_up("everything")
        self.assertEqual([line.number for line in self.table().lines], ["Figure 1"])

    def test_browsers_are_told_what_references_show_and_which_places_there_are(self) -> None:
        mark = Paragraph("m1", "body", (Run("tide", Marks(bookmark=Bookmark("m", "Tide"))),))
        self.append(caption("a", "North"), mark, leading("l", Reference("a"), Reference("m", "page")))
        told: dict[str, object] = {}
        for message in self.listener.messages:
            told |= message
        self.assertEqual(told["shown"], {"label a": "Figure 1", "page m": "1"})
        self.assertEqual(told["captions"], {"a": "Figure 1: "})

    def test_what_somebody_deletes_offline_while_another_refers_to_it(self) -> None:
        self.append(caption("a", "North"), Paragraph("p", "body", (Run("Words."),)))
        offline: Doc = Doc()
        offline.apply_update(self.copy.get_update())
        children = text_of(offline).children
        at = next(n for n, one in enumerate(children) if dict(one.attributes).get("id") == "a")
        del children[at]
        self.append(leading("l", Reference("a", "label", "Figure 1")))
        self.room.call(self.room.receive, offline.get_update(), self.editor).result()
        self.room.call(self.room.settled).result()
        (finding,) = self.findings()
        self.assertEqual(finding, "The reference “[Figure 1?]” leads to “North”, which edit removed.")
        # Also for whoever opens the report later.
        rooms.close()
        self.room = rooms.enter(self.report.key)
        self.room.call(self.room.settled).result()
        self.assertEqual(self.findings(), [finding])

    def test_a_heading_that_is_a_reference_is_told_with_its_words(self) -> None:
        block = replace(leading("h9", Reference("a")), style="heading-1")
        self.append(caption("a", "North"), block)
        headings = [row for message in self.listener.messages for row in message.get("headings", {}).get("insert", ())]
        self.assertEqual(headings[-1][3], "Figure 1")
