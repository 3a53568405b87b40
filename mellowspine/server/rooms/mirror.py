"""A live mirror of a shared document as blocks. After each change it reads again only the blocks that changed."""

from __future__ import annotations

from typing import Any

from pycrdt import Doc

from mellowspine.core.report.blocks import Block

from .document import read_block, text_of


class Mirror:
    """``blocks`` always equals the document's text. Lives in the thread of its document."""

    def __init__(self, document: Doc[Any]) -> None:
        self._fragment = text_of(document)
        self.blocks: list[Block] = [read_block(child, i) for i, child in enumerate(self._fragment.children)]
        self.stale = True
        """Whether anything changed since this was last set to False."""
        self._subscription = self._fragment.observe_deep(self._changed)

    def _changed(self, events: list[Any]) -> None:
        self.stale = True
        children = self._fragment.children
        touched: set[int] = set()
        for event in events:
            path = event.path
            if path:
                touched.add(path[0])
                continue
            at = 0
            for step in event.delta:
                if "retain" in step:
                    at += int(step["retain"])
                elif "delete" in step:
                    del self.blocks[at : at + int(step["delete"])]
                else:
                    new = [read_block(child, at + i) for i, child in enumerate(step["insert"])]
                    self.blocks[at:at] = new
                    at += len(new)
        for index in touched:
            if index < len(self.blocks):
                self.blocks[index] = read_block(children[index], index)
